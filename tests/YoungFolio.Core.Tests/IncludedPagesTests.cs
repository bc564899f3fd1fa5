using System.Text;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Pages of another PDF as pages of the manuscript, by the documentation of the package pdfpages (from memory).</summary>
public sealed class IncludedPagesTests
{
    // Four pages of A4, each with one word.
    private static readonly byte[] s_four = Compiled.Clean("Alder\\newpage Birch\\newpage Cedar\\newpage Dogwood", options: "a4paper").Pdf;

    private static CompileResult Set(string body, string preamble = "", string options = "a4paper") => Compiled.Bytes(
        ("main.tex", Encoding.UTF8.GetBytes($"\\documentclass[{options}]{{article}}\n\\usepackage{{pdfpages}}{preamble}\n\\begin{{document}}\n{body}\n\\end{{document}}\n")), ("four.pdf", s_four));

    private static CompileResult SetClean(string body, string preamble = "", string options = "a4paper")
    {
        CompileResult result = Set(body, preamble, options);
        Assert.Empty(result.Report.Findings.Select(f => f.Message));
        return result;
    }

    private static string ByPage(CompileResult result) =>
        string.Join(" | ", PdfWords.Of(result).GroupBy(w => w.Page).Select(p => string.Join(' ', p.Select(w => w.Text))));

    [Theory]
    [InlineData("", "Alder")]
    [InlineData("[pages=-]", "Alder | Birch | Cedar | Dogwood")]
    [InlineData("[pages=3]", "Cedar")]
    [InlineData("[pages={1,3-4}]", "Alder | Cedar | Dogwood")]
    [InlineData("[pages=3-]", "Cedar | Dogwood")]
    [InlineData("[pages=-2]", "Alder | Birch")]
    [InlineData("[pages=last]", "Dogwood")]
    [InlineData("[pages=last-2]", "Dogwood | Cedar | Birch")]
    [InlineData("[pages={2,2}]", "Birch | Birch")]
    [InlineData("[pages=-,nup=2x1]", "Alder Birch | Cedar Dogwood")]
    [InlineData("[pages=-,nup=1x3]", "Alder Birch Cedar | Dogwood")]
    [InlineData("[pages={1,{},2},nup=2x1]", "Alder | Birch")]
    public void The_pages_come_in_the_order_that_is_asked_for_and_have_no_head_or_foot(string options, string pages) =>
        Assert.Equal(pages, ByPage(SetClean($"\\includepdf{options}{{four.pdf}}")));

    [Fact]
    public void They_stand_between_the_pages_of_the_text_which_is_set_as_before()
    {
        CompileResult result = SetClean("Before.\\includepdf[pages={1,2}]{four}After.");
        Assert.Equal("Before. 1 | Alder | Birch | After. 4", ByPage(result));
        List<PdfWord> words = PdfWords.Of(result);
        Assert.Equal(words.One("Before.").Left, words.One("After.").Left, 0.1);
        Assert.Equal(words.One("Before.").Top, words.One("After.").Top, 0.1);
    }

    [Theory]
    [InlineData("a4paper")]
    [InlineData("a4paper,twoside")]
    [InlineData("a4paper,twocolumn")]
    [InlineData("a4paper,12pt")]
    public void A_page_of_the_same_paper_stays_where_its_words_stood(string options)
    {
        CompileResult original = Compiled.Bytes(("main.tex", Encoding.UTF8.GetBytes("\\documentclass[a4paper]{article}\\pagestyle{empty}\\begin{document}Alder\\newpage Birch\\end{document}")));
        PdfWord[] expected = [.. PdfWords.Of(original)];
        PdfWord[] actual = [.. PdfWords.Of(SetClean("\\includepdf[pages=1-2]{four}", options: options))];
        Assert.Equal(expected.Length, actual.Length);
        Assert.All(expected.Zip(actual), p =>
        {
            Assert.Equal(p.First.Left, p.Second.Left, 0.1);
            Assert.Equal(p.First.Top, p.Second.Top, 0.1);
        });
    }

    // The middle of A4 in PDF points.
    private const double Across = 595.28 / 2;
    private const double Down = 841.89 / 2;

    [Theory]
    [InlineData("scale=0.5", 0.5)]
    [InlineData("scale=1.25", 1.25)]
    [InlineData("noautoscale,scale=0.5", 0.5)]
    [InlineData("width=0.5\\paperwidth", 0.5)]
    public void It_is_scaled_from_the_middle_of_the_paper(string options, double scale)
    {
        PdfWord whole = PdfWords.Of(SetClean("\\includepdf{four}")).One("Alder");
        PdfWord scaled = PdfWords.Of(SetClean($"\\includepdf[{options}]{{four}}")).One("Alder");
        Assert.Equal(Across + (scale * (whole.Left - Across)), scaled.Left, 0.3);
        Assert.Equal(Down + (scale * (whole.Bottom - Down)), scaled.Bottom, 0.3);
    }

