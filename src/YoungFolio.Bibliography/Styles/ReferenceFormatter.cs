using System.Text;

namespace YoungFolio.Bibliography;

/// <summary>
/// Prints references in the modern manner as markup: which parts, in which order, with which signs between; as biblatex' standard styles do
/// (from memory). Classic styles are programs.
/// </summary>
public sealed class ReferenceFormatter
{
    private readonly BibEntry _entry;
    private readonly BibliographyStyle _style;
    private readonly SourceWords _words;
    private readonly SourceDate _date;
    private readonly string _yearLetter;
    private readonly List<string> _sentences = [];

    private ReferenceFormatter(BibEntry entry, BibliographyStyle style, SourceWords words, string yearLetter) =>
        (_entry, _style, _words, _date, _yearLetter) = (entry, style, words, SourceDate.Of(entry), yearLetter);

    /// <summary>An entry as it prints.</summary>
    /// <param name="entry">The entry, with what it inherits.</param>
    /// <param name="style">The style.</param>
    /// <param name="words">The language.</param>
    /// <param name="yearLetter">What tells it from others of the same names and year; may be empty.</param>
    /// <param name="dash">Whether a dash stands for the names, which are those of the entry above.</param>
    public static string Format(BibEntry entry, BibliographyStyle style, SourceWords words, string yearLetter = "", bool dash = false)
    {
        var formatter = new ReferenceFormatter(style.Adjustments.Apply(entry), style, words, yearLetter);
        formatter.Heads(dash);
        formatter.Modern();
        formatter.Addresses();
        return formatter.Text();
    }

    // What isn't markup on purpose prints as the sign that it is; a finding says so.
    private string F(string name) => Safe(name, _entry.Field(name));

    private static string Safe(string name, string value) => name is "url" or "doi" or "eprint" ? value : SourceAddress.Typed(value) ?? SourceChecks.Escaped(value);

    private string Type => _entry.Type switch { "conference" => "inproceedings", "electronic" or "www" => "online", "report" => "techreport", var t => t };

    private string Journal => Safe("journal", _entry.First("journaltitle", "journal"));

    private string Institution => Safe("institution", _entry.First("institution", "school", "organization"));

    private string Place => Safe("address", _entry.First("location", "address"));

    // Titles of parts stand in quotes, those of whole works are slanted.
    private bool IsPart => Type is "article" or "suppperiodical" or "incollection" or "suppcollection" or "suppbook" or "inproceedings" or "inreference" or "patent" or "unpublished"
        || (Type == "inbook" && F("booktitle").Length > 0);

    // ---- parts --------------------------------------------------------------------------------------------

    private void Heads(bool dash)
    {
        bool edited = Type is "collection" or "mvcollection" or "proceedings" or "mvproceedings" or "reference" or "periodical";
        string people = edited ? _entry.First("editor", "author") : _entry.First("author", "editor");
        bool areEditors = people.Length > 0 && people == F("editor") && (edited || F("author").Length == 0);
        string names = NameLists.Print(people, _style, _words);
        if (areEditors)
        {
            names += ", " + (_words.Language is "en" or "en-gb" ? (IsOne(people) ? "ed." : "eds.") : IsOne(people) ? _words.Editor : _words.Editors);
        }

        if (names.Length == 0)
        {
            names = Type is "manual" or "proceedings" or "misc" ? _entry.First("organization", "key") : F("key");
        }

        if (dash && names.Length > 0)
        {
            names = "---";
        }

        if (_style.YearBehindNames)
        {
            string year = Year();
            names = names.Length == 0 ? "" : $"{names} ({year})";
        }

        Add(names);
    }

    private static bool IsOne(string people) => PersonName.ReadList(people).Count == 1;

    private string Year() => _date.Year.Length == 0 ? _words.NoDate + _yearLetter : _date.Printed + _yearLetter;

    private string Dated(bool month = true)
    {
        if (_style.YearBehindNames || _date.Year.Length == 0)
        {
            return "";
        }

        return (!month ? _date.Printed : _date.Month > 0 ? _words.Date(_date, isShort: true) : (F("month") is { Length: > 0 } name ? name + " " : "") + _date.Printed) + _yearLetter;
    }

    private string Title()
    {
        string title = F("title") + (F("subtitle") is { Length: > 0 } sub ? ": " + sub : "");
        return title + (F("titleaddon") is { Length: > 0 } addon ? ". " + addon : "");
    }

