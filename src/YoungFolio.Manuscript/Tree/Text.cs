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
/// <param name="Language">Language of these words (<c>de</c>); null: the paragraph's.</param>
/// <param name="Face">A typeface by name (<c>termes</c>); null: the document's for the family.</param>
/// <param name="OldFigures">Whether figures have ascenders and descenders like small letters.</param>
public readonly record struct TextStyle(
    FontFamily Family, bool Bold, FontShape Shape, double Size, double Rise = 0, int Colour = 0, string? Language = null, string? Face = null, bool OldFigures = false);

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
    /// <summary>Path of the file that holds it.</summary>
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

    /// <summary>Page of a PDF, from 1.</summary>
    public int Page { get; init; } = 1;

    /// <summary>What is cut off at the left, foot, right and top of the natural size, in points; null for nothing.</summary>
    public (double Left, double Bottom, double Right, double Top)? Trim { get; init; }

    /// <summary>Whether what is cut off isn't shown.</summary>
    public bool Clips { get; init; }

    /// <summary>With both width and height: whether to fit inside them.</summary>
    public bool KeepsAspect { get; init; }
}

/// <summary>The mark of a footnote, with its text where there is one.</summary>
public sealed class NoteInline(IReadOnlyList<Inline> mark, IReadOnlyList<Block>? body, int position) : Inline
{
    /// <summary>The mark, raised.</summary>
    public IReadOnlyList<Inline> Mark { get; private set; } = mark;

    /// <summary>The note's paragraphs; null for a mark alone.</summary>
    public IReadOnlyList<Block>? Body { get; private set; } = body;

    /// <summary>Whether the mark is printed here.</summary>
    public bool PrintsMark { get; init; } = true;

    /// <summary>Position of the command.</summary>
    public int Position => position;

    /// <summary>The same note with other content.</summary>
    public NoteInline With(IReadOnlyList<Inline> otherMark, IReadOnlyList<Block> otherBody)
    {
        var copy = (NoteInline)MemberwiseClone();
        copy.Mark = otherMark;
        copy.Body = otherBody;
        return copy;
    }
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

/// <summary>A line under, through or behind words; it follows them over the ends of lines.</summary>
public enum Decoration
{
    /// <summary>A line under the words.</summary>
    Underline,

    /// <summary>Two lines under the words.</summary>
    DoubleUnderline,

    /// <summary>A line through the words.</summary>
    StrikeOut,

    /// <summary>Colour behind the words.</summary>
    Highlight,

    /// <summary>Short slanted strokes through the words; set as two lines.</summary>
    CrossOut,

    /// <summary>Dashes under the words.</summary>
    Dashes,

    /// <summary>Dots under the words.</summary>
    Dots,
}

/// <summary>Words with a line under, through or behind them.</summary>
/// <param name="content">The words.</param>
/// <param name="decoration">What is drawn.</param>
/// <param name="colour">Red, green and blue, a byte each.</param>
public sealed class DecoratedInline(IReadOnlyList<Inline> content, Decoration decoration, int colour) : Inline
{
    /// <summary>The words.</summary>
    public IReadOnlyList<Inline> Content => content;

    /// <summary>What is drawn.</summary>
    public Decoration Decoration => decoration;

    /// <summary>Its colour.</summary>
    public int Colour => colour;
}

/// <summary>Text that is known when the whole manuscript has been read, such as what <c>\cref</c> prints.</summary>
public sealed class DeferredInline : Inline
{
    /// <summary>The text; empty until it is known.</summary>
    public IReadOnlyList<Inline> Content { get; internal set; } = [];
}

/// <summary>What a <see cref="PageFieldInline"/> shows.</summary>
public enum PageField
{
    /// <summary>The page's number as printed, or in the field's own format.</summary>
    Number,

    /// <summary>The running head's left mark: the last one of the page.</summary>
    LeftMark,

    /// <summary>The running head's right mark: the first one of the page.</summary>
    RightMark,
}

/// <summary>Something that is known when its page is made.</summary>
/// <param name="shows">What it shows.</param>
/// <param name="format"><c>arabic</c>, <c>roman</c> …; empty for the number as printed.</param>
/// <param name="anchor">An anchor that stands beside it, for text in the flow; null in heads and feet.</param>
/// <param name="style">Style of the text.</param>
public sealed class PageFieldInline(PageField shows, string format, string? anchor, TextStyle style) : Inline
{
    /// <summary>What it shows.</summary>
    public PageField Field => shows;

    /// <summary>The number's format; empty for the number as printed.</summary>
    public string Format => format;

    /// <summary>An anchor that stands beside it, or null.</summary>
    public string? Anchor => anchor;

    /// <summary>Whether a mark is shown in capitals.</summary>
    public bool IsUppercase { get; init; }

