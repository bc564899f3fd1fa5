using System.Text.RegularExpressions;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>
/// Entries of the contents: as the standard classes set them (their published sources, from memory), and as classes and packages change them
/// (the documentation of tocloft, titletoc and minitoc, from memory).
/// </summary>
public sealed partial class ContentsLookTests
{
    // PDF points of a printer's point.
    private const double Bp = 72 / 72.27;

    private const string Long = "a title that is so long that it takes more than one line of the contents of this report";

    private static CompileResult Set(string markup, string preamble = "", string kind = "report")
    {
        CompileResult result = Compiled.Files(("main.tex", $"\\documentclass{{{kind}}}{preamble}\\begin{{document}}{markup}\\end{{document}}"));
        Assert.Equal([], result.Report.Findings.Select(f => f.Message));
        return result;
    }

    // The words of the first line with a word, from left to right.
    private static List<PdfWord> Row(List<PdfWord> words, string word)
    {
        PdfWord here = words.First(w => w.Text == word);
        return [.. words.Where(w => w.Page == here.Page && Math.Abs(w.Bottom - here.Bottom) < 3).OrderBy(w => w.Left)];
    }

    private static double Margin(List<PdfWord> words) => words[0].Left;

    [Theory]
    // Indent and room for the number of each level in points, at 10 pt: 1.5, 2.3 em and so on; a chapter is set in bold, whose em is 11.5 pt.
    [InlineData("report", "\\section{1x}", "1x", 15, 23)]
    [InlineData("report", "\\subsection{2x}", "2x", 38, 32)]
    [InlineData("article", "\\subsection{2x}", "2x", 15, 23)]
    [InlineData("article", "\\subsubsection{3x}", "3x", 38, 32)]
    [InlineData("report", "\\begin{figure}\\caption{4x}\\end{figure}", "4x", 15, 23)]
    public void A_level_has_its_indent_and_room(string kind, string markup, string word, double indent, double room)
    {
        List<PdfWord> words = PdfWords.Of(Set($"\\tableofcontents\\listoffigures\\newpage{(kind == "report" ? "\\chapter{C}" : "\\section{C}")}{markup}", kind: kind));
        List<PdfWord> row = Row(words, word);
        Assert.Equal(indent * Bp, row[0].Left - Margin(words), 0.3);
        Assert.Equal(room * Bp, row[1].Left - row[0].Left, 0.3);
    }

    [Fact]
    public void A_long_title_leaves_room_at_the_right_and_hangs()
    {
        List<PdfWord> words = PdfWords.Of(Set($"\\tableofcontents\\chapter{{C}}\\section{{First {Long}}}"));
        List<PdfWord> entry = [.. words.SkipWhile(w => w.Text != "First").TakeWhile(w => w.Text != "Chapter")];
        PdfWord second = entry.First(w => w.Top > entry[0].Top + 5 && w.Text != ".");
        Assert.Equal(entry[0].Left, second.Left, 0.1);
        // \@tocrmarg is 2.55 em of the line's 345 pt.
        double right = Margin(words) + (345 * Bp);
        Assert.InRange(entry.TakeWhile(w => w.Top < second.Top).Max(w => w.Right), right - 60, right - (25.4 * Bp));
        Assert.Equal(right, entry.Last(w => w.Text != ".").Right, 0.3);
    }

    [Fact]
    public void A_number_wider_than_its_room_gets_more()
    {
        List<PdfWord> words = PdfWords.Of(Set("\\tableofcontents\\renewcommand{\\thechapter}{\\Roman{chapter}}\\setcounter{chapter}{27}\\chapter{Last}"));
        List<PdfWord> row = Row(words, "XXVIII");
        Assert.True(row[1].Left > row[0].Right + 2);
    }

    [Fact]
    public void Words_keep_what_is_their_own_in_the_type_of_their_level()
    {
        CompileResult result = Set("\\tableofcontents\\chapter{Plain \\emph{leaning}}");
        Assert.EndsWith("roman10-bold", FontOf(result, "Plain"), StringComparison.Ordinal);
        Assert.EndsWith("roman10-bolditalic", FontOf(result, "leaning"), StringComparison.Ordinal);
    }

    // ---- changed by hand --------------------------------------------------------------------------------------

