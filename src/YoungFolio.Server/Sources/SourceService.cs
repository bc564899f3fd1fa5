using System.Collections.Concurrent;
using YoungFolio.Compiler;
using YoungFolio.Markup;
using YoungFolio.Server.Proofs;
using YoungFolio.Storage;

namespace YoungFolio.Server.Sources;

/// <summary>Makes tables of sources from the parts as they are now; a .bib part that didn't change isn't read again.</summary>
public sealed class SourceService(ProofService proofs)
{
    private readonly ConcurrentDictionary<int, (string Path, int Version, Part Part)> _read = new();

    /// <summary>The table of a manuscript.</summary>
    public async Task<SourceTable> TableAsync(ManuscriptStore store, int manuscript)
    {
        var parts = new List<Part>();
        foreach (PartEntity part in await store.PartsAsync(manuscript))
        {
            if (!part.Path.EndsWith(".bib", StringComparison.OrdinalIgnoreCase))
            {
                continue;
            }

            if (!_read.TryGetValue(part.Id, out (string Path, int Version, Part Part) known) || known.Version != part.Version || known.Path != part.Path)
            {
                LiveText text = await store.TextAsync(part.Id);
                known = (part.Path, text.Version, Part.FromText(part.Path, text.Text));
                _read[part.Id] = known;
            }

            parts.Add(known.Part);
        }

        return SourceTable.Make(new PartTree(parts), proofs.Latest(manuscript)?.Result);
    }
}
