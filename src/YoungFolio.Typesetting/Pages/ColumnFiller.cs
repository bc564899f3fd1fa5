using YoungFolio.Documents;

namespace YoungFolio.Typesetting.Pages;

/// <summary>
/// Takes items of the flow for a column and finds its best end: cost of the place, badness of the space that is left, notes
/// and floats counted (The TeXbook, ch. 15).
/// </summary>
internal sealed class ColumnFiller(SettingContext context, double topSkip)
{
    /// <summary>Depth that may hang below a column's foot, in points (\maxdepth, half the first baseline's distance).</summary>
    public const double MostDepth = 5;

    /// <summary>The same above notes, where no more than letters may hang, in points.</summary>
    public const double MostDepthAboveNotes = 2.5;

    private readonly FloatRules _rules = context.Document.FloatRules;

    private double NoteSkip => context.Document.NoteSkip;

    /// <summary>Floats that wait for room.</summary>
    public FloatQueue Floats { get; } = new(context.Document.FloatRules);

    /// <summary>How many floats and lines of notes wait for the next column.</summary>
    public int WaitingCount => Floats.Count + CarriedNotes.Count;

    /// <summary>Lines of notes that the column before had no room for.</summary>
    public List<NoteLine> CarriedNotes { get; private set; } = [];

    /// <summary>Has notes stand at the foot of the next column.</summary>
    public void Carry(IEnumerable<NoteBox> notes) => CarriedNotes.AddRange(notes.SelectMany(n => n.Lines));

    /// <summary>Called for what stands before the column's first line.</summary>
    public Action<VerticalItem> Leading { get; set; } = static _ => { };

    /// <summary>Fills a column.</summary>
    /// <param name="items">The flow.</param>
    /// <param name="start">Index to begin at.</param>
    /// <param name="goal">Height in points.</param>
    /// <param name="isWhole">Whether it is a page high, so that a float too high for it will find no better one.</param>
    public Column Fill(List<VerticalItem> items, int start, double goal, bool isWhole)
    {
        var column = new Column { Goal = goal };
        var state = new FillState(this, column, items) { Notes = NotesHeight(context, CarriedNotes), IsWhole = isWhole };
        Floats.Fill(column, state.Notes, WantsFloatsOut(items, start), isWhole);
        if (column.HasOnlyFloats)
        {
            (column.Next, column.End) = (start, ColumnEnd.Full);
            LayNotes(column);
            return column;
        }

        state.Run(start);
        LayNotes(column);
        return column;
    }

    /// <summary>Whether the source wants all floats out before more of its text comes.</summary>
    public static bool WantsFloatsOut(List<VerticalItem> items, int start)
    {
        int at = start;
        while (at < items.Count && items[at] is SpaceItem { Stays: false } or PenaltyItem)
        {
            at++;
        }

        return at >= items.Count || items[at] is EjectItem { End: not PageEnd.New } or BarrierItem or GeometryItem or SpanningItem;
    }

    /// <summary>Fills a column of a stretch in columns: notes and floats are passed on to the page around.</summary>
    public Column FillPlain(List<VerticalItem> items, int start, double goal)
    {
        var column = new Column { Goal = goal };
        new FillState(this, column, items) { IsPlain = true }.Run(start);
        while (column.Items.Count > 0 && column.Items[^1] is SpaceItem { Stays: false })
        {
            column.Items.RemoveAt(column.Items.Count - 1);
        }

        return column;
    }

    /// <summary>Height of notes with the space and the rule above them.</summary>
    public static double NotesHeight(SettingContext context, IReadOnlyCollection<NoteLine> notes) => notes.Count == 0 ? 0 : context.Document.NoteSkip + notes.Sum(n => n.Extent);

    // Notes that were carried here come first; what doesn't fit is carried on.
    private void LayNotes(Column column)
    {
        IEnumerable<NoteBox> called = column.Top.SelectMany(f => f.Notes)
            .Concat(column.Items.SelectMany(i => i switch { BoxItem b => b.Notes, FloatItem f => f.Notes, _ => [] }))
            .Concat(column.Bottom.SelectMany(f => f.Notes));
        List<NoteLine> lines = [.. CarriedNotes, .. called.SelectMany(n => n.Lines)];
        CarriedNotes = [];
        double used = column.Top.Sum(f => f.Height) + _rules.SpaceOf(column.Top.Count) + column.Bottom.Sum(f => f.Height) + _rules.SpaceOf(column.Bottom.Count);
        bool first = true;
        double depth = 0;
        foreach (VerticalItem item in column.Items)
        {
            if (item is BoxItem { Box: var box })
            {
                used += depth + box.Height + (first && box.Height + box.Depth + box.Width > 0 ? Math.Max(0, topSkip - box.Height) : 0);
                first &= box.Height + box.Depth + box.Width <= 0;
                depth = box.Depth;
            }
            else if (item is SpaceItem space)
            {
                used += depth + space.Width - space.Shrink;
                depth = 0;
            }
            else if (item is FloatItem figure)
            {
                used += depth + figure.Height + (2 * _rules.InTextSeparation);
                depth = 0;
            }
        }

        double room = column.Goal - used - Math.Max(0, depth - MostDepthAboveNotes) - NoteSkip;
        foreach (NoteLine line in lines)
        {
            // At least one line stands on each page, so that notes come to an end.
            if (CarriedNotes.Count > 0 || (room - line.Extent < -0.5 && (column.Notes.Count > 0 || column.Items.Count > 0)))
            {
                CarriedNotes.Add(line);
                continue;
            }

            room -= line.Extent;
            column.Notes.Add(line);
        }

        if (column.Notes.Count == 0 && CarriedNotes.Count > 0 && !column.Items.OfType<BoxItem>().Any())
        {
            column.Notes.Add(CarriedNotes[0]);
            CarriedNotes.RemoveAt(0);
        }
    }

