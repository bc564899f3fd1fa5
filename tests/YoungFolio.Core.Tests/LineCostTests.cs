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
}
