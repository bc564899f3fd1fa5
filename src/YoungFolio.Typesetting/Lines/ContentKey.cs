using System.IO.Hashing;
using System.Runtime.InteropServices;
using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Lines;

/// <summary>
/// Sums up what is set, with all that its look depends on, in a number of 128 bits: the same number means the same marks.
/// Positions count from the first one met, so that text that only moved in the source keeps its number.
/// </summary>
internal sealed partial class ContentKey(SettingContext context)
{
    private byte[] _bytes = new byte[4096];
    private int _length;
    private bool _isWhole;

    /// <summary>The first position met; positions in the marks are relative to it.</summary>
    public int Base { get; private set; }

    /// <summary>Notes called in the text, in their order.</summary>
    public List<NoteInline> Notes { get; private set; } = [];

    /// <summary>Notes in the margin beside the text, in their order.</summary>
    public List<MarginInline> Margins { get; private set; } = [];

    /// <summary>The number of a paragraph at a measure; null when it holds something that can't be summed up.</summary>
    public UInt128? Of(ParagraphBlock paragraph, double measure)
    {
        Begin();
        Add(1);
        Add(measure);
        AddParagraph(paragraph);
        return End();
    }

    /// <summary>The number of a display's rows.</summary>
    public UInt128? Of(DisplayBlock display)
    {
        Begin();
        Add(2);
        Add(display.Style);
        Add(display.Rows.Count);
        foreach (DisplayRow row in display.Rows)
        {
            Add(row.Cells.Count);
            foreach (MathList cell in row.Cells)
            {
                Add(cell);
            }
        }

        return End();
    }

    private void Begin()
    {
        _length = 0;
        _isWhole = true;
        Base = PositionTable.None;
        Notes = [];
        Margins = [];
        Document document = context.Document;
        Add(document.Typefaces.Roman);
        Add(document.Typefaces.Sans);
        Add(document.Typefaces.Mono);
        Add(document.Typefaces.Mathematics);
        Add(document.IsDraft);
        Add(document.HyphenationStamp);
        Add(document.Leading);
    }

    private UInt128? End() => _isWhole ? XxHash128.HashToUInt128(_bytes.AsSpan(0, _length)) : null;

    // ---- plain values ----------------------------------------------------------------------------------

    private Span<byte> Room(int count)
    {
        if (_length + count > _bytes.Length)
        {
            Array.Resize(ref _bytes, Math.Max(_bytes.Length * 2, _length + count));
        }

        Span<byte> room = _bytes.AsSpan(_length, count);
        _length += count;
        return room;
    }

    private void Add(int value) => MemoryMarshal.Write(Room(4), value);

    private void Add(double value) => MemoryMarshal.Write(Room(8), value);

    private void Add(bool value) => Room(1)[0] = value ? (byte)1 : (byte)0;

    private void Add(string? text)
    {
        if (text is null)
        {
            Add(-1);
            return;
        }

        Add(text.Length);
        ReadOnlySpan<byte> bytes = MemoryMarshal.AsBytes(text.AsSpan());
        bytes.CopyTo(Room(bytes.Length));
    }

    private void Add(Glue glue)
    {
        Add(glue.Width.Scaled);
        Add(glue.Stretch.Scaled);
        Add(glue.StretchOrder);
        Add(glue.Shrink.Scaled);
        Add(glue.ShrinkOrder);
    }

    private void Add(TextStyle style)
    {
        Add(((int)style.Family << 16) | ((int)style.Shape << 8) | (style.OldFigures ? 2 : 0) | (style.Bold ? 1 : 0));
        Add(style.Face);
        Add(style.Size);
        Add(style.Rise);
        Add(style.Colour);
        Add(style.Language);
    }

    private void AddPosition(int position)
    {
        if (position >= 0 && Base < 0)
        {
            Base = position;
        }

        Add(position < 0 ? int.MinValue : position - Base);
    }

    private void AddPositions(int[] positions)
    {
        bool follows = positions.Length > 0 && positions[0] >= 0;
        for (int i = 1; i < positions.Length && follows; i++)
        {
            follows = positions[i] == positions[0] + i;
        }

        Add(follows);
        if (follows)
        {
            AddPosition(positions[0]);
            return;
        }

        foreach (int position in positions)
        {
            AddPosition(position);
        }
    }

    // ---- paragraphs ------------------------------------------------------------------------------------

    private void AddParagraph(ParagraphBlock paragraph)
    {
        ParagraphStyle style = paragraph.Style;
        Add(style.Leading);
        Add(style.Size);
        Add((int)style.Alignment);
        Add(style.Indent);
        Add(style.LeftMargin);
        Add(style.RightMargin);
        Add(style.Language);
        Add(style.Tolerance);
        Add(style.EmergencyStretch);
        Add(style.WidensSentences);
        Add(style.Protrudes);
        Add(style.Expansion);
        LineCosts costs = style.Costs;
        Add(costs.Pretolerance);
        Add(costs.Hyphen);
        Add(costs.ExplicitHyphen);
        Add(costs.Line);
        Add(costs.Adjacent);
        Add(costs.DoubleHyphen);
        Add(costs.FinalHyphen);
        Add(costs.Looseness);
        Add(style.HangIndent);
        Add(style.HangAfter);
        Add(style.Shape?.Count ?? -1);
        foreach ((double indent, double length) in style.Shape ?? [])
        {
            Add(indent);
            Add(length);
        }

        Add(paragraph.LabelSeparation);
        Add(paragraph.LabelWidth ?? double.NaN);
        Add(paragraph.LabelAlignment);
        Add(paragraph.LabelOnOwnLine);
        Add(paragraph.Label is null);
        if (paragraph.Label is { } label)
        {
            Add(label, false);
        }

        Add(paragraph.Content, true);
    }

