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

    /// <summary>A package with what more of it is said in the language itself: a file of its name in <c>More/</c>, of the same form.</summary>
    public static Package Whole(Package package)
    {
        if (typeof(MarkupPackages).Assembly.GetManifestResourceInfo("more " + package.Name) is null)
        {
            return package;
        }

        (Func<string, string[]> names, _, string definitions) = File("more " + package.Name);
        return package with { Commands = [.. package.Commands, .. names("commands")], Environments = [.. package.Environments, .. names("environments")], Requires = [.. package.Requires, .. names("needs")], Definitions = package.Definitions + definitions };
    }

    private static (Func<string, string[]> Names, Dictionary<string, string> Says, string Definitions) File(string resource)
    {
        string[] lines = ShippedText.Of(typeof(MarkupPackages).Assembly, resource).Split('\n');
        Dictionary<string, string> says = lines.TakeWhile(l => l.StartsWith("% ", StringComparison.Ordinal)).Select(l => l[2..].Split(": ", 2)).ToDictionary(e => e[0], e => e[1].Trim(), StringComparer.Ordinal);
        return (Names, says, string.Join('\n', lines.Skip(says.Count)));

        string[] Names(string key) => says.TryGetValue(key, out string? names) ? names.Split(' ', StringSplitOptions.RemoveEmptyEntries) : [];
    }

    private static (string, Package) Read(string resource)
    {
        (Func<string, string[]> names, Dictionary<string, string> says, string definitions) = File(resource);
        return (says["group"], new Package(resource[Prefix.Length..], says["purpose"])
        {
            Commands = names("commands"),
            Environments = names("environments"),
            Options = says.ContainsKey("options") ? names("options") : null,
            Requires = names("needs"),
            ComesAfter = names("after"),
            Clashes = names("clashes"),
            Definitions = definitions,
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
