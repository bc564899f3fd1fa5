using System.Text.RegularExpressions;
using YoungFolio.Manuscript.Making;

namespace YoungFolio.Manuscript.Searching;

/// <summary>A note for those who write, as it is typed in the text.</summary>
/// <param name="Command">The command, without its backslash.</param>
/// <param name="From">The command's first character.</param>
/// <param name="To">The place behind its last argument.</param>
/// <param name="Text">What it says, in one line.</param>
public sealed record TypedNote(string Command, int From, int To, string Text);

/// <summary>A text without one of its notes.</summary>
/// <param name="From">The first character that goes.</param>
/// <param name="To">The place behind the last one.</param>
/// <param name="Passage">The words that the note stood at, where they are in the text without it.</param>
public sealed record TakenNote(int From, int To, (int From, int To) Passage);

/// <summary>Notes that are typed in texts: those of the packages for it, and of commands that a group made for them.</summary>
public static partial class TypedNotes
{
    // So much of the words before a note is what it is about.
    private const int LongestPassage = 120;

    // The commands of todonotes and fixme that say something to those who write (their manuals).
    private static readonly string[] s_known = ["todo", "fxnote", "fxwarning", "fxerror", "fxfatal"];

    /// <summary>
    /// The commands for notes, those of packages first. A command of one's own is one when it has one argument and hands it to such a
    /// command or to the margin, prints it in colour with signs of its own around it, as in <c>\textcolor{red}{[#1]}</c>, or throws it away.
    /// </summary>
    /// <param name="definitions">The commands that the manuscript defines.</param>
    public static IReadOnlyList<string> Commands(IEnumerable<TypedDefinition> definitions)
    {
        ArgumentNullException.ThrowIfNull(definitions);
        var found = new List<string>(s_known);
        foreach (TypedDefinition one in definitions.Where(d => d.Kind == DefinedKind.Command && Mandatory().Count(d.Form) == 1))
        {
            if (!found.Contains(one.Name) && IsForNotes(one, found))
            {
                found.Add(one.Name);
            }
        }

        return found;
    }

    /// <summary>The notes in a text, in order. Where such a command is defined it isn't one.</summary>
    /// <param name="text">A file's text.</param>
    /// <param name="commands">The commands for notes.</param>
    public static IEnumerable<TypedNote> Of(string text, IReadOnlyCollection<string> commands)
    {
        ArgumentNullException.ThrowIfNull(text);
        int behind = 0;
        foreach ((string name, int end) in TypedMarkup.Commands(text))
        {
            if (end <= behind)
            {
                continue;
            }

            if (name.EndsWith("command", StringComparison.OrdinalIgnoreCase) || name is "def" or "gdef" or "let")
            {
                // What is defined here may call another.
                behind = EndOfDefinition(text, end);
            }
            else if (commands.Contains(name) && Group(text, Behind(text, end, '[', ']'), '{', '}') is { } group)
            {
                behind = group.To;
                yield return new TypedNote(name, end - name.Length - 1, group.To, OneLine(text[(group.From + 1)..(group.To - 1)]));
            }
        }
    }

    /// <summary>Takes a note out of a text, with the space that it leaves, or its whole line; null when there are no words that it could be tied to.</summary>
    public static TakenNote? Take(string text, TypedNote note)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(note);
        (int from, int to) = (note.From, note.To);
        int line = text.LastIndexOf('\n', Math.Max(0, from - 1), from) + 1;
        int end = text.IndexOf('\n', to) is var next and >= 0 ? next : text.Length;
        string rest = text[to..end].TrimStart(' ', '\t');
        if (text.AsSpan(line, from - line).IsWhiteSpace() && rest is "" or "%")
        {
            (from, to) = (line, Math.Min(end + 1, text.Length));
        }
        else if (from > line && text[from - 1] == ' ' && (rest.Length == 0 || to >= text.Length || text[to] is ' ' or '.' or ',' or ';' or ':' or '!' or '?' or ')' or '%'))
        {
            from--;
        }

