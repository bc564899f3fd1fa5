using System.Text;

namespace YoungFolio.Core.Tests.Bibliography;

/// <summary>
/// The rules of the standard styles plain, unsrt, abbrv and alpha, written down apart from the product as a program of its own: <em>BibTeXing</em>
/// (Patashnik, 1988), sections 3 and 4, and the styles' own text (from memory). It knows names and titles in plain ASCII, without braces.
/// </summary>
internal static class ClassicRules
{
    /// <summary>An entry with plain fields; people are lists of (given, particle, family).</summary>
    internal sealed record Work(string Type, string Key, IReadOnlyDictionary<string, string> Fields, IReadOnlyList<Person> Authors, IReadOnlyList<Person> Editors)
    {
        public string this[string field] => Fields.GetValueOrDefault(field, "");

        public bool Has(string field) => this[field].Length > 0;
    }

    internal sealed record Person(string Given, string Von, string Family);

    // ---- the reference ---------------------------------------------------------------------------------------

    /// <summary>The reference as plain text.</summary>
    public static string Print(Work w, bool isShort)
    {
        var blocks = new List<List<string>>();
        void Block(params string[] parts) => blocks.Add([.. parts.Where(p => p.Length > 0)]);
        string authors = Names(w.Authors, isShort);
        string editors = w.Editors.Count == 0 ? "" : Names(w.Editors, isShort) + (w.Editors.Count > 1 ? ", editors" : ", editor");
        string date = (w.Has("month") ? w["month"] + " " : "") + w["year"];
        string series = w.Has("volume") ? "" : w.Has("number") ? $"umber {w["number"]}" + (w.Has("series") ? $" in {w["series"]}" : "") : w["series"];
        string SeriesAs(char n) => w.Has("number") && !w.Has("volume") ? n + series : series;
        string volume = w.Has("volume") ? $"volume {w["volume"]}" + (w.Has("series") ? $" of {w["series"]}" : "") : "";
        string pages = !w.Has("pages") ? "" : (w["pages"].Contains('-', StringComparison.Ordinal) ? "pages " : "page ") + Dashed(w["pages"]);
        string chapter = !w.Has("chapter") ? pages : $"{(w.Has("type") ? w["type"].ToLowerInvariant() : "chapter")} {w["chapter"]}" + (pages.Length > 0 ? ", " + pages : "");
        string Edition(bool within) => w.Has("edition") ? (within ? w["edition"].ToLowerInvariant() : Sentence(w["edition"])) + " edition" : "";
        string sentence = Sentence(w["title"]);
        switch (w.Type)
        {
            case "article":
                string issue = w["volume"] + (w.Has("number") ? $"({w["number"]})" : "");
                Block(authors);
                Block(sentence);
                Block(w["journal"], issue.Length > 0 ? issue + (w.Has("pages") ? ":" + Dashed(w["pages"]) : "") : pages, date);
                break;
            case "book":
                Block(authors.Length > 0 ? authors : editors);
                Block(w["title"], volume);
                Block(SeriesAs('N'));
                // A new sentence, but within the block: what follows stands behind a full stop all the same.
                Block(w["publisher"], w["address"], Edition(w.Has("publisher") || w.Has("address")), date);
                break;
            case "incollection":
                Block(authors);
                Block(sentence);
                Block(In(w, editors), volume, SeriesAs(In(w, editors).Length + volume.Length > 0 ? 'n' : 'N'), chapter);
                Block(w["publisher"], w["address"], Edition(w.Has("publisher") || w.Has("address")), date);
                break;
            case "inproceedings":
                Block(authors);
                Block(sentence);
                List<string> start = [In(w, editors), volume, SeriesAs(In(w, editors).Length + volume.Length > 0 ? 'n' : 'N'), pages];
                if (w.Has("address"))
                {
                    Block([.. start, w["address"], date]);
                    Block(w["organization"], w["publisher"]);
                }
                else if (w.Has("organization") || w.Has("publisher"))
                {
                    Block([.. start]);
                    Block(w["organization"], w["publisher"], date);
                }
                else
                {
                    Block([.. start, date]);
                }

                break;
            case "mastersthesis" or "phdthesis":
                Block(authors);
                Block(w.Type == "phdthesis" ? w["title"] : sentence);
                Block(w.Has("type") ? Sentence(w["type"]) : w.Type == "phdthesis" ? "PhD thesis" : "Master's thesis", w["school"], w["address"], date);
                break;
            case "techreport":
                Block(authors);
                Block(sentence);
                string kind = w.Has("type") ? w["type"] : "Technical Report";
                Block(w.Has("number") ? $"{kind} {w["number"]}" : Sentence(kind), w["institution"], w["address"], date);
                break;
            case "manual":
                Block(authors.Length > 0 ? [authors] : w.Has("organization") ? [w["organization"], w["address"]] : []);
                bool parts = authors.Length > 0 ? w.Has("organization") || w.Has("address") : !w.Has("organization") && w.Has("address");
                if (parts)
                {
                    Block(w["title"]);
                    Block(authors.Length > 0 ? w["organization"] : "", w["address"], Edition(true), date);
                }
                else
                {
                    Block(w["title"], Edition(true), date);
                }

                break;
            case "unpublished":
                Block(authors);
                Block(sentence);
                Block(w["note"], date);
                break;
            case "booklet" or "misc":
                string[] how = w.Type == "booklet" ? [w["howpublished"], w["address"]] : [w["howpublished"]];
                Block(authors);
                if (how.Any(h => h.Length > 0))
                {
                    Block(sentence);
                    Block([.. how, date]);
                }
                else if (w.Type == "misc" && sentence.Length == 0)
                {
                    // Nothing parts the date from the names.
                    blocks[^1].Add(date);
                }
                else
                {
                    Block(sentence, date);
                }

                break;
            case "proceedings":
                Block(editors.Length > 0 ? editors : w["organization"]);
                List<string> head = [w["title"], volume, SeriesAs('n')];
                string organization = editors.Length > 0 ? w["organization"] : "";
                if (w.Has("address"))
                {
                    Block([.. head, w["address"], date]);
                    Block(organization, w["publisher"]);
                }
                else if (organization.Length + w["publisher"].Length > 0)
                {
                    Block([.. head]);
                    Block(organization, w["publisher"], date);
                }
                else
                {
                    Block([.. head, date]);
                }

                break;
        }

        if (w.Type != "unpublished")
        {
            Block(w["note"]);
        }

        var text = new StringBuilder();
        foreach (List<string> block in blocks.Where(b => b.Any(p => p.Length > 0)))
        {
            string line = string.Join(", ", block.Where(p => p.Length > 0));
            text.Append(text.Length > 0 ? " " : "").Append(line).Append(line[^1] is '.' or '?' or '!' ? "" : ".");
        }

        return text.ToString();
    }

