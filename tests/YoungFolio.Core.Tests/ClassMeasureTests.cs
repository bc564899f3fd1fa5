using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>
/// The page as the standard classes make it. Source of the values: “Standard Document Classes for LaTeX version 2e” by
/// L. Lamport, F. Mittelbach and J. Braams, the published documentation of the classes, from memory.
/// </summary>
public sealed class ClassMeasureTests
{
    private const double Point = 72 / 72.27;

    private static readonly string s_prose = string.Join(' ', Enumerable.Repeat("lichen grows on walls of grey stone in the shade of ash and elm", 160));

    private static CompileResult Class(string options, string name, string body, string preamble = "") =>
        Compiled.Files(("main.tex", $"\\documentclass[{options}]{{{name}}}\n{preamble}\n\\begin{{document}}\n{body}\n\\end{{document}}\n"));

    private static string Shown(string options, string name, string lengths) =>
        PdfWords.Joined(Class(options, name, "\\pagestyle{empty}" + string.Join("\\ ", lengths.Split(' ').Select(l => $"\\the\\{l}"))));

    private static double[] Baselines(CompileResult result, params string[] words)
    {
        List<PdfWord> all = PdfWords.Of(result);
        return [.. words.Select(w => all.One(w).Bottom)];
    }

    // Where the ink of a word's letters stands: the bottom of what poppler calls a word depends on its font, the baseline doesn't.
    private static double Baseline(CompileResult result, string file, int line, int column) =>
        result.Map.FindSpot(file, line, column) is { } spot ? (spot.Y + (0.7551 * spot.Height)) / Point : double.NaN;

    [Theory]
    [InlineData("10pt,letterpaper", "article", "345.0pt 550.0pt 62.0pt 16.0pt 65.0pt")]
    [InlineData("11pt,letterpaper", "article", "360.0pt 541.40024pt 54.0pt 21.0pt 59.0pt")]
    [InlineData("12pt,letterpaper", "article", "390.0pt 548.5pt 39.0pt 17.0pt 44.0pt")]
    [InlineData("10pt,a4paper", "article", "345.0pt 598.0pt 53.0pt 17.0pt 57.0pt")]
    [InlineData("10pt,a4paper,twoside", "article", "345.0pt 598.0pt 28.0pt 17.0pt 111.0pt")]
    [InlineData("10pt,a4paper,twocolumn", "article", "452.0pt 598.0pt 0.0pt 17.0pt 20.0pt")]
    public void The_text_block_has_the_published_measures(string options, string name, string lengths)
    {
        string[] expected = lengths.Split(' ');
        string[] actual = Shown(options, name, "textwidth textheight oddsidemargin topmargin marginparwidth").Split(' ');
        // Lengths that are whole points in the classes; \textheight of 11pt has a leading of 13.6 points.
        Assert.Equal(expected.Length, actual.Length);
        Assert.All(expected.Zip(actual), p => Assert.Equal(double.Parse(p.First[..^2], System.Globalization.CultureInfo.InvariantCulture), double.Parse(p.Second[..^2], System.Globalization.CultureInfo.InvariantCulture), 0.001));
    }

    [Theory]
    [InlineData("10pt", "article", "15.0pt 25.0pt 30.0pt 10.0pt 11.0pt 6.65pt 25.0pt 22.0pt 5.0pt")]
    [InlineData("11pt", "article", "17.0pt 25.0pt 30.0pt 11.0pt 10.0pt 7.7pt 27.37pt 24.09pt 5.475pt")]
    [InlineData("12pt", "article", "17.62pt 25.0pt 30.0pt 12.0pt 10.0pt 8.4pt 29.375pt 25.85pt 5.875pt")]
    [InlineData("10pt", "book", "15.0pt 18.07pt 25.29pt 10.0pt 11.0pt 6.65pt 25.0pt 22.0pt 5.0pt")]
    [InlineData("11pt", "book", "17.0pt 19.87pt 27.46pt 11.0pt 10.0pt 7.7pt 27.37pt 24.09pt 5.475pt")]
    [InlineData("10pt,twocolumn", "article", "10.0pt 25.0pt 30.0pt 10.0pt 10.0pt 6.65pt 20.0pt 22.0pt 5.0pt")]
    public void Lengths_follow_the_type_size(string options, string name, string lengths)
    {
        string[] actual = Shown(options, name, "parindent headsep footskip topskip marginparsep footnotesep leftmargini leftmarginii labelsep").Split(' ');
        Assert.All(lengths.Split(' ').Zip(actual), p => Assert.Equal(double.Parse(p.First[..^2], System.Globalization.CultureInfo.InvariantCulture), double.Parse(p.Second[..^2], System.Globalization.CultureInfo.InvariantCulture), 0.02));
    }

