using System.Collections.Concurrent;
using System.Security.Claims;
using System.Text;
using YoungFolio.Server.Proofs;
using YoungFolio.Server.Security;
using YoungFolio.Server.Starting;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>What to start.</summary>
/// <param name="Title">Its title.</param>
/// <param name="Kind">The template; null where there is another beginning.</param>
/// <param name="Authors">Its authors, parted by commas or lines.</param>
/// <param name="Language">Its language, as babel names it.</param>
/// <param name="Paper">Its paper.</param>
/// <param name="From">A manuscript of one's shelf that it begins as; null: none.</param>
/// <param name="Text">A text that it begins as; null: none.</param>
/// <param name="Institute">Where its authors are.</param>
/// <param name="Date">Its date; null or empty: as the beginning has it.</param>
public sealed record NewManuscript(
    string? Title, string? Kind, string? Authors = null, string? Language = null, string? Paper = null, int? From = null, string? Text = null, string? Institute = null, string? Date = null);

/// <summary>Manuscripts that begin: as a template, as another manuscript, as a text.</summary>
public static class StartApi
{
    private const int LongestText = 2_000_000;

    private static readonly ConcurrentDictionary<string, BeginningView> s_firstPages = new(StringComparer.Ordinal);

    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder api)
    {
        api.MapGet("/templates", () => Templates.All);
        api.MapGet("/templates/{name}/page", async (string name, ProofService proofs, CancellationToken stop) =>
        {
            if (Templates.Find(name) is not { } texts)
            {
                return Results.Json(new Problem("There is no such template."), statusCode: 404);
            }

            // The day of the first look: nobody reads a date there.
            if (!s_firstPages.TryGetValue(name, out BeginningView? page))
            {
                s_firstPages[name] = page = await proofs.SketchAsync(Bytes(texts), Templates.MainFile, Templates.PageOf(name), stop);
            }

            return Results.Ok(page);
        }).Produces<BeginningView>();
        api.MapPost("/templates/look", async (NewManuscript wanted, ClaimsPrincipal user, ManuscriptStore store, FileStore files, ProofService proofs, CancellationToken stop) =>
            await BeginningOfAsync(wanted, user, store, files) is { } begins
                ? Results.Ok(await proofs.SketchAsync(begins.Files, begins.Main, 1, stop)) : Nothing()).Produces<BeginningView>();
        api.MapPost("/manuscripts", async (NewManuscript wanted, ClaimsPrincipal user, ManuscriptStore store, FileStore files) =>
        {
            string title = ManuscriptStore.CheckTitle(wanted.Title ?? "");
            if (await BeginningOfAsync(wanted, user, store, files) is not { } begins)
            {
                return Nothing();
            }

            ManuscriptEntity made = await store.CreateAsync(title, begins.Kind, begins.Main, user.Actor(), begins.Files);
            return Results.Ok(made.Id);
        }).Produces<int>();
    }

    private sealed record Begins(IReadOnlyList<(string Path, byte[] Bytes)> Files, string Main, string Kind);

    private static async Task<Begins?> BeginningOfAsync(NewManuscript wanted, ClaimsPrincipal user, ManuscriptStore store, FileStore files)
    {
        var beginning = new Beginning(wanted.Title, wanted.Authors, wanted.Language, wanted.Paper, wanted.Institute, wanted.Date);
        if (wanted.From is { } from)
        {
            return await store.RoleOfAsync(from, user.PersonId()) is null || (await store.ManuscriptAsync(from)).DeletedAt is not null ? null : await CopyAsync(from, beginning, store, files);
        }

        if (wanted.Text is { Length: > 0 and <= LongestText } text)
        {
            // A text from elsewhere stays as it is.
            return new Begins([(Templates.MainFile, Encoding.UTF8.GetBytes(text))], Templates.MainFile, "article");
        }

        return Templates.Find(wanted.Kind) is { } template
            ? new Begins(Bytes(Templates.Fill(template, Templates.MainFile, beginning)), Templates.MainFile, Templates.All.First(t => t.Name == wanted.Kind).Title.ToLowerInvariant()) : null;
    }

    private static async Task<Begins> CopyAsync(int from, Beginning beginning, ManuscriptStore store, FileStore files)
    {
        ManuscriptEntity found = await store.ManuscriptAsync(from);
        var texts = new Dictionary<string, string>(StringComparer.Ordinal);
        var others = new List<(string, byte[])>();
        foreach (FileEntity file in await files.FilesAsync(from))
        {
            byte[] bytes = await files.BytesAsync(file);
            if (file.IsText)
            {
                texts[file.Path] = Encoding.UTF8.GetString(bytes);
            }
            else
            {
                others.Add((file.Path, bytes));
            }
        }

        return new Begins([.. Bytes(Templates.Fill(texts, found.MainFile, beginning)), .. others], found.MainFile, found.Description);
    }

    private static List<(string Path, byte[] Bytes)> Bytes(IReadOnlyDictionary<string, string> texts) =>
        [.. texts.OrderBy(t => t.Key != Templates.MainFile).ThenBy(t => t.Key, StringComparer.Ordinal).Select(t => (t.Key, Encoding.UTF8.GetBytes(t.Value)))];

    private static IResult Nothing() => Results.Json(new Problem("Choose a template, a manuscript of your shelf, or a text to begin with."), statusCode: 400);
}
