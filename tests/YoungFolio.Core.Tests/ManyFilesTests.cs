using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Manuscripts of many files: files, folders, and class and style files of the group's own.</summary>
public class ManyFilesTests
{
    private static string Whole(string body, string preamble = "", string name = "report") =>
        $"\\documentclass{{{name}}}\n{preamble}\n\\begin{{document}}\n{body}\n\\end{{document}}\n";

    private static (string Text, string[] Codes) Read(params (string, string)[] files)
    {
        CompileResult result = Compiled.Files(files);
        return (Compiled.Text(result), [.. result.Report.Findings.Select(f => f.Code)]);
    }

    [Theory]
    [InlineData("\\input{a}", "a.tex")]
    [InlineData("\\input a.tex ", "a.tex")]
    [InlineData("\\input{a.tex}", "a.tex")]
    [InlineData("\\input{\"my file\"}", "my file.tex")]
    [InlineData("\\input{kapitel/mauer-größe}", "kapitel/mauer-größe.tex")]
    [InlineData("\\input{chapters/../a}", "a.tex")]
    [InlineData("\\input{./a}", "a.tex")]
    [InlineData("\\newcommand{\\where}{sub}\\input{\\where/a}", "sub/a.tex")]
    [InlineData("\\InputIfFileExists{a}{yes }{no}", "a.tex")]
    public void Names_and_folders(string command, string path)
    {
        (string text, string[] codes) = Read(("main.tex", Whole(command)), (path, "Found."));
        Assert.Empty(codes);
        Assert.Contains("Found.", text);
    }

    [Fact]
    public void Accents_may_be_stored_in_either_form()
    {
        string name = "größe";
        foreach (System.Text.NormalizationForm form in (System.Text.NormalizationForm[])[System.Text.NormalizationForm.FormC, System.Text.NormalizationForm.FormD])
        {
            (string text, _) = Read(("main.tex", Whole($"\\input{{{name}}}")), (name.Normalize(form) + ".tex", "Found."));
            Assert.Contains("Found.", text);
        }
    }

    [Fact]
    public void Only_what_is_asked_for_is_included()
    {
        (string text, string[] codes) = Read(("main.tex", Whole("\\include{a}\\include{b}", "\\includeonly{b}")), ("a.tex", "\\chapter{First}"), ("b.tex", "\\chapter{Second}"));
        Assert.Empty(codes);
        Assert.DoesNotContain("First", text);
        Assert.Contains("Second", text);
    }

    [Fact]
    public void Imported_files_look_in_their_own_folder_first()
    {
        (string text, string[] codes) = Read(("main.tex", Whole("\\import{chapters/}{a}\\subimport{chapters/}{b}", "\\usepackage{import}")),
            ("chapters/a.tex", "A, \\input{deep/c}"), ("chapters/b.tex", "B."), ("chapters/deep/c.tex", "C."));
        Assert.Empty(codes);
        Assert.StartsWith("A, C.B.", text);
    }

    [Fact]
    public void Subfiles_leave_their_own_preamble_out()
    {
        (string text, string[] codes) = Read(("main.tex", Whole("Start. \\subfile{chapters/a}End.", "\\usepackage{subfiles}\\newcommand{\\w}{walls}")),
            ("chapters/a.tex", "\\documentclass[../main.tex]{subfiles}\n\\begin{document}\nOn \\w. \\input{b}\n\\end{document}\n"), ("chapters/b.tex", "B."));
        Assert.Empty(codes);
        Assert.StartsWith("Start. On walls. B. End.", text);
    }

    [Fact]
    public void Files_that_are_missing_circular_or_outside_are_findings()
    {
        Assert.Equal(["missing-file"], Read(("main.tex", Whole("\\input{gone}"))).Codes);
        Assert.Equal(["file-in-itself"], Read(("main.tex", Whole("\\input{a}")), ("a.tex", "\\input{b}"), ("b.tex", "\\input{a}")).Codes);
        Assert.Equal(["file-outside"], Read(("main.tex", Whole("\\input{../../secret}"))).Codes);
        CompileResult near = Compiled.Files(("main.tex", Whole("\\input{chapters/wals}")), ("chapters/walls.tex", "x"));
        Assert.Equal("chapters/walls.tex", near.Report.Findings.Single().Repair!.Text);
    }

