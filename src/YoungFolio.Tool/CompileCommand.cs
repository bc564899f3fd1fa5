using System.Text.Json;
using System.Text.Json.Serialization;
using YoungFolio.Compiler;
using YoungFolio.Markup;
using YoungFolio.Pdf;

namespace YoungFolio.Tool;

/// <summary>Compiles a manuscript on disk.</summary>
internal static class CompileCommand
{
    private static readonly JsonSerializerOptions s_json = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        WriteIndented = true,
        DefaultIgnoreCondition = JsonIgnoreCondition.Never,
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    public static int Run(string[] args)
    {
        string? source = null;
        string? output = null;
        string? report = null;
        string? since = null;
        string? html = null;
        bool isMarked = false;
        PdfFlavour flavour = PdfFlavour.Usual;
        for (int i = 0; i < args.Length; i++)
        {
            switch (args[i])
            {
                case "-o" when i + 1 < args.Length:
                    output = args[++i];
                    break;
                case "--report" when i + 1 < args.Length:
                    report = args[++i];
                    break;
                case "--since" when i + 1 < args.Length:
                    since = args[++i];
                    break;
                case "--html" when i + 1 < args.Length:
                    html = args[++i];
                    break;
                case "--marks":
                    isMarked = true;
                    break;
                case "--archival":
                    flavour = flavour with { IsArchival = true };
                    break;
                case "--accessible":
                    flavour = flavour with { IsAccessible = true };
                    break;
                case var a when source is null && !a.StartsWith('-'):
                    source = a;
                    break;
                default:
                    Console.Error.WriteLine($"compile doesn't know “{args[i]}”. Write: compile FOLDER|FILE.tex [-o out.pdf] [--report out.json] [--marks] [--archival] [--accessible] [--html out.html] [--since FOLDER|FILE.tex]");
                    return 2;
            }
        }

        if (source is null || Load(source) is not { } snapshot)
        {
            Console.Error.WriteLine(source is null
                ? "Say what to compile: a folder, or a .tex file."
                : $"There is no manuscript at {source}: no .tex file with \\documentclass was found.");
            return 2;
        }

        output ??= Path.Combine(Directory.Exists(source) ? source : Path.GetDirectoryName(Path.GetFullPath(source))!,
            Path.ChangeExtension(Path.GetFileName(snapshot.MainFile), since is null ? ".pdf" : "-changes.pdf"));
        if (since is not null)
        {
            return CompareWith(since, snapshot, output);
        }

        var compiler = new ManuscriptCompiler();
        CompileResult result = flavour.IsAccessible ? compiler.CompileTagged(snapshot) : compiler.Compile(snapshot);
        try
        {
            File.WriteAllBytes(output, result.WritePdf(isMarked, flavour));
            if (html is not null)
            {
                File.WriteAllText(html, compiler.WriteHtml(snapshot));
            }

            if (report is not null)
            {
                File.WriteAllText(report, JsonSerializer.Serialize(result.Report, s_json) + "\n");
            }
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            Console.Error.WriteLine($"The proof can't be stored: {e.Message}");
            return 2;
        }

        foreach (FindingLine finding in result.Report.Findings)
        {
            string kind = finding.Kind switch { "fix" => "to fix", "check" => "to check", _ => "about the layout" };
            Console.WriteLine($"{finding.File}:{finding.Line}:{finding.Column}: {kind}: {finding.Message} {finding.Advice}");
        }

        Console.WriteLine($"{output}: {result.Report.Pages} pages, {result.Report.Words} words, {result.Report.Findings.Count} findings");
        return result.Report.Findings.Any(f => f.Kind == "fix") ? 1 : 0;
    }

    // The proof with what changed since an earlier state marked in it.
    private static int CompareWith(string since, ManuscriptSnapshot snapshot, string output)
    {
        if (Load(since) is not { } before)
        {
            Console.Error.WriteLine($"There is no manuscript at {since}: no .tex file with \\documentclass was found.");
            return 2;
        }

        ChangeProof proof = new ManuscriptCompiler().CompileChanges(before, snapshot);
        try
        {
            File.WriteAllBytes(output, proof.Pdf);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            Console.Error.WriteLine($"The proof can't be stored: {e.Message}");
            return 2;
        }

        foreach (ChangeLine change in proof.Changes)
        {
            Console.WriteLine($"page {change.Page}: {change.Kind}: {change.Text}");
        }

        Console.WriteLine($"{output}: {proof.Pages} pages, {proof.Changes.Count} changes");
        return 0;
    }

    /// <summary>A folder, or the folder of a main file, as a manuscript.</summary>
    internal static ManuscriptSnapshot? Load(string source)
    {
        bool isFile = File.Exists(source);
        string root = isFile ? Path.GetDirectoryName(Path.GetFullPath(source))! : source;
        if (!Directory.Exists(root))
        {
            return null;
        }

        var files = new FolderTree(root, Console.Error.WriteLine);
        string? main = isFile ? Path.GetFileName(source) : MainFile(files);
        return main is null ? null : new ManuscriptSnapshot(files, main, DateOnly.FromDateTime(DateTime.Today));
    }

    // main.tex, or else the first .tex file at the top that has a \documentclass.
    private static string? MainFile(FolderTree files) =>
        files.Find("main.tex")?.Path
        ?? files.Paths.FirstOrDefault(p => p.EndsWith(".tex", StringComparison.Ordinal) && !p.Contains('/', StringComparison.Ordinal)
            && files.Find(p)?.Text.Contains("\\documentclass", StringComparison.Ordinal) == true);
}
