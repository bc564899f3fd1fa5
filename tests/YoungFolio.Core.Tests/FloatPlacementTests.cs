using System.Globalization;
using System.Text.RegularExpressions;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>
/// Where floats go, as the kernel's output routine has it (its published source, from memory: <c>\@addtocurcol</c>, <c>\@addtonextcol</c>,
/// <c>\@tryfcolumn</c>, <c>\@makefcolumn</c>).
/// </summary>
public sealed class FloatPlacementTests
{
    private static string Figure(string place, string caption, int height, string kind = "figure") =>
        string.Create(CultureInfo.InvariantCulture, $"\\begin{{{kind}}}{place}\\rule{{4cm}}{{{height}pt}}\\caption{{{caption}}}\\end{{{kind}}}\n");

    private static string Prose(int words) => string.Concat(Enumerable.Repeat("lichen wall ", words / 2)) + "\n\n";

    private static List<PdfWord> Words(string body, string preamble = "", string options = "") =>
        PdfWords.Of(Compiled.Files(("main.tex", $"\\documentclass[{options}]{{article}}\n{preamble}\n\\begin{{document}}\n{body}\n\\end{{document}}\n")));

    private static bool HasText(List<PdfWord> words, int page) => words.Exists(w => w.Page == page && w.Text is "lichen" or "wall" && w.Page == page);

    [Theory]
    // [p] alone waits for a page without text, however small it is.
    [InlineData("[p]", 60)]
    [InlineData("[p]", 400)]
    // What may stand on such a page gets one when it fills half of it.
    [InlineData("[p]", 330)]
    public void A_float_for_a_page_of_floats_never_stands_beside_text(string place, int height)
    {
        List<PdfWord> words = Words(Figure(place, "Mark", height) + Prose(1_400));
        PdfWord mark = words.One("Mark");
        Assert.False(HasText(words, mark.Page));
        // Half a page is enough for one of its own; what is less waits to the end.
        Assert.Equal(height > 300 ? 2 : words.Max(w => w.Page), mark.Page);
    }

    [Theory]
    [InlineData("", 330, true)]
    [InlineData("\\renewcommand{\\floatpagefraction}{0.8}", 330, false)]
    [InlineData("", 200, false)]
    public void A_waiting_float_that_fills_its_share_of_a_page_has_one(string preamble, int height, bool isAlone)
    {
        // The first takes the top of the page; the second has to wait.
        List<PdfWord> words = Words(Prose(60) + Figure("[t]", "First", 200) + Figure("[tp]", "Second", height) + Prose(1_400), preamble);
        Assert.Equal(!isAlone, HasText(words, words.One("Second").Page));
    }

    [Fact]
    public void Floats_of_a_page_of_their_own_stand_in_its_middle_and_apart()
    {
        List<PdfWord> words = Words("\\thispagestyle{empty}Begin.\n\n" + Figure("[p]", "One", 150) + Figure("[p]", "Two", 150) + Prose(1_400), "\\pagestyle{empty}");
        // Room is shared in parts of one above, two between, one below (\@fptop, \@fpsep, \@fpbot): text height 550 pt less the floats.
        PdfWord one = words.One("One");
        PdfWord two = words.One("Two");
        Assert.Equal(2, one.Page);
        Assert.Equal(2, two.Page);
        double distance = (two.Top - one.Top) * 72.27 / 72;
        double floatHeight = 150 + 10 + 12;
        Assert.InRange(distance - floatHeight, ((550 - (2 * floatHeight)) / 2) - 12, ((550 - (2 * floatHeight)) / 2) + 20);
    }

    [Fact]
    public void A_note_of_a_float_on_a_page_of_floats_stands_at_its_foot()
    {
        List<PdfWord> words = Words("\\begin{figure}[p]\\rule{4cm}{400pt}\\caption[Mark]{Mark\\footnote{Below.}}\\end{figure}" + Prose(1_400));
        Assert.Equal(words.First(w => w.Text.StartsWith("Mark", StringComparison.Ordinal)).Page, words.One("Below.").Page);
    }

    [Fact]
    public void One_at_the_foot_isnt_overtaken_by_the_next_at_the_top()
    {
        List<PdfWord> words = Words(Prose(40) + Figure("[b]", "First", 60) + Figure("[t]", "Second", 60) + Figure("[t]", "Other", 60, "table") + Prose(1_400));
        Assert.Equal(1, words.One("First").Page);
        Assert.Equal(2, words.One("Second").Page);
        // Another kind has an order of its own.
        Assert.Equal(1, words.One("Other").Page);
    }

