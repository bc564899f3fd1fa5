using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Extensions.DependencyInjection;
using YoungFolio.Cowriting;
using YoungFolio.Storage;

namespace YoungFolio.Server.Tests;

/// <summary>The talk over HTTP: one thread, unread marks, and links that lead to their places wherever those go.</summary>
public sealed class TalkApiTests : RunningServer
{
    private static async Task<int> UnreadAsync(HttpClient client, string path) => (await JsonAsync(client, path)).GetProperty("unread").GetInt32();

    private static JsonElement Last(JsonElement talk) => talk.GetProperty("messages").EnumerateArray().Last();

    [Fact]
    public async Task What_one_says_is_unread_by_the_others_until_they_read_it_and_reaches_them_at_once()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient anton = await SignInAsync("Anton Quill");
        (int id, _) = await MainFileAsync(ilse);
        string path = $"/api/manuscripts/{id}/talk";
        await SendAsync(ilse, $"{path}/seen", new { message = int.MaxValue / 2 });
        Assert.Equal(0, await UnreadAsync(ilse, path));
        await using HubConnection hub = await ListenAsync(ilse, id);
        var heard = new TaskCompletionSource();
        hub.On("talk", heard.SetResult);
        int said = (await SendAsync(anton, path, new { text = " A word, @Ilse: <img src=x onerror=alert(1)> " })).GetInt32();
        await heard.Task.WaitAsync(TimeSpan.FromSeconds(10));
        // Nobody has read what wasn't said yet.
        Assert.Equal(1, await UnreadAsync(ilse, path));
        JsonElement last = Last(await JsonAsync(ilse, path));
        Assert.Equal(("A word, @Ilse: <img src=x onerror=alert(1)>", "Anton Quill", JsonValueKind.Null), (last.GetProperty("text").GetString(), last.GetProperty("person").GetProperty("name").GetString(), last.GetProperty("link").ValueKind));
        Assert.Equal(0, await UnreadAsync(anton, path));
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        int before = await UnreadAsync(bao, path);
        Assert.True(before >= 1);
        Assert.Equal(before, (await JsonAsync(bao, "/api/manuscripts")).EnumerateArray().First(m => m.GetProperty("id").GetInt32() == id).GetProperty("talk").GetInt32());
        await SendAsync(bao, $"{path}/seen", new { message = said });
        // Having read an earlier one takes nothing back.
        await SendAsync(bao, $"{path}/seen", new { message = 1 });
        Assert.Equal(0, await UnreadAsync(bao, path));
        string outbox = (await JsonAsync(ilse, "/api/outbox")).GetProperty("letters")[0].GetProperty("body").GetString()!;
        Assert.StartsWith("Anton Quill wrote in the talk of “Reading Walls by Lichen”:", outbox, StringComparison.Ordinal);

        await SendAsync(ilse, path, new { text = "  " }, HttpStatusCode.Conflict);
        await SendAsync(ilse, path, new { text = new string('x', TalkStore.LongestText + 1) }, HttpStatusCode.Conflict);
        Assert.Equal(HttpStatusCode.Conflict, (await bao.DeleteAsync($"{path}/{said}")).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await anton.DeleteAsync($"{path}/{said}")).StatusCode);
        Assert.NotEqual(said, Last(await JsonAsync(ilse, path)).GetProperty("id").GetInt32());
    }

    [Fact]
    public async Task A_link_keeps_leading_to_its_passage_pin_or_source_and_says_when_that_is_gone()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, int main) = await MainFileAsync(ilse);
        string path = $"/api/manuscripts/{id}/talk";
        LiveText text = await The<TextStore>().TextAsync(main);
        int from = text.Text.IndexOf("\\tableofcontents", StringComparison.Ordinal);
        await SendAsync(ilse, path, new { text = "Here", link = new { kind = "passage", file = main, version = text.Version, from, to = from + 16 } });
        await The<TextStore>().TypeAsync(id, new Actor(2), main, text.Version, [new Update("2:t", ChangeSet.Replace(text.Text.Length, 0, 0, "% above\n"))]);
        JsonElement link = Last(await JsonAsync(ilse, path)).GetProperty("link");
        Assert.Equal(("main.tex", from + 8, "\\tableofcontents", false), (link.GetProperty("path").GetString(), link.GetProperty("from").GetInt32(), link.GetProperty("words").GetString(), link.GetProperty("isGone").GetBoolean()));
        LiveText now = await The<TextStore>().TextAsync(main);
        await The<TextStore>().TypeAsync(id, new Actor(2), main, now.Version, [new Update("2:t", ChangeSet.Replace(now.Text.Length, from + 8, from + 24, ""))]);
        link = Last(await JsonAsync(ilse, path)).GetProperty("link");
        Assert.Equal(("\\tableofcontents", true), (link.GetProperty("words").GetString(), link.GetProperty("isGone").GetBoolean()));

        int pin = (await SendAsync(ilse, $"/api/manuscripts/{id}/pins", new { name = "For the talk", note = "" })).GetInt32();
        await SendAsync(ilse, path, new { text = "", link = new { kind = "pin", file = 0, version = 0, from = 0, to = 0, target = $"{pin}" } });
        Assert.Equal("For the talk", Last(await JsonAsync(ilse, path)).GetProperty("link").GetProperty("name").GetString());
        await ilse.DeleteAsync($"/api/manuscripts/{id}/pins/{pin}");
        Assert.True(Last(await JsonAsync(ilse, path)).GetProperty("link").GetProperty("isGone").GetBoolean());
        await SendAsync(ilse, path, new { text = "See", link = new { kind = "source", file = 0, version = 0, from = 0, to = 0, target = "rook1987" } });
        Assert.Equal(("source", "rook1987"), (Last(await JsonAsync(ilse, path)).GetProperty("link").GetProperty("kind").GetString(), Last(await JsonAsync(ilse, path)).GetProperty("link").GetProperty("target").GetString()));

        foreach (object wrong in (object[])[new { kind = "passage", file = main, version = 9999, from = 0, to = 5 }, new { kind = "passage", file = main, version = 0, from = 5, to = 5 }, new { kind = "other", file = main, version = 0, from = 0, to = 5 }, new { kind = "pin", file = 0, version = 0, from = 0, to = 0 }])
        {
            await SendAsync(ilse, path, new { text = "x", link = wrong }, HttpStatusCode.Conflict);
        }
    }

    [Fact]
    public async Task A_long_talk_is_read_page_by_page_and_each_message_is_in_it_once()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, _) = await MainFileAsync(ilse);
        string path = $"/api/manuscripts/{id}/talk";
        TalkStore talk = The<TalkStore>();
        for (int i = 0; i < (2 * TalkStore.AtOnce) + 5; i++)
        {
            await talk.SayAsync(new TalkMessage { ManuscriptId = id, PersonId = 1 + (i % 2), Text = $"m{i}" });
        }

        var read = new List<string>();
        JsonElement page = await JsonAsync(ilse, path);
        while (true)
        {
            JsonElement[] messages = [.. page.GetProperty("messages").EnumerateArray()];
            read.InsertRange(0, messages.Select(m => m.GetProperty("text").GetString()!));
            if (!page.GetProperty("hasEarlier").GetBoolean())
            {
                break;
            }

            page = await JsonAsync(ilse, $"{path}?before={messages[0].GetProperty("id").GetInt32()}");
        }

        Assert.Equal(Enumerable.Range(0, (2 * TalkStore.AtOnce) + 5).Select(i => $"m{i}"), read.Where(t => t[0] == 'm'));
    }
}
