using System.Text.RegularExpressions;
using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.HandIn;

/// <summary>A name that an anonymous copy still has.</summary>
/// <param name="Name">The name.</param>
/// <param name="Times">How often it stands in the text; the list of sources doesn't count.</param>
public sealed record NameLeft(string Name, int Times);

/// <summary>A manuscript for readers who mustn't know whose it is.</summary>
public static partial class AnonymousCopy
{
    private const int ShortestName = 3;

    /// <summary>The manuscript without authors, their places and thanks.</summary>
    public static ManuscriptSnapshot Of(ManuscriptSnapshot snapshot)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        return snapshot with
        {
            Files = new FileTree(snapshot.Files.Paths.Select(p => snapshot.Files.Find(p)!).Select(f =>
                SafeNames.IsMarkup(f.Path) && AnonymousMarkup.Of(f.Text) is var text && text != f.Text ? ManuscriptFile.FromText(f.Path, text) : f)),
        };
    }

    /// <summary>Names of the authors that stand in the copy all the same.</summary>
    /// <param name="text">The copy's words.</param>
    /// <param name="authors">Who wrote it, as the PDF says it.</param>
    public static IReadOnlyList<NameLeft> NamesLeft(string text, string authors)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(authors);
        // Works of one's own are cited as those of others are.
        int sources = text.LastIndexOf("\nReferences\n", StringComparison.Ordinal) is >= 0 and var references ? references : text.LastIndexOf("\nBibliography\n", StringComparison.Ordinal);
        string body = sources > 0 ? text[..sources] : text;
        return [.. Separators().Split(authors).Select(a => a.Trim().Split(' ')[^1]).Where(n => n.Length >= ShortestName).Distinct(StringComparer.Ordinal)
            .Select(n => new NameLeft(n, Regex.Count(body, $@"(?<![\p{{L}}]){Regex.Escape(n)}(?![\p{{L}}])"))).Where(n => n.Times > 0)];
    }

    [GeneratedRegex(@"[,;]|\band\b|\\and")]
    private static partial Regex Separators();
}
