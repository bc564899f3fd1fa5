using System.Net.Mail;
using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

/// <summary>Rules of houses, and what was handed in. A group is whoever writes together: they see each other's rules.</summary>
public sealed class HandInStore(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue, TimeProvider clock)
{
    /// <summary>The longest name.</summary>
    public const int LongestName = 80;

    /// <summary>The longest note.</summary>
    public const int LongestNote = 2000;

    /// <summary>The most rules that one person saves.</summary>
    public const int MostRules = 100;

    /// <summary>The most times that one manuscript is handed in.</summary>
    public const int MostHandIns = 200;

    private const int LargestRules = 50_000;

    /// <summary>The rules that a person may use, by name: their own, and those of people with whom they have a manuscript in common.</summary>
    public async Task<IReadOnlyList<SavedRules>> RulesAsync(int person)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        List<SavedRules> found = await Seen(database, person).AsNoTracking().ToListAsync();
        return [.. found.OrderBy(r => r.Name, StringComparer.CurrentCultureIgnoreCase).ThenBy(r => r.Id)];
    }

    /// <summary>One of them, also when whoever saved it has left the group: a manuscript goes on by its rules. Null: there is none.</summary>
    public async Task<SavedRules?> FindRulesAsync(int id)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.SavedRules.AsNoTracking().FirstOrDefaultAsync(r => r.Id == id);
    }

    /// <summary>Saves rules; under a name that the person used before they take the older ones' place.</summary>
    /// <exception cref="StoreException">They have no name, or there are too many.</exception>
    public Task<int> SaveRulesAsync(int person, string name, string values) => writeQueue.RunAsync(person, async session =>
    {
        name = SeenText.OneLine(name);
        if (name.Length is 0 or > LongestName || name.EnumerateRunes().Any(SeenText.IsUnseen) || values.Length > LargestRules)
        {
            throw new StoreException($"Rules have a name of at most {LongestName} signs.");
        }

        SavedRules? known = await session.Database.SavedRules.FirstOrDefaultAsync(r => r.PersonId == person && r.Name == name);
        if (known is null)
        {
            if (await session.Database.SavedRules.CountAsync(r => r.PersonId == person) >= MostRules)
            {
                throw new StoreException($"You have saved rules {MostRules} times already. Delete some first.");
            }

            known = new SavedRules { Name = name, PersonId = person, Values = values };
            session.Database.SavedRules.Add(known);
        }

        known.Values = values;
        known.At = clock.GetUtcNow().UtcDateTime;
        await session.Database.SaveChangesAsync();
        return known.Id;
    });

    /// <summary>Deletes rules of one's own; says whether they were there. Manuscripts that went by them go by none.</summary>
    public Task<bool> DeleteRulesAsync(int person, int id) => writeQueue.RunAsync(person, async session =>
        await session.Database.SavedRules.Where(r => r.Id == id && r.PersonId == person).ExecuteDeleteAsync() > 0);

    /// <summary>Says which rules a manuscript goes by.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="person">Who says so.</param>
    /// <param name="rules">The key of rules that ship, or the number of saved ones.</param>
    public Task<bool> ChooseAsync(int manuscript, int person, string rules) => writeQueue.RunAsync(person, async session =>
    {
        session.Tell(new HandInChanged(manuscript));
        return await session.Database.Manuscripts.Where(m => m.Id == manuscript).ExecuteUpdateAsync(m => m.SetProperty(x => x.Rules, rules)) > 0;
    });

    /// <summary>The manuscripts with a deadline whose checks weren't made since they last changed.</summary>
    public async Task<IReadOnlyList<int>> UncheckedAsync()
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.Manuscripts.Where(m => m.Deadline != null && m.DeletedAt == null && !database.CheckStandings.Any(c => c.ManuscriptId == m.Id && c.Revision == m.Revision)).Select(m => m.Id).ToListAsync();
    }

    /// <summary>How far the checks of some manuscripts are, by manuscript.</summary>
    public async Task<IReadOnlyDictionary<int, CheckStanding>> StandingsAsync(IReadOnlyCollection<int> manuscripts)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.CheckStandings.AsNoTracking().Where(c => manuscripts.Contains(c.ManuscriptId)).ToDictionaryAsync(c => c.ManuscriptId);
    }

    /// <summary>Notes how far the checks of a manuscript are; says whether it is still there.</summary>
    public Task<bool> NoteStandingAsync(CheckStanding standing) => writeQueue.RunAsync(WriteQueue.House, async session =>
    {
        ArgumentNullException.ThrowIfNull(standing);
        if (!await session.Database.Manuscripts.AnyAsync(m => m.Id == standing.ManuscriptId))
        {
            return false;
        }

        if (await session.Database.CheckStandings.FindAsync(standing.ManuscriptId) is { } known)
        {
            (known.Revision, known.Hold, known.ToLook, known.ToMend) = (standing.Revision, standing.Hold, standing.ToLook, standing.ToMend);
        }
        else
        {
            session.Database.CheckStandings.Add(standing);
        }

        return true;
    });

    /// <summary>What was handed in of a manuscript, the newest first; of the files all but their contents.</summary>
    public async Task<IReadOnlyList<HandedIn>> ListAsync(int manuscript)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        List<HandedIn> found = await database.HandIns.AsNoTracking().Where(h => h.ManuscriptId == manuscript).OrderByDescending(h => h.Id).ToListAsync();
        ILookup<int, HandedInFile> files = (await NamesAsync(database, found.Select(h => h.Id))).ToLookup(f => f.HandedInId);
        found.ForEach(h => h.Files = [.. files[h.Id]]);
        return found;
    }

    /// <summary>A file that went out; null: there is none.</summary>
    public async Task<HandedInFile?> FileAsync(int manuscript, int handedIn, int file)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.HandedInFiles.AsNoTracking().FirstOrDefaultAsync(f => f.Id == file && f.HandedInId == handedIn && database.HandIns.Any(h => h.Id == handedIn && h.ManuscriptId == manuscript));
    }

    /// <summary>The files that came with letters, by what the letters are about; without their contents.</summary>
    public async Task<ILookup<int, HandedInFile>> FilesOfAsync(IEnumerable<int> handIns)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return (await NamesAsync(database, handIns)).ToLookup(f => f.HandedInId);
    }

    /// <summary>A file that came with a letter to a person's verified address; null: there is none.</summary>
    public async Task<HandedInFile?> FileOfLetterAsync(int person, int letter, int file)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        string? email = await database.Users.AsNoTracking().Where(p => p.Id == person && p.EmailConfirmed).Select(p => p.Email).FirstOrDefaultAsync();
        return email is null ? null : await database.HandedInFiles.AsNoTracking().FirstOrDefaultAsync(f => f.Id == file
            && database.Letters.Any(l => l.Id == letter && l.HandedInId == f.HandedInId && EF.Functions.Collate(l.To, "NOCASE") == email));
    }

    /// <summary>Whether something can be sent to an address.</summary>
    public static bool IsAddress(string address) => address.Length <= 200 && MailAddress.TryCreate(address, out MailAddress? read) && read.Address == address;

    /// <summary>Hands a manuscript in: the files are kept, a pin is set with the PDF, and a letter goes out. All of it, or nothing.</summary>
    /// <param name="handIn">What is handed in; its first file is the PDF.</param>
    /// <param name="subject">What the letter is about.</param>
    /// <param name="body">What it says.</param>
    /// <exception cref="StoreException">It has no name, the address can't be one, or there are too many.</exception>
    public Task<int> HandInAsync(HandedIn handIn, string subject, string body)
    {
        ArgumentNullException.ThrowIfNull(handIn);
        handIn.Name = SeenText.OneLine(handIn.Name);
        handIn.Note = (handIn.Note ?? "").Trim();
        handIn.To = (handIn.To ?? "").Trim();
        if (handIn.Name.Length is 0 or > LongestName || handIn.Name.EnumerateRunes().Any(SeenText.IsUnseen) || handIn.Note.Length > LongestNote)
        {
            throw new StoreException($"What is handed in has a name of at most {LongestName} signs, and a note of at most {LongestNote}.");
        }

        if (handIn.To.Length > 0 && !IsAddress(handIn.To))
        {
            throw new StoreException($"“{handIn.To}” isn’t an address that a letter could go to.");
        }

        return writeQueue.RunAsync(handIn.PersonId, async session =>
        {
            ManuscriptEntity manuscript = await session.Database.Manuscripts.FindAsync(handIn.ManuscriptId) ?? throw ManuscriptLog.NoManuscript();
            if (await session.Database.HandIns.CountAsync(h => h.ManuscriptId == handIn.ManuscriptId) >= MostHandIns || await session.Database.Pins.CountAsync(p => p.ManuscriptId == handIn.ManuscriptId) >= ChronicleStore.MostPins)
            {
                throw new StoreException("This manuscript was handed in, or pinned, as often as can be kept. Take some pins out first.");
            }

            ManuscriptLog.Take(manuscript, handIn.Files.Sum(f => (long)f.Size) + handIn.Files[0].Size);
            handIn.At = clock.GetUtcNow().UtcDateTime;
            var pin = new Pin
            {
                ManuscriptId = handIn.ManuscriptId, Revision = handIn.Revision, Name = handIn.Name, Note = handIn.To.Length > 0 ? $"Handed in to {handIn.To}" : "Handed in", PersonId = handIn.PersonId, At = handIn.At,
                IsAutomatic = true, Pages = handIn.Pages, Words = handIn.Words,
            };
            session.Database.Pins.Add(pin);
            session.Database.HandIns.Add(handIn);
            await session.Database.SaveChangesAsync();
            session.Database.PinProofs.Add(new PinProof { PinId = pin.Id, Pdf = handIn.Files[0].Content });
            if (handIn.To.Length > 0)
            {
                session.Database.Letters.Add(new Letter { At = handIn.At, FromPersonId = handIn.PersonId, To = handIn.To, Subject = subject, Body = body, HandedInId = handIn.Id });
            }

            session.Tell(new PinsChanged(handIn.ManuscriptId));
            session.Tell(new HandInChanged(handIn.ManuscriptId));
            return handIn.Id;
        });
    }

    private static async Task<List<HandedInFile>> NamesAsync(FolioDatabase database, IEnumerable<int> handIns)
    {
        int[] of = [.. handIns.Distinct()];
        return await database.HandedInFiles.AsNoTracking().Where(f => of.Contains(f.HandedInId)).OrderBy(f => f.Id)
            .Select(f => new HandedInFile { Id = f.Id, HandedInId = f.HandedInId, Name = f.Name, MediaType = f.MediaType, Size = f.Size, Content = Array.Empty<byte>() }).ToListAsync();
    }

    private static IQueryable<SavedRules> Seen(FolioDatabase database, int person)
    {
        IQueryable<int> group = database.GroupOf(person);
        return database.SavedRules.Where(r => r.PersonId == person || group.Contains(r.PersonId));
    }
}