    [Fact]
    public void A_style_file_of_the_group_declares_options_and_commands()
    {
        const string Style = "\\NeedsTeXFormat{LaTeX2e}\n\\ProvidesPackage{group}[2026/11/25 House style]\n\\newif\\if@long\n\\DeclareOption{long}{\\@longtrue}\n\\DeclareOption*{\\PackageWarning{group}{no}}\n"
            + "\\ProcessOptions\\relax\n\\RequirePackage{xspace}\n\\newcommand{\\group}{\\if@long Hollin Edge field group\\else HE\\fi\\xspace}\n\\AtEndOfPackage{\\newcommand{\\late}{late}}\n\\AtBeginDocument{\\def\\hook{hooked}}\n";
        Assert.StartsWith("Hollin Edge field group walls late hooked", Read(("main.tex", Whole("\\group walls \\late{} \\hook", "\\usepackage[long]{group}", "article")), ("group.sty", Style)).Text);
        (string text, string[] codes) = Read(("main.tex", Whole("\\group walls", "\\usepackage{group}", "article")), ("group.sty", Style));
        Assert.Empty(codes);
        Assert.StartsWith("HE walls", text);
    }

    [Fact]
    public void A_class_file_of_the_group_builds_on_another_class()
    {
        const string Own = "\\NeedsTeXFormat{LaTeX2e}\n\\ProvidesClass{groupthesis}\n\\DeclareOption{draftmark}{\\def\\mark{DRAFT}}\n\\DeclareOption*{\\PassOptionsToClass{\\CurrentOption}{report}}\n\\ExecuteOptions{}\n\\def\\mark{}\n\\ProcessOptions\n"
            + "\\LoadClass[a4paper]{report}\n\\RequirePackage{setspace}\n\\renewcommand{\\chaptername}{Kapitel}\n\\newcommand{\\supervisor}[1]{\\gdef\\@supervisor{#1}}\n"
            + "\\renewcommand{\\maketitle}{\\begin{titlepage}\\centering\\mark\\ \\@title\\par\\@author\\par under \\@supervisor\\end{titlepage}}\n\\endinput\nnever read";
        CompileResult result = Compiled.Files(("main.tex", "\\documentclass[12pt,draftmark]{groupthesis}\n\\title{Walls}\\author{Ilse}\\supervisor{Anton}\n\\begin{document}\\maketitle\\chapter{One}Text.\\end{document}"), ("groupthesis.cls", Own));
        Assert.Empty(result.Report.Findings);
        Assert.Equal("DRAFT Walls Ilse under Anton Kapitel 1 One Text. 1", Compiled.Text(result));
        PageSpot spot = result.Map.FindSpot("main.tex", 3, 43)!;
        Assert.Equal(12 * 72 / 72.27, spot.Height, 1);
    }

    [Fact]
    public void Key_value_options_reach_a_style_file()
    {
        const string Style = "\\ProvidesPackage{kv}\\RequirePackage{kvoptions}\\SetupKeyvalOptions{family=kv,prefix=kv@}\\DeclareStringOption[none]{name}\\DeclareBoolOption{big}\\ProcessKeyvalOptions*\\newcommand\\shown{\\kv@name\\ifkv@big, big\\fi}";
        (string text, string[] codes) = Read(("main.tex", Whole("\\shown", "\\usepackage[name=Bao,big]{kv}", "article")), ("kv.sty", Style));
        Assert.Empty(codes);
        Assert.StartsWith("Bao, big", text);
    }

