using YoungFolio.Chronicle;
using YoungFolio.Compiler;
using YoungFolio.Cowriting;
using YoungFolio.Storage;

namespace YoungFolio.Server.History;

/// <summary>A suggestion that wasn't decided, and why.</summary>
public sealed record LeftSuggestion(int Id, string Why);

/// <summary>What became of suggestions.</summary>
/// <param name="Decided">Those that are taken or declined now.</param>
/// <param name="Left">The others.</param>
public sealed record DecisionView(IReadOnlyList<int> Decided, IReadOnlyList<LeftSuggestion> Left);

/// <summary>Takes and declines suggestions where their passages are by now.</summary>
public sealed class Suggesting(NoteFollowing following, SuggestionStore store, TextStore texts, PeopleStore people, PastProofs proofs)
{
    // So often it is looked again where the passages are, because someone typed meanwhile.
    private const int MostAttempts = 20;

    /// <summary>Takes suggestions, as many of them as can be.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="actor">Who takes them.</param>
    /// <param name="ids">Their numbers.</param>
    /// <param name="answer">What is answered to each; empty: nothing.</param>
    /// <param name="anyway">Whether those go, too, whose words were changed since.</param>
    /// <exception cref="StoreException">Others are writing all the time.</exception>
    public async Task<DecisionView> TakeAsync(int manuscript, Actor actor, IReadOnlyList<int> ids, string answer, bool anyway)
    {
        for (int attempt = 0; attempt < MostAttempts; attempt++)
        {
            Dictionary<int, MarginNote> notes = (await following.FollowAsync(manuscript)).Where(n => n.Proposal is not null && ids.Contains(n.Id)).ToDictionary(n => n.Id);
            SuggestionPlan plan = Suggestion.Plan(notes.Values.Where(n => n.SettledBy is null).Select(Of), anyway);
            IReadOnlyDictionary<int, Person> by = await people.PeopleAsync(notes.Values.SelectMany(n => new[] { n.PersonId, n.SettledBy ?? n.PersonId }).Distinct());
            Decision done = await store.TakeAsync(
                manuscript, actor,
                [.. plan.Taken.Select(s => new TakenSuggestion(s.Id, s.Anchor.File, s.Anchor.Version, s.Anchor.From, s.Anchor.To, s.Proposal, $"took a suggestion of {Name(notes[s.Id].PersonId, by)}"))], answer);
            if (!done.IsBehind)
            {
                return new DecisionView(done.Decided, [.. plan.Left.Select(l => new LeftSuggestion(l.Id, Why(l.Hindrance))), .. await BeforeAsync(manuscript, ids.Except(done.Decided).Except(plan.Left.Select(l => l.Id)))]);
            }
        }

        throw new StoreException("Others are writing in these words just now. Try again in a moment.");
    }

    /// <summary>Declines suggestions.</summary>
    public async Task<DecisionView> DeclineAsync(int manuscript, Actor actor, IReadOnlyList<int> ids, string answer)
    {
        Decision done = await store.DeclineAsync(manuscript, actor, ids, answer);
        return new DecisionView(done.Decided, [.. await BeforeAsync(manuscript, done.Before)]);
    }

    /// <summary>The manuscript as it would be with the open suggestions, those of one person or of all, with what they change marked.</summary>
    public async Task<ChangeProof> PrintAsync(int manuscript, int? person, CancellationToken stop)
    {
        IEnumerable<MarginNote> open = (await following.FollowAsync(manuscript)).Where(n => n is { Proposal: not null, SettledBy: null } && (person is null || n.PersonId == person));
        var now = (await texts.AllAsync(manuscript)).Values.ToDictionary(t => t.File, t => t.Text);
        var suggested = new Dictionary<int, string>();
        foreach (Suggestion one in Suggestion.Plan(open.Select(Of)).Taken)
        {
            if (now.TryGetValue(one.Anchor.File, out LiveText? text) && text.Version == one.Anchor.Version)
            {
                string before = suggested.GetValueOrDefault(one.Anchor.File, text.Text);
                suggested[one.Anchor.File] = one.ChangeOf(before.Length).Apply(before);
            }
        }

        return await proofs.SuggestedAsync(manuscript, suggested, stop);
    }

    private static Suggestion Of(MarginNote note) => new(note.Id, new PassageAnchor(note.FileId, note.Version, note.From, note.To, note.Words, note.IsGone), note.Instead ?? note.Words, note.Proposal!);

    private static string Why(SuggestionHindrance hindrance) => hindrance switch
    {
        SuggestionHindrance.Gone => "The words that it changes are gone.",
        SuggestionHindrance.Changed => "The words that it changes were changed since.",
        _ => "Another one that is taken changes the same words.",
    };

    private static string Name(int person, IReadOnlyDictionary<int, Person> by) => by.TryGetValue(person, out Person? found) ? found.Name : "someone who left";

    // Those that somebody decided in the meantime say who it was.
    private async Task<IEnumerable<LeftSuggestion>> BeforeAsync(int manuscript, IEnumerable<int> ids)
    {
        int[] left = [.. ids];
        if (left.Length == 0)
        {
            return [];
        }

        var notes = (await following.FollowAsync(manuscript)).Where(n => left.Contains(n.Id)).ToDictionary(n => n.Id);
        IReadOnlyDictionary<int, Person> by = await people.PeopleAsync(notes.Values.Select(n => n.SettledBy ?? n.PersonId).Distinct());
        return left.Select(id => new LeftSuggestion(id, notes.TryGetValue(id, out MarginNote? note) && note.SettledBy is { } who
            ? $"{Name(who, by)} has {(note.IsTaken == true ? "taken" : "declined")} it already."
            : "This suggestion isn’t there any more."));
    }
}
