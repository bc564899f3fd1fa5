using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

/// <summary>Notes where passages are by now, so that following them stays quick. It changes nothing that anyone sees.</summary>
internal static class PassagePlaces
{
    /// <summary>Keeps the places of passages of a manuscript that were followed.</summary>
    /// <returns>How many were kept; those that others followed further stay as they are.</returns>
    public static Task<int> KeepAsync<T>(WriteQueue writeQueue, int manuscript, IReadOnlyList<T> followed)
        where T : class, IPassage => writeQueue.RunAsync(WriteQueue.House, async session =>
    {
        int kept = 0;
        foreach (T now in followed)
        {
            kept += await session.Database.Set<T>().Where(p => p.Id == now.Id && p.ManuscriptId == manuscript && (p.FileId != now.FileId || p.Version < now.Version)).ExecuteUpdateAsync(p => p
                .SetProperty(x => x.FileId, now.FileId).SetProperty(x => x.Version, now.Version).SetProperty(x => x.From, now.From).SetProperty(x => x.To, now.To).SetProperty(x => x.Words, now.Words).SetProperty(x => x.IsGone, now.IsGone));
        }

        return kept;
    });
}
