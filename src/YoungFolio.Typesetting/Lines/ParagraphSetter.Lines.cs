using YoungFolio.Documents;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Images;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Lines;

// Items to finished lines: glue is set, words are shaped as they stand, links and leaders are placed.
internal sealed partial class ParagraphSetter
{
    private Line MakeLine(Flow flow, int start, int end, double width, ParagraphStyle? style)
    {
        List<LineItem> pieces = flow.Pieces;
        while (start < end && start > 0 && pieces[start].Item.Kind != ItemKind.Box)
        {
            start++;
        }

        bool divided = end < pieces.Count && pieces[end].Item is { Kind: ItemKind.Penalty, IsFlagged: true };
        double natural = 0;
        double stretch = 0;
        double shrink = 0;
        double infinite = 0;
        double infiniteShrink = 0;
        double elastic = 0;
        var segments = new List<(LineItem Item, Box? Box)>();
        for (int i = start; i < end; i++)
        {
            _context.Budget.Check();
            LineItem piece = pieces[i];
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
                infiniteShrink += piece.Item.InfiniteShrink;
            }
            else if (box is not null && piece.Word is not null)
            {
                elastic += box.Width * flow.Expansion;
            }
        }

        if (divided && pieces[end] is { Inline: TextRun run } soft)
        {
            FontFile font = _context.Resources.Fonts.Find(_context.Document.Typefaces, run.Style);
            ShapedWord shape = _context.Resources.Shaper.Shape(font, "-");
            Box hyphenBox = SetWord(new Word(font, "-", run with { Positions = [soft.Position] }, 0, shape), 0, 1, false, isSoft: true);
            segments.Add((new LineItem(default, null, 0, 0, null, null, end, soft.Position), hyphenBox));
            natural += hyphenBox.Width;
        }

        (double hangLeft, double hangRight) = style is { Protrudes: true } ? Hang(segments) : (0, 0);
        natural -= hangLeft + hangRight;
        double difference = double.IsNaN(width) ? 0 : width - natural;
        if (elastic > 0 && infinite == 0 && style is { Alignment: Alignment.Justified })
        {
            // Glyphs give way together with the spaces, up to their limit; what is left is the spaces' alone.
            double all = difference < 0 ? shrink + elastic : stretch + elastic;
            double share = Math.Round(Math.Clamp(difference / all, -1, 1) * flow.Expansion, 3);
            segments = [.. segments.Select(s => s.Item.Word is not null && s.Box is { } word ? (s.Item, Widened(word, 1 + share)) : s)];
            difference -= elastic / flow.Expansion * share;
        }

