using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Structures of formulas: what grows above and below, fractions of all kinds, rooms, colours and strokes.</summary>
internal sealed class MathStructures(DocumentBuilder builder) : ReadingFeature(builder)
{
    private static readonly (string Name, string Sign, bool Over)[] s_stretched =
    [
        ("overbrace", "⏞", true), ("underbrace", "⏟", false), ("overrightarrow", "→", true), ("overleftarrow", "←", true),
    ];

    private static readonly (string Name, string Sign, bool Over)[] s_moreStretched =
    [
        ("overleftrightarrow", "↔", true), ("underrightarrow", "→", false), ("underleftarrow", "←", false), ("underleftrightarrow", "↔", false),
        ("overparen", "⏜", true), ("underparen", "⏝", false), ("overbracket", "⎴", true), ("underbracket", "⎵", false),
    ];

    internal void DefineMathStructures()
    {
        DefineStretched(s_stretched);
        foreach ((string name, bool rule, string left, string right) in (ReadOnlySpan<(string, bool, string, string)>)[
            ("over", true, "", ""), ("atop", false, "", ""), ("choose", false, "(", ")"), ("brace", false, "{", "}"), ("brack", false, "[", "]")])
        {
            Builder.MathCommands.DefineMath(name, (_, t) => SplitFraction(t, (top, bottom) => new FractionNucleus(top, bottom) { HasRule = rule, Left = left, Right = right }));
        }

        Builder.MathCommands.DefineMath("above", (m, t) =>
        {
            double thickness = m.Quantities.ScanDimension().Points;
            SplitFraction(t, (top, bottom) => new FractionNucleus(top, bottom) { HasRule = thickness > 0, Thickness = thickness });
        });
        foreach ((string name, bool rule) in (ReadOnlySpan<(string, bool)>)[("overwithdelims", true), ("atopwithdelims", false), ("abovewithdelims", true)])
        {
            Builder.MathCommands.DefineMath(name, (m, t) =>
            {
                string left = Builder.MathCommands.ReadDelimiter(t);
                string right = Builder.MathCommands.ReadDelimiter(t);
                double? thickness = name == "abovewithdelims" ? m.Quantities.ScanDimension().Points : null;
                SplitFraction(t, (top, bottom) => new FractionNucleus(top, bottom) { HasRule = rule && thickness != 0, Thickness = thickness, Left = left, Right = right });
            });
        }

        Builder.MathCommands.DefineMath("stackrel", (_, t) =>
        {
            MathList above = Builder.Formulas.ReadMathArgument(t);
            AddStack(AtomClass.Relation, Builder.Formulas.ReadMathArgument(t), above, null, t);
        });
        Builder.MathCommands.DefineMath("middle", (_, t) => Builder.MathCommands.AddAtom(AtomClass.Ordinary, new MiddleNucleus(Builder.MathCommands.ReadDelimiter(t)), t));
        Builder.MathCommands.DefineMath("not", (_, t) => Negate(t));
        Builder.MathCommands.DefineMath("mathchoice", (_, t) => Builder.MathCommands.AddAtom(AtomClass.Ordinary,
            new ChoiceNucleus([Builder.Formulas.ReadMathArgument(t), Builder.Formulas.ReadMathArgument(t), Builder.Formulas.ReadMathArgument(t), Builder.Formulas.ReadMathArgument(t)]), t));
        Builder.MathCommands.DefineMath("nonscript", (_, _) => Builder.Formulas.Math!.SkipsNextInScripts = true);
        Builder.MathCommands.DefineMath("root", (m, t) =>
        {
            // \root n \of {x}
            var degree = new List<Token>();
            for (Token u = m.Next(); !u.Is(Category.Stop) && !u.IsCommand("of"); u = m.Next())
            {
                degree.Add(u);
            }

            Builder.MathCommands.AddAtom(AtomClass.Ordinary, new RadicalNucleus(Builder.Formulas.ReadMathArgument(t), Builder.MathCommands.MathOf(degree, t)), t);
        });
        foreach (string name in (string[])["mkern", "mskip"])
        {
            Builder.MathCommands.DefineMath(name, (m, _) => AddMathGlue(ScanMu(m), false));
        }

        Builder.MathCommands.DefineMath("mspace", (m, t) =>
        {
            List<Token> width = m.ReadArgument(t);
            m.Scan(width, () => AddMathGlue(ScanMu(m), false));
        });
        DefinePhantoms();
    }

