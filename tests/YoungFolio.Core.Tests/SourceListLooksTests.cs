using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>
/// How lists of sources are set. The classes make them a list of the first level, with \itemsep and \parsep between two sources (“Standard
/// Document Classes for LaTeX version 2e”, from memory: 4, 4.5 and 5 pt each); natbib's \bibsep is both of them, its \bibhang 1 em; biblatex
/// has \bibitemsep and \bibparsep, and its \bibhang is the paragraph's indent (their documentations, from memory).
/// </summary>
public sealed class SourceListLooksTests
{
    private const double Point = 72 / 72.27;

    private const string Records = """
        @misc{a, author = {Ann Ash}, title = {Moss}, year = 1999}
        @misc{b, author = {Bo Beck}, title = {Fern}, year = 2001}
        @misc{c, author = {Cy Croft}, title = {Lime that is long enough to be divided over the lines of a page as wide as those of an article are, with more words than one line holds and then some}, year = 2003}
        """;

    private static CompileResult Set(string size, string preamble, string list) => Compiled.Files(
        ("main.tex", $"\\documentclass[{size},a4paper]{{article}}\n{preamble}\n\\begin{{document}}\nWalls.\\nocite{{*}}\n{list}\n\\end{{document}}\n"), ("own.bib", Records));

    private static PdfWord Word(CompileResult result, string begin) => PdfWords.Of(result).First(w => w.Text.StartsWith(begin, StringComparison.Ordinal));

    /// <summary>From the first source's baseline to the second one's, in points.</summary>
    private static double Step(CompileResult result) => (Word(result, "Beck").Bottom - Word(result, "Ash").Bottom) / Point;

    private const string ByHand = "\\begin{thebibliography}{9}\\bibitem{a} Ash, Moss.\\bibitem{b} Beck, Fern.\\end{thebibliography}";
    private const string Plain = "\\bibliographystyle{plain}\\bibliography{own}";

    [Theory]
    [InlineData("10pt", ByHand, 12 + 8)]
    [InlineData("11pt", ByHand, 13.6 + 9)]
    [InlineData("12pt", ByHand, 14.5 + 10)]
    [InlineData("10pt", Plain, 12 + 8)]
    [InlineData("12pt", Plain, 14.5 + 10)]
    public void Between_two_sources_lies_what_lies_between_items_and_between_paragraphs(string size, string list, double step) =>
        Assert.Equal(step, Step(Set(size, "", list)), 0.1);

    [Fact]
    public void The_spaces_of_a_list_by_hand_are_changed_within_it()
    {
        string narrow = ByHand.Replace("{9}", "{9}\\setlength{\\itemsep}{1pt}", StringComparison.Ordinal);
        Assert.Equal(12 + 5, Step(Set("10pt", "", narrow)), 0.1);
        // The next list is as before.
        string other = narrow.Replace("Ash", "Rook", StringComparison.Ordinal).Replace("Beck", "Sable", StringComparison.Ordinal).Replace("{a}", "{d}", StringComparison.Ordinal).Replace("{b}", "{e}", StringComparison.Ordinal);
        Assert.Equal(12 + 8, Step(Set("10pt", "", other + ByHand)), 0.1);
    }

    [Fact]
    public void Above_the_first_source_stands_the_headings_space_alone()
    {
        CompileResult list = Set("10pt", "", ByHand);
        CompileResult text = Set("10pt", "", "\\section*{References} Ash");
        Assert.Equal(Word(text, "Ash").Bottom - Word(text, "References").Bottom, Word(list, "Ash").Bottom - Word(list, "References").Bottom, 0.1);
    }

    [Theory]
    [InlineData("", 12 + 8)]
    [InlineData("\\setlength{\\bibsep}{0pt}", 12)]
    [InlineData("\\setlength{\\bibsep}{3pt plus 1pt}", 12 + 3)]
    public void The_length_of_natbib_is_all_that_lies_between(string preamble, double step)
    {
        Assert.Equal(step, Step(Set("10pt", "\\usepackage{natbib}" + preamble, "\\bibliographystyle{plainnat}\\bibliography{own}")), 0.1);
        Assert.Equal(step, Step(Set("10pt", "\\usepackage{natbib}" + preamble, ByHand.Replace("\\bibitem{", "\\bibitem[Of(1999)]{", StringComparison.Ordinal))), 0.1);
    }

    [Theory]
    [InlineData("", 12 + 8)]
    [InlineData("\\setlength{\\bibitemsep}{0pt}", 12 + 4)]
    [InlineData("\\setlength{\\bibitemsep}{1pt}\\setlength{\\bibparsep}{0pt}", 12 + 1)]
    public void The_lengths_of_biblatex_are_its_own(string preamble, double step) =>
        Assert.Equal(step, Step(Set("10pt", "\\usepackage[style=authoryear]{biblatex}\\addbibresource{own.bib}" + preamble, "\\printbibliography")), 0.1);

