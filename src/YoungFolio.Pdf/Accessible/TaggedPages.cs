using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Documents.LogicalStructure;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Pdf.Accessible;

/// <summary>What an element holds, in the order of reading.</summary>
/// <param name="Element">A part of it, or null.</param>
/// <param name="Page">The page of a marked sequence or of a link.</param>
/// <param name="Sequence">Number of the marked sequence on its page; −1: it is a link.</param>
/// <param name="Link">The link, or null.</param>
internal readonly record struct ElementContent(StructureElement? Element, int Page, int Sequence, LinkMark? Link);

/// <summary>
/// Parts the marks of pages into marked sequences, each of which belongs to one element or decorates (ISO 32000-1, 14.6), and finds out what each
/// element holds in the order of reading: parts of a line come where the pages have them.
/// </summary>
internal sealed class TaggedPages
{
    private const string Decoration = "/Artifact BMC\n";

    private readonly StructureTree _structure;
    private readonly Dictionary<StructureElement, List<ElementContent>> _contents = new(ReferenceEqualityComparer.Instance);
    private readonly HashSet<StructureElement> _attached = new(ReferenceEqualityComparer.Instance);

    private TaggedPages(StructureTree structure, IReadOnlyList<Page> pages)
    {
        _structure = structure;
        _attached.Add(structure.Root);
        AttachParts(structure.Root);
        Openings = [.. pages.Select((p, i) => new PageReader(this, p, i).Read())];
        Prune(structure.Root);
    }

    /// <summary>
    /// Of each page, for each of its marks in the order in which they are written (a group before what is in it): what begins the sequence that it
    /// stands in. The same string object goes on with the sequence; null: none, as for a group.
    /// </summary>
    public IReadOnlyList<IReadOnlyList<string?>> Openings { get; }

    /// <summary>The elements of each page's sequences, by their numbers.</summary>
    public List<List<StructureElement>> Sequences { get; } = [];

    /// <summary>The pages with their sequences.</summary>
    public static TaggedPages Of(StructureTree structure, IReadOnlyList<Page> pages) => new(structure, pages);

    /// <summary>What an element holds.</summary>
    public IReadOnlyList<ElementContent> ContentOf(StructureElement element) => _contents.TryGetValue(element, out List<ElementContent>? content) ? content : [];

    // Parts of what holds no text come as the tree has them.
    private void AttachParts(StructureElement element)
    {
        foreach (StructureElement child in element.Children)
        {
            if (!element.HoldsText)
            {
                _attached.Add(child);
                Hold(element, new ElementContent(child, 0, 0, null));
            }

            AttachParts(child);
            if (child.Follower is { } follower)
            {
                AttachParts(follower);
            }
        }
    }

    private void Attach(StructureElement element)
    {
        if (element.Parent is not { } parent)
        {
            return;
        }

        Attach(parent);
        if (!_attached.Add(element))
        {
            return;
        }

        Hold(parent, new ElementContent(element, 0, 0, null));
        if (element.Follower is { } follower)
        {
            Attach(follower);
        }
    }

    private void Hold(StructureElement element, ElementContent content)
    {
        if (!_contents.TryGetValue(element, out List<ElementContent>? held))
        {
            _contents[element] = held = [];
        }

        held.Add(content);
    }

    // Elements that nothing stands in aren't told.
    private bool Prune(StructureElement element)
    {
        if (!_contents.TryGetValue(element, out List<ElementContent>? held))
        {
            return element.StaysEmpty;
        }

        held.RemoveAll(c => c.Element is { } part && !Prune(part));
        return held.Count > 0 || element.StaysEmpty;
    }

    /// <summary>Goes over the marks of one page.</summary>
    private sealed class PageReader(TaggedPages all, Page page, int number)
    {
        private readonly List<string?> _openings = [];
        private readonly List<StructureElement> _sequences = [];
        private string? _now;
        private StructureElement? _element;

        public List<string?> Read()
        {
            Read(page.Marks, null);
            all.Sequences.Add(_sequences);
            return _openings;
        }

        private void Read(IReadOnlyList<Placed> marks, Node? around)
        {
            foreach (Placed placed in marks)
            {
                Node? owner = placed.Owner ?? around;
                switch (placed.Mark)
                {
                    case AnchorMark:
                        _openings.Add(_now);
                        break;
                    case LinkMark link:
                        _openings.Add(_now);
                        if (all._structure.ElementOf(owner) is { } target)
                        {
                            all.Attach(target);
                            all.Hold(target, new ElementContent(null, number, -1, link));
                        }

                        break;
                    case GroupMark group:
                        (_now, _element) = (null, null);
                        _openings.Add(null);
                        Read(group.Content, owner);
                        (_now, _element) = (null, null);
                        break;
                    default:
                        Turn(placed, owner);
                        _openings.Add(_now);
                        break;
                }
            }
        }

        private void Turn(Placed placed, Node? owner)
        {
            StructureElement? element = all._structure.ElementOf(owner);
            // Lines and shapes say something in formulas and drawings alone.
            if (element is not null && placed.Mark is not GlyphMark && !element.IsWithin(StructureRole.Figure, StructureRole.Formula))
            {
                element = null;
            }

            string? decoration = element is null ? DecorationOf(placed, owner) : null;
            if (_now is not null && ReferenceEquals(element, _element) && (decoration is null || decoration == _now))
            {
                return;
            }

            _element = element;
            if (element is null)
            {
                // An object of its own: the same object goes on with what it began.
                _now = new string(decoration);
                return;
            }

            all.Attach(element);
            all.Hold(element, new ElementContent(null, number, _sequences.Count, null));
            _now = string.Create(CultureInfo.InvariantCulture, $"/{StructureWriter.NameOf(element)} <</MCID {_sequences.Count}>> BDC\n");
            _sequences.Add(element);
        }

        // Heads and feet say that they are (ISO 14289-1, 7.8).
        private string DecorationOf(Placed placed, Node? owner) => owner is not PageLine ? Decoration
            : $"/Artifact <</Type /Pagination /Subtype /{(placed.Y < page.Height / 2 ? "Header" : "Footer")}>> BDC\n";
    }
}
