using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using YoungFolio.Compiler;
using YoungFolio.HandIn;
using YoungFolio.Markup;
using YoungFolio.Pdf;
using static YoungFolio.Core.Tests.QpdfObjects;

namespace YoungFolio.Core.Tests;

/// <summary>
/// Archival PDFs, clause by clause of ISO 19005-2:2011 (PDF/A-2) and ISO 19005-3:2012 (PDF/A-3), read from the file's objects as qpdf shows them. The
/// clauses' numbers are from memory.
/// </summary>
public sealed partial class ArchivalTests
{
    private static readonly XNamespace s_rdf = "http://www.w3.org/1999/02/22-rdf-syntax-ns#";
    private static readonly XNamespace s_pdfaid = "http://www.aiim.org/pdfa/ns/id/";
    private static readonly XNamespace s_dc = "http://purl.org/dc/elements/1.1/";

    private static XElement Packet(Dictionary<string, JsonElement> objects) =>
        XDocument.Parse(Encoding.UTF8.GetString(StreamOf(Value(objects, Root(objects).GetProperty("/Metadata"))))).Descendants(s_rdf + "Description").Single();

    private static string? Level(byte[] pdf) => Packet(Objects(pdf)) is var packet && packet.Element(s_pdfaid + "part") is { } part ? part.Value + packet.Element(s_pdfaid + "conformance")!.Value : null;

    public static TheoryData<string> Demos => ["thesis", "article", "letter", "book"];

    [Theory]
    [MemberData(nameof(Demos))]
    public void A_demo_manuscript_keeps_to_the_clauses(string name) => Hold(new ManuscriptCompiler().Compile(DemoManuscripts.Snapshot(DemoManuscripts.Of(name))), name);

    [Fact]
    public void A_page_with_all_kinds_of_marks_keeps_to_them() => Hold(Compiled.Files(
        ("main.tex", """
            \documentclass{article}\usepackage{graphicx,hyperref,xcolor,amsmath}\title{Walls & <Stones>}\author{Ann Low \and Bo Ng}
            \begin{document}\maketitle\tableofcontents\section{One}\label{s}
            \textcolor{red}{Red} and \rotatebox{30}{turned}, \fbox{framed}, see \ref{s} and \url{https://hollin-edge.example/a}.
            \[ \left( \sum_{i=1}^n \frac{\sqrt{x}}{\overbrace{a+b}} \right\} \begin{pmatrix} 1 \\ 2 \\ 3 \\ 4 \end{pmatrix} \]
            \includegraphics[width=2cm]{d.svg}\end{document}
            """),
        ("d.svg", "<svg xmlns='http://www.w3.org/2000/svg' width='40' height='40'><defs><linearGradient id='g'><stop offset='0' stop-color='red'/><stop offset='1' stop-color='blue'/></linearGradient></defs><rect width='40' height='40' fill='url(#g)' opacity='0.5'/></svg>")), "all kinds");

