using System.Text;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Figures from PDFs, boxes scaled and turned, figures in files and beside text.</summary>
public class FigureTests
{
    private const double Point = 72 / 72.27;

    private static readonly byte[] s_plot = Compiled.Files(("main.tex",
        "\\documentclass{article}\\usepackage[paperwidth=200bp,paperheight=100bp,margin=10bp,nohead,nofoot]{geometry}\\pagestyle{empty}\\begin{document}\\noindent First page\\newpage\\noindent Second page\\end{document}")).Pdf;

    private static CompileResult WithPlot(string body, string packages = "graphicx") => Compiled.Bytes(
        ("main.tex", Encoding.UTF8.GetBytes($"\\documentclass{{article}}\\usepackage{{{packages}}}\\pagestyle{{empty}}\\begin{{document}}\\noindent\n{body}\n\\end{{document}}")), ("plot.pdf", s_plot));

    [Fact]
    public void A_page_of_a_PDF_is_placed_as_vectors_whose_text_can_be_read()
    {
        CompileResult result = WithPlot("\\includegraphics{plot} and \\includegraphics[page=2,width=100bp]{plot.pdf}");
        Assert.Empty(Compiled.Codes(result));
        Assert.Contains("No syntax or stream encoding errors found", Compiled.Run("qpdf", result.Pdf, "--check", "FILE"));
        List<PdfWord> words = PdfWords.Of(result);
        PdfWord first = words.One("First");
        PdfWord second = words.One("Second");
        // The second page is half as large as it was drawn.
        Assert.Equal(first.Bottom - first.Top, 2 * (second.Bottom - second.Top), 0.1);
        Assert.Equal(10, first.Left - words.Min(w => w.Left) + 10, 0.5);
        Assert.DoesNotContain("/Subtype /Image", Encoding.Latin1.GetString(result.Pdf), StringComparison.Ordinal);
    }

    [Fact]
    public void A_part_of_a_figure_may_be_cut_out()
    {
        List<PdfWord> whole = PdfWords.Of(WithPlot("\\includegraphics{plot}X"));
        List<PdfWord> cut = PdfWords.Of(WithPlot("\\includegraphics[trim=0 0 100 0,clip]{plot}X"));
        Assert.Equal(100, whole.One("X").Left - cut.One("X").Left, 0.5);
        Assert.Equal(whole.One("First").Left, cut.One("First").Left, 0.3);
    }

    [Theory]
    [InlineData("\\includegraphics[page=7]{plot}", "unreadable-picture", "no page 7")]
    [InlineData("\\includegraphics[trim=1 2]{plot}", "not-four-lengths", "four lengths")]
    public void What_a_figure_cannot_give_is_a_finding(string body, string code, string words)
    {
        CompileResult result = WithPlot("Before. " + body);
        FindingLine finding = Assert.Single(result.Report.Findings, f => f.Kind == "fix");
        Assert.Equal(code, finding.Code);
        Assert.Contains(words, finding.Message);
        Assert.Contains("Before.", Compiled.Text(result));
    }

    [Fact]
    public void Damaged_and_cut_off_PDFs_are_findings_with_a_frame_in_their_place()
    {
        var random = new Random(5);
        for (int i = 0; i < 40; i++)
        {
            byte[] bytes = [.. s_plot];
            for (int k = 0; k < 30; k++)
            {
                bytes[random.Next(8, bytes.Length)] = (byte)random.Next(256);
            }

            CompileResult result = Compiled.Bytes(("main.tex", "\\documentclass{article}\\usepackage{graphicx}\\begin{document}Words.\\includegraphics{a.pdf}\\end{document}"u8.ToArray()),
                ("a.pdf", i % 2 == 0 ? bytes : s_plot[..random.Next(20, s_plot.Length)]));
            Assert.All(Compiled.Codes(result), c => Assert.Equal("unreadable-picture", c));
            Assert.Contains("Words.", Compiled.Text(result));
        }
    }