    // A range of pages prints with an en dash, however it was typed.
    private string Pages() => string.Join(", ", F("pages").Split(',', StringSplitOptions.TrimEntries).Select(p =>
        Unbroken(string.Join("--", p.Replace("–", "-", StringComparison.Ordinal).Replace("—", "-", StringComparison.Ordinal).Split('-', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)))));

    // No line ends within a range of pages.
    private static string Unbroken(string range) => range.Contains("--", StringComparison.Ordinal) ? $"\\mbox{{{range}}}" : range;

    private string InOf => _style.Adjustments.LeavesIn(_entry) ? "" : $"{_words.In}: ";

    // A field as the manuscript wants it; null: as the style has it.
    private string? Formatted(string field, string value) => (_style.Adjustments.Format(_entry.Type, field) ?? _style.Adjustments.Format(Type, field))?.Replace("#1", value, StringComparison.Ordinal);

    private string PagesWithWord(bool isShort)
    {
        string pages = Pages();
        if (pages.Length > 0 && Formatted("pages", pages) is { } own)
        {
            return own;
        }

        (string many, string one) = isShort ? (_words.Pages.Short, _words.Page.Short) : (_words.Pages.Long, _words.Page.Long);
        return pages.Length == 0 ? "" : (pages.AsSpan().IndexOfAny("-,+") >= 0 ? many : one) + "~" + pages;
    }

    private string ThesisName()
    {
        string type = F("type");
        bool masters = Type == "mastersthesis" || type is "mathesis" or "mscthesis";
        return type is "" or "phdthesis" or "mathesis" or "mscthesis" ? masters ? _words.Masters : _words.Doctoral : type;
    }

    private void Addresses()
    {
        var parts = new List<string>();
        string doi = F("doi");
        string url = F("url");
        if (_style.ShowsIsbn && F("isbn") is { Length: > 0 } isbn)
        {
            parts.Add("\\textsc{isbn}: " + isbn);
        }

        if (_style.ShowsIsbn && F("issn") is { Length: > 0 } issn && F("isbn").Length == 0)
        {
            parts.Add("\\textsc{issn}: " + issn);
        }

        if (_style.ShowsDoi && doi.Length > 0)
        {
            string known = $"\\source@doi{{{SourceAddress.Raw(SourceAddress.BareDoi(doi))}}}";
            parts.Add(Formatted("doi", known) ?? "\\textsc{doi}: " + known);
        }

        if (_style.ShowsEprint && F("eprint") is { Length: > 0 } eprint)
        {
            string archive = _entry.First("eprinttype", "archiveprefix");
            parts.Add((archive.Length > 0 ? archive : "eprint") + ": " + $"\\texttt{{{eprint}}}");
        }

        if (_style.ShowsUrl && url.Length > 0 && !url.Contains(doi.Length > 0 ? SourceAddress.BareDoi(doi) : "\n", StringComparison.OrdinalIgnoreCase))
        {
            string visited = F("urldate") is { Length: > 0 } day ? $" ({_words.Visited} {_words.ShortDate(SourceDate.Read(MarkupText.Plain(day)))})" : "";
            string address = SourceAddress.Markup(url);
            // An address prints as one already.
            string? own = (_style.Adjustments.Format(_entry.Type, "url") ?? _style.Adjustments.Format(Type, "url"))?.Replace("\\url {#1}", "#1", StringComparison.Ordinal).Replace("\\url{#1}", "#1", StringComparison.Ordinal);
            parts.Add((own?.Replace("#1", address, StringComparison.Ordinal) ?? "\\textsc{url}: " + address) + visited);
        }

        parts.ForEach(p => Add(p));
    }

    private void Add(params ReadOnlySpan<string> parts)
    {
        var text = new StringBuilder();
        foreach (string part in parts)
        {
            if (part.Length > 0)
            {
                text.Append(text.Length > 0 ? ", " : "").Append(part);
            }
        }

        if (text.Length > 0)
        {
            _sentences.Add(text.ToString());
        }
    }

    // Pages follow what is before them behind a comma, whatever it is.
    private void Attach(string part)
    {
        if (part.Length > 0 && _sentences.Count > 0)
        {
            _sentences[^1] += ", " + part;
        }
    }

