using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Displayed formulas: their environments, numbers and tags.</summary>
internal sealed class DisplayCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    private readonly Scoped<int> _displayBreaks = new(0);

    internal void DefineDisplays()
    {
        Builder.Environments.DefineEnvironment("math", t => Builder.Formulas.AddFormula(t, FormulaReader.MathEnd.Cell));
        Builder.Environments.DefineEnvironment("displaymath", t => Display(t, () => Builder.Formulas.ReadMathList(FormulaReader.MathEnd.Cell, t), false));
        Builder.Environments.DefineEnvironment("equation", t => Display(t, () => Builder.Formulas.ReadMathList(FormulaReader.MathEnd.Cell, t), true));
        DefineRows("eqnarray", DisplayForm.Columns);
        Builder.MathCommands.DefineMath("nonumber", static (_, _) => { });
        foreach (string name in (string[])["eqno", "leqno"])
        {
            Builder.MathCommands.DefineMath(name, (m, t) =>
            {
                // The rest of the display is its number.
                var number = new List<Token>();
                while (!(m.Peek().Is(Category.MathShift) || m.Peek().Is(Category.Stop) || m.Peek().IsCommand("]") || m.Peek().IsCommand("end")))
                {
                    number.Add(m.Next());
                }

                _plainNumber = Builder.BuildInlines(BoxCommands.AsFormula(number, t).ToList());
            });
        }

        Machine.Counters.Add("parentequation");
        Machine.Definitions.Load("\\newenvironment{subequations}{\\refstepcounter{equation}\\edef\\theparentequation{\\theequation}\\setcounter{parentequation}{\\value{equation}}\\setcounter{equation}{0}"
            + "\\def\\theequation{\\theparentequation\\alph{equation}}\\ignorespaces}{\\setcounter{equation}{\\value{parentequation}}\\ignorespacesafterend}");
    }

    private List<Inline>? _plainNumber;

    internal void DefineAmsmathDisplays()
    {
        Builder.MathCommands.DefineMath("notag", static (_, _) => { });
        Builder.MathCommands.DefineMath("tag", static (m, t) =>
        {
            m.TakeStar();
            m.ReadArgument(t);
        });
        Builder.Environments.DefineEnvironment("equation*", t => Display(t, () => Builder.Formulas.ReadMathList(FormulaReader.MathEnd.Cell, t), false));
        DefineRows("align", DisplayForm.Aligned);
        DefineRows("flalign", DisplayForm.Flush);
        DefineRows("alignat", DisplayForm.AlignedAt);
        DefineRows("xalignat", DisplayForm.Aligned, takesCount: true);
        DefineRows("gather", DisplayForm.Gathered);
        DefineRows("multline", DisplayForm.Multline);
        foreach (string name in (string[])["intertext", "shortintertext"])
        {
            Machine.Define(name, (m, t) =>
            {
                Findings.Fix("text-between", t.Position, t.Length, $"{t} stands between two rows of a display, right after \\\\.", "Put it there, or write the words as a paragraph.");
                m.Push(m.ReadArgument(t));
            });
        }

        foreach (string name in (string[])["shoveleft", "shoveright"])
        {
            Builder.MathCommands.DefineMath(name, (m, t) =>
            {
                m.ReadOptional(t);
                _shove = name == "shoveleft" ? -1 : 1;
                m.Push(m.ReadArgument(t));
            });
        }

        Machine.Define("allowdisplaybreaks", (m, t) =>
            m.Assign(_displayBreaks, m.ReadOptionalText(t) is { } degree && int.TryParse(degree, out int d) ? Math.Clamp(d, 0, 4) : 4));
        Builder.MathCommands.DefineMath("displaybreak", (m, t) => _rowBreak = -TextCommands.Urgency(m.ReadOptionalText(t)));
        Machine.Definitions.Load("\\def\\numberwithin#1#2{\\@addtoreset{#1}{#2}\\expandafter\\def\\csname the#1\\expandafter\\endcsname\\expandafter{\\csname the#2\\endcsname.\\arabic{#1}}}");
        Machine.Definitions.DefineMacro("minalignsep", "10pt");
    }

    /// <summary>What stands around the rows of the display that comes next; null: nothing.</summary>
    internal DisplaySurroundings? NextSurroundings { get; set; }

    private int _shove;
    private int? _rowBreak;

    private void DefineRows(string name, DisplayForm form, bool takesCount = false)
    {
        foreach (bool numbered in (bool[])[true, false])
        {
            string full = numbered ? name : name + "*";
            Builder.Environments.DefineEnvironment(full, t =>
            {
                if (takesCount || form == DisplayForm.AlignedAt)
                {
                    Machine.ReadArgument(t);
                }

                DisplayRows(t, form, numbered);
            });
        }
    }

    internal void Display(Token token, Func<MathList> read, bool numbered)
    {
        if (!Builder.DocumentBegun && !Builder.CanPrint(token.Position))
        {
            return;
        }

        Builder.EndParagraph(continues: true);
        (List<Inline> Number, string Anchor)? number = Number(LookAhead(false), numbered, token);
        _plainNumber = null;
        Machine.BeginGroup(GroupKind.Formula, "", token.Position);
        Builder.Plain.BeginFormula(isDisplay: true);
        MathList list = read();
        Builder.Formulas.EndFormulaGroup();
        AddDisplay([new DisplayRow([list], number?.Number ?? _plainNumber, number?.Anchor, token.Position)], DisplayForm.Plain);
    }

    private void AddDisplay(List<DisplayRow> rows, DisplayForm form)
    {
        BlockFrame frame = Builder.Frames.Peek();
        if (frame.InlineOnly)
        {
            foreach (MathList cell in rows.SelectMany(r => r.Cells))
            {
                Builder.AddInline(new MathInline(cell, Builder.Style.Value));
            }

            return;
        }

        Builder.EndParagraph(continues: true);
        frame.Blocks.Add(new DisplayBlock
        {
            Rows = rows,
            Form = form,
            Style = Builder.Style.Value,
            Paragraph = Builder.ParagraphStyleNow(0),
            NumbersLeft = Builder.Pages.NumbersLeft,
            LeftIndent = Builder.Pages.DisplaysLeft ? Builder.Pages.MathIndent.Value.Points : null,
            BreakPenalty = _displayBreaks.Value switch { 0 => 9_000, 1 => 5_000, 2 => 1_000, 3 => 300, _ => 0 },
            Skips = DisplaySkipsNow(),
        });
        Builder.Formulas.AddLateAnchors();
        frame.Continues = true;
        frame.AfterHeading = false;
        Machine.SkipSpaces();
    }

    private DisplaySkips DisplaySkipsNow()
    {
        return new DisplaySkips(Skip("abovedisplayskip"), Skip("belowdisplayskip"), Skip("abovedisplayshortskip"), Skip("belowdisplayshortskip"));

        Glue Skip(string name) => Machine.Registers.NamedGlue(name).Value;
    }

    private void DisplayRows(Token token, DisplayForm form, bool numbered)
    {
        if (!Builder.DocumentBegun && !Builder.CanPrint(token.Position))
        {
            return;
        }

        if (Builder.Formulas.Math is not null)
        {
            string name = Machine.Groups.Count > 0 ? Machine.Groups[^1].Name : "align";
            Findings.Fix("display-in-formula", token.Position, token.Length, $"The environment {name} stands inside another formula.",
                $"Write {(form is DisplayForm.Gathered ? "gathered" : "aligned")} in its place, or take the environment around it away.");
            Builder.MathGrids.AddRowsInFormula(token, form is DisplayForm.Gathered or DisplayForm.Multline);
            return;
        }

        Builder.EndParagraph(continues: true);
        DisplaySurroundings? around = NextSurroundings;
        NextSurroundings = null;
        var rows = new List<DisplayRow>();
        bool aligned = form is DisplayForm.Aligned or DisplayForm.AlignedAt or DisplayForm.Flush;
        bool more = true;
        // A multline is one formula: one number stands at its last row, or at its first when numbers stand left.
        (List<Inline> Number, string Anchor)? whole = form == DisplayForm.Multline ? Number(LookAhead(false), numbered, token) : null;
        while (more && !Builder.Formulas.MathAborted)
        {
            IReadOnlyList<Block>? text = Intertext();
            int position = Machine.Peek().Position;
            Token at = position >= 0 ? token.At(position) : token;
            (List<Inline> Number, string Anchor)? number = form == DisplayForm.Multline || Machine.Peek().IsCommand("end") ? null : Number(LookAhead(true), numbered, at);
            _shove = 0;
            _rowBreak = null;
            Machine.BeginGroup(GroupKind.Formula, "", token.Position);
            (List<MathList> cells, more, double gap) = Builder.MathGrids.ReadRow(token, aligned, FormulaReader.MathEnd.Cell);
            Builder.Formulas.EndFormulaGroup();
            if (form == DisplayForm.Multline && rows.Count > 0)
            {
                // A sign at a row's beginning joins it to the row before.
                cells[0] = new MathList([new Atom(AtomClass.Ordinary, new ListNucleus(MathList.Empty)), .. cells[0].Nodes]);
            }

            if (more || text is not null || cells.Exists(c => c.Nodes.Count > 0))
            {
                rows.Add(new DisplayRow(cells, number?.Number, number?.Anchor, position) { Before = text, SpaceBelow = gap + Machine.Registers.NamedGlue("jot").Value.Width.Points - PageCommands.UsualJot, Shove = _shove, BreakBelow = _rowBreak });
            }
        }

        if (whole is { } one && rows.Count > 0)
        {
            int at = Builder.Pages.NumbersLeft ? 0 : rows.Count - 1;
            rows[at] = rows[at] with { Number = one.Number, Anchor = one.Anchor };
        }

        if (around is null)
        {
            AddDisplay(rows, form);
            return;
        }

        AddDisplay(around.Around(rows, token), form == DisplayForm.Columns ? form : DisplayForm.AlignedAt);
    }

    // Text between two rows, which keep their columns.
    private IReadOnlyList<Block>? Intertext()
    {
        Machine.SkipSpaces();
        Token next = Machine.Peek();
        if (!next.IsCommand("intertext") && !next.IsCommand("shortintertext"))
        {
            return null;
        }

        Machine.Next();
        List<Token> text = Machine.ReadArgument(next);
        MathContext? outer = Builder.Formulas.Math;
        Builder.Formulas.Math = null;
        var paragraph = new ParagraphBlock(Builder.BuildInlines(text), Builder.ParagraphStyleNow(0));
        Builder.Formulas.Math = outer;
        double space = next.IsCommand("intertext") ? 10 : 3;
        return [new SpaceBlock(Glue.Of(space, 2, 2)), paragraph, new SpaceBlock(Glue.Of(space, 2, 2))];
    }

    /// <summary>What a row says about its number.</summary>
    private readonly record struct RowTag(bool IsUnnumbered, List<Token>? Tag, bool IsPlain, bool EndsProof);

    // Looks ahead for \notag, \nonumber and \tag, since a label needs the number first: to the row's end, or the display's.
    private RowTag LookAhead(bool row)
    {
        Lexer? lexer = Machine.Input.DirectLexer;
        var seen = new List<Token>();
        var result = default(RowTag);
        int depth = 0;
        int environments = 0;
        while (true)
        {
            Token token = Machine.Next();
            if (token.Is(Category.Stop))
            {
                break;
            }

            seen.Add(token);
            depth += token.Is(Category.BeginGroup) ? 1 : token.Is(Category.EndGroup) ? -1 : 0;
            // The display's own \end stops even inside a brace that was left open.
            if (depth < 0 || token.IsCommand("par") || (environments == 0 && token.IsCommand("end"))
                || (depth == 0 && environments == 0 && (token.IsCommand("]") || token.Is(Category.MathShift) || (row && token.IsCommand("\\")))))
            {
                break;
            }

            environments += token.IsCommand("begin") ? 1 : token.IsCommand("end") ? -1 : 0;
            if (token.IsCommand("notag") || token.IsCommand("nonumber"))
            {
                result = result with { IsUnnumbered = true };
            }
            else if (token.IsCommand("qedhere") && environments == 0)
            {
                result = result with { EndsProof = true };
            }
            else if (token.IsCommand("tag") && environments == 0)
            {
                bool star = Machine.Peek().IsCharacter('*');
                if (star)
                {
                    seen.Add(Machine.Next());
                }

                List<Token> tag = Machine.ReadArgument(token);
                seen.AddRange(TokenLists.Braced(tag, token.Position));
                result = result with { Tag = tag, IsPlain = star };
            }
        }

        Machine.Arguments.Unread(seen, lexer);
        return result;
    }

    private (List<Inline> Number, string Anchor)? Number(RowTag tag, bool numbered, Token token)
    {
        if (tag.Tag is { } own)
        {
            string anchor = Builder.HeadingCommands.NewAnchor("equation");
            List<Token> printed = tag.IsPlain ? own : [Token.Character('(', Category.Other, token.Position), .. own, Token.Character(')', Category.Other, token.Position)];
            List<Inline> number = Upright(printed);
            string text = PlainText.Of(tag.IsPlain ? number : Upright(own));
            Machine.Assign(Builder.CurrentLabel, new CurrentLabel("equation", text, anchor));
            Builder.Formulas.Equations.Add(new Equation(text, anchor, token.Position));
            return (number, anchor);
        }

        if (numbered && !tag.IsUnnumbered)
        {
            return NumberEquation(token);
        }

        // The sign at a proof's end stands where a number would (amsthm).
        _hasQed = tag.EndsProof;
        return tag.EndsProof ? (Upright([Token.Command(Machine.Symbol("qedsymbol"), token.Position)]), Builder.HeadingCommands.NewAnchor("qed")) : null;
    }

    private bool _hasQed;

    /// <summary>Whether the row that is being read has the sign at a proof's end beside it already; no longer from there on.</summary>
    internal bool TakeQed()
    {
        bool has = _hasQed;
        _hasQed = false;
        return has;
    }

    private (List<Inline> Number, string Anchor) NumberEquation(Token token)
    {
        Machine.Counters.Step("equation", token);
        string anchor = Builder.References.StartLabel("equation", token);
        Builder.Formulas.Equations.Add(new Equation(Builder.CurrentLabel.Value!.Number ?? "", anchor, token.Position));
        return (Upright([Token.Character('(', Category.Other, token.Position), Builder.HeadingCommands.TheOf("equation", token.Position), Token.Character(')', Category.Other, token.Position)]), anchor);
    }

    private List<Inline> Upright(List<Token> tokens)
    {
        Machine.BeginGroup(GroupKind.Command, "", tokens.Count > 0 ? tokens[0].Position : PositionTable.None);
        Machine.Assign(Builder.Style, Builder.TypefaceCommands.PlainStyle(Builder.Style.Value.Size));
        List<Inline> inlines = Builder.BuildInlines(tokens);
        Machine.EndGroup();
        return inlines;
    }
}
