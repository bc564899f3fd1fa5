using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Boxes scaled and turned (the package graphicx and its kin).</summary>
internal sealed class TransformCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    /// <summary>Gives the commands that scale and turn boxes.</summary>
    internal void DefineTransforms()
    {
        Machine.Define("scalebox", (m, t) =>
        {
            double across = Factor(m.ReadText(t), t);
            double up = m.ReadOptionalText(t) is { } v ? Factor(v, t) : across;
            Builder.AddInline(new TransformInline(Builder.BuildInlines(m.ReadArgument(t))) { ScaleAcross = across, ScaleUp = up });
        });
        Machine.Define("resizebox", (m, t) =>
        {
            bool star = m.TakeStar();
            List<Token> width = m.ReadArgument(t);
            List<Token> height = m.ReadArgument(t);
            List<Inline> content = Builder.BuildInlines(m.ReadArgument(t));
            Builder.AddInline(new TransformInline(content) { Width = WantedLength(width, t), Height = WantedLength(height, t), IsTotalHeight = star });
        });
        Machine.Define("rotatebox", (m, t) =>
        {
            m.ReadOptional(t);
            double angle = Builder.Figures.Number(m.ReadText(t), t) ?? 0;
            Builder.AddInline(new TransformInline(Builder.BuildInlines(m.ReadArgument(t))) { Angle = angle });
        });
    }

    private double Factor(string text, Token token) => Builder.Figures.Number(text, token) is { } factor && Math.Abs(factor) is > 0.001 and < 1_000 ? factor : 1;

    // ! leaves a side to the other one.
    private double? WantedLength(List<Token> tokens, Token token) =>
        tokens.ToSource().Trim() == "!" ? null : Machine.Quantities.ParseGlue(tokens, token)?.Width.Points is { } points and > 0 and < 10_000 ? points : null;

    /// <summary>Gives an environment whose content is turned.</summary>
    internal void DefineTurned(string name, bool takesAngle) => Builder.Environments.DefineEnvironment(name, t =>
    {
        _turns.Push(takesAngle ? Builder.Figures.Number(Machine.ReadText(t), t) ?? 0 : 90);
        Builder.Paragraph();
        Builder.Frames.Push(new BlockFrame(true));
    }, _ =>
    {
        if (Builder.Frames.Peek().InlineOnly && !Builder.Frames.Peek().IsBase && _turns.TryPop(out double angle))
        {
            List<Inline> content = Builder.Frames.Pop().Paragraph!.Finish();
            Builder.AddInline(new TransformInline(content) { Angle = angle });
        }
    });

    private readonly Stack<double> _turns = new();

    /// <summary>Gives a float that lies across on a page of its own.</summary>
    internal void DefineSidewaysFloat(string name, string kind, string list) => Builder.Environments.DefineEnvironment(name, t =>
    {
        Builder.Figures.BeginFloat(t, new FloatKind(kind, list));
        Builder.Boxes.SetLineWidth(Builder.PageMeasures.PageNow.TextHeight);
    }, t =>
    {
        if (Builder.Frames.Count < 2)
        {
            return;
        }

        // What was set as wide as the page is high stands upright at its left edge.
        BlockFrame frame = Builder.Frames.Peek();
        Builder.EndParagraph();
        List<Block> blocks = [.. frame.Blocks];
        frame.Blocks.Clear();
        frame.Blocks.Add(new ParagraphBlock(
            [new TransformInline([new BlockBoxInline(blocks, Builder.PageMeasures.PageNow.TextHeight) { Position = 'b' }]) { Angle = 90 }],
            Builder.ParagraphStyleNow(0) with { Alignment = Alignment.Centre, SpaceAbove = default }));
        Builder.Figures.EndFloat(t, kind);
    });
}
