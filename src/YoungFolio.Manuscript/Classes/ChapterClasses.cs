using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Classes;

/// <summary>For theses and reports: chapters, and a title page.</summary>
public class ReportClass : DocumentClass
{
    /// <inheritdoc/>
    public override string Name => "report";

    /// <inheritdoc/>
    public override string Purpose => "Theses and reports: chapters, and a title page.";

    /// <inheritdoc/>
    public override bool HasChapters => true;

    /// <inheritdoc/>
    public override bool HasTitlePage => true;

    /// <inheritdoc/>
    public override int NumberDepth => 2;

    /// <inheritdoc/>
    public override int ContentsDepth => 2;

    /// <inheritdoc/>
    public override IReadOnlyList<HeadingStyle> Headings { get; } = [.. Tops(""), .. ClassDefinitions.Sections("")];

    /// <inheritdoc/>
    public override IReadOnlyList<(string Counter, string? Within)> Counters { get; } =
    [
        ("part", null), ("chapter", null), ("section", "chapter"), ("subsection", "section"), ("subsubsection", "subsection"),
        ("paragraph", "subsubsection"), ("subparagraph", "paragraph"), ("figure", "chapter"), ("table", "chapter"),
        ("equation", "chapter"), ("footnote", "chapter"),
    ];

    /// <inheritdoc/>
    public override string Definitions => """
        \def\thepart{\Roman{part}}\def\thechapter{\arabic{chapter}}\def\thesection{\thechapter.\arabic{section}}
        \def\thesubsection{\thesection.\arabic{subsection}}\def\thesubsubsection{\thesubsection.\arabic{subsubsection}}
        \def\theparagraph{\thesubsubsection.\arabic{paragraph}}\def\thesubparagraph{\theparagraph.\arabic{subparagraph}}
        \def\thefigure{\ifnum\c@chapter>0 \thechapter.\fi\arabic{figure}}\def\thetable{\ifnum\c@chapter>0 \thechapter.\fi\arabic{table}}
        \def\theequation{\ifnum\c@chapter>0 \thechapter.\fi\arabic{equation}}\def\thefootnote{\arabic{footnote}}
        \def\chapter@mark#1{\ifnum\c@secnumdepth>-1 \if@mainmatter\@chapapp\ \thechapter. \fi\fi #1}
        \def\heading@marks{\if@twoside
            \def\chaptermark##1{\markboth{\chapter@mark{##1}}{}}%
            \def\sectionmark##1{\markright{\ifnum\c@secnumdepth>0 \thesection\quad\fi ##1}}%
          \else\def\chaptermark##1{\markright{\chapter@mark{##1}}}\fi}
        """;

    /// <summary>Parts and chapters: both begin a page, the number on a line of its own.</summary>
    private protected static IReadOnlyList<HeadingStyle> Tops(string family) =>
    [
        new("part", -1, $"\\normalfont{family}\\Huge\\bfseries ")
        {
            Label = "\\partname~\\thepart ", LabelFormat = "\\huge ", LabelGap = "20pt", BeginsPage = true, OwnPage = true, IsCentred = true,
        },
        new("chapter", 0, $"\\normalfont{family}\\Huge\\bfseries ")
        {
            Label = "\\@chapapp~\\thechapter ", LabelFormat = "\\huge ", LabelGap = "20pt", BeginsPage = true, Drop = "50pt", Below = "40pt",
        },
    ];
}

/// <summary>For books: both sides of the paper, chapters on right-hand pages, front and back matter.</summary>
public class BookClass : ReportClass
{
    /// <inheritdoc/>
    public override string Name => "book";

    /// <inheritdoc/>
    public override bool HasMatter => true;

    /// <inheritdoc/>
    public override string Purpose => "Books: both sides of the paper, chapters on right-hand pages, front and back matter.";

    /// <inheritdoc/>
    public override bool IsTwoSided => true;

    /// <inheritdoc/>
    public override bool OpensRight => true;

    /// <inheritdoc/>
    public override string PageStyle => "headings";

    /// <inheritdoc/>
    public override (double HeadSeparation, double FootSkip) HeadAndFoot(int basicSize) => ClassMeasures.Of(basicSize).Book;
}

/// <summary>A variant of report with headings in sans serif type.</summary>
public sealed class SansReportClass : ReportClass
{
    /// <inheritdoc/>
    public override string Name => "scrreprt";

    /// <inheritdoc/>
    public override string Purpose => "Theses and reports, with headings in sans serif type.";

