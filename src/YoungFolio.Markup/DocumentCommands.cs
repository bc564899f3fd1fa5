namespace YoungFolio.Markup;

/// <summary>Commands that say of what kind each of their arguments is.</summary>
public sealed class DocumentCommands(Machine machine)
{
    private List<Token> _processed = [];

    internal void DefineDocumentCommands()
    {
        foreach ((string name, NewKind kind) in (ReadOnlySpan<(string, NewKind)>)[
            ("New", NewKind.New), ("Renew", NewKind.Renew), ("Provide", NewKind.Provide), ("Declare", NewKind.Robust)])
        {
            machine.Define(name + "DocumentCommand", (m, t) => m.DocumentCommands.ReadDocumentCommand(t, kind, true));
            machine.Define(name + "ExpandableDocumentCommand", (m, t) => m.DocumentCommands.ReadDocumentCommand(t, kind, false));
            machine.Define(name + "DocumentEnvironment", (m, t) => m.DocumentCommands.ReadDocumentEnvironment(t, kind));
        }

        machine.DefineMeaning("BooleanTrue", new ConstantMeaning(1));
        machine.DefineMeaning("BooleanFalse", new ConstantMeaning(0));
        Symbol noValue = machine.Symbol("-NoValue-");
        noValue.Meaning.Value = machine.Symbol("relax").Meaning.Value;
        DefineTest("NoValue", static (m, a) => m.DocumentCommands.IsNoValue(a));
        DefineTest("Value", static (m, a) => !m.DocumentCommands.IsNoValue(a));
        DefineTest("Boolean", static (_, a) => a is [{ } only] && only.IsCommand("BooleanTrue"));
        DefineTest("Blank", static (_, a) => a.TrueForAll(t => t.Is(Category.Space)));
        machine.Define("TrimSpaces", (m, t) => SetProcessed(TokenLists.TrimSpaces(m.ReadArgument(t))));
        machine.Define("ReverseBoolean", static (m, t) =>
        {
            bool on = m.ReadArgument(t) is [{ } only] && only.IsCommand("BooleanTrue");
            m.DocumentCommands.SetProcessed([Token.Command(m.Symbol(on ? "BooleanFalse" : "BooleanTrue"), t.Position)]);
        });
        machine.Define("SplitList", static (m, t) =>
        {
            List<Token> separator = m.ReadArgument(t);
            List<Token> argument = m.ReadArgument(t);
            m.DocumentCommands.SetProcessed([.. TokenLists.SplitAt(argument, separator is [{ } c, ..] ? (char)c.Code : ',').SelectMany(g => TokenLists.Braced(g, t.Position))]);
        });
        machine.Define("SplitArgument", static (m, t) =>
        {
            int number = Math.Clamp(m.Quantities.ParseInteger(m.ReadArgument(t), t) ?? 0, 0, 8);
            List<Token> separator = m.ReadArgument(t);
            List<List<Token>> pieces = TokenLists.SplitAt(m.ReadArgument(t), separator is [{ } c, ..] ? (char)c.Code : ',');
            while (pieces.Count <= number)
            {
                pieces.Add([Token.Command(m.Symbol("-NoValue-"), t.Position)]);
            }

            m.DocumentCommands.SetProcessed([.. pieces.Take(number + 1).SelectMany(g => TokenLists.Braced(g, t.Position))]);
        });
        machine.Define("ProcessList", static (m, t) =>
        {
            List<Token> list = m.ReadArgument(t);
            List<Token> function = m.ReadArgument(t);
            var tokens = new List<Token>();
            m.Scan(list, () =>
            {
                for (m.SkipSpaces(); !m.Peek().Is(Category.Stop); m.SkipSpaces())
                {
                    tokens.AddRange(function);
                    tokens.AddRange(TokenLists.Braced(m.ReadArgument(t), t.Position));
                }
            });
            m.Push(tokens);
        });
    }

    private void SetProcessed(List<Token> tokens) => _processed = tokens;

