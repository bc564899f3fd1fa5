namespace YoungFolio.Bibliography;

/// <summary>By whose rule fields are needed.</summary>
public enum EntryRule
{
    /// <summary>The standard styles of 1988 (Patashnik, <em>BibTeXing</em>, section 3.1).</summary>
    Classic,

    /// <summary>biblatex' data model (its documentation, section 2.1.1).</summary>
    Modern,
}

/// <summary>A type of entry: which fields it needs, and which it usually has. A field's alternatives are parted by a slash.</summary>
/// <param name="Name">The type.</param>
/// <param name="Says">What it is for.</param>
/// <param name="Classic">Needed by the standard styles; null when they don't know the type.</param>
/// <param name="Modern">Needed by biblatex' data model.</param>
/// <param name="Usual">Other fields that are usual.</param>
public sealed record EntryType(string Name, string Says, IReadOnlyList<string>? Classic, IReadOnlyList<string> Modern, IReadOnlyList<string> Usual);

/// <summary>The types of both vocabularies.</summary>
public static class EntryTypes
{
    private static readonly (string Old, string New)[] s_vocabularies =
    [
        ("journal", "journaltitle"), ("address", "location"), ("school", "institution"), ("annote", "annotation"), ("archiveprefix", "eprinttype"),
        ("primaryclass", "eprintclass"), ("key", "sortkey"), ("pdf", "file"),
    ];

    /// <summary>All types.</summary>
    public static IReadOnlyList<EntryType> All { get; } =
    [
        T("article", "an article in a journal", "author title journal year", "author title journaltitle year", "volume number pages month doi url note"),
        T("book", "a book with a publisher", "author/editor title publisher year", "author title year", "publisher address edition volume series isbn doi url note"),
        T("mvbook", "a book of several volumes", null, "author title year", "publisher location volumes isbn"),
        T("inbook", "a part of a book", "author/editor title chapter/pages publisher year", "author title booktitle year", "publisher address pages chapter edition"),
        T("bookinbook", "a book inside another", null, "author title booktitle year", "publisher location pages"),
        T("suppbook", "a foreword or afterword", null, "author title booktitle year", "publisher location pages"),
        T("booklet", "something printed without a publisher", "title", "author/editor title year", "author howpublished address year note"),
        T("collection", "a book with an editor", null, "editor title year", "publisher location edition isbn"),
        T("mvcollection", "an edited work of several volumes", null, "editor title year", "publisher location volumes"),
        T("incollection", "a chapter with its own title", "author title booktitle publisher year", "author title booktitle year", "editor publisher address pages chapter edition doi"),
        T("suppcollection", "a foreword in an edited book", null, "author title booktitle year", "editor publisher pages"),
        T("dataset", "data that are published", null, "author/editor title year", "publisher version doi url"),
        T("manual", "documentation", "title", "author/editor title year", "author organization edition address year url"),
        T("misc", "anything else", "", "author/editor title year", "author title howpublished year note url"),
        T("online", "a page on the web", null, "author/editor title year doi/eprint/url", "urldate organization note"),
        T("patent", "a patent", null, "author title number year", "holder type location url"),
        T("periodical", "an issue of a journal", null, "editor title year", "volume number issn"),
        T("suppperiodical", "a part of an issue", null, "author title journaltitle year", "volume number pages"),
        T("proceedings", "the papers of a conference", "title year", "title year", "editor publisher organization address series volume"),
        T("mvproceedings", "the papers of a conference in several volumes", null, "title year", "editor publisher"),
        T("inproceedings", "a paper at a conference", "author title booktitle year", "author title booktitle year", "editor pages organization publisher address month doi url"),
        T("reference", "a dictionary or an encyclopedia", null, "editor title year", "publisher location edition"),
        T("inreference", "an article in an encyclopedia", null, "author title booktitle year", "editor publisher pages"),
        T("report", "a report of an institution", null, "author title type institution year", "number location url doi"),
        T("techreport", "a report of an institution", "author title institution year", "author title institution year", "type number address month url"),
        T("thesis", "a thesis", null, "author title type institution year", "location url"),
        T("phdthesis", "a doctoral thesis", "author title school year", "author title institution year", "address month type url"),
        T("mastersthesis", "a master's thesis", "author title school year", "author title institution year", "address month type url"),
        T("unpublished", "something not published", "author title note", "author title year", "year month note url"),
        T("software", "a program", null, "author/editor title year", "version url doi"),
    ];

