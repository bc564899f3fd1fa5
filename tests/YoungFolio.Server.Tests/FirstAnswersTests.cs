using System.Text.Json;

namespace YoungFolio.Server.Tests;

/// <summary>What the application asks itself when it begins.</summary>
public sealed class FirstAnswersTests : RunningServer
{
    [Fact]
    public async Task Each_question_is_answered_and_none_changes_what_is_new_to_someone()
    {
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        string before = await NewAsync();
        IReadOnlyDictionary<string, int> statuses = await FirstAnswers.AskAllAsync(Application, default);
        Assert.Equal(6, statuses.Count);
        Assert.All(statuses, s => Assert.True(s.Value == 200, $"{s.Key}: {s.Value}"));
        Assert.Equal(before, await NewAsync());

        async Task<string> NewAsync() => string.Join('\n', (await JsonAsync(bao, "/api/manuscripts")).EnumerateArray()
            .Select(m => $"{m.GetProperty("id")} {m.GetProperty("revision")} {m.GetProperty("news")}"));
    }

    [Fact]
    public async Task An_application_without_manuscripts_is_asked_for_the_shelf_only()
    {
        string empty = Directory.CreateTempSubdirectory("folio").FullName;
        try
        {
            await using var app = await FolioServer.CreateAsync(OptionsFor(empty) with { Demo = false });
            await app.StartAsync();
            IReadOnlyDictionary<string, int> statuses = await FirstAnswers.AskAllAsync(app, default);
            Assert.Equal(["/api/session", "/api/manuscripts"], statuses.Keys);
            Assert.All(statuses.Values, s => Assert.Equal(200, s));
            await app.StopAsync();
        }
        finally
        {
            Pools.Clear(empty);
            Directory.Delete(empty, true);
        }
    }
}
