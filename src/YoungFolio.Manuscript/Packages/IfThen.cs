using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>The package ifthen: conditions with and, or, not and parentheses (Lamport, section C.8.5).</summary>
internal static class IfThen
{
    public static void Load(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        machine.Define("ifthenelse", (m, t) =>
        {
            List<Token> condition = m.ReadArgument(t);
            List<Token> yes = m.ReadArgument(t);
            List<Token> no = m.ReadArgument(t);
            m.Push(Holds(builder, condition, t) ? yes : no);
        });
        machine.Define("whiledo", (m, t) =>
        {
            List<Token> condition = m.ReadArgument(t);
            List<Token> body = m.ReadArgument(t);
            if (Holds(builder, condition, t))
            {
                m.Push([.. body, t, .. TokenLists.Braced(condition, t.Position), .. TokenLists.Braced(body, t.Position)]);
            }
        });
        machine.Define("newboolean", static (m, t) => m.Conditionals.NewSwitch(m.ReadText(t)));
        machine.Define("provideboolean", static (m, t) =>
        {
            string name = m.ReadText(t);
            if (!m.IsDefined("if" + name))
            {
                m.Conditionals.NewSwitch(name);
            }
        });
        machine.Define("setboolean", static (m, t) => m.Conditionals.SetSwitch(m.ReadText(t), m.ReadText(t) == "true"));
    }

    private static bool Holds(DocumentBuilder builder, List<Token> condition, Token token)
    {
        bool result = false;
        builder.Machine.Scan(condition, () => result = Any(builder, token));
        return result;
    }

    private static bool Any(DocumentBuilder builder, Token token)
    {
        bool value = One(builder, token);
        while (true)
        {
            builder.Machine.SkipSpaces();
            Token next = builder.Machine.Next();
            if (Is(next, "and"))
            {
                value &= One(builder, token);
            }
            else if (Is(next, "or"))
            {
                value |= One(builder, token);
            }
            else
            {
                if (!next.IsCommand(")"))
                {
                    builder.Machine.PutBack(next);
                }

                return value;
            }
        }
    }

    private static bool Is(Token token, string name) => token.IsCommand(name) || token.IsCommand(name.ToUpperInvariant());

    private static bool One(DocumentBuilder builder, Token token)
    {
        Machine m = builder.Machine;
        m.SkipSpaces();
        Token first = m.Next();
        if (Is(first, "not"))
        {
            return !One(builder, token);
        }

        switch (first.Symbol is { IsActiveCharacter: false } symbol ? symbol.Name : "")
        {
            case "(":
                return Any(builder, token);
            case "equal":
                return m.Expander.ExpandFully(m.ReadArgument(token)).ToSource().Trim() == m.Expander.ExpandFully(m.ReadArgument(token)).ToSource().Trim();
            case "boolean":
                string name = m.ReadText(token);
                if (m.IsDefined("if" + name))
                {
                    return builder.Preamble.IsOn(name);
                }

                builder.Findings.Fix("unknown-switch", first.Position, first.Length, $"There is no switch “{name}”.", "Make it with \\newboolean first.");
                return false;
            case "isodd":
                return ((m.Quantities.ParseInteger(m.ReadArgument(token), token) ?? 0) & 1) == 1;
            case "isundefined":
                return m.ReadArgument(token) is [var only, ..] && ConversionCommands.MeaningOf(only) is null;
            case "isempty":
                return m.ReadArgument(token).TrueForAll(t => t.Is(Category.Space));
            case "isnamedefined":
                return m.IsDefined(m.ReadText(token));
            case "lengthtest":
                return Compare(m, m.ReadArgument(token), true);
            case "cnttest":
                int left = m.Quantities.ParseInteger(m.ReadArgument(token), token) ?? 0;
                List<Token> rest = m.ReadArgument(token);
                return Compare(m, [.. m.Tokenize(left.ToString(System.Globalization.CultureInfo.InvariantCulture), -1), .. rest], false);
            default:
                m.PutBack(first);
                return Relation(m, false);
        }
    }

    private static bool Compare(Machine m, List<Token> tokens, bool lengths)
    {
        bool result = false;
        m.Scan(tokens, () => result = Relation(m, lengths));
        return result;
    }

    private static bool Relation(Machine m, bool lengths)
    {
        int a = Value();
        m.SkipSpaces();
        Token relation = m.Next();
        if (!relation.IsCharacter('<') && !relation.IsCharacter('>') && !relation.IsCharacter('='))
        {
            m.PutBack(relation);
            return a != 0;
        }

        int b = Value();
        return relation.Code switch { '<' => a < b, '>' => a > b, _ => a == b };

        int Value() => lengths ? m.Quantities.ScanDimension().Scaled : m.Quantities.ScanInteger();
    }
}
