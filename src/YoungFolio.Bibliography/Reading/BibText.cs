using System.Globalization;
using System.Text;

namespace YoungFolio.Bibliography;

/// <summary>A piece of text to put in place of another.</summary>
/// <param name="Offset">Where.</param>
/// <param name="Length">How many characters go.</param>
/// <param name="Text">What comes in.</param>
public readonly record struct TextEdit(int Offset, int Length, string Text);

/// <summary>Changes of a .bib file's text that touch nothing but what is changed.</summary>
public static class BibText
{
    /// <summary>Gives a field a value; an empty one takes the field out.</summary>
    public static TextEdit SetField(string text, BibEntry entry, string name, string value)
    {
        BibField? field = entry.Written.FirstOrDefault(f => f.Name.Equals(name, StringComparison.OrdinalIgnoreCase));
        if (field is not null && value.Length > 0)
        {
            // Braces or quotes stay as the writer likes them; a bare number stays bare.
            string old = text[field.ValueOffset..field.End];
            bool quotes = old.StartsWith('"') && !old.Contains('#', StringComparison.Ordinal) && !value.Contains('"', StringComparison.Ordinal);
            bool bare = old.All(char.IsAsciiDigit) && value.All(char.IsAsciiDigit);
            return new TextEdit(field.ValueOffset, field.End - field.ValueOffset, bare ? value : quotes ? $"\"{value}\"" : Braced(value));
        }

        if (field is not null)
        {
            return Removal(text, field);
        }

        if (value.Length == 0)
        {
            return new TextEdit(entry.End, 0, "");
        }

        if (entry.Written.Count == 0)
        {
            int behind = entry.KeyOffset + entry.Key.Length;
            bool comma = behind < text.Length && text[behind] == ',';
            return new TextEdit(behind + (comma ? 1 : 0), 0, $"{(comma ? "" : ",")}\n  {name} = {Braced(value)}");
        }

        BibField last = entry.Written[^1];
        string indent = IndentOf(text, last.Offset);
        bool onOneLine = !text[entry.Offset..last.Offset].Contains('\n', StringComparison.Ordinal);
        int equals = text.IndexOf('=', last.Offset);
        string pad = onOneLine ? "" : new string(' ', Math.Max(0, equals - last.Offset - name.Length - (equals > last.Offset && text[equals - 1] == ' ' ? 1 : 0)));
        string between = equals > 0 && text[equals - 1] == ' ' ? " = " : "=";
        return new TextEdit(last.End, 0, $",{(onOneLine ? " " : "\n" + indent)}{name}{pad}{between}{Braced(value)}");
    }

    /// <summary>Gives an entry another key.</summary>
    public static TextEdit Rename(BibEntry entry, string key) => new(entry.KeyOffset, entry.Key.Length, key);

    /// <summary>Gives an entry another type.</summary>
    public static TextEdit SetType(BibEntry entry, string type) => new(entry.Offset + 1, entry.Type.Length, type);

    /// <summary>Takes an entry out, with the empty lines behind it.</summary>
    public static TextEdit Remove(string text, BibEntry entry)
    {
        int end = entry.End;
        int lines = 0;
        while (end < text.Length && char.IsWhiteSpace(text[end]) && lines < 2)
        {
            lines += text[end] == '\n' ? 1 : 0;
            end++;
        }

        return new TextEdit(entry.Offset, end - entry.Offset, "");
    }

    /// <summary>Adds entries at the end.</summary>
    public static TextEdit Append(string text, string entries)
    {
        string gap = text.Length == 0 ? "" : text.EndsWith("\n\n", StringComparison.Ordinal) ? "" : text.EndsWith('\n') ? "\n" : "\n\n";
        return new TextEdit(text.Length, 0, gap + entries.Trim() + "\n");
    }

    /// <summary>An entry as text.</summary>
    public static string Write(string type, string key, IEnumerable<KeyValuePair<string, string>> fields)
    {
        var shown = fields.Where(f => f.Value.Length > 0).ToList();
        int width = shown.Count == 0 ? 0 : shown.Max(f => f.Key.Length);
        var text = new StringBuilder();
        text.Append(CultureInfo.InvariantCulture, $"@{type}{{{key}");
        foreach ((string name, string value) in shown)
        {
            text.Append(",\n  ").Append(name.PadRight(width)).Append(" = ").Append(Braced(value));
        }

        return text.Append("\n}\n").ToString();
    }

    /// <summary>Carries out edits of one text; they must not overlap.</summary>
    public static string Apply(string text, IEnumerable<TextEdit> edits)
    {
        foreach (TextEdit edit in edits.OrderByDescending(e => e.Offset))
        {
            text = string.Concat(text.AsSpan(0, edit.Offset), edit.Text, text.AsSpan(edit.Offset + edit.Length));
        }

        return text;
    }

    /// <summary>Whether braces match, so that the value can't spill into what follows.</summary>
    public static bool IsBalanced(string value)
    {
        int depth = 0;
        for (int i = 0; i < value.Length; i++)
        {
            if (value[i] == '\\')
            {
                i++;
                continue;
            }

            depth += value[i] == '{' ? 1 : value[i] == '}' ? -1 : 0;
            if (depth < 0)
            {
                return false;
            }
        }

        return depth == 0;
    }

    private static string Braced(string value) => "{" + value + "}";

    // The field with the comma that parts it from its neighbour, and its own line.
    private static TextEdit Removal(string text, BibField field)
    {
        int start = field.Offset;
        int end = field.End;
        while (end < text.Length && text[end] is ' ' or '\t')
        {
            end++;
        }

        bool comma = end < text.Length && text[end] == ',';
        end = comma ? end + 1 : field.End;
        while (start > 0 && text[start - 1] is ' ' or '\t')
        {
            start--;
        }

        if (start > 0 && text[start - 1] == '\n')
        {
            start--;
            start -= start > 0 && text[start - 1] == '\r' ? 1 : 0;
        }

        return new TextEdit(start, end - start, "");
    }

    private static string IndentOf(string text, int at)
    {
        int line = text.LastIndexOf('\n', Math.Max(0, at - 1)) + 1;
        int end = line;
        while (end < text.Length && text[end] is ' ' or '\t')
        {
            end++;
        }

        return text[line..end];
    }
}
