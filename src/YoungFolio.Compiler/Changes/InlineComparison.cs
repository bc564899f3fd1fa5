using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Compiler.Changes;

/// <summary>Compares lines of text word by word and marks what changed in them.</summary>
internal sealed class InlineComparison(WordReader before, WordReader after, ChangeLog log, BothTrees files)
{
    /// <summary>Compares the blocks of boxes and notes; set by the comparison of blocks itself.</summary>
    public BlockComparison Blocks { get; set; } = null!;

    /// <summary>Reads the earlier state.</summary>
    public WordReader Before => before;

    /// <summary>Reads the later state.</summary>
    public WordReader After => after;

    /// <summary>The later line with what was taken out still in it; the very same object when nothing changed.</summary>
    public IReadOnlyList<Inline> Merge(IReadOnlyList<Inline> earlier, IReadOnlyList<Inline> later)
    {
        var head = new List<Inline>();
        List<Segment> old = before.Read(earlier, []);
        List<Segment> now = after.Read(later, head);
        List<(int Before, int After)> kept = Sensible(
            SequenceAlignment.Align([.. old.Select(p => p.Key)], [.. now.Select(p => p.Key)]), old, now);
        if (kept.Count == old.Count && kept.Count == now.Count)
        {
            return later;
        }

        var line = new LineWriter(head);
        int i = 0;
        int j = 0;
        foreach ((int a, int b) in kept.Append((old.Count, now.Count)))
        {
            MergeGap(old[i..a], now[j..b], line);
            if (b < now.Count)
            {
                line.Add(now[b], spaceLost: old[a].EndsInSpace && !now[b].EndsInSpace);
            }

            i = a + 1;
            j = b + 1;
        }

        return line.End();
    }

    /// <summary>A whole line that came in or was taken out.</summary>
    public IReadOnlyList<Inline> Whole(IReadOnlyList<Inline> content, ChangeKind kind)
    {
        var head = new List<Inline>();
        List<Segment> pieces = (kind == ChangeKind.Inserted ? after : before).Read(content, head);
        if (pieces.Count == 0)
        {
            return kind == ChangeKind.Inserted ? content : [];
        }

        var line = new LineWriter(kind == ChangeKind.Inserted ? head : []);
        line.Change(Marked(pieces, kind), kind);
        return line.End();
    }

    /// <summary>A displayed formula that came in or was taken out, as one marked piece.</summary>
    public MathList Whole(MathList formula, TextStyle style, ChangeKind kind)
    {
        if (formula.Nodes.Count == 0)
        {
            return formula;
        }

        var whole = new MathInline(new MathList([new SizeChange(MathSize.Display), .. formula.Nodes]), style with { Colour = ColourOf(kind) });
        return new MathList([new Atom(AtomClass.Ordinary, new TextNucleus([log.Note(kind, [new MathInline(formula, style)]), Decorated([whole], kind)]))
        {
            Position = formula.Nodes[0].Position,
        }]);
    }

    // A word or two left alone between changes only makes the line hard to read: they count as changed too.
    private static List<(int, int)> Sensible(List<(int Before, int After)> pairs, List<Segment> old, List<Segment> now)
    {
        if (pairs.Count * 3 < Math.Max(old.Count, now.Count) && old.Count > 6 && now.Count > 6)
        {
            return [];
        }

        var kept = new List<(int, int)>();
        for (int i = 0; i < pairs.Count;)
        {
            int end = i + 1;
            while (end < pairs.Count && pairs[end].Before == pairs[end - 1].Before + 1 && pairs[end].After == pairs[end - 1].After + 1)
            {
                end++;
            }

            (int a, int b) = pairs[i];
            (int lastA, int lastB) = pairs[end - 1];
            int gapBefore = i == 0 ? a + b : a - pairs[i - 1].Before + (b - pairs[i - 1].After) - 2;
            int gapAfter = end == pairs.Count ? old.Count - lastA + (now.Count - lastB) - 2 : pairs[end].Before - lastA + (pairs[end].After - lastB) - 2;
            bool isSmall = end - i <= 2 && pairs[i..end].Sum(p => now[p.After].Key.Length) <= 4;
            if (!(isSmall && gapBefore >= 3 && gapAfter >= 3))
            {
                kept.AddRange(pairs[i..end]);
            }

            i = end;
        }

        return kept;
    }

    // Boxes, tables and notes at the same place are compared inside rather than replaced whole.
    private void MergeGap(List<Segment> old, List<Segment> now, LineWriter line)
    {
        List<int> oldHolders = [.. Enumerable.Range(0, old.Count).Where(k => Holds(old[k].Inline))];
        List<int> holders = [.. Enumerable.Range(0, now.Count).Where(k => Holds(now[k].Inline))];
        int i = 0;
        int j = 0;
        foreach ((int a, int b) in oldHolders.Zip(holders).Where(p => old[p.First].Inline.GetType() == now[p.Second].Inline.GetType()))
        {
            AddChange(old[i..a], now[j..b], line);
            line.Add(now[b] with { Inline = Inside(old[a].Inline, now[b].Inline) }, now[b].Tail);
            i = a + 1;
            j = b + 1;
        }

        AddChange(old[i..], now[j..], line);
    }

