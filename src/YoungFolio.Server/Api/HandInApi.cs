using System.Diagnostics;
using System.Security.Claims;
using System.Text.Json;
using YoungFolio.Cowriting;
using YoungFolio.HandIn;
using YoungFolio.Server.HandingIn;
using YoungFolio.Server.Proofs;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>Rules of a house.</summary>
/// <param name="Key">Their key, or their number.</param>
/// <param name="Name">What they are called.</param>
/// <param name="By">Who saved them; null: they ship.</param>
/// <param name="At">When, in UTC; null: they ship.</param>
/// <param name="IsOwn">Whether one saved them oneself.</param>
/// <param name="Rules">What they say.</param>
public sealed record RulesView(string Key, string Name, PersonView? By, DateTime? At, bool IsOwn, HouseRules Rules);

/// <summary>Rules that are to be saved.</summary>
public sealed record RulesWish(string? Name, HouseRules? Rules);

/// <summary>The rules that a manuscript is to go by.</summary>
public sealed record RulesChoice(string? Key);

/// <summary>A file that went out.</summary>
public sealed record HandedInFileView(int Id, string Name, int Size);

/// <summary>What was handed in.</summary>
public sealed record HandedInView(int Id, string Name, string Note, string To, string Rules, PersonView? By, DateTime At, int Revision, int Pages, int Words, int ToMend, int ToLook, IReadOnlyList<HandedInFileView> Files);

/// <summary>How a manuscript stands before it is handed in.</summary>
/// <param name="Revision">The revision that was looked at.</param>
/// <param name="Milliseconds">How long the checks took.</param>
/// <param name="Key">The rules that it goes by.</param>
/// <param name="Rules">What those are called.</param>
/// <param name="Groups">The checks.</param>
/// <param name="FileName">What the PDF is called, without its ending.</param>
/// <param name="AnonymousName">What the PDF of an anonymous copy is called.</param>
/// <param name="IsAnonymous">Whether the rules want one.</param>
/// <param name="Address">Where the rules say that it goes; empty: nowhere.</param>
/// <param name="Deadline">The day on which it is due.</param>
/// <param name="Flavour">What the rules want the PDF to be made for; null: reading and printing.</param>
/// <param name="Before">What was handed in before, the newest first.</param>
public sealed record HandInView(
    int Revision, double Milliseconds, string Key, string Rules, IReadOnlyList<CheckGroup> Groups, string FileName, string AnonymousName, bool IsAnonymous, string Address, DateOnly? Deadline, string? Flavour,
    IReadOnlyList<HandedInView> Before);

/// <summary>The sources as they would go out.</summary>
/// <param name="Files">The files.</param>
/// <param name="LeftBehind">The files that stay behind.</param>
/// <param name="Pages">How many pages they give.</param>
/// <param name="IsSame">Whether their PDF is the manuscript's to the byte.</param>
/// <param name="Remarks">What has to be known.</param>
public sealed record PackageView(IReadOnlyList<string> Files, IReadOnlyList<string> LeftBehind, int Pages, bool IsSame, IReadOnlyList<string> Remarks);

/// <summary>That a manuscript was handed in; or, when something wants mending first, how many things do.</summary>
public sealed record HandInAnswer(int? Id, int ToMend);

/// <summary>Words for a picture; empty ones say that it means nothing.</summary>
/// <param name="File">The file that places it.</param>
/// <param name="Offset">Where it is placed.</param>
/// <param name="Words">The words.</param>
public sealed record PictureWordsWish(string? File, int Offset, string? Words);

