using System.Globalization;
using System.Text;
using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Compiler;

/// <summary>One formula of a manuscript, alone.</summary>
/// <param name="Svg">The formula as an SVG of paths, which needs no fonts.</param>
/// <param name="MathMl">The formula as MathML, for readers who listen.</param>
/// <param name="IsDisplay">Whether it is displayed.</param>
public sealed record FormulaPicture(string Svg, string MathMl, bool IsDisplay);

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

    private static IEnumerable<(IReadOnlyList<MathList> Rows, TextStyle Style, bool IsDisplay)> All(IEnumerable<Block> blocks) => blocks.SelectMany(b => b switch
    {
        DisplayBlock display => [([.. display.Rows.Select(r => new MathList([.. r.Cells.SelectMany(c => c.Nodes)]))], display.Style, true)],
        ParagraphBlock paragraph => All(paragraph.Content),
        HeadingBlock heading => All(heading.Lines),
        GroupBlock group => All(group.Content),
        FloatBlock figure => All(figure.Content),
        ColumnsBlock columns => All(columns.Content),
        LongTableBlock table => All(table.Table),
        _ => [],
    });

    private static IEnumerable<(IReadOnlyList<MathList>, TextStyle, bool)> All(IEnumerable<Inline> inlines) => inlines.SelectMany(i => i switch
    {
        MathInline math => [([math.Formula], math.Style, false)],
        LinkInline link => All(link.Content),
        DecoratedInline decorated => All(decorated.Content),
        BoxInline box => All(box.Content),
        BlockBoxInline box => All(box.Content),
        NoteInline { Body: { } body } => All(body),
        TableInline table => All(table.Table),
        _ => (IEnumerable<(IReadOnlyList<MathList>, TextStyle, bool)>)[],
    });

    private static IEnumerable<(IReadOnlyList<MathList>, TextStyle, bool)> All(Table table) =>
        table.Items.OfType<TableRow>().SelectMany(r => r.Cells).SelectMany(c => All(c.Content).Concat(All(c.Blocks ?? [])));
}

/// <summary>Writes what is set as an SVG: glyphs as their outlines.</summary>
internal static class SvgWriter
{
    /// <summary>The rows, one under the other.</summary>
    public static string Write(IReadOnlyList<Box> rows)
    {
        const double Margin = 2;
        const double Gap = 4;
        double width = rows.Max(r => r.Width) + (2 * Margin);
        double height = rows.Sum(r => r.Height + r.Depth) + ((rows.Count - 1) * Gap) + (2 * Margin);
        var text = new StringBuilder();
        text.Append(CultureInfo.InvariantCulture, $"<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{width:0.##}pt\" height=\"{height:0.##}pt\" viewBox=\"0 0 {width:0.##} {height:0.##}\">");
        double y = Margin;
        foreach (Box row in rows)
        {
            y += row.Height;
            Write(row.Marks, Margin, y, text);
            y += row.Depth + Gap;
        }

        return text.Append("</svg>").ToString();
    }

    private static void Write(IReadOnlyList<Placed> marks, double left, double baseline, StringBuilder text)
    {
        foreach (Placed placed in marks)
        {
            double x = left + placed.X;
            double y = baseline - placed.Y;
            switch (placed.Mark)
            {
                case GlyphMark mark:
                    double scale = mark.Size / mark.Font.UnitsPerEm;
                    for (int i = 0; i < mark.Glyphs.Length; i++)
                    {
                        string path = GlyphOutlines.Path(mark.Font, mark.Glyphs[i]);
                        if (path.Length > 0)
                        {
                            text.Append(CultureInfo.InvariantCulture,
                                $"<path transform=\"matrix({scale:0.#####} 0 0 {-scale:0.#####} {x + mark.Edges[i]:0.###} {y:0.###})\"{Fill(mark.Colour)} d=\"{path}\"/>");
                        }
                    }

                    break;
                case RuleMark rule:
                    text.Append(CultureInfo.InvariantCulture, $"<rect x=\"{x:0.###}\" y=\"{y - rule.Height:0.###}\" width=\"{rule.Width:0.###}\" height=\"{rule.Height:0.###}\"{Fill(rule.Colour)}/>");
                    break;
                case GroupMark group:
                    (double a, double b, double c, double d) = group.Matrix;
                    text.Append(CultureInfo.InvariantCulture, $"<g transform=\"matrix({a:0.####} {-b:0.####} {-c:0.####} {d:0.####} {x:0.###} {y:0.###})\">");
                    Write(group.Content, 0, 0, text);
                    text.Append("</g>");
                    break;
            }
        }
    }

    // Black takes the colour of the text around the picture.
    private static string Fill(int colour) => colour == 0 ? " fill=\"currentColor\"" : $" fill=\"#{colour:x6}\"";
}
