using System.Diagnostics;
using System.Globalization;
using System.Text;
using System.Text.Json;
using YoungFolio.Compiler;
using YoungFolio.Markup;
using YoungFolio.Tool.Attack;

namespace YoungFolio.Tool;

/// <summary>
/// Measures compiles of generated manuscripts of 10 to 400 pages, with two formulas a page, a table and a figure every five
/// pages: medians, side by side in one run.
/// </summary>
internal static class BenchCommand
{
    private static readonly string[] s_words = ("wall lichen stone north field thallus growth slow shade quarry ledger mason year "
        + "diameter measure valley ridge weather moss granite lime rain winter record estate boundary height width estimate curve").Split(' ');

    private static readonly (int Writers, int Seconds)[] s_writing = [(2, 15), (10, 20), (50, 60)];

    /// <summary>Runs all of it, or the compiles or the writing alone.</summary>
    public static async Task<int> RunAsync(string[] args)
    {
        string? json = null;
        string only = "";
        for (int i = 0; i + 1 < args.Length; i += 2)
        {
            (json, only) = args[i] switch
            {
                "--json" => (args[i + 1], only),
                "--only" => (json, args[i + 1]),
                _ => (json, "?"),
            };
        }

        // One attack alone: attack:uploads.
        string attack = only.StartsWith("attack:", StringComparison.Ordinal) ? only["attack:".Length..] : "";
        only = attack.Length > 0 ? "attack" : only;
        if (only is not ("" or "compile" or "writing" or "chronicle" or "attack") || args.Length % 2 == 1)
        {
            Console.Error.WriteLine("bench [--json FILE] [--only compile|writing|chronicle|attack[:WORDS]]");
            return 2;
        }

        var rows = new List<Dictionary<string, double>>();
        if (only is "" or "attack")
        {
            rows.AddRange((await AttackBench.RunAsync(attack)).Select((r, i) => new Dictionary<string, double> { ["attack"] = i, ["p95"] = r.P95, ["worst"] = r.Worst, ["proof"] = r.Proof, ["megabytes"] = r.Megabytes, ["seconds"] = r.Seconds }));
        }

        if (only is "" or "compile")
        {
            MeasureCompiles(rows);
        }

        if (only is "" or "writing")
        {
            await MeasureWritingAsync(rows);
        }

        if (only is "" or "chronicle")
        {
            foreach ((string what, double milliseconds, double goal) in await ChronicleBench.RunAsync())
            {
                Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{what}: {milliseconds:0} ms{(goal > 0 ? $" (goal {goal:0})" : "")}."));
                rows.Add(new() { [what] = Math.Round(milliseconds, 1) });
            }
        }

        if (json is not null)
        {
            await File.WriteAllTextAsync(json, JsonSerializer.Serialize(rows) + "\n");
        }

        return 0;
    }

