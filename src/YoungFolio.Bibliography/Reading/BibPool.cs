namespace YoungFolio.Bibliography;

/// <summary>
/// The entries of all .bib files by key, with what they inherit: <c>crossref</c> gives a part what its whole says, <c>xdata</c> gives
/// shared fields (biblatex' documentation, 2.4.1 and 3.13.6; BibTeXing, section 2, for crossref).
/// </summary>
public sealed class BibPool
{
    // Fields that belong to one entry alone.
    private static readonly HashSet<string> s_own = new(StringComparer.Ordinal)
    {
        "crossref", "xref", "xdata", "ids", "entryset", "entrysubtype", "execute", "keywords", "label", "options", "presort", "related", "relatedtype",
        "shorthand", "shortauthor", "shorttitle", "sortkey", "sortname", "sorttitle", "sortyear", "note", "abstract", "annotation", "file", "doi", "url", "pages",
    };

    private readonly Dictionary<string, BibEntry> _byKey = new(StringComparer.Ordinal);
    private readonly List<BibEntry> _entries = [];

    /// <summary>Makes a pool of entries; of two with one key the first holds.</summary>
    public BibPool(IEnumerable<BibEntry> entries)
    {
        var written = new List<BibEntry>(entries);
        var raw = new Dictionary<string, BibEntry>(StringComparer.Ordinal);
        foreach (BibEntry entry in written)
        {
            raw.TryAdd(entry.Key, entry);
        }

        foreach (BibEntry entry in written)
        {
            BibEntry whole = Inherit(entry, raw, 0);
            if (_byKey.TryAdd(entry.Key, whole))
            {
                _entries.Add(whole);
                foreach (string other in Keys(entry.Field("ids")))
                {
                    _byKey.TryAdd(other, whole);
                }
            }
        }
    }

    /// <summary>The entries, in order; an <c>@xdata</c> is none.</summary>
    public IEnumerable<BibEntry> Entries => _entries.Where(e => e.Type is not ("xdata" or "set"));

    /// <summary>The entry of a key or of a second key (<c>ids</c>), or null.</summary>
    public BibEntry? Find(string key) => _byKey.GetValueOrDefault(key);

    /// <summary>Every key.</summary>
    public IEnumerable<string> Keys() => _byKey.Keys;

    private static string[] Keys(string list) => list.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);

    private static BibEntry Inherit(BibEntry entry, Dictionary<string, BibEntry> all, int depth)
    {
        string[] shared = Keys(entry.Field("xdata"));
        string whole = entry.Field("crossref");
        if (depth > 8 || (shared.Length == 0 && whole.Length == 0))
        {
            return entry;
        }

        var fields = new Dictionary<string, string>(entry.Fields, StringComparer.OrdinalIgnoreCase);
        var joined = new Dictionary<string, IReadOnlyList<BibPiece>>(entry.Joined, StringComparer.OrdinalIgnoreCase);
        void Take(BibEntry from, string name, string value)
        {
            if (fields.TryAdd(name, value) && from.Joined.TryGetValue(name, out IReadOnlyList<BibPiece>? pieces))
            {
                joined[name] = pieces;
            }
        }

        foreach (string key in shared)
        {
            if (all.TryGetValue(key, out BibEntry? data))
            {
                data = Inherit(data, all, depth + 1);
                foreach ((string name, string value) in data.Fields)
                {
                    if (name is not ("crossref" or "xdata" or "ids"))
                    {
                        Take(data, name, value);
                    }
                }
            }
        }

        BibEntry? parent = null;
        if (whole.Length > 0 && all.TryGetValue(whole, out parent))
        {
            parent = Inherit(parent, all, depth + 1);
            bool isPart = entry.Type is "inbook" or "bookinbook" or "suppbook" or "incollection" or "suppcollection" or "inproceedings" or "conference" or "inreference";
            foreach ((string name, string value) in parent.Fields)
            {
                if (s_own.Contains(name) || (isPart && name is "title" or "subtitle" or "titleaddon" or "author" && parent.Type is not ("mvbook" or "mvcollection")))
                {
                    continue;
                }

                Take(parent, name, value);
            }

            if (isPart)
            {
                fields.TryAdd("booktitle", parent.First("booktitle", "title"));
                if (entry.Type is "inbook" && parent.Field("author") is { Length: > 0 } author)
                {
                    fields.TryAdd("author", author);
                    fields.TryAdd("bookauthor", author);
                }
            }
            else if (parent.Type is "periodical" or "article" && parent.Field("title") is { Length: > 0 } journal)
            {
                fields.TryAdd("journaltitle", journal);
            }
        }

        return entry with { Fields = fields, Joined = joined, Whole = parent };
    }
}
