using YoungFolio.Manuscript.Classes;
using YoungFolio.Manuscript.Guide;
using YoungFolio.Manuscript.Packages;

namespace YoungFolio.Server.Api;

/// <summary>A package that a preamble may load.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Purpose">What it gives, in a sentence.</param>
/// <param name="Commands">Commands that are undefined without it.</param>
/// <param name="Environments">Environments that are undefined without it.</param>
/// <param name="Options">Options it knows by name, whether or not they have an effect; empty when it looks at them itself.</param>
/// <param name="Requires">Packages that it loads along.</param>
/// <param name="ComesAfter">Packages that must stand before it.</param>
/// <param name="Clashes">Packages that define the same commands.</param>
/// <param name="Group">What it is for.</param>
public sealed record PackageHelp(
    string Name, string Purpose, IReadOnlyList<string> Commands, IReadOnlyList<string> Environments, IReadOnlyList<string> Options,
    IReadOnlyList<string> Requires, IReadOnlyList<string> ComesAfter, IReadOnlyList<string> Clashes, string Group);

/// <summary>A document class.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Purpose">What it is for.</param>
/// <param name="Options">Options in \documentclass.</param>
public sealed record ClassHelp(string Name, string Purpose, IReadOnlyList<string> Options);

/// <summary>What there is to write with.</summary>
/// <param name="Lines">Commands and environments, with what they do.</param>
/// <param name="Symbols">The symbols of formulas.</param>
/// <param name="Packages">The packages, by name.</param>
/// <param name="Classes">The classes.</param>
/// <param name="Options">Options with their values, by what takes them.</param>
public sealed record MarkupHelp(
    IReadOnlyList<GuideLine> Lines, IReadOnlyList<GuideSymbol> Symbols, IReadOnlyList<PackageHelp> Packages, IReadOnlyList<ClassHelp> Classes,
    IReadOnlyList<GuideOptions> Options);

/// <summary>What there is to write with, and what is said of it. It is the same for everyone, and changes with the application alone.</summary>
public static class GuideApi
{
    // Standard options of the classes (Lamport, section 5.1).
    private static readonly string[] s_options =
    [
        "10pt", "11pt", "12pt", "a4paper", "a5paper", "b5paper", "letterpaper", "legalpaper", "executivepaper", "landscape", "oneside", "twoside", "onecolumn", "twocolumn", "titlepage", "notitlepage", "draft", "final", "leqno",
        "fleqn",
    ];

    private static readonly Lazy<MarkupHelp> s_help = new(() => new MarkupHelp(
        MarkupGuide.Lines,
        MarkupGuide.Signs,
        [.. PackageCatalogue.Groups.SelectMany(g => g.Packages.Select(p => new PackageHelp(p.Name, p.Purpose, p.Commands, p.Environments, p.Options ?? [], p.Requires, p.ComesAfter, p.Clashes, g.Title))).OrderBy(p => p.Name, StringComparer.Ordinal)],
        [.. ClassCatalogue.All.Select(c => new ClassHelp(c.Name, c.Purpose, [.. s_options, .. c.HasChapters ? (string[])["openright", "openany"] : []]))],
        MarkupGuide.Options));

    /// <summary>Adds the route.</summary>
    public static void Map(RouteGroupBuilder api) => api.MapGet("/markup", () => s_help.Value);
}
