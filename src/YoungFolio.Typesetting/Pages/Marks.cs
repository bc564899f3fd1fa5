using System.IO.Hashing;
using System.Runtime.InteropServices;
using YoungFolio.Documents;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Images;

namespace YoungFolio.Typesetting.Pages;

/// <summary>Something on a page. Lengths are points of 1/72.27 in.</summary>
public abstract class Mark;

/// <summary>Glyphs of one font in a row.</summary>
public sealed class GlyphMark : Mark
{
    private ulong _looksHash;
    private ulong _placesHash;

    /// <summary>The font.</summary>
    public required FontFile Font { get; init; }

    /// <summary>Size.</summary>
    public required double Size { get; init; }

    /// <summary>Glyph numbers.</summary>
    public required uint[] Glyphs { get; init; }

    /// <summary>Left edge of each glyph, from the mark's own; one more than glyphs: the last is the width.</summary>
    public required double[] Edges { get; init; }

    /// <summary>Source position of each glyph.</summary>
    public required int[] Positions { get; init; }

    /// <summary>The characters that each glyph shows.</summary>
    public required string[] Texts { get; init; }

    /// <summary>Red, green and blue, a byte each.</summary>
    public int Colour { get; init; }

    /// <summary>Factor of the glyphs' own widths.</summary>
    public double Widening { get; init; } = 1;

    /// <summary>
    /// A hash of all that shows: font, size, colour, glyphs with their places, characters; not of where the words came from. Worked
    /// out once, since paragraphs that are set already keep their marks.
    /// </summary>
    public ulong LooksHash => _looksHash != 0 ? _looksHash : _looksHash = HashLooks();

    /// <summary>The first source position, counted as all are from <see cref="Placed.Base"/>; negative when no glyph has one.</summary>
    public int FirstPosition => Array.FindIndex(Positions, static p => p >= 0) is >= 0 and var index ? Positions[index] : -1;

    /// <summary>A hash of how the source positions lie to the first of them. Worked out once, like that of the looks.</summary>
    public ulong PlacesHash => _placesHash != 0 ? _placesHash : _placesHash = HashPlaces();

    private ulong HashPlaces()
    {
        int first = FirstPosition;
        int[] places = [.. Positions.Select(p => p < 0 ? -1 : p - first)];
        return Math.Max(1, XxHash3.HashToUInt64(MemoryMarshal.AsBytes(places.AsSpan())));
    }

    private ulong HashLooks()
    {
        ReadOnlySpan<double> numbers = [Size, Widening, Colour, Glyphs.Length];
        ulong hash = Chain(MemoryMarshal.AsBytes(numbers), Font.NameHash);
        hash = Chain(MemoryMarshal.AsBytes(Glyphs.AsSpan()), hash);
        hash = Chain(MemoryMarshal.AsBytes(Edges.AsSpan()), hash);
        foreach (string text in Texts)
        {
            hash = Chain(MemoryMarshal.AsBytes(text.AsSpan()), hash + (ulong)text.Length);
        }

        return Math.Max(1, hash);

        static ulong Chain(ReadOnlySpan<byte> bytes, ulong seed) => XxHash3.HashToUInt64(bytes, (long)seed);
    }

    /// <summary>The same glyphs, wider or narrower.</summary>
    public GlyphMark Widened(double factor) => Copy([.. Edges.Select(e => e * factor)], Texts, factor);

    /// <summary>The same glyphs, which no text stands for.</summary>
    public GlyphMark WithoutText() => Copy(Edges, [.. Texts.Select(_ => "")], Widening);

    /// <summary>The character of a hyphen that only a line's end makes.</summary>
    public const string SoftHyphen = "\u00AD";

    /// <summary>The same glyphs, the last of which shows another character.</summary>
    public GlyphMark EndingIn(string text) => Copy(Edges, [.. Texts[..^1], text], Widening);