    [Theory]
    [InlineData("10pt", "", "topsep 8.0pt plus 2.0pt minus 4.0pt")]
    [InlineData("10pt", "\\small", "topsep 4.0pt plus 2.0pt minus 2.0pt")]
    [InlineData("10pt", "\\footnotesize", "topsep 3.0pt plus 1.0pt minus 1.0pt")]
    [InlineData("12pt", "", "topsep 10.0pt plus 4.0pt minus 6.0pt")]
    [InlineData("11pt", "", "itemsep 4.5pt plus 2.0pt minus 1.0pt")]
    [InlineData("10pt", "", "abovedisplayskip 10.0pt plus 2.0pt minus 5.0pt")]
    [InlineData("12pt", "", "abovedisplayskip 12.0pt plus 3.0pt minus 7.0pt")]
    [InlineData("10pt", "\\small", "abovedisplayskip 8.5pt plus 3.0pt minus 4.0pt")]
    [InlineData("10pt", "\\footnotesize", "belowdisplayshortskip 3.0pt plus 1.0pt minus 2.0pt")]
    [InlineData("11pt", "", "belowdisplayshortskip 6.5pt plus 3.5pt minus 3.0pt")]
    [InlineData("12pt", "", "partopsep 3.0pt plus 2.0pt minus 2.0pt")]
    [InlineData("10pt", "", "textfloatsep 20.0pt plus 2.0pt minus 4.0pt")]
    [InlineData("12pt", "", "intextsep 14.0pt plus 4.0pt minus 4.0pt")]
    [InlineData("10pt", "", "abovecaptionskip 10.0pt")]
    [InlineData("10pt", "\\small\\normalsize", "topsep 8.0pt plus 2.0pt minus 4.0pt")]
    public void Spaces_follow_the_type_at_hand(string options, string size, string expected)
    {
        string[] parts = expected.Split(' ', 2);
        Assert.Equal(parts[1], PdfWords.Joined(Class(options, "article", $"\\pagestyle{{empty}}{size} \\the\\{parts[0]}")));
    }

    // The font definitions of Latin Modern give each size the cut that is drawn for it.
    [Theory]
    [InlineData("\\tiny x", "lmroman5-regular")]
    [InlineData("\\footnotesize x", "lmroman8-regular")]
    [InlineData("x", "lmroman10-regular")]
    [InlineData("\\large x", "lmroman12-regular")]
    [InlineData("\\LARGE x", "lmroman17-regular")]
    [InlineData("\\scriptsize\\bfseries x", "lmroman7-bold")]
    [InlineData("\\Huge\\bfseries x", "lmroman12-bold")]
    [InlineData("\\small\\itshape x", "lmroman9-italic")]
    [InlineData("\\LARGE\\slshape x", "lmromanslant17-regular")]
    [InlineData("\\footnotesize\\sffamily x", "lmsans8-regular")]
    [InlineData("\\small\\ttfamily x", "lmmono9-regular")]
    [InlineData("\\fontsize{10}{12}\\selectfont\\scshape x", "lmromancaps10-regular")]
    [InlineData("\\font\\own=cmr17 at 10pt \\own x", "lmroman17-regular")]
    [InlineData("\\font\\own=cmr5 scaled 4000 \\own x", "lmroman5-regular")]
    public void A_size_has_the_cut_that_is_drawn_for_it(string body, string font) =>
        Assert.Contains("+" + font, Compiled.Run("pdffonts", Class("", "article", "\\pagestyle{empty}" + body).Pdf, "FILE"), StringComparison.Ordinal);

    [Fact]
    public void Em_and_ex_are_those_of_the_font()
    {
        // cmr10, cmr12 and cmtt10 have quads of 10, 11.75 and 10.5 points, and cmr10 an x of 4.31 (their published font metrics, from memory).
        string[] actual = PdfWords.Joined(Class("", "article", "\\pagestyle{empty}\\newdimen\\x \\x=1em \\the\\x\\ \\x=1ex \\the\\x\\ {\\large\\x=1em \\the\\x}\\ {\\ttfamily\\x=1em \\the\\x}")).Split(' ');
        Assert.All(new[] { 10, 4.31, 11.75, 10.5 }.Zip(actual), p => Assert.Equal(p.First, double.Parse(p.Second[..^2], System.Globalization.CultureInfo.InvariantCulture), 0.02));
    }

    [Fact]
    public void A_page_holds_as_many_lines_as_its_height_says()
    {
        // (598 − 10) / 12 + 1 lines on A4 at 10 points.
        List<PdfWord> words = PdfWords.Of(Class("a4paper", "article", s_prose));
        Assert.Equal(50, words.Where(w => w.Page == 1 && w.Top < 730).Select(w => Math.Round(w.Top)).Distinct().Count());
    }

