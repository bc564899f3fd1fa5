namespace YoungFolio.Bibliography;

/// <summary>What a citation shows.</summary>
public enum CitationLabel
{
    /// <summary>A number.</summary>
    Number,

    /// <summary>Letters of the names with figures of the year: <c>Roo87</c>.</summary>
    Letters,

    /// <summary>Names and year.</summary>
    AuthorYear,

    /// <summary>Names and title.</summary>
    AuthorTitle,
}

/// <summary>Orders of a list of sources; the letters are biblatex' (n name, y year, t title, v volume, a label, d down).</summary>
public enum SourceOrder
{
    /// <summary>As cited.</summary>
    Cited,

    /// <summary>Name, title, year.</summary>
    Nty,

    /// <summary>Name, year, title.</summary>
    Nyt,

    /// <summary>Name, year, volume, title.</summary>
    Nyvt,

    /// <summary>Label, name, year, title.</summary>
    Anyt,

    /// <summary>Label, name, year, volume, title.</summary>
    Anyvt,

    /// <summary>Year, name, title.</summary>
    Ynt,

    /// <summary>Year with the latest first, name, title.</summary>
    Ydnt,
}

/// <summary>How names stand in a list.</summary>
public enum NameForm
{
    /// <summary>Edith M. Rook and Kell Ashby.</summary>
    GivenFirst,

    /// <summary>Rook, Edith M. and Kell Ashby.</summary>
    FirstInverted,

    /// <summary>Rook, E. M. and Ashby, K.</summary>
    Inverted,
}

/// <summary>The two manners of printing references: that of the standard styles of 1988, and that of biblatex' standard styles.</summary>
public enum ReferenceManner
{
    /// <summary>Title plain, journal slanted: Names. Title. <em>Journal</em>, 3(2):1–5, 2004.</summary>
    Classic,

    /// <summary>Title in quotes: Names. “Title”. In: <em>Journal</em> 3.2 (2004), pp. 1–5.</summary>
    Modern,
}

/// <summary>How sources are cited, sorted and printed.</summary>
/// <param name="Name">Name of the style in the markup.</param>
/// <param name="Manner">How references are printed.</param>
/// <param name="Label">What citations show.</param>
/// <param name="Order">Order of the list.</param>
public sealed record BibliographyStyle(string Name, ReferenceManner Manner, CitationLabel Label, SourceOrder Order)
{
    /// <summary>Whether given names are initials.</summary>
    public bool Initials { get; init; }

    /// <summary>How names stand.</summary>
    public NameForm Names { get; init; }

    /// <summary>Whether the year stands behind the names, in parentheses.</summary>
    public bool YearBehindNames { get; init; }

    /// <summary>Whether particles count in sorting.</summary>
    public bool SortsWithParticle { get; init; } = true;

    /// <summary>Whether DOIs are printed.</summary>
    public bool ShowsDoi { get; init; }

    /// <summary>Whether addresses are printed.</summary>
    public bool ShowsUrl { get; init; }

    /// <summary>Whether ISBN and ISSN are printed.</summary>
    public bool ShowsIsbn { get; init; }

    /// <summary>Whether preprint numbers are printed.</summary>
    public bool ShowsEprint { get; init; }

    /// <summary>Whether a name that is the same as above is a dash.</summary>
    public bool Dashes { get; init; }

    /// <summary>More names than this are cut in the list.</summary>
    public int MaxNames { get; init; } = int.MaxValue;

    /// <summary>To how many names they are cut.</summary>
    public int MinNames { get; init; } = 1;

    /// <summary>More names than this are cut in citations.</summary>
    public int MaxCiteNames { get; init; } = 2;

    /// <summary>To how many names they are cut in citations.</summary>
    public int MinCiteNames { get; init; } = 1;

    /// <summary>Whether neighbours in one citation are drawn together: [1–3], (Rook 2004, 2005).</summary>
    public bool Compresses { get; init; }

    /// <summary>Whether numbers in one citation are sorted.</summary>
    public bool SortsCitations { get; init; }

    /// <summary>What citations show of a label of names and year where no package reads it.</summary>
    public CitationLabel LabelAlone { get; init; } = CitationLabel.Number;

    /// <summary>The program of a style that the manuscript brings; null: it is one of ours.</summary>
    public StyleProgram? OwnProgram { get; init; }

    /// <summary>What a manuscript changes in how it prints; of biblatex' styles alone.</summary>
    public ReferenceAdjustments Adjustments { get; init; } = ReferenceAdjustments.None;

