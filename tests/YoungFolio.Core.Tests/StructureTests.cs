using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Classes and structure. Numbering and pagination rules are common practice of the trade; looks follow Lamport's LaTeX.</summary>
public class StructureTests
{
    private static CompileResult Class(string options, string name, string body, string preamble = "") => Compiled.Files(("main.tex",
        $"\\documentclass[{options}]{{{name}}}\n{preamble}\\begin{{document}}\n{body}\n\\end{{document}}\n"));

    private static string Page(CompileResult result, int page) => Compiled.Text(result, "-layout", "-f", page.ToString(System.Globalization.CultureInfo.InvariantCulture),
        "-l", page.ToString(System.Globalization.CultureInfo.InvariantCulture));

    [Fact]
    public void A_book_opens_chapters_on_right_hand_pages_with_blank_versos()
    {
        CompileResult result = Class("", "book", "\\frontmatter\\tableofcontents\\mainmatter\\chapter{One}Words.\\chapter{Two}Words.\\backmatter\\chapter{Afterword}Words.");
        Assert.Empty(Compiled.Codes(result));
        Assert.Equal("Contents||One|Two|Afterword".Replace("||", "|", StringComparison.Ordinal), string.Join('|', result.Report.Outline.Select(o => o.Title)));
        // Sheets 1, 3, 5 and 7 hold the openings; the sheets between are blank.
        Assert.Equal([1, 3, 5, 7], result.Report.Outline.Select(o => o.Sheet!.Value));
        Assert.Equal(["i", "1", "3", "5"], result.Report.Outline.Select(o => o.Page));
        Assert.Equal([null, "1", "2", null], result.Report.Outline.Select(o => o.Number));
        Assert.Equal("", Page(result, 2));
        Assert.Equal("", Page(result, 4));
        Assert.Contains("Afterword 5", Page(result, 1));
    }

    [Fact]
    public void Openany_leaves_no_blank_pages_and_a_report_none_either()
    {
        Assert.Equal(2, Class("openany", "book", "\\chapter{One}Words.\\chapter{Two}Words.").Report.Pages);
        Assert.Equal(2, Class("", "report", "\\chapter{One}Words.\\chapter{Two}Words.").Report.Pages);
    }

    [Fact]
    public void Heads_of_a_book_show_chapter_and_section_with_outer_page_numbers()
    {
        CompileResult result = Class("", "book", "\\chapter{Stones}\\section{Grit}Words.\\newpage Left page.\\newpage\\section{Lime}Right page.");
        Assert.Equal("Chapter 1 Stones 1.1 Grit Words. 1", Page(result, 1));
        Assert.Equal("2 Chapter 1. Stones Left page.", Page(result, 2));
        Assert.Equal("1.2 Lime 3 1.2 Lime Right page.", Page(result, 3));
        (double left, double right) = (Word(result, 2, "2"), Word(result, 3, "3"));
        Assert.True(left < 200, $"the left page's number stands at {left}");
        Assert.True(right > 350, $"the right page's number stands at {right}");
    }

    private static double Word(CompileResult result, int page, string word)
    {
        string boxes = Compiled.Run("pdftotext", result.Pdf, "-bbox", "-f", $"{page}", "-l", $"{page}", "FILE", "-");
        System.Text.RegularExpressions.Match match = System.Text.RegularExpressions.Regex.Match(boxes, $"xMin=\"([0-9.]+)\"[^>]*>{word}<");
        return double.Parse(match.Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture);
    }

    [Theory]
    [InlineData("plain", "Words. 1")]
    [InlineData("empty", "Words.")]
    [InlineData("headings", "1 Walls 1 1 Walls Words.")]
    [InlineData("myheadings", "mine 1 1 Walls Words.")]
    public void Page_styles_put_the_number_and_marks_where_they_say(string style, string printed)
    {
        string body = style is "headings" or "myheadings" ? "\\section{Walls}" + (style == "myheadings" ? "\\markright{mine}" : "") + "Words." : "Words.";
        Assert.Equal(printed, Page(Class("", "article", $"\\pagestyle{{{style}}}" + body), 1));
    }

