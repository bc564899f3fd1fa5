using System.Globalization;
using System.Text.RegularExpressions;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>What stands where on the page, out of the PDF.</summary>
public partial class PageTests
{
    private const string Prose = "Thallus diameter is read against the age of a wall whose building date is known from the estate ledgers. "
        + "The ledgers name the waller, the length raised and the day the top stones went on, so that a wall is dated to the year and often to the month. ";

    [Fact]
    public void The_PDF_is_sound_and_its_fonts_are_embedded_subsets()
    {
        CompileResult result = Compiled.Body("\\section{Title}" + Prose + "$\\sum_{i=1}^n \\sqrt{x_i}$ \\textsf{sans} \\texttt{mono}");
        Assert.Contains("No syntax or stream encoding errors found", Compiled.Run("qpdf", result.Pdf, "--check", "FILE"));
        string[] fonts = [.. Compiled.Run("pdffonts", result.Pdf, "FILE").Split('\n').Skip(2).Where(l => l.Length > 0)];
        Assert.Equal(5, fonts.Length);
        Assert.All(fonts, f => Assert.Matches("CID Type 0C +Identity-H +yes yes yes", f));
    }

    [Theory]
    [InlineData("Ελληνικά γράμματα")]
    [InlineData("Русский текст")]
    [InlineData("\\textit{Иван} \\textbf{Петров}")]
    public void Greek_and_Cyrillic_words_come_from_a_fallback_font_and_can_be_copied(string words)
    {
        CompileResult result = Compiled.Body("Latin " + words + " again.");
        Assert.Empty(result.Report.Findings);
        string plain = System.Text.RegularExpressions.Regex.Replace(words, @"\\\w+|[{}]", "");
        Assert.Contains(plain, Compiled.Text(result).Normalize(System.Text.NormalizationForm.FormC));
        // The text's own face has neither.
        Assert.True(Compiled.Run("pdffonts", result.Pdf, "FILE").Contains("stixgeneral", StringComparison.Ordinal));
    }

    [Fact]
    public void The_same_manuscript_gives_the_same_bytes_cold_and_warm()
    {
        string source = "\\documentclass{report}\\begin{document}\\tableofcontents\\chapter{A}\\label{a}" + Prose + "\\pageref{a}\\end{document}";
        CompileResult warm = Compiled.Files(("main.tex", source));
        CompileResult again = Compiled.Files(("main.tex", source));
        var snapshot = new ManuscriptSnapshot(new Markup.FileTree([Markup.ManuscriptFile.FromText("main.tex", source)]), "main.tex", new DateOnly(2026, 11, 9));
        var cold = new ManuscriptCompiler();
        CompileResult first = cold.Compile(snapshot);
        Assert.Equal(warm.Pdf, again.Pdf);
        Assert.Equal(warm.Pdf, first.Pdf);
        Assert.Equal(warm.Pdf, cold.Compile(snapshot, first).Pdf);
    }

    [Fact]
    public void Justified_lines_end_at_the_right_edge_and_stand_one_leading_apart()
    {
        CompileResult result = Compiled.Body("\\noindent " + Prose + Prose + Prose);
        List<(double XMin, double YMin, double XMax)> lines = Lines(result);
        Assert.True(lines.Count >= 8);
        double right = lines.Take(lines.Count - 2).Select(l => l.XMax).Max();
        Assert.All(lines.Take(lines.Count - 2), l => Assert.InRange(l.XMax, right - 0.6, right + 0.01));
        // The class's measure at 10 pt: 345 points of 1/72.27 in.
        Assert.Equal(345 * 72 / 72.27, right - lines[0].XMin, 0.7);
        for (int i = 1; i < lines.Count - 2; i++)
        {
            Assert.Equal(12 * 72 / 72.27, lines[i].YMin - lines[i - 1].YMin, 0.02);
        }
    }

    [Fact]
    public void Words_copy_with_their_spaces_ligatures_and_hyphens()
    {
        string text = Compiled.Text(Compiled.Body("The efficient office of fjords, flags and \\emph{affixed} files."));
        Assert.Equal("The efficient office of fjords, flags and affixed files. 1", text);
    }

