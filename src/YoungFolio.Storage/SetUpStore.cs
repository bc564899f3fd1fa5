using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

/// <summary>Set-ups that were saved under a name. A group is whoever writes together: they see each other's.</summary>
public sealed class SetUpStore(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue, TimeProvider clock)
{
    /// <summary>The longest name.</summary>
    public const int LongestName = 60;

    /// <summary>The most that one person saves.</summary>
    public const int MostSaved = 100;

    private const int LargestValues = 200_000;

    /// <summary>The set-ups that a person may use, by name: their own, and those of people with whom they have a manuscript in common.</summary>
    public async Task<IReadOnlyList<SavedSetUp>> ListAsync(int person)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        List<SavedSetUp> found = await Seen(database, person).AsNoTracking().ToListAsync();
        return [.. found.OrderBy(s => s.Name, StringComparer.CurrentCultureIgnoreCase).ThenBy(s => s.Id)];
    }

    /// <summary>One of them; null: there is none that the person may use.</summary>
    public async Task<SavedSetUp?> FindAsync(int person, int id)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await Seen(database, person).AsNoTracking().FirstOrDefaultAsync(s => s.Id == id);
    }

    /// <summary>Saves a set-up; under a name that the person used before it takes the older one's place.</summary>
    /// <exception cref="StoreException">It has no name, or there are too many.</exception>
    public Task<int> SaveAsync(int person, string name, string values) => writeQueue.RunAsync(person, async session =>
    {
        name = SeenText.OneLine(name);
        if (name.Length is 0 or > LongestName || name.EnumerateRunes().Any(SeenText.IsUnseen) || values.Length > LargestValues)
        {
            throw new StoreException($"A set-up has a name of at most {LongestName} signs.");
        }

        SavedSetUp? known = await session.Database.SavedSetUps.FirstOrDefaultAsync(s => s.PersonId == person && s.Name == name);
        if (known is null)
        {
            if (await session.Database.SavedSetUps.CountAsync(s => s.PersonId == person) >= MostSaved)
            {
                throw new StoreException($"You have saved {MostSaved} set-ups already. Delete one first.");
            }

            known = new SavedSetUp { Name = name, PersonId = person, Values = values };
            session.Database.SavedSetUps.Add(known);
        }

        known.Values = values;
        known.At = clock.GetUtcNow().UtcDateTime;
        await session.Database.SaveChangesAsync();
        return known.Id;
    });

    /// <summary>Deletes a set-up of one's own; says whether it was there.</summary>
    public Task<bool> DeleteAsync(int person, int id) => writeQueue.RunAsync(person, async session =>
        await session.Database.SavedSetUps.Where(s => s.Id == id && s.PersonId == person).ExecuteDeleteAsync() > 0);

    private static IQueryable<SavedSetUp> Seen(FolioDatabase database, int person)
    {
        IQueryable<int> group = database.GroupOf(person);
        return database.SavedSetUps.Where(s => s.PersonId == person || group.Contains(s.PersonId));
    }
}
