using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>Names that nothing defines: what is taken for a slip, what is only offered, and that the text around stays.</summary>
public sealed class WrongNameTests
{
    private static (string Text, IReadOnlyList<FindingLine> Findings) Read(string body, string preamble = "")
    {
        CompileResult result = Compiled.Article(body, preamble);
        return (PdfWords.Joined(result), result.Report.Findings);
    }

    [Theory]
    [InlineData("emhp", "emph", true)]
    [InlineData("fotnote", "footnote", true)]
    [InlineData("footnotes", "footnote", true)]
    [InlineData("sectoin", "section", true)]
    [InlineData("ref", "red", false)]
    [InlineData("name", "namf", false)]
    [InlineData("subtitle", "title", false)]
    [InlineData("mysection", "section", false)]
    [InlineData("textbb", "textbf", true)]
    public void A_slip_is_two_neighbours_in_the_wrong_order_or_one_letter_of_five(string typed, string meant, bool isSlip) => Assert.Equal(isSlip, NearestName.IsSlip(typed, meant));

    [Theory]
    // A slip is carried out, so that it brings no others along.
    [InlineData("\\sectoin{One} Words.", "1 One Words.", 1)]
    [InlineData("\\fotnote{x}Words.", "1 Words. 1 x", 1)]
    // The manuscript's own names come before those of the language.
    [InlineData("\\sitename{}.", "Hollin Edge.", 1, "\\newcommand{\\sitenames}{Hollin Edge}")]
    // What is merely like another name isn't carried out, and its text prints.
    [InlineData("\\subtitel{Walls} end", "Walls end", 1)]
    [InlineData("\\adres{Hill Road} end", "Hill Road end", 1)]
    // Neither are signs of formulas in text, ends, files, citations, conditions.
    [InlineData("\\alphas words", "words", 1)]
    [InlineData("\\inputs{chapters} end", "chapters end", 1)]
    [InlineData("\\citee{a} end", "a end", 1)]
    [InlineData("\\ifnums x end", "x end", 1)]
    // Nor a command that takes something in braces where none follow.
    [InlineData("\\textbff words stay", "words stay", 1)]
    public void It_prints(string body, string text, int findings, string preamble = "")
    {
        (string printed, IReadOnlyList<FindingLine> found) = Read(body, preamble);
        Assert.Equal(text, printed);
        Assert.Equal(findings, found.Count(f => f.Code is "unknown-command" or "unknown-environment"));
        Assert.Equal(findings, found.Count);
    }

    [Fact]
    public void What_nothing_can_be_offered_for_is_said_once()
    {
        (string printed, IReadOnlyList<FindingLine> found) = Read("\\qqwwxx{one} \\qqwwxx{two} \\qqwwxx{three}");
        Assert.Equal("one two three", printed);
        Assert.Single(found);
    }

    [Fact]
    public void An_environment_that_is_not_here_sets_paragraphs_without_its_options()
    {
        (string printed, IReadOnlyList<FindingLine> found) = Read("Before\n\\begin{keypointbox}[frame=red][t]\nWords within.\n\\end{keypointbox}\nafter");
        Assert.Equal("Before Words within. after", printed);
        Assert.Equal("unknown-environment", Assert.Single(found).Code);
        CompileResult lines = Compiled.Files(("main.tex", "\\documentclass{article}\\begin{document}Before \\begin{keypointbox}Within \\end{keypointbox}after\\end{document}"));
        List<PdfWord> words = PdfWords.Of(lines);
        Assert.True(words.One("Within").Top > words.One("Before").Top + 5 && words.One("after").Top > words.One("Within").Top + 5);
        // Like another, but no slip.
        Assert.Equal("x", Read("\\begin{keyequation}x\\end{keyequation}").Text);
        Assert.Equal("• a", Read("\\begin{itemzie}\\item a\\end{itemzie}").Text);
    }
}
