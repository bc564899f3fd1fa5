using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>The commands and environments of mathematics.</summary>
internal sealed class MathCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal void DefineMathematics()
    {
        // What text already has a command for (a section sign, a pound) keeps it there.
        foreach ((string name, SymbolMeaning meaning) in Symbols.Further)
        {
            if (!Machine.IsDefined(name))
            {
                Machine.DefineMeaning(name, meaning);
            }
        }

        foreach ((string name, SymbolMeaning meaning) in Symbols.All)
        {
            Machine.DefineMeaning(name, meaning);
        }

        Machine.Define("(", (_, t) => Builder.Formulas.AddFormula(t, FormulaReader.MathEnd.Parenthesis));
        Machine.Define(")", (_, t) => ReportSurplusEnd(FormulaReader.MathEnd.Parenthesis, t, "\\) ends a formula, and none is open.", "Delete it, or put \\( before."));
        Machine.Define("[", (_, t) => Builder.Displays.Display(t, () => Builder.Formulas.ReadMathList(FormulaReader.MathEnd.Bracket, t), false));
        Machine.Define("]", (_, t) => ReportSurplusEnd(FormulaReader.MathEnd.Bracket, t, "\\] ends a display, and none is open.", "Delete it, or put \\[ before."));
        Machine.Define("ensuremath", (m, t) =>
        {
            List<Token> formula = m.ReadArgument(t);
            m.Push(Builder.Formulas.Math is null ? [.. BoxCommands.AsFormula(formula, t)] : [.. TokenLists.Braced(formula, t.Position)]);
        });
        DefineMath("frac", (m, t) => AddAtom(AtomClass.Inner, Fraction(t), t));
        DefineMath("sqrt", (m, t) =>
        {
            MathList? degree = m.ReadOptional(t) is { } index ? MathOf(index, t) : null;
            (double left, double up) = Builder.MathStructures.TakeDegreeShift();
            AddAtom(AtomClass.Ordinary, new RadicalNucleus(Builder.Formulas.ReadMathArgument(t), degree) { DegreeLeft = left, DegreeUp = up }, t);
        });
        DefineMath("left", (_, t) => Delimited(t));
        DefineMath("right", (_, t) =>
        {
            ReadDelimiter(t);
            Findings.Fix("missing-left", t.Position, t.Length, "\\right here has no \\left.", "Put \\left with its delimiter, or \\left. for none.");
        });
        foreach ((string name, double height) in (ReadOnlySpan<(string, double)>)[("big", 1.2), ("Big", 1.8), ("bigg", 2.4), ("Bigg", 3)])
        {
            foreach ((string suffix, AtomClass atomClass) in (ReadOnlySpan<(string, AtomClass)>)[
                ("", AtomClass.Ordinary), ("l", AtomClass.Opening), ("r", AtomClass.Closing), ("m", AtomClass.Relation)])
            {
                DefineMath(name + suffix, (_, t) => AddAtom(atomClass, new SymbolNucleus(ReadDelimiter(t)) { Height = height }, t));
            }
        }

        foreach ((string name, bool below) in Symbols.Words)
        {
            string shown = name switch { "liminf" => "lim inf", "limsup" => "lim sup", _ => name };
            DefineMath(name, (_, t) => AddAtom(AtomClass.Operator, new WordNucleus(shown), t, below ? Limits.Automatic : Limits.Never));
        }

        foreach ((string name, string accent, bool grows) in Symbols.Accents)
        {
            DefineMath(name, (_, t) => AddAtom(AtomClass.Ordinary, new AccentNucleus(Builder.Formulas.ReadMathArgument(t), accent, grows), t));
        }

        DefineMath("overline", (_, t) => AddAtom(AtomClass.Ordinary, new BarNucleus(Builder.Formulas.ReadMathArgument(t), true), t));
        BuiltInCommand underline = (BuiltInCommand)Machine.Symbol("underline").Meaning.Value!;
        Machine.Define("underline", (m, t) =>
        {
            if (Builder.Formulas.Math is null)
            {
                underline.Execute(m, t);
            }
            else
            {
                AddAtom(AtomClass.Ordinary, new BarNucleus(Builder.Formulas.ReadMathArgument(t), false), t);
            }
        });
        DefineMath("limits", (_, t) => Builder.Formulas.LastAtom(t).Limits = Limits.Always);
        DefineMath("nolimits", (_, t) => Builder.Formulas.LastAtom(t).Limits = Limits.Never);
        DefineMath("displaystyle", (_, _) => Builder.Formulas.Math!.Nodes.Add(new SizeChange(MathSize.Display)));
        DefineMath("textstyle", (_, _) => Builder.Formulas.Math!.Nodes.Add(new SizeChange(MathSize.Text)));
        DefineMath("scriptstyle", (_, _) => Builder.Formulas.Math!.Nodes.Add(new SizeChange(MathSize.Script)));
        DefineMath("scriptscriptstyle", (_, _) => Builder.Formulas.Math!.Nodes.Add(new SizeChange(MathSize.ScriptScript)));
        foreach ((string name, MathAlphabet alphabet) in (ReadOnlySpan<(string, MathAlphabet)>)[
            ("mathrm", MathAlphabet.Upright), ("mathit", MathAlphabet.Italic), ("mathbf", MathAlphabet.Bold), ("boldsymbol", MathAlphabet.BoldItalic),
            ("mathbb", MathAlphabet.Blackboard), ("mathcal", MathAlphabet.Script), ("mathscr", MathAlphabet.Script),
            ("mathfrak", MathAlphabet.Fraktur), ("mathsf", MathAlphabet.Sans), ("mathtt", MathAlphabet.Mono), ("math@uprightgreek", MathAlphabet.UprightGreek)])
        {
            DefineMath(name, (m, t) =>
            {
                Machine.BeginGroup(GroupKind.Command, "", t.Position);
                m.Assign(Builder.Formulas.Alphabet, alphabet);
                MathList list = Builder.Formulas.ReadMathArgument(t);
                Machine.EndGroup();
                AddAtom(AtomClass.Ordinary, new ListNucleus(list), t);
            });
        }

        foreach ((string name, AtomClass atomClass) in (ReadOnlySpan<(string, AtomClass)>)[
            ("mathord", AtomClass.Ordinary), ("mathop", AtomClass.Operator), ("mathbin", AtomClass.Binary), ("mathrel", AtomClass.Relation),
            ("mathopen", AtomClass.Opening), ("mathclose", AtomClass.Closing), ("mathpunct", AtomClass.Punctuation), ("mathinner", AtomClass.Inner)])
        {
            DefineMath(name, (_, t) => AddAtom(atomClass, new ListNucleus(Builder.Formulas.ReadMathArgument(t)), t));
        }

        DefineMath("cdots", (_, t) => Builder.Formulas.AddSymbol("⋯", AtomClass.Inner, t.Position, false));
        DefineMath("vdots", (_, t) => Builder.Formulas.AddSymbol("⋮", AtomClass.Ordinary, t.Position, false));
        DefineMath("ddots", (_, t) => Builder.Formulas.AddSymbol("⋱", AtomClass.Inner, t.Position, false));
        DefineMath("|", (_, t) => Builder.Formulas.AddSymbol("‖", AtomClass.Ordinary, t.Position, false));
        Builder.MathCodes.DefineMathCodes();
        Builder.MathStructures.DefineMathStructures();
        Builder.MathStructures.DefineMathWords();
        Builder.MathGrids.DefineMathGrids();
        Builder.Displays.DefineDisplays();
    }

    // The end of a formula that an empty line ended before is no second slip.
    private void ReportSurplusEnd(FormulaReader.MathEnd end, Token token, string message, string advice)
    {
        if (Builder.Formulas.EndedEarly == end)
        {
            Builder.Formulas.EndedEarly = null;
            return;
        }

        Findings.Fix("surplus-end", token.Position, 2, message, advice);
    }

    /// <summary>Gives the commands of the package amsmath.</summary>
    internal void DefineAmsmath()
    {
        Machine.Define("text", (m, t) => Builder.Text.Styled(t, Machine.Symbol("normalfont")));
        DefineMath("dfrac", (_, t) => AddAtom(AtomClass.Inner, Fraction(t, MathSize.Display), t));
        DefineMath("tfrac", (_, t) => AddAtom(AtomClass.Inner, Fraction(t, MathSize.Text), t));
        DefineMath("operatorname", (m, t) =>
        {
            bool star = m.TakeStar();
            AddOperator(m.ReadArgument(t), t, star);
        });
        Machine.Define("DeclareMathOperator", (m, t) =>
        {
            bool star = m.TakeStar();
            string? name = m.ReadArgument(t) is [{ Symbol: { } symbol }, ..] ? symbol.Name : null;
            List<Token> text = m.ReadArgument(t);
            if (name is not null)
            {
                DefineMath(name, (_, u) => AddOperator(text, u, star));
            }
        });
        Machine.Definitions.Load("\\def\\eqref#1{\\textup{(\\ref{#1})}}");
        Builder.MathStructures.DefineAmsmathStructures();
        Builder.MathGrids.DefineAmsmathGrids();
        Builder.Displays.DefineAmsmathDisplays();
    }

    internal void DefineMath(string name, Action<Machine, Token> execute) => Machine.DefineMeaning(name, new BuiltInCommand(name, (m, t) =>
    {
        if (Builder.Formulas.Math is null)
        {
            Builder.Formulas.StrayMathematics(t);
        }
        else
        {
            execute(m, t);
        }
    }));

    internal void AddAtom(AtomClass atomClass, Nucleus nucleus, Token token, Limits limits = Limits.Automatic) =>
        Builder.Formulas.Math!.Nodes.Add(new Atom(atomClass, nucleus) { Position = token.Position, Limits = limits });

    // Letters alone are one word; with commands or signs in it, a formula in upright letters.
    private void AddOperator(List<Token> text, Token token, bool star)
    {
        Nucleus nucleus;
        if (text.TrueForAll(t => t.Symbol is null && t.Category is Category.Letter or Category.Space))
        {
            nucleus = new WordNucleus(Machine.ExpandToText(text).Trim());
        }
        else
        {
            Machine.BeginGroup(GroupKind.Command, "", token.Position);
            Machine.Assign(Builder.Formulas.Alphabet, MathAlphabet.Upright);
            nucleus = new ListNucleus(MathOf(text, token));
            Machine.EndGroup();
        }

        AddAtom(AtomClass.Operator, nucleus, token, star ? Limits.Automatic : Limits.Never);
    }

    private FractionNucleus Fraction(Token token, MathSize? size = null)
    {
        MathList top = Builder.Formulas.ReadMathArgument(token);
        return new FractionNucleus(top, Builder.Formulas.ReadMathArgument(token)) { Size = size };
    }

    internal MathList MathOf(List<Token> tokens, Token token)
    {
        MathList list = MathList.Empty;
        Machine.Scan(tokens, () => list = Builder.Formulas.ReadMathList(FormulaReader.MathEnd.Scan, token));
        return list;
    }

    private void Delimited(Token token)
    {
        string left = ReadDelimiter(token);
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        MathList content = Builder.Formulas.ReadMathList(FormulaReader.MathEnd.Right, token);
        string right = "";
        if (!Builder.Formulas.MathAborted)
        {
            Machine.EndGroup();
            right = ReadDelimiter(Machine.NextExpanded());
        }

        AddAtom(AtomClass.Inner, new DelimitedNucleus(left, content, right), token);
    }

    internal string ReadDelimiter(Token command)
    {
        Token token = Machine.NextExpanded();
        while (token.Is(Category.Space))
        {
            token = Machine.NextExpanded();
        }

        string? text = token.Symbol is { } symbol
            ? symbol.Name switch
            {
                "{" => "{",
                "}" => "}",
                "|" => "‖",
                "backslash" => "\\",
                "delimiter" => Builder.MathCodes.ReadDelimiterCode(),
                _ => symbol.Meaning.Value is SymbolMeaning s ? s.Text : null,
            }
            : token.Code switch
            {
                '.' => "",
                '<' => "⟨",
                '>' => "⟩",
                '(' or ')' or '[' or ']' or '|' or '/' => ((char)token.Code).ToString(),
                _ => null,
            };
        if (text is null)
        {
            Machine.PutBack(token);
            Findings.Fix("missing-delimiter", command.Position, command.Length, $"{command} needs a delimiter after it.",
                "Write one of ( ) [ ] \\{ \\} | or a full stop for none.");
        }

        return text ?? "";
    }
}
