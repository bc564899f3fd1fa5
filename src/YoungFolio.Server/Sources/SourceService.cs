using YoungFolio.Compiler;
using YoungFolio.Markup;
using YoungFolio.Server.Proofs;
using YoungFolio.Storage;

namespace YoungFolio.Server.Sources;

/// <summary>Makes tables of sources from the parts as they are now; a .bib part that didn't change isn't read again.</summary>
public sealed class SourceService(FileStore files, TextStore texts, ProofService proofs)
{
    private const long MostKept = 64L * 1024 * 1024;

    private readonly RecentlyUsed<int, ReadPart> _read = new(MostKept, static r => 20L * r.Part.Bytes.Length);

    /// <summary>The table of a manuscript.</summary>
    public async Task<SourceTable> TableAsync(int manuscript)
    {
        var parts = new List<Part>();
        foreach (PartEntity part in await files.PartsAsync(manuscript))
        {
            if (!part.Path.EndsWith(".bib", StringComparison.OrdinalIgnoreCase))
            {
                continue;
            }

            ReadPart? known = _read.Find(part.Id);
            if (known is null || known.Version != part.Version || known.Part.Path != part.Path)
            {
                LiveText text = await texts.TextAsync(part.Id);
                known = _read.Keep(part.Id, new ReadPart(text.Version, Part.FromText(part.Path, text.Text)));
            }

            parts.Add(known.Part);
        }

        return SourceTable.Make(new PartTree(parts), proofs.Latest(manuscript)?.Result);
    }

    private sealed record ReadPart(int Version, Part Part);
}
