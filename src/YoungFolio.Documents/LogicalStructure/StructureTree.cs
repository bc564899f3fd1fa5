using YoungFolio.Documents.Mathematics;

namespace YoungFolio.Documents.LogicalStructure;

/// <summary>
/// What a manuscript is made of, as those who listen to it need it told: headings with their levels, lists, tables with their heads, figures and
/// formulas with what they say, notes after their marks (ISO 32000-1, 14.8). Made from the document tree; each node that prints is in an element.
/// </summary>
public sealed class StructureTree
{
    private readonly Document _document;
    private readonly Func<Node, IReadOnlyList<Node>> _made;
    private readonly Dictionary<Node, StructureElement?> _elements = [];
    private readonly List<AccessObstacle> _obstacles = [];
    private readonly HeadingDepths _depths;
    private readonly bool _hasTitle;
    private bool _titleIsSet;
    private int _lastLevel;

    private StructureTree(Document document, Func<Node, IReadOnlyList<Node>> made)
    {
        (_document, _made, _depths) = (document, made, new HeadingDepths(document.Blocks));
        _hasTitle = document.Title.Length > 0 && NodeWalk.All(document.Blocks).OfType<Block>().TakeWhile(b => b is not HeadingBlock h || !IsPrinted(h)).OfType<ParagraphBlock>().Any(IsTitle);
        Root = new StructureElement(StructureRole.Document, null);
        if (document.Title.Trim().Length == 0)
        {
            _obstacles.Add(new AccessObstacle("The manuscript says no title: \\title gives it, or pdftitle of \\hypersetup.", -1));
        }

        Visit(document.Blocks, Root);
    }

    /// <summary>The whole.</summary>
    public StructureElement Root { get; }

    /// <summary>What keeps the manuscript from being read by those who don't see it, in its order.</summary>
    public IReadOnlyList<AccessObstacle> Obstacles => _obstacles;

    /// <summary>The structure of a document.</summary>
    /// <param name="document">The document.</param>
    /// <param name="made">Nodes that were made in the place of one of the tree, such as the lines of the contents; null: none.</param>
    public static StructureTree Of(Document document, Func<Node, IReadOnlyList<Node>>? made = null)
    {
        ArgumentNullException.ThrowIfNull(document);
        return new StructureTree(document, made ?? (static _ => []));
    }

    /// <summary>The element that a node prints in; null: it only decorates, or belongs to the page.</summary>
    public StructureElement? ElementOf(Node? owner) => owner is not null && _elements.TryGetValue(owner, out StructureElement? element) ? element : null;

    // A heading that runs into its paragraph is words of it.
    private static bool IsPrinted(HeadingBlock heading) => heading.Lines.Count > 0 && heading.IsPlaced;

    private bool IsTitle(ParagraphBlock paragraph) => PlainText.Of(paragraph.Content) == _document.Title;

    private static StructureElement Add(StructureElement parent, StructureRole role) => Add(parent, new StructureElement(role, parent));

    private static StructureElement Add(StructureElement parent, StructureElement element)
    {
        parent.Children.Add(element);
        return element;
    }

    // ---- blocks ---------------------------------------------------------------------------------------------

    private void Visit(IReadOnlyList<Block> blocks, StructureElement parent)
    {
        foreach ((Block? block, ListRun? list) in ListRuns.Of(blocks))
        {
            if (list is not null)
            {
                VisitList(list, parent);
            }
            else
            {
                Visit(block!, parent);
            }
        }
    }

