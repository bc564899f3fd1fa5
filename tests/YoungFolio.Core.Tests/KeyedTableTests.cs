using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Tables whose looks are said by keys, apart from their cells (tabularray's documentation, from memory).</summary>
public class KeyedTableTests
{
    private static CompileResult Table(string source, string preamble = "") => Compiled.Clean(source, "\\usepackage{xcolor,tabularray}" + preamble);

    private static PdfWord Word(CompileResult result, string text) => PdfWords.Of(result).Single(w => w.Text == text);

    private static double Middle(PdfWord word) => (word.Left + word.Right) / 2;

    private static List<PdfRule> Across(CompileResult result) => [.. PdfWords.Rules(result).Where(r => r.Width > r.Height).OrderByDescending(r => r.Y)];

    private static List<PdfRule> Upright(CompileResult result) => [.. PdfWords.Rules(result).Where(r => r.Height > r.Width)];

    [Theory]
    [InlineData("{lcr}")]
    [InlineData("{colspec={lcr}}")]
    [InlineData("{colspec = {Q[l] Q[c] Q[r]}}")]
    [InlineData("{columns={l}, column{2}={c}, column{3}={halign=r}}")]
    [InlineData("{cells={c}, column{1}={l}, column{Z}={r}}")]
    public void Columns_stand_as_their_letters_or_keys_say(string keys)
    {
        CompileResult result = Table($"\\begin{{tblr}}{keys} wide-one & wide-two & wide-three \\\\ a & b & c \\end{{tblr}}");
        Assert.Equal(Word(result, "wide-one").Left, Word(result, "a").Left, 0.1);
        Assert.Equal(Middle(Word(result, "wide-two")), Middle(Word(result, "b")), 0.2);
        Assert.Equal(Word(result, "wide-three").Right, Word(result, "c").Right, 0.1);
    }

    [Theory]
    [InlineData("hlines", 4)]
    [InlineData("hline{1,Z}={1pt}", 2)]
    [InlineData("hline{2-3}={solid}", 2)]
    [InlineData("hline{odd}={dashed}", 2)]
    [InlineData("hline{1}={1pt}, hline{2}={0.5pt}, hline{Z}={1pt}", 3)]
    [InlineData("row{1}={font=\\bfseries}", 0)]
    public void Lines_across_stand_where_keys_put_them(string keys, int lines) =>
        Assert.Equal(lines, Across(Table($"\\begin{{tblr}}{{colspec={{ll}}, {keys}}} a & b \\\\ c & d \\\\ e & f \\\\ \\end{{tblr}}")).Count);

    [Fact]
    public void A_line_has_its_width_and_its_stretch()
    {
        List<PdfRule> lines = Across(Table("\\begin{tblr}{colspec={lll}, hline{1}={2pt}, hline{2}={2-3}{solid}} a & b & c \\\\ d & e & f \\end{tblr}"));
        Assert.Equal(2 * 72 / 72.27, lines[0].Height, 0.05);
        Assert.True(lines[1].X > lines[0].X + 5, "the second line begins at the second column");
        Assert.Equal(lines[0].X + lines[0].Width, lines[1].X + lines[1].Width, 0.1);
    }

    [Theory]
    [InlineData("vlines", 6)]
    [InlineData("vline{2}={solid}", 2)]
    [InlineData("colspec={|l|l|}", 6)]
    public void Upright_lines_stand_where_keys_put_them(string keys, int pieces) =>
        Assert.Equal(pieces, Upright(Table($"\\begin{{tblr}}{{{keys}}} a & b \\\\ c & d \\end{{tblr}}")).Count);

    [Theory]
    [InlineData("{colspec={ccc}, cell{1}{1}={c=3}{c}} Title & & \\\\ first & second & third")]
    [InlineData("{ccc} \\SetCell[c=3]{c} Title & & \\\\ first & second & third")]
    public void A_cell_takes_several_columns_and_stands_in_their_middle(string table)
    {
        CompileResult result = Table($"\\begin{{tblr}}{table} \\end{{tblr}}");
        Assert.Equal((Word(result, "first").Left + Word(result, "third").Right) / 2, Middle(Word(result, "Title")), 0.5);
    }

    [Theory]
    [InlineData("{colspec={ll}, hlines, cell{1}{1}={r=2}{m}} Both & a \\\\ & b \\\\ last & c")]
    [InlineData("{colspec={ll}, hlines} \\SetCell[r=2]{m} Both & a \\\\ & b \\\\ last & c")]
    public void A_cell_takes_several_rows_and_no_line_goes_through_it(string table)
    {
        CompileResult result = Table($"\\begin{{tblr}}{table} \\end{{tblr}}");
        Assert.Equal((Word(result, "a").Top + Word(result, "b").Top) / 2, Word(result, "Both").Top, 1.5);
        List<PdfRule> lines = Across(result);
        Assert.Equal(4, lines.Count);
        Assert.True(lines[1].X > Word(result, "Both").Right, "the line between its rows begins behind it");
    }

    [Fact]
    public void Rows_columns_and_cells_have_grounds_inks_and_type()
    {
        CompileResult result = Table("\\begin{tblr}{colspec={ll}, row{1}={bg=yellow,font=\\bfseries}, cell{2}{2}={fg=red}, row{even}={blue!20}} Head & Side \\\\ a & b \\\\ c & $d$ \\end{tblr}");
        string content = Compiled.Run("qpdf", result.Pdf, "--qdf", "--object-streams=disable", "FILE", "-");
        Assert.Contains("1 1 0 rg", content, StringComparison.Ordinal);
        Assert.Contains("1 0 0 rg", content, StringComparison.Ordinal);
        Assert.Contains("0.8 0.8 1 rg", content, StringComparison.Ordinal);
        Assert.Contains("bold", Compiled.Run("pdffonts", result.Pdf, "FILE"), StringComparison.Ordinal);
    }

    [Fact]
    public void Columns_share_what_is_left_by_their_shares()
    {
        CompileResult result = Table("\\noindent\\begin{tblr}{width=\\linewidth, colspec={X[1,l]X[3,l]}, vlines, hlines} a & b \\end{tblr}");
        double[] at = [.. Upright(result).Select(r => r.X).Order()];
        Assert.Equal(345 * 72 / 72.27, at[2] - at[0], 1.0);
        // Of two columns with 1 and 3 shares of the words' width.
        Assert.Equal(3, (at[2] - at[1] - 12) / (at[1] - at[0] - 12), 0.15);
    }

    [Fact]
    public void A_column_of_a_width_breaks_its_words_and_cells_in_braces_have_lines()
    {
        CompileResult result = Table("\\begin{tblr}{Q[2cm]Q[c]} some words that need more than one line & {upper \\\\ lower} \\end{tblr}");
        Assert.True(Word(result, "line").Top > Word(result, "some").Top + 8);
        Assert.True(Word(result, "lower").Top > Word(result, "upper").Top + 8);
    }

    [Fact]
    public void A_long_table_has_a_caption_in_the_list_and_repeats_its_head()
    {
        string rows = string.Concat(Enumerable.Range(1, 50).Select(i => $"row{i} & {i} \\\\\n"));
        CompileResult result = Table($"\\listoftables See Table~\\ref{{t:long}}. \\begin{{longtblr}}[caption={{All walls}}, label={{t:long}}]{{colspec={{lr}}, rowhead=1, hlines}}\nHead & Number \\\\\n{rows}\\end{{longtblr}}");
        Assert.Equal(2, PdfWords.Of(result).Count(w => w.Text == "Head"));
        string text = Compiled.Text(result);
        Assert.Contains("See Table 1.", text, StringComparison.Ordinal);
        Assert.Contains("Table 1: All walls", text, StringComparison.Ordinal);
        Assert.Contains("1 All walls", text, StringComparison.Ordinal);
    }

    [Fact]
    public void Lines_of_books_and_keys_for_all_tables()
    {
        CompileResult result = Table("\\begin{booktabs}{lr} \\toprule Wall & m \\\\ \\midrule Edge & 12 \\\\ \\cmidrule{2} Fell & 3 \\\\ \\bottomrule \\end{booktabs}\n\n\\SetTblrInner{hlines,vlines}\\begin{tblr}{l} x \\end{tblr}",
            "\\UseTblrLibrary{booktabs}");
        Assert.Equal(6, Across(result).Count);
        Assert.Equal(2, Upright(result).Count);
    }

    [Fact]
    public void Findings_in_cells_stand_at_their_own_place()
    {
        CompileResult result = Compiled.Files(("main.tex", "\\documentclass{article}\n\\usepackage{tabularray}\n\\begin{document}\n\\begin{tblr}{ll}\na & b \\\\\nc & \\wrongname \\\\\n\\end{tblr}\n\\end{document}"));
        FindingLine finding = Assert.Single(result.Report.Findings);
        Assert.Equal(("unknown-command", 6), (finding.Code, finding.Line!.Value));
    }

    [Theory]
    [InlineData("{}")]
    [InlineData("{colspec={")]
    [InlineData("{colspec={*{999}{*{999}{l}}}} a")]
    [InlineData("{cell{1}{1}={r=99,c=99}{c}} a & b \\\\ c")]
    [InlineData("{hline{99}={1pt}, vline{-5}={x}, row{Z-1}={c}} a")]
    [InlineData("{ll} \\SetCell[c=2] a & b \\\\ \\hline")]
    public void What_is_half_written_brings_no_crash(string body) =>
        Assert.NotEmpty(Compiled.Article($"\\begin{{tblr}}{body} \\end{{tblr}} After", "\\usepackage{tabularray}").Pdf);

    [Fact]
    public void A_long_table_by_keys_is_read_in_a_moment()
    {
        string rows = string.Concat(Enumerable.Range(1, 1_500).Select(i => $"\\SetCell[c=2]{{c}} a & & {i} \\\\\n"));
        Assert.True(TimeLimit.Within(20, () => Compiled.Article($"\\begin{{longtblr}}{{colspec={{ccc}},hlines}}{rows}\\end{{longtblr}}", "\\usepackage{tabularray}")).Report.Pages > 20);
    }
}
