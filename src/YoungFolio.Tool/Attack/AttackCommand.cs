using System.Diagnostics;
using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Tool.Attack;

/// <summary>Compiles hostile manuscripts one after the other, and says what each took.</summary>
internal static class AttackCommand
{
    /// <summary>All of them, or those whose names have these words in them.</summary>
    public static int Run(string[] words)
    {
        var compiler = new ManuscriptCompiler();
        int number = 0;
        foreach (HostileManuscript manuscript in HostileManuscripts.All)
        {
            number++;
            if (words is ["from", var first] && number >= int.Parse(first, System.Globalization.CultureInfo.InvariantCulture))
            {
            }
            else if (words.Length > 0 && !words.Any(w => manuscript.Name.Contains(w, StringComparison.OrdinalIgnoreCase) || w == number.ToString(System.Globalization.CultureInfo.InvariantCulture)))
            {
                continue;
            }

            IPartTree parts = manuscript.Make();
            long before = GC.GetTotalMemory(true);
            long most = 0;
            using var stop = new CancellationTokenSource();
            Thread watch = new(() =>
            {
                while (!stop.IsCancellationRequested)
                {
                    most = Math.Max(most, GC.GetTotalMemory(false));
                    Thread.Sleep(5);
                }
            }) { IsBackground = true };
            watch.Start();
            var clock = Stopwatch.StartNew();
            string said;
            try
            {
                CompileResult result = compiler.Compile(new ManuscriptSnapshot(parts, "main.tex", new DateOnly(2026, 11, 28)));
                said = $"{result.Report.Pages} pages; {string.Join(" | ", result.Report.Findings.Take(2).Select(f => $"{f.Code}: {f.Message}"))}";
            }
            catch (Exception e)
            {
                said = $"FAILED {e.GetType().Name}: {e.Message}";
            }

            double seconds = clock.Elapsed.TotalSeconds;
            stop.Cancel();
            watch.Join();
            Console.WriteLine($"{number,3} {seconds,7:0.00} s {(most - before) / 1e6,7:0} MB  {manuscript.Name}: {(said.Length > 160 ? said[..160] : said)}");
        }

        return 0;
    }
}
