using System.Text;
using System.Text.RegularExpressions;

namespace YoungFolio.Manuscript.Making;

/// <summary>
/// A table's source, from its <c>\begin</c> to its <c>\end</c>, read into pieces that can be put together anew. What wasn't changed is
/// written as it stood, spaces and line breaks included.
/// </summary>
public sealed partial class TypedTableSource
{
    private const string Indent = "  ";
    private const int LongestColumns = 4000;
    private const int LongestLine = 100;

    // Lines and spaces between rows, with how many arguments in braces follow each.
    private static readonly Dictionary<string, int> s_lines = new(StringComparer.Ordinal)
    {
        ["toprule"] = 0, ["midrule"] = 0, ["bottomrule"] = 0, ["cmidrule"] = 1, ["morecmidrules"] = 0, ["addlinespace"] = 0, ["specialrule"] = 3, ["hline"] = 0, ["cline"] = 1, ["hhline"] = 1, ["rowcolor"] = 1, ["noalign"] = 1,
        ["endhead"] = 0, ["endfirsthead"] = 0, ["endfoot"] = 0, ["endlastfoot"] = 0, ["pagebreak"] = 0, ["nopagebreak"] = 0, ["rowcolors"] = 3, ["arrayrulecolor"] = 1,
    };

    private readonly string _text;
    private readonly List<CellStretch> _pieces = [];
    private readonly List<TypedColumn> _columns = [];
    private readonly List<TypedRow> _rows = [];

    // Where the cells of each row stand, with the spaces around them.
    private readonly List<List<(int From, int To)>> _cells = [];
    private readonly List<string> _below = [];
    private string? _obstacle;
    private string _environment = "";
    private int _at;
    private (int From, int To) _columnsAt;
    private int _bodyAt;
    private int _endAt;

    private TypedTableSource(string text) => _text = text;

    // A piece of the source: a line between rows, or a row; from its first character to behind its last.
    private sealed record CellStretch(int From, int To, int Row, int Above);

    /// <summary>Reads a table.</summary>
    /// <param name="text">The source from <c>\begin</c> to <c>\end{…}</c>.</param>
    public static TypedTable Read(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        return Parse(text).Table;
    }

    /// <summary>The source of a table that was changed.</summary>
    /// <param name="table">The table as it is to be; rows say which of the source's they were.</param>
    /// <param name="text">The source that it was read from; null: there was none.</param>
    /// <exception cref="InvalidOperationException">The source can only be looked at.</exception>
    public static string Write(TypedTable table, string? text)
    {
        ArgumentNullException.ThrowIfNull(table);
        if (text is null)
        {
            return New(table);
        }

        TypedTableSource source = Parse(text);
        return source._obstacle is { } obstacle ? throw new InvalidOperationException(obstacle) : source.Changed(table);
    }

    private TypedTable Table => new(_environment, _columns, _rows, _below, _obstacle);

    private static TypedTableSource Parse(string text)
    {
        var source = new TypedTableSource(text);
        source._obstacle = text.Length > TypedTable.LongestSource ? "It is too long for a grid." : source.Run();
        return source;
    }

    // Gives why the table can only be looked at.
    private string? Run()
    {
        Match begin = Begin().Match(_text);
        _environment = begin.Groups["name"].Value;
        if (!begin.Success || !TypedTable.Environments.Contains(_environment))
        {
            return $"A grid doesn’t know tables of the kind {(begin.Success ? _environment : "that this is")}.";
        }

        _at = begin.Length;
        _endAt = _text.LastIndexOf($"\\end{{{_environment}}}", StringComparison.Ordinal);
        if (_endAt < _at)
        {
            return "Its end is missing.";
        }

        Brackets();
        if (_environment is "tabular*" or "tabularx" or "tabulary")
        {
            Group();
            Brackets();
        }

        int from = _at;
        if (Group() is not { } columns)
        {
            return "It doesn’t say which columns it has.";
        }

        _columnsAt = (from + 1, _at - 1);
        _bodyAt = _at;
        return Columns(columns) ?? Body();
    }

