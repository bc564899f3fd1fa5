using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Tables: cells are read one after the other as the tokens come, so that macros may hold whole rows.
public sealed partial class DocumentBuilder
{
    private const int MostCells = 200_000;
    private const int MostSpan = 1_000;

    // A line's share of height and depth for a row's least measures (The TeXbook, p. 82).
    private const double StrutHeight = 0.7;
    private const double StrutDepth = 0.3;

    private readonly Stack<TableState> _tables = new();
    private readonly Scoped<int> _ruleColour = new(0);

    /// <summary>A table that is being read.</summary>
    private sealed class TableState(Token token, List<ColumnSetup> columns, int recursion)
    {
        public Token Token => token;

        public List<ColumnSetup> Columns => columns;

        public int Recursion => recursion;

        public double? Width { get; init; }

        public char Vertical { get; init; } = 'c';

        public LongTableState? Long { get; init; }

        public List<TableItem> Items { get; set; } = [];

        public List<TableCell> Row { get; } = [];

        /// <summary>Notes called in the cells of this row, or of the whole table in a line.</summary>
        public List<NoteInline> Notes { get; } = [];

        public int Column { get; set; }

        public int RowNumber { get; set; }

        public double Height { get; init; }

        public double Depth { get; init; }

        public int? RowGround { get; set; }

        public (int First, int? Odd, int? Even)? Stripes { get; set; }

        public int Cells { get; set; }

        /// <summary>The row whose surplus cells were said already.</summary>
        public int ReportedRow { get; set; } = -1;

        /// <summary>The cell being read, or null between cells.</summary>
        public OpenCell? Cell { get; set; }
    }

    private sealed class OpenCell(ColumnSetup setup, int span, BlockFrame frame, int groups)
    {
        public ColumnSetup Setup => setup;

        public int Span => span;

        public BlockFrame Frame => frame;

        /// <summary>Number of groups open with the cell's own.</summary>
        public int Groups => groups;

        public bool IsBraced { get; init; }

        public bool HasSuffix { get; set; }

        public int Rows { get; set; } = 1;

        public double Rise { get; set; }

        public int? Ground { get; set; }
    }

    private void DefineTables()
    {
        foreach ((string name, double points) in (ReadOnlySpan<(string, double)>)[
            ("tabcolsep", 6), ("arraycolsep", 5), ("arrayrulewidth", 0.4), ("doublerulesep", 2), ("extrarowheight", 0)])
        {
            Machine.NamedDimension(name, Dimension.FromPoints(points));
        }

        Machine.DefineMacro("arraystretch", "1");
        DefineEnvironment("tabular", t => BeginTable(t, null), EndTable);
        DefineEnvironment("tabular*", t => BeginTable(t, ReadTableWidth(t)), EndTable);
        Machine.Define("multicolumn", (_, t) => MisplacedInTable(t, "\\multicolumn stands at the beginning of a cell."));
        Machine.Define("tabularnewline", (_, t) => EndRowBy(t));
        Machine.Define("cr", (_, t) => EndRowBy(t));
        Machine.DefineMacro("arraybackslash", "");
        Machine.Define("extracolsep", (m, t) => m.ReadArgument(t));
        Machine.Define("vline", (_, _) =>
        {
            if (CurrentTable is { } table)
            {
                AddInline(new RuleInline(Get("arrayrulewidth"), table.Height + table.Depth, -table.Depth) { Colour = _ruleColour.Value });
            }
        });
        DefineRowCommand("hline", (table, _) => AddTableLine(table, new TableLine(Get("arrayrulewidth"), table.Items is [.., TableLine { Stretches: null }] ? Get("doublerulesep") : 0, 0, _ruleColour.Value)));
        DefineRowCommand("cline", (table, t) => AddStretch(table, Machine.ReadArgument(t), t, new TableLine(Get("arrayrulewidth"), 0, 0, _ruleColour.Value) { TakesRoom = false }, "", 0));
        DefineRowCommand("noalign", (table, t) =>
        {
            double space = SpaceOf(BuildBlocks(Machine.ReadArgument(t)));
            AddTableLine(table, new TableLine(0, space, 0, 0) { Stretches = [] });
        });
    }

