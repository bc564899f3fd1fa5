using Microsoft.EntityFrameworkCore;
using YoungFolio.Storage;

namespace YoungFolio.Tool;

/// <summary>The database in a data folder.</summary>
internal sealed class FolderDatabases(string folder) : IDbContextFactory<FolioDatabase>
{
    /// <inheritdoc/>
    public FolioDatabase CreateDbContext()
    {
        var options = new DbContextOptionsBuilder<FolioDatabase>();
        FolioDatabase.Configure(options, folder);
        return new FolioDatabase(options.Options);
    }
}
