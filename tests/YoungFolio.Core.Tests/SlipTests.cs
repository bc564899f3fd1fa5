using System.Globalization;
using System.Text;
using YoungFolio.Compiler;

namespace YoungFolio.Core.Tests;

/// <summary>One slip at a time in a correct manuscript of twenty pages: the first finding names its place, and few follow.</summary>
public class SlipTests
{
    private static readonly string[] s_words = ("wall lichen stone north field thallus growth slow shade quarry ledger mason year diameter measure valley ridge weather "
        + "moss granite lime rain winter record estate boundary height width").Split(' ');

    // A slip: what is replaced by what; the line wanted is that of the slip, or of what it leaves open.
    private static readonly (string Name, string Pattern, string Put)[] s_slips =
    [
        ("a dropped closing brace", "}", ""), ("a dropped opening brace", "{", ""), ("a dropped end", "\\\\end\\{[a-z*]+\\}", ""), ("a dropped dollar", "(?<!\\\\)\\$", ""),
        ("a misspelt command", "\\\\(emph|textbf|footnote|label|section|subsection|item|caption|alpha|frac|sqrt|centering)", "swap"),
        ("a wrong closing name", "\\\\end\\{(itemize|enumerate|quote|equation|figure|align|theorem|description|center)\\}", "rename"),
        ("a parenthesis for an opening brace", "(?<=\\\\(?:emph|textbf|footnote|section|subsection|label|ref|begin|end|caption))\\{", "("),
        ("a parenthesis for a closing brace", "(?<=\\\\(?:emph|textbf|ref|label|cite)\\{[a-z: ]+)\\}", ")"),
    ];

    [Fact]
    public void In_two_hundred_places_the_first_finding_names_the_slip()
    {
        string source = Manuscript();
        CompileResult clean = Compiled.Files(("main.tex", source));
        Assert.Empty(Compiled.Codes(clean));
        Assert.InRange(clean.Report.Pages, 18, 26);
        int body = source.IndexOf("\\begin{document}", StringComparison.Ordinal) + 16;
        int last = source.IndexOf("\\end{document}", StringComparison.Ordinal);
        var random = new Random(2026);
        var wrong = new List<string>();
        var many = new List<string>();
        int tried = 0;
        for (int i = 0; tried < 200; i++)
        {
            (string name, string pattern, string put) = s_slips[i % s_slips.Length];
            System.Text.RegularExpressions.MatchCollection places = System.Text.RegularExpressions.Regex.Matches(source, pattern);
            System.Text.RegularExpressions.Match place = places[random.Next(places.Count)];
            if (place.Index < body || place.Index >= last || IsTyped(source, place.Index))
            {
                continue;
            }

            string replacement = put switch
            {
                "swap" => Swap(place.Value),
                "rename" => place.Value.Contains("quote", StringComparison.Ordinal) ? "\\end{center}" : "\\end{quote}",
                _ => put,
            };
            string slipped = source.Remove(place.Index, place.Length).Insert(place.Index, replacement);
            FindingLine[] findings = [.. Compiled.Files(("main.tex", slipped)).Report.Findings.Where(f => f.Kind == "fix")];
            if (findings.Length == 0)
            {
                // Not every slip is one: a brace around a single letter may go.
                continue;
            }

            tried++;
            int[] lines = Lines(source, place.Index);
            string told = $"{name} on line {lines[0]}: “{Around(slipped, place.Index)}” gave {string.Join("; ", findings.Take(4).Select(f => $"{f.Code} {f.Line}"))}";
            if (!lines.Contains(findings[0].Line ?? 0))
            {
                wrong.Add(told);
            }

            if (findings.Length > 2)
            {
                many.Add(told);
            }
        }

        Assert.True(wrong.Count <= tried * 0.05, $"{wrong.Count} of {tried} first findings are elsewhere:\n" + string.Join('\n', wrong));
        Assert.True(many.Count == 0, $"{many.Count} of {tried} slips gave more than two findings:\n" + string.Join('\n', many));
    }

    [Fact]
    public void A_missing_begin_of_the_document_is_named_where_it_belongs()
    {
        string source = Manuscript();
        int at = source.IndexOf("\\begin{document}\n", StringComparison.Ordinal);
        CompileResult result = Compiled.Files(("main.tex", source.Remove(at, 17)));
        FindingLine[] findings = [.. result.Report.Findings.Where(f => f.Kind == "fix")];
        Assert.Equal("missing-begin-document", Assert.Single(findings).Code);
        Assert.Equal(source[..at].Count(c => c == '\n') + 1, findings[0].Line);
        Assert.Equal("\\begin{document}\n", findings[0].Repair!.Text);
        Assert.InRange(result.Report.Pages, 18, 26);
    }

    private static bool IsTyped(string source, int at)
    {
        int open = source.LastIndexOf("\\begin{verbatim}", at, StringComparison.Ordinal);
        int close = source.LastIndexOf("\\end{verbatim}", at, StringComparison.Ordinal);
        return open > close || (source.LastIndexOf("\\verb|", at, StringComparison.Ordinal) is var verb && verb >= 0 && verb > at - 20);
    }

