using System.Text;
using YoungFolio.Markup;

namespace YoungFolio.Bibliography;

/// <summary>Text of fields: markup for print, plain for sorting, searching and other formats.</summary>
public static class MarkupText
{
    // Besides the signs that print knows too: what is a space or nothing at all in plain text.
    private static readonly Dictionary<string, string> s_signs = new(TextSigns.ByCommand, StringComparer.Ordinal)
    {
        [" "] = " ",
        ["\\"] = " ",
        [","] = "\u2009",
        ["-"] = "",
        ["/"] = "",
        ["ldots"] = "…",
        ["dots"] = "…",
        ["LaTeX"] = "LaTeX",
        ["TeX"] = "TeX",
    };

    private static readonly System.Buffers.SearchValues<char> s_special = System.Buffers.SearchValues.Create("\\{}~$-`'");

    /// <summary>Markup as plain text: accents composed, commands and braces gone, dashes and quotes as characters.</summary>
    public static string Plain(string markup)
    {
        if (!markup.AsSpan().ContainsAny(s_special))
        {
            return markup;
        }

        var text = new StringBuilder(markup.Length);
        for (int i = 0; i < markup.Length; i++)
        {
            switch (markup[i])
            {
                case '\\':
                    i = Command(markup, i, text);
                    break;
                case '{' or '}' or '$':
                    break;
                case '~':
                    text.Append(' ');
                    break;
                case '-' when Follows(markup, i, "---"):
                    text.Append('—');
                    i += 2;
                    break;
                case '-' when Follows(markup, i, "--"):
                    text.Append('–');
                    i++;
                    break;
                case '`' when Follows(markup, i, "``"):
                    text.Append('“');
                    i++;
                    break;
                case '\'' when Follows(markup, i, "''"):
                    text.Append('”');
                    i++;
                    break;
                case '`':
                    text.Append('‘');
                    break;
                case '\'':
                    text.Append('’');
                    break;
                case var c:
                    text.Append(c);
                    break;
            }
        }

        return string.Join(' ', text.ToString().Normalize(NormalizationForm.FormC).Split(' ', StringSplitOptions.RemoveEmptyEntries));
    }

    /// <summary>Plain text as markup: signs that mean something to the markup get their backslash.</summary>
    public static string Escape(string text)
    {
        var result = new StringBuilder(text.Length + 8);
        foreach (char c in text)
        {
            result.Append(c switch
            {
                '&' or '%' or '$' or '#' or '_' => "\\" + c,
                '{' or '}' => "",
                '\\' => "\\textbackslash{}",
                '~' => "\\textasciitilde{}",
                '–' => "--",
                '—' => "---",
                '\u00A0' => "~",
                _ => c.ToString(),
            });
        }

        return result.ToString();
    }

    /// <summary>A text folded for comparing: letters and figures alone, small, without accents.</summary>
    public static string Folded(string markup)
    {
        var result = new StringBuilder();
        foreach (char c in Plain(markup).Normalize(NormalizationForm.FormD))
        {
            if (char.IsLetterOrDigit(c))
            {
                result.Append(char.ToLowerInvariant(c));
            }
        }

        return result.ToString();
    }

    private static bool Follows(string text, int at, string wanted) => string.CompareOrdinal(text, at, wanted, 0, wanted.Length) == 0;

    private static int Command(string markup, int at, StringBuilder text)
    {
        int end = at + 1;
        while (end < markup.Length && char.IsAsciiLetter(markup[end]))
        {
            end++;
        }

        if (end == at + 1 && end < markup.Length)
        {
            end++;
        }

        string name = markup[(at + 1)..end];
        bool isWord = name.Length > 0 && char.IsAsciiLetter(name[0]);
        int next = end;
        while (isWord && next < markup.Length && markup[next] == ' ')
        {
            next++;
        }

        if (TextSigns.Accents.TryGetValue(name, out char accent) && next < markup.Length && (!isWord || next > end || markup[next] is '{' or '\\'))
        {
            int close = next;
            if (markup[next] == '{')
            {
                close = markup.IndexOf('}', next);
                close = close < 0 ? markup.Length - 1 : close;
            }
            else if (markup[next] == '\\' && next + 1 < markup.Length)
            {
                close = next + 1;
            }

            string letter = Plain(markup[next..(close + 1)].Trim('{', '}')).Replace('ı', 'i').Replace('ȷ', 'j');
            if (letter.Length > 0)
            {
                text.Append(letter[0]).Append(accent).Append(letter.AsSpan(1));
            }

            return close;
        }

        if (name == "penalty")
        {
            // A wish for line ends prints nothing.
            while (next < markup.Length && (char.IsAsciiDigit(markup[next]) || markup[next] == '-'))
            {
                next++;
            }

            return next < markup.Length && markup[next] == ' ' ? next : next - 1;
        }

        text.Append(s_signs.GetValueOrDefault(name, ""));
        return (isWord ? next : end) - 1;
    }
}
