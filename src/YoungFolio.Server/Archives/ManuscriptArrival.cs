using YoungFolio.Chronicle;
using YoungFolio.Storage;

namespace YoungFolio.Server.Archives;

/// <summary>Puts manuscripts on the shelf that come in from elsewhere: with their history, where one came along.</summary>
internal sealed class ManuscriptArrival(ManuscriptStore store, FileStore files, PeopleStore people, TimeProvider clock)
{
    private const int LongestSubject = 120;

    /// <summary>Stores a manuscript. Each state of its history is there as it was; the last one is as the files came in.</summary>
    /// <param name="title">Its title.</param>
    /// <param name="incoming">The manuscript.</param>
    /// <param name="actor">Who brings it in.</param>
    /// <param name="stop">Stops it: then nothing is on the shelf.</param>
    /// <exception cref="StoreException">There are too many, or one of its states can't be stored.</exception>
    public async Task<ManuscriptEntity> BringAsync(string title, IncomingManuscript incoming, Actor actor, CancellationToken stop)
    {
        int first = incoming.Past.TakeWhile(c => c.Files.Count == 0).Count();
        if (first >= incoming.Past.Count)
        {
            return await store.CreateAsync(title, incoming.Kind, incoming.MainFile, actor, incoming.Files);
        }

        DateTime now = clock.GetUtcNow().UtcDateTime;
        PastCommit begin = incoming.Past[first];
        DateTime at = Earlier(begin.At, now);
        IReadOnlyDictionary<string, byte[]> there = begin.Files;
        ManuscriptEntity made = await store.CreateAsync(title, incoming.Kind, incoming.MainFile, actor with { At = at, Act = Says(begin) }, [.. there.Select(f => (f.Key, f.Value))]);
        try
        {
            foreach (PastCommit commit in incoming.Past.Skip(first + 1))
            {
                stop.ThrowIfCancellationRequested();
                // A clock may have jumped back: what comes later isn't earlier.
                at = Earlier(commit.At > at ? commit.At : at, now);
                await ChangeAsync(made.Id, actor with { At = at, Act = Says(commit) }, there, commit.Files);
                there = commit.Files;
            }

            await ChangeAsync(made.Id, actor, there, incoming.Files.ToDictionary(f => f.Path, f => f.Bytes, StringComparer.Ordinal));
            // It is no news to whoever brought it in.
            await people.SeenAsync(made.Id, actor.Person);
            return made;
        }
        catch (Exception)
        {
            await store.PutAwayAsync(made.Id, actor, isAway: true);
            throw;
        }
    }

    private async Task ChangeAsync(int manuscript, Actor actor, IReadOnlyDictionary<string, byte[]> before, IReadOnlyDictionary<string, byte[]> after)
    {
        List<string> gone = [.. before.Keys.Where(p => !after.ContainsKey(p))];
        var renamed = new List<(string From, string To)>();
        foreach (string path in after.Keys.Where(p => gone.Count > 0 && !before.ContainsKey(p)))
        {
            if (gone.Find(p => IsSame(before[p], after[path])) is { } from)
            {
                gone.Remove(from);
                renamed.Add((from, path));
            }
        }

        // What goes goes first: a file may become a folder, or have the same name with other capitals.
        Dictionary<string, int> ids = gone.Count + renamed.Count == 0 ? [] : (await files.FilesAsync(manuscript)).ToDictionary(f => f.Path, f => f.Id, StringComparer.Ordinal);
        foreach (string path in gone)
        {
            await files.DeleteAsync(manuscript, actor, ids[path]);
        }

        foreach ((string from, string to) in renamed)
        {
            await files.RenameAsync(manuscript, actor, ids[from], to);
        }

        foreach ((string path, byte[] content) in after.Where(f => before.TryGetValue(f.Key, out byte[]? old) ? !IsSame(old, f.Value) : !renamed.Exists(r => r.To == f.Key)))
        {
            await files.PutFileAsync(manuscript, actor, path, content, replacesText: true);
        }
    }

    private static bool IsSame(byte[] one, byte[] other) => ReferenceEquals(one, other) || one.AsSpan().SequenceEqual(other);

    private static DateTime Earlier(DateTime one, DateTime other) => one < other ? one : other;

    // Who brings a history in didn't write it.
    private static string Says(PastCommit commit)
    {
        string subject = commit.Message.Split('\n')[0].Trim();
        subject = subject.Length > LongestSubject ? subject[..LongestSubject] + " …" : subject;
        return $"{(subject.Length == 0 ? "a state of its history" : subject)}{(commit.Author.Length > 0 ? $", by {commit.Author}" : "")}";
    }
}
