using YoungFolio.Documents.Mathematics;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Formulas;

// Matrices, cases, arrays and aligned blocks.
internal sealed partial class MathSetter
{
    private Box SetGrid(GridNucleus grid, FormulaStyle looks)
    {
        FormulaStyle cell = grid.IsSmall ? Script(looks, true)
            : looks with { Size = grid.InDisplay ? MathSize.Display : looks.IsScript ? looks.Size : MathSize.Text };
        double size = SizeOf(looks) * (grid.IsSmall ? 0.7 : 1);
        List<List<Box>> rows = [.. grid.Rows.Select(r => r.Select(c => SetList(c, cell)).ToList())];
        int columns = rows.Count == 0 ? 0 : rows.Max(r => r.Count);
        double[] widths = [.. Enumerable.Range(0, columns).Select(c => rows.Max(r => c < r.Count ? r[c].Width : 0))];
        (List<double> baselines, List<double> tops, double total) = Rows(grid, rows, size);
        double axis = Measure(MathConstant.AxisHeight, looks);
        double origin = rows.Count == 0 ? 0 : grid.Vertical switch { 't' => baselines[0], 'b' => baselines[^1], _ => (total / 2) + axis };
        var result = new Box();
        double x = grid.SideGap * size;
        double rule = Measure(MathConstant.FractionRuleThickness, looks);
        double width = Math.Max(0, widths.Sum() + (2 * grid.SideGap * size) + Enumerable.Range(1, Math.Max(0, columns - 1)).Sum(c => Gap(grid, c, size)));
        for (int c = 0; c < columns; c++)
        {
            if (c > 0)
            {
                x += Gap(grid, c, size);
            }

            AddRules(c, c == 0 ? grid.SideGap * size / 2 : x - (Gap(grid, c, size) / 2));
            for (int r = 0; r < rows.Count; r++)
            {
                if (c < rows[r].Count)
                {
                    double free = (grid.RowAlignments.Length > 0 ? width : widths[c]) - rows[r][c].Width;
                    result.Add(rows[r][c], x + (AlignmentOf(grid, r, c) switch { 'l' => 0, 'r' => free, _ => free / 2 }), origin - baselines[r]);
                }
            }

            x += widths[c];
        }

        AddRules(columns, width - (grid.SideGap * size / 2));
        for (int r = 0; r < grid.Lines.Count; r++)
        {
            for (int k = 0; k < grid.Lines[r]; k++)
            {
                double y = r < tops.Count ? tops[r] : total;
                result.Marks.Add(new Placed(new RuleMark(width, rule, _colour), 0, origin - y + (2 * k)));
            }
        }

        result.Width = width;
        result.Height = Math.Max(result.Height, origin);
        result.Depth = Math.Max(result.Depth, total - origin);
        return result;

        void AddRules(int column, double at)
        {
            for (int k = 0; column < grid.Rules.Count && k < grid.Rules[column]; k++)
            {
                result.Marks.Add(new Placed(new RuleMark(rule, total, _colour), at + (2 * k) - (rule / 2), origin - total));
            }
        }
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
            double height = Math.Max((grid.IsSmall ? 0.75 : 0.84) * size, rows[r].Select(b => b.Height).DefaultIfEmpty().Max());
            double depth = Math.Max((grid.IsSmall ? 0.25 : 0.36) * size, rows[r].Select(b => b.Depth).DefaultIfEmpty().Max());
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
