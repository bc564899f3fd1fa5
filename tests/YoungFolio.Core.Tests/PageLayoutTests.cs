using System.Globalization;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Columns, floats, notes and measures of the page, out of the PDF.</summary>
public class PageLayoutTests
{
    private const double Point = 72 / 72.27;
    private const double A4Width = 210 / 25.4 * 72;
    private const double A4Height = 297 / 25.4 * 72;

    private static string Prose(int words) => string.Join(' ', Enumerable.Range(0, words).Select(i => "lichen wall stone north shade ledger mason".Split(' ')[i % 7]));

    private static CompileResult Article(string options, string preamble, string body) =>
        Compiled.Files(("main.tex", $"\\documentclass[{options}]{{article}}\n{preamble}\n\\begin{{document}}\n{body}\n\\end{{document}}\n"));

    // Lamport, section C.9.1: counters and shares rule how floats are placed, lengths how far they stand from the text.
    [Theory]
    [InlineData("", 2)]
    [InlineData("\\setcounter{topnumber}{1}", 1)]
    [InlineData("\\renewcommand{\\topfraction}{0.3}", 1)]
    [InlineData("\\setcounter{totalnumber}{1}", 1)]
    public void A_preamble_rules_how_many_floats_a_page_takes(string preamble, int first)
    {
        string figure = "\\begin{figure}[t]\\rule{4cm}{3cm}\\caption{Here}\\end{figure}";
        List<PdfWord> words = PdfWords.Of(Compiled.Body($"Begin. {figure}{figure}\n\n" + string.Concat(Enumerable.Repeat("Some words of text that fill the pages. ", 600)), preamble));
        Assert.Equal(first, words.Count(w => w is { Text: "Figure", Page: 1 }));
        Assert.Equal(2, words.Count(w => w.Text == "Figure"));
    }

    [Fact]
    public void Floats_that_must_come_out_share_a_page_as_far_as_they_fit()
    {
        string figures = string.Concat(Enumerable.Range(0, 4).Select(i => $"\\begin{{figure}}\\rule{{4cm}}{{4.4cm}}\\caption{{Here{i}}}\\end{{figure}}"));
        List<PdfWord> words = PdfWords.Of(Compiled.Body(string.Concat(Enumerable.Repeat("Some words of text that fill the pages. ", 330)) + figures + "\\clearpage Last."));
        int[] pages = [.. words.Where(w => w.Text == "Figure").Select(w => w.Page)];
        Assert.Equal(4, pages.Length);
        Assert.Equal(3, pages.GroupBy(p => p).Max(g => g.Count()));
    }

