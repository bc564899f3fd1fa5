using YoungFolio.Bibliography;

namespace YoungFolio.Core.Tests.Bibliography;

/// <summary>
/// Styles of biblatex: the standard ones by its documentation, and those that follow the manuals of APA (seventh edition), IEEE, Nature, Chicago
/// (author-date) and MLA (ninth edition); all from memory.
/// </summary>
public sealed class ModernStyleTests
{
    private const string Article = "@article{a, author={Rook, Edith M. and Ashby, Kell}, title={The Ledgers}, journaltitle={Lichen}, volume=12, number=3, pages={44-71}, date={1987-03}, doi={10.1000/x}}";
    private const string Book = "@book{a, author={Ashby, Kell and Tarn, Ann and Wyke, Li}, title={Growth of Walls}, publisher={Press}, location={Oxford}, date={2011}, edition={2}}";
    private const string Part = "@incollection{a, author={Low, Ann}, title={On Shade}, booktitle={Stone Papers}, editor={Tarn, Ann and Bell, Bo}, pages={1-10}, publisher={Press}, date={2019}}";
    private const string Thesis = "@phdthesis{a, author={Low, Ann}, title={On Shade}, institution={Hollin Edge}, date={2019}}";
    private const string Page = "@online{a, author={Low, Ann}, title={Walls Today}, url={https://hollin-edge.example/w}, date={2001-05-17}, urldate={2026-11-02}}";
    private const string House = "@manual{a, title={The Guide}, organization={The Firm}, date={1999}}";

    private static string Printed(string style, string bib, string language = "en") => MarkupText.Plain(Assert.Single(SourceList.Make(
        [.. new BibPool(BibReader.Read(bib).Entries).Entries], BibliographyStyle.FindModern(style)!, SourceWords.For(language)).Sources).Reference
        .Replace("\\newblock ", "", StringComparison.Ordinal).Replace("\\source@doi", "", StringComparison.Ordinal).Replace("\\source@url", "", StringComparison.Ordinal).Replace("\\textsc", "", StringComparison.Ordinal));

    [Theory]
    [InlineData("apa", Article, "Rook, E. M., & Ashby, K. (1987, March). The ledgers. Lichen, 12(3), 44–71. https://doi.org/10.1000/x")]
    [InlineData("apa", Book, "Ashby, K., Tarn, A., & Wyke, L. (2011). Growth of walls (2nd ed.). Press.")]
    [InlineData("apa", Part, "Low, A. (2019). On shade. In A. Tarn & B. Bell (Eds.), Stone Papers (pp. 1–10). Press.")]
    [InlineData("apa", Thesis, "Low, A. (2019). On shade [Doctoral dissertation, Hollin Edge].")]
    [InlineData("apa", Page, "Low, A. (2001, May 17). Walls today. Retrieved November 2, 2026, from https://hollin-edge.example/w")]
    [InlineData("apa", House, "The Firm (1999). The guide.")]
    [InlineData("apa", "@misc{a, title={The Walls}, date={2001}}", "The walls (2001).")]
    [InlineData("ieee", Article, "E. M. Rook and K. Ashby, “The ledgers,” Lichen, vol. 12, no. 3, pp. 44–71, Mar. 1987. doi: 10.1000/x.")]
    [InlineData("ieee", Book, "K. Ashby, A. Tarn, and L. Wyke, Growth of Walls, 2nd ed. Oxford: Press, 2011.")]
    [InlineData("ieee", Part, "A. Low, “On shade,” in Stone Papers, A. Tarn and B. Bell, Eds., Press, 2019, pp. 1–10.")]
    [InlineData("ieee", Thesis, "A. Low, “On shade,” Ph.D. dissertation, Hollin Edge, 2019.")]
    [InlineData("ieee", Page, "A. Low, Walls today, May 2001. [Online]. Available: https://hollin-edge.example/w (visited on 11/02/2026).")]
    [InlineData("ieee", House, "The Firm, The Guide. 1999.")]
    [InlineData("nature", Article, "Rook, E. M. & Ashby, K. The Ledgers. Lichen 12, 44–71 (1987). doi:10.1000/x.")]
    [InlineData("nature", Book, "Ashby, K., Tarn, A. & Wyke, L. Growth of Walls 2nd ed. (Press, Oxford, 2011).")]
    [InlineData("nature", Part, "Low, A. On Shade in Stone Papers (eds Tarn, A. & Bell, B.) (Press, 2019), 1–10.")]
    [InlineData("nature", Thesis, "Low, A. On Shade. PhD thesis (Hollin Edge, 2019).")]
    [InlineData("chicago-authordate", Article, "Rook, Edith M., and Kell Ashby. 1987. “The Ledgers.” Lichen 12 (3): 44–71. https://doi.org/10.1000/x.")]
    [InlineData("chicago-authordate", Book, "Ashby, Kell, Ann Tarn, and Li Wyke. 2011. Growth of Walls. 2nd ed. Oxford: Press.")]
    [InlineData("chicago-authordate", Part, "Low, Ann. 2019. “On Shade.” In Stone Papers, edited by Ann Tarn and Bo Bell, 1–10. Press.")]
    [InlineData("chicago-authordate", Thesis, "Low, Ann. 2019. “On Shade.” PhD diss., Hollin Edge.")]
    [InlineData("mla", Article, "Rook, Edith M., and Kell Ashby. “The Ledgers.” Lichen, vol. 12, no. 3, March 1987, pp. 44–71, https://doi.org/10.1000/x.")]
    [InlineData("mla", Book, "Ashby, Kell, et al. Growth of Walls. 2nd ed., Press, 2011.")]
    [InlineData("mla", Part, "Low, Ann. “On Shade.” Stone Papers, edited by Ann Tarn and Bo Bell, Press, 2019, pp. 1–10.")]
    [InlineData("mla", Page, "Low, Ann. “Walls Today.” 17 May 2001, https://hollin-edge.example/w. Accessed November 2, 2026.")]
    [InlineData("numeric", Article, "Edith M. Rook and Kell Ashby. “The Ledgers”. In: Lichen 12.3 (Mar. 1987), pp. 44–71. doi: 10.1000/x.")]
    [InlineData("numeric", Page, "Ann Low. Walls Today. May 17, 2001. url: https://hollin-edge.example/w (visited on 11/02/2026).")]
    [InlineData("numeric", "@report{a, author={Low, Ann}, title={On Shade}, type={techreport}, institution={Inst}, number=4, date={2001-09-03}}", "Ann Low. On Shade. Technical Report 4. Inst, Sept. 3, 2001.")]
    public void A_style_prints_by_its_manual(string style, string bib, string expected) => Assert.Equal(expected, Printed(style, bib));

