using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Typesetting.Pages;

/// <summary>Parts the vertical flow into pages and their columns.</summary>
internal sealed class PageBuilder
{
    private const int MostPages = 2_000;

    private readonly SettingContext _context;
    private readonly PagePrinter _printer;
    private List<VerticalItem> _items = [];
    private PageGeometry _geometry;
    private ColumnFiller _filler;
    private bool _isFirstColumn;

    public PageBuilder(SettingContext context)
    {
        _context = context;
        _geometry = context.Document.Geometry;
        _printer = new PagePrinter(context);
        _filler = NewFiller();
    }

    public List<Page> Pages => _printer.Pages;

    public Dictionary<string, AnchorPlace> Anchors => _printer.Anchors;

    public List<OutlineEntry> Outline { get; } = [];

    public List<(string Kind, string Number, string Caption, string Anchor)> Floats { get; } = [];

    public List<IndexEntry> Index { get; } = [];

    public List<LoneLine> LoneLines { get; } = [];

    private ColumnFiller NewFiller() => new(_context, _geometry.TopSkip) { Leading = TakeLeading };

    public void Build()
    {
        var flow = new FlowSetter(_context, _geometry);
        IsCut = !flow.SetAll(_context.Document.Blocks);
        _items = flow.Items;
        GatherOutline();
        try
        {
            _context.Budget.Begin(WorkBudget.Typesetting, WorkBudget.PagesUntil);
            BuildPages();
        }
        catch (WorkLimitException)
        {
            IsCut = true;
            _context.Findings.Fix("too-slow", PositionTable.None, 0, $"The pages take longer to make than the compiler allows; those after page {Pages.Count} aren't printed.",
                "Look for something that repeats without end, or part the manuscript.");
        }

        if (Pages.Count == 0)
        {
            _printer.Print(_geometry, [], []);
        }
    }

    /// <summary>Whether a limit cut the pages short.</summary>
    public bool IsCut { get; private set; }

    private void BuildPages()
    {
        int at = 0;
        while (at < _items.Count || _filler.WaitingCount > 0)
        {
            _context.Budget.Spend();
            if (Pages.Count >= MostPages)
            {
                _context.Findings.Fix("too-many-pages", PositionTable.None, 0, $"The manuscript has more than {MostPages} pages; the rest isn't printed.",
                    "Look for something that repeats without end, or part the manuscript.");
                break;
            }

            int before = at;
            int waiting = _filler.WaitingCount;
            int pages = Pages.Count;
            at = BuildPage(at);
            if (at == before && waiting == _filler.WaitingCount && Pages.Count == pages)
            {
                at++;
            }
        }
    }

    private void GatherOutline()
    {
        foreach (Block block in NodeWalk.Flow(_context.Document.Blocks))
        {
            if (block is HeadingBlock { IsInOutline: true } h)
            {
                Outline.Add(new OutlineEntry(h.Level, h.Number, PlainText.Of(h.ShortTitle), h.Anchor, h.Position));
            }
            else if (block is IndexBlock index)
            {
                AddIndex(index);
            }
            else
            {
                Floats.AddRange(Caption.Of(block).Select(c => (c.Kind, c.Number, PlainText.Of(c.Text), c.Anchor)));
            }
        }
    }

    // One that is too large to be set isn't listed either; setting it has said so.
    private void AddIndex(IndexBlock index)
    {
        _context.Budget.BeginBlock();
        try
        {
            Index.AddRange(IndexEntries.ListOf(_context, index));
        }
        catch (WorkLimitException)
        {
            Index.Clear();
        }
    }

