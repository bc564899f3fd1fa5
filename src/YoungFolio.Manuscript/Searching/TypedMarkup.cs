using System.Text.RegularExpressions;

namespace YoungFolio.Manuscript.Searching;

/// <summary>Commands as they are typed, without carrying any out: those in comments and in text as typed aren't among them.</summary>
public static partial class TypedMarkup
{
    private static readonly HashSet<string> s_asTyped = new(StringComparer.Ordinal) { "verbatim", "verbatim*", "Verbatim", "lstlisting", "minted", "comment", "filecontents", "filecontents*" };

    /// <summary>The commands whose names are letters, in order, each with the place behind its name.</summary>
    /// <param name="text">A file's text.</param>
    public static IEnumerable<(string Name, int End)> Commands(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        return Parts(text).Where(p => p.Name.Length > 0);
    }

    /// <summary>The percent signs that begin comments, in order.</summary>
    /// <param name="text">A file's text.</param>
    public static IEnumerable<int> Comments(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        return Parts(text).Where(p => p.Name.Length == 0).Select(p => p.End);
    }

    /// <summary>Whether a place stands in a comment.</summary>
    /// <param name="text">A file's text.</param>
    /// <param name="offset">The place.</param>
    public static bool IsComment(string text, int offset)
    {
        int sign = Comments(text).TakeWhile(c => c <= offset).LastOrDefault(-1);
        return sign >= 0 && !text.AsSpan(sign, offset - sign).Contains('\n');
    }

    /// <summary>The stretches of text as typed, in order: program text and its kin.</summary>
    /// <param name="text">A file's text.</param>
    public static IEnumerable<(int From, int To)> AsTyped(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        return Commands(text).Select(c => (c.End, AfterTyped(text, c.Name, c.End))).Where(s => s.Item2 > s.End);
    }

    // Commands, and the beginnings of comments as parts without a name.
    private static IEnumerable<(string Name, int End)> Parts(string text)
    {
        for (int at = text.AsSpan().IndexOfAny('\\', '%'); at >= 0 && at < text.Length; at = Next(text, at))
        {
            if (text[at] == '%')
            {
                yield return ("", at);
                at = EndOf(text, "\n", at);
                continue;
            }

            int end = at + 1;
            while (end < text.Length && (char.IsAsciiLetter(text[end]) || text[end] == '@'))
            {
                end++;
            }

            if (end == at + 1)
            {
                // Behind a sign, which may be a backslash or a percent itself.
                at = end + 1;
                continue;
            }

            string name = text[(at + 1)..end];
            yield return (name, end);
            at = AfterTyped(text, name, end);
        }
    }

    private static int Next(string text, int from)
    {
        int next = from >= text.Length ? -1 : text.AsSpan(from).IndexOfAny('\\', '%');
        return next < 0 ? -1 : from + next;
    }

    // Behind what a command says is text as typed; of any other behind its name.
    private static int AfterTyped(string text, string name, int end) => name switch
    {
        "verb" or "lstinline" or "Verb" when end < text.Length && !char.IsAsciiLetterOrDigit(text[end]) && text[end] is not ('{' or '[') => EndOf(text, text[end].ToString(), end + 1),
        // In an address a percent sign is one.
        "url" or "path" or "nolinkurl" or "href" when end < text.Length && text[end] == '{' => EndOf(text, "}", end + 1),
        "begin" when Environment().Match(text, end) is { Success: true } begin && s_asTyped.Contains(begin.Groups[1].Value) => EndOfTyped(text, begin.Groups[1].Value, end),
        _ => end,
    };

    // Where its end stands: that is a command like any other.
    private static int EndOfTyped(string text, string environment, int from)
    {
        int found = text.IndexOf($"\\end{{{environment}}}", from, StringComparison.Ordinal);
        return found < 0 ? text.Length : found;
    }

    // Behind the next of some words, or the text's end.
    private static int EndOf(string text, string words, int from)
    {
        int found = from > text.Length ? -1 : text.IndexOf(words, from, StringComparison.Ordinal);
        return found < 0 ? text.Length : found + words.Length;
    }

    [GeneratedRegex(@"\G\s{0,3}\{([A-Za-z]+\*?)\}")]
    private static partial Regex Environment();
}
