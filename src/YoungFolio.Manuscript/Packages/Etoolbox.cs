using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Packages;

/// <summary>The package etoolbox: tests, switches, lists, hooks and patches (its documented commands).</summary>
internal static class Etoolbox
{
    public static IReadOnlyList<string> Commands { get; } =
    [
        "newtoggle", "providetoggle", "settoggle", "toggletrue", "togglefalse", "iftoggle", "nottoggle", "newbool", "providebool", "setbool", "booltrue",
        "boolfalse", "ifbool", "notbool", "ifdef", "ifundef", "ifcsdef", "ifcsundef", "ifdefmacro", "ifdefempty", "ifdefvoid", "ifcsempty", "ifcsvoid",
        "ifdefequal", "ifdefstring", "ifcsstring", "ifstrequal", "ifstrempty", "ifblank", "notblank", "ifnumcomp", "ifnumequal", "ifnumgreater", "ifnumless",
        "ifnumodd", "ifdimcomp", "ifdimequal", "ifdimgreater", "ifdimless", "ifinlist", "xifinlist", "ifboolexpr", "ifboolexpe", "csdef", "csgdef", "csedef", "csxdef", "cslet", "letcs",
        "csletcs", "csuse", "undef", "csundef", "renewrobustcmd", "providerobustcmd", "robustify", "appto", "gappto", "eappto", "xappto", "preto", "gpreto",
        "epreto", "csappto", "csgappto", "cspreto", "patchcmd", "apptocmd", "pretocmd", "expandonce", "csexpandonce", "docsvlist", "forcsvlist", "listadd",
        "listgadd", "listeadd", "dolistloop", "forlistloop", "AtBeginEnvironment", "AtEndEnvironment", "BeforeBeginEnvironment", "AfterEndEnvironment",
        "AtEndPreamble", "AfterEndPreamble", "AfterPreamble", "defcounter", "deflength", "numdef", "dimdef",
    ];

    public const string Definitions = """
        \def\csuse#1{\ifcsname#1\endcsname\csname#1\expandafter\endcsname\fi}
        \def\csdef#1{\expandafter\def\csname#1\endcsname}\def\csgdef#1{\expandafter\gdef\csname#1\endcsname}
        \def\csedef#1{\expandafter\edef\csname#1\endcsname}\def\csxdef#1{\expandafter\xdef\csname#1\endcsname}
        \def\cslet#1#2{\expandafter\let\csname#1\endcsname=#2}\def\letcs#1#2{\expandafter\let\expandafter#1\csname#2\endcsname}
        \def\csletcs#1#2{\expandafter\let\csname#1\expandafter\endcsname\csname#2\endcsname}
        \def\undef#1{\let#1\@undefined}\def\csundef#1{\expandafter\let\csname#1\endcsname\@undefined}
        \def\expandonce#1{\unexpanded\expandafter{#1}}\def\csexpandonce#1{\unexpanded\expandafter\expandafter\expandafter{\csname#1\endcsname}}
        \let\renewrobustcmd\renewcommand\let\providerobustcmd\providecommand
        \long\def\appto#1#2{\ifdefined#1\expandafter\def\expandafter#1\expandafter{#1#2}\else\def#1{#2}\fi}
        \long\def\gappto#1#2{\ifdefined#1\expandafter\gdef\expandafter#1\expandafter{#1#2}\else\gdef#1{#2}\fi}
        \long\def\g@addto@macro#1#2{\expandafter\gdef\expandafter#1\expandafter{#1#2}}
        \long\def\eappto#1#2{\edef#1{\ifdefined#1\expandonce#1\fi#2}}\long\def\xappto#1#2{\xdef#1{\ifdefined#1\expandonce#1\fi#2}}
        \long\def\preto#1#2{\edef#1{\unexpanded{#2}\ifdefined#1\expandonce#1\fi}}\long\def\gpreto#1#2{\xdef#1{\unexpanded{#2}\ifdefined#1\expandonce#1\fi}}
        \long\def\epreto#1#2{\edef#1{#2\ifdefined#1\expandonce#1\fi}}
        \long\def\csappto#1{\expandafter\appto\csname#1\endcsname}\long\def\csgappto#1{\expandafter\gappto\csname#1\endcsname}
        \long\def\cspreto#1{\expandafter\preto\csname#1\endcsname}
        \def\listadd#1#2{\appto#1{\list@item{#2}}}\def\listgadd#1#2{\gappto#1{\list@item{#2}}}\def\listeadd#1#2{\eappto#1{\noexpand\list@item{#2}}}
        \def\listxadd#1#2{\xappto#1{\noexpand\list@item{#2}}}\def\listcsadd#1#2{\csappto{#1}{\list@item{#2}}}
        \def\dolistloop#1{\begingroup\let\list@item\do#1\endgroup}\def\dolistcsloop#1{\begingroup\let\list@item\do\csname#1\endcsname\endgroup}
        \def\forlistloop#1#2{{\def\list@item{#1}#2}}
        \def\numdef#1#2{\edef#1{\the\numexpr#2}}\def\dimdef#1#2{\edef#1{\the\dimexpr#2}}
        \def\defcounter#1#2{\setcounter{#1}{\numexpr#2}}\def\deflength#1#2{\setlength{#1}{\dimexpr#2}}
        \def\AtEndPreamble{\AtBeginDocument}\def\AfterEndPreamble{\AtBeginDocument}\def\AfterPreamble{\AtBeginDocument}
        """;

