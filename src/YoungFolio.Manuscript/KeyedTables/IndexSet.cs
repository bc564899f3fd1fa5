using System.Globalization;

namespace YoungFolio.Manuscript.KeyedTables;

/// <summary>Which rows, columns or lines a key means: <c>1</c>, <c>2,4</c>, <c>2-4</c>, <c>odd</c>, <c>even</c>, <c>-</c>; Z is the last one, Y and X those before.</summary>
internal static class IndexSet
{
    /// <summary>The numbers that a set names, from 1 to a count.</summary>
    public static IReadOnlySet<int> Of(string written, int count)
    {
        var result = new HashSet<int>();
        foreach (string part in written.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            switch (part)
            {
                case "-":
                    result.UnionWith(Enumerable.Range(1, count));
                    break;
                case "odd" or "even":
                    result.UnionWith(Enumerable.Range(1, count).Where(i => i % 2 == (part == "odd" ? 1 : 0)));
                    break;
                default:
                    string[] ends = part.Split('-');
                    if (Number(ends[0], count) is { } first && Number(ends[^1], count) is { } last)
                    {
                        result.UnionWith(Enumerable.Range(1, count).Where(i => i >= first && i <= last));
                    }

                    break;
            }
        }

        return result;
    }

    private static int? Number(string text, int count) => text.Trim() switch
    {
        "Z" => count,
        "Y" => count - 1,
        "X" => count - 2,
        "W" => count - 3,
        var digits => int.TryParse(digits, NumberStyles.None, CultureInfo.InvariantCulture, out int n) ? n : null,
    };
}
