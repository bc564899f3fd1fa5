using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Formulas;
using YoungFolio.Typesetting.Hyphenation;
using YoungFolio.Typesetting.Images;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Lines;

/// <summary>Dots that fill a line, as in contents.</summary>
internal sealed class LeadersInline(TextStyle style) : Inline
{
    public TextStyle Style => style;
}

/// <summary>A line with the notes called in it.</summary>
internal sealed class Line
{
    public required Box Box { get; init; }

    public List<NoteInline> Notes { get; } = [];

    public double ExtraBelow { get; init; }
}

/// <summary>Sets paragraphs as lines, and single lines as boxes.</summary>
internal sealed class ParagraphSetter(SettingContext context)
{
    private const double Fil = 1;
    private readonly MathSetter _mathematics = new(context);

    /// <summary>An item with what it stands for.</summary>
    private readonly record struct Piece(Item Item, Word? Word, int From, int To, Box? Box, Inline? Inline, int LinkStart, int Position);

    private sealed record Word(FontFile Font, string Text, int[] Positions, int Offset, TextStyle Style, ShapedWord Shape)
    {
        public bool SmallCaps => Style.Shape == FontShape.SmallCaps;
    }

    private sealed record LinkSpan(int First, string Target, bool Outside)
    {
        public int Last { get; set; } = int.MaxValue;
    }

    private sealed class Flow
    {
        public List<Piece> Pieces { get; } = [];

        public List<LinkSpan> Links { get; } = [];

        public int LastPosition { get; set; } = PositionTable.None;

        public char LastCharacter { get; set; }

        public char BeforeLast { get; set; }
    }

    /// <summary>Sets a paragraph as lines of a measure.</summary>
    public List<Line> Set(ParagraphBlock paragraph, double measure)
    {
        ParagraphStyle style = paragraph.Style;
        double width = Math.Max(1, measure - style.LeftMargin - style.RightMargin);
        var flow = new Flow();
        if (style.Indent != 0)
        {
            flow.Pieces.Add(new Piece(new Item(ItemKind.Box, style.Indent), null, 0, 0, new Box { Width = style.Indent }, null, 0, -1));
        }

        Flatten(paragraph.Content, flow, style, style.Alignment == Alignment.Justified ? context.Resources.Hyphenator(style.Language) : null);
        if (flow.Pieces.Count == 0)
        {
            flow.Pieces.Add(new Piece(new Item(ItemKind.Box, 0), null, 0, 0, new Box(), null, 0, -1));
        }

        bool hasLeaders = flow.Pieces.Exists(p => p.Inline is LeadersInline);
        double end = style.Alignment is Alignment.Justified && !hasLeaders ? Fil : 0;
        AddPenalty(flow, 10_000);
        flow.Pieces.Add(new Piece(new Item(ItemKind.Glue, 0, Infinite: end), null, 0, 0, null, null, 0, -1));
        AddPenalty(flow, -10_000);

        double side = style.Alignment switch { Alignment.Justified => 0, Alignment.Centre => 2, _ => 1 };
        var parameters = new BreakParameters
        {
            Tolerance = style.Tolerance,
            EmergencyStretch = style.EmergencyStretch,
            SideStretch = side,
        };
        List<Item> items = flow.Pieces.ConvertAll(p => p.Item);
        List<Break> breaks = LineBreaker.Find(items, _ => width, parameters);
        var lines = new List<Line>(breaks.Count);
        int start = 0;
        for (int i = 0; i < breaks.Count; i++)
        {
            Line line = MakeLine(flow, start, breaks[i].Index, width, style);
            lines.Add(line);
            start = breaks[i].Index + 1;
        }

        if (paragraph.Label is { } label)
        {
            Box box = SetBox(label);
            double gap = paragraph.LabelSeparation;
            Box first = lines[0].Box;
            // A label that is wider than the margin pushes the first line's text to the right.
            double x = -gap - box.Width;
            if (box.Width + gap > style.LeftMargin + 0.01)
            {
                x = -style.LeftMargin;
                ShiftRight(first, box.Width + gap - style.LeftMargin);
            }

            first.Add(box, x, 0);
        }

        return lines;
    }

    /// <summary>Sets inlines on one line at their natural width.</summary>
    public Box SetBox(IReadOnlyList<Inline> content)
    {
        var flow = new Flow();
        Flatten(content, flow, null, null);
        return MakeLine(flow, 0, flow.Pieces.Count, double.NaN, null).Box;
    }

