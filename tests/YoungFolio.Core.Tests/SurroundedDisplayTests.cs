using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Displays with something around all their rows, each row with its number (empheq's and cases' documentations, from memory).</summary>
public class SurroundedDisplayTests
{
    private static PdfWord Word(CompileResult result, string text) => PdfWords.Of(result).Single(w => w.Text == text);

    [Fact]
    public void Rows_within_a_brace_keep_their_numbers_and_labels()
    {
        CompileResult result = Compiled.Clean("\\begin{empheq}[left={F=\\empheqlbrace}]{align} a &= b \\label{one} \\\\ c &= d \\label{two} \\end{empheq} See \\ref{one} and \\ref{two}.", "\\usepackage{empheq}");
        string text = Compiled.Text(result, "-layout");
        Assert.Contains("(1)", text, StringComparison.Ordinal);
        Assert.Contains("(2)", text, StringComparison.Ordinal);
        Assert.Contains("See 1 and 2.", text, StringComparison.Ordinal);
        // What the brace belongs to stands in the middle of the rows, at their left.
        (PdfWord first, PdfWord second, PdfWord left) = (Word(result, "a"), Word(result, "c"), PdfWords.Of(result).First(w => w.Text.StartsWith('F')));
        Assert.Equal((first.Top + second.Top) / 2, left.Top, 3.0);
        Assert.True(left.Left < first.Left);
    }

    [Theory]
    [InlineData("box=\\fbox", 1, 0)]
    [InlineData("box=\\widefbox", 1, 0)]
    [InlineData("box=\\colorbox{yellow}", 0, 1)]
    [InlineData("box={\\fcolorbox{red}{yellow}}", 1, 1)]
    public void A_frame_or_a_ground_stands_around_all_rows_and_not_around_numbers(string box, int strokes, int fills)
    {
        CompileResult result = Compiled.Clean($"\\begin{{empheq}}[{box}]{{align}} a+b+c &= d+e+f \\\\ g &= h \\end{{empheq}}", "\\usepackage{xcolor,empheq}\\newcommand\\widefbox[1]{\\fbox{\\hspace{1em}#1\\hspace{1em}}}");
        var curves = DrawingTests.Curves(result);
        Assert.Equal((strokes, fills), (curves.Count(c => c.Kind == "S"), curves.Count(c => c.Kind != "S")));
        double width = curves[0].Points.Max(p => p.X) - curves[0].Points.Min(p => p.X);
        double height = curves[0].Points.Max(p => p.Y) - curves[0].Points.Min(p => p.Y);
        double rows = (Word(result, "g").Top - PdfWords.Of(result).First(w => w.Text.StartsWith('a')).Top) * 25.4 / 72;
        Assert.InRange(height, rows + 4, rows + 11);
        Assert.InRange(width, 25, 60);
    }

    [Fact]
    public void Cases_have_a_number_each_and_words_beside_them()
    {
        CompileResult result = Compiled.Clean("\\begin{numcases}{f(x)=} 1 & if $x>0$\\label{up} \\\\ 0 & otherwise \\end{numcases} Case \\ref{up}. \\begin{subnumcases}{} A & here \\\\ B & there \\end{subnumcases}", "\\usepackage{cases}");
        string text = Compiled.Text(result, "-layout");
        foreach (string printed in (string[])["(1)", "(2)", "(3a)", "(3b)", "otherwise", "Case 1."])
        {
            Assert.Contains(printed, text, StringComparison.Ordinal);
        }

        // Values stand under one another, and so do their words.
        Assert.Equal(Word(result, "if").Left, Word(result, "otherwise").Left, 0.5);
        Assert.Equal(Word(result, "here").Left, Word(result, "there").Left, 0.5);
    }

    [Theory]
    [InlineData("gather")]
    [InlineData("equation")]
    [InlineData("align*")]
    [InlineData("alignat=2")]
    [InlineData("flalign")]
    [InlineData("multline")]
    public void All_displays_may_have_something_around_them(string environment) =>
        Assert.Contains("a", Compiled.Text(Compiled.Clean($"\\begin{{empheq}}[left=\\empheqlbrack,right=\\empheqrbrack]{{{environment}}} a = b \\end{{empheq}}", "\\usepackage{empheq}")), StringComparison.Ordinal);

    // tabularx' documentation, section 4.3 (from memory): shares of columns by \hsize.
    [Theory]
    [InlineData(">{\\hsize=.5\\hsize}X|>{\\hsize=1.5\\hsize}X", 3)]
    [InlineData(">{\\hsize=.5\\hsize\\linewidth=\\hsize}X|>{\\hsize=1.5\\hsize\\linewidth=\\hsize}X", 3)]
    [InlineData(">{\\setlength\\hsize{.5\\hsize}}X|>{\\setlength{\\hsize}{1.5\\hsize}}X", 3)]
    [InlineData("X|X", 1)]
    public void Columns_share_a_width_by_what_is_said_of_their_lines(string columns, double ratio)
    {
        CompileResult result = Compiled.Clean($"\\noindent\\begin{{tabularx}}{{\\linewidth}}{{|{columns}|}} a & b \\end{{tabularx}}", "\\usepackage{tabularx}");
        double[] at = [.. PdfWords.Rules(result).Where(r => r.Height > r.Width).Select(r => r.X).Order()];
        Assert.Equal(ratio, (at[2] - at[1] - 12) / (at[1] - at[0] - 12), 0.1);
    }
}
