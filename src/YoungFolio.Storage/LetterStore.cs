using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

/// <summary>Who wants a letter each day with what waits for them, and when they had the last one.</summary>
public sealed class LetterStore(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue, TimeProvider clock)
{
    /// <summary>Notes whether a person wants it. The first one comes a day later.</summary>
    public Task<int> WantAsync(int person, bool wants) => writeQueue.RunAsync(person, session =>
    {
        DateTime? now = clock.GetUtcNow().UtcDateTime;
        return session.Database.Users.Where(p => p.Id == person && p.WantsLetter != wants).ExecuteUpdateAsync(p => p.SetProperty(x => x.WantsLetter, wants).SetProperty(x => x.LetterAt, now));
    });

    /// <summary>Those who want a letter and had none since a moment, with when their last one was.</summary>
    public async Task<IReadOnlyList<(int Person, DateTime? Last)>> DueAsync(DateTime since)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        var due = await database.Users.AsNoTracking().Where(p => p.WantsLetter && (p.LetterAt == null || p.LetterAt <= since)).OrderBy(p => p.Id).Select(p => new { p.Id, p.LetterAt }).ToListAsync();
        return [.. due.Select(p => (p.Id, p.LetterAt))];
    }

    /// <summary>Writes to a person, and notes that it was done: both, or neither.</summary>
    /// <param name="person">The person.</param>
    /// <param name="at">When, in UTC.</param>
    /// <param name="subject">What it is about.</param>
    /// <param name="body">What it says.</param>
    /// <param name="link">Where it leads, without the server's name.</param>
    public Task<int> WriteAsync(int person, DateTime at, string subject, string body, string link) => writeQueue.RunAsync(WriteQueue.House, async session =>
    {
        string? address = await session.Database.Users.Where(p => p.Id == person && p.WantsLetter).Select(p => p.Email).FirstOrDefaultAsync();
        if (address is null)
        {
            return 0;
        }

        session.Database.Letters.Add(new Letter { At = at, FromPersonId = person, To = address, Subject = subject, Body = body, Link = link });
        await session.Database.SaveChangesAsync();
        return await session.Database.Users.Where(p => p.Id == person).ExecuteUpdateAsync(p => p.SetProperty(x => x.LetterAt, at));
    });
}
