using YoungFolio.Documents;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Formulas;
using YoungFolio.Typesetting.Lines;
using YoungFolio.Typesetting.Tables;

namespace YoungFolio.Typesetting.Pages;

/// <summary>Turns blocks into the vertical flow: lines, spaces and costs of page ends.</summary>
internal sealed partial class FlowSetter
{
    // A note is a paragraph with a mark in a box, and waits on its page: as measured, some 30 kB until its page is made.
    private const int UnitsOfNote = 250;

    private readonly SettingContext _context;
    private readonly ParagraphSetter _lines;
    private readonly MathSetter _mathematics;
    private readonly ContentKey _key;
    private double _previousDepth = double.NaN;

    public FlowSetter(SettingContext context, PageGeometry geometry)
        : this(context, geometry.ColumnWidth) => _geometry = geometry;

    private FlowSetter(SettingContext context, double measure)
    {
        _context = context;
        _geometry = context.Document.Geometry;
        Measure = measure;
        _lines = new ParagraphSetter(context);
        _mathematics = new MathSetter(context);
        _key = new ContentKey(context);
    }

    public List<VerticalItem> Items { get; private set; } = [];

    private PageGeometry _geometry;

    private double Measure { get; set; }

    // Only the document's own flow has its lines numbered: not what floats, and not what stands in boxes.
    private LineNumbers? _numbers;

    /// <summary>Sets blocks as a flow of their own, of a measure in points.</summary>
    public static List<VerticalItem> SetApart(SettingContext context, IReadOnlyList<Block> blocks, double measure)
    {
        var flow = new FlowSetter(context, measure);
        flow.Set(blocks);
        return flow.Items;
    }

    /// <summary>Sets the blocks of the document. One that is too large is left out, and said; when there is no room or time left the flow ends.</summary>
    /// <returns>Whether all blocks had their turn.</returns>
    public bool SetAll(IReadOnlyList<Block> blocks)
    {
        _numbers = new LineNumbers(_lines, Measure);
        foreach (Block block in blocks)
        {
            int items = Items.Count;
            _context.Budget.BeginBlock();
            try
            {
                Set(block);
            }
            catch (WorkLimitException e)
            {
                Items.RemoveRange(items, Items.Count - items);
                int position = PlainText.FirstPosition(block);
                if (e.Limit == WorkLimit.Block)
                {
                    _context.Findings.Fix("too-large", position, 1, "What stands here is larger than the compiler can set as one, and was left out.",
                        "Break it into smaller parts, or look for something that repeats without end. Nothing of the source is lost.");
                    continue;
                }

                _context.Findings.Fix(e.Limit == WorkLimit.Time ? "too-slow" : "too-large", position, 1,
                    e.Limit == WorkLimit.Time ? "Setting the manuscript takes longer than the compiler allows; from here on it isn't printed." : "The manuscript is larger than the compiler takes; from here on it isn't printed.",
                    "Look for something that repeats without end, or part the manuscript. Nothing of the source is lost.");
                return false;
            }
        }

        return true;
    }

    private void Set(IReadOnlyList<Block> blocks)
    {
        foreach (Block block in blocks)
        {
            _context.Budget.Spend();
            Set(block);
        }
    }

    private void Set(Block block)
    {
        int first = Items.Count;
        Place(block);
        // What blocks inside it own already stays theirs.
        for (int i = first; i < Items.Count && _context.Tagging is not null; i++)
        {
            (Items[i] as BoxItem)?.Box.Own(block);
        }
    }

    private void SetMade(Block owner, List<Block> made)
    {
        made.ForEach(m => _context.Tagging?.Add(owner, m));
        Set(made);
    }

