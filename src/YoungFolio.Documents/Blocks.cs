using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Documents;

/// <summary>A piece of the page's flow.</summary>
public abstract record Block : Node;

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

/// <summary>How lines are numbered in the margin.</summary>
/// <param name="Every">Each so many-th line has its number.</param>
/// <param name="IsRight">Whether numbers stand in the right margin.</param>
/// <param name="Series">Lines of another series begin anew.</param>
/// <param name="First">The number of the series' first line.</param>
public readonly record struct LineNumbering(int Every, bool IsRight, int Series, int First);

/// <summary>Costs of the ends of lines (The TeXbook, ch. 14; values of the plain format, p. 348).</summary>
/// <param name="Pretolerance">Badness allowed without dividing words; below 0 skips that attempt.</param>
/// <param name="Hyphen">Cost of dividing a word.</param>
/// <param name="ExplicitHyphen">Cost of a line's end after a hyphen or dash in a word.</param>
/// <param name="Line">Cost of each line.</param>
/// <param name="Adjacent">Cost of a loose line beside a tight one.</param>
/// <param name="DoubleHyphen">Cost of two divided lines in a row.</param>
/// <param name="FinalHyphen">Cost of a divided last line but one.</param>
/// <param name="Looseness">Lines more (or fewer) than would be best.</param>
public sealed record LineCosts(
    int Pretolerance = 100, int Hyphen = 50, int ExplicitHyphen = 50, int Line = 10, int Adjacent = 10_000, int DoubleHyphen = 10_000, int FinalHyphen = 5_000, int Looseness = 0)
{
    /// <summary>The usual costs.</summary>
    public static LineCosts Usual { get; } = new();
}

/// <summary>How a paragraph is set. Lengths are in points of 1/72.27 in.</summary>
public sealed record ParagraphStyle
{
    /// <summary>The leading where lines are set one on the other, with nothing between them (<c>\offinterlineskip</c>).</summary>
    public const double NoLeading = 0.1;

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

    /// <summary>How its lines are numbered in the margin; null: not at all.</summary>
    public LineNumbering? Numbering { get; init; }

    /// <summary>What fills the last line up (<c>\parfillskip</c>); null: as the alignment has it.</summary>
    public Glue? LastLineFill { get; init; }

    /// <summary>Space above.</summary>
    public Glue SpaceAbove { get; init; }

    /// <summary>Language whose hyphenation holds: <c>en-gb</c>; empty for none.</summary>
    public string Language { get; init; } = "en-gb";

    /// <summary>Badness that a line may have, 0 to 10000 (The TeXbook, ch. 14).</summary>
    public int Tolerance { get; init; } = 200;

    /// <summary>Extra stretch for a third attempt.</summary>
    public double EmergencyStretch { get; init; }

    /// <summary>Costs of the ends of lines.</summary>
    public LineCosts Costs { get; init; } = LineCosts.Usual;

    /// <summary>Whether points and hyphens at a line's ends stand partly in the margin (optical margins).</summary>
    public bool Protrudes { get; init; }

    /// <summary>How far glyphs may be made wider or narrower so that lines come out even, as a share of their width; 0 for not at all.</summary>
    public double Expansion { get; init; }

    /// <summary>Whether more space follows a sentence's end.</summary>
    public bool WidensSentences { get; init; } = true;

    /// <summary>How far some lines stand in; a negative value counts from the right.</summary>
    public double HangIndent { get; init; }

    /// <summary>From which line on they stand in; a negative value: that many first lines do (The TeXbook, p. 102).</summary>
    public int HangAfter { get; init; } = 1;

    /// <summary>Indent and length of each line, the last holding for the rest; null for none (<c>\parshape</c>).</summary>
    public IReadOnlyList<(double Indent, double Length)>? Shape { get; init; }

    /// <summary>Cost of a page's end after the first line (<c>\clubpenalty</c>).</summary>
    public int ClubPenalty { get; init; } = 150;

    /// <summary>Cost of a page's end before the last line (<c>\widowpenalty</c>).</summary>
    public int WidowPenalty { get; init; } = 150;
}

/// <summary>A paragraph, or what is left of one after a display.</summary>
/// <param name="Content">The text.</param>
/// <param name="Style">How it is set.</param>
public sealed partial record ParagraphBlock(IReadOnlyList<Inline> Content, ParagraphStyle Style) : Block
{
    /// <summary>What stands left of the first line (a list's label), or null.</summary>
    public ItemLabel? Label { get; init; }
}

