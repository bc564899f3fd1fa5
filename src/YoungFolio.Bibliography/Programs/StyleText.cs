using System.Text;

namespace YoungFolio.Bibliography;

/// <summary>
/// What styles do to text (<em>Designing BibTeX Styles</em>, section 5.3). A special character is a brace at the outermost level with a
/// command right behind it: <c>{\'E}</c>; it counts as one character. Letters beyond ASCII count as their base letter with an accent.
/// </summary>
internal static class StyleText
{
    // Commands that are letters (BibTeXing, section 4).
    private static readonly Dictionary<string, string> s_letters = new(StringComparer.Ordinal)
    {
        ["oe"] = "oe", ["OE"] = "OE", ["ae"] = "ae", ["AE"] = "AE", ["aa"] = "a", ["AA"] = "A", ["o"] = "o", ["O"] = "O", ["l"] = "l", ["L"] = "L", ["ss"] = "ss", ["i"] = "i", ["j"] = "j",
    };

    // The same as typed characters, which have no base letter in Unicode.
    private static readonly Dictionary<char, string> s_typedLetters = new()
    {
        ['œ'] = "oe", ['Œ'] = "OE", ['æ'] = "ae", ['Æ'] = "AE", ['ø'] = "o", ['Ø'] = "O", ['ł'] = "l", ['Ł'] = "L", ['ß'] = "ss", ['ı'] = "i", ['ȷ'] = "j",
    };

    /// <summary>How many characters there are: a special one counts once, braces don't.</summary>
    public static int Length(string text)
    {
        int count = 0;
        foreach ((int from, int to) in Characters(text))
        {
            count += to - from == 1 && text[from] is '{' or '}' ? 0 : 1;
        }

        return count;
    }

    /// <summary>The first characters, with the braces that close what is open in them.</summary>
    public static string Prefix(string text, int length)
    {
        int depth = 0;
        int end = 0;
        foreach ((int from, int to) in Characters(text))
        {
            if (length <= 0)
            {
                break;
            }

            bool isBrace = to - from == 1 && text[from] is '{' or '}';
            depth = Math.Max(0, depth + (!isBrace ? 0 : text[from] == '{' ? 1 : -1));
            length -= isBrace ? 0 : 1;
            end = to;
        }

        return text[..end] + new string('}', depth);
    }

    /// <summary>A stretch of a text, counted from its beginning by 1, or from its end by -1.</summary>
    public static string Substring(string text, int start, int length)
    {
        if (length <= 0 || start == 0 || Math.Abs((long)start) > text.Length)
        {
            return "";
        }

        if (start > 0)
        {
            int from = start - 1;
            return text.Substring(from, Math.Min(length, text.Length - from));
        }

        int end = text.Length + start + 1;
        int begin = Math.Max(0, end - length);
        return text[begin..end];
    }

    /// <summary>Letters, figures and spaces alone, for sorting: an accented letter is its letter, hyphens and ties are spaces.</summary>
    public static string Purify(string text)
    {
        var result = new StringBuilder(text.Length);
        int depth = 0;
        for (int i = 0; i < text.Length; i++)
        {
            char c = text[i];
            if (c == '{' && depth == 0 && i + 1 < text.Length && text[i + 1] == '\\')
            {
                int end = EndOfSpecial(text, i);
                PurifySpecial(text, i + 1, end - 1, result);
                i = end - 1;
                continue;
            }

            depth = Math.Max(0, depth + (c == '{' ? 1 : c == '}' ? -1 : 0));
            if (c is '-' or '~' || char.IsWhiteSpace(c))
            {
                result.Append(' ');
            }
            else
            {
                AppendBare(c, result);
            }
        }

        return result.ToString();
    }

    // Within a special character commands go, unless they are letters, and what isn't a letter or figure.
    private static void PurifySpecial(string text, int from, int to, StringBuilder result)
    {
        for (int i = from; i < to; i++)
        {
            if (text[i] != '\\')
            {
                AppendBare(text[i], result);
                continue;
            }

            int end = i + 1;
            while (end < to && char.IsAsciiLetter(text[end]))
            {
                end++;
            }

            result.Append(s_letters.GetValueOrDefault(text[(i + 1)..end], ""));
            i = end - 1;
        }
    }

