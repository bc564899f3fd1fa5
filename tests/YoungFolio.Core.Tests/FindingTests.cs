using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Slips are named where they were made, once, and the proof stays whole.</summary>
public class FindingTests
{
    private const string Before = "\\documentclass{article}\n\\usepackage{amsmath}\n\\begin{document}\nFirst words.\n\n";
    private const string After = "\n\nLast words.\n\\end{document}\n";

    // The slip stands on line 6.
    [Theory]
    [InlineData("A \\emhp{word} here.", "unknown-command", "\\emph")]
    [InlineData("A \\emph{word here.", "missing-brace", null)]
    [InlineData("A word} here.", "surplus-brace", "")]
    [InlineData("\\begin{quote}Words.", "unclosed-environment", null)]
    [InlineData("\\begin{quote}Words.\\end{quot}", "wrong-end", "quote")]
    [InlineData("Words.\\end{quote}", "surplus-end", null)]
    [InlineData("The angle \\alpha is small.", "mathematics-outside", "$\\alpha$")]
    [InlineData("A name_with a line.", "script-outside", "\\_")]
    [InlineData("A formula $x+y that goes on.", "unclosed-formula", null)]
    [InlineData("\\[ x + y", "unclosed-formula", null)]
    [InlineData("$x^a^b$", "double-superscript", null)]
    [InlineData("$\\left( x$ and more.", "missing-right", null)]
    [InlineData("\\input{chapters/gone}", "missing-file", null)]
    [InlineData("\\input{../../etc/passwd}", "file-outside", null)]
    [InlineData("\\chapter{Title}", "chapter-in-article", "\\section")]
    [InlineData("Salt & pepper.", "stray-ampersand", "\\&")]
    [InlineData("Number #1.", "stray-hash", "\\#")]
    [InlineData("See \\ref{nowhere}.", "missing-label", null)]
    [InlineData("\\begin{itemise}Words\\end{itemise}", "unknown-environment", null)]
    [InlineData("\\includegraphics{wall}", "package-needed", "\\usepackage{graphicx}\n")]
    [InlineData("\\item Words.", "item-outside-list", null)]
    public void One_slip_is_one_finding_on_its_line(string slip, string code, string? repair)
    {
        CompileResult result = Compiled.Files(("main.tex", Before + slip + After));
        FindingLine finding = result.Report.Findings.First(f => f.Kind == "fix");
        Assert.Equal(code, finding.Code);
        Assert.Equal(("main.tex", 6), (finding.File, finding.Line));
        Assert.True(result.Report.Findings.Count(f => f.Kind == "fix") <= 2, string.Join('\n', result.Report.Findings));
        if (repair is not null)
        {
            Assert.Equal(repair, finding.Repair!.Text);
        }

        string text = Compiled.Text(result);
        Assert.Contains("First words.", text);
        Assert.Contains("Last words.", text);
    }

    [Fact]
    public void A_float_far_from_its_mention_is_said()
    {
        string far = "See \\ref{f}.\\newpage a\\newpage b\\newpage c\\newpage\\begin{figure}x\\caption{C}\\label{f}\\end{figure}";
        FindingLine finding = Assert.Single(Compiled.Body(far).Report.Findings);
        Assert.Equal(("float-far", "layout"), (finding.Code, finding.Kind));
        Assert.Empty(Compiled.Body("See \\ref{f}.\\begin{figure}x\\caption{C}\\label{f}\\end{figure}").Report.Findings);
    }

    [Theory]
    [InlineData("A \\emhp{word} here.", "A \\emph{word} here.")]
    [InlineData("Text \\left( x \\right) more.", "Text $\\left( x \\right)$ more.")]
    [InlineData("Text \\left\\{ \\left[x\\right] \\right\\}^2 more.", "Text $\\left\\{ \\left[x\\right] \\right\\}^2$ more.")]
    [InlineData("Text \\left\\langle x \\right\\rangle more.", "Text $\\left\\langle x \\right\\rangle$ more.")]
    [InlineData("The area is x^2 here.", "The area is $x^2$ here.")]
    [InlineData("About 10^{-3} of it.", "About $10^{-3}$ of it.")]
    [InlineData("Some \\textbf{bold words that go on", "Some \\textbf{bold words that go on}")]
    [InlineData("Some \\textbf{bold words that go on  \n\nNext.", "Some \\textbf{bold words that go on}  \n\nNext.")]
    [InlineData("\\begin{document}", "")]
    public void A_mend_makes_the_finding_go_away(string slip, string mended)
    {
        string source = Before + slip + After;
        RepairLine repair = Compiled.Files(("main.tex", source)).Report.Findings.First(f => f.Kind == "fix").Repair!;
        source = source.Remove(repair.Offset, repair.Length).Insert(repair.Offset, repair.Text);
        Assert.Equal(Before + mended + After, source);
        Assert.Empty(Compiled.Files(("main.tex", source)).Report.Findings);
    }

