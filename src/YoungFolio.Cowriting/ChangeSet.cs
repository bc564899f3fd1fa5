using System.Text;
using System.Text.Json.Serialization;

namespace YoungFolio.Cowriting;

/// <summary>A change set doesn't fit the text it is meant for, or isn't one at all.</summary>
public sealed class ChangeSetException(string message) : Exception(message);

/// <summary>Which side a position sticks to when text comes in right at it.</summary>
public enum Side
{
    /// <summary>It stays before what comes in.</summary>
    Before = -1,

    /// <summary>It goes behind what comes in.</summary>
    After = 1,
}

/// <summary>
/// A change of a text as a value: sections that are kept or replaced, from the beginning of the text to its end. It computes what
/// <c>@codemirror/state</c> computes, so that the server and the browsers come to the same text. Lengths are in UTF-16 units.
/// </summary>
[JsonConverter(typeof(ChangeSetConverter))]
public sealed partial class ChangeSet
{
    private readonly Section[] _sections;

    private ChangeSet(Section[] sections)
    {
        _sections = sections;
        foreach (Section section in sections)
        {
            LengthBefore = checked(LengthBefore + section.Length);
            LengthAfter = checked(LengthAfter + (section.IsKept ? section.Length : section.Text!.Length));
            Inserted += section.Text?.Length ?? 0;
        }
    }

    /// <summary>Length of the text that it changes.</summary>
    public int LengthBefore { get; }

    /// <summary>Length of the text that it gives.</summary>
    public int LengthAfter { get; }

    /// <summary>How much text it brings in.</summary>
    public int Inserted { get; }

    /// <summary>Whether it leaves the text as it is.</summary>
    public bool IsEmpty => _sections.Length == 0 || (_sections.Length == 1 && _sections[0].IsKept);

    /// <summary>The stretches that it replaces: where in the text before, how long, and what comes in.</summary>
    public IEnumerable<(int From, int Length, string Insert)> Edits
    {
        get
        {
            int at = 0;
            foreach (Section section in _sections)
            {
                if (!section.IsKept)
                {
                    yield return (at, section.Length, section.Text!);
                }

                at += section.Length;
            }
        }
    }

    /// <summary>The change that changes nothing.</summary>
    /// <param name="textLength">Length of the text.</param>
    public static ChangeSet Nothing(int textLength)
    {
        var sections = new Sections();
        sections.Keep(textLength);
        return sections.ToChangeSet();
    }

    /// <summary>A change that replaces a stretch of a text.</summary>
    /// <exception cref="ChangeSetException">The stretch lies outside the text.</exception>
    public static ChangeSet Replace(int textLength, int from, int to, string insert) => Of(textLength, [(from, to - from, insert)]);

    /// <summary>A change that replaces several stretches of a text at once.</summary>
    /// <param name="textLength">Length of the text.</param>
    /// <param name="edits">The stretches: where, how long, and what comes in; they must not overlap.</param>
    /// <exception cref="ChangeSetException">A stretch lies outside the text or in another one.</exception>
    public static ChangeSet Of(int textLength, IEnumerable<(int From, int Length, string Insert)> edits)
    {
        var sections = new Sections();
        int at = 0;
        foreach ((int from, int length, string insert) in edits.OrderBy(e => e.From).ThenBy(e => e.Length))
        {
            if (from < at || length < 0 || from + length > textLength)
            {
                throw new ChangeSetException("The changes lie outside the text or in each other.");
            }

            sections.Keep(from - at);
            sections.Replace(length, insert);
            at = from + length;
        }

        sections.Keep(textLength - at);
        return sections.ToChangeSet();
    }

    /// <summary>The change from one text to another: what they have in common at both ends is kept.</summary>
    public static ChangeSet Between(string before, string after)
    {
        int most = Math.Min(before.Length, after.Length);
        int start = before.AsSpan().CommonPrefixLength(after);
        int end = 0;
        while (end < most - start && before[^(end + 1)] == after[^(end + 1)])
        {
            end++;
        }

        // A character of two units is replaced as a whole.
        if (start > 0 && char.IsHighSurrogate(before[start - 1]))
        {
            start--;
        }

        if (end > 0 && char.IsLowSurrogate(before[^end]))
        {
            end--;
        }

        return Replace(before.Length, start, before.Length - end, after[start..^end]);
    }