    private string Text()
    {
        var text = new StringBuilder();
        foreach (string sentence in _sentences)
        {
            if (text.Length > 0)
            {
                text.Append(Ends(text.ToString()) ? " " : ". ");
            }

            text.Append(sentence);
        }

        if (text.Length == 0)
        {
            return "";
        }

        return Ends(text.ToString()) ? text.ToString() : text.Append('.').ToString();
    }

    // Whether a sentence has its full stop, perhaps inside of a brace or of quotes.
    private static bool Ends(string text)
    {
        string bare = text.TrimEnd('}', ' ');
        return bare.Length > 0 && bare[^1] is '.' or '?' or '!';
    }

    private static string Emph(string text) => text.Length == 0 ? "" : $"\\emph{{{text}}}";

    private static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];

    private static string Prefixed(string prefix, string value) => value.Length > 0 ? prefix + value : "";

    // ---- the modern manner --------------------------------------------------------------------------------

    private void Modern()
    {
        string title = Title();
        Add(title.Length == 0 ? "" : Formatted("title", title) ?? (IsPart ? _words.Quotes.Open + title + _words.Quotes.Close : Emph(title)));
        switch (Type)
        {
            case "article" or "suppperiodical":
                string volume = F("volume") is { Length: > 0 } own ? Formatted("volume", own) ?? own : "";
                string number = F("number") is { Length: > 0 } count ? Formatted("number", count) ?? count : "";
                string issue = volume + (volume.Length > 0 && Formatted("number", "") is null ? Prefixed(".", number) : number);
                string date = Dated();
                Add($"{InOf}{Emph(Journal)}{Prefixed(" ", issue)}{(date.Length > 0 ? $" ({date})" : "")}", PagesWithWord(true));
                break;
            case "incollection" or "suppcollection" or "inbook" or "bookinbook" or "suppbook" or "inproceedings" or "inreference":
                Add($"{InOf}{Emph(Safe("booktitle", _entry.First("booktitle", "maintitle")))}");
                Add(F("editor").Length > 0 && F("author").Length > 0 ? $"{(_words.Language is "en" or "en-gb" ? "Ed. by" : _words.Editors)} {NameLists.Print(F("editor"), _style with { Names = NameForm.GivenFirst }, _words)}" : "");
                Add(ShortEdition());
                Add(ShortVolume());
                Add(Series());
                Add(Type == "inproceedings" ? F("organization") : "");
                Add(Published());
                Attach(Prefixed(_words.Chapter + "~", F("chapter")));
                Attach(PagesWithWord(true));
                break;
            case "phdthesis" or "mastersthesis" or "thesis":
                Add(ThesisName());
                Add(Housed(Institution));
                break;
            case "techreport":
                Add((F("type") is { Length: > 0 } type && type is not "techreport" ? type : _words.Report) + Prefixed(" ", F("number")));
                Add(Housed(Institution));
                break;
            case "manual":
                Add(ShortEdition());
                Add(Prefixed("Version ", F("version")));
                Add(F("author").Length > 0 ? F("organization") : "");
                Add(Published());
                break;
            case "patent":
                Add(Capital(F("type")) + Prefixed(" ", F("number")), F("holder"));
                Add(Dated());
                break;
            default:
                Add(ShortEdition());
                Add(Prefixed("Version ", F("version")));
                Add(ShortVolume());
                Add(Series());
                Add(F("howpublished"));
                Add(F("author").Length > 0 || F("editor").Length > 0 ? F("organization") : "");
                Add(Published());
                break;
        }

        Add(F("note"));
    }

    private string ShortEdition() => F("edition") is { Length: > 0 } edition ? $"{(int.TryParse(edition, out _) ? _words.Ordinal(edition) : edition)} {_words.Edition.Short}" : "";

    private string ShortVolume() => F("volume") is { Length: > 0 } volume ? $"{Capital(_words.Volume.Short)}~{volume}" : "";

    private string Series() => F("series") is { Length: > 0 } series ? series + Prefixed(" ", F("number")) : "";

    private string Published() => Housed(F("publisher"));

    // Place: publisher, date.
    private string Housed(string house)
    {
        string where = Place.Length > 0 && house.Length > 0 ? $"{Place}: {house}" : Place + house;
        string date = Dated();
        return where.Length > 0 && date.Length > 0 ? $"{where}, {date}" : where + date;
    }
}