    private GlyphMark Copy(double[] edges, string[] texts, double widening) => new()
    {
        Font = Font,
        Size = Size,
        Glyphs = Glyphs,
        Edges = edges,
        Positions = Positions,
        Texts = texts,
        Colour = Colour,
        Widening = widening,
    };
}

/// <summary>A filled rectangle; its origin is its lower left corner.</summary>
public sealed class RuleMark(double width, double height, int colour = 0) : Mark
{
    /// <summary>Red, green and blue, a byte each.</summary>
    public int Colour => colour;

    /// <summary>Width.</summary>
    public double Width => width;

    /// <summary>Height.</summary>
    public double Height => height;
}

/// <summary>A picture; its origin is its lower left corner.</summary>
public sealed class ImageMark(Picture picture, double width, double height, double angle, int position) : Mark
{
    /// <summary>Position of the command that placed it.</summary>
    public int Position => position;

    /// <summary>The picture.</summary>
    public Picture Picture => picture;

    /// <summary>Width before turning.</summary>
    public double Width => width;

    /// <summary>Height before turning.</summary>
    public double Height => height;

    /// <summary>Turn in degrees, anticlockwise, about the origin.</summary>
    public double Angle => angle;

    /// <summary>Place and size of the whole picture about the part that is shown, or null when all of it is.</summary>
    public (double X, double Y, double Width, double Height)? Whole { get; init; }

    /// <summary>Whether what lies outside the shown part is cut off.</summary>
    public bool Clips { get; init; }
}

/// <summary>A path that is filled, stroked or clips what follows in its group.</summary>
/// <param name="operators">Operators of a content stream, lengths in points of 1/72.27 in, Y upwards (ISO 32000-1, 8.5).</param>
public sealed class PathMark(string operators) : Mark
{
    /// <summary>The operators.</summary>
    public string Operators => operators;

    /// <summary>Opacity of what is filled, 0 to 1.</summary>
    public double FillOpacity { get; init; } = 1;

    /// <summary>Opacity of what is stroked, 0 to 1.</summary>
    public double StrokeOpacity { get; init; } = 1;
}

/// <summary>A passage of colours along a line, or between two circles.</summary>
/// <param name="IsRadial">Whether it goes between circles.</param>
/// <param name="Coordinates">Beginning and end: x and y of each; of circles x, y and radius of each.</param>
/// <param name="Stops">Colours in their order along the way, from 0 to 1; the first is at 0, the last at 1. Before and after them they go on.</param>
public sealed record Gradient(bool IsRadial, IReadOnlyList<double> Coordinates, IReadOnlyList<(double At, int Colour)> Stops);

/// <summary>A path filled with a passage of colours.</summary>
/// <param name="path">Operators of the path.</param>
/// <param name="evenOdd">Whether what is inside is told by the even-odd rule.</param>
/// <param name="gradient">The colours.</param>
/// <param name="matrix">Six numbers: from the gradient's coordinates to the path's.</param>
public sealed class ShadingMark(string path, bool evenOdd, Gradient gradient, double[] matrix) : Mark
{
    /// <summary>Operators of the path.</summary>
    public string Path => path;

    /// <summary>Whether what is inside is told by the even-odd rule.</summary>
    public bool EvenOdd => evenOdd;

    /// <summary>The colours.</summary>
    public Gradient Gradient => gradient;

    /// <summary>From the gradient's coordinates to the path's.</summary>
    public IReadOnlyList<double> Matrix => matrix;

    /// <summary>Opacity, 0 to 1.</summary>
    public double Opacity { get; init; } = 1;
}

/// <summary>Marks that are scaled or turned together about the origin.</summary>
/// <param name="content">The marks.</param>
/// <param name="a">Where (1, 0) goes, across.</param>
/// <param name="b">Where (1, 0) goes, up.</param>
/// <param name="c">Where (0, 1) goes, across.</param>
/// <param name="d">Where (0, 1) goes, up.</param>
public sealed class GroupMark(IReadOnlyList<Placed> content, double a, double b, double c, double d) : Mark
{
    /// <summary>The marks; Y is above the baseline.</summary>
    public IReadOnlyList<Placed> Content => content;

