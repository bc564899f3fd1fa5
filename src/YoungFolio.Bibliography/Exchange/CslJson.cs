using System.Text.Json;
using System.Text.Json.Nodes;

namespace YoungFolio.Bibliography;

/// <summary>Records of CSL-JSON (the schema of the Citation Style Language, version 1.0.2, from memory).</summary>
public static class CslJson
{
    private static readonly (string Csl, string Type)[] s_types =
    [
        ("article-journal", "article"), ("article-magazine", "article"), ("article-newspaper", "article"), ("article", "article"), ("book", "book"), ("chapter", "incollection"),
        ("paper-conference", "inproceedings"), ("thesis", "phdthesis"), ("report", "techreport"), ("manuscript", "unpublished"), ("webpage", "online"), ("post-weblog", "online"),
        ("dataset", "dataset"), ("software", "software"), ("patent", "patent"), ("pamphlet", "booklet"), ("entry-encyclopedia", "inreference"), ("document", "misc"), ("periodical", "periodical"),
        ("collection", "collection"),
    ];

    // Fields with one name on either side; values are text.
    private static readonly (string Csl, string Field)[] s_fields =
    [
        ("title", "title"), ("volume", "volume"), ("issue", "number"), ("edition", "edition"), ("DOI", "doi"), ("URL", "url"), ("ISBN", "isbn"), ("ISSN", "issn"),
        ("abstract", "abstract"), ("note", "note"), ("publisher-place", "address"), ("collection-title", "series"), ("keyword", "keywords"), ("version", "version"), ("title-short", "shorttitle"),
    ];

    /// <summary>Reads records: one object or a list.</summary>
    /// <param name="text">The text.</param>
    /// <param name="problems">What couldn't be read.</param>
    public static IReadOnlyList<SourceRecord> Read(string text, ICollection<string> problems)
    {
        JsonNode? root;
        try
        {
            root = JsonNode.Parse(text, null, new JsonDocumentOptions { AllowTrailingCommas = true, MaxDepth = 64 });
        }
        catch (JsonException e)
        {
            problems.Add($"The JSON can't be read from line {e.LineNumber + 1} on.");
            return [];
        }

        var records = new List<SourceRecord>();
        foreach (JsonNode? node in root is JsonArray list ? list : [root])
        {
            if (node is JsonObject item && Text(item, "type").Length + Text(item, "title").Length > 0)
            {
                records.Add(Record(item));
            }
            else
            {
                problems.Add("A record has neither a type nor a title, and was left out.");
            }
        }

        return records;
    }

    /// <summary>Writes entries as a list.</summary>
    public static string Write(IEnumerable<BibEntry> entries)
    {
        var list = new JsonArray();
        foreach (BibEntry entry in entries)
        {
            var item = new JsonObject { ["id"] = entry.Key, ["type"] = TypeOf(entry) };
            AddNames(item, "author", entry.Field("author"));
            AddNames(item, "editor", entry.Field("editor"));
            foreach ((string csl, string field) in s_fields)
            {
                string value = entry.Field(field);
                if (field == "address" && value.Length == 0)
                {
                    value = entry.Field("location");
                }

                if (field == "title" && entry.Field("subtitle") is { Length: > 0 } sub)
                {
                    value += ": " + sub;
                }

                Add(item, csl == "issue" && TypeOf(entry) is "report" or "patent" ? "number" : csl, field is "doi" or "url" ? value : MarkupText.Plain(value));
            }

            Add(item, "container-title", MarkupText.Plain(entry.First("journaltitle", "journal", "booktitle")));
            Add(item, "publisher", MarkupText.Plain(entry.First("publisher", "school", "institution", "organization")));
            Add(item, "page", MarkupText.Plain(entry.Field("pages")).Replace('–', '-'));
            if (entry.Type is "phdthesis" or "mastersthesis" or "thesis")
            {
                Add(item, "genre", entry.Type == "mastersthesis" ? "Master's thesis" : entry.Type == "phdthesis" ? "PhD thesis" : MarkupText.Plain(entry.Field("type")));
            }

            SourceDate date = SourceDate.Of(entry);
            string year = MarkupText.Plain(date.Year);
            if (int.TryParse(year, out int number))
            {
                var parts = new JsonArray(number);
                if (date.Month > 0)
                {
                    parts.Add(date.Month);
                    if (date.Day > 0)
                    {
                        parts.Add(date.Day);
                    }
                }

                item["issued"] = new JsonObject { ["date-parts"] = new JsonArray(parts) };
            }
            else if (year.Length > 0)
            {
                item["issued"] = new JsonObject { ["literal"] = year };
            }

            list.Add(item);
        }

        return list.ToJsonString(s_written);
    }

