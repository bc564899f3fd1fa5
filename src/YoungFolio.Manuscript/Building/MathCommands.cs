using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// The commands and environments of mathematics.
public sealed partial class DocumentBuilder
{
    private void DefineMathematics()
    {
        foreach ((string name, SymbolMeaning meaning) in Symbols.All)
        {
            Machine.DefineMeaning(name, meaning);
        }

        Machine.Define("(", (_, t) => AddFormula(t, MathEnd.Parenthesis));
        Machine.Define(")", (_, t) => Findings.Fix("surplus-end", t.Position, 2, "\\) ends a formula, and none is open.", "Delete it, or put \\( before."));
        Machine.Define("[", (_, t) => Display(t, () => ReadMathList(MathEnd.Bracket, t), false));
        Machine.Define("]", (_, t) => Findings.Fix("surplus-end", t.Position, 2, "\\] ends a display, and none is open.", "Delete it, or put \\[ before."));
        Machine.Define("ensuremath", (m, t) =>
        {
            List<Token> formula = m.ReadArgument(t);
            m.Push(_math is null ? [.. AsFormula(formula, t)] : [.. Machine.Braced(formula, t.Position)]);
        });
        DefineMath("frac", (m, t) => AddAtom(AtomClass.Inner, Fraction(t), t));
        DefineMath("sqrt", (m, t) =>
        {
            MathList? degree = m.ReadOptional(t) is { } index ? MathOf(index, t) : null;
            AddAtom(AtomClass.Ordinary, new RadicalNucleus(ReadMathArgument(t), degree), t);
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
            DefineMath(name, (_, t) => AddAtom(AtomClass.Ordinary, new AccentNucleus(ReadMathArgument(t), accent, grows), t));
        }

        DefineMath("overline", (_, t) => AddAtom(AtomClass.Ordinary, new BarNucleus(ReadMathArgument(t), true), t));
        BuiltInCommand underline = (BuiltInCommand)Machine.Symbol("underline").Meaning.Value!;
        Machine.Define("underline", (m, t) =>
        {
            if (_math is null)
            {
                underline.Execute(m, t);
            }
            else
            {
                AddAtom(AtomClass.Ordinary, new BarNucleus(ReadMathArgument(t), false), t);
            }
        });
        DefineMath("limits", (_, t) => LastAtom(t).Limits = Limits.Always);
        DefineMath("nolimits", (_, t) => LastAtom(t).Limits = Limits.Never);
        DefineMath("displaystyle", (_, _) => _math!.Nodes.Add(new SizeChange(MathSize.Display)));
        DefineMath("textstyle", (_, _) => _math!.Nodes.Add(new SizeChange(MathSize.Text)));
        DefineMath("scriptstyle", (_, _) => _math!.Nodes.Add(new SizeChange(MathSize.Script)));
        DefineMath("scriptscriptstyle", (_, _) => _math!.Nodes.Add(new SizeChange(MathSize.ScriptScript)));
        foreach ((string name, MathAlphabet alphabet) in (ReadOnlySpan<(string, MathAlphabet)>)[
            ("mathrm", MathAlphabet.Upright), ("mathit", MathAlphabet.Italic), ("mathbf", MathAlphabet.Bold), ("boldsymbol", MathAlphabet.BoldItalic),
            ("mathbb", MathAlphabet.Blackboard), ("mathcal", MathAlphabet.Script), ("mathscr", MathAlphabet.Script),
            ("mathfrak", MathAlphabet.Fraktur), ("mathsf", MathAlphabet.Sans), ("mathtt", MathAlphabet.Mono)])
        {
            DefineMath(name, (m, t) =>
            {
                Machine.BeginGroup(GroupKind.Command, "", t.Position);
                m.Assign(_alphabet, alphabet);
                MathList list = ReadMathArgument(t);
                Machine.EndGroup();
                AddAtom(AtomClass.Ordinary, new ListNucleus(list), t);
            });
        }

        foreach ((string name, AtomClass atomClass) in (ReadOnlySpan<(string, AtomClass)>)[
            ("mathord", AtomClass.Ordinary), ("mathop", AtomClass.Operator), ("mathbin", AtomClass.Binary), ("mathrel", AtomClass.Relation),
            ("mathopen", AtomClass.Opening), ("mathclose", AtomClass.Closing), ("mathpunct", AtomClass.Punctuation), ("mathinner", AtomClass.Inner)])
        {
            DefineMath(name, (_, t) => AddAtom(atomClass, new ListNucleus(ReadMathArgument(t)), t));
        }

        DefineMath("cdots", (_, t) => AddSymbol("⋯", AtomClass.Inner, t.Position, false));
        DefineMath("vdots", (_, t) => AddSymbol("⋮", AtomClass.Ordinary, t.Position, false));
        DefineMath("ddots", (_, t) => AddSymbol("⋱", AtomClass.Inner, t.Position, false));
        DefineMath("|", (_, t) => AddSymbol("‖", AtomClass.Ordinary, t.Position, false));
        DefineMath("nonumber", static (_, _) => { });
        DefineEnvironment("math", t => AddFormula(t, MathEnd.Cell));
        DefineEnvironment("displaymath", t => Display(t, () => ReadMathList(MathEnd.Cell, t), false));
        DefineEnvironment("equation", t => Display(t, () => ReadMathList(MathEnd.Cell, t), true));
        DefineGrid("array", "", "", 1);
    }

    /// <summary>Gives the commands of the package amsmath.</summary>
    internal void DefineAmsmath()
    {
        Machine.Define("text", (m, t) => Styled(t, Machine.Symbol("normalfont")));
        DefineMath("dfrac", (_, t) => AddAtom(AtomClass.Inner, Fraction(t, MathSize.Display), t));
        DefineMath("tfrac", (_, t) => AddAtom(AtomClass.Inner, Fraction(t, MathSize.Text), t));
        DefineMath("binom", (_, t) =>
        {
            MathList top = ReadMathArgument(t);
            AddAtom(AtomClass.Inner, new FractionNucleus(top, ReadMathArgument(t)) { HasRule = false, Left = "(", Right = ")" }, t);
        });
        DefineMath("operatorname", (m, t) =>
        {
            bool star = m.TakeStar();
            AddAtom(AtomClass.Operator, new WordNucleus(m.ReadText(t)), t, star ? Limits.Automatic : Limits.Never);
        });
        Machine.Define("DeclareMathOperator", (m, t) =>
        {
            bool star = m.TakeStar();
            string? name = m.ReadArgument(t) is [{ Symbol: { } symbol }, ..] ? symbol.Name : null;
            string text = m.ReadText(t);
            if (name is not null)
            {
                DefineMath(name, (_, u) => AddAtom(AtomClass.Operator, new WordNucleus(text), u, star ? Limits.Automatic : Limits.Never));
            }
        });
        Machine.LoadDefinitions("\\def\\eqref#1{\\textup{(\\ref{#1})}}");
        DefineMath("notag", static (_, _) => { });
        DefineEnvironment("equation*", t => Display(t, () => ReadMathList(MathEnd.Cell, t), false));
        foreach (string name in (string[])["align", "gather"])
        {
            DefineEnvironment(name, t => DisplayRows(t, name, true));
            DefineEnvironment(name + "*", t => DisplayRows(t, name, false));
        }

        DefineGrid("matrix", "", "", 1);
        DefineGrid("pmatrix", "(", ")", 1);
        DefineGrid("bmatrix", "[", "]", 1);
        DefineGrid("Bmatrix", "{", "}", 1);
        DefineGrid("vmatrix", "|", "|", 1);
        DefineGrid("cases", "{", "", 1, "l");
        DefineGrid("aligned", "", "", 0, "rl", true);
        DefineGrid("split", "", "", 0, "rl", true);
        DefineGrid("gathered", "", "", 0, "c", true);
    }

    private void DefineMath(string name, Action<Machine, Token> execute) => Machine.DefineMeaning(name, new BuiltInCommand(name, (m, t) =>
    {
        if (_math is null)
        {
            StrayMathematics(t);
        }
        else
        {
            execute(m, t);
        }
    }));

    private void AddAtom(AtomClass atomClass, Nucleus nucleus, Token token, Limits limits = Limits.Automatic) =>
        _math!.Nodes.Add(new Atom(atomClass, nucleus) { Position = token.Position, Limits = limits });

    private FractionNucleus Fraction(Token token, MathSize? size = null)
    {
        MathList top = ReadMathArgument(token);
        return new FractionNucleus(top, ReadMathArgument(token)) { Size = size };
    }

    private MathList MathOf(List<Token> tokens, Token token)
    {
        MathList list = MathList.Empty;
        Machine.Scan(tokens, () => list = ReadMathList(MathEnd.Scan, token));
        return list;
    }

    private void Delimited(Token token)
    {
        string left = ReadDelimiter(token);
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        MathList content = ReadMathList(MathEnd.Right, token);
        string right = "";
        if (!_mathAborted)
        {
            Machine.EndGroup();
            right = ReadDelimiter(Machine.NextExpanded());
        }

        AddAtom(AtomClass.Inner, new DelimitedNucleus(left, content, right), token);
    }

    private string ReadDelimiter(Token command)
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

    // ---- displays ---------------------------------------------------------------------------------------

    private void Display(Token token, Func<MathList> read, bool numbered)
    {
        if (!_documentBegun && !CanPrint(token.Position))
        {
            return;
        }

        EndParagraph(continues: true);
        List<Inline>? number = null;
        string? anchor = null;
        if (numbered)
        {
            (number, anchor) = NumberEquation(token);
        }

        Machine.BeginGroup(GroupKind.Formula, "", token.Position);
        MathList list = read();
        EndFormulaGroup();
        AddDisplay([new DisplayRow([list], number, anchor, token.Position)], false);
    }

    private (List<Inline> Number, string Anchor) NumberEquation(Token token)
    {
        Machine.StepCounter("equation", token);
        string anchor = StartLabel("equation", token);
        _equations.Add(new Equation(_currentLabel.Value!.Number ?? "", anchor, token.Position));
        List<Token> the = [Token.Character('(', Category.Other, token.Position), TheOf("equation", token.Position), Token.Character(')', Category.Other, token.Position)];
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        Machine.Assign(_style, new TextStyle(FontFamily.Roman, false, FontShape.Upright, _style.Value.Size));
        List<Inline> number = BuildInlines(the);
        Machine.EndGroup();
        return (number, anchor);
    }

    private void AddDisplay(List<DisplayRow> rows, bool aligned)
    {
        BlockFrame frame = _frames.Peek();
        if (frame.InlineOnly)
        {
            foreach (DisplayRow row in rows)
            {
                foreach (MathList cell in row.Cells)
                {
                    AddInline(new MathInline(cell, _style.Value));
                }
            }

            return;
        }

        EndParagraph(continues: true);
        frame.Blocks.Add(new DisplayBlock
        {
            Rows = rows,
            IsAligned = aligned,
            Style = _style.Value,
            Paragraph = ParagraphStyleNow(0),
            NumbersLeft = NumbersLeft,
            LeftIndent = DisplaysLeft ? _mathIndent.Value.Points : null,
        });
        AddLateAnchors();
        frame.Continues = true;
        frame.AfterHeading = false;
        Machine.SkipSpaces();
    }

    private void DisplayRows(Token token, string name, bool numbered)
    {
        if (!_documentBegun && !CanPrint(token.Position))
        {
            return;
        }

        EndParagraph(continues: true);
        var rows = new List<DisplayRow>();
        bool more = true;
        while (more && !_mathAborted)
        {
            Machine.BeginGroup(GroupKind.Formula, "", token.Position);
            int position = Machine.Peek().Position;
            (List<Inline> Number, string Anchor)? number = numbered && !RowIsUnnumbered() ? NumberEquation(position >= 0 ? token.At(position) : token) : null;
            (List<MathList> cells, more) = ReadRow(token, name == "align");
            EndFormulaGroup();
            if (more || cells.Exists(c => c.Nodes.Count > 0))
            {
                rows.Add(new DisplayRow(cells, number?.Number, number?.Anchor, position));
            }
            else if (number is not null)
            {
                _equations.RemoveAt(_equations.Count - 1);
                Machine.Assign(Machine.Counter("equation")!, Machine.Counter("equation")!.Value - 1, true);
            }
        }

        AddDisplay(rows, name == "align");
    }

    // Looks ahead in the row for \notag or \nonumber, since a label in it needs the number first.
    private bool RowIsUnnumbered()
    {
        var seen = new List<Token>();
        bool found = false;
        int depth = 0;
        while (true)
        {
            Token token = Machine.Next();
            if (token.Is(Category.Stop))
            {
                break;
            }

            seen.Add(token);
            depth += token.Is(Category.BeginGroup) ? 1 : token.Is(Category.EndGroup) ? -1 : 0;
            found |= token.IsCommand("notag") || token.IsCommand("nonumber");
            if (depth < 0 || (depth == 0 && (token.IsCommand("\\") || token.IsCommand("end") || token.IsCommand("par"))))
            {
                break;
            }
        }

        Machine.Push(seen);
        return found;
    }

    private (List<MathList> Cells, bool More) ReadRow(Token token, bool aligned)
    {
        var cells = new List<MathList>();
        while (true)
        {
            MathList cell = ReadMathList(MathEnd.Cell, token);
            // An empty atom before a sign at a column's beginning gives it its space (amsmath's own way).
            cells.Add(aligned && cells.Count % 2 == 1 && cell.Nodes.Count > 0
                ? new MathList([new Atom(AtomClass.Ordinary, new ListNucleus(MathList.Empty)), .. cell.Nodes])
                : cell);
            if (_mathAborted)
            {
                return (cells, false);
            }

            Token end = Machine.NextExpanded();
            if (end.IsCommand("\\"))
            {
                Machine.TakeStar();
                Machine.ReadOptional(end);
                return (cells, true);
            }

            if (!end.Is(Category.Alignment))
            {
                Machine.PutBack(end);
                return (cells, false);
            }
        }
    }

    private void DefineGrid(string name, string left, string right, double gap, string columns = "c", bool display = false) =>
        DefineEnvironment(name, t =>
        {
            if (name == "array")
            {
                columns = new string([.. Machine.ReadText(t).Where(c => c is 'l' or 'c' or 'r')]);
            }

            if (_math is null)
            {
                Findings.Fix("mathematics-outside", t.Position, name.Length + 8, $"The environment {name} belongs in a formula.",
                    "Put \\[ before it and \\] after it.");
                Machine.BeginGroup(GroupKind.Formula, "", t.Position);
                MathList list = MathOfGrid(t, left, right, gap, columns, display);
                EndFormulaGroup();
                AddInline(new MathInline(list, _style.Value));
                return;
            }

            _math.Nodes.AddRange(MathOfGrid(t, left, right, gap, columns, display).Nodes);
        });

    private MathList MathOfGrid(Token token, string left, string right, double gap, string columns, bool display)
    {
        var rows = new List<IReadOnlyList<MathList>>();
        bool more = true;
        while (more && !_mathAborted)
        {
            (List<MathList> cells, more) = ReadRow(token, columns == "rl");
            if (more || cells.Count > 1 || cells[0].Nodes.Count > 0)
            {
                rows.Add(cells);
            }
        }

        var grid = new Atom(AtomClass.Ordinary, new GridNucleus(rows, columns.Length == 0 ? "c" : columns) { ColumnGap = gap, InDisplay = display })
        {
            Position = token.Position,
        };
        return left.Length + right.Length == 0
            ? new MathList([grid])
            : new MathList([new Atom(AtomClass.Inner, new DelimitedNucleus(left, new MathList([grid]), right)) { Position = token.Position }]);
    }
}
