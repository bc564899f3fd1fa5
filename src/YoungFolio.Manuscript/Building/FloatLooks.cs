using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Layouts and usual places of kinds of floats (the package float).
public sealed partial class DocumentBuilder
{
    private readonly Dictionary<string, FloatKind> _floatKinds = [];
    private FloatLook _floatLook;

    /// <summary>Gives the layouts and places of kinds of floats (the package float).</summary>
    internal void DefineFloatStyles()
    {
        Machine.Define("floatstyle", (m, t) =>
        {
            string style = m.ReadText(t);
            _floatLook = style switch { "plain" => FloatLook.Plain, "plaintop" => FloatLook.CaptionAbove, "ruled" => FloatLook.Ruled, "boxed" => FloatLook.Boxed, _ => _floatLook };
            if (style is not ("plain" or "plaintop" or "ruled" or "boxed"))
            {
                Findings.Check("no-such-float-style", t.Position, t.Length, $"There is no layout of floats called “{style}”.", "There are plain, plaintop, ruled and boxed.");
            }
        });
        Machine.Define("restylefloat", (m, t) =>
        {
            m.TakeStar();
            ChangeFloatKind(t, k => k with { Look = _floatLook });
        });
        Machine.Define("floatplacement", (m, t) =>
        {
            string kind = m.ReadText(t);
            string places = m.ReadText(t);
            m.Push(Machine.Braced([.. m.Tokenize(kind, t.Position)], t.Position));
            ChangeFloatKind(t, k => k with { Placement = places });
        });
    }

    private void ChangeFloatKind(Token token, Func<FloatKind, FloatKind> change)
    {
        string kind = Machine.ReadText(token);
        if (_floatKinds.TryGetValue(kind, out FloatKind? known))
        {
            _floatKinds[kind] = change(known);
        }
        else
        {
            Findings.Check("no-such-float", token.Position, token.Length, $"There are no floats called “{kind}”.", $"There are {string.Join(", ", _floatKinds.Keys.Order(StringComparer.Ordinal))}.");
        }
    }

    // The lines or the frame that a kind's layout asks for, around content whose caption stands where it belongs.
    private List<Block> LayOut(FloatLook look, BlockFrame frame)
    {
        switch (look)
        {
            case FloatLook.Ruled:
                return [FullRule(0.8), .. frame.CaptionAbove, .. frame.CaptionAbove.Count > 0 ? [FullRule(0.4)] : (Block[])[], new SpaceBlock(Glue.Of(2)), .. frame.Blocks, new SpaceBlock(Glue.Of(3)), FullRule(0.4)];
            case FloatLook.Boxed:
                int caption = frame.Blocks.FindIndex(b => b is AnchorBlock);
                int end = caption < 0 ? frame.Blocks.Count : caption;
                return [FramedBlocks(frame.Blocks[..end]), .. frame.Blocks[end..]];
            default:
                return [.. frame.CaptionAbove, .. frame.Blocks];
        }
    }

    private ParagraphBlock FramedBlocks(List<Block> content)
    {
        double inner = LineWidth - (2 * (Get("fboxsep") + Get("fboxrule")));
        return new ParagraphBlock([Framed([new BlockBoxInline(content, inner)], null, 0)], ParagraphStyleNow(0) with { SpaceAbove = default, Alignment = Alignment.Left });
    }

    private ParagraphBlock FullRule(double thickness) =>
        new([new RuleInline(LineWidth, thickness, 0)], ParagraphStyleNow(0) with { Leading = thickness, SpaceAbove = default, Alignment = Alignment.Left });
}
