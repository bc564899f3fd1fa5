namespace YoungFolio.Documents.LogicalStructure;

/// <summary>A cell among the others of its table.</summary>
/// <param name="Cell">The cell; null: one that is only there so that each row has all columns.</param>
/// <param name="Columns">Columns that it takes.</param>
/// <param name="Rows">Rows that it takes.</param>
public sealed record TablePart(TableCell? Cell, int Columns, int Rows)
{
    /// <summary>Whether nothing stands in it.</summary>
    public bool IsEmpty => Cell is null || TableParts.HoldsNothing(Cell);
}

/// <summary>A row of a table.</summary>
/// <param name="Row">The row.</param>
/// <param name="Cells">Its cells, without those that a cell above takes; none for a row over the whole width.</param>
public sealed record TablePartRow(TableRow Row, IReadOnlyList<TablePart> Cells);

/// <summary>
/// What is head and what is body of a table: rows above the first line within are heads, as tables are set by common practice. Cells over
/// several rows take the empty ones below them.
/// </summary>
public sealed class TableParts
{
    private TableParts(IReadOnlyList<TableRow> head, IReadOnlyList<TableRow> body, int columns)
    {
        Head = Lay(head, columns);
        Body = Lay(body, columns);
    }

    /// <summary>The rows of heads; none where the table has none.</summary>
    public IReadOnlyList<TablePartRow> Head { get; }

    /// <summary>The other rows.</summary>
    public IReadOnlyList<TablePartRow> Body { get; }

    /// <summary>Whether lines are drawn in it: without any, and without heads, it only lines things up.</summary>
    public bool HasLines { get; private init; }

    /// <summary>The parts of a table.</summary>
    public static TableParts Of(Table table)
    {
        ArgumentNullException.ThrowIfNull(table);
        (IReadOnlyList<TableRow> head, IReadOnlyList<TableRow> body) = HeadOf(table.Items);
        return new TableParts(head, body, table.Columns.Count) { HasLines = table.Items.OfType<TableLine>().Any(static l => l.Thickness > 0) };
    }

    /// <summary>The parts of a table that goes on over pages: its head once.</summary>
    public static TableParts Of(LongTableBlock table)
    {
        ArgumentNullException.ThrowIfNull(table);
        IReadOnlyList<TableItem> head = table.FirstHead.Count > 0 ? table.FirstHead : table.Head;
        (IReadOnlyList<TableRow> own, IReadOnlyList<TableRow> body) = HeadOf(table.Table.Items);
        IReadOnlyList<TableRow> heads = [.. head.OfType<TableRow>().Where(static r => r.Across is null)];
        if (heads.Count > 0)
        {
            (own, body) = (heads, [.. table.Table.Items.OfType<TableRow>()]);
        }

        return new TableParts(own, [.. body, .. table.LastFoot.OfType<TableRow>()], table.Table.Columns.Count) { HasLines = true };
    }

    private static (IReadOnlyList<TableRow> Head, IReadOnlyList<TableRow> Body) HeadOf(IReadOnlyList<TableItem> items)
    {
        List<TableRow> rows = [.. items.OfType<TableRow>()];
        // The numbers of rows above the lines that stand between two rows.
        var parted = new SortedSet<int>();
        int above = 0;
        foreach (TableItem item in items)
        {
            above += item is TableRow ? 1 : 0;
            if (IsLine(item) && above > 0 && above < rows.Count)
            {
                parted.Add(above);
            }
        }

        // A table with lines after nearly every row has none.
        return parted.Count > 0 && parted.Count * 2 <= rows.Count ? (rows[..parted.Min], rows[parted.Min..]) : ([], rows);
    }

    // Space between rows is a line of no thickness.
    private static bool IsLine(TableItem item) => item is TableLine { Stretches: null, Thickness: > 0 };

    private static List<TablePartRow> Lay(IReadOnlyList<TableRow> rows, int columns)
    {
        // How many rows each column is still taken by a cell above.
        int[] taken = new int[Math.Max(1, columns)];
        var result = new List<TablePartRow>();
        for (int r = 0; r < rows.Count; r++)
        {
            var cells = new List<TablePart>();
            int at = 0;
            foreach (TableCell cell in rows[r].Across is null ? rows[r].Cells : [])
            {
                int width = Math.Clamp(cell.Span, 1, Math.Max(1, columns - at));
                bool isTaken = at < taken.Length && Enumerable.Range(at, width).All(c => c < taken.Length && taken[c] > 0) && IsEmpty(cell);
                if (!isTaken && at < taken.Length)
                {
                    int height = HeightOf(rows, r, at, width, cell.Rows);
                    cells.Add(new TablePart(cell, width, height));
                    Array.Fill(taken, height, at, width);
                }

                at += width;
            }

            if (rows[r].Across is null)
            {
                while (at < columns)
                {
                    if (taken[at] == 0)
                    {
                        cells.Add(new TablePart(null, 1, 1));
                        taken[at] = 1;
                    }

                    at++;
                }
            }

            for (int c = 0; c < taken.Length; c++)
            {
                taken[c] = Math.Max(0, taken[c] - 1);
            }

            result.Add(new TablePartRow(rows[r], cells));
        }

        return result;
    }

    // As many rows as it says, as long as nothing stands in its place there.
    private static int HeightOf(IReadOnlyList<TableRow> rows, int row, int column, int width, int wanted)
    {
        int height = 1;
        while (height < wanted && row + height < rows.Count && rows[row + height].Across is null && IsFree(rows[row + height], column, width))
        {
            height++;
        }

        return height;
    }

    private static bool IsFree(TableRow row, int column, int width)
    {
        int at = 0;
        foreach (TableCell cell in row.Cells)
        {
            if (at + cell.Span > column && at < column + width && !(IsEmpty(cell) && at >= column && at + cell.Span <= column + width))
            {
                return false;
            }

            at += cell.Span;
        }

        return true;
    }

    private static bool IsEmpty(TableCell cell) => cell.Rows == 1 && HoldsNothing(cell);

    internal static bool HoldsNothing(TableCell cell) => cell.Decimals is null && (cell.Blocks is { } blocks ? blocks.Count == 0 : PlainText.Of(cell.Content).Trim().Length == 0 && !cell.Content.Any(static i => i is ImageInline or TableInline or BlockBoxInline or DrawingInline));
}
