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
    /// <summary>Whether no other source of the list has its names.</summary>
    public bool IsAlone { get; init; }

    /// <summary>Makes the reference as a citation shows it; null: as in the list.</summary>
    public Func<string>? MakeCited { get; init; }

    /// <summary>The reference where a citation shows it whole: given names first, and never a dash for names.</summary>
    public string CitedWhole => MakeCited?.Invoke() ?? Reference;

    /// <summary>A label written by hand, which citations show whatever the style; as markup.</summary>
    public string? OwnLabel { get; init; }
}

/// <summary>A list of sources.</summary>
/// <param name="Sources">The sources, in their order.</param>
/// <param name="Commands">Markup that the references need: commands that the style, or the .bib files, define.</param>
/// <param name="Slip">What the style's program stumbled over; null: nothing.</param>
public sealed record ListOfSources(IReadOnlyList<ListedSource> Sources, string Commands, string? Slip);

/// <summary>The list of the sources of a manuscript: sorted, labelled and printed.</summary>
public static class SourceList
{
    /// <summary>Makes the list.</summary>
    /// <param name="cited">The entries to print, in the order in which they are cited first.</param>
    /// <param name="style">The style.</param>
    /// <param name="words">The language.</param>
    /// <param name="preamble">What the .bib files put before the list.</param>
    /// <param name="look">Called now and then: it may end the work by an exception.</param>
    public static ListOfSources Make(IReadOnlyList<BibEntry> cited, BibliographyStyle style, SourceWords words, string preamble = "", Action? look = null)
    {
        ArgumentNullException.ThrowIfNull(style);
        look ??= static () => { };
        if (style.Program is { } program)
        {
            return Programmed(cited, style, program, words, preamble, look);
        }

        List<Draft> drafts = [.. Looked(cited, look).Select((e, i) => new Draft(e, i, SortNames(e, style), SourceDate.Of(e), Letters(e)))];
        List<Draft> sorted = Sort(drafts, style.Order, look);
        LetterYears(Looked(sorted, look), style, words);
        LetterLabels(sorted);
        (Dictionary<string, string> printed, string? slip) = Printed(sorted, style, words, look);
        ILookup<string, Draft> byNames = sorted.ToLookup(d => d.Entry.First("author", "editor"), StringComparer.Ordinal);
        var result = new List<ListedSource>(sorted.Count);
        string above = "";
        foreach (Draft draft in Looked(sorted, look))
        {
            string people = draft.Entry.First("author", "editor");
            bool dash = style.Dashes && people.Length > 0 && people == above;
            above = people;
            result.Add(new ListedSource(
                draft.Entry,
                result.Count + 1,
                draft.Label + draft.LabelLetter,
                ShortNames(draft.Entry, style, words, false),
                ShortNames(draft.Entry, style, words, true),
                (draft.Date.Year.Length == 0 ? words.NoDate : draft.Date.Printed) + draft.YearLetter,
                draft.Entry.First("shorttitle", "title"),
                printed.GetValueOrDefault(draft.Entry.Key) ?? ReferenceFormatter.Format(draft.Entry, style, words, draft.YearLetter, dash))
            {
                IsAlone = byNames[people].Count() == 1,
                MakeCited = style.PrintedBy is null ? () => ReferenceFormatter.Format(draft.Entry, style with { Names = NameForm.GivenFirst }, words, draft.YearLetter, false) : null,
            });
        }

        return new ListOfSources(result, preamble, slip);
    }

    // What a program of ours prints of sources that are sorted and lettered.
    private static (Dictionary<string, string> ByKey, string? Slip) Printed(List<Draft> sorted, BibliographyStyle style, SourceWords words, Action look)
    {
        if (style.PrintedBy is not { } name)
        {
            return ([], null);
        }

        (string written, string? slip) = StyleRun.Of(ShippedStyles.Of(name), [.. sorted.Select(d => style.Adjustments.Apply(d.Entry))], style, words, "", look, [.. sorted.Select(d => d.YearLetter)]);
        return (StyleOutput.Read(written).Sources.DistinctBy(s => s.Key).ToDictionary(s => s.Key, s => s.Reference, StringComparer.Ordinal), slip);
    }

    // ---- by a style's program ---------------------------------------------------------------------------------

    private static ListOfSources Programmed(IReadOnlyList<BibEntry> cited, BibliographyStyle style, StyleProgram program, SourceWords words, string preamble, Action look)
    {
        if (cited.Count == 0)
        {
            return new ListOfSources([], preamble, null);
        }

        (string written, string? slip) = StyleRun.Of(program, cited, style, words, preamble, look);
        (string commands, IReadOnlyList<WrittenSource> sources) = StyleOutput.Read(written);
        if (sources.Count == 0 && style.OwnProgram is not null)
        {
            return Make(cited, BibliographyStyle.Plain, words, preamble, look) with { Slip = slip ?? "It prints no source." };
        }

        Dictionary<string, BibEntry> byKey = cited.Concat(cited.Select(c => c.Whole).OfType<BibEntry>()).DistinctBy(e => e.Key).ToDictionary(e => e.Key, StringComparer.Ordinal);
        var listed = new List<ListedSource>(sources.Count);
        foreach (WrittenSource source in sources)
        {
            look();
            if (byKey.Remove(source.Key, out BibEntry? entry))
            {
                listed.Add(Labelled(entry, listed.Count + 1, source, style, words));
            }
        }

        return new ListOfSources(listed, commands.Trim(), slip);
    }

    private static ListedSource Labelled(BibEntry entry, int number, WrittenSource source, BibliographyStyle style, SourceWords words)
    {
        string title = entry.First("shorttitle", "title");
        string letters = source.Label ?? "";
        if (source.Label is not null && style.Label == CitationLabel.AuthorYear && NamedLabel.Read(source.Label) is { } named)
        {
            string authors = named.Authors.Length > 0 ? named.Authors : ShortNames(entry, style, words, false);
            return new ListedSource(entry, number, letters, authors, named.AllAuthors.Length > 0 ? named.AllAuthors : authors, named.Year.Length > 0 ? named.Year : words.NoDate, title, source.Reference);
        }

        string year = SourceDate.Of(entry).Printed;
        return new ListedSource(entry, number, letters, ShortNames(entry, style, words, false), ShortNames(entry, style, words, true), year.Length == 0 ? words.NoDate : year, title, source.Reference);
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

    // biblatex' alphabetic (from memory): of one name three letters, of two or three a letter each, of more the first one alone with a plus; and
    // two figures of the year.
    private static string Letters(BibEntry entry)
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

        const int Most = 3;
        bool others = names.Count > people.Count;
        if (people.Count == 1 || people.Count > Most)
        {
            string last = Letter(people[0].Last);
            return last[..Math.Min(3, last.Length)] + (others || people.Count > 1 ? "+" : "") + end;
        }

        return string.Concat(people.Select(p => Letter(p.Last)[..1])) + (others ? "+" : "") + end;

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
