using System.Buffers;
using System.Text;

namespace YoungFolio.Storage;

/// <summary>Rules for the names of files: such as every system takes, since manuscripts leave as a .zip.</summary>
public static class FilePath
{
    private static readonly string[] s_text = [".tex", ".bib", ".cls", ".sty", ".txt", ".md", ".csv", ".bst"];

    // Names that a system keeps for its devices (source: Microsoft's "Naming Files, Paths, and Namespaces").
    private static readonly HashSet<string> s_reserved = new(
        ["con", "prn", "aux", "nul", .. Enumerable.Range(1, 9).SelectMany(n => (string[])[$"com{n}", $"lpt{n}"])], StringComparer.OrdinalIgnoreCase);

    private static readonly SearchValues<char> s_signs = SearchValues.Create("<>:\"|?*");

    /// <summary>Whether a file of this name holds text.</summary>
    public static bool IsText(string path) => s_text.Contains(Path.GetExtension(path).ToLowerInvariant());

    /// <summary>The path in its normal form.</summary>
    /// <exception cref="StoreException">It can't be a file's path.</exception>
    public static string Check(string path)
    {
        string normal;
        try
        {
            normal = path.Trim().Replace('\\', '/').Normalize(NormalizationForm.FormC);
        }
        catch (ArgumentException)
        {
            throw Refused("");
        }

        if (normal.Length is 0 or > 200 || normal.AsSpan().ContainsAny(s_signs) || normal.EnumerateRunes().Any(SeenText.IsUnseen)
            || normal.Split('/').Any(s => s is "" or "." or ".." || s.EndsWith('.') || s.StartsWith(' ') || s.EndsWith(' ')))
        {
            throw Refused(normal);
        }

        return normal.Split('/').FirstOrDefault(s => s_reserved.Contains(s.Split('.')[0])) is { } reserved
            ? throw new StoreException($"“{reserved}” can't be a file's name: some systems keep it for themselves.")
            : normal;
    }

    private static StoreException Refused(string path)
    {
        string shown = string.Concat(path.EnumerateRunes().Where(r => !SeenText.IsUnseen(r)).Take(60));
        return new($"“{shown}” can't be a file's name. Use letters, figures and a full stop, and / between folders.");
    }
}
