using YoungFolio.Documents;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Formulas;
using YoungFolio.Typesetting.Hyphenation;
using YoungFolio.Typesetting.Images;
using YoungFolio.Typesetting.Pages;
using YoungFolio.Typesetting.Tables;

namespace YoungFolio.Typesetting.Lines;

/// <summary>A line with the notes called in it.</summary>
internal sealed class Line
{
    public required Box Box { get; init; }

    public List<NoteInline> Notes { get; } = [];

    public List<MarginInline> MarginNotes { get; } = [];

    /// <summary>Indent of this line beyond the paragraph's margin, in points.</summary>
    public double Indent { get; set; }

    public double ExtraBelow { get; init; }

    /// <summary>Added to the source positions of its marks.</summary>
    public int Base { get; init; }
}

/// <summary>Sets paragraphs as lines, and single lines as boxes.</summary>
internal sealed partial class ParagraphSetter
{
    private const double Fil = 1;
    private const int LongestWord = 1000;
    private readonly SettingContext _context;
    private readonly MathSetter _mathematics;
    private readonly TableSetter _tables;
    private readonly ContentKey _key;
    private LineCosts _costs = LineCosts.Usual;

    public ParagraphSetter(SettingContext context)
    {
        _context = context;
        _mathematics = new MathSetter(context);
        _tables = new TableSetter(context, this);
        _key = new ContentKey(context);
    }

    /// <summary>An item with what it stands for.</summary>
    private readonly record struct LineItem(Item Item, Word? Word, int From, int To, Box? Box, Inline? Inline, int LinkStart, int Position);

    private sealed record Word(FontFile Font, string Text, TextRun Run, int Offset, ShapedWord Shape)
    {
        public TextStyle Style => Run.Style;

        public int[] Positions => Run.Positions;

        public ShapingFeatures Features => FeaturesOf(Style);
    }

    private sealed record Span(int First, LinkInline? Link, DecoratedInline? Decoration)
    {
        public int Last { get; set; } = int.MaxValue;
    }

    private sealed class Flow
    {
        public List<LineItem> Pieces { get; } = [];

        public List<Span> Spans { get; } = [];

        public int LastPosition { get; set; } = PositionTable.None;

        public char LastCharacter { get; set; }

        public char BeforeLast { get; set; }

        /// <summary>How far the last letter leans out of its width, when it is a slanted one, and how many pieces there were then.</summary>
        public (double Width, int At) Overhang { get; set; }

        /// <summary>How far glyphs may be widened or narrowed, as a share.</summary>
        public double Expansion { get; init; }
    }

    /// <summary>Sets a paragraph as lines of a measure; what was set before is used again.</summary>
    public List<Line> Set(ParagraphBlock paragraph, double measure)
    {
        if (_context.Cache is not { } cache || _key.Of(paragraph, measure) is not { } number)
        {
            return SetAnew(paragraph, measure);
        }

        (int origin, List<NoteInline> notes, List<MarginInline> margins) = (_key.Base, _key.Notes, _key.Margins);
        SetEntry<List<Line>> entry = Kept(cache, number, origin, () => SetAnew(paragraph, measure), static lines => lines.Select(l => l.Box));
        var result = new List<Line>(entry.Content.Count);
        int note = 0;
        int margin = 0;
        foreach (Line line in entry.Content)
        {
            var copy = new Line { Box = line.Box, ExtraBelow = line.ExtraBelow, Indent = line.Indent, Base = Math.Max(0, origin) };
            copy.Notes.AddRange(notes.GetRange(note, line.Notes.Count));
            copy.MarginNotes.AddRange(margins.GetRange(margin, line.MarginNotes.Count));
            note += line.Notes.Count;
            margin += line.MarginNotes.Count;
            result.Add(copy);
        }

        return result;
    }