    /// <summary>The text after the change.</summary>
    /// <exception cref="ChangeSetException">The text has another length than the change expects.</exception>
    public string Apply(string text)
    {
        CheckLength(text);
        return string.Create(LengthAfter, (this, text), static (result, from) =>
        {
            int at = 0;
            foreach (Section section in from.Item1._sections)
            {
                ReadOnlySpan<char> piece = section.IsKept ? from.text.AsSpan(at, section.Length) : section.Text;
                piece.CopyTo(result);
                result = result[piece.Length..];
                at += section.Length;
            }
        });
    }

    /// <summary>A text after many changes, one after the other.</summary>
    /// <exception cref="ChangeSetException">A change doesn't fit.</exception>
    public static string ApplyAll(string text, IEnumerable<ChangeSet> changes)
    {
        var pieces = new TextPieces(text);
        foreach (ChangeSet change in changes)
        {
            pieces.Apply(change, keepsCharacters: false);
        }

        return pieces.ToString();
    }

    /// <summary>The change that takes this one back.</summary>
    /// <param name="text">The text before.</param>
    /// <exception cref="ChangeSetException">The text has another length than the change expects.</exception>
    public ChangeSet Invert(string text)
    {
        CheckLength(text);
        var sections = new Sections();
        int at = 0;
        foreach (Section section in _sections)
        {
            if (section.IsKept)
            {
                sections.Keep(section.Length);
            }
            else
            {
                sections.Replace(section.Text!.Length, text.AsSpan(at, section.Length));
            }

            at += section.Length;
        }

        return sections.ToChangeSet();
    }

    /// <summary>How many stretches it keeps or replaces: what carrying it over another change costs.</summary>
    public int Size => _sections.Length;

    /// <summary>Whether another change does the same to the same text.</summary>
    public bool IsSameAs(ChangeSet other) => LengthBefore == other.LengthBefore && Edits.SequenceEqual(other.Edits);

    private void CheckLength(string text)
    {
        if (text.Length != LengthBefore)
        {
            throw OtherLength(LengthBefore, text.Length);
        }
    }

    internal static ChangeSetException OtherLength(int expected, int length) => new($"The change is for a text of {expected} characters; this one has {length}.");

    /// <summary>A stretch of the text: kept when there is no text, or else replaced by it.</summary>
    private readonly record struct Section(int Length, string? Text)
    {
        public bool IsKept => Text is null;
    }

    /// <summary>Gathers sections; neighbours of one kind become one, as in <c>@codemirror/state</c>.</summary>
    private sealed class Sections
    {
        private readonly List<(int Length, StringBuilder? Text)> _list = [];

        public int Count => _list.Count;

        public void Keep(int length)
        {
            if (length == 0)
            {
                return;
            }

            if (_list is [.., (var before, null)])
            {
                _list[^1] = (before + length, null);
            }
            else
            {
                _list.Add((length, null));
            }
        }

        /// <param name="length">How much is taken out.</param>
        /// <param name="text">What comes in.</param>
        /// <param name="join">Whether it belongs to the replacement before it.</param>
        public void Replace(int length, ReadOnlySpan<char> text, bool join = false)
        {
            if (length == 0 && text.IsEmpty)
            {
                return;
            }

            if (_list is [.., (var before, { } last)]
                && (join || (text.IsEmpty && last.Length == 0) || (length == 0 && before == 0)))
            {
                last.Append(text);
                _list[^1] = (before + length, last);
            }
            else
            {
                _list.Add((length, new StringBuilder().Append(text)));
            }
        }

        public ChangeSet ToChangeSet() => new([.. _list.Select(s => new Section(s.Length, s.Text?.ToString()))]);
    }
}
