using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Text in frames (the packages framed, mdframed and tcolorbox, by their manuals): what prints, where the frame stands, and that nothing runs off a page.</summary>
public sealed class FramedTextTests
{
    [Theory]
    [InlineData("framed", "\\begin{framed}Within.\\end{framed}", "Within.")]
    [InlineData("framed", "\\begin{oframed}Within.\\end{oframed}", "Within.")]
    [InlineData("framed", "\\begin{shaded}Within.\\end{shaded}", "Within.")]
    [InlineData("framed", "\\begin{snugshade*}Within.\\end{snugshade*}", "Within.")]
    [InlineData("framed", "\\begin{leftbar}Within.\\end{leftbar}", "Within.")]
    [InlineData("mdframed", "\\begin{mdframed}[frametitle={A title},linecolor=black]Within.\\end{mdframed}", "A title Within.")]
    [InlineData("mdframed", "\\newmdenv[frametitle=Note]{note}\\begin{note}Within.\\end{note}", "Note Within.")]
    [InlineData("mdframed", "\\newtheorem{law}{Law}\\surroundwithmdframed[linewidth=2pt]{law}\\begin{law}Within.\\end{law}", "Law 1. Within.")]
    [InlineData("tcolorbox", "\\tcbuselibrary{breakable}\\begin{tcolorbox}[title=Hint,colback=blue!5]Within.\\end{tcolorbox}", "Hint Within.")]
    [InlineData("tcolorbox", "\\newtcolorbox{hint}[1][Usual]{title=#1}\\begin{hint}A\\end{hint}\\begin{hint}[Own]B\\end{hint}", "Usual A Own B")]
    [InlineData("tcolorbox", "\\newtcolorbox{rule*}[2]{title={#1: #2}}\\begin{rule*}{One}{two}Within.\\end{rule*}", "One: two Within.")]
    [InlineData("tcolorbox", "\\NewTColorBox{own}{O{Std} m}{title={#1 #2}}\\begin{own}{x}Within.\\end{own}", "Std x Within.")]
    [InlineData("tcolorbox", "\\tcbset{title=Always}\\begin{tcolorbox}Within.\\end{tcolorbox}\\tcbox{few}", "Always Within. few")]
    public void What_is_in_a_frame_prints_with_its_title(string package, string body, string words)
    {
        CompileResult result = Compiled.Clean($"Before.\n\n{body}\n\nAfter.", $"\\usepackage{{{package}}}");
        Assert.Equal($"Before. {words} After.", PdfWords.Joined(result));
        List<PdfWord> all = PdfWords.Of(result);
        Assert.True(all.One("Before.").Top < all[1].Top && all[^1].Top > all[^2].Top);
    }

    [Fact]
    public void A_frame_is_as_wide_as_the_lines_and_its_text_is_narrower()
    {
        CompileResult result = Compiled.Clean($"{string.Concat(Enumerable.Repeat("Words of a whole line ", 8))}\n\n\\begin{{framed}}\\sloppy {string.Concat(Enumerable.Repeat("framed ", 40))}\\end{{framed}}", "\\usepackage{framed}");
        List<PdfWord> words = PdfWords.Of(result);
        List<PdfWord> framed = [.. words.Where(w => w.Text == "framed")];
        double left = words.Where(w => w.Text != "framed").Min(w => w.Left);
        // Nine points and the line, on either side.
        Assert.Equal(left + (9.4 * 72 / 72.27), framed.Min(w => w.Left), 0.4);
        Assert.Equal(words.Max(w => w.Right) - (9.4 * 72 / 72.27), framed.Max(w => w.Right), 0.6);
        Assert.Contains(PdfWords.Rules(result), r => Math.Abs(r.X - left) < 0.5 && r.Width > 300);
    }

    [Fact]
    public void Text_that_is_too_long_for_a_frame_goes_on_from_page_to_page()
    {
        string body = string.Join("\n\n", Enumerable.Range(1, 80).Select(n => $"Paragraph{n} of a text in a frame that is far too long for one page."));
        CompileResult result = Compiled.Clean($"\\begin{{tcolorbox}}[title=Long]{body}\\end{{tcolorbox}}", "\\usepackage{tcolorbox}");
        Assert.True(result.Report.Pages > 1);
        string words = PdfWords.Joined(result);
        Assert.All(Enumerable.Range(1, 80), n => Assert.Contains($"Paragraph{n} ", words, StringComparison.Ordinal));
    }

    [Fact]
    public void A_bar_is_as_high_as_the_text_beside_it()
    {
        CompileResult result = Compiled.Clean("\\begin{leftbar}One.\\par Two.\\par Three.\\end{leftbar}", "\\usepackage{framed}");
        List<PdfWord> words = PdfWords.Of(result);
        PdfRule bar = Assert.Single(PdfWords.Rules(result), r => r.Width is > 2.5 and < 3.5);
        Assert.InRange(bar.Height, words[^1].Bottom - words[0].Top - 8, words[^1].Bottom - words[0].Top + 8);
        Assert.Equal(bar.X + bar.Width + (6 * 72 / 72.27), words[0].Left, 0.4);
    }
}
