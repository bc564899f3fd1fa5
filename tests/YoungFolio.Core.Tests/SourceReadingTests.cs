using YoungFolio.Bibliography;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>Reading .bib files, and changing them in the smallest way. Rules: Patashnik, BibTeXing (1988).</summary>
public class SourceReadingTests
{
    // BibTeXing, section 4, with its own examples, and de la Vallée Poussin after the same rules.
    [Theory]
    [InlineData("Ludwig van Beethoven", "Ludwig", "van", "Beethoven", "")]
    [InlineData("van Beethoven, Ludwig", "Ludwig", "van", "Beethoven", "")]
    [InlineData("Per Brinch Hansen", "Per Brinch", "", "Hansen", "")]
    [InlineData("Brinch Hansen, Per", "Per", "", "Brinch Hansen", "")]
    [InlineData("Ford, Jr., Henry", "Henry", "", "Ford", "Jr.")]
    [InlineData("Steele Jr., Guy L.", "Guy L.", "", "Steele Jr.", "")]
    [InlineData("Charles Louis Xavier Joseph de la Vall{\\'e}e Poussin", "Charles Louis Xavier Joseph", "de la", "Vall{\\'e}e Poussin", "")]
    [InlineData("{Barnes and Noble}", "", "", "{Barnes and Noble}", "")]
    [InlineData("Maria {\\uppercase{d}e La} Cruz", "Maria", "{\\uppercase{d}e La}", "Cruz", "")]
    [InlineData("Jean {\\'e}tienne Du~Pont", "Jean", "{\\'e}tienne", "Du Pont", "")]
    [InlineData("Plato", "", "", "Plato", "")]
    [InlineData("family=Berg, given=Jan, prefix=van den", "Jan", "van den", "Berg", "")]
    public void Names_have_four_parts(string text, string first, string von, string last, string junior) =>
        Assert.Equal(new PersonName(first, von, last, junior), PersonName.Read(text));

    [Theory]
    [InlineData("Edith Mary", "E.~M.")]
    [InlineData("Jean-Paul", "J.-P.")]
    [InlineData("{\\'E}mile", "É.")]
    [InlineData("E.", "E.")]
    public void Given_names_have_initials(string given, string initials) => Assert.Equal(initials, new PersonName(given, "", "X", "").Initials);

    [Theory]
    [InlineData("Abel, Ann and Bell, Bo and others", null)]
    [InlineData("Abel, Ann, Bell, Bo, Cole, Di", "joined by “and”")]
    [InlineData("Abel & Bell", "not by &")]
    [InlineData("Abel and", "no name is beside it")]
    [InlineData("Abel et al.", "and others")]
    public void Malformed_names_are_named(string names, string? says) => Assert.Contains(says ?? "", PersonName.Problem(names) ?? "", StringComparison.Ordinal);

