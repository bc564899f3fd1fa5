using YoungFolio.Documents;

namespace YoungFolio.Compiler;

/// <summary>Counts the words that print, by what they are and by section. Mathematics, tables, contents and lists of sources don't count.</summary>
internal sealed class WordCounter
{
    private readonly Dictionary<string, int> _bySection = new(StringComparer.Ordinal);
    private readonly int[] _byKind = new int[4];
    private string _section = "";

    private enum Kind
    {
        Text,
        Heading,
        Caption,
        Note,
    }

    /// <summary>All words.</summary>
    public int Total => _byKind.Sum();

    /// <summary>The words by what they are.</summary>
    public WordKinds ByKind => new(_byKind[(int)Kind.Text], _byKind[(int)Kind.Heading], _byKind[(int)Kind.Caption], _byKind[(int)Kind.Note]);

    /// <summary>Counts the words of a document.</summary>
    public static WordCounter Of(Document document)
    {
        var counter = new WordCounter();
        counter.Count(document.Blocks, Kind.Text);
        return counter;
    }

    /// <summary>The words from a heading of the outline up to the next one, its own among them.</summary>
    /// <param name="anchor">The heading's anchor.</param>
    public int InSection(string anchor) => _bySection.GetValueOrDefault(anchor);

    private void Count(IReadOnlyList<Block> blocks, Kind kind)
    {
        foreach (Block block in blocks)
        {
            Count(block, kind);
        }
    }

    private void Count(Block block, Kind kind)
    {
        switch (block)
        {
            case ParagraphBlock p:
                Count(p.Content, kind);
                break;
            case HeadingBlock h:
                _section = h.IsInOutline ? h.Anchor : _section;
                if (h.Lines.OfType<ParagraphBlock>().LastOrDefault() is { } title)
                {
                    Count(title.Content, Kind.Heading);
                }

                break;
            case FloatBlock f:
                Count(f.Content, Kind.Caption);
                break;
            case PageStyleBlock style:
                foreach (PageOverlay overlay in style.TextOverlays())
                {
                    Count(overlay.Content, kind);
                }

                break;
            default:
                foreach (Block inner in block.Children.OfType<Block>())
                {
                    Count(inner, kind);
                }

                break;
        }
    }

    private void Count(IReadOnlyList<Inline> inlines, Kind kind)
    {
        int words = 0;
        bool inside = false;
        string text = PlainText.Words(inlines);
        for (int i = 0; i < text.Length; i++)
        {
            // A number is one word, with its point or comma: 2.3, 3,292.
            bool goesOn = inside && (text[i] is '’' or '-' or '\'' || (text[i] is '.' or ',' && char.IsDigit(text[i - 1]) && i + 1 < text.Length && char.IsDigit(text[i + 1])));
            bool letter = char.IsLetterOrDigit(text[i]) || goesOn;
            words += letter && !inside ? 1 : 0;
            inside = letter;
        }

        _byKind[(int)kind] += words;
        _bySection[_section] = _bySection.GetValueOrDefault(_section) + words;
        foreach (NoteInline note in inlines.OfType<NoteInline>())
        {
            Count(note.Body ?? [], Kind.Note);
        }
    }
}