    [Fact]
    public void A_page_style_of_ones_own_works_as_in_class_files()
    {
        CompileResult result = Class("", "article", "Words.", "\\makeatletter\\def\\ps@mine{\\def\\@oddhead{Draft\\hfil\\thepage}\\def\\@oddfoot{\\hfil foot}}\\makeatother\\pagestyle{mine}");
        Assert.Equal("Draft 1 Words. foot", Compiled.Text(result));
    }

    [Fact]
    public void Fancy_heads_stand_in_three_fields_by_side()
    {
        CompileResult result = Class("twoside", "article", "\\section{Walls}Words.\\newpage More.",
            "\\usepackage{fancyhdr}\\pagestyle{fancy}\\fancyhf{}\\fancyhead[LE,RO]{\\thepage}\\fancyhead[RE]{Even}\\fancyhead[LO]{Odd}\\fancyfoot[C]{foot}");
        Assert.Equal("Odd 1 1 Walls Words. foot", Page(result, 1));
        Assert.Equal("2 Even More. foot", Page(result, 2));
    }

    [Fact]
    public void Pages_are_numbered_as_asked()
    {
        CompileResult result = Class("", "report", "\\pagenumbering{roman}a\\newpage b\\newpage\\pagenumbering{arabic}c\\newpage\\setcounter{page}{7}d\\newpage\\renewcommand{\\thepage}{A-\\arabic{page}}\\chapter*{X}\\label{x}e, \\pageref{x}");
        Assert.Equal("a i", Page(result, 1));
        Assert.Equal("b ii", Page(result, 2));
        Assert.Equal("c 1", Page(result, 3));
        Assert.Equal("d 7", Page(result, 4));
        Assert.Equal("X e, A-8 A-8", Page(result, 5));
    }

    [Theory]
    [InlineData("article", "\\section{A}\\subsection{B}\\subsubsection{C}\\paragraph{D}", "1 A|1.1 B|1.1.1 C| D")]
    [InlineData("report", "\\chapter{A}\\section{B}\\subsection{C}\\subsubsection{D}", "1 A|1.1 B|1.1.1 C| D")]
    [InlineData("article", "\\setcounter{secnumdepth}{1}\\section{A}\\subsection{B}", "1 A| B")]
    [InlineData("article", "\\section{A}\\appendix\\section{B}\\subsection{C}", "1 A|A B|A.1 C")]
    [InlineData("report", "\\chapter{A}\\appendix\\chapter{B}\\section{C}", "1 A|A B|A.1 C")]
    [InlineData("article", "\\renewcommand\\thesection{\\Roman{section}}\\section{A}\\subsection{B}", "I A|I.1 B")]
    [InlineData("article", "\\setcounter{section}{4}\\section{A}\\section*{S}\\section{B}", "5 A| S|6 B")]
    [InlineData("book", "\\part{P}\\chapter{A}\\part{Q}\\chapter{B}", "I P|1 A|II Q|2 B")]
    public void Headings_are_numbered(string name, string body, string outline)
    {
        CompileResult result = Class("", name, body);
        Assert.Equal(outline, string.Join('|', result.Report.Outline.Select(o => o.Number + " " + o.Title)));
    }

    [Fact]
    public void Everything_renumbers_after_a_move()
    {
        string one = "\\section{One}\\label{one}\\begin{equation}a\\label{e1}\\end{equation}";
        string two = "\\section{Two}\\label{two}\\begin{equation}b\\label{e2}\\end{equation}";
        string uses = "Refs \\ref{one} \\ref{two} \\ref{e1} \\ref{e2}.";
        Assert.Contains("Refs 1 2 1 2.", Compiled.Text(Class("", "article", one + two + uses)));
        Assert.Contains("Refs 2 1 2 1.", Compiled.Text(Class("", "article", two + one + uses)));
    }

    [Fact]
    public void Contents_follow_depth_short_titles_and_lines_added_by_hand()
    {
        CompileResult result = Class("", "article",
            "\\tableofcontents\\section[Short]{A long title}\\subsection{Inner}\\subsubsection{Deep}\\section*{Loose}\\addcontentsline{toc}{section}{Loose, listed}"
            + "\\addcontentsline{toc}{section}{\\numberline{9}Nine}", "\\setcounter{tocdepth}{2}\\renewcommand{\\contentsname}{What is here}");
        string text = Page(result, 1);
        Assert.StartsWith("What is here 1 Short 1 1.1 Inner . ", text);
        Assert.DoesNotContain("1.1.1 Deep .", text);
        Assert.Contains("Loose, listed 1", text);
        Assert.Contains("9 Nine 1", text);
        Assert.Contains("1 A long title", text);
    }

