using System.Text;
using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Manuscript.Classes;
using YoungFolio.Manuscript.Languages;
using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Manuscript.Packages;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>What is covered, read off the code itself: classes, packages, and the commands and environments of the kernel.</summary>
public static class MarkupRegistry
{
    private static readonly Lazy<(IReadOnlyList<string> Commands, IReadOnlyList<string> Environments, IReadOnlyList<string> Symbols)> s_kernel = new(ReadKernel);

    /// <summary>Commands that need no package, in order; formulas' symbols are listed apart.</summary>
    public static IReadOnlyList<string> KernelCommands => s_kernel.Value.Commands;

    /// <summary>Environments that need no package, in order.</summary>
    public static IReadOnlyList<string> KernelEnvironments => s_kernel.Value.Environments;

    /// <summary>Commands for symbols in formulas, in order.</summary>
    public static IReadOnlyList<string> Symbols => s_kernel.Value.Symbols;

    /// <summary>What a symbol prints; empty when the name is none's.</summary>
    /// <param name="symbol">The command's name.</param>
    public static string SignOf(string symbol) => s_signs.Value.GetValueOrDefault(symbol, "");

    private static readonly Lazy<Dictionary<string, string>> s_signs = new(() =>
    {
        DocumentBuilder builder = DocumentBuilder.ForRegistry();
        return Symbols.ToDictionary(n => n, n => (builder.Machine.Symbol(n).Meaning.Value as SymbolMeaning)?.Text ?? "", StringComparer.Ordinal);
    });

    private static (IReadOnlyList<string>, IReadOnlyList<string>, IReadOnlyList<string>) ReadKernel()
    {
        DocumentBuilder builder = DocumentBuilder.ForRegistry();
        var environments = builder.Environments.EnvironmentNames.Order(StringComparer.Ordinal).ToList();
        var hidden = environments.SelectMany(e => (string[])[e, "end" + e]).ToHashSet(StringComparer.Ordinal);
        // Headings that only some classes have count, too.
        List<string> names = [.. builder.Machine.Symbols.DefinedNames.Union(HeadingCommands.Names).Where(n => n.Length > 0 && !n.Contains(' ', StringComparison.Ordinal) && !hidden.Contains(n)).Order(StringComparer.Ordinal)];
        return ([.. names.Where(n => !builder.IsSymbol(n))], environments, [.. names.Where(builder.IsSymbol)]);
    }

    /// <summary>The list of what is covered, as <c>docs/markup.md</c> holds it.</summary>
    public static string ToMarkdown()
    {
        var text = new StringBuilder();
        text.Append("# Markup that is covered\n\nThis list is made from the code's own registry (`./folio markup`); a test holds that it is current. What a command does is what\n"
            + "its published manual says; what is set otherwise for now says so in its purpose. Anything else is one clear finding.\n\n## Classes\n\n| class | for | headings | options |\n| --- | --- | --- | --- |\n");
        foreach (DocumentClass c in ClassCatalogue.All)
        {
            string headings = c.Headings.Count == 0 ? "none" : string.Join(' ', c.Headings.Select(h => "`\\" + h.Command + "`"));
            text.Append(System.Globalization.CultureInfo.InvariantCulture, $"| `{c.Name}` | {c.Purpose} | {headings} | {(c.HasChapters ? "openright openany" : "")} |\n");
        }

        text.Append("\nAll take 10pt 11pt 12pt, a4paper a5paper b5paper letterpaper legalpaper executivepaper, landscape, oneside twoside, titlepage notitlepage, draft final,\n"
            + "leqno fleqn, onecolumn twocolumn, and the languages. Class and style files among the files are read.\n\n"
            + "One of ours stands in for these classes, with their commands and the page of article: " + Names([.. StandInClass.Names.Order(StringComparer.Ordinal)], "") + ".\n\n## Packages\n\n| package | gives | commands | environments |\n| --- | --- | --- | --- |\n");
        foreach (Package p in PackageCatalogue.All.OrderBy(p => p.Name, StringComparer.Ordinal))
        {
            text.Append(System.Globalization.CultureInfo.InvariantCulture, $"| `{p.Name}` | {p.Purpose} | {Names(p.Commands, "\\")} | {Names(p.Environments, "")} |\n");
        }

        text.Append("\n## Kernel environments\n\n").Append(Names(KernelEnvironments, ""));
        text.Append("\n\n## Kernel commands\n\n").Append(Names(KernelCommands, "\\"));
        text.Append("\n\n## Symbols in formulas\n\n").Append(Names(Symbols, "\\"));
        text.Append("\n\n## Languages\n\n").Append(Names([.. Language.AllNames.Order(StringComparer.Ordinal)], "")).Append('\n');
        return text.ToString();
    }

    private static string Names(IReadOnlyList<string> names, string before) =>
        string.Join(' ', names.Select(n => "`" + before + n.Replace("|", "\\|", StringComparison.Ordinal).Replace("`", "", StringComparison.Ordinal) + "`"));
}
