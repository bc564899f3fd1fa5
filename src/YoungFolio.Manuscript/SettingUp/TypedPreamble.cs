using System.Text.RegularExpressions;
using YoungFolio.Manuscript.Searching;

namespace YoungFolio.Manuscript.SettingUp;

/// <summary>Why a place of a preamble is read but left alone.</summary>
public enum HeldBecause
{
    /// <summary>It isn't: it may be changed.</summary>
    No,

    /// <summary>It holds only under a condition.</summary>
    Condition,

    /// <summary>It stands in a definition, and holds where that is used.</summary>
    Definition,

    /// <summary>It stands in a style or class file, which other manuscripts may share.</summary>
    Style,
}

/// <summary>What stands in brackets or braces behind a command.</summary>
/// <param name="Open"><c>[</c> or <c>{</c>; a space for an argument without either.</param>
/// <param name="From">Its first character, inside.</param>
/// <param name="To">The place behind its last one, inside.</param>
internal readonly record struct TypedGroup(char Open, int From, int To)
{
    /// <summary>The place of what opens it.</summary>
    public int OuterFrom => Open == ' ' ? From : From - 1;

    /// <summary>The place behind what closes it.</summary>
    public int OuterTo => Open == ' ' ? To : To + 1;
}

/// <summary>A command of a preamble with its arguments.</summary>
/// <param name="File">Its file.</param>
/// <param name="Name">Its name.</param>
/// <param name="From">Its backslash.</param>
/// <param name="To">The place behind its last argument.</param>
/// <param name="Groups">Its arguments.</param>
/// <param name="Held">Why it is left alone.</param>
internal sealed record PreambleCommand(string File, string Name, int From, int To, IReadOnlyList<TypedGroup> Groups, HeldBecause Held);

/// <summary>
/// A manuscript's preamble as it is typed, over all files that it takes in: the commands that set something, in the order in which they
/// are read. Nothing is expanded.
/// </summary>
internal sealed partial class TypedPreamble
{
    private const int Deepest = 8;
    private const int MostCommands = 4000;
    private const string AbstractBegin = "{abstract}";
    private const string AbstractEnd = "\\end{abstract}";

    // Arguments: o in brackets, m in braces or a single command.
    private static readonly Dictionary<string, string> s_known = new(StringComparer.Ordinal)
    {
        ["documentclass"] = "omo", ["LoadClass"] = "omo", ["usepackage"] = "omo", ["RequirePackage"] = "omo", ["PassOptionsToPackage"] = "mm", ["PassOptionsToClass"] = "mm",
        ["geometry"] = "m", ["hypersetup"] = "m", ["setlength"] = "mm", ["setcounter"] = "mm", ["linespread"] = "m", ["setstretch"] = "m", ["singlespacing"] = "", ["onehalfspacing"] = "", ["doublespacing"] = "",
        ["pagestyle"] = "m", ["fancyhead"] = "om", ["fancyfoot"] = "om", ["fancyhf"] = "om", ["lhead"] = "om", ["chead"] = "om", ["rhead"] = "om", ["lfoot"] = "om", ["cfoot"] = "om", ["rfoot"] = "om",
        ["renewcommand"] = "mm", ["title"] = "om", ["author"] = "om", ["date"] = "m", ["includeonly"] = "m", ["setmainlanguage"] = "om", ["setdefaultlanguage"] = "om", ["setmainfont"] = "omo", ["linenumbers"] = "",
        ["numberwithin"] = "mm", ["bibliographystyle"] = "m", ["tableofcontents"] = "", ["listoffigures"] = "", ["listoftables"] = "", ["maketitle"] = "", ["ExecuteBibliographyOptions"] = "om",
        ["input"] = "m", ["include"] = "m", ["subfile"] = "m", ["parindent"] = "=", ["parskip"] = "=",
    };

    private static readonly HashSet<string> s_definitions = new(StringComparer.Ordinal)
    {
        "newcommand", "renewcommand", "providecommand", "DeclareRobustCommand", "newenvironment", "renewenvironment", "NewDocumentCommand", "RenewDocumentCommand", "NewDocumentEnvironment", "def", "gdef", "edef", "xdef",
        "DeclareOption", "newpagestyle", "fancypagestyle", "titleformat",
    };

    // What a manuscript redefines so often that it is a setting.
    private static readonly HashSet<string> s_redefined = new(StringComparer.Ordinal) { "headrulewidth", "footrulewidth", "baselinestretch" };

