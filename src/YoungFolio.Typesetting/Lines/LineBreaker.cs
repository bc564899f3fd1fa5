using YoungFolio.Markup;

namespace YoungFolio.Typesetting.Lines;

/// <summary>Kinds of item in a paragraph.</summary>
public enum ItemKind
{
    /// <summary>Something of fixed width.</summary>
    Box,

    /// <summary>A space that stretches and shrinks.</summary>
    Glue,

    /// <summary>A place where a line may end.</summary>
    Penalty,
}

/// <summary>An item of a paragraph (Knuth and Plass 1981, section 2). Lengths in points.</summary>
/// <param name="Kind">Its kind.</param>
/// <param name="Width">Width; of a penalty, what is added when the line ends there.</param>
/// <param name="Stretch">Stretch of glue, or of a word whose glyphs may be widened.</param>
/// <param name="Shrink">Shrink of the same.</param>
/// <param name="Penalty">Cost of ending a line there.</param>
/// <param name="IsFlagged">Whether the end is a division of a word.</param>
/// <param name="Infinite">Infinite stretch, in fil.</param>
/// <param name="InfiniteShrink">Infinite shrink, in fil: it counts in boxes, and not where lines are broken (The TeXbook, p. 97).</param>
public readonly record struct Item(
    ItemKind Kind, double Width, double Stretch = 0, double Shrink = 0, int Penalty = 0, bool IsFlagged = false, double Infinite = 0, double InfiniteShrink = 0);

/// <summary>Costs and limits (The TeXbook, ch. 14; values of the plain format, p. 348).</summary>
public sealed record BreakParameters
{
    /// <summary>Badness allowed without dividing words; below 0 skips that attempt.</summary>
    public int Pretolerance { get; init; } = 100;

    /// <summary>Badness allowed when words may be divided.</summary>
    public int Tolerance { get; init; } = 200;

    /// <summary>Stretch added to each line in a last attempt.</summary>
    public double EmergencyStretch { get; init; }

    /// <summary>Cost of each line.</summary>
    public int LinePenalty { get; init; } = 10;

    /// <summary>Cost of two divided lines in a row.</summary>
    public int DoubleHyphenDemerits { get; init; } = 10_000;

    /// <summary>Cost of a divided last line but one.</summary>
    public int FinalHyphenDemerits { get; init; } = 5_000;

    /// <summary>Cost of a loose line beside a tight one.</summary>
    public int AdjacentDemerits { get; init; } = 10_000;

    /// <summary>Lines more (or fewer) than would be best.</summary>
    public int Looseness { get; init; }

    /// <summary>Infinite stretch at each line's sides, in fil: for text that isn't flush.</summary>
    public double SideStretch { get; init; }
}

/// <summary>A chosen end of a line.</summary>
/// <param name="Index">Index of the glue or penalty at which the line ends.</param>
/// <param name="Ratio">How far its glue stretches (positive) or shrinks (negative).</param>
public readonly record struct Break(int Index, double Ratio);

/// <summary>Chooses the ends of a paragraph's lines together, by the method of Knuth and Plass (1981).</summary>
public static class LineBreaker
{
    private sealed class Node
    {
        public int Index;
        public int Line;
        public int Fitness;
        public double Width;
        public double Stretch;
        public double Shrink;
        public double Infinite;
        public double Demerits;
        public double Ratio;
        public Node? Before;
    }

    /// <summary>The best ends of lines.</summary>
    /// <param name="items">The paragraph; it ends with a penalty of −10000.</param>
    /// <param name="lineWidth">Width of each line, counted from 0.</param>
    /// <param name="parameters">Costs and limits.</param>
    /// <param name="alikeFrom">From which line on all are of one width: from there it doesn't matter which line it is (Knuth and Plass 1981, p. 1150).</param>
    /// <param name="budget">What the compile may take; null: anything.</param>
    public static List<Break> Find(IReadOnlyList<Item> items, Func<int, double> lineWidth, BreakParameters parameters, int alikeFrom = int.MaxValue, WorkBudget? budget = null)
    {
        // With more or fewer lines than would be best, their number counts.
        alikeFrom = parameters.Looseness != 0 ? int.MaxValue : alikeFrom;
        List<Break>? breaks = null;
        if (parameters.Pretolerance >= 0)
        {
            breaks = Attempt(items, lineWidth, parameters, parameters.Pretolerance, false, 0, false, alikeFrom, budget);
        }

        breaks ??= Attempt(items, lineWidth, parameters, parameters.Tolerance, true, 0, parameters.EmergencyStretch <= 0, alikeFrom, budget);
        return breaks ?? Attempt(items, lineWidth, parameters, parameters.Tolerance, true, parameters.EmergencyStretch, true, alikeFrom, budget)!;
    }