    public static void Load(DocumentBuilder builder)
    {
        Machine machine = builder.Machine;
        Meaning? OfName(Machine m, Token t) => m.Symbol(m.ReadText(t)).Meaning.Value;
        Meaning? OfCommand(Machine m, Token t) => m.ReadArgument(t) is [var only, ..] ? ConversionCommands.MeaningOf(only) : null;
        bool IsRelax(Meaning? meaning) => meaning is BuiltInCommand { Name: "relax" };
        string Body(Meaning? meaning) => meaning is MacroMeaning m ? m.Body.ToSource() : "";

        Test("ifdef", (m, t) => OfCommand(m, t) is not null);
        Test("ifundef", (m, t) => OfCommand(m, t) is null or BuiltInCommand { Name: "relax" });
        Test("ifcsdef", (m, t) => OfName(m, t) is not null);
        Test("ifcsundef", (m, t) => OfName(m, t) is null or BuiltInCommand { Name: "relax" });
        Test("ifdefmacro", (m, t) => OfCommand(m, t) is MacroMeaning or DocumentCommandMeaning);
        Test("ifcsmacro", (m, t) => OfName(m, t) is MacroMeaning or DocumentCommandMeaning);
        Test("ifdefparam", (m, t) => OfCommand(m, t) is MacroMeaning { Arity: > 0 });
        Test("ifdefempty", (m, t) => OfCommand(m, t) is MacroMeaning { Body.Length: 0 });
        Test("ifcsempty", (m, t) => OfName(m, t) is MacroMeaning { Body.Length: 0 });
        Test("ifdefvoid", (m, t) => OfCommand(m, t) is var x && (x is null or MacroMeaning { Body.Length: 0 } || IsRelax(x)));
        Test("ifcsvoid", (m, t) => OfName(m, t) is var x && (x is null or MacroMeaning { Body.Length: 0 } || IsRelax(x)));
        Test("ifdefequal", (m, t) => OfCommand(m, t) is { } a && a.SameAs(OfCommand(m, t)));
        Test("ifcsequal", (m, t) => OfName(m, t) is { } a && a.SameAs(OfName(m, t)));
        Test("ifdefstring", (m, t) => Body(OfCommand(m, t)) == m.ReadArgument(t).ToSource());
        Test("ifcsstring", (m, t) => Body(OfName(m, t)) == m.ReadArgument(t).ToSource());
        Test("ifdefstrequal", (m, t) => Body(OfCommand(m, t)) == Body(OfCommand(m, t)));
        Test("ifstrequal", static (m, t) => m.ReadArgument(t).ToSource() == m.ReadArgument(t).ToSource());
        Test("ifstrempty", static (m, t) => m.ReadArgument(t).Count == 0);
        Test("ifblank", static (m, t) => m.ReadArgument(t).TrueForAll(u => u.Is(Category.Space)));
        Test("notblank", static (m, t) => !m.ReadArgument(t).TrueForAll(u => u.Is(Category.Space)));
        foreach ((string prefix, string not) in (ReadOnlySpan<(string, string)>)[("ifbool", "notbool"), ("iftoggle", "nottoggle")])
        {
            string kind = prefix == "ifbool" ? "" : "toggle ";
            Test(prefix, (m, t) => IsOn(builder, kind, m.ReadText(t), t));
            Test(not, (m, t) => !IsOn(builder, kind, m.ReadText(t), t));
        }

        Test("ifnumcomp", static (m, t) =>
        {
            int a = Number(m, t);
            string relation = m.ReadText(t);
            return Compare(a.CompareTo(Number(m, t)), relation);
        });
        Test("ifnumequal", static (m, t) => Number(m, t) == Number(m, t));
        Test("ifnumgreater", static (m, t) => Number(m, t) > Number(m, t));
        Test("ifnumless", static (m, t) => Number(m, t) < Number(m, t));
        Test("ifnumodd", static (m, t) => (Number(m, t) & 1) == 1);
        Test("ifdimcomp", static (m, t) =>
        {
            int a = Length(m, t);
            string relation = m.ReadText(t);
            return Compare(a.CompareTo(Length(m, t)), relation);
        });
        Test("ifdimequal", static (m, t) => Length(m, t) == Length(m, t));
        Test("ifdimgreater", static (m, t) => Length(m, t) > Length(m, t));
        Test("ifdimless", static (m, t) => Length(m, t) < Length(m, t));
        foreach (string name in (string[])["ifinlist", "xifinlist"])
        {
            Test(name, (m, t) =>
            {
                List<Token> item = m.ReadArgument(t);
                string wanted = (name[0] == 'x' ? m.Expander.ExpandFully(item) : item).ToSource();
                return Members(machine, OfCommand(m, t)).Exists(i => i.ToSource() == wanted);
            });
        }

        foreach (string name in (string[])["ifboolexpr", "ifboolexpe"])
        {
            Test(name, (m, t) =>
            {
                bool result = false;
                m.Scan(m.ReadArgument(t), () => result = Expression(builder, m, t));
                return result;
            });
        }

        foreach ((string kind, string stored) in (ReadOnlySpan<(string, string)>)[("bool", ""), ("toggle", "toggle ")])
        {
            machine.Define("new" + kind, (m, t) => m.Conditionals.NewSwitch(stored + m.ReadText(t)));
            machine.Define("provide" + kind, (m, t) =>
            {
                string name = stored + m.ReadText(t);
                if (!m.IsDefined("if" + name))
                {
                    m.Conditionals.NewSwitch(name);
                }
            });
            machine.Define("set" + kind, (m, t) => m.Conditionals.SetSwitch(stored + m.ReadText(t), m.ReadText(t) == "true"));
            machine.Define(kind + "true", (m, t) => m.Conditionals.SetSwitch(stored + m.ReadText(t), true));
            machine.Define(kind + "false", (m, t) => m.Conditionals.SetSwitch(stored + m.ReadText(t), false));
        }

        machine.Define("robustify", static (m, t) =>
        {
            if (m.ReadArgument(t) is [{ Symbol: { Meaning.Value: MacroMeaning macro } symbol }, ..])
            {
                m.Assign(symbol.Meaning, Copy(macro, macro.Body, true));
            }
        });
        machine.Define("patchcmd", (m, t) => Patch(m, t));
        machine.Define("apptocmd", (m, t) => AddTo(m, t, false));
        machine.Define("pretocmd", (m, t) => AddTo(m, t, true));
        machine.Define("docsvlist", static (m, t) => ForEach(m, [Token.Command(m.Symbol("do"), t.Position)], m.ReadArgument(t), t));
        machine.Define("forcsvlist", static (m, t) => ForEach(m, m.ReadArgument(t), m.ReadArgument(t), t));
        foreach (string name in (string[])["AtBeginEnvironment", "AtEndEnvironment", "BeforeBeginEnvironment", "AfterEndEnvironment"])
        {
            machine.DefineMeaning(name, machine.Symbol("add hook " + name).Meaning.Value!);
        }

        void Test(string name, Func<Machine, Token, bool> test) => machine.DefineExpandable(name, (m, t) =>
        {
            bool holds = test(m, t);
            List<Token> yes = m.ReadArgument(t);
            List<Token> no = m.ReadArgument(t);
            m.Push(holds ? yes : no);
        });
    }

