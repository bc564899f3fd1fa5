using YoungFolio.Compiler.Changes;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Compiler;

/// <summary>Marks in the proof the spots where something is to fix: a line under the word, and a bar at the paper's edge.</summary>
internal static class ProofMarks
{
    // The rubric of the interface, so that the page and the list of findings speak alike.
    private const int Rubric = 0xB8382B;
    private const double BarLeft = 12;
    private const double BarWidth = 3;
    private const double LineHeight = 12;
    private const double StruckDepth = 5;

    // A spot further behind its finding than this is another one's.
    private const int Reach = 2_000;

    /// <summary>The pages with the marks; those given stay as they are.</summary>
    public static IReadOnlyList<Page> With(IReadOnlyList<Page> pages, FindingLog findings)
    {
        int[] wanted = [.. findings.All.Where(f => f.Kind == FindingKind.Fix && f.Position >= 0).Select(f => f.Position).Distinct().Order()];
        if (wanted.Length == 0)
        {
            return pages;
        }

        var spots = new (int Distance, int Page, Placed Placed)[wanted.Length];
        Array.Fill(spots, (Reach, -1, default));
        for (int p = 0; p < pages.Count; p++)
        {
            foreach (Placed placed in pages[p].Marks)
            {
                if (placed.Mark is not GlyphMark { Positions: [.., >= 0 and var last] })
                {
                    continue;
                }

                // The word that ends at or after the spot, and nearest to it.
                int at = Array.BinarySearch(wanted, last + placed.Base);
                for (int i = at >= 0 ? at : ~at - 1; i >= 0; i--)
                {
                    int distance = last + placed.Base - wanted[i];
                    if (distance >= spots[i].Distance)
                    {
                        break;
                    }

                    spots[i] = (distance, p, placed);
                }
            }
        }

        Page[] marked = [.. pages];
        foreach ((_, int page, Placed placed) in spots.Where(s => s.Page >= 0).DistinctBy(s => (s.Page, s.Placed)))
        {
            var glyphs = (GlyphMark)placed.Mark;
            if (ReferenceEquals(marked[page], pages[page]))
            {
                marked[page] = pages[page].Copy();
            }

            marked[page].Marks.Add(new Placed(new RuleMark(Math.Max(3, glyphs.Edges[^1]), 0.8, Rubric), placed.X, placed.Y + 2.6));
            marked[page].Marks.Add(new Placed(new RuleMark(BarWidth, glyphs.Size * 1.2, Rubric), BarLeft, placed.Y + (glyphs.Size * 0.25)));
        }

        return marked;
    }

    /// <summary>Adds a bar at the paper's edge beside each line with a marked change, so that changes are found by leafing.</summary>
    public static void AddChangeBars(IReadOnlyList<Page> pages)
    {
        foreach (Page page in pages)
        {
            // Lines under and through changed words are the only ones in these colours; a formula's own lines have them within a change.
            List<(double Y, int Colour)> lines = [.. page.Marks
                .Where(m => m.Mark is RuleMark { Colour: ChangeMarks.InsertedColour or ChangeMarks.DeletedColour, Height: < 1 })
                .Select(m => (m.Y, ((RuleMark)m.Mark).Colour)).Distinct()];
            page.Marks.AddRange(lines.Select(l => new Placed(
                new RuleMark(BarWidth, LineHeight, l.Colour), l.Colour == ChangeMarks.InsertedColour ? BarLeft + BarWidth + 1 : BarLeft, l.Y + (l.Colour == ChangeMarks.InsertedColour ? 0 : StruckDepth))));
        }
    }
}
