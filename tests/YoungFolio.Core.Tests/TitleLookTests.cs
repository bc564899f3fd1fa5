using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Titles that manuscripts and packages build themselves.</summary>
public class TitleLookTests
{
    private static CompileResult Whole(string source)
    {
        CompileResult result = Compiled.Files(("main.tex", source));
        Assert.Empty(result.Report.Findings);
        return result;
    }

    [Fact]
    public void A_manuscript_may_say_itself_what_its_title_looks_like() =>
        Assert.Contains("On Walls, by Ann.", Compiled.Text(Whole("\\documentclass{article}\\pagestyle{empty}\\makeatletter\\def\\@maketitle{\\noindent On \\@title, by \\@author.\\par}\\makeatother\\title{Walls}\\author{Ann}\\begin{document}\\maketitle Text\\end{document}")), StringComparison.Ordinal);

    // titling's documentation, section 2 (from memory): what stands around the parts replaces the usual surroundings.
    [Fact]
    public void What_stands_around_title_author_and_date_is_printed()
    {
        string text = Compiled.Text(Whole("\\documentclass{article}\\usepackage{titling}\\pagestyle{empty}\\pretitle{\\begin{center}\\Huge The }\\posttitle{\\par Report\\end{center}}\\predate{\\begin{flushright}Of }\\postdate{\\end{flushright}}"
            + "\\renewcommand\\maketitlehookc{\\begin{center}Hollin Edge\\end{center}}\\title{Walls}\\author{Ann \\and Bo}\\date{May}\\begin{document}\\maketitle Text\\end{document}"));
        Assert.StartsWith("The Walls Report Ann Bo Hollin Edge Of May Text", text, StringComparison.Ordinal);
    }

    [Fact]
    public void A_dropped_title_stands_that_much_lower()
    {
        double Top(string drop) => PdfWords.Of(Whole($"\\documentclass{{article}}\\usepackage{{titling}}\\pagestyle{{empty}}\\setlength{{\\droptitle}}{{{drop}}}\\title{{Walls}}\\author{{Ann}}\\date{{May}}\\begin{{document}}\\maketitle Text\\end{{document}}")).First(w => w.Text == "Walls").Top;
        Assert.Equal(40, Top("41pt") - Top("1pt"), 0.5);
    }

    [Fact]
    public void A_date_that_nobody_gives_is_today() =>
        Assert.DoesNotContain("@date", Compiled.Text(Whole("\\documentclass{article}\\begin{document}\\makeatletter On \\@date.\\end{document}")), StringComparison.Ordinal);

    // verse's documentation (from memory): a poem whose width is given stands in the middle of the line.
    [Fact]
    public void A_poem_of_a_given_width_stands_in_the_middle()
    {
        CompileResult pdf = Whole("\\documentclass{article}\\usepackage{verse}\\pagestyle{empty}\\begin{document}\\poemtitle*{Moss}\\noindent Margin\\settowidth{\\versewidth}{Stone upon a stone}\n\\begin{verse}[\\versewidth]\nStone upon a stone,\\\\\n\\vin moss,\\\\!\n\nand snow.\n\\end{verse}\\end{document}");
        List<PdfWord> words = PdfWords.Of(pdf);
        double margin = words.First(w => w.Text == "Margin").Left;
        double width = words.First(w => w.Text == "stone,").Right - words.First(w => w.Text == "Stone").Left;
        Assert.Equal((345 * 72 / 72.27 - width) / 2, words.First(w => w.Text == "Stone").Left - margin, 4.0);
        Assert.Equal(15, words.First(w => w.Text == "moss,").Left - words.First(w => w.Text == "Stone").Left, 1.0);
        Assert.True(words.First(w => w.Text == "and").Top - words.First(w => w.Text == "moss,").Top > 15);
    }

    // \@makefntext of the standard classes (their published documentation, from memory): the mark before a note is as small as the note.
    [Fact]
    public void The_mark_of_a_titles_note_stands_in_the_line_of_its_text()
    {
        CompileResult result = Whole("\\documentclass{article}\\title{Walls\\\\of stone\\thanks{Paid by Hollin.}}\\author{Ann\\thanks{Second}}\\date{}\\begin{document}\\maketitle {\\Huge Big\\footnote{Small}} words\\end{document}");
        List<PdfWord> words = PdfWords.Of(result);
        // Lines of notes are as far apart as their leading says, whatever the size of what has the note.
        double[] lines = [.. ((string[])["Paid", "Second", "Small"]).Select(w => words.Single(x => x.Text.EndsWith(w, StringComparison.Ordinal)).Bottom)];
        Assert.Equal(9.5, lines[1] - lines[0], 1.0);
        Assert.Equal(9.5, lines[2] - lines[1], 1.0);
    }
}
