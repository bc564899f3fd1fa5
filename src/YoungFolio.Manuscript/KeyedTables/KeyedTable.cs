using System.Globalization;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.KeyedTables;

/// <summary>How a cell looks: what column, row and cell say of it, the later winning.</summary>
/// <param name="Horizontal">l, c, r, or j for both edges; null: nothing is said.</param>
/// <param name="Vertical">t, m or b.</param>
/// <param name="Width">Its column's width as written; null: as wide as its content.</param>
/// <param name="Share">Its column's share of what is left of the table's width; 0: none.</param>
/// <param name="Ground">Colour of its ground.</param>
/// <param name="Ink">Colour of its words.</param>
/// <param name="Font">Declarations of type.</param>
/// <param name="Command">A command that takes its content.</param>
/// <param name="IsFormula">Whether it is a formula.</param>
internal sealed record CellLook(
    char? Horizontal = null, char? Vertical = null, string? Width = null, double Share = 0, string? Ground = null, string? Ink = null, string? Font = null, string? Command = null, bool IsFormula = false)
{
    /// <summary>This look with what another one says.</summary>
    public CellLook With(CellLook other) => new(
        other.Horizontal ?? Horizontal, other.Vertical ?? Vertical, other.Width ?? Width, other.Share != 0 ? other.Share : Share, other.Ground ?? Ground, other.Ink ?? Ink,
        other.Font ?? Font, other.Command ?? Command, other.IsFormula || IsFormula);

    /// <summary>Reads a look: <c>c,m,2cm,bg=gray9,font=\bfseries</c>; a figure alone is a share.</summary>
    public static CellLook Of(IReadOnlyList<Token> keys)
    {
        var look = new CellLook();
        foreach ((string key, List<Token> value) in TableKeys.Of(keys))
        {
            string text = value.ToSource().Trim();
            look = key switch
            {
                "l" or "c" or "r" or "j" when text.Length == 0 => look with { Horizontal = key[0] },
                "t" or "m" or "b" or "h" or "f" when text.Length == 0 => look with { Vertical = key is "h" ? 't' : key is "f" ? 'b' : key[0] },
                "halign" => look with { Horizontal = text.Length > 0 ? text[0] : null },
                "valign" => look with { Vertical = text.Length > 0 ? text[0] is 'h' ? 't' : text[0] is 'f' ? 'b' : text[0] : null },
                "wd" or "width" => look with { Width = text },
                "co" => look with { Share = double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out double n) ? n : 1 },
                "bg" => look with { Ground = text },
                "fg" => look with { Ink = text },
                "font" => look with { Font = text },
                "cmd" => look with { Command = text },
                "mode" => look with { IsFormula = text is "math" or "imath" or "dmath" },
                "$" or "$$" => look with { IsFormula = true },
                _ when text.Length == 0 && double.TryParse(key, NumberStyles.Float, CultureInfo.InvariantCulture, out double share) => look with { Share = share },
                _ when text.Length == 0 && key.Length > 2 && (char.IsAsciiDigit(key[0]) || key[0] is '.' or '\\') => look with { Width = key },
                // A colour alone is the ground's.
                _ when text.Length == 0 && key.Length > 2 && char.IsLetter(key[0]) => look with { Ground = key },
                _ => look,
            };
        }

        return look;
    }
}

/// <summary>A line of a table, across or upright.</summary>
/// <param name="At">Which line: 1 is before the first row or column.</param>
/// <param name="From">The first column or row that it runs along.</param>
/// <param name="To">The last one.</param>
/// <param name="Width">Its width as written; null: the usual one.</param>
internal sealed record KeyedTableLine(int At, int From, int To, string? Width);

/// <summary>
/// Keys of a table: <c>key{set}{set}=value</c> by commas. Unlike options of packages (<see cref="Building.ListedOption"/>) they keep the braces of their sets, and
/// nothing in them is expanded.
/// </summary>
internal static class TableKeys
{
    /// <summary>The keys with their values' tokens; a key as it is written, a value without outer braces.</summary>
    public static IEnumerable<(string Key, List<Token> Value)> Of(IReadOnlyList<Token> keys)
    {
        foreach (List<Token> member in TokenLists.SplitAtCommas([.. keys.Where(t => !t.IsCommand("par"))]))
        {
            int depth = 0;
            int sign = member.FindIndex(t => (depth += t.Is(Category.BeginGroup) ? 1 : t.Is(Category.EndGroup) ? -1 : 0) == 0 && t.IsCharacter('='));
            yield return sign < 0
                ? (member.ToSource().Trim(), [])
                : (member.GetRange(0, sign).ToSource().Trim(), TokenLists.SplitAt(member.GetRange(sign + 1, member.Count - sign - 1), '\0').FirstOrDefault() ?? []);
        }
    }

