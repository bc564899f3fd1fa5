using System.Globalization;

namespace YoungFolio.Markup;

// What Lamport's LaTeX adds to the language: new commands, environments, counters, lengths, switches.
public sealed partial class Machine
{
    private readonly Dictionary<string, List<string>> _resetWith = new(StringComparer.Ordinal);

    private void DefineKernel()
    {
        Define("newcommand", static (m, t) => m.ReadNewCommand(t, NewKind.New));
        Define("renewcommand", static (m, t) => m.ReadNewCommand(t, NewKind.Renew));
        Define("providecommand", static (m, t) => m.ReadNewCommand(t, NewKind.Provide));
        Define("DeclareRobustCommand", static (m, t) => m.ReadNewCommand(t, NewKind.Robust));
        Define("newrobustcmd", static (m, t) => m.ReadNewCommand(t, NewKind.New, true));
        Define("CheckCommand", static (m, t) => m.ReadNewCommand(t, NewKind.Provide));
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

            m.NewSwitch(symbol.Name[2..]);
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
            string counter = m.ReadText(t);
            if (m.FindCounter(counter, t) is not null)
            {
                m.PutBack(Token.Command(m.Symbol("c@" + counter), t.Position));
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
        DefineChoices();
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
        DefineMeaning("protect", Symbol("relax").Meaning.Value!);
        DefineMeaning("@typeset@protect", Symbol("relax").Meaning.Value!);
        Define("@for", static (m, t) => m.ForEach(t, true));
        Define("@tfor", static (m, t) => m.ForEach(t, false));
        Define("MakeUppercase", static (m, t) => m.PushCasedText(t, true));
        Define("MakeLowercase", static (m, t) => m.PushCasedText(t, false));
        Define("counterwithout", static (m, t) =>
        {
            bool star = m.TakeStar();
            string name = m.ReadText(t);
            m.RemoveReset(name, m.ReadText(t));
            if (!star)
            {
                m.DefineNumber(name, $"\\arabic{{{name}}}");
            }
        });
        Define("@removefromreset", static (m, t) => m.RemoveReset(m.ReadText(t), m.ReadText(t)));
        Define("numberwithin", static (m, t) =>
        {
            string format = m.ReadOptional(t) is { } f ? f.ToSource() : "\\arabic";
            string counter = m.ReadText(t);
            string within = m.ReadText(t);
            if (m.FindCounter(counter, t) is not null && m.FindCounter(within, t) is not null)
            {
                m.ResetWith(counter, within);
                m.DefineNumber(counter, $"\\the{within}.{format}{{{counter}}}");
            }
        });
        DefineDocumentCommands();
        LoadDefinitions(KernelDefinitions.Markup);
    }

    // Choices and gobblers of the kernel: whole arguments in, one of them out.
    private void DefineChoices()
    {
        foreach ((string name, int count, int chosen) in (ReadOnlySpan<(string, int, int)>)[
            ("@firstofone", 1, 0), ("@iden", 1, 0), ("@firstoftwo", 2, 0), ("@secondoftwo", 2, 1), ("@gobble", 1, -1),
            ("@gobbletwo", 2, -1), ("@gobblethree", 3, -1), ("@gobblefour", 4, -1), ("@thirdofthree", 3, 2)])
        {
            DefineExpandable(name, (m, t) =>
            {
                List<Token>? result = null;
                for (int i = 0; i < count; i++)
                {
                    List<Token> argument = m.ReadArgument(t);
                    result = i == chosen ? argument : result;
                }

                if (result is not null)
                {
                    m.Push(result);
                }
            });
        }
    }

    /// <summary>Makes a switch: <c>\if…</c>, with <c>…true</c> and <c>…false</c> to set it.</summary>
    public void NewSwitch(string name)
    {
        Symbol symbol = Symbol("if" + name);
        ConditionalCommand yes = MakeIf("iftrue", static _ => true);
        ConditionalCommand no = MakeIf("iffalse", static _ => false);
        Assign(symbol.Meaning, no);
        Assign(Symbol(name + "true").Meaning, new BuiltInCommand(name + "true", (n, _) => n.Assign(symbol.Meaning, yes, n.TakeGlobal())));
        Assign(Symbol(name + "false").Meaning, new BuiltInCommand(name + "false", (n, _) => n.Assign(symbol.Meaning, no, n.TakeGlobal())));
    }

    /// <summary>Sets a switch made by <see cref="NewSwitch"/>; makes it if need be.</summary>
    public void SetSwitch(string name, bool on, bool global = false) =>
        Assign(Symbol("if" + name).Meaning, MakeIf(on ? "iftrue" : "iffalse", on ? static _ => true : static _ => false), global);

    /// <summary>Whether a switch made by <see cref="NewSwitch"/> is on.</summary>
    public bool IsSwitchOn(string name) => Symbol("if" + name).Meaning.Value is ConditionalCommand switched && switched.Test(this);

    // \@for\item:=list\do{…}: the list's macro is expanded, its members parted at commas; \@tfor goes token by token.
    private void ForEach(Token command, bool byCommas)
    {
        Token variable = ReadCommandToken(command);
        List<Token>? list = ReadDelimited(command, [Token.Command(Symbol("do"), PositionTable.None)], true);
        List<Token> body = ReadArgument(command);
        if (variable.Symbol is not { } symbol || list is null)
        {
            return;
        }

        int start = 0;
        while (start < list.Count && (list[start].Is(Category.Space) || list[start].IsCharacter(':') || list[start].IsCharacter('=')))
        {
            start++;
        }

        List<Token> rest = list.GetRange(start, list.Count - start);
        if (rest.Count > 0 && rest[0].Symbol?.Meaning.Value is MacroMeaning { Arity: 0 } macro)
        {
            rest = [.. macro.Body, .. rest.Skip(1)];
        }

        List<List<Token>> members = byCommas ? SplitAtCommas(rest) : [.. rest.Where(t => !t.Is(Category.Space)).Select(t => new List<Token> { t })];
        var tokens = new List<Token>();
        foreach (List<Token> member in members)
        {
            tokens.Add(Token.Command(Symbol("def"), command.Position));
            tokens.Add(Token.Command(symbol, command.Position));
            tokens.Add(Token.Character('{', Category.BeginGroup, command.Position));
            tokens.AddRange(member);
            tokens.Add(Token.Character('}', Category.EndGroup, command.Position));
            tokens.AddRange(body);
        }

        Push(tokens);
    }

    /// <summary>Parts tokens at their commas outside braces; blanks around members and braces around whole ones go.</summary>
    public static List<List<Token>> SplitAtCommas(IReadOnlyList<Token> tokens) => SplitAt(tokens, ',');

    /// <summary>Parts tokens at a character outside braces; blanks around members and braces around whole ones go.</summary>
    public static List<List<Token>> SplitAt(IReadOnlyList<Token> tokens, char separator)
    {
        var result = new List<List<Token>>();
        var member = new List<Token>();
        int depth = 0;
        foreach (Token token in tokens)
        {
            depth += token.Is(Category.BeginGroup) ? 1 : token.Is(Category.EndGroup) ? -1 : 0;
            if (depth == 0 && token.IsCharacter(separator))
            {
                Finish();
                continue;
            }

            member.Add(token);
        }

        Finish();
        return result;

        void Finish()
        {
            List<Token> trimmed = TrimSpaces(member);
            if (trimmed.Count > 0)
            {
                result.Add(Unbrace(trimmed));
            }

            member = [];
        }
    }

    /// <summary>The tokens without spaces at both ends.</summary>
    public static List<Token> TrimSpaces(IReadOnlyList<Token> tokens)
    {
        int first = 0;
        int last = tokens.Count;
        while (first < last && tokens[first].Is(Category.Space))
        {
            first++;
        }

        while (last > first && tokens[last - 1].Is(Category.Space))
        {
            last--;
        }

        return [.. tokens.Skip(first).Take(last - first)];
    }

    // Case changes reach what macros print, but not keys, names of environments and formulas.
    private void PushCasedText(Token command, bool upper)
    {
        List<Token> tokens = ExpandFully(ReadArgument(command));
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
                    tokens[i] = Token.Command(Symbol(other), t.Position);
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

        Push(tokens);
    }

    private static string? CasedCommand(string name, bool upper) => (name, upper) switch
    {
        ("ae" or "oe" or "aa" or "o" or "l" or "dh" or "th", true) => name.ToUpperInvariant(),
        ("AE" or "OE" or "AA" or "O" or "L" or "DH" or "TH", false) => name.ToLowerInvariant(),
        _ => null,
    };

    private void RemoveReset(string name, string within)
    {
        if (_resetWith.TryGetValue(within, out List<string>? list))
        {
            list.Remove(name);
        }
    }

    /// <summary>
    /// Carries out definitions written as markup: what the kernel, a class or a package defines in the language itself. Only
    /// definitions and assignments may stand in it; @ counts as a letter.
    /// </summary>
    public void LoadDefinitions(string markup)
    {
        Category at = CategoryOf('@');
        _categories['@'].Value = Category.Letter;
        int depth = _depth;
        PushFrame(new InputFrame { Tokens = [Token.Stop(1)] });
        PushFrame(new InputFrame { Lexer = new Lexer(this, ManuscriptFile.FromText("", markup), PositionTable.None) });
        for (Token token = NextExpanded(); !token.Is(Category.Stop); token = NextExpanded())
        {
            switch (token.Symbol?.Meaning.Value)
            {
                case BuiltInCommand command:
                    command.Execute(this, token);
                    break;
                case { } meaning and not CharacterMeaning:
                    AssignRegister(meaning, token);
                    break;
            }
        }

        _depth = depth;
        _categories['@'].Value = at;
    }

    /// <summary>Told of each counter that is set or stepped, with its new value.</summary>
    public Action<string, int>? CounterChanged { get; set; }

    /// <summary>Counters whose value is known only when pages are made (<c>page</c>); the command shows them then.</summary>
    public Func<string, string, Token, bool>? ShowLater { get; set; }

    /// <summary>Makes a counter, with <c>\the…</c> in arabic figures.</summary>
    public void NewCounter(string name, string? within = null)
    {
        NamedCount("c@" + name);
        DefineNumber(name, $"\\arabic{{{name}}}");
        DefineMacro("p@" + name, "");
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
            CounterChanged?.Invoke(name, counter.Value);
            ResetDependents(name, 0);
        }
    }