    [Fact]
    public void A_level_that_a_manuscript_or_its_class_defines_anew_is_set_so()
    {
        List<PdfWord> words = PdfWords.Of(Set("\\tableofcontents\\chapter{C}\\section{1x}\\subsection{2x}",
            "\\makeatletter\\renewcommand*\\l@section{\\@dottedtocline{1}{3em}{4em}}\\renewcommand*\\l@chapter[2]{\\par\\noindent\\MakeUppercase{Part} #1: #2\\par}\\def\\l@subsection#1#2{{\\leftskip5em\\rightskip5em plus1fil\\parfillskip0pt #1\\hfill(#2)\\par}}\\makeatother"));
        List<PdfWord> row = Row(words, "1x");
        Assert.Equal(30 * Bp, row[0].Left - Margin(words), 0.3);
        Assert.Equal(40 * Bp, row[1].Left - row[0].Left, 0.3);
        Assert.Contains("PART 1 C: 2", string.Join(' ', words.Select(w => w.Text)), StringComparison.Ordinal);
        Assert.Equal((345 - 50) * Bp, words.One("(2)").Right - Margin(words), 0.6);
    }

    [Fact]
    public void Widths_of_pages_and_dots_are_taken_from_the_kernels_names()
    {
        int CountOfDots(string distance) => PdfWords.Of(Set("\\tableofcontents\\chapter{C}\\section{1x}", $"\\makeatletter\\renewcommand{{\\@dotsep}}{{{distance}}}\\renewcommand{{\\@tocrmarg}}{{6em}}\\makeatother")).Count(w => w.Text == ".");
        Assert.InRange(CountOfDots("4.5"), 32, 38);
        Assert.InRange(CountOfDots("20"), 7, 11);
        Assert.Equal(0, CountOfDots("10000"));
    }

    [Fact]
    public void What_is_added_to_the_contents_stands_there_and_may_end_them()
    {
        string text = Lines(Set("""
            \tableofcontents\chapter{One}\section{In}
            \addtocontents{toc}{\protect\vspace{20pt}\textbf{More of it}\par}
            \addtocontents{toc}{\protect\setcounter{tocdepth}{0}}
            \addtocontents{lot}{Nobody sees this.}
            \chapter{Two}\section{Out}
            \addtocontents{toc}{\protect\setcounter{tocdepth}{2}}
            \section{Back}Depth \thetocdepth
            """, "\\makeatletter\\def\\thetocdepth{\\number\\c@tocdepth}\\makeatother"));
        Assert.StartsWith("Contents…1 One 2…1.1 In . 2…More of it…2 Two 3…2.2 Back . 3…Chapter 1", text, StringComparison.Ordinal);
        Assert.EndsWith("Depth 2", text, StringComparison.Ordinal);
    }

    // Lines of the pages with a … between; runs of dots are one, and pages' own numbers are left out.
    private static string Lines(CompileResult result) => string.Join('…', Dots().Replace(Compiled.Run("pdftotext", result.Pdf, "-layout", "FILE", "-"), " .")
        .Split('\n', '\f').Select(l => string.Join(' ', l.Split(' ', StringSplitOptions.RemoveEmptyEntries))).Where(l => l.Length > 0 && !int.TryParse(l, out _)));

    [GeneratedRegex(@"(?: \.)+(?= +\d)")]
    private static partial Regex Dots();

    [GeneratedRegex("<fontspec id=\"(\\d+)\"[^>]*family=\"([^\"]+)\"|<text[^>]*font=\"(\\d+)\"[^>]*>(.*?)</text>")]
    private static partial Regex Pieces();

    // The font that a piece of text is in, by poppler.
    private static string FontOf(CompileResult result, string words)
    {
        List<Match> all = [.. Pieces().Matches(Compiled.Run("pdftohtml", result.Pdf, "-xml", "-stdout", "-i", "-fontfullname", "FILE")).Cast<Match>()];
        Match piece = all.First(m => m.Groups[4].Value.Contains(words, StringComparison.Ordinal));
        return all.First(m => m.Groups[1].Success && m.Groups[1].Value == piece.Groups[3].Value).Groups[2].Value;
    }

    [Fact]
    public void Space_between_paragraphs_spreads_the_contents_but_not_with_parskip()
    {
        double Distance(string preamble)
        {
            List<PdfWord> words = PdfWords.Of(Set("\\tableofcontents\\chapter{C}\\section{1x}\\section{2x}", preamble));
            return words.First(w => w.Text == "2x").Top - words.First(w => w.Text == "1x").Top;
        }

        double usual = Distance("");
        Assert.Equal(12 * Bp, usual, 0.3);
        Assert.Equal(usual + (9 * Bp), Distance("\\setlength{\\parskip}{9pt}"), 0.3);
        Assert.Equal(usual, Distance("\\usepackage{parskip}"), 0.3);
    }

    // ---- packages ---------------------------------------------------------------------------------------------

