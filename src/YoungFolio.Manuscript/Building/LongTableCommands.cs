using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>What a table over several pages has besides its rows.</summary>
internal sealed class LongTableState
{
    public string Place { get; set; } = "";

    public List<TableItem>? Head { get; set; }

    public List<TableItem>? FirstHead { get; set; }

    public List<TableItem>? Foot { get; set; }

    public List<TableItem>? LastFoot { get; set; }

    public required OpenFloat Float { get; init; }

    /// <summary>Whether a caption stands in the row being read.</summary>
    public bool CaptionOpen { get; set; }
}

/// <summary>Tables that go on over pages (the package longtable and its kin).</summary>
internal sealed class LongTableCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    /// <summary>Gives an environment for tables over several pages.</summary>
    /// <param name="name">Its name.</param>
    /// <param name="takesWidth">Whether it takes a width first.</param>
    /// <param name="beginning">What it begins with, such as heads that were set before it; null: nothing.</param>
    internal void DefineLongTable(string name, bool takesWidth, Func<Token, List<Token>>? beginning = null)
    {
        Builder.Environments.DefineEnvironment(name, t =>
        {
            double? width = takesWidth ? Builder.Tables.ReadTableWidth(t) : null;
            Builder.Tables.BeginTable(t, width, new LongTableState { Float = BeginNumberedTable(t) });
            if (beginning is not null)
            {
                Machine.Push(beginning(t));
            }
        }, Builder.Tables.EndTable);
    }

    // Such a table has one number, whether it has one caption, several or none.
    internal OpenFloat BeginNumberedTable(Token token)
    {
        var open = new OpenFloat(token.Position);
        Machine.Assign(Builder.Float, new FloatKind("table", "lot") { IsNumbered = true, Open = open });
        Machine.Counters.Step("table", token);
        Builder.References.StartLabel("table", token, []);
        return open;
    }

    /// <summary>Gives what stands in tables over several pages.</summary>
    internal void DefineLongTableRows()
    {
        Builder.Tables.DefineRowCommand("endhead", (table, t) => Part(table, t, (l, items) => l.Head = items), endsRow: true);
        Builder.Tables.DefineRowCommand("endfirsthead", (table, t) => Part(table, t, (l, items) => l.FirstHead = items), endsRow: true);
        Builder.Tables.DefineRowCommand("endfoot", (table, t) => Part(table, t, (l, items) => l.Foot = items), endsRow: true);
        Builder.Tables.DefineRowCommand("endlastfoot", (table, t) => Part(table, t, (l, items) => l.LastFoot = items), endsRow: true);
        Builder.Tables.RowCommands.Add("caption");
        Builder.Tables.RowCommands.Add("pagebreak");
        Builder.Tables.RowCommands.Add("nopagebreak");
        Builder.Tables.RowCommands.Add("newpage");
        Machine.Define("kill", (_, t) =>
        {
            if (Builder.Tables.CurrentTable is { } table && Builder.Tables.EndTableCell(table, t))
            {
                table.Row.Clear();
                table.Column = 0;
                Builder.Tables.BeginCell();
            }
        });
        foreach (string name in (string[])["LTleft", "LTright", "LTpre", "LTpost"])
        {
            Machine.Registers.NamedGlue(name, name is "LTleft" or "LTright" ? Glue.Of(0) : Glue.Of(12, 4, 4));
        }

        Machine.Registers.NamedDimension("LTcapwidth", Dimension.FromPoints(4 * Units.Inch));
        Machine.Counters.Add("LTchunksize");
    }

    private void Part(TableReader.TableState table, Token token, Action<LongTableState, List<TableItem>> set)
    {
        if (table.Long is not { } across)
        {
            Builder.Tables.MisplacedInTable(token, $"{token} belongs in a longtable.");
            return;
        }

        set(across, table.Items);
        table.Items = [];
        table.RowNumber = 0;
    }

    // Captions, and wishes for pages, between the rows of a long table; false when there is none.
    internal bool ReadBetweenRows(Token token, Action<Token> read)
    {
        if (Builder.Tables.CurrentTable is not { Long: { } across, Cell: null } table)
        {
            return false;
        }

        Builder.Tables.Tables.Push(new TableReader.TableState(token, table.Columns, -1));
        Builder.OpenFrame();
        BlockFrame frame = Builder.Frames.Peek();
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        Machine.Assign(Builder.LeftMargin, 0);
        Machine.Assign(Builder.RightMargin, 0);
        read(token);
        Builder.EndParagraph();
        CurrentLabel? label = Builder.CurrentLabel.Value;
        Machine.EndGroup();
        Machine.Assign(Builder.CurrentLabel, label);
        Builder.Frames.Pop();
        Builder.Tables.Tables.Pop();
        across.CaptionOpen = true;
        table.Items.Add(new TableRow([], 0, 0) { Across = frame.Blocks });
        return true;
    }

    internal void AddLongTable(LongTableState across, Table table)
    {
        char place = across.Place.FirstOrDefault(c => c is 'l' or 'r' or 'c');
        Builder.AddBlock(new LongTableBlock
        {
            Table = table,
            Head = across.Head ?? across.FirstHead ?? [],
            FirstHead = across.FirstHead ?? across.Head ?? [],
            Foot = across.Foot ?? across.LastFoot ?? [],
            LastFoot = across.LastFoot ?? across.Foot ?? [],
            Alignment = place switch { 'l' => Alignment.Left, 'r' => Alignment.Right, _ => Alignment.Centre },
            Captions = across.Float.Captions,
            SpaceAround = Machine.Registers.NamedGlue("LTpre").Value,
        });
    }

    // A wish for a page's end between two rows belongs to the row before it; false when there is no such place.
    internal bool EndsPageBetweenRows(int penalty)
    {
        if (Builder.Tables.CurrentTable is not { Long: not null, Cell: null } table)
        {
            return false;
        }

        int last = table.Items.FindLastIndex(i => i is TableRow);
        if (last >= 0 && penalty != 0)
        {
            table.Items[last] = (TableRow)table.Items[last] with { EndsPage = penalty <= -10_000, Sticks = penalty > 0 };
        }

        return true;
    }
}
