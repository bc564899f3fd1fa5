using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>The demo manuscripts as files.</summary>
internal static class DemoManuscripts
{
    public static List<ManuscriptFile> Thesis() => Of("thesis");

    /// <summary>The files of one, by its folder.</summary>
    public static List<ManuscriptFile> Of(string name) => Read(name);

    private static List<ManuscriptFile> Read(string name, [System.Runtime.CompilerServices.CallerFilePath] string here = "")
    {
        string root = Path.GetFullPath(Path.Combine(Path.GetDirectoryName(here)!, "..", "..", "demo", name));
        return [.. Directory.EnumerateFiles(root, "*", SearchOption.AllDirectories).Order(StringComparer.Ordinal)
            .Select(f => new ManuscriptFile(Path.GetRelativePath(root, f).Replace('\\', '/'), File.ReadAllBytes(f)))];
    }

    public static ManuscriptSnapshot Snapshot(IEnumerable<ManuscriptFile> files) => new(new FileTree(files), "main.tex", new DateOnly(2026, 11, 9));
}