    private static void Hold(CompileResult result, string name)
    {
        byte[] pdf = result.WritePdf(flavour: PdfFlavour.Archival);
        Dictionary<string, JsonElement> objects = Objects(pdf);
        JsonElement root = Root(objects);
        List<JsonElement> all = [.. Dictionaries(objects)];

        // 6.1.2: the header, with a remark of four bytes above 127 behind it.
        Assert.StartsWith("%PDF-1.7\n%", Encoding.Latin1.GetString(pdf, 0, 10), StringComparison.Ordinal);
        Assert.All(pdf[10..14], b => Assert.True(b > 127));
        // 6.1.3: an identity, and no lock.
        JsonElement trailer = objects["trailer"].GetProperty("value");
        Assert.Equal(2, trailer.GetProperty("/ID").GetArrayLength());
        Assert.False(trailer.TryGetProperty("/Encrypt", out _));
        // 6.1.7.2: no LZW; 6.1.7.1: nothing outside of the file.
        Assert.All(all, d => Assert.DoesNotContain("LZW", d.TryGetProperty("/Filter", out JsonElement f) ? f.ToString() : "", StringComparison.Ordinal));
        Assert.DoesNotContain(all, d => d.TryGetProperty("/Length", out _) && (d.TryGetProperty("/F", out _) || d.TryGetProperty("/FFilter", out _)));
        // 6.2.3: the profile of the colours, of the same kind as they are.
        JsonElement intent = Assert.Single(Value(objects, root.GetProperty("/OutputIntents")).EnumerateArray());
        Assert.Equal("/GTS_PDFA1", Name(intent, "/S"));
        JsonElement profile = Value(objects, intent.GetProperty("/DestOutputProfile"));
        Assert.Equal(3, profile.GetProperty("dict").GetProperty("/N").GetInt32());
        byte[] icc = StreamOf(profile);
        Assert.Equal((icc.Length, "mntrRGB XYZ ", "acsp"), (System.Buffers.Binary.BinaryPrimitives.ReadInt32BigEndian(icc), Encoding.ASCII.GetString(icc, 12, 12), Encoding.ASCII.GetString(icc, 36, 4)));
        // 6.2.4.3: no colours of inks.
        Assert.DoesNotContain(all, d => d.ToString().Contains("DeviceCMYK", StringComparison.Ordinal));
        // 6.2.5: no functions of transfer; 6.2.8: pictures as they are.
        Assert.DoesNotContain(all, d => d.TryGetProperty("/TR", out _) || d.TryGetProperty("/HTP", out _) || d.TryGetProperty("/Alternates", out _) || d.TryGetProperty("/OPI", out _) || (d.TryGetProperty("/Interpolate", out JsonElement i) && i.ValueKind == JsonValueKind.True));
        // 6.2.11.4: all fonts are within; 6.2.11.7.2: and say what their characters are.
        Assert.All(all.Where(d => Name(d, "/Type") == "/FontDescriptor"), d => Assert.Contains(d.EnumerateObject(), p => p.Name.StartsWith("/FontFile", StringComparison.Ordinal)));
        List<JsonElement> fonts = [.. all.Where(d => Name(d, "/Type") == "/Font" && Name(d, "/Subtype") is "/Type0" or "/Type1" or "/TrueType" or "/Type3")];
        Assert.NotEmpty(fonts);
        Assert.All(fonts, d => Assert.True(d.TryGetProperty("/ToUnicode", out _), $"{name}: {Name(d, "/BaseFont")}"));
        foreach (JsonElement font in fonts.Where(f => Name(f, "/Encoding") == "/Identity-H" && Name(f, "/BaseFont")![8..] is { } b && (b.StartsWith("lm", StringComparison.Ordinal) || b.StartsWith("tex", StringComparison.Ordinal))))
        {
            string map = Encoding.ASCII.GetString(StreamOf(Value(objects, font.GetProperty("/ToUnicode"))));
            HashSet<string> mapped = [.. MapLine().Matches(map).Select(m => m.Groups[1].Value)];
            Assert.DoesNotContain(MapLine().Matches(map), m => m.Groups[2].Value is "" or "0000" or "FEFF" or "FFFE");
            // Every glyph that has a width is there.
            JsonElement descendant = Value(objects, Value(objects, font.GetProperty("/DescendantFonts"))[0]);
            JsonElement widths = Value(objects, descendant.GetProperty("/W"));
            Assert.All(widths.EnumerateArray().Where(w => w.ValueKind == JsonValueKind.Number), w => Assert.Contains(w.GetInt32().ToString("X4", CultureInfo.InvariantCulture), mapped));
        }

        // 6.3.2: links are printed, and none is hidden.
        Assert.All(all.Where(d => Name(d, "/Subtype") == "/Link"), d => Assert.Equal(4, d.GetProperty("/F").GetInt32()));
        // 6.5.1: nothing runs.
        Assert.DoesNotContain(all, d => Name(d, "/S") is "/JavaScript" or "/Launch" or "/Sound" or "/Movie" or "/ResetForm" or "/ImportData");
        // 6.6.2: what it says of itself, the same in both places; 6.6.4: what it keeps to.
        XElement packet = Packet(objects);
        JsonElement info = Value(objects, trailer.GetProperty("/Info"));
        Assert.Equal(packet.Element(s_dc + "title")?.Value, Name(info, "/Title")?[2..]);
        Assert.Equal(packet.Element(s_dc + "creator")?.Value, Name(info, "/Author")?[2..]);
        Assert.Equal("Young Folio", Name(info, "/Producer")![2..]);
        Assert.Equal("2U", Level(pdf));
        Assert.Equal("/Metadata", Name(Value(objects, root.GetProperty("/Metadata")).GetProperty("dict"), "/Type"));
        Assert.False(Value(objects, root.GetProperty("/Metadata")).GetProperty("dict").TryGetProperty("/Filter", out _));
        Assert.Contains("No syntax or stream encoding errors found", Compiled.Run("qpdf", pdf, "--check", "FILE"), StringComparison.Ordinal);
        // The pages are those of the usual PDF, and the same each time.
        Assert.Equal(Words(result.WritePdf()), Words(pdf));
        Assert.Equal(pdf, result.WritePdf(flavour: PdfFlavour.Archival));
    }

