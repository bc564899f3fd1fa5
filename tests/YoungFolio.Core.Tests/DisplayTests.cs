using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Displays: their numbers, and where poppler finds their parts. The rules are those of amsmath's documentation, from memory.</summary>
public class DisplayTests
{
    private static CompileResult Article(string body, string preamble = "", string options = "") => Compiled.Files(("main.tex",
        $"\\documentclass[{options}]{{article}}\\usepackage{{amsmath}}{preamble}\\pagestyle{{empty}}\\begin{{document}}{body}\\end{{document}}"));

    private static string[] Numbers(CompileResult result) => [.. result.Report.Equations.Select(e => e.Number)];

    [Theory]
    [InlineData("\\begin{align}a&=b\\\\c&=d\\notag\\\\e&=f\\end{align}", "1 2")]
    [InlineData("\\begin{align}a&=\\begin{cases}1\\\\2\\end{cases}\\notag\\\\c&=d\\end{align}", "1")]
    [InlineData("\\begin{gather}a\\\\b\\end{gather}\\begin{multline}a\\\\b\\\\c\\end{multline}", "1 2 3")]
    [InlineData("\\begin{equation}a\\tag{A}\\end{equation}\\begin{equation}b\\end{equation}\\[c\\tag*{B}\\]", "A 1 B")]
    [InlineData("\\begin{subequations}\\begin{align}a&=b\\\\c&=d\\end{align}\\end{subequations}\\begin{equation}e\\end{equation}", "1a 1b 2")]
    [InlineData("\\begin{eqnarray}a&=&b\\\\c&=&d\\nonumber\\end{eqnarray}\\begin{eqnarray*}a&=&b\\end{eqnarray*}", "1")]
    [InlineData("\\begin{alignat}{2}a&=b&c&=d\\end{alignat}\\begin{flalign}a&=b\\end{flalign}\\begin{flalign*}a&=b\\end{flalign*}", "1 2")]
    [InlineData("\\begin{equation}\\begin{split}a&=b\\\\&=c\\end{split}\\end{equation}\\begin{equation*}x\\end{equation*}", "1")]
    [InlineData("\\numberwithin{equation}{section}\\section{A}\\begin{equation}a\\end{equation}\\section{B}\\begin{equation}a\\end{equation}", "1.1 2.1")]
    [InlineData("$$a \\eqno(7)$$\\begin{equation}b\\end{equation}", "1")]
    public void Rows_get_the_numbers_that_their_environment_and_tags_give(string body, string numbers)
    {
        CompileResult result = Article(body);
        Assert.Empty(result.Report.Findings);
        Assert.Equal(numbers.Split(' '), Numbers(result));
    }

    [Fact]
    public void A_reference_prints_the_tag()
    {
        Assert.Contains("See (A) and B.", Compiled.Text(Article("\\begin{equation}a\\tag{A}\\label{a}\\end{equation}\\[c\\tag*{B}\\label{b}\\] See \\eqref{a} and \\ref{b}.")));
        Assert.Contains("See (1b) of 1.", Compiled.Text(Article("\\begin{subequations}\\label{s}\\begin{align}a&=b\\\\c&=d\\label{b}\\end{align}\\end{subequations}See \\eqref{b} of \\ref{s}.")));
    }

    [Fact]
    public void Numbers_stand_flush_right_or_with_leqno_flush_left()
    {
        const string Body = "\\noindent\\rule{\\textwidth}{1pt}\\begin{equation}\\text{one}\\end{equation}\\begin{gather}\\text{two}\\\\ \\text{three}\\end{gather}\\begin{align}\\text{four}&=x\\end{align}";
        PdfRule line = PdfWords.Rules(Article(Body))[0];
        List<PdfWord> right = PdfWords.Of(Article(Body));
        Assert.All(["(1)", "(2)", "(3)", "(4)"], n => Assert.Equal(line.X + line.Width, right.One(n).Right, 0.5));
        List<PdfWord> left = PdfWords.Of(Article(Body, options: "leqno"));
        Assert.All(["(1)", "(2)", "(3)", "(4)"], n => Assert.Equal(line.X, left.One(n).Left, 0.5));
    }

    [Fact]
    public void A_formula_is_centred_or_with_fleqn_indented()
    {
        const string Body = "\\noindent\\rule{\\textwidth}{1pt}\\[\\text{formula}\\]";
        PdfRule line = PdfWords.Rules(Article(Body))[0];
        Assert.Equal(line.X + (line.Width / 2), PdfWords.Of(Article(Body)).One("formula").Middle, 0.5);
        Assert.Equal(line.X + (25 * 72 / 72.27), PdfWords.Of(Article(Body, "\\setlength{\\mathindent}{25pt}", "fleqn")).One("formula").Left, 0.7);
    }

