using YoungFolio.Documents;

namespace YoungFolio.Typesetting.Pages;

/// <summary>
/// Floats that wait for room, and where each may go. Those of one kind keep their order, whether they take one column or all. The rules are
/// the kernel's output routine's (its published source, <c>\@addtocurcol</c>, <c>\@addtonextcol</c>, <c>\@tryfcolumn</c>; from memory).
/// </summary>
internal sealed class FloatQueue(FloatRules rules)
{
    private readonly List<FloatItem> _narrow = [];
    private readonly List<FloatItem> _wide = [];
    private int _taken;

    /// <summary>How many wait.</summary>
    public int Count => _narrow.Count + _wide.Count;

    /// <summary>Takes a float from the flow. It goes on the column where it is called when that has room; otherwise it waits.</summary>
    /// <param name="figure">The float.</param>
    /// <param name="column">The column; its text so far takes what <paramref name="used"/> says, in points, without the floats at its top and foot.</param>
    /// <param name="used">In points.</param>
    /// <param name="certain">How many of the column's items are sure to stay on it.</param>
    /// <returns>Whether it stands in the text.</returns>
    public bool Place(FloatItem figure, Column column, double used, int certain)
    {
        figure.Order = ++_taken;
        if (figure.IsWide)
        {
            _wide.Add(figure);
            return false;
        }

        bool fits = !IsHeldUp(figure) && HasRoom(figure, column, used);
        double here = figure.Room + (2 * rules.InTextSeparation);
        if (fits && figure.Allows(Placement.Here) && !column.Bottom.Exists(figure.IsAlike) && used + HeightOn(column) + here <= column.Goal)
        {
            column.Items.Add(figure);
            return true;
        }

        // One in the text that may yet go to the next page must not be overtaken.
        bool isOvertaking = column.Items.Skip(certain).OfType<FloatItem>().Any(figure.IsAlike);
        if (!fits || isOvertaking || !PlaceAtEdge(figure, column, used, column.TakesTop && !column.Items.OfType<FloatItem>().Any(figure.IsAlike)))
        {
            _narrow.Add(figure);
        }

        return false;
    }

    /// <summary>Has one wait, in its order, that stood in text which goes to the next column.</summary>
    public void Wait(FloatItem figure)
    {
        figure.Order = figure.Order == 0 ? ++_taken : figure.Order;
        int at = _narrow.FindIndex(f => f.Order > figure.Order);
        _narrow.Insert(at < 0 ? _narrow.Count : at, figure);
    }

    /// <summary>Gives floats that wait to a column that begins.</summary>
    /// <param name="column">The column.</param>
    /// <param name="notes">What carried notes take of it, in points.</param>
    /// <param name="all">Whether the source wants all floats out before its text goes on.</param>
    /// <param name="isWhole">Whether the column is a page high, so that a float too high for it will find no better one.</param>
    public void Fill(Column column, double notes, bool all, bool isWhole)
    {
        List<FloatItem> alone = TakeForPage(_narrow, _wide, column.Goal - notes, rules.PageShare, all, isWhole && notes == 0);
        if (alone.Count > 0)
        {
            column.Top.AddRange(alone);
            column.HasOnlyFloats = true;
            return;
        }

        // Of each kind none passes one that stays.
        var held = new HashSet<string>(StringComparer.Ordinal);
        _narrow.RemoveAll(figure =>
        {
            bool goes = !held.Contains(figure.Block.Kind) && !IsBehind(figure, _wide) && HasRoom(figure, column, notes) && PlaceAtEdge(figure, column, notes, true);
            _ = goes || held.Add(figure.Block.Kind);
            return goes;
        });
    }

    /// <summary>Takes floats over all columns for a page that begins.</summary>
    /// <param name="goal">Height of the page in points.</param>
    /// <param name="all">Whether the source wants all floats out before its text goes on.</param>
    /// <param name="isPage">Whether they are a page of their own.</param>
    public List<FloatItem> TakeWide(double goal, bool all, out bool isPage)
    {
        List<FloatItem> taken = TakeForPage(_wide, _narrow, goal, rules.WidePageShare, all, true);
        isPage = taken.Count > 0;
        if (isPage)
        {
            return taken;
        }

        double used = 0;
        foreach (FloatItem figure in (FloatItem[])[.. _wide])
        {
            used += figure.Height + (taken.Count > 0 ? rules.WideSeparation : 0);
            if (IsHeldUp(figure) || !figure.Allows(Placement.Top) || (!figure.IsUrgent && (taken.Count >= rules.MostWide || used > rules.WideShare * goal)))
            {
                break;
            }

            taken.Add(figure);
            _wide.Remove(figure);
        }

        return taken;
    }

