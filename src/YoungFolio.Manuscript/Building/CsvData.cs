using System.Text;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>One value of a data file.</summary>
/// <param name="Text">The value without its quotation marks.</param>
/// <param name="Offset">Offset of its first character in the file.</param>
internal readonly record struct CsvCell(string Text, int Offset);

/// <summary>Comma-separated values (RFC 4180, and the separators that spreadsheet programs write instead of commas).</summary>
internal static class CsvData
{
    private static readonly char[] s_separators = [',', ';', '\t'];

    /// <summary>The rows of a text; empty lines are passed over.</summary>
    /// <param name="text">The file's text.</param>
    /// <param name="separator">The separator; null: the one of comma, semicolon and tab that the first line has most of.</param>
    /// <param name="budget">What is taken from for each line.</param>
    public static List<List<CsvCell>> Read(string text, char? separator, WorkBudget budget)
    {
        char sign = separator ?? Guess(text);
        var rows = new List<List<CsvCell>>();
        var row = new List<CsvCell>();
        int at = 0;
        while (at < text.Length)
        {
            int start = at;
            string value = text[at] == '"' ? Quoted(text, ref at) : "";
            int end = at;
            while (end < text.Length && text[end] != sign && text[end] is not '\n' and not '\r')
            {
                end++;
            }

            row.Add(new CsvCell((value + text[at..end]).Trim(), start));
            at = end;
            if (at < text.Length && text[at] == sign)
            {
                at++;
                if (at < text.Length && text[at] is not '\n' and not '\r')
                {
                    continue;
                }

                row.Add(new CsvCell("", at));
            }

            at += at + 1 < text.Length && text[at] == '\r' && text[at + 1] == '\n' ? 2 : 1;
            budget.Spend(row.Count);
            if (row.Exists(c => c.Text.Length > 0))
            {
                rows.Add(row);
            }

            row = [];
        }

        return rows;
    }

    private static char Guess(string text)
    {
        int end = text.IndexOfAny(['\n', '\r']);
        string first = end < 0 ? text : text[..end];
        return s_separators.MaxBy(c => first.Count(x => x == c));
    }

    // A doubled quotation mark inside stands for one.
    private static string Quoted(string text, ref int at)
    {
        var value = new StringBuilder();
        for (at++; at < text.Length; at++)
        {
            if (text[at] != '"')
            {
                value.Append(text[at]);
            }
            else if (at + 1 < text.Length && text[at + 1] == '"')
            {
                value.Append('"');
                at++;
            }
            else
            {
                at++;
                break;
            }
        }

        return value.ToString();
    }

    /// <summary>
    /// Makes a value markup: commands and formulas in it hold, but signs that data mean as themselves (a per cent sign, an underscore
    /// in a name) lose their power.
    /// </summary>
    public static string AsMarkup(string value)
    {
        var markup = new StringBuilder();
        bool inFormula = value.Count(c => c == '$') % 2 != 0;
        for (int i = 0; i < value.Length; i++)
        {
            char c = value[i];
            bool escaped = i > 0 && value[i - 1] == '\\';
            if (c == '$' && !escaped && value.Count(d => d == '$') % 2 == 0)
            {
                inFormula = !inFormula;
            }

            bool literal = !escaped && (c is '%' or '#' or '&' || (!inFormula && c is '_' or '^') || (c == '$' && value.Count(d => d == '$') % 2 != 0));
            markup.Append(!literal ? c : c == '^' ? "\\textasciicircum{}" : "\\" + c);
        }

        return markup.ToString();
    }
}

/// <summary>Rows of a data file as tokens.</summary>
/// <param name="Columns">Names of the columns, from the head or counted.</param>
/// <param name="Head">The head's cells; null when the file has none.</param>
/// <param name="Rows">The rows' cells, as many as there are columns.</param>
internal sealed record DataRows(IReadOnlyList<string> Columns, IReadOnlyList<List<Token>>? Head, IReadOnlyList<IReadOnlyList<List<Token>>> Rows);
