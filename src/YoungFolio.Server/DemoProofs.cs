using Microsoft.EntityFrameworkCore;
using YoungFolio.Server.Proofs;
using YoungFolio.Storage;

namespace YoungFolio.Server;

/// <summary>Asks for the first proofs of the demo's manuscripts as soon as the application is reached, so that the shelf shows them; those of before are on disk.</summary>
internal sealed class DemoProofs(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue, ProofService proofs) : BackgroundService
{
    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await writeQueue.GenerationAsync();
        await using FolioDatabase database = await databases.CreateDbContextAsync(stoppingToken);
        foreach (int id in await database.Manuscripts.Where(m => m.DeletedAt == null).Select(m => m.Id).ToListAsync(stoppingToken))
        {
            if (proofs.Glance(id) is null)
            {
                await proofs.RequestAsync(id);
            }
        }
    }
}
