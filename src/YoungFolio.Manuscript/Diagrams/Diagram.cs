using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Diagrams;

/// <summary>How an arrow begins or ends.</summary>
internal enum ArrowTip
{
    /// <summary>Nothing.</summary>
    None,

    /// <summary>A head in the arrow's direction.</summary>
    Head,

    /// <summary>Two heads.</summary>
    TwoHeads,

    /// <summary>A head at the arrow's start.</summary>
    Tail,

    /// <summary>A bar across.</summary>
    Bar,

    /// <summary>A hook to the left.</summary>
    Hook,

    /// <summary>A hook to the right.</summary>
    HookRight,

    /// <summary>Half a head at the left.</summary>
    Harpoon,

    /// <summary>Half a head at the right.</summary>
    HarpoonRight,
}

/// <summary>How an arrow's line is drawn.</summary>
internal enum ArrowLine
{
    /// <summary>Unbroken.</summary>
    Solid,

    /// <summary>In dashes.</summary>
    Dashed,

    /// <summary>In dots.</summary>
    Dotted,

    /// <summary>Two lines side by side.</summary>
    Double,

    /// <summary>In waves.</summary>
    Waves,

    /// <summary>None: only its labels are there.</summary>
    Hidden,
}

/// <summary>On which side of an arrow a label stands.</summary>
internal enum LabelSide
{
    /// <summary>At the left of whoever goes along it.</summary>
    Left,

    /// <summary>At the right.</summary>
    Right,

    /// <summary>On the line, which is broken there.</summary>
    Over,
}

/// <summary>Words or signs at an arrow.</summary>
/// <param name="Formula">What it says, as a formula.</param>
/// <param name="Side">On which side.</param>
/// <param name="Along">Where on the arrow, from 0 to 1.</param>
internal sealed record ArrowLabel(IReadOnlyList<Token> Formula, LabelSide Side = LabelSide.Left, double Along = 0.5);

/// <summary>An arrow of a diagram.</summary>
/// <param name="From">The cell that it comes from: row and column, from 0.</param>
/// <param name="To">The cell that it goes to.</param>
/// <param name="Command">The command that draws it.</param>
internal sealed record DiagramArrow((int Row, int Column) From, (int Row, int Column) To, Token Command)
{
    /// <summary>How it begins.</summary>
    public ArrowTip Start { get; init; }

    /// <summary>How it ends.</summary>
    public ArrowTip End { get; init; } = ArrowTip.Head;

    /// <summary>How its line is drawn.</summary>
    public ArrowLine Line { get; init; }

    /// <summary>How far it bends to the left, in degrees; below 0: to the right.</summary>
    public double Bend { get; init; }

    /// <summary>How far it is moved to the left, in points.</summary>
    public double Shift { get; init; }

    /// <summary>Red, green and blue, a byte each.</summary>
    public int Colour { get; init; }

    /// <summary>What stands at it.</summary>
    public IReadOnlyList<ArrowLabel> Labels { get; init; } = [];
}

/// <summary>A diagram: formulas in rows and columns, and arrows between them.</summary>
/// <param name="Rows">The cells' formulas.</param>
/// <param name="Arrows">The arrows.</param>
/// <param name="ColumnGap">Between columns, in em.</param>
/// <param name="RowGap">Between rows, in em.</param>
internal sealed record Diagram(IReadOnlyList<IReadOnlyList<IReadOnlyList<Token>>> Rows, IReadOnlyList<DiagramArrow> Arrows, double ColumnGap, double RowGap)
{
    /// <summary>Reads the cells of a diagram.</summary>
    /// <param name="body">Cells parted by &amp; and \\.</param>
    /// <param name="readCell">Gives a cell's formula, and adds the arrows that begin in it.</param>
    /// <param name="columnGap">Between columns, in em.</param>
    /// <param name="rowGap">Between rows, in em.</param>
    public static Diagram Read(
        IReadOnlyList<Token> body, Func<List<Token>, (int Row, int Column), List<DiagramArrow>, IReadOnlyList<Token>> readCell, double columnGap, double rowGap)
    {
        var arrows = new List<DiagramArrow>();
        List<List<List<Token>>> written = AlignedCells.Of(body);
        List<IReadOnlyList<IReadOnlyList<Token>>> rows = [.. written.Select((row, r) => (IReadOnlyList<IReadOnlyList<Token>>)[.. row.Select((cell, c) => readCell(cell, (r, c), arrows))])];
        return new Diagram(rows, arrows, columnGap, rowGap);
    }

    /// <summary>The cell that steps lead to: l, r, u and d.</summary>
    public static (int Row, int Column)? Target((int Row, int Column) from, string steps)
    {
        foreach (char step in steps)
        {
            from = step switch
            {
                'l' => (from.Row, from.Column - 1),
                'r' => (from.Row, from.Column + 1),
                'u' => (from.Row - 1, from.Column),
                'd' => (from.Row + 1, from.Column),
                ' ' => from,
                _ => (int.MinValue, 0),
            };
            if (from.Row == int.MinValue)
            {
                return null;
            }
        }

        return from;
    }
}
