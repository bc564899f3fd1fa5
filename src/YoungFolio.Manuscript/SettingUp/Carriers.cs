using YoungFolio.Bibliography;

namespace YoungFolio.Manuscript.SettingUp;

/// <summary>A place of a preamble that sets something.</summary>
/// <param name="Carrier">The way in which it does.</param>
/// <param name="Command">The command.</param>
/// <param name="Value">What it sets.</param>
/// <param name="From">First character of the words that say so.</param>
/// <param name="To">The place behind the last.</param>
/// <param name="IsShared">Whether the words set something else too: then they stay, and others behind them win.</param>
internal sealed record Found(Carrier Carrier, PreambleCommand Command, string Value, int From, int To, bool IsShared = false);

/// <summary>A way in which a preamble sets something.</summary>
internal abstract class Carrier
{
    /// <summary>Whether it can say a value.</summary>
    public virtual bool CanHold(string value) => true;

    /// <summary>The places that do so, in order.</summary>
    public abstract IEnumerable<Found> Read(TypedPreamble preamble);

    /// <summary>What says a value in a place that is there.</summary>
    public abstract IReadOnlyList<FileEdit> Replace(TypedPreamble preamble, Found found, string value);

    /// <summary>What takes such a place away.</summary>
    public abstract IReadOnlyList<FileEdit> Remove(TypedPreamble preamble, Found found);

    /// <summary>What says a value where nothing does; null: there is no place for it.</summary>
    public abstract IReadOnlyList<FileEdit>? Add(TypedPreamble preamble, string value);

    protected static IReadOnlyList<FileEdit> Words(Found found, string words) => [new FileEdit(found.Command.File, new TextEdit(found.From, found.To - found.From, words))];

    protected static IReadOnlyList<FileEdit>? One(FileEdit? edit) => edit is null ? null : [edit];
}

/// <summary>Options of the class or of a package: flags that each mean a value, and keys with a value.</summary>
/// <param name="package">The package; null: the class.</param>
internal sealed class OptionCarrier(string? package) : Carrier
{
    /// <summary>What flags mean: the option and the value, the usual option of a value first.</summary>
    public IReadOnlyList<(string Option, string Value)> Flags { get; init; } = [];

    /// <summary>Keys whose value is the setting's; the first is written.</summary>
    public IReadOnlyList<string> Keys { get; init; } = [];

    /// <summary>Keys that set this and more.</summary>
    public IReadOnlyList<string> SharedKeys { get; init; } = [];

    /// <summary>A command that takes options later, such as <c>\geometry</c>.</summary>
    public string? SetUp { get; init; }

    /// <summary>Whether the package is loaded for this, and not needed without it.</summary>
    public bool Loads { get; init; }

    /// <inheritdoc/>
    public override bool CanHold(string value) => Keys.Count > 0 || Flags.Any(f => f.Value == value);

