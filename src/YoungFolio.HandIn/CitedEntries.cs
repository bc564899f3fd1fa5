using System.Text;
using YoungFolio.Bibliography;

namespace YoungFolio.HandIn;

/// <summary>A .bib file cut to the entries that are cited.</summary>
public static class CitedEntries
{
    private static readonly string[] s_parents = ["crossref", "xdata", "related", "entryset", "ids"];

    /// <summary>Takes out the entries that aren't cited and that no cited one takes from. All else stays as it is typed: short forms, comments, order.</summary>
    /// <param name="text">The file's text.</param>
    /// <param name="keys">The keys that are cited.</param>
    public static string Of(string text, IEnumerable<string> keys)
    {
        ArgumentNullException.ThrowIfNull(text);
        IReadOnlyList<BibEntry> entries = BibReader.Read(text).Entries;
        var wanted = new HashSet<string>(keys, StringComparer.OrdinalIgnoreCase);
        var byKey = new Dictionary<string, BibEntry>(StringComparer.OrdinalIgnoreCase);
        foreach (BibEntry entry in entries)
        {
            byKey.TryAdd(entry.Key, entry);
            // An entry may be cited by another of its names.
            if (List(entry, "ids").Any(wanted.Contains))
            {
                wanted.Add(entry.Key);
            }
        }

        var waiting = new Queue<string>(wanted);
        while (waiting.TryDequeue(out string? key))
        {
            foreach (string parent in byKey.TryGetValue(key, out BibEntry? entry) ? s_parents.SelectMany(f => List(entry, f)) : [])
            {
                if (wanted.Add(parent))
                {
                    waiting.Enqueue(parent);
                }
            }
        }

        var result = new StringBuilder();
        int at = 0;
        foreach (BibEntry entry in entries.Where(e => !wanted.Contains(e.Key) && e.End > e.Offset).OrderBy(e => e.Offset))
        {
            if (entry.Offset < at)
            {
                continue;
            }

            result.Append(text, at, entry.Offset - at);
            at = entry.End;
            while (at < text.Length && char.IsWhiteSpace(text[at]))
            {
                at++;
            }
        }

        return result.Append(text, at, text.Length - at).ToString();
    }

    private static string[] List(BibEntry entry, string field) => entry.Field(field).Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
}