    [Theory]
    [InlineData("\\usepackage{natbib}", "\\bibliographystyle{plainnat}\\bibliography{own}", 10)]
    [InlineData("\\usepackage{natbib}\\setlength{\\bibhang}{25pt}", "\\bibliographystyle{plainnat}\\bibliography{own}", 25)]
    [InlineData("\\usepackage[style=authoryear]{biblatex}\\addbibresource{own.bib}", "\\printbibliography", 15)]
    public void Without_labels_the_lines_after_the_first_are_moved_in(string preamble, string list, double hang)
    {
        List<PdfWord> words = PdfWords.Of(Set("10pt", preamble, list));
        PdfWord first = words.First(w => w.Text.TrimEnd(',') is "Cy" or "Croft");
        double below = words.Where(w => w.Top > first.Top + 5 && w.Top < first.Top + 15).Min(w => w.Left);
        Assert.Equal(hang, (below - first.Left) / Point, 0.2);
    }

    [Fact]
    public void Names_as_labels_in_a_list_by_hand_let_the_lines_hang_too()
    {
        const string list = "\\begin{thebibliography}{9}\\bibitem[Croft(2003)]{c} Croft, a name with words that go on and on until the line is full, and then some more on the next one.\\end{thebibliography}";
        List<PdfWord> words = PdfWords.Of(Set("10pt", "\\usepackage{natbib}", list));
        PdfWord first = words.First(w => w.Text == "Croft,");
        double below = words.Where(w => w.Top > first.Top + 5 && w.Top < first.Top + 15).Min(w => w.Left);
        Assert.Equal(10, (below - first.Left) / Point, 0.2);
    }

    [Theory]
    [InlineData("\\usepackage{natbib}\\renewcommand{\\bibfont}{\\small}", "\\bibliographystyle{plainnat}\\bibliography{own}")]
    [InlineData("\\usepackage[style=authoryear]{biblatex}\\addbibresource{own.bib}\\renewcommand{\\bibfont}{\\small}", "\\printbibliography")]
    [InlineData("\\usepackage[style=authoryear]{biblatex}\\addbibresource{own.bib}\\AtBeginBibliography{\\small}", "\\printbibliography")]
    public void The_list_has_the_type_that_it_is_given(string preamble, string list)
    {
        CompileResult result = Set("10pt", preamble, list + " After");
        List<PdfWord> words = PdfWords.Of(result);
        PdfWord first = words.First(w => w.Text.TrimEnd(',') is "Cy" or "Croft");
        double below = words.Where(w => w.Top > first.Top + 5 && w.Top < first.Top + 15).Min(w => w.Bottom);
        // The leading of \small at 10 pt.
        Assert.Equal(11, (below - first.Bottom) / Point, 0.1);
        Assert.Equal(Word(result, "Walls").Bottom - Word(result, "Walls").Top, Word(result, "After").Bottom - Word(result, "After").Top, 0.1);
    }

    [Fact]
    public void The_heading_of_natbibs_list_is_what_the_manuscript_says()
    {
        const string preamble = "\\usepackage{natbib}\\renewcommand{\\bibsection}{\\subsection*{Read \\emph{first}}}";
        string words = PdfWords.Joined(Set("10pt", preamble, "\\bibliographystyle{plainnat}\\bibliography{own}"));
        Assert.Contains("Read first", words, StringComparison.Ordinal);
        Assert.DoesNotContain("References", words, StringComparison.Ordinal);
        Assert.Contains("Of note", PdfWords.Joined(Set("10pt", "\\usepackage{natbib}\\renewcommand{\\bibpreamble}{Of note.}", "\\bibliographystyle{plainnat}\\bibliography{own}")), StringComparison.Ordinal);
    }

    /// <summary>Of two orders of stretch the higher one counts alone (The TeXbook, p. 118).</summary>
    [Theory]
    [InlineData("\\skip1=1pt plus 1fil\\relax\\advance\\skip1 by 2pt plus 5pt\\relax", "3.0pt plus 1.0fil")]
    [InlineData("\\skip1=1pt plus 5pt\\relax\\advance\\skip1 by 2pt plus 2fill\\relax", "3.0pt plus 2.0fill")]
    [InlineData("\\skip1=1pt plus 5pt minus 2pt\\relax\\advance\\skip1 by 2pt minus 1fil\\relax", "3.0pt plus 5.0pt minus 1.0fil")]
    [InlineData("\\skip1=1pt plus 1fil\\relax\\advance\\skip1 by 2pt plus 2fil\\relax", "3.0pt plus 3.0fil")]
    [InlineData("\\skip1=1pt plus 1fil\\relax\\advance\\skip1 by 0pt plus -1fil\\relax", "1.0pt")]
    [InlineData("\\skip1=\\glueexpr 1pt plus 1fil - 3pt plus 5pt\\relax", "-2.0pt plus 1.0fil")]
    [InlineData("\\skip1=1pt plus 2fil minus 3pt\\relax\\multiply\\skip1 by 2\\relax", "2.0pt plus 4.0fil minus 6.0pt")]
    public void Glue_is_added_by_its_orders(string sets, string sum) => Assert.Contains(sum + "!", PdfWords.Joined(Compiled.Body(sets + "\\the\\skip1!")), StringComparison.Ordinal);
}
