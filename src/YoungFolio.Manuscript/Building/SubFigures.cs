using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Figures and tables in parts, (a) and (b), each with a caption (the packages subcaption and subfig), and figures beside text.
public sealed partial class DocumentBuilder
{
    /// <summary>Gives parts of floats with captions of their own.</summary>
    internal void DefineSubFigures()
    {
        foreach (string kind in (string[])["figure", "table"])
        {
            string sub = "sub" + kind;
            if (!Machine.IsDefined("c@" + sub))
            {
                Machine.NewCounter(sub, kind);
            }

            Machine.LoadDefinitions($"\\def\\the{sub}{{\\alph{{{sub}}}}}\\def\\fnum@{sub}{{(\\the{sub})}}\\def\\p@{sub}{{\\the{kind}}}");
            DefineEnvironment(sub, t =>
            {
                BeginMinipage(t);
                Machine.Assign(_float, new FloatKind(sub, ""));
            }, _ => EndMinipage());
        }

        Machine.Define("subcaption", (_, t) => AsSubFloat(() => ReadCaption(t)));
        Machine.Define("subcaptionbox", (m, t) =>
        {
            m.TakeStar();
            m.ReadOptional(t);
            List<Token> caption = m.ReadArgument(t);
            double? width = m.ReadOptional(t) is { } w ? m.ParseGlue(w, t)?.Width.Points : null;
            m.ReadOptional(t);
            AddSubBox(t, caption, m.ReadArgument(t), width);
        });
        Machine.Define("subfloat", (m, t) =>
        {
            List<Token>? first = m.ReadOptional(t);
            List<Token>? second = m.ReadOptional(t);
            AddSubBox(t, second ?? first, m.ReadArgument(t), null);
        });
        Machine.LoadDefinitions("\\def\\subref{\\ref}\\newcommand{\\phantomsubcaption}{}");
    }

    // The next number of a part: before the float's own caption, the float's number is still to come.
    private void AsSubFloat(Action carry)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
        string kind = _float.Value?.Name ?? "figure";
        if (!kind.StartsWith("sub", StringComparison.Ordinal))
        {
            Machine.Assign(_float, new FloatKind("sub" + kind, ""));
        }

        carry();
        CurrentLabel? label = _currentLabel.Value;
        Machine.EndGroup();
        Machine.Assign(_currentLabel, label);
    }

    private void AddSubBox(Token token, List<Token>? caption, List<Token> content, double? wanted)
    {
        List<Inline> inlines = BuildInlines(content);
        double width = wanted ?? Math.Max(20, Measure(inlines).Width + 0.01);
        Paragraph();
        OpenFrame();
        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        EnterColumn(width);
        AddBlock(new ParagraphBlock(inlines, ParagraphStyleNow(0) with { Alignment = Alignment.Centre, SpaceAbove = default }));
        CurrentLabel? label = _currentLabel.Value;
        if (caption is not null)
        {
            AsSubFloat(() =>
            {
                Machine.Push(Machine.Braced(caption, token.Position));
                ReadCaption(token);
            });
            label = _currentLabel.Value;
        }

        EndParagraph();
        Machine.EndGroup();
        Machine.Assign(_currentLabel, label);
        List<Block> blocks = CloseFrame().Blocks;
        AddInline(new BlockBoxInline(blocks, width) { Position = 'b' });
    }

    // A part's label has the float's number, which the float's caption may give only later.
    private T WithFloatNumber<T>(string kind, Func<T> make)
    {
        if (!kind.StartsWith("sub", StringComparison.Ordinal) || Machine.Counter(kind[3..]) is not { } counter
            || _frames.Any(f => f.Captions.Exists(c => c.Kind == kind[3..])))
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
            DefineEnvironment(name, t =>
            {
                int? lines = Machine.ReadOptional(t) is { } n ? Machine.ParseInteger(n, t) : null;
                string side = Machine.ReadText(t).ToLowerInvariant();
                Machine.ReadOptional(t);
                double? width = Machine.ParseGlue(Machine.ReadArgument(t), t)?.Width.Points;
                _wraps.Push((lines, side is "l" or "i", width is > 5 and < 5_000 ? width.Value : LineWidth / 2));
                EndParagraphForFloat();
                OpenFrame();
                EnterColumn(_wraps.Peek().Width);
                Machine.Assign(_float, new FloatKind(kind, list));
                HasNoIndent = true;
            }, t =>
            {
                if (_frames.Count < 2 || !_wraps.TryPop(out (int? Lines, bool IsLeft, double Width) wrap))
                {
                    return;
                }

                BlockFrame frame = CloseFrame();
                bool continues = _frames.Peek().Continues;
                AddBlock(new WrapBlock(new FloatBlock
                {
                    Kind = kind,
                    Content = frame.Blocks,
                    Placement = Placement.Here,
                    Captions = frame.Captions,
                    Position = t.Position,
                }, wrap.Width)
                { IsLeft = wrap.IsLeft, Lines = wrap.Lines });
                _frames.Peek().Continues = continues;
                Machine.SkipSpaces();
            });
        }

        Machine.NamedDimension("wrapoverhang");
    }

    private readonly Stack<(int? Lines, bool IsLeft, double Width)> _wraps = new();
}
