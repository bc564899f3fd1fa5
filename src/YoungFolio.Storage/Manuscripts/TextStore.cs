using Microsoft.EntityFrameworkCore;
using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>Gives changes of texts by path, from the texts by path.</summary>
public delegate IReadOnlyDictionary<string, ChangeSet> TextsEdit(IReadOnlyDictionary<string, string> texts);

/// <summary>Texts: what writers type, and changes that rooms make.</summary>
public sealed class TextStore
{
    /// <summary>The tab in whose name rooms and uploads change texts.</summary>
    public const string RoomClient = "room";

    // Carrying much over much would hold up everyone; whoever is that far behind reads what was missed first. Updates over
    // updates, and the stretches of the ones over those of the others.
    private const int MostCarried = 50_000;
    private const long MostCarriedStretches = 2_000_000;

    // Of smaller ones it would take too many to matter.
    private const int LargePaste = 100_000;

    // So often changes of a room are made anew because someone typed meanwhile; then they are carried over what was typed.
    private const int MostAttempts = 3;

    private readonly IDbContextFactory<FolioDatabase> _databases;
    private readonly WriteQueue _writeQueue;
    private readonly ManuscriptLog _log;

    internal TextStore(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue, ManuscriptLog log)
    {
        _databases = databases;
        _writeQueue = writeQueue;
        _log = log;
    }

    /// <summary>A text as it is now.</summary>
    public async Task<LiveText> TextAsync(int fileId)
    {
        if (_writeQueue.Known(fileId) is { } known)
        {
            return known;
        }

        string? generation = _writeQueue.Generation;
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        LiveText text = await TextLog.ReadAsync(database, fileId);
        _writeQueue.Keep(fileId, text, generation);
        return text;
    }

    /// <summary>Takes what a writer typed; it is on the disk when this returns.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="actor">Who types.</param>
    /// <param name="fileId">The file.</param>
    /// <param name="madeOn">Version that the updates were made on.</param>
    /// <param name="updates">The updates, all of one tab.</param>
    /// <param name="generation">State of the data that the writer knows; null: whichever there is.</param>
    /// <returns>The file's version with them.</returns>
    /// <exception cref="ChangeSetException">An update doesn't fit.</exception>
    /// <exception cref="StoreException">The file isn't there, isn't text, or the updates are too far behind.</exception>
    public async Task<int> TypeAsync(int manuscriptId, Actor actor, int fileId, int madeOn, IReadOnlyList<Update> updates, string? generation = null)
    {
        // What was typed on the newest text is worked out before it has its turn; if another came first, it is worked out anew then.
        TextStep? ready = _writeQueue.Known(fileId) is { } known && known.Version == madeOn ? new TextStep(known, Authority.Take(known.Text, updates, [])) : null;
        return await _writeQueue.RunTogetherAsync(actor.Person, s => ManuscriptLog.OnAsync(s, manuscriptId, async (session, manuscript) =>
        {
            // Between a backup being put in place and the writer hearing of it, versions would be of another text.
            if (generation is not null && generation != _writeQueue.Generation)
            {
                throw new StoreException("The manuscript was put back to an earlier state, so this has no place in it now.");
            }

            FileEntity file = await FileRules.TextFileAsync(session.Database, manuscriptId, fileId);
            LiveText text = await session.TextAsync(fileId);
            TextStep step = ready is not null && ReferenceEquals(ready.Before, text)
                ? ready
                : new TextStep(text, Authority.Take(text.Text, updates, await SinceAsync(session, fileId, text, madeOn, updates)));
            if (step.Next.Text.Length - text.Text.Length > LargePaste)
            {
                await FileRules.CheckContentAsync(session.Database, manuscriptId, fileId, step.Next.Text.Length);
            }

            Store(session, manuscript, actor, file, step);
            return file.Version;
        }));
    }

    /// <summary>Changes several text files at once, by what their texts are now: all of it, or nothing.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="actor">Who does it.</param>
    /// <param name="edit">Gives the changes; it may be asked again, with newer texts.</param>
    /// <returns>The files that changed, each with the change that takes it back.</returns>
    public Task<IReadOnlyList<(FileEntity File, ChangeSet Undo)>> EditTextsAsync(int manuscriptId, Actor actor, TextsEdit edit) =>
        EditAsync(manuscriptId, actor, edit, static (_, _, store) => store());

