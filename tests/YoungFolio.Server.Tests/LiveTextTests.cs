using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;
using YoungFolio.Cowriting;

namespace YoungFolio.Server.Tests;

/// <summary>Live text over the real hub.</summary>
public sealed class LiveTextTests : RunningServer
{
    [Fact]
    public async Task What_was_typed_on_an_old_version_is_carried_over_what_others_typed_and_all_hear_of_it()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        (int manuscript, int file) = await MainFileAsync(ilse);
        (string text, int version) = await TextAsync(ilse, manuscript, file);
        await using HubConnection hers = await ListenAsync(ilse, manuscript);
        await using HubConnection his = await ListenAsync(bao, manuscript);
        var copy = new WorkingCopy("1:reader", version, text);
        hers.On<int, int, List<Update>>("updates", (changed, after, updates) =>
        {
            lock (copy)
            {
                if (changed == file && after - updates.Count == copy.Version)
                {
                    copy.Receive(updates);
                }
            }
        });
        Assert.Equal(version + 1, await TypeAsync(hers, 1, file, version, ChangeSet.Replace(text.Length, 0, 0, "% hers\n")));
        Assert.Equal(version + 2, await TypeAsync(his, 2, file, version, ChangeSet.Replace(text.Length, 0, 1, "% his\n%")));
        // What is heard is put into the copy on another thread.
        await EventuallyAsync(() =>
        {
            lock (copy)
            {
                return copy.Version == version + 2;
            }
        });
        Assert.Equal(string.Concat("% hers\n% his\n%", text.AsSpan(1)), copy.Text);
        Assert.Equal((await TextAsync(ilse, manuscript, file)).Text, copy.Text);
    }

    [Fact]
    public async Task What_is_sent_twice_since_the_answer_got_lost_is_taken_once()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, int file) = await MainFileAsync(ilse);
        (string text, int version) = await TextAsync(ilse, manuscript, file);
        await using HubConnection hub = await ListenAsync(ilse, manuscript);
        ChangeSet change = ChangeSet.Replace(text.Length, 0, 0, "% once\n");
        await TypeAsync(hub, 1, file, version, change);
        await TypeAsync(hub, 1, file, version, change, "another tab");
        Assert.Equal(version + 2, await TypeAsync(hub, 1, file, version, change));
        Assert.Equal("% once\n% once\n" + text, (await TextAsync(ilse, manuscript, file)).Text);
    }

    private static readonly (string Updates, string Says)[] s_foul =
    [
        ("""[{"clientId":"1:x","changes":[5]}]""", "The change is for a text of 5"),
        ("""[{"clientId":"1:x","changes":[[0,"a"],9999999]}]""", "The change is for a text of 9999999"),
        ("""[{"clientId":"1:x","changes":{"evil":1}}]""", "a list of sections"),
        ("""[{"clientId":"1:x","changes":[-4]}]""", "neither a length nor a replacement"),
        ("""[{"clientId":"1:x"}]""", "a list of sections"),
        ("""[{"clientId":"2:x","changes":[5]}]""", "One tab sends its own changes"),
        ("""[{"clientId":null,"changes":[5]}]""", "One tab sends its own changes"),
        ("[]", "One tab sends its own changes"),
    ];

    [Fact]
    public async Task What_does_not_fit_is_refused_in_words_and_harms_nobody()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, int file) = await MainFileAsync(ilse);
        (string text, int version) = await TextAsync(ilse, manuscript, file);
        await using HubConnection hub = await ListenAsync(ilse, manuscript);
        foreach ((string updates, string says) in s_foul)
        {
            HubException refused = await Assert.ThrowsAsync<HubException>(() => hub.InvokeAsync<int>("Type", file, version, JsonDocument.Parse(updates).RootElement));
            Assert.Contains(says, refused.Message, StringComparison.Ordinal);
        }

        // The connection goes on, and nothing came in.
        Assert.Equal(version + 1, await TypeAsync(hub, 1, file, version, ChangeSet.Replace(text.Length, 0, 0, "% fits\n")));
        Assert.Equal("% fits\n" + text, (await TextAsync(ilse, manuscript, file)).Text);
    }

    [Fact]
    public async Task Versions_that_do_not_exist_and_files_of_others_are_refused()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, int file) = await MainFileAsync(ilse);
        (string text, int version) = await TextAsync(ilse, manuscript, file);
        int other = await (await ilse.PostAsJsonAsync("/api/manuscripts", new { title = "Another", kind = "article" })).Content.ReadFromJsonAsync<int>();
        await using HubConnection hub = await ListenAsync(ilse, other);
        ChangeSet change = ChangeSet.Replace(text.Length, 0, 0, "x");
        Assert.Contains("isn't there", (await Assert.ThrowsAsync<HubException>(() => TypeAsync(hub, 1, file, version, change))).Message, StringComparison.Ordinal);
        Assert.Contains("isn't there", (await Assert.ThrowsAsync<HubException>(() => hub.InvokeAsync<JsonElement>("Since", file, 0))).Message, StringComparison.Ordinal);
        await hub.InvokeAsync("Join", manuscript);
        Assert.Contains("doesn't exist yet", (await Assert.ThrowsAsync<HubException>(() => TypeAsync(hub, 1, file, version + 7, change))).Message, StringComparison.Ordinal);
        Assert.Contains("doesn't exist yet", (await Assert.ThrowsAsync<HubException>(() => TypeAsync(hub, 1, file, -1, change))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_paste_of_ten_megabytes_is_refused_and_the_connection_goes_on()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, int file) = await MainFileAsync(ilse);
        (string text, int version) = await TextAsync(ilse, manuscript, file);
        await using HubConnection hub = await ListenAsync(ilse, manuscript);
        HubException refused = await Assert.ThrowsAsync<HubException>(() => TypeAsync(hub, 1, file, version, ChangeSet.Replace(text.Length, 0, 0, new string('x', 10 * 1024 * 1024))));
        Assert.Contains("as a file of its own", refused.Message, StringComparison.Ordinal);
        Assert.Equal(version + 1, await TypeAsync(hub, 1, file, version, ChangeSet.Replace(text.Length, 0, 0, "still here ")));
    }

    [Fact]
    public async Task A_laptop_that_slept_while_others_wrote_two_thousand_changes_catches_up()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        (int manuscript, int file) = await MainFileAsync(ilse);
        (string text, int version) = await TextAsync(ilse, manuscript, file);
        await using HubConnection his = await ListenAsync(bao, manuscript);
        var asleep = new WorkingCopy("1:asleep", version, text);
        asleep.MoveTo(0);
        for (int i = 0; i < 60; i++)
        {
            asleep.Type("z");
        }

        for (int i = 0; i < 40; i++)
        {
            await his.InvokeAsync<int>("Type", file, version + (i * 50), Enumerable.Range(0, 50)
                .Select(n => new { clientId = "2:awake", changes = ChangeSet.Replace(text.Length + (i * 50) + n, text.Length, text.Length, "w") }));
        }

        await using HubConnection hers = await ListenAsync(ilse, manuscript);
        object sent = asleep.Unsent.Select(u => new { clientId = u.ClientId, changes = u.Changes }).ToArray();
        HubException behind = await Assert.ThrowsAsync<HubException>(() => hers.InvokeAsync<int>("Type", file, asleep.Version, sent));
        Assert.Contains("Catching up first", behind.Message, StringComparison.Ordinal);
        asleep.Receive(await hers.InvokeAsync<List<Update>>("Since", file, asleep.Version));
        sent = asleep.Unsent.Select(u => new { clientId = u.ClientId, changes = u.Changes }).ToArray();
        Assert.Equal(version + 2060, await hers.InvokeAsync<int>("Type", file, asleep.Version, sent));
        string wanted = new string('z', 60) + text + new string('w', 2000);
        Assert.Equal((wanted, wanted), (asleep.Text, (await TextAsync(ilse, manuscript, file)).Text));
    }

    [Fact]
    public async Task Others_see_who_comes_where_they_are_and_that_they_go()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient perpetua = await SignInAsync("Perpetua Vane");
        (int manuscript, int file) = await MainFileAsync(ilse);
        await using HubConnection hers = await ListenAsync(ilse, manuscript);
        var seen = new List<JsonElement>();
        var left = new TaskCompletionSource<string>();
        hers.On<JsonElement>("here", p => { lock (seen) { seen.Add(p); } });
        hers.On<string>("left", left.SetResult);
        HubConnection reader = await ConnectAsync(perpetua);
        JsonElement joined = await reader.InvokeAsync<JsonElement>("Join", manuscript);
        Assert.Equal("Ilse Marrable", joined.GetProperty("present")[0].GetProperty("person").GetProperty("name").GetString());
        await reader.InvokeAsync("Here", new { clientId = "4:tab", file, version = 0, anchor = 3, head = 9, line = 2 });
        await EventuallyAsync(() => seen.Count == 2);
        Assert.Equal(("Perpetua Vane", 9), (seen[1].GetProperty("person").GetProperty("name").GetString(), seen[1].GetProperty("place").GetProperty("head").GetInt32()));
        await Assert.ThrowsAsync<HubException>(() => reader.InvokeAsync("Here", new { clientId = "1:tab", file, version = 0, anchor = 3, head = 9, line = 2 }));
        (await perpetua.PutAsJsonAsync("/api/account", new { name = "P. Vane", colour = "#2f6f73" })).EnsureSuccessStatusCode();
        await EventuallyAsync(() => seen.Count == 3);
        Assert.Equal("P. Vane", seen[2].GetProperty("person").GetProperty("name").GetString());
        Assert.Contains("P. Vane", (await JsonAsync(ilse, "/api/manuscripts"))[0].GetProperty("here").GetRawText(), StringComparison.Ordinal);
        await reader.DisposeAsync();
        Assert.Equal(joined.GetProperty("seat").GetString(), await left.Task.WaitAsync(TimeSpan.FromSeconds(10)));
    }

    [Fact]
    public async Task A_call_that_is_none_of_ours_is_refused_and_the_connection_goes_on()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, _) = await MainFileAsync(ilse);
        await using HubConnection hub = await ListenAsync(ilse, manuscript);
        await Assert.ThrowsAsync<HubException>(() => hub.InvokeAsync("DropEverything"));
        await Assert.ThrowsAsync<HubException>(() => hub.InvokeAsync("Type", "not a file"));
        await Assert.ThrowsAsync<HubException>(() => hub.InvokeAsync("Here", "nowhere"));
        await hub.InvokeAsync("Join", manuscript);
    }
}
