using System.Globalization;
using System.Text;
using YoungFolio.Documents;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Lines;

/// <summary>Curves of drawings as paths.</summary>
internal static class DrawnPath
{
    /// <summary>The path of a curve.</summary>
    public static PathMark Of(DrawnCurve curve)
    {
        var text = new StringBuilder();
        string colour = string.Join(' ', new[] { curve.Colour >> 16, curve.Colour >> 8, curve.Colour }.Select(c => Number((c & 255) / 255.0)));
        text.Append(colour).Append(curve.IsFilled ? " rg\n" : " RG\n");
        if (!curve.IsFilled)
        {
            text.Append(Number(curve.Pen)).Append(" w 1 J 1 j\n");
            if (curve.Dash > 0)
            {
                text.Append('[').Append(Number(curve.Dash)).Append("] 0 d\n");
            }
        }

        Point(curve.Points[0]).Append("m\n");
        for (int i = 1; i + 2 < curve.Points.Count; i += 3)
        {
            Point(curve.Points[i]);
            Point(curve.Points[i + 1]);
            Point(curve.Points[i + 2]).Append("c\n");
        }

        return new PathMark(text.Append(curve.IsFilled ? "f\n" : "S\n").ToString());

        StringBuilder Point((double X, double Y) at) => text.Append(Number(at.X)).Append(' ').Append(Number(at.Y)).Append(' ');
    }

    private static string Number(double value) => Math.Round(value, 4).ToString("0.####", CultureInfo.InvariantCulture);
}