    private void Place(Block block)
    {
        switch (block)
        {
            case ParagraphBlock paragraph:
                AddParagraph(paragraph);
                break;
            case HeadingBlock heading:
                AddHeading(heading);
                break;
            case GroupBlock group:
                AddSpaceOnce(group.SpaceAround);
                Set(group.Content);
                AddSpaceOnce(group.SpaceAround);
                break;
            case DisplayBlock display:
                AddDisplay(display);
                break;
            case FloatBlock figure:
                AddFloat(figure);
                break;
            case WrapBlock wrap:
                AddWrap(wrap);
                break;
            case ContentsBlock contents:
                SetMade(contents, ContentsEntries.Of(_context, contents));
                break;
            case ContentsInsertBlock or ListedCaptionBlock:
                break;
            case SpaceBlock space:
                AddGlue(space.Glue, space.Stays);
                break;
            case PenaltyBlock penalty:
                Items.Add(new PenaltyItem(penalty.Penalty));
                break;
            case PageBreakBlock end:
                Items.Add(new EjectItem(end.End));
                _previousDepth = double.NaN;
                break;
            case PageStyleBlock change:
                Items.Add(new StyleItem(change));
                if (change.TextOverlays().Any())
                {
                    // It makes a page, even of its own.
                    Items.Add(new SpaceItem(0, 0, 0, 0, true));
                }

                break;
            case MarkBlock mark:
                Items.Add(new MarkItem(mark));
                break;
            case IndexBlock index:
                SetMade(index, IndexEntries.Of(_context, index));
                break;
            case ColumnsBlock columns:
                AddColumns(columns);
                break;
            case LongTableBlock table:
                AddLongTable(table);
                break;
            case GeometryBlock change:
                _geometry = change.Geometry;
                Measure = _geometry.ColumnWidth;
                Items.Add(new GeometryItem(_geometry));
                _previousDepth = double.NaN;
                break;
            case SpanningBlock across:
                List<VerticalItem> content = SetApart(_context, across.Content, _geometry.TextWidth);
                Items.Insert(PageTop(), new SpanningItem(content, HeightOf(content)));
                _previousDepth = double.NaN;
                break;
            case PageOpeningBlock:
                Items.Add(new OpeningItem());
                break;
            case FloatBarrierBlock:
                Items.Add(new BarrierItem());
                break;
            case EnlargeBlock enlarge:
                Items.Add(new EnlargeItem(enlarge.By));
                break;
            case AnchorBlock anchor:
                AddAnchor(anchor.Name);
                break;
            case NotesBlock below:
                var carrier = new BoxItem(new Box(), 0);
                carrier.Notes.AddRange(SetNotes(below.Notes) ?? []);
                Items.Add(carrier);
                break;
            case TitlePageBlock title:
                Items.Add(new EjectItem(PageEnd.Clear));
                Items.Add(new UnnumberedItem());
                _previousDepth = double.NaN;
                Set(title.Content);
                Items.Add(new EjectItem(PageEnd.Clear));
                _previousDepth = double.NaN;
                break;
        }
    }

    // Where a page begins whose text hasn't: marks of places, such as a label before the title, keep nothing from its top.
    private int PageTop()
    {
        int at = Items.Count;
        int first = at;
        while (at > 0 && Items[at - 1] is StyleItem or MarkItem or PenaltyItem or SpaceItem { Stays: false } or BoxItem { Box: { Width: 0, Height: 0, Depth: 0 }, Notes.Count: 0 })
        {
            at--;
            first = Items[at] is BoxItem ? at : first;
        }

        return at == 0 || Items[at - 1] is EjectItem ? first : Items.Count;
    }

    private void AddAnchor(string name)
    {
        var box = new Box();
        box.Marks.Add(new Placed(new AnchorMark(name), 0, 0));
        bool belowHeading = IsBelowHeading;
        Items.Add(new BoxItem(box, 0));
        _headingEnd = belowHeading ? Items.Count : _headingEnd;
    }

    private void AddGlue(Glue glue, bool stays = false)
    {
        if (glue == default && !stays)
        {
            return;
        }

        double infinite = Infinite(glue.Stretch, glue.StretchOrder);
        Items.Add(new SpaceItem(glue.Width.Points, glue.StretchOrder == 0 ? glue.Stretch.Points : 0,
            glue.ShrinkOrder == 0 ? glue.Shrink.Points : 0, infinite, stays, Infinite(glue.Shrink, glue.ShrinkOrder)));
    }

    // In fil: one of a higher order outweighs those of the lower ones.
    private static double Infinite(Dimension part, int order) => order switch { 0 => 0, 1 => part.Points, _ => part.Points * 1000 };

    // Spaces around headings, lists and their like don't add up: the larger one holds (\addvspace), and right below a heading
    // there is only the heading's own (the kernel's \if@nobreak).
    private void AddSpaceOnce(Glue glue)
    {
        if (IsBelowHeading)
        {
            return;
        }

        if (Items is [.., SpaceItem { Stays: false, Infinite: 0, Width: > 0 } last] && glue.StretchOrder == 0)
        {
            if (last.Width >= glue.Width.Points)
            {
                return;
            }

            Items.RemoveAt(Items.Count - 1);
        }

        AddGlue(glue);
    }

