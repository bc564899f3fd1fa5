using YoungFolio.Chronicle;
using YoungFolio.Cowriting;
using YoungFolio.Manuscript.Searching;
using YoungFolio.Manuscript.SettingUp;
using YoungFolio.Storage;

namespace YoungFolio.Server.History;

/// <summary>A note that is typed in a text.</summary>
/// <param name="File">The file.</param>
/// <param name="Path">Its path.</param>
/// <param name="Version">The version of its text that the place is of.</param>
/// <param name="From">The command's first character.</param>
/// <param name="To">The place behind it.</param>
/// <param name="Line">Its line, from 1.</param>
/// <param name="Command">The command.</param>
/// <param name="Text">What it says.</param>
public sealed record TypedNoteView(int File, string Path, int Version, int From, int To, int Line, string Command, string Text);

/// <summary>The notes that are typed in a manuscript's texts; turns them into notes in the margin, and back.</summary>
public sealed class TypedNoting(TextStore texts, ManuscriptStore store, TypedNoteStore notes, NoteFollowing following, PeopleStore people)
{
    private const int Most = 1000;
    private const string Package = "todonotes";

    /// <summary>The notes, file by file in the order of their paths.</summary>
    public async Task<IReadOnlyList<TypedNoteView>> ListAsync(int manuscript)
    {
        IReadOnlyDictionary<string, (int File, LiveText Text)> all = await texts.AllAsync(manuscript);
        IReadOnlyList<string> commands = Commands(all.ToDictionary(t => t.Key, t => t.Value.Text.Text));
        return [.. all.Where(t => IsMarkup(t.Key)).OrderBy(t => t.Key, StringComparer.Ordinal).SelectMany(t => TypedNotes.Of(t.Value.Text.Text, commands).Select(n => new TypedNoteView(
            t.Value.File, t.Key, t.Value.Text.Version, n.From, n.To, PassageFollowing.LineOf(t.Value.Text.Text, n.From), n.Command, n.Text))).Take(Most)];
    }

    /// <summary>Turns one into a note in the margin.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="actor">Who does it.</param>
    /// <param name="path">The file.</param>
    /// <param name="wanted">The note, as it was listed.</param>
    /// <returns>The note's number.</returns>
    /// <exception cref="StoreException">It isn't there any more, or stands alone in its text.</exception>
    public async Task<int> TakeAsync(int manuscript, Actor actor, string path, TypedNote wanted)
    {
        int file = (await texts.AllAsync(manuscript)).TryGetValue(path, out (int File, LiveText Text) found) ? found.File : throw Gone();
        MarginNote? made = null;
        MarginNote note = await notes.TakeAsync(manuscript, actor with { Act = "put a note of the text into the margin" }, all =>
        {
            string text = all.GetValueOrDefault(path) ?? throw Gone();
            TypedNote there = TypedNotes.Of(text, Commands(all)).Where(n => n.Command == wanted.Command && n.Text == wanted.Text).MinBy(n => Math.Abs(n.From - wanted.From)) ?? throw Gone();
            TakenNote taken = TypedNotes.Take(text, there) ?? throw new StoreException("There are no words here that the note could be on.");
            var change = ChangeSet.Replace(text.Length, taken.From, taken.To, "");
            var anchor = PassageAnchor.Of(file, 0, change.Apply(text), taken.Passage.From, taken.Passage.To);
            made = new MarginNote { ManuscriptId = manuscript, FileId = file, From = anchor.From, To = anchor.To, Words = anchor.Words, PersonId = actor.Person, Text = there.Text.Length == 0 ? "(nothing)" : TypedNotes.Plain(there.Text) };
            return new Dictionary<string, ChangeSet> { [path] = change };
        }, () => made!);
        return note.Id;
    }

    /// <summary>Writes a note of the margin behind its words in the text, and settles it. Where no command for notes is at hand, the package is loaded.</summary>
    /// <exception cref="StoreException">It is settled, its words are gone or being changed, or there is no place to load the package.</exception>
    public async Task WriteAsync(int manuscript, Actor actor, int id)
    {
        MarginNote note = (await following.FollowAsync(manuscript)).FirstOrDefault(n => n.Id == id && n is { SettledBy: null, Proposal: null }) ?? throw new StoreException("This note isn't open any more.");
        string path = (await texts.AllAsync(manuscript)).FirstOrDefault(t => t.Value.File == note.FileId).Key ?? throw WordsGone();
        string main = (await store.ManuscriptAsync(manuscript)).MainFile;
        IReadOnlyDictionary<int, Person> by = await people.PeopleAsync(note.Replies.Select(r => r.PersonId).Append(note.PersonId).Distinct());
        string says = string.Join(" – ", note.Replies.Select(r => (r.PersonId, r.Text)).Prepend((note.PersonId, note.Text)).Select(s => $"{(by.TryGetValue(s.PersonId, out Person? who) ? who.Name : "Someone")}: {s.Text}"));
        await notes.WriteAsync(manuscript, actor with { Act = "wrote a note of the margin into the text" }, id, all =>
        {
            string text = all.GetValueOrDefault(path) ?? throw WordsGone();
            if (note.IsGone || note.To > text.Length || text[note.From..note.To] != note.Words)
            {
                throw WordsGone();
            }

            (string command, IReadOnlyDictionary<string, string> loaded) = CommandFor(all, main);
            // Loading may have moved the place, where it is in the same file.
            int at = note.To + loaded[path].Length - text.Length;
            string typed = loaded[path].Insert(at, TypedNotes.Typed(command, says));
            return all.Keys.Where(k => k == path || loaded[k] != all[k]).ToDictionary(k => k, k => ChangeSet.Between(all[k], k == path ? typed : loaded[k]));
        });
    }

    private static (string Command, IReadOnlyDictionary<string, string> Texts) CommandFor(IReadOnlyDictionary<string, string> all, string main)
    {
        var setUp = SetUp.Of(all, main);
        if (setUp.Packages(new Dictionary<string, int>()).Any(p => p.Name == Package))
        {
            return ("todo", all);
        }

        IReadOnlyList<TypedDefinition> own = Definitions(all);
        if (TypedNotes.Commands(own).FirstOrDefault(c => own.Any(d => d.Name == c)) is { } command)
        {
            return (command, all);
        }

        try
        {
            return ("todo", SetUp.Apply(all, setUp.Load(Package)));
        }
        catch (SetUpException e)
        {
            throw new StoreException(e.Message);
        }
    }

    private static IReadOnlyList<string> Commands(IReadOnlyDictionary<string, string> all) => TypedNotes.Commands(Definitions(all));

    private static IReadOnlyList<TypedDefinition> Definitions(IReadOnlyDictionary<string, string> all) =>
        [.. all.Where(t => IsMarkup(t.Key) || t.Key.EndsWith(".sty", StringComparison.OrdinalIgnoreCase)).OrderBy(t => t.Key, StringComparer.Ordinal).SelectMany(t => TypedNames.Of(t.Value).Definitions)];

    private static bool IsMarkup(string path) => path.EndsWith(".tex", StringComparison.OrdinalIgnoreCase) || path.EndsWith(".ltx", StringComparison.OrdinalIgnoreCase);

    private static StoreException Gone() => new("This note isn't in the text any more.");

    private static StoreException WordsGone() => new("The words that it is on are gone, or being changed just now.");
}