    /// <summary>What stands in the braces behind a key's name: <c>cell{1,2}{3}</c> has two sets.</summary>
    public static string[] Sets(string key)
    {
        int open = key.IndexOf('{', StringComparison.Ordinal);
        return open < 0 ? [] : [.. key[open..].Split('{', StringSplitOptions.RemoveEmptyEntries).Select(s => s.Trim(' ', '}'))];
    }
}

/// <summary>A table whose looks are said by keys, apart from its cells (the environment tblr).</summary>
internal sealed class KeyedTable
{
    private readonly List<(string Key, List<Token> Value)> _keys = [];
    private readonly Dictionary<(int Row, int Column), CellLook> _cells = [];
    private readonly Dictionary<int, CellLook> _rows = [];
    private readonly Dictionary<(int Row, int Column), (int Rows, int Columns)> _spans = [];
    private CellLook _all = new();

    /// <summary>Reads a table.</summary>
    /// <param name="keys">Its keys, or only the letters of its columns.</param>
    /// <param name="usual">Keys that hold for all tables.</param>
    /// <param name="rows">Its cells; what stands before a row's first cell is read too.</param>
    public KeyedTable(IReadOnlyList<Token> keys, IReadOnlyList<Token> usual, List<List<List<Token>>> rows)
    {
        Rows = rows;
        _keys.AddRange(TableKeys.Of(keys));
        // Without a key it is the letters of the columns.
        List<Token> letters = _keys.Find(k => k.Key == "colspec").Value ?? (_keys.TrueForAll(k => k.Value.Count == 0 && !IsKey(k.Key)) ? [.. keys] : []);
        _keys.InsertRange(0, TableKeys.Of(usual));
        ReadColumns(letters);
        TakeRowCommands();
        int width = rows.Count == 0 ? 0 : rows.Max(r => r.Count);
        while (Columns.Count < width)
        {
            Columns.Add(new CellLook());
        }

        foreach ((string key, List<Token> value) in _keys)
        {
            Apply(key, value);
        }
    }

    /// <summary>The cells' tokens.</summary>
    public List<List<List<Token>>> Rows { get; }

    /// <summary>The looks of the columns.</summary>
    public List<CellLook> Columns { get; } = [];

    /// <summary>Lines across.</summary>
    public List<KeyedTableLine> Across { get; } = [];

    /// <summary>Upright lines.</summary>
    public List<KeyedTableLine> Upright { get; } = [];

    /// <summary>Commands of lines that stand before a row, as they are: \toprule and its like.</summary>
    public Dictionary<int, List<Token>> LineCommands { get; } = [];

    /// <summary>The table's width as written; null: as wide as its columns.</summary>
    public string? Width { get; private set; }

    /// <summary>How many rows are repeated on each page.</summary>
    public int HeadRows { get; private set; }

    /// <summary>How a cell looks; rows and columns from 1.</summary>
    public CellLook Look(int row, int column)
    {
        CellLook look = _all.With(column <= Columns.Count ? Columns[column - 1] : new CellLook());
        look = _rows.TryGetValue(row, out CellLook? ofRow) ? look.With(ofRow) : look;
        return _cells.TryGetValue((row, column), out CellLook? own) ? look.With(own) : look;
    }

    /// <summary>The cells that take several rows or columns, and how many.</summary>
    public IReadOnlyDictionary<(int Row, int Column), (int Rows, int Columns)> Spans => _spans;

    /// <summary>How many rows and columns a cell takes.</summary>
    public (int Rows, int Columns) Span(int row, int column) => _spans.GetValueOrDefault((row, column), (1, 1));

    private static bool IsKey(string key) => key is "hlines" or "vlines" || key.Contains('{', StringComparison.Ordinal) && (key.StartsWith("hline", StringComparison.Ordinal) || key.StartsWith("vline", StringComparison.Ordinal));

