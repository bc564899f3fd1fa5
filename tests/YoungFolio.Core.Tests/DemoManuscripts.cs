using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>The demo manuscripts as parts.</summary>
internal static class DemoManuscripts
{
    public static List<Part> Thesis() => Of("thesis");

    /// <summary>The parts of one, by its folder.</summary>
    public static List<Part> Of(string name, [System.Runtime.CompilerServices.CallerFilePath] string here = "")
    {
        string root = Path.GetFullPath(Path.Combine(Path.GetDirectoryName(here)!, "..", "..", "demo", name));
        return [.. Directory.EnumerateFiles(root, "*", SearchOption.AllDirectories).Order(StringComparer.Ordinal)
            .Select(f => new Part(Path.GetRelativePath(root, f).Replace('\\', '/'), File.ReadAllBytes(f)))];
    }

    public static ManuscriptSnapshot Snapshot(IEnumerable<Part> parts) => new(new PartTree(parts), "main.tex", new DateOnly(2026, 11, 9));
}
