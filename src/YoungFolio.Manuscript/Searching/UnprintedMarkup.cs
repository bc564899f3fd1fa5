namespace YoungFolio.Manuscript.Searching;

/// <summary>
/// Tells typed words that print from what only says how: commands, keys, names of files, lengths, mathematics, comments, the preamble. It reads
/// the text as it is typed and expands nothing, so a macro's own words count as markup where it is defined and nowhere else.
/// </summary>
public static class UnprintedMarkup
{
    // So many arguments in braces of these don't print; what stands in brackets after them doesn't either.
    private static readonly Dictionary<string, int> s_arguments = new(StringComparer.Ordinal)
    {
        ["label"] = 1, ["ref"] = 1, ["pageref"] = 1, ["eqref"] = 1, ["autoref"] = 1, ["nameref"] = 1, ["cref"] = 1, ["Cref"] = 1, ["vref"] = 1, ["hyperref"] = 0,
        ["input"] = 1, ["include"] = 1, ["includeonly"] = 1, ["includegraphics"] = 1, ["includepdf"] = 1, ["graphicspath"] = 1, ["bibliography"] = 1, ["bibliographystyle"] = 1, ["addbibresource"] = 1, ["nocite"] = 1,
        ["documentclass"] = 1, ["usepackage"] = 1, ["RequirePackage"] = 1, ["hypersetup"] = 1, ["geometry"] = 1, ["pagestyle"] = 1, ["thispagestyle"] = 1, ["pagenumbering"] = 1,
        ["setlength"] = 2, ["addtolength"] = 2, ["setcounter"] = 2, ["addtocounter"] = 2, ["newlength"] = 1, ["newcounter"] = 1, ["vspace"] = 1, ["hspace"] = 1, ["rule"] = 2, ["raisebox"] = 1, ["resizebox"] = 2, ["scalebox"] = 1,
        ["newcommand"] = 2, ["renewcommand"] = 2, ["providecommand"] = 2, ["newenvironment"] = 3, ["DeclareMathOperator"] = 2, ["newtheorem"] = 1, ["definecolor"] = 3, ["color"] = 1, ["textcolor"] = 1, ["colorbox"] = 1,
        ["selectlanguage"] = 1, ["foreignlanguage"] = 1, ["url"] = 1, ["href"] = 1, ["addcontentsline"] = 2, ["cmidrule"] = 1, ["cline"] = 1, ["multicolumn"] = 2, ["multirow"] = 2, ["gls"] = 1, ["Gls"] = 1, ["glspl"] = 1,
        ["bibitem"] = 1, ["index"] = 1, ["tikzset"] = 1, ["parbox"] = 1, ["makebox"] = 0, ["framebox"] = 0, ["linespread"] = 1, ["sisetup"] = 1, ["lstset"] = 1, ["num"] = 1, ["unit"] = 1, ["qty"] = 2, ["SI"] = 2, ["si"] = 1,
    };

    // So many arguments of an environment's beginning don't print, without its name.
    private static readonly Dictionary<string, int> s_begins = new(StringComparer.Ordinal)
    {
        ["tabular"] = 1, ["tabular*"] = 2, ["tabularx"] = 2, ["longtable"] = 1, ["array"] = 1, ["minipage"] = 1, ["multicols"] = 1, ["thebibliography"] = 1, ["subfigure"] = 1, ["subtable"] = 1, ["otherlanguage"] = 1, ["lstlisting"] = 0,
        ["figure"] = 0, ["table"] = 0, ["figure*"] = 0, ["table*"] = 0, ["itemize"] = 0, ["enumerate"] = 0,
    };

    private static readonly HashSet<string> s_mathematics = new(StringComparer.Ordinal)
    {
        "math", "displaymath", "equation", "equation*", "align", "align*", "gather", "gather*", "multline", "multline*", "eqnarray", "eqnarray*", "flalign", "flalign*", "alignat", "alignat*", "tikzpicture",
    };

    /// <summary>The stretches that don't print, in order, without overlap.</summary>
    /// <param name="text">A file's text.</param>
    public static IReadOnlyList<(int From, int To)> Find(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        var scan = new Scan(text);
        scan.Run();
        return scan.Found;
    }

    private sealed class Scan(string text)
    {
        private int _at;
        private int _paragraphEnd = -1;

        // Found in one go: to look for each one's end from where it stands would take the square of a text that closes none.
        private readonly Dictionary<int, int> _closings = Pairs(text);

        public List<(int From, int To)> Found { get; } = [];

        public void Run()
        {
            SkipPreamble();
            while (_at < text.Length)
            {
                switch (text[_at])
                {
                    case '%':
                        Add(_at, LineEnd(_at));
                        break;
                    case '\\':
                        Command();
                        break;
                    case '$':
                        string sign = text.AsSpan(_at).StartsWith("$$") ? "$$" : "$";
                        Add(_at, After(sign, _at + sign.Length));
                        break;
                    case '{' or '}' or '&' or '~':
                        Add(_at, _at + 1);
                        break;
                    default:
                        _at++;
                        break;
                }
            }
        }

        private void SkipPreamble()
        {
            int begin = text.IndexOf("\\begin{document}", StringComparison.Ordinal);
            int documentClass = text.IndexOf("\\documentclass", StringComparison.Ordinal);
            if (begin >= 0 && documentClass >= 0 && documentClass < begin)
            {
                Add(0, begin);
            }
        }