    /// <inheritdoc/>
    public override IEnumerable<Found> Read(TypedPreamble preamble)
    {
        foreach ((PreambleCommand command, TypedGroup list) in Lists(preamble))
        {
            foreach ((int from, int to) in preamble.Items(command, list))
            {
                string item = preamble.Texts[command.File][from..to];
                int equals = item.IndexOf('=', StringComparison.Ordinal);
                string key = (equals < 0 ? item : item[..equals]).Trim();
                string value = equals < 0 ? "" : Unbraced(item[(equals + 1)..].Trim());
                if (equals >= 0 && (Keys.Contains(key) || SharedKeys.Contains(key)))
                {
                    yield return new Found(this, command, value, from, to, SharedKeys.Contains(key));
                }
                else if (Flags.FirstOrDefault(f => f.Option == item || (f.Option == key && value == "true")).Value is { } meaning)
                {
                    yield return new Found(this, command, meaning, from, to);
                }
            }
        }
    }

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit> Replace(TypedPreamble preamble, Found found, string value)
    {
        string item = preamble.Texts[found.Command.File][found.From..found.To];
        int equals = item.IndexOf('=', StringComparison.Ordinal);
        if (Flags.FirstOrDefault(f => f.Value == value).Option is { } option && (equals < 0 || Keys.Count == 0))
        {
            return Words(found, option);
        }

        // The key and the space around its sign stay as they are.
        return Words(found, equals < 0 ? Item(value) : item[..(equals + 1)] + item[(equals + 1)..][..(item.Length - equals - 1 - item[(equals + 1)..].TrimStart().Length)] + Braced(value));
    }

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit> Remove(TypedPreamble preamble, Found found)
    {
        TypedGroup list = Lists(preamble).First(l => l.Command.File == found.Command.File && l.List.From <= found.From && l.List.To >= found.To).List;
        bool isLast = preamble.Items(found.Command, list).Count == 1;
        bool isAlone = found.Command.Name is "PassOptionsToPackage" or "PassOptionsToClass" || found.Command.Name == SetUp
            || (Loads && found.Command.Name is "usepackage" or "RequirePackage" && PreambleEdits.Names(preamble, found.Command).Count() == 1);
        return [isLast && isAlone ? PreambleEdits.Remove(preamble, found.Command) : PreambleEdits.RemoveItem(preamble, found.Command, list, found.From)];
    }

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit>? Add(TypedPreamble preamble, string value)
    {
        string item = Item(value);
        if (package is null)
        {
            return preamble.Commands.LastOrDefault(c => c.Name == "documentclass" && c.Held == HeldBecause.No) is { } document
                ? [PreambleEdits.AddItem(preamble, document, TypedPreamble.Options(document), item)] : null;
        }

        PreambleCommand? load = preamble.Commands.LastOrDefault(c => c.Name is "usepackage" or "RequirePackage" && PreambleEdits.Names(preamble, c).Contains(package));
        if (load is null)
        {
            return Loads ? One(PreambleEdits.PackageLine(preamble, package, $"\\usepackage[{item}]{{{package}}}")) : null;
        }

        // The list that is read last wins.
        if (SetUp is not null && preamble.Commands.LastOrDefault(c => c.Name == SetUp && c.Held == HeldBecause.No && c.Groups.Count > 0) is { } later)
        {
            return [PreambleEdits.AddItem(preamble, later, later.Groups[0], item)];
        }

        bool isAlone = load.Held == HeldBecause.No && PreambleEdits.Names(preamble, load).Count() == 1;
        if (isAlone && (TypedPreamble.Options(load) is not null || SetUp is null))
        {
            return [PreambleEdits.AddItem(preamble, load, TypedPreamble.Options(load), item)];
        }

        return SetUp is not null
            ? load.Held == HeldBecause.No ? [PreambleEdits.LineBehind(preamble, load, $"\\{SetUp}{{{item}}}")] : One(PreambleEdits.LastLine(preamble, $"\\{SetUp}{{{item}}}"))
            : load.Held == HeldBecause.No ? [PreambleEdits.LineBefore(preamble, load.File, load.From, $"\\PassOptionsToPackage{{{item}}}{{{package}}}")] : null;
    }

    private string Item(string value) => Flags.FirstOrDefault(f => f.Value == value).Option ?? $"{Keys[0]}={Braced(value)}";

    // What would end the value or the list stands in braces.
    private static string Braced(string value) => value.AsSpan().IndexOfAny(",=]") >= 0 ? $"{{{value}}}" : value;

    private static string Unbraced(string value) => value is ['{', .., '}'] ? value[1..^1] : value;

    private IEnumerable<(PreambleCommand Command, TypedGroup List)> Lists(TypedPreamble preamble)
    {
        foreach (PreambleCommand command in preamble.Commands)
        {
            bool isClass = package is null && command.Name is "documentclass" or "LoadClass" && package is null;
            bool isLoading = package is not null && command.Name is "usepackage" or "RequirePackage" && package is not null && PreambleEdits.Names(preamble, command).Contains(package);
            if ((isClass || isLoading) && TypedPreamble.Options(command) is { } options)
            {
                yield return (command, options);
            }
            else if ((package is null ? command.Name == "PassOptionsToClass" : command.Name == "PassOptionsToPackage" && preamble.Words(command, command.Groups[1]).Trim() == package)
                || (SetUp is not null && command.Name == SetUp))
            {
                yield return (command, command.Groups[0]);
            }
        }
    }
}

/// <summary>A command with a value as an argument, such as <c>\setcounter{tocdepth}{2}</c>.</summary>
/// <param name="name">The command.</param>
/// <param name="template">The command with the value's place as <c>#</c>.</param>
internal sealed class CommandCarrier(string name, string template) : Carrier
{
    /// <summary>What the first argument must be.</summary>
    public string? First { get; init; }

