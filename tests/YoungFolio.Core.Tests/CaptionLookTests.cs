using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>How captions look by the options of the package caption (its documentation, from memory).</summary>
public sealed class CaptionLookTests
{
    private const double Bp = 72 / 72.27;
    private const string Long = "Courses of slate and flag run along the fell for most of a mile before they give way to turf at the ford and the sheepwash beside it.";

    private static CompileResult Set(string setup, string body) => Compiled.Clean(body, $"\\usepackage{{xcolor,caption,subcaption}}{setup}");

    private static string Figure(string caption, string inside = "") => $"\\begin{{figure}}[h]{inside}\\centering x\\caption{{{caption}}}\\end{{figure}}";

    private static string Table(string caption) => $"\\begin{{table}}[h]\\caption{{{caption}}}\\centering y\\end{{table}}";

    private static string Printed(string setup, string body) => Compiled.Text(Set(setup, body));

    [Theory]
    [InlineData("labelsep=period", "Figure 1. Wall")]
    [InlineData("labelsep=space", "Figure 1 Wall")]
    [InlineData("labelsep=endash", "Figure 1 – Wall")]
    [InlineData("labelsep=newline", "Figure 1 Wall")]
    [InlineData("labelformat=parens", "Figure (1): Wall")]
    [InlineData("labelformat=brace", "Figure 1): Wall")]
    [InlineData("labelformat=simple", "Figure 1: Wall")]
    [InlineData("labelformat=empty,labelsep=none", "Wall")]
    public void A_label_has_its_form_and_the_sign_behind_it(string options, string printed) => Assert.Equal($"x {printed}", Printed($"\\captionsetup{{{options}}}", Figure("Wall")));

    [Fact]
    public void Forms_signs_and_fonts_may_be_declared()
    {
        CompileResult result = Set("\\DeclareCaptionLabelFormat{mine}{#1 no.\\ #2}\\DeclareCaptionLabelSeparator{bar}{ | }\\DeclareCaptionFont{moss}{\\color{green}}\\captionsetup{labelformat=mine,labelsep=bar,labelfont={bf,moss}}", Figure("Wall"));
        Assert.Equal("x Figure no. 1 | Wall", Compiled.Text(result));
        string content = Compiled.Run("qpdf", result.Pdf, "--qdf", "--object-streams=disable", "FILE", "-");
        Assert.Contains("0 1 0 rg", content, StringComparison.Ordinal);
    }

    [Fact]
    public void What_is_said_of_a_kind_holds_for_that_kind_until_it_is_cleared()
    {
        string body = Figure("Wall") + Table("Course");
        Assert.Equal("x Figure 1: Wall Table 1. Course y", Printed("\\captionsetup[table]{labelsep=period}", body));
        Assert.Equal("x Figure 1 – Wall Table 1. Course y", Printed("\\captionsetup[table]{labelsep=period}\\captionsetup{labelsep=endash}", body));
        Assert.Equal("x Figure 1: Wall Table 1: Course y", Printed("\\captionsetup[table]{labelsep=period}\\clearcaptionsetup{table}", body));
        Assert.Equal("(a) In x Figure 1. Wall", Printed("\\captionsetup{labelsep=period}\\captionsetup[sub]{labelsep=space}", "\\begin{figure}[h]\\begin{subfigure}{2cm}\\caption{In}\\end{subfigure}\\caption{Wall}x\\end{figure}"));
    }

    [Theory]
    [InlineData("", "(a) In")]
    [InlineData("simple", "a In")]
    [InlineData("brace", "a) In")]
    [InlineData("parens", "(a) In")]
    public void Parts_of_floats_have_letters_in_their_form(string form, string printed) =>
        Assert.StartsWith(printed, Printed(form.Length > 0 ? $"\\captionsetup[sub]{{labelformat={form}}}" : "", "\\begin{figure}[h]\\begin{subfigure}{2cm}\\caption{In}\\end{subfigure}\\caption{Wall}\\end{figure}"), StringComparison.Ordinal);

    [Fact]
    public void What_is_said_within_a_float_ends_with_it() =>
        Assert.Equal("x Figure 1. Wall x Figure 2: Course", Printed("", Figure("Wall", "\\captionsetup{labelsep=period}") + Figure("Course")));

