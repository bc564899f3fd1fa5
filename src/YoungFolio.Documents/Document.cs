using YoungFolio.Markup;

namespace YoungFolio.Documents;

/// <summary>The page's measures in points of 1/72.27 in.</summary>
public sealed record PageGeometry
{
    /// <summary>Width of the paper.</summary>
    public required double PaperWidth { get; init; }

    /// <summary>Height of the paper.</summary>
    public required double PaperHeight { get; init; }

    /// <summary>Width of the text block.</summary>
    public required double TextWidth { get; init; }

    /// <summary>Height of the text block.</summary>
    public required double TextHeight { get; init; }

    /// <summary>Left edge of the text block on right-hand pages (all pages, when one side is printed).</summary>
    public required double OddLeft { get; init; }

    /// <summary>Left edge of the text block on left-hand pages.</summary>
    public required double EvenLeft { get; init; }

    /// <summary>Top of the text block.</summary>
    public required double Top { get; init; }

    /// <summary>Distance from the head's baseline to the text block's top.</summary>
    public required double HeadSeparation { get; init; }

    /// <summary>Distance from the last line's baseline to the foot's.</summary>
    public required double FootSkip { get; init; }

    /// <summary>Distance from the text block's top to the first baseline.</summary>
    public required double TopSkip { get; init; }

    /// <summary>Width of notes in the margin.</summary>
    public required double MarginWidth { get; init; }

    /// <summary>Distance from the text block to notes in the margin.</summary>
    public required double MarginSeparation { get; init; }

    /// <summary>Columns of text on a page: 1 or 2.</summary>
    public int Columns { get; init; } = 1;

    /// <summary>Space between columns.</summary>
    public double ColumnSeparation { get; init; }

    /// <summary>Thickness of a line between columns; 0 for none.</summary>
    public double ColumnRule { get; init; }

    /// <summary>Width of a column.</summary>
    public double ColumnWidth => (TextWidth - (ColumnSeparation * (Columns - 1))) / Columns;
}

/// <summary>How many floats a page takes and how much of it (Lamport, section C.9.1; values of the standard classes).</summary>
public sealed record FloatRules
{
    /// <summary>Most floats at a page's top.</summary>
    public int MostTop { get; init; } = 2;

    /// <summary>Most floats at a page's foot.</summary>
    public int MostBottom { get; init; } = 1;

    /// <summary>Most floats on a page with text.</summary>
    public int Most { get; init; } = 3;

    /// <summary>Share of a page that floats at its top may take.</summary>
    public double TopShare { get; init; } = 0.7;

    /// <summary>Share of a page that floats at its foot may take.</summary>
    public double BottomShare { get; init; } = 0.3;

    /// <summary>Least share of a page for its text.</summary>
    public double TextShare { get; init; } = 0.2;

    /// <summary>Share of a page that floats over all columns may take.</summary>
    public double WideShare { get; init; } = 0.7;

    /// <summary>Most floats over all columns at a page's top.</summary>
    public int MostWide { get; init; } = 2;

    /// <summary>Least share of a page that floats take which stand on it without text.</summary>
    public double PageShare { get; init; } = 0.5;

    /// <summary>The same for floats over all columns.</summary>
    public double WidePageShare { get; init; } = 0.5;

    /// <summary>Least space between two floats on a page without text, in points (\@fpsep of the standard classes, from memory).</summary>
    public const double PageSeparation = 8;

    /// <summary>Space between two floats in points.</summary>
    public double Separation { get; init; } = 12;

    /// <summary>Space between floats and the text in points.</summary>
    public double TextSeparation { get; init; } = 20;

    /// <summary>Space above and below a float in the text, each, in points.</summary>
    public double InTextSeparation { get; init; } = 12;

    /// <summary>Space below a float over all columns in points.</summary>
    public double WideSeparation { get; init; } = 20;

    /// <summary>Space that comes with one more float where there are some already.</summary>
    public double SpaceFor(int already) => already > 0 ? Separation : TextSeparation;

    /// <summary>All the space that a number of floats at a page's top or foot comes with.</summary>
    public double SpaceOf(int count) => count == 0 ? 0 : TextSeparation + ((count - 1) * Separation);
}

/// <summary>A label.</summary>
/// <param name="Key">The key.</param>
/// <param name="Kind">What it names: section, equation, figure, table, item, footnote, page.</param>
/// <param name="Number">The number as printed, or null.</param>
/// <param name="Anchor">Name of the anchor.</param>
/// <param name="Position">Position of the command.</param>
/// <param name="Length">Characters of source that it takes.</param>
/// <param name="Title">Title or caption of what it names; empty where there is none.</param>
public sealed record Label(string Key, string Kind, string? Number, string Anchor, int Position, int Length, IReadOnlyList<Inline> Title)
{
    /// <summary>Name of the anchor whose page it has: where the command stands, which may be pages behind what it names (Lamport, section C.11.2).</summary>
    public string PageAnchor { get; init; } = Anchor;
}

/// <summary>A use of a label.</summary>
public sealed record LabelUse(string Key, int Position, int Length);

