using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>The log of a manuscript: every change is a revision of it, stored in the same transaction, and counts towards what it may take.</summary>
internal sealed class ManuscriptLog(WriteQueue writeQueue, TimeProvider clock)
{
    /// <summary>The moment, in UTC.</summary>
    public DateTime Now => clock.GetUtcNow().UtcDateTime;

    /// <summary>Says that there is no such manuscript.</summary>
    public static StoreException NoManuscript() => new("This manuscript isn't there.");

    /// <summary>Changes a manuscript, all of it or nothing; it is on the disk when this returns.</summary>
    public Task<T> ChangeAsync<T>(int manuscriptId, Actor actor, Func<WriteSession, ManuscriptEntity, Task<T>> change) =>
        writeQueue.RunAsync(actor.Person, s => OnAsync(s, manuscriptId, change));

    /// <summary>Does something to a manuscript in a transaction.</summary>
    /// <exception cref="StoreException">There is no such manuscript.</exception>
    public static async Task<T> OnAsync<T>(WriteSession session, int manuscriptId, Func<WriteSession, ManuscriptEntity, Task<T>> change) =>
        await change(session, await session.Database.Manuscripts.FindAsync(manuscriptId) ?? throw NoManuscript());

    /// <summary>Counts what is stored.</summary>
    /// <exception cref="StoreException">The manuscript takes too much with it.</exception>
    public static void Take(ManuscriptEntity manuscript, long bytes)
    {
        if (manuscript.Stored + bytes > ManuscriptStore.LargestHistory)
        {
            throw new StoreException("This manuscript takes 2 GB with all its history, which is the most. Go on in a copy of it.");
        }

        manuscript.Stored += bytes;
    }

    /// <summary>Adds a revision.</summary>
    public void Add(WriteSession session, ManuscriptEntity manuscript, Actor actor, string kind, FileEntity? file, string payload, string? clientId = null)
    {
        session.AddToLog(new Revision
        {
            ManuscriptId = manuscript.Id,
            Number = ++manuscript.Revision,
            PersonId = actor.Person,
            TokenId = actor.Token,
            At = actor.At ?? Now,
            Kind = kind,
            FileId = file?.Id,
            FileVersion = file?.Version ?? 0,
            ClientId = clientId,
            Payload = payload,
            Act = actor.Act,
        });
        if (kind != RevisionKind.Text)
        {
            session.Tell(new FilesChanged(manuscript.Id));
        }
    }
}