    /// <summary>A package that it needs, which is loaded along.</summary>
    public string? Needs { get; init; }

    /// <summary>A package that must be there: it is loaded for other reasons.</summary>
    public string? Within { get; init; }

    /// <summary>Whether only values that are numbers or lengths are read.</summary>
    public bool IsMeasure { get; init; }

    /// <summary>Other words for values, as (words, value).</summary>
    public IReadOnlyList<(string Words, string Value)> Meanings { get; init; } = [];

    /// <summary>Whether it stands in the text.</summary>
    public bool IsInText { get; init; }

    /// <summary>Whether it can be written where nothing says it.</summary>
    public bool CanAdd { get; init; } = true;

    /// <inheritdoc/>
    public override bool CanHold(string value) => Meanings.Count == 0 || Meanings.Any(m => m.Value == value) || !IsMeasure;

    /// <inheritdoc/>
    public override IEnumerable<Found> Read(TypedPreamble preamble)
    {
        foreach (PreambleCommand command in (IsInText ? preamble.Commands.Concat(preamble.InText) : preamble.Commands).Where(c => c.Name == name))
        {
            TypedGroup[] arguments = [.. command.Groups.Where(g => g.Open != '[')];
            int value = First is null ? 0 : 1;
            if (arguments.Length > value && (First is null || preamble.Words(command, arguments[0]).Trim() == First))
            {
                string words = preamble.Words(command, arguments[value]).Trim();
                yield return new Found(this, command, Meanings.FirstOrDefault(m => m.Words == words).Value ?? words, arguments[value].From, arguments[value].To);
            }
        }
    }

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit> Replace(TypedPreamble preamble, Found found, string value) => Words(found, WordsOf(value));

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit> Remove(TypedPreamble preamble, Found found) => [PreambleEdits.Remove(preamble, found.Command)];

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit>? Add(TypedPreamble preamble, string value)
    {
        if (!CanAdd || (Within is not null && !SwitchCarrier.IsLoaded(preamble, Within)))
        {
            return null;
        }

        string line = template.Replace("#", WordsOf(value), StringComparison.Ordinal);
        return Needs is null ? One(PreambleEdits.LastLine(preamble, line))
            : SwitchCarrier.IsLoaded(preamble, Needs) ? One(PreambleEdits.LastLine(preamble, line))
            : One(PreambleEdits.PackageLine(preamble, Needs, $"\\usepackage{{{Needs}}}{line}"));
    }

    private string WordsOf(string value) => Meanings.FirstOrDefault(m => m.Value == value).Words ?? value;
}

/// <summary>Commands without arguments that each mean a value, such as <c>\onehalfspacing</c>.</summary>
/// <param name="needs">A package that they need.</param>
/// <param name="commands">The commands' names, and what they mean.</param>
internal sealed class SwitchCarrier(string? needs, params (string Command, string Value)[] commands) : Carrier
{
    /// <summary>Where in the text it is put: behind the last of these commands; empty: it stands in the preamble.</summary>
    public IReadOnlyList<string> InTextBehind { get; init; } = [];

    /// <inheritdoc/>
    public override bool CanHold(string value) => commands.Any(c => c.Value == value);

    /// <inheritdoc/>
    public override IEnumerable<Found> Read(TypedPreamble preamble) =>
        from command in InTextBehind.Count > 0 ? preamble.InText : preamble.Commands
        let meaning = commands.FirstOrDefault(c => c.Command == command.Name).Value
        where meaning is not null
        select new Found(this, command, meaning, command.From, command.To);

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit> Replace(TypedPreamble preamble, Found found, string value) => Words(found, "\\" + commands.First(c => c.Value == value).Command);

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit> Remove(TypedPreamble preamble, Found found) => [PreambleEdits.Remove(preamble, found.Command)];

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit>? Add(TypedPreamble preamble, string value)
    {
        string line = "\\" + commands.First(c => c.Value == value).Command;
        if (InTextBehind.Count > 0)
        {
            return preamble.InText.LastOrDefault(c => InTextBehind.Contains(c.Name)) is { } before ? [PreambleEdits.LineBehind(preamble, before, line)]
                : preamble.Begin is not { } begin ? null
                : [PreambleEdits.LineBehind(preamble, new PreambleCommand(begin.File, "begin", begin.At, begin.At + "\\begin{document}".Length, [], HeldBecause.No), line)];
        }

        return needs is null ? One(PreambleEdits.LastLine(preamble, line))
            : IsLoaded(preamble, needs) ? One(PreambleEdits.LastLine(preamble, line))
            : One(PreambleEdits.PackageLine(preamble, needs, $"\\usepackage{{{needs}}}{line}"));
    }

