using YoungFolio.Compiler;
using YoungFolio.Server.Proofs;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>The proof's state.</summary>
/// <param name="Revision">Revision that the proof shows.</param>
/// <param name="Milliseconds">How long the compile took.</param>
/// <param name="IsBehind">Whether a newer proof is on its way.</param>
/// <param name="Report">The compile report.</param>
/// <param name="Versions">The version of each text that the places in the report are of, by path.</param>
public sealed record ProofView(int Revision, double Milliseconds, bool IsBehind, CompileReport Report, IReadOnlyDictionary<string, int> Versions);

/// <summary>A place in the source.</summary>
public sealed record PlaceView(string File, int Line, int Column);

/// <summary>Proofs, and the ways between them and the source.</summary>
public static class ProofApi
{
    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder manuscript)
    {
        RouteGroupBuilder proof = manuscript.MapGroup("/proof");
        proof.MapGet("/", async (int id, System.Security.Claims.ClaimsPrincipal user, ProofService proofs, CancellationToken stop) =>
        {
            Proof found = await proofs.GetAsync(id, stop);
            CompileReport report = found.Result.Report;
            return user.IsScript()
                ? new ProofView(found.Revision, found.Milliseconds, proofs.IsBehind(id), WithoutWords(report), new Dictionary<string, int>())
                : new ProofView(found.Revision, found.Milliseconds, proofs.IsBehind(id), report, found.Versions);
        }).Needs(Role.Reader).ForScripts();
        proof.MapGet("/pdf", async (int id, string? download, ProofService proofs, CancellationToken stop) =>
        {
            Proof found = await proofs.GetAsync(id, stop);
            return Results.File(found.Result.Pdf, "application/pdf", download);
        }).Needs(Role.Reader);
        proof.MapGet("/first-page", async (int id, ProofService proofs, CancellationToken stop) =>
            Results.File((await proofs.GlanceAsync(id, stop)).FirstPage, "application/pdf")).Needs(Role.Reader);
        proof.MapGet("/source", async (int id, int sheet, double x, double y, ProofService proofs, CancellationToken stop) =>
            (await proofs.GetAsync(id, stop)).Result.Map.FindSource(sheet, x, y) is { } place
                ? Results.Ok(new PlaceView(place.File, place.Line, place.Column))
                : Results.NoContent()).Needs(Role.Reader).Produces<PlaceView>();
        proof.MapGet("/spot", async (int id, string file, int line, int column, ProofService proofs, CancellationToken stop) =>
            (await proofs.GetAsync(id, stop)).Result.Map.FindSpot(file, line, column) is { } spot ? Results.Ok(spot) : Results.NoContent()).Needs(Role.Reader).Produces<PageSpot>();
    }

    // A script learns whether the proof is there and how long it is, not what it says.
    private static CompileReport WithoutWords(CompileReport report) =>
        report with { Outline = [], Labels = [], Citations = [], Bibliography = [], Floats = [], Equations = [], Findings = [] };
}
