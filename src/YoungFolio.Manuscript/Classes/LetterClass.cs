using YoungFolio.Manuscript.Building;

namespace YoungFolio.Manuscript.Classes;

/// <summary>For letters (Lamport, section 5.1).</summary>
public sealed class LetterClass : DocumentClass
{
    /// <inheritdoc/>
    public override string Name => "letter";

    /// <inheritdoc/>
    public override string Purpose => "Letters: sender, recipient, opening, closing, copies and enclosures.";

    /// <inheritdoc/>
    public override int NumberDepth => -2;

    /// <inheritdoc/>
    public override IReadOnlyList<HeadingStyle> Headings { get; } = [];

    /// <inheritdoc/>
    public override IReadOnlyList<(string Counter, string? Within)> Counters { get; } =
        [("figure", null), ("table", null), ("equation", null), ("footnote", null)];

    /// <inheritdoc/>
    public override string Definitions => """
        \def\thefigure{\arabic{figure}}\def\thetable{\arabic{table}}\def\theequation{\arabic{equation}}\def\thefootnote{\arabic{footnote}}
        \def\ps@headings{\let\@mkboth\markboth\let\@oddfoot\@empty\let\@evenfoot\@empty
          \def\@oddhead{{\slshape\headtoname{} \rightmark}\hfil\leftmark\hfil\pagename{} \thepage}\let\@evenhead\@oddhead}
        \def\ps@firstpage{\let\@oddhead\@empty\let\@evenhead\@empty\def\@oddfoot{\hfil\letter@foot\hfil}\let\@evenfoot\@oddfoot}
        \def\letter@foot{}
        """;

    internal override void Extend(DocumentBuilder builder) => builder.Letters.DefineLetters();
}
