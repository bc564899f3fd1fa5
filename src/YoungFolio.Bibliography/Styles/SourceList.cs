using System.Globalization;

namespace YoungFolio.Bibliography;

/// <summary>A source of a list, with all that citations of it may show.</summary>
/// <param name="Entry">The entry.</param>
/// <param name="Number">Its number, from 1.</param>
/// <param name="Letters">Its label in letters: <c>Roo87</c>.</param>
/// <param name="Authors">Family names, cut; as markup.</param>
/// <param name="AllAuthors">Family names, all.</param>
/// <param name="Year">The year with its letter.</param>
/// <param name="Title">The short title.</param>
/// <param name="Reference">The reference as markup.</param>
public sealed record ListedSource(BibEntry Entry, int Number, string Letters, string Authors, string AllAuthors, string Year, string Title, string Reference)
{
    /// <summary>A label written by hand, which citations show whatever the style; as markup.</summary>
    public string? OwnLabel { get; init; }
}

/// <summary>The list of the sources of a manuscript: sorted, labelled and printed.</summary>
public static class SourceList
{
    /// <summary>Makes the list.</summary>
    /// <param name="cited">The entries to print, in the order in which they are cited first.</param>
    /// <param name="style">The style.</param>
    /// <param name="words">The language.</param>
    /// <param name="look">Called now and then: it may end the work by an exception.</param>
    public static IReadOnlyList<ListedSource> Make(IReadOnlyList<BibEntry> cited, BibliographyStyle style, SourceWords words, Action? look = null)
    {
        look ??= static () => { };
        List<Draft> drafts = [.. Looked(cited, look).Select((e, i) => new Draft(e, i, SortNames(e, style), SourceDate.Of(e), Letters(e, style)))];
        List<Draft> sorted = Sort(drafts, style.Order, look);
        LetterYears(Looked(sorted, look), style, words);
        LetterLabels(sorted);
        var result = new List<ListedSource>(sorted.Count);
        string above = "";
        foreach (Draft draft in Looked(sorted, look))
        {
            string people = draft.Entry.First("author", "editor");
            bool dash = style.Dashes && people.Length > 0 && people == above;
            above = people;
            string title = draft.Entry.First("shorttitle", "title");
            result.Add(new ListedSource(
                draft.Entry,
                result.Count + 1,
                draft.Label + draft.LabelLetter,
                ShortNames(draft.Entry, style, words, false),
                ShortNames(draft.Entry, style, words, true),
                (draft.Date.Year.Length == 0 ? words.NoDate : draft.Date.Printed) + draft.YearLetter,
                title,
                ReferenceFormatter.Format(draft.Entry, style, words, draft.YearLetter, dash)));
        }

        return result;
    }

    private static IEnumerable<T> Looked<T>(IEnumerable<T> all, Action look)
    {
        foreach (T one in all)
        {
            look();
            yield return one;
        }
    }

    private sealed class Draft(BibEntry entry, int order, string names, SourceDate date, string label)
    {
        public BibEntry Entry => entry;

        public int Order => order;

        public string Names => names;

        public SourceDate Date => date;

        public string Label => label;

        public string LabelLetter { get; set; } = "";

        public string YearLetter { get; set; } = "";
    }

    private static string ShortNames(BibEntry entry, BibliographyStyle style, SourceWords words, bool all)
    {
        string own = entry.First("shortauthor", "author", "shorteditor", "editor");
        string names = NameLists.Short(own, style, words, all);
        return names.Length > 0 ? names : entry.First("organization", "label", "key", "shorttitle", "title");
    }

    // ---- order ------------------------------------------------------------------------------------------------

    private static readonly CompareInfo s_collation = CultureInfo.InvariantCulture.CompareInfo;

    private static List<Draft> Sort(List<Draft> drafts, SourceOrder order, Action look)
    {
        if (order == SourceOrder.Cited)
        {
            return drafts;
        }

        // Keys of collation are made once; the root collation of Unicode orders accents behind their letters (UTS 10).
        var keys = Looked(drafts, look).ToDictionary(d => d, d => Keys(d, order));
        var sorted = new List<Draft>(drafts);
        sorted.Sort((a, b) =>
        {
            SortKey[] left = keys[a];
            SortKey[] right = keys[b];
            for (int i = 0; i < left.Length; i++)
            {
                int c = SortKey.Compare(left[i], right[i]);
                if (c != 0)
                {
                    return c;
                }
            }

            return a.Order.CompareTo(b.Order);
        });
        return sorted;
    }

    private static SortKey[] Keys(Draft draft, SourceOrder order)
    {
        BibEntry entry = draft.Entry;
        int year = entry.Field("sortyear") is { Length: > 0 } own && int.TryParse(own, out int y) ? y : draft.Date.SortYear;
        string Year(bool down) => ((down ? 99_999 - year : year) + 10_000).ToString("D6", CultureInfo.InvariantCulture);
        string title = SortTitle(entry);
        string volume = entry.Field("volume").PadLeft(6, '0');
        string[] keys = order switch
        {
            SourceOrder.Nty => [draft.Names, title, Year(false), volume],
            SourceOrder.Nyvt => [draft.Names, Year(false), volume, title],
            SourceOrder.Anyt => [draft.Label, draft.Names, Year(false), title],
            SourceOrder.Anyvt => [draft.Label, draft.Names, Year(false), volume, title],
            SourceOrder.Ynt => [Year(false), draft.Names, title],
            SourceOrder.Ydnt => [Year(true), draft.Names, title],
            _ => [draft.Names, Year(false), title],
        };
        string first = entry.Field("presort") is { Length: > 0 } presort ? presort : "mm";
        return [.. keys.Prepend(first).Select(k => s_collation.GetSortKey(k, CompareOptions.IgnoreCase | CompareOptions.IgnoreSymbols))];
    }

