namespace YoungFolio.Core.Tests;

/// <summary>Pieces of strings (examples of xstring's documentation, from memory).</summary>
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
}
