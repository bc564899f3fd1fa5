using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Layouts and usual places of kinds of floats (the package float).</summary>
internal sealed class FloatStyles(DocumentBuilder builder) : ReadingFeature(builder)
{
    internal Dictionary<string, FloatKind> FloatKinds { get; } = [];
    internal FloatStyle FloatStyle { get; set; }

    /// <summary>Gives the layouts and places of kinds of floats (the package float).</summary>
    internal void DefineFloatStyles()
    {
        Machine.Define("floatstyle", (m, t) =>
        {
            string style = m.ReadText(t);
            FloatStyle = style switch { "plain" => FloatStyle.Plain, "plaintop" => FloatStyle.CaptionAbove, "ruled" => FloatStyle.Ruled, "boxed" => FloatStyle.Boxed, _ => FloatStyle };
            if (style is not ("plain" or "plaintop" or "ruled" or "boxed"))
            {
                Findings.Check("no-such-float-style", t.Position, t.Length, $"There is no layout of floats called “{style}”.", "There are plain, plaintop, ruled and boxed.");
            }
        });
        Machine.Define("restylefloat", (m, t) =>
        {
            m.TakeStar();
            ChangeFloatKind(t, k => k with { Look = FloatStyle });
        });
        Machine.Define("floatplacement", (m, t) =>
        {
            string kind = m.ReadText(t);
            string places = m.ReadText(t);
            m.Push(TokenLists.Braced([.. m.Tokenize(kind, t.Position)], t.Position));
            ChangeFloatKind(t, k => k with { Placement = places });
        });
    }

    private void ChangeFloatKind(Token token, Func<FloatKind, FloatKind> change)
    {
        string kind = Machine.ReadText(token);
        if (FloatKinds.TryGetValue(kind, out FloatKind? known))
        {
            FloatKinds[kind] = change(known);
        }
        else
        {
            Findings.Check("no-such-float", token.Position, token.Length, $"There are no floats called “{kind}”.", $"There are {string.Join(", ", FloatKinds.Keys.Order(StringComparer.Ordinal))}.");
        }
    }

    // The lines or the frame that a kind's layout asks for, around content whose caption stands where it belongs.
    internal List<Block> LayOut(FloatStyle look, BlockFrame frame, OpenFloat open)
    {
        switch (look)
        {
            case FloatStyle.Ruled:
                return [FullRule(0.8), .. open.Above, .. open.Above.Count > 0 ? [FullRule(0.4)] : (Block[])[], new SpaceBlock(Glue.Of(2)), .. frame.Blocks, new SpaceBlock(Glue.Of(3)), FullRule(0.4)];
            case FloatStyle.Boxed:
                int caption = frame.Blocks.FindIndex(b => b is AnchorBlock);
                int end = caption < 0 ? frame.Blocks.Count : caption;
                return [FramedBlocks(frame.Blocks[..end]), .. frame.Blocks[end..]];
            default:
                return [.. open.Above, .. frame.Blocks];
        }
    }

    private ParagraphBlock FramedBlocks(List<Block> content)
    {
        double inner = Builder.Boxes.LineWidth - (2 * (Builder.Get("fboxsep") + Builder.Get("fboxrule")));
        return new ParagraphBlock([Builder.Boxes.Framed([new BlockBoxInline(content, inner)], null, 0)], Builder.ParagraphStyleNow(0) with { SpaceAbove = default, Alignment = Alignment.Left });
    }

    private ParagraphBlock FullRule(double thickness) =>
        new([new RuleInline(Builder.Boxes.LineWidth, thickness, 0)], Builder.ParagraphStyleNow(0) with { Leading = thickness, SpaceAbove = default, Alignment = Alignment.Left });
}