    /// <summary>The four numbers of the change.</summary>
    public (double A, double B, double C, double D) Matrix => (a, b, c, d);

    /// <summary>Where a place inside comes to stand.</summary>
    public (double X, double Y) Map(double x, double y) => ((a * x) + (c * y), (b * x) + (d * y));
}

/// <summary>A stretch that leads somewhere; its origin is on the baseline.</summary>
public sealed class LinkMark(double width, double height, double depth, string target, bool outside) : Mark
{
    /// <summary>Width.</summary>
    public double Width => width;

    /// <summary>Height above the baseline.</summary>
    public double Height => height;

    /// <summary>Depth below the baseline.</summary>
    public double Depth => depth;

    /// <summary>An anchor's name, or an address.</summary>
    public string Target => target;

    /// <summary>Whether it leads outside.</summary>
    public bool IsOutside => outside;
}

/// <summary>A place that links lead to.</summary>
public sealed class AnchorMark(string name) : Mark
{
    /// <summary>Its name.</summary>
    public string Name => name;
}

/// <summary>A mark with its place.</summary>
/// <param name="Mark">The mark.</param>
/// <param name="X">From the left.</param>
/// <param name="Y">Above the baseline (in a box) or below the page's top.</param>
/// <param name="Base">Added to the mark's source positions, unless they are none.</param>
/// <param name="Owner">The node of the tree that it shows, where that is told (<see cref="Tagging"/>).</param>
public readonly record struct Placed(Mark Mark, double X, double Y, int Base = 0, Node? Owner = null);

/// <summary>
/// Tells which node of the document tree each mark shows, for files that say what is what on their pages. What was set before isn't used again
/// then, since it shows the nodes of another tree.
/// </summary>
public sealed class Tagging
{
    private readonly Dictionary<Node, List<Node>> _made = [];
    private readonly HashSet<Node> _all = [];

    /// <summary>The nodes that were made while setting in the place of one of the tree, such as the lines of the contents.</summary>
    public IReadOnlyList<Node> MadeFor(Node node) => _made.TryGetValue(node, out List<Node>? made) ? made : [];

    internal bool IsMade(Node node) => _all.Contains(node);

    internal void Add(Node node, Node made)
    {
        _all.Add(made);
        if (!_made.TryGetValue(node, out List<Node>? known))
        {
            _made[node] = known = [];
        }

        known.Add(made);
    }
}

/// <summary>Marks about a baseline, with their measures.</summary>
public sealed class Box
{
    /// <summary>Width.</summary>
    public double Width { get; set; }

    /// <summary>Height above the baseline.</summary>
    public double Height { get; set; }

    /// <summary>Depth below the baseline.</summary>
    public double Depth { get; set; }

    /// <summary>Italic correction at its right.</summary>
    public double Italic { get; set; }

    /// <summary>The marks; Y is above the baseline.</summary>
    public List<Placed> Marks { get; } = [];

    /// <summary>Adds another box's marks.</summary>
    /// <param name="other">The other box.</param>
    /// <param name="x">From the left.</param>
    /// <param name="rise">Above the baseline.</param>
    /// <param name="origin">Added to the source positions of its marks.</param>
    public void Add(Box other, double x, double rise, int origin = 0)
    {
        foreach (Placed placed in other.Marks)
        {
            Marks.Add(placed with { X = placed.X + x, Y = placed.Y + rise, Base = placed.Base + origin });
        }

        Height = Math.Max(Height, other.Height + rise);
        Depth = Math.Max(Depth, other.Depth - rise);
    }

