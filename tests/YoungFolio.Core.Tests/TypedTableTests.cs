using YoungFolio.Compiler;
using YoungFolio.Manuscript.Making;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>Tables as grids: what is read from their source, and what a change of the grid does to it.</summary>
public sealed class TypedTableTests
{
    // The example of the booktabs documentation (S. Fear, section 2), from memory.
    private const string Gnats = """
        \begin{tabular}{@{}llr@{}} \toprule
        \multicolumn{2}{c}{Item} \\ \cmidrule(r){1-2}
        Animal & Description & Price (\$)\\ \midrule
        Gnat  & per gram & 13.65 \\
              & each     & 0.01 \\
        Gnu   & stuffed  & 92.50 \\
        Emu   & stuffed  & 33.33 \\
        Armadillo & frozen & 8.99 \\ \bottomrule
        \end{tabular}
        """;

    private const string Odd = """
        \begin{tabularx}{\linewidth}[t]{|>{\bfseries}l *{2}{X<{!}} | p{2cm}}
            % heads
            \hline
            A & $x & y$ {& b} & \begin{array}{c}1 & 2\\3\end{array} \\*[2pt] % a note
            \hline\hline
            \rowcolor{gray}
            % all of it
            a\&b & \multirow{2}{*}{two} & c
        \end{tabularx}
        """;

    [Theory]
    [InlineData(Gnats)]
    [InlineData(Odd)]
    [InlineData(@"\begin{tabular}{l}a\end{tabular}")]
    [InlineData("\\begin{tabular}{l}\n\\end{tabular}")]
    [InlineData("\\begin{longtable}{ll}\\caption{A}\\\\\n a&b\\\\ \\endhead\n c & d\\tabularnewline\n\\end{longtable}")]
    public void What_isn_t_changed_is_written_as_it_stood(string source)
    {
        TypedTable table = TypedTableSource.Read(source);
        Assert.Null(table.Obstacle);
        Assert.Equal(source, TypedTableSource.Write(table, source));
    }

    [Fact]
    public void A_table_is_read_into_columns_rows_and_lines()
    {
        TypedTable table = TypedTableSource.Read(Gnats);
        Assert.Equal([new TypedColumn("@{}", "l", ""), new TypedColumn("", "l", ""), new TypedColumn("", "r", "@{}")], table.Columns);
        Assert.Equal(7, table.Rows.Count);
        Assert.Equal(new TypedCell("Item", 2, "c"), table.Rows[0].Cells[0]);
        Assert.Equal([@"\cmidrule(r){1-2}"], table.Rows[1].Above);
        Assert.Equal(@"Price (\$)", table.Rows[1].Cells[2].Text);
        Assert.Equal([@"\bottomrule"], table.Below);
    }

    [Fact]
    public void Cells_keep_what_a_grid_doesn_t_know()
    {
        TypedTable table = TypedTableSource.Read(Odd);
        Assert.Equal(["|", "", "", "|"], table.Columns.Select(c => c.Before.Replace(@">{\bfseries}", "", StringComparison.Ordinal)));
        Assert.Equal(["l", "X", "X", "p{2cm}"], table.Columns.Select(c => c.Kind));
        Assert.Equal(["A", "$x", "y$ {& b}", @"\begin{array}{c}1 & 2\\3\end{array}"], table.Rows[0].Cells.Select(c => c.Text));
        Assert.Equal(["% heads", @"\hline"], table.Rows[0].Above);
        Assert.Equal(@"\\*[2pt] % a note", table.Rows[0].End);
        Assert.Equal([@"\hline", @"\hline", @"\rowcolor{gray}", "% all of it"], table.Rows[1].Above);
        Assert.Equal(new TypedCell("two", Rows: 2), table.Rows[1].Cells[1]);
    }