/// <summary>What stands left of a paragraph's first line: an item's sign, number or term. Lengths are in points.</summary>
/// <param name="Content">The text.</param>
public sealed partial record ItemLabel(IReadOnlyList<Inline> Content) : Node
{
    /// <summary>Distance from its right edge to the text.</summary>
    public double Separation { get; init; }

    /// <summary>Width of its room; null: its own.</summary>
    public double? Width { get; init; }

    /// <summary>Where it stands in its room: <c>l</c>, <c>r</c>, <c>c</c>.</summary>
    public char Alignment { get; init; } = 'r';

    /// <summary>Whether the text begins on a new line when it is wider than its room.</summary>
    public bool OnOwnLine { get; init; }
}

/// <summary>A heading.</summary>
public sealed partial record HeadingBlock : Block
{
    /// <summary>−1 part, 0 chapter, 1 section … 5 subparagraph.</summary>
    public required int Level { get; init; }

    /// <summary>The number as printed, or null.</summary>
    public required string? Number { get; init; }

    /// <summary>The number's text for the contents, or null.</summary>
    [PrintsElsewhere]
    public IReadOnlyList<Inline>? ContentsNumber { get; init; }

    /// <summary>The title for the contents and running heads.</summary>
    [PrintsElsewhere]
    public required IReadOnlyList<Inline> ShortTitle { get; init; }

    /// <summary>Name of the anchor that it sets.</summary>
    public required string Anchor { get; init; }

    /// <summary>Position of the command.</summary>
    public required int Position { get; init; }

    /// <summary>Whether the contents list it.</summary>
    public required bool IsListed { get; init; }

    /// <summary>Whether it sets its anchor; a line added by hand may lead to one that is set elsewhere.</summary>
    public bool IsPlaced { get; init; } = true;

    /// <summary>The list that lists it: <c>toc</c>, or <c>lof</c>, <c>lot</c> for lines added by hand.</summary>
    public string List { get; init; } = "toc";

    /// <summary>Whether the outline has it (starred headings that aren't listed still lead the reader).</summary>
    public bool IsInOutline { get; init; } = true;

    /// <summary>The lines as set: for chapters the number's line, then the title. Empty when run in.</summary>
    public required IReadOnlyList<Block> Lines { get; init; }

    /// <summary>Space above; vanishes at a page's top.</summary>
    public required Glue SpaceAbove { get; init; }

    /// <summary>Space above that stays at a page's top, in points.</summary>
    public double DropAbove { get; init; }

    /// <summary>Space below.</summary>
    public required Glue SpaceBelow { get; init; }
}

/// <summary>Blocks that belong together, such as a list or a quotation, with space around.</summary>
/// <param name="Content">The blocks.</param>
public sealed partial record GroupBlock(IReadOnlyList<Block> Content) : Block
{
    /// <summary>Space above and below.</summary>
    public Glue SpaceAround { get; init; }
}

/// <summary>How the rows of a display stand.</summary>
public enum DisplayForm
{
    /// <summary>One formula.</summary>
    Plain,

    /// <summary>Each row centred.</summary>
    Gathered,

    /// <summary>Pairs of columns around a sign, with even space between pairs.</summary>
    Aligned,

    /// <summary>Pairs of columns without space between pairs.</summary>
    AlignedAt,

    /// <summary>Pairs of columns spread to both edges.</summary>
    Flush,

    /// <summary>One formula over rows: the first left, the last right.</summary>
    Multline,

    /// <summary>Three columns: right, centred, left.</summary>
    Columns,
}

/// <summary>One line of a display.</summary>
/// <param name="Cells">Columns; one for a plain display.</param>
/// <param name="Number">The number in its parentheses, or null.</param>
/// <param name="Anchor">Name of the anchor that the number sets, or null.</param>
/// <param name="Position">Position of the row.</param>
public sealed partial record DisplayRow(
    IReadOnlyList<MathList> Cells, IReadOnlyList<Inline>? Number, string? Anchor, int Position) : Node
{
    /// <summary>Text between the row before and this one, or null.</summary>
    public IReadOnlyList<Block>? Before { get; init; }

    /// <summary>Space below it in points, beside the usual.</summary>
    public double SpaceBelow { get; init; }

    /// <summary>Cost of a page's end below it, from −10000; null: the display's own.</summary>
    public int? BreakBelow { get; init; }

    /// <summary>Where a row of a multline is pushed: −1 left, 1 right, 0 as usual.</summary>
    public int Shove { get; init; }
}

/// <summary>Space around a display; the short ones hold where the line above ends before the formula begins.</summary>
public sealed record DisplaySkips(Glue Above, Glue Below, Glue AboveShort, Glue BelowShort);

