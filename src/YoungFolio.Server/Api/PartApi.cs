using System.Security.Claims;
using System.Text;
using YoungFolio.Manuscript.Parts;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>A text part with its content.</summary>
public sealed record TextView(int Id, string Path, int Version, string Text);

/// <summary>A part that was deleted: who did it, and when, in UTC.</summary>
public sealed record DeletedPartView(PartView Part, PersonView? Person, DateTime At);

/// <summary>A name for a part.</summary>
public sealed record PartName(string Path);

/// <summary>The parts of a manuscript.</summary>
public static class PartApi
{
    // What is opened beside the page may hold scripts: it is shown without running any.
    private const string ContentPolicy = "sandbox; default-src 'none'; style-src 'unsafe-inline'; img-src data:";

    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder manuscript)
    {
        RouteGroupBuilder parts = manuscript.MapGroup("/parts");
        parts.MapGet("/{part:int}", async (int id, int part, FileStore files, TextStore texts) =>
        {
            PartEntity found = await files.PartAsync(id, part);
            if (!found.IsText)
            {
                return Results.Json(new Problem("This part isn't text."), statusCode: 409);
            }

            LiveText text = await texts.TextAsync(part);
            return Results.Ok(new TextView(found.Id, found.Path, text.Version, text.Text));
        }).Needs(Role.Reader).Produces<TextView>();
        parts.MapGet("/{part:int}/content", async (int id, int part, HttpContext context, FileStore files) =>
        {
            PartEntity found = await files.PartAsync(id, part);
            if (context.User.IsScript() && !IsForScripts(found.Path))
            {
                return Results.Json(new Problem($"A token reads data and pictures: {string.Join(", ", s_scripts)}."), statusCode: 403);
            }

            context.Response.Headers.ContentSecurityPolicy = ContentPolicy;
            string type = ContentType(found.Path);
            return Results.File(await files.BytesAsync(found), type, type == "application/octet-stream" ? Path.GetFileName(found.Path) : null);
        }).Needs(Role.Reader).ForScripts();
        parts.MapPost("/", async (int id, PartName name, ClaimsPrincipal user, FileStore files) =>
            PartPath.IsText(name.Path ?? "")
                ? Results.Ok(View(await files.PutPartAsync(id, user.Actor(), name.Path!, [])))
                : Results.Json(new Problem("A new part is text: give it a name such as chapters/method.tex. Upload pictures instead."), statusCode: 400))
            .Needs(Role.Author).Produces<PartView>();
        parts.MapPut("/", async (int id, string path, bool? latin1, bool? replace, HttpRequest request, ClaimsPrincipal user, FileStore files) =>
        {
            bool isScript = user.IsScript();
            if (isScript && !IsForScripts(path))
            {
                return Results.Json(new Problem($"A token puts data and pictures: {string.Join(", ", s_scripts)}."), statusCode: 403);
            }

            using var body = new MemoryStream();
            await request.Body.CopyToAsync(body);
            byte[] bytes = latin1 == true ? Encoding.Convert(Encoding.Latin1, Encoding.UTF8, body.ToArray()) : body.ToArray();
            return Results.Ok(View(await files.PutPartAsync(id, user.Actor(), path, bytes, replacesText: isScript || replace == true)));
        }).Needs(Role.Author).ForScripts().Produces<PartView>();
        parts.MapPost("/{part:int}/name", async (int id, int part, PartName name, ClaimsPrincipal user, FileStore files) =>
            View(await files.RenameAsync(id, user.Actor(), part, name.Path ?? "", Follow))).Needs(Role.Author);
        parts.MapGet("/deleted", async (int id, FileStore files, PeopleStore people) =>
        {
            IReadOnlyList<(PartEntity Part, int Person, DateTime At)> gone = await files.DeletedPartsAsync(id);
            IReadOnlyDictionary<int, Person> by = await people.PeopleAsync(gone.Select(g => g.Person));
            return gone.Select(g => new DeletedPartView(View(g.Part), by.TryGetValue(g.Person, out Person? person) ? SessionApi.View(person) : null, g.At));
        }).Needs(Role.Reader);
        parts.MapPost("/{part:int}/back", async (int id, int part, ClaimsPrincipal user, FileStore files) =>
            View(await files.BringBackAsync(id, user.Actor(), part))).Needs(Role.Author);
        parts.MapDelete("/{part:int}", async (int id, int part, ClaimsPrincipal user, FileStore files) =>
        {
            await files.DeleteAsync(id, user.Actor(), part);
            return Results.NoContent();
        }).Needs(Role.Author);
    }

    private static readonly string[] s_scripts = [".csv", ".txt", ".png", ".jpg", ".jpeg", ".pdf", ".svg"];

    // Where the markup names a part, the name follows.
    private static TextsEdit Follow(string path, string now) => texts => TextChanges.Of(texts, PartNames.Rename(texts, path, now));

    /// <summary>Whether scripts put and read parts of this name: data and pictures.</summary>
    internal static bool IsForScripts(string path) => s_scripts.Contains(Path.GetExtension(path).ToLowerInvariant());

    internal static PartView View(PartEntity part) => new(part.Id, part.Path, part.IsText, part.Version);

    private static string ContentType(string path) => Path.GetExtension(path).ToLowerInvariant() switch
    {
        ".png" => "image/png",
        ".jpg" or ".jpeg" => "image/jpeg",
        ".svg" => "image/svg+xml",
        ".pdf" => "application/pdf",
        _ => "application/octet-stream",
    };
}
