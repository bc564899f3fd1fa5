using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Diagrams of formulas and arrows: tikzcd by keys and \xymatrix by steps. What keys and signs mean is as their documentations say (from memory).</summary>
public class DiagramTests
{
    private static CompileResult Keyed(string body, string options = "") => Compiled.Clean($"Text \\[\\begin{{tikzcd}}{options}{body}\\end{{tikzcd}}\\]", "\\usepackage{tikz-cd}");

    private static CompileResult Stepped(string body, string settings = "") => Compiled.Clean($"Text \\[\\xymatrix{settings}{{{body}}}\\]", "\\usepackage[all]{xy}");

    private static PdfWord Word(CompileResult result, string text) => PdfWords.Of(result).Single(w => w.Text == text);

    private static double Middle(PdfWord word) => (word.Left + word.Right) / 2;

    [Fact]
    public void Cells_stand_in_rows_and_columns_in_the_middle_of_the_line()
    {
        CompileResult result = Keyed("A \\arrow[r] \\arrow[d] & B \\\\[2ex] C & D");
        Assert.Equal(Middle(Word(result, "A")), Middle(Word(result, "C")), 0.5);
        Assert.Equal(Word(result, "A").Top, Word(result, "B").Top, 0.1);
        Assert.True(Word(result, "C").Top > Word(result, "A").Top + 20);
        // In the middle of the text: 345 pt of a line that begins where the text does.
        double left = Word(result, "Text").Left - (15 * 72 / 72.27);
        Assert.Equal(left + (345 * 72 / 72.27 / 2), (Middle(Word(result, "A")) + Middle(Word(result, "B"))) / 2, 1.0);
    }

    [Theory]
    [InlineData("", "[column sep=large]", 12)]
    [InlineData("", "[column sep=huge]", 24)]
    [InlineData("[column sep=1cm]", "[column sep=2cm]", 28.45)]
    [InlineData("[sep=small]", "[sep=large]", 24)]
    public void Columns_are_as_far_apart_as_they_are_told(string near, string far, double more)
    {
        double Apart(string options) => Word(Keyed("A & B", options), "B").Left - Word(Keyed("A & B", options), "A").Right;
        Assert.Equal(more * 72 / 72.27, Apart(far) - Apart(near), 0.3);
    }

    [Theory]
    [InlineData("r", 3)]
    [InlineData("r, no head", 1)]
    [InlineData("r, dash", 1)]
    [InlineData("r, equal", 2)]
    [InlineData("r, Rightarrow", 4)]
    [InlineData("r, leftrightarrow", 5)]
    [InlineData("r, hook", 4)]
    [InlineData("r, two heads", 5)]
    [InlineData("r, hook, two heads", 6)]
    [InlineData("r, tail", 5)]
    [InlineData("r, maps to", 4)]
    [InlineData("r, harpoon", 2)]
    [InlineData("r, phantom", 0)]
    [InlineData("r, squiggly", 3)]
    [InlineData("loop", 3)]
    public void An_arrow_is_a_line_and_what_stands_at_its_ends(string options, int strokes) =>
        Assert.Equal(strokes, DrawingTests.Curves(Keyed($"A \\arrow[{options}] & B")).Count);

    [Theory]
    [InlineData("\\ar[r]", "r")]
    [InlineData("\\ar@{->>}[r]", "r, two heads")]
    [InlineData("\\ar@{=}[r]", "r, equal")]
    [InlineData("\\ar@{=>}[r]", "r, Rightarrow")]
    [InlineData("\\ar@{^{(}->}[r]", "r, hook")]
    [InlineData("\\ar@{|->}[r]", "r, maps to")]
    [InlineData("\\ar@{>->}[r]", "r, tail")]
    [InlineData("\\ar@{-->}[r]", "r, dashed")]
    [InlineData("\\ar@{.>}[r]", "r, dotted")]
    [InlineData("\\ar@{<-}[r]", "r, leftarrow")]
    [InlineData("\\ar@<1ex>[r]", "r, shift left=1.794")]
    public void Both_languages_draw_the_same(string stepped, string keyed)
    {
        string Drawn(CompileResult result) => string.Join('\n', DrawingTests.Curves(result).Select(c => $"{c.Kind} {c.Width:0.0} {string.Join(' ', c.Points.Select(p => $"{p.X:0.0},{p.Y:0.0}"))}"));
        Assert.Equal(Drawn(Keyed($"A \\arrow[{keyed}] & B", "[column sep=24pt, row sep=24pt]")), Drawn(Stepped($"A {stepped} & B")));
    }

