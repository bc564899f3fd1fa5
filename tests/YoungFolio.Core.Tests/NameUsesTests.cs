using System.Diagnostics;
using YoungFolio.Manuscript.Searching;

namespace YoungFolio.Core.Tests;

/// <summary>Where names are used in typed texts, and what they may be changed to.</summary>
public sealed class NameUsesTests
{
    /// <summary>The text with the name's places in double brackets.</summary>
    private static string Marked(string text, NameKind kind, string name)
    {
        foreach ((int offset, int length) in NameUses.Find(text, kind, name).Reverse())
        {
            text = text.Insert(offset + length, "»").Insert(offset, "«");
        }

        return text;
    }

    [Theory]
    [InlineData(@"\label{a} \ref{a} \pageref{ab} \eqref{a}", @"\label{«a»} \ref{«a»} \pageref{ab} \eqref{«a»}")]
    [InlineData(@"\cref{b, a,c} \crefrange{a}{a} \hyperref[a]{a}", @"\cref{b, «a»,c} \crefrange{«a»}{«a»} \hyperref[«a»]{a}")]
    [InlineData(@"\ref*{a} \autoref[x]{a} % \ref{a}", @"\ref*{«a»} \autoref[x]{«a»} % \ref{a}")]
    [InlineData(@"\begin{lstlisting}[caption=x,label=a] \ref{a} \end{lstlisting} \ref{a}", @"\begin{lstlisting}[caption=x,label=«a»] \ref{a} \end{lstlisting} \ref{«a»}")]
    [InlineData(@"\verb|\ref{a}| 5\% \ref{a} \emph{a}", @"\verb|\ref{a}| 5\% \ref{«a»} \emph{a}")]
    public void A_label_is_found_where_it_is_given_and_referred_to(string text, string marked) => Assert.Equal(marked, Marked(text, NameKind.Label, "a"));

    [Fact]
    public void A_command_is_found_as_a_whole_name() =>
        Assert.Equal(@"\newcommand{\«wall»}[1]{#1} \«wall»{x} \walls \\wall \«wall»", Marked(@"\newcommand{\wall}[1]{#1} \wall{x} \walls \\wall \wall", NameKind.Command, "wall"));

    [Fact]
    public void An_environment_is_found_at_both_ends_and_where_it_is_made() =>
        Assert.Equal(@"\newtheorem{«lem»}{L} \newtheorem{cor}[«lem»]{C} \begin{«lem»}[x] lem \end{«lem»}", Marked(@"\newtheorem{lem}{L} \newtheorem{cor}[lem]{C} \begin{lem}[x] lem \end{lem}", NameKind.Environment, "lem"));

    [Theory]
    [InlineData(NameKind.Label, "sec:a", "sec:b", "“sec:b” is a label already, in b.tex, line 2.")]
    [InlineData(NameKind.Label, "sec:a", "a,b", "A label may have")]
    [InlineData(NameKind.Label, "sec:a", "sec:new", null)]
    [InlineData(NameKind.Command, "wall", "fence", @"\fence is there already, in a.tex, line 3.")]
    [InlineData(NameKind.Command, "wall", "emph", "has a meaning everywhere")]
    [InlineData(NameKind.Command, "wall", "alpha", "has a meaning everywhere")]
    [InlineData(NameKind.Command, "wall", "includegraphics", "comes from the package graphicx")]
    [InlineData(NameKind.Command, "wall", "citet", null)]
    [InlineData(NameKind.Command, "wall", "wall2", "letters alone")]
    [InlineData(NameKind.Command, "emph", "strong", "doesn't define \\emph itself")]
    [InlineData(NameKind.Environment, "lem", "figure", "has a meaning everywhere")]
    [InlineData(NameKind.Environment, "lem", "lemma", null)]
    public void A_name_that_is_taken_or_no_name_is_refused_saying_where(NameKind kind, string name, string other, string? says)
    {
        (string, string)[] texts = [("a.tex", "\\usepackage{graphicx}\n\\newcommand{\\wall}{x}\n\\newcommand{\\fence}{y}\n\\newtheorem{lem}{L}\\label{sec:a}"), ("b.tex", "x\n\\label{sec:b}\\ref{sec:new}")];
        string? obstacle = NameUses.Obstacle(texts, kind, name, other);
        if (says is null)
        {
            Assert.Null(obstacle);
        }
        else
        {
            Assert.Contains(says, obstacle, StringComparison.Ordinal);
        }
    }

    [Theory]
    [InlineData("\\ref{")]
    [InlineData("\\begin{a}[")]
    [InlineData("\\hyperref[")]
    [InlineData("\\begin{verbatim}")]
    [InlineData("\\verb")]
    public void Hostile_text_takes_time_in_proportion_to_its_length(string unit)
    {
        string text = string.Concat(Enumerable.Repeat(unit, 1_000_000 / unit.Length));
        long start = Stopwatch.GetTimestamp();
        Assert.Empty(NameUses.Find(text, NameKind.Label, "x"));
        Assert.True(Stopwatch.GetElapsedTime(start) < TimeSpan.FromSeconds(5), $"{Stopwatch.GetElapsedTime(start)}");
    }
}
