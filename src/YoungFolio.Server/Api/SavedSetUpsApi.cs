using System.Security.Claims;
using System.Text.Json;
using YoungFolio.Compiler;
using YoungFolio.Manuscript.SettingUp;
using YoungFolio.Server.Proofs;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>A set-up that was saved under a name.</summary>
/// <param name="Id">Its number.</param>
/// <param name="Name">Its name.</param>
/// <param name="By">Who saved it.</param>
/// <param name="At">When, in UTC.</param>
/// <param name="Settings">How many settings it has.</param>
/// <param name="Packages">The packages that it loads.</param>
/// <param name="IsOwn">Whether one saved it oneself.</param>
public sealed record SavedSetUpView(int Id, string Name, PersonView? By, DateTime At, int Settings, IReadOnlyList<string> Packages, bool IsOwn);

/// <summary>The name to save a set-up under.</summary>
public sealed record SetUpName(string? Name);

/// <summary>What applying a saved set-up would change.</summary>
/// <param name="Steps">The differences.</param>
/// <param name="Page">The page as it would be, with the steps that are offered.</param>
public sealed record SetUpLook(IReadOnlyList<SetUpStep> Steps, PageLook? Page);

/// <summary>The steps of a saved set-up that are wanted, by key.</summary>
public sealed record WantedSteps(IReadOnlyList<string>? Keys);

/// <summary>Set-ups of the group: saved under a name, applied to another manuscript with a look at what changes.</summary>
public static class SavedSetUpsApi
{
    private const int MostSteps = 500;

    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder api, RouteGroupBuilder manuscript)
    {
        api.MapGet("/set-ups", async (ClaimsPrincipal user, SetUpStore saved, PeopleStore people) =>
        {
            IReadOnlyList<SavedSetUp> found = await saved.ListAsync(user.PersonId());
            IReadOnlyDictionary<int, Person> by = await people.PeopleAsync(found.Select(s => s.PersonId));
            return found.Select(s =>
            {
                SetUpValues values = Read(s);
                return new SavedSetUpView(s.Id, s.Name, by.TryGetValue(s.PersonId, out Person? p) ? SessionApi.View(p) : null, s.At, values.Settings.Count, values.Packages, s.PersonId == user.PersonId());
            }).ToList();
        });
        api.MapDelete("/set-ups/{saved:int}", async (int saved, ClaimsPrincipal user, SetUpStore store) =>
            await store.DeleteAsync(user.PersonId(), saved) ? Results.NoContent() : Nothing());

        RouteGroupBuilder group = manuscript.MapGroup("/set-up/saved");
        group.MapPost("/", async (int id, SetUpName wanted, ClaimsPrincipal user, SetUpStore saved, ManuscriptStore store, TextStore texts) =>
        {
            (IReadOnlyDictionary<string, string> now, string main) = await TextsAsync(id, store, texts);
            var setUp = SetUp.Of(now, main);
            return !setUp.HasPreamble ? Results.Json(new Problem("This manuscript has no preamble yet, so there is nothing to save."), statusCode: 409)
                : Results.Ok(await saved.SaveAsync(user.PersonId(), wanted.Name ?? "", JsonSerializer.Serialize(SetUpValues.Of(setUp), JsonSerializerOptions.Web)));
        }).Needs(Role.Author).Produces<int>();
        group.MapGet("/{saved:int}", async (int id, int saved, ClaimsPrincipal user, SetUpStore setUps, ManuscriptStore store, TextStore texts, ProofService proofs, CancellationToken stop) =>
        {
            if (await setUps.FindAsync(user.PersonId(), saved) is not { } found)
            {
                return Nothing();
            }

            (IReadOnlyDictionary<string, string> now, string main) = await TextsAsync(id, store, texts);
            var plan = SetUpTransfer.Plan(now, main, Read(found), null);
            PageLook? page = SetUp.Of(plan.After, main) is { HasPreamble: true, Begin: { } begin } ? await proofs.PageOfAsync(id, plan.After, begin.File, begin.At, stop) : null;
            return Results.Ok(new SetUpLook(plan.Steps, page));
        }).Needs(Role.Reader).Produces<SetUpLook>();
        group.MapPost("/{saved:int}", async (
            int id, int saved, WantedSteps wanted, ClaimsPrincipal user, SetUpStore setUps, ManuscriptStore store, TextStore texts, ProofService proofs, CancellationToken stop) =>
            wanted.Keys is not { Count: > 0 and <= MostSteps } keys ? Results.Json(new Problem("Choose at least one of the changes."), statusCode: 400)
            : await setUps.FindAsync(user.PersonId(), saved) is not { } found ? Nothing()
            : await SetUpApi.StoreAsync(id, user, (now, main) => SetUpTransfer.Plan(now, main, Read(found), keys.ToHashSet(StringComparer.Ordinal)).Edits, $"applied the set-up “{found.Name}”", store, texts, proofs, stop)).Needs(Role.Author).Produces<ChangedSetUp>();
    }

    private static SetUpValues Read(SavedSetUp saved) => JsonSerializer.Deserialize<SetUpValues>(saved.Values, JsonSerializerOptions.Web)!;

    private static IResult Nothing() => Results.Json(new Problem("There is no such set-up among those of your group."), statusCode: 404);

    private static async Task<(IReadOnlyDictionary<string, string> Texts, string Main)> TextsAsync(int id, ManuscriptStore store, TextStore texts) =>
        ((await texts.AllAsync(id)).ToDictionary(t => t.Key, t => t.Value.Text.Text, StringComparer.Ordinal), (await store.ManuscriptAsync(id)).MainFile);
}