    [Fact]
    public void A_file_is_read_as_it_is_really_written()
    {
        BibFile file = BibReader.Read("stray text, mail@home.org @STRING{a = \"Annals\"} @Article(one, Author = \"A. B\" # \" and C {D\"}\", journal = a # { of Walls}, month = mar, year=1999,)\n"
            + "@comment{no} @preamble{\"\\newcommand{\\x}{y}\"}\n@book{two, title = {Open {braces} here}\n@misc{three, title={Last}}\n@book{four\n title={No comma after the key} year=2001, publisher = undefined}");
        Assert.Equal(["one", "two", "three", "four"], file.Entries.Select(e => e.Key));
        Assert.Equal(("Annals of Walls", "March", "1999"), (file.Entries[0].Field("journal"), file.Entries[0].Field("month"), file.Entries[0].Field("year")));
        Assert.Equal("Open {braces} here", file.Entries[1].Field("title"));
        Assert.Equal(("No comma after the key", "2001"), (file.Entries[3].Field("title"), file.Entries[3].Field("year")));
        Assert.Equal("\\newcommand{\\x}{y}", file.Preamble);
        Assert.Equal(4, file.Problems.Count);
        Assert.Contains(file.Problems, p => p.Message.Contains("“undefined” in four", StringComparison.Ordinal));
        Assert.Contains(file.Problems, p => p.Message.Contains("The entry two isn't closed", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("@article{a,\n  title = {Never closed,\n  year = 2001,\n  volume = 3\n}\n@book{b, title={Next}}", "Never closed", "2001")]
    [InlineData("@article{a,\n  title = \"Quote open,\n  year = 2001\n}\n@book{b, title={Next}}", "Quote open", "2001")]
    [InlineData("@article{a,\n  title = {Good} garbage here\n  year = 2001\n}\n@book{b, title={Next}}", "Good", "2001")]
    [InlineData("@article{a, title = {Good}, = {no name}, year = 2001}\n@book{b, title={Next}}", "Good", "2001")]
    public void A_slip_costs_no_other_field_and_no_neighbour(string text, string title, string year)
    {
        BibFile file = BibReader.Read(text);
        Assert.Equal(["a", "b"], file.Entries.Select(e => e.Key));
        Assert.Equal((title, year), (file.Entries[0].Field("title"), file.Entries[0].Field("year")));
        Assert.Equal("Next", file.Entries[1].Field("title"));
        Assert.NotEmpty(file.Problems);
    }

    [Fact]
    public void Mutated_text_never_crashes_and_never_loses_a_neighbour()
    {
        var random = new Random(5);
        string[] entries = [.. Enumerable.Range(0, 12).Select(i => $"@article{{key{i},\n  author = {{Abel, Ann and {{Body of {i}}}}},\n  title = \"Walls {{\\'e}} {i}\" # {{ and more}},\n  journal = {{Journal}},\n  year = {1990 + i},\n  pages = {{1--{i}}}\n}}\n\n")];
        for (int round = 0; round < 4_000; round++)
        {
            int victim = random.Next(1, 11);
            string damaged = entries[victim];
            for (int n = random.Next(1, 4); n > 0; n--)
            {
                int at = random.Next(damaged.Length);
                damaged = random.Next(3) switch
                {
                    0 => damaged.Remove(at, Math.Min(random.Next(1, 9), damaged.Length - at)),
                    1 => damaged.Insert(at, "{}\",=#@%\\ \n("[random.Next(11)].ToString()),
                    _ => damaged[..at] + damaged[random.Next(damaged.Length)] + damaged[Math.Min(at + 1, damaged.Length)..],
                };
            }

            string text = string.Concat(entries.Select((e, i) => i == victim ? damaged + "\n\n" : e));
            BibFile file = BibReader.Read(text);
            // Only an entry whose own @ is damaged may take what is before it along; those behind begin anew at theirs.
            string[] lost = [.. Enumerable.Range(0, 12).Where(i => i != victim).Select(i => "key" + i).Except(file.Entries.Select(e => e.Key))];
            Assert.True(lost.Length == 0, $"{string.Join(' ', lost)} lost in:\n{damaged}");
            Assert.All(file.Entries.Where(e => e.Key != "key" + victim && e.Key.StartsWith("key", StringComparison.Ordinal) && e.Field("year").Length > 0), e => Assert.True(e.End <= text.Length && e.Offset < e.End));
        }
    }

    [Fact]
    public void Parts_inherit_from_wholes_and_shared_data()
    {
        BibFile file = BibReader.Read("@inproceedings{p, author={A}, title={Paper}, crossref={c}} @proceedings{c, title={Proceedings}, editor={E}, year=2001, publisher={P}, pages={1--900}} @xdata{x, publisher={Shared}, location={There}} @book{b, title={B}, xdata={x}}");
        var pool = new BibPool(file.Entries);
        BibEntry paper = pool.Find("p")!;
        Assert.Equal(("Paper", "Proceedings", "E", "2001", "P", ""), (paper.Field("title"), paper.Field("booktitle"), paper.Field("editor"), paper.Field("year"), paper.Field("publisher"), paper.Field("pages")));
        Assert.Equal(("Shared", "There"), (pool.Find("b")!.Field("publisher"), pool.Find("b")!.Field("location")));
        Assert.Equal(["p", "c", "b"], pool.Entries.Select(e => e.Key));
    }

    private const string Text = "% my sources\n@article{one,\n  author  = {Abel, Ann},\n  title   = \"First\", % note\n  year    = 1999\n}\n\nbetween\n@book{two, title={Second}, year=2000}\n";

    [Theory]
    [InlineData("one", "title", "Changed", "  title   = \"Changed\", % note\n  year    = 1999\n}")]
    [InlineData("one", "year", "2001", "  year    = 2001\n}")]
    [InlineData("one", "year", "in press", "  year    = {in press}\n}")]
    [InlineData("one", "doi", "10.1/x", "  year    = 1999,\n  doi     = {10.1/x}\n}")]
    [InlineData("one", "title", "", "  author  = {Abel, Ann}, % note\n  year    = 1999\n}")]
    [InlineData("one", "year", "", "  title   = \"First\", % note\n}")]
    [InlineData("two", "publisher", "Press", "@book{two, title={Second}, year=2000, publisher={Press}}")]
    [InlineData("two", "title", "", "@book{two, year=2000}")]
    public void A_changed_field_changes_nothing_else(string key, string field, string value, string expected)
    {
        BibEntry entry = BibReader.Read(Text).Entries.First(e => e.Key == key);
        string changed = BibText.Apply(Text, [BibText.SetField(Text, entry, field, value)]);
        Assert.Contains(expected, changed, StringComparison.Ordinal);
        BibFile again = BibReader.Read(changed);
        Assert.Empty(again.Problems);
        Assert.Equal(value, again.Entries.First(e => e.Key == key).Field(field));
        foreach (BibEntry before in BibReader.Read(Text).Entries)
        {
            BibEntry after = again.Entries.First(e => e.Key == before.Key);
            Assert.Equal(before.Fields.Where(f => before.Key != key || f.Key != field), after.Fields.Where(f => after.Key != key || f.Key != field));
        }
    }

    [Fact]
    public void Entries_are_renamed_removed_and_added_in_place()
    {
        BibEntry one = BibReader.Read(Text).Entries[0];
        Assert.Equal(Text.Replace("{one,", "{uno,", StringComparison.Ordinal), BibText.Apply(Text, [BibText.Rename(one, "uno")]));
        Assert.Equal("% my sources\nbetween\n@book{two, title={Second}, year=2000}\n", BibText.Apply(Text, [BibText.Remove(Text, one)]));
        string added = BibText.Apply(Text, [BibText.Append(Text, BibText.Write("misc", "three", [new("title", "Third"), new("note", "")]))]);
        Assert.Equal(Text + "\n@misc{three,\n  title = {Third}\n}\n", added);
    }

    // EDTF (ISO 8601-2), levels 0 and 1; a year with words is common practice.
    [Theory]
    [InlineData("date", "2004-05-17", "2004", 5, 17, null)]
    [InlineData("date", "2004/2006", "2004--2006", 0, 0, null)]
    [InlineData("date", "1999~", "ca.~1999", 0, 0, null)]
    [InlineData("date", "199X", "1990s", 0, 0, null)]
    [InlineData("date", "2004/", "2004--", 0, 0, null)]
    [InlineData("date", "2004-13", "2004", 0, 0, "doesn't exist")]
    [InlineData("date", "May 2004", "May 2004", 0, 0, "is no date")]
    [InlineData("year", "in press", "in press", 0, 0, null)]
    [InlineData("year", "unknown", "unknown", 0, 0, "is no year")]
    public void Dates_are_read_or_named(string field, string value, string printed, int month, int day, string? problem)
    {
        SourceDate date = SourceDate.Of(new BibEntry("misc", "k", 0, new Dictionary<string, string> { [field] = value }));
        Assert.Equal((printed, month, day), (date.Printed, date.Month, date.Day));
        Assert.Contains(problem ?? "", date.Problem ?? "", StringComparison.Ordinal);
        Assert.Equal(problem is null, date.Problem is null);
    }

    [Theory]
    [InlineData("{\\'e}t{\\'{e}} \\v{c} \\c{C} \\\"o {\\ss} \\o{} \\aa \\i", "été č Ç ö ß ø åı")]
    [InlineData("A {B} \\emph{C} $x$ ``D''---e~f", "A B C x “D”—e f")]
    public void Markup_has_a_plain_form(string markup, string plain) => Assert.Equal(plain, MarkupText.Plain(markup));

    /// <summary>What prints in the text prints in a list of sources: there is one table of signs.</summary>
    [Fact]
    public void Every_sign_of_text_is_one_in_sources_too() =>
        Assert.All(TextSigns.ByCommand, s => Assert.Equal($"a {s.Value} b", MarkupText.Plain($"a \\{s.Key}{{}} b")));

    [Theory]
    [InlineData("\\cite{a} \\citep[see][p.~3]{b, c} \\citet*{d}", "a b c d")]
    [InlineData("\\parencites(see)()[2]{a}[more]{b}{c} text {no}", "a b c")]
    [InlineData("\\footcite[a {b} c]{k}\\nocite{*}\\bibentry{e}", "k * e")]
    [InlineData("\\setcitestyle{round} \\citestyle{x} \\citetext{see \\citealp{y}} \\incite", "y")]
    [InlineData("\\cite{\n  a,\n  b\n} \\cite{open", "a b")]
    [InlineData("\\citep[as \\citet{a} says]{b} \\\\cite{no} \\\\\\cite{c}\\", "a b c")]
    public void Keys_are_found_in_every_command_of_citation(string text, string keys)
    {
        CitedKey[] found = [.. CitedKeys.Find(text)];
        Assert.Equal(keys, string.Join(' ', found.Select(f => f.Key)));
        Assert.All(found, f => Assert.Equal(f.Key, text.Substring(f.Offset, f.Key.Length)));
    }

    private static Dictionary<string, string> Files => new()
    {
        ["a.bib"] = "@book{one, title={One}, year=2001}\n@inproceedings{part, title={Part}, crossref={one}}\n",
        ["b.bib"] = "@book{two, title={Two}, note={Kept}}\n",
        ["main.tex"] = "See \\cite{one,two} and \\cite[p.~1]{two}. % \\cite{two}",
        ["chapters/x.tex"] = "\\textcite{two}",
    };

    private static Dictionary<string, string> Apply(SourceEdits edits) =>
        Files.ToDictionary(p => p.Key, p => edits.Result.TryGetValue(p.Key, out List<TextEdit>? own) ? BibText.Apply(p.Value, own) : p.Value);

    [Fact]
    public void A_key_is_renamed_in_every_file_and_in_other_entries()
    {
        Dictionary<string, string> after = Apply(new SourceEdits(Files).Rename("one", "uno"));
        Assert.Equal("@book{uno, title={One}, year=2001}\n@inproceedings{part, title={Part}, crossref={uno}}\n", after["a.bib"]);
        Assert.StartsWith("See \\cite{uno,two} and", after["main.tex"], StringComparison.Ordinal);
        Assert.Equal((Files["b.bib"], Files["chapters/x.tex"]), (after["b.bib"], after["chapters/x.tex"]));
    }

    [Fact]
    public void Merging_takes_the_chosen_fields_and_rewrites_what_cited_the_other()
    {
        Dictionary<string, string> after = Apply(new SourceEdits(Files).Merge("one", "two", new Dictionary<string, string> { ["title"] = "One and two", ["note"] = "Kept" }));
        Assert.StartsWith("@book{one, title={One and two}, year=2001, note={Kept}}", after["a.bib"], StringComparison.Ordinal);
        Assert.Equal("", after["b.bib"]);
        Assert.Equal("See \\cite{one} and \\cite[p.~1]{one}. % \\cite{one}", after["main.tex"]);
        Assert.Equal("\\textcite{one}", after["chapters/x.tex"]);
    }

    [Fact]
    public void Records_that_come_in_get_keys_that_are_free()
    {
        var edits = new SourceEdits(Files);
        IReadOnlyList<string> keys = edits.AddRecords("b.bib", SourceImport.Read("@book{one, author={Ashby, Kell}, year=2011}\n@book{, author={Ashby, Kell}, year=2011}\n@book{fine, title={F}}").Records);
        Assert.Equal(["ashby2011", "ashby2011b", "fine"], keys);
        Assert.Equal(["two", .. keys], BibReader.Read(Apply(edits)["b.bib"]).Entries.Select(e => e.Key));
    }
}
