using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

/// <summary>A part with what it holds, at one moment.</summary>
/// <param name="Id">Identity.</param>
/// <param name="Path">Its path then.</param>
/// <param name="Version">Its version then.</param>
/// <param name="Text">Its text; null when it isn't text.</param>
/// <param name="BlobHash">Digest of its content; null for text.</param>
public sealed record PartState(int Id, string Path, int Version, string? Text, string? BlobHash);

/// <summary>Reads the log, and manuscripts as they were.</summary>
public sealed class HistoryReader(IDbContextFactory<FolioDatabase> databases)
{
    /// <summary>A part's text as it was at a revision of its manuscript.</summary>
    /// <exception cref="StoreException">The part wasn't there, or isn't text.</exception>
    public async Task<string> TextAtAsync(int manuscriptId, int partId, int revision)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        int? version = await database.Revisions.AsNoTracking().Where(r => r.PartId == partId && r.ManuscriptId == manuscriptId && r.Number <= revision)
            .OrderByDescending(r => r.Number).Select(r => (int?)r.PartVersion).FirstOrDefaultAsync();
        return version is null || !await database.Snapshots.AnyAsync(s => s.PartId == partId)
            ? throw new StoreException("There was no such text then.")
            : (await TextLog.ReadAsync(database, partId, version.Value)).Text;
    }

    /// <summary>All parts as they were at a revision.</summary>
    public async Task<IReadOnlyList<PartState>> PartsAtAsync(int manuscriptId, int revision)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        List<Revision> structure = await database.Revisions.AsNoTracking()
            .Where(r => r.ManuscriptId == manuscriptId && r.Number <= revision && r.Kind != RevisionKind.Text && r.PartId != null).OrderBy(r => r.Number).ToListAsync();
        var parts = new SortedDictionary<int, PartState>();
        foreach (Revision step in structure)
        {
            int id = step.PartId!.Value;
            string[] payload = step.Payload.Split('\n');
            switch (step.Kind)
            {
                case RevisionKind.Create or RevisionKind.BringBack:
                    parts[id] = new PartState(id, payload[0], step.PartVersion, null, payload.ElementAtOrDefault(1));
                    break;
                case RevisionKind.Rename:
                    parts[id] = parts[id] with { Path = payload[0] };
                    break;
                case RevisionKind.Upload:
                    parts[id] = parts[id] with { BlobHash = payload[0], Version = step.PartVersion };
                    break;
                case RevisionKind.Delete:
                    parts.Remove(id);
                    break;
            }
        }

        var result = new List<PartState>();
        foreach (PartState part in parts.Values)
        {
            result.Add(part.BlobHash is not null ? part : part with
            {
                Text = await TextAtAsync(manuscriptId, part.Id, revision),
                Version = await database.Revisions.Where(r => r.PartId == part.Id && r.Number <= revision).MaxAsync(r => r.PartVersion),
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
