using System.Text;
using YoungFolio.Manuscript.Searching;

namespace YoungFolio.HandIn;

/// <summary>Markup without what its writers say to each other.</summary>
public static class BareMarkup
{
    /// <summary>Takes comments and typed notes out of a text. What prints stays the same: a comment at a line's end leaves its sign there, which holds off the space.</summary>
    /// <param name="text">The text.</param>
    public static string Of(string text)
    {
        ArgumentNullException.ThrowIfNull(text);
        return WithoutComments(WithoutNotes(text));
    }

    private static string WithoutNotes(string text)
    {
        var result = new StringBuilder();
        int at = 0;
        foreach (TypedNote note in TypedNotes.Of(text, TypedNotes.Commands([])))
        {
            if (note.From < at)
            {
                continue;
            }

            result.Append(text, at, note.From - at);
            at = note.To;
            // The line of a note that stands alone goes along.
            int line = text.LastIndexOf('\n', Math.Max(0, note.From - 1)) + 1;
            int end = text.IndexOf('\n', at);
            if (end >= 0 && note.From >= line && text.AsSpan(line, note.From - line).IsWhiteSpace() && text.AsSpan(at, end - at).IsWhiteSpace())
            {
                result.Length -= note.From - line;
                at = end + 1;
            }
        }

        return result.Append(text, at, text.Length - at).ToString();
    }

    private static string WithoutComments(string text)
    {
        var result = new StringBuilder();
        int at = 0;
        foreach (int sign in TypedMarkup.Comments(text))
        {
            if (sign < at)
            {
                continue;
            }

            int line = text.LastIndexOf('\n', Math.Max(0, sign - 1)) + 1;
            int end = text.IndexOf('\n', sign);
            end = end < 0 ? text.Length : end;
            if (sign == 0 || (line <= sign && text.AsSpan(line, sign - line).IsWhiteSpace()))
            {
                // A line of nothing but a comment goes.
                result.Append(text, at, Math.Max(0, line - at));
                at = Math.Min(text.Length, end + 1);
            }
            else
            {
                result.Append(text, at, sign + 1 - at);
                at = end;
            }
        }

        return result.Append(text, at, text.Length - at).ToString();
    }
}
