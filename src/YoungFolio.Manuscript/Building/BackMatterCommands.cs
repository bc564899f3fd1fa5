using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Lists that are made when all has been read: of symbols, terms and listings, the index, and what the contents list besides headings.</summary>
internal sealed class BackMatterCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    /// <summary>Adds blocks that are known when all has been read.</summary>
    internal void AddLater(Func<List<Block>> make)
    {
        var content = new List<Block>();
        Builder.AddBlock(new GroupBlock(content));
        TextStyle style = Builder.Style.Value;
        Builder.References.Deferred.Add(() =>
        {
            Machine.BeginGroup(GroupKind.Command, "", PositionTable.None);
            Machine.Assign(Builder.Style, style);
            content.AddRange(make());
            Machine.EndGroup();
        });
    }

    /// <summary>Adds a line to a list of the front matter, such as that of listings.</summary>
    internal void AddListLine(string list, string? number, IReadOnlyList<Inline> text, string anchor, int position)
    {
        if (!Builder.DocumentBegun || Builder.Frames.Peek().InlineOnly)
        {
            return;
        }

        var line = new HeadingBlock
        {
            Level = 2,
            Number = null,
            ContentsNumber = number is null ? null : [Builder.References.MakeText(number, position)],
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
        Builder.Frames.Peek().AfterParagraph.Add(line);
    }

    /// <summary>Text of an index's entry, in the document's own type.</summary>
    internal List<Inline> BuildIndexText(List<Token> text)
    {
        Machine.BeginGroup(GroupKind.Command, "", PositionTable.None);
        Machine.Assign(Builder.Style, Builder.TypefaceCommands.PlainStyle(TypeSizes.Of("normalsize", Builder.BasicSize).Size));
        List<Inline> result = Builder.BuildInlines(text);
        Machine.EndGroup();
        return result;
    }

    /// <summary>Prints an index with its heading.</summary>
    internal void AddIndex(List<Token> title, IReadOnlyList<IndexNote> notes, Token token)
    {
        string level = Builder.Class.HasChapters ? "chapter" : "section";
        Builder.Execute([Token.Command(Machine.Symbol(level), token.Position), Token.Character('*', Category.Other, token.Position), .. TokenLists.Braced(title, token.Position)]);
        if (IndexInContents)
        {
            Builder.ContentsLists.AddContentsLine("toc", level, title, token);
        }

        Builder.AddBlock(new IndexBlock { Notes = notes, Style = Builder.Style.Value, Paragraph = Builder.PackageServices.PlainParagraph() });
    }

    /// <summary>A paragraph with a label in the margin: a symbol and its meaning.</summary>
    internal IEnumerable<Block> LabelledParagraph(IReadOnlyList<Inline> label, List<Token> text, double width)
    {
        Machine.BeginGroup(GroupKind.Command, "", PositionTable.None);
        Machine.Assign(Builder.Text.ParIndent, default);
        double margin = width + 5;
        Machine.Assign(Builder.LeftMargin, margin);
        foreach (Block block in Builder.BuildBlocks(text))
        {
            yield return block is ParagraphBlock p
                ? new ParagraphBlock(p.Content, p.Style with { Indent = 0, SpaceAbove = Glue.Of(3, 1) }) { Label = new ItemLabel(label) { Separation = 5, Width = width, Alignment = 'l' } }
                : block;
        }

        Machine.EndGroup();
    }

    /// <summary>A paragraph of a glossary: the name in bold, what it means, and the pages of its uses.</summary>
    internal IEnumerable<Block> GlossaryParagraph(string anchor, List<Token> name, List<Token> text, IReadOnlyList<string> places)
    {
        Machine.BeginGroup(GroupKind.Command, "", PositionTable.None);
        TextStyle style = Builder.Style.Value;
        var content = new List<Inline> { new AnchorInline(anchor) };
        Machine.Assign(Builder.Style, style with { Bold = true });
        content.AddRange(Builder.BuildInlines(name));
        Machine.Assign(Builder.Style, style);
        content.Add(new SpaceInline(Glue.Of(style.Size), false));
        content.AddRange(Builder.BuildInlines(text));
        if (places.Count > 0)
        {
            content.Add(Builder.References.MakeText(", ", PositionTable.None));
            content.Add(new PagesInline(places, style));
        }

        Machine.EndGroup();
        return [new ParagraphBlock(content, Builder.PackageServices.PlainParagraph() with { Alignment = Alignment.Justified, SpaceAbove = Glue.Of(3, 1), LeftMargin = 25, Indent = -25 })];
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
        string anchor = Builder.HeadingCommands.NewAnchor("section");
        Builder.References.AddInlineAnchor(anchor);
        Machine.Assign(Builder.CurrentLabel, (Builder.CurrentLabel.Value ?? new CurrentLabel("section", null, anchor)) with { Anchor = anchor });
        _ = token;
    }

    /// <summary>Makes the label <c>LastPage</c>.</summary>
    internal void LabelLastPage() => Builder.Hooks.WhenDocumentEnds(() =>
    {
        const string Anchor = "last page";
        Builder.Frames.Peek().Blocks.Add(new AnchorBlock(Anchor));
        Builder.References.Labels.TryAdd("LastPage", new Label("LastPage", "source", null, Anchor, PositionTable.None, 0, []));
    });
}