    [Fact]
    public void Tocloft_changes_each_part_of_an_entry()
    {
        CompileResult result = Set("\\tableofcontents\\chapter{C}\\section{1x}\\subsection{2x}", """
            \usepackage{tocloft}\renewcommand{\cftchappresnum}{Chapter~}\renewcommand{\cftchapaftersnum}{:}\setlength{\cftchapnumwidth}{6em}
            \renewcommand{\cftchapfont}{\itshape}\renewcommand{\cftchapleader}{\cftdotfill{\cftdotsep}}\renewcommand{\cftsecleader}{\cftdotfill{\cftnodots}}
            \renewcommand{\cftsecafterpnum}{!}\setlength{\cftbeforesecskip}{20pt}\cftsetindents{subsection}{5em}{4em}\cftpagenumbersoff{subsec}
            \renewcommand{\cfttoctitlefont}{\hfill\large}\renewcommand{\cftaftertoctitle}{\hfill}
            """);
        List<PdfWord> words = [.. PdfWords.Of(result).TakeWhile(w => w.Page == 1)];
        PdfWord title = words.One("Contents");
        double left = words.First(w => w.Text.StartsWith("Chapter", StringComparison.Ordinal)).Left;
        Assert.Equal(345 / 2 * Bp, title.Middle - left, 0.5);
        List<PdfWord> chapter = Row(words, "C");
        Assert.StartsWith("Chapter 1: C .", string.Join(' ', chapter.Select(w => w.Text)).Replace('\u00a0', ' '), StringComparison.Ordinal);
        Assert.Equal(60 * Bp, chapter.One("C").Left - left, 0.3);
        List<PdfWord> section = Row(words, "1x");
        Assert.Equal("1.1 1x 2!", string.Join(' ', section.Select(w => w.Text)));
        Assert.Equal(32 * Bp, section[0].Bottom - chapter[0].Bottom, 0.5);
        List<PdfWord> last = Row(words, "2x");
        Assert.Equal("1.1.1 2x", string.Join(' ', last.Select(w => w.Text)));
        Assert.Equal(50 * Bp, last[0].Left - left, 0.3);
        Assert.Equal(40 * Bp, last[1].Left - last[0].Left, 0.3);
    }

    [Theory]
    [InlineData("\\usepackage{tocloft}", "\\tableofcontents\\listoffigures", 1)]
    [InlineData("\\usepackage[titles]{tocloft}", "\\tableofcontents\\listoffigures", 2)]
    public void With_tocloft_lists_follow_one_another_unless_titles_stay(string package, string markup, int page)
    {
        List<PdfWord> words = PdfWords.Of(Set(markup + "\\chapter{C}\\begin{figure}\\caption{Pole}\\end{figure}", package));
        Assert.Equal(page, words.First(w => w.Text == "Pole").Page);
    }

    [Fact]
    public void A_list_of_ones_own_is_printed_by_its_name()
    {
        string text = Lines(Set("\\listofanswer\\chapter{C}\\refstepcounter{answer}\\addcontentsline{ans}{answer}{\\protect\\numberline{\\theanswer}Forty-two}\\theanswer",
            "\\usepackage{tocloft}\\newcommand{\\listanswername}{Answers}\\newlistof[chapter]{answer}{ans}{\\listanswername}"));
        Assert.StartsWith("Answers…1.1 Forty-two . ", text, StringComparison.Ordinal);
    }

    [Fact]
    public void Titletoc_sets_entries_by_its_commands()
    {
        CompileResult result = Set("\\tableofcontents\\section{One}\\subsection{Two}\\section*{None}\\addcontentsline{toc}{section}{None}", """
            \usepackage{titletoc}
            \titlecontents{section}[3em]{\vspace{11pt}}{\contentslabel[(\thecontentslabel)]{2em}}{\hspace*{-1em}}{\quad on \contentspage[\thecontentspage.]}[]
            \dottedcontents{subsection}[6em]{}{3em}{2em}
            """, "article");
        List<PdfWord> words = PdfWords.Of(result);
        double left = Margin(words);
        List<PdfWord> one = Row(words, "One");
        Assert.Equal("(1) One on 1.", string.Join(' ', one.Select(w => w.Text)));
        Assert.Equal(10 * Bp, one[0].Left - left, 0.3);
        Assert.Equal(30 * Bp, one[1].Left - left, 0.3);
        Assert.Equal(20 * Bp, words.First(w => w.Text == "None").Left - left, 0.3);
        List<PdfWord> two = Row(words, "Two");
        Assert.Equal(30 * Bp, two[0].Left - left, 0.3);
        Assert.Equal(60 * Bp, two[1].Left - left, 0.3);
        // Dots 2 em apart.
        List<PdfWord> dots = [.. two.Where(w => w.Text == ".")];
        Assert.InRange(dots.Count, 9, 14);
        Assert.Equal(20 * Bp, dots[1].Left - dots[0].Left, 0.05);
    }

