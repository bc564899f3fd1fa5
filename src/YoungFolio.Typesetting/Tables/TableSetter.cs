using YoungFolio.Documents;
using YoungFolio.Typesetting.Lines;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Tables;

/// <summary>A row or line of a table, set: its origin is at its left, its baseline the row's.</summary>
/// <param name="Box">The marks.</param>
/// <param name="Item">What it was set from.</param>
internal sealed record SetRow(Box Box, TableItem Item)
{
    /// <summary>Space below it.</summary>
    public double SpaceBelow { get; init; }
}

/// <summary>Sets tables: widths of columns first, then rows, then what takes several rows.</summary>
internal sealed class TableSetter(SettingContext context, ParagraphSetter lines)
{
    /// <summary>A cell with its column and what is known of it.</summary>
    private sealed class CellBox(TableCell cell, int first)
    {
        public TableCell Cell => cell;

        public int First => first;

        public int Last => first + cell.Span - 1;

        public Box Whole { get; set; } = new();

        public Box? Fraction { get; set; }

        public List<(EdgePiece Piece, Box? Box)> Left { get; set; } = [];

        public List<(EdgePiece Piece, Box? Box)> Right { get; set; } = [];

        public double EdgeWidth => Left.Sum(Width) + Right.Sum(Width);

        public static double Width((EdgePiece Piece, Box? Box) edge) => edge.Box?.Width ?? edge.Piece.Width;
    }

    private sealed record Row(TableItem Item, List<CellBox> Pieces);

    /// <summary>Sets a table as one box.</summary>
    public Box Set(TableInline inline)
    {
        List<SetRow> rows = SetRows(inline.Table, [inline.Table.Items])[0];
        var box = new Box { Width = Width };
        double y = 0;
        double first = double.NaN;
        double last = 0;
        foreach (SetRow row in rows)
        {
            y += row.Box.Height;
            if (row.Item is TableRow)
            {
                first = double.IsNaN(first) ? y : first;
                last = y;
            }

            Copy(row.Box, box, y);
            y += row.Box.Depth + row.SpaceBelow;
        }

        // Centred on the mathematical axis, a quarter of the type's size above the baseline (common practice).
        double baseline = inline.Vertical switch
        {
            't' => double.IsNaN(first) ? 0 : first,
            'b' => last,
            _ => (y / 2) + (inline.Table.Size * 0.25),
        };
        for (int i = 0; i < box.Marks.Count; i++)
        {
            box.Marks[i] = box.Marks[i] with { Y = box.Marks[i].Y + baseline };
        }

        box.Height = baseline;
        box.Depth = y - baseline;
        return box;
    }

    private static void Copy(Box from, Box to, double y)
    {
        foreach (Placed placed in from.Marks)
        {
            to.Marks.Add(placed with { Y = placed.Y - y });
        }
    }

    /// <summary>Width of the table set last.</summary>
    public double Width { get; private set; }

    /// <summary>Sets groups of rows that share their columns.</summary>
    public List<List<SetRow>> SetRows(Table table, IReadOnlyList<IReadOnlyList<TableItem>> groups)
    {
        List<List<Row>> all = [.. groups.Select(g => g.Select(i => MakeRow(table, i)).ToList())];
        (double[] widths, double[] whole, double[] fraction) = ColumnWidths(table, [.. all.SelectMany(g => g)]);
        double[] starts = new double[widths.Length + 1];
        for (int i = 0; i < widths.Length; i++)
        {
            starts[i + 1] = starts[i] + widths[i];
        }

        Width = starts[^1];
        return [.. all.Select(g => SetGroup(table, g, starts, whole, fraction))];
    }

    private static Row MakeRow(Table table, TableItem item)
    {
        var pieces = new List<CellBox>();
        if (item is TableRow row)
        {
            int column = 0;
            foreach (TableCell cell in row.Cells)
            {
                pieces.Add(new CellBox(cell, Math.Min(column, Math.Max(0, table.Columns.Count - cell.Span))));
                column += cell.Span;
            }
        }

        return new Row(item, pieces);
    }

