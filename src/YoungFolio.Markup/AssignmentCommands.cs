namespace YoungFolio.Markup;

/// <summary>Commands that set registers and compute with them.</summary>
public sealed class AssignmentCommands(Machine machine)
{
    private Token? _afterAssignment;

    /// <summary>Carries on with <c>\afterassignment</c>'s token; assignments call it when they are done.</summary>
    public void FinishAssignment()
    {
        if (_afterAssignment is { } token)
        {
            _afterAssignment = null;
            machine.PutBack(token);
        }
    }

    private void ChangeLength(Token command, bool add)
    {
        Token name = ReadLengthName(command);
        List<Token> value = machine.ReadArgument(command);
        if (machine.Quantities.ParseGlue(value, command) is not { } glue || name.Symbol is null)
        {
            return;
        }

        SetLength(name, glue, add);
    }

    /// <summary>Reads the name of a length, which may come of a macro or of <c>\csname</c>.</summary>
    public Token ReadLengthName(Token command)
    {
        List<Token> name = machine.ReadArgument(command);
        List<Token> expanded = [.. machine.Expander.ExpandFully(name).Where(t => !t.Is(Category.Space))];
        if (expanded is [{ Symbol.Meaning.Value: RegisterFamily family } numbered, .. var number])
        {
            // \dimen0 and kin: the register itself goes by a name of its own.
            Meaning? register = null;
            machine.Scan(number, () => register = family.Select(machine));
            Symbol symbol = machine.Symbol("length " + family.Name);
            machine.Assign(symbol.Meaning, register);
            return Token.Command(symbol, numbered.Position);
        }

        Token only = expanded.Count > 0 ? expanded[0] : Token.Stop();
        return only.Symbol is null ? machine.Definitions.Named(only, command) : only.At(name[0].Position);
    }

    /// <summary>Sets a length that a command names, or adds to it; a finding when it names none.</summary>
    public void SetLength(Token name, Glue glue, bool add = false)
    {
        switch (name.Symbol?.Meaning.Value)
        {
            case RegisterMeaning<Glue> register:
                machine.Assign(register.Register, add ? ExpressionScanner.Add(Quantity.Of(register.Register.Value), Quantity.Of(glue), 1).Glue : glue);
                break;
            case RegisterMeaning<Dimension> register:
                machine.Assign(register.Register, add ? new(ExpressionScanner.Clamp((long)register.Register.Value.Scaled + glue.Width.Scaled)) : glue.Width);
                break;
            default:
                machine.Findings.Fix("unknown-length", name.Position, name.Length, $"{name} is not a length.",
                    "Make it with \\newlength first, or check its spelling.");
                break;
        }
    }

