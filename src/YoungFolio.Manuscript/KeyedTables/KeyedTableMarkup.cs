using System.Globalization;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.KeyedTables;

/// <summary>
/// Writes a table whose looks are said by keys as one in the language of the other tables: columns, lines, cells over several rows and columns, grounds.
/// What cells hold stays as it was written, at its own place in the source.
/// </summary>
internal sealed class KeyedTableMarkup
{
    private readonly Machine _machine;
    private readonly KeyedTable _table;
    private readonly Token _token;
    private readonly List<Token> _written = [];

    private readonly Dictionary<(int Row, int Column), (int Row, int Column)> _holders;

    private KeyedTableMarkup(Machine machine, KeyedTable table, Token token) => (_machine, _table, _token, _holders) = (machine, table, token, Holders(table));

    private int Width => _table.Columns.Count;

    /// <summary>The tokens of a table.</summary>
    /// <param name="machine">Makes tokens.</param>
    /// <param name="table">The table.</param>
    /// <param name="token">Where it begins.</param>
    /// <param name="place">Where a table in the line stands, t, m or b; null: it goes on over pages.</param>
    /// <param name="caption">The caption of one that goes on over pages, with its label; empty: none.</param>
    public static List<Token> Of(Machine machine, KeyedTable table, Token token, string? place, IReadOnlyList<Token> caption)
    {
        var markup = new KeyedTableMarkup(machine, table, token);
        markup.Write(place, caption);
        return markup._written;
    }

    private void Add(string markup) => _written.AddRange(_machine.Tokenize(markup, _token.Position));

    private void Write(string? place, IReadOnlyList<Token> caption)
    {
        bool shares = _table.Columns.Exists(c => c.Share != 0) || (_table.Width is not null && _table.Columns.TrueForAll(c => c.Width is null));
        string name = (place is null, shares) switch { (true, true) => "xltabular", (true, false) => "longtable", (false, true) => "tabularx", _ => "tabular" };
        string width = shares ? $"{{{_table.Width ?? "\\linewidth"}}}" : "";
        string where = place is null ? "" : $"[{place}]";
        // Rows have 2 pt more above and below than those of other tables.
        Add("\\renewcommand{\\arraystretch}{1.333}");
        // tabularx names its width before its place, xltabular its place before its width.
        Add($"\\begin{{{name}}}{width}{where}{{{Letters()}}}");
        if (caption.Count > 0)
        {
            _written.AddRange(caption);
            Add("\\\\");
        }

        for (int row = 1; row <= _table.Rows.Count; row++)
        {
            Lines(row);
            WriteRow(row);
            Add("\\\\");
            if (row == _table.HeadRows && place is null)
            {
                Lines(row + 1);
                Add("\\endhead ");
            }
        }

        Lines(_table.Rows.Count + 1);
        Add($"\\end{{{name}}}");
    }

    // ---- columns --------------------------------------------------------------------------------------------

    private string Letters()
    {
        double shares = _table.Columns.Sum(c => Math.Max(0, c.Share));
        int sharing = _table.Columns.Count(c => c.Share != 0);
        var letters = new System.Text.StringBuilder(Edge(1));
        for (int column = 1; column <= Width; column++)
        {
            CellLook look = _table.Columns[column - 1];
            char horizontal = _table.Look(0, column).Horizontal ?? 'l';
            if (look.Share != 0)
            {
                double part = shares > 0 ? Math.Max(0.01, look.Share) * sharing / shares : 1;
                letters.Append(CultureInfo.InvariantCulture, $">{{{Ragged(horizontal)}}}X[{part:0.####}]");
            }
            else if (look.Width is { } width)
            {
                letters.Append(CultureInfo.InvariantCulture, $">{{{Ragged(horizontal)}}}{(look.Vertical is 'm' or 'b' ? look.Vertical : 'p')}{{{width}}}");
            }
            else
            {
                letters.Append(horizontal == 'j' ? 'l' : horizontal);
            }

            letters.Append(Edge(column + 1));
        }

        return letters.ToString();
    }

    private static string Ragged(char horizontal) => horizontal switch { 'c' => "\\centering\\arraybackslash ", 'r' => "\\raggedleft\\arraybackslash ", 'l' => "\\raggedright\\arraybackslash ", _ => "" };

    // Upright lines before a column, along the whole table or most of it.
    private string Edge(int at) => _table.Upright.Exists(l => l.At == at) ? "|" : "";

    // ---- lines across ---------------------------------------------------------------------------------------

