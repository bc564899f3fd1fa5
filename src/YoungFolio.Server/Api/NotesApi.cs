using System.Security.Claims;
using YoungFolio.Chronicle;
using YoungFolio.Compiler;
using YoungFolio.Cowriting;
using YoungFolio.Manuscript.Searching;
using YoungFolio.Server.History;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>An answer to a note.</summary>
public sealed record ReplyView(int Id, PersonView? Person, DateTime At, string Text);

/// <summary>A note in the margin.</summary>
/// <param name="Id">Its number.</param>
/// <param name="File">The file of its passage.</param>
/// <param name="Path">The file's path; empty: the file is gone.</param>
/// <param name="Version">The version of the text that the place is of.</param>
/// <param name="From">The passage's first character.</param>
/// <param name="To">The place behind its last one.</param>
/// <param name="Line">Its line, from 1.</param>
/// <param name="Words">The passage's words, or what they were.</param>
/// <param name="IsGone">Whether they are gone.</param>
/// <param name="Person">Who wrote it.</param>
/// <param name="At">When, in UTC.</param>
/// <param name="Text">What it says.</param>
/// <param name="SettledBy">Who settled it; null: it is open.</param>
/// <param name="Replies">What was answered.</param>
/// <param name="Names">The people whom it or an answer names, by their numbers.</param>
/// <param name="Proposal">What is suggested in the place of the words; null: it is a note.</param>
/// <param name="Instead">Of a suggestion: what the words were when it was made.</param>
/// <param name="IsTaken">Of a suggestion that is settled: whether it was taken, or else declined.</param>
public sealed record NoteView(
    int Id, int File, string Path, int Version, int From, int To, int Line, string Words, bool IsGone, PersonView? Person, DateTime At, string Text, PersonView? SettledBy, IReadOnlyList<ReplyView> Replies, IReadOnlyList<int> Names,
    string? Proposal, string? Instead, bool? IsTaken);

/// <summary>A note that is to be written, on a passage of a version of a text; with a proposal it is a suggestion.</summary>
public sealed record NoteWish(int File, int Version, int From, int To, string? Text, string? Proposal = null);

/// <summary>What becomes of suggestions.</summary>
/// <param name="Suggestions">Their numbers.</param>
/// <param name="IsTaken">Whether they are taken, or else declined.</param>
/// <param name="Answer">What is answered to each.</param>
/// <param name="Anyway">Whether those are taken, too, whose words were changed since.</param>
public sealed record DecisionWish(IReadOnlyList<int>? Suggestions, bool IsTaken, string? Answer, bool Anyway = false);

/// <summary>A note of the text that is to go into the margin, as it was listed.</summary>
public sealed record TypedNoteWish(string? Path, string? Command, int From, string? Text);

/// <summary>Words of a note or an answer.</summary>
public sealed record NoteWords(string? Text);

/// <summary>Whether a note is settled.</summary>
public sealed record NoteSettled(bool IsSettled);

