using System.Globalization;
using System.Text.RegularExpressions;

namespace YoungFolio.Typesetting.Images;

/// <summary>
/// The tree of a foreign PDF's pages, as far as what refers to what tells: whoever walks it must come to an end. Objects that are but a
/// reference to another count too.
/// </summary>
internal sealed partial class PdfPageTree
{
    private const int MostDepth = 200;

    // Each object's parent in the tree, and what an object that is a mere reference stands for.
    private readonly Dictionary<int, int> _above = [];
    private readonly Dictionary<int, int> _parents = [];
    private readonly Dictionary<int, int> _means = [];
    private bool _isShared;

    /// <summary>Whether all ways up end, soon, and no page hangs at two places.</summary>
    public bool IsTree => !_isShared && new[] { _above, _parents, _means }.All(Ends);

    /// <summary>Takes objects as they stand in a file.</summary>
    public void Add(string text)
    {
        MatchCollection heads = Head().Matches(text);
        for (int i = 0; i < heads.Count; i++)
        {
            int begin = heads[i].Index + heads[i].Length;
            AddObject(int.Parse(heads[i].Groups[1].Value, CultureInfo.InvariantCulture), text[begin..(i + 1 < heads.Count ? heads[i + 1].Index : text.Length)]);
        }
    }

    /// <summary>Takes objects out of a stream of them (ISO 32000-1, 7.5.7).</summary>
    /// <param name="text">The stream.</param>
    /// <param name="count">How many there are.</param>
    /// <param name="first">Where the first begins.</param>
    public void AddPacked(string text, int count, int first)
    {
        int[] numbers = [.. Number().Matches(text[..Math.Min(first, text.Length)]).Take(2 * count).Select(m => int.Parse(m.Value, CultureInfo.InvariantCulture))];
        for (int i = 0; i + 1 < numbers.Length; i += 2)
        {
            int begin = first + numbers[i + 1];
            int end = i + 3 < numbers.Length ? first + numbers[i + 3] : text.Length;
            if (begin >= 0 && begin <= end && end <= text.Length)
            {
                AddObject(numbers[i], text[begin..end]);
            }
        }
    }

    private void AddObject(int number, string text)
    {
        if (Alone().Match(text) is { Success: true } alone)
        {
            _means[number] = int.Parse(alone.Groups[1].Value, CultureInfo.InvariantCulture);
        }

        if (Parent().Match(text) is { Success: true } parent && text.Contains("/Page", StringComparison.Ordinal))
        {
            _parents[number] = int.Parse(parent.Groups[1].Value, CultureInfo.InvariantCulture);
        }

        if (Kids().Match(text) is { Success: true } kids && text.Contains("/Pages", StringComparison.Ordinal))
        {
            var own = new HashSet<int>();
            foreach (Match kid in Reference().Matches(kids.Groups[1].Value))
            {
                int below = int.Parse(kid.Groups[1].Value, CultureInfo.InvariantCulture);
                // A file that was written on holds objects twice, with the same parent.
                _isShared |= !own.Add(below) || (_above.TryGetValue(below, out int other) && other != number);
                _above[below] = number;
            }
        }
    }

    private static bool Ends(Dictionary<int, int> up)
    {
        foreach (int start in up.Keys)
        {
            int at = start;
            for (int depth = 0; up.TryGetValue(at, out int next); depth++)
            {
                if (depth > MostDepth)
                {
                    return false;
                }

                at = next;
            }
        }

        return true;
    }

    [GeneratedRegex(@"(?<!\d)(\d{1,9})\s+\d{1,5}\s+obj\b")]
    private static partial Regex Head();

    [GeneratedRegex(@"\d{1,9}")]
    private static partial Regex Number();

    [GeneratedRegex(@"^\s*(\d{1,9})\s+\d{1,5}\s+R\s*(?:endobj|$)")]
    private static partial Regex Alone();

    [GeneratedRegex(@"/Parent\s+(\d{1,9})\s+\d{1,5}\s+R")]
    private static partial Regex Parent();

    [GeneratedRegex(@"/Kids\s*\[([^\]]*)\]")]
    private static partial Regex Kids();

    [GeneratedRegex(@"(\d{1,9})\s+\d{1,5}\s+R")]
    private static partial Regex Reference();
}
