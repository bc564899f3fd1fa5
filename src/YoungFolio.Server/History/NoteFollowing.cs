using YoungFolio.Storage;

namespace YoungFolio.Server.History;

/// <summary>The margin notes of manuscripts, with their passages where they are by now.</summary>
public sealed class NoteFollowing(NoteStore notes, PassageFollowing following)
{
    /// <summary>The notes of a manuscript.</summary>
    public async Task<IReadOnlyList<MarginNote>> FollowAsync(int manuscript)
    {
        IReadOnlyList<MarginNote> all = await notes.ListAsync(manuscript);
        IReadOnlyList<MarginNote> moved = await following.MoveAsync(manuscript, all);
        if (moved.Count > 0)
        {
            await notes.KeepPlacesAsync(manuscript, moved);
        }

        return all;
    }
}