    // By how much the degree of the root that is being read is moved, in mu.
    private (double Left, double Up) _degreeShift;

    /// <summary>By how much a root's degree is moved (<c>\\leftroot</c>, <c>\\uproot</c>), in mu; nothing from there on.</summary>
    internal (double Left, double Up) TakeDegreeShift()
    {
        (double, double) shift = _degreeShift;
        _degreeShift = default;
        return shift;
    }

    internal void DefineAmsmathStructures()
    {
        Builder.MathCommands.DefineMath("leftroot", (m, t) => _degreeShift.Left = m.Quantities.ParseInteger(m.ReadArgument(t), t) ?? 0);
        Builder.MathCommands.DefineMath("uproot", (m, t) => _degreeShift.Up = m.Quantities.ParseInteger(m.ReadArgument(t), t) ?? 0);
        DefineStretched(s_moreStretched);
        foreach ((string name, MathSize? size) in (ReadOnlySpan<(string, MathSize?)>)[("binom", null), ("dbinom", MathSize.Display), ("tbinom", MathSize.Text)])
        {
            Builder.MathCommands.DefineMath(name, (_, t) =>
            {
                MathList top = Builder.Formulas.ReadMathArgument(t);
                Builder.MathCommands.AddAtom(AtomClass.Inner, new FractionNucleus(top, Builder.Formulas.ReadMathArgument(t)) { HasRule = false, Left = "(", Right = ")", Size = size }, t);
            });
        }

        Builder.MathCommands.DefineMath("cfrac", (m, t) =>
        {
            char side = m.ReadOptionalText(t) is { Length: 1 } s && s[0] is 'l' or 'r' ? s[0] : 'c';
            MathList top = Builder.Formulas.ReadMathArgument(t);
            Builder.MathCommands.AddAtom(AtomClass.Inner, new FractionNucleus(top, Builder.Formulas.ReadMathArgument(t)) { Size = MathSize.Display, IsContinued = true, NumeratorAlignment = side }, t);
        });
        Builder.MathCommands.DefineMath("genfrac", (m, t) =>
        {
            string left = DelimiterIn(m.ReadArgument(t), t);
            string right = DelimiterIn(m.ReadArgument(t), t);
            List<Token> rule = m.ReadArgument(t);
            double? thickness = rule.Count == 0 ? null : m.Quantities.ParseGlue(rule, t)?.Width.Points;
            MathSize? size = m.ReadText(t) switch { "0" => MathSize.Display, "1" => MathSize.Text, "2" => MathSize.Script, "3" => MathSize.ScriptScript, _ => null };
            MathList top = Builder.Formulas.ReadMathArgument(t);
            Builder.MathCommands.AddAtom(AtomClass.Inner, new FractionNucleus(top, Builder.Formulas.ReadMathArgument(t)) { Left = left, Right = right, Thickness = thickness, HasRule = thickness != 0, Size = size }, t);
        });
        Builder.MathCommands.DefineMath("overset", (_, t) =>
        {
            MathList above = Builder.Formulas.ReadMathArgument(t);
            MathList content = Builder.Formulas.ReadMathArgument(t);
            AddStack(ClassOf(content), content, above, null, t);
        });
        Builder.MathCommands.DefineMath("underset", (_, t) =>
        {
            MathList below = Builder.Formulas.ReadMathArgument(t);
            MathList content = Builder.Formulas.ReadMathArgument(t);
            AddStack(ClassOf(content), content, null, below, t);
        });
        Builder.MathCommands.DefineMath("overunderset", (_, t) =>
        {
            MathList above = Builder.Formulas.ReadMathArgument(t);
            MathList below = Builder.Formulas.ReadMathArgument(t);
            MathList content = Builder.Formulas.ReadMathArgument(t);
            AddStack(ClassOf(content), content, above, below, t);
        });
        DefineArrows([("xrightarrow", "→"), ("xleftarrow", "←")]);
        Builder.MathCommands.DefineMath("sideset", (_, t) =>
        {
            MathList left = Builder.Formulas.ReadMathArgument(t);
            MathList right = Builder.Formulas.ReadMathArgument(t);
            var content = (Atom?)Builder.Formulas.ReadMathArgument(t).Nodes.FirstOrDefault(n => n is Atom);
            if (content is null)
            {
                return;
            }

            var inner = new Atom(AtomClass.Ordinary, content.Nucleus) { Position = content.Position, Superscript = Script(right, true), Subscript = Script(right, false), Limits = Limits.Never };
            Builder.MathCommands.AddAtom(AtomClass.Operator, new LeftScriptsNucleus(Script(left, true), Script(left, false), new MathList([inner])), t, Limits.Automatic);
        });
        Machine.Definitions.Load("\\def\\boxed@text#1{\\fbox{$\\displaystyle#1$}}");
        Machine.Define("boxed", (_, t) =>
        {
            if (Builder.Formulas.Math is null)
            {
                Machine.Push([Token.Command(Machine.Symbol("boxed@text"), t.Position)]);
                return;
            }

            MathList content = Builder.Formulas.ReadMathArgument(t);
            var formula = new MathInline(new MathList([new SizeChange(MathSize.Display), .. content.Nodes]), Builder.Style.Value);
            Builder.MathCommands.AddAtom(AtomClass.Ordinary, new TextNucleus([new BoxInline([formula]) { IsFramed = true, Padding = Builder.Get("fboxsep"), FrameLine = Builder.Get("fboxrule") }]), t);
        });
        foreach ((string name, string sign) in (ReadOnlySpan<(string, string)>)[
            ("dotsc", "…"), ("dotso", "…"), ("dotsb", "⋯"), ("dotsm", "⋯"), ("dotsi", "⋯")])
        {
            Builder.MathCommands.DefineMath(name, (_, t) => Builder.Formulas.AddSymbol(sign, AtomClass.Inner, t.Position, false));
        }

        Builder.MathCommands.DefineMath("iiiint", (_, t) => Builder.MathCommands.AddAtom(AtomClass.Operator, new SymbolNucleus("⨌") { IsLarge = true }, t, Limits.Never));
        Builder.MathCommands.DefineMath("idotsint", (_, t) => Builder.MathCommands.AddAtom(AtomClass.Operator, new ListNucleus(new MathList(
            [Large("∫"), new Atom(AtomClass.Inner, new SymbolNucleus("⋯")), Large("∫")])), t, Limits.Never));
        foreach ((string name, string accent) in (ReadOnlySpan<(string, string)>)[("dddot", "\u20DB"), ("ddddot", "\u20DC")])
        {
            Builder.MathCommands.DefineMath(name, (_, t) => Builder.MathCommands.AddAtom(AtomClass.Ordinary, new AccentNucleus(Builder.Formulas.ReadMathArgument(t), accent, false), t));
        }

        foreach ((string name, string word, string sign, bool over) in (ReadOnlySpan<(string, string, string, bool)>)[
            ("varinjlim", "lim", "→", false), ("varprojlim", "lim", "←", false)])
        {
            Builder.MathCommands.DefineMath(name, (_, t) => Builder.MathCommands.AddAtom(AtomClass.Operator, new StretchNucleus(new MathList([new Atom(AtomClass.Operator, new WordNucleus(word))]), sign, over), t, Limits.Automatic));
        }

        foreach ((string name, bool over) in (ReadOnlySpan<(string, bool)>)[("varliminf", false), ("varlimsup", true)])
        {
            Builder.MathCommands.DefineMath(name, (_, t) => Builder.MathCommands.AddAtom(AtomClass.Operator, new BarNucleus(new MathList([new Atom(AtomClass.Operator, new WordNucleus("lim"))]), over), t, Limits.Automatic));
        }

        Machine.Definitions.Load("\\def\\pod#1{\\allowbreak\\mkern18mu(#1)}\\def\\pmod#1{\\pod{{\\operatorname{mod}}\\mkern6mu#1}}\\def\\bmod{\\mathbin{\\operatorname{mod}}}\\def\\mod#1{\\allowbreak\\mkern18mu{\\operatorname{mod}}\\,\\,#1}"
            + "\\DeclareMathOperator*{\\injlim}{inj\\,lim}\\DeclareMathOperator*{\\projlim}{proj\\,lim}");
    }

