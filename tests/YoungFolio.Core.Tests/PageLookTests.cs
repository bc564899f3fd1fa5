using YoungFolio.Compiler;
using YoungFolio.Manuscript.SettingUp;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>The page as a preamble sets it, against the published measures and against pages that are really set.</summary>
public sealed class PageLookTests
{
    private const double Millimetre = 72.27 / 25.4;

    private static readonly ManuscriptCompiler s_compiler = new();

    private static ManuscriptSnapshot Snapshot(string main) => new(new FileTree([ManuscriptFile.FromText("main.tex", main)]), "main.tex", new DateOnly(2026, 3, 1));

    private static PageLook Look(string preamble)
    {
        string main = preamble + "\\begin{document}\nNot a word of this counts \\undefined.\n\\end{document}\n";
        return s_compiler.LookAtPage(Snapshot(main), "main.tex", main.IndexOf("\\begin{document}", StringComparison.Ordinal));
    }

    [Theory]
    // ISO 216 for A papers; American papers by common practice.
    [InlineData("a4paper", 210, 297)]
    [InlineData("a5paper", 148, 210)]
    [InlineData("letterpaper", 215.9, 279.4)]
    public void Papers_have_their_sizes(string option, double width, double height)
    {
        PageLook page = Look($"\\documentclass[{option}]{{article}}\n");
        Assert.Equal((width, height), (Math.Round(page.PaperWidth / Millimetre, 1), Math.Round(page.PaperHeight / Millimetre, 1)));
    }

    [Fact]
    public void Margins_are_those_that_are_asked_for_on_both_sides()
    {
        PageLook page = Look("\\documentclass[a4paper,twoside]{report}\n\\usepackage[inner=35mm,outer=25mm,top=30mm,bottom=40mm]{geometry}\n");
        Assert.True(page.IsTwoSided);
        Assert.Equal((35, 25, 150, 30, 227), ((int)Math.Round(page.OddLeft / Millimetre), (int)Math.Round(page.EvenLeft / Millimetre), (int)Math.Round(page.TextWidth / Millimetre), (int)Math.Round(page.Top / Millimetre), (int)Math.Round(page.TextHeight / Millimetre)));
    }

    [Theory]
    // Lengths of lines in the standard classes: 45 to 75 characters is common practice, and two columns have about half.
    [InlineData("\\documentclass[10pt]{article}\n", 60, 85, 1)]
    [InlineData("\\documentclass[12pt,a4paper]{report}\n", 60, 80, 1)]
    [InlineData("\\documentclass[10pt,twocolumn]{article}\n", 35, 60, 2)]
    public void Characters_a_line_are_as_many_as_are_set(string preamble, double least, double most, int columns)
    {
        PageLook page = Look(preamble);
        Assert.Equal(columns, page.Columns);
        Assert.InRange(page.LineCharacters, least, most);
        // And as many as a page of plain words really has.
        string words = string.Concat(Enumerable.Repeat("The walls above the head dyke were raised when the common was parted and nobody has moved them since we came along with a rule. ", 160));
        CompileResult set = s_compiler.Compile(Snapshot($"{preamble}\\begin{{document}}\n{words}\n\\end{{document}}\n"));
        double middle = page.PaperWidth / 72.27 * 72 / 2;
        int lines = PdfWords.Of(set).Where(w => w.Page == 2).Select(w => (columns > 1 && w.Left > middle, Math.Round(w.Bottom))).Distinct().Count();
        // The page's number is a line too.
        Assert.Equal((page.PageLines * columns) + 1, lines);
    }

    [Theory]
    [InlineData("\\onehalfspacing", 1.25)]
    [InlineData("\\doublespacing", 1.667)]
    public void Line_spacing_takes_lines_from_the_page(string command, double factor)
    {
        PageLook single = Look("\\documentclass{report}\n");
        PageLook wide = Look($"\\documentclass{{report}}\n\\usepackage{{setspace}}{command}\n");
        // Factors of setspace for 10 pt, from memory.
        Assert.Equal(single.Leading * factor, wide.Leading, 0.1);
        Assert.InRange(wide.PageLines, (single.PageLines / factor) - 1, (single.PageLines / factor) + 1);
    }

    [Fact]
    public void Heads_and_feet_are_there_or_not()
    {
        Assert.Equal((false, true), (Look("\\documentclass{article}\n").HasHead, Look("\\documentclass{article}\n").HasFoot));
        PageLook headed = Look("\\documentclass{article}\n\\usepackage{fancyhdr}\\pagestyle{fancy}\\fancyhf{}\n\\fancyhead[L]{Walls}\n");
        Assert.Equal((true, false), (headed.HasHead, headed.HasFoot));
    }

