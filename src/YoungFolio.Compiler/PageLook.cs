using YoungFolio.Documents;

namespace YoungFolio.Compiler;

/// <summary>A page as a preamble sets it. Lengths are points of 1/72.27 in.</summary>
/// <param name="PaperWidth">Width of the paper.</param>
/// <param name="PaperHeight">Height of the paper.</param>
/// <param name="TextWidth">Width of the text block.</param>
/// <param name="TextHeight">Height of the text block.</param>
/// <param name="OddLeft">Left edge of the text on right-hand pages.</param>
/// <param name="EvenLeft">Left edge of the text on left-hand pages.</param>
/// <param name="Top">Top of the text.</param>
/// <param name="HeadSeparation">From the head's baseline to the text.</param>
/// <param name="FootSkip">From the last line's baseline to the foot's.</param>
/// <param name="NoteWidth">Width of notes in the margin.</param>
/// <param name="NoteSeparation">From the text to those notes.</param>
/// <param name="Columns">Columns of text.</param>
/// <param name="ColumnSeparation">Space between them.</param>
/// <param name="IsTwoSided">Whether both sides are printed.</param>
/// <param name="TypeSize">Size of running text.</param>
/// <param name="Leading">From baseline to baseline.</param>
/// <param name="LineCharacters">Characters that a line of running text has on the average, in English.</param>
/// <param name="PageLines">Lines of running text a page, in one column.</param>
/// <param name="HasHead">Whether anything stands in the heads.</param>
/// <param name="HasFoot">Whether anything stands in the feet.</param>
public sealed record PageLook(
    double PaperWidth, double PaperHeight, double TextWidth, double TextHeight, double OddLeft, double EvenLeft, double Top, double HeadSeparation, double FootSkip, double NoteWidth, double NoteSeparation,
    int Columns, double ColumnSeparation, bool IsTwoSided, double TypeSize, double Leading, double LineCharacters, int PageLines, bool HasHead, bool HasFoot)
{
    // Plain English, with its spaces and signs: what is counted as common practice counts, 45 to 75 a line.
    private const string Sample =
        "The walls above the head dyke were raised when the common was parted, and nobody has moved them since. Where the stone is coarse the first spots come within eight or nine years; on the finer beds it takes them twelve. "
        + "We went along each wall from its lowest end, read both faces at the height of a hand, and wrote down what we saw before we spoke of it. ";

    internal static PageLook Of(Document document, ITextMeasure measure)
    {
        PageGeometry g = document.Geometry;
        double width = measure.Measure([new TextRun(Sample, new int[Sample.Length], document.BodyStyle)], document.Typefaces).Width;
        PageStyle style = document.Blocks.OfType<PageStyleBlock>().FirstOrDefault(b => b.Style is not null)?.Style ?? document.PageStyle;
        // Line spacing is a matter of paragraphs.
        double leading = document.Blocks.OfType<ParagraphBlock>().FirstOrDefault()?.Style.Leading ?? document.Leading;
        return new PageLook(
            g.PaperWidth, g.PaperHeight, g.TextWidth, g.TextHeight, g.OddLeft, g.EvenLeft, g.Top, g.HeadSeparation, g.FootSkip, g.MarginWidth, g.MarginSeparation, g.Columns, g.ColumnSeparation, document.TwoSided,
            document.BodyStyle.Size, leading, width <= 0 ? 0 : Math.Round(g.ColumnWidth / (width / Sample.Length), 1), leading <= 0 ? 0 : 1 + (int)Math.Floor(((g.TextHeight - g.TopSkip) / leading) + 0.001),
            !style.OddHead.IsEmpty || !style.EvenHead.IsEmpty, !style.OddFoot.IsEmpty || !style.EvenFoot.IsEmpty);
    }
}