    private string? Columns(string spec)
    {
        int at = 0;
        int repetitions = 0;
        string before = "";
        while (at < spec.Length)
        {
            Match part = ColumnPart().Match(spec, at);
            if (!part.Success)
            {
                return "Its columns are said in a way that a grid doesn’t know.";
            }

            at += part.Length;
            if (part.Groups["times"].Success)
            {
                // Written out, so that each can be changed.
                int times = int.Parse(part.Groups["times"].Value, System.Globalization.CultureInfo.InvariantCulture);
                spec = string.Concat(Enumerable.Repeat(part.Groups["what"].Value, Math.Min(times, TypedTable.MostColumns))) + spec[at..];
                at = 0;
                if (++repetitions > TypedTable.MostColumns || spec.Length > LongestColumns)
                {
                    return $"It has more than {TypedTable.MostColumns} columns.";
                }
            }
            else if (part.Groups["kind"].Success)
            {
                _columns.Add(new TypedColumn(before.Trim(), part.Groups["kind"].Value, part.Groups["after"].Value));
                before = "";
            }
            else
            {
                before += part.Value;
            }

            if (_columns.Count > TypedTable.MostColumns)
            {
                return $"It has more than {TypedTable.MostColumns} columns.";
            }
        }

        if (_columns.Count == 0)
        {
            return "It has no columns.";
        }

        _columns[^1] = _columns[^1] with { After = _columns[^1].After + before.TrimEnd() };
        return null;
    }

    private string? Body()
    {
        while (true)
        {
            List<string> above = Above();
            if (_at >= _endAt)
            {
                _below.AddRange(above);
                for (int i = 0; i < above.Count; i++)
                {
                    _pieces[^(above.Count - i)] = _pieces[^(above.Count - i)] with { Row = -1 };
                }

                return null;
            }

            if (Row(above) is { } obstacle)
            {
                return obstacle;
            }

            if (_rows.Count > TypedTable.MostRows)
            {
                return $"It has more than {TypedTable.MostRows} rows.";
            }
        }
    }

    // Lines, spaces and comments before a row.
    private List<string> Above()
    {
        var above = new List<string>();
        while (true)
        {
            while (_at < _endAt && char.IsWhiteSpace(_text[_at]))
            {
                _at++;
            }

            int from = _at;
            if (_at < _endAt && _text[_at] == '%')
            {
                _at = LineEnd(_at);
            }
            else if (Name().Match(_text, _at) is { Success: true } name && s_lines.TryGetValue(name.Groups[1].Value, out int groups))
            {
                _at += name.Length;
                Brackets();
                for (; groups > 0; groups--)
                {
                    Parentheses();
                    Group();
                }
            }
            else
            {
                return above;
            }

            _pieces.Add(new CellStretch(from, _at, _rows.Count, above.Count));
            above.Add(_text[from.._at]);
        }
    }