    [Fact]
    public void Labels_stand_at_the_left_of_the_way_or_where_they_are_told()
    {
        CompileResult result = Keyed("A \\arrow[r, \"f\"] \\arrow[d, \"g\"'] & B \\arrow[d, \"h\"] \\\\ C \\arrow[r, \"k\" description] & D");
        double axis = (Word(result, "A").Top + Word(result, "A").Bottom) / 2;
        Assert.True(Word(result, "f").Bottom < axis + 1, "f stands above its arrow");
        Assert.InRange(Middle(Word(result, "f")), Word(result, "A").Right, Word(result, "B").Left);
        Assert.True(Word(result, "g").Right < Middle(Word(result, "A")), "g stands at the left: the other side of an arrow that goes down");
        Assert.True(Word(result, "h").Left > Middle(Word(result, "B")), "h stands at the left of the way down, which is our right");
        Assert.Equal((Word(result, "C").Top + Word(result, "C").Bottom) / 2, (Word(result, "k").Top + Word(result, "k").Bottom) / 2, 1.5);
    }

    [Fact]
    public void Labels_of_steps_stand_above_below_and_on_the_arrow_and_along_it()
    {
        CompileResult result = Stepped("A \\ar[rr]^f_g & & B \\\\ C \\ar[rr]|k^-<<p^(.9){q_1} & & D");
        Assert.True(Word(result, "f").Bottom < Word(result, "g").Top);
        Assert.Equal(Middle(Word(result, "f")), Middle(Word(result, "g")), 1.5);
        Assert.True(Word(result, "p").Right < Word(result, "k").Left);
        Assert.True(Word(result, "q").Left > Word(result, "k").Right);
    }

    [Fact]
    public void Commas_and_brackets_in_labels_are_the_labels()
    {
        CompileResult result = Keyed("A \\arrow[r, \"{(a,b)}\", \"x]y\"', near end] & B \\ar[l, bend left=40, red, \"z\"]");
        string text = Compiled.Text(result);
        Assert.Contains("(a,b)", text, StringComparison.Ordinal);
        Assert.Contains("x]y", text, StringComparison.Ordinal);
        Assert.Contains("z", text, StringComparison.Ordinal);
    }

    [Fact]
    public void Arrows_go_between_cells_by_number_and_by_steps_of_any_length()
    {
        // Outside the cells, as some write all their arrows at the end.
        CompileResult result = Keyed("A & B \\\\ C & D \\arrow[from=1-1, to=2-2] \\arrow[from=2-1, to=1-2, dashed]");
        Assert.Equal(6, DrawingTests.Curves(result).Count);
        List<(double X, double Y)> down = DrawingTests.Curves(result)[0].Points;
        List<(double X, double Y)> up = DrawingTests.Curves(result)[3].Points;
        Assert.True(down[^1].X > down[0].X && down[^1].Y < down[0].Y, "down to the right");
        Assert.True(up[^1].X > up[0].X && up[^1].Y > up[0].Y, "up to the right");
    }

    [Theory]
    [InlineData("\\begin{tikzcd}A \\arrow[rr] & B\\end{tikzcd}", "\\usepackage{tikz-cd}")]
    [InlineData("\\begin{tikzcd}A \\arrow[u] & B\\end{tikzcd}", "\\usepackage{tikz-cd}")]
    [InlineData("\\xymatrix{A \\ar[dr] & B}", "\\usepackage[all]{xy}")]
    public void An_arrow_that_leads_nowhere_is_said_and_the_rest_is_there(string diagram, string preamble)
    {
        CompileResult result = Compiled.Article($"\\[{diagram}\\]", preamble);
        Assert.Equal("arrow-to-nowhere", Assert.Single(result.Report.Findings).Code);
        Assert.Equal("A B", Compiled.Text(result));
    }

    [Theory]
    [InlineData("")]
    [InlineData("A")]
    [InlineData("A \\arrow")]
    [InlineData("A \\arrow[")]
    [InlineData("A \\arrow[r, \"f & B")]
    [InlineData("& \\\\ & \\\\")]
    [InlineData("A \\arrow[loop, bend left=999999999] \\arrow[r, shift left=1e300] & B")]
    public void What_is_half_written_brings_no_crash(string body) =>
        Assert.NotEmpty(Compiled.Article($"\\[\\begin{{tikzcd}}{body}\\end{{tikzcd}}\\] After", "\\usepackage{tikz-cd}").Pdf);

    [Theory]
    [InlineData("A \\ar")]
    [InlineData("A \\ar[")]
    [InlineData("A \\ar@{->[r] & B")]
    [InlineData("A \\ar@/^/[r]^ & B \\ar@(u,r)[]|")]
    [InlineData("*+[F]{A} \\ar[r]_\\frac{1}{2} & B")]
    public void What_is_half_stepped_brings_no_crash(string body) =>
        Assert.NotEmpty(Compiled.Article($"\\[\\xymatrix@C=1pc@R=2pc{{{body}}}\\] After", "\\usepackage{xy}").Pdf);
}
