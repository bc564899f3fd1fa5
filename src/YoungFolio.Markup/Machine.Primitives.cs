using System.Globalization;

namespace YoungFolio.Markup;

// The language's own commands: definitions, assignments, expansion control.
public sealed partial class Machine
{
    // Glue for formulas has registers of its own beside \skip's.
    private const int MuSkipOffset = 1 << 20;
    private readonly Dictionary<int, Scoped<int>> _lowerCodes = [];
    private readonly Dictionary<int, Scoped<int>> _upperCodes = [];
    private int _nextRegister = 256;
    private bool _global;
    private bool _long;
    private bool _protected;

    private void DefinePrimitives()
    {
        Define("relax", static (_, _) => { });
        Define("par", static (_, _) => { });
        Define("begingroup", static (m, t) => m.BeginGroup(GroupKind.Command, "", t.Position));
        Define("endgroup", static (m, t) =>
        {
            if (m._groups.Count > 0 && m._groups[^1].Kind == GroupKind.Command)
            {
                m.EndGroup();
            }
        });
        DefineMeaning("bgroup", new CharacterMeaning('{', Category.BeginGroup));
        DefineMeaning("egroup", new CharacterMeaning('}', Category.EndGroup));

        DefinePrefix("global", m => m._global = true);
        DefinePrefix("long", m => m._long = true);
        DefinePrefix("outer", static _ => { });
        DefinePrefix("protected", m => m._protected = true);
        Define("def", static (m, t) => m.ReadDefinition(t, false, false));
        Define("gdef", static (m, t) => m.ReadDefinition(t, true, false));
        Define("edef", static (m, t) => m.ReadDefinition(t, false, true));
        Define("xdef", static (m, t) => m.ReadDefinition(t, true, true));
        Define("let", static (m, t) => m.ReadLet(t));
        Define("glet", static (m, t) =>
        {
            m._global = true;
            m.ReadLet(t);
        });
        Define("futurelet", static (m, t) =>
        {
            Token name = m.Next();
            Token first = m.Next();
            Token second = m.Next();
            m.PutBack(second);
            m.PutBack(first);
            if (name.Symbol is { } symbol)
            {
                m.Assign(symbol.Meaning, MeaningOf(second), m.TakeGlobal());
            }
        });

        DefineExpandable("expandafter", static (m, _) =>
        {
            Token held = m.Next();
            Token next = m.Next();
            if (next.Symbol?.Meaning.Value is { IsExpandable: true } meaning)
            {
                m.Expand(next, meaning);
            }
            else
            {
                m.PutBack(next);
            }

            m.PutBack(held);
        });
        // Where expanded tokens are carried out, \noexpand makes the next one mean nothing for once (The TeXbook, p. 214).
        DefineExpandable("noexpand", static (m, t) => m.PutBack(m.Next().Frozen()));
        DefineExpandable("csname", static (m, t) => m.PutBack(Token.Command(m.ReadCommandName(t), t.Position)));
        Define("endcsname", static (m, t) => m.Findings.Fix("wrong-use", t.Position, t.Length,
            "\\endcsname has no \\csname before it.", "Delete it, or put \\csname where the name begins."));
        DefineExpandable("string", static (m, t) =>
        {
            Token token = m.Next();
            m.PushText(token.ToString(), t.Position);
        });
        DefineExpandable("detokenize", static (m, t) => m.PushText(m.ReadArgument(t).ToShownSource(), t.Position));
        DefineExpandable("expanded", static (m, t) => m.Push(m.ExpandFully(m.ReadArgument(t))));
        DefineExpandable("scantokens", static (m, t) => m.PushMarkup(m.ReadArgument(t).ToSource(), t.Position));
        DefineExpandable("unexpanded", static (m, t) => m.Push(m.ReadArgument(t)));
        DefineExpandable("meaning", static (m, t) => m.PushText(Describe(m.Next()), t.Position));
        DefineExpandable("number", static (m, t) => m.PushText(m.ScanInteger().ToString(CultureInfo.InvariantCulture), t.Position));
        DefineExpandable("romannumeral", static (m, t) => m.PushText(Numerals.Roman(m.ScanInteger()), t.Position));
        DefineExpandable("the", static (m, t) => m.ExpandThe(t));
        DefineExpandable("jobname", static (m, t) => m.PushText("manuscript", t.Position));

        DefineFamily("count", static (m, n) => new RegisterMeaning<int>(m.Count(n)));
        DefineFamily("dimen", static (m, n) => new RegisterMeaning<Dimension>(Register(m._dimensions, n, default)));
        DefineFamily("skip", static (m, n) => new RegisterMeaning<Glue>(Register(m._skips, n, default)));
        DefineFamily("muskip", static (m, n) => new RegisterMeaning<Glue>(Register(m._skips, n + MuSkipOffset, default)));
        DefineFamily("toks", static (m, n) => new RegisterMeaning<Token[]>(Register(m._tokenLists, n, [])));
        DefineFamily("lccode", static (m, n) => new RegisterMeaning<int>(Register(m._lowerCodes, n, CaseOf(n, false))));
        DefineFamily("uccode", static (m, n) => new RegisterMeaning<int>(Register(m._upperCodes, n, CaseOf(n, true))));
        foreach (string inert in (string[])["sfcode", "mathcode", "delcode"])
        {
            // Spacing and mathematics take their classes from Unicode; the codes can be set and read back.
            var codes = new Dictionary<int, Scoped<int>>();
            DefineFamily(inert, (m, n) => new RegisterMeaning<int>(Register(codes, n, 1000)));
        }

        DefineMeaning("catcode", new QuantityCommand("catcode", static m => Quantity.Of((int)m.CategoryOf(m.ScanInteger())), static (m, t) =>
        {
            bool global = m.TakeGlobal();
            int code = m.ScanInteger();
            m.TakeEquals();
            int category = m.ScanInteger();
            if (category is >= 0 and <= 15 && code is >= 0 and <= 0x10FFFF)
            {
                m.SetCategory(code, (Category)category, global);
            }
        }));
        DefineMeaning("active", new ConstantMeaning((int)Category.Active));
        DefineMeaning("inputlineno", new QuantityCommand("inputlineno", static m =>
            Quantity.Of(m.Positions.Locate(m.LastSourcePosition)?.Line ?? 0)));

        Define("chardef", static (m, t) => m.DefineFromNumber(n => new ConstantMeaning(n)));
        Define("mathchardef", static (m, t) => m.DefineFromNumber(n => new ConstantMeaning(n)));
        Define("countdef", static (m, t) => m.DefineFromNumber(n => new RegisterMeaning<int>(m.Count(n))));
        Define("dimendef", static (m, t) => m.DefineFromNumber(n => new RegisterMeaning<Dimension>(Register(m._dimensions, n, default))));
        Define("skipdef", static (m, t) => m.DefineFromNumber(n => new RegisterMeaning<Glue>(Register(m._skips, n, default))));
        Define("toksdef", static (m, t) => m.DefineFromNumber(n => new RegisterMeaning<Token[]>(Register(m._tokenLists, n, []))));
        DefineAllocator("newcount", static (m, n) => new RegisterMeaning<int>(m.Count(n)));
        DefineAllocator("newdimen", static (m, n) => new RegisterMeaning<Dimension>(Register(m._dimensions, n, default)));
        DefineAllocator("newskip", static (m, n) => new RegisterMeaning<Glue>(Register(m._skips, n, default)));
        DefineAllocator("newmuskip", static (m, n) => new RegisterMeaning<Glue>(Register(m._skips, n, default)));
        DefineAllocator("newlength", static (m, n) => new RegisterMeaning<Glue>(Register(m._skips, n, default)));
        DefineAllocator("newtoks", static (m, n) => new RegisterMeaning<Token[]>(Register(m._tokenLists, n, [])));
        DefineAllocator("newbox", static (m, n) => new ConstantMeaning(n));
        DefineAllocator("newwrite", static (m, n) => new ConstantMeaning(n));
        DefineAllocator("newread", static (m, n) => new ConstantMeaning(n));
        DefineAllocator("newlanguage", static (m, n) => new ConstantMeaning(n));
        Define("advance", static (m, t) => m.Arithmetic(t, (a, b) => (long)a + b, false));
        Define("multiply", static (m, t) => m.Arithmetic(t, (a, b) => (long)a * b, true));
        Define("divide", static (m, t) => m.Arithmetic(t, (a, b) => b == 0 ? a : a / b, true));
        DefineExpressions();

        Define("aftergroup", static (m, t) =>
        {
            Token token = m.Next();
            if (m._groups.Count > 0)
            {
                (m._groups[^1].After ??= []).Add(token);
            }
        });
        Define("afterassignment", static (m, t) => m._afterAssignment = m.Next());
        Define("ignorespaces", static (m, t) => m.SkipSpaces());
        Define("ignorespacesafterend", static (m, t) => m.SkipSpaces());
        Define("uppercase", static (m, t) => m.PushCase(t, true));
        Define("lowercase", static (m, t) => m.PushCase(t, false));
        Define("endinput", static (m, t) =>
        {
            if (m.InnermostLexer is { } lexer)
            {
                lexer.Ended = true;
            }
        });
    }