    private void Visit(Block block, StructureElement parent)
    {
        _elements[block] = parent;
        switch (block)
        {
            case ParagraphBlock paragraph:
                VisitParagraph(paragraph, parent);
                break;
            case HeadingBlock heading when IsPrinted(heading):
                VisitHeading(heading, parent);
                break;
            case DisplayBlock display:
                VisitDisplay(display, parent);
                break;
            case FloatBlock figure:
                VisitFloat(figure, parent);
                break;
            case WrapBlock wrap:
                VisitFloat(wrap.Figure, parent);
                break;
            case LongTableBlock table:
                StructureElement element = Add(parent, StructureRole.Table);
                _elements[table] = element;
                foreach (TableRow row in table.FirstHead.Concat(table.Head).OfType<TableRow>().Where(r => r.Across is not null).Take(1))
                {
                    VisitAcross(row, Add(element, StructureRole.Caption));
                }

                VisitTable(TableParts.Of(table), element, table.Table.Position);
                break;
            case ContentsBlock contents:
                VisitMade(contents, StructureRole.Contents, StructureRole.ContentsItem, parent);
                break;
            case IndexBlock index:
                VisitMade(index, StructureRole.Index, StructureRole.Paragraph, parent);
                break;
            case PageStyleBlock style:
                foreach (PageOverlay overlay in style.TextOverlays())
                {
                    StructureElement around = Add(parent, StructureRole.Division);
                    StructureElement words = Add(around, StructureRole.Paragraph);
                    _elements[overlay] = words;
                    Visit(overlay.Content, words, around);
                }

                break;
            case NotesBlock notes:
                foreach (NoteInline note in notes.Notes)
                {
                    Add(parent, NoteOf(note, parent));
                }

                break;
            default:
                Visit([.. block.Children.OfType<Block>()], parent);
                break;
        }
    }

    private void VisitParagraph(ParagraphBlock paragraph, StructureElement parent)
    {
        string? language = paragraph.Style.Language is { Length: > 0 } own && own != _document.Language ? own : null;
        if (_hasTitle && !_titleIsSet && IsTitle(paragraph))
        {
            _titleIsSet = true;
            _lastLevel = 1;
            VisitText(paragraph, paragraph.Content, Add(parent, new StructureElement(StructureRole.Heading, parent) { Level = 1, Language = language }));
            return;
        }

        bool isSource = paragraph.Content is [AnchorInline { Name: var name }, ..] && name.StartsWith("source ", StringComparison.Ordinal);
        // Blocks that stand in a line are no part of a paragraph; words beside them are one by themselves.
        bool holdsBlocks = paragraph.Content.Any(HoldsBlocks);
        StructureElement around = holdsBlocks ? Add(parent, new StructureElement(StructureRole.Division, parent) { Language = language }) : parent;
        StructureElement text = Add(around, new StructureElement(isSource ? StructureRole.BibliographyEntry : StructureRole.Paragraph, around) { Language = holdsBlocks ? null : language });
        _elements[paragraph] = text;
        Visit(paragraph.Content, text, holdsBlocks ? around : text);
    }

    private void VisitText(Node owner, IReadOnlyList<Inline> content, StructureElement element)
    {
        _elements[owner] = element;
        Visit(content, element, element);
    }

    private static bool HoldsBlocks(Inline inline) => inline is TableInline or BlockBoxInline || (inline is not (MathInline or NoteInline or DrawingInline) && inline.Children.OfType<Inline>().Any(HoldsBlocks));

    private void VisitHeading(HeadingBlock heading, StructureElement parent)
    {
        int level = Math.Min(6, _depths.Next(heading.Level) + (_hasTitle ? 2 : 1));
        if (level > _lastLevel + 1)
        {
            _obstacles.Add(new AccessObstacle($"“{PlainText.Of(heading.ShortTitle)}” stands {level - _lastLevel} levels below the heading before it.", heading.Position));
        }

        _lastLevel = level;
        StructureElement element = Add(parent, new StructureElement(StructureRole.Heading, parent) { Level = level });
        foreach (Block line in heading.Lines)
        {
            _elements[line] = element;
            if (line is ParagraphBlock text)
            {
                Visit(text.Content, element, element);
            }
            else
            {
                Visit(line, element);
            }
        }

        _elements[heading] = element;
    }

    private void VisitList(ListRun run, StructureElement parent)
    {
        StructureElement list = Add(parent, StructureRole.List);
        foreach (ListRunItem item in run.Items)
        {
            StructureElement element = Add(list, StructureRole.ListItem);
            ItemLabel label = item.First.Label!;
            VisitText(label, label.Content, Add(element, StructureRole.Label));
            StructureElement body = Add(element, StructureRole.ListBody);
            VisitParagraph(item.First, body);
            Visit(item.Below, body);
        }
    }