    /// <summary>Style of the text.</summary>
    public TextStyle Style => style;
}

/// <summary>Paragraphs and their like set as one box of a given width.</summary>
/// <param name="content">The blocks.</param>
/// <param name="width">Width in points.</param>
public sealed class BlockBoxInline(IReadOnlyList<Block> content, double width) : Inline
{
    /// <summary>The blocks.</summary>
    public IReadOnlyList<Block> Content { get; private set; } = content;

    /// <summary>Width in points.</summary>
    public double Width => width;

    /// <summary>Where its baseline is: <c>t</c> the first line's, <c>b</c> the last line's, <c>c</c> so that it is centred.</summary>
    public char Position { get; init; } = 'c';

    /// <summary>Wanted height in points, or null for its own.</summary>
    public double? Height { get; init; }

    /// <summary>Where the content stands in a higher box: <c>t</c>, <c>c</c>, <c>b</c>.</summary>
    public char InnerPosition { get; init; } = 't';

    /// <summary>Width of a frame's padding in points; null for no frame.</summary>
    public double? FramePadding { get; init; }

    /// <summary>Colour of the ground, or null.</summary>
    public int? Ground { get; init; }

    /// <summary>The same box with other content.</summary>
    public BlockBoxInline With(IReadOnlyList<Block> other)
    {
        var copy = (BlockBoxInline)MemberwiseClone();
        copy.Content = other;
        return copy;
    }
}

/// <summary>The pages of some places, each once.</summary>
public sealed class PagesInline(IReadOnlyList<string> anchors, TextStyle style) : Inline
{
    /// <summary>Anchors at the places.</summary>
    public IReadOnlyList<string> Anchors => anchors;

    /// <summary>Style of the text.</summary>
    public TextStyle Style => style;
}

/// <summary>Text in the margin beside this line.</summary>
public sealed class MarginInline(IReadOnlyList<Block> content) : Inline
{
    /// <summary>The text.</summary>
    public IReadOnlyList<Block> Content => content;
}

/// <summary>Dots or a rule that fill a line.</summary>
/// <param name="style">Style of the dots.</param>
/// <param name="rule">Whether a rule is drawn instead of dots.</param>
public sealed class LeadersInline(TextStyle style, bool rule = false) : Inline
{
    /// <summary>Style of the dots.</summary>
    public TextStyle Style => style;

    /// <summary>Whether a rule is drawn instead of dots.</summary>
    public bool IsRule => rule;
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

    /// <summary>Whether it leads to its label when clicked.</summary>
    public bool IsLink { get; init; } = true;
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
    public IReadOnlyList<Inline> Content { get; private set; } = content;

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

    /// <summary>Distance from frame or ground to the text in points.</summary>
    public double Padding { get; init; } = 3;

    /// <summary>Thickness of the frame in points.</summary>
    public double FrameLine { get; init; } = 0.4;

    /// <summary>Colour of the frame.</summary>
    public int FrameColour { get; init; }

    /// <summary>Colour of the ground, or null.</summary>
    public int? Ground { get; init; }

    /// <summary>Height that the box is taken to have in points; null for its own.</summary>
    public double? Height { get; init; }

    /// <summary>Depth that the box is taken to have in points; null for its own.</summary>
    public double? Depth { get; init; }

    /// <summary>Whether the text itself is left out and only its room kept (<c>\phantom</c>).</summary>
    public bool IsPhantom { get; init; }

    /// <summary>The same with other text.</summary>
    public BoxInline With(IReadOnlyList<Inline> other)
    {
        var copy = (BoxInline)MemberwiseClone();
        copy.Content = other;
        return copy;
    }
}

/// <summary>Text that is scaled or turned as a whole.</summary>
/// <param name="content">The text, on one line.</param>
public sealed class TransformInline(IReadOnlyList<Inline> content) : Inline
{
    /// <summary>The text.</summary>
    public IReadOnlyList<Inline> Content { get; private set; } = content;

    /// <summary>Factor of the width; a negative one mirrors.</summary>
    public double ScaleAcross { get; init; } = 1;

    /// <summary>Factor of the height.</summary>
    public double ScaleUp { get; init; } = 1;

    /// <summary>Wanted width in points, or null; it sets the factor.</summary>
    public double? Width { get; init; }

    /// <summary>Wanted height in points, or null.</summary>
    public double? Height { get; init; }

    /// <summary>Whether the wanted height is height and depth together.</summary>
    public bool IsTotalHeight { get; init; }

    /// <summary>Turn in degrees, anticlockwise, after scaling.</summary>
    public double Angle { get; init; }

    /// <summary>The same with other text.</summary>
    public TransformInline With(IReadOnlyList<Inline> other)
    {
        var copy = (TransformInline)MemberwiseClone();
        copy.Content = other;
        return copy;
    }
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

    /// <summary>Red, green and blue, a byte each.</summary>
    public int Colour { get; init; }
}
