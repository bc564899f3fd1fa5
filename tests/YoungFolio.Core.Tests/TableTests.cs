using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Tables: where cells and lines stand, out of the PDF; meanings by Lamport, section C.10.2, and the packages' common use.</summary>
public class TableTests
{
    private const double Point = 72 / 72.27;

    private static CompileResult Table(string body, string packages = "array,booktabs,multirow,tabularx,longtable,dcolumn,makecell,threeparttable") =>
        Compiled.Body("\\noindent\n" + body, $"\\usepackage{{{packages}}}\\usepackage[table]{{xcolor}}\n");

    private static CompileResult Clean(CompileResult result)
    {
        Assert.Empty(result.Report.Findings.Where(f => f.Kind != "layout").Select(f => $"{f.Line}: {f.Message}"));
        return result;
    }

    [Fact]
    public void Cells_stand_left_centred_and_right_in_their_columns()
    {
        List<PdfWord> words = PdfWords.Of(Clean(Table("\\begin{tabular}{lcr}aleph & beth & gimel\\\\ A & B & C\\\\ wide aleph & wide beth & wide gimel\\end{tabular}")));
        Assert.Equal(words.One("A").Left, words.First(w => w.Text == "aleph").Left, 0.3);
        Assert.Equal(words.One("B").Middle, words.First(w => w.Text == "beth").Middle, 0.3);
        Assert.Equal(words.One("C").Right, words.First(w => w.Text == "gimel").Right, 0.3);
        // Twice \tabcolsep, 6 points, between two columns.
        PdfWord first = words.Last(w => w.Text == "aleph");
        Assert.Equal(12 * Point, words.Where(w => w.Text == "wide").ElementAt(1).Left - first.Right, 0.4);
    }

    [Fact]
    public void Baselines_stand_one_leading_apart_and_arraystretch_widens_them()
    {
        foreach ((string stretch, double leading) in ((string, double)[])[("1", 12), ("1.5", 18)])
        {
            List<PdfWord> words = PdfWords.Of(Table($"\\renewcommand{{\\arraystretch}}{{{stretch}}}\\begin{{tabular}}{{l}}one\\\\two\\\\three\\end{{tabular}}"));
            Assert.Equal(leading * Point, words.One("two").Top - words.One("one").Top, 0.05);
            Assert.Equal(leading * Point, words.One("three").Top - words.One("two").Top, 0.05);
        }
    }

    [Fact]
    public void Lines_of_a_grid_meet_without_gaps()
    {
        List<PdfRule> rules = PdfWords.Rules(Clean(Table("\\begin{tabular}{|l|r|}\\hline one & 1\\\\ \\hline two & 2\\\\ \\hline\\end{tabular}")));
        List<PdfRule> across = [.. rules.Where(r => r.Width > 10)];
        List<PdfRule> down = [.. rules.Where(r => r.Height > 5)];
        Assert.Equal(3, across.Count);
        Assert.Equal(6, down.Count);
        double top = across.Max(r => r.Y);
        double bottom = across.Min(r => r.Y + r.Height);
        foreach (IGrouping<double, PdfRule> line in down.GroupBy(r => Math.Round(r.X, 1)))
        {
            Assert.Equal(bottom, line.Min(r => r.Y), 0.02);
            Assert.Equal(top, line.Max(r => r.Y + r.Height), 0.02);
        }

        // The outer lines end where the lines across end.
        Assert.Equal(across[0].X, down.Min(r => r.X), 0.02);
        Assert.Equal(across[0].X + across[0].Width, down.Max(r => r.X + r.Width), 0.02);
    }

