using System.Text;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Data files as rows for csvsimple and datatool.</summary>
internal sealed class DataTables(DocumentBuilder builder) : ReadingFeature(builder)
{
    /// <summary>Reads a data file; null, with a finding, when it isn't there or holds nothing.</summary>
    internal DataRows? ReadData(List<Token> name, Token token, char? separator, bool hasHead)
    {
        string path = Builder.Files.FileName(name);
        int at = name.Count > 0 ? name[0].Position : token.Position;
        if (Builder.Files.Resolve(path, ["", ".csv"], token, at) is not { } file)
        {
            return null;
        }

        List<List<CsvCell>> rows = CsvData.Read(file.Text, separator, Builder.Budget);
        if (rows.Count == 0)
        {
            Findings.Check("no-data", at, Math.Max(1, path.Length), $"The file {file.Path} holds no values.", "Put a line of names and lines of values into it.");
            return null;
        }

        int start = Machine.Positions.Register(file);
        int columns = rows[0].Count;
        if (rows.FirstOrDefault(r => r.Count != columns) is { } odd)
        {
            Findings.Check("uneven-data", start + odd[0].Offset, Math.Max(1, odd[0].Text.Length),
                $"This line has {odd.Count} values, and the first one has {columns}.",
                "Missing ones are set empty, and surplus ones are left out. A value with the separator in it needs quotation marks around it.");
        }

        List<List<List<Token>>> cells = [.. rows.Select(r => Enumerable.Range(0, columns).Select(c => c < r.Count ? Cell(r[c]) : []).ToList())];
        IReadOnlyList<string> names = hasHead
            ? [.. rows[0].Select(c => c.Text)]
            : [.. Enumerable.Range(1, columns).Select(c => c.ToString(System.Globalization.CultureInfo.InvariantCulture))];
        return new DataRows(names, hasHead ? cells[0] : null, [.. cells.Skip(hasHead ? 1 : 0)]);

        List<Token> Cell(CsvCell cell)
        {
            List<Token> tokens = [.. Machine.Tokenize(CsvData.AsMarkup(cell.Text), start + cell.Offset)];
            // A cell has a list of its own, which takes as much as two tokens.
            Builder.Budget.Spend(tokens.Count + 2);
            return tokens;
        }
    }
}
