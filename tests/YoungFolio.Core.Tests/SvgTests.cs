using System.Text;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>SVG figures as vectors (SVG 1.1), by what poppler and qpdf find in the PDF.</summary>
public class SvgTests
{
    private const double Unit = 72.0 / 96;

    private static CompileResult Figure(string inside, string head = "width=\"200\" height=\"100\"", string options = "") => Compiled.Bytes(
        ("main.tex", Encoding.UTF8.GetBytes($"\\documentclass{{article}}\\usepackage{{graphicx}}\\pagestyle{{empty}}\\begin{{document}}\\noindent Words\n\n\\noindent\\includegraphics{options}{{plot}}\\end{{document}}")),
        ("plot.svg", Encoding.UTF8.GetBytes($"<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\" {head}>{inside}</svg>")));

    private static string Content(CompileResult result) => Compiled.Run("qpdf", result.Pdf, "--qdf", "--object-streams=disable", "FILE", "-");

    [Fact]
    public void Text_stays_text_at_its_place_and_size()
    {
        CompileResult result = Figure("<text x=\"100\" y=\"40\" text-anchor=\"middle\" font-size=\"16\">Middle</text><text x=\"10\" y=\"80\" font-size=\"8\">Small</text><text transform=\"translate(190 90) rotate(-90)\">Turned</text>");
        Assert.Empty(result.Report.Findings);
        List<PdfWord> words = PdfWords.Of(result);
        double left = words.One("Words").Left;
        Assert.Equal(left + (100 * Unit), words.One("Middle").Middle, 0.5);
        Assert.Equal(left + (10 * Unit), words.One("Small").Left, 0.5);
        Assert.Equal(2, (words.One("Middle").Bottom - words.One("Middle").Top) / (words.One("Small").Bottom - words.One("Small").Top), 0.02);
        Assert.Equal(40 * Unit, words.One("Small").Bottom - words.One("Middle").Bottom, 3.0);
        PdfWord turned = words.One("Turned");
        Assert.True(turned.Bottom - turned.Top > turned.Right - turned.Left);
    }

    [Theory]
    [InlineData("<rect x=\"10\" y=\"20\" width=\"30\" height=\"40\" fill=\"#ff0000\"/>", "1 0 0 rg")]
    [InlineData("<circle cx=\"50\" cy=\"50\" r=\"20\" style=\"fill:rgb(0,128,255)\"/>", "0 0.502 1 rg")]
    [InlineData("<style>.a{fill:none;stroke:blue}</style><path class=\"a\" d=\"M1 1L9 9\"/>", "0 0 1 RG")]
    [InlineData("<path d=\"M0,0h10v10h-10z\" fill=\"black\" fill-opacity=\"0.5\"/>", "/f50 gs")]
    [InlineData("<defs><path id=\"p\" d=\"M0 0L5 5\"/></defs><use xlink:href=\"#p\" x=\"3\" stroke=\"lime\"/>", "0 1 0 RG")]
    [InlineData("<g stroke=\"red\" stroke-dasharray=\"4 2\"><line x2=\"50\" y2=\"50\"/></g>", "[3.011 1.506] 0 d")]
    [InlineData("<polygon points=\"0,0 10,0 5,8\" fill=\"#0f0\" fill-rule=\"evenodd\"/>", "f*")]
    [InlineData("<defs><linearGradient id=\"g\"><stop stop-color=\"#000\"/><stop stop-color=\"#fff\"/></linearGradient></defs><rect width=\"9\" height=\"9\" fill=\"url(#g)\"/>", "/ShadingType 2")]
    [InlineData("<clipPath id=\"c\"><rect width=\"9\" height=\"9\"/></clipPath><g clip-path=\"url(#c)\"><path d=\"M0 0L50 50\" stroke=\"red\"/></g>", "W n")]
    [InlineData("<path d=\"M10 10A5 5 0 1 1 20 10\" stroke=\"red\"/>", " c\n")]
    public void Shapes_become_paths_in_their_colours(string inside, string operators)
    {
        CompileResult result = Figure(inside);
        Assert.Empty(result.Report.Findings);
        string content = Content(result);
        Assert.Contains(operators, content);
        Assert.DoesNotContain("/Subtype /Image", content, StringComparison.Ordinal);
        Assert.Contains("No syntax or stream encoding errors found", Compiled.Run("qpdf", result.Pdf, "--check", "FILE"));
    }

