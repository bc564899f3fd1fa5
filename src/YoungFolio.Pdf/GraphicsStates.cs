using System.Globalization;
using System.IO.Hashing;
using System.Runtime.InteropServices;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Pdf;

/// <summary>Opacities and shadings that pages use: resources with names that depend on nothing but what they are.</summary>
internal sealed class GraphicsStates
{
    private readonly SortedDictionary<string, string> _states = new(StringComparer.Ordinal);
    private readonly SortedDictionary<string, string> _shadings = new(StringComparer.Ordinal);

    /// <summary>Notes what a mark needs.</summary>
    public void Use(Mark mark)
    {
        if (mark is PathMark path)
        {
            UseOpacity('f', path.FillOpacity);
            UseOpacity('s', path.StrokeOpacity);
        }
        else if (mark is ShadingMark shading)
        {
            UseOpacity('f', shading.Opacity);
            _shadings[NameOf(shading)] = Shading(shading.Gradient);
        }
    }

    /// <summary>Entries for a resource dictionary; empty when nothing was used.</summary>
    public string Entries =>
        (_states.Count == 0 ? "" : $" /ExtGState <<{Joined(_states)}>>") + (_shadings.Count == 0 ? "" : $" /Shading <<{Joined(_shadings)}>>");

    /// <summary>Operators that set a path's opacities; empty for an opaque one.</summary>
    public static string Operators(PathMark path) => Fill(path.FillOpacity) + (Percent(path.StrokeOpacity) is < 100 and var s ? $"/s{s} gs\n" : "");

    /// <summary>The operator that sets the opacity of what is filled; empty for an opaque one.</summary>
    public static string Fill(double opacity) => Percent(opacity) is < 100 and var f ? $"/f{f} gs\n" : "";

    /// <summary>Name of a shading.</summary>
    public static string NameOf(ShadingMark shading) =>
        "G" + XxHash64.HashToUInt64(MemoryMarshal.AsBytes(Shading(shading.Gradient).AsSpan())).ToString("X16", CultureInfo.InvariantCulture);

    // The dictionary (ISO 32000-1, 8.7.4.5).
    private static string Shading(Gradient gradient) =>
        $"<</ShadingType {(gradient.IsRadial ? 3 : 2)} /ColorSpace /DeviceRGB /Coords [{string.Join(' ', gradient.Coordinates.Select(N))}] /Function {Function(gradient.Stops)} /Extend [true true]>>";

    // A straight passage between each two stops, put together to one function (ISO 32000-1, 7.10.3 and 7.10.4).
    private static string Function(IReadOnlyList<(double At, int Colour)> stops)
    {
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

    private static string Joined(SortedDictionary<string, string> entries) => string.Join(' ', entries.Select(e => $"/{e.Key} {e.Value}"));

    private static int Percent(double opacity) => (int)Math.Round(Math.Clamp(opacity, 0, 1) * 100);

    private void UseOpacity(char kind, double opacity)
    {
        int percent = Percent(opacity);
        if (percent < 100)
        {
            _states[$"{kind}{percent}"] = string.Create(CultureInfo.InvariantCulture, $"<</{(kind == 'f' ? "ca" : "CA")} {percent / 100.0:0.##}>>");
        }
    }
}
