using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>
/// Citations and lists of sources on the page. What the standard styles, natbib and biblatex print is known from their documentation (from memory).
/// </summary>
public class CitationTests
{
    private const string Pool = """
        @article{rook, author={Rook, Edith M.}, title={Ledgers of the {Marrow} Estates}, journal={Lichen}, year=1987, volume=12, number=3, pages={44--71}, keywords={old}}
        @article{rookb, author={Rook, Edith M.}, title={More Ledgers}, journal={Lichen}, year=1987}
        @book{ashby, author={Ashby, Kell and Tarn, Ann and Wyke, Li}, title={Growth}, publisher={Press}, year=2011}
        @inproceedings{sable, author={van Sable, Jo and Wyke, Li}, title={Shade}, booktitle={Proc}, year=2019}
        """;

    private static CompileResult Compile(string preamble, string body) => Compiled.Files(
        ("main.tex", $"\\documentclass{{article}}\\pagestyle{{empty}}{preamble}\\begin{{document}}\n{body}\n\\end{{document}}"), ("pool.bib", Pool));

    private static string Print(string preamble, string body)
    {
        CompileResult result = Compile(preamble, body);
        Assert.DoesNotContain(result.Report.Findings, f => f.Kind == "fix" || f.Code.StartsWith("unknown", StringComparison.Ordinal));
        return string.Join(' ', Compiled.Text(result).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)).Replace("- ", "", StringComparison.Ordinal);
    }

    private static string Natbib(string options, string citation, string style = "plainnat") =>
        Print($"\\usepackage[{options}]{{natbib}}", $"Q: {citation} :Q \\nocite{{rook,rookb}}\\bibliographystyle{{{style}}}\\bibliography{{pool}}").Split("Q: ")[1].Split(" :Q")[0];

    // natbib's documentation, table 1, with our sources.
    [Theory]
    [InlineData("", "\\citet{ashby}", "Ashby et al. (2011)")]
    [InlineData("", "\\citet[chap.~2]{ashby}", "Ashby et al. (2011, chap. 2)")]
    [InlineData("", "\\citep{ashby}", "(Ashby et al., 2011)")]
    [InlineData("", "\\citep[chap.~2]{ashby}", "(Ashby et al., 2011, chap. 2)")]
    [InlineData("", "\\citep[see][]{ashby}", "(see Ashby et al., 2011)")]
    [InlineData("", "\\citep[see][chap.~2]{ashby}", "(see Ashby et al., 2011, chap. 2)")]
    [InlineData("", "\\citet*{ashby}", "Ashby, Tarn, and Wyke (2011)")]
    [InlineData("", "\\citep*{ashby}", "(Ashby, Tarn, and Wyke, 2011)")]
    [InlineData("", "\\citet{ashby,sable}", "Ashby et al. (2011); van Sable and Wyke (2019)")]
    [InlineData("", "\\citep{ashby,sable}", "(Ashby et al., 2011; van Sable and Wyke, 2019)")]
    [InlineData("", "\\citep{rook,rookb}", "(Rook, 1987a, 1987b)")]
    [InlineData("", "\\citet{rook,rookb}", "Rook (1987a, 1987b)")]
    [InlineData("", "\\citealt{ashby} \\citealp{ashby}", "Ashby et al. 2011 Ashby et al., 2011")]
    [InlineData("", "\\citeauthor{ashby} \\citeyear{ashby} \\citeyearpar{ashby}", "Ashby et al. 2011 (2011)")]
    [InlineData("", "\\Citet{sable}", "Van Sable and Wyke (2019)")]
    [InlineData("", "\\cite{ashby}", "Ashby et al. (2011)")]
    [InlineData("square,comma", "\\citep{ashby,sable}", "[Ashby et al., 2011, van Sable and Wyke, 2019]")]
    [InlineData("numbers", "\\citet{ashby}", "Ashby et al. [1]")]
    [InlineData("numbers", "\\citep[see][p.~3]{ashby,rook}", "[see 1, 2, p. 3]")]
    [InlineData("numbers", "\\cite{sable,rookb,rook,ashby}", "[4, 3, 2, 1]")]
    [InlineData("numbers,sort", "\\citep{sable,rookb,ashby}", "[1, 3, 4]")]
    [InlineData("numbers,sort", "\\citep[see][p.~3]{sable,ashby}", "[see 1, 4, p. 3]")]
    [InlineData("numbers,sort&compress", "\\citep{sable,rookb,rook,ashby}", "[1–4]")]
    [InlineData("numbers,round", "\\citep{ashby}", "(1)")]
    [InlineData("super", "word\\citep{ashby,rook}", "word1,2")]
    public void Natbib_prints_its_table(string options, string citation, string expected) => Assert.Equal(expected, Natbib(options, citation));

    private static string Biblatex(string options, string citation) =>
        Print($"\\usepackage[{options}]{{biblatex}}\\addbibresource{{pool.bib}}", $"\\noindent Q: {citation} :Q \\nocite{{*}}\\printbibliography").Split("Q: ")[1].Split(" :Q")[0];

    [Theory]
    [InlineData("style=numeric", "\\cite{ashby} \\parencite[12]{ashby} \\textcite{ashby}", "[1] [1, p. 12] Ashby, Tarn, and Wyke [1]")]
    [InlineData("style=numeric", "\\cite{sable,ashby}", "[4, 1]")]
    [InlineData("style=numeric-comp", "\\cite{sable,rookb,rook,ashby}", "[1–4]")]
    [InlineData("style=alphabetic", "\\cite{ashby} \\cite{rook}", "[ATW11] [Roo87a]")]
    [InlineData("style=authoryear", "\\cite{rook} \\parencite[see][12--15]{rook} \\textcite{sable}", "Rook 1987a (see Rook 1987a, pp. 12–15) van Sable and Wyke (2019)")]
    [InlineData("style=authoryear", "\\parencite{rook,rookb}", "(Rook 1987a; Rook 1987b)")]
    [InlineData("style=authoryear-comp", "\\parencite{rook,rookb}", "(Rook 1987a, 1987b)")]
    [InlineData("style=authoryear", "\\textcite{rook,sable,ashby}", "Rook (1987a), van Sable and Wyke (2019) and Ashby, Tarn, and Wyke (2011)")]
    [InlineData("style=authoryear,maxnames=2", "\\autocite{ashby}", "(Ashby et al. 2011)")]
    [InlineData("style=authortitle", "\\cite{rook} \\parencite{ashby}", "Rook, “Ledgers of the Marrow Estates” (Ashby, Tarn, and Wyke, Growth)")]
    [InlineData("style=authoryear", "\\parencites(see)()[2]{rook}[more]{sable}", "(see Rook 1987a, p. 2; van Sable and Wyke 2019, more)")]
    [InlineData("style=authoryear", "\\citeauthor{rook} \\citeyear{rook} \\citetitle{ashby}", "Rook 1987a Growth")]
    [InlineData("style=authoryear", "x\\footcites(see)()[2]{rook}{sable}\\cite{ashby}", "x1Ashby, Tarn, and Wyke 2011")]
    [InlineData("style=authoryear,natbib=true", "\\citep{rook}", "(Rook 1987a)")]
    public void Biblatex_prints_by_its_styles(string options, string citation, string expected) => Assert.Equal(expected, Biblatex(options, citation));

    [Theory]
    [InlineData("plain", "[1] Kell Ashby, Ann Tarn, and Li Wyke. Growth. Press, 2011. [2] Edith M. Rook. Ledgers of the Marrow estates. Lichen, 12(3):44–71, 1987. [3] Edith M. Rook. More ledgers. Lichen, 1987. [4] Jo van Sable and Li Wyke. Shade. In Proc, 2019.")]
    [InlineData("unsrt", "[1] Jo van Sable and Li Wyke. Shade. In Proc, 2019. [2] Edith M. Rook. Ledgers")]
    [InlineData("abbrv", "[1] K. Ashby, A. Tarn, and L. Wyke. Growth. Press, 2011. [2] E. M. Rook.")]
    [InlineData("alpha", "[ATW11] Kell Ashby, Ann Tarn, and Li Wyke. Growth. Press, 2011. [Roo87a] Edith M. Rook. Ledgers")]
    public void Standard_styles_print_their_lists(string style, string expected) =>
        Assert.Contains(expected, Print("", $"\\cite{{sable}}\\nocite{{*}}\\bibliographystyle{{{style}}}\\bibliography{{pool}}"), StringComparison.Ordinal);

    [Theory]
    [InlineData("style=authoryear", "Rook, Edith M. (1987a). “Ledgers of the Marrow Estates”. In: Lichen 12.3, pp. 44–71. — (1987b). “More Ledgers”. In: Lichen.")]
    [InlineData("style=authoryear,dashed=false,giveninits=true", "Rook, E. M. (1987b). “More Ledgers”.")]
    [InlineData("style=numeric,sorting=ydnt", "[1] Jo van Sable and Li Wyke. “Shade”. In: Proc. 2019. [2] Kell Ashby")]
    [InlineData("style=numeric,sorting=none", "[1] Edith M. Rook. “Ledgers of the Marrow Estates”. In: Lichen 12.3 (1987), pp. 44–71.")]
    public void Biblatex_prints_its_lists(string options, string expected) =>
        Assert.Contains(expected, Print($"\\usepackage[{options}]{{biblatex}}\\addbibresource{{pool.bib}}", "\\nocite{*}\\printbibliography"), StringComparison.Ordinal);

    [Fact]
    public void Lists_are_parted_by_type_keyword_and_section()
    {
        string text = Print("\\usepackage[style=numeric]{biblatex}\\addbibresource{pool.bib}",
            "\\nocite{*}\\printbibliography[type=article,notkeyword=old,title=Papers]\\printbibliography[keyword=old,title=Old,heading=bibnumbered]\\begin{refsection}Here \\cite{sable}.\\printbibliography[title=Mine]\\end{refsection}");
        Assert.Contains("Papers [3] Edith M. Rook. “More Ledgers”. In: Lichen (1987). 1 Old [2] Edith", text, StringComparison.Ordinal);
        Assert.Contains("Here [1]. Mine [1] Jo van Sable", text, StringComparison.Ordinal);
        string categories = Print("\\usepackage[style=numeric]{biblatex}\\addbibresource{pool.bib}\\DeclareBibliographyCategory{main}",
            "\\nocite{*}\\addtocategory{main}{ashby,sable}\\printbibliography[category=main,title=Main]\\printbibliography[notcategory=main,title=Others]");
        Assert.Matches("Main \\[1\\] Kell.*\\[4\\] Jo.*Others \\[2\\] Edith.*\\[3\\] Edith", categories);
    }

    [Fact]
    public void A_foot_citation_stands_in_a_note_and_a_list_by_hand_works_with_names()
    {
        Assert.Contains("1 Rook 1987a, p. 3.", Print("\\usepackage[style=authoryear]{biblatex}\\addbibresource{pool.bib}", "Text\\footcite[3]{rook}. \\nocite{*}"), StringComparison.Ordinal);
        string hand = Print("\\usepackage{natbib}", "See \\citet{a} and \\citep{b}.\\begin{thebibliography}{9}\\bibitem[Abel(2001)]{a} Ann Abel. \\bibitem[Bell et~al.(2002)Bell, Cole, and Dean]{b} Bo Bell.\\end{thebibliography}");
        Assert.Contains("See Abel (2001) and (Bell et al., 2002).", hand, StringComparison.Ordinal);
    }

    [Fact]
    public void The_language_gives_its_words() =>
        Assert.Contains("Kell Ashby, Ann Tarn und Li Wyke. Growth. Press, 2011.", Print("\\usepackage[ngerman]{babel}", "\\nocite{ashby}\\bibliographystyle{unsrt}\\bibliography{pool}"), StringComparison.Ordinal);

    [Theory]
    [InlineData("", "\\cite{rok}\\bibliographystyle{plain}\\bibliography{pool}", "missing-source", "Did you mean “rook”?")]
    [InlineData("", "\\cite{rook}\\bibliography{pool}", "bibliography-without-style", "plain")]
    [InlineData("", "\\cite{rook}\\bibliographystyle{odd}\\bibliography{pool}", "unknown-style", "unsrt")]
    [InlineData("\\usepackage{natbib}\\usepackage{biblatex}", "x", "two-citation-packages", "Keep one")]
    [InlineData("", "\\cite{rook}\\bibliographystyle{plain}\\bibliography{pool}", "uncited-sources", "\\nocite{*}")]
    [InlineData("", "\\cite{}\\bibliographystyle{plain}\\bibliography{pool}", "empty-citation", "Put a key")]
    [InlineData("\\usepackage[style=odd]{biblatex}", "x", "unknown-style", "authoryear")]
    public void What_is_wrong_with_citations_is_said_once(string preamble, string body, string code, string advice) =>
        Assert.Contains(advice, Assert.Single(Compile(preamble, body).Report.Findings, f => f.Code == code).Advice, StringComparison.Ordinal);

    [Fact]
    public void Citations_lead_to_their_entries_and_entries_to_their_file()
    {
        CompileResult result = Compile("\\usepackage{hyperref}", "See \\cite{ashby}.\n\n\\bibliographystyle{plain}\\bibliography{pool}");
        Assert.Equal(("ashby", "1", "Kell Ashby, Ann Tarn, and Li Wyke. Growth. Press, 2011."), Assert.Single(result.Report.Bibliography.Select(b => (b.Key, b.Label, b.Text))));
        Assert.Equal(("ashby", 2), Assert.Single(result.Report.Citations.Select(c => (c.Key, c.Line!.Value))));
        Assert.Contains("/Subtype /Link", Compiled.Run("qpdf", result.Pdf, "--qdf", "--object-streams=disable", "FILE", "-"), StringComparison.Ordinal);
    }

    // What search services and programs write, in one list.
    [Fact]
    public void A_wild_pool_prints_whole()
    {
        CompileResult result = Compiled.Files(
            ("main.tex", "\\documentclass{article}\\usepackage{natbib}\\pagestyle{empty}\\begin{document}\nA \\citep{s} B \\citet{th} C \\cite{body}.\\nocite{*}\\bibliographystyle{plainnat}\\bibliography{wild}\\end{document}"),
            ("wild.bib", """
                Written by a search service.
                @preamble{ "\newcommand{\noopsort}[1]{}" }
                @ARTICLE {s, author = "John Smith and {\'E}mile Zol{\`a} and others", title = {{The Whole Title in Braces}}, journal = "Journal of {W}alls \& Stones", month = jan # "/" # feb, year = {2004}, pages = "11–29"}
                @phdthesis{th, author={van der Berg, Jan}, title={Thesis}, school={Uni}, year={{\noopsort{2001}}2002}, type={Habilitation}}
                @misc{body, author={{World Body}}, title={Growth & loss, 100% sure}, howpublished={At \url{http://a.b/c_d%20e}}, year=2001}
                """));
        string text = string.Join(' ', Compiled.Text(result).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)).Replace("- ", "", StringComparison.Ordinal);
        Assert.StartsWith("A (Smith et al., 2004) B van der Berg (2002) C World Body (2001).", text, StringComparison.Ordinal);
        Assert.Contains("John Smith, Émile Zolà, et al. The Whole Title in Braces. Journal of Walls & Stones, pages 11–29, January/February 2004.", text, StringComparison.Ordinal);
        Assert.Contains("Jan van der Berg. Thesis. Habilitation, Uni, 2002.", text, StringComparison.Ordinal);
        Assert.Contains("World Body. Growth & loss, 100% sure. At http://a.b/c_d%20e, 2001.", text.Replace("http: //", "http://", StringComparison.Ordinal), StringComparison.Ordinal);
        Assert.Equal(["unescaped-source"], result.Report.Findings.Where(f => f.Kind != "layout").Select(f => f.Code));
    }

    [Fact]
    public void Labels_written_by_hand_show_in_citations() =>
        Assert.StartsWith("See [1, 2], [2, p. 2], [Lam94].", Print("", "See \\cite{a,b}, \\cite[p.~2]{b}, \\cite{lam}.\\begin{thebibliography}{[Lam94]}\\bibitem{a} First.\\bibitem[Lam94]{lam} Lamport.\\bibitem{b} B.\\end{thebibliography}"), StringComparison.Ordinal);

    [Fact]
    public void Citations_stand_in_headings_captions_and_notes()
    {
        string text = Print("\\usepackage{natbib,hyperref}", "\\tableofcontents\\section{On \\citet{rook}}Words\\footnote{See \\citep[p.~3]{ashby}.}\\begin{figure}[h]x\\caption{After \\citep{rookb}}\\end{figure}\\bibliographystyle{plainnat}\\bibliography{pool}");
        Assert.Equal(3, text.Split("On Rook (1987a)").Length);
        Assert.Contains("Figure 1: After (Rook, 1987b)", text, StringComparison.Ordinal);
        Assert.Contains("See (Ashby et al., 2011, p. 3).", text, StringComparison.Ordinal);
    }
}
