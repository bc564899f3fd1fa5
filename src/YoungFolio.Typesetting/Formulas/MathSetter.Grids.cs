using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Formulas;

// Matrices, cases, arrays and aligned blocks.
internal sealed partial class MathSetter
{
    private Box SetGrid(GridNucleus grid, FormulaStyle looks)
    {
        // Small rows have the size of scripts wherever they stand (amsmath).
        FormulaStyle cell = grid.IsSmall ? looks with { Size = MathSize.Script, Cramped = true }
            : looks with { Size = grid.InDisplay ? MathSize.Display : looks.IsScript ? looks.Size : MathSize.Text };
        double size = SizeOf(grid.IsSmall ? cell : looks);
        List<List<Box>> rows = [.. grid.Rows.Select(r => r.Select(c => SetList(c, cell)).ToList())];
        (List<double> baselines, List<double> tops, double total) = Rows(grid, rows, size);
        double axis = Measure(MathConstant.AxisHeight, looks);
        double origin = rows.Count == 0 ? 0 : grid.Vertical switch { 't' => baselines[0], 'b' => baselines[^1], _ => (total / 2) + axis };
        List<PlacedFence> fences = [.. grid.Delimiters.SelectMany(d => Fences(d, tops, total, looks))];
        GridColumns columns = Columns(grid, rows, fences, size);
        var result = new Box();
        double width = columns.Width;
        for (int r = 0; r < rows.Count; r++)
        {
            for (int c = 0; c < rows[r].Count; c++)
            {
                GridSpan? span = columns.SpanAt(r, c);
                double room = grid.RowAlignments.Length > 0 ? width : columns.Right(c + (span?.Count ?? 1) - 1) - columns.Left(c);
                double free = room - rows[r][c].Width;
                result.Add(rows[r][c], columns.Left(c) + ((span?.Alignment ?? AlignmentOf(grid, r, c)) switch { 'l' => 0, 'r' => free, _ => free / 2 }), origin - baselines[r]);
            }
        }

        double rule = Measure(MathConstant.FractionRuleThickness, looks);
        for (int c = 0; c <= columns.Count && rows.Count > 0; c++)
        {
            AddEdge(result, grid, columns, c, r => origin - baselines[r], r => origin - (r < tops.Count ? tops[r] : total), rows.Count, rule);
        }

        foreach (PlacedFence fence in fences)
        {
            // A delimiter stands with its middle on the axis: it is moved to the middle of its rows.
            double middle = origin - ((fence.Top + fence.Bottom) / 2);
            result.Add(fence.Box, fence.IsLeft ? columns.Left(fence.Column) - fence.Box.Width : columns.Right(fence.Column), middle - axis);
        }

        for (int r = 0; r < grid.Lines.Count; r++)
        {
            for (int k = 0; k < grid.Lines[r]; k++)
            {
                double y = r < tops.Count ? tops[r] : total;
                result.Marks.Add(new Placed(new RuleMark(width, rule, _colour), 0, origin - y + (2 * k)));
            }
        }

        foreach (GridLine line in grid.PartialLines.Where(l => l.First < columns.Count))
        {
            int last = Math.Min(line.Last, columns.Count - 1);
            double from = columns.Left(line.First) - (columns.EdgeWidth(line.First) * (line.First == 0 ? 1 : 0.5));
            double to = columns.Right(last) + (columns.EdgeWidth(last + 1) * (last + 1 == columns.Count ? 1 : 0.5));
            result.Marks.Add(new Placed(new RuleMark(to - from, rule, _colour), from, origin - (line.Row < tops.Count ? tops[line.Row] : total)));
        }

        result.Width = width;
        result.Height = Math.Max(result.Height, origin);
        result.Depth = Math.Max(result.Depth, total - origin);
        return result;
    }

    // A delimiter beside some rows, with the column that it stands before or after.
    private readonly record struct PlacedFence(Box Box, int Column, bool IsLeft, double Top, double Bottom);

