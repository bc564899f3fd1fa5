using YoungFolio.Compiler;
using static YoungFolio.HandIn.HandInChecks;

namespace YoungFolio.HandIn;

/// <summary>Checks of the PDF as a file: what it says of itself, its links, its outline.</summary>
internal static class FileChecks
{
    /// <summary>What keeps the PDF from being archival (ISO 19005-2), with its places.</summary>
    public static IEnumerable<CheckPlace> ArchivalObstacles(CompileResult proof) =>
        proof.Print.Pictures.Where(p => p.ArchivalObstacle is not null).DistinctBy(p => p.Path).Select(p => new CheckPlace($"{p.Path}: {p.ArchivalObstacle}", p.Sheet, p.File, p.Line, p.Offset))
            .Concat(Places(proof.Report, f => f.Code == "missing-glyph"));

    /// <summary>What keeps the PDF from being accessible (ISO 14289-1), with its places.</summary>
    /// <param name="proof">The proof.</param>
    /// <param name="access">What stands against it in the manuscript.</param>
    public static IEnumerable<CheckPlace> AccessObstacles(CompileResult proof, IReadOnlyList<AccessPlace> access) =>
        access.Select(a => new CheckPlace(a.Says, null, a.File, a.Line, a.Offset))
            .Concat(proof.Print.Pictures.Where(p => p.AccessObstacle is not null).DistinctBy(p => p.Path).Select(p => new CheckPlace($"{p.Path}: {p.AccessObstacle}", p.Sheet, p.File, p.Line, p.Offset)))
            .Concat(Places(proof.Report, f => f.Code == "missing-glyph"));

    public static IEnumerable<HandInCheck> Run(CompileResult proof, HouseRules rules, IReadOnlyList<AccessPlace> access)
    {
        PrintFacts print = proof.Print;
        bool hasTitle = print.Title.Trim().Length > 0;
        yield return new HandInCheck("title", hasTitle ? CheckState.Holds : CheckState.Look, hasTitle ? $"The PDF says its title: {print.Title}" : "The PDF says no title") { Advice = hasTitle ? "" : "\\title gives it, or pdftitle of \\hypersetup." };
        bool hasAuthor = print.Author.Trim().Length > 0;
        yield return rules.IsAnonymous
            ? new HandInCheck("anonymous", hasAuthor ? CheckState.Mend : CheckState.Holds, hasAuthor ? $"The PDF says whose it is: {print.Author}" : "The PDF doesn’t say whose it is") { Rule = "nothing may say whose it is" }
            : new HandInCheck("author", hasAuthor ? CheckState.Holds : CheckState.Look, hasAuthor ? $"The PDF says its author: {print.Author}" : "The PDF says no author");
        yield return Of("links", [.. print.DeadLinks.DistinctBy(l => l.Target).Select(l => new CheckPlace($"a link to “{l.Target}”", l.Sheet))], "All links inside lead somewhere", n => n == 1 ? "A link inside leads nowhere" : $"{n} links inside lead nowhere");
        if (HouseRules.IsAccessible(rules.Flavour))
        {
            yield return Of("accessible", [.. AccessObstacles(proof, access)], "Who doesn’t see the PDF can listen to it", static n => n == 1 ? "Something stands against an accessible PDF" : $"{n} things stand against an accessible PDF") with
            {
                Rule = "a PDF for those who listen to it, too (PDF/UA-1)", Advice = "Until then the PDF is made, but doesn’t say that it is accessible.",
            };
        }

        if (HouseRules.IsArchival(rules.Flavour))
        {
            yield return Of("archival", [.. ArchivalObstacles(proof)], "The PDF can be archival", static n => n == 1 ? "Something stands against an archival PDF" : $"{n} things stand against an archival PDF") with
            {
                Rule = rules.Flavour switch { HouseRules.ArchivalWithSources => "a PDF for keeping, with its sources (PDF/A-3)", HouseRules.AccessibleArchival => "a PDF for keeping (PDF/A-3)", _ => "a PDF for keeping (PDF/A-2)" }, Advice = "Until then the PDF is made, but doesn’t say that it is archival.",
            };
        }

        yield return new HandInCheck("outline", CheckState.Holds, proof.Report.Outline.Count == 0 ? "There are no headings to leaf by" : $"{Many(proof.Report.Outline.Count, "heading")} to leaf by");
    }
}