    /// <summary>The counter of this name; null, with a finding, when there is none.</summary>
    public Scoped<int>? FindCounter(string name, Token command)
    {
        Scoped<int>? counter = Counter(name);
        if (counter is null && _missingCounters.Add((name, command.Position)))
        {
            string? near = NearestName.Find(name, _symbols.Keys.Where(k => k.StartsWith("c@", StringComparison.Ordinal)).Select(k => k[2..]));
            Findings.Fix("unknown-counter", command.Position, command.Length, $"There is no counter “{name}”.",
                near is null ? "Make it with \\newcounter first." : $"Did you mean “{near}”?");
        }

        return counter;
    }

    private readonly HashSet<(string Name, int Position)> _missingCounters = [];

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
        string name = m.ReadText(t);
        if (m.ShowLater?.Invoke(command, name, t) == true || m.FindCounter(name, t) is not { } counter)
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

    private void ChangeCounter(Token command, Func<int, int, int> change)
    {
        string name = ReadText(command);
        List<Token> value = ReadArgument(command);
        if (FindCounter(name, command) is { } counter && ParseInteger(value, command) is { } number)
        {
            Assign(counter, change(counter.Value, number), true);
            CounterChanged?.Invoke(name, counter.Value);
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

        SetLength(name, glue, add);
    }

    /// <summary>Sets a length that a command names, or adds to it; a finding when it names none.</summary>
    public void SetLength(Token name, Glue glue, bool add = false)
    {
        switch (name.Symbol?.Meaning.Value)
        {
            case RegisterMeaning<Glue> register:
                Assign(register.Register, add ? Add(Quantity.Of(register.Register.Value), Quantity.Of(glue), 1).Glue : glue);
                break;
            case RegisterMeaning<Dimension> register:
                Assign(register.Register, add ? new(Clamp((long)register.Register.Value.Scaled + glue.Width.Scaled)) : glue.Width);
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
        Robust,
    }

    private void ReadNewCommand(Token command, NewKind kind, bool isProtected = false)
    {
        bool isLong = !TakeStar();
        Token name = ReadCommandToken(command);
        (int arity, Token[]? standard) = ReadArity(command);
        List<Token> body = ReadArgument(command);
        if (name.Symbol is not { } symbol)
        {
            return;
        }

        bool defined = symbol.Meaning.Value is not null && !IsRelax(symbol);
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

        Assign(symbol.Meaning, MakeMacro(body, arity, standard, isLong, name.Position, isProtected || kind == NewKind.Robust));
    }

    private bool IsRelax(Symbol symbol) => ReferenceEquals(symbol.Meaning.Value, Symbol("relax").Meaning.Value);

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
        bool defined = IsDefined(name) && IsDefined("end" + name);
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

        Assign(Symbol(name).Meaning, MakeMacro(begin, arity, standard, true, command.Position));
        Assign(Symbol("end" + name).Meaning, MakeMacro(end, 0, null, true, command.Position));
    }
}
