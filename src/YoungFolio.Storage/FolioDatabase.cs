using System.Data.Common;
using System.Globalization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.EntityFrameworkCore.Storage.ValueConversion;

namespace YoungFolio.Storage;

/// <summary>The database: one SQLite file in the data folder.</summary>
public sealed class FolioDatabase(DbContextOptions<FolioDatabase> options) : IdentityUserContext<Person, int>(options)
{
    /// <summary>Manuscripts.</summary>
    public DbSet<ManuscriptEntity> Manuscripts => Set<ManuscriptEntity>();

    /// <summary>Roles.</summary>
    public DbSet<Membership> Memberships => Set<Membership>();

    /// <summary>Invitations.</summary>
    public DbSet<Invitation> Invitations => Set<Invitation>();

    /// <summary>Access tokens of scripts.</summary>
    public DbSet<AccessToken> AccessTokens => Set<AccessToken>();

    /// <summary>Sessions that were ended before their time.</summary>
    public DbSet<EndedSession> EndedSessions => Set<EndedSession>();

    /// <summary>The outbox of the post stand-in.</summary>
    public DbSet<Letter> Letters => Set<Letter>();

    /// <summary>Files.</summary>
    public DbSet<FileEntity> Files => Set<FileEntity>();

    /// <summary>Contents that aren't text.</summary>
    public DbSet<Blob> Blobs => Set<Blob>();

    /// <summary>Their pieces.</summary>
    public DbSet<BlobPiece> BlobPieces => Set<BlobPiece>();

    /// <summary>The append-only log.</summary>
    public DbSet<Revision> Revisions => Set<Revision>();

    /// <summary>Texts at some versions.</summary>
    public DbSet<Snapshot> Snapshots => Set<Snapshot>();

    /// <summary>Words that are right though no dictionary has them.</summary>
    public DbSet<KnownWord> KnownWords => Set<KnownWord>();

    /// <summary>Goals of writing.</summary>
    public DbSet<WordGoal> WordGoals => Set<WordGoal>();

    /// <summary>Words by day.</summary>
    public DbSet<WordDay> WordDays => Set<WordDay>();

    /// <summary>Remarks that were left as they are.</summary>
    public DbSet<LeftFinding> LeftFindings => Set<LeftFinding>();

    /// <summary>Set-ups that were saved under a name.</summary>
    public DbSet<SavedSetUp> SavedSetUps => Set<SavedSetUp>();

    /// <summary>Those who have a manuscript in common with a person, the person among them: a group is whoever writes together.</summary>
    internal IQueryable<int> GroupOf(int person) =>
        Memberships.Where(other => Memberships.Any(own => own.PersonId == person && own.ManuscriptId == other.ManuscriptId)).Select(other => other.PersonId);

    /// <summary>Rules of houses.</summary>
    public DbSet<SavedRules> SavedRules => Set<SavedRules>();

    /// <summary>How far the checks of manuscripts are that are due.</summary>
    public DbSet<CheckStanding> CheckStandings => Set<CheckStanding>();

    /// <summary>What was handed in.</summary>
    public DbSet<HandedIn> HandIns => Set<HandedIn>();

    /// <summary>The files that went out with it.</summary>
    public DbSet<HandedInFile> HandedInFiles => Set<HandedInFile>();

    /// <summary>Events of manuscripts' histories.</summary>
    public DbSet<HistoryEvent> HistoryEvents => Set<HistoryEvent>();

    /// <summary>Who wrote which stretch of which file.</summary>
    public DbSet<FileAuthors> FileAuthors => Set<FileAuthors>();

    /// <summary>How far logs have been read into events.</summary>
    public DbSet<HistoryMark> HistoryMarks => Set<HistoryMark>();

    /// <summary>Moments with names.</summary>
    public DbSet<Pin> Pins => Set<Pin>();

    /// <summary>Their proofs.</summary>
    public DbSet<PinProof> PinProofs => Set<PinProof>();

    /// <summary>Notes in the margin.</summary>
    public DbSet<MarginNote> MarginNotes => Set<MarginNote>();

    /// <summary>What was answered to them.</summary>
    public DbSet<NoteReply> NoteReplies => Set<NoteReply>();

    /// <summary>What was said of manuscripts.</summary>
    public DbSet<TalkMessage> TalkMessages => Set<TalkMessage>();

    /// <summary>Which state of the data this is.</summary>
    public DbSet<Generation> Generations => Set<Generation>();

