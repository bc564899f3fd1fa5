using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.AspNetCore.SignalR.Client;

namespace YoungFolio.Server.Tests;

/// <summary>Spelling, words that were added, goals and days of writing, and remarks that are left as they are.</summary>
public sealed class WritingApiTests : RunningServer
{
    private static async Task<(int Manuscript, int File)> MakeAsync(HttpClient client, string text)
    {
        int id = await (await client.PostAsJsonAsync("/api/manuscripts", new { title = "Walls", kind = "article" })).Content.ReadFromJsonAsync<int>();
        JsonElement made = await (await client.PutAsync($"/api/manuscripts/{id}/files?path=a.tex", new StringContent(text))).Content.ReadFromJsonAsync<JsonElement>();
        return (id, made.GetProperty("id").GetInt32());
    }

    private static async Task SayAsync(HttpClient client, int manuscript, string preamble) =>
        (await client.PutAsync($"/api/manuscripts/{manuscript}/files?path=main.tex&replace=true", new StringContent($"\\documentclass{{article}}\n{preamble}\n\\begin{{document}}\n\\input{{a}}\n\\end{{document}}\n"))).EnsureSuccessStatusCode();

    private static async Task<string> UnknownAsync(HttpClient client, int manuscript, int file, string? language = null)
    {
        JsonElement found = await client.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{manuscript}/spelling/files/{file}{(language is null ? "" : "?language=" + language)}");
        return string.Join(' ', found.GetProperty("words").EnumerateArray().Select(w => w.GetProperty("word").GetString()));
    }

