namespace YoungFolio.Markup;

/// <summary>One argument of a document command: how it is delimited and what stands for it when it isn't given.</summary>
/// <param name="Kind">m, o, s, t, r, d, e, v or b; capitals and g map to these.</param>
/// <param name="Open">The opening delimiter, or the token tested for.</param>
/// <param name="Close">The closing delimiter.</param>
/// <param name="Standard">What stands for a missing argument; null: the mark for "no value".</param>
public sealed record ArgumentType(char Kind, Token Open, Token Close, Token[]? Standard)
{
    /// <summary>Commands that work on the argument before it is handed on, outermost first.</summary>
    public IReadOnlyList<Token[]> Processors { get; init; } = [];
}

/// <summary>A command whose arguments are described by letters (<c>\NewDocumentCommand</c>).</summary>
public sealed class DocumentCommandMeaning(IReadOnlyList<ArgumentType> arguments, Token[] body) : Meaning
{
    /// <summary>The arguments.</summary>
    public IReadOnlyList<ArgumentType> Arguments => arguments;

    /// <summary>The replacement.</summary>
    public Token[] Body => body;

    /// <summary>For an environment: what its end does, with the same arguments.</summary>
    public Token[]? EndBody { get; init; }

    /// <summary>For an environment: the command of its end.</summary>
    public Symbol? EndSymbol { get; init; }

    /// <summary>Whether <c>\edef</c> leaves it alone.</summary>
    public bool IsProtected { get; init; } = true;

    /// <inheritdoc/>
    public override bool IsExpandable => true;
}

// Document commands: arguments described by letters (the argument types of the kernel's command interface).
public sealed partial class Machine
{
    private void DefineDocumentCommands()
    {
        foreach ((string name, NewKind kind) in (ReadOnlySpan<(string, NewKind)>)[
            ("New", NewKind.New), ("Renew", NewKind.Renew), ("Provide", NewKind.Provide), ("Declare", NewKind.Robust)])
        {
            Define(name + "DocumentCommand", (m, t) => m.ReadDocumentCommand(t, kind, true));
            Define(name + "ExpandableDocumentCommand", (m, t) => m.ReadDocumentCommand(t, kind, false));
            Define(name + "DocumentEnvironment", (m, t) => m.ReadDocumentEnvironment(t, kind));
        }

        DefineMeaning("BooleanTrue", new ConstantMeaning(1));
        DefineMeaning("BooleanFalse", new ConstantMeaning(0));
        Symbol noValue = Symbol("-NoValue-");
        noValue.Meaning.Value = Symbol("relax").Meaning.Value;
        DefineTest("NoValue", static (m, a) => m.IsNoValue(a));
        DefineTest("Value", static (m, a) => !m.IsNoValue(a));
        DefineTest("Boolean", static (_, a) => a is [{ } only] && only.IsCommand("BooleanTrue"));
        DefineTest("Blank", static (_, a) => a.TrueForAll(t => t.Is(Category.Space)));
        Define("TrimSpaces", static (m, t) => m.SetProcessed(TrimSpaces(m.ReadArgument(t))));
        Define("ReverseBoolean", static (m, t) =>
        {
            bool on = m.ReadArgument(t) is [{ } only] && only.IsCommand("BooleanTrue");
            m.SetProcessed([Token.Command(m.Symbol(on ? "BooleanFalse" : "BooleanTrue"), t.Position)]);
        });
        Define("SplitList", static (m, t) =>
        {
            List<Token> separator = m.ReadArgument(t);
            List<Token> argument = m.ReadArgument(t);
            m.SetProcessed([.. SplitAt(argument, separator is [{ } c, ..] ? (char)c.Code : ',').SelectMany(g => Braced(g, t.Position))]);
        });
        Define("SplitArgument", static (m, t) =>
        {
            int number = Math.Clamp(m.ParseInteger(m.ReadArgument(t), t) ?? 0, 0, 8);
            List<Token> separator = m.ReadArgument(t);
            List<List<Token>> pieces = SplitAt(m.ReadArgument(t), separator is [{ } c, ..] ? (char)c.Code : ',');
            while (pieces.Count <= number)
            {
                pieces.Add([Token.Command(m.Symbol("-NoValue-"), t.Position)]);
            }

            m.SetProcessed([.. pieces.Take(number + 1).SelectMany(g => Braced(g, t.Position))]);
        });
        Define("ProcessList", static (m, t) =>
        {
            List<Token> list = m.ReadArgument(t);
            List<Token> function = m.ReadArgument(t);
            var tokens = new List<Token>();
            m.Scan(list, () =>
            {
                for (m.SkipSpaces(); !m.Peek().Is(Category.Stop); m.SkipSpaces())
                {
                    tokens.AddRange(function);
                    tokens.AddRange(Braced(m.ReadArgument(t), t.Position));
                }
            });
            m.Push(tokens);
        });
    }

