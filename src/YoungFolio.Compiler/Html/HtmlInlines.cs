using System.Globalization;
using System.Text;
using System.Xml.Linq;
using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Compiler.Html;

/// <summary>The text of lines as HTML: words with their looks, formulas, references with the numbers that print, pictures, notes.</summary>
internal sealed class HtmlInlines(Document document, TypesetDocument pages, IFileTree files)
{
    private static readonly HashSet<string> s_schemes = new(StringComparer.OrdinalIgnoreCase) { "http", "https", "mailto", "ftp", "tel", "doi" };

    private readonly List<(string Id, XNode[] Mark, IReadOnlyList<Block> Body)> _notes = [];
    private readonly HashSet<string> _ids = new(StringComparer.Ordinal);
    private int _noteCount;

    /// <summary>Sets tables and blocks that stand in a line.</summary>
    public required HtmlTables Tables { get; init; }

    /// <summary>Writes blocks that stand in a line.</summary>
    public required Func<IReadOnlyList<Block>, IEnumerable<XNode>> Blocks { get; init; }

    /// <summary>Takes the notes that were called since the last time.</summary>
    public IReadOnlyList<(string Id, XNode[] Mark, IReadOnlyList<Block> Body)> TakeNotes()
    {
        (string, XNode[], IReadOnlyList<Block>)[] notes = [.. _notes];
        _notes.Clear();
        return notes;
    }

    /// <summary>Whether something in a line is no part of a paragraph in HTML.</summary>
    public static bool HoldsBlocks(IReadOnlyList<Inline> inlines) => inlines.Any(i => i is TableInline or BlockBoxInline or MarginInline || HoldsBlocks([.. i.Children.OfType<Inline>()]));

    /// <summary>The name by which links reach an anchor; each is given once.</summary>
    public static string IdOf(string anchor) => "a-" + string.Concat(anchor.Select(static c => char.IsAsciiLetterOrDigit(c) ? c.ToString() : c is '-' or '_' ? c.ToString() : $".{(int)c:x}"));

    /// <summary>An attribute that makes an element the place of an anchor; null when another one is already.</summary>
    public XAttribute? Place(string? anchor) => anchor is { Length: > 0 } && _ids.Add(IdOf(anchor)) ? new XAttribute("id", IdOf(anchor)) : null;

    /// <summary>Lines as HTML.</summary>
    public IReadOnlyList<XNode> Of(IReadOnlyList<Inline> inlines)
    {
        var nodes = new List<XNode>();
        for (int i = 0; i < inlines.Count; i++)
        {
            if (inlines[i] is TextRun run)
            {
                // Runs that look the same are one.
                var text = new StringBuilder(run.Text);
                while (i + 1 < inlines.Count && inlines[i + 1] is TextRun next && Look(next.Style) == Look(run.Style))
                {
                    text.Append(next.Text);
                    i++;
                }

                nodes.AddRange(Looking(run.Style, Clean(text.ToString())));
                continue;
            }

            // Two spaces side by side are one.
            nodes.AddRange(Of(inlines[i]).Where(n => n is not XText { Value: " " } || nodes.LastOrDefault() is not XText { Value: [.., ' '] }));
        }

        return nodes;
    }

    private IEnumerable<XNode> Of(Inline inline)
    {
        switch (inline)
        {
            case SpaceInline space:
                return space.Glue.Width.Points > 0 || space.Glue.Stretch.Points > 0 ? [new XText(" ")] : [];
            case LineBreakInline:
                return [new XElement("br")];
            case MathInline math:
                return [MathMl.Element(math.Formula, false)];
            case ReferenceInline reference:
                return Reference(reference);
            case PageFieldInline { Field: PageField.Number, Anchor: { } anchor }:
                return [new XText(pages.Anchors.TryGetValue(anchor, out AnchorPlace place) ? place.Label : "")];
            case PagesInline several:
                return [new XText(string.Join(", ", several.Anchors.Select(a => pages.Anchors.TryGetValue(a, out AnchorPlace at) ? at.Label : "").Where(l => l.Length > 0).Distinct()))];
            case LinkInline link:
                IReadOnlyList<XNode> content = Of(link.Content);
                return content.Count == 0 || (link.IsOutside && !IsHarmless(link.Target)) ? content : [new XElement("a", new XAttribute("href", link.IsOutside ? link.Target : "#" + IdOf(link.Target)), content)];
            case AnchorInline anchor:
                return Place(anchor.Name) is { } id ? [new XElement("span", id, "")] : [];
            case NoteInline note:
                return Note(note);
            case ImageInline image:
                return [Picture(image)];
            case TableInline table:
                return [Tables.Of(table.Table)];
            case BlockBoxInline box:
                return [new XElement("div", new XAttribute("class", "box"), Blocks(box.Content))];
            case MarginInline margin:
                return [new XElement("aside", Blocks(margin.Content))];
            case BoxInline { IsPhantom: true }:
                return [];
            case BoxInline { IsFramed: true } framed:
                return [new XElement("span", new XAttribute("class", "framed"), Of(framed.Content))];
            case BoxInline { IsUnderlined: true } underlined:
                return [new XElement("u", Of(underlined.Content))];
            case DecoratedInline decorated:
                string element = decorated.Decoration switch { Decoration.StrikeOut or Decoration.CrossOut => "s", Decoration.Highlight => "mark", _ => "u" };
                return [new XElement(element, Of(decorated.Content))];
            case DeferredInline deferred:
                return Of(deferred.Content);
            case DrawingInline drawing:
                return [new XElement("span", new XAttribute("class", "drawing"), Of([.. drawing.Children.OfType<Inline>()]))];
            default:
                return Of([.. inline.Children.OfType<Inline>()]);
        }
    }

