using YoungFolio.Compiler;
using YoungFolio.Server.Proofs;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>Proofs: what is known of them, their pages, and what is drawn on those.</summary>
public static class ProofApi
{
    // What has a digest in its address never changes. But pages aren't left in a browser for whoever signs in next: it keeps them itself, for each person.
    private const string Forever = "private, max-age=31536000, immutable";
    private const string OfOnePerson = "no-store";

    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder manuscript)
    {
        RouteGroupBuilder proof = manuscript.MapGroup("/proof");
        proof.MapGet("/", async (int id, System.Security.Claims.ClaimsPrincipal user, ProofService proofs, CancellationToken stop) =>
        {
            if (!user.IsScript())
            {
                return await proofs.ViewAsync(id, stop);
            }

            Proof found = await proofs.GetAsync(id, stop);
            return new ProofView(found.Revision, found.Milliseconds, proofs.IsBehind(id), null, WithoutWords(found.Result.Report), new Dictionary<string, int>(), ProofSheets.None);
        }).Needs(Role.Reader).ForScripts();
        proof.MapGet("/sheets/{digest}", (int id, string digest, ProofService proofs, HttpResponse response) =>
        {
            if (proofs.FindSheet(id, digest) is not { } sheet)
            {
                return Results.NotFound(new { message = "There is a newer proof; its pages have other digests." });
            }

            response.Headers.CacheControl = OfOnePerson;
            return Results.Bytes(sheet, "application/json");
        }).Needs(Role.Reader);
        proof.MapGet("/pictures/{digest}", async (int id, string digest, ProofService proofs, HttpResponse response, CancellationToken stop) =>
        {
            if ((await proofs.GetAsync(id, stop)).Result.Sheets.FindPicture(digest) is not { } picture)
            {
                return Results.NotFound(new { message = "There is a newer proof, without this picture." });
            }

            response.Headers.CacheControl = OfOnePerson;
            return Results.Bytes(picture.Bytes, picture.MediaType);
        }).Needs(Role.Reader);
        proof.MapGet("/pdf", async (int id, string? download, ProofService proofs, CancellationToken stop) =>
        {
            Proof found = await proofs.UpToDateAsync(id, stop);
            return Results.File(await Task.Run(() => found.Result.WritePdf(), stop), "application/pdf", download);
        }).Needs(Role.Reader);
        proof.MapGet("/first-page", async (int id, ProofService proofs, CancellationToken stop) => (await proofs.GlanceAsync(id, stop)).FirstPage).Needs(Role.Reader);
    }

    /// <summary>Adds the route of the fonts that pages are drawn with. They ship with the application.</summary>
    public static void MapFonts(RouteGroupBuilder api) => api.MapGet("/fonts/{key}", (string key, ManuscriptCompiler compiler, HttpResponse response) =>
    {
        if (compiler.FontForScreen(key) is not { } font)
        {
            return Results.NotFound(new { message = "This version has no such font. Reload the page." });
        }

        response.Headers.CacheControl = Forever;
        return Results.Bytes(font.Bytes, "font/otf");
    });

    // A script learns whether the proof is there and how long it is, not what it says.
    private static CompileReport WithoutWords(CompileReport report) =>
        report with { Outline = [], Labels = [], Citations = [], Bibliography = [], Floats = [], Index = [], Equations = [], Definitions = [], Uses = new Dictionary<string, int>(), Findings = [] };
}
