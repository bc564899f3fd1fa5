using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Pieces of strings (examples of xstring's documentation, from memory), the programming layer that isn't run, and names that give way.</summary>
public class StringPackageTests
{
    [Theory]
    [InlineData("\\IfSubStr{xstring}{tri}{true}{false}", "true")]
    [InlineData("\\IfSubStr[2]{12341234}{34}{true}{false}", "true")]
    [InlineData("\\IfSubStr[3]{12341234}{34}{true}{false}", "false")]
    [InlineData("\\IfSubStrBefore{xstring}{st}{in}{true}{false}", "true")]
    [InlineData("\\IfSubStrBehind{xstring}{ri}{xs}{true}{false}", "true")]
    [InlineData("\\IfBeginWith{xstring}{xst}{true}{false}", "true")]
    [InlineData("\\IfEndWith{stringing}{ng}{true}{false}", "true")]
    [InlineData("\\IfInteger{-16}{true}{false} \\IfInteger{3.1}{true}{false}", "true false")]
    [InlineData("\\IfDecimal{+12,7}{true}{false}", "true")]
    [InlineData("\\IfStrEq{12.0}{12}{true}{false} \\IfEq{12.0}{12}{true}{false}", "false true")]
    [InlineData("\\IfStrEqCase{b}{{a}{first}{b}{second}}[rest] \\IfStrEqCase{z}{{a}{first}}[rest]", "second rest")]
    [InlineData("\\StrBefore{xstring}{tri} \\StrBefore[2]{12341234}{34}", "xs 123412")]
    [InlineData("\\StrBehind{xstring}{tri}", "ng")]
    [InlineData("\\StrBetween{xAxBx}{A}{B}", "x")]
    [InlineData("\\StrSubstitute{xstring}{i}{a} \\StrSubstitute[1]{abab}{a}{c}", "xstrang cbab")]
    [InlineData("\\StrDel{abracadabra}{a}", "brcdbr")]
    [InlineData("\\StrLeft{xstring}{2} \\StrRight{xstring}{2} \\StrMid{xstring}{2}{4} \\StrChar{xstring}{4}", "xs ng str r")]
    [InlineData("\\StrGobbleLeft{xstring}{2} \\StrGobbleRight{xstring}{2}", "tring xstri")]
    [InlineData("\\StrLen{xstring} then \\StrCount{abracadabra}{a} then \\StrPosition{xstring}{ring} then \\StrCompare{abcd}{abx}", "7 then 5 then 4 then 3")]
    [InlineData("\\StrLeft{xstring}{2}[\\kept]Kept: \\kept.", "Kept: xs.")]
    [InlineData("\\StrCut{a-b-c}{-}{\\one}{\\two}\\one/\\two", "a/b-c")]
    [InlineData("\\newcommand{\\wall}{stone}\\StrLen{\\wall} \\StrLeft{ab}{99}|\\StrMid{ab}{2}{1}|", "5 ab||")]
    public void A_string_is_tested_and_taken_apart(string body, string printed) =>
        Assert.Equal(printed, Compiled.Text(Compiled.Clean(body, "\\usepackage{xstring}")));

    [Fact]
    public void The_programming_layer_is_said_once_and_no_words_are_lost()
    {
        CompileResult result = Compiled.Files(("main.tex", """
            \documentclass{article}\pagestyle{empty}
            \usepackage{expl3}
            \ExplSyntaxOn
            \cs_new:Npn \wall_twice:n #1 { #1 #1 }
            \NewDocumentCommand{\twice}{ s O{x} m }{ \wall_twice:n {#3} }
            \NewDocumentCommand \both { m m } { \tl_set:Nn \l_tmpa_tl {#1} }
            \NewDocumentEnvironment{walled}{ +b }{ #1 }{ }
            \ExplSyntaxOff
            \ExplSyntaxOn \int_new:N \l_wall_int \ExplSyntaxOff
            \begin{document}\twice*[y]{One} \both{two}{three} \begin{walled}four\end{walled}\end{document}
            """));
        Assert.Equal("programming-layer", Assert.Single(result.Report.Findings).Code);
        Assert.Equal("One twothree four", Compiled.Text(result));
    }

    [Theory]
    [InlineData("report", 0)]
    [InlineData("article", 0)]
    [InlineData("book", 1)]
    [InlineData("scrbook", 1)]
    public void Names_that_a_class_does_not_have_give_way_to_ones_own(string name, int findings) =>
        Assert.Equal(findings, Compiled.Codes(Compiled.Files(("main.tex", $"\\documentclass{{{name}}}\\newcommand\\frontmatter{{own words}}\\begin{{document}}\\frontmatter\\end{{document}}"))).Length);

    // ISO 216: each size is half of the one before it.
    [Theory]
    [InlineData("a0paper", 841, 1189)]
    [InlineData("a3paper", 297, 420)]
    [InlineData("b4paper", 250, 353)]
    public void Papers_have_their_published_sizes(string paper, int width, int height)
    {
        string info = Compiled.Run("pdfinfo", Compiled.Files(("main.tex", $"\\documentclass{{article}}\\usepackage[{paper}]{{geometry}}\\begin{{document}}x\\end{{document}}")).Pdf, "FILE");
        double[] size = [.. System.Text.RegularExpressions.Regex.Match(info, @"Page size: +([\d.]+) x ([\d.]+)").Groups.Values.Skip(1).Select(g => double.Parse(g.Value, System.Globalization.CultureInfo.InvariantCulture) * 25.4 / 72)];
        Assert.Equal(width, size[0], 0.2);
        Assert.Equal(height, size[1], 0.2);
    }

    [Fact]
    public void A_poster_is_a_large_sheet_with_blocks()
    {
        CompileResult result = Compiled.Files(("main.tex", "\\documentclass{tikzposter}\\title{Walls}\\author{Ann}\\institute{Hollin}\\usetheme{Autumn}\\begin{document}\\maketitle\\begin{columns}\\column{0.5}\\block{Left}{First words}\\column{0.5}\\block{Right}{Second words}\\note{Remark}\\end{columns}\\end{document}"));
        Assert.Equal("class-stands-in", Assert.Single(result.Report.Findings).Code);
        List<PdfWord> words = PdfWords.Of(result);
        Assert.Equal(1, result.Report.Pages);
        Assert.All((string[])["Walls", "Ann", "Hollin", "Left", "First", "Right", "Second", "Remark"], w => Assert.Contains(words, x => x.Text == w));
        // Two columns side by side on a sheet of 841 by 1189 mm.
        Assert.True(words.First(w => w.Text == "Second").Left > words.First(w => w.Text == "First").Left + 1000);
        Assert.Equal(words.First(w => w.Text == "Left").Top, words.First(w => w.Text == "Right").Top, 1.0);
    }
}