    // LaTeX for package and class authors, on key-value options (from memory).
    [Theory]
    [InlineData("\\DeclareKeys{name .store = \\kv@name}\\ProcessKeyOptions\\newcommand\\shown{\\kv@name}", "[name={Bao, and Ilse}]", "Bao, and Ilse")]
    [InlineData("\\DeclareKeys{name.store=\\kv@name,name.initial=Bao}\\ProcessKeyOptions\\newcommand\\shown{\\kv@name}", "", "Bao")]
    [InlineData("\\DeclareKeys{big .if = kv@big, big .usage = load, plain .ifnot = kv@big}\\ProcessKeyOptions\\newcommand\\shown{\\ifkv@big big\\else small\\fi}", "[big]", "big")]
    [InlineData("\\DeclareKeys{big .if = kv@big, plain .ifnot = kv@big}\\ProcessKeyOptions\\newcommand\\shown{\\ifkv@big big\\else small\\fi}", "[big,plain]", "small")]
    [InlineData("\\DeclareKeys{unit .code = {\\def\\kv@unit{in #1}}, unit .default = mm}\\ProcessKeyOptions\\newcommand\\shown{\\kv@unit}", "[unit]", "in mm")]
    [InlineData("\\DeclareKeys[x]{a .store = \\kv@a}\\ProcessKeyOptions[x]\\SetKeys[x]{a=later}\\newcommand\\shown{\\kv@a}", "[a=first]", "later")]
    [InlineData("\\DeclareUnknownKeyHandler{\\edef\\kv@all{\\kv@all(#1: #2)}}\\def\\kv@all{}\\ProcessKeyOptions\\newcommand\\shown{\\kv@all}", "[a=1,b]", "(a: 1)(b: )")]
    public void Keys_that_a_style_file_declares_are_its_options(string style, string options, string printed)
    {
        (string text, string[] codes) = Read(("main.tex", Whole("\\shown", $"\\usepackage{options}{{kv}}", "article")), ("kv.sty", "\\ProvidesPackage{kv}" + style));
        Assert.Empty(codes);
        Assert.StartsWith(printed, text);
    }

    [Fact]
    public void What_a_class_declares_no_key_for_is_left_to_the_one_below_it()
    {
        const string Class = "\\ProvidesClass{own}\\DeclareKeys{office .store = \\own@office}\\ProcessKeyOptions\\LoadClassWithOptions{article}\\newcommand\\shown{\\own@office}";
        (string text, string[] codes) = Read(("main.tex", "\\documentclass[office=East,12pt]{own}\\begin{document}\\shown\\end{document}"), ("own.cls", Class));
        Assert.Empty(codes);
        Assert.StartsWith("East", text);
    }

    [Theory]
    [InlineData("\\DeclareKeys{a .store = \\kv@a}\\ProcessKeyOptions", "[b=1]")]
    [InlineData("\\DeclareKeys{a .colour = red}", "")]
    [InlineData("\\DeclareKeys{a}", "")]
    [InlineData("\\DeclareKeys{a .store = words}", "")]
    [InlineData("\\setkeys{}{a=1}", "")]
    [InlineData("\\SetKeys[]{a=1}", "")]
    public void A_key_that_nothing_is_known_of_is_said(string style, string options)
    {
        (string text, string[] codes) = Read(("main.tex", Whole("Words", $"\\usepackage{options}{{kv}}", "article")), ("kv.sty", "\\ProvidesPackage{kv}" + style));
        Assert.Equal(["unknown-option"], codes);
        Assert.StartsWith("Words", text);
    }

    [Fact]
    public void Pictures_are_found_in_the_folders_named()
    {
        byte[] png = Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==");
        CompileResult result = Compiled.Bytes(
            ("main.tex", System.Text.Encoding.UTF8.GetBytes(Whole("\\includegraphics{wall}\\includegraphics[width=1cm]{stone.png}", "\\usepackage{graphicx}\\graphicspath{{pictures/}{plots/}}"))),
            ("plots/wall.png", png), ("pictures/stone.png", png));
        Assert.Empty(result.Report.Findings);
    }

    [Theory]
    [InlineData("\\include{a}", "\\section{Inner}Words.", true)]
    [InlineData("\\include{a}", "\\chapter{Own}\\section{Inner}", false)]
    [InlineData("\\input{a}", "\\section{Inner}Words.", false)]
    public void A_file_that_continues_another_s_chapter_is_said(string command, string file, bool said)
    {
        (_, string[] codes) = Read(("main.tex", Whole("\\chapter{First}Words.\n" + command)), ("a.tex", file));
        Assert.Equal(said, codes.Contains("file-without-chapter"));
    }

    [Fact]
    public void Words_of_every_file_lead_back_to_it()
    {
        CompileResult result = Compiled.Files(("main.tex", Whole("Main words. \\input{a}")), ("a.tex", "First line.\nSecond line here."));
        PageSpot spot = result.Map.FindSpot("a.tex", 2, 8)!;
        Markup.SourceLocation place = result.Map.FindSource(spot.Sheet, spot.X + 1, spot.Y + 4)!.Value;
        Assert.Equal(("a.tex", 2), (place.File, place.Line));
    }
}