    /// <summary>Of a style of biblatex: the program of ours that prints the sources; null: the manner of the standard ones.</summary>
    public string? PrintedBy { get; init; }

    /// <summary>Whether citations of this style stand in notes where nothing else is said.</summary>
    public bool CitesInNotes => Label == CitationLabel.AuthorTitle && PrintedBy is null;

    /// <summary>Whether numbers in the list stand without brackets, with a full stop.</summary>
    public bool HasBareNumbers { get; init; }

    /// <summary>What the style changes in how citations are put together; null: nothing.</summary>
    public Func<CitationManner, CitationManner>? OwnManner { get; init; }

    /// <summary>The program that sorts, labels and prints the sources; null in the modern manner.</summary>
    public StyleProgram? Program => OwnProgram ?? (Manner == ReferenceManner.Classic ? ShippedStyles.Of(Name) : null);

    /// <summary>The style of a manuscript that names none.</summary>
    public static BibliographyStyle Plain { get; } = new("plain", ReferenceManner.Classic, CitationLabel.Number, SourceOrder.Nyt);

    /// <summary>Names that <c>\bibliographystyle</c> takes.</summary>
    public static IReadOnlyList<string> ClassicNames => [.. s_classic.Keys];

    /// <summary>Names that biblatex' option <c>style</c> takes.</summary>
    public static IReadOnlyList<string> ModernNames => [.. s_modern.Keys];

    // The standard styles (BibTeXing, section 3), natbib's three, those of some societies, and two of ours: names with the year behind them and
    // addresses, and numbers in the order of citation as engineers use them.
    private static readonly Dictionary<string, BibliographyStyle> s_classic = new BibliographyStyle[]
    {
        Plain,
        new("unsrt", ReferenceManner.Classic, CitationLabel.Number, SourceOrder.Cited),
        new("alpha", ReferenceManner.Classic, CitationLabel.Letters, SourceOrder.Anyt),
        new("abbrv", ReferenceManner.Classic, CitationLabel.Number, SourceOrder.Nyt),
        new("plainnat", ReferenceManner.Classic, CitationLabel.AuthorYear, SourceOrder.Nyt),
        new("abbrvnat", ReferenceManner.Classic, CitationLabel.AuthorYear, SourceOrder.Nyt),
        new("unsrtnat", ReferenceManner.Classic, CitationLabel.AuthorYear, SourceOrder.Cited),
        new("apalike", ReferenceManner.Classic, CitationLabel.AuthorYear, SourceOrder.Nyt) { LabelAlone = CitationLabel.Letters },
        new("yearly", ReferenceManner.Classic, CitationLabel.AuthorYear, SourceOrder.Nyt) { LabelAlone = CitationLabel.Letters },
        new("engineering", ReferenceManner.Classic, CitationLabel.Number, SourceOrder.Cited) { SortsCitations = true, Compresses = true },
        new("ieeetr", ReferenceManner.Classic, CitationLabel.Number, SourceOrder.Cited),
        new("siam", ReferenceManner.Classic, CitationLabel.Number, SourceOrder.Nyt),
        new("acm", ReferenceManner.Classic, CitationLabel.Number, SourceOrder.Nyt),
    }.ToDictionary(s => s.Name, StringComparer.Ordinal);

    // Declared before the styles that use it.
    private static readonly Func<CitationManner, CitationManner> s_ibid = static m => m with { NamesTheSameAgain = true };