    private string? Row(List<string> above)
    {
        int from = _at;
        int cell = _at;
        var cells = new List<TypedCell>();
        int depth = 0;
        int width = 0;
        string end = "";
        int last = -1;
        for (; _at < _endAt; _at++)
        {
            char sign = _text[_at];
            if (sign == '%')
            {
                return $"Line {LineOf(_at)} of it has a comment in the midst of a row.";
            }

            if (sign is '{' or '}')
            {
                depth += sign == '{' ? 1 : -1;
            }
            else if (sign == '&' && depth == 0)
            {
                width += Add(cells, cell, _at);
                cell = _at + 1;
            }
            else if (sign == '\\')
            {
                Match name = Name().Match(_text, _at);
                if (!name.Success)
                {
                    if (depth == 0 && _at + 1 < _endAt && _text[_at + 1] == '\\')
                    {
                        last = _at;
                        _at += 2;
                        end = RowEnd();
                        break;
                    }

                    _at++;
                    continue;
                }

                switch (name.Groups[1].Value)
                {
                    case "begin":
                        depth++;
                        break;
                    case "end":
                        depth--;
                        break;
                    case "tabularnewline" when depth == 0:
                        last = _at;
                        _at += name.Length;
                        end = "\\tabularnewline";
                        goto done;
                    case "verb" or "cr" or "crcr":
                        return $"Line {LineOf(_at)} of it has \\{name.Groups[1].Value}, which a grid can’t keep apart from the cells.";
                }

                _at += name.Length - 1;
            }
        }

    done:
        if (depth != 0)
        {
            return $"Line {LineOf(from)} of it has braces without their pair.";
        }

        // A last row may end without a sign.
        int to = last < 0 ? cell + _text.AsSpan(cell, _endAt - cell).TrimEnd().Length : _at;
        width += Add(cells, cell, last < 0 ? to : last);
        if (width > _columns.Count)
        {
            return $"Line {LineOf(from)} of it has more cells than the table has columns.";
        }

        _pieces.Add(new CellStretch(from, to, _rows.Count, -1));
        _rows.Add(new TypedRow(above, cells, end, _rows.Count));
        return null;
    }

    // Behind two backslashes: a star, by how much, and a comment in the same line.
    private string RowEnd()
    {
        int from = _at - 2;
        if (_at < _endAt && _text[_at] == '*')
        {
            _at++;
        }

        Brackets();
        int comment = _at;
        while (comment < _endAt && _text[comment] is ' ' or '\t')
        {
            comment++;
        }

        if (comment < _endAt && _text[comment] == '%')
        {
            _at = LineEnd(comment);
        }

        return _text[from.._at];
    }

    private int Add(List<TypedCell> cells, int from, int to)
    {
        if (cells.Count == 0)
        {
            _cells.Add([]);
        }

        _cells[^1].Add((from, to));
        TypedCell cell = CellOf(string.Join(' ', _text[from..to].Split(['\n', '\r', '\t', ' '], StringSplitOptions.RemoveEmptyEntries)));
        cells.Add(cell);
        return cell.Columns;
    }

    private static TypedCell CellOf(string text)
    {
        int columns = 1;
        string? align = null;
        if (MultiColumn().Match(text) is { Success: true } wide && int.TryParse(wide.Groups["n"].Value, out int n) && n is > 0 and <= TypedTable.MostColumns)
        {
            (columns, align, text) = (n, wide.Groups["align"].Value, wide.Groups["text"].Value.Trim());
        }

        return MultiRow().Match(text) is { Success: true } tall && int.TryParse(tall.Groups["n"].Value, out int rows) && rows is > 1 and <= TypedTable.MostRows
            ? new TypedCell(tall.Groups["text"].Value.Trim(), columns, align, rows)
            : new TypedCell(text, columns, align);
    }

    private string Changed(TypedTable table)
    {
        var text = new StringBuilder(_text[.._columnsAt.From]);
        text.Append(table.Columns.SequenceEqual(_columns) ? _text[_columnsAt.From.._columnsAt.To] : Spec(table.Columns)).Append(_text[_columnsAt.To.._bodyAt]);
        string indent = _pieces.Count > 0 ? IndentOf(_pieces[0].From) : IndentOf(0) + Indent;
        int at = 0;
        foreach ((string words, int origin) in Pieces(table))
        {
            text.Append(Between(at - 1, origin, indent)).Append(words);
            at = origin < 0 ? -1 : origin + 1;
        }

        // The gap before the end stays too when its last piece does.
        bool isLast = at == _pieces.Count;
        return text.Append(isLast ? _text[(at == 0 ? _bodyAt : _pieces[at - 1].To).._endAt] : "\n" + IndentOf(0)).Append(_text[_endAt..]).ToString();
    }