    [Theory]
    [InlineData("Text \\left( x and more.")]
    [InlineData("A word^2 of it.")]
    [InlineData("Only \\alpha and )^2.")]
    public void Where_no_mend_is_safe_there_is_none(string slip) =>
        Assert.DoesNotContain(Compiled.Body(slip).Report.Findings, f => f.Repair is { } r && (r.Words.Contains("left", StringComparison.Ordinal) || r.Words.Contains('^')));

    [Fact]
    public void A_file_that_includes_itself_is_a_finding()
    {
        CompileResult result = Compiled.Files(("main.tex", Before + "\\input{main}" + After));
        Assert.Equal(["file-in-itself"], Compiled.Codes(result));
    }

    [Theory]
    [InlineData("", "empty-manuscript")]
    [InlineData("\\documentclass{article}\nJust words.", "missing-begin-document")]
    public void An_incomplete_main_file_still_gives_a_proof(string source, string code)
    {
        CompileResult result = Compiled.Files(("main.tex", source));
        Assert.Equal([code], Compiled.Codes(result));
        Assert.Equal(1, result.Report.Pages);
        Assert.Equal(source.Contains("words", StringComparison.Ordinal), Compiled.Text(result).Contains("Just words.", StringComparison.Ordinal));
    }

    [Fact]
    public void Bytes_that_are_not_UTF_8_are_said_and_read_as_Latin_1()
    {
        byte[] bytes = [.. System.Text.Encoding.Latin1.GetBytes("\\documentclass{article}\n\\begin{document}\ncafé\n\\end{document}")];
        CompileResult result = Compiled.Bytes(("main.tex", bytes));
        FindingLine finding = Assert.Single(result.Report.Findings);
        Assert.Equal(("not-utf8", 3, 4), (finding.Code, finding.Line!.Value, finding.Column!.Value));
        Assert.Contains("café", Compiled.Text(result));
    }

    [Fact]
    public void What_is_to_fix_is_marked_in_the_PDF_under_its_word_and_at_the_papers_edge_when_that_is_asked_for()
    {
        CompileResult clean = Compiled.Body("\\noindent Some words and \\textbf{more} words.");
        CompileResult result = Compiled.Body("\\noindent Some words and \\textbff{more} words.");
        Assert.Empty(PdfWords.Rules(clean, marked: true));
        // What people hand in has none, nor has a sheet: browsers draw them over it.
        Assert.Empty(PdfWords.Rules(result));
        Assert.DoesNotContain("[1,", System.Text.Encoding.UTF8.GetString(result.Sheets.Sheets[0].Content), StringComparison.Ordinal);
        List<PdfRule> rules = PdfWords.Rules(result, marked: true);
        Assert.Equal(2, rules.Count);
        PdfWord word = PdfWords.Of(result).One("more");
        Assert.Equal(word.Left, rules[0].X, 0.5);
        Assert.Equal(word.Right - word.Left, rules[0].Width, 0.5);
        Assert.True(rules[1].X < 20 && rules[1].Height > 8);
    }

    [Fact]
    public void Damaged_pictures_are_findings_with_a_frame_in_their_place()
    {
        CompileResult result = Compiled.Bytes(
            ("main.tex", "\\documentclass{article}\\usepackage{graphicx}\\begin{document}Words.\\includegraphics{a.png}\\end{document}"u8.ToArray()),
            ("a.png", [0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A, 0, 0, 0, 13]));
        Assert.Equal(["unreadable-picture"], Compiled.Codes(result));
        Assert.Contains("Words.", Compiled.Text(result));
    }

