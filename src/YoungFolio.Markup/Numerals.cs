using System.Text;

namespace YoungFolio.Markup;

/// <summary>The ways in which counters print.</summary>
public static class Numerals
{
    /// <summary>Small roman numerals; empty for numbers below 1.</summary>
    public static string Roman(int number)
    {
        var text = new StringBuilder();
        foreach ((int value, string letters) in (ReadOnlySpan<(int, string)>)[
            (1000, "m"), (900, "cm"), (500, "d"), (400, "cd"), (100, "c"), (90, "xc"), (50, "l"), (40, "xl"),
            (10, "x"), (9, "ix"), (5, "v"), (4, "iv"), (1, "i")])
        {
            for (; number >= value && text.Length < 1000; number -= value)
            {
                text.Append(letters);
            }
        }

        return text.ToString();
    }

    /// <summary>a to z for 1 to 26; null beyond.</summary>
    public static string? Letter(int number) => number switch
    {
        0 => "",
        >= 1 and <= 26 => ((char)('a' + number - 1)).ToString(),
        _ => null,
    };

    /// <summary>The nine footnote signs of Lamport's manual (section C.8.4); null beyond.</summary>
    public static string? FootnoteSign(int number) => number switch
    {
        0 => "",
        >= 1 and <= 9 => ((string[])["*", "†", "‡", "§", "¶", "‖", "**", "††", "‡‡"])[number - 1],
        _ => null,
    };
}
