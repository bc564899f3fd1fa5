using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

/// <summary>What is kept with a manuscript for those who write in it: words that are right, goals and days of writing, and remarks that were left as they are.</summary>
public sealed class WritingStore(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue, TimeProvider clock)
{
    /// <summary>Words that a list takes.</summary>
    public const int MostWords = 5000;

    /// <summary>The longest word.</summary>
    public const int LongestWord = 60;

    /// <summary>The largest goal.</summary>
    public const int LargestGoal = 10_000_000;

    private const int MostGoals = 500;
    private const int MostLeft = 1000;
    private const int LongestText = 1000;

    /// <summary>The words that are right in a manuscript, or for a person, by the alphabet.</summary>
    public async Task<IReadOnlyList<string>> WordsAsync(int? manuscript, int? person)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        List<string> words = await database.KnownWords.AsNoTracking().Where(w => w.ManuscriptId == manuscript && w.PersonId == person).Select(w => w.Word).ToListAsync();
        return [.. words.Order(StringComparer.OrdinalIgnoreCase)];
    }

    /// <summary>Adds a word to a manuscript's list, or to a person's.</summary>
    /// <exception cref="StoreException">It is no word, or the list is full.</exception>
    public Task<bool> AddWordAsync(int account, int? manuscript, int? person, string word) => writeQueue.RunAsync(account, async session =>
    {
        word = (word ?? "").Trim();
        if (word.Length is 0 or > LongestWord || word.Any(c => !char.IsLetter(c) && c is not ('\'' or '-')))
        {
            throw new StoreException($"A word has letters, and up to {LongestWord} of them.");
        }

        IQueryable<KnownWord> list = session.Database.KnownWords.Where(w => w.ManuscriptId == manuscript && w.PersonId == person);
        if (await list.AnyAsync(w => w.Word == word))
        {
            return false;
        }

        if (await list.CountAsync() >= MostWords)
        {
            throw new StoreException($"The list has {MostWords:N0} words already. Take some out first.");
        }

        session.Database.KnownWords.Add(new KnownWord { ManuscriptId = manuscript, PersonId = person, Word = word });
        Tell(session, manuscript);
        return true;
    });

    /// <summary>Takes a word out of a list.</summary>
    public Task<int> RemoveWordAsync(int account, int? manuscript, int? person, string word) => writeQueue.RunAsync(account, async session =>
    {
        Tell(session, manuscript);
        return await session.Database.KnownWords.Where(w => w.ManuscriptId == manuscript && w.PersonId == person && w.Word == word).ExecuteDeleteAsync();
    });

    /// <summary>The goals of a manuscript and its sections.</summary>
    public async Task<IReadOnlyList<WordGoal>> GoalsAsync(int manuscript)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.WordGoals.AsNoTracking().Where(g => g.ManuscriptId == manuscript).ToListAsync();
    }

    /// <summary>Sets a goal, or takes it away.</summary>
    /// <param name="account">Who does it.</param>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="section">The section's title; empty: all of it.</param>
    /// <param name="words">So many words; 0: no goal.</param>
    /// <exception cref="StoreException">It can't be one.</exception>
    public Task<bool> SetGoalAsync(int account, int manuscript, string section, int words) => writeQueue.RunAsync(account, async session =>
    {
        section = (section ?? "").Trim();
        if (words is < 0 or > LargestGoal || section.Length > LongestText)
        {
            throw new StoreException($"A goal is a number of words up to {LargestGoal:N0}.");
        }

        WordGoal? goal = await session.Database.WordGoals.FirstOrDefaultAsync(g => g.ManuscriptId == manuscript && g.Section == section);
        if (words == 0)
        {
            if (goal is not null)
            {
                session.Database.WordGoals.Remove(goal);
            }
        }
        else if (goal is not null)
        {
            goal.Words = words;
        }
        else if (await session.Database.WordGoals.CountAsync(g => g.ManuscriptId == manuscript) >= MostGoals)
        {
            throw new StoreException($"There are {MostGoals} goals already. Take some away first.");
        }
        else
        {
            session.Database.WordGoals.Add(new WordGoal { ManuscriptId = manuscript, Section = section, Words = words });
        }

        Tell(session, manuscript);
        return true;
    });

    /// <summary>How many words there were at the end of each day, the oldest first.</summary>
    public async Task<IReadOnlyList<WordDay>> DaysAsync(int manuscript)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.WordDays.AsNoTracking().Where(d => d.ManuscriptId == manuscript).OrderBy(d => d.Day).ToListAsync();
    }

    /// <summary>Notes how many words there are today.</summary>
    public Task<bool> NoteWordsAsync(int manuscript, int words) => writeQueue.RunAsync(WriteQueue.House, async session =>
    {
        DateOnly today = DateOnly.FromDateTime(clock.GetLocalNow().DateTime);
        // It may have been erased meanwhile.
        if (!await session.Database.Manuscripts.AnyAsync(m => m.Id == manuscript))
        {
            return false;
        }

        WordDay? day = await session.Database.WordDays.FirstOrDefaultAsync(d => d.ManuscriptId == manuscript && d.Day == today);
        if (day is null)
        {
            session.Database.WordDays.Add(new WordDay { ManuscriptId = manuscript, Day = today, Words = words });
        }
        else
        {
            day.Words = words;
        }

        return true;
    });

    /// <summary>The remarks that were left as they are, the newest first.</summary>
    public async Task<IReadOnlyList<LeftFinding>> LeftAsync(int manuscript)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.LeftFindings.AsNoTracking().Where(f => f.ManuscriptId == manuscript).OrderByDescending(f => f.Id).ToListAsync();
    }

    /// <summary>Leaves a remark as it is.</summary>
    /// <exception cref="StoreException">Too many are.</exception>
    public Task<bool> LeaveAsync(int account, int manuscript, string code, string message, string file) => writeQueue.RunAsync(account, async session =>
    {
        if (code.Length > LongestText || message.Length > LongestText || file.Length > LongestText)
        {
            throw new StoreException("This is no remark.");
        }

        if (await session.Database.LeftFindings.CountAsync(f => f.ManuscriptId == manuscript) >= MostLeft)
        {
            throw new StoreException($"{MostLeft:N0} remarks are left as they are already. Take some of them up first.");
        }

        if (await session.Database.LeftFindings.AnyAsync(f => f.ManuscriptId == manuscript && f.Code == code && f.Message == message && f.File == file))
        {
            return false;
        }

        session.Database.LeftFindings.Add(new LeftFinding { ManuscriptId = manuscript, Code = code, Message = message, File = file, PersonId = account, At = clock.GetUtcNow().UtcDateTime });
        Tell(session, manuscript);
        return true;
    });

    /// <summary>Takes a remark up again.</summary>
    public Task<int> TakeUpAsync(int account, int manuscript, int id) => writeQueue.RunAsync(account, async session =>
    {
        Tell(session, manuscript);
        return await session.Database.LeftFindings.Where(f => f.ManuscriptId == manuscript && f.Id == id).ExecuteDeleteAsync();
    });

    private static void Tell(WriteSession session, int? manuscript)
    {
        if (manuscript is { } id)
        {
            session.Tell(new AidsChanged(id));
        }
    }
}
