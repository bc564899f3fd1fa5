using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for lists.</summary>
internal static class ListPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("enumitem", "Labels, numbers and spaces of lists by keys; lists in the line; lists of one's own.")
        {
            Commands = ["setlist", "newlist", "renewlist", "setlistdepth", "SetEnumerateShortLabel", "restartlist"],
            Environments = ["enumerate*", "itemize*", "description*"],
            Options = ["inline", "shortlabels", "loadonly", "sizes", "ignoredisplayed", "includedisplayed"],
            Clashes = ["enumerate", "paralist"],
            Load = static load => Enumitem.Load(load),
        },
        new("enumerate", "Numbers of lists by example: [(a)].")
        {
            Load = static load => Enumitem.LoadByExample(load.Builder),
        },
        new("paralist", "Close lists, and lists in the line.")
        {
            Environments = ["compactitem", "compactenum", "compactdesc", "inparaenum", "inparaitem", "asparaenum", "asparaitem"],
            Commands = ["setdefaultenum", "setdefaultitem", "setdefaultleftmargin"],
            Load = static load => Enumitem.LoadCompact(load.Builder),
        },
    ];
}
