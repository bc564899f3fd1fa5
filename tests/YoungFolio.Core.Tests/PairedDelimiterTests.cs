using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Pairs of delimiters by one command (mathtools' documentation, section 3.6, from memory), and packages that define what others have.</summary>
public class PairedDelimiterTests
{
    private const string Probability = "\\DeclarePairedDelimiterXPP\\Prob[1]{\\mathbb{P}}[]{}{\\renewcommand\\given{\\nonscript\\:\\delimsize\\vert\\nonscript\\:\\mathopen{}}#1}\\providecommand\\given{}";

    private static string Print(string formula, string preamble) => Compiled.Text(Compiled.Clean($"${formula}$", "\\usepackage{amssymb,mathtools}" + preamble)).Replace(" ", "", StringComparison.Ordinal);

    [Theory]
    [InlineData("\\Prob{A}", "P[A]")]
    [InlineData("\\Prob{A \\given B}", "P[A|B]")]
    [InlineData("\\Prob*{A \\given B}", "P[A|B]")]
    [InlineData("\\Prob[\\big]{A \\given B}", "P[A|B]")]
    public void What_stands_around_and_within_is_printed(string formula, string printed) => Assert.Equal(printed, Print(formula, Probability));

    [Theory]
    [InlineData("\\DeclarePairedDelimiterX{\\inner}[2]{\\langle}{\\rangle}{#1, #2}", "\\inner{a}{b}", "⟨a,b⟩")]
    [InlineData("\\DeclarePairedDelimiterX\\set[1]\\lbrace\\rbrace{#1}", "\\set{x}", "{x}")]
    [InlineData("\\DeclarePairedDelimiterXPP{\\lnorm}[1]{}{\\lVert}{\\rVert}{_2}{#1}", "\\lnorm{x}", "‖x‖2")]
    [InlineData("\\DeclarePairedDelimiterXPP{\\mix}[2]{#2}(){^{#1}}{a}", "\\mix{n}{f}", "f(a)n")]
    [InlineData("\\DeclarePairedDelimiter{\\abs}{\\lvert}{\\rvert}", "\\abs{x}", "|x|")]
    public void Pairs_take_arguments_before_between_and_behind(string definition, string formula, string printed) => Assert.Equal(printed, Print(formula, definition));

    [Fact]
    public void The_sign_between_grows_with_those_around()
    {
        const string Formula = "\\Prob*{\\frac{a}{b} \\given \\frac{c}{d}}";
        CompileResult low = Compiled.Clean("\\[\\Prob{a \\given b}\\]", "\\usepackage{amssymb,mathtools}" + Probability);
        CompileResult high = Compiled.Clean($"\\[{Formula}\\]", "\\usepackage{amssymb,mathtools}" + Probability);
        Assert.True(high.Report.Findings.Count == 0 && Height(high) > Height(low) + 5);

        static double Height(CompileResult result) => PdfWords.Of(result).Max(w => w.Bottom) - PdfWords.Of(result).Min(w => w.Top);
    }

    [Theory]
    [InlineData("\\usepackage{algorithmic}\\usepackage{algorithm2e}", "\\begin{algorithm}\\If{a}{b\\;}\\end{algorithm}")]
    [InlineData("\\usepackage{tabularray,empheq,tikz-cd,cases,xcolor}", "\\textcolor{azure3}{word}")]
    public void Packages_that_ship_may_define_what_others_have(string preamble, string body) =>
        Assert.DoesNotContain(Compiled.Article(body, preamble).Report.Findings, f => f.Code is "already-defined" or "package-clash" || f.Kind == "fix");

    [Fact]
    public void What_is_written_twice_is_still_said() =>
        Assert.Equal(["already-defined", "already-defined"], Compiled.Codes(Compiled.Article("x", "\\newcommand\\wall{a}\\newcommand\\wall{b}\\NewDocumentCommand\\wall{}{c}")));

    [Fact]
    public void A_long_table_by_keys_is_read_in_a_moment()
    {
        string rows = string.Concat(Enumerable.Range(1, 1_500).Select(i => $"\\SetCell[c=2]{{c}} a & & {i} \\\\\n"));
        Assert.True(TimeLimit.Within(20, () => Compiled.Article($"\\begin{{longtblr}}{{colspec={{ccc}},hlines}}{rows}\\end{{longtblr}}", "\\usepackage{tabularray}")).Report.Pages > 20);
    }

    [Theory]
    [InlineData("textcase", "\\MakeTextUppercase{wall}", "WALL")]
    [InlineData("l3keys2e", "Text", "Text")]
    public void Small_packages_do_what_they_say(string package, string body, string printed) =>
        Assert.Equal(printed, Compiled.Text(Compiled.Clean(body, $"\\usepackage{{{package}}}")));

    [Theory]
    [InlineData("pgf", "\\begin{pgfpicture}\\pgfpathmoveto{x}\\end{pgfpicture}")]
    [InlineData("tkz-tab", "\\begin{tikzpicture}\\tkzTabInit{$x$/1}{$0$}\\end{tikzpicture}")]
    [InlineData("tkz-euclide", "\\begin{tikzpicture}\\tkzDefPoint(0,0){A}\\end{tikzpicture}")]
    [InlineData("tikz-qtree", "\\begin{tikzpicture}\\Tree [.S a b ]\\end{tikzpicture}")]
    public void Drawings_of_further_packages_are_frames(string package, string body) =>
        Assert.Equal("drawing-not-set", Assert.Single(Compiled.Article(body, $"\\usepackage{{{package}}}").Report.Findings).Code);

    // The kernel's lists (Lamport, figure C.5, from memory): a label ends \\labelsep before the text, wherever its room begins.
    [Theory]
    [InlineData("\\setlength{\\leftmargin}{2em}")]
    [InlineData("\\setlength{\\leftmargin}{0pt}")]
    [InlineData("\\setlength{\\leftmargin}{2em}\\setlength{\\labelwidth}{1em}")]
    [InlineData("\\setlength{\\labelsep}{12pt}")]
    public void A_label_ends_before_its_text(string measures)
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Clean($"\\begin{{list}}{{1.}}{{{measures}}}\\item Words\\end{{list}}"));
        double gap = measures.Contains("labelsep", StringComparison.Ordinal) ? 12 : 5;
        Assert.Equal(gap * 72 / 72.27, words.Single(w => w.Text == "Words").Left - words.Single(w => w.Text == "1.").Right, 0.4);
    }

    // exam's documentation (from memory): a right choice alone is bold where answers are printed; room for an answer is full of lines.
    [Fact]
    public void A_right_choice_alone_is_bold_and_room_has_lines()
    {
        CompileResult result = Compiled.Files(("main.tex", "\\documentclass{exam}\\printanswers\\begin{document}\\begin{questions}\\question[2] Which, two or three ? \\begin{choices}\\choice one \\CorrectChoice two \\choice three\\end{choices}\\fillwithlines{1in}\\fillin[moss][2in]\\end{questions}\\end{document}"));
        // Bold words are wider.
        double Widest(string word) => PdfWords.Of(result).Where(w => w.Text == word).Max(w => w.Right - w.Left) - PdfWords.Of(result).Where(w => w.Text == word).Min(w => w.Right - w.Left);
        Assert.True(Widest("two") > 0.5);
        Assert.Equal(0, Widest("three"), 0.05);
        Assert.Equal(5, PdfWords.Rules(result).Count(r => r.Width > 100));
        Assert.Contains("moss", Compiled.Text(result), StringComparison.Ordinal);
    }
}
