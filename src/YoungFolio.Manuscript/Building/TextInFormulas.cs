using YoungFolio.Documents.Mathematics;
using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Commands of text that stand inside a formula.</summary>
internal sealed class TextInFormulas(DocumentBuilder builder) : ReadingFeature(builder)
{
    // The short font commands change letters in formulas too (The TeXbook, ch. 17); the longer ones are for text alone.
    internal void ChangeLettersInFormula(string name, Token token)
    {
        (MathAlphabet Alphabet, string Command)? letters = name switch
        {
            "rm" or "rmfamily" or "upshape" => (MathAlphabet.Upright, "mathrm"),
            "bf" or "bfseries" => (MathAlphabet.Bold, "mathbf"),
            "it" or "itshape" or "em" => (MathAlphabet.Italic, "mathit"),
            "sf" or "sffamily" => (MathAlphabet.Sans, "mathsf"),
            "tt" or "ttfamily" => (MathAlphabet.Mono, "mathtt"),
            _ => null,
        };
        if (letters is { } known)
        {
            Machine.Assign(Builder.Formulas.Alphabet, known.Alphabet);
        }

        if (name.Length > 2)
        {
            Findings.Check("text-in-formula", token.Position, token.Length, $"{token} is for text, and this is a formula.",
                letters is { } l ? $"Write \\{l.Command}{{…}} around the letters." : "Put the words into \\text{…}.");
        }
    }

    // Accents of text, and those of formulas that look the same.
    internal static string? AccentInFormula(string command) => command switch
    {
        "'" => "acute",
        "`" => "grave",
        "^" => "hat",
        "\"" => "ddot",
        "~" => "tilde",
        "=" => "bar",
        "." => "dot",
        "v" => "check",
        "u" => "breve",
        _ => null,
    };
}
