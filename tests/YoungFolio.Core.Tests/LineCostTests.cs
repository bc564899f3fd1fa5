using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>What a preamble sets of how paragraphs are broken (The TeXbook, ch. 14), and optical margins.</summary>
public class LineCostTests
{
    private const string Prose = "The ledgers name the waller, the length raised and the day the top stones went on, so that a wall is dated to the year and often to the month. "
        + "Characteristic irregularities notwithstanding, interpretation remained uncontroversial, whatever the enthusiasts of neighbouring communities maintained.";

    private static List<string[]> Lines(string before, string preamble = "", int width = 150)
    {
        CompileResult result = Compiled.Body($"\\noindent\\begin{{minipage}}{{{width}pt}}{before}{Prose} {Prose}\\end{{minipage}}", preamble);
        return [.. PdfWords.Of(result).Where(w => w.Text != "1").GroupBy(w => Math.Round(w.Top)).OrderBy(g => g.Key).Select(g => g.Select(w => w.Text).ToArray())];
    }

    [Fact]
    public void Dividing_words_can_be_made_too_dear()
    {
        Assert.Contains(Lines(""), l => l[^1].EndsWith('-') || l[^1].EndsWith('\u00AD'));
        Assert.DoesNotContain(Lines("\\hyphenpenalty=10000 \\tolerance=9999 \\emergencystretch=5em "), l => l[^1].EndsWith('-') || l[^1].EndsWith('\u00AD'));
    }

    [Fact]
    public void A_paragraph_can_be_a_line_longer_than_is_best_and_the_next_is_not()
    {
        int Count(string before) => Lines("\\tolerance=9000 \\emergencystretch=3em " + before, "", 320).Count;
        Assert.Equal(Count("") + 1, Count("\\looseness=1 "));
        CompileResult result = Compiled.Body("\\tolerance=9000 \\emergencystretch=3em \\looseness=1 " + Prose + "\n\n" + Prose);
        int[] lines = [.. PdfWords.Of(result).Where(w => w.Text != "1").GroupBy(w => Math.Round(w.Top)).Select(g => g.Count())];
        CompileResult plain = Compiled.Body("\\tolerance=9000 \\emergencystretch=3em " + Prose + "\n\n" + Prose);
        Assert.Equal(PdfWords.Of(plain).Where(w => w.Text != "1").GroupBy(w => Math.Round(w.Top)).Count() + 1, lines.Length);
    }

    [Fact]
    public void Points_and_hyphens_stand_in_the_margin_with_optical_margins()
    {
        double[] Ends(string preamble) => [.. PdfWords.Of(Compiled.Body("\\noindent " + Prose + " " + Prose + " " + Prose + " " + Prose, preamble)).Where(w => w.Text != "1")
            .GroupBy(w => Math.Round(w.Top)).OrderBy(g => g.Key).SkipLast(1).Select(g => g.MaxBy(w => w.Right)).Where(w => w.Text[^1] is ',' or '.' or '-').Select(w => w.Right)];
        double edge = Ends("").Max();
        double[] hanging = Ends("\\usepackage{microtype}\n");
        Assert.NotEmpty(hanging);
        Assert.All(hanging, x => Assert.InRange(x - edge, 1, 4));
        Assert.All(Ends("\\usepackage[protrusion=false]{microtype}\n"), x => Assert.Equal(edge, x, 0.3));
    }

    [Fact]
    public void Glyphs_give_way_by_two_in_a_hundred_at_most_and_lines_end_at_one_edge()
    {
        string body = $"\\noindent\\begin{{minipage}}{{220pt}}{Prose} {Prose}\\end{{minipage}}";
        CompileResult plain = Compiled.Body(body);
        CompileResult even = Compiled.Body(body, "\\usepackage[protrusion=false]{microtype}\n");
        Assert.True(Unevenness(even) < 0.9 * Unevenness(plain), $"spaces differ by {Unevenness(even):0.000}, without by {Unevenness(plain):0.000}");
        string content = Compiled.Run("qpdf", even.Pdf, "--qdf", "--object-streams=disable", "FILE", "-");
        double[] factors = [.. System.Text.RegularExpressions.Regex.Matches(content, @"Tf ([\d.]+) 0 0 1").Select(m => double.Parse(m.Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture))];
        Assert.Contains(factors, f => f > 1.004);
        Assert.Contains(factors, f => f < 0.996);
        Assert.All(factors, f => Assert.InRange(f, 0.98, 1.02));
        double[] ends = [.. PdfWords.Of(even).Where(w => w.Text != "1").GroupBy(w => Math.Round(w.Top)).OrderBy(g => g.Key).SkipLast(1).Select(g => g.Max(w => w.Right))];
        Assert.True(ends.Count(e => Math.Abs(e - ends.Order().ElementAt(ends.Length / 2)) < 0.2) >= ends.Length * 2 / 3, string.Join(' ', ends));
        Assert.DoesNotContain("0.98 0 0 1", Compiled.Run("qpdf", Compiled.Body(body, "\\usepackage[expansion=false]{microtype}\n").Pdf, "--qdf", "--object-streams=disable", "FILE", "-"));
    }

    // UAX #14: ZW allows a line's end, WJ and GL forbid it, BA allows it after a fixed space.
    [Theory]
    [InlineData("\"\"", true)]
    [InlineData("\"|", false)]
    [InlineData("\u2009", true)]
    [InlineData("\u2014", true)]
    [InlineData("\u2060", false)]
    [InlineData("\u202F", false)]
    [InlineData("\u2007", false)]
    [InlineData("\u2011", false)]
    public void A_line_may_end_only_where_the_sign_allows_it(string sign, bool ends)
    {
        string word = string.Join(sign, Enumerable.Repeat("wall1234", 12));
        CompileResult result = Compiled.Body($"\\noindent\\begin{{minipage}}{{100pt}}{word}\\end{{minipage}}", "\\usepackage[ngerman]{babel}\n");
        int lines = PdfWords.Of(result).Where(w => w.Text != "1").Select(w => Math.Round(w.Top)).Distinct().Count();
        Assert.True(ends ? lines > 3 : lines == 1, $"{lines} lines");
        Assert.DoesNotContain(result.Report.Findings, f => f.Code == "missing-glyph");
    }

    // Standard deviation of the spaces between words in points, last lines left out.
    private static double Unevenness(CompileResult result)
    {
        double[] spaces = [.. PdfWords.Of(result).Where(w => w.Text != "1").GroupBy(w => Math.Round(w.Top)).OrderBy(g => g.Key).SkipLast(1)
            .SelectMany(g => g.Zip(g.Skip(1), (a, b) => b.Left - a.Right))];
        double mean = spaces.Average();
        return Math.Sqrt(spaces.Average(s => (s - mean) * (s - mean)));
    }
}
