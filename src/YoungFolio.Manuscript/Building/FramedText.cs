using YoungFolio.Documents;
using YoungFolio.Manuscript.Packages;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>How text in a frame looks.</summary>
internal sealed record FramedLook
{
    /// <summary>Its title; null: none.</summary>
    public List<Token>? Title { get; init; }

    /// <summary>Colour of the ground; null: none.</summary>
    public int? Ground { get; init; }

    /// <summary>Colour of the frame's line.</summary>
    public int Frame { get; init; }

    /// <summary>Width of the frame's line in points; 0: no line.</summary>
    public double Line { get; init; } = 0.4;

    /// <summary>Distance from the frame to the text in points.</summary>
    public double Padding { get; init; } = 9;

    /// <summary>Whether only the left side has a line, as wide as this; 0: all of them have.</summary>
    public double Bar { get; init; }
}

/// <summary>
/// Paragraphs in a frame or on a ground: the environments of framed, mdframed and tcolorbox. A frame stands whole on one page; text that is too long for
/// that stands between two rules instead, and goes on from page to page.
/// </summary>
internal sealed class FramedText(DocumentBuilder builder) : ReadingFeature(builder)
{
    // Paragraphs and letters that may be more than half a page: those aren't put into a box, which would run off the page.
    private const int MostBlocks = 25;
    private const int MostLetters = 1_800;

    private readonly Stack<FramedLook> _open = new();

    /// <summary>Defines an environment of framed text.</summary>
    /// <param name="name">Its name.</param>
    /// <param name="read">Reads what follows its <c>\begin</c> and says how it looks.</param>
    internal void Define(string name, Func<Token, FramedLook> read) => Builder.Environments.DefineEnvironment(name, t => Begin(read(t)), _ => End());

    /// <summary>How text is to look by the options of mdframed and tcolorbox.</summary>
    internal FramedLook Read(FramedLook look, IReadOnlyList<Token>? options)
    {
        foreach (ListedOption option in ListedOption.Of(Machine, options))
        {
            look = option.Key switch
            {
                "title" or "frametitle" => look with { Title = option.Value },
                "colback" or "backgroundcolor" => look with { Ground = ColourNames.Find(Builder, option.Text(Machine)) ?? look.Ground },
                "colframe" or "linecolor" => look with { Frame = ColourNames.Find(Builder, option.Text(Machine)) ?? look.Frame },
                "boxrule" or "linewidth" => look with { Line = Length(option, look.Line) },
                "boxsep" or "innerleftmargin" => look with { Padding = Length(option, look.Padding) },
                "hidealllines" when option.IsOn(Machine) => look with { Line = 0 },
                _ => look,
            };
        }

        return look;
    }

    private double Length(ListedOption option, double otherwise) =>
        Machine.Quantities.ParseGlue(option.Value ?? [], Token.Stop().At(option.Position))?.Width.Points is { } points ? Math.Clamp(points, 0, 100) : otherwise;

    private void Begin(FramedLook look)
    {
        Builder.EndParagraph();
        _open.Push(look);
        double sides = Builder.LeftMargin.Value + Builder.RightMargin.Value + (2 * (look.Padding + look.Line)) + look.Bar;
        Builder.Boxes.EnterColumn(Math.Max(20, Builder.Boxes.LineWidth - sides));
        Builder.OpenFrame();
    }

    private void End()
    {
        if (_open.Count == 0 || Builder.Frames.Count < 2)
        {
            return;
        }

        FramedLook look = _open.Pop();
        List<Block> blocks = Builder.CloseFrame().Blocks;
        if (look.Title is { Count: > 0 } title)
        {
            Machine.BeginGroup(GroupKind.Command, "", title[0].Position);
            Machine.Assign(Builder.Style, Builder.Style.Value with { Bold = true });
            ParagraphStyle style = Builder.PackageServices.PlainParagraph() with { Alignment = Alignment.Left };
            blocks.InsertRange(0, [new ParagraphBlock(Builder.BuildInlines(title), style), new SpaceBlock(Glue.Of(3)), new PenaltyBlock(10_000)]);
            Machine.EndGroup();
        }

        double width = Builder.Boxes.LineWidth;
        Builder.AddBlock(new SpaceBlock(Glue.Of(6, 2, 2)));
        if (IsLong(blocks))
        {
            Builder.AddBlock(Rule(width + (2 * (look.Padding + look.Line))));
            blocks.ForEach(Builder.AddBlock);
            Builder.AddBlock(Rule(width + (2 * (look.Padding + look.Line))));
        }
        else
        {
            Inline box = new BoxInline([new BlockBoxInline(blocks, width) { Position = 'c' }])
            {
                IsFramed = look is { Line: > 0, Bar: 0 },
                FrameLine = look.Line,
                FrameColour = look.Frame,
                Ground = look.Ground,
                Padding = look.Padding,
            };
            if (look.Bar > 0)
            {
                Extent extent = Builder.Boxes.Measure([box]);
                var bar = new RuleInline(look.Bar, extent.Height + extent.Depth, -extent.Depth) { Colour = look.Frame };
                box = new BoxInline([bar, new SpaceInline(Glue.Of(look.Padding), false), box]);
            }

            Builder.AddBlock(new ParagraphBlock([box], Builder.PackageServices.PlainParagraph() with { Alignment = Alignment.Left, SpaceAbove = default }));
        }

        Builder.AddBlock(new SpaceBlock(Glue.Of(6, 2, 2)));
    }

    private ParagraphBlock Rule(double width) => new([new RuleInline(width, 0.4, 0)], Builder.PackageServices.PlainParagraph() with { Leading = 3 });

    private static bool IsLong(List<Block> blocks) =>
        blocks.Count > MostBlocks || NodeWalk.All(blocks).Sum(n => n switch
        {
            TextRun run => run.Text.Length,
            // What takes room without words: a formula of its own, a picture, a line's end.
            DisplayBlock => 150,
            ImageInline => 600,
            LineBreakInline => 60,
            _ => 0,
        }) > MostLetters;
}
