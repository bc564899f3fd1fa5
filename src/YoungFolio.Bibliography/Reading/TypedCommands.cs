namespace YoungFolio.Bibliography;

/// <summary>Commands as they are typed in a text, without carrying any out: for changes of names that stand in their arguments.</summary>
public static class TypedCommands
{
    /// <summary>All commands whose names are letters, in order, those in comments too; each with the place behind its name.</summary>
    public static IEnumerable<(string Name, int End)> Find(string text)
    {
        for (int at = text.IndexOf('\\'); at >= 0; at = at < text.Length ? text.IndexOf('\\', at) : -1)
        {
            int end = at + 1;
            while (end < text.Length && char.IsAsciiLetter(text[end]))
            {
                end++;
            }

            if (end > at + 1)
            {
                yield return (text[(at + 1)..end], end);
            }

            // Behind a sign, which may be a backslash itself.
            at = Math.Max(end, at + 2);
        }
    }

    /// <summary>The place behind what stands in brackets or parentheses before an argument.</summary>
    public static int SkipNotes(string text, int at)
    {
        while (at < text.Length)
        {
            if (text[at] is ' ' or '\t' or '\n' or '\r')
            {
                at++;
                continue;
            }

            char close = text[at] switch { '[' => ']', '(' => ')', _ => '\0' };
            if (close == '\0')
            {
                return at;
            }

            int depth = 0;
            int end = at + 1;
            while (end < text.Length && (depth > 0 || text[end] != close))
            {
                depth = Math.Max(0, depth + (text[end] == '{' ? 1 : text[end] == '}' ? -1 : 0));
                end++;
            }

            at = end + 1;
        }

        return at;
    }
}
