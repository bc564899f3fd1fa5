using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>A step of a text as it is stored: all that costs time is worked out when it is made, beside the queue of writes.</summary>
internal sealed class TextStep
{
    /// <summary>Works it out.</summary>
    /// <param name="before">The text before.</param>
    /// <param name="taken">What was taken into it.</param>
    public TextStep(LiveText before, AcceptedUpdates accepted)
    {
        Before = before;
        Accepted = accepted;
        (Next, IsSnapshotDue) = TextLog.After(before, accepted);
        Payloads = [.. accepted.Updates.Select(u => u.Changes.ToJson())];
    }

    /// <summary>The text before.</summary>
    public LiveText Before { get; }

    /// <summary>What was accepted.</summary>
    public AcceptedUpdates Accepted { get; }

    /// <summary>The text after.</summary>
    public LiveText Next { get; }

    /// <summary>Whether all of it is stored too.</summary>
    public bool IsSnapshotDue { get; }

    /// <summary>The changes as the log holds them.</summary>
    public IReadOnlyList<string> Payloads { get; }
}
