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

    /// <summary>The most that a manuscript's parts may take together, in bytes.</summary>
    public const long LargestManuscript = 500L * 1024 * 1024;

    /// <summary>The most that a manuscript may take with all its history, in bytes.</summary>
    public const long LargestHistory = 2L * 1024 * 1024 * 1024;

    /// <summary>The most that all manuscripts of one owner may take, in bytes.</summary>
    public const long LargestShelf = 8L * 1024 * 1024 * 1024;

    /// <summary>The most parts that a manuscript may have.</summary>
    public const int MostParts = 2000;

    /// <summary>The most manuscripts that a person may own.</summary>
    public const int MostManuscripts = 500;

    private const int MostDeletedShown = 200;

    /// <summary>How long a manuscript that was put away is kept.</summary>
    public static readonly TimeSpan KeptAway = TimeSpan.FromDays(30);

    /// <summary>A person's role; null when the manuscript isn't theirs to see.</summary>
    public Task<Role?> RoleOfAsync(int manuscript, int person) => roles.FindAsync(manuscript, person);

    /// <summary>Whether a manuscript is there and isn't put away.</summary>
    public async Task<bool> IsThereAsync(int manuscript)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.Manuscripts.AnyAsync(m => m.Id == manuscript && m.DeletedAt == null);
    }

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

    /// <summary>
    /// Makes a manuscript with its first parts. They are stored in slices, so that nobody waits for a large one; until all
    /// are there it is on nobody's shelf.
    /// </summary>
    /// <exception cref="StoreException">A part can't be stored, or the owner has too many manuscripts.</exception>
    public async Task<ManuscriptEntity> CreateAsync(string title, string description, string mainPart, Actor owner, IReadOnlyList<(string Path, byte[] Bytes)> parts)
    {
        List<IncomingFile> files = CheckTogether(parts);
        int id = await scribe.RunAsync(owner.Person, async session =>
        {
            if (await session.Database.Memberships.CountAsync(m => m.PersonId == owner.Person && m.Role == Role.Owner) >= MostManuscripts)
            {
                throw new StoreException($"You have {MostManuscripts} manuscripts. Delete one that you don't need any more.");
            }

            await CheckShelfAsync(session.Database, owner.Person, files.Sum(f => f.Size));
            var manuscript = new ManuscriptEntity { Title = title.Trim(), Description = description, MainPart = mainPart, DeletedAt = Now };
            session.Database.Manuscripts.Add(manuscript);
            await session.Database.SaveChangesAsync();
            return manuscript.Id;
        });
        try
        {
            foreach (IReadOnlyList<IncomingFile> slice in IncomingFile.Slices(files))
            {
                await ChangeAsync(id, owner, (session, manuscript) => AddPartsAsync(session, manuscript, owner, slice));
            }

            return await ChangeAsync(id, owner, (session, manuscript) =>
            {
                manuscript.DeletedAt = null;
                manuscript.Members.Add(new Membership { PersonId = owner.Person, Role = Role.Owner, SeenRevision = manuscript.Revision, SeenAt = Now });
                session.Tell(new PeopleChanged(id));
                return Task.FromResult(manuscript);
            });
        }
        catch (Exception)
        {
            await EraseAsync(id);
            throw;
        }
    }

    /// <summary>Adds a part, or puts new content in the place of what it held.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="actor">Who does it.</param>
    /// <param name="path">The part's path.</param>
    /// <param name="bytes">Its content.</param>
    /// <param name="replacesText">Whether a text that is there already is to be replaced; its history stays.</param>
    /// <exception cref="StoreException">The path is wrong or taken, or the content not what the name says or too large.</exception>
    public async Task<PartEntity> PutPartAsync(int manuscriptId, Actor actor, string path, byte[] bytes, bool replacesText = false)
    {
        IncomingFile file = IncomingFile.Read(path, bytes);
        return await ChangeAsync(manuscriptId, actor, async (session, manuscript) =>
        {
            if (await FindAsync(session.Database, manuscriptId, file.Path) is not { } known)
            {
                return (await AddPartsAsync(session, manuscript, actor, [file]))[0];
            }

            if (file.Text is null)
            {
                await SetBlobAsync(session.Database, manuscript, known, file);
                Log(session, manuscript, actor, RevisionKind.Upload, known, known.BlobHash!);
            }
            else if (replacesText)
            {
                await CheckContentAsync(session.Database, manuscriptId, known.Id, file.Size);
                LiveText text = await session.TextAsync(known.Id);
                ChangeSet change = ChangeSet.Between(text.Text, file.Text);
                if (!change.IsEmpty)
                {
                    // Not what a person types: an upload may be as large as a part may be.
                    StoreText(session, manuscript, actor, known, text, new Taken(file.Text, [new Update(RoomClient, change)]));
                }
            }
            else
            {
                throw new StoreException($"There is a part {known.Path} already. Rename or delete it first.");
            }

            return known;
        });
    }

    /// <summary>Renames or moves a part.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="actor">Who does it.</param>
    /// <param name="partId">The part.</param>
    /// <param name="path">Its path from now on.</param>
    /// <param name="follow">Has the texts name it so, from its old path and the new one; null: they stay as they are.</param>
    public async Task<PartEntity> RenameAsync(int manuscriptId, Actor actor, int partId, string path, Func<string, string, TextsEdit>? follow = null)
    {
        path = PartPath.Check(path);
        string before = (await PartAsync(manuscriptId, partId)).Path;
        TextsEdit edit = follow is null || before == path ? static _ => new Dictionary<string, ChangeSet>() : follow(before, path);
        return await EditAsync(manuscriptId, actor, edit, async (session, manuscript, store) =>
        {
            PartEntity part = await PartAsync(session.Database, manuscriptId, partId);
            await CheckFreeAsync(session.Database, manuscriptId, path, part.Id);
            if (PartPath.IsText(path) != part.IsText)
            {
                throw new StoreException(part.IsText ? $"{part.Path} is text: keep an ending such as .tex, .bib or .csv." : $"{part.Path} isn't text: keep its ending.");
            }

            // The words that name it are changed under the name that they were read with.
            await store();
            if (manuscript.MainPart == part.Path)
            {
                manuscript.MainPart = path;
            }

            part.Path = path;
            Log(session, manuscript, actor, RevisionKind.Rename, part, path);
            return part;
        });
    }

    /// <summary>Deletes a part; its text and history stay in the log, and <see cref="BringBackAsync"/> brings it back.</summary>
    public Task<PartEntity> DeleteAsync(int manuscriptId, Actor actor, int partId) => ChangeAsync(manuscriptId, actor, async (session, manuscript) =>
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

    /// <summary>Brings a part back that was deleted, as it was then.</summary>
    /// <exception cref="StoreException">Another part has its name by now, or there are too many.</exception>
    public Task<PartEntity> BringBackAsync(int manuscriptId, Actor actor, int partId) => ChangeAsync(manuscriptId, actor, async (session, manuscript) =>
    {
        if (await session.Database.Parts.FindAsync(partId) is not { IsDeleted: true } part || part.ManuscriptId != manuscriptId)
        {
            throw new StoreException("There is no such deleted part.");
        }

        await CheckFreeAsync(session.Database, manuscriptId, part.Path, part.Id);
        await CheckCountAsync(session.Database, manuscriptId, 1);
        await CheckContentAsync(session.Database, manuscriptId, part.Id, part.Size);
        part.IsDeleted = false;
        Log(session, manuscript, actor, RevisionKind.BringBack, part, part.BlobHash is null ? part.Path : $"{part.Path}\n{part.BlobHash}");
        return part;
    });

    /// <summary>The parts that were deleted and can be brought back, with who did it and when, the newest first.</summary>
    public async Task<IReadOnlyList<(PartEntity Part, int Person, DateTime At)>> DeletedPartsAsync(int manuscriptId)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        List<Revision> ends = await database.Revisions.AsNoTracking().Where(r => r.ManuscriptId == manuscriptId && r.Kind == RevisionKind.Delete)
            .OrderByDescending(r => r.Number).Take(MostDeletedShown).ToListAsync();
        List<int?> numbers = [.. ends.Select(r => r.PartId)];
        Dictionary<int, PartEntity> gone = await database.Parts.AsNoTracking().Where(p => numbers.Contains(p.Id) && p.IsDeleted).ToDictionaryAsync(p => p.Id);
        return [.. ends.Where(r => gone.ContainsKey(r.PartId!.Value)).DistinctBy(r => r.PartId).Select(r => (gone[r.PartId!.Value], r.PersonId, r.At))];
    }

    /// <summary>Gives the manuscript another title.</summary>
    public Task<ManuscriptEntity> RetitleAsync(int manuscriptId, Actor actor, string title) => ChangeAsync(manuscriptId, actor, (session, manuscript) =>
    {
        manuscript.Title = CheckTitle(title);
        Log(session, manuscript, actor, RevisionKind.Setting, null, $"title: {manuscript.Title}");
        session.Tell(new PeopleChanged(manuscriptId));
        return Task.FromResult(manuscript);
    });

    /// <summary>Says from which part compiling starts.</summary>
    public Task<ManuscriptEntity> SetMainPartAsync(int manuscriptId, Actor actor, int partId) => ChangeAsync(manuscriptId, actor, async (session, manuscript) =>
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
    public Task<ManuscriptEntity> PutAwayAsync(int manuscriptId, Actor actor, bool isAway) => ChangeAsync(manuscriptId, actor, (session, manuscript) =>
    {
        manuscript.DeletedAt = isAway ? Now : null;
        Log(session, manuscript, actor, RevisionKind.Setting, null, isAway ? "put away" : "brought back");
        session.Tell(new PeopleChanged(manuscriptId));
        return Task.FromResult(manuscript);
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
    public static string CheckTitle(string? title) => SeenText.Name(title, 200)
        ?? throw new StoreException("Give the manuscript a title of at most 200 characters.");

    private DateTime Now => clock.GetUtcNow().UtcDateTime;

    private static StoreException NoManuscript() => new("This manuscript isn't there.");

    private Task<T> ChangeAsync<T>(int manuscriptId, Actor actor, Func<WriteSession, ManuscriptEntity, Task<T>> change) =>
        scribe.RunAsync(actor.Person, s => OnAsync(s, manuscriptId, change));

    private static async Task<T> OnAsync<T>(WriteSession session, int manuscriptId, Func<WriteSession, ManuscriptEntity, Task<T>> change) =>
        await change(session, await session.Database.Manuscripts.FindAsync(manuscriptId) ?? throw NoManuscript());

    private static async Task<PartEntity> PartAsync(FolioDatabase database, int manuscriptId, int partId) =>
        await database.Parts.FindAsync(partId) is { IsDeleted: false } part && part.ManuscriptId == manuscriptId
            ? part
            : throw new StoreException("This part isn't there any more.");

    // Two names that differ in capitals only can't both leave for a system that doesn't tell them apart.
    private static async Task<PartEntity?> FindAsync(FolioDatabase database, int manuscriptId, string path)
    {
        var names = await database.Parts.AsNoTracking().Where(p => p.ManuscriptId == manuscriptId && !p.IsDeleted).Select(p => new { p.Id, p.Path }).ToListAsync();
        return names.Find(p => string.Equals(p.Path, path, StringComparison.OrdinalIgnoreCase)) is { } found ? await database.Parts.FindAsync(found.Id) : null;
    }

    private static async Task CheckFreeAsync(FolioDatabase database, int manuscriptId, string path, int except)
    {
        List<string> others = await database.Parts.AsNoTracking().Where(p => p.ManuscriptId == manuscriptId && !p.IsDeleted && p.Id != except).Select(p => p.Path).ToListAsync();
        if (IncomingFile.Clash(others, path) is { } why)
        {
            throw new StoreException(why);
        }
    }

    private static async Task CheckCountAsync(FolioDatabase database, int manuscriptId, int more)
    {
        if (await database.Parts.CountAsync(p => p.ManuscriptId == manuscriptId && !p.IsDeleted) + more > MostParts)
        {
            throw new StoreException($"A manuscript holds at most {MostParts} parts.");
        }
    }

    private static async Task CheckContentAsync(FolioDatabase database, int manuscriptId, int except, long more)
    {
        if (more > 0 && await database.Parts.Where(p => p.ManuscriptId == manuscriptId && !p.IsDeleted && p.Id != except).SumAsync(p => (long)p.Size) + more > LargestManuscript)
        {
            throw new StoreException("A manuscript's parts take at most 500 MB together. Delete some, or make them smaller.");
        }
    }

    private static async Task CheckShelfAsync(FolioDatabase database, int owner, long more)
    {
        if (await database.Manuscripts.Where(m => m.Members.Any(x => x.PersonId == owner && x.Role == Role.Owner)).SumAsync(m => m.Stored) + more > LargestShelf)
        {
            throw new StoreException("Your manuscripts take 8 GB with all their history, which is the most. Delete one that you don't need any more.");
        }
    }

    private static void Take(ManuscriptEntity manuscript, long bytes)
    {
        if (manuscript.Stored + bytes > LargestHistory)
        {
            throw new StoreException("This manuscript takes 2 GB with all its history, which is the most. Go on in a copy of it.");
        }

        manuscript.Stored += bytes;
    }

    // What comes together must fit together, before anything is stored.
    private static List<IncomingFile> CheckTogether(IReadOnlyList<(string Path, byte[] Bytes)> parts)
    {
        if (parts.Count > MostParts)
        {
            throw new StoreException($"A manuscript holds at most {MostParts} parts.");
        }

        var files = new List<IncomingFile>();
        var names = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        var folders = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach ((string path, byte[] bytes) in parts)
        {
            IncomingFile file = IncomingFile.Read(path, bytes);
            files.Add(file);
            names.Add(file.Path);
            for (int slash = file.Path.LastIndexOf('/'); slash > 0; slash = file.Path.LastIndexOf('/', slash - 1))
            {
                folders.Add(file.Path[..slash]);
            }
        }

        if (names.Count < files.Count)
        {
            throw new StoreException($"Two parts have one name: {files.GroupBy(f => f.Path, StringComparer.OrdinalIgnoreCase).First(g => g.Count() > 1).Key}. Capitals make no difference.");
        }

        if (names.FirstOrDefault(folders.Contains) is { } both)
        {
            throw new StoreException($"“{both}” is a part and a folder at once. Rename one of them.");
        }

        return files.Sum(f => f.Size) > LargestManuscript ? throw new StoreException("A manuscript's parts take at most 500 MB together. Make some smaller.") : files;
    }

    private async Task<IReadOnlyList<PartEntity>> AddPartsAsync(WriteSession session, ManuscriptEntity manuscript, Actor actor, IReadOnlyList<IncomingFile> files)
    {
        await CheckCountAsync(session.Database, manuscript.Id, files.Count);
        if (files.Count == 1)
        {
            await CheckFreeAsync(session.Database, manuscript.Id, files[0].Path, 0);
        }

        var parts = new List<PartEntity>();
        foreach (IncomingFile file in files)
        {
            var part = new PartEntity { ManuscriptId = manuscript.Id, Path = file.Path, IsText = file.Text is not null };
            parts.Add(part);
            if (file.Text is null)
            {
                await SetBlobAsync(session.Database, manuscript, part, file);
            }
            else
            {
                await CheckContentAsync(session.Database, manuscript.Id, 0, file.Size);
                Take(manuscript, file.Size);
                part.Size = file.Bytes.Length;
            }
        }

        session.Database.Parts.AddRange(parts);
        await session.Database.SaveChangesAsync();
        foreach ((IncomingFile file, PartEntity part) in files.Zip(parts))
        {
            if (file.Text is { } text)
            {
                session.Database.Snapshots.Add(new Snapshot { PartId = part.Id, Version = 0, Text = text });
                session.SetText(part.Id, new LiveText(0, text, [], 0));
            }

            Log(session, manuscript, actor, RevisionKind.Create, part, file.Hash is null ? part.Path : $"{part.Path}\n{file.Hash}");
        }

        return parts;
    }

    private static async Task SetBlobAsync(FolioDatabase database, ManuscriptEntity manuscript, PartEntity part, IncomingFile file)
    {
        await CheckContentAsync(database, part.ManuscriptId, part.Id, file.Size);
        Take(manuscript, file.Size);
        if (!await database.Blobs.AnyAsync(b => b.Hash == file.Hash) && database.Blobs.Local.FindEntry(file.Hash!) is null)
        {
            database.Blobs.Add(new Blob { Hash = file.Hash!, Bytes = file.Bytes });
        }

        part.BlobHash = file.Hash;
        part.Size = file.Bytes.Length;
        part.Version++;
    }

    private void Log(WriteSession session, ManuscriptEntity manuscript, Actor actor, string kind, PartEntity? part, string payload, string? clientId = null)
    {
        session.AddToLog(new Revision
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