    private void Lines(int before)
    {
        if (_table.LineCommands.TryGetValue(before, out List<Token>? commands))
        {
            _written.AddRange(commands);
        }

        foreach (KeyedTableLine line in _table.Across.Where(l => l.At == before))
        {
            // A line is broken where a cell of several rows goes through it.
            List<(int From, int To)> stretches = Stretches(before, line.From, Math.Min(line.To, Width));
            if (stretches is [(1, var to)] && to == Width)
            {
                Add(line.Width is { } width ? $"\\Xhline{{{width}}}" : "\\hline ");
                continue;
            }

            foreach ((int from, int end) in stretches)
            {
                Add(line.Width is { } width ? $"\\Xcline{{{from}-{end}}}{{{width}}}" : $"\\cline{{{from}-{end}}}");
            }
        }
    }

    private List<(int From, int To)> Stretches(int before, int from, int to)
    {
        var result = new List<(int, int)>();
        int start = 0;
        for (int column = from; column <= to + 1; column++)
        {
            bool isOpen = column <= to && (Holder(before, column) is not { } holder || holder.Row == before);
            if (isOpen && start == 0)
            {
                start = column;
            }
            else if (!isOpen && start > 0)
            {
                result.Add((start, column - 1));
                start = 0;
            }
        }

        return result;
    }

    // The cell of several rows or columns that takes a place; null: none but its own.
    private (int Row, int Column)? Holder(int row, int column) => _holders.TryGetValue((row, column), out (int Row, int Column) holder) ? holder : null;

    private static Dictionary<(int Row, int Column), (int Row, int Column)> Holders(KeyedTable table)
    {
        var holders = new Dictionary<(int Row, int Column), (int Row, int Column)>();
        foreach (((int row, int column), (int rows, int columns)) in table.Spans.OrderBy(s => s.Key))
        {
            for (int r = row; r < Math.Min(row + rows, table.Rows.Count + 1); r++)
            {
                for (int c = column; c < Math.Min(column + columns, table.Columns.Count + 1); c++)
                {
                    holders.TryAdd((r, c), (row, column));
                }
            }
        }

        return holders;
    }

    // ---- cells ----------------------------------------------------------------------------------------------

    private void WriteRow(int row)
    {
        List<List<Token>> cells = _table.Rows[row - 1];
        for (int column = 1; column <= Width;)
        {
            if (column > 1)
            {
                Add("&");
            }

            List<Token> content = column <= cells.Count ? cells[column - 1] : [];
            if (Holder(row, column) is { } holder && holder != (row, column))
            {
                // Hidden below or beside a cell that takes its place.
                int columns = holder.Column == column ? _table.Span(holder.Row, holder.Column).Columns : 1;
                if (columns > 1)
                {
                    Add($"\\multicolumn{{{columns}}}{{{(column == 1 ? Edge(1) : "")}c{Edge(column + columns)}}}{{}}");
                }

                column += columns;
                continue;
            }

            (int down, int across) = _table.Span(row, column);
            across = Math.Min(across, Width - column + 1);
            CellLook look = _table.Look(row, column);
            bool isOwn = across > 1 || (look.Horizontal is { } own && own != (_table.Look(0, column).Horizontal ?? 'l'));
            if (isOwn)
            {
                char horizontal = look.Horizontal is 'l' or 'c' or 'r' ? look.Horizontal.Value : 'l';
                string letter = across == 1 && _table.Columns[column - 1].Width is { } width ? $">{{{Ragged(horizontal)}}}p{{{width}}}" : horizontal.ToString();
                Add($"\\multicolumn{{{across}}}{{{(column == 1 ? Edge(1) : "")}{letter}{Edge(column + across)}}}{{");
            }

            if (look.Ground is { } ground)
            {
                Add($"\\cellcolor{{{ground}}}");
            }

            if (down > 1)
            {
                Add($"\\multirow{{{down}}}{{*}}{{");
            }

            WriteContent(content, look);
            Add((down > 1 ? "}" : "") + (isOwn ? "}" : ""));
            column += across;
        }
    }

    private void WriteContent(List<Token> content, CellLook look)
    {
        Add((look.Ink is { } ink ? $"\\color{{{ink}}}" : "") + (look.Font is { } font ? font + " " : "") + (look.Command is { } command ? command + "{" : "") + (look.IsFormula ? "$" : ""));
        // A cell in braces may have lines of its own.
        bool isBraced = content is [var open, ..] && open.Is(Category.BeginGroup) && TokenLists.SplitAt(content, '\0') is [var inner] && inner.Count == content.Count - 2;
        if (isBraced && content.Exists(t => t.IsCommand("\\")))
        {
            Add($"\\makecell[{(look.Vertical is 't' or 'b' ? look.Vertical : 'c')}{(look.Horizontal is 'c' or 'r' ? look.Horizontal : 'l')}]");
        }

        _written.AddRange(content);
        Add((look.IsFormula ? "$" : "") + (look.Command is not null ? "}" : ""));
    }
}
