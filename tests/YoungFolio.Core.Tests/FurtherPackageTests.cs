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
