using YoungFolio.Bibliography;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Sources: reading, names and the printed list. Rules of names: Patashnik, BibTeXing (1988), section 4.</summary>
public class BibliographyTests
{
    [Theory]
    [InlineData("Ludwig van Beethoven", "Ludwig", "van", "Beethoven", "")]
    [InlineData("van Beethoven, Ludwig", "Ludwig", "van", "Beethoven", "")]
    [InlineData("Ford, Jr., Henry", "Henry", "", "Ford", "Jr.")]
    [InlineData("Charles Louis Xavier Joseph de la Vall{\\'e}e Poussin", "Charles Louis Xavier Joseph", "de la", "Vall{\\'e}e Poussin", "")]
    [InlineData("{Barnes and Noble}", "", "", "{Barnes and Noble}", "")]
    [InlineData("Plato", "", "", "Plato", "")]
    public void Names_have_four_parts(string text, string first, string von, string last, string junior) =>
        Assert.Equal(new PersonName(first, von, last, junior), PersonName.Read(text));

    [Fact]
    public void A_file_is_read_as_it_is_really_written()
    {
        BibFile file = BibReader.Read("stray text @STRING{a = \"Annals\"} @Article(one, Author = \"A. B\" # \" and C {D\"}\", journal = a # { of Walls}, month = mar, year=1999,)\n"
            + "@comment{no} @book{two, title = {Open {braces} here}\n@misc{three, title={Last}}");
        Assert.Equal(["one", "two", "three"], file.Entries.Select(e => e.Key));
        Assert.Equal(("Annals of Walls", "March", "1999"), (file.Entries[0].Field("journal"), file.Entries[0].Field("month"), file.Entries[0].Field("year")));
        Assert.Equal("Open {braces} here", file.Entries[1].Field("title"));
        Assert.NotEmpty(file.Problems);
    }

    [Fact]
    public void Cited_sources_are_printed_in_order_and_missing_ones_named()
    {
        CompileResult result = Compiled.Parts(
            ("main.tex", "\\documentclass{article}\\begin{document}\nSee \\cite{b,a} and \\cite{rok}.\\bibliographystyle{plain}\\bibliography{pool}\n\\end{document}"),
            ("pool.bib", "@book{a, author={Zed, Ann}, title={Last}, year=2001} @book{b, author={Abel, Bo and Cain, Di}, title={First}, year=2000} @book{rook, title={Unused}}"));
        Assert.Contains("See [1, 2] and [??].", Compiled.Text(result));
        Assert.Contains("[1] Bo Abel and Di Cain. First. 2000. [2] Ann Zed. Last. 2001.", Compiled.Text(result));
        FindingLine finding = Assert.Single(result.Report.Findings);
        Assert.Equal(("missing-source", 2), (finding.Code, finding.Line!.Value));
        Assert.Contains("rook", finding.Advice);
        Assert.Equal("b:1:Bo Abel and Di Cain. First. 2000.", string.Join(':', result.Report.Bibliography.Take(1).Select(s => $"{s.Key}:{s.Label}:{s.Text}")));
    }
}