    [Fact]
    public async Task Unknown_words_are_told_with_their_places_and_what_may_have_been_meant()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, int file) = await MakeAsync(ilse, "We recieved the colour.");
        await SayAsync(ilse, id, "");
        JsonElement found = await ilse.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{id}/spelling/files/{file}");
        JsonElement word = Assert.Single(found.GetProperty("words").EnumerateArray());
        Assert.Equal((3, 8, "recieved", "en-gb"), (word.GetProperty("offset").GetInt32(), word.GetProperty("length").GetInt32(), word.GetProperty("word").GetString(), word.GetProperty("language").GetString()));
        string[]? meant = await ilse.GetFromJsonAsync<string[]>($"/api/manuscripts/{id}/spelling/suggestions?word=recieved&language=en-gb");
        Assert.Equal("received", meant![0]);
        Assert.Empty((await ilse.GetFromJsonAsync<string[]>($"/api/manuscripts/{id}/spelling/suggestions?word={new string('a', 500)}&language=../en-gb"))!);
        Assert.Equal("recieved colour", await UnknownAsync(ilse, id, file, "en-us"));
        Assert.Equal("recieved", await UnknownAsync(ilse, id, file, "../../etc"));
        Assert.Equal(HttpStatusCode.NotFound, (await ilse.GetAsync($"/api/manuscripts/{id}/spelling/files/1")).StatusCode);
    }

    [Fact]
    public async Task The_preamble_s_language_goes_before_a_person_s()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, int file) = await MakeAsync(ilse, "Les murs sont recus.");
        await SayAsync(ilse, id, "\\usepackage[french]{babel}");
        JsonElement found = await ilse.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{id}/spelling/files/{file}?language=de");
        Assert.Equal(("fr", true), (found.GetProperty("language").GetString(), found.GetProperty("isSaid").GetBoolean()));
        Assert.Equal("recus", await UnknownAsync(ilse, id, file));
    }

    [Fact]
    public async Task A_word_is_right_for_all_in_a_manuscript_or_for_oneself_everywhere()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        JsonElement made = await (await ilse.PutAsync("/api/manuscripts/1/files?path=words.tex", new StringContent("Tephromela and Rhizocarpus."))).Content.ReadFromJsonAsync<JsonElement>();
        int file = made.GetProperty("id").GetInt32();
        await using HubConnection hub = await ListenAsync(bao, 1);
        var told = new TaskCompletionSource();
        hub.On("aids", () => told.TrySetResult());
        (await ilse.PostAsJsonAsync("/api/manuscripts/1/spelling/words", new { word = "Tephromela", isMine = false })).EnsureSuccessStatusCode();
        await told.Task.WaitAsync(TimeSpan.FromSeconds(30));
        (await ilse.PostAsJsonAsync("/api/manuscripts/1/spelling/words", new { word = "Rhizocarpus", isMine = true })).EnsureSuccessStatusCode();
        Assert.Equal("", await UnknownAsync(ilse, 1, file));
        Assert.Equal("Rhizocarpus", await UnknownAsync(bao, 1, file));
        JsonElement words = await ilse.GetFromJsonAsync<JsonElement>("/api/manuscripts/1/spelling/words");
        Assert.Equal(("Tephromela", "Rhizocarpus"), (words.GetProperty("manuscript")[0].GetString(), words.GetProperty("mine")[0].GetString()));
        (await ilse.PostAsJsonAsync("/api/manuscripts/1/spelling/words/forget", new { word = "Tephromela", isMine = false })).EnsureSuccessStatusCode();
        Assert.Equal("Tephromela", await UnknownAsync(ilse, 1, file));
        HttpResponseMessage bad = await ilse.PostAsJsonAsync("/api/manuscripts/1/spelling/words", new { word = "two words", isMine = false });
        Assert.Equal((HttpStatusCode.Conflict, "A word has letters, and up to 60 of them."), (bad.StatusCode, await MessageAsync(bad)));
    }

    [Fact]
    public async Task Goals_are_set_changed_and_taken_away_and_the_words_of_the_day_are_noted()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, _) = await MakeAsync(ilse, "x");
        foreach ((string section, int words) in new[] { ("", 12000), ("Method", 900), ("", 10000), ("Method", 0) })
        {
            (await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/writing/goal", new { section, words })).EnsureSuccessStatusCode();
        }

        JsonElement writing = await ilse.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{id}/writing");
        JsonElement goal = Assert.Single(writing.GetProperty("goals").EnumerateArray());
        Assert.Equal(("", 10000), (goal.GetProperty("section").GetString(), goal.GetProperty("words").GetInt32()));
        Assert.Equal(HttpStatusCode.Conflict, (await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/writing/goal", new { section = "", words = -1 })).StatusCode);
        JsonElement proof = await ilse.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{id}/proof");
        int words1 = proof.GetProperty("report").GetProperty("words").GetInt32();
        for (int i = 0; i < 100 && writing.GetProperty("days").GetArrayLength() == 0; i++)
        {
            await Task.Delay(300);
            writing = await ilse.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{id}/writing");
        }

        JsonElement day = Assert.Single(writing.GetProperty("days").EnumerateArray());
        Assert.Equal(words1, day.GetProperty("words").GetInt32());
    }

    [Fact]
    public async Task A_remark_is_left_as_it_is_once_and_taken_up_again()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, _) = await MakeAsync(ilse, "x");
        var remark = new { code = "unused-label", message = "Nothing refers to “a”.", file = "a.tex" };
        (await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/writing/left", remark)).EnsureSuccessStatusCode();
        (await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/writing/left", remark)).EnsureSuccessStatusCode();
        JsonElement left = Assert.Single((await ilse.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{id}/writing")).GetProperty("left").EnumerateArray());
        Assert.Equal("Nothing refers to “a”.", left.GetProperty("message").GetString());
        (await ilse.DeleteAsync($"/api/manuscripts/{id}/writing/left/{left.GetProperty("id").GetInt32()}")).EnsureSuccessStatusCode();
        Assert.Empty((await ilse.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{id}/writing")).GetProperty("left").EnumerateArray());
        Assert.Equal(HttpStatusCode.BadRequest, (await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/writing/left", new { code = "x" })).StatusCode);
    }

    [Fact]
    public async Task Tables_and_formulas_are_made_of_what_is_sent_and_bad_ones_are_refused_in_words()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        const string Source = "\\begin{tabular}{ll}\n  a & b \\\\\n\\end{tabular}";
        JsonElement table = await (await ilse.PostAsJsonAsync("/api/making/table", new { text = Source })).Content.ReadFromJsonAsync<JsonElement>();
        JsonElement written = await (await ilse.PostAsJsonAsync("/api/making/table/source", new { table, text = Source })).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal(Source, written.GetProperty("text").GetString());
        HttpResponseMessage refused = await ilse.PostAsJsonAsync("/api/making/table/source", new { table, text = "\\begin{tabbing}\\end{tabbing}" });
        Assert.Equal((HttpStatusCode.Conflict, "A grid doesn’t know tables of the kind tabbing."), (refused.StatusCode, await MessageAsync(refused)));
        foreach (object? broken in new object?[] { null, new { environment = "tabular" }, new { environment = "tabular", columns = new object?[] { null }, rows = Array.Empty<object>(), below = Array.Empty<string>() }, new { environment = "tabular", columns = new[] { new { before = "", kind = "l", after = "" } }, rows = new object?[] { new { above = Array.Empty<string>(), cells = new object?[] { null }, end = "" } }, below = Array.Empty<string>() } })
        {
            HttpResponseMessage bad = await ilse.PostAsJsonAsync("/api/making/table/source", new { table = broken, text = (string?)null });
            Assert.Equal((HttpStatusCode.BadRequest, "This is no table that can be written."), (bad.StatusCode, await MessageAsync(bad)));
        }

        HttpResponseMessage wide = await ilse.PostAsJsonAsync("/api/making/cells", new { text = string.Join('\t', Enumerable.Range(0, 61)) });
        Assert.Contains("at most 400 rows and 60 columns", await MessageAsync(wide), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, (await ilse.PostAsJsonAsync("/api/making/table", new { text = (string?)null })).StatusCode);
        JsonElement drawing = await (await ilse.PostAsJsonAsync("/api/manuscripts/1/formula", new { text = "\\(x^2\\)" })).Content.ReadFromJsonAsync<JsonElement>();
        Assert.StartsWith("<svg", drawing.GetProperty("picture").GetProperty("svg").GetString(), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.RequestEntityTooLarge, (await ilse.PostAsJsonAsync("/api/manuscripts/1/formula", new { text = new string('x', 5000) })).StatusCode);
    }
}
