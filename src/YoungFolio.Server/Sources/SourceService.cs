using YoungFolio.Compiler;
using YoungFolio.Markup;
using YoungFolio.Server.Proofs;
using YoungFolio.Storage;

namespace YoungFolio.Server.Sources;

/// <summary>Makes tables of sources from the files as they are now; a .bib file that didn't change isn't read again.</summary>
public sealed class SourceService(FileStore files, TextStore texts, ProofService proofs)
{
    private const long MostKept = 64L * 1024 * 1024;

    private readonly RecentlyUsed<int, ReadFile> _read = new(MostKept, static r => 20L * r.File.Bytes.Length);

    /// <summary>The table of a manuscript.</summary>
    public async Task<SourceTable> TableAsync(int manuscript)
    {
        var read = new List<ManuscriptFile>();
        foreach (FileEntity file in await files.FilesAsync(manuscript))
        {
            if (!file.Path.EndsWith(".bib", StringComparison.OrdinalIgnoreCase))
            {
                continue;
            }

            ReadFile? known = _read.Find(file.Id);
            if (known is null || known.Version != file.Version || known.File.Path != file.Path)
            {
                LiveText text = await texts.TextAsync(file.Id);
                known = _read.Keep(file.Id, new ReadFile(text.Version, ManuscriptFile.FromText(file.Path, text.Text)));
            }

            read.Add(known.File);
        }

        return SourceTable.Make(new FileTree(read), proofs.Latest(manuscript)?.Result);
    }

    private sealed record ReadFile(int Version, ManuscriptFile File);
}