    [Fact]
    public void A_changed_cell_changes_its_row_alone()
    {
        TypedTable table = TypedTableSource.Read(Gnats);
        TypedRow row = table.Rows[2] with { Cells = [new TypedCell("Gnat"), new TypedCell("per kilo"), new TypedCell("13650")] };
        string written = TypedTableSource.Write(table with { Rows = [.. table.Rows.Take(2), row, .. table.Rows.Skip(3)] }, Gnats);
        Assert.Equal(Gnats.Replace(@"Gnat  & per gram & 13.65 \\", @"Gnat  & per kilo & 13650 \\", StringComparison.Ordinal), written);
    }

    [Fact]
    public void Cells_that_get_longer_or_were_empty_push_only_what_is_behind_them()
    {
        TypedTable table = TypedTableSource.Read(Gnats);
        TypedRow row = table.Rows[3] with { Cells = [new TypedCell("Gnat"), .. table.Rows[3].Cells.Skip(1)] };
        TypedRow longer = table.Rows[4] with { Cells = [new TypedCell("Gnus of all kinds"), .. table.Rows[4].Cells.Skip(1)] };
        string written = TypedTableSource.Write(table with { Rows = [.. table.Rows.Take(3), row, longer, .. table.Rows.Skip(5)] }, Gnats);
        Assert.Contains("      Gnat & each     & 0.01 \\\\\nGnus of all kinds   & stuffed  & 92.50", written, StringComparison.Ordinal);
    }

    [Fact]
    public void Rows_come_in_go_and_change_places()
    {
        TypedTable table = TypedTableSource.Read(Gnats);
        var made = new TypedRow([], [new TypedCell("Eel"), new TypedCell("smoked"), new TypedCell("7.00")], "");
        string written = TypedTableSource.Write(table with { Rows = [table.Rows[0], table.Rows[1], table.Rows[3], table.Rows[2], made, table.Rows[6]] }, Gnats);
        Assert.Contains("\\midrule\n", written, StringComparison.Ordinal);
        Assert.Contains("Eel & smoked & 7.00 \\\\\nArmadillo & frozen & 8.99 \\\\ \\bottomrule\n\\end{tabular}", written, StringComparison.Ordinal);
        TypedTable again = TypedTableSource.Read(written);
        Assert.Equal(["Item", "Animal", "", "Gnat", "Eel", "Armadillo"], again.Rows.Select(r => r.Cells[0].Text));
    }

    [Fact]
    public void Columns_are_written_anew_when_they_change()
    {
        TypedTable table = TypedTableSource.Read(Odd);
        string written = TypedTableSource.Write(table with { Columns = [.. table.Columns.Take(3), new TypedColumn("|", "r", "")] }, Odd);
        Assert.StartsWith(@"\begin{tabularx}{\linewidth}[t]{|>{\bfseries}lX<{!}X<{!}|r}", written, StringComparison.Ordinal);
        Assert.EndsWith(Odd[Odd.IndexOf("    % heads", StringComparison.Ordinal)..], written, StringComparison.Ordinal);
    }

    [Fact]
    public void A_last_row_without_an_end_gets_one_when_a_line_follows()
    {
        string source = "\\begin{tabular}{ll}\n  a & b\n\\end{tabular}";
        TypedTable table = TypedTableSource.Read(source);
        Assert.Equal("\\begin{tabular}{ll}\n  a & b \\\\\n  \\bottomrule\n\\end{tabular}", TypedTableSource.Write(table with { Below = [@"\bottomrule"] }, source));
    }