    internal void DefineRegisters()
    {
        DefineFamily("count", static (m, n) => new RegisterMeaning<int>(m.Registers.Count(n)));
        DefineFamily("dimen", static (m, n) => new RegisterMeaning<Dimension>(m.Registers.Length(n)));
        DefineFamily("skip", static (m, n) => new RegisterMeaning<Glue>(m.Registers.Skip(n)));
        DefineFamily("muskip", static (m, n) => new RegisterMeaning<Glue>(m.Registers.MuSkip(n)));
        DefineFamily("toks", static (m, n) => new RegisterMeaning<Token[]>(m.Registers.TokenList(n)));
        DefineFamily("lccode", static (m, n) => new RegisterMeaning<int>(m.Registers.LowerCode(n)));
        DefineFamily("uccode", static (m, n) => new RegisterMeaning<int>(m.Registers.UpperCode(n)));
        foreach (string inert in (string[])["sfcode", "delcode"])
        {
            // Spaces and delimiters are what Unicode says; the codes can be set and read back.
            var codes = new Dictionary<int, Scoped<int>>();
            DefineFamily(inert, (m, n) => new RegisterMeaning<int>(RegisterFile.Register(codes, n, 1000)));
        }
        machine.DefineMeaning("catcode", new QuantityCommand("catcode", static m => Quantity.Of((int)m.Categories.Of(m.Quantities.ScanInteger())), static (m, t) =>
        {
            bool global = m.Definitions.TakeGlobal();
            int code = m.Quantities.ScanInteger();
            m.Assignments.TakeEquals();
            int category = m.Quantities.ScanInteger();
            if (category is >= 0 and <= 15 && code is >= 0 and <= 0x10FFFF)
            {
                m.Categories.Set(code, (Category)category, global);
            }
        }));
        DefineFamily("mathcode", static (m, n) => new RegisterMeaning<int>(m.Registers.MathCode(n)));
        machine.DefineMeaning("active", new ConstantMeaning((int)Category.Active));
        machine.Define("mathchardef", (_, t) => DefineFromNumber(n => new ConstantMeaning(n) { IsMathCharacter = true }));
        machine.Define("countdef", (m, t) => DefineFromNumber(n => new RegisterMeaning<int>(m.Registers.Count(n))));
        machine.Define("dimendef", (m, t) => DefineFromNumber(n => new RegisterMeaning<Dimension>(m.Registers.Length(n))));
        machine.Define("skipdef", (m, t) => DefineFromNumber(n => new RegisterMeaning<Glue>(m.Registers.Skip(n))));
        machine.Define("toksdef", (m, t) => DefineFromNumber(n => new RegisterMeaning<Token[]>(m.Registers.TokenList(n))));
        DefineAllocator("newcount", static (m, n) => new RegisterMeaning<int>(m.Registers.Count(n)));
        DefineAllocator("newdimen", static (m, n) => new RegisterMeaning<Dimension>(m.Registers.Length(n)));
        DefineAllocator("newskip", static (m, n) => new RegisterMeaning<Glue>(m.Registers.Skip(n)));
        DefineAllocator("newmuskip", static (m, n) => new RegisterMeaning<Glue>(m.Registers.Skip(n)));
        DefineAllocator("newlength", static (m, n) => new RegisterMeaning<Glue>(m.Registers.Skip(n)));
        DefineAllocator("newtoks", static (m, n) => new RegisterMeaning<Token[]>(m.Registers.TokenList(n)));
        DefineAllocator("newbox", static (m, n) => new ConstantMeaning(n));
        DefineAllocator("newwrite", static (m, n) => new ConstantMeaning(n));
        DefineAllocator("newread", static (m, n) => new ConstantMeaning(n));
        DefineAllocator("newlanguage", static (m, n) => new ConstantMeaning(n));
    }

