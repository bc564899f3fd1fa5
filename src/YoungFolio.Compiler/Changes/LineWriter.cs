using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Compiler.Changes;

/// <summary>Puts pieces and changes together to a line again.</summary>
internal sealed class LineWriter(List<Inline> head)
{
    private readonly List<(Inline Inline, Wrapper? Around)> _items = [.. head.Select(h => (h, (Wrapper?)null))];
    private bool _wantsSpace;
    private bool _afterDeleted;

    /// <summary>Adds a piece that stays.</summary>
    public void Add(Segment piece, bool spaceLost)
    {
        _items.Add((piece.Inline, piece.Around));
        Tail(piece.Tail);
        _wantsSpace = spaceLost;
        _afterDeleted = false;
    }

    /// <summary>Adds a piece that changed inside.</summary>
    public void Add(Segment piece, List<Inline> tail)
    {
        _items.Add((piece.Inline, piece.Around));
        Tail(tail);
        _wantsSpace = _afterDeleted = false;
    }

    /// <summary>Adds a marked stretch; a little room parts what was taken out from what it would run into.</summary>
    public void Change(List<Inline> marked, ChangeKind kind)
    {
        if (_wantsSpace && (kind == ChangeKind.Deleted || _afterDeleted))
        {
            _items.Add((new SpaceInline(new Glue(Dimension.FromPoints(2.5)), true), null));
        }

        Tail(marked);
        _afterDeleted = kind == ChangeKind.Deleted;
        _wantsSpace = marked[^1] is DecoratedInline;
    }

    /// <summary>The line.</summary>
    public IReadOnlyList<Inline> End() => Build(0, _items.Count, []);

    private void Tail(IReadOnlyList<Inline> inlines) => _items.AddRange(inlines.Select(i => (i, (Wrapper?)null)));

    // Neighbours inside the same link or decoration get it again as one.
    private List<Inline> Build(int from, int to, Wrapper[] open)
    {
        var result = new List<Inline>();
        while (from < to)
        {
            Wrapper? wrapper = Outermost(_items[from].Around, open.Length);
            if (wrapper is null)
            {
                Join(result, _items[from].Inline);
                from++;
                continue;
            }

            int end = from + 1;
            while (end < to && Outermost(_items[end].Around, open.Length)?.Inline == wrapper.Inline)
            {
                end++;
            }

            List<Inline> inner = Build(from, end, [.. open, wrapper]);
            result.Add(wrapper.Inline is LinkInline link
                ? new LinkInline(inner, link.Target, link.IsOutside)
                : new DecoratedInline(inner, ((DecoratedInline)wrapper.Inline).Decoration, ((DecoratedInline)wrapper.Inline).Colour));
            from = end;
        }

        return result;
    }

    private static Wrapper? Outermost(Wrapper? wrapper, int depth)
    {
        var all = new List<Wrapper>();
        for (; wrapper is not null; wrapper = wrapper.Outer)
        {
            all.Insert(0, wrapper);
        }

        return depth < all.Count ? all[depth] : null;
    }

    /// <summary>Adds an inline; words of one style become one run again, so that they are shaped and divided together.</summary>
    public static void Join(List<Inline> list, Inline inline)
    {
        if (inline is TextRun run && list.Count > 0 && list[^1] is TextRun last && last.Style == run.Style)
        {
            list[^1] = new TextRun(last.Text + run.Text, [.. last.Positions, .. run.Positions], run.Style);
        }
        else
        {
            list.Add(inline);
        }
    }
}
