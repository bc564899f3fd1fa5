namespace YoungFolio.Manuscript.Building;

/// <summary>What a preamble wants of the page in one direction. Lengths are points; null leaves a length to the others.</summary>
/// <param name="Before">Margin at the left or top.</param>
/// <param name="Body">Length of the text block.</param>
/// <param name="After">Margin at the right or foot.</param>
internal sealed record AxisSpecification(double? Before = null, double? Body = null, double? After = null)
{
    /// <summary>Text block as a share of the paper, or null.</summary>
    public double? Scale { get; init; }

    /// <summary>First margin as a multiple of the second, or null for the usual.</summary>
    public double? Ratio { get; init; }

    /// <summary>Whether nothing is wanted.</summary>
    public bool IsEmpty => Before is null && Body is null && After is null && Scale is null && Ratio is null;

    /// <summary>The first margin and the length of the text block.</summary>
    /// <param name="paper">Length of the paper.</param>
    /// <param name="usual">What the class would have.</param>
    /// <param name="usualRatio">First margin as a multiple of the second, where one must follow from the other.</param>
    public (double Before, double Body) Solve(double paper, (double Before, double Body) usual, double usualRatio)
    {
        double ratio = Ratio ?? usualRatio;
        double? body = Body ?? (Scale is { } scale && (Before is null || After is null) ? paper * scale : null);
        return (Before, body, After) switch
        {
            ({ } before, _, { } after) => (before, paper - before - after),
            ({ } before, { } length, null) => (before, length),
            (null, { } length, { } after) => (paper - length - after, length),
            (null, { } length, null) => ((paper - length) * ratio / (1 + ratio), length),
            ({ } before, null, null) => (before, paper - before - (before / ratio)),
            (null, null, { } after) => (after * ratio, paper - after - (after * ratio)),
            _ => Ratio is null ? usual : ((paper - usual.Body) * ratio / (1 + ratio), usual.Body),
        };
    }
}

/// <summary>What a preamble wants of the page, as the package geometry takes it.</summary>
internal sealed record PageSpecification
{
    public AxisSpecification Across { get; init; } = new();

    public AxisSpecification Down { get; init; } = new();

    /// <summary>Whether the head belongs to the length of the text block.</summary>
    public bool IncludesHead { get; init; }

    /// <summary>Whether the foot belongs to the length of the text block.</summary>
    public bool IncludesFoot { get; init; }

    /// <summary>Whether notes in the margin belong to its width.</summary>
    public bool IncludesNotes { get; init; }

    /// <summary>Width of notes in the margin in points; null: what the margin leaves.</summary>
    public double? NotesWidth { get; init; }

    /// <summary>Number of lines on a page, or null.</summary>
    public int? Lines { get; init; }

    /// <summary>Whether the text block's length is one of whole lines.</summary>
    public bool RoundsHeight { get; init; }

    /// <summary>Space at the inner edge for binding, in points.</summary>
    public double Binding { get; init; }
}
