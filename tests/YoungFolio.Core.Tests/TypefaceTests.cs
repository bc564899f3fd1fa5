using YoungFolio.Compiler;
using YoungFolio.Documents;
using YoungFolio.Typesetting.Fonts;

namespace YoungFolio.Core.Tests;

/// <summary>Families of type: which fonts end up in the PDF, as poppler lists them.</summary>
public class TypefaceTests
{
    private const string Sample = "Text \\textsf{sans} \\texttt{mono} $x+1$";

    [Theory]
    [InlineData("lmodern", "latinmodern-math lmmono10-regular lmroman10-regular lmsans10-regular")]
    [InlineData("times", "texgyrecursor-regular texgyreheros-regular texgyretermes-math texgyretermes-regular")]
    [InlineData("bookman", "texgyreadventor-regular texgyrebonum-math texgyrebonum-regular texgyrecursor-regular")]
    [InlineData("newcent", "texgyreadventor-regular texgyrecursor-regular texgyreschola-math texgyreschola-regular")]
    [InlineData("avant", "latinmodern-math lmmono10-regular lmroman10-regular texgyreadventor-regular")]
    [InlineData("chancery", "lmmono10-regular lmsans10-regular texgyrechorus-mediumitalic texgyrepagella-math")]
    public void A_package_chooses_its_families(string package, string fonts) =>
        Assert.Equal(fonts.Split(' '), Fonts(Article($"\\usepackage{{{package}}}", Sample)));

    // Families that don't ship: which is nearest is a judgement of the project's own.
    [Theory]
    [InlineData("texgyretermes", "txfonts newtx libertine libertinus")]
    [InlineData("texgyrepagella", "pxfonts newpx kpfonts ebgaramond garamondx crimson cochineal gentium")]
    [InlineData("texgyreschola", "fourier utopia mathdesign")]
    [InlineData("texgyrebonum", "charter XCharter")]
    [InlineData("lmsans10", "cmbright")]
    [InlineData("lmroman10", "concmath eulervm euler")]
    [InlineData("texgyreheros", "classico biolinum berasans sourcesanspro opensans roboto carlito")]
    [InlineData("lmmono10", "beramono inconsolata zi4 sourcecodepro")]
    public void A_family_that_does_not_ship_is_the_nearest(string family, string packages) =>
        Assert.All(packages.Split(' '), p => Assert.Contains(Fonts(Article($"\\usepackage{{{p}}}", Sample)), f => f.StartsWith(family, StringComparison.Ordinal)));

    [Fact]
    public void The_names_of_defaults_choose_families_too()
    {
        Assert.Equal(["lmsans10-regular"], Fonts(Article("\\renewcommand{\\familydefault}{\\sfdefault}", "All sans.")));
        Assert.Equal(["texgyrepagella-regular"], Fonts(Article("\\renewcommand{\\rmdefault}{ppl}", "All Pagella.")));
        // \normalfont goes back to what the document is set in.
        Assert.Equal(["lmsans10-bold", "lmsans10-regular"], Fonts(Article("\\renewcommand{\\familydefault}{\\sfdefault}", "\\textbf{A} \\textbf{\\normalfont B}")));
    }

    [Fact]
    public void Families_change_within_the_text_and_end_with_their_group() =>
        Assert.Equal(["lmroman10-regular", "texgyrebonum-bolditalic"],
            Fonts(Article("", "{\\fontfamily{pbk}\\fontseries{b}\\fontshape{it}\\selectfont One} two {\\usefont{T1}{pbk}{b}{it}three}")));

    [Fact]
    public void A_name_chooses_the_family_of_the_same_widths()
    {
        Assert.Equal(["texgyrecursor-regular", "texgyreheros-regular", "texgyretermes-math", "texgyretermes-regular"], Fonts(Article(
            "\\usepackage{fontspec}\\setmainfont{Times New Roman}[Ligatures=TeX]\\setsansfont{Arial}\\setmonofont[Scale=0.9]{Courier New}", Sample)));
        Assert.Equal(["lmroman10-regular", "texgyrepagella-regular"], Fonts(Article("\\usepackage{fontspec}\\newfontfamily\\other{Palatino}", "One {\\other two}")));
    }

    [Fact]
    public void An_unknown_family_is_a_finding_and_the_text_stays()
    {
        CompileResult result = Compiled.Files(("main.tex", "\\documentclass{article}\\usepackage{fontspec}\\setmainfont{Wibble Sans}\\begin{document}Words\\end{document}"));
        Assert.Equal("unknown-typeface", Assert.Single(result.Report.Findings).Code);
        Assert.Contains("Wibble Sans", result.Report.Findings[0].Message, StringComparison.Ordinal);
        Assert.Contains("Words", Compiled.Text(result), StringComparison.Ordinal);
    }

    [Fact]
    public void Old_style_figures_come_from_the_font_and_copy_as_figures()
    {
        var fonts = new FontLibrary();
        FontFile pagella = fonts.Find(new TypefaceSet("pagella", "heros", "cursor", "pagella"), new TextStyle(FontFamily.Roman, false, FontShape.Upright, 10));
        var shaper = new Shaper();
        Assert.NotEqual(shaper.Shape(pagella, "3").Glyphs, shaper.Shape(pagella, "3", ShapingFeatures.OldFigures).Glyphs);
        // A 3 with a descender reaches below the line.
        Assert.True(pagella.Box(shaper.Shape(pagella, "3", ShapingFeatures.OldFigures).Glyphs[0]).Bottom < -0.15);
        Assert.Contains("1931", Compiled.Text(Article("\\usepackage[osf]{mathpazo}", "1931")), StringComparison.Ordinal);
    }

    private static CompileResult Article(string preamble, string body) =>
        Compiled.Files(("main.tex", $"\\documentclass{{article}}{preamble}\\pagestyle{{empty}}\\begin{{document}}{body}\\end{{document}}"));

    private static string[] Fonts(CompileResult result)
    {
        Assert.Empty(result.Report.Findings);
        return [.. Compiled.Run("pdffonts", result.Pdf, "FILE").Split('\n').Skip(2).Where(l => l.Length > 0)
            .Select(l => l.Split(' ')[0].Split('+')[^1]).Order(StringComparer.Ordinal)];
    }
}
