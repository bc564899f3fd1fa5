using System.Collections.Concurrent;
using System.Reflection;

namespace YoungFolio.Typesetting.Hyphenation;

/// <summary>
/// Finds where words may be divided, by F. M. Liang's method (<em>Word Hy-phen-a-tion by Com-put-er</em>, 1983):
/// patterns give each gap a number, the largest wins, odd numbers allow a division.
/// </summary>
public sealed class Hyphenator
{
    private readonly Dictionary<string, byte[]> _patterns = new(StringComparer.Ordinal);
    private readonly Dictionary<string, int[]> _exceptions = new(StringComparer.Ordinal);
    private const int LongestKept = 60;

    private readonly ConcurrentDictionary<string, int[]> _known = new(StringComparer.Ordinal);
    private readonly int _longest;
    private readonly int _leftMinimum = 2;
    private readonly int _rightMinimum = 3;

    /// <summary>Reads patterns: a line <c>hyphenmins L R</c>, then <c>patterns</c>, then <c>exceptions</c>, an item a line.</summary>
    public Hyphenator(TextReader reader)
    {
        bool exceptions = false;
        while (reader.ReadLine() is { } line)
        {
            if (line.Length == 0 || line[0] == '%' || line == "patterns")
            {
                continue;
            }

            if (line.StartsWith("hyphenmins ", StringComparison.Ordinal))
            {
                string[] words = line.Split(' ');
                _leftMinimum = int.Parse(words[1], System.Globalization.CultureInfo.InvariantCulture);
                _rightMinimum = int.Parse(words[2], System.Globalization.CultureInfo.InvariantCulture);
            }
            else if (line == "exceptions")
            {
                exceptions = true;
            }
            else if (exceptions)
            {
                AddException(line);
            }
            else
            {
                AddPattern(line);
            }
        }

        _longest = _patterns.Count == 0 ? 0 : _patterns.Keys.Max(k => k.Length);
    }

    /// <summary>The exception list: words with their divisions as indices.</summary>
    public IReadOnlyDictionary<string, int[]> Exceptions => _exceptions;

    /// <summary>Loads the patterns of a language that ships with the project; null when there are none.</summary>
    public static Hyphenator? ForLanguage(string language)
    {
        // One published list serves both written forms of Norwegian, and both of Portuguese.
        string list = language switch { "nn" => "nb", "pt-br" => "pt", _ => language };
        using Stream? stream = Assembly.GetExecutingAssembly().GetManifestResourceStream(list + ".txt");
        if (stream is null)
        {
            return null;
        }

        using var reader = new StreamReader(stream);
        return new Hyphenator(reader);
    }

    /// <summary>Indices in the word before which it may be divided, in order.</summary>
    public int[] Divide(string word) => word.Length <= LongestKept && _known.Count < 100_000
        ? _known.GetOrAdd(word, Find)
        : Find(word);

    private int[] Find(string word)
    {
        if (word.Length < _leftMinimum + _rightMinimum || word.Length > 60)
        {
            return [];
        }

        string lower = word.ToLowerInvariant();
        if (_exceptions.TryGetValue(lower, out int[]? exception))
        {
            return exception;
        }

        string framed = "." + lower + ".";
        Span<byte> values = stackalloc byte[framed.Length + 1];
        values.Clear();
        var lookup = _patterns.GetAlternateLookup<ReadOnlySpan<char>>();
        for (int start = 0; start < framed.Length; start++)
        {
            for (int length = 1; length <= _longest && start + length <= framed.Length; length++)
            {
                if (lookup.TryGetValue(framed.AsSpan(start, length), out byte[]? levels))
                {
                    for (int i = 0; i < levels.Length; i++)
                    {
                        values[start + i] = Math.Max(values[start + i], levels[i]);
                    }
                }
            }
        }

        var result = new List<int>();
        for (int i = _leftMinimum; i <= word.Length - _rightMinimum; i++)
        {
            // values[i + 1] belongs to the gap before the word's letter i, since the frame's dot comes first.
            if ((values[i + 1] & 1) == 1)
            {
                result.Add(i);
            }
        }

        return [.. result];
    }

    private void AddPattern(string pattern)
    {
        var letters = new System.Text.StringBuilder();
        var levels = new List<byte> { 0 };
        foreach (char c in pattern)
        {
            if (char.IsAsciiDigit(c))
            {
                levels[^1] = (byte)(c - '0');
            }
            else
            {
                letters.Append(c);
                levels.Add(0);
            }
        }

        _patterns[letters.ToString()] = [.. levels];
    }

    private void AddException(string line)
    {
        var breaks = new List<int>();
        int at = 0;
        foreach (char c in line)
        {
            if (c == '-')
            {
                breaks.Add(at);
            }
            else
            {
                at++;
            }
        }

        _exceptions[line.Replace("-", "", StringComparison.Ordinal)] = [.. breaks];
    }
}
