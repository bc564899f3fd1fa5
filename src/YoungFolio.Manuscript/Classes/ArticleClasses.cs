using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Classes;

/// <summary>For papers: sections are the highest headings.</summary>
public class ArticleClass : DocumentClass
{
    /// <inheritdoc/>
    public override string Name => "article";

    /// <inheritdoc/>
    public override string Purpose => "Papers: sections are the highest headings.";

    /// <inheritdoc/>
    public override IReadOnlyList<HeadingStyle> Headings { get; } =
    [
        new("part", -1, "\\normalfont\\huge\\bfseries ") { Above = "4ex", Below = "3ex", Label = "\\partname~\\thepart ", LabelFormat = "\\Large " },
        .. ClassDefinitions.Sections(""),
    ];

    /// <inheritdoc/>
    public override IReadOnlyList<(string Counter, string? Within)> Counters { get; } =
    [
        ("part", null), ("section", null), ("subsection", "section"), ("subsubsection", "subsection"),
        ("paragraph", "subsubsection"), ("subparagraph", "paragraph"), ("figure", null), ("table", null), ("equation", null),
        ("footnote", null),
    ];

    /// <inheritdoc/>
    public override string Definitions => """
        \def\thepart{\Roman{part}}\def\thesection{\arabic{section}}\def\thesubsection{\thesection.\arabic{subsection}}
        \def\thesubsubsection{\thesubsection.\arabic{subsubsection}}\def\theparagraph{\thesubsubsection.\arabic{paragraph}}
        \def\thesubparagraph{\theparagraph.\arabic{subparagraph}}
        \def\thefigure{\arabic{figure}}\def\thetable{\arabic{table}}\def\theequation{\arabic{equation}}\def\thefootnote{\arabic{footnote}}
        \def\heading@marks{\if@twoside
            \def\sectionmark##1{\markboth{\ifnum\c@secnumdepth>0 \thesection\quad\fi ##1}{}}%
            \def\subsectionmark##1{\markright{\ifnum\c@secnumdepth>1 \thesubsection\quad\fi ##1}}%
          \else\def\sectionmark##1{\markright{\ifnum\c@secnumdepth>0 \thesection\quad\fi ##1}}\fi}
        """;
}

/// <summary>A variant of article with headings in sans serif type.</summary>
public sealed class SansArticleClass : ArticleClass
{
    /// <inheritdoc/>
    public override string Name => "scrartcl";

    /// <inheritdoc/>
    public override string Purpose => "Papers, with headings in sans serif type.";

    /// <inheritdoc/>
    public override IReadOnlyList<HeadingStyle> Headings { get; } =
    [
        new("part", -1, "\\normalfont\\sffamily\\huge\\bfseries ") { Above = "4ex", Below = "3ex", Label = "\\partname~\\thepart ", LabelFormat = "\\Large " },
        .. ClassDefinitions.Sections("\\sffamily"),
    ];

    internal override void Extend(DocumentBuilder builder) => SansClasses.Extend(builder);

    internal override bool ApplyOption(DocumentBuilder builder, string name, ListedOption option) => SansClasses.ApplyOption(builder, name, option);
}