    private readonly List<PreambleCommand> _commands = [];
    private readonly HashSet<string> _open = new(StringComparer.Ordinal);

    private TypedPreamble(IReadOnlyDictionary<string, string> texts) => Texts = texts;

    /// <summary>The manuscript's texts, by path.</summary>
    public IReadOnlyDictionary<string, string> Texts { get; }

    /// <summary>The commands before the text begins, in order.</summary>
    public IReadOnlyList<PreambleCommand> Commands => _commands;

    /// <summary>Commands of the text that set something, such as the contents.</summary>
    public IReadOnlyList<PreambleCommand> InText { get; private set; } = [];

    /// <summary>Where the text begins; null: nowhere.</summary>
    public (string File, int At)? Begin { get; private set; }

    /// <summary>Reads a preamble.</summary>
    /// <param name="texts">The manuscript's texts, by path.</param>
    /// <param name="main">The main file.</param>
    public static TypedPreamble Of(IReadOnlyDictionary<string, string> texts, string main)
    {
        ArgumentNullException.ThrowIfNull(texts);
        var preamble = new TypedPreamble(texts);
        preamble.Read(main, HeldBecause.No);
        // Without a beginning everything read may belong to the text: there is no preamble then.
        if (preamble.Begin is { } begin)
        {
            preamble.InText = preamble.ReadText(begin, main);
        }

        return preamble;
    }

    /// <summary>The words of a group.</summary>
    public string Words(PreambleCommand command, TypedGroup group) => Texts[command.File][group.From..group.To];

    /// <summary>The parts of a list that is parted by commas, without the space and the comments around each.</summary>
    public IReadOnlyList<(int From, int To)> Items(PreambleCommand command, TypedGroup group)
    {
        string text = Texts[command.File];
        var items = new List<(int, int)>();
        int from = group.From;
        int depth = 0;
        for (int at = group.From; at <= group.To; at++)
        {
            char sign = at == group.To ? ',' : text[at];
            if (sign == '%' && at < group.To && (at == 0 || text[at - 1] != '\\'))
            {
                at = EndOfLine(text, at, group.To);
            }
            else if (sign == ',' && (depth == 0 || at == group.To))
            {
                (int, int) item = Trimmed(text, from, at);
                if (item.Item1 < item.Item2)
                {
                    items.Add(item);
                }

                from = at + 1;
            }
            else
            {
                depth += sign is '{' or '[' ? 1 : sign is '}' or ']' ? -1 : 0;
            }
        }

        return items;
    }

    /// <summary>The group in brackets before the first one in braces; null: there is none.</summary>
    public static TypedGroup? Options(PreambleCommand command) => command.Groups is [{ Open: '[' } first, ..] ? first : null;

    /// <summary>The n-th argument in braces; null: there is none.</summary>
    public static TypedGroup? Argument(PreambleCommand command, int n = 0)
    {
        foreach (TypedGroup group in command.Groups)
        {
            if (group.Open != '[' && n-- == 0)
            {
                return group;
            }
        }

        return null;
    }

    private void Read(string path, HeldBecause file)
    {
        if (_open.Count >= Deepest || !Texts.TryGetValue(path, out string? text) || !_open.Add(path))
        {
            return;
        }

        int conditions = 0;
        int definition = 0;
        int branch = 0;
        int switchedOff = 0;
        string before = "";
        foreach ((string name, int end) in TypedMarkup.Commands(text))
        {
            if (Begin is not null || _commands.Count >= MostCommands || name == "endinput")
            {
                break;
            }

            if (name == "begin" && text.AsSpan(end).StartsWith("{document}"))
            {
                Begin = (path, end - "\\begin".Length);
                break;
            }

            int from = end - name.Length - 1;
            // Those of packages have their branches in braces; those of the language end with \fi.
            bool hasBranches = name is "IfFileExists" or "@ifundefined" or "@ifpackageloaded" || (name.StartsWith("if", StringComparison.Ordinal) && Groups(text, end, "m") is [{ Open: '{' }]);
            bool isCondition = !hasBranches && name.StartsWith("if", StringComparison.Ordinal) && before is not "newif" && from >= definition;
            before = name;
            if (name == "fi" && conditions > 0)
            {
                switchedOff = switchedOff == conditions ? 0 : switchedOff;
                conditions--;
                continue;
            }

            if (isCondition)
            {
                conditions++;
                switchedOff = switchedOff == 0 && name == "iffalse" ? conditions : switchedOff;
                continue;
            }

            switchedOff = name == "else" && switchedOff == conditions ? 0 : switchedOff;
            if (switchedOff > 0)
            {
                continue;
            }

            if (hasBranches)
            {
                branch = Math.Max(branch, Groups(text, end, "mmmm").TakeWhile(g => g.Open == '{').Select(g => g.OuterTo).LastOrDefault(end));
                continue;
            }

            HeldBecause held = file != HeldBecause.No ? file : from < definition ? HeldBecause.Definition : conditions > 0 || from < branch ? HeldBecause.Condition : HeldBecause.No;
            if (s_definitions.Contains(name) && from >= definition && !IsSetting(text, end))
            {
                definition = EndOfDefinition(text, end);
                continue;
            }

            if (s_known.TryGetValue(name, out string? form))
            {
                Take(path, text, name, from, end, form, held, file);
            }
        }

        _open.Remove(path);
    }