    private List<Token> _processed = [];

    private void SetProcessed(List<Token> tokens) => _processed = tokens;

    /// <summary>Tokens with braces around.</summary>
    public static List<Token> Braced(IReadOnlyList<Token> tokens, int position) =>
        [Token.Character('{', Category.BeginGroup, position), .. tokens, Token.Character('}', Category.EndGroup, position)];

    private void DefineTest(string name, Func<Machine, List<Token>, bool> test)
    {
        foreach ((string ending, bool whenTrue, bool whenFalse) in (ReadOnlySpan<(string, bool, bool)>)[("TF", true, true), ("T", true, false), ("F", false, true)])
        {
            DefineExpandable("If" + name + ending, (m, t) =>
            {
                bool holds = test(m, m.ReadArgument(t));
                List<Token> yes = whenTrue ? m.ReadArgument(t) : [];
                List<Token> no = whenFalse ? m.ReadArgument(t) : [];
                m.Push(holds ? yes : no);
            });
        }
    }

    private bool IsNoValue(List<Token> tokens) => tokens is [{ } only] && ReferenceEquals(only.Symbol, Symbol("-NoValue-"));

    private void ReadDocumentCommand(Token command, NewKind kind, bool isProtected)
    {
        Token name = ReadCommandToken(command);
        List<ArgumentType> arguments = ReadArgumentTypes(command);
        List<Token> body = ReadArgument(command);
        if (name.Symbol is not { } symbol || !MayDefine(command, name, symbol, kind, "DocumentCommand"))
        {
            return;
        }

        Assign(symbol.Meaning, new DocumentCommandMeaning(arguments, [.. NumberParameters(body, arguments.Count)]) { IsProtected = isProtected });
    }

    private void ReadDocumentEnvironment(Token command, NewKind kind)
    {
        string name = ReadText(command);
        List<ArgumentType> arguments = ReadArgumentTypes(command);
        List<Token> begin = ReadArgument(command);
        List<Token> end = ReadArgument(command);
        Symbol symbol = Symbol(name);
        if (name.Length == 0 || !MayDefine(command, command, symbol, kind, "DocumentEnvironment"))
        {
            return;
        }

        Symbol endSymbol = Symbol("end" + name);
        Assign(symbol.Meaning, new DocumentCommandMeaning(arguments, [.. NumberParameters(begin, arguments.Count)])
        {
            EndBody = [.. NumberParameters(end, arguments.Count)],
            EndSymbol = endSymbol,
        });
        Assign(endSymbol.Meaning, new MacroMeaning { Pattern = [], Body = [], Arity = 0 });
    }

    private bool MayDefine(Token command, Token name, Symbol symbol, NewKind kind, string what)
    {
        bool defined = symbol.Meaning.Value is not null && !IsRelax(symbol);
        if (kind == NewKind.Provide && defined)
        {
            return false;
        }

        if (kind == NewKind.New && defined)
        {
            Findings.Fix("already-defined", name.Position, name.Length, $"{symbol} exists already.",
                $"Choose another name, or write \\Renew{what} to change it. The new definition was used.",
                new Repair(command.Position, command.Length, "\\Renew" + what));
        }
        else if (kind == NewKind.Renew && !defined)
        {
            Findings.Check("not-yet-defined", name.Position, name.Length, $"{symbol} doesn't exist yet.",
                $"\\Renew{what} changes one; \\New{what} makes one.", new Repair(command.Position, command.Length, "\\New" + what));
        }

        return true;
    }

