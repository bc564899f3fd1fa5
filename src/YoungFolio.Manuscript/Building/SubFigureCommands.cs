using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Figures and tables in parts, (a) and (b), each with a caption (the packages subcaption and subfig), and figures beside text.</summary>
internal sealed class SubFigureCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    /// <summary>Gives parts of floats with captions of their own.</summary>
    internal void DefineSubFigures()
    {
        foreach (string kind in (string[])["figure", "table"])
        {
            string sub = "sub" + kind;
            if (!Machine.IsDefined("c@" + sub))
            {
                Machine.Counters.Add(sub, kind);
            }

            Machine.Definitions.Load($"\\def\\the{sub}{{\\alph{{{sub}}}}}\\def\\fnum@{sub}{{(\\the{sub})}}\\def\\p@{sub}{{\\the{kind}}}");
            Builder.Environments.DefineEnvironment(sub, t =>
            {
                Builder.Boxes.BeginMinipage(t);
                Machine.Assign(Builder.Float, new FloatKind(sub, "") { Open = Builder.Float.Value?.Open });
            }, _ => Builder.Boxes.EndMinipage());
        }

        Machine.Define("subcaption", (_, t) => AsSubFloat(() => Builder.Figures.ReadCaption(t)));
        Machine.Define("subcaptionbox", (m, t) =>
        {
            m.TakeStar();
            m.ReadOptional(t);
            List<Token> caption = m.ReadArgument(t);
            double? width = m.ReadOptional(t) is { } w ? m.Quantities.ParseGlue(w, t)?.Width.Points : null;
            m.ReadOptional(t);
            AddSubBox(t, caption, m.ReadArgument(t), width);
        });
        Machine.Define("subfloat", (m, t) =>
        {
            List<Token>? first = m.ReadOptional(t);
            List<Token>? second = m.ReadOptional(t);
            AddSubBox(t, second ?? first, m.ReadArgument(t), null);
        });
        Machine.Definitions.Load("\\def\\subref{\\ref}\\newcommand{\\phantomsubcaption}{}");
    }

    // The next number of a part: before the float's own caption, the float's number is still to come.
    private void AsSubFloat(Action carry)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        FloatKind kind = Builder.Float.Value ?? new FloatKind("figure", "");
        if (!kind.IsPart)
        {
            Machine.Assign(Builder.Float, new FloatKind("sub" + kind.Name, "") { Open = Builder.Float.Value?.Open });
        }

        carry();
        CurrentLabel? label = Builder.CurrentLabel.Value;
        Machine.EndGroup();
        Machine.Assign(Builder.CurrentLabel, label);
    }

    private void AddSubBox(Token token, List<Token>? caption, List<Token> content, double? wanted)
    {
        List<Inline> inlines = Builder.BuildInlines(content);
        double width = wanted ?? Math.Max(20, Builder.Boxes.Measure(inlines).Width + 0.01);
        Builder.Paragraph();
        Builder.OpenFrame();
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        Builder.Boxes.EnterColumn(width);
        Builder.AddBlock(new ParagraphBlock(inlines, Builder.ParagraphStyleNow(0) with { Alignment = Alignment.Centre, SpaceAbove = default }));
        CurrentLabel? label = Builder.CurrentLabel.Value;
        if (caption is not null)
        {
            AsSubFloat(() =>
            {
                Machine.Push(TokenLists.Braced(caption, token.Position));
                Builder.Figures.ReadCaption(token);
            });
            label = Builder.CurrentLabel.Value;
        }

        Builder.EndParagraph();
        Machine.EndGroup();
        Machine.Assign(Builder.CurrentLabel, label);
        List<Block> blocks = Builder.CloseFrame().Blocks;
        Builder.AddInline(new BlockBoxInline(blocks, width) { Position = 'b' });
    }

    // A part's label has the float's number, which the float's caption may give only later.
    internal T WithFloatNumber<T>(string kind, Func<T> make)
    {
        if (!kind.StartsWith("sub", StringComparison.Ordinal) || Machine.Counters.Find(kind[3..]) is not { } counter
            || Builder.Float.Value?.Open?.Captions.Exists(c => c.Kind == kind[3..]) == true)
        {
            return make();
        }

        int value = counter.Value;
        Machine.Assign(counter, value + 1, true);
        T result = make();
        Machine.Assign(counter, value, true);
        return result;
    }

    /// <summary>Gives figures that text runs beside (the package wrapfig).</summary>
    internal void DefineWrapFigures()
    {
        foreach ((string name, string kind, string list) in (ReadOnlySpan<(string, string, string)>)[("wrapfigure", "figure", "lof"), ("wraptable", "table", "lot")])
        {
            Builder.Environments.DefineEnvironment(name, t =>
            {
                int? lines = Machine.ReadOptional(t) is { } n ? Machine.Quantities.ParseInteger(n, t) : null;
                string side = Machine.ReadText(t).ToLowerInvariant();
                Machine.ReadOptional(t);
                double? width = Machine.Quantities.ParseGlue(Machine.ReadArgument(t), t)?.Width.Points;
                _wraps.Push((lines, side is "l" or "i", width is > 5 and < 5_000 ? width.Value : Builder.Boxes.LineWidth / 2));
                Builder.Figures.EndParagraphForFloat();
                Builder.OpenFrame();
                Builder.Boxes.EnterColumn(_wraps.Peek().Width);
                Machine.Assign(Builder.Float, new FloatKind(kind, list) { Open = new OpenFloat(t.Position) });
                Builder.Text.HasNoIndent = true;
            }, t =>
            {
                if (Builder.Frames.Count < 2 || !_wraps.TryPop(out (int? Lines, bool IsLeft, double Width) wrap))
                {
                    return;
                }

                BlockFrame frame = Builder.CloseFrame();
                OpenFloat open = Builder.Float.Value?.Open ?? new OpenFloat(t.Position);
                bool continues = Builder.Frames.Peek().Continues;
                Builder.AddBlock(new WrapBlock(new FloatBlock
                {
                    Kind = kind,
                    Content = frame.Blocks,
                    Placement = Placement.Here,
                    Captions = open.Captions,
                    IsCaptioned = open.IsCaptioned,
                    Position = open.Position,
                }, wrap.Width)
                { IsLeft = wrap.IsLeft, Lines = wrap.Lines });
                Builder.Frames.Peek().Continues = continues;
                Machine.SkipSpaces();
            });
        }

        Machine.Registers.NamedDimension("wrapoverhang");
    }

    private readonly Stack<(int? Lines, bool IsLeft, double Width)> _wraps = new();
}
