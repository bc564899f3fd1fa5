namespace YoungFolio.Markup;

/// <summary>A sign of text and the commands that print it.</summary>
/// <param name="Sign">The character.</param>
/// <param name="Name">What it is called (Unicode's name for it).</param>
/// <param name="Commands">The commands' names.</param>
public sealed record TextSign(string Sign, string Name, IReadOnlyList<string> Commands)
{
    /// <summary>Reads a line of a data file: <c>° degree sign | textdegree</c>.</summary>
    public static TextSign Read(string line)
    {
        string[] parts = line.Split(" | ");
        string[] sign = parts[0].Split(' ', 2);
        return new TextSign(sign[0], sign[1], parts[1].Split(' '));
    }
}

/// <summary>Letters, signs and accents that text has commands for: in print, and wherever markup is made plain text. The signs are data beside this file.</summary>
public static class TextSigns
{
    /// <summary>They, in the file's order.</summary>
    public static IReadOnlyList<TextSign> All { get; } =
    [
        // The sign # is a line as well as the beginning of a remark: a bar tells them apart.
        .. ShippedText.Of(typeof(TextSigns).Assembly, "signs-of-text.txt").Split('\n').Where(static l => l.Contains(" | ", StringComparison.Ordinal)).Select(TextSign.Read),
    ];

    /// <summary>What each command prints.</summary>
    public static IReadOnlyDictionary<string, string> ByCommand { get; } =
        All.SelectMany(s => s.Commands.Select(c => KeyValuePair.Create(c, s.Sign))).ToDictionary(StringComparer.Ordinal);

    /// <summary>Accents as combining characters (The TeXbook, chapter 9; Lamport's manual, table 3.1).</summary>
    public static IReadOnlyDictionary<string, char> Accents { get; } = new Dictionary<string, char>(StringComparer.Ordinal)
    {
        ["'"] = '\u0301',
        ["`"] = '\u0300',
        ["^"] = '\u0302',
        ["\""] = '\u0308',
        ["~"] = '\u0303',
        ["="] = '\u0304',
        ["."] = '\u0307',
        ["u"] = '\u0306',
        ["v"] = '\u030C',
        ["H"] = '\u030B',
        ["c"] = '\u0327',
        ["d"] = '\u0323',
        ["b"] = '\u0331',
        ["r"] = '\u030A',
        ["k"] = '\u0328',
        ["t"] = '\u0361',
    };
}
