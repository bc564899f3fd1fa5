namespace YoungFolio.Cowriting;

// One change after another as one, and one change carried over another: step for step what @codemirror/state does
// (its composeSets, mapSet and mapPos), since both sides must come to the same text. ReferenceTests compares them.
public sealed partial class ChangeSet
{
    /// <summary>This change and then another one, as one change.</summary>
    /// <param name="next">A change of the text that this one gives.</param>
    /// <exception cref="ChangeSetException">The other change is for a text of another length.</exception>
    public ChangeSet Compose(ChangeSet next)
    {
        if (LengthAfter != next.LengthBefore)
        {
            throw Mismatch();
        }

        if (IsEmpty)
        {
            return next;
        }

        if (next.IsEmpty)
        {
            return this;
        }

        var result = new Sections();
        var a = new Reader(_sections);
        var b = new Reader(next._sections);
        bool open = false;
        while (!a.IsDone || !b.IsDone)
        {
            if (a.IsDeletion)
            {
                result.Replace(a.Length, "", open);
                a.Next();
                continue;
            }

            if (b.Length == 0 && !b.IsDone)
            {
                result.Replace(0, b.Text, open);
                b.Next();
                continue;
            }

            if (a.IsDone || b.IsDone)
            {
                throw Mismatch();
            }

            int length = Math.Min(a.LengthAfter, b.Length);
            int count = result.Count;
            if (a.IsKept && b.IsKept)
            {
                result.Keep(length);
            }
            else if (a.IsKept)
            {
                result.Replace(length, b.IsBegun ? "" : b.Text, open);
            }
            else if (b.IsKept)
            {
                result.Replace(a.IsBegun ? 0 : a.Length, a.Text.Slice(a.Offset, length), open);
            }
            else
            {
                result.Replace(a.IsBegun ? 0 : a.Length, b.IsBegun ? "" : b.Text, open);
            }

            open = ((!a.IsKept && a.LengthAfter > length) || (!b.IsKept && b.Length > length)) && (open || result.Count > count);
            a.ForwardAfter(length);
            b.Forward(length);
        }

        return result.ToChangeSet();
    }

    /// <summary>This change for a text in which another change was made already. Both are changes of the same text.</summary>
    /// <param name="other">The change that was made.</param>
    /// <param name="before">Whether this one's text goes before the other's where both come in at the same place.</param>
    /// <exception cref="ChangeSetException">The changes are for texts of different length.</exception>
    public ChangeSet Map(ChangeSet other, bool before = false)
    {
        if (LengthBefore != other.LengthBefore)
        {
            throw Mismatch();
        }

        if (other.IsEmpty)
        {
            return this;
        }

        var result = new Sections();
        var a = new Reader(_sections);
        var b = new Reader(other._sections);
        // Section of this change whose text is in the result already, though the section isn't passed yet.
        int inserted = -1;
        while (!a.IsDone || !b.IsDone)
        {
            if (a.IsKept && b.IsKept)
            {
                int length = Math.Min(a.Length, b.Length);
                result.Keep(length);
                a.Forward(length);
                b.Forward(length);
            }
            else if (b.IsReplacement && (!a.IsReplacement || inserted == a.Index
                || (!a.IsBegun && (b.Length < a.Length || (b.Length == a.Length && !before)))))
            {
                // The other change comes first; what this one changes within it is passed.
                int left = b.Length;
                result.Keep(b.LengthAfter);
                while (left > 0)
                {
                    int piece = Math.Min(a.Length, left);
                    if (a.IsReplacement && inserted < a.Index && a.Length <= piece)
                    {
                        result.Replace(0, a.Text);
                        inserted = a.Index;
                    }

                    a.Forward(piece);
                    left -= piece;
                }

                b.Next();
            }
            else if (a.IsReplacement)
            {
                // What this one takes out, less what the other took out already, up to where the other brings text in.
                int length = 0;
                int left = a.Length;
                while (left > 0)
                {
                    if (b.IsKept)
                    {
                        int piece = Math.Min(left, b.Length);
                        length += piece;
                        left -= piece;
                        b.Forward(piece);
                    }
                    else if (b.IsDeletion && b.Length < left)
                    {
                        left -= b.Length;
                        b.Next();
                    }
                    else
                    {
                        break;
                    }
                }

                result.Replace(length, inserted < a.Index ? a.Text : "");
                inserted = a.Index;
                a.Forward(a.Length - left);
            }
            else
            {
                throw Mismatch();
            }
        }

        return result.ToChangeSet();
    }

