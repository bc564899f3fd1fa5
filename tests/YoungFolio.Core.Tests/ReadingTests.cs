using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>Reading files: each is turned into tokens once, and what is kept is what reading anew would give.</summary>
public class ReadingTests
{
    private static readonly string[] s_pieces = ["word ", "words, and more ", "x", " ", "  ", "\n", "\n\n", "\n  ", "% comment\n", "%\n", "\\emph", "\\a ", "\\\\", "{", "}", "$", "^", "_", "^^41", "~", "&", "#",
        "-", "--", "'", ",,", "é", "straße ", "日", "\t", "\\ ", "\\\n", "(a)", "3.14", "\u200B", "\u0001", "[", "]", "a-b", "\"", "𝛼"];

    [Fact]
    public void What_is_kept_of_a_file_is_what_reading_anew_gives()
    {
        var random = new Random(71);
        for (int i = 0; i < 3000; i++)
        {
            string text = string.Concat(Enumerable.Range(0, 25).Select(_ => s_pieces[random.Next(s_pieces.Length)]));
            int change = random.Next(12);
            string[] anew = Tokens("", text, change);
            string[] kept = Tokens("a.tex", text, change);
            Assert.True(anew.SequenceEqual(kept), $"{text.Replace("\n", "⏎", StringComparison.Ordinal)}\n{string.Join('|', anew)}\n{string.Join('|', kept)}");
        }
    }

    // Tokens with their places; after some of them the category codes change, or raw text is taken.
    private static string[] Tokens(string path, string text, int change)
    {
        var machine = new Machine(new FindingLog());
        machine.Input.OpenFile(ManuscriptFile.FromText(path, text));
        var result = new List<string>();
        for (Token token = machine.Next(); !token.Is(Category.Stop); token = machine.Next())
        {
            result.Add($"{token}/{token.Category}/{token.Position}");
            if (result.Count == change)
            {
                machine.Categories.Set('x', Category.Active);
                machine.Categories.Set('~', Category.Other);
            }
            else if (result.Count == change + 4)
            {
                machine.Input.DirectLexer?.TakeRaw();
                machine.Categories.Set('x', Category.Letter);
            }
        }

        return [.. result];
    }

    [Fact]
    public void An_edit_in_one_file_does_not_read_the_others_again()
    {
        ManuscriptFile[] chapters = [.. Enumerable.Range(1, 5).Select(i => ManuscriptFile.FromText($"c{i}.tex", $"\\chapter{{C{i}}} Words of $x_{i}$ and \\emph{{more}}.\n"))];
        string main = "\\documentclass{report}\n\\begin{document}\n" + string.Concat(chapters.Select(c => $"\\include{{{c.Path[..^4]}}}\n")) + "\\end{document}\n";
        ManuscriptFile mainFile = ManuscriptFile.FromText("main.tex", main);
        var compiler = new ManuscriptCompiler();
        CompileResult? last = null;
        for (int edit = 0; edit < 4; edit++)
        {
            chapters[2] = ManuscriptFile.FromText("c3.tex", $"\\chapter{{C3}} Edited {edit}.\n");
            last = compiler.Compile(new ManuscriptSnapshot(new FileTree([mainFile, .. chapters]), "main.tex", new DateOnly(2026, 11, 25)), last);
        }

        Assert.Empty(last!.Report.Findings);
        Assert.All(chapters, c => Assert.Equal(1, c.Readings));
        Assert.Equal(1, mainFile.Readings);
    }
}
