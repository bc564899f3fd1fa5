using YoungFolio.Manuscript.Building;

namespace YoungFolio.Manuscript.Classes;

/// <summary>A kind of heading and its looks, as a class begins with them. Lengths are written as in markup: <c>3.5ex plus 1ex</c>.</summary>
/// <param name="Command">The command, which is also the counter's name.</param>
/// <param name="Level">−1 part, 0 chapter, 1 section … 5 subparagraph.</param>
/// <param name="Format">Declarations of the heading, as markup.</param>
public sealed record HeadingStyle(string Command, int Level, string Format)
{
    /// <summary>The number with what stands around it, as markup.</summary>
    public string Label { get; init; } = $"\\csname the{Command}\\endcsname ";

    /// <summary>Declarations of a label that stands on a line of its own; empty: it stands in the title's line.</summary>
    public string LabelFormat { get; init; } = "";

    /// <summary>Space above.</summary>
    public string Above { get; init; } = "0pt";

    /// <summary>Space below; for a run-in heading the space after it in its line.</summary>
    public string Below { get; init; } = "0pt";

    /// <summary>Space between a label on a line of its own and the title.</summary>
    public string LabelGap { get; init; } = "0pt";

    /// <summary>Space above that stays at a page's top.</summary>
    public string Drop { get; init; } = "0pt";

    /// <summary>Indent from the left.</summary>
    public string Indent { get; init; } = "0pt";

    /// <summary>Whether the text goes on in the heading's line.</summary>
    public bool RunsIn { get; init; }

    /// <summary>Whether it begins a page.</summary>
    public bool BeginsPage { get; init; }

    /// <summary>Whether it has a page of its own, in whose middle it stands.</summary>
    public bool OwnPage { get; init; }

    /// <summary>Whether its lines are centred.</summary>
    public bool IsCentred { get; init; }
}

/// <summary>A document class: its headings, counters and page. One file a family of classes.</summary>
public abstract class DocumentClass
{
    /// <summary>The name in <c>\documentclass</c>.</summary>
    public abstract string Name { get; }

    /// <summary>What it is for, in a sentence.</summary>
    public abstract string Purpose { get; }

    /// <summary>Whether it has chapters.</summary>
    public virtual bool HasChapters => false;

    /// <summary>Whether it has front matter, main matter and back matter.</summary>
    public virtual bool HasMatter => false;

    /// <summary>Whether the title has a page of its own unless an option says otherwise.</summary>
    public virtual bool HasTitlePage => false;

    /// <summary>Whether both sides of the paper are printed unless an option says otherwise.</summary>
    public virtual bool IsTwoSided => false;

    /// <summary>Whether chapters begin on right-hand pages unless an option says otherwise.</summary>
    public virtual bool OpensRight => false;

    /// <summary>Page style unless the preamble says otherwise.</summary>
    public virtual string PageStyle => "plain";

    /// <summary>Level of the deepest heading that is numbered.</summary>
    public virtual int NumberDepth => 3;

    /// <summary>Level of the deepest heading that the contents list.</summary>
    public virtual int ContentsDepth => 3;

    /// <summary>The headings, from the highest level.</summary>
    public abstract IReadOnlyList<HeadingStyle> Headings { get; }

    /// <summary>Names and number formats as markup, which a preamble may redefine.</summary>
    public abstract string Definitions { get; }

    /// <summary>Counters that return to 0 with another: (counter, within).</summary>
    public abstract IReadOnlyList<(string Counter, string? Within)> Counters { get; }

    /// <summary>Head to text, and the foot's baseline below the text, in points.</summary>
    /// <param name="basicSize">10, 11 or 12.</param>
    public virtual (double HeadSeparation, double FootSkip) HeadAndFoot(int basicSize) => (25, 30);

    /// <summary>Gives the document what only this class has.</summary>
    internal virtual void Extend(DocumentBuilder builder)
    {
    }

    /// <summary>Takes an option that only this class has; false when it has no such option.</summary>
    internal virtual bool ApplyOption(DocumentBuilder builder, string name, ListedOption option) => false;
}

