using System.Text.Json;
using YoungFolio.Bibliography;

namespace YoungFolio.Core.Tests;

/// <summary>Sources as other programs read and write them: npm @retorquere/bibtex-parser, npm citation-js (with the Citation Style Language's processor).</summary>
public class SourceExchangeTests
{
    private const string Pool = """
        @string{jl = {Journal of Lichen}}
        @article{rook1987, author = {Rook, Edith M. and van der Berg, Jan}, title = {Ledgers of the {Marrow} estates}, journal = jl, year = 1987, volume = 12, number = {3}, pages = {44--71}, doi = {10.5555/ml.87}, month = mar}
        @Book{ashby2011, Author = "Ashby, Jr., Kell and {Hollin Edge Field Group}", Title = "Growth " # {of crustose thalli}, Publisher = {Valley Press}, Address = {Hollin}, Year = "2011", ISBN = {978-1}, edition = {2}}
        @inproceedings{sable2019, author = {S{\'a}ble, Jo and Wyke, Li and M{\"u}ller, {\O}ystein}, title = {Shade \& the early spread}, booktitle = {Proceedings of Walls}, year = 2019, pages = {5--9}, editor = {Tarn, Ann}}
        @phdthesis{wyke2022, author = {Li Wyke}, title = {The north face problem}, school = {University of Marrow}, year = 2022}
        @techreport{tarn2020, author = {Ann Tarn and de la Cruz, Maria}, title = {Lime and rain}, institution = {Walls Trust}, year = 2020, number = {7}}
        @incollection{vest2004, author = {Ludwig von Vest}, title = {On mortar}, booktitle = {Handbook of Walls}, editor = {Able, Bo}, publisher = {Press}, year = 2004, pages = {100--120}}
        """;

    private static IReadOnlyList<BibEntry> Entries => BibReader.Read(Pool).Entries;

    private sealed record TheirEntry(string Type, string Key, string Title, string Year, string Journal, string[][] Names);

    [Fact]
    public void Bib_text_is_read_as_bibtex_parser_reads_it()
    {
        TheirEntry[] theirs = ReferenceTests.Ask<TheirEntry[][]>(new { what = "bib", texts = new[] { Pool } })[0];
        Assert.Equal(theirs.Select(e => e.Key), Entries.Select(e => e.Key));
        foreach ((BibEntry ours, TheirEntry other) in Entries.Zip(theirs))
        {
            Assert.Equal(other.Type, ours.Type);
            Assert.Equal(other.Title, MarkupText.Plain(ours.Field("title")));
            Assert.Equal(other.Year, ours.Field("year"));
            Assert.Equal(other.Journal, ours.Field("journal"));
            Assert.Equal(other.Names.Select(n => string.Join('|', n)),
                PersonName.ReadList(ours.Field("author")).Select(n => string.Join('|', new[] { n.First, n.Von, n.Last, n.Junior }.Select(MarkupText.Plain))));
        }
    }

    private static string[] Facts(JsonElement record)
    {
        string Text(string name) => record.TryGetProperty(name, out JsonElement value) ? value.ToString() : "";
        string Names(string role) => record.TryGetProperty(role, out JsonElement list)
            ? string.Join("; ", list.EnumerateArray().Select(n => string.Join('|', new[] { "given", "non-dropping-particle", "family", "suffix", "literal" }.Select(p => n.TryGetProperty(p, out JsonElement v) ? v.ToString() : ""))))
                .Replace("||Hollin Edge Field Group||", "||||Hollin Edge Field Group", StringComparison.Ordinal) : "";
        string year = record.TryGetProperty("issued", out JsonElement issued) ? issued.GetProperty("date-parts")[0][0].ToString() : "";
        return [Text("id"), Text("type"), Text("title"), Names("author"), Names("editor"), year, Text("volume"), Text("issue"), Text("page"), Text("DOI"), Text("container-title"), Text("publisher")];
    }

    [Fact]
    public void Our_csl_json_says_what_citation_js_makes_of_the_same_text()
    {
        string theirs = ReferenceTests.Ask<string[]>(new { what = "citation", texts = new[] { Pool }, to = "csl" })[0];
        using JsonDocument other = JsonDocument.Parse(theirs);
        using JsonDocument ours = JsonDocument.Parse(CslJson.Write(Entries));
        foreach ((JsonElement a, JsonElement b) in other.RootElement.EnumerateArray().Zip(ours.RootElement.EnumerateArray()))
        {
            Assert.Equal(Facts(a), Facts(b));
        }
    }

    [Fact]
    public void Records_come_back_from_citation_js_in_either_format()
    {
        // Ours, through their reader and writer, into ours again.
        string csl = ReferenceTests.Ask<string[]>(new { what = "citation", texts = new[] { CslJson.Write(Entries) }, to = "csl" })[0];
        string ris = ReferenceTests.Ask<string[]>(new { what = "citation", texts = new[] { Ris.Write(Entries) }, to = "ris" })[0];
        foreach (string text in (string[])[csl, ris, CslJson.Write(Entries), Ris.Write(Entries)])
        {
            SourceImport back = SourceImport.Read(text);
            Assert.Empty(back.Problems);
            Assert.Equal(string.Join('\n', Entries.Select(Essence)), string.Join('\n', back.Records.Select(r => Essence(r.ToEntry()))));
        }

        static string Essence(BibEntry entry) => string.Join(" / ",
            entry.Type, MarkupText.Plain(entry.Field("title")), string.Join("; ", PersonName.ReadList(entry.Field("author")).Select(n => $"{MarkupText.Plain(n.Family)}, {MarkupText.Plain(n.First)}")),
            entry.Field("year"), entry.Field("volume"), MarkupText.Plain(entry.First("journal", "booktitle")), entry.Field("doi"), MarkupText.Plain(entry.Field("pages")));
    }

