using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Forms of entries of glossaries, and citations of one's own (the documentation of glossaries and biblatex, from memory).</summary>
public sealed class GlossaryFormTests
{
    private const string Entries = "\\usepackage{glossaries}\\makeglossaries\\newacronym{gis}{GIS}{geographic information system}"
        + "\\newglossaryentry{lichen}{name=lichen,plural=lichens,symbol={L},first={lichen (a slow thing)},firstplural={lichens (slow things)},description={slow}}";

    [Theory]
    [InlineData("\\gls{gis}, \\gls{gis}", "geographic information system (GIS), GIS")]
    [InlineData("\\setacronymstyle{short-long}\\gls{gis}, \\gls{gis}", "GIS (geographic information system), GIS")]
    [InlineData("\\gls{lichen}, \\gls{lichen}, \\glspl{lichen}", "lichen (a slow thing), lichen, lichens")]
    [InlineData("\\glspl{lichen}, \\glsplural{lichen}, \\Glsplural{lichen}", "lichens (slow things), lichens, Lichens")]
    [InlineData("\\glsfirst{lichen}, \\Glsfirst{lichen}, \\Glstext{lichen}, \\glssymbol{lichen}", "lichen (a slow thing), Lichen (a slow thing), Lichen, L")]
    [InlineData("\\Acrshort{gis} \\Acrfull{gis} \\acrfullpl{gis} \\Acrlongpl{gis}", "GIS Geographic information system (GIS) geographic information systems (GISs) Geographic information systems")]
    [InlineData("\\glsentryplural{lichen} \\glsentrysymbol{lichen} \\glsentryfirst{lichen} \\glsentryshortpl{gis} \\glsentrylongpl{gis} \\Glsentrytext{lichen}", "lichens L lichen (a slow thing) GISs geographic information systems Lichen")]
    [InlineData("\\ifglsused{gis}{yes}{no} \\gls{gis} \\ifglsused{gis}{yes}{no} \\ifglsentryexists{none}{yes}{no}", "no geographic information system (GIS) yes no")]
    [InlineData("\\glsdisp{gis}{such systems} \\gls{gis}", "such systems GIS")]
    public void An_entry_is_printed_in_its_form(string body, string printed) => Assert.Equal(printed, Compiled.Text(Compiled.Clean(body, Entries)));

    [Theory]
    [InlineData("\\glsadd{lichen}")]
    [InlineData("\\glslink{lichen}{x}")]
    [InlineData("\\glssymbol{lichen}")]
    public void What_is_used_in_any_way_is_listed(string use) =>
        Assert.Contains("lichen slow", Compiled.Text(Compiled.Clean(use + "\\printglossary", Entries)), StringComparison.Ordinal);

    [Fact]
    public void Words_stand_before_and_behind_the_entries()
    {
        string text = Compiled.Text(Compiled.Clean("\\gls{lichen}\\setglossarypreamble{Before them.}\\renewcommand{\\glossarypostamble}{Behind them.}\\printglossary", Entries));
        Assert.True(text.IndexOf("Before", StringComparison.Ordinal) < text.IndexOf("slow", text.IndexOf("Glossary", StringComparison.Ordinal), StringComparison.Ordinal));
        Assert.EndsWith("Behind them.", text, StringComparison.Ordinal);
    }

    // ---- citations of one's own -------------------------------------------------------------------------------

    private static string Cited(string declaration, string body) => Compiled.Text(Compiled.Files(
        ("main.tex", $"\\documentclass{{article}}\\usepackage[style=authoryear]{{biblatex}}\\addbibresource{{a.bib}}{declaration}\\begin{{document}}\\pagestyle{{empty}}{body}\\end{{document}}"),
        ("a.bib", "@book{ash, author={Ann Ash}, title={Walls}, year={2001}, publisher={Edge}}")));

