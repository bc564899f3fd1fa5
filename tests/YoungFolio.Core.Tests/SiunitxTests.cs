namespace YoungFolio.Core.Tests;

/// <summary>Numbers and units as ISO 80000-1, section 7, has them: groups of three digits, a space before the unit, upright units.</summary>
public class SiunitxTests
{
    [Theory]
    [InlineData("\\num{1234}", "1234")]
    [InlineData("\\num{12345.6}", "12 345.6")]
    [InlineData("\\num{0.123456}", "0.123 456")]
    [InlineData("\\num{.5}", "0.5")]
    [InlineData("\\num{-0.5}", "−0.5")]
    [InlineData("\\num{1.2e-3}", "1.2 × 10−3")]
    [InlineData("\\num{e6}", "106")]
    [InlineData("\\num{3.45(6)}", "3.45(6)")]
    [InlineData("\\num{1.5 +- 0.1}", "1.5 ± 0.1")]
    [InlineData("\\num[output-decimal-marker={,}]{2.5}", "2,5")]
    [InlineData("\\qty{3.2}{\\metre\\per\\second}", "3.2 m s−1")]
    [InlineData("\\qty{3.2}{\\metre\\per\\second\\squared}", "3.2 m s−2")]
    [InlineData("\\SI{5}{\\kilo\\gram\\cubic\\metre}", "5 kg m3")]
    [InlineData("\\qty[per-mode=symbol]{5}{\\mm\\per\\year}", "5 mm/a")]
    [InlineData("\\unit{m.s^{-2}}", "m s−2")]
    [InlineData("\\numrange{1}{5}", "1 to 5")]
    [InlineData("\\qtyrange{1}{5}{\\kW}", "1 kW to 5 kW")]
    [InlineData("\\numlist{1;2;3}", "1, 2 and 3")]
    [InlineData("\\qty{5}{\\percent}", "5 %")]
    [InlineData("\\DeclareSIUnit{\\wall}{wall}\\qty{7}{\\per\\wall}", "7 wall−1")]
    public void Numbers_and_units_come_out_in_one_form(string markup, string text)
    {
        Compiler.CompileResult result = Compiled.Files(("main.tex", $"\\documentclass{{article}}\\usepackage{{siunitx}}\\pagestyle{{empty}}\\begin{{document}}\\noindent {markup}\\end{{document}}"));
        Assert.Empty(result.Report.Findings);
        Assert.Equal(text.Replace(" ", "", StringComparison.Ordinal), Compiled.Text(result).Replace(" ", "", StringComparison.Ordinal).Replace("\u2009", "", StringComparison.Ordinal));
    }

    [Fact]
    public void Columns_of_numbers_stand_under_their_decimal_signs_and_words_in_the_middle()
    {
        string[] rows = ["12.5", "123.45", "-1.25", "4"];
        Compiler.CompileResult result = Compiled.Files(("main.tex", "\\documentclass{article}\n\\usepackage{siunitx}\n\\begin{document}\n\\noindent\n\\begin{tabular}{S[table-format=3.2]}\n{Head}\\\\\n"
            + string.Join("\\\\\n", rows) + "\n\\end{tabular}\n\\end{document}\n"));
        double[] points = [.. Enumerable.Range(0, 3).Select(i => result.Map.FindSpot("main.tex", 7 + i, rows[i].IndexOf('.') + 1)!.X)];
        Assert.All(points, x => Assert.Equal(points[0], x, 0.02));
        List<PdfWord> words = PdfWords.Of(result);
        double left = words.One("123.45").Left;
        Assert.Equal((left + words.One("123.45").Right) / 2, words.One("Head").Middle, 0.5);
    }
}
