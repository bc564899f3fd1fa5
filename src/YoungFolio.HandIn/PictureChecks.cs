using YoungFolio.Compiler;
using YoungFolio.Manuscript.Searching;
using YoungFolio.Markup;
using static YoungFolio.HandIn.HandInChecks;

namespace YoungFolio.HandIn;

/// <summary>Checks of pictures and fonts.</summary>
internal static class PictureChecks
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
        (string Text, CheckPlace Place)[] placed = [.. Placed(proof, files)];
        CheckPlace[] mute = [.. placed.Where(p => !PictureWords.AreThere(p.Text, p.Place.Offset!.Value)).Select(p => p.Place)];
        yield return Of("alternatives", mute, placed.Length == 0 ? "There are no pictures" : "All pictures have words for those who can’t see them", n => n == 1 ? "A picture has no words for those who can’t see it" : $"{n} pictures have no words for those who can’t see them",
            rules.WantsAlternatives ? CheckState.Mend : CheckState.Look) with { Advice = "Say in a sentence what the picture shows." };
        yield return print.Fonts.Count == 0 ? new HandInCheck("fonts", CheckState.Look, "There are no words to print")
            : Of("fonts", [.. print.FontsNotToEmbed.Select(f => new CheckPlace(f))], $"{Many(print.Fonts.Count, "font")}, all inside the PDF, as their licences allow",
                n => $"{Many(n, "font")} inside the PDF whose licence forbids it") with { Advice = string.Join(", ", print.Fonts) };
        yield return Of("glyphs", Places(report, f => f.Code == "missing-glyph"), "The fonts have all characters", n => $"{Many(n, "character")} in no font");
    }

    // As they are typed: drawings are lines on the pages, and no pictures any more.
    private static IEnumerable<(string Text, CheckPlace Place)> Placed(CompileResult proof, IFileTree files)
    {
        var sheets = proof.Print.Pictures.Where(p => p is { File: not null, Offset: not null }).GroupBy(p => (p.File, p.Offset)).ToDictionary(g => g.Key, g => g.First().Sheet);
        string[] unused = [.. proof.Report.Findings.Where(f => f.Code == "unused-file").Select(f => f.Message)];
        foreach ((string path, string text) in TextChecks.Texts(files).Where(f => !unused.Any(m => m.Contains($" {f.Path},", StringComparison.Ordinal))))
        {
            foreach ((string name, int end) in TypedMarkup.Commands(text).Where(c => c.Name == "includegraphics"))
            {
                int offset = end - name.Length - 1;
                // In a definition the file is an argument.
                if (PictureWords.FileAt(text, offset) is { } file && !file.Contains('#', StringComparison.Ordinal))
                {
                    yield return (text, new CheckPlace(PathOf(file, files), sheets.TryGetValue((path, offset), out int sheet) ? sheet : null, path, TextChecks.LineOf(text, offset), offset));
                }
            }
        }
    }

    // Endings and folders may be left out where a picture is placed.
    private static string PathOf(string name, IFileTree files) =>
        files.Paths.FirstOrDefault(p => p == name || p.EndsWith("/" + name, StringComparison.Ordinal) || WithoutEnding(p) == name || WithoutEnding(p).EndsWith("/" + name, StringComparison.Ordinal)) ?? name;

    private static string WithoutEnding(string path) => path.LastIndexOf('.') is var dot && dot > path.LastIndexOf('/') ? path[..dot] : path;
}
