using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Commands of packages that were known in part: what they print, by the packages' documentation (from memory).</summary>
public sealed class FurtherPackageTests
{
    [Theory]
    [InlineData("amsmath", "$\\sqrt[\\leftroot{-2}\\uproot{2}n]{x}$ \\accentedsymbol{\\tilx}{\\tilde{x}}$\\tilx\\negmedspace a\\negthickspace b$", "√ n x x̃ab")]
    [InlineData("mathtools", "$\\lparen x\\xmathstrut[.1]{.2}\\rparen$", "(x)")]
    [InlineData("amsthm", "\\newenvironment{mine}{\\pushQED{\\qed}}{\\popQED}\\begin{mine}So.\\end{mine} \\thmname{A}\\thmnumber{ 1}\\thmnote{ b} \\openbox", "So. □ A 1 b □")]
    [InlineData("titlesec", "\\titleformat{\\section}{\\Large}{}{0pt}{\\titleline[c]}\\section{Walls}{\\filinner In.\\par}\\iftitlemeasuring{no}{yes}", "Walls In. yes")]
    [InlineData("physics", "$\\mqty(\\imat{2})$ $\\mqty(\\zmat{1}{2})$ $\\mqty(\\xmat*{a}{2}{2})$", "1 0 0 1 (0 0) a11 a12 a21 a22", true)]
    [InlineData("physics", "$\\mqty(\\dmat{a,b})$ $\\mqty(\\dmat[0]{1,2})$ $\\mqty(\\admat[0]{1,2})$", "a b 1 0 0 2 0 1 2 0", true)]
    [InlineData("csquotes", "\\setquotestyle{english}\\openautoquote a\\closeautoquote\\mkcitation{Rook}\\mktextquote{(}{b}{)}{.}{}{}\\mkblockquote{c}{.}{}{}", "“a” (Rook)(b.)c.")]
    [InlineData("fontspec", "\\newfontface\\head{TeX Gyre Heros}{\\head Words} \\IfFontExistsTF{Nobody}{yes}{no}\\setmathrm{TeX Gyre Termes}", "Words no")]
    [InlineData("relsize", "{\\relscale{1.5}Big} $\\mathsmaller{x}\\mathlarger{y}$", "Big xy")]
    [InlineData("datetime2", "\\DTMsavedate{start}{2026-03-04}\\DTMusedate{start}\\DTMsetdatestyle{iso}", "2026-03-04")]
    [InlineData("caption", "\\begin{figure}[h]\\captionbox{Left}[3cm]{a}\\captionbox*{Right}[3cm]{b}\\end{figure}\\bothIfFirst{x}{y}\\bothIfFirst{}{no}\\bothIfSecond{}{z}", "xyz a Figure 1: Left b Right", true)]
    [InlineData("wrapfig", "\\begin{wrapfloat}{figure}{r}{2cm}x\\caption{Wall}\\end{wrapfloat}Words beside.\\WFclear", "Words beside. x Figure 1: Wall", true)]
    [InlineData("multicol", "\\begin{multicols}{2}a\\newcolumn b\\end{multicols}\\docolaction{x}{y}{z}", "a b x", true)]
    [InlineData("rotating", "\\turnbox{0}{a}b", "ab", true)]
    [InlineData("tcolorbox,amsthm", "\\newtheorem{law}{Law}\\tcolorboxenvironment{law}{colback=white}\\begin{law}So.\\end{law}$\\tcbhighmath{x}$", "Law 1. So. x")]
    [InlineData("accents", "$\\undertilde{x}$", "x ∼")]
    [InlineData("adjustbox", "\\adjustbox{width=2cm,frame}{Wall}\\maxsizebox{2cm}{1cm}{a}\\trimbox{1pt}{b}\\clipbox{1pt}{c}\\phantombox{1cm}{1cm}{0pt}\\lapbox{1pt}{d}\\marginbox{2pt}{e}", "Wall abcde", true)]
    public void Prints_what_its_documentation_says(string packages, string body, string printed, bool inAnyOrder = false)
    {
        string text = Compiled.Text(Compiled.Clean(body, $"\\usepackage{{amsmath,amssymb}}\\usepackage{{{packages}}}"));
        string Sorted(string words) => string.Concat(words.Where(c => !char.IsWhiteSpace(c) && (char.IsLetterOrDigit(c) || c is '.' or ':')).Order());
        Assert.Equal(inAnyOrder ? Sorted(printed) : Letters(printed), inAnyOrder ? Sorted(text) : Letters(text));
    }

