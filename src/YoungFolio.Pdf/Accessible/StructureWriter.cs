using System.Globalization;
using System.Text;
using YoungFolio.Documents;
using YoungFolio.Documents.LogicalStructure;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Pdf.Accessible;

/// <summary>Writes a manuscript's structure into a file (ISO 32000-1, 14.7), as accessible files tell it (ISO 14289-1).</summary>
/// <param name="objects">The file's objects.</param>
/// <param name="tagged">What each element holds.</param>
/// <param name="root">The whole.</param>
/// <param name="pages">Numbers of the pages' objects.</param>
internal sealed class StructureWriter(PdfObjects objects, TaggedPages tagged, StructureElement root, int[] pages)
{
    private readonly Dictionary<LinkMark, (int Number, int Key)> _links = new(ReferenceEqualityComparer.Instance);
    private readonly Dictionary<StructureElement, int> _numbers = new(ReferenceEqualityComparer.Instance);
    private readonly Dictionary<LinkMark, StructureElement> _linkElements = new(ReferenceEqualityComparer.Instance);
    private readonly Dictionary<string, int> _formulas = new(StringComparer.Ordinal);
    private readonly List<(string Name, int Number)> _names = [];

    /// <summary>The name of an element's type in the file.</summary>
    public static string NameOf(StructureElement element) => element.Role switch
    {
        StructureRole.Document => "Document",
        StructureRole.Division => "Div",
        StructureRole.Heading => string.Create(CultureInfo.InvariantCulture, $"H{element.Level}"),
        StructureRole.Paragraph => "P",
        StructureRole.List => "L",
        StructureRole.ListItem => "LI",
        StructureRole.Label => "Lbl",
        StructureRole.ListBody => "LBody",
        StructureRole.BibliographyEntry => "BibEntry",
        StructureRole.Table => "Table",
        StructureRole.TableHead => "THead",
        StructureRole.TableBody => "TBody",
        StructureRole.TableRow => "TR",
        StructureRole.HeaderCell => "TH",
        StructureRole.DataCell => "TD",
        StructureRole.Figure => "Figure",
        StructureRole.Caption => "Caption",
        StructureRole.Formula => "Formula",
        StructureRole.Note => "Note",
        StructureRole.Reference => "Reference",
        StructureRole.Link => "Link",
        StructureRole.Contents => "TOC",
        StructureRole.ContentsItem => "TOCI",
        StructureRole.Index => "Index",
        _ => "Span",
    };

    /// <summary>What a page's dictionary says: where its sequences are listed, and that one goes over it in the order of its structure.</summary>
    public static string PageEntries(int page) => string.Create(CultureInfo.InvariantCulture, $" /StructParents {page} /Tabs /S");

    /// <summary>What a link's dictionary says; its object has a number already.</summary>
    /// <param name="link">The link.</param>
    /// <param name="number">Its object's number.</param>
    public string LinkEntries(LinkMark link, int number)
    {
        int key = pages.Length + _links.Count;
        _links[link] = (number, key);
        // 7.18.5: a link says in words where it leads.
        return string.Create(CultureInfo.InvariantCulture, $" /StructParent {key} /Contents {PdfObjects.Text(link.IsOutside ? link.Target : "A place in this document")}");
    }

    /// <summary>Writes the structure.</summary>
    /// <returns>What the file's catalog says of it.</returns>
    public string Write()
    {
        int tree = objects.Reserve();
        Write(root, tree);
        var nums = new StringBuilder();
        for (int i = 0; i < pages.Length; i++)
        {
            nums.Append(CultureInfo.InvariantCulture, $"{i} [{string.Join(' ', tagged.Sequences[i].Select(e => $"{_numbers[e]} 0 R"))}] ");
        }

        foreach ((LinkMark link, (int _, int key)) in _links.OrderBy(static l => l.Value.Key))
        {
            if (_linkElements.TryGetValue(link, out StructureElement? element))
            {
                nums.Append(CultureInfo.InvariantCulture, $"{key} {_numbers[element]} 0 R ");
            }
        }

        int parents = objects.Add($"<</Nums [{nums}]>>");
        string names = _names.Count == 0 ? "" : $" /IDTree {objects.Add($"<</Names [{string.Join(' ', _names.Select(static n => $"({n.Name}) {n.Number} 0 R"))}]>>")} 0 R";
        objects.Set(tree, $"<</Type /StructTreeRoot /K {_numbers[root]} 0 R /ParentTree {parents} 0 R /ParentTreeNextKey {pages.Length + _links.Count}{names}>>");
        return $" /MarkInfo <</Marked true>> /StructTreeRoot {tree} 0 R";
    }

