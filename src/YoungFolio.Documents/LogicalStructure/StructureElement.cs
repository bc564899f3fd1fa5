namespace YoungFolio.Documents.LogicalStructure;

/// <summary>What a part of a manuscript is: the standard structure types (ISO 32000-1, 14.8.4), in words.</summary>
public enum StructureRole
{
    /// <summary>The whole.</summary>
    Document,

    /// <summary>Parts that belong together.</summary>
    Division,

    /// <summary>A heading of a level.</summary>
    Heading,

    /// <summary>A paragraph.</summary>
    Paragraph,

    /// <summary>A list.</summary>
    List,

    /// <summary>An item of a list.</summary>
    ListItem,

    /// <summary>A label: an item's sign, a note's mark.</summary>
    Label,

    /// <summary>What an item says.</summary>
    ListBody,

    /// <summary>A source in the list of sources.</summary>
    BibliographyEntry,

    /// <summary>A table.</summary>
    Table,

    /// <summary>The rows of a table's heads.</summary>
    TableHead,

    /// <summary>The other rows.</summary>
    TableBody,

    /// <summary>A row.</summary>
    TableRow,

    /// <summary>A cell that heads a column.</summary>
    HeaderCell,

    /// <summary>Another cell.</summary>
    DataCell,

    /// <summary>A picture or drawing.</summary>
    Figure,

    /// <summary>A caption.</summary>
    Caption,

    /// <summary>A formula.</summary>
    Formula,

    /// <summary>A note at the foot or in the margin.</summary>
    Note,

    /// <summary>The mark of a note, a line of the contents.</summary>
    Reference,

    /// <summary>What leads somewhere.</summary>
    Link,

    /// <summary>The contents, or a list of figures or tables.</summary>
    Contents,

    /// <summary>A line of them.</summary>
    ContentsItem,

    /// <summary>An index.</summary>
    Index,

    /// <summary>Words in a line that something is said of.</summary>
    Span,
}

/// <summary>A part of a manuscript, with what it is and what it is made of.</summary>
/// <param name="role">What it is.</param>
/// <param name="parent">What it is a part of; null: the whole.</param>
public sealed class StructureElement(StructureRole role, StructureElement? parent)
{
    /// <summary>What it is.</summary>
    public StructureRole Role => role;

    /// <summary>What it is a part of.</summary>
    public StructureElement? Parent => parent;

    /// <summary>Its parts as the tree has them; in a line of text, where they come between the words is told by the pages.</summary>
    public List<StructureElement> Children { get; } = [];

    /// <summary>Level of a heading, from 1.</summary>
    public int Level { get; init; }

    /// <summary>The language, such as <c>de</c>, where it is another one than that of what it is in.</summary>
    public string? Language { get; init; }

    /// <summary>What says the same in words.</summary>
    public string? Alternative { get; init; }

    /// <summary>A formula's structure as MathML.</summary>
    public string? MathMl { get; init; }

    /// <summary>Columns that a cell takes.</summary>
    public int Columns { get; init; } = 1;

    /// <summary>Rows that a cell takes.</summary>
    public int Rows { get; init; } = 1;

    /// <summary>What is read right after it, such as a note after its mark.</summary>
    public StructureElement? Follower { get; set; }

    /// <summary>Whether words stand in it, and between them its parts.</summary>
    public bool HoldsText => role is StructureRole.Heading or StructureRole.Paragraph or StructureRole.Label or StructureRole.BibliographyEntry or StructureRole.HeaderCell or StructureRole.DataCell or StructureRole.Figure or StructureRole.Caption
        or StructureRole.Formula or StructureRole.Reference or StructureRole.Link or StructureRole.ContentsItem or StructureRole.Span;

    /// <summary>Whether it stands on the pages even when nothing is in it: without an empty cell a table's columns would shift.</summary>
    public bool StaysEmpty => role is StructureRole.HeaderCell or StructureRole.DataCell;

    /// <summary>Whether something within it is one of some kinds.</summary>
    public bool IsWithin(params ReadOnlySpan<StructureRole> roles)
    {
        for (StructureElement? at = this; at is not null; at = at.Parent)
        {
            if (roles.Contains(at.Role))
            {
                return true;
            }
        }

        return false;
    }
}

/// <summary>Something that keeps a manuscript from being read by those who don't see it.</summary>
/// <param name="Says">What it is, as a sentence.</param>
/// <param name="Position">Where it stands; negative: nowhere in particular.</param>
public sealed record AccessObstacle(string Says, int Position);
