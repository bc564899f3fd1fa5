using YoungFolio.Bibliography;
using YoungFolio.Manuscript.Packages;

namespace YoungFolio.Manuscript.SettingUp;

/// <summary>An edit of one of a manuscript's files.</summary>
/// <param name="File">The file.</param>
/// <param name="Edit">The edit.</param>
public sealed record FileEdit(string File, TextEdit Edit);

/// <summary>
/// The smallest changes of a preamble: what is put in comes out again without a trace. Lines that are written here may hold a package and
/// the command that needs it, as in <c>\usepackage{setspace}\onehalfspacing</c>: they go as they came.
/// </summary>
internal static class PreambleEdits
{
    private const string EmptyFields = "\\fancyhf{}";
    private const string Spacing = "\\usepackage{setspace}";

    // What is written into one line with the command that needs it.
    private static readonly Dictionary<string, string> s_along = new(StringComparer.Ordinal)
    {
        ["singlespacing"] = Spacing, ["onehalfspacing"] = Spacing, ["doublespacing"] = Spacing, ["setstretch"] = Spacing, ["pagestyle"] = "\\usepackage{fancyhdr}", ["linenumbers"] = "\\usepackage{lineno}",
    };

    /// <summary>Puts an option at the end of a list; where there is no list yet, one behind the command's name.</summary>
    public static FileEdit AddItem(TypedPreamble preamble, PreambleCommand command, TypedGroup? list, string item)
    {
        if (list is not { } group)
        {
            int behind = command.From + 1 + command.Name.Length;
            return new FileEdit(command.File, new TextEdit(behind, 0, $"[{item}]"));
        }

        string words = preamble.Words(command, group);
        return preamble.Items(command, group) is [.., var last]
            ? new FileEdit(command.File, new TextEdit(last.To, 0, (words.Contains(", ", StringComparison.Ordinal) ? ", " : ",") + item))
            : new FileEdit(command.File, new TextEdit(group.From, 0, item));
    }

    /// <summary>Takes an option out of a list; the last one takes its brackets along.</summary>
    public static FileEdit RemoveItem(TypedPreamble preamble, PreambleCommand command, TypedGroup group, int from)
    {
        string text = preamble.Texts[command.File];
        List<(int From, int To)> items = [.. preamble.Items(command, group)];
        int at = items.FindIndex(i => i.From == from);
        int to = items[at].To;
        if (items.Count == 1)
        {
            bool isAlone = group.Open == '[' && string.IsNullOrWhiteSpace(text[group.From..from] + text[to..group.To]);
            return isAlone ? Gone(group.OuterFrom, group.OuterTo) : Gone(from, to);
        }

        // With the comma behind it, the last one with that before it; comments between options stay.
        bool isLast = at == items.Count - 1;
        (int gapFrom, int gapTo) = isLast ? (items[at - 1].To, from) : (to, items[at + 1].From);
        bool hasComment = text.AsSpan(gapFrom, gapTo - gapFrom).Contains('%');
        return isLast ? Gone(hasComment ? from : gapFrom, to) : Gone(from, hasComment ? text.IndexOf(',', to) + 1 : gapTo);

        FileEdit Gone(int start, int end) => new(command.File, new TextEdit(start, end - start, ""));
    }

    /// <summary>Puts a line behind a command.</summary>
    public static FileEdit LineBehind(TypedPreamble preamble, PreambleCommand command, string line)
    {
        string text = preamble.Texts[command.File];
        int end = text.IndexOf('\n', command.To);
        string rest = text[command.To..(end < 0 ? text.Length : end)].Trim();
        // What else stands in the line stays before it, unless it goes on in the next one.
        bool goesOn = rest.Contains("\\begin{document}", StringComparison.Ordinal) || rest.Count(c => c == '{') != rest.Count(c => c == '}');
        return goesOn && !rest.StartsWith('%') ? new FileEdit(command.File, new TextEdit(command.To, 0, line))
            : end < 0 ? new FileEdit(command.File, new TextEdit(text.Length, 0, "\n" + line))
            : new FileEdit(command.File, new TextEdit(end + 1, 0, line + "\n"));
    }

