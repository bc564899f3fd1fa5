using System.Runtime.CompilerServices;

namespace YoungFolio.Core.Tests;

/// <summary>The project's own sources, for tests of what stands in them.</summary>
internal static class SourceTree
{
    /// <summary>The project's folder.</summary>
    public static string Root { get; } = Path.GetFullPath(Path.Combine(Path.GetDirectoryName(Here())!, "..", ".."));

    /// <summary>Paths of the C# files below a folder.</summary>
    public static IEnumerable<string> Files(string folder) => Directory.EnumerateFiles(Path.Combine(Root, folder), "*.cs", SearchOption.AllDirectories)
        .Where(f => !f.Contains("/obj/", StringComparison.Ordinal));

    /// <summary>All that stands in them.</summary>
    public static string Text(string folder) => string.Concat(Files(folder).Select(File.ReadAllText));

    private static string Here([CallerFilePath] string here = "") => here;
}