    private bool IsBelowHeading => _headingEnd > 0 && Items.Count == _headingEnd;

    // Where the items of the last heading end.
    private int _headingEnd;

    // Baselines stand one leading apart, unless the lines would touch; where there is none, the lines touch (The TeXbook, p. 80).
    private void AddBox(Box box, double indent, double leading, List<NoteBox>? notes = null, int origin = 0)
    {
        _context.Budget.Spend(3);
        if (!double.IsNaN(_previousDepth))
        {
            double gap = leading - _previousDepth - box.Height;
            Items.Add(new SpaceItem(leading <= ParagraphStyle.NoLeading ? 0 : gap < 0 ? 1 : gap, 0, 0, 0, false));
        }

        var item = new BoxItem(box, indent) { Base = origin };
        if (notes is not null)
        {
            item.Notes.AddRange(notes);
        }

        Items.Add(item);
        _previousDepth = box.Depth;
    }

    private void AddParagraph(ParagraphBlock paragraph)
    {
        AddGlue(paragraph.Style.SpaceAbove);
        int beside = _wrap?.Lines ?? 0;
        List<Line> lines = _lines.Set(Beside(paragraph), Measure);
        for (int i = 0; i < lines.Count; i++)
        {
            if (i > 0 && i < beside)
            {
                // The figure and the lines beside it stay together.
                Items.Add(new PenaltyItem(10_000));
            }
            else if (i > 0)
            {
                int penalty = (i == 1 ? paragraph.Style.ClubPenalty : 0) + (i == lines.Count - 1 ? paragraph.Style.WidowPenalty : 0);
                Items.Add(new PenaltyItem(penalty));
            }

            double indent = paragraph.Style.LeftMargin + lines[i].Indent;
            Box line = paragraph.Style.Numbering is { } numbering && _numbers is { } numbers ? numbers.Beside(lines[i].Box, numbering, indent) : lines[i].Box;
            AddBox(line, indent, paragraph.Style.Leading, SetNotes(lines[i].Notes), lines[i].Base);
            var item = (BoxItem)Items[^1];
            (item.BeginsParagraph, item.EndsParagraph) = (i == 0 && lines.Count > 1, i > 0 && i == lines.Count - 1);
            foreach (MarginInline margin in lines[i].MarginNotes)
            {
                item.MarginNotes.Add(_lines.SetBox([new BlockBoxInline(margin.Content, _geometry.MarginWidth) { Position = 't' }]));
            }

            if (lines[i].ExtraBelow != 0)
            {
                Items.Add(new SpaceItem(lines[i].ExtraBelow, 0, 0, 0, false));
            }
        }
    }

    // The figure that lines run beside now, and how many still do.
    private (int Lines, double Width, bool IsLeft)? _wrap;

    private void AddWrap(WrapBlock wrap)
    {
        const double Gap = 12;
        List<VerticalItem> content = SetApart(_context, wrap.Figure.Content, wrap.Width);
        double leading = _context.Document.Leading;
        double height = HeightOf(content);
        // It begins level with the top of the next line and hangs beside the lines after it.
        var box = new Box();
        double y = -(leading * 0.3);
        foreach (VerticalItem item in content)
        {
            if (item is BoxItem line)
            {
                y += line.Box.Height;
                foreach (Placed placed in line.Box.Marks)
                {
                    box.Marks.Add(placed with { X = placed.X + line.Indent, Y = placed.Y - y - (leading * 0.3), Base = placed.Base + line.Base });
                }

                y += line.Box.Depth;
            }
            else if (item is SpaceItem space)
            {
                y += space.Width;
            }
        }

        Items.Add(new BoxItem(box, wrap.IsLeft ? 0 : Measure - wrap.Width));
        Items.Add(new PenaltyItem(10_000));
        _wrap = (wrap.Lines ?? (int)Math.Ceiling((height + (leading * 0.7)) / leading), wrap.Width + Gap, wrap.IsLeft);
    }

    // A paragraph, or its beginning, made narrower beside a figure.
    private ParagraphBlock Beside(ParagraphBlock paragraph)
    {
        if (_wrap is not { } wrap || paragraph.Style.Shape is not null)
        {
            return paragraph;
        }

        ParagraphStyle style = paragraph.Style;
        double full = Math.Max(1, Measure - style.LeftMargin - style.RightMargin);
        (double Indent, double Length) narrow = (wrap.IsLeft ? wrap.Width : 0, Math.Max(1, full - wrap.Width));
        ParagraphBlock shaped = paragraph with
        {
            Style = style with
            {
                Shape = [.. Enumerable.Repeat(narrow, wrap.Lines), (0, full)],
                // Narrow lines need wide spaces.
                Tolerance = Math.Max(style.Tolerance, 1_000),
                EmergencyStretch = Math.Max(style.EmergencyStretch, 2 * style.Size),
            },
        };
        int taken = _lines.Set(shaped, Measure).Count;
        _wrap = wrap.Lines > taken ? wrap with { Lines = wrap.Lines - taken } : null;
        return shaped;
    }