    // The rows of a display are one formula; its numbers stand beside it, and text between rows parts it.
    private void VisitDisplay(DisplayBlock display, StructureElement parent)
    {
        StructureElement around = Add(parent, StructureRole.Division);
        int next = 0;
        while (next < display.Rows.Count)
        {
            Visit(display.Rows[next].Before ?? [], around);
            int end = next + 1;
            while (end < display.Rows.Count && display.Rows[end].Before is null)
            {
                end++;
            }

            DisplayRow[] rows = [.. display.Rows.Skip(next).Take(end - next)];
            StructureElement formula = Add(around, new StructureElement(StructureRole.Formula, around)
            {
                Alternative = string.Join("; ", rows.Select(r => Said(r.Cells))),
                MathMl = MathMl.Of([.. rows.Select(r => r.Cells)]),
            });
            foreach (DisplayRow row in rows)
            {
                Give(row, formula);
            }

            next = end;
        }

        _elements[display] = Add(around, StructureRole.Paragraph);
    }

    private void VisitFloat(FloatBlock figure, StructureElement parent)
    {
        (Block Block, bool IsCaption)[] parts = [.. FloatParts.Of(figure)];
        StructureElement around = Add(parent, StructureRole.Division);
        _elements[figure] = around;
        // What is no caption may hold lists.
        var content = new List<Block>();
        foreach ((Block block, bool isCaption) in parts)
        {
            if (isCaption)
            {
                Visit(content, around);
                content.Clear();
                VisitText(block, ((ParagraphBlock)block).Content, Add(around, StructureRole.Caption));
            }
            else
            {
                content.Add(block);
            }
        }

        Visit(content, around);
    }

    private void VisitMade(Block block, StructureRole role, StructureRole line, StructureElement parent)
    {
        StructureElement list = Add(parent, role);
        _elements[block] = list;
        foreach (ParagraphBlock made in _made(block).OfType<ParagraphBlock>())
        {
            VisitText(made, made.Content, Add(list, line));
        }
    }

    // ---- tables ---------------------------------------------------------------------------------------------

    private void VisitTable(TableParts parts, StructureElement table, int position)
    {
        if (parts.Head.Count == 0 && parts.Body.Count > 1)
        {
            _obstacles.Add(new AccessObstacle("The table has no row of heads above a line: nobody who listens knows what its columns are.", position));
        }

        VisitRows(parts.Head, Group(parts.Head, StructureRole.TableHead), StructureRole.HeaderCell);
        VisitRows(parts.Body, Group(parts.Body, StructureRole.TableBody), StructureRole.DataCell);

        StructureElement Group(IReadOnlyList<TablePartRow> rows, StructureRole role) => rows.Count > 0 ? Add(table, role) : table;
    }

    private void VisitRows(IReadOnlyList<TablePartRow> rows, StructureElement group, StructureRole role)
    {
        foreach (TablePartRow row in rows)
        {
            StructureElement element = Add(group, StructureRole.TableRow);
            _elements[row.Row] = element;
            if (row.Row.Across is not null)
            {
                VisitAcross(row.Row, Add(element, StructureRole.DataCell));
                continue;
            }

            foreach (TablePart part in row.Cells)
            {
                // An empty corner heads nothing.
                StructureElement cell = Add(element, new StructureElement(part.IsEmpty ? StructureRole.DataCell : role, element) { Columns = part.Columns, Rows = part.Rows });
                VisitCell(part.Cell, cell);
            }
        }
    }

    private void VisitCell(TableCell? cell, StructureElement element)
    {
        if (cell is not null)
        {
            _elements[cell] = element;
            if (cell.Decimals is { } decimals)
            {
                // A number that is parted at its decimal sign is one.
                foreach (Inline part in cell.Content.Concat(decimals))
                {
                    Give(part, element);
                }
            }
            else
            {
                Visit(cell.Content, element, element);
            }

            Visit(cell.Blocks ?? [], element);
            foreach (EdgePiece edge in cell.Column.Left.Concat(cell.Column.Right))
            {
                VisitText(edge, edge.Content ?? [], element);
            }
        }
    }

    private void VisitAcross(TableRow row, StructureElement element)
    {
        _elements[row] = element;
        foreach (Block block in row.Across!)
        {
            _elements[block] = element;
            Visit(block is ParagraphBlock paragraph ? paragraph.Content : [], element, element);
        }
    }

    // A table without heads and lines says nothing by its columns: its cells are read one after another.
    private void VisitTable(TableInline inline, StructureElement parent)
    {
        TableParts parts = TableParts.Of(inline.Table);
        if (parts.HasLines || parts.Head.Count > 0)
        {
            StructureElement table = Add(parent, StructureRole.Table);
            _elements[inline] = table;
            VisitTable(parts, table, inline.Table.Position);
            return;
        }

        StructureElement around = Add(parent, StructureRole.Division);
        _elements[inline] = around;
        foreach (TableCell cell in inline.Table.Items.OfType<TableRow>().SelectMany(r => r.Cells))
        {
            VisitCell(cell, Add(around, cell.Blocks is null ? StructureRole.Paragraph : StructureRole.Division));
        }
    }

