namespace YoungFolio.Bibliography;

/// <summary>What was asked of the sources can't be done, for a reason that people can act on.</summary>
public sealed class SourceException(string message) : Exception(message);

/// <summary>
/// Changes of the sources as changes of the files' text: fields, keys, merging, adding. Pure: texts go in, edits come out.
/// </summary>
/// <param name="texts">The text files by path: .bib files, and those that cite.</param>
public sealed class SourceEdits(IReadOnlyDictionary<string, string> texts)
{
    private readonly Dictionary<string, List<TextEdit>> _edits = new(StringComparer.Ordinal);

    /// <summary>The edits by file.</summary>
    public IReadOnlyDictionary<string, List<TextEdit>> Result => _edits;

    /// <summary>Gives fields values; empty ones take fields out.</summary>
    public SourceEdits SetFields(string key, IReadOnlyDictionary<string, string> fields)
    {
        (string file, BibEntry entry) = Find(key);
        string text = texts[file];
        // One after the other on a copy, since several new fields go to one place; the entry as a whole is the edit.
        foreach ((string name, string value) in fields)
        {
            if (!BibText.IsBalanced(value))
            {
                throw new SourceException($"Braces in {name} don't match: every {{ needs its }}.");
            }

            if (name.Length == 0 || !name.All(c => char.IsLetterOrDigit(c) || c is '-' or '_'))
            {
                throw new SourceException($"“{name}” can't be a field's name.");
            }

            string changed = BibText.Apply(text, [BibText.SetField(text, entry, name, value)]);
            entry = BibReader.Read(changed).Entries.First(e => e.Offset == entry.Offset);
            text = changed;
        }

        (_, BibEntry before) = Find(key);
        Add(file, Smallest(texts[file], before.Offset, before.End, text[entry.Offset..entry.End]));
        return this;
    }

    /// <summary>Gives an entry another type.</summary>
    public SourceEdits SetType(string key, string type)
    {
        if (type.Length == 0 || !type.All(char.IsAsciiLetter))
        {
            throw new SourceException($"“{type}” can't be a type.");
        }

        (string file, BibEntry entry) = Find(key);
        Add(file, BibText.SetType(entry, type));
        return this;
    }

    /// <summary>Puts text in the place of an entry, as it was typed by hand.</summary>
    public SourceEdits SetText(string key, string entryText)
    {
        (string file, BibEntry entry) = Find(key);
        BibFile read = BibReader.Read(entryText);
        if (read.Entries.Count != 1 || read.Problems.Count > 0)
        {
            throw new SourceException(read.Problems.Count > 0 ? read.Problems[0].Message : "The text must hold just this entry.");
        }

        if (read.Entries[0].Key != key && Keys().Contains(read.Entries[0].Key))
        {
            throw new SourceException($"There is a source “{read.Entries[0].Key}” already.");
        }

        Add(file, Smallest(texts[file], entry.Offset, entry.End, entryText.Trim()));
        if (read.Entries[0].Key != key)
        {
            RewriteUses(key, read.Entries[0].Key, file, entry);
        }

        return this;
    }

    /// <summary>Gives a source another key wherever it stands; also one that is only cited.</summary>
    public SourceEdits Rename(string key, string now)
    {
        CheckKey(now);
        if (Keys().Contains(now))
        {
            throw new SourceException($"There is a source “{now}” already. Merge the two if they are one work.");
        }

        (string file, BibEntry? entry) = TryFind(key) is var (p, e) ? (p, e) : ("", null);
        if (entry is not null)
        {
            Add(file, BibText.Rename(entry, now));
        }

        RewriteUses(key, now, file, entry);
        return this;
    }

    /// <summary>Takes a source out; citations stay as they are.</summary>
    public SourceEdits Delete(string key)
    {
        (string file, BibEntry entry) = Find(key);
        Add(file, BibText.Remove(texts[file], entry));
        return this;
    }

    /// <summary>Makes one source of two: the first keeps its key and takes the chosen fields, the second goes, and what cited it cites the first.</summary>
    public SourceEdits Merge(string kept, string dropped, IReadOnlyDictionary<string, string> fields)
    {
        if (kept == dropped)
        {
            throw new SourceException("These are the same source.");
        }

        (string file, BibEntry entry) = Find(dropped);
        SetFields(kept, fields);
        Add(file, BibText.Remove(texts[file], entry));
        RewriteUses(dropped, kept, file, entry);
        return this;
    }

