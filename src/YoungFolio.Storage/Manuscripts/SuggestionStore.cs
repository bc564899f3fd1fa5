using Microsoft.EntityFrameworkCore;
using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>A suggestion that is to be taken: its change of a version of a text.</summary>
/// <param name="Note">Its number.</param>
/// <param name="File">The file.</param>
/// <param name="Version">The version of its text that the change is of, with those taken before it left out.</param>
/// <param name="From">The passage's first character.</param>
/// <param name="To">The place behind its last one.</param>
/// <param name="Words">What is put in its place.</param>
/// <param name="Act">What the chronicle says of it.</param>
public sealed record TakenSuggestion(int Note, int File, int Version, int From, int To, string Words, string Act);

/// <summary>How suggestions were decided.</summary>
/// <param name="Decided">Those that were.</param>
/// <param name="Before">Those that somebody had decided before, or that are gone.</param>
/// <param name="IsBehind">Nothing was done: a text is another by now.</param>
public sealed record Decision(IReadOnlyList<int> Decided, IReadOnlyList<int> Before, bool IsBehind);

/// <summary>Takes and declines suggestions: the text and what became of each are stored together, or not at all.</summary>
public sealed class SuggestionStore
{
    private readonly TextStore _texts;
    private readonly ManuscriptLog _log;

    internal SuggestionStore(TextStore texts, ManuscriptLog log)
    {
        _texts = texts;
        _log = log;
    }

    /// <summary>Takes suggestions. Each is a revision of its own, which says whose it is.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="actor">Who takes them.</param>
    /// <param name="taken">The suggestions, those of a text from its end to its beginning.</param>
    /// <param name="answer">What is answered to each; empty: nothing.</param>
    public Task<Decision> TakeAsync(int manuscript, Actor actor, IReadOnlyList<TakenSuggestion> taken, string answer) => _log.ChangeAsync(manuscript, actor, async (session, entity) =>
    {
        Dictionary<int, MarginNote> open = await OpenAsync(session, manuscript, taken.Select(t => t.Note));
        List<TakenSuggestion> now = [.. taken.Where(t => open.ContainsKey(t.Note))];
        foreach (var file in now.GroupBy(t => (t.File, t.Version)))
        {
            if (await session.Database.Files.AnyAsync(f => f.Id == file.Key.File && f.IsDeleted) || (await session.TextAsync(file.Key.File)).Version != file.Key.Version)
            {
                return new Decision([], [], true);
            }
        }

        foreach (TakenSuggestion one in now)
        {
            FileEntity file = await FileRules.TextFileAsync(session.Database, manuscript, one.File);
            LiveText text = await session.TextAsync(one.File);
            var change = ChangeSet.Replace(text.Text.Length, one.From, one.To, one.Words);
            _texts.Store(session, entity, actor with { Act = one.Act }, file, new TextStep(text, Authority.TakeLarge(text.Text, [new Update(TextStore.RoomClient, change)], [])));
            MarginNote note = open[one.Note];
            Settle(note, actor, isTaken: true, answer);
            bool isGone = string.IsNullOrWhiteSpace(one.Words);
            (note.Version, note.From, note.To, note.Words, note.IsGone) = (file.Version, one.From, one.From + one.Words.Length, isGone ? note.Words : one.Words, isGone);
        }

        return Told(session, manuscript, now.Select(t => t.Note), taken.Select(t => t.Note));
    });

    /// <summary>Declines suggestions.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="actor">Who declines them.</param>
    /// <param name="declined">Their numbers.</param>
    /// <param name="answer">What is answered to each; empty: nothing.</param>
    public Task<Decision> DeclineAsync(int manuscript, Actor actor, IReadOnlyList<int> declined, string answer) => _log.ChangeAsync(manuscript, actor, async (session, _) =>
    {
        Dictionary<int, MarginNote> open = await OpenAsync(session, manuscript, declined);
        foreach (MarginNote note in open.Values)
        {
            Settle(note, actor, isTaken: false, answer);
        }

        return Told(session, manuscript, declined.Where(open.ContainsKey), declined);
    });

    private static async Task<Dictionary<int, MarginNote>> OpenAsync(WriteSession session, int manuscript, IEnumerable<int> ids)
    {
        int[] wanted = [.. ids];
        return await session.Database.MarginNotes.Where(n => n.ManuscriptId == manuscript && wanted.Contains(n.Id) && n.Proposal != null && n.SettledBy == null).ToDictionaryAsync(n => n.Id);
    }

    private void Settle(MarginNote note, Actor actor, bool isTaken, string answer)
    {
        (note.SettledBy, note.SettledAt, note.IsTaken) = (actor.Person, actor.At ?? _log.Now, isTaken);
        if (answer.Length > 0)
        {
            note.Replies.Add(NoteStore.Reply(actor.Person, answer, actor.At ?? _log.Now));
        }
    }

    private static Decision Told(WriteSession session, int manuscript, IEnumerable<int> decided, IEnumerable<int> wanted)
    {
        int[] done = [.. decided];
        if (done.Length > 0)
        {
            session.Tell(new NotesChanged(manuscript));
        }

        return new Decision(done, [.. wanted.Except(done)], false);
    }
}