/// <summary>Width, height and depth of something set on one line, in points.</summary>
public readonly record struct Extent(double Width, double Height, double Depth);

/// <summary>
/// Measures text while the tree is built, for <c>\settowidth</c> and its like. The typesetting layer knows fonts; whoever
/// builds gets its answer through this.
/// </summary>
public interface ITextMeasure
{
    /// <summary>Extent of inlines on one line at their natural width.</summary>
    Extent Measure(IReadOnlyList<Inline> content, TypefaceSet typefaces);

    /// <summary>The units of a style's font in points: em, and height of an x.</summary>
    (double Em, double Ex) FontUnits(TextStyle style, TypefaceSet typefaces);

    /// <summary>How many pages a picture's file has; null: it can't be read.</summary>
    int? PagesOf(ManuscriptFile file);
}

/// <summary>A numbered equation.</summary>
public sealed record Equation(string Number, string Anchor, int Position);

/// <summary>A package that the preamble loads.</summary>
public sealed record LoadedPackage(string Name, bool IsKnown);

/// <summary>A citation of a source.</summary>
public sealed record Citation(string Key, int Position);

/// <summary>A printed source.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Label">The label as printed.</param>
/// <param name="Text">The entry's text.</param>
public sealed record PrintedSource(string Key, string Label, string Text)
{
    /// <summary>The same as an item of a list that is typed by hand, as markup; empty where it is one already.</summary>
    public string Item { get; init; } = "";
}

/// <summary>The whole manuscript as a tree: what the typesetter gets.</summary>
public sealed record Document
{
    /// <summary>A document with nothing in it, for measuring text.</summary>
    public static Document Empty { get; } = new()
    {
        Blocks = [],
        Geometry = new PageGeometry
        {
            PaperWidth = 600,
            PaperHeight = 800,
            TextWidth = 400,
            TextHeight = 600,
            OddLeft = 100,
            EvenLeft = 100,
            Top = 100,
            HeadSeparation = 20,
            FootSkip = 20,
            TopSkip = 10,
            MarginWidth = 50,
            MarginSeparation = 10,
        },
        Class = "",
        TwoSided = false,
        FlushBottom = false,
        PageStyle = new PageStyle { Name = "empty" },
        Numbering = new PageNumbering("arabic"),
        FirstPage = 1,
        IsDraft = false,
        BodyStyle = new TextStyle(FontFamily.Roman, false, FontShape.Upright, 10),
        Leading = 12,
        Typefaces = TypefaceSet.Default,
        Language = "en-us",
        Labels = new Dictionary<string, Label>(),
        LabelUses = [],
        Equations = [],
        Packages = [],
        Citations = [],
        Sources = [],
        Footnotes = 0,
        Title = "",
        Author = "",
    };

    /// <summary>The flow.</summary>
    public required IReadOnlyList<Block> Blocks { get; init; }

    /// <summary>The page's measures.</summary>
    public required PageGeometry Geometry { get; init; }

    /// <summary>The document class's name.</summary>
    public required string Class { get; init; }

    /// <summary>Whether both sides of the paper are printed.</summary>
    public required bool TwoSided { get; init; }

    /// <summary>Whether pages end at one height.</summary>
    public required bool FlushBottom { get; init; }

    /// <summary>Page style at the beginning.</summary>
    public required PageStyle PageStyle { get; init; }

    /// <summary>Numbering of pages at the beginning.</summary>
    public required PageNumbering Numbering { get; init; }

    /// <summary>Number of the first page.</summary>
    public required int FirstPage { get; init; }

    /// <summary>Whether over-full lines are marked and pictures shown as frames.</summary>
    public required bool IsDraft { get; init; }

    /// <summary>Style of running text.</summary>
    public required TextStyle BodyStyle { get; init; }

    /// <summary>Distance between baselines of running text in points.</summary>
    public required double Leading { get; init; }

    /// <summary>The families set.</summary>
    public required TypefaceSet Typefaces { get; init; }

    /// <summary>Language at the beginning: <c>en-gb</c>.</summary>
    public required string Language { get; init; }

    /// <summary>Words that the manuscript says how to divide: indices before which a division may stand.</summary>
    public IReadOnlyDictionary<string, int[]> Hyphenation { get; init; } = new Dictionary<string, int[]>();

    /// <summary>Those words in one text, to compare them with another document's.</summary>
    public string HyphenationStamp => _hyphenationStamp ??= string.Join(' ', Hyphenation.OrderBy(h => h.Key, StringComparer.Ordinal).Select(h => h.Key + string.Join(',', h.Value)));

    private string? _hyphenationStamp;

    /// <summary>Whether a rule stands above the notes at the foot of a page.</summary>
    public bool HasNoteRule { get; init; } = true;

    /// <summary>Space between the text and the notes at the foot of a page, in points.</summary>
    public double NoteSkip { get; init; } = 9;

    /// <summary>How floats are placed.</summary>
    public FloatRules FloatRules { get; init; } = new();

