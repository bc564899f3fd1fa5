using YoungFolio.Compiler;
using YoungFolio.Markup;
using YoungFolio.Tool.Attack;

namespace YoungFolio.Core.Tests;

/// <summary>Any manuscript, however it is meant, ends within ten seconds and a gigabyte, with a proof and the cause of what isn't in it.</summary>
[Collection("alone")]
public class HostileTests
{
    private const double Seconds = 10;
    private const long Bytes = 1_000_000_000;

    // One compiler for all, as a server has.
    private static readonly ManuscriptCompiler s_compiler = new();

    public static TheoryData<string> Names => [.. HostileManuscripts.All.Select(m => m.Name)];

    [Theory]
    [MemberData(nameof(Names))]
    public void It_ends_in_time_and_room_with_a_proof(string name)
    {
        var snapshot = new ManuscriptSnapshot(HostileManuscripts.All.Single(m => m.Name == name).Make(), "main.tex", new DateOnly(2026, 11, 28));
        Measured Run() => Measured.Run(look => s_compiler.Compile(snapshot, null, look, CancellationToken.None));
        Measured measured = TimeLimit.Within(Seconds, Run);
        CompileResult result = measured.Result;
        // Garbage that waits to be collected counts along, and it waits longer where others have the processors: then the lower of two holds.
        Assert.InRange(measured.Bytes <= Bytes ? measured.Bytes : Run().Bytes, 0, Bytes);
        Assert.True(result.Report.Pages >= 1);
        // What was cut says why, and where as far as there is a place.
        if (result.Report.Findings.FirstOrDefault(f => f.Code is "too-slow" or "too-large" or "too-much-text" or "endless-macro") is { } cause)
        {
            Assert.Equal("fix", cause.Kind);
            Assert.True(cause.Message.Length > 20 && cause.Advice.Length > 20);
        }
    }

    [Fact]
    public void There_is_one_of_every_kind_that_brought_the_server_down_and_more() => Assert.True(HostileManuscripts.All.Count >= 97);

    [Fact]
    public void After_all_of_them_an_honest_manuscript_is_typeset_as_ever()
    {
        foreach (HostileManuscript hostile in HostileManuscripts.All.Where((_, i) => i % 12 == 0))
        {
            s_compiler.Compile(new ManuscriptSnapshot(hostile.Make(), "main.tex", new DateOnly(2026, 11, 28)));
        }

        ManuscriptSnapshot thesis = DemoManuscripts.Snapshot(DemoManuscripts.Thesis());
        Assert.True(s_compiler.Compile(thesis).Pdf.AsSpan().SequenceEqual(new ManuscriptCompiler().Compile(thesis).Pdf));
    }

    [Theory]
    [InlineData(1_000, false)]
    [InlineData(15_000, true)]
    public void Notes_of_a_paragraph_end_by_their_number_and_not_by_the_clock(int notes, bool isLeftOut)
    {
        string text = "\\documentclass{article}\\begin{document}\n" + string.Concat(Enumerable.Repeat("word\\footnote{x}\n", notes)) + "\\end{document}";
        CompileReport report = s_compiler.Compile(new ManuscriptSnapshot(new FileTree([ManuscriptFile.FromText("main.tex", text)]), "main.tex", new DateOnly(2026, 11, 28))).Report;
        Assert.Equal(isLeftOut, report.Findings.Any(f => f.Code == "too-large"));
        Assert.Equal(isLeftOut, report.Pages == 1);
    }

    [Fact]
    public void What_is_left_out_takes_nothing_else_along()
    {
        string table = "\\begin{tabular}{ll}" + string.Concat(Enumerable.Repeat("a&b\\\\\n", 400_000)) + "\\end{tabular}";
        CompileReport report = s_compiler.Compile(new ManuscriptSnapshot(
            new FileTree([ManuscriptFile.FromText("main.tex", $"\\documentclass{{article}}\\begin{{document}}\n\\section{{Before}}\\label{{b}}\n\n{table}\n\n\\section{{Behind}}\\ref{{b}}\\end{{document}}")]), "main.tex", new DateOnly(2026, 11, 28))).Report;
        Assert.Contains(report.Findings, f => f.Kind == "fix" && f.Code is "too-large" or "too-much-text" or "too-slow" && f.Line is > 0);
        Assert.Equal("Before", report.Outline[0].Title);
    }

    [Fact]
    public void A_stopped_compile_stops_soon_wherever_it_is()
    {
        foreach (string name in (string[])["a million words in one paragraph", "100,000 headings", "a matrix of 500 by 500", "boxes that double", "20,000 floats", "a .bib of 60,000 sources", "50,000 sources of one author and year", "a data file of 200,000 rows", "a picture of 50 MB in 2 MB, 30 times under other names"])
        {
            IFileTree files = HostileManuscripts.All.Single(m => m.Name == name).Make();
            foreach (int after in (int[])[30, 300, 900])
            {
                // How long it went on after the moment; a busy machine may hold one try up, but not each.
                _ = TimeLimit.Within(2.5 + (after / 1000.0), () =>
                {
                    using var stop = new CancellationTokenSource(after);
                    try
                    {
                        return s_compiler.Compile(new ManuscriptSnapshot(files, "main.tex", new DateOnly(2026, 11, 28)), null, stop.Token);
                    }
                    catch (OperationCanceledException)
                    {
                        return null;
                    }
                });
            }
        }
    }
}