    // What stood between two pieces that followed each other, or a new line.
    private string Between(int before, int origin, string indent) =>
        origin >= 0 && origin == before + 1 && before >= -1 ? _text[(before < 0 ? _bodyAt : _pieces[before].To).._pieces[origin].From] : "\n" + indent;

    // What is to be written, each with which piece of the source it was; −1: none.
    private IEnumerable<(string Words, int Origin)> Pieces(TypedTable table)
    {
        for (int i = 0; i < table.Rows.Count; i++)
        {
            TypedRow row = table.Rows[i];
            TypedRow? was = row.Origin is { } o && o >= 0 && o < _rows.Count ? _rows[o] : null;
            for (int k = 0; k < row.Above.Count; k++)
            {
                bool isSame = was is not null && k < was.Above.Count && was.Above[k] == row.Above[k];
                yield return (row.Above[k], isSame ? Find(row.Origin!.Value, k) : -1);
            }

            bool isLast = i == table.Rows.Count - 1 && table.Below.Count == 0;
            string end = row.End.Length == 0 && !isLast ? "\\\\" : row.End;
            if (was is not null && end == was.End && row.Cells.SequenceEqual(was.Cells))
            {
                int at = Find(row.Origin!.Value, -1);
                yield return (_text[_pieces[at].From.._pieces[at].To], at);
            }
            else if (was is not null && end == was.End && row.Cells.Count == was.Cells.Count)
            {
                yield return (Within(row.Origin!.Value, row.Cells), Find(row.Origin!.Value, -1));
            }
            else
            {
                yield return (RowText(row.Cells, end), was is null ? -1 : Find(row.Origin!.Value, -1));
            }
        }

        for (int k = 0; k < table.Below.Count; k++)
        {
            yield return (table.Below[k], k < _below.Count && _below[k] == table.Below[k] ? Find(-1, k) : -1);
        }
    }

    // A row of which only some cells changed: the others, and the signs between them, stay where they are as far as there is room.
    private string Within(int row, IReadOnlyList<TypedCell> cells)
    {
        CellStretch piece = _pieces[Find(row, -1)];
        var text = new StringBuilder();
        int at = piece.From;
        for (int i = 0; i < cells.Count; i++)
        {
            (int from, int to) = _cells[row][i];
            text.Append(_text[at..from]);
            string was = _text[from..to];
            string words = was.Trim();
            int start = was.Length - was.TrimStart().Length;
            text.Append(cells[i] == _rows[row].Cells[i] ? was
                : words.Length == 0 ? (i == 0 ? "" : " ") + Written(cells[i]) + " "
                : was[..start] + Written(cells[i]).PadRight(words.Length) + was[(start + words.Length)..]);
            at = to;
        }

        return text.Append(_text[at..piece.To]).ToString();
    }

    private int Find(int row, int above) => _pieces.FindIndex(p => p.Row == row && p.Above == above);

    private static string New(TypedTable table)
    {
        var text = new StringBuilder($"\\begin{{{table.Environment}}}{{{Spec(table.Columns)}}}");
        // Cells stand below each other as long as the lines stay short.
        int[] widths = [.. Enumerable.Range(0, table.Columns.Count).Select(c => table.Rows.Where(r => r.Cells.Count == table.Columns.Count).Select(r => Written(r.Cells[c]).Length).DefaultIfEmpty(0).Max())];
        bool isNarrow = widths.Sum() + (3 * widths.Length) <= LongestLine;
        foreach (TypedRow row in table.Rows)
        {
            foreach (string line in row.Above)
            {
                text.Append('\n').Append(Indent).Append(line);
            }

            text.Append('\n').Append(Indent).Append(RowText(row.Cells, row.End, isNarrow && row.Cells.Count == widths.Length ? widths : null));
        }

        foreach (string line in table.Below)
        {
            text.Append('\n').Append(Indent).Append(line);
        }

        return text.Append("\n\\end{").Append(table.Environment).Append('}').ToString();
    }