/// <summary>Margin notes: threads on passages, which move with the text.</summary>
public static class NotesApi
{
    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder manuscript)
    {
        RouteGroupBuilder group = manuscript.MapGroup("/notes");
        group.MapGet("/", async (int id, NoteFollowing following, FileStore files, TextStore texts, ManuscriptStore store, PeopleStore people) =>
        {
            IReadOnlyList<MarginNote> notes = await following.FollowAsync(id);
            IReadOnlyDictionary<int, Person> by = await people.PeopleAsync(notes.SelectMany(n => n.Replies.Select(r => r.PersonId).Append(n.PersonId).Append(n.SettledBy ?? n.PersonId)).Distinct());
            List<Membership> members = (await store.ManuscriptAsync(id)).Members;
            var paths = (await files.FilesAsync(id)).ToDictionary(f => f.Id, f => f.Path);
            var views = new List<NoteView>();
            foreach (MarginNote n in notes)
            {
                string text = paths.ContainsKey(n.FileId) ? (await texts.TextAsync(n.FileId)).Text : "";
                views.Add(new NoteView(
                    n.Id, n.FileId, paths.GetValueOrDefault(n.FileId, ""), n.Version, n.From, n.To, PassageFollowing.LineOf(text, n.From), n.Words, n.IsGone, View(n.PersonId), n.At, n.Text,
                    n.SettledBy is { } settled ? View(settled) : null, [.. n.Replies.Select(r => new ReplyView(r.Id, View(r.PersonId), r.At, r.Text))],
                    [.. Named(members, n.Replies.Select(r => r.Text).Prepend(n.Text))], n.Proposal, n.Instead, n.IsTaken));
            }

            return views;

            PersonView? View(int person) => by.TryGetValue(person, out Person? found) ? SessionApi.View(found) : null;
        }).Needs(Role.Reader);
        group.MapPost("/", async (int id, NoteWish wish, ClaimsPrincipal user, NoteStore notes, TextStore texts, FileStore files, ManuscriptStore store, PeopleStore people) =>
        {
            await files.FileAsync(id, wish.File);
            LiveText now = await texts.TextAsync(wish.File);
            if (wish.Version < 0 || wish.Version > now.Version || wish.From < 0 || wish.To < wish.From)
            {
                return NoPassage();
            }

            // What others typed since carries the passage along.
            (int from, int to) = ChangeSet.Carry(await texts.ChangesAsync(id, wish.File, wish.Version, now.Version), wish.From, wish.To);
            if (to < from || to > now.Text.Length || (to == from && wish.Proposal is null))
            {
                return NoPassage();
            }

            string? proposal = wish.Proposal;
            if (proposal is not null)
            {
                if (Suggestion.Narrow(now.Text, from, to, proposal) is not { } narrow)
                {
                    return Results.Json(new Problem("That would change nothing, or there are no words here yet to suggest on."), statusCode: 400);
                }

                (from, to, proposal) = narrow;
            }

            var anchor = PassageAnchor.Of(wish.File, now.Version, now.Text, from, to);
            int made = await notes.AddAsync(new MarginNote
            {
                ManuscriptId = id, FileId = anchor.File, Version = anchor.Version, From = anchor.From, To = anchor.To, Words = anchor.Words, PersonId = user.PersonId(), Text = wish.Text ?? "",
                Proposal = proposal, Instead = proposal is null ? null : anchor.Words,
            });
            await WriteToAsync(id, made, user, wish.Text ?? "", store, people);
            return Results.Ok(made);
        }).Needs(Role.Reviewer).Produces<int>();
        group.MapPost("/{note:int}/replies", async (int id, int note, NoteWords words, ClaimsPrincipal user, NoteStore notes, ManuscriptStore store, PeopleStore people) =>
        {
            await notes.ReplyAsync(id, user.PersonId(), note, words.Text ?? "");
            await WriteToAsync(id, note, user, words.Text ?? "", store, people);
            return note;
        }).Needs(Role.Reviewer);
        group.MapPost("/{note:int}/settled", (int id, int note, NoteSettled settled, ClaimsPrincipal user, NoteStore notes) => notes.SettleAsync(id, user.PersonId(), note, settled.IsSettled)).Needs(Role.Reviewer);
        group.MapGet("/typed", async (int id, TypedNoting typed) => await typed.ListAsync(id)).Needs(Role.Reader);
        group.MapPost("/typed", async (int id, TypedNoteWish wish, ClaimsPrincipal user, TypedNoting typed) =>
            await typed.TakeAsync(id, user.Actor(), wish.Path ?? "", new TypedNote(wish.Command ?? "", wish.From, wish.From, wish.Text ?? ""))).Needs(Role.Author);
        group.MapPost("/{note:int}/typed", async (int id, int note, ClaimsPrincipal user, TypedNoting typed) =>
        {
            await typed.WriteAsync(id, user.Actor(), note);
            return Results.NoContent();
        }).Needs(Role.Author);
        group.MapPost("/decided", async (int id, DecisionWish wish, ClaimsPrincipal user, Suggesting suggesting) =>
        {
            if (wish.Suggestions is not { Count: > 0 and <= NoteStore.MostNotes } ids)
            {
                return Results.Json(new Problem("Choose the suggestions first."), statusCode: 400);
            }

            string answer = (wish.Answer ?? "").Trim();
            return Results.Ok(wish.IsTaken ? await suggesting.TakeAsync(id, user.Actor(), ids, answer, wish.Anyway) : await suggesting.DeclineAsync(id, user.Actor(), ids, answer));
        }).Needs(Role.Author).Produces<DecisionView>();
        group.MapGet("/out.csv", async (int id, bool? open, string? download, ReviewOut review, CancellationToken stop) =>
            Results.File(await review.CsvAsync(id, open == true, stop), "text/csv; charset=utf-8", download ?? "notes.csv")).Needs(Role.Reader);
        group.MapGet("/out.pdf", async (int id, bool? open, string? download, ReviewOut review, CancellationToken stop) =>
            Results.File(await review.PdfAsync(id, open == true, stop), "application/pdf", download)).Needs(Role.Reader);
        group.MapGet("/print", async (int id, int? person, Suggesting suggesting, CancellationToken stop) =>
        {
            ChangeProof proof = await suggesting.PrintAsync(id, person, stop);
            return new PrintComparison(proof.Pages, proof.Changes);
        }).Needs(Role.Reader);
        group.MapGet("/print/pdf", async (int id, int? person, string? download, Suggesting suggesting, CancellationToken stop) =>
            Results.File((await suggesting.PrintAsync(id, person, stop)).Pdf, "application/pdf", download)).Needs(Role.Reader);
        group.MapPatch("/{note:int}", (int id, int note, NoteWords words, ClaimsPrincipal user, NoteStore notes) => notes.RewriteAsync(id, user.PersonId(), note, words.Text ?? "")).Needs(Role.Reviewer);
        group.MapDelete("/{note:int}", async (int id, int note, ClaimsPrincipal user, NoteStore notes, ManuscriptStore store) =>
        {
            await notes.DeleteAsync(id, user.PersonId(), note, await store.RoleOfAsync(id, user.PersonId()) == Role.Owner);
            return Results.NoContent();
        }).Needs(Role.Reviewer);
    }

    /// <summary>Those of some notes that name a person.</summary>
    internal static IEnumerable<MarginNote> ToMe(IEnumerable<MarginNote> notes, IReadOnlyList<Membership> members, int person) =>
        notes.Where(n => Named(members, n.Replies.Select(r => r.Text).Prepend(n.Text)).Contains(person));

    /// <summary>Those of some open notes that are suggestions of others, which a member decides.</summary>
    internal static IEnumerable<MarginNote> ToDecide(IEnumerable<MarginNote> open, Membership member) =>
        member.Role >= Role.Author ? open.Where(n => n.Proposal is not null && n.PersonId != member.PersonId) : [];

    /// <summary>The members whom words name: by an @ and their name, or its first word where no other has it.</summary>
    internal static IEnumerable<int> Named(IReadOnlyList<Membership> members, IEnumerable<string> texts)
    {
        string[] all = [.. texts];
        return members.Where(m => all.Any(t => Names(t, m.Person!.Name)
            || (Names(t, First(m.Person.Name)) && members.Count(o => First(o.Person!.Name).Equals(First(m.Person.Name), StringComparison.OrdinalIgnoreCase)) == 1))).Select(m => m.PersonId);

        static string First(string name) => name.Split(' ')[0];

        static bool Names(string text, string name)
        {
            for (int at = text.IndexOf('@', StringComparison.Ordinal); at >= 0; at = text.IndexOf('@', at + 1))
            {
                int end = at + 1 + name.Length;
                if (end <= text.Length && text.AsSpan(at + 1, name.Length).Equals(name, StringComparison.OrdinalIgnoreCase) && (end == text.Length || !char.IsLetterOrDigit(text[end])))
                {
                    return true;
                }
            }

            return false;
        }
    }

    private static async Task WriteToAsync(int id, int note, ClaimsPrincipal user, string text, ManuscriptStore store, PeopleStore people)
    {
        int[] named = [.. Named((await store.ManuscriptAsync(id)).Members, [text]).Where(p => p != user.PersonId())];
        if (named.Length > 0)
        {
            await people.WriteOfWordsAsync(id, user.PersonId(), named, "margin", text, $"/m/{id}/write?note={note}");
        }
    }

    private static IResult NoPassage() => Results.Json(new Problem("The passage that the note is on isn’t there any more. Choose it again."), statusCode: 409);
}
