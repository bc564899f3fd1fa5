namespace YoungFolio.Markup;

/// <summary>Commands that give names a meaning.</summary>
public sealed class DefinitionCommands(Machine machine)
{
    private bool _global;
    private bool _long;
    private bool _protected;

    internal void DefineDefinitions()
    {
        DefinePrefix("global", _ => _global = true);
        DefinePrefix("long", _ => _long = true);
        DefinePrefix("outer", static _ => { });
        DefinePrefix("protected", _ => _protected = true);
        machine.Define("def", (_, t) => ReadDefinition(t, false, false));
        machine.Define("gdef", (_, t) => ReadDefinition(t, true, false));
        machine.Define("edef", (_, t) => ReadDefinition(t, false, true));
        machine.Define("xdef", (_, t) => ReadDefinition(t, true, true));
        machine.Define("let", (_, t) => ReadLet(t));
        machine.Define("glet", (_, t) =>
        {
            _global = true;
            ReadLet(t);
        });
        machine.Define("futurelet", static (m, t) =>
        {
            Token name = m.Next();
            Token first = m.Next();
            Token second = m.Next();
            m.PutBack(second);
            m.PutBack(first);
            if (name.Symbol is { } symbol)
            {
                m.Assign(symbol.Meaning, ConversionCommands.MeaningOf(second), m.Definitions.TakeGlobal());
            }
        });
        machine.Define("newcommand", (_, t) => ReadNewCommand(t, NewKind.New));
        machine.Define("renewcommand", (_, t) => ReadNewCommand(t, NewKind.Renew));
        machine.Define("providecommand", (_, t) => ReadNewCommand(t, NewKind.Provide));
        machine.Define("DeclareRobustCommand", (_, t) => ReadNewCommand(t, NewKind.Robust));
        machine.Define("newrobustcmd", (_, t) => ReadNewCommand(t, NewKind.New, true));
        machine.Define("CheckCommand", (_, t) => ReadNewCommand(t, NewKind.Provide));
        machine.Define("newenvironment", (_, t) => ReadNewEnvironment(t, NewKind.New));
        machine.Define("renewenvironment", (_, t) => ReadNewEnvironment(t, NewKind.Renew));
        machine.Define("makeatletter", static (m, t) => m.Categories.Set('@', Category.Letter));
        machine.Define("makeatother", static (m, t) => m.Categories.Set('@', Category.Other));
        machine.Define("@namedef", static (m, t) =>
        {
            Symbol symbol = m.Symbol(m.ReadText(t));
            m.PutBack(Token.Command(symbol, t.Position));
            m.Definitions.ReadDefinition(t, false, false);
        });
        machine.DefineExpandable("@nameuse", static (m, t) => m.PutBack(Token.Command(m.Symbol(m.ReadText(t)), t.Position)));
    }

    /// <summary>
    /// Carries out definitions written as markup: what the kernel, a class or a package defines in the language itself. Only
    /// definitions and assignments may stand in it; @ counts as a letter.
    /// </summary>
    public void Load(string markup)
    {
        Category at = machine.Categories.Swap('@', Category.Letter);
        machine.Input.ScanMarkup(markup, () =>
        {
            for (Token token = machine.NextExpanded(); !token.Is(Category.Stop); token = machine.NextExpanded())
            {
                switch (token.Symbol?.Meaning.Value)
                {
                    case BuiltInCommand command:
                        command.Execute(machine, token);
                        break;
                    case { } meaning and not CharacterMeaning:
                        machine.Assignments.AssignRegister(meaning, token);
                        break;
                }
            }
        });
        machine.Categories.Swap('@', at);
    }

    /// <summary>Defines a macro without parameters from markup, outside all groups.</summary>
    public void DefineMacro(string name, string markup)
    {
        Category at = machine.Categories.Swap('@', Category.Letter);
        Token[] body = machine.Tokenize(markup, PositionTable.None);
        machine.Categories.Swap('@', at);
        machine.Symbol(name).Meaning.Value = new MacroMeaning { Pattern = [], Body = body, Arity = 0 };
    }

