using System.Globalization;
using System.Text.RegularExpressions;
using YoungFolio.Compiler;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Typesetting.Fonts;

namespace YoungFolio.Core.Tests;

/// <summary>Formulas: what is accepted, what numbers they get, and where their parts stand.</summary>
public partial class MathematicsTests
{
    [Theory]
    [InlineData("\\frac{a}{b}+\\dfrac12+\\tfrac{1}{2}+\\binom{n}{k}")]
    [InlineData("\\sqrt{x}+\\sqrt[3]{x+\\sqrt{y}}")]
    [InlineData("x^2+x_i+x_i^2+x^{y^{z}}+{x^a}^b+f'+f''_n+x'^2")]
    [InlineData("\\sum_{i=1}^n i=\\prod_{k}k, \\int_0^\\infty f, \\oint, \\bigcup_{i}A_i, \\lim_{x\\to0}, \\max_x, \\sum\\limits_a^b, \\int\\limits_a^b")]
    [InlineData("\\left(\\frac ab\\right]\\left\\{x\\right.\\left|y\\right|\\left\\langle z\\right\\rangle\\bigl(\\Bigl[\\biggl\\{\\Biggl|")]
    [InlineData("\\alpha\\beta\\gamma\\delta\\epsilon\\varepsilon\\zeta\\eta\\theta\\lambda\\mu\\nu\\xi\\pi\\rho\\sigma\\tau\\phi\\varphi\\chi\\psi\\omega\\Gamma\\Delta\\Omega")]
    [InlineData("\\mathbb{R}\\mathcal{L}\\mathfrak{g}\\mathbf{x}\\mathrm{d}\\mathsf{A}\\mathtt{t}\\boldsymbol{v}")]
    [InlineData("a\\leq b\\neq c\\in D\\subseteq E\\to F\\mapsto G\\Rightarrow H\\iff I\\approx J\\equiv K")]
    [InlineData("\\hat x\\bar y\\vec v\\tilde z\\dot q\\ddot q\\widehat{abc}\\overline{ab}\\underline{cd}")]
    [InlineData("\\begin{pmatrix}1&2\\\\3&4\\end{pmatrix}\\begin{cases}1&x>0\\\\0&\\text{otherwise}\\end{cases}\\begin{array}{lr}a&b\\end{array}")]
    [InlineData("\\sin x+\\log\\lvert y\\rvert+\\operatorname{rank}A+\\text{for all }x\\quad\\ldots\\cdots")]
    [InlineData("a\\,b\\;c\\!d\\ e\\qquad f\\mathop{g}\\mathbin{h}\\mathrel{i}")]
    public void Formulas_are_accepted_in_the_line_and_displayed(string formula)
    {
        CompileResult result = Compiled.Body($"Words ${formula}$ and \\({formula}\\).\n\\[{formula}\\]\n\\begin{{equation*}}{formula}\\end{{equation*}}\nEnd.");
        Assert.DoesNotContain(result.Report.Findings, f => f.Kind != "layout" || f.Code == "missing-glyph");
        Assert.Contains("End.", Compiled.Text(result));
    }

    [Fact]
    public void Every_symbol_of_the_table_is_in_the_font()
    {
        MathFont font = new FontLibrary().Mathematics("pagella");
        Assert.All(Symbols.All, s => Assert.True(font.File.GlyphOf(char.ConvertToUtf32(Alphabets.Map(char.ConvertToUtf32(s.Meaning.Text, 0), MathAlphabet.Normal), 0)) != 0, s.Name));
        Assert.True(Symbols.All.Count() > 230);
    }

    [Theory]
    [InlineData('A', MathAlphabet.Blackboard, "𝔸")]
    [InlineData('R', MathAlphabet.Blackboard, "ℝ")]
    [InlineData('h', MathAlphabet.Normal, "ℎ")]
    [InlineData('L', MathAlphabet.Script, "ℒ")]
    [InlineData('g', MathAlphabet.Fraktur, "𝔤")]
    [InlineData('3', MathAlphabet.Bold, "𝟑")]
    [InlineData('α', MathAlphabet.Normal, "𝛼")]
    [InlineData('Γ', MathAlphabet.Normal, "Γ")]
    [InlineData('ϑ', MathAlphabet.Normal, "𝜗")]
    [InlineData('ϕ', MathAlphabet.Normal, "𝜙")]
    public void Letters_map_to_the_alphabets_of_Unicode(char letter, MathAlphabet alphabet, string expected) =>
        Assert.Equal(expected, Alphabets.Map(letter, alphabet)); // The Unicode Standard, block 1D400.

