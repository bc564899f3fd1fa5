using YoungFolio.Typesetting.Lines;

namespace YoungFolio.Typesetting.Pages;

/// <summary>Why a column ended.</summary>
internal enum ColumnEnd
{
    /// <summary>It was full.</summary>
    Full,

    /// <summary>The source ends it.</summary>
    Column,

    /// <summary>The source ends the page.</summary>
    Page,

    /// <summary>Nothing was left.</summary>
    Flow,
}

/// <summary>A line of a footnote, or what stands like one: a formula, a table. Lengths are in points.</summary>
/// <param name="Box">What is printed.</param>
/// <param name="Indent">From the left.</param>
/// <param name="Base">Base of its positions.</param>
/// <param name="Extent">Height that it takes, with the space above it.</param>
/// <param name="Baseline">Its baseline below its top.</param>
internal readonly record struct NoteLine(Box Box, double Indent, int Base, double Extent, double Baseline);

/// <summary>A column of a page, filled.</summary>
internal sealed class Column
{
    /// <summary>Height that it may fill.</summary>
    public required double Goal { get; set; }

    public List<FloatItem> Top { get; } = [];

    /// <summary>Whether floats that are called here may still go to the top: not above what opens a page.</summary>
    public bool TakesTop { get; set; } = true;

    /// <summary>Whether floats fill it, spread over its height.</summary>
    public bool HasOnlyFloats { get; set; }

    public List<VerticalItem> Items { get; set; } = [];

    public List<FloatItem> Bottom { get; } = [];

    public List<NoteLine> Notes { get; } = [];

    /// <summary>Index of the item at which the next column begins.</summary>
    public int Next { get; set; }

    public ColumnEnd End { get; set; }

    public bool IsEmpty => Top.Count == 0 && Bottom.Count == 0 && Notes.Count == 0 && !Items.Exists(IsSeen);

    /// <summary>Whether something of an item shows, or its room.</summary>
    public static bool IsSeen(VerticalItem item) => item is BoxItem { Box: var box } ? box.Height + box.Depth + box.Width > 0 || box.Marks.Count > 0
        : item is FloatItem or SpaceItem { Stays: true };
}
