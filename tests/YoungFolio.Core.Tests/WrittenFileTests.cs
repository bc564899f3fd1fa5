using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>Files that a text writes itself (the kernel's documentation of filecontents, from memory).</summary>
public class WrittenFileTests
{
    private const string Begin = "\\documentclass{article}\\pagestyle{empty}";

    [Fact]
    public void A_file_that_the_preamble_writes_is_read()
    {
        CompileResult result = Compiled.Files(("main.tex", $"\\begin{{filecontents}}{{wall_notes.tex}}\nDry \\emph{{stone}} & 50\\% of it.\n\\end{{filecontents}}\n{Begin}\\begin{{document}}\\catcode`\\&=12 \\input{{wall_notes}}\\end{{document}}"));
        Assert.Empty(result.Report.Findings);
        Assert.Equal("Dry stone & 50% of it.", Compiled.Text(result));
    }

    [Theory]
    [InlineData("", "stored")]
    [InlineData("[overwrite]", "written")]
    [InlineData("[force,nosearch]", "written")]
    [InlineData("[noheader]", "stored")]
    public void A_file_that_is_stored_stays_unless_it_is_to_be_replaced(string options, string printed) =>
        Assert.Equal(printed, Compiled.Text(Compiled.Files(
            ("main.tex", $"{Begin}\n\\begin{{filecontents*}}{options}{{part.tex}}\nwritten\n\\end{{filecontents*}}\n\\begin{{document}}\\input{{part}}\\end{{document}}"), ("part.tex", "stored\n"))));

    [Fact]
    public void Packages_and_sources_may_be_written_too()
    {
        CompileResult result = Compiled.Files(("main.tex", """
            \documentclass{article}\pagestyle{empty}
            \begin{filecontents}{wall.sty}
            \newcommand{\wall}{Wall \cite{own}}
            \end{filecontents}
            \begin{filecontents}{own.bib}
            @book{own, author="Holm, Ann", title="Own", publisher="P", year=2020}
            \end{filecontents}
            \usepackage{wall}
            \begin{document}\wall\bibliographystyle{plain}\bibliography{own}\end{document}
            """));
        Assert.Empty(result.Report.Findings);
        Assert.Equal("Wall [1] References [1] Ann Holm. Own. P, 2020.", Compiled.Text(result));
    }

    [Theory]
    [InlineData("../outside.tex")]
    [InlineData("")]
    public void A_name_that_leads_out_of_the_manuscript_writes_nothing(string name) =>
        Assert.Equal("After", Compiled.Text(Compiled.Files(("main.tex", $"{Begin}\\begin{{document}}\n\\begin{{filecontents}}{{{name}}}\nx\n\\end{{filecontents}}\nAfter\\end{{document}}"))));
}