    private IEnumerable<PlacedFence> Fences(GridDelimiters around, List<double> tops, double total, FormulaStyle looks)
    {
        if (around.FirstRow >= tops.Count)
        {
            yield break;
        }

        double top = tops[around.FirstRow];
        double bottom = around.LastRow + 1 < tops.Count ? tops[around.LastRow + 1] : total;
        foreach ((string sign, bool isLeft) in ((string, bool)[])[(around.Left, true), (around.Right, false)])
        {
            if (sign.Length > 0)
            {
                yield return new PlacedFence(Delimiter(sign, Math.Max((bottom - top) * 0.901, bottom - top - 5), PositionTable.None, looks), isLeft ? around.FirstColumn : around.LastColumn, isLeft, top, bottom);
            }
        }
    }

    // Where columns begin and end; a cell that takes several widens the last of them where it has to.
    private GridColumns Columns(GridNucleus grid, List<List<Box>> rows, List<PlacedFence> fences, double size)
    {
        int count = rows.Count == 0 ? 0 : Math.Max(rows.Max(r => r.Count), grid.Spans.Select(s => s.Column + s.Count).DefaultIfEmpty().Max());
        var columns = new GridColumns(grid.Spans, count);
        for (int c = 0; c <= count; c++)
        {
            columns.Pieces[c] = c < grid.Edges.Count ? [.. grid.Edges[c].Pieces.Select(p => (p, p.Content is { } content ? _text.SetBox(content) : null))] : [];
            double edge = columns.Pieces[c].Sum(p => p.Piece.Width + (p.Text?.Width ?? 0));
            columns.Edges[c] = grid.Edges.Count > 0 ? edge : c == 0 || c == count ? grid.SideGap * size : Gap(grid, c, size);
            columns.After[c] = fences.Where(f => !f.IsLeft && f.Column + 1 == c).Select(f => f.Box.Width).DefaultIfEmpty().Max();
            columns.Before[c] = fences.Where(f => f.IsLeft && f.Column == c).Select(f => f.Box.Width).DefaultIfEmpty().Max();
        }

        for (int r = 0; r < rows.Count; r++)
        {
            for (int c = 0; c < rows[r].Count; c++)
            {
                columns.Widths[c] = columns.SpanAt(r, c) is null ? Math.Max(columns.Widths[c], rows[r][c].Width) : columns.Widths[c];
            }
        }

        foreach (GridSpan span in grid.Spans)
        {
            int last = span.Column + span.Count - 1;
            columns.Widths[last] += Math.Max(0, rows[span.Row][span.Column].Width - columns.Room(span.Column, last));
        }

        columns.Place();
        return columns;
    }

    // Lines down and formulas between columns; where a cell takes several, its own edges count.
    private void AddEdge(Box result, GridNucleus grid, GridColumns columns, int column, Func<int, double> baseline, Func<int, double> top, int rows, double rule)
    {
        double x = columns.EdgeBegin(column);
        bool hasRule = columns.Pieces[column].Any(p => p.Piece.IsRule);
        foreach ((EdgePiece piece, Box? text) in columns.Pieces[column])
        {
            for (int r = 0; r < rows; r++)
            {
                if (text is not null && !columns.IsInSpan(r, column))
                {
                    result.Add(text, x, baseline(r));
                }
                else if (piece.IsRule && columns.HasLine(r, column, true))
                {
                    result.Marks.Add(new Placed(new RuleMark(rule, top(r) - top(r + 1), _colour), x, top(r + 1)));
                }
            }

            x += piece.Width + (text?.Width ?? 0);
        }

        for (int r = 0; r < rows && !hasRule && grid.Spans.Count > 0; r++)
        {
            if (columns.HasLine(r, column, false))
            {
                double at = column == 0 ? columns.EdgeBegin(0) : column == columns.Count ? columns.Width - rule : columns.EdgeBegin(column) + (columns.EdgeWidth(column) / 2);
                result.Marks.Add(new Placed(new RuleMark(rule, top(r) - top(r + 1), _colour), at, top(r + 1)));
            }
        }
    }

    // Widths of columns and of what stands between them; where each begins is worked out once, when widths are known.
    private sealed class GridColumns
    {
        private readonly Dictionary<(int Row, int Column), GridSpan> _begins = [];
        private readonly Dictionary<(int Row, int Column), GridSpan> _ends = [];
        private readonly HashSet<(int Row, int Column)> _inner = [];
        private readonly double[] _lefts;