    // Columns are as wide as their widest cell; what spans several widens the last of them when it must.
    private (double[] Widths, double[] Whole, double[] Fraction) ColumnWidths(Table table, List<Row> rows)
    {
        int count = table.Columns.Count;
        var widths = new double[count];
        var whole = new double[count];
        var fraction = new double[count];
        var edges = new Dictionary<EdgePiece, Box>(ReferenceEqualityComparer.Instance);
        List<CellBox> pieces = [.. rows.SelectMany(r => r.Pieces)];
        foreach (CellBox piece in pieces)
        {
            context.Budget.Spend(4 + (piece.Cell.Span / 16));
            piece.Left = Edge(piece.Cell.Column.Left, edges);
            piece.Right = Edge(piece.Cell.Column.Right, edges);
            if (piece.Cell.Blocks is null)
            {
                piece.Whole = lines.SetBox(piece.Cell.Content);
                piece.Fraction = piece.Cell.Decimals is { } d ? lines.SetBox(d) : null;
                if (piece is { Fraction: { } f, Cell.Span: 1 })
                {
                    whole[piece.First] = Math.Max(whole[piece.First], piece.Whole.Width);
                    fraction[piece.First] = Math.Max(fraction[piece.First], f.Width);
                }
            }
        }

        var shared = new double[count];
        foreach (CellBox piece in pieces)
        {
            double content = piece.Fraction is not null && piece.Cell.Span == 1 ? whole[piece.First] + fraction[piece.First]
                : piece.Cell.Column.Width ?? (piece.Cell.Blocks is null ? piece.Whole.Width : 0);
            if (piece.Cell.Column.Share > 0 && piece.Cell.Span == 1)
            {
                shared[piece.First] = piece.Cell.Column.Share;
            }

            if (piece.Cell.Span == 1)
            {
                widths[piece.First] = Math.Max(widths[piece.First], content + piece.EdgeWidth);
            }
        }

        foreach (CellBox piece in pieces.Where(p => p.Cell.Span > 1).OrderBy(p => p.Last))
        {
            double content = piece.Cell.Column.Width ?? piece.Whole.Width;
            double have = widths.Skip(piece.First).Take(piece.Cell.Span).Sum();
            int last = Math.Min(piece.Last, count - 1);
            widths[last] += Math.Max(0, content + piece.EdgeWidth - have);
        }

        Distribute(table, widths, shared);
        foreach (CellBox piece in pieces.Where(p => p.Cell.Blocks is not null))
        {
            double room = widths.Skip(piece.First).Take(piece.Cell.Span).Sum() - piece.EdgeWidth;
            double width = piece.Cell.Column.Share > 0 || piece.Cell.Span > 1 ? Math.Max(1, room) : piece.Cell.Column.Width ?? room;
            piece.Whole = lines.SetBox([new BlockBoxInline(piece.Cell.Blocks!, width) { Position = piece.Cell.Column.Vertical }]);
        }

        return (widths, whole, fraction);
    }

    private List<(EdgePiece, Box?)> Edge(IReadOnlyList<EdgePiece> pieces, Dictionary<EdgePiece, Box> known)
    {
        var result = new List<(EdgePiece, Box?)>(pieces.Count);
        foreach (EdgePiece piece in pieces)
        {
            Box? box = null;
            if (piece.Content is { } content && !known.TryGetValue(piece, out box))
            {
                known[piece] = box = lines.SetBox(content);
            }

            result.Add((piece, box));
        }

        return result;
    }

    // What is left of a wanted width goes to the columns that share it, or to the spaces that may grow.
    private static void Distribute(Table table, double[] widths, double[] shared)
    {
        if (table.Width is not { } wanted)
        {
            return;
        }

        double free = wanted - widths.Sum();
        double shares = shared.Sum();
        if (shares > 0)
        {
            double least = table.Size;
            for (int i = 0; i < widths.Length; i++)
            {
                widths[i] += shared[i] > 0 ? Math.Max(least, free * shared[i] / shares) : 0;
            }

            return;
        }

        double[] stretch = [.. table.Columns.Select(c => c.Left.Sum(e => e.Stretch))];
        double total = stretch.Sum();
        for (int i = 0; i < widths.Length && total > 0 && free > 0; i++)
        {
            widths[i] += free * stretch[i] / total;
        }
    }