    /// <summary>What a number stands for; it is made when it isn't kept. What was to say about it is said again.</summary>
    internal SetEntry<T> Kept<T>(SetCache cache, UInt128 number, int origin, Func<T> make, Func<T, IEnumerable<Box>> boxes)
    {
        SetEntry<T>? entry = cache.Find<SetEntry<T>>(number);
        if (entry is null)
        {
            FindingLog outer = _context.Findings;
            var own = new FindingLog();
            _context.Findings = own;
            try
            {
                T content = make();
                SetCache.Rebase(boxes(content), Math.Max(0, origin));
                entry = new SetEntry<T>(content, [.. own.All.Select(f => f.Position < 0 ? f : f with { Position = f.Position - Math.Max(0, origin) })]);
            }
            finally
            {
                _context.Findings = outer;
            }

            cache.Keep(number, entry);
        }

        foreach (Finding finding in entry.Findings)
        {
            _context.Findings.Add(finding.Position < 0 ? finding : finding with { Position = finding.Position + Math.Max(0, origin) });
        }

        return entry;
    }

    private List<Line> SetAnew(ParagraphBlock paragraph, double measure)
    {
        ParagraphStyle style = paragraph.Style;
        _costs = style.Costs;
        double width = Math.Max(1, measure - style.LeftMargin - style.RightMargin);
        var flow = new Flow { Expansion = paragraph.Style.Expansion };
        double indent = style.Indent;
        (Box Box, double X)? label = paragraph.Label is { } item ? PlaceLabel(item, Owned(SetBox(item.Content), item), ref indent) : null;
        if (indent != 0)
        {
            flow.Pieces.Add(new LineItem(new Item(ItemKind.Box, indent), null, 0, 0, new Box { Width = indent }, null, 0, -1));
        }

        Flatten(paragraph.Content, flow, style, style.Alignment == Alignment.Justified ? _context.Resources.Hyphenator(style.Language) : null);
        if (flow.Pieces.Count == 0)
        {
            flow.Pieces.Add(new LineItem(new Item(ItemKind.Box, 0), null, 0, 0, new Box(), null, 0, -1));
        }

        bool hasLeaders = flow.Pieces.Exists(p => p.Inline is LeadersInline);
        double end = style.Alignment is Alignment.Justified && !hasLeaders ? Fil : 0;
        AddPenalty(flow, 10_000);
        flow.Pieces.Add(new LineItem(style.LastLineFill is { } fill ? GlueOf(fill) : new Item(ItemKind.Glue, 0, Infinite: end), null, 0, 0, null, null, 0, -1));
        AddPenalty(flow, -10_000);

        double side = style.Alignment switch { Alignment.Justified => 0, Alignment.Centre => 2, _ => 1 };
        var parameters = new BreakParameters
        {
            Pretolerance = style.Costs.Pretolerance,
            LinePenalty = style.Costs.Line,
            AdjacentDemerits = style.Costs.Adjacent,
            DoubleHyphenDemerits = style.Costs.DoubleHyphen,
            FinalHyphenDemerits = style.Costs.FinalHyphen,
            Looseness = style.Costs.Looseness,
            Tolerance = style.Tolerance,
            EmergencyStretch = style.EmergencyStretch,
            SideStretch = side,
        };
        List<Item> items = flow.Pieces.ConvertAll(p => p.Item);
        List<Break> breaks = LineBreaker.Find(items, i => WidthOf(style, width, i), parameters, AlikeFrom(style), _context.Budget);
        var lines = new List<Line>(breaks.Count);
        int start = 0;
        for (int i = 0; i < breaks.Count; i++)
        {
            Line line = MakeLine(flow, start, breaks[i].Index, WidthOf(style, width, i), style);
            line.Indent = IndentOf(style, i);
            lines.Add(line);
            start = breaks[i].Index + 1;
        }

        if (label is { } placed)
        {
            if (paragraph.Label is { OnOwnLine: true } own && placed.Box.Width > own.Width)
            {
                var above = new Box();
                above.Add(placed.Box, placed.X, 0);
                lines.Insert(0, new Line { Box = above });
            }
            else
            {
                lines[0].Box.Add(placed.Box, placed.X, 0);
            }
        }

        return lines;
    }

