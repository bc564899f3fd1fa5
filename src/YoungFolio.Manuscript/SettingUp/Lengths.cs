using System.Globalization;
using System.Text.RegularExpressions;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.SettingUp;

/// <summary>Lengths as they are typed.</summary>
public static partial class Lengths
{
    private static readonly Dictionary<string, double> s_units = new(StringComparer.Ordinal)
    {
        ["pt"] = 1, ["in"] = Units.Inch, ["cm"] = Units.Centimetre, ["mm"] = Units.Millimetre, ["bp"] = Units.BigPoint, ["pc"] = Units.Pica, ["dd"] = Units.DidotPoint, ["cc"] = Units.Cicero,
        ["sp"] = Units.ScaledPoint,
    };

    /// <summary>Whether words are a length: a number with a unit, a share of another length, or one with stretch.</summary>
    public static bool IsLength(string words)
    {
        ArgumentNullException.ThrowIfNull(words);
        return Length().IsMatch(words.Trim());
    }

    /// <summary>A length in points of 1/72.27 in; null where only a compile can say.</summary>
    public static double? Points(string words)
    {
        ArgumentNullException.ThrowIfNull(words);
        return Plain().Match(words.Trim()) is { Success: true } match && double.TryParse(match.Groups[1].Value.Replace(',', '.'), CultureInfo.InvariantCulture, out double number)
            ? number * s_units[match.Groups[2].Value] : null;
    }

    [GeneratedRegex(@"^(-?[0-9]*[.,]?[0-9]+)\s*(pt|in|cm|mm|bp|pc|dd|cc|sp)$")]
    private static partial Regex Plain();

    [GeneratedRegex(@"^-?(?:[0-9]*[.,]?[0-9]+\s*(?:pt|in|cm|mm|bp|pc|dd|cc|sp|em|ex)|(?:[0-9]*[.,]?[0-9]+)?\s*\\[A-Za-z]+)(?:\s*plus\s*[0-9.]+\s*[a-z]{2,4})?(?:\s*minus\s*[0-9.]+\s*[a-z]{2,4})?$")]
    private static partial Regex Length();
}