    /// <summary>Puts a line before a place.</summary>
    public static FileEdit LineBefore(TypedPreamble preamble, string file, int at, string line)
    {
        string text = preamble.Texts[file];
        int start = at == 0 ? 0 : text.LastIndexOf('\n', at - 1) + 1;
        return text.AsSpan(start, at - start).IsWhiteSpace()
            ? new FileEdit(file, new TextEdit(start, 0, line + "\n"))
            : new FileEdit(file, new TextEdit(at, 0, line));
    }

    /// <summary>Puts a line where packages are loaded: behind the others, before those that must come after it. Null: there is no place for it.</summary>
    public static FileEdit? PackageLine(TypedPreamble preamble, string package, string line)
    {
        PreambleCommand? behind = null;
        foreach (PreambleCommand command in preamble.Commands.Where(c => c.Held == HeldBecause.No))
        {
            if (command.Name is "documentclass")
            {
                behind = command;
            }
            else if (command.Name is "usepackage" or "RequirePackage")
            {
                if (Names(preamble, command).Any(n => PackageCatalogue.Find(n)?.ComesAfter.Contains(package) == true))
                {
                    return LineBefore(preamble, command.File, command.From, line);
                }

                behind = command;
            }
        }

        return behind is null ? null : LineBehind(preamble, behind, line);
    }

    /// <summary>Puts a line at the preamble's end. Null: the text begins nowhere.</summary>
    public static FileEdit? LastLine(TypedPreamble preamble, string line) =>
        preamble.Begin is { } begin && preamble.Commands.Any(c => c.Name == "documentclass") ? LineBefore(preamble, begin.File, begin.At, line) : null;

    /// <summary>Takes a command away: with its line where that holds nothing else, but what was written there along with it.</summary>
    public static FileEdit Remove(TypedPreamble preamble, PreambleCommand command)
    {
        string text = preamble.Texts[command.File];
        int from = command.From - (s_along.TryGetValue(command.Name, out string? along) && text.AsSpan(0, command.From).EndsWith(along) ? along.Length : 0);
        int to = command.To + (command.Name == "pagestyle" && text.AsSpan(command.To).StartsWith(EmptyFields) ? EmptyFields.Length : 0);
        int start = from == 0 ? 0 : text.LastIndexOf('\n', from - 1) + 1;
        int end = text.IndexOf('\n', to) is >= 0 and var e ? e : text.Length;
        return from > start || !text.AsSpan(to, end - to).TrimEnd('\r').IsEmpty ? new FileEdit(command.File, new TextEdit(from, to - from, ""))
            : end < text.Length ? new FileEdit(command.File, new TextEdit(start, end + 1 - start, ""))
            : start > 0 ? new FileEdit(command.File, new TextEdit(start - 1, end + 1 - start, ""))
            : new FileEdit(command.File, new TextEdit(start, end - start, ""));
    }

    /// <summary>Takes a package out of the command that loads it.</summary>
    public static FileEdit RemovePackage(TypedPreamble preamble, PreambleCommand command, string package)
    {
        TypedGroup list = TypedPreamble.Argument(command)!.Value;
        IReadOnlyList<(int From, int To)> items = preamble.Items(command, list);
        return items.Count <= 1 ? Remove(preamble, command) : RemoveItem(preamble, command, list, items.First(i => preamble.Texts[command.File][i.From..i.To] == package).From);
    }

    /// <summary>The packages that a command loads.</summary>
    public static IEnumerable<string> Names(TypedPreamble preamble, PreambleCommand command) =>
        TypedPreamble.Argument(command) is { } list ? preamble.Items(command, list).Select(i => preamble.Texts[command.File][i.From..i.To]) : [];
}