    [Theory]
    [InlineData("", 20)]
    [InlineData("\\setlength{\\textfloatsep}{50pt}", 50)]
    public void A_length_sets_the_space_between_floats_and_text(string preamble, double distance)
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Body("\\begin{figure}[t]\\rule{4cm}{3cm}\\end{figure}Begin here.", preamble));
        List<PdfWord> plain = PdfWords.Of(Compiled.Body("\\begin{figure}[t]\\rule{4cm}{3cm}\\end{figure}Begin here.", "\\setlength{\\textfloatsep}{0pt}"));
        Assert.Equal(distance * 72 / 72.27, words.One("Begin").Top - plain.One("Begin").Top, 0.2);
    }

    [Fact]
    public void Two_columns_are_equally_wide_and_their_lines_stand_on_one_grid()
    {
        List<PdfWord> words = PdfWords.Of(Article("a4paper,twocolumn", "", Prose(1400)));
        List<PdfWord> page = [.. words.Where(w => w.Page == 1 && w.Top < 700)];
        // Measures of the class: two columns with 10 points between them, on paper less two inches, in whole points.
        double width = (Math.Floor((A4Width - 144) / Point) - 10) / 2 * Point;
        double split = page.Where(w => w.Left > A4Width / 2).Min(w => w.Left);
        double left = page.Min(w => w.Left);
        Assert.Equal(width + (10 * Point), split - left, 0.3);
        Assert.True(page.Where(w => w.Left < split).Max(w => w.Right) <= left + width + 0.2);
        double[] first = [.. page.Where(w => w.Left < split).Select(w => Math.Round(w.Top, 1)).Distinct().Order()];
        double[] second = [.. page.Where(w => w.Left >= split).Select(w => Math.Round(w.Top, 1)).Distinct().Order()];
        Assert.Equal(first.Length, second.Length);
        Assert.All(first.Zip(second), p => Assert.Equal(p.First, p.Second, 0.2));
    }

    [Fact]
    public void A_wide_float_stands_over_both_columns_at_the_top_of_the_next_page()
    {
        CompileResult result = Article("twocolumn", "", "\\begin{figure*}\\centering\\rule{300pt}{50pt}\\caption{Wide}\\end{figure*}" + Prose(1600));
        List<PdfWord> words = PdfWords.Of(result);
        PdfWord caption = words.One("Wide");
        Assert.Equal(2, caption.Page);
        Assert.True(words.Where(w => w.Page == 2 && w.Text is not ("Wide" or "Figure" or "1:" or "2")).Min(w => w.Top) > caption.Bottom);
        double middle = 8.5 * 72 / 2;
        Assert.Equal(middle, (words.Single(w => w.Text == "Figure").Left + caption.Right) / 2, 0.5);
    }

    [Fact]
    public void Notes_stand_at_the_foot_of_their_own_column()
    {
        CompileResult result = Article("twocolumn", "", Prose(900) + " right\\footnote{Below it.} " + Prose(100));
        List<PdfWord> words = PdfWords.Of(result);
        PdfWord call = words.Single(w => w.Text.StartsWith("right", StringComparison.Ordinal));
        PdfWord note = words.Single(w => w.Text.EndsWith("Below", StringComparison.Ordinal));
        Assert.Equal(call.Page, note.Page);
        Assert.Equal(call.Left > 306, note.Left > 306);
        Assert.True(note.Top > call.Bottom);
    }

    [Fact]
    public void Columns_of_a_stretch_end_at_one_height()
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Body("First.\n\n\\begin{multicols}{3}\n" + Prose(150) + "\n\\end{multicols}\n\nLast.", "\\usepackage{multicol}\n"));
        double top = words.One("First.").Bottom;
        double bottom = words.One("Last.").Top;
        List<PdfWord> inside = [.. words.Where(w => w.Top > top && w.Bottom < bottom)];
        double left = inside.Min(w => w.Left);
        double step = ((345 - 20) / 3.0) + 10;
        int[] lines = [.. Enumerable.Range(0, 3).Select(c => inside
            .Where(w => (int)((w.Left - left + 1) / (step * Point)) == c).Select(w => Math.Round(w.Top, 1)).Distinct().Count())];
        Assert.True(lines.Min() > 3);
        Assert.True(lines.Max() - lines[0] == 0 && lines[0] - lines[2] <= 2, string.Join(' ', lines));
    }

    [Fact]
    public void Columns_go_on_over_pages_and_lose_nothing()
    {
        string body = string.Join(' ', Enumerable.Range(1, 3000).Select(i => "w" + i));
        List<PdfWord> words = PdfWords.Of(Compiled.Body("\\begin{multicols}{2}\n" + body + "\n\\end{multicols}", "\\usepackage{multicol}\n"));
        Assert.Equal(Enumerable.Range(1, 3000).Select(i => "w" + i).Order(StringComparer.Ordinal),
            words.Where(w => w.Text.StartsWith('w')).Select(w => w.Text).Order(StringComparer.Ordinal));
        Assert.True(words.Max(w => w.Page) > 2);
    }

    [Fact]
    public void A_long_note_goes_on_at_the_foot_of_the_next_page()
    {
        string note = string.Join(' ', Enumerable.Range(1, 700).Select(i => "n" + i));
        List<PdfWord> words = PdfWords.Of(Compiled.Body(Prose(380) + " call\\footnote{" + note + "} " + Prose(600)));
        List<PdfWord> lines = [.. words.Where(w => w.Text.StartsWith('n') && char.IsDigit(w.Text[^1]))];
        Assert.Equal(700, lines.Count);
        Assert.True(lines.Select(w => w.Page).Distinct().Count() >= 2);
        PdfWord call = words.Single(w => w.Text.StartsWith("call", StringComparison.Ordinal));
        Assert.Equal(call.Page, lines[0].Page);
        foreach (IGrouping<int, PdfWord> page in lines.GroupBy(w => w.Page))
        {
            // Text stands above the notes of its page.
            Assert.True(words.Where(w => w.Page == page.Key && w.Text is "lichen" or "wall" && w.Page == page.Key).All(w => w.Bottom < page.Min(n => n.Top) + 1));
        }
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    public void No_float_is_lost_nor_off_the_page(int seed)
    {
        var random = new Random(seed);
        var body = new System.Text.StringBuilder();
        string[] places = ["", "[h]", "[t]", "[b]", "[p]", "[htbp]", "[!h]", "[tb]", "[H]"];
        for (int i = 1; i <= 30; i++)
        {
            string kind = random.Next(3) == 0 ? "table" : "figure";
            string star = seed % 2 == 0 && random.Next(4) == 0 ? "*" : "";
            body.Append(CultureInfo.InvariantCulture,
                $"\\begin{{{kind}{star}}}{places[random.Next(star.Length > 0 ? 1 : places.Length)]}\\rule{{50pt}}{{{random.Next(20, 420)}pt}}\\caption{{c{i}x}}\\end{{{kind}{star}}}\n{Prose(random.Next(10, 220))}\n\n");
        }

        CompileResult result = Article(seed % 2 == 0 ? "twocolumn" : "", "\\usepackage{float}", body.ToString());
        List<PdfWord> words = [.. PdfWords.Of(result).Where(w => System.Text.RegularExpressions.Regex.IsMatch(w.Text, "^c\\d+x$"))];
        Assert.Equal(Enumerable.Range(1, 30).Select(i => $"c{i}x").Order(StringComparer.Ordinal), words.Select(w => w.Text).Order(StringComparer.Ordinal));
        Assert.All(words, w => Assert.InRange(w.Bottom, 0, 11 * 72));
    }

    [Theory]
    [InlineData("[t]", -1)]
    [InlineData("[b]", 1)]
    [InlineData("[H]", 0)]
    public void A_float_goes_where_it_was_asked_to(string place, int side)
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Body("Before. " + Prose(60) + "\n\n\\begin{figure}" + place + "\\rule{50pt}{30pt}\\caption{Here}\\end{figure}\n\nAfter. " + Prose(60), "\\usepackage{float}\n"));
        double y = words.One("Here").Top;
        Assert.Equal(side, y < words.One("Before.").Top ? -1 : y > words.Where(w => w.Text != "1").Where(w => w.Text is not ("Figure" or "1:" or "Here")).Max(w => w.Bottom) ? 1 : 0);
    }

    [Fact]
    public void No_float_passes_a_barrier()
    {
        string floats = string.Concat(Enumerable.Range(1, 6).Select(i => $"\\begin{{figure}}\\rule{{50pt}}{{250pt}}\\caption{{f{i}}}\\end{{figure}}\n"));
        List<PdfWord> words = PdfWords.Of(Compiled.Body("Start.\n\n" + floats + "\\FloatBarrier\nBehind.", "\\usepackage{placeins}\n"));
        PdfWord behind = words.One("Behind.");
        Assert.All(Enumerable.Range(1, 6), i => Assert.True(words.One($"f{i}").Page <= behind.Page));
        Assert.True(words.One("f6").Page > words.One("Start.").Page);
    }

    [Theory]
    // The first word's left edge, the line's right edge and the first baseline's place, by what each option says (paper A4).
    [InlineData("margin=2cm", 56.69, A4Width - 56.69, 56.69)]
    [InlineData("left=3cm,right=2cm,top=4cm,bottom=2cm", 85.04, A4Width - 56.69, 113.39)]
    [InlineData("left=3cm,textwidth=13cm,top=1in", 85.04, 85.04 + 368.5, 72)]
    [InlineData("hmargin={2cm,4cm},vmargin=3cm", 56.69, A4Width - 113.39, 85.04)]
    [InlineData("hscale=0.5,hmarginratio=1:3,top=2cm", A4Width / 8, A4Width * 5 / 8, 56.69)]
    [InlineData("margin=2cm,bindingoffset=1cm", 85.04, A4Width - 56.69, 56.69)]
    [InlineData("margin=2cm,includehead,headheight=12pt,headsep=24pt", 56.69, A4Width - 56.69, 56.69 + (36 * Point))]
    [InlineData("hdivide={2cm,*,5cm},top=2cm", 56.69, A4Width - 141.73, 56.69)]
    public void Margins_stand_where_geometry_puts_them(string options, double left, double right, double top)
    {
        CompileResult result = Article("a4paper", $"\\usepackage[{options}]{{geometry}}", "\\noindent Left" + Prose(300));
        List<PdfWord> words = PdfWords.Of(result);
        Assert.Equal(left, words[0].Left, 0.6);
        Assert.Equal(right, words.GroupBy(w => w.Top).Skip(1).SkipLast(3).Max(g => g.Max(w => w.Right)), 0.6);
        // The first baseline is one type size, 10 points, below the text block's top.
        PageSpot first = result.Map.FindSpot("main.tex", 4, 11)!;
        Assert.Equal(top + (10 * Point), first.Y + (0.75 * first.Height), 0.3);
    }

    [Fact]
    public void Lengths_set_by_hand_set_the_text_block()
    {
        CompileResult result = Article("a4paper", "\\setlength{\\oddsidemargin}{0pt}\\addtolength{\\textwidth}{100pt}\\topmargin=-20pt\\headheight=0pt\\headsep=0pt", "\\noindent Left " + Prose(300));
        List<PdfWord> words = PdfWords.Of(result);
        Assert.Equal(72, words[0].Left, 0.3);
        Assert.Equal(72 + (445 * Point), words.Max(w => w.Right), 0.6);
        PageSpot first = result.Map.FindSpot("main.tex", 4, 11)!;
        Assert.Equal(72 - (20 * Point) + (10 * Point), first.Y + (0.75 * first.Height), 0.3);
    }

    [Fact]
    public void Margins_change_on_the_way_and_come_back()
    {
        List<PdfWord> words = PdfWords.Of(Article("a4paper", "\\usepackage[margin=2cm]{geometry}",
            "\\noindent One\n\\newgeometry{left=5cm,right=2cm}\n\\noindent Two\n\\restoregeometry\n\\noindent Three"));
        Assert.Equal([1, 2, 3], new[] { "One", "Two", "Three" }.Select(w => words.One(w).Page));
        Assert.Equal(56.69, words.One("One").Left, 0.3);
        Assert.Equal(141.73, words.One("Two").Left, 0.3);
        Assert.Equal(56.69, words.One("Three").Left, 0.3);
    }

    [Fact]
    public void A_landscape_page_lies_across_between_upright_ones()
    {
        CompileResult result = Article("a4paper", "\\usepackage{pdflscape}", "One\n\\begin{landscape}Two " + Prose(60) + "\\end{landscape}Three");
        string info = Compiled.Run("pdfinfo", result.Pdf, "-f", "1", "-l", "3", "FILE");
        string[] sizes = [.. System.Text.RegularExpressions.Regex.Matches(info, @"Page +\d+ size: +(.*?) pts").Select(m => m.Groups[1].Value)];
        Assert.Equal(["595.276 x 841.89", "841.89 x 595.276", "595.276 x 841.89"], sizes);
        List<PdfWord> words = PdfWords.Of(result);
        Assert.Equal([1, 2, 3], new[] { "One", "Two", "Three" }.Select(w => words.One(w).Page));
        Assert.True(words.Where(w => w.Page == 2).Max(w => w.Right) > A4Width);
        Assert.True(words.Where(w => w.Page == 2).Max(w => w.Bottom) < A4Width);
        Assert.Equal(A4Height, 841.89, 0.01);
    }

    [Fact]
    public void A_page_may_be_made_longer_by_a_line()
    {
        int Lines(string command) => PdfWords.Of(Compiled.Body(command + Prose(1500))).Where(w => w.Page == 1 && w.Text != "1").Select(w => Math.Round(w.Top)).Distinct().Count();
        Assert.Equal(Lines("") + 2, Lines("\\enlargethispage{2\\baselineskip}"));
    }

    [Fact]
    public void Heads_and_feet_stand_left_centred_and_right_over_the_text_with_their_rules()
    {
        CompileResult result = Article("a4paper,twoside", "\\usepackage[margin=3cm,headsep=20pt,footskip=30pt]{geometry}\\usepackage{fancyhdr}\\pagestyle{fancy}\\fancyhf{}"
            + "\\fancyhead[LE,RO]{Outer}\\fancyhead[LO,RE]{\\MakeUppercase{\\leftmark}}\\fancyfoot[C]{Foot}\\renewcommand{\\footrulewidth}{1pt}",
            "\\section{Stones}" + Prose(900));
        List<PdfWord> words = PdfWords.Of(result);
        double left = 85.04;
        double right = A4Width - 85.04;
        PdfWord odd = words.Single(w => w is { Text: "Outer", Page: 1 });
        PdfWord even = words.Single(w => w is { Text: "Outer", Page: 2 });
        Assert.Equal(right, odd.Right, 0.3);
        Assert.Equal(left, even.Left, 0.3);
        Assert.Equal(right, words.Single(w => w is { Text: "STONES", Page: 2 }).Right, 0.3);
        Assert.Equal(A4Width / 2, words.Single(w => w is { Text: "Foot", Page: 2 }).Middle, 0.3);
        List<PdfRule> rules = [.. PdfWords.Rules(result).Where(r => r.Width > 300)];
        Assert.All(rules, r => Assert.Equal(right - left, r.Width, 0.1));
        Assert.Equal(2 * words.Max(w => w.Page), rules.Count);
        Assert.Equal(words.Max(w => w.Page), rules.Count(r => Math.Abs(r.Height - Point) < 0.01));
    }

    [Theory]
    [InlineData("\\usepackage[margin=12cm]{geometry}", "Words.", "margins-too-wide", "fix")]
    [InlineData("\\setlength{\\textwidth}{1pt}", "Words.", "margins-too-wide", "fix")]
    [InlineData("\\usepackage[paperwidth=7mm]{geometry}", "Words.", "paper-too-small", "fix")]
    [InlineData("\\usepackage[papersize={3cm,2pt},margin=1cm]{geometry}", "Words.", "paper-too-small", "fix")]
    [InlineData("", "Words. \\begin{figure}\\rule{20pt}{900pt}\\caption{x}\\end{figure}", "float-too-high", "layout")]
    [InlineData("", "Words. \\begin{figure}[H]\\rule{20pt}{900pt}\\caption{x}\\end{figure}", "float-too-high", "layout")]
    public void What_cannot_stand_on_the_page_is_a_finding(string preamble, string body, string code, string kind)
    {
        CompileResult result = Article("a4paper", preamble, body);
        Assert.Contains(code, Compiled.Codes(result, kind));
        Assert.Contains("Words.", Compiled.Text(result));
    }

    [Fact]
    public void A_word_of_ten_thousand_letters_is_a_finding_and_the_rest_stands()
    {
        CompileResult result = Compiled.Body("Before.\n\n" + new string('a', 10_000) + "\n\nAfter.");
        Assert.Contains("line-too-long", Compiled.Codes(result, "layout"));
        Assert.Contains("After.", Compiled.Text(result));
    }

    // The package fancyhdr's documentation (from memory): heads may ask for odd pages, and may reach into the margins.
    [Fact]
    public void Heads_know_their_page_and_reach_into_the_margins()
    {
        const string Fields = "\\usepackage{fancyhdr}\\pagestyle{fancy}\\fancyhf{}\\fancyhead[L]{\\ifodd\\value{page}Odd\\else Even\\fi}\\fancyhead[R]{Right}";
        const string Body = "\\noindent\\rule{\\textwidth}{1pt}\\newpage two\\newpage three";
        List<PdfWord> words = PdfWords.Of(Compiled.Body(Body, Fields));
        Assert.Equal(["Odd", "Even", "Odd"], words.Where(w => w.Text is "Odd" or "Even").OrderBy(w => w.Page).Select(w => w.Text));
        CompileResult wide = Compiled.Body(Body, Fields + "\\fancyheadoffset[L]{30pt}\\fancyheadoffset[R]{10pt}");
        Assert.Equal(words.First(w => w.Text == "Odd").Left - (30 * 72 / 72.27), PdfWords.Of(wide).First(w => w.Text == "Odd").Left, 0.1);
        Assert.Equal(words.First(w => w.Text == "Right").Right + (10 * 72 / 72.27), PdfWords.Of(wide).First(w => w.Text == "Right").Right, 0.1);
        PdfRule[] rules = [.. PdfWords.Rules(wide)];
        Assert.Contains(rules, r => Math.Abs(r.Width - rules.Min(x => x.Width) - (40 * 72 / 72.27)) < 0.2);
    }

    // The package float's documentation (from memory): ruled floats have lines above, below the caption and at the end; plaintop puts the caption above.
    [Fact]
    public void Layouts_of_floats_place_lines_frames_and_captions()
    {
        CompileResult ruled = Compiled.Body("\\begin{program}content\\caption{Counting}\\end{program}", "\\usepackage{float}\\floatstyle{ruled}\\newfloat{program}{H}{lop}\\floatname{program}{Program}");
        List<PdfWord> words = PdfWords.Of(ruled);
        Assert.True(words.One("Counting").Bottom < words.One("content").Top);
        double height = 792;
        Assert.Equal(3, PdfWords.Rules(ruled).Count(r => r.Width > 300));
        double[] lines = [.. PdfWords.Rules(ruled).Where(r => r.Width > 300).Select(r => height - r.Y).Order()];
        Assert.True(lines[0] < words.One("Counting").Top + 3 && lines[1] > words.One("Counting").Bottom - 3 && lines[1] < words.One("content").Top + 3 && lines[2] > words.One("content").Bottom - 3);
        List<PdfWord> top = PdfWords.Of(Compiled.Body("\\begin{table}content\\caption{Above}\\end{table}", "\\usepackage{float}\\floatstyle{plaintop}\\restylefloat{table}\\floatplacement{table}{H}"));
        Assert.True(top.One("Above").Bottom < top.One("content").Top);
        CompileResult boxed = Compiled.Body("\\begin{figure}[H]content\\caption{Below}\\end{figure}", "\\usepackage{float}\\floatstyle{boxed}\\restylefloat{figure}");
        Assert.Equal(4, PdfWords.Rules(boxed).Count);
        Assert.Equal("no-such-float-style", Assert.Single(Compiled.Body("x", "\\usepackage{float}\\floatstyle{wavy}").Report.Findings).Code);
    }
}
