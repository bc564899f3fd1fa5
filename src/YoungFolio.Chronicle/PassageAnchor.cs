using YoungFolio.Cowriting;

namespace YoungFolio.Chronicle;

/// <summary>
/// A passage that a note is tied to. It moves with the text; where its words go, it stays at their place and keeps them, and finds them
/// again where they come in elsewhere: moved by hand, or into another file.
/// </summary>
/// <param name="File">The file.</param>
/// <param name="Version">The version of its text that the place is of.</param>
/// <param name="From">Its first character.</param>
/// <param name="To">The place behind its last one.</param>
/// <param name="Words">Its words, as they were last.</param>
/// <param name="IsGone">Whether its words are gone.</param>
public sealed record PassageAnchor(int File, int Version, int From, int To, string Words, bool IsGone)
{
    // Shorter words, or such as stand in two places, may be other ones.
    private const int ShortestFound = 12;

    /// <summary>Ties to a passage of a text.</summary>
    /// <exception cref="ArgumentOutOfRangeException">It lies outside the text, or is empty.</exception>
    public static PassageAnchor Of(int file, int version, string text, int from, int to)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentOutOfRangeException.ThrowIfNegative(from);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(to, text.Length);
        ArgumentOutOfRangeException.ThrowIfLessThanOrEqual(to, from);
        return new PassageAnchor(file, version, from, to, text[from..to], false);
    }

    /// <summary>The passage after changes of its file.</summary>
    /// <param name="changes">The changes since its version, in order.</param>
    /// <param name="text">The text after them.</param>
    public PassageAnchor Over(IReadOnlyCollection<ChangeSet> changes, string text)
    {
        ArgumentNullException.ThrowIfNull(changes);
        ArgumentNullException.ThrowIfNull(text);
        (int from, int to) = ChangeSet.Carry(changes, From, To);
        to = Math.Min(to, text.Length);
        from = Math.Min(from, to);
        bool isGone = IsGone || string.IsNullOrWhiteSpace(text[from..to]);
        return new PassageAnchor(File, Version + changes.Count, from, isGone ? from : to, isGone ? Words : text[from..to], isGone);
    }

    /// <summary>The passage where its words are again: in one place of all texts, and no other; itself where they aren't.</summary>
    /// <param name="texts">The texts with their versions, by files.</param>
    public PassageAnchor FindAgain(IReadOnlyDictionary<int, (int Version, string Text)> texts)
    {
        ArgumentNullException.ThrowIfNull(texts);
        if (!IsGone || Words.Trim().Length < ShortestFound)
        {
            return this;
        }

        PassageAnchor? found = null;
        foreach ((int file, (int version, string text)) in texts)
        {
            for (int at = text.IndexOf(Words, StringComparison.Ordinal); at >= 0; at = text.IndexOf(Words, at + 1, StringComparison.Ordinal))
            {
                if (found is not null)
                {
                    return this;
                }

                found = new PassageAnchor(file, version, at, at + Words.Length, Words, false);
            }
        }

        return found ?? this;
    }
}