    private void DefineTest(string name, Func<Machine, List<Token>, bool> test)
    {
        foreach ((string ending, bool whenTrue, bool whenFalse) in (ReadOnlySpan<(string, bool, bool)>)[("TF", true, true), ("T", true, false), ("F", false, true)])
        {
            machine.DefineExpandable("If" + name + ending, (m, t) =>
            {
                bool holds = test(m, m.ReadArgument(t));
                List<Token> yes = whenTrue ? m.ReadArgument(t) : [];
                List<Token> no = whenFalse ? m.ReadArgument(t) : [];
                m.Push(holds ? yes : no);
            });
        }
    }

    private bool IsNoValue(List<Token> tokens) => tokens is [{ } only] && ReferenceEquals(only.Symbol, machine.Symbol("-NoValue-"));

    private void ReadDocumentCommand(Token command, NewKind kind, bool isProtected)
    {
        Token name = machine.Definitions.ReadCommandToken(command);
        List<ArgumentType> arguments = ReadArgumentTypes(command);
        List<Token> body = machine.ReadArgument(command);
        if (name.Symbol is not { } symbol || !MayDefine(command, name, symbol, kind, "DocumentCommand"))
        {
            return;
        }

        machine.Assign(symbol.Meaning, new DocumentCommandMeaning(arguments, [.. machine.Definitions.NumberParameters(body, arguments.Count)]) { IsProtected = isProtected });
    }

    private void ReadDocumentEnvironment(Token command, NewKind kind)
    {
        string name = machine.ReadText(command);
        List<ArgumentType> arguments = ReadArgumentTypes(command);
        List<Token> begin = machine.ReadArgument(command);
        List<Token> end = machine.ReadArgument(command);
        Symbol symbol = machine.Symbol(name);
        if (name.Length == 0 || !MayDefine(command, command, symbol, kind, "DocumentEnvironment"))
        {
            return;
        }

        Symbol endSymbol = machine.Symbol("end" + name);
        machine.Assign(symbol.Meaning, new DocumentCommandMeaning(arguments, [.. machine.Definitions.NumberParameters(begin, arguments.Count)])
        {
            EndBody = [.. machine.Definitions.NumberParameters(end, arguments.Count)],
            EndSymbol = endSymbol,
        });
        machine.Assign(endSymbol.Meaning, new MacroMeaning { Pattern = [], Body = [], Arity = 0 });
    }

    private bool MayDefine(Token command, Token name, Symbol symbol, NewKind kind, string what)
    {
        bool defined = machine.Definitions.IsTaken(symbol);
        if (kind == NewKind.Provide && defined)
        {
            return false;
        }

        // What ships may define what another package has: only what is written is said.
        if (kind == NewKind.New && defined && name.Position != PositionTable.None)
        {
            machine.Findings.Fix("already-defined", name.Position, name.Length, $"{symbol} exists already.",
                $"Choose another name, or write \\Renew{what} to change it. The new definition was used.",
                new Repair(command.Position, command.Length, "\\Renew" + what));
        }
        else if (kind == NewKind.Renew && !defined)
        {
            machine.Findings.Check("not-yet-defined", name.Position, name.Length, $"{symbol} doesn't exist yet.",
                $"\\Renew{what} changes one; \\New{what} makes one.", new Repair(command.Position, command.Length, "\\New" + what));
        }

        return true;
    }

