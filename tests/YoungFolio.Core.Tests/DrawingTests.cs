using System.Globalization;
using System.Text.RegularExpressions;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Drawings, tab stops and plain alignments: where things come to stand (Lamport, LaTeX, sections 7.1 and C.10; Knuth, The TeXbook, chapter 22).</summary>
public sealed partial class DrawingTests
{
    private const double Millimetre = 72 / 25.4;

    private static CompileResult Clean(string body, string preamble = "") => Compiled.Clean("\\noindent\n" + body, "\\setlength{\\unitlength}{1mm}" + preamble);

    private static string Picture(string content, string size = "(60,40)") => $"O\\begin{{picture}}{size}\n{content}\n\\end{{picture}}E";

    // Curves as they are drawn: their points from the drawing's origin, in millimetres.
    internal static List<(string Kind, double Width, List<(double X, double Y)> Points)> Curves(CompileResult result)
    {
        string content = Compiled.Run("qpdf", result.Pdf, "--qdf", "--object-streams=disable", "FILE", "-");
        return [.. Curve().Matches(content).Select(m => (m.Groups["end"].Value, m.Groups["pen"].Success ? Number(m.Groups["pen"].Value) : 0,
            Point().Matches(m.Groups["points"].Value).Select(p => (Number(p.Groups[1].Value) / 72.27 * 25.4, Number(p.Groups[2].Value) / 72.27 * 25.4)).ToList()))];
    }

    private static double Number(string text) => double.Parse(text, CultureInfo.InvariantCulture);

    [Fact]
    public void Things_stand_at_their_coordinates_and_the_drawing_takes_its_room()
    {
        List<PdfWord> words = PdfWords.Of(Clean(Picture("\\put(10,20){A}\\put(30,20){B}\\put(10,5){C}")));
        PdfWord origin = words.One("O");
        Assert.Equal(origin.Right + (10 * Millimetre), words.One("A").Left, 0.6);
        Assert.Equal(20 * Millimetre, words.One("B").Left - words.One("A").Left, 0.1);
        Assert.Equal(15 * Millimetre, words.One("C").Top - words.One("A").Top, 0.1);
        Assert.Equal(20 * Millimetre, origin.Top - words.One("A").Top, 0.1);
        Assert.Equal(origin.Right + (60 * Millimetre), words.One("E").Left, 0.6);
    }

    [Fact]
    public void The_lower_left_corner_may_have_other_coordinates()
    {
        double At(string corner) => PdfWords.Of(Clean(Picture("\\put(10,20){A}", "(60,40)" + corner))).One("A").Left;
        Assert.Equal(4 * Millimetre, At("") - At("(4,-3)"), 0.1);
    }

    [Theory]
    [InlineData("\\put(0,0){\\line(2,1){40}}", 40, 20)]
    [InlineData("\\put(5,5){\\line(-1,3){4}}", -4, 12)]
    [InlineData("\\put(0,0){\\line(0,-1){7}}", 0, -7)]
    [InlineData("\\put(0,0){\\line(1,0){1cm}}", 10, 0)]
    public void A_line_goes_as_far_across_as_it_is_told_or_straight_up(string body, double x, double y)
    {
        (_, double width, List<(double X, double Y)> points) = Assert.Single(Curves(Clean(Picture(body))));
        Assert.Equal(0.4, width);
        Assert.Equal(x, points[^1].X - points[0].X, 0.01);
        Assert.Equal(y, points[^1].Y - points[0].Y, 0.01);
    }

    [Fact]
    public void An_arrow_has_its_point_at_the_end_and_thick_lines_are_twice_as_thick()
    {
        List<(string Kind, double Width, List<(double X, double Y)> Points)> drawn = Curves(Clean(Picture("\\thicklines\\put(0,0){\\vector(1,0){30}}")));
        Assert.Equal(["S", "f"], drawn.Select(d => d.Kind));
        Assert.Equal(0.8, drawn[0].Width);
        Assert.Equal(30, drawn[1].Points.Max(p => p.X), 0.01);
        Assert.True(drawn[0].Points.Max(p => p.X) < 30);
    }

