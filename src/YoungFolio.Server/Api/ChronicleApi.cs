using System.Security.Claims;
using YoungFolio.Chronicle;
using YoungFolio.Compiler;
using YoungFolio.Server.History;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>An event of the history.</summary>
/// <param name="Number">Its number.</param>
/// <param name="Person">Who.</param>
/// <param name="Script">Name of the access token, when a script did it.</param>
/// <param name="Kind">What it is: text, act, create, rename and so on.</param>
/// <param name="File">The file; null: several, or the manuscript.</param>
/// <param name="Paths">The paths of its files then.</param>
/// <param name="FromRevision">Its first revision.</param>
/// <param name="ToRevision">Its last one.</param>
/// <param name="Steps">How many revisions it has.</param>
/// <param name="Begin">When it began, in UTC.</param>
/// <param name="End">When it ended, in UTC.</param>
/// <param name="WordsIn">Words that came in.</param>
/// <param name="WordsOut">Words that went.</param>
/// <param name="Places">The headings under which it happened, with their numbers then.</param>
/// <param name="Says">What was said: new paths, what was set, what a room did.</param>
public sealed record EventView(
    int Number, PersonView? Person, string? Script, string Kind, int? File, IReadOnlyList<string> Paths, int FromRevision, int ToRevision, int Steps, DateTime Begin, DateTime End, int WordsIn, int WordsOut,
    IReadOnlyList<EventPlace> Places, IReadOnlyList<string> Says);

/// <summary>A moment with a name.</summary>
public sealed record PinView(int Id, int Revision, string Name, string Note, PersonView? Person, DateTime At, bool IsAutomatic, int Pages, int Words);

/// <summary>Words that were typed, at the end of a day.</summary>
public sealed record WordsThen(DateTime Day, int Words);

/// <summary>The history as people read it.</summary>
/// <param name="Revision">The newest revision.</param>
/// <param name="SeenRevision">The newest one when one was last here.</param>
/// <param name="Events">Events, the newest first.</param>
/// <param name="HasMore">Whether there are older ones.</param>
/// <param name="Pins">The pins, the oldest first.</param>
/// <param name="Words">The words of the manuscript by days.</param>
public sealed record ChronicleView(int Revision, int SeenRevision, IReadOnlyList<EventView> Events, bool HasMore, IReadOnlyList<PinView> Pins, IReadOnlyList<WordsThen> Words);

/// <summary>An event with which words came or went.</summary>
public sealed record TracedView(EventView Event, int Came, int Went);

/// <summary>When words came and went.</summary>
/// <param name="Now">How often they are there now.</param>
/// <param name="Events">The events, the newest first.</param>
public sealed record TraceView(int Now, IReadOnlyList<TracedView> Events);

/// <summary>A pin that is to be set, or to have another name. Without a revision it names now.</summary>
public sealed record PinWish(string? Name, string? Note, int? Revision = null);

/// <summary>Two moments compared in the source.</summary>
public sealed record ComparisonView(int From, int To, IReadOnlyList<ComparedFile> Files);

/// <summary>Two moments compared in print.</summary>
public sealed record PrintComparison(int Pages, IReadOnlyList<ChangeLine> Changes);

/// <summary>What is to be as it was.</summary>
/// <param name="Revision">The revision.</param>
/// <param name="File">The file; null: all.</param>
/// <param name="Passages">Of the file only these: one, or those of a section; null: all of it.</param>
public sealed record RestoreWish(int Revision, int? File, IReadOnlyList<PassageBack>? Passages = null);

/// <summary>What was restored: whether anything was another, and of passages what takes it back.</summary>
public sealed record Restored(bool IsChanged, IReadOnlyList<UndoStep> Undo);

/// <summary>Who wrote a stretch of a text.</summary>
/// <param name="Length">How many characters.</param>
/// <param name="Event">The event that brought it in; 0: it is older than the history.</param>
public sealed record StretchView(int Length, int Event);

/// <summary>Who wrote which stretch of a file.</summary>
/// <param name="Version">The version of the text that it is of.</param>
/// <param name="Stretches">The stretches, from the beginning to the end.</param>
/// <param name="Events">The events that they are of.</param>
public sealed record AuthorsView(int Version, IReadOnlyList<StretchView> Stretches, IReadOnlyList<EventView> Events);