    /// <summary>
    /// Changes texts, and what goes with it, at once. What is to change is worked out beside the queue, which may take a while; if the
    /// texts have changed by the time it is stored it is worked out anew: some times, then it is carried over what changed, or with
    /// <paramref name="mustBeSame"/> refused.
    /// </summary>
    internal async Task<T> EditAsync<T>(int manuscriptId, Actor actor, TextsEdit edit, Func<WriteSession, ManuscriptEntity, Func<Task<IReadOnlyList<(FileEntity File, ChangeSet Undo)>>>, Task<T>> around, bool mustBeSame = false)
        where T : class
    {
        for (int attempt = 1; ; attempt++)
        {
            IReadOnlyDictionary<string, (int File, LiveText Text)> texts = await AllAsync(manuscriptId);
            IReadOnlyDictionary<string, ChangeSet> changes = edit(texts.ToDictionary(t => t.Key, t => t.Value.Text.Text, StringComparer.Ordinal));
            var steps = changes.ToDictionary(c => c.Key, c => new TextStep(texts[c.Key].Text, Authority.TakeLarge(texts[c.Key].Text.Text, [new Update(RoomClient, c.Value)], [])), StringComparer.Ordinal);
            bool isLast = attempt >= MostAttempts;
            T? result = await _log.ChangeAsync<T?>(manuscriptId, actor, async (session, manuscript) =>
                (mustBeSame || !isLast) && !await AreSameAsync(session, manuscriptId, texts)
                    ? isLast ? throw new StoreException("Others are writing all the time just now. Try again in a moment.") : null
                    : await around(session, manuscript, () => StoreEditsAsync(session, manuscript, actor, texts, steps)));
            if (result is not null)
            {
                return result;
            }
        }
    }

    private static async Task<bool> AreSameAsync(WriteSession session, int manuscriptId, IReadOnlyDictionary<string, (int File, LiveText Text)> texts)
    {
        // What this transaction did before isn't in the database yet.
        await session.Database.SaveChangesAsync();
        var now = await session.Database.Files.AsNoTracking().Where(p => p.ManuscriptId == manuscriptId && !p.IsDeleted && p.IsText).Select(p => new { p.Id, p.Path, p.Version }).ToListAsync();
        return now.Count == texts.Count && now.TrueForAll(p => texts.TryGetValue(p.Path, out (int File, LiveText Text) read) && read.File == p.Id && read.Text.Version == p.Version);
    }

    private async Task<IReadOnlyList<(FileEntity File, ChangeSet Undo)>> StoreEditsAsync(
        WriteSession session, ManuscriptEntity manuscript, Actor actor, IReadOnlyDictionary<string, (int File, LiveText Text)> texts, Dictionary<string, TextStep> steps)
    {
        var result = new List<(FileEntity, ChangeSet)>();
        foreach ((string path, TextStep ready) in steps.OrderBy(c => c.Key, StringComparer.Ordinal))
        {
            (int id, LiveText read) = texts[path];
            FileEntity file = await FileRules.TextFileAsync(session.Database, manuscript.Id, id);
            LiveText text = await session.TextAsync(id);
            TextStep step = ready;
            if (!ReferenceEquals(text, read))
            {
                // When others typed since it is carried over that, and must not be taken for what another room did.
                string client = text.Version == read.Version ? RoomClient : $"{RoomClient} {Guid.NewGuid():N}";
                step = new TextStep(text, Authority.TakeLarge(text.Text, [ready.Accepted.Updates[0] with { ClientId = client }], await session.SinceAsync(id, text, read.Version)));
            }

            Store(session, manuscript, actor, file, step);
            result.Add((file, step.Accepted.Updates[0].Changes.Invert(text.Text)));
        }

        return result;
    }

    /// <summary>Takes changes back, wherever others wrote in the meantime: all of it, or nothing.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="actor">Who does it.</param>
    /// <param name="steps">For each file the version after the change, and what takes it back.</param>
    public Task<int> UndoAsync(int manuscriptId, Actor actor, IReadOnlyList<(int File, int Version, ChangeSet Undo)> steps) => _log.ChangeAsync(manuscriptId, actor, async (session, manuscript) =>
    {
        foreach ((int fileId, int version, ChangeSet undo) in steps)
        {
            FileEntity file = await FileRules.TextFileAsync(session.Database, manuscriptId, fileId);
            LiveText text = await session.TextAsync(fileId);
            // A tab of its own: what the room did since must not be taken for this, and taking it back twice does nothing more.
            var update = new Update(FormattableString.Invariant($"undo {fileId}:{version}"), undo);
            AcceptedUpdates accepted = Authority.Take(text.Text, [update], await SinceAsync(session, fileId, text, version, [update]));
            Store(session, manuscript, actor, file, new TextStep(text, accepted));
        }

        return steps.Count;
    });

