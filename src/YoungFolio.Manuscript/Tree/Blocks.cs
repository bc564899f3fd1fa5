using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Tree;

/// <summary>A piece of the page's flow.</summary>
public abstract class Block;

/// <summary>How the lines of a paragraph stand.</summary>
public enum Alignment
{
    /// <summary>Flush at both sides.</summary>
    Justified,

    /// <summary>Flush left.</summary>
    Left,

    /// <summary>Centred.</summary>
    Centre,

    /// <summary>Flush right.</summary>
    Right,
}

/// <summary>How a paragraph is set. Lengths are in points of 1/72.27 in.</summary>
public sealed record ParagraphStyle
{
    /// <summary>Distance from baseline to baseline.</summary>
    public required double Leading { get; init; }

    /// <summary>Size of the text around it: gives the strut.</summary>
    public required double Size { get; init; }

    /// <summary>How lines stand.</summary>
    public Alignment Alignment { get; init; }

    /// <summary>Indent of the first line.</summary>
    public double Indent { get; init; }

    /// <summary>Distance of the lines from the left of the text block.</summary>
    public double LeftMargin { get; init; }

    /// <summary>Distance of the lines from the right of the text block.</summary>
    public double RightMargin { get; init; }

    /// <summary>Space above.</summary>
    public Glue SpaceAbove { get; init; }

    /// <summary>Language whose hyphenation holds: <c>en-gb</c>; empty for none.</summary>
    public string Language { get; init; } = "en-gb";

    /// <summary>Badness that a line may have, 0 to 10000 (The TeXbook, ch. 14).</summary>
    public int Tolerance { get; init; } = 200;

    /// <summary>Extra stretch for a third attempt.</summary>
    public double EmergencyStretch { get; init; }

    /// <summary>Whether more space follows a sentence's end.</summary>
    public bool WidensSentences { get; init; } = true;
}

/// <summary>A paragraph, or what is left of one after a display.</summary>
public sealed class ParagraphBlock(IReadOnlyList<Inline> content, ParagraphStyle style) : Block
{
    /// <summary>The text.</summary>
    public IReadOnlyList<Inline> Content => content;

    /// <summary>How it is set.</summary>
    public ParagraphStyle Style => style;

    /// <summary>Text that stands left of the first line (a list's label), or null.</summary>
    public IReadOnlyList<Inline>? Label { get; init; }

    /// <summary>Distance from the label's right edge to the text, in points.</summary>
    public double LabelSeparation { get; init; }
}

/// <summary>A heading.</summary>
public sealed class HeadingBlock : Block
{
    /// <summary>−1 part, 0 chapter, 1 section … 5 subparagraph.</summary>
    public required int Level { get; init; }

    /// <summary>The number as printed, or null.</summary>
    public required string? Number { get; init; }

    /// <summary>The number's text for the contents, or null.</summary>
    public IReadOnlyList<Inline>? ContentsNumber { get; init; }

    /// <summary>The title for the contents and running heads.</summary>
    public required IReadOnlyList<Inline> ShortTitle { get; init; }

    /// <summary>Name of the anchor that it sets.</summary>
    public required string Anchor { get; init; }

    /// <summary>Position of the command.</summary>
    public required int Position { get; init; }

    /// <summary>Whether the contents list it.</summary>
    public required bool IsListed { get; init; }

    /// <summary>Whether the outline has it (starred headings that aren't listed still lead the reader).</summary>
    public bool IsInOutline { get; init; } = true;

    /// <summary>The lines as set: for chapters the number's line, then the title. Empty when run in.</summary>
    public required IReadOnlyList<ParagraphBlock> Lines { get; init; }

    /// <summary>Space above; vanishes at a page's top.</summary>
    public required Glue SpaceAbove { get; init; }

    /// <summary>Space above that stays at a page's top, in points.</summary>
    public double DropAbove { get; init; }

    /// <summary>Space below.</summary>
    public required Glue SpaceBelow { get; init; }
}

/// <summary>Blocks that belong together, such as a list or a quotation, with space around.</summary>
public sealed class GroupBlock(IReadOnlyList<Block> content) : Block
{
    /// <summary>The blocks.</summary>
    public IReadOnlyList<Block> Content => content;

    /// <summary>Space above and below.</summary>
    public Glue SpaceAround { get; init; }
}

/// <summary>One line of a display.</summary>
/// <param name="Cells">Columns; one for a plain display.</param>
/// <param name="Number">The number in its parentheses, or null.</param>
/// <param name="Anchor">Name of the anchor that the number sets, or null.</param>
/// <param name="Position">Position of the row.</param>
public sealed record DisplayRow(
    IReadOnlyList<Mathematics.MathList> Cells, IReadOnlyList<Inline>? Number, string? Anchor, int Position);

