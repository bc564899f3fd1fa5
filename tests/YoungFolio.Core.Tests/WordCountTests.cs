using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>The words that the report counts are those that print.</summary>
public sealed class WordCountTests
{
    private const string Article = """
        \documentclass{article}
        \usepackage{graphicx}
        \begin{document}
        Before all: \emph{four words}.
        \section{Old walls}
        A wall's stones are well-set\footnote{Three words here.} and $x^2 + y$ old.
        \subsection*{North}
        See \ref{fig:w}, 1.2 walls.
        \begin{figure}[h]
        \centering\rule{2cm}{1cm}
        \caption{The north face}\label{fig:w}
        \end{figure}
        % none of these words
        \section{End}
        \begin{itemize}
        \item one
        \item two three
        \end{itemize}
        \begin{tabular}{ll} not & counted \end{tabular}
        \end{document}
        """;

    [Fact]
    public void Words_are_counted_by_what_they_are_and_by_section()
    {
        CompileReport report = Compiled.Files(("main.tex", Article)).Report;
        // Before (4); A wall's stones are well-set and old (7); See 1, 1.2 walls (4); one two three (3).
        Assert.Equal(new WordKinds(18, 6, 5, 3), report.WordsBy);
        Assert.Equal(32, report.Words);
        // “1 Old walls”, its text and its note; “North”, its text and the caption “Figure 1: The north face”; “2 End” and its items.
        Assert.Equal([("Old walls", 13), ("North", 10), ("End", 5)], report.Outline.Select(o => (o.Title, o.Words)));
    }

    [Fact]
    public void The_count_agrees_with_what_poppler_reads_on_the_pages()
    {
        CompileResult result = Compiled.Files(("main.tex", Article.Replace(@"\begin{tabular}{ll} not & counted \end{tabular}", "", StringComparison.Ordinal).Replace("$x^2 + y$ ", "", StringComparison.Ordinal)));
        // The page's number and the note's two marks are on the page, and no words.
        string[] printed = [.. PdfWords.Of(result).Select(w => w.Text.Trim('.', ',', ':')).Where(w => w.Any(char.IsLetterOrDigit))];
        Assert.Equal(printed.Length - 3, result.Report.Words);
    }
}
