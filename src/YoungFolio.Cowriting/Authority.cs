namespace YoungFolio.Cowriting;

/// <summary>A change that a writer sends: made on some version, in one browser tab.</summary>
/// <param name="ClientId">The tab.</param>
/// <param name="Changes">The change.</param>
public sealed record Update(string ClientId, ChangeSet Changes);

/// <summary>What became of updates.</summary>
/// <param name="Text">The text with them.</param>
/// <param name="Updates">The updates as they come next in the log; fewer than were sent when some were taken before.</param>
public sealed record AcceptedUpdates(string Text, IReadOnlyList<Update> Updates);

/// <summary>Two writers send in the name of one tab: each needs a name of its own, or one's words would be taken for the other's.</summary>
public sealed class SharedTabException() : Exception("Another window writes in this one's name. Taking another name …");

/// <summary>Decides which changes come next in a file's history. Pure: whoever calls it stores the result.</summary>
public static class Authority
{
    /// <summary>The largest text that a file may hold, in UTF-16 units.</summary>
    public const int LargestText = 16 * 1024 * 1024;

    /// <summary>The most that one update may bring in, in UTF-16 units.</summary>
    public const int LargestInsert = 2 * 1024 * 1024;

    /// <summary>
    /// Takes updates, wherever in the history they were made: they are carried over what others did since. Updates that a writer sends
    /// again, since word of their being taken got lost, are known by their tab and their content and aren't taken twice.
    /// </summary>
    /// <param name="text">The text now.</param>
    /// <param name="updates">The updates, in order, all of one tab.</param>
    /// <param name="since">What was taken after the version that the updates were made on, in order.</param>
    /// <exception cref="ChangeSetException">An update doesn't fit, or the text would be too large. Nothing is taken then.</exception>
    /// <exception cref="SharedTabException">Another writer uses the same tab's name. Nothing is taken then.</exception>
    public static AcceptedUpdates Take(string text, IReadOnlyList<Update> updates, IReadOnlyList<Update> since) => Take(text, updates, since, LargestInsert);

    /// <summary>As <see cref="Take(string, IReadOnlyList{Update}, IReadOnlyList{Update})"/>, for what rooms change: it may bring in as much as a text holds.</summary>
    /// <exception cref="ChangeSetException">An update doesn't fit, or the text would be too large.</exception>
    public static AcceptedUpdates TakeLarge(string text, IReadOnlyList<Update> updates, IReadOnlyList<Update> since) => Take(text, updates, since, LargestText);

    private static AcceptedUpdates Take(string text, IReadOnlyList<Update> updates, IReadOnlyList<Update> since, int largestInsert)
    {
        IReadOnlyList<Update> next = Rebase(updates, since);
        var pieces = new TextPieces(text);
        foreach (Update update in next)
        {
            if (update.Changes.Inserted > largestInsert)
            {
                throw new ChangeSetException("At most 2 million characters come in at once. Upload a longer text as a file of its own.");
            }

            if (update.Changes.LengthAfter > LargestText)
            {
                throw new ChangeSetException("A text file holds at most 16 million characters.");
            }

            pieces.Apply(update.Changes);
        }

        return new AcceptedUpdates(pieces.ToString(), next);
    }

    /// <summary>Updates as they are after what was taken since, without those that are in it.</summary>
    /// <remarks>
    /// One update after the other: over several as one, a text that comes in where another change took the text away around it could
    /// land elsewhere than in a browser that heard of them one by one. Of two texts that come in at one place, the later goes before
    /// the earlier: whoever goes on typing there then stays with the words typed before, and no two writers' words are interleaved.
    /// </remarks>
    /// <exception cref="ChangeSetException">An update doesn't fit.</exception>
    /// <exception cref="SharedTabException">What was taken under the tab's name is something else.</exception>
    public static IReadOnlyList<Update> Rebase(IReadOnlyList<Update> updates, IReadOnlyList<Update> since)
    {
        List<Update> left = [.. updates];
        foreach (Update update in since)
        {
            if (left.Count == 0)
            {
                break;
            }

            if (left[0].ClientId == update.ClientId)
            {
                // What was taken was carried over the same changes as this one now is: if it is the same, it reads the same.
                if (!left[0].Changes.IsSameAs(update.Changes))
                {
                    throw new SharedTabException();
                }

                left.RemoveAt(0);
            }
            else
            {
                CarryOver(left, update.Changes);
            }
        }

        return left;
    }

    /// <summary>Carries updates over a change that came before them.</summary>
    /// <param name="updates">The updates, in order; replaced in place.</param>
    /// <param name="over">The change, of the text that the first update changes.</param>
    /// <returns>The change as it is after the updates.</returns>
    internal static ChangeSet CarryOver(List<Update> updates, ChangeSet over)
    {
        for (int i = 0; i < updates.Count; i++)
        {
            ChangeSet own = updates[i].Changes;
            updates[i] = updates[i] with { Changes = own.Map(over, before: true) };
            over = over.Map(own);
        }

        return over;
    }
}