    [Fact]
    public void A_PDF_under_a_password_is_a_finding()
    {
        string locked = Path.Combine(Path.GetTempPath(), Guid.NewGuid() + ".pdf");
        Compiled.Run("qpdf", s_plot, "--encrypt", "user", "owner", "256", "--", "FILE", locked);
        CompileResult result = Compiled.Bytes(("main.tex", "\\documentclass{article}\\usepackage{graphicx}\\begin{document}Words.\\includegraphics{a.pdf}\\end{document}"u8.ToArray()),
            ("a.pdf", File.ReadAllBytes(locked)));
        File.Delete(locked);
        FindingLine finding = Assert.Single(result.Report.Findings);
        Assert.Equal("unreadable-picture", finding.Code);
        Assert.Contains("password", finding.Message);
        Assert.Contains("Words.", Compiled.Text(result));
    }

    [Fact]
    public void A_PNG_that_claims_a_hundred_thousand_pixels_is_a_finding()
    {
        byte[] png = Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==");
        System.Buffers.Binary.BinaryPrimitives.WriteInt32BigEndian(png.AsSpan(16), 100_000);
        CompileResult result = Compiled.Bytes(("main.tex", "\\documentclass{article}\\usepackage{graphicx}\\begin{document}Words.\\includegraphics{a}\\end{document}"u8.ToArray()), ("a.png", png));
        Assert.Contains("100000", Assert.Single(result.Report.Findings).Message);
        Assert.Contains("Words.", Compiled.Text(result));
    }

