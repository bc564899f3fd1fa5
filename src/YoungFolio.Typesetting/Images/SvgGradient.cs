using System.Globalization;
using System.Xml.Linq;

namespace YoungFolio.Typesetting.Images;

/// <summary>A gradient of an SVG (version 1.1, chapter 13) as a shading of PDF (ISO 32000-1, 8.7.4.5).</summary>
/// <param name="Shading">The shading's dictionary.</param>
/// <param name="Matrix">From the gradient's own coordinates to those of the figure.</param>
/// <param name="Opacity">Mean opacity of its stops.</param>
internal sealed record SvgGradient(string Shading, SvgMatrix Matrix, double Opacity)
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

        string coordinates;
        bool isRadial = element.Name.LocalName == "radialGradient";
        if (isRadial)
        {
            double cx = Number("cx", 0.5);
            double cy = Number("cy", 0.5);
            coordinates = $"{N(Number("fx", cx))} {N(Number("fy", cy))} 0 {N(cx)} {N(cy)} {N(Number("r", 0.5))}";
        }
        else
        {
            coordinates = $"{N(Number("x1", 0))} {N(Number("y1", 0))} {N(Number("x2", 1))} {N(Number("y2", 0))}";
        }

        List<(double At, int Colour, double Opacity)> read = [.. stops.Select(s => Stop(s, styles))];
        for (int i = 1; i < read.Count; i++)
        {
            // A stop never lies before the one in front of it.
            read[i] = read[i] with { At = Math.Max(read[i].At, read[i - 1].At) };
        }

        return new SvgGradient(
            $"<</ShadingType {(isRadial ? 3 : 2)} /ColorSpace /DeviceRGB /Coords [{coordinates}] /Function {Function(read)} /Extend [true true]>>",
            own, read.Average(s => s.Opacity));

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

    // A straight passage between each two stops, put together to one function (ISO 32000-1, 7.10.3 and 7.10.4).
    private static string Function(List<(double At, int Colour, double Opacity)> stops)
    {
        if (stops[0].At > 0)
        {
            stops.Insert(0, stops[0] with { At = 0 });
        }

        if (stops[^1].At < 1)
        {
            stops.Add(stops[^1] with { At = 1 });
        }

        if (stops.Count == 1)
        {
            stops.Add(stops[0] with { At = 1 });
        }

        List<string> passages = [];
        List<string> bounds = [];
        for (int i = 0; i + 1 < stops.Count; i++)
        {
            if (stops[i + 1].At > stops[i].At)
            {
                passages.Add($"<</FunctionType 2 /Domain [0 1] /C0 [{Colour(stops[i].Colour)}] /C1 [{Colour(stops[i + 1].Colour)}] /N 1>>");
                bounds.Add(N(stops[i + 1].At));
            }
        }

        return passages.Count == 1
            ? passages[0]
            : $"<</FunctionType 3 /Domain [0 1] /Functions [{string.Join(' ', passages)}] /Bounds [{string.Join(' ', bounds.SkipLast(1))}] /Encode [{string.Join(' ', passages.Select(_ => "0 1"))}]>>";
    }

    private static string Colour(int colour) => $"{N((colour >> 16 & 255) / 255.0)} {N((colour >> 8 & 255) / 255.0)} {N((colour & 255) / 255.0)}";

    private static string N(double value) => value.ToString("0.####", CultureInfo.InvariantCulture);
}
