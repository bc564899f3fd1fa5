using YoungFolio.Chronicle;
using YoungFolio.Cowriting;
using YoungFolio.Storage;

namespace YoungFolio.Server.History;

/// <summary>
/// Brings back what was: a passage, a file, or the whole. It is a change like any other, which the log keeps; words that are in both
/// stay where they are, so that whoever writes in them goes on.
/// </summary>
public sealed class Restoring(HistoryReader history, FileStore files, TextStore texts)
{
    /// <summary>Gives a file, or all of them, what they held at a revision.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="actor">Who does it; its act says what.</param>
    /// <param name="revision">The revision.</param>
    /// <param name="only">The file; null: all, and those that came since go.</param>
    /// <returns>Whether anything was another.</returns>
    /// <exception cref="StoreException">The file wasn't there then, or its path is taken.</exception>
    public async Task<bool> RestoreAsync(int manuscript, Actor actor, int revision, int? only)
    {
        IReadOnlyList<FileState> then = [.. (await history.FilesAtAsync(manuscript, revision)).Where(f => only is null || f.Id == only)];
        if (then.Count == 0)
        {
            throw new StoreException(only is null ? "The manuscript wasn't there yet." : "This file wasn't there then.");
        }

        var now = (await files.FilesAsync(manuscript)).ToDictionary(f => f.Id);
        bool isChanged = false;
        if (only is null)
        {
            // First, so that their paths are free.
            foreach (int came in now.Keys.Except(then.Select(f => f.Id)).ToList())
            {
                await files.DeleteAsync(manuscript, actor, came);
                isChanged = true;
            }
        }

        foreach (FileState file in then)
        {
            if (!now.TryGetValue(file.Id, out FileEntity? here))
            {
                here = await files.BringBackAsync(manuscript, actor, file.Id);
                isChanged = true;
            }

            if (here.Path != file.Path)
            {
                await files.RenameAsync(manuscript, actor, file.Id, file.Path);
                isChanged = true;
            }

            if (file.BlobHash is { } hash && here.BlobHash != hash)
            {
                await files.PutFileAsync(manuscript, actor, file.Path, await files.BytesAsync(hash));
                isChanged = true;
            }
        }

        var wanted = then.Where(f => f.Text is not null).ToDictionary(f => f.Path, f => f.Text!, StringComparer.Ordinal);
        IReadOnlyList<(FileEntity, ChangeSet)> edited = await texts.EditTextsAsync(manuscript, actor, present => present
            .Where(t => wanted.TryGetValue(t.Key, out string? words) && words != t.Value)
            .ToDictionary(t => t.Key, t => TextComparison.Changes(t.Value, wanted[t.Key]), StringComparer.Ordinal));
        return isChanged || edited.Count > 0;
    }

    /// <summary>Gives passages of a file the words that they had, wherever they stand now: one, or those of a section.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="actor">Who does it.</param>
    /// <param name="file">The file.</param>
    /// <param name="passages">Where each stood at an earlier revision, and where at a later one: the same two for all.</param>
    /// <exception cref="StoreException">A passage or its file wasn't there, or they are of several moments, or lie in each other.</exception>
    public async Task<IReadOnlyList<(FileEntity File, ChangeSet Undo)>> RestorePassagesAsync(int manuscript, Actor actor, int file, IReadOnlyList<PassageBack> passages)
    {
        (int earlier, int later) = (passages[0].From.Revision, passages[0].To.Revision);
        if (passages.Any(p => p.From.Revision != earlier || p.To.Revision != later))
        {
            throw new StoreException("Bring passages of one moment back at a time.");
        }

        FileState? before = (await history.FilesAtAsync(manuscript, earlier)).FirstOrDefault(f => f.Id == file);
        FileState after = (await history.FilesAtAsync(manuscript, later)).FirstOrDefault(f => f.Id == file && f.Text is not null) ?? throw new StoreException("The file isn't there any more. Bring all of it back.");
        List<(PassageThen To, string Words)> wanted = [.. passages.Select(p => (p.To, before?.Text is { } text ? p.From.Of(text) : ""))];
        wanted.ForEach(w => w.To.Of(after.Text!));
        string path = (await files.FileAsync(manuscript, file)).Path;
        IReadOnlyList<ChangeSet> since = await texts.ChangesAsync(manuscript, file, after.Version);
        List<(int From, int Length, string Insert)> edits = [.. wanted.Select(w => (Place: ChangeSet.Carry(since, w.To.Offset, w.To.Offset + w.To.Length), w.Words)).Select(w => (w.Place.From, w.Place.To - w.Place.From, w.Words))];
        int length = since.Count == 0 ? after.Text!.Length : since[^1].LengthAfter;
        return await texts.EditTextsAsync(manuscript, actor, now => now.TryGetValue(path, out string? present) && present.Length == length
            ? new Dictionary<string, ChangeSet>(StringComparer.Ordinal) { [path] = ChangeSet.Of(present.Length, edits) }
            : throw new StoreException("Others are writing in this file just now. Try again in a moment."));
    }
}

/// <summary>A passage that is to be as it was.</summary>
/// <param name="From">Its place at the earlier revision.</param>
/// <param name="To">Its place at the later one.</param>
public sealed record PassageBack(PassageThen From, PassageThen To);

/// <summary>A passage of a file at a revision.</summary>
/// <param name="Revision">The revision.</param>
/// <param name="Offset">Its first character.</param>
/// <param name="Length">How many characters.</param>
public sealed record PassageThen(int Revision, int Offset, int Length)
{
    /// <summary>Its words.</summary>
    /// <exception cref="StoreException">The text is shorter.</exception>
    public string Of(string text) => text is not null && Offset >= 0 && Length >= 0 && Offset <= text.Length - Length ? text.Substring(Offset, Length) : throw new StoreException("There is no such passage.");
}
