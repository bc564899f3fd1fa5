using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Lists that are made when all has been read: of symbols, terms and listings, the index, and what the contents list besides headings.
public sealed partial class DocumentBuilder
{
    /// <summary>Adds blocks that are known when all has been read.</summary>
    internal void AddLater(Func<List<Block>> make)
    {
        var content = new List<Block>();
        AddBlock(new GroupBlock(content));
        TextStyle style = _style.Value;
        _deferred.Add(() =>
        {
            Machine.BeginGroup(GroupKind.Command, "", PositionTable.None);
            Machine.Assign(_style, style);
            content.AddRange(make());
            Machine.EndGroup();
        });
    }

    /// <summary>Adds a line to a list of the front matter, such as that of listings.</summary>
    internal void AddListLine(string list, string? number, IReadOnlyList<Inline> text, string anchor, int position)
    {
        if (!_documentBegun || _frames.Peek().InlineOnly)
        {
            return;
        }

        var line = new HeadingBlock
        {
            Level = 2,
            Number = null,
            ContentsNumber = number is null ? null : [MakeText(number, position)],
            ShortTitle = text,
            Anchor = anchor,
            Position = position,
            IsListed = true,
            IsInOutline = false,
            Lines = [],
            SpaceAbove = default,
            SpaceBelow = default,
            List = list,
            IsPlaced = false,
        };
        _frames.Peek().AfterParagraph.Add(line);
    }

    /// <summary>Text of an index's entry, in the document's own type.</summary>
    internal List<Inline> BuildIndexText(List<Token> text)
    {
        Machine.BeginGroup(GroupKind.Command, "", PositionTable.None);
        Machine.Assign(_style, PlainStyle(TypeSizes.Of("normalsize", BasicSize).Size));
        List<Inline> result = BuildInlines(text);
        Machine.EndGroup();
        return result;
    }

    /// <summary>Prints an index with its heading.</summary>
    internal void AddIndex(List<Token> title, IReadOnlyList<IndexNote> notes, Token token)
    {
        string level = Class.HasChapters ? "chapter" : "section";
        Execute([Token.Command(Machine.Symbol(level), token.Position), Token.Character('*', Category.Other, token.Position), .. Machine.Braced(title, token.Position)]);
        if (IndexInContents)
        {
            AddContentsLine("toc", level, title, token);
        }

        AddBlock(new IndexBlock { Notes = notes, Style = _style.Value, Paragraph = PlainParagraph() });
    }

    /// <summary>A paragraph with a label in the margin: a symbol and its meaning.</summary>
    internal IEnumerable<Block> LabelledParagraph(IReadOnlyList<Inline> label, List<Token> text, double width)
    {
        Machine.BeginGroup(GroupKind.Command, "", PositionTable.None);
        Machine.Assign(_parIndent, default);
        double margin = width + 5;
        Machine.Assign(_leftMargin, margin);
        foreach (Block block in BuildBlocks(text))
        {
            yield return block is ParagraphBlock p
                ? new ParagraphBlock(p.Content, p.Style with { Indent = 0, SpaceAbove = Glue.Of(3, 1) }) { Label = label, LabelSeparation = 5, LabelWidth = width, LabelAlignment = 'l' }
                : block;
        }

        Machine.EndGroup();
    }

    /// <summary>A paragraph of a glossary: the name in bold, what it means, and the pages of its uses.</summary>
    internal IEnumerable<Block> GlossaryParagraph(string anchor, List<Token> name, List<Token> text, IReadOnlyList<string> places)
    {
        Machine.BeginGroup(GroupKind.Command, "", PositionTable.None);
        TextStyle style = _style.Value;
        var content = new List<Inline> { new AnchorInline(anchor) };
        Machine.Assign(_style, style with { Bold = true });
        content.AddRange(BuildInlines(name));
        Machine.Assign(_style, style);
        content.Add(new SpaceInline(Glue.Of(style.Size), false));
        content.AddRange(BuildInlines(text));
        if (places.Count > 0)
        {
            content.Add(MakeText(", ", PositionTable.None));
            content.Add(new PagesInline(places, style));
        }

        Machine.EndGroup();
        return [new ParagraphBlock(content, PlainParagraph() with { Alignment = Alignment.Justified, SpaceAbove = Glue.Of(3, 1), LeftMargin = 25, Indent = -25 })];
    }

    /// <summary>Whether the contents list themselves.</summary>
    internal bool ContentsInContents { get; set; }

    /// <summary>Whether the list of figures stands in the contents.</summary>
    internal bool FigureListInContents { get; set; }

    /// <summary>Whether the list of tables stands in the contents.</summary>
    internal bool TableListInContents { get; set; }

    /// <summary>Whether the bibliography stands in the contents.</summary>
    internal bool BibliographyInContents { get; set; }

    /// <summary>Whether the index stands in the contents.</summary>
    internal bool IndexInContents { get; set; }

    /// <summary>A place that references lead to, as <c>\phantomsection</c> makes.</summary>
    internal void StartPhantomSection(Token token)
    {
        string anchor = NewAnchor("section");
        AddInlineAnchor(anchor);
        Machine.Assign(_currentLabel, (_currentLabel.Value ?? new CurrentLabel("section", null, anchor)) with { Anchor = anchor });
        _ = token;
    }

    /// <summary>Makes the label <c>LastPage</c>.</summary>
    internal void LabelLastPage() => WhenDocumentEnds(() =>
    {
        const string Anchor = "last page";
        _frames.Peek().Blocks.Add(new AnchorBlock(Anchor));
        _labels.TryAdd("LastPage", new Label("LastPage", "source", null, Anchor, PositionTable.None, 0, []));
    });
}