    private List<SetRow> SetGroup(Table table, List<Row> rows, double[] starts, double[] whole, double[] fraction)
    {
        var result = new List<SetRow>(rows.Count);
        foreach (Row row in rows)
        {
            result.Add(row.Item switch
            {
                TableLine line => SetLine(line, starts),
                TableRow { Across: { } across } own => new SetRow(SetAcross(across, starts[^1]), own) { SpaceBelow = own.SpaceBelow },
                TableRow own => new SetRow(SetCells(table, own, row.Pieces, starts, whole, fraction), own) { SpaceBelow = own.SpaceBelow },
                _ => throw new InvalidOperationException(),
            });
        }

        for (int i = 0; i < rows.Count; i++)
        {
            foreach (CellBox piece in rows[i].Pieces.Where(p => p.Cell.Rows is not (0 or 1)))
            {
                PlaceOverRows(piece, result, i, starts, whole, fraction);
                context.Own(result[i].Box, piece.Cell);
            }
        }

        return result;
    }

    private Box SetAcross(IReadOnlyList<Block> blocks, double width)
    {
        double measure = Math.Max(width, Math.Min(context.Document.Geometry.TextWidth, 290));
        Box box = lines.SetBox([new BlockBoxInline(blocks, measure) { Position = 't' }]);
        var result = new Box { Width = width };
        result.Add(box, (width - measure) / 2, 0);
        result.Depth += 6;
        return result;
    }

    private static SetRow SetLine(TableLine line, double[] starts)
    {
        double thickness = line.TakesRoom ? line.Thickness : 0;
        var box = new Box { Width = starts[^1], Height = line.Above + thickness, Depth = line.Below };
        if (line.Thickness > 0)
        {
            foreach (LineStretch stretch in line.Stretches ?? [new LineStretch(0, starts.Length - 2)])
            {
                double from = starts[Math.Min(stretch.First, starts.Length - 2)] + stretch.TrimLeft;
                double to = starts[Math.Min(stretch.Last + 1, starts.Length - 1)] - stretch.TrimRight;
                if (to > from)
                {
                    box.Marks.Add(new Placed(new RuleMark(to - from, line.Thickness, line.Colour), from, line.TakesRoom ? 0 : -line.Thickness));
                }
            }
        }

        return new SetRow(box, line);
    }

    private Box SetCells(Table table, TableRow row, List<CellBox> pieces, double[] starts, double[] whole, double[] fraction)
    {
        double height = row.Height;
        double depth = row.Depth;
        foreach (CellBox piece in pieces.Where(p => p.Cell.Rows == 1))
        {
            height = Math.Max(height, Math.Max(piece.Whole.Height, piece.Fraction?.Height ?? 0));
            // A paragraph's last line has the depth of a line, whatever letters stand in it.
            double last = piece.Cell.Blocks is null ? piece.Whole.Depth : piece.Whole.Depth + Math.Max(0, (table.Size * 0.36) - (table.Size * 0.24));
            depth = Math.Max(depth, last);
        }

        var box = new Box { Width = starts[^1] };
        foreach (CellBox piece in pieces)
        {
            Place(piece, box, starts, whole, fraction, height, depth);
            context.Own(box, piece.Cell);
        }

        box.Height = height;
        box.Depth = depth;
        return box;
    }

