using YoungFolio.Markup;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Compiler;

/// <summary>A rectangle on a page, in PDF points (1/72 in) from the page's upper left corner.</summary>
public sealed record PageSpot(int Sheet, double X, double Y, double Width, double Height);

/// <summary>Leads from a place in the proof to the words that made it, and back.</summary>
public sealed class SourceMap
{
    private const double Scale = 72 / 72.27;
    private readonly IReadOnlyList<Page> _pages;
    private readonly PositionTable _positions;

    internal SourceMap(IReadOnlyList<Page> pages, PositionTable positions) => (_pages, _positions) = (pages, positions);

    /// <summary>The source of the glyph nearest to a point.</summary>
    /// <param name="sheet">Page from 1.</param>
    /// <param name="x">PDF points from the left.</param>
    /// <param name="y">PDF points from the top.</param>
    /// <returns>The place, or null on an empty page.</returns>
    public SourceLocation? FindSource(int sheet, double x, double y)
    {
        if (sheet < 1 || sheet > _pages.Count)
        {
            return null;
        }

        double px = x / Scale;
        double py = y / Scale;
        double best = double.PositiveInfinity;
        int position = PositionTable.None;
        foreach (Placed placed in _pages[sheet - 1].Marks)
        {
            if (placed.Mark is not GlyphMark mark)
            {
                continue;
            }

            double dy = Math.Max(0, Math.Max(placed.Y - (0.75 * mark.Size) - py, py - placed.Y - (0.25 * mark.Size)));
            for (int i = 0; i < mark.Glyphs.Length; i++)
            {
                if (mark.Positions[i] < 0)
                {
                    continue;
                }

                double dx = Math.Max(0, Math.Max(placed.X + mark.Edges[i] - px, px - placed.X - mark.Edges[i + 1]));
                // A line's height counts for more than a word's distance along it.
                double distance = (dy * dy * 16) + (dx * dx);
                if (distance < best)
                {
                    (best, position) = (distance, mark.Positions[i] + placed.Base);
                }
            }
        }

        return _positions.Locate(position);
    }

    /// <summary>Where a place in the source came to stand: the glyph made by the nearest character at or after it.</summary>
    public PageSpot? FindSpot(string file, int line, int column)
    {
        int wanted = _positions.PositionOf(file, line, column);
        if (wanted < 0 || _positions.Resolve(wanted) is not { } place)
        {
            return null;
        }

        int start = wanted - place.Offset;
        int end = start + place.File.Text.Length;
        long best = long.MaxValue;
        PageSpot? spot = null;
        for (int p = 0; p < _pages.Count; p++)
        {
            foreach (Placed placed in _pages[p].Marks)
            {
                if (placed.Mark is not GlyphMark mark)
                {
                    continue;
                }

                for (int i = 0; i < mark.Glyphs.Length; i++)
                {
                    int position = mark.Positions[i] < 0 ? PositionTable.None : mark.Positions[i] + placed.Base;
                    if (position < start || position > end)
                    {
                        continue;
                    }

                    // What comes after is nearer than what came before: commands make the words behind them.
                    long distance = position >= wanted ? position - wanted : (wanted - position) * 3L;
                    if (distance < best)
                    {
                        best = distance;
                        spot = new PageSpot(p + 1, (placed.X + mark.Edges[i]) * Scale, (placed.Y - (0.75 * mark.Size)) * Scale,
                            (mark.Edges[i + 1] - mark.Edges[i]) * Scale, mark.Size * Scale);
                    }
                }
            }
        }

        return spot;
    }
}
