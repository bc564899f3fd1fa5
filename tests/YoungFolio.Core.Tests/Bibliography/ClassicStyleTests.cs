using System.Globalization;
using YoungFolio.Bibliography;
using static YoungFolio.Core.Tests.Bibliography.ClassicRules;

namespace YoungFolio.Core.Tests.Bibliography;

/// <summary>The classic styles against their rules as a program of its own, and line by line where a rule is easily missed.</summary>
public sealed class ClassicStyleTests
{
    private static readonly string[] s_types =
        ["article", "book", "booklet", "incollection", "inproceedings", "manual", "mastersthesis", "misc", "phdthesis", "proceedings", "techreport", "unpublished"];

    private static readonly string[] s_families = ["Rook", "Ashby", "Tarn", "Wyke", "Fell-Moor", "Sable", "Low", "Ng", "Marsh", "Orrin Vale"];
    private static readonly string[] s_given = ["Edith M.", "Kell", "Ann", "Jean-Paul", "Bo", "Li", "Una Maria Joy"];
    private static readonly string[] s_titles = ["The Growth of Lichens", "A Wall in Winter", "Marrow Estates: The Ledgers", "An Open Question?", "Shade", "Counting Stones on Old Walls"];

    // Optional fields of every type, with values that tell one place from another.
    private static readonly (string Field, string[] Values)[] s_fields =
    [
        ("journal", ["Lichen", "Journal of Walls"]), ("booktitle", ["Proceedings on Walls", "Stone Papers"]), ("volume", ["12", "IV"]), ("number", ["3"]), ("series", ["Green Books"]),
        ("pages", ["44-71", "7", "1--10", "100---200"]), ("publisher", ["Press"]), ("address", ["Oxford"]), ("edition", ["Second", "third"]), ("organization", ["The Wall Society", "Society"]),
        ("chapter", ["4"]), ("type", ["Internal Note"]), ("howpublished", ["By hand"]), ("note", ["To be read twice.", "Lost"]), ("month", ["July", "Spring"]),
    ];

    private static List<Work> Works(int seed, int count)
    {
        var random = new Random(seed);
        List<Person> People(int most) => [.. Enumerable.Range(0, random.Next(most + 1)).Select(_ => new Person(s_given[random.Next(s_given.Length)], random.Next(5) == 0 ? "van der" : "", s_families[random.Next(s_families.Length)]))];
        var works = new List<Work>();
        for (int i = 0; i < count; i++)
        {
            List<Person> authors = People(random.Next(4) == 0 ? 6 : 3);
            if (authors.Count > 0 && random.Next(8) == 0)
            {
                authors.Add(new Person("", "", "others"));
            }

            Dictionary<string, string> fields = s_fields.Where(_ => random.Next(2) == 0).ToDictionary(f => f.Field, f => f.Values[random.Next(f.Values.Length)], StringComparer.Ordinal);
            // A thesis' institution is its school here, as in newer .bib files.
            fields["institution"] = fields["school"] = random.Next(2) == 0 ? "Hollin Edge" : "";
            fields["title"] = s_titles[random.Next(s_titles.Length)];
            fields["year"] = (1980 + random.Next(40)).ToString(CultureInfo.InvariantCulture);
            works.Add(new Work(s_types[random.Next(s_types.Length)], $"{(char)('a' + random.Next(26))}{(char)('a' + random.Next(26))}{i:D5}", fields, authors, People(2)));
        }

        return works;
    }

    private static string Bib(Work w)
    {
        static string Names(IReadOnlyList<Person> people) => string.Join(" and ", people.Select(p => p is { Family: "others", Given: "" } ? "others" : $"{(p.Von.Length > 0 ? p.Von + " " : "")}{p.Family}, {p.Given}"));
        IEnumerable<(string, string)> people = [("author", Names(w.Authors)), ("editor", Names(w.Editors))];
        return $"@{w.Type}{{{w.Key},{string.Join(',', people.Where(p => p.Item2.Length > 0).Concat(w.Fields.Select(f => (f.Key, f.Value))).Select(f => $" {f.Item1} = {{{f.Item2}}}"))}}}";
    }

