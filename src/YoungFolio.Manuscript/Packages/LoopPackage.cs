using System.Globalization;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>Loops over lists (pgf's manual, section on <c>\foreach</c>, from memory): each round sets the variables in a group of its own.</summary>
internal static class LoopPackage
{
    private const int MostItems = 10_000;
    private const int MostTokens = 500_000;

    public static Package Package { get; } = new("pgffor", "Loops over lists.")
    {
        Requires = ["pgfmath"],
        Commands = ["foreach"],
        Load = static load => load.Machine.Define("foreach", (m, t) => Loop(m, t)),
    };

    private static void Loop(Machine machine, Token token)
    {
        (List<Symbol> variables, List<List<Token>> options) = ReadVariables(machine, token);
        List<List<Token>> items = Items(ReadList(machine, token));
        machine.SkipSpaces();
        List<Token> body = machine.Peek().Is(Category.BeginGroup) ? machine.ReadArgument(token) : Statement(machine);
        if (items.Count > MostItems || (long)items.Count * (body.Count + 20) > MostTokens)
        {
            throw new MarkupLimitException("too-much-text", "This loop makes more text than the compiler takes.", token.Position);
        }

        var rounds = new List<Token>();
        List<List<Token>>? before = null;
        for (int i = 0; i < items.Count; i++)
        {
            List<List<Token>> values = TokenLists.SplitAt(items[i], '/');
            rounds.Add(Token.Command(machine.Symbol("begingroup"), token.Position));
            for (int v = 0; v < variables.Count; v++)
            {
                // Where an item says fewer, its last one stands for the rest.
                Define(machine, rounds, token, variables[v], values[Math.Min(v, values.Count - 1)]);
            }

            foreach (List<Token> option in options)
            {
                AddOption(machine, rounds, token, option, i, before is null ? null : (variables, before));
            }

            rounds.AddRange(body);
            rounds.Add(Token.Command(machine.Symbol("endgroup"), token.Position));
            before = values;
        }

        machine.Push(rounds);
    }

    private static void Define(Machine machine, List<Token> rounds, Token token, Symbol name, List<Token> value) =>
        rounds.AddRange([Token.Command(machine.Symbol("def"), token.Position), Token.Command(name, token.Position), .. TokenLists.Braced(TokenLists.TrimSpaces(value), token.Position)]);

    // count=\i from 0; evaluate=\x as \y using \x*2; remember=\x as \last (initially 0).
    private static void AddOption(Machine machine, List<Token> rounds, Token token, List<Token> option, int index, (List<Symbol> Variables, List<List<Token>> Values)? before)
    {
        List<Symbol> names = [.. option.Select(t => t.Symbol).OfType<Symbol>()];
        if (names.Count == 0)
        {
            return;
        }

        if (Behind(option, "count") is not null)
        {
            int from = Behind(option, "from") is { } given && int.TryParse(given.ToSource(), CultureInfo.InvariantCulture, out int first) ? first : 1;
            Define(machine, rounds, token, names[0], [.. machine.Tokenize((from + index).ToString(CultureInfo.InvariantCulture), token.Position)]);
        }
        else if (Behind(option, "evaluate") is not null)
        {
            // Without "as" the variable itself has the value then.
            Symbol target = Behind(option, "as") is [{ Symbol: { } named }, ..] ? named : names[0];
            List<Token> expression = Behind(option, "using") ?? [Token.Command(names[0], token.Position)];
            rounds.AddRange([Token.Command(machine.Symbol("pgfmathsetmacro"), token.Position), Token.Command(target, token.Position), .. TokenLists.Braced(expression, token.Position)]);
        }
        else if (Behind(option, "remember") is not null && names.Count > 1)
        {
            int variable = before?.Variables.IndexOf(names[0]) ?? -1;
            List<Token> initially = [.. (Behind(option, "initially") ?? []).TakeWhile(t => !t.IsCharacter(')'))];
            Define(machine, rounds, token, names[1], variable >= 0 ? before!.Value.Values[Math.Min(variable, before.Value.Values.Count - 1)] : initially);
        }
    }

    // What stands behind a word; null where there is no such word.
    private static List<Token>? Behind(List<Token> tokens, string word)
    {
        for (int i = 0; i + word.Length <= tokens.Count; i++)
        {
            if (word.Select((c, k) => tokens[i + k].IsCharacter(c)).All(same => same))
            {
                return TokenLists.TrimSpaces([.. tokens.Skip(i + word.Length)]);
            }
        }

        return null;
    }

    private static (List<Symbol> Variables, List<List<Token>> Options) ReadVariables(Machine machine, Token token)
    {
        var variables = new List<Symbol>();
        List<List<Token>> options = [];
        for (Token next = machine.Next(); !next.Is(Category.Stop); next = machine.Next())
        {
            if (next.Symbol is { } symbol)
            {
                variables.Add(symbol);
            }
            else if (next.IsCharacter('['))
            {
                machine.PutBack(next);
                options = [.. TokenLists.SplitAtCommas(machine.ReadOptional(token) ?? []).Select(TokenLists.TrimSpaces)];
            }
            else if (next.IsCharacter('i') && machine.Peek().IsCharacter('n'))
            {
                machine.Next();
                break;
            }
        }

        return (variables, options);
    }

    private static List<Token> ReadList(Machine machine, Token token)
    {
        machine.SkipSpaces();
        if (machine.Peek().Is(Category.BeginGroup))
        {
            return machine.ReadArgument(token);
        }

        Token name = machine.Next();
        return name.Symbol?.Meaning.Value is MacroMeaning { Arity: 0 } kept ? [.. kept.Body] : [name];
    }

    private static List<Token> Statement(Machine machine)
    {
        var statement = new List<Token>();
        for (Token next = machine.Next(); !next.Is(Category.Stop); next = machine.Next())
        {
            statement.Add(next);
            if (next.IsCharacter(';') || next.IsCommand("par"))
            {
                break;
            }
        }

        return statement;
    }

    // 1,...,5 and 0,2,...,10 and a,...,e stand for all that lies between.
    private static List<List<Token>> Items(List<Token> list)
    {
        var items = new List<List<Token>>();
        List<List<Token>> written = [.. TokenLists.SplitAtCommas(list).Select(TokenLists.TrimSpaces).Where(i => i.Count > 0)];
        for (int i = 0; i < written.Count; i++)
        {
            if (written[i].ToSource() is not ("..." or "…" or "\\dots" or "\\ldots") || items.Count == 0 || i + 1 == written.Count)
            {
                items.Add(written[i]);
                continue;
            }

            int position = written[i][0].Position;
            foreach (string between in Between(items.Count > 1 ? items[^2].ToSource() : null, items[^1].ToSource(), written[i + 1].ToSource()))
            {
                items.Add([.. between.Select(c => Token.Character(c, char.IsAsciiLetter(c) ? Category.Letter : Category.Other, position))]);
            }

            i++;
        }

        return items;
    }

    private static IEnumerable<string> Between(string? before, string first, string last)
    {
        if (decimal.TryParse(first, CultureInfo.InvariantCulture, out decimal from) && decimal.TryParse(last, CultureInfo.InvariantCulture, out decimal to))
        {
            decimal step = decimal.TryParse(before, CultureInfo.InvariantCulture, out decimal earlier) && earlier != from ? from - earlier : from <= to ? 1 : -1;
            int count = 0;
            for (decimal at = from + step; (step > 0 ? at <= to : at >= to) && count++ <= MostItems; at += step)
            {
                yield return at.ToString(CultureInfo.InvariantCulture);
            }
        }
        else if (first.Length == 1 && last.Length == 1)
        {
            int step = first[0] <= last[0] ? before is { Length: 1 } && before[0] < first[0] ? first[0] - before[0] : 1 : -1;
            for (int at = first[0] + step; step > 0 ? at <= last[0] : at >= last[0]; at += step)
            {
                yield return ((char)at).ToString();
            }
        }
        else
        {
            yield return last;
        }
    }
}
