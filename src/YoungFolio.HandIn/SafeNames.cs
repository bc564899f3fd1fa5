using System.Globalization;
using System.Text;
using YoungFolio.Bibliography;
using YoungFolio.Manuscript.Files;
using YoungFolio.Markup;

namespace YoungFolio.HandIn;

/// <summary>Names of files that every system reads: letters and figures of ASCII, hyphens, points and low lines.</summary>
public static class SafeNames
{
    // Letters that don't come apart into one of ASCII and an accent.
    private static readonly Dictionary<char, string> s_letters = new()
    {
        ['ß'] = "ss", ['æ'] = "ae", ['Æ'] = "Ae", ['œ'] = "oe", ['Œ'] = "Oe", ['ø'] = "o", ['Ø'] = "O", ['ł'] = "l", ['Ł'] = "L", ['đ'] = "d", ['Đ'] = "D", ['ð'] = "d", ['Ð'] = "D", ['þ'] = "th", ['Þ'] = "Th", ['ı'] = "i",
    };

    /// <summary>A name in safe signs; empty when nothing of it is.</summary>
    /// <param name="name">The name, without folders.</param>
    public static string Of(string name)
    {
        ArgumentNullException.ThrowIfNull(name);
        if (name.All(IsSafe))
        {
            return name;
        }

        var plain = new StringBuilder();
        foreach (char c in name.Normalize(NormalizationForm.FormD))
        {
            if (IsSafe(c) && c != '-')
            {
                plain.Append(c);
            }
            else if (s_letters.TryGetValue(c, out string? letters))
            {
                plain.Append(letters);
            }
            else if (CharUnicodeInfo.GetUnicodeCategory(c) != UnicodeCategory.NonSpacingMark && plain.Length > 0 && plain[^1] != '-')
            {
                plain.Append('-');
            }
        }

        return plain.Replace("-.", ".").ToString().TrimEnd('-');
    }

    /// <summary>Gives files safe names; what takes them in by name follows.</summary>
    /// <param name="files">The files by path; they are changed.</param>
    /// <returns>The paths that were changed, before and now.</returns>
    public static IReadOnlyList<(string Before, string Now)> Give(Dictionary<string, ManuscriptFile> files)
    {
        ArgumentNullException.ThrowIfNull(files);
        var renamed = new List<(string Before, string Now)>();
        foreach (string path in files.Keys.Order(StringComparer.Ordinal).ToArray())
        {
            string safe = Path(path);
            if (safe == path)
            {
                continue;
            }

            string ending = System.IO.Path.GetExtension(safe);
            string now = safe;
            // Systems that don't tell capitals from small letters would take one file for the other.
            for (int i = 2; files.Keys.Contains(now, StringComparer.OrdinalIgnoreCase); i++)
            {
                now = string.Create(CultureInfo.InvariantCulture, $"{safe[..^ending.Length]}-{i}{ending}");
            }

            ReadOnlyMemory<byte> bytes = files[path].Bytes;
            files.Remove(path);
            files[now] = new ManuscriptFile(now, bytes);
            Dictionary<string, string> texts = files.Where(f => IsMarkup(f.Key)).ToDictionary(f => f.Key, f => f.Value.Text, StringComparer.Ordinal);
            foreach ((string text, IReadOnlyList<TextEdit> edits) in FileNames.Rename(texts, path, now))
            {
                files[text] = ManuscriptFile.FromText(text, BibText.Apply(texts[text], edits));
            }

            renamed.Add((path, now));
        }

        return renamed;
    }

    /// <summary>Whether a file holds markup, and may name others.</summary>
    internal static bool IsMarkup(string path) => path.EndsWith(".tex", StringComparison.OrdinalIgnoreCase) || path.EndsWith(".sty", StringComparison.OrdinalIgnoreCase) || path.EndsWith(".cls", StringComparison.OrdinalIgnoreCase);

    private static bool IsSafe(char c) => char.IsAsciiLetterOrDigit(c) || c is '_' or '.' or '-';

    // Of a name without a safe sign only the ending is left.
    private static string Path(string path) => string.Join('/', path.Split('/').Select(p => Of(p) is var safe && (safe == p || safe is [not '.', ..]) ? safe : "file" + safe));
}