    private static List<Break>? Attempt(
        IReadOnlyList<Item> items, Func<int, double> lineWidth, BreakParameters p, double tolerance, bool divide, double emergency, bool last, int alikeFrom, WorkBudget? budget)
    {
        var active = new List<Node> { new() { Index = -1, Fitness = 1 } };
        double width = 0;
        double stretch = 0;
        double shrink = 0;
        double infinite = 0;
        for (int i = 0; i < items.Count; i++)
        {
            Item item = items[i];
            if (item.Kind == ItemKind.Box)
            {
                width += item.Width;
                stretch += item.Stretch;
                shrink += item.Shrink;
                continue;
            }

            bool legal = item.Kind == ItemKind.Glue
                ? i > 0 && items[i - 1].Kind == ItemKind.Box
                : item.Penalty < 10_000 && (divide || !item.IsFlagged);
            if (legal)
            {
                TryBreak(i);
                if (active.Count == 0)
                {
                    return null;
                }
            }

            if (item.Kind == ItemKind.Glue)
            {
                width += item.Width;
                stretch += item.Stretch;
                shrink += item.Shrink;
                infinite += item.Infinite;
            }
        }

        Node best = active.MinBy(n => n.Demerits)!;
        if (p.Looseness != 0)
        {
            // As near to the wanted number of lines as these allow (The TeXbook, p. 103).
            int wanted = best.Line + p.Looseness;
            best = active.OrderBy(n => Math.Abs(n.Line - wanted)).ThenBy(n => n.Demerits).First();
            if (best.Line != wanted && !last)
            {
                return null;
            }
        }

        var result = new List<Break>();
        for (Node? n = best; n is { Index: >= 0 }; n = n.Before)
        {
            result.Add(new Break(n.Index, n.Ratio));
        }

        result.Reverse();
        return result;

        void TryBreak(int index)
        {
            Item item = items[index];
            int penalty = item.Kind == ItemKind.Penalty ? item.Penalty : 0;
            bool forced = penalty <= -10_000;
            var candidates = new Dictionary<(int Line, int Fitness), Node>();
            Node? rescued = null;
            double rescuedRatio = 0;
            for (int a = 0; a < active.Count; a++)
            {
                budget?.Check();
                Node from = active[a];
                double natural = width - from.Width + (item.Kind == ItemKind.Penalty ? item.Width : 0);
                double available = lineWidth(from.Line);
                double difference = available - natural;
                double lineStretch = stretch - from.Stretch + emergency;
                double lineShrink = shrink - from.Shrink;
                double lineInfinite = infinite - from.Infinite + p.SideStretch;
                double ratio = difference >= 0
                    ? lineInfinite > 0 ? 0 : lineStretch > 0 ? difference / lineStretch : difference < 1e-6 ? 0 : double.PositiveInfinity
                    : lineShrink > 0 ? difference / lineShrink : double.NegativeInfinity;
                double badness = difference >= 0 && lineInfinite > 0 ? 0 : Badness(ratio);
                if (ratio < -1 - 1e-9)
                {
                    badness = double.PositiveInfinity;
                }

                if (ratio < -1 - 1e-9 || forced)
                {
                    active.RemoveAt(a--);
                    if (last && active.Count == 0 && candidates.Count == 0 && badness > tolerance)
                    {
                        // No way fits: take this line although it sticks out or is too loose.
                        (rescued, rescuedRatio) = (from, ratio);
                    }
                }

                if (badness > tolerance)
                {
                    continue;
                }

                AddCandidate(from, ratio, badness);
            }

            if (candidates.Count == 0 && rescued is not null)
            {
                AddCandidate(rescued, rescuedRatio, 0);
            }

            foreach (Node node in candidates.Values)
            {
                active.Add(node);
            }

            void AddCandidate(Node from, double ratio, double badness)
            {
                double demerits = p.LinePenalty + badness;
                demerits *= demerits;
                if (penalty >= 0)
                {
                    demerits += (double)penalty * penalty;
                }
                else if (!forced)
                {
                    demerits -= (double)penalty * penalty;
                }

                bool flagged = item.Kind == ItemKind.Penalty && item.IsFlagged;
                bool flaggedBefore = from.Index >= 0 && items[from.Index].IsFlagged;
                if (flagged && flaggedBefore)
                {
                    demerits += p.DoubleHyphenDemerits;
                }

                if (forced && flaggedBefore && index == items.Count - 1)
                {
                    demerits += p.FinalHyphenDemerits;
                }

                // Very loose, loose, decent and tight lines (The TeXbook, p. 97).
                int fitness = ratio < 0 ? (badness > 12 ? 3 : 2) : badness > 99 ? 0 : badness > 12 ? 1 : 2;
                if (Math.Abs(fitness - (from.Index < 0 ? 2 : from.Fitness)) > 1)
                {
                    demerits += p.AdjacentDemerits;
                }

                demerits += from.Demerits;
                // Among equals the later beginning wins: it makes the line before fuller.
                var key = (Math.Min(from.Line + 1, alikeFrom), fitness);
                if (candidates.TryGetValue(key, out Node? other) && other.Demerits < demerits)
                {
                    return;
                }

                // What vanishes after the break doesn't count for the next line.
                double w = width;
                double st = stretch;
                double sh = shrink;
                double inf = infinite;
                for (int k = index; k < items.Count && items[k].Kind != ItemKind.Box; k++)
                {
                    if (k > index && items[k].Kind == ItemKind.Penalty && items[k].Penalty <= -10_000)
                    {
                        break;
                    }

                    if (items[k].Kind == ItemKind.Glue)
                    {
                        w += items[k].Width;
                        st += items[k].Stretch;
                        sh += items[k].Shrink;
                        inf += items[k].Infinite;
                    }
                }

                candidates[key] = new Node
                {
                    Index = index,
                    Line = from.Line + 1,
                    Fitness = fitness,
                    Width = w,
                    Stretch = st,
                    Shrink = sh,
                    Infinite = inf,
                    Demerits = demerits,
                    Ratio = ratio,
                    Before = from,
                };
            }
        }
    }

    /// <summary>Badness of a ratio: about 100 times its cube, at most 10000 (The TeXbook, p. 97).</summary>
    public static double Badness(double ratio)
    {
        double r = Math.Abs(ratio);
        return double.IsInfinity(r) ? 10_000 : Math.Min(10_000, Math.Round(100 * r * r * r));
    }
}