    private sealed class FillState(ColumnFiller filler, Column column, List<VerticalItem> items)
    {
        private double _height;
        private double _depth;
        private double _stretch;
        private double _shrink;
        private double _tableFoot;
        private bool _hasBox;
        private bool _notesSplit;
        private int _bestAt = -1;
        private int _bestCount;
        private double _bestCost = double.PositiveInfinity;

        /// <summary>Whether the column is a page high.</summary>
        public bool IsWhole { get; init; }

        /// <summary>Whether notes and floats take no room here.</summary>
        public bool IsPlain { get; init; }

        private double FloatHeight => filler.Floats.HeightOn(column);

        public double Notes { get; set; }

        private double Goal => column.Goal;

        private double Used => _height + _depth + Notes + FloatHeight;

        public void Run(int start)
        {
            for (int i = start; i < items.Count; i++)
            {
                filler.Context.Budget.Check();
                if (!Take(ref i))
                {
                    return;
                }
            }

            Finish(items.Count, ColumnEnd.Flow);
        }

        private void Finish(int next, ColumnEnd end)
        {
            column.Next = next;
            column.End = end;
        }

        // False when the column ends.
        private bool Take(ref int i)
        {
            VerticalItem item = items[i];
            switch (item)
            {
                case EjectItem eject:
                    return TakeEject(eject, i);
                case GeometryItem or SpanningItem:
                    Finish(i, ColumnEnd.Page);
                    return false;
                case StyleItem or UnnumberedItem:
                    if (!_hasBox && column.Items.TrueForAll(p => p is StyleItem or MarkItem))
                    {
                        filler.Leading(item);
                    }
                    else
                    {
                        column.Items.Add(item);
                    }

                    return true;
                case MarkItem:
                    column.Items.Add(item);
                    return true;
                case EnlargeItem enlarge:
                    column.Goal = Math.Max(10, column.Goal + enlarge.By);
                    return true;
                case OpeningItem:
                    column.TakesTop = false;
                    return true;
                case BarrierItem when filler.Floats.Count > 0:
                    Finish(i, ColumnEnd.Full);
                    return false;
                case FloatItem when IsPlain:
                    column.Items.Add(item);
                    return true;
                case FloatItem { IsTaken: false } figure:
                    TakeFloat(figure);
                    return true;
                case PenaltyItem penalty:
                    if (_hasBox && penalty.Penalty < 10_000)
                    {
                        Consider(i, penalty.Penalty);
                    }

                    return true;
                case SpaceItem space:
                    TakeSpace(space, i);
                    return true;
                case ColumnsItem columns:
                    return TakeColumns(columns, i);
                case BoxItem box:
                    return TakeBox(box, i);
                default:
                    return true;
            }
        }

        private bool TakeEject(EjectItem eject, int i)
        {
            bool empty = !_hasBox && column.Top.Count == 0 && filler.CarriedNotes.Count == 0;
            if (empty)
            {
                if (eject.End != PageEnd.New && filler.Floats.Count > 0)
                {
                    Finish(i, ColumnEnd.Page);
                    return false;
                }

                filler.Leading(eject);
                return true;
            }

            AddTableFoot();
            Finish(eject.End == PageEnd.New ? i + 1 : i, eject.End == PageEnd.New ? ColumnEnd.Column : ColumnEnd.Page);
            return false;
        }

        private void TakeFloat(FloatItem figure)
        {
            figure.IsTaken = true;
            if (filler.Floats.Place(figure, column, Used - FloatHeight, _bestCount))
            {
                _hasBox = true;
                _depth = 0;
                _height += figure.Room + (2 * filler._rules.InTextSeparation);
            }
        }

        private void TakeSpace(SpaceItem space, int i)
        {
            if (!_hasBox && !space.Stays)
            {
                return;
            }

            if (_hasBox && i > 0 && items[i - 1] is BoxItem)
            {
                Consider(i, 0);
            }

            _height += _depth + space.Width;
            _depth = 0;
            _stretch += space.Stretch + (space.Infinite * 1e5);
            _shrink += space.Shrink;
            column.Items.Add(space);
        }