    /// <summary>Whether <c>\global</c> stood before the command being carried out; reading it clears it.</summary>
    public bool TakeGlobal()
    {
        bool global = _global;
        _global = _long = _protected = false;
        return global;
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

        Push(tokens);
    }

    /// <summary>Carries out an assignment that begins with a register's name (<c>\parindent=1em</c>).</summary>
    public void AssignRegister(Meaning meaning, Token token)
    {
        switch (meaning)
        {
            case RegisterMeaning<int> count:
                AssignInteger(count.Register);
                break;
            case RegisterMeaning<Dimension> dimension:
                AssignDimension(dimension.Register);
                break;
            case RegisterMeaning<Glue> glue:
                AssignGlue(glue.Register);
                break;
            case RegisterMeaning<Token[]> tokens:
                AssignTokens(tokens.Register, token);
                break;
            case RegisterFamily family:
                AssignRegister(family.Select(this), token);
                break;
            case QuantityCommand { Assign: { } assign }:
                assign(this, token);
                FinishAssignment();
                break;
            case QuantityCommand:
                Findings.Fix("wrong-use", token.Position, token.Length, $"{token} is a value; it does nothing here.",
                    $"It belongs where a number or a length is read, such as after \\the.");
                break;
        }
    }

    private void DefineFamily(string name, Func<Machine, int, Meaning> register) =>
        DefineMeaning(name, new RegisterFamily(name, m => register(m, m.ScanInteger())));

