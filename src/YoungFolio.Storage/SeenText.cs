using System.Globalization;
using System.Text;

namespace YoungFolio.Storage;

/// <summary>Names and titles as people see them: without signs that change how the others read and aren't seen themselves.</summary>
public static class SeenText
{
    /// <summary>A text in its normal form, without what isn't seen; null when it isn't text at all.</summary>
    public static string? Clean(string? text)
    {
        try
        {
            return text is null ? null : string.Concat(text.Normalize(NormalizationForm.FormC).EnumerateRunes().Where(r => Rune.GetUnicodeCategory(r) != UnicodeCategory.Format)).Trim();
        }
        catch (ArgumentException)
        {
            // Half a character.
            return null;
        }
    }

    /// <summary>A name of at most so many characters; null when it can't be one.</summary>
    public static string? Name(string? text, int longest) =>
        Clean(text) is { Length: > 0 } clean && clean.Length <= longest && !clean.EnumerateRunes().Any(IsUnseen) ? clean : null;

    /// <summary>Words in one line, with single spaces; empty for none.</summary>
    public static string OneLine(string? text) => string.Join(' ', (text ?? "").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));

    /// <summary>Whether a sign isn't seen: control characters, and signs that change how a name reads.</summary>
    public static bool IsUnseen(Rune rune) =>
        Rune.GetUnicodeCategory(rune) is UnicodeCategory.Control or UnicodeCategory.Format or UnicodeCategory.LineSeparator or UnicodeCategory.ParagraphSeparator
            or UnicodeCategory.Surrogate or UnicodeCategory.OtherNotAssigned;
}
