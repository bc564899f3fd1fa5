using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Classes;

/// <summary>
/// The measures that the standard classes take from their option of a type size, in points. Source: the published class
/// documentation of Lamport, Mittelbach and Braams (the files of the options 10pt, 11pt and 12pt), from memory.
/// </summary>
internal sealed record ClassMeasures
{
    /// <summary>Most width of the text in one column.</summary>
    public required double TextWidth { get; init; }

    /// <summary>From a page's top to its first baseline.</summary>
    public required double TopSkip { get; init; }

    /// <summary>Indent of a paragraph in one column; with two it is an em.</summary>
    public required double ParIndent { get; init; }

    /// <summary>An em of the running text, which margins of lists are a multiple of.</summary>
    public required double Em { get; init; }

    /// <summary>From the text to a note in the margin.</summary>
    public double MarginSeparation { get; init; } = 10;

    /// <summary>Least space between two notes in the margin.</summary>
    public double MarginPush { get; init; } = 5;

    /// <summary>Height of the strut at a note's beginning.</summary>
    public required double NoteSeparation { get; init; }

    /// <summary>Space between the text and the notes.</summary>
    public required Glue NoteSkip { get; init; }

    /// <summary>Space between two floats.</summary>
    public Glue FloatSeparation { get; init; } = Glue.Of(12, 2, 2);

    /// <summary>Space between floats and the text.</summary>
    public Glue TextFloatSeparation { get; init; } = Glue.Of(20, 2, 4);

    /// <summary>Space above and below a float within the text.</summary>
    public Glue InTextSeparation { get; init; } = Glue.Of(12, 2, 2);

    /// <summary>What a list that begins a paragraph has more around it.</summary>
    public required Glue ParagraphTopSkip { get; init; }

    /// <summary>Spaces of lists of the first depth in running text, in small type and in that of notes.</summary>
    public required IReadOnlyList<ListSpaces> Lists { get; init; }

    /// <summary>Spaces of lists of the second and third depth.</summary>
    public required IReadOnlyList<ListSpaces> InnerLists { get; init; }

    /// <summary>Spaces around displays in running text, in small type and in that of notes.</summary>
    public required IReadOnlyList<DisplaySkips> Displays { get; init; }

    /// <summary>Head to text, and foot's baseline below the text, of books; other classes have 25 and 30.</summary>
    public required (double HeadSeparation, double FootSkip) Book { get; init; }

    /// <summary>The measures of a basic size of 10, 11 or 12.</summary>
    public static ClassMeasures Of(int basicSize) => basicSize switch { 11 => s_eleven, 12 => s_twelve, _ => s_ten };

    /// <summary>Spaces of a list.</summary>
    /// <param name="depth">0 for the outermost.</param>
    /// <param name="type">0 running text, 1 small, 2 that of notes.</param>
    public ListSpaces ListAt(int depth, int type) => depth == 0 ? Lists[type] : InnerLists[Math.Min(depth, InnerLists.Count) - 1];

    private static readonly ClassMeasures s_ten = new()
    {
        TextWidth = 345,
        TopSkip = 10,
        ParIndent = 15,
        Em = 10,
        MarginSeparation = 11,
        NoteSeparation = 6.65,
        NoteSkip = Glue.Of(9, 4, 2),
        ParagraphTopSkip = Glue.Of(2, 1, 1),
        Lists =
        [
            new(Glue.Of(8, 2, 4), Glue.Of(4, 2, 1)),
            new(Glue.Of(4, 2, 2), Glue.Of(2, 1, 1)),
            new(Glue.Of(3, 1, 1), Glue.Of(2, 1, 1)),
        ],
        InnerLists = [new(Glue.Of(4, 2, 1), Glue.Of(2, 1, 1)), new(Glue.Of(2, 1, 1), default, Glue.Of(2, 1, 1))],
        Displays =
        [
            new(Glue.Of(10, 2, 5), Glue.Of(10, 2, 5), Glue.Of(0, 3), Glue.Of(6, 3, 3)),
            new(Glue.Of(8.5, 3, 4), Glue.Of(8.5, 3, 4), Glue.Of(0, 2), Glue.Of(4, 2, 2)),
            new(Glue.Of(6, 2, 4), Glue.Of(6, 2, 4), Glue.Of(0, 1), Glue.Of(3, 1, 2)),
        ],
        Book = (18.07, 25.29),
    };

