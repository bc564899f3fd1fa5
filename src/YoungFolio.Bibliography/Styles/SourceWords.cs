using System.Collections.Concurrent;
using System.Globalization;
using YoungFolio.Markup;

namespace YoungFolio.Bibliography;

/// <summary>Words that references and citations are put together with, in a language: a data file each, beside this one.</summary>
public sealed record SourceWords
{
    private static readonly ConcurrentDictionary<string, SourceWords> s_read = new(StringComparer.Ordinal);

    private readonly string[] _months = [];
    private readonly string[] _shortMonths = [];
    private readonly string _ordinal = "{n}.";
    private readonly string _date = "{d} {m} {y}";
    private readonly string _shortDate = "{dd}/{mm}/{y}";

    /// <summary>Code of the language.</summary>
    public required string Language { get; init; }

    /// <summary>Between the last two names.</summary>
    public required string And { get; init; }

    /// <summary>Behind one editor.</summary>
    public required string Editor { get; init; }

    /// <summary>Behind several editors.</summary>
    public required string Editors { get; init; }

    /// <summary>For names that aren't listed.</summary>
    public required string Others { get; init; }

    /// <summary>Before what something is in.</summary>
    public required string In { get; init; }

    /// <summary>Before a volume's number, written out and short.</summary>
    public required (string Long, string Short) Volume { get; init; }

    /// <summary>Before a number in a series.</summary>
    public required string Number { get; init; }

    /// <summary>Before pages, written out and short.</summary>
    public required (string Long, string Short) Pages { get; init; }

    /// <summary>Before one page, written out and short.</summary>
    public required (string Long, string Short) Page { get; init; }

    /// <summary>Before a chapter's number.</summary>
    public required string Chapter { get; init; }

    /// <summary>Behind an edition, written out and short.</summary>
    public required (string Long, string Short) Edition { get; init; }

    /// <summary>What a doctoral thesis is called.</summary>
    public required string Doctoral { get; init; }

    /// <summary>What a master's thesis is called.</summary>
    public required string Masters { get; init; }

    /// <summary>What a report is called.</summary>
    public required string Report { get; init; }

    /// <summary>Between a volume and its series.</summary>
    public required string Of { get; init; }

    /// <summary>Before the day on which a page was read.</summary>
    public required string Visited { get; init; }

    /// <summary>For sources without a date.</summary>
    public required string NoDate { get; init; }

    /// <summary>Quotation marks of titles.</summary>
    public required (string Open, string Close) Quotes { get; init; }

    /// <summary>Whether a comma stands before the last of three names.</summary>
    public bool CommaBeforeAnd { get; init; }

    /// <summary>Whether titles are set in small letters by styles that do so.</summary>
    public bool LowersTitles { get; init; }

    /// <summary>A number as an ordinal.</summary>
    public string Ordinal(string number)
    {
        if (!int.TryParse(number, out int n))
        {
            return number;
        }

        return Language switch
        {
            "en" or "en-gb" => n + (n % 100 is >= 11 and <= 13 ? "th" : (n % 10) switch { 1 => "st", 2 => "nd", 3 => "rd", _ => "th" }),
            "fr" when n == 1 => "1\\textsuperscript{re}",
            _ => _ordinal.Replace("{n}", n.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal),
        };
    }

    /// <summary>A month's name; empty for none.</summary>
    public string Month(int month) => month is >= 1 and <= 12 ? _months[month - 1] : "";

    /// <summary>A month's name as dates have it; empty for none.</summary>
    public string ShortMonth(int month) => month is >= 1 and <= 12 ? _shortMonths[month - 1] : "";

    /// <summary>A date with its month in words: what is known of it.</summary>
    /// <param name="date">The date.</param>
    /// <param name="isShort">Whether the month is short.</param>
    public string Date(SourceDate date, bool isShort = false)
    {
        ArgumentNullException.ThrowIfNull(date);
        string month = isShort ? ShortMonth(date.Month) : Month(date.Month);
        return date.Day == 0 || month.Length == 0 ? (month.Length > 0 ? month + " " : "") + date.Printed
            : Filled(_date.Replace("{m}", month, StringComparison.Ordinal), date);
    }

    /// <summary>A date in figures; with its month in words where the day isn't known.</summary>
    public string ShortDate(SourceDate date)
    {
        ArgumentNullException.ThrowIfNull(date);
        return date.Day == 0 || date.Month == 0 ? Date(date, isShort: true) : Filled(_shortDate.Replace("{mm}", date.Month.ToString("00", CultureInfo.InvariantCulture), StringComparison.Ordinal), date);
    }

    private string Filled(string form, SourceDate date) => form.Replace("{dd}", date.Day.ToString("00", CultureInfo.InvariantCulture), StringComparison.Ordinal)
        .Replace("{dth}", OrdinalDay(date.Day), StringComparison.Ordinal).Replace("{d}", date.Day.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal)
        .Replace("{y}", date.Printed, StringComparison.Ordinal);

    private string OrdinalDay(int day) => Ordinal(day.ToString(CultureInfo.InvariantCulture));

    /// <summary>The words of a language by its code, such as <c>en-gb</c>; English for one that isn't known.</summary>
    public static SourceWords For(string language)
    {
        ArgumentNullException.ThrowIfNull(language);
        return s_read.GetOrAdd(language, static code => Read(code) ?? Read(code.Split('-')[0]) ?? Read("en")!);
    }

    private static SourceWords? Read(string code) => ShippedText.Entries(typeof(SourceWords).Assembly, $"words-{code}.txt") is { } words ? new SourceWords(code, words) : null;

    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    private SourceWords(string code, IReadOnlyDictionary<string, string> words)
    {
        (string, string) Both(string name) => (words[name], words[name + ", short"]);
        string[] quotes = words["quotes"].Split(' ');
        Language = code;
        And = words["and"];
        Editor = words["editor"];
        Editors = words["editors"];
        Others = words["others"];
        In = words["in"];
        Volume = Both("volume");
        Number = words["number"];
        Pages = Both("pages");
        Page = Both("page");
        Chapter = words["chapter"];
        Edition = Both("edition");
        Doctoral = words["doctoral thesis"];
        Masters = words["master's thesis"];
        Report = words["report"];
        Of = words["of"];
        Visited = words["visited"];
        NoDate = words["no date"];
        Quotes = (quotes[0], quotes[1]);
        CommaBeforeAnd = words.ContainsKey("comma before the last name");
        LowersTitles = words.ContainsKey("titles in small letters");
        _months = words["months"].Split(' ');
        _shortMonths = words.TryGetValue("months, short", out string? months) ? months.Split(' ') : _months;
        _ordinal = words["ordinal"];
        _date = words.GetValueOrDefault("date", _date);
        _shortDate = words.GetValueOrDefault("date, short", _shortDate);
    }
}
