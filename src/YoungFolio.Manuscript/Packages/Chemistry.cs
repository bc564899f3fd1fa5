using System.Globalization;
using System.Text;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>
/// mhchem's <c>\ce</c>: chemical formulae and reactions as chemists type them. It is turned into the markup of a formula: figures
/// after a symbol are lowered, charges raised, arrows get their text.
/// </summary>
public static class Chemistry
{
    private static readonly (string Typed, string Arrow)[] s_arrows =
    [
        ("<=>>", "\\rightleftharpoons"), ("<<=>", "\\rightleftharpoons"), ("<=>", "\\rightleftharpoons"), ("<-->", "\\leftrightarrows"), ("<->", "\\leftrightarrow"), ("->", "\\longrightarrow"), ("<-", "\\longleftarrow"),
    ];

    /// <summary>Gives <c>\ce</c>.</summary>
    internal static void Define(DocumentBuilder builder) => builder.Machine.Define("ce", (m, t) =>
    {
        string source = m.ReadArgument(t).ToSource();
        string markup = "{" + ToMarkup(source) + "}";
        m.Push(m.Tokenize(builder.MathStructures.InFormula ? markup : "\\ensuremath" + markup, t.Position));
    });

    /// <summary>The markup of a chemical formula.</summary>
    public static string ToMarkup(string source)
    {
        var result = new StringBuilder();
        int at = 0;
        // What stands before decides what a figure, a plus or a minus means.
        bool afterSymbol = false;
        bool afterScript = false;
        while (at < source.Length)
        {
            char c = source[at];
            if (Array.Find(s_arrows, a => string.CompareOrdinal(source, at, a.Typed, 0, a.Typed.Length) == 0) is { Typed: { } typed } arrow)
            {
                at += typed.Length;
                string above = Bracketed(source, ref at);
                string below = Bracketed(source, ref at);
                result.Append(above.Length + below.Length == 0 ? $"\\mathrel{{{arrow.Arrow}}}"
                    : $"\\mathrel{{\\mathop{{{arrow.Arrow}}}\\limits^{{{Label(above)}}}{(below.Length > 0 ? $"_{{{Label(below)}}}" : "")}}}");
                afterSymbol = false;
            }
            else if (c == ' ')
            {
                at++;
                afterSymbol = false;
                // A plus or an arrow between substances has its own space.
                if (at < source.Length && source[at] == '+' && (at + 1 >= source.Length || source[at + 1] == ' '))
                {
                    result.Append("{}+{}");
                    at += Math.Min(2, source.Length - at);
                }
                else if (at < source.Length && source[at] is 'v' or '^' && (at + 1 >= source.Length || source[at + 1] == ' '))
                {
                    result.Append(source[at] == 'v' ? "\\downarrow " : "\\uparrow ");
                    at++;
                }
                else if (result.Length > 0 && at < source.Length && char.IsLetterOrDigit(source[at]))
                {
                    result.Append("\\,");
                }
            }
            else if (c == '$')
            {
                int end = source.IndexOf('$', at + 1);
                end = end < 0 ? source.Length : end;
                result.Append(source, at + 1, end - at - 1);
                at = Math.Min(source.Length, end + 1);
                afterSymbol = true;
            }
            else if (char.IsAsciiDigit(c))
            {
                int start = at;
                while (at < source.Length && (char.IsAsciiDigit(source[at]) || (!afterSymbol && source[at] is '.' or '/' && at + 1 < source.Length && char.IsAsciiDigit(source[at + 1]))))
                {
                    at++;
                }

                string number = source[start..at];
                result.Append(afterSymbol ? $"_{{{number}}}" : number.Split('/') is [var top, var bottom] ? $"\\tfrac{{{top}}}{{{bottom}}}\\," : number + "\\,");
            }
            else if (char.IsAsciiLetter(c))
            {
                int start = at;
                while (at < source.Length && char.IsAsciiLetter(source[at]))
                {
                    at++;
                }

                result.Append(CultureInfo.InvariantCulture, $"\\mathrm{{{source[start..at]}}}");
                afterSymbol = true;
            }
            else if (c is '^' or '_')
            {
                at++;
                string script = Script(source, ref at);
                // Scripts before a symbol hang on nothing, both on the same.
                result.Append(CultureInfo.InvariantCulture, $"{(afterSymbol || afterScript ? "" : "{}")}{c}{{{ToScript(script)}}}");
                afterScript = true;
                continue;
            }
            else if (c is '+' or '-' && afterSymbol && (at + 1 >= source.Length || source[at + 1] is ' ' or ')' or ']' or '}'))
            {
                result.Append(CultureInfo.InvariantCulture, $"^{{{c}}}");
                at++;
            }
            else if (c is '-' or '=' or '#')
            {
                // Bonds: single, double, triple.
                result.Append(c switch { '-' => "{-}", '=' => "{=}", _ => "{\\equiv}" });
                at++;
                afterSymbol = false;
            }
            else if (c is '*' or '.')
            {
                result.Append("{\\cdot}");
                at++;
                afterSymbol = false;
            }
            else if (c == '\\')
            {
                int start = at++;
                while (at < source.Length && char.IsAsciiLetter(source[at]))
                {
                    at++;
                }

                at = at == start + 1 ? Math.Min(source.Length, at + 1) : at;
                string command = source[start..at];
                result.Append(command == "\\bond" ? Bond(source, ref at) : command + " ");
                afterSymbol = true;
            }
            else
            {
                result.Append(c is '[' or ']' or '(' or ')' or '{' or '}' ? c : c == '%' ? "\\%" : c);
                afterSymbol = c is ')' or ']' or '}';
                at++;
            }

            afterScript = false;
        }

        return result.ToString();
    }

    private static string Bond(string source, ref int at)
    {
        string kind = Script(source, ref at);
        return kind switch { "-" or "1" => "{-}", "=" or "2" => "{=}", "#" or "3" => "{\\equiv}", "~" => "{\\sim}", "->" => "{\\rightarrow}", _ => "{\\cdots}" };
    }

    private static string ToScript(string script) => string.Concat(script.Select(c => char.IsAsciiLetter(c) ? $"\\mathrm{{{c}}}" : c.ToString()));

    private static string Label(string text) => text.StartsWith('$') ? text.Trim('$') : ToMarkup(text);

    // {…}, or the signs up to the next symbol: ^2-, ^3+.
    private static string Script(string source, ref int at)
    {
        if (at < source.Length && source[at] == '{')
        {
            int depth = 0;
            int start = at + 1;
            for (; at < source.Length; at++)
            {
                depth += source[at] == '{' ? 1 : source[at] == '}' ? -1 : 0;
                if (depth == 0)
                {
                    break;
                }
            }

            string inner = source[start..Math.Min(at, source.Length)];
            at = Math.Min(source.Length, at + 1);
            return inner;
        }

        int from = at;
        while (at < source.Length && (char.IsAsciiDigit(source[at]) || source[at] is '+' or '-' or '.'))
        {
            at++;
        }

        at = at == from ? Math.Min(source.Length, at + 1) : at;
        return source[from..at];
    }

    private static string Bracketed(string source, ref int at)
    {
        if (at >= source.Length || source[at] != '[')
        {
            return "";
        }

        int end = source.IndexOf(']', at);
        end = end < 0 ? source.Length : end;
        string inner = source[(at + 1)..end];
        at = Math.Min(source.Length, end + 1);
        return inner;
    }
}