    private static readonly ClassMeasures s_eleven = new()
    {
        TextWidth = 360,
        TopSkip = 11,
        ParIndent = 17,
        Em = 10.95,
        NoteSeparation = 7.7,
        NoteSkip = Glue.Of(10, 4, 2),
        ParagraphTopSkip = Glue.Of(3, 1, 1),
        Lists =
        [
            new(Glue.Of(9, 3, 5), Glue.Of(4.5, 2, 1)),
            new(Glue.Of(6, 2, 2), Glue.Of(3, 2, 1)),
            new(Glue.Of(4, 2, 2), Glue.Of(2, 1, 1)),
        ],
        InnerLists = [new(Glue.Of(4.5, 2, 1), Glue.Of(2, 1, 1)), new(Glue.Of(2, 1, 1), default, Glue.Of(2, 1, 1))],
        Displays =
        [
            new(Glue.Of(11, 3, 6), Glue.Of(11, 3, 6), Glue.Of(0, 3), Glue.Of(6.5, 3.5, 3)),
            new(Glue.Of(10, 2, 5), Glue.Of(10, 2, 5), Glue.Of(0, 3), Glue.Of(6, 3, 3)),
            new(Glue.Of(8, 2, 4), Glue.Of(8, 2, 4), Glue.Of(0, 1), Glue.Of(4, 2, 2)),
        ],
        Book = (19.87, 27.46),
    };

    private static readonly ClassMeasures s_twelve = new()
    {
        TextWidth = 390,
        TopSkip = 12,
        ParIndent = 17.62,
        Em = 11.75,
        MarginPush = 7,
        NoteSeparation = 8.4,
        NoteSkip = Glue.Of(10.8, 4, 2),
        FloatSeparation = Glue.Of(12, 2, 4),
        InTextSeparation = Glue.Of(14, 4, 4),
        ParagraphTopSkip = Glue.Of(3, 2, 2),
        Lists =
        [
            new(Glue.Of(10, 4, 6), Glue.Of(5, 2.5, 1)),
            new(Glue.Of(9, 3, 5), Glue.Of(4.5, 2, 1)),
            new(Glue.Of(6, 2, 2), Glue.Of(3, 2, 1)),
        ],
        InnerLists = [new(Glue.Of(5, 2.5, 1), Glue.Of(2.5, 1, 1)), new(Glue.Of(2.5, 1, 1), default, Glue.Of(2.5, 1, 1))],
        Displays =
        [
            new(Glue.Of(12, 3, 7), Glue.Of(12, 3, 7), Glue.Of(0, 3), Glue.Of(6.5, 3.5, 3)),
            new(Glue.Of(11, 3, 6), Glue.Of(11, 3, 6), Glue.Of(0, 3), Glue.Of(6.5, 3.5, 3)),
            new(Glue.Of(10, 2, 5), Glue.Of(10, 2, 5), Glue.Of(0, 3), Glue.Of(6, 3, 3)),
        ],
        Book = (19.87, 30),
    };
}

/// <summary>Spaces of a list.</summary>
/// <param name="Around">Above and below it.</param>
/// <param name="Paragraphs">Between the paragraphs of an item.</param>
/// <param name="OwnItems">Between items, besides the paragraphs' space; null: as much as between paragraphs.</param>
internal sealed record ListSpaces(Glue Around, Glue Paragraphs, Glue? OwnItems = null)
{
    /// <summary>Between items, besides the paragraphs' space.</summary>
    public Glue Items => OwnItems ?? Paragraphs;
}
