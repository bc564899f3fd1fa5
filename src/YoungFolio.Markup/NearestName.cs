namespace YoungFolio.Markup;

/// <summary>Finds the name that a writer most likely meant.</summary>
public static class NearestName
{
    /// <summary>
    /// The candidate with the smallest edit distance (insert, delete, replace, swap of neighbours), if it is
    /// near enough to be a likely slip: one edit for short names, two from five letters, three from nine.
    /// </summary>
    public static string? Find(string name, IEnumerable<string> candidates)
    {
        int limit = name.Length < 5 ? 1 : name.Length < 9 ? 2 : 3;
        string? best = null;
        int bestDistance = limit + 1;
        foreach (string candidate in candidates)
        {
            if (Math.Abs(candidate.Length - name.Length) > limit)
            {
                continue;
            }

            int distance = Distance(name, candidate, bestDistance);
            if (distance < bestDistance
                || (distance == bestDistance && best is not null && string.CompareOrdinal(candidate, best) < 0))
            {
                (best, bestDistance) = (candidate, distance);
            }
        }

        return bestDistance <= limit ? best : null;
    }

    /// <summary>Whether a name is so like another that it was hardly meant otherwise: two neighbours changed places, or one letter of five or more is another.</summary>
    public static bool IsSlip(string name, string near)
    {
        int first = 0;
        while (first < name.Length && first < near.Length && name[first] == near[first])
        {
            first++;
        }

        int last = 0;
        while (last < name.Length - first && last < near.Length - first && name[^(last + 1)] == near[^(last + 1)])
        {
            last++;
        }

        string typed = name[first..(name.Length - last)];
        string meant = near[first..(near.Length - last)];
        return (name.Length >= 4 && typed.Length == 2 && meant.Length == 2 && typed[0] == meant[1] && typed[1] == meant[0])
            || (name.Length >= 5 && typed.Length <= 1 && meant.Length <= 1);
    }

    private static int Distance(string a, string b, int cutoff)
    {
        int[] before = new int[b.Length + 1];
        int[] last = new int[b.Length + 1];
        int[] row = new int[b.Length + 1];
        for (int j = 0; j <= b.Length; j++)
        {
            last[j] = j;
        }

        for (int i = 1; i <= a.Length; i++)
        {
            row[0] = i;
            int smallest = i;
            for (int j = 1; j <= b.Length; j++)
            {
                int cost = a[i - 1] == b[j - 1] ? 0 : 1;
                row[j] = Math.Min(Math.Min(last[j] + 1, row[j - 1] + 1), last[j - 1] + cost);
                if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                {
                    row[j] = Math.Min(row[j], before[j - 2] + 1);
                }

                smallest = Math.Min(smallest, row[j]);
            }

            if (smallest > cutoff)
            {
                return int.MaxValue;
            }

            (before, last, row) = (last, row, before);
        }

        return last[b.Length];
    }
}
