using YoungFolio.Manuscript.Building;
using YoungFolio.Manuscript.Languages;

namespace YoungFolio.Manuscript.Packages;

/// <summary>What labelled things are called in references.</summary>
internal static class ReferenceNames
{
    /// <summary>The name of a kind; of a theorem-like kind its printed name.</summary>
    public static string Of(DocumentBuilder builder, string kind, bool many, bool capital)
    {
        string general = kind switch
        {
            "subsection" or "subsubsection" or "paragraph" or "subparagraph" => "section",
            "enumi" or "enumii" or "enumiii" or "enumiv" => "item",
            "lstlisting" => "listing",
            "FancyVerbLine" => "line",
            _ => kind.StartsWith("sub", StringComparison.Ordinal) && kind[3..] is "figure" or "table" ? kind[3..] : kind,
        };
        Language language = Language.Of(builder.Text.Language);
        string name;
        if (language.Reference(general) is { } known)
        {
            name = many ? known.Many : known.One;
        }
        else
        {
            name = builder.Theorems.TheoremTitles.GetValueOrDefault(general) ?? general;
            name = language.CapitalisesNouns || capital ? name : name.ToLowerInvariant();
            name = !many ? name : name.EndsWith('y') ? name[..^1] + "ies" : name + "s";
        }

        return capital && name.Length > 0 ? char.ToUpperInvariant(name[0]) + name[1..] : name;
    }

    /// <summary>Words between members of a list, and within a range.</summary>
    public static (string And, string To) Conjunctions(string language) => ($" {Language.Of(language).And} ", $" {Language.Of(language).To} ");
}