    private static double SpaceOf(IEnumerable<Block> blocks) => blocks.Sum(b => b switch
    {
        SpaceBlock space => space.Glue.Width.Points,
        GroupBlock group => SpaceOf(group.Content),
        _ => 0,
    });

    private double ReadTableWidth(Token token) => Math.Clamp(Machine.ParseGlue(Machine.ReadArgument(token), token)?.Width.Points ?? LineWidth, 1, 10_000);

    private TableState? CurrentTable => _tables.TryPeek(out TableState? table) && table.Recursion == _recursion ? table : null;

    /// <summary>Defines a command that stands between rows.</summary>
    internal void DefineRowCommand(string name, Action<Token> carry)
    {
        _rowCommands.Add(name);
        Machine.Define(name, (_, t) =>
        {
            if (CurrentTable is { Cell: null })
            {
                carry(t);
                return;
            }

            MisplacedInTable(t, CurrentTable is null ? $"{t} belongs in a table." : $"{t} stands between rows.");
            Machine.SkipSpaces();
            if (Machine.Peek().Is(Category.BeginGroup))
            {
                Machine.ReadArgument(t);
            }
        });
    }

    private readonly HashSet<string> _rowCommands = new(StringComparer.Ordinal) { "par" };

    private void DefineRowCommand(string name, Action<TableState, Token> carry) => DefineRowCommand(name, t => carry(CurrentTable!, t));

    private void MisplacedInTable(Token token, string message) =>
        Findings.Fix("misplaced-in-table", token.Position, token.Length, message,
            CurrentTable is null ? "Put it into a tabular environment." : "Put \\\\ before it, or move it to the beginning of the row or cell.");

    /// <summary>Begins a table in the line, or a long one between paragraphs.</summary>
    internal void BeginTable(Token token, double? width, LongTableState? across = null)
    {
        if (!_documentBegun && !CanPrint(token.Position))
        {
            return;
        }

        string place = Machine.ReadOptionalText(token) ?? "";
        List<Token> specification = Machine.ReadArgument(token);
        double stretch = double.TryParse(Machine.ExpandToText([Token.Command(Machine.Symbol("arraystretch"), PositionTable.None)]),
            System.Globalization.CultureInfo.InvariantCulture, out double factor) ? Math.Clamp(factor, 0.1, 20) : 1;
        double leading = _leading.Value * _spread.Value * stretch;
        if (across is null)
        {
            Paragraph();
        }
        else
        {
            EndParagraph();
            across.Place = place;
        }

        _tables.Push(new TableState(token, ReadColumns(specification, token, width), _recursion)
        {
            Width = width,
            Vertical = place.Contains('t', StringComparison.Ordinal) ? 't' : place.Contains('b', StringComparison.Ordinal) ? 'b' : 'c',
            Long = across,
            Height = (leading * StrutHeight) + Get("extrarowheight"),
            Depth = leading * StrutDepth,
            Stripes = _rowStripes,
        });
        Machine.Assign(_parSkip, default);
        BeginCell();
    }