    // Constants as HarfBuzz gives them, against the bytes of the font's own MATH table (OpenType, chapter MATH).
    [Theory]
    [InlineData(MathConstant.AxisHeight, 5)]
    [InlineData(MathConstant.SubscriptShiftDown, 8)]
    [InlineData(MathConstant.SuperscriptShiftUp, 11)]
    [InlineData(MathConstant.FractionRuleThickness, 38)]
    [InlineData(MathConstant.RadicalVerticalGap, 49)]
    public void Constants_are_those_of_the_table(MathConstant constant, int index)
    {
        MathFont font = new FontLibrary().Mathematics("pagella");
        ReadOnlySpan<byte> table = font.File.Table("MATH");
        int constants = (table[4] << 8) | table[5];
        // Two percentages and two heights of two bytes each, then records of a value and a device offset.
        int at = constants + 8 + ((index - 4) * 4);
        int value = (short)((table[at] << 8) | table[at + 1]);
        Assert.Equal(value / 1000.0, font.Constant(constant), 6);
    }

    [Fact]
    public void Rows_of_align_stand_under_each_other_at_their_signs()
    {
        CompileResult result = Compiled.Body("\\begin{align} a &= b \\\\ long + c &= d \\end{align}");
        double[] signs = [.. Glyphs(result).Where(w => w.Text.Contains('=', StringComparison.Ordinal)).Select(w => w.X)];
        Assert.Equal(["1", "2"], result.Report.Equations.Select(e => e.Number));
        Assert.True(signs.Length is 1 or 2);
        string layout = Compiled.Run("pdftotext", result.Pdf, "-layout", "FILE", "-");
        int[] columns = [.. layout.Split('\n').Where(l => l.Contains('=', StringComparison.Ordinal)).Select(l => l.IndexOf('=', StringComparison.Ordinal))];
        Assert.Equal(2, columns.Length);
        Assert.InRange(Math.Abs(columns[0] - columns[1]), 0, 1);
    }

    [Fact]
    public void Notag_leaves_a_row_without_a_number()
    {
        CompileResult result = Compiled.Body("\\begin{align} a &= b \\notag \\\\ c &= d \\label{second} \\end{align} See \\eqref{second}.");
        Assert.Equal(["1"], result.Report.Equations.Select(e => e.Number));
        Assert.Contains("See (1).", Compiled.Text(result));
    }

    [Fact]
    public void A_formula_too_wide_says_by_how_much()
    {
        CompileResult result = Compiled.Body("\\[" + string.Concat(Enumerable.Repeat("abcdefgh+", 20)) + "z\\]");
        FindingLine finding = Assert.Single(result.Report.Findings);
        Assert.Equal("formula-too-wide", finding.Code);
        Assert.Matches("[0-9.]+ mm wider", finding.Message);
    }

    [Fact]
    public void Inline_formulas_break_after_relations_and_operations()
    {
        CompileResult result = Compiled.Body("\\noindent " + string.Concat(Enumerable.Repeat("Word $aaaa+bbbb=cccc+dddd=eeee$ ", 12)));
        Assert.DoesNotContain(result.Report.Findings, f => f.Code == "line-too-long" && f.Message.Contains("1 mm", StringComparison.Ordinal));
        string[] lines = [.. Compiled.Run("pdftotext", result.Pdf, "-layout", "FILE", "-").Split('\n').Where(l => l.Trim().Length > 3)];
        Assert.True(lines.Length > 4);
    }

    [Fact]
    public void Equations_number_within_chapters_and_as_asked()
    {
        CompileResult report = Compiled.Report("\\chapter{A}\\begin{equation}a\\end{equation}\\chapter{B}\\begin{equation}b\\end{equation}");
        Assert.Equal(["1.1", "2.1"], report.Report.Equations.Select(e => e.Number));
        CompileResult within = Compiled.Body("\\section{A}\\begin{equation}a\\end{equation}\\section{B}\\begin{equation}b\\end{equation}", "\\numberwithin{equation}{section}\n");
        Assert.Equal(["1.1", "2.1"], within.Report.Equations.Select(e => e.Number));
    }

    private static List<(string Text, double X)> Glyphs(CompileResult result) =>
        [.. WordPattern().Matches(Compiled.Run("pdftotext", result.Pdf, "-bbox", "FILE", "-")).Select(m =>
            (m.Groups[2].Value, double.Parse(m.Groups[1].Value, CultureInfo.InvariantCulture)))];

    [GeneratedRegex("<word xMin=\"([0-9.]+)\"[^>]*>([^<]*)<")]
    private static partial Regex WordPattern();
}
