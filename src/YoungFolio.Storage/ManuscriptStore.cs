using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>What was asked can't be done, for a reason that people can act on.</summary>
public sealed class StoreException(string message) : Exception(message);

/// <summary>The answer to a writer's updates.</summary>
/// <param name="IsTaken">Whether they were taken; if not, others came first.</param>
/// <param name="Version">The part's version now.</param>
public sealed record TakenUpdates(bool IsTaken, int Version);

/// <summary>Reads and changes manuscripts. Every change is a revision, stored in the same transaction.</summary>
public sealed class ManuscriptStore(FolioDatabase database)
{
    /// <summary>The largest upload, in bytes.</summary>
    public const int LargestUpload = 50 * 1024 * 1024;

    // Changes of one manuscript come one after the other; SQLite takes one writer at a time anyway.
    private static readonly SemaphoreSlim s_writing = new(1, 1);

    /// <summary>A person's role; null when the manuscript isn't theirs to see.</summary>
    public async Task<Role?> RoleOfAsync(int manuscript, int person) =>
        await database.Memberships.Where(m => m.ManuscriptId == manuscript && m.PersonId == person).Select(m => (Role?)m.Role).FirstOrDefaultAsync();

    /// <summary>Makes a manuscript with its first parts.</summary>
    public async Task<ManuscriptEntity> CreateAsync(
        string title, string description, string mainPart, int owner, IReadOnlyList<(string Path, byte[] Bytes)> parts)
    {
        await s_writing.WaitAsync();
        try
        {
            await using var transaction = await database.Database.BeginTransactionAsync();
            var manuscript = new ManuscriptEntity { Title = title.Trim(), Description = description, MainPart = mainPart };
            manuscript.Members.Add(new Membership { PersonId = owner, Role = Role.Owner });
            database.Manuscripts.Add(manuscript);
            await database.SaveChangesAsync();
            foreach ((string path, byte[] bytes) in parts)
            {
                await AddPartAsync(manuscript, owner, PartPath.Check(path), bytes, "create");
            }

            await database.SaveChangesAsync();
            await transaction.CommitAsync();
            return manuscript;
        }
        finally
        {
            s_writing.Release();
        }
    }

    /// <summary>Adds a part, or puts new content in the place of one that isn't text.</summary>
    /// <exception cref="StoreException">The path is wrong or taken, or the content too large.</exception>
    public Task<PartEntity> PutPartAsync(int manuscriptId, int person, string path, byte[] bytes) => ChangeAsync(manuscriptId, async manuscript =>
    {
        path = PartPath.Check(path);
        if (bytes.Length > LargestUpload)
        {
            throw new StoreException("A part holds at most 50 MB.");
        }

        PartEntity? known = await FindAsync(manuscriptId, path);
        if (known is null)
        {
            return await AddPartAsync(manuscript, person, path, bytes, "create");
        }

        if (known.Text is not null)
        {
            throw new StoreException($"There is a part {path} already. Rename or delete it first.");
        }

        known.BlobHash = await StoreBlobAsync(bytes);
        Log(manuscript, person, known, "upload", known.BlobHash);
        return known;
    });

    /// <summary>Renames or moves a part.</summary>
    public Task<PartEntity> RenameAsync(int manuscriptId, int person, int partId, string path) => ChangeAsync(manuscriptId, async manuscript =>
    {
        PartEntity part = await PartAsync(manuscriptId, partId);
        path = PartPath.Check(path);
        if (path != part.Path && await FindAsync(manuscriptId, path) is not null)
        {
            throw new StoreException($"There is a part {path} already.");
        }

        if (manuscript.MainPart == part.Path)
        {
            manuscript.MainPart = path;
        }

        part.Path = path;
        Log(manuscript, person, part, "rename", path);
        return part;
    });