    // Looks for what may stand before a cell: lines between rows, \multicolumn, the table's end.
    private void BeginCell()
    {
        TableState table = _tables.Peek();
        if (++table.Cells > MostCells)
        {
            throw new MarkupLimitException("too-much-text", "The table has too many cells.", Machine.CurrentPosition);
        }

        while (true)
        {
            Machine.SkipSpaces(table.Column == 0);
            Token token = Machine.NextExpanded();
            string? command = (token.Symbol?.Meaning.Value as BuiltInCommand)?.Name;
            if (token.Is(Category.Stop) || command == "end" || command?.StartsWith("end", StringComparison.Ordinal) == true && _environmentNames.Contains(command[3..]))
            {
                Machine.PutBack(token);
                return;
            }

            // A part read at a row's beginning may itself begin with a line.
            if (command is not null && ((table.Column == 0 && _rowCommands.Contains(command)) || command == "input"))
            {
                ((BuiltInCommand)token.Symbol!.Meaning.Value!).Execute(Machine, token);
                if (table.Cell is not null || !_tables.TryPeek(out TableState? now) || now != table)
                {
                    return;
                }

                continue;
            }

            if (command == "multicolumn")
            {
                BeginSpan(table, token);
                return;
            }

            Machine.PutBack(token);
            int column = Math.Min(table.Column, table.Columns.Count - 1);
            OpenTableCell(table, table.Columns[column], 1, token.Position, token.Is(Category.BeginGroup));
            return;
        }
    }

    private void BeginSpan(TableState table, Token token)
    {
        List<Token> number = Machine.ReadArgument(token);
        List<Token> specification = Machine.ReadArgument(token);
        List<Token> content = Machine.ReadArgument(token);
        int span = Math.Clamp(Machine.ParseInteger(number, token) ?? 1, 1, MostSpan);
        int free = Math.Max(1, table.Columns.Count - table.Column);
        if (span > free)
        {
            Findings.Check("span-too-wide", token.Position, token.Length, $"\\multicolumn takes {span} columns, and {free} {(free == 1 ? "is" : "are")} left in this row.",
                "Make its first argument smaller, or give the table more columns.");
            span = free;
        }

        ColumnSetup setup = ReadColumns(specification, token, null)[0];
        OpenTableCell(table, setup, span, token.Position, true);
        Machine.Push(content);
    }

    private void OpenTableCell(TableState table, ColumnSetup setup, int span, int position, bool braced)
    {
        if (_frames.Count > FrameLimit)
        {
            throw new MarkupLimitException("nested-too-deep", "Tables are nested too deeply here.", Machine.CurrentPosition);
        }

        Group group = Machine.BeginGroup(GroupKind.Cell, "", position);
        group.Ending = () => CloseTableCell(table);
        bool paragraph = setup.Look.IsParagraph;
        var frame = new BlockFrame(!paragraph);
        _frames.Push(frame);
        table.Cell = new OpenCell(setup, span, frame, Machine.Groups.Count) { IsBraced = braced };
        if (paragraph)
        {
            double width = setup.Look.Width ?? (table.Width ?? LineWidth) / table.Columns.Count * Math.Max(1, setup.Look.Share);
            EnterColumn(width);
            // Narrow columns rather have wide spaces than words beyond their edge.
            Machine.Assign(_tolerance, 2_000);
            Machine.Assign(_emergencyStretch, Dimension.FromPoints(2 * _style.Value.Size));
            HasNoIndent = true;
        }

        Machine.Push(setup.Before);
    }

    // Ends the cell when a sign for that comes; false when what is read after each cell must be read first.
    private bool EndTableCell(TableState table, params Token[] again)
    {
        if (table.Cell is not { } cell)
        {
            return true;
        }

        while (Machine.Groups.Count > cell.Groups)
        {
            ReportUnclosed(Machine.Groups[^1], again.Length > 0 ? again[0] : default);
            CloseInnermost();
        }

        if (!cell.HasSuffix && cell.Setup.After.Count > 0)
        {
            cell.HasSuffix = true;
            Machine.Push(again);
            Machine.Push(cell.Setup.After);
            return false;
        }

        if (Machine.Groups.Count == cell.Groups)
        {
            Machine.EndGroup();
        }

        return true;
    }

