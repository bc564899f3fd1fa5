using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Structures of formulas: what grows above and below, fractions of all kinds, rooms, colours and strokes.
public sealed partial class DocumentBuilder
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

    private void DefineMathStructures()
    {
        DefineStretched(s_stretched);
        foreach ((string name, bool rule, string left, string right) in (ReadOnlySpan<(string, bool, string, string)>)[
            ("over", true, "", ""), ("atop", false, "", ""), ("choose", false, "(", ")"), ("brace", false, "{", "}"), ("brack", false, "[", "]")])
        {
            DefineMath(name, (_, t) => SplitFraction(t, (top, bottom) => new FractionNucleus(top, bottom) { HasRule = rule, Left = left, Right = right }));
        }

        DefineMath("above", (m, t) =>
        {
            double thickness = m.ScanDimension().Points;
            SplitFraction(t, (top, bottom) => new FractionNucleus(top, bottom) { HasRule = thickness > 0, Thickness = thickness });
        });
        foreach ((string name, bool rule) in (ReadOnlySpan<(string, bool)>)[("overwithdelims", true), ("atopwithdelims", false)])
        {
            DefineMath(name, (_, t) =>
            {
                string left = ReadDelimiter(t);
                string right = ReadDelimiter(t);
                SplitFraction(t, (top, bottom) => new FractionNucleus(top, bottom) { HasRule = rule, Left = left, Right = right });
            });
        }

        DefineMath("stackrel", (_, t) =>
        {
            MathList above = ReadMathArgument(t);
            AddStack(AtomClass.Relation, ReadMathArgument(t), above, null, t);
        });
        DefineMath("middle", (_, t) => AddAtom(AtomClass.Ordinary, new MiddleNucleus(ReadDelimiter(t)), t));
        DefineMath("not", (_, t) => Negate(t));
        DefineMath("mathchoice", (_, t) => AddAtom(AtomClass.Ordinary,
            new ChoiceNucleus([ReadMathArgument(t), ReadMathArgument(t), ReadMathArgument(t), ReadMathArgument(t)]), t));
        DefineMath("nonscript", (_, _) => _math!.SkipsNextInScripts = true);
        DefineMath("root", (m, t) =>
        {
            // \root n \of {x}
            var degree = new List<Token>();
            for (Token u = m.Next(); !u.Is(Category.Stop) && !u.IsCommand("of"); u = m.Next())
            {
                degree.Add(u);
            }

            AddAtom(AtomClass.Ordinary, new RadicalNucleus(ReadMathArgument(t), MathOf(degree, t)), t);
        });
        foreach (string name in (string[])["mkern", "mskip"])
        {
            DefineMath(name, (m, _) => AddMathGlue(ScanMu(m), false));
        }

        DefineMath("mspace", (m, t) =>
        {
            List<Token> width = m.ReadArgument(t);
            m.Scan(width, () => AddMathGlue(ScanMu(m), false));
        });
        DefinePhantoms();
    }

    private void DefineAmsmathStructures()
    {
        DefineStretched(s_moreStretched);
        foreach ((string name, MathSize? size) in (ReadOnlySpan<(string, MathSize?)>)[("binom", null), ("dbinom", MathSize.Display), ("tbinom", MathSize.Text)])
        {
            DefineMath(name, (_, t) =>
            {
                MathList top = ReadMathArgument(t);
                AddAtom(AtomClass.Inner, new FractionNucleus(top, ReadMathArgument(t)) { HasRule = false, Left = "(", Right = ")", Size = size }, t);
            });
        }

        DefineMath("cfrac", (m, t) =>
        {
            char side = m.ReadOptionalText(t) is { Length: 1 } s && s[0] is 'l' or 'r' ? s[0] : 'c';
            MathList top = ReadMathArgument(t);
            AddAtom(AtomClass.Inner, new FractionNucleus(top, ReadMathArgument(t)) { Size = MathSize.Display, IsContinued = true, NumeratorAlignment = side }, t);
        });
        DefineMath("genfrac", (m, t) =>
        {
            string left = DelimiterIn(m.ReadArgument(t), t);
            string right = DelimiterIn(m.ReadArgument(t), t);
            List<Token> rule = m.ReadArgument(t);
            double? thickness = rule.Count == 0 ? null : m.ParseGlue(rule, t)?.Width.Points;
            MathSize? size = m.ReadText(t) switch { "0" => MathSize.Display, "1" => MathSize.Text, "2" => MathSize.Script, "3" => MathSize.ScriptScript, _ => null };
            MathList top = ReadMathArgument(t);
            AddAtom(AtomClass.Inner, new FractionNucleus(top, ReadMathArgument(t)) { Left = left, Right = right, Thickness = thickness, HasRule = thickness != 0, Size = size }, t);
        });
        DefineMath("overset", (_, t) =>
        {
            MathList above = ReadMathArgument(t);
            MathList content = ReadMathArgument(t);
            AddStack(ClassOf(content), content, above, null, t);
        });
        DefineMath("underset", (_, t) =>
        {
            MathList below = ReadMathArgument(t);
            MathList content = ReadMathArgument(t);
            AddStack(ClassOf(content), content, null, below, t);
        });
        DefineMath("overunderset", (_, t) =>
        {
            MathList above = ReadMathArgument(t);
            MathList below = ReadMathArgument(t);
            MathList content = ReadMathArgument(t);
            AddStack(ClassOf(content), content, above, below, t);
        });
        DefineArrows([("xrightarrow", "→"), ("xleftarrow", "←")]);
        DefineMath("sideset", (_, t) =>
        {
            MathList left = ReadMathArgument(t);
            MathList right = ReadMathArgument(t);
            var content = (Atom?)ReadMathArgument(t).Nodes.FirstOrDefault(n => n is Atom);
            if (content is null)
            {
                return;
            }

            var inner = new Atom(AtomClass.Ordinary, content.Nucleus) { Position = content.Position, Superscript = Script(right, true), Subscript = Script(right, false), Limits = Limits.Never };
            AddAtom(AtomClass.Operator, new LeftScriptsNucleus(Script(left, true), Script(left, false), new MathList([inner])), t, Limits.Automatic);
        });
        DefineMath("boxed", (_, t) =>
        {
            MathList content = ReadMathArgument(t);
            var formula = new MathInline(new MathList([new SizeChange(MathSize.Display), .. content.Nodes]), _style.Value);
            AddAtom(AtomClass.Ordinary, new TextNucleus([new BoxInline([formula]) { IsFramed = true, Padding = Get("fboxsep"), FrameLine = Get("fboxrule") }]), t);
        });
        foreach ((string name, string sign) in (ReadOnlySpan<(string, string)>)[
            ("dotsc", "…"), ("dotso", "…"), ("dotsb", "⋯"), ("dotsm", "⋯"), ("dotsi", "⋯")])
        {
            DefineMath(name, (_, t) => AddSymbol(sign, AtomClass.Inner, t.Position, false));
        }

        DefineMath("iiiint", (_, t) => AddAtom(AtomClass.Operator, new SymbolNucleus("⨌") { IsLarge = true }, t, Limits.Never));
        DefineMath("idotsint", (_, t) => AddAtom(AtomClass.Operator, new ListNucleus(new MathList(
            [Large("∫"), new Atom(AtomClass.Inner, new SymbolNucleus("⋯")), Large("∫")])), t, Limits.Never));
        foreach ((string name, string accent) in (ReadOnlySpan<(string, string)>)[("dddot", "\u20DB"), ("ddddot", "\u20DC")])
        {
            DefineMath(name, (_, t) => AddAtom(AtomClass.Ordinary, new AccentNucleus(ReadMathArgument(t), accent, false), t));
        }

        foreach ((string name, string word, string sign, bool over) in (ReadOnlySpan<(string, string, string, bool)>)[
            ("varinjlim", "lim", "→", false), ("varprojlim", "lim", "←", false)])
        {
            DefineMath(name, (_, t) => AddAtom(AtomClass.Operator, new StretchNucleus(new MathList([new Atom(AtomClass.Operator, new WordNucleus(word))]), sign, over), t, Limits.Automatic));
        }

        foreach ((string name, bool over) in (ReadOnlySpan<(string, bool)>)[("varliminf", false), ("varlimsup", true)])
        {
            DefineMath(name, (_, t) => AddAtom(AtomClass.Operator, new BarNucleus(new MathList([new Atom(AtomClass.Operator, new WordNucleus("lim"))]), over), t, Limits.Automatic));
        }

        Machine.LoadDefinitions("\\def\\pod#1{\\allowbreak\\mkern18mu(#1)}\\def\\pmod#1{\\pod{{\\operatorname{mod}}\\mkern6mu#1}}\\def\\bmod{\\mathbin{\\operatorname{mod}}}\\def\\mod#1{\\allowbreak\\mkern18mu{\\operatorname{mod}}\\,\\,#1}"
            + "\\DeclareMathOperator*{\\injlim}{inj\\,lim}\\DeclareMathOperator*{\\projlim}{proj\\,lim}");
    }

    private void DefineStretched(IEnumerable<(string Name, string Sign, bool Over)> all)
    {
        foreach ((string name, string sign, bool over) in all)
        {
            bool takesScripts = sign is "⏞" or "⏟" or "⏜" or "⏝" or "⎴" or "⎵";
            DefineMath(name, (m, t) =>
            {
                if (sign is "⎴" or "⎵")
                {
                    m.ReadOptional(t);
                    m.ReadOptional(t);
                }

                AddAtom(takesScripts ? AtomClass.Operator : AtomClass.Ordinary, new StretchNucleus(ReadMathArgument(t), sign, over), t, takesScripts ? Limits.Always : Limits.Automatic);
            });
        }
    }

    /// <summary>Gives arrows with text above and, in brackets, below.</summary>
    internal void DefineArrows(IEnumerable<(string Name, string Sign)> all)
    {
        foreach ((string name, string sign) in all)
        {
            DefineMath(name, (m, t) =>
            {
                MathList below = m.ReadOptional(t) is { } b ? MathOf(b, t) : MathList.Empty;
                AddAtom(AtomClass.Relation, new ArrowNucleus(sign, ReadMathArgument(t), below), t);
            });
        }
    }

    // Phantoms and their kin are for text too, where another command has that part.
    private void DefinePhantoms()
    {
        foreach ((string name, bool width, bool height) in (ReadOnlySpan<(string, bool, bool)>)[("phantom", true, true), ("hphantom", true, false), ("vphantom", false, true)])
        {
            DefineEither(name, t => AddAtom(AtomClass.Ordinary,
                new RoomNucleus(ReadMathArgument(t)) { IsHidden = true, KeepsWidth = width, KeepsHeight = height, KeepsDepth = height }, t));
        }

        DefineEither("smash", t =>
        {
            string part = Machine.ReadOptionalText(t) ?? "";
            AddAtom(AtomClass.Ordinary, new RoomNucleus(ReadMathArgument(t)) { KeepsHeight = part == "b", KeepsDepth = part == "t" }, t);
        });
        foreach ((string name, int side) in (ReadOnlySpan<(string, int)>)[("mathllap", -1), ("mathclap", 0), ("mathrlap", 1)])
        {
            DefineMath(name, (m, t) =>
            {
                m.ReadOptional(t);
                AddAtom(AtomClass.Ordinary, new RoomNucleus(ReadMathArgument(t)) { KeepsWidth = false, Side = side }, t);
            });
        }

        DefineMath("mathstrut", (_, t) => AddAtom(AtomClass.Ordinary, new RoomNucleus(new MathList([new Atom(AtomClass.Opening, new SymbolNucleus("("))])) { IsHidden = true, KeepsWidth = false }, t));
    }

    /// <summary>Gives a command another meaning in formulas than it has in text.</summary>
    internal void DefineEither(string name, Action<Token> inFormula)
    {
        var inText = Machine.Symbol(name).Meaning.Value as BuiltInCommand;
        Machine.Define(name, (m, t) =>
        {
            if (_math is not null)
            {
                inFormula(t);
            }
            else if (inText is not null)
            {
                inText.Execute(m, t);
            }
            else
            {
                StrayMathematics(t);
            }
        });
    }

    /// <summary>Whether a formula is being read.</summary>
    internal bool InFormula => _math is not null;

    /// <summary>A formula with a colour.</summary>
    internal void AddColoured(int colour, Token token) => AddAtom(AtomClass.Ordinary, new ColourNucleus(ReadMathArgument(token), colour), token);

    /// <summary>Gives strokes through formulas.</summary>
    internal void DefineStrikes()
    {
        foreach ((string name, string strokes) in (ReadOnlySpan<(string, string)>)[("cancel", "/"), ("bcancel", "\\"), ("xcancel", "/\\")])
        {
            DefineEither(name, t => AddAtom(AtomClass.Ordinary, new StrikeNucleus(ReadMathArgument(t), strokes), t));
        }

        DefineMath("cancelto", (_, t) =>
        {
            MathList value = ReadMathArgument(t);
            AddAtom(AtomClass.Ordinary, new StrikeNucleus(ReadMathArgument(t), "/"), t);
            LastAtom(t).Superscript = value;
        });
    }

    /// <summary>Scripts left of a formula.</summary>
    internal void DefinePrescript() => DefineMath("prescript", (_, t) =>
    {
        MathList raised = ReadMathArgument(t);
        MathList lowered = ReadMathArgument(t);
        MathList content = ReadMathArgument(t);
        AddAtom(ClassOf(content), new LeftScriptsNucleus(raised, lowered, content), t);
    });

    /// <summary>A large operator whose limits take no width: what stands beside it comes close.</summary>
    internal void DefineSmashOperator() => DefineMath("smashoperator", (m, t) =>
    {
        m.ReadOptional(t);
        foreach (MathNode node in ReadMathArgument(t).Nodes)
        {
            if (node is Atom atom)
            {
                atom.Superscript = WithoutWidth(atom.Superscript);
                atom.Subscript = WithoutWidth(atom.Subscript);
            }

            _math!.Nodes.Add(node);
        }

        static MathList? WithoutWidth(MathList? script) =>
            script is null ? null : new MathList([new Atom(AtomClass.Ordinary, new RoomNucleus(script) { KeepsWidth = false, Side = 0 })]);
    });

    private static Atom Large(string sign) => new(AtomClass.Operator, new SymbolNucleus(sign) { IsLarge = true }) { Limits = Limits.Never };

    private static MathList? Script(MathList list, bool raised) =>
        list.Nodes.OfType<Atom>().Select(a => raised ? a.Superscript : a.Subscript).FirstOrDefault(s => s is not null);

    private static AtomClass ClassOf(MathList list) => list.Nodes is [Atom atom] ? atom.Class : AtomClass.Ordinary;

    private void AddStack(AtomClass atomClass, MathList content, MathList? above, MathList? below, Token token) =>
        _math!.Nodes.Add(new Atom(atomClass, new ListNucleus(content)) { Position = token.Position, Limits = Limits.Always, Superscript = above, Subscript = below });

    private string DelimiterIn(List<Token> tokens, Token command)
    {
        string text = "";
        if (Machine.TrimSpaces(tokens).Count > 0)
        {
            Machine.Scan(tokens, () => text = ReadDelimiter(command));
        }

        return text;
    }

    // What stands before in the list is the numerator; the rest of the list will be the denominator.
    private void SplitFraction(Token token, Func<MathList, MathList, FractionNucleus> make)
    {
        if (_math!.Fraction is not null)
        {
            Findings.Fix("two-fractions", token.Position, token.Length, $"A second {token} in one group leaves open which is the numerator.",
                "Put { } around one of the two fractions, or write \\frac{…}{…}.");
            return;
        }

        _math.Fraction = (new MathList([.. _math.Nodes]), make, token.Position);
        _math.Nodes.Clear();
    }

    // The negated sign where Unicode has one, else a stroke through the sign.
    private void Negate(Token token)
    {
        MathList list = ReadMathArgument(token);
        if (list.Nodes is [Atom { Nucleus: SymbolNucleus symbol } atom])
        {
            string composed = (symbol.Text + "\u0338").Normalize(System.Text.NormalizationForm.FormC);
            if (composed.Length == 1)
            {
                AddAtom(atom.Class, new SymbolNucleus(composed), token);
                return;
            }
        }

        AddAtom(ClassOf(list) is AtomClass.Ordinary ? AtomClass.Relation : ClassOf(list), new StrikeNucleus(list, "/"), token);
    }

    private void AddMathGlue(double width, bool inPoints)
    {
        _math!.Nodes.Add(new MathGlue(width, inPoints) { VanishesInScripts = _math.SkipsNextInScripts });
        _math.SkipsNextInScripts = false;
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
        machine.TakeKeyword("mu");
        if (machine.TakeKeyword("plus"))
        {
            ScanMu(machine);
        }

        if (machine.TakeKeyword("minus"))
        {
            ScanMu(machine);
        }

        return double.TryParse(text.ToString(), System.Globalization.NumberStyles.Float, System.Globalization.CultureInfo.InvariantCulture, out double width) ? width : 0;
    }

    private void DefineMathWords()
    {
        DefineMath("colon", (_, t) => AddSymbol(":", AtomClass.Punctuation, t.Position, false));
        DefineEither("ldots", t => AddSymbol("…", AtomClass.Inner, t.Position, false));
        DefineEither("dots", t => AddDots(t));
        DefineMath("cdotp", (_, t) => AddSymbol("⋅", AtomClass.Punctuation, t.Position, false));
        DefineMath("ldotp", (_, t) => AddSymbol(".", AtomClass.Punctuation, t.Position, false));
        DefineMath("cal", (m, _) => m.Assign(_alphabet, MathAlphabet.Script));
        DefineMath("mit", (m, _) => m.Assign(_alphabet, MathAlphabet.Italic));
        DefineMath("frak", (_, t) => Machine.Push([Token.Command(Machine.Symbol("mathfrak"), t.Position)]));
        DefineMath("Bbb", (_, t) => Machine.Push([Token.Command(Machine.Symbol("mathbb"), t.Position)]));
        Machine.Define("boldmath", (m, _) => m.Assign(_boldFormulas, true));
        Machine.Define("unboldmath", (m, _) => m.Assign(_boldFormulas, false));
        Machine.Define("mathversion", (m, t) => m.Assign(_boldFormulas, m.ReadText(t) == "bold"));
    }

    private readonly Scoped<bool> _boldFormulas = new(false);

    // Between signs dots stand in the middle, in lists on the line (amsmath's own rule, by what follows).
    private void AddDots(Token token)
    {
        Token next = Machine.Peek();
        AtomClass? following = next.Symbol?.Meaning.Value is SymbolMeaning s ? s.Class : next.Symbol is null && !next.Is(Category.Stop) ? Symbols.ClassOf(next.Code) : null;
        AddSymbol(following is AtomClass.Binary or AtomClass.Relation ? "⋯" : "…", AtomClass.Inner, token.Position, false);
    }
}
