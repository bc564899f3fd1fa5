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
}
