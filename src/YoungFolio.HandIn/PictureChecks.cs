using System.Text.RegularExpressions;
using YoungFolio.Compiler;
using YoungFolio.Markup;
using static YoungFolio.HandIn.HandInChecks;

namespace YoungFolio.HandIn;

/// <summary>Checks of pictures and fonts.</summary>
internal static partial class PictureChecks
{
    public static IEnumerable<HandInCheck> Run(CompileResult proof, IFileTree files, HouseRules rules)
    {
        CompileReport report = proof.Report;
        PrintFacts print = proof.Print;
        int least = rules.LeastDots ?? HouseRules.UsualDots;
        yield return Of("missing-files", Places(report, f => f.Code is "missing-file" or "unreadable-picture"), "All files that are called for are there", n => n == 1 ? "A file that is called for is missing or can’t be read" : $"{n} files that are called for are missing or can’t be read");
        CheckPlace[] coarse = [.. print.Pictures.Where(p => p.DotsPerInch < least).Select(p => new CheckPlace(FormattableString.Invariant($"{p.Path} prints at {p.DotsPerInch:0} dots an inch"), p.Sheet, p.File, p.Line, p.Offset))];
        yield return Of("dots", coarse, print.Pictures.Any(p => p.DotsPerInch is not null) ? "Pictures of dots are fine enough" : "There are no pictures of dots", n => n == 1 ? coarse[0].Says : $"{n} pictures print too coarsely", rules.LeastDots is null ? CheckState.Look : CheckState.Mend) with
        {
            Rule = $"at least {least} dots an inch", Advice = "Export the picture with more dots, or print it smaller.",
        };
        CheckPlace[] mute = [.. print.Pictures.Where(p => p is { File: not null, Offset: not null } && !HasAlternative(files.Find(p.File)?.Text ?? "", p.Offset.Value)).Select(p => new CheckPlace(p.Path, p.Sheet, p.File, p.Line, p.Offset)).DistinctBy(p => (p.File, p.Offset))];
        yield return Of("alternatives", mute, print.Pictures.Count == 0 ? "There are no pictures" : "All pictures have words for those who can’t see them", n => n == 1 ? "A picture has no words for those who can’t see it" : $"{n} pictures have no words for those who can’t see them",
            rules.WantsAlternatives ? CheckState.Mend : CheckState.Look) with { Advice = "Say in a sentence what the picture shows." };
        yield return new HandInCheck("fonts", print.Fonts.Count == 0 ? CheckState.Look : CheckState.Holds, print.Fonts.Count == 0 ? "There are no words to print" : $"{Many(print.Fonts.Count, "font")}, all inside the PDF") { Advice = string.Join(", ", print.Fonts) };
        yield return Of("glyphs", Places(report, f => f.Code == "missing-glyph"), "The fonts have all characters", n => $"{Many(n, "character")} in no font");
    }

    /// <summary>Whether the picture that is placed there has words for those who can't see it: the key <c>alt</c>, or the key <c>artifact</c> that says it means nothing.</summary>
    internal static bool HasAlternative(string text, int offset) =>
        offset < text.Length && Placing().Match(text, offset) is { Success: true } m && m.Index - offset < 3 && Alternative().IsMatch(m.Groups[1].Value);

    [GeneratedRegex(@"\\includegraphics\*?\s*(\[(?:[^\[\]{}]|\{(?:[^{}]|\{[^{}]*\})*\})*\])?")]
    private static partial Regex Placing();

    [GeneratedRegex(@"[\[,]\s*(?:alt\s*=\s*(?:\{\s*[^{}\s]|[^{},\s\]])|artifact\b)")]
    private static partial Regex Alternative();
}
