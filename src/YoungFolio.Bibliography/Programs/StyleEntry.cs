namespace YoungFolio.Bibliography;

/// <summary>An entry as a style's program sees it: its fields by their places, and its own variables.</summary>
internal sealed class StyleEntry
{
    // Types that biblatex has besides the classic ones, and which classic one is set as they are.
    private static readonly Dictionary<string, string> s_types = new(StringComparer.Ordinal)
    {
        ["conference"] = "inproceedings", ["report"] = "techreport", ["thesis"] = "phdthesis", ["collection"] = "book", ["mvbook"] = "book", ["mvcollection"] = "book",
        ["reference"] = "book", ["mvreference"] = "book", ["mvproceedings"] = "proceedings", ["bookinbook"] = "incollection", ["suppbook"] = "incollection",
        ["suppcollection"] = "incollection", ["inreference"] = "incollection", ["suppperiodical"] = "article", ["www"] = "misc", ["electronic"] = "misc", ["online"] = "misc",
        ["software"] = "misc", ["dataset"] = "misc", ["periodical"] = "misc", ["patent"] = "misc",
    };

    // Fields that biblatex names otherwise; a style's own name comes first.
    private static readonly Dictionary<string, string[]> s_fields = new(StringComparer.Ordinal)
    {
        ["address"] = ["location"], ["journal"] = ["journaltitle"], ["school"] = ["institution"], ["institution"] = ["school"],
    };

    private StyleEntry(BibEntry source, string type, string?[] fields, StyleNames names)
    {
        (Source, Type, Fields) = (source, type, fields);
        Integers = new int[names.Count(StyleNameKind.EntryInteger)];
        Strings = new string[names.Count(StyleNameKind.EntryString)];
        Array.Fill(Strings, "");
    }

    /// <summary>The entry.</summary>
    public BibEntry Source { get; }

    /// <summary>Its type, or the one in whose place it stands.</summary>
    public string Type { get; }

    /// <summary>Its fields; null: not there.</summary>
    public IReadOnlyList<string?> Fields { get; }

    /// <summary>Its numbers.</summary>
    public int[] Integers { get; }

    /// <summary>Its texts; the first one is what it is sorted by.</summary>
    public string[] Strings { get; }

    /// <summary>What it is sorted by.</summary>
    public string SortKey => Strings[0];

    /// <summary>The entries of a list. A work to which two or more of them belong (<c>crossref</c>) comes along (BibTeXing, section 2).</summary>
    public static IEnumerable<StyleEntry> Of(StyleProgram program, IReadOnlyList<BibEntry> cited, SourceWords words)
    {
        const int EnoughParts = 2;
        var listed = cited.Select(c => c.Key).ToHashSet(StringComparer.Ordinal);
        List<BibEntry> wholes = [.. cited.Where(c => c.Whole is not null && !listed.Contains(c.Whole.Key)).GroupBy(c => c.Whole!.Key).Where(g => g.Count() >= EnoughParts).Select(g => g.First().Whole!)];
        listed.UnionWith(wholes.Select(w => w.Key));
        List<StyleName> fields = [.. program.Names.OfKind(StyleNameKind.Field)];
        foreach (BibEntry entry in cited.Concat(wholes))
        {
            string type = program.Names.Find(entry.Type) is null && s_types.TryGetValue(entry.Type, out string? classic) ? classic : entry.Type;
            type = entry.Type == "thesis" && type == "phdthesis" && entry.Field("type") is "mathesis" or "mscthesis" ? "mastersthesis" : type;
            string?[] values = new string?[program.Names.Count(StyleNameKind.Field)];
            foreach (StyleName field in fields)
            {
                values[field.Place] = field.Text == "crossref" ? (entry.Whole is { } whole && listed.Contains(whole.Key) ? whole.Key : null) : Value(entry, field.Text, words, name => program.Macro(name) ?? MonthOf(name, words));
            }

            yield return new StyleEntry(entry, type, values, program.Names);
        }
    }

    private static string? Value(BibEntry entry, string field, SourceWords words, Func<string, string?> named)
    {
        if (entry.Fields.TryGetValue(field, out string? written))
        {
            string value = entry.Joined.TryGetValue(field, out IReadOnlyList<BibPiece>? pieces)
                ? string.Join(' ', string.Concat(pieces.Select(p => p.IsName ? named(p.Text) ?? p.Standard : p.Text)).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)) : written;
            return field switch
            {
                "pages" => value.Replace("–", "--", StringComparison.Ordinal).Replace("—", "--", StringComparison.Ordinal),
                // What biblatex calls its kinds of theses is no name that prints.
                "type" when value is "phdthesis" or "mathesis" or "mscthesis" or "techreport" => null,
                "title" when entry.Field("subtitle") is { Length: > 0 } sub => Safe("title", $"{value}: {sub}"),
                _ => Safe(field, value),
            };
        }

        if (field is "year" or "month" && entry.Field("date").Length > 0)
        {
            SourceDate date = SourceDate.Of(entry);
            return field == "year" ? (date.Year.Length > 0 ? date.Printed : null) : date.Month > 0 ? named(StandardNames.Months[date.Month - 1]) : null;
        }

        // What our own styles ask for besides.
        if (field == "date.day")
        {
            return SourceDate.Of(entry) is { Day: > 0 } date ? date.Day.ToString(System.Globalization.CultureInfo.InvariantCulture) : null;
        }

        if (field is "date.visited" or "date.visited.short" && entry.Field("urldate") is { Length: > 0 } visited)
        {
            SourceDate day = SourceDate.Read(MarkupText.Plain(visited));
            return field == "date.visited" ? words.Date(day) : words.ShortDate(day);
        }

        foreach (string other in s_fields.GetValueOrDefault(field, []))
        {
            if (entry.Field(other) is { Length: > 0 } value)
            {
                return Safe(field, value);
            }
        }

        return null;
    }

    private static string? MonthOf(string name, SourceWords words) => Array.IndexOf(StandardNames.Months, name.ToLowerInvariant()) is >= 0 and var month ? words.Month(month + 1) : null;

    // What isn't markup on purpose prints as the sign that it is; a finding says so. An address prints as one, whether or not the preamble
    // loads a package for it.
    private static string Safe(string name, string value) => name == "doi" ? SourceAddress.Raw(SourceAddress.BareDoi(value)) : name is "url" or "eprint" ? SourceAddress.Raw(value) : SourceAddress.Typed(value) ?? SourceChecks.Escaped(value);
}
