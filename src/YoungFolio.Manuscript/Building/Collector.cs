using System.Text;
using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Gathers inlines: characters of one style become one run.</summary>
internal sealed class InlineCollector
{
    private readonly List<Inline> _inlines = [];
    private readonly StringBuilder _text = new();
    private readonly List<int> _positions = [];
    private TextStyle _style;

    public bool IsEmpty => _inlines.Count == 0 && _text.Length == 0;

    /// <summary>Whether anything that prints was added (spaces and anchors don't).</summary>
    public bool HasContent => _text.ToString().AsSpan().Trim(' ').Length > 0 || _inlines.Exists(i => i is not AnchorInline);

    /// <summary>Whether nothing that prints was added yet, or a space last; anchors don't count.</summary>
    public bool EndsWithSpace
    {
        get
        {
            if (_text.Length > 0)
            {
                return _text[^1] == ' ';
            }

            int last = _inlines.FindLastIndex(i => i is not AnchorInline);
            return last < 0 || _inlines[last] is SpaceInline or LineBreakInline || (_inlines[last] is TextRun r && r.Text[^1] == ' ');
        }
    }

    public void Append(int code, int position, TextStyle style)
    {
        if (style != _style && _text.Length > 0)
        {
            Flush();
        }

        _style = style;
        if (style.Family != FontFamily.Mono && code < 0x80 && Combine(code))
        {
            return;
        }

        code = style.Family == FontFamily.Mono ? code : code switch { '`' => 0x2018, '\'' => 0x2019, _ => code };
        if (code < 0x10000)
        {
            _text.Append((char)code);
            _positions.Add(position);
        }
        else
        {
            _text.Append(char.ConvertFromUtf32(code));
            _positions.Add(position);
            _positions.Add(position);
        }
    }

    /// <summary>Adds plain words whose positions follow one another; line ends are spaces.</summary>
    public void AppendWords(ReadOnlySpan<char> words, int position, TextStyle style)
    {
        if (style != _style && _text.Length > 0)
        {
            Flush();
        }

        _style = style;
        int start = _text.Length;
        _text.Append(words);
        for (int at = words.IndexOf('\n'); at >= 0; at = words[(at + 1)..].IndexOf('\n') is var next && next < 0 ? -1 : at + 1 + next)
        {
            _text[start + at] = ' ';
        }

        for (int i = 0; i < words.Length; i++)
        {
            _positions.Add(position + i);
        }
    }

    /// <summary>Adds a space, unless one stands there or the paragraph just began.</summary>
    public void Space(int position, TextStyle style)
    {
        bool after = _text.Length > 0
            ? _text[^1] != ' '
            : _inlines.Count > 0 && _inlines[^1] is not LineBreakInline && !(_inlines[^1] is TextRun r && r.Text[^1] == ' ');
        if (after)
        {
            Append(' ', position, style);
        }
    }

    public void Add(Inline inline)
    {
        Flush();
        _inlines.Add(inline);
    }

    /// <summary>Takes away a space at the end, as before a line's end or <c>\unskip</c>.</summary>
    public void TrimEnd()
    {
        while (_text.Length > 0 && _text[^1] == ' ')
        {
            _text.Length--;
            _positions.RemoveAt(_positions.Count - 1);
        }

        Flush();
        if (_inlines.Count > 0 && _inlines[^1] is TextRun run && run.Text[^1] == ' ')
        {
            _inlines.RemoveAt(_inlines.Count - 1);
            string text = run.Text.TrimEnd(' ');
            if (text.Length > 0)
            {
                _inlines.Add(new TextRun(text, run.Positions[..text.Length], run.Style));
            }
        }
    }

    public List<Inline> Finish()
    {
        TrimEnd();
        return _inlines;
    }

    private void Flush()
    {
        if (_text.Length > 0)
        {
            _inlines.Add(new TextRun(_text.ToString(), [.. _positions], _style));
            _text.Clear();
            _positions.Clear();
        }
    }

    // Dashes and quotation marks are typed as pairs of plain characters (Lamport, section 2.2.1).
    private bool Combine(int code)
    {
        if (_text.Length == 0)
        {
            return false;
        }

        char last = _text[^1];
        char? joined = (last, code) switch
        {
            ('-', '-') => '–',
            ('–', '-') => '—',
            ('\u2018', '`') => '\u201C',
            ('\u2019', '\'') => '\u201D',
            ('?', '`') => '¿',
            ('!', '`') => '¡',
            (',', ',') => '„',
            ('<', '<') => '«',
            ('>', '>') => '»',
            _ => null,
        };
        if (joined is { } j)
        {
            _text[^1] = j;
            return true;
        }

        return false;
    }
}

