using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.HandIn;

/// <summary>Looks at the whole of a manuscript before it is handed in. What is found is said in groups, each check with its state.</summary>
public static class HandInChecks
{
    /// <summary>Runs all checks.</summary>
    /// <param name="proof">The proof.</param>
    /// <param name="files">The files that it is of.</param>
    /// <param name="rules">What the house asks for.</param>
    /// <param name="talk">What is still said about it.</param>
    /// <param name="access">What keeps it from being read by those who don't see it, where the house asks for that; null: nothing.</param>
    public static IReadOnlyList<CheckGroup> Run(CompileResult proof, IFileTree files, HouseRules rules, OpenTalk talk, IReadOnlyList<AccessPlace>? access = null)
    {
        ArgumentNullException.ThrowIfNull(proof);
        ArgumentNullException.ThrowIfNull(files);
        ArgumentNullException.ThrowIfNull(rules);
        ArgumentNullException.ThrowIfNull(talk);
        return
        [
            new CheckGroup("The text", [.. TextChecks.Run(proof, files, rules, talk)]),
            new CheckGroup("The pages", [.. PageChecks.Run(proof, rules)]),
            new CheckGroup("Pictures and fonts", [.. PictureChecks.Run(proof, files, rules)]),
            new CheckGroup("The file", [.. FileChecks.Run(proof, rules, access ?? [])]),
        ];
    }

    /// <summary>What keeps a PDF from saying that it keeps to the standard of its flavour, with its places.</summary>
    /// <param name="proof">The proof.</param>
    /// <param name="flavour">One of <see cref="HouseRules.Flavours"/>; others have nothing to keep to.</param>
    /// <param name="access">What keeps the manuscript from being read by those who don't see it.</param>
    public static IReadOnlyList<CheckPlace> Obstacles(CompileResult proof, string? flavour, IReadOnlyList<AccessPlace>? access = null)
    {
        ArgumentNullException.ThrowIfNull(proof);
        return [.. (HouseRules.IsAccessible(flavour) ? FileChecks.AccessObstacles(proof, access ?? []) : [])
            .Concat(HouseRules.IsArchival(flavour) ? FileChecks.ArchivalObstacles(proof) : [])
            .DistinctBy(static o => (o.Says, o.File, o.Offset))];
    }

    /// <summary>A number of things, in words.</summary>
    internal static string Many(int count, string one, string? many = null) => count == 1 ? $"1 {one}" : FormattableString.Invariant($"{count:#,0} {many ?? one + "s"}");

    /// <summary>What a number has to be, in words; empty when any will do.</summary>
    internal static string Between(int? fewest, int? most) => (fewest, most) switch
    {
        ({ } low, { } high) => FormattableString.Invariant($"{low:#,0} to {high:#,0}"),
        ({ } low, null) => FormattableString.Invariant($"at least {low:#,0}"),
        (null, { } high) => FormattableString.Invariant($"at most {high:#,0}"),
        _ => "",
    };

    /// <summary>Whether a number is as it has to be.</summary>
    internal static CheckState Within(int number, int? fewest, int? most) => number < fewest || number > most ? CheckState.Mend : CheckState.Holds;

    /// <summary>The places of findings of some kinds.</summary>
    internal static CheckPlace[] Places(CompileReport report, Func<FindingLine, bool> fits) =>
        [.. report.Findings.Where(fits).Select(f => new CheckPlace(f.Message, null, f.File, f.Line, f.Offset, f.Repair))];

    /// <summary>A check that holds where there are no places.</summary>
    internal static HandInCheck Of(string key, CheckPlace[] places, string good, Func<int, string> bad, CheckState state = CheckState.Mend) =>
        new(key, places.Length == 0 ? CheckState.Holds : state, places.Length == 0 ? good : bad(places.Length)) { Places = places };
}