/// <summary>The chronicle: events, pins, comparing and restoring.</summary>
public static class ChronicleApi
{
    private const int EventsAtOnce = 100;
    private const int MostAttempts = 5;
    private const int MostPassages = 500;

    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder manuscript)
    {
        manuscript.MapGet("/chronicle", async (
            int id, int? person, int? file, string? kind, string? words, int? before, ClaimsPrincipal user, ChronicleService chronicle, ChronicleStore store, PeopleStore people, CancellationToken stop) =>
        {
            int revision = await chronicle.CatchUpAsync(id, stop);
            IReadOnlyList<HistoryEvent> events = await store.EventsAsync(id, new EventWish(person, file, kind, words?.Trim(), before, EventsAtOnce + 1));
            IReadOnlyList<Pin> pins = await store.PinsAsync(id);
            Names names = await NamesAsync(id, events.Select(e => e.PersonId).Concat(pins.Select(p => p.PersonId)), people);
            int total = 0;
            WordsThen[] line = before is not null ? [] : [.. (await store.WordsAsync(id)).Select(d => new WordsThen(d.Day, total += d.Change))];
            return new ChronicleView(
                revision, await people.SeenRevisionAsync(id, user.PersonId()), [.. events.Take(EventsAtOnce).Select(e => View(e, names))], events.Count > EventsAtOnce, [.. pins.Select(p => View(p, names))], line);
        }).Needs(Role.Reader);

        manuscript.MapGet("/chronicle/words", async (int id, string? words, ChronicleService chronicle, PeopleStore people, CancellationToken stop) =>
        {
            if (string.Join(' ', (words ?? "").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)).Length is < WordTrace.Fewest or > WordTrace.Most)
            {
                return Results.Json(new Problem($"Write between {WordTrace.Fewest} and {WordTrace.Most} signs of what you look for."), statusCode: 400);
            }

            (IReadOnlyList<TracedEvent> events, int now) = await chronicle.TraceAsync(id, words!, stop);
            Names names = await NamesAsync(id, events.Select(e => e.Event.Person), people);
            return Results.Ok(new TraceView(now, [.. events.Select(e => new TracedView(View(e.Event, names), e.Came, e.Went))]));
        }).Needs(Role.Reader).Produces<TraceView>();

        manuscript.MapPost("/pins", async (int id, PinWish wish, ClaimsPrincipal user, ChronicleStore store, ManuscriptStore manuscripts, PastProofs proofs, CancellationToken stop) =>
        {
            int newest = (await manuscripts.ManuscriptAsync(id)).Revision;
            int revision = wish.Revision ?? newest;
            return revision < 1 || revision > newest ? Results.Json(new Problem("There is no such moment."), statusCode: 400)
                : Results.Ok(await PinAsync(id, revision, wish.Name ?? "", wish.Note ?? "", isAutomatic: false, user, store, proofs, stop));
        }).Needs(Role.Author).Produces<int>();
        manuscript.MapPatch("/pins/{pin:int}", async (int id, int pin, PinWish wish, ClaimsPrincipal user, ChronicleStore store) =>
            await store.RenameAsync(id, user.PersonId(), pin, wish.Name ?? "", wish.Note ?? "")).Needs(Role.Author);
        manuscript.MapDelete("/pins/{pin:int}", async (int id, int pin, ClaimsPrincipal user, ChronicleStore store) =>
            await store.UnpinAsync(id, user.PersonId(), pin) ? Results.NoContent() : Results.Json(new Problem("This pin isn’t there any more."), statusCode: 404)).Needs(Role.Author);
        manuscript.MapGet("/pins/{pin:int}/pdf", async (int id, int pin, string? download, ChronicleStore store, PastProofs proofs, CancellationToken stop) =>
            await PdfAsync(id, pin, store, proofs, stop) is { } pdf ? Results.File(pdf, "application/pdf", download) : Results.Json(new Problem("This pin isn’t there any more."), statusCode: 404)).Needs(Role.Reader);

        manuscript.MapGet("/compare", async (int id, int from, int to, ChronicleService chronicle, ManuscriptStore store) =>
            new ComparisonView(from, to, ManuscriptComparison.Of(await chronicle.FilesAsync(id, from), await chronicle.FilesAsync(id, to), (await store.ManuscriptAsync(id)).MainFile))).Needs(Role.Reader);
        manuscript.MapGet("/compare/print", async (int id, int from, int to, PastProofs proofs, CancellationToken stop) =>
        {
            ChangeProof proof = await proofs.ChangesAsync(id, from, to, stop);
            return new PrintComparison(proof.Pages, proof.Changes);
        }).Needs(Role.Reader);
        manuscript.MapGet("/compare/print/pdf", async (int id, int from, int to, string? download, PastProofs proofs, CancellationToken stop) =>
            Results.File((await proofs.ChangesAsync(id, from, to, stop)).Pdf, "application/pdf", download)).Needs(Role.Reader);

        manuscript.MapPost("/restore", async (int id, RestoreWish wish, ClaimsPrincipal user, Restoring restoring, FileStore files, ChronicleStore store, ManuscriptStore manuscripts, PastProofs proofs, CancellationToken stop) =>
        {
            if (wish is { File: { } of, Passages: { } passages })
            {
                if (passages.Count is 0 or > MostPassages || passages.Any(p => p?.From is null || p.To is null))
                {
                    return Results.Json(new Problem($"Say which passages: one, or at most {MostPassages}."), statusCode: 400);
                }

                IReadOnlyList<(FileEntity File, Cowriting.ChangeSet Undo)> done = await restoring.RestorePassagesAsync(
                    id, user.Actor($"brought {(passages.Count == 1 ? "a passage" : "a section")} back as it was at revision {passages[0].From.Revision}"), of, passages);
                return Results.Ok(new Restored(done.Count > 0, TextsApi.Steps(done)));
            }

            int newest = (await manuscripts.ManuscriptAsync(id)).Revision;
            if (wish.Revision < 1 || wish.Revision > newest)
            {
                return Results.Json(new Problem("There is no such moment."), statusCode: 400);
            }

            if (wish.File is null)
            {
                // What is there now is easily found again.
                await PinAsync(id, newest, $"Before going back to revision {wish.Revision}", "", isAutomatic: true, user, store, proofs, stop);
            }

            bool isChanged = await restoring.RestoreAsync(id, user.Actor($"went back to revision {wish.Revision}{(wish.File is null ? "" : " in one file")}"), wish.Revision, wish.File);
            return Results.Ok(new Restored(isChanged, []));
        }).Needs(Role.Author).Produces<Restored>();

        manuscript.MapGet("/history", async (int id, ChronicleService chronicle, ChronicleStore store, FileStore files, PeopleStore people, CancellationToken stop) =>
        {
            await chronicle.CatchUpAsync(id, stop);
            IReadOnlyDictionary<int, Person> by = await people.PeopleAsync((await store.AllAsync(id)).Select(e => e.PersonId).Distinct());
            return Results.Stream(output => chronicle.WriteBundleAsync(id, by.ToDictionary(p => p.Key, p => p.Value.Name), files.BytesAsync, output, stop), "application/octet-stream", "history.fast-export");
        }).Needs(Role.Reader);

        manuscript.MapGet("/files/{file:int}/authors", async (int id, int file, ChronicleService chronicle, ChronicleStore store, FileStore files, TextStore texts, PeopleStore people, CancellationToken stop) =>
        {
            await files.FileAsync(id, file);
            ReadFile? read = await chronicle.AuthorsAsync(id, file, stop);
            LiveText? text = read?.Text is null ? null : await texts.TextAsync(file);
            for (int again = 0; again < MostAttempts && text is not null && text.Text != read?.Text; again++)
            {
                // Someone typed in between.
                read = await chronicle.AuthorsAsync(id, file, stop);
                text = await texts.TextAsync(file);
            }

            StretchView[] stretches = [.. (read?.Authors?.Stretches ?? []).Select(s => new StretchView(s.Length, s.Event))];
            IReadOnlyDictionary<int, HistoryEvent> events = await store.EventsAsync(id, [.. stretches.Select(s => s.Event).Distinct()]);
            Names names = await NamesAsync(id, events.Values.Select(e => e.PersonId), people);
            return new AuthorsView(text?.Version ?? 0, stretches, [.. events.Values.OrderBy(e => e.Number).Select(e => View(e, names))]);
        }).Needs(Role.Reader);
    }

    private static async Task<int> PinAsync(int id, int revision, string name, string note, bool isAutomatic, ClaimsPrincipal user, ChronicleStore store, PastProofs proofs, CancellationToken stop)
    {
        CompileResult proof = await proofs.ProofAsync(id, revision, stop);
        return await store.PinAsync(
            new Pin { ManuscriptId = id, Revision = revision, Name = name, Note = note, PersonId = user.PersonId(), IsAutomatic = isAutomatic, Pages = proof.Report.Pages, Words = proof.Report.Words }, proof.WritePdf());
    }

    private static async Task<byte[]?> PdfAsync(int id, int pin, ChronicleStore store, PastProofs proofs, CancellationToken stop)
    {
        if (await store.PdfAsync(id, pin) is { } kept)
        {
            return kept;
        }

        if (await store.FindPinAsync(id, pin) is not { } found)
        {
            return null;
        }

        CompileResult proof = await proofs.ProofAsync(id, found.Revision, stop);
        byte[] pdf = proof.WritePdf();
        await store.KeepProofAsync(id, pin, pdf, proof.Report.Pages, proof.Report.Words);
        return pdf;
    }

    private sealed record Names(IReadOnlyDictionary<int, Person> People, IReadOnlyDictionary<int, string> Scripts)
    {
        public PersonView? Person(int id) => People.TryGetValue(id, out Person? person) ? SessionApi.View(person) : null;
    }

    private static async Task<Names> NamesAsync(int id, IEnumerable<int> of, PeopleStore people) => new(await people.PeopleAsync(of.Distinct()), await people.TokenNamesAsync(id));

    private static EventView View(HistoryEvent entity, Names names) => View(ChronicleService.Event(entity), names);

    private static EventView View(ChronicleEvent one, Names names) => new(
        one.Number, names.Person(one.Person), one.Token is { } token ? names.Scripts.GetValueOrDefault(token, "a script") : null, one.Kind, one.File, Lines(one.Path), one.FromRevision, one.ToRevision, one.Steps, one.Begin, one.End,
        one.WordsIn, one.WordsOut, one.Places, Lines(one.Says));

    private static PinView View(Pin pin, Names names) => new(pin.Id, pin.Revision, pin.Name, pin.Note, names.Person(pin.PersonId), pin.At, pin.IsAutomatic, pin.Pages, pin.Words);

    private static string[] Lines(string text) => text.Split('\n', StringSplitOptions.RemoveEmptyEntries);
}
