using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Tree;

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
}

/// <summary>A label.</summary>
/// <param name="Key">The key.</param>
/// <param name="Kind">What it names: section, equation, figure, table, item, footnote, page.</param>
/// <param name="Number">The number as printed, or null.</param>
/// <param name="Anchor">Name of the anchor.</param>
/// <param name="Position">Position of the command.</param>
/// <param name="Length">Characters of source that it takes.</param>
public sealed record Label(string Key, string Kind, string? Number, string Anchor, int Position, int Length);

/// <summary>A use of a label.</summary>
public sealed record LabelUse(string Key, int Position, int Length);

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
public sealed record PrintedSource(string Key, string Label, string Text);

/// <summary>The whole manuscript as a tree: what the typesetter gets.</summary>
public sealed class Document
{
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
    public required string PageStyle { get; init; }

    /// <summary>Style of running text.</summary>
    public required TextStyle BodyStyle { get; init; }

    /// <summary>Distance between baselines of running text in points.</summary>
    public required double Leading { get; init; }

    /// <summary>The family set: <c>pagella</c>, <c>termes</c>.</summary>
    public required string Typeface { get; init; }

    /// <summary>Language at the beginning: <c>en-gb</c>.</summary>
    public required string Language { get; init; }

    /// <summary>Labels by key; the first one wins.</summary>
    public required IReadOnlyDictionary<string, Label> Labels { get; init; }

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
        Append(text, inlines);
        return text.ToString().Replace('\u00A0', ' ').Replace("\u00AD", "", StringComparison.Ordinal).Trim();
    }

    private static void Append(System.Text.StringBuilder text, IEnumerable<Inline> inlines)
    {
        foreach (Inline inline in inlines)
        {
            switch (inline)
            {
                case TextRun run:
                    text.Append(run.Text);
                    break;
                case SpaceInline or LineBreakInline:
                    text.Append(' ');
                    break;
                case MathInline math:
                    math.Formula.AppendText(text);
                    break;
                case LinkInline link:
                    Append(text, link.Content);
                    break;
                case BoxInline box:
                    Append(text, box.Content);
                    break;
            }
        }
    }
}
