using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.AspNetCore.SignalR.Client;
using YoungFolio.Bibliography;

namespace YoungFolio.Server.Tests;

/// <summary>The Sources room's routes, through real HTTP on a real SQLite file.</summary>
public sealed class SourceApiTests : RunningServer
{
    private static Task<HttpResponseMessage> ChangeAsync(HttpClient client, int manuscript, object change) => client.PostAsJsonAsync($"/api/manuscripts/{manuscript}/sources/change", change);

    private static async Task<string> TextAsync(HttpClient client, int manuscript, string path)
    {
        JsonElement view = await JsonAsync(client, $"/api/manuscripts/{manuscript}");
        int file = view.GetProperty("files").EnumerateArray().First(p => p.GetProperty("path").GetString() == path).GetProperty("id").GetInt32();
        return (await JsonAsync(client, $"/api/manuscripts/{manuscript}/files/{file}")).GetProperty("text").GetString()!;
    }

    private static async Task<List<JsonElement>> RowsAsync(HttpClient client, int manuscript) =>
        [.. (await JsonAsync(client, $"/api/manuscripts/{manuscript}/sources")).GetProperty("rows").EnumerateArray()];

    [Fact]
    public async Task The_table_says_what_is_cited_lacking_doubled_and_missing()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, _) = await MainFileAsync(ilse);
        await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/proof");
        List<JsonElement> rows = await RowsAsync(ilse, manuscript);
        JsonElement Row(string key) => rows.Single(r => r.GetProperty("key").GetString() == key);
        Assert.Equal(46, rows.Count(r => r.GetProperty("isThere").GetBoolean()));
        Assert.Equal("journal", Row("rook1991").GetProperty("missing")[0].GetString());
        Assert.Equal("rook1991", Row("rook1991b").GetProperty("twins")[0].GetString());
        Assert.Equal(4, Row("tansel1999").GetProperty("uses").GetInt32());
        Assert.False(Row("tarn2020").GetProperty("isThere").GetBoolean());
        JsonElement entry = await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/sources/entry?key=sable2019");
        Assert.Equal("Sable, J., Wyke, L., and Ødegaard, N. (2019). Shade and the early spread. In Tarn, A., editor, Proceedings of the Ninth Meeting on Walls, pages 5–19. Three Gates.",
            string.Concat(entry.GetProperty("printed").EnumerateArray().Select(r => r.GetProperty("text").GetString())));
        Assert.Equal(("(Sable et al., 2019)", "Sable et al. (2019)"), (entry.GetProperty("inBrackets").GetString(), entry.GetProperty("inSentence").GetString()));
        Assert.Equal("Shade as a measure", entry.GetProperty("uses")[0].GetProperty("section").GetString());
    }

    [Fact]
    public async Task A_change_of_several_files_is_one_act_that_others_hear_of_and_that_can_be_undone()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, _) = await MainFileAsync(ilse);
        string before = await TextAsync(ilse, manuscript, "chapters/walls.tex");
        await using HubConnection hub = await ListenAsync(ilse, manuscript);
        var heard = new List<int>();
        hub.On<int, int, JsonElement>("updates", (file, _, _) => { lock (heard) { heard.Add(file); } });
        JsonElement done = await (await ChangeAsync(ilse, manuscript, new { kind = "rename", key = "tansel1999", other = "circles", text = (string?)null, file = (string?)null, fields = (object?)null })).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal(5, done.GetProperty("undo").GetArrayLength());
        Assert.Equal(before.Replace("tansel1999", "circles", StringComparison.Ordinal), await TextAsync(ilse, manuscript, "chapters/walls.tex"));
        for (int i = 0; i < 100 && heard.Count < 5; i++)
        {
            await Task.Delay(50);
        }

        Assert.Equal(5, heard.Distinct().Count());
        HttpResponseMessage undone = await ilse.PostAsJsonAsync($"/api/manuscripts/{manuscript}/texts/undo", done.GetProperty("undo"));
        Assert.Equal(HttpStatusCode.NoContent, undone.StatusCode);
        Assert.Equal(before, await TextAsync(ilse, manuscript, "chapters/walls.tex"));
        // A second time there is nothing left to take back.
        Assert.Equal(HttpStatusCode.NoContent, (await ilse.PostAsJsonAsync($"/api/manuscripts/{manuscript}/texts/undo", done.GetProperty("undo"))).StatusCode);
        Assert.Equal(before, await TextAsync(ilse, manuscript, "chapters/walls.tex"));
    }

    private static readonly (string Kind, string? Key, string? Other, string? Text, string Says)[] s_impossible =
    [
        ("rename", "tansel1999", "rook1987", null, "There is a source “rook1987” already"),
        ("rename", "tansel1999", "two words", null, "can't be a key"),
        ("delete", "nobody", null, null, "There is no source “nobody”"),
        ("fields", "rook1987", null, "{open", "Braces in title don't match"),
        ("text", "rook1987", null, "@book{rook1987, title = {Open}", "isn't closed"),
        ("merge", "rook1987", "rook1987", null, "the same source"),
        ("add", null, null, "just words", "no record"),
        ("wave", "rook1987", null, null, "no such change"),
    ];

    [Fact]
    public async Task What_cannot_be_done_is_refused_in_words_and_changes_nothing()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, _) = await MainFileAsync(ilse);
        string before = await TextAsync(ilse, manuscript, "sources.bib");
        foreach ((string kind, string? key, string? other, string? text, string says) in s_impossible)
        {
            HttpResponseMessage answer = await ChangeAsync(ilse, manuscript, new { kind, key, other, text, file = (string?)null, fields = kind == "fields" ? new { title = text } : null });
            Assert.Equal(HttpStatusCode.Conflict, answer.StatusCode);
            Assert.Contains(says, await MessageAsync(answer), StringComparison.Ordinal);
        }

        Assert.Equal(before, await TextAsync(ilse, manuscript, "sources.bib"));
    }

    [Fact]
    public async Task Sources_go_out_in_three_formats_and_come_back_as_twins()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, _) = await MainFileAsync(ilse);
        foreach (string format in (string[])["bibtex", "ris", "csl"])
        {
            string text = await ilse.GetStringAsync($"/api/manuscripts/{manuscript}/sources/export?format={format}&keys=sable2019,stahl2013");
            Assert.Equal(2, SourceImport.Read(text).Records.Count);
            JsonElement offer = await (await ilse.PostAsJsonAsync($"/api/manuscripts/{manuscript}/sources/look", new { text })).Content.ReadFromJsonAsync<JsonElement>();
            Assert.Equal(["sable2019", "stahl2013"], offer.GetProperty("records").EnumerateArray().Select(r => r.GetProperty("twin").GetString()).Order());
        }
    }

    [Fact]
    public async Task A_manuscript_without_sources_gets_a_file_for_the_first_one()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        int mine = await (await ilse.PostAsJsonAsync("/api/manuscripts", new { title = "New", kind = "blank" })).Content.ReadFromJsonAsync<int>();
        HttpResponseMessage answer = await ChangeAsync(ilse, mine, new { kind = "add", key = (string?)null, other = (string?)null, text = "TY  - BOOK\nAU  - Abel, Ann\nTI  - First\nPY  - 2001\nER  - \n", file = (string?)null, fields = (object?)null });
        Assert.Equal("abel2001", (await answer.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("keys")[0].GetString());
        Assert.StartsWith("@book{abel2001,", await TextAsync(ilse, mine, "sources.bib"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_catalogue_answers_over_http_in_three_formats_and_its_failures_are_told_in_words()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, _) = await MainFileAsync(ilse);
        string[] titles = [.. await Task.WhenAll(((string[])["bibtex", "ris", "csl"]).Select(async f => SourceImport.Read(await ilse.GetStringAsync($"/stand-ins/catalogue?id=10.5555/marrow.1031&format={f}")).Records.Single().Fields["title"]))];
        Assert.Single(titles.Distinct());
        Assert.Equal(HttpStatusCode.ServiceUnavailable, (await ilse.GetAsync("/stand-ins/catalogue?q=fail:x")).StatusCode);
        HttpResponseMessage failed = await ilse.GetAsync($"/api/manuscripts/{manuscript}/sources/lookup?q=fail:x");
        Assert.Equal(HttpStatusCode.BadGateway, failed.StatusCode);
        Assert.Contains("can't answer just now", (await failed.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("message").GetString(), StringComparison.Ordinal);
        HttpResponseMessage slow = await ilse.GetAsync($"/api/manuscripts/{manuscript}/sources/lookup?q=slow:x");
        Assert.Contains("took too long", (await slow.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("message").GetString(), StringComparison.Ordinal);
        Assert.Empty((await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/sources/lookup?q=zzz")).GetProperty("problems").EnumerateArray());
    }
}
