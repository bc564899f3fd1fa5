using Microsoft.EntityFrameworkCore;
using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>Manuscripts: the shelf, and what holds for a whole one.</summary>
public sealed class ManuscriptStore
{
    /// <summary>The most that a manuscript may take with all its history, in bytes.</summary>
    public const long LargestHistory = 2L * 1024 * 1024 * 1024;

    /// <summary>The most that all manuscripts of one owner may take, in bytes.</summary>
    public const long LargestShelf = 8L * 1024 * 1024 * 1024;

    /// <summary>The most manuscripts that a person may own.</summary>
    public const int MostManuscripts = 500;

    private const int LongestMark = 40;

    /// <summary>How long a manuscript that was put away is kept.</summary>
    public static readonly TimeSpan KeptAway = TimeSpan.FromDays(30);

    private readonly IDbContextFactory<FolioDatabase> _databases;
    private readonly WriteQueue _writeQueue;
    private readonly RoleCache _roles;
    private readonly ManuscriptLog _log;
    private readonly FileStore _files;
    private readonly ContentStore _contents;
    private readonly ManuscriptEraser _eraser;

    internal ManuscriptStore(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue, RoleCache roles, ManuscriptLog log, FileStore files, ContentStore contents, ManuscriptEraser eraser)
    {
        _databases = databases;
        _writeQueue = writeQueue;
        _roles = roles;
        _log = log;
        _files = files;
        _contents = contents;
        _eraser = eraser;
    }

    /// <summary>A person's role; null when the manuscript isn't theirs to see.</summary>
    public Task<Role?> RoleOfAsync(int manuscript, int person) => _roles.FindAsync(manuscript, person);

    /// <summary>Whether a manuscript is there and isn't put away.</summary>
    public async Task<bool> IsThereAsync(int manuscript)
    {
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        return await database.Manuscripts.AnyAsync(m => m.Id == manuscript && m.DeletedAt == null);
    }

    /// <summary>A manuscript with its people.</summary>
    /// <exception cref="StoreException">There is none.</exception>
    public async Task<ManuscriptEntity> ManuscriptAsync(int manuscript)
    {
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        return await database.Manuscripts.AsNoTracking().Include(m => m.Members).ThenInclude(m => m.Person).FirstOrDefaultAsync(m => m.Id == manuscript)
            ?? throw ManuscriptLog.NoManuscript();
    }

    /// <summary>The manuscripts that a person sees, with their people; those put away come with the owner only.</summary>
    public async Task<IReadOnlyList<ManuscriptEntity>> ShelfAsync(int person)
    {
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        return await database.Manuscripts.AsNoTracking().Include(m => m.Members).ThenInclude(m => m.Person)
            .Where(m => m.Members.Any(x => x.PersonId == person && (m.DeletedAt == null || x.Role == Role.Owner))).OrderBy(m => m.Id).ToListAsync();
    }

    /// <summary>
    /// Makes a manuscript with its first files. They are stored in slices, so that nobody waits for a large one; until all
    /// are there it is on nobody's shelf.
    /// </summary>
    /// <exception cref="StoreException">A file can't be stored, or the owner has too many manuscripts.</exception>
    public async Task<ManuscriptEntity> CreateAsync(string title, string description, string mainFile, Actor owner, IReadOnlyList<(string Path, byte[] Bytes)> files)
    {
        List<IncomingFile> incoming = FileRules.CheckTogether(files);
        int id = await _writeQueue.RunAsync(owner.Person, async session =>
        {
            if (await session.Database.Memberships.CountAsync(m => m.PersonId == owner.Person && m.Role == Role.Owner) >= MostManuscripts)
            {
                throw new StoreException($"You have {MostManuscripts} manuscripts. Delete one that you don't need any more.");
            }

            await CheckShelfAsync(session.Database, owner.Person, incoming.Sum(f => f.Size));
            var manuscript = new ManuscriptEntity { Title = title.Trim(), Description = description, MainFile = mainFile, DeletedAt = _log.Now };
            session.Database.Manuscripts.Add(manuscript);
            await session.Database.SaveChangesAsync();
            return manuscript.Id;
        });
        try
        {
            foreach (IReadOnlyList<IncomingFile> slice in IncomingFile.Slices(incoming))
            {
                // A large file is a slice of its own.
                await using IAsyncDisposable? brought = await _contents.BringAsync(owner.Person, slice[^1]);
                await _log.ChangeAsync(id, owner, (session, manuscript) => _files.AddFilesAsync(session, manuscript, owner, slice));
            }

            return await _log.ChangeAsync(id, owner, (session, manuscript) =>
            {
                manuscript.DeletedAt = null;
                manuscript.Members.Add(new Membership { PersonId = owner.Person, Role = Role.Owner, SeenRevision = manuscript.Revision, SeenAt = _log.Now });
                session.Tell(new PeopleChanged(id));
                return Task.FromResult(manuscript);
            });
        }
        catch (Exception)
        {
            await _eraser.EraseAsync(id);
            throw;
        }
    }

    /// <summary>Gives the manuscript another title.</summary>
    public Task<ManuscriptEntity> RetitleAsync(int manuscriptId, Actor actor, string title) => _log.ChangeAsync(manuscriptId, actor, (session, manuscript) =>
    {
        manuscript.Title = CheckTitle(title);
        _log.Add(session, manuscript, actor, RevisionKind.Setting, null, $"title: {manuscript.Title}");
        session.Tell(new PeopleChanged(manuscriptId));
        return Task.FromResult(manuscript);
    });

