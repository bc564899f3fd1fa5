using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>Who does something.</summary>
/// <param name="Person">The person.</param>
/// <param name="Token">The access token, when a script does it.</param>
/// <param name="At">When it was done, in UTC, for history that is brought in; null: now.</param>
public readonly record struct Actor(int Person, int? Token = null, DateTime? At = null);

/// <summary>A part with what it holds, at one moment.</summary>
/// <param name="Id">Identity.</param>
/// <param name="Path">Its path then.</param>
/// <param name="Version">Its version then.</param>
/// <param name="Text">Its text; null when it isn't text.</param>
/// <param name="BlobHash">Digest of its content; null for text.</param>
public sealed record PartState(int Id, string Path, int Version, string? Text, string? BlobHash);

/// <summary>Reads and changes manuscripts. Every change is a revision, stored in the same transaction.</summary>
public sealed partial class ManuscriptStore(IDbContextFactory<FolioDatabase> databases, Scribe scribe, RoleCache roles, TimeProvider clock)
{
    /// <summary>The largest upload, in bytes.</summary>
    public const int LargestUpload = 50 * 1024 * 1024;

    /// <summary>The most that a manuscript's pictures and data may take, in bytes.</summary>
    public const long LargestManuscript = 500L * 1024 * 1024;

    /// <summary>The most parts that a manuscript may have.</summary>
    public const int MostParts = 2000;

    /// <summary>The most manuscripts that a person may own.</summary>
    public const int MostManuscripts = 500;

    /// <summary>How long a manuscript that was put away is kept.</summary>
    public static readonly TimeSpan KeptAway = TimeSpan.FromDays(30);

    /// <summary>A person's role; null when the manuscript isn't theirs to see.</summary>
    public Task<Role?> RoleOfAsync(int manuscript, int person) => roles.FindAsync(manuscript, person);