    private int Write(StructureElement element, int parent)
    {
        int number = _numbers[element] = objects.Reserve();
        IReadOnlyList<ElementContent> content = tagged.ContentOf(element);
        int page = content.FirstOrDefault(static c => c.Element is null, new ElementContent(null, -1, 0, null)).Page;
        var kids = new List<string>();
        foreach (ElementContent one in content)
        {
            if (one.Element is { } part)
            {
                kids.Add($"{Write(part, number)} 0 R");
            }
            else if (one.Link is not { } link)
            {
                kids.Add(one.Page == page ? one.Sequence.ToString(CultureInfo.InvariantCulture) : $"<</Type /MCR /Pg {pages[one.Page]} 0 R /MCID {one.Sequence}>>");
            }
            else if (_links.TryGetValue(link, out (int Number, int Key) known))
            {
                _linkElements[link] = element;
                kids.Add($"<</Type /OBJR{(one.Page == page ? "" : $" /Pg {pages[one.Page]} 0 R")} /Obj {known.Number} 0 R>>");
            }
        }

        string name = NameOf(element);
        string text = $"<</S /{name} /P {parent} 0 R{(page >= 0 ? $" /Pg {pages[page]} 0 R" : "")}{(kids.Count == 0 ? "" : kids.Count == 1 ? $" /K {kids[0]}" : $" /K [{string.Join(' ', kids)}]")}";
        text += element.Language is { } language ? $" /Lang {PdfObjects.Text(LanguageTag.Of(language))}" : "";
        text += element.Alternative is { } alternative ? $" /Alt {PdfObjects.Text(alternative)}" : "";
        text += element.MathMl is { } formula ? $" /AF [{Formula(formula)} 0 R]" : "";
        text += element.Role switch
        {
            StructureRole.Note => $" /ID ({Name(number)})",
            StructureRole.HeaderCell or StructureRole.DataCell => Cell(element),
            _ => "",
        };
        objects.Set(number, text + ">>");
        return number;
    }

    // 7.9: each note has a name of its own. In the order of their names, as a tree of names has them.
    private string Name(int number)
    {
        string name = string.Create(CultureInfo.InvariantCulture, $"note{_names.Count:D6}");
        _names.Add((name, number));
        return name;
    }

    // 7.5: heads say what they head.
    private static string Cell(StructureElement cell)
    {
        string says = (cell.Role == StructureRole.HeaderCell ? " /Scope /Column" : "")
            + (cell.Columns > 1 ? string.Create(CultureInfo.InvariantCulture, $" /ColSpan {cell.Columns}") : "")
            + (cell.Rows > 1 ? string.Create(CultureInfo.InvariantCulture, $" /RowSpan {cell.Rows}") : "");
        return says.Length == 0 ? "" : $" /A <</O /Table{says}>>";
    }

    // A formula's structure goes along as a file that belongs to it (ISO 32000-2, 14.13; with names in both forms by ISO 14289-1, 7.11).
    private int Formula(string mathMl)
    {
        if (_formulas.TryGetValue(mathMl, out int known))
        {
            return known;
        }

        byte[] bytes = Encoding.UTF8.GetBytes(mathMl);
        int data = objects.AddStream($"/Type /EmbeddedFile /Subtype /application#2Fmathml+xml /Params <</Size {bytes.Length}>> /Filter /FlateDecode", PdfObjects.Deflate(bytes));
        string name = PdfObjects.Text($"formula{_formulas.Count + 1}.xml");
        return _formulas[mathMl] = objects.Add($"<</Type /Filespec /F {name} /UF {name} /AFRelationship /Supplement /EF <</F {data} 0 R /UF {data} 0 R>>>>");
    }
}