    [Fact]
    public void Lists_of_figures_and_tables_take_short_captions()
    {
        string text = Compiled.Text(Class("", "article",
            "\\listoffigures\\listoftables\\begin{figure}x\\caption[Short]{A long caption}\\end{figure}\\begin{table}y\\caption{A table}\\end{table}"));
        Assert.Contains("List of Figures 1 Short", text);
        Assert.Contains("List of Tables 1 A table", text);
        Assert.Contains("Figure 1: A long caption", text);
        Assert.Contains("Table 1: A table", text);
    }

    [Theory]
    [InlineData("\\title{T}\\author{A \\and B}\\date{May}", "T A B May x 1")]
    [InlineData("\\title{T}\\author{A\\\\Place}\\date{}", "T A Place x 1")]
    [InlineData("\\title{T\\thanks{Grant 7.}}\\author{A}\\date{May}", "T∗ A May x ∗ Grant 7. 1")]
    [InlineData("\\title{T}\\author{A}", "T A November 9, 2026 x 1")]
    public void The_title_prints_authors_date_and_thanks(string preamble, string printed) =>
        Assert.Equal(printed.Replace('∗', '*'), Compiled.Text(Class("", "article", "\\maketitle x", preamble)).Replace('∗', '*'));

    [Fact]
    public void A_title_page_stands_alone_and_the_abstract_has_its_own_page_in_a_report()
    {
        CompileResult result = Class("", "report", "\\maketitle\\begin{abstract}In short.\\end{abstract}\\chapter{One}", "\\title{T}\\author{A}\\date{}");
        Assert.Equal("T A", Page(result, 1));
        Assert.Equal("Abstract In short.", Page(result, 2));
        Assert.StartsWith("Chapter 1 One", Page(result, 3));
        Assert.Equal(1, Class("notitlepage", "article", "\\maketitle x", "\\title{T}\\date{}").Report.Pages);
        Assert.Equal(2, Class("titlepage", "article", "\\maketitle x", "\\title{T}\\date{}").Report.Pages);
    }

    [Theory]
    [InlineData("a4paper", "595.276 x 841.89")]
    [InlineData("a5paper", "419.528 x 595.276")]
    [InlineData("b5paper", "498.898 x 708.661")]
    [InlineData("letterpaper", "612 x 792")]
    [InlineData("legalpaper", "612 x 1008")]
    [InlineData("executivepaper", "522 x 756")]
    [InlineData("a4paper,landscape", "841.89 x 595.276")]
    public void Paper_sizes_are_those_of_ISO_216_and_American_practice(string option, string size) =>
        Assert.Contains(size, Compiled.Run("pdfinfo", Class(option, "article", "x").Pdf, "FILE"));

    [Fact]
    public void Equation_numbers_move_left_and_displays_too_when_asked()
    {
        double Number(string options) => Word(Class(options, "article", "\\begin{equation}xyz\\end{equation}"), 1, "\\(1\\)");
        Assert.True(Number("leqno") < 200 && Number("") > 400);
        double Formula(string options) => Word(Class(options, "article", "\\[ W=3 \\]"), 1, "=");
        Assert.True(Formula("fleqn") < Formula(""));
    }

    [Fact]
    public void A_draft_marks_over_full_lines_and_shows_frames_for_pictures()
    {
        byte[] png = Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==");
        foreach ((string option, bool name) in ((string, bool)[])[("draft", true), ("final", false)])
        {
            CompileResult result = Compiled.Bytes(
                ("main.tex", System.Text.Encoding.UTF8.GetBytes($"\\documentclass[{option}]{{article}}\\usepackage{{graphicx}}\\begin{{document}}\\includegraphics[width=4cm]{{a.png}}\\end{{document}}")), ("a.png", png));
            Assert.Equal(name, Compiled.Text(result).Contains("a.png", StringComparison.Ordinal));
        }
    }

