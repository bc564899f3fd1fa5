using YoungFolio.Documents;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Lines;

namespace YoungFolio.Typesetting.Pages;

// Displayed formulas: rows, columns and numbers in the measure (The TeXbook, ch. 19).
internal sealed partial class FlowSetter
{
    private const int BeforeDisplay = 10_000;

    // Space between the rows of a display beside their own heights: \jot, 3 points.
    private const double RowGap = 3;

    private void AddDisplay(DisplayBlock display)
    {
        double width = Measure - display.Paragraph.LeftMargin - display.Paragraph.RightMargin;
        (List<List<Box>> rows, int origin) = SetDisplayRows(display);
        Layout layout = LayOut(display, rows, width);
        bool isShort = EndsBefore(display, layout);
        Items.Add(new PenaltyItem(BeforeDisplay));
        AddSkip(isShort ? display.Skips.AboveShort : display.Skips.Above);
        for (int i = 0; i < rows.Count; i++)
        {
            DisplayRow row = display.Rows[i];
            if (row.Before is { } text)
            {
                Set(text);
            }
            else if (i > 0)
            {
                int cost = display.Rows[i - 1].BreakBelow ?? display.BreakPenalty;
                Items.Add(cost <= -10_000 ? new EjectItem(PageEnd.New) : new PenaltyItem(cost));
                Items.Add(new SpaceItem(RowGap + display.Rows[i - 1].SpaceBelow, 0, 0, 0, false));
            }

            AddDisplayRow(display, rows[i], origin, layout, i, width);
        }

        AddSkip(isShort ? display.Skips.BelowShort : display.Skips.Below);
    }

    /// <summary>Where a display's cells begin, and the width of each row.</summary>
    private sealed record Layout(double[][] Places, double[] Lefts, double[] Widths, bool[] NumberApart);

    private void AddSkip(Glue skip) => Items.Add(new SpaceItem(skip.Width.Points, skip.Stretch.Points, skip.Shrink.Points, 0, false));

    // Whether the line above ends so early that the formula's first row may stand closer to it (The TeXbook, p. 188).
    private bool EndsBefore(DisplayBlock display, Layout layout)
    {
        if (layout.Lefts.Length == 0 || display.LeftIndent is not null || Items.FindLast(i => i is not PenaltyItem and not MarkItem) is not BoxItem { Box: var last, Indent: var indent })
        {
            return false;
        }

        // A last line is filled up to the margin: where its words end is told by what is printed.
        double end = last.Marks.Select(m => m.Mark switch
        {
            GlyphMark glyphs => m.X + glyphs.Edges[^1],
            RuleMark rule => m.X + rule.Width,
            AnchorMark or LinkMark => 0,
            _ => last.Width,
        }).DefaultIfEmpty().Max();
        return end > 0 && indent + end + (2 * display.Style.Size) <= layout.Lefts[0] + display.Paragraph.LeftMargin;
    }

    private Layout LayOut(DisplayBlock display, List<List<Box>> rows, double width)
    {
        int columns = rows.Count == 0 ? 0 : rows.Max(r => r.Count);
        double[] widths = [.. Enumerable.Range(0, columns).Select(c => rows.Max(r => c < r.Count ? r[c].Width : 0))];
        double[] numbers = [.. display.Rows.Select(r => r.Number is { } n ? _lines.SetBox(n).Width + display.Style.Size : 0)];
        double most = numbers.DefaultIfEmpty().Max();
        bool isGrid = display.Form is DisplayForm.Aligned or DisplayForm.AlignedAt or DisplayForm.Flush or DisplayForm.Columns;
        double[] gaps = Gaps(display, widths, width, most);
        double block = widths.Sum() + gaps.Sum();
        var places = new double[rows.Count][];
        var lefts = new double[rows.Count];
        var all = new double[rows.Count];
        var apart = new bool[rows.Count];
        for (int i = 0; i < rows.Count; i++)
        {
            double formula = isGrid ? block : rows[i].Sum(b => b.Width);
            apart[i] = numbers[i] > 0 && formula + numbers[i] > width;
            double room = isGrid ? most : numbers[i];
            double left = Left(display, i, rows.Count, formula, width, apart[i] ? 0 : room);
            lefts[i] = left;
            all[i] = formula;
            places[i] = new double[rows[i].Count];
            double x = left;
            for (int c = 0; c < rows[i].Count; c++)
            {
                double free = isGrid ? widths[c] - rows[i][c].Width : 0;
                char alignment = display.Form == DisplayForm.Columns ? c == 0 ? 'r' : c == 1 ? 'c' : 'l' : c % 2 == 0 ? 'r' : 'l';
                places[i][c] = x + (isGrid ? alignment switch { 'r' => free, 'c' => free / 2, _ => 0 } : 0);
                x += (isGrid ? widths[c] : rows[i][c].Width) + (c < gaps.Length ? gaps[c] : 0);
            }
        }

        return new Layout(places, lefts, all, apart);
    }

