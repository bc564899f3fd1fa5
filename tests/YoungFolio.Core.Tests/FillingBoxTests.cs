namespace YoungFolio.Core.Tests;

/// <summary>Spaces that fill a box give way on either side where its content is too large (The TeXbook, p. 72: \hss and \vss).</summary>
public sealed class FillingBoxTests
{
    private static List<PdfWord> Set(string body) => PdfWords.Of(Compiled.Clean("\\setlength{\\parindent}{0pt}Start\\par " + body));

    private static double Left => Set("").One("Start").Left;

    [Theory]
    [InlineData("\\hbox to 200pt{\\hss wide\\hss}", 0.5)]
    [InlineData("\\hbox to 0pt{\\hss wide\\hss}", 0.5)]
    [InlineData("\\hbox to 0pt{\\hss wide}", 1)]
    [InlineData("\\hbox to 0pt{wide\\hss}", 0)]
    [InlineData("\\hbox to 200pt{\\hss wide}", 1)]
    [InlineData("\\hbox to 0pt{\\hskip 0pt minus 3fil wide\\hskip 0pt minus 1fil}", 0.75)]
    [InlineData("\\hbox to 0pt{\\hskip 0pt minus 1fill wide\\hss}", 1)]
    [InlineData("\\hbox to 0pt{\\hfil wide\\hfil}", 0)]
    public void A_word_stands_in_a_box_as_its_spaces_share_what_is_free_or_missing(string box, double share)
    {
        PdfWord word = Set("\\noindent\\hskip100pt" + box).One("wide");
        double width = box.Contains("200pt", StringComparison.Ordinal) ? 200 * 72 / 72.27 : 0;
        Assert.Equal(Left + (100 * 72 / 72.27) + (share * (width - (word.Right - word.Left))), word.Left, 0.1);
    }

    [Theory]
    [InlineData("\\vss\\hbox{x}\\vss", 0.5)]
    [InlineData("\\vss\\hbox{x}", 1)]
    [InlineData("\\hbox{x}\\vss", 0)]
    public void A_line_stands_in_a_box_that_is_higher_or_less_high_likewise(string content, double share)
    {
        double step(string height) => Set($"\\vbox to {height}{{{content}}}").One("x").Bottom;
        // From a box of no height to one of 100 pt the line moves by its share of that.
        Assert.Equal(share * 100 * 72 / 72.27, step("200pt") - step("100pt"), 0.1);
        // Less high than a line, the box stands on the line's baseline, and its upper edge moves.
        Assert.Equal((share - 1) * 10 * 72 / 72.27, step("11pt") - step("1pt"), 0.1);
    }

    [Fact]
    public void Lines_touch_where_there_is_nothing_between_them()
    {
        const string lines = "\\hbox{\\vrule height 20pt width 0pt one}\\hbox{\\vrule height 20pt width 0pt two}";
        double step(string begin) => Set($"\\vbox{{{begin}{lines}}}").One("two").Bottom - Set($"\\vbox{{{begin}{lines}}}").One("one").Bottom;
        // Otherwise \lineskip keeps them apart, 1 pt in the classes (from memory).
        Assert.Equal(72 / 72.27, step("") - step("\\offinterlineskip"), 0.05);
    }

    [Fact]
    public void A_box_behind_noindent_begins_the_paragraph_and_the_next_one_is_indented()
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Clean("First.\\par\\noindent\\hbox{box} goes on.\\par Last."));
        Assert.Equal(words.One("box").Top, words.One("goes").Top, 0.1);
        Assert.Equal(words.One("First.").Left, words.One("Last.").Left, 0.1);
        Assert.True(words.One("box").Left < words.One("First.").Left - 10);
    }
}