    private static void ShiftRight(Box box, double by)
    {
        for (int i = 0; i < box.Marks.Count; i++)
        {
            box.Marks[i] = box.Marks[i] with { X = box.Marks[i].X + by };
        }

        box.Width += by;
    }

    // ---- inlines to items ------------------------------------------------------------------------------

    private void Flatten(IReadOnlyList<Inline> content, Flow flow, ParagraphStyle? style, Hyphenator? hyphenator)
    {
        foreach (Inline inline in content)
        {
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
                    flow.Pieces.Add(new Piece(new Item(ItemKind.Glue, 0, Infinite: Fil), null, 0, 0, null, null, 0, -1));
                    flow.Pieces.Add(new Piece(new Item(ItemKind.Penalty, 0, Penalty: -10_000), null, 0, 0, null, lineBreak, 0, -1));
                    break;
                case MathInline math:
                    AddFormula(math, flow, style is not null);
                    break;
                case ReferenceInline reference:
                    AddReference(reference, flow, style);
                    break;
                case LinkInline link:
                    var span = new LinkSpan(flow.Pieces.Count, link.Target, link.IsOutside);
                    flow.Links.Add(span);
                    Flatten(link.Content, flow, style, hyphenator);
                    span.Last = flow.Pieces.Count - 1;
                    break;
                case NoteInline note:
                    Box mark = note.PrintsMark ? SetBox(note.Mark) : new Box();
                    AddBox(mark, flow, note.Body is null ? null : note, note.Position);
                    break;
                case AnchorInline anchor:
                    var place = new Box();
                    place.Marks.Add(new Placed(new AnchorMark(anchor.Name), 0, 0));
                    AddBox(place, flow, null, -1);
                    break;
                case ImageInline image:
                    AddBox(SetImage(image), flow, null, image.Position);
                    break;
                case BoxInline box:
                    AddBox(Frame(box), flow, null, -1);
                    break;
                case RuleInline rule:
                    var filled = new Box { Width = rule.Width, Height = rule.Height + rule.Rise, Depth = -rule.Rise };
                    filled.Marks.Add(new Placed(new RuleMark(rule.Width, rule.Height), 0, rule.Rise));
                    AddBox(filled, flow, null, -1);
                    break;
                case LeadersInline leaders:
                    flow.Pieces.Add(new Piece(new Item(ItemKind.Glue, 6, Infinite: 1000 * Fil), null, 0, 0, null, leaders, 0, -1));
                    break;
            }
        }
    }

    private static void AddPenalty(Flow flow, int penalty) =>
        flow.Pieces.Add(new Piece(new Item(ItemKind.Penalty, 0, Penalty: penalty), null, 0, 0, null, null, 0, -1));

    private static void AddBox(Box box, Flow flow, Inline? inline, int position)
    {
        flow.Pieces.Add(new Piece(new Item(ItemKind.Box, box.Width), null, 0, 0, box, inline, 0, position));
        if (position >= 0)
        {
            flow.LastPosition = position;
        }
    }

    private static void AddSpace(SpaceInline space, Flow flow)
    {
        Glue glue = space.Glue;
        double finite = glue.StretchOrder == 0 ? glue.Stretch.Points : 0;
        double infinite = glue.StretchOrder switch { 0 => 0, 1 => Fil, _ => 1000 * Fil };
        if (!space.Vanishes)
        {
            // A box in front keeps the space at a line's beginning.
            flow.Pieces.Add(new Piece(new Item(ItemKind.Box, 0), null, 0, 0, new Box(), null, 0, -1));
            AddPenalty(flow, 10_000);
        }

        flow.Pieces.Add(new Piece(new Item(ItemKind.Glue, glue.Width.Points, finite, glue.ShrinkOrder == 0 ? glue.Shrink.Points : 0, Infinite: infinite), null, 0, 0, null, null, 0, -1));
    }

    private void AddRun(TextRun run, Flow flow, ParagraphStyle? style, Hyphenator? hyphenator)
    {
        FontFile font = context.Resources.Fonts.Find(context.Document.Typeface, run.Style);
        string text = run.Text;
        int start = 0;
        for (int i = 0; i <= text.Length; i++)
        {
            char c = i < text.Length ? text[i] : ' ';
            bool ends = i == text.Length || c is ' ' or '\u00A0' or '\u00AD';
            // A line may end after a hyphen or a dash inside a word.
            bool breaksAfter = i < text.Length && c is '-' or '–' or '—' && i > start;
            if (!ends && !breaksAfter)
            {
                continue;
            }

            int end = breaksAfter ? i + 1 : i;
            if (end > start)
            {
                AddWord(run, font, start, end, flow, run.Hyphenates ? hyphenator : null);
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
                        double hyphen = context.Resources.Shaper.Shape(font, "-").Width * run.Style.Size;
                        flow.Pieces.Add(new Piece(new Item(ItemKind.Penalty, hyphen, Penalty: 50, IsFlagged: true), null, 0, 0, null, run, 0, run.Positions[i]));
                        break;
                    default:
                        if (style is not null)
                        {
                            AddPenalty(flow, 50);
                        }

                        break;
                }
            }

            start = i + 1;
        }
    }

    private void AddWord(TextRun run, FontFile font, int start, int end, Flow flow, Hyphenator? hyphenator)
    {
        string text = run.Text[start..end];
        bool mono = run.Style.Family == FontFamily.Mono;
        ShapedWord shape = context.Resources.Shaper.Shape(font, text, run.Style.Shape == FontShape.SmallCaps, !mono);
        if (shape.HasMissing)
        {
            ReportMissing(run, start, text, font);
        }

        var word = new Word(font, text, run.Positions, start, run.Style, shape);
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

        int[] divisions = hyphenator is null || last - first < 5 || !text.AsSpan(first, last - first).ToString().All(char.IsLetter)
            ? []
            : hyphenator.Divide(text[first..last]);
        int from = 0;
        foreach (int division in divisions)
        {
            int at = first + division;
            AddPiece(flow, word, from, at);
            // The width of the first part with its hyphen, less what it takes undivided.
            double part = context.Resources.Shaper.Shape(font, text[..at] + "-", word.SmallCaps, !mono).Width - shape.WidthBefore(at);
            flow.Pieces.Add(new Piece(new Item(ItemKind.Penalty, part * run.Style.Size, Penalty: 50, IsFlagged: true), word, at, at, null, null, 0, -1));
            from = at;
        }

        AddPiece(flow, word, from, text.Length);
    }

    private static void AddPiece(Flow flow, Word word, int from, int to)
    {
        double width = ((to == word.Text.Length ? word.Shape.Width : word.Shape.WidthBefore(to)) - word.Shape.WidthBefore(from)) * word.Style.Size;
        flow.Pieces.Add(new Piece(new Item(ItemKind.Box, width), word, from, to, null, null, 0, word.Positions[word.Offset + from]));
    }

    private void ReportMissing(TextRun run, int start, string text, FontFile font)
    {
        for (int i = 0; i < text.Length; i++)
        {
            int code = char.ConvertToUtf32(text, i);
            if (font.GlyphOf(code) == 0)
            {
                context.Findings.Layout("missing-glyph", run.Positions[start + i], 1,
                    $"The font has no character “{char.ConvertFromUtf32(code)}”.", "An empty box stands in its place. Choose another font, or another character.");
                return;
            }

            i += code > 0xFFFF ? 1 : 0;
        }
    }

    // Space between words: wider and more elastic after a sentence (space factors of The TeXbook, p. 76).
    private void AddInterword(Flow flow, FontFile font, TextStyle textStyle, ParagraphStyle? style)
    {
        double space = context.Resources.Shaper.Shape(font, " ").Width * textStyle.Size;
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
        flow.Pieces.Add(new Piece(new Item(ItemKind.Glue, space, flush ? stretch : 0, flush ? shrink : 0), null, 0, 0, null, null, 0, -1));
        flow.LastCharacter = ' ';
    }

    private void AddFormula(MathInline math, Flow flow, bool breaks)
    {
        foreach ((Box box, int? penalty, double space) in _mathematics.SetInline(math.Formula, math.Style, this))
        {
            AddBox(box, flow, null, -1);
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

                flow.Pieces.Add(new Piece(new Item(ItemKind.Glue, space, space * 0.3, space * 0.2), null, 0, 0, null, null, 0, -1));
            }
        }

        flow.LastCharacter = 'x';
    }

    private void AddReference(ReferenceInline reference, Flow flow, ParagraphStyle? style)
    {
        string text = "??";
        string? target = null;
        if (context.Document.Labels.TryGetValue(reference.Key, out Label? label))
        {
            target = label.Anchor;
            text = reference.Kind == ReferenceKind.Page
                ? context.Known.TryGetValue(label.Anchor, out AnchorPlace place) ? place.Label : "0"
                : label.Number ?? (context.Known.TryGetValue(label.Anchor, out AnchorPlace p) ? p.Label : "0");
        }

        TextStyle looks = target is null ? reference.Style with { Bold = true } : reference.Style;
        var run = new TextRun(text, [.. Enumerable.Repeat(reference.Position, text.Length)], looks);
        if (text.Length == 0)
        {
            return;
        }

        Flatten(target is null ? [run] : [new LinkInline([run], target, false)], flow, style, null);
    }

    // ---- boxes -----------------------------------------------------------------------------------------

    private Box Frame(BoxInline inline)
    {
        Box inner = SetBox(inline.Content);
        double width = inline.Width ?? inner.Width;
        const double Gap = 3;
        const double Line = 0.4;
        double pad = inline.IsFramed ? Gap + Line : 0;
        var box = new Box();
        double free = width - inner.Width;
        box.Add(inner, pad + (inline.Alignment < 0 ? 0 : inline.Alignment > 0 ? free : free / 2), inline.Rise);
        box.Width = width + (2 * pad);
        if (inline.IsFramed)
        {
            double height = inner.Height + pad;
            double depth = inner.Depth + pad;
            box.Marks.Add(new Placed(new RuleMark(box.Width, Line), 0, height - Line));
            box.Marks.Add(new Placed(new RuleMark(box.Width, Line), 0, -depth));
            box.Marks.Add(new Placed(new RuleMark(Line, height + depth), 0, -depth));
            box.Marks.Add(new Placed(new RuleMark(Line, height + depth), box.Width - Line, -depth));
            box.Height = height;
            box.Depth = depth;
        }

        if (inline.IsUnderlined)
        {
            box.Marks.Add(new Placed(new RuleMark(width, 0.4), 0, -inner.Depth - 1.6));
            box.Depth = inner.Depth + 2;
        }

        return box;
    }

    private Box SetImage(ImageInline inline)
    {
        if (!context.Pictures.TryGetValue(inline.Path, out (Picture? Picture, string? Reason) found))
        {
            found = context.Parts.Find(inline.Path) is { } part ? Picture.Read(part) : (null, null);
            context.Pictures[inline.Path] = found;
        }

        if (found.Reason is { } reason)
        {
            context.Findings.Fix("unreadable-picture", inline.Position, 16, $"The picture {inline.Path} can't be read: {reason}.",
                "Export it again as PNG or JPEG and put it in place of this one.");
        }

        double naturalWidth = found.Picture?.Width ?? 160;
        double naturalHeight = found.Picture?.Height ?? 100;
        double width = naturalWidth * inline.Scale;
        double height = naturalHeight * inline.Scale;
        if (inline is { Width: { } w, Height: { } h })
        {
            double factor = Math.Min(w / naturalWidth, h / naturalHeight);
            (width, height) = inline.KeepsAspect ? (naturalWidth * factor, naturalHeight * factor) : (w, h);
        }
        else if (inline.Width is { } onlyWidth)
        {
            (width, height) = (onlyWidth, naturalHeight * onlyWidth / naturalWidth);
        }
        else if (inline.Height is { } onlyHeight)
        {
            (width, height) = (naturalWidth * onlyHeight / naturalHeight, onlyHeight);
        }

        if (found.Picture is null)
        {
            return Placeholder(inline, width, height);
        }

        double angle = inline.Angle * Math.PI / 180;
        double sin = Math.Sin(angle);
        double cos = Math.Cos(angle);
        double left = Math.Min(0, width * cos) + Math.Min(0, -height * sin);
        double right = Math.Max(0, width * cos) + Math.Max(0, -height * sin);
        double bottom = Math.Min(0, width * sin) + Math.Min(0, height * cos);
        double top = Math.Max(0, width * sin) + Math.Max(0, height * cos);
        var box = new Box { Width = right - left, Height = top - bottom };
        box.Marks.Add(new Placed(new ImageMark(found.Picture, width, height, inline.Angle), -left, -bottom));
        return box;
    }

    // A frame with the file's name stands for a picture that isn't there.
    private Box Placeholder(ImageInline inline, double width, double height)
    {
        var style = new TextStyle(FontFamily.Mono, false, FontShape.Upright, 8);
        Box name = SetBox([new TextRun(inline.Path, [.. Enumerable.Repeat(inline.Position, inline.Path.Length)], style)]);
        var box = new Box { Width = width, Height = height };
        box.Marks.Add(new Placed(new RuleMark(width, 0.4), 0, height - 0.4));
        box.Marks.Add(new Placed(new RuleMark(width, 0.4), 0, 0));
        box.Marks.Add(new Placed(new RuleMark(0.4, height), 0, 0));
        box.Marks.Add(new Placed(new RuleMark(0.4, height), width - 0.4, 0));
        box.Add(name, (width - name.Width) / 2, height / 2);
        return box;
    }

    // ---- items to lines --------------------------------------------------------------------------------

    private Line MakeLine(Flow flow, int start, int end, double width, ParagraphStyle? style)
    {
        List<Piece> pieces = flow.Pieces;
        while (start < end && start > 0 && pieces[start].Item.Kind != ItemKind.Box)
        {
            start++;
        }

        bool divided = end < pieces.Count && pieces[end].Item is { Kind: ItemKind.Penalty, IsFlagged: true };
        double natural = 0;
        double stretch = 0;
        double shrink = 0;
        double infinite = 0;
        var segments = new List<(Piece Piece, Box? Box)>();
        for (int i = start; i < end; i++)
        {
            Piece piece = pieces[i];
            if (piece.Item.Kind == ItemKind.Penalty)
            {
                continue;
            }

            Box? box = piece.Box;
            if (piece.Word is { } word && piece.Item.Kind == ItemKind.Box)
            {
                // Neighbouring pieces of one word are set together, so that kerning and ligatures hold.
                int to = piece.To;
                int next = i + 1;
                while (next < end && ReferenceEquals(pieces[next].Word, word))
                {
                    to = Math.Max(to, pieces[next].To);
                    next++;
                }

                bool hyphen = divided && next == end && ReferenceEquals(pieces[end].Word, word);
                box = SetWord(word, piece.From, to, hyphen);
                i = next - 1;
            }

            segments.Add((piece with { LinkStart = i }, box));
            natural += box?.Width ?? piece.Item.Width;
            if (piece.Item.Kind == ItemKind.Glue)
            {
                stretch += piece.Item.Stretch;
                shrink += piece.Item.Shrink;
                infinite += piece.Item.Infinite;
            }
        }

        if (divided && pieces[end] is { Inline: TextRun run } soft)
        {
            FontFile font = context.Resources.Fonts.Find(context.Document.Typeface, run.Style);
            ShapedWord shape = context.Resources.Shaper.Shape(font, "-");
            Box hyphenBox = SetWord(new Word(font, "-", [soft.Position], 0, run.Style, shape), 0, 1, false);
            segments.Add((new Piece(default, null, 0, 0, null, null, end, soft.Position), hyphenBox));
            natural += hyphenBox.Width;
        }

        double difference = double.IsNaN(width) ? 0 : width - natural;
        double ratio = difference < 0
            ? shrink > 0 ? Math.Max(-1, difference / shrink) : 0
            : infinite > 0 ? 0 : stretch > 0 && style?.Alignment == Alignment.Justified ? difference / stretch : 0;
        bool fills = difference > 0 && infinite > 0;
        double left = 0;
        if (style is not null && !fills && difference > 0)
        {
            left = style.Alignment switch { Alignment.Centre => difference / 2, Alignment.Right => difference, _ => 0 };
        }
        else if (style is not null && fills && style.Alignment is Alignment.Centre or Alignment.Right && !(infinite > 500))
        {
            // A line's end inside centred text: the side glue counts, not the break's own.
            left = style!.Alignment == Alignment.Centre ? difference / 2 : difference;
            fills = false;
        }

        var result = new Box();
        var line = new Line
        {
            Box = result,
            ExtraBelow = end < pieces.Count && pieces[end].Inline is LineBreakInline b ? b.Extra.Points : 0,
        };
        double x = left;
        var boxes = new List<(int Index, double From, double To)>();
        foreach ((Piece piece, Box? box) in segments)
        {
            double from = x;
            if (box is not null)
            {
                result.Add(box, x, 0);
                x += box.Width;
                if (piece.Inline is NoteInline note)
                {
                    line.Notes.Add(note);
                }
            }
            else if (piece.Item.Kind == ItemKind.Glue)
            {
                double space = piece.Item.Width + (ratio >= 0 ? ratio * piece.Item.Stretch : ratio * piece.Item.Shrink)
                    + (fills ? difference * piece.Item.Infinite / infinite : 0);
                if (piece.Inline is LeadersInline leaders)
                {
                    AddLeaders(result, leaders, x, space, width);
                }

                x += space;
            }
            else
            {
                x += piece.Item.Width;
            }

            boxes.Add((piece.LinkStart, from, x));
        }

        result.Width = x;
        AddLinks(flow, boxes, result, start, end);
        if (style is not null)
        {
            Check(flow, start, end, natural, shrink, width);
        }

        return line;
    }

    private static void AddLinks(Flow flow, List<(int Index, double From, double To)> boxes, Box result, int start, int end)
    {
        foreach (LinkSpan link in flow.Links)
        {
            if (link.Last < start || link.First >= end)
            {
                continue;
            }

            double from = double.PositiveInfinity;
            double to = double.NegativeInfinity;
            foreach ((int index, double a, double b) in boxes)
            {
                if (index >= link.First && index <= link.Last)
                {
                    from = Math.Min(from, a);
                    to = Math.Max(to, b);
                }
            }

            if (to > from)
            {
                result.Marks.Add(new Placed(new LinkMark(to - from, Math.Max(result.Height, 7), Math.Max(result.Depth, 2), link.Target, link.Outside), from, 0));
            }
        }
    }

    private void AddLeaders(Box result, LeadersInline leaders, double x, double space, double width)
    {
        FontFile font = context.Resources.Fonts.Find(context.Document.Typeface, leaders.Style);
        ShapedWord dot = context.Resources.Shaper.Shape(font, ".");
        double step = 0.62 * leaders.Style.Size;
        // Dots stand on one grid from the right edge, so that they line up from line to line.
        double last = width - (Math.Ceiling((width - (x + space - 4)) / step) * step);
        for (double at = last; at >= x + 4; at -= step)
        {
            result.Marks.Add(new Placed(Glyphs(font, leaders.Style, dot, [PositionTable.None], 0, 1, 0), at, 0));
        }
    }

    private Box SetWord(Word word, int from, int to, bool hyphen)
    {
        ShapedWord shape = word.Shape;
        int[] positions = word.Positions;
        if (from != 0 || to != word.Text.Length || hyphen)
        {
            string text = word.Text[from..to] + (hyphen ? "-" : "");
            shape = context.Resources.Shaper.Shape(word.Font, text, word.SmallCaps, word.Style.Family != FontFamily.Mono);
        }

        double size = word.Style.Size;
        var box = new Box
        {
            Width = shape.Width * size,
            Height = Math.Max(0, (0.74 * size) + word.Style.Rise),
            Depth = Math.Max(0, (0.24 * size) - word.Style.Rise),
        };
        box.Marks.Add(new Placed(Glyphs(word.Font, word.Style, shape, positions, word.Offset + from, to - from, word.Style.Colour), 0, word.Style.Rise));
        return box;
    }

    private static GlyphMark Glyphs(FontFile font, TextStyle style, ShapedWord shape, int[] positions, int offset, int length, int colour)
    {
        var edges = new double[shape.Edges.Length];
        var places = new int[shape.Glyphs.Length];
        for (int i = 0; i < edges.Length; i++)
        {
            edges[i] = shape.Edges[i] * style.Size;
        }

        for (int i = 0; i < places.Length; i++)
        {
            places[i] = positions[offset + Math.Min(shape.Clusters[i], length - 1)];
        }

        return new GlyphMark
        {
            Font = font, Size = style.Size, Glyphs = shape.Glyphs, Edges = edges, Positions = places, Texts = shape.Texts, Colour = colour,
        };
    }

    private void Check(Flow flow, int start, int end, double natural, double shrink, double width)
    {
        double over = natural - shrink - width;
        if (over > 0.5)
        {
            int position = PositionTable.None;
            for (int i = Math.Min(end, flow.Pieces.Count) - 1; i >= start && position < 0; i--)
            {
                position = flow.Pieces[i].Position;
            }

            context.Findings.Layout("line-too-long", position, 1,
                $"A line runs {(over / 72.27 * 25.4).ToString("0.0", System.Globalization.CultureInfo.InvariantCulture)} mm into the margin.",
                "Reword it, allow a division with \\-, or put \\sloppy before the paragraph.");
        }

    }
}
