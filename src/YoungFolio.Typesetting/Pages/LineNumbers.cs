using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Lines;

namespace YoungFolio.Typesetting.Pages;

/// <summary>Numbers the lines of a flow in its margin.</summary>
internal sealed class LineNumbers(ParagraphSetter setter, double measure)
{
    // What lineno calls \linenumbersep, and the size of its type (its documentation, from memory).
    private const double Separation = 10;
    private const double Size = 5;

    private int _series = -1;
    private int _next = 1;

    /// <summary>The next line with its number beside it, where it gets one.</summary>
    /// <param name="line">The line's marks.</param>
    /// <param name="numbering">How lines are numbered here.</param>
    /// <param name="indent">Where the line begins, from the left of the text.</param>
    public Box Beside(Box line, LineNumbering numbering, double indent)
    {
        if (numbering.Series != _series)
        {
            (_series, _next) = (numbering.Series, numbering.First);
        }

        int number = _next++;
        if (number % Math.Max(1, numbering.Every) != 0)
        {
            return line;
        }

        string text = number.ToString(CultureInfo.InvariantCulture);
        Box sign = setter.SetBox([new TextRun(text, [.. Enumerable.Repeat(PositionTable.None, text.Length)], new TextStyle(FontFamily.Sans, false, FontShape.Upright, Size))]);
        var result = new Box { Width = line.Width };
        result.Add(line, 0, 0);
        double left = numbering.IsRight ? measure + Separation : -Separation - sign.Width;
        result.Marks.AddRange(sign.Marks.Select(m => m with { X = m.X + left - indent, Owner = null }));
        return result;
    }
}
