using System.Text;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>The files of manuscripts.</summary>
public sealed class FileStore
{
    /// <summary>The largest upload, in bytes.</summary>
    public const int LargestUpload = 50 * 1024 * 1024;

    /// <summary>The most that a manuscript's files may take together, in bytes.</summary>
    public const long LargestManuscript = 500L * 1024 * 1024;

    /// <summary>The most files that a manuscript may have.</summary>
    public const int MostFiles = 2000;

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

    /// <summary>Adds a file, or puts new content in the place of what it held.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="actor">Who does it.</param>
    /// <param name="path">The file's path.</param>
    /// <param name="bytes">Its content.</param>
    /// <param name="replacesText">Whether a text that is there already is to be replaced; its history stays.</param>
    /// <exception cref="StoreException">The path is wrong or taken, or the content not what the name says or too large.</exception>
    public async Task<FileEntity> PutFileAsync(int manuscriptId, Actor actor, string path, byte[] bytes, bool replacesText = false)
    {
        IncomingFile incoming = IncomingFile.Read(path, bytes);
        FileEntity? there = await CheckRoomAsync(manuscriptId, incoming);
        TextStep? ready = there is { IsText: true } && replacesText ? Replacement(await _texts.TextAsync(there.Id), incoming) : null;
        await using IAsyncDisposable? brought = await _contents.BringAsync(actor.Person, incoming);
        return await _log.ChangeAsync(manuscriptId, actor, async (session, manuscript) =>
        {
            if (await FileRules.FindAsync(session.Database, manuscriptId, incoming.Path) is not { } known)
            {
                return (await AddFilesAsync(session, manuscript, actor, [incoming]))[0];
            }

            if (incoming.Text is null)
            {
                await SetBlobAsync(session.Database, manuscript, known, incoming);
                _log.Add(session, manuscript, actor, RevisionKind.Upload, known, known.BlobHash!);
            }
            else if (replacesText)
            {
                await FileRules.CheckContentAsync(session.Database, manuscriptId, known.Id, incoming.Size);
                LiveText text = await session.TextAsync(known.Id);
                _texts.Store(session, manuscript, actor, known, ready is not null && ReferenceEquals(ready.Before, text) ? ready : Replacement(text, incoming));
            }
            else
            {
                throw new StoreException($"There is a file {known.Path} already. Rename or delete it first.");
            }

            return known;
        });
    }

    /// <summary>Renames or moves a file.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="actor">Who does it.</param>
    /// <param name="fileId">The file.</param>
    /// <param name="path">Its path from now on.</param>
    /// <param name="follow">Has the texts name it so, from its old path and the new one; null: they stay as they are.</param>
    public async Task<FileEntity> RenameAsync(int manuscriptId, Actor actor, int fileId, string path, Func<string, string, TextsEdit>? follow = null)
    {
        path = FilePath.Check(path);
        string before = (await FileAsync(manuscriptId, fileId)).Path;
        TextsEdit edit = follow is null || before == path ? static _ => new Dictionary<string, ChangeSet>() : follow(before, path);
        return await _texts.EditAsync(manuscriptId, actor, edit, async (session, manuscript, store) =>
        {
            FileEntity file = await FileRules.FileAsync(session.Database, manuscriptId, fileId);
            await FileRules.CheckFreeAsync(session.Database, manuscriptId, path, file.Id);
            if (FilePath.IsText(path) != file.IsText)
            {
                throw new StoreException(file.IsText ? $"{file.Path} is text: keep an ending such as .tex, .bib or .csv." : $"{file.Path} isn't text: keep its ending.");
            }

            // The words that name it are changed under the name that they were read with.
            await store();
            if (manuscript.MainFile == file.Path)
            {
                manuscript.MainFile = path;
            }

            file.Path = path;
            _log.Add(session, manuscript, actor, RevisionKind.Rename, file, path);
            return file;
        });
    }

