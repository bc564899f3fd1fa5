using System.Globalization;

namespace YoungFolio.Markup;

// What Lamport's LaTeX adds to the language: new commands, environments, counters, lengths, switches.
public sealed partial class Machine
{
    private readonly Dictionary<string, List<string>> _resetWith = new(StringComparer.Ordinal);

    /// <summary>Names of the environments that are defined.</summary>
    public IEnumerable<string> EnvironmentNames => Environments.Keys;

    /// <summary>Environments made by the manuscript, with what opens and closes them.</summary>
    public Dictionary<string, Scoped<MacroEnvironment?>> Environments { get; } = new(StringComparer.Ordinal);

    private void DefineKernel()
    {
        Define("newcommand", static (m, t) => m.ReadNewCommand(t, NewKind.New));
        Define("renewcommand", static (m, t) => m.ReadNewCommand(t, NewKind.Renew));
        Define("providecommand", static (m, t) => m.ReadNewCommand(t, NewKind.Provide));
        Define("DeclareRobustCommand", static (m, t) => m.ReadNewCommand(t, NewKind.Any));
        Define("newenvironment", static (m, t) => m.ReadNewEnvironment(t, NewKind.New));
        Define("renewenvironment", static (m, t) => m.ReadNewEnvironment(t, NewKind.Renew));
        Define("makeatletter", static (m, t) => m.SetCategory('@', Category.Letter));
        Define("makeatother", static (m, t) => m.SetCategory('@', Category.Other));
        Define("newif", static (m, t) =>
        {
            Token name = m.Next();
            if (name.Symbol is not { } symbol || !symbol.Name.StartsWith("if", StringComparison.Ordinal))
            {
                m.Findings.Fix("not-a-command", t.Position, t.Length, "\\newif must be followed by a name that begins with \\if.",
                    "For example \\newif\\ifdraft, which gives \\drafttrue and \\draftfalse.");
                return;
            }

            string rest = symbol.Name[2..];
            ConditionalCommand yes = MakeIf("iftrue", static _ => true);
            ConditionalCommand no = MakeIf("iffalse", static _ => false);
            m.Assign(symbol.Meaning, no);
            m.Assign(m.Symbol(rest + "true").Meaning, new BuiltInCommand(rest + "true", (n, _) => n.Assign(symbol.Meaning, yes, n.TakeGlobal())));
            m.Assign(m.Symbol(rest + "false").Meaning, new BuiltInCommand(rest + "false", (n, _) => n.Assign(symbol.Meaning, no, n.TakeGlobal())));
        });

        Define("newcounter", static (m, t) =>
        {
            string name = m.ReadText(t);
            m.NewCounter(name, m.ReadOptionalText(t));
        });
        Define("setcounter", static (m, t) => m.ChangeCounter(t, static (_, value) => value));
        Define("addtocounter", static (m, t) => m.ChangeCounter(t, static (old, value) => old + value));
        Define("stepcounter", static (m, t) => m.StepCounter(m.ReadText(t), t));
        Define("@addtoreset", static (m, t) => m.ResetWith(m.ReadText(t), m.ReadText(t)));
        Define("counterwithin", static (m, t) =>
        {
            bool star = m.TakeStar();
            string name = m.ReadText(t);
            string within = m.ReadText(t);
            m.ResetWith(name, within);
            if (!star)
            {
                m.DefineNumber(name, $"\\the{within}.\\arabic{{{name}}}");
            }
        });
        DefineExpandable("value", static (m, t) =>
        {
            if (m.CounterArgument(t) is { } counter)
            {
                m.PushText(counter.Value.ToString(CultureInfo.InvariantCulture) + " ", t.Position);
            }
        });
        DefineCounterFormat("arabic", static n => n.ToString(CultureInfo.InvariantCulture));
        DefineCounterFormat("roman", Numerals.Roman);
        DefineCounterFormat("Roman", static n => Numerals.Roman(n).ToUpperInvariant());
        DefineCounterFormat("alph", Numerals.Letter);
        DefineCounterFormat("Alph", static n => Numerals.Letter(n)?.ToUpperInvariant());
        DefineCounterFormat("fnsymbol", Numerals.FootnoteSign);

        Define("setlength", static (m, t) => m.ChangeLength(t, false));
        Define("addtolength", static (m, t) => m.ChangeLength(t, true));

        Define("@ifnextchar", static (m, t) => m.IfNextCharacter(t));
        Define("@ifstar", static (m, t) =>
        {
            List<Token> yes = m.ReadArgument(t);
            List<Token> no = m.ReadArgument(t);
            m.Push(m.TakeStar() ? yes : no);
        });
        DefineExpandable("@firstofone", static (m, t) => m.Push(m.ReadArgument(t)));
        DefineExpandable("@firstoftwo", static (m, t) =>
        {
            List<Token> first = m.ReadArgument(t);
            m.ReadArgument(t);
            m.Push(first);
        });
        DefineExpandable("@secondoftwo", static (m, t) =>
        {
            m.ReadArgument(t);
            m.Push(m.ReadArgument(t));
        });
        DefineExpandable("@gobble", static (m, t) => m.ReadArgument(t));
        DefineExpandable("@empty", static (_, _) => { });
        DefineMeaning("empty", Symbol("@empty").Meaning.Value!);
        Define("@namedef", static (m, t) =>
        {
            Symbol symbol = m.Symbol(m.ReadText(t));
            m.PutBack(Token.Command(symbol, t.Position));
            m.ReadDefinition(t, false, false);
        });
        DefineExpandable("@nameuse", static (m, t) => m.PutBack(Token.Command(m.Symbol(m.ReadText(t)), t.Position)));
        DefineExpandable("@ifundefined", static (m, t) =>
        {
            bool defined = m.IsDefined(m.ReadText(t));
            List<Token> yes = m.ReadArgument(t);
            List<Token> no = m.ReadArgument(t);
            m.Push(defined ? no : yes);
        });
        Define("protect", static (_, _) => { });
    }

