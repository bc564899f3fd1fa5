using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>A package that a preamble may load. One class a package; the catalogue lists them.</summary>
public abstract class Package
{
    /// <summary>The name in <c>\usepackage</c>.</summary>
    public abstract string Name { get; }

    /// <summary>What it gives, in a sentence.</summary>
    public abstract string Purpose { get; }

    /// <summary>Commands that are undefined without it.</summary>
    public virtual IReadOnlyList<string> Commands => [];

    /// <summary>Environments that are undefined without it.</summary>
    public virtual IReadOnlyList<string> Environments => [];

    /// <summary>Gives its commands to a document.</summary>
    /// <param name="builder">The document being built.</param>
    /// <param name="options">Options in brackets.</param>
    /// <param name="token">The loading command, for findings.</param>
    public abstract void Load(DocumentBuilder builder, IReadOnlyList<string> options, Token token);
}

/// <summary>The packages there are.</summary>
public static class PackageCatalogue
{
    /// <summary>All packages, by name.</summary>
    public static IReadOnlyList<Package> All { get; } =
    [
        new AmsmathPackage(), new AmssymbPackage(), new BabelPackage(), new FontencPackage(), new GeometryPackage(), new GraphicxPackage(),
        new HyperrefPackage(), new InputencPackage(), new ParskipPackage(), new SetspacePackage(), new UrlPackage(), new TimesPackage(),
        new PalatinoPackage(),
    ];

    /// <summary>Every command that some package gives.</summary>
    public static IEnumerable<string> AllCommands => All.SelectMany(p => p.Commands);

    /// <summary>The package of this name, or null.</summary>
    public static Package? Find(string name) => All.FirstOrDefault(p => p.Name == name);

    /// <summary>The package that gives a command, or null.</summary>
    public static string? ProviderOf(string command) => All.FirstOrDefault(p => p.Commands.Contains(command))?.Name;

    /// <summary>The package that gives an environment, or null.</summary>
    public static string? EnvironmentProviderOf(string environment) =>
        All.FirstOrDefault(p => p.Environments.Contains(environment))?.Name;
}