        string without = string.Concat(text.AsSpan(0, from), text.AsSpan(to));
        return (Before(without, from) ?? After(without, from)) is { } passage ? new TakenNote(from, to, passage) : null;
    }

    /// <summary>A note as it is typed.</summary>
    /// <param name="command">The command.</param>
    /// <param name="words">What it says.</param>
    public static string Typed(string command, string words) => $"\\{command}{{{PastedCells.Escape(OneLine(words))}}}";

    /// <summary>What a typed note says, without the backslashes that signs with a meaning wear.</summary>
    public static string Plain(string text) => Escaped().Replace(text, "$1").Replace('~', ' ');

    private static bool IsForNotes(TypedDefinition definition, List<string> found)
    {
        string body = definition.Text.Trim();
        string bare = body.StartsWith('{') && body.EndsWith('}') ? body[1..^1].Trim() : body;
        if (!bare.Contains('#', StringComparison.Ordinal))
        {
            return bare is "" or "\\ignorespaces" or "\\relax" or "\\@bsphack\\@esphack";
        }

        return CommandNames().Matches(bare).Any(m => m.Groups[1].Value is "marginpar" or "pdfcomment" || found.Contains(m.Groups[1].Value)) || Signed().IsMatch(bare);
    }

    private static string OneLine(string words) => string.Join(' ', words.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));

    // The words before a place in its paragraph, from the beginning of their sentence.
    private static (int From, int To)? Before(string text, int at)
    {
        int to = at;
        while (to > 0 && text[to - 1] is ' ' or '\t' or '\n' && !(text[to - 1] == '\n' && to > 1 && text[to - 2] == '\n'))
        {
            to--;
        }

        int from = to;
        while (from > 0 && to - from < LongestPassage && text[from - 1] != '\n' && !(to - from > 2 && text[from - 1] == ' ' && from > 1 && text[from - 2] is '.' or '!' or '?'))
        {
            from--;
        }

        // Not in the middle of a word.
        if (from > 0 && !char.IsWhiteSpace(text[from - 1]) && text.AsSpan(from, to - from).IndexOf(' ') is var space and >= 0)
        {
            from += space + 1;
        }

        // In any script.
        return text[from..to].Any(char.IsLetter) ? (from, to) : null;
    }

    private static (int From, int To)? After(string text, int at)
    {
        int from = at;
        while (from < text.Length && char.IsWhiteSpace(text[from]))
        {
            from++;
        }

        int to = from;
        while (to < text.Length && to - from < LongestPassage && text[to] != '\n')
        {
            to++;
        }

        return to > from ? (from, to) : null;
    }

    private static int EndOfDefinition(string text, int at)
    {
        while (at < text.Length && text[at] is not ('\n' or '{'))
        {
            at++;
        }

        // The name, and what it stands for.
        for (int group = 0; group < 2 && Group(text, Behind(text, at, '[', ']'), '{', '}') is { } found; group++)
        {
            at = found.To;
        }

        return at;
    }

    // Behind all groups in such brackets, or at the place itself.
    private static int Behind(string text, int at, char open, char close)
    {
        while (Group(text, at, open, close) is { } group)
        {
            at = group.To;
        }

        return at;
    }

    private static (int From, int To)? Group(string text, int at, char open, char close)
    {
        while (at < text.Length && text[at] is ' ' or '\t')
        {
            at++;
        }

        if (at >= text.Length || text[at] != open)
        {
            return null;
        }

        int depth = 0;
        for (int i = at; i < text.Length; i++)
        {
            if (text[i] == '\\')
            {
                i++;
            }
            else if (text[i] == open)
            {
                depth++;
            }
            else if (text[i] == close && --depth == 0)
            {
                return (at, i + 1);
            }
        }

        return null;
    }

    [GeneratedRegex(@"\\([&%$#_{}])")]
    private static partial Regex Escaped();

    [GeneratedRegex(@"\{[^}]*\}")]
    private static partial Regex Mandatory();

    [GeneratedRegex(@"\\([A-Za-z@]+)")]
    private static partial Regex CommandNames();

    // In colour, and with brackets or a name and a colon beside the argument: a group's notes, and no emphasis.
    [GeneratedRegex(@"\\(?:text)?color\s*(?:\[[^\]]*\])?\s*\{[^}]*\}.*(?:[\[(<:«]\s*#1|#1\s*[\])>»])", RegexOptions.Singleline)]
    private static partial Regex Signed();
}
