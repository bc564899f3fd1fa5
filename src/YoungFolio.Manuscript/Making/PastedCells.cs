using System.Globalization;
using System.Text;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Making;

/// <summary>Cells that were copied from a spreadsheet or a CSV file.</summary>
public static class PastedCells
{
    /// <summary>The cells of a text, row by row: tabs part them, or else commas or semicolons (RFC 4180).</summary>
    /// <param name="text">What was copied.</param>
    public static IReadOnlyList<IReadOnlyList<string>> Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        char? separator = text.Contains('\t', StringComparison.Ordinal) ? '\t' : null;
        return [.. CsvData.Read(text, separator, new WorkBudget()).Select(r => (IReadOnlyList<string>)[.. r.Select(c => OneLine(c.Text))])];
    }

    /// <summary>Whether the first row holds heads: none of its cells is a number, and some below are.</summary>
    /// <param name="cells">The cells, row by row.</param>
    public static bool HasHead(IReadOnlyList<IReadOnlyList<string>> cells)
    {
        ArgumentNullException.ThrowIfNull(cells);
        return cells.Count > 1 && !cells[0].Any(IsNumber) && cells.Skip(1).Any(r => r.Any(IsNumber));
    }

    /// <summary>Whether some words are numbers alone, or nothing; one is a number at least.</summary>
    /// <param name="cells">The words.</param>
    public static bool AreNumbers(IEnumerable<string> cells)
    {
        string[] filled = [.. cells.Where(c => c.Length > 0)];
        return filled.Length > 0 && filled.All(IsNumber);
    }

    /// <summary>Words as markup that prints them: the signs that have a meaning get a backslash (Lamport, section 2.1).</summary>
    /// <param name="words">The words.</param>
    public static string Escape(string words)
    {
        ArgumentNullException.ThrowIfNull(words);
        var markup = new StringBuilder();
        foreach (char sign in words)
        {
            markup.Append(sign switch
            {
                '&' or '%' or '$' or '#' or '_' or '{' or '}' => "\\" + sign,
                '\\' => "\\textbackslash{}",
                '~' => "\\textasciitilde{}",
                '^' => "\\textasciicircum{}",
                _ => sign.ToString(),
            });
        }

        return markup.ToString();
    }

    // With a sign, with either mark before decimals, in thousands, with a percent behind.
    private static bool IsNumber(string words)
    {
        string digits = words.TrimEnd('%', ' ').Replace('−', '-').Replace("\u00a0", "", StringComparison.Ordinal).Replace(" ", "", StringComparison.Ordinal);
        return digits.Any(char.IsAsciiDigit)
            && (double.TryParse(digits, NumberStyles.Float | NumberStyles.AllowThousands, CultureInfo.InvariantCulture, out _) || double.TryParse(digits.Replace(".", "", StringComparison.Ordinal).Replace(',', '.'), NumberStyles.Float, CultureInfo.InvariantCulture, out _));
    }

    private static string OneLine(string words) => string.Join(' ', words.Split(['\n', '\r', '\t'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries));
}
