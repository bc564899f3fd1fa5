namespace YoungFolio.Documents.LogicalStructure;

/// <summary>
/// How deep headings stand below one another, from 0. What comes before the first part (a preface, the contents) stands as high as the parts: no
/// level is left out where none is.
/// </summary>
/// <param name="blocks">The document's blocks.</param>
public sealed class HeadingDepths(IReadOnlyList<Block> blocks)
{
    // In classes without chapters parts stand right above sections.
    private readonly bool _hasChapters = NodeWalk.All(blocks).Any(static n => n is HeadingBlock { Level: 0 });
    private int _highest = int.MaxValue;

    /// <summary>The depth of the next heading.</summary>
    /// <param name="level">Its level in the class: −1 part, 0 chapter, 1 section …</param>
    public int Next(int level)
    {
        int rank = level < 0 && !_hasChapters ? 0 : level;
        _highest = Math.Min(_highest, rank);
        return rank - _highest;
    }
}
