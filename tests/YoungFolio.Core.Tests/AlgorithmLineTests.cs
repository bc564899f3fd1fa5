namespace YoungFolio.Core.Tests;

/// <summary>Lines of one's own in algorithms (algorithmicx' documentation, section 4, from memory), and other small packages of this house.</summary>
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

    [Fact]
    public void Blackened_words_are_not_in_the_file()
    {
        string text = Compiled.Text(Compiled.Clean("Met \\censor{Ilse} here. \\StopCensoring \\censor{Bao} too.", "\\usepackage{censor}"));
        Assert.DoesNotContain("Ilse", text, StringComparison.Ordinal);
        Assert.Contains("Bao too.", text, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("\\begin{tabular}{c:c} a & b \\\\ \\hdashline c & d \\\\ \\cdashline{1-2} \\end{tabular}", "\\usepackage{arydshln}", 2)]
    [InlineData("\\begin{tabular}{c;{2pt/2pt}c} a & b \\\\ \\hdashline[1pt/1pt] c & d \\end{tabular}", "\\usepackage{arydshln}", 1)]
    public void Dashed_lines_of_tables_are_lines(string table, string preamble, int lines)
    {
        var result = Compiled.Clean(table, preamble);
        Assert.Equal(lines, PdfWords.Rules(result).Count(r => r.Width > r.Height));
        Assert.NotEmpty(PdfWords.Rules(result).Where(r => r.Height > r.Width).ToList());
    }

    [Fact]
    public void Words_that_came_and_go_are_shown_until_that_is_switched_off()
    {
        Assert.Equal("oldnew here", Compiled.Text(Compiled.Clean("\\replace{old}{new} \\highlight{here}", "\\usepackage{easyReview}")));
        Assert.Equal("new here", Compiled.Text(Compiled.Clean("\\setreviewsoff\\replace{old}{new} \\highlight{here}", "\\usepackage{easyReview}")));
    }

    // Names of functions and the number's sign as babel's documentation of Russian has them (from memory).
    [Theory]
    [InlineData("russian")]
    [InlineData("ukrainian")]
    public void Functions_have_their_eastern_names(string language)
    {
        string text = Compiled.Text(Compiled.Clean("\\No 5: $\\tg x + \\arctg y$.", $"\\usepackage[{language}]{{babel}}"));
        Assert.Contains("№", text, StringComparison.Ordinal);
        Assert.Contains("tg", text, StringComparison.Ordinal);
        Assert.Contains("arctg", text, StringComparison.Ordinal);
    }

    [Fact]
    public void Notes_figures_and_captions_stand_in_the_margin()
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Clean("Walls\\sidenote{Dry.} and more\\sidenote{Wet.} \\begin{marginfigure}Picture\\caption{Moss}\\label{f}\\end{marginfigure} see \\ref{f}.", "\\usepackage{sidenotes}"));
        double edge = words.Single(w => w.Text.StartsWith("Walls", StringComparison.Ordinal)).Left + 330;
        Assert.All((string[])["Dry.", "Wet.", "Picture", "Moss"], t => Assert.True(words.Single(w => w.Text.EndsWith(t, StringComparison.Ordinal)).Left > edge, t));
        Assert.Contains(words, w => w.Text == "1.");
    }

    [Fact]
    public void Words_stand_below_a_float() =>
        Assert.Equal("Picture Figure 1: Wall Measured in May.", Compiled.Text(Compiled.Clean("\\begin{figure}[h]\\centering Picture\\caption{Wall}\\floatfoot{Measured in May.}\\end{figure}", "\\usepackage{floatrow}")));
}
