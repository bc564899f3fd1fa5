using YoungFolio.Documents;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Lines;

/// <summary>What references print, as far as pages are known.</summary>
internal static class References
{
    /// <summary>The text, and the anchor that it leads to; null when its label isn't there.</summary>
    public static (string Text, string? Target) Resolve(SettingContext context, ReferenceInline reference)
    {
        if (!context.Document.Labels.TryGetValue(reference.Key, out Label? label))
        {
            return ("??", null);
        }

        string page = context.Known.TryGetValue(label.PageAnchor, out AnchorPlace place) ? place.Label : "0";
        return (reference.Kind == ReferenceKind.Page ? page : label.Number ?? page, label.Anchor);
    }
}
