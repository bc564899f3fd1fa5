using System.Globalization;
using System.Text;
using YoungFolio.Compiler;

namespace YoungFolio.HandIn;

/// <summary>How many words print, by section and by what they are, as a table for spreadsheets (RFC 4180).</summary>
public static class WordReport
{
    /// <summary>The table: each section with its own words and with those of the sections within it, then the sums.</summary>
    /// <param name="report">The proof's report.</param>
    public static string Csv(CompileReport report)
    {
        ArgumentNullException.ThrowIfNull(report);
        var table = new StringBuilder("Number,Title,Words,With its sections\r\n");
        for (int i = 0; i < report.Outline.Count; i++)
        {
            OutlineLine line = report.Outline[i];
            int whole = line.Words + report.Outline.Skip(i + 1).TakeWhile(l => l.Level > line.Level).Sum(l => l.Words);
            Row(line.Number ?? "", line.Title, line.Words, whole);
        }

        (string Name, int Words)[] kinds = [("Running text", report.WordsBy.Text), ("Headings", report.WordsBy.Headings), ("Captions", report.WordsBy.Captions), ("Notes", report.WordsBy.Notes), ("In all", report.Words)];
        foreach ((string name, int words) in kinds)
        {
            Row("", name, words, null);
        }

        return table.ToString();

        void Row(string number, string title, int words, int? whole) => table.Append(CultureInfo.InvariantCulture, $"{Field(number)},{Field(title)},{words},{whole}\r\n");
    }

    // What a spreadsheet would take for a formula is text behind an apostrophe.
    private static string Field(string text)
    {
        string safe = text is ['=' or '+' or '-' or '@', ..] ? "'" + text : text;
        return safe.AsSpan().IndexOfAny(",\"\r\n") >= 0 ? $"\"{safe.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : safe;
    }
}