    /// <summary>A manuscript with its people.</summary>
    /// <exception cref="StoreException">There is none.</exception>
    public async Task<ManuscriptEntity> ManuscriptAsync(int manuscript)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.Manuscripts.AsNoTracking().Include(m => m.Members).ThenInclude(m => m.Person).FirstOrDefaultAsync(m => m.Id == manuscript)
            ?? throw NoManuscript();
    }

    /// <summary>The manuscripts that a person sees, with their people; those put away come with the owner only.</summary>
    public async Task<IReadOnlyList<ManuscriptEntity>> ShelfAsync(int person)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.Manuscripts.AsNoTracking().Include(m => m.Members).ThenInclude(m => m.Person)
            .Where(m => m.Members.Any(x => x.PersonId == person && (m.DeletedAt == null || x.Role == Role.Owner))).OrderBy(m => m.Id).ToListAsync();
    }

    /// <summary>Makes a manuscript with its first parts.</summary>
    /// <exception cref="StoreException">A part can't be stored, or the owner has too many manuscripts.</exception>
    public Task<ManuscriptEntity> CreateAsync(string title, string description, string mainPart, Actor owner, IReadOnlyList<(string Path, byte[] Bytes)> parts) => scribe.RunAsync(async session =>
    {
        if (await session.Database.Memberships.CountAsync(m => m.PersonId == owner.Person && m.Role == Role.Owner) >= MostManuscripts)
        {
            throw new StoreException($"You have {MostManuscripts} manuscripts. Delete one that you don't need any more.");
        }

        var manuscript = new ManuscriptEntity { Title = title.Trim(), Description = description, MainPart = mainPart };
        manuscript.Members.Add(new Membership { PersonId = owner.Person, Role = Role.Owner, SeenAt = Now });
        session.Database.Manuscripts.Add(manuscript);
        await session.Database.SaveChangesAsync();
        foreach ((string path, byte[] bytes) in parts)
        {
            await AddPartAsync(session, manuscript, owner, PartPath.Check(path), bytes);
        }

        manuscript.Members[0].SeenRevision = manuscript.Revision;
        session.Tell(new PeopleChanged(manuscript.Id));
        return manuscript;
    });

    /// <summary>Adds a part, or puts new content in the place of what it held.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="actor">Who does it.</param>
    /// <param name="path">The part's path.</param>
    /// <param name="bytes">Its content.</param>
    /// <param name="replacesText">Whether a text that is there already is to be replaced; its history stays.</param>
    /// <exception cref="StoreException">The path is wrong or taken, or the content not what the name says or too large.</exception>
    public Task<PartEntity> PutPartAsync(int manuscriptId, Actor actor, string path, byte[] bytes, bool replacesText = false) => ChangeAsync(manuscriptId, async (session, manuscript) =>
    {
        path = PartPath.Check(path);
        PartEntity? known = await FindAsync(session.Database, manuscriptId, path);
        if (known is null)
        {
            return await AddPartAsync(session, manuscript, actor, path, bytes);
        }

        if (!known.IsText)
        {
            await SetBlobAsync(session.Database, known, bytes);
            Log(session, manuscript, actor, RevisionKind.Upload, known, known.BlobHash!);
        }
        else if (replacesText)
        {
            LiveText text = await session.TextAsync(known.Id);
            ChangeSet change = ChangeSet.Between(text.Text, PartContent.Decode(path, bytes));
            if (!change.IsEmpty)
            {
                // Not what a person types: an upload may be as large as a part may be.
                var taken = new Taken(change.Apply(text.Text), [new Update(RoomClient, change)]);
                StoreText(session, manuscript, actor, known, text, taken);
            }
        }
        else
        {
            throw new StoreException($"There is a part {known.Path} already. Rename or delete it first.");
        }

        return known;
    });

    /// <summary>Renames or moves a part.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="actor">Who does it.</param>
    /// <param name="partId">The part.</param>
    /// <param name="path">Its path from now on.</param>
    /// <param name="follow">Has the texts name it so, from its old path and the new one; null: they stay as they are.</param>
    public Task<PartEntity> RenameAsync(int manuscriptId, Actor actor, int partId, string path, Func<string, string, TextsEdit>? follow = null) => ChangeAsync(manuscriptId, async (session, manuscript) =>
    {
        PartEntity part = await PartAsync(session.Database, manuscriptId, partId);
        path = PartPath.Check(path);
        if (await FindAsync(session.Database, manuscriptId, path) is { } other && other.Id != part.Id)
        {
            throw new StoreException($"There is a part {other.Path} already.");
        }

        if (PartPath.IsText(path) != part.IsText)
        {
            throw new StoreException(part.IsText ? $"{part.Path} is text: keep an ending such as .tex, .bib or .csv." : $"{part.Path} isn't text: keep its ending.");
        }

        if (manuscript.MainPart == part.Path)
        {
            manuscript.MainPart = path;
        }

        string before = part.Path;
        part.Path = path;
        Log(session, manuscript, actor, RevisionKind.Rename, part, path);
        if (follow is not null && before != path)
        {
            await EditAsync(session, manuscript, actor, follow(before, path));
        }

        return part;
    });

    /// <summary>Deletes a part; its text and history stay in the log.</summary>
    public Task<PartEntity> DeleteAsync(int manuscriptId, Actor actor, int partId) => ChangeAsync(manuscriptId, async (session, manuscript) =>
    {
        PartEntity part = await PartAsync(session.Database, manuscriptId, partId);
        if (manuscript.MainPart == part.Path)
        {
            throw new StoreException("The main part can't be deleted: compiling starts there.");
        }

        part.IsDeleted = true;
        Log(session, manuscript, actor, RevisionKind.Delete, part, part.Path);
        return part;
    });

    /// <summary>Gives the manuscript another title.</summary>
    public Task<ManuscriptEntity> RetitleAsync(int manuscriptId, Actor actor, string title) => ChangeAsync(manuscriptId, (session, manuscript) =>
    {
        manuscript.Title = CheckTitle(title);
        Log(session, manuscript, actor, RevisionKind.Setting, null, $"title: {manuscript.Title}");
        session.Tell(new PeopleChanged(manuscriptId));
        return Task.FromResult(manuscript);
    });

    /// <summary>Says from which part compiling starts.</summary>
    public Task<ManuscriptEntity> SetMainPartAsync(int manuscriptId, Actor actor, int partId) => ChangeAsync(manuscriptId, async (session, manuscript) =>
    {
        PartEntity part = await PartAsync(session.Database, manuscriptId, partId);
        if (!part.Path.EndsWith(".tex", StringComparison.OrdinalIgnoreCase))
        {
            throw new StoreException("The main part is a .tex part.");
        }

        manuscript.MainPart = part.Path;
        Log(session, manuscript, actor, RevisionKind.Setting, part, $"main part: {part.Path}");
        return manuscript;
    });

    /// <summary>Puts a manuscript away, or brings it back.</summary>
    public Task<ManuscriptEntity> PutAwayAsync(int manuscriptId, Actor actor, bool isAway) => ChangeAsync(manuscriptId, (session, manuscript) =>
    {
        manuscript.DeletedAt = isAway ? Now : null;
        Log(session, manuscript, actor, RevisionKind.Setting, null, isAway ? "put away" : "brought back");
        session.Tell(new PeopleChanged(manuscriptId));
        return Task.FromResult(manuscript);
    });

    /// <summary>Erases for good what was put away too long ago.</summary>
    /// <returns>How many manuscripts.</returns>
    public Task<int> PurgeAsync() => scribe.RunAsync(async session =>
    {
        DateTime before = Now - KeptAway;
        List<int> gone = await session.Database.Manuscripts.Where(m => m.DeletedAt != null && m.DeletedAt < before).Select(m => m.Id).ToListAsync();
        if (gone.Count > 0)
        {
            FolioDatabase database = session.Database;
            await database.Snapshots.Where(s => database.Parts.Any(p => p.Id == s.PartId && gone.Contains(p.ManuscriptId))).ExecuteDeleteAsync();
            await database.Revisions.Where(r => gone.Contains(r.ManuscriptId)).ExecuteDeleteAsync();
            await database.Parts.Where(p => gone.Contains(p.ManuscriptId)).ExecuteDeleteAsync();
            await database.Memberships.Where(m => gone.Contains(m.ManuscriptId)).ExecuteDeleteAsync();
            await database.Invitations.Where(i => gone.Contains(i.ManuscriptId)).ExecuteDeleteAsync();
            await database.AccessTokens.Where(t => gone.Contains(t.ManuscriptId)).ExecuteDeleteAsync();
            await database.Manuscripts.Where(m => gone.Contains(m.Id)).ExecuteDeleteAsync();
            await database.Blobs.Where(b => !database.Revisions.Any(r => r.Payload == b.Hash || r.Payload.EndsWith("\n" + b.Hash))).ExecuteDeleteAsync();
        }

        return gone.Count;
    });

    /// <summary>The parts that are there now.</summary>
    public async Task<IReadOnlyList<PartEntity>> PartsAsync(int manuscriptId)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.Parts.AsNoTracking().Where(p => p.ManuscriptId == manuscriptId && !p.IsDeleted).OrderBy(p => p.Path).ToListAsync();
    }

    /// <summary>The part of this number.</summary>
    /// <exception cref="StoreException">There is none.</exception>
    public async Task<PartEntity> PartAsync(int manuscriptId, int partId)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await PartAsync(database, manuscriptId, partId);
    }

    /// <summary>The bytes of a part.</summary>
    public async Task<byte[]> BytesAsync(PartEntity part)
    {
        if (part.IsText)
        {
            return Encoding.UTF8.GetBytes((await TextAsync(part.Id)).Text);
        }

        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return (await database.Blobs.AsNoTracking().FirstAsync(b => b.Hash == part.BlobHash)).Bytes;
    }

    /// <summary>A title in its normal form.</summary>
    /// <exception cref="StoreException">It can't be one.</exception>
    public static string CheckTitle(string? title) => title?.Trim().Normalize(NormalizationForm.FormC) is { Length: > 0 and <= 200 } normal && !normal.Any(char.IsControl)
        ? normal
        : throw new StoreException("Give the manuscript a title of at most 200 characters.");

    private DateTime Now => clock.GetUtcNow().UtcDateTime;

    private static StoreException NoManuscript() => new("This manuscript isn't there.");

    private Task<T> ChangeAsync<T>(int manuscriptId, Func<WriteSession, ManuscriptEntity, Task<T>> change) => scribe.RunAsync(s => OnAsync(s, manuscriptId, change));

    private static async Task<T> OnAsync<T>(WriteSession session, int manuscriptId, Func<WriteSession, ManuscriptEntity, Task<T>> change) =>
        await change(session, await session.Database.Manuscripts.FindAsync(manuscriptId) ?? throw NoManuscript());

    private static async Task<PartEntity> PartAsync(FolioDatabase database, int manuscriptId, int partId) =>
        await database.Parts.FindAsync(partId) is { IsDeleted: false } part && part.ManuscriptId == manuscriptId
            ? part
            : throw new StoreException("This part isn't there any more.");

    // Two names that differ in capitals only can't both leave for a system that doesn't tell them apart.
    private static async Task<PartEntity?> FindAsync(FolioDatabase database, int manuscriptId, string path) =>
        (await database.Parts.Where(p => p.ManuscriptId == manuscriptId && !p.IsDeleted).ToListAsync())
            .Find(p => string.Equals(p.Path, path, StringComparison.OrdinalIgnoreCase));

    private async Task<PartEntity> AddPartAsync(WriteSession session, ManuscriptEntity manuscript, Actor actor, string path, byte[] bytes)
    {
        if (await session.Database.Parts.CountAsync(p => p.ManuscriptId == manuscript.Id && !p.IsDeleted) >= MostParts)
        {
            throw new StoreException($"A manuscript holds at most {MostParts} parts.");
        }

        var part = new PartEntity { ManuscriptId = manuscript.Id, Path = path, IsText = PartPath.IsText(path) };
        if (part.IsText)
        {
            string text = PartContent.Decode(path, bytes);
            if (text.Length > Authority.LargestText)
            {
                throw new StoreException("A text part holds at most 16 million characters.");
            }

            session.Database.Parts.Add(part);
            await session.Database.SaveChangesAsync();
            session.Database.Snapshots.Add(new Snapshot { PartId = part.Id, Version = 0, Text = text });
            session.SetText(part.Id, new LiveText(0, text, [], 0));
            Log(session, manuscript, actor, RevisionKind.Create, part, path);
        }
        else
        {
            await SetBlobAsync(session.Database, part, bytes);
            session.Database.Parts.Add(part);
            await session.Database.SaveChangesAsync();
            Log(session, manuscript, actor, RevisionKind.Create, part, $"{path}\n{part.BlobHash}");
        }

        return part;
    }

    private static async Task SetBlobAsync(FolioDatabase database, PartEntity part, byte[] bytes)
    {
        if (bytes.Length > LargestUpload)
        {
            throw new StoreException("A part holds at most 50 MB.");
        }

        PartContent.Check(part.Path, bytes);
        long others = await database.Parts.Where(p => p.ManuscriptId == part.ManuscriptId && !p.IsDeleted && p.Id != part.Id).SumAsync(p => (long)p.Size);
        if (others + bytes.Length > LargestManuscript)
        {
            throw new StoreException("A manuscript's pictures and data take at most 500 MB together. Delete some, or make them smaller.");
        }

        string hash = Convert.ToHexString(SHA256.HashData(bytes));
        if (await database.Blobs.FindAsync(hash) is null)
        {
            database.Blobs.Add(new Blob { Hash = hash, Bytes = bytes });
        }

        part.BlobHash = hash;
        part.Size = bytes.Length;
        part.Version++;
    }

    private void Log(WriteSession session, ManuscriptEntity manuscript, Actor actor, string kind, PartEntity? part, string payload, string? clientId = null)
    {
        session.Database.Revisions.Add(new Revision
        {
            ManuscriptId = manuscript.Id,
            Number = ++manuscript.Revision,
            PersonId = actor.Person,
            TokenId = actor.Token,
            At = actor.At ?? Now,
            Kind = kind,
            PartId = part?.Id,
            PartVersion = part?.Version ?? 0,
            ClientId = clientId,
            Payload = payload,
        });
        if (kind != RevisionKind.Text)
        {
            session.Tell(new PartsChanged(manuscript.Id));
        }
    }
}
