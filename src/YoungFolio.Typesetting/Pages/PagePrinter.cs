using YoungFolio.Documents;
using YoungFolio.Typesetting.Lines;

namespace YoungFolio.Typesetting.Pages;

/// <summary>Puts filled columns on pages, with their numbers, heads, feet and notes.</summary>
internal sealed class PagePrinter
{
    private readonly SettingContext _context;
    private readonly ParagraphSetter _lines;
    private PageGeometry _geometry;
    private PageStyle _style;
    private PageStyle? _thisPage;
    private PageNumbering _numbering;
    private int _number;
    private bool _unnumbered;
    private readonly List<PageOverlay> _overlays = [];
    private IReadOnlyList<Inline> _leftMark = [];
    private IReadOnlyList<Inline> _rightMark = [];
    private IReadOnlyList<Inline>? _firstRight;

    public PagePrinter(SettingContext context)
    {
        _context = context;
        _geometry = context.Document.Geometry;
        _style = context.Document.PageStyle;
        _numbering = context.Document.Numbering;
        _number = context.Document.FirstPage;
        _lines = new ParagraphSetter(context);
    }

    public List<Page> Pages { get; } = [];

    public Dictionary<string, AnchorPlace> Anchors { get; } = new(StringComparer.Ordinal);

    private bool IsLeftHand => _context.Document.TwoSided && _number % 2 == 0;

    /// <summary>Changes style or numbering from this page on.</summary>
    public void Apply(PageStyleBlock change)
    {
        ApplyStyle(change);
        ApplyNumber(change);
    }

    private void ApplyStyle(PageStyleBlock change)
    {
        _style = change.Style ?? _style;
        _thisPage = change.ThisPage ?? _thisPage;
        _overlays.RemoveAll(o => change.EndsOverlays && o.IsOnEachPage);
        _overlays.AddRange(change.Overlays);
    }

    private void ApplyNumber(PageStyleBlock change)
    {
        _numbering = change.Numbering ?? _numbering;
        _number = change.Number ?? _number;
    }

    /// <summary>Leaves this page's number away.</summary>
    public void HideNumber() => _unnumbered = true;

    /// <summary>Prints an empty left-hand page when the next page must be a right-hand one.</summary>
    public void PrintBlankBefore(PageGeometry geometry)
    {
        if (IsLeftHand)
        {
            PageStyle? next = _thisPage;
            _thisPage = new PageStyle { Name = "empty" };
            Print(geometry, [], []);
            _thisPage = next;
        }
    }

    /// <summary>Keeps marks and styles of columns that make no page.</summary>
    public void TakeMarks(IEnumerable<Column> columns)
    {
        foreach (VerticalItem item in columns.SelectMany(c => c.Items))
        {
            TakeMark(item);
            if (item is StyleItem style)
            {
                ApplyNumber(style.Change);
            }
        }

        _firstRight = null;
    }

    /// <summary>Prints a page.</summary>
    /// <param name="geometry">Its measures.</param>
    /// <param name="across">What stands over all columns at its top.</param>
    /// <param name="columns">Its columns.</param>
    public void Print(PageGeometry geometry, IReadOnlyList<VerticalItem> across, IReadOnlyList<Column> columns)
    {
        _geometry = geometry;
        // A page has the number that is said anywhere on it, since it is numbered when it is whole; what is said behind all that it shows is meant
        // for the next one.
        List<VerticalItem> items = [.. across, .. columns.SelectMany(c => c.Top.Concat(c.Items))];
        int last = items.FindLastIndex(Column.IsSeen);
        foreach (StyleItem style in items.Take(last).OfType<StyleItem>())
        {
            ApplyNumber(style.Change);
        }

        string label = Label();
        var page = new Page { Width = geometry.PaperWidth, Height = geometry.PaperHeight, Label = label };
        Pages.Add(page);
        double left = IsLeftHand ? geometry.EvenLeft : geometry.OddLeft;
        double top = PlaceAll(page, across, left, geometry.Top);
        for (int c = 0; c < columns.Count; c++)
        {
            double x = left + (c * (geometry.ColumnWidth + geometry.ColumnSeparation));
            if (c > 0 && geometry.ColumnRule > 0)
            {
                double middle = x - (geometry.ColumnSeparation / 2) - (geometry.ColumnRule / 2);
                page.Marks.Add(new Placed(new RuleMark(geometry.ColumnRule, geometry.Top + geometry.TextHeight - top), middle, geometry.Top + geometry.TextHeight));
            }

            PrintColumn(page, columns[c], x, top, c, columns.Count);
        }

        var fields = new PageFields(label, _number, _leftMark, _firstRight ?? _rightMark);
        _firstRight = null;
        PlaceHeadAndFoot(page, left, fields);
        PlaceOverlays(page, fields);
        _number++;
        foreach (StyleItem style in items.Skip(last + 1).OfType<StyleItem>())
        {
            ApplyNumber(style.Change);
        }

        _thisPage = null;
        _unnumbered = false;
    }

