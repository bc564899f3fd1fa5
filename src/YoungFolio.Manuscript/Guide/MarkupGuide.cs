using System.Text;
using System.Text.RegularExpressions;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Manuscript.Building;
using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Manuscript.Packages;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Guide;

/// <summary>What is said of some commands and environments of one kind.</summary>
/// <param name="Names">They, each with what follows its name.</param>
/// <param name="Says">What they do, in a sentence or two.</param>
/// <param name="Example">How one of them is written.</param>
public sealed record GuideLine(IReadOnlyList<GuideName> Names, string Says, string Example);

/// <summary>A command or an environment as it is written.</summary>
/// <param name="Name">Its name, without a backslash or a star.</param>
/// <param name="Form">The arguments that follow the name, as in <c>[short]{title}</c>.</param>
/// <param name="IsEnvironment">Whether it is an environment.</param>
public sealed record GuideName(string Name, string Form, bool IsEnvironment);

/// <summary>A symbol for formulas.</summary>
/// <param name="Name">The command's name.</param>
/// <param name="Sign">What it prints.</param>
/// <param name="Words">What the sign is called (Unicode's name for it), for whoever looks for it by words.</param>
/// <param name="Kind">Among which signs it is found.</param>
public sealed record GuideSymbol(string Name, string Sign, string Words, SymbolKind Kind);

/// <summary>Options of a package, a command or an environment.</summary>
/// <param name="Of">What takes them: a package by its name, a command with its backslash (and <c>[]</c> where they stand in brackets), an environment in braces.</param>
/// <param name="Options">They, what is written most first.</param>
public sealed record GuideOptions(IReadOnlyList<string> Of, IReadOnlyList<GuideOption> Options);

/// <summary>An option that has an effect.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Values">Values to choose from; empty when it takes none or others.</param>
/// <param name="Takes">What it takes when its values can't be listed, such as a length; empty otherwise.</param>
public sealed record GuideOption(string Name, IReadOnlyList<string> Values, string Takes);

/// <summary>Kinds of signs in formulas.</summary>
public enum SymbolKind
{
    /// <summary>Greek letters.</summary>
    Greek,

    /// <summary>Arrows.</summary>
    Arrow,

    /// <summary>Relations, such as equality.</summary>
    Relation,

    /// <summary>Operations between two things.</summary>
    Operation,

    /// <summary>Sums, integrals and their kin.</summary>
    Large,

    /// <summary>What opens and closes.</summary>
    Delimiter,

    /// <summary>All others.</summary>
    Other,
}

/// <summary>
/// Says in plain words what commands and environments do, for whoever writes: completion and hover read it. The words are data beside the
/// registry (<c>Guide/*.txt</c>); a test holds that none is missing and none is said of what there isn't.
/// </summary>
public static partial class MarkupGuide
{
    private static readonly string[] s_files = ["structure.txt", "mathematics.txt", "packages.txt", "letters.txt", "definitions.txt", "plain.txt"];
    private static readonly Lazy<IReadOnlyList<GuideLine>> s_lines = new(ReadLines);
    private static readonly Lazy<IReadOnlyList<GuideSymbol>> s_symbols = new(() =>
        [.. MarkupRegistry.Symbols.Select(name => Symbol(name, MarkupRegistry.SignOf(name)))]);

    private static readonly Lazy<Dictionary<string, string>> s_signs = new(() =>
        ShippedText.Lines(typeof(MarkupGuide).Assembly, "signs.txt").Select(l => l.Split(' ', 2)).ToDictionary(p => p[0], p => p[1], StringComparer.Ordinal));

    private static readonly Lazy<IReadOnlyList<GuideOptions>> s_options = new(() => [.. ShippedText.Lines(typeof(MarkupGuide).Assembly, "options.txt").Select(ReadOptions)]);

    /// <summary>Options of packages, commands and environments. What isn't among them takes none that has an effect, or lists them itself.</summary>
    public static IReadOnlyList<GuideOptions> Options => s_options.Value;

    /// <summary>All lines, what everyone writes first.</summary>
    public static IReadOnlyList<GuideLine> Lines => s_lines.Value;