    // A label stands in its room left of the text; one that is too wide pushes the first line to the right.
    // Its room may reach into the margin, as far as the list's measures say.
    private static (Box Box, double X) PlaceLabel(ItemLabel label, Box box, ref double indent)
    {
        double gap = label.Separation;
        double room = label.Width ?? box.Width;
        double left = indent - gap - room;
        if (!label.OnOwnLine || box.Width <= room)
        {
            indent = Math.Max(indent, left + box.Width + gap);
        }

        double free = Math.Max(0, room - box.Width);
        return (box, left + (label.Alignment switch { 'l' => 0, 'c' => free / 2, _ => free }));
    }

    private static double IndentOf(ParagraphStyle style, int line)
    {
        if (style.Shape is { Count: > 0 } shape)
        {
            return shape[Math.Min(line, shape.Count - 1)].Indent;
        }

        return Hangs(style, line) && style.HangIndent > 0 ? style.HangIndent : 0;
    }

    private static double WidthOf(ParagraphStyle style, double width, int line)
    {
        if (style.Shape is { Count: > 0 } shape)
        {
            return Math.Max(1, shape[Math.Min(line, shape.Count - 1)].Length);
        }

        return Hangs(style, line) ? Math.Max(1, width - Math.Abs(style.HangIndent)) : width;
    }

    private static int AlikeFrom(ParagraphStyle style) => style.Shape is { Count: > 0 } shape ? shape.Count : style.HangIndent != 0 ? Math.Abs(style.HangAfter) + 1 : 1;

    private static bool Hangs(ParagraphStyle style, int line) =>
        style.HangIndent != 0 && (style.HangAfter >= 0 ? line >= style.HangAfter : line < -style.HangAfter);

    /// <summary>Sets inlines on one line at their natural width.</summary>
    /// <param name="content">The inlines.</param>
    /// <param name="width">Width that spaces which stretch without end fill, in points; NaN for none.</param>
    public Box SetBox(IReadOnlyList<Inline> content, double width = double.NaN)
    {
        var flow = new Flow();
        Flatten(content, flow, null, null);
        return MakeLine(flow, 0, flow.Pieces.Count, width, null).Box;
    }

    // ---- inlines to items ------------------------------------------------------------------------------

