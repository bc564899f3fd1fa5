using YoungFolio.Compiler;
using YoungFolio.HandIn;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests.HandIn;

/// <summary>What the checks before handing in find, and what they leave alone.</summary>
public class HandInChecksTests
{
    private static readonly ManuscriptCompiler s_compiler = new();
    private static readonly OpenTalk s_quiet = new(0, 0);

    [Theory]
    [InlineData("references", "A\\ref{nowhere}", "A reference leads nowhere")]
    [InlineData("citations", "A\\cite{nobody}", "A citation has no source")]
    [InlineData("to-fix", "A \\nosuchcommand", "1 place in the markup to fix")]
    [InlineData("mentions", "\\begin{figure}x\\caption{c}\\label{f}\\end{figure}", "A figure or table is never mentioned")]
    [InlineData("captions", "\\begin{figure}x\\end{figure}", "A figure or table has no caption")]
    [InlineData("typed-notes", "A\\todo{look here}", "A note is left in the text")]
    [InlineData("too-wide", "\\begin{tabular}{c}\\rule{20cm}{1pt}\\end{tabular}", "One thing sticks out of the text’s block")]
    [InlineData("missing-files", "\\input{gone}", "A file that is called for is missing or can’t be read")]
    [InlineData("glyphs", "A 𓀀", "1 character in no font")]
    public void What_is_wrong_is_found_with_its_place(string key, string body, string says)
    {
        HandInCheck check = Run(body, preamble: "\\usepackage{todonotes}").Single(c => c.Key == key);
        Assert.Equal(says, check.Says);
        Assert.NotEqual(CheckState.Holds, check.State);
        CheckPlace place = Assert.Single(check.Places);
        Assert.Equal(("main.tex", 4), (place.File, place.Line));
        Assert.Equal(CheckState.Holds, Run("A word.").Single(c => c.Key == key).State);
    }

    [Fact]
    public void A_mend_comes_along_where_there_is_one_safe_way()
    {
        HandInCheck check = Run("\\section{A}\\label{sec:walls}\\ref{sec:wals}").Single(c => c.Key == "references");
        Assert.Equal("sec:walls", check.Places[0].Repair?.Text);
    }

    [Theory]
    [InlineData("A \\emph{b} c $x$ d.", 1, 10, CheckState.Holds, "Abstract: 4 words")]
    [InlineData("A b.", 3, 10, CheckState.Mend, "Abstract: 2 words")]
    [InlineData("A b c d e f.", 1, 5, CheckState.Mend, "Abstract: 6 words")]
    public void The_abstract_has_its_length(string text, int fewest, int most, CheckState state, string says)
    {
        HandInCheck check = Run($"\\begin{{abstract}}{text}\\end{{abstract}}Words.", new HouseRules { FewestAbstractWords = fewest, MostAbstractWords = most }).Single(c => c.Key == "abstract");
        Assert.Equal((state, says), (check.State, check.Says));
    }

    [Fact]
    public void An_abstract_may_be_a_chapter_of_the_languages_name() =>
        Assert.Equal("Abstract: 3 words", Run("\\section*{Streszczenie}Raz dwa trzy.\\section{B}More.", preamble: "\\usepackage[polish]{babel}").Single(c => c.Key == "abstract").Says);

    [Theory]
    [InlineData("\\section{Methods}\\section{Results}", CheckState.Holds)]
    [InlineData("\\section{Results}\\section{Methods}", CheckState.Mend)]
    [InlineData("\\section{Methods}", CheckState.Mend)]
    public void Headings_are_there_in_their_order(string body, CheckState state) =>
        Assert.Equal(state, Run(body, new HouseRules { Headings = ["methods", "Results"] }).Single(c => c.Key == "headings").State);

    // ISO 216: A4 is 210 by 297 mm.
    [Theory]
    [InlineData("a4paper", "a4", CheckState.Holds, "Paper: A4")]
    [InlineData("letterpaper", "a4", CheckState.Mend, "Paper: Letter")]
    [InlineData("a4paper,landscape", "a4", CheckState.Holds, "Paper: A4, lying")]
    public void The_paper_is_what_is_asked_for(string option, string paper, CheckState state, string says)
    {
        HandInCheck check = Run("A", new HouseRules { Paper = paper }, $"\\usepackage[{option}]{{geometry}}").Single(c => c.Key == "paper");
        Assert.Equal((state, says), (check.State, check.Says));
    }

    [Theory]
    [InlineData("left=25mm,right=20mm,top=20mm,bottom=20mm", 0)]
    [InlineData("left=25mm,right=20mm,top=20mm,bottom=18mm", 1)]
    [InlineData("left=20mm,right=15mm,top=20mm,bottom=20mm", 2)]
    public void Margins_are_wide_enough(string margins, int narrow)
    {
        HandInCheck check = Run("A", new HouseRules { Inner = 25, Outer = 20, Top = 20, Bottom = 20 }, $"\\usepackage[a4paper,{margins}]{{geometry}}").Single(c => c.Key == "margins");
        Assert.Equal(narrow, check.Places.Count);
        Assert.Equal(narrow == 0 ? CheckState.Holds : CheckState.Mend, check.State);
    }