    private static readonly Dictionary<string, BibliographyStyle> s_modern = new BibliographyStyle[]
    {
        Modern("numeric", CitationLabel.Number, SourceOrder.Nty),
        Modern("numeric-comp", CitationLabel.Number, SourceOrder.Nty) with { Compresses = true, SortsCitations = true },
        Modern("numeric-verb", CitationLabel.Number, SourceOrder.Nty),
        Modern("alphabetic", CitationLabel.Letters, SourceOrder.Anyt),
        Modern("alphabetic-verb", CitationLabel.Letters, SourceOrder.Anyt),
        Modern("authoryear", CitationLabel.AuthorYear, SourceOrder.Nyt) with { Names = NameForm.FirstInverted, YearBehindNames = true, Dashes = true },
        Modern("authoryear-comp", CitationLabel.AuthorYear, SourceOrder.Nyt) with { Names = NameForm.FirstInverted, YearBehindNames = true, Dashes = true, Compresses = true },
        Modern("authortitle", CitationLabel.AuthorTitle, SourceOrder.Nty) with { Names = NameForm.FirstInverted, Dashes = true },
        Modern("authoryear-icomp", CitationLabel.AuthorYear, SourceOrder.Nyt) with { Names = NameForm.FirstInverted, YearBehindNames = true, Dashes = true, Compresses = true, OwnManner = s_ibid },
        Modern("authoryear-ibid", CitationLabel.AuthorYear, SourceOrder.Nyt) with { Names = NameForm.FirstInverted, YearBehindNames = true, Dashes = true, OwnManner = s_ibid },
        Modern("authortitle-comp", CitationLabel.AuthorTitle, SourceOrder.Nty) with { Names = NameForm.FirstInverted, Dashes = true, Compresses = true },
        Modern("authortitle-icomp", CitationLabel.AuthorTitle, SourceOrder.Nty) with { Names = NameForm.FirstInverted, Dashes = true, Compresses = true, OwnManner = s_ibid },
        Modern("authortitle-ibid", CitationLabel.AuthorTitle, SourceOrder.Nty) with { Names = NameForm.FirstInverted, Dashes = true, OwnManner = s_ibid },
        Modern("verbose", CitationLabel.AuthorTitle, SourceOrder.Nty) with { Names = NameForm.FirstInverted, Dashes = true, OwnManner = static m => m with { WholeAtFirst = true } },
        Modern("verbose-ibid", CitationLabel.AuthorTitle, SourceOrder.Nty) with
        {
            Names = NameForm.FirstInverted,
            Dashes = true,
            OwnManner = static m => m with { WholeAtFirst = true, NamesTheSameAgain = true },
        },
        Modern("apa", CitationLabel.AuthorYear, SourceOrder.Nyt) with
        {
            PrintedBy = "apa",
            MaxNames = 20,
            MinNames = 19,
            MaxCiteNames = 2,
            OwnManner = static m => m with { BeforeYear = ", ", AndInBrackets = "\\&", GroupsNames = true },
        },
        Modern("ieee", CitationLabel.Number, SourceOrder.Cited) with
        {
            PrintedBy = "ieee",
            MaxNames = 6,
            SortsCitations = true,
            Compresses = true,
            OwnManner = static m => m with { Between = "], [", Range = "]--[" },
        },
        Modern("nature", CitationLabel.Number, SourceOrder.Cited) with
        {
            PrintedBy = "nature",
            MaxNames = 5,
            SortsCitations = true,
            Compresses = true,
            HasBareNumbers = true,
            OwnManner = static m => m with { Between = ",", Raises = true },
        },
        Modern("chicago-authordate", CitationLabel.AuthorYear, SourceOrder.Nyt) with
        {
            PrintedBy = "chicago",
            MaxNames = 10,
            MinNames = 7,
            OwnManner = static m => m with { NamesPages = false, GroupsNames = true },
        },
        Modern("mla", CitationLabel.AuthorTitle, SourceOrder.Nty) with
        {
            PrintedBy = "mla",
            MaxNames = 2,
            MaxCiteNames = 2,
            OwnManner = static m => m with { BeforeNote = " ", NamesPages = false, TitlesWhereNeeded = true },
        },
    }.ToDictionary(s => s.Name, StringComparer.Ordinal);

    /// <summary>A style of <c>\bibliographystyle</c>, or null.</summary>
    public static BibliographyStyle? FindClassic(string name) => s_classic.GetValueOrDefault(name);

    /// <summary>The style of ours that is most like one that doesn't ship, or null where nothing is known of it.</summary>
    public static BibliographyStyle? FindNearestClassic(string name) => NearestStyles.Classic(name) is { } near ? FindClassic(near) : null;

    /// <summary>As <see cref="FindNearestClassic"/>, for biblatex.</summary>
    public static BibliographyStyle? FindNearestModern(string name) => NearestStyles.Modern(name) is { } near ? FindModern(near) : null;

    /// <summary>A style that a manuscript brings as a .bst file.</summary>
    public static BibliographyStyle OfProgram(string name, StyleProgram program)
    {
        ArgumentNullException.ThrowIfNull(program);
        return new(name, ReferenceManner.Classic, program.Label, SourceOrder.Cited) { OwnProgram = program };
    }

    /// <summary>A style of biblatex, or null.</summary>
    public static BibliographyStyle? FindModern(string name) => s_modern.GetValueOrDefault(name);

    private static BibliographyStyle Modern(string name, CitationLabel label, SourceOrder order) => new(name, ReferenceManner.Modern, label, order)
    {
        SortsWithParticle = false,
        ShowsDoi = true,
        ShowsUrl = true,
        ShowsIsbn = true,
        ShowsEprint = true,
        MaxNames = 3,
        MaxCiteNames = 3,
    };
}
