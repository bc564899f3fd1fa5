using System.Security.Claims;
using System.Text;
using YoungFolio.Manuscript.Files;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>A text file with its content.</summary>
public sealed record TextView(int Id, string Path, int Version, string Text);

/// <summary>A file that was deleted: who did it, and when, in UTC.</summary>
public sealed record DeletedFileView(FileView File, PersonView? Person, DateTime At);

/// <summary>A name for a file.</summary>
public sealed record FileName(string Path);

/// <summary>The files of a manuscript.</summary>
public static class FileApi
{
    // What is opened beside the page may hold scripts: it is shown without running any.
    private const string ContentPolicy = "sandbox; default-src 'none'; style-src 'unsafe-inline'; img-src data:";

    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder manuscript)
    {
        RouteGroupBuilder group = manuscript.MapGroup("/files");
        group.MapGet("/{file:int}", async (int id, int file, FileStore files, TextStore texts) =>
        {
            FileEntity found = await files.FileAsync(id, file);
            if (!found.IsText)
            {
                return Results.Json(new Problem("This file isn't text."), statusCode: 409);
            }

            LiveText text = await texts.TextAsync(file);
            return Results.Ok(new TextView(found.Id, found.Path, text.Version, text.Text));
        }).Needs(Role.Reader).Produces<TextView>();
        group.MapGet("/{file:int}/content", async (int id, int file, HttpContext context, FileStore files) =>
        {
            FileEntity found = await files.FileAsync(id, file);
            if (context.User.IsScript() && !IsForScripts(found.Path))
            {
                return Results.Json(new Problem($"A token reads data and pictures: {string.Join(", ", s_scripts)}."), statusCode: 403);
            }

            context.Response.Headers.ContentSecurityPolicy = ContentPolicy;
            string type = ContentType(found.Path);
            return Results.File(await files.BytesAsync(found), type, type == "application/octet-stream" ? Path.GetFileName(found.Path) : null);
        }).Needs(Role.Reader).ForScripts();
        group.MapPost("/", async (int id, FileName name, ClaimsPrincipal user, FileStore files) =>
            FilePath.IsText(name.Path ?? "")
                ? Results.Ok(View(await files.PutFileAsync(id, user.Actor(), name.Path!, [])))
                : Results.Json(new Problem("A new file is text: give it a name such as chapters/method.tex. Upload pictures instead."), statusCode: 400))
            .Needs(Role.Author).Produces<FileView>();
        group.MapPut("/", async (int id, string path, bool? latin1, bool? replace, HttpRequest request, ClaimsPrincipal user, FileStore files) =>
        {
            bool isScript = user.IsScript();
            if (isScript && !IsForScripts(path))
            {
                return Results.Json(new Problem($"A token puts data and pictures: {string.Join(", ", s_scripts)}."), statusCode: 403);
            }

            using var body = new MemoryStream();
            await request.Body.CopyToAsync(body);
            byte[] bytes = latin1 == true ? Encoding.Convert(Encoding.Latin1, Encoding.UTF8, body.ToArray()) : body.ToArray();
            return Results.Ok(View(await files.PutFileAsync(id, user.Actor(), path, bytes, replacesText: isScript || replace == true)));
        }).Needs(Role.Author).ForScripts().Produces<FileView>();
        group.MapPost("/{file:int}/name", async (int id, int file, FileName name, ClaimsPrincipal user, FileStore files) =>
            View(await files.RenameAsync(id, user.Actor(), file, name.Path ?? "", Follow))).Needs(Role.Author);
        group.MapGet("/deleted", async (int id, FileStore files, PeopleStore people) =>
        {
            IReadOnlyList<(FileEntity File, int Person, DateTime At)> gone = await files.DeletedFilesAsync(id);
            IReadOnlyDictionary<int, Person> by = await people.PeopleAsync(gone.Select(g => g.Person));
            return gone.Select(g => new DeletedFileView(View(g.File), by.TryGetValue(g.Person, out Person? person) ? SessionApi.View(person) : null, g.At));
        }).Needs(Role.Reader);
        group.MapPost("/{file:int}/back", async (int id, int file, ClaimsPrincipal user, FileStore files) =>
            View(await files.BringBackAsync(id, user.Actor(), file))).Needs(Role.Author);
        group.MapDelete("/{file:int}", async (int id, int file, ClaimsPrincipal user, FileStore files) =>
        {
            await files.DeleteAsync(id, user.Actor(), file);
            return Results.NoContent();
        }).Needs(Role.Author);
    }

    private static readonly string[] s_scripts = [".csv", ".txt", ".png", ".jpg", ".jpeg", ".pdf", ".svg"];

    // Where the markup names a file, the name follows.
    private static TextsEdit Follow(string path, string now) => texts => TextChanges.Of(texts, FileNames.Rename(texts, path, now));

    /// <summary>Whether scripts put and read files of this name: data and pictures.</summary>
    internal static bool IsForScripts(string path) => s_scripts.Contains(Path.GetExtension(path).ToLowerInvariant());

    internal static FileView View(FileEntity file) => new(file.Id, file.Path, file.IsText, file.Version);

    private static string ContentType(string path) => Path.GetExtension(path).ToLowerInvariant() switch
    {
        ".png" => "image/png",
        ".jpg" or ".jpeg" => "image/jpeg",
        ".svg" => "image/svg+xml",
        ".pdf" => "application/pdf",
        _ => "application/octet-stream",
    };
}
