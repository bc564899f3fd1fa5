namespace YoungFolio.Manuscript.Building;

/// <summary>Papers by name.</summary>
internal static class Papers
{
    private const double Inch = 72.27;
    private const double Millimetre = Inch / 25.4;

    /// <summary>Width and height in points of 1/72.27 in (ISO 216; American papers by common practice); null: there is none of that name.</summary>
    /// <param name="name">The name, without <c>paper</c>.</param>
    public static (double Width, double Height)? Find(string name) => name switch
    {
        "a4" => (210 * Millimetre, 297 * Millimetre),
        "a5" => (148 * Millimetre, 210 * Millimetre),
        "b5" => (176 * Millimetre, 250 * Millimetre),
        "letter" => (8.5 * Inch, 11 * Inch),
        "legal" => (8.5 * Inch, 14 * Inch),
        "executive" => (7.25 * Inch, 10.5 * Inch),
        _ => null,
    };
}
