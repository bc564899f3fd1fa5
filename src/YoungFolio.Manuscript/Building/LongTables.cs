using YoungFolio.Manuscript.Tree;
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

    public List<Caption> Captions { get; } = [];

    /// <summary>Whether a caption stands in the row being read.</summary>
    public bool CaptionOpen { get; set; }
}

// Tables that go on over pages (the package longtable and its kin).
public sealed partial class DocumentBuilder
{
    /// <summary>Gives an environment for tables over several pages.</summary>
    /// <param name="name">Its name.</param>
    /// <param name="takesWidth">Whether it takes a width first.</param>
    internal void DefineLongTable(string name, bool takesWidth)
    {
        DefineEnvironment(name, t =>
        {
            double? width = takesWidth ? ReadTableWidth(t) : null;
            BeginNumberedTable(t);
            BeginTable(t, width, new LongTableState());
        }, EndTable);
    }

    // Such a table has one number, whether it has one caption, several or none.
    private void BeginNumberedTable(Token token)
    {
        Machine.Assign(_float, new FloatKind("table", "lot") { IsNumbered = true });
        Machine.StepCounter("table", token);
        StartLabel("table", token, []);
    }

    /// <summary>Gives what stands in tables over several pages.</summary>
    internal void DefineLongTableRows()
    {
        DefineRowCommand("endhead", (table, t) => Part(table, t, (l, items) => l.Head = items));
        DefineRowCommand("endfirsthead", (table, t) => Part(table, t, (l, items) => l.FirstHead = items));
        DefineRowCommand("endfoot", (table, t) => Part(table, t, (l, items) => l.Foot = items));
        DefineRowCommand("endlastfoot", (table, t) => Part(table, t, (l, items) => l.LastFoot = items));
        _rowCommands.Add("caption");
        _rowCommands.Add("pagebreak");
        _rowCommands.Add("nopagebreak");
        _rowCommands.Add("newpage");
        Machine.Define("kill", (_, t) =>
        {
            if (CurrentTable is { } table && EndTableCell(table, t))
            {
                table.Row.Clear();
                table.Column = 0;
                BeginCell();
            }
        });
        foreach (string name in (string[])["LTleft", "LTright", "LTpre", "LTpost"])
        {
            Machine.NamedGlue(name, name is "LTleft" or "LTright" ? Glue.Of(0) : Glue.Of(12, 4, 4));
        }

        Machine.NamedDimension("LTcapwidth", Dimension.FromPoints(4 * Inch));
        Machine.NewCounter("LTchunksize");
    }

    private void Part(TableState table, Token token, Action<LongTableState, List<TableItem>> set)
    {
        if (table.Long is not { } across)
        {
            MisplacedInTable(token, $"{token} belongs in a longtable.");
            return;
        }

        set(across, table.Items);
        table.Items = [];
        table.RowNumber = 0;
    }

    // Captions, and wishes for pages, between the rows of a long table; false when there is none.
    private bool ReadBetweenRows(Token token, Action<Token> read)
    {
        if (CurrentTable is not { Long: { } across, Cell: null } table)
        {
            return false;
        }

        _tables.Push(new TableState(token, table.Columns, -1));
        OpenFrame();
        BlockFrame frame = _frames.Peek();
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        Machine.Assign(_leftMargin, 0);
        Machine.Assign(_rightMargin, 0);
        read(token);
        EndParagraph();
        CurrentLabel? label = _currentLabel.Value;
        Machine.EndGroup();
        Machine.Assign(_currentLabel, label);
        _frames.Pop();
        _tables.Pop();
        across.Captions.AddRange(frame.Captions);
        across.CaptionOpen = true;
        table.Items.Add(new TableRow([], 0, 0) { Across = frame.Blocks });
        return true;
    }

    private void AddLongTable(LongTableState across, Table table)
    {
        char place = across.Place.FirstOrDefault(c => c is 'l' or 'r' or 'c');
        AddBlock(new LongTableBlock
        {
            Table = table,
            Head = across.Head ?? across.FirstHead ?? [],
            FirstHead = across.FirstHead ?? across.Head ?? [],
            Foot = across.Foot ?? across.LastFoot ?? [],
            LastFoot = across.LastFoot ?? across.Foot ?? [],
            Alignment = place switch { 'l' => Alignment.Left, 'r' => Alignment.Right, _ => Alignment.Centre },
            Captions = across.Captions,
            SpaceAround = Machine.NamedGlue("LTpre").Value,
        });
    }

    // A wish for a page's end between two rows belongs to the row before it; false when there is no such place.
    private bool EndsPageBetweenRows(int penalty)
    {
        if (CurrentTable is not { Long: not null, Cell: null } table)
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