    private List<NoteBox>? SetNotes(IReadOnlyList<NoteInline> called)
    {
        if (called.Count == 0)
        {
            return null;
        }

        return [.. called.Select(SetNote)];
    }

    private NoteBox SetNote(NoteInline note)
    {
        _context.Budget.Spend(UnitsOfNote);
        var lines = new List<NoteLine>();
        double above = 0;
        foreach (Block block in note.Body!)
        {
            if (block is ParagraphBlock paragraph)
            {
                ParagraphBlock set = lines.Count > 0 ? paragraph : WithMark(note, paragraph);
                double leading = paragraph.Style.Leading;
                // Lines begin with a strut (\footnotesep), so that notes stand one leading apart.
                foreach (Line line in _lines.Set(set, Measure))
                {
                    double baseline = Math.Max(0.7 * leading, line.Box.Height);
                    _context.Own(line.Box, paragraph);
                    lines.Add(new NoteLine(line.Box, set.Style.LeftMargin + line.Indent, line.Base, above + baseline + Math.Max(0.3 * leading, line.Box.Depth), above + baseline));
                    above = 0;
                }

                continue;
            }

            foreach (VerticalItem item in SetApart(_context, [block], Measure))
            {
                if (item is BoxItem box)
                {
                    lines.Add(new NoteLine(box.Box, box.Indent, box.Base, above + box.Box.Height + box.Box.Depth, above + box.Box.Height));
                }

                above = item switch { BoxItem => 0, SpaceItem space => above + space.Width, _ => above };
            }
        }

        return new NoteBox(lines);
    }

    private ParagraphBlock WithMark(NoteInline note, ParagraphBlock paragraph)
    {
        var mark = new BoxInline(note.FootMark ?? note.Mark);
        ParagraphStyle style = paragraph.Style;
        if (note.MarkWidth is { } em)
        {
            mark = mark with { Width = em * style.Size, Alignment = 1 };
            style = style with { Indent = 0 };
        }

        _context.Tagging?.Add(note, mark);
        return paragraph with { Content = [mark, .. paragraph.Content], Style = style };
    }

    private void AddHeading(HeadingBlock heading)
    {
        if (heading.Lines.Count == 0)
        {
            AddSpaceOnce(heading.SpaceAbove);
            if (heading.IsPlaced)
            {
                AddAnchor(heading.Anchor);
                Items.Add(new PenaltyItem(heading.Level >= 4 ? 10_000 : 0));
            }

            return;
        }

        // A page may well end before a heading, but not between a heading and the one above it.
        if (Items.Count == 0 || Items[^1] is not PenaltyItem { Penalty: 10_000 })
        {
            Items.Add(new PenaltyItem(-300));
        }

        AddSpaceOnce(heading.SpaceAbove);
        if (heading.DropAbove > 0)
        {
            // The space begins at the first baseline's place, where an empty line holds it (\\vspace*).
            Items.Add(new SpaceItem(_geometry.TopSkip + heading.DropAbove, 0, 0, 0, true));
        }

        // The published \chapter and \maketitle take back \@topnum.
        if (heading.Level == 0)
        {
            Items.Add(new OpeningItem());
        }

        AddAnchor(heading.Anchor);
        Items.Add(new PenaltyItem(10_000));
        int first = Items.Count;
        Set(heading.Lines);
        for (int i = Items.Count - 1; i >= first; i--)
        {
            if (Items[i] is PenaltyItem)
            {
                Items[i] = new PenaltyItem(10_000);
            }
            else if (Items[i] is BoxItem)
            {
                Items.Insert(i + 1, new PenaltyItem(10_000));
            }
        }

        // A heading is never alone at a page's foot: two lines of text follow it there.
        AddGlue(heading.SpaceBelow);
        Items.Add(new PenaltyItem(10_000));
        _headingEnd = Items.Count;
    }

