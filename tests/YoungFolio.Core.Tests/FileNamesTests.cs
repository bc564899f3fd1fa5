using YoungFolio.Bibliography;
using YoungFolio.Compiler;
using YoungFolio.Manuscript.Files;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>What names a file in the markup follows when the file gets another name.</summary>
public class FileNamesTests
{
    [Theory]
    [InlineData("\\include{chapters/valley}", "chapters/valley.tex", "ground/marrow.tex", "\\include{ground/marrow}")]
    [InlineData("\\input{chapters/valley.tex} \\input chapters/valley", "chapters/valley.tex", "a.tex", "\\input{a.tex} \\input chapters/valley")]
    [InlineData("\\input{ ./chapters/valley }", "chapters/valley.tex", "a.tex", "\\input{ a }")]
    [InlineData("\\includeonly{one,\n  chapters/valley, two}", "chapters/valley.tex", "v.tex", "\\includeonly{one,\n  v, two}")]
    [InlineData("\\include{chapters/valleys}\\include{valley}\\ref{chapters/valley}", "chapters/valley.tex", "v.tex", "\\include{chapters/valleys}\\include{valley}\\ref{chapters/valley}")]
    [InlineData("% \\input{a}\n\\verb|x|\\\\\\input{a}", "a.tex", "b.tex", "% \\input{b}\n\\verb|x|\\\\\\input{b}")]
    [InlineData("\\input{\\folder/a}\\input{a#1}\\input{a", "a.tex", "b.tex", "\\input{\\folder/a}\\input{a#1}\\input{a")]
    [InlineData("\\includegraphics[width={1cm}, page=2]{fig/plot}", "fig/plot.png", "fig/map.png", "\\includegraphics[width={1cm}, page=2]{fig/map}")]
    [InlineData("\\includegraphics*{fig/plot.png}", "fig/plot.png", "shots/plot.png", "\\includegraphics*{shots/plot.png}")]
    [InlineData("\\graphicspath{ {art/} {fig} }\\includegraphics{plot}", "fig/plot.svg", "fig/sub/map.svg", "\\graphicspath{ {art/} {fig} }\\includegraphics{sub/map}")]
    [InlineData("\\graphicspath{{fig/}}\\includegraphics{plot}", "fig/plot.svg", "plots/map.svg", "\\graphicspath{{fig/}}\\includegraphics{plots/map}")]
    [InlineData("\\bibliography{pool,sources}\\addbibresource{sources.bib}", "sources.bib", "all/works.bib", "\\bibliography{pool,all/works}\\addbibresource{all/works.bib}")]
    [InlineData("\\usepackage[a4]{house, amsmath}", "house.sty", "style/house.sty", "\\usepackage[a4]{style/house, amsmath}")]
    [InlineData("\\csvreader[tabular=ll]{data/farms.csv}{a=\\a}{\\a}", "data/farms.csv", "data/2026.csv", "\\csvreader[tabular=ll]{data/2026.csv}{a=\\a}{\\a}")]
    [InlineData("\\lstinputlisting{code}", "code.txt", "other.txt", "\\lstinputlisting{code}")]
    [InlineData("\\input{notes}", "notes.tex", "notes.txt", "\\input{notes.txt}")]
    [InlineData("\\", "a.tex", "b.tex", "\\")]
    public void Names_in_commands_that_read_a_file_follow_and_nothing_else(string text, string path, string now, string wanted)
    {
        var texts = new Dictionary<string, string> { ["main.tex"] = text, ["sources.bib"] = text };
        IReadOnlyDictionary<string, IReadOnlyList<TextEdit>> edits = FileNames.Rename(texts, path, now);
        Assert.DoesNotContain("sources.bib", edits.Keys);
        foreach (TextEdit edit in edits.GetValueOrDefault("main.tex", []).Reverse())
        {
            text = text.Remove(edit.Offset, edit.Length).Insert(edit.Offset, edit.Text);
        }

        Assert.Equal(wanted, text);
    }

    [Fact]
    public void The_thesis_is_typeset_the_same_after_each_of_its_files_moved()
    {
        List<ManuscriptFile> files = DemoManuscripts.Thesis();
        CompileReport before = Report(files);
        foreach (ManuscriptFile moved in files.Where(p => p.Path != "main.tex").ToList())
        {
            string now = "moved/" + Path.GetFileNameWithoutExtension(moved.Path) + " 2" + Path.GetExtension(moved.Path);
            var texts = files.Where(p => Path.GetExtension(p.Path) is ".tex" or ".bib" or ".csv").ToDictionary(p => p.Path, p => p.Text, StringComparer.Ordinal);
            IReadOnlyDictionary<string, IReadOnlyList<TextEdit>> edits = FileNames.Rename(texts, moved.Path, now);
            files = [.. files.Select(p => p.Path == moved.Path ? Named(p, now) : p).Select(p => edits.TryGetValue(p.Path == now ? moved.Path : p.Path, out IReadOnlyList<TextEdit>? own) ? ManuscriptFile.FromText(p.Path, Edited(p.Text, own)) : p)];
        }

        CompileReport after = Report(files);
        Assert.DoesNotContain(after.Findings, f => f.Code == "missing-file");
        Assert.Equal((before.Pages, before.Words, before.Findings.Count), (after.Pages, after.Words, after.Findings.Count));
    }

    private static CompileReport Report(List<ManuscriptFile> files) => new ManuscriptCompiler().Compile(DemoManuscripts.Snapshot(files)).Report;

    private static ManuscriptFile Named(ManuscriptFile file, string path) => Path.GetExtension(path) is ".tex" or ".bib" or ".csv" ? ManuscriptFile.FromText(path, file.Text) : new ManuscriptFile(path, file.Bytes);

    private static string Edited(string text, IReadOnlyList<TextEdit> edits) =>
        edits.Reverse().Aggregate(text, (t, e) => t.Remove(e.Offset, e.Length).Insert(e.Offset, e.Text));
}
