using System.Globalization;
using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Lines;

namespace YoungFolio.Typesetting.Pages;

/// <summary>Parts the vertical flow into pages, with floats, footnotes, heads and feet.</summary>
internal sealed class PageBuilder
{
    private const double FloatSeparation = 14;
    private const double NoteSkip = 9;
    private const int MostPages = 2_000;

    private readonly SettingContext _context;
    private readonly PageGeometry _geometry;
    private readonly ParagraphSetter _lines;
    private readonly Queue<FloatItem> _waiting = new();
    private List<VerticalItem> _items = [];
    private PageStyle _style;
    private PageStyle? _thisPage;
    private PageNumbering _numbering;
    private int _number;
    private bool _unnumbered;
    private IReadOnlyList<Inline> _leftMark = [];
    private IReadOnlyList<Inline> _rightMark = [];

    public PageBuilder(SettingContext context)
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

    public List<OutlineEntry> Outline { get; } = [];

    public List<(string Kind, string Number, string Caption, string Anchor)> Floats { get; } = [];

    public void Build()
    {
        var flow = new FlowSetter(_context, _geometry.TextWidth);
        flow.Set(_context.Document.Blocks);
        _items = flow.Items;
        foreach (Block block in ContentsEntries.Walk(_context.Document.Blocks))
        {
            if (block is HeadingBlock { IsInOutline: true } h)
            {
                Outline.Add(new OutlineEntry(h.Level, h.Number, PlainText.Of(h.ShortTitle), h.Anchor, h.Position));
            }
            else if (block is FloatBlock f)
            {
                Floats.AddRange(f.Captions.Select(c => (c.Kind, c.Number, PlainText.Of(c.Text), c.Anchor)));
            }
        }

        int at = 0;
        while (at < _items.Count || _waiting.Count > 0)
        {
            _context.Cancellation.ThrowIfCancellationRequested();
            if (Pages.Count >= MostPages)
            {
                _context.Findings.Fix("too-many-pages", PositionTable.None, 0, $"The manuscript has more than {MostPages} pages; the rest isn't printed.",
                    "Look for something that repeats without end, or part the manuscript.");
                break;
            }

            int before = at;
            int waiting = _waiting.Count;
            int pages = Pages.Count;
            at = BuildPage(at);
            if (at == before && waiting == _waiting.Count && Pages.Count == pages)
            {
                at++;
            }
        }

        if (Pages.Count == 0)
        {
            Ship([], []);
        }
    }

    // Gathers one page's items from an index; returns the index at which the next page begins.
    private int BuildPage(int start)
    {
        var top = new List<FloatItem>();
        double goal = _geometry.TextHeight;
        double topHeight = 0;
        while (_waiting.Count > 0)
        {
            FloatItem next = _waiting.Peek();
            double needed = next.Height + FloatSeparation;
            // At most 7/10 of a page are floats, unless one alone needs more.
            if (top.Count > 0 && topHeight + needed > 0.7 * goal)
            {
                break;
            }

            top.Add(_waiting.Dequeue());
            topHeight += needed;
            if (topHeight > 0.7 * goal)
            {
                break;
            }
        }

        if (topHeight > 0.7 * goal)
        {
            Ship(top, []);
            return start;
        }

        var page = new List<VerticalItem>();
        double height = topHeight;
        double depth = 0;
        double stretch = 0;
        double shrink = 0;
        double notes = 0;
        bool hasBox = false;
        int bestAt = -1;
        int bestCount = 0;
        double bestCost = double.PositiveInfinity;
        int i = start;
        for (; i < _items.Count; i++)
        {
            VerticalItem item = _items[i];
            switch (item)
            {
                case EjectItem eject:
                    if (!hasBox && top.Count == 0)
                    {
                        if (eject.End != PageEnd.New && _waiting.Count > 0)
                        {
                            return i;
                        }

                        if (eject.End == PageEnd.ClearDouble)
                        {
                            ShipBlankBefore();
                        }

                        continue;
                    }

                    Ship(top, page);
                    return eject.End == PageEnd.New ? i + 1 : i;
                case StyleItem style:
                    if (!hasBox && page.TrueForAll(p => p is StyleItem or MarkItem))
                    {
                        Apply(style.Change);
                    }
                    else
                    {
                        page.Add(item);
                    }

                    continue;
                case MarkItem:
                    page.Add(item);
                    continue;
                case UnnumberedItem:
                    _unnumbered = true;
                    continue;
                case FloatItem { IsPlaced: false } figure:
                    double needed = figure.Height + FloatSeparation;
                    figure.IsPlaced = true;
                    if (_waiting.Count == 0 && height + depth + notes + needed <= goal)
                    {
                        if (figure.Block.Placement.HasFlag(Placement.Here) || !figure.Block.Placement.HasFlag(Placement.Top))
                        {
                            page.Add(figure);
                            hasBox = true;
                            depth = 0;
                        }
                        else
                        {
                            top.Add(figure);
                        }

                        height += needed;
                    }
                    else
                    {
                        _waiting.Enqueue(figure);
                    }

                    continue;
                case FloatItem:
                    continue;
                case PenaltyItem penalty:
                    if (hasBox && penalty.Penalty < 10_000)
                    {
                        Consider(i, penalty.Penalty);
                    }

                    continue;
                case SpaceItem space:
                    if (!hasBox && !space.Stays)
                    {
                        continue;
                    }

                    if (hasBox && i > 0 && _items[i - 1] is BoxItem)
                    {
                        Consider(i, 0);
                    }

                    height += depth + space.Width;
                    depth = 0;
                    stretch += space.Stretch + (space.Infinite * 1e5);
                    shrink += space.Shrink;
                    page.Add(item);
                    continue;
                case BoxItem box:
                    bool counts = box.Box.Height + box.Box.Depth + box.Box.Width > 0;
                    double above = hasBox || !counts ? 0 : Math.Max(0, _geometry.TopSkip - box.Box.Height);
                    double noteHeight = box.Notes.Sum(n => n.Height) + (box.Notes.Count > 0 && notes == 0 ? NoteSkip : 0);
                    if (hasBox && height + depth + above + box.Box.Height + notes + noteHeight - shrink > goal + 0.01 && bestAt >= 0)
                    {
                        return Cut();
                    }

                    height += depth + above + box.Box.Height;
                    depth = box.Box.Depth;
                    notes += noteHeight;
                    hasBox |= counts;
                    page.Add(item);
                    continue;
            }
        }

        if (!hasBox && top.Count == 0 && Pages.Count > 0 && !page.Exists(p => p is SpaceItem { Stays: true }))
        {
            // Nothing is left to print: an end of page at the very end makes none.
            return i;
        }

        Ship(top, page);
        return i;

        void Consider(int index, int penalty)
        {
            double free = goal - height - notes;
            double badness = free >= 0 ? stretch > 0 ? Math.Min(10_000, 100 * Math.Pow(free / stretch, 3)) : free < 0.1 ? 0 : 10_000 : 0;
            // Ragged pages may end anywhere; the fuller one wins.
            double cost = _context.Document.FlushBottom ? badness + penalty : (free / goal * 1000) + penalty;
            if (penalty <= -10_000 || cost <= bestCost)
            {
                (bestAt, bestCount, bestCost) = (index, page.Count, cost);
            }
        }

        int Cut()
        {
            List<VerticalItem> kept = page.GetRange(0, bestCount);
            foreach (VerticalItem lost in page.Skip(bestCount))
            {
                if (lost is FloatItem figure)
                {
                    _waiting.Enqueue(figure);
                }
            }

            Ship(top, kept);
            return bestAt;
        }
    }