        public GridColumns(IReadOnlyList<GridSpan> spans, int count)
        {
            Count = count;
            (Widths, Edges, After, Before) = (new double[count], new double[count + 1], new double[count + 1], new double[count + 1]);
            Pieces = new (EdgePiece, Box?)[count + 1][];
            _lefts = new double[count];
            foreach (GridSpan span in spans)
            {
                _begins[(span.Row, span.Column)] = span;
                _ends[(span.Row, span.Column + span.Count)] = span;
                for (int c = span.Column + 1; c < span.Column + span.Count; c++)
                {
                    _inner.Add((span.Row, c));
                }
            }
        }

        public int Count { get; }

        public double[] Widths { get; }

        public double[] Edges { get; }

        // Rooms of delimiters that end, and that begin, at an edge.
        public double[] After { get; }

        public double[] Before { get; }

        public (EdgePiece Piece, Box? Text)[][] Pieces { get; }

        public double Width { get; private set; }

        public double EdgeWidth(int column) => After[column] + Edges[column] + Before[column];

        public double EdgeBegin(int column) => (column == 0 ? 0 : Right(column - 1)) + After[column];

        public double Left(int column) => _lefts[column];

        public double Right(int column) => _lefts[column] + Widths[column];

        // From the left of one column to the right of another.
        public double Room(int first, int last)
        {
            double room = Widths[first];
            for (int c = first + 1; c <= last; c++)
            {
                room += EdgeWidth(c) + Widths[c];
            }

            return room;
        }

        public void Place()
        {
            double x = 0;
            for (int c = 0; c < Count; c++)
            {
                x += EdgeWidth(c);
                _lefts[c] = x;
                x += Widths[c];
            }

            Width = x + EdgeWidth(Count);
        }

        public GridSpan? SpanAt(int row, int column) => _begins.GetValueOrDefault((row, column));

        public bool IsInSpan(int row, int column) => _inner.Contains((row, column));

        public bool HasLine(int row, int column, bool usual) =>
            !IsInSpan(row, column)
            && (_ends.GetValueOrDefault((row, column)) is { } before ? before.Right || (SpanAt(row, column)?.Left ?? false)
                : SpanAt(row, column) is { } span ? span.Left || (column > 0 && usual)
                : usual);
    }

    // Baselines and tops of rows from the grid's top; each row is at least as high as a strut.
    private static (List<double> Baselines, List<double> Tops, double Total) Rows(GridNucleus grid, List<List<Box>> rows, double size)
    {
        double y = 0;
        List<double> baselines = [];
        List<double> tops = [];
        for (int r = 0; r < rows.Count; r++)
        {
            // The strut of 12 points at 10 (Lamport, \arraystretch), less in small grids.
            double height = Math.Max((grid.IsSmall ? 0.75 : 0.84 * grid.Stretch) * size, rows[r].Select(b => b.Height).DefaultIfEmpty().Max());
            double depth = Math.Max((grid.IsSmall ? 0.25 : 0.36 * grid.Stretch) * size, rows[r].Select(b => b.Depth).DefaultIfEmpty().Max());
            tops.Add(y);
            y += height;
            baselines.Add(y);
            y += depth;
            if (r < rows.Count - 1)
            {
                y += (grid.InDisplay ? 0.3 * size : grid.IsSmall ? 0.15 * size : 0) + (r < grid.RowGaps.Count ? grid.RowGaps[r] : 0);
            }
        }

        return (baselines, tops, y);
    }

    // Space before a column.
    private static double Gap(GridNucleus grid, int column, double size) =>
        grid.IsPaired ? column % 2 == 0 ? grid.PairGap * size : 0 : grid.ColumnGap * size;

    private static char AlignmentOf(GridNucleus grid, int row, int column) =>
        grid.RowAlignments.Length > row ? grid.RowAlignments[row]
        : grid.IsPaired ? column % 2 == 0 ? 'r' : 'l'
        : grid.Columns[Math.Min(column, grid.Columns.Length - 1)];
}