    private void Take(string path, string text, string name, int from, int end, string form, HeldBecause held, HeldBecause file)
    {
        List<TypedGroup> groups = form == "=" ? Assigned(text, end) : Groups(text, end, form);
        if (groups.Count(g => g.Open != '[') < form.Count(c => c is 'm' or '='))
        {
            return;
        }

        var command = new PreambleCommand(path, name, from, groups.Count > 0 ? groups[^1].OuterTo : end, groups, held);
        string first = Argument(command) is { } argument ? Words(command, argument).Trim() : "";
        switch (name)
        {
            case "input" or "include" or "subfile":
                if (held == file)
                {
                    Read(Named(first), held);
                }

                return;
            case "usepackage" or "RequirePackage" when held == file:
                // A style file of one's own sets what it sets before what comes behind the command.
                _commands.Add(command);
                foreach (string package in first.Split(',', StringSplitOptions.TrimEntries))
                {
                    Read(package + ".sty", HeldBecause.Style);
                }

                return;
            case "documentclass" or "LoadClass" when held == file:
                Read(first + ".cls", HeldBecause.Style);
                break;
        }

        _commands.Add(command);
    }

    private string Named(string name) => Texts.ContainsKey(name) ? name : name + ".tex";

    // What prints lists and titles, in the files that the text takes in too.
    private List<PreambleCommand> ReadText((string File, int At) begin, string main)
    {
        var found = new List<PreambleCommand>();
        Visit(begin.File, begin.At, 0);
        if (begin.File != main)
        {
            Visit(main, 0, 0);
        }

        return found;

        void Visit(string path, int from, int depth)
        {
            if (depth > Deepest || !Texts.TryGetValue(path, out string? text))
            {
                return;
            }

            foreach ((string name, int end) in TypedMarkup.Commands(text).Where(c => c.End >= from))
            {
                if (name is "tableofcontents" or "listoffigures" or "listoftables" or "maketitle" or "bibliographystyle" && s_known.TryGetValue(name, out string? form))
                {
                    List<TypedGroup> groups = Groups(text, end, form);
                    if (groups.Count >= form.Length)
                    {
                        found.Add(new PreambleCommand(path, name, end - name.Length - 1, groups.Count > 0 ? groups[^1].OuterTo : end, groups, HeldBecause.No));
                    }
                }
                else if (name == "begin" && text.AsSpan(end).StartsWith(AbstractBegin) && text.IndexOf(AbstractEnd, end, StringComparison.Ordinal) is >= 0 and var close)
                {
                    var body = new TypedGroup(' ', end + AbstractBegin.Length, close);
                    found.Add(new PreambleCommand(path, "abstract", end - name.Length - 1, close + AbstractEnd.Length, [body], HeldBecause.No));
                }
                else if (name is "input" or "include" && Groups(text, end, "m") is [var argument])
                {
                    Visit(Named(text[argument.From..argument.To].Trim()), 0, depth + 1);
                }
            }
        }
    }

    private static bool IsSetting(string text, int end) => Redefined().Match(text, end) is { Success: true } match && s_redefined.Contains(match.Groups[1].Value);

    // Behind a definition: its last group of braces, with those before it.
    private static int EndOfDefinition(string text, int end)
    {
        Match head = DefinitionHead().Match(text, end);
        int at = head.Success ? head.Index + head.Length : end;
        while (Groups(text, at, "m") is [{ Open: '{' } group])
        {
            at = group.OuterTo;
        }

        return at;
    }