    // The styles are comparable: authors, then year, then title; letters tell works of one year apart.
    [Fact]
    public void The_list_is_in_the_order_of_a_published_author_year_style()
    {
        var random = new Random(3);
        string[] names = ["Abel, Ann", "Åberg, Bo", "Adler, Cy", "Ádám, Di", "Berg, Ed", "Bérg, Flo", "Öst, Gus", "Ost, Hal", "Zimmer, Ida", "Łuk, Jo", "Lund, Kai"];
        var entries = new List<string>();
        for (int i = 0; i < 60; i++)
        {
            string first = names[random.Next(names.Length)];
            string second = names[random.Next(names.Length)];
            string authors = random.Next(3) == 0 && first != second ? $"{first} and {second}" : first;
            entries.Add($"@book{{k{i}, author={{{authors}}}, title={{{(char)('A' + random.Next(26))}itle {i}}}, year={1990 + random.Next(4)}, publisher={{P}}}}");
        }

        string text = string.Join('\n', entries);
        using JsonDocument theirs = JsonDocument.Parse(ReferenceTests.Ask<string[]>(new { what = "citation", texts = new[] { text }, to = "order" })[0]);
        string[] order = [.. theirs.RootElement.EnumerateArray().Select(e => e[0].GetString()!)];
        IReadOnlyList<ListedSource> list = SourceList.Make(BibReader.Read(text).Entries, BibliographyStyle.FindClassic("yearly")!, SourceWords.For("en")).Sources;
        Assert.Equal(order, list.Select(s => s.Entry.Key));
        Dictionary<string, string> printed = theirs.RootElement.EnumerateArray().ToDictionary(e => e[0].GetString()!, e => e[1].GetString()!);
        Assert.All(list, s => Assert.Contains($"({s.Year})", printed[s.Entry.Key], StringComparison.Ordinal));
    }

    private sealed record Requirements(Dictionary<string, string[]> Classic, Dictionary<string, string[]> Modern);

    [Fact]
    public void Types_need_the_fields_that_the_data_models_say()
    {
        Requirements theirs = ReferenceTests.Ask<Requirements>(new { what = "required" });
        foreach ((string type, string[] fields) in theirs.Modern)
        {
            Assert.Equal(Sorted(fields.Select(f => f == "year/date" ? "year" : f)), Sorted(EntryTypes.Find(type)!.Modern));
        }

        foreach ((string type, string[] fields) in theirs.Classic.Where(t => EntryTypes.Find(t.Key)?.Classic is not null))
        {
            Assert.Equal(Sorted(fields), Sorted(EntryTypes.Find(type)!.Classic!));
        }

        static string Sorted(IEnumerable<string> fields) => string.Join(' ', fields.Order(StringComparer.Ordinal));
    }

    [Fact]
    public void Broken_text_of_any_format_is_named_and_gives_what_it_can()
    {
        Assert.Contains("can't be read", Assert.Single(SourceImport.Read("[{\"type\": \"book\", ").Problems), StringComparison.Ordinal);
        SourceImport ris = SourceImport.Read("TY  - JOUR\nAU  - Abel, Ann\nTI  - Open\nTY  - BOOK\nTI  - Second\nER  - \n");
        Assert.Equal(["Open", "Second"], ris.Records.Select(r => r.Fields["title"]));
        Assert.Single(ris.Problems);
        Assert.Contains("neither", Assert.Single(SourceImport.Read("just words").Problems), StringComparison.Ordinal);
        SourceImport bib = SourceImport.Read("@article{x, title={One}, year=2001\n@book{y, title={Two}}");
        Assert.Equal(["x", "y"], bib.Records.Select(r => r.Key));
        Assert.NotEmpty(bib.Problems);
    }

    [Fact]
    public void Twins_are_found_by_doi_then_by_title_year_and_name()
    {
        IReadOnlyList<BibEntry> entries = BibReader.Read("""
            @article{a, author={Rook, E}, title={Ledgers of Walls}, year=1987, doi={10.1/X}}
            @article{b, author={Other}, title={Another}, doi={https://doi.org/10.1/x}}
            @book{c, author={{\'E}mile Rook}, title={The {Walls}!}, year=1999}
            @book{d, author={Rook, Emile and More, A}, title={The Walls}, year=1999}
            @book{e, author={Rook, Emile}, title={The Walls}, year=2000}
            """).Entries;
        Assert.Equal(["a b", "c d"], SourceChecks.Twins(entries).Select(g => string.Join(' ', g.Select(e => e.Key))));
    }

    [Theory]
    [InlineData("@article{k, author={A}, title={T}, year=2001, journal={J}, pages={1-9}}", "single-hyphen", "1--9")]
    [InlineData("@article{k, author={A}, title={LOUD WORDS OF WALLS}, year=2001, journal={J}}", "capitals-title", "Loud words of walls")]
    [InlineData("@article{k, author={A}, title={Walls & Stones}, year=2001, journal={J}}", "unescaped-source", "Walls \\& Stones")]
    [InlineData("@article{k, author={Abel & Bell}, title={T}, year=2001, journal={J}}", "malformed-names", "Abel and Bell")]
    [InlineData("@article{k, author={A}, title={T}, year=2001}", "incomplete-source", null)]
    [InlineData("@article{k, author={A}, title={T}, date={soon}, journal={J}}", "malformed-date", null)]
    [InlineData("@thing{k, author={A}, title={T}}", "unknown-source-type", null)]
    public void Entries_are_checked(string text, string code, string? mend)
    {
        SourceRemark remark = SourceChecks.Of(BibReader.Read(text).Entries[0], EntryRule.Classic).First(r => r.Code == code);
        Assert.Equal(mend, remark.Mend);
    }
}