    [Fact]
    public void What_fights_is_said_with_the_way_out()
    {
        string[] Codes(string preamble) => [.. SetUp.Of(new Dictionary<string, string> { ["main.tex"] = preamble + "\\begin{document}\nx\n\\end{document}\n" }, "main.tex").Remarks.Select(r => $"{r.Code} {r.Unload}{r.Unset}".Trim())];
        Assert.Empty(Codes("\\documentclass[12pt,a4paper]{report}\n\\usepackage[margin=3cm]{geometry}\n\\usepackage{setspace}\\onehalfspacing\n"));
        Assert.Equal(["same-work fullpage"], Codes("\\documentclass{article}\n\\usepackage{fullpage}\n\\usepackage{geometry}\n"));
        Assert.Equal(["same-work natbib"], Codes("\\documentclass{article}\n\\usepackage{natbib,biblatex}\n"));
        Assert.Equal(["two-encodings inputenc"], Codes("\\documentclass{article}\n\\usepackage[latin1]{inputenc}\n\\usepackage[utf8]{inputenc}\n"));
        Assert.Equal(["set-twice"], Codes("\\documentclass{article}\n\\title{A}\n\\title{B}\n"));
        Assert.Equal(["two-spacings spacing"], Codes("\\documentclass{article}\n\\usepackage{setspace}\n\\doublespacing\n\\linespread{1.2}\n"));
        Assert.Equal(["two-partings indent"], Codes("\\documentclass{article}\n\\usepackage{parskip}\n\\setlength{\\parindent}{1em}\n"));
        Assert.Equal(["negative-length"], Codes("\\documentclass{article}\n\\usepackage[left=-1cm]{geometry}\n"));
        Assert.Equal(["wider-than-paper"], Codes("\\documentclass[a5paper]{article}\n\\usepackage[left=8cm,right=8cm]{geometry}\n"));
        Assert.Equal(["higher-than-paper"], Codes("\\documentclass[a5paper]{article}\n\\usepackage[top=20cm,bottom=8cm]{geometry}\n"));
    }

    [Fact]
    public void Packages_are_told_by_what_they_are_for()
    {
        var texts = new Dictionary<string, string>(StringComparer.Ordinal)
        {
            ["main.tex"] = "\\documentclass{article}\n\\usepackage[utf8]{inputenc}\n\\usepackage{booktabs,multirow}\n\\usepackage{tikzbird}\n\\usepackage{walls}\n\\usepackage{hyperref}\n\\begin{document}\n\\toprule\n\\end{document}\n",
            ["walls.sty"] = "\\RequirePackage{xspace}\n",
        };
        var setUp = SetUp.Of(texts, "main.tex");
        var packages = setUp.Packages(new Dictionary<string, int> { ["\\toprule"] = 1 }).ToDictionary(p => p.Name);
        Assert.Equal(["inputenc", "booktabs", "multirow", "tikzbird", "walls", "xspace", "hyperref"], setUp.Packages(new Dictionary<string, int>()).Select(p => p.Name));
        Assert.Equal(["\\toprule"], packages["booktabs"].UsedBy);
        Assert.False(packages["booktabs"].IsUnused);
        Assert.Equal((true, true, false), (packages["multirow"].IsUnused, packages["inputenc"].DoesNothing, packages["hyperref"].IsUnused));
        Assert.Equal((false, true, false), (packages["tikzbird"].IsKnown, packages["walls"].IsKnown, packages["xspace"].CanUnload));
        Assert.Contains("\\usepackage{booktabs}\n", SetUp.Apply(texts, setUp.Unload("multirow"))["main.tex"], StringComparison.Ordinal);
        Assert.DoesNotContain("tikzbird", SetUp.Apply(texts, setUp.Unload("tikzbird"))["main.tex"], StringComparison.Ordinal);
        // cleveref comes after hyperref; geometry may stand last; what must come before stands before.
        Assert.Contains("\\usepackage{hyperref}\n\\usepackage{cleveref}\n\\begin", SetUp.Apply(texts, setUp.Load("cleveref"))["main.tex"], StringComparison.Ordinal);
        Assert.Throws<SetUpException>(() => setUp.Load("booktabs"));
        Assert.Throws<SetUpException>(() => setUp.Load("tikzbird"));
        Assert.Throws<SetUpException>(() => setUp.Unload("xspace"));
    }
}