        private bool TakeBox(BoxItem box, int i)
        {
            bool counts = box.Box.Height + box.Box.Depth + box.Box.Width > 0;
            if (box is RowItem { Number: > 0 } row && !_hasBox)
            {
                AddTableHead(row.Table);
            }

            double foot = box is RowItem { IsLast: false } open ? open.Table.FootHeight : 0;
            double above = _hasBox || !counts ? 0 : Math.Max(0, filler.TopSkip - box.Box.Height);
            double noteHeight = IsPlain ? 0 : box.Notes.Sum(n => n.Height) + (box.Notes.Count > 0 && Notes == 0 ? filler.NoteSkip : 0);
            double text = _height + _depth + above + box.Box.Height + Math.Max(0, box.Box.Depth - (Notes + noteHeight > 0 ? MostDepthAboveNotes : MostDepth)) + FloatHeight + foot - _shrink;
            if (!_hasBox && !IsPlain && (column.Top.Count > 0 || Notes > 0 || !IsWhole) && text + Notes > Goal + 0.01)
            {
                // What stands above leaves no room for even one line.
                Finish(i, ColumnEnd.Full);
                return false;
            }

            if (_hasBox && _bestAt >= 0 && (_notesSplit || text + Notes + noteHeight > Goal + 0.01))
            {
                // A note that doesn't fit may be parted when two lines of it stand here and two on the next page.
                double room = Goal - text - Notes - (Notes == 0 ? filler.NoteSkip : 0);
                double leading = box.Notes is [{ Lines: [var firstLine, ..] }, ..] ? firstLine.Extent : 0;
                int lines = box.Notes.Sum(n => n.Lines.Count);
                if (_notesSplit || IsPlain || box.Notes.Count == 0 || room < 2 * leading || lines < 4)
                {
                    Cut();
                    return false;
                }

                noteHeight = Math.Max(0, Goal - text - Notes);
                _notesSplit = true;
            }

            _tableFoot = foot;
            _height += _depth + above + box.Box.Height;
            _depth = box.Box.Depth;
            Notes += noteHeight;
            _hasBox |= counts;
            column.Items.Add(box);
            return true;
        }

        private void AddTableHead(LongTableRows table)
        {
            foreach (Box head in table.Head)
            {
                column.Items.Add(new BoxItem(head, table.Indent));
                _height += _depth + head.Height;
                _depth = head.Depth;
            }

            _hasBox |= table.Head.Count > 0;
        }

        private bool TakeColumns(ColumnsItem columns, int i)
        {
            double room = Goal - Used;
            double leading = filler.LineDistance;
            if (_hasBox && room < 3 * leading)
            {
                Consider(i, 0);
                Cut();
                return false;
            }

            (BoxItem box, bool all) = BalancedColumns.Set(filler.Context, columns, room, filler.TopSkip, filler);
            column.Items.Add(box);
            _height += _depth + box.Box.Height;
            _depth = box.Box.Depth;
            Notes += box.Notes.Sum(n => n.Height) + (box.Notes.Count > 0 && Notes == 0 ? filler.NoteSkip : 0);
            _hasBox = true;
            if (!all)
            {
                Finish(i, ColumnEnd.Full);
                return false;
            }

            // What stands in columns is placed for good: the page ends after it at the earliest.
            (_bestAt, _bestCount, _bestCost) = (i + 1, column.Items.Count, double.PositiveInfinity);
            return true;
        }

        private void Consider(int index, int penalty)
        {
            double free = Goal - Used - _tableFoot;
            double badness = free >= 0 ? _stretch > 0 ? Math.Min(10_000, 100 * Math.Pow(free / _stretch, 3)) : free < 0.1 ? 0 : 10_000 : 0;
            // Ragged pages may end anywhere; the fuller one wins.
            double cost = filler.Context.Document.FlushBottom ? badness + penalty : (free / Goal * 1000) + penalty;
            if (penalty <= -10_000 || cost <= _bestCost)
            {
                (_bestAt, _bestCount, _bestCost) = (index, column.Items.Count, cost);
            }
        }

        private void Cut()
        {
            foreach (VerticalItem lost in column.Items.Skip(_bestCount))
            {
                if (lost is FloatItem figure)
                {
                    filler.Floats.Wait(figure);
                }
            }

            column.Items = column.Items.GetRange(0, _bestCount);
            AddTableFoot();
            Finish(_bestAt, ColumnEnd.Full);
        }

        private void AddTableFoot()
        {
            if (column.Items.FindLast(p => p is BoxItem) is RowItem { IsLast: false } row)
            {
                column.Items.AddRange(row.Table.Foot.Select(b => new BoxItem(b, row.Table.Indent)));
            }
        }
    }

    private SettingContext Context => context;

    private double TopSkip => topSkip;

    private double LineDistance => context.Document.Leading;
}