/// <summary>Displayed mathematics.</summary>
public sealed partial record DisplayBlock : Block
{
    /// <summary>The rows.</summary>
    public required IReadOnlyList<DisplayRow> Rows { get; init; }

    /// <summary>How they stand.</summary>
    public DisplayForm Form { get; init; }

    /// <summary>Whether numbers stand at the left.</summary>
    public bool NumbersLeft { get; init; }

    /// <summary>Distance of the formula from the left in points; null: it is centred.</summary>
    public double? LeftIndent { get; init; }

    /// <summary>Cost of a page's end between two rows.</summary>
    public int BreakPenalty { get; init; } = 9_000;

    /// <summary>Space around.</summary>
    public required DisplaySkips Skips { get; init; }

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

    /// <summary>Right where it is mentioned, whatever room there is.</summary>
    Fixed = 16,

    /// <summary>Whatever the rules of a page say of shares and numbers.</summary>
    Urgent = 32,
}

/// <summary>A figure or table that finds its own place.</summary>
public sealed partial record FloatBlock : Block
{
    /// <summary><c>figure</c> or <c>table</c>.</summary>
    public required string Kind { get; init; }

    /// <summary>The content, caption included.</summary>
    public required IReadOnlyList<Block> Content { get; init; }

    /// <summary>Where it may go.</summary>
    public required Placement Placement { get; init; }

    /// <summary>Whether it stands over all columns.</summary>
    public bool IsWide { get; init; }

    /// <summary>Captions in it.</summary>
    [PrintsElsewhere]
    public required IReadOnlyList<Caption> Captions { get; init; }

    /// <summary>Whether there is a caption in it, with a number or without.</summary>
    public bool IsCaptioned { get; init; }

    /// <summary>Position of its beginning.</summary>
    public required int Position { get; init; }
}

/// <summary>A figure or table with the lines after it running beside it.</summary>
/// <param name="Figure">The figure.</param>
/// <param name="Width">Its width in points.</param>
public sealed partial record WrapBlock(FloatBlock Figure, double Width) : Block
{
    /// <summary>Whether it stands at the left.</summary>
    public bool IsLeft { get; init; }

    /// <summary>Number of lines beside it; null: as many as it is high.</summary>
    public int? Lines { get; init; }
}

/// <summary>A caption.</summary>
/// <param name="Kind"><c>figure</c> or <c>table</c>.</param>
/// <param name="Number">The number as printed.</param>
/// <param name="Text">The text for lists of figures and tables.</param>
/// <param name="Anchor">Name of the anchor that it sets.</param>
/// <param name="Position">Position of the command.</param>
/// <param name="List">The list that lists it: <c>lof</c>, <c>lot</c> or a float's own.</param>
public sealed partial record Caption(string Kind, string Number, [property: PrintsElsewhere] IReadOnlyList<Inline> Text, string Anchor, int Position, string List) : Node
{
    /// <summary>The captions that a block of the flow has.</summary>
    public static IReadOnlyList<Caption> Of(Block block) => block switch
    {
        FloatBlock figure => figure.Captions,
        LongTableBlock table => table.Captions,
        ListedCaptionBlock listed => [listed.Caption],
        _ => [],
    };
}

/// <summary>Says that a caption stands here outside floats, so that lists name it; its words are printed where they stand.</summary>
/// <param name="Caption">The caption.</param>
public sealed partial record ListedCaptionBlock([property: PrintsElsewhere] Caption Caption) : Block;

/// <summary>The contents, or a list of figures or tables, built when pages are known.</summary>
public sealed partial record ContentsBlock : Block
{
    /// <summary><c>toc</c>, <c>lof</c>, <c>lot</c> or a float's own.</summary>
    public required string Kind { get; init; }

    /// <summary>Deepest level listed.</summary>
    public required int Depth { get; init; }

    /// <summary>Style of the text around: what an entry's words have of their own is told from it.</summary>
    public required TextStyle Style { get; init; }

    /// <summary>How entries of each level are set. An entry whose level has no form is left out.</summary>
    [PrintsElsewhere]
    public required IReadOnlyList<ContentsForm> Forms { get; init; }

    /// <summary>It lists only what stands between it and the next heading of this level or above; null: all.</summary>
    public int? Within { get; init; }
}

