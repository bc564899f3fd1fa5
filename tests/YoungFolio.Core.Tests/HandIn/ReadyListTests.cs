using System.Text;
using YoungFolio.Bibliography;
using YoungFolio.Compiler;
using YoungFolio.HandIn;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests.HandIn;

/// <summary>Sources that go out with their list as it is printed, for places that read no .bib files.</summary>
public class ReadyListTests
{
    private const string Bib = """
        @article{rook, author={Ann Rook and Bo {\O}sterg{\aa}rd}, title={Lichens of {Marrow} walls}, journal={Field Notes}, year=1987, volume=3, pages={1--9}, doi={10.1000/ab_c%d}}
        @book{vane, author={Perpetua Vane}, title={Stone \& moss}, publisher={Hollin}, year=1999, url={https://hollin-edge.example/a%20b_c}}
        @misc{never, author={Nobody}, title={Not cited}, year=2001}
        """;

    private static readonly SourcePacker s_packer = new(new ManuscriptCompiler());

    [Theory]
    [InlineData("plain", "")]
    [InlineData("unsrt", "")]
    [InlineData("abbrv", "")]
    [InlineData("alpha", "")]
    [InlineData("plain", "\\usepackage{url}")]
    [InlineData("plainnat", "\\usepackage{natbib}")]
    [InlineData("plainnat", "\\usepackage[numbers]{natbib}")]
    [InlineData("abbrvnat", "\\usepackage[round]{natbib}\\usepackage{hyperref}")]
    public void A_ready_list_prints_what_the_style_printed(string style, string preamble)
    {
        ManuscriptSnapshot snapshot = Snapshot($"\\bibliographystyle{{{style}}}\nWalls \\cite{{rook}} and moss \\cite[p.~3]{{vane,rook}}.\n\\bibliography{{s}}", preamble);
        SourcePackage package = s_packer.Pack(snapshot, new SourcesWish(ReadyList: true));
        Assert.Empty(package.Remarks);
        Assert.Equal([SourcePacker.Readme, "main.tex"], package.Files.Select(f => f.Path));
        string main = MainOf(package);
        Assert.True(Printed(snapshot) == Printed(Again(package)), $"{main}\n{Printed(snapshot)}\n{Printed(Again(package))}");
        Assert.DoesNotContain("source@", main, StringComparison.Ordinal);
        Assert.DoesNotContain("Nobody", main, StringComparison.Ordinal);
        Assert.Equal(Codes(snapshot), Codes(Again(package)));
    }

    // A DOI leads to https://doi.org, as the International DOI Foundation's handbook has it.
    [Theory]
    [InlineData("plainnat", "\\usepackage{natbib,hyperref}", "\\href{https://doi.org/10.1000/ab_c\\%d}{\\nolinkurl{10.1000/ab_c\\%d}}", 2)]
    [InlineData("plainnat", "\\usepackage{natbib,url}", "\\url{10.1000/ab_c%d}", 1)]
    [InlineData("plainnat", "\\usepackage{natbib}", "\\texttt{10.1000/ab\\_c\\%d}", 0)]
    public void A_DOI_leads_where_it_led(string style, string preamble, string typed, int links)
    {
        ManuscriptSnapshot snapshot = Snapshot($"\\bibliographystyle{{{style}}}\\cite{{rook,vane}}\n\\bibliography{{s}}", preamble);
        SourcePackage package = s_packer.Pack(snapshot, new SourcesWish(ReadyList: true));
        Assert.Contains(typed, MainOf(package), StringComparison.Ordinal);
        Assert.Equal(Printed(snapshot), Printed(Again(package)));
        Assert.Equal(links, Links(Again(package)).Length);
        if (preamble.Contains("hyperref", StringComparison.Ordinal))
        {
            Assert.Equal(Links(snapshot), Links(Again(package)));
        }
    }

    private static string[] Links(ManuscriptSnapshot snapshot) =>
        [.. Compiled.Run("pdfinfo", new ManuscriptCompiler().Compile(snapshot).Pdf, "-url", "FILE").Split('\n').Where(l => l.Contains("http", StringComparison.Ordinal)).Select(l => l.Split(' ', StringSplitOptions.RemoveEmptyEntries)[^1]).Distinct()];

    [Fact]
    public void The_demo_thesis_prints_the_same_with_a_ready_list()
    {
        ManuscriptSnapshot snapshot = DemoManuscripts.Snapshot(DemoManuscripts.Of("thesis"));
        SourcePackage package = s_packer.Pack(snapshot, new SourcesWish(ReadyList: true));
        Assert.Empty(package.Remarks);
        CompileReport whole = new ManuscriptCompiler().Compile(snapshot).Report;
        CompileReport again = new ManuscriptCompiler().Compile(Again(package)).Report;
        Assert.Equal(whole.Pages, again.Pages);
        Assert.Equal(whole.Bibliography.Select(b => b.Key), again.Bibliography.Select(b => b.Key));
        Assert.Equal(Codes(snapshot), Codes(Again(package)));
    }

    public static TheoryData<string> Styles => [.. BibliographyStyle.ClassicNames];