    [Fact]
    public void Circles_and_ovals_have_their_sizes_and_parts_are_parts()
    {
        List<(string Kind, double Width, List<(double X, double Y)> Points)> drawn = Curves(Clean(Picture("\\put(30,20){\\circle{10}}\\put(30,20){\\circle*{2}}")));
        Assert.Equal(5, drawn[0].Points.Max(p => p.X), 0.01);
        Assert.Equal(-5, drawn[0].Points.Min(p => p.Y), 0.01);
        Assert.Equal("f", drawn[1].Kind);
        Assert.Equal(1, drawn[1].Points.Max(p => p.Y), 0.01);
        // No point of a circle's drawing is farther away than its corners' points that pull.
        Assert.All(drawn[0].Points, p => Assert.InRange(Math.Sqrt((p.X * p.X) + (p.Y * p.Y)), 4.99, 5.8));
        List<(double X, double Y)> top = [.. Curves(Clean(Picture("\\put(30,20){\\oval(16,8)[t]}"))).SelectMany(d => d.Points)];
        Assert.Equal((8, -8, 4), (Math.Round(top.Max(p => p.X), 2), Math.Round(top.Min(p => p.X), 2), Math.Round(top.Max(p => p.Y), 2)));
        Assert.Equal(0, top.Min(p => p.Y), 0.01);
    }

    [Fact]
    public void Curves_begin_and_end_where_they_are_told_and_copies_stand_in_even_steps()
    {
        (_, _, List<(double X, double Y)> points) = Assert.Single(Curves(Clean(Picture("\\qbezier(0,0)(10,20)(20,0)"))));
        Assert.Equal([(0, 0), (6.67, 13.33), (13.33, 13.33), (20, 0)], points.Select(p => (Math.Round(p.X, 2), Math.Round(p.Y, 2))));
        List<PdfWord> words = PdfWords.Of(Clean(Picture("\\multiput(5,0)(10,5){4}{x}")));
        double[] copies = [.. words.Where(w => w.Text == "x").Select(w => w.Left / Millimetre).Order()];
        Assert.Equal([10, 10, 10], copies.Zip(copies.Skip(1), (a, b) => Math.Round(b - a, 1)));
    }

    [Fact]
    public void Arcs_and_polygons_of_the_package_go_through_their_points()
    {
        const string Package = "\\usepackage{pict2e}";
        (_, _, List<(double X, double Y)> arc) = Assert.Single(Curves(Clean(Picture("\\put(20,20){\\arc[0,90]{10}}"), Package)));
        Assert.Equal((10, 0), (Math.Round(arc[0].X, 2), Math.Round(arc[0].Y, 2)));
        Assert.Equal((0, 10), (Math.Round(arc[^1].X, 2), Math.Round(arc[^1].Y, 2)));
        // A circle is left by at most three parts in ten thousand of its radius.
        (double x, double y) = (((arc[0].X + (3 * arc[1].X) + (3 * arc[2].X) + arc[3].X) / 8), ((arc[0].Y + (3 * arc[1].Y) + (3 * arc[2].Y) + arc[3].Y) / 8));
        Assert.Equal(10, Math.Sqrt((x * x) + (y * y)), 0.01);
        (string kind, _, List<(double X, double Y)> polygon) = Assert.Single(Curves(Clean(Picture("\\polygon*(1cm,0)(20,10)(20,0)"), Package + "\\usepackage{picture}")));
        Assert.Equal("f", kind);
        Assert.Equal(polygon[0], polygon[^1]);
        Assert.Equal(10, polygon.Min(p => p.X), 0.01);
        Assert.Equal(2, Curves(Clean(Picture("\\Line(0,0)(10,5)\\cbezier(0,0)(5,10)(10,10)(15,0)\\polyline(0,0)(1,1)"), Package)).Count(c => c.Points[^1].Y < 2));
    }

