using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Tool;

/// <summary>Sets the same formulas here and with npm katex's renderer of strings, and counts formulas a second; both are warm.</summary>
internal static class FormulaBench
{
    private const int Rounds = 60;

    private static readonly string[] s_formulas =
    [
        @"(a+b)^n = a^n + \binom{n}{1} a^{n-1} b + \binom{n}{2} a^{n-2} b^2 + \dots + b^n",
        @"z_{1,2} = \frac{-b \pm \sqrt{b^2 - 4ac}}{2a}",
        @"e^z = 1 + \frac{z}{1!} + \frac{z^2}{2!} + \frac{z^3}{3!} + \cdots",
        @"\tan(z_1 + z_2) = \frac{\tan z_1 + \tan z_2}{1 - \tan z_1 \tan z_2}",
        @"\Gamma(2z) = (2\pi)^{-\frac12}\, 2^{2z-\frac12}\, \Gamma(z)\, \Gamma\left(z+\tfrac12\right)",
        @"\operatorname{erf} z = \frac{2}{\sqrt{\pi}} \int_0^z e^{-t^2}\,dt",
        @"(1-z^2)\frac{d^2 w}{dz^2} - 2z\frac{dw}{dz} + \left[\nu(\nu+1) - \frac{\mu^2}{1-z^2}\right] w = 0",
        @"J_\nu(z) = \left(\tfrac12 z\right)^\nu \sum_{k=0}^\infty \frac{\left(-\frac14 z^2\right)^k}{k!\,\Gamma(\nu+k+1)}",
        @"\zeta(s) = \prod_p (1 - p^{-s})^{-1}",
        @"\left| \sum_{k=1}^n a_k b_k \right| \le \left( \sum_{k=1}^n a_k^2 \right)^{1/2} \left( \sum_{k=1}^n b_k^2 \right)^{1/2}",
        @"\begin{pmatrix} a & b \\ c & d \end{pmatrix} \begin{bmatrix} x \\ y \end{bmatrix}",
        @"f(x) = \begin{cases} 1 & x > 0 \\ 0 & \text{otherwise} \end{cases}",
        @"\overbrace{a+b+c}^{n} + \underbrace{x+y}_{m}",
        @"\lim_{n\to\infty} \left(1 + \frac{z}{n}\right)^n = e^z",
        @"\nabla \times \mathbf{E} = -\frac{\partial \mathbf{B}}{\partial t}",
        @"\sqrt[n]{a_1 a_2 \cdots a_n} \le \frac{a_1 + a_2 + \cdots + a_n}{n}",
    ];

    /// <summary>Formulas a second here and in KaTeX; null when node or the package isn't there.</summary>
    public static (double Own, double Other)? Run()
    {
        string modules = Path.GetFullPath(Path.Combine("tests", "browser", "node_modules", "katex"));
        if (!Directory.Exists(modules))
        {
            return null;
        }

        string script = "const katex=require(process.argv[1]);const list=JSON.parse(process.argv[2]);let best=0;"
            + $"for(let r=0;r<{Rounds};r++){{const t=process.hrtime.bigint();for(const f of list)katex.renderToString(f,{{displayMode:true}});const s=Number(process.hrtime.bigint()-t)/1e9;if(r>={Rounds / 2})best+=s;}}"
            + $"console.log(list.length*{Rounds - (Rounds / 2)}/best);";
        var start = new ProcessStartInfo("node", ["-e", script, modules, JsonSerializer.Serialize(s_formulas)]) { RedirectStandardOutput = true };
        try
        {
            using Process node = Process.Start(start)!;
            string answer = node.StandardOutput.ReadToEnd();
            node.WaitForExit();
            return double.TryParse(answer, NumberStyles.Float, CultureInfo.InvariantCulture, out double other) ? (Own(), other) : null;
        }
        catch (System.ComponentModel.Win32Exception)
        {
            return null;
        }
    }

    /// <summary>Milliseconds a page, cold: pages full of displays, each another, and pages of words alone.</summary>
    public static (double Dense, double Words) PageCosts(IReadOnlyList<string> words)
    {
        var random = new Random(11);
        string dense = string.Concat(Enumerable.Range(0, 400).Select(i => $"\\[{s_formulas[i % s_formulas.Length]} \\quad k_{{{i}}} = {random.Next(1000)}\\]\n"));
        string prose = string.Concat(Enumerable.Range(0, 200).Select(_ => string.Join(' ', Enumerable.Range(0, 90).Select(_ => words[random.Next(words.Count)])) + ".\n\n"));
        return (Cost(dense), Cost(prose));

        static double Cost(string body) =>
            Enumerable.Range(0, 9).Select(_ =>
            {
                GC.Collect();
                long start = Stopwatch.GetTimestamp();
                CompileResult result = new ManuscriptCompiler().Compile(Snapshot(body));
                return Stopwatch.GetElapsedTime(start).TotalMilliseconds / result.Report.Pages;
            }).Order().ElementAt(4);
    }

    private static double Own() => new ManuscriptCompiler().MeasureFormulas(Snapshot(string.Concat(s_formulas.Select(f => $"\\[{f}\\]"))), Rounds * 5);

    private static ManuscriptSnapshot Snapshot(string body) =>
        new(new FileTree([ManuscriptFile.FromText("main.tex", "\\documentclass{article}\\usepackage{amsmath}\\begin{document}" + body + "\\end{document}")]), "main.tex", new DateOnly(2026, 11, 23));
}
