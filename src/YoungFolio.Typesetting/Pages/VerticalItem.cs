using YoungFolio.Manuscript.Tree;
using YoungFolio.Typesetting.Lines;

namespace YoungFolio.Typesetting.Pages;

/// <summary>A piece of the vertical flow, before pages are parted.</summary>
internal abstract class VerticalItem;

/// <summary>A line, or another box that isn't parted.</summary>
internal sealed class BoxItem(Box box, double indent) : VerticalItem
{
    public Box Box => box;

    public double Indent => indent;

    /// <summary>Notes called in it, set and ready.</summary>
    public List<NoteBox> Notes { get; } = [];

    /// <summary>Text that stands in the margin beside it; the baseline is its first line's.</summary>
    public List<Box> MarginNotes { get; } = [];
}

/// <summary>A footnote, set.</summary>
internal sealed record NoteBox(List<Line> Lines, double Leading)
{
    public double Height => Lines.Count * Leading;
}

/// <summary>A space; it vanishes at a page's top unless it stays.</summary>
internal sealed class SpaceItem(double width, double stretch, double shrink, double infinite, bool stays) : VerticalItem
{
    public double Width => width;

    public double Stretch => stretch;

    public double Shrink => shrink;

    public double Infinite => infinite;

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

/// <summary>A float, set.</summary>
internal sealed class FloatItem(FloatBlock block, List<VerticalItem> content, double height) : VerticalItem
{
    public FloatBlock Block => block;

    public List<VerticalItem> Content => content;

    public double Height => height;

    public bool IsPlaced { get; set; }
}