    private static string RowText(IReadOnlyList<TypedCell> cells, string end, int[]? widths = null) =>
        (string.Join(" & ", cells.Select((c, i) => widths is null ? Written(c) : Written(c).PadRight(widths[i]))) + (end.Length > 0 ? " " + end : "")).TrimEnd();

    private static string Written(TypedCell cell)
    {
        string text = cell.Rows > 1 ? $"\\multirow{{{cell.Rows}}}{{*}}{{{cell.Text}}}" : cell.Text;
        return cell.Columns > 1 || cell.Align is not null ? $"\\multicolumn{{{cell.Columns}}}{{{cell.Align ?? "c"}}}{{{text}}}" : text;
    }

    private static string Spec(IReadOnlyList<TypedColumn> columns) => string.Concat(columns.Select(c => c.Before + c.Kind + c.After));

    // What is between the braces at the place, which goes behind them; null when there are none.
    private string? Group() => Balanced('{', '}');

    private void Brackets()
    {
        while (Balanced('[', ']') is not null)
        {
        }
    }

    private void Parentheses() => Balanced('(', ')');

    private string? Balanced(char open, char close)
    {
        int at = _at;
        while (at < _text.Length && _text[at] is ' ')
        {
            at++;
        }

        if (at >= _text.Length || _text[at] != open)
        {
            return null;
        }

        int depth = 0;
        for (int from = at + 1; at < _text.Length; at++)
        {
            if (_text[at] == '\\')
            {
                at++;
            }
            else if (_text[at] == open)
            {
                depth++;
            }
            else if (_text[at] == close && --depth == 0)
            {
                _at = at + 1;
                return _text[from..at];
            }
        }

        return null;
    }

    private int LineEnd(int at)
    {
        int end = _text.IndexOf('\n', at);
        return end < 0 ? _text.Length : end;
    }

    private int LineOf(int at) => _text.AsSpan(0, at).Count('\n') + 1;

    private string IndentOf(int at)
    {
        int start = at == 0 ? 0 : _text.LastIndexOf('\n', at - 1) + 1;
        int end = start;
        while (end < at && _text[end] is ' ' or '\t')
        {
            end++;
        }

        return _text[start..end];
    }

    [GeneratedRegex(@"\G\\begin\{(?<name>[A-Za-z]+\*?)\}")]
    private static partial Regex Begin();

    [GeneratedRegex(@"\G\\([A-Za-z@]+)\*?")]
    private static partial Regex Name();

    // A line, what stands before a column, several alike, or a column with what belongs to it; groups nest twice.
    [GeneratedRegex(@"\G(?:\s+|\||[@!>]\{(?:[^{}]|\{(?:[^{}]|\{[^{}]*\})*\})*\}|\*\{(?<times>\d{1,3})\}\{(?<what>(?:[^{}]|\{(?:[^{}]|\{[^{}]*\})*\})*)\}|(?<kind>(?:[lcrXLCRJ]|S(?:\[[^\]]*\])?|[pmbwWD](?:\{(?:[^{}]|\{[^{}]*\})*\}){1,3}))(?<after>(?:\s*<\{(?:[^{}]|\{[^{}]*\})*\})*))")]
    private static partial Regex ColumnPart();

    [GeneratedRegex(@"^\\multicolumn\s*\{\s*(?<n>\d{1,3})\s*\}\s*\{(?<align>[^{}]*(?:\{[^{}]*\}[^{}]*)*)\}\s*\{(?<text>(?:[^{}]|(?<open>\{)|(?<-open>\}))*(?(open)(?!)))\}$")]
    private static partial Regex MultiColumn();

    [GeneratedRegex(@"^\\multirow\s*\{\s*(?<n>\d{1,3})\s*\}\s*\{\*\}\s*\{(?<text>(?:[^{}]|(?<open>\{)|(?<-open>\}))*(?(open)(?!)))\}$")]
    private static partial Regex MultiRow();
}