    private string Label() => _numbering.Format.Length == 0
        ? ""
        : _numbering.Before + PageFields.Format(_number, _numbering.Format) + _numbering.After;

    private void PrintColumn(Page page, Column column, double left, double top, int index, int columns)
    {
        double y = top;
        FloatRules rules = _context.Document.FloatRules;
        (double edge, double between) = (0, rules.Separation);
        if (column.HasOnlyFloats)
        {
            (edge, between) = FloatQueue.Spread(column.Goal - ColumnFiller.NotesHeight(_context, column.Notes) - column.Top.Sum(f => f.Height), column.Top.Count);
        }

        y += edge;
        for (int i = 0; i < column.Top.Count; i++)
        {
            y = PlaceAll(page, column.Top[i].Content, left, y) + (i < column.Top.Count - 1 ? between : rules.TextSeparation);
        }

        List<VerticalItem> items = column.Items;
        while (items.Count > 0 && items[^1] is SpaceItem { Stays: false, Infinite: 0 })
        {
            items.RemoveAt(items.Count - 1);
        }

        double foot = top + column.Goal;
        double notes = ColumnFiller.NotesHeight(_context, column.Notes);
        double bottom = column.Bottom.Sum(f => f.Height) + rules.SpaceOf(column.Bottom.Count);
        (double ratio, double infinite, double free) = Stretch(items, foot - notes - bottom - y, notes > 0 ? ColumnFiller.MostDepthAboveNotes : ColumnFiller.MostDepth, column.End);
        y = PlaceItems(page, column, left, y, ratio, infinite, free, index, columns);
        // Floats at the foot stand above the notes.
        double at = foot - notes - bottom;
        for (int i = 0; i < column.Bottom.Count; i++)
        {
            at = PlaceAll(page, column.Bottom[i].Content, left, at + rules.SpaceFor(i));
        }

        PlaceNotes(page, column.Notes, left, foot - notes);
    }

    // How far spaces grow or shrink so that the column ends at its foot.
    private (double Ratio, double Infinite, double Free) Stretch(List<VerticalItem> items, double room, double mostDepth, ColumnEnd end)
    {
        double natural = 0;
        double depth = 0;
        bool first = true;
        foreach (VerticalItem item in items)
        {
            switch (item)
            {
                case BoxItem b:
                    bool counts = b.Box.Height + b.Box.Depth + b.Box.Width > 0;
                    natural += depth + b.Box.Height + (first && counts ? Math.Max(0, _geometry.TopSkip - b.Box.Height) : 0);
                    first &= !counts;
                    depth = b.Box.Depth;
                    break;
                case SpaceItem s:
                    natural += depth + s.Width;
                    depth = 0;
                    break;
                case FloatItem f:
                    natural += depth + f.Height + (2 * _context.Document.FloatRules.InTextSeparation);
                    depth = 0;
                    first = false;
                    break;
            }
        }

        double free = room - natural - Math.Max(0, depth - mostDepth);
        double infinite = items.OfType<SpaceItem>().Sum(s => s.Infinite);
        double stretch = items.OfType<SpaceItem>().Sum(s => s.Stretch);
        double shrink = items.OfType<SpaceItem>().Sum(s => s.Shrink);
        double ratio = infinite > 0 ? 0
            : free < 0 ? shrink > 0 ? Math.Max(-1, free / shrink) : 0
            : _context.Document.FlushBottom && end == ColumnEnd.Full && free < _geometry.TextHeight * 0.1 && stretch > 0 ? Math.Min(free / stretch, 3) : 0;
        return (ratio, infinite, free);
    }

