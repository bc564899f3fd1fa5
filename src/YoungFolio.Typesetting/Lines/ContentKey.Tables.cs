using YoungFolio.Manuscript.Tree;

namespace YoungFolio.Typesetting.Lines;

// Tables: columns, rows and lines.
internal sealed partial class ContentKey
{
    private void AddTable(Table table)
    {
        Add(table.Width ?? double.NaN);
        Add(table.Size);
        Add(table.Columns.Count);
        foreach (TableColumn column in table.Columns)
        {
            AddColumn(column);
        }

        Add(table.Items.Count);
        foreach (TableItem item in table.Items)
        {
            AddItem(item, table);
        }
    }

    private void AddColumn(TableColumn column)
    {
        Add((int)column.Alignment);
        Add(column.Width ?? double.NaN);
        Add(column.Share);
        Add(column.Vertical);
        Add(column.IsDecimal);
        AddEdge(column.Left);
        AddEdge(column.Right);
    }

    private void AddEdge(IReadOnlyList<EdgePiece> edge)
    {
        Add(edge.Count);
        foreach (EdgePiece piece in edge)
        {
            Add(piece.Width);
            Add(piece.Stretch);
            Add(piece.IsRule);
            Add(piece.Colour);
            Add(piece.Content ?? [], false);
        }
    }

    private void AddItem(TableItem item, Table table)
    {
        if (item is TableLine line)
        {
            Add(1);
            Add(line.Thickness);
            Add(line.Above);
            Add(line.Below);
            Add(line.Colour);
            Add(line.TakesRoom);
            Add(line.Stretches?.Count ?? -1);
            foreach (LineStretch stretch in line.Stretches ?? [])
            {
                Add(stretch.First);
                Add(stretch.Last);
                Add(stretch.TrimLeft);
                Add(stretch.TrimRight);
            }

            return;
        }

        var row = (TableRow)item;
        Add(2);
        Add(row.Height);
        Add(row.Depth);
        Add(row.SpaceBelow);
        AddBlocks(row.Across ?? []);
        Add(row.Cells.Count);
        foreach (TableCell cell in row.Cells)
        {
            int column = -1;
            for (int i = 0; i < table.Columns.Count && column < 0; i++)
            {
                column = ReferenceEquals(table.Columns[i], cell.Column) ? i : -1;
            }

            Add(column);
            if (column < 0)
            {
                AddColumn(cell.Column);
            }

            Add(cell.Span);
            Add(cell.Rows);
            Add(cell.Ground ?? -1);
            Add(cell.Rise);
            Add(cell.Content, false);
            Add(cell.Decimals is null);
            Add(cell.Decimals ?? [], false);
            Add(cell.Blocks is null);
            AddBlocks(cell.Blocks ?? []);
        }
    }
}