    [Theory]
    [InlineData("en", "May 17, 2001", "11/02/2026")]
    [InlineData("en-gb", "17th May 2001", "02/11/2026")]
    [InlineData("de", "17. Mai 2001", "02.11.2026")]
    [InlineData("fr", "17 mai 2001", "02/11/2026")]
    public void Dates_stand_as_the_language_has_them(string language, string date, string visited)
    {
        string printed = Printed("numeric", Page, language);
        Assert.Contains(date, printed, StringComparison.Ordinal);
        Assert.EndsWith($"{visited}).", printed, StringComparison.Ordinal);
    }

    [Fact]
    public void Long_lists_of_names_are_cut_as_each_style_and_options_say()
    {
        string bib = $"@book{{a, title={{T}}, date={{2001}}, author={{{string.Join(" and ", Enumerable.Range(0, 25).Select(i => $"F{(char)('a' + i)}, G"))}}}}}";
        Assert.StartsWith("Fa, G., Fb, G.,", Printed("apa", bib), StringComparison.Ordinal);
        Assert.Contains("Fs, G., et al. (2001)", Printed("apa", bib), StringComparison.Ordinal);
        Assert.StartsWith("G. Fa et al., T.", Printed("ieee", bib), StringComparison.Ordinal);
        Assert.StartsWith("Fa, G. et al. T", Printed("nature", bib), StringComparison.Ordinal);
        string all = MarkupText.Plain(SourceList.Make(BibReader.Read(bib).Entries, BibliographyStyle.FindModern("ieee")! with { MaxNames = 99 }, SourceWords.For("en")).Sources[0].Reference);
        Assert.Contains("G. Fx, and G. Fy, T", all, StringComparison.Ordinal);
    }

    private static string Cited(string style, string body) => string.Join(' ', Compiled.Text(Compiled.Files(
        ("main.tex", $"\\documentclass{{article}}\\usepackage[style={style}]{{biblatex}}\\addbibresource{{p.bib}}\\pagestyle{{empty}}\\begin{{document}}\\noindent Q: {body} :Q\\nocite{{*}}\n\n\\printbibliography\\end{{document}}"),
        ("p.bib", """
            @book{a, author={Rook, Edith and Ashby, Kell}, title={One}, date={2001}}
            @article{b, author={Low, Ann}, title={Two}, journaltitle={J}, date={2002}}
            @article{c, author={Low, Ann}, title={Three}, journaltitle={J}, date={2002}}
            @book{d, author={Ng, Bo}, title={Four}, date={2004}}
            """))).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)).Split("Q: ")[1].Split(" :Q")[0];

    [Theory]
    [InlineData("apa", "\\parencite[12]{a} \\textcite{a} \\parencite{b,c}", "(Rook & Ashby, 2001, p. 12) Rook and Ashby (2001) (Low, 2002b, 2002a)")]
    [InlineData("ieee", "\\cite{a,b} \\cite{a,b,c} \\textcite{d}", "[1], [2] [1]–[3] Ng [4]")]
    [InlineData("nature", "Walls\\cite{a,b,c} \\textcite{d}", "Walls1–3 Ng4")]
    [InlineData("chicago-authordate", "\\parencite[12]{a} \\textcite{d}", "(Rook and Ashby 2001, 12) Ng (2004)")]
    [InlineData("mla", "\\parencite[12]{a} \\textcite{d} \\textcite[7]{d} \\parencite{b}", "(Rook and Ashby 12) Ng Ng (7) (Low, “Two”)")]
    public void Citations_are_those_of_the_style(string style, string body, string expected) => Assert.Equal(expected, Cited(style, body));
}