    private double PlaceItems(Page page, Column column, double left, double y, double ratio, double infinite, double free, int index, int columns)
    {
        bool first = true;
        double marginFoot = 0;
        foreach (VerticalItem item in column.Items)
        {
            switch (item)
            {
                case BoxItem box:
                    bool counts = box.Box.Height + box.Box.Depth + box.Box.Width > 0;
                    if (first && counts && column.Top.Count == 0 && column.Items[0] is not SpaceItem)
                    {
                        y += Math.Max(0, _geometry.TopSkip - box.Box.Height);
                    }

                    first &= !counts;
                    y += box.Box.Height;
                    Place(page, box.Box, left + box.Indent, y, box.Base);
                    marginFoot = PlaceMarginNotes(page, box, left, y, marginFoot, index, columns);
                    y += box.Box.Depth;
                    break;
                case SpaceItem space:
                    y += space.Width + (ratio >= 0 ? ratio * space.Stretch : ratio * space.Shrink)
                        + (infinite > 0 && free > 0 ? free * space.Infinite / infinite : 0);
                    break;
                case FloatItem figure:
                    y = PlaceAll(page, figure.Content, left, y + _context.Document.FloatRules.InTextSeparation) + _context.Document.FloatRules.InTextSeparation;
                    first = false;
                    break;
                default:
                    TakeMark(item);
                    break;
            }
        }

        return y;
    }

    /// <summary>Keeps a change of marks or style.</summary>
    public void TakeMark(VerticalItem item)
    {
        switch (item)
        {
            case MarkItem mark:
                // The right mark is the page's first, the left one its last (Lamport, section C.5.3, from memory).
                _leftMark = mark.Mark.Left ?? _leftMark;
                if (mark.Mark.Right is { } right)
                {
                    _firstRight ??= right.Count > 0 ? right : null;
                    _rightMark = right;
                }

                break;
            case StyleItem style:
                ApplyStyle(style.Change);
                break;
            case UnnumberedItem:
                _unnumbered = true;
                break;
        }
    }

    private void PlaceNotes(Page page, List<NoteLine> notes, double left, double y)
    {
        if (notes.Count == 0)
        {
            return;
        }

        if (_context.Document.HasNoteRule)
        {
            page.Marks.Add(new Placed(new RuleMark(_geometry.ColumnWidth * 0.4, 0.4), left, y + _context.Document.NoteSkip - 3));
        }

        y += _context.Document.NoteSkip;
        foreach (NoteLine note in notes)
        {
            Place(page, note.Box, left + note.Indent, y + note.Baseline, note.Base);
            y += note.Extent;
        }
    }

    private double PlaceAll(Page page, IReadOnlyList<VerticalItem> content, double left, double y)
    {
        foreach (VerticalItem item in content)
        {
            switch (item)
            {
                case BoxItem box:
                    y += box.Box.Height;
                    Place(page, box.Box, left + box.Indent, y, box.Base);
                    y += box.Box.Depth;
                    break;
                case SpaceItem space:
                    y += space.Width;
                    break;
            }
        }

        return y;
    }

