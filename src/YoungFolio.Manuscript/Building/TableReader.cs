using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Tables: cells are read one after the other as the tokens come, so that macros may hold whole rows.</summary>
internal sealed class TableReader(DocumentBuilder builder) : ReadingFeature(builder)
{
    private const int MostCells = 200_000;
    private const int MostSpan = 1_000;

    // A line's share of height and depth for a row's least measures (The TeXbook, p. 82).
    private const double StrutHeight = 0.7;
    private const double StrutDepth = 0.3;

    internal Stack<TableState> Tables { get; } = new();
    internal Scoped<int> RuleColour { get; } = new(0);

    /// <summary>A table that is being read.</summary>
    internal sealed class TableState(Token token, List<ColumnSetup> columns, int recursion)
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

    internal sealed class OpenCell(ColumnSetup setup, int span, BlockFrame frame, int groups)
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

    internal void DefineTables()
    {
        foreach ((string name, double points) in (ReadOnlySpan<(string, double)>)[
            ("tabcolsep", 6), ("arraycolsep", 5), ("arrayrulewidth", 0.4), ("doublerulesep", 2), ("extrarowheight", 0)])
        {
            Machine.Registers.NamedDimension(name, Dimension.FromPoints(points));
        }

        Machine.Definitions.DefineMacro("arraystretch", "1");
        Builder.Environments.DefineEnvironment("tabular", t => BeginTable(t, null), EndTable);
        Builder.Environments.DefineEnvironment("tabular*", t => BeginTable(t, ReadTableWidth(t)), EndTable);
        Machine.Define("multicolumn", (_, t) => MisplacedInTable(t, "\\multicolumn stands at the beginning of a cell."));
        Machine.Define("tabularnewline", (_, t) => EndRowBy(t));
        Machine.Define("cr", (_, t) => EndRowBy(t));
        Machine.Definitions.DefineMacro("arraybackslash", "");
        Machine.Define("extracolsep", (m, t) => m.ReadArgument(t));
        Machine.Define("vline", (_, _) =>
        {
            if (CurrentTable is { } table)
            {
                Builder.AddInline(new RuleInline(Builder.Get("arrayrulewidth"), table.Height + table.Depth, -table.Depth) { Colour = RuleColour.Value });
            }
        });
        DefineRowCommand("hline", (table, _) => TableLineCommands.AddTableLine(table, new TableLine(Builder.Get("arrayrulewidth"), table.Items is [.., TableLine { Stretches: null }] ? Builder.Get("doublerulesep") : 0, 0, RuleColour.Value)));
        DefineRowCommand("cline", (table, t) => Builder.TableLines.AddStretch(table, Machine.ReadArgument(t), t, new TableLine(Builder.Get("arrayrulewidth"), 0, 0, RuleColour.Value) { TakesRoom = false }, "", 0));
        DefineRowCommand("noalign", (table, t) =>
        {
            double space = SpaceOf(Builder.BuildBlocks(Machine.ReadArgument(t)));
            TableLineCommands.AddTableLine(table, new TableLine(0, space, 0, 0) { Stretches = [] });
        });
    }

    private static double SpaceOf(IEnumerable<Block> blocks) => blocks.Sum(b => b switch
    {
        SpaceBlock space => space.Glue.Width.Points,
        GroupBlock group => SpaceOf(group.Content),
        _ => 0,
    });

    internal double ReadTableWidth(Token token) => Math.Clamp(Machine.Quantities.ParseGlue(Machine.ReadArgument(token), token)?.Width.Points ?? Builder.Boxes.LineWidth, 1, 10_000);

    internal TableState? CurrentTable => Tables.TryPeek(out TableState? table) && table.Recursion == Builder.Recursion ? table : null;