    [Theory]
    [InlineData("\\DeclareCiteCommand{\\mine}{}{\\printfield{year}}{}{}", "2001")]
    [InlineData("\\DeclareCiteCommand{\\mine}{}{\\mkbibparens{\\printfield{year}}}{\\multicitedelim}{\\usebibmacro{postnote}}", "(2001)")]
    [InlineData("\\DeclareCiteCommand{\\mine}[\\mkbibbrackets]{}{\\printnames{labelname}\\printfield{year}}{}{}", "[Ash 2001]")]
    [InlineData("\\DeclareCiteCommand{\\mine}{}{\\printnames{labelname}}{}{}", "Ash")]
    [InlineData("\\DeclareCiteCommand*{\\mine}{}{\\printfield[citetitle]{title}}{}{}", "Walls")]
    [InlineData("\\DeclareCiteCommand{\\cite}{}{\\printfield{year}}{}{}\\let\\mine\\cite", "Ash 2001")]
    public void A_citation_of_ones_own_prints_what_its_loop_names(string declaration, string printed) => Assert.Equal($"See {printed}.", Cited(declaration, "See \\mine{ash}."));

    [Fact]
    public void It_takes_notes_and_may_stand_in_a_footnote()
    {
        Assert.Equal("See (Ash 2001, p. 12).", Cited("\\DeclareCiteCommand{\\mine}[\\mkbibparens]{}{\\usebibmacro{cite}}{}{\\usebibmacro{postnote}}", "See \\mine[12]{ash}."));
        Assert.Equal("See.1 1. Ash 2001.", Cited("\\DeclareCiteCommand{\\mine}[\\mkbibfootnote]{}{\\usebibmacro{cite}}{}{}", "See.\\mine{ash}").Replace("1Ash", "1. Ash", StringComparison.Ordinal).Replace("1 Ash", "1. Ash", StringComparison.Ordinal));
    }

    [Theory]
    [InlineData("\\volcite{2}[5]{ash}", "Ash 2001, vol. 2, 5")]
    [InlineData("\\pvolcite{2}{ash}", "(Ash 2001, vol. 2)")]
    public void Volumes_are_cited(string body, string printed) => Assert.Equal(printed, Cited("", body));

    // ---- matrices with dots and blocks ------------------------------------------------------------------------

    [Theory]
    [InlineData("$\\begin{pNiceMatrix}1 & \\Cdots\\\\ \\Vdots & 4\\end{pNiceMatrix}$", "1⋯⋮4")]
    [InlineData("$\\begin{bNiceArray}{c|c}[first-row]1 & 2\\end{bNiceArray}$", "12")]
    [InlineData("\\begin{NiceTabular}{lr}[hvlines]\\Block{1-2}{Both} & \\\\\\Hline a & b\\end{NiceTabular}", "Bothab")]
    public void Nicematrix_sets_its_matrices_and_tables(string body, string printed)
    {
        string text = Compiled.Text(Compiled.Clean(body, "\\usepackage{nicematrix}"));
        Assert.Equal(string.Concat(printed.Order()), string.Concat(text.Where(c => char.IsLetterOrDigit(c) || c is '⋯' or '⋮').Order()));
    }

    [Theory]
    [InlineData("\\newenvironment{mine}{\\begin{pmatrix}}{\\end{pmatrix}}", "$\\begin{mine}1 & 2\\end{mine}$ and $x$")]
    [InlineData("\\newenvironment{mine}[1]{\\left(\\begin{array}{#1}}{\\end{array}\\right)}", "$\\begin{mine}{cc}1 & 2\\end{mine}$ and $x$")]
    [InlineData("\\NewDocumentEnvironment{mine}{+b}{\\begin{vmatrix}#1\\end{vmatrix}}{}", "\\[\\begin{mine}1 & 2\\end{mine}\\] and $x$")]
    public void An_environment_of_ones_own_may_stand_in_a_formula(string definition, string body)
    {
        string text = Compiled.Text(Compiled.Clean(body, "\\usepackage{amsmath}" + definition));
        Assert.Equal("12adnx", string.Concat(text.Where(char.IsLetterOrDigit).Order()));
    }
}