    [Fact]
    public void An_urgent_float_doesnt_count_shares_and_numbers()
    {
        string three = Figure("[t]", "First", 60) + Figure("[t]", "Second", 60);
        Assert.Equal(2, Words(Prose(40) + three + Figure("[t]", "Third", 60) + Prose(1_400)).One("Third").Page);
        Assert.Equal(1, Words(Prose(40) + three + Figure("[!t]", "Third", 60) + Prose(1_400)).One("Third").Page);
        // What is too high for the share that it may have waits to the end.
        List<PdfWord> words = Words(Prose(40) + Figure("[b]", "Low", 250) + Prose(1_400));
        Assert.Equal(words.Max(w => w.Page), words.One("Low").Page);
        Assert.Equal(1, Words(Prose(40) + Figure("[!b]", "Low", 250) + Prose(1_400)).One("Low").Page);
    }

    [Fact]
    public void A_wide_float_waits_for_an_earlier_one_of_its_kind_in_a_column()
    {
        List<PdfWord> words = Words(
            Prose(40) + Figure("[t]", "First", 200) + Figure("[t]", "Second", 300) + Figure("", "Wide", 60, "figure*") + Prose(4_000), "", "twocolumn");
        Assert.True(words.One("Second").Page < words.One("Wide").Page);
    }

    [Theory]
    [InlineData(11)]
    [InlineData(12)]
    [InlineData(13)]
    [InlineData(14)]
    [InlineData(15)]
    [InlineData(16)]
    [InlineData(17)]
    [InlineData(18)]
    public void Floats_of_a_kind_keep_their_order(int seed)
    {
        var random = new Random(seed);
        var body = new System.Text.StringBuilder();
        string[] places = ["", "[h]", "[t]", "[b]", "[p]", "[htbp]", "[!h]", "[tb]", "[!tb]", "[hp]"];
        var wide = new HashSet<int>();
        string[] kinds = [.. Enumerable.Range(0, 40).Select(_ => random.Next(3) == 0 ? "table" : "figure")];
        for (int i = 0; i < kinds.Length; i++)
        {
            string star = seed % 2 == 0 && random.Next(4) == 0 ? "*" : "";
            _ = star.Length > 0 && wide.Add(i);
            body.Append(Figure(places[random.Next(star.Length > 0 ? 1 : places.Length)], $"c{i}x", random.Next(20, 420), kinds[i] + star)).Append(Prose(random.Next(10, 220)));
        }

        // From page to page, over all columns first, then column by column.
        List<(int Number, PdfWord Word)> captions = [.. Words(body.ToString(), "", seed % 2 == 0 ? "twocolumn" : "")
            .Where(w => Regex.IsMatch(w.Text, "^c\\d+x$")).Select(w => (int.Parse(w.Text[1..^1], CultureInfo.InvariantCulture), w))];
        Assert.Equal(kinds.Length, captions.Count);
        int[] printed = [.. captions.OrderBy(c => c.Word.Page).ThenBy(c => wide.Contains(c.Number) ? 0 : seed % 2 == 0 && c.Word.Left > 306 ? 2 : 1).ThenBy(c => c.Word.Top).Select(c => c.Number)];
        foreach (string kind in (string[])["figure", "table"])
        {
            Assert.Equal(Enumerable.Range(0, kinds.Length).Where(i => kinds[i] == kind), printed.Where(i => kinds[i] == kind));
        }
    }

    [Fact]
    public void A_title_over_both_columns_prints_with_its_notes()
    {
        List<PdfWord> words = Words("\\twocolumn[\\maketitle\\begin{center}Across\\footnote{Alone.}\\end{center}]\n" + Prose(600), "\\title{Title\\thanks{Given.}}\\author{Person}", "twocolumn");
        double text = words.First(w => w.Text == "lichen").Top;
        Assert.All((string[])["Title", "Person", "Across"], word => Assert.True(words.Single(w => w.Text.StartsWith(word, StringComparison.Ordinal)).Top < text));
        Assert.All((string[])["Given.", "Alone."], word => Assert.True(words.One(word) is { Page: 1 } note && note.Top > text));
    }
}