/// <summary>The classes there are.</summary>
public static class ClassCatalogue
{
    /// <summary>All classes.</summary>
    public static IReadOnlyList<DocumentClass> All { get; } =
    [
        new ArticleClass(), new ReportClass(), new BookClass(), new LetterClass(), new AmsArticleClass(),
        new SansArticleClass(), new SansReportClass(), new SansBookClass(),
    ];

    /// <summary>The class of this name, or null.</summary>
    public static DocumentClass? Find(string name) => All.FirstOrDefault(c => c.Name == name);

    /// <summary>What stands in for a class that isn't there.</summary>
    public static DocumentClass Standing(string name) =>
        name.Contains("book", StringComparison.OrdinalIgnoreCase) ? new BookClass()
        : name.Contains("thesis", StringComparison.OrdinalIgnoreCase) || name.Contains("report", StringComparison.OrdinalIgnoreCase)
            || name.Contains("rep", StringComparison.OrdinalIgnoreCase) || name.Contains("diss", StringComparison.OrdinalIgnoreCase) ? new ReportClass()
        : name.Contains("lettr", StringComparison.OrdinalIgnoreCase) || name.Contains("letter", StringComparison.OrdinalIgnoreCase) ? new LetterClass()
        : new ArticleClass();
}

/// <summary>Definitions that all classes share.</summary>
internal static class ClassDefinitions
{
    /// <summary>Names of things and looks of lists (Lamport's classes, from memory).</summary>
    public const string Common = """
        \def\contentsname{Contents}\def\listfigurename{List of Figures}\def\listtablename{List of Tables}\def\figurename{Figure}
        \def\tablename{Table}\def\partname{Part}\def\chaptername{Chapter}\def\appendixname{Appendix}\def\abstractname{Abstract}
        \def\refname{References}\def\bibname{Bibliography}\def\indexname{Index}\def\pagename{Page}\def\seename{see}\def\alsoname{see also}
        \def\enclname{encl}\def\ccname{cc}\def\headtoname{To}
        \def\labelitemi{•}\def\labelitemii{\bfseries –}\def\labelitemiii{∗}\def\labelitemiv{·}
        \def\labelenumi{\theenumi.}\def\labelenumii{(\theenumii)}\def\labelenumiii{\theenumiii.}\def\labelenumiv{\theenumiv.}
        \def\theenumi{\arabic{enumi}}\def\theenumii{\alph{enumii}}\def\theenumiii{\roman{enumiii}}\def\theenumiv{\Alph{enumiv}}
        \def\p@enumii{\theenumi}\def\p@enumiii{\theenumi(\theenumii)}\def\p@enumiv{\p@enumiii\theenumiii}
        \def\descriptionlabel#1{\normalfont\bfseries#1}\def\@biblabel#1{[#1]}
        \def\@listi{}\def\@listii{}\def\@listiii{}
        """;

    /// <summary>Headings below the chapter, with the spaces of the standard classes (their published documentation, from memory).</summary>
    public static IReadOnlyList<HeadingStyle> Sections(string family) =>
    [
        new("section", 1, $"\\normalfont{family}\\Large\\bfseries ") { Above = "3.5ex plus 1ex minus .2ex", Below = "2.3ex plus .2ex" },
        new("subsection", 2, $"\\normalfont{family}\\large\\bfseries ") { Above = "3.25ex plus 1ex minus .2ex", Below = "1.5ex plus .2ex" },
        new("subsubsection", 3, $"\\normalfont{family}\\normalsize\\bfseries ") { Above = "3.25ex plus 1ex minus .2ex", Below = "1.5ex plus .2ex" },
        new("paragraph", 4, $"\\normalfont{family}\\normalsize\\bfseries ") { Above = "3.25ex plus 1ex minus .2ex", Below = "1em", RunsIn = true },
        new("subparagraph", 5, $"\\normalfont{family}\\normalsize\\bfseries ") { Above = "3.25ex plus 1ex minus .2ex", Below = "1em", Indent = "\\parindent", RunsIn = true },
    ];
}
