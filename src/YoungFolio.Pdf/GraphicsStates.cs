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
            _shadings[NameOf(shading)] = shading.Shading;
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
        "G" + XxHash64.HashToUInt64(MemoryMarshal.AsBytes(shading.Shading.AsSpan())).ToString("X16", CultureInfo.InvariantCulture);

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
