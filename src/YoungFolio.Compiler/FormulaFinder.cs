using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;

namespace YoungFolio.Compiler;

/// <summary>Finds the formula at a place of the source.</summary>
internal static class FormulaFinder
{
    /// <summary>The formula that a position lies in or right behind; null when there is none.</summary>
    public static (IReadOnlyList<MathList> Rows, TextStyle Style, bool IsDisplay)? At(Document document, int position)
    {
        (IReadOnlyList<MathList>, TextStyle, bool)? best = null;
        int width = int.MaxValue;
        foreach ((IReadOnlyList<MathList> rows, TextStyle style, bool isDisplay) in All(document.Blocks))
        {
            (int first, int last) = Range(rows);
            // One sign to either side: the dollar or the bracket around it.
            if (first >= 0 && position >= first - 2 && position <= last + 2 && last - first < width)
            {
                best = (rows, style, isDisplay);
                width = last - first;
            }
        }

        return best;
    }

    /// <summary>The first formula; null when there is none.</summary>
    public static (IReadOnlyList<MathList> Rows, TextStyle Style, bool IsDisplay)? First(Document document)
    {
        foreach ((IReadOnlyList<MathList>, TextStyle, bool) formula in All(document.Blocks))
        {
            return formula;
        }

        return null;
    }

    private static (int First, int Last) Range(IReadOnlyList<MathList> rows)
    {
        int first = int.MaxValue;
        int last = -1;
        foreach (MathNode node in rows.SelectMany(MathWalk.Nodes).Where(n => n.Position >= 0))
        {
            first = Math.Min(first, node.Position);
            last = Math.Max(last, node.Position);
        }

        return last < 0 ? (-1, -1) : (first, last);
    }

    // Formulas stand anywhere: in cells, boxes, notes, in words within other formulas.
    private static IEnumerable<(IReadOnlyList<MathList> Rows, TextStyle Style, bool IsDisplay)> All(IEnumerable<Block> blocks)
    {
        foreach (Node node in NodeWalk.All(blocks))
        {
            if (node is DisplayBlock display)
            {
                yield return ([.. display.Rows.Select(r => new MathList([.. r.Cells.SelectMany(c => c.Nodes)]))], display.Style, true);
            }
            else if (node is MathInline math)
            {
                yield return ([math.Formula], math.Style, false);
            }
        }
    }
}
