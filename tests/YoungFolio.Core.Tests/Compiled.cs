using System.Diagnostics;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>Compiles manuscripts for tests and looks at the pages through Debian's poppler and qpdf.</summary>
internal static class Compiled
{
    private static readonly ManuscriptCompiler s_compiler = new();

    /// <summary>Compiles files; the first is the main file.</summary>
    public static CompileResult Files(params (string Path, string Text)[] files) =>
        Tree(files[0].Path, new FileTree(files.Select(p => ManuscriptFile.FromText(p.Path, p.Text))));

    /// <summary>Compiles files that need not be text.</summary>
    public static CompileResult Bytes(params (string Path, byte[] Bytes)[] files) =>
        Tree(files[0].Path, new FileTree(files.Select(p => new ManuscriptFile(p.Path, p.Bytes))));

    private static CompileResult Tree(string main, FileTree files) =>
        Recorded(main, files, SheetMap.Remember(s_compiler.Compile(new ManuscriptSnapshot(files, main, new DateOnly(2026, 11, 9))), files));

    /// <summary>
    /// Where <c>FOLIO_RECORD</c> names a file, what each document of the tests gives is written down there as a digest of what was asked and one of
    /// its pages and report: two such files show whether a change in the engine's house changed anything on a page.
    /// </summary>
    private static CompileResult Recorded(string main, FileTree files, CompileResult result)
    {
        if (Environment.GetEnvironmentVariable("FOLIO_RECORD") is { Length: > 0 } record)
        {
            string report = JsonSerializer.Serialize(result.Report with { Timings = new Dictionary<string, double>(), Rounds = 0 });
            string line = $"{Digest([Encoding.UTF8.GetBytes(main), .. files.Paths.Order(StringComparer.Ordinal).SelectMany(p => (byte[][])[Encoding.UTF8.GetBytes(p), files.Find(p)!.Bytes.ToArray()])])} {Digest([result.Pdf, Encoding.UTF8.GetBytes(report)])} {Beginning(files.Find(main)?.Text ?? "")}";
            lock (s_compiler)
            {
                File.AppendAllLines(record, [line]);
            }
        }

        return result;
    }

    // So that whoever compares two records knows the document again.
    private static string Beginning(string text)
    {
        string body = text[Math.Max(0, text.IndexOf("\\begin{document}", StringComparison.Ordinal))..].Replace("\\begin{document}", "", StringComparison.Ordinal);
        return string.Join(' ', body[..Math.Min(200, body.Length)].Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
    }

    private static string Digest(IEnumerable<byte[]> parts)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        foreach (byte[] part in parts)
        {
            hash.AppendData(part);
        }

        return Convert.ToHexString(hash.GetHashAndReset())[..24];
    }

    /// <summary>An article without heads and feet.</summary>
    public static CompileResult Article(string body, string preamble = "", string options = "") => Files(("main.tex",
        $"\\documentclass[{options}]{{article}}\\pagestyle{{empty}}\n{preamble}\n\\begin{{document}}\n{body}\n\\end{{document}}\n"));

    /// <summary>An article without heads and feet of which there is nothing to say.</summary>
    public static CompileResult Clean(string body, string preamble = "", string options = "")
    {
        CompileResult result = Article(body, preamble, options);
        Assert.Empty(result.Report.Findings.Select(f => f.Message));
        return result;
    }

    /// <summary>Compiles the body of an article.</summary>
    public static CompileResult Body(string body, string preamble = "") => Files(("main.tex",
        "\\documentclass{article}\n\\usepackage{amsmath}\n" + preamble + "\\begin{document}\n" + body + "\n\\end{document}\n"));

    /// <summary>Compiles the body of a report.</summary>
    public static CompileResult Report(string body) => Files(("main.tex",
        "\\documentclass{report}\n\\begin{document}\n" + body + "\n\\end{document}\n"));

    /// <summary>The text of the pages, with single spaces.</summary>
    public static string Text(CompileResult result, params string[] options) =>
        string.Join(' ', Run("pdftotext", result.Pdf, [.. options, "FILE", "-"]).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));

    /// <summary>Runs a program on the PDF; FILE stands for its path. Gives what it says and what it complains of.</summary>
    public static string Run(string program, byte[] pdf, params string[] arguments)
    {
        (byte[] output, string errors) = Start(program, pdf, arguments);
        return System.Text.Encoding.UTF8.GetString(output) + errors;
    }

    /// <summary>What a program writes out when it is run on the PDF.</summary>
    public static byte[] Output(string program, byte[] pdf, params string[] arguments) => Start(program, pdf, arguments).Output;

    private static (byte[] Output, string Errors) Start(string program, byte[] pdf, string[] arguments)
    {
        string file = Path.Combine(Path.GetTempPath(), Guid.NewGuid() + ".pdf");
        File.WriteAllBytes(file, pdf);
        try
        {
            var start = new ProcessStartInfo(program) { RedirectStandardOutput = true, RedirectStandardError = true };
            foreach (string argument in arguments)
            {
                start.ArgumentList.Add(argument == "FILE" ? file : argument);
            }

            using Process process = Process.Start(start)!;
            Task<string> errors = process.StandardError.ReadToEndAsync();
            var output = new MemoryStream();
            process.StandardOutput.BaseStream.CopyTo(output);
            process.WaitForExit();
            return (output.ToArray(), errors.Result);
        }
        finally
        {
            File.Delete(file);
        }
    }

    /// <summary>Codes of the findings of a kind.</summary>
    public static string[] Codes(CompileResult result, string kind = "fix") =>
        [.. result.Report.Findings.Where(f => f.Kind == kind).Select(f => f.Code)];
}
