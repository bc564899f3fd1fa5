namespace YoungFolio.Manuscript.Building;

/// <summary>Sizes and leadings of the ten size commands for the three basic sizes (from memory of Lamport's classes).</summary>
internal static class TypeSizes
{
    public static readonly string[] Names =
        ["tiny", "scriptsize", "footnotesize", "small", "normalsize", "large", "Large", "LARGE", "huge", "Huge"];

    private static readonly (double Size, double Leading)[] s_ten =
        [(5, 6), (7, 8), (8, 9.5), (9, 11), (10, 12), (12, 14), (14.4, 18), (17.28, 22), (20.74, 25), (24.88, 30)];

    private static readonly (double Size, double Leading)[] s_eleven =
        [(6, 7), (8, 9.5), (9, 11), (10, 12), (10.95, 13.6), (12, 14), (14.4, 18), (17.28, 22), (20.74, 25), (24.88, 30)];

    private static readonly (double Size, double Leading)[] s_twelve =
        [(6, 7), (8, 9.5), (10, 12), (10.95, 13.6), (12, 14.5), (14.4, 18), (17.28, 22), (20.74, 25), (24.88, 30), (24.88, 30)];

    /// <summary>Size and leading in points of a size command, for a basic size of 10, 11 or 12.</summary>
    public static (double Size, double Leading) Of(string name, int basic) =>
        (basic switch { 11 => s_eleven, 12 => s_twelve, _ => s_ten })[Array.IndexOf(Names, name)];
}