    [Fact]
    public void Boxes_are_scaled_to_a_factor_or_a_width()
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Body("\\noindent plain \\scalebox{3}{large}\n\n\\noindent\\resizebox{200pt}{!}{wide}X", "\\usepackage{graphicx}\n"));
        Assert.Equal(3 * (words.One("plain").Bottom - words.One("plain").Top), words.One("large").Bottom - words.One("large").Top, 0.1);
        PdfWord wide = words.Single(w => w.Text.StartsWith("wide", StringComparison.Ordinal));
        double right = words.Where(w => w.Text.Contains('X')).Max(w => w.Right);
        Assert.Equal(200 * Point, right - wide.Left, 8.0);
    }

    [Fact]
    public void A_turned_word_stands_upright()
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Body("\\noindent level \\rotatebox{90}{turned}", "\\usepackage{graphicx}\n"));
        PdfWord turned = words.One("turned");
        Assert.True(turned.Bottom - turned.Top > 2 * (turned.Right - turned.Left));
        Assert.True(words.One("level").Right - words.One("level").Left > words.One("level").Bottom - words.One("level").Top);
    }

    [Fact]
    public void A_reference_leads_into_a_scaled_table()
    {
        CompileResult result = Compiled.Body("\\scalebox{0.5}{\\begin{tabular}{l}\\label{cell}x\\end{tabular}} See \\pageref{cell}.", "\\usepackage{graphicx}\n");
        Assert.Contains("See 1.", Compiled.Text(result));
    }

    [Fact]
    public void Parts_of_a_figure_have_letters_and_references_with_the_figures_number()
    {
        CompileResult result = Compiled.Body(
            "\\begin{figure}\\rule{1cm}{1cm}\\caption{Before}\\end{figure}See \\ref{n}, \\ref{s}, \\ref{b} and \\ref{all}.\n\\begin{figure}"
            + "\\begin{subfigure}{100pt}\\rule{1cm}{1cm}\\caption{North}\\label{n}\\end{subfigure}\\begin{subfigure}{100pt}\\rule{1cm}{1cm}\\caption{South}\\label{s}\\end{subfigure}"
            + "\\subcaptionbox{Boxed\\label{b}}{\\rule{1cm}{1cm}}\\caption{All}\\label{all}\\end{figure}", "\\usepackage{subcaption}\n");
        Assert.Empty(Compiled.Codes(result));
        string text = Compiled.Text(result);
        Assert.Contains("See 2a, 2b, 2c and 2.", text);
        Assert.Contains("(a) North", text);
        Assert.Contains("(c) Boxed", text);
        Assert.Equal(["1", "2"], result.Report.Floats.Select(f => f.Number!));
    }

    [Theory]
    [InlineData("r")]
    [InlineData("l")]
    public void Text_runs_beside_a_figure_and_then_below_it(string side)
    {
        string prose = string.Join(' ', Enumerable.Repeat("lichen on walls of grey stone", 60));
        CompileResult result = Compiled.Body($"\\begin{{wrapfigure}}{{{side}}}{{120pt}}\\rule{{120pt}}{{60pt}}\\caption{{Beside}}\\end{{wrapfigure}}\\noindent " + prose, "\\usepackage{wrapfig}\n");
        List<PdfWord> words = [.. PdfWords.Of(result).Where(w => w.Text is not ("Figure" or "1:" or "Beside" or "1"))];
        PdfWord caption = PdfWords.Of(result).One("Beside");
        List<IGrouping<double, PdfWord>> lines = [.. words.GroupBy(w => Math.Round(w.Top, 1)).OrderBy(g => g.Key)];
        double first = lines[0].Max(w => w.Right) - lines[0].Min(w => w.Left);
        double later = lines[12].Max(w => w.Right) - lines[12].Min(w => w.Left);
        Assert.Equal(132 * Point, later - first, 1.5);
        Assert.All(lines.Where(g => g.Key < caption.Top - 1), g => Assert.True(g.Max(w => w.Right) - g.Min(w => w.Left) < 214));
    }

    [Fact]
    public void A_float_that_lies_across_is_turned_with_its_caption()
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Body("Words.\\begin{sidewaystable}\\centering\\caption{Across}\\begin{tabular}{lr}left & right\\end{tabular}\\end{sidewaystable}", "\\usepackage{rotating}\n"));
        PdfWord caption = words.One("Across");
        Assert.True(caption.Bottom - caption.Top > caption.Right - caption.Left);
        Assert.True(words.One("left").Top > words.One("right").Top);
    }

    /// <summary>The published classes set <c>\@topnum</c> to 0 in <c>\chapter</c> and <c>\maketitle</c> (from memory).</summary>
    [Theory]
    [InlineData("report", "\\chapter{Head}", "t", 2)]
    [InlineData("report", "\\chapter{Head}", "tb", 1)]
    [InlineData("report", "\\chapter*{Head}", "t", 2)]
    [InlineData("article", "\\title{Head}\\author{A}\\date{}\\maketitle", "t", 2)]
    [InlineData("article", "Head", "t", 1)]
    [InlineData("article", "\\section{Head}", "t", 1)]
    public void No_float_stands_above_what_opens_its_page(string kind, string opening, string placement, int page)
    {
        CompileResult result = Compiled.Files(("main.tex", $"\\documentclass{{{kind}}}\\begin{{document}}{opening}\n\nWords.\\begin{{figure}}[{placement}]x\\caption{{Wall}}\\end{{figure}}\n\n{string.Concat(Enumerable.Repeat("Many words more in a paragraph of its own that goes on and on.\n\n", 60))}\\end{{document}}"));
        List<PdfWord> words = PdfWords.Of(result);
        PdfWord caption = words.Single(w => w.Text == "Wall");
        PdfWord head = words.First(w => w.Text == "Head");
        Assert.Equal(page, caption.Page);
        Assert.Equal(page == 2 || placement == "tb", caption.Page > head.Page || caption.Top > head.Top);
    }

    [Fact]
    public void Words_stand_below_a_float() =>
        Assert.Equal("Picture Figure 1: Wall Measured in May.", Compiled.Text(Compiled.Clean("\\begin{figure}[h]\\centering Picture\\caption{Wall}\\floatfoot{Measured in May.}\\end{figure}", "\\usepackage{floatrow}")));
}
