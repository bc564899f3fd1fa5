using System.Text.RegularExpressions;
using YoungFolio.Manuscript.Building;
using YoungFolio.Manuscript.Packages;

namespace YoungFolio.Manuscript.Searching;

/// <summary>What a name is of.</summary>
public enum NameKind
{
    /// <summary>A label.</summary>
    Label,

    /// <summary>A command that the manuscript defines.</summary>
    Command,

    /// <summary>An environment that the manuscript defines.</summary>
    Environment,
}

/// <summary>Finds where a name is used in typed texts, and says whether it may be another one. Comments and text as typed are left out.</summary>
public static partial class NameUses
{
    private const int LongestName = 100;
    private const int LongestOptions = 500;
    private const int LongestList = 2000;

    private static readonly HashSet<string> s_ofEnvironments = new(StringComparer.Ordinal)
    {
        "begin", "end", "newenvironment", "renewenvironment", "NewDocumentEnvironment", "RenewDocumentEnvironment", "NewEnviron", "RenewEnviron", "newtheorem", "declaretheorem", "newfloat", "newlist", "renewlist", "setlist",
        "DefineVerbatimEnvironment", "lstnewenvironment", "AtBeginEnvironment", "AtEndEnvironment", "BeforeBeginEnvironment", "AfterEndEnvironment", "crefname", "Crefname", "captionsetup",
    };

