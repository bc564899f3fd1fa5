using System.Xml.Linq;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Images;

/// <summary>A gradient of an SVG (version 1.1, chapter 13).</summary>
/// <param name="Colours">Its colours.</param>
/// <param name="Matrix">From the gradient's own coordinates to those of the figure.</param>
/// <param name="Opacity">Mean opacity of its stops.</param>
internal sealed record SvgGradient(Gradient Colours, SvgMatrix Matrix, double Opacity)
{
    private const int MostSteps = 10;

    /// <summary>Reads a gradient for a shape.</summary>
    /// <param name="element">The gradient.</param>
    /// <param name="find">Finds an element by its id: gradients take what they lack from others.</param>
    /// <param name="styles">Reads colours.</param>
    /// <param name="matrix">From the shape's coordinates to the figure's.</param>
    /// <param name="box">The shape's bounds in its coordinates.</param>
    /// <returns>The gradient; null when it has no stops or no extent.</returns>
    public static SvgGradient? Read(XElement element, Func<string, XElement?> find, SvgStyles styles, SvgMatrix matrix, (double X, double Y, double Width, double Height) box)
    {
        List<XElement> chain = Chain(element, find);
        List<XElement> stops = chain.Select(e => e.Elements().Where(s => s.Name.LocalName == "stop").ToList()).FirstOrDefault(s => s.Count > 0) ?? [];
        bool isBox = Attribute("gradientUnits") != "userSpaceOnUse";
        if (stops.Count == 0 || (isBox && (box.Width <= 0 || box.Height <= 0)))
        {
            return null;
        }

        SvgMatrix own = isBox ? matrix.After(new SvgMatrix(box.Width, 0, 0, box.Height, box.X, box.Y)) : matrix;
        if (Attribute("gradientTransform") is { } transform)
        {
            own = own.After(SvgMatrix.Parse(transform));
        }

        double[] coordinates;
        bool isRadial = element.Name.LocalName == "radialGradient";
        if (isRadial)
        {
            double cx = Number("cx", 0.5);
            double cy = Number("cy", 0.5);
            coordinates = [Number("fx", cx), Number("fy", cy), 0, cx, cy, Number("r", 0.5)];
        }
        else
        {
            coordinates = [Number("x1", 0), Number("y1", 0), Number("x2", 1), Number("y2", 0)];
        }

        List<(double At, int Colour, double Opacity)> read = [.. stops.Select(s => Stop(s, styles))];
        for (int i = 1; i < read.Count; i++)
        {
            // A stop never lies before the one in front of it.
            read[i] = read[i] with { At = Math.Max(read[i].At, read[i - 1].At) };
        }

        return new SvgGradient(new Gradient(isRadial, coordinates, [.. FromEndToEnd([.. read.Select(s => (s.At, s.Colour))])]), own, read.Average(s => s.Opacity));

        string? Attribute(string name) => chain.Select(e => e.Attribute(name)?.Value).FirstOrDefault(v => v is not null);

        double Number(string name, double share)
        {
            string? text = Attribute(name);
            if (text is null)
            {
                // Without a number, a share of the shape's box or, in user units, of the figure, taken to be the shape's.
                return isBox ? share : name is "x1" or "x2" or "cx" or "fx" ? box.X + (share * box.Width) : name == "r" ? share * Math.Max(box.Width, box.Height) : box.Y + (share * box.Height);
            }

            return text.EndsWith('%') ? (SvgStyles.Length(text[..^1]) ?? 0) / 100 : SvgStyles.Length(text) ?? share;
        }
    }

    private static List<XElement> Chain(XElement element, Func<string, XElement?> find)
    {
        List<XElement> chain = [];
        for (XElement? e = element; e is not null && chain.Count < MostSteps;)
        {
            chain.Add(e);
            string? link = e.Attributes().FirstOrDefault(a => a.Name.LocalName == "href")?.Value;
            e = link is { Length: > 1 } && link[0] == '#' ? find(link[1..]) : null;
        }

        return chain;
    }

    private static (double At, int Colour, double Opacity) Stop(XElement stop, SvgStyles styles)
    {
        string offset = stop.Attribute("offset")?.Value.Trim() ?? "0";
        double at = offset.EndsWith('%') ? (SvgStyles.Length(offset[..^1]) ?? 0) / 100 : SvgStyles.Length(offset) ?? 0;
        SvgStyle style = styles.Of(stop, new SvgStyle());
        return (Math.Clamp(at, 0, 1), style.StopColour, style.StopOpacity);
    }

    private static List<(double At, int Colour)> FromEndToEnd(List<(double At, int Colour)> stops)
    {
        if (stops[0].At > 0)
        {
            stops.Insert(0, stops[0] with { At = 0 });
        }

        if (stops[^1].At < 1 || stops.Count == 1)
        {
            stops.Add(stops[^1] with { At = 1 });
        }

        return stops;
    }
}
