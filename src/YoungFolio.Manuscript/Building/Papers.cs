using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Papers by name.</summary>
internal static class Papers
{
    /// <summary>Width and height in points of 1/72.27 in (ISO 216; American papers by common practice); null: there is none of that name.</summary>
    /// <param name="name">The name, without <c>paper</c>.</param>
    public static (double Width, double Height)? Find(string name) => name switch
    {
        "a4" => (210 * Units.Millimetre, 297 * Units.Millimetre),
        "a5" => (148 * Units.Millimetre, 210 * Units.Millimetre),
        "b5" => (176 * Units.Millimetre, 250 * Units.Millimetre),
        "letter" => (8.5 * Units.Inch, 11 * Units.Inch),
        "legal" => (8.5 * Units.Inch, 14 * Units.Inch),
        "executive" => (7.25 * Units.Inch, 10.5 * Units.Inch),
        _ => null,
    };
}