    [Fact]
    public void Boxes_have_a_width_and_a_height_and_text_in_their_middle_or_at_a_side()
    {
        CompileResult result = Clean(Picture("\\put(0,0){\\framebox(40,20){m}}\\put(0,0){\\makebox(40,20)[tr]{r}}\\put(0,0){\\dashbox{1}(40,20)[l]{l}}"));
        List<PdfWord> words = PdfWords.Of(result);
        double left = words.One("O").Right;
        Assert.Equal(left + (20 * Millimetre), (words.One("m").Left + words.One("m").Right) / 2, 0.6);
        Assert.Equal(left + (40 * Millimetre), words.One("r").Right, 0.6);
        Assert.Equal(left, words.One("l").Left, 0.6);
        Assert.Equal([(40.0, 20.0), (40.0, 20.0)], Curves(result).Select(c => (Math.Round(c.Points.Max(p => p.X), 2), Math.Round(c.Points.Max(p => p.Y), 2))));
        // Without a pair of coordinates it is the box that text has.
        Assert.Equal("plain", PdfWords.Of(Clean("\\makebox[3cm]{plain}"))[0].Text);
    }

    [Fact]
    public void Coordinates_that_are_missing_are_said_and_the_rest_prints()
    {
        CompileResult result = Compiled.Files(("main.tex", "\\documentclass{article}\\begin{document}\\begin{picture}(10,10)\\put{lost}\\put(1){x}\\put(0,0){kept}\\end{picture} after\\end{document}"));
        Assert.Contains(result.Report.Findings, f => f.Message.Contains("\\put needs", StringComparison.Ordinal));
        string words = PdfWords.Joined(result);
        Assert.Contains("kept", words, StringComparison.Ordinal);
        Assert.Contains("lost", words, StringComparison.Ordinal);
        Assert.Contains("after", words, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("tikz", "\\begin{tikzpicture}[scale=0.5]\\draw[->] (0,0) -- (8,0) node {x}; \\draw (0,-1) circle (1cm) (2,3);\\end{tikzpicture}", 40, 20)]
    [InlineData("pstricks", "\\psset{unit=1cm}\\begin{pspicture}(0,0)(5,2)\\psline(0,0)(5,2)\\end{pspicture}", 50, 20)]
    [InlineData("tikz", "\\tikz \\draw (0,0) -- (3,1); after", 30, 10)]
    [InlineData("pgfplots", "\\pgfplotsset{compat=1.18}\\begin{tikzpicture}\\begin{axis}\\addplot coordinates {(0,0) (9,4)};\\end{axis}\\end{tikzpicture}", 90, 40)]
    [InlineData("circuitikz", "\\ctikzset{bipoles/length=1cm}\\begin{circuitikz}\\draw (0,0) to[R] (4,2);\\end{circuitikz}", 40, 20)]
    public void A_drawing_in_a_language_that_is_not_set_yet_keeps_its_room_and_is_named_once(string package, string body, double width, double height)
    {
        CompileResult result = Compiled.Files(("main.tex", $"\\documentclass{{article}}\\pagestyle{{empty}}\\usepackage{{{package}}}\\begin{{document}}before {body} end\\end{{document}}"));
        Assert.Equal("drawing-not-set", Assert.Single(result.Report.Findings).Code);
        (_, _, List<(double X, double Y)> frame) = Assert.Single(Curves(result));
        Assert.Equal(width, frame.Max(p => p.X), 0.2);
        Assert.Equal(Math.Max(height, 20 / 72.27 * 25.4), frame.Max(p => p.Y), 0.2);
        // Nothing of the drawing's own markup prints.
        Assert.Equal(["before", "drawing", "end"], PdfWords.Of(result).Select(w => w.Text).Where(w => w != "after").Order());
    }

    [Fact]
    public void Words_stand_at_tab_stops_and_a_line_that_only_sets_them_does_not_print()
    {
        List<PdfWord> words = PdfWords.Of(Clean("\\begin{tabbing}a wide beginning \\= another one \\= \\kill\nName \\> Place \\> Year\\\\\nB \\> Hill \\> 1999\\\\\n\\end{tabbing}"));
        Assert.Equal(6, words.Count);
        Assert.Equal(words.One("Place").Left, words.One("Hill").Left, 0.05);
        Assert.Equal(words.One("Year").Left, words.One("1999").Left, 0.05);
        List<PdfWord> set = PdfWords.Of(Clean("a wide beginning "));
        Assert.Equal(words.One("Name").Left + set[^1].Right - set[0].Left, words.One("Place").Left, 4.0);
    }

    [Fact]
    public void The_margin_of_lines_moves_by_tab_stops_and_words_go_to_the_right()
    {
        List<PdfWord> words = PdfWords.Of(Clean("\\begin{tabbing}if \\= rain \\+\\\\ coat \\-\\\\ else \\` right\\\\ \\pushtabs long line \\= x\\\\ \\poptabs q \\> back \\end{tabbing}"));
        Assert.Equal(words.One("rain").Left, words.One("coat").Left, 0.05);
        Assert.Equal(words.One("if").Left, words.One("else").Left, 0.05);
        Assert.True(words.One("right").Right > words.One("else").Right + 200);
        Assert.Equal(words.One("rain").Left, words.One("back").Left, 0.05);
    }

    [Fact]
    public void A_tab_stop_that_is_not_set_is_said()
    {
        CompileResult result = Compiled.Files(("main.tex", "\\documentclass{article}\\begin{document}\\begin{tabbing}a \\> b\\end{tabbing}\\end{document}"));
        Assert.Equal("no-tab-stop", Assert.Single(result.Report.Findings).Code);
    }

    [Fact]
    public void A_plain_alignment_sets_its_columns_by_their_templates()
    {
        List<PdfWord> words = PdfWords.Of(Clean("\\halign{\\hfil#\\quad&\\bf #\\hfil\\cr right&left\\cr longer&x\\cr\\multispan2\\hfil mid\\hfil\\cr}"));
        Assert.Equal(words.One("right").Right, words.One("longer").Right, 0.1);
        Assert.Equal(words.One("left").Left, words.One("x").Left, 0.3);
        double middle = (words.One("longer").Left + words.One("left").Right) / 2;
        Assert.Equal(middle, (words.One("mid").Left + words.One("mid").Right) / 2, 1);
    }

    [Fact]
    public void Templates_repeat_after_two_signs_and_skips_part_the_columns()
    {
        List<PdfWord> words = PdfWords.Of(Clean("\\tabskip=20pt\\halign{#\\hfil&&#\\hfil\\cr a&b&c&d\\cr aa&bb&cc&dd\\cr}"));
        Assert.Equal(8, words.Count);
        Assert.Equal(20 * 72 / 72.27, words.One("bb").Left - words.One("aa").Right, 0.5);
        Assert.Equal(20 * 72 / 72.27, words.One("dd").Left - words.One("cc").Right, 0.5);
    }

    [Fact]
    public void Signs_print_over_one_another_and_formulas_below_one_another()
    {
        List<PdfWord> over = PdfWords.Of(Clean("\\ooalign{WWW\\cr\\hfil i\\hfil\\cr} end"));
        Assert.Equal((over.One("WWW").Left + over.One("WWW").Right) / 2, (over.One("i").Left + over.One("i").Right) / 2, 0.3);
        List<PdfWord> below = PdfWords.Of(Clean("$$\\displaylines{x\\cr y\\cr}$$"));
        Assert.True(below[1].Top > below[0].Top + 8);
    }

    [GeneratedRegex(@"(?:(?<pen>[\d.]+) w [^\n]*\n(?:\[[^\n]*\n)?)?(?<points>-?[\d.]+ -?[\d.]+ m\n(?:[-\d. ]+ c\n)+)(?<end>[Sf])\n")]
    private static partial Regex Curve();

    [GeneratedRegex(@"(-?[\d.]+) (-?[\d.]+)(?= )")]
    private static partial Regex Point();

    [Theory]
    [InlineData("pgf", "\\begin{pgfpicture}\\pgfpathmoveto{x}\\end{pgfpicture}")]
    [InlineData("tkz-tab", "\\begin{tikzpicture}\\tkzTabInit{$x$/1}{$0$}\\end{tikzpicture}")]
    [InlineData("tkz-euclide", "\\begin{tikzpicture}\\tkzDefPoint(0,0){A}\\end{tikzpicture}")]
    [InlineData("tikz-qtree", "\\begin{tikzpicture}\\Tree [.S a b ]\\end{tikzpicture}")]
    public void Drawings_of_further_packages_are_frames(string package, string body) =>
        Assert.Equal("drawing-not-set", Assert.Single(Compiled.Article(body, $"\\usepackage{{{package}}}").Report.Findings).Code);
}
