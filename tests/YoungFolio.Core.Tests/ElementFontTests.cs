using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Type and spaces of elements in the classes with sans serif headings, by their names (the classes' published manual, from memory).</summary>
public sealed class ElementFontTests
{
    private const double Bp = 72 / 72.27;

    private static CompileResult Set(string preamble, string body = "\\tableofcontents\\chapter{One}\\section{Two}Words.\\begin{figure}[h]x\\caption{Wall}\\end{figure}")
    {
        CompileResult result = Compiled.Files(("main.tex", $"\\documentclass{{scrreprt}}{preamble}\\begin{{document}}{body}\\end{{document}}"));
        Assert.Equal([], result.Report.Findings.Select(f => f.Message));
        return result;
    }

    private static string Fonts(string preamble) => Compiled.Run("pdffonts", Set(preamble).Pdf, "FILE");

    [Theory]
    [InlineData("", "lmsans", true)]
    [InlineData("\\setkomafont{disposition}{\\rmfamily\\bfseries}", "lmsans", false)]
    [InlineData("\\setkomafont{disposition}{\\scshape}", "-bold", false)]
    [InlineData("\\addtokomafont{disposition}{\\rmfamily}", "lmsans", false)]
    [InlineData("\\setkomafont{section}{\\normalfont\\itshape\\Large}", "-italic", true)]
    [InlineData("\\addtokomafont{section}{\\ttfamily}", "lmmono", true)]
    [InlineData("\\setkomafont{captionlabel}{\\ttfamily}", "lmmono", true)]
    [InlineData("\\addtokomafont{caption}{\\ttfamily}", "lmmono", true)]
    [InlineData("\\setkomafont{chapterentry}{\\ttfamily}", "lmmono", true)]
    [InlineData("\\newkomafont{mine}{\\ttfamily}\\AtBeginDocument{{\\usekomafont{mine}x}}", "lmmono", true)]
    public void An_element_has_the_type_that_its_name_is_given(string preamble, string font, bool isThere) =>
        Assert.Equal(isThere, Fonts(preamble).Contains(font, StringComparison.Ordinal));

    [Fact]
    public void Spaces_indents_and_entries_of_headings_are_set_by_keys()
    {
        static double Top(string preamble, string word) => PdfWords.Of(Set(preamble)).First(w => w.Page == 2 && w.Text == word).Top;
        Assert.Equal(Top("\\RedeclareSectionCommand[beforeskip=20pt]{chapter}", "One") + (40 * Bp), Top("\\RedeclareSectionCommand[beforeskip=60pt]{chapter}", "One"), 0.1);
        Assert.Equal(Top("\\RedeclareSectionCommand[afterskip=10pt]{section}", "Words.") + (20 * Bp), Top("\\RedeclareSectionCommand[afterskip=30pt]{section}", "Words."), 0.1);
        PdfWord[] runIn = [.. PdfWords.Of(Set("\\RedeclareSectionCommand[afterskip=-1em]{section}")).Where(w => w.Page == 2 && w.Text is "Two" or "Words.")];
        Assert.True(Math.Abs(runIn[^1].Bottom - runIn[^2].Bottom) < 3);
        foreach (string setting in (string[])["\\RedeclareSectionCommand[tocindent=3em,tocnumwidth=5em]{section}", "\\DeclareTOCStyleEntry[indent=3em,numwidth=5em]{tocline}{section}"])
        {
            List<PdfWord> words = PdfWords.Of(Set(setting));
            PdfWord entry = words.First(w => w.Text == "Two");
            PdfWord number = words.First(w => w.Text == "1.1");
            Assert.Equal(30 * Bp, number.Left - words.First(w => w.Text == "Contents").Left, 0.8);
            Assert.Equal(50 * Bp, entry.Left - number.Left, 0.8);
        }
    }
}
