namespace YoungFolio.Bibliography;

/// <summary>A name in its four parts (Patashnik, <em>BibTeXing</em>, section 4).</summary>
/// <param name="First">Given names.</param>
/// <param name="Von">A particle in small letters.</param>
/// <param name="Last">Family name.</param>
/// <param name="Junior">Jr and its like.</param>
public sealed record PersonName(string First, string Von, string Last, string Junior)
{
    /// <summary>The name in its usual order.</summary>
    public string Full => string.Join(' ', new[] { First, Von, Last, Junior }.Where(p => p.Length > 0));

    /// <summary>What sorting goes by.</summary>
    public string SortKey => string.Join(' ', new[] { Von, Last, Junior, First }.Where(p => p.Length > 0)).ToLowerInvariant();

    /// <summary>Reads a list of names joined by “and”.</summary>
    public static IReadOnlyList<PersonName> ReadList(string text)
    {
        List<string> words = Words(text, static c => char.IsWhiteSpace(c));
        var result = new List<PersonName>();
        int start = 0;
        for (int i = 0; i <= words.Count; i++)
        {
            if (i == words.Count || words[i] == "and")
            {
                if (i > start)
                {
                    result.Add(Read(string.Join(' ', words[start..i])));
                }

                start = i + 1;
            }
        }

        return result;
    }

    /// <summary>Reads one name: <c>First von Last</c>, <c>von Last, First</c> or <c>von Last, Jr, First</c>.</summary>
    public static PersonName Read(string text)
    {
        List<string> pieces = Words(text, static c => c == ',');
        List<string> words = Words(pieces.Count > 0 ? pieces[0] : "", char.IsWhiteSpace);
        if (pieces.Count >= 2)
        {
            int last = LastVon(words, 0) + 1;
            last = Math.Min(last, Math.Max(0, words.Count - 1));
            return new PersonName(pieces[^1].Trim(), Join(words, 0, last), Join(words, last, words.Count), pieces.Count > 2 ? pieces[1].Trim() : "");
        }

        int von = words.FindIndex(IsSmall);
        if (von < 0 || von == words.Count - 1)
        {
            int split = Math.Max(0, words.Count - 1);
            return new PersonName(Join(words, 0, split), "", Join(words, split, words.Count), "");
        }

        int family = Math.Min(LastVon(words, von) + 1, words.Count - 1);
        return new PersonName(Join(words, 0, von), Join(words, von, family), Join(words, family, words.Count), "");
    }

    private static int LastVon(List<string> words, int from)
    {
        int last = -1;
        for (int i = from; i < words.Count - 1; i++)
        {
            last = IsSmall(words[i]) ? i : last;
        }

        return last;
    }

    private static bool IsSmall(string word) => word.Length > 0 && char.IsLower(word[0]);

    private static string Join(List<string> words, int from, int to) => to > from ? string.Join(' ', words[from..to]) : "";

    // Parts a text at separators outside braces.
    private static List<string> Words(string text, Func<char, bool> separates)
    {
        var result = new List<string>();
        int depth = 0;
        int start = 0;
        for (int i = 0; i <= text.Length; i++)
        {
            if (i == text.Length || (depth == 0 && separates(text[i])))
            {
                if (i > start)
                {
                    result.Add(text[start..i]);
                }

                start = i + 1;
            }
            else
            {
                depth += text[i] == '{' ? 1 : text[i] == '}' ? -1 : 0;
            }
        }

        return result;
    }
}
