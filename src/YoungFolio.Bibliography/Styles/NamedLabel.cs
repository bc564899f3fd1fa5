using System.Text.RegularExpressions;

namespace YoungFolio.Bibliography;

/// <summary>A label of names and year, as natbib reads it: <c>Rook et~al.(1987)Rook, Ashby, and Sable</c>, or <c>Rook, 1987</c>.</summary>
/// <param name="Authors">Family names, cut; as markup.</param>
/// <param name="Year">The year with its letter.</param>
/// <param name="AllAuthors">Family names, all; empty when the label doesn't say them.</param>
public sealed partial record NamedLabel(string Authors, string Year, string AllAuthors)
{
    /// <summary>Reads a label; null when it has no year.</summary>
    public static NamedLabel? Read(string label)
    {
        ArgumentNullException.ThrowIfNull(label);
        string text = Letter().Replace(label, "$1");
        int open = Outside(text, '(', 0);
        int close = open < 0 ? -1 : Outside(text, ')', open);
        if (close > open)
        {
            return new NamedLabel(text[..open].Trim(), text[(open + 1)..close].Trim(), text[(close + 1)..].Trim());
        }

        int comma = text.LastIndexOf(", ", StringComparison.Ordinal);
        return comma > 0 ? new NamedLabel(text[..comma].Trim(), text[(comma + 2)..].Trim(), "") : null;
    }

    // Where a sign stands outside of braces; -1: nowhere.
    private static int Outside(string text, char sign, int from)
    {
        int depth = 0;
        for (int i = from; i < text.Length; i++)
        {
            depth += text[i] == '{' ? 1 : text[i] == '}' ? -1 : 0;
            if (depth == 0 && text[i] == sign)
            {
                return i;
            }
        }

        return -1;
    }

    [GeneratedRegex(@"\{\\natexlab\{([^{}]*)\}\}")]
    private static partial Regex Letter();
}
