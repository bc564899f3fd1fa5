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

    /// <summary>Gives a passage of a file the words that it had, wherever it stands now.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="actor">Who does it.</param>
    /// <param name="file">The file.</param>
    /// <param name="from">The earlier revision, and the passage's place then.</param>
    /// <param name="to">The later revision, and its place then.</param>
    /// <exception cref="StoreException">The passage or its file wasn't there.</exception>
    public async Task<IReadOnlyList<(FileEntity File, ChangeSet Undo)>> RestorePassageAsync(int manuscript, Actor actor, int file, PassageThen from, PassageThen to)
    {
        FileState? before = (await history.FilesAtAsync(manuscript, from.Revision)).FirstOrDefault(f => f.Id == file);
        FileState after = (await history.FilesAtAsync(manuscript, to.Revision)).FirstOrDefault(f => f.Id == file && f.Text is not null) ?? throw new StoreException("The file isn't there any more. Bring all of it back.");
        string words = before?.Text is { } text ? from.Of(text) : "";
        _ = to.Of(after.Text!);
        string path = (await files.FileAsync(manuscript, file)).Path;
        IReadOnlyList<ChangeSet> since = await texts.ChangesAsync(manuscript, file, after.Version);
        (int begin, int end) = ChangeSet.Carry(since, to.Offset, to.Offset + to.Length);
        int length = since.Count == 0 ? after.Text!.Length : since[^1].LengthAfter;
        return await texts.EditTextsAsync(manuscript, actor, now => now.TryGetValue(path, out string? present) && present.Length == length
            ? new Dictionary<string, ChangeSet>(StringComparer.Ordinal) { [path] = ChangeSet.Replace(present.Length, begin, end, words) }
            : throw new StoreException("Others are writing in this file just now. Try again in a moment."));
    }
}

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
