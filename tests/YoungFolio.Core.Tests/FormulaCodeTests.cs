using System.Xml.Linq;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Signs of formulas by numbers, by declarations, and by the names of the plain format.</summary>
public class FormulaCodeTests
{
    // The TeXbook, ch. 17 and appendices B and F: the class, the family and the number of each sign.
    [Theory]
    [InlineData("\\mathchar\"2203", "∗")]
    [InlineData("\\mathchar\"1350", "∑")]
    [InlineData("\\mathchar\"0068", "h")]
    [InlineData("\\mathchar\"010B", "𝛼")]
    [InlineData("\\mathchar\"0000", "Γ")]
    [InlineData("\\mathchar\"0245", "ℰ")]
    [InlineData("\\delimiter\"4266308", "{")]
    [InlineData("\\own", "≤")]
    [InlineData("\\imaginary", "i")]
    [InlineData("\\summed", "∑")]
    [InlineData("\\blackboard", "ℝ")]
    [InlineData("\\less", "⋖")]
    [InlineData("{\\mathcode`\\*=\"2202 a*b}", "𝑎 × 𝑏")]
    [InlineData("{\\catcode`\\;=13 \\gdef;{\\alpha}\\catcode`\\;=12 \\mathcode`\\;=\"8000 a;b}", "𝑎𝛼𝑏")]
    public void A_number_is_a_sign_of_its_font(string formula, string printed)
    {
        CompileResult result = Compiled.Clean($"${formula}$", """
            \usepackage{amssymb}
            \DeclareSymbolFont{mine}{U}{msb}{m}{n}
            \DeclareMathSymbol{\own}{\mathrel}{symbols}{"14}
            \DeclareMathSymbol{\imaginary}{\mathord}{operators}{"69}
            \DeclareMathSymbol{\blackboard}{\mathord}{mine}{"52}
            \DeclareMathSymbol{\less}{\mathrel}{AMSb}{"6C}
            \mathchardef\summed="1350
            """);
        Assert.Equal(Plain(printed), Plain(Compiled.Text(result)));
    }

    [Theory]
    [InlineData("\\mathaccent\"7013 a", "\u0301")]
    [InlineData("\\mathaccent\"0362 a", "\u0302")]
    [InlineData("\\skew6\\hat A", "\u0302")]
    [InlineData("\\DeclareMathAccent{\\hatted}{\\mathalpha}{operators}{\"5E}\\hatted x", "\u0302")]
    public void An_accent_stands_over_its_letter(string formula, string accent)
    {
        XElement over = Assert.Single(MathMlTests.Read(formula).Descendants(), e => e.Name.LocalName == "mover");
        Assert.Equal(accent, over.Elements().Last().Value);
    }

    [Fact]
    public void A_declared_delimiter_grows()
    {
        CompileResult result = Compiled.Clean("\\[ \\left\\angled \\frac{a}{b} \\right\\rangle \\left\\delimiter\"4266308 \\frac ab \\right\\rbrace \\radical\"270370 {x} \\rooted{y} \\]", """
            \DeclareMathDelimiter{\angled}{\mathopen}{symbols}{"68}{largesymbols}{"0A}
            \DeclareMathRadical{\rooted}{symbols}{"70}{largesymbols}{"70}
            """);
        Assert.Contains("⟨", Compiled.Text(result), StringComparison.Ordinal);
        Assert.Equal(2, Compiled.Text(result).Count(c => c == '√'));
    }

    [Fact]
    public void A_place_without_a_sign_is_said() => Assert.Equal(["no-such-sign"], Compiled.Codes(Compiled.Body("$a\\mathchar\"2C41 b$")));

    [Fact]
    public void A_code_outside_a_formula_is_said() => Assert.Equal(["mathematics-outside"], Compiled.Codes(Compiled.Body("\\mathchardef\\x=\"1350 \\x")));