    private static async Task MeasureWritingAsync(List<Dictionary<string, double>> rows)
    {
        Console.WriteLine("writers   keystrokes   to another's text: median ms   p95 ms   server's peak MB   proofs meanwhile   converged");
        foreach ((int writers, int seconds) in s_writing)
        {
            WritingResult r = await WritingBench.RunAsync(writers, TimeSpan.FromSeconds(seconds));
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{r.Writers,7} {r.Keystrokes,12} {r.Median,30:0.0} {r.P95,8:0.0} {r.PeakMegabytes,18:0} {r.Proofs,18} {(r.HasConverged ? "yes" : "NO"),11}"));
            rows.Add(new() { ["writers"] = r.Writers, ["keystrokeMs"] = Math.Round(r.Median, 1), ["keystrokeP95Ms"] = Math.Round(r.P95, 1), ["serverMegabytes"] = Math.Round(r.PeakMegabytes), ["converged"] = r.HasConverged ? 1 : 0 });
        }

        foreach ((int revisions, double milliseconds) in await HistoryBench.RunAsync())
        {
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"A text as it was, after {revisions} revisions: {milliseconds:0.0} ms."));
            rows.Add(new() { ["revisions"] = revisions, ["readRevisionMs"] = Math.Round(milliseconds, 1) });
        }
    }

    private static void MeasureCompiles(List<Dictionary<string, double>> rows)
    {
        Console.WriteLine("pages   cold ms   after an edit ms   reading cold ms   reading after an edit ms   pages/s cold");
        double peak = 0;
        foreach (int wanted in (int[])[10, 50, 100, 200, 400])
        {
            string text = Generate(wanted);
            var cold = new List<double>();
            var warm = new List<double>();
            var coldRead = new List<double>();
            var warmRead = new List<double>();
            int pages = 0;
            // The first compiles of a process also compile the program; they are not counted.
            if (rows.Count == 0)
            {
                WarmUp();
            }

            for (int i = 0; i < 5; i++)
            {
                var compiler = new ManuscriptCompiler();
                long start = Stopwatch.GetTimestamp();
                CompileResult result = compiler.Compile(Snapshot(text));
                cold.Add(Stopwatch.GetElapsedTime(start).TotalMilliseconds);
                coldRead.Add(result.Report.Timings["read"]);
                pages = result.Report.Pages;
                GC.Collect(); // what the cold compile left behind is not the edit's to clear away
                string edited = text.Replace("Edit here:", "Edit here: number " + i.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal);
                start = Stopwatch.GetTimestamp();
                CompileResult second = compiler.Compile(Snapshot(edited), result);
                warmRead.Add(second.Report.Timings["read"]);
                warm.Add(Stopwatch.GetElapsedTime(start).TotalMilliseconds);
            }

            if (wanted == 200)
            {
                // Later rows only add to the peak, so that this one is that of 200 pages and what is below.
                peak = Process.GetCurrentProcess().PeakWorkingSet64 / 1e6;
            }

            double coldMedian = Median(cold);
            double warmMedian = Median(warm);
            rows.Add(new() { ["pages"] = pages, ["coldMs"] = Math.Round(coldMedian, 1), ["editMs"] = Math.Round(warmMedian, 1), ["readMs"] = Median(coldRead), ["editReadMs"] = Median(warmRead) });
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{pages,5} {coldMedian,9:0.0} {warmMedian,18:0.0} {Median(coldRead),17:0.0} {Median(warmRead),26:0.0} {pages / coldMedian * 1000,14:0}"));
        }

        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"Twice the pages (200 to 400): {rows[^1]["coldMs"] / rows[^2]["coldMs"] * rows[^2]["pages"] * 2 / rows[^1]["pages"]:0.00} times the time. Peak memory: {peak:0} MB up to 200 pages, {Process.GetCurrentProcess().PeakWorkingSet64 / 1e6:0} MB up to 400."));
        if (BrowserBench.Run(s_words) is var (own, browser))
        {
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"Words only, cold, the same in both: {own:0} pages/s here, {browser:0} pages/s in headless Chromium: {own / browser:0.0} times."));
            rows.Add(new() { ["ownPagesPerSecond"] = Math.Round(own), ["browserPagesPerSecond"] = Math.Round(browser) });
        }

        if (FormulaBench.Run() is var (formulas, katex))
        {
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"Formulas, warm, the same in both: {formulas:0} a second here, {katex:0} by npm katex as strings: {formulas / katex:0.0} times."));
            rows.Add(new() { ["formulasPerSecond"] = Math.Round(formulas), ["katexFormulasPerSecond"] = Math.Round(katex) });
        }

        (double dense, double words) = FormulaBench.PageCosts(s_words);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"A page full of displayed formulas, cold: {dense:0.00} ms; a page of words: {words:0.00} ms: {dense / words:0.0} times."));
        rows.Add(new() { ["densePageMs"] = Math.Round(dense, 2), ["wordsPageMs"] = Math.Round(words, 2) });
        (double read, double print) = SourceBench.Run();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"5,000 sources are read in {read:0.0} ms; 500 are sorted, labelled and printed in {print:0.0} ms."));
        rows.Add(new() { ["readSourcesMs"] = Math.Round(read, 1), ["printSourcesMs"] = Math.Round(print, 1) });
        rows.Add(new() { ["peakMegabytes200"] = Math.Round(peak) });
    }

    private static void WarmUp()
    {
        var compiler = new ManuscriptCompiler();
        CompileResult? last = null;
        for (int i = 0; i < 10; i++)
        {
            last = compiler.Compile(Snapshot(Generate(30 + i)), last);
        }
    }

    private static double Median(List<double> values) => values.Order().ElementAt(values.Count / 2);

    private static ManuscriptSnapshot Snapshot(string text) =>
        new(new FileTree([ManuscriptFile.FromText("main.tex", text), s_picture]), "main.tex", new DateOnly(2026, 11, 23));

    // A picture of one point, placed in a size of its own.
    private static readonly ManuscriptFile s_picture = new("wall.png",
        Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg=="));

    // Chapters of prose with two formulas, a footnote and a reference a page.
    private static string Generate(int pages)
    {
        var random = new Random(7);
        var text = new StringBuilder("\\documentclass[11pt,a4paper]{report}\n\\usepackage{graphicx,booktabs}\n\\begin{document}\n\\tableofcontents\nEdit here: first words.\n\n");
        for (int page = 0; page < pages - 2; page++)
        {
            if (page % 12 == 0)
            {
                text.Append(CultureInfo.InvariantCulture, $"\\chapter{{Chapter of {s_words[random.Next(s_words.Length)]}}}\\label{{c{page}}}\n");
            }
            else if (page % 3 == 0)
            {
                text.Append(CultureInfo.InvariantCulture, $"\\section{{Section of {s_words[random.Next(s_words.Length)]}}}\\label{{s{page}}}\n");
            }

            if (page % 5 == 1)
            {
                text.Append(CultureInfo.InvariantCulture, $"Figure~\\ref{{f{page}}} and table~\\ref{{t{page}}} show it.\n")
                    .Append(CultureInfo.InvariantCulture, $"\\begin{{figure}}\\centering\\includegraphics[width=5cm,height=3cm]{{wall.png}}\\caption{{A wall}}\\label{{f{page}}}\\end{{figure}}\n")
                    .Append(CultureInfo.InvariantCulture, $"\\begin{{table}}\\centering\\caption{{Walls}}\\label{{t{page}}}\\begin{{tabular}}{{lrr}}\\toprule Wall & Age & Size\\\\ \\midrule\n");
                for (int row = 0; row < 8; row++)
                {
                    text.Append(CultureInfo.InvariantCulture, $"{s_words[random.Next(s_words.Length)]} & {random.Next(300)} & {random.Next(100)}.{random.Next(10)}\\\\\n");
                }

                text.Append("\\bottomrule\\end{tabular}\\end{table}\n");
            }

            for (int paragraph = 0; paragraph < 4; paragraph++)
            {
                for (int sentence = 0; sentence < 7; sentence++)
                {
                    text.Append("The ");
                    for (int word = 0; word < 12; word++)
                    {
                        text.Append(s_words[random.Next(s_words.Length)]).Append(word == 11 ? ". " : " ");
                    }
                }

                text.Append(paragraph switch
                {
                    0 => $"See chapter~\\ref{{c{page / 12 * 12}}} on page~\\pageref{{c{page / 12 * 12}}}.",
                    1 => "Here $d(t) = D(1 - e^{-kt}) + rt$ holds.\n\\begin{equation} \\sum_{i=1}^{n} \\frac{x_i - \\mu}{\\sqrt{n}} = \\int_0^1 f(t)\\,dt \\end{equation}",
                    2 => "A note\\footnote{On walls and their makers, in few words.} stands here.",
                    _ => "",
                });
                text.Append("\n\n");
            }
        }

        return text.Append("\\end{document}\n").ToString();
    }
}
