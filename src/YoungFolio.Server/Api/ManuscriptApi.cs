using System.Security.Claims;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Mvc;
using YoungFolio.Server.Archives;
using YoungFolio.Server.Live;
using YoungFolio.Server.Proofs;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>A manuscript on the shelf.</summary>
/// <param name="Id">Identity.</param>
/// <param name="Title">Its title.</param>
/// <param name="Description">A line about it.</param>
/// <param name="Revision">Its newest revision.</param>
/// <param name="Role">One's own role.</param>
/// <param name="People">Its people.</param>
/// <param name="Here">Who is in it now.</param>
/// <param name="News">What changed since one was last here.</param>
/// <param name="Pages">Pages of the newest proof.</param>
/// <param name="Words">Words of it.</param>
/// <param name="ToFix">Findings to fix.</param>
/// <param name="KeptUntil">Until when it is kept, once it was deleted.</param>
/// <param name="Mark">The group's own word for where it belongs; empty: none.</param>
/// <param name="Deadline">The day on which it is due.</param>
/// <param name="IsArchived">Whether it is in one's archive.</param>
/// <param name="IsTemplate">Whether others may begin as it.</param>
/// <param name="NotesToMe">How many open notes in its margin name one.</param>
/// <param name="Talk">How many messages of the talk one hasn't read.</param>
/// <param name="Checks">How far its checks are; null: it isn't due, or they weren't made yet.</param>
/// <param name="Suggestions">How many suggestions of others wait to be taken or declined, where one may.</param>
public sealed record ShelfEntry(
    int Id, string Title, string Description, int Revision, Role Role, IReadOnlyList<PersonView> People, IReadOnlyList<PersonView> Here, NewsList News,
    int? Pages, int? Words, int? ToFix, string? FirstPage, DateTime? KeptUntil, string Mark, DateOnly? Deadline, bool IsArchived, bool IsTemplate, int NotesToMe, int Suggestions, int Talk, StandingView? Checks);

/// <summary>How far the checks of a manuscript are that is due.</summary>
/// <param name="Hold">Those that hold.</param>
/// <param name="ToLook">Those that want a look.</param>
/// <param name="ToMend">Those that want mending.</param>
public sealed record StandingView(int Hold, int ToLook, int ToMend);

/// <summary>A file in a list.</summary>
public sealed record FileView(int Id, string Path, bool IsText, int Version);

/// <summary>A manuscript that is open.</summary>
/// <param name="Id">Identity.</param>
/// <param name="Title">Its title.</param>
/// <param name="Description">A line about it.</param>
/// <param name="MainFile">The file from which compiling starts.</param>
/// <param name="Revision">Its newest revision.</param>
/// <param name="Role">One's own role.</param>
/// <param name="People">Its people.</param>
/// <param name="Files">Its files.</param>
/// <param name="Arrival">What is to be said of how it came in, until someone has read it.</param>
public sealed record ManuscriptView(
    int Id, string Title, string Description, string MainFile, int Revision, Role Role, IReadOnlyList<PersonView> People, IReadOnlyList<FileView> Files, BroughtIn? Arrival = null);

/// <summary>What is set.</summary>
/// <param name="Title">The title; null leaves it.</param>
/// <param name="MainFile">Number of the file from which compiling starts; null leaves it.</param>
/// <param name="Mark">The mark; null leaves it, empty takes it away.</param>
/// <param name="Deadline">The deadline as a date; null leaves it, empty takes it away.</param>
/// <param name="IsTemplate">Whether others may begin as it; null leaves it.</param>
public sealed record ManuscriptSettings(string? Title, int? MainFile, string? Mark = null, string? Deadline = null, bool? IsTemplate = null);

/// <summary>Whether a manuscript is in one's archive.</summary>
public sealed record Archived(bool IsArchived);

/// <summary>A manuscript that came in as a .zip.</summary>
/// <param name="Id">Its number.</param>
/// <param name="MainFile">The file from which compiling starts.</param>
/// <param name="Files">How many files there are.</param>
/// <param name="States">How many states of its history came along.</param>
/// <param name="Remarks">What was left out or read in another way.</param>
/// <param name="UnknownPackages">Packages that the markup asks for and that aren't covered.</param>
/// <param name="LeftOut">By-products of other tools, which aren't needed.</param>
/// <param name="Missing">What is said of files that the markup asks for and that didn't come along.</param>
public sealed record BroughtIn(int Id, string MainFile, int Files, int States, IReadOnlyList<string> Remarks, IReadOnlyList<string> UnknownPackages, IReadOnlyList<string> LeftOut, IReadOnlyList<string> Missing);