    // The TeXbook, appendix B; Lamport, section 3.3.
    [Theory]
    [InlineData("\\vert x\\vert\\;\\Vert y\\Vert", "|𝑥| ‖𝑦‖")]
    [InlineData("\\left\\vert x\\right\\Vert \\left\\arrowvert x\\right\\bracevert", "|𝑥‖ |𝑥|")]
    [InlineData("x\\sb1\\sp2", "𝑥2 1")]
    [InlineData("\\mathnormal{ab}\\mathellipsis", "𝑎𝑏...")]
    [InlineData("\\mathdollar\\mathsterling\\mathparagraph\\mathsection", "$£¶§")]
    [InlineData("7\\bmod 3\\equiv 1\\pmod{5}", "7 mod 3 ≡ 1 (mod 5)")]
    [InlineData("a\\mapstochar\\rightarrow b", "𝑎 |→ 𝑏")]
    [InlineData("a\\*b\\negmedspace\\negthickspace c", "𝑎𝑏𝑐")]
    [InlineData("\\buildrel d\\over =", "𝑑 =")]
    [InlineData("a\\abovewithdelims[]1pt b", "[𝑎 𝑏]")]
    public void Names_of_the_plain_format_need_no_package(string formula, string printed) =>
        Assert.Equal(Letters(printed), Letters(Compiled.Text(Compiled.Clean($"${formula}$"))));

    // Small Greek letters are in no alphabet (Lamport, table 3.3); bold symbols keep capitals upright (amsbsy).
    [Theory]
    [InlineData("\\mathrm{\\Gamma\\alpha}", "Γα")]
    [InlineData("\\mathbf{\\Gamma\\alpha}", "𝚪α")]
    [InlineData("\\boldsymbol{\\Gamma\\alpha x}", "𝚪𝜶𝒙")]
    public void Greek_letters_follow_the_alphabets(string formula, string expected) => Assert.Equal(expected, MathMlTests.Read(formula).Value);

    [Theory]
    [InlineData("\\mathrm{\\alpha}", false)]
    [InlineData("\\csname math@uprightgreek\\endcsname{\\alpha}", true)]
    public void Small_Greek_letters_are_upright_where_a_package_has_them_so(string formula, bool isUpright) =>
        Assert.Equal(isUpright, MathMlTests.Read(formula).ToString().Contains("mathvariant=\"normal\"", StringComparison.Ordinal));

    // amsmath's user's guide, section 4.9: units of the degree's place.
    [Fact]
    public void The_degree_of_a_root_is_moved()
    {
        // Nine eighteenths of an em higher, and four to the right.
        PdfWord plain = PdfWords.Of(Compiled.Clean("\\noindent$\\sqrt[\\mathrm{nnn}]{X}$", "\\usepackage{amsmath}")).First(w => w.Text.Contains("nnn", StringComparison.Ordinal));
        PdfWord moved = PdfWords.Of(Compiled.Clean("\\noindent$\\sqrt[\\leftroot{-4}\\uproot{9}\\mathrm{nnn}]{X}$", "\\usepackage{amsmath}")).First(w => w.Text.Contains("nnn", StringComparison.Ordinal));
        Assert.Equal(4 * 10 / 18.0 * 72 / 72.27, moved.Left - plain.Left, 0.1);
    }

    [Fact]
    public void A_sign_at_a_proofs_end_stands_at_the_margin_of_a_formula()
    {
        CompileResult result = Compiled.Clean("\\begin{proof}So\\[ a=b \\qedhere \\]\\end{proof}\\begin{proof}And\\begin{align*} c&=d\\\\ e&=f \\qedhere\\end{align*}\\end{proof}", "\\usepackage{amsmath,amssymb,amsthm}");
        List<PdfWord> words = PdfWords.Of(result);
        List<PdfWord> signs = [.. words.Where(w => w.Text.EndsWith('□'))];
        Assert.Equal(2, signs.Count);
        double right = words.First(w => w.Text.StartsWith("Proof", StringComparison.Ordinal)).Left + (345 * 72 / 72.27);
        Assert.All(signs, s => Assert.Equal(right, s.Right, 0.5));
    }

    private static string Plain(string text) => text.Normalize(System.Text.NormalizationForm.FormKC).Replace(" ", "", StringComparison.Ordinal);

    private static string Letters(string text) => string.Concat(Plain(text).Order());
}
