using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>
/// Signs of formulas by their numbers in the fonts of old (The TeXbook, ch. 17), and those that a preamble or a class declares so.
/// </summary>
internal sealed class MathCodeCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    // A character with this code does what it does as a command (The TeXbook, p. 155).
    private const int ActiveCode = 0x8000;

    // The fonts by the names under which signs are declared, with their encodings.
    private readonly Dictionary<string, string?> _fonts = new(StringComparer.Ordinal)
    {
        ["operators"] = "OT1", ["letters"] = "OML", ["symbols"] = "OMS", ["largesymbols"] = "OMX", ["AMSa"] = "MSA", ["AMSb"] = "MSB",
    };

    internal void DefineMathCodes()
    {
        MathCommands commands = Builder.MathCommands;
        commands.DefineMath("mathchar", (m, t) => AddCode(m.Quantities.ScanInteger(), t));
        commands.DefineMath("delimiter", (m, t) =>
        {
            int code = m.Quantities.ScanInteger();
            AddSign(ClassOf(code >> 24), code >> 12, t);
        });
        commands.DefineMath("mathaccent", (m, t) =>
        {
            int code = m.Quantities.ScanInteger();
            AddAccent(OldMathFonts.SignOf(OldMathFonts.OfFamily((code >> 8) & 0xF), code & 0xFF), false, t);
        });
        commands.DefineMath("radical", (m, t) =>
        {
            m.Quantities.ScanInteger();
            AddRoot(t);
        });
        Machine.Define("DeclareSymbolFont", (m, t) =>
        {
            string name = m.ReadText(t);
            string encoding = m.ReadText(t);
            _fonts[name] = OldMathFonts.Of(encoding, m.ReadText(t));
            m.ReadArgument(t);
            m.ReadArgument(t);
        });
        Machine.Define("DeclareMathSymbol", (m, t) => DeclareSign(m.ReadArgument(t), ReadClass(t), t));
        Machine.Define("DeclareMathDelimiter", (m, t) =>
        {
            DeclareSign(m.ReadArgument(t), ReadClass(t), t);
            m.ReadArgument(t);
            m.ReadArgument(t);
        });
        Machine.Define("DeclareMathAccent", (m, t) =>
        {
            List<Token> name = m.ReadArgument(t);
            m.ReadArgument(t);
            string? encoding = ReadFont(t);
            string? sign = OldMathFonts.SignOf(encoding, ReadNumber(t));
            if (name is [{ Symbol: { } symbol }] && OldMathFonts.AccentOf(sign) is not null)
            {
                commands.DefineMath(symbol.Name, (_, u) => AddAccent(sign, encoding == "OMX", u));
            }
        });
        Machine.Define("DeclareMathRadical", (m, t) =>
        {
            List<Token> name = m.ReadArgument(t);
            for (int i = 0; i < 4; i++)
            {
                m.ReadArgument(t);
            }

            if (name is [{ Symbol: { } symbol }])
            {
                commands.DefineMath(symbol.Name, (_, u) => AddRoot(u));
            }
        });
    }

    /// <summary>Adds the sign of a code: a hexadecimal figure for its class, one for its family, two for its number.</summary>
    internal void AddCode(int code, Token token) => AddSign(ClassOf((code >> 12) & 7), code & 0xFFF, token);

    /// <summary>Adds a character as its code says; false when it has none.</summary>
    internal bool AddByCode(int character, Token token)
    {
        if (Machine.Registers.MathCodeOf(character) is not { } code)
        {
            return false;
        }

        if (code == ActiveCode)
        {
            Machine.Push([Token.Command(Machine.Symbols.OfActive((char)character), token.Position)]);
        }
        else
        {
            AddCode(code, token);
        }

        return true;
    }

    /// <summary>The sign of a delimiter by its code, which follows; for where one is read.</summary>
    internal string? ReadDelimiterCode()
    {
        int code = Machine.Quantities.ScanInteger() >> 12;
        return OldMathFonts.SignOf(OldMathFonts.OfFamily((code >> 8) & 0xF), code & 0xFF);
    }

    private void AddSign(AtomClass atomClass, int place, Token token)
    {
        string? encoding = OldMathFonts.OfFamily((place >> 8) & 0xF);
        if (OldMathFonts.SignOf(encoding, place & 0xFF) is { } sign)
        {
            Add(sign, encoding!, atomClass, token);
            return;
        }

        Findings.Fix("no-such-sign", token.Position, token.Length, $"The fonts of formulas have no sign at the place that {token} names here.", "Name the sign by its command.");
    }

    // Letters look as their font has them: upright in the first, italic in the second.
    private void Add(string sign, string encoding, AtomClass atomClass, Token token)
    {
        string shown = encoding switch
        {
            "OT1" => Alphabets.Map(FirstCharacter.Of(sign), MathAlphabet.Upright),
            "OML" => Alphabets.Map(FirstCharacter.Of(sign), MathAlphabet.Italic),
            _ => sign,
        };
        Builder.MathCommands.AddAtom(atomClass, new SymbolNucleus(shown) { IsLarge = atomClass == AtomClass.Operator }, token, Symbols.IsIntegral(sign) ? Limits.Never : Limits.Automatic);
    }

    private void AddAccent(string? sign, bool grows, Token token)
    {
        MathList content = Builder.Formulas.ReadMathArgument(token);
        Builder.MathCommands.AddAtom(AtomClass.Ordinary, OldMathFonts.AccentOf(sign) is { } accent ? new AccentNucleus(content, accent, grows) : new ListNucleus(content), token);
    }

    private void AddRoot(Token token) => Builder.MathCommands.AddAtom(AtomClass.Ordinary, new RadicalNucleus(Builder.Formulas.ReadMathArgument(token), null), token);

    // A character keeps its look and has another class; a command is the sign, unless its font isn't known.
    private void DeclareSign(List<Token> name, AtomClass atomClass, Token token)
    {
        string? encoding = ReadFont(token);
        string? sign = OldMathFonts.SignOf(encoding, ReadNumber(token));
        if (name is [{ Symbol: null } character])
        {
            Builder.Formulas.DeclaredClasses[character.Code] = atomClass;
        }
        else if (name is [{ Symbol: { } symbol }] && sign is not null)
        {
            if (encoding == "OT1" && char.IsLetterOrDigit(sign, 0))
            {
                Builder.MathCommands.DefineMath(symbol.Name, (_, t) => Add(sign, encoding, atomClass, t));
            }
            else
            {
                Machine.DefineMeaning(symbol.Name, new SymbolMeaning(sign, atomClass, atomClass == AtomClass.Operator));
            }
        }
    }

    private string? ReadFont(Token token) => _fonts.GetValueOrDefault(Machine.ReadText(token));

    private int ReadNumber(Token token) => Machine.Quantities.ParseInteger(Machine.ReadArgument(token), token) ?? -1;

    private AtomClass ReadClass(Token token) => Machine.ReadArgument(token).ToSource().Trim() switch
    {
        "\\mathop" or "1" => AtomClass.Operator,
        "\\mathbin" or "2" => AtomClass.Binary,
        "\\mathrel" or "3" => AtomClass.Relation,
        "\\mathopen" or "4" => AtomClass.Opening,
        "\\mathclose" or "5" => AtomClass.Closing,
        "\\mathpunct" or "6" => AtomClass.Punctuation,
        _ => AtomClass.Ordinary,
    };

    private static AtomClass ClassOf(int number) => number switch
    {
        1 => AtomClass.Operator, 2 => AtomClass.Binary, 3 => AtomClass.Relation, 4 => AtomClass.Opening, 5 => AtomClass.Closing, 6 => AtomClass.Punctuation, _ => AtomClass.Ordinary,
    };
}
