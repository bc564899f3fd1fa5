using YoungFolio.Compiler;
using YoungFolio.Markup;
using YoungFolio.Server.Proofs;
using YoungFolio.Storage;

namespace YoungFolio.Server.History;

/// <summary>Proofs of what was: of one moment, and of two with the changes marked. The last ones are kept for a while.</summary>
public sealed class PastProofs(ManuscriptCompiler compiler, ProofService proofs, HistoryReader history, FileStore files, ManuscriptStore store, TimeProvider clock)
{
    private const long LargestCache = 64L * 1024 * 1024;

    private readonly RecentlyUsed<(int Manuscript, int From, int To), ChangeProof> _changes = new(LargestCache, static p => p.Pdf.Length + (400L * p.Changes.Count));

    /// <summary>The later of two moments with what came in and went since the earlier one marked in it.</summary>
    public async Task<ChangeProof> ChangesAsync(int manuscript, int from, int to, CancellationToken stop)
    {
        if (_changes.Find((manuscript, from, to)) is { } known)
        {
            return known;
        }

        ManuscriptSnapshot before = await SnapshotAsync(manuscript, from);
        ManuscriptSnapshot after = await SnapshotAsync(manuscript, to);
        return _changes.Keep((manuscript, from, to), await proofs.BesideAsync(() => compiler.CompileChanges(before, after, stop), stop));
    }

    /// <summary>The manuscript with other texts in the place of some, and what they change marked in it.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="suggested">The other texts, by their files.</param>
    /// <param name="stop">Stops the work.</param>
    public async Task<ChangeProof> SuggestedAsync(int manuscript, IReadOnlyDictionary<int, string> suggested, CancellationToken stop)
    {
        ManuscriptSnapshot before = await SnapshotAsync(manuscript, int.MaxValue);
        var paths = (await files.FilesAsync(manuscript)).ToDictionary(f => f.Id, f => f.Path);
        var over = suggested.Where(s => paths.ContainsKey(s.Key)).ToDictionary(s => paths[s.Key], s => ManuscriptFile.FromText(paths[s.Key], s.Value), StringComparer.Ordinal);
        ManuscriptSnapshot after = before with { Files = new FilesOver(over, before.Files) };
        return await proofs.BesideAsync(() => compiler.CompileChanges(before, after, stop), stop);
    }

    /// <summary>The proof of one moment.</summary>
    public async Task<CompileResult> ProofAsync(int manuscript, int revision, CancellationToken stop)
    {
        ManuscriptSnapshot snapshot = await SnapshotAsync(manuscript, revision);
        return await proofs.BesideAsync(() => compiler.Compile(snapshot, null, null, stop), stop);
    }

    /// <summary>Another state of the data was put in place.</summary>
    public void ForgetAll() => _changes.Clear();

    /// <summary>The files of one moment.</summary>
    public async Task<ManuscriptSnapshot> SnapshotAsync(int manuscript, int revision)
    {
        var read = new List<ManuscriptFile>();
        foreach (FileState file in await history.FilesAtAsync(manuscript, revision))
        {
            read.Add(file.Text is { } text ? ManuscriptFile.FromText(file.Path, text) : new ManuscriptFile(file.Path, await files.BytesAsync(file.BlobHash!)));
        }

        return new ManuscriptSnapshot(new FileTree(read), (await store.ManuscriptAsync(manuscript)).MainFile, DateOnly.FromDateTime(clock.GetLocalNow().DateTime));
    }
}
