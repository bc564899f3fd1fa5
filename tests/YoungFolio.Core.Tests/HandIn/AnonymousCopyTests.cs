using YoungFolio.Compiler;
using YoungFolio.HandIn;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests.HandIn;

/// <summary>Copies that don't say whose they are: what goes, what stays, and which names are left.</summary>
public sealed class AnonymousCopyTests
{
    [Theory]
    [InlineData("\\title{Walls}\\author{Ann Low\\thanks{Hall.} \\and Bo Ng}\\date{May}", "\\title{Walls}\\author{}\\date{May}")]
    [InlineData("\\author[1]{Ann Low}\n\\author[2]{Bo Ng}\n\\affil[1]{Hollin Edge}\n\\email{a@b.example}X", "\\author{}\n\n\nX")]
    [InlineData("\\title{Walls\\thanks{To \\emph{all}.}}", "\\title{Walls}")]
    [InlineData("\\hypersetup{pdfauthor={Ann Low, Bo {Ng}}, pdftitle=Walls}", "\\hypersetup{pdfauthor={}, pdftitle=Walls}")]
    [InlineData("A\\begin{acknowledgements}To Bo.\\end{acknowledgements}B", "AB")]
    [InlineData("\\section{A}a\\section*{Acknowledgements}To Bo.\\subsection{x}y\\section{B}b", "\\section{A}a\\section{B}b")]
    [InlineData("\\chapter*{Danksagung}An Bo.\n\\bibliography{p}", "\\bibliography{p}")]
    [InlineData("a\\section*{Thanks}To Bo.\n\\end{document}", "a\\end{document}")]
    // What only looks like it stays.
    [InlineData("% \\author{Ann}\n\\verb|\\author| \\section{Thanks to stones}", "% \\author{Ann}\n\\verb|\\author| \\section{Thanks to stones}")]
    [InlineData("\\begin{verbatim}\\author{Ann}\\end{verbatim}", "\\begin{verbatim}\\author{Ann}\\end{verbatim}")]
    [InlineData("\\author{Ann", "\\author{Ann")]
    public void Markup_is_without_who_wrote_it(string text, string expected) => Assert.Equal(expected, AnonymousMarkup.Of(text));

    private static ManuscriptSnapshot Snapshot(string text) => new(new FileTree([ManuscriptFile.FromText("main.tex", text)]), "main.tex", new DateOnly(2026, 11, 9));

    [Theory]
    [InlineData("\\documentclass{article}", "\\author{Ann Lowry\\thanks{Hollin Edge} \\and Bo Ngata}")]
    [InlineData("\\documentclass{article}\\usepackage{authblk}", "\\author[1]{Ann Lowry}\\author[2]{Bo Ngata}\\affil[1]{Hollin Edge}\\affil[2]{Edge}")]
    [InlineData("\\documentclass{amsart}", "\\author{Ann Lowry}\\address{Hall}\\email{ann@hollin-edge.example}\\author{Bo Ngata}")]
    public void The_pdf_says_no_name(string begin, string authors)
    {
        ManuscriptSnapshot whole = Snapshot($"{begin}\\usepackage{{hyperref}}\\title{{Walls}}{authors}\\begin{{document}}\\maketitle Words.\\section*{{Acknowledgements}}We thank Lowry.\\end{{document}}");
        var compiler = new ManuscriptCompiler();
        Assert.Contains("Lowry", Compiled.Text(compiler.Compile(whole)), StringComparison.OrdinalIgnoreCase);
        CompileResult copy = compiler.Compile(AnonymousCopy.Of(whole));
        string text = Compiled.Text(copy);
        Assert.Contains("Walls", text, StringComparison.OrdinalIgnoreCase);
        Assert.Contains("Words.", text, StringComparison.Ordinal);
        Assert.All((string[])["Lowry", "Ngata", "Hollin", "ann@"], n => Assert.DoesNotContain(n, text, StringComparison.Ordinal));
        Assert.Equal("", copy.Print.Author);
        Assert.DoesNotContain(copy.Report.Findings, f => f.Kind == "fix");
    }

    [Theory]
    [InlineData("As Lowry says, Lowrys and Bo.\nReferences\nLowry, A.", "Ann Lowry and Bo Ng", "Lowry 1")]
    [InlineData("Ngata, Ngata; nobody", "Ann Lowry, Bo Ngata", "Ngata 2")]
    [InlineData("Nothing.", "Ann Lowry", "")]
    public void Names_that_are_left_are_said(string text, string authors, string left) =>
        Assert.Equal(left, string.Join(' ', AnonymousCopy.NamesLeft(text, authors).Select(n => $"{n.Name} {n.Times}")));

    [Fact]
    public void The_sources_go_out_without_names_and_give_the_same_pages()
    {
        SourcePackage package = new SourcePacker(new ManuscriptCompiler()).Pack(Snapshot("\\documentclass{article}\\title{Walls}\\author{Ann Lowry}\\begin{document}\\maketitle Words.\\end{document}"), new SourcesWish(Anonymous: true));
        Assert.True(package.IsSame);
        Assert.All(package.Files, f => Assert.DoesNotContain("Lowry", System.Text.Encoding.UTF8.GetString(f.Bytes.Span), StringComparison.Ordinal));
    }
}