    /// <summary>The places of a name in a text, in order, each without what stands around it.</summary>
    /// <param name="text">A file's text.</param>
    /// <param name="kind">What the name is of.</param>
    /// <param name="name">The name, of a command without its backslash.</param>
    public static IEnumerable<(int Offset, int Length)> Find(string text, NameKind kind, string name)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(name);
        foreach ((string command, int end) in TypedMarkup.Commands(text))
        {
            switch (kind)
            {
                case NameKind.Command when command == name:
                    yield return (end - name.Length, name.Length);
                    break;
                case NameKind.Environment when s_ofEnvironments.Contains(command):
                    foreach ((int, int) place in InGroups(text, end, command == "newtheorem" ? 2 : 1, name))
                    {
                        yield return place;
                    }

                    break;
                case NameKind.Label when command == "hyperref":
                    foreach ((int, int) place in Listed(text, end, ']', name))
                    {
                        yield return place;
                    }

                    break;
                case NameKind.Label when command.EndsWith("ref", StringComparison.OrdinalIgnoreCase) || command.EndsWith("label", StringComparison.Ordinal) || command.EndsWith("range", StringComparison.Ordinal):
                    foreach ((int, int) place in InGroups(text, end, command.EndsWith("range", StringComparison.Ordinal) ? 2 : 1, name))
                    {
                        yield return place;
                    }

                    break;
                case NameKind.Label when command == "begin" && text.AsSpan(end, Math.Min(text.Length - end, LongestOptions)).Contains("label", StringComparison.Ordinal):
                    foreach (Match option in LabelOption().Matches(text[end..Math.Min(text.Length, end + LongestOptions)]).Where(m => m.Groups["key"].Value.Trim() == name))
                    {
                        yield return (end + option.Groups["key"].Index, option.Groups["key"].Length);
                    }

                    break;
            }
        }
    }

    /// <summary>Says why a name can't become another one; null when it can.</summary>
    /// <param name="texts">The manuscript's texts, by file.</param>
    /// <param name="kind">What the name is of.</param>
    /// <param name="name">The name as it is.</param>
    /// <param name="other">The name that it is to have.</param>
    public static string? Obstacle(IReadOnlyList<(string Path, string Text)> texts, NameKind kind, string name, string other)
    {
        ArgumentNullException.ThrowIfNull(texts);
        ArgumentNullException.ThrowIfNull(name);
        ArgumentNullException.ThrowIfNull(other);
        if (kind == NameKind.Label)
        {
            return !LabelName().IsMatch(other) ? $"A label may have up to {LongestName} letters, digits and signs, but no braces, commas, backslashes, or percent signs."
                : Defined(texts, kind, other) is { } labelled ? $"“{other}” is a label already, in {labelled}." : null;
        }

        bool isCommand = kind == NameKind.Command;
        string written = isCommand ? "\\" + other : other;
        if (!(isCommand ? CommandName() : EnvironmentName()).IsMatch(other))
        {
            return isCommand ? "A command's name is made of letters alone." : "An environment's name is made of letters, with a star at the end or not.";
        }

        if (Defined(texts, kind, name) is null)
        {
            return $"The manuscript doesn't define {(isCommand ? "\\" + name : name)} itself, so its name can't be changed.";
        }

        if (Defined(texts, kind, other) is { } place)
        {
            return $"{written} is there already, in {place}.";
        }

        bool isKernel = isCommand ? MarkupRegistry.KernelCommands.Contains(other) || MarkupRegistry.Symbols.Contains(other) : MarkupRegistry.KernelEnvironments.Contains(other);
        if (isKernel)
        {
            return $"{written} has a meaning everywhere. Choose another name.";
        }

        HashSet<string> loaded = [.. texts.SelectMany(t => Loading().Matches(t.Text)).SelectMany(m => m.Groups["names"].Value.Split(',', StringSplitOptions.TrimEntries))];
        return PackageCatalogue.All.FirstOrDefault(p => loaded.Contains(p.Name) && (isCommand ? p.Commands : p.Environments).Contains(other)) is { } package
            ? $"{written} comes from the package {package.Name}, which is loaded. Choose another name." : null;
    }

    // Where a name is defined first, said for people.
    private static string? Defined(IReadOnlyList<(string Path, string Text)> texts, NameKind kind, string name)
    {
        foreach ((string path, string text) in texts)
        {
            int offset = kind == NameKind.Label
                ? Find(text, kind, name).Select(p => p.Offset).FirstOrDefault(o => text.AsSpan(0, o).TrimEnd(' ').EndsWith("label{") || text.AsSpan(Math.Max(0, o - 10), Math.Min(10, o)).Contains("label", StringComparison.Ordinal), -1)
                : TypedNames.Of(text).Definitions.FirstOrDefault(d => d.Name == name && d.Kind == (kind == NameKind.Command ? DefinedKind.Command : DefinedKind.Environment))?.Offset ?? -1;
            if (offset >= 0)
            {
                return $"{path}, line {text.AsSpan(0, offset).Count('\n') + 1}";
            }
        }

        return null;
    }

    // The name in the first groups behind a command, alone or in a list.
    private static IEnumerable<(int Offset, int Length)> InGroups(string text, int at, int groups, string name)
    {
        at += at < text.Length && text[at] == '*' ? 1 : 0;
        for (; groups > 0; groups--)
        {
            Match before = Before().Match(text, at);
            at += before.Length;
            // What a theorem counts with stands in brackets behind its name.
            foreach ((int, int) place in before.Value.Length > 0 && before.Value.StartsWith('[') ? Listed(text, before.Index, ']', name) : [])
            {
                yield return place;
            }

            if (at >= text.Length || text[at] != '{')
            {
                yield break;
            }

            int length = text.AsSpan(at, Math.Min(text.Length - at, LongestList)).IndexOfAny('}', '\n');
            foreach ((int, int) place in Listed(text, at, '}', name))
            {
                yield return place;
            }

            at = length < 0 ? text.Length : at + length + 1;
        }
    }

    // A name in the list between brackets or braces that open at a place.
    private static IEnumerable<(int Offset, int Length)> Listed(string text, int open, char close, string name)
    {
        if (open >= text.Length || text[open] is not ('{' or '['))
        {
            yield break;
        }

        int end = text.AsSpan(open, Math.Min(text.Length - open, LongestList)).IndexOf(close);
        for (int from = open + 1; end >= 0 && from <= open + end;)
        {
            int comma = text.IndexOf(',', from, open + end - from);
            int to = comma < 0 ? open + end : comma;
            string piece = text[from..to];
            if (piece.Trim() == name)
            {
                yield return (from + piece.Length - piece.TrimStart().Length, name.Length);
            }

            from = to + 1;
        }
    }

    [GeneratedRegex(@"\G(?:\s{0,3}\[[^\]\n]{0,200}\])?\s{0,3}")]
    private static partial Regex Before();

    [GeneratedRegex(@"(?<=[\[,{]\s{0,8}label\s{0,3}=\s{0,3}\{?)(?<key>[^\s{},\]=][^{},\]=]{0,99})(?=[,\]}])")]
    private static partial Regex LabelOption();

    [GeneratedRegex(@"^[^\s{}\\,%#~][^{}\\,%#~\n]{0,99}$")]
    private static partial Regex LabelName();

    [GeneratedRegex(@"^[A-Za-z@]{1,100}$")]
    private static partial Regex CommandName();

    [GeneratedRegex(@"^[A-Za-z@]{1,99}\*?$")]
    private static partial Regex EnvironmentName();

    [GeneratedRegex(@"\\(?:usepackage|RequirePackage)\s{0,3}(?:\[[^\]]{0,2000}\])?\s{0,3}\{(?<names>[^}\n]{0,2000})\}")]
    private static partial Regex Loading();
}