    private static bool Holds(Inline inline) =>
        inline is BoxInline or TransformInline or BlockBoxInline or TableInline or NoteInline { Body: not null } or MarginInline;

    private Inline Inside(Inline old, Inline now) => (old, now) switch
    {
        (BoxInline a, BoxInline b) => b with { Content = Merge(a.Content, b.Content) },
        (TransformInline a, TransformInline b) => b with { Content = Merge(a.Content, b.Content) },
        (BlockBoxInline a, BlockBoxInline b) => b with { Content = Blocks.Merge(a.Content, b.Content) },
        (TableInline a, TableInline b) => new TableInline(Blocks.Tables.Merge(a.Table, b.Table), b.Vertical),
        (NoteInline a, NoteInline b) => b with { Body = Blocks.Merge(a.Body!, b.Body!) },
        (MarginInline a, MarginInline b) => new MarginInline(Blocks.Merge(a.Content, b.Content)),
        _ => now,
    };

    private void AddChange(List<Segment> old, List<Segment> now, LineWriter line)
    {
        if (old.Count > 0)
        {
            line.Change(Marked(old, ChangeKind.Deleted), ChangeKind.Deleted);
        }

        if (now.Count > 0)
        {
            line.Change(Marked(now, ChangeKind.Inserted), ChangeKind.Inserted);
        }
    }

    private List<Inline> Marked(List<Segment> pieces, ChangeKind kind)
    {
        var looks = new List<Inline>();
        foreach (Segment piece in pieces)
        {
            Inline? shown = kind == ChangeKind.Inserted ? Coloured(piece.Inline, kind) : Struck(piece.Inline);
            if (shown is not null)
            {
                LineWriter.Join(looks, shown);
                looks.AddRange(kind == ChangeKind.Inserted ? piece.Tail : piece.Tail.Where(t => t is SpaceInline));
            }
        }

        AnchorInline anchor = log.Note(kind, [.. pieces.Select(p => p.Inline)]);
        if (looks is [.., TextRun { Text: [.., ' '] } last])
        {
            // The space behind the last word carries no line.
            int end = last.Text.TrimEnd(' ').Length;
            looks[^1] = new TextRun(last.Text[..end], last.Positions[..end], last.Style);
            return [anchor, Decorated(looks, kind), new TextRun(last.Text[end..], last.Positions[end..], last.Style)];
        }

        return [anchor, Decorated(looks, kind)];
    }

    private static int ColourOf(ChangeKind kind) => kind == ChangeKind.Inserted ? ChangeMarks.InsertedColour : ChangeMarks.DeletedColour;

    private static DecoratedInline Decorated(IReadOnlyList<Inline> content, ChangeKind kind) =>
        new(content, kind == ChangeKind.Inserted ? Decoration.Underline : Decoration.StrikeOut, ColourOf(kind));

    private Inline Coloured(Inline inline, ChangeKind kind) => inline switch
    {
        TextRun run => run with { Style = run.Style with { Colour = ColourOf(kind) } },
        MathInline math => math with { Style = math.Style with { Colour = ColourOf(kind) } },
        ImageInline image => new BoxInline([image]) { IsFramed = true, Padding = 2, FrameLine = 1.5, FrameColour = ColourOf(kind) },
        BoxInline box => box with { Content = [.. box.Content.Select(i => Coloured(i, kind))] },
        NoteInline { Body: { } body } note => note with { Mark = [.. note.Mark.Select(i => Coloured(i, kind))], Body = Blocks.Whole(body, kind) },
        ReferenceInline reference => reference with { Style = reference.Style with { Colour = ColourOf(kind) } },
        BlockBoxInline box => box with { Content = Blocks.Whole(box.Content, kind) },
        TransformInline transform => transform with { Content = Whole(transform.Content, kind) },
        TableInline table => new TableInline(Blocks.Tables.Whole(table.Table, kind), table.Vertical),
        MarginInline margin => new MarginInline(Blocks.Whole(margin.Content, kind)),
        _ => inline,
    };

    // What was taken out leads nowhere and shows what it printed at its time.
    private Inline? Struck(Inline inline) => inline switch
    {
        ReferenceInline reference => Text(log.Printed(reference, ChangeKind.Deleted), reference.Style),
        ImageInline image => Coloured(new ImageInline(image.Path.Length > 0 && files.Find(BothTrees.Earlier(image.Path)) is not null ? BothTrees.Earlier(image.Path) : image.Path, image.Position)
        {
            Width = image.Width,
            Height = image.Height,
            Scale = image.Scale,
            Angle = image.Angle,
            Page = image.Page,
            Trim = image.Trim,
            Clips = image.Clips,
            KeepsAspect = image.KeepsAspect,
        }, ChangeKind.Deleted),
        LineBreakInline => null,
        _ => Coloured(inline, ChangeKind.Deleted),
    };

    private static TextRun? Text(string text, TextStyle style) =>
        text.Length == 0 ? null : new TextRun(text, [.. Enumerable.Repeat(PositionTable.None, text.Length)], style with { Colour = ChangeMarks.DeletedColour });
}
