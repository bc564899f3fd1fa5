using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Boxes scaled and turned (the package graphicx and its kin).
public sealed partial class DocumentBuilder
{
    /// <summary>Gives the commands that scale and turn boxes.</summary>
    internal void DefineTransforms()
    {
        Machine.Define("scalebox", (m, t) =>
        {
            double across = Factor(m.ReadText(t), t);
            double up = m.ReadOptionalText(t) is { } v ? Factor(v, t) : across;
            AddInline(new TransformInline(BuildInlines(m.ReadArgument(t))) { ScaleAcross = across, ScaleUp = up });
        });
        Machine.Define("resizebox", (m, t) =>
        {
            bool star = m.TakeStar();
            List<Token> width = m.ReadArgument(t);
            List<Token> height = m.ReadArgument(t);
            List<Inline> content = BuildInlines(m.ReadArgument(t));
            AddInline(new TransformInline(content) { Width = WantedLength(width, t), Height = WantedLength(height, t), IsTotalHeight = star });
        });
        Machine.Define("rotatebox", (m, t) =>
        {
            m.ReadOptional(t);
            double angle = Number(m.ReadText(t), t) ?? 0;
            AddInline(new TransformInline(BuildInlines(m.ReadArgument(t))) { Angle = angle });
        });
    }

    private double Factor(string text, Token token) => Number(text, token) is { } factor && Math.Abs(factor) is > 0.001 and < 1_000 ? factor : 1;

    // ! leaves a side to the other one.
    private double? WantedLength(List<Token> tokens, Token token) =>
        tokens.ToSource().Trim() == "!" ? null : Machine.ParseGlue(tokens, token)?.Width.Points is { } points and > 0 and < 10_000 ? points : null;

    /// <summary>Gives an environment whose content is turned.</summary>
    internal void DefineTurned(string name, bool takesAngle) => DefineEnvironment(name, t =>
    {
        _turns.Push(takesAngle ? Number(Machine.ReadText(t), t) ?? 0 : 90);
        Paragraph();
        _frames.Push(new BlockFrame(true));
    }, _ =>
    {
        if (_frames.Peek().InlineOnly && !_frames.Peek().IsBase && _turns.TryPop(out double angle))
        {
            List<Inline> content = _frames.Pop().Paragraph!.Finish();
            AddInline(new TransformInline(content) { Angle = angle });
        }
    });

    private readonly Stack<double> _turns = new();

    /// <summary>Gives a float that lies across on a page of its own.</summary>
    internal void DefineSidewaysFloat(string name, string kind, string list) => DefineEnvironment(name, t =>
    {
        BeginFloat(t, new FloatKind(kind, list));
        SetLineWidth(_pageNow.TextHeight);
    }, t =>
    {
        if (_frames.Count < 2)
        {
            return;
        }

        // What was set as wide as the page is high stands upright at its left edge.
        BlockFrame frame = _frames.Peek();
        EndParagraph();
        List<Block> blocks = [.. frame.Blocks];
        frame.Blocks.Clear();
        frame.Blocks.Add(new ParagraphBlock(
            [new TransformInline([new BlockBoxInline(blocks, _pageNow.TextHeight) { Position = 'b' }]) { Angle = 90 }],
            ParagraphStyleNow(0) with { Alignment = Alignment.Centre, SpaceAbove = default }));
        EndFloat(t, kind);
    });
}