    /// <summary>Whether a package is loaded, by the preamble or a style file.</summary>
    public static bool IsLoaded(TypedPreamble preamble, string package) =>
        preamble.Commands.Any(c => c.Name is "usepackage" or "RequirePackage" && PreambleEdits.Names(preamble, c).Contains(package));
}

/// <summary>Packages that mean a value by being loaded: paragraphs parted by space, a family of type.</summary>
/// <param name="packages">The packages, and what each means; the usual one of a value first.</param>
internal sealed class PackageCarrier(params (string Package, string Value)[] packages) : Carrier
{
    /// <inheritdoc/>
    public override bool CanHold(string value) => packages.Any(p => p.Value == value);

    /// <inheritdoc/>
    public override IEnumerable<Found> Read(TypedPreamble preamble)
    {
        foreach (PreambleCommand command in preamble.Commands.Where(c => c.Name is "usepackage" or "RequirePackage"))
        {
            foreach ((int from, int to) in preamble.Items(command, TypedPreamble.Argument(command)!.Value))
            {
                string name = preamble.Texts[command.File][from..to];
                if (packages.FirstOrDefault(p => p.Package == name).Value is { } meaning)
                {
                    yield return new Found(this, command, meaning, from, to);
                }
            }
        }
    }

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit> Replace(TypedPreamble preamble, Found found, string value) => Words(found, packages.First(p => p.Value == value).Package);

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit> Remove(TypedPreamble preamble, Found found) => [PreambleEdits.RemovePackage(preamble, found.Command, preamble.Texts[found.Command.File][found.From..found.To])];

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit>? Add(TypedPreamble preamble, string value)
    {
        string package = packages.First(p => p.Value == value).Package;
        return One(PreambleEdits.PackageLine(preamble, package, $"\\usepackage{{{package}}}"));
    }
}

/// <summary>An environment of the text whose content is the value, such as the abstract.</summary>
/// <param name="name">The environment.</param>
internal sealed class EnvironmentCarrier(string name) : Carrier
{
    // The standard classes with an abstract (Lamport, section C.5.4), and those built like them.
    private static readonly HashSet<string> s_without = new(StringComparer.Ordinal) { "book", "letter", "scrbook", "scrlttr2", "beamer", "slides" };

    /// <inheritdoc/>
    public override bool CanHold(string value) => !value.Contains("\\end", StringComparison.Ordinal) || !value.Replace(" ", "", StringComparison.Ordinal).Contains($"\\end{{{name}}}", StringComparison.Ordinal);

    /// <inheritdoc/>
    public override IEnumerable<Found> Read(TypedPreamble preamble)
    {
        foreach (PreambleCommand command in preamble.InText.Where(c => c.Name == name))
        {
            string body = preamble.Words(command, command.Groups[0]);
            int from = command.Groups[0].From + (body.Length - body.TrimStart().Length);
            yield return new Found(this, command, body.Trim(), from, from + body.Trim().Length);
        }
    }

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit> Replace(TypedPreamble preamble, Found found, string value)
    {
        // A comment in the last line must not take the end along.
        bool isOpen = value[(value.LastIndexOf('\n') + 1)..].Contains('%', StringComparison.Ordinal) && preamble.Texts[found.Command.File][found.To] is not ('\n' or '\r');
        return Words(found, isOpen ? value + "\n" : value);
    }

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit> Remove(TypedPreamble preamble, Found found) => [PreambleEdits.Remove(preamble, found.Command)];

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit>? Add(TypedPreamble preamble, string value)
    {
        string environment = $"\\begin{{{name}}}\n{value}\n\\end{{{name}}}";
        bool has = preamble.Commands.FirstOrDefault(c => c.Name == "documentclass") is { } document && TypedPreamble.Argument(document) is { } argument && !s_without.Contains(preamble.Words(document, argument).Trim());
        return has && preamble.InText.LastOrDefault(c => c.Name == "maketitle") is { } title ? [PreambleEdits.LineBehind(preamble, title, environment)] : null;
    }
}