    [Fact]
    public void It_is_moved_to_the_right_and_up()
    {
        PdfWord whole = PdfWords.Of(SetClean("\\includepdf{four}")).One("Alder");
        PdfWord moved = PdfWords.Of(SetClean("\\includepdf[offset=20bp 30bp]{four}")).One("Alder");
        Assert.Equal(20, moved.Left - whole.Left, 0.1);
        Assert.Equal(30, whole.Top - moved.Top, 0.1);
    }

    [Fact]
    public void Two_on_a_sheet_across_fill_its_halves()
    {
        CompileResult result = SetClean("\\includepdf[pages=1-2,nup=2x1,landscape]{four}");
        Assert.Contains("<page width=\"841.89", Compiled.Run("pdftotext", result.Pdf, "-bbox", "FILE", "-"), StringComparison.Ordinal);
        List<PdfWord> words = PdfWords.Of(result);
        Assert.Equal(Down, words.One("Birch").Left - words.One("Alder").Left, 0.5);
        Assert.Equal(words.One("Birch").Top, words.One("Alder").Top, 0.1);
    }

    [Fact]
    public void A_gap_parts_those_of_a_sheet()
    {
        List<PdfWord> near = PdfWords.Of(SetClean("\\includepdf[pages=1-4,nup=2x2]{four}"));
        List<PdfWord> far = PdfWords.Of(SetClean("\\includepdf[pages=1-4,nup=2x2,delta=10mm 20mm]{four}"));
        Assert.Equal(Across, near.One("Birch").Left - near.One("Alder").Left, 0.5);
        Assert.Equal(Down, near.One("Cedar").Top - near.One("Alder").Top, 0.5);
        // Half of the paper, and half of the gap.
        Assert.Equal(Across + (5 * 72 / 25.4), far.One("Birch").Left - far.One("Alder").Left, 0.5);
        Assert.Equal(Down + (10 * 72 / 25.4), far.One("Cedar").Top - far.One("Alder").Top, 0.5);
    }

    [Fact]
    public void Turned_by_a_quarter_it_reads_upwards_and_fits()
    {
        CompileResult result = SetClean("\\includepdf[angle=90]{four}");
        PdfWord word = PdfWords.Of(result).One("Alder");
        Assert.True(word.Bottom - word.Top > word.Right - word.Left);
        Assert.InRange(word.Left, 0, 2 * Across);
        Assert.InRange(word.Bottom, Down, 2 * Down);
    }

    [Fact]
    public void Each_has_a_frame_if_wanted() =>
        Assert.Equal(8, PdfWords.Rules(SetClean("\\includepdf[pages=1-2,nup=1x2,frame]{four}")).Count - PdfWords.Rules(SetClean("\\includepdf[pages=1-2,nup=1x2]{four}")).Count);

    [Fact]
    public void The_contents_list_what_they_are_told_with_its_page()
    {
        CompileResult result = SetClean("\\tableofcontents\\newpage\\includepdf[pages=-,addtotoc={1,section,1,A paper,,3,subsection,2,Its end,sec:end}]{four}\\pageref{sec:end}");
        string words = ByPage(result);
        string list = words[..words.IndexOf('|', StringComparison.Ordinal)];
        Assert.StartsWith("Contents A paper", list, StringComparison.Ordinal);
        // The pages of the two, and the list's own.
        Assert.Equal("124", string.Concat(list.Where(char.IsAsciiDigit).Order()));
        Assert.EndsWith("| Dogwood | 4 6", words, StringComparison.Ordinal);
    }

    [Fact]
    public void What_stands_on_the_page_besides_is_the_manuscripts_own() =>
        Assert.Equal("Alder 1 | Birch 2", ByPage(SetClean("\\includepdf[pages=1-2,pagecommand={\\thispagestyle{plain}}]{four}")));

    [Fact]
    public void Options_hold_for_all_that_follow_and_several_files_come_in_one()
    {
        Assert.Equal("Cedar | Alder", ByPage(SetClean("\\includepdfset{pages=3}\\includepdf{four}\\includepdf[pages=1]{four}")));
        Assert.Equal("Birch | Cedar | Dogwood | Alder", ByPage(SetClean("\\includepdfmerge{four.pdf,2,3-4,four.pdf,1}")));
    }

    [Theory]
    [InlineData("Words.\\includepdf[pages=7]{four}", "no-such-page")]
    [InlineData("Words.\\includepdf[pages={1,x}]{four}", "no-such-page")]
    [InlineData("Words.\\includepdf{none.pdf}", "missing-file")]
    [InlineData("Words.\\includepdf[page=2]{four}", "unknown-option")]
    public void What_cannot_be_had_is_said_and_the_rest_is_set(string body, string code)
    {
        CompileResult result = Set(body);
        Assert.Equal(code, Assert.Single(result.Report.Findings).Code);
        Assert.Contains("Words.", ByPage(result), StringComparison.Ordinal);
    }
}
