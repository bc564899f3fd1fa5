using YoungFolio.Compiler;
using YoungFolio.Markup;
using YoungFolio.Tool.Attack;

namespace YoungFolio.Core.Tests;

/// <summary>
/// A proof after an edit is the proof that a compile from nothing gives, to the byte: after deletions of sections with what refers to
/// them, moves, and changes of floats, whose numbers and pages others name. The long run is <c>./folio soak</c>.
/// </summary>
[Collection("alone")]
public class WarmColdTests
{
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Hundreds_of_deletions_moves_and_changes_of_floats_look_as_if_typeset_for_the_first_time(int seed)
    {
        WarmColdFuzz.Outcome outcome = WarmColdFuzz.Run(seed, 250, CancellationToken.None);
        Assert.Equal(250, outcome.Cases);
        Assert.True(outcome.Differs.Count == 0, string.Join('\n', outcome.Differs));
    }

    [Fact]
    public void A_reference_to_a_page_that_is_gone_names_none()
    {
        var compiler = new ManuscriptCompiler();
        const string Before = "\\documentclass{article}\\begin{document}See page \\pageref{a}.\n\\section{One}\\label{a}\nText.\\end{document}";
        CompileResult first = compiler.Compile(Of(Before));
        ManuscriptSnapshot after = Of(Before.Replace("\\label{a}", "", StringComparison.Ordinal));
        Assert.True(compiler.Compile(after, first).Pdf.AsSpan().SequenceEqual(new ManuscriptCompiler().Compile(after).Pdf));
    }

    private static ManuscriptSnapshot Of(string text) => new(new FileTree([ManuscriptFile.FromText("main.tex", text)]), "main.tex", new DateOnly(2026, 11, 28));
}
