using System.Text;

namespace YoungFolio.Markup;

/// <summary>The first character of a text, as a number of Unicode's.</summary>
public static class FirstCharacter
{
    /// <summary>Its number; 0 of an empty text, and U+FFFD where half a character stands.</summary>
    public static int Of(string text)
    {
        if (text.Length == 0)
        {
            return 0;
        }

        Rune.DecodeFromUtf16(text, out Rune first, out _);
        return first.Value;
    }
}