    private void AddBlocks(IReadOnlyList<Block> blocks)
    {
        Add(blocks.Count);
        foreach (Block block in blocks)
        {
            switch (block)
            {
                case ParagraphBlock paragraph:
                    Add(1);
                    Add(paragraph.Style.SpaceAbove);
                    AddParagraph(paragraph);
                    break;
                case SpaceBlock space:
                    Add(2);
                    Add(space.Glue);
                    Add(space.Stays);
                    break;
                case GroupBlock group:
                    Add(3);
                    Add(group.SpaceAround);
                    AddBlocks(group.Content);
                    break;
                case AnchorBlock anchor:
                    Add(4);
                    Add(anchor.Name);
                    break;
                default:
                    _isWhole = false;
                    return;
            }
        }
    }

    private void Add(IReadOnlyList<Inline> inlines, bool inFlow)
    {
        Add(inlines.Count);
        foreach (Inline inline in inlines)
        {
            if (!_isWhole)
            {
                return;
            }

            Add(inline, inFlow);
        }
    }

    private void Add(Inline inline, bool inFlow)
    {
        switch (inline)
        {
            case TextRun run:
                Add(1);
                Add(run.Style);
                Add(run.Text);
                AddPositions(run.Positions);
                break;
            case SpaceInline space:
                Add(2);
                Add(space.Glue);
                Add(space.Vanishes);
                break;
            case PenaltyInline penalty:
                Add(3);
                Add(penalty.Penalty);
                break;
            case LineBreakInline end:
                Add(4);
                Add(end.Extra.Scaled);
                break;
            case MathInline math:
                Add(5);
                Add(math.Style);
                Add(math.Formula);
                break;
            case ReferenceInline reference:
                Add(6);
                (string text, string? target) = References.Resolve(context, reference);
                Add(text);
                Add(target);
                Add(reference.Style);
                Add(reference.IsLink);
                AddPosition(reference.Position);
                break;
            case LinkInline link:
                Add(7);
                Add(link.Target);
                Add(link.IsOutside);
                Add(link.Content, inFlow);
                break;
            case DecoratedInline decorated:
                Add(8);
                Add((int)decorated.Decoration);
                Add(decorated.Colour);
                Add(decorated.Content, inFlow);
                break;
            case DeferredInline deferred:
                Add(9);
                Add(deferred.Content, inFlow);
                break;
            case NoteInline note:
                Add(10);
                Add(note.PrintsMark);
                Add(note.Body is null);
                Add(note.Mark, false);
                AddPosition(note.Position);
                if (inFlow && note.Body is not null)
                {
                    Notes.Add(note);
                }

                break;
            case AnchorInline anchor:
                Add(11);
                Add(anchor.Name);
                break;
            case BoxInline box:
                AddBox(box);
                break;
            case RuleInline rule:
                Add(13);
                Add(rule.Width);
                Add(rule.Height);
                Add(rule.Rise);
                Add(rule.Colour);
                break;
            case LeadersInline leaders:
                Add(14);
                Add(leaders.Style);
                Add(leaders.IsRule);
                break;
            case MarginInline margin when inFlow:
                Add(15);
                Margins.Add(margin);
                break;
            case BlockBoxInline blocks:
                Add(16);
                Add(blocks.Width);
                Add(blocks.Position);
                Add(blocks.InnerPosition);
                Add(blocks.Height ?? double.NaN);
                Add(blocks.FramePadding ?? double.NaN);
                Add(blocks.Ground ?? -1);
                AddBlocks(blocks.Content);
                break;
            case TableInline table:
                Add(17);
                Add(table.Vertical);
                AddTable(table.Table);
                break;
            case TransformInline transform:
                Add(18);
                Add(transform.ScaleAcross);
                Add(transform.ScaleUp);
                Add(transform.Width ?? double.NaN);
                Add(transform.Height ?? double.NaN);
                Add(transform.IsTotalHeight);
                Add(transform.Angle);
                Add(transform.Content, false);
                break;
            default:
                // Pictures and what only pages know are set anew.
                _isWhole = false;
                break;
        }
    }

    private void AddBox(BoxInline box)
    {
        Add(12);
        Add(box.Width ?? double.NaN);
        Add(box.Alignment);
        Add(box.Rise);
        Add((box.IsFramed ? 1 : 0) | (box.IsUnderlined ? 2 : 0) | (box.IsPhantom ? 4 : 0));
        Add(box.Padding);
        Add(box.FrameLine);
        Add(box.FrameColour);
        Add(box.Ground ?? -1);
        Add(box.Height ?? double.NaN);
        Add(box.Depth ?? double.NaN);
        Add(box.Content, false);
    }
}