    [Fact]
    public void Double_lines_stand_two_points_apart()
    {
        List<PdfRule> rules = PdfWords.Rules(Table("\\begin{tabular}{l||l}\\hline\\hline a & b\\end{tabular}"));
        List<PdfRule> across = [.. rules.Where(r => r.Width > 10).OrderBy(r => r.Y)];
        Assert.Equal(2 * Point, across[1].Y - across[0].Y - across[0].Height, 0.02);
        List<PdfRule> down = [.. rules.Where(r => r.Height > 5).OrderBy(r => r.X)];
        Assert.Equal(2 * Point, down[1].X - down[0].X - down[0].Width, 0.02);
    }

    [Fact]
    public void Books_lines_have_their_weights_and_partial_ones_are_trimmed()
    {
        List<PdfRule> rules = PdfWords.Rules(Clean(Table(
            "\\begin{tabular}{lrr}\\toprule a & b & c\\\\ \\cmidrule(lr){2-3} a & b & c\\\\ \\midrule a & b & c\\\\ \\bottomrule\\end{tabular}")));
        double[] weights = [.. rules.OrderByDescending(r => r.Y).Select(r => Math.Round(r.Height / Point, 2))];
        Assert.Equal([0.8, 0.3, 0.5, 0.8], weights);
        PdfRule whole = rules.MaxBy(r => r.Y);
        PdfRule file = rules.OrderByDescending(r => r.Y).ElementAt(1);
        Assert.True(file.X > whole.X + (10 * Point));
        Assert.Equal(whole.X + whole.Width - (5 * Point), file.X + file.Width, 0.05);
    }

    [Fact]
    public void Decimal_signs_stand_under_one_another()
    {
        string[] rows = ["1.5", "12.25", "-100", "0.125^{**}", "3"];
        string body = "\\noindent\n\\begin{tabular}{D{.}{.}{3}}\n" + string.Join("\\\\\n", rows) + "\n\\end{tabular}\n";
        CompileResult result = Clean(Compiled.Files(("main.tex", "\\documentclass{article}\n\\usepackage{dcolumn}\n\\begin{document}\n" + body + "\\end{document}\n")));
        double[] points = [.. new[] { 0, 1, 3 }.Select(i => result.Map.FindSpot("main.tex", 6 + i, rows[i].IndexOf('.') + 1)!.X)];
        Assert.All(points, x => Assert.Equal(points[0], x, 0.02));
        // A number without decimals ends where the sign would stand.
        PageSpot last = result.Map.FindSpot("main.tex", 10, 1)!;
        Assert.Equal(points[0], last.X + last.Width, 0.02);
        Assert.Contains("−100", Compiled.Text(result));
    }

    [Fact]
    public void A_cell_over_rows_stands_in_their_middle_and_one_over_columns_spans_them()
    {
        List<PdfWord> words = PdfWords.Of(Clean(Table(
            "\\begin{tabular}{lll}\\multirow{3}{*}{Tall} & a1 & b1\\\\ & a2 & b2\\\\ & a3 & b3\\\\ \\multicolumn{3}{c}{Wide}\\\\ left & mid & right\\end{tabular}")));
        Assert.Equal(words.One("a2").Centre, words.One("Tall").Centre, 0.6);
        double middle = (words.One("left").Left + words.One("right").Right) / 2;
        Assert.Equal(middle, words.One("Wide").Middle, 0.6);
    }

    [Fact]
    public void A_cell_over_rows_and_columns_works()
    {
        List<PdfWord> words = PdfWords.Of(Clean(Table(
            "\\begin{tabular}{|c|c|c|}\\hline \\multicolumn{2}{|c|}{\\multirow{2}{*}{Block}} & e1\\\\ \\cline{3-3} \\multicolumn{2}{|c|}{} & e2\\\\ \\hline w & x & y\\\\ \\hline\\end{tabular}")));
        Assert.Equal((words.One("e1").Centre + words.One("e2").Centre) / 2, words.One("Block").Centre, 1.0);
        Assert.InRange(words.One("Block").Middle, words.One("w").Left, words.One("x").Right);
    }