    [Fact]
    public void A_heading_right_below_a_heading_has_only_the_space_of_the_first()
    {
        // 2.3 ex and the leading of \large: 9.9 + 14 points from baseline to baseline.
        CompileResult result = Class("", "article", "\\section{Alpha}\n\\subsection{Beta}\nText.");
        double[] at = Baselines(result, "Alpha", "Beta");
        Assert.Equal(23.9, (at[1] - at[0]) / Point, 1.5);
    }

    [Fact]
    public void Spaces_of_lists_in_one_another_do_not_add_up()
    {
        double Gap(string body) => Baselines(Class("", "article", body), "omega", "alpha") is [var below, var above] ? (below - above) / Point : 0;
        const string One = "\\begin{itemize}\\item alpha\\end{itemize}\\noindent omega";
        const string Two = "\\begin{itemize}\\item x\\begin{itemize}\\item alpha\\end{itemize}\\end{itemize}\\noindent omega";
        Assert.Equal(Gap("x\n\n" + One), Gap("x\n\n" + Two), 0.1);
        // 12 + 8 in a paragraph, 2 more (\partopsep) where the list begins one.
        Assert.Equal(20, Gap("x " + One), 0.3);
        Assert.Equal(22, Gap("x\n\n" + One), 0.3);
    }

    [Fact]
    public void The_title_stands_as_the_class_says()
    {
        CompileResult result = Class("", "article", "\\maketitle\nText.", "\\title{Alpha}\\author{Beta}\\date{Gamma}");
        Assert.Empty(Compiled.Codes(result));
        string fonts = Compiled.Run("pdffonts", result.Pdf, "FILE");
        // Medium type throughout: \LARGE for the title, \large for the author.
        Assert.DoesNotContain("bold", fonts, StringComparison.Ordinal);
        Assert.Contains("lmroman17-regular", fonts, StringComparison.Ordinal);
        List<PdfWord> words = PdfWords.Of(result);
        // A line of 10, 2 em, 10 around what is centred, a leading of 22; then 1.5 em and the leadings.
        double top = (72.27 + 17 + 37) * Point;
        Assert.Equal(top + (62 * Point), words.One("Alpha").Bottom - (0.28 * 17.28 * Point), 2.5);
        Assert.Equal(15 + 14, (words.One("Beta").Bottom - words.One("Alpha").Bottom) / Point, 2.5);
        Assert.Equal(10 + 14, (words.One("Gamma").Bottom - words.One("Beta").Bottom) / Point, 0.5);
    }

    [Theory]
    [InlineData("article", "a4paper")]
    [InlineData("article", "twocolumn")]
    [InlineData("report", "a4paper")]
    [InlineData("article", "titlepage")]
    public void Notes_of_all_authors_stand_at_the_foot_in_order(string name, string options)
    {
        CompileResult result = Class(options, name, "\\maketitle\nText.", "\\title{Walls\\thanks{Grant one}}\\author{Ann\\thanks{First place} \\and Ben\\thanks{Second place} \\and Cy}\\date{May}");
        Assert.Empty(Compiled.Codes(result));
        List<PdfWord> words = [.. PdfWords.Of(result).Where(w => w.Page == 1)];
        double[] tops = [words.One("Grant").Top, words.One("First").Top, words.One("Second").Top];
        Assert.Equal(tops.Order(), tops);
        Assert.True(tops[0] > words.One("May").Top + 50);
        Assert.Equal(words.One("Ann").Top, words.One("Ben").Top, 1.0);
        // The line of authors is centred: as far from the left as from the right.
        double middle = (words.One("Ann").Left + words.One("Cy").Right) / 2;
        Assert.Equal(words.One("May").Middle, middle, 4.0);
    }

    [Fact]
    public void Chapters_begin_as_the_class_says()
    {
        CompileResult result = Class("a4paper", "report", "\\chapter{Alpha}\nBeta.");
        List<PdfWord> words = PdfWords.Of(result);
        // \vspace*{50pt} below the first baseline's place, 20 and the leading of \Huge, 40 and the text's.
        Assert.Equal(20 + 30, (words.One("Alpha").Bottom - words.One("Chapter").Bottom) / Point, 2.0);
        Assert.Equal(40 + 12, (words.One("Beta.").Bottom - words.One("Alpha").Bottom) / Point, 6.0);
        Assert.InRange((words.One("Chapter").Bottom / Point) - (72.27 + 17 + 37), 70, 85);
    }

