namespace YoungFolio.Manuscript.Packages;

/// <summary>Packages for programs in print.</summary>
internal static class ListingPackages
{
    public static IReadOnlyList<Package> All { get; } =
    [
        new("listings", "Programs in print: languages, line numbers, captions.")
        {
            Commands = ["lstset", "lstinputlisting", "lstinline", "lstdefinestyle", "lstdefinelanguage", "lstnewenvironment", "lstlistoflistings", "lstMakeShortInline"],
            Environments = ["lstlisting"],
            Load = static load => Listings.Load(load.Builder),
        },
        new("minted", "Programs in print; they are set as listings.")
        {
            Requires = ["listings"],
            Commands = ["mint", "mintinline", "inputminted", "setminted", "usemintedstyle", "newminted"],
            Environments = ["minted"],
            Load = static load => Listings.LoadNamed(load.Builder),
        },
    ];
}
