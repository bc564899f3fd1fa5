namespace YoungFolio.Bibliography;

/// <summary>Something to say of an entry.</summary>
/// <param name="Code">Which kind: <c>incomplete-source</c>, <c>malformed-names</c> and others.</param>
/// <param name="Field">The field that it is about; empty for the entry.</param>
/// <param name="Message">What is wrong.</param>
/// <param name="Advice">How to mend it.</param>
/// <param name="Mend">A value for the field that mends it, or null.</param>
public sealed record SourceRemark(string Code, string Field, string Message, string Advice, string? Mend = null);

/// <summary>Checks of single entries, and of pairs that may be one work.</summary>
public static class SourceChecks
{
    /// <summary>What is wrong with an entry.</summary>
    /// <param name="entry">The entry, with what it inherits.</param>
    /// <param name="rule">By whose rule fields are needed.</param>
    public static IReadOnlyList<SourceRemark> Of(BibEntry entry, EntryRule rule)
    {
        var remarks = new List<SourceRemark>();
        if (EntryTypes.Find(entry.Type) is null)
        {
            remarks.Add(new("unknown-source-type", "", $"There is no type of source called “{entry.Type}”.", "It prints like misc. Known are article, book, inproceedings and others."));
        }

        IReadOnlyList<string> missing = EntryTypes.Missing(entry, rule);
        if (missing.Count > 0)
        {
            string whose = rule == EntryRule.Modern ? "biblatex' data model" : "the standard styles";
            remarks.Add(new("incomplete-source", missing[0].Split(' ')[0], $"{Article(entry.Type)} needs its {string.Join(", ", missing)} (by {whose}).", "Add what is missing; until then it prints without."));
        }

        foreach (string field in (ReadOnlySpan<string>)["author", "editor"])
        {
            if (entry.Field(field) is { Length: > 0 } names && PersonName.Problem(names) is { } problem)
            {
                remarks.Add(new("malformed-names", field, problem, "Names stand as “Last, First” or “First Last”.",
                    names.Contains('&', StringComparison.Ordinal) ? names.Replace(" \\& ", " and ", StringComparison.Ordinal).Replace(" & ", " and ", StringComparison.Ordinal) : null));
            }
        }

        if (SourceDate.Of(entry).Problem is { } date)
        {
            remarks.Add(new("malformed-date", entry.Field("date").Length > 0 ? "date" : "year", date, "Until then it prints as it stands."));
        }

        string pages = entry.Field("pages");
        if (HasLoneHyphen(pages))
        {
            string mended = string.Join("--", pages.Split('-', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries));
            remarks.Add(new("single-hyphen", "pages", $"A span of pages is written with two hyphens: {mended}.", "It prints with an en dash all the same.", mended));
        }

        string title = entry.Field("title");
        string plain = MarkupText.Plain(title);
        if (plain.Count(char.IsLetter) > 8 && plain.Where(char.IsLetter).All(char.IsUpper) && !title.StartsWith('{'))
        {
            string lower = plain[..1] + plain[1..].ToLowerInvariant();
            remarks.Add(new("capitals-title", "title", "The title is all in capitals.", "Write it as a sentence, and put braces around what must keep its capitals.", MarkupText.Escape(lower)));
        }

        foreach (BibField field in entry.Written.Where(f => f.Name is not ("url" or "doi" or "file" or "eprint" or "abstract")))
        {
            int at = Unescaped(field.Value);
            if (at >= 0)
            {
                string mended = Escaped(field.Value);
                remarks.Add(new("unescaped-source", field.Name, $"“{field.Value[at]}” in {field.Name} means something to the markup.", $"Write \\{field.Value[at]} for the sign itself.", mended));
            }

            if (!BibText.IsBalanced(field.Value))
            {
                remarks.Add(new("unbalanced-source", field.Name, $"Braces in {field.Name} don't match.", "Every { needs its }."));
            }
        }

        return remarks;
    }

    /// <summary>Groups of entries that seem to be one work: by DOI, then by title, year and first name.</summary>
    /// <param name="entries">The entries.</param>
    /// <param name="look">Called now and then: it may end the work by an exception.</param>
    public static IReadOnlyList<IReadOnlyList<BibEntry>> Twins(IEnumerable<BibEntry> entries, Action? look = null)
    {
        var groups = new List<IReadOnlyList<BibEntry>>();
        var seen = new HashSet<BibEntry>(ReferenceEqualityComparer.Instance);
        BibEntry[] all = [.. entries];
        foreach (Func<BibEntry, string> identity in (ReadOnlySpan<Func<BibEntry, string>>)[Doi, Work])
        {
            foreach (IGrouping<string, BibEntry> group in all.Where(e => !seen.Contains(e)).GroupBy(Identity).Where(g => g.Key.Length > 0 && g.Count() > 1).ToList())
            {
                groups.Add([.. group]);
                seen.UnionWith(group);
            }

            string Identity(BibEntry entry)
            {
                look?.Invoke();
                return identity(entry);
            }
        }

        return groups;
    }

    private static string Doi(BibEntry entry)
    {
        string doi = entry.Field("doi").ToLowerInvariant();
        int at = doi.IndexOf("10.", StringComparison.Ordinal);
        return at >= 0 ? doi[at..].Trim() : "";
    }

    private static string Work(BibEntry entry)
    {
        string title = MarkupText.Folded(entry.Field("title"));
        IReadOnlyList<PersonName> names = PersonName.ReadList(entry.First("author", "editor"));
        return title.Length < 6 || names.Count == 0 ? "" : $"{title} {MarkupText.Folded(SourceDate.Of(entry).Year)} {MarkupText.Folded(names[0].Last)}";
    }

    private static string Article(string type) => (type.Length > 0 && "aeiou".Contains(type[0], StringComparison.Ordinal) ? "An " : "A ") + type;

    private static bool HasLoneHyphen(string pages)
    {
        int at = pages.IndexOf('-', StringComparison.Ordinal);
        return at > 0 && at + 1 < pages.Length && pages[at + 1] != '-' && char.IsAsciiDigit(pages[at - 1]) && char.IsAsciiDigit(pages[at + 1]) && !pages.Contains("--", StringComparison.Ordinal);
    }

    // Where & or % or # stands without its backslash; formulas and arguments of addresses may hold them.
    private static int Unescaped(string value)
    {
        if (value.Contains("\\url", StringComparison.Ordinal) || value.Contains("\\href", StringComparison.Ordinal) || value.Contains('$', StringComparison.Ordinal))
        {
            return -1;
        }

        for (int i = 0; i < value.Length; i++)
        {
            if (value[i] == '\\')
            {
                i++;
            }
            else if (value[i] is '&' or '%' or '#')
            {
                return i;
            }
        }

        return -1;
    }

    /// <summary>A value in which &amp;, % and # that stand without their backslash have one; addresses and formulas stay.</summary>
    public static string Escaped(string value)
    {
        if (Unescaped(value) < 0)
        {
            return value;
        }

        var text = new System.Text.StringBuilder();
        for (int i = 0; i < value.Length; i++)
        {
            if (value[i] == '\\' && i + 1 < value.Length)
            {
                text.Append(value[i]).Append(value[++i]);
            }
            else
            {
                text.Append(value[i] is '&' or '%' or '#' ? "\\" : "").Append(value[i]);
            }
        }

        return text.ToString();
    }
}
