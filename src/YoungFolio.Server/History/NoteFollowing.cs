using YoungFolio.Chronicle;
using YoungFolio.Cowriting;
using YoungFolio.Storage;

namespace YoungFolio.Server.History;

/// <summary>Finds the passages of margin notes where they are by now.</summary>
public sealed class NoteFollowing(NoteStore notes, TextStore texts)
{
    // Following more changes than this each time would be slow: then the place is noted.
    private const int MostChanges = 200;

    /// <summary>The notes of a manuscript with their passages as they are now.</summary>
    public async Task<IReadOnlyList<MarginNote>> FollowAsync(int manuscript)
    {
        IReadOnlyList<MarginNote> all = await notes.ListAsync(manuscript);
        if (all.Count == 0)
        {
            return all;
        }

        var present = (await texts.AllAsync(manuscript)).Values.ToDictionary(t => t.File, t => (t.Text.Version, t.Text.Text));
        var since = new Dictionary<(int, int), IReadOnlyList<ChangeSet>>();
        var moved = new List<MarginNote>();
        foreach (MarginNote note in all)
        {
            var anchor = new PassageAnchor(note.FileId, note.Version, note.From, note.To, note.Words, note.IsGone);
            if (!present.TryGetValue(note.FileId, out (int Version, string Text) now))
            {
                // Its file was deleted.
                anchor = anchor with { IsGone = true };
            }
            else if (now.Version > note.Version)
            {
                if (!since.TryGetValue((note.FileId, note.Version), out IReadOnlyList<ChangeSet>? changes))
                {
                    since[(note.FileId, note.Version)] = changes = await texts.ChangesAsync(manuscript, note.FileId, note.Version, now.Version);
                }

                anchor = anchor.Over(changes, now.Text);
            }

            PassageAnchor found = anchor.FindAgain(present);
            bool isFar = found.File != note.FileId || found.Version > note.Version + MostChanges || (found.IsGone && !note.IsGone && found.Version > note.Version);
            (note.FileId, note.Version, note.From, note.To, note.Words, note.IsGone) = (found.File, found.Version, found.From, found.To, found.Words, found.IsGone);
            if (isFar)
            {
                moved.Add(note);
            }
        }

        if (moved.Count > 0)
        {
            await notes.KeepPlacesAsync(manuscript, moved);
        }

        return all;
    }
}
