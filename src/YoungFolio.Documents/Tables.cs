using YoungFolio.Markup;

namespace YoungFolio.Documents;

/// <summary>A piece of what stands between two columns.</summary>
/// <param name="Width">Width of an empty space in points.</param>
/// <param name="Stretch">How far it may grow in a table of given width, as a share.</param>
public sealed partial record EdgePiece(double Width, double Stretch = 0) : Node
{
    /// <summary>Whether it is a line over the row's whole height.</summary>
    public bool IsRule { get; init; }

    /// <summary>Colour of the line: red, green and blue, a byte each.</summary>
    public int Colour { get; init; }

    /// <summary>Text that stands here in every row, or null.</summary>
    public IReadOnlyList<Inline>? Content { get; init; }
}

/// <summary>How the cells of a column are set. Lengths are in points of 1/72.27 in.</summary>
public sealed partial record TableColumn : Node
{
    /// <summary>Where a line stands in the column.</summary>
    public Alignment Alignment { get; init; } = Alignment.Left;

    /// <summary>Width of a column of paragraphs; null: as wide as its widest cell.</summary>
    public double? Width { get; init; }

    /// <summary>Share of what is left of a table's width; 0 for none (<c>X</c>).</summary>
    public double Share { get; init; }

    /// <summary>Where a paragraph stands beside the row's line: <c>t</c>, <c>c</c>, <c>b</c>.</summary>
    public char Vertical { get; init; } = 't';

    /// <summary>Whether numbers stand with their decimal signs under one another.</summary>
    public bool IsDecimal { get; init; }

    /// <summary>What stands left of the cell.</summary>
    public IReadOnlyList<EdgePiece> Left { get; init; } = [];

    /// <summary>What stands right of the cell.</summary>
    public IReadOnlyList<EdgePiece> Right { get; init; } = [];

    /// <summary>Whether cells are paragraphs.</summary>
    public bool IsParagraph => Width is not null || Share > 0;
}

/// <summary>A cell.</summary>
public sealed partial record TableCell : Node
{
    /// <summary>How it is set: its column, or what <c>\multicolumn</c> says.</summary>
    [PrintsElsewhere]
    public required TableColumn Column { get; init; }

    /// <summary>Columns that it takes.</summary>
    public int Span { get; init; } = 1;

    /// <summary>Rows that it takes; a negative number counts upwards.</summary>
    public int Rows { get; init; } = 1;

    /// <summary>The text of a cell of one line; up to the decimal sign, where there is one.</summary>
    public IReadOnlyList<Inline> Content { get; init; } = [];

    /// <summary>The decimal sign and what follows it; null: no number.</summary>
    public IReadOnlyList<Inline>? Decimals { get; init; }

    /// <summary>The paragraphs of a column of paragraphs; null: one line.</summary>
    public IReadOnlyList<Block>? Blocks { get; init; }

    /// <summary>Colour of the ground, or null.</summary>
    public int? Ground { get; init; }

    /// <summary>How far a cell of several rows is raised.</summary>
    public double Rise { get; init; }
}

/// <summary>A row, or the lines between two rows.</summary>
public abstract record TableItem : Node;

/// <summary>A row.</summary>
/// <param name="Cells">Its cells; together they take all columns or fewer.</param>
/// <param name="Height">Least height above the baseline in points.</param>
/// <param name="Depth">Least depth below it.</param>
public sealed partial record TableRow(IReadOnlyList<TableCell> Cells, double Height, double Depth) : TableItem
{
    /// <summary>Space below, in points.</summary>
    public double SpaceBelow { get; init; }

    /// <summary>Notes called in it, for tables over several pages.</summary>
    [PrintsElsewhere]
    public IReadOnlyList<NoteInline> Notes { get; init; } = [];

    /// <summary>Whether no page may end below it.</summary>
    public bool Sticks { get; init; }

    /// <summary>Whether a page must end below it.</summary>
    public bool EndsPage { get; init; }

    /// <summary>Blocks over the whole width, such as a caption; null for a row of cells.</summary>
    public IReadOnlyList<Block>? Across { get; init; }
}

/// <summary>A stretch of a line across, from one column to another, counted from 0.</summary>
public sealed record LineStretch(int First, int Last, double TrimLeft = 0, double TrimRight = 0);

/// <summary>A line across, whole or in stretches.</summary>
/// <param name="Thickness">Thickness in points.</param>
/// <param name="Above">Space above it.</param>
/// <param name="Below">Space below it.</param>
/// <param name="Colour">Red, green and blue, a byte each.</param>
public sealed partial record TableLine(double Thickness, double Above, double Below, int Colour) : TableItem
{
    /// <summary>Stretches; null: from edge to edge.</summary>
    public IReadOnlyList<LineStretch>? Stretches { get; init; }

    /// <summary>Whether the rows are moved apart by its thickness.</summary>
    public bool TakesRoom { get; init; } = true;
}

/// <summary>A table.</summary>
public sealed partial record Table : Node
{
    /// <summary>The columns.</summary>
    public required IReadOnlyList<TableColumn> Columns { get; init; }

    /// <summary>Rows and lines from the top.</summary>
    public required IReadOnlyList<TableItem> Items { get; init; }

    /// <summary>Wanted width in points, or null for its own.</summary>
    public double? Width { get; init; }

    /// <summary>Size of the text around it in points.</summary>
    public required double Size { get; init; }

    /// <summary>Position of its beginning.</summary>
    public required int Position { get; init; }
}

/// <summary>A table in a line.</summary>
/// <param name="Table">The table.</param>
/// <param name="Vertical">Which row's baseline is the line's: <c>t</c> the first, <c>b</c> the last, <c>c</c> centred.</param>
public sealed partial record TableInline(Table Table, char Vertical) : Inline;

/// <summary>A table that goes on over pages.</summary>
public sealed partial record LongTableBlock : Block
{
    /// <summary>The table; its items are the body's.</summary>
    public required Table Table { get; init; }

    /// <summary>Rows at the top of each page after the first.</summary>
    public required IReadOnlyList<TableItem> Head { get; init; }

    /// <summary>Rows at the top of the first page.</summary>
    public required IReadOnlyList<TableItem> FirstHead { get; init; }

    /// <summary>Rows at the foot of each page but the last.</summary>
    public required IReadOnlyList<TableItem> Foot { get; init; }

    /// <summary>Rows at the foot of the last page.</summary>
    public required IReadOnlyList<TableItem> LastFoot { get; init; }

    /// <summary>Where it stands in the line.</summary>
    public required Alignment Alignment { get; init; }

    /// <summary>Captions in it.</summary>
    [PrintsElsewhere]
    public required IReadOnlyList<Caption> Captions { get; init; }

    /// <summary>Space above and below.</summary>
    public required Glue SpaceAround { get; init; }
}
