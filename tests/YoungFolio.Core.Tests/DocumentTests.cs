using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Structure, numbers and references: common practice of the trade; one compile settles them.</summary>
public class DocumentTests
{
    [Fact]
    public void Numbers_contents_and_references_are_right_after_one_compile()
    {
        CompileResult result = Compiled.Report(
            "\\tableofcontents\\chapter{One}See \\ref{two} on page \\pageref{two}.\\section{Inner}\\subsection{Deep}\\chapter{Two}\\label{two}Text.\\chapter*{Loose}");
        Assert.Equal("Contents|1 One|1.1 Inner|1.1.1 Deep|2 Two|Loose",
            string.Join('|', result.Report.Outline.Select(o => (o.Number + " " + o.Title).Trim())));
        Assert.Contains("See 2 on page 3.", Compiled.Text(result));
        Assert.Contains("2 Two 3", Compiled.Text(result, "-f", "1", "-l", "1"));
        LabelLine label = Assert.Single(result.Report.Labels);
        Assert.Equal(("two", "chapter", "2", "3", 3, 2), (label.Key, label.Kind, label.Number, label.Page, label.Sheet!.Value, label.Uses));
        Assert.InRange(result.Report.Rounds, 1, 4);
    }

    [Fact]
    public void Roman_and_arabic_pages_reach_the_labels_and_the_PDF()
    {
        CompileResult result = Compiled.Report("\\pagenumbering{roman}\\chapter*{Front}\\label{f}\\clearpage\\pagenumbering{arabic}\\chapter{A}\\label{a}");
        Assert.Equal("i,1", string.Join(',', result.Report.Labels.Select(l => l.Page)));
        Assert.Contains("/S /r", System.Text.Encoding.Latin1.GetString(Decompressed(result.Pdf)));
    }

    [Fact]
    public void Files_are_taken_in_and_included_ones_begin_a_page()
    {
        CompileResult result = Compiled.Files(
            ("main.tex", "\\documentclass{article}\\begin{document}Main. \\input{parts/a}\\include{parts/b}End.\\end{document}"),
            ("parts/a.tex", "From a."), ("parts/b.tex", "From b."));
        Assert.Empty(Compiled.Codes(result));
        Assert.Equal(3, result.Report.Pages);
        Assert.Equal("Main. From a. 1", Compiled.Text(result, "-l", "1"));
        Assert.Equal("From b. 2", Compiled.Text(result, "-f", "2", "-l", "2"));
    }

    [Fact]
    public void Redefined_names_and_numbers_are_used()
    {
        CompileResult result = Compiled.Body(
            "\\renewcommand{\\thesection}{\\Roman{section}}\\renewcommand{\\contentsname}{What is here}\\renewcommand{\\labelitemi}{+}"
            + "\\tableofcontents\\section{First}\\begin{itemize}\\item point\\end{itemize}");
        Assert.Contains("What is here I I First 1 First", Compiled.Text(result));
        Assert.Contains("+ point", Compiled.Text(result));
    }

    [Fact]
    public void Lists_notes_and_quotations_print()
    {
        CompileResult result = Compiled.Body(
            "\\begin{enumerate}\\item one\\begin{enumerate}\\item inner\\end{enumerate}\\item two\\label{t}\\end{enumerate}"
            + "Word\\footnote{The note.} and ``quoted'' --- dash. Item \\ref{t}.");
        string text = Compiled.Text(result);
        Assert.Contains("1. one (a) inner 2. two", text);
        Assert.Contains("“quoted” — dash. Item 2.", text);
        Assert.Contains("The note.", text);
        Assert.Equal(1, result.Report.Footnotes);
    }

    [Fact]
    public void An_optional_title_goes_to_the_contents_only()
    {
        string text = Compiled.Text(Compiled.Body("\\tableofcontents\\section[Short]{A long title}"));
        Assert.Contains("1 Short", text);
        Assert.Contains("1 A long title", text);
    }

    [Theory]
    [InlineData("10pt", 10.0)]
    [InlineData("11pt", 10.95)]
    [InlineData("12pt", 12.0)]
    public void Type_sizes_are_those_of_the_class(string option, double size)
    {
        CompileResult result = Compiled.Files(("main.tex", $"\\documentclass[{option},a4paper]{{article}}\\begin{{document}}Word\\end{{document}}"));
        // ISO 216: A4 is 210 by 297 mm, 595.28 by 841.89 PDF points.
        string info = Compiled.Run("pdfinfo", result.Pdf, "FILE");
        Assert.Contains("595.276 x 841.89 pts (A4)", info);
        PageSpot spot = result.Map.FindSpot("main.tex", 1, 60)!;
        Assert.Equal(size * 72 / 72.27, spot.Height, 2);
    }

    private static byte[] Decompressed(byte[] pdf)
    {
        string source = Path.Combine(Path.GetTempPath(), Guid.NewGuid() + ".pdf");
        File.WriteAllText(source, Compiled.Run("qpdf", pdf, "--qdf", "--object-streams=disable", "FILE", "-"), System.Text.Encoding.Latin1);
        byte[] bytes = File.ReadAllBytes(source);
        File.Delete(source);
        return bytes;
    }
}
