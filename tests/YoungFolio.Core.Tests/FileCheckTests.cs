using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Remarks on what files hide or leave out, and mends that move or make something.</summary>
public sealed class FileCheckTests
{
    private static FindingLine? Found(CompileResult result, string code) => result.Report.Findings.FirstOrDefault(f => f.Code == code);

    // Carries out a mend as the application does: the later place first.
    private static string Mended(string text, RepairLine repair)
    {
        foreach (RepairLine part in new[] { repair, repair.Also }.OfType<RepairLine>().OrderByDescending(r => r.Offset))
        {
            Assert.Equal(part.Words, text.Substring(part.Offset, part.Length));
            text = text.Remove(part.Offset, part.Length).Insert(part.Offset, part.Text);
        }

        return text;
    }

    [Theory]
    [InlineData("We counted 50% of them all.", true)]
    [InlineData("About (12.5% north) of it.", true)]
    [InlineData("We counted 50\\% of them.", false)]
    [InlineData("A box \\hspace{5pt}% and more", false)]
    [InlineData("% we had 50% of them", false)]
    [InlineData("\\begin{verbatim}\n 50% of them\n\\end{verbatim}", false)]
    [InlineData("Words% 50% of them", false)]
    public void A_percent_sign_behind_a_number_that_hides_words_is_worth_a_remark(string body, bool isFound)
    {
        CompileResult result = Compiled.Body(body);
        Assert.Equal(isFound, Found(result, "hidden-words") is not null);
        if (isFound)
        {
            string text = $"\\documentclass{{article}}\n\\usepackage{{amsmath}}\n\\begin{{document}}\n{body}\n\\end{{document}}\n";
            Assert.Contains("\\% ", Mended(text, Found(result, "hidden-words")!.Repair!), StringComparison.Ordinal);
        }
    }

    [Theory]
    [InlineData("She said \"we counted it\" and left.", "She said ``we counted it'' and left.")]
    [InlineData("(\"So\")", "(``So'')")]
    [InlineData("He wrote \"\\emph{so}\".", "He wrote ``\\emph{so}''.")]
    [InlineData("A pipe of 5\" and one of 6\".", null)]
    [InlineData("\\texttt{a \"b\" c} and \\verb|\"x\"|.", null)]
    [InlineData("\\begin{tabular}{ll}\\textbf{a} & \"\\\\ \" & b\\end{tabular}", null)]
    [InlineData("Opened \"here\n\nand closed\" there.", null)]
    [InlineData("$x = \"a\"$ ``so''", null)]
    public void Words_between_straight_quotation_marks_are_worth_a_remark(string body, string? mended)
    {
        FindingLine? found = Found(Compiled.Body(body), "straight-quotes");
        Assert.Equal(mended is not null, found is not null);
        if (mended is not null)
        {
            string text = $"\\documentclass{{article}}\n\\usepackage{{amsmath}}\n\\begin{{document}}\n{body}\n\\end{{document}}\n";
            Assert.Contains(mended, Mended(text, found!.Repair!), StringComparison.Ordinal);
        }
    }

    [Fact]
    public void Quotations_have_the_command_that_the_preamble_loads_and_shorthands_are_none()
    {
        RepairLine repair = Found(Compiled.Body("Say \"so\".", "\\usepackage{csquotes}"), "straight-quotes")!.Repair!;
        Assert.Equal(("\\enquote{", "}"), (repair.Text, repair.Also!.Text));
        Assert.Null(Found(Compiled.Body("Sie sagt \"`so\"' und \"Ubung.", "\\usepackage[ngerman]{babel}"), "straight-quotes"));
    }

    [Theory]
    [InlineData("\\parbox{6cm}{\\tolerance=10000 A notwithstanding-incomprehensibilities word of it}", true)]
    [InlineData("\\parbox{6cm}{\\raggedright A notwithstanding-incomprehensibilities word of it}", false)]
    [InlineData("\\parbox{3cm}{\\tolerance=10000 A notwithstanding word of it}", false)]
    [InlineData("\\hbox to 8cm{two words}", false)]
    [InlineData("\\noindent two\\hfill words\\par", false)]
    public void A_line_whose_words_stand_very_far_apart_is_said(string body, bool isSaid) =>
        Assert.Equal(isSaid, Found(Compiled.Body("\\hyphenpenalty=10000 " + body), "line-too-loose") is not null);

