using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.AspNetCore.SignalR.Client;
using YoungFolio.Cowriting;

namespace YoungFolio.Server.Tests;

/// <summary>Finding and replacing in all texts of a manuscript.</summary>
public sealed class TextsApiTests : RunningServer
{
    private static async Task<JsonElement> FindAsync(HttpClient client, int manuscript, object query, string? with = null) =>
        await (await client.PostAsJsonAsync($"/api/manuscripts/{manuscript}/texts/find", new { query, with })).Content.ReadFromJsonAsync<JsonElement>();

    private static async Task<(int Manuscript, Dictionary<string, int> Files)> MakeAsync(HttpClient client)
    {
        int id = await (await client.PostAsJsonAsync("/api/manuscripts", new { title = "Walls", kind = "article" })).Content.ReadFromJsonAsync<int>();
        var files = new Dictionary<string, int>();
        foreach ((string path, string text) in new[] { ("a.tex", "The Wall.\nA wall and a \\label{wall} wall."), ("b.tex", "No stone.\nOne wall~more.\n"), ("c.bib", "@book{wall, title={Wall}}") })
        {
            JsonElement made = await (await client.PutAsync($"/api/manuscripts/{id}/files?path={path}", new StringContent(text))).Content.ReadFromJsonAsync<JsonElement>();
            files[path] = made.GetProperty("id").GetInt32();
        }

        return (id, files);
    }