    /// <summary>Deletes a part; its text and history stay in the log.</summary>
    public Task<PartEntity> DeleteAsync(int manuscriptId, int person, int partId) => ChangeAsync(manuscriptId, async manuscript =>
    {
        PartEntity part = await PartAsync(manuscriptId, partId);
        if (manuscript.MainPart == part.Path)
        {
            throw new StoreException("The main part can't be deleted: compiling starts there.");
        }

        part.IsDeleted = true;
        Log(manuscript, person, part, "delete", part.Path);
        return part;
    });

    /// <summary>Takes a writer's updates of a text part; they are on disk when this returns.</summary>
    /// <exception cref="ChangeSetException">An update doesn't fit.</exception>
    public Task<TakenUpdates> UpdateAsync(int manuscriptId, int person, int partId, int madeOn, IReadOnlyList<Update> updates) =>
        ChangeAsync(manuscriptId, async manuscript =>
        {
            PartEntity part = await PartAsync(manuscriptId, partId);
            if (part.Text is null)
            {
                throw new StoreException("This part isn't text.");
            }

            if (Authority.Take(part.Text, part.Version, madeOn, updates) is not { } text)
            {
                return new TakenUpdates(false, part.Version);
            }

            part.Text = text;
            foreach (Update update in updates)
            {
                part.Version++;
                Log(manuscript, person, part, "text", update.Changes.ToJson(), update.ClientId);
            }

            return new TakenUpdates(true, part.Version);
        });

    /// <summary>Changes several text parts at once, by what their texts are now: all of it, or nothing.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="person">Who does it.</param>
    /// <param name="make">Gives the changes by path, from the texts by path.</param>
    /// <returns>The parts that changed, each with the change that takes it back.</returns>
    public Task<IReadOnlyList<(PartEntity Part, ChangeSet Undo)>> EditTextsAsync(
        int manuscriptId, int person, Func<IReadOnlyDictionary<string, string>, IReadOnlyDictionary<string, ChangeSet>> make) => ChangeAsync(manuscriptId, async manuscript =>
    {
        List<PartEntity> parts = await database.Parts.Where(p => p.ManuscriptId == manuscriptId && !p.IsDeleted && p.Text != null).ToListAsync();
        IReadOnlyDictionary<string, ChangeSet> changes = make(parts.ToDictionary(p => p.Path, p => p.Text!, StringComparer.Ordinal));
        var result = new List<(PartEntity, ChangeSet)>();
        foreach (PartEntity part in parts.Where(p => changes.ContainsKey(p.Path)))
        {
            ChangeSet change = changes[part.Path];
            ChangeSet undo = change.Invert(part.Text!);
            part.Text = change.Apply(part.Text!);
            part.Version++;
            Log(manuscript, person, part, "text", change.ToJson(), "room");
            result.Add((part, undo));
        }

        return (IReadOnlyList<(PartEntity, ChangeSet)>)result;
    });

    /// <summary>The updates of a text part after a version.</summary>
    public async Task<IReadOnlyList<Revision>> UpdatesSinceAsync(int partId, int version) =>
        await database.Revisions.AsNoTracking().Where(r => r.PartId == partId && r.Kind == "text" && r.PartVersion > version)
            .OrderBy(r => r.PartVersion).ToListAsync();

    /// <summary>The parts that are there now.</summary>
    public async Task<IReadOnlyList<PartEntity>> PartsAsync(int manuscriptId) =>
        await database.Parts.AsNoTracking().Where(p => p.ManuscriptId == manuscriptId && !p.IsDeleted).OrderBy(p => p.Path).ToListAsync();

    /// <summary>The bytes of a part.</summary>
    public async Task<byte[]> BytesAsync(PartEntity part) => part.Text is { } text
        ? Encoding.UTF8.GetBytes(text)
        : (await database.Blobs.AsNoTracking().FirstAsync(b => b.Hash == part.BlobHash)).Bytes;