    [Theory]
    [InlineData("\\begin{tabular}{ll}\n a & % note\n b \\\\\\end{tabular}", "comment in the midst of a row")]
    [InlineData(@"\begin{tabular}{ll} a & \verb|&| \\\end{tabular}", @"Line 1 of it has \verb")]
    [InlineData(@"\begin{tabular}{l} a & b \\\end{tabular}", "more cells than the table has columns")]
    [InlineData(@"\begin{tabular}{\mycolumns} a \\\end{tabular}", "a way that a grid doesn’t know")]
    [InlineData(@"\begin{tabular}{ll} {a & b \\\end{tabular}", "braces without their pair")]
    [InlineData(@"\begin{tabbing} a \= b \\\end{tabbing}", "tables of the kind tabbing")]
    [InlineData(@"\begin{tabular}{l} a", "end is missing")]
    [InlineData(@"\begin{tabular}{*{60}{*{60}{*{60}{|}}}} a\end{tabular}", "more than 60 columns")]
    [InlineData(@"\begin{tabular}", "end is missing")]
    [InlineData("", "that this is")]
    public void What_a_grid_would_spoil_is_only_looked_at(string source, string why)
    {
        TypedTable table = TypedTableSource.Read(source);
        Assert.Contains(why, table.Obstacle, StringComparison.Ordinal);
        Assert.Throws<InvalidOperationException>(() => TypedTableSource.Write(table, source));
    }

    [Theory]
    [InlineData("Site\tArea\tYear\nHill A\t1,5\t1998\nHill_B\t12,25\t2001\n", true, "lrr")]
    [InlineData("a;1,5\nb;2,5\nc;3", false, "lr")]
    [InlineData("\"one, two\",x\nthree,\"say \"\"y\"\"\"", false, "ll")]
    public void Copied_cells_become_a_table_with_lines_as_in_books(string pasted, bool hasHead, string columns)
    {
        IReadOnlyList<IReadOnlyList<string>> cells = PastedCells.Read(pasted);
        Assert.Equal(hasHead, PastedCells.HasHead(cells));
        TypedTable table = TypedTable.Of(cells, hasHead);
        Assert.Equal(columns, string.Concat(table.Columns.Select(c => c.Kind)));
        string source = TypedTableSource.Write(table, null);
        Assert.Equal(hasHead, source.Contains(@"\midrule", StringComparison.Ordinal));
        Assert.Equal(source, TypedTableSource.Write(TypedTableSource.Read(source), source));
    }

    [Fact]
    public void A_table_of_copied_cells_prints_what_was_copied()
    {
        const string Pasted = "A & B\t50 %\t$x_1$\n{c}\t#2\t~^\\";
        string source = TypedTableSource.Write(TypedTable.Of(PastedCells.Read(Pasted), false), null);
        var snapshot = new ManuscriptSnapshot(new FileTree([ManuscriptFile.FromText("main.tex", $"\\documentclass{{article}}\\usepackage{{booktabs}}\\begin{{document}}\n{source}\n\\end{{document}}")]), "main.tex", new DateOnly(2026, 1, 1));
        CompileResult result = new ManuscriptCompiler().Compile(snapshot);
        Assert.Empty(result.Report.Findings);
        string printed = Compiled.Text(result);
        foreach (string cell in Pasted.Split('\t', '\n'))
        {
            Assert.Contains(cell.Replace(" ", "", StringComparison.Ordinal), printed.Replace(" ", "", StringComparison.Ordinal), StringComparison.Ordinal);
        }
    }

    [Fact]
    public void A_formula_is_drawn_with_the_manuscript_s_macros_and_says_what_is_wrong_in_it()
    {
        var snapshot = new ManuscriptSnapshot(new FileTree([ManuscriptFile.FromText("main.tex", "\\documentclass{article}\n\\newcommand{\\wall}{w_0}\n\\begin{document}$a$ \\wrong\\end{document}")]), "main.tex", new DateOnly(2026, 1, 1));
        var compiler = new ManuscriptCompiler();
        FormulaDrawing drawing = compiler.DrawFormula(snapshot, @"\[ \wall + 1 \]");
        Assert.Empty(drawing.Problems);
        Assert.True(drawing.Picture!.IsDisplay);
        Assert.Contains("<mi>w</mi>", drawing.Picture.MathMl, StringComparison.Ordinal);
        Assert.Equal(@"There is no command \wal.", Assert.Single(compiler.DrawFormula(snapshot, @"\(\wal + 1\)").Problems));
        Assert.Null(compiler.DrawFormula(snapshot, "").Picture);
    }
}
