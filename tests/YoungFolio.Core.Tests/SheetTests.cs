using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using YoungFolio.Compiler;
using YoungFolio.Compiler.Sheets;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Fonts;

namespace YoungFolio.Core.Tests;

/// <summary>Pages for the screen: what is on them, what changes with an edit, and where their words lead. Their looks are held against the PDF in the browser's tests.</summary>
public sealed partial class SheetTests
{
    private const string Head = "\\documentclass{article}\n\\usepackage{graphicx,amsmath,hyperref,pdflscape}\n\\begin{document}\n";

    private static CompileResult Body(string body) => Compiled.Files(("main.tex", Head + body + "\n\\end{document}\n"));

    private static JsonElement Json(Sheet sheet) => JsonDocument.Parse(sheet.Content).RootElement;

    private static string Letters(string text) => NoLetters().Replace(text.Normalize(NormalizationForm.FormKC), "");

    [GeneratedRegex(@"[\s\p{C}]+")]
    private static partial Regex NoLetters();

    public static TheoryData<string> Fonts() => [.. typeof(FontLibrary).Assembly.GetManifestResourceNames().Where(n => n.EndsWith(".otf", StringComparison.Ordinal)).Select(n => n[..^4])];

    [Theory]
    [MemberData(nameof(Fonts))]
    public void Every_glyph_of_a_font_is_reached_by_its_number_and_as_wide_as_before(string name)
    {
        FontFile font = new FontLibrary().Load(name);
        ScreenFont screen = ScreenFont.Of(font);
        Assert.StartsWith(name + "-", screen.Key, StringComparison.Ordinal);
        Assert.Equal(name, ScreenFont.NameIn(screen.Key));
        // Read by HarfBuzz, as any other font.
        System.Runtime.InteropServices.GCHandle held = System.Runtime.InteropServices.GCHandle.Alloc(screen.Bytes, System.Runtime.InteropServices.GCHandleType.Pinned);
        using var blob = new HarfBuzzSharp.Blob(held.AddrOfPinnedObject(), screen.Bytes.Length, HarfBuzzSharp.MemoryMode.ReadOnly, held.Free);
        using var face = new HarfBuzzSharp.Face(blob, 0);
        using var read = new HarfBuzzSharp.Font(face);
        read.SetScale(font.UnitsPerEm, font.UnitsPerEm);
        Assert.InRange(face.GlyphCount, 100, ScreenFont.MostGlyphs);
        for (uint glyph = 1; glyph < face.GlyphCount; glyph++)
        {
            Assert.True(read.TryGetNominalGlyph(ScreenFont.FirstCharacter + glyph, out uint found) && found == glyph, $"glyph {glyph}");
            Assert.Equal(font.Advance(glyph) * font.UnitsPerEm, read.GetHorizontalGlyphAdvance(glyph), 0.01);
        }

        Assert.False(read.TryGetNominalGlyph((uint)(ScreenFont.FirstCharacter + face.GlyphCount), out _));
        // Without layout tables nothing is joined or moved once more.
        Assert.Equal(["CFF ", "OS/2", "cmap", "head", "hhea", "hmtx", "maxp", "name", "post"], face.Tables.Select(t => t.ToString()).Order(StringComparer.Ordinal));
    }

    [Theory]
    [InlineData("thesis")]
    [InlineData("article")]
    [InlineData("letter")]
    public void Sheets_say_what_the_PDF_of_the_same_compile_says(string name)
    {
        CompileResult result = new ManuscriptCompiler().Compile(DemoManuscripts.Snapshot(DemoManuscripts.Of(name)));
        SheetMap map = SheetMap.Of(result);
        for (int sheet = 1; sheet <= result.Report.Pages; sheet++)
        {
            string page = sheet.ToString(System.Globalization.CultureInfo.InvariantCulture);
            string pdf = Compiled.Run("pdftotext", result.Pdf, "-raw", "-f", page, "-l", page, "FILE", "-");
            string drawn = Letters(string.Concat(map.Glyphs.Where(g => g.Sheet == sheet).Select(g => g.Text)));
            // Words in a figure that is a PDF of its own are the figure's.
            bool hasFigure = Json(result.Sheets.Sheets[sheet - 1]).GetProperty("pictures").EnumerateArray().Any(p => p[1].GetString() == "pdf");
            List<char> rest = [.. Letters(pdf)];
            Assert.All(drawn, c => Assert.True(rest.Remove(c), $"“{c}” on page {page}"));
            Assert.True(hasFigure || rest.Count == 0, $"page {page} lacks “{string.Concat(rest)}”");
        }
    }

    [Theory]
    [InlineData("Plain words MARK here.")]
    [InlineData("A formula $a + \\mathit{MARK} = 3$ here.")]
    [InlineData("\\begin{equation*} x = \\text{MARK} \\end{equation*}")]
    [InlineData("\\begin{tabular}{lr} one & two \\\\ three & MARK \\end{tabular}")]
    [InlineData("\\begin{figure} x \\caption{A caption with MARK in it} \\end{figure}")]
    [InlineData("Noted.\\footnote{A note with MARK.}")]
    [InlineData("\\rotatebox{30}{turned MARK words}")]
    [InlineData("\\rotatebox{90}{\\begin{tabular}{l} a \\\\ MARK \\end{tabular}}")]
    [InlineData("\\scalebox{2}{large MARK}")]
    [InlineData("\\resizebox{5cm}{!}{\\rotatebox{10}{both MARK}}")]
    [InlineData("\\reflectbox{mirrored MARK}")]
    [InlineData("\\section{A heading with MARK}")]
    [InlineData("\\begin{landscape} wide MARK \\end{landscape}")]
    public void Every_kind_of_word_knows_its_place_in_the_source(string body)
    {
        string text = Head + "Before.\n\n" + body + "\n\nBehind.\n\\end{document}\n";
        SheetMap map = SheetMap.Of(Compiled.Files(("main.tex", text)));
        int at = text.IndexOf("MARK", StringComparison.Ordinal);
        string[] found = [.. Enumerable.Range(at, 4).Select(offset => string.Concat(map.Glyphs.Where(g => g.File == "main.tex" && g.Offset == offset).Select(g => g.Text).Distinct()))];
        Assert.Equal(["M", "A", "R", "K"], found.Select(f => f.Normalize(NormalizationForm.FormKC)));
    }