    /// <summary>Makes a counter, with <c>\the…</c> in arabic figures.</summary>
    public void NewCounter(string name, string? within = null)
    {
        NamedCount("c@" + name);
        DefineNumber(name, $"\\arabic{{{name}}}");
        if (within is not null)
        {
            ResetWith(name, within);
        }
    }

    /// <summary>Sets how a counter prints.</summary>
    public void DefineNumber(string counter, string markup) => DefineMacro("the" + counter, markup);

    /// <summary>Defines a macro without parameters from markup, outside all groups.</summary>
    public void DefineMacro(string name, string markup)
    {
        Category at = CategoryOf('@');
        _categories['@'].Value = Category.Letter;
        Token[] body = Tokenize(markup, PositionTable.None);
        _categories['@'].Value = at;
        Symbol(name).Meaning.Value = new MacroMeaning { Pattern = [], Body = body, Arity = 0 };
    }

    /// <summary>The counter of this name, or null.</summary>
    public Scoped<int>? Counter(string name) =>
        _symbols.TryGetValue("c@" + name, out Symbol? s) && s.Meaning.Value is RegisterMeaning<int> r ? r.Register : null;

    /// <summary>Has a counter return to 0 whenever another is stepped.</summary>
    public void ResetWith(string name, string within)
    {
        if (!_resetWith.TryGetValue(within, out List<string>? list))
        {
            _resetWith[within] = list = [];
        }

        if (!list.Contains(name))
        {
            list.Add(name);
        }
    }

    /// <summary>Adds one to a counter and sets those that depend on it to 0.</summary>
    public void StepCounter(string name, Token command)
    {
        if (FindCounter(name, command) is { } counter)
        {
            Assign(counter, counter.Value + 1, true);
            ResetDependents(name, 0);
        }
    }

    /// <summary>The counter of this name; null, with a finding, when there is none.</summary>
    public Scoped<int>? FindCounter(string name, Token command)
    {
        Scoped<int>? counter = Counter(name);
        if (counter is null)
        {
            string? near = NearestName.Find(name, _symbols.Keys.Where(k => k.StartsWith("c@", StringComparison.Ordinal)).Select(k => k[2..]));
            Findings.Fix("unknown-counter", command.Position, command.Length, $"There is no counter “{name}”.",
                near is null ? "Make it with \\newcounter first." : $"Did you mean “{near}”?");
        }

        return counter;
    }

    private void ResetDependents(string name, int depth)
    {
        if (depth < 20 && _resetWith.TryGetValue(name, out List<string>? dependents))
        {
            foreach (string dependent in dependents)
            {
                if (Counter(dependent) is { } counter)
                {
                    Assign(counter, 0, true);
                    ResetDependents(dependent, depth + 1);
                }
            }
        }
    }

    private void DefineCounterFormat(string command, Func<int, string?> format) => DefineExpandable(command, (m, t) =>
    {
        if (m.CounterArgument(t) is not { } counter)
        {
            return;
        }

        string? text = format(counter.Value);
        if (text is null)
        {
            m.Findings.Fix("counter-too-large", t.Position, t.Length,
                $"{t} can't show the number {counter.Value}.", "Letters go to 26 and footnote signs to 9; use \\arabic.");
        }

        m.PushText(text ?? counter.Value.ToString(CultureInfo.InvariantCulture), t.Position);
    });

    private Scoped<int>? CounterArgument(Token command) => FindCounter(ReadText(command), command);

    private void ChangeCounter(Token command, Func<int, int, int> change)
    {
        string name = ReadText(command);
        List<Token> value = ReadArgument(command);
        if (FindCounter(name, command) is { } counter && ParseInteger(value, command) is { } number)
        {
            Assign(counter, change(counter.Value, number), true);
        }
    }

