using System.Xml.Linq;
using YoungFolio.Documents;
using YoungFolio.Documents.LogicalStructure;

namespace YoungFolio.Compiler.Html;

/// <summary>Tables as HTML.</summary>
internal sealed class HtmlTables(Func<HtmlInlines> inlines, Func<IReadOnlyList<Block>, IEnumerable<XNode>> blocks)
{
    private const int LongestNumber = 24;

    /// <summary>A table.</summary>
    public XElement Of(Table table) => Of(TableParts.Of(table), table.Columns.Count);

    /// <summary>A table that goes on over pages: its head once.</summary>
    public XElement Of(LongTableBlock table) => Of(TableParts.Of(table), table.Table.Columns.Count);

    private XElement Of(TableParts parts, int columns) => new("table",
        parts.Head.Count > 0 ? new XElement("thead", parts.Head.Select(r => Row(r, columns, true))) : null,
        new XElement("tbody", parts.Body.Select(r => Row(r, columns, false))));

    private XElement Row(TablePartRow row, int columns, bool isHead) => row.Row.Across is { } across
        ? new XElement("tr", new XElement("td", new XAttribute("colspan", Math.Max(1, columns)), blocks(across)))
        : new XElement("tr", row.Cells.Select(c => Cell(c, isHead)));

    private XElement Cell(TablePart part, bool isHead)
    {
        if (part.Cell is not { } cell)
        {
            return new XElement("td");
        }

        // A number that was parted at its decimal sign is one again.
        IEnumerable<XNode> content = cell.Blocks is { } inner ? blocks(inner)
            : cell.Decimals is { } decimals ? PlainText.Of([.. cell.Content, .. decimals]) is var number && number.Length < LongestNumber && number.Any(char.IsAsciiDigit) ? [new XText(number)] : inlines().Of([.. cell.Content, .. decimals])
            : inlines().Of(cell.Content);
        // An empty corner heads nothing.
        bool heads = isHead && !part.IsEmpty;
        return new XElement(heads ? "th" : "td",
            heads ? new XAttribute("scope", part.Columns > 1 ? "colgroup" : "col") : null,
            part.Columns > 1 ? new XAttribute("colspan", part.Columns) : null,
            part.Rows > 1 ? new XAttribute("rowspan", part.Rows) : null,
            cell.Column.Alignment switch { Alignment.Right => new XAttribute("style", "text-align:right"), Alignment.Centre => new XAttribute("style", "text-align:center"), _ => null },
            content);
    }
}
