namespace YoungFolio.Markup;

/// <summary>Conditionals (<em>The TeXbook</em>, chapter 20), and switches made of them.</summary>
public sealed class Conditionals(Machine machine)
{
    // A switch that is on means what \iftrue means: \ifx finds them the same.
    private static readonly ConditionalCommand s_true = new("iftrue", static _ => true);
    private static readonly ConditionalCommand s_false = new("iffalse", static _ => false);

    private const int ConditionalDepthLimit = 5_000;
    private readonly Stack<OpenConditional> _conditionals = new();

    internal void DefineSwitches()
    {
        machine.Define("newif", static (m, t) =>
        {
            Token name = m.Next();
            if (name.Symbol is not { } symbol || !symbol.Name.StartsWith("if", StringComparison.Ordinal))
            {
                m.Findings.Fix("not-a-command", t.Position, t.Length, "\\newif must be followed by a name that begins with \\if.",
                    "For example \\newif\\ifdraft, which gives \\drafttrue and \\draftfalse.");
                return;
            }

            m.Conditionals.NewSwitch(symbol.Name[2..]);
        });
    }

    /// <summary>Makes a switch: <c>\if…</c>, with <c>…true</c> and <c>…false</c> to set it.</summary>
    public void NewSwitch(string name)
    {
        Symbol symbol = machine.Symbol("if" + name);
        machine.Assign(symbol.Meaning, s_false);
        machine.Assign(machine.Symbol(name + "true").Meaning, new BuiltInCommand(name + "true", (n, _) => n.Assign(symbol.Meaning, s_true, n.Definitions.TakeGlobal())));
        machine.Assign(machine.Symbol(name + "false").Meaning, new BuiltInCommand(name + "false", (n, _) => n.Assign(symbol.Meaning, s_false, n.Definitions.TakeGlobal())));
    }

    /// <summary>Sets a switch made by <see cref="NewSwitch"/>; makes it if need be.</summary>
    public void SetSwitch(string name, bool on, bool global = false) =>
        machine.Assign(machine.Symbol("if" + name).Meaning, on ? s_true : s_false, global);

    /// <summary>Whether a switch made by <see cref="NewSwitch"/> is on.</summary>
    public bool IsSwitchOn(string name) => machine.Symbol("if" + name).Meaning.Value is ConditionalCommand switched && switched.Test(machine);

    /// <summary>Whether a formula is being read; <c>\ifmmode</c> asks.</summary>
    public Func<bool> InMathematics { get; set; } = () => false;

    internal void DefineConditionals()
    {
        machine.DefineMeaning("iftrue", s_true);
        machine.DefineMeaning("iffalse", s_false);
        Define("ifmmode", static m => m.Conditionals.InMathematics());
        Define("ifeof", static m =>
        {
            m.Quantities.ScanInteger();
            return true;
        });
        Define("ifnum", static m =>
        {
            int left = m.Quantities.ScanInteger();
            int relation = m.Conditionals.ScanRelation();
            return Compare(left, relation, m.Quantities.ScanInteger());
        });
        Define("ifdim", static m =>
        {
            int left = m.Quantities.ScanDimension().Scaled;
            int relation = m.Conditionals.ScanRelation();
            return Compare(left, relation, m.Quantities.ScanDimension().Scaled);
        });
        Define("ifodd", static m => (m.Quantities.ScanInteger() & 1) != 0);
        Define("ifx", static m =>
        {
            Token left = m.Next();
            Token right = m.Next();
            Meaning? a = ConversionCommands.MeaningOf(left);
            Meaning? b = ConversionCommands.MeaningOf(right);
            return a is null ? b is null : a.SameAs(b);
        });
        Define("if", static m => CharacterOf(m.NextExpanded()).Code == CharacterOf(m.NextExpanded()).Code);
        Define("ifcat", static m =>
            CharacterOf(m.NextExpanded()).Category == CharacterOf(m.NextExpanded()).Category);
        Define("ifdefined", static m => m.Next().Symbol?.Meaning.Value is not null);
        Define("ifcsname", static m =>
        {
            var name = new System.Text.StringBuilder();
            Token token = m.NextExpanded();
            while (!token.IsCommand("endcsname") && !token.Is(Category.Stop))
            {
                name.Append(token.ToString());
                token = m.NextExpanded();
            }

            return m.IsDefined(name.ToString());
        });
        Define("ifincsname", static _ => false);
        Define("iffontchar", static m =>
        {
            m.Next();
            m.Quantities.ScanInteger();
            return true;
        });
        machine.DefineExpandable("ifcase", static (m, t) =>
        {
            OpenConditional open = m.Conditionals.EnterConditional(t);
            int chosen = m.Quantities.ScanInteger();
            open.IsTesting = false;
            for (int skipped = 0; skipped != chosen; skipped++)
            {
                if (m.Conditionals.SkipBranch(t) is not SkipEnd.Or)
                {
                    return;
                }
            }
        });
        machine.DefineExpandable("else", (_, t) => EndBranch(t));
        machine.DefineExpandable("or", (_, t) => EndBranch(t));
        machine.DefineExpandable("fi", static (m, t) =>
        {
            if (m.Conditionals.StopsTest(t))
            {
                return;
            }

            if (!m.Conditionals._conditionals.TryPop(out _))
            {
                m.Findings.Fix("surplus-fi", t.Position, t.Length, "\\fi ends a conditional that was never begun.",
                    "Delete it, or put the \\if that belongs to it.");
            }
        });
        machine.DefineExpandable("unless", static (m, t) =>
        {
            Token test = m.Next();
            if (test.Symbol?.Meaning.Value is ConditionalCommand condition)
            {
                m.Conditionals.Branch(test, condition, true);
            }
        });
    }

