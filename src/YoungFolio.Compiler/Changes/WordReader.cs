using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Compiler.Changes;

/// <summary>What stands around a piece: a link or a decoration, and what stands around that.</summary>
internal sealed record Wrapper(Inline Inline, Wrapper? Outer);

/// <summary>A word, a sign, a formula, a picture …: the least that is compared.</summary>
/// <param name="Key">What it says: equal keys mean no change.</param>
/// <param name="Inline">What is set.</param>
/// <param name="Around">What stands around it.</param>
internal sealed record Segment(string Key, Inline Inline, Wrapper? Around)
{
    /// <summary>What follows without being seen: anchors, costs of line ends.</summary>
    public List<Inline> Tail { get; } = [];

    /// <summary>Whether a space follows.</summary>
    public bool EndsInSpace => Inline is TextRun { Text: [.., ' ' or '\u00A0'] } || Tail.Exists(t => t is SpaceInline);
}

/// <summary>Cuts lines into pieces and says in text what blocks hold, so that both can be compared.</summary>
internal sealed class WordReader(PositionTable positions, IFileTree files)
{
    /// <summary>Pieces of a line; what stands unseen before the first goes to <paramref name="head"/>.</summary>
    public List<Segment> Read(IReadOnlyList<Inline> content, List<Inline> head)
    {
        var pieces = new List<Segment>();
        Read(content, null, pieces, head);
        return pieces;
    }

    private void Read(IReadOnlyList<Inline> content, Wrapper? around, List<Segment> pieces, List<Inline> head)
    {
        foreach (Inline inline in content)
        {
            switch (inline)
            {
                case TextRun run:
                    Cut(run, around, pieces);
                    break;
                case LinkInline link:
                    Read(link.Content, new Wrapper(link, around), pieces, head);
                    break;
                case DecoratedInline decorated:
                    Read(decorated.Content, new Wrapper(decorated, around), pieces, head);
                    break;
                case DeferredInline deferred:
                    Read(deferred.Content, around, pieces, head);
                    break;
                default:
                    if (KeyOf(inline) is { } key)
                    {
                        pieces.Add(new Segment(key, inline, around));
                    }
                    else if (pieces.Count > 0)
                    {
                        pieces[^1].Tail.Add(inline);
                    }
                    else
                    {
                        head.Add(inline);
                    }

                    break;
            }
        }
    }

    // Words take inner hyphens, apostrophes and decimal points; other signs stand alone; a space belongs to what it follows.
    private void Cut(TextRun run, Wrapper? around, List<Segment> pieces)
    {
        string text = run.Text;
        int at = 0;
        while (at < text.Length)
        {
            int start = at;
            at++;
            if (IsWord(text[start]))
            {
                while (at < text.Length && (IsWord(text[at])
                    || (at + 1 < text.Length && text[at] is '-' or '\'' or '’' or '.' or '\u00AD' && IsWord(text[at + 1]))))
                {
                    at++;
                }
            }

            int end = at;
            while (at < text.Length && text[at] is ' ' or '\u00A0')
            {
                at++;
            }

            pieces.Add(new Segment(KeyOf(run, start, end, around), new TextRun(text[start..at], run.Positions[start..at], run.Style), around));
        }
    }

    private static bool IsWord(char c) => char.IsLetterOrDigit(c) || char.IsSurrogate(c)
        || CharUnicodeInfo.GetUnicodeCategory(c) is UnicodeCategory.NonSpacingMark or UnicodeCategory.SpacingCombiningMark;

    private string KeyOf(TextRun run, int start, int end, Wrapper? around)
    {
        string word = run.Text[start..end].Replace("\u00AD", "", StringComparison.Ordinal);
        if (IsCounted(run, start, word))
        {
            // A number that was counted is the same wherever it got to; where it leads tells a citation from another.
            return around?.Inline is LinkInline link ? "#" + link.Target : "#";
        }

        TextStyle style = run.Style;
        return style is { Bold: false, Shape: FontShape.Upright, Family: FontFamily.Roman, Rise: 0 }
            ? word
            : string.Create(CultureInfo.InvariantCulture, $"{word}\u0001{(int)style.Family}{style.Bold}{(int)style.Shape}{Math.Sign(style.Rise)}");
    }