/// <summary>A place that blocks are gathered in.</summary>
internal sealed class BlockFrame(bool inlineOnly)
{
    public List<Block> Blocks { get; } = [];

    public InlineCollector? Paragraph { get; set; } = inlineOnly ? new InlineCollector() : null;

    /// <summary>Whether it belongs to a scan of its own, so that no environment's end closes it.</summary>
    public bool IsBase { get; init; }

    /// <summary>Whether only one line's material is wanted, so that paragraphs can't end.</summary>
    public bool InlineOnly => inlineOnly;

    /// <summary>Whether the next paragraph goes on after a display and so isn't indented.</summary>
    public bool Continues { get; set; }

    /// <summary>Whether the next paragraph follows a heading and so isn't indented.</summary>
    public bool AfterHeading { get; set; }

    /// <summary>Whether the paragraph being written, or the next, isn't indented for another reason.</summary>
    public bool NoIndent { get; set; }

    /// <summary>A list's label that waits for its paragraph.</summary>
    public IReadOnlyList<Inline>? Label { get; set; }

    /// <summary>Space above the paragraph that has the label.</summary>
    public Glue LabelSpace { get; set; }

    /// <summary>Space above and below what stands apart from the text around it, such as a quotation.</summary>
    public Glue SpaceAround { get; set; }

    /// <summary>Blocks that come after the paragraph being written.</summary>
    public List<Block> AfterParagraph { get; } = [];

    /// <summary>How the label stands.</summary>
    public LabelLook LabelLook { get; set; } = LabelLook.Standard;
}

/// <summary>How a list's label stands beside its paragraph. Lengths are in points.</summary>
/// <param name="Separation">From the label to the text.</param>
/// <param name="Width">Width of its room; null: its own.</param>
/// <param name="Alignment">l, r or c.</param>
/// <param name="Indent">Indent of the first line.</param>
/// <param name="OwnLine">Whether the text begins below a label that is too wide.</param>
internal sealed record LabelLook(double Separation, double? Width, char Alignment, double Indent, bool OwnLine)
{
    public static LabelLook Standard { get; } = new(5, null, 'r', 0, false);
}

/// <summary>How floats of a kind are laid out.</summary>
internal enum FloatStyle
{
    /// <summary>As its content comes.</summary>
    Plain,

    /// <summary>The caption above.</summary>
    CaptionAbove,

    /// <summary>The caption above between two lines, and a line below the content.</summary>
    Ruled,

    /// <summary>The content in a frame, the caption below it.</summary>
    Boxed,
}

/// <summary>A kind of float: its name and the list that lists it.</summary>
internal sealed record FloatKind(string Name, string List)
{
    /// <summary>How its floats are laid out.</summary>
    public FloatStyle Look { get; init; }

    /// <summary>Where its floats may go when nothing is said.</summary>
    public string Placement { get; init; } = "tbp";

    /// <summary>Whether it has its number before its caption.</summary>
    public bool IsNumbered { get; init; }

    /// <summary>The float that is being read; null: none is, a caption stands outside floats.</summary>
    public OpenFloat? Open { get; init; }

    /// <summary>Whether it is a part of a float, such as a figure within a figure: its captions are in no list.</summary>
    public bool IsPart => Name.StartsWith("sub", StringComparison.Ordinal);
}

/// <summary>A float that is being read: what is gathered from whatever box of it.</summary>
/// <param name="Position">Position of its beginning.</param>
internal sealed record OpenFloat(int Position)
{
    /// <summary>Captions with a number, but for those of its parts.</summary>
    public List<Caption> Captions { get; } = [];

    /// <summary>Whether there is any caption, with a number or without.</summary>
    public bool IsCaptioned { get; set; }

    /// <summary>What stands above the content wherever it is written.</summary>
    public List<Block> Above { get; } = [];
}

/// <summary>What <c>\ref</c> would print now, and where it would lead.</summary>
internal sealed record CurrentLabel(string Kind, string? Number, string Anchor)
{
    /// <summary>Title or caption of what it names.</summary>
    public IReadOnlyList<Inline> Title { get; init; } = [];
}