    private void Flatten(IReadOnlyList<Inline> content, Flow flow, ParagraphStyle? style, Hyphenator? hyphenator)
    {
        foreach (Inline inline in content)
        {
            _context.Budget.Spend(3);
            switch (inline)
            {
                case TextRun run:
                    AddRun(run, flow, style, hyphenator);
                    break;
                case SpaceInline space:
                    AddSpace(space, flow);
                    break;
                case PenaltyInline penalty:
                    AddPenalty(flow, penalty.Penalty);
                    break;
                case LineBreakInline lineBreak:
                    AddPenalty(flow, 10_000);
                    flow.Pieces.Add(new LineItem(new Item(ItemKind.Glue, 0, Infinite: Fil), null, 0, 0, null, null, 0, -1));
                    flow.Pieces.Add(new LineItem(new Item(ItemKind.Penalty, 0, Penalty: -10_000), null, 0, 0, null, lineBreak, 0, -1));
                    break;
                case MathInline math:
                    AddFormula(math, flow, style is not null);
                    break;
                case ReferenceInline reference:
                    AddReference(reference, flow, style);
                    break;
                case LinkInline link:
                    AddSpan(new Span(flow.Pieces.Count, link, null), link.Content, flow, style, hyphenator);
                    break;
                case DecoratedInline decorated:
                    AddSpan(new Span(flow.Pieces.Count, null, decorated), decorated.Content, flow, style, hyphenator);
                    break;
                case DeferredInline deferred:
                    Flatten(deferred.Content, flow, style, hyphenator);
                    break;
                case PageFieldInline field:
                    AddPageField(field, flow, style);
                    break;
                case PagesInline pages:
                    AddPages(pages, flow, style);
                    break;
                case BlockBoxInline blocks:
                    AddBox(SetBlocks(blocks), flow, null, -1);
                    break;
                case MarginInline margin:
                    AddBox(new Box(), flow, margin, -1);
                    break;
                case NoteInline note:
                    Box mark = note.PrintsMark ? Owned(SetBox(note.Mark), note) : new Box();
                    AddBox(mark, flow, note.Body is null ? null : note, note.Position);
                    break;
                case AnchorInline anchor:
                    var place = new Box();
                    place.Marks.Add(new Placed(new AnchorMark(anchor.Name), 0, 0));
                    AddBox(place, flow, null, -1);
                    break;
                case ImageInline image:
                    AddBox(Owned(SetImage(image), image), flow, null, image.Position);
                    break;
                case TransformInline transform:
                    AddBox(Transform(transform), flow, null, -1);
                    break;
                case TableInline table:
                    AddBox(_tables.Set(table), flow, null, table.Table.Position);
                    break;
                case BoxInline box:
                    AddBox(_context.Tagging?.IsMade(box) == true ? Frame(box).OwnedBy(box) : Frame(box), flow, null, -1);
                    break;
                case RuleInline rule:
                    var filled = new Box { Width = rule.Width, Height = rule.Height + rule.Rise, Depth = -rule.Rise };
                    if (rule is { Width: > 0, Height: > 0 })
                    {
                        filled.Marks.Add(new Placed(new RuleMark(rule.Width, rule.Height, rule.Colour), 0, rule.Rise));
                    }

                    AddBox(filled, flow, null, -1);
                    break;
                case DrawingInline drawing:
                    AddBox(Owned(SetDrawing(drawing), drawing), flow, null, -1);
                    break;
                case LeadersInline leaders:
                    flow.Pieces.Add(new LineItem(new Item(ItemKind.Glue, 6, Infinite: 1000 * Fil), null, 0, 0, null, leaders, 0, -1));
                    break;
            }
        }
    }

    private void AddSpan(Span span, IReadOnlyList<Inline> content, Flow flow, ParagraphStyle? style, Hyphenator? hyphenator)
    {
        flow.Spans.Add(span);
        Flatten(content, flow, style, hyphenator);
        span.Last = flow.Pieces.Count - 1;
    }

    private static void AddPenalty(Flow flow, int penalty) =>
        flow.Pieces.Add(new LineItem(new Item(ItemKind.Penalty, 0, Penalty: penalty), null, 0, 0, null, null, 0, -1));

    private static void AddBox(Box box, Flow flow, Inline? inline, int position)
    {
        flow.Pieces.Add(new LineItem(new Item(ItemKind.Box, box.Width), null, 0, 0, box, inline, 0, position));
        if (position >= 0)
        {
            flow.LastPosition = position;
        }
    }

    private static void AddSpace(SpaceInline space, Flow flow)
    {
        if (!space.Vanishes)
        {
            // A box in front keeps the space at a line's beginning.
            flow.Pieces.Add(new LineItem(new Item(ItemKind.Box, 0), null, 0, 0, new Box(), null, 0, -1));
            AddPenalty(flow, 10_000);
        }

        flow.Pieces.Add(new LineItem(GlueOf(space.Glue), null, 0, 0, null, null, 0, -1));
    }

    private static Item GlueOf(Glue glue) => new(
        ItemKind.Glue,
        glue.Width.Points,
        glue.StretchOrder == 0 ? glue.Stretch.Points : 0,
        glue.ShrinkOrder == 0 ? glue.Shrink.Points : 0,
        Infinite: Fils(glue.StretchOrder) * glue.Stretch.Points,
        InfiniteShrink: Fils(glue.ShrinkOrder) * glue.Shrink.Points);

