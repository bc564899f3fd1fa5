using YoungFolio.Manuscript.Packages;

namespace YoungFolio.Manuscript.SettingUp;

/// <summary>A package that a preamble loads.</summary>
/// <param name="Name">Its name.</param>
/// <param name="File">The file that loads it.</param>
/// <param name="Offset">Where its name stands.</param>
/// <param name="Options">What stands in brackets.</param>
/// <param name="IsKnown">Whether it is among those that there are.</param>
/// <param name="UsedBy">Commands and environments of it that the manuscript uses, as typed.</param>
/// <param name="DoesNothing">Whether what it gives is always there, so that it does nothing here.</param>
/// <param name="IsUnused">Whether nothing of what it gives is used.</param>
/// <param name="CanUnload">Whether it can be taken out here.</param>
public sealed record PackageLoading(string Name, string File, int Offset, string Options, bool IsKnown, IReadOnlyList<string> UsedBy, bool DoesNothing, bool IsUnused, bool CanUnload);

/// <summary>Tells why a preamble loads what it loads.</summary>
internal static class LoadedPackages
{
    // They work by being loaded, whether their commands are used or not.
    private static readonly HashSet<string> s_byThemselves = new(StringComparer.Ordinal)
    {
        "babel", "polyglossia", "geometry", "fullpage", "a4wide", "parskip", "setspace", "fancyhdr", "hyperref", "natbib", "biblatex", "microtype", "caption", "titlesec", "indentfirst", "lineno", "tocbibind", "hypcap", "bookmark",
        "fontspec", "unicode-math", "amsthm", "cite", "listings", "xcolor", "color", "float", "flafter", "endfloat", "cleveref", "todonotes", "enumitem", "footmisc", "tocloft", "url", "etoolbox", "array",
    };

    /// <summary>The packages, in order.</summary>
    /// <param name="preamble">The preamble.</param>
    /// <param name="uses">How often commands (with their backslash) and environments are used.</param>
    public static IReadOnlyList<PackageLoading> Of(TypedPreamble preamble, IReadOnlyDictionary<string, int> uses)
    {
        var loaded = new List<PackageLoading>();
        foreach (PreambleCommand command in preamble.Commands.Where(c => c.Name is "usepackage" or "RequirePackage" && c.Held != HeldBecause.Definition))
        {
            string text = preamble.Texts[command.File];
            string options = TypedPreamble.Options(command) is { } list ? preamble.Words(command, list).Trim() : "";
            foreach ((int from, int to) in preamble.Items(command, TypedPreamble.Argument(command)!.Value))
            {
                string name = text[from..to];
                Package? package = PackageCatalogue.Find(name);
                string[] used = package is null ? [] : [.. package.Commands.Select(c => "\\" + c).Concat(package.Environments).Where(uses.ContainsKey)];
                bool isEmpty = package is { Commands.Count: 0, Environments.Count: 0 } && !s_byThemselves.Contains(name);
                bool doesNothing = name == "inputenc" || (isEmpty && package is { Load: null, Definitions: "", Requires.Count: 0 });
                bool isUnused = package is { Commands.Count: > 0 } or { Environments.Count: > 0 } && used.Length == 0 && !s_byThemselves.Contains(name) && !NeededBy(preamble, name);
                loaded.Add(new PackageLoading(name, command.File, from, options, package is not null || preamble.Texts.ContainsKey(name + ".sty"), used, doesNothing, isUnused, command.Held == HeldBecause.No));
            }
        }

        return loaded;
    }

    // A package whose options or set-up are used isn't unused.
    private static bool NeededBy(TypedPreamble preamble, string name) => preamble.Commands.Any(c => c.Name == "PassOptionsToPackage" && preamble.Words(c, c.Groups[1]).Trim() == name);
}