    // Fills one page from an index; returns the index at which the next page begins.
    private int BuildPage(int at)
    {
        at = TakeGeometry(at);
        var across = new List<VerticalItem>();
        double goal = _geometry.TextHeight;
        double used = TakeWide(across, ColumnFiller.WantsFloatsOut(_items, at), out bool isPage);
        if (isPage)
        {
            _printer.Print(_geometry, across, []);
            return at;
        }

        if (At(at) is SpanningItem top)
        {
            across.AddRange(top.Content);
            _filler.Carry(top.Content.OfType<BoxItem>().SelectMany(b => b.Notes));
            used += top.Height;
            at = Next(at);
        }

        var columns = new List<Column>();
        for (int c = 0; c < _geometry.Columns; c++)
        {
            _isFirstColumn = c == 0;
            Column column = _filler.Fill(_items, at, Math.Max(_context.Document.Leading, goal - used), used == 0);
            columns.Add(column);
            at = column.Next;
            if (column.End is ColumnEnd.Page or ColumnEnd.Flow)
            {
                break;
            }
        }

        // A change of measures, or floats that wait, end an empty page without printing it.
        if (across.Count == 0 && columns.TrueForAll(c => c.IsEmpty) && (columns[^1].End == ColumnEnd.Page || (columns[^1].End == ColumnEnd.Flow && Pages.Count > 0)))
        {
            _printer.TakeMarks(columns);
            return at;
        }

        _printer.Print(_geometry, across, columns);
        LoneLines.AddRange(Typesetting.Pages.LoneLines.On(Pages.Count, columns));
        return at;
    }

    private VerticalItem? At(int index)
    {
        int at = Skip(index);
        return at < _items.Count ? _items[at] : null;
    }

    // Spaces, costs and page ends before what opens a page have no effect on it.
    private int Skip(int index)
    {
        int at = index;
        while (at < _items.Count && _items[at] is SpaceItem { Stays: false } or PenaltyItem or EjectItem { End: not PageEnd.ClearDouble })
        {
            at++;
        }

        return at < _items.Count && _items[at] is GeometryItem or SpanningItem ? at : index;
    }

    private int Next(int index) => Skip(index) + 1;

    private bool LeadsToMeasures(int index)
    {
        while (index < _items.Count && _items[index] is StyleItem or UnnumberedItem or MarkItem or PenaltyItem or SpaceItem { Stays: false } or EjectItem { End: not PageEnd.ClearDouble })
        {
            index++;
        }

        return index < _items.Count && _items[index] is GeometryItem or SpanningItem;
    }

    private int TakeGeometry(int at)
    {
        // What changes style or marks before them doesn't keep new measures from the page.
        while (at < _items.Count && At(at) is not (GeometryItem or SpanningItem) && _items[at] is StyleItem or UnnumberedItem or MarkItem && LeadsToMeasures(at))
        {
            if (_items[at] is MarkItem)
            {
                _printer.TakeMark(_items[at]);
            }
            else
            {
                TakeLeading(_items[at]);
            }

            at++;
        }

        while (_filler.WaitingCount == 0 && At(at) is GeometryItem change)
        {
            _geometry = change.Geometry;
            _filler = NewFiller();
            at = Next(at);
        }

        return at;
    }

    // Returns the height that they take, with the space below.
    private double TakeWide(List<VerticalItem> across, bool all, out bool isPage)
    {
        FloatRules rules = _context.Document.FloatRules;
        List<FloatItem> floats = _filler.Floats.TakeWide(_geometry.TextHeight, all, out isPage);
        if (floats.Count == 0)
        {
            return 0;
        }

        double height = floats.Sum(f => f.Height);
        (double edge, double between) = isPage ? FloatQueue.Spread(_geometry.TextHeight - height, floats.Count) : (0, rules.WideSeparation);
        across.Add(new SpaceItem(edge, 0, 0, 0, true));
        foreach (FloatItem figure in floats)
        {
            _filler.Carry(figure.Notes);
            across.AddRange(figure.Content);
            across.Add(new SpaceItem(figure == floats[^1] ? rules.WideSeparation : between, 0, 0, 0, true));
        }

        return height + ((floats.Count - 1) * between) + rules.WideSeparation;
    }

    private void TakeLeading(VerticalItem item)
    {
        switch (item)
        {
            case StyleItem style:
                _printer.Apply(style.Change);
                break;
            case UnnumberedItem:
                _printer.HideNumber();
                break;
            case EjectItem { End: PageEnd.ClearDouble } when _isFirstColumn:
                _printer.PrintBlankBefore(_geometry);
                break;
        }
    }
}
