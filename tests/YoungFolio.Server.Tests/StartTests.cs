using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using YoungFolio.Compiler;
using YoungFolio.Markup;
using YoungFolio.Server.Starting;

namespace YoungFolio.Server.Tests;

/// <summary>Manuscripts begin: as templates, as copies, as texts from elsewhere.</summary>
public sealed class StartTests : RunningServer
{
    private static readonly ManuscriptCompiler s_compiler = new();

    public static TheoryData<string> Names => [.. Templates.All.Select(t => t.Name)];

    private static CompileResult Compiled(IReadOnlyDictionary<string, string> texts) =>
        s_compiler.Compile(new ManuscriptSnapshot(new FileTree([.. texts.Select(t => ManuscriptFile.FromText(t.Key, t.Value))]), Templates.MainFile, new DateOnly(2026, 3, 1)));

    [Theory]
    [MemberData(nameof(Names))]
    public void Every_template_is_typeset_without_a_finding_in_any_language_and_on_any_paper(string name)
    {
        IReadOnlyDictionary<string, string> texts = Templates.Find(name)!;
        foreach (Beginning beginning in (Beginning[])[new(null, null, null, null), new("Moss & 100 % of {it}", "Ilse Marrable, Bao Tremlett", "ngerman", "a5"), new("Walls_1 #2 ~ ^ \\x", "A; B", "french", "letter")])
        {
            CompileResult result = Compiled(Templates.Fill(texts, Templates.MainFile, beginning));
            Assert.Equal("", string.Join('\n', result.Report.Findings.Where(f => f.Kind != "layout").Select(f => $"{name} {beginning.Language}: {f.Message}")));
            Assert.DoesNotContain(result.Report.Packages, p => !p.Known);
        }
    }

    [Fact]
    public void What_is_known_is_filled_in_where_the_template_sets_it()
    {
        IReadOnlyDictionary<string, string> texts = Templates.Fill(Templates.Find("thesis")!, Templates.MainFile, new Beginning("Moss & more", "Ilse Marrable\nBao Tremlett", "ngerman", "a5"));
        string main = texts[Templates.MainFile];
        Assert.Contains("\\title{Moss \\& more}\n\\author{Ilse Marrable\\and Bao Tremlett}\n", main, StringComparison.Ordinal);
        Assert.Contains("\\usepackage[ngerman]{babel}", main, StringComparison.Ordinal);
        Assert.Contains("\\documentclass[11pt,a5paper,twoside,openright]{report}", main, StringComparison.Ordinal);
        // All else as it was.
        Assert.Equal(Templates.Find("thesis")!["chapters/method.tex"], texts["chapters/method.tex"]);
        Assert.Contains("\\signature{Ilse Marrable, Bao Tremlett}", Templates.Fill(Templates.Find("letter")!, Templates.MainFile, new Beginning("X", "Ilse Marrable, Bao Tremlett", null, null))[Templates.MainFile], StringComparison.Ordinal);
        // A text that sets nothing stays as it is.
        var plain = new Dictionary<string, string> { ["main.tex"] = "Only words." };
        Assert.Equal(plain, Templates.Fill(plain, "main.tex", new Beginning("T", "A", "french", "a5")));
    }

    [Fact]
    public async Task A_template_is_looked_at_and_started()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        JsonElement templates = await JsonAsync(ilse, "/api/templates");
        Assert.Equal(["blank", "article", "two-column", "report", "thesis", "book", "letter", "homework", "notes"], templates.EnumerateArray().Select(t => t.GetProperty("name").GetString()));
        JsonElement page = await JsonAsync(ilse, "/api/templates/letter/page");
        Assert.Equal(595, page.GetProperty("page").GetProperty("width").GetDouble(), 0.5);
        Assert.Equal(HttpStatusCode.NotFound, (await ilse.GetAsync("/api/templates/nothing/page")).StatusCode);
        var wanted = new { title = "Own", kind = "thesis", authors = "Ilse Marrable", language = "british", paper = "a5" };
        using HttpResponseMessage look = await ilse.PostAsJsonAsync("/api/templates/look", wanted);
        Assert.Equal(419.5, (await look.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("page").GetProperty("width").GetDouble(), 0.5);
        int id = await (await ilse.PostAsJsonAsync("/api/manuscripts", wanted)).Content.ReadFromJsonAsync<int>();
        JsonElement made = await JsonAsync(ilse, $"/api/manuscripts/{id}");
        Assert.Contains("chapters/method.tex", made.GetProperty("files").EnumerateArray().Select(f => f.GetProperty("path").GetString()));
        Assert.Equal("thesis", made.GetProperty("description").GetString());
        Assert.Equal(HttpStatusCode.BadRequest, (await ilse.PostAsJsonAsync("/api/manuscripts", new { title = "Own", kind = "nothing" })).StatusCode);
        Assert.Equal(HttpStatusCode.Conflict, (await ilse.PostAsJsonAsync("/api/manuscripts", new { title = " ", kind = "blank" })).StatusCode);
    }