    private static IReadOnlyList<ListedSource> List(string bib, string style) =>
        SourceList.Make([.. new BibPool(BibReader.Read(bib).Entries).Entries], BibliographyStyle.FindClassic(style)!, SourceWords.For("en")).Sources;

    private static string Plain(ListedSource source) => MarkupText.Plain(source.Reference.Replace("\\newblock ", "", StringComparison.Ordinal).Replace("\\source@doi", "", StringComparison.Ordinal).Replace("\\source@url", "", StringComparison.Ordinal)).Replace('’', '\'');

    [Theory]
    [InlineData("unsrt", false)]
    [InlineData("plain", false)]
    [InlineData("alpha", false)]
    [InlineData("abbrv", true)]
    public void Every_entry_prints_as_the_rules_say(string style, bool isShort)
    {
        List<Work> works = Works(style.Length * 7, 600);
        Dictionary<string, ListedSource> listed = List(string.Join('\n', works.Select(Bib)), style).ToDictionary(s => s.Entry.Key);
        Assert.Equal(works.Count, listed.Count);
        Assert.All(works, w => Assert.Equal($"{w.Type} {Print(w, isShort)}", $"{w.Type} {Plain(listed[w.Key])}"));
    }

    [Fact]
    public void Sources_are_sorted_as_the_rules_say()
    {
        List<Work> works = Works(3, 800);
        IReadOnlyList<ListedSource> listed = List(string.Join('\n', works.Select(Bib)), "plain");
        Assert.Equal(works.OrderBy(SortKey, StringComparer.Ordinal).Select(w => w.Key), listed.Select(s => s.Entry.Key));
    }

    [Fact]
    public void Labels_of_letters_are_as_the_rules_say()
    {
        List<Work> works = Works(11, 400);
        IReadOnlyList<ListedSource> listed = List(string.Join('\n', works.Select(Bib)), "alpha");
        Dictionary<string, Work> byKey = works.ToDictionary(w => w.Key);
        List<string> labels = [.. listed.Select(s => MarkupText.Plain(s.Letters))];
        Assert.All(listed, s => Assert.Equal(Label(byKey[s.Entry.Key]), MarkupText.Plain(s.Letters).TrimEnd([.. "abcdefghijklmnopqrstuvwxyz"])));
        // Equal ones stand together, the first of them with an a.
        Assert.Equal(labels.Count, labels.Distinct().Count());
        Assert.Contains(labels, l => l.EndsWith('b'));
    }