    /// <summary>All texts of a manuscript, by their paths.</summary>
    public async Task<IReadOnlyDictionary<string, (int File, LiveText Text)>> AllAsync(int manuscriptId)
    {
        var texts = new Dictionary<string, (int File, LiveText Text)>(StringComparer.Ordinal);
        foreach (FileEntity file in await TextFilesAsync(manuscriptId))
        {
            texts[file.Path] = (file.Id, await TextAsync(file.Id));
        }

        return texts;
    }

    /// <summary>What changed in a file after a version, up to another one; null: to the newest.</summary>
    /// <exception cref="StoreException">The file isn't there.</exception>
    public async Task<IReadOnlyList<ChangeSet>> ChangesAsync(int manuscriptId, int fileId, int version, int? until = null) =>
        [.. (await UpdatesSinceAsync(manuscriptId, fileId, version)).Take(until is { } last ? Math.Max(0, last - version) : int.MaxValue).Select(u => u.Changes)];

    /// <summary>What was typed into a file after a version.</summary>
    /// <exception cref="StoreException">The file isn't there.</exception>
    public async Task<IReadOnlyList<Update>> UpdatesSinceAsync(int manuscriptId, int fileId, int version)
    {
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        await FileRules.FileAsync(database, manuscriptId, fileId);
        LiveText? text = _writeQueue.Known(fileId);
        return text is not null && version >= text.Version - text.Recent.Count && version <= text.Version
            ? [.. text.Recent.Skip(text.Recent.Count - (text.Version - version))]
            : await TextLog.SinceAsync(database, fileId, version);
    }

    private static async Task<IReadOnlyList<Update>> SinceAsync(WriteSession session, int fileId, LiveText text, int madeOn, IReadOnlyList<Update> updates)
    {
        if (madeOn > text.Version || madeOn < 0)
        {
            throw new ChangeSetException($"Version {madeOn} doesn't exist yet.");
        }

        long missed = text.Version - madeOn;
        long stretches = updates.Sum(u => (long)u.Changes.Size);
        if (missed * updates.Count > MostCarried || missed * stretches > MostCarriedStretches)
        {
            throw new BehindException();
        }

        IReadOnlyList<Update> since = await session.SinceAsync(fileId, text, madeOn);
        return since.Sum(u => (long)u.Changes.Size) * updates.Count > MostCarriedStretches ? throw new BehindException() : since;
    }

    /// <summary>Stores what was taken into a text.</summary>
    internal void Store(WriteSession session, ManuscriptEntity manuscript, Actor actor, FileEntity file, TextStep step)
    {
        if (step.Accepted.Updates.Count == 0)
        {
            return;
        }

        file.Size = step.Next.Text.Length;
        ManuscriptLog.Take(manuscript, step.Payloads.Sum(p => (long)p.Length) + (step.IsSnapshotDue ? step.Next.Text.Length : 0));
        foreach ((Update update, string payload) in step.Accepted.Updates.Zip(step.Payloads))
        {
            file.Version++;
            _log.Add(session, manuscript, actor, RevisionKind.Text, file, payload, update.ClientId);
        }

        if (step.IsSnapshotDue)
        {
            var snapshot = new Snapshot { FileId = file.Id, Version = step.Next.Version, Text = step.Next.Text };
            session.After(async later =>
            {
                // The file may have been erased meanwhile.
                if (await later.Database.Files.AnyAsync(p => p.Id == snapshot.FileId))
                {
                    later.Database.Snapshots.Add(snapshot);
                }
            });
        }

        session.SetText(file.Id, step.Next);
        session.Tell(new TextChanged(manuscript.Id, file.Id, file.Version, step.Accepted.Updates));
    }

    private async Task<List<FileEntity>> TextFilesAsync(int manuscriptId)
    {
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        return await database.Files.AsNoTracking().Where(p => p.ManuscriptId == manuscriptId && !p.IsDeleted && p.IsText).ToListAsync();
    }
}