/// <summary>The Hand-in room: checks, rules, packages, and what was handed in.</summary>
public static class HandInApi
{
    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder api, RouteGroupBuilder manuscript)
    {
        api.MapGet("/rules", async (ClaimsPrincipal user, HandInStore store, PeopleStore people) =>
        {
            IReadOnlyList<SavedRules> saved = await store.RulesAsync(user.PersonId());
            IReadOnlyDictionary<int, Person> by = await people.PeopleAsync(saved.Select(s => s.PersonId));
            return HouseRules.Shipped.Select(s => new RulesView(s.Key, s.Name, null, null, false, s.Rules)).Concat(saved.Select(s => new RulesView(
                s.Id.ToString(System.Globalization.CultureInfo.InvariantCulture), s.Name, by.TryGetValue(s.PersonId, out Person? p) ? SessionApi.View(p) : null, s.At, s.PersonId == user.PersonId(), HandInService.Read(s)))).ToList();
        });
        api.MapPost("/rules", async (RulesWish wish, ClaimsPrincipal user, HandInStore store) =>
            wish.Rules is not { } rules ? Results.Json(new Problem("Say what the rules are."), statusCode: 400)
            : rules.Problem() is { } problem ? Results.Json(new Problem(problem), statusCode: 400)
            : Results.Ok(await store.SaveRulesAsync(user.PersonId(), wish.Name ?? "", JsonSerializer.Serialize(rules, JsonSerializerOptions.Web)))).Produces<int>();
        api.MapDelete("/rules/{saved:int}", async (int saved, ClaimsPrincipal user, HandInStore store) =>
            await store.DeleteRulesAsync(user.PersonId(), saved) ? Results.NoContent() : Results.Json(new Problem("There are no such rules of yours."), statusCode: 404));

        manuscript.MapGet("/hand-in", async (int id, HandInService handing, HandInStore handIns, ManuscriptStore store, PeopleStore people, CancellationToken stop) =>
        {
            ChosenRules rules = await handing.RulesAsync(id);
            ManuscriptEntity entity = await store.ManuscriptAsync(id);
            long start = Stopwatch.GetTimestamp();
            (Proof proof, IReadOnlyList<CheckGroup> groups) = await handing.CheckAsync(id, rules.Rules, stop);
            IReadOnlyList<HandedIn> before = await handIns.ListAsync(id);
            IReadOnlyDictionary<int, Person> by = await people.PeopleAsync(before.Select(h => h.PersonId));
            return new HandInView(
                proof.Revision, Math.Round(Stopwatch.GetElapsedTime(start).TotalMilliseconds, 1), rules.Key, rules.Name, groups, handing.FileName(rules.Rules, proof.Result, entity.Title),
                handing.FileName(rules.Rules with { IsAnonymous = true }, proof.Result, entity.Title), rules.Rules.IsAnonymous, rules.Rules.Address ?? "", entity.Deadline,
                rules.Rules.Flavour,
                [.. before.Select(h => View(h, by))]);
        }).Needs(Role.Reader);
        manuscript.MapPut("/hand-in/rules", async (int id, RulesChoice choice, ClaimsPrincipal user, HandInService handing, HandInStore store) =>
            choice.Key is not { } key || await handing.FindRulesAsync(key) is null ? Results.Json(new Problem("There are no such rules any more."), statusCode: 404)
            : await store.ChooseAsync(id, user.PersonId(), key) ? Results.NoContent() : Results.NotFound()).Needs(Role.Author);
        manuscript.MapPost("/hand-in/picture-words", async (int id, PictureWordsWish wish, ClaimsPrincipal user, TextStore texts) =>
        {
            string words = wish.Words ?? "";
            if (words.Length > PictureWords.Longest)
            {
                return Results.Json(new Problem($"Say it with at most {PictureWords.Longest} signs."), statusCode: 400);
            }

            IReadOnlyList<(FileEntity File, ChangeSet Undo)> done = await texts.EditTextsAsync(id, user.Actor("wrote words for a picture"), now =>
                now.TryGetValue(wish.File ?? "", out string? text) && PictureWords.Write(text, wish.Offset, words) is var (from, to, with)
                    ? new Dictionary<string, ChangeSet> { [wish.File!] = ChangeSet.Replace(text.Length, from, to, with) }
                    : throw new StoreException("The picture doesn’t stand there any more. Wait for the next proof."));
            return Results.Ok(TextsApi.Steps(done));
        }).Needs(Role.Author).Produces<List<UndoStep>>();
        manuscript.MapGet("/hand-in/sources", async (int id, bool? onlyUsed, bool? withoutComments, bool? onlyCited, bool? inOneFile, bool? readyList, bool? anonymous, HandInService handing, CancellationToken stop) =>
        {
            SourcePackage package = await handing.PackAsync(id, Wish(onlyUsed, withoutComments, onlyCited, inOneFile, readyList, anonymous), stop);
            return new PackageView([.. package.Files.Select(f => f.Path)], package.LeftBehind, package.Pages, package.IsSame, package.Remarks);
        }).Needs(Role.Reader);
        manuscript.MapGet("/hand-in/sources/zip", async (int id, bool? onlyUsed, bool? withoutComments, bool? onlyCited, bool? inOneFile, bool? readyList, bool? anonymous, string? download, HandInService handing, CancellationToken stop) =>
            Results.File(HandInService.Zip(await handing.PackAsync(id, Wish(onlyUsed, withoutComments, onlyCited, inOneFile, readyList, anonymous), stop)), "application/zip", download)).Needs(Role.Reader);
        manuscript.MapGet("/hand-in/pdf", async (int id, string? flavour, bool? onlyUsed, bool? withoutComments, bool? onlyCited, bool? inOneFile, bool? readyList, bool? anonymous, string? download, HandInService handing, CancellationToken stop) =>
            Results.File(await handing.PdfAsync(id, Path.GetFileNameWithoutExtension(download) is { Length: > 0 } name ? name : "manuscript", flavour, Wish(onlyUsed, withoutComments, onlyCited, inOneFile, readyList, anonymous), stop), "application/pdf", download)).Needs(Role.Reader);
        manuscript.MapGet("/hand-in/obstacles", async (int id, string? flavour, HandInService handing, CancellationToken stop) => await handing.ObstaclesAsync(id, flavour, stop)).Needs(Role.Reader);
        manuscript.MapGet("/hand-in/names-left", async (int id, HandInService handing, CancellationToken stop) => await handing.NamesLeftAsync(id, stop)).Needs(Role.Reader);
        // Always to be kept as a file: shown from here, a manuscript's page would be one of the application's own.
        manuscript.MapGet("/hand-in/forms/{form}", async (int id, string form, string? download, HandInService handing, CancellationToken stop) =>
            await handing.FormAsync(id, form, stop) is var (bytes, type) ? Results.File(bytes, type, download is { Length: > 0 } ? download : "manuscript") : Results.Json(new Problem("There is no such form."), statusCode: 404)).Needs(Role.Reader);
        manuscript.MapPost("/hand-in", async (int id, HandInWish wish, ClaimsPrincipal user, HandInService handing, PeopleStore people, CancellationToken stop) =>
        {
            Person by = (await people.PeopleAsync([user.PersonId()]))[user.PersonId()];
            (int made, int toMend) = await handing.HandInAsync(id, by, wish, stop);
            return new HandInAnswer(made == 0 ? null : made, toMend);
        }).Needs(Role.Author);
        manuscript.MapGet("/handed-in/{handed:int}/files/{file:int}", async (int id, int handed, int file, HandInStore store) =>
            await store.FileAsync(id, handed, file) is { } found ? Results.File(found.Content, found.MediaType, found.Name) : Results.Json(new Problem("This file isn’t there."), statusCode: 404)).Needs(Role.Reader);
    }

    private static SourcesWish Wish(bool? onlyUsed, bool? withoutComments, bool? onlyCited, bool? inOneFile, bool? readyList, bool? anonymous) =>
        new(onlyUsed ?? true, withoutComments ?? false, onlyCited ?? false, inOneFile ?? false, readyList ?? false, anonymous ?? false);

    private static HandedInView View(HandedIn h, IReadOnlyDictionary<int, Person> people) => new(
        h.Id, h.Name, h.Note, h.To, h.Rules, people.TryGetValue(h.PersonId, out Person? by) ? SessionApi.View(by) : null, h.At, h.Revision, h.Pages, h.Words, h.ToMend, h.ToLook, [.. h.Files.Select(f => new HandedInFileView(f.Id, f.Name, f.Size))]);
}
