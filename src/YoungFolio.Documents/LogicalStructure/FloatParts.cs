namespace YoungFolio.Documents.LogicalStructure;

/// <summary>Parts a float into what it shows and its captions.</summary>
public static class FloatParts
{
    /// <summary>The blocks of a float, with whether each is a caption: the paragraph behind a caption's anchor is one.</summary>
    public static IEnumerable<(Block Block, bool IsCaption)> Of(FloatBlock figure)
    {
        ArgumentNullException.ThrowIfNull(figure);
        bool isNext = false;
        foreach (Block block in Flattened(figure.Content))
        {
            bool isCaption = isNext && block is ParagraphBlock;
            isNext = !isCaption && (isNext || (block is AnchorBlock anchor && figure.Captions.Any(c => c.Anchor == anchor.Name)));
            yield return (block, isCaption);
        }
    }

    private static IEnumerable<Block> Flattened(IEnumerable<Block> blocks) => blocks.SelectMany(b => b is GroupBlock group ? Flattened(group.Content) : [b]);
}