    [Fact]
    public void An_edit_changes_the_sheets_that_show_it_and_one_number_of_the_places()
    {
        string[] paragraphs = [.. Enumerable.Range(0, 60).Select(i => $"Paragraph {i} " + string.Concat(Enumerable.Repeat("says something of walls and stones. ", 12)))];
        var compiler = new ManuscriptCompiler();
        CompileResult before = compiler.Compile(Snapshot());
        paragraphs[20] = paragraphs[20].Replace("Paragraph 20 says", "Paragraph 20 tells", StringComparison.Ordinal);
        CompileResult after = compiler.Compile(Snapshot(), before);
        Assert.Equal(before.Sheets.Sheets.Count, after.Sheets.Sheets.Count);
        Assert.Single(before.Sheets.Sheets.Zip(after.Sheets.Sheets), pair => pair.First.Digest != pair.Second.Digest);
        Assert.Single(before.Sheets.OriginSteps.Zip(after.Sheets.OriginSteps), pair => pair.First != pair.Second);
        // A comment shows nothing, but what comes behind it in the paragraph is elsewhere in the source.
        paragraphs[40] = "% a remark\n" + paragraphs[40];
        CompileResult last = compiler.Compile(Snapshot(), after);
        Assert.Equal(after.Sheets.Entries.Select(e => e.Digest), last.Sheets.Entries.Select(e => e.Digest));
        Assert.NotEqual(after.Sheets.OriginSteps, last.Sheets.OriginSteps);
        Assert.Same(after.Sheets.Sheets[0].Content, last.Sheets.Sheets[0].Content);

        ManuscriptSnapshot Snapshot() => new(
            new FileTree([ManuscriptFile.FromText("main.tex", "\\documentclass{article}\\begin{document}\n" + string.Join("\n\n", paragraphs) + "\n\\end{document}\n")]), "main.tex", new DateOnly(2026, 11, 9));
    }

    [Fact]
    public void A_page_across_has_its_own_shape_and_links_lead_to_a_place_on_a_sheet()
    {
        CompileResult result = Body("\\section{One}\\label{one} Text.\\begin{landscape}See \\ref{one} and \\url{https://moor.example/a}.\\end{landscape}");
        SheetEntry across = result.Sheets.Entries.Single(e => e.Width > e.Height);
        JsonElement[] links = [.. Json(result.Sheets.Find(across.Digest)!).GetProperty("links").EnumerateArray()];
        Assert.Equal(["https://moor.example/a"], links.Where(l => l[5].GetInt32() == 1).Select(l => l[4].GetString()));
        string target = links.Single(l => l[5].GetInt32() == 0)[4].GetString()!;
        SheetAnchor anchor = result.Sheets.Anchors.Single(a => a.Name == target);
        Assert.Equal(1, anchor.Sheet);
        Assert.Contains(Json(result.Sheets.Sheets[0]).GetProperty("anchors").EnumerateArray(), a => a[0].GetString() == target && a[1].GetInt32() > 0);
    }

    [Fact]
    public void Words_of_a_paragraph_that_come_from_another_file_lead_there()
    {
        CompileResult result = Compiled.Files(("main.tex", Head + "Words before \\input{inner} words behind.\n\\end{document}\n"), ("inner.tex", "inside the other file"));
        SheetMap map = SheetMap.Of(result);
        Assert.Equal("insidetheotherfile", string.Concat(map.Glyphs.Where(g => g.File == "inner.tex").OrderBy(g => g.Offset).Select(g => g.Text)));
        Assert.Equal("Wordsbeforewordsbehind.", string.Concat(map.Glyphs.Where(g => g.File == "main.tex").OrderBy(g => g.Offset).Select(g => g.Text)));
    }

    [Fact]
    public void A_damaged_picture_is_found_without_writing_a_PDF_and_stands_on_no_sheet()
    {
        byte[] damaged = Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==");
        damaged[45] ^= 0xFF;
        CompileResult result = Compiled.Bytes(("main.tex", Encoding.UTF8.GetBytes(Head + "\\includegraphics{a}\\end{document}")), ("a.png", damaged));
        Assert.Equal(["unreadable-picture"], Compiled.Codes(result));
        Assert.Equal(0, Json(result.Sheets.Sheets[0]).GetProperty("pictures").GetArrayLength());
        Assert.DoesNotContain("/Image", Encoding.Latin1.GetString(result.Pdf), StringComparison.Ordinal);
    }

    [Fact]
    public void Pictures_are_found_by_their_digests()
    {
        byte[] png = Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==");
        CompileResult result = Compiled.Bytes(("main.tex", Encoding.UTF8.GetBytes(Head + "\\includegraphics{a}\\end{document}")), ("a.png", png));
        JsonElement picture = Json(result.Sheets.Sheets[0]).GetProperty("pictures")[0];
        Assert.Equal("png", picture[1].GetString());
        Assert.Equal(png, result.Sheets.FindPicture(picture[0].GetString()!)!.Bytes.ToArray());
        Assert.Null(result.Sheets.FindPicture("another"));
    }
}
