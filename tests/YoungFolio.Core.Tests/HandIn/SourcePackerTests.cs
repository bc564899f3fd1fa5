using System.Text;
using YoungFolio.Compiler;
using YoungFolio.HandIn;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests.HandIn;

/// <summary>Sources that go out: what is in the package, and that it gives the same pages.</summary>
public class SourcePackerTests
{
    private static readonly SourcePacker s_packer = new(new ManuscriptCompiler());
    private static readonly SourcesWish s_all = new(OnlyUsed: true, WithoutComments: true, OnlyCited: true, InOneFile: true);

    public static TheoryData<string> Demos => ["thesis", "article", "book"];

    // The package is compiled from nothing but itself, and its PDF held against the manuscript's, byte for byte.
    [Theory]
    [MemberData(nameof(Demos))]
    public void A_package_of_a_demo_manuscript_gives_the_same_pages(string name)
    {
        ManuscriptSnapshot snapshot = DemoManuscripts.Snapshot(DemoManuscripts.Of(name));
        foreach (SourcesWish wish in (SourcesWish[])[new SourcesWish(), s_all])
        {
            SourcePackage package = s_packer.Pack(snapshot, wish);
            Assert.True(package.IsSame, $"{name}: {package.Pages} pages");
            Assert.Contains(package.Files, f => f.Path == SourcePacker.Readme);
        }

        SourcePackage one = s_packer.Pack(snapshot, s_all);
        Assert.Single(one.Files, f => f.Path.EndsWith(".tex", StringComparison.Ordinal));
        Assert.DoesNotContain("\\include{", Text(one, "main.tex"), StringComparison.Ordinal);
    }

    [Fact]
    public void Files_that_the_proof_does_not_need_stay_behind()
    {
        SourcePackage package = Pack(new SourcesWish(), "\\input{a}", ("a.tex", "A"), ("b.tex", "B"), ("wall.png", "x"));
        Assert.Equal(["README.txt", "a.tex", "main.tex"], package.Files.Select(f => f.Path));
        Assert.Equal(["b.tex", "wall.png"], package.LeftBehind);
        Assert.Equal(5, Pack(new SourcesWish(OnlyUsed: false), "\\input{a}", ("a.tex", "A"), ("b.tex", "B"), ("wall.png", "x")).Files.Count);
    }

    [Theory]
    [InlineData("a % b\nc", "a %\nc")]
    [InlineData("a\n  % b\nc", "a\nc")]
    [InlineData("% b\nc", "c")]
    [InlineData("a\\% b", "a\\% b")]
    [InlineData("\\verb|a % b|", "\\verb|a % b|")]
    [InlineData("\\begin{verbatim}\n% a\n\\end{verbatim}", "\\begin{verbatim}\n% a\n\\end{verbatim}")]
    [InlineData("\\url{https://example.org/a%20b} % c", "\\url{https://example.org/a%20b} %")]
    [InlineData("a\\todo{b} c", "a c")]
    [InlineData("a\n\\todo{b}\nc", "a\nc")]
    [InlineData("a\n\n% b\n\nc", "a\n\n\nc")]
    [InlineData("a%", "a%")]
    public void Comments_and_notes_go_and_what_prints_stays(string typed, string bare) => Assert.Equal(bare, BareMarkup.Of(typed));

    [Fact]
    public void Of_the_sources_the_cited_ones_go_out_with_those_they_take_from()
    {
        const string Bib = "% mine\n@string{j = {Journal}}\n@article{a, title={A}, journal=j, crossref={p}}\n\n@article{b, title={B}}\n@book{p, title={P}}\n@misc{c, title={C}}\n";
        Assert.Equal("% mine\n@string{j = {Journal}}\n@article{a, title={A}, journal=j, crossref={p}}\n\n@book{p, title={P}}\n", CitedEntries.Of(Bib, ["A"]));
        Assert.Equal(Bib, CitedEntries.Of(Bib, ["a", "b", "c", "p"]));
    }

    [Theory]
    [InlineData("a \\input{x} b", "a X b")]
    [InlineData("a\n\\input{x}\nb", "a\nX\nb")]
    [InlineData("\\include{x}", "\\clearpage\nX\n\\clearpage{}")]
    [InlineData("% \\input{x}", "% \\input{x}")]
    [InlineData("\\input{gone}", "\\input{gone}")]
    [InlineData("\\input{y}", "\\input{y}")]
    public void Files_come_where_they_are_taken_in(string main, string whole)
    {
        string text = TakenIn.Of(main, p => p == "x.tex" ? "X\n" : null).Text;
        Assert.Equal(whole.Replace("a X b", "a X\n b", StringComparison.Ordinal), text);
    }