    private static bool IsOn(DocumentBuilder builder, string kind, string name, Token token)
    {
        if (!builder.Machine.IsDefined("if" + kind + name))
        {
            builder.Findings.Fix("unknown-switch", token.Position, token.Length, $"There is no switch “{name}”.",
                kind.Length == 0 ? "Make it with \\newbool first." : "Make it with \\newtoggle first.");
            return false;
        }

        return builder.Preamble.IsOn(kind + name);
    }

    private static int Number(Machine m, Token t) => m.Quantities.ParseInteger(m.ReadArgument(t), t) ?? 0;

    private static int Length(Machine m, Token t) => m.Quantities.ParseGlue(m.ReadArgument(t), t)?.Width.Scaled ?? 0;

    private static bool Compare(int order, string relation) => relation switch { "<" => order < 0, ">" => order > 0, _ => order == 0 };

    private static List<List<Token>> Members(Machine machine, Meaning? list)
    {
        if (list is not MacroMeaning macro)
        {
            return [];
        }

        var members = new List<List<Token>>();
        machine.Scan(macro.Body, () =>
        {
            for (Token t = machine.Next(); t.IsCommand("list@item"); t = machine.Next())
            {
                members.Add(machine.ReadArgument(t));
            }
        });
        return members;
    }

    private static void ForEach(Machine m, List<Token> handler, List<Token> list, Token token)
    {
        if (list is [{ Symbol.Meaning.Value: MacroMeaning { Arity: 0 } macro }])
        {
            list = [.. macro.Body];
        }

        m.Push(TokenLists.SplitAtCommas(list).SelectMany(member => handler.Concat(TokenLists.Braced(member, token.Position))).ToList());
    }

