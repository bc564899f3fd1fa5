using System.Diagnostics;
using YoungFolio.Compiler;
using YoungFolio.Manuscript.Searching;

namespace YoungFolio.Core.Tests;

/// <summary>The names that typed text defines and uses.</summary>
public sealed class TypedNamesTests
{
    [Theory]
    [InlineData(@"\newcommand{\wall}[2][north]{the #1 wall of #2}", DefinedKind.Command, "wall", "[1]{2}", "the #1 wall of #2")]
    [InlineData(@"\newcommand\R{\mathbb{R}}", DefinedKind.Command, "R", "", @"\mathbb{R}")]
    [InlineData(@"\renewcommand*{\thefigure}{\arabic{figure}}", DefinedKind.Command, "thefigure", "", @"\arabic{figure}")]
    [InlineData(@"\def\pair#1#2{(#1,#2)}", DefinedKind.Command, "pair", "{1}{2}", "(#1,#2)")]
    [InlineData(@"\NewDocumentCommand{\site}{s O{x} m}{\emph{#3}}", DefinedKind.Command, "site", "[2]{3}", @"\emph{#3}")]
    [InlineData(@"\DeclareMathOperator*{\argmax}{arg\,max}", DefinedKind.Command, "argmax", "", @"arg\,max")]
    [InlineData(@"\DeclarePairedDelimiter{\abs}{\lvert}{\rvert}", DefinedKind.Command, "abs", "{1}", @"\lvert")]
    [InlineData(@"\newenvironment{aside}[1][]{\begin{quote}}{\end{quote}}", DefinedKind.Environment, "aside", "[1]", @"\begin{quote}")]
    [InlineData(@"\newtheorem*{lemma}{Lemma}", DefinedKind.Environment, "lemma", "", "Lemma")]
    [InlineData(@"\newlength{\gap}", DefinedKind.Length, "gap", "", "")]
    [InlineData(@"\newcounter{site}[chapter]", DefinedKind.Counter, "site", "", "chapter")]
    [InlineData(@"\definecolor{moss}{RGB}{80,110,80}", DefinedKind.Colour, "moss", "", "RGB")]
    [InlineData(@"\newacronym{gis}{GIS}{geographic information system}", DefinedKind.GlossaryEntry, "gis", "", "GIS")]
    public void A_definition_says_what_it_makes_and_how_that_is_written(string text, DefinedKind kind, string name, string form, string body)
    {
        TypedDefinition found = Assert.Single(TypedNames.Of("% \\newcommand{\\old}{x}\n" + text).Definitions);
        Assert.Equal((kind, name, form, body), (found.Kind, found.Name, found.Form, found.Text));
        Assert.Equal(name, ("% \\newcommand{\\old}{x}\n" + text).Substring(found.Offset, name.Length));
    }

    [Fact]
    public void Uses_are_counted_by_name_outside_comments()
    {
        TypedNames names = TypedNames.Of("\\emph{a} \\emph{b} % \\emph{c}\n50\\% of \\textbf{x}\\\\emph \\begin{figure*} \\end{figure*}");
        Assert.Equal((2, 1, 1), (names.Uses["\\emph"], names.Uses["\\textbf"], names.Uses["figure*"]));
        Assert.DoesNotContain("\\end", names.Uses.Keys);
    }

    [Fact]
    public void Text_as_typed_defines_and_uses_nothing()
    {
        TypedNames names = TypedNames.Of("\\begin{verbatim}\n\\newcommand{\\a}{x} \\emph{b}\n\\end{verbatim} \\verb|\\emph| \\emph{c} \\begin{lstlisting}\\textbf\\end{lstlisting}\\verb+%+ \\textit{d}");
        Assert.Empty(names.Definitions);
        Assert.Equal((1, 1, 1, 0), (names.Uses["\\emph"], names.Uses["verbatim"], names.Uses["\\textit"], names.Uses.GetValueOrDefault("\\textbf")));
    }

    [Theory]
    [InlineData("\\newcommand{\\a}[1][")]
    [InlineData("\\verb|a")]
    [InlineData("\\begin{verbatim} 1% a\\end{verbatim}")]
    [InlineData("\\NewDocumentCommand{\\a}{{")]
    [InlineData("\\newenvironment{a}{m}{")]
    [InlineData("\\def\\a#")]
    [InlineData("\\newcommand{\\a}{{{{{{")]
    public void Hostile_text_takes_time_in_proportion_to_its_length(string unit)
    {
        string text = string.Concat(Enumerable.Repeat(unit, 2_000_000 / unit.Length));
        long start = Stopwatch.GetTimestamp();
        Assert.True(TypedNames.Of(text).Definitions.Count <= 2000);
        Assert.True(Stopwatch.GetElapsedTime(start) < TimeSpan.FromSeconds(8), $"{Stopwatch.GetElapsedTime(start)}");
    }

    [Fact]
    public void The_report_has_them_of_all_files_with_their_lines()
    {
        CompileReport report = Compiled.Files(
            ("main.tex", "\\documentclass{article}\n\\usepackage{own}\n\\newcounter{site}\n\\begin{document}\\input{a}\\wall{x}\\end{document}"),
            ("own.sty", "\\ProvidesPackage{own}\n\n\\newcommand{\\wall}[1]{the wall of #1}"),
            ("a.tex", "\\emph{a} \\wall{y}")).Report;
        Assert.Equal([("counter", "site", "main.tex", 3), ("command", "wall", "own.sty", 3)], report.Definitions.Select(d => (d.Kind, d.Name, d.File, d.Line)));
        Assert.Equal((1, 2), (report.Uses["\\emph"], report.Uses["\\wall"]));
    }
}
