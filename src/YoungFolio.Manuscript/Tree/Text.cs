namespace YoungFolio.Manuscript.Tree;

/// <summary>Families of type: roman, sans serif, typewriter.</summary>
public enum FontFamily
{
    /// <summary>Roman.</summary>
    Roman,

    /// <summary>Sans serif.</summary>
    Sans,

    /// <summary>Typewriter.</summary>
    Mono,
}

/// <summary>Shapes of type.</summary>
public enum FontShape
{
    /// <summary>Upright.</summary>
    Upright,

    /// <summary>Italic.</summary>
    Italic,

    /// <summary>Slanted; set in italic where a family has no slanted cut.</summary>
    Slanted,

    /// <summary>Small capitals.</summary>
    SmallCaps,
}

/// <summary>How text looks.</summary>
/// <param name="Family">Family.</param>
/// <param name="Bold">Whether bold.</param>
/// <param name="Shape">Shape.</param>
/// <param name="Size">Size in points of 1/72.27 in.</param>
/// <param name="Rise">How far the baseline is raised, in points; negative lowers.</param>
/// <param name="Colour">Red, green and blue, a byte each.</param>
public readonly record struct TextStyle(
    FontFamily Family, bool Bold, FontShape Shape, double Size, double Rise = 0, int Colour = 0);

/// <summary>A piece of a line. Positions are those of <c>YoungFolio.Markup.PositionTable</c>.</summary>
public abstract class Inline;

/// <summary>Characters of one style, spaces included.</summary>
public sealed class TextRun(string text, int[] positions, TextStyle style) : Inline
{
    /// <summary>The characters. A no-break space is U+00A0, a soft hyphen U+00AD.</summary>
    public string Text => text;

    /// <summary>The position of each UTF-16 character of <see cref="Text"/>.</summary>
    public int[] Positions => positions;

    /// <summary>The style.</summary>
    public TextStyle Style => style;

    /// <summary>Whether words may be hyphenated (not in typewriter text).</summary>
    public bool Hyphenates => style.Family != FontFamily.Mono;
}

/// <summary>A horizontal space.</summary>
/// <param name="glue">Its glue.</param>
/// <param name="vanishes">Whether it vanishes at a line's end (<c>\hspace</c> without a star).</param>
public sealed class SpaceInline(Markup.Glue glue, bool vanishes) : Inline
{
    /// <summary>Its glue.</summary>
    public Markup.Glue Glue => glue;

    /// <summary>Whether it vanishes at a line's end.</summary>
    public bool Vanishes => vanishes;
}

/// <summary>How welcome a line break is here.</summary>
/// <param name="penalty">From −10000 (must) to 10000 (must not).</param>
public sealed class PenaltyInline(int penalty) : Inline
{
    /// <summary>The penalty.</summary>
    public int Penalty => penalty;
}

/// <summary>The end of a line (<c>\\</c>).</summary>
/// <param name="extra">Extra space below the line.</param>
public sealed class LineBreakInline(Markup.Dimension extra) : Inline
{
    /// <summary>Extra space below the line.</summary>
    public Markup.Dimension Extra => extra;
}

/// <summary>A formula in the line.</summary>
public sealed class MathInline(Mathematics.MathList formula, TextStyle style) : Inline
{
    /// <summary>The formula.</summary>
    public Mathematics.MathList Formula => formula;

    /// <summary>The style of the text around it; its size is the formula's.</summary>
    public TextStyle Style => style;
}

/// <summary>A picture.</summary>
public sealed class ImageInline(string path, int position) : Inline
{
    /// <summary>Path of the part that holds it.</summary>
    public string Path => path;

    /// <summary>Position of the command.</summary>
    public int Position => position;

    /// <summary>Wanted width in points, or null.</summary>
    public double? Width { get; init; }

    /// <summary>Wanted height in points, or null.</summary>
    public double? Height { get; init; }

    /// <summary>Factor of the natural size.</summary>
    public double Scale { get; init; } = 1;

    /// <summary>Turn in degrees, anticlockwise.</summary>
    public double Angle { get; init; }

    /// <summary>With both width and height: whether to fit inside them.</summary>
    public bool KeepsAspect { get; init; }
}

/// <summary>The mark of a footnote, with its text where there is one.</summary>
public sealed class NoteInline(IReadOnlyList<Inline> mark, IReadOnlyList<Block>? body, int position) : Inline
{
    /// <summary>The mark, raised.</summary>
    public IReadOnlyList<Inline> Mark => mark;

    /// <summary>The note's paragraphs; null for a mark alone.</summary>
    public IReadOnlyList<Block>? Body => body;

    /// <summary>Whether the mark is printed here.</summary>
    public bool PrintsMark { get; init; } = true;

    /// <summary>Position of the command.</summary>
    public int Position => position;
}

/// <summary>A place that references lead to.</summary>
public sealed class AnchorInline(string name) : Inline
{
    /// <summary>Its name, one of its kind in the document.</summary>
    public string Name => name;
}

/// <summary>What a reference prints.</summary>
public enum ReferenceKind
{
    /// <summary>The number.</summary>
    Number,

    /// <summary>The page.</summary>
    Page,
}

/// <summary>A reference; it is resolved when pages are made.</summary>
public sealed class ReferenceInline(string key, ReferenceKind kind, TextStyle style, int position, int length) : Inline
{
    /// <summary>The label's key.</summary>
    public string Key => key;

    /// <summary>What it prints.</summary>
    public ReferenceKind Kind => kind;

    /// <summary>Style of the text.</summary>
    public TextStyle Style => style;

    /// <summary>Position of the command.</summary>
    public int Position => position;

    /// <summary>Characters of source that it takes.</summary>
    public int Length => length;
}

/// <summary>Text that leads somewhere when clicked.</summary>
public sealed class LinkInline(IReadOnlyList<Inline> content, string target, bool outside) : Inline
{
    /// <summary>The text.</summary>
    public IReadOnlyList<Inline> Content => content;

    /// <summary>An anchor's name, or an address outside.</summary>
    public string Target => target;

    /// <summary>Whether the target is an address outside the document.</summary>
    public bool IsOutside => outside;
}

/// <summary>Text kept on one line (<c>\mbox</c> and kin).</summary>
public sealed class BoxInline(IReadOnlyList<Inline> content) : Inline
{
    /// <summary>The text.</summary>
    public IReadOnlyList<Inline> Content => content;

    /// <summary>Width in points; null for its natural width.</summary>
    public double? Width { get; init; }

    /// <summary>Where the text stands in a wider box: −1 left, 0 centred, 1 right.</summary>
    public int Alignment { get; init; }

    /// <summary>How far the box is raised, in points.</summary>
    public double Rise { get; init; }

    /// <summary>Whether a frame is drawn.</summary>
    public bool IsFramed { get; init; }

    /// <summary>Whether a line is drawn under the text.</summary>
    public bool IsUnderlined { get; init; }
}

/// <summary>A filled rectangle.</summary>
/// <param name="width">Width in points.</param>
/// <param name="height">Height above its foot in points.</param>
/// <param name="rise">How far the foot stands above the baseline, in points.</param>
public sealed class RuleInline(double width, double height, double rise) : Inline
{
    /// <summary>Width in points.</summary>
    public double Width => width;

    /// <summary>Height in points.</summary>
    public double Height => height;

    /// <summary>Height of its foot above the baseline in points.</summary>
    public double Rise => rise;
}
