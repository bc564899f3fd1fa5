using YoungFolio.Bibliography;
using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>A manuscript that cites and prints no list of sources: the cause is named, and one mend puts it right.</summary>
public class BibliographySetUpTests
{
    private const string Bib = "@book{rook1991, author={Rook, A.}, title={Walls}, publisher={Edgeway}, year={1991}}\n";

    [Fact]
    public void The_finding_names_the_missing_list_not_the_key_and_its_mend_settles_it()
    {
        const string Text = "\\documentclass{article}\n\\begin{document}\nSee \\cite{rook1991} and \\cite{rook1991}.\n%\\bibliography{sources}\n\\end{document}\n";
        FindingLine finding = Assert.Single(Compile(Text).Report.Findings, f => f.Kind == "fix");
        Assert.Equal(("no-bibliography", 3), (finding.Code, finding.Line));
        Assert.Contains("prints no list", finding.Message, StringComparison.Ordinal);
        RepairLine mend = finding.Repair!;
        Assert.Equal("", mend.Words);
        CompileReport mended = Compile(Text[..mend.Offset] + mend.Text + Text[(mend.Offset + mend.Length)..]).Report;
        Assert.DoesNotContain(mended.Findings, f => f.Kind == "fix");
        Assert.Equal(["rook1991"], mended.Bibliography.Select(b => b.Key));
    }

    [Theory]
    [InlineData("", "\\bibliographystyle{plain}\n\\bibliography{refs/all}\n\n\\end{document}")]
    [InlineData("\\usepackage[round]{natbib}", "\\bibliographystyle{plainnat}\n\\bibliography{refs/all}\n\n\\end{document}")]
    [InlineData("\\usepackage{csquotes,biblatex}", "\\printbibliography\n\n\\end{document}")]
    [InlineData("\\usepackage{biblatex}\\addbibresource{own.bib}", "\\printbibliography\n\n\\end{document}")]
    public void The_lines_fit_what_the_preamble_loads(string preamble, string wanted)
    {
        string text = $"\\documentclass{{article}}{preamble}\n\\begin{{document}}\nx\n% \\end{{document}} comes below\n\\end{{document}}\n";
        var texts = new Dictionary<string, string> { ["main.tex"] = text, ["refs/all.bib"] = Bib };
        IReadOnlyDictionary<string, List<TextEdit>> edits = new SourceEdits(texts).EnsurePrinted("main.tex", "refs/all.bib").Result;
        foreach (TextEdit edit in edits["main.tex"].OrderByDescending(e => e.Offset))
        {
            text = text[..edit.Offset] + edit.Text + text[(edit.Offset + edit.Length)..];
        }

        Assert.Contains(wanted, text, StringComparison.Ordinal);
        Assert.Equal(preamble.Contains("{biblatex}", StringComparison.Ordinal) && !preamble.Contains("addbib", StringComparison.Ordinal) || preamble.Contains("csquotes", StringComparison.Ordinal), text.Contains("\\addbibresource{refs/all.bib}", StringComparison.Ordinal));
        texts["main.tex"] = text;
        Assert.Empty(new SourceEdits(texts).EnsurePrinted("main.tex", "refs/all.bib").Result);
    }

    [Theory]
    [InlineData("https://walls.example/a", true)]
    [InlineData("mailto:una@moor.example", true)]
    [InlineData("walls.example/a:b", true)]
    [InlineData("javascript:alert(1)", false)]
    [InlineData("JAVA\tscript:alert(1)", false)]
    [InlineData("file:///etc/passwd", false)]
    [InlineData("data:text/html,x", false)]
    [InlineData("smb://host/share", false)]
    public void Links_lead_to_the_web_and_to_letters_only(string target, bool leads)
    {
        CompileResult result = Compile($"\\documentclass{{article}}\\usepackage{{hyperref}}\\begin{{document}}\\href{{{target}}}{{shown}}\\end{{document}}");
        Assert.Equal(leads, System.Text.Encoding.Latin1.GetString(result.Pdf).Contains("/URI", StringComparison.Ordinal) || Unfolded(result.Pdf).Contains("/URI", StringComparison.Ordinal));
        Assert.Equal(!leads, result.Report.Findings.Any(f => f.Code == "unsafe-link"));
        Assert.Contains(PdfWords.Of(result), w => w.Text == "shown");
    }

    // Annotations stand in packed streams of objects.
    private static string Unfolded(byte[] pdf)
    {
        var all = new System.Text.StringBuilder();
        ReadOnlySpan<byte> rest = pdf;
        while (rest.IndexOf("stream\n"u8) is >= 0 and var at)
        {
            rest = rest[(at + 7)..];
            try
            {
                using var zip = new System.IO.Compression.ZLibStream(new MemoryStream(rest.ToArray()), System.IO.Compression.CompressionMode.Decompress);
                using var text = new MemoryStream();
                zip.CopyTo(text);
                all.Append(System.Text.Encoding.Latin1.GetString(text.ToArray()));
            }
            catch (InvalidDataException)
            {
                // Not packed.
            }
        }

        return all.ToString();
    }

    private static CompileResult Compile(string text) => new ManuscriptCompiler().Compile(new ManuscriptSnapshot(
        new FileTree([ManuscriptFile.FromText("main.tex", text), ManuscriptFile.FromText("sources.bib", Bib)]), "main.tex", new DateOnly(2026, 11, 28)));
}
