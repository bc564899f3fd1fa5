using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Labels with what they name, and the sentences that refer to them.</summary>
public sealed class CrossReferencesTests
{
    private static Dictionary<string, LabelEntry> Read(string body, string preamble = "") =>
        Compiled.Files([("main.tex", $"\\documentclass{{article}}\n\\usepackage{{graphicx,amsmath,hyperref}}\n{preamble}\n\\begin{{document}}\n{body}\n\\end{{document}}\n"), ("more.tex", "\\section{More}\\label{sec:more}\nAs in Section~\\ref{sec:one}.\n")])
            .CrossReferences.Entries().ToDictionary(e => e.Key);

    [Fact]
    public void A_label_is_told_by_what_it_names_and_by_its_pages()
    {
        Dictionary<string, LabelEntry> labels = Read("""
            \section{One \emph{thing}}\label{sec:one}
            See Figure~\ref{fig:wall} on page \pageref{fig:wall}, and \eqref{eq:law}.
            \begin{figure}
              \includegraphics[width=3cm]{figures/wall}
              \caption{A wall in $x$ parts.}\label{fig:wall}
            \end{figure}
            \begin{equation}\label{eq:law}
              d(t) = rt
            \end{equation}
            \clearpage
            \input{more}
            """);
        Assert.Equal(("section", "1", "1", "One thing", "main.tex", 5), (labels["sec:one"].Kind, labels["sec:one"].Number, labels["sec:one"].Page, labels["sec:one"].Title, labels["sec:one"].File, labels["sec:one"].Line));
        Assert.Equal(("figure", "1", "figures/wall", 2), (labels["fig:wall"].Kind, labels["fig:wall"].Number, labels["fig:wall"].Source, labels["fig:wall"].Uses.Count));
        Assert.Equal(("equation", "1"), (labels["eq:law"].Kind, labels["eq:law"].Number));
        Assert.Equal("\\begin{equation}\n  d(t) = rt\n\\end{equation}", labels["eq:law"].Source);
        Assert.Equal(("2", "2", "more.tex", "unused-label"), (labels["sec:more"].Number, labels["sec:more"].Page, labels["sec:more"].File, labels["sec:more"].Remark));
        Assert.Equal(["sec:one", "fig:wall", "eq:law", "sec:more"], labels.Keys.Order(Comparer<string>.Create((a, b) => labels[a].Sheet!.Value.CompareTo(labels[b].Sheet!.Value))).OrderBy(k => labels[k].Sheet));
        ReferencePlace use = Assert.Single(labels["sec:one"].Uses);
        Assert.Equal(("more.tex", 2, "As in Section ", "."), (use.File, use.Line, use.Before, use.After.TrimEnd()));
    }

    [Fact]
    public void Statements_are_told_from_other_things_by_what_they_are_called()
    {
        Dictionary<string, LabelEntry> labels = Read("""
            \begin{theorem}\label{t:one}One.\end{theorem}
            \begin{merke}[of walls]\label{t:two}Two.\end{merke}
            \begin{enumerate}\item\label{i:one} Three.\end{enumerate}
            """, "\\newtheorem{theorem}{Theorem}\n\\newtheorem{merke}[theorem]{Lemma}");
        Assert.Equal(("Theorem", "1"), (labels["t:one"].Statement, labels["t:one"].Number));
        Assert.Equal(("Lemma", "2", "of walls"), (labels["t:two"].Statement, labels["t:two"].Number, labels["t:two"].Title));
        Assert.Null(labels["i:one"].Statement);
    }

    [Theory]
    [InlineData("First one. The \\emph{curve} in Figure~\\ref{k} shows it. Last one.", "The curve in Figure ", " shows it.")]
    [InlineData("A line\nthat goes on,\nsee \\ref{k}, and ends\n\nelsewhere.", "A line that goes on, see ", ", and ends")]
    [InlineData("With \\cite{x} and $a+b$ and % not this\nhere \\ref{k}!", "With and a+b and here ", "!")]
    [InlineData("As \\ref{k} and, by \\pageref{sec:far}, elsewhere.", "As ", " and, by …, elsewhere.")]
    [InlineData("\\begin{figure}\\caption[Short]{Long, as in \\ref{k}.}\\end{figure}", "Long, as in ", ".")]
    [InlineData("At 3.5 mm it is \\ref{k} again.", "At 3.5 mm it is ", " again.")]
    [InlineData("\\ref{k}", "", "")]
    public void A_use_is_shown_in_its_sentence(string text, string before, string after)
    {
        ReferencePlace use = Assert.Single(Read($"\\section{{S}}\\label{{k}}\n\n{text}\n")["k"].Uses);
        Assert.Equal((before, after), (use.Before.TrimStart(), use.After.TrimEnd()));
    }

    [Fact]
    public void What_is_missing_doubled_or_unused_says_so_and_the_nearest_is_offered()
    {
        Dictionary<string, LabelEntry> labels = Read("\\section{A}\\label{sec:ruler}\nSee \\ref{sec:rule} and \\cref{sec:twice,sec:gone}.\n\\section{B}\\label{sec:twice}\n\\section{C}\\label{sec:twice}\n\\section{D}\\label{sec:never}\n", "\\usepackage{cleveref}");
        Assert.Equal(("missing", "sec:ruler", 1), (labels["sec:rule"].Kind, labels["sec:rule"].Near, labels["sec:rule"].Uses.Count));
        Assert.Equal("missing", labels["sec:gone"].Kind);
        Assert.Equal("doubled-label", labels["sec:twice"].Remark);
        Assert.Equal("unused-label", labels["sec:never"].Remark);
        Assert.Equal("unused-label", labels["sec:ruler"].Remark);
    }

    [Fact]
    public void Two_thousand_labels_take_no_longer_than_they_should()
    {
        string body = string.Concat(Enumerable.Range(0, 2000).Select(i => $"\\begin{{equation}}\\label{{eq:{i}}} x_{{{i}}} \\end{{equation}} As in \\eqref{{eq:{(i * 7) % 2000}}} we see.\n"));
        CompileResult result = Compiled.Files([("main.tex", $"\\documentclass{{article}}\\usepackage{{amsmath}}\\begin{{document}}\n{body}\\end{{document}}\n")]);
        IReadOnlyList<LabelEntry> entries = result.CrossReferences.Entries();
        Assert.Equal(2000, entries.Count);
        // Cost grows in line with the labels: each sentence is cut out of its surroundings, not out of the whole text.
        long before = Environment.TickCount64;
        result.CrossReferences.Entries();
        Assert.InRange(Environment.TickCount64 - before, 0, 2000);
    }
}
