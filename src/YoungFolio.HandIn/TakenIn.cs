using System.Text;
using System.Text.RegularExpressions;
using YoungFolio.Manuscript.Searching;

namespace YoungFolio.HandIn;

/// <summary>A manuscript of many files as one.</summary>
public static partial class TakenIn
{
    private const int Deepest = 20;

    /// <summary>Puts the files that a text takes in by <c>\input</c> and <c>\include</c> where it takes them in.</summary>
    /// <param name="main">The main file's text.</param>
    /// <param name="find">The text of a file by its path; null: there is none.</param>
    /// <returns>The one text, the paths that went into it, and why it can't be done, or null.</returns>
    public static (string Text, IReadOnlyList<string> Paths, string? Problem) Of(string main, Func<string, string?> find)
    {
        ArgumentNullException.ThrowIfNull(main);
        ArgumentNullException.ThrowIfNull(find);
        var paths = new List<string>();
        if (Only().IsMatch(main))
        {
            return (main, paths, "\\includeonly chooses between files, so they can’t be put into one.");
        }

        string text = Put(main, find, paths, 0);
        return (text, [.. paths.Distinct(StringComparer.Ordinal)], null);
    }

    private static string Put(string text, Func<string, string?> find, List<string> paths, int depth)
    {
        if (depth > Deepest)
        {
            return text;
        }

        (int From, int To)[] typed = [.. TypedMarkup.AsTyped(text)];
        var result = new StringBuilder();
        int at = 0;
        foreach (Match m in Taking().Matches(text))
        {
            string name = m.Groups[2].Value.Trim();
            string? path = new[] { name + ".tex", name }.FirstOrDefault(p => find(p) is not null);
            if (path is null || IsIn(m.Index))
            {
                continue;
            }

            result.Append(text, at, m.Index - at);
            string inner = Put(find(path)!, find, paths, depth + 1);
            paths.Add(path);
            // A file's last line ends like any other; \include begins and ends a page.
            string ended = inner.Length == 0 || inner.EndsWith('\n') ? inner : inner + "\n";
            result.Append(m.Groups[1].Value == "include" ? $"\\clearpage\n{ended}\\clearpage{{}}" : ended.Length == 0 ? "" : ended[..^1] + (RestOfLine(text, m.Index + m.Length) ? "" : "\n"));
            at = m.Index + m.Length;
        }

        return result.Append(text, at, text.Length - at).ToString();

        bool IsIn(int place) => TypedMarkup.IsComment(text, place) || typed.Any(t => t.From <= place && place < t.To);
    }

    // Whether nothing follows in the line, so that its own end does.
    private static bool RestOfLine(string text, int from)
    {
        int end = text.IndexOf('\n', from);
        return end >= 0 && text.AsSpan(from, end - from).IsWhiteSpace();
    }

    [GeneratedRegex(@"\\(input|include)\s*\{([^{}]+)\}")]
    private static partial Regex Taking();

    [GeneratedRegex(@"^[^%\n]*\\includeonly", RegexOptions.Multiline)]
    private static partial Regex Only();
}
