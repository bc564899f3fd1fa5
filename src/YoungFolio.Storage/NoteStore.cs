using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

/// <summary>Margin notes, with what was answered and whether they are settled.</summary>
public sealed class NoteStore(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue, TimeProvider clock)
{
    /// <summary>The most signs of a note or an answer.</summary>
    public const int LongestText = 4000;

    /// <summary>The most notes of a manuscript.</summary>
    public const int MostNotes = 5000;

    private const int LongestWords = 20_000;
    private const int MostReplies = 200;

    private DateTime Now => clock.GetUtcNow().UtcDateTime;

    /// <summary>The notes of a manuscript, or the open ones alone, in the order in which they were written.</summary>
    public async Task<IReadOnlyList<MarginNote>> ListAsync(int manuscript, bool isOpen = false)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        List<MarginNote> notes = await database.MarginNotes.AsNoTracking().Include(n => n.Replies).Where(n => n.ManuscriptId == manuscript && (!isOpen || n.SettledBy == null)).OrderBy(n => n.Id).ToListAsync();
        notes.ForEach(n => n.Replies.Sort((a, b) => a.Id.CompareTo(b.Id)));
        return notes;
    }

    /// <summary>The notes and suggestions that a person wrote or answered, and others settled since a moment, in the order in which they were.</summary>
    public async Task<IReadOnlyList<MarginNote>> SettledForAsync(int manuscript, int person, DateTime? since)
    {
        DateTime after = since ?? DateTime.MinValue;
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.MarginNotes.AsNoTracking()
            .Where(n => n.ManuscriptId == manuscript && n.SettledAt > after && n.SettledBy != person && (n.PersonId == person || n.Replies.Any(r => r.PersonId == person)))
            .OrderBy(n => n.SettledAt).ToListAsync();
    }

    /// <summary>Writes a note.</summary>
    /// <exception cref="StoreException">It says nothing, or too much, or there are too many.</exception>
    public Task<int> AddAsync(MarginNote note)
    {
        ArgumentNullException.ThrowIfNull(note);
        bool isSuggestion = note.Proposal is not null;
        // A suggestion may speak for itself.
        note.Text = isSuggestion && string.IsNullOrWhiteSpace(note.Text) ? "" : Check(note.Text);
        if (note.Words.Length > LongestWords || note.Proposal?.Length > LongestWords)
        {
            throw new StoreException(isSuggestion ? "A suggestion is of a passage: choose fewer words." : "A note is on a passage: choose fewer words.");
        }

        return writeQueue.RunAsync(note.PersonId, async session =>
        {
            await FileRules.TextFileAsync(session.Database, note.ManuscriptId, note.FileId);
            await CheckRoomAsync(session, note.ManuscriptId);
            note.At = note.At == default ? Now : note.At;
            session.Database.MarginNotes.Add(note);
            await session.Database.SaveChangesAsync();
            session.Tell(new NotesChanged(note.ManuscriptId));
            return note.Id;
        });
    }

    /// <summary>Answers a note.</summary>
    /// <exception cref="StoreException">It isn't there, or the answer says nothing, or too much.</exception>
    public Task<int> ReplyAsync(int manuscript, int person, int id, string text, DateTime? at = null) => ChangeAsync(manuscript, person, id, async (session, note) =>
    {
        if (await session.Database.NoteReplies.CountAsync(r => r.NoteId == id) >= MostReplies)
        {
            throw new StoreException($"This note has {MostReplies} answers already. Write another one.");
        }

        note.Replies.Add(Reply(person, text, at ?? Now));
    });

    /// <summary>Settles a note, or opens it again; a suggestion that was declined is only opened again.</summary>
    /// <exception cref="StoreException">It is a suggestion, and would be settled without being taken or declined, or was taken.</exception>
    public Task<int> SettleAsync(int manuscript, int person, int id, bool isSettled, DateTime? at = null) => ChangeAsync(manuscript, person, id, (_, note) =>
    {
        if (note.Proposal is not null && (isSettled || note.IsTaken == true))
        {
            throw new StoreException(isSettled ? "A suggestion is taken or declined." : "This suggestion was taken: it is in the text.");
        }

        note.IsTaken = null;
        // Settled twice it stays as the first one had it.
        if (isSettled != note.SettledBy is not null)
        {
            note.SettledBy = isSettled ? person : null;
            note.SettledAt = isSettled ? at ?? Now : null;
        }

        return Task.CompletedTask;
    });

    /// <summary>Changes what a note of one's own says.</summary>
    /// <exception cref="StoreException">It is another's, or says nothing.</exception>
    public Task<int> RewriteAsync(int manuscript, int person, int id, string text) => ChangeAsync(manuscript, person, id, (_, note) =>
    {
        note.Text = note.PersonId != person ? throw new StoreException("Only whoever wrote a note changes it.")
            : note.Proposal is not null && string.IsNullOrWhiteSpace(text) ? "" : Check(text);
        return Task.CompletedTask;
    });

    /// <summary>Deletes a note of one's own that nobody answered, or any for whoever owns the manuscript.</summary>
    /// <exception cref="StoreException">It may not be deleted.</exception>
    public Task<int> DeleteAsync(int manuscript, int person, int id, bool isOwner) => ChangeAsync(manuscript, person, id, async (session, note) =>
    {
        if (!isOwner && (note.PersonId != person || note.IsTaken is not null || await session.Database.NoteReplies.AnyAsync(r => r.NoteId == id)))
        {
            throw new StoreException("What was answered stays: settle it instead.");
        }

        session.Database.MarginNotes.Remove(note);
    });

    /// <summary>Notes where passages are by now, so that following them stays quick. It changes nothing that anyone sees.</summary>
    public Task<int> KeepPlacesAsync(int manuscript, IReadOnlyList<MarginNote> followed) => PassagePlaces.KeepAsync(writeQueue, manuscript, followed);

    /// <summary>Looks whether there is room for another note.</summary>
    /// <exception cref="StoreException">There isn't.</exception>
    internal static async Task CheckRoomAsync(WriteSession session, int manuscript)
    {
        if (await session.Database.MarginNotes.CountAsync(n => n.ManuscriptId == manuscript) >= MostNotes)
        {
            throw new StoreException($"This manuscript has {MostNotes:N0} notes already. Delete some that are settled.");
        }
    }

    private Task<int> ChangeAsync(int manuscript, int person, int id, Func<WriteSession, MarginNote, Task> change) => writeQueue.RunAsync(person, async session =>
    {
        MarginNote note = await session.Database.MarginNotes.FirstOrDefaultAsync(n => n.Id == id && n.ManuscriptId == manuscript) ?? throw new StoreException("This note isn't there any more.");
        await change(session, note);
        session.Tell(new NotesChanged(manuscript));
        return note.Id;
    });

    /// <summary>An answer.</summary>
    /// <exception cref="StoreException">It says nothing, or too much.</exception>
    internal static NoteReply Reply(int person, string text, DateTime at) => new() { PersonId = person, At = at, Text = Check(text) };

    private static string Check(string? text)
    {
        string words = (text ?? "").Trim();
        return words.Length is > 0 and <= LongestText ? words : throw new StoreException($"Say something, in at most {LongestText:N0} signs.");
    }
}