    private void DefineStretched(IEnumerable<(string Name, string Sign, bool Over)> all)
    {
        foreach ((string name, string sign, bool over) in all)
        {
            bool takesScripts = sign is "⏞" or "⏟" or "⏜" or "⏝" or "⎴" or "⎵";
            Builder.MathCommands.DefineMath(name, (m, t) =>
            {
                if (sign is "⎴" or "⎵")
                {
                    m.ReadOptional(t);
                    m.ReadOptional(t);
                }

                Builder.MathCommands.AddAtom(takesScripts ? AtomClass.Operator : AtomClass.Ordinary, new StretchNucleus(Builder.Formulas.ReadMathArgument(t), sign, over), t, takesScripts ? Limits.Always : Limits.Automatic);
            });
        }
    }

    /// <summary>Gives arrows with text above and, in brackets, below.</summary>
    internal void DefineArrows(IEnumerable<(string Name, string Sign)> all)
    {
        foreach ((string name, string sign) in all)
        {
            Builder.MathCommands.DefineMath(name, (m, t) =>
            {
                MathList below = m.ReadOptional(t) is { } b ? Builder.MathCommands.MathOf(b, t) : MathList.Empty;
                Builder.MathCommands.AddAtom(AtomClass.Relation, new ArrowNucleus(sign, Builder.Formulas.ReadMathArgument(t), below), t);
            });
        }
    }

