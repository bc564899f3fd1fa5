namespace YoungFolio.Bibliography;

/// <summary>A key as it stands in the markup of a file.</summary>
/// <param name="Key">The key.</param>
/// <param name="Offset">Where it begins.</param>
/// <param name="Brace">Where the brace of its list opens: the same for keys that are cited together.</param>
public readonly record struct CitedKey(string Key, int Offset, int Brace)
{
    /// <summary>Behind its last character.</summary>
    public int End => Offset + Key.Length;
}

/// <summary>
/// Finds keys in commands of citation, as they are typed: any command whose name has “cite” in it, and <c>\bibentry</c>, with notes in
/// brackets or parentheses, and several keys or braces in a row.
/// </summary>
public static class CitedKeys
{
    /// <summary>All keys of a text in order, those in comments too.</summary>
    public static IEnumerable<CitedKey> Find(string text) => ByCommand(text).OrderBy(k => k.Offset);

    // A note may cite too: its keys come after those that it is the note of.
    private static IEnumerable<CitedKey> ByCommand(string text)
    {
        foreach ((string name, int end) in TypedCommands.Find(text).Where(c => Cites(c.Name)))
        {
            int at = end + (end < text.Length && text[end] == '*' ? 1 : 0);
            bool many = name[^1] == 's';
            bool found = false;
            while (!found || many)
            {
                int next = TypedCommands.SkipNotes(text, at);
                if (next >= text.Length || text[next] != '{')
                {
                    break;
                }

                int close = text.IndexOf('}', next);
                if (close < 0)
                {
                    break;
                }

                foreach (CitedKey key in Keys(text, next + 1, close))
                {
                    yield return key;
                }

                at = close + 1;
                found = true;
            }
        }
    }

    private static bool Cites(string name) => name == "bibentry"
        || (name.Contains("cite", StringComparison.OrdinalIgnoreCase) && !name.StartsWith("setcite", StringComparison.Ordinal) && !name.StartsWith("defcite", StringComparison.Ordinal) && name is not ("citestyle" or "citetext"));

    private static IEnumerable<CitedKey> Keys(string text, int start, int end)
    {
        int from = start;
        for (int i = start; i <= end; i++)
        {
            if (i < end && text[i] != ',')
            {
                continue;
            }

            int left = from;
            int right = i;
            while (left < right && char.IsWhiteSpace(text[left]))
            {
                left++;
            }

            while (right > left && char.IsWhiteSpace(text[right - 1]))
            {
                right--;
            }

            if (right > left)
            {
                yield return new CitedKey(text[left..right], left, start - 1);
            }

            from = i + 1;
        }
    }
}
