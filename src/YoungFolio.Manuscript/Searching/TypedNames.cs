using System.Text.RegularExpressions;

namespace YoungFolio.Manuscript.Searching;

/// <summary>What a definition makes.</summary>
public enum DefinedKind
{
    /// <summary>A command.</summary>
    Command,

    /// <summary>An environment.</summary>
    Environment,

    /// <summary>A length.</summary>
    Length,

    /// <summary>A counter.</summary>
    Counter,

    /// <summary>A colour.</summary>
    Colour,

    /// <summary>A word of a glossary or an abbreviation.</summary>
    GlossaryEntry,
}

/// <summary>A definition as it is typed.</summary>
/// <param name="Kind">What it makes.</param>
/// <param name="Name">Its name, without a backslash.</param>
/// <param name="Form">The arguments that follow the name where it is used, as in <c>[optional]{1}</c>.</param>
/// <param name="Text">What it stands for, or the beginning of that.</param>
/// <param name="Offset">The name's first character, after a backslash.</param>
public sealed record TypedDefinition(DefinedKind Kind, string Name, string Form, string Text, int Offset);

/// <summary>
/// The names in a typed text: which it defines, and how often it uses each command and environment. It reads what is typed and expands
/// nothing, so it knows as much of a text with slips in it as of one without.
/// </summary>
public sealed partial class TypedNames
{
    private const int LongestText = 200;
    private const int MostDefinitions = 2000;
    private const int MostNames = 3000;

    private readonly List<TypedDefinition> _definitions = [];
    private readonly Dictionary<string, int> _uses = new(StringComparer.Ordinal);

    private TypedNames()
    {
    }

    /// <summary>What the text defines, in order.</summary>
    public IReadOnlyList<TypedDefinition> Definitions => _definitions;

    /// <summary>How often commands (with their backslash) and environments are used.</summary>
    public IReadOnlyDictionary<string, int> Uses => _uses;

    /// <summary>Reads a text.</summary>
    /// <param name="text">A file's text.</param>
    public static TypedNames Of(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var names = new TypedNames();
        // The name that a definition makes isn't a use of it.
        int behind = 0;
        foreach ((string name, int end) in TypedMarkup.Commands(text))
        {
            behind = end > behind ? names.Command(text, name, end) : behind;
        }

        return names;
    }

    // What stands behind a command's name; gives where to read on.
    private int Command(string text, string name, int at)
    {
        if (name == "begin")
        {
            Count(Match(EnvironmentName(), text, at) is { } environment ? environment.Groups[1].Value : "");
            return at;
        }

        Count(name == "end" ? "" : "\\" + name);
        switch (name)
        {
            case "newcommand" or "renewcommand" or "providecommand" or "DeclareRobustCommand" or "newrobustcmd" or "renewrobustcmd" or "providerobustcmd" or "DeclareMathOperator" or "DeclarePairedDelimiter":
                if (Match(NewCommand(), text, at) is { } command)
                {
                    string form = name switch { "DeclareMathOperator" => "", "DeclarePairedDelimiter" => "{1}", _ => Form(command) };
                    return Add(DefinedKind.Command, command, form, text);
                }

                break;
            case "def" or "gdef" or "edef" or "xdef":
                if (Match(Def(), text, at) is { } definition)
                {
                    int arguments = definition.Groups["arguments"].Value.Count(c => c == '#');
                    return Add(DefinedKind.Command, definition, string.Concat(Enumerable.Range(1, arguments).Select(i => $"{{{i}}}")), text);
                }

                break;
            case "NewDocumentCommand" or "RenewDocumentCommand" or "ProvideDocumentCommand" or "DeclareDocumentCommand":
                if (Match(NewDocumentCommand(), text, at) is { } document)
                {
                    return Add(DefinedKind.Command, document, Form(document.Groups["arguments"].Value), text);
                }

                break;
            case "newenvironment" or "renewenvironment" or "NewDocumentEnvironment" or "RenewDocumentEnvironment" or "NewEnviron":
                if (Match(NewEnvironment(), text, at) is { } made)
                {
                    string letters = made.Groups["letters"].Value;
                    return Add(DefinedKind.Environment, made, name.Contains("Document", StringComparison.Ordinal) ? Form(letters) : Form(made), text);
                }

                break;
            case "newtheorem" or "declaretheorem" or "newfloat" or "newlist" or "DefineVerbatimEnvironment" or "lstnewenvironment":
                return Named(DefinedKind.Environment, text, at);
            case "newlength" or "newskip" or "newdimen":
                return Match(NewLength(), text, at) is { } length ? Add(DefinedKind.Length, length, "", text) : at;
            case "newcounter":
                return Named(DefinedKind.Counter, text, at);
            case "definecolor" or "colorlet" or "providecolor":
                return Named(DefinedKind.Colour, text, at);
            case "newglossaryentry" or "longnewglossaryentry" or "newacronym" or "newabbreviation" or "DeclareAcronym" or "acrodef" or "acro":
                return Named(DefinedKind.GlossaryEntry, text, at);
        }

        return at;
    }