    // Phantoms and their kin are for text too, where another command has that part.
    private void DefinePhantoms()
    {
        foreach ((string name, bool width, bool height) in (ReadOnlySpan<(string, bool, bool)>)[("phantom", true, true), ("hphantom", true, false), ("vphantom", false, true)])
        {
            DefineEither(name, t => Builder.MathCommands.AddAtom(AtomClass.Ordinary,
                new PhantomNucleus(Builder.Formulas.ReadMathArgument(t)) { IsHidden = true, KeepsWidth = width, KeepsHeight = height, KeepsDepth = height }, t));
        }

        DefineEither("smash", t =>
        {
            string part = Machine.ReadOptionalText(t) ?? "";
            Builder.MathCommands.AddAtom(AtomClass.Ordinary, new PhantomNucleus(Builder.Formulas.ReadMathArgument(t)) { KeepsHeight = part == "b", KeepsDepth = part == "t" }, t);
        });
        foreach ((string name, int side) in (ReadOnlySpan<(string, int)>)[("mathllap", -1), ("mathclap", 0), ("mathrlap", 1)])
        {
            Builder.MathCommands.DefineMath(name, (m, t) =>
            {
                m.ReadOptional(t);
                Builder.MathCommands.AddAtom(AtomClass.Ordinary, new PhantomNucleus(Builder.Formulas.ReadMathArgument(t)) { KeepsWidth = false, Side = side }, t);
            });
        }

        Builder.MathCommands.DefineMath("mathstrut", (_, t) => Builder.MathCommands.AddAtom(AtomClass.Ordinary, new PhantomNucleus(new MathList([new Atom(AtomClass.Opening, new SymbolNucleus("("))])) { IsHidden = true, KeepsWidth = false }, t));
    }

    /// <summary>Gives a command another meaning in formulas than it has in text.</summary>
    internal void DefineEither(string name, Action<Token> inFormula)
    {
        var inText = Machine.Symbol(name).Meaning.Value as BuiltInCommand;
        Machine.Define(name, (m, t) =>
        {
            if (Builder.Formulas.Math is not null)
            {
                inFormula(t);
            }
            else if (inText is not null)
            {
                inText.Execute(m, t);
            }
            else
            {
                Builder.Formulas.StrayMathematics(t);
            }
        });
    }

    /// <summary>Whether a formula is being read.</summary>
    internal bool InFormula => Builder.Formulas.Math is not null;

    /// <summary>A formula with a colour.</summary>
    internal void AddColoured(int colour, Token token) => Builder.MathCommands.AddAtom(AtomClass.Ordinary, new ColourNucleus(Builder.Formulas.ReadMathArgument(token), colour), token);

