using YoungFolio.Compiler;
using YoungFolio.HandIn;

namespace YoungFolio.Core.Tests.HandIn;

/// <summary>Words for pictures, as they stand in the markup.</summary>
public class PictureWordsTests
{
    [Theory]
    [InlineData("\\includegraphics{a}", "\\includegraphics[alt={A wall}]{a}")]
    [InlineData("\\includegraphics*{a}", "\\includegraphics*[alt={A wall}]{a}")]
    [InlineData("\\includegraphics[]{a}", "\\includegraphics[alt={A wall}]{a}")]
    [InlineData("\\includegraphics[width=1in]{a}", "\\includegraphics[width=1in,alt={A wall}]{a}")]
    [InlineData("\\includegraphics[alt={old, {very} old},width=1in]{a}", "\\includegraphics[alt={A wall},width=1in]{a}")]
    [InlineData("\\includegraphics[width=1in, alt = old]{a}", "\\includegraphics[width=1in, alt={A wall}]{a}")]
    [InlineData("\\includegraphics[artifact]{a}", "\\includegraphics[alt={A wall}]{a}")]
    [InlineData("\\includegraphics[width={0.5\\linewidth}]{a}", "\\includegraphics[width={0.5\\linewidth},alt={A wall}]{a}")]
    public void Words_come_in(string before, string after) => Assert.Equal(after, Write(before, " A \n wall "));

    [Theory]
    [InlineData("\\includegraphics{a}", "\\includegraphics[artifact]{a}")]
    [InlineData("\\includegraphics[alt={old},width=1in]{a}", "\\includegraphics[artifact,width=1in]{a}")]
    public void A_picture_that_means_nothing_says_so(string before, string after) => Assert.Equal(after, Write(before, " "));

    [Theory]
    [InlineData("50 % of {it} & more_\\")]
    [InlineData("]{,=")]
    public void Any_words_leave_the_markup_whole(string words)
    {
        string typed = Write("\\includegraphics[width=1in]{a}", words);
        Assert.True(PictureWords.AreThere(typed, 0));
        CompileResult result = Compiled.Bytes(("main.tex", System.Text.Encoding.UTF8.GetBytes($"\\documentclass{{article}}\\usepackage{{graphicx}}\\begin{{document}}{typed} End\\end{{document}}")), ("a.png", GreyPng.Of(9, 9)));
        Assert.Empty(Compiled.Codes(result));
        Assert.Equal("End 1", Compiled.Text(result));
    }

    [Theory]
    [InlineData("words", 0)]
    [InlineData("\\includegraphics{a}", 12)]
    [InlineData("\\includegraphics{a}", 99)]
    [InlineData("\\includegraphics{a}", -1)]
    public void Where_no_picture_stands_nothing_is_written(string text, int offset) => Assert.Null(PictureWords.Write(text, offset, "x"));

    private static string Write(string text, string words)
    {
        (int from, int to, string with) = PictureWords.Write(text, 0, words)!.Value;
        return text[..from] + with + text[to..];
    }
}
