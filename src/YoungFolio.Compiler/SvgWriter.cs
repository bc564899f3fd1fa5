using System.Globalization;
using System.Text;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Compiler;

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