    [Theory]
    [InlineData("x2=\"1\"", 0.1, 0.5, 0xE60000)]
    [InlineData("x2=\"1\"", 0.9, 0.5, 0x1A0000)]
    [InlineData("x2=\"0\" y2=\"1\"", 0.5, 0.1, 0xE60000)]
    [InlineData("gradientUnits=\"userSpaceOnUse\" x1=\"100\" x2=\"200\"", 0.25, 0.5, 0xFF0000)]
    [InlineData("gradientUnits=\"userSpaceOnUse\" x1=\"100\" x2=\"200\"", 0.75, 0.5, 0x800000)]
    [InlineData("x2=\"1\" gradientTransform=\"translate(0.5 0)\"", 0.75, 0.5, 0xBF0000)]
    public void A_gradient_passes_from_colour_to_colour_where_it_says(string attributes, double x, double y, int colour)
    {
        string inside = $"<defs><linearGradient id=\"g\" {attributes}><stop offset=\"0\" stop-color=\"red\"/><stop offset=\"100%\" style=\"stop-color:black\"/></linearGradient></defs>"
            + "<rect width=\"200\" height=\"100\" fill=\"url(#g)\"/>";
        AssertColour(colour, inside, x, y);
    }

    [Theory]
    [InlineData("<radialGradient id=\"g\"><stop offset=\"0\" stop-color=\"red\"/><stop offset=\"1\" stop-color=\"lime\"/></radialGradient>", 0.5, 0.5, 0xFB0400)]
    [InlineData("<linearGradient id=\"g\" xlink:href=\"#h\"/><linearGradient id=\"h\"><stop offset=\"0\" stop-color=\"red\"/><stop offset=\"0.5\" stop-color=\"lime\"/><stop offset=\"1\" stop-color=\"blue\"/></linearGradient>", 0.5, 0.5, 0x00FF00)]
    public void Gradients_may_be_round_have_many_stops_and_lean_on_others(string gradient, double x, double y, int colour) =>
        AssertColour(colour, $"<defs>{gradient}</defs><rect width=\"200\" height=\"100\" fill=\"url(#g)\"/>", x, y);

    // SVG 1.1, 13.3: tiles repeat from the pattern's place over the whole shape, and nothing outside of it.
    [Theory]
    [InlineData(0.025, 0.1, 0xFF0000)]
    [InlineData(0.075, 0.1, 0xFFFFFF)]
    [InlineData(0.425, 0.5, 0xFF0000)]
    [InlineData(0.475, 0.5, 0xFFFFFF)]
    [InlineData(0.825, 0.5, 0xFFFFFF)]
    public void A_pattern_repeats_inside_its_shape(double x, double y, int colour) =>
        AssertColour(colour, "<defs><pattern id=\"p\" width=\"20\" height=\"20\" patternUnits=\"userSpaceOnUse\"><rect width=\"10\" height=\"20\" fill=\"red\"/></pattern></defs><rect width=\"150\" height=\"100\" fill=\"url(#p)\"/>", x, y);

    // SVG 1.1, 11.6: an arrowhead stands at the line's end and points where the line goes.
    [Theory]
    [InlineData("auto", 0.5, 0.3, 0xFF0000)]
    [InlineData("auto", 0.58, 0.5, 0xFFFFFF)]
    [InlineData("0", 0.5, 0.3, 0xFFFFFF)]
    [InlineData("0", 0.58, 0.5, 0xFF0000)]
    public void A_marker_stands_at_the_end_and_turns_when_it_should(string orient, double x, double y, int colour) =>
        AssertColour(colour, $"<defs><marker id=\"m\" markerUnits=\"userSpaceOnUse\" markerWidth=\"60\" markerHeight=\"60\" refX=\"0\" refY=\"5\" orient=\"{orient}\"><rect width=\"30\" height=\"10\" fill=\"red\"/></marker></defs><path d=\"M100 90L100 50\" stroke=\"blue\" fill=\"none\" marker-end=\"url(#m)\"/>", x, y);