    private static int CaseOf(int code, bool upper)
    {
        if (code is < 0 or > 0xFFFF || !char.IsLetter((char)code))
        {
            return 0;
        }

        return upper ? char.ToUpperInvariant((char)code) : char.ToLowerInvariant((char)code);
    }

    private void DefinePrefix(string name, Action<Machine> set) => Define(name, (m, t) =>
    {
        set(m);
        Token next = m.NextNonSpaceExpanded();
        while (next.IsCommand("relax"))
        {
            next = m.NextNonSpaceExpanded();
        }

        if (next.Symbol?.Meaning.Value is BuiltInCommand command)
        {
            command.Execute(m, next);
        }
        else if (next.Symbol?.Meaning.Value is { } meaning and not CharacterMeaning)
        {
            m.AssignRegister(meaning, next);
        }
        else
        {
            m.PutBack(next);
        }

        m.TakeGlobal();
    });

    private void DefineAllocator(string name, Func<Machine, int, Meaning> make) => Define(name, (m, t) =>
    {
        Token target = m.ReadCommandToken(t);
        if (target.Symbol is { } symbol)
        {
            m.Assign(symbol.Meaning, make(m, m._nextRegister++), true);
        }
    });

    private void DefineFromNumber(Func<int, Meaning> make)
    {
        Token name = Next();
        while (name.Is(Category.Space))
        {
            name = Next();
        }

        if (name.Symbol is { } symbol)
        {
            // The name is \relax while its number is read, so that the number can't run into it.
            bool global = TakeGlobal();
            Assign(symbol.Meaning, Symbol("relax").Meaning.Value, global);
            TakeEquals();
            Assign(symbol.Meaning, make(ScanInteger()), global);
        }
    }

