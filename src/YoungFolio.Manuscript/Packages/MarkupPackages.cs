using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>
/// Packages that can be said in the markup language itself: a file each in <c>Markup/</c>. Its first lines are remarks that say what it is:
/// <c>% purpose:</c>, <c>% group:</c> (of <see cref="PackageCatalogue.Groups"/>), and where there are some <c>% commands:</c>, <c>% environments:</c>,
/// <c>% options:</c>, <c>% needs:</c>, <c>% after:</c> and <c>% clashes:</c>. An option runs the macro <c>NAME@option@OPTION</c>, where the file
/// defines one, and behind all of them <c>NAME@options</c> runs.
/// </summary>
internal static class MarkupPackages
{
    private const string Prefix = "package ";

    private static readonly Lazy<IReadOnlyList<(string Group, Package Package)>> s_all = new(() =>
        [.. typeof(MarkupPackages).Assembly.GetManifestResourceNames().Where(n => n.StartsWith(Prefix, StringComparison.Ordinal)).Order(StringComparer.Ordinal).Select(Read)]);

    /// <summary>The packages of a group.</summary>
    public static IEnumerable<Package> Of(string group) => s_all.Value.Where(p => p.Group == group).Select(p => p.Package);

    private static (string, Package) Read(string resource)
    {
        string text = ShippedText.Of(typeof(MarkupPackages).Assembly, resource);
        string[] lines = text.Split('\n');
        Dictionary<string, string> says = lines.TakeWhile(l => l.StartsWith("% ", StringComparison.Ordinal)).Select(l => l[2..].Split(": ", 2)).ToDictionary(e => e[0], e => e[1].Trim(), StringComparer.Ordinal);
        string[] Names(string key) => says.TryGetValue(key, out string? names) ? names.Split(' ', StringSplitOptions.RemoveEmptyEntries) : [];
        return (says["group"], new Package(resource[Prefix.Length..], says["purpose"])
        {
            Commands = Names("commands"),
            Environments = Names("environments"),
            Options = says.ContainsKey("options") ? Names("options") : null,
            Requires = Names("needs"),
            ComesAfter = Names("after"),
            Clashes = Names("clashes"),
            Definitions = string.Join('\n', lines.Skip(says.Count)),
            Load = Choose,
        });
    }

    private static void Choose(PackageLoad load)
    {
        foreach (ListedOption option in load.Options)
        {
            Run($"{load.Package.Name}@option@{option.Key}");
        }

        Run($"{load.Package.Name}@options");

        void Run(string macro)
        {
            if (load.Machine.Symbol(macro).Meaning.Value is not null)
            {
                load.Builder.Execute([Token.Command(load.Machine.Symbol(macro), load.Token.Position)]);
            }
        }
    }
}