    // In the outer margin; beside two columns each note stands on its column's side.
    private double PlaceMarginNotes(Page page, BoxItem line, double left, double y, double foot, int index, int columns)
    {
        bool leftSide = columns > 1 ? index == 0 : IsLeftHand;
        foreach (Box note in line.MarginNotes)
        {
            // A note moves down when the one above it reaches so far.
            double baseline = Math.Max(y, foot + note.Height);
            double x = leftSide ? left - _geometry.MarginSeparation - note.Width : left + _geometry.ColumnWidth + _geometry.MarginSeparation;
            Place(page, note, x, baseline);
            foot = baseline + note.Depth + 4;
        }

        return foot;
    }

    private void PlaceHeadAndFoot(Page page, double left, PageFields fields)
    {
        PageStyle? style = _thisPage ?? (_unnumbered ? null : _style);
        if (style is null)
        {
            return;
        }

        bool even = _number % 2 == 0;
        PageLine headLine = even ? style.EvenHead : style.OddHead;
        PageLine footLine = even ? style.EvenFoot : style.OddFoot;
        double head = _geometry.Top - _geometry.HeadSeparation;
        double foot = _geometry.Top + _geometry.TextHeight + _geometry.FootSkip;
        _context.Page = fields;
        PlaceLine(page, headLine, left, head);
        PlaceLine(page, footLine, left, foot);
        _context.Page = null;
        if (style.HeadRule > 0)
        {
            page.Marks.Add(new Placed(new RuleMark(WidthOf(headLine), style.HeadRule), left - headLine.ReachLeft, head + 5));
        }

        if (style.FootRule > 0)
        {
            page.Marks.Add(new Placed(new RuleMark(WidthOf(footLine), style.FootRule), left - footLine.ReachLeft, foot - _context.Document.Leading));
        }
    }

    private void PlaceOverlays(Page page, PageFields fields)
    {
        if (_overlays.Count == 0)
        {
            return;
        }

        _context.Page = fields;
        List<Placed> text = [.. page.Marks];
        page.Marks.Clear();
        foreach (PageOverlay overlay in _overlays.Where(o => o.IsBehind))
        {
            Place(page, overlay);
        }

        page.Marks.AddRange(text);
        foreach (PageOverlay overlay in _overlays.Where(o => !o.IsBehind))
        {
            Place(page, overlay);
        }

        _context.Page = null;
        _overlays.RemoveAll(o => !o.IsOnEachPage);
    }

    private void Place(Page page, PageOverlay overlay)
    {
        Box box = _lines.SetBox(overlay.Content);
        _context.Own(box, overlay);
        double y = overlay.Down is { } down ? overlay.Y + box.Height - (down * (box.Height + box.Depth)) : overlay.Y;
        Place(page, overlay.IsOnEachPage ? box.OwnedBy(null) : box, overlay.X - (overlay.Across * box.Width), y);
    }

    private double WidthOf(PageLine line) => _geometry.TextWidth + line.ReachLeft + line.ReachRight;

    private void PlaceLine(Page page, PageLine line, double left, double y)
    {
        foreach ((IReadOnlyList<Inline> content, double share) in (ReadOnlySpan<(IReadOnlyList<Inline>, double)>)[(line.Left, 0), (line.Centre, 0.5), (line.Right, 1)])
        {
            if (content.Count > 0)
            {
                Box box = _lines.SetBox(content);
                if (_context.Tagging is not null)
                {
                    // Whatever else stands in it: it belongs to the page, not to the text.
                    box = box.OwnedBy(line);
                }

                Place(page, box, left - line.ReachLeft + ((WidthOf(line) - box.Width) * share), y);
            }
        }
    }

    private void Place(Page page, Box box, double x, double y, int origin = 0)
    {
        foreach (Placed placed in box.Marks)
        {
            _context.Budget.Check();
            page.Marks.Add(placed with { X = x + placed.X, Y = y - placed.Y, Base = placed.Base + origin });
            if (placed.Mark is AnchorMark anchor)
            {
                Anchors.TryAdd(anchor.Name, new AnchorPlace(Pages.Count, page.Label, y - placed.Y, _number));
            }
        }
    }
}