    /// <summary>Labels by key; the first one wins.</summary>
    public required IReadOnlyDictionary<string, Label> Labels { get; init; }

    /// <summary>What theorem-like statements are called, by their environments.</summary>
    public IReadOnlyDictionary<string, string> Statements { get; init; } = new Dictionary<string, string>();

    /// <summary>Uses of labels.</summary>
    public required IReadOnlyList<LabelUse> LabelUses { get; init; }

    /// <summary>Numbered equations.</summary>
    public required IReadOnlyList<Equation> Equations { get; init; }

    /// <summary>Packages loaded.</summary>
    public required IReadOnlyList<LoadedPackage> Packages { get; init; }

    /// <summary>Citations made.</summary>
    public required IReadOnlyList<Citation> Citations { get; init; }

    /// <summary>Sources printed.</summary>
    public required IReadOnlyList<PrintedSource> Sources { get; init; }

    /// <summary>How sources are cited and printed.</summary>
    public YoungFolio.Bibliography.BibliographyStyle SourceStyle { get; init; } = YoungFolio.Bibliography.BibliographyStyle.Plain;

    /// <summary>Whether sources follow biblatex' data model.</summary>
    public bool IsModernSources { get; init; }

    /// <summary>Number of footnotes.</summary>
    public required int Footnotes { get; init; }

    /// <summary>Title for the PDF's metadata.</summary>
    public required string Title { get; init; }

    /// <summary>Authors for the PDF's metadata.</summary>
    public required string Author { get; init; }
}

/// <summary>Plain text of inlines: for outlines, findings and reports.</summary>
public static class PlainText
{
    /// <summary>The text, with formulas as their symbols.</summary>
    public static string Of(IEnumerable<Inline> inlines)
    {
        var text = new System.Text.StringBuilder();
        Append(text, inlines, asWords: false);
        return Clean(text);
    }

    /// <summary>The text for counting words: without formulas, and with a digit for each reference, whose number isn't known yet.</summary>
    public static string Words(IEnumerable<Inline> inlines)
    {
        var text = new System.Text.StringBuilder();
        Append(text, inlines, asWords: true);
        return Clean(text);
    }

    /// <summary>Where in the source a block begins, as far as what it shows tells; −1 when it doesn't.</summary>
    public static int FirstPosition(Block block) => block switch
    {
        ParagraphBlock p => FirstPosition(p.Content),
        HeadingBlock h => h.Position,
        FloatBlock f => f.Position,
        DisplayBlock { Rows: [var row, ..] } => row.Position,
        GroupBlock g => FirstOf(g.Content),
        ColumnsBlock c => FirstOf(c.Content),
        SpanningBlock a => FirstOf(a.Content),
        TitlePageBlock t => FirstOf(t.Content),
        WrapBlock w => w.Figure.Position,
        LongTableBlock t => t.Table.Position,
        _ => -1,
    };

    private static int FirstOf(IReadOnlyList<Block> blocks) => blocks.Select(FirstPosition).FirstOrDefault(p => p >= 0, -1);

    private static int FirstPosition(IReadOnlyList<Inline> inlines) => inlines.Select(i => i switch
    {
        TextRun { Positions: [var first, ..] } => first,
        BoxInline b => FirstPosition(b.Content),
        LinkInline l => FirstPosition(l.Content),
        DecoratedInline d => FirstPosition(d.Content),
        BlockBoxInline b => FirstOf(b.Content),
        TableInline t => t.Table.Position,
        ImageInline i2 => i2.Position,
        NoteInline n => n.Position,
        _ => -1,
    }).FirstOrDefault(p => p >= 0, -1);

    private static string Clean(System.Text.StringBuilder text) => text.ToString().Replace('\u00A0', ' ').Replace("\u00AD", "", StringComparison.Ordinal).Trim();

    private static void Append(System.Text.StringBuilder text, IEnumerable<Inline> inlines, bool asWords)
    {
        foreach (Inline inline in inlines)
        {
            switch (inline)
            {
                case TextRun run:
                    text.Append(run.Text);
                    break;
                case SpaceInline or LineBreakInline:
                    // Two spaces side by side are one wider space.
                    text.Append(text.Length > 0 && text[^1] == ' ' ? "" : " ");
                    break;
                case MathInline math when !asWords:
                    math.Formula.AppendText(text);
                    break;
                case ReferenceInline when asWords:
                    text.Append('0');
                    break;
                case LinkInline link:
                    Append(text, link.Content, asWords);
                    break;
                case BoxInline { IsPhantom: false } box:
                    Append(text, box.Content, asWords);
                    break;
                case DecoratedInline decorated:
                    Append(text, decorated.Content, asWords);
                    break;
                case DeferredInline deferred:
                    Append(text, deferred.Content, asWords);
                    break;
                case BlockBoxInline blocks:
                    foreach (ParagraphBlock paragraph in blocks.Content.OfType<ParagraphBlock>())
                    {
                        Append(text, paragraph.Content, asWords);
                        text.Append(' ');
                    }

                    break;
            }
        }
    }
}
