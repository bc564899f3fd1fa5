using System.Text;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Tool.Attack;

/// <summary>Manuscripts of random commands and torn pieces of real ones: what nobody writes, and slips of every kind.</summary>
public static class FuzzedManuscripts
{
    private static readonly string[] s_pieces =
        ["{", "}", "$", "$$", "&", "\\\\", "#1", "^", "_", "[", "]", "%", "~", "\n\n", "word ", "1cm", "=", "\\begin{", "\\end{", "equation}", "itemize}", "tabular}{ll}", "figure}", "center}", "verbatim}", "thm}", "align}"];

    /// <summary>A manuscript by its number: the same number, the same manuscript.</summary>
    /// <param name="number">Its number.</param>
    /// <param name="real">Texts that it may be torn from.</param>
    /// <param name="commands">Names of commands.</param>
    public static IFileTree Make(int number, IReadOnlyList<string> real, IReadOnlyList<string> commands)
    {
        var random = new Random(number);
        var body = new StringBuilder();
        int pieces = 5 + random.Next(120);
        for (int i = 0; i < pieces; i++)
        {
            switch (random.Next(6))
            {
                case 0 when real.Count > 0:
                    string text = real[random.Next(real.Count)];
                    int from = random.Next(text.Length);
                    body.Append(text, from, Math.Min(random.Next(300), text.Length - from));
                    break;
                case 1 or 2:
                    body.Append('\\').Append(commands[random.Next(commands.Count)]).Append(random.Next(2) == 0 ? "{" : " ");
                    break;
                default:
                    body.Append(s_pieces[random.Next(s_pieces.Length)]);
                    break;
            }
        }

        string kind = random.Next(4) switch { 0 => "report", 1 => "book", _ => "article" };
        return new FileTree([ManuscriptFile.FromText("main.tex", $"\\documentclass{{{kind}}}\\usepackage{{amsmath,graphicx,hyperref}}\n\\begin{{document}}\n{body}\n\\end{{document}}\n")]);
    }

    /// <summary>Names of all commands that the compiler knows.</summary>
    public static IReadOnlyList<string> Commands() =>
        [.. MarkupRegistry.ToMarkdown().Split('`').Where(w => w.StartsWith('\\') && w.Length > 1 && w.Skip(1).All(char.IsAsciiLetter)).Select(w => w[1..]).Distinct()];
}