    private void ChangeLength(Token command, bool add)
    {
        Token name = ReadCommandToken(command);
        List<Token> value = ReadArgument(command);
        if (ParseGlue(value, command) is not { } glue || name.Symbol is null)
        {
            return;
        }

        switch (name.Symbol.Meaning.Value)
        {
            case RegisterMeaning<Glue> register when add:
                Glue old = register.Register.Value;
                Assign(register.Register, glue with { Width = new(old.Width.Scaled + glue.Width.Scaled) });
                break;
            case RegisterMeaning<Glue> register:
                Assign(register.Register, glue);
                break;
            case RegisterMeaning<Dimension> register:
                Assign(register.Register, add ? new(register.Register.Value.Scaled + glue.Width.Scaled) : glue.Width);
                break;
            default:
                Findings.Fix("unknown-length", name.Position, name.Length, $"{name} is not a length.",
                    "Make it with \\newlength first, or check its spelling.");
                break;
        }
    }

    private void IfNextCharacter(Token command)
    {
        SkipSpaces();
        Token wanted = Next();
        List<Token> yes = ReadArgument(command);
        List<Token> no = ReadArgument(command);
        SkipSpaces();
        Token next = Peek();
        bool same = MeaningOf(next) is { } meaning && meaning.SameAs(MeaningOf(wanted));
        Push(same ? yes : no);
    }

    private enum NewKind
    {
        New,
        Renew,
        Provide,
        Any,
    }

    private void ReadNewCommand(Token command, NewKind kind)
    {
        bool isLong = !TakeStar();
        Token name = ReadCommandToken(command);
        (int arity, Token[]? standard) = ReadArity(command);
        List<Token> body = ReadArgument(command);
        if (name.Symbol is not { } symbol)
        {
            return;
        }

        bool defined = symbol.Meaning.Value is not null;
        switch (kind)
        {
            case NewKind.New when defined:
                Findings.Fix("already-defined", name.Position, name.Length, $"The command {symbol} exists already.",
                    "Choose another name, or write \\renewcommand to change it. The new definition was used.",
                    new Repair(command.Position, command.Length, "\\renewcommand"));
                break;
            case NewKind.Renew when !defined:
                Findings.Check("not-yet-defined", name.Position, name.Length, $"The command {symbol} doesn't exist yet.",
                    "\\renewcommand changes a command; \\newcommand makes one.",
                    new Repair(command.Position, command.Length, "\\newcommand"));
                break;
            case NewKind.Provide when defined:
                return;
        }

        Assign(symbol.Meaning, MakeMacro(body, arity, standard, isLong, name.Position));
    }

    private MacroMeaning MakeMacro(List<Token> body, int arity, Token[]? standard, bool isLong, int position)
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
            Position = position,
        };
    }

    private (int Arity, Token[]? Standard) ReadArity(Token command)
    {
        if (ReadOptional(command) is not { } number)
        {
            return (0, null);
        }

        int arity = ParseInteger(number, command) ?? 0;
        if (arity is < 0 or > 9)
        {
            Findings.Fix("wrong-parameter", command.Position, command.Length, "A command takes at most nine parameters.",
                "Give a number from 0 to 9 in the brackets.");
            arity = Math.Clamp(arity, 0, 9);
        }

        List<Token>? standard = ReadOptional(command);
        return (arity, arity > 0 ? standard?.ToArray() : null);
    }

    private void ReadNewEnvironment(Token command, NewKind kind)
    {
        TakeStar();
        string name = ReadText(command);
        (int arity, Token[]? standard) = ReadArity(command);
        List<Token> begin = ReadArgument(command);
        List<Token> end = ReadArgument(command);
        bool defined = EnvironmentExists(name);
        if (kind == NewKind.New && defined)
        {
            Findings.Fix("already-defined", command.Position, command.Length, $"The environment {name} exists already.",
                "Choose another name, or write \\renewenvironment to change it. The new definition was used.",
                new Repair(command.Position, command.Length, "\\renewenvironment"));
        }
        else if (kind == NewKind.Renew && !defined)
        {
            Findings.Check("not-yet-defined", command.Position, command.Length, $"The environment {name} doesn't exist yet.",
                "\\renewenvironment changes an environment; \\newenvironment makes one.",
                new Repair(command.Position, command.Length, "\\newenvironment"));
        }

        if (!Environments.TryGetValue(name, out Scoped<MacroEnvironment?>? slot))
        {
            Environments[name] = slot = new(null);
        }

        var beginMacro = MakeMacro(begin, arity, standard, true, command.Position);
        var endMacro = MakeMacro(end, 0, null, true, command.Position);
        Assign(slot, new MacroEnvironment(beginMacro, endMacro));
    }

    /// <summary>Asks whoever builds the document whether it has an environment of its own by this name.</summary>
    public Func<string, bool> EnvironmentExists { get; set; } = _ => false;
}

/// <summary>An environment defined in markup.</summary>
/// <param name="Begin">What <c>\begin</c> expands to.</param>
/// <param name="End">What <c>\end</c> expands to.</param>
public sealed record MacroEnvironment(MacroMeaning Begin, MacroMeaning End);