    [Fact]
    public void A_picture_whose_data_can_not_be_used_is_named_where_it_is_placed()
    {
        byte[] png = Convert.FromBase64String("iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==");
        png[45] ^= 0xFF; // A bit of the compressed rows.
        CompileResult result = Compiled.Bytes(
            ("main.tex", "\\documentclass{article}\\usepackage{graphicx}\\begin{document}\nWords.\n\\includegraphics{a.png}\\end{document}"u8.ToArray()), ("a.png", png));
        FindingLine finding = Assert.Single(result.Report.Findings);
        Assert.Equal(("unreadable-picture", "main.tex", 3), (finding.Code, finding.File, finding.Line!.Value));
    }

    [Theory]
    [InlineData("openleft")]
    [InlineData("13pt")]
    public void A_class_option_without_effect_is_said(string option) => Assert.Equal(["unknown-option"], Compiled.Codes(
        Compiled.Files(("main.tex", $"\\documentclass[{option}]{{article}}\\begin{{document}}x\\end{{document}}")), "check"));

    [Fact]
    public void Random_token_soup_never_crashes_or_hangs()
    {
        string[] pieces = ["\\begin{", "\\end{", "equation}", "itemize}", "{", "}", "$", "$$", "&", "\\\\", "#1", "^", "_", "\\frac", "\\left(", "\\right",
            "\\item ", "\\def\\a", "\\a", "\\section{", "\\footnote{", "[", "]", "\n\n", "word ", "%", "\\ifnum1<2 ", "\\else ", "\\fi ", "\\label{x}", "\\ref{x}",
            "\\csname ", "\\endcsname ", "\\expandafter", "\\let\\b=", "\\sqrt[", "align}", "\\[", "\\]", "\\verb|", "~", "\\ ", "\\caption{", "figure}"];
        var random = new Random(2026);
        for (int i = 0; i < 400; i++)
        {
            string soup = string.Concat(Enumerable.Range(0, 60).Select(_ => pieces[random.Next(pieces.Length)]));
            CompileResult result = Compiled.Body(soup);
            Assert.True(result.Report.Pages >= 1, soup);
        }
    }

    [Theory]
    [InlineData("$a \\section{A} b$", "fix", "text-in-formula", "\\section belongs in text")]
    [InlineData("$a \\begin{itemize} \\item b \\end{itemize}$", "fix", "text-in-formula", "\\begin{itemize} belongs in text")]
    [InlineData("$\\'e$", "check", "text-in-formula", "puts an accent on text")]
    [InlineData("$\\large x$", "check", "text-in-formula", "no effect inside a formula")]
    [InlineData("$\\bfseries x$", "check", "text-in-formula", "\\bfseries is for text")]
    [InlineData("Text \\frac{1}{2} here", "fix", "mathematics-outside", "\\frac belongs in a formula")]
    [InlineData("Text \\sum_{i}^n here", "fix", "mathematics-outside", "\\sum belongs in a formula")]
    public void Text_in_a_formula_and_formulas_in_text_are_one_finding_each(string body, string kind, string code, string says)
    {
        FindingLine finding = Assert.Single(Compiled.Body(body).Report.Findings);
        Assert.Equal((kind, code), (finding.Kind, finding.Code));
        Assert.Contains(says, finding.Message, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("Half is \\frac{1}{2} here", "$\\frac{1}{2}$")]
    [InlineData("A sum \\sum_{i}^n here", "$\\sum_{i}^n$")]
    [InlineData("Greek \\alpha here", "$\\alpha$")]
    public void The_mend_of_a_stray_formula_takes_its_arguments_along(string body, string text) =>
        Assert.Equal(text, Assert.Single(Compiled.Body(body).Report.Findings).Repair!.Text);

    // The TeXbook, chapter 17: the short font commands change letters of formulas.
    [Theory]
    [InlineData("{\\bf x}", "\\mathbf{x}")]
    [InlineData("{\\rm d}x", "\\mathrm{d}x")]
    [InlineData("{\\cal L}", "\\mathcal{L}")]
    public void Short_font_commands_change_letters_in_formulas(string old, string now) =>
        Assert.Equal(Compiled.Text(Compiled.Body($"${now}$")), Compiled.Text(Compiled.Body($"${old}$")));
}