    // "12", "iv" or "2.1" whose place in the source holds something else: a counter's value.
    private bool IsCounted(TextRun run, int start, string word) =>
        word.Length <= 10
        && (word.Any(char.IsAsciiDigit) || word.Length == 1 || word.All(c => "ivxlcdmIVXLCDM".Contains(c, StringComparison.Ordinal)))
        && char.IsLetterOrDigit(word[0])
        && (positions.Resolve(run.Positions[start]) is not { } place || place.Offset >= place.File.Text.Length || place.File.Text[place.Offset] != word[0]);

    /// <summary>What an inline says; null for what isn't seen.</summary>
    public string? KeyOf(Inline inline) => inline switch
    {
        MathInline math => "$" + MathMl.Of(math.Formula),
        LineBreakInline => "\\\\",
        ReferenceInline reference => $"ref {reference.Kind} {reference.Key}",
        RuleInline rule => string.Create(CultureInfo.InvariantCulture, $"rule {rule.Width:0.#} {rule.Height:0.#}"),
        ImageInline image => $"picture {image.Path} {Digest(image.Path)} {image.Page}",
        NoteInline note => "note " + (note.Body is null ? "" : KeyOf(note.Body)),
        MarginInline margin => "margin " + KeyOf(margin.Content),
        BoxInline box => "box " + KeyOf(box.Content),
        TransformInline transform => "box " + KeyOf(transform.Content),
        BlockBoxInline box => "blocks " + KeyOf(box.Content),
        TableInline table => "table " + KeyOf(table.Table.Items),
        _ => null,
    };

    /// <summary>What a line says.</summary>
    public string KeyOf(IReadOnlyList<Inline> content) => string.Join('\u0002', Read(content, []).Select(p => p.Key));

    /// <summary>What blocks say.</summary>
    public string KeyOf(IReadOnlyList<Block> blocks) => string.Join('\u0003', blocks.Select(KeyOf).Where(k => k.Length > 0));

    /// <summary>What a block says; empty for what isn't seen or is made by the compiler (contents, index).</summary>
    public string KeyOf(Block block) => block switch
    {
        ParagraphBlock paragraph => "p " + (paragraph.Label is { } label ? KeyOf(label.Content) + "\u0004" : "") + KeyOf(paragraph.Content),
        HeadingBlock heading => $"h{heading.Level} " + KeyOf(heading.Lines),
        DisplayBlock display => "d " + string.Join('\u0002', display.Rows.Select(KeyOf)),
        LongTableBlock table => "t " + KeyOf(table.Table.Items),
        GroupBlock group => Inside("g ", group.Content),
        FloatBlock figure => "f " + KeyOf(figure.Content),
        WrapBlock wrap => "w " + KeyOf(wrap.Figure.Content),
        ColumnsBlock columns => "c " + KeyOf(columns.Content),
        SpanningBlock across => "a " + KeyOf(across.Content),
        TitlePageBlock title => "title " + KeyOf(title.Content),
        _ => "",
    };

    private string Inside(string name, IReadOnlyList<Block> content) => KeyOf(content) is { Length: > 0 } key ? name + key : "";

    /// <summary>What a row of a display says.</summary>
    public string KeyOf(DisplayRow row) => string.Join('&', row.Cells.Select(MathMl.Of));

    /// <summary>What rows of a table say; lines across are looks.</summary>
    public string KeyOf(IReadOnlyList<TableItem> items) => string.Join('\u0005', items.OfType<TableRow>().Select(KeyOf));

    /// <summary>What a row of a table says.</summary>
    public string KeyOf(TableRow row) => row.Across is { } across ? KeyOf(across) : string.Join('&', row.Cells.Select(KeyOf));

    /// <summary>What a cell says.</summary>
    public string KeyOf(TableCell cell) => cell.Blocks is { } blocks ? KeyOf(blocks) : KeyOf(cell.Content) + (cell.Decimals is { } decimals ? "\u0006" + KeyOf(decimals) : "");

    private string Digest(string path)
    {
        if (files.Find(path) is not { } file)
        {
            return "";
        }

        return Convert.ToHexString(System.Security.Cryptography.SHA256.HashData(file.Bytes.Span)[..8]);
    }

    /// <summary>Words that blocks hold, for telling how alike they are.</summary>
    public static string[] WordsOf(string key) =>
        key.Split([' ', '&', '\u0002', '\u0003', '\u0004', '\u0005', '\u0006'], StringSplitOptions.RemoveEmptyEntries);
}
