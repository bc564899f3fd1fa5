using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;

namespace YoungFolio.Storage;

/// <summary>The database: one SQLite file in the data folder.</summary>
public sealed class FolioDatabase(DbContextOptions<FolioDatabase> options) : DbContext(options)
{
    /// <summary>People.</summary>
    public DbSet<Person> People => Set<Person>();

    /// <summary>Manuscripts.</summary>
    public DbSet<ManuscriptEntity> Manuscripts => Set<ManuscriptEntity>();

    /// <summary>Roles.</summary>
    public DbSet<Membership> Memberships => Set<Membership>();

    /// <summary>Parts.</summary>
    public DbSet<PartEntity> Parts => Set<PartEntity>();

    /// <summary>Contents that aren't text.</summary>
    public DbSet<Blob> Blobs => Set<Blob>();

    /// <summary>The append-only log.</summary>
    public DbSet<Revision> Revisions => Set<Revision>();

    /// <inheritdoc/>
    protected override void OnModelCreating(ModelBuilder modelBuilder)
    {
        modelBuilder.Entity<Membership>().HasKey(m => new { m.ManuscriptId, m.PersonId });
        modelBuilder.Entity<Blob>().HasKey(b => b.Hash);
        modelBuilder.Entity<PartEntity>().HasIndex(p => new { p.ManuscriptId, p.Path });
        modelBuilder.Entity<Revision>().HasIndex(r => new { r.ManuscriptId, r.Number }).IsUnique();
        modelBuilder.Entity<Revision>().HasIndex(r => new { r.PartId, r.PartVersion });
        modelBuilder.Entity<ManuscriptEntity>().HasMany(m => m.Parts).WithOne().HasForeignKey(p => p.ManuscriptId);
        modelBuilder.Entity<ManuscriptEntity>().HasMany(m => m.Members).WithOne().HasForeignKey(p => p.ManuscriptId);
    }

    /// <summary>Brings the file to the present schema, with a write-ahead log that is synced in full.</summary>
    public async Task PrepareAsync()
    {
        await Database.MigrateAsync();
        await Database.ExecuteSqlRawAsync("PRAGMA journal_mode=WAL;");
        await Database.ExecuteSqlRawAsync("PRAGMA synchronous=FULL;");
    }
}

/// <summary>Makes the database for the migration tool.</summary>
public sealed class FolioDatabaseFactory : IDesignTimeDbContextFactory<FolioDatabase>
{
    /// <inheritdoc/>
    public FolioDatabase CreateDbContext(string[] args) =>
        new(new DbContextOptionsBuilder<FolioDatabase>().UseSqlite("Data Source=design.db").Options);
}
