using YoungFolio.Documents;

namespace YoungFolio.Documents.Mathematics;

/// <summary>What an atom is made of.</summary>
public abstract record Nucleus : Node;

/// <summary>One symbol.</summary>
/// <param name="Text">The character as it is looked up in the mathematics font.</param>
public sealed partial record SymbolNucleus(string Text) : Nucleus
{
    /// <summary>Whether it grows in displays (sums, integrals).</summary>
    public bool IsLarge { get; init; }

    /// <summary>Wanted height for <c>\big</c> and kin, in units of the text's size; 0 for the natural one.</summary>
    public double Height { get; init; }

    /// <summary>Whether it is wanted bold and has no bold form of its own.</summary>
    public bool IsBold { get; init; }
}

/// <summary>A formula in braces.</summary>
/// <param name="Content">The formula.</param>
public sealed partial record ListNucleus(MathList Content) : Nucleus;

/// <summary>An operator's name, such as <c>\sin</c>, set upright.</summary>
/// <param name="Text">The name.</param>
public sealed partial record WordNucleus(string Text) : Nucleus;

/// <summary>Ordinary text inside a formula.</summary>
/// <param name="Content">The text.</param>
public sealed partial record TextNucleus(IReadOnlyList<Inline> Content) : Nucleus;

/// <summary>A fraction, or a stack without a line.</summary>
/// <param name="Numerator">Above.</param>
/// <param name="Denominator">Below.</param>
public sealed partial record FractionNucleus(MathList Numerator, MathList Denominator) : Nucleus
{
    /// <summary>Whether a line parts the two.</summary>
    public bool HasRule { get; init; } = true;

    /// <summary>Thickness of the line in points; null: the font's.</summary>
    public double? Thickness { get; init; }

    /// <summary>Where the numerator of a continued fraction stands: <c>l</c>, <c>c</c>, <c>r</c>.</summary>
    public char NumeratorAlignment { get; init; } = 'c';

    /// <summary>Whether both parts are set in display size with a strut, as in continued fractions.</summary>
    public bool IsContinued { get; init; }

    /// <summary>Delimiters around it, empty for none.</summary>
    public string Left { get; init; } = "";

    /// <summary>Delimiters around it, empty for none.</summary>
    public string Right { get; init; } = "";

    /// <summary>Size that it is set in; null for that of its place.</summary>
    public MathSize? Size { get; init; }
}

/// <summary>A root.</summary>
/// <param name="Radicand">Under the line.</param>
/// <param name="Degree">The root's index, or null.</param>
public sealed partial record RadicalNucleus(MathList Radicand, MathList? Degree) : Nucleus
{
    /// <summary>How far the degree stands to the left of its place, in eighteenths of an em.</summary>
    public double DegreeLeft { get; init; }

    /// <summary>How far it stands above its place, in eighteenths of an em.</summary>
    public double DegreeUp { get; init; }
}

/// <summary>A formula between delimiters that grow with it.</summary>
/// <param name="Left">Left delimiter; empty for none.</param>
/// <param name="Content">The formula.</param>
/// <param name="Right">Right delimiter; empty for none.</param>
public sealed partial record DelimitedNucleus(string Left, MathList Content, string Right) : Nucleus;

/// <summary>A formula under an accent.</summary>
/// <param name="Content">The formula.</param>
/// <param name="Accent">The combining character.</param>
/// <param name="Grows">Whether it grows with the formula.</param>
public sealed partial record AccentNucleus(MathList Content, string Accent, bool Grows) : Nucleus;

/// <summary>A formula with a line over or under it.</summary>
/// <param name="Content">The formula.</param>
/// <param name="IsOver">Whether the line is above.</param>
public sealed partial record BarNucleus(MathList Content, bool IsOver) : Nucleus;

/// <summary>Rows and columns: matrices, cases, aligned formulas.</summary>
/// <param name="Rows">The rows.</param>
/// <param name="Columns">A letter a column: l, c or r; the last one, or the last two of aligned pairs, go on.</param>
public sealed partial record GridNucleus(IReadOnlyList<IReadOnlyList<MathList>> Rows, string Columns) : Nucleus
{
    /// <summary>Space between columns, in em of the text's size.</summary>
    public double ColumnGap { get; init; } = 1;

    /// <summary>Space left of the first and right of the last column, in em.</summary>
    public double SideGap { get; init; }

    /// <summary>Whether columns are pairs around a sign, with more space between pairs.</summary>
    public bool IsPaired { get; init; }

    /// <summary>Space between two pairs in em.</summary>
    public double PairGap { get; init; } = 2;

    /// <summary>Whether cells are set as displays.</summary>
    public bool InDisplay { get; init; }

    /// <summary>Whether it is set in the size of scripts with narrow gaps (<c>smallmatrix</c>, <c>substack</c>).</summary>
    public bool IsSmall { get; init; }

    /// <summary>Space added below each row, in points; empty for none.</summary>
    public IReadOnlyList<double> RowGaps { get; init; } = [];

    /// <summary>Lines across before each row, and after the last; empty for none.</summary>
    public IReadOnlyList<int> Lines { get; init; } = [];

    /// <summary>What stands before each column and after the last, in the place of gaps; empty: the gaps alone.</summary>
    public IReadOnlyList<GridEdge> Edges { get; init; } = [];