    private static string Words(byte[] pdf) => string.Concat(Compiled.Run("pdftotext", pdf, "-raw", "FILE", "-").Replace("\u200B", "", StringComparison.Ordinal).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));

    [GeneratedRegex("^<([0-9A-F]{4})> <([0-9A-F]*)>$", RegexOptions.Multiline)]
    private static partial Regex MapLine();

    // ISO 19005-3, 6.8: a file within has its kind, its date, a name in both ways, and says how it belongs to the document.
    [Fact]
    public void Sources_go_along_within_it()
    {
        byte[] zip = [.. "PK not really"u8];
        byte[] pdf = Compiled.Article("Words.").WritePdf(flavour: new PdfFlavour(true, new AttachedFile("Wälle-sources.zip", "application/zip", zip, new DateOnly(2026, 11, 9), "The sources")));
        Dictionary<string, JsonElement> objects = Objects(pdf);
        Assert.Equal("3U", Level(pdf));
        JsonElement file = Value(objects, Assert.Single(Value(objects, Root(objects).GetProperty("/AF")).EnumerateArray()));
        Assert.Equal(("u:Wälle-sources.zip", "u:Wälle-sources.zip", "/Source"), (Name(file, "/F"), Name(file, "/UF"), Name(file, "/AFRelationship")));
        JsonElement data = Value(objects, file.GetProperty("/EF").GetProperty("/F"));
        Assert.Equal(zip, StreamOf(data));
        Assert.Equal("/application/zip", Name(data.GetProperty("dict"), "/Subtype"));
        Assert.Equal("u:D:20261109000000Z", Name(data.GetProperty("dict").GetProperty("/Params"), "/ModDate"));
        JsonElement names = Root(objects).GetProperty("/Names").GetProperty("/EmbeddedFiles").GetProperty("/Names");
        Assert.Equal(file.ToString(), Value(objects, names[1]).ToString());
        Assert.Contains("Wälle-sources.zip", Compiled.Run("pdfdetach", pdf, "-list", "FILE"), StringComparison.Ordinal);
    }

    [Fact]
    public void The_usual_pdf_says_nothing_of_it()
    {
        JsonElement root = Root(Objects(Compiled.Article("Words.").WritePdf()));
        Assert.False(root.TryGetProperty("/Metadata", out _) || root.TryGetProperty("/OutputIntents", out _) || root.TryGetProperty("/AF", out _));
        Assert.Equal("u:en-US", Name(root, "/Lang"));
    }

    // ---- what stands against it ------------------------------------------------------------------------------

    // A PDF of one page with these resources and this content, as another program might write it.
    private static byte[] Foreign(string resources, string content, params string[] more)
    {
        string[] objects = ["<</Type /Catalog /Pages 2 0 R>>", "<</Type /Pages /Kids [3 0 R] /Count 1>>", $"<</Type /Page /Parent 2 0 R /MediaBox [0 0 90 90] /Resources <<{resources}>> /Contents 4 0 R>>",
            $"<</Length {content.Length}>>\nstream\n{content}\nendstream", .. more];
        var file = new StringBuilder("%PDF-1.4\n");
        var places = new List<int>();
        for (int i = 0; i < objects.Length; i++)
        {
            places.Add(file.Length);
            file.Append(CultureInfo.InvariantCulture, $"{i + 1} 0 obj\n{objects[i]}\nendobj\n");
        }

        int start = file.Length;
        file.Append(CultureInfo.InvariantCulture, $"xref\n0 {objects.Length + 1}\n0000000000 65535 f \n").AppendJoin("", places.Select(p => p.ToString("D10", CultureInfo.InvariantCulture) + " 00000 n \n"))
            .Append(CultureInfo.InvariantCulture, $"trailer\n<</Size {objects.Length + 1} /Root 1 0 R>>\nstartxref\n{start}\n%%EOF\n");
        return Encoding.Latin1.GetBytes(file.ToString());
    }

    private static CompileResult With(byte[] picture) => Compiled.Bytes(
        ("main.tex", "\\documentclass{article}\\usepackage{graphicx}\\begin{document}\nWords.\n\n\\includegraphics{pictures/p.pdf}\n\\end{document}"u8.ToArray()), ("pictures/p.pdf", picture));

    private const string Descriptor = "<</Type /FontDescriptor /FontName /X /Flags 32 /FontBBox [0 0 1 1] /ItalicAngle 0 /Ascent 1 /Descent 0 /CapHeight 1 /StemV 1>>";

    [Theory]
    [InlineData("/Font <</F 5 0 R>>", "BT /F 9 Tf (x) Tj ET", "<</Type /Font /Subtype /Type1 /BaseFont /Helvetica>>", "a font that it doesn’t bring along")]
    [InlineData("/Font <</F 5 0 R>>", "BT /F 9 Tf (x) Tj ET", "<</Type /Font /Subtype /TrueType /BaseFont /X /FontDescriptor 6 0 R>>", "a font that it doesn’t bring along")]
    [InlineData("", "1 0 0 0.5 k 0 0 9 9 re f", "null", "printing inks (CMYK)")]
    [InlineData("/ColorSpace <</C [/Indexed /DeviceCMYK 0 <00000000>]>>", "/C cs 0 sc 0 0 9 9 re f", "null", "printing inks (CMYK)")]
    [InlineData("/ExtGState <</G <</TR 5 0 R>>>>", "/G gs 0 0 9 9 re f", "<</FunctionType 2 /Domain [0 1] /N 1>>", "isn’t within it")]
    public void A_picture_that_stands_against_it_is_said_and_the_file_claims_nothing(string resources, string content, string more, string reason)
    {
        CompileResult result = With(Foreign(resources, content, more, Descriptor));
        CheckPlace place = Assert.Single(HandInChecks.Obstacles(result, HouseRules.Archival));
        Assert.StartsWith("pictures/p.pdf: ", place.Says, StringComparison.Ordinal);
        Assert.Contains(reason, place.Says, StringComparison.Ordinal);
        Assert.Equal(("main.tex", 4, 1), (place.File, place.Line, place.Sheet));
        Assert.Null(Level(result.WritePdf(flavour: PdfFlavour.Archival)));
    }

    [Theory]
    [InlineData("", "1 0 0 rg 0 0 9 9 re f", "null", "2U")]
    // Text whose characters the picture doesn't say looks right, but can't be read: the lower level.
    [InlineData("/Font <</F 5 0 R>>", "BT /F 9 Tf (x) Tj ET", "<</Type /Font /Subtype /Type3 /FontBBox [0 0 1 1] /FontMatrix [1 0 0 1 0 0] /CharProcs <<>> /Encoding <</Differences []>> /FirstChar 0 /LastChar 0 /Widths [0]>>", "2B")]
    public void A_picture_that_does_not_lets_it_claim(string resources, string content, string more, string level)
    {
        CompileResult result = With(Foreign(resources, content, more));
        Assert.Empty(HandInChecks.Obstacles(result, HouseRules.Archival));
        Assert.Equal(level, Level(result.WritePdf(flavour: PdfFlavour.Archival)));
    }

    [Fact]
    public void A_character_in_no_font_stands_against_it()
    {
        CompileResult result = Compiled.Article("A 𓀀");
        Assert.Single(HandInChecks.Obstacles(result, HouseRules.Archival));
        Assert.Null(Level(result.WritePdf(flavour: PdfFlavour.Archival)));
    }

    [Fact]
    public void The_check_is_made_where_the_rules_ask_for_it()
    {
        static HandInCheck? Check(CompileResult result, string? flavour) =>
            HandInChecks.Run(result, new FileTree([ManuscriptFile.FromText("main.tex", "")]), new HouseRules { Flavour = flavour }, new OpenTalk(0, 0)).SelectMany(g => g.Checks).FirstOrDefault(c => c.Key == "archival");
        Assert.Null(Check(Compiled.Article("Words."), null));
        Assert.Equal(CheckState.Holds, Check(Compiled.Article("Words."), "archival")!.State);
        Assert.Equal(CheckState.Mend, Check(Compiled.Article("A 𓀀"), "archival-with-sources")!.State);
        Assert.Contains("archival", new HouseRules { Flavour = "odd" }.Problem(), StringComparison.Ordinal);
        Assert.Null(new HouseRules { Flavour = "archival" }.Problem());
    }
}
