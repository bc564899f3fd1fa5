using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>A package that a preamble may load. One file a package or family; the catalogue lists them.</summary>
/// <param name="Name">The name in <c>\usepackage</c>.</param>
/// <param name="Purpose">What it gives, in a sentence.</param>
public sealed record Package(string Name, string Purpose)
{
    /// <summary>Commands that are undefined without it.</summary>
    public IReadOnlyList<string> Commands { get; init; } = [];

    /// <summary>Environments that are undefined without it.</summary>
    public IReadOnlyList<string> Environments { get; init; } = [];

    /// <summary>Options it knows; null: it looks at its options itself, or takes any.</summary>
    public IReadOnlyList<string>? Options { get; init; }

    /// <summary>Packages that it loads along.</summary>
    public IReadOnlyList<string> Requires { get; init; } = [];

    /// <summary>Packages that must stand before it in a preamble (common practice).</summary>
    public IReadOnlyList<string> ComesAfter { get; init; } = [];

    /// <summary>Packages that define the same commands.</summary>
    public IReadOnlyList<string> Clashes { get; init; } = [];

    /// <summary>What it defines in the markup language itself.</summary>
    public string Definitions { get; init; } = "";

    /// <summary>Gives its built-in commands to a document; called again when it is loaded with further options.</summary>
    public Action<PackageLoad>? Load { get; init; }
}

/// <summary>A package being loaded into a document.</summary>
/// <param name="Builder">The document being built.</param>
/// <param name="Package">The package.</param>
/// <param name="Options">Options in brackets.</param>
/// <param name="Token">The loading command, for findings.</param>
public sealed record PackageLoad(DocumentBuilder Builder, Package Package, IReadOnlyList<ListedOption> Options, Token Token)
{
    /// <summary>The token machine.</summary>
    public Machine Machine => Builder.Machine;

    /// <summary>Whether an option was given and isn't switched off.</summary>
    public bool Has(string name) => Options.Any(o => o.Key == name && o.IsOn(Machine));

    /// <summary>Says that there is no such option.</summary>
    public void ReportOption(ListedOption option) => Builder.Findings.Check("unknown-option",
        option.Position >= 0 ? option.Position : Token.Position, option.Length, $"The package {Package.Name} has no option “{option.Key}” here.",
        "It was passed over.");
}

/// <summary>The packages there are.</summary>
public static class PackageCatalogue
{
    private static readonly Lazy<Dictionary<string, Package>> s_byName = new(() => All!.ToDictionary(p => p.Name, StringComparer.Ordinal));
    private static readonly Lazy<Dictionary<string, string>> s_providers = new(() => Providers(p => p.Commands));
    private static readonly Lazy<Dictionary<string, string>> s_environmentProviders = new(() => Providers(p => p.Environments));

    /// <summary>The packages in groups by what they are for.</summary>
    public static IReadOnlyList<(string Title, IReadOnlyList<Package> Packages)> Groups { get; } =
    [.. new (string Title, IReadOnlyList<Package> Packages)[]
    {
        ("The page", [.. PagePackages.All, LineNumberPackage.Package, .. PageOverlays.All]), ("Type", [.. FontPackages.All, .. Fontspec.All]), ("Text", [.. TextPackages.All, .. SignPackages.All, .. FramedPackages.All, .. DirectoryTrees.All]), ("Languages", [.. LanguagePackages.All, .. LanguageExamples.All]), ("Headings and lists of them", HeadingPackages.All),
        ("Lists", ListPackages.All), ("Mathematics", [.. MathematicsPackages.All, .. SurroundedDisplays.All]), ("Theorems", TheoremPackages.All), ("Figures and captions", FloatPackages.All), ("Pictures and files", [.. FilePackages.All, .. DrawingPackages.All, .. DiagramPackages.All]), ("Colour", ColourPackages.All),
        ("Tables", TablePackages.All), ("Data", DataPackages.All), ("Numbers and units", [Siunitx.Package]), ("Algorithms", Algorithms.All), ("Program text", ListingPackages.All), ("References and links", ReferencePackages.All),
        ("Sources", SourcePackages.All), ("Notes", NotePackages.All), ("Index", IndexPackages.All), ("Glossaries", GlossaryPackages.All), ("Filler", FillerPackages.All), ("Programming", ProgrammingPackages.All),
    }.Select(static g => (g.Title, (IReadOnlyList<Package>)[.. g.Packages.Select(MarkupPackages.Whole), .. MarkupPackages.Of(g.Title)]))];

    /// <summary>All packages.</summary>
    public static IReadOnlyList<Package> All { get; } = [.. Groups.SelectMany(g => g.Packages)];

    /// <summary>Every command that some package gives.</summary>
    public static IEnumerable<string> AllCommands => s_providers.Value.Keys;

    /// <summary>Every environment that some package gives.</summary>
    public static IEnumerable<string> AllEnvironments => s_environmentProviders.Value.Keys;

    /// <summary>The package of this name, or null.</summary>
    public static Package? Find(string name) => s_byName.Value.GetValueOrDefault(name);

    /// <summary>The package that gives a command, or null.</summary>
    public static string? ProviderOf(string command) => s_providers.Value.GetValueOrDefault(command);

    /// <summary>The package that gives an environment, or null.</summary>
    public static string? EnvironmentProviderOf(string environment) => s_environmentProviders.Value.GetValueOrDefault(environment);

    private static Dictionary<string, string> Providers(Func<Package, IReadOnlyList<string>> names)
    {
        var result = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (Package package in All)
        {
            foreach (string name in names(package))
            {
                result.TryAdd(name, package.Name);
            }
        }

        return result;
    }
}