    private static readonly Dictionary<string, string> s_aliases = new(StringComparer.OrdinalIgnoreCase)
    {
        ["conference"] = "inproceedings",
        ["electronic"] = "online",
        ["www"] = "online",
    };

    private static readonly Dictionary<string, EntryType> s_byName = All.ToDictionary(t => t.Name, StringComparer.OrdinalIgnoreCase);

    /// <summary>A type by name, or null.</summary>
    public static EntryType? Find(string name) => s_byName.GetValueOrDefault(s_aliases.GetValueOrDefault(name, name));

    /// <summary>Fields that an entry lacks, each as it would be typed; alternatives are joined by “or”.</summary>
    public static IReadOnlyList<string> Missing(BibEntry entry, EntryRule rule)
    {
        if (Find(entry.Type) is not { } type)
        {
            return [];
        }

        return [.. Needed(type, rule).Where(n => !n.Split('/').Any(f => Has(entry, f))).Select(n => n.Replace("/", " or ", StringComparison.Ordinal))];
    }

    /// <summary>Whether a type needs a field, in either vocabulary, alone or as one of several.</summary>
    public static bool Needs(string typeName, string field, EntryRule rule) => Needed(Find(typeName), rule).SelectMany(n => n.Split('/')).Any(n => Names(n).Contains(field));

    private static IReadOnlyList<string> Needed(EntryType? type, EntryRule rule) => (rule == EntryRule.Modern ? type?.Modern : type?.Classic ?? type?.Modern) ?? ["author", "title", "year"];

    /// <summary>The fields of a form in order: first what the type needs, then what is usual; names as the entry's vocabulary has them.</summary>
    public static IReadOnlyList<string> Form(BibEntry entry, EntryRule rule)
    {
        EntryType? type = Find(entry.Type);
        IReadOnlyList<string> needed = Needed(type, rule);
        var result = new List<string>();
        foreach (string name in needed.SelectMany(n => n.Split('/')).Concat(type?.Usual ?? []).Concat(entry.Written.Select(f => f.Name)))
        {
            string own = Names(name).FirstOrDefault(entry.Fields.ContainsKey) ?? name;
            if (!result.Contains(own))
            {
                result.Add(own);
            }
        }

        // Of two fields that may stand for each other, only those are shown that are there, or the first.
        foreach (string pair in needed.Where(n => n.Contains('/', StringComparison.Ordinal)))
        {
            string[] names = pair.Split('/');
            string[] there = [.. names.Where(n => entry.Fields.ContainsKey(n))];
            result.RemoveAll(n => names.Contains(n) && !there.Contains(n) && (there.Length > 0 || n != names[0]));
        }

        return result;
    }

    /// <summary>Whether an entry has a field, in either vocabulary.</summary>
    public static bool Has(BibEntry entry, string field) => Names(field).Any(n => entry.Field(n).Length > 0);

    private static IEnumerable<string> Names(string field)
    {
        yield return field;
        foreach ((string old, string now) in s_vocabularies)
        {
            if (field == old)
            {
                yield return now;
            }
            else if (field == now)
            {
                yield return old;
            }
        }

        if (field is "year" or "date")
        {
            yield return field == "year" ? "date" : "year";
        }

        if (field == "institution")
        {
            yield return "organization";
        }
    }

    private static EntryType T(string name, string says, string? classic, string modern, string usual) =>
        new(name, says, classic?.Split(' ', StringSplitOptions.RemoveEmptyEntries), modern.Split(' '), usual.Split(' '));
}
