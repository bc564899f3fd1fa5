using System.Text;

namespace YoungFolio.Bibliography;

/// <summary>Records of RIS: lines of two letters, two spaces, a hyphen and a value, ended by ER (the format's own description, from memory).</summary>
public static class Ris
{
    private static readonly (string Ris, string Type)[] s_types =
    [
        ("JOUR", "article"), ("BOOK", "book"), ("CHAP", "incollection"), ("CONF", "inproceedings"), ("CPAPER", "inproceedings"), ("THES", "phdthesis"), ("RPRT", "techreport"),
        ("UNPB", "unpublished"), ("ELEC", "online"), ("DATA", "dataset"), ("COMP", "software"), ("PAT", "patent"), ("EDBOOK", "collection"), ("MGZN", "article"), ("NEWS", "article"),
        ("EJOUR", "article"), ("EBOOK", "book"), ("ECHAP", "incollection"), ("WEB", "online"), ("GEN", "misc"), ("PAMP", "booklet"), ("MANSCPT", "unpublished"), ("INPR", "article"), ("JFULL", "periodical"),
    ];

    /// <summary>Whether a text looks like RIS.</summary>
    public static bool Fits(string text) => text.Split('\n').Any(l => l.StartsWith("TY  -", StringComparison.Ordinal));

    /// <summary>Reads records.</summary>
    /// <param name="text">The text.</param>
    /// <param name="problems">What couldn't be read.</param>
    public static IReadOnlyList<SourceRecord> Read(string text, ICollection<string> problems)
    {
        var records = new List<SourceRecord>();
        List<(string Tag, string Value)>? tags = null;
        foreach (string raw in text.Split('\n'))
        {
            string line = raw.TrimEnd('\r').TrimStart('\uFEFF');
            if (line.Length >= 5 && line[2] == ' ' && line[3] == ' ' && line[4] == '-' && char.IsAsciiLetterUpper(line[0]))
            {
                string tag = line[..2];
                string value = line[5..].Trim();
                if (tag == "TY")
                {
                    if (tags is not null)
                    {
                        problems.Add("A record isn't ended by ER; it was taken as far as it goes.");
                        records.Add(Record(tags));
                    }

                    tags = [];
                }

                if (tags is null)
                {
                    continue;
                }

                if (tag == "ER")
                {
                    records.Add(Record(tags));
                    tags = null;
                    continue;
                }

                tags.Add((tag, value));
            }
            else if (tags is { Count: > 0 } && line.Trim().Length > 0)
            {
                // A long value may go on in the next line.
                tags[^1] = (tags[^1].Tag, tags[^1].Value + " " + line.Trim());
            }
        }

        if (tags is not null)
        {
            problems.Add("The last record isn't ended by ER; it was taken as far as it goes.");
            records.Add(Record(tags));
        }

        return records;
    }

