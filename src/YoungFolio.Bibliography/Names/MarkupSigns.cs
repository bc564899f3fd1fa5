namespace YoungFolio.Bibliography;

/// <summary>Commands that make one character, in the text of a manuscript and in the fields of a source alike.</summary>
public static class MarkupSigns
{
    /// <summary>Accents as combining characters (The TeXbook, chapter 9; Lamport's manual, table 3.1).</summary>
    public static readonly IReadOnlyDictionary<string, char> Accents = new Dictionary<string, char>(StringComparer.Ordinal)
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

    /// <summary>Letters and signs that a command stands for (Lamport's manual, tables 3.2 and 3.3).</summary>
    public static readonly IReadOnlyDictionary<string, string> Letters = new Dictionary<string, string>(StringComparer.Ordinal)
    {
        ["ss"] = "ß",
        ["o"] = "ø",
        ["O"] = "Ø",
        ["l"] = "ł",
        ["L"] = "Ł",
        ["ae"] = "æ",
        ["AE"] = "Æ",
        ["oe"] = "œ",
        ["OE"] = "Œ",
        ["aa"] = "å",
        ["AA"] = "Å",
        ["i"] = "ı",
        ["j"] = "ȷ",
        ["dh"] = "ð",
        ["DH"] = "Ð",
        ["th"] = "þ",
        ["TH"] = "Þ",
        ["&"] = "&",
        ["%"] = "%",
        ["$"] = "$",
        ["#"] = "#",
        ["_"] = "_",
        ["{"] = "{",
        ["}"] = "}",
        ["textendash"] = "–",
        ["textemdash"] = "—",
        ["textquoteright"] = "’",
        ["textquoteleft"] = "‘",
        ["textellipsis"] = "…",
        ["textbackslash"] = "\\",
        ["textasciitilde"] = "~",
        ["S"] = "§",
        ["copyright"] = "©",
        ["pounds"] = "£",
        ["textregistered"] = "®",
    };
}
