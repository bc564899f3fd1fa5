using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Papers by name.</summary>
internal static class Papers
{
    /// <summary>Width and height in points of 1/72.27 in (ISO 216; American papers by common practice); null: there is none of that name.</summary>
    /// <param name="name">The name, without <c>paper</c>.</param>
    public static (double Width, double Height)? Find(string name) => name switch
    {
        "a0" => (841 * Units.Millimetre, 1189 * Units.Millimetre),
        "a1" => (594 * Units.Millimetre, 841 * Units.Millimetre),
        "a2" => (420 * Units.Millimetre, 594 * Units.Millimetre),
        "a3" => (297 * Units.Millimetre, 420 * Units.Millimetre),
        "a4" => (210 * Units.Millimetre, 297 * Units.Millimetre),
        "a5" => (148 * Units.Millimetre, 210 * Units.Millimetre),
        "a6" => (105 * Units.Millimetre, 148 * Units.Millimetre),
        "b0" => (1000 * Units.Millimetre, 1414 * Units.Millimetre),
        "b1" => (707 * Units.Millimetre, 1000 * Units.Millimetre),
        "b2" => (500 * Units.Millimetre, 707 * Units.Millimetre),
        "b3" => (353 * Units.Millimetre, 500 * Units.Millimetre),
        "b4" => (250 * Units.Millimetre, 353 * Units.Millimetre),
        "b5" => (176 * Units.Millimetre, 250 * Units.Millimetre),
        "b6" => (125 * Units.Millimetre, 176 * Units.Millimetre),
        "letter" => (8.5 * Units.Inch, 11 * Units.Inch),
        "legal" => (8.5 * Units.Inch, 14 * Units.Inch),
        "executive" => (7.25 * Units.Inch, 10.5 * Units.Inch),
        _ => null,
    };
}
