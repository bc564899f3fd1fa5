using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

/// <summary>Turns notes that are typed in texts into notes in the margin, and back: the text and the note change together, or not at all.</summary>
public sealed class TypedNoteStore
{
    private readonly TextStore _texts;
    private readonly ManuscriptLog _log;

    internal TypedNoteStore(TextStore texts, ManuscriptLog log)
    {
        _texts = texts;
        _log = log;
    }

    /// <summary>Takes a note out of a text and puts it into the margin.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="actor">Who does it.</param>
    /// <param name="edit">Takes it out; it may be asked again, with newer texts.</param>
    /// <param name="make">The note, on its passage of the text without it; its version is set here.</param>
    /// <exception cref="StoreException">There are too many notes, or others write all the time.</exception>
    public Task<MarginNote> TakeAsync(int manuscript, Actor actor, TextsEdit edit, Func<MarginNote> make) => _texts.EditAsync(
        manuscript, actor, edit,
        async (session, _, store) =>
        {
            await NoteStore.CheckRoomAsync(session, manuscript);
            MarginNote note = make();
            note.Version = (await store()).Single(d => d.File.Id == note.FileId).File.Version;
            note.At = actor.At ?? _log.Now;
            session.Database.MarginNotes.Add(note);
            await session.Database.SaveChangesAsync();
            session.Tell(new NotesChanged(manuscript));
            return note;
        },
        mustBeSame: true);

    /// <summary>Writes a note into the text, and settles it.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="actor">Who does it.</param>
    /// <param name="id">The note.</param>
    /// <param name="edit">Writes it; it may be asked again, with newer texts.</param>
    /// <exception cref="StoreException">It is settled by now, or isn't there, or others write all the time.</exception>
    public Task<MarginNote> WriteAsync(int manuscript, Actor actor, int id, TextsEdit edit) => _texts.EditAsync(
        manuscript, actor, edit,
        async (session, _, store) =>
        {
            MarginNote note = await session.Database.MarginNotes.FirstOrDefaultAsync(n => n.Id == id && n.ManuscriptId == manuscript && n.SettledBy == null && n.Proposal == null)
                ?? throw new StoreException("This note isn't open any more.");
            await store();
            (note.SettledBy, note.SettledAt) = (actor.Person, actor.At ?? _log.Now);
            session.Tell(new NotesChanged(manuscript));
            return note;
        },
        mustBeSame: true);
}