    [Fact]
    public void Columns_are_aligned_at_their_signs_and_pairs_have_even_space()
    {
        List<PdfWord> words = PdfWords.Of(Article("\\begin{align*}\\text{A}&\\quad\\text{one}&\\text{B}&\\quad\\text{uno}\\\\ \\text{long}&\\quad\\text{two}&\\text{C}&\\quad\\text{due}\\end{align*}"));
        Assert.Equal(words.One("one").Left, words.One("two").Left, 0.3);
        Assert.Equal(words.One("A").Right, words.One("long").Right, 0.3);
        Assert.Equal(words.One("uno").Left, words.One("due").Left, 0.3);
        List<PdfWord> tight = PdfWords.Of(Article("\\begin{alignat*}{2}\\text{A}&\\text{one}&\\text{B}&\\text{uno}\\end{alignat*}"));
        Assert.Equal("AoneBuno", string.Concat(tight.Select(w => w.Text)));
        PdfRule line = PdfWords.Rules(Article("\\noindent\\rule{\\textwidth}{1pt}"))[0];
        List<PdfWord> flush = PdfWords.Of(Article("\\begin{flalign*}\\text{A}&\\text{one}&\\text{B}&\\text{uno}\\end{flalign*}"));
        Assert.Equal(line.X, flush[0].Left, 0.5);
        Assert.Equal(line.X + line.Width, flush[^1].Right, 0.5);
    }

    [Fact]
    public void The_rows_of_a_multline_go_from_left_over_the_middle_to_right()
    {
        List<PdfWord> words = PdfWords.Of(Article("\\begin{multline*}\\text{first}\\\\ \\text{second}\\\\ \\shoveright{\\text{pushed}}\\\\ \\text{last}\\end{multline*}"));
        Assert.True(words.One("first").Left < words.One("second").Left);
        Assert.True(words.One("second").Left < words.One("last").Left);
        Assert.Equal(words.One("last").Right, words.One("pushed").Right, 0.3);
    }

    [Fact]
    public void Words_between_rows_keep_the_columns()
    {
        CompileResult result = Article("\\begin{align*}\\text{A}&\\quad\\text{one}\\\\ \\intertext{and so}\\text{long}&\\quad\\text{two}\\end{align*}");
        Assert.Empty(result.Report.Findings);
        List<PdfWord> words = PdfWords.Of(result);
        Assert.Equal(words.One("one").Left, words.One("two").Left, 0.3);
        Assert.InRange(words.One("and").Top, words.One("one").Bottom, words.One("two").Top);
        Assert.True(words.One("and").Left < words.One("one").Left - 50);
        Assert.Equal(["text-between"], Compiled.Codes(Article("Words. \\intertext{lost}")));
    }

    [Fact]
    public void A_number_that_does_not_fit_moves_below()
    {
        string wide = "\\rule{0.97\\textwidth}{1pt}";
        List<PdfWord> words = PdfWords.Of(Article($"\\begin{{equation}}{wide}\\end{{equation}} After \\begin{{equation}}\\rule{{3cm}}{{1pt}}\\end{{equation}}"));
        PdfRule[] rules = [.. PdfWords.Rules(Article($"\\begin{{equation}}{wide}\\end{{equation}}"))];
        Assert.True(words.One("(1)").Top > 792 - rules[0].Y - 6, "below the formula");
        Assert.Equal(words.One("(1)").Right, words.One("(2)").Right, 0.3);
    }

    // The TeXbook, p. 188: less space above when the line before ends left of the formula.
    [Fact]
    public void A_short_line_before_lets_the_display_come_closer()
    {
        double Space(string before)
        {
            List<PdfWord> words = PdfWords.Of(Article($"\\noindent {before}\\[\\text{{formula}}\\]", "\\usepackage{mathptmx}"));
            return words.One("formula").Top - words.Where(w => w.Text != "formula").Max(w => w.Top);
        }

        string filled = string.Join(' ', Enumerable.Repeat("words", 9)) + " end";
        Assert.Equal(10 * 72 / 72.27, Space(filled) - Space("Short"), 1.0);
    }

    [Fact]
    public void A_long_display_parts_only_where_that_is_allowed()
    {
        string rows = "\\begin{align*}" + string.Join("\\\\", Enumerable.Range(0, 12).Select(i => $"a&=\\rule{{1pt}}{{30pt}}\\text{{row{i}}}")) + "\\end{align*}";
        string filler = string.Concat(Enumerable.Repeat("Words.\n\n", 20));
        int[] Pages(string preamble) => [.. PdfWords.Of(Article(filler + rows, preamble)).Where(w => w.Text.StartsWith("row", StringComparison.Ordinal)).Select(w => w.Page).Distinct()];
        Assert.Equal([2], Pages(""));
        Assert.Equal([1, 2], Pages("\\allowdisplaybreaks"));
        List<PdfWord> parted = PdfWords.Of(Article("\\begin{align*}\\text{one}&=a\\displaybreak\\\\ \\text{two}&=b\\end{align*}"));
        Assert.Equal((1, 2), (parted.First(w => w.Text.StartsWith("one", StringComparison.Ordinal)).Page, parted.First(w => w.Text.StartsWith("two", StringComparison.Ordinal)).Page));
    }

    [Fact]
    public void The_space_around_displays_can_be_set()
    {
        double Gap(string setting)
        {
            List<PdfWord> words = PdfWords.Of(Article(setting + "\\noindent " + string.Join(' ', Enumerable.Repeat("words", 9)) + "\\[\\text{formula}\\] after"));
            return words.One("after").Top - words.One("formula").Top;
        }

        Assert.Equal(20 * 72 / 72.27, Gap("\\setlength{\\belowdisplayskip}{30pt}") - Gap("\\setlength{\\belowdisplayskip}{10pt}"), 0.3);
    }
}