    /// <summary>Brings words of one file into a new one, as one step.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="actor">Who does it.</param>
    /// <param name="split">From the texts as they are now: what changes in them, the new file and what it holds.</param>
    /// <exception cref="StoreException">The name is wrong or taken, or others write all the time.</exception>
    public async Task<FileEntity> SplitOffAsync(int manuscriptId, Actor actor, Func<IReadOnlyDictionary<string, string>, (IReadOnlyDictionary<string, ChangeSet> Changes, string Path, string Words)> split)
    {
        IncomingFile incoming = null!;
        TextsEdit edit = texts =>
        {
            (IReadOnlyDictionary<string, ChangeSet> changes, string path, string words) = split(texts);
            incoming = IncomingFile.Read(path, Encoding.UTF8.GetBytes(words));
            return changes;
        };
        return await _texts.EditAsync(manuscriptId, actor, edit, async (session, manuscript, store) =>
        {
            await store();
            return (await AddFilesAsync(session, manuscript, actor, [incoming]))[0];
        }, mustBeSame: true);
    }

    /// <summary>Brings what a text file holds into another one and deletes it, as one step.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="actor">Who does it.</param>
    /// <param name="fold">From the texts as they are now: what changes in them, and the file that goes.</param>
    /// <exception cref="StoreException">It is the main file, or others write all the time.</exception>
    public async Task<FileEntity> FoldInAsync(int manuscriptId, Actor actor, Func<IReadOnlyDictionary<string, string>, (IReadOnlyDictionary<string, ChangeSet> Changes, string Path)> fold)
    {
        string gone = "";
        TextsEdit edit = texts =>
        {
            (IReadOnlyDictionary<string, ChangeSet> changes, gone) = fold(texts);
            return changes;
        };
        return await _texts.EditAsync(manuscriptId, actor, edit, async (session, manuscript, store) =>
        {
            await store();
            FileEntity file = await FileRules.FindAsync(session.Database, manuscriptId, gone) ?? throw new StoreException($"There is no {gone} any more.");
            return Delete(session, manuscript, actor, file);
        }, mustBeSame: true);
    }

    /// <summary>Deletes a file; its text and history stay in the log, and <see cref="BringBackAsync"/> brings it back.</summary>
    public Task<FileEntity> DeleteAsync(int manuscriptId, Actor actor, int fileId) => _log.ChangeAsync(manuscriptId, actor, async (session, manuscript) =>
        Delete(session, manuscript, actor, await FileRules.FileAsync(session.Database, manuscriptId, fileId)));

    private FileEntity Delete(WriteSession session, ManuscriptEntity manuscript, Actor actor, FileEntity file)
    {
        if (manuscript.MainFile == file.Path)
        {
            throw new StoreException("The main file can't be deleted: compiling starts there.");
        }

        file.IsDeleted = true;
        _log.Add(session, manuscript, actor, RevisionKind.Delete, file, file.Path);
        return file;
    }

    /// <summary>Brings a file back that was deleted, as it was then.</summary>
    /// <exception cref="StoreException">Another file has its name by now, or there are too many.</exception>
    public Task<FileEntity> BringBackAsync(int manuscriptId, Actor actor, int fileId) => _log.ChangeAsync(manuscriptId, actor, async (session, manuscript) =>
    {
        if (await session.Database.Files.FindAsync(fileId) is not { IsDeleted: true } file || file.ManuscriptId != manuscriptId)
        {
            throw new StoreException("There is no such deleted file.");
        }

        await FileRules.CheckFreeAsync(session.Database, manuscriptId, file.Path, file.Id);
        await FileRules.CheckCountAsync(session.Database, manuscriptId, 1);
        await FileRules.CheckContentAsync(session.Database, manuscriptId, file.Id, file.Size);
        file.IsDeleted = false;
        _log.Add(session, manuscript, actor, RevisionKind.BringBack, file, file.BlobHash is null ? file.Path : $"{file.Path}\n{file.BlobHash}");
        return file;
    });

    /// <summary>The files that were deleted and can be brought back, with who did it and when, the newest first.</summary>
    public async Task<IReadOnlyList<(FileEntity File, int Person, DateTime At)>> DeletedFilesAsync(int manuscriptId)
    {
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        List<Revision> ends = await database.Revisions.AsNoTracking().Where(r => r.ManuscriptId == manuscriptId && r.Kind == RevisionKind.Delete)
            .OrderByDescending(r => r.Number).Take(MostDeletedShown).ToListAsync();
        List<int?> numbers = [.. ends.Select(r => r.FileId)];
        Dictionary<int, FileEntity> gone = await database.Files.AsNoTracking().Where(p => numbers.Contains(p.Id) && p.IsDeleted).ToDictionaryAsync(p => p.Id);
        return [.. ends.Where(r => gone.ContainsKey(r.FileId!.Value)).DistinctBy(r => r.FileId).Select(r => (gone[r.FileId!.Value], r.PersonId, r.At))];
    }

