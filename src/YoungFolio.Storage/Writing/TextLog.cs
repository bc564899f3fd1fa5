using Microsoft.EntityFrameworkCore;
using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>A text as it is now, with what led to it last.</summary>
/// <param name="Version">Number of updates so far.</param>
/// <param name="Text">The text.</param>
/// <param name="Recent">The newest updates, so that what was made a moment ago can be carried over them.</param>
/// <param name="SinceSnapshot">Work that making this text from the newest snapshot takes.</param>
public sealed record LiveText(int Version, string Text, IReadOnlyList<Update> Recent, int SinceSnapshot);

/// <summary>Texts out of the log: the nearest snapshot before, and the updates from there on.</summary>
public static class TextLog
{
    /// <summary>How many updates are kept with a live text.</summary>
    public const int RecentUpdates = 256;

    // A snapshot is due when making the text from the last one takes this many updates, or fewer large ones. Of a long text there
    // are fewer: it takes longer to read than the updates, and each stores all of it again.
    private const int SnapshotEvery = 200;
    private const int LargeUpdate = 2000;
    private const int LengthForOneMore = 2000;

    /// <summary>A file's text as it is stored now.</summary>
    public static async Task<LiveText> ReadAsync(FolioDatabase database, int file)
    {
        int version = await database.Files.AsNoTracking().Where(p => p.Id == file).Select(p => p.Version).FirstAsync();
        return await ReadAsync(database, file, version);
    }

    /// <summary>A file's text at a version.</summary>
    public static async Task<LiveText> ReadAsync(FolioDatabase database, int file, int version)
    {
        Snapshot from = await database.Snapshots.AsNoTracking().Where(s => s.FileId == file && s.Version <= version)
            .OrderByDescending(s => s.Version).FirstAsync();
        IReadOnlyList<Update> updates = await SinceAsync(database, file, from.Version, version);
        return new LiveText(version, ChangeSet.ApplyAll(from.Text, updates.Select(u => u.Changes)), [.. updates.TakeLast(RecentUpdates)], updates.Sum(u => Cost(u.Changes)));
    }

    /// <summary>The updates after a version, up to another one.</summary>
    public static async Task<IReadOnlyList<Update>> SinceAsync(FolioDatabase database, int file, int version, int until = int.MaxValue)
    {
        var rows = await database.Revisions.AsNoTracking()
            .Where(r => r.FileId == file && r.Kind == RevisionKind.Text && r.FileVersion > version && r.FileVersion <= until)
            .OrderBy(r => r.FileVersion).Select(r => new { r.ClientId, r.Payload }).ToListAsync();
        return [.. rows.Select(r => new Update(r.ClientId ?? "", ChangeSet.FromJson(r.Payload)))];
    }

    /// <summary>The text after updates were accepted, and whether a snapshot of it is due.</summary>
    internal static (LiveText Next, bool IsSnapshotDue) After(LiveText text, AcceptedUpdates accepted)
    {
        int cost = text.SinceSnapshot + accepted.Updates.Sum(u => Cost(u.Changes));
        bool isDue = cost >= SnapshotEvery + (accepted.Text.Length / LengthForOneMore);
        IEnumerable<Update> recent = text.Recent.Concat(accepted.Updates).TakeLast(RecentUpdates);
        return (new LiveText(text.Version + accepted.Updates.Count, accepted.Text, [.. recent], isDue ? 0 : cost), isDue);
    }

    private static int Cost(ChangeSet changes) => 1 + (changes.Inserted / LargeUpdate);
}