    /// <summary>Says what its marks show, where no part of them is told to be something else.</summary>
    public void Own(Node owner)
    {
        for (int i = 0; i < Marks.Count; i++)
        {
            Marks[i] = Marks[i] with { Owner = Marks[i].Owner ?? owner };
        }
    }

    /// <summary>The same marks, all of which show one node, or nothing that is told.</summary>
    public Box OwnedBy(Node? owner)
    {
        var box = new Box { Width = Width, Height = Height, Depth = Depth, Italic = Italic };
        box.Marks.AddRange(Marks.Select(m => m with { Owner = owner }));
        return box;
    }

    /// <summary>Adds a box at the right end.</summary>
    public void Append(Box other, double rise = 0)
    {
        Add(other, Width, rise);
        Width += other.Width;
    }
}

/// <summary>A finished page.</summary>
public sealed class Page
{
    /// <summary>Width of the paper in points of 1/72.27 in.</summary>
    public required double Width { get; init; }

    /// <summary>Height of the paper.</summary>
    public required double Height { get; init; }

    /// <summary>The number as printed.</summary>
    public required string Label { get; init; }

    /// <summary>The marks; X from the paper's left, Y from its top to the baseline.</summary>
    public List<Placed> Marks { get; } = new(256);

    /// <summary>The same page, to which more can be added.</summary>
    public Page Copy()
    {
        var copy = new Page { Width = Width, Height = Height, Label = Label };
        copy.Marks.AddRange(Marks);
        return copy;
    }
}

/// <summary>A line of the PDF's outline.</summary>
public sealed record OutlineEntry(int Level, string? Number, string Title, string Anchor, int Position);

/// <summary>Where an anchor came to stand.</summary>
/// <param name="Sheet">Page from 1.</param>
/// <param name="Label">The page's number as printed.</param>
/// <param name="Y">Distance from the page's top.</param>
/// <param name="Number">The page's number as a number.</param>
public readonly record struct AnchorPlace(int Sheet, string Label, double Y, int Number);

/// <summary>An entry of a printed index.</summary>
/// <param name="Depth">0 for an entry of its own, 1 for one within it, and so on.</param>
/// <param name="Text">Its words.</param>
/// <param name="Pages">Where it leads: pages, or another entry.</param>
/// <param name="Position">Where the first of its notes stands; none for one that only holds others.</param>
public sealed record IndexEntry(int Depth, string Text, string Pages, int Position);

/// <summary>All pages, with what leads to them.</summary>
public sealed class TypesetDocument
{
    /// <summary>The pages.</summary>
    public required IReadOnlyList<Page> Pages { get; init; }

    /// <summary>The outline.</summary>
    public required IReadOnlyList<OutlineEntry> Outline { get; init; }

    /// <summary>Anchors by name.</summary>
    public required IReadOnlyDictionary<string, AnchorPlace> Anchors { get; init; }

    /// <summary>Floats in the order of their numbers: kind, number, caption's text, anchor.</summary>
    public required IReadOnlyList<(string Kind, string Number, string Caption, string Anchor)> Floats { get; init; }

    /// <summary>The entries of the indexes, as they are printed.</summary>
    public required IReadOnlyList<IndexEntry> Index { get; init; }

    /// <summary>Lines that stand alone at a page's top or foot.</summary>
    public required IReadOnlyList<LoneLine> LoneLines { get; init; }

    /// <summary>How often pages were made until all numbers held.</summary>
    public required int Rounds { get; init; }

    /// <summary>What else than the tree's nodes its marks show; null: marks don't tell what they show.</summary>
    public Tagging? Tagging { get; init; }

    /// <summary>The same with other pages in the place of its own.</summary>
    public TypesetDocument With(IReadOnlyList<Page> pages) => new() { Pages = pages, Outline = Outline, Anchors = Anchors, Floats = Floats, Index = Index, LoneLines = LoneLines, Rounds = Rounds, Tagging = Tagging };
}
