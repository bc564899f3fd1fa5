using System.Globalization;
using System.Text.RegularExpressions;
using YoungFolio.Manuscript.Searching;

namespace YoungFolio.HandIn;

/// <summary>The list of sources as it is printed, typed into the text: for places that read no .bib files.</summary>
public static partial class ReadyList
{
    /// <summary>Puts the list where a text has <c>\bibliography</c>.</summary>
    /// <param name="text">The text.</param>
    /// <param name="items">The sources as items, in the order of printing.</param>
    /// <returns>The text with the list; null when the command isn't there, or more than once.</returns>
    public static string? Put(string text, IReadOnlyList<string> items)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(items);
        (int From, int To)[] typed = [.. TypedMarkup.AsTyped(text)];
        Match[] places = [.. Printing().Matches(text).Where(m => !TypedMarkup.IsComment(text, m.Index) && !typed.Any(t => t.From <= m.Index && m.Index < t.To))];
        return places is [var place] ? string.Concat(text.AsSpan(0, place.Index), Of(items), text.AsSpan(place.Index + place.Length)) : null;
    }

    private static string Of(IReadOnlyList<string> items)
    {
        // The room for labels: numbers have as many figures as the last one.
        string figures = new('9', items.Count.ToString(CultureInfo.InvariantCulture).Length);
        string widest = items.Select(i => Label().Match(i).Groups[1].Value).Append(figures).MaxBy(l => l.Length)!;
        return $"\\begin{{thebibliography}}{{{widest}}}\n\n{string.Join('\n', items)}\n\\end{{thebibliography}}";
    }

    [GeneratedRegex(@"\\bibliography\s*\{[^{}]*\}")]
    private static partial Regex Printing();

    [GeneratedRegex(@"^\\bibitem\[([^{\]]*)\]", RegexOptions.Multiline)]
    private static partial Regex Label();
}