    /// <summary>Defines a conditional command.</summary>
    public void Define(string name, Func<Machine, bool> test) => machine.Symbol(name).Meaning.Value = new ConditionalCommand(name, test);

    private static bool Compare(int left, int relation, int right) =>
        relation switch { '<' => left < right, '>' => left > right, _ => left == right };

    private int ScanRelation()
    {
        Token token = machine.Arguments.NextNonSpaceExpanded();
        if (token.Category == Category.Other && token.Code is '<' or '=' or '>')
        {
            return token.Code;
        }

        machine.PutBack(token);
        machine.Findings.Fix("wrong-use", token.Position >= 0 ? token.Position : machine.Input.CurrentPosition, 1,
            "A comparison sign is missing here.", "Write <, = or > between the two numbers.");
        return '=';
    }

    private static (int Code, Category Category) CharacterOf(Token token) => token.Symbol is { } symbol
        ? symbol.Meaning.Value is CharacterMeaning c ? (c.Code, c.Category) : (-1, Category.Command)
        : (token.Code, token.Category);

    internal void Branch(Token token, ConditionalCommand condition, bool negated)
    {
        OpenConditional open = EnterConditional(token);
        bool holds = condition.Test(machine) != negated;
        open.IsTesting = false;
        if (!holds)
        {
            SkipBranch(token);
        }
    }

    // A branch's end inside a test (\ifnum 1=1\fi) ends the number first: a \relax comes before it (The TeXbook, p. 508, from memory).
    private bool StopsTest(Token token)
    {
        if (_conditionals.Count == 0 || !_conditionals.Peek().IsTesting)
        {
            return false;
        }

        machine.PutBack(token);
        machine.PutBack(Token.Command(machine.Symbol("relax"), token.Position));
        return true;
    }

    private OpenConditional EnterConditional(Token token)
    {
        if (_conditionals.Count >= ConditionalDepthLimit)
        {
            throw new MarkupLimitException("nested-too-deep", "Conditionals are nested too deeply here.", machine.Input.CurrentPosition);
        }

        var open = new OpenConditional(token.Position);
        _conditionals.Push(open);
        return open;
    }

    // The branch that was taken ends here: skip to \fi.
    private void EndBranch(Token token)
    {
        if (StopsTest(token))
        {
            return;
        }

        if (_conditionals.Count == 0)
        {
            machine.Findings.Fix("surplus-fi", token.Position, token.Length, $"{token} belongs to no conditional.",
                "Delete it, or put the \\if that belongs to it.");
            return;
        }

        SkipEnd end;
        do
        {
            end = SkipBranch(token);
        }
        while (end is SkipEnd.Else or SkipEnd.Or);
    }

    /// <summary>Forgets conditionals whose test is still being read.</summary>
    internal void DropTests()
    {
        while (_conditionals.Count > 0 && _conditionals.Peek().IsTesting)
        {
            _conditionals.Pop();
        }
    }

    private SkipEnd SkipBranch(Token opener)
    {
        int depth = 0;
        using TokenInput.FileEndHold hold = machine.Input.HoldFileEnd();
        while (true)
        {
            Token token = machine.Next();
            if (token.Is(Category.Stop))
            {
                int position = _conditionals.Pop().Position;
                machine.Findings.Fix("missing-fi", position, opener.Length,
                    $"The conditional begun here by {opener} isn't ended by \\fi.", "Put \\fi where it should end.");
                return SkipEnd.Stop;
            }

            switch (token.Symbol?.Meaning.Value)
            {
                case ConditionalCommand or ExpandableCommand { Name: "ifcase" }:
                    depth++;
                    break;
                case ExpandableCommand { Name: "fi" }:
                    if (depth-- == 0)
                    {
                        _conditionals.Pop();
                        return SkipEnd.Fi;
                    }

                    break;
                case ExpandableCommand { Name: "else" } when depth == 0:
                    return SkipEnd.Else;
                case ExpandableCommand { Name: "or" } when depth == 0:
                    return SkipEnd.Or;
            }
        }
    }

    private enum SkipEnd
    {
        Fi,
        Else,
        Or,
        Stop,
    }

    /// <summary>A conditional whose end hasn't come yet.</summary>
    private sealed class OpenConditional(int position)
    {
        public int Position => position;

        /// <summary>Whether its test is still being read.</summary>
        public bool IsTesting { get; set; } = true;
    }
}