    private static double Fils(int order) => order switch { 0 => 0, 1 => Fil, _ => 1000 * Fil };

    private static ShapingFeatures FeaturesOf(TextStyle style) =>
        (style.Shape == FontShape.SmallCaps ? ShapingFeatures.SmallCaps : 0)
        | (style.Family == FontFamily.Mono ? ShapingFeatures.Unjoined : 0)
        | (style.OldFigures ? ShapingFeatures.OldFigures : 0);

    private void AddRun(TextRun run, Flow flow, ParagraphStyle? style, Hyphenator? hyphenator)
    {
        FontFile font = _context.Resources.Fonts.Find(_context.Document.Typefaces, run.Style);
        if (hyphenator is not null && run.Style.Language is { } language)
        {
            hyphenator = _context.Resources.Hyphenator(language);
        }

        string text = run.Text;
        AddItalicCorrection(flow, run);
        int start = 0;
        for (int i = 0; i <= text.Length; i++)
        {
            char c = i < text.Length ? text[i] : ' ';
            bool ends = i == text.Length || c is ' ' or '\u00A0' or '\u00AD' || Opportunities.IsSign(c);
            // A line may end after a hyphen or a dash inside a word.
            bool breaksAfter = i < text.Length && c is '-' or '–' or '—' or '\u2010' or '\u2012' && i > start;
            if (!ends && !breaksAfter)
            {
                continue;
            }

            int end = breaksAfter ? i + 1 : i;
            if (end > start)
            {
                // No word is as long: what is, is set in pieces, since shaping and dividing look at a word as a whole.
                for (int from = start; from < end; from += LongestWord)
                {
                    AddWord(run, font, from, Math.Min(end, from + LongestWord), flow, run.Hyphenates ? hyphenator : null);
                }

                flow.BeforeLast = end - start > 1 ? text[end - 2] : flow.LastCharacter;
                flow.LastCharacter = text[end - 1];
                flow.LastPosition = run.Positions[end - 1];
            }

            if (i < text.Length)
            {
                switch (c)
                {
                    case ' ':
                        AddInterword(flow, font, run.Style, style);
                        break;
                    case '\u00A0':
                        AddPenalty(flow, 10_000);
                        AddInterword(flow, font, run.Style, style);
                        break;
                    case '\u00AD':
                        double hyphen = _context.Resources.Shaper.Shape(font, "-").Width * run.Style.Size;
                        flow.Pieces.Add(new LineItem(new Item(ItemKind.Penalty, hyphen, Penalty: _costs.Hyphen, IsFlagged: true), null, 0, 0, null, run, 0, run.Positions[i]));
                        break;
                    case var sign when Opportunities.IsSign(sign):
                        AddSign(flow, sign, run.Style.Size);
                        break;
                    default:
                        if (style is not null)
                        {
                            AddPenalty(flow, _costs.ExplicitHyphen);
                        }

                        break;
                }
            }

            start = i + 1;
        }
    }

    // A slanted letter would lean into what stands upright after it; not into a full stop or a comma (Lamport, section 3.1).
    private static void AddItalicCorrection(Flow flow, TextRun run)
    {
        if (flow.Overhang.Width > 0 && flow.Overhang.At == flow.Pieces.Count && run.Style.Shape is not (FontShape.Italic or FontShape.Slanted) && run.Text.Length > 0 && run.Text[0] is not ('.' or ','))
        {
            var room = new Box { Width = flow.Overhang.Width };
            flow.Pieces.Add(new LineItem(new Item(ItemKind.Box, room.Width), null, 0, 0, room, null, 0, -1));
        }
    }