    [Fact]
    public async Task A_manuscript_is_copied_with_all_its_files_by_those_who_have_it()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int from, _) = await MainFileAsync(ilse);
        int copy = await (await ilse.PostAsJsonAsync("/api/manuscripts", new { title = "A copy", from })).Content.ReadFromJsonAsync<int>();
        async Task<Dictionary<string, byte[]>> FilesAsync(int id)
        {
            using var zip = new ZipArchive(new MemoryStream(await ilse.GetByteArrayAsync($"/api/manuscripts/{id}/zip")));
            return zip.Entries.ToDictionary(e => e.FullName, e =>
            {
                using Stream stream = e.Open();
                var bytes = new MemoryStream();
                stream.CopyTo(bytes);
                return bytes.ToArray();
            });
        }

        Dictionary<string, byte[]> before = await FilesAsync(from);
        Dictionary<string, byte[]> after = await FilesAsync(copy);
        Assert.Equal(before.Keys.Order(StringComparer.Ordinal), after.Keys.Order(StringComparer.Ordinal));
        Assert.All(before.Where(f => f.Key != "main.tex"), f => Assert.Equal(f.Value, after[f.Key]));
        Assert.Equal(Encoding.UTF8.GetString(before["main.tex"]).Replace("\\title{Reading Walls by Lichen}", "\\title{A copy}", StringComparison.Ordinal), Encoding.UTF8.GetString(after["main.tex"]));
        Assert.Equal("owner", (await JsonAsync(ilse, $"/api/manuscripts/{copy}")).GetProperty("role").GetString());

        // Nobody copies, or looks at, what isn't on their shelf.
        using HttpClient stranger = await SignUpAsync("Una Fell", "una@example.org");
        Assert.Equal(HttpStatusCode.BadRequest, (await stranger.PostAsJsonAsync("/api/manuscripts", new { title = "Mine", from })).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await stranger.PostAsJsonAsync("/api/templates/look", new { title = "Mine", from })).StatusCode);
        await ilse.DeleteAsync($"/api/manuscripts/{copy}");
        Assert.Equal(HttpStatusCode.BadRequest, (await ilse.PostAsJsonAsync("/api/manuscripts", new { title = "Again", from = copy })).StatusCode);
    }

    [Fact]
    public async Task Marks_and_deadlines_are_the_groups_and_the_archive_is_ones_own()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        using HttpClient perpetua = await SignInAsync("Perpetua Vane");
        (int id, _) = await MainFileAsync(ilse);
        async Task<JsonElement> EntryAsync(HttpClient who) => (await JsonAsync(who, "/api/manuscripts")).EnumerateArray().First(m => m.GetProperty("id").GetInt32() == id);
        async Task<HttpStatusCode> PatchAsync(HttpClient who, object settings) => (await who.PatchAsJsonAsync($"/api/manuscripts/{id}", settings)).StatusCode;
        Assert.Equal(HttpStatusCode.NoContent, await PatchAsync(bao, new { mark = "  Spring   2027 ", deadline = "2027-03-31" }));
        JsonElement entry = await EntryAsync(perpetua);
        Assert.Equal(("Spring 2027", "2027-03-31", "Reading Walls by Lichen"), (entry.GetProperty("mark").GetString(), entry.GetProperty("deadline").GetString(), entry.GetProperty("title").GetString()));
        Assert.Equal(HttpStatusCode.Forbidden, await PatchAsync(perpetua, new { mark = "No" }));
        Assert.Equal(HttpStatusCode.BadRequest, await PatchAsync(bao, new { deadline = "tomorrow" }));
        Assert.Equal(HttpStatusCode.Conflict, await PatchAsync(bao, new { mark = new string('x', 41) }));
        Assert.Equal(HttpStatusCode.NoContent, await PatchAsync(bao, new { mark = "", deadline = "" }));
        Assert.Equal(("", JsonValueKind.Null), ((await EntryAsync(ilse)).GetProperty("mark").GetString(), (await EntryAsync(ilse)).GetProperty("deadline").ValueKind));
        // Who put it away for themselves put it away for nobody else.
        (await perpetua.PostAsJsonAsync($"/api/manuscripts/{id}/archive", new { isArchived = true })).EnsureSuccessStatusCode();
        Assert.Equal((true, false), ((await EntryAsync(perpetua)).GetProperty("isArchived").GetBoolean(), (await EntryAsync(ilse)).GetProperty("isArchived").GetBoolean()));
        (await perpetua.PostAsJsonAsync($"/api/manuscripts/{id}/archive", new { isArchived = false })).EnsureSuccessStatusCode();
        Assert.False((await EntryAsync(perpetua)).GetProperty("isArchived").GetBoolean());
    }

    [Fact]
    public async Task A_manuscript_becomes_a_template_whose_places_are_filled()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        int id = await StartAsync(ilse, new { title = "House", kind = "article", authors = "Nobody" });
        (await ilse.PatchAsJsonAsync($"/api/manuscripts/{id}", new { isTemplate = true })).EnsureSuccessStatusCode();
        Assert.True((await JsonAsync(ilse, "/api/manuscripts")).EnumerateArray().First(m => m.GetProperty("id").GetInt32() == id).GetProperty("isTemplate").GetBoolean());
        int begun = await StartAsync(ilse, new { title = "New", from = id, authors = "Ilse Marrable, Bao Tremlett", institute = "Hollin Edge", date = "May 2027", paper = "a5" });
        int main = (await JsonAsync(ilse, $"/api/manuscripts/{begun}")).GetProperty("files").EnumerateArray().First(f => f.GetProperty("path").GetString() == "main.tex").GetProperty("id").GetInt32();
        string text = (await TextAsync(ilse, begun, main)).Text;
        Assert.Contains("\\author{Ilse Marrable \\\\ Hollin Edge \\and Bao Tremlett \\\\ Hollin Edge}", text, StringComparison.Ordinal);
        Assert.Contains("\\date{May 2027}", text, StringComparison.Ordinal);
        Assert.Contains("a5paper", text, StringComparison.Ordinal);
        Assert.False((await JsonAsync(ilse, "/api/manuscripts")).EnumerateArray().First(m => m.GetProperty("id").GetInt32() == begun).GetProperty("isTemplate").GetBoolean());
    }

    private static async Task<int> StartAsync(HttpClient client, object wanted)
    {
        using HttpResponseMessage answer = await client.PostAsJsonAsync("/api/manuscripts", wanted);
        answer.EnsureSuccessStatusCode();
        return await answer.Content.ReadFromJsonAsync<int>();
    }

    [Fact]
    public async Task A_text_from_elsewhere_comes_in_as_it_is()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        const string Text = "\\documentclass[12pt]{book}\n\\title{Theirs}\n\\begin{document}\n\\maketitle é\n\\end{document}\n";
        int id = await (await ilse.PostAsJsonAsync("/api/manuscripts", new { title = "Theirs", text = Text })).Content.ReadFromJsonAsync<int>();
        int main = (await JsonAsync(ilse, $"/api/manuscripts/{id}")).GetProperty("files").EnumerateArray().First(f => f.GetProperty("path").GetString() == "main.tex").GetProperty("id").GetInt32();
        Assert.Equal(Text, (await TextAsync(ilse, id, main)).Text);
        Assert.Single((await JsonAsync(ilse, $"/api/manuscripts/{id}")).GetProperty("files").EnumerateArray());
    }
}
