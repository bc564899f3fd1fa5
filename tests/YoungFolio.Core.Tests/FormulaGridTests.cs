using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Arrays and matrices: cells that take several columns, what stands between columns, delimiters around a part; tables in formulas.</summary>
public class FormulaGridTests
{
    private const double Bp = 72 / 72.27;

    private static List<PdfWord> Words(string body, string packages = "amsmath") => PdfWords.Of(Compiled.Clean(body, $"\\usepackage{{{packages}}}"));

    [Fact]
    public void A_cell_takes_several_columns_and_stands_in_their_middle()
    {
        List<PdfWord> words = Words("\\[\\begin{array}{lr} \\multicolumn{2}{c}{\\mathrm{head}}\\\\ \\mathrm{leftmost} & \\mathrm{rightmost}\\end{array}\\]");
        PdfWord head = words.One("head");
        Assert.Equal((words.One("leftmost").Left + words.One("rightmost").Right) / 2, head.Middle, 0.3);
        Assert.True(head.Bottom < words.One("leftmost").Bottom - 8);
    }

    [Fact]
    public void A_wide_cell_widens_the_last_of_its_columns()
    {
        List<PdfWord> words = Words("\\[\\begin{array}{lll} \\multicolumn{2}{l}{\\mathrm{averywideheading}} & \\mathrm{c}\\\\ \\mathrm{aa} & \\mathrm{bb} & \\mathrm{cc}\\end{array}\\]");
        Assert.Equal(words.One("averywideheading").Left, words.One("aa").Left, 0.2);
        Assert.Equal(words.One("averywideheading").Right + (10 * Bp), words.One("c").Left, 0.3);
        Assert.Equal(words.One("aa").Right + (10 * Bp), words.One("bb").Left, 0.3);
    }

    // Lines down stop at a cell that takes several columns; \cline goes over the columns that it names.
    [Fact]
    public void Lines_are_where_they_are_asked_for()
    {
        List<PdfRule> rules = PdfWords.Rules(Compiled.Clean("\\[\\begin{array}{|c|c|} \\multicolumn{2}{c}{a}\\\\ \\cline{2-2} b & c\\end{array}\\]", "\\usepackage{amsmath}"));
        PdfRule[] down = [.. rules.Where(r => r.Height > 5)], across = [.. rules.Where(r => r.Width > 5)];
        Assert.Equal(3, down.Length);
        // The spanning cell has no lines of its own: all begin below it, in the second row.
        Assert.Single(down.Select(r => Math.Round(r.Y, 1)).Distinct());
        PdfRule line = Assert.Single(across);
        Assert.True(line.X > down.Min(r => r.X) + 5);
    }

    [Theory]
    [InlineData("c@{}c", 0)]
    [InlineData("cc", 10)]
    [InlineData("c@{\\hspace{20pt}}c", 20)]
    public void What_stands_between_columns_takes_the_place_of_their_gap(string columns, double gap)
    {
        List<PdfWord> words = Words($"\\[\\begin{{array}}{{{columns}}} \\mathrm{{aaa}} & \\mathrm{{ccc}}\\end{{array}}\\]");
        if (gap == 0)
        {
            Assert.Contains(words, w => w.Text == "aaaccc");
            return;
        }

        Assert.Equal(gap * Bp, words.One("ccc").Left - words.One("aaa").Right, 0.3);
    }

    [Theory]
    [InlineData("\\begin{array}{c@{=}c} a & b\\\\ c & d\\end{array}", "𝑎=𝑏𝑐=𝑑")]
    [InlineData("\\begin{array}{>{x}c<{!}} a\\\\ b\\end{array}", "𝑥𝑎!𝑥𝑏!")]
    [InlineData("\\bordermatrix{&1&2\\cr p&x&y\\cr q&z&w\\cr}", "12𝑝𝑥𝑦𝑞𝑧𝑤()")]
    [InlineData("x=\\begin{tabular}{c}one\\\\two\\end{tabular}", "𝑥=onetwo")]
    [InlineData("\\begin{array}{c} \\hline [a]\\\\ \\hline[b]\\end{array}", "[𝑎][𝑏]")]
    [InlineData("\\begin{array}{rcl} a & = & b\\\\ \\hline c\\end{array}", "𝑎=𝑏𝑐")]
    public void All_cells_print(string formula, string printed) =>
        Assert.Equal(string.Concat(Plain(printed).Order()), string.Concat(Plain(Compiled.Text(Compiled.Clean($"\\[{formula}\\]", "\\usepackage{amsmath,array}"))).Where(c => c is not ('⎛' or '⎝' or '⎞' or '⎠')).Order()));

