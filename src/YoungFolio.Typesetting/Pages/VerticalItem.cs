using YoungFolio.Documents;
using YoungFolio.Typesetting.Lines;

namespace YoungFolio.Typesetting.Pages;

/// <summary>A piece of the vertical flow, before pages are parted.</summary>
internal abstract class VerticalItem;

/// <summary>A line, or another box that isn't parted.</summary>
internal class BoxItem(Box box, double indent) : VerticalItem
{
    public Box Box => box;

    public double Indent => indent;

    /// <summary>Added to the source positions of its marks.</summary>
    public int Base { get; init; }

    /// <summary>Whether it is the first line of a paragraph of several lines.</summary>
    public bool BeginsParagraph { get; set; }

    /// <summary>Whether it is the last line of a paragraph of several lines.</summary>
    public bool EndsParagraph { get; set; }

    /// <summary>Notes called in it, set and ready.</summary>
    public List<NoteBox> Notes { get; } = [];

    /// <summary>Text that stands in the margin beside it; the baseline is its first line's.</summary>
    public List<Box> MarginNotes { get; } = [];
}

/// <summary>A row of a table that goes on over pages.</summary>
internal sealed class RowItem(Box box, double indent, LongTableRows table, int number) : BoxItem(box, indent)
{
    public LongTableRows Table => table;

    /// <summary>Its number among the table's rows, from 0.</summary>
    public int Number => number;

    public bool IsLast => number == table.Count - 1;
}

/// <summary>What a table over several pages repeats.</summary>
internal sealed class LongTableRows
{
    public required IReadOnlyList<Box> Head { get; init; }

    public required IReadOnlyList<Box> Foot { get; init; }

    public required int Count { get; init; }

    public required double Indent { get; init; }

    public double HeadHeight => Head.Sum(b => b.Height + b.Depth);

    public double FootHeight => Foot.Sum(b => b.Height + b.Depth);
}

/// <summary>A footnote, set.</summary>
internal sealed record NoteBox(List<NoteLine> Lines)
{
    public double Height => Lines.Sum(l => l.Extent);
}

/// <summary>A space; it vanishes at a page's top unless it stays.</summary>
internal sealed class SpaceItem(double width, double stretch, double shrink, double infinite, bool stays, double infiniteShrink = 0) : VerticalItem
{
    public double Width => width;

    public double Stretch => stretch;

    public double Shrink => shrink;

    public double Infinite => infinite;

    public double InfiniteShrink => infiniteShrink;

    public bool Stays => stays;
}

/// <summary>How welcome a page's end is here.</summary>
internal sealed class PenaltyItem(int penalty) : VerticalItem
{
    public int Penalty => penalty;
}

/// <summary>A page's end.</summary>
internal sealed class EjectItem(PageEnd end) : VerticalItem
{
    public PageEnd End => end;
}

/// <summary>A change of page style or numbering.</summary>
internal sealed class StyleItem(PageStyleBlock change) : VerticalItem
{
    public PageStyleBlock Change => change;
}

/// <summary>A change of the running heads' marks.</summary>
internal sealed class MarkItem(MarkBlock mark) : VerticalItem
{
    public MarkBlock Mark => mark;
}

/// <summary>A title page: the page that it makes has no number.</summary>
internal sealed class UnnumberedItem : VerticalItem;

/// <summary>Other measures of the page, from the next page on.</summary>
internal sealed class GeometryItem(PageGeometry geometry) : VerticalItem
{
    public PageGeometry Geometry => geometry;
}

/// <summary>What stands over all columns at the top of a page.</summary>
internal sealed class SpanningItem(List<VerticalItem> content, double height) : VerticalItem
{
    public List<VerticalItem> Content => content;

    public double Height => height;
}

/// <summary>A stretch of the page in several columns of equal length.</summary>
internal sealed class ColumnsItem(List<VerticalItem> items, ColumnsBlock block) : VerticalItem
{
    public List<VerticalItem> Items => items;

    public ColumnsBlock Block => block;

    /// <summary>Index of the first item that isn't on a page yet.</summary>
    public int Next { get; set; }
}

/// <summary>What opens a page, such as a chapter’s head: no float that is called on this page stands above it.</summary>
internal sealed class OpeningItem : VerticalItem;

/// <summary>A place that no float may pass.</summary>
internal sealed class BarrierItem : VerticalItem;

/// <summary>A page made longer or shorter, in points.</summary>
internal sealed class EnlargeItem(double by) : VerticalItem
{
    public double By => by;
}

/// <summary>A float, set.</summary>
internal sealed class FloatItem(FloatBlock block, List<VerticalItem> content, double height) : VerticalItem
{
    public FloatBlock Block => block;

    public List<VerticalItem> Content => content;

    public double Height => height;

    /// <summary>Notes called in it; they stand at the foot of its column.</summary>
    public IEnumerable<NoteBox> Notes => content.OfType<BoxItem>().SelectMany(b => b.Notes);

    /// <summary>Room that it takes in a column without the space around: itself and its notes.</summary>
    public double Room { get; } = height + content.OfType<BoxItem>().Sum(b => b.Notes.Sum(n => n.Height));

    /// <summary>Its place among all floats; 0 until it was taken from the flow.</summary>
    public int Order { get; set; }

    /// <summary>Whether the shares and numbers of floats on a page don't count for it.</summary>
    public bool IsUrgent => block.Placement.HasFlag(Placement.Urgent);

    /// <summary>Whether it may go somewhere. What may stand in the text alone may stand at a page's top too, when there is no room for it.</summary>
    public bool Allows(Placement where) => ((block.Placement & ~Placement.Urgent) == Placement.Here ? Placement.Here | Placement.Top : block.Placement).HasFlag(where);

    /// <summary>Whether another one is of its kind, whose order counts.</summary>
    public bool IsAlike(FloatItem other) => other.Block.Kind == block.Kind;

    /// <summary>Whether it stands over all columns.</summary>
    public bool IsWide { get; init; }

    /// <summary>Whether it was taken from the flow.</summary>
    public bool IsTaken { get; set; }
}
