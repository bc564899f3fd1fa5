using System.Text;

namespace YoungFolio.Bibliography;

/// <summary>
/// Writes a name in the form that a style asks for, as <c>format.name$</c> does (<em>Designing BibTeX Styles</em>, section 5.4): each brace of
/// <c>{ff~}{vv~}{ll}{, jj}</c> is a part of the name with what stands around it, two letters for all of it and one for initials.
/// </summary>
internal static class NameFormat
{
    // A part that is shorter stays with what follows it: a tie stands there, not a space.
    private const int LongPart = 3;

    /// <summary>Writes a name.</summary>
    /// <param name="name">The name.</param>
    /// <param name="form">The form.</param>
    public static string Write(PersonName name, string form)
    {
        var text = new StringBuilder();
        for (int i = 0; i < form.Length; i++)
        {
            if (form[i] != '{')
            {
                text.Append(form[i]);
                continue;
            }

            int end = EndOfBrace(form, i);
            WritePart(name, form[(i + 1)..end], text);
            i = end;
        }

        return text.ToString();
    }

    private static int EndOfBrace(string text, int open)
    {
        int depth = 0;
        for (int i = open; i < text.Length; i++)
        {
            depth += text[i] == '{' ? 1 : text[i] == '}' ? -1 : 0;
            if (depth == 0)
            {
                return i;
            }
        }

        return text.Length;
    }

    private static void WritePart(PersonName name, string form, StringBuilder text)
    {
        int letter = FirstLetter(form);
        if (letter < 0)
        {
            text.Append(form);
            return;
        }

        char kind = char.ToLowerInvariant(form[letter]);
        List<(string Word, char Behind)> words = Words(kind switch { 'f' => name.First, 'v' => name.Von, 'j' => name.Junior, _ => name.Last });
        if (words.Count == 0)
        {
            return;
        }

        bool isFull = letter + 1 < form.Length && form[letter + 1] == form[letter];
        int behind = letter + (isFull ? 2 : 1);
        string? between = null;
        if (behind < form.Length && form[behind] == '{')
        {
            int end = EndOfBrace(form, behind);
            between = form[(behind + 1)..end];
            behind = Math.Min(end + 1, form.Length);
        }

        var part = new StringBuilder();
        for (int i = 0; i < words.Count; i++)
        {
            part.Append(isFull ? words[i].Word : Initial(words[i].Word));
            if (i == words.Count - 1)
            {
                break;
            }

            if (between is not null)
            {
                part.Append(between);
                continue;
            }

            part.Append(isFull ? "" : ".");
            part.Append(words[i].Behind is '-' or '~' ? words[i].Behind : i == words.Count - 2 || StyleText.Length(part.ToString()) < LongPart ? '~' : ' ');
        }

        part.Append(form, behind, form.Length - behind);
        if (part[^1] == '~')
        {
            // A tie at the end is a wish: it becomes a space behind what is long enough. Two of them are one that stays.
            part.Length--;
            if (part.Length == 0 || part[^1] != '~')
            {
                part.Append(StyleText.Length(part.ToString()) < LongPart ? '~' : ' ');
            }
        }

        text.Append(form, 0, letter).Append(part);
    }

    private static int FirstLetter(string form)
    {
        int depth = 0;
        for (int i = 0; i < form.Length; i++)
        {
            depth += form[i] == '{' ? 1 : form[i] == '}' ? -1 : 0;
            if (depth == 0 && char.IsAsciiLetter(form[i]))
            {
                return i;
            }
        }

        return -1;
    }

    // Words are parted by spaces, ties and hyphens outside of braces.
    private static List<(string Word, char Behind)> Words(string part)
    {
        var words = new List<(string, char)>();
        int depth = 0;
        int begin = 0;
        for (int i = 0; i <= part.Length; i++)
        {
            char c = i < part.Length ? part[i] : ' ';
            depth += c == '{' ? 1 : c == '}' ? -1 : 0;
            if (i < part.Length && (depth > 0 || !(char.IsWhiteSpace(c) || c is '~' or '-')))
            {
                continue;
            }

            if (i > begin)
            {
                words.Add((part[begin..i], c));
            }

            begin = i + 1;
        }

        return words;
    }

    // The first letter, or a whole accented one.
    private static string Initial(string word)
    {
        for (int i = 0; i < word.Length; i++)
        {
            if (word[i] == '{' && i + 1 < word.Length && word[i + 1] == '\\')
            {
                return word[i..Math.Min(EndOfBrace(word, i) + 1, word.Length)];
            }

            // An accent without its braces is taken along: its letter alone would be another one.
            if (word[i] == '\\' && i + 1 < word.Length)
            {
                string plain = MarkupText.Plain(word[i..]);
                return plain.Length > 0 ? System.Globalization.StringInfo.GetNextTextElement(plain) : "";
            }

            if (char.IsLetter(word[i]))
            {
                return System.Globalization.StringInfo.GetNextTextElement(word, i);
            }
        }

        return "";
    }
}