    [Theory]
    // A name for a month is short where journals are; text stays.
    [InlineData("abbrv", "@misc{k, title={T}, month=sep, year=2001}", "T, Sept. 2001.")]
    [InlineData("abbrv", "@misc{k, title={T}, month={September}, year=2001}", "T, September 2001.")]
    [InlineData("abbrv", "@article{k, title={T}, journal=cacm, year=2001, month=10 # \"~\" # jan}", "T. Commun. ACM, 10 Jan. 2001.")]
    [InlineData("plain", "@article{k, title={T}, journal=cacm, year=2001, month=10 # \"~\" # jan}", "T. Communications of the ACM, 10 January 2001.")]
    // Joined strings keep their spaces.
    [InlineData("plain", "@string{p = \"Proc. of the \"}@inproceedings{k, title={T}, booktitle=p # {Fifth}, year=2001}", "T. In Proc. of the Fifth, 2001.")]
    // A word that nothing explains prints nothing.
    [InlineData("plain", "@misc{k, title={T}, month=Foo, year=2001}", "T, 2001.")]
    // The key stands for the names, address comes before location.
    [InlineData("plain", "@misc{k, key={Board}, title={T}, year=2001}", "Board. T, 2001.")]
    [InlineData("plain", "@book{k, title={T}, publisher={P}, address={A}, location={L}, year=2001}", "T. P, A, 2001.")]
    [InlineData("plain", "@book{k, title={T}, publisher={P}, location={L}, date={2001-05}}", "T. P, L, May 2001.")]
    // Case: special characters and braces.
    [InlineData("plain", "@misc{k, title={On {\\'E}mile {And} \\LaTeX: A Guide, {\\OE}uvres}, year=2001}", "On émile And LaTeX: A guide, œuvres, 2001.")]
    // Natbib's own parts.
    [InlineData("plainnat", "@book{k, author={Ann Low}, title={T}, publisher={P}, year=2001, isbn={1}, doi={https://doi.org/10.1/x}, url={http://a.b}}", "Ann Low. T. P, 2001. ISBN 1. doi: 10.1/x. URL http://a.b.")]
    [InlineData("plainnat", "@article{k, author={Ann Low}, title={T}, journal={J}, volume=3, eid={e17}, year=2001}", "Ann Low. T. J, 3:e17, 2001.")]
    // The societies' styles.
    [InlineData("apalike", "@article{k, author={Ann Low and Bo Ng}, title={The Title}, journal={J}, volume=3, number=2, pages={1-9}, year=2001}", "Low, A. and Ng, B. (2001). The title. J, 3(2):1–9.")]
    [InlineData("ieeetr", "@article{k, author={Ann Low and Bo Ng}, title={The Title}, journal={J}, volume=3, number=2, pages={1-9}, month=mar, year=2001}", "A. Low and B. Ng, “The title,” J, vol. 3, no. 2, pp. 1–9, Mar. 2001.")]
    [InlineData("ieeetr", "@book{k, author={Ann Low}, title={The Title}, publisher={P}, address={A}, edition={Second}, year=2001}", "A. Low, The Title. A: P, second ed., 2001.")]
    [InlineData("ieeetr", "@misc{k, author={Ann Low}, title={The Title}, howpublished={By hand}, year=2001}", "A. Low, “The title.” By hand, 2001.")]
    [InlineData("ieeetr", "@misc{k, author={Ann Low}, title={The Title}}", "A. Low, “The title.”")]
    [InlineData("siam", "@article{k, author={Ann Low and Bo Ng}, title={The Title}, journal={J}, volume=3, pages={1-9}, year=2001}", "A. Low and B. Ng, The title, J, 3 (2001), pp. 1–9.")]
    [InlineData("acm", "@article{k, author={Ann Low and Bo Ng}, title={The Title}, journal={J}, volume=3, number=2, pages={1-9}, month=mar, year=2001}", "Low, A., and Ng, B. The title. J 3, 2 (Mar. 2001), 1–9.")]
    [InlineData("acm", "@book{k, author={Ann Low}, title={The Title}, publisher={P}, edition={Second}, year=2001}", "Low, A. The Title, second ed. P, 2001.")]
    public void A_style_prints_by_its_own_rules(string style, string bib, string expected)
    {
        Assert.Equal(expected, Plain(Assert.Single(List(bib, style))));
    }

    public static TheoryData<string> AllStyles => [.. BibliographyStyle.ClassicNames, .. BibliographyStyle.ModernNames];

    // Every type with all fields, with none, and one that nobody knows: no program of ours stumbles, and every source prints in its sentence.
    [Theory]
    [MemberData(nameof(AllStyles))]
    public void A_style_of_ours_prints_every_type_without_a_slip(string style)
    {
        string fields = string.Join(", ", s_fields.Select(f => $"{f.Field} = {{{f.Values[0]}}}"));
        string[] types = [.. s_types, "inbook", "conference", "online", "report", "thesis", "collection", "dataset", "patent", "odd"];
        string full = $"author = {{Ann Low and Bo van Ng}}, editor = {{Una Fell}}, title = {{The Title}}, year = {{2001}}, school = {{S}}, institution = {{I}}, doi = {{10.1/x}}, url = {{http://a.b}}, isbn = {{1}}, issn = {{2}}, {fields}";
        string bib = string.Concat(types.Select(t => $"@{t}{{full{t}, {full}}}@{t}{{bare{t}, title={{Bare}}}}@{t}{{none{t}, note={{Only a note}}}}"));
        BibliographyStyle found = BibliographyStyle.FindClassic(style) ?? BibliographyStyle.FindModern(style)!;
        foreach (string language in (string[])["en", "en-gb", "de", "fr"])
        {
            ListOfSources list = SourceList.Make(BibReader.Read(bib).Entries, found, SourceWords.For(language));
            Assert.Null(list.Slip);
            Assert.Equal(types.Length * 3, list.Sources.Count);
            Assert.All(list.Sources.Where(s => s.Entry.Key.StartsWith("full", StringComparison.Ordinal)), s => Assert.Contains("itle", s.Reference, StringComparison.Ordinal));
            Assert.All(list.Sources.Where(s => s.Entry.Key.StartsWith("bare", StringComparison.Ordinal)), s => Assert.Contains("Bare", s.Reference, StringComparison.Ordinal));
            Assert.All(list.Sources, s => Assert.DoesNotContain("..", s.Reference, StringComparison.Ordinal));
            Assert.All(list.Sources, s => Assert.DoesNotContain(", ,", s.Reference, StringComparison.Ordinal));
            Assert.All(list.Sources, s => Assert.Equal(s.Reference.Count(c => c == '{'), s.Reference.Count(c => c == '}')));
        }
    }