    // Called as the cell's group ends, whatever ends it.
    private void CloseTableCell(TableState table)
    {
        if (table.Cell is not { } cell)
        {
            return;
        }

        EndParagraph();
        while (_frames.Peek() != cell.Frame && _frames.Contains(cell.Frame))
        {
            List<Block> left = _frames.Pop().Blocks;
            _frames.Peek().Blocks.AddRange(left);
        }

        EndParagraph();
        _frames.Pop();
        table.Cell = null;
        table.Column += cell.Span;
        table.Row.Add(MakeCell(table, cell));
    }

    private static TableCell MakeCell(TableState table, OpenCell cell)
    {
        var result = new TableCell
        {
            Column = cell.Setup.Look,
            Span = cell.Span,
            Rows = cell.Rows,
            Rise = cell.Rise,
            Ground = cell.Ground ?? table.RowGround,
        };
        if (cell.Setup.Look.IsParagraph)
        {
            return result with { Blocks = cell.Frame.Blocks };
        }

        List<Inline> content = cell.Frame.Paragraph!.Finish();
        if (cell.Setup.Decimal is { } sign && !cell.IsBraced && DecimalCell.Split(content, sign.Source, sign.Print) is { } number)
        {
            return result with { Content = number.Whole, Decimals = number.Fraction };
        }

        return result with { Content = content };
    }

    // & ends a cell; true when a table took it.
    private bool EndCellBy(Token token)
    {
        if (CurrentTable is not { } table)
        {
            return false;
        }

        if (!EndTableCell(table, token))
        {
            return true;
        }

        if (table.Column >= table.Columns.Count && table.Row.Count > 0)
        {
            if (table.ReportedRow != table.RowNumber)
            {
                table.ReportedRow = table.RowNumber;
                Findings.Fix("too-many-cells", token.Position, 1, $"This row has more cells than the table's {table.Columns.Count} column{(table.Columns.Count == 1 ? "" : "s")}.",
                    "Delete an &, end the row before by \\\\, or give the table more columns. The cell was set like the last column.");
            }
        }

        BeginCell();
        return true;
    }

    private void EndRowBy(Token token)
    {
        if (CurrentTable is not { } table)
        {
            MisplacedInTable(token, $"{token} ends a row of a table, and there is none here.");
            return;
        }

        if (!EndTableCell(table, token))
        {
            return;
        }

        bool sticks = Machine.TakeStar();
        double extra = Machine.ReadOptional(token) is { } space && Machine.ParseGlue(space, token) is { } glue ? glue.Width.Points : 0;
        FinishRow(table, token, extra, sticks);
        BeginCell();
    }

    private void FinishRow(TableState table, Token token, double extra, bool sticks)
    {
        int used = table.Row.Sum(c => c.Span);
        if (table.Row.Count > 1 && used < table.Columns.Count && token.Position >= 0)
        {
            Findings.Check("too-few-cells", token.Position, token.Length, $"This row has {used} cells, and the table has {table.Columns.Count} columns.",
                "Add an & for each cell that stays empty.");
        }

        bool captionOnly = table.Long is { CaptionOpen: true } && table.Row.TrueForAll(c => c.Content.All(i => i is AnchorInline) && c.Blocks is null or []);
        if (captionOnly && table.Items is [.., TableRow { Across: not null } caption])
        {
            table.Items[^1] = caption with { SpaceBelow = extra };
        }
        else
        {
            table.RowNumber++;
            List<TableCell> cells = [.. table.Row];
            if (table.Stripes is { } stripes && table.RowNumber >= stripes.First && (table.RowNumber % 2 == 1 ? stripes.Odd : stripes.Even) is { } ground)
            {
                cells = cells.ConvertAll(c => c.Ground is null ? c with { Ground = ground } : c);
            }

            table.Items.Add(new TableRow(cells, table.Height, table.Depth + Math.Max(0, extra)) { SpaceBelow = Math.Min(0, extra), Sticks = sticks, Notes = table.Long is null ? [] : [.. table.Notes] });
            if (table.Long is not null)
            {
                table.Notes.Clear();
            }
        }

        if (table.Long is { } across)
        {
            across.CaptionOpen = false;
        }

        table.Row.Clear();
        table.Column = 0;
        table.RowGround = null;
    }