/// <summary>Displayed mathematics.</summary>
public sealed class DisplayBlock : Block
{
    /// <summary>The rows.</summary>
    public required IReadOnlyList<DisplayRow> Rows { get; init; }

    /// <summary>Whether columns are aligned in pairs, right and left of the sign.</summary>
    public bool IsAligned { get; init; }

    /// <summary>Style of the text around it.</summary>
    public required TextStyle Style { get; init; }

    /// <summary>How the paragraph around it is set.</summary>
    public required ParagraphStyle Paragraph { get; init; }
}

/// <summary>Where a float may go.</summary>
[Flags]
public enum Placement
{
    /// <summary>Nowhere said.</summary>
    None = 0,

    /// <summary>Where it is mentioned.</summary>
    Here = 1,

    /// <summary>At a page's top.</summary>
    Top = 2,

    /// <summary>At a page's foot.</summary>
    Bottom = 4,

    /// <summary>On a page of floats.</summary>
    Page = 8,
}

/// <summary>A figure or table that finds its own place.</summary>
public sealed class FloatBlock : Block
{
    /// <summary><c>figure</c> or <c>table</c>.</summary>
    public required string Kind { get; init; }

    /// <summary>The content, caption included.</summary>
    public required IReadOnlyList<Block> Content { get; init; }

    /// <summary>Where it may go.</summary>
    public required Placement Placement { get; init; }

    /// <summary>Captions in it.</summary>
    public required IReadOnlyList<Caption> Captions { get; init; }

    /// <summary>Position of its beginning.</summary>
    public required int Position { get; init; }
}

/// <summary>A caption.</summary>
/// <param name="Kind"><c>figure</c> or <c>table</c>.</param>
/// <param name="Number">The number as printed.</param>
/// <param name="Text">The text for lists of figures and tables.</param>
/// <param name="Anchor">Name of the anchor that it sets.</param>
/// <param name="Position">Position of the command.</param>
public sealed record Caption(string Kind, string Number, IReadOnlyList<Inline> Text, string Anchor, int Position);

/// <summary>The contents, or a list of figures or tables, built when pages are known.</summary>
public sealed class ContentsBlock : Block
{
    /// <summary><c>toc</c>, <c>lof</c> or <c>lot</c>.</summary>
    public required string Kind { get; init; }

    /// <summary>Deepest level listed.</summary>
    public required int Depth { get; init; }

    /// <summary>Style of an entry's text.</summary>
    public required TextStyle Style { get; init; }

    /// <summary>How an entry is set.</summary>
    public required ParagraphStyle Paragraph { get; init; }
}

/// <summary>A vertical space.</summary>
/// <param name="glue">Its glue.</param>
/// <param name="stays">Whether it stays at a page's top (<c>\vspace*</c>).</param>
public sealed class SpaceBlock(Glue glue, bool stays = false) : Block
{
    /// <summary>Its glue.</summary>
    public Glue Glue => glue;

    /// <summary>Whether it stays at a page's top.</summary>
    public bool Stays => stays;
}

/// <summary>How welcome the end of a page is here.</summary>
public sealed class PenaltyBlock(int penalty) : Block
{
    /// <summary>From −10000 (a page must end) to 10000 (must not).</summary>
    public int Penalty => penalty;
}

/// <summary>How a page ends.</summary>
public enum PageEnd
{
    /// <summary><c>\newpage</c>.</summary>
    New,

    /// <summary><c>\clearpage</c>: floats come first.</summary>
    Clear,

    /// <summary><c>\cleardoublepage</c>: the next page is a right-hand one when both sides are printed.</summary>
    ClearDouble,
}

/// <summary>The end of a page.</summary>
public sealed class PageBreakBlock(PageEnd end) : Block
{
    /// <summary>How it ends.</summary>
    public PageEnd End => end;
}

/// <summary>A change of how pages are numbered or headed, from this page on.</summary>
public sealed class PageStyleBlock : Block
{
    /// <summary>Page style from now on: <c>plain</c>, <c>empty</c>, <c>headings</c>; null leaves it.</summary>
    public string? Style { get; init; }

    /// <summary>Page style of this page alone.</summary>
    public string? ThisPage { get; init; }

    /// <summary>How numbers print: <c>arabic</c>, <c>roman</c> …; null leaves it. A change begins again at 1.</summary>
    public string? Numbering { get; init; }

    /// <summary>The page's number from here; null leaves it.</summary>
    public int? Number { get; init; }
}

/// <summary>A place that references lead to, between paragraphs.</summary>
public sealed class AnchorBlock(string name) : Block
{
    /// <summary>Its name.</summary>
    public string Name => name;
}

/// <summary>A page of its own for a title; its number is not printed.</summary>
public sealed class TitlePageBlock(IReadOnlyList<Block> content) : Block
{
    /// <summary>What stands on it.</summary>
    public IReadOnlyList<Block> Content => content;
}
