namespace YoungFolio.Core.Tests;

/// <summary>Numbers of lines in the margin (the documentation of lineno, from memory).</summary>
public sealed class LineNumberTests
{
    private const string Prose = "The wall runs north from the ford and keeps its height for most of a mile, where slate gives way to flag and the courses lie flat. ";

    private static List<PdfWord> Numbers(string body, string options = "") => [.. PdfWords.Of(Compiled.Clean(body, $"\\usepackage{options}{{lineno}}")).Where(w => w.Bottom - w.Top < 8 && int.TryParse(w.Text, out _))];

    [Fact]
    public void Lines_are_numbered_in_the_margin_where_it_is_on()
    {
        List<PdfWord> numbers = Numbers($"Before.\n\n\\linenumbers {Prose}{Prose}\n\n\\section{{Courses}}\n\nMore.\n\n\\nolinenumbers After.\n\n\\linenumbers Again.");
        Assert.Equal(Enumerable.Range(1, numbers.Count), numbers.Select(n => int.Parse(n.Text, System.Globalization.CultureInfo.InvariantCulture)));
        Assert.InRange(numbers.Count, 7, 8);
        List<PdfWord> words = PdfWords.Of(Compiled.Clean("Before.\n\n\\linenumbers Line.", "\\usepackage{lineno}"));
        PdfWord number = words.First(w => w.Text == "1");
        Assert.Equal(words.One("Line.").Bottom, number.Bottom, 3.0);
        // \linenumbersep is 10 pt, from the text's left edge (15 pt left of an indented line).
        Assert.Equal(words.One("Line.").Left - (25 * 72 / 72.27), number.Right, 0.3);
    }

    [Theory]
    [InlineData("[modulo]", "\\linenumbers ", "5 10")]
    [InlineData("", "\\modulolinenumbers[4]\\linenumbers ", "4 8 12")]
    [InlineData("", "\\linenumbers[7]\\modulolinenumbers[6]", "12 18")]
    [InlineData("", "\\linenumbers\\modulolinenumbers[100] x\\resetlinenumber[99] ", "100")]
    public void Numbers_come_in_steps_and_from_where_they_are_told(string options, string begin, string printed) =>
        Assert.Equal(printed, string.Join(' ', Numbers(begin + string.Concat(Enumerable.Repeat(Prose, 7)), options).Select(n => n.Text)));

    [Fact]
    public void Numbers_may_stand_at_the_right_and_end_with_their_environment()
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Clean("\\begin{linenumbers}\\rightlinenumbers In.\n\n\\end{linenumbers}Out.\\linelabel{x}\\pageref{x}\\begin{linenomath}\\[y\\]\\end{linenomath}", "\\usepackage{lineno}"));
        PdfWord number = words.First(w => w.Text == "1");
        Assert.Equal(words.One("In.").Left - (15 * 72 / 72.27) + ((345 + 10) * 72 / 72.27), number.Left, 0.3);
        Assert.Single(words, w => w.Bottom - w.Top < 8 && int.TryParse(w.Text, out _));
    }

    [Fact]
    public void What_floats_and_what_stands_in_boxes_has_no_numbers()
    {
        List<PdfWord> numbers = Numbers("\\linenumbers One.\\footnote{A note of its own.}\\begin{figure}[h]In it.\\caption{Wall}\\end{figure}\n\nTwo \\parbox{2cm}{\\raggedright in a box of more than one line}.");
        Assert.Equal(["1", "2"], numbers.Where(n => n.Right < 134).Select(n => n.Text));
    }
}
