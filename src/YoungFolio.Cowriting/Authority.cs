namespace YoungFolio.Cowriting;

/// <summary>A change that a writer sends: made on some version, by one browser tab.</summary>
/// <param name="ClientId">The tab.</param>
/// <param name="Changes">The change.</param>
public sealed record Update(string ClientId, ChangeSet Changes);

/// <summary>Decides which changes come next in a part's history. Pure: whoever calls it stores the result.</summary>
public static class Authority
{
    /// <summary>The largest text that a part may hold, in UTF-16 units.</summary>
    public const int LargestText = 16 * 1024 * 1024;

    /// <summary>
    /// Takes updates that were made on the present version. Updates made on an older one aren't taken: their writer
    /// first receives what was missed, carries the own changes over, and sends them again.
    /// </summary>
    /// <param name="text">The text now.</param>
    /// <param name="version">Its version: the number of updates taken so far.</param>
    /// <param name="madeOn">The version that the updates were made on.</param>
    /// <param name="updates">The updates, in order.</param>
    /// <returns>The new text, or null when others came first.</returns>
    /// <exception cref="ChangeSetException">An update doesn't fit, or the text would be too large.</exception>
    public static string? Take(string text, int version, int madeOn, IReadOnlyList<Update> updates)
    {
        if (madeOn > version || madeOn < 0)
        {
            throw new ChangeSetException($"Version {madeOn} doesn't exist yet.");
        }

        if (madeOn < version)
        {
            return null;
        }

        foreach (Update update in updates)
        {
            if (update.Changes.LengthAfter > LargestText)
            {
                throw new ChangeSetException("A text part holds at most 16 million characters.");
            }

            text = update.Changes.Apply(text);
        }

        return text;
    }
}