    /// <summary>Gives the manuscript a mark on the shelves of its people.</summary>
    /// <exception cref="StoreException">It is too long.</exception>
    public Task<ManuscriptEntity> MarkAsync(int manuscriptId, Actor actor, string mark) => _log.ChangeAsync(manuscriptId, actor, (session, manuscript) =>
    {
        string words = string.Join(' ', mark.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
        if (words.Length > LongestMark || words.EnumerateRunes().Any(SeenText.IsUnseen))
        {
            throw new StoreException($"A mark has at most {LongestMark} signs.");
        }

        manuscript.Mark = words;
        _log.Add(session, manuscript, actor, RevisionKind.Setting, null, $"mark: {words}");
        session.Tell(new PeopleChanged(manuscriptId));
        return Task.FromResult(manuscript);
    });

    /// <summary>Makes a manuscript a template of the group, or no longer.</summary>
    public Task<ManuscriptEntity> MakeTemplateAsync(int manuscriptId, Actor actor, bool isTemplate) => _log.ChangeAsync(manuscriptId, actor, (session, manuscript) =>
    {
        manuscript.IsTemplate = isTemplate;
        _log.Add(session, manuscript, actor, RevisionKind.Setting, null, isTemplate ? "template" : "no template");
        session.Tell(new PeopleChanged(manuscriptId));
        return Task.FromResult(manuscript);
    });

    /// <summary>Keeps what was to be said when a manuscript came in, until someone has read it; null: it was read.</summary>
    public Task<ManuscriptEntity> TellOfArrivalAsync(int manuscriptId, int person, string? says) => _writeQueue.RunAsync(person, async session =>
    {
        ManuscriptEntity manuscript = await session.Database.Manuscripts.FindAsync(manuscriptId) ?? throw ManuscriptLog.NoManuscript();
        manuscript.BroughtIn = says;
        session.Tell(new FilesChanged(manuscriptId));
        return manuscript;
    });

    /// <summary>Says on which day the manuscript is due; null: on none.</summary>
    public Task<ManuscriptEntity> SetDeadlineAsync(int manuscriptId, Actor actor, DateOnly? day) => _log.ChangeAsync(manuscriptId, actor, (session, manuscript) =>
    {
        manuscript.Deadline = day;
        _log.Add(session, manuscript, actor, RevisionKind.Setting, null, day is { } due ? $"deadline: {due:yyyy-MM-dd}" : "no deadline");
        session.Tell(new PeopleChanged(manuscriptId));
        return Task.FromResult(manuscript);
    });

    /// <summary>Puts a manuscript into the archive of one person's shelf, or takes it out.</summary>
    public Task<int> ArchiveAsync(int manuscriptId, int person, bool isArchived) => _writeQueue.RunAsync(person, session =>
        session.Database.Memberships.Where(m => m.ManuscriptId == manuscriptId && m.PersonId == person).ExecuteUpdateAsync(m => m.SetProperty(x => x.IsArchived, isArchived)));

    /// <summary>Says from which file compiling starts.</summary>
    public Task<ManuscriptEntity> SetMainFileAsync(int manuscriptId, Actor actor, int fileId) => _log.ChangeAsync(manuscriptId, actor, async (session, manuscript) =>
    {
        FileEntity file = await FileRules.FileAsync(session.Database, manuscriptId, fileId);
        if (!file.Path.EndsWith(".tex", StringComparison.OrdinalIgnoreCase))
        {
            throw new StoreException("The main file is a .tex file.");
        }

        manuscript.MainFile = file.Path;
        _log.Add(session, manuscript, actor, RevisionKind.Setting, file, $"main file: {file.Path}");
        return manuscript;
    });

    /// <summary>Puts a manuscript away, or brings it back.</summary>
    public Task<ManuscriptEntity> PutAwayAsync(int manuscriptId, Actor actor, bool isAway) => _log.ChangeAsync(manuscriptId, actor, (session, manuscript) =>
    {
        manuscript.DeletedAt = isAway ? _log.Now : null;
        _log.Add(session, manuscript, actor, RevisionKind.Setting, null, isAway ? "put away" : "brought back");
        session.Tell(new PeopleChanged(manuscriptId));
        return Task.FromResult(manuscript);
    });

    /// <summary>Erases for good what was put away too long ago.</summary>
    /// <returns>How many manuscripts.</returns>
    public async Task<int> PurgeAsync()
    {
        DateTime before = _log.Now - KeptAway;
        List<int> gone;
        await using (FolioDatabase database = await _databases.CreateDbContextAsync())
        {
            gone = await database.Manuscripts.Where(m => m.DeletedAt != null && m.DeletedAt < before).Select(m => m.Id).ToListAsync();
        }

        foreach (int manuscript in gone)
        {
            await _eraser.EraseAsync(manuscript);
        }

        return gone.Count;
    }

    /// <summary>A title in its normal form.</summary>
    /// <exception cref="StoreException">It can't be one.</exception>
    public static string CheckTitle(string? title) => SeenText.Name(title, 200)
        ?? throw new StoreException("Give the manuscript a title of at most 200 characters.");

    private static async Task CheckShelfAsync(FolioDatabase database, int owner, long more)
    {
        if (await database.Manuscripts.Where(m => m.Members.Any(x => x.PersonId == owner && x.Role == Role.Owner)).SumAsync(m => m.Stored) + more > LargestShelf)
        {
            throw new StoreException("Your manuscripts take 8 GB with all their history, which is the most. Delete one that you don't need any more.");
        }
    }
}
