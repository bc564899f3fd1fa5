using YoungFolio.Documents;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Lines;

namespace YoungFolio.Typesetting.Pages;

/// <summary>Makes the lines of the contents and of the lists of figures and tables.</summary>
internal static class ContentsEntries
{
    public static List<Block> Of(SettingContext context, ContentsBlock contents)
    {
        var result = new List<Block>();
        List<Block> all = [.. Walk(context.Document.Blocks)];
        int top = contents.Kind == "toc" && all.OfType<HeadingBlock>().Any(h => h.Level == 0) ? 0 : 1;
        foreach (Block block in all)
        {
            switch (block)
            {
                case HeadingBlock heading when heading.IsListed && heading.List == contents.Kind && heading.Level <= contents.Depth:
                    int level = contents.Kind == "toc" ? heading.Level : Math.Max(2, heading.Level);
                    result.AddRange(Entry(context, contents, level, top, heading.ContentsNumber, heading.ShortTitle, heading.Anchor));
                    break;
                case FloatBlock or LongTableBlock when contents.Kind != "toc":
                    IReadOnlyList<Caption> captions = block is FloatBlock figure ? figure.Captions : ((LongTableBlock)block).Captions;
                    foreach (Caption caption in captions.Where(c => c.List == contents.Kind && c.Number.Length > 0))
                    {
                        var number = new TextRun(caption.Number, [.. Enumerable.Repeat(caption.Position, caption.Number.Length)], contents.Style);
                        result.AddRange(Entry(context, contents, 2, 1, [number], caption.Text, caption.Anchor));
                    }

                    break;
            }
        }

        return result;
    }

    /// <summary>All blocks of the flow, those inside others too.</summary>
    public static IEnumerable<Block> Walk(IEnumerable<Block> blocks)
    {
        foreach (Block block in blocks)
        {
            yield return block;
            // What stands in a line is no part of the flow.
            foreach (Block child in block is ParagraphBlock ? [] : Walk(block.Children.OfType<Block>()))
            {
                yield return child;
            }
        }
    }

    private static IEnumerable<Block> Entry(
        SettingContext context, ContentsBlock contents, int level, int top, IReadOnlyList<Inline>? number, IReadOnlyList<Inline> title, string anchor)
    {
        double em = contents.Style.Size;
        bool main = level <= top;
        TextStyle style = contents.Style with { Bold = main };
        int depth = Math.Max(0, level - top);
        // Indents and widths of numbers in em: deeper levels begin where the title above them does.
        double indent = depth switch { 0 => 0, 1 => 1.5, 2 => 3.8, 3 => 7, 4 => 10, _ => 12 } * em;
        double numberWidth = depth switch { 0 => 1.5, 1 => 2.3, 2 => 3.2, 3 => 4.1, 4 => 5, _ => 6 } * em;
        var line = new List<Inline>();
        double hang = 0;
        if (number is not null)
        {
            double width = hang = Math.Max(numberWidth, (PlainText.Of(number).Length * 0.5 * em) + (0.6 * em));
            line.Add(new BoxInline(Restyle(number, style)) { Width = width, Alignment = -1 });
            line.Add(new PenaltyInline(10_000));
        }

        line.AddRange(Restyle(title, style));
        line.Add(main ? new SpaceInline(new Glue(default, new Dimension(65536), 2), false) : new LeadersInline(style));
        string page = context.Known.TryGetValue(anchor, out AnchorPlace place) ? place.Label : "00";
        line.Add(new PenaltyInline(10_000));
        line.Add(new BoxInline([new TextRun(page, [.. Enumerable.Repeat(PositionTable.None, page.Length)], style)]) { Width = 1.55 * em, Alignment = 1 });
        if (main)
        {
            yield return new PenaltyBlock(-100);
        }

        yield return new ParagraphBlock([new LinkInline(line, anchor, false)], contents.Paragraph with
        {
            LeftMargin = indent,
            // A second line stands below the title's first word.
            HangIndent = hang,
            Language = "",
            Alignment = Alignment.Left,
            SpaceAbove = main ? Glue.Of(em, 1) : default,
        });
        if (main)
        {
            yield return new PenaltyBlock(10_000);
        }
    }

    // The words belong to the heading, so a place in the source leads there and not to the contents.
    private static int[] Nowhere(string text) => [.. Enumerable.Repeat(PositionTable.None, text.Length)];

    private static List<Inline> Restyle(IReadOnlyList<Inline> inlines, TextStyle style) => [.. inlines
        .Where(i => i is not NoteInline and not AnchorInline)
        .Select(i => i is TextRun r ? new TextRun(r.Text, Nowhere(r.Text), r.Style with { Bold = style.Bold, Size = style.Size }) : i)];
}