    private static string SortNames(BibEntry entry, BibliographyStyle style)
    {
        if (entry.First("sortname", "sortkey") is { Length: > 0 } own)
        {
            return MarkupText.Plain(own);
        }

        bool edited = entry.Type is "proceedings" or "collection" or "mvcollection";
        string people = edited ? entry.First("editor", "author") : entry.First("author", "editor");
        if (people.Length == 0)
        {
            // Classic styles take the key, modern ones the title.
            return MarkupText.Plain(entry.First("key", "organization", "title"));
        }

        // Parts of a name are parted by a sign that sorts before letters (BibTeXing's styles use two and three spaces).
        return string.Join(" \u0001 ", PersonName.ReadList(people).Select(n =>
            MarkupText.Plain(style.SortsWithParticle ? string.Join(' ', new[] { n.Von, n.Last, n.First, n.Junior }.Where(p => p.Length > 0)) : string.Join(' ', new[] { n.Last, n.First, n.Junior, n.Von }.Where(p => p.Length > 0)))));
    }

    // Without the article that it begins with (the standard styles' chop.word).
    private static string SortTitle(BibEntry entry)
    {
        string title = MarkupText.Plain(entry.First("sorttitle", "title"));
        foreach (string article in (ReadOnlySpan<string>)["A ", "An ", "The "])
        {
            if (title.StartsWith(article, StringComparison.Ordinal))
            {
                return title[article.Length..];
            }
        }

        return title;
    }

    // ---- labels -----------------------------------------------------------------------------------------------

    // The standard style alpha (from memory): one name three letters, two to four names a letter each, more names three letters and a plus,
    // and two figures of the year. biblatex' alphabetic: up to three names; more are cut to one.
    private static string Letters(BibEntry entry, BibliographyStyle style)
    {
        if (entry.First("shorthand", "label") is { Length: > 0 } own)
        {
            return own;
        }

        string year = MarkupText.Plain(SourceDate.Of(entry).Year);
        string figures = new([.. year.Where(char.IsAsciiDigit)]);
        string end = figures.Length >= 2 ? figures[^2..] : figures;
        IReadOnlyList<PersonName> names = PersonName.ReadList(entry.First("author", "editor"));
        List<PersonName> people = [.. names.Where(n => !n.IsOthers)];
        if (people.Count == 0)
        {
            string basis = MarkupText.Folded(entry.First("key", "organization", "title"));
            return (basis.Length > 3 ? basis[..3] : basis).ToUpperInvariant() is { Length: > 0 } l ? l[..1] + l[1..].ToLowerInvariant() + end : end;
        }

        bool modern = style.Manner == ReferenceManner.Modern;
        int most = modern ? 3 : 4;
        bool others = names.Count > people.Count;
        if (people.Count == 1 || (modern && people.Count > most))
        {
            return One(people[0]) + (others || people.Count > 1 ? "+" : "") + end;
        }

        return people.Count <= most
            ? string.Concat(people.Select(Initial)) + (others ? "+" : "") + end
            : string.Concat(people.Take(3).Select(Initial)) + "+" + end;

        // Three letters stand for a single name, unless a particle stands before it.
        string One(PersonName name) => Letter(name.Last) is var last && Particle(name).Length > 0 ? Initial(name) : last[..Math.Min(3, last.Length)];

        string Initial(PersonName name) => Particle(name) + Letter(name.Last)[..1];

        string Particle(PersonName name) => modern ? "" : string.Concat(name.Von.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(v => Letter(v)[..1]));

        static string Letter(string text)
        {
            string plain = new([.. MarkupText.Plain(text).Where(char.IsLetterOrDigit)]);
            return plain.Length == 0 ? "?" : plain;
        }
    }

    private static void LetterLabels(List<Draft> sorted)
    {
        foreach (IGrouping<string, Draft> same in sorted.GroupBy(d => d.Label).Where(g => g.Count() > 1))
        {
            int i = 0;
            foreach (Draft draft in same)
            {
                draft.LabelLetter = Letter(i++);
            }
        }
    }

    private static void LetterYears(IEnumerable<Draft> sorted, BibliographyStyle style, SourceWords words)
    {
        if (style.Label != CitationLabel.AuthorYear)
        {
            return;
        }

        foreach (IGrouping<string, Draft> same in sorted.GroupBy(d => MarkupText.Plain(ShortNames(d.Entry, style, words, false)) + "\n" + d.Date.Printed).Where(g => g.Count() > 1))
        {
            int i = 0;
            foreach (Draft draft in same)
            {
                draft.YearLetter = Letter(i++);
            }
        }
    }

    // a … z, aa, ab …
    private static string Letter(int index) => index < 26 ? ((char)('a' + index)).ToString() : Letter((index / 26) - 1) + (char)('a' + (index % 26));
}
