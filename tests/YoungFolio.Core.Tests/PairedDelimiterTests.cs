using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Pairs of delimiters by one command (mathtools' documentation, section 3.6, from memory).</summary>
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
}
