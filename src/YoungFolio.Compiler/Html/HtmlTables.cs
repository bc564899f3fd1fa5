using System.Xml.Linq;
using YoungFolio.Documents;

namespace YoungFolio.Compiler.Html;

/// <summary>Tables as HTML: rows above the first line within are heads, as tables are set by common practice.</summary>
internal sealed class HtmlTables(Func<HtmlInlines> inlines, Func<IReadOnlyList<Block>, IEnumerable<XNode>> blocks)
{
    private const int LongestNumber = 24;

    /// <summary>A table.</summary>
    public XElement Of(Table table) => Of(HeadOf(table.Items), [], table.Columns);

    /// <summary>A table that goes on over pages: its head once.</summary>
    public XElement Of(LongTableBlock table)
    {
        IReadOnlyList<TableItem> head = table.FirstHead.Count > 0 ? table.FirstHead : table.Head;
        (IReadOnlyList<TableRow> own, IReadOnlyList<TableRow> body) = HeadOf(table.Table.Items);
        return head.Count > 0
            ? Of(([.. head.OfType<TableRow>().Where(static r => r.Across is null)], [.. table.Table.Items.OfType<TableRow>()]), [.. table.LastFoot.OfType<TableRow>()], table.Table.Columns)
            : Of((own, body), [.. table.LastFoot.OfType<TableRow>()], table.Table.Columns);
    }

    private static (IReadOnlyList<TableRow> Head, IReadOnlyList<TableRow> Body) HeadOf(IReadOnlyList<TableItem> items)
    {
        List<TableRow> rows = [.. items.OfType<TableRow>()];
        bool begun = false;
        for (int i = 0; i < items.Count; i++)
        {
            begun |= items[i] is TableRow;
            if (begun && IsLine(items[i]))
            {
                int above = items.Take(i).OfType<TableRow>().Count();
                // A table of nothing but heads, or with lines after every row, has none.
                bool parts = above < rows.Count && items.Count(IsLine) <= Math.Max(3, rows.Count / 2);
                return parts ? (rows[..above], rows[above..]) : ([], rows);
            }
        }

        return ([], rows);
    }

    // Space between rows is a line of no thickness.
    private static bool IsLine(TableItem item) => item is TableLine { Stretches: null, Thickness: > 0 };

    private XElement Of((IReadOnlyList<TableRow> Head, IReadOnlyList<TableRow> Body) rows, IReadOnlyList<TableRow> foot, IReadOnlyList<TableColumn> columns) => new("table",
        rows.Head.Count > 0 ? new XElement("thead", rows.Head.Select(r => Row(r, columns, true))) : null,
        new XElement("tbody", rows.Body.Concat(foot).Select(r => Row(r, columns, false))));

    private XElement Row(TableRow row, IReadOnlyList<TableColumn> columns, bool isHead)
    {
        if (row.Across is { } across)
        {
            return new XElement("tr", new XElement("td", new XAttribute("colspan", Math.Max(1, columns.Count)), blocks(across)));
        }

        return new XElement("tr", row.Cells.Select(cell =>
        {
            // A number that was parted at its decimal sign is one again.
            IEnumerable<XNode> content = cell.Blocks is { } inner ? blocks(inner)
                : cell.Decimals is { } decimals ? PlainText.Of([.. cell.Content, .. decimals]) is var number && number.Length < LongestNumber && number.Any(char.IsAsciiDigit) ? [new XText(number)] : inlines().Of([.. cell.Content, .. decimals])
                : inlines().Of(cell.Content);
            // An empty corner heads nothing.
            bool heads = isHead && (cell.Blocks is not null || PlainText.Of(cell.Content).Trim().Length > 0);
            return new XElement(heads ? "th" : "td",
                heads ? new XAttribute("scope", cell.Span > 1 ? "colgroup" : "col") : null,
                // Cells below one of several rows are there, and empty.
                cell.Span > 1 ? new XAttribute("colspan", cell.Span) : null,
                cell.Column.Alignment switch { Alignment.Right => new XAttribute("style", "text-align:right"), Alignment.Centre => new XAttribute("style", "text-align:center"), _ => null },
                content);
        }));
    }
}
