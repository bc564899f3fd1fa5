using YoungFolio.Markup;

namespace YoungFolio.Typesetting.Pages;

/// <summary>A line that the end of a page, or of a column, parts from the rest of its paragraph.</summary>
/// <param name="Sheet">Page from 1.</param>
/// <param name="IsLast">Whether it is the paragraph's last line, above all others (a widow); else its first, below all others (an orphan).</param>
/// <param name="Position">Where it begins in the source.</param>
public readonly record struct LoneLine(int Sheet, bool IsLast, int Position);

/// <summary>Finds the lines that stand alone on a page that was filled.</summary>
internal static class LoneLines
{
    public static IEnumerable<LoneLine> On(int sheet, IEnumerable<Column> columns)
    {
        foreach (Column column in columns)
        {
            BoxItem[] lines = [.. column.Items.OfType<BoxItem>().Where(Column.IsSeen)];
            if (lines is [{ EndsParagraph: true } widow, ..])
            {
                yield return new LoneLine(sheet, true, PositionOf(widow));
            }

            if (lines is [.., { BeginsParagraph: true } orphan])
            {
                yield return new LoneLine(sheet, false, PositionOf(orphan));
            }
        }
    }

    private static int PositionOf(BoxItem line)
    {
        foreach (Placed placed in line.Box.Marks)
        {
            if (placed.Mark is GlyphMark { FirstPosition: >= 0 and var first })
            {
                return first + placed.Base + line.Base;
            }
        }

        return PositionTable.None;
    }
}
