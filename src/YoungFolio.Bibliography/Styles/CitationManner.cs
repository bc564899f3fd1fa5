namespace YoungFolio.Bibliography;

/// <summary>How citations are put together.</summary>
public sealed record CitationManner(CitationLabel Label)
{
    /// <summary>Opening bracket.</summary>
    public string Open { get; init; } = "[";

    /// <summary>Closing bracket.</summary>
    public string Close { get; init; } = "]";

    /// <summary>Between two sources.</summary>
    public string Between { get; init; } = ", ";

    /// <summary>Between names and year.</summary>
    public string BeforeYear { get; init; } = " ";

    /// <summary>Between two years of the same names.</summary>
    public string BetweenYears { get; init; } = ", ";

    /// <summary>Between the first and the last of numbers that are drawn together.</summary>
    public string Range { get; init; } = "--";

    /// <summary>Before the last name within brackets; null: the language's word.</summary>
    public string? AndInBrackets { get; init; }

    /// <summary>Whether titles stand only beside names that have several works in the list.</summary>
    public bool TitlesWhereNeeded { get; init; }

    /// <summary>Before the note behind.</summary>
    public string BeforeNote { get; init; } = ", ";

    /// <summary>Whether sources in one citation are sorted as in the list.</summary>
    public bool Sorts { get; init; }

    /// <summary>Whether three numbers in a row are drawn together.</summary>
    public bool Compresses { get; init; }

    /// <summary>Whether years of the same names are drawn together.</summary>
    public bool GroupsNames { get; init; }

    /// <summary>Whether brackets are left away and numbers raised.</summary>
    public bool Raises { get; init; }

    /// <summary>Whether a note behind that is a number gets the word for pages.</summary>
    public bool NamesPages { get; init; }

    /// <summary>Whether the first citation of a source shows its whole reference.</summary>
    public bool WholeAtFirst { get; init; }

    /// <summary>Whether a source that was the one cited last is named by "ibid." alone.</summary>
    public bool NamesTheSameAgain { get; init; }

    /// <summary>Between two sources whose names stand in the sentence.</summary>
    public string BetweenTextual { get; init; } = "; ";

    /// <summary>Before the last of them.</summary>
    public string BeforeLastTextual { get; init; } = "; ";

    /// <summary>The manner of a style: natbib's for classic ones, biblatex' for modern ones (both documentations, from memory).</summary>
    public static CitationManner Of(BibliographyStyle style, SourceWords words)
    {
        ArgumentNullException.ThrowIfNull(style);
        CitationManner usual = UsualOf(style, words);
        return style.OwnManner?.Invoke(usual) ?? usual;
    }

    private static CitationManner UsualOf(BibliographyStyle style, SourceWords words) => style.Manner == ReferenceManner.Modern
        ? new(style.Label)
        {
            Open = style.Label is CitationLabel.AuthorYear or CitationLabel.AuthorTitle ? "(" : "[",
            Close = style.Label is CitationLabel.AuthorYear or CitationLabel.AuthorTitle ? ")" : "]",
            Between = style.Label is CitationLabel.AuthorYear or CitationLabel.AuthorTitle ? "; " : ", ",
            BeforeYear = style.Label == CitationLabel.AuthorTitle ? ", " : " ",
            Sorts = style.SortsCitations,
            Compresses = style.Compresses,
            GroupsNames = style.Compresses,
            NamesPages = true,
            BetweenTextual = ", ",
            BeforeLastTextual = $" {words.And} ",
        }
        : style.Label is CitationLabel.AuthorYear
            ? new(style.Label) { Open = "(", Close = ")", Between = "; ", BeforeYear = ", ", GroupsNames = true }
            : new(style.Label) { Sorts = style.SortsCitations, Compresses = style.Compresses };
}
