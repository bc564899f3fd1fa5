using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>The list of a formula that is being read.</summary>
internal sealed class MathContext
{
    public List<MathNode> Nodes { get; } = [];

    /// <summary>The numerator before <c>\over</c> or its kin, and what makes the fraction; null without one.</summary>
    public (MathList Numerator, Func<MathList, MathList, FractionNucleus> Make, int Position)? Fraction { get; set; }

    /// <summary>Where <c>\color</c> stands in the list, with its colour.</summary>
    public List<(int Index, int Colour)> Colours { get; } = [];

    /// <summary>Whether the next space vanishes in scripts.</summary>
    public bool SkipsNextInScripts { get; set; }

    /// <summary>The list, read to its end.</summary>
    public MathList Finish()
    {
        List<MathNode> nodes = Nodes;
        foreach ((int index, int colour) in Enumerable.Reverse(Colours).Where(c => c.Index < Nodes.Count))
        {
            nodes = [.. nodes.Take(index), new Atom(AtomClass.Ordinary, new ColourNucleus(new MathList([.. nodes.Skip(index)]), colour))];
        }

        var list = new MathList(nodes);
        return Fraction is { } fraction
            ? new MathList([new Atom(AtomClass.Inner, fraction.Make(fraction.Numerator, list)) { Position = fraction.Position }])
            : list;
    }

    /// <summary>Number of environments open where the list begins: an \end of a later one doesn't end it.</summary>
    public int Environments { get; init; }
}

