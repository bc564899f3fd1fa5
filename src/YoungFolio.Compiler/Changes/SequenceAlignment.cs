namespace YoungFolio.Compiler.Changes;

/// <summary>Finds what two sequences have in common, in order (E. W. Myers, An O(ND) difference algorithm, 1986).</summary>
internal static class SequenceAlignment
{
    // Sequences that differ by more than this have little in common; the search's memory grows with the square.
    private const int MostDifferences = 2_000;

    /// <summary>Pairs of indices of equal elements, ascending in both.</summary>
    public static List<(int Before, int After)> Align<T>(IReadOnlyList<T> before, IReadOnlyList<T> after)
        where T : IEquatable<T>
    {
        var pairs = new List<(int, int)>();
        int start = 0;
        while (start < before.Count && start < after.Count && before[start].Equals(after[start]))
        {
            pairs.Add((start, start));
            start++;
        }

        int end = 0;
        while (end < before.Count - start && end < after.Count - start && before[^(end + 1)].Equals(after[^(end + 1)]))
        {
            end++;
        }

        pairs.AddRange(AlignMiddle(before, after, start, before.Count - end - start, after.Count - end - start));
        for (int i = end; i > 0; i--)
        {
            pairs.Add((before.Count - i, after.Count - i));
        }

        return pairs;
    }

    private static List<(int, int)> AlignMiddle<T>(IReadOnlyList<T> before, IReadOnlyList<T> after, int start, int n, int m)
        where T : IEquatable<T>
    {
        var pairs = new List<(int, int)>();
        int most = Math.Min(n + m, MostDifferences);
        var furthest = new int[(2 * most) + 3];
        var trace = new List<int[]>();
        for (int d = 0; d <= most; d++)
        {
            trace.Add(furthest[(most - d)..(most + d + 3)]);
            for (int k = -d; k <= d; k += 2)
            {
                int at = most + 1 + k;
                int x = k == -d || (k != d && furthest[at - 1] < furthest[at + 1]) ? furthest[at + 1] : furthest[at - 1] + 1;
                int y = x - k;
                while (x < n && y < m && before[start + x].Equals(after[start + y]))
                {
                    x++;
                    y++;
                }

                furthest[at] = x;
                if (x >= n && y >= m)
                {
                    WalkBack(trace, d, n, m, start, pairs);
                    return pairs;
                }
            }
        }

        return pairs;
    }

    private static void WalkBack(List<int[]> trace, int d, int x, int y, int start, List<(int, int)> pairs)
    {
        for (; d >= 0; d--)
        {
            // The row of step d holds diagonals −d−1 to d+1.
            int[] row = trace[d];
            int k = x - y;
            int at = k + d + 1;
            int from = k == -d || (k != d && row[at - 1] < row[at + 1]) ? k + 1 : k - 1;
            int fromX = d == 0 ? 0 : row[from + d + 1];
            int fromY = d == 0 ? 0 : fromX - from;
            while (x > fromX && y > fromY)
            {
                x--;
                y--;
                pairs.Add((start + x, start + y));
            }

            x = fromX;
            y = fromY;
        }

        pairs.Reverse();
    }
}
