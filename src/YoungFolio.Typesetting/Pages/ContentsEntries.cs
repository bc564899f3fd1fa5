using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Typesetting.Pages;

/// <summary>Makes the lines of the contents and of the lists of figures and tables: the parts of each entry in the form of its level.</summary>
internal static class ContentsEntries
{
    public static List<Block> Of(SettingContext context, ContentsBlock contents)
    {
        var result = new List<Block>();
        int depth = contents.Depth;
        foreach (Block block in Listed(context.Document, contents))
        {
            switch (block)
            {
                case ContentsInsertBlock insert when insert.List == contents.Kind:
                    depth = insert.Depth ?? depth;
                    result.AddRange(insert.Lines);
                    break;
                case HeadingBlock heading when heading.IsListed && heading.List == contents.Kind && (contents.Kind != "toc" || heading.Level <= depth):
                    result.AddRange(Entry(context, contents, contents.Kind == "toc" ? heading.Level : 1, heading.ContentsNumber, heading.ShortTitle, heading.Anchor));
                    break;
                case FloatBlock or LongTableBlock or ListedCaptionBlock when contents.Kind != "toc":
                    foreach (Caption caption in Caption.Of(block).Where(c => c.List == contents.Kind && c.Number.Length > 0))
                    {
                        var number = new TextRun(caption.Number, Nowhere(caption.Number), contents.Style);
                        result.AddRange(Entry(context, contents, 1, [number], caption.Text, caption.Anchor));
                    }

                    break;
            }
        }

        return result;
    }

    // A local list has what stands between it and the end of what it is of.
    private static IEnumerable<Block> Listed(Document document, ContentsBlock contents) => contents.Within is { } within
        ? NodeWalk.Flow(document.Blocks).SkipWhile(b => !ReferenceEquals(b, contents)).TakeWhile(b => b is not HeadingBlock { List: "toc" } heading || heading.Level > within)
        : NodeWalk.Flow(document.Blocks);

    private static IEnumerable<Block> Entry(
        SettingContext context, ContentsBlock contents, int level, IReadOnlyList<Inline>? number, IReadOnlyList<Inline> title, string anchor)
    {
        if (contents.Forms.FirstOrDefault(f => f.Level == level && f.IsNumbered == number is not null) is not { } form)
        {
            return [];
        }

        string page = context.Known.TryGetValue(anchor, out AnchorPlace place) ? place.Label : "00";
        var filling = new Filling(contents.Style, number ?? [], title, page);
        return form.Lines.Select(line => line is ParagraphBlock paragraph
            ? new ParagraphBlock([new LinkInline(filling.Of(paragraph.Content), anchor, false)], paragraph.Style)
            : line);
    }

    // The words belong to the heading, so a place in the source leads there and not to the contents.
    private static int[] Nowhere(string text) => [.. Enumerable.Repeat(PositionTable.None, text.Length)];

    /// <summary>Puts the parts of one entry into the form of its level.</summary>
    private sealed record Filling(TextStyle Around, IReadOnlyList<Inline> Number, IReadOnlyList<Inline> Title, string Page)
    {
        public List<Inline> Of(IReadOnlyList<Inline> form) => [.. form.SelectMany(Of)];

        private IReadOnlyList<Inline> Of(Inline inline) => inline switch
        {
            EntryPartInline { Part: EntryPart.Page } part => [new TextRun(Page, Nowhere(Page), part.Style)],
            EntryPartInline part => Restyle(part.Part == EntryPart.Number ? Number : Title, part.Style),
            BoxInline box => [box with { Content = Of(box.Content), Width = RoomFor(box) }],
            LinkInline link => [link with { Content = Of(link.Content) }],
            DecoratedInline decorated => [decorated with { Content = Of(decorated.Content) }],
            TransformInline transform => [transform with { Content = Of(transform.Content) }],
            BlockBoxInline blocks => [blocks with { Content = [.. blocks.Content.Select(b => b is ParagraphBlock p ? new ParagraphBlock(Of(p.Content), p.Style) : b)] }],
            _ => [inline],
        };

        // A number that is wider than its room (VIII, 10.12) gets more, so that it doesn't run into the title.
        private double? RoomFor(BoxInline box) => box.Width is { } width && NumberIn(box) is { } part
            ? Math.Max(width, (PlainText.Of(Number).Length * 0.5 * part.Style.Size) + (0.6 * part.Style.Size))
            : box.Width;

        private static EntryPartInline? NumberIn(BoxInline box) => box.Content
            .Select(i => i is EntryPartInline { Part: EntryPart.Number } part ? part : i is BoxInline inner ? NumberIn(inner) : null)
            .FirstOrDefault(p => p is not null);

        // What words have of their own, such as emphasis, they keep.
        private List<Inline> Restyle(IReadOnlyList<Inline> inlines, TextStyle style) => [.. inlines
            .Where(i => i is not NoteInline and not AnchorInline)
            .Select(i => i is TextRun r ? new TextRun(r.Text, Nowhere(r.Text), Merged(r.Style, style)) : i)];

        private TextStyle Merged(TextStyle own, TextStyle style) => style with
        {
            Family = own.Family != Around.Family ? own.Family : style.Family,
            Shape = own.Shape != Around.Shape ? own.Shape : style.Shape,
            Bold = own.Bold != Around.Bold ? own.Bold : style.Bold,
            Face = own.Face != Around.Face ? own.Face : style.Face,
            Colour = own.Colour != Around.Colour ? own.Colour : style.Colour,
            Rise = own.Rise,
            Language = own.Language,
            OldFigures = own.OldFigures,
        };
    }
}
