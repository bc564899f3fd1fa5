using YoungFolio.Manuscript.Tree;

namespace YoungFolio.Manuscript.Mathematics;

/// <summary>What an atom is made of.</summary>
public abstract class Nucleus;

/// <summary>One symbol.</summary>
/// <param name="text">The character as it is looked up in the mathematics font.</param>
public sealed class SymbolNucleus(string text) : Nucleus
{
    /// <summary>The character.</summary>
    public string Text => text;

    /// <summary>Whether it grows in displays (sums, integrals).</summary>
    public bool IsLarge { get; init; }

    /// <summary>Wanted height for <c>\big</c> and kin, in units of the text's size; 0 for the natural one.</summary>
    public double Height { get; init; }

    /// <summary>Whether it is wanted bold and has no bold form of its own.</summary>
    public bool IsBold { get; init; }
}

/// <summary>A formula in braces.</summary>
public sealed class ListNucleus(MathList content) : Nucleus
{
    /// <summary>The formula.</summary>
    public MathList Content => content;
}

/// <summary>An operator's name, such as <c>\sin</c>, set upright.</summary>
public sealed class WordNucleus(string text) : Nucleus
{
    /// <summary>The name.</summary>
    public string Text => text;
}

/// <summary>Ordinary text inside a formula.</summary>
public sealed class TextNucleus(IReadOnlyList<Inline> content) : Nucleus
{
    /// <summary>The text.</summary>
    public IReadOnlyList<Inline> Content => content;
}

/// <summary>A fraction, or a stack without a line.</summary>
public sealed class FractionNucleus(MathList numerator, MathList denominator) : Nucleus
{
    /// <summary>Above.</summary>
    public MathList Numerator => numerator;

    /// <summary>Below.</summary>
    public MathList Denominator => denominator;

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
public sealed class RadicalNucleus(MathList radicand, MathList? degree) : Nucleus
{
    /// <summary>Under the line.</summary>
    public MathList Radicand => radicand;

    /// <summary>The root's index, or null.</summary>
    public MathList? Degree => degree;
}

/// <summary>A formula between delimiters that grow with it.</summary>
public sealed class DelimitedNucleus(string left, MathList content, string right) : Nucleus
{
    /// <summary>Left delimiter; empty for none.</summary>
    public string Left => left;

    /// <summary>The formula.</summary>
    public MathList Content => content;

    /// <summary>Right delimiter; empty for none.</summary>
    public string Right => right;
}

/// <summary>A formula under an accent.</summary>
/// <param name="content">The formula.</param>
/// <param name="accent">The combining character.</param>
/// <param name="grows">Whether it grows with the formula.</param>
public sealed class AccentNucleus(MathList content, string accent, bool grows) : Nucleus
{
    /// <summary>The formula.</summary>
    public MathList Content => content;

    /// <summary>The combining character.</summary>
    public string Accent => accent;

    /// <summary>Whether it grows with the formula.</summary>
    public bool Grows => grows;
}

/// <summary>A formula with a line over or under it.</summary>
public sealed class BarNucleus(MathList content, bool over) : Nucleus
{
    /// <summary>The formula.</summary>
    public MathList Content => content;

    /// <summary>Whether the line is above.</summary>
    public bool IsOver => over;
}

/// <summary>Rows and columns: matrices, cases, aligned formulas.</summary>
/// <param name="rows">The rows.</param>
/// <param name="columns">A letter a column: l, c or r; the last one, or the last two of aligned pairs, go on.</param>
public sealed class GridNucleus(IReadOnlyList<IReadOnlyList<MathList>> rows, string columns) : Nucleus
{
    /// <summary>The rows.</summary>
    public IReadOnlyList<IReadOnlyList<MathList>> Rows => rows;

    /// <summary>A letter a column: l, c or r; the last one goes on.</summary>
    public string Columns => columns;

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

    /// <summary>Lines down before each column, and after the last; empty for none.</summary>
    public IReadOnlyList<int> Rules { get; init; } = [];

    /// <summary>Which row's baseline is the formula's: <c>t</c> the first, <c>b</c> the last, <c>c</c> centred on the axis.</summary>
    public char Vertical { get; init; } = 'c';

    /// <summary>Where each row stands when rows of one cell stand apart: l, c or r a row; empty: by its column.</summary>
    public string RowAlignments { get; init; } = "";
}

/// <summary>A delimiter inside <c>\left … \right</c> that grows with them.</summary>
/// <param name="text">The delimiter.</param>
public sealed class MiddleNucleus(string text) : Nucleus
{
    /// <summary>The delimiter.</summary>
    public string Text => text;
}

/// <summary>A formula with a sign that grows with it above or below: a brace, an arrow.</summary>
/// <param name="content">The formula.</param>
/// <param name="sign">The sign.</param>
/// <param name="over">Whether it stands above.</param>
public sealed class StretchNucleus(MathList content, string sign, bool over) : Nucleus
{
    /// <summary>The formula.</summary>
    public MathList Content => content;

    /// <summary>The sign.</summary>
    public string Sign => sign;

    /// <summary>Whether it stands above.</summary>
    public bool IsOver => over;
}

/// <summary>An arrow as long as what stands above and below it.</summary>
/// <param name="sign">The arrow.</param>
/// <param name="above">Above it.</param>
/// <param name="below">Below it.</param>
public sealed class ArrowNucleus(string sign, MathList above, MathList below) : Nucleus
{
    /// <summary>The arrow.</summary>
    public string Sign => sign;

    /// <summary>Above it.</summary>
    public MathList Above => above;

    /// <summary>Below it.</summary>
    public MathList Below => below;
}

/// <summary>A formula that takes another room than its own.</summary>
/// <param name="content">The formula.</param>
public sealed class RoomNucleus(MathList content) : Nucleus
{
    /// <summary>The formula.</summary>
    public MathList Content => content;

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
/// <param name="content">The formula.</param>
/// <param name="colour">Red, green and blue, a byte each.</param>
public sealed class ColourNucleus(MathList content, int colour) : Nucleus
{
    /// <summary>The formula.</summary>
    public MathList Content => content;

    /// <summary>Red, green and blue, a byte each.</summary>
    public int Colour => colour;
}

/// <summary>A formula struck through.</summary>
/// <param name="content">The formula.</param>
/// <param name="strokes"><c>/</c>, <c>\</c>, both, or <c>-</c>.</param>
public sealed class StrikeNucleus(MathList content, string strokes) : Nucleus
{
    /// <summary>The formula.</summary>
    public MathList Content => content;

    /// <summary>The strokes.</summary>
    public string Strokes => strokes;
}

/// <summary>A formula for each size (<c>\mathchoice</c>).</summary>
/// <param name="choices">For display, text, script and scripts of scripts.</param>
public sealed class ChoiceNucleus(IReadOnlyList<MathList> choices) : Nucleus
{
    /// <summary>For display, text, script and scripts of scripts.</summary>
    public IReadOnlyList<MathList> Choices => choices;
}

/// <summary>Scripts left of what follows (<c>\sideset</c>, <c>\prescript</c>).</summary>
/// <param name="superscript">Raised, or null.</param>
/// <param name="subscript">Lowered, or null.</param>
/// <param name="content">What they belong to.</param>
public sealed class LeftScriptsNucleus(MathList? superscript, MathList? subscript, MathList content) : Nucleus
{
    /// <summary>Raised, or null.</summary>
    public MathList? Superscript => superscript;

    /// <summary>Lowered, or null.</summary>
    public MathList? Subscript => subscript;

    /// <summary>What they belong to.</summary>
    public MathList Content => content;
}
