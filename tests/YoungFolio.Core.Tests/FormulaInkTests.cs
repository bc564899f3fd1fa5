using System.Globalization;
using System.Text.RegularExpressions;
using System.Xml.Linq;
using YoungFolio.Compiler;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Fonts;

namespace YoungFolio.Core.Tests;

/// <summary>Where the ink of formulas stands, by the outlines of a formula's picture (10 pt).</summary>
public class FormulaInkTests
{
    // The axis of a fraction is the middle of a parenthesis: The TeXbook, appendix G.
    [Theory]
    [InlineData("\\left(\\frac{a}{b}\\right)")]
    [InlineData("\\begin{pmatrix}1\\\\2\\end{pmatrix}")]
    [InlineData("\\sum_i^n")]
    public void Grown_signs_stand_centred_on_the_axis(string formula)
    {
        (double Top, double Bottom)[] inks = Inks(formula + "-");
        // The last sign is the minus, whose middle is the axis; the highest is the grown one.
        (double top, double bottom) = inks.MaxBy(i => i.Bottom - i.Top);
        Assert.Equal((inks[^1].Top + inks[^1].Bottom) / 2, (top + bottom) / 2, 0.35);
    }

    // OpenType, MATH, GlyphAssembly: parts overlap by at least minConnectorOverlap and at most by their connectors.
    [Theory]
    [InlineData("(", "\\left( {0} \\right.")]
    [InlineData("{", "\\left\\{{ {0} \\right.")]
    [InlineData("[", "\\left[ {0} \\right.")]
    [InlineData("∥", "\\left\\| {0} \\right.")]
    public void The_parts_of_a_tall_sign_overlap_as_its_font_wants(string sign, string around)
    {
        MathFont font = new FontLibrary().Mathematics(YoungFolio.Documents.TypefaceSet.Default.Mathematics);
        GlyphPart[] parts = font.Assembly(font.File.GlyphOf(sign[0]), true);
        string rows = string.Join("\\\\", Enumerable.Range(0, 14).Select(_ => "\\cdot"));
        (double Top, double Bottom)[] inks = Inks(string.Format(CultureInfo.InvariantCulture, around, $"\\begin{{matrix}}{rows}\\end{{matrix}}"));
        (double Top, double Bottom)[] pieces = inks[..^14];
        Assert.True(pieces.Length >= parts.Length);
        // The whole reaches over all the rows.
        Assert.True(pieces.Min(p => p.Top) < inks[^14].Top && pieces.Max(p => p.Bottom) > inks[^1].Bottom);
        double most = parts.Max(p => Math.Max(p.StartConnector, p.EndConnector)) * 10;
        for (int i = 0; i + 1 < pieces.Length; i++)
        {
            Assert.InRange(pieces[i].Top, pieces[i + 1].Bottom - most - 0.05, pieces[i + 1].Bottom - (font.MinConnectorOverlap * 10) + 0.05);
        }
    }

    // The fonts' own forms for scripts (OpenType, feature ssty): a prime set as a script is as high as other superscripts, not above them.
    [Fact]
    public void Primes_stand_where_superscripts_do()
    {
        (double Top, double Bottom) prime = Inks("x'")[1];
        (double Top, double Bottom) figure = Inks("x^2")[1];
        (double Top, double Bottom) letter = Inks("x^2")[0];
        Assert.InRange(prime.Top - letter.Top, figure.Top - letter.Top - 1, figure.Top - letter.Top + 1);
        Assert.True(prime.Bottom - prime.Top > 2.2, "a prime is more than a fifth of the size high");
    }

    [Theory]
    [InlineData("+", 3)]
    [InlineData("\\infty", 3)]
    [InlineData("\\nabla", 1)] // which has a form of its own in Unicode
    public void Signs_without_a_bold_form_are_set_bold_all_the_same(string sign, int times)
    {
        Assert.Equal(times, Inks("\\boldsymbol{" + sign + "}").Length);
        CompileResult result = Compiled.Body("$\\boldsymbol{" + sign + "}$", "\\usepackage{amsmath}\\pagestyle{empty}");
        Assert.Single(Compiled.Text(result).Trim().EnumerateRunes());
    }

    private static (double Top, double Bottom)[] Inks(string formula)
    {
        FormulaPicture picture = new ManuscriptCompiler().Formula(
            new(new FileTree([ManuscriptFile.FromText("main.tex", $"\\documentclass{{article}}\\usepackage{{amsmath}}\\begin{{document}}\n\\[{formula}\\]\\end{{document}}")]), "main.tex", default), "main.tex", 2, 4)!;
        return [.. XElement.Parse(picture.Svg).Elements().Where(e => e.Name.LocalName == "path").Select(Ink)];
    }

    private static (double Top, double Bottom) Ink(XElement path)
    {
        double[] matrix = [.. path.Attribute("transform")!.Value["matrix(".Length..^1].Split(' ').Select(n => double.Parse(n, CultureInfo.InvariantCulture))];
        // In outlines every second number is a height, whatever the curve.
        double[] numbers = [.. Regex.Matches(path.Attribute("d")!.Value, @"-?[\d.]+").Select(m => double.Parse(m.Value, CultureInfo.InvariantCulture))];
        double[] ys = [.. numbers.Where((_, i) => i % 2 == 1).Select(y => (matrix[3] * y) + matrix[5])];
        return (ys.Min(), ys.Max());
    }
}
