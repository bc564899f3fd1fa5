using System.Diagnostics;
using System.Runtime.CompilerServices;
using System.Text.Json;

namespace YoungFolio.Core.Tests;

/// <summary>The command line as people call it: exit codes, the report's fields, plain messages.</summary>
public sealed class CommandLineTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("folio").FullName;

    public void Dispose() => Directory.Delete(_folder, true);

    [Fact]
    public void A_clean_manuscript_exits_with_0_and_gives_the_whole_report()
    {
        Write("main.tex", "\\documentclass{article}\\begin{document}\\section{One}\\label{one}See \\ref{one}.\\end{document}");
        (int code, string output) = Run("compile", _folder, "-o", At("out.pdf"), "--report", At("out.json"));
        Assert.Equal(0, code);
        Assert.Contains("1 pages", output);
        Assert.StartsWith("%PDF-", File.ReadAllText(At("out.pdf")));
        JsonElement report = JsonDocument.Parse(File.ReadAllText(At("out.json"))).RootElement;
        foreach (string field in (string[])["pages", "words", "class", "outline", "labels", "citations", "bibliography", "floats", "footnotes", "equations", "packages", "findings", "rounds", "timings"])
        {
            Assert.True(report.TryGetProperty(field, out _), field);
        }

        JsonElement label = report.GetProperty("labels")[0];
        Assert.Equal("{\"key\":\"one\",\"kind\":\"section\",\"number\":\"1\",\"page\":\"1\",\"sheet\":1,\"file\":\"main.tex\",\"line\":1,\"uses\":1}",
            JsonSerializer.Serialize(label));
    }

    [Fact]
    public void A_manuscript_with_something_to_fix_exits_with_1_and_still_gives_a_proof()
    {
        Write("paper.tex", "\\documentclass{article}\n\\begin{document}\nA \\emhp{word}.\n\\end{document}");
        (int code, string output) = Run("compile", At("paper.tex"));
        Assert.Equal(1, code);
        Assert.Contains("paper.tex:3:3: to fix: There is no command \\emhp. Did you mean \\emph?", output);
        Assert.True(File.Exists(At("paper.pdf")));
    }

    [Theory]
    [InlineData(new[] { "--accessible" }, "pdfuaid:part", "pdfaid:part")]
    [InlineData(new[] { "--archival" }, "pdfaid:part", "pdfuaid:part")]
    [InlineData(new[] { "--archival", "--accessible" }, "pdfuaid:part", null)]
    public void A_pdf_is_of_the_flavour_that_is_asked_for(string[] flavour, string says, string? saysNot)
    {
        Write("main.tex", "\\documentclass{article}\\title{T}\\begin{document}Words.\\end{document}");
        Assert.Equal(0, Run(["compile", _folder, "-o", At("out.pdf"), .. flavour]).Code);
        string pdf = File.ReadAllText(At("out.pdf"), System.Text.Encoding.Latin1);
        Assert.Contains($"<{says}>", pdf, StringComparison.Ordinal);
        Assert.True(saysNot is null || !pdf.Contains($"<{saysNot}>", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("compile", "/nowhere/at/all")]
    [InlineData("compile")]
    [InlineData("compile", "x", "--wrong")]
    [InlineData("nonsense")]
    public void Without_a_manuscript_it_exits_with_2_and_says_why(params string[] arguments)
    {
        (int code, string output) = Run(arguments);
        Assert.Equal(2, code);
        Assert.True(output.Length > 20);
    }

    private string At(string name) => Path.Combine(_folder, name);

    private void Write(string name, string text) => File.WriteAllText(At(name), text);

    private static (int Code, string Output) Run(params string[] arguments) => Start(arguments);

    private static (int Code, string Output) Start(string[] arguments, [CallerFilePath] string here = "")
    {
        string root = Path.GetFullPath(Path.Combine(Path.GetDirectoryName(here)!, "..", ".."));
        string configuration = AppContext.BaseDirectory.Contains("Release", StringComparison.Ordinal) ? "Release" : "Debug";
        string tool = Path.Combine(root, "src", "YoungFolio.Tool", "bin", configuration, "net10.0", "YoungFolio.Tool.dll");
        var start = new ProcessStartInfo("dotnet", [tool, .. arguments]) { RedirectStandardOutput = true, RedirectStandardError = true };
        using Process process = Process.Start(start)!;
        Task<string> errors = process.StandardError.ReadToEndAsync();
        string output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return (process.ExitCode, output + errors.Result);
    }
}