    private List<ArgumentType> ReadArgumentTypes(Token command)
    {
        var result = new List<ArgumentType>();
        List<Token> letters = ReadArgument(command);
        Scan(letters, () =>
        {
            var processors = new List<Token[]>();
            while (true)
            {
                SkipSpaces();
                Token letter = Next();
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
                        processors.Add([.. ReadArgument(command)]);
                        continue;
                    case '+' or '!':
                        continue;
                    case 'm' or 's' or 'o' or 'v' or 'b':
                        break;
                    case 'O':
                        standard = [.. ReadArgument(command)];
                        break;
                    case 'g' or 'G':
                        (open, close) = (Token.Character('{', Category.BeginGroup, -1), Token.Character('}', Category.EndGroup, -1));
                        standard = kind == 'G' ? [.. ReadArgument(command)] : null;
                        break;
                    case 't':
                        SkipSpaces();
                        open = Next();
                        break;
                    case 'r' or 'd' or 'R' or 'D':
                        SkipSpaces();
                        open = Next();
                        SkipSpaces();
                        close = Next();
                        standard = kind is 'R' or 'D' ? [.. ReadArgument(command)] : null;
                        break;
                    case 'e' or 'E':
                        List<Token> signs = ReadArgument(command);
                        List<List<Token>> values = [];
                        if (kind == 'E')
                        {
                            List<Token> given = ReadArgument(command);
                            Scan(given, () =>
                            {
                                for (SkipSpaces(); !Peek().Is(Category.Stop); SkipSpaces())
                                {
                                    values.Add(ReadArgument(command));
                                }
                            });
                        }

                        for (int i = 0; i < signs.Count; i++)
                        {
                            result.Add(new ArgumentType('e', signs[i], close, i < values.Count ? [.. values[i]] : null));
                        }

                        continue;
                    default:
                        Findings.Fix("wrong-parameter", letter.Position, 1, $"“{letter}” is no kind of argument.",
                            "Kinds are m, o, O, s, t, r, d, D, e, v and b.");
                        continue;
                }

                char mapped = kind switch { 'O' => 'o', 'g' or 'G' or 'D' => 'd', 'R' => 'r', _ => kind };
                result.Add(new ArgumentType(mapped, open, close, standard) { Processors = [.. processors] });
                processors.Clear();
                if (result.Count > 9)
                {
                    Findings.Fix("wrong-parameter", command.Position, command.Length, "A command takes at most nine parameters.",
                        "Give at most nine kinds of argument.");
                    result.RemoveAt(9);
                }
            }
        });
        return result;
    }

    private void ExpandDocumentCommand(Token call, DocumentCommandMeaning meaning)
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
                    Scan([.. processor, .. Braced(arguments[i], call.Position)], () =>
                    {
                        Token first = NextExpanded();
                        (first.Symbol?.Meaning.Value as BuiltInCommand)?.Execute(this, first);
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

            Assign(end.Meaning, new MacroMeaning { Pattern = [], Body = [.. tokens], Arity = 0 });
        }

        PushBody(call, meaning.Body, arguments);
    }

    private List<Token> ReadDocumentArgument(Token call, IReadOnlyList<ArgumentType> types, int index, List<Token>[] known)
    {
        ArgumentType type = types[index];
        List<Token> missing = type.Standard is { } standard
            ? [.. standard.SelectMany(t => t.Is(Category.Argument) && t.Code <= known.Length && known[t.Code - 1] is { } k ? k : [t])]
            : [Token.Command(Symbol("-NoValue-"), call.Position)];
        switch (type.Kind)
        {
            case 's' or 't':
                Token wanted = type.Kind == 's' ? Token.Character('*', Category.Other, -1) : type.Open;
                return [Token.Command(Symbol(TakeToken(wanted) ? "BooleanTrue" : "BooleanFalse"), call.Position)];
            case 'o':
                return ReadOptional(call) ?? missing;
            case 'd' when type.Open.Is(Category.BeginGroup):
                SkipSpaces();
                return Peek().Is(Category.BeginGroup) ? ReadArgument(call) : missing;
            case 'd':
                return TakeToken(type.Open) ? ReadDelimited(call, [type.Close], true) ?? missing : missing;
            case 'r':
                if (TakeToken(type.Open))
                {
                    return ReadDelimited(call, [type.Close], true) ?? missing;
                }

                Findings.Fix("missing-argument", call.Position, call.Length, $"{call} needs an argument between {type.Open} and {type.Close}.",
                    "Write it right after the command.");
                return missing;
            case 'e':
                return known[index] ?? ReadEmbellishments(call, types, index, known) ?? missing;
            case 'v':
                SkipSpaces();
                return Peek().Is(Category.BeginGroup) ? ReadArgument(call) : ReadVerbatimArgument(call);
            case 'b':
                return ReadEnvironmentBody(call);
            default:
                return ReadArgument(call);
        }
    }

    private List<Token> ReadVerbatimArgument(Token call)
    {
        Token delimiter = Next();
        return ReadDelimited(call, [delimiter], true) ?? [];
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
                    known[i] = ReadArgument(call);
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
        Token token = Next();
        while (token.Is(Category.Space))
        {
            spaces.Add(token);
            token = Next();
        }

        if (token == wanted || (token.Symbol is null && wanted.Symbol is null && !token.Is(Category.Stop) && token.Code == wanted.Code))
        {
            return true;
        }

        PutBack(token);
        for (int i = spaces.Count - 1; i >= 0; i--)
        {
            PutBack(spaces[i]);
        }

        return false;
    }

    /// <summary>Reads an environment's body up to its own <c>\end</c>, which is left to be read.</summary>
    public List<Token> ReadEnvironmentBody(Token call)
    {
        var body = new List<Token>();
        int depth = 0;
        _holdAtFileEnd++;
        try
        {
            while (true)
            {
                Token token = Next();
                if (token.Is(Category.Stop))
                {
                    return body;
                }

                if (token.IsCommand("end") && depth-- == 0)
                {
                    PutBack(token);
                    return TrimSpaces(body);
                }

                depth += token.IsCommand("begin") ? 1 : 0;
                body.Add(token);
            }
        }
        finally
        {
            _holdAtFileEnd--;
        }
    }
}
