namespace YoungFolio.Markup;

// Conditionals (The TeXbook, chapter 20).
public sealed partial class Machine
{
    private const int ConditionalDepthLimit = 5_000;
    private readonly Stack<OpenConditional> _conditionals = new();

    /// <summary>A conditional whose end hasn't come yet.</summary>
    private sealed class OpenConditional(int position)
    {
        public int Position => position;

        /// <summary>Whether its test is still being read.</summary>
        public bool IsTesting { get; set; } = true;
    }

    /// <summary>Whether a formula is being read; <c>\ifmmode</c> asks.</summary>
    public Func<bool> InMathematics { get; set; } = () => false;

    private void DefineConditionals()
    {
        DefineIf("iftrue", static _ => true);
        DefineIf("iffalse", static _ => false);
        DefineIf("ifmmode", static m => m.InMathematics());
        DefineIf("ifeof", static m =>
        {
            m.ScanInteger();
            return true;
        });
        DefineIf("ifnum", static m =>
        {
            int left = m.ScanInteger();
            int relation = m.ScanRelation();
            return Compare(left, relation, m.ScanInteger());
        });
        DefineIf("ifdim", static m =>
        {
            int left = m.ScanDimension().Scaled;
            int relation = m.ScanRelation();
            return Compare(left, relation, m.ScanDimension().Scaled);
        });
        DefineIf("ifodd", static m => (m.ScanInteger() & 1) != 0);
        DefineIf("ifx", static m =>
        {
            Token left = m.Next();
            Token right = m.Next();
            Meaning? a = MeaningOf(left);
            Meaning? b = MeaningOf(right);
            return a is null ? b is null : a.SameAs(b);
        });
        DefineIf("if", static m => CharacterOf(m.NextExpanded()).Code == CharacterOf(m.NextExpanded()).Code);
        DefineIf("ifcat", static m =>
            CharacterOf(m.NextExpanded()).Category == CharacterOf(m.NextExpanded()).Category);
        DefineIf("ifdefined", static m => m.Next().Symbol?.Meaning.Value is not null);
        DefineIf("ifcsname", static m =>
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
        DefineIf("ifincsname", static _ => false);
        DefineIf("iffontchar", static m =>
        {
            m.Next();
            m.ScanInteger();
            return true;
        });
        DefineExpandable("ifcase", static (m, t) =>
        {
            OpenConditional open = m.EnterConditional(t);
            int chosen = m.ScanInteger();
            open.IsTesting = false;
            for (int skipped = 0; skipped != chosen; skipped++)
            {
                if (m.SkipBranch(t) is not SkipEnd.Or)
                {
                    return;
                }
            }
        });
        DefineExpandable("else", static (m, t) => m.EndBranch(t));
        DefineExpandable("or", static (m, t) => m.EndBranch(t));
        DefineExpandable("fi", static (m, t) =>
        {
            if (m.StopsTest(t))
            {
                return;
            }

            if (!m._conditionals.TryPop(out _))
            {
                m.Findings.Fix("surplus-fi", t.Position, t.Length, "\\fi ends a conditional that was never begun.",
                    "Delete it, or put the \\if that belongs to it.");
            }
        });
        DefineExpandable("unless", static (m, t) =>
        {
            Token test = m.Next();
            if (test.Symbol?.Meaning.Value is ConditionalCommand condition)
            {
                m.Branch(test, condition, true);
            }
        });
    }

    /// <summary>Defines a conditional command.</summary>
    public void DefineIf(string name, Func<Machine, bool> test) => Symbol(name).Meaning.Value = MakeIf(name, test);

    private static ConditionalCommand MakeIf(string name, Func<Machine, bool> test) => new(name, test);

    private enum SkipEnd
    {
        Fi,
        Else,
        Or,
        Stop,
    }

    private sealed class ConditionalCommand(string name, Func<Machine, bool> test) : Meaning
    {
        public string Name => name;

        public Func<Machine, bool> Test => test;

        public override bool IsExpandable => true;
    }

    private static bool Compare(int left, int relation, int right) =>
        relation switch { '<' => left < right, '>' => left > right, _ => left == right };

    private int ScanRelation()
    {
        Token token = NextNonSpaceExpanded();
        if (token.Category == Category.Other && token.Code is '<' or '=' or '>')
        {
            return token.Code;
        }

        PutBack(token);
        Findings.Fix("wrong-use", token.Position >= 0 ? token.Position : CurrentPosition, 1,
            "A comparison sign is missing here.", "Write <, = or > between the two numbers.");
        return '=';
    }

    private static (int Code, Category Category) CharacterOf(Token token) => token.Symbol is { } symbol
        ? symbol.Meaning.Value is CharacterMeaning c ? (c.Code, c.Category) : (-1, Category.Command)
        : (token.Code, token.Category);

    private void Branch(Token token, ConditionalCommand condition, bool negated)
    {
        OpenConditional open = EnterConditional(token);
        bool holds = condition.Test(this) != negated;
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

        PutBack(token);
        PutBack(Token.Command(Symbol("relax"), token.Position));
        return true;
    }

    private OpenConditional EnterConditional(Token token)
    {
        if (_conditionals.Count >= ConditionalDepthLimit)
        {
            throw new MarkupLimitException("nested-too-deep", "Conditionals are nested too deeply here.", CurrentPosition);
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
            Findings.Fix("surplus-fi", token.Position, token.Length, $"{token} belongs to no conditional.",
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

    private SkipEnd SkipBranch(Token opener)
    {
        int depth = 0;
        _holdAtFileEnd++;
        try
        {
            while (true)
            {
                Token token = Next();
                if (token.Is(Category.Stop))
                {
                    int position = _conditionals.Pop().Position;
                    Findings.Fix("missing-fi", position, opener.Length,
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
        finally
        {
            _holdAtFileEnd--;
        }
    }
}