    // Pieces of large parentheses and the page's number aren't what is looked at, nor where lines end.
    private static string Letters(string text) => string.Concat(text.Where(c => !char.IsWhiteSpace(c) && (char.IsLetterOrDigit(c) || c is '.' or '-' or '“' or '”' or ':' or '√' or '□')));

    [Theory]
    [InlineData("microtype", "\\SetProtrusion{encoding=*}{a={,500}}\\SetExpansion[context=x]{encoding=*}{}\\SetTracking{encoding=*}{100}\\DeclareMicrotypeSet{mine}{encoding=*}\\UseMicrotypeSet[protrusion]{mine}\\textmicrotypecontext{spacing=x}{a}")]
    [InlineData("footmisc", "\\DefineFNsymbols*{mine}[text]{{*}{+}}a")]
    [InlineData("setspace", "\\SetSinglespace{1.1}\\setdisplayskipstretch{1}\\SingleSpacedSections a")]
    [InlineData("enumitem", "\\begin{itemize}[labelindent=\\labelindent]\\item a\\end{itemize}")]
    [InlineData("appendix", "\\appendicestocpagenum\\restoreapp a")]
    [InlineData("xr", "\\externalcitedocument{other}a")]
    public void Wishes_without_effect_are_taken(string package, string body) =>
        Assert.Contains("a", Compiled.Text(Compiled.Clean(body, $"\\usepackage{{{package}}}")), StringComparison.Ordinal);

    // ---- adjustbox: positions and sizes -----------------------------------------------------------------------

    private static List<PdfWord> Words(string body, string preamble = "") => PdfWords.Of(Compiled.Clean("\\noindent|\\hfill|\\par\\noindent " + body, "\\usepackage[export]{adjustbox}\\usepackage{xcolor}" + preamble));

    [Theory]
    [InlineData("\\adjustbox{width=100pt}{wall}", 100)]
    [InlineData("\\begin{adjustbox}{width=\\linewidth}wall\\end{adjustbox}", 345)]
    [InlineData("\\begin{adjustbox}{max width=50pt}wall wall wall wall wall wall wall wall wall wall\\end{adjustbox}", 50)]
    [InlineData("\\begin{adjustbox}{min width=150pt}wall\\end{adjustbox}", 150)]
    [InlineData("\\maxsizebox{40pt}{100pt}{wall wall wall wall wall wall wall wall wall wall}", 40)]
    public void A_box_is_scaled_to_its_width(string body, double width)
    {
        List<PdfWord> words = [.. Words(body).Where(w => w.Text.Length > 0 && "wall".Contains(w.Text, StringComparison.Ordinal))];
        Assert.Equal(width * 72 / 72.27, words.Max(w => w.Right) - words.Min(w => w.Left), 1.5);
    }

    [Fact]
    public void What_is_narrow_enough_stays_as_it_is()
    {
        PdfWord kept = Words("\\adjustbox{max width=100pt,max height=50pt}{wall}").One("wall");
        PdfWord plain = Words("wall").One("wall");
        Assert.Equal(plain.Right - plain.Left, kept.Right - kept.Left, 0.01);
    }

    [Fact]
    public void Keys_follow_one_another()
    {
        List<PdfWord> words = Words("\\begin{adjustbox}{scale=2,frame,center}wall\\end{adjustbox}");
        PdfWord wall = words.One("wall");
        Assert.Equal((words.First(w => w.Text == "|").Left + words.Last(w => w.Text == "|").Right) / 2, wall.Middle, 0.6);
        PdfWord plain = Words("wall").One("wall");
        Assert.Equal(2 * (plain.Right - plain.Left), wall.Right - wall.Left, 0.05);
        PdfWord right = Words("\\adjustbox{right}{wall}").One("wall");
        Assert.Equal(words.Last(w => w.Text == "|").Right, right.Right, 0.6);
    }

    [Fact]
    public void Text_in_a_minipage_is_as_wide_as_that()
    {
        List<PdfWord> words = Words("\\begin{adjustbox}{minipage=60pt,frame}one two three four five six\\end{adjustbox}");
        Assert.True(words.Where(w => w.Text is "one" or "six").Select(w => Math.Round(w.Top)).Distinct().Count() == 2);
    }

    // ---- lines with numbers -----------------------------------------------------------------------------------

    private const string Prose = "The wall runs north from the ford and keeps its height for most of a mile, where slate gives way to flag and the courses lie flat. ";

    private static List<PdfWord> Numbers(string body, string options = "") => [.. PdfWords.Of(Compiled.Clean(body, $"\\usepackage{options}{{lineno}}")).Where(w => w.Bottom - w.Top < 8 && int.TryParse(w.Text, out _))];

