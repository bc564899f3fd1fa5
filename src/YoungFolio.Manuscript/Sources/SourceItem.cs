using System.Text.RegularExpressions;
using YoungFolio.Bibliography;

namespace YoungFolio.Manuscript.Sources;

/// <summary>A source as <c>\bibitem</c>, for a list that needs no .bib file and no style.</summary>
internal static partial class SourceItem
{
    /// <summary>The item as markup, on lines of its own.</summary>
    /// <param name="source">The source.</param>
    /// <param name="style">The style that it is printed in.</param>
    /// <param name="isNamed">Whether citations may show names and years, as natbib reads them from the label.</param>
    /// <param name="hasAddresses">Whether the manuscript loads a package that has <c>\url</c>.</param>
    /// <param name="hasLinks">Whether it loads one that has <c>\href</c>.</param>
    public static string Of(ListedSource source, BibliographyStyle style, bool isNamed, bool hasAddresses, bool hasLinks)
    {
        // Braces keep a bracket within from ending the label.
        string label = style.Label == CitationLabel.Letters ? $"[{source.Letters}]" : isNamed ? $"[{{{source.Authors}({source.Year}){source.AllAuthors}}}]" : "";
        string reference = Address().Replace(source.Reference, a =>
        {
            string address = a.Groups[2].Value.Replace("\\%", "%", StringComparison.Ordinal).Replace("\\#", "#", StringComparison.Ordinal);
            bool isDoi = a.Groups[1].Value == "doi";
            // Within the argument of another command a % would begin a comment.
            string quoted = address.Replace("%", "\\%", StringComparison.Ordinal).Replace("#", "\\#", StringComparison.Ordinal);
            return isDoi && hasLinks ? $"\\href{{https://doi.org/{quoted}}}{{\\nolinkurl{{{quoted}}}}}"
                : hasAddresses ? $"\\url{{{address}}}" : $"\\texttt{{{MarkupText.Escape(address)}}}";
        });
        return $"\\bibitem{label}{{{source.Entry.Key}}}\n{reference}\n";
    }

    [GeneratedRegex(@"\\source@(url|doi)\{([^{}]*)\}")]
    private static partial Regex Address();
}
