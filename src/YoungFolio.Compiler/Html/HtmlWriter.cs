using System.Xml.Linq;
using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Documents.LogicalStructure;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Compiler.Html;

/// <summary>
/// Writes a manuscript as one page of HTML that needs nothing else: headings, lists, tables with heads, figures with what they show in words,
/// formulas as MathML, notes and references, with the numbers that print (HTML Living Standard; WAI-ARIA's roles for publications, DPUB-ARIA 1.1).
/// </summary>
internal sealed class HtmlWriter
{
    private const string Styles = "page.css";

    private static readonly HashSet<string> s_empty = new(StringComparer.Ordinal) { "br", "img", "meta", "hr", "col" };
    private static readonly HashSet<string> s_bullets = new(StringComparer.Ordinal) { "•", "–", "∗", "·", "*", "-", "◦", "▪" };

    private readonly Document _document;
    private readonly TypesetDocument _pages;
    private readonly HtmlInlines _inlines;
    private readonly HtmlTables _tables;
    private readonly List<HeadingBlock> _headings;
    private readonly HeadingDepths _depths;
    private bool _hasTitle;

    // Of the list that is being written: its items' own distance from the left is no inset.
    private double _margin;

    private HtmlWriter(Document document, TypesetDocument pages, IFileTree files)
    {
        _document = document;
        _pages = pages;
        _tables = new HtmlTables(() => _inlines!, Of);
        _inlines = new HtmlInlines(document, pages, files) { Tables = _tables, Blocks = Of };
        _depths = new HeadingDepths(document.Blocks);
        _headings = [.. All<HeadingBlock>(document.Blocks)];
    }

    /// <summary>The page.</summary>
    /// <param name="document">The manuscript.</param>
    /// <param name="pages">Its pages, for the numbers of pages that are referred to.</param>
    /// <param name="files">Its files, for pictures.</param>
    public static string Write(Document document, TypesetDocument pages, IFileTree files) => new HtmlWriter(document, pages, files).Page();

    /// <summary>The words of the page alone: a paragraph, heading, item or row a line, an empty line between paragraphs.</summary>
    /// <inheritdoc cref="Write"/>
    public static string WriteText(Document document, TypesetDocument pages, IFileTree files) => PageText.Of(new HtmlWriter(document, pages, files).Body());

    private XElement Body()
    {
        List<XNode> body = [.. Of(_document.Blocks)];
        if (!_hasTitle && _document.Title.Length > 0)
        {
            body.Insert(0, new XElement("h1", _document.Title));
        }

        return new XElement("main", body, Notes());
    }

    private string Page()
    {
        var html = new XElement("html",
            new XAttribute("lang", LanguageTag.Of(_document.Language)),
            new XElement("head",
                new XElement("meta", new XAttribute("charset", "utf-8")),
                new XElement("meta", new XAttribute("name", "viewport"), new XAttribute("content", "width=device-width, initial-scale=1")),
                new XElement("title", _document.Title.Length > 0 ? _document.Title : "Untitled"),
                _document.Author.Length > 0 ? new XElement("meta", new XAttribute("name", "author"), new XAttribute("content", _document.Author)) : null,
                new XElement("style", Styles)),
            new XElement("body", Body()));
        // Places that nothing leads to are none.
        HashSet<string> wanted = [.. html.Descendants("a").Select(a => a.Attribute("href")!.Value).Where(h => h.StartsWith('#')).Select(h => h[1..])];
        html.Descendants("span").Where(s => s.IsEmpty || s.Value.Length == 0).Where(s => s.Attribute("id") is { } id && !wanted.Contains(id.Value)).Remove();
        foreach (XElement element in html.DescendantsAndSelf().Where(e => e.IsEmpty && !s_empty.Contains(e.Name.LocalName)).ToList())
        {
            // HTML knows no short form of elements that may hold something.
            element.Value = "";
        }

        // Within a style element HTML takes every sign as it is.
        return "<!DOCTYPE html>\n" + html.ToString(SaveOptions.DisableFormatting).Replace($">{Styles}<", $">\n{ShippedText.Of(typeof(HtmlWriter).Assembly, "page.css")}<", StringComparison.Ordinal) + "\n";
    }

    private static IEnumerable<T> All<T>(IEnumerable<Node> nodes)
        where T : Node => nodes.SelectMany(n => n is T found ? [found] : All<T>(n.Children));

    // ---- blocks ---------------------------------------------------------------------------------------------

