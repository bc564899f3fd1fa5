using YoungFolio.Documents;
using YoungFolio.Markup;
using YoungFolio.Pdf;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Images;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Compiler;

/// <summary>A page as it is printed. Lengths are points of 1/72.27 in.</summary>
/// <param name="Label">Its number as printed.</param>
/// <param name="Width">Width of its paper.</param>
/// <param name="Height">Height of its paper.</param>
public sealed record PrintedPage(string Label, double Width, double Height);

/// <summary>A picture as it is printed.</summary>
/// <param name="Path">Its file.</param>
/// <param name="Sheet">Its page of the PDF, from 1.</param>
/// <param name="DotsPerInch">Its dots to the inch in the direction that has fewer; null: it is drawn with lines and has none.</param>
/// <param name="File">The file that places it.</param>
/// <param name="Line">Line from 1.</param>
/// <param name="Offset">The character at which it is placed.</param>
/// <param name="ArchivalObstacle">What in it an archival PDF may not have, as the end of a sentence; null: nothing.</param>
/// <param name="AccessObstacle">What in it an accessible PDF may not have, as the end of a sentence; null: nothing.</param>
public sealed record PrintedPicture(string Path, int Sheet, double? DotsPerInch, string? File, int? Line, int? Offset, string? ArchivalObstacle = null, string? AccessObstacle = null);

/// <summary>The smallest type that words are printed in.</summary>
/// <param name="Size">Its size in points of 1/72.27 in.</param>
/// <param name="Sheet">The first page of the PDF with it, from 1.</param>
/// <param name="Words">Words that are printed in it.</param>
public sealed record SmallestType(double Size, int Sheet, string Words);

/// <summary>A figure, a table, or another float.</summary>
/// <param name="Kind">Its kind: <c>figure</c>, <c>table</c> or another.</param>
/// <param name="Captions">Numbers and texts of its captions that have a number.</param>
/// <param name="IsCaptioned">Whether it has a caption, with a number or without.</param>
/// <param name="Pictures">The files of the pictures in it, in the order of reading.</param>
/// <param name="Place">Where it begins in the source; null: nowhere that can be told.</param>
public sealed record PrintedFloat(string Kind, IReadOnlyList<(string Number, string Text)> Captions, bool IsCaptioned, IReadOnlyList<string> Pictures, SourcePlace? Place);

/// <summary>A line that stands alone at a page's top or foot.</summary>
/// <param name="Sheet">Page of the PDF, from 1.</param>
/// <param name="IsLast">Whether it is the last of its paragraph, at the top; else the first, at the foot.</param>
/// <param name="Place">Where it begins in the source; null: nowhere that can be told.</param>
public sealed record LonePrintedLine(int Sheet, bool IsLast, SourcePlace? Place);

/// <summary>What can be measured on the pages of a proof. Lengths are points of 1/72.27 in.</summary>
public sealed record PrintFacts
{
    // Fewer letters in a row are marks of notes, indices and raised endings, not words.
    private const int FewestLetters = 4;

    /// <summary>The pages.</summary>
    public required IReadOnlyList<PrintedPage> Pages { get; init; }

    /// <summary>Margin beside the spine, or at the left where one side is printed.</summary>
    public required double Inner { get; init; }

    /// <summary>The margin at the other side.</summary>
    public required double Outer { get; init; }

    /// <summary>The margin above the text.</summary>
    public required double Top { get; init; }

    /// <summary>The margin below the text.</summary>
    public required double Bottom { get; init; }

    /// <summary>Whether both sides of the paper are printed.</summary>
    public required bool IsTwoSided { get; init; }

    /// <summary>Size of running text.</summary>
    public required double TypeSize { get; init; }

    /// <summary>From baseline to baseline of running text.</summary>
    public required double Leading { get; init; }

    /// <summary>The smallest type of words; null: there are none.</summary>
    public required SmallestType? Smallest { get; init; }

    /// <summary>The pictures.</summary>
    public required IReadOnlyList<PrintedPicture> Pictures { get; init; }

    /// <summary>The floats, in the order of the flow.</summary>
    public required IReadOnlyList<PrintedFloat> Floats { get; init; }

    /// <summary>Lines that stand alone at a page's top or foot.</summary>
    public required IReadOnlyList<LonePrintedLine> LoneLines { get; init; }

    /// <summary>The fonts, by the names of their files.</summary>
    public required IReadOnlyList<string> Fonts { get; init; }

    /// <summary>Those of the fonts whose licence forbids to put them inside a PDF.</summary>
    public required IReadOnlyList<string> FontsNotToEmbed { get; init; }

    /// <summary>Links within the document that lead nowhere, with their pages of the PDF.</summary>
    public required IReadOnlyList<(string Target, int Sheet)> DeadLinks { get; init; }

    /// <summary>The title that the PDF says; empty for none.</summary>
    public required string Title { get; init; }

    /// <summary>The author that the PDF says; empty for none.</summary>
    public required string Author { get; init; }

    /// <summary>The language, such as <c>en-gb</c>.</summary>
    public required string Language { get; init; }