    /// <summary>Where a place of a text is after changes, one after the other: behind what comes in at it. A place outside is taken to the text's edge.</summary>
    public static int Carry(IEnumerable<ChangeSet> changes, int place) =>
        changes.Aggregate(place, static (at, change) => change.MapPosition(Math.Clamp(at, 0, change.LengthBefore), Side.After));

    /// <summary>Where a stretch of a text is after changes: what comes in at its edges isn't of it. Of an empty one both edges stay together.</summary>
    public static (int From, int To) Carry(IEnumerable<ChangeSet> changes, int from, int to)
    {
        ArgumentNullException.ThrowIfNull(changes);
        foreach (ChangeSet change in changes)
        {
            int begin = change.MapPosition(Math.Clamp(from, 0, change.LengthBefore), from == to ? Side.Before : Side.After);
            to = Math.Max(begin, change.MapPosition(Math.Clamp(to, 0, change.LengthBefore), Side.Before));
            from = begin;
        }

        return (from, to);
    }

    /// <summary>Where a position of the text before lies in the text after.</summary>
    /// <param name="position">The position, from 0 to the text's length.</param>
    /// <param name="side">What it does when text comes in right there.</param>
    /// <exception cref="ChangeSetException">It lies outside the text.</exception>
    public int MapPosition(int position, Side side = Side.Before)
    {
        int from = 0;
        int to = 0;
        foreach (Section section in _sections)
        {
            int end = from + section.Length;
            if (section.IsKept)
            {
                if (end > position)
                {
                    return to + (position - from);
                }

                to += section.Length;
            }
            else
            {
                if (end > position || (end == position && side == Side.Before && section.Length == 0))
                {
                    return position == from || side == Side.Before ? to : to + section.Text!.Length;
                }

                to += section.Text!.Length;
            }

            from = end;
        }

        return position >= 0 && position <= from ? to : throw new ChangeSetException($"Position {position} lies outside a text of {from} characters.");
    }

    private static ChangeSetException Mismatch() => new("These changes are for texts of different length.");

    /// <summary>Goes through sections, in pieces where need be.</summary>
    private ref struct Reader
    {
        private readonly ReadOnlySpan<Section> _sections;
        private int _insertedLeft;

        public Reader(ReadOnlySpan<Section> sections)
        {
            _sections = sections;
            Index = -1;
            Next();
        }

        public int Index { get; private set; }

        /// <summary>What is left of the section, in the text before.</summary>
        public int Length { get; private set; }

        /// <summary>How much of the section is passed.</summary>
        public int Offset { get; private set; }

        public readonly bool IsDone => Index >= _sections.Length;

        public readonly bool IsBegun => Offset > 0;

        public readonly bool IsKept => !IsDone && _sections[Index].IsKept;

        public readonly bool IsReplacement => !IsDone && !_sections[Index].IsKept;

        public readonly bool IsDeletion => IsReplacement && _insertedLeft == 0;

        /// <summary>What is left of the section, in the text after.</summary>
        public readonly int LengthAfter => IsKept ? Length : _insertedLeft;

        public readonly ReadOnlySpan<char> Text => _sections[Index].Text;

        public void Next()
        {
            Index++;
            Offset = 0;
            Length = IsDone ? 0 : _sections[Index].Length;
            _insertedLeft = IsDone ? 0 : _sections[Index].Text?.Length ?? 0;
        }

        public void Forward(int length)
        {
            if (length == Length)
            {
                Next();
            }
            else
            {
                Length -= length;
                Offset += length;
            }
        }

        public void ForwardAfter(int length)
        {
            if (IsKept)
            {
                Forward(length);
            }
            else if (length == _insertedLeft)
            {
                Next();
            }
            else
            {
                _insertedLeft -= length;
                Offset += length;
            }
        }
    }
}