    private static void AppendBare(char c, StringBuilder result)
    {
        if (char.IsAsciiLetterOrDigit(c))
        {
            result.Append(c);
        }
        else if (c >= 128 && char.IsLetterOrDigit(c))
        {
            result.Append(s_typedLetters.TryGetValue(c, out string? letters) ? letters : c.ToString().Normalize(NormalizationForm.FormD)[..1]);
        }
    }

    /// <summary>Changes letters that no brace protects.</summary>
    /// <param name="text">The text.</param>
    /// <param name="kind"><c>t</c>: small but for the first one and those behind a colon and a space; <c>l</c>: small; <c>u</c>: capitals.</param>
    public static string ChangeCase(string text, char kind)
    {
        var result = new StringBuilder(text.Length);
        int depth = 0;
        bool afterColon = false;
        for (int i = 0; i < text.Length; i++)
        {
            char c = text[i];
            bool keeps = kind == 't' && (i == 0 || (afterColon && char.IsWhiteSpace(text[i - 1])));
            if (c == '{' && depth == 0 && i + 1 < text.Length && text[i + 1] == '\\')
            {
                int end = EndOfSpecial(text, i);
                if (keeps)
                {
                    result.Append(text, i, end - i);
                }
                else
                {
                    ChangeSpecial(text, i, end, kind, result);
                }

                i = end - 1;
                afterColon = false;
                continue;
            }

            if (c == '\\' && depth == 0)
            {
                // A command without braces keeps its name, which would be another one.
                int end = i + 1;
                while (end < text.Length && char.IsAsciiLetter(text[end]))
                {
                    end++;
                }

                end = end == i + 1 ? Math.Min(text.Length, i + 2) : end;
                result.Append(text, i, end - i);
                i = end - 1;
                afterColon = false;
                continue;
            }

            depth = Math.Max(0, depth + (c == '{' ? 1 : c == '}' ? -1 : 0));
            result.Append(depth > 0 || keeps ? c : Changed(c, kind));
            afterColon = c == ':' || (afterColon && char.IsWhiteSpace(c));
        }

        return result.ToString();
    }

    private static char Changed(char c, char kind) => kind == 'u' ? char.ToUpperInvariant(c) : char.ToLowerInvariant(c);

    // Commands that are letters change with the others; those that are accents keep their names.
    private static void ChangeSpecial(string text, int from, int to, char kind, StringBuilder result)
    {
        for (int i = from; i < to; i++)
        {
            if (text[i] != '\\')
            {
                result.Append(Changed(text[i], kind));
                continue;
            }

            int end = i + 1;
            while (end < to && char.IsAsciiLetter(text[end]))
            {
                end++;
            }

            string name = text[(i + 1)..end];
            string other = kind == 'u' ? name.ToUpperInvariant() : name.ToLowerInvariant();
            // A dotless i has no capital of its own name.
            result.Append('\\').Append(s_letters.ContainsKey(name) && s_letters.ContainsKey(other) ? other : name);
            i = end - 1;
        }
    }

    /// <summary>A text with a full stop, unless it ends with one or with another sign that ends a sentence.</summary>
    public static string WithPeriod(string text)
    {
        string bare = text.TrimEnd('}');
        return bare.Length == 0 && text.Length == 0 ? "" : bare.Length > 0 && bare[^1] is '.' or '?' or '!' ? text : text + ".";
    }

    // The characters of a text, a special one as a whole, braces each as one.
    private static IEnumerable<(int From, int To)> Characters(string text)
    {
        int depth = 0;
        for (int i = 0; i < text.Length;)
        {
            int end = text[i] == '{' && depth == 0 && i + 1 < text.Length && text[i + 1] == '\\' ? EndOfSpecial(text, i) : i + 1;
            depth = Math.Max(0, depth + (end > i + 1 ? 0 : text[i] == '{' ? 1 : text[i] == '}' ? -1 : 0));
            yield return (i, end);
            i = end;
        }
    }

    // Behind the brace that closes it.
    private static int EndOfSpecial(string text, int open)
    {
        int depth = 0;
        for (int i = open; i < text.Length; i++)
        {
            depth += text[i] == '{' ? 1 : text[i] == '}' ? -1 : 0;
            if (depth == 0)
            {
                return i + 1;
            }
        }

        return text.Length;
    }
}
