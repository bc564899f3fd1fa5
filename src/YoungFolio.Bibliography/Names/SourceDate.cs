using System.Globalization;
using System.Text.RegularExpressions;

namespace YoungFolio.Bibliography;

/// <summary>
/// A date as sources have them: the forms of EDTF (ISO 8601-2, levels 0 and 1) in <c>date</c>, or a year and a month apart.
/// </summary>
/// <param name="Year">The year as it prints; empty when there is none.</param>
/// <param name="Month">1 to 12, or 0.</param>
/// <param name="Day">1 to 31, or 0.</param>
public sealed partial record SourceDate(string Year, int Month, int Day)
{
    private static readonly string[] s_months =
        ["january", "february", "march", "april", "may", "june", "july", "august", "september", "october", "november", "december"];

    /// <summary>The end of a span; empty when it has none or is open.</summary>
    public string EndYear { get; init; } = "";

    /// <summary>Whether it is a span, perhaps open.</summary>
    public bool IsSpan { get; init; }

    /// <summary>Whether it is only about right.</summary>
    public bool IsApproximate { get; init; }

    /// <summary>What is wrong with it, or null.</summary>
    public string? Problem { get; init; }

    /// <summary>No date at all.</summary>
    public static SourceDate None { get; } = new("", 0, 0);

    /// <summary>The year with the end of a span, as it prints.</summary>
    public string Printed => (IsApproximate ? "ca.~" : "") + Year + (IsSpan ? "--" + EndYear : "");

    /// <summary>Number to sort by; entries without a year come last.</summary>
    public int SortYear => FirstNumber().Match(Year) is { Success: true } m && int.TryParse(m.Value, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out int year) ? year : 9999;

    /// <summary>The date of an entry.</summary>
    public static SourceDate Of(BibEntry entry)
    {
        if (entry.Field("date") is { Length: > 0 } date)
        {
            return Read(date.Trim('{', '}'));
        }

        string year = entry.Field("year");
        if (year.Length == 0)
        {
            return None;
        }

        string plain = MarkupText.Plain(year);
        if (plain.Length > 4 && plain.Any(char.IsAsciiDigit) && Edtf().IsMatch(plain))
        {
            return Read(plain);
        }

        return new SourceDate(year, MonthOf(MarkupText.Plain(entry.Field("month"))), 0)
        {
            Problem = plain.Any(char.IsAsciiDigit) || WithoutYear(plain) ? null : $"“{plain}” is no year.",
        };
    }

    /// <summary>Reads a date of EDTF.</summary>
    public static SourceDate Read(string text)
    {
        text = text.Trim();
        string[] ends = text.Split('/');
        if (ends.Length > 2 || !Edtf().IsMatch(text))
        {
            return new SourceDate(text, 0, 0) { Problem = $"“{text}” is no date: write 2004, 2004-05 or 2004-05-17, and 2004/2006 for a span." };
        }

        (string year, int month, int day, bool approximate) = Part(ends[0]);
        if (month > 41 || (month is > 12 and < 21) || day > 31)
        {
            return new SourceDate(year, 0, 0) { Problem = $"“{text}” has a month or a day that doesn't exist." };
        }

        string endYear = ends.Length > 1 ? Part(ends[1]).Year : "";
        return new SourceDate(year, month is >= 1 and <= 12 ? month : 0, day)
        {
            EndYear = endYear == year ? "" : endYear,
            IsSpan = ends.Length > 1 && endYear != year,
            IsApproximate = approximate,
        };
    }

    private static (string Year, int Month, int Day, bool Approximate) Part(string text)
    {
        bool approximate = text.EndsWith('~') || text.EndsWith('%');
        string bare = text.TrimEnd('~', '?', '%');
        int time = bare.IndexOf('T', StringComparison.Ordinal);
        bare = time > 0 ? bare[..time] : bare;
        bool negative = bare.StartsWith('-');
        string[] parts = bare.TrimStart('-').Split('-');
        string year = parts[0] is "" or ".." or "open" or "unknown" ? "" : parts[0].TrimStart('Y', 'y');
        // A decade or a century is written with letters for what isn't known.
        year = year.Replace('u', 'X').Replace('x', 'X');
        year = year.EndsWith("XX", StringComparison.Ordinal) ? year[..^2] + "00s" : year.EndsWith('X') ? year[..^1] + "0s" : year;
        year = negative && year.Length > 0 ? year.TrimStart('0') + "~BCE" : year;
        int Number(int i) => i < parts.Length && int.TryParse(parts[i], NumberStyles.None, CultureInfo.InvariantCulture, out int n) ? n : 0;
        return (year, Number(1), Number(2), approximate);
    }

    private static int MonthOf(string text)
    {
        if (int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out int number))
        {
            return number is >= 1 and <= 12 ? number : 0;
        }

        // “January/February” isn't one month, and prints as it stands.
        string word = text.TrimEnd('.').ToLowerInvariant();
        return word.Length < 3 || !word.All(char.IsLetter) ? 0 : Array.FindIndex(s_months, m => m.StartsWith(word[..3], StringComparison.Ordinal)) + 1;
    }

    private static bool WithoutYear(string text) =>
        text.Contains("press", StringComparison.OrdinalIgnoreCase) || text.Contains("forthcoming", StringComparison.OrdinalIgnoreCase)
        || text.Contains("appear", StringComparison.OrdinalIgnoreCase) || text.Contains("submitted", StringComparison.OrdinalIgnoreCase) || text.Contains("n.d", StringComparison.OrdinalIgnoreCase);

    [GeneratedRegex(@"^(?:(?:[-+]?[Yy]?\d{1,6}|[-+]?\d{2,3}[XxUu]{1,2})(?:-\d{2}(?:-\d{2}(?:T[\d:Z.+-]+)?)?)?[~?%]?|\.\.|open|unknown)?(?:/(?:(?:[-+]?[Yy]?\d{1,6}|\d{2,3}[XxUu]{1,2})(?:-\d{2}(?:-\d{2})?)?[~?%]?|\.\.|open|unknown)?)?$")]
    private static partial Regex Edtf();

    [GeneratedRegex(@"-?\d+")]
    private static partial Regex FirstNumber();
}