    /// <summary>Adds records to a file; keys that are missing or taken are made anew.</summary>
    /// <returns>The keys that they got, in order.</returns>
    public IReadOnlyList<string> AddRecords(string file, IEnumerable<SourceRecord> records)
    {
        if (!texts.TryGetValue(file, out string? text))
        {
            throw new SourceException($"There is no file {file}.");
        }

        var keys = Keys();
        var added = new List<string>();
        var written = new List<string>();
        foreach (SourceRecord record in records)
        {
            if (record.Key.Length == 0 || keys.Contains(record.Key) || !IsKey(record.Key))
            {
                record.Key = SourceRecord.MakeKey(record.ToEntry(), keys.Contains);
            }

            keys.Add(record.Key);
            added.Add(record.Key);
            written.Add(record.ToText());
        }

        if (written.Count == 0)
        {
            throw new SourceException("There is no record to add.");
        }

        Add(file, BibText.Append(text, string.Join('\n', written)));
        return added;
    }

    /// <summary>Has the sources of a .bib file printed, if the manuscript prints none.</summary>
    /// <param name="main">The main file.</param>
    /// <param name="bib">The .bib file.</param>
    public SourceEdits EnsurePrinted(string main, string bib)
    {
        if (texts.TryGetValue(main, out string? text) && !BibliographySetUp.IsPrinted(texts.Where(t => !t.Key.EndsWith(".bib", StringComparison.OrdinalIgnoreCase)).Select(t => t.Value)))
        {
            foreach (TextEdit edit in BibliographySetUp.Missing(text, bib))
            {
                Add(main, edit);
            }
        }

        return this;
    }

    private void RewriteUses(string key, string now, string ownFile, BibEntry? own)
    {
        foreach ((string path, string text) in texts)
        {
            if (path.EndsWith(".bib", StringComparison.OrdinalIgnoreCase))
            {
                foreach (BibEntry entry in BibReader.Read(text).Entries.Where(e => !(path == ownFile && own is not null && e.Offset == own.Offset)))
                {
                    foreach (BibField field in entry.Written.Where(f => f.Name is "crossref" or "xref" or "xdata" or "related"))
                    {
                        string[] keys = field.Value.Split(',', StringSplitOptions.TrimEntries);
                        if (keys.Contains(key))
                        {
                            Add(path, new TextEdit(field.ValueOffset, field.End - field.ValueOffset, "{" + string.Join(",", keys.Select(k => k == key ? now : k)) + "}"));
                        }
                    }
                }
            }
            else
            {
                foreach (CitedKey[] list in CitedKeys.Find(text).GroupBy(c => c.Brace).Select(g => g.ToArray()))
                {
                    bool hasBoth = list.Any(c => c.Key == now);
                    for (int i = 0; i < list.Length; i++)
                    {
                        if (list[i].Key == key)
                        {
                            Add(path, hasBoth ? Without(list, i) : new TextEdit(list[i].Offset, key.Length, now));
                        }
                    }
                }
            }
        }
    }

    // Where both were cited together, one of them is enough: the other goes with its comma.
    private static TextEdit Without(CitedKey[] list, int i)
    {
        int from = i > 0 ? list[i - 1].End : list[i].Offset;
        int to = i > 0 ? list[i].End : list[1].Offset;
        return new TextEdit(from, to - from, "");
    }

    private HashSet<string> Keys() =>
        [.. texts.Where(t => t.Key.EndsWith(".bib", StringComparison.OrdinalIgnoreCase)).SelectMany(t => BibReader.Read(t.Value).Entries).Select(e => e.Key)];

    private (string File, BibEntry Entry) Find(string key) => TryFind(key) ?? throw new SourceException($"There is no source “{key}” any more.");

    private (string File, BibEntry Entry)? TryFind(string key)
    {
        foreach ((string path, string text) in texts.Where(t => t.Key.EndsWith(".bib", StringComparison.OrdinalIgnoreCase)).OrderBy(t => t.Key, StringComparer.Ordinal))
        {
            if (BibReader.Read(text).Entries.FirstOrDefault(e => e.Key == key) is { } entry)
            {
                return (path, entry);
            }
        }

        return null;
    }

    private static void CheckKey(string key)
    {
        if (!IsKey(key))
        {
            throw new SourceException($"“{key}” can't be a key: use letters, figures and - : . _ /, without spaces.");
        }
    }

    private static bool IsKey(string key) => key.Length is > 0 and <= 100 && key.All(c => char.IsLetterOrDigit(c) || c is '-' or ':' or '.' or '_' or '/' or '+' or '\'');

    private void Add(string file, TextEdit edit)
    {
        if (!_edits.TryGetValue(file, out List<TextEdit>? edits))
        {
            _edits[file] = edits = [];
        }

        edits.Add(edit);
    }

    // What really differs, so that cursors of others elsewhere in the entry stay where they are.
    private static TextEdit Smallest(string text, int from, int to, string now)
    {
        int head = 0;
        while (head < now.Length && from + head < to && text[from + head] == now[head])
        {
            head++;
        }

        int tail = 0;
        while (tail < now.Length - head && to - tail - 1 >= from + head && text[to - tail - 1] == now[^(tail + 1)])
        {
            tail++;
        }

        return new TextEdit(from + head, to - from - head - tail, now[head..(now.Length - tail)]);
    }
}