    [Theory]
    [InlineData("\\usepackage{minitoc}", "\\minitoc", "Contents…2.1 Two a . 2…2.2 Two b . 2")]
    [InlineData("\\usepackage{minitoc}\\setcounter{minitocdepth}{1}\\nomtctitle", "\\minitoc", "2.1 Two a . 2…2.2 Two b . 2")]
    [InlineData("\\usepackage{minitoc}\\mtcsettitle{minitoc}{Here}", "\\minitoc", "Here…2.1 Two a . 2…2.2 Two b . 2")]
    [InlineData("\\usepackage{titletoc}", "\\startcontents\\printcontents{p}{1}{\\setcounter{tocdepth}{1}}", "2.1 Two a . 2…2.2 Two b . 2")]
    public void A_chapter_has_contents_of_its_own(string package, string command, string printed)
    {
        string text = Lines(Set($"\\chapter{{One}}\\section{{One a}}\\chapter{{Two}}{command}\\section{{Two a}}\\section{{Two b}}\\chapter{{Three}}\\section{{Three a}}", package));
        Assert.Contains($"Chapter 2…Two…{printed}…2.1 Two a…", text, StringComparison.Ordinal);
    }

    [Fact]
    public void Classes_with_sans_serif_headings_set_the_outermost_entries_so()
    {
        CompileResult result = Set("\\tableofcontents\\chapter{One}\\section{Two}", kind: "scrreprt");
        Assert.EndsWith("sans10-bold", FontOf(result, "One"), StringComparison.Ordinal);
        Assert.EndsWith("roman10-regular", FontOf(result, "Two"), StringComparison.Ordinal);
    }

    // ---- what it rests on -------------------------------------------------------------------------------------

    [Theory]
    // A length may be followed by plus and minus, a glue not (The TeXbook, p. 270).
    [InlineData("\\newdimen\\d\\d=3pt\\newskip\\s\\s=\\d plus 2pt minus 1pt\\relax\\the\\s", "3.0pt plus 2.0pt minus 1.0pt")]
    [InlineData("\\newskip\\g\\g=3pt plus 1pt\\newskip\\s\\s=\\g plus 2pt\\the\\s", "plus 2pt3.0pt plus 1.0pt")]
    [InlineData("\\newskip\\s\\s=-\\dimexpr2pt\\relax plus 2pt\\relax\\the\\s", "-2.0pt plus 2.0pt")]
    // \setlength takes whatever comes to a register's name.
    [InlineData("\\newlength\\zz\\expandafter\\let\\csname my len\\endcsname\\zz\\setlength{\\csname my len\\endcsname}{3pt}\\addtolength{\\csname my len\\endcsname}{1pt}\\the\\zz", "4.0pt")]
    [InlineData("\\newlength\\zz\\def\\which{\\zz}\\setlength{\\which}{3pt}\\settowidth\\which{}\\setlength\\which{5pt}\\the\\zz", "5.0pt")]
    [InlineData("\\setlength{\\dimen0}{3pt}\\addtolength{\\dimen0}{2pt}\\the\\dimen0", "5.0pt")]
    public void Lengths_are_read_as_the_language_has_them(string markup, string printed) => Assert.Equal(printed + " 1", Compiled.Text(Set(markup, kind: "article")).Replace("−", "-", StringComparison.Ordinal));

    [Fact]
    public void A_last_line_is_filled_as_the_manuscript_says()
    {
        double Right(string setting) => PdfWords.Of(Set($"\\noindent{{{setting}some words here that end\\par}}", kind: "article")).Single(w => w.Text == "end").Right;
        List<PdfWord> whole = PdfWords.Of(Set("\\noindent x\\hfill y", kind: "article"));
        double edge = whole.One("y").Right;
        Assert.Equal(edge, Right("\\parfillskip=0pt\\spaceskip=0pt plus 1fil "), 0.5);
        Assert.Equal(edge - (50 * Bp), Right("\\parfillskip=50pt\\hfill "), 0.5);
        Assert.True(Right("") < edge - 100);
    }

    [Fact]
    public void Leaders_repeat_any_box_on_one_grid_from_line_to_line()
    {
        List<PdfWord> words = PdfWords.Of(Set("\\noindent A\\leaders\\hbox to 20pt{\\hss*\\hss}\\hfill Z\\par\\noindent Longer\\leaders\\hbox to 20pt{\\hss*\\hss}\\hfill Z\\par\\noindent x\\leaders\\hbox to 0.001pt{.}\\hfill z", kind: "article"));
        List<double>[] lines = [.. words.Where(w => w.Text == "*").GroupBy(w => Math.Round(w.Top)).Select(g => g.Select(w => w.Left).ToList())];
        Assert.Equal(2, lines.Length);
        Assert.Equal(20 * Bp, lines[0][1] - lines[0][0], 0.05);
        Assert.All(lines[1], x => Assert.Contains(lines[0], y => Math.Abs(x - y) < 0.05));
        Assert.InRange(lines[0].Count, 15, 17);
    }
}
