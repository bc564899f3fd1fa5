using System.Globalization;

namespace YoungFolio.Bibliography;

/// <summary>A source on its way in, before it has a place in a .bib file.</summary>
/// <param name="type">Its type.</param>
/// <param name="key">The key that it came with; may be empty.</param>
public sealed class SourceRecord(string type, string key)
{
    private readonly Dictionary<string, string> _fields = new(StringComparer.OrdinalIgnoreCase);

    /// <summary>Its type.</summary>
    public string Type => type;

    /// <summary>Its key.</summary>
    public string Key { get; set; } = key;

    /// <summary>Its fields, as markup, in the order in which they were set.</summary>
    public IReadOnlyDictionary<string, string> Fields => _fields;

    /// <summary>Gives a field a value; an empty one is no field.</summary>
    public void Set(string name, string value)
    {
        if (value.Trim().Length > 0 && BibText.IsBalanced(value))
        {
            _fields[name] = value.Trim();
        }
    }

    /// <summary>It as an entry.</summary>
    public BibEntry ToEntry() => new(type, Key, 0, _fields);

    /// <summary>It as text of a .bib file.</summary>
    public string ToText() => BibText.Write(type, Key, _fields);

    /// <summary>The record of an entry.</summary>
    public static SourceRecord Of(BibEntry entry)
    {
        var record = new SourceRecord(entry.Type, entry.Key);
        foreach (BibField field in entry.Written)
        {
            record.Set(field.Name, field.Value);
        }

        return record;
    }

    /// <summary>A key that says who and when, and that isn't taken: <c>rook1987</c>, <c>rook1987b</c>.</summary>
    public static string MakeKey(BibEntry entry, Func<string, bool> taken)
    {
        IReadOnlyList<PersonName> names = PersonName.ReadList(entry.First("author", "editor"));
        string name = names.Count > 0 ? MarkupText.Folded(names[0].Last) : MarkupText.Folded(entry.First("organization", "title").Split(' ')[0]);
        string year = new([.. MarkupText.Plain(SourceDate.Of(entry).Year).Where(char.IsAsciiDigit).Take(4)]);
        string basis = new([.. (name.Length > 0 ? name : "source").Where(char.IsAscii)]);
        basis = (basis.Length > 0 ? basis : "source") + year;
        if (!taken(basis))
        {
            return basis;
        }

        for (int i = 1; ; i++)
        {
            string next = basis + (i < 26 ? ((char)('a' + i)).ToString() : "-" + i.ToString(CultureInfo.InvariantCulture));
            if (!taken(next))
            {
                return next;
            }
        }
    }
}

/// <summary>What a pasted text or a file holds.</summary>
/// <param name="Format">What it was taken for: <c>BibTeX</c>, <c>RIS</c> or <c>CSL-JSON</c>.</param>
/// <param name="Records">The records.</param>
/// <param name="Problems">What couldn't be read.</param>
public sealed record SourceImport(string Format, IReadOnlyList<SourceRecord> Records, IReadOnlyList<string> Problems)
{
    /// <summary>Reads text in any of the three formats.</summary>
    public static SourceImport Read(string text)
    {
        var problems = new List<string>();
        string trimmed = text.TrimStart('\uFEFF', ' ', '\n', '\r', '\t');
        if (trimmed.StartsWith('[') || trimmed.StartsWith('{'))
        {
            return new SourceImport("CSL-JSON", CslJson.Read(trimmed, problems), problems);
        }

        if (Ris.Fits(text))
        {
            return new SourceImport("RIS", Ris.Read(text, problems), problems);
        }

        BibFile file = BibReader.Read(text);
        problems.AddRange(file.Problems.Select(p => p.Message));
        var records = new List<SourceRecord>();
        foreach (BibEntry entry in file.Entries.Where(e => e.Type is not "xdata"))
        {
            records.Add(SourceRecord.Of(entry));
        }

        if (records.Count == 0)
        {
            problems.Add(text.Contains('@', StringComparison.Ordinal) ? "No entry could be read." : "This is neither BibTeX nor RIS nor CSL-JSON: no record was found in it.");
        }

        return new SourceImport("BibTeX", records, problems);
    }
}
