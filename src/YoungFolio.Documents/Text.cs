using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Documents;

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
/// <param name="DesignSize">Size in points that the font is drawn for, where a font is asked for by its file; 0: the cut that goes with the size.</param>
/// <param name="OldFigures">Whether figures have ascenders and descenders like small letters.</param>
public readonly record struct TextStyle(
    FontFamily Family, bool Bold, FontShape Shape, double Size, double Rise = 0, int Colour = 0, string? Language = null, string? Face = null, bool OldFigures = false,
    int DesignSize = 0);

/// <summary>A piece of a line. Positions are those of <c>YoungFolio.Markup.PositionTable</c>.</summary>
public abstract record Inline : Node;

/// <summary>Characters of one style, spaces included.</summary>
/// <param name="Text">The characters. A no-break space is U+00A0, a soft hyphen U+00AD.</param>
/// <param name="Positions">The position of each UTF-16 character of <see cref="Text"/>.</param>
/// <param name="Style">The style.</param>
public sealed partial record TextRun(string Text, int[] Positions, TextStyle Style) : Inline
{
    /// <summary>Whether words may be hyphenated (not in typewriter text).</summary>
    public bool Hyphenates => Style.Family != FontFamily.Mono;
}

/// <summary>A horizontal space.</summary>
/// <param name="Glue">Its glue.</param>
/// <param name="Vanishes">Whether it vanishes at a line's end (<c>\hspace</c> without a star).</param>
public sealed partial record SpaceInline(Glue Glue, bool Vanishes) : Inline;

/// <summary>How welcome a line break is here.</summary>
/// <param name="Penalty">From −10000 (must) to 10000 (must not).</param>
public sealed partial record PenaltyInline(int Penalty) : Inline;

/// <summary>The end of a line (<c>\\</c>).</summary>
/// <param name="Extra">Extra space below the line.</param>
public sealed partial record LineBreakInline(Dimension Extra) : Inline;

/// <summary>A formula in the line.</summary>
/// <param name="Formula">The formula.</param>
/// <param name="Style">The style of the text around it; its size is the formula's.</param>
public sealed partial record MathInline(MathList Formula, TextStyle Style) : Inline;

/// <summary>A picture.</summary>
/// <param name="Path">Path of the file that holds it.</param>
/// <param name="Position">Position of the command.</param>
public sealed partial record ImageInline(string Path, int Position) : Inline
{
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

    /// <summary>What it shows, in words, for those who can't see it; empty: nothing that matters; null: not said.</summary>
    public string? Alternative { get; init; }
}

/// <summary>The mark of a footnote, with its text where there is one.</summary>
/// <param name="Mark">The mark, raised.</param>
/// <param name="Body">The note's paragraphs; null for a mark alone.</param>
/// <param name="Position">Position of the command.</param>
public sealed partial record NoteInline(IReadOnlyList<Inline> Mark, IReadOnlyList<Block>? Body, int Position) : Inline
{
    /// <summary>Whether the mark is printed here.</summary>
    public bool PrintsMark { get; init; } = true;

    /// <summary>The mark as it stands before the note's text, in the size of notes; null: as in the text.</summary>
    [PrintsElsewhere]
    public IReadOnlyList<Inline>? FootMark { get; init; }

    /// <summary>Where the mark at the foot ends and the note's text begins, from the left, in em; null: right where both stand.</summary>
    public double? MarkWidth { get; init; } = StandardMarkWidth;

    /// <summary>The standard classes' (<c>\@makefntext</c>, from memory).</summary>
    public const double StandardMarkWidth = 1.8;
}

/// <summary>A place that references lead to.</summary>
/// <param name="Name">Its name, one of its kind in the document.</param>
public sealed partial record AnchorInline(string Name) : Inline;

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
/// <param name="Content">The words.</param>
/// <param name="Decoration">What is drawn.</param>
/// <param name="Colour">Red, green and blue, a byte each.</param>
public sealed partial record DecoratedInline(IReadOnlyList<Inline> Content, Decoration Decoration, int Colour) : Inline;

/// <summary>Text that is known when the whole manuscript has been read, such as what <c>\cref</c> prints.</summary>
public sealed partial record DeferredInline : Inline
{
    /// <summary>The text; empty until it is known.</summary>
    public IReadOnlyList<Inline> Content { get; private set; } = [];

