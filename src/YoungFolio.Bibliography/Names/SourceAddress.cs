using System.Text.RegularExpressions;

namespace YoungFolio.Bibliography;

/// <summary>Addresses in references, as markup.</summary>
internal static partial class SourceAddress
{
    /// <summary>An address that prints as one.</summary>
    public static string Markup(string url) => $"\\source@url{{{Raw(url)}}}";

    /// <summary>A text with its typed addresses, which print as such, whether or not the preamble loads a package for them; null when it has none.</summary>
    public static string? Typed(string value) => value.Contains("\\url{", StringComparison.Ordinal) ? Written().Replace(value, m => Markup(m.Groups[1].Value)) : null;

    /// <summary>An address whose signs the markup doesn't take for its own.</summary>
    public static string Raw(string address) => address.Replace("\\%", "%", StringComparison.Ordinal).Replace("\\#", "#", StringComparison.Ordinal)
        .Replace("%", "\\%", StringComparison.Ordinal).Replace("#", "\\#", StringComparison.Ordinal);

    /// <summary>A DOI without the address of the service that finds it.</summary>
    public static string BareDoi(string doi)
    {
        int at = doi.IndexOf("10.", StringComparison.Ordinal);
        return at > 0 ? doi[at..] : doi;
    }

    [GeneratedRegex(@"\\url\{([^{}]*)\}")]
    private static partial Regex Written();
}
