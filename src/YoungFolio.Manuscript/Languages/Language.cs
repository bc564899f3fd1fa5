using System.Collections.Concurrent;
using System.Collections.Frozen;
using System.Globalization;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Languages;

/// <summary>Quotation marks, and those within them.</summary>
public sealed record QuotationMarks(string Open, string Close, string InnerOpen, string InnerClose);

/// <summary>A language in the list of them.</summary>
/// <param name="Code">Its code, such as <c>en-gb</c>.</param>
/// <param name="Title">What it is called in English.</param>
/// <param name="Names">The names that preambles use of it, the most usual first.</param>
public sealed record LanguageEntry(string Code, string Title, IReadOnlyList<string> Names);

/// <summary>A language that manuscripts are written in: names of things, dates and signs. Each is a data file of its own beside this one.</summary>
public sealed class Language
{
    private static readonly ConcurrentDictionary<string, Language> s_read = new(StringComparer.Ordinal);

    // A preamble may name any language, so that the names of all are known before one is read.
    private static readonly IReadOnlyList<LanguageEntry> s_index = [.. ReadIndex()];
    private static readonly FrozenDictionary<string, string> s_codes = s_index.SelectMany(e => e.Names.Select(n => (n, e.Code))).ToFrozenDictionary(n => n.n, n => n.Code, StringComparer.Ordinal);

    private static readonly string[] s_captions =
    [
        "contentsname", "listfigurename", "listtablename", "figurename", "tablename", "partname", "chaptername", "appendixname", "abstractname", "refname", "bibname",
        "indexname", "pagename", "seename", "alsoname", "proofname", "enclname", "ccname", "headtoname", "prefacename", "glossaryname",
    ];

    private readonly FrozenDictionary<string, string> _entries;
    private readonly string[] _months;
    private readonly FrozenDictionary<char, string> _letters;
    private readonly ConcurrentDictionary<string, (string One, string Many)?> _references = new(StringComparer.Ordinal);

    private Language(string code, IReadOnlyDictionary<string, string> entries)
    {
        Code = code;
        _entries = entries.ToFrozenDictionary(StringComparer.Ordinal);
        _months = [.. _entries["months"].Split(' ').Select(Spaced)];
        _letters = (Entry("quote mark is short for") ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries).ToFrozenDictionary(e => e[0], e => e[2..]);
    }

    /// <summary>The languages, those that manuscripts are written in most first; none of them is read for it.</summary>
    public static IReadOnlyList<LanguageEntry> Listed => s_index;

    /// <summary>The languages, all of them read.</summary>
    public static IEnumerable<Language> All => s_index.Select(e => Of(e.Code));

    /// <summary>The names by which preambles call languages.</summary>
    public static IEnumerable<string> AllNames => s_index.SelectMany(e => e.Names);

    /// <summary>The language's code, such as <c>en-gb</c>.</summary>
    public string Code { get; }

    /// <summary>What it is called in English.</summary>
    public string Title => s_index.First(e => e.Code == Code).Title;

    /// <summary>The names that preambles use of it, the most usual first.</summary>
    public IReadOnlyList<string> Names => s_index.First(e => e.Code == Code).Names;

    /// <summary>What <c>\languagename</c> says.</summary>
    public string Name => Entry("called") ?? Names[0];

    /// <summary>Whether common nouns begin with a capital.</summary>
    public bool CapitalisesNouns => Has("capital nouns");

    /// <summary>Whether a straight quotation mark is a shorthand for quotation marks, divisions and letters.</summary>
    public bool HasShorthands => Has("quote mark is short for signs");

    /// <summary>Between a caption's number and its text, where the language has its own; null for the class's.</summary>
    public string? CaptionSeparator => Entry("caption separator") is { } sign ? $" {sign} " : null;

    /// <summary>Whether the first paragraph below a heading has an indent.</summary>
    public bool IndentsFirst => Has("first paragraphs have an indent");

    /// <summary>Whether a caption's number comes before the name of the thing.</summary>
    public bool PutsNumbersFirst => Has("number before the name");

    /// <summary>Commands of the language's own, as markup; null for none.</summary>
    public string? Definitions => Entry("commands");

    /// <summary>Between the last two members of a list.</summary>
    public string And => _entries["and"];

    /// <summary>Between the ends of a range.</summary>
    public string To => _entries["to"];

    /// <summary>The code of a language by the name that a preamble uses; null when it isn't known.</summary>
    public static string? CodeOf(string name) => s_codes.GetValueOrDefault(name);

    /// <summary>The language of a code; American English for one that isn't known.</summary>
    public static Language Of(string code) => s_read.GetOrAdd(code, static c => Read(c) ?? Of("en-us"));

    /// <summary>What the names of things are, by the commands that print them.</summary>
    public IEnumerable<(string Command, string Text)> Captions => s_captions.Select(c => (c, _entries[c]));

    /// <summary>What one thing of a kind, or several, are called in references; null for a kind without a name.</summary>
    public (string One, string Many)? Reference(string kind) => _references.GetOrAdd(kind, k =>
        Entry("reference " + k)?.Split(", ") is [var one, var many] ? (one, many) : null);

    /// <summary>The quotation marks, in a style where there are several.</summary>
    public QuotationMarks Quotes(string style)
    {
        string[] marks = [.. (Entry("quotes " + style) ?? _entries["quotes"]).Split(' ').Select(Spaced)];
        return new QuotationMarks(marks[0], marks[1], marks[2], marks[3]);
    }

    /// <summary>The letter that a straight quotation mark and a letter are short for; null for none.</summary>
    public string? Shorthand(char letter) => _letters.GetValueOrDefault(letter);

    /// <summary>A date as the language writes it.</summary>
    public string Date(DateOnly date) => Spaced(_entries["date"])
        .Replace("{d}", date.Day == 1 && Entry("first") is { } first ? first : date.Day.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal)
        .Replace("{month}", _months[date.Month - 1], StringComparison.Ordinal)
        .Replace("{y}", date.Year.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal);

    /// <summary>Defines the names of things, in the present group.</summary>
    public void DefineCaptions(Machine machine)
    {
        ArgumentNullException.ThrowIfNull(machine);
        foreach ((string command, string text) in Captions)
        {
            machine.Assign(machine.Symbol(command).Meaning, new MacroMeaning { Pattern = [], Arity = 0, Body = machine.Tokenize(text, PositionTable.None) });
        }
    }

    private string? Entry(string key) => _entries.GetValueOrDefault(key);

    private bool Has(string key) => _entries.ContainsKey(key);

    private static string Spaced(string text) => text.Replace('~', '\u00A0');

    private static IEnumerable<LanguageEntry> ReadIndex() =>
        ShippedText.Lines(typeof(Language).Assembly, "languages.txt").Select(static l => l.Split(": ")).Select(static e => new LanguageEntry(e[0], e[1], e[2].Split(' ')));

    private static Language? Read(string code) => ShippedText.Entries(typeof(Language).Assembly, $"language-{code}.txt") is { } entries ? new Language(code, entries) : null;
}
