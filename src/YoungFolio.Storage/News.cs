using Microsoft.EntityFrameworkCore;
using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>What one person did to one part since someone was last here.</summary>
/// <param name="PersonId">Who.</param>
/// <param name="TokenId">The script's access token, when a script did it.</param>
/// <param name="PartId">The part; null when it is about the manuscript.</param>
/// <param name="Path">The part's path, or what was said.</param>
/// <param name="Kinds">What was done.</param>
/// <param name="Added">Characters that came in.</param>
/// <param name="Removed">Characters that went.</param>
/// <param name="From">When it began, in UTC.</param>
/// <param name="Until">When it ended, in UTC.</param>
public sealed record NewsItem(int PersonId, int? TokenId, int? PartId, string Path, IReadOnlyList<string> Kinds, int Added, int Removed, DateTime From, DateTime Until);

/// <summary>What changed since someone was last here.</summary>
/// <param name="SeenAt">When that was, in UTC.</param>
/// <param name="Items">What changed, the newest first.</param>
public sealed record News(DateTime? SeenAt, IReadOnlyList<NewsItem> Items);

/// <summary>Reads news out of the log.</summary>
public sealed class NewsReader(IDbContextFactory<FolioDatabase> databases)
{
    // More than this isn't news but history.
    private const int MostRevisions = 20_000;

    /// <summary>What others did to a manuscript since a person was last here.</summary>
    public async Task<News> ReadAsync(int manuscriptId, int person)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        Membership? membership = await database.Memberships.AsNoTracking().FirstOrDefaultAsync(m => m.ManuscriptId == manuscriptId && m.PersonId == person);
        if (membership is null)
        {
            return new News(null, []);
        }

        List<Revision> revisions = await database.Revisions.AsNoTracking()
            .Where(r => r.ManuscriptId == manuscriptId && r.Number > membership.SeenRevision && (r.PersonId != person || r.TokenId != null))
            .OrderByDescending(r => r.Number).Take(MostRevisions).ToListAsync();
        if (revisions.Count == 0)
        {
            return new News(membership.SeenAt, []);
        }

        Dictionary<int, string> paths = await database.Parts.AsNoTracking().Where(p => p.ManuscriptId == manuscriptId).ToDictionaryAsync(p => p.Id, p => p.Path);
        return new News(membership.SeenAt, [.. revisions.GroupBy(r => (r.PersonId, r.TokenId, r.PartId, About: r.PartId is null ? r.Payload : "")).Select(g => Item(g, paths))]);
    }

    private static NewsItem Item(IEnumerable<Revision> revisions, Dictionary<int, string> paths)
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

        return new NewsItem(newest.PersonId, newest.TokenId, newest.PartId, newest.PartId is { } part ? paths[part] : newest.Payload,
            [.. all.Select(r => r.Kind).Distinct()], added, removed, all[^1].At, newest.At);
    }
}
