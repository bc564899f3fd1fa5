using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>The class for papers in mathematics, as its published documentation has its pages (from memory).</summary>
public class AmsArticleTests
{
    private static CompileResult Paper(string front, string body = "\\section{Walls}Words.", string options = "") =>
        Compiled.Files(("main.tex", $"\\documentclass[{options}]{{amsart}}\n\\title[Short]{{On walls}}\n{front}\n\\begin{{document}}\n{body}\n\\end{{document}}\n"));

    private static string Printed(CompileResult result)
    {
        Assert.Empty(Compiled.Codes(result));
        return Compiled.Text(result);
    }

    // However authors are given, none is lost; the last comes after AND, of three or more after a comma.
    [Theory]
    [InlineData("\\author{Ann Lee}", "ON WALLS ANN LEE")]
    [InlineData("\\author{Ann Lee}\\author{Bo Tarn}", "ON WALLS ANN LEE AND BO TARN")]
    [InlineData("\\author{Ann Lee}\\author[B. Tarn]{Bo Tarn}\\author{Cy Vane}", "ON WALLS ANN LEE, BO TARN, AND CY VANE")]
    [InlineData("\\author{Ann Lee \\and Bo Tarn}", "ON WALLS ANN LEE, BO TARN")]
    public void Authors_are_gathered_below_the_title(string front, string printed) =>
        Assert.StartsWith(printed, Printed(Paper(front, "\\maketitle\\section{Walls}Words.")), StringComparison.Ordinal);

    [Fact]
    public void The_PDF_says_all_authors() => Assert.Equal("Ann Lee; Bo Tarn", Paper("\\author{Ann Lee}\\author{Bo Tarn}", "\\maketitle Words.").Print.Author);

    // It is written before \maketitle, and printed below the title; after it, where it stands.
    [Theory]
    [InlineData("\\begin{abstract}We look.\\end{abstract}\\maketitle\\section{Walls}Words.")]
    [InlineData("\\maketitle\\begin{abstract}We look.\\end{abstract}\\section{Walls}Words.")]
    public void The_abstract_stands_below_the_title(string body) =>
        Assert.StartsWith("ON WALLS ANN LEE Abstract. We look. 1. Walls", Printed(Paper("\\author{Ann Lee}", body)), StringComparison.OrdinalIgnoreCase);

    [Fact]
    public void What_belongs_to_the_paper_stands_at_the_foot_and_addresses_at_the_end()
    {
        CompileResult result = Paper("\\author{Ann Lee}\\address{School\\\\ Hollin Edge}\\email{ann@hollin-edge.example}\\subjclass[2010]{52A40}\\keywords{stone, moss}\\thanks{By nobody}\\date{May 2026}\\dedicatory{To walls}", "\\maketitle Words.\\newpage More.");
        List<PdfWord> words = PdfWords.Of(result);
        string first = string.Join(' ', words.Where(w => w.Page == 1).Select(w => w.Text));
        Assert.Contains("To walls", first, StringComparison.Ordinal);
        foreach (string note in (string[])["Date: May 2026.", "2010 Mathematics Subject Classification. 52A40.", "Key words and phrases. stone, moss.", "By nobody"])
        {
            Assert.Contains(note, first, StringComparison.Ordinal);
        }

        Assert.True(words.First(w => w.Text == "Classification.").Top > words.First(w => w.Text == "Words.").Top + 200);
        string last = string.Join(' ', words.Where(w => w.Page == 2).Select(w => w.Text));
        Assert.EndsWith("More. School, Hollin Edge Email address: ann@hollin-edge.example", last, StringComparison.OrdinalIgnoreCase);
        Assert.StartsWith("2 ANN LEE", last, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("\\subjclass{52A40}", "2020 Mathematics Subject Classification. 52A40.")]
    [InlineData("\\subjclass[1991]{52A40}", "1991 Mathematics Subject Classification. 52A40.")]
    [InlineData("\\renewcommand{\\subjclassname}{\\textup{2010} Subjects}\\subjclass{52A40.}", "2010 Subjects. 52A40.")]
    public void The_subjects_have_the_year_of_their_scheme(string front, string printed) => Assert.Contains(printed, Printed(Paper(front, "\\maketitle Words.")), StringComparison.Ordinal);

    // The class's own default is at the left.
    [Theory]
    [InlineData("", true)]
    [InlineData("reqno", false)]
    [InlineData("leqno,centertags", true)]
    public void Numbers_of_formulas_stand_at_the_left_unless_asked_for(string options, bool isLeft)
    {
        CompileResult result = Paper("", "\\begin{equation}xx=yy\\end{equation}", options);
        Assert.Empty(Compiled.Codes(result, "check"));
        List<PdfWord> words = PdfWords.Of(result);
        Assert.Equal(isLeft, words.First(w => w.Text == "(1)").Left < words.Where(w => w.Text != "(1)" && w.Page == 1).Min(w => w.Left) + 100 && words.First(w => w.Text == "(1)").Left < 250);
    }
}
