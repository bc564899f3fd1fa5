using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Text;
using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Tool;

/// <summary>Sets the same words here and in headless Chromium, and counts pages a second.</summary>
internal static class BrowserBench
{
    private const int Paragraphs = 800;
    private const int Rounds = 3;

    /// <summary>Pages a second here and in Chromium, or null when Chromium or poppler isn't there.</summary>
    public static (double Own, double Browser)? Run(IReadOnlyList<string> words)
    {
        string folder = Directory.CreateTempSubdirectory("folio-bench-").FullName;
        try
        {
            string[] paragraphs = [.. Enumerable.Range(0, Paragraphs).Select(i => MakeParagraph(words, i))];
            string html = Path.Combine(folder, "words.html");
            File.WriteAllText(html, Page(paragraphs));
            string tiny = Path.Combine(folder, "tiny.html");
            File.WriteAllText(tiny, Page(["One word."]));
            string pdf = Path.Combine(folder, "words.pdf");
            var own = new List<double>();
            var browser = new List<double>();
            string source = "\\documentclass[11pt,a4paper]{report}\n\\begin{document}\n" + string.Join("\n\n", paragraphs) + "\n\\end{document}\n";
            for (int i = 0; i < Rounds; i++)
            {
                // The browser's start isn't printing: the time of one word is taken off.
                double start = Print(tiny, pdf);
                double printed = Print(html, pdf) - start;
                int pages = CountPages(pdf);
                browser.Add(pages / Math.Max(0.01, printed));
                long clock = Stopwatch.GetTimestamp();
                CompileResult result = new ManuscriptCompiler().Compile(new ManuscriptSnapshot(new FileTree([ManuscriptFile.FromText("main.tex", source)]), "main.tex", new DateOnly(2026, 11, 23)));
                // Both write a file.
                _ = result.WritePdf();
                own.Add(result.Report.Pages / Stopwatch.GetElapsedTime(clock).TotalSeconds);
            }

            return (own.Order().ElementAt(Rounds / 2), browser.Order().ElementAt(Rounds / 2));
        }
        catch (System.ComponentModel.Win32Exception)
        {
            return null;
        }
        finally
        {
            Directory.Delete(folder, true);
        }
    }

    private static string MakeParagraph(IReadOnlyList<string> words, int seed)
    {
        var random = new Random(seed);
        var text = new StringBuilder();
        for (int sentence = 0; sentence < 7; sentence++)
        {
            text.Append("The ").AppendJoin(' ', Enumerable.Range(0, 12).Select(_ => words[random.Next(words.Count)])).Append(". ");
        }

        return text.ToString().TrimEnd();
    }

    private static string Page(IEnumerable<string> paragraphs) =>
        "<!doctype html><meta charset=utf-8><style>@page{size:A4;margin:35mm 40mm}body{font:11pt/13.6pt serif;text-align:justify;hyphens:auto;margin:0}p{margin:0;text-indent:15pt}</style><html lang=en>"
        + string.Concat(paragraphs.Select(p => $"<p>{WebUtility.HtmlEncode(p)}</p>"));

    private static double Print(string html, string pdf)
    {
        long clock = Stopwatch.GetTimestamp();
        Run("chromium", "--headless", "--no-sandbox", "--disable-gpu", "--no-pdf-header-footer", "--print-to-pdf=" + pdf, new Uri(html).AbsoluteUri);
        return Stopwatch.GetElapsedTime(clock).TotalSeconds;
    }

    private static int CountPages(string pdf) => Run("pdfinfo", pdf).Split('\n')
        .Where(l => l.StartsWith("Pages:", StringComparison.Ordinal)).Select(l => int.Parse(l[6..], CultureInfo.InvariantCulture)).FirstOrDefault();

    private static string Run(string program, params string[] arguments)
    {
        var start = new ProcessStartInfo(program) { RedirectStandardOutput = true, RedirectStandardError = true };
        foreach (string argument in arguments)
        {
            start.ArgumentList.Add(argument);
        }

        using Process process = Process.Start(start)!;
        Task<string> errors = process.StandardError.ReadToEndAsync();
        string output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        _ = errors.Result;
        return output;
    }
}