    // Two neighbouring letters change places, the commonest slip of fingers.
    private static string Swap(string command) => command.Length < 4 ? command + "z" : command[..^3] + command[^2] + command[^3] + command[^1] == command
        ? command + "z" : command[..^3] + command[^2] + command[^3] + command[^1];

    private static string Around(string text, int at) => text[Math.Max(0, at - 25)..Math.Min(text.Length, at + 25)].Replace('\n', '|');

    // The slip's line, and the beginnings of what is open there: environment, brace and formula.
    private static int[] Lines(string source, int at)
    {
        var lines = new List<int> { Line(at) };
        var open = new Stack<int>();
        foreach (System.Text.RegularExpressions.Match m in System.Text.RegularExpressions.Regex.Matches(source[..Math.Min(source.Length, at + 30)], "\\\\(begin|end)\\{[a-z*]+\\}"))
        {
            if (m.Groups[1].Value == "begin" && m.Index < at)
            {
                open.Push(m.Index);
            }
            else if (m.Groups[1].Value == "end" && m.Index < at && open.Count > 0)
            {
                open.Pop();
            }
        }

        if (open.Count > 0)
        {
            lines.Add(Line(open.Peek()));
        }

        var braces = new Stack<int>();
        for (int i = 0; i < at; i++)
        {
            if (source[i] == '{')
            {
                braces.Push(i);
            }
            else if (source[i] == '}' && braces.Count > 0)
            {
                braces.Pop();
            }
        }

        if (braces.Count > 0)
        {
            lines.Add(Line(braces.Peek()));
        }

        return [.. lines];

        int Line(int index) => source[..index].Count(c => c == '\n') + 1;
    }

    // Prose with lists, formulas, displays, figures, quotations, theorems, notes and typed text.
    private static string Manuscript()
    {
        var random = new Random(11);
        var text = new StringBuilder("\\documentclass[11pt]{article}\n\\usepackage{amsmath,amsthm}\n\\newtheorem{theorem}{Theorem}\n\\title{Walls}\n\\author{Ilse Marrable}\n\\begin{document}\n\\maketitle\n\\tableofcontents\n\n");
        int labels = 0;
        for (int section = 1; section <= 10; section++)
        {
            text.Append(CultureInfo.InvariantCulture, $"\\section{{The {Word()} of {Word()}}}\\label{{sec:{section}}}\n");
            for (int piece = 0; piece < 9; piece++)
            {
                text.Append(Sentence()).Append("A \\emph{").Append(Word()).Append(' ').Append(Word()).Append("} stands here,\n");
                text.Append("and $x_").Append(piece).Append(" + y^2 = z$ holds for the ").Append(Word()).Append(".\n").Append(Sentence());
                text.Append(CultureInfo.InvariantCulture, $"See section~\\ref{{sec:{section}}} and \\textbf{{{Word()}}}.\n\n");
                switch (piece)
                {
                    case 0:
                        text.Append("\\begin{itemize}\n  \\item The ").Append(Word()).Append(".\n  \\item The \\emph{").Append(Word()).Append("}, which lasts.\n  \\item More.\n\\end{itemize}\n\n");
                        break;
                    case 1:
                        text.Append(CultureInfo.InvariantCulture, $"\\begin{{equation}}\n  a = \\frac{{b + c}}{{d}} + \\sqrt{{\\alpha}}\\label{{eq:{++labels}}}\n\\end{{equation}}\nAs in~\\ref{{eq:{labels}}} it goes on.\n\n");
                        break;
                    case 2:
                        text.Append(CultureInfo.InvariantCulture, $"\\begin{{figure}}\n  \\centering\n  A picture\n  \\caption{{The {Word()} and the {Word()}.}}\\label{{fig:{++labels}}}\n\\end{{figure}}\nFigure~\\ref{{fig:{labels}}} shows it.\n\n");
                        break;
                    case 3:
                        text.Append("\\begin{quote}\n  ").Append(Sentence().TrimEnd()).Append("\n\\end{quote}\n\n");
                        break;
                    case 4:
                        text.Append("\\subsection{Of ").Append(Word()).Append("}\nA note\\footnote{On ").Append(Word()).Append(" and \\emph{").Append(Word()).Append("}.} stands here.\n\n");
                        break;
                    case 5:
                        text.Append("\\begin{align}\n  a &= b \\\\\n  c &= d + e\n\\end{align}\n\n\\begin{theorem}\n  All $n$ are small.\n\\end{theorem}\n\n");
                        break;
                    case 6:
                        text.Append("\\begin{enumerate}\n  \\item One.\n  \\item Two.\n\\end{enumerate}\n\n\\begin{description}\n  \\item[Term] What it means.\n\\end{description}\n\n");
                        break;
                    case 7:
                        text.Append("\\begin{verbatim}\n$ typed { text } \\here\n\\end{verbatim}\n\n\\[ x = y \\]\n\n");
                        break;
                    default:
                        text.Append("\\begin{center}\n  In the middle.\n\\end{center}\n\n");
                        break;
                }
            }
        }

        return text.Append("\\end{document}\n").ToString();

        string Word() => s_words[random.Next(s_words.Length)];

        string Sentence() => "The " + string.Join(' ', Enumerable.Range(0, 11).Select(_ => Word())) + ". ";
    }
}