    // At most as far as readers of PDF take for a space within a word: a tenth of the size in most (common practice).
    private static double OverhangOf(FontFile font, ShapedWord word, TextStyle style) =>
        style.Shape is FontShape.Italic or FontShape.Slanted && word.Glyphs.Length > 0
            ? Math.Clamp(font.Box(word.Glyphs[^1]).Right - (word.Edges[^1] - word.Edges[^2]), 0, 0.09) * style.Size : 0;

    // Spaces of fixed width, and signs without any that allow or forbid a line's end.
    private static void AddSign(Flow flow, char sign, double size)
    {
        if (!Opportunities.Allows(sign))
        {
            AddPenalty(flow, 10_000);
        }

        if (Opportunities.Width(sign) is > 0 and var width)
        {
            flow.Pieces.Add(new LineItem(new Item(ItemKind.Glue, width * size), null, 0, 0, null, null, 0, -1));
        }
        else if (Opportunities.Allows(sign))
        {
            AddPenalty(flow, 0);
        }
    }

    private void AddWord(TextRun run, FontFile font, int start, int end, Flow flow, Hyphenator? hyphenator)
    {
        _context.Budget.Spend(2 + ((end - start) / 4));
        string text = run.Text[start..end];
        ShapedWord shape = _context.Resources.Shaper.Shape(font, text, FeaturesOf(run.Style));
        if (shape.HasMissing)
        {
            // A word in Greek or Cyrillic letters comes from the fallback as a whole; signs that only some font has, each by itself.
            FontFile fallback = _context.Resources.Fonts.Fallback(run.Style);
            ShapedWord other = _context.Resources.Shaper.Shape(fallback, text, FeaturesOf(run.Style));
            if (!other.HasMissing)
            {
                (font, shape) = (fallback, other);
            }
            else if (AddStretches(run, font, start, end, flow))
            {
                return;
            }
            else
            {
                ReportMissing(run, start, text, font);
            }
        }

        var word = new Word(font, text, run, start, shape);
        int first = 0;
        int last = text.Length;
        while (first < last && !char.IsLetter(text[first]))
        {
            first++;
        }

        while (last > first && !char.IsLetter(text[last - 1]))
        {
            last--;
        }

        int[] divisions = _context.Document.Hyphenation.TryGetValue(text[first..last], out int[]? own) && hyphenator is not null ? own
            : hyphenator is null || last - first < 5 || !text.AsSpan(first, last - first).ToString().All(char.IsLetter)
            ? []
            : hyphenator.Divide(text[first..last]);
        int from = 0;
        foreach (int division in divisions)
        {
            int at = first + division;
            AddPiece(flow, word, from, at);
            // The width of the first part with its hyphen, less what it takes undivided.
            double part = _context.Resources.Shaper.Shape(font, text[..at] + "-", word.Features).Width - shape.WidthBefore(at);
            flow.Pieces.Add(new LineItem(new Item(ItemKind.Penalty, part * run.Style.Size, Penalty: _costs.Hyphen, IsFlagged: true), word, at, at, null, null, 0, -1));
            from = at;
        }

        AddPiece(flow, word, from, text.Length);
        flow.Overhang = (OverhangOf(font, shape, run.Style), flow.Pieces.Count);
    }

    // Sets a word whose characters are in different fonts in parts; false when one font has as much of it as any.
    private bool AddStretches(TextRun run, FontFile font, int start, int end, Flow flow)
    {
        List<(FontFile Font, int End)> stretches = _context.Resources.Fonts.Stretches(font, run.Style, run.Text, start, end);
        if (stretches is [var one] && one.Font == font)
        {
            return false;
        }

        foreach ((FontFile of, int to) in stretches)
        {
            string text = run.Text[start..to];
            ShapedWord shape = _context.Resources.Shaper.Shape(of, text, FeaturesOf(run.Style));
            if (shape.HasMissing)
            {
                ReportMissing(run, start, text, of);
            }

            AddPiece(flow, new Word(of, text, run, start, shape), 0, text.Length);
            start = to;
        }

        return true;
    }