    private List<ArgumentType> ReadArgumentTypes(Token command)
    {
        var result = new List<ArgumentType>();
        List<Token> letters = machine.ReadArgument(command);
        machine.Scan(letters, () =>
        {
            var processors = new List<Token[]>();
            while (true)
            {
                machine.SkipSpaces();
                Token letter = machine.Next();
                if (letter.Is(Category.Stop))
                {
                    return;
                }

                Token open = Token.Character('[', Category.Other, PositionTable.None);
                Token close = Token.Character(']', Category.Other, PositionTable.None);
                char kind = letter.Symbol is null ? (char)letter.Code : '?';
                Token[]? standard = null;
                switch (kind)
                {
                    case '>':
                        processors.Add([.. machine.ReadArgument(command)]);
                        continue;
                    case '+' or '!':
                        continue;
                    case 'm' or 's' or 'o' or 'v' or 'b':
                        break;
                    case 'O':
                        standard = [.. machine.ReadArgument(command)];
                        break;
                    case 'g' or 'G':
                        (open, close) = (Token.Character('{', Category.BeginGroup, -1), Token.Character('}', Category.EndGroup, -1));
                        standard = kind == 'G' ? [.. machine.ReadArgument(command)] : null;
                        break;
                    case 't':
                        machine.SkipSpaces();
                        open = machine.Next();
                        break;
                    case 'r' or 'd' or 'R' or 'D':
                        machine.SkipSpaces();
                        open = machine.Next();
                        machine.SkipSpaces();
                        close = machine.Next();
                        standard = kind is 'R' or 'D' ? [.. machine.ReadArgument(command)] : null;
                        break;
                    case 'e' or 'E':
                        List<Token> signs = machine.ReadArgument(command);
                        List<List<Token>> values = [];
                        if (kind == 'E')
                        {
                            List<Token> given = machine.ReadArgument(command);
                            machine.Scan(given, () =>
                            {
                                for (machine.SkipSpaces(); !machine.Peek().Is(Category.Stop); machine.SkipSpaces())
                                {
                                    values.Add(machine.ReadArgument(command));
                                }
                            });
                        }

                        for (int i = 0; i < signs.Count; i++)
                        {
                            result.Add(new ArgumentType('e', signs[i], close, i < values.Count ? [.. values[i]] : null));
                        }

                        continue;
                    default:
                        machine.Findings.Fix("wrong-parameter", letter.Position, 1, $"“{letter}” is no kind of argument.",
                            "Kinds are m, o, O, s, t, r, d, D, e, v and b.");
                        continue;
                }

                char mapped = kind switch { 'O' => 'o', 'g' or 'G' or 'D' => 'd', 'R' => 'r', _ => kind };
                result.Add(new ArgumentType(mapped, open, close, standard) { Processors = [.. processors] });
                processors.Clear();
                if (result.Count > 9)
                {
                    machine.Findings.Fix("wrong-parameter", command.Position, command.Length, "A command takes at most nine parameters.",
                        "Give at most nine kinds of argument.");
                    result.RemoveAt(9);
                }
            }
        });
        return result;
    }

    internal void ExpandDocumentCommand(Token call, DocumentCommandMeaning meaning)
    {
        var arguments = new List<Token>[meaning.Arguments.Count];
        for (int i = 0; i < arguments.Length; i++)
        {
            arguments[i] = ReadDocumentArgument(call, meaning.Arguments, i, arguments);
            foreach (Token[] processor in meaning.Arguments[i].Processors.Reverse())
            {
                if (!IsNoValue(arguments[i]))
                {
                    _processed = arguments[i];
                    machine.Scan([.. processor, .. TokenLists.Braced(arguments[i], call.Position)], () =>
                    {
                        Token first = machine.NextExpanded();
                        (first.Symbol?.Meaning.Value as BuiltInCommand)?.Execute(machine, first);
                    });
                    arguments[i] = _processed;
                }
            }
        }

        if (meaning is { EndSymbol: { } end, EndBody: { } endBody })
        {
            var tokens = new List<Token>();
            foreach (Token token in endBody)
            {
                if (token.Is(Category.Argument))
                {
                    tokens.AddRange(arguments[token.Code - 1]);
                }
                else
                {
                    tokens.Add(token);
                }
            }

            machine.Assign(end.Meaning, new MacroMeaning { Pattern = [], Body = [.. tokens], Arity = 0 });
        }

        machine.Expander.PushBody(call, meaning.Body, arguments);
    }

    private List<Token> ReadDocumentArgument(Token call, IReadOnlyList<ArgumentType> types, int index, List<Token>[] known)
    {
        ArgumentType type = types[index];
        List<Token> missing = type.Standard is { } standard
            ? [.. standard.SelectMany(t => t.Is(Category.Argument) && t.Code <= known.Length && known[t.Code - 1] is { } k ? k : [t])]
            : [Token.Command(machine.Symbol("-NoValue-"), call.Position)];
        switch (type.Kind)
        {
            case 's' or 't':
                Token wanted = type.Kind == 's' ? Token.Character('*', Category.Other, -1) : type.Open;
                return [Token.Command(machine.Symbol(TakeToken(wanted) ? "BooleanTrue" : "BooleanFalse"), call.Position)];
            case 'o':
                return machine.ReadOptional(call) ?? missing;
            case 'd' when type.Open.Is(Category.BeginGroup):
                machine.SkipSpaces();
                return machine.Peek().Is(Category.BeginGroup) ? machine.ReadArgument(call) : missing;
            case 'd':
                return TakeToken(type.Open) ? machine.Expander.ReadDelimited(call, [type.Close], true) ?? missing : missing;
            case 'r':
                if (TakeToken(type.Open))
                {
                    return machine.Expander.ReadDelimited(call, [type.Close], true) ?? missing;
                }

                machine.Findings.Fix("missing-argument", call.Position, call.Length, $"{call} needs an argument between {type.Open} and {type.Close}.",
                    "Write it right after the command.");
                return missing;
            case 'e':
                return known[index] ?? ReadEmbellishments(call, types, index, known) ?? missing;
            case 'v':
                return ReadVerbatimArgument(call);
            case 'b':
                return ReadEnvironmentBody(call);
            default:
                return machine.ReadArgument(call);
        }
    }

