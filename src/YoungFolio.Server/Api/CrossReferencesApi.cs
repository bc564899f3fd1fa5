using YoungFolio.Compiler;
using YoungFolio.Server.Proofs;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>What is labelled, and what refers to it.</summary>
/// <param name="Revision">The revision of the proof that it is of.</param>
/// <param name="Versions">The versions of the files that it is of, by path.</param>
/// <param name="Labels">The labels as they are printed, and the keys that are missing.</param>
public sealed record CrossReferencesView(int Revision, IReadOnlyDictionary<string, int> Versions, IReadOnlyList<LabelEntry> Labels);

/// <summary>Cross-references, as the last proof has them.</summary>
public static class CrossReferencesApi
{
    /// <summary>Adds the route.</summary>
    public static void Map(RouteGroupBuilder manuscript) => manuscript.MapGet("/cross-references", async (int id, ProofService proofs, CancellationToken stop) =>
    {
        Proof proof = await proofs.GetAsync(id, stop);
        return new CrossReferencesView(proof.Revision, proof.Versions, proof.Result.CrossReferences.Entries());
    }).Needs(Role.Reader);
}
