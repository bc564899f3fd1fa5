using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests.Bibliography;

/// <summary>What preambles change in biblatex' styles, on the page (biblatex' documentation, 4.5 to 4.10, from memory).</summary>
public sealed class BiblatexAdjustmentTests
{
    private const string Pool = """
        @article{a, author={Rook, Edith and Ashby, Kell}, title={Ledgers}, journaltitle={Lichen}, date={1987-03}, volume={12}, number={3}, pages={44-71}, doi={10.1/x}, url={http://a.b}, note={Noted}}
        @inproceedings{b, author={Low, Ann}, title={Shade}, booktitle={Papers}, date={2001}, url={http://c.d}}
        """;

    private static string Print(string preamble, string body = "\\nocite{*}\\printbibliography", string style = "numeric", string language = "")
    {
        CompileResult result = Compiled.Files(
            ("main.tex", $"\\documentclass{{article}}\\pagestyle{{empty}}{language}\\usepackage[style={style}]{{biblatex}}\\addbibresource{{p.bib}}{preamble}\\begin{{document}}\\noindent {body}\\end{{document}}"), ("p.bib", Pool));
        Assert.DoesNotContain(result.Report.Findings, f => f.Kind == "fix" || f.Code.StartsWith("unknown", StringComparison.Ordinal) || f.Code == "not-yet-defined");
        return string.Join(' ', Compiled.Text(result).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
    }

    private const string Article = "Edith Rook and Kell Ashby. “Ledgers”. In: Lichen 12.3 (Mar. 1987), pp. 44–71. Noted. doi: 10.1/x. url: http://a.b.";

    [Theory]
    [InlineData("\\AtEveryBibitem{\\clearfield{note}\\clearfield{url}}", "pp. 44–71. doi: 10.1/x.", "http:", "Noted")]
    [InlineData("\\AtEveryBibitem{\\iffieldundef{doi}{}{\\clearfield{url}}}", "http://c.d", "http://a.b")]
    [InlineData("\\AtEveryBibitem{\\ifentrytype{article}{\\clearfield{month}\\clearfield{doi}}{\\clearfield{url}}}", "(1987), pp. 44–71. Noted. url: http://a.b.", "Mar.", "doi", "http://c.d")]
    [InlineData("\\AtEveryBibitem{\\clearname{author}}", "“Ledgers”. In: Lichen", "Rook")]
    [InlineData("\\DeclareSourcemap{\\maps[datatype=bibtex]{\\map{\\step[fieldset=url, null]\\step[fieldset=note,null]}}}", "doi: 10.1/x.", "http:", "Noted")]
    [InlineData("\\DeclareSourcemap{\\maps{\\map[overwrite]{\\pertype{article}\\step[fieldset=url, null]}}}", "http://c.d", "http://a.b")]
    [InlineData("\\renewbibmacro{in:}{}", "“Ledgers”. Lichen 12.3", "In:")]
    [InlineData("\\renewbibmacro*{in:}{\\ifentrytype{article}{}{\\printtext{\\bibstring{in}\\intitlepunct}}}", "“Ledgers”. Lichen 12.3", "In: Lichen")]
    [InlineData("\\DeclareFieldFormat[article]{title}{#1}", "Ashby. Ledgers. In: Lichen", "“Ledgers”")]
    [InlineData("\\DeclareFieldFormat*{title}{\\mkbibemph{#1}}", "Low. Shade. In: Papers", "“")]
    [InlineData("\\DeclareFieldFormat{pages}{#1}", "(Mar. 1987), 44–71.", "pp.")]
    [InlineData("\\DeclareFieldFormat[article]{volume}{\\mkbibbold{#1}}\\DeclareFieldFormat[article]{number}{\\mkbibparens{#1}}", "Lichen 12(3) (Mar.", "12.3")]
    [InlineData("\\DeclareFieldFormat{url}{\\url{#1}}\\DeclareFieldFormat{doi}{DOI #1}", "DOI 10.1/x. http://a.b.", "url:", "doi:")]
    [InlineData("\\DeclareNameAlias{default}{family-given}", "Rook, Edith and Ashby, Kell. “Ledgers”", "Edith Rook")]
    [InlineData("\\DeclareNameAlias{author}{family-given/given-family}", "Rook, Edith and Kell Ashby. “Ledgers”", "Edith Rook")]
    [InlineData("\\DefineBibliographyStrings{english}{in = {Inside}, pages = {S\\adddot}, bibliography={Works}, references={Works}}", "Works [1] Ann Low. “Shade”. Inside: Papers", "In:", "References")]
    [InlineData("\\DefineBibliographyStrings{german}{in = {Innen}}", "In: Lichen", "Innen")]
    [InlineData("\\renewcommand*{\\finalnamedelim}{\\addspace\\&\\space}", "Edith Rook & Kell Ashby.", " and ")]
    public void A_preamble_changes_how_sources_print(string preamble, string expected, params string[] gone)
    {
        Assert.Contains(Article, Print(""), StringComparison.Ordinal);
        string text = Print(preamble);
        Assert.Contains(expected, text, StringComparison.Ordinal);
        Assert.All(gone, g => Assert.DoesNotContain(g, text, StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("\\renewcommand*{\\nameyeardelim}{\\addcomma\\space}", "\\parencite{a}", "(Rook and Ashby, 1987)")]
    [InlineData("\\DeclareDelimFormat{nameyeardelim}{\\addcomma\\space}", "\\textcite{a} \\parencite{b}", "Rook and Ashby (1987) (Low, 2001)")]
    [InlineData("\\renewcommand*{\\multicitedelim}{\\addcomma\\space}", "\\parencite{a,b}", "(Rook and Ashby 1987, Low 2001)")]
    [InlineData("\\renewcommand*{\\postnotedelim}{\\addcolon\\space}\\DeclareFieldFormat{postnote}{#1}", "\\parencite[x]{b}", "(Low 2001: x)")]
    [InlineData("\\DeclareDelimFormat{finalnamedelim}{\\addspace\\&\\space}", "\\parencite{a}", "(Rook & Ashby 1987)")]
    public void A_preamble_changes_the_signs_of_citations(string preamble, string body, string expected) =>
        Assert.StartsWith(expected, Print(preamble, body, "authoryear"), StringComparison.Ordinal);

    [Fact]
    public void Fields_are_cleared_in_the_other_styles_too() =>
        Assert.DoesNotContain("doi.org", Print("\\AtEveryBibitem{\\clearfield{doi}}", style: "apa"), StringComparison.Ordinal);
}