/// <summary>The shelf, and manuscripts as a whole.</summary>
public static class ManuscriptApi
{
    private const int MostMissing = 50;

    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder api, RouteGroupBuilder manuscript)
    {
        api.MapGet("/manuscripts", async (ClaimsPrincipal user, ManuscriptStore store, ProofService proofs, Presence presence, NewsReader news, PeopleStore people, NoteStore notes, TalkStore talk, HandInStore handIns) =>
        {
            var shelf = new List<ShelfEntry>();
            IReadOnlyList<ManuscriptEntity> manuscripts = await store.ShelfAsync(user.PersonId());
            IReadOnlyDictionary<int, CheckStanding> standings = await handIns.StandingsAsync([.. manuscripts.Where(m => m.Deadline is not null).Select(m => m.Id)]);
            foreach (ManuscriptEntity m in manuscripts)
            {
                Glance? glance = proofs.Glance(m.Id);
                Membership own = m.Members.First(x => x.PersonId == user.PersonId());
                IReadOnlyList<MarginNote> open = await notes.ListAsync(m.Id, isOpen: true);
                shelf.Add(new ShelfEntry(m.Id, m.Title, m.Description, m.Revision, own.Role, People(m),
                    [.. presence.In(m.Id).Select(p => p.Person).Where(p => p.Id != user.PersonId()).DistinctBy(p => p.Id)], await LogApi.ReadNewsAsync(m.Id, user.PersonId(), news, people, notes),
                    glance?.Pages, glance?.Words, glance?.ToFix, glance?.Digest, m.DeletedAt + ManuscriptStore.KeptAway, m.Mark, m.Deadline, own.IsArchived, m.IsTemplate,
                    NotesApi.ToMe(open, m.Members, user.PersonId()).Count(), NotesApi.ToDecide(open, own).Count(),
                    await talk.UnreadAsync(m.Id, user.PersonId()), standings.TryGetValue(m.Id, out CheckStanding? checks) ? new StandingView(checks.Hold, checks.ToLook, checks.ToMend) : null));
            }

            return shelf;
        });
        api.MapPost("/manuscripts/zip", async (string title, HttpRequest request, ClaimsPrincipal user, ManuscriptStore store, ManuscriptArrival arrival, ChronicleStore chronicle, ProofService proofs, CancellationToken stop) =>
        {
            ManuscriptStore.CheckTitle(title);
            await using FileStream archive = await ManuscriptZip.KeepAsync(request.Body, stop);
            IncomingManuscript incoming = ManuscriptZip.Read(archive);
            ManuscriptEntity made = await arrival.BringAsync(title, incoming, user.Actor(), stop);
            Proof proof = await proofs.UpToDateAsync(made.Id, stop);
            var says = new BroughtIn(
                made.Id, incoming.MainFile, incoming.Files.Count, incoming.Past.Count, incoming.Remarks, [.. proof.Result.Report.Packages.Where(p => !p.Known).Select(p => p.Name)], incoming.LeftOut,
                [.. proof.Result.Report.Findings.Where(f => f.Code is "missing-file" or "missing-picture").Select(f => f.Message).Distinct().Take(MostMissing)]);
            await chronicle.PinAsync(new Pin { ManuscriptId = made.Id, Revision = proof.Revision, Name = "As it came in", Note = "", PersonId = user.PersonId(), IsAutomatic = true, Pages = proof.Result.Report.Pages, Words = proof.Result.Report.Words }, proof.Result.WritePdf());
            await store.TellOfArrivalAsync(made.Id, user.PersonId(), JsonSerializer.Serialize(says, JsonSerializerOptions.Web));
            return says;
        }).WithMetadata(new RequestSizeLimitAttribute(ManuscriptZip.LargestFile));
        api.MapPost("/manuscripts/{away:int}/back", async (int away, ClaimsPrincipal user, ManuscriptStore store) =>
        {
            // It is on nobody's shelf while it is put away, so the ordinary check of rights can't know it.
            ManuscriptEntity found = await store.ManuscriptAsync(away);
            if (!found.Members.Exists(m => m.PersonId == user.PersonId() && m.Role == Role.Owner))
            {
                return NotYours();
            }

            await store.PutAwayAsync(away, user.Actor(), isAway: false);
            return Results.NoContent();
        });

        manuscript.MapGet("/", async (int id, ClaimsPrincipal user, ManuscriptStore store, FileStore files) =>
        {
            ManuscriptEntity found = await store.ManuscriptAsync(id);
            return new ManuscriptView(id, found.Title, found.Description, found.MainFile, found.Revision, found.Members.First(m => m.PersonId == user.PersonId()).Role,
                user.IsScript() ? [] : People(found), [.. (await files.FilesAsync(id)).Where(p => !user.IsScript() || FileApi.IsForScripts(p.Path)).Select(FileApi.View)],
                user.IsScript() || found.BroughtIn is not { } says ? null : JsonSerializer.Deserialize<BroughtIn>(says, JsonSerializerOptions.Web));
        }).Needs(Role.Reader).ForScripts();
        manuscript.MapPatch("/", async (int id, ManuscriptSettings settings, ClaimsPrincipal user, ManuscriptStore store) =>
        {
            if (settings.Title is { } title)
            {
                await store.RetitleAsync(id, user.Actor(), title);
            }

            if (settings.MainFile is { } file)
            {
                await store.SetMainFileAsync(id, user.Actor(), file);
            }

            if (settings.Mark is { } mark)
            {
                await store.MarkAsync(id, user.Actor(), mark);
            }

            if (settings.Deadline is { } deadline)
            {
                DateOnly? day = null;
                if (deadline.Length > 0)
                {
                    if (!DateOnly.TryParseExact(deadline, "yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture, System.Globalization.DateTimeStyles.None, out DateOnly due))
                    {
                        return Results.Json(new Problem("Write the day as 2027-03-31."), statusCode: 400);
                    }

                    day = due;
                }

                await store.SetDeadlineAsync(id, user.Actor(), day);
            }

            if (settings.IsTemplate is { } isTemplate)
            {
                await store.MakeTemplateAsync(id, user.Actor(), isTemplate);
            }

            return Results.NoContent();
        }).Needs(Role.Author);
        manuscript.MapPost("/archive", async (int id, Archived wanted, ClaimsPrincipal user, ManuscriptStore store) =>
        {
            await store.ArchiveAsync(id, user.PersonId(), wanted.IsArchived);
            return Results.NoContent();
        }).Needs(Role.Reader);
        manuscript.MapDelete("/arrival", async (int id, ClaimsPrincipal user, ManuscriptStore store) =>
        {
            await store.TellOfArrivalAsync(id, user.PersonId(), null);
            return Results.NoContent();
        }).Needs(Role.Author);
        manuscript.MapDelete("/", async (int id, ClaimsPrincipal user, ManuscriptStore store) =>
        {
            await store.PutAwayAsync(id, user.Actor(), isAway: true);
            return Results.NoContent();
        }).Needs(Role.Owner);
        manuscript.MapGet("/zip", async (int id, ManuscriptStore store, FileStore files) =>
        {
            ManuscriptEntity found = await store.ManuscriptAsync(id);
            var contents = new List<(string, byte[])>();
            foreach (FileEntity file in await files.FilesAsync(id))
            {
                contents.Add((file.Path, await files.BytesAsync(file)));
            }

            return Results.File(ManuscriptZip.Write(contents), "application/zip", $"{FileName(found.Title)}.zip");
        }).Needs(Role.Reader);
    }

    /// <summary>The answer about a manuscript that isn't there, or isn't theirs: the same, so that it tells nothing.</summary>
    internal static IResult NotYours() => Results.Json(new Problem("There is no such manuscript on your shelf."), statusCode: 404);

    private static List<PersonView> People(ManuscriptEntity manuscript) =>
        [.. manuscript.Members.OrderByDescending(m => m.Role).ThenBy(m => m.PersonId).Select(m => SessionApi.View(m.Person!))];

    private static string FileName(string title) => string.Concat(title.Select(c => char.IsLetterOrDigit(c) ? c : '-')).Trim('-');
}