        private void Command()
        {
            int from = _at;
            int at = from + 1;
            while (at < text.Length && (char.IsAsciiLetter(text[at]) || text[at] == '@'))
            {
                at++;
            }

            if (at == from + 1)
            {
                Sign(from);
                return;
            }

            string name = text[(from + 1)..at];
            at += at < text.Length && text[at] == '*' ? 1 : 0;
            switch (name)
            {
                case "begin":
                    Begin(from, at);
                    return;
                case "end":
                    at = Groups(at, 1);
                    Add(from, text.AsSpan(from, at - from).Contains("{document}", StringComparison.Ordinal) ? text.Length : at);
                    return;
                default:
                    bool isCitation = name.Contains("cite", StringComparison.OrdinalIgnoreCase);
                    Add(from, isCitation ? Groups(at, 1) : s_arguments.TryGetValue(name, out int count) ? Groups(at, count) : at);
                    return;
            }
        }

        // A sign with a backslash prints; \( and \[ begin mathematics, \\ ends a line and may say by how much.
        private void Sign(int from)
        {
            char sign = from + 1 < text.Length ? text[from + 1] : ' ';
            Add(from, sign switch
            {
                '(' => After("\\)", from + 2),
                '[' => After("\\]", from + 2),
                '\\' => Brackets(from + 2),
                _ => from + 1,
            });
            // The sign itself is a letter like any other, also when it is a percent or a dollar.
            if (sign is '%' or '$' or '{' or '}' or '&' && _at == from + 1)
            {
                _at++;
            }
        }

        private void Begin(int from, int at)
        {
            int open = at;
            at = Groups(at, 1);
            string name = at > open + 1 && text[open] == '{' ? text[(open + 1)..(at - 1)] : "";
            if (s_mathematics.Contains(name))
            {
                Add(from, After($"\\end{{{name}}}", at));
                return;
            }

            Add(from, s_begins.TryGetValue(name, out int count) ? Groups(at, count) : at);
        }

        // The end of so many groups in braces, with those in brackets around them; where they end if there are fewer.
        private int Groups(int at, int count)
        {
            at = Brackets(at);
            for (; count > 0 && at < text.Length && text[at] == '{'; count--)
            {
                int end = Closing(at);
                if (end < 0)
                {
                    return at;
                }

                at = Brackets(end);
            }

            return at;
        }

        private int Brackets(int at)
        {
            while (at < text.Length && text[at] == '[' && _closings.TryGetValue(at, out int closing))
            {
                at = closing + 1;
            }

            return at;
        }

        // After the brace that closes the one at a place; −1: nothing does.
        private int Closing(int at) => _closings.TryGetValue(at, out int closing) ? closing + 1 : -1;

        // Which brace or bracket closes which: brackets in their own group and paragraph, by the first that follows.
        private static Dictionary<int, int> Pairs(string text)
        {
            var closings = new Dictionary<int, int>();
            var groups = new Stack<int>();
            // Those of the group that is open, after how many of them each open group began.
            var brackets = new List<(int At, int Paragraph)>();
            var outer = new Stack<int>();
            int first = 0;
            int paragraph = 0;
            for (int at = 0; at < text.Length; at++)
            {
                switch (text[at])
                {
                    case '\\':
                        at++;
                        break;
                    case '{':
                        groups.Push(at);
                        outer.Push(first);
                        first = brackets.Count;
                        break;
                    case '}' when groups.TryPop(out int group):
                        closings[group] = at;
                        brackets.RemoveRange(first, brackets.Count - first);
                        first = outer.Pop();
                        break;
                    case '[':
                        brackets.Add((at, paragraph));
                        break;
                    case ']':
                        foreach ((int open, _) in brackets.Skip(first).Where(b => b.Paragraph == paragraph))
                        {
                            closings[open] = at;
                        }

                        brackets.RemoveRange(first, brackets.Count - first);
                        break;
                    case '\n' when at + 1 < text.Length && text[at + 1] == '\n':
                        paragraph++;
                        break;
                }
            }

            return closings;
        }

        // After the next of some words; an empty line ends mathematics that wasn't closed.
        private int After(string words, int from)
        {
            int end = ParagraphEnd(from);
            for (int at = from; at < end; at++)
            {
                if (text.AsSpan(at).StartsWith(words))
                {
                    return at + words.Length;
                }

                // A dollar with a backslash ends nothing.
                at += text[at] == '\\' ? 1 : 0;
            }

            return end;
        }

        // Looked for once a paragraph.
        private int ParagraphEnd(int from)
        {
            if (_paragraphEnd < from)
            {
                int end = text.IndexOf("\n\n", from, StringComparison.Ordinal);
                _paragraphEnd = end < 0 ? text.Length : end;
            }

            return _paragraphEnd;
        }

        private int LineEnd(int from)
        {
            int end = text.IndexOf('\n', from);
            return end < 0 ? text.Length : end;
        }

        private void Add(int from, int to)
        {
            if (Found is [.., var last] && last.To == from)
            {
                Found[^1] = (last.From, to);
            }
            else
            {
                Found.Add((from, to));
            }

            _at = to;
        }
    }
}
