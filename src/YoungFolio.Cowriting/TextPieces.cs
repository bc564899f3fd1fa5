namespace YoungFolio.Cowriting;

/// <summary>
/// A text in the making: stretches of the text before and of what came in. A change costs what it changes and the number of
/// stretches, never the length of the text, so that a thousand keystrokes in a long text don't copy it a thousand times.
/// </summary>
internal sealed class TextPieces
{
    // Beyond this many stretches walking them costs more than copying the text once.
    private const int MostPieces = 4096;

    private List<Slice> _pieces;
    private List<Slice> _next = [];
    private int _length;

    public TextPieces(string text)
    {
        _pieces = text.Length == 0 ? [] : [new Slice(text, 0, text.Length)];
        _length = text.Length;
    }

    /// <summary>Carries a change out.</summary>
    /// <param name="change">The change.</param>
    /// <param name="keepsCharacters">Whether a change that cuts a character in halves is refused: what is in the log already is not.</param>
    /// <exception cref="ChangeSetException">It is for a text of another length, or cuts a character in halves.</exception>
    public void Apply(ChangeSet change, bool keepsCharacters = true)
    {
        if (change.LengthBefore != _length)
        {
            throw ChangeSet.OtherLength(change.LengthBefore, _length);
        }

        _next.Clear();
        int at = 0;
        int piece = 0;
        int within = 0;
        foreach ((int from, int length, string insert) in change.Edits)
        {
            Take(from - at, isKept: true, ref piece, ref within);
            CheckCut(keepsCharacters, piece, within);
            if (insert.Length > 0)
            {
                _next.Add(new Slice(insert, 0, insert.Length));
            }

            Take(length, isKept: false, ref piece, ref within);
            CheckCut(keepsCharacters, piece, within);
            at = from + length;
        }

        Take(_length - at, isKept: true, ref piece, ref within);
        (_pieces, _next) = (_next, _pieces);
        _length = change.LengthAfter;
        if (_pieces.Count > MostPieces)
        {
            _pieces = [new Slice(ToString(), 0, _length)];
        }
    }

    /// <inheritdoc/>
    public override string ToString() => _pieces is [{ Start: 0 } only] && only.Length == only.Text.Length ? only.Text : string.Create(_length, _pieces, static (result, pieces) =>
    {
        foreach (Slice piece in pieces)
        {
            piece.Text.AsSpan(piece.Start, piece.Length).CopyTo(result);
            result = result[piece.Length..];
        }
    });

    private void Take(int length, bool isKept, ref int piece, ref int within)
    {
        while (length > 0)
        {
            Slice from = _pieces[piece];
            int part = Math.Min(length, from.Length - within);
            if (isKept && part > 0)
            {
                _next.Add(new Slice(from.Text, from.Start + within, part));
            }

            length -= part;
            within += part;
            if (within == from.Length)
            {
                piece++;
                within = 0;
            }
        }
    }

    // A character of two UTF-16 units must not be parted; the place is in the text before the change.
    private void CheckCut(bool keepsCharacters, int piece, int within)
    {
        if (keepsCharacters && piece < _pieces.Count && char.IsLowSurrogate(_pieces[piece].At(within)))
        {
            Slice before = within > 0 || piece == 0 ? _pieces[piece] : _pieces[piece - 1];
            int last = within > 0 ? within - 1 : before.Length - 1;
            if ((within > 0 || piece > 0) && char.IsHighSurrogate(before.At(last)))
            {
                throw new ChangeSetException("The change cuts a character in halves.");
            }
        }
    }

    private readonly record struct Slice(string Text, int Start, int Length)
    {
        public char At(int index) => Text[Start + index];
    }
}