    /// <summary>Reads the command that is to be defined, with or without braces around it.</summary>
    public Token ReadCommandToken(Token command)
    {
        SkipSpaces();
        Token token = Next();
        if (token.Is(Category.BeginGroup))
        {
            List<Token> inner = ReadBalanced(token, command);
            inner.RemoveAll(t => t.Is(Category.Space));
            token = inner.Count > 0 ? inner[0] : Token.Stop();
        }

        if (token.Symbol is null)
        {
            Findings.Fix("not-a-command", token.Position >= 0 ? token.Position : command.Position, 1,
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
        Token name = Next();
        while (name.Is(Category.Space))
        {
            name = Next();
        }

        if (name.Symbol is not { } symbol)
        {
            PutBack(name);
            Findings.Fix("not-a-command", name.Position >= 0 ? name.Position : command.Position, 1,
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
            token = Next();
            if (token.Is(Category.Stop))
            {
                Findings.Fix("missing-argument", command.Position, command.Length,
                    $"The definition of {symbol} has no body.", "Write it in { } after the name.");
                return;
            }

            if (token.Is(Category.BeginGroup))
            {
                break;
            }

            if (token.Is(Category.Parameter))
            {
                Token digit = Next();
                if (digit.Is(Category.BeginGroup))
                {
                    // #{ ends the parameters with a brace that stays (The TeXbook, p. 204).
                    pattern.Add(digit);
                    braceEnds = true;
                    token = digit;
                    break;
                }

                if (Digit(digit, 10) is { } number && number == arity + 1)
                {
                    arity++;
                    pattern.Add(Token.Character(number, Category.Argument, digit.Position));
                    continue;
                }

                Findings.Fix("wrong-parameter", digit.Position, 1,
                    "Parameters must be numbered #1, #2 … in order.", $"The next one here is #{arity + 1}.");
                continue;
            }

            pattern.Add(token);
        }

        List<Token> body = ReadBalanced(token, name);
        if (expand)
        {
            body = ExpandFully(body);
        }

        body = NumberParameters(body, arity);
        if (braceEnds)
        {
            body.Add(token);
        }

        _budget.Spend(body.Count / TokensOfUnit);
        Assign(symbol.Meaning, new MacroMeaning
        {
            Pattern = [.. pattern],
            Body = [.. body],
            Arity = arity,
            IsLong = isLong,
            IsProtected = isProtected,
            Position = name.Position,
        }, global);
        FinishAssignment();
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
            else if (Digit(next, 10) is { } number && number >= 1 && number <= arity)
            {
                result.Add(Token.Character(number, Category.Argument, next.Position));
            }
            else
            {
                Findings.Fix("wrong-parameter", body[i - 1].Position, 2,
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
        Token name = Next();
        while (name.Is(Category.Space))
        {
            name = Next();
        }

        if (name.Symbol is not { } symbol)
        {
            PutBack(name);
            Findings.Fix("not-a-command", command.Position, command.Length,
                "\\let must be followed by the command that it sets.", "Write \\let\\new=\\old.");
            return;
        }

        Token token = Next();
        while (token.Is(Category.Space))
        {
            token = Next();
        }

        if (token.IsCharacter('='))
        {
            token = Next();
            if (token.Is(Category.Space))
            {
                token = Next();
            }
        }

        Assign(symbol.Meaning, MeaningOf(token), global);
        FinishAssignment();
    }

    private Symbol ReadCommandName(Token command)
    {
        var name = new System.Text.StringBuilder();
        while (true)
        {
            Token token = NextExpanded();
            if (token.IsCommand("endcsname"))
            {
                break;
            }

            if (token.Symbol is { } || token.Is(Category.Stop))
            {
                PutBack(token);
                Findings.Fix("wrong-use", command.Position, command.Length,
                    "\\csname isn't closed by \\endcsname.", "Only characters may stand between the two.");
                break;
            }

            name.Append(token.ToString());
        }

        Symbol symbol = Symbol(name.ToString());
        if (symbol.Meaning.Value is null)
        {
            Assign(symbol.Meaning, Symbol("relax").Meaning.Value);
        }

        return symbol;
    }

    private void ExpandThe(Token command)
    {
        Token token = NextNonSpaceExpanded();
        Meaning? meaning = token.Symbol?.Meaning.Value;
        if (meaning is RegisterFamily family)
        {
            meaning = family.Select(this);
        }

        switch (meaning)
        {
            case RegisterMeaning<Token[]> tokens:
                Push(tokens.Register.Value);
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
                Quantity value = quantity.Read(this);
                PushText(value.IsNumber ? value.Number.ToString(CultureInfo.InvariantCulture) : value.Glue.ToString(), command.Position);
                return;
            case BuiltInCommand { Name: "font" or "nullfont" }:
                return;
        }

        PutBack(token);
        Findings.Fix("wrong-use", command.Position, command.Length,
            $"\\the can't show {token}.", "It shows counters, lengths and other registers.");
    }

    private void PushCase(Token command, bool upper)
    {
        List<Token> tokens = ReadArgument(command);
        for (int i = 0; i < tokens.Count; i++)
        {
            Token t = tokens[i];
            bool active = t.Symbol is { IsActiveCharacter: true };
            if (t.Symbol is null ? t.Category <= Category.Other : active)
            {
                int from = active ? char.ConvertToUtf32(t.Symbol!.Name, 0) : t.Code;
                int code = (upper ? _upperCodes : _lowerCodes).TryGetValue(from, out Scoped<int>? set) ? set.Value : CaseOf(from, upper);
                if (code != 0)
                {
                    tokens[i] = active ? Token.Command(ActiveSymbol(code), t.Position) : Token.Character(code, t.Category, t.Position);
                }
            }
        }

        Push(tokens);
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

    /// <summary>Takes an equals sign if one comes next.</summary>
    public void TakeEquals()
    {
        Token token = NextNonSpaceExpanded();
        if (!token.IsCharacter('='))
        {
            PutBack(token);
        }
    }

    private void AssignInteger(Scoped<int> register)
    {
        bool global = TakeGlobal();
        TakeEquals();
        Assign(register, ScanInteger(), global);
        FinishAssignment();
    }

    private void AssignDimension(Scoped<Dimension> register)
    {
        bool global = TakeGlobal();
        TakeEquals();
        Assign(register, ScanDimension(), global);
        FinishAssignment();
    }

    private void AssignGlue(Scoped<Glue> register)
    {
        bool global = TakeGlobal();
        TakeEquals();
        Assign(register, ScanGlue(), global);
        FinishAssignment();
    }

    private void AssignTokens(Scoped<Token[]> register, Token command)
    {
        bool global = TakeGlobal();
        TakeEquals();
        Token token = NextNonSpaceExpanded();
        Meaning? from = token.Symbol?.Meaning.Value is RegisterFamily family ? family.Select(this) : token.Symbol?.Meaning.Value;
        if (from is RegisterMeaning<Token[]> other)
        {
            Assign(register, other.Register.Value, global);
        }
        else
        {
            PutBack(token);
            Assign(register, [.. ReadArgument(command)], global);
        }

        FinishAssignment();
    }

    private void Arithmetic(Token command, Func<int, int, long> combine, bool byNumber)
    {
        bool global = TakeGlobal();
        Token token = NextNonSpaceExpanded();
        Meaning? target = token.Symbol?.Meaning.Value;
        if (target is RegisterFamily family)
        {
            target = family.Select(this);
        }

        _ = TakeKeyword("by");
        switch (target)
        {
            case RegisterMeaning<int> count:
                Assign(count.Register, Clamp(combine(count.Register.Value, ScanInteger())), global);
                break;
            case RegisterMeaning<Dimension> dimension:
                int by = byNumber ? ScanInteger() : ScanDimension().Scaled;
                Assign(dimension.Register, new Dimension(Clamp(combine(dimension.Register.Value.Scaled, by))), global);
                break;
            case RegisterMeaning<Glue> glue:
                Glue old = glue.Register.Value;
                Glue delta = byNumber ? default : ScanGlue();
                int factor = byNumber ? ScanInteger() : 0;
                Assign(glue.Register, old with
                {
                    Width = new(Clamp(combine(old.Width.Scaled, byNumber ? factor : delta.Width.Scaled))),
                    Stretch = new(Clamp(combine(old.Stretch.Scaled, byNumber ? factor : delta.Stretch.Scaled))),
                    Shrink = new(Clamp(combine(old.Shrink.Scaled, byNumber ? factor : delta.Shrink.Scaled))),
                    StretchOrder = Math.Max(old.StretchOrder, delta.StretchOrder),
                    ShrinkOrder = Math.Max(old.ShrinkOrder, delta.ShrinkOrder),
                }, global);
                break;
            default:
                Findings.Fix("wrong-use", command.Position, command.Length,
                    $"{command} can't change {token}.", "It changes counters, lengths and other registers.");
                break;
        }

        FinishAssignment();
    }
}