    private List<XNode> Of(IReadOnlyList<Block> blocks) => [.. ListRuns.Of(blocks).SelectMany(p => p.List is { } list ? [List(list)] : Of(p.Block!))];

    private IEnumerable<XNode> Of(Block block)
    {
        switch (block)
        {
            case ParagraphBlock paragraph:
                return Paragraph(paragraph);
            case HeadingBlock heading:
                return Heading(heading);
            case DisplayBlock display:
                return Display(display);
            case FloatBlock figure:
                return [Float(figure)];
            case WrapBlock wrap:
                return [Float(wrap.Figure)];
            case ContentsBlock contents:
                return Contents(contents);
            case IndexBlock:
                return [new XElement("ul", new XAttribute("class", "labelled"), _pages.Index.Select(e => new XElement("li", new XAttribute("style", $"padding-left:{1 + e.Depth}em"), $"{e.Text}{(e.Pages.Length > 0 ? ", " + e.Pages : "")}")))];
            case LongTableBlock table:
                return [new XElement("figure", table.Captions.Select(c => _inlines.Place(c.Anchor)).FirstOrDefault(a => a is not null), _tables.Of(table), table.FirstHead.OfType<TableRow>().Where(r => r.Across is not null).Take(1).Select(r => new XElement("figcaption", Of(r.Across!))))];
            case AnchorBlock anchor:
                return _inlines.Place(anchor.Name) is { } id ? [new XElement("span", id)] : [];
            case PageStyleBlock style:
                return style.TextOverlays().Select(o => new XElement("div", new XAttribute("class", "p"), _inlines.Of(o.Content)));
            case MarkBlock or SpaceBlock or PenaltyBlock or PageBreakBlock or GeometryBlock:
                return [];
            case GroupBlock group:
                return Of(group.Content);
            default:
                return Of([.. block.Children.OfType<Block>()]);
        }
    }

    private IEnumerable<XNode> Paragraph(ParagraphBlock paragraph)
    {
        string text = PlainText.Of(paragraph.Content);
        IReadOnlyList<XNode> content = _inlines.Of(paragraph.Content);
        if (content.All(n => n is XText t && string.IsNullOrWhiteSpace(t.Value)))
        {
            return [];
        }

        string? look = paragraph.Style.Alignment switch { Alignment.Centre => "centred", Alignment.Right => "right", _ => paragraph.Style.LeftMargin > _margin + 12 ? "inset" : null };
        if (!_hasTitle && _document.Title.Length > 0 && text == _document.Title)
        {
            _hasTitle = true;
            return [new XElement("h1", look is null ? null : new XAttribute("class", look), content)];
        }

        bool holdsBlocks = HtmlInlines.HoldsBlocks(paragraph.Content);
        return [new XElement(holdsBlocks ? "div" : "p", (holdsBlocks ? $"p {look}".Trim() : look) is { } name ? new XAttribute("class", name) : null, content)];
    }

    // Part and chapter come before sections, whichever of them the manuscript has; the title is above all.
    private IEnumerable<XNode> Heading(HeadingBlock heading)
    {
        List<Inline> lines = [];
        foreach (ParagraphBlock line in heading.Lines.OfType<ParagraphBlock>())
        {
            lines.AddRange(lines.Count > 0 ? [new LineBreakInline(default), .. line.Content] : line.Content);
        }

        if (lines.Count > 0)
        {
            return [new XElement($"h{Math.Min(6, _depths.Next(heading.Level) + 2)}", _inlines.Place(heading.Anchor), _inlines.Of(lines))];
        }

        // One that runs into its paragraph prints there; here is its place.
        return _inlines.Place(heading.Anchor) is { } id ? [new XElement("span", id)] : [];
    }

    private XElement List(ListRun list)
    {
        (double around, _margin) = (_margin, list.Margin);
        var items = new List<XElement>();
        bool isPlain = true;
        foreach (ListRunItem item in list.Items)
        {
            ItemLabel label = item.First.Label!;
            bool isBullet = s_bullets.Contains(PlainText.Of(label.Content));
            isPlain &= isBullet;
            items.Add(new XElement("li", isBullet ? null : new XElement("span", new XAttribute("class", "label"), _inlines.Of(label.Content), " "), Paragraph(item.First with { Label = null }), Of(item.Below)));
        }

        _margin = around;
        return new XElement("ul", isPlain ? null : new XAttribute("class", "labelled"), items);
    }

