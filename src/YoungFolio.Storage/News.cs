using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>What one person did to one file since someone was last here.</summary>
/// <param name="PersonId">Who.</param>
/// <param name="TokenId">The script's access token, when a script did it.</param>
/// <param name="FileId">The file; null when it is about the manuscript.</param>
/// <param name="Path">The file's path, or what was said.</param>
/// <param name="Kinds">What was done.</param>
/// <param name="Added">Characters that came in.</param>
/// <param name="Removed">Characters that went.</param>
/// <param name="From">When it began, in UTC.</param>
/// <param name="Until">When it ended, in UTC.</param>
public sealed record NewsItem(int PersonId, int? TokenId, int? FileId, string Path, IReadOnlyList<string> Kinds, int Added, int Removed, DateTime From, DateTime Until);

/// <summary>What changed since someone was last here.</summary>
/// <param name="SeenAt">When that was, in UTC.</param>
/// <param name="Items">What changed, the newest first.</param>
public sealed record News(DateTime? SeenAt, IReadOnlyList<NewsItem> Items);

/// <summary>Reads news out of the log. What was read for a person is kept, so that looking again costs only what came since.</summary>
public sealed class NewsReader : IDisposable
{
    // More than this isn't news but history.
    private const int MostRevisions = 20_000;

    private readonly IDbContextFactory<FolioDatabase> _databases;
    private readonly WriteQueue _writeQueue;
    private readonly ConcurrentDictionary<(int Manuscript, int Person), ReadSoFar> _read = new();

    /// <summary>Begins with nothing read.</summary>
    public NewsReader(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue)
    {
        _databases = databases;
        _writeQueue = writeQueue;
        writeQueue.Stored += Forget;
    }

    /// <summary>What others did to a manuscript since a person was last here.</summary>
    public async Task<News> ReadAsync(int manuscriptId, int person)
    {
        string? generation = _writeQueue.Generation;
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        Membership? membership = await database.Memberships.AsNoTracking().FirstOrDefaultAsync(m => m.ManuscriptId == manuscriptId && m.PersonId == person);
        if (membership is null)
        {
            return new News(null, []);
        }

        ReadSoFar known = _read.TryGetValue((manuscriptId, person), out ReadSoFar? found) && found.Since == membership.SeenRevision && found.Generation == generation
            ? found
            : new ReadSoFar(generation, membership.SeenRevision, membership.SeenRevision, []);
        List<Revision> revisions = await database.Revisions.AsNoTracking()
            .Where(r => r.ManuscriptId == manuscriptId && r.Number > known.Until && (r.PersonId != person || r.TokenId != null))
            .OrderByDescending(r => r.Number).Take(MostRevisions).ToListAsync();
        if (revisions.Count > 0)
        {
            IEnumerable<NewsItem> items = revisions.GroupBy(About).Select(Item).Concat(known.Items);
            known = known with { Until = revisions[0].Number, Items = [.. items.GroupBy(About).Select(g => g.Aggregate(Join)).OrderByDescending(i => i.Until)] };
            _read[(manuscriptId, person)] = known;
        }

        if (known.Items.Count == 0)
        {
            return new News(membership.SeenAt, []);
        }

        Dictionary<int, string> paths = await database.Files.AsNoTracking().Where(p => p.ManuscriptId == manuscriptId).ToDictionaryAsync(p => p.Id, p => p.Path);
        return new News(membership.SeenAt, [.. known.Items.Select(i => i.FileId is { } file ? i with { Path = paths[file] } : i)]);
    }

    /// <inheritdoc/>
    public void Dispose() => _writeQueue.Stored -= Forget;

    // What is news together: what one person, or one script, did to one file; or said of the manuscript.
    private static (int Person, int? Token, int? File, string Said) About(Revision revision) => (revision.PersonId, revision.TokenId, revision.FileId, revision.FileId is null ? revision.Payload : "");

    private static (int Person, int? Token, int? File, string Said) About(NewsItem item) => (item.PersonId, item.TokenId, item.FileId, item.Path);

    // The path comes when it is shown: a file may have another one by then.
    private static NewsItem Item(IEnumerable<Revision> revisions)
    {
        List<Revision> all = [.. revisions];
        Revision newest = all[0];
        int added = 0;
        int removed = 0;
        foreach (Revision text in all.Where(r => r.Kind == RevisionKind.Text))
        {
            foreach ((_, int length, string insert) in ChangeSet.FromJson(text.Payload).Edits)
            {
                added += insert.Length;
                removed += length;
            }
        }

        return new NewsItem(newest.PersonId, newest.TokenId, newest.FileId, About(newest).Said, [.. all.Select(r => r.Kind).Distinct()], added, removed, all[^1].At, newest.At);
    }

    private static NewsItem Join(NewsItem newer, NewsItem older) => newer with
    {
        Kinds = [.. newer.Kinds.Union(older.Kinds)],
        Added = newer.Added + older.Added,
        Removed = newer.Removed + older.Removed,
        From = older.From,
    };

    private void Forget(StoreChange change)
    {
        if (change is AllChanged)
        {
            _read.Clear();
        }
    }

    private sealed record ReadSoFar(string? Generation, int Since, int Until, IReadOnlyList<NewsItem> Items);
}