    [Fact]
    public void A_heading_is_never_alone_at_a_page_foot()
    {
        for (int lines = 20; lines < 60; lines++)
        {
            CompileResult result = Compiled.Body(string.Concat(Enumerable.Repeat("Word.\\\\\n", lines)) + "\n\n\\section{Heading}Text after it.\n\nMore.");
            int page = int.Parse(result.Report.Outline[0].Page!, CultureInfo.InvariantCulture);
            Assert.Contains("Heading Text after it.", Compiled.Text(result, "-f", page.ToString(CultureInfo.InvariantCulture), "-l", page.ToString(CultureInfo.InvariantCulture)));
        }
    }

    [Fact]
    public void Equation_numbers_stand_at_the_right_edge()
    {
        CompileResult result = Compiled.Body(Prose + "\\begin{equation}a = b\\end{equation}" + Prose);
        var words = Words(result);
        double right = Lines(result).Select(l => l.XMax).Max();
        Assert.Equal(right, words.Single(w => w.Text == "(1)").XMax, 0.6);
        Assert.Equal(("1", 1), (result.Report.Equations[0].Number, result.Report.Equations.Count));
    }

    [Fact]
    public void A_fraction_is_centred_on_the_axis_and_wide_delimiters_grow()
    {
        string small = Compiled.Run("pdftotext", Compiled.Body("$\\left( x \\right)$").Pdf, "-bbox", "FILE", "-");
        string large = Compiled.Run("pdftotext", Compiled.Body("\\[\\left( \\frac{\\frac{a}{b}}{\\frac{c}{d}} \\right)\\]").Pdf, "-bbox", "FILE", "-");
        Assert.Contains(">(x)<", small);
        Assert.DoesNotContain("??", large);
        CompileResult result = Compiled.Body("\\[ x = \\frac{3}{7} \\]");
        (double one, double two) = (Baseline(result, "3"), Baseline(result, "7"));
        double x = Words(result).First(w => w.Text.Normalize(System.Text.NormalizationForm.FormKC).StartsWith('x')).YMin;
        Assert.InRange(x, one, two);
    }

    [Fact]
    public void Notes_stand_at_the_foot_of_the_page_that_calls_them()
    {
        CompileResult result = Compiled.Body("Word\\footnote{Notetext here.} goes on.");
        var note = Words(result).Single(w => w.Text == "here.");
        Assert.True(note.YMin > 600, note.ToString());
    }

    [Fact]
    public void Pictures_have_the_width_that_was_asked_for()
    {
        byte[] png = Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==");
        CompileResult result = Compiled.Bytes(
            ("main.tex", "\\documentclass{article}\\usepackage{graphicx}\\begin{document}\\includegraphics[width=0.5\\textwidth]{dot}\\end{document}"u8.ToArray()),
            ("dot.png", png));
        Assert.Empty(result.Report.Findings);
        string images = Compiled.Run("pdfimages", result.Pdf, "-list", "FILE");
        // One pixel over 172.5 points of 1/72.27 in is 0.42 pixels to the inch; poppler rounds it to 0.
        Assert.Contains("smask", images);
        Assert.Contains("No syntax", Compiled.Run("qpdf", result.Pdf, "--check", "FILE"));
    }

    private static double Baseline(CompileResult result, string word) => Words(result).First(w => w.Text == word).YMin;

    private static List<(string Text, double XMin, double YMin, double XMax)> Words(CompileResult result) =>
        [.. WordPattern().Matches(Compiled.Run("pdftotext", result.Pdf, "-bbox", "FILE", "-")).Select(m => (
            m.Groups[5].Value, Number(m, 1), Number(m, 2), Number(m, 3)))];

    private static List<(double XMin, double YMin, double XMax)> Lines(CompileResult result) =>
        [.. Words(result).GroupBy(w => Math.Round(w.YMin, 1)).OrderBy(g => g.Key).Select(g => (g.Min(w => w.XMin), g.Min(w => w.YMin), g.Max(w => w.XMax)))];

    private static double Number(Match match, int group) => double.Parse(match.Groups[group].Value, CultureInfo.InvariantCulture);

    [GeneratedRegex("<word xMin=\"([0-9.]+)\" yMin=\"([0-9.]+)\" xMax=\"([0-9.]+)\" yMax=\"([0-9.]+)\">([^<]*)<")]
    private static partial Regex WordPattern();

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
}
