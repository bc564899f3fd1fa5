using System.Net.Http.Json;
using System.Text.Json;
using YoungFolio.Cowriting;
using YoungFolio.Server.Letters;
using YoungFolio.Storage;

namespace YoungFolio.Server.Tests;

/// <summary>The daily letter: for those who want it, once a day, and only when something came in.</summary>
public sealed class DailyLetterTests : RunningServer
{
    private static readonly TimeSpan s_hour = TimeSpan.FromHours(1);

    private static async Task<JsonElement[]> LettersAsync(HttpClient client) =>
        [.. (await JsonAsync(client, "/api/outbox")).GetProperty("letters").EnumerateArray().Where(l => l.GetProperty("subject").GetString()!.StartsWith("What waits", StringComparison.Ordinal))];

    private static Task WantAsync(HttpClient client, bool wants) => client.PutAsJsonAsync("/api/account/letter", new { wants });

    [Fact]
    public async Task It_comes_a_day_after_it_was_asked_for_and_again_only_when_something_is_new()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        DailyLetters letters = The<DailyLetters>();
        DateTime now = DateTime.UtcNow;
        Assert.Equal(0, await letters.WriteAsync(now.AddDays(30)));
        Assert.False((await JsonAsync(ilse, "/api/session")).GetProperty("wantsLetter").GetBoolean());
        await WantAsync(ilse, true);
        Assert.True((await JsonAsync(ilse, "/api/session")).GetProperty("wantsLetter").GetBoolean());
        // Not before a day is over, and not of what had come before it was asked for.
        Assert.Equal(0, await letters.WriteAsync(now.AddHours(20)));
        Assert.Equal(0, await letters.WriteAsync(now.AddHours(25)));

        (int id, int main) = await MainFileAsync(ilse);
        using HttpClient anton = await SignInAsync("Anton Quill");
        LiveText text = await The<TextStore>().TextAsync(main);
        await SendAsync(anton, $"/api/manuscripts/{id}/talk", new { text = "Read it." });
        await SendAsync(anton, $"/api/manuscripts/{id}/notes", new { file = main, version = text.Version, from = 0, to = 10, text = "", proposal = "% Another" });
        await The<TextStore>().TypeAsync(id, new Actor(2), main, text.Version, [new Update("2:t", ChangeSet.Replace(text.Text.Length, 0, 0, "% new\n"))]);
        Assert.Equal(1, await letters.WriteAsync(now.AddHours(26)));
        // Once a day.
        Assert.Equal(0, await letters.WriteAsync(now.AddHours(27)));
        JsonElement letter = Assert.Single(await LettersAsync(ilse));
        string body = letter.GetProperty("body").GetString()!;
        Assert.Equal("What waits in “Reading Walls by Lichen”", letter.GetProperty("subject").GetString());
        Assert.Contains("Bao Tremlett", body, StringComparison.Ordinal);
        Assert.Contains("suggestions to take or decline.", body, StringComparison.Ordinal);
        Assert.Contains("messages you haven't read.", body, StringComparison.Ordinal);
        Assert.Contains("open notes to you.", body, StringComparison.Ordinal);
        // The same things still wait a day later: that is no news.
        Assert.Equal(0, await letters.WriteAsync(now.AddHours(26) + TimeSpan.FromDays(1) + s_hour));

        await WantAsync(ilse, false);
        await SendAsync(anton, $"/api/manuscripts/{id}/talk", new { text = "Again." });
        Assert.Equal(0, await letters.WriteAsync(now.AddDays(9)));
    }

    [Theory]
    [InlineData(1, "What waits in “A”")]
    [InlineData(3, "What waits in 3 manuscripts")]
    public void Its_subject_names_the_manuscript_or_how_many(int count, string subject) =>
        Assert.Equal(subject, DailyLetters.Subject([.. Enumerable.Range(0, count).Select(i => new Waiting($"{(char)('A' + i)}", [], 0, 1, 0, 0, 0))]));

    [Fact]
    public void It_says_what_waits_in_each_and_nothing_that_does_not()
    {
        string body = DailyLetters.Body([new Waiting("Walls", ["Ada", "Bao", "Una"], 2, 1, 0, 0, 0), new Waiting("Stones", ["Ada"], 1, 0, 2, 3, 1)]);
        Assert.StartsWith("Walls\n  Ada, Bao and Una changed 2 files.\n  1 open note to you.\n\nStones\n  Ada changed 1 file.\n  2 suggestions to take or decline.\n  3 notes settled by others.\n  1 message you haven't read.\n\n", body, StringComparison.Ordinal);
        Assert.DoesNotContain("0 ", body, StringComparison.Ordinal);
        Assert.False(new Waiting("Walls", [], 0, 0, 0, 0, 0).IsAnything);
    }
}