    /// <inheritdoc/>
    protected override void OnModelCreating(ModelBuilder builder)
    {
        base.OnModelCreating(builder);
        builder.Entity<Person>().ToTable("People");
        builder.Entity<IdentityUserClaim<int>>().ToTable("PersonClaims");
        builder.Entity<IdentityUserLogin<int>>().ToTable("PersonLogins");
        builder.Entity<IdentityUserToken<int>>().ToTable("PersonTokens");
        builder.Entity<Membership>().HasKey(m => new { m.ManuscriptId, m.PersonId });
        builder.Entity<Blob>().HasIndex(b => b.Hash).IsUnique();
        builder.Entity<BlobPiece>().HasKey(p => new { p.BlobId, p.Number });
        builder.Entity<BlobPiece>().HasOne<Blob>().WithMany().HasForeignKey(p => p.BlobId);
        builder.Entity<Snapshot>().HasKey(s => new { s.FileId, s.Version });
        builder.Entity<FileEntity>().HasIndex(p => new { p.ManuscriptId, p.Path });
        builder.Entity<Revision>().HasIndex(r => new { r.ManuscriptId, r.Number }).IsUnique();
        builder.Entity<Revision>().HasIndex(r => new { r.FileId, r.FileVersion });
        builder.Entity<Revision>().HasIndex(r => new { r.FileId, r.Number });
        builder.Entity<Invitation>().HasIndex(i => i.SecretHash).IsUnique();
        builder.Entity<AccessToken>().HasIndex(t => t.SecretHash).IsUnique();
        builder.Entity<KnownWord>().HasIndex(w => new { w.ManuscriptId, w.PersonId, w.Word });
        builder.Entity<KnownWord>().HasOne<ManuscriptEntity>().WithMany().HasForeignKey(w => w.ManuscriptId).OnDelete(DeleteBehavior.Cascade);
        builder.Entity<KnownWord>().HasOne<Person>().WithMany().HasForeignKey(w => w.PersonId).OnDelete(DeleteBehavior.Cascade);
        builder.Entity<WordGoal>().HasIndex(g => new { g.ManuscriptId, g.Section }).IsUnique();
        builder.Entity<WordGoal>().HasOne<ManuscriptEntity>().WithMany().HasForeignKey(g => g.ManuscriptId);
        builder.Entity<WordDay>().HasKey(d => new { d.ManuscriptId, d.Day });
        builder.Entity<WordDay>().HasOne<ManuscriptEntity>().WithMany().HasForeignKey(d => d.ManuscriptId);
        builder.Entity<LeftFinding>().HasIndex(f => f.ManuscriptId);
        builder.Entity<LeftFinding>().HasOne<ManuscriptEntity>().WithMany().HasForeignKey(f => f.ManuscriptId);
        builder.Entity<HistoryEvent>().HasIndex(e => new { e.ManuscriptId, e.Number }).IsUnique();
        builder.Entity<HistoryEvent>().HasOne<ManuscriptEntity>().WithMany().HasForeignKey(e => e.ManuscriptId);
        builder.Entity<FileAuthors>().HasKey(a => a.FileId);
        builder.Entity<FileAuthors>().HasIndex(a => a.ManuscriptId);
        builder.Entity<FileAuthors>().HasOne<ManuscriptEntity>().WithMany().HasForeignKey(a => a.ManuscriptId);
        builder.Entity<HistoryMark>().HasKey(m => m.ManuscriptId);
        builder.Entity<HistoryMark>().HasOne<ManuscriptEntity>().WithOne().HasForeignKey<HistoryMark>(m => m.ManuscriptId);
        builder.Entity<Pin>().HasIndex(p => new { p.ManuscriptId, p.Revision });
        builder.Entity<Pin>().HasOne<ManuscriptEntity>().WithMany().HasForeignKey(p => p.ManuscriptId);
        builder.Entity<PinProof>().HasKey(p => p.PinId);
        builder.Entity<PinProof>().HasOne<Pin>().WithOne().HasForeignKey<PinProof>(p => p.PinId);
        builder.Entity<MarginNote>().HasIndex(n => n.ManuscriptId);
        builder.Entity<MarginNote>().HasOne<ManuscriptEntity>().WithMany().HasForeignKey(n => n.ManuscriptId);
        builder.Entity<MarginNote>().HasMany(n => n.Replies).WithOne().HasForeignKey(r => r.NoteId);
        builder.Entity<TalkMessage>().HasIndex(m => new { m.ManuscriptId, m.Id });
        builder.Entity<TalkMessage>().HasOne<ManuscriptEntity>().WithMany().HasForeignKey(m => m.ManuscriptId);
        builder.Entity<SavedSetUp>().HasIndex(s => new { s.PersonId, s.Name }).IsUnique();
        builder.Entity<SavedSetUp>().HasOne<Person>().WithMany().HasForeignKey(s => s.PersonId).OnDelete(DeleteBehavior.Cascade);
        builder.Entity<SavedRules>().HasIndex(r => new { r.PersonId, r.Name }).IsUnique();
        builder.Entity<SavedRules>().HasOne<Person>().WithMany().HasForeignKey(r => r.PersonId).OnDelete(DeleteBehavior.Cascade);
        builder.Entity<CheckStanding>().HasKey(c => c.ManuscriptId);
        builder.Entity<CheckStanding>().HasOne<ManuscriptEntity>().WithOne().HasForeignKey<CheckStanding>(c => c.ManuscriptId);
        builder.Entity<HandedIn>().HasOne<ManuscriptEntity>().WithMany().HasForeignKey(h => h.ManuscriptId);
        builder.Entity<HandedIn>().HasMany(h => h.Files).WithOne().HasForeignKey(f => f.HandedInId);
        builder.Entity<Letter>().HasOne<HandedIn>().WithMany().HasForeignKey(l => l.HandedInId).OnDelete(DeleteBehavior.SetNull);
        builder.Entity<ManuscriptEntity>().HasMany(m => m.Files).WithOne().HasForeignKey(p => p.ManuscriptId);
        builder.Entity<ManuscriptEntity>().HasMany(m => m.Members).WithOne().HasForeignKey(p => p.ManuscriptId);
    }