    // l, c, r, Q[…], X[…], p{…}, |, *{3}{…}, @{…}.
    private void ReadColumns(List<Token> letters)
    {
        for (int i = 0; i < letters.Count; i++)
        {
            char letter = letters[i].Symbol is null ? (char)letters[i].Code : ' ';
            switch (letter)
            {
                case 'l' or 'c' or 'r' or 'j':
                    Columns.Add(new CellLook(Horizontal: letter));
                    break;
                case 'S' or 's':
                    Bracketed(letters, ref i);
                    Columns.Add(new CellLook(Horizontal: 'c'));
                    break;
                case 'Q' or 'X':
                    CellLook look = CellLook.Of(Bracketed(letters, ref i));
                    Columns.Add(letter == 'X' && look.Share == 0 ? look with { Share = 1 } : look);
                    break;
                case 't' or 'm' or 'b' or 'h' or 'f' or 'p':
                    Columns.Add(new CellLook(Vertical: letter is 'p' or 'h' or 't' ? 't' : letter is 'f' ? 'b' : letter, Width: Braced(letters, ref i).ToSource()));
                    break;
                case '|':
                    Bracketed(letters, ref i);
                    Upright.Add(new KeyedTableLine(Columns.Count + 1, 1, int.MaxValue, null));
                    break;
                case '*':
                    int copies = int.TryParse(Braced(letters, ref i).ToSource(), NumberStyles.None, CultureInfo.InvariantCulture, out int n) ? Math.Min(n, 200) : 1;
                    List<Token> repeated = Braced(letters, ref i);
                    for (int copy = 0; copy < copies && Columns.Count < 500; copy++)
                    {
                        ReadColumns(repeated);
                    }

                    break;
                case '@' or '!' or '>' or '<':
                    Braced(letters, ref i);
                    break;
                default:
                    break;
            }
        }
    }

    private static List<Token> Bracketed(List<Token> tokens, ref int at)
    {
        if (at + 1 >= tokens.Count || !tokens[at + 1].IsCharacter('['))
        {
            return [];
        }

        int depth = 0;
        int close = tokens.FindIndex(at + 2, t => (depth += t.Is(Category.BeginGroup) ? 1 : t.Is(Category.EndGroup) ? -1 : 0) == 0 && t.IsCharacter(']'));
        close = close < 0 ? tokens.Count : close;
        List<Token> inner = tokens.GetRange(at + 2, close - at - 2);
        at = close;
        return inner;
    }

    private static List<Token> Braced(List<Token> tokens, ref int at)
    {
        if (at + 1 >= tokens.Count || !tokens[at + 1].Is(Category.BeginGroup))
        {
            return [];
        }

        int depth = 0;
        int start = at + 1;
        int close = tokens.FindIndex(start, t => (depth += t.Is(Category.BeginGroup) ? 1 : t.Is(Category.EndGroup) ? -1 : 0) == 0);
        close = close < 0 ? tokens.Count : close;
        at = close;
        return tokens.GetRange(start + 1, Math.Max(0, close - start - 1));
    }

    // \hline, \toprule and their like, \SetRow, \SetCell and \SetHlines where cells begin.
    private void TakeRowCommands()
    {
        for (int r = 0; r < Rows.Count; r++)
        {
            for (int c = 0; c < Rows[r].Count; c++)
            {
                List<Token> cell = TokenLists.TrimSpaces(Rows[r][c]);
                while (cell is [{ Symbol: { } symbol }, ..] && TakeCommand(symbol.Name, cell, r + 1, c + 1))
                {
                    cell = TokenLists.TrimSpaces(cell);
                }

                Rows[r][c] = cell;
            }
        }

        // A row of lines alone is the end of the table.
        if (Rows.Count > 0 && Rows[^1] is [{ Count: 0 }])
        {
            Rows.RemoveAt(Rows.Count - 1);
        }
    }

    private bool TakeCommand(string name, List<Token> cell, int row, int column)
    {
        int at = 0;
        switch (name)
        {
            case "hline" or "toprule" or "midrule" or "bottomrule" or "cmidrule" or "cline" or "specialrule" or "addlinespace" or "Xhline":
                List<Token> command = [cell[0]];
                while (at + 1 < cell.Count && (cell[at + 1].IsCharacter('[') || cell[at + 1].IsCharacter('(') || (cell[at + 1].Is(Category.BeginGroup) && name is not ("hline" or "toprule" or "midrule" or "bottomrule"))))
                {
                    int start = at + 1;
                    if (cell[start].Is(Category.BeginGroup))
                    {
                        Braced(cell, ref at);
                    }
                    else
                    {
                        char close = cell[start].IsCharacter('[') ? ']' : ')';
                        at = cell.FindIndex(start, t => t.IsCharacter(close)) is >= 0 and var end ? end : cell.Count - 1;
                    }

                    // What a line's looks are in brackets isn't known to the lines of other tables.
                    command.AddRange(name == "hline" ? [] : cell.GetRange(start, Math.Min(cell.Count, at + 1) - start));
                }

                if (!LineCommands.TryGetValue(row, out List<Token>? lines))
                {
                    LineCommands[row] = lines = [];
                }

                lines.AddRange(command);
                break;
            case "SetCell" or "SetRow" or "SetRows" or "SetHline" or "SetHlines" or "SetVlines":
                List<Token> outer = Bracketed(cell, ref at);
                List<Token> inner = Braced(cell, ref at);
                if (name == "SetCell")
                {
                    SetCell(row, column, outer, inner);
                }
                else if (name == "SetRow")
                {
                    _rows[row] = _rows.GetValueOrDefault(row, new CellLook()).With(CellLook.Of(inner));
                }

                break;
            default:
                return false;
        }

        cell.RemoveRange(0, Math.Min(cell.Count, at + 1));
        return true;
    }

