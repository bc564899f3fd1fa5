using System.Globalization;
using YoungFolio.Compiler;

namespace YoungFolio.HandIn;

/// <summary>What files are called that are handed in.</summary>
public static class HandInName
{
    private const int Longest = 80;

    /// <summary>The name that the rules ask for, without an ending: small letters, figures and hyphens, so that every system reads it.</summary>
    /// <param name="rules">The rules.</param>
    /// <param name="print">What the PDF says of itself.</param>
    /// <param name="title">The title where the PDF says none.</param>
    /// <param name="year">The year.</param>
    public static string Of(HouseRules rules, PrintFacts print, string title, int year)
    {
        ArgumentNullException.ThrowIfNull(rules);
        ArgumentNullException.ThrowIfNull(print);
        string author = rules.IsAnonymous ? "" : print.Author.Split([',', ';'])[0].Trim();
        string name = (rules.FileName is { Length: > 0 } given ? given : "{title}")
            .Replace("{author}", author.Split(' ')[^1], StringComparison.Ordinal)
            .Replace("{year}", year.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal)
            .Replace("{title}", print.Title.Trim() is { Length: > 0 } own ? own : title, StringComparison.Ordinal);
        string plain = SafeNames.Of(name).ToLowerInvariant();
        string made = plain[..Math.Min(plain.Length, Longest)].Trim('-', '.');
        return made.Length == 0 ? "manuscript" : made;
    }
}
