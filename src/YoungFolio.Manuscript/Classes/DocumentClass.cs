using YoungFolio.Manuscript.Building;

namespace YoungFolio.Manuscript.Classes;

/// <summary>A kind of heading and its looks. Lengths are in ex or points, as said.</summary>
/// <param name="Command">The command, which is also the counter's name.</param>
/// <param name="Level">−1 part, 0 chapter, 1 section … 5 subparagraph.</param>
/// <param name="Size">Size command.</param>
/// <param name="Above">Natural space above in ex.</param>
/// <param name="AboveStretch">Its stretch in ex.</param>
/// <param name="Below">Natural space below in ex; for a run-in heading the space after it in em.</param>
/// <param name="RunsIn">Whether the text goes on in the heading's line.</param>
public sealed record HeadingStyle(
    string Command, int Level, string Size, double Above, double AboveStretch, double Below, bool RunsIn = false);

/// <summary>A document class: its headings, counters and page. One class a document class.</summary>
public abstract class DocumentClass
{
    /// <summary>The name in <c>\documentclass</c>.</summary>
    public abstract string Name { get; }

    /// <summary>Whether it has chapters.</summary>
    public virtual bool HasChapters => false;

    /// <summary>Whether the title has a page of its own unless an option says otherwise.</summary>
    public virtual bool HasTitlePage => false;

    /// <summary>Level of the deepest heading that is numbered.</summary>
    public virtual int NumberDepth => 3;

    /// <summary>Level of the deepest heading that the contents list.</summary>
    public virtual int ContentsDepth => 3;

    /// <summary>The headings, from the highest level.</summary>
    public abstract IReadOnlyList<HeadingStyle> Headings { get; }

    /// <summary>Names and number formats as markup, which a preamble may redefine.</summary>
    public abstract IReadOnlyList<(string Name, string Markup)> Definitions { get; }

    /// <summary>Counters that return to 0 with another: (counter, within).</summary>
    public abstract IReadOnlyList<(string Counter, string? Within)> Counters { get; }

    /// <summary>Definitions that all classes share.</summary>
    protected static IReadOnlyList<(string Name, string Markup)> Common { get; } =
    [
        ("contentsname", "Contents"), ("listfigurename", "List of figures"), ("listtablename", "List of tables"),
        ("figurename", "Figure"), ("tablename", "Table"), ("partname", "Part"), ("chaptername", "Chapter"),
        ("appendixname", "Appendix"), ("abstractname", "Abstract"), ("refname", "References"), ("bibname", "Bibliography"),
        ("indexname", "Index"), ("pagename", "Page"),
        ("labelitemi", "•"), ("labelitemii", "\\bfseries –"), ("labelitemiii", "∗"), ("labelitemiv", "·"),
        ("labelenumi", "\\theenumi."), ("labelenumii", "(\\theenumii)"), ("labelenumiii", "\\theenumiii."), ("labelenumiv", "\\theenumiv."),
        ("theenumi", "\\arabic{enumi}"), ("theenumii", "\\alph{enumii}"), ("theenumiii", "\\roman{enumiii}"), ("theenumiv", "\\Alph{enumiv}"),
        ("thefootnote", "\\arabic{footnote}"), ("thepart", "\\Roman{part}"),
    ];

    /// <summary>The heading of a command, or null.</summary>
    public HeadingStyle? Heading(string command) => Headings.FirstOrDefault(h => h.Command == command);
}

/// <summary>The classes there are.</summary>
public static class ClassCatalogue
{
    /// <summary>All classes.</summary>
    public static IReadOnlyList<DocumentClass> All { get; } = [new ArticleClass(), new ReportClass()];
}

/// <summary>For papers: sections are the highest headings.</summary>
public sealed class ArticleClass : DocumentClass
{
    /// <inheritdoc/>
    public override string Name => "article";

