using System.Text;
using System.Text.RegularExpressions;
using YoungFolio.Manuscript.Searching;

namespace YoungFolio.HandIn;

/// <summary>Markup that doesn't say whose it is: without authors, their places and thanks. What is said of them in the text itself stays.</summary>
public static partial class AnonymousMarkup
{
    // Who wrote it: \author stays with nothing in it, since classes ask for one.
    private static readonly HashSet<string> s_emptied = new(StringComparer.Ordinal) { "author", "authors" };

    private static readonly HashSet<string> s_dropped = new(StringComparer.Ordinal)
    {
        "affil", "affiliation", "institute", "institution", "curraddr", "email", "emailAdd", "urladdr", "thanks", "orcid", "orcidID", "orcidlink", "authornote", "corref", "cortext", "ead", "authorrunning",
        "titlerunningauthor", "fnmsep", "shortauthors", "authorinfo", "IEEEauthorblockN", "IEEEauthorblockA", "acknowledgments", "acknowledgements",
    };

    private static readonly HashSet<string> s_environments = new(StringComparer.Ordinal) { "acks", "acknowledgements", "acknowledgments", "acknowledgement", "acknowledgment", "ack", "dedication" };

    // Headings by level: one of thanks goes with all up to the next of its level or a higher one.
    private static readonly string[] s_headings = ["part", "chapter", "addchap", "section", "addsec", "subsection", "subsubsection", "paragraph"];
    private static readonly string[] s_ends = ["appendix", "bibliography", "printbibliography", "backmatter", "mainmatter", "tableofcontents", "include", "input"];

    // What thanks are called in the languages that the spelling knows (common usage).
    private static readonly HashSet<string> s_thanks = new(StringComparer.OrdinalIgnoreCase)
    {
        "acknowledgements", "acknowledgments", "acknowledgement", "acknowledgment", "thanks", "danksagung", "danksagungen", "dank", "remerciements", "agradecimientos", "ringraziamenti", "agradecimentos", "dankwoord", "about the author", "about the authors",
    };

    /// <summary>The text without them.</summary>
    public static string Of(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var result = new StringBuilder(text.Length);
        int at = 0;
        bool isEmptied = false;
        (string Name, int End)[] commands = [.. TypedMarkup.Commands(text)];
        for (int i = 0; i < commands.Length; i++)
        {
            (string name, int end) = commands[i];
            int start = end - name.Length - 1;
            if (start < at || Removal(text, commands, i) is not { } to)
            {
                continue;
            }

            // \author within a definition is no author of this manuscript.
            result.Append(text, at, start - at);
            if (s_emptied.Contains(name) && !isEmptied)
            {
                isEmptied = true;
                result.Append('\\').Append(name).Append("{}");
            }

            at = to;
        }

        string without = result.Append(text, at, text.Length - at).ToString();
        return MetadataAuthor().Replace(without, "$1{}");
    }

    // Where what a command begins ends, if it goes; null: it stays.
    private static int? Removal(string text, (string Name, int End)[] commands, int index)
    {
        (string name, int end) = commands[index];
        if (s_emptied.Contains(name) || s_dropped.Contains(name))
        {
            // Without an argument it is a switch or a definition of the manuscript's own.
            return AfterArguments(text, end) is var behind && behind > end ? behind : null;
        }

        if (name == "begin" && Argument(text, end) is { } environment && s_environments.Contains(environment))
        {
            int close = text.IndexOf($"\\end{{{environment}}}", end, StringComparison.Ordinal);
            return close < 0 ? null : close + environment.Length + 6;
        }

        int level = Array.IndexOf(s_headings, name);
        if (level < 0 || Argument(text, end) is not { } title || !s_thanks.Contains(title.Trim()))
        {
            return null;
        }

        foreach ((string next, int after) in commands.Skip(index + 1))
        {
            bool ends = Array.IndexOf(s_headings, next) is >= 0 and var other ? other <= level : s_ends.Contains(next) || (next == "end" && Argument(text, after) == "document");
            if (ends)
            {
                return after - next.Length - 1;
            }
        }

        return text.Length;
    }

    // Behind the options and the braces that follow a command.
    private static int AfterArguments(string text, int at)
    {
        int end = at;
        while (true)
        {
            int next = end;
            while (next < text.Length && (text[next] is ' ' or '*' || (text[next] == '\n' && end == at)))
            {
                next++;
            }

            if (next >= text.Length || text[next] is not ('[' or '{') || Close(text, next) is not { } close)
            {
                return end;
            }

            bool isBraced = text[next] == '{';
            end = close + 1;
            if (isBraced)
            {
                return end;
            }
        }
    }

    private static string? Argument(string text, int at)
    {
        int next = at;
        while (next < text.Length && text[next] is '*' or ' ')
        {
            next++;
        }

        if (next < text.Length && text[next] == '[' && Close(text, next) is { } option)
        {
            next = option + 1;
        }

        return next < text.Length && text[next] == '{' && Close(text, next) is { } close ? text[(next + 1)..close] : null;
    }

    private static int? Close(string text, int open)
    {
        (char begin, char end) = text[open] == '[' ? ('[', ']') : ('{', '}');
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

            if (begin == '[' && c is '{' or '}')
            {
                braces += c == '{' ? 1 : -1;
            }

            depth += braces != 0 ? 0 : c == begin ? 1 : c == end ? -1 : 0;
            if (depth == 0 && braces == 0)
            {
                return i;
            }
        }

        return null;
    }

    [GeneratedRegex(@"(\bpdfauthor\s*=\s*)(?:\{(?:[^{}]|\{[^{}]*\})*\}|[^,}\n]*)")]
    private static partial Regex MetadataAuthor();
}