    private static double HeightOf(IEnumerable<VerticalItem> items) =>
        items.Sum(i => i switch { BoxItem b => b.Box.Height + b.Box.Depth, SpaceItem s => s.Width, _ => 0 });

    private void AddFloat(FloatBlock figure)
    {
        bool isWide = figure.IsWide && _geometry.Columns > 1;
        List<VerticalItem> content = SetApart(_context, figure.Content, isWide ? _geometry.TextWidth : Measure);
        double height = HeightOf(content);
        if (height > _geometry.TextHeight)
        {
            _context.Findings.Layout("float-too-high", figure.Position, figure.Kind.Length + 8,
                $"This {figure.Kind} is {Units.InMillimetres(height - _geometry.TextHeight, 0)} mm higher than the page.",
                "Make it smaller, or part it in two.");
        }

        if (!figure.Placement.HasFlag(Placement.Fixed))
        {
            Items.Add(new FloatItem(figure, content, height) { IsWide = isWide });
            return;
        }

        // One box that no page end parts, with the space of a float around.
        var box = new Box { Width = Measure, Height = height };
        double y = 0;
        foreach (VerticalItem item in content)
        {
            if (item is BoxItem line)
            {
                y += line.Box.Height;
                foreach (Placed placed in line.Box.Marks)
                {
                    box.Marks.Add(placed with { X = placed.X + line.Indent, Y = placed.Y + height - y, Base = placed.Base + line.Base });
                }

                y += line.Box.Depth;
            }
            else if (item is SpaceItem space)
            {
                y += space.Width;
            }
        }

        Items.Add(new PenaltyItem(0));
        Items.Add(new SpaceItem(_context.Document.FloatRules.InTextSeparation, 2, 2, 0, false));
        Items.Add(new BoxItem(box, 0));
        Items.Add(new SpaceItem(_context.Document.FloatRules.InTextSeparation, 2, 2, 0, false));
        _previousDepth = double.NaN;
    }

    private void AddColumns(ColumnsBlock columns)
    {
        double width = (columns.Width - (columns.Gap * (columns.Count - 1))) / columns.Count;
        AddGlue(columns.SpaceAround);
        Items.Add(new ColumnsItem(SetApart(_context, columns.Content, Math.Max(1, width)), columns));
        _previousDepth = double.NaN;
        AddGlue(columns.SpaceAround);
    }

    private void AddLongTable(LongTableBlock block)
    {
        var setter = new TableSetter(_context, _lines);
        List<List<SetRow>> groups = setter.SetRows(block.Table, [block.FirstHead, block.Table.Items, block.LastFoot, block.Head, block.Foot]);
        double free = Measure - setter.Width;
        double indent = block.Alignment switch { Alignment.Left => 0, Alignment.Right => free, _ => free / 2 };
        if (free < -0.5)
        {
            _context.Findings.Layout("table-too-wide", block.Table.Position, 17,
                $"The table is {Units.InMillimetres(-free)} mm wider than the text.",
                "Use columns of paragraphs (p), smaller type, or a landscape page.");
        }

        List<SetRow> rows = [.. groups[0], .. groups[1], .. groups[2]];
        var table = new LongTableRows
        {
            // What is there again on each page belongs to the page.
            Head = [.. groups[3].Select(r => r.Box.OwnedBy(null))],
            Foot = [.. groups[4].Select(r => r.Box.OwnedBy(null))],
            Count = rows.Count,
            Indent = indent,
        };
        AddGlue(block.SpaceAround);
        for (int i = 0; i < rows.Count; i++)
        {
            var item = new RowItem(rows[i].Box, indent, table, i);
            item.Notes.AddRange(rows[i].Item is TableRow { Notes: { Count: > 0 } called } ? SetNotes(called)! : []);
            Items.Add(item);
            if (rows[i].SpaceBelow != 0)
            {
                Items.Add(new SpaceItem(rows[i].SpaceBelow, 0, 0, 0, true));
            }

            // No page ends in a head or before a foot, before a line, or where the source says so.
            bool sticks = i < groups[0].Count || i >= groups[0].Count + groups[1].Count - (groups[2].Count > 0 ? 1 : 0)
                || (i + 1 < rows.Count && rows[i + 1].Item is TableLine) || rows[i].Item is TableRow { Sticks: true };
            Items.Add(rows[i].Item is TableRow { EndsPage: true } ? new EjectItem(PageEnd.New) : new PenaltyItem(sticks ? 10_000 : 0));
        }

        _previousDepth = double.NaN;
        AddGlue(block.SpaceAround);
    }
}