    internal void DefineAssignments()
    {
        machine.Define("advance", (_, t) => Arithmetic(t, (a, b) => (long)a + b, false));
        machine.Define("multiply", (_, t) => Arithmetic(t, (a, b) => (long)a * b, true));
        machine.Define("divide", (_, t) => Arithmetic(t, (a, b) => b == 0 ? a : a / b, true));
        machine.Define("afterassignment", (m, _) => _afterAssignment = m.Next());
        machine.Define("setlength", (_, t) => ChangeLength(t, false));
        machine.Define("addtolength", (_, t) => ChangeLength(t, true));
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
                AssignRegister(family.Select(machine), token);
                break;
            case QuantityCommand { Assign: { } assign }:
                assign(machine, token);
                FinishAssignment();
                break;
            case QuantityCommand:
                machine.Findings.Fix("wrong-use", token.Position, token.Length, $"{token} is a value; it does nothing here.",
                    $"It belongs where a number or a length is read, such as after \\the.");
                break;
        }
    }

    private void DefineFamily(string name, Func<Machine, int, Meaning> register) =>
        machine.DefineMeaning(name, new RegisterFamily(name, m => register(m, m.Quantities.ScanInteger())));

    private void DefineAllocator(string name, Func<Machine, int, Meaning> make) => machine.Define(name, (m, t) =>
    {
        Token target = m.Definitions.ReadCommandToken(t);
        if (target.Symbol is { } symbol)
        {
            m.Assign(symbol.Meaning, make(m, m.Registers.Allocate()), true);
        }
    });

    /// <summary>Reads a name and a number, and gives the name what the number picks (<c>\countdef</c> and its kin).</summary>
    public void DefineFromNumber(Func<int, Meaning> make)
    {
        Token name = machine.Next();
        while (name.Is(Category.Space))
        {
            name = machine.Next();
        }

        if (name.Symbol is { } symbol)
        {
            // The name is \relax while its number is read, so that the number can't run into it.
            bool global = machine.Definitions.TakeGlobal();
            machine.Assign(symbol.Meaning, machine.Symbol("relax").Meaning.Value, global);
            TakeEquals();
            machine.Assign(symbol.Meaning, make(machine.Quantities.ScanInteger()), global);
        }
    }

    /// <summary>Takes an equals sign if one comes next.</summary>
    public void TakeEquals()
    {
        Token token = machine.Arguments.NextNonSpaceExpanded();
        if (!token.IsCharacter('='))
        {
            machine.PutBack(token);
        }
    }

    private void AssignInteger(Scoped<int> register)
    {
        bool global = machine.Definitions.TakeGlobal();
        TakeEquals();
        machine.Assign(register, machine.Quantities.ScanInteger(), global);
        FinishAssignment();
    }

    private void AssignDimension(Scoped<Dimension> register)
    {
        bool global = machine.Definitions.TakeGlobal();
        TakeEquals();
        machine.Assign(register, machine.Quantities.ScanDimension(), global);
        FinishAssignment();
    }

    private void AssignGlue(Scoped<Glue> register)
    {
        bool global = machine.Definitions.TakeGlobal();
        TakeEquals();
        machine.Assign(register, machine.Quantities.ScanGlue(), global);
        FinishAssignment();
    }

    private void AssignTokens(Scoped<Token[]> register, Token command)
    {
        bool global = machine.Definitions.TakeGlobal();
        TakeEquals();
        Token token = machine.Arguments.NextNonSpaceExpanded();
        Meaning? from = token.Symbol?.Meaning.Value is RegisterFamily family ? family.Select(machine) : token.Symbol?.Meaning.Value;
        if (from is RegisterMeaning<Token[]> other)
        {
            machine.Assign(register, other.Register.Value, global);
        }
        else
        {
            machine.PutBack(token);
            machine.Assign(register, [.. machine.ReadArgument(command)], global);
        }

        FinishAssignment();
    }

    private void Arithmetic(Token command, Func<int, int, long> combine, bool byNumber)
    {
        bool global = machine.Definitions.TakeGlobal();
        Token token = machine.Arguments.NextNonSpaceExpanded();
        Meaning? target = token.Symbol?.Meaning.Value;
        if (target is RegisterFamily family)
        {
            target = family.Select(machine);
        }

        _ = machine.Quantities.TakeKeyword("by");
        switch (target)
        {
            case RegisterMeaning<int> count:
                machine.Assign(count.Register, ExpressionScanner.Clamp(combine(count.Register.Value, machine.Quantities.ScanInteger())), global);
                break;
            case RegisterMeaning<Dimension> dimension:
                int by = byNumber ? machine.Quantities.ScanInteger() : machine.Quantities.ScanDimension().Scaled;
                machine.Assign(dimension.Register, new Dimension(ExpressionScanner.Clamp(combine(dimension.Register.Value.Scaled, by))), global);
                break;
            case RegisterMeaning<Glue> glue:
                Glue old = glue.Register.Value;
                if (!byNumber)
                {
                    machine.Assign(glue.Register, old.Plus(machine.Quantities.ScanGlue()), global);
                    break;
                }

                int factor = machine.Quantities.ScanInteger();
                machine.Assign(glue.Register, old with
                {
                    Width = new(ExpressionScanner.Clamp(combine(old.Width.Scaled, factor))),
                    Stretch = new(ExpressionScanner.Clamp(combine(old.Stretch.Scaled, factor))),
                    Shrink = new(ExpressionScanner.Clamp(combine(old.Shrink.Scaled, factor))),
                }, global);
                break;
            default:
                machine.Findings.Fix("wrong-use", command.Position, command.Length,
                    $"{command} can't change {token}.", "It changes counters, lengths and other registers.");
                break;
        }

        FinishAssignment();
    }
}
