using YoungFolio.Chronicle;
using YoungFolio.Cowriting;
using YoungFolio.Storage;

namespace YoungFolio.Server.History;

/// <summary>Finds passages where they are by now, in whichever file.</summary>
public sealed class PassageFollowing(TextStore texts)
{
    // Following more changes than this each time would be slow: then the place is noted.
    private const int MostChanges = 200;

    /// <summary>The line of a place, from 1.</summary>
    public static int LineOf(string text, int place)
    {
        ArgumentNullException.ThrowIfNull(text);
        return 1 + text.AsSpan(0, Math.Min(place, text.Length)).Count('\n');
    }

    /// <summary>Brings passages of a manuscript to where they are now.</summary>
    /// <returns>Those whose new place is worth being noted.</returns>
    public async Task<IReadOnlyList<T>> MoveAsync<T>(int manuscript, IReadOnlyCollection<T> passages)
        where T : class, IPassage
    {
        if (passages.Count == 0)
        {
            return [];
        }

        var present = (await texts.AllAsync(manuscript)).Values.ToDictionary(t => t.File, t => (t.Text.Version, t.Text.Text));
        var since = new Dictionary<(int, int), IReadOnlyList<ChangeSet>>();
        var moved = new List<T>();
        foreach (T passage in passages)
        {
            var anchor = new PassageAnchor(passage.FileId, passage.Version, passage.From, passage.To, passage.Words, passage.IsGone);
            if (!present.TryGetValue(passage.FileId, out (int Version, string Text) now))
            {
                // Its file was deleted.
                anchor = anchor with { IsGone = true };
            }
            else if (now.Version > passage.Version)
            {
                if (!since.TryGetValue((passage.FileId, passage.Version), out IReadOnlyList<ChangeSet>? changes))
                {
                    since[(passage.FileId, passage.Version)] = changes = await texts.ChangesAsync(manuscript, passage.FileId, passage.Version, now.Version);
                }

                anchor = anchor.Over(changes, now.Text);
            }

            PassageAnchor found = anchor.FindAgain(present);
            bool isFar = found.File != passage.FileId || found.Version > passage.Version + MostChanges || (found.IsGone && !passage.IsGone && found.Version > passage.Version);
            (passage.FileId, passage.Version, passage.From, passage.To, passage.Words, passage.IsGone) = (found.File, found.Version, found.From, found.To, found.Words, found.IsGone);
            if (isFar)
            {
                moved.Add(passage);
            }
        }

        return moved;
    }
}
