namespace YoungFolio.Core.Tests;

/// <summary>Where labels of lists stand.</summary>
public class ListLabelTests
{
    // The kernel's lists (Lamport, figure C.5, from memory): a label ends \\labelsep before the text, wherever its room begins.
    [Theory]
    [InlineData("\\setlength{\\leftmargin}{2em}")]
    [InlineData("\\setlength{\\leftmargin}{0pt}")]
    [InlineData("\\setlength{\\leftmargin}{2em}\\setlength{\\labelwidth}{1em}")]
    [InlineData("\\setlength{\\labelsep}{12pt}")]
    public void A_label_ends_before_its_text(string measures)
    {
        List<PdfWord> words = PdfWords.Of(Compiled.Clean($"\\begin{{list}}{{1.}}{{{measures}}}\\item Words\\end{{list}}"));
        double gap = measures.Contains("labelsep", StringComparison.Ordinal) ? 12 : 5;
        Assert.Equal(gap * 72 / 72.27, words.Single(w => w.Text == "Words").Left - words.Single(w => w.Text == "1.").Right, 0.4);
    }
}
