using System.Buffers;
using YoungFolio.Bibliography;

namespace YoungFolio.Manuscript.Files;

/// <summary>
/// Names of files as markup gives them: with or without the ending, counted from the manuscript's top or from a folder of
/// <c>\graphicspath</c>. When a file gets another name, they follow.
/// </summary>
public static class FileNames
{
    private static readonly SearchValues<char> s_ends = SearchValues.Create("}\\%#");

    // Commands whose first argument in braces names files, and the endings that may be left out there.
    private static readonly Dictionary<string, string[]> s_commands = new(StringComparer.Ordinal)
    {
        ["input"] = [".tex"],
        ["include"] = [".tex"],
        ["includeonly"] = [".tex"],
        ["subfile"] = [".tex"],
        ["subfileinclude"] = [".tex"],
        ["includegraphics"] = [".pdf", ".png", ".jpg", ".jpeg", ".svg"],
        ["includesvg"] = [".svg"],
        ["includepdf"] = [".pdf"],
        ["bibliography"] = [".bib"],
        ["addbibresource"] = [".bib"],
        ["bibliographystyle"] = [".bst"],
        ["lstinputlisting"] = [],
        ["verbatiminput"] = [],
        ["VerbatimInput"] = [],
        ["csvreader"] = [".csv"],
        ["csvautotabular"] = [".csv"],
        ["csvautobooktabular"] = [".csv"],
        ["usepackage"] = [".sty"],
        ["RequirePackage"] = [".sty"],
        ["documentclass"] = [".cls"],
        ["LoadClass"] = [".cls"],
    };

    /// <summary>The edits by which all texts of a manuscript name a file by its new path; in order, by the texts' paths.</summary>
    /// <param name="texts">The texts by path.</param>
    /// <param name="path">The file's path as it was.</param>
    /// <param name="now">Its path now.</param>
    public static IReadOnlyDictionary<string, IReadOnlyList<TextEdit>> Rename(IReadOnlyDictionary<string, string> texts, string path, string now)
    {
        List<string> folders = ["", .. texts.Values.SelectMany(GraphicsFolders).Distinct()];
        var result = new Dictionary<string, IReadOnlyList<TextEdit>>(StringComparer.Ordinal);
        foreach ((string file, string text) in texts.Where(t => !t.Key.EndsWith(".bib", StringComparison.OrdinalIgnoreCase) && !t.Key.EndsWith(".csv", StringComparison.OrdinalIgnoreCase)))
        {
            List<TextEdit> edits = [.. Find(text).SelectMany(n => Follow(n, path, now, folders))];
            if (edits.Count > 0)
            {
                result[file] = edits;
            }
        }

        return result;
    }

    private static IEnumerable<TextEdit> Follow(Named named, string path, string now, List<string> folders)
    {
        string ending = System.IO.Path.GetExtension(path);
        foreach (string folder in named.Command is "includegraphics" or "includepdf" ? folders : [""])
        {
            // As it stands, or without an ending that the command finds by itself.
            bool isWhole = folder + Plain(named.Name) == path;
            if (!isWhole && (folder + Plain(named.Name) + ending != path || !named.Endings.Contains(ending, StringComparer.OrdinalIgnoreCase)))
            {
                continue;
            }

            string name = now.StartsWith(folder, StringComparison.Ordinal) ? now[folder.Length..] : now;
            string other = System.IO.Path.GetExtension(now);
            bool isLeftOut = !isWhole && named.Endings.Contains(other, StringComparer.OrdinalIgnoreCase);
            yield return new TextEdit(named.Offset, named.Name.Length, isLeftOut ? name[..^other.Length] : name);
            yield break;
        }
    }

    private static string Plain(string name) => name.StartsWith("./", StringComparison.Ordinal) ? name[2..] : name;

    private static IEnumerable<Named> Find(string text)
    {
        foreach ((string command, int at) in TypedCommands.Find(text))
        {
            if (s_commands.TryGetValue(command, out string[]? endings) && Argument(text, at) is var (start, end))
            {
                for (int from = start; from <= end;)
                {
                    int comma = text.IndexOf(',', from, end - from);
                    int until = comma < 0 ? end : comma;
                    string name = text[from..until];
                    yield return new Named(command, name.Trim(), from + name.Length - name.TrimStart().Length, endings);
                    from = until + 1;
                }
            }
        }
    }

    private static IEnumerable<string> GraphicsFolders(string text)
    {
        foreach ((_, int at) in TypedCommands.Find(text).Where(c => c.Name == "graphicspath"))
        {
            int end = at;
            for (int depth = 0; end < text.Length; end++)
            {
                depth += text[end] == '{' ? 1 : text[end] == '}' ? -1 : 0;
                if (depth == 0 && !char.IsWhiteSpace(text[end]))
                {
                    break;
                }
            }

            foreach (string folder in text[at..end].Split('{', '}'))
            {
                if (folder.Trim() is { Length: > 0 } named)
                {
                    yield return Plain(named).TrimEnd('/') + "/";
                }
            }
        }
    }

    // The first argument in braces, after a star and options; none when it is made by other commands.
    private static (int Start, int End)? Argument(string text, int at)
    {
        at = TypedCommands.SkipNotes(text, at + (at < text.Length && text[at] == '*' ? 1 : 0));
        if (at >= text.Length || text[at] != '{')
        {
            return null;
        }

        int length = text.AsSpan(at + 1).IndexOfAny(s_ends);
        return length >= 0 && text[at + 1 + length] == '}' ? (at + 1, at + 1 + length) : null;
    }

    /// <summary>A name in the markup.</summary>
    private readonly record struct Named(string Command, string Name, int Offset, string[] Endings);
}