    private void SetCell(int row, int column, IReadOnlyList<Token> spans, IReadOnlyList<Token> look)
    {
        (int rows, int columns) = (1, 1);
        foreach ((string key, List<Token> value) in TableKeys.Of(spans))
        {
            int n = int.TryParse(value.ToSource().Trim(), NumberStyles.None, CultureInfo.InvariantCulture, out int parsed) ? Math.Clamp(parsed, 1, 1_000) : 1;
            (rows, columns) = key == "r" ? (n, columns) : key == "c" ? (rows, n) : (rows, columns);
        }

        if (rows > 1 || columns > 1)
        {
            _spans[(row, column)] = (Math.Min(rows, Rows.Count - row + 1), columns);
        }

        _cells[(row, column)] = _cells.GetValueOrDefault((row, column), new CellLook()).With(CellLook.Of(look));
    }

    private void Apply(string key, List<Token> value)
    {
        string name = key.Split('{', '=')[0].Trim();
        string[] sets = TableKeys.Sets(key);
        string text = value.ToSource().Trim();
        (int rows, int columns) = (Rows.Count, Columns.Count);
        switch (name)
        {
            case "width":
                Width = text;
                break;
            case "rowhead":
                HeadRows = int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out int n) ? n : 0;
                break;
            case "hlines" or "hline":
                foreach (int at in IndexSet.Of(name == "hlines" ? "-" : sets.FirstOrDefault("-"), rows + 1))
                {
                    Across.Add(Line(at, columns, value));
                }

                break;
            case "vlines" or "vline":
                foreach (int at in IndexSet.Of(name == "vlines" ? "-" : sets.FirstOrDefault("-"), columns + 1))
                {
                    Upright.Add(Line(at, rows, value));
                }

                break;
            case "cells":
                _all = _all.With(CellLook.Of(value));
                break;
            case "columns" or "column":
                foreach (int at in IndexSet.Of(name == "columns" ? "-" : sets.FirstOrDefault(""), columns))
                {
                    Columns[at - 1] = Columns[at - 1].With(CellLook.Of(value));
                }

                break;
            case "rows" or "row":
                foreach (int at in IndexSet.Of(name == "rows" ? "-" : sets.FirstOrDefault(""), rows))
                {
                    _rows[at] = _rows.GetValueOrDefault(at, new CellLook()).With(CellLook.Of(value));
                }

                break;
            case "cell" when sets.Length > 1:
                // cell{1}{2}={r=2,c=3}{l}: spans, then looks; with one pair of braces looks alone, or spans where it has them.
                (List<Token> spans, List<Token> look) = Parts(value);
                foreach (int r in IndexSet.Of(sets[0], rows))
                {
                    foreach (int c in IndexSet.Of(sets[1], columns))
                    {
                        SetCell(r, c, spans, look);
                    }
                }

                break;
            default:
                break;
        }
    }

    private static (List<Token> Spans, List<Token> Look) Parts(List<Token> value)
    {
        if (value.Count > 0 && value[0].Is(Category.BeginGroup))
        {
            int at = -1;
            List<Token> spans = Braced(value, ref at);
            List<Token> look = Braced(value, ref at);
            return (spans, look);
        }

        return TableKeys.Of(value).Any(k => k.Key is "r" or "c" && k.Value.Count > 0) ? (value, []) : ([], value);
    }

    // {2-3}{1pt,solid}, or the looks alone: its width is kept, its dashes and colour are not.
    private static KeyedTableLine Line(int at, int count, List<Token> value)
    {
        (List<Token> along, List<Token> looks) = value is [var open, ..] && open.Is(Category.BeginGroup) ? Parts(value) : ([], value);
        IReadOnlySet<int> part = IndexSet.Of(along.Count == 0 ? "-" : along.ToSource(), count);
        string? width = TableKeys.Of(looks).Select(k => k.Key).FirstOrDefault(k => k.Length > 2 && (char.IsAsciiDigit(k[0]) || k[0] == '.'));
        return new KeyedTableLine(at, part.Count == 0 ? 1 : part.Min(), part.Count == 0 ? count : part.Max(), width);
    }
}
