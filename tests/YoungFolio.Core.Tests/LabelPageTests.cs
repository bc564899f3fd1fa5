using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>A label has the number of what it names and the page on which it stands itself (L. Lamport, “LaTeX: A Document Preparation System”, section C.11.2; from memory).</summary>
public sealed class LabelPageTests
{
    private static string Shown(string body) => PdfWords.Joined(Compiled.Clean($"See \\ref{{x}} on \\pageref{{x}}.\\newpage {body}"));

    [Theory]
    [InlineData("\\section{Walls} Here.\\newpage There.\\label{x}", "See 1 on 3.")]
    [InlineData("\\section{Walls} Here.\\newpage There.\\par\\label{x} More.", "See 1 on 3.")]
    [InlineData("\\section{Walls} Here.\\newpage\\begin{itemize}\\item One\\label{x}\\end{itemize}", "See 1 on 3.")]
    [InlineData("\\section{Walls} Here.\\newpage\\begin{quote}Said.\\label{x}\\end{quote}", "See 1 on 3.")]
    [InlineData("\\section{Walls} Here.\\newpage There\\footnote{Below\\label{x}}.", "See 1 on 3.")]
    [InlineData("\\section{Walls}\\label{x} Here.\\newpage There.", "See 1 on 2.")]
    [InlineData("\\section{Walls\\label{x}} Here.\\newpage There.", "See 1 on 2.")]
    [InlineData("\\section{Walls}\\newpage\\begin{figure}[t]F\\caption{C}\\label{x}\\end{figure}There.", "See 1 on 3.")]
    [InlineData("Here.\\newpage\\begin{equation}a\\label{x}\\end{equation}", "See 1 on 3.")]
    [InlineData("\\begin{enumerate}\\item One\\newpage two\\label{x}\\end{enumerate}", "See 1 on 3.")]
    public void Its_page_is_where_it_stands(string body, string shown) => Assert.StartsWith(shown, Shown(body), StringComparison.Ordinal);

    [Fact]
    public void Words_around_it_are_set_as_without_it()
    {
        CompileResult with = Compiled.Clean("\\section{Walls}Lichen grows\\label{x} on walls\\label{y} , and on stones.\\ref{x}\\ref{y}");
        CompileResult without = Compiled.Clean("\\section{Walls}Lichen grows on walls , and on stones.11");
        Assert.Equal(PdfWords.Of(without), PdfWords.Of(with));
    }

    [Fact]
    public void The_report_and_the_list_of_labels_have_the_same_page()
    {
        CompileResult result = Compiled.Clean("Before.\\newpage\\section{Walls}\\label{x} Here.\\newpage There.\\label{y}\\ref{x}\\pageref{y}");
        Assert.Equal(["1 2", "1 3"], result.Report.Labels.Select(l => $"{l.Number} {l.Page}"));
        Assert.Equal(["2", "3"], result.CrossReferences.Entries().OrderBy(e => e.Key, StringComparer.Ordinal).Select(e => e.Page));
    }
}