    // A link that runs something when it is followed is none.
    private static bool IsHarmless(string target) => Uri.TryCreate(target, UriKind.Absolute, out Uri? address) && s_schemes.Contains(address.Scheme);

    private IEnumerable<XNode> Reference(ReferenceInline reference)
    {
        if (!document.Labels.TryGetValue(reference.Key, out Label? label))
        {
            return [new XText("??")];
        }

        string page = pages.Anchors.TryGetValue(label.PageAnchor, out AnchorPlace place) ? place.Label : "?";
        IEnumerable<XNode> text = Looking(reference.Style, reference.Kind == ReferenceKind.Page ? page : label.Number ?? page);
        return [new XElement("a", new XAttribute("href", "#" + IdOf(label.Anchor)), text)];
    }

    private XNode[] Note(NoteInline note)
    {
        XNode[] mark = [.. Of(note.Mark)];
        if (note.Body is not { } body)
        {
            return note.PrintsMark ? mark : [];
        }

        string id = "note-" + (++_noteCount).ToString(CultureInfo.InvariantCulture);
        _notes.Add((id, mark, body));
        return note.PrintsMark ? [new XElement("a", new XAttribute("href", "#" + id), new XAttribute("id", "at-" + id), new XAttribute("role", "doc-noteref"), Of(note.Mark))] : [];
    }

    private XElement Picture(ImageInline image)
    {
        string alternative = image.Alternative ?? "";
        ManuscriptFile? file = files.Find(image.Path);
        string type = Path.GetExtension(image.Path).ToUpperInvariant() switch { ".PNG" => "image/png", ".JPG" or ".JPEG" => "image/jpeg", ".SVG" => "image/svg+xml", ".PDF" => "application/pdf", _ => "" };
        if (file is null || type.Length == 0)
        {
            return new XElement("span", new XAttribute("class", "missing"), alternative.Length > 0 ? alternative : image.Path);
        }

        string data = $"data:{type};base64,{Convert.ToBase64String(file.Bytes.Span)}";
        string? width = image.Width is { } points ? string.Create(CultureInfo.InvariantCulture, $"width:{Math.Min(100, 100 * points / document.Geometry.ColumnWidth):0.#}%") : null;
        XAttribute? look = width is null ? null : new XAttribute("style", width);
        // A page of a PDF has no picture that every browser shows; what is said of it stands in its place there.
        return type == "application/pdf"
            ? new XElement("object", new XAttribute("data", $"{data}#page={image.Page}&toolbar=0&navpanes=0"), new XAttribute("type", type), look, new XAttribute("aria-label", alternative.Length > 0 ? alternative : image.Path), alternative.Length > 0 ? alternative : image.Path)
            : new XElement("img", new XAttribute("src", data), new XAttribute("alt", alternative), look);
    }

    // ---- looks ----------------------------------------------------------------------------------------------

    private static (FontFamily, bool, FontShape, int, int, string?) Look(TextStyle style) => (style.Family, style.Bold, style.Shape, Math.Sign(style.Rise), style.Colour, style.Language);

    private IEnumerable<XNode> Looking(TextStyle style, string text)
    {
        // Spaces of typed text stay by its looks.
        XNode node = style.Family == FontFamily.Mono ? new XElement("code", text.Replace('\u00A0', ' ')) : new XText(text);
        node = style.Shape == FontShape.SmallCaps ? new XElement("span", new XAttribute("class", "small-capitals"), node) : node;
        node = style.Shape is FontShape.Italic or FontShape.Slanted ? new XElement("em", node) : node;
        node = style.Bold ? new XElement("strong", node) : node;
        node = style.Rise > 0 ? new XElement("sup", node) : style.Rise < 0 ? new XElement("sub", node) : node;
        node = style.Colour != 0 ? new XElement("span", new XAttribute("style", $"color:#{style.Colour:x6}"), node) : node;
        node = style.Language is { } language && language != document.Language ? new XElement("span", new XAttribute("lang", LanguageTag.Of(language)), node) : node;
        return [node];
    }

    // Divisions of words are the reader's own; signs that XML doesn't know can't be said.
    private static string Clean(string text) => string.Concat(text.Where(static c => c != '\u00AD' && (char.IsSurrogate(c) || System.Xml.XmlConvert.IsXmlChar(c))));
}