    /// <summary>Cells that take several columns, each at its first.</summary>
    public IReadOnlyList<GridSpan> Spans { get; init; } = [];

    /// <summary>Lines across some columns.</summary>
    public IReadOnlyList<GridLine> PartialLines { get; init; } = [];

    /// <summary>Delimiters around a part of the cells.</summary>
    public IReadOnlyList<GridDelimiters> Delimiters { get; init; } = [];

    /// <summary>Factor of the height of a row without anything high in it (<c>\arraystretch</c>).</summary>
    public double Stretch { get; init; } = 1;

    /// <summary>Which row's baseline is the formula's: <c>t</c> the first, <c>b</c> the last, <c>c</c> centred on the axis.</summary>
    public char Vertical { get; init; } = 'c';

    /// <summary>Where each row stands when rows of one cell stand apart: l, c or r a row; empty: by its column.</summary>
    public string RowAlignments { get; init; } = "";
}

/// <summary>What stands between two columns of a grid, or at its side.</summary>
/// <param name="Pieces">Spaces, lines down and formulas, from the left.</param>
public sealed partial record GridEdge(IReadOnlyList<EdgePiece> Pieces) : Node;

/// <summary>A cell of a grid that takes several columns.</summary>
/// <param name="Row">Its row, from 0.</param>
/// <param name="Column">Its first column, from 0.</param>
/// <param name="Count">How many columns it takes.</param>
/// <param name="Alignment">l, c or r.</param>
/// <param name="Left">Whether a line stands at its left.</param>
/// <param name="Right">Whether a line stands at its right.</param>
public sealed partial record GridSpan(int Row, int Column, int Count, char Alignment, bool Left, bool Right) : Node;

/// <summary>A line across some columns of a grid.</summary>
/// <param name="Row">The row that it stands above; the number of rows: below the last.</param>
/// <param name="First">The first column, from 0.</param>
/// <param name="Last">The last column.</param>
public sealed partial record GridLine(int Row, int First, int Last) : Node;

/// <summary>Delimiters around some cells of a grid.</summary>
/// <param name="Left">The left one; empty: none.</param>
/// <param name="Right">The right one; empty: none.</param>
/// <param name="FirstRow">First row, from 0.</param>
/// <param name="LastRow">Last row.</param>
/// <param name="FirstColumn">First column, from 0.</param>
/// <param name="LastColumn">Last column.</param>
public sealed partial record GridDelimiters(string Left, string Right, int FirstRow, int LastRow, int FirstColumn, int LastColumn) : Node;

/// <summary>A delimiter inside <c>\left … \right</c> that grows with them.</summary>
/// <param name="Text">The delimiter.</param>
public sealed partial record MiddleNucleus(string Text) : Nucleus;

/// <summary>A formula with a sign that grows with it above or below: a brace, an arrow.</summary>
/// <param name="Content">The formula.</param>
/// <param name="Sign">The sign.</param>
/// <param name="IsOver">Whether it stands above.</param>
public sealed partial record StretchNucleus(MathList Content, string Sign, bool IsOver) : Nucleus;

/// <summary>An arrow as long as what stands above and below it.</summary>
/// <param name="Sign">The arrow.</param>
/// <param name="Above">Above it.</param>
/// <param name="Below">Below it.</param>
public sealed partial record ArrowNucleus(string Sign, MathList Above, MathList Below) : Nucleus;

/// <summary>A formula that takes another room than its own.</summary>
/// <param name="Content">The formula.</param>
public sealed partial record PhantomNucleus(MathList Content) : Nucleus
{
    /// <summary>Whether it isn't shown.</summary>
    public bool IsHidden { get; init; }

    /// <summary>Whether it takes its width.</summary>
    public bool KeepsWidth { get; init; } = true;

    /// <summary>Whether it takes its height.</summary>
    public bool KeepsHeight { get; init; } = true;

    /// <summary>Whether it takes its depth.</summary>
    public bool KeepsDepth { get; init; } = true;

    /// <summary>Where it stands over a width that it doesn't take: −1 to the left of it, 0 centred, 1 to the right.</summary>
    public int Side { get; init; } = 1;
}

/// <summary>A formula in a colour.</summary>
/// <param name="Content">The formula.</param>
/// <param name="Colour">Red, green and blue, a byte each.</param>
public sealed partial record ColourNucleus(MathList Content, int Colour) : Nucleus;

/// <summary>A formula struck through.</summary>
/// <param name="Content">The formula.</param>
/// <param name="Strokes"><c>/</c>, <c>\</c>, both, or <c>-</c>.</param>
public sealed partial record StrikeNucleus(MathList Content, string Strokes) : Nucleus;

/// <summary>A formula for each size (<c>\mathchoice</c>).</summary>
/// <param name="Choices">For display, text, script and scripts of scripts.</param>
public sealed partial record ChoiceNucleus(IReadOnlyList<MathList> Choices) : Nucleus;

/// <summary>Scripts left of what follows (<c>\sideset</c>, <c>\prescript</c>).</summary>
/// <param name="Superscript">Raised, or null.</param>
/// <param name="Subscript">Lowered, or null.</param>
/// <param name="Content">What they belong to.</param>
public sealed partial record LeftScriptsNucleus(MathList? Superscript, MathList? Subscript, MathList Content) : Nucleus;
