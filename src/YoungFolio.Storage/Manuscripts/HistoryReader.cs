using Microsoft.EntityFrameworkCore;
using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>A file with what it holds, at one moment.</summary>
/// <param name="Id">Identity.</param>
/// <param name="Path">Its path then.</param>
/// <param name="Version">Its version then.</param>
/// <param name="Text">Its text; null when it isn't text.</param>
/// <param name="BlobHash">Digest of its content; null for text.</param>
public sealed record FileState(int Id, string Path, int Version, string? Text, string? BlobHash);

/// <summary>Reads the log, and manuscripts as they were.</summary>
public sealed class HistoryReader(IDbContextFactory<FolioDatabase> databases)
{
    /// <summary>A file's text as it was at a revision of its manuscript.</summary>
    /// <exception cref="StoreException">The file wasn't there, or isn't text.</exception>
    public async Task<string> TextAtAsync(int manuscriptId, int fileId, int revision)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        int? version = await database.Revisions.AsNoTracking().Where(r => r.FileId == fileId && r.ManuscriptId == manuscriptId && r.Number <= revision)
            .OrderByDescending(r => r.Number).Select(r => (int?)r.FileVersion).FirstOrDefaultAsync();
        return version is null || !await database.Snapshots.AnyAsync(s => s.FileId == fileId)
            ? throw new StoreException("There was no such text then.")
            : (await TextLog.ReadAsync(database, fileId, version.Value)).Text;
    }

    /// <summary>A file's text at a version; null: at its newest.</summary>
    public async Task<string> TextOfAsync(int fileId, int? version)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return (version is { } v ? await TextLog.ReadAsync(database, fileId, v) : await TextLog.ReadAsync(database, fileId)).Text;
    }

    /// <summary>All files as they were at a revision.</summary>
    public async Task<IReadOnlyList<FileState>> FilesAtAsync(int manuscriptId, int revision)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        List<Revision> structure = await database.Revisions.AsNoTracking()
            .Where(r => r.ManuscriptId == manuscriptId && r.Number <= revision && r.Kind != RevisionKind.Text && r.FileId != null).OrderBy(r => r.Number).ToListAsync();
        var files = new SortedDictionary<int, FileState>();
        foreach (Revision step in structure)
        {
            int id = step.FileId!.Value;
            string[] payload = step.Payload.Split('\n');
            switch (step.Kind)
            {
                case RevisionKind.Create or RevisionKind.BringBack:
                    files[id] = new FileState(id, payload[0], step.FileVersion, null, payload.ElementAtOrDefault(1));
                    break;
                case RevisionKind.Rename:
                    files[id] = files[id] with { Path = payload[0] };
                    break;
                case RevisionKind.Upload:
                    files[id] = files[id] with { BlobHash = payload[0], Version = step.FileVersion };
                    break;
                case RevisionKind.Delete:
                    files.Remove(id);
                    break;
            }
        }

        var result = new List<FileState>();
        foreach (FileState file in files.Values)
        {
            result.Add(file.BlobHash is not null ? file : file with
            {
                Text = await TextAtAsync(manuscriptId, file.Id, revision),
                Version = await database.Revisions.Where(r => r.FileId == file.Id && r.Number <= revision).MaxAsync(r => r.FileVersion),
            });
        }

        return result;
    }

    /// <summary>The log of a manuscript, newest first.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="before">Only revisions with lower numbers.</param>
    /// <param name="count">How many.</param>
    public async Task<IReadOnlyList<Revision>> LogAsync(int manuscriptId, int before, int count)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.Revisions.AsNoTracking().Where(r => r.ManuscriptId == manuscriptId && r.Number < before)
            .OrderByDescending(r => r.Number).Take(Math.Clamp(count, 1, 1000)).ToListAsync();
    }
}