    [Theory]
    [InlineData("A\\newpage B", null, 1, CheckState.Mend)]
    [InlineData("A\\newpage B", 2, 2, CheckState.Holds)]
    [InlineData("A", 2, null, CheckState.Mend)]
    public void Pages_are_counted(string body, int? fewest, int? most, CheckState state) =>
        Assert.Equal(state, Run(body, new HouseRules { FewestPages = fewest, MostPages = most }).Single(c => c.Key == "pages").State);

    [Fact]
    public void Small_type_is_that_of_words_and_not_of_indices()
    {
        Assert.Equal("Smallest type: 10 pt", Run("Words $x_{i_j}$ with a mark\\textsuperscript{a}.").Single(c => c.Key == "least-type").Says);
        HandInCheck check = Run("Words {\\tiny that nobody reads}.", new HouseRules { LeastType = 8 }).Single(c => c.Key == "least-type");
        Assert.Equal((CheckState.Mend, "Smallest type: 5 pt"), (check.State, check.Says));
        Assert.Equal(1, check.Places[0].Sheet);
        Assert.Equal("Smallest type: 5 pt", Run("\\scalebox{0.5}{Words}", preamble: "\\usepackage{graphicx}").Single(c => c.Key == "least-type").Says);
    }

    // setspace's \onehalfspacing gives 1.25 times 12 pt at 10 pt (its manual, from memory): one and a half of the type's size.
    [Theory]
    [InlineData("\\onehalfspacing", "Lines stand one and a half", CheckState.Holds)]
    [InlineData("\\doublespacing", "Lines stand double", CheckState.Holds)]
    [InlineData("", "Lines stand single", CheckState.Mend)]
    public void Lines_stand_apart(string spacing, string says, CheckState state)
    {
        HandInCheck check = Run("Words and words.", new HouseRules { LeastSpacing = 1.5 }, "\\usepackage{setspace}" + spacing).Single(c => c.Key == "spacing");
        Assert.Equal((says, state), (check.Says, check.State));
    }

    // 100 pixels on an inch are 100 dots to the inch.
    [Theory]
    [InlineData("width=1in", 200, CheckState.Mend, "wall.png prints at 100 dots an inch")]
    [InlineData("width=0.5in", 200, CheckState.Holds, "Pictures of dots are fine enough")]
    [InlineData("width=1in,height=0.4in", 200, CheckState.Mend, "wall.png prints at 100 dots an inch")]
    public void Pictures_have_dots_enough_as_they_are_printed(string size, int least, CheckState state, string says)
    {
        HandInCheck check = Run($"\\includegraphics[{size}]{{wall}}", new HouseRules { LeastDots = least }, "\\usepackage{graphicx}", ("wall.png", Picture(100))).Single(c => c.Key == "dots");
        Assert.Equal((state, says), (check.State, check.Says));
        Assert.Equal(state == CheckState.Mend ? 1 : 0, check.Places.Count(p => p is { Sheet: 1, File: "main.tex", Line: 4 }));
    }

    [Fact]
    public void A_picture_that_is_made_smaller_in_a_box_has_more_dots() =>
        Assert.Equal(CheckState.Holds, Run("\\scalebox{0.25}{\\includegraphics[width=1in]{wall}}", new HouseRules { LeastDots = 300 }, "\\usepackage{graphicx}", ("wall.png", Picture(100))).Single(c => c.Key == "dots").State);

    [Theory]
    [InlineData("[alt={A wall of dry stone}]", CheckState.Holds)]
    [InlineData("[width=1in, alt = A wall]", CheckState.Holds)]
    [InlineData("[artifact]", CheckState.Holds)]
    [InlineData("[alt={}]", CheckState.Mend)]
    [InlineData("[width=1in]", CheckState.Mend)]
    [InlineData("", CheckState.Mend)]
    public void Pictures_have_words(string options, CheckState state) =>
        Assert.Equal(state, Run($"\\includegraphics{options}{{wall}}", new HouseRules { WantsAlternatives = true }, "\\usepackage{graphicx}", ("wall.png", Picture(300))).Single(c => c.Key == "alternatives").State);

    [Fact]
    public void A_drawing_of_lines_needs_words_too_and_a_picture_in_a_definition_is_placed_where_that_is_used()
    {
        byte[] drawing = "<svg xmlns='http://www.w3.org/2000/svg' width='10' height='10'><rect width='5' height='5'/></svg>"u8.ToArray();
        HandInCheck check = Run("\\includegraphics{figures/growth}% \\includegraphics{commented}\n", null, "\\usepackage{graphicx}\\newcommand{\\pic}[1]{\\includegraphics{#1}}", ("figures/growth.svg", drawing)).Single(c => c.Key == "alternatives");
        Assert.Equal("figures/growth.svg", Assert.Single(check.Places).Says);
    }