    [Fact]
    public void Parentheses_of_a_bordered_matrix_leave_the_first_row_and_column_out()
    {
        List<PdfWord> words = Words("\\[\\bordermatrix{&\\mathrm{top}&\\mathrm{up}\\cr \\mathrm{side}&\\mathrm{xx}&\\mathrm{yy}\\cr \\mathrm{side}&\\mathrm{zz}&\\mathrm{ww}\\cr}\\]");
        PdfWord fence = words.First(w => w.Text.StartsWith('('));
        Assert.InRange(fence.Left, words.First(w => w.Text == "side").Right, words.First(w => w.Text.EndsWith("xx", StringComparison.Ordinal)).Right);
        Assert.True(fence.Centre > words.One("top").Bottom);
    }

    // amsmath: rows of cases are 1.2 times as high; mathtools: those of dcases stand \jot (3 pt) apart.
    [Theory]
    [InlineData("cases", 14.4)]
    [InlineData("dcases", 15)]
    [InlineData("matrix", 12)]
    [InlineData("aligned", 15)]
    public void Rows_stand_as_far_apart_as_their_package_says(string environment, double distance)
    {
        List<PdfWord> words = Words($"\\[\\begin{{{environment}}} \\mathrm{{aaa}}\\\\ \\mathrm{{ccc}}\\end{{{environment}}}\\]", "amsmath,mathtools");
        Assert.Equal(distance * Bp, words.One("ccc").Bottom - words.One("aaa").Bottom, 0.2);
    }

    [Fact]
    public void Gaps_and_heights_follow_the_array_s_measures()
    {
        List<PdfWord> words = Words("\\setlength{\\arraycolsep}{10pt}\\renewcommand{\\arraystretch}{2}\\[\\begin{matrix} \\mathrm{aaa}&\\mathrm{bbb}\\\\ \\mathrm{ccc}\\end{matrix}\\]");
        Assert.Equal(20 * Bp, words.One("bbb").Left - words.One("aaa").Right, 0.3);
        Assert.Equal(24 * Bp, words.One("ccc").Bottom - words.One("aaa").Bottom, 0.3);
    }

    // Lines below a sum have the size of scripts, not of scripts of scripts (amsmath).
    [Fact]
    public void Stacked_lines_have_the_size_of_scripts()
    {
        List<PdfWord> words = Words("\\[\\sum_{\\substack{\\mathrm{nnn}\\\\ \\mathrm{mmm}}} x_{\\mathrm{iii}}\\]");
        Assert.Equal(words.First(w => w.Text.Contains("iii", StringComparison.Ordinal)).Bottom - words.First(w => w.Text.Contains("iii", StringComparison.Ordinal)).Top, words.One("nnn").Bottom - words.One("nnn").Top, 0.6);
    }

    [Fact]
    public void A_cell_that_takes_several_columns_says_so_to_who_listens()
    {
        string read = MathMlTests.Read("\\begin{array}{cc} \\multicolumn{2}{c}{a}\\\\ b & c\\end{array}").ToString();
        Assert.Contains("columnspan=\"2\"", read, StringComparison.Ordinal);
        Assert.Equal(3, read.Split("<mtd").Length - 1);
    }

    // MathML 3: variant letters are letters of their own; frames are menclose; formulas among words stay formulas.
    [Theory]
    [InlineData("\\phi\\varphi\\epsilon\\varepsilon\\theta\\vartheta", "ϕφϵεθϑ")]
    public void Letters_that_are_drawn_in_two_ways_are_two_letters(string formula, string expected) => Assert.Equal(expected, MathMlTests.Read(formula).Value);

