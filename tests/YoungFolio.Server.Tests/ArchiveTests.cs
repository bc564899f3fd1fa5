using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using YoungFolio.Server.Archives;

namespace YoungFolio.Server.Tests;

/// <summary>Manuscripts as .zip files, in and out, with files as they come from elsewhere and such as mean harm.</summary>
public sealed class ArchiveTests : RunningServer
{
    private const string Main = "\\documentclass{article}\n\\usepackage{tikzbird}\n\\begin{document}\nHello \\input{sections/one}\n\\end{document}\n";

    [Fact]
    public async Task A_manuscript_goes_out_whole_and_comes_in_as_it_was()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, _) = await MainFileAsync(ilse);
        byte[] zip = await ilse.GetByteArrayAsync($"/api/manuscripts/{manuscript}/zip");
        Assert.Equal(zip, await ilse.GetByteArrayAsync($"/api/manuscripts/{manuscript}/zip"));
        JsonElement came = await BringInAsync(ilse, zip);
        Assert.Equal(("main.tex", 16, 0, 0), (came.GetProperty("mainFile").GetString(), came.GetProperty("files").GetInt32(), came.GetProperty("remarks").GetArrayLength(), came.GetProperty("unknownPackages").GetArrayLength()));
        int copy = came.GetProperty("id").GetInt32();
        JsonElement first = (await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/proof")).GetProperty("report");
        JsonElement second = (await JsonAsync(ilse, $"/api/manuscripts/{copy}/proof")).GetProperty("report");
        Assert.Equal(first.GetProperty("outline").GetRawText(), second.GetProperty("outline").GetRawText());
        Assert.Equal(zip, await ilse.GetByteArrayAsync($"/api/manuscripts/{copy}/zip"));
    }

    [Fact]
    public async Task The_main_file_is_found_unknown_packages_are_named_and_by_products_left_out()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        JsonElement came = await BringInAsync(ilse, Zip(
            ("draft/paper.tex", Text(Main)), ("draft/sections/one.tex", Text("% \\documentclass{book}\nwords")), ("draft/old/alone.tex", Text("\\documentclass[../paper]{subfiles}\\begin{document}x\\end{document}")),
            ("draft/paper.aux", Text("x")), ("draft/.DS_Store", [0]), ("__MACOSX/draft/paper.tex", Text("x")), ("draft/latin.tex", Encoding.Latin1.GetBytes("caf\u00e9")), ("draft/fig.png", Text("no picture"))));
        Assert.Equal(("paper.tex", 4), (came.GetProperty("mainFile").GetString(), came.GetProperty("files").GetInt32()));
        Assert.Empty(came.GetProperty("missing").EnumerateArray());
        Assert.Equal("tikzbird", came.GetProperty("unknownPackages")[0].GetString());
        string remarks = came.GetProperty("remarks").GetRawText();
        Assert.Contains("latin.tex was stored in an older way", remarks, StringComparison.Ordinal);
        Assert.Contains("fig.png isn", remarks, StringComparison.Ordinal);
        Assert.Equal(["paper.aux", ".DS_Store", "__MACOSX/draft/paper.tex"], came.GetProperty("leftOut").EnumerateArray().Select(n => n.GetString()));

        // It is said to all who write in it, until one of them has read it.
        string path = $"/api/manuscripts/{came.GetProperty("id").GetInt32()}";
        JsonElement pin = Assert.Single((await JsonAsync(ilse, $"{path}/chronicle")).GetProperty("pins").EnumerateArray());
        Assert.Equal(("As it came in", true), (pin.GetProperty("name").GetString(), pin.GetProperty("isAutomatic").GetBoolean()));
        Assert.Equal(came.GetRawText(), (await JsonAsync(ilse, path)).GetProperty("arrival").GetRawText());
        (await ilse.DeleteAsync($"{path}/arrival")).EnsureSuccessStatusCode();
        Assert.Equal(JsonValueKind.Null, (await JsonAsync(ilse, path)).GetProperty("arrival").ValueKind);
    }

    [Fact]
    public async Task A_zip_that_means_harm_is_refused_in_words_and_leaves_nothing()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        int before = (await JsonAsync(ilse, "/api/manuscripts")).GetArrayLength();
        (byte[] Zip, string Says)[] harmful =
        [
            (Zip(("main.tex", Text(Main)), ("a/../../etc/passwd", [1])), "can't be a file's name"),
            (Zip(("main.tex", Text(Main)), ("/root.tex", [1])), "can't be a file's name"),
            (Zip(("main.tex", Text(Main)), ("..\\up.tex", [1])), "can't be a file's name"),
            (Zip(("main.tex", Text(Main)), ("sly\u202Egnp.tex", [1])), "can't be a file's name"),
            (Zip(("main.tex", Text(Main)), ("com1.tex", [1])), "some systems keep it"),
            (Zip(("main.tex", Text(Main)), ("MAIN.tex", Text(Main))), "twice"),
            (Zip(("main.tex", Text(Main)), ("bomb.dat", new byte[60 * 1024 * 1024])), "unpacks to more"),
            (Zip([("main.tex", Text(Main)), .. Enumerable.Range(0, 4001).Select(i => ($"p{i}.tex", new byte[1]))]), "more than 2000 files"),
            (Zip(("notes.tex", Text("no class here"))), "no main file"),
            (Link(), "is a link"),
            (Text("not a zip at all"), "isn't a whole .zip"),
            (Zip(("main.tex", Text(Main)))[..60], "isn't a whole .zip"),
        ];
        foreach ((byte[] zip, string says) in harmful)
        {
            HttpResponseMessage answer = await ilse.PostAsync("/api/manuscripts/zip?title=Harm", new ByteArrayContent(zip));
            Assert.Equal(HttpStatusCode.Conflict, answer.StatusCode);
            Assert.Contains(says, await MessageAsync(answer), StringComparison.Ordinal);
        }

        Assert.Equal(before, (await JsonAsync(ilse, "/api/manuscripts")).GetArrayLength());
    }

    [Theory]
    [InlineData(@"\documentclass[12pt]{report}", "thesis")]
    [InlineData("% \\documentclass{letter}\n\\documentclass{uni-thesis}", "thesis")]
    [InlineData(@"\documentclass{scrbook}", "book")]
    [InlineData(@"\documentclass{scrlttr2}", "letter")]
    [InlineData(@"\documentclass{beamer}", "slides")]
    [InlineData(@"\documentclass[twocolumn] {amsart}", "article")]
    public void A_manuscript_from_elsewhere_is_of_the_kind_that_its_class_says(string main, string kind) => Assert.Equal(kind, ManuscriptZip.KindOf(main));

    [Fact]
    public async Task A_picture_that_holds_a_script_is_shown_without_running_it()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, _) = await MainFileAsync(ilse);
        HttpResponseMessage put = await ilse.PutAsync($"/api/manuscripts/{manuscript}/files?path=figures/evil.svg", new StringContent("<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>"));
        int file = (await put.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetInt32();
        HttpResponseMessage shown = await ilse.GetAsync($"/api/manuscripts/{manuscript}/files/{file}/content");
        Assert.StartsWith("sandbox; default-src 'none'", shown.Headers.GetValues("Content-Security-Policy").Single(), StringComparison.Ordinal);
        Assert.Equal("nosniff", shown.Headers.GetValues("X-Content-Type-Options").Single());
    }

    private static async Task<JsonElement> BringInAsync(HttpClient client, byte[] zip)
    {
        HttpResponseMessage answer = await client.PostAsync("/api/manuscripts/zip?title=Brought%20in", new ByteArrayContent(zip));
        answer.EnsureSuccessStatusCode();
        return await answer.Content.ReadFromJsonAsync<JsonElement>();
    }

    private static byte[] Text(string text) => Encoding.UTF8.GetBytes(text);

    private static byte[] Zip(params (string Path, byte[] Bytes)[] files) => Zip(0, files);

    private static byte[] Link() => Zip(unchecked((int)0xA1FF0000), ("main.tex", Text(Main)), ("passwords.tex", Text("/etc/passwd")));

    private static byte[] Zip(int attributes, params (string Path, byte[] Bytes)[] files)
    {
        using var result = new MemoryStream();
        using (var archive = new ZipArchive(result, ZipArchiveMode.Create, true))
        {
            foreach ((string path, byte[] bytes) in files)
            {
                ZipArchiveEntry entry = archive.CreateEntry(path);
                entry.ExternalAttributes = path == "main.tex" ? 0 : attributes;
                using Stream content = entry.Open();
                content.Write(bytes);
            }
        }

        return result.ToArray();
    }
}
