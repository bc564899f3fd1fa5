using YoungFolio.Cowriting;

namespace YoungFolio.Chronicle;

/// <summary>Why a suggestion can't be taken as things are.</summary>
public enum SuggestionHindrance
{
    /// <summary>Its words are gone.</summary>
    Gone,

    /// <summary>Its words were changed since: taking it would undo that.</summary>
    Changed,

    /// <summary>Another one that is taken changes the same words.</summary>
    Crossed,
}

/// <summary>A proposed change of a text, held beside it: other words in the place of a passage.</summary>
/// <param name="Id">Its number.</param>
/// <param name="Anchor">The passage.</param>
/// <param name="Instead">The passage's words when it was suggested.</param>
/// <param name="Proposal">What is to stand in their place; empty: nothing.</param>
public sealed record Suggestion(int Id, PassageAnchor Anchor, string Instead, string Proposal)
{
    /// <summary>What keeps it from being taken, if anything.</summary>
    public SuggestionHindrance? Hindrance =>
        Anchor.IsGone ? SuggestionHindrance.Gone : Anchor.Words != Instead ? SuggestionHindrance.Changed : null;

    /// <summary>
    /// The smallest passage of whole words that a changed one differs in. What only comes in takes the word before it along, or the one
    /// behind it, so that there are words which it is tied to.
    /// </summary>
    /// <param name="text">The text.</param>
    /// <param name="from">The passage's first character.</param>
    /// <param name="to">The place behind its last one.</param>
    /// <param name="proposal">What is to stand in its place.</param>
    /// <returns>The passage and its proposal; null where nothing would change, or the text has no words.</returns>
    /// <exception cref="ArgumentOutOfRangeException">The passage lies outside the text.</exception>
    public static (int From, int To, string Proposal)? Narrow(string text, int from, int to, string proposal)
    {
        ArgumentNullException.ThrowIfNull(text);
        ArgumentNullException.ThrowIfNull(proposal);
        ArgumentOutOfRangeException.ThrowIfNegative(from);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(to, text.Length);
        ArgumentOutOfRangeException.ThrowIfLessThan(to, from);
        ReadOnlySpan<char> old = text.AsSpan(from, to - from);
        ReadOnlySpan<char> now = proposal;
        if (old.SequenceEqual(now))
        {
            return null;
        }

        int before = old.CommonPrefixLength(now);
        int most = Math.Min(old.Length, now.Length) - before;
        int after = 0;
        while (after < most && old[^(after + 1)] == now[^(after + 1)])
        {
            after++;
        }

        // Back to where a word begins and ends, on both sides: half a word is hard to read, and harder to find again.
        while (before > 0 && !IsBlank(old[before - 1]))
        {
            before--;
        }

        bool beginsWord = from == 0 || IsBlank(text[from - 1]);
        while (after > 0 && !IsBlank(old[^after]) && !(EndsBefore(old, after, beginsWord) && EndsBefore(now, after, beginsWord)))
        {
            after--;
        }

        (int begin, int end) = (from + before, to - after);
        string put = proposal[before..(proposal.Length - after)];
        if (!text.AsSpan(begin, end - begin).IsWhiteSpace())
        {
            return (begin, end, put);
        }

        int word = begin;
        while (word > 0 && IsBlank(text[word - 1]))
        {
            word--;
        }

        if (word > 0)
        {
            int start = word;
            while (start > 0 && !IsBlank(text[start - 1]))
            {
                start--;
            }

            return (start, end, text[start..begin] + put);
        }

        word = end;
        while (word < text.Length && IsBlank(text[word]))
        {
            word++;
        }

        int stop = word;
        while (stop < text.Length && !IsBlank(text[stop]))
        {
            stop++;
        }

        return stop > word ? (begin, stop, put + text[end..stop]) : null;
    }

    /// <summary>Which of several suggestions can be taken together, from the last place of each text to the first, so that none moves another.</summary>
    /// <param name="wanted">The suggestions, those of a text on the same version of it. Of two on the same words the one that was made first goes.</param>
    /// <param name="anyway">Whether those go, too, whose words were changed since.</param>
    public static SuggestionPlan Plan(IEnumerable<Suggestion> wanted, bool anyway = false)
    {
        ArgumentNullException.ThrowIfNull(wanted);
        var taken = new List<Suggestion>();
        var left = new List<(int, SuggestionHindrance)>();
        foreach (Suggestion one in wanted.OrderBy(s => s.Id))
        {
            if (one.Hindrance is { } hindrance && !(anyway && hindrance == SuggestionHindrance.Changed))
            {
                left.Add((one.Id, hindrance));
            }
            else if (taken.Exists(t => t.Anchor.File == one.Anchor.File && t.Anchor.From < one.Anchor.To && one.Anchor.From < t.Anchor.To))
            {
                left.Add((one.Id, SuggestionHindrance.Crossed));
            }
            else
            {
                taken.Add(one);
            }
        }

        return new SuggestionPlan([.. taken.OrderBy(s => s.Anchor.File).ThenByDescending(s => s.Anchor.From)], left);
    }

    /// <summary>The change of a text of a length.</summary>
    public ChangeSet ChangeOf(int length) => ChangeSet.Replace(length, Anchor.From, Anchor.To, Proposal);

    private static bool IsBlank(char sign) => char.IsWhiteSpace(sign);

    // Whether no word goes on into the last signs of a passage.
    private static bool EndsBefore(ReadOnlySpan<char> words, int last, bool beginsWord) => words.Length == last ? beginsWord : IsBlank(words[^(last + 1)]);
}

/// <summary>Which suggestions are taken, in this order, and which are left, with the reason.</summary>
public sealed record SuggestionPlan(IReadOnlyList<Suggestion> Taken, IReadOnlyList<(int Id, SuggestionHindrance Hindrance)> Left);
