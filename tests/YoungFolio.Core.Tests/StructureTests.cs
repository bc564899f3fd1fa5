using YoungFolio.Documents;
using YoungFolio.Documents.LogicalStructure;

namespace YoungFolio.Core.Tests;

/// <summary>What the heads of tables are, and what each of their cells takes.</summary>
public sealed class StructureTests
{
    private static TableCell Cell(string text, int span = 1, int rows = 1) => new()
    {
        Column = new TableColumn(),
        Span = span,
        Rows = rows,
        Content = text.Length == 0 ? [] : [new TextRun(text, new int[text.Length], new TextStyle(FontFamily.Roman, false, FontShape.Upright, 10))],
    };

    private static TableRow Row(params TableCell[] cells) => new(cells, 8, 3);

    private static readonly TableLine s_line = new(0.4, 0, 0, 0);

    private static TableParts Parts(int columns, params TableItem[] items) =>
        TableParts.Of(new Table { Columns = [.. Enumerable.Range(0, columns).Select(_ => new TableColumn())], Items = items, Size = 10, Position = 0 });

    private static string Said(IEnumerable<TablePartRow> rows) => string.Join(" / ", rows.Select(r => string.Join(" ", r.Cells.Select(c => (c.Cell is { } cell ? PlainText.Of(cell.Content) : "+") + (c.Columns > 1 ? $"↔{c.Columns}" : "") + (c.Rows > 1 ? $"↕{c.Rows}" : "")))));

    [Fact]
    public void Rows_above_the_first_line_within_are_heads()
    {
        TableParts parts = Parts(2, s_line, Row(Cell("N"), Cell("A")), s_line, Row(Cell("a"), Cell("1")), Row(Cell("b"), Cell("2")), s_line);
        Assert.Equal(("N A", "a 1 / b 2"), (Said(parts.Head), Said(parts.Body)));
    }

    [Fact]
    public void A_line_below_groups_of_rows_makes_no_more_heads()
    {
        TableParts parts = Parts(1, s_line, Row(Cell("N")), s_line, Row(Cell("a")), Row(Cell("b")), s_line, Row(Cell("c")), Row(Cell("all")), s_line);
        Assert.Equal(("N", "a / b / c / all"), (Said(parts.Head), Said(parts.Body)));
    }

    [Fact]
    public void Lines_after_every_row_make_none()
    {
        TableParts parts = Parts(1, s_line, Row(Cell("a")), s_line, Row(Cell("b")), s_line, Row(Cell("c")), s_line);
        Assert.Equal((0, 3, true), (parts.Head.Count, parts.Body.Count, parts.HasLines));
        Assert.False(Parts(1, Row(Cell("a")), Row(Cell("b"))).HasLines);
    }

    [Fact]
    public void A_cell_over_rows_takes_the_empty_ones_below_and_no_others()
    {
        Assert.Equal("x↕2 1 / 2 / y 3", Said(Parts(2, Row(Cell("x", rows: 2), Cell("1")), Row(Cell(""), Cell("2")), Row(Cell("y"), Cell("3"))).Body));
        // What says that it takes three rows, but stands above something in the third.
        Assert.Equal("x↕2 1 / 2 / y 3", Said(Parts(2, Row(Cell("x", rows: 3), Cell("1")), Row(Cell(""), Cell("2")), Row(Cell("y"), Cell("3"))).Body));
        Assert.Equal("x↔2↕2 1 / 2", Said(Parts(3, Row(Cell("x", span: 2, rows: 2), Cell("1")), Row(Cell(""), Cell(""), Cell("2"))).Body));
    }

    [Fact]
    public void A_cell_of_blanks_is_empty_as_one_of_nothing_is()
    {
        TableParts parts = Parts(3, Row(Cell(" "), Cell("\u00A0"), Cell("A")), s_line, Row(Cell("a")), Row(Cell("b"), Cell("c"), Cell("")));
        Assert.Equal([true, true, false], parts.Head[0].Cells.Select(c => c.IsEmpty));
        Assert.Equal([false, true, true], parts.Body[0].Cells.Select(c => c.IsEmpty));
        Assert.Equal([false, false, true], parts.Body[1].Cells.Select(c => c.IsEmpty));
    }

    [Fact]
    public void Rows_that_end_early_are_filled_up() =>
        Assert.Equal("a + + / b↔2 c / d e +", Said(Parts(3, Row(Cell("a")), Row(Cell("b", span: 2), Cell("c")), Row(Cell("d"), Cell("e"))).Body));

    [Fact]
    public void Any_table_has_as_many_columns_in_each_row()
    {
        var random = new Random(5);
        for (int round = 0; round < 500; round++)
        {
            int columns = random.Next(1, 6);
            TableItem[] items = [.. Enumerable.Range(0, random.Next(1, 7)).Select(_ => Row([.. Enumerable.Range(0, random.Next(0, columns + 1)).Select(_ => Cell(random.Next(3) == 0 ? "" : "x", random.Next(1, 4), random.Next(1, 4)))]))];
            TableParts parts = Parts(columns, items);
            int[] taken = new int[columns];
            foreach (TablePartRow row in parts.Body)
            {
                int at = 0;
                foreach (TablePart cell in row.Cells)
                {
                    while (taken[at] > 0)
                    {
                        at++;
                    }

                    for (int i = 0; i < cell.Columns; i++)
                    {
                        Assert.Equal(0, taken[at]);
                        taken[at++] = cell.Rows;
                    }
                }

                Assert.All(taken[at..], t => Assert.True(t > 0));
                taken = [.. taken.Select(t => t - 1)];
            }

            // No cell goes below the last row.
            Assert.All(taken, t => Assert.Equal(0, t));
        }
    }
}