    /// <inheritdoc/>
    public override IReadOnlyList<HeadingStyle> Headings { get; } =
    [
        new("part", -1, "LARGE", 4, 1, 3),
        new("section", 1, "Large", 3.5, 1, 2.3),
        new("subsection", 2, "large", 3.25, 1, 1.5),
        new("subsubsection", 3, "normalsize", 3.25, 1, 1.5),
        new("paragraph", 4, "normalsize", 3.25, 1, 1, true),
        new("subparagraph", 5, "normalsize", 3.25, 1, 1, true),
    ];

    /// <inheritdoc/>
    public override IReadOnlyList<(string Counter, string? Within)> Counters { get; } =
    [
        ("part", null), ("section", null), ("subsection", "section"), ("subsubsection", "subsection"),
        ("paragraph", "subsubsection"), ("subparagraph", "paragraph"), ("figure", null), ("table", null), ("equation", null),
        ("footnote", null),
    ];

    /// <inheritdoc/>
    public override IReadOnlyList<(string Name, string Markup)> Definitions { get; } =
    [
        .. Common,
        ("thesection", "\\arabic{section}"), ("thesubsection", "\\thesection.\\arabic{subsection}"),
        ("thesubsubsection", "\\thesubsection.\\arabic{subsubsection}"),
        ("theparagraph", "\\thesubsubsection.\\arabic{paragraph}"), ("thesubparagraph", "\\theparagraph.\\arabic{subparagraph}"),
        ("thefigure", "\\arabic{figure}"), ("thetable", "\\arabic{table}"), ("theequation", "\\arabic{equation}"),
    ];
}

/// <summary>For theses and reports: chapters, and a title page.</summary>
public sealed class ReportClass : DocumentClass
{
    /// <inheritdoc/>
    public override string Name => "report";

    /// <inheritdoc/>
    public override bool HasChapters => true;

    /// <inheritdoc/>
    public override bool HasTitlePage => true;

    /// <inheritdoc/>
    public override int NumberDepth => 2;

    /// <inheritdoc/>
    public override int ContentsDepth => 2;

    /// <inheritdoc/>
    public override IReadOnlyList<HeadingStyle> Headings { get; } =
    [
        new("part", -1, "Huge", 4, 1, 3),
        new("chapter", 0, "huge", 0, 0, 0),
        new("section", 1, "Large", 3.5, 1, 2.3),
        new("subsection", 2, "large", 3.25, 1, 1.5),
        new("subsubsection", 3, "normalsize", 3.25, 1, 1.5),
        new("paragraph", 4, "normalsize", 3.25, 1, 1, true),
        new("subparagraph", 5, "normalsize", 3.25, 1, 1, true),
    ];

    /// <inheritdoc/>
    public override IReadOnlyList<(string Counter, string? Within)> Counters { get; } =
    [
        ("part", null), ("chapter", null), ("section", "chapter"), ("subsection", "section"), ("subsubsection", "subsection"),
        ("paragraph", "subsubsection"), ("subparagraph", "paragraph"), ("figure", "chapter"), ("table", "chapter"),
        ("equation", "chapter"), ("footnote", "chapter"),
    ];

    /// <inheritdoc/>
    public override IReadOnlyList<(string Name, string Markup)> Definitions { get; } =
    [
        .. Common,
        ("thechapter", "\\arabic{chapter}"), ("thesection", "\\thechapter.\\arabic{section}"),
        ("thesubsection", "\\thesection.\\arabic{subsection}"), ("thesubsubsection", "\\thesubsection.\\arabic{subsubsection}"),
        ("theparagraph", "\\thesubsubsection.\\arabic{paragraph}"), ("thesubparagraph", "\\theparagraph.\\arabic{subparagraph}"),
        ("thefigure", "\\ifnum\\value{chapter}>0 \\thechapter.\\fi\\arabic{figure}"),
        ("thetable", "\\ifnum\\value{chapter}>0 \\thechapter.\\fi\\arabic{table}"),
        ("theequation", "\\ifnum\\value{chapter}>0 \\thechapter.\\fi\\arabic{equation}"),
    ];
}