    private static void AddPiece(Flow flow, Word word, int from, int to)
    {
        double width = ((to == word.Text.Length ? word.Shape.Width : word.Shape.WidthBefore(to)) - word.Shape.WidthBefore(from)) * word.Style.Size;
        flow.Pieces.Add(new LineItem(new Item(ItemKind.Box, width, width * flow.Expansion, width * flow.Expansion), word, from, to, null, null, 0, word.Positions[word.Offset + from]));
    }

    private void ReportMissing(TextRun run, int start, string text, FontFile font)
    {
        for (int i = 0; i < text.Length; i++)
        {
            int code = char.ConvertToUtf32(text, i);
            if (font.GlyphOf(code) == 0)
            {
                _context.Findings.Layout("missing-glyph", run.Positions[start + i], 1,
                    $"The font has no character “{char.ConvertFromUtf32(code)}”.", "An empty box stands in its place. Choose another font, or another character.");
                return;
            }

            i += code > 0xFFFF ? 1 : 0;
        }
    }

    // Space between words: wider and more elastic after a sentence (space factors of The TeXbook, p. 76).
    private void AddInterword(Flow flow, FontFile font, TextStyle textStyle, ParagraphStyle? style)
    {
        double space = _context.Resources.Shaper.Shape(font, " ").Width * textStyle.Size;
        bool mono = textStyle.Family == FontFamily.Mono;
        double stretch = mono ? 0 : space / 2;
        double shrink = mono ? 0 : space / 3;
        if (style is { WidensSentences: true } && !mono)
        {
            char last = flow.LastCharacter is ')' or '\u2019' or '\u201D' or ']' ? flow.BeforeLast : flow.LastCharacter;
            double factor = last switch
            {
                '.' or '?' or '!' when !char.IsUpper(flow.BeforeLast) => 3,
                ':' => 2,
                ';' => 1.5,
                ',' => 1.25,
                _ => 1,
            };
            if (factor >= 2)
            {
                space += space / 3;
            }

            stretch *= factor;
            shrink /= factor;
        }

        bool flush = style is null || style.Alignment == Alignment.Justified;
        flow.Pieces.Add(new LineItem(new Item(ItemKind.Glue, space, flush ? stretch : 0, flush ? shrink : 0), null, 0, 0, null, null, 0, -1));
        flow.LastCharacter = ' ';
    }

    private void AddFormula(MathInline math, Flow flow, bool breaks)
    {
        foreach ((Box box, int? penalty, double space) in _mathematics.SetInline(math.Formula, math.Style, this))
        {
            AddBox(Owned(box, math), flow, null, -1);
            if (penalty is { } p && breaks)
            {
                AddPenalty(flow, p);
            }

            if (space != 0)
            {
                if (!(penalty is not null && breaks))
                {
                    AddPenalty(flow, 10_000);
                }

                flow.Pieces.Add(new LineItem(new Item(ItemKind.Glue, space, space * 0.3, space * 0.2), null, 0, 0, null, null, 0, -1));
            }
        }

        flow.LastCharacter = 'x';
    }

    private void AddReference(ReferenceInline reference, Flow flow, ParagraphStyle? style)
    {
        (string text, string? target) = References.Resolve(_context, reference);
        TextStyle looks = target is null ? reference.Style with { Bold = true } : reference.Style;
        var run = new TextRun(text, [.. Enumerable.Repeat(reference.Position, text.Length)], looks);
        if (text.Length == 0)
        {
            return;
        }

        Flatten(target is null || !reference.IsLink ? [run] : [Made(reference, new LinkInline([run], target, false))], flow, style, null);
    }

    // ---- what marks show --------------------------------------------------------------------------------

    private Box Owned(Box box, Node owner)
    {
        _context.Own(box, owner);
        return box;
    }

    private T Made<T>(Node owner, T made)
        where T : Node
    {
        _context.Tagging?.Add(owner, made);
        return made;
    }
}
