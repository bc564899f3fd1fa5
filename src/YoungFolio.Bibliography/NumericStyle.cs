using System.Text;

namespace YoungFolio.Bibliography;

/// <summary>The printed form of sources in a numbered list, as markup.</summary>
public static class NumericStyle
{
    /// <summary>The order of a list sorted by names, then year, then title.</summary>
    public static IEnumerable<BibEntry> Sort(IEnumerable<BibEntry> entries) =>
        entries.OrderBy(e => string.Join(' ', Names(e).Select(n => n.SortKey)), StringComparer.InvariantCulture)
            .ThenBy(e => e.Field("year"), StringComparer.Ordinal)
            .ThenBy(e => e.Field("title"), StringComparer.InvariantCulture);

    /// <summary>An entry as markup.</summary>
    public static string Format(BibEntry entry)
    {
        var parts = new List<string>();
        IReadOnlyList<PersonName> names = Names(entry);
        if (names.Count > 0)
        {
            string people = Join(names);
            parts.Add(entry.Field("author").Length == 0 ? people + (names.Count > 1 ? ", editors" : ", editor") : people);
        }

        bool isBook = entry.Type is "book" or "proceedings" or "phdthesis" or "mastersthesis" or "thesis" or "manual" or "techreport";
        string title = entry.Field("title");
        parts.Add(isBook ? $"\\emph{{{title}}}" : title);
        var where = new StringBuilder();
        if (First(entry, "journal", "journaltitle") is { Length: > 0 } journal)
        {
            where.Append("\\emph{" + journal + "}");
            where.Append(Prefixed(" ", entry.Field("volume"))).Append(entry.Field("number") is { Length: > 0 } n ? $"({n})" : "");
            where.Append(Prefixed(": ", Pages(entry)));
        }
        else if (entry.Field("booktitle") is { Length: > 0 } book)
        {
            where.Append("In \\emph{" + book + "}").Append(Prefixed(", pages ", Pages(entry)));
        }

        Append(where, First(entry, "publisher", "school", "institution", "organization"));
        Append(where, First(entry, "address", "location"));
        Append(where, First(entry, "year", "date"));
        parts.Add(where.ToString());
        parts.Add(entry.Field("note"));
        return string.Join(" ", parts.Where(p => p.Length > 0).Select(p => p[^1] is '.' or '?' or '!' ? p : p + "."));
    }

    private static void Append(StringBuilder where, string part)
    {
        if (part.Length > 0)
        {
            where.Append(where.Length > 0 ? ", " : "").Append(part);
        }
    }

    private static string Prefixed(string prefix, string value) => value.Length > 0 ? prefix + value : "";

    private static string First(BibEntry entry, params string[] names) => names.Select(entry.Field).FirstOrDefault(v => v.Length > 0) ?? "";

    // A range of pages is printed with an en dash, however it was typed.
    private static string Pages(BibEntry entry) => string.Join("--", entry.Field("pages").Split('-', StringSplitOptions.RemoveEmptyEntries));

    private static IReadOnlyList<PersonName> Names(BibEntry entry) => PersonName.ReadList(First(entry, "author", "editor"));

    private static string Join(IReadOnlyList<PersonName> names)
    {
        List<string> shown = [.. names.Select(n => n.Last == "others" && n.First.Length == 0 ? "et al." : n.Full)];
        return shown.Count switch
        {
            1 => shown[0],
            2 => shown[1] == "et al." ? $"{shown[0]} et al." : $"{shown[0]} and {shown[1]}",
            _ => string.Join(", ", shown[..^1]) + (shown[^1] == "et al." ? " et al." : " and " + shown[^1]),
        };
    }
}
