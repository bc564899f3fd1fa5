using System.Globalization;

namespace YoungFolio.Markup;

/// <summary>Commands that turn tokens and values into others: <c>\the</c>, <c>\meaning</c>, letters of another case.</summary>
public sealed class ConversionCommands(Machine machine)
{
    // Case changes reach what macros print, but not keys, names of environments and formulas.
    private void PushCasedText(Token command, bool upper)
    {
        List<Token> tokens = machine.Expander.ExpandFully(machine.ReadArgument(command));
        bool formula = false;
        for (int i = 0; i < tokens.Count; i++)
        {
            Token t = tokens[i];
            if (t.Is(Category.MathShift))
            {
                formula = !formula;
            }
            else if (t.Symbol is { IsActiveCharacter: false } symbol)
            {
                if (symbol.Name is "ref" or "pageref" or "label" or "cite" or "begin" or "end" or "input" or "hspace" or "vspace"
                    && i + 1 < tokens.Count && tokens[i + 1].Is(Category.BeginGroup))
                {
                    for (i++; i < tokens.Count && !tokens[i].Is(Category.EndGroup); i++)
                    {
                    }
                }
                else if (CasedCommand(symbol.Name, upper) is { } other)
                {
                    tokens[i] = Token.Command(machine.Symbol(other), t.Position);
                }
            }
            else if (!formula && t.Symbol is null && t.Category is Category.Letter or Category.Other && t.Code < 0x10000)
            {
                if (t.Code == 'ß' && upper)
                {
                    tokens[i] = Token.Character('S', Category.Letter, t.Position);
                    tokens.Insert(i++, Token.Character('S', Category.Letter, t.Position));
                    continue;
                }

                int code = upper ? char.ToUpperInvariant((char)t.Code) : char.ToLowerInvariant((char)t.Code);
                tokens[i] = Token.Character(code, t.Category, t.Position);
            }
        }

        machine.Push(tokens);
    }

    private static string? CasedCommand(string name, bool upper) => (name, upper) switch
    {
        ("ae" or "oe" or "aa" or "o" or "l" or "dh" or "th", true) => name.ToUpperInvariant(),
        ("AE" or "OE" or "AA" or "O" or "L" or "DH" or "TH", false) => name.ToLowerInvariant(),
        _ => null,
    };

    internal void DefineConversions()
    {
        machine.DefineExpandable("string", static (m, t) =>
        {
            Token token = m.Next();
            m.Conversions.PushText(token.ToString(), t.Position);
        });
        machine.DefineExpandable("detokenize", (m, t) => PushText(m.ReadArgument(t).ToShownSource(), t.Position));
        machine.DefineExpandable("meaning", (m, t) => PushText(Describe(m.Next()), t.Position));
        machine.DefineExpandable("number", (m, t) => PushText(m.Quantities.ScanInteger().ToString(CultureInfo.InvariantCulture), t.Position));
        machine.DefineExpandable("romannumeral", (m, t) => PushText(Numerals.Roman(m.Quantities.ScanInteger()), t.Position));
        machine.DefineExpandable("the", (_, t) => ExpandThe(t));
        machine.DefineExpandable("jobname", (_, t) => PushText("manuscript", t.Position));
        machine.DefineMeaning("inputlineno", new QuantityCommand("inputlineno", static m =>
            Quantity.Of(m.Positions.Locate(m.Input.LastSourcePosition)?.Line ?? 0)));

        machine.Define("chardef", static (m, t) => m.Assignments.DefineFromNumber(n => new ConstantMeaning(n)));
        machine.Define("uppercase", (_, t) => PushCase(t, true));
        machine.Define("lowercase", (_, t) => PushCase(t, false));
        machine.Define("MakeUppercase", (_, t) => PushCasedText(t, true));
        machine.Define("MakeLowercase", (_, t) => PushCasedText(t, false));
    }

    /// <summary>What a token means: a command's meaning, or the character itself.</summary>
    public static Meaning? MeaningOf(Token token) => token.Symbol is { } symbol
        ? symbol.Meaning.Value
        : token.Is(Category.Stop) ? null : new CharacterMeaning(token.Code, token.Category);

