using System.Text.RegularExpressions;
using YoungFolio.Manuscript.Making;

namespace YoungFolio.HandIn;

/// <summary>
/// Words for those who can't see a picture: the key <c>alt</c> of <c>\includegraphics</c>. A picture that means nothing has the key
/// <c>artifact</c> instead. (Both as the field's current practice has them, from memory.)
/// </summary>
public static partial class PictureWords
{
    /// <summary>The longest words.</summary>
    public const int Longest = 1000;

    /// <summary>Whether the picture that is placed there has words, or says that it means nothing.</summary>
    /// <param name="text">The file's text.</param>
    /// <param name="offset">Where the picture is placed.</param>
    public static bool AreThere(string text, int offset) => Placing(text, offset) is { } m && Known().IsMatch(m.Groups[1].Value);

    /// <summary>The file that a picture is taken from, as it is typed; null: no picture is placed there.</summary>
    internal static string? FileAt(string text, int offset) =>
        Placing(text, offset) is { } m && File().Match(text, m.Index + m.Length) is { Success: true } file ? file.Groups[1].Value.Trim() : null;

    /// <summary>What has to be replaced so that a picture has some words.</summary>
    /// <param name="text">The file's text.</param>
    /// <param name="offset">Where the picture is placed.</param>
    /// <param name="words">The words; empty: it means nothing.</param>
    /// <returns>The stretch and what comes in its place; null: no picture is placed there.</returns>
    public static (int From, int To, string With)? Write(string text, int offset, string words)
    {
        ArgumentNullException.ThrowIfNull(words);
        if (Placing(text, offset) is not { } m)
        {
            return null;
        }

        string line = string.Join(' ', words.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
        string key = line.Length == 0 ? "artifact" : $"alt={{{PastedCells.Escape(line)}}}";
        Group options = m.Groups[1];
        if (!options.Success)
        {
            return (m.Index + m.Length, m.Index + m.Length, $"[{key}]");
        }

        if (Key().Match(options.Value) is { Success: true } old)
        {
            int from = options.Index + old.Groups[1].Index;
            return (from, from + old.Groups[1].Length, key);
        }

        int end = options.Index + options.Length - 1;
        return (end, end, string.IsNullOrWhiteSpace(options.Value[1..^1]) ? key : $",{key}");
    }

    private static Match? Placing(string text, int offset) =>
        offset >= 0 && offset < text.Length && Command().Match(text, offset) is { Success: true } m && m.Index - offset < 3 ? m : null;

    // Up to three pairs of braces within each other.
    private const string Braced = @"\{(?:[^{}\\]|\\.|\{(?:[^{}\\]|\\.|\{(?:[^{}\\]|\\.)*\})*\})*\}";

    [GeneratedRegex(@"\\includegraphics\*?\s*(\[(?:[^\[\]{}\\]|\\.|" + Braced + @")*\])?")]
    private static partial Regex Command();

    [GeneratedRegex(@"\G\s*\{([^{}]*)\}")]
    private static partial Regex File();

    [GeneratedRegex(@"[\[,]\s*(?:alt\s*=\s*(?:\{\s*[^{}\s]|[^{},\s\]])|artifact\b)")]
    private static partial Regex Known();

    [GeneratedRegex(@"[\[,]\s*((?:alt\s*=\s*(?:" + Braced + @"|[^,\]]*)|artifact\b(?:\s*=\s*\w+)?))")]
    private static partial Regex Key();
}