    [Fact]
    public void A_file_that_takes_in_itself_has_an_end() => Assert.NotEmpty(TakenIn.Of("\\input{x}", p => p == "x.tex" ? "\\input{x}" : null).Text);

    [Fact]
    public void A_choice_of_files_is_not_put_into_one()
    {
        SourcePackage package = Pack(new SourcesWish(InOneFile: true), "\\include{a}\\include{b}", "\\includeonly{a}", ("a.tex", "A"), ("b.tex", "B"));
        Assert.True(package.IsSame);
        Assert.Contains("\\includeonly", Assert.Single(package.Remarks), StringComparison.Ordinal);
        Assert.Contains(package.Files, f => f.Path == "a.tex");
    }

    [Fact]
    public void Names_that_others_cannot_read_are_changed_and_what_takes_the_files_in_follows()
    {
        SourcePackage package = Pack(new SourcesWish(), "\\input{mein wall}\\input{Größe/ä.tex}\\input{plain}", ("mein wall.tex", "A \\input{Größe/ä}"), ("Größe/ä.tex", "B"), ("plain.tex", "C"));
        Assert.True(package.IsSame);
        Assert.Equal(["Grosse/a.tex", "README.txt", "main.tex", "mein-wall.tex", "plain.tex"], package.Files.Select(f => f.Path));
        Assert.Contains("\\input{mein-wall}\\input{Grosse/a.tex}\\input{plain}", Text(package, "main.tex"), StringComparison.Ordinal);
        Assert.Contains("mein wall.tex is mein-wall.tex", Assert.Single(package.Remarks), StringComparison.Ordinal);
        Assert.Empty(package.LeftBehind);
    }

    [Fact]
    public void The_main_file_may_get_another_name_and_the_readme_says_which()
    {
        var snapshot = new ManuscriptSnapshot(new FileTree([ManuscriptFile.FromText("über uns.tex", "\\documentclass{article}\\begin{document}A\\end{document}")]), "über uns.tex", new DateOnly(2026, 11, 9));
        SourcePackage package = s_packer.Pack(snapshot, new SourcesWish());
        Assert.True(package.IsSame);
        Assert.Contains("Compile uber-uns.tex;", Text(package, SourcePacker.Readme), StringComparison.Ordinal);
    }

    [Fact]
    public void Names_that_come_out_alike_stay_apart()
    {
        SourcePackage package = Pack(new SourcesWish(OnlyUsed: false), "\\input{a b}\\input{a-b}\\input{ä}\\input{A}", ("a b.tex", "1"), ("a-b.tex", "2"), ("ä.tex", "3"), ("A.tex", "4"), ("石/.kept", ""));
        Assert.True(package.IsSame);
        Assert.Equal(["A.tex", "README.txt", "a-2.tex", "a-b-2.tex", "a-b.tex", "file/.kept", "main.tex"], package.Files.Select(f => f.Path));
    }

    [Theory]
    [InlineData("plain_name-1.tex", "plain_name-1.tex")]
    [InlineData("Größe (neu).pdf", "Grosse-neu.pdf")]
    [InlineData("Øre æ Łódź.png", "Ore-ae-Lodz.png")]
    [InlineData("a & b #1", "a-b-1")]
    [InlineData("a - b.tex", "a-b.tex")]
    [InlineData("a--b", "a--b")]
    [InlineData("石", "")]
    public void A_name_is_told_in_safe_signs(string name, string safe) => Assert.Equal(safe, SafeNames.Of(name));

    [Fact]
    public void The_readme_says_what_to_compile()
    {
        string text = Text(Pack(new SourcesWish(), "A word.", "\\usepackage{amsmath}\\title{Walls}"), SourcePacker.Readme);
        Assert.Contains("Compile main.tex; it gives 1 page, 2 words.", text, StringComparison.Ordinal);
        Assert.Contains("Packages: amsmath.", text, StringComparison.Ordinal);
    }

    private static SourcePackage Pack(SourcesWish wish, string body, params (string Path, string Text)[] more) => Pack(wish, body, "", more);

    private static SourcePackage Pack(SourcesWish wish, string body, string preamble, params (string Path, string Text)[] more) => s_packer.Pack(
        new ManuscriptSnapshot(new FileTree([ManuscriptFile.FromText("main.tex", $"\\documentclass{{article}}\n{preamble}\n\\begin{{document}}\n{body}\n\\end{{document}}\n"), .. more.Select(f => ManuscriptFile.FromText(f.Path, f.Text))]), "main.tex", new DateOnly(2026, 11, 9)), wish);

    private static string Text(SourcePackage package, string path) => Encoding.UTF8.GetString(package.Files.Single(f => f.Path == path).Bytes.Span);
}