    /// <summary>The symbols of formulas, by name.</summary>
    public static IReadOnlyList<GuideSymbol> Signs => s_symbols.Value;

    private static GuideSymbol Symbol(string name, string sign)
    {
        Rune first = sign.EnumerateRunes().FirstOrDefault();
        string words = s_signs.Value.GetValueOrDefault(first.ToString(), "");
        SymbolKind kind = words.StartsWith("greek", StringComparison.Ordinal) ? SymbolKind.Greek
            : words.Contains("arrow", StringComparison.Ordinal) || words.Contains("harpoon", StringComparison.Ordinal) ? SymbolKind.Arrow
            : Symbols.ClassOf(first.Value) switch
            {
                AtomClass.Relation => SymbolKind.Relation,
                AtomClass.Binary => SymbolKind.Operation,
                AtomClass.Operator => SymbolKind.Large,
                AtomClass.Opening or AtomClass.Closing => SymbolKind.Delimiter,
                _ => SymbolKind.Other,
            };
        return new GuideSymbol(name, sign, words, kind);
    }

    private static IEnumerable<GuideLine> Read(string file)
    {
        foreach (string line in ShippedText.Lines(typeof(MarkupGuide).Assembly, file))
        {
            string[] parts = line.Split(" | ");
            List<GuideName> names = [.. Written().Matches(parts[0]).Select(m => new GuideName(m.Groups["name"].Value, m.Groups["form"].Value, !m.Groups["command"].Success))];
            if (parts.Length is not (2 or 3) || names.Count == 0 || names.Sum(n => n.Name.Length + n.Form.Length + (n.IsEnvironment ? 0 : 1)) != parts[0].Replace(" ", "", StringComparison.Ordinal).Length)
            {
                throw new InvalidOperationException($"{file} has a line that can't be read: {line}");
            }

            yield return new GuideLine(names, parts[1], parts.Length == 3 ? parts[2] : Example(names[0]));
        }
    }

    // What the files say, and of each sign that they don't name what it is called.
    private static List<GuideLine> ReadLines()
    {
        List<GuideLine> lines = [.. s_files.SelectMany(Read)];
        HashSet<string> said = [.. lines.SelectMany(l => l.Names).Where(n => !n.IsEnvironment).Select(n => n.Name)];
        foreach (TextSign sign in TextSigns.All.Concat(PackageSign.All.Select(s => s.Sign)))
        {
            List<GuideName> names = [.. sign.Commands.Where(said.Add).Select(c => new GuideName(c, "", false))];
            if (names.Count > 0)
            {
                lines.Add(new GuideLine(names, $"Prints {sign.Sign}: {sign.Name}.", $"\\{names[0].Name}{{}}"));
            }
        }

        return lines;
    }

    private static GuideOptions ReadOptions(string line)
    {
        string[] parts = line.Split(" | ");
        return new GuideOptions(parts[0].Split(' '), [.. parts[1].Split(' ').Select(ReadOption)]);
    }

    private static GuideOption ReadOption(string written)
    {
        string[] parts = written.Split('=', 2);
        string value = parts.Length == 2 ? parts[1] : "";
        return value.StartsWith('<') ? new GuideOption(parts[0], [], value.Trim('<', '>'))
            : new GuideOption(parts[0], value.Split('|', StringSplitOptions.RemoveEmptyEntries), "");
    }

    private static string Example(GuideName name) =>
        name.IsEnvironment ? $"\\begin{{{name.Name}}}{name.Form} … \\end{{{name.Name}}}" : "\\" + name.Name + Optional().Replace(name.Form, "");

    // A command of letters or of one sign, or an environment; what follows is in brackets, braces or between two bars.
    [GeneratedRegex(@"(?:(?<command>\\)(?<name>-NoValue-|[A-Za-z]+|\S)|(?<name>[A-Za-z]+\*?))(?<form>(?:\[[^\]]*\]|\{[^}]*\}|\|[^|]*\|)*)(?=\s|$)")]
    private static partial Regex Written();

    [GeneratedRegex(@"\[[^\]]*\]")]
    private static partial Regex Optional();
}