    [Theory]
    [InlineData("\\boxed{\\frac ab}", "menclose", "mfrac")]
    [InlineData("\\text{if $\\sqrt x$ holds}", "mtext", "msqrt")]
    public void Formulas_in_words_and_frames_keep_their_structure(string formula, string outer, string inner)
    {
        System.Xml.Linq.XElement read = MathMlTests.Read(formula);
        Assert.Contains(read.Descendants(), e => e.Name.LocalName == outer);
        Assert.Contains(read.Descendants(), e => e.Name.LocalName == inner);
    }

    [Fact]
    public void An_operator_of_one_letter_is_upright() => Assert.Contains("mathvariant=\"normal\">f<", MathMlTests.Read("\\operatorname{f}x").ToString(), StringComparison.Ordinal);

    [Theory]
    [InlineData("{S}", "1.25e3\\\\", "1.25 × 103")]
    [InlineData("{S}", "9.5e-12\\\\", "9.5 × 10−12")]
    [InlineData("{S}", "12.3 \\pm 0.4\\\\", "12.3±0.4")]
    [InlineData("{S}", "{$1\\pm 2$}\\\\", "1 ± 2")]
    [InlineData("{l@{ = }l}", "a & b\\\\", "a = b")]
    public void Cells_and_what_stands_between_them_print_as_they_are_meant(string columns, string row, string printed) =>
        Assert.Equal(printed.Replace(" ", "", StringComparison.Ordinal), Compiled.Text(Compiled.Clean($"\\begin{{tabular}}{columns} {row} \\end{{tabular}}", "\\usepackage{siunitx}")).Replace(" ", "", StringComparison.Ordinal));

    [Theory]
    [InlineData("l@{ = }l", "=")]
    [InlineData("l@{\\ :}l", ":")]
    public void Spaces_between_columns_are_kept(string columns, string sign)
    {
        List<PdfWord> words = Words($"\\begin{{tabular}}{{{columns}}} aa & bb\\\\ \\end{{tabular}}");
        Assert.Equal(3.33 * Bp, words.First(w => w.Text.StartsWith(sign, StringComparison.Ordinal)).Left - words.One("aa").Right, 0.1);
    }

    // longtable's documentation: the head may end by its command in the place of \\.
    [Fact]
    public void The_head_of_a_long_table_may_end_without_the_sign_for_a_row()
    {
        CompileResult result = Compiled.Clean("\\begin{longtable}{ll} \\hline A & B \\endhead \\hline \\endfoot 1 & 2\\\\ 3 & 4\\\\ \\end{longtable}", "\\usepackage{longtable}");
        Assert.Equal("A B 1 2 3 4", Compiled.Text(result, "-layout"));
    }

    [Fact]
    public void A_frame_of_formulas_may_stand_in_text() => Assert.Equal("so 𝑥 here".Normalize(System.Text.NormalizationForm.FormKC), Compiled.Text(Compiled.Clean("so \\boxed{x} here", "\\usepackage{amsmath}")).Normalize(System.Text.NormalizationForm.FormKC));

    // Thousands of cells, in one row or over several columns, take no longer than so many letters.
    [Theory]
    [InlineData("a&")]
    [InlineData("\\multicolumn{2}{|c|}{a}&")]
    public void Wide_rows_are_set_at_once(string cell)
    {
        string row = string.Concat(Enumerable.Repeat(cell, 4_000));
        TimeLimit.Within(5, () => Compiled.Body($"\\[\\begin{{array}}{{c}}{row}a\\\\{row}b\\end{{array}}\\]"));
    }

    [Theory]
    [InlineData("\\begin{itemize}\nwords\n\\item a\\end{itemize}", "text-before-item")]
    [InlineData("\\begin{enumerate}\nwords\n\\end{enumerate}", "text-before-item")]
    [InlineData("\\begin{equation}\\begin{align}a&=b\\\\ c&=d\\end{align}\\end{equation}", "display-in-formula")]
    [InlineData("\\[\\begin{gather*}a=b\\end{gather*}\\]", "display-in-formula")]
    public void What_stands_in_the_wrong_place_is_said_once(string body, string code)
    {
        CompileResult result = Compiled.Body(body);
        Assert.Equal([code], Compiled.Codes(result));
        Assert.Equal(4, result.Report.Findings.Single(f => f.Code == code).Line);
    }

    private static string Plain(string text) => text.Normalize(System.Text.NormalizationForm.FormKC).Replace(" ", "", StringComparison.Ordinal);
}