    private static void Place(CellBox piece, Box box, double[] starts, double[] whole, double[] fraction, double height, double depth)
    {
        int last = Math.Min(piece.Last, starts.Length - 2);
        double left = starts[piece.First];
        double right = starts[last + 1];
        if (piece.Cell.Ground is { } ground)
        {
            box.Marks.Insert(0, new Placed(new RuleMark(right - left, height + depth, ground), left, -depth));
        }

        double room = right - left - piece.EdgeWidth;
        // Spaces that may grow take what the widened column has left.
        double content = piece.Cell.Column.Width ?? (piece.Cell.Span == 1 && piece.Fraction is not null ? whole[piece.First] + fraction[piece.First] : piece.Whole.Width);
        double grow = piece.Left.Exists(e => e.Piece.Stretch > 0) ? Math.Max(0, room - content) : 0;
        double x = PlaceEdge(piece.Left, box, left, height, depth, grow);
        room -= grow;
        if (piece.Cell.Rows is 0 or 1)
        {
            PlaceContent(piece, box, x, 0, room, whole, fraction);
        }

        PlaceEdge(piece.Right, box, x + room, height, depth, 0);
    }

    private static double PlaceEdge(List<(EdgePiece Piece, Box? Box)> edge, Box box, double x, double height, double depth, double grow)
    {
        foreach ((EdgePiece piece, Box? material) in edge)
        {
            if (piece.IsRule)
            {
                box.Marks.Add(new Placed(new RuleMark(piece.Width, height + depth, piece.Colour), x, -depth));
            }
            else if (material is not null)
            {
                foreach (Placed placed in material.Marks)
                {
                    box.Marks.Add(placed with { X = placed.X + x });
                }
            }

            x += (material?.Width ?? piece.Width) + (piece.Stretch > 0 ? grow : 0);
        }

        return x;
    }

    private static void PlaceContent(CellBox piece, Box box, double x, double rise, double room, double[] whole, double[] fraction)
    {
        if (piece is { Fraction: { } decimals, Cell.Span: 1 })
        {
            double free = room - whole[piece.First] - fraction[piece.First];
            double sign = x + (free / 2) + whole[piece.First];
            Copy(piece.Whole, sign - piece.Whole.Width);
            Copy(decimals, sign);
            return;
        }

        double left = room - piece.Whole.Width - (piece.Fraction?.Width ?? 0);
        double start = x + (piece.Cell.Column.Alignment switch { Alignment.Centre => left / 2, Alignment.Right => left, _ => 0 });
        Copy(piece.Whole, start);
        if (piece.Fraction is { } rest)
        {
            Copy(rest, start + piece.Whole.Width);
        }

        void Copy(Box from, double at)
        {
            foreach (Placed placed in from.Marks)
            {
                box.Marks.Add(placed with { X = placed.X + at, Y = placed.Y + rise });
            }
        }
    }

    // A cell of several rows stands in the middle of them.
    private static void PlaceOverRows(CellBox piece, List<SetRow> rows, int index, double[] starts, double[] whole, double[] fraction)
    {
        int step = piece.Cell.Rows > 0 ? 1 : -1;
        int left = Math.Abs(piece.Cell.Rows);
        double above = rows[index].Box.Height;
        double below = rows[index].Box.Depth;
        for (int i = index + step; i >= 0 && i < rows.Count && left > 1; i += step)
        {
            double size = rows[i].Box.Height + rows[i].Box.Depth + rows[i].SpaceBelow;
            (above, below) = step > 0 ? (above, below + size) : (above + size, below);
            left -= rows[i].Item is TableRow ? 1 : 0;
        }

        double height = Math.Max(piece.Whole.Height, piece.Fraction?.Height ?? 0);
        double depth = Math.Max(piece.Whole.Depth, piece.Fraction?.Depth ?? 0);
        double middle = (above - below) / 2;
        double rise = middle - ((height - depth) / 2) + piece.Cell.Rise;
        int last = Math.Min(piece.Last, starts.Length - 2);
        double x = starts[piece.First] + piece.Left.Sum(CellBox.Width);
        double room = starts[last + 1] - starts[piece.First] - piece.EdgeWidth;
        PlaceContent(piece, rows[index].Box, x, rise, room, whole, fraction);
    }
}