    private int Named(DefinedKind kind, string text, int at) => Match(GivenName(), text, at) is { } match ? Add(kind, match, "", text) : at;

    private static Match? Match(Regex pattern, string text, int at) => pattern.Match(text, at) is { Success: true } match ? match : null;

    private int Add(DefinedKind kind, Match match, string form, string text)
    {
        Group name = match.Groups["name"];
        if (_definitions.Count < MostDefinitions && name.Length > 0)
        {
            _definitions.Add(new TypedDefinition(kind, name.Value, form, Beginning(text, match.Index + match.Length), name.Index));
        }

        return name.Index + name.Length;
    }

    private void Count(string name)
    {
        if (name.Length > 0 && (_uses.TryGetValue(name, out int count) || _uses.Count < MostNames))
        {
            _uses[name] = count + 1;
        }
    }

    // What stands in the braces from a place on, or the beginning of that.
    private static string Beginning(string text, int at)
    {
        while (at < text.Length && char.IsWhiteSpace(text[at]))
        {
            at++;
        }

        if (at >= text.Length || text[at] is not ('{' or '['))
        {
            return "";
        }

        char close = text[at] == '{' ? '}' : ']';
        int depth = 0;
        int from = at + 1;
        int last = Math.Min(text.Length, from + LongestText);
        for (at = from; at < last; at++)
        {
            switch (text[at])
            {
                case '\\':
                    at++;
                    break;
                case '{':
                    depth++;
                    break;
                case var c when c == close && depth == 0:
                    return text[from..at].Trim();
                case '}':
                    depth--;
                    break;
            }
        }

        int end = Math.Min(at, text.Length);
        return text[from..(char.IsHighSurrogate(text[end - 1]) ? end - 1 : end)].Trim() + "…";
    }

    // From the number of arguments, and whether the first has a value of its own.
    private static string Form(Match definition)
    {
        int count = int.TryParse(definition.Groups["count"].Value, out int n) ? Math.Min(n, 9) : 0;
        bool optional = definition.Groups["default"].Success && count > 0;
        return (optional ? "[1]" : "") + string.Concat(Enumerable.Range(1, count).Skip(optional ? 1 : 0).Select(i => $"{{{i}}}"));
    }

    // From letters: m must be there, o and O stand in brackets, s is a star.
    private static string Form(string letters)
    {
        int i = 0;
        return string.Concat(ArgumentLetter().Matches(letters).Select(m => (++i, m.Value[0]) switch
        {
            (_, 's' or 't') => "",
            (int n, 'm' or 'v' or 'b' or 'r' or 'R') => $"{{{n}}}",
            (int n, _) => $"[{n}]",
        }));
    }

    [GeneratedRegex(@"\G\s{0,3}\{([A-Za-z@]+\*?)\}")]
    private static partial Regex EnvironmentName();

    [GeneratedRegex(@"\G\*?\s{0,3}\{?\s{0,3}\\(?<name>[A-Za-z@]+)\s{0,3}\}?\s{0,3}(?:\[(?<count>\d)\]\s{0,3}(?<default>\[[^\]\n]{0,200}\])?)?")]
    private static partial Regex NewCommand();

    [GeneratedRegex(@"\G\s{0,3}\\(?<name>[A-Za-z@]+)(?<arguments>[^{}\\\n]{0,60})(?=\{)")]
    private static partial Regex Def();

    [GeneratedRegex(@"\G\s{0,3}\{?\s{0,3}\\(?<name>[A-Za-z@]+)\s{0,3}\}?\s{0,3}\{(?<arguments>(?:[^{}\n]|\{[^{}\n]*\}){0,100})\}")]
    private static partial Regex NewDocumentCommand();

    [GeneratedRegex(@"\G\s{0,3}\{(?<name>[A-Za-z@]+\*?)\}\s{0,3}(?:\[(?<count>\d)\]\s{0,3}(?<default>\[[^\]\n]{0,200}\])?|\{(?<letters>[a-zA-Z ]{1,40})\}(?=\s{0,3}\{[^}]{0,4000}\}\s{0,3}\{))?")]
    private static partial Regex NewEnvironment();

    [GeneratedRegex(@"\G\s{0,3}\{?\s{0,3}\\(?<name>[A-Za-z@]+)")]
    private static partial Regex NewLength();

    [GeneratedRegex(@"\G\*?\s{0,3}(?:\[[^\]\n]{0,200}\])?\{(?<name>[^{}\n]{1,80})\}")]
    private static partial Regex GivenName();

    [GeneratedRegex(@"[a-zA-Z](?:\{[^}]*\})?")]
    private static partial Regex ArgumentLetter();
}
