using System.Text;

namespace YoungFolio.Bibliography;

/// <summary>A name in its four parts (Patashnik, <em>BibTeXing</em>, section 4), as markup.</summary>
/// <param name="First">Given names.</param>
/// <param name="Von">A particle in small letters.</param>
/// <param name="Last">Family name.</param>
/// <param name="Junior">Jr and its like.</param>
public sealed record PersonName(string First, string Von, string Last, string Junior)
{
    /// <summary>The name in its usual order.</summary>
    public string Full => Joined(First, Von, Last, Junior);

    /// <summary>The family name with its particle.</summary>
    public string Family => Joined(Von, Last);

    /// <summary>Whether it stands for names that aren't listed (<c>and others</c>).</summary>
    public bool IsOthers => Last == "others" && First.Length + Von.Length + Junior.Length == 0;

    /// <summary>Given names as initials: <c>E. M.</c>, <c>J.-P.</c></summary>
    public string Initials => string.Join('~', Words(First, static c => char.IsWhiteSpace(c) || c == '~').Select(w => string.Join('-', Words(w, static c => c == '-').Select(Initial))));

    /// <summary>Reads a list of names joined by “and”.</summary>
    public static IReadOnlyList<PersonName> ReadList(string text)
    {
        List<string> words = Words(text, char.IsWhiteSpace);
        var result = new List<PersonName>();
        int start = 0;
        for (int i = 0; i <= words.Count; i++)
        {
            if (i == words.Count || words[i].Equals("and", StringComparison.OrdinalIgnoreCase))
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

    /// <summary>
    /// Reads one name: <c>First von Last</c>, <c>von Last, First</c>, <c>von Last, Jr, First</c>, or biblatex' <c>family=…, given=…</c>.
    /// </summary>
    public static PersonName Read(string text)
    {
        List<string> pieces = Words(text, static c => c == ',');
        if (pieces.Count > 0 && pieces.TrueForAll(p => p.Contains('=', StringComparison.Ordinal)) && pieces.Exists(p => p.TrimStart().StartsWith("family", StringComparison.OrdinalIgnoreCase)))
        {
            string Part(string name) => pieces.Select(p => p.Split('=', 2)).FirstOrDefault(p => p[0].Trim().Equals(name, StringComparison.OrdinalIgnoreCase))?[1].Trim().Trim('"') ?? "";
            return new PersonName(Part("given"), Part("prefix"), Part("family"), Part("suffix"));
        }

        List<string> words = Words(pieces.Count > 0 ? pieces[0] : "", static c => char.IsWhiteSpace(c) || c == '~');
        if (pieces.Count >= 2)
        {
            int last = Math.Min(LastVon(words, 0) + 1, Math.Max(0, words.Count - 1));
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

    /// <summary>What is wrong with a field of names, or null.</summary>
    public static string? Problem(string text)
    {
        foreach (PersonName name in ReadList(text))
        {
            if (name.Last.Length == 0)
            {
                return "There is a name without a family name: is a comma or an “and” too many?";
            }
        }

        List<string> words = Words(text, char.IsWhiteSpace);
        if (words.Count > 0 && (words[0].Equals("and", StringComparison.OrdinalIgnoreCase) || words[^1].Equals("and", StringComparison.OrdinalIgnoreCase)))
        {
            return "An “and” stands where no name is beside it.";
        }

        foreach (string name in SplitNames(words))
        {
            int commas = Words(name, static c => c == ',').Count - 1;
            if (commas > 2)
            {
                return "Names are joined by “and”, not by commas: “Abel, Ann and Bell, Bo”.";
            }
        }

        return words.Contains("&") || words.Contains("\\&") ? "Names are joined by “and”, not by &." : words.Exists(w => w is "et" or "et.") && words.Exists(w => w is "al." or "al") ? "Write “and others” for names that aren't listed." : null;
    }

    private static IEnumerable<string> SplitNames(List<string> words)
    {
        int start = 0;
        for (int i = 0; i <= words.Count; i++)
        {
            if (i == words.Count || words[i].Equals("and", StringComparison.OrdinalIgnoreCase))
            {
                yield return string.Join(' ', words[start..i]);
                start = i + 1;
            }
        }
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

    // A word's case is that of its first letter outside braces, or of a special character: a brace with a command (BibTeXing, 4).
    private static bool IsSmall(string word)
    {
        int depth = 0;
        for (int i = 0; i < word.Length; i++)
        {
            char c = word[i];
            if (c == '{' && depth == 0 && i + 1 < word.Length && word[i + 1] == '\\')
            {
                string plain = MarkupText.Plain(word[i..]);
                return plain.Length > 0 && char.IsLower(plain[0]);
            }

            depth += c == '{' ? 1 : c == '}' ? -1 : 0;
            if (depth == 0 && c == '\\')
            {
                string plain = MarkupText.Plain(word[i..]);
                return plain.Length > 0 && char.IsLower(plain[0]);
            }

            if (depth == 0 && char.IsLetter(c))
            {
                return char.IsLower(c);
            }
        }

        return false;
    }

    private static string Initial(string word)
    {
        string plain = MarkupText.Plain(word);
        if (plain.Length == 0 || !char.IsLetter(plain[0]))
        {
            return word;
        }

        // A letter with the accents that belong to it.
        return System.Globalization.StringInfo.GetNextTextElement(plain) + ".";
    }

    private static string Join(List<string> words, int from, int to) => to > from ? string.Join(' ', words[from..to]) : "";

    private static string Joined(params string[] parts) => string.Join(' ', parts.Where(p => p.Length > 0));

    // Parts a text at separators outside braces.
    private static List<string> Words(string text, Func<char, bool> separates)
    {
        var result = new List<string>();
        var word = new StringBuilder();
        int depth = 0;
        for (int i = 0; i <= text.Length; i++)
        {
            if (i == text.Length || (depth == 0 && separates(text[i])))
            {
                if (word.Length > 0)
                {
                    result.Add(word.ToString());
                    word.Clear();
                }

                continue;
            }

            word.Append(text[i]);
            if (text[i] == '\\' && i + 1 < text.Length && !char.IsLetter(text[i + 1]))
            {
                word.Append(text[++i]);
                continue;
            }

            depth = Math.Max(0, depth + (text[i] == '{' ? 1 : text[i] == '}' ? -1 : 0));
        }

        return result;
    }
}