    private static string In(Work w, string editors) => w.Has("booktitle") ? "In " + (editors.Length > 0 ? editors + ", " : "") + w["booktitle"] : "";

    // One hyphen is a dash; what was typed as a dash stays.
    private static string Dashed(string pages) => pages.Contains("---", StringComparison.Ordinal) ? pages.Replace("---", "—", StringComparison.Ordinal) : string.Join('–', pages.Split('-', StringSplitOptions.RemoveEmptyEntries));

    private static string Sentence(string title)
    {
        var text = new StringBuilder();
        for (int i = 0; i < title.Length; i++)
        {
            text.Append(i == 0 || (i > 1 && title[i - 1] == ' ' && title[i - 2] == ':') ? title[i] : char.ToLowerInvariant(title[i]));
        }

        return text.ToString();
    }

    private static string Names(IReadOnlyList<Person> people, bool isShort)
    {
        string One(Person p) => string.Join(' ', new[] { isShort ? string.Join(' ', p.Given.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(g => string.Join('-', g.Split('-').Select(h => h[0] + ".")))) : p.Given, p.Von, p.Family }.Where(x => x.Length > 0));
        bool others = people is [.., { Family: "others", Given: "" }];
        List<string> names = [.. people.Take(people.Count - (others ? 1 : 0)).Select(One)];
        return others ? string.Join(", ", names) + (names.Count > 1 ? ", et al." : " et al.")
            : names.Count switch { 0 => "", 1 => names[0], 2 => $"{names[0]} and {names[1]}", _ => $"{string.Join(", ", names.Take(names.Count - 1))}, and {names[^1]}" };
    }

    // ---- the order -------------------------------------------------------------------------------------------

    /// <summary>What the style plain sorts by.</summary>
    public static string SortKey(Work w)
    {
        string Sorted(IReadOnlyList<Person> people) => string.Join("   ", people.Select((p, i) => i == people.Count - 1 && p is { Family: "others", Given: "" } ? "et al"
            : Purified((p.Von.Length > 0 ? p.Von + " " : "") + p.Family + (p.Given.Length > 0 ? "  " + p.Given : ""))));
        string names = w.Type switch
        {
            "book" => w.Authors.Count > 0 ? Sorted(w.Authors) : w.Editors.Count > 0 ? Sorted(w.Editors) : "",
            "proceedings" => w.Editors.Count > 0 ? Sorted(w.Editors) : Purified(WithoutThe(w["organization"])),
            "manual" => w.Authors.Count > 0 ? Sorted(w.Authors) : Purified(WithoutThe(w["organization"])),
            _ => Sorted(w.Authors),
        };
        string title = w["title"];
        foreach (string article in (string[])["A ", "An ", "The "])
        {
            title = title.StartsWith(article, StringComparison.Ordinal) ? title[article.Length..] : title;
        }

        return names + "    " + Purified(w["year"]) + "    " + Purified(title);
    }

    private static string WithoutThe(string name) => name.StartsWith("The ", StringComparison.Ordinal) ? name[4..] : name;

    private static string Purified(string text) => string.Concat(text.Where(c => char.IsAsciiLetterOrDigit(c) || c is ' ' or '-').Select(c => c == '-' ? ' ' : char.ToLowerInvariant(c)));

    // ---- labels of alpha -------------------------------------------------------------------------------------

    /// <summary>The label of the style alpha without the letter that parts equal ones; a plus stands for further names.</summary>
    public static string Label(Work w)
    {
        IReadOnlyList<Person> people = w.Type switch { "book" => w.Authors.Count > 0 ? w.Authors : w.Editors, "proceedings" => w.Editors, _ => w.Authors };
        string Letters(Person p) => string.Concat($"{p.Von} ".Split([' '], StringSplitOptions.RemoveEmptyEntries).Select(v => v[0])) + string.Concat(p.Family.Split('-', ' ').Select(f => f[0]));
        string names = people.Count switch
        {
            0 => w.Type is "manual" or "proceedings" && w.Has("organization") ? WithoutThe(w["organization"])[..3] : w.Key[..3],
            1 => Letters(people[0]) is { Length: > 1 } several ? several : people[0].Family[..Math.Min(3, people[0].Family.Length)],
            > 4 => string.Concat(people.Take(3).Select(Letters)) + "+",
            _ => string.Concat(people.Select((p, i) => i == people.Count - 1 && p is { Family: "others", Given: "" } ? "+" : Letters(p))),
        };
        string year = w["year"];
        return names + year[^Math.Min(2, year.Length)..];
    }
}