    [Fact]
    public void Lines_are_numbered_in_the_margin_where_it_is_on()
    {
        List<PdfWord> numbers = Numbers($"Before.\n\n\\linenumbers {Prose}{Prose}\n\n\\section{{Courses}}\n\nMore.\n\n\\nolinenumbers After.\n\n\\linenumbers Again.");
        Assert.Equal(Enumerable.Range(1, numbers.Count), numbers.Select(n => int.Parse(n.Text, System.Globalization.CultureInfo.InvariantCulture)));
        Assert.InRange(numbers.Count, 7, 8);
        List<PdfWord> words = PdfWords.Of(Compiled.Clean("Before.\n\n\\linenumbers Line.", "\\usepackage{lineno}"));
        PdfWord number = words.First(w => w.Text == "1");
        Assert.Equal(words.One("Line.").Bottom, number.Bottom, 3.0);
        // \linenumbersep is 10 pt, from the text's left edge (15 pt left of an indented line).
        Assert.Equal(words.One("Line.").Left - (25 * 72 / 72.27), number.Right, 0.3);
    }

    [Theory]
    [InlineData("[modulo]", "\\linenumbers ", "5 10")]
    [InlineData("", "\\modulolinenumbers[4]\\linenumbers ", "4 8 12")]
    [InlineData("", "\\linenumbers[7]\\modulolinenumbers[6]", "12 18")]
    [InlineData("", "\\linenumbers\\modulolinenumbers[100] x\\resetlinenumber[99] ", "100")]
    public void Numbers_come_in_steps_and_from_where_they_are_told(string options, string begin, string printed) =>
        Assert.Equal(printed, string.Join(' ', Numbers(begin + string.Concat(Enumerable.Repeat(Prose, 7)), options).Select(n => n.Text)));

    [Fact]
    public void Numbers_may_stand_at_the_right_and_end_with_their_environment()
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Clean("\\begin{linenumbers}\\rightlinenumbers In.\n\n\\end{linenumbers}Out.\\linelabel{x}\\pageref{x}\\begin{linenomath}\\[y\\]\\end{linenomath}", "\\usepackage{lineno}"));
        PdfWord number = words.First(w => w.Text == "1");
        Assert.Equal(words.One("In.").Left - (15 * 72 / 72.27) + ((345 + 10) * 72 / 72.27), number.Left, 0.3);
        Assert.Single(words, w => w.Bottom - w.Top < 8 && int.TryParse(w.Text, out _));
    }

    [Fact]
    public void What_floats_and_what_stands_in_boxes_has_no_numbers()
    {
        List<PdfWord> numbers = Numbers("\\linenumbers One.\\footnote{A note of its own.}\\begin{figure}[h]In it.\\caption{Wall}\\end{figure}\n\nTwo \\parbox{2cm}{\\raggedright in a box of more than one line}.");
        Assert.Equal(["1", "2"], numbers.Where(n => n.Right < 134).Select(n => n.Text));
    }

    [Fact]
    public void What_is_wanted_before_headings_of_a_level_is_done_with_titlesec_alone()
    {
        int Pages(string preamble) => PdfWords.Of(Compiled.Clean("\\section{One}\\section*{Two}\\subsection{Three}\\section{Four}", preamble + "\\newcommand{\\sectionbreak}{\\clearpage}")).Max(w => w.Page);
        Assert.Equal(3, Pages("\\usepackage{titlesec}"));
        Assert.Equal(1, Pages(""));
    }

    [Fact]
    public void Page_styles_of_titlesec_have_heads_feet_and_rules()
    {
        CompileResult result = Compiled.Files(("main.tex", """
            \documentclass[twoside]{article}\usepackage{titlesec}
            \newpagestyle{mine}{\sethead[\usepage][][Even]{\sectiontitle}{}{\usepage}\setfoot{}{Foot}{}\headrule}
            \pagestyle{mine}\begin{document}\section{Walls}x\newpage y\end{document}
            """));
        Assert.Empty(result.Report.Findings);
        List<PdfWord> words = PdfWords.Of(result);
        PdfWord head = words.First(w => w is { Text: "Walls", Page: 1, Top: < 130 });
        Assert.Equal(2, words.Count(w => w.Text == "Foot"));
        Assert.Equal(2, words.One("Even").Page);
        Assert.NotEmpty(PdfWords.Rules(result));
        Assert.True(head.Left < words.First(w => w.Text == "Foot").Left);
    }
}