    [Fact]
    public async Task What_is_found_says_where_it_is_and_what_stands_around_it()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, _) = await MakeAsync(ilse);
        JsonElement found = await FindAsync(ilse, id, new { words = "wall" });
        Assert.Equal(8, found.GetProperty("total").GetInt32());
        Assert.Equal(["main.tex", "a.tex", "b.tex", "c.bib"], found.GetProperty("files").EnumerateArray().Select(f => f.GetProperty("path").GetString()));
        JsonElement second = found.GetProperty("files")[1].GetProperty("places")[1];
        Assert.Equal((2, "A ", "wall", " and a \\label{wall} wall."), (second.GetProperty("line").GetInt32(), second.GetProperty("before").GetString(), second.GetProperty("words").GetString(), second.GetProperty("after").GetString()));
        Assert.Equal(4, (await FindAsync(ilse, id, new { words = "wall", printedOnly = true })).GetProperty("total").GetInt32());
        HttpResponseMessage bad = await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/texts/find", new { query = new { words = "(", isPattern = true } });
        Assert.Equal(HttpStatusCode.Conflict, bad.StatusCode);
        Assert.Contains("a group is left open", await MessageAsync(bad), StringComparison.Ordinal);
    }

    [Fact]
    public async Task All_are_replaced_as_one_change_that_can_be_taken_back()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, Dictionary<string, int> files) = await MakeAsync(ilse);
        JsonElement done = await (await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/texts/replace", new { query = new { words = "wall", printedOnly = true }, with = "dyke" })).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal((4, 2), (done.GetProperty("replaced").GetInt32(), done.GetProperty("undo").GetArrayLength()));
        Assert.Equal("The dyke.\nA dyke and a \\label{wall} dyke.", (await TextAsync(ilse, id, files["a.tex"])).Text);
        (await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/texts/undo", done.GetProperty("undo"))).EnsureSuccessStatusCode();
        Assert.Equal("The Wall.\nA wall and a \\label{wall} wall.", (await TextAsync(ilse, id, files["a.tex"])).Text);
        Assert.Equal("No stone.\nOne wall~more.\n", (await TextAsync(ilse, id, files["b.tex"])).Text);
    }

    [Fact]
    public async Task Chosen_places_are_found_again_after_others_wrote_and_those_with_other_words_are_left_alone()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, Dictionary<string, int> files) = await MakeAsync(ilse);
        int file = files["a.tex"];
        JsonElement of = (await FindAsync(ilse, id, new { words = "wall" })).GetProperty("files")[1];
        int version = of.GetProperty("version").GetInt32();
        int[] offsets = [.. of.GetProperty("places").EnumerateArray().Select(p => p.GetProperty("offset").GetInt32())];
        // Another tab writes before them, and within the last one.
        (string text, _) = await TextAsync(ilse, id, file);
        HubConnection hub = await ListenAsync(ilse, id);
        await TypeAsync(hub, 1, file, version, ChangeSet.Replace(text.Length, 0, 0, "New words. "));
        int last = "New words. ".Length + offsets[^1] + 2;
        await TypeAsync(hub, 1, file, version + 1, ChangeSet.Replace(text.Length + "New words. ".Length, last, last, "-"));
        object[] only = [new { file, version, offset = offsets[0] }, new { file, version, offset = offsets[^1] }];
        JsonElement done = await (await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/texts/replace", new { query = new { words = "wall" }, with = "dyke", only })).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal((1, 1), (done.GetProperty("replaced").GetInt32(), done.GetProperty("missed").GetInt32()));
        Assert.Equal("New words. The dyke.\nA wall and a \\label{wall} wa-ll.", (await TextAsync(ilse, id, file)).Text);
    }

    [Fact]
    public async Task What_would_find_or_put_in_too_much_is_refused_and_changes_nothing()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, Dictionary<string, int> files) = await MakeAsync(ilse);
        string many = string.Concat(Enumerable.Repeat("e ", 100_001));
        (await ilse.PutAsync($"/api/manuscripts/{id}/files?path=a.tex&replace=true", new StringContent(many))).EnsureSuccessStatusCode();
        HttpResponseMessage found = await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/texts/find", new { query = new { words = "e" } });
        Assert.Equal(HttpStatusCode.Conflict, found.StatusCode);
        Assert.Contains("more than 100,000 places", await MessageAsync(found), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Conflict, (await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/texts/replace", new { query = new { words = "e" }, with = "a" })).StatusCode);
        // 10,000 characters at 2,000 places of what was left are more than a file takes.
        string fewer = many[..8_000];
        (await ilse.PutAsync($"/api/manuscripts/{id}/files?path=a.tex&replace=true", new StringContent(fewer))).EnsureSuccessStatusCode();
        Assert.Equal(HttpStatusCode.Conflict, (await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/texts/replace", new { query = new { words = "e" }, with = new string('a', 10_000) })).StatusCode);
        Assert.Equal(fewer, (await TextAsync(ilse, id, files["a.tex"])).Text);
        // What is listed of a long place is its beginning.
        JsonElement all = await FindAsync(ilse, id, new { words = "(?s)e.+", isPattern = true }, "$0$0");
        Assert.Equal(201, all.GetProperty("files").EnumerateArray().First(f => f.GetProperty("path").GetString() == "a.tex").GetProperty("places")[0].GetProperty("words").GetString()!.Length);
    }

    [Fact]
    public async Task A_name_is_changed_everywhere_as_one_change_or_refused_saying_where()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, Dictionary<string, int> files) = await MakeAsync(ilse);
        (await ilse.PutAsync($"/api/manuscripts/{id}/files?path=b.tex&replace=true", new StringContent("See \\ref{wall} and \\ref{dyke}.\n\\label{dyke}"))).EnsureSuccessStatusCode();
        JsonElement uses = await (await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/texts/uses", new { kind = "label", name = "wall" })).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal((2, "a.tex"), (uses.GetProperty("total").GetInt32(), uses.GetProperty("files")[0].GetProperty("path").GetString()));
        HttpResponseMessage taken = await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/texts/rename", new { kind = "label", name = "wall", to = "dyke" });
        Assert.Equal(HttpStatusCode.Conflict, taken.StatusCode);
        Assert.Contains("b.tex, line 2", await MessageAsync(taken), StringComparison.Ordinal);
        JsonElement done = await (await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/texts/rename", new { kind = "label", name = "wall", to = "sec:wall" })).Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal(2, done.GetProperty("replaced").GetInt32());
        Assert.Equal("See \\ref{sec:wall} and \\ref{dyke}.\n\\label{dyke}", (await TextAsync(ilse, id, files["b.tex"])).Text);
        Assert.Equal("The Wall.\nA wall and a \\label{sec:wall} wall.", (await TextAsync(ilse, id, files["a.tex"])).Text);
        (await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/texts/undo", done.GetProperty("undo"))).EnsureSuccessStatusCode();
        Assert.Contains("\\label{wall}", (await TextAsync(ilse, id, files["a.tex"])).Text, StringComparison.Ordinal);
    }
}