    private void Apply(PageStyleBlock change)
    {
        _style = change.Style ?? _style;
        _thisPage = change.ThisPage ?? _thisPage;
        if (change.Numbering is { } numbering)
        {
            _numbering = numbering;
        }

        _number = change.Number ?? _number;
    }

    private void ShipBlankBefore()
    {
        if (_context.Document.TwoSided && _number % 2 == 0)
        {
            PageStyle? next = _thisPage;
            _thisPage = new PageStyle { Name = "empty" };
            Ship([], []);
            _thisPage = next;
        }
    }

    private string Label() => _numbering.Format.Length == 0
        ? ""
        : _numbering.Before + PageFields.Format(_number, _numbering.Format) + _numbering.After;

    // Puts everything in its place and finishes the page.
    private void Ship(List<FloatItem> top, List<VerticalItem> page)
    {
        List<NoteBox> notes = [.. page.OfType<BoxItem>().SelectMany(b => b.Notes)];
        string label = Label();
        var result = new Page { Width = _geometry.PaperWidth, Height = _geometry.PaperHeight, Label = label };
        Pages.Add(result);
        double left = _context.Document.TwoSided && _number % 2 == 0 ? _geometry.EvenLeft : _geometry.OddLeft;
        double y = _geometry.Top;
        foreach (FloatItem figure in top)
        {
            y = PlaceFloat(result, figure, left, y) + FloatSeparation;
        }

        while (page.Count > 0 && page[^1] is SpaceItem { Stays: false, Infinite: 0 })
        {
            page.RemoveAt(page.Count - 1);
        }

        double noteHeight = notes.Count == 0 ? 0 : notes.Sum(n => n.Height) + NoteSkip;
        double foot = _geometry.Top + _geometry.TextHeight;
        double natural = page.Sum(p => p switch
        {
            BoxItem b => b.Box.Height + b.Box.Depth,
            SpaceItem s => s.Width,
            FloatItem f => f.Height + FloatSeparation,
            _ => 0,
        });
        double free = foot - noteHeight - y - natural;
        double infinite = page.OfType<SpaceItem>().Sum(s => s.Infinite);
        double stretch = page.OfType<SpaceItem>().Sum(s => s.Stretch);
        double shrink = page.OfType<SpaceItem>().Sum(s => s.Shrink);
        bool full = free < _geometry.TextHeight * 0.1;
        double ratio = infinite > 0 ? 0
            : free < 0 ? shrink > 0 ? Math.Max(-1, free / shrink) : 0
            : _context.Document.FlushBottom && full && stretch > 0 ? Math.Min(free / stretch, 2) : 0;
        bool first = true;
        double marginFoot = 0;
        IReadOnlyList<Inline>? firstRight = null;
        foreach (VerticalItem item in page)
        {
            switch (item)
            {
                case MarkItem mark:
                    // The right mark is the page's first, the left one its last (Lamport, section C.5.3, from memory).
                    _leftMark = mark.Mark.Left ?? _leftMark;
                    if (mark.Mark.Right is { } right)
                    {
                        firstRight ??= right.Count > 0 ? right : null;
                        _rightMark = right;
                    }

                    break;
                case BoxItem box:
                    bool counts = box.Box.Height + box.Box.Depth + box.Box.Width > 0;
                    if (first && counts && top.Count == 0 && page[0] is not SpaceItem)
                    {
                        y += Math.Max(0, _geometry.TopSkip - box.Box.Height);
                    }

                    first &= !counts;
                    y += box.Box.Height;
                    Place(result, box.Box, left + box.Indent, y);
                    marginFoot = PlaceMarginNotes(result, box, left, y, marginFoot);
                    y += box.Box.Depth;
                    break;
                case SpaceItem space:
                    y += space.Width + (ratio >= 0 ? ratio * space.Stretch : ratio * space.Shrink)
                        + (infinite > 0 && free > 0 ? free * space.Infinite / infinite : 0);
                    break;
                case FloatItem figure:
                    y = PlaceFloat(result, figure, left, y + (FloatSeparation / 2)) + (FloatSeparation / 2);
                    first = false;
                    break;
                case StyleItem style:
                    Apply(style.Change);
                    break;
            }
        }

        PlaceNotes(result, notes, left, foot - noteHeight);
        var fields = new PageFields(label, _number, _leftMark, firstRight ?? _rightMark);
        PlaceHeadAndFoot(result, left, fields);
        _number++;
        _thisPage = null;
        _unnumbered = false;
    }