    /// <summary>Says what the text is: once, when all has been read.</summary>
    public void Resolve(IReadOnlyList<Inline> content) => Content = content;
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
/// <param name="Field">What it shows.</param>
/// <param name="Format"><c>arabic</c>, <c>roman</c> …; empty for the number as printed.</param>
/// <param name="Anchor">An anchor that stands beside it, for text in the flow; null in heads and feet.</param>
/// <param name="Style">Style of the text.</param>
public sealed partial record PageFieldInline(PageField Field, string Format, string? Anchor, TextStyle Style) : Inline
{
    /// <summary>Whether a mark is shown in capitals.</summary>
    public bool IsUppercase { get; init; }
}

/// <summary>Paragraphs and their like set as one box of a given width.</summary>
/// <param name="Content">The blocks.</param>
/// <param name="Width">Width in points.</param>
public sealed partial record BlockBoxInline(IReadOnlyList<Block> Content, double Width) : Inline
{
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
}

/// <summary>The pages of some places, each once.</summary>
/// <param name="Anchors">Anchors at the places.</param>
/// <param name="Style">Style of the text.</param>
public sealed partial record PagesInline(IReadOnlyList<string> Anchors, TextStyle Style) : Inline;

/// <summary>Text in the margin beside this line.</summary>
/// <param name="Content">The text.</param>
public sealed partial record MarginInline(IReadOnlyList<Block> Content) : Inline;

/// <summary>Dots or a rule that fill a line.</summary>
/// <param name="Style">Style of the dots.</param>
/// <param name="IsRule">Whether a rule is drawn instead of dots.</param>
public sealed partial record LeadersInline(TextStyle Style, bool IsRule = false) : Inline
{
    /// <summary>What is repeated instead of dots; empty: dots.</summary>
    [PrintsElsewhere]
    public IReadOnlyList<Inline> Content { get; init; } = [];
}

/// <summary>What an entry of the contents has in the form of its level (<see cref="ContentsForm"/>).</summary>
public enum EntryPart
{
    /// <summary>Its number.</summary>
    Number,

    /// <summary>Its title.</summary>
    Title,

    /// <summary>The number of its page.</summary>
    Page,
}

/// <summary>The place of a part of each entry in the form of its level.</summary>
/// <param name="Part">Which part.</param>
/// <param name="Style">Style of its text.</param>
public sealed partial record EntryPartInline(EntryPart Part, TextStyle Style) : Inline;

/// <summary>A reference; it is resolved when pages are made.</summary>
/// <param name="Key">The label's key.</param>
/// <param name="Kind">What it prints.</param>
/// <param name="Style">Style of the text.</param>
/// <param name="Position">Position of the command.</param>
/// <param name="Length">Characters of source that it takes.</param>
public sealed partial record ReferenceInline(string Key, ReferenceKind Kind, TextStyle Style, int Position, int Length) : Inline
{
    /// <summary>Whether it leads to its label when clicked.</summary>
    public bool IsLink { get; init; } = true;
}

/// <summary>Text that leads somewhere when clicked.</summary>
/// <param name="Content">The text.</param>
/// <param name="Target">An anchor's name, or an address outside.</param>
/// <param name="IsOutside">Whether the target is an address outside the document.</param>
public sealed partial record LinkInline(IReadOnlyList<Inline> Content, string Target, bool IsOutside) : Inline;

/// <summary>Text kept on one line (<c>\mbox</c> and kin).</summary>
/// <param name="Content">The text.</param>
public sealed partial record BoxInline(IReadOnlyList<Inline> Content) : Inline
{
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
}

/// <summary>Text that is scaled or turned as a whole.</summary>
/// <param name="Content">The text, on one line.</param>
public sealed partial record TransformInline(IReadOnlyList<Inline> Content) : Inline
{
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
}

/// <summary>A filled rectangle.</summary>
/// <param name="Width">Width in points.</param>
/// <param name="Height">Height above its foot in points.</param>
/// <param name="Rise">How far the foot stands above the baseline, in points.</param>
public sealed partial record RuleInline(double Width, double Height, double Rise) : Inline
{
    /// <summary>Red, green and blue, a byte each.</summary>
    public int Colour { get; init; }
}
