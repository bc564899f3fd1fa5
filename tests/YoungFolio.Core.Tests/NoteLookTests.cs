using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>How a note's text stands beside its mark, where a manuscript or a package says it itself (<c>\@makefntext</c>).</summary>
public sealed class NoteLookTests
{
    private const string Long = "Note that goes on over more than one line of the page so that one sees where its second line begins and where its first one does";

    // Left edges of the mark, the first word and the second line's first word, in points of the text's left edge.
    private static (double Mark, double First, double Second) Edges(string preamble)
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Clean($"\\noindent Begin\\footnote[7]{{{Long}}}", "\\makeatletter" + preamble + "\\makeatother"));
        double left = words.First(w => w.Text.StartsWith("Begin", StringComparison.Ordinal)).Left;
        List<PdfWord> note = [.. words.SkipWhile(w => !w.Text.EndsWith("Note", StringComparison.Ordinal))];
        double top = note[0].Top;
        PdfWord second = note.First(w => w.Top > top + 4);
        PdfWord? mark = words.LastOrDefault(w => w.Text is "7" or "7.");
        return ((mark?.Left ?? note[0].Left) - left, note[0].Left - left, second.Left - left);
    }

    [Theory]
    // The class's own: an indent's width for the mark, the second line at the margin.
    [InlineData("", 14.3, 0)]
    [InlineData("\\renewcommand\\@makefntext[1]{\\noindent\\makebox[30pt][l]{\\@thefnmark.}#1}", 29.9, 0)]
    [InlineData("\\long\\def\\@makefntext#1{\\leftskip 20pt\\noindent\\llap{\\hb@xt@20pt{\\@makefnmark\\hfil}}#1}", 19.9, 19.9)]
    [InlineData("\\usepackage{footmisc}\\setlength{\\footnotemargin}{1cm}", 28.3, 0)]
    [InlineData("\\usepackage[hang]{footmisc}", 17.9, 17.9)]
    [InlineData("\\usepackage[hang,flushmargin]{footmisc}", 3.4, 0)]
    // A macro that does without the mark, or says it itself.
    [InlineData("\\renewcommand\\@makefntext[1]{\\noindent#1}", 0, 0)]
    public void A_notes_text_begins_where_its_layout_has_it(string preamble, double first, double second)
    {
        (_, double at, double next) = Edges(preamble);
        Assert.Equal(first, at, 0.6);
        Assert.Equal(second, next, 0.6);
    }

    [Fact]
    public void A_mark_may_stand_in_the_margin() => Assert.InRange(Edges("\\usepackage[marginal]{footmisc}").Mark, -9, -6);

    [Fact]
    public void A_mark_flush_with_the_text_stands_before_it()
    {
        string text = Compiled.Text(Compiled.Clean("Begin\\footnote[7]{Words of it.} and on.", "\\usepackage[flushmargin]{footmisc}"));
        Assert.Contains("7", text, StringComparison.Ordinal);
        Assert.Contains("Words of it.", text, StringComparison.Ordinal);
    }

    [Fact]
    public void Who_listens_hears_the_mark_once()
    {
        const string Text = "\\documentclass{article}\\makeatletter\\renewcommand\\@makefntext[1]{\\noindent\\@thefnmark) #1}\\makeatother\\begin{document}Words\\footnote{Text of it.}\\end{document}";
        string html = new ManuscriptCompiler().WriteHtml(new ManuscriptSnapshot(new FileTree([ManuscriptFile.FromText("main.tex", Text)]), "main.tex", new DateOnly(2026, 12, 1)));
        Assert.DoesNotContain("1)", html, StringComparison.Ordinal);
        Assert.Contains("<p>Text of it.</p>", html, StringComparison.Ordinal);
    }
}
