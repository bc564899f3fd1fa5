using System.Globalization;

namespace YoungFolio.Markup;

/// <summary>
/// Units of length, in points of the printer: 72.27 to the inch (The TeXbook, ch. 10). Lengths in this code are in these points where nothing else is said.
/// </summary>
public static class Units
{
    /// <summary>An inch.</summary>
    public const double Inch = 72.27;

    /// <summary>A centimetre.</summary>
    public const double Centimetre = Inch / 2.54;

    /// <summary>A millimetre.</summary>
    public const double Millimetre = Inch / 25.4;

    /// <summary>A point of PDF and PostScript: 72 to the inch.</summary>
    public const double BigPoint = Inch / 72;

    /// <summary>A pica: 12 points.</summary>
    public const double Pica = 12;

    /// <summary>A point of Didot: 1157 are 1238 points.</summary>
    public const double DidotPoint = 1238.0 / 1157;

    /// <summary>A cicero: 12 points of Didot.</summary>
    public const double Cicero = 12 * DidotPoint;

    /// <summary>The least length: 65,536 are a point.</summary>
    public const double ScaledPoint = 1 / 65536.0;

    /// <summary>A length in points as words say it, in millimetres with so many figures behind the point.</summary>
    public static string InMillimetres(double points, int figures = 1) => (points / Millimetre).ToString("F" + figures, CultureInfo.InvariantCulture);
}