    /// <inheritdoc/>
    protected override void ConfigureConventions(ModelConfigurationBuilder configurationBuilder) =>
        configurationBuilder.Properties<DateTime>().HaveConversion<UtcTime>();

    /// <summary>Brings the file to the present schema, with a write-ahead log.</summary>
    /// <exception cref="StoreException">It is of a newer version of the application, or isn't a database of it.</exception>
    public async Task PrepareAsync()
    {
        if (NewerSchema() is { } newer)
        {
            throw new StoreException($"These data were written by a newer version of Young Folio (“{newer}”). Start that version, or take another data folder. Nothing was changed.");
        }

        await Database.MigrateAsync();
        await Database.ExecuteSqlRawAsync("PRAGMA journal_mode=WAL;");
        if (!await Generations.AnyAsync())
        {
            Generations.Add(new Generation { Id = 1, Value = Guid.NewGuid().ToString("N") });
            await SaveChangesAsync();
        }
    }

    /// <summary>A step of the schema that this version doesn't know; null when there is none.</summary>
    public string? NewerSchema()
    {
        HashSet<string> known = [.. Database.GetMigrations()];
        return Database.CanConnect() ? Database.GetAppliedMigrations().FirstOrDefault(m => !known.Contains(m)) : null;
    }

    /// <summary>Reads the model of the database once, so that the first one who asks for it finds the code for it at hand.</summary>
    public static void WarmUp()
    {
        var options = new DbContextOptionsBuilder<FolioDatabase>();
        Configure(options, "");
        using var database = new FolioDatabase(options.Options);
        _ = database.Model;
    }

    /// <summary>Where the database is in a data folder.</summary>
    public static string FileIn(string folder) => Path.Combine(folder, "folio.db");

    /// <summary>Sets the database up for a data folder.</summary>
    /// <param name="options">What is set up.</param>
    /// <param name="folder">The data folder.</param>
    /// <param name="largestMegabytes">How large the file may grow; 0: as large as the disk allows.</param>
    public static void Configure(DbContextOptionsBuilder options, string folder, int largestMegabytes = 0) =>
        options.UseSqlite($"Data Source={FileIn(folder)}").AddInterceptors(new ConnectionSettings(largestMegabytes));

    /// <summary>Moments are stored and given in UTC.</summary>
    private sealed class UtcTime() : ValueConverter<DateTime, DateTime>(t => t, t => DateTime.SpecifyKind(t, DateTimeKind.Utc));

    /// <summary>What has to be set on every connection: a commit is on the disk before it is acknowledged.</summary>
    private sealed class ConnectionSettings(int largestMegabytes) : DbConnectionInterceptor
    {
        private const int PageSize = 4096;

        public override void ConnectionOpened(DbConnection connection, ConnectionEndEventData eventData) => Set(connection);

        public override Task ConnectionOpenedAsync(DbConnection connection, ConnectionEndEventData eventData, CancellationToken cancellationToken = default)
        {
            Set(connection);
            return Task.CompletedTask;
        }

        private void Set(DbConnection connection)
        {
            using DbCommand command = connection.CreateCommand();
            long pages = largestMegabytes == 0 ? uint.MaxValue - 1 : largestMegabytes * 1024L * 1024 / PageSize;
            command.CommandText = $"PRAGMA synchronous=FULL; PRAGMA max_page_count={pages.ToString(CultureInfo.InvariantCulture)};";
            command.ExecuteNonQuery();
        }
    }
}

/// <summary>Makes the database for the migration tool.</summary>
public sealed class FolioDatabaseFactory : IDesignTimeDbContextFactory<FolioDatabase>
{
    /// <inheritdoc/>
    public FolioDatabase CreateDbContext(string[] args) =>
        new(new DbContextOptionsBuilder<FolioDatabase>().UseSqlite("Data Source=design.db").Options);
}
