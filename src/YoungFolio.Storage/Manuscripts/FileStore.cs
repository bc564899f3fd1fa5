using System.Text;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>The files of manuscripts.</summary>
public sealed class FileStore
{
    /// <summary>The largest upload, in bytes.</summary>
    public const int LargestUpload = 50 * 1024 * 1024;

    /// <summary>The most that a manuscript's parts may take together, in bytes.</summary>
    public const long LargestManuscript = 500L * 1024 * 1024;

    /// <summary>The most parts that a manuscript may have.</summary>
    public const int MostParts = 2000;

    private const int MostDeletedShown = 200;

    private readonly IDbContextFactory<FolioDatabase> _databases;
    private readonly ManuscriptLog _log;
    private readonly TextStore _texts;
    private readonly ContentStore _contents;

    internal FileStore(IDbContextFactory<FolioDatabase> databases, ManuscriptLog log, TextStore texts, ContentStore contents)
    {
        _databases = databases;
        _log = log;
        _texts = texts;
        _contents = contents;
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
        PartEntity? there = await CheckRoomAsync(manuscriptId, file);
        TextStep? ready = there is { IsText: true } && replacesText ? Replacement(await _texts.TextAsync(there.Id), file) : null;
        await using IAsyncDisposable? brought = await _contents.BringAsync(actor.Person, file);
        return await _log.ChangeAsync(manuscriptId, actor, async (session, manuscript) =>
        {
            if (await FileRules.FindAsync(session.Database, manuscriptId, file.Path) is not { } known)
            {
                return (await AddPartsAsync(session, manuscript, actor, [file]))[0];
            }

            if (file.Text is null)
            {
                await SetBlobAsync(session.Database, manuscript, known, file);
                _log.Add(session, manuscript, actor, RevisionKind.Upload, known, known.BlobHash!);
            }
            else if (replacesText)
            {
                await FileRules.CheckContentAsync(session.Database, manuscriptId, known.Id, file.Size);
                LiveText text = await session.TextAsync(known.Id);
                _texts.Store(session, manuscript, actor, known, ready is not null && ReferenceEquals(ready.Before, text) ? ready : Replacement(text, file));
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
        return await _texts.EditAsync(manuscriptId, actor, edit, async (session, manuscript, store) =>
        {
            PartEntity part = await FileRules.PartAsync(session.Database, manuscriptId, partId);
            await FileRules.CheckFreeAsync(session.Database, manuscriptId, path, part.Id);
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
            _log.Add(session, manuscript, actor, RevisionKind.Rename, part, path);
            return part;
        });
    }

    /// <summary>Deletes a part; its text and history stay in the log, and <see cref="BringBackAsync"/> brings it back.</summary>
    public Task<PartEntity> DeleteAsync(int manuscriptId, Actor actor, int partId) => _log.ChangeAsync(manuscriptId, actor, async (session, manuscript) =>
    {
        PartEntity part = await FileRules.PartAsync(session.Database, manuscriptId, partId);
        if (manuscript.MainPart == part.Path)
        {
            throw new StoreException("The main part can't be deleted: compiling starts there.");
        }

        part.IsDeleted = true;
        _log.Add(session, manuscript, actor, RevisionKind.Delete, part, part.Path);
        return part;
    });

    /// <summary>Brings a part back that was deleted, as it was then.</summary>
    /// <exception cref="StoreException">Another part has its name by now, or there are too many.</exception>
    public Task<PartEntity> BringBackAsync(int manuscriptId, Actor actor, int partId) => _log.ChangeAsync(manuscriptId, actor, async (session, manuscript) =>
    {
        if (await session.Database.Parts.FindAsync(partId) is not { IsDeleted: true } part || part.ManuscriptId != manuscriptId)
        {
            throw new StoreException("There is no such deleted part.");
        }

        await FileRules.CheckFreeAsync(session.Database, manuscriptId, part.Path, part.Id);
        await FileRules.CheckCountAsync(session.Database, manuscriptId, 1);
        await FileRules.CheckContentAsync(session.Database, manuscriptId, part.Id, part.Size);
        part.IsDeleted = false;
        _log.Add(session, manuscript, actor, RevisionKind.BringBack, part, part.BlobHash is null ? part.Path : $"{part.Path}\n{part.BlobHash}");
        return part;
    });

    /// <summary>The parts that were deleted and can be brought back, with who did it and when, the newest first.</summary>
    public async Task<IReadOnlyList<(PartEntity Part, int Person, DateTime At)>> DeletedPartsAsync(int manuscriptId)
    {
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        List<Revision> ends = await database.Revisions.AsNoTracking().Where(r => r.ManuscriptId == manuscriptId && r.Kind == RevisionKind.Delete)
            .OrderByDescending(r => r.Number).Take(MostDeletedShown).ToListAsync();
        List<int?> numbers = [.. ends.Select(r => r.PartId)];
        Dictionary<int, PartEntity> gone = await database.Parts.AsNoTracking().Where(p => numbers.Contains(p.Id) && p.IsDeleted).ToDictionaryAsync(p => p.Id);
        return [.. ends.Where(r => gone.ContainsKey(r.PartId!.Value)).DistinctBy(r => r.PartId).Select(r => (gone[r.PartId!.Value], r.PersonId, r.At))];
    }

    /// <summary>The parts that are there now.</summary>
    public async Task<IReadOnlyList<PartEntity>> PartsAsync(int manuscriptId)
    {
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        return await database.Parts.AsNoTracking().Where(p => p.ManuscriptId == manuscriptId && !p.IsDeleted).OrderBy(p => p.Path).ToListAsync();
    }

    /// <summary>The part of this number.</summary>
    /// <exception cref="StoreException">There is none.</exception>
    public async Task<PartEntity> PartAsync(int manuscriptId, int partId)
    {
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        return await FileRules.PartAsync(database, manuscriptId, partId);
    }

    /// <summary>The bytes of a part.</summary>
    public async Task<byte[]> BytesAsync(PartEntity part)
    {
        if (part.IsText)
        {
            return Encoding.UTF8.GetBytes((await _texts.TextAsync(part.Id)).Text);
        }

        return await _contents.BytesAsync(part.BlobHash!);
    }

    /// <summary>Adds files, in a transaction.</summary>
    internal async Task<IReadOnlyList<PartEntity>> AddPartsAsync(WriteSession session, ManuscriptEntity manuscript, Actor actor, IReadOnlyList<IncomingFile> files)
    {
        await FileRules.CheckCountAsync(session.Database, manuscript.Id, files.Count);
        if (files.Count == 1)
        {
            await FileRules.CheckFreeAsync(session.Database, manuscript.Id, files[0].Path, 0);
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
                await FileRules.CheckContentAsync(session.Database, manuscript.Id, 0, file.Size);
                ManuscriptLog.Take(manuscript, file.Size);
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

            _log.Add(session, manuscript, actor, RevisionKind.Create, part, file.Hash is null ? part.Path : $"{part.Path}\n{file.Hash}");
        }

        return parts;
    }

    // Before anything is brought in: it is looked at once more when the file is stored.
    private async Task<PartEntity?> CheckRoomAsync(int manuscriptId, IncomingFile file)
    {
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        PartEntity? known = await FileRules.FindAsync(database, manuscriptId, file.Path);
        await FileRules.CheckContentAsync(database, manuscriptId, known?.Id ?? 0, file.Size);
        if (await database.Manuscripts.FindAsync(manuscriptId) is { } manuscript)
        {
            ManuscriptLog.Take(manuscript, file.Size);
        }

        return known;
    }

    // Not what a person types: an upload may be as large as a part may be.
    private static TextStep Replacement(LiveText text, IncomingFile file)
    {
        ChangeSet change = ChangeSet.Between(text.Text, file.Text!);
        return new TextStep(text, change.IsEmpty ? new Taken(text.Text, []) : new Taken(file.Text!, [new Update(TextStore.RoomClient, change)]));
    }

    private static async Task SetBlobAsync(FolioDatabase database, ManuscriptEntity manuscript, PartEntity part, IncomingFile file)
    {
        await FileRules.CheckContentAsync(database, part.ManuscriptId, part.Id, file.Size);
        ManuscriptLog.Take(manuscript, file.Size);
        await ContentStore.CompleteAsync(database, file);
        part.BlobHash = file.Hash;
        part.Size = file.Bytes.Length;
        part.Version++;
    }
}
