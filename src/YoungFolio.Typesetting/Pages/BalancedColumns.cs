using YoungFolio.Typesetting.Lines;

namespace YoungFolio.Typesetting.Pages;

/// <summary>Sets a stretch of the page in columns of equal length.</summary>
internal static class BalancedColumns
{
    /// <summary>Sets as much as fits a height, as one box.</summary>
    /// <param name="context">What setting needs.</param>
    /// <param name="item">The columns; what was set is taken from them.</param>
    /// <param name="room">Height in points.</param>
    /// <param name="topSkip">Distance from the top to the first baseline.</param>
    /// <param name="outer">Takes the floats that come in columns.</param>
    /// <returns>The box, and whether all was set.</returns>
    public static (BoxItem Box, bool IsAll) Set(SettingContext context, ColumnsItem item, double room, double topSkip, ColumnFiller outer)
    {
        int count = item.Block.Count;
        double natural = item.Items.Skip(item.Next).Sum(Height);
        double step = Math.Max(2, context.Document.Leading / 4);
        double first = Math.Min(room, Math.Max(natural / count, context.Document.Leading));
        List<Column> columns = Fill(context, item, room, topSkip);
        bool all = columns[^1].End == ColumnEnd.Flow && columns[^1].Next >= item.Items.Count;
        if (all && !item.Block.IsUnbalanced)
        {
            // The least height that takes all: columns end at about one height, the last may be shorter.
            for (double height = first; height < room; height += step)
            {
                context.Budget.Check();
                List<Column> balanced = Fill(context, item, height, topSkip);
                if (balanced[^1].Next >= item.Items.Count && balanced[^1].End == ColumnEnd.Flow && balanced.TrueForAll(c => Used(c, topSkip) <= height + 0.5))
                {
                    columns = balanced;
                    break;
                }
            }
        }

        item.Next = columns[^1].Next;
        foreach (FloatItem figure in columns.SelectMany(c => c.Items).OfType<FloatItem>())
        {
            outer.Floats.Wait(figure);
        }

        return (Join(columns, item, topSkip), all);
    }

    private static double Height(VerticalItem item) => item switch { BoxItem b => b.Box.Height + b.Box.Depth, SpaceItem s => s.Width, _ => 0 };

    private static double Used(Column column, double topSkip)
    {
        double height = 0;
        double depth = 0;
        bool first = true;
        foreach (VerticalItem item in column.Items)
        {
            if (item is BoxItem { Box: var box })
            {
                height += depth + box.Height + (first ? Math.Max(0, topSkip - box.Height) : 0);
                depth = box.Depth;
                first = false;
            }
            else
            {
                height += depth + Height(item);
                depth = 0;
            }
        }

        return height;
    }

    private static List<Column> Fill(SettingContext context, ColumnsItem item, double height, double topSkip)
    {
        var filler = new ColumnFiller(context, topSkip);
        var columns = new List<Column>();
        int at = item.Next;
        for (int i = 0; i < item.Block.Count; i++)
        {
            Column column = filler.FillPlain(item.Items, at, height);
            columns.Add(column);
            at = column.Next;
        }

        return columns;
    }

    private static BoxItem Join(List<Column> columns, ColumnsItem item, double topSkip)
    {
        var box = new Box();
        double width = (item.Block.Width - (item.Block.Gap * (columns.Count - 1))) / columns.Count;
        double total = 0;
        var placed = new List<(BoxItem Item, double X, double Y)>();
        var notes = new List<NoteBox>();
        for (int c = 0; c < columns.Count; c++)
        {
            double y = 0;
            bool first = true;
            double lastDepth = 0;
            foreach (VerticalItem part in columns[c].Items)
            {
                switch (part)
                {
                    case BoxItem line:
                        bool counts = line.Box.Height + line.Box.Depth + line.Box.Width > 0;
                        y += line.Box.Height + (first && counts ? Math.Max(0, topSkip - line.Box.Height) : 0);
                        first &= !counts;
                        placed.Add((line, (c * (width + item.Block.Gap)) + line.Indent, y));
                        y += line.Box.Depth;
                        lastDepth = line.Box.Depth;
                        notes.AddRange(line.Notes);
                        break;
                    case SpaceItem space:
                        y += space.Width;
                        lastDepth = 0;
                        break;
                }
            }

            total = Math.Max(total, y - lastDepth);
        }

        foreach ((BoxItem part, double x, double y) in placed)
        {
            foreach (Placed mark in part.Box.Marks)
            {
                box.Marks.Add(mark with { X = mark.X + x, Y = mark.Y - y + total, Base = mark.Base + part.Base });
            }
        }

        for (int c = 1; c < columns.Count && item.Block.Rule > 0; c++)
        {
            double x = (c * (width + item.Block.Gap)) - (item.Block.Gap / 2) - (item.Block.Rule / 2);
            box.Marks.Add(new Placed(new RuleMark(item.Block.Rule, total + 2), x, -2));
        }

        box.Width = item.Block.Width;
        box.Height = total;
        box.Depth = 2;
        var result = new BoxItem(box, 0);
        result.Notes.AddRange(notes);
        return result;
    }
}
