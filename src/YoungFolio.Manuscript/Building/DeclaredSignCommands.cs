using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Characters by their numbers, circled ones, and signs and accents that a preamble declares for an encoding.</summary>
internal sealed class DeclaredSignCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal void DefineDeclaredSigns()
    {
        Machine.Define("char", (m, t) => AddByNumber(m.Quantities.ScanInteger(), t));
        Machine.Define("symbol", (m, t) =>
        {
            if (m.Quantities.ParseInteger(m.ReadArgument(t), t) is { } code)
            {
                AddByNumber(code, t);
            }
        });
        Machine.Define("textcompwordmark", (_, t) => Builder.Text.AddText("\u200C", t.Position));
        Machine.Define("nobreakspace", (_, t) => Builder.AddCharacter(0xA0, t.Position));
        Machine.DefineMeaning("@xobeysp", Machine.Symbol("nobreakspace").Meaning.Value!);
        Machine.DefineMeaning("@sptoken", new CharacterMeaning(' ', Category.Space));
        Machine.Define("textcircled", (m, t) => AddCircled(m.ReadArgument(t), t));
        Machine.Define("accent", (m, t) =>
        {
            int code = m.Quantities.ScanInteger();
            if (AccentOf(code) is { } name)
            {
                m.Push(Token.Command(m.Symbol(name), t.Position));
            }
        });

        // An encoding's own signs print whatever encoding is in force: there is one here, Unicode's.
        Machine.Definitions.Load("""
            \def\DeclareTextCommand#1#2{\@ifnextchar[{\@declaretext#1}{\@declaretext#1[0]}}
            \def\@declaretext#1[#2]{\@ifnextchar[{\@@declaretext#1[#2]}{\DeclareRobustCommand#1[#2]}}
            \def\@@declaretext#1[#2][#3]{\DeclareRobustCommand#1[#2][#3]}
            \def\DeclareTextCommandDefault#1{\DeclareTextCommand#1{?}}
            \def\ProvideTextCommand#1#2{\@ifundefined{\expandafter\@gobble\string#1}{\DeclareTextCommand#1{#2}}{\@provided}}
            \def\@provided{\@ifnextchar[{\@@provided}{\@gobble}} \def\@@provided[#1]{\@provided}
            \def\ProvideTextCommandDefault#1{\ProvideTextCommand#1{?}}
            \def\DeclareTextSymbol#1#2#3{\@ifundefined{\expandafter\@gobble\string#1}{\DeclareRobustCommand#1{\char#3\relax}}{}}
            \def\DeclareTextSymbolDefault#1#2{} \def\DeclareTextAccent#1#2#3{} \def\DeclareTextAccentDefault#1#2{} \def\DeclareTextComposite#1#2#3#4{}
            \def\DeclareTextCompositeCommand#1#2#3#4{} \def\UndeclareTextCommand#1#2{} \def\UseTextSymbol#1#2{#2} \def\UseTextAccent#1#2#3{#2{#3}}
            """);
    }

    private void AddByNumber(int code, Token token)
    {
        if (code is > 0 and <= 0x10FFFF and not (>= 0xD800 and <= 0xDFFF))
        {
            Builder.Text.AddText(char.ConvertFromUtf32(code), token.Position);
        }
    }

    // Enclosed letters and figures where Unicode has them; others stand in a large circle.
    private void AddCircled(List<Token> content, Token token)
    {
        string text = Machine.ExpandToText(content).Trim();
        string? enclosed = text switch
        {
            [>= 'a' and <= 'z' and var c] => ((char)('ⓐ' + (c - 'a'))).ToString(),
            [>= 'A' and <= 'Z' and var c] => ((char)('Ⓐ' + (c - 'A'))).ToString(),
            "0" => "⓪",
            _ when int.TryParse(text, out int number) && number is >= 1 and <= 9 => ((char)('①' + (number - 1))).ToString(),
            _ => null,
        };
        if (enclosed is not null)
        {
            Builder.Text.AddText(enclosed, token.Position);
            return;
        }

        Machine.Push([.. Machine.Tokenize("\\leavevmode\\rlap{\\textbigcircle}\\hbox to 1em", token.Position), .. TokenLists.Braced(
            [.. Machine.Tokenize("\\hfil\\scriptsize ", token.Position), .. content, .. Machine.Tokenize("\\hfil", token.Position)], token.Position)]);
    }

    // Accents of the old encoding by their numbers (The TeXbook, p. 427, from memory).
    private static string? AccentOf(int code) => code switch
    {
        18 => "`",
        19 => "'",
        20 => "v",
        21 => "u",
        22 => "=",
        23 => "r",
        94 => "^",
        95 => ".",
        125 => "H",
        126 => "~",
        127 => "\"",
        _ => null,
    };
}