    // BibTeXing, section 2: two parts bring their whole, and refer to it; one part takes its fields.
    [Fact]
    public void A_whole_with_two_parts_is_listed_and_cited()
    {
        const string Whole = "@proceedings{w, title={Walls}, booktitle={Walls}, editor={Ann Low}, year=2001}";
        const string Parts = "@inproceedings{a, author={B. Ng}, title={One}, crossref={w}, pages={1-2}}@inproceedings{b, author={C. Ng}, title={Two}, crossref={w}}";
        IReadOnlyList<BibEntry> entries = [.. new BibPool(BibReader.Read(Parts + Whole).Entries).Entries];
        IReadOnlyList<ListedSource> Made(params string[] keys) => SourceList.Make([.. entries.Where(e => keys.Contains(e.Key))], BibliographyStyle.Plain, SourceWords.For("en")).Sources;
        Assert.Equal(["w", "a", "b"], Made("a", "b").Select(s => s.Entry.Key));
        Assert.Equal("B.~Ng. \\newblock One. \\newblock In Low \\cite{w}, pages 1--2.", Made("a", "b")[1].Reference);
        Assert.Equal("B. Ng. One. In Ann Low, editor, Walls, pages 1–2, 2001.", Plain(Assert.Single(Made("a"))));
    }

    [Fact]
    public void Labels_of_names_show_in_citations_with_and_without_natbib()
    {
        const string Pool = "@misc{a, author={Ann Low}, title={A}, year=2001}@misc{b, author={Ann Low}, title={B}, year=2001}@misc{c, author={A and B and C and D and E}, title={C}, year=1999}";
        static string Page(string style, string packages, string body) => string.Join(' ', Compiled.Text(Compiled.Files(
            ("main.tex", $"\\documentclass{{article}}{packages}\\pagestyle{{empty}}\\begin{{document}}{body}\\nocite{{*}}\\bibliographystyle{{{style}}}\\bibliography{{p}}\\end{{document}}"), ("p.bib", Pool))).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
        Assert.StartsWith("[Low, 2001a] References", Page("apalike", "", "\\cite{a}"), StringComparison.Ordinal);
        Assert.StartsWith("Low (2001a) and (Low, 2001b)", Page("apalike", "\\usepackage{natbib}", "\\citet{a} and \\citep{b}"), StringComparison.Ordinal);
        Assert.StartsWith("Low (2001b)", Page("unsrtnat", "\\usepackage{natbib}", "\\citet{b}"), StringComparison.Ordinal);
        Assert.StartsWith("[Low01b, ABC+ 99]", Page("alpha", "", "\\cite{b,c}"), StringComparison.Ordinal);
    }

    [Fact]
    public void What_a_bib_file_puts_before_the_list_is_defined_for_it()
    {
        string text = Compiled.Text(Compiled.Files(
            ("main.tex", "\\documentclass{article}\\pagestyle{empty}\\begin{document}\\cite{a}\\bibliographystyle{plain}\\bibliography{p}\\end{document}"),
            ("p.bib", "@preamble{\"\\newcommand{\\wall}{Drystone}\"}@misc{a, title={The {\\wall} Book}, year=2001}")));
        Assert.Contains("The Drystone book, 2001.", text, StringComparison.Ordinal);
    }
}