    private void ReadNewCommand(Token command, NewKind kind, bool isProtected = false)
    {
        bool isLong = !machine.TakeStar();
        Token name = ReadCommandToken(command);
        (int arity, Token[]? standard) = ReadArity(command);
        List<Token> body = machine.ReadArgument(command);
        if (name.Symbol is not { } symbol)
        {
            return;
        }

        bool defined = IsTaken(symbol);
        switch (kind)
        {
            case NewKind.New when defined && name.Position != PositionTable.None:
                machine.Findings.Fix("already-defined", name.Position, name.Length, $"The command {symbol} exists already.",
                    "Choose another name, or write \\renewcommand to change it. The new definition was used.",
                    new Repair(command.Position, command.Length, "\\renewcommand"));
                break;
            case NewKind.Renew when !defined:
                machine.Findings.Check("not-yet-defined", name.Position, name.Length, $"The command {symbol} doesn't exist yet.",
                    "\\renewcommand changes a command; \\newcommand makes one.",
                    new Repair(command.Position, command.Length, "\\newcommand"));
                break;
            case NewKind.Provide when defined:
                return;
        }

        machine.Assign(symbol.Meaning, MakeMacro(body, arity, standard, isLong, name.Position, isProtected || kind == NewKind.Robust));
    }

    private readonly HashSet<Symbol> _offered = [];

    /// <summary>Names that are there though neither the class nor a package has them: whoever defines one anew takes it.</summary>
    /// <param name="isOffered">Whether they are only offered; otherwise they are the class's own again.</param>
    /// <param name="names">The names.</param>
    public void Offer(bool isOffered, params ReadOnlySpan<string> names)
    {
        foreach (string name in names)
        {
            _ = isOffered ? _offered.Add(machine.Symbol(name)) : _offered.Remove(machine.Symbol(name));
        }
    }

    /// <summary>Whether a name has a meaning that a new definition would take from it.</summary>
    internal bool IsTaken(Symbol symbol) => symbol.Meaning.Value is not null && !IsRelax(symbol) && !_offered.Contains(symbol);

    internal bool IsRelax(Symbol symbol) => ReferenceEquals(symbol.Meaning.Value, machine.Symbol("relax").Meaning.Value);

    private MacroMeaning MakeMacro(List<Token> body, int arity, Token[]? standard, bool isLong, int position, bool isProtected = false)
    {
        var pattern = new Token[arity];
        for (int i = 0; i < arity; i++)
        {
            pattern[i] = Token.Character(i + 1, Category.Argument, PositionTable.None);
        }

        return new MacroMeaning
        {
            Pattern = pattern,
            Body = [.. NumberParameters(body, arity)],
            Arity = arity,
            Default = standard,
            IsLong = isLong,
            IsProtected = isProtected,
            Position = position,
        };
    }

    private (int Arity, Token[]? Standard) ReadArity(Token command)
    {
        if (machine.ReadOptional(command) is not { } number)
        {
            return (0, null);
        }

        int arity = machine.Quantities.ParseInteger(number, command) ?? 0;
        if (arity is < 0 or > 9)
        {
            machine.Findings.Fix("wrong-parameter", command.Position, command.Length, "A command takes at most nine parameters.",
                "Give a number from 0 to 9 in the brackets.");
            arity = Math.Clamp(arity, 0, 9);
        }

        List<Token>? standard = machine.ReadOptional(command);
        return (arity, arity > 0 ? standard?.ToArray() : null);
    }