/// <summary>How entries of one level are set: blocks with places for the parts of an entry.</summary>
/// <param name="Level">The level, as headings have it; for lists of floats 1.</param>
/// <param name="IsNumbered">Whether it is for entries with a number.</param>
/// <param name="Lines">The blocks.</param>
public sealed partial record ContentsForm(int Level, bool IsNumbered, [property: PrintsElsewhere] IReadOnlyList<Block> Lines) : Node;

/// <summary>Something that stands among the entries of a list, or changes which of them there are (<c>\addtocontents</c>).</summary>
/// <param name="List">The list: <c>toc</c>, <c>lof</c>, <c>lot</c> or a float's own.</param>
/// <param name="Lines">What stands there.</param>
/// <param name="Depth">Deepest level listed from there on; null: as before.</param>
public sealed partial record ContentsInsertBlock(string List, [property: PrintsElsewhere] IReadOnlyList<Block> Lines, int? Depth) : Block;

/// <summary>One thing that <c>\index</c> or its like noted.</summary>
/// <param name="Levels">Sorting key and text of each level, outermost first.</param>
/// <param name="Anchor">Name of the anchor at the place; null for a cross-reference.</param>
/// <param name="PageStyle">Command that the page's number is set by (<c>textbf</c>), or empty.</param>
/// <param name="See">Text of a cross-reference that stands in place of a page, or null.</param>
/// <param name="Range">−1 begins a range of pages, 1 ends it, 0 neither.</param>
/// <param name="Position">Where it was noted.</param>
public sealed partial record IndexNote(
    IReadOnlyList<(string Key, IReadOnlyList<Inline> Text)> Levels, string? Anchor, string PageStyle, IReadOnlyList<Inline>? See, int Range, int Position) : Node;

/// <summary>An index, built when pages are known.</summary>
public sealed partial record IndexBlock : Block
{
    /// <summary>What was noted.</summary>
    public required IReadOnlyList<IndexNote> Notes { get; init; }

    /// <summary>Style of an entry's text.</summary>
    public required TextStyle Style { get; init; }

    /// <summary>How an entry is set.</summary>
    public required ParagraphStyle Paragraph { get; init; }
}

/// <summary>A change of the running heads' marks; null leaves a mark as it is.</summary>
/// <param name="Left">The left mark.</param>
/// <param name="Right">The right mark.</param>
public sealed partial record MarkBlock([property: PrintsElsewhere] IReadOnlyList<Inline>? Left, [property: PrintsElsewhere] IReadOnlyList<Inline>? Right) : Block;

/// <summary>A vertical space.</summary>
/// <param name="Glue">Its glue.</param>
/// <param name="Stays">Whether it stays at a page's top (<c>\vspace*</c>).</param>
public sealed partial record SpaceBlock(Glue Glue, bool Stays = false) : Block;

/// <summary>How welcome the end of a page is here.</summary>
/// <param name="Penalty">From −10000 (a page must end) to 10000 (must not).</param>
public sealed partial record PenaltyBlock(int Penalty) : Block;

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
/// <param name="End">How it ends.</param>
public sealed partial record PageBreakBlock(PageEnd End) : Block;

/// <summary>Left, centre and right of a head or foot.</summary>
public sealed partial record PageLine(IReadOnlyList<Inline> Left, IReadOnlyList<Inline> Centre, IReadOnlyList<Inline> Right) : Node
{
    /// <summary>A line with nothing on it.</summary>
    public static PageLine Empty { get; } = new([], [], []);

    /// <summary>How far it reaches into the left margin in points.</summary>
    public double ReachLeft { get; init; }

    /// <summary>How far it reaches into the right margin in points.</summary>
    public double ReachRight { get; init; }

    /// <summary>Whether nothing stands on it.</summary>
    public bool IsEmpty => Left.Count + Centre.Count + Right.Count == 0;
}

/// <summary>What stands above and below the text of right-hand and left-hand pages.</summary>
public sealed partial record PageStyle : Node
{
    /// <summary>The name in <c>\pagestyle</c>.</summary>
    public required string Name { get; init; }

    /// <summary>Head of odd pages.</summary>
    public PageLine OddHead { get; init; } = PageLine.Empty;

    /// <summary>Head of even pages.</summary>
    public PageLine EvenHead { get; init; } = PageLine.Empty;

    /// <summary>Foot of odd pages.</summary>
    public PageLine OddFoot { get; init; } = PageLine.Empty;

    /// <summary>Foot of even pages.</summary>
    public PageLine EvenFoot { get; init; } = PageLine.Empty;

    /// <summary>Thickness of a rule under the head in points; 0 for none.</summary>
    public double HeadRule { get; init; }

    /// <summary>Thickness of a rule above the foot in points; 0 for none.</summary>
    public double FootRule { get; init; }
}