    /// <summary>Writes entries.</summary>
    public static string Write(IEnumerable<BibEntry> entries)
    {
        var text = new StringBuilder();
        foreach (BibEntry entry in entries)
        {
            string type = entry.Type switch { "conference" => "inproceedings", "mastersthesis" or "thesis" => "phdthesis", "report" => "techreport", "inbook" => "incollection", var t => t };
            Line("TY", s_types.FirstOrDefault(t => t.Type == type).Ris ?? "GEN");
            Line("ID", entry.Key);
            foreach (PersonName name in PersonName.ReadList(entry.Field("author")).Where(n => !n.IsOthers))
            {
                Line("AU", Inverted(name));
            }

            foreach (PersonName name in PersonName.ReadList(entry.Field("editor")).Where(n => !n.IsOthers))
            {
                Line("ED", Inverted(name));
            }

            Field("TI", entry.Field("title") + (entry.Field("subtitle") is { Length: > 0 } sub ? ": " + sub : ""));
            Field(type == "article" ? "JO" : "T2", entry.First("journaltitle", "journal", "booktitle", "series"));
            SourceDate date = SourceDate.Of(entry);
            Field("PY", date.Year);
            if (type == "inproceedings")
            {
                // For papers the volume's title and year have tags of their own; the others are the conference's.
                Field("C3", entry.Field("booktitle"));
                Field("C2", date.Year);
            }

            if (date.Month > 0)
            {
                Line("DA", $"{MarkupText.Plain(date.Year)}/{date.Month:00}/{(date.Day > 0 ? date.Day.ToString("00", System.Globalization.CultureInfo.InvariantCulture) : "")}");
            }

            Field("VL", entry.Field("volume"));
            Field("IS", entry.Field("number"));
            string[] pages = MarkupText.Plain(entry.Field("pages")).Split(['-', '–'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
            Field("SP", pages.Length > 0 ? pages[0] : "");
            Field("EP", pages.Length > 1 ? pages[^1] : "");
            Field("PB", entry.First("publisher", "school", "institution", "organization"));
            Field("CY", entry.First("location", "address"));
            Field("ET", entry.Field("edition"));
            Field("SN", entry.First("isbn", "issn"));
            Line("DO", entry.Field("doi"));
            Line("UR", entry.Field("url"));
            Field("AB", entry.Field("abstract"));
            Field("N1", entry.Field("note"));
            foreach (string word in entry.Field("keywords").Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
            {
                Field("KW", word);
            }

            text.Append("ER  - \r\n\r\n");
        }

        return text.ToString();

        void Field(string tag, string markup) => Line(tag, MarkupText.Plain(markup));

        void Line(string tag, string value)
        {
            if (value.Length > 0)
            {
                text.Append(tag).Append("  - ").Append(value).Append("\r\n");
            }
        }
    }

    private static string Inverted(PersonName name) =>
        string.Join(", ", new[] { name.Family, name.First, name.Junior }.Where(p => p.Length > 0).Select(MarkupText.Plain));

    private static SourceRecord Record(List<(string Tag, string Value)> tags)
    {
        string All(params ReadOnlySpan<string> names)
        {
            foreach (string name in names)
            {
                foreach ((string tag, string value) in tags)
                {
                    if (tag == name && value.Length > 0)
                    {
                        return value;
                    }
                }
            }

            return "";
        }

        string People(params string[] names) => string.Join(" and ", tags.Where(t => names.Contains(t.Tag) && t.Value.Length > 0).Select(t => Name(t.Value)));
        string type = s_types.FirstOrDefault(t => t.Ris.Equals(All("TY"), StringComparison.OrdinalIgnoreCase)).Type ?? "misc";
        var record = new SourceRecord(type, All("ID"));
        record.Set("author", People("AU", "A1"));
        record.Set("editor", People("ED", "A2", "A3"));
        record.Set("title", MarkupText.Escape(All("TI", "T1", "CT")));
        record.Set(type == "article" ? "journal" : type is "incollection" or "inproceedings" ? "booktitle" : "series", MarkupText.Escape(All("JO", "JF", "C3", "T2", "BT", "JA", "T3")));
        string date = type == "inproceedings" && All("C2") is { Length: 4 } year ? year : All("PY", "Y1", "DA");
        record.Set("year", date.Split('/', '-')[0].Trim());
        string[] day = All("DA", "Y1", "PY").Split('/');
        record.Set("month", day.Length > 1 && int.TryParse(day[1], out int month) && month is >= 1 and <= 12 ? SourceWords.For("en").Month(month) : "");
        record.Set("volume", All("VL"));
        record.Set("number", All("IS"));
        string first = All("SP");
        string last = All("EP");
        record.Set("pages", first.Length > 0 && last.Length > 0 && first != last && !first.Contains('-', StringComparison.Ordinal) ? $"{first}--{last}" : first.Replace("-", "--", StringComparison.Ordinal));
        record.Set(type is "phdthesis" ? "school" : type is "techreport" ? "institution" : "publisher", MarkupText.Escape(All("PB")));
        record.Set("address", MarkupText.Escape(All("CY", "PP")));
        record.Set("edition", All("ET"));
        record.Set(type == "article" ? "issn" : "isbn", All("SN"));
        record.Set("doi", All("DO"));
        record.Set("url", All("UR", "L1", "L2"));
        record.Set("abstract", MarkupText.Escape(All("AB", "N2")));
        record.Set("note", MarkupText.Escape(All("N1")));
        record.Set("keywords", string.Join(", ", tags.Where(t => t.Tag == "KW").Select(t => MarkupText.Escape(t.Value))));
        return record;
    }

    // “Last, First, Jr” there is “Last, Jr, First” here; a name without a comma is a body's.
    private static string Name(string text)
    {
        string[] parts = text.Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        return parts.Length switch
        {
            0 => "",
            1 => parts[0].Contains(' ', StringComparison.Ordinal) ? "{" + MarkupText.Escape(parts[0]) + "}" : MarkupText.Escape(parts[0]),
            2 => $"{MarkupText.Escape(parts[0])}, {MarkupText.Escape(parts[1])}",
            _ => $"{MarkupText.Escape(parts[0])}, {MarkupText.Escape(parts[2])}, {MarkupText.Escape(parts[1])}",
        };
    }
}