    [Fact]
    public void A_file_that_nothing_takes_in_is_said_and_taken_in_by_its_mend()
    {
        const string Main = "\\documentclass{article}\n\\begin{document}\n\\input{one}\n\\end{document}\n";
        CompileReport report = Compiled.Files(("main.tex", Main), ("one.tex", "One."), ("parts/lost.tex", "Lost words."), ("alone.tex", "\\documentclass{article}"), ("empty.tex", "")).Report;
        FindingLine finding = Assert.Single(report.Findings, f => f.Code == "unused-file");
        Assert.StartsWith("Nothing takes in parts/lost.tex", finding.Message, StringComparison.Ordinal);
        Assert.Equal("\\documentclass{article}\n\\begin{document}\n\\input{one}\n\\input{parts/lost}\n\\end{document}\n", Mended(Main, finding.Repair!));
    }

    [Fact]
    public void A_file_that_is_named_and_left_out_isnt_said()
    {
        CompileReport report = Compiled.Files(
            ("main.tex", "\\documentclass{report}\n\\includeonly{one}\n\\begin{document}\n\\include{one}\\include{two}\\iffalse\\input{three.tex}\\fi\n\\end{document}\n"), ("one.tex", "One."), ("two.tex", "Two."), ("three.tex", "Three.")).Report;
        Assert.DoesNotContain(report.Findings, f => f.Code == "unused-file");
    }

    [Fact]
    public void A_package_that_is_loaded_too_late_moves_into_the_preamble()
    {
        const string Main = "\\documentclass{article}\n\\begin{document}\n\\usepackage[draft]{graphicx}\nWords.\n\\end{document}\n";
        FindingLine finding = Found(Compiled.Files(("main.tex", Main)), "package-too-late")!;
        string mended = Mended(Main, finding.Repair!);
        Assert.Equal("\\documentclass{article}\n\\usepackage[draft]{graphicx}\n\\begin{document}\nWords.\n\\end{document}\n", mended);
        Assert.Empty(Compiled.Files(("main.tex", mended)).Report.Findings);
    }

    [Fact]
    public void Text_after_the_end_comes_before_it()
    {
        const string Main = "\\documentclass{article}\n\\begin{document}\nWords.\n\\end{document}\n\nMore words.";
        CompileResult result = Compiled.Files(("main.tex", Main));
        string mended = Mended(Main, Found(result, "text-after-end")!.Repair!);
        CompileResult after = Compiled.Files(("main.tex", mended));
        Assert.Empty(after.Report.Findings);
        Assert.Contains("More words.", Compiled.Text(after), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("\\input{chapters/new}", "chapters/new.tex")]
    [InlineData("\\include{new}", "new.tex")]
    [InlineData("\\input{a b}", null)]
    [InlineData("\\includegraphics{none}", null)]
    public void A_file_that_isnt_there_can_be_made(string command, string? made) =>
        Assert.Equal(made, Found(Compiled.Body(command, "\\usepackage{graphicx}\n"), "missing-file")?.Repair?.NewFile);

    /// <summary>Each of them was looked at with 20,000 characters before it.</summary>
    [Fact]
    public void Signs_in_text_as_typed_take_time_in_proportion_to_its_length()
    {
        string typed = string.Concat(Enumerable.Repeat(" 1% a\n", 200_000));
        long start = System.Diagnostics.Stopwatch.GetTimestamp();
        CompileResult result = Compiled.Body("Words.\n\\iffalse\n\\begin{comment}\n" + typed + "\\end{comment}\n\\fi\n", "\\usepackage{verbatim}\n");
        Assert.Null(Found(result, "hidden-words"));
        Assert.True(System.Diagnostics.Stopwatch.GetElapsedTime(start) < TimeSpan.FromSeconds(15), $"{System.Diagnostics.Stopwatch.GetElapsedTime(start)}");
    }
}
