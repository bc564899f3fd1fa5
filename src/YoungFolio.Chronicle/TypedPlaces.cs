using System.Text.RegularExpressions;
using YoungFolio.Manuscript.Sectioning;

namespace YoungFolio.Chronicle;

/// <summary>Under which heading a place of a typed text stands; in a file of sources: in which of them.</summary>
internal static partial class TypedPlaces
{
    private const int LongestTitle = 200;

    /// <summary>The heading's title, and where its command begins; null: none stands before the place.</summary>
    public static (string Title, int Offset)? Before(string path, string text, int place)
    {
        Regex heading = path.EndsWith(".bib", StringComparison.OrdinalIgnoreCase) ? Entry() : Heading();
        // The end of the line belongs to it: what is typed in a heading is under it.
        int end = text.IndexOf('\n', Math.Min(place, text.Length)) is >= 0 and var e ? e : text.Length;
        Match found = heading.Match(text, end);
        if (!found.Success)
        {
            return null;
        }

        string title = string.Join(' ', found.Groups[1].Value.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
        return title.Length is 0 or > LongestTitle ? null : (title, found.Index);
    }

    /// <summary>The numbers of headings by their files and places.</summary>
    public static IReadOnlyDictionary<(string Path, int Offset), string?> Numbers(IReadOnlyDictionary<string, string> texts, string main)
    {
        var sections = TypedSections.Of(texts, main);
        return sections.Headings.Zip(sections.Numbers()).DistinctBy(h => (h.First.Path, h.First.Offset)).ToDictionary(h => (h.First.Path, h.First.Offset), h => h.Second);
    }

    /// <summary>How many words a typed text has: commands, keys and mathematics aside as far as a glance tells.</summary>
    public static int Words(ReadOnlySpan<char> text)
    {
        int count = 0;
        for (int at = 0; at < text.Length; at++)
        {
            if (text[at] == '\\')
            {
                // A command, or a sign that is escaped.
                do
                {
                    at++;
                }
                while (at < text.Length && char.IsAsciiLetter(text[at]));
                at--;
            }
            else if (char.IsLetter(text[at]))
            {
                count++;
                while (at + 1 < text.Length && (char.IsLetterOrDigit(text[at + 1]) || text[at + 1] is '\'' or '’' or '-'))
                {
                    at++;
                }
            }
        }

        return count;
    }

    [GeneratedRegex(@"\\(?:part|chapter|(?:sub){0,2}section|(?:sub)?paragraph)\*?\s*(?:\[[^\]]*\]\s*)?\{((?:[^{}]|\{[^{}]*\})*)\}", RegexOptions.RightToLeft)]
    private static partial Regex Heading();

    [GeneratedRegex(@"@[A-Za-z]+\s*[{(]\s*([^,\s{}]+)\s*,", RegexOptions.RightToLeft)]
    private static partial Regex Entry();
}