    /// <inheritdoc/>
    public override IReadOnlyList<HeadingStyle> Headings { get; } = [.. Tops("\\sffamily").Select(SansClasses.OnOneLine), .. ClassDefinitions.Sections("\\sffamily")];

    internal override void Extend(DocumentBuilder builder) => SansClasses.Extend(builder);

    internal override bool ApplyOption(DocumentBuilder builder, string name, ListedOption option) => SansClasses.ApplyOption(builder, name, option);
}

/// <summary>A variant of book with headings in sans serif type.</summary>
public sealed class SansBookClass : BookClass
{
    /// <inheritdoc/>
    public override string Name => "scrbook";

    /// <inheritdoc/>
    public override string Purpose => "Books, with headings in sans serif type.";

    /// <inheritdoc/>
    public override IReadOnlyList<HeadingStyle> Headings { get; } = [.. Tops("\\sffamily").Select(SansClasses.OnOneLine), .. ClassDefinitions.Sections("\\sffamily")];

    internal override void Extend(DocumentBuilder builder) => SansClasses.Extend(builder);

    internal override bool ApplyOption(DocumentBuilder builder, string name, ListedOption option) => SansClasses.ApplyOption(builder, name, option);
}

/// <summary>What the classes with sans serif headings share: their option names and a few commands, as documents use them.</summary>
internal static class SansClasses
{
    public static void Extend(DocumentBuilder builder)
    {
        StandInClass.Load(builder, "sans-classes.tex");
        ElementFonts.Define(builder);
    }

    /// <summary>A chapter's head with number and title on one line, as these classes have it unless <c>chapterprefix</c> asks for more (their published manual, from memory).</summary>
    public static HeadingStyle OnOneLine(HeadingStyle style) => style.Command != "chapter" ? style : style with
    {
        Format = "\\normalfont\\sffamily\\huge\\bfseries ",
        Label = "\\thechapter ",
        LabelFormat = "",
        Drop = "3.3\\baselineskip",
        Below = "1.725\\baselineskip plus .115\\baselineskip minus .192\\baselineskip",
    };

    // Options are KEY=VALUE here; those that Lamport's classes know under other names act like them.
    public static bool ApplyOption(DocumentBuilder builder, string name, ListedOption option)
    {
        string value = option.Text(builder.Machine);
        switch (name)
        {
            case "fontsize":
                builder.BasicSize = value switch { "11pt" or "11" => 11, "12pt" or "12" => 12, _ => 10 };
                return true;
            case "paper":
                return builder.Pages.SetPaper(value);
            case "twoside":
                builder.Pages.TwoSided = value is not ("false" or "off");
                builder.Machine.Conditionals.SetSwitch("@twoside", builder.Pages.TwoSided, true);
                return true;
            case "titlepage":
                builder.Machine.Conditionals.SetSwitch("@titlepage", value is not ("false" or "off"), true);
                return true;
            case "open":
                builder.Machine.Conditionals.SetSwitch("@openright", value == "right", true);
                return true;
            case "parskip":
                builder.Machine.Registers.NamedDimension("parindent");
                builder.Machine.Assignments.SetLength(Token.Command(builder.Machine.Symbol("parindent"), -1), default);
                builder.Machine.Assignments.SetLength(Token.Command(builder.Machine.Symbol("parskip"), -1), Glue.Of(value.StartsWith("full", StringComparison.Ordinal) ? 12 : 6, 2));
                return true;
            case "chapterprefix" when value is not ("false" or "off"):
                HeadingStyle prefixed = new ReportClass().Headings.First(h => h.Command == "chapter");
                builder.HeadingCommands.Use(prefixed with { Format = "\\normalfont\\sffamily\\huge\\bfseries ", LabelFormat = "\\Large " });
                return true;
            case "draft":
                builder.Pages.IsDraft = value is not ("false" or "off");
                return true;
            case "BCOR" or "DIV" or "headings" or "numbers" or "toc" or "bibliography" or "index" or "listof" or "captions" or "headinclude"
                or "footinclude" or "headsepline" or "footsepline" or "chapterprefix" or "cleardoublepage" or "version" or "abstract" or "footnotes"
                or "liststotoc" or "bibtotoc" or "idxtotoc" or "bibtotocnumbered" or "liststotocnumbered" or "pointlessnumbers" or "halfparskip"
                or "smallheadings" or "bigheadings" or "normalheadings" or "DIVcalc" or "pagesize" or "usegeometry" or "twocolumn":
                return true;
            default:
                return false;
        }
    }
}
