using Microsoft.EntityFrameworkCore;
using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>
/// Contents that aren't text, each stored once. They are stored in pieces: a large one is brought in piece by piece before it belongs to
/// a file, so that nobody waits for all of it. A content has its digest only when it is whole.
/// </summary>
internal sealed class ContentStore(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue)
{
    /// <summary>The largest piece, in bytes: storing one takes a few milliseconds.</summary>
    public const int LargestPiece = 512 * 1024;

    private const int PiecesErasedAtOnce = 8;
    private const int NamesTakenAtOnce = 100;

    /// <summary>Stores a large content ahead of its file; a small one comes with the file.</summary>
    /// <returns>What is to be let go when the file is stored, or isn't.</returns>
    public async Task<IAsyncDisposable?> BringAsync(int account, IncomingFile file)
    {
        if (file.Hash is null || file.Size <= LargestPiece)
        {
            return null;
        }

        await using (FolioDatabase database = await databases.CreateDbContextAsync())
        {
            if (await database.Blobs.AnyAsync(b => b.Hash == file.Hash))
            {
                return null;
            }
        }

        (int id, string generation) = await writeQueue.RunAsync(account, async session => (await AddAsync(session.Database, null), writeQueue.Generation!));
        var brought = new Brought(this, file, id, generation);
        try
        {
            foreach (BlobPiece piece in Pieces(id, file.Bytes))
            {
                await writeQueue.RunAsync(account, session =>
                {
                    brought.Check();
                    session.Database.BlobPieces.Add(piece);
                    return Task.FromResult(0);
                });
            }
        }
        catch (Exception)
        {
            await brought.DisposeAsync();
            throw;
        }

        file.Brought = brought;
        return brought;
    }

    /// <summary>Sees to it that a file's content is there, whole, in the transaction that stores the file.</summary>
    public static async Task CompleteAsync(FolioDatabase database, IncomingFile file)
    {
        if (await database.Blobs.AnyAsync(b => b.Hash == file.Hash))
        {
            return;
        }

        if (file.Brought is { } brought)
        {
            brought.Check();
            await database.Blobs.Where(b => b.Id == brought.Id).ExecuteUpdateAsync(b => b.SetProperty(x => x.Hash, file.Hash));
            return;
        }

        database.BlobPieces.AddRange(Pieces(await AddAsync(database, file.Hash), file.Bytes));
        await database.SaveChangesAsync();
    }

    /// <summary>A content by its digest.</summary>
    public async Task<byte[]> BytesAsync(string hash)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        Blob blob = await database.Blobs.AsNoTracking().FirstAsync(b => b.Hash == hash);
        var pieces = new List<byte[]>();
        await foreach (byte[] piece in database.BlobPieces.AsNoTracking().Where(p => p.BlobId == blob.Id).OrderBy(p => p.Number).Select(p => p.Bytes).AsAsyncEnumerable())
        {
            pieces.Add(piece);
        }

        return pieces.Count == 1 ? pieces[0] : Joined(pieces);
    }

    /// <summary>Which contents revisions speak of.</summary>
    public static async Task<HashSet<string>> NamedAsync(IQueryable<Revision> revisions)
    {
        List<string> payloads = await revisions.AsNoTracking()
            .Where(r => r.Kind == RevisionKind.Upload || r.Kind == RevisionKind.Create || r.Kind == RevisionKind.BringBack).Select(r => r.Payload).ToListAsync();
        return [.. payloads.Select(p => p[(p.IndexOf('\n', StringComparison.Ordinal) + 1)..])];
    }

    /// <summary>Erases those of some contents that no manuscript has or had. What is stored while we look is looked at in turn.</summary>
    public async Task EraseUnusedAsync(HashSet<string> hashes)
    {
        if (hashes.Count == 0)
        {
            return;
        }

        long seen;
        await using (FolioDatabase database = await databases.CreateDbContextAsync())
        {
            seen = await database.Revisions.MaxAsync(r => (long?)r.Id) ?? 0;
            hashes.ExceptWith(await NamedAsync(database.Revisions));
        }

        foreach (string[] some in hashes.Chunk(NamesTakenAtOnce))
        {
            List<int> gone = await writeQueue.RunAsync(WriteQueue.House, async session =>
            {
                HashSet<string> stored = await NamedAsync(session.Database.Revisions.Where(r => r.Id > seen));
                string[] unused = [.. some.Where(h => !stored.Contains(h))];
                List<int> ids = await session.Database.Blobs.Where(b => unused.Contains(b.Hash!)).Select(b => b.Id).ToListAsync();
                // Without its digest nobody finds it any more: if it is brought in again it is another one.
                await session.Database.Blobs.Where(b => ids.Contains(b.Id)).ExecuteUpdateAsync(b => b.SetProperty(x => x.Hash, (string?)null));
                return ids;
            });
            foreach (int blob in gone)
            {
                await EraseUnnamedAsync(blob);
            }
        }
    }

    /// <summary>Erases what was being brought in when the server ended. Nobody may bring anything in meanwhile.</summary>
    public async Task EraseUnfinishedAsync()
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        foreach (int blob in await database.Blobs.Where(b => b.Hash == null).Select(b => b.Id).ToListAsync())
        {
            await EraseUnnamedAsync(blob);
        }
    }

    private async Task EraseUnnamedAsync(int blob)
    {
        while (await writeQueue.RunAsync(WriteQueue.House, session => session.Database.BlobPieces
            .Where(p => p.BlobId == blob && session.Database.Blobs.Any(b => b.Id == blob && b.Hash == null)).OrderBy(p => p.Number).Take(PiecesErasedAtOnce).ExecuteDeleteAsync()) > 0)
        {
        }

        await writeQueue.RunAsync(WriteQueue.House, session => session.Database.Blobs.Where(b => b.Id == blob && b.Hash == null).ExecuteDeleteAsync());
    }

    private static byte[] Joined(List<byte[]> pieces)
    {
        byte[] bytes = new byte[pieces.Sum(p => p.Length)];
        int at = 0;
        foreach (byte[] piece in pieces)
        {
            piece.CopyTo(bytes, at);
            at += piece.Length;
        }

        return bytes;
    }

    private static async Task<int> AddAsync(FolioDatabase database, string? hash)
    {
        var blob = new Blob { Hash = hash };
        database.Blobs.Add(blob);
        await database.SaveChangesAsync();
        return blob.Id;
    }

    private static IEnumerable<BlobPiece> Pieces(int blob, byte[] bytes) =>
        bytes.Chunk(LargestPiece).Select((piece, number) => new BlobPiece { BlobId = blob, Number = number, Bytes = piece });

    /// <summary>A content that is on its way: what has no digest when this is over belongs to nobody.</summary>
    internal sealed class Brought(ContentStore contents, IncomingFile file, int id, string generation) : IAsyncDisposable
    {
        /// <summary>The content in the database.</summary>
        public int Id => id;

        /// <summary>In a transaction: in another state of the data its number is another content's.</summary>
        /// <exception cref="StoreException">Such a state was put in place.</exception>
        public void Check()
        {
            if (contents.Generation != generation)
            {
                throw new StoreException("The manuscript was put back to an earlier state while this was on its way. Upload it again.");
            }
        }

        public async ValueTask DisposeAsync()
        {
            file.Brought = null;
            await contents.EraseUnnamedAsync(id);
        }
    }

    private string? Generation => writeQueue.Generation;
}