    [Theory]
    [InlineData("\\begin{tabularx}{\\textwidth}{lX}\\hline a & text\\\\ \\hline\\end{tabularx}")]
    [InlineData("\\begin{tabularx}{\\linewidth}{|X|X|c|}\\hline a & text & c\\\\ \\hline\\end{tabularx}")]
    [InlineData("\\begin{tabular*}{\\textwidth}{@{\\extracolsep{\\fill}}lr}\\hline a & text\\\\ \\hline\\end{tabular*}")]
    public void Tables_of_a_given_width_have_it(string body) =>
        Assert.Equal(345 * Point, PdfWords.Rules(Clean(Table(body))).Max(r => r.Width), 0.1);

    [Fact]
    public void Shared_columns_are_equally_wide_and_their_text_stays_inside()
    {
        List<PdfWord> words = PdfWords.Of(Clean(Table(
            "\\begin{tabularx}{\\textwidth}{@{}X@{}X@{}}Left " + string.Concat(Enumerable.Repeat("word ", 30)) + "& Right " + string.Concat(Enumerable.Repeat("tail ", 30)) + "\\end{tabularx}")));
        Assert.Equal(172.5 * Point, words.One("Right").Left - words.One("Left").Left, 0.2);
        Assert.True(words.Where(w => w.Text == "word").Max(w => w.Right) <= words.One("Right").Left + 0.1);
        Assert.True(words.Count(w => w.Text == "word" && Math.Abs(w.Top - words[0].Top) < 1) < 10);
    }

    [Fact]
    public void Text_before_and_after_each_cell_is_read_with_it()
    {
        string text = Compiled.Text(Clean(Table("\\begin{tabular}{>{\\bfseries}l>{$}c<{$}@{ : }r<{ km}}one & x^2 & 3\\\\ two & \\frac{1}{2} & 4\\end{tabular}")));
        Assert.Contains("3 km", text);
        Assert.Contains("4 km", text);
        Assert.Equal(2, text.Split(':').Length - 1);
    }

    [Fact]
    public void Macros_and_files_may_hold_rows()
    {
        CompileResult result = Clean(Compiled.Files(
            ("main.tex", "\\documentclass{article}\\newcommand{\\pair}[2]{#1 & #2 \\\\}\\newcommand{\\rows}{\\pair{a}{b}\\hline\\pair{c}{d}}\n"
                + "\\newenvironment{mine}{\\begin{center}\\begin{tabular}{lr}}{\\end{tabular}\\end{center}}\n"
                + "\\begin{document}\\begin{tabular}{lr}\\rows\\input{rows}\\end{tabular}\\begin{mine}x & y\\\\\\end{mine}After.\\end{document}"),
            ("rows.tex", "\\hline\ne & f \\\\\n\\hline\n")));
        Assert.Equal("a b c d e f x y After.", string.Join(' ', PdfWords.Of(result).SkipLast(1).OrderBy(w => Math.Round(w.Top)).ThenBy(w => w.Left).Select(w => w.Text)));
    }