    /// <summary>The part of this number.</summary>
    /// <exception cref="StoreException">There is none.</exception>
    public async Task<PartEntity> PartAsync(int manuscriptId, int partId) =>
        await database.Parts.FirstOrDefaultAsync(p => p.Id == partId && p.ManuscriptId == manuscriptId && !p.IsDeleted)
        ?? throw new StoreException("This part isn't there any more.");

    private async Task<T> ChangeAsync<T>(int manuscriptId, Func<ManuscriptEntity, Task<T>> change)
    {
        await s_writing.WaitAsync();
        try
        {
            await using var transaction = await database.Database.BeginTransactionAsync();
            ManuscriptEntity manuscript = await database.Manuscripts.FirstOrDefaultAsync(m => m.Id == manuscriptId)
                ?? throw new StoreException("This manuscript isn't there.");
            T result = await change(manuscript);
            await database.SaveChangesAsync();
            await transaction.CommitAsync();
            return result;
        }
        finally
        {
            s_writing.Release();
        }
    }

    private Task<PartEntity?> FindAsync(int manuscriptId, string path) =>
        database.Parts.FirstOrDefaultAsync(p => p.ManuscriptId == manuscriptId && p.Path == path && !p.IsDeleted);

    private async Task<PartEntity> AddPartAsync(ManuscriptEntity manuscript, int person, string path, byte[] bytes, string kind)
    {
        var part = new PartEntity { ManuscriptId = manuscript.Id, Path = path };
        if (PartPath.IsText(path))
        {
            try
            {
                part.Text = new UTF8Encoding(false, true).GetString(bytes).Replace("\r\n", "\n", StringComparison.Ordinal);
            }
            catch (DecoderFallbackException)
            {
                throw new StoreException($"{path} is not stored as UTF-8. It can be brought in as Latin-1 instead.");
            }
        }
        else
        {
            part.BlobHash = await StoreBlobAsync(bytes);
        }

        database.Parts.Add(part);
        await database.SaveChangesAsync();
        Log(manuscript, person, part, kind, part.BlobHash ?? part.Text!);
        return part;
    }

    private async Task<string> StoreBlobAsync(byte[] bytes)
    {
        string hash = Convert.ToHexString(SHA256.HashData(bytes));
        if (await database.Blobs.FindAsync(hash) is null)
        {
            database.Blobs.Add(new Blob { Hash = hash, Bytes = bytes });
        }

        return hash;
    }

    private void Log(ManuscriptEntity manuscript, int person, PartEntity part, string kind, string payload, string? clientId = null) =>
        database.Revisions.Add(new Revision
        {
            ManuscriptId = manuscript.Id,
            Number = ++manuscript.Revision,
            PersonId = person,
            At = DateTime.UtcNow,
            Kind = kind,
            PartId = part.Id,
            PartVersion = part.Version,
            ClientId = clientId,
            Payload = payload,
        });
}

/// <summary>Rules for the names of parts.</summary>
public static class PartPath
{
    private static readonly string[] s_text = [".tex", ".bib", ".cls", ".sty", ".txt", ".md", ".csv", ".bst"];

    /// <summary>Whether a part of this name holds text.</summary>
    public static bool IsText(string path) => s_text.Contains(Path.GetExtension(path).ToLowerInvariant());

    /// <summary>The path in its normal form.</summary>
    /// <exception cref="StoreException">It can't be a part's path.</exception>
    public static string Check(string path)
    {
        string normal = path.Trim().Replace('\\', '/').Normalize(NormalizationForm.FormC);
        if (normal.Length is 0 or > 200 || normal.StartsWith('/') || normal.EndsWith('/') || normal.Any(char.IsControl)
            || normal.Split('/').Any(s => s is "" or "." or ".." || s.EndsWith('.') || s.StartsWith(' ') || s.EndsWith(' ')))
        {
            throw new StoreException($"“{path}” can't be a part's name. Use letters, figures and a full stop, and / between folders.");
        }

        return normal;
    }
}