/// <summary>How pages are numbered: a format with what stands around it.</summary>
/// <param name="Format"><c>arabic</c>, <c>roman</c>, <c>Roman</c>, <c>alph</c>, <c>Alph</c>; empty for none.</param>
/// <param name="Before">Text before the number.</param>
/// <param name="After">Text after it.</param>
public sealed record PageNumbering(string Format, string Before = "", string After = "");

/// <summary>A change of how pages are numbered or headed, from this page on.</summary>
public sealed partial record PageStyleBlock : Block
{
    /// <summary>Page style from now on; null leaves it.</summary>
    [PrintsElsewhere]
    public PageStyle? Style { get; init; }

    /// <summary>Page style of this page alone.</summary>
    [PrintsElsewhere]
    public PageStyle? ThisPage { get; init; }

    /// <summary>How numbers print; null leaves it.</summary>
    public PageNumbering? Numbering { get; init; }

    /// <summary>The page's number from here; null leaves it.</summary>
    public int? Number { get; init; }

    /// <summary>What comes to stand at places of this page, or of each from here.</summary>
    public IReadOnlyList<PageOverlay> Overlays { get; init; } = [];

    /// <summary>Whether what stood on each page so far ends here.</summary>
    public bool EndsOverlays { get; init; }

    /// <summary>What comes to stand at places of this page and is part of the text.</summary>
    public IEnumerable<PageOverlay> TextOverlays() => Overlays.Where(static o => !o.IsOnEachPage);
}

/// <summary>What stands at a place of the paper, whatever the text around does: a mark across the page, a block of a poster.</summary>
/// <param name="Content">What stands there, on one line.</param>
/// <param name="X">From the paper's left, in points.</param>
/// <param name="Y">From the paper's top, in points.</param>
public sealed partial record PageOverlay(IReadOnlyList<Inline> Content, double X, double Y) : Node
{
    /// <summary>Which share of its width stands left of the place.</summary>
    public double Across { get; init; }

    /// <summary>Which share of its height stands above the place; null: its baseline is there.</summary>
    public double? Down { get; init; }

    /// <summary>Whether it stands on each page from here, and isn't part of the text.</summary>
    public bool IsOnEachPage { get; init; }

    /// <summary>Whether the text stands over it.</summary>
    public bool IsBehind { get; init; }
}

/// <summary>A place that references lead to, between paragraphs.</summary>
/// <param name="Name">Its name.</param>
public sealed partial record AnchorBlock(string Name) : Block;

/// <summary>Notes for the foot of the page whose marks stand where no foot is, such as those of a title.</summary>
/// <param name="Notes">The notes.</param>
public sealed partial record NotesBlock(IReadOnlyList<NoteInline> Notes) : Block;

/// <summary>Text in several columns of equal length. Lengths are in points.</summary>
/// <param name="Content">What stands in them.</param>
/// <param name="Count">Number of columns.</param>
public sealed partial record ColumnsBlock(IReadOnlyList<Block> Content, int Count) : Block
{
    /// <summary>Width of all columns together.</summary>
    public required double Width { get; init; }

    /// <summary>Space between two columns.</summary>
    public required double Gap { get; init; }

    /// <summary>Thickness of a line between two columns; 0 for none.</summary>
    public double Rule { get; init; }

    /// <summary>Whether the columns are filled one after the other.</summary>
    public bool IsUnbalanced { get; init; }

    /// <summary>Space above and below.</summary>
    public required Glue SpaceAround { get; init; }
}

/// <summary>Other measures of the page, from the next page on.</summary>
/// <param name="Geometry">The measures.</param>
public sealed partial record GeometryBlock(PageGeometry Geometry) : Block;

/// <summary>What stands over all columns at the top of a new page.</summary>
/// <param name="Content">What stands there.</param>
public sealed partial record SpanningBlock(IReadOnlyList<Block> Content) : Block;

/// <summary>What opens a page, such as a title: no float that is called on this page stands above it.</summary>
public sealed partial record PageOpeningBlock : Block;

/// <summary>A place that no float may pass.</summary>
public sealed partial record FloatBarrierBlock : Block;

/// <summary>A page made longer (or shorter, by a negative number).</summary>
/// <param name="By">By how much, in points.</param>
public sealed partial record EnlargeBlock(double By) : Block;

/// <summary>A page of its own for a title; its number is not printed.</summary>
/// <param name="Content">What stands on it.</param>
public sealed partial record TitlePageBlock(IReadOnlyList<Block> Content) : Block;
