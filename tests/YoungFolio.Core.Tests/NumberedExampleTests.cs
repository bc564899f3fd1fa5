using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Examples of linguists that an empty line ends (linguex' documentation, from memory), and pictures that templates show.</summary>
public class NumberedExampleTests
{
    private const string Preamble = "\\usepackage{linguex}";

    [Fact]
    public void An_empty_line_ends_an_example_and_each_has_its_number()
    {
        CompileResult result = Compiled.Clean("Before.\n\n\\ex. Walls stand.\\label{w}\n\n\\ex. *Stand walls.\n\nAfter \\ref{w}, \\Last, \\Next, \\LLast.", Preamble);
        Assert.Equal("Before. (1) Walls stand. (2) *Stand walls. After 1, (2), (3), (1).", Compiled.Text(result));
        List<PdfWord> words = PdfWords.Of(result);
        Assert.True(words.Single(w => w.Text == "Walls").Left > words.Single(w => w.Text == "After").Left);
    }

    [Fact]
    public void Parts_have_letters_and_stand_under_one_another()
    {
        CompileResult result = Compiled.Clean("\\ex. Kinds:\n\\a. dry\n\\b. wet\n\\z. both\n\n\\ex.\\a. first\n\\b. second\n\nAfter", Preamble);
        Assert.Equal("(1) Kinds: a. dry b. wet both (2) a. first b. second After", Compiled.Text(result));
        List<PdfWord> words = PdfWords.Of(result);
        Assert.Equal(words.Single(w => w.Text == "dry").Left, words.Single(w => w.Text == "wet").Left, 0.1);
    }

    [Fact]
    public void A_gloss_stands_word_under_word()
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Clean("\\exg. Der Stein liegt\\\\ the stone lies\\\\ `The stone lies.'\n\nAfter", Preamble));
        Assert.Equal(words.Single(w => w.Text == "Stein").Left, words.First(w => w.Text == "stone").Left, 0.5);
        Assert.Contains(words, w => w.Text == "(1)");
    }

    private static double WidthOf(CompileResult result)
    {
        List<PdfWord> words = PdfWords.Of(result);
        return (words.Single(w => w.Text == "B").Left - words.Single(w => w.Text == "A").Right) * 72.27 / 72;
    }

    [Theory]
    [InlineData("example-image", 320, 240)]
    [InlineData("example-image-c", 320, 240)]
    [InlineData("example-image-16x9", 320, 180)]
    public void Pictures_that_templates_show_are_there(string name, int width, int height) =>
        Assert.Equal(60.0 * width / height, WidthOf(Compiled.Clean($"A\\includegraphics[height=60pt]{{{name}}}B", "\\usepackage{graphicx}")), 1.0);

    [Fact]
    public void A_picture_of_the_manuscript_comes_before_ours()
    {
        const string Own = "<svg xmlns='http://www.w3.org/2000/svg' width='200' height='50'><path d='M1 1L8 8'/></svg>";
        CompileResult result = Compiled.Files(("main.tex", "\\documentclass{article}\\usepackage{graphicx}\\pagestyle{empty}\\begin{document}A\\includegraphics[height=20pt]{example-image}B\\end{document}"), ("example-image.svg", Own));
        Assert.Equal(80, WidthOf(result), 1.0);
    }
}
