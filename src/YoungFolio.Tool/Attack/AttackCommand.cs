using System.Globalization;
using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Tool.Attack;

/// <summary>Compiles hostile manuscripts one after the other, and says what each took.</summary>
internal static class AttackCommand
{
    /// <summary>All of them, or those whose numbers or names are given.</summary>
    public static int Run(string[] words)
    {
        var compiler = new ManuscriptCompiler();
        (double seconds, long bytes, double unasked, int failed) = (0, 0, 0, 0);
        foreach ((int number, HostileManuscript manuscript) in HostileManuscripts.All.Index())
        {
            if (words.Length > 0 && !words.Any(w => manuscript.Name.Contains(w, StringComparison.OrdinalIgnoreCase) || w == (number + 1).ToString(CultureInfo.InvariantCulture)))
            {
                continue;
            }

            IFileTree files = manuscript.Make();
            try
            {
                Measured measured = Measured.Run(look => compiler.Compile(new ManuscriptSnapshot(files, "main.tex", new DateOnly(2026, 11, 28)), null, look, CancellationToken.None));
                (seconds, bytes, unasked) = (Math.Max(seconds, measured.Seconds), Math.Max(bytes, measured.Bytes), Math.Max(unasked, measured.Unasked));
                string said = string.Join(" | ", measured.Result.Report.Findings.Take(2).Select(f => $"{f.Code}: {f.Message}"));
                Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                    $"{number + 1,3} {measured.Seconds,7:0.00} s {measured.Unasked,7:0.00} s {measured.Bytes / 1e6,7:0} MB  {manuscript.Name}: {measured.Result.Report.Pages} pages; {(said.Length > 120 ? said[..120] + "…" : said)}"));
            }
            catch (Exception e)
            {
                failed++;
                Console.WriteLine($"{number + 1,3} FAILED  {manuscript.Name}: {e.GetType().Name}: {e.Message}");
            }
        }

        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"longest {seconds:0.00} s, longest without a look for others {unasked:0.00} s, most {bytes / 1e6:0} MB, {failed} failed"));
        return failed == 0 ? 0 : 1;
    }
}
