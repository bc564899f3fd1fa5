using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

/// <summary>Erases manuscripts for good: in slices, and all looking is done beside the queue of writes.</summary>
internal sealed class ManuscriptEraser(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue, ContentStore contents)
{
    private const int ErasedAtOnce = 2000;
    private const int SnapshotsErasedAtOnce = 50;

    /// <summary>Erases a manuscript with its history, and contents that no other has or had.</summary>
    public async Task EraseAsync(int manuscript)
    {
        HashSet<string> named;
        List<int> files;
        await using (FolioDatabase database = await databases.CreateDbContextAsync())
        {
            named = await ContentStore.NamedAsync(database.Revisions.Where(r => r.ManuscriptId == manuscript));
            files = await database.Files.Where(p => p.ManuscriptId == manuscript).Select(p => p.Id).ToListAsync();
        }

        // Nobody comes in again while it goes.
        await writeQueue.RunAsync(WriteQueue.House, async session =>
        {
            await session.Database.Memberships.Where(m => m.ManuscriptId == manuscript).ExecuteDeleteAsync();
            await session.Database.Invitations.Where(i => i.ManuscriptId == manuscript).ExecuteDeleteAsync();
            session.Tell(new PeopleChanged(manuscript));
            return await session.Database.AccessTokens.Where(t => t.ManuscriptId == manuscript).ExecuteDeleteAsync();
        });
        foreach (int file in files)
        {
            await RepeatAsync(session => session.Database.Snapshots.Where(s => s.FileId == file).OrderBy(s => s.Version).Take(SnapshotsErasedAtOnce).ExecuteDeleteAsync());
        }

        await RepeatAsync(session => session.Database.Revisions.Where(r => r.ManuscriptId == manuscript).OrderBy(r => r.Number).Take(ErasedAtOnce).ExecuteDeleteAsync());
        await writeQueue.RunAsync(WriteQueue.House, async session =>
        {
            await session.Database.Files.Where(p => p.ManuscriptId == manuscript).ExecuteDeleteAsync();
            return await session.Database.Manuscripts.Where(m => m.Id == manuscript).ExecuteDeleteAsync();
        });
        await contents.EraseUnusedAsync(named);
    }

    private async Task RepeatAsync(Func<WriteSession, Task<int>> erase)
    {
        while (await writeQueue.RunAsync(WriteQueue.House, erase) > 0)
        {
        }
    }
}