        double ratio = style is null ? 0 : difference < 0
            ? shrink > 0 ? Math.Max(-1, difference / shrink) : 0
            : infinite > 0 ? 0 : stretch > 0 && style.Alignment == Alignment.Justified ? difference / stretch : 0;
        bool fills = difference > 0 && infinite > 0;
        bool squeezes = style is null && difference < 0 && infiniteShrink > 0;
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
        double x = left - hangLeft;
        var boxes = new List<(int Index, double From, double To)>();
        foreach ((LineItem piece, Box? box) in segments)
        {
            double from = x;
            if (box is not null)
            {
                result.Add(OwnerOf(flow, piece) is { } owner ? Owned(box, owner) : box, x, 0);
                x += box.Width;
                switch (piece.Inline)
                {
                    case NoteInline note:
                        line.Notes.Add(note);
                        break;
                    case MarginInline margin:
                        line.MarginNotes.Add(margin);
                        break;
                }
            }
            else if (piece.Item.Kind == ItemKind.Glue)
            {
                double space = piece.Item.Width + (ratio >= 0 ? ratio * piece.Item.Stretch : ratio * piece.Item.Shrink)
                    + (fills ? difference * piece.Item.Infinite / infinite : 0) + (squeezes ? difference * piece.Item.InfiniteShrink / infiniteShrink : 0);
                if (piece.Inline is LeadersInline leaders)
                {
                    AddLeaders(result, leaders, x, space, width, style?.RightMargin ?? 0);
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
        AddSpans(flow, boxes, result, start, end, _context.Tagging is not null);
        // Where the source says itself how a last line is filled, it is meant so.
        if (ratio > LooseFrom && width >= WideEnough && style!.LastLineFill is null)
        {
            SayLoose(flow, start, end);
        }

        if (style is not null && Check(flow, start, end, natural, shrink + elastic, width) && _context.Document.IsDraft)
        {
            // In a draft a black slug marks a line that runs over (Lamport, section 2.2.4, from memory).
            result.Marks.Add(new Placed(new RuleMark(5, Math.Max(result.Height, 7)), x, 0));
        }

        return line;
    }

    // The innermost of the links around a word, or the run of a word in another language than the document's.
    private Inline? OwnerOf(Flow flow, LineItem piece) => _context.Tagging is null ? null
        : piece.Word is { Run: { Style.Language: { } language } run } && language != _context.Document.Language ? run
        : flow.Spans.FindLast(s => s.Link is not null && s.First <= piece.LinkStart && s.Last >= piece.LinkStart)?.Link;

    // How far a line's first and last signs stand in the margin: shares of their widths, from memory of the trade's tables.
    private static (double Left, double Right) Hang(List<(LineItem Item, Box? Box)> segments)
    {
        static GlyphMark? Glyphs(Box? box) => box?.Marks is [{ Mark: GlyphMark { Glyphs.Length: > 0 } glyphs }] ? glyphs : null;
        static double Share(string text, bool left) => text.Length == 0 ? 0 : text[^1] switch
        {
            '.' or ',' => left ? 0 : 0.7,
            '-' or '\u00AD' => left ? 0 : 0.6,
            '–' => left ? 0.2 : 0.4,
            '—' => left ? 0.15 : 0.25,
            ':' or ';' => left ? 0 : 0.4,
            '!' or '?' => left ? 0 : 0.2,
            '\u2018' or '\u201C' or '\u2019' or '\u201D' or '«' or '»' => 0.5,
            '(' or ')' or '[' or ']' => 0.1,
            _ => 0,
        };
        double before = 0;
        double after = 0;
        int first = segments.FindIndex(s => s.Box is { Width: > 0 });
        if (first >= 0 && Glyphs(segments[first].Box) is { } start)
        {
            before = Share(start.Texts[0], true) * (start.Edges[1] - start.Edges[0]);
        }

        int last = segments.FindLastIndex(s => s.Box is { Width: > 0 });
        if (last >= 0 && Glyphs(segments[last].Box) is { } end)
        {
            after = Share(end.Texts[^1], false) * (end.Edges[^1] - end.Edges[^2]);
        }

        return (before, after);
    }

    private static void AddSpans(Flow flow, List<(int Index, double From, double To)> boxes, Box result, int start, int end, bool isTagged)
    {
        foreach (Span span in flow.Spans)
        {
            if (span.Last < start || span.First >= end)
            {
                continue;
            }

            double from = double.PositiveInfinity;
            double to = double.NegativeInfinity;
            foreach ((int index, double a, double b) in boxes)
            {
                if (index >= span.First && index <= span.Last)
                {
                    from = Math.Min(from, a);
                    to = Math.Max(to, b);
                }
            }

            if (to > from && span.Link is { } link)
            {
                result.Marks.Add(new Placed(new LinkMark(to - from, Math.Max(result.Height, 7), Math.Max(result.Depth, 2), link.Target, link.IsOutside), from, 0, Owner: isTagged ? link : null));
            }
            else if (to > from && span.Decoration is { } decoration)
            {
                Decorate(result, decoration, from, to - from);
            }
        }
    }

    // Lines under and through words keep one distance from the baseline, whatever hangs below it (common practice).
    private static void Decorate(Box result, DecoratedInline decoration, double from, double width)
    {
        const double Thickness = 0.4;
        double height = Math.Max(result.Height, 6);
        switch (decoration.Decoration)
        {
            case Decoration.Highlight:
                result.Marks.Insert(0, new Placed(new RuleMark(width, height + 3.2, decoration.Colour), from, -3));
                break;
            case Decoration.StrikeOut or Decoration.CrossOut:
                AddRule(height * 0.36);
                if (decoration.Decoration == Decoration.CrossOut)
                {
                    AddRule((height * 0.36) + 1.4);
                }

                break;
            case Decoration.Dashes or Decoration.Dots:
                double dash = decoration.Decoration == Decoration.Dashes ? 3 : 0.8;
                for (double x = from; x < from + width; x += dash * 2)
                {
                    result.Marks.Add(new Placed(new RuleMark(Math.Min(dash, from + width - x), Thickness * 1.5, decoration.Colour), x, -2.4));
                }

                break;
            default:
                AddRule(-2.2);
                if (decoration.Decoration == Decoration.DoubleUnderline)
                {
                    AddRule(-3.6);
                }

                break;
        }

        void AddRule(double rise) => result.Marks.Add(new Placed(new RuleMark(width, Thickness, decoration.Colour), from, rise));
    }

    // Narrower ones are not drawn: they would be a grey line at best, and as many as somebody likes.
    private const double SmallestLeader = 0.5;

    private void AddLeaders(Box result, LeadersInline leaders, double x, double space, double width, double right)
    {
        if (leaders.IsRule)
        {
            result.Marks.Add(new Placed(new RuleMark(space, 0.4), x, 0));
            return;
        }

        if (leaders.Content.Count > 0)
        {
            Box one = SetBox(leaders.Content);
            // They stand on one grid from the right edge of the text, so that they line up from line to line.
            double edge = width + right;
            for (double at = edge - (Math.Ceiling(((edge - (x + space)) / one.Width) - 1e-6) * one.Width) - one.Width; one.Width >= SmallestLeader && at >= x - 1e-6; at -= one.Width)
            {
                result.Add(_context.Tagging is null ? one : Owned(one, leaders), at, 0);
            }

            return;
        }

        FontFile font = _context.Resources.Fonts.Find(_context.Document.Typefaces, leaders.Style);
        ShapedWord dot = _context.Resources.Shaper.Shape(font, ".");
        // A dot between two spaces of 4.5 units of mathematics, 18 to the em (\@dotsep of the standard classes).
        double step = (dot.Width + 0.5) * leaders.Style.Size;
        // Dots stand on one grid from the right edge, so that they line up from line to line.
        double last = width - (Math.Ceiling((width - (x + space - 4)) / step) * step);
        for (double at = last; at >= x + 4; at -= step)
        {
            result.Marks.Add(new Placed(Glyphs(font, leaders.Style, dot, [PositionTable.None], 0, 1, 0), at, 0, Owner: _context.Tagging is null ? null : leaders));
        }
    }

    private Box SetWord(Word word, int from, int to, bool hyphen, bool isSoft = false)
    {
        ShapedWord shape = word.Shape;
        int[] positions = word.Positions;
        if (from != 0 || to != word.Text.Length || hyphen)
        {
            string text = word.Text[from..to] + (hyphen ? "-" : "");
            shape = _context.Resources.Shaper.Shape(word.Font, text, word.Features);
        }

        double size = word.Style.Size;
        var box = new Box
        {
            Width = shape.Width * size,
            Height = Math.Max(0, (0.74 * size) + word.Style.Rise),
            Depth = Math.Max(0, (0.24 * size) - word.Style.Rise),
        };
        GlyphMark glyphs = Glyphs(word.Font, word.Style, shape, positions, word.Offset + from, to - from, word.Style.Colour);
        // A hyphen that only a line's end makes is told from one of the word (ISO 32000-1, 14.8.2.2.3).
        box.Marks.Add(new Placed((hyphen || isSoft) && _context.Tagging is not null ? glyphs.EndingIn(GlyphMark.SoftHyphen) : glyphs, 0, word.Style.Rise));
        return box;
    }

    private static Box Widened(Box word, double factor)
    {
        if (factor == 1)
        {
            return word;
        }

        var box = new Box { Width = word.Width * factor, Height = word.Height, Depth = word.Depth };
        foreach (Placed placed in word.Marks)
        {
            box.Marks.Add(placed.Mark is GlyphMark glyphs ? placed with { X = placed.X * factor, Mark = glyphs.Widened(factor) } : placed);
        }

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
            Font = font,
            Size = style.Size,
            Glyphs = shape.Glyphs,
            Edges = edges,
            Positions = places,
            Texts = shape.Texts,
            Colour = colour,
        };
    }

    // Where a line's badness is 10,000 (The TeXbook, p. 97), in a measure that could do better.
    private const double LooseFrom = 4.64;
    private const double WideEnough = 150;

    private void SayLoose(Flow flow, int start, int end)
    {
        int position = flow.Pieces.Skip(start).Take(end - start).Select(p => p.Position).FirstOrDefault(p => p >= 0, PositionTable.None);
        _context.Findings.Layout("line-too-loose", position, 1, "The words of this line stand very far apart.",
            "Reword it, allow divisions with \\-, or set the passage ragged with \\raggedright.");
    }

    private bool Check(Flow flow, int start, int end, double natural, double shrink, double width)
    {
        double over = natural - shrink - width;
        if (over > 0.5)
        {
            int position = PositionTable.None;
            for (int i = Math.Min(end, flow.Pieces.Count) - 1; i >= start && position < 0; i--)
            {
                position = flow.Pieces[i].Position;
            }

            _context.Findings.Layout("line-too-long", position, 1,
                $"A line runs {Units.InMillimetres(over)} mm into the margin.",
                "Reword it, allow a division with \\-, or put \\sloppy before the paragraph.");
        }

        return over > 0.5;
    }
}
