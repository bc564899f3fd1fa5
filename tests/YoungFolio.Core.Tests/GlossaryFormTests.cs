namespace YoungFolio.Core.Tests;

/// <summary>Forms of entries of glossaries (the documentation of glossaries, from memory).</summary>
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
}