    /// <summary>Defines a command that stands between rows.</summary>
    /// <param name="name">Its name.</param>
    /// <param name="carry">What it does.</param>
    /// <param name="endsRow">Whether it may stand in the place of the sign that ends a row.</param>
    internal void DefineRowCommand(string name, Action<Token> carry, bool endsRow = false)
    {
        RowCommands.Add(name);
        Machine.Define(name, (_, t) =>
        {
            if (CurrentTable is { Cell: null })
            {
                carry(t);
                return;
            }

            if (endsRow && CurrentTable is { } open && EndTableCell(open, t))
            {
                FinishRow(open, t, 0, false);
                Machine.PutBack(t);
                BeginCell();
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

    internal HashSet<string> RowCommands { get; } = new(StringComparer.Ordinal) { "par" };

    internal void DefineRowCommand(string name, Action<TableState, Token> carry, bool endsRow = false) => DefineRowCommand(name, t => carry(CurrentTable!, t), endsRow);

    internal void MisplacedInTable(Token token, string message) =>
        Findings.Fix("misplaced-in-table", token.Position, token.Length, message,
            CurrentTable is null ? "Put it into a tabular environment." : "Put \\\\ before it, or move it to the beginning of the row or cell.");

    /// <summary>Begins a table in the line, or a long one between paragraphs.</summary>
    internal void BeginTable(Token token, double? width, LongTableState? across = null)
    {
        if (!Builder.DocumentBegun && !Builder.CanPrint(token.Position))
        {
            return;
        }

        string place = Machine.ReadOptionalText(token) ?? "";
        List<Token> specification = Machine.ReadArgument(token);
        double stretch = double.TryParse(Machine.ExpandToText([Token.Command(Machine.Symbol("arraystretch"), PositionTable.None)]),
            System.Globalization.CultureInfo.InvariantCulture, out double factor) ? Math.Clamp(factor, 0.1, 20) : 1;
        double leading = Builder.Leading.Value * Builder.Spread.Value * stretch;
        if (across is null)
        {
            Builder.Paragraph();
        }
        else
        {
            Builder.EndParagraph();
            across.Place = place;
        }

        Tables.Push(new TableState(token, Builder.TableColumns.ReadColumns(specification, token, width), Builder.Recursion)
        {
            Width = width,
            Vertical = place.Contains('t', StringComparison.Ordinal) ? 't' : place.Contains('b', StringComparison.Ordinal) ? 'b' : 'c',
            Long = across,
            Height = (leading * StrutHeight) + Builder.Get("extrarowheight"),
            Depth = leading * StrutDepth,
            Stripes = _rowStripes,
        });
        Machine.Assign(Builder.Text.ParSkip, default);
        BeginCell();
    }

    // Looks for what may stand before a cell: lines between rows, \multicolumn, the table's end.
    internal void BeginCell()
    {
        TableState table = Tables.Peek();
        if (++table.Cells > MostCells)
        {
            throw new MarkupLimitException("too-much-text", "The table has too many cells.", Machine.Input.CurrentPosition);
        }

        while (true)
        {
            Machine.SkipSpaces(table.Column == 0);
            Token token = Machine.NextExpanded();
            string? command = (token.Symbol?.Meaning.Value as BuiltInCommand)?.Name;
            if (token.Is(Category.Stop) || command == "end" || command?.StartsWith("end", StringComparison.Ordinal) == true && Builder.Environments.EnvironmentNames.Contains(command[3..]))
            {
                Machine.PutBack(token);
                return;
            }

            // A part read at a row's beginning may itself begin with a line.
            if (command is not null && ((table.Column == 0 && RowCommands.Contains(command)) || command == "input"))
            {
                ((BuiltInCommand)token.Symbol!.Meaning.Value!).Execute(Machine, token);
                if (table.Cell is not null || !Tables.TryPeek(out TableState? now) || now != table)
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
        int span = Math.Clamp(Machine.Quantities.ParseInteger(number, token) ?? 1, 1, MostSpan);
        int free = Math.Max(1, table.Columns.Count - table.Column);
        if (span > free)
        {
            Findings.Check("span-too-wide", token.Position, token.Length, $"\\multicolumn takes {span} columns, and {free} {(free == 1 ? "is" : "are")} left in this row.",
                "Make its first argument smaller, or give the table more columns.");
            span = free;
        }

        ColumnSetup setup = Builder.TableColumns.ReadColumns(specification, token, null)[0];
        OpenTableCell(table, setup, span, token.Position, true);
        Machine.Push(content);
    }

    private void OpenTableCell(TableState table, ColumnSetup setup, int span, int position, bool braced)
    {
        if (Builder.Frames.Count > DocumentBuilder.FrameLimit)
        {
            throw new MarkupLimitException("nested-too-deep", "Tables are nested too deeply here.", Machine.Input.CurrentPosition);
        }

        Group group = Machine.BeginGroup(GroupKind.Cell, "", position);
        group.Ending = () => CloseTableCell(table);
        bool paragraph = setup.Look.IsParagraph;
        var frame = new BlockFrame(!paragraph);
        Builder.Frames.Push(frame);
        table.Cell = new OpenCell(setup, span, frame, Machine.Groups.Count) { IsBraced = braced };
        if (paragraph)
        {
            double width = setup.Look.Width ?? (table.Width ?? Builder.Boxes.LineWidth) / table.Columns.Count * Math.Max(1, setup.Look.Share);
            Builder.Boxes.EnterColumn(width);
            // Narrow columns rather have wide spaces than words beyond their edge.
            Machine.Assign(Builder.Text.Tolerance, 2_000);
            Machine.Assign(Builder.Text.EmergencyStretch, Dimension.FromPoints(2 * Builder.Style.Value.Size));
            Builder.Text.HasNoIndent = true;
        }

        Machine.Push(setup.Before);
    }

    // Ends the cell when a sign for that comes; false when what is read after each cell must be read first.
    internal bool EndTableCell(TableState table, params Token[] again)
    {
        if (table.Cell is not { } cell)
        {
            return true;
        }

        while (Machine.Groups.Count > cell.Groups)
        {
            Builder.Environments.ReportUnclosed(Machine.Groups[^1], again.Length > 0 ? again[0] : default);
            Builder.Environments.CloseInnermost();
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

        Builder.EndParagraph();
        while (Builder.Frames.Peek() != cell.Frame && Builder.Frames.Contains(cell.Frame))
        {
            List<Block> left = Builder.Frames.Pop().Blocks;
            Builder.Frames.Peek().Blocks.AddRange(left);
        }

        Builder.EndParagraph();
        Builder.Frames.Pop();
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
    internal bool EndCellBy(Token token)
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

    internal void EndRowBy(Token token)
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
        double extra = Machine.ReadOptional(token) is { } space && Machine.Quantities.ParseGlue(space, token) is { } glue ? glue.Width.Points : 0;
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
                Builder.Environments.CloseInnermost();
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

        Tables.Pop();
        var result = new Table
        {
            Columns = [.. table.Columns.Select(c => c.Look)],
            Items = table.Items,
            Width = table.Width,
            Size = Builder.Style.Value.Size,
            Position = table.Token.Position,
        };
        if (table.Long is { } across)
        {
            Builder.LongTables.AddLongTable(across, result);
            return;
        }

        var inline = new TableInline(result, table.Vertical);
        _lastTable = inline;
        Builder.AddInline(inline);
        foreach (NoteInline note in table.Notes)
        {
            if (Tables.TryPeek(out TableState? outer))
            {
                outer.Notes.Add(note);
            }
            else
            {
                Builder.AddInline(note);
            }
        }
    }

    private TableInline? _lastTable;

    /// <summary>Width of the last table in a line in points; the line's width when there was none.</summary>
    internal double LastTableWidth => _lastTable is null ? Builder.Boxes.LineWidth : Math.Max(40, Builder.Boxes.Measure([_lastTable]).Width);

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
    internal void ColourTableLines(int? colour) => Machine.Assign(RuleColour, colour ?? 0);

    // A formula whose closing dollar the column brings ends at the cell's end.
    internal bool ReadsSuffixInFormula(Token token)
    {
        if (Tables.Count == 0 || Tables.Peek().Cell is not { HasSuffix: false } cell || cell.Setup.After.Count == 0
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