    private void PlaceNotes(Page page, List<NoteBox> notes, double left, double y)
    {
        if (notes.Count == 0)
        {
            return;
        }

        page.Marks.Add(new Placed(new RuleMark(_geometry.TextWidth * 0.4, 0.4), left, y + 3));
        y += NoteSkip;
        foreach (NoteBox note in notes)
        {
            foreach (Line line in note.Lines)
            {
                Place(page, line.Box, left, y + (note.Leading * 0.74));
                y += note.Leading;
            }
        }
    }

    private double PlaceFloat(Page page, FloatItem figure, double left, double y)
    {
        foreach (VerticalItem item in figure.Content)
        {
            switch (item)
            {
                case BoxItem box:
                    y += box.Box.Height;
                    Place(page, box.Box, left + box.Indent, y);
                    y += box.Box.Depth;
                    break;
                case SpaceItem space:
                    y += space.Width;
                    break;
            }
        }

        return y;
    }

    private double PlaceMarginNotes(Page page, BoxItem line, double left, double y, double foot)
    {
        bool leftSide = _context.Document.TwoSided && _number % 2 == 0;
        foreach (Box note in line.MarginNotes)
        {
            // A note moves down when the one above it reaches so far.
            double baseline = Math.Max(y, foot + note.Height);
            double x = leftSide ? left - _geometry.MarginSeparation - note.Width : left + _geometry.TextWidth + _geometry.MarginSeparation;
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

        bool even = _context.Document.TwoSided && _number % 2 == 0;
        double head = _geometry.Top - _geometry.HeadSeparation;
        double foot = _geometry.Top + _geometry.TextHeight + _geometry.FootSkip;
        _context.Page = fields;
        PlaceLine(page, even ? style.EvenHead : style.OddHead, left, head);
        PlaceLine(page, even ? style.EvenFoot : style.OddFoot, left, foot);
        _context.Page = null;
        if (style.HeadRule > 0)
        {
            page.Marks.Add(new Placed(new RuleMark(_geometry.TextWidth, style.HeadRule), left, head + 5));
        }

        if (style.FootRule > 0)
        {
            page.Marks.Add(new Placed(new RuleMark(_geometry.TextWidth, style.FootRule), left, foot - _context.Document.Leading));
        }
    }

    private void PlaceLine(Page page, PageLine line, double left, double y)
    {
        foreach ((IReadOnlyList<Inline> content, double share) in (ReadOnlySpan<(IReadOnlyList<Inline>, double)>)[(line.Left, 0), (line.Centre, 0.5), (line.Right, 1)])
        {
            if (content.Count > 0)
            {
                Box box = _lines.SetBox(content);
                Place(page, box, left + ((_geometry.TextWidth - box.Width) * share), y);
            }
        }
    }

    private void Place(Page page, Box box, double x, double y)
    {
        foreach (Placed placed in box.Marks)
        {
            page.Marks.Add(new Placed(placed.Mark, x + placed.X, y - placed.Y));
            if (placed.Mark is AnchorMark anchor)
            {
                Anchors.TryAdd(anchor.Name, new AnchorPlace(Pages.Count, page.Label, y - placed.Y, _number));
            }
        }
    }
}