    [Fact]
    public void Headings_take_the_looks_that_a_preamble_gives_them()
    {
        string preamble = "\\usepackage{titlesec}\\titleformat{\\section}{\\bfseries}{§\\thesection}{1em}{Sec: }[.]";
        Assert.Contains("§1 Sec: Walls.", Compiled.Text(Class("", "article", "\\section{Walls}Words", preamble)));
        preamble = "\\makeatletter\\renewcommand\\section{\\@startsection{section}{1}{0pt}{-3ex}{2ex}{\\itshape}}\\def\\@seccntformat#1{<\\csname the#1\\endcsname> }\\makeatother";
        Assert.Contains("<1> Walls", Compiled.Text(Class("", "article", "\\section{Walls}Words", preamble)));
        preamble = "\\makeatletter\\renewcommand\\@makechapterhead[1]{\\noindent File \\thechapter: #1\\par}\\makeatother";
        Assert.Contains("File 1: Walls", Compiled.Text(Class("", "report", "\\chapter{Walls}Words", preamble)));
    }

    [Fact]
    public void Names_of_things_can_be_redefined()
    {
        string text = Compiled.Text(Class("", "report",
            "\\chapter{One}\\begin{figure}x\\caption{C}\\end{figure}\\appendix\\chapter{Two}\\begin{thebibliography}{9}\\bibitem{k}Text\\end{thebibliography}\\cite{k}",
            "\\renewcommand{\\chaptername}{Teil}\\renewcommand{\\figurename}{Fig.}\\renewcommand{\\appendixname}{Zusatz}\\renewcommand{\\bibname}{Quellen}"
            + "\\makeatletter\\renewcommand{\\@biblabel}[1]{#1)}\\makeatother"));
        Assert.Contains("Teil 1 One", text);
        Assert.Contains("Fig. 1.1: C", text);
        Assert.Contains("Zusatz A Two", text);
        Assert.Contains("Quellen 1) Text", text);
    }

    [Fact]
    public void Lists_bibliography_and_index_stand_in_the_contents_when_asked()
    {
        CompileResult result = Class("", "article", "\\tableofcontents\\listoffigures\\section{A}\\begin{thebibliography}{9}\\bibitem{k}Text\\end{thebibliography}\\printindex",
            "\\usepackage[nottoc]{tocbibind}\\usepackage{makeidx}");
        Assert.StartsWith("Contents List of Figures 1 1 A 1 References 1 Index 1", Page(result, 1));
    }

    [Fact]
    public void Captions_take_the_look_that_the_package_gives_them()
    {
        string body = "\\begin{figure}[h]x\\caption{Words}\\end{figure}";
        Assert.Contains("Figure 1. Words", Compiled.Text(Class("", "article", body, "\\usepackage[labelsep=period]{caption}")));
        Assert.Contains("lmroman10-bold", Compiled.Run("pdffonts", Class("", "article", body, "\\usepackage[labelfont=bf]{caption}").Pdf, "FILE"));
        Assert.DoesNotContain("lmroman10-bold", Compiled.Run("pdffonts", Class("", "article", body).Pdf, "FILE"));
    }

    [Fact]
    public void The_text_block_has_the_width_and_place_that_geometry_gives_it()
    {
        string prose = string.Join(' ', Enumerable.Repeat("Walls and stones of the valley", 30));
        string boxes = Compiled.Run("pdftotext", Class("a4paper", "article", prose, "\\usepackage[textwidth=10cm,left=4cm]{geometry}").Pdf, "-bbox", "FILE", "-");
        double[] Values(string name) => [.. System.Text.RegularExpressions.Regex.Matches(boxes, name + "=\"([0-9.]+)\"").Select(m => double.Parse(m.Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture))];
        // Four centimetres are 113.39 PDF points, ten are 283.46.
        Assert.Equal(113.39, Values("xMin").Min(), 0);
        Assert.Equal(113.39 + 283.46, Values("xMax").Max(), 0);
    }

    [Theory]
    [InlineData("scrartcl", "\\section{A}", "1 A")]
    [InlineData("scrreprt", "\\chapter{A}", "1 A")]
    [InlineData("scrbook", "\\addchap{A}", " A")]
    [InlineData("amsart", "\\section{A}", "1 A")]
    public void Wide_spread_classes_are_there(string name, string body, string outline)
    {
        CompileResult result = Class("", name, body);
        Assert.Empty(result.Report.Findings);
        Assert.Equal(name, result.Report.Class);
        Assert.Equal(outline, string.Join('|', result.Report.Outline.Select(o => o.Number + " " + o.Title)));
    }
}
