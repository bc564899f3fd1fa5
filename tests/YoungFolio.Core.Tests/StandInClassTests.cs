using System.Runtime.CompilerServices;
using YoungFolio.Compiler;
using YoungFolio.Manuscript.Classes;

namespace YoungFolio.Core.Tests;

/// <summary>
/// Papers in publishers' classes that don't ship, written as their authors write them (the classes' commands from memory of
/// their published guides). Each file's first line says what is printed, in this order.
/// </summary>
public sealed class StandInClassTests
{
    public static TheoryData<string> Papers => [.. Directory.GetFiles(Folder(), "*.tex").Select(p => Path.GetFileNameWithoutExtension(p)!).Order(StringComparer.Ordinal)];

    private static string Folder([CallerFilePath] string here = "") => Path.Combine(Path.GetDirectoryName(here)!, "Papers");

    private static CompileResult Paper(string name) => Compiled.Files(("main.tex", File.ReadAllText(Path.Combine(Folder(), name + ".tex"))));

    [Theory]
    [MemberData(nameof(Papers))]
    public void A_paper_comes_through_with_one_remark_on_its_class(string name)
    {
        CompileResult result = Paper(name);
        Assert.DoesNotContain(result.Report.Findings, f => f.Kind == "fix");
        Assert.Single(result.Report.Findings, f => f.Code == "class-stands-in");
    }

    [Theory]
    [MemberData(nameof(Papers))]
    public void All_parts_of_its_front_are_printed_in_a_sensible_order(string name)
    {
        string expected = File.ReadLines(Path.Combine(Folder(), name + ".tex")).First()["% prints: ".Length..];
        string[] printed = [.. PdfWords.Of(Paper(name)).Select(w => w.Text)];
        var missing = expected.Split(' ').GroupBy(w => w).Where(g => Letters(printed).Count(w => w == Plain(g.Key)) < Math.Min(1, g.Count())).Select(g => g.Key).ToList();
        Assert.True(missing.Count == 0, $"not printed: {string.Join(' ', missing)}\n{string.Join(' ', printed)}");
        // The title, the abstract and the first section come in this order.
        string text = string.Join(' ', printed);
        string title = string.Join(' ', expected.Split(' ')[..2]);
        int[] at = [text.IndexOf(title, StringComparison.Ordinal), text.IndexOf("Abstract", StringComparison.Ordinal), text.IndexOf("Introduction", StringComparison.Ordinal)];
        Assert.All(at, i => Assert.True(i >= 0, text));
        Assert.Equal(at.Order(), at);
    }

    public static TheoryData<string> Documents => [.. Directory.GetFiles(Path.Combine(Folder(), "../Elsewhere"), "*.tex").Select(p => Path.GetFileNameWithoutExtension(p)!).Order(StringComparer.Ordinal)];

    /// <summary>Slides, a manual, a test, letters, theses: nothing of theirs is lost, and nothing is to fix.</summary>
    [Theory]
    [MemberData(nameof(Documents))]
    public void A_document_from_elsewhere_comes_through(string name)
    {
        string source = File.ReadAllText(Path.Combine(Folder(), "../Elsewhere", name + ".tex"));
        CompileResult result = Compiled.Files(("main.tex", source));
        Assert.Empty(result.Report.Findings.Where(f => f.Kind == "fix").Select(f => f.Message));
        List<string> printed = Letters(PdfWords.Of(result).Select(w => w.Text));
        string[] missing = [.. source.Split('\n')[0]["% prints: ".Length..].Split(' ').Where(w => !printed.Contains(Plain(w)))];
        Assert.True(missing.Length == 0, $"not printed: {string.Join(' ', missing)}\n{string.Join(' ', printed)}");
    }

    [Theory]
    [InlineData("", "1 Walls")]
    [InlineData("chapterprefix=true", "Chapter 1 Walls")]
    public void Chapters_of_the_classes_with_sans_serif_heads_stand_on_one_line(string options, string head) =>
        Assert.StartsWith(head, PdfWords.Joined(Compiled.Files(("main.tex", $"\\documentclass[{options}]{{scrreprt}}\\begin{{document}}\\chapter{{Walls}}Words.\\end{{document}}"))), StringComparison.Ordinal);