    internal static Func<PrintFacts> Later(Document document, TypesetDocument pages, PositionTable positions)
    {
        // The tree itself isn't kept for this.
        PageGeometry geometry = document.Geometry;
        double leading = document.Blocks.OfType<ParagraphBlock>().FirstOrDefault()?.Style.Leading ?? document.Leading;
        (bool twoSided, double size, string title, string author, string language) = (document.TwoSided, document.BodyStyle.Size, document.Title ?? "", document.Author ?? "", document.Language);
        PrintedFloat[] floats = [.. NodeWalk.Flow(document.Blocks).OfType<FloatBlock>().Select(f => Float(f, positions))];
        return () =>
        {
            var survey = new PageSurvey(pages, positions);
            return new PrintFacts
            {
                Pages = [.. pages.Pages.Select(p => new PrintedPage(p.Label, p.Width, p.Height))],
                Inner = geometry.OddLeft,
                Outer = geometry.PaperWidth - geometry.OddLeft - geometry.TextWidth,
                Top = geometry.Top,
                Bottom = geometry.PaperHeight - geometry.Top - geometry.TextHeight,
                IsTwoSided = twoSided,
                TypeSize = size,
                Leading = leading,
                Smallest = survey.Smallest,
                Pictures = survey.Pictures,
                Floats = floats,
                LoneLines = [.. pages.LoneLines.Select(l => new LonePrintedLine(l.Sheet, l.IsLast, SourcePlace.Of(positions, l.Position)))],
                Fonts = [.. survey.Fonts.Select(static f => f.Name).Order(StringComparer.Ordinal)],
                FontsNotToEmbed = [.. survey.Fonts.Where(static f => !f.MayBeEmbedded).Select(static f => f.Name).Order(StringComparer.Ordinal)],
                DeadLinks = survey.DeadLinks,
                Title = title,
                Author = author,
                Language = language,
            };
        };
    }

    private static PrintedFloat Float(FloatBlock block, PositionTable positions) => new(
        block.Kind, [.. block.Captions.Select(static c => (c.Number, PlainText.Of(c.Text)))], block.IsCaptioned,
        [.. NodeWalk.All(block.Content).OfType<ImageInline>().Select(static i => i.Path)], SourcePlace.Of(positions, block.Position));

    // Walks over all that stands on the pages once.
    private sealed class PageSurvey
    {
        private readonly TypesetDocument _pages;
        private readonly PositionTable _positions;

        public PageSurvey(TypesetDocument pages, PositionTable positions)
        {
            (_pages, _positions) = (pages, positions);
            for (int i = 0; i < pages.Pages.Count; i++)
            {
                Walk(pages.Pages[i].Marks, i + 1, 1, 1, 0);
            }
        }

        public SmallestType? Smallest { get; private set; }

        public List<PrintedPicture> Pictures { get; } = [];

        public HashSet<FontFile> Fonts { get; } = [];

        public List<(string Target, int Sheet)> DeadLinks { get; } = [];

        private void Walk(IReadOnlyList<Placed> marks, int sheet, double across, double up, int origin)
        {
            foreach (Placed placed in marks)
            {
                switch (placed.Mark)
                {
                    case GlyphMark glyphs:
                        Fonts.Add(glyphs.Font);
                        double size = glyphs.Size * up;
                        if ((Smallest is null || size < Smallest.Size - 0.01) && !glyphs.Font.Name.Contains("math", StringComparison.Ordinal) && glyphs.Texts.Count(t => t.Length > 0 && char.IsLetter(t, 0)) >= FewestLetters)
                        {
                            Smallest = new SmallestType(Math.Round(size, 2), sheet, string.Concat(glyphs.Texts));
                        }

                        break;
                    case ImageMark image:
                        Add(image, sheet, across, up, placed.Base + origin);
                        break;
                    case LinkMark { IsOutside: false } link when !_pages.Anchors.ContainsKey(link.Target):
                        DeadLinks.Add((link.Target, sheet));
                        break;
                    case GroupMark group:
                        (double a, double b, double c, double d) = group.Matrix;
                        Walk(group.Content, sheet, across * Math.Sqrt((a * a) + (b * b)), up * Math.Sqrt((c * c) + (d * d)), placed.Base + origin);
                        break;
                }
            }
        }

        private void Add(ImageMark image, int sheet, double across, double up, int origin)
        {
            (double width, double height) = image.Whole is { } whole ? (whole.Width, whole.Height) : (image.Width, image.Height);
            double? dots = image.Picture.Format == PictureFormat.Pdf || width <= 0 || height <= 0 ? null
                : Math.Round(Math.Min(image.Picture.PixelWidth / (width * across), image.Picture.PixelHeight / (height * up)) * Units.Inch);
            SourcePlace? place = image.Position < 0 ? null : SourcePlace.Of(_positions, image.Position + origin);
            Pictures.Add(new PrintedPicture(image.Picture.File.Path, sheet, dots, place?.File, place?.Line, place?.Offset, ArchivalRules.ObstacleOf(image.Picture), ArchivalRules.AccessObstacleOf(image.Picture)));
        }
    }
}