    /// <summary>Gives strokes through formulas.</summary>
    internal void DefineStrikes()
    {
        foreach ((string name, string strokes) in (ReadOnlySpan<(string, string)>)[("cancel", "/"), ("bcancel", "\\"), ("xcancel", "/\\")])
        {
            DefineEither(name, t => Builder.MathCommands.AddAtom(AtomClass.Ordinary, new StrikeNucleus(Builder.Formulas.ReadMathArgument(t), strokes), t));
        }

        Builder.MathCommands.DefineMath("cancelto", (_, t) =>
        {
            MathList value = Builder.Formulas.ReadMathArgument(t);
            Builder.MathCommands.AddAtom(AtomClass.Ordinary, new StrikeNucleus(Builder.Formulas.ReadMathArgument(t), "/"), t);
            Builder.Formulas.LastAtom(t).Superscript = value;
        });
    }

    /// <summary>Scripts left of a formula.</summary>
    internal void DefinePrescript() => Builder.MathCommands.DefineMath("prescript", (_, t) =>
    {
        MathList raised = Builder.Formulas.ReadMathArgument(t);
        MathList lowered = Builder.Formulas.ReadMathArgument(t);
        MathList content = Builder.Formulas.ReadMathArgument(t);
        Builder.MathCommands.AddAtom(ClassOf(content), new LeftScriptsNucleus(raised, lowered, content), t);
    });

    /// <summary>A large operator whose limits take no width: what stands beside it comes close.</summary>
    internal void DefineSmashOperator() => Builder.MathCommands.DefineMath("smashoperator", (m, t) =>
    {
        m.ReadOptional(t);
        foreach (MathNode node in Builder.Formulas.ReadMathArgument(t).Nodes)
        {
            if (node is Atom atom)
            {
                atom.Superscript = WithoutWidth(atom.Superscript);
                atom.Subscript = WithoutWidth(atom.Subscript);
            }

            Builder.Formulas.Math!.Nodes.Add(node);
        }

        static MathList? WithoutWidth(MathList? script) =>
            script is null ? null : new MathList([new Atom(AtomClass.Ordinary, new PhantomNucleus(script) { KeepsWidth = false, Side = 0 })]);
    });

    private static Atom Large(string sign) => new(AtomClass.Operator, new SymbolNucleus(sign) { IsLarge = true }) { Limits = Limits.Never };

    private static MathList? Script(MathList list, bool raised) =>
        list.Nodes.OfType<Atom>().Select(a => raised ? a.Superscript : a.Subscript).FirstOrDefault(s => s is not null);

    private static AtomClass ClassOf(MathList list) => list.Nodes is [Atom atom] ? atom.Class : AtomClass.Ordinary;

    private void AddStack(AtomClass atomClass, MathList content, MathList? above, MathList? below, Token token) =>
        Builder.Formulas.Math!.Nodes.Add(new Atom(atomClass, new ListNucleus(content)) { Position = token.Position, Limits = Limits.Always, Superscript = above, Subscript = below });

    private string DelimiterIn(List<Token> tokens, Token command)
    {
        string text = "";
        if (TokenLists.TrimSpaces(tokens).Count > 0)
        {
            Machine.Scan(tokens, () => text = Builder.MathCommands.ReadDelimiter(command));
        }

        return text;
    }

    // What stands before in the list is the numerator; the rest of the list will be the denominator.
    private void SplitFraction(Token token, Func<MathList, MathList, FractionNucleus> make)
    {
        if (Builder.Formulas.Math!.Fraction is not null)
        {
            Findings.Fix("two-fractions", token.Position, token.Length, $"A second {token} in one group leaves open which is the numerator.",
                "Put { } around one of the two fractions, or write \\frac{…}{…}.");
            return;
        }

        Builder.Formulas.Math.Fraction = (new MathList([.. Builder.Formulas.Math.Nodes]), make, token.Position);
        Builder.Formulas.Math.Nodes.Clear();
    }