    // Text as it is typed, between two like signs or between braces; within another command's argument it has been read already.
    private List<Token> ReadVerbatimArgument(Token call)
    {
        machine.SkipSpaces();
        Token delimiter = machine.Next();
        if (machine.Input.DirectLexer is { } lexer && delimiter.Symbol is null)
        {
            return Typed(call, lexer, (char)delimiter.Code);
        }

        if (!delimiter.Is(Category.BeginGroup))
        {
            return machine.Expander.ReadDelimited(call, [delimiter], true) ?? [];
        }

        machine.PutBack(delimiter);
        return machine.ReadArgument(call);
    }

    private List<Token> Typed(Token call, Lexer lexer, char delimiter)
    {
        var text = new List<Token>();
        string line = lexer.PeekLine();
        int depth = 1;
        for (int i = 0; i < line.Length; i++)
        {
            depth += delimiter != '{' ? (line[i] == delimiter ? -1 : 0) : line[i] == '{' ? 1 : line[i] == '}' ? -1 : 0;
            if (depth == 0)
            {
                lexer.TakeRaw();
                return text;
            }

            int position = lexer.Position;
            char sign = lexer.TakeRaw();
            text.Add(Token.Character(sign, sign == ' ' ? Category.Space : Category.Other, position));
        }

        machine.Findings.Fix("verb-not-closed", call.Position, call.Length, $"{call} needs {(delimiter == '{' ? '}' : delimiter)} to end what it takes as it is typed, and it doesn't come on the line.",
            "Close it on the same line, or choose another sign.");
        return text;
    }

    // Signs such as ^ and _ may come in any order; what is read for a later one is kept for it.
    private List<Token>? ReadEmbellishments(Token call, IReadOnlyList<ArgumentType> types, int index, List<Token>[] known)
    {
        bool found = true;
        while (found)
        {
            found = false;
            for (int i = index; i < types.Count && types[i].Kind == 'e'; i++)
            {
                if (known[i] is null && TakeToken(types[i].Open))
                {
                    known[i] = machine.ReadArgument(call);
                    found = true;
                }
            }
        }

        return known[index];
    }

    // Takes a token if exactly it comes next; spaces before it go only then.
    private bool TakeToken(Token wanted)
    {
        var spaces = new List<Token>();
        Token token = machine.Next();
        while (token.Is(Category.Space))
        {
            spaces.Add(token);
            token = machine.Next();
        }

        if (token == wanted || (token.Symbol is null && wanted.Symbol is null && !token.Is(Category.Stop) && token.Code == wanted.Code))
        {
            return true;
        }

        machine.PutBack(token);
        for (int i = spaces.Count - 1; i >= 0; i--)
        {
            machine.PutBack(spaces[i]);
        }

        return false;
    }

    /// <summary>Reads an environment's body up to its own <c>\end</c>, which is left to be read.</summary>
    public List<Token> ReadEnvironmentBody(Token call)
    {
        var body = new List<Token>();
        int depth = 0;
        using TokenInput.FileEndHold hold = machine.Input.HoldFileEnd();
        while (true)
        {
            Token token = machine.Next();
            if (token.Is(Category.Stop))
            {
                return body;
            }

            if (token.IsCommand("end") && depth-- == 0)
            {
                machine.PutBack(token);
                return TokenLists.TrimSpaces(body);
            }

            depth += token.IsCommand("begin") ? 1 : 0;
            body.Add(token);
        }
    }
}
