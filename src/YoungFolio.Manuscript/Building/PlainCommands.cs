using YoungFolio.Documents;
using YoungFolio.Manuscript.Languages;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>
/// Primitives of the language (Knuth, <em>The TeXbook</em>, chapters 24 to 26) that paragraphs and formulas are made with: skips at both sides of lines,
/// divisions, leaders, marks, tokens at the beginning of formulas.
/// </summary>
internal sealed class PlainCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    private Scoped<Glue> _leftSkip = null!;
    private Scoped<Glue> _rightSkip = null!;
    private Scoped<Glue> _lastLineFill = null!;
    private Scoped<Token[]> _everyMath = null!;
    private Scoped<Token[]> _everyDisplay = null!;

    private static readonly Glue s_usualFill = new(default, new Dimension(65536), 1);

    internal void DefinePlain()
    {
        _leftSkip = Machine.Registers.NamedGlue("leftskip");
        _rightSkip = Machine.Registers.NamedGlue("rightskip");
        _lastLineFill = Machine.Registers.NamedGlue("parfillskip", s_usualFill);
        Machine.DefineMeaning("everymath", new RegisterMeaning<Token[]>(_everyMath = new Scoped<Token[]>([])));
        Machine.DefineMeaning("everydisplay", new RegisterMeaning<Token[]>(_everyDisplay = new Scoped<Token[]>([])));
        Machine.Define("discretionary", (m, t) =>
        {
            List<Token> before = m.ReadArgument(t);
            List<Token> after = m.ReadArgument(t);
            List<Token> whole = m.ReadArgument(t);
            // Undivided it prints its third part; where a hyphen would end the first, the word may be divided there.
            m.Push([.. whole, Token.Command(m.Symbol(before.Count > 0 && after.Count == 0 && whole.Count == 0 ? "-" : "allowbreak"), t.Position)]);
        });
        foreach (string name in (string[])["leaders", "cleaders", "xleaders"])
        {
            Machine.Define(name, (_, t) => ReadLeaders(t));
        }

        Machine.DefineMeaning("lastskip", new QuantityCommand("lastskip", _ => Quantity.Of(LastSkip())));
        foreach (string name in (string[])["lastkern", "lastpenalty", "lastnodetype", "currentgrouptype", "parshapelength", "parshapeindent"])
        {
            Machine.DefineMeaning(name, new QuantityCommand(name, m =>
            {
                if (name.StartsWith("parshape", StringComparison.Ordinal))
                {
                    m.Quantities.ScanInteger();
                }

                return Quantity.Of(0);
            }));
        }

        Machine.DefineMeaning("currentgrouplevel", new QuantityCommand("currentgrouplevel", static m => Quantity.Of(m.Groups.Count)));
        Machine.DefineMeaning("gluestretch", new QuantityCommand("gluestretch", static m => Quantity.Of(m.Quantities.ScanGlue().Stretch)));
        Machine.DefineMeaning("glueshrink", new QuantityCommand("glueshrink", static m => Quantity.Of(m.Quantities.ScanGlue().Shrink)));
        Machine.DefineExpandable("pdfstrcmp", static (m, t) =>
        {
            int order = string.CompareOrdinal(m.ReadText(t), m.ReadText(t));
            m.Conversions.PushText(order < 0 ? "-1" : order > 0 ? "1" : "0", t.Position);
        });
        Machine.DefineMeaning("strcmp", Machine.Symbol("pdfstrcmp").Meaning.Value!);
        Machine.Define("mark", static (m, t) =>
        {
            var mark = new MacroMeaning { Pattern = [], Body = [.. m.Expander.ExpandFully(m.ReadArgument(t))], Arity = 0 };
            foreach (string name in (string[])["topmark", "firstmark", "botmark"])
            {
                m.Assign(m.Symbol(name).Meaning, mark, true);
            }
        });
        Machine.DefineExpandable("languagename", (m, t) => m.Conversions.PushText(Language.Of(Builder.Language.Value).Name, t.Position));
        // What makes heads may be redefined; until then it is the class's own, and no macro.
        foreach ((string name, string markup) in (ReadOnlySpan<(string, string)>)[("@makechapterhead", "\\chapter"), ("@makeschapterhead", "\\chapter*")])
        {
            Machine.Define(name, (m, t) => m.Push(m.Tokenize(markup, t.Position)));
        }

        Machine.DefineExpandable("IfFormatAtLeastTF", static (m, t) =>
        {
            m.ReadArgument(t);
            List<Token> yes = m.ReadArgument(t);
            m.ReadArgument(t);
            m.Push(yes);
        });
        DefineSynonyms();
    }

    /// <summary>A paragraph's style with the skips at both sides of its lines: those that stretch leave the side ragged.</summary>
    internal ParagraphStyle WithSkips(ParagraphStyle style)
    {
        (Glue left, Glue right) = (_leftSkip.Value, _rightSkip.Value);
        Glue? fill = _lastLineFill.Value == s_usualFill ? null : _lastLineFill.Value;
        if (left == default && right == default && fill is null)
        {
            return style;
        }

        return style with
        {
            LastLineFill = fill,
            LeftMargin = style.LeftMargin + left.Width.Points,
            RightMargin = style.RightMargin + right.Width.Points,
            Alignment = (left.Stretch.Scaled > 0, right.Stretch.Scaled > 0) switch
            {
                (true, true) => Alignment.Centre,
                (true, false) => Alignment.Right,
                (false, true) => Alignment.Left,
                _ => style.Alignment,
            },
        };
    }

    /// <summary>Puts the tokens that every formula begins with before it.</summary>
    internal void BeginFormula(bool isDisplay)
    {
        if ((isDisplay ? _everyDisplay : _everyMath).Value is { Length: > 0 } tokens)
        {
            Machine.Push(tokens);
        }
    }

    // \leaders, a box or a rule, and the space that it fills.
    private void ReadLeaders(Token token)
    {
        Token what = Machine.NextExpanded();
        bool isRule = what.IsCommand("hrule") || what.IsCommand("vrule");
        IReadOnlyList<Inline> content = [];
        if (isRule)
        {
            while (Machine.Quantities.TakeKeyword("height") || Machine.Quantities.TakeKeyword("depth") || Machine.Quantities.TakeKeyword("width"))
            {
                Machine.Quantities.ScanDimension();
            }
        }
        else
        {
            Machine.PutBack(what);
            content = Builder.Boxes.ReadBoxContent();
        }

        Token space = Machine.Arguments.NextNonSpaceExpanded();
        if (space.IsCommand("hskip"))
        {
            Glue glue = Machine.Quantities.ScanGlue();
            if (glue.StretchOrder == 0)
            {
                Builder.AddInline(isRule ? new RuleInline(glue.Width.Points, 0.4, 0) : new SpaceInline(glue, false));
                return;
            }
        }
        else if (space.Symbol?.Name is not ("hfill" or "hfil" or "hss"))
        {
            Machine.PutBack(space);
            Findings.Check("wrong-use", token.Position, token.Length, $"{token} needs a space to fill behind its box or rule.",
                "Write \\hfill or \\hskip there.");
            return;
        }

        Builder.AddInline(new LeadersInline(Builder.Style.Value, isRule) { Content = content });
    }

    private Glue LastSkip() => Builder.Frames.Peek() is { Paragraph: null, Blocks: [.., SpaceBlock space] } ? space.Glue : default;

    // Primitives that here are other commands by another name.
    private void DefineSynonyms()
    {
        Machine.Define("insert", (m, t) =>
        {
            // Its text stands at the foot of the page, as a note without a mark.
            m.Quantities.ScanInteger();
            Builder.Notes.AddUnmarked(m.ReadArgument(t), t);
        });
        Machine.Define("shipout", static (_, _) => { });
        Machine.Define("newinsert", static (m, t) => m.Push(Token.Command(m.Symbol("newcount"), t.Position)));
        Machine.Define("muskipdef", static (m, t) => m.Assignments.DefineFromNumber(n => new RegisterMeaning<Glue>(m.Registers.MuSkip(n))));
        Machine.Define("stop", static (m, t) => m.Push(m.Tokenize("\\end{document}", t.Position)));
        Machine.Define("obeycr", static (m, t) => m.Push(Token.Command(m.Symbol("obeylines"), t.Position)));
        Machine.Define("restorecr", static (m, _) => m.Categories.Set('\n', Category.EndOfLine));
        Machine.Define("offinterlineskip", (m, _) => m.Assign(Builder.Leading, ParagraphStyle.NoLeading));
    }
}