    [Theory]
    // As programs for statistics write them: stars in maths, standard errors in brackets, rules by hand, struts.
    [InlineData("\\begin{tabular}{@{\\extracolsep{5pt}}lcc}\n\\\\[-1.8ex]\\hline\n\\hline \\\\[-1.8ex]\n & \\multicolumn{2}{c}{\\textit{Dependent variable:}} \\\\\n\\cline{2-3}\n\\\\[-1.8ex] & (1) & (2)\\\\\n\\hline \\\\[-1.8ex]\n"
        + " age & $-$0.035$^{***}$ & 1.2$^{*}$ \\\\\n  & (0.010) & (0.7) \\\\\n  & & \\\\\n\\hline \\\\[-1.8ex]\nObservations & 38 & 38 \\\\\nR$^{2}$ & 0.91 & 0.93 \\\\\n\\hline\n\\hline \\\\[-1.8ex]\n\\textit{Note:}  & \\multicolumn{2}{r}{$^{*}$p$<$0.1; $^{***}$p$<$0.01} \\\\\n\\end{tabular}", "Dependent variable:")]
    [InlineData("{\n\\def\\sym#1{\\ifmmode^{#1}\\else\\(^{#1}\\)\\fi}\n\\begin{tabular}{l*{2}{c}}\n\\hline\\hline\n            &\\multicolumn{1}{c}{(1)}&\\multicolumn{1}{c}{(2)}\\\\\n            &\\multicolumn{1}{c}{early}&\\multicolumn{1}{c}{late}\\\\\n\\hline\n"
        + "diameter    &       0.140\\sym{***}&       0.210\\sym{*}  \\\\\n            &      (4.21)         &      (2.10)         \\\\\n[1em]\n\\_cons      &       29.0         &       38.0         \\\\\n\\hline\n\\(N\\)       &          38         &          38         \\\\\n\\hline\\hline\n\\multicolumn{3}{l}{\\footnotesize \\textit{t} statistics in parentheses}\\\\\n\\end{tabular}\n}", "statistics in parentheses")]
    [InlineData("\\begin{tabular}{llr}\n\\toprule\n\\multicolumn{2}{l}{Group} & Mean\\_size\\\\\n\\cmidrule(r){1-2}\n\\addlinespace[0.3em]\n\\multicolumn{3}{l}{\\textbf{North}}\\\\\n\\hspace{1em}a & b\\% & 1\\\\\n\\addlinespace\n\\multicolumn{3}{l}{\\textbf{South}}\\\\\n\\hspace{1em}c & d \\& e & 2\\\\\n\\bottomrule\n\\end{tabular}", "Mean_size")]
    public void Tables_that_programs_write_come_out_unchanged(string table, string words)
    {
        CompileResult result = Clean(Table(table));
        Assert.Contains(words, Compiled.Text(result));
    }

    [Fact]
    public void Colours_fill_cells_rows_and_stripes()
    {
        CompileResult result = Clean(Table(
            "\\begin{tabular}{ll}\\rowcolor{red} a & b\\\\ c & \\cellcolor{blue} d\\\\ e & f\\end{tabular}\n\n\\rowcolors{1}{yellow}{white}\n\\begin{tabular}{l}one\\\\two\\\\three\\end{tabular}"));
        string content = Compiled.Run("qpdf", result.Pdf, "--qdf", "--object-streams=disable", "FILE", "-");
        Assert.Equal(1, Fills(content, "1 0 0 rg"));
        Assert.Equal(1, Fills(content, "0 0 1 rg"));
        Assert.Equal(2, Fills(content, "1 1 0 rg"));
        Assert.Equal(2, PdfWords.Rules(result).Where(r => r.Height > 11).GroupBy(r => Math.Round(r.Y)).First(g => g.Count() == 2).Count());

        static int Fills(string content, string colour) => content.Split(colour + "\n").Length - 1;
    }

    [Fact]
    public void Notes_below_a_table_are_as_wide_as_it()
    {
        List<PdfWord> words = PdfWords.Of(Clean(Table(
            "\\begin{threeparttable}\\begin{tabular}{lr}First column & Last\\tnote{a}\\end{tabular}\\begin{tablenotes}\\item[a] " + string.Concat(Enumerable.Repeat("note ", 30)) + "\\end{tablenotes}\\end{threeparttable}")));
        double right = words.First(w => w.Text.StartsWith("Last", StringComparison.Ordinal)).Right;
        Assert.True(words.Where(w => w.Text == "note").Max(w => w.Right) < right + (11 * Point));
        Assert.True(words.Where(w => w.Text == "note").GroupBy(w => Math.Round(w.Top)).Count() > 3);
    }

