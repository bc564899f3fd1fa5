using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Program text in coloured boxes (tcolorbox' documentation of its library listings, from memory).</summary>
public class BoxedListingTests
{
    private static string Text(string body, string preamble = "") => Compiled.Text(Compiled.Clean(body, "\\usepackage{tcolorbox}\\tcbuselibrary{listings}" + preamble), "-layout");

    [Theory]
    [InlineData("listing only", 1)]
    [InlineData("text only", 0)]
    [InlineData("", 1)]
    [InlineData("listing and text", 1)]
    [InlineData("text and listing", 1)]
    [InlineData("listing side text", 1)]
    public void What_is_typed_is_listed_and_set_as_the_options_say(string form, int listed)
    {
        string text = Text($"\\begin{{tcblisting}}{{colback=red!5,{form}}}\nSome \\emph{{stone}} & 5\\%.\n\\end{{tcblisting}}".Replace(" & ", " and ", StringComparison.Ordinal));
        Assert.Equal(listed, text.Split("\\emph{stone}").Length - 1);
        Assert.Equal(form == "listing only" ? 0 : 1, text.Split("Some stone").Length - 1);
    }

    [Fact]
    public void Boxes_of_ones_own_take_arguments()
    {
        string text = Text("\\begin{code}[listing only]{A title}\nif (a<b) { return #1; }\n  indented\n\\end{code}\nAfter", "\\newtcblisting{code}[2][]{title={#2},#1,listing options={language=C}}");
        foreach (string printed in (string[])["A title", "if (a<b) { return #1; }", "indented", "After"])
        {
            Assert.Contains(printed, text, StringComparison.Ordinal);
        }
    }

    [Fact]
    public void A_file_of_program_text_stands_in_a_box()
    {
        CompileResult result = Compiled.Files(("main.tex", "\\documentclass{article}\\usepackage{tcolorbox}\\pagestyle{empty}\\begin{document}\\tcbinputlisting{title=Sums,listing file=sum.py,listing options={language=Python}}\\end{document}"), ("sum.py", "print(1 + 2)\n"));
        Assert.Empty(result.Report.Findings);
        Assert.Equal("Sums print(1 + 2)", Compiled.Text(result));
    }

    [Fact]
    public void A_box_without_its_end_is_said()
    {
        CompileResult result = Compiled.Article("\\begin{tcblisting}{listing only}\nlost\n", "\\usepackage{tcolorbox}");
        Assert.NotEmpty(result.Report.Findings);
        Assert.NotEmpty(result.Pdf);
    }
}
