namespace YoungFolio.Core.Tests;

/// <summary>Citations of one's own and volumes (the documentation of biblatex, from memory).</summary>
public sealed class OwnCitationTests
{
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
}