/// <summary>How formulas are read: a list of nodes at a time, to the sign that ends it.</summary>
internal sealed class FormulaReader(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal enum MathEnd
    {
        Brace,
        Dollar,
        DoubleDollar,
        Parenthesis,
        Bracket,
        Right,
        Cell,
        ScanCell,
        Scan,
    }

    internal MathContext? Math { get; set; }
    internal bool MathAborted { get; set; }

    // How the formula would have ended that was left last because its end is missing.
    internal MathEnd? EndedEarly { get; set; }
    internal Scoped<MathAlphabet> Alphabet { get; } = new(MathAlphabet.Normal);
    internal List<Equation> Equations { get; } = [];

    /// <summary>Characters that a preamble gave another class.</summary>
    internal Dictionary<int, AtomClass> DeclaredClasses { get; } = [];

    internal void InlineFormula(Token token)
    {
        if (!Builder.DocumentBegun && !Builder.CanPrint(token.Position))
        {
            return;
        }

        if (Builder.DollarRepair.IsLoneDollar(token))
        {
            return;
        }

        Token next = Machine.Peek();
        if (next.Is(Category.MathShift) && !Builder.Frames.Peek().InlineOnly)
        {
            Machine.Next();
            Builder.Displays.Display(token, () => ReadMathList(MathEnd.DoubleDollar, token), false);
            return;
        }

        AddFormula(token, MathEnd.Dollar);
    }

    internal void AddFormula(Token token, MathEnd end)
    {
        Machine.BeginGroup(GroupKind.Formula, "", token.Position);
        Builder.Plain.BeginFormula(isDisplay: false);
        MathList list = ReadMathList(end, token);
        EndFormulaGroup();
        Builder.AddInline(new MathInline(list, Builder.Style.Value));
        AddLateAnchors();
    }

    // Anchors set inside a formula stand right after it.
    internal void AddLateAnchors()
    {
        foreach (string anchor in Builder.References.AnchorsAfterFormula)
        {
            Builder.Frames.Peek().Blocks.Add(new AnchorBlock(anchor));
        }

        Builder.References.AnchorsAfterFormula.Clear();
    }

    internal void EndFormulaGroup()
    {
        while (Machine.Groups.Count > 0 && Machine.Groups[^1].Kind != GroupKind.Formula)
        {
            Machine.EndGroup();
        }

        if (Machine.Groups.Count > 0)
        {
            Machine.EndGroup();
        }

        MathAborted = false;
    }

    /// <summary>Reads a list to its end; what ends a list around it is left for that one.</summary>
    internal MathList ReadMathList(MathEnd end, Token opener)
    {
        MathContext? outer = Math;
        var context = new MathContext { Environments = OpenEnvironments() };
        Math = context;
        if (++Builder.Recursion > DocumentBuilder.RecursionLimit)
        {
            Builder.Recursion = 0;
            throw new MarkupLimitException("nested-too-deep", "Formulas are nested too deeply here.", opener.Position);
        }

        while (!MathAborted)
        {
            Token token = Machine.NextExpanded();
            if (end is MathEnd.Dollar or MathEnd.Parenthesis && Builder.Tables.ReadsSuffixInFormula(token))
            {
                // The closing sign follows.
                continue;
            }

            if (EndsMath(token, end, opener))
            {
                break;
            }

            CarryMath(token);
        }

        Builder.Recursion--;
        Math = outer;
        return context.Finish();
    }

    private int OpenEnvironments() => Machine.Groups.Count(g => g.Kind == GroupKind.Environment);

    private bool EndsMath(Token token, MathEnd end, Token opener)
    {
        Category category = token.Symbol?.Meaning.Value is CharacterMeaning c ? c.Category : token.Category;
        string? command = (token.Symbol?.Meaning.Value as BuiltInCommand)?.Name;
        if (command == "end" && OpenEnvironments() > Math!.Environments)
        {
            return false;
        }

        switch (end)
        {
            case MathEnd.Brace when category == Category.EndGroup:
            case MathEnd.Dollar when category == Category.MathShift:
            case MathEnd.Parenthesis when command == ")":
            case MathEnd.Bracket when command == "]":
            case MathEnd.Scan when token.Is(Category.Stop):
                return true;
            case MathEnd.DoubleDollar when category == Category.MathShift:
                Token second = Machine.Next();
                if (!second.Is(Category.MathShift))
                {
                    Machine.PutBack(second);
                }

                return true;
            case MathEnd.Right when command == "right":
            case MathEnd.ScanCell when token.Is(Category.Stop) || category == Category.Alignment || command is "\\" or "cr" or "crcr":
            case MathEnd.Cell when category == Category.Alignment || command is "\\" or "tabularnewline" or "cr" or "crcr" or "end":
                Machine.PutBack(token);
                return true;
        }

        if (token.Is(Category.Stop) || command is "par" or "end" || category == Category.MathShift || command is "]" or ")"
            || category == Category.EndGroup || category == Category.Alignment)
        {
            return EndMathWrongly(token, end, opener, category, command);
        }

        return false;
    }

    // Something that can't stand in a formula: say once what is missing, and end all lists.
    private bool EndMathWrongly(Token token, MathEnd end, Token opener, Category category, string? command)
    {
        if (category == Category.EndGroup && end != MathEnd.Right)
        {
            if (Machine.Groups.Any(g => g.Kind == GroupKind.Brace && g.Position < opener.Position) && end is MathEnd.Dollar)
            {
                Unclosed(end, opener);
                Machine.PutBack(token);
                return true;
            }

            Findings.Fix("surplus-brace", token.Position, 1, "This } closes nothing.",
                "Delete it, or put { where its group begins.", new Repair(token.Position, 1, ""));
            return false;
        }

        if (category == Category.Alignment)
        {
            Findings.Fix("stray-ampersand", token.Position, 1, "& parts columns, and this formula has none.",
                "Use an environment such as align, or write \\& for the sign.");
            return false;
        }

        Unclosed(end, opener);
        // A dollar closes the formula that it was meant for.
        if (!(category == Category.MathShift && end is MathEnd.Brace or MathEnd.Right))
        {
            Machine.PutBack(token);
        }

        MathAborted = true;
        return true;
    }

    private void Unclosed(MathEnd end, Token opener)
    {
        (string code, string message, string advice) = end switch
        {
            MathEnd.Brace => ("missing-brace", "The brace { opened here isn't closed.", "Put } where it should end."),
            MathEnd.Right => ("missing-right", "\\left here has no \\right.", "Put \\right with its delimiter, or \\right. for none."),
            MathEnd.Dollar => ("unclosed-formula", "The formula begun here by $ isn't closed.", "Put $ where it should end; an empty line can't stand in a formula."),
            MathEnd.DoubleDollar => ("unclosed-formula", "The display begun here by $$ isn't closed.", "Put $$ where it should end."),
            MathEnd.Parenthesis => ("unclosed-formula", "The formula begun here by \\( isn't closed.", "Put \\) where it should end."),
            MathEnd.Bracket => ("unclosed-formula", "The display begun here by \\[ isn't closed.", "Put \\] where it should end."),
            _ => ("unclosed-formula", "The formula begun here isn't closed before its paragraph ends.", "An empty line can't stand in a display; delete it, or end the environment."),
        };
        Findings.Fix(code, opener.Position, opener.Length, message, advice);
        EndedEarly = end;
        Builder.Environments.ReportedOpenings.Add(opener.Position);
    }

    private void CarryMath(Token token)
    {
        if (token.Symbol is { } symbol)
        {
            switch (symbol.Meaning.Value)
            {
                case SymbolMeaning s:
                    AddSymbol(s.Text, s.Class, token.Position, s.IsLarge);
                    return;
                case CharacterMeaning c:
                    CarryMathCharacter(token, c.Category, c.Code);
                    return;
                case ConstantMeaning { IsMathCharacter: true } sign:
                    Builder.MathCodes.AddCode(sign.Value, token);
                    return;
                case ConstantMeaning constant:
                    CarryMathCharacter(token, Category.Other, constant.Value);
                    return;
                case BuiltInCommand { Name: "begin" } when TakeBoxEnvironment(token) is { } box:
                    Math!.Nodes.Add(new Atom(AtomClass.Ordinary, new TextNucleus(Builder.BuildInlines(box))) { Position = token.Position });
                    return;
                case BuiltInCommand { Name: var name } when s_textInMath.Contains(name):
                    List<Token> argument = name is "ref" or "pageref" or "eqref" or "mbox" or "text" or "fbox"
                        or "textbf" or "textit" or "textrm" or "texttt" or "textsf" or "textsc" or "emph" or "textnormal" or "textup"
                        ? Machine.ReadArgument(token) : [];
                    List<Token> again = [token, Token.Character('{', Category.BeginGroup, PositionTable.None), .. argument,
                        Token.Character('}', Category.EndGroup, PositionTable.None)];
                    List<Inline> text = Builder.BuildInlines(again);
                    // Spaces at the ends, which a paragraph would drop, part the words from the formula.
                    TextRun space = new("\u00A0", [token.Position], Builder.Style.Value);
                    Math!.Nodes.Add(new Atom(AtomClass.Ordinary, new TextNucleus(
                        [.. argument is [{ Category: Category.Space }, ..] ? [space] : (Inline[])[], .. text, .. argument is [_, .., { Category: Category.Space }] ? [space] : (Inline[])[]]))
                    {
                        Position = token.Position,
                    });
                    return;
            }
        }
        else if (token.Category is not Category.Space)
        {
            CarryMathCharacter(token, token.Category, token.Code);
            return;
        }
        else
        {
            return;
        }

        Builder.Dispatcher.Carry(token);
    }

    private static readonly HashSet<string> s_textInMath =
        ["ref", "pageref", "eqref", "mbox", "text", "fbox", "textbf", "textit", "textrm", "texttt", "textsf", "textsc", "emph", "textnormal", "textup"];

    // Environments that make a box, which may stand in a formula.
    private static readonly HashSet<string> s_boxEnvironments = ["tabular", "tabular*", "tabularx", "minipage"];

    // All of such an environment; null, and nothing is taken, when another begins.
    private List<Token>? TakeBoxEnvironment(Token begin)
    {
        List<Token> name = Machine.ReadArgument(begin);
        List<Token> named = [.. TokenLists.Braced(name, begin.Position)];
        if (!s_boxEnvironments.Contains(name.ToSource().Trim()))
        {
            Machine.Push(named);
            return null;
        }

        List<Token> all = [begin, .. named];
        for (int depth = 1; depth > 0;)
        {
            Token token = Machine.Next();
            if (token.Is(Category.Stop))
            {
                break;
            }

            all.Add(token);
            depth += token.IsCommand("begin") ? 1 : token.IsCommand("end") ? -1 : 0;
        }

        return [.. all, .. TokenLists.Braced(Machine.ReadArgument(begin), begin.Position)];
    }

    private void CarryMathCharacter(Token token, Category category, int code)
    {
        switch (category)
        {
            case Category.BeginGroup:
                Machine.BeginGroup(GroupKind.Brace, "", token.Position);
                MathList list = ReadMathList(MathEnd.Brace, token);
                if (!MathAborted)
                {
                    Machine.EndGroup();
                }

                Math!.Nodes.Add(new Atom(AtomClass.Ordinary, new ListNucleus(list)) { Position = token.Position });
                break;
            case Category.Superscript or Category.Subscript:
                AddScript(token, category == Category.Superscript);
                break;
            case Category.Parameter:
                Findings.Fix("stray-hash", token.Position, 1, "# stands for a parameter in a definition, and there is none here.", "For the sign itself write \\#.");
                break;
            case Category.Letter or Category.Other when Builder.MathCodes.AddByCode(code, token):
                break;
            case Category.Letter or Category.Other when code == '\'':
                AddPrime(token);
                break;
            case Category.Letter or Category.Other:
                AtomClass atomClass = DeclaredClasses.TryGetValue(code, out AtomClass declared) ? declared : Symbols.ClassOf(code);
                AddSymbol(char.ConvertFromUtf32(code), atomClass, token.Position, atomClass == AtomClass.Operator);
                break;
        }
    }

    internal void AddSymbol(string text, AtomClass atomClass, int position, bool large)
    {
        int code = FirstCharacter.Of(text);
        MathAlphabet alphabet = (Alphabet.Value, Builder.MathStructures.BoldFormulas.Value) switch
        {
            (MathAlphabet.Normal, true) => MathAlphabet.BoldItalic,
            (MathAlphabet.Upright, true) => MathAlphabet.Bold,
            var (a, _) => a,
        };
        string shown = Alphabets.Map(code, alphabet);
        bool isBold = alphabet == MathAlphabet.BoldItalic && shown == Alphabets.Map(code, MathAlphabet.Normal);
        Math!.Nodes.Add(new Atom(atomClass, new SymbolNucleus(shown) { IsLarge = large, IsBold = isBold })
        {
            Position = position,
            Limits = Symbols.IsIntegral(text) ? Limits.Never : Limits.Automatic,
        });
    }

    internal Atom LastAtom(Token token)
    {
        if (Math!.Nodes.Count > 0 && Math.Nodes[^1] is Atom atom)
        {
            return atom;
        }

        var empty = new Atom(AtomClass.Ordinary, new ListNucleus(MathList.Empty)) { Position = token.Position };
        Math.Nodes.Add(empty);
        return empty;
    }

    private void AddScript(Token token, bool raised)
    {
        Atom atom = LastAtom(token);
        MathList script = ReadMathArgument(token);
        if (raised ? atom.Superscript is not null && !IsPrimes(atom.Superscript) : atom.Subscript is not null)
        {
            Findings.Fix(raised ? "double-superscript" : "double-subscript", token.Position, 1,
                raised ? "Two superscripts stand one after the other." : "Two subscripts stand one after the other.",
                "Say with braces which belongs to which: x^{a^{b}} or {x^a}^b.");
            atom = new Atom(AtomClass.Ordinary, new ListNucleus(MathList.Empty)) { Position = token.Position };
            Math!.Nodes.Add(atom);
        }

        if (raised)
        {
            atom.Superscript = atom.Superscript is { } primes ? new MathList([.. primes.Nodes, .. script.Nodes]) : script;
        }
        else
        {
            atom.Subscript = script;
        }
    }

    private static bool IsPrimes(MathList list) =>
        list.Nodes.All(n => n is Atom { Nucleus: SymbolNucleus { Text: "′" } });

    private void AddPrime(Token token)
    {
        Atom atom = LastAtom(token);
        var prime = new Atom(AtomClass.Ordinary, new SymbolNucleus("′")) { Position = token.Position };
        atom.Superscript = new MathList([.. atom.Superscript?.Nodes ?? [], prime]);
    }

    /// <summary>Reads a formula in braces, or a single symbol or command with its own arguments.</summary>
    internal MathList ReadMathArgument(Token command)
    {
        Token token = Machine.NextExpanded();
        while (token.Is(Category.Space))
        {
            token = Machine.NextExpanded();
        }

        if (token.Is(Category.BeginGroup) || token.Symbol?.Meaning.Value is CharacterMeaning { Category: Category.BeginGroup })
        {
            Machine.BeginGroup(GroupKind.Brace, "", token.Position);
            MathList list = ReadMathList(MathEnd.Brace, token);
            if (!MathAborted)
            {
                Machine.EndGroup();
            }

            return list;
        }

        if (token.Is(Category.Stop) || token.Category is Category.EndGroup or Category.MathShift or Category.Alignment
            || token.Symbol?.Meaning.Value is BuiltInCommand { Name: "par" or "end" or "right" or "\\" or "]" or ")" })
        {
            Machine.PutBack(token);
            Findings.Fix("missing-argument", command.Position, command.Length, $"{command} lacks what belongs to it.",
                "Write it in { } right after.");
            return MathList.Empty;
        }

        MathContext? outer = Math;
        var context = new MathContext();
        Math = context;
        CarryMath(token);
        Math = outer;
        return new MathList(context.Nodes);
    }

    // ---- mathematics outside mathematics ----------------------------------------------------------------

    internal void StrayMathematics(Token token)
    {
        if (!Builder.DocumentBegun && !Builder.CanPrint(token.Position))
        {
            return;
        }

        if (Builder.DollarRepair.FollowsFromLoneDollar(token))
        {
            Recover(token);
            return;
        }

        if (token.Position > _strayFormula.Start && token.Position < _strayFormula.End)
        {
            Recover(token);
            return;
        }

        string? formula = Machine.Positions.Resolve(token.Position) is { } place ? FormulaAt(place.File.Text, place.Offset) : token.ToString();
        _strayFormula = (token.Position, token.Position + (formula?.Length ?? token.Length));
        Findings.Fix("mathematics-outside", token.Position, token.Length, $"{token} belongs in a formula.",
            formula is null ? "Put $ around the formula that it begins." : $"Put $ around the formula: ${formula}$.", formula is null ? null : new Repair(token.Position, formula.Length, $"${formula}$"));
        Recover(token);
    }

    // A command of mathematics with the arguments and scripts that follow it at once, as they stand in the source; of \left up to its
    // \right, and nothing when that is missing.
    private static string? FormulaAt(string text, int start)
    {
        int at = start + 1;
        while (at < text.Length && char.IsAsciiLetter(text[at]))
        {
            at++;
        }

        if (text.AsSpan(start, at - start) is "\\left")
        {
            at = AfterRight(text, at);
            return at < 0 ? null : text[start..AfterScripts(text, at)];
        }

        return text[start..AfterScripts(text, at)];
    }

    // After the delimiter of the \right that belongs to a \left before a place, within its paragraph; −1: there is none.
    private static int AfterRight(string text, int from)
    {
        int paragraph = text.IndexOf("\n\n", from, StringComparison.Ordinal);
        int depth = 1;
        for (int at = text.IndexOf('\\', from); at >= 0 && (paragraph < 0 || at < paragraph); at = at + 1 < text.Length ? text.IndexOf('\\', at + 1) : -1)
        {
            int end = at + 1;
            while (end < text.Length && char.IsAsciiLetter(text[end]))
            {
                end++;
            }

            depth += text.AsSpan(at, end - at) switch { "\\left" => 1, "\\right" => -1, _ => 0 };
            if (depth == 0)
            {
                // The delimiter is a sign, or a command of one sign or of letters.
                int delimiter = end < text.Length && text[end] == ' ' ? end + 1 : end;
                int after = delimiter + 1;
                if (delimiter < text.Length && text[delimiter] == '\\')
                {
                    after = delimiter + 2;
                    while (after < text.Length && char.IsAsciiLetter(text[delimiter + 1]) && char.IsAsciiLetter(text[after]))
                    {
                        after++;
                    }
                }

                return after <= text.Length ? after : -1;
            }
        }

        return -1;
    }

    // After the arguments and scripts that follow at once.
    private static int AfterScripts(string text, int at)
    {
        while (at < text.Length)
        {
            int next = at + (text[at] is '_' or '^' ? 1 : 0);
            int end = next < text.Length && text[next] == '{' ? Closing(text, next) : next > at && next < text.Length && char.IsLetterOrDigit(text[next]) ? next + 1 : -1;
            if (end < 0)
            {
                break;
            }

            at = end;
        }

        return at;

        static int Closing(string text, int open)
        {
            int depth = 0;
            for (int i = open; i < text.Length && text[i] != '\n'; i++)
            {
                depth += text[i] == '{' ? 1 : text[i] == '}' ? -1 : 0;
                if (depth == 0)
                {
                    return i + 1;
                }
            }

            return -1;
        }
    }

    // What the finding before said to put between dollar signs.
    private (int Start, int End) _strayFormula;

    internal void StrayScript(Token token)
    {
        if (!Builder.DocumentBegun && !Builder.CanPrint(token.Position))
        {
            return;
        }

        if ((token.Position > _strayFormula.Start && token.Position < _strayFormula.End) || Builder.DollarRepair.FollowsFromLoneDollar(token))
        {
            Recover(token);
            return;
        }

        Repair? repair = token.Is(Category.Subscript) ? new Repair(token.Position, 1, "\\_") : AroundScript(token);
        if (repair is { Length: > 1 })
        {
            _strayFormula = (repair.Position, repair.Position + repair.Length);
        }

        Findings.Fix("script-outside", token.Position, 1, $"{token} makes a script in a formula, and this is text.",
            token.Is(Category.Subscript)
                ? "For the sign itself write \\_ ; for mathematics put $ around the formula."
                : "Put $ around the formula.",
            repair);
        Recover(token);
    }

    // A superscript with the letter, the number or the group before it and with what follows; nothing when a word stands before it.
    private Repair? AroundScript(Token token)
    {
        const int LongestName = 2;
        if (Machine.Positions.Resolve(token.Position) is not var (file, offset))
        {
            return null;
        }

        string text = file.Text;
        int start = offset;
        while (start > 0 && char.IsAsciiLetterOrDigit(text[start - 1]))
        {
            start--;
        }

        bool isNumber = text.AsSpan(start, offset - start).IndexOfAnyExceptInRange('0', '9') < 0;
        int end = AfterScripts(text, offset);
        return start == offset || end == offset || (!isNumber && offset - start > LongestName) || (start > 0 && text[start - 1] == '\\')
            ? null
            : new Repair(token.Position - (offset - start), end - start, $"${text[start..end]}$");
    }

    // Sets one stray command of mathematics as a formula of its own.
    private void Recover(Token token)
    {
        Machine.BeginGroup(GroupKind.Formula, "", token.Position);
        MathContext? outer = Math;
        var context = new MathContext();
        Math = context;
        CarryMath(token);
        Math = outer;
        EndFormulaGroup();
        Builder.AddInline(new MathInline(new MathList(context.Nodes), Builder.Style.Value));
    }
}