    [Theory]
    [MemberData(nameof(Styles))]
    public void Every_style_prints_all_sources_of_the_demo_thesis_the_same(string style)
    {
        ManuscriptFile sources = DemoManuscripts.Of("thesis").Single(f => f.Path.EndsWith(".bib", StringComparison.Ordinal));
        string name = Path.GetFileNameWithoutExtension(sources.Path);
        ManuscriptFile main = ManuscriptFile.FromText("main.tex", $"\\documentclass{{article}}\\usepackage{{natbib}}\\begin{{document}}\\nocite{{*}}\\bibliographystyle{{{style}}}\\bibliography{{{name}}}\\end{{document}}");
        var snapshot = new ManuscriptSnapshot(new FileTree([main, sources]), "main.tex", new DateOnly(2026, 11, 9));
        SourcePackage package = s_packer.Pack(snapshot, new SourcesWish(ReadyList: true));
        Assert.DoesNotContain("source@", MainOf(package), StringComparison.Ordinal);
        Assert.Equal(Printed(snapshot), Printed(Again(package)));
        Assert.Equal(Codes(snapshot), Codes(Again(package)));
    }

    [Theory]
    [InlineData("", "\\texttt{https://hollin-edge.example/a\\%20b\\_c}")]
    [InlineData("\\usepackage{hyperref}", "\\url{https://hollin-edge.example/a%20b_c}")]
    public void Addresses_print_with_and_without_a_package_for_them(string preamble, string address)
    {
        string main = MainOf(s_packer.Pack(Snapshot("\\nocite{vane}\\bibliographystyle{plainnat}\\bibliography{s}", preamble), new SourcesWish(ReadyList: true)));
        Assert.Contains(address, main, StringComparison.Ordinal);
        Assert.Contains("\\begin{thebibliography}{9}", main, StringComparison.Ordinal);
    }

    [Fact]
    public void Labels_in_letters_get_the_room_of_the_longest() =>
        Assert.Contains("\\begin{thebibliography}{Nob01}", MainOf(s_packer.Pack(Snapshot("\\nocite{*}\\bibliographystyle{alpha}\\bibliography{s}", ""), new SourcesWish(ReadyList: true))), StringComparison.Ordinal);

    [Theory]
    [InlineData("\\cite{rook}\\bibliographystyle{plain}% \\bibliography{x}\n\\verb|\\bibliography{y}|\n\\bibliography{s}", "")]
    [InlineData("\\cite{rook}\\bibliographystyle{plain}\\newcommand{\\make}{\\bibliography{s}}\\make \\make", "")]
    public void The_place_is_the_command_that_stands_in_the_text(string body, string remark)
    {
        SourcePackage package = s_packer.Pack(Snapshot(body, ""), new SourcesWish(ReadyList: true));
        Assert.Equal(remark, string.Join(' ', package.Remarks));
        Assert.Equal(1, MainOf(package).Split("\\begin{thebibliography}").Length - 1);
    }

    [Theory]
    [InlineData("\\usepackage[style=numeric]{biblatex}\\addbibresource{s.bib}", "\\cite{rook}\\printbibliography", "biblatex")]
    [InlineData("\\newcommand{\\sources}[1]{\\bibliography#1}", "\\cite{rook}\\bibliographystyle{plain}\\sources{{s}}", "can’t be put there")]
    [InlineData("", "\\cite{rook}\\bibliographystyle{plain}\\input{a}\\input{b}", "more than one place")]
    public void Where_it_cannot_be_the_files_of_sources_go_out_as_they_are(string preamble, string body, string says)
    {
        SourcePackage package = s_packer.Pack(Snapshot(body, preamble, ("a.tex", "\\bibliography{s}"), ("b.tex", "\\bibliography{s}")), new SourcesWish(ReadyList: true));
        Assert.Contains(says, Assert.Single(package.Remarks), StringComparison.Ordinal);
        Assert.Contains(package.Files, f => f.Path == "s.bib");
        Assert.True(package.IsSame);
    }

    [Fact]
    public void A_list_that_is_typed_by_hand_stays_as_it_is()
    {
        SourcePackage package = s_packer.Pack(Snapshot("\\cite{a}\\begin{thebibliography}{9}\\bibitem{a} A.\\end{thebibliography}", ""), new SourcesWish(ReadyList: true));
        Assert.True(package.IsSame);
        Assert.Empty(package.Remarks);
    }

    private static ManuscriptSnapshot Snapshot(string body, string preamble, params (string Path, string Text)[] more) => new(
        new FileTree([ManuscriptFile.FromText("main.tex", $"\\documentclass{{article}}\n{preamble}\n\\begin{{document}}\n{body}\n\\end{{document}}\n"), ManuscriptFile.FromText("s.bib", Bib), .. more.Select(f => ManuscriptFile.FromText(f.Path, f.Text))]),
        "main.tex", new DateOnly(2026, 11, 9));

    private static ManuscriptSnapshot Again(SourcePackage package) =>
        new(new FileTree(package.Files.Select(f => new ManuscriptFile(f.Path, f.Bytes))), "main.tex", new DateOnly(2026, 11, 9));

    private static string MainOf(SourcePackage package) => Encoding.UTF8.GetString(package.Files.Single(f => f.Path == "main.tex").Bytes.Span);

    // Lines may be divided elsewhere, as labels of a list by hand stand a little apart: so the letters, not the words.
    private static string Printed(ManuscriptSnapshot snapshot) =>
        string.Concat(PdfWords.Of(new ManuscriptCompiler().Compile(snapshot)).SelectMany(w => w.Text).Where(c => c != '-').Order());

    // Of .bib files there is nothing to say any more.
    private static string[] Codes(ManuscriptSnapshot snapshot) => [.. new ManuscriptCompiler().Compile(snapshot).Report.Findings
        .Where(f => f.Code != "uncited-sources" && f.File?.EndsWith(".bib", StringComparison.Ordinal) != true).Select(f => f.Code).Order()];
}