    private void ReadNewEnvironment(Token command, NewKind kind)
    {
        machine.TakeStar();
        string name = machine.ReadText(command);
        (int arity, Token[]? standard) = ReadArity(command);
        List<Token> begin = machine.ReadArgument(command);
        List<Token> end = machine.ReadArgument(command);
        bool defined = machine.IsDefined(name) && machine.IsDefined("end" + name);
        if (kind == NewKind.New && defined && command.Position != PositionTable.None)
        {
            machine.Findings.Fix("already-defined", command.Position, command.Length, $"The environment {name} exists already.",
                "Choose another name, or write \\renewenvironment to change it. The new definition was used.",
                new Repair(command.Position, command.Length, "\\renewenvironment"));
        }
        else if (kind == NewKind.Renew && !defined)
        {
            machine.Findings.Check("not-yet-defined", command.Position, command.Length, $"The environment {name} doesn't exist yet.",
                "\\renewenvironment changes an environment; \\newenvironment makes one.",
                new Repair(command.Position, command.Length, "\\newenvironment"));
        }

        machine.Assign(machine.Symbol(name).Meaning, MakeMacro(begin, arity, standard, true, command.Position));
        machine.Assign(machine.Symbol("end" + name).Meaning, MakeMacro(end, 0, null, true, command.Position));
    }

    /// <summary>Whether <c>\global</c> stood before the command being carried out; reading it clears it.</summary>
    public bool TakeGlobal()
    {
        bool global = _global;
        _global = _long = _protected = false;
        return global;
    }

    private void DefinePrefix(string name, Action<Machine> set) => machine.Define(name, (m, t) =>
    {
        set(m);
        Token next = m.Arguments.NextNonSpaceExpanded();
        while (next.IsCommand("relax"))
        {
            next = m.Arguments.NextNonSpaceExpanded();
        }

        if (next.Symbol?.Meaning.Value is BuiltInCommand command)
        {
            command.Execute(m, next);
        }
        else if (next.Symbol?.Meaning.Value is { } meaning and not CharacterMeaning)
        {
            m.Assignments.AssignRegister(meaning, next);
        }
        else
        {
            m.PutBack(next);
        }

        m.Definitions.TakeGlobal();
    });

    /// <summary>Reads the command that is to be defined, with or without braces around it.</summary>
    public Token ReadCommandToken(Token command)
    {
        machine.SkipSpaces();
        Token token = machine.Next();
        if (token.Is(Category.BeginGroup))
        {
            List<Token> inner = machine.Arguments.ReadBalanced(token, command);
            inner.RemoveAll(t => t.Is(Category.Space));
            token = inner.Count > 0 ? inner[0] : Token.Stop();
        }

        return Named(token, command);
    }

    // Says that a command is wanted where none is.
    internal Token Named(Token token, Token command)
    {
        if (token.Symbol is null)
        {
            machine.Findings.Fix("not-a-command", token.Position >= 0 ? token.Position : command.Position, 1,
                $"{command} must be followed by the command that it defines.",
                $"Write a name with its backslash, as in {command}{{\\species}}.");
        }

        return token;
    }

    private void ReadDefinition(Token command, bool global, bool expand)
    {
        bool isLong = _long;
        bool isProtected = _protected;
        global |= TakeGlobal();
        Token name = machine.Next();
        while (name.Is(Category.Space))
        {
            name = machine.Next();
        }

        if (name.Symbol is not { } symbol)
        {
            machine.PutBack(name);
            machine.Findings.Fix("not-a-command", name.Position >= 0 ? name.Position : command.Position, 1,
                $"{command} must be followed by the command that it defines.",
                "Write a name with its backslash right after it.");
            return;
        }

        var pattern = new List<Token>();
        int arity = 0;
        bool braceEnds = false;
        Token token;
        while (true)
        {
            token = machine.Next();
            if (token.Is(Category.Stop))
            {
                machine.Findings.Fix("missing-argument", command.Position, command.Length,
                    $"The definition of {symbol} has no body.", "Write it in { } after the name.");
                return;
            }

            if (token.Is(Category.BeginGroup))
            {
                break;
            }

            if (token.Is(Category.Parameter))
            {
                Token digit = machine.Next();
                if (digit.Is(Category.BeginGroup))
                {
                    // #{ ends the parameters with a brace that stays (The TeXbook, p. 204).
                    pattern.Add(digit);
                    braceEnds = true;
                    token = digit;
                    break;
                }

                if (QuantityScanner.Digit(digit, 10) is { } number && number == arity + 1)
                {
                    arity++;
                    pattern.Add(Token.Character(number, Category.Argument, digit.Position));
                    continue;
                }

                machine.Findings.Fix("wrong-parameter", digit.Position, 1,
                    "Parameters must be numbered #1, #2 … in order.", $"The next one here is #{arity + 1}.");
                continue;
            }

            pattern.Add(token);
        }

        List<Token> body = machine.Arguments.ReadBalanced(token, name);
        if (expand)
        {
            body = machine.Expander.ExpandFully(body);
        }

        body = NumberParameters(body, arity);
        if (braceEnds)
        {
            body.Add(token);
        }

        machine.Input.CountCopied(body.Count);
        machine.Assign(symbol.Meaning, new MacroMeaning
        {
            Pattern = [.. pattern],
            Body = [.. body],
            Arity = arity,
            IsLong = isLong,
            IsProtected = isProtected,
            Position = name.Position,
        }, global);
        machine.Assignments.FinishAssignment();
    }