    [Fact]
    public void A_second_line_in_the_contents_stands_below_the_title()
    {
        string title = string.Concat(Enumerable.Repeat("stones and walls ", 8));
        List<PdfWord> words = [.. PdfWords.Of(Class("", "article", $"\\tableofcontents\\section{{X}}\\subsection{{First {title} last}}")).TakeWhile(w => w.Text != "X" || w.Page > 1 || w.Top < 200)];
        PdfWord first = words.First(w => w.Text == "First");
        double second = words.Where(w => w.Top > first.Top + 5).MinBy(w => w.Top)!.Top;
        Assert.Equal(first.Left, words.Where(w => Math.Abs(w.Top - second) < 1).Min(w => w.Left), 0.5);
        // 1.5 em and 2.3 em from the left.
        Assert.Equal(38 * Point, first.Left - words.One("Contents").Left, 1.5);
    }

    [Fact]
    public void An_abstract_is_small_between_margins_and_a_section_in_two_columns()
    {
        CompileResult one = Class("", "article", "\\begin{abstract}Alpha beta.\\end{abstract}\n\\noindent Text");
        List<PdfWord> words = PdfWords.Of(one);
        // The margin of a list, and an indent of 1.5 em at nine points.
        Assert.Equal((25 + (1.5 * 9.25)) * Point, words.One("Alpha").Left - words.One("Text").Left, 0.6);
        Assert.Contains("lmroman9-bold", Compiled.Run("pdffonts", one.Pdf, "FILE"), StringComparison.Ordinal);
        CompileResult two = Class("twocolumn", "article", "\\begin{abstract}Alpha beta.\\end{abstract}\n\\noindent Text");
        Assert.Equal(PdfWords.Of(two).One("Abstract").Left, PdfWords.Of(two).One("Text").Left, 0.6);
        Assert.Contains("lmroman12-bold", Compiled.Run("pdffonts", two.Pdf, "FILE"), StringComparison.Ordinal);
    }

    [Fact]
    public void A_note_begins_where_its_mark_ends()
    {
        List<PdfWord> words = PdfWords.Of(Class("", "article", "\\noindent Text\\footnote{Alpha " + s_prose[..400] + "}"));
        // A box of 1.8 em at eight points: the mark stands at its right.
        Assert.Equal(1.8 * 8 * Point, words.One("Alpha").Left - words.One("Text").Left, 0.5);
    }

    [Theory]
    [InlineData("First: \\begin{itemize}\\item one\\item two\\end{itemize} after", "First: one two after")]
    [InlineData("Before \\[x=11\\] after.\n\nSecond.", "Before 11 after. Second.")]
    [InlineData("\\begin{quote}Quoted words\\end{quote}", "Quoted words")]
    [InlineData("\\begin{center}Middle\\end{center}", "Middle")]
    [InlineData("A table \\begin{tabular}{ll}one & two\\\\three & four\\end{tabular}", "A table one two three four")]
    public void A_note_holds_lists_quotations_and_displays(string note, string words)
    {
        CompileResult result = Class("", "article", $"\\noindent Text\\footnote{{{note}}}\\footnote{{Next}} goes on.");
        Assert.Empty(Compiled.Codes(result));
        List<PdfWord> all = PdfWords.Of(result);
        double foot = all.One("Text").Top + 200;
        Assert.All(words.Split(' '), w => Assert.True(all.First(p => p.Text.EndsWith(w, StringComparison.Ordinal)).Top > foot, w));
        // One note stands below the other, and nothing over anything.
        Assert.True(all.One("Next").Top > all.Last(p => p.Text.EndsWith(words.Split(' ')[^1], StringComparison.Ordinal)).Top + 5);
    }

    [Fact]
    public void Space_between_rows_of_a_display_is_set_by_its_length()
    {
        double Rows(string before)
        {
            List<PdfWord> words = PdfWords.Of(Class("", "article", before + "\\begin{align*}x&=11\\\\y&=22\\end{align*}", "\\usepackage{amsmath}"));
            return (words.One("22").Bottom - words.One("11").Bottom) / Point;
        }

        Assert.Equal(9, Rows("\\setlength{\\jot}{12pt}") - Rows(""), 0.1);
    }

    [Theory]
    [InlineData("\\textit{f})", true)]
    [InlineData("\\textit{f}.", false)]
    public void A_slanted_letter_does_not_lean_into_what_follows_upright(string body, bool corrected)
    {
        double Width(string text) => Class("", "article", $"\\pagestyle{{empty}}\\noindent {text}") is var r && PdfWords.Of(r) is [var first] ? first.Right - first.Left : 0;
        double kept = Width("\\textit{f}") + Width(body[^1..]);
        Assert.Equal(corrected, Width(body) > kept + 0.3);
    }
}
