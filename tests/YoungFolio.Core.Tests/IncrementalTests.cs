using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>A compile after an edit gives what a compile from nothing gives.</summary>
public class IncrementalTests
{
    private static readonly string[] s_pieces =
    [
        "quagmire ", "\n\nA new paragraph of some words that was not there before.\n\n", " $x^2 + y_i$ ", "\\footnote{A note that came late.} ", "\\emph{stressed} ",
        "\n\\section{A section more}\\label{sec:more}\n", "\n\\[ a = \\frac{b}{c} \\]\n", "\n\\begin{tabular}{lr}a & 1\\\\ b & 2\\end{tabular}\n",
        "\n\\begin{figure}\\centering\\rule{3cm}{2cm}\\caption{A figure more}\\end{figure}\n", "\\newpage ", "\\textbf{bold} ", "\n\\begin{itemize}\\item One\\item Two\\end{itemize}\n", "% off",
    ];

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Random_edits_of_the_demo_give_the_same_bytes_and_the_same_ways_to_the_source(int seed)
    {
        var random = new Random(seed);
        List<ManuscriptFile> files = DemoManuscripts.Thesis();
        var warm = new ManuscriptCompiler();
        CompileResult last = warm.Compile(DemoManuscripts.Snapshot(files));
        for (int i = 0; i < 15; i++)
        {
            int at;
            do
            {
                at = random.Next(files.Count);
            }
            while (!files[at].Path.StartsWith("chapters/", StringComparison.Ordinal));

            string text = files[at].Text;
            // Between two words, so that no command is torn.
            int place = text.IndexOf(' ', random.Next(text.Length * 3 / 4));
            place = place < 0 ? text.Length : place + 1;
            int gone = random.Next(4) == 0 ? Math.Max(0, text.IndexOf(' ', Math.Min(text.Length - 1, place)) - place) : 0;
            files[at] = ManuscriptFile.FromText(files[at].Path, text[..place] + s_pieces[random.Next(s_pieces.Length)] + text[(place + gone)..]);
            ManuscriptSnapshot snapshot = DemoManuscripts.Snapshot(files);
            last = warm.Compile(snapshot, last);
            CompileResult cold = (i % 5 == 4 ? new ManuscriptCompiler() : warm).Compile(snapshot);
            Assert.True(last.Pdf.AsSpan().SequenceEqual(cold.Pdf), $"edit {i} of seed {seed} in {files[at].Path}");
            Assert.Equal(cold.Report.Findings, last.Report.Findings);
            // What is drawn and where it came from are the same as after a first compile.
            Assert.Equal(cold.Sheets.Entries.Select(e => e.Digest), last.Sheets.Entries.Select(e => e.Digest));
            Assert.Equal(cold.Sheets.OriginSteps, last.Sheets.OriginSteps);
            (SheetMap coldMap, SheetMap lastMap) = (SheetMap.Remember(cold, snapshot.Files).Map, SheetMap.Remember(last, snapshot.Files).Map);
            for (int sheet = 1; sheet <= cold.Report.Pages; sheet++)
            {
                for (int k = 0; k < 4; k++)
                {
                    (double x, double y) = (100 + random.Next(350), 80 + random.Next(650));
                    Assert.Equal(coldMap.FindSource(sheet, x, y), lastMap.FindSource(sheet, x, y));
                }
            }
        }
    }
}
