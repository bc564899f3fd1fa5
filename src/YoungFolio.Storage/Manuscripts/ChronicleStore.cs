using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

/// <summary>Which events are wanted.</summary>
/// <param name="Person">Only of this person.</param>
/// <param name="File">Only of this file.</param>
/// <param name="Kind">Only of this kind.</param>
/// <param name="Words">Only those whose headings, paths or words say this.</param>
/// <param name="Before">Only those with lower numbers.</param>
/// <param name="Count">At most so many.</param>
public sealed record EventWish(int? Person, int? File, string? Kind, string? Words, int? Before, int Count);

/// <summary>What the chronicle keeps: events that were read out of the log, and pins.</summary>
public sealed class ChronicleStore(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue, TimeProvider clock)
{
    /// <summary>The longest name of a pin.</summary>
    public const int LongestName = 100;

    /// <summary>The longest note on a pin.</summary>
    public const int LongestNote = 2000;

    /// <summary>The most pins of a manuscript.</summary>
    public const int MostPins = 500;

    private const int MostEvents = 500;

    /// <summary>How far the log has been read.</summary>
    public async Task<int> MarkAsync(int manuscript)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.HistoryMarks.Where(m => m.ManuscriptId == manuscript).Select(m => m.Revision).FirstOrDefaultAsync();
    }

    /// <summary>Steps of the log behind a revision, in order.</summary>
    public async Task<IReadOnlyList<Revision>> StepsAsync(int manuscript, int after, int count)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.Revisions.AsNoTracking().Where(r => r.ManuscriptId == manuscript && r.Number > after).OrderBy(r => r.Number).Take(count).ToListAsync();
    }

    /// <summary>Who wrote which file, as it was kept.</summary>
    public async Task<IReadOnlyList<FileAuthors>> AuthorsAsync(int manuscript)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.FileAuthors.AsNoTracking().Where(a => a.ManuscriptId == manuscript).ToListAsync();
    }

    /// <summary>The latest events, in order.</summary>
    public async Task<IReadOnlyList<HistoryEvent>> LatestAsync(int manuscript, int count)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        List<HistoryEvent> found = await database.HistoryEvents.AsNoTracking().Where(e => e.ManuscriptId == manuscript).OrderByDescending(e => e.Number).Take(count).ToListAsync();
        found.Reverse();
        return found;
    }

    /// <summary>Keeps what was read: events, new ones and some that went on, and who wrote what.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="from">The revision from which it was read: if another has read further meanwhile, nothing is kept.</param>
    /// <param name="until">The last revision that was read.</param>
    /// <param name="events">The events.</param>
    /// <param name="authors">Who wrote what.</param>
    public Task<bool> KeepAsync(int manuscript, int from, int until, IReadOnlyList<HistoryEvent> events, IReadOnlyList<FileAuthors> authors) => writeQueue.RunAsync(WriteQueue.House, async session =>
    {
        FolioDatabase database = session.Database;
        HistoryMark? mark = await database.HistoryMarks.FindAsync(manuscript);
        if ((mark?.Revision ?? 0) != from || !await database.Manuscripts.AnyAsync(m => m.Id == manuscript))
        {
            return false;
        }

        if (mark is null)
        {
            database.HistoryMarks.Add(mark = new HistoryMark { ManuscriptId = manuscript });
        }

        mark.Revision = until;
        int first = events.Count == 0 ? 0 : events.Min(e => e.Number);
        Dictionary<int, long> known = await database.HistoryEvents.AsNoTracking().Where(e => e.ManuscriptId == manuscript && e.Number >= first).ToDictionaryAsync(e => e.Number, e => e.Id);
        foreach (HistoryEvent one in events)
        {
            one.Id = known.GetValueOrDefault(one.Number);
            database.Update(one);
        }

        List<int> files = [.. authors.Select(a => a.FileId)];
        await database.FileAuthors.Where(a => files.Contains(a.FileId)).ExecuteDeleteAsync();
        database.FileAuthors.AddRange(authors);
        return true;
    });

    /// <summary>The events that are wanted, the newest first.</summary>
    public async Task<IReadOnlyList<HistoryEvent>> EventsAsync(int manuscript, EventWish wish)
    {
        ArgumentNullException.ThrowIfNull(wish);
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        IQueryable<HistoryEvent> found = database.HistoryEvents.AsNoTracking().Where(e => e.ManuscriptId == manuscript);
        if (wish.Person is { } person)
        {
            found = found.Where(e => e.PersonId == person);
        }

        if (wish.File is { } file)
        {
            found = found.Where(e => e.FileId == file);
        }

        if (wish.Kind is { Length: > 0 } kind)
        {
            found = found.Where(e => e.Kind == kind);
        }

        if (wish.Words is { Length: > 0 } words)
        {
            string pattern = $"%{words.Replace("!", "!!", StringComparison.Ordinal).Replace("%", "!%", StringComparison.Ordinal).Replace("_", "!_", StringComparison.Ordinal)}%";
            found = found.Where(e => EF.Functions.Like(e.Places, pattern, "!") || EF.Functions.Like(e.Path, pattern, "!") || EF.Functions.Like(e.Says, pattern, "!"));
        }

        if (wish.Before is { } before)
        {
            found = found.Where(e => e.Number < before);
        }

        return await found.OrderByDescending(e => e.Number).Take(Math.Clamp(wish.Count, 1, MostEvents)).ToListAsync();
    }

    /// <summary>All events in the order in which they ended.</summary>
    public async Task<IReadOnlyList<HistoryEvent>> AllAsync(int manuscript)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.HistoryEvents.AsNoTracking().Where(e => e.ManuscriptId == manuscript).OrderBy(e => e.ToRevision).ToListAsync();
    }

    /// <summary>Some events by their numbers.</summary>
    public async Task<IReadOnlyDictionary<int, HistoryEvent>> EventsAsync(int manuscript, IReadOnlyCollection<int> numbers)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.HistoryEvents.AsNoTracking().Where(e => e.ManuscriptId == manuscript && numbers.Contains(e.Number)).ToDictionaryAsync(e => e.Number);
    }

    /// <summary>How many words came in and went by days, in order: what the line of words is drawn from.</summary>
    public async Task<IReadOnlyList<(DateTime Day, int Change)>> WordsAsync(int manuscript)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        var days = await database.HistoryEvents.AsNoTracking().Where(e => e.ManuscriptId == manuscript).GroupBy(e => e.End.Date).Select(g => new { Day = g.Key, Change = g.Sum(e => e.WordsIn - e.WordsOut) }).ToListAsync();
        return [.. days.OrderBy(d => d.Day).Select(d => (d.Day, d.Change))];
    }

    /// <summary>The pins of a manuscript, by their revisions.</summary>
    public async Task<IReadOnlyList<Pin>> PinsAsync(int manuscript)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.Pins.AsNoTracking().Where(p => p.ManuscriptId == manuscript).OrderBy(p => p.Revision).ThenBy(p => p.Id).ToListAsync();
    }

    /// <summary>The kept PDF of a pin; null: there is none.</summary>
    public async Task<byte[]?> PdfAsync(int manuscript, int pin)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.PinProofs.AsNoTracking().Where(p => p.PinId == pin && database.Pins.Any(x => x.Id == pin && x.ManuscriptId == manuscript)).Select(p => p.Pdf).FirstOrDefaultAsync();
    }

    /// <summary>Keeps the proof of a pin that has none yet.</summary>
    public Task<bool> KeepProofAsync(int manuscript, int id, byte[] pdf, int pages, int words) => writeQueue.RunAsync(WriteQueue.House, async session =>
    {
        Pin? pin = await session.Database.Pins.FirstOrDefaultAsync(p => p.Id == id && p.ManuscriptId == manuscript);
        if (pin is null || await session.Database.PinProofs.AnyAsync(p => p.PinId == id))
        {
            return false;
        }

        ManuscriptLog.Take((await session.Database.Manuscripts.FindAsync(manuscript))!, pdf.Length);
        (pin.Pages, pin.Words) = (pages, words);
        session.Database.PinProofs.Add(new PinProof { PinId = id, Pdf = pdf });
        session.Tell(new PinsChanged(manuscript));
        return true;
    });

    /// <summary>A pin; null: it isn't there.</summary>
    public async Task<Pin?> FindPinAsync(int manuscript, int id)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.Pins.AsNoTracking().FirstOrDefaultAsync(p => p.Id == id && p.ManuscriptId == manuscript);
    }

    /// <summary>Sets a pin, with its proof; without one it is made when it is asked for.</summary>
    /// <exception cref="StoreException">It has no name, or there are too many.</exception>
    public Task<int> PinAsync(Pin pin, byte[]? pdf)
    {
        ArgumentNullException.ThrowIfNull(pin);
        Check(pin);
        return writeQueue.RunAsync(pin.PersonId, async session =>
        {
            ManuscriptEntity manuscript = await session.Database.Manuscripts.FindAsync(pin.ManuscriptId) ?? throw ManuscriptLog.NoManuscript();
            if (await session.Database.Pins.CountAsync(p => p.ManuscriptId == pin.ManuscriptId) >= MostPins)
            {
                throw new StoreException($"This manuscript has {MostPins} pins already. Take one out first.");
            }

            ManuscriptLog.Take(manuscript, pdf?.Length ?? 0);
            pin.At = pin.At == default ? clock.GetUtcNow().UtcDateTime : pin.At;
            session.Database.Pins.Add(pin);
            await session.Database.SaveChangesAsync();
            if (pdf is not null)
            {
                session.Database.PinProofs.Add(new PinProof { PinId = pin.Id, Pdf = pdf });
            }

            session.Tell(new PinsChanged(pin.ManuscriptId));
            return pin.Id;
        });
    }

    /// <summary>Gives a pin another name and note.</summary>
    /// <exception cref="StoreException">It isn't there, or has no name.</exception>
    public Task<int> RenameAsync(int manuscript, int person, int id, string name, string note) => writeQueue.RunAsync(person, async session =>
    {
        Pin pin = await session.Database.Pins.FirstOrDefaultAsync(p => p.Id == id && p.ManuscriptId == manuscript) ?? throw new StoreException("This pin isn't there any more.");
        (pin.Name, pin.Note) = (name, note);
        Check(pin);
        session.Tell(new PinsChanged(manuscript));
        return pin.Id;
    });

    /// <summary>Takes a pin out, with its proof; what it named stays in the history.</summary>
    public Task<bool> UnpinAsync(int manuscript, int person, int id) => writeQueue.RunAsync(person, async session =>
    {
        session.Tell(new PinsChanged(manuscript));
        return await session.Database.Pins.Where(p => p.Id == id && p.ManuscriptId == manuscript).ExecuteDeleteAsync() > 0;
    });

    private static void Check(Pin pin)
    {
        pin.Name = SeenText.OneLine(pin.Name);
        pin.Note = (pin.Note ?? "").Trim();
        if (pin.Name.Length is 0 or > LongestName || pin.Name.EnumerateRunes().Any(SeenText.IsUnseen) || pin.Note.Length > LongestNote)
        {
            throw new StoreException($"A pin has a name of at most {LongestName} signs, and a note of at most {LongestNote}.");
        }
    }
}
