using System.Globalization;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Mathematics;

/// <summary>
/// The fonts that formulas were set in before Unicode: which character a number in one of them stands for. Markup names signs so by
/// <c>\mathchar</c>, <c>\DeclareMathSymbol</c> and kin. The tables are data beside this file.
/// </summary>
internal static class OldMathFonts
{
    private static readonly Lazy<Dictionary<(string Encoding, int Number), string>> s_signs = new(Read);

    /// <summary>The encodings of the families 0 to 3 (The TeXbook, ch. 17).</summary>
    private static readonly string[] s_families = ["OT1", "OML", "OMS", "OMX"];

    /// <summary>The encoding of a family by its number; null: none is known.</summary>
    public static string? OfFamily(int family) => family >= 0 && family < s_families.Length ? s_families[family] : null;

    /// <summary>The encoding of a font that a preamble declares for signs; null: its signs aren't known.</summary>
    /// <param name="encoding">Its encoding.</param>
    /// <param name="family">Its family.</param>
    public static string? Of(string encoding, string family) => family switch
    {
        "msa" => "MSA",
        "msb" => "MSB",
        _ when s_families.Contains(encoding) => encoding,
        _ => null,
    };

    /// <summary>The character; null: the font has none at that number, or isn't known.</summary>
    public static string? SignOf(string? encoding, int number) => encoding is not null && s_signs.Value.TryGetValue((encoding, number), out string? sign) ? sign : null;

    /// <summary>The combining form of an accent that stands on its own.</summary>
    public static string? AccentOf(string? sign) => sign switch
    {
        "`" => "\u0300",
        "´" => "\u0301",
        "ˆ" => "\u0302",
        "˜" => "\u0303",
        "¯" => "\u0304",
        "˘" => "\u0306",
        "˙" => "\u0307",
        "¨" => "\u0308",
        "˚" => "\u030A",
        "ˇ" => "\u030C",
        "\u20D7" => "\u20D7",
        _ => null,
    };

    private static Dictionary<(string, int), string> Read()
    {
        var signs = new Dictionary<(string, int), string>();
        foreach (string line in ShippedText.Of(typeof(OldMathFonts).Assembly, "old-fonts.txt").Split('\n', StringSplitOptions.RemoveEmptyEntries).Where(static l => l[0] != '#'))
        {
            string[] words = line.Split(' ', StringSplitOptions.RemoveEmptyEntries);
            int first = int.Parse(words[1], NumberStyles.HexNumber, CultureInfo.InvariantCulture);
            for (int i = 2; i < words.Length; i++)
            {
                // A hyphen stands for none, but in the one place that has it.
                if (words[i] != "-" || (words[0] == "OT1" && first + i - 2 == '-'))
                {
                    signs[(words[0], first + i - 2)] = words[i];
                }
            }
        }

        return signs;
    }
}