    private static readonly JsonSerializerOptions s_written = new() { WriteIndented = true, Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    private static string TypeOf(BibEntry entry) => entry.Type switch
    {
        "mastersthesis" or "thesis" => "thesis",
        "report" or "manual" => "report",
        "conference" => "paper-conference",
        "inbook" or "bookinbook" => "chapter",
        "article" => "article-journal",
        "misc" => "document",
        "proceedings" or "mvbook" or "reference" => "book",
        _ => s_types.FirstOrDefault(t => t.Type == entry.Type).Csl ?? "document",
    };

    private static void Add(JsonObject item, string name, string value)
    {
        if (value.Length > 0)
        {
            item[name] = value;
        }
    }

    private static void AddNames(JsonObject item, string role, string field)
    {
        var names = new JsonArray();
        foreach (PersonName name in PersonName.ReadList(field).Where(n => !n.IsOthers))
        {
            var person = new JsonObject();
            if (name.First.Length == 0 && name.Von.Length == 0 && name.Last.StartsWith('{'))
            {
                person["literal"] = MarkupText.Plain(name.Last);
            }
            else
            {
                person["family"] = MarkupText.Plain(name.Last);
                Add(person, "given", MarkupText.Plain(name.First));
                Add(person, "non-dropping-particle", MarkupText.Plain(name.Von));
                Add(person, "suffix", MarkupText.Plain(name.Junior));
            }

            names.Add(person);
        }

        if (names.Count > 0)
        {
            item[role] = names;
        }
    }

    private static string Text(JsonObject item, string name) => item[name] switch
    {
        JsonValue value => value.TryGetValue(out string? text) ? text : value.ToJsonString(),
        JsonArray { Count: > 0 } list => list[0]?.ToString() ?? "",
        _ => "",
    };

    private static SourceRecord Record(JsonObject item)
    {
        string csl = Text(item, "type");
        string type = s_types.FirstOrDefault(t => t.Csl == csl).Type ?? "misc";
        if (type == "phdthesis" && Text(item, "genre").Contains("master", StringComparison.OrdinalIgnoreCase))
        {
            type = "mastersthesis";
        }

        string key = Text(item, "citation-key") is { Length: > 0 } own ? own : Text(item, "id");
        var record = new SourceRecord(type, key.Any(c => c is ',' or '{' or '}' or '"' or '%' or '#' or '\\' || char.IsWhiteSpace(c)) || key.Contains("://", StringComparison.Ordinal) ? "" : key);
        record.Set("author", Names(item["author"]));
        record.Set("editor", Names(item["editor"]));
        foreach ((string name, string field) in s_fields)
        {
            string value = Text(item, name);
            record.Set(field, field is "doi" or "url" ? value : MarkupText.Escape(WithoutTags(value)));
        }

        record.Set("number", Text(item, "number") is { Length: > 0 } number ? MarkupText.Escape(number) : record.Fields.GetValueOrDefault("number", ""));
        record.Set(type == "article" ? "journal" : type is "incollection" or "inproceedings" or "inreference" ? "booktitle" : "series", MarkupText.Escape(WithoutTags(Text(item, "container-title"))));
        record.Set(type is "phdthesis" or "mastersthesis" ? "school" : type is "techreport" ? "institution" : "publisher", MarkupText.Escape(Text(item, "publisher")));
        record.Set("pages", Text(item, "page").Replace("–", "-", StringComparison.Ordinal).Replace("--", "-", StringComparison.Ordinal).Replace("-", "--", StringComparison.Ordinal));
        if (item["issued"] is JsonObject issued)
        {
            if (issued["date-parts"] is JsonArray { Count: > 0 } dates && dates[0] is JsonArray { Count: > 0 } parts)
            {
                record.Set("year", parts[0]?.ToString() ?? "");
                if (parts.Count > 1 && int.TryParse(parts[1]?.ToString(), out int month))
                {
                    record.Set("month", SourceWords.For("en").Month(month));
                }
            }
            else
            {
                string raw = Text(issued, "raw") is { Length: > 0 } r ? r : Text(issued, "literal");
                record.Set("year", raw.Length >= 4 && raw[..4].All(char.IsAsciiDigit) ? raw[..4] : raw);
            }
        }

        return record;
    }

    private static string Names(JsonNode? node)
    {
        if (node is not JsonArray list)
        {
            return "";
        }

        return string.Join(" and ", list.OfType<JsonObject>().Select(p =>
        {
            string literal = Text(p, "literal");
            if (literal.Length > 0)
            {
                return "{" + MarkupText.Escape(literal) + "}";
            }

            string particle = Text(p, "non-dropping-particle") is { Length: > 0 } n ? n : Text(p, "dropping-particle");
            string family = MarkupText.Escape((particle + " " + Text(p, "family")).Trim());
            string given = MarkupText.Escape(Text(p, "given"));
            string suffix = MarkupText.Escape(Text(p, "suffix"));
            return given.Length == 0 && suffix.Length == 0 ? (family.Contains(' ', StringComparison.Ordinal) && particle.Length == 0 ? "{" + family + "}" : family) : suffix.Length > 0 ? $"{family}, {suffix}, {given}" : $"{family}, {given}";
        }).Where(n => n.Length > 0));
    }

    // Titles may hold a few tags of HTML.
    private static string WithoutTags(string text) =>
        text.Contains('<', StringComparison.Ordinal) ? System.Text.RegularExpressions.Regex.Replace(text, "</?(?:i|b|sub|sup|span)[^>]*>", "") : text;
}
