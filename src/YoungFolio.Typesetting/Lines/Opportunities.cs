namespace YoungFolio.Typesetting.Lines;

/// <summary>
/// Characters that stand for a space of fixed width or for nothing but a place where a line may or must not end (UAX #14, classes
/// BA, GL, WJ and ZW; widths by the names in the Unicode standard, section 6.2).
/// </summary>
internal static class Opportunities
{
    /// <summary>Whether a character is one of them.</summary>
    public static bool IsSign(char c) => c is (>= '\u2000' and <= '\u200C') or '\u202F' or '\u205F' or '\u2060' or '\uFEFF';

    /// <summary>Whether a line may end at it: not at a figure space, a narrow no-break space, a word joiner or a sign that only parts letters.</summary>
    public static bool Allows(char c) => c is not ('\u2007' or '\u200C' or '\u202F' or '\u2060' or '\uFEFF');

    /// <summary>Its width as a share of the size.</summary>
    public static double Width(char c) => c switch
    {
        '\u2000' or '\u2002' => 0.5,
        '\u2001' or '\u2003' => 1,
        '\u2004' => 1 / 3.0,
        '\u2005' => 0.25,
        '\u2006' => 1 / 6.0,
        '\u2007' => 0.5,
        '\u2008' => 0.25,
        '\u2009' or '\u202F' => 1 / 6.0,
        '\u200A' => 0.1,
        '\u205F' => 4 / 18.0,
        _ => 0,
    };
}
