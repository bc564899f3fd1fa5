namespace YoungFolio.Core.Tests;

/// <summary>Lines of one's own in algorithms (algorithmicx' documentation, section 4, from memory).</summary>
public class AlgorithmLineTests
{
    private static string Lines(string preamble, string body) =>
        Compiled.Text(Compiled.Clean($"\\begin{{algorithmic}}[1] {body} \\end{{algorithmic}}", "\\usepackage{algpseudocode}" + preamble), "-layout");

    [Theory]
    [InlineData("\\algdef{SE}[DOWHILE]{Do}{DoWhile}{\\textbf{do}}[1]{\\textbf{while} #1}", "\\Do \\State inner \\DoWhile{many} \\State after", "while many")]
    [InlineData("\\algblockdefx[PAR]{Do}{DoWhile}[1][all]{\\textbf{do} #1}{\\textbf{done}}", "\\Do[some] \\State inner \\DoWhile \\State after", "do some")]
    [InlineData("\\algblock{Do}{DoWhile}", "\\Do \\State inner \\DoWhile \\State after", "DoWhile")]
    public void A_block_of_ones_own_steps_in_and_out(string definition, string body, string printed)
    {
        Assert.Contains(printed, Lines(definition, body), StringComparison.Ordinal);
        List<PdfWord> words = PdfWords.Of(Compiled.Clean($"\\begin{{algorithmic}}[1] {body} \\end{{algorithmic}}", "\\usepackage{algpseudocode}" + definition));
        Assert.True(words.First(w => w.Text == "inner").Left > words.First(w => w.Text == "after").Left + 5);
        Assert.Contains(words, w => w.Text == "4:");
    }

    [Fact]
    public void Texts_change_and_ends_may_go()
    {
        string text = Lines("\\algnotext{EndIf}\\algrenewtext{If}[1]{\\textbf{falls} #1}", "\\If{cold} \\State inner \\EndIf \\State after");
        Assert.Contains("falls cold", text, StringComparison.Ordinal);
        Assert.DoesNotContain("end if", text, StringComparison.Ordinal);
        Assert.Contains("3: after", System.Text.RegularExpressions.Regex.Replace(text, " +", " "), StringComparison.Ordinal);
    }

    [Fact]
    public void Items_are_lines_with_a_mark_and_no_number() =>
        Assert.Contains("Input: walls", Lines("\\algnewcommand\\Input{\\item[\\textbf{Input:}]}", "\\Input walls \\State first"), StringComparison.Ordinal);
}