    /// <summary>Puts text before what comes next, as printed characters and spaces.</summary>
    public void PushText(string text, int position)
    {
        var tokens = new List<Token>(text.Length);
        for (int i = 0; i < text.Length; i++)
        {
            int code = char.ConvertToUtf32(text, i);
            i += code > 0xFFFF ? 1 : 0;
            tokens.Add(Token.Character(code, code == ' ' ? Category.Space : Category.Other, position));
        }

        machine.Push(tokens);
    }

    private void ExpandThe(Token command)
    {
        Token token = machine.Arguments.NextNonSpaceExpanded();
        Meaning? meaning = token.Symbol?.Meaning.Value;
        if (meaning is RegisterFamily family)
        {
            meaning = family.Select(machine);
        }

        switch (meaning)
        {
            case RegisterMeaning<Token[]> tokens:
                machine.Push(tokens.Register.Value);
                return;
            case RegisterMeaning<int> count:
                PushText(count.Register.Value.ToString(CultureInfo.InvariantCulture), command.Position);
                return;
            case RegisterMeaning<Dimension> dimension:
                PushText(dimension.Register.Value.ToString(), command.Position);
                return;
            case RegisterMeaning<Glue> glue:
                PushText(glue.Register.Value.ToString(), command.Position);
                return;
            case ConstantMeaning constant:
                PushText(constant.Value.ToString(CultureInfo.InvariantCulture), command.Position);
                return;
            case QuantityCommand quantity:
                Quantity value = quantity.Read(machine);
                PushText(value.IsNumber ? value.Number.ToString(CultureInfo.InvariantCulture) : value.Glue.ToString(), command.Position);
                return;
            case BuiltInCommand { Name: "font" or "nullfont" }:
                return;
        }

        machine.PutBack(token);
        machine.Findings.Fix("wrong-use", command.Position, command.Length,
            $"\\the can't show {token}.", "It shows counters, lengths and other registers.");
    }

    private void PushCase(Token command, bool upper)
    {
        List<Token> tokens = machine.ReadArgument(command);
        for (int i = 0; i < tokens.Count; i++)
        {
            Token t = tokens[i];
            bool active = t.Symbol is { IsActiveCharacter: true };
            if (t.Symbol is null ? t.Category <= Category.Other : active)
            {
                int from = active ? char.ConvertToUtf32(t.Symbol!.Name, 0) : t.Code;
                int code = (upper ? machine.Registers.UpperCode(from) : machine.Registers.LowerCode(from)).Value;
                if (code != 0)
                {
                    tokens[i] = active ? Token.Command(machine.Symbols.OfActive(code), t.Position) : Token.Character(code, t.Category, t.Position);
                }
            }
        }

        machine.Push(tokens);
    }

    // The words of \meaning (The TeXbook, pp. 213-214 and 336).
    private static string Describe(Token token)
    {
        Meaning? meaning = MeaningOf(token);
        switch (meaning)
        {
            case null:
                return "undefined";
            case MacroMeaning m:
                string prefix = (m.IsProtected ? "\\protected" : "") + (m.IsLong && m.Arity > 0 ? "\\long" : "");
                return prefix + (prefix.Length > 0 ? " " : "") + "macro:" + m.Pattern.ToShownSource() + "->" + m.Body.ToShownSource();
            case CharacterMeaning c:
                string sign = char.ConvertFromUtf32(c.Code);
                return c.Category switch
                {
                    Category.BeginGroup => "begin-group character " + sign,
                    Category.EndGroup => "end-group character " + sign,
                    Category.MathShift => "math shift character " + sign,
                    Category.Alignment => "alignment tab character " + sign,
                    Category.Parameter => "macro parameter character " + sign,
                    Category.Superscript => "superscript character " + sign,
                    Category.Subscript => "subscript character " + sign,
                    Category.Space => "blank space " + sign,
                    Category.Letter => "the letter " + sign,
                    _ => "the character " + sign,
                };
            case BuiltInCommand b:
                return "\\" + b.Name;
            case ExpandableCommand e:
                return "\\" + e.Name;
            case ConditionalCommand i:
                return "\\" + i.Name;
            default:
                return token.ToString();
        }
    }
}
