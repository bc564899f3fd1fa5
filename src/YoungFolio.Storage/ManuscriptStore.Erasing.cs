using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

// Erasing for good: in slices, and all looking is done beside the queue of writes.
public sealed partial class ManuscriptStore
{
    private const int ErasedAtOnce = 2000;
    private const int SnapshotsErasedAtOnce = 50;
    private const int BlobsErasedAtOnce = 5;

    /// <summary>Erases for good what was put away too long ago.</summary>
    /// <returns>How many manuscripts.</returns>
    public async Task<int> PurgeAsync()
    {
        DateTime before = Now - KeptAway;
        List<int> gone;
        await using (FolioDatabase database = await databases.CreateDbContextAsync())
        {
            gone = await database.Manuscripts.Where(m => m.DeletedAt != null && m.DeletedAt < before).Select(m => m.Id).ToListAsync();
        }

        foreach (int manuscript in gone)
        {
            await EraseAsync(manuscript);
        }

        return gone.Count;
    }

    private async Task EraseAsync(int manuscript)
    {
        HashSet<string> contents;
        List<int> parts;
        await using (FolioDatabase database = await databases.CreateDbContextAsync())
        {
            contents = await ContentsAsync(database.Revisions.Where(r => r.ManuscriptId == manuscript));
            parts = await database.Parts.Where(p => p.ManuscriptId == manuscript).Select(p => p.Id).ToListAsync();
        }

        // Nobody comes in again while it goes.
        await scribe.RunAsync(Scribe.House, async session =>
        {
            await session.Database.Memberships.Where(m => m.ManuscriptId == manuscript).ExecuteDeleteAsync();
            await session.Database.Invitations.Where(i => i.ManuscriptId == manuscript).ExecuteDeleteAsync();
            session.Tell(new PeopleChanged(manuscript));
            return await session.Database.AccessTokens.Where(t => t.ManuscriptId == manuscript).ExecuteDeleteAsync();
        });
        foreach (int part in parts)
        {
            await RepeatAsync(session => session.Database.Snapshots.Where(s => s.PartId == part).OrderBy(s => s.Version).Take(SnapshotsErasedAtOnce).ExecuteDeleteAsync());
        }

        await RepeatAsync(session => session.Database.Revisions.Where(r => r.ManuscriptId == manuscript).OrderBy(r => r.Number).Take(ErasedAtOnce).ExecuteDeleteAsync());
        await scribe.RunAsync(Scribe.House, async session =>
        {
            await session.Database.Parts.Where(p => p.ManuscriptId == manuscript).ExecuteDeleteAsync();
            return await session.Database.Manuscripts.Where(m => m.Id == manuscript).ExecuteDeleteAsync();
        });
        await EraseContentsAsync(contents);
    }

    // Contents may be shared by manuscripts: those that another one has or had stay. What is stored while we look is looked at in turn.
    private async Task EraseContentsAsync(HashSet<string> contents)
    {
        if (contents.Count == 0)
        {
            return;
        }

        long seen;
        await using (FolioDatabase database = await databases.CreateDbContextAsync())
        {
            seen = await database.Revisions.MaxAsync(r => (long?)r.Id) ?? 0;
            contents.ExceptWith(await ContentsAsync(database.Revisions));
        }

        foreach (string[] some in contents.Chunk(BlobsErasedAtOnce))
        {
            await scribe.RunAsync(Scribe.House, async session =>
            {
                HashSet<string> stored = await ContentsAsync(session.Database.Revisions.Where(r => r.Id > seen));
                string[] unused = [.. some.Where(h => !stored.Contains(h))];
                return await session.Database.Blobs.Where(b => unused.Contains(b.Hash)).ExecuteDeleteAsync();
            });
        }
    }

    private async Task RepeatAsync(Func<WriteSession, Task<int>> erase)
    {
        while (await scribe.RunAsync(Scribe.House, erase) > 0)
        {
        }
    }

    private static async Task<HashSet<string>> ContentsAsync(IQueryable<Revision> revisions)
    {
        List<string> payloads = await revisions.AsNoTracking()
            .Where(r => r.Kind == RevisionKind.Upload || r.Kind == RevisionKind.Create || r.Kind == RevisionKind.BringBack).Select(r => r.Payload).ToListAsync();
        return [.. payloads.Select(p => p[(p.IndexOf('\n', StringComparison.Ordinal) + 1)..])];
    }
}