    /// <summary>Turns #1 into a numbered token, and ## into #.</summary>
    public List<Token> NumberParameters(List<Token> body, int arity)
    {
        var result = new List<Token>(body.Count);
        for (int i = 0; i < body.Count; i++)
        {
            if (!body[i].Is(Category.Parameter))
            {
                result.Add(body[i]);
                continue;
            }

            if (i + 1 >= body.Count)
            {
                break;
            }

            Token next = body[++i];
            if (next.Is(Category.Parameter))
            {
                result.Add(next);
            }
            else if (QuantityScanner.Digit(next, 10) is { } number && number >= 1 && number <= arity)
            {
                result.Add(Token.Character(number, Category.Argument, next.Position));
            }
            else
            {
                machine.Findings.Fix("wrong-parameter", body[i - 1].Position, 2,
                    $"#{next} names a parameter that this definition doesn't have.",
                    arity == 0
                        ? "The definition takes none: give their number, as in \\newcommand{\\name}[1]{…}, or write \\# for the sign."
                        : $"It takes {arity}: #1" + (arity > 1 ? $" to #{arity}." : "."));
                result.Add(next);
            }
        }

        return result;
    }

    private void ReadLet(Token command)
    {
        bool global = TakeGlobal();
        Token name = machine.Next();
        while (name.Is(Category.Space))
        {
            name = machine.Next();
        }

        if (name.Symbol is not { } symbol)
        {
            machine.PutBack(name);
            machine.Findings.Fix("not-a-command", command.Position, command.Length,
                "\\let must be followed by the command that it sets.", "Write \\let\\new=\\old.");
            return;
        }

        Token token = machine.Next();
        while (token.Is(Category.Space))
        {
            token = machine.Next();
        }

        if (token.IsCharacter('='))
        {
            token = machine.Next();
            if (token.Is(Category.Space))
            {
                token = machine.Next();
            }
        }

        machine.Assign(symbol.Meaning, ConversionCommands.MeaningOf(token), global);
        machine.Assignments.FinishAssignment();
    }

    internal Symbol ReadCommandName(Token command)
    {
        var name = new System.Text.StringBuilder();
        while (true)
        {
            Token token = machine.NextExpanded();
            if (token.IsCommand("endcsname"))
            {
                break;
            }

            if (token.Symbol is { } || token.Is(Category.Stop))
            {
                machine.PutBack(token);
                machine.Findings.Fix("wrong-use", command.Position, command.Length,
                    "\\csname isn't closed by \\endcsname.", "Only characters may stand between the two.");
                break;
            }

            name.Append(token.ToString());
        }

        Symbol symbol = machine.Symbol(name.ToString());
        if (symbol.Meaning.Value is null)
        {
            machine.Assign(symbol.Meaning, machine.Symbol("relax").Meaning.Value);
        }

        return symbol;
    }
}

/// <summary>What a definition may do with a name that means something already.</summary>
internal enum NewKind
{
    New,
    Renew,
    Provide,
    Robust,
}