    [Fact]
    public void Heads_and_feet_have_inner_middle_and_outer_fields()
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Files(("main.tex",
            "\\documentclass[twoside]{scrartcl}\\usepackage[headsepline]{scrlayer-scrpage}\\clearpairofpagestyles\\ihead{Inner}\\chead{Middle}\\ohead{\\pagemark}\\ofoot*{Outer}\\begin{document}One\\newpage Two\\end{document}")));
        Assert.True(words.First(w => w.Text == "Inner").Left < words.First(w => w.Text == "Middle").Left);
        Assert.True(words.Last(w => w.Text == "Inner").Left > words.Last(w => w.Text == "Middle").Left);
        Assert.True(words.First(w => w.Text == "Outer").Left > words.Last(w => w.Text == "Outer").Left);
    }

    [Fact]
    public void An_end_closes_what_its_commands_began() =>
        Assert.Empty(Compiled.Codes(Compiled.Body("\\begin{two}Left\\other Right\\end{two} after", "\\newenvironment{two}{\\begin{minipage}{3cm}}{\\end{minipage}}\\newcommand{\\other}{\\end{minipage}\\begin{minipage}{3cm}}")));

    // Marks of notes and places stand close to names.
    private static string Plain(string word) => new([.. word.Where(c => char.IsLetter(c) || c is '.' or '@')]);

    private static List<string> Letters(IEnumerable<string> words) => [.. words.Select(Plain)];

    [Theory]
    [InlineData("IEEEtran", true)]
    [InlineData("acmart", true)]
    [InlineData("mnras", true)]
    [InlineData("elsarticle", false)]
    [InlineData("llncs", false)]
    public void Families_of_two_columns_have_two(string name, bool two)
    {
        // Two columns take all of the paper but two inches, one column 345 to 390 points.
        double left = PdfWords.Of(Paper(name)).Where(w => w.Page == 1).Min(w => w.Left);
        Assert.Equal(two, left < 90);
    }

    [Fact]
    public void A_class_file_of_the_same_name_is_left_aside_and_that_is_said()
    {
        const string Source = "\\documentclass{CLASS}\\begin{document}\\hello\\end{document}";
        (string Path, string Text) own = ("wall.cls", "\\ProvidesClass{wall}\\LoadClass{article}\\newcommand{\\hello}{Words}");
        CompileResult known = Compiled.Files(("main.tex", Source.Replace("CLASS", "llncs", StringComparison.Ordinal)), ("llncs.cls", own.Text));
        Assert.Contains("llncs.cls isn't read", known.Report.Findings.Single(f => f.Code == "class-stands-in").Advice, StringComparison.Ordinal);
        Assert.Contains("Words", Compiled.Text(Compiled.Files(("main.tex", Source.Replace("CLASS", "wall", StringComparison.Ordinal)), own)), StringComparison.Ordinal);
    }

    [Fact]
    public void A_label_before_the_title_keeps_nothing_from_the_first_page() =>
        Assert.Equal(1, Paper("mnras").Report.Pages);

    [Fact]
    public void No_class_of_ours_is_stood_in_for()
    {
        Assert.True(StandInClass.Names.Count() > 40);
        Assert.DoesNotContain(StandInClass.Names, n => ClassCatalogue.Find(n) is not null);
        Assert.All(StandInClass.Names, n => Assert.Contains(StandInClass.Find(n)!.Base, ClassCatalogue.All));
        Assert.Null(StandInClass.Find("wallclass"));
    }

    [Theory]
    [InlineData("\\makeatletter\\def\\x{}\\edef\\y{\\ifx\\x\\@empty yes\\else no\\fi}\\makeatother", "\\y", "yes")]
    [InlineData("\\author{}\\makeatletter\\edef\\y{\\ifx\\@author\\@empty yes\\else no\\fi}\\makeatother", "\\y", "yes")]
    [InlineData("\\makeatletter\\def\\x{}\\g@addto@macro\\x{}\\edef\\y{\\ifx\\x\\empty yes\\else no\\fi}\\makeatother", "\\y", "yes")]
    [InlineData("\\AtBeginDocument{Before. }", "After.", "Before. After.")]
    [InlineData("\\AtBeginDocument{\\maketitle}\\title{Walls}\\author{Ann}\\date{}", "After.", "Walls Ann After.")]
    public void What_classes_and_preambles_rely_on_holds(string preamble, string body, string expected) =>
        Assert.Equal(expected, PdfWords.Joined(Compiled.Files(("main.tex", $"\\documentclass{{article}}{preamble}\\pagestyle{{empty}}\\begin{{document}}\\thispagestyle{{empty}}{body}\\end{{document}}"))).TrimEnd(' ', '1'));

    [Fact]
    public void Unused_labels_of_headings_are_one_remark()
    {
        CompileResult result = Compiled.Files(("main.tex", "\\documentclass{article}\\begin{document}\\section{A}\\label{a}\\section{B}\\label{b}\\subsection{C}\\label{c}\\section{D}\\label{d}See \\ref{b}.\\begin{equation}x\\label{e}\\end{equation}\\end{document}"));
        Assert.Equal(["unused-heading-labels", "unused-label"], result.Report.Findings.Select(f => f.Code).Order());
        Assert.Contains("“a”, “c”, “d”", result.Report.Findings.First(f => f.Code == "unused-heading-labels").Message, StringComparison.Ordinal);
    }

    // exam's documentation (from memory): a right choice alone is bold where answers are printed; room for an answer is full of lines.
    [Fact]
    public void A_right_choice_alone_is_bold_and_room_has_lines()
    {
        CompileResult result = Compiled.Files(("main.tex", "\\documentclass{exam}\\printanswers\\begin{document}\\begin{questions}\\question[2] Which, two or three ? \\begin{choices}\\choice one \\CorrectChoice two \\choice three\\end{choices}\\fillwithlines{1in}\\fillin[moss][2in]\\end{questions}\\end{document}"));
        // Bold words are wider.
        double Widest(string word) => PdfWords.Of(result).Where(w => w.Text == word).Max(w => w.Right - w.Left) - PdfWords.Of(result).Where(w => w.Text == word).Min(w => w.Right - w.Left);
        Assert.True(Widest("two") > 0.5);
        Assert.Equal(0, Widest("three"), 0.05);
        Assert.Equal(5, PdfWords.Rules(result).Count(r => r.Width > 100));
        Assert.Contains("moss", Compiled.Text(result), StringComparison.Ordinal);
    }

    [Fact]
    public void A_poster_is_a_large_sheet_with_blocks()
    {
        CompileResult result = Compiled.Files(("main.tex", "\\documentclass{tikzposter}\\title{Walls}\\author{Ann}\\institute{Hollin}\\usetheme{Autumn}\\begin{document}\\maketitle\\begin{columns}\\column{0.5}\\block{Left}{First words}\\column{0.5}\\block{Right}{Second words}\\note{Remark}\\end{columns}\\end{document}"));
        Assert.Equal("class-stands-in", Assert.Single(result.Report.Findings).Code);
        List<PdfWord> words = PdfWords.Of(result);
        Assert.Equal(1, result.Report.Pages);
        Assert.All((string[])["Walls", "Ann", "Hollin", "Left", "First", "Right", "Second", "Remark"], w => Assert.Contains(words, x => x.Text == w));
        // Two columns side by side on a sheet of 841 by 1189 mm.
        Assert.True(words.First(w => w.Text == "Second").Left > words.First(w => w.Text == "First").Left + 1000);
        Assert.Equal(words.First(w => w.Text == "Left").Top, words.First(w => w.Text == "Right").Top, 1.0);
    }
}
