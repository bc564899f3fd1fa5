using YoungFolio.Compiler;
using YoungFolio.Manuscript.Packages;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>Packages for formulas, by the structure that their shorthands come to; and formulas alone.</summary>
public class FormulaPackageTests
{
    private static CompileResult Article(string body, string preamble) =>
        Compiled.Files(("main.tex", $"\\documentclass{{article}}{preamble}\\pagestyle{{empty}}\\begin{{document}}{body}\\end{{document}}"));

    // mhchem's own examples of notation, from memory of its manual: what each comes to in markup.
    [Theory]
    [InlineData("H2O", "\\mathrm{H}_{2}\\mathrm{O}")]
    [InlineData("Sb2O3", "\\mathrm{Sb}_{2}\\mathrm{O}_{3}")]
    [InlineData("H+", "\\mathrm{H}^{+}")]
    [InlineData("CrO4^2-", "\\mathrm{CrO}_{4}^{2-}")]
    [InlineData("[AgCl2]-", "[\\mathrm{AgCl}_{2}]^{-}")]
    [InlineData("Y^{99}+", "\\mathrm{Y}^{99}^{+}")]
    [InlineData("2 H2O", "2\\,\\,\\mathrm{H}_{2}\\mathrm{O}")]
    [InlineData("1/2H2O", "\\tfrac{1}{2}\\,\\mathrm{H}_{2}\\mathrm{O}")]
    [InlineData("^{227}_{90}Th", "{}^{227}_{90}\\mathrm{Th}")]
    [InlineData("KCr(SO4)2", "\\mathrm{KCr}(\\mathrm{SO}_{4})_{2}")]
    [InlineData("A ->[x][y] B", "\\mathrm{A}\\mathrel{\\mathop{\\longrightarrow}\\limits^{\\mathrm{x}}_{\\mathrm{y}}}\\,\\mathrm{B}")]
    [InlineData("CuSO4.5H2O", "\\mathrm{CuSO}_{4}{\\cdot}5\\,\\mathrm{H}_{2}\\mathrm{O}")]
    public void Chemists_notation_becomes_a_formula(string typed, string markup) => Assert.Equal(markup, Chemistry.ToMarkup(typed));