    [Theory]
    [InlineData("\\begin{tabular}{lr}cell\\footnote{Below the page.} & 1\\end{tabular}")]
    [InlineData("\\begin{table}[h]\\begin{tabular}{lp{60pt}}1 & \\textbf{cell}\\footnote{Below the page.}\\end{tabular}\\end{table}")]
    [InlineData("\\begin{longtable}{lr}cell\\footnote{Below the page.} & 1\\\\ 2 & 3\\end{longtable}")]
    [InlineData("\\begin{tabular}{l}\\begin{tabular}{l}cell\\footnote{Below the page.}\\end{tabular}\\end{tabular}")]
    public void A_note_in_a_cell_stands_at_the_foot_of_the_page(string table)
    {
        CompileResult result = Clean(Table("Words.\n\n" + table + "\n\nMore words."));
        List<PdfWord> words = PdfWords.Of(result);
        Assert.True(words.Single(w => w.Text.EndsWith("Below", StringComparison.Ordinal)).Top > words.One("More").Bottom + 100);
        Assert.Contains(words, w => w.Text == "cell1" || w.Text == "cell");
        Assert.Equal(1, result.Report.Footnotes);
    }

    [Fact]
    public void A_long_table_repeats_its_head_and_closes_each_page()
    {
        string rows = string.Concat(Enumerable.Range(1, 120).Select(i => $"row{i} & {i}\\\\\n"));
        CompileResult result = Clean(Table("See \\ref{t}.\n\\begin{longtable}{lr}\\caption{Long}\\label{t}\\\\ \\toprule Name & Number\\\\ \\midrule \\endfirsthead\n"
            + "\\caption[]{going on}\\\\ Name & Number\\\\ \\midrule \\endhead \\midrule \\multicolumn{2}{r}{over} \\\\ \\endfoot \\bottomrule \\multicolumn{2}{r}{done}\\\\ \\endlastfoot\n" + rows + "\\end{longtable}"));
        List<PdfWord> words = PdfWords.Of(result);
        int pages = words.Max(w => w.Page);
        Assert.InRange(pages, 3, 5);
        for (int page = 1; page <= pages; page++)
        {
            Assert.Single(words, w => w.Page == page && w.Text == "Name");
            Assert.Single(words, w => w.Page == page && w.Text == (page == pages ? "done" : "over"));
        }

        // Every row once, in order, and one number for all captions.
        Assert.Equal(Enumerable.Range(1, 120).Select(i => $"row{i}"), words.Where(w => w.Text.StartsWith("row", StringComparison.Ordinal)).Select(w => w.Text));
        Assert.Equal(["1"], result.Report.Floats.Select(f => f.Number!).Distinct());
        Assert.Equal("1", Assert.Single(result.Report.Labels).Number);
    }

    [Theory]
    [InlineData("\\pagebreak")]
    [InlineData("\\newpage")]
    public void A_page_may_end_between_two_rows_of_a_long_table(string end)
    {
        List<PdfWord> words = PdfWords.Of(Clean(Table("Before.\n\n\\begin{longtable}{lr}Name & N\\\\ \\endhead over & f\\\\ \\endfoot done & f\\\\ \\endlastfoot\n"
            + "one & 1\\\\ " + end + "\ntwo & 2\\\\ \\end{longtable}")));
        Assert.Equal([1, 1, 1, 2, 2], new[] { "Before.", "one", "over", "two", "done" }.Select(w => words.One(w).Page));
        Assert.Equal([1, 2], words.Where(w => w.Text == "Name").Select(w => w.Page));
    }