    /// <summary>Ends a table.</summary>
    internal void EndTable(Token token)
    {
        if (CurrentTable is not { } table)
        {
            return;
        }

        if (table.Cell is { } cell)
        {
            while (Machine.Groups.Count > cell.Groups)
            {
                CloseInnermost();
            }

            if (Machine.Groups.Count == cell.Groups)
            {
                Machine.EndGroup();
            }
        }

        if (table.Row.Exists(c => c.Content.Count > 0 || c.Blocks is { Count: > 0 }) || table.Row.Count > 1)
        {
            FinishRow(table, token, 0, false);
        }

        _tables.Pop();
        var result = new Table
        {
            Columns = [.. table.Columns.Select(c => c.Look)],
            Items = table.Items,
            Width = table.Width,
            Size = _style.Value.Size,
            Position = table.Token.Position,
        };
        if (table.Long is { } across)
        {
            AddLongTable(across, result);
            return;
        }

        var inline = new TableInline(result, table.Vertical);
        _lastTable = inline;
        AddInline(inline);
        foreach (NoteInline note in table.Notes)
        {
            if (_tables.TryPeek(out TableState? outer))
            {
                outer.Notes.Add(note);
            }
            else
            {
                AddInline(note);
            }
        }
    }

    private TableInline? _lastTable;

    /// <summary>Width of the last table in a line in points; the line's width when there was none.</summary>
    internal double LastTableWidth => _lastTable is null ? LineWidth : Math.Max(40, _options.Measure.Measure([_lastTable], _typefaces).Width);

    // ---- what cells say of themselves ------------------------------------------------------------------

    /// <summary>Has the present cell take several rows.</summary>
    internal bool SpanRows(int rows, double rise)
    {
        if (CurrentTable is not { Cell: { } cell } || Math.Abs(rows) > MostSpan)
        {
            return false;
        }

        (cell.Rows, cell.Rise) = (rows == 0 ? 1 : rows, rise);
        return true;
    }

    /// <summary>Colours the present cell's ground; a column's colour gives way to a row's and a cell's own.</summary>
    internal void ColourCell(int? colour, bool isColumn)
    {
        if (CurrentTable is { Cell: { } cell } table && (!isColumn || (cell.Ground is null && table.RowGround is null)))
        {
            cell.Ground = colour;
        }
    }

    /// <summary>Colours the ground of the row that begins.</summary>
    internal void ColourRow(int? colour)
    {
        if (CurrentTable is { } table)
        {
            table.RowGround = colour;
        }
    }

    private (int First, int? Odd, int? Even)? _rowStripes;

    /// <summary>Colours rows by turns in the tables that follow.</summary>
    internal void StripeRows(int first, int? odd, int? even) => _rowStripes = (first, odd, even);

    /// <summary>Colours lines of tables from here on.</summary>
    internal void ColourTableLines(int? colour) => Machine.Assign(_ruleColour, colour ?? 0);

    // A formula whose closing dollar the column brings ends at the cell's end.
    private bool ReadsSuffixInFormula(Token token)
    {
        if (_tables.Count == 0 || _tables.Peek().Cell is not { HasSuffix: false } cell || cell.Setup.After.Count == 0
            || !(token.Is(Category.Alignment) || token.Symbol?.Meaning.Value is BuiltInCommand { Name: "\\" or "end" or "tabularnewline" or "cr" }))
        {
            return false;
        }

        for (int i = Machine.Groups.Count - 1; i >= cell.Groups; i--)
        {
            if (Machine.Groups[i].Kind is not (GroupKind.Formula or GroupKind.Brace or GroupKind.Command))
            {
                return false;
            }
        }

        cell.HasSuffix = true;
        Machine.Push([.. cell.Setup.After, token]);
        return true;
    }
}