    [Fact]
    public void What_people_say_is_counted()
    {
        IReadOnlyList<HandInCheck> checks = Run("A", talk: new OpenTalk(2, 1));
        Assert.Equal("2 notes are open", checks.Single(c => c.Key == "notes").Says);
        Assert.Equal("One suggestion waits", checks.Single(c => c.Key == "suggestions").Says);
    }

    [Fact]
    public void A_paper_for_blind_reading_says_no_author()
    {
        const string Preamble = "\\usepackage{hyperref}\\hypersetup{pdfauthor={Ilse Marrable},pdftitle={Walls}}";
        Assert.Equal(CheckState.Mend, Run("A", new HouseRules { IsAnonymous = true }, Preamble).Single(c => c.Key == "anonymous").State);
        Assert.Equal("The PDF says its author: Ilse Marrable", Run("A", null, Preamble).Single(c => c.Key == "author").Says);
    }

    [Fact]
    public void Every_check_of_the_demo_thesis_has_a_key_of_its_own_and_says_something()
    {
        var files = new FileTree(DemoManuscripts.Thesis());
        CompileResult proof = s_compiler.Compile(DemoManuscripts.Snapshot(DemoManuscripts.Thesis()));
        foreach ((string key, string name, HouseRules rules) in HouseRules.Shipped)
        {
            Assert.Null(rules.Problem());
            Assert.NotEqual(key, name);
            List<HandInCheck> checks = [.. HandInChecks.Run(proof, files, rules, s_quiet).SelectMany(g => g.Checks)];
            Assert.Equal(checks.Count, checks.Select(c => c.Key).Distinct().Count());
            Assert.All(checks, c => Assert.NotEmpty(c.Says));
            Assert.True(checks.Count >= 25);
        }
    }

    [Theory]
    [InlineData("{author}-{year}-{title}", "Ilse Marrable", "Über Flechten: Ein Maß?", "marrable-2026-uber-flechten-ein-mass")]
    [InlineData("{author}-{title}", "Vane, P.; Other", "Walls", "vane-walls")]
    [InlineData("", "Ilse Marrable", "", "on-the-shelf")]
    [InlineData("../{title}", "x", "...", "manuscript")]
    public void A_file_has_a_name_that_every_system_reads(string pattern, string author, string title, string name)
    {
        PrintFacts print = s_compiler.Compile(DemoManuscripts.Snapshot([ManuscriptFile.FromText("main.tex", "\\documentclass{article}\\begin{document}A\\end{document}")])).Print with { Author = author, Title = title };
        Assert.Equal(name, HandInName.Of(new HouseRules { FileName = pattern }, print, "On the shelf", 2026));
    }

    [Fact]
    public void Rules_that_cannot_hold_are_refused()
    {
        Assert.NotNull(new HouseRules { FewestPages = 5, MostPages = 4 }.Problem());
        Assert.NotNull(new HouseRules { Inner = -1 }.Problem());
        Assert.NotNull(new HouseRules { LeastType = double.NaN }.Problem());
        Assert.NotNull(new HouseRules { Paper = "a17" }.Problem());
        Assert.NotNull(new HouseRules { Headings = [" "] }.Problem());
    }

    [Fact]
    public void An_empty_manuscript_is_said_and_not_a_failure() => Assert.Contains(Run(""), c => c is { Key: "paper", State: CheckState.Mend } or { Key: "pages" });

    private static IReadOnlyList<HandInCheck> Run(string body, HouseRules? rules = null, string preamble = "", params (string Path, byte[] Bytes)[] more) => Run(body, s_quiet, rules, preamble, more);

    private static IReadOnlyList<HandInCheck> Run(string body, OpenTalk talk, HouseRules? rules = null, string preamble = "", params (string Path, byte[] Bytes)[] more)
    {
        var files = new FileTree([ManuscriptFile.FromText("main.tex", $"\\documentclass{{article}}\n{preamble}\n\\begin{{document}}\n{body}\n\\end{{document}}\n"), .. more.Select(f => new ManuscriptFile(f.Path, f.Bytes))]);
        CompileResult proof = s_compiler.Compile(new ManuscriptSnapshot(files, "main.tex", new DateOnly(2026, 11, 9)));
        return [.. HandInChecks.Run(proof, files, rules ?? new HouseRules(), talk).SelectMany(g => g.Checks)];
    }

    // A grey square of so many pixels, 72 to the inch.
    private static byte[] Picture(int side) => GreyPng.Of(side, side);
}
