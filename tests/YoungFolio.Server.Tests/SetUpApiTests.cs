using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace YoungFolio.Server.Tests;

/// <summary>Set-ups, cross-references and sections' files over HTTP.</summary>
public sealed class SetUpApiTests : RunningServer
{
    private static async Task<JsonElement> PostAsync(HttpClient client, string path, object body, HttpStatusCode expected = HttpStatusCode.OK)
    {
        using HttpResponseMessage answer = await client.PostAsJsonAsync(path, body);
        string text = await answer.Content.ReadAsStringAsync();
        Assert.True(answer.StatusCode == expected, $"{answer.StatusCode}: {text}");
        return JsonSerializer.Deserialize<JsonElement>(text);
    }

    private static JsonElement Setting(JsonElement setUp, string id) => setUp.GetProperty("settings").EnumerateArray().First(s => s.GetProperty("id").GetString() == id);

    [Fact]
    public async Task A_setting_is_changed_shown_on_the_page_and_taken_back()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, int main) = await MainFileAsync(ilse);
        (string first, _) = await TextAsync(ilse, id, main);
        JsonElement before = await JsonAsync(ilse, $"/api/manuscripts/{id}/set-up");
        Assert.Equal(("11", "report"), (Setting(before, "size").GetProperty("value").GetString(), Setting(before, "class").GetProperty("value").GetString()));
        Assert.EndsWith("\\begin{document}", before.GetProperty("files")[0].GetProperty("text").GetString(), StringComparison.Ordinal);
        JsonElement changed = await PostAsync(ilse, $"/api/manuscripts/{id}/set-up", new { id = "inner", value = "4cm" });
        double left = changed.GetProperty("setUp").GetProperty("page").GetProperty("oddLeft").GetDouble();
        Assert.Equal(40, left / 72.27 * 25.4, 0.1);
        Assert.Contains("[left=4cm]{geometry}", (await TextAsync(ilse, id, main)).Text, StringComparison.Ordinal);
        using HttpResponseMessage undone = await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/texts/undo", changed.GetProperty("undo"));
        undone.EnsureSuccessStatusCode();
        Assert.Equal(first, (await TextAsync(ilse, id, main)).Text);
        Assert.Contains("no length", (await PostAsync(ilse, $"/api/manuscripts/{id}/set-up", new { id = "inner", value = "x" }, HttpStatusCode.Conflict)).GetProperty("message").GetString(), StringComparison.Ordinal);
        await PostAsync(ilse, $"/api/manuscripts/{id}/set-up", new { }, HttpStatusCode.Conflict);
        await PostAsync(ilse, $"/api/manuscripts/{id}/set-up/packages", new { name = "cleveref", isLoaded = true });
        await PostAsync(ilse, $"/api/manuscripts/{id}/set-up/packages", new { name = "cleveref", isLoaded = false });
        Assert.Equal(first, (await TextAsync(ilse, id, main)).Text);
    }

    [Fact]
    public async Task A_set_up_is_saved_under_a_name_and_applied_to_another_manuscript_by_those_who_write_together()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        (int id, _) = await MainFileAsync(ilse);
        JsonElement saved = await PostAsync(ilse, $"/api/manuscripts/{id}/set-up/saved", new { name = "  House   style " });
        JsonElement list = await JsonAsync(bao, "/api/set-ups");
        JsonElement house = Assert.Single(list.EnumerateArray());
        Assert.Equal(("House style", false), (house.GetProperty("name").GetString(), house.GetProperty("isOwn").GetBoolean()));
        int other = (await PostAsync(bao, "/api/manuscripts", new { title = "Another", kind = "article" })).GetInt32();
        string path = $"/api/manuscripts/{other}/set-up/saved/{saved.GetInt32()}";
        JsonElement look = await JsonAsync(bao, path);
        string[] keys = [.. look.GetProperty("steps").EnumerateArray().Where(s => s.GetProperty("isOffered").GetBoolean() && s.GetProperty("problem").ValueKind == JsonValueKind.Null).Select(s => s.GetProperty("key").GetString()!)];
        Assert.Contains("set:class", keys);
        int main = (await JsonAsync(bao, $"/api/manuscripts/{other}")).GetProperty("files").EnumerateArray().First(f => f.GetProperty("path").GetString() == "main.tex").GetProperty("id").GetInt32();
        string before = (await TextAsync(bao, other, main)).Text;
        JsonElement changed = await PostAsync(bao, path, new { keys });
        Assert.Equal("report", Setting(changed.GetProperty("setUp"), "class").GetProperty("value").GetString());
        Assert.Equal(look.GetProperty("page").GetProperty("textWidth").GetDouble(), changed.GetProperty("setUp").GetProperty("page").GetProperty("textWidth").GetDouble(), 3);
        using HttpResponseMessage undone = await bao.PostAsJsonAsync($"/api/manuscripts/{other}/texts/undo", changed.GetProperty("undo"));
        undone.EnsureSuccessStatusCode();
        Assert.Equal(before, (await TextAsync(bao, other, main)).Text);

        // Whoever shares no manuscript sees nothing of it, and nobody deletes another's.
        using HttpClient stranger = await SignUpAsync("Una Fell", "una@moor.example");
        Assert.Empty((await JsonAsync(stranger, "/api/set-ups")).EnumerateArray());
        await PostAsync(bao, path, new { keys = Array.Empty<string>() }, HttpStatusCode.BadRequest);
        Assert.Equal(HttpStatusCode.NotFound, (await bao.DeleteAsync($"/api/set-ups/{saved.GetInt32()}")).StatusCode);
        Assert.Equal(HttpStatusCode.NoContent, (await ilse.DeleteAsync($"/api/set-ups/{saved.GetInt32()}")).StatusCode);
        await PostAsync(ilse, $"/api/manuscripts/{id}/set-up/saved", new { name = " " }, HttpStatusCode.Conflict);
    }

    [Fact]
    public async Task Every_style_shows_what_it_makes_of_the_manuscripts_own_sources()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, _) = await MainFileAsync(ilse);
        await JsonAsync(ilse, $"/api/manuscripts/{id}/proof");
        JsonElement[] styles = [.. (await JsonAsync(ilse, $"/api/manuscripts/{id}/sources/styles")).EnumerateArray()];
        string Of(string name, Func<JsonElement, string> what) => what(styles.First(s => s.GetProperty("style").GetString() == name));
        static string Citation(JsonElement s) => s.GetProperty("citation").GetString()!;
        static string Label(JsonElement s) => s.GetProperty("sources")[0].GetProperty("label").GetString()!;
        // The standard styles (Patashnik, BibTeXing, section 3), and natbib's by author and year.
        Assert.Equal(("[1, 2]", "[1]"), (Of("plain", Citation), Of("plain", Label)));
        Assert.Matches(@"^\[[A-Z][A-Za-z+]*\d\d[a-z]?\]$", Of("alpha", Label));
        Assert.Matches(@"^\(.+, \d{4}; .+, \d{4}\)$", Of("plainnat", Citation));
        Assert.All(styles, s => Assert.Equal(2, s.GetProperty("sources").GetArrayLength()));
        Assert.All(styles, s => Assert.All(s.GetProperty("sources").EnumerateArray(), one => Assert.Matches(@"\d{4}", string.Concat(one.GetProperty("printed").EnumerateArray().Select(r => r.GetProperty("text").GetString())))));
    }

    [Fact]
    public async Task References_are_told_with_their_sentences()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, _) = await MainFileAsync(ilse);
        JsonElement[] labels = [.. (await JsonAsync(ilse, $"/api/manuscripts/{id}/cross-references")).GetProperty("labels").EnumerateArray()];
        JsonElement delay = labels.First(l => l.GetProperty("key").GetString() == "sec:delay");
        Assert.Equal(("3.2", "section"), (delay.GetProperty("number").GetString(), delay.GetProperty("kind").GetString()));
        Assert.Contains(delay.GetProperty("uses").EnumerateArray(), u => u.GetProperty("before").GetString() == "We come back to that delay in Section ");
        Assert.Equal("missing", labels.First(l => l.GetProperty("key").GetString() == "sec:rule").GetProperty("kind").GetString());
    }

    [Fact]
    public async Task A_section_goes_into_a_file_of_its_own_and_back_in_one_step_each()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, _) = await MainFileAsync(ilse);
        int valley = (await JsonAsync(ilse, $"/api/manuscripts/{id}")).GetProperty("files").EnumerateArray().First(p => p.GetProperty("path").GetString() == "chapters/valley.tex").GetProperty("id").GetInt32();
        (string text, int version) = await TextAsync(ilse, id, valley);
        object Heading(int v, string t) => new { file = "chapters/valley.tex", version = v, offset = t.IndexOf("\\section{Quarries}", StringComparison.Ordinal) };
        JsonElement split = await PostAsync(ilse, $"/api/manuscripts/{id}/sections/split", new { section = Heading(version, text) });
        Assert.Equal("chapters/quarries.tex", split.GetProperty("path").GetString());
        int made = (await JsonAsync(ilse, $"/api/manuscripts/{id}")).GetProperty("files").EnumerateArray().First(p => p.GetProperty("path").GetString() == "chapters/quarries.tex").GetProperty("id").GetInt32();
        (string words, int wordsVersion) = await TextAsync(ilse, id, made);
        Assert.StartsWith("\\section{Quarries}\n", words, StringComparison.Ordinal);
        await PostAsync(ilse, $"/api/manuscripts/{id}/sections/split", new { section = new { file = "chapters/quarries.tex", version = wordsVersion, offset = 0 } }, HttpStatusCode.Conflict);
        await PostAsync(ilse, $"/api/manuscripts/{id}/sections/fold", new { section = new { file = "chapters/quarries.tex", version = wordsVersion, offset = 0 } });
        Assert.Equal(text, (await TextAsync(ilse, id, valley)).Text);
        Assert.DoesNotContain((await JsonAsync(ilse, $"/api/manuscripts/{id}")).GetProperty("files").EnumerateArray(), p => p.GetProperty("path").GetString() == "chapters/quarries.tex");
        // What it held is among the deleted, as it was.
        Assert.Contains((await JsonAsync(ilse, $"/api/manuscripts/{id}/files/deleted")).EnumerateArray(), d => d.GetProperty("file").GetProperty("path").GetString() == "chapters/quarries.tex");
    }
}