    [Theory]
    [InlineData("\\begin{tabular}{ll}a & b & c\\\\\\end{tabular}", "too-many-cells", "fix")]
    [InlineData("\\begin{tabular}{lll}a & b\\\\ c & d & e\\end{tabular}", "too-few-cells", "check")]
    [InlineData("\\begin{tabular}{lQ}a & b\\end{tabular}", "unknown-column", "fix")]
    [InlineData("\\begin{tabular}{}a\\end{tabular}", "no-columns", "fix")]
    [InlineData("\\begin{tabular}{ll}\\multicolumn{3}{c}{a}\\\\\\end{tabular}", "span-too-wide", "check")]
    [InlineData("\\begin{tabular}{ll}a \\hline & b\\end{tabular}", "misplaced-in-table", "fix")]
    [InlineData("\\hline", "misplaced-in-table", "fix")]
    [InlineData("\\multicolumn{2}{c}{x}", "misplaced-in-table", "fix")]
    [InlineData("\\begin{tabular}{ll}a & b\\\\ \\cline{2-7} c & d\\end{tabular}", "no-such-columns", "check")]
    [InlineData("\\begin{tabular}{ll}a & {b\\\\ c & d\\end{tabular}", "missing-brace", "fix")]
    [InlineData("\\begin{tabular}{ll}a & $b\\\\ c & d\\end{tabular}", "unclosed-formula", "fix")]
    [InlineData("\\begin{tabular}{ll}a & b\n\nMore words.", "unclosed-environment", "fix")]
    public void Slips_in_tables_are_one_finding_and_the_rest_is_whole(string body, string code, string kind)
    {
        CompileResult result = Compiled.Body("Before.\n\n" + body + "\n\nAfter.", "\\usepackage{array}\n");
        Assert.Equal([code], Compiled.Codes(result, kind));
        Assert.Contains("Before.", Compiled.Text(result));
        Assert.Contains("After.", Compiled.Text(result));
    }

    [Fact]
    public void Own_kinds_of_column_take_arguments()
    {
        List<PdfWord> words = PdfWords.Of(Clean(Table(
            "\\newcolumntype{R}[1]{>{\\raggedleft\\arraybackslash}p{#1}}\\begin{tabular}{@{}R{100pt}@{\\hspace{10pt}}l@{}}short & x\\\\ longer & y\\end{tabular}")));
        Assert.Equal(words.One("short").Right, words.One("longer").Right, 0.2);
        Assert.Equal(10 * Point, words.One("x").Left - words.One("short").Right, 0.6);
    }

    // The package hhline's documentation (from memory): a letter a column, - one line, = two, ~ none.
    [Fact]
    public void Lines_in_pieces_cover_the_columns_that_their_letters_name()
    {
        CompileResult result = Compiled.Body("\\begin{tabular}{p{1cm}p{1cm}p{1cm}}a&b&c\\\\\\hhline{-~=}d&e&f\\end{tabular}", "\\usepackage{hhline}");
        PdfRule[] rules = [.. PdfWords.Rules(result).OrderBy(r => r.X).ThenByDescending(r => r.Y)];
        Assert.Equal(3, rules.Length);
        Assert.True(rules[1].X > rules[0].X + rules[0].Width + 28);
        Assert.Equal(rules[1].X, rules[2].X, 0.1);
        Assert.Equal(rules[0].Y, rules[1].Y, 0.1);
        Assert.Contains(Compiled.Body("\\begin{tabular}{c}\\hhline{--}a\\end{tabular}", "\\usepackage{hhline}").Report.Findings, f => f.Code == "no-such-columns");
    }

    [Theory]
    [InlineData("\\begin{tabular}{c:c} a & b \\\\ \\hdashline c & d \\\\ \\cdashline{1-2} \\end{tabular}", "\\usepackage{arydshln}", 2)]
    [InlineData("\\begin{tabular}{c;{2pt/2pt}c} a & b \\\\ \\hdashline[1pt/1pt] c & d \\end{tabular}", "\\usepackage{arydshln}", 1)]
    public void Dashed_lines_of_tables_are_lines(string table, string preamble, int lines)
    {
        var result = Compiled.Clean(table, preamble);
        Assert.Equal(lines, PdfWords.Rules(result).Count(r => r.Width > r.Height));
        Assert.NotEmpty(PdfWords.Rules(result).Where(r => r.Height > r.Width).ToList());
    }
}