    /// <summary>The files that are there now.</summary>
    public async Task<IReadOnlyList<FileEntity>> FilesAsync(int manuscriptId)
    {
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        return await database.Files.AsNoTracking().Where(p => p.ManuscriptId == manuscriptId && !p.IsDeleted).OrderBy(p => p.Path).ToListAsync();
    }

    /// <summary>The file of this number.</summary>
    /// <exception cref="StoreException">There is none.</exception>
    public async Task<FileEntity> FileAsync(int manuscriptId, int fileId)
    {
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        return await FileRules.FileAsync(database, manuscriptId, fileId);
    }

    /// <summary>The bytes of a file.</summary>
    public async Task<byte[]> BytesAsync(FileEntity file)
    {
        if (file.IsText)
        {
            return Encoding.UTF8.GetBytes((await _texts.TextAsync(file.Id)).Text);
        }

        return await _contents.BytesAsync(file.BlobHash!);
    }

    /// <summary>A content that a file has or had, by its digest.</summary>
    public Task<byte[]> BytesAsync(string digest) => _contents.BytesAsync(digest);

    /// <summary>Adds files, in a transaction.</summary>
    internal async Task<IReadOnlyList<FileEntity>> AddFilesAsync(WriteSession session, ManuscriptEntity manuscript, Actor actor, IReadOnlyList<IncomingFile> incoming)
    {
        await FileRules.CheckCountAsync(session.Database, manuscript.Id, incoming.Count);
        if (incoming.Count == 1)
        {
            await FileRules.CheckFreeAsync(session.Database, manuscript.Id, incoming[0].Path, 0);
        }

        var files = new List<FileEntity>();
        foreach (IncomingFile one in incoming)
        {
            var file = new FileEntity { ManuscriptId = manuscript.Id, Path = one.Path, IsText = one.Text is not null };
            files.Add(file);
            if (one.Text is null)
            {
                await SetBlobAsync(session.Database, manuscript, file, one);
            }
            else
            {
                await FileRules.CheckContentAsync(session.Database, manuscript.Id, 0, one.Size);
                ManuscriptLog.Take(manuscript, one.Size);
                file.Size = one.Bytes.Length;
            }
        }

        session.Database.Files.AddRange(files);
        await session.Database.SaveChangesAsync();
        foreach ((IncomingFile one, FileEntity file) in incoming.Zip(files))
        {
            if (one.Text is { } text)
            {
                session.Database.Snapshots.Add(new Snapshot { FileId = file.Id, Version = 0, Text = text });
                session.SetText(file.Id, new LiveText(0, text, [], 0));
            }

            _log.Add(session, manuscript, actor, RevisionKind.Create, file, one.Hash is null ? file.Path : $"{file.Path}\n{one.Hash}");
        }

        return files;
    }

    // Before anything is brought in: it is looked at once more when the file is stored.
    private async Task<FileEntity?> CheckRoomAsync(int manuscriptId, IncomingFile incoming)
    {
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        FileEntity? known = await FileRules.FindAsync(database, manuscriptId, incoming.Path);
        await FileRules.CheckContentAsync(database, manuscriptId, known?.Id ?? 0, incoming.Size);
        if (await database.Manuscripts.FindAsync(manuscriptId) is { } manuscript)
        {
            ManuscriptLog.Take(manuscript, incoming.Size);
        }

        return known;
    }

    // Not what a person types: an upload may be as large as a file may be.
    private static TextStep Replacement(LiveText text, IncomingFile incoming)
    {
        ChangeSet change = ChangeSet.Between(text.Text, incoming.Text!);
        return new TextStep(text, change.IsEmpty ? new AcceptedUpdates(text.Text, []) : new AcceptedUpdates(incoming.Text!, [new Update(TextStore.RoomClient, change)]));
    }

    private static async Task SetBlobAsync(FolioDatabase database, ManuscriptEntity manuscript, FileEntity file, IncomingFile incoming)
    {
        await FileRules.CheckContentAsync(database, file.ManuscriptId, file.Id, incoming.Size);
        ManuscriptLog.Take(manuscript, incoming.Size);
        await ContentStore.CompleteAsync(database, incoming);
        file.BlobHash = incoming.Hash;
        file.Size = incoming.Bytes.Length;
        file.Version++;
    }
}
