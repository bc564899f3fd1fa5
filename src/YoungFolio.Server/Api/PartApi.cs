using System.Security.Claims;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.SignalR;
using YoungFolio.Cowriting;
using YoungFolio.Server.Proofs;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>A text part with its content.</summary>
public sealed record TextView(int Id, string Path, int Version, string Text);

/// <summary>A name for a part.</summary>
public sealed record PartName(string Path);

/// <summary>A change that a writer sends or is sent.</summary>
public sealed record UpdateView(string ClientId, JsonElement Changes);

/// <summary>Changes made on a version.</summary>
public sealed record SentUpdates(int Version, IReadOnlyList<UpdateView> Updates);

/// <summary>The answer: whether they were taken, and what the writer hasn't seen yet.</summary>
public sealed record UpdatesAnswer(bool IsTaken, int Version, IReadOnlyList<UpdateView> Missed);

/// <summary>The parts of a manuscript.</summary>
public static class PartApi
{
    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder api)
    {
        RouteGroupBuilder parts = api.MapGroup("/manuscripts/{id:int}/parts").AddEndpointFilter(CheckRoleAsync);
        parts.MapGet("/{part:int}", async (int id, int part, ManuscriptStore store) =>
        {
            PartEntity found = await store.PartAsync(id, part);
            return found.Text is null
                ? Results.Json(new Problem("This part isn't text."), statusCode: 409)
                : Results.Ok(new TextView(found.Id, found.Path, found.Version, found.Text));
        }).Produces<TextView>();
        parts.MapGet("/{part:int}/content", async (int id, int part, ManuscriptStore store) =>
        {
            PartEntity found = await store.PartAsync(id, part);
            return Results.File(await store.BytesAsync(found), ContentType(found.Path), Path.GetFileName(found.Path));
        });
        parts.MapPost("/", async (int id, PartName name, ClaimsPrincipal user, ManuscriptStore store, ProofService proofs, IHubContext<ManuscriptHub> hub) =>
        {
            if (!PartPath.IsText(name.Path))
            {
                return Results.Json(new Problem("A new part is text: give it a name such as chapters/method.tex. Upload pictures instead."), statusCode: 400);
            }

            return Results.Ok(await Changed(id, await store.PutPartAsync(id, user.PersonId(), name.Path, []), proofs, hub));
        }).Produces<PartView>();
        parts.MapPut("/", async (int id, string path, bool? latin1, HttpRequest request, ClaimsPrincipal user, ManuscriptStore store, ProofService proofs, IHubContext<ManuscriptHub> hub) =>
        {
            using var body = new MemoryStream();
            await request.Body.CopyToAsync(body);
            byte[] bytes = latin1 == true ? Encoding.Convert(Encoding.Latin1, Encoding.UTF8, body.ToArray()) : body.ToArray();
            return Results.Ok(await Changed(id, await store.PutPartAsync(id, user.PersonId(), path, bytes), proofs, hub));
        }).Produces<PartView>();
        parts.MapPost("/{part:int}/name", async (int id, int part, PartName name, ClaimsPrincipal user, ManuscriptStore store, ProofService proofs, IHubContext<ManuscriptHub> hub) =>
            Results.Ok(await Changed(id, await store.RenameAsync(id, user.PersonId(), part, name.Path), proofs, hub))).Produces<PartView>();
        parts.MapDelete("/{part:int}", async (int id, int part, ClaimsPrincipal user, ManuscriptStore store, ProofService proofs, IHubContext<ManuscriptHub> hub) =>
        {
            await Changed(id, await store.DeleteAsync(id, user.PersonId(), part), proofs, hub);
            return Results.NoContent();
        });
        parts.MapPost("/{part:int}/updates", async (int id, int part, SentUpdates sent, ClaimsPrincipal user, ManuscriptStore store, ProofService proofs, IHubContext<ManuscriptHub> hub) =>
        {
            List<Update> updates = [.. sent.Updates.Select(u => new Update(u.ClientId, ChangeSet.FromJson(u.Changes)))];
            TakenUpdates taken = await store.UpdateAsync(id, user.PersonId(), part, sent.Version, updates);
            if (taken.IsTaken && updates.Count > 0)
            {
                await hub.Clients.Group(ManuscriptHub.Group(id)).SendAsync("updates", part, taken.Version);
                proofs.Request(id);
            }

            return new UpdatesAnswer(taken.IsTaken, taken.Version, taken.IsTaken ? [] : await Since(store, part, sent.Version));
        });
        parts.MapGet("/{part:int}/updates", async (int id, int part, int since, ManuscriptStore store) =>
        {
            PartEntity found = await store.PartAsync(id, part);
            return new UpdatesAnswer(true, found.Version, await Since(store, part, since));
        });
    }

    internal static PartView View(PartEntity part) => new(part.Id, part.Path, part.Text is not null, part.Version);

    // Reading needs any role, changing that of an author.
    internal static async ValueTask<object?> CheckRoleAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        HttpContext http = context.HttpContext;
        int id = int.Parse((string)http.Request.RouteValues["id"]!, System.Globalization.CultureInfo.InvariantCulture);
        Role? role = await http.RequestServices.GetRequiredService<ManuscriptStore>().RoleOfAsync(id, http.User.PersonId());
        if (role is null)
        {
            return ManuscriptApi.NotYours();
        }

        // A look at pasted text changes nothing.
        bool reads = HttpMethods.IsGet(http.Request.Method) || http.Request.Path.Value!.EndsWith("/sources/look", StringComparison.Ordinal);
        return !reads && role < Role.Author
            ? Results.Json(new Problem("Only authors change a manuscript."), statusCode: 403)
            : await next(context);
    }

    private static async Task<PartView> Changed(int id, PartEntity part, ProofService proofs, IHubContext<ManuscriptHub> hub)
    {
        await hub.Clients.Group(ManuscriptHub.Group(id)).SendAsync("parts");
        proofs.Request(id);
        return View(part);
    }

    private static async Task<List<UpdateView>> Since(ManuscriptStore store, int part, int version) =>
        [.. (await store.UpdatesSinceAsync(part, version)).Select(r => new UpdateView(r.ClientId ?? "", JsonDocument.Parse(r.Payload).RootElement))];

    private static string ContentType(string path) => Path.GetExtension(path).ToLowerInvariant() switch
    {
        ".png" => "image/png",
        ".jpg" or ".jpeg" => "image/jpeg",
        ".pdf" => "application/pdf",
        _ => "application/octet-stream",
    };
}
