using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>
/// The macro language. Facts are those of Knuth, The TeXbook (chapters 7, 20, 24), and Lamport, LaTeX (appendix C), in
/// examples of our own; each test looks at the printed text.
/// </summary>
public class LanguageTests
{
    [Theory]
    [InlineData("\\def\\pair#1#2{(#1,#2)}\\pair a{bc}", "(a,bc)")]
    [InlineData("\\def\\upto#1.{<<#1>>}\\upto abc. d", "«abc» d")]
    [InlineData("\\newcommand{\\greet}[2][Dear]{#1 #2}\\greet{Ilse}, \\greet[Hello]{Bao}", "Dear Ilse, Hello Bao")]
    [InlineData("\\def\\a{x}{\\def\\a{y}\\a}\\a", "yx")]
    [InlineData("\\def\\a{x}{\\gdef\\a{y}}\\a", "y")]
    [InlineData("\\def\\a{x}\\let\\b=\\a\\def\\a{z}\\b\\a", "xz")]
    [InlineData("\\def\\a{x}\\edef\\b{\\a\\noexpand\\a}\\def\\a{z}\\b", "xz")]
    [InlineData("\\expandafter\\def\\csname odd name\\endcsname{yes}\\csname odd name\\endcsname", "yes")]
    [InlineData("\\ifnum 3<4 less\\else more\\fi", "less")]
    [InlineData("\\ifcase 2 nought\\or one\\or two\\else many\\fi", "two")]
    [InlineData("\\newif\\ifdraft\\drafttrue\\ifdraft draft\\else final\\fi", "draft")]
    [InlineData("\\newcounter{wall}\\setcounter{wall}{4}\\stepcounter{wall}\\arabic{wall}, \\roman{wall}, \\Alph{wall}", "5, v, E")]
    [InlineData("\\newlength{\\gap}\\setlength{\\gap}{2cm}\\addtolength{\\gap}{1in}\\ifdim\\gap>4.5cm wide\\else narrow\\fi", "wide")]
    [InlineData("\\count7=6 \\advance\\count7 by 5 \\multiply\\count7 by 2 \\the\\count7", "22")]
    [InlineData("{\\catcode`\\!=13 \\gdef!{bang}}a! \\catcode`\\!=13 b!", "a! bbang")]
    [InlineData("\\newenvironment{loud}[1]{[#1: }{]}\\begin{loud}{hey}text\\end{loud}", "[hey: text]")]
    [InlineData("\\uppercase{walls} \\romannumeral 1987", "WALLS mcmlxxxvii")]
    [InlineData("\\makeatletter\\def\\try{\\@ifnextchar[{\\opt}{none}}\\def\\opt[#1]{some #1}\\try[x] \\try y", "some x noney")]
    [InlineData("a% the rest is a comment\nb", "ab")]
    [InlineData("caf\\'e na\\\"{\\i}ve \\OE uvre \\ss{} \\v{s}", "café naïve Œuvre ß š")]
    public void Markup_means_what_the_books_say(string markup, string printed)
    {
        CompileResult result = Compiled.Body(markup);
        Assert.Empty(Compiled.Codes(result));
        Assert.Equal(printed + " 1", Compiled.Text(result));
    }

    [Fact]
    public void A_glyph_from_a_macro_leads_back_to_its_call()
    {
        CompileResult result = Compiled.Files(("main.tex",
            "\\documentclass{article}\n\\newcommand{\\species}{Rhizocarpon}\n\\begin{document}\nHere is\n\\species.\n\\end{document}\n"));
        PageSpot spot = Assert.IsType<PageSpot>(result.Map.FindSpot("main.tex", 5, 1));
        var place = result.Map.FindSource(spot.Sheet, spot.X + 8, spot.Y + 4);
        Assert.Equal(("main.tex", 5, 1), (place!.Value.File, place.Value.Line, place.Value.Column));
    }
}
