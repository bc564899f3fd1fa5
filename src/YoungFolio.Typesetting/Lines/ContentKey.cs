using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting.Lines;

/// <summary>
/// Sums up what is set, with all that its look depends on, in a number of 128 bits: the same number means the same marks. All properties of all nodes
/// count (<see cref="Fingerprint"/>); here stands what they don't say themselves: the document's fonts, what a reference prints, and what can only be
/// set where its page is known.
/// </summary>
internal sealed class ContentKey(SettingContext context) : Fingerprint
{
    private bool _isWhole;
    private bool _isInFlow;

    /// <summary>Notes called in the text, in their order.</summary>
    public List<NoteInline> Notes { get; private set; } = [];

    /// <summary>Notes in the margin beside the text, in their order.</summary>
    public List<MarginInline> Margins { get; private set; } = [];

    /// <summary>The number of a paragraph at a measure; null when it holds something that can't be summed up.</summary>
    public UInt128? Of(ParagraphBlock paragraph, double measure)
    {
        Begin();
        Add(measure);
        _isInFlow = true;
        paragraph.AddTo(this);
        return End();
    }

    /// <summary>The number of a display's rows.</summary>
    public UInt128? Of(DisplayBlock display)
    {
        Begin();
        Add(display.NodeKind);
        foreach (DisplayRow row in display.Rows)
        {
            Add(row.Cells.Count);
            foreach (MathList cell in row.Cells)
            {
                // Each is set as a formula of its own, in the display's style.
                new MathInline(cell, display.Style).AddTo(this);
            }
        }

        return End();
    }

    /// <inheritdoc/>
    public override void Add(Node? node)
    {
        if (!_isWhole)
        {
            return;
        }

        switch (node)
        {
            case ReferenceInline reference:
                (string text, string? target) = References.Resolve(context, reference);
                Add(text);
                Add(target);
                base.Add(reference);
                break;
            case NoteInline note:
                AddNote(note);
                break;
            case MarginInline margin when _isInFlow:
                Add(margin.NodeKind);
                Margins.Add(margin);
                break;
            // Pictures and what only pages know are set anew.
            case ImageInline or PageFieldInline or PagesInline or MarginInline:
            case Block and not (ParagraphBlock or SpaceBlock or GroupBlock or AnchorBlock):
                _isWhole = false;
                break;
            case LinkInline or DecoratedInline or DeferredInline:
                base.Add(node);
                break;
            default:
                bool wasInFlow = _isInFlow;
                _isInFlow = false;
                base.Add(node);
                _isInFlow = wasInFlow;
                break;
        }
    }

    // A note's text is set at the page's foot.
    private void AddNote(NoteInline note)
    {
        Add(note.NodeKind);
        Add(note.PrintsMark);
        Add(note.Body is null);
        AddPosition(note.Position);
        bool wasInFlow = _isInFlow;
        _isInFlow = false;
        Add(note.Mark);
        _isInFlow = wasInFlow;
        if (_isInFlow && note.Body is not null)
        {
            Notes.Add(note);
        }
    }

    private void Begin()
    {
        Clear();
        _isWhole = true;
        _isInFlow = false;
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

    private UInt128? End() => _isWhole ? Sum : null;
}