    // The negated sign where Unicode has one, else a stroke through the sign.
    private void Negate(Token token)
    {
        MathList list = Builder.Formulas.ReadMathArgument(token);
        if (list.Nodes is [Atom { Nucleus: SymbolNucleus symbol } atom])
        {
            string composed = (symbol.Text + "\u0338").Normalize(System.Text.NormalizationForm.FormC);
            if (composed.Length == 1)
            {
                Builder.MathCommands.AddAtom(atom.Class, new SymbolNucleus(composed), token);
                return;
            }
        }

        Builder.MathCommands.AddAtom(ClassOf(list) is AtomClass.Ordinary ? AtomClass.Relation : ClassOf(list), new StrikeNucleus(list, "/"), token);
    }

    private void AddMathGlue(double width, bool inPoints)
    {
        Builder.Formulas.Math!.Nodes.Add(new MathGlue(width, inPoints) { VanishesInScripts = Builder.Formulas.Math.SkipsNextInScripts });
        Builder.Formulas.Math.SkipsNextInScripts = false;
    }

    // A length in mu, eighteenths of an em; its stretch doesn't matter inside a formula.
    private static double ScanMu(Machine machine)
    {
        var text = new System.Text.StringBuilder();
        machine.SkipSpaces();
        Token t = machine.NextExpanded();
        for (; t.Symbol is null && t.Category is Category.Other or Category.Letter && (char.IsAsciiDigit((char)t.Code) || t.Code is '-' or '+' or '.'); t = machine.NextExpanded())
        {
            text.Append((char)t.Code);
        }

        machine.PutBack(t);
        machine.Quantities.TakeKeyword("mu");
        if (machine.Quantities.TakeKeyword("plus"))
        {
            ScanMu(machine);
        }

        if (machine.Quantities.TakeKeyword("minus"))
        {
            ScanMu(machine);
        }

        return double.TryParse(text.ToString(), System.Globalization.NumberStyles.Float, System.Globalization.CultureInfo.InvariantCulture, out double width) ? width : 0;
    }

    internal void DefineMathWords()
    {
        Builder.MathCommands.DefineMath("colon", (_, t) => Builder.Formulas.AddSymbol(":", AtomClass.Punctuation, t.Position, false));
        DefineEither("ldots", t => Builder.Formulas.AddSymbol("…", AtomClass.Inner, t.Position, false));
        DefineEither("dots", t => AddDots(t));
        Builder.MathCommands.DefineMath("cdotp", (_, t) => Builder.Formulas.AddSymbol("⋅", AtomClass.Punctuation, t.Position, false));
        Builder.MathCommands.DefineMath("ldotp", (_, t) => Builder.Formulas.AddSymbol(".", AtomClass.Punctuation, t.Position, false));
        Builder.MathCommands.DefineMath("cal", (m, _) => m.Assign(Builder.Formulas.Alphabet, MathAlphabet.Script));
        Builder.MathCommands.DefineMath("mit", (m, _) => m.Assign(Builder.Formulas.Alphabet, MathAlphabet.Italic));
        Builder.MathCommands.DefineMath("frak", (_, t) => Machine.Push([Token.Command(Machine.Symbol("mathfrak"), t.Position)]));
        Builder.MathCommands.DefineMath("Bbb", (_, t) => Machine.Push([Token.Command(Machine.Symbol("mathbb"), t.Position)]));
        Machine.Define("boldmath", (m, _) => m.Assign(BoldFormulas, true));
        Machine.Define("unboldmath", (m, _) => m.Assign(BoldFormulas, false));
        Machine.Define("mathversion", (m, t) => m.Assign(BoldFormulas, m.ReadText(t) == "bold"));
    }

    internal Scoped<bool> BoldFormulas { get; } = new(false);

    // Between signs dots stand in the middle, in lists on the line (amsmath's own rule, by what follows).
    private void AddDots(Token token)
    {
        Token next = Machine.Peek();
        AtomClass? following = next.Symbol?.Meaning.Value is SymbolMeaning s ? s.Class : next.Symbol is null && !next.Is(Category.Stop) ? Symbols.ClassOf(next.Code) : null;
        Builder.Formulas.AddSymbol(following is AtomClass.Binary or AtomClass.Relation ? "⋯" : "…", AtomClass.Inner, token.Position, false);
    }
}
