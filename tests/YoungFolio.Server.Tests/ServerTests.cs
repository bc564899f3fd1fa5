using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Runtime.CompilerServices;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Data.Sqlite;
using YoungFolio.Cowriting;
using YoungFolio.Server;

namespace YoungFolio.Server.Tests;

/// <summary>The server through real HTTP and SignalR, on a real SQLite file.</summary>
public sealed class ServerTests : RunningServer
{
    private static byte[] OnePixel => Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==");

    [Fact]
    public async Task Health_and_the_API_document_answer()
    {
        using HttpClient client = Client();
        Assert.Equal("ready", await client.GetStringAsync("/health"));
        Assert.Contains("/api/manuscripts/{id}/proof", await client.GetStringAsync("/openapi/v1.json"));
    }

    [Fact]
    public async Task A_change_is_a_revision_on_disk_and_a_new_proof()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, int file) = await MainFileAsync(ilse);
        await using HubConnection hub = await ListenAsync(ilse, manuscript);
        (string before, int version) = await TextAsync(ilse, manuscript, file);
        await ilse.GetAsync($"/api/manuscripts/{manuscript}/proof");
        var proved = new TaskCompletionSource<JsonElement>();
        hub.On<JsonElement>("proof", r => proved.TrySetResult(r));

        int at = before.IndexOf("\\end{document}", StringComparison.Ordinal);
        Assert.Equal(version + 1, await TypeAsync(hub, 1, file, version, ChangeSet.Replace(before.Length, at, at, "Typed words.\n")));
        await proved.Task.WaitAsync(TimeSpan.FromSeconds(20));
        await RestartAsync();
        using HttpClient again = await SignInAsync("Ilse Marrable");
        Assert.Contains("Typed words.\n\\end{document}", (await TextAsync(again, manuscript, file)).Text);
        using var connection = new SqliteConnection($"Data Source={Path.Combine(DataFolder, "folio.db")}");
        connection.Open();
        SqliteCommand command = connection.CreateCommand();
        command.CommandText = "select Kind, PersonId, Payload from Revisions where ManuscriptId = 1 order by Number desc limit 1";
        using SqliteDataReader row = command.ExecuteReader();
        Assert.True(row.Read());
        Assert.Equal("text", row.GetString(0));
        Assert.Contains("Typed words.", row.GetString(2));
    }

    [Fact]
    public async Task A_restart_during_a_compile_loses_nothing_and_the_proof_follows()
    {
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        int book = (await JsonAsync(bao, "/api/manuscripts")).EnumerateArray().First(m => m.GetProperty("title").GetString() == "A Field Book of Walls").GetProperty("id").GetInt32();
        int file = (await JsonAsync(bao, $"/api/manuscripts/{book}")).GetProperty("files").EnumerateArray().First(p => p.GetProperty("path").GetString() == "main.tex").GetProperty("id").GetInt32();
        // Those who join while a proof is wanted already are told so with the proof, not by a message of its own.
        await EventuallyAsync(() => !JsonAsync(bao, $"/api/manuscripts/{book}/proof").Result.GetProperty("isBehind").GetBoolean());
        JsonElement first = await JsonAsync(bao, $"/api/manuscripts/{book}/proof");
        HubConnection hub = await ListenAsync(bao, book);
        var begun = new TaskCompletionSource();
        hub.On("compiling", () => begun.TrySetResult());
        (string text, int version) = await TextAsync(bao, book, file);
        int at = text.IndexOf("\\end{document}", StringComparison.Ordinal);
        await TypeAsync(hub, 2, file, version, ChangeSet.Replace(text.Length, at, at, "Three more words.\n"));
        await begun.Task.WaitAsync(TimeSpan.FromSeconds(20));
        // A moment later the compile is under way.
        await Task.Delay(120);
        await hub.DisposeAsync();
        await RestartAsync();

        using HttpClient again = await SignInAsync("Bao Tremlett");
        Assert.Contains("Three more words.\n\\end{document}", (await TextAsync(again, book, file)).Text, StringComparison.Ordinal);
        // Until the new proof is there the last one is shown.
        await EventuallyAsync(() => !JsonAsync(again, $"/api/manuscripts/{book}/proof").Result.GetProperty("isBehind").GetBoolean());
        JsonElement proof = await JsonAsync(again, $"/api/manuscripts/{book}/proof");
        Assert.Equal(first.GetProperty("report").GetProperty("words").GetInt32() + 3, proof.GetProperty("report").GetProperty("words").GetInt32());
        Assert.True(proof.GetProperty("revision").GetInt32() > first.GetProperty("revision").GetInt32());
    }

    [Fact]
    public async Task Files_are_made_renamed_uploaded_and_deleted()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, _) = await MainFileAsync(ilse);
        string files = $"/api/manuscripts/{manuscript}/files";
        JsonElement made = await (await ilse.PostAsJsonAsync(files, new { path = "chapters/extra.tex" })).Content.ReadFromJsonAsync<JsonElement>();
        int id = made.GetProperty("id").GetInt32();
        Assert.Equal(HttpStatusCode.Conflict, (await ilse.PostAsJsonAsync(files, new { path = "chapters/extra.tex" })).StatusCode);
        Assert.Equal(HttpStatusCode.Conflict, (await ilse.PostAsJsonAsync(files, new { path = "../out.tex" })).StatusCode);
        (await ilse.PostAsJsonAsync($"{files}/{id}/name", new { path = "chapters/more.tex" })).EnsureSuccessStatusCode();
        (await ilse.PutAsync($"{files}?path=figures/dot.png", new ByteArrayContent(OnePixel))).EnsureSuccessStatusCode();
        HttpResponseMessage broken = await ilse.PutAsync($"{files}?path=figures/broken.png", new ByteArrayContent([1, 2, 3]));
        Assert.Equal((HttpStatusCode.Conflict, true), (broken.StatusCode, (await MessageAsync(broken)).Contains("isn't a PNG picture", StringComparison.Ordinal)));
        Assert.Equal(HttpStatusCode.Conflict, (await ilse.PostAsJsonAsync(files, new { path = "MAIN.tex" })).StatusCode);
        HttpResponseMessage latin = await ilse.PutAsync($"{files}?path=old.tex", new ByteArrayContent(Encoding.Latin1.GetBytes("café")));
        Assert.Equal(HttpStatusCode.Conflict, latin.StatusCode);
        Assert.Contains("Latin-1", await latin.Content.ReadAsStringAsync());
        (await ilse.PutAsync($"{files}?path=old.tex&latin1=true", new ByteArrayContent(Encoding.Latin1.GetBytes("café")))).EnsureSuccessStatusCode();
        Assert.Equal(HttpStatusCode.NoContent, (await ilse.DeleteAsync($"{files}/{id}")).StatusCode);
        string[] paths = [.. (await JsonAsync(ilse, $"/api/manuscripts/{manuscript}")).GetProperty("files").EnumerateArray().Select(p => p.GetProperty("path").GetString()!)];
        Assert.Contains("figures/dot.png", paths);
        Assert.Contains("old.tex", paths);
        Assert.DoesNotContain("chapters/more.tex", paths);
    }

    [Fact]
    public async Task Every_answer_says_whose_session_it_was_asked_with()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        foreach (HttpClient person in (HttpClient[])[ilse, bao])
        {
            using HttpResponseMessage found = await person.GetAsync("/api/manuscripts");
            using HttpResponseMessage missing = await person.GetAsync("/api/manuscripts/4711");
            string id = (await PersonAsync(person)).ToString(CultureInfo.InvariantCulture);
            Assert.Equal([id, id], new[] { found, missing }.Select(a => string.Join(' ', a.Headers.GetValues("Folio-Person"))));
        }

        using HttpClient nobody = Client();
        Assert.False((await nobody.GetAsync("/api/session")).Headers.Contains("Folio-Person"));
    }

    [Fact]
    public async Task Addresses_from_when_files_were_called_parts_still_hold()
    {
        // Another server of this process, which is gone by then, has no part in it.
        string folder = Directory.CreateTempSubdirectory("folio").FullName;
        await using (WebApplication other = await FolioServer.CreateAsync(OptionsFor(folder) with { Demo = false }))
        {
            await other.StartAsync();
            await other.StopAsync();
        }

        Directory.Delete(folder, true);
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpResponseMessage put = await ilse.PutAsync("/api/manuscripts/1/parts?path=data/old.csv", new StringContent("a,b\n1,2\n"));
        Assert.True(put.IsSuccessStatusCode, $"{put.StatusCode}: {await put.Content.ReadAsStringAsync()}");
        int file = (await put.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetInt32();
        Assert.Equal("a,b\n1,2\n", await ilse.GetStringAsync($"/api/manuscripts/1/parts/{file}/content"));
        int revision = (await JsonAsync(ilse, "/api/manuscripts/1/revisions?count=1"))[0].GetProperty("number").GetInt32();
        Assert.Contains("1,2", await ilse.GetStringAsync($"/api/manuscripts/1/revisions/{revision}/parts/{file}"));
        Assert.Equal(HttpStatusCode.NoContent, (await ilse.DeleteAsync($"/api/manuscripts/1/parts/{file}")).StatusCode);
        // Nobody gets farther by an earlier address than by today's.
        using HttpClient nobody = Client();
        Assert.Equal(HttpStatusCode.Unauthorized, (await nobody.GetAsync($"/api/manuscripts/1/parts/{file}/content")).StatusCode);
    }

    [Fact]
    public async Task What_names_a_file_follows_when_it_moves_and_others_hear_of_it()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, int main) = await MainFileAsync(ilse);
        int chapter = (await JsonAsync(ilse, $"/api/manuscripts/{manuscript}")).GetProperty("files").EnumerateArray().First(p => p.GetProperty("path").GetString() == "chapters/valley.tex").GetProperty("id").GetInt32();
        int pages = (await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/proof")).GetProperty("report").GetProperty("pages").GetInt32();
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        await using HubConnection his = await ListenAsync(bao, manuscript);
        var heard = new TaskCompletionSource<int>();
        his.On<int, int, JsonElement>("updates", (file, _, _) => heard.TrySetResult(file));
        (string text, int version) = await TextAsync(ilse, manuscript, main);
        (await ilse.PostAsJsonAsync($"/api/manuscripts/{manuscript}/files/{chapter}/name", new { path = "ground/marrow.tex" })).EnsureSuccessStatusCode();
        Assert.Equal(main, await heard.Task.WaitAsync(TimeSpan.FromSeconds(20)));
        Assert.Equal((text.Replace("\\include{chapters/valley}", "\\include{ground/marrow}", StringComparison.Ordinal), version + 1), await TextAsync(bao, manuscript, main));
        await EventuallyAsync(() => JsonAsync(ilse, $"/api/manuscripts/{manuscript}/proof").Result is var proof && !proof.GetProperty("isBehind").GetBoolean()
            && proof.GetProperty("report").GetProperty("pages").GetInt32() == pages && proof.GetProperty("report").GetProperty("outline").EnumerateArray().Any(e => e.GetProperty("file").GetString() == "ground/marrow.tex"));

        // A name that is taken is refused, and then the texts stay as they are.
        Assert.Equal(HttpStatusCode.Conflict, (await ilse.PostAsJsonAsync($"/api/manuscripts/{manuscript}/files/{chapter}/name", new { path = "chapters/why.tex" })).StatusCode);
        Assert.Equal(version + 1, (await TextAsync(ilse, manuscript, main)).Version);
    }

    [Fact]
    public async Task The_main_file_can_not_be_deleted()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, int file) = await MainFileAsync(ilse);
        Assert.Equal(HttpStatusCode.Conflict, (await ilse.DeleteAsync($"/api/manuscripts/{manuscript}/files/{file}")).StatusCode);
    }

    [Fact]
    public async Task A_manuscript_of_others_looks_as_if_it_were_not_there()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        int mine = await (await ilse.PostAsJsonAsync("/api/manuscripts", new { title = "Only mine & 100 %", kind = "article" })).Content.ReadFromJsonAsync<int>();
        JsonElement proof = await JsonAsync(ilse, $"/api/manuscripts/{mine}/proof");
        Assert.Empty(proof.GetProperty("report").GetProperty("findings").EnumerateArray());
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        foreach (string path in (string[])["", "/proof", "/proof/pdf", "/files/1"])
        {
            Assert.Equal(HttpStatusCode.NotFound, (await bao.GetAsync($"/api/manuscripts/{mine}{path}")).StatusCode);
        }

        await Assert.ThrowsAsync<Microsoft.AspNetCore.SignalR.HubException>(() => ListenAsync(bao, mine));
    }
}
