using YoungFolio.Bibliography;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests.Bibliography;

/// <summary>Styles that cite a source whole at first and shortly afterwards, and styles that others stand in for.</summary>
public class VerboseStyleTests
{
    private const string Pool = """
        @book{walls, author={Marrable, Ilse}, title={Walls of the Valley}, publisher={Hollin Press}, location={Marrow}, year={1991}}
        @article{lichen, author={Vane, Perpetua}, title={Lichen and time}, journaltitle={J. Stones}, volume={3}, pages={1--9}, date={2001}}
        """;

    private static CompileResult Compile(string preamble, string body) => Compiled.Files(
        ("main.tex", $"\\documentclass{{article}}\n{preamble}\n\\pagestyle{{empty}}\\begin{{document}}\n{body}\n\\end{{document}}"), ("pool.bib", Pool));

    // biblatex' documentation of the styles verbose and verbose-ibid (from memory): the first citation is the whole entry; the same source again at once is "ibidem".
    [Fact]
    public void A_source_is_cited_whole_at_first_and_by_ibid_again_at_once()
    {
        CompileResult result = Compile("\\usepackage[style=verbose-ibid]{biblatex}\\addbibresource{pool.bib}",
            "A\\footcite[12]{walls}. B\\footcite[13]{walls}. C\\footcite{walls}. D\\footcite{lichen}. E\\footcite{walls}. F\\footcites{walls}{lichen} G\\footcite{lichen}.\n\n\\printbibliography");
        Assert.Empty(result.Report.Findings);
        string text = Compiled.Text(result, "-layout");
        Assert.Contains("1 Ilse Marrable. Walls of the Valley. Marrow: Hollin Press, 1991, p. 12.", text, StringComparison.Ordinal);
        Assert.Contains("2 Ibid., p. 13.", text, StringComparison.Ordinal);
        Assert.Contains("3 Ibid. 4 Perpetua Vane. “Lichen and time”.", text, StringComparison.Ordinal);
        Assert.Contains("5 Marrable, Walls of the Valley.", text, StringComparison.Ordinal);
        Assert.Contains("7 Vane, “Lichen and time”.", text, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("verbose", "A\\footcite{walls} B\\footcite{walls}", "2 Marrable, Walls of the Valley.")]
    [InlineData("verbose-ibid", "A\\footcite{walls} \\citereset B\\footcite{walls}", "2 Ilse Marrable. Walls of the Valley. Marrow: Hollin Press, 1991.")]
    [InlineData("verbose-ibid", "A\\footcite{walls} \\mancite B\\footcite{walls}", "2 Marrable, Walls of the Valley.")]
    [InlineData("authoryear-ibid", "\\parencite{walls} and \\parencite[5]{walls} and \\cite{lichen} and \\parencite{walls}", "(Marrable 1991) and (ibid., p. 5) and Vane 2001 and (Marrable 1991)")]
    [InlineData("authoryear", "\\parencite{walls} and \\parencite[5]{walls}", "(Marrable 1991) and (Marrable 1991, p. 5)")]
    public void What_comes_again_depends_on_the_style(string style, string body, string printed) =>
        Assert.Contains(printed, Compiled.Text(Compile($"\\usepackage[style={style}]{{biblatex}}\\addbibresource{{pool.bib}}", body), "-layout"), StringComparison.Ordinal);

    [Theory]
    [InlineData("", "IEEEtran", "ieeetr")]
    [InlineData("\\usepackage{natbib}", "elsarticle-harv", "plainnat")]
    [InlineData("", "apsrev4-2", "unsrt")]
    [InlineData("", "splncs04", "plain")]
    public void A_style_that_does_not_ship_prints_as_the_one_that_is_most_like_it(string preamble, string wanted, string ours)
    {
        CompileResult result = Compile(preamble, $"\\nocite{{*}}A \\cite{{lichen}}.\\bibliographystyle{{{wanted}}}\\bibliography{{pool}}");
        FindingLine said = Assert.Single(result.Report.Findings);
        Assert.Equal(("style-stands-in", "check"), (said.Code, said.Kind));
        Assert.Contains(ours, said.Message, StringComparison.Ordinal);
        Assert.Equal(Compiled.Text(Compile(preamble, $"\\nocite{{*}}A \\cite{{lichen}}.\\bibliographystyle{{{ours}}}\\bibliography{{pool}}")), Compiled.Text(result));
    }

    [Theory]
    [InlineData("phys", "numeric")]
    [InlineData("apa7", "apa")]
    [InlineData("verbose-trad1", "verbose")]
    [InlineData("ext-authoryear-comp", "authoryear")]
    [InlineData("chicago", "chicago-authordate")]
    public void Styles_of_biblatex_have_their_nearest_too(string wanted, string ours)
    {
        Assert.Equal(ours, BibliographyStyle.FindNearestModern(wanted)?.Name);
        Assert.Equal("style-stands-in", Assert.Single(Compile($"\\usepackage[style={wanted}]{{biblatex}}", "x").Report.Findings).Code);
    }

    [Fact]
    public void The_table_of_nearest_styles_names_styles_that_are_there_and_each_once()
    {
        string[] rows = [.. File.ReadAllLines(Path.Combine(SourceTree.Root, "src/YoungFolio.Bibliography/Styles/nearest-styles.txt")).Where(l => !l.StartsWith('#'))];
        Assert.All(rows, r => Assert.NotNull(r.StartsWith("modern", StringComparison.Ordinal) ? BibliographyStyle.FindModern(r.Split(' ')[1]) : BibliographyStyle.FindClassic(r.Split(' ')[1])));
        foreach (IGrouping<string, string> kind in rows.GroupBy(r => r.Split(' ')[0]))
        {
            Assert.Empty(kind.SelectMany(r => r.Split(' ')[2..]).GroupBy(n => n).Where(g => g.Count() > 1).Select(g => g.Key));
        }
    }

    [Fact]
    public void A_list_by_hand_needs_no_style() =>
        Assert.Empty(Compile("", "\\cite{a}\\bibliographystyle{odd}\\begin{thebibliography}{9}\\bibitem{a} Abel.\\end{thebibliography}").Report.Findings);

    [Fact]
    public void A_preamble_may_write_its_sources_after_it_names_them()
    {
        CompileResult result = Compile("\\usepackage{biblatex}\\addbibresource{own.bib}\n\\begin{filecontents}{own.bib}\n@book{own, author={Holm, Ann}, title={Own}, publisher={P}, location={L}, year={2020}}\n\\end{filecontents}", "\\cite{own}\\printbibliography");
        Assert.Empty(result.Report.Findings);
        Assert.Contains("Ann Holm. Own. L: P, 2020", Compiled.Text(result), StringComparison.Ordinal);
    }
}