    [Fact]
    public void Reactions_stand_in_text_and_in_displays()
    {
        CompileResult result = Article("Water \\ce{H2O} and \\[\\ce{CO2 + C <=> 2CO}\\] \\ce{Fe^{III}}, \\ce{Ca(OH)2 v}, \\ce{A->[$T$]B}.", "\\usepackage{mhchem}");
        Assert.Empty(result.Report.Findings);
        string text = Compiled.Text(result).Replace(" ", "", StringComparison.Ordinal);
        Assert.Contains("WaterH2Oand", text, StringComparison.Ordinal);
        Assert.Contains("CO2+C⇌2CO", text, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("\\dv{f}{x}", "\\frac{\\mathrm{d}f}{\\mathrm{d}x}")]
    [InlineData("\\dv[2]{f}{x}", "\\frac{\\mathrm{d}^{2}f}{\\mathrm{d}x^{2}}")]
    [InlineData("\\dv{x}", "\\frac{\\mathrm{d}}{\\mathrm{d}x}")]
    [InlineData("\\pdv{f}{x}", "\\frac{\\partial f}{\\partial x}")]
    [InlineData("\\pdv{f}{x}{y}", "\\frac{\\partial^2f}{\\partial x\\,\\partial y}")]
    [InlineData("\\qty(\\frac ab)", "\\left(\\frac ab\\right)")]
    [InlineData("\\qty[x]", "\\left[x\\right]")]
    [InlineData("\\qty{x}", "\\left\\{x\\right\\}")]
    [InlineData("\\qty\\big(x)", "\\bigl(x\\bigr)")]
    [InlineData("\\abs{x}", "\\left|x\\right|")]
    [InlineData("\\abs*{x}", "|x|")]
    [InlineData("\\norm{x}", "\\left\\|x\\right\\|")]
    [InlineData("\\bra{a}\\ket{b}", "\\left\\langle a\\right|\\left|b\\right\\rangle")]
    [InlineData("\\mel{a}{H}{b}", "\\left\\langle a\\middle|H\\middle|b\\right\\rangle")]
    [InlineData("\\comm{A}{B}", "\\left[A,B\\right]")]
    [InlineData("\\vb{v}", "\\mathbf{v}")]
    public void Shorthands_of_physics_come_to_what_they_stand_for(string shorthand, string written) =>
        Assert.Equal(MathMl(written), MathMl(shorthand));

    [Theory]
    [InlineData("\\floor{x}", "\\lfloor x\\rfloor")]
    [InlineData("\\floor*{\\frac ab}", "\\left\\lfloor\\frac ab\\right\\rfloor")]
    [InlineData("\\inner{a}{b}", "\\langle a,b\\rangle")]
    [InlineData("\\inner*{a}{b}", "\\left\\langle a,b\\right\\rangle")]
    public void Paired_delimiters_stand_or_grow(string shorthand, string written) => Assert.Equal(MathMl(written), MathMl(shorthand));

    private static string MathMl(string formula)
    {
        const string Preamble = "\\documentclass{article}\\usepackage{physics,mathtools}\\DeclarePairedDelimiter{\\floor}{\\lfloor}{\\rfloor}\\DeclarePairedDelimiterX{\\inner}[2]{\\langle}{\\rangle}{#1,#2}\\begin{document}\n";
        return new ManuscriptCompiler().Formula(
            new(new FileTree([ManuscriptFile.FromText("main.tex", Preamble + "$x" + formula + "$\\end{document}")]), "main.tex", default), "main.tex", 2, 2)!.MathMl;
    }

    [Fact]
    public void Algorithms_are_numbered_and_indented_by_their_depth()
    {
        CompileResult result = Article(
            "\\begin{algorithm}\\caption{Age}\\begin{algorithmic}[1]\\Require size\\Function{Age}{$d$}\\State first\\While{waiting}\\If{late}\\State \\Return now\\Else\\State later\\EndIf\\EndWhile\\EndFunction\\end{algorithmic}\\end{algorithm}",
            "\\usepackage{algorithm,algpseudocode}");
        Assert.Empty(result.Report.Findings);
        List<PdfWord> words = PdfWords.Of(result);
        Assert.Equal(Enumerable.Range(1, 10).Select(i => i + ":"), words.Where(w => w.Text.EndsWith(':') && char.IsDigit(w.Text[0]) && w.Left < words.One("first").Left).Select(w => w.Text));
        double step = words.One("first").Left - words.First(w => w.Text == "function").Left;
        Assert.Equal(15 * 72 / 72.27, step, 0.5);
        Assert.Equal(step, words.First(w => w.Text == "if").Left - words.First(w => w.Text == "while").Left, 0.3);
        Assert.Equal(words.One("later").Left, words.First(w => w.Text == "return").Left, 0.3);
        Assert.Contains("Algorithm 1 Age", Compiled.Text(result));
    }

    // Limits as wide as these would push the sum's neighbours away.
    [Fact]
    public void A_smashed_operators_limits_take_no_width()
    {
        double Width(string sum) => PdfWords.Of(Article($"\\[\\text{{left}}{sum}\\text{{right}}\\]", "\\usepackage{mathtools}")) is var words ? words.One("right").Left - words.One("left").Right : 0;
        Assert.True(Width("\\smashoperator{\\sum_{aaaaaaaaaaaa}}") < Width("\\sum_{aaaaaaaaaaaa}") / 2);
    }

    [Theory]
    [InlineData("", 1)]
    [InlineData("\\allowbreak ", 3)]
    public void A_formula_in_the_line_parts_where_it_may(string sign, int least)
    {
        CompileResult result = Article($"\\noindent\\begin{{minipage}}{{60pt}}$ {string.Join(sign, Enumerable.Repeat("aaaaaaaa", 6))} $\\end{{minipage}}", "");
        int lines = PdfWords.Of(result).Select(w => Math.Round(w.Top)).Distinct().Count();
        Assert.True(sign.Length == 0 ? lines == least : lines >= least, $"{lines} lines");
    }

    [Theory]
    [InlineData("$x^2^3$", "double-superscript")]
    [InlineData("$\\left(x$", "missing-right")]
    [InlineData("$a & b$", "stray-ampersand")]
    [InlineData("\\[a\n\nb\\]", "unclosed-formula")]
    [InlineData("$\\alhpa$", "unknown-command")]
    [InlineData("\\alpha", "mathematics-outside")]
    [InlineData("\\begin{pmatrix}a\\end{pmatrix}", "mathematics-outside")]
    [InlineData("$a \\over b \\over c$", "two-fractions")]
    [InlineData("$\\big x$", "missing-delimiter")]
    public void A_slip_in_a_formula_is_one_finding(string body, string code)
    {
        CompileResult result = Article("Before. " + body + " After.", "\\usepackage{amsmath}");
        Assert.Equal([code], Compiled.Codes(result));
        Assert.Contains("After.", Compiled.Text(result));
    }

    [Fact]
    public void A_formula_alone_is_found_by_any_place_in_it_and_shown_with_the_manuscripts_own_commands()
    {
        const string Text = "\\documentclass{article}\\newcommand{\\R}{\\mathbb{R}}\\begin{document}\nOne $x \\in \\R$ two.\n\\[ \\frac{a}{b} \\]\n\\end{document}";
        var compiler = new ManuscriptCompiler();
        var snapshot = new ManuscriptSnapshot(new FileTree([ManuscriptFile.FromText("main.tex", Text)]), "main.tex", default);
        Assert.Null(compiler.Formula(snapshot, "main.tex", 2, 1));
        Assert.Null(compiler.Formula(snapshot, "other.tex", 2, 1));
        FormulaPicture inline = compiler.Formula(snapshot, "main.tex", 2, 8)!;
        Assert.False(inline.IsDisplay);
        Assert.Contains("ℝ", inline.MathMl, StringComparison.Ordinal);
        Assert.Equal(3, System.Xml.Linq.XElement.Parse(inline.Svg).Elements().Count(e => e.Name.LocalName == "path"));
        FormulaPicture display = compiler.Formula(snapshot, "main.tex", 3, 6)!;
        Assert.True(display.IsDisplay);
        System.Xml.Linq.XElement svg = System.Xml.Linq.XElement.Parse(display.Svg);
        Assert.Equal((2, 1), (svg.Elements().Count(e => e.Name.LocalName == "path"), svg.Elements().Count(e => e.Name.LocalName == "rect")));
    }

    [Fact]
    public void A_formula_in_colour_has_it_in_signs_and_lines()
    {
        CompileResult result = Article("$a \\textcolor{red}{\\frac{b}{c}} d {\\color{blue} e} f$", "\\usepackage{xcolor}");
        Assert.Empty(result.Report.Findings);
        string content = Compiled.Run("qpdf", result.Pdf, "--qdf", "--object-streams=disable", "FILE", "-");
        Assert.Contains("1 0 0 rg", content, StringComparison.Ordinal);
        Assert.Contains("0 0 1 rg", content, StringComparison.Ordinal);
    }
}