    [Fact]
    public void Opacity_shows_what_lies_below() =>
        AssertColour(0x800080, "<rect width=\"200\" height=\"100\" fill=\"blue\"/><rect width=\"200\" height=\"100\" fill=\"red\" opacity=\"0.5\"/>", 0.5, 0.5);

    [Fact]
    public void A_picture_inside_a_figure_stands_upright_at_its_place()
    {
        // Two pixels over each other: red above blue.
        string data = Convert.ToBase64String(PngTests.Column(0xFF0000, 0x0000FF));
        string inside = $"<image x=\"100\" width=\"100\" height=\"100\" xlink:href=\"data:image/png;base64,{data}\"/>";
        AssertColour(0xFFFFFF, inside, 0.25, 0.5);
        AssertColour(0xFF0000, inside, 0.75, 0.2);
        AssertColour(0x0000FF, inside, 0.75, 0.8);
    }

    private static void AssertColour(int colour, string inside, double x, double y)
    {
        CompileResult result = Compiled.Bytes(
            ("main.tex", "\\documentclass{article}\\usepackage[paperwidth=200bp,paperheight=100bp,margin=0bp]{geometry}\\usepackage{graphicx}\\pagestyle{empty}\\begin{document}\\noindent\\includegraphics[width=200bp,height=99bp]{plot}\\end{document}"u8.ToArray()),
            ("plot.svg", Encoding.UTF8.GetBytes($"<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\" width=\"200\" height=\"100\">{inside}</svg>")));
        Assert.Empty(result.Report.Findings);
        PngTests.AssertNear(colour, PngTests.Pixel(result, x, y), inside);
    }

    [Fact]
    public void An_arc_ends_where_it_says_and_keeps_its_radius()
    {
        // Half a circle of radius 10 from (0, 50) to (20, 50), upwards: its top is at y = 40.
        string content = Content(Figure("<path d=\"M0 50A10 10 0 0 1 20 50\" stroke=\"red\" fill=\"none\"/>"));
        string[] curves = [.. content.Split('\n').Where(l => l.EndsWith(" c", StringComparison.Ordinal) && l.Split(' ').Length == 7)];
        Assert.Equal(2, curves.Length);
        double[] middle = [.. curves[0].Split(' ').Take(6).Select(n => double.Parse(n, System.Globalization.CultureInfo.InvariantCulture))];
        double unit = 72.27 / 96;
        Assert.Equal(10 * unit, middle[4], 0.01);
        Assert.Equal((100 - 40) * unit, middle[5], 0.01);
        Assert.StartsWith(string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{15.522847 * unit:0.###} "), curves[1]);
    }

    [Fact]
    public void The_view_box_scales_and_the_wanted_width_holds()
    {
        List<PdfWord> words = PdfWords.Of(Figure("<text x=\"0\" y=\"30\" font-size=\"10\">Left</text><text x=\"100\" y=\"30\" text-anchor=\"end\" font-size=\"10\">Right</text>", "viewBox=\"0 0 100 50\" width=\"10cm\" height=\"5cm\"", "[width=200bp]"));
        Assert.Equal(200, words.One("Right").Right - words.One("Left").Left, 1.0);
    }

    [Theory]
    [InlineData("<rect", "damaged")]
    [InlineData("", "no size", "width=\"0\" height=\"0\"")]
    public void What_cannot_be_drawn_is_a_finding(string inside, string words, string head = "width=\"200\" height=\"100\"")
    {
        CompileResult result = Figure(inside, head);
        FindingLine finding = Assert.Single(result.Report.Findings);
        Assert.Equal("unreadable-picture", finding.Code);
        Assert.Contains(words, finding.Message);
        Assert.Contains("Words", Compiled.Text(result));
    }

    [Fact]
    public void Endless_uses_end()
    {
        CompileResult result = Figure("<g id=\"a\"><use xlink:href=\"#a\"/><use xlink:href=\"#a\"/></g>");
        Assert.Equal(["unreadable-picture"], Compiled.Codes(result));
    }
}