    /// <summary>Space between two floats of a page of floats, and above and below, in points.</summary>
    /// <param name="free">What the floats leave of the page, in points.</param>
    /// <param name="count">How many floats.</param>
    public static (double Edge, double Between) Spread(double free, int count)
    {
        // \@fptop and \@fpbot stretch once, \@fpsep twice.
        double unit = Math.Max(0, free - (FloatRules.PageSeparation * (count - 1))) / (2 * count);
        return (unit, FloatRules.PageSeparation + (2 * unit));
    }

    // The first run of floats that fills so much of a page that it may stand without text; all that fit when all must out.
    private List<FloatItem> TakeForPage(List<FloatItem> waiting, List<FloatItem> others, double goal, double share, bool all, bool isWhole)
    {
        // As many rounds as there are kinds at most: of a kind whose first one fails none goes.
        var failed = new HashSet<string>(StringComparer.Ordinal);
        for (int first = 0; first < waiting.Count; first++)
        {
            if (failed.Contains(waiting[first].Block.Kind))
            {
                continue;
            }

            var taken = new List<FloatItem>();
            var left = new HashSet<string>(failed, StringComparer.Ordinal);
            double used = 0;
            for (int i = first; i < waiting.Count; i++)
            {
                FloatItem figure = waiting[i];
                double with = used + figure.Room + (taken.Count > 0 ? FloatRules.PageSeparation : 0);
                // One that is higher than any page has one for itself.
                bool fits = with <= goal || (taken.Count == 0 && isWhole);
                if (fits && !left.Contains(figure.Block.Kind) && (all || MayStandAlone(figure, goal)) && !IsBehind(figure, others))
                {
                    taken.Add(figure);
                    used = with;
                }
                else
                {
                    left.Add(figure.Block.Kind);
                }
            }

            if (taken.Count > 0 && (all || used >= share * goal))
            {
                var gone = taken.ToHashSet();
                waiting.RemoveAll(gone.Contains);
                return taken;
            }

            failed.Add(waiting[first].Block.Kind);
        }

        return [];
    }

    /// <summary>Height that floats at a column's top and foot take, with the spaces that they come with, in points.</summary>
    public double HeightOn(Column column) =>
        column.Top.Sum(f => f.Room) + rules.SpaceOf(column.Top.Count) + column.Bottom.Sum(f => f.Room) + rules.SpaceOf(column.Bottom.Count);

    private bool IsHeldUp(FloatItem figure) => IsBehind(figure, _narrow) || IsBehind(figure, _wide);

    private static bool IsBehind(FloatItem figure, List<FloatItem> waiting) => waiting.Exists(w => w.Order < figure.Order && figure.IsAlike(w));

    // One that is too high for the share that it may have of a page with text would hold up all behind it to the end.
    private bool MayStandAlone(FloatItem figure, double goal) =>
        figure.Allows(Placement.Page) || (!figure.IsUrgent && figure.Room + rules.TextSeparation > (figure.Allows(Placement.Top) ? rules.TopShare : rules.BottomShare) * goal);

    // Room for the text counts, and how many floats the page has by now.
    private bool HasRoom(FloatItem figure, Column column, double used)
    {
        double textLeast = figure.IsUrgent ? 0 : rules.TextShare * column.Goal;
        int count = column.Top.Count + column.Bottom.Count + column.Items.Count(p => p is FloatItem);
        return (figure.IsUrgent || count < rules.Most) && Math.Max(used, textLeast) + HeightOn(column) + figure.Room <= column.Goal;
    }

    private bool PlaceAtEdge(FloatItem figure, Column column, double used, bool takesTop)
    {
        bool IsIn(List<FloatItem> there, int most, double share)
        {
            double needed = figure.Room + rules.SpaceFor(there.Count);
            bool inShare = figure.IsUrgent || (there.Count < most && there.Sum(f => f.Room) + rules.SpaceOf(there.Count) + needed <= share * column.Goal);
            return inShare && used + HeightOn(column) + needed <= column.Goal;
        }

        if (takesTop && figure.Allows(Placement.Top) && !column.Bottom.Exists(figure.IsAlike) && IsIn(column.Top, rules.MostTop, rules.TopShare))
        {
            column.Top.Add(figure);
            return true;
        }

        if (figure.Allows(Placement.Bottom) && IsIn(column.Bottom, rules.MostBottom, rules.BottomShare))
        {
            column.Bottom.Add(figure);
            return true;
        }

        return false;
    }
}
