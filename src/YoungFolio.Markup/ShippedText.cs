using System.Reflection;

namespace YoungFolio.Markup;

/// <summary>Data files that ship within an assembly.</summary>
public static class ShippedText
{
    /// <summary>A file's text.</summary>
    /// <param name="of">The assembly that it ships in.</param>
    /// <param name="file">Its name.</param>
    /// <exception cref="InvalidOperationException">It doesn't ship.</exception>
    public static string Of(Assembly of, string file)
    {
        using Stream stream = of.GetManifestResourceStream(file) ?? throw new InvalidOperationException($"{file} doesn't ship.");
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    }

    /// <summary>A file's lines, without remarks (<c># …</c>) and empty ones.</summary>
    /// <param name="of">The assembly that it ships in.</param>
    /// <param name="file">Its name.</param>
    /// <exception cref="InvalidOperationException">It doesn't ship.</exception>
    public static IEnumerable<string> Lines(Assembly of, string file) =>
        Of(of, file).Split('\n').Where(static l => l.Length > 0 && !l.StartsWith("# ", StringComparison.Ordinal));

    /// <summary>What a file of lines <c>key: value</c> says; null when it doesn't ship.</summary>
    /// <param name="of">The assembly that it would ship in.</param>
    /// <param name="file">Its name.</param>
    public static IReadOnlyDictionary<string, string>? Entries(Assembly of, string file) => of.GetManifestResourceInfo(file) is null ? null
        : Lines(of, file).Select(static l => l.Split(": ", 2)).ToDictionary(static e => e[0], static e => e[1], StringComparer.Ordinal);
}
