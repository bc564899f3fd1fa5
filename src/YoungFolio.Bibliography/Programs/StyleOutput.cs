using System.Text;

namespace YoungFolio.Bibliography;

/// <summary>A source as a style's program wrote it.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Label">Its label as markup; null: it is numbered.</param>
/// <param name="Reference">The reference as markup.</param>
internal sealed record WrittenSource(string Key, string? Label, string Reference);

/// <summary>Reads what a style's program wrote: a <c>thebibliography</c> with what stands before it.</summary>
internal static class StyleOutput
{
    private const string Item = "\\bibitem";

    /// <summary>The commands before the first source, and the sources in their order.</summary>
    public static (string Commands, IReadOnlyList<WrittenSource> Sources) Read(string written)
    {
        var sources = new List<WrittenSource>();
        int at = NextItem(written, 0);
        string before = at < 0 ? written : written[..at];
        while (at >= 0)
        {
            int next = NextItem(written, at + Item.Length);
            if (ReadItem(next < 0 ? written[at..] : written[at..next]) is { } source)
            {
                sources.Add(source);
            }

            at = next;
        }

        return (WithoutBegin(before), sources);
    }

    // An item begins a line; one in a text is text.
    private static int NextItem(string text, int from)
    {
        while (true)
        {
            int at = text.IndexOf(Item, from, StringComparison.Ordinal);
            if (at < 0 || at == 0 || text[at - 1] == '\n')
            {
                return at;
            }

            from = at + Item.Length;
        }
    }

    private static string WithoutBegin(string before)
    {
        const string Begin = "\\begin{thebibliography}";
        int at = before.IndexOf(Begin, StringComparison.Ordinal);
        if (at < 0)
        {
            return before;
        }

        int behind = at + Begin.Length;
        behind = behind < before.Length && before[behind] == '{' ? EndOf(before, behind, '{', '}') : behind;
        return before[..at] + before[behind..];
    }

    private static WrittenSource? ReadItem(string text)
    {
        int at = Skip(text, Item.Length);
        string? label = null;
        if (at < text.Length && text[at] == '[')
        {
            int end = EndOf(text, at, '[', ']');
            label = OneLine(text[(at + 1)..Math.Max(at + 1, end - 1)]);
            at = Skip(text, end);
        }

        if (at >= text.Length || text[at] != '{')
        {
            return null;
        }

        int close = EndOf(text, at, '{', '}');
        string key = text[(at + 1)..Math.Max(at + 1, close - 1)].Trim();
        int last = text.IndexOf("\\end{thebibliography}", close, StringComparison.Ordinal);
        return new WrittenSource(key, label is ['{', ..] && EndOf(label, 0, '{', '}') == label.Length ? label[1..^1] : label, OneLine(last < 0 ? text[close..] : text[close..last]));
    }

    private static int Skip(string text, int at)
    {
        while (at < text.Length && (char.IsWhiteSpace(text[at]) || (text[at] == '%' && at + 1 < text.Length && text[at + 1] == '\n')))
        {
            at++;
        }

        return at;
    }

    // Behind the sign that closes; what is in braces closes nothing else.
    private static int EndOf(string text, int open, char opening, char closing)
    {
        int depth = 0;
        int braces = 0;
        for (int i = open; i < text.Length; i++)
        {
            char c = text[i];
            if (c == '\\')
            {
                i++;
                continue;
            }

            if (opening != '{' && c is '{' or '}')
            {
                braces += c == '{' ? 1 : -1;
                continue;
            }

            depth += braces > 0 ? 0 : c == opening ? 1 : c == closing ? -1 : 0;
            if (depth == 0 && braces == 0)
            {
                return i + 1;
            }
        }

        return text.Length;
    }

    // Lines are joined by a space; one that ends with a remark sign is joined without.
    private static string OneLine(string text)
    {
        var result = new StringBuilder(text.Length);
        foreach (string line in text.Split('\n'))
        {
            string bare = line.Trim();
            if (bare.Length == 0)
            {
                continue;
            }

            bool joins = bare[^1] == '%' && !bare.EndsWith("\\%", StringComparison.Ordinal);
            result.Append(joins ? bare.AsSpan(0, bare.Length - 1) : bare).Append(joins ? "" : " ");
        }

        return result.ToString().Trim();
    }
}