    private static List<TypedGroup> Assigned(string text, int end) =>
        Assignment().Match(text, end) is { Success: true } match ? [new TypedGroup(' ', match.Groups[1].Index, match.Groups[1].Index + match.Groups[1].Length)] : [];

    /// <summary>The groups behind a command's name.</summary>
    private static List<TypedGroup> Groups(string text, int at, string form)
    {
        var groups = new List<TypedGroup>();
        at += at < text.Length && text[at] == '*' ? 1 : 0;
        foreach (char kind in form)
        {
            int open = SkipSpace(text, at);
            if (open >= text.Length || (kind == 'o' && text[open] != '['))
            {
                if (kind == 'o')
                {
                    continue;
                }

                break;
            }

            if (kind == 'm' && text[open] == '\\')
            {
                int end = open + 1;
                while (end < text.Length && (char.IsAsciiLetter(text[end]) || text[end] == '@'))
                {
                    end++;
                }

                groups.Add(new TypedGroup(' ', open, end));
                at = end;
                continue;
            }

            char close = text[open] switch { '[' => ']', '{' => '}', _ => '\0' };
            if (close == '\0' || (kind == 'm' && close == ']') || Close(text, open, close) is not (>= 0 and var last))
            {
                break;
            }

            groups.Add(new TypedGroup(text[open], open + 1, last));
            at = last + 1;
        }

        return groups;
    }

    // Where a bracket or brace is closed; −1: nowhere.
    private static int Close(string text, int open, char close)
    {
        int depth = 0;
        for (int at = open + 1; at < text.Length; at++)
        {
            switch (text[at])
            {
                case '\\':
                    at++;
                    break;
                case '%':
                    at = EndOfLine(text, at, text.Length);
                    break;
                case var sign when sign == close && depth == 0:
                    return at;
                case '{':
                    depth++;
                    break;
                case '}':
                    if (--depth < 0)
                    {
                        return -1;
                    }

                    break;
            }
        }

        return -1;
    }

    // Spaces, one line end and comments part a command from its arguments.
    private static int SkipSpace(string text, int at)
    {
        int lines = 0;
        while (at < text.Length)
        {
            if (text[at] == '%')
            {
                at = EndOfLine(text, at, text.Length) + 1;
            }
            else if (text[at] is ' ' or '\t' or '\r' || (text[at] == '\n' && lines++ == 0))
            {
                at++;
            }
            else
            {
                break;
            }
        }

        return Math.Min(at, text.Length);
    }

    private static int EndOfLine(string text, int at, int most) => text.IndexOf('\n', at) is >= 0 and var end && end < most ? end : most - 1;

    private static (int From, int To) Trimmed(string text, int from, int to)
    {
        while (from < to)
        {
            if (char.IsWhiteSpace(text[from]))
            {
                from++;
            }
            else if (text[from] == '%')
            {
                from = Math.Min(to, EndOfLine(text, from, to) + 1);
            }
            else
            {
                break;
            }
        }

        // A comment behind the last item belongs to no item.
        for (int at = from; at < to; at++)
        {
            if (text[at] == '%' && (at == 0 || text[at - 1] != '\\'))
            {
                int next = EndOfLine(text, at, to) + 1;
                (int rest, int end) = Trimmed(text, Math.Min(next, to), to);
                if (rest >= end)
                {
                    to = at;
                }

                break;
            }
        }

        while (to > from && char.IsWhiteSpace(text[to - 1]))
        {
            to--;
        }

        return (from, to);
    }

    [GeneratedRegex(@"\G\*?\s*\{?\\([A-Za-z]+)")]
    private static partial Regex Redefined();

    [GeneratedRegex(@"\G\*?\s*(?:\{\s*\\?[A-Za-z@*]+\s*\}|\\[A-Za-z@]+)\s*(?:\[[^\]]*\]\s*)*(?:#[^{]*)?")]
    private static partial Regex DefinitionHead();

    [GeneratedRegex(@"\G\s*=?\s*(-?[0-9]*\.?[0-9]+\s*[a-z]{2}(?:\s+plus\s*[0-9.]+\s*[a-z]{2,4})?(?:\s+minus\s*[0-9.]+\s*[a-z]{2,4})?)")]
    private static partial Regex Assignment();
}
