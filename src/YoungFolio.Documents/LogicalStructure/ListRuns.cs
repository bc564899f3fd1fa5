namespace YoungFolio.Documents.LogicalStructure;

/// <summary>A list: paragraphs with labels one after another, each with what stands below it.</summary>
/// <param name="Items">The items.</param>
/// <param name="Margin">Distance of their text from the left in points.</param>
public sealed record ListRun(IReadOnlyList<ListRunItem> Items, double Margin);

/// <summary>An item of a list.</summary>
/// <param name="First">The paragraph with the label.</param>
/// <param name="Below">What stands below it at the same distance from the left: further paragraphs, formulas, lists.</param>
public sealed record ListRunItem(ParagraphBlock First, IReadOnlyList<Block> Below);

/// <summary>Finds lists among blocks. The tree knows paragraphs with labels; which of them are one list follows from how they stand.</summary>
public static class ListRuns
{
    /// <summary>The blocks in their order, with those of each list as one.</summary>
    /// <returns>Either a block or a list a step.</returns>
    public static IEnumerable<(Block? Block, ListRun? List)> Of(IReadOnlyList<Block> blocks)
    {
        for (int i = 0; i < blocks.Count;)
        {
            if (blocks[i] is ParagraphBlock { Label: not null })
            {
                yield return (null, Take(blocks, ref i));
            }
            else
            {
                yield return (blocks[i++], null);
            }
        }
    }

    // A list goes on while items come, or what stands below their text.
    private static ListRun Take(IReadOnlyList<Block> blocks, ref int at)
    {
        double margin = ((ParagraphBlock)blocks[at]).Style.LeftMargin;
        var items = new List<ListRunItem>();
        for (; at < blocks.Count; at++)
        {
            if (blocks[at] is ParagraphBlock { Label: not null } item)
            {
                items.Add(new ListRunItem(item, new List<Block>()));
            }
            else if (IsBelow(blocks[at], margin) || (blocks[at] is GroupBlock or DisplayBlock && blocks.Skip(at + 1).OfType<ParagraphBlock>().FirstOrDefault() is { Label: not null }))
            {
                ((List<Block>)items[^1].Below).Add(blocks[at]);
            }
            else if (blocks[at] is not (SpaceBlock or PenaltyBlock))
            {
                break;
            }
        }

        return new ListRun(items, margin);
    }

    private static bool IsBelow(Block block, double margin) => margin > 0 && block switch
    {
        ParagraphBlock paragraph => paragraph.Style.LeftMargin >= margin - 0.5,
        GroupBlock group => group.Content.OfType<ParagraphBlock>().FirstOrDefault() is { } first && first.Style.LeftMargin >= margin - 0.5,
        DisplayBlock display => display.Paragraph.LeftMargin >= margin - 0.5,
        _ => false,
    };
}