    // Space behind each column.
    private static double[] Gaps(DisplayBlock display, double[] widths, double width, double number)
    {
        var gaps = new double[Math.Max(0, widths.Length - 1)];
        int pairs = (widths.Length + 1) / 2;
        double free = Math.Max(0, width - widths.Sum() - (2 * number));
        for (int c = 0; c < gaps.Length; c++)
        {
            gaps[c] = display.Form switch
            {
                // Two \arraycolsep around the sign.
                DisplayForm.Columns => display.Style.Size,
                // Between pairs the same space as outside them, as amsmath has it.
                DisplayForm.Aligned when c % 2 == 1 => Math.Max(display.Style.Size, Math.Min(free / (pairs + 1), 6 * display.Style.Size)),
                DisplayForm.Flush when c % 2 == 1 => Math.Max(display.Style.Size, (width - widths.Sum() - number) / Math.Max(1, pairs - 1)),
                _ => 0,
            };
        }

        return gaps;
    }

    private static double Left(DisplayBlock display, int row, int rows, double formula, double width, double number)
    {
        double before = display.NumbersLeft ? number : 0;
        if (display.Form == DisplayForm.Multline && rows > 1)
        {
            double indent = display.LeftIndent ?? display.Style.Size;
            int side = display.Rows[row].Shove is not 0 and var shove ? shove : row == 0 ? -1 : row == rows - 1 ? 1 : 0;
            return side < 0 ? indent + before : side > 0 ? Math.Max(0, width - formula - (display.NumbersLeft ? display.Style.Size : number > 0 ? number : display.Style.Size)) : Math.Max(0, (width - formula) / 2);
        }

        if (display.LeftIndent is { } fixedIndent)
        {
            return fixedIndent;
        }

        if (display.Form == DisplayForm.Flush)
        {
            return before;
        }

        // Centred in the line; beside a number that it would run into, centred in what is left.
        double left = Math.Max(0, (width - formula) / 2);
        bool meets = number > 0 && (display.NumbersLeft ? left < number : left + formula > width - number);
        return meets ? Math.Max(0, (width - number - formula) / 2) + before : left;
    }

    private void AddDisplayRow(DisplayBlock display, List<Box> cells, int origin, Layout layout, int i, double width)
    {
        DisplayRow row = display.Rows[i];
        ReportWide(layout.Widths[i], width, row);
        var box = new Box();
        for (int c = 0; c < cells.Count; c++)
        {
            box.Add(_context.Tagging is null ? cells[c] : cells[c].OwnedBy(row), layout.Places[i][c], 0, origin);
        }

        if (row.Anchor is { } anchor)
        {
            box.Marks.Add(new Placed(new AnchorMark(anchor), 0, 0));
        }

        Box? number = row.Number is { } n ? _lines.SetBox(n) : null;
        Box? own = null;
        if (number is not null)
        {
            // A number that doesn't fit beside its formula stands below it; a left one above.
            Box line = layout.NumberApart[i] ? own = new Box() : box;
            line.Add(number, display.NumbersLeft ? 0 : width - number.Width, 0);
        }

        if (own is not null && display.NumbersLeft)
        {
            AddBox(own, display.Paragraph.LeftMargin, display.Paragraph.Leading);
            Items.Add(new PenaltyItem(10_000));
        }

        box.Width = width;
        AddBox(box, display.Paragraph.LeftMargin, display.Paragraph.Leading);
        if (own is not null && !display.NumbersLeft)
        {
            Items.Add(new PenaltyItem(10_000));
            AddBox(own, display.Paragraph.LeftMargin, display.Paragraph.Leading);
        }
    }

    private (List<List<Box>> Rows, int Base) SetDisplayRows(DisplayBlock display)
    {
        List<List<Box>> Make() => [.. display.Rows.Select(r => r.Cells.Select(c => _mathematics.SetDisplay(c, display.Style, _lines)).ToList())];
        if (_context.Cache is not { } cache || _key.Of(display) is not { } number)
        {
            return (Make(), 0);
        }

        int origin = _key.Base;
        return (_lines.Kept(cache, number, origin, Make, static rows => rows.SelectMany(r => r)).Content, Math.Max(0, origin));
    }

    private void ReportWide(double formula, double width, DisplayRow row)
    {
        if (formula > width + 0.5)
        {
            _context.Findings.Layout("formula-too-wide", row.Position, 1,
                $"The formula is {Units.InMillimetres(formula - width)} mm wider than the line.",
                "Break it over several lines.");
        }
    }
}
