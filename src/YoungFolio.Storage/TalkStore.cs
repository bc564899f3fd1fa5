using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

/// <summary>The talk of each manuscript: one thread, and how far each person has read.</summary>
public sealed class TalkStore(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue, TimeProvider clock)
{
    /// <summary>The most signs of a message.</summary>
    public const int LongestText = 4000;

    /// <summary>So many messages are read at a time.</summary>
    public const int AtOnce = 60;

    private const int LongestWords = 2000;
    private const int MostMessages = 50_000;

    /// <summary>The last messages before one, in the order in which they were said; null: the newest.</summary>
    public async Task<IReadOnlyList<TalkMessage>> ListAsync(int manuscript, int? before = null)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        int last = before ?? int.MaxValue;
        List<TalkMessage> messages = await database.TalkMessages.AsNoTracking().Where(m => m.ManuscriptId == manuscript && m.Id < last).OrderByDescending(m => m.Id).Take(AtOnce).ToListAsync();
        messages.Reverse();
        return messages;
    }

    /// <summary>How many messages of others came since a person read the talk last.</summary>
    public async Task<int> UnreadAsync(int manuscript, int person)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        int seen = await database.Memberships.Where(m => m.ManuscriptId == manuscript && m.PersonId == person).Select(m => m.TalkSeen).FirstOrDefaultAsync();
        return await database.TalkMessages.CountAsync(m => m.ManuscriptId == manuscript && m.Id > seen && m.PersonId != person);
    }

    /// <summary>Says something.</summary>
    /// <exception cref="StoreException">It says nothing, or too much.</exception>
    public Task<int> SayAsync(TalkMessage message)
    {
        ArgumentNullException.ThrowIfNull(message);
        message.Text = (message.Text ?? "").Trim();
        if (message.Text.Length > LongestText || (message.Text.Length == 0 && message.Link == TalkLink.None))
        {
            throw new StoreException($"Say something, in at most {LongestText:N0} signs.");
        }

        if (message.Words.Length > LongestWords)
        {
            throw new StoreException("A message leads to a passage: choose fewer words.");
        }

        return writeQueue.RunAsync(message.PersonId, async session =>
        {
            if (await session.Database.TalkMessages.CountAsync(m => m.ManuscriptId == message.ManuscriptId) >= MostMessages)
            {
                throw new StoreException($"This manuscript's talk has {MostMessages:N0} messages, which is the most.");
            }

            message.At = message.At == default ? clock.GetUtcNow().UtcDateTime : message.At;
            session.Database.TalkMessages.Add(message);
            await session.Database.SaveChangesAsync();
            // Whoever says something has read what was said before.
            await ReadAsync(session, message.ManuscriptId, message.PersonId, message.Id);
            session.Tell(new TalkChanged(message.ManuscriptId));
            return message.Id;
        });
    }

    /// <summary>Takes a message of one's own back, or any for whoever owns the manuscript.</summary>
    /// <exception cref="StoreException">It isn't there, or is another's.</exception>
    public Task<int> TakeBackAsync(int manuscript, int person, int id, bool isOwner) => writeQueue.RunAsync(person, async session =>
    {
        int gone = await session.Database.TalkMessages.Where(m => m.Id == id && m.ManuscriptId == manuscript && (isOwner || m.PersonId == person)).ExecuteDeleteAsync();
        session.Tell(new TalkChanged(manuscript));
        return gone > 0 ? gone : throw new StoreException("Only whoever said it takes it back.");
    });

    /// <summary>Notes that a person has read up to a message.</summary>
    public Task<int> SeenAsync(int manuscript, int person, int id) => writeQueue.RunAsync(person, async session =>
    {
        // Nobody has read what isn't said yet.
        int last = await session.Database.TalkMessages.Where(m => m.ManuscriptId == manuscript && m.Id <= id).MaxAsync(m => (int?)m.Id) ?? 0;
        return await ReadAsync(session, manuscript, person, last);
    });

    /// <summary>Notes where passages are by now. It changes nothing that anyone sees.</summary>
    public Task<int> KeepPlacesAsync(int manuscript, IReadOnlyList<TalkMessage> followed) => PassagePlaces.KeepAsync(writeQueue, manuscript, followed);

    private static Task<int> ReadAsync(WriteSession session, int manuscript, int person, int id) =>
        session.Database.Memberships.Where(m => m.ManuscriptId == manuscript && m.PersonId == person && m.TalkSeen < id).ExecuteUpdateAsync(m => m.SetProperty(x => x.TalkSeen, id));
}