    private static MacroMeaning Copy(MacroMeaning macro, Token[] body, bool isProtected) => new()
    {
        Pattern = macro.Pattern,
        Body = body,
        Arity = macro.Arity,
        Default = macro.Default,
        IsLong = macro.IsLong,
        IsProtected = isProtected,
        Position = macro.Position,
    };

    private static void Patch(Machine m, Token token)
    {
        m.ReadOptional(token);
        List<Token> name = m.ReadArgument(token);
        List<Token> search = m.ReadArgument(token);
        List<Token> replacement = m.ReadArgument(token);
        List<Token> success = m.ReadArgument(token);
        List<Token> failure = m.ReadArgument(token);
        if (name is [{ Symbol: { Meaning.Value: MacroMeaning macro } symbol }, ..])
        {
            Token[] wanted = [.. m.Definitions.NumberParameters(search, macro.Arity)];
            for (int i = 0; wanted.Length > 0 && i + wanted.Length <= macro.Body.Length; i++)
            {
                if (macro.Body.AsSpan(i, wanted.Length).SequenceEqual(wanted))
                {
                    m.Assign(symbol.Meaning, Copy(macro, [.. macro.Body[..i], .. m.Definitions.NumberParameters(replacement, macro.Arity), .. macro.Body[(i + wanted.Length)..]],
                        macro.IsProtected));
                    m.Push(success);
                    return;
                }
            }
        }

        m.Push(failure);
    }

    private static void AddTo(Machine m, Token token, bool before)
    {
        List<Token> name = m.ReadArgument(token);
        List<Token> code = m.ReadArgument(token);
        List<Token> success = m.ReadArgument(token);
        List<Token> failure = m.ReadArgument(token);
        if (name is not [{ Symbol: { Meaning.Value: MacroMeaning macro } symbol }, ..])
        {
            m.Push(failure);
            return;
        }

        List<Token> added = m.Definitions.NumberParameters(code, macro.Arity);
        m.Assign(symbol.Meaning, Copy(macro, before ? [.. added, .. macro.Body] : [.. macro.Body, .. added], macro.IsProtected));
        m.Push(success);
    }

    // { bool {x} and ( togl {y} or not test {\ifdef\z} ) }: and binds no closer than or, as documented.
    private static bool Expression(DocumentBuilder builder, Machine m, Token token)
    {
        bool value = Term();
        while (true)
        {
            string word = Word();
            if (word == "and")
            {
                value &= Term();
            }
            else if (word == "or")
            {
                value |= Term();
            }
            else
            {
                return value;
            }
        }

        bool Term()
        {
            switch (Word())
            {
                case "not":
                    return !Term();
                case "(":
                    return Expression(builder, m, token);
                case "bool":
                    return IsOn(builder, "", m.ReadText(token), token);
                case "togl":
                    return IsOn(builder, "toggle ", m.ReadText(token), token);
                case "test":
                    bool holds = false;
                    List<Token> test = m.ReadArgument(token);
                    m.Scan([.. test, .. TokenLists.Braced(m.Tokenize("1", -1), -1), .. TokenLists.Braced(m.Tokenize("0", -1), -1)], () => holds = m.NextExpanded().IsCharacter('1'));
                    return holds;
                default:
                    return false;
            }
        }

        string Word()
        {
            m.SkipSpaces();
            var word = new System.Text.StringBuilder();
            for (Token t = m.Next(); ; t = m.Next())
            {
                if (t.Is(Category.Letter))
                {
                    word.Append((char)t.Code);
                    continue;
                }

                if (word.Length == 0 && (t.IsCharacter('(') || t.IsCharacter(')')))
                {
                    return ((char)t.Code).ToString();
                }

                m.PutBack(t);
                return word.ToString();
            }
        }
    }
}