    // ---- lines ----------------------------------------------------------------------------------------------

    private void Visit(IEnumerable<Inline> content, StructureElement text, StructureElement around)
    {
        foreach (Inline inline in content)
        {
            Visit(inline, text, around);
        }
    }

    private void Visit(Inline inline, StructureElement text, StructureElement around)
    {
        switch (inline)
        {
            case TextRun { Style.Language: { } language } when language != _document.Language:
                _elements[inline] = Add(text, new StructureElement(StructureRole.Span, text) { Language = language });
                break;
            case MathInline math:
                Give(math, Add(text, new StructureElement(StructureRole.Formula, text) { Alternative = Said([math.Formula]), MathMl = MathMl.Of(math.Formula) }));
                break;
            case LinkInline link:
                StructureElement element = Add(text, StructureRole.Link);
                _elements[link] = element;
                Visit(link.Content, element, element);
                break;
            case ReferenceInline or PagesInline:
                Visit(_made(inline).OfType<Inline>(), text, around);
                break;
            case NoteInline note:
                VisitNote(note, text);
                break;
            case MarginInline margin:
                StructureElement aside = Add(text, StructureRole.Note);
                _elements[margin] = aside;
                Visit(margin.Content, aside);
                break;
            case ImageInline image:
                VisitImage(image, text);
                break;
            case DrawingInline drawing:
                Give(drawing, Add(text, new StructureElement(StructureRole.Figure, text) { Alternative = WordsOf(drawing) }));
                break;
            case TableInline table:
                VisitTable(table, around);
                break;
            case BlockBoxInline box:
                _elements[box] = around;
                Visit(box.Content, around);
                break;
            case BoxInline { IsPhantom: true } or LeadersInline:
                _elements[inline] = null;
                break;
            default:
                Visit(inline.Children.OfType<Inline>(), text, around);
                break;
        }
    }

    private void VisitNote(NoteInline note, StructureElement text)
    {
        StructureElement mark = text;
        if (note.PrintsMark)
        {
            mark = Add(text, StructureRole.Reference);
            VisitText(note, note.Mark, mark);
        }

        if (note.Body is not null)
        {
            StructureElement element = NoteOf(note, text);
            if (ReferenceEquals(mark, text))
            {
                Add(text, element);
            }
            else
            {
                mark.Follower = element;
            }
        }
    }

    private StructureElement NoteOf(NoteInline note, StructureElement parent)
    {
        var element = new StructureElement(StructureRole.Note, parent);
        foreach (Node label in _made(note))
        {
            _elements[label] = Add(element, StructureRole.Label);
        }

        Visit(note.Body ?? [], element);
        return element;
    }

    private void VisitImage(ImageInline image, StructureElement text)
    {
        if (image.Alternative is { Length: 0 })
        {
            // Nothing that matters: it decorates.
            _elements[image] = null;
            return;
        }

        if (image.Alternative is null)
        {
            _obstacles.Add(new AccessObstacle($"{image.Path}: no words say what it shows. Write them in the Hand-in room, or as alt={{…}} of \\includegraphics.", image.Position));
        }

        _elements[image] = Add(text, new StructureElement(StructureRole.Figure, text) { Alternative = image.Alternative ?? image.Path });
    }

    // All that is within is this one's.
    private void Give(Node node, StructureElement element)
    {
        foreach (Node inner in NodeWalk.All(node))
        {
            _elements[inner] = element;
        }
    }

    private static string Said(IReadOnlyList<MathList> cells)
    {
        var text = new System.Text.StringBuilder();
        MathText.Append(text, new MathList([.. cells.SelectMany(c => c.Nodes)]), isWhole: true);
        return text.ToString() is { Length: > 0 } said ? said : "an empty formula";
    }

    private static string WordsOf(DrawingInline drawing)
    {
        string words = string.Join(", ", drawing.Parts.OfType<DrawnText>().Select(t => PlainText.Of(t.Content)).Where(w => w.Length > 0));
        return words.Length > 0 ? $"A drawing with the words: {words}" : "A drawing";
    }
}