    private IEnumerable<XNode> Display(DisplayBlock display)
    {
        if (display.Rows is [var one])
        {
            XNode[] number = one.Number is { } printed ? [new XElement("span", _inlines.Of(printed))] : [];
            return [.. Of(one.Before ?? []), new XElement("div", new XAttribute("class", "equation"), _inlines.Place(one.Anchor), Formula(one), number)];
        }

        // Rows are one formula, for those who listen; their numbers stand at their ends.
        XNamespace mathematics = MathMl.Element(new MathList([]), true).Name.Namespace;
        bool isNumbered = display.Rows.Any(r => r.Number is not null);
        var rows = display.Rows.Select(r => new XElement(mathematics + "mtr", _inlines.Place(r.Anchor),
            r.Cells.Select((c, i) => new XElement(mathematics + "mtd", new XAttribute("style", i % 2 == 0 && r.Cells.Count > 1 ? "text-align:right" : "text-align:left"), MathMl.Element(c, true).Elements())),
            isNumbered ? new XElement(mathematics + "mtd", r.Number is { } n ? new XElement(mathematics + "mtext", PlainText.Of(n)) : null) : null));
        return [new XElement("div", new XAttribute("class", "equation"), new XElement(mathematics + "math", new XAttribute("display", "block"), new XElement(mathematics + "mtable", new XAttribute("displaystyle", "true"), rows)))];
    }

    private static XElement Formula(DisplayRow row) => MathMl.Element(new MathList([.. row.Cells.SelectMany(c => c.Nodes)]), true);

    private XElement Float(FloatBlock figure)
    {
        var content = new List<XNode>();
        var captions = new List<XNode>();
        foreach ((Block block, bool isCaption) in FloatParts.Of(figure))
        {
            (isCaption ? captions : content).AddRange(isCaption ? _inlines.Of(((ParagraphBlock)block).Content) : Of(block));
        }

        return new XElement("figure", content, captions.Count > 0 ? new XElement("figcaption", captions) : null);
    }

    private IEnumerable<XNode> Contents(ContentsBlock contents)
    {
        (int Level, string Anchor, XNode[] Text)[] lines = contents.Kind == "toc"
            ? [.. _headings.Where(h => h.IsListed && h.List == "toc" && h.Level <= contents.Depth).Select(h => (h.Level, h.Anchor, (XNode[])[.. h.ContentsNumber is { } number ? _inlines.Of([.. number]).Append(new XText(" ")) : [], .. _inlines.Of(h.ShortTitle)]))]
            : [.. All<Caption>(All<Block>(_document.Blocks).SelectMany(Caption.Of)).Where(c => c.List == contents.Kind).Select(c => (0, c.Anchor, (XNode[])[new XText(c.Number + " "), .. _inlines.Of(c.Text)]))];
        if (lines.Length == 0)
        {
            return [];
        }

        int at = 0;
        return [new XElement("nav", new XAttribute("role", contents.Kind == "toc" ? "doc-toc" : "navigation"), new XAttribute("aria-label", contents.Kind switch { "toc" => "Contents", "lof" => "Figures", "lot" => "Tables", _ => "List" }), Level(lines.Min(l => l.Level)))];

        XElement Level(int level)
        {
            var list = new XElement("ol");
            while (at < lines.Length && lines[at].Level >= level)
            {
                if (lines[at].Level > level && list.LastNode is XElement last)
                {
                    last.Add(Level(lines[at].Level));
                    continue;
                }

                list.Add(new XElement("li", new XElement("a", new XAttribute("href", "#" + HtmlInlines.IdOf(lines[at].Anchor)), lines[at].Text)));
                at++;
            }

            return list;
        }
    }

    private static string Words(XNode node) => node is XElement element ? element.Value : node is XText text ? text.Value : "";

    private XElement? Notes()
    {
        var items = new List<XElement>();
        while (_inlines.TakeNotes() is { Count: > 0 } notes)
        {
            // A note may call another one.
            items.AddRange(notes.Select(n => new XElement("li", new XAttribute("id", n.Id), new XElement("a", new XAttribute("href", "#at-" + n.Id), new XAttribute("class", "label"), new XAttribute("aria-label", $"{string.Concat(n.Mark.Select(Words))}, back to the text"), n.Mark), " ", Of(n.Body))));
        }

        return items.Count == 0 ? null : new XElement("section", new XAttribute("role", "doc-endnotes"), new XAttribute("aria-label", "Notes"), new XElement("ol", new XAttribute("class", "labelled"), items));
    }
}
