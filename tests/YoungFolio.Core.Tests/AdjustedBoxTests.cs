namespace YoungFolio.Core.Tests;

/// <summary>Boxes that are scaled, framed and placed by keys (the documentation of adjustbox, from memory).</summary>
public sealed class AdjustedBoxTests
{
    private static List<PdfWord> Words(string body, string preamble = "") => PdfWords.Of(Compiled.Clean("\\noindent|\\hfill|\\par\\noindent " + body, "\\usepackage[export]{adjustbox}\\usepackage{xcolor}" + preamble));

    [Theory]
    [InlineData("\\adjustbox{width=100pt}{wall}", 100)]
    [InlineData("\\begin{adjustbox}{width=\\linewidth}wall\\end{adjustbox}", 345)]
    [InlineData("\\begin{adjustbox}{max width=50pt}wall wall wall wall wall wall wall wall wall wall\\end{adjustbox}", 50)]
    [InlineData("\\begin{adjustbox}{min width=150pt}wall\\end{adjustbox}", 150)]
    [InlineData("\\maxsizebox{40pt}{100pt}{wall wall wall wall wall wall wall wall wall wall}", 40)]
    public void A_box_is_scaled_to_its_width(string body, double width)
    {
        List<PdfWord> words = [.. Words(body).Where(w => w.Text.Length > 0 && "wall".Contains(w.Text, StringComparison.Ordinal))];
        Assert.Equal(width * 72 / 72.27, words.Max(w => w.Right) - words.Min(w => w.Left), 1.5);
    }

    [Fact]
    public void What_is_narrow_enough_stays_as_it_is()
    {
        PdfWord kept = Words("\\adjustbox{max width=100pt,max height=50pt}{wall}").One("wall");
        PdfWord plain = Words("wall").One("wall");
        Assert.Equal(plain.Right - plain.Left, kept.Right - kept.Left, 0.01);
    }

    [Fact]
    public void Keys_follow_one_another()
    {
        List<PdfWord> words = Words("\\begin{adjustbox}{scale=2,frame,center}wall\\end{adjustbox}");
        PdfWord wall = words.One("wall");
        Assert.Equal((words.First(w => w.Text == "|").Left + words.Last(w => w.Text == "|").Right) / 2, wall.Middle, 0.6);
        PdfWord plain = Words("wall").One("wall");
        Assert.Equal(2 * (plain.Right - plain.Left), wall.Right - wall.Left, 0.05);
        PdfWord right = Words("\\adjustbox{right}{wall}").One("wall");
        Assert.Equal(words.Last(w => w.Text == "|").Right, right.Right, 0.6);
    }

    [Fact]
    public void Text_in_a_minipage_is_as_wide_as_that()
    {
        List<PdfWord> words = Words("\\begin{adjustbox}{minipage=60pt,frame}one two three four five six\\end{adjustbox}");
        Assert.True(words.Where(w => w.Text is "one" or "six").Select(w => Math.Round(w.Top)).Distinct().Count() == 2);
    }
}