/// <summary>A field of the heads and feet, as the package fancyhdr has them.</summary>
/// <param name="area">H for the head, F for the foot.</param>
/// <param name="field">L, C or R.</param>
/// <param name="side">O for right-hand pages, E for left-hand ones; a space for both.</param>
internal sealed class HeadFieldCarrier(char area, char field, char side) : Carrier
{
    /// <inheritdoc/>
    public override IEnumerable<Found> Read(TypedPreamble preamble)
    {
        foreach (PreambleCommand command in preamble.Commands)
        {
            bool isShort = command.Name is ['l' or 'c' or 'r', .. "head" or "foot"];
            if (!isShort && command.Name is not ("fancyhead" or "fancyfoot" or "fancyhf"))
            {
                continue;
            }

            TypedGroup argument = TypedPreamble.Argument(command)!.Value;
            string words = preamble.Words(command, argument).Trim();
            if (isShort)
            {
                // In brackets stands what left-hand pages have.
                if (char.ToUpperInvariant(command.Name[0]) == field && (command.Name.EndsWith("head", StringComparison.Ordinal) ? 'H' : 'F') == area)
                {
                    TypedGroup own = TypedPreamble.Options(command) is { } even && side == 'E' ? even : argument;
                    yield return new Found(this, command, preamble.Words(command, own).Trim(), own.From, own.To, TypedPreamble.Options(command) is null);
                }

                continue;
            }

            string areas = command.Name switch { "fancyhead" => "H", "fancyfoot" => "F", _ => "HF" };
            string where = TypedPreamble.Options(command) is { } options ? preamble.Words(command, options) : "";
            string[] places = where.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries) is { Length: > 0 } some ? some : [""];
            if (places.Any(p => Covers(p, areas)))
            {
                yield return new Found(this, command, words, argument.From, argument.To, places.Length > 1 || !Names(places[0], areas));
            }
        }
    }

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit> Replace(TypedPreamble preamble, Found found, string value) => Words(found, value);

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit> Remove(TypedPreamble preamble, Found found) => [PreambleEdits.Remove(preamble, found.Command)];

    /// <inheritdoc/>
    public override IReadOnlyList<FileEdit>? Add(TypedPreamble preamble, string value)
    {
        if (!SwitchCarrier.IsLoaded(preamble, "fancyhdr"))
        {
            return null;
        }

        string line = $"\\fancy{(area == 'H' ? "head" : "foot")}[{$"{field}{side}".Trim()}]{{{value}}}";
        // Behind what sets all fields: the later one wins.
        PreambleCommand? last = preamble.Commands.LastOrDefault(c => c.Held == HeldBecause.No && (c.Name.StartsWith("fancy", StringComparison.Ordinal) || c.Name is "pagestyle" or ['l' or 'c' or 'r', .. "head" or "foot"]));
        return last is null ? One(PreambleEdits.LastLine(preamble, line)) : [PreambleEdits.LineBehind(preamble, last, line)];
    }

    private bool Covers(string place, string areas)
    {
        string letters = place.ToUpperInvariant();
        return Has(letters, "LCR", field) && Has(letters, "OE", side == ' ' ? 'O' : side) && (letters.AsSpan().IndexOfAny('H', 'F') >= 0 ? letters.Contains(area, StringComparison.Ordinal) : areas.Contains(area, StringComparison.Ordinal));
    }

    // Whether a place names this field and no other.
    private bool Names(string place, string areas)
    {
        string letters = place.ToUpperInvariant();
        return letters.Count(l => "LCR".Contains(l, StringComparison.Ordinal)) == 1 && letters.Count(l => "OE".Contains(l, StringComparison.Ordinal)) == (side == ' ' ? 0 : 1) && (areas.Length == 1 || letters.Count(l => "HF".Contains(l, StringComparison.Ordinal)) == 1);
    }

    // Whether letters of a kind name one, or none, which is all.
    private static bool Has(string letters, string kind, char one) => letters.Contains(one, StringComparison.Ordinal) || !letters.Any(l => kind.Contains(l, StringComparison.Ordinal));
}
