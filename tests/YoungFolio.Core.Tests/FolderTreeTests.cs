using System.Diagnostics;
using YoungFolio.Compiler;
using YoungFolio.Tool;

namespace YoungFolio.Core.Tests;

/// <summary>Folders on disk as manuscripts.</summary>
public sealed class FolderTreeTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("folio").FullName;
    private readonly List<string> _said = [];

    public void Dispose() => Directory.Delete(_folder, true);

    [Fact]
    public void Only_what_is_asked_for_is_read_and_what_can_not_be_read_is_named_once()
    {
        Put("main.tex", "\\documentclass{article}\\begin{document}Here.\\input{pipe}\\input{inner/more}\\end{document}");
        Put("inner/more.tex", "And there.");
        Pipe("pipe.tex");
        // Nobody asks for these two: reading the one would wait for ever, and the other is no business of the letter's.
        Pipe("other.tex");
        using (FileStream large = File.Create(Path.Combine(_folder, "film.dat")))
        {
            large.SetLength(100L * 1024 * 1024);
        }

        CompileResult result = new ManuscriptCompiler().Compile(new ManuscriptSnapshot(Tree(), "main.tex", new DateOnly(2026, 11, 28)));
        Assert.Contains("And there.", Compiled.Text(result), StringComparison.Ordinal);
        Assert.Equal(["pipe.tex was passed over: it isn't a plain file."], _said);
        Assert.Contains(result.Report.Findings, f => f.Kind == "fix" && f.Message.Contains("pipe", StringComparison.Ordinal));
    }

    [Fact]
    public void A_file_that_is_too_large_is_named()
    {
        using (FileStream large = File.Create(Path.Combine(_folder, "film.dat")))
        {
            large.SetLength(100L * 1024 * 1024);
        }

        Assert.Null(Tree().Find("film.dat"));
        Assert.Equal(["film.dat was passed over: it is larger than 64 MB."], _said);
    }

    [Fact]
    public void Nothing_hidden_nothing_outside_and_no_way_round_in_circles()
    {
        Put("a.tex", "a");
        Put(".secret/b.tex", "b");
        string outside = Directory.CreateTempSubdirectory("folio").FullName;
        File.WriteAllText(Path.Combine(outside, "c.tex"), "c");
        Directory.CreateSymbolicLink(Path.Combine(_folder, "round"), _folder);
        FolderTree tree = Tree();
        Assert.Equal(["a.tex"], tree.Paths);
        Assert.Null(tree.Find(".secret/b.tex"));
        Assert.Null(tree.Find("../" + Path.GetFileName(outside) + "/c.tex"));
        Assert.Null(tree.Find("nowhere.tex"));
        Directory.Delete(outside, true);
    }

    [Fact]
    public void In_a_folder_of_everything_those_at_the_top_are_known_by_name_and_the_others_are_there_when_asked_for()
    {
        for (int i = 0; i < 30; i++)
        {
            for (int j = 0; j < 100; j++)
            {
                Put($"deep/{i}/{j}.txt", "x");
            }
        }

        Put("z.tex", "z");
        var clock = Stopwatch.StartNew();
        FolderTree tree = Tree();
        Assert.InRange(clock.ElapsedMilliseconds, 0, 10_000);
        Assert.Equal(FolderTree.MostNamed, tree.Paths.Count);
        Assert.Contains("z.tex", tree.Paths);
        string unnamed = Enumerable.Range(0, 30).Select(i => $"deep/{i}/99.txt").First(p => !tree.Paths.Contains(p));
        Assert.Equal("x", tree.Find(unnamed)!.Text);
    }

    private FolderTree Tree() => new(_folder, _said.Add);

    private void Put(string path, string text)
    {
        string file = Path.Combine(_folder, path);
        Directory.CreateDirectory(Path.GetDirectoryName(file)!);
        File.WriteAllText(file, text);
    }

    private void Pipe(string path)
    {
        using Process made = Process.Start("mkfifo", [Path.Combine(_folder, path)]);
        made.WaitForExit();
    }
}