    [Fact]
    public void A_caption_of_one_line_is_centred_unless_that_is_switched_off()
    {
        double Left(string options, string text) => PdfWords.Of(Set($"\\captionsetup{{{options}}}", "\\noindent|\n\n" + Figure(text))).Single(w => w.Text.StartsWith("Figure", StringComparison.Ordinal)).Left;
        double margin = PdfWords.Of(Set("", "\\noindent|")).First().Left;
        Assert.True(Left("", "Wall") > margin + 100);
        Assert.True(Left("justification=raggedright", "Wall") > margin + 100);
        Assert.Equal(margin, Left("justification=raggedright,singlelinecheck=false", "Wall"), 0.1);
        Assert.Equal(margin, Left("singlelinecheck=off", "Wall"), 0.1);
        Assert.Equal(margin, Left("", Long), 0.1);
        Assert.True(Left("justification=centering", Long) < margin + 60);
    }

    [Theory]
    [InlineData("", 0, 0)]
    [InlineData("margin=30pt", 30, 30)]
    [InlineData("width=245pt", 50, 50)]
    [InlineData("format=hang", 0, 43)]
    public void Lines_begin_where_the_options_have_them(string options, double first, double further)
    {
        List<PdfWord> words = PdfWords.Of(Set($"\\captionsetup{{{options}}}", "\\noindent|\n\n" + Figure(Long)));
        double margin = words.First(w => w.Text == "|").Left;
        PdfWord label = words.Single(w => w.Text.StartsWith("Figure", StringComparison.Ordinal));
        Assert.Equal(first * Bp, label.Left - margin, 0.3);
        double next = words.Where(w => w.Top > label.Top + 6 && w.Top < label.Top + 18).Min(w => w.Left);
        Assert.Equal(further * Bp, next - margin, 1.5);
        if (options.Length > 0 && options != "format=hang")
        {
            Assert.Equal((345 - first) * Bp, words.Where(w => Math.Abs(w.Top - label.Top) < 2).Max(w => w.Right) - margin, 1.0);
        }
    }

    [Fact]
    public void A_float_that_goes_on_keeps_its_number() =>
        Assert.Equal("x Figure 1: Wall x Figure 1: Wall, continued x Figure 2: Course", Printed("", Figure("Wall") + Figure("Wall, continued", "\\ContinuedFloat ") + Figure("Course")));

    [Fact]
    public void Fonts_are_those_of_label_text_or_both()
    {
        CompileResult result = Set("\\captionsetup{font=footnotesize,labelfont=bf,textfont=it}", Figure("Wall"));
        string fonts = Compiled.Run("pdffonts", result.Pdf, "FILE");
        Assert.Contains("lmroman8-bold", fonts, StringComparison.Ordinal);
        Assert.Contains("lmroman8-italic", fonts, StringComparison.Ordinal);
    }

    // caption's manual: \captionof makes a caption outside floats, which the lists name like any other.
    [Theory]
    [InlineData("\\begin{figure}\\begin{center}x\\caption{Wall}\\end{center}\\end{figure}")]
    [InlineData("\\begin{figure}\\begin{minipage}{3cm}x\\caption{Wall}\\end{minipage}\\end{figure}")]
    [InlineData("\\begin{figure}\\parbox{3cm}{\\begin{quote}x\\caption{Wall}\\end{quote}}\\end{figure}")]
    [InlineData("\\begin{table}\\captionof{figure}{Wall}\\end{table}")]
    [InlineData("\\captionof{figure}{Wall}")]
    [InlineData("\\begin{itemize}\\item A\\begin{minipage}{3cm}x\\captionof{figure}{Wall}\\end{minipage}\\end{itemize}")]
    [InlineData("Words \\parbox{3cm}{\\captionof{figure}{Wall}} more.")]
    public void Lists_and_report_name_a_caption_in_whatever_box_it_stands(string body)
    {
        CompileResult result = Set("", $"\\listoffigures {body}\\begin{{figure}}y\\caption{{Course}}\\end{{figure}}");
        Assert.Equal([("figure", "1", "Wall"), ("figure", "2", "Course")], result.Report.Floats.Select(f => (f.Kind, f.Number, f.Caption)));
        string listed = string.Join(' ', Compiled.Text(result, "-layout").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries).Where(w => w != "."));
        Assert.Contains("1 Wall 1 2 Course 1", listed, StringComparison.Ordinal);
    }

    [Fact]
    public void A_caption_that_stands_above_is_not_lost_in_a_box()
    {
        CompileResult result = Compiled.Article("\\begin{boat}\\begin{center}Hull\\caption{Below}\\end{center}\\end{boat}", "\\usepackage{float}\\floatstyle{ruled}\\newfloat{boat}{tbp}{lob}\\floatname{boat}{Boat}");
        Assert.Equal("Boat 1 Below Hull", Compiled.Text(result));
    }
}
