using System.Text;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using YoungFolio.Cowriting;
using YoungFolio.Storage;

namespace YoungFolio.Server.Tests;

/// <summary>The log and what is read out of it, on a real SQLite file without a server.</summary>
public sealed class StorageTests : IAsyncLifetime, IDbContextFactory<FolioDatabase>
{
    private static readonly Actor s_writer = new(1);

    private readonly string _folder = Directory.CreateTempSubdirectory("folio").FullName;
    private WriteQueue _writeQueue = null!;
    private RoleCache _roles = null!;
    private ManuscriptStores _stores = null!;

    public FolioDatabase CreateDbContext()
    {
        var options = new DbContextOptionsBuilder<FolioDatabase>();
        FolioDatabase.Configure(options, _folder);
        return new FolioDatabase(options.Options);
    }

    public Task InitializeAsync()
    {
        _writeQueue = new WriteQueue(this);
        _roles = new RoleCache(this, _writeQueue);
        _stores = new ManuscriptStores(this, _writeQueue, _roles, TimeProvider.System);
        return Task.CompletedTask;
    }

    public async Task DisposeAsync()
    {
        _roles.Dispose();
        await _writeQueue.DisposeAsync();
        Pools.Clear(_folder);
        Directory.Delete(_folder, true);
    }

    [Fact]
    public async Task A_data_folder_from_when_files_were_called_parts_goes_on()
    {
        await using (FolioDatabase old = CreateDbContext())
        {
            await old.GetService<IMigrator>().MigrateAsync("Pieces");
            await old.Database.ExecuteSqlRawAsync("""
                INSERT INTO Generations (Id, Value) VALUES (1, 'old');
                INSERT INTO Manuscripts (Id, Title, Description, MainPart, Revision, Stored) VALUES (7, 'Old', 'thesis', 'book.tex', 5, 20);
                INSERT INTO Parts (Id, ManuscriptId, Path, IsText, Version, Size, IsDeleted) VALUES
                  (3, 7, 'book.tex', 1, 0, 8, 0), (4, 7, 'gone.tex', 1, 0, 9, 1);
                INSERT INTO Snapshots (PartId, Version, Text) VALUES (3, 0, 'old text'), (4, 0, 'gone text');
                INSERT INTO Revisions (ManuscriptId, Number, PersonId, At, Kind, PartId, PartVersion, Payload) VALUES
                  (7, 1, 1, '2026-11-01 10:00:00', 'create', 3, 0, 'main.tex'), (7, 2, 1, '2026-11-01 10:01:00', 'create', 4, 0, 'gone.tex'),
                  (7, 3, 1, '2026-11-01 10:02:00', 'rename', 3, 0, 'book.tex'), (7, 4, 1, '2026-11-01 10:03:00', 'setting', 3, 0, 'main part: book.tex'),
                  (7, 5, 1, '2026-11-01 10:04:00', 'delete', 4, 0, 'gone.tex');
                """);
        }

        Pools.Clear(_folder);
        await using (FolioDatabase now = CreateDbContext())
        {
            await now.PrepareAsync();
            Assert.Equal("main file: book.tex", await now.Revisions.Where(r => r.Kind == RevisionKind.Setting).Select(r => r.Payload).SingleAsync());
            // The indexes go by the new names too: a later migration finds them.
            Assert.Equal(
                ["IX_Files_ManuscriptId_Path", "IX_Revisions_FileId_FileVersion", "IX_Revisions_FileId_Number"],
                await now.Database.SqlQueryRaw<string>("SELECT name AS Value FROM sqlite_master WHERE type = 'index' AND tbl_name IN ('Files', 'Revisions') AND name GLOB '*File*' ORDER BY name").ToListAsync());
        }

        Assert.Equal("book.tex", (await _stores.Manuscripts.ManuscriptAsync(7)).MainFile);
        Assert.Equal([(3, "book.tex")], (await _stores.Files.FilesAsync(7)).Select(f => (f.Id, f.Path)));
        await _stores.Files.BringBackAsync(7, s_writer, 4);
        Assert.Equal("gone text", (await _stores.Texts.TextAsync(4)).Text);
        Assert.Equal(["main.tex", "gone.tex"], (await _stores.History.FilesAtAsync(7, 2)).Select(f => f.Path));
        // A new file has a number that no earlier one had.
        Assert.Equal(5, (await _stores.Files.PutFileAsync(7, s_writer, "new.tex", [])).Id);
    }

    [Fact]
    public async Task Every_state_that_ever_was_can_be_read_again()
    {
        await PrepareAsync();
        ManuscriptEntity manuscript = await _stores.Manuscripts.CreateAsync("Long", "test", "main.tex", s_writer, [("main.tex", "main\n"u8.ToArray()), ("data/a.csv", "a,b\n1,2\n"u8.ToArray())]);
        var random = new Random(5);
        var states = new Dictionary<int, Dictionary<string, string>> { [manuscript.Revision] = await NowAsync(manuscript.Id) };
        for (int step = 0; step < 60; step++)
        {
            IReadOnlyList<FileEntity> files = await _stores.Files.FilesAsync(manuscript.Id);
            FileEntity file = files[random.Next(files.Count)];
            switch (random.Next(9))
            {
                case 0:
                    await _stores.Files.PutFileAsync(manuscript.Id, s_writer, $"new/{step}.tex", Encoding.UTF8.GetBytes($"file {step}\n"));
                    break;
                case 1 when file.Path != "main.tex":
                    await _stores.Files.DeleteAsync(manuscript.Id, s_writer, file.Id);
                    break;
                case 2 when file.Path != "main.tex":
                    await _stores.Files.RenameAsync(manuscript.Id, s_writer, file.Id, $"moved/{step}{Path.GetExtension(file.Path)}");
                    break;
                case 3:
                    await _stores.Files.PutFileAsync(manuscript.Id, s_writer, file.Path, Encoding.UTF8.GetBytes($"replaced {step}\n"), replacesText: true);
                    break;
                default:
                    LiveText text = await _stores.Texts.TextAsync(file.Id);
                    var updates = new List<Update>();
                    int length = text.Text.Length;
                    for (int i = 0; i < 70; i++)
                    {
                        int at = random.Next(length + 1);
                        int gone = random.Next(3) == 0 ? Math.Min(2, length - at) : 0;
                        string came = gone > 0 ? "" : $"w{i}\n";
                        updates.Add(new Update("1:t", ChangeSet.Replace(length, at, at + gone, came)));
                        length += came.Length - gone;
                    }

                    await _stores.Texts.TypeAsync(manuscript.Id, s_writer, file.Id, text.Version, updates);
                    break;
            }

            states[(await _stores.Manuscripts.ManuscriptAsync(manuscript.Id)).Revision] = await NowAsync(manuscript.Id);
        }

        foreach ((int revision, Dictionary<string, string> state) in states)
        {
            IReadOnlyList<FileState> read = await _stores.History.FilesAtAsync(manuscript.Id, revision);
            Assert.Equal(state.OrderBy(p => p.Key, StringComparer.Ordinal), read.ToDictionary(p => p.Path, p => p.Text!).OrderBy(p => p.Key, StringComparer.Ordinal));
        }

        // Between two states each keystroke is a revision of its own, with who and when.
        IReadOnlyList<Revision> log = await _stores.History.LogAsync(manuscript.Id, int.MaxValue, 1000);
        Assert.Equal(Enumerable.Range(0, log.Count).Select(i => log[0].Number - i), log.Select(r => r.Number));
        Assert.All(log, r => Assert.Equal((1, DateTimeKind.Utc), (r.PersonId, r.At.Kind)));
        await using FolioDatabase database = CreateDbContext();
        Assert.InRange(await database.Snapshots.CountAsync(), 10, log[0].Number / 20);
    }

    [Fact]
    public async Task What_fails_in_a_batch_takes_nothing_else_along()
    {
        await PrepareAsync();
        ManuscriptEntity manuscript = await _stores.Manuscripts.CreateAsync("Batch", "test", "main.tex", s_writer, [("main.tex", [])]);
        int file = (await _stores.Files.FilesAsync(manuscript.Id))[0].Id;
        List<Task<int>> all = [.. Enumerable.Range(0, 300).Select(i => i % 3 == 2
            ? _stores.Texts.TypeAsync(manuscript.Id, s_writer, file, 0, [new Update($"1:{i}", ChangeSet.Replace(7, 0, 0, "misfit"))])
            : _stores.Texts.TypeAsync(manuscript.Id, s_writer, file, 0, [new Update($"1:{i}", ChangeSet.Replace(0, 0, 0, $"<{i}>"))]))];
        await Task.WhenAll(all.Select(t => t.ContinueWith(_ => { }, TaskScheduler.Default)));
        Assert.Equal(200, all.Count(t => t.IsCompletedSuccessfully));
        Assert.All(all.Where(t => !t.IsCompletedSuccessfully), t => Assert.IsType<ChangeSetException>(t.Exception!.InnerException));
        string text = (await _stores.Texts.TextAsync(file)).Text;
        Assert.All(Enumerable.Range(0, 300), i => Assert.Equal(i % 3 != 2, text.Contains($"<{i}>", StringComparison.Ordinal)));
        Assert.Equal(text, await _stores.History.TextAtAsync(manuscript.Id, file, 201));
    }

    [Fact]
    public async Task A_clock_that_jumps_does_not_change_the_order()
    {
        await PrepareAsync();
        var clock = new Clock { Now = new DateTimeOffset(2026, 11, 25, 12, 0, 0, TimeSpan.Zero) };
        var stores = new ManuscriptStores(this, _writeQueue, _roles, clock);
        ManuscriptEntity manuscript = await stores.Manuscripts.CreateAsync("Jump", "test", "main.tex", s_writer, [("main.tex", [])]);
        int file = (await stores.Files.FilesAsync(manuscript.Id))[0].Id;
        for (int i = 0; i < 5; i++)
        {
            clock.Now = clock.Now.AddHours(i % 2 == 0 ? -30 : 7);
            await stores.Texts.TypeAsync(manuscript.Id, s_writer, file, i, [new Update("1:t", ChangeSet.Replace(i, i, i, $"{i}"))]);
        }

        Assert.Equal("01234", (await stores.Texts.TextAsync(file)).Text);
        Assert.Equal(["01234", "0123", "012", "01", "0"], await Task.WhenAll(Enumerable.Range(0, 5).Select(i => stores.History.TextAtAsync(manuscript.Id, file, 6 - i))));
    }

    [Fact]
    public async Task A_data_folder_of_the_first_version_is_brought_up_to_date()
    {
        await using (FolioDatabase old = CreateDbContext())
        {
            await old.GetService<IMigrator>().MigrateAsync("First");
            await old.Database.ExecuteSqlRawAsync("""
                INSERT INTO People (Id, Name, Colour, IsDemo) VALUES (1, 'Ilse Marrable', '#34567a', 1);
                INSERT INTO Manuscripts (Id, Title, Description, MainPart, Revision) VALUES (1, 'Old', 'test', 'main.tex', 3);
                INSERT INTO Memberships (ManuscriptId, PersonId, Role) VALUES (1, 1, 3);
                INSERT INTO Parts (Id, ManuscriptId, Path, Text, Version, BlobHash, IsDeleted) VALUES (1, 1, 'main.tex', 'now', 1, NULL, 0), (2, 1, 'dot.png', NULL, 0, 'AB', 0);
                INSERT INTO Blobs (Hash, Bytes) VALUES ('AB', x'0102');
                INSERT INTO Revisions (ManuscriptId, Number, PersonId, At, Kind, PartId, PartVersion, ClientId, Payload) VALUES
                  (1, 1, 1, '2026-11-01 10:00:00', 'create', 1, 0, NULL, 'then'),
                  (1, 2, 1, '2026-11-01 10:00:01', 'create', 2, 0, NULL, 'AB'),
                  (1, 3, 1, '2026-11-01 10:00:02', 'text', 1, 1, 'tab', '[[4,"now"]]');
                """);
        }

        await using (FolioDatabase database = CreateDbContext())
        {
            await database.PrepareAsync();
        }

        Assert.Equal("now", (await _stores.Texts.TextAsync(1)).Text);
        Assert.Equal("then", await _stores.History.TextAtAsync(1, 1, 2));
        Assert.Equal([("main.tex", "then", null), ("dot.png", null, "AB")], (await _stores.History.FilesAtAsync(1, 2)).Select(p => (p.Path, p.Text, p.BlobHash)));
        await _stores.Texts.TypeAsync(1, s_writer, 1, 1, [new Update("1:t", ChangeSet.Replace(3, 3, 3, "!"))]);
        Assert.Equal("now!", (await _stores.Texts.TextAsync(1)).Text);
        await using FolioDatabase after = CreateDbContext();
        Person person = await after.Users.SingleAsync();
        Assert.Equal(("ilse.marrable@hollin-edge.example", true), (person.Email, person.SecurityStamp is { Length: > 10 }));
    }

    [Fact]
    public async Task News_read_bit_by_bit_are_the_news_read_at_once()
    {
        await PrepareAsync();
        ManuscriptEntity manuscript = await _stores.Manuscripts.CreateAsync("News", "test", "main.tex", s_writer, [("main.tex", "main\n"u8.ToArray()), ("two.tex", "two\n"u8.ToArray())]);
        using var reader = new NewsReader(this, _writeQueue);
        var people = new PeopleStore(this, _writeQueue, TimeProvider.System);
        await using (FolioDatabase database = CreateDbContext())
        {
            database.Users.AddRange(Enumerable.Range(2, 2).Select(i => new Person { Name = $"Writer {i}", Colour = "#34567a", UserName = $"w{i}", Email = $"w{i}@moor.example" }));
            await database.SaveChangesAsync();
            database.Memberships.Add(new Membership { ManuscriptId = manuscript.Id, PersonId = 2, Role = Role.Author, SeenRevision = manuscript.Revision });
            await database.SaveChangesAsync();
        }

        var random = new Random(11);
        int seen = 0;
        for (int step = 0; step < 120; step++)
        {
            FileEntity file = (await _stores.Files.FilesAsync(manuscript.Id)).Where(p => p.IsText).OrderBy(_ => random.Next()).First();
            var actor = new Actor(1 + random.Next(3));
            switch (random.Next(12))
            {
                case 0:
                    await _stores.Files.PutFileAsync(manuscript.Id, actor, $"new/{step}.tex", Encoding.UTF8.GetBytes($"file {step}\n"));
                    break;
                case 1:
                    await _stores.Files.RenameAsync(manuscript.Id, actor, file.Id, $"moved/{step}.tex");
                    break;
                case 2:
                    await people.SeenAsync(manuscript.Id, 2);
                    Assert.Empty((await reader.ReadAsync(manuscript.Id, 2)).Items);
                    seen++;
                    break;
                default:
                    LiveText text = await _stores.Texts.TextAsync(file.Id);
                    int gone = random.Next(Math.Min(3, text.Text.Length + 1));
                    await _stores.Texts.TypeAsync(manuscript.Id, actor, file.Id, text.Version, [new Update($"{actor.Person}:t", ChangeSet.Replace(text.Text.Length, 0, gone, "word "))]);
                    break;
            }

            if (random.Next(3) > 0)
            {
                using var fresh = new NewsReader(this, _writeQueue);
                News atOnce = await fresh.ReadAsync(manuscript.Id, 2);
                News bitByBit = await reader.ReadAsync(manuscript.Id, 2);
                Assert.Equal(atOnce.Items.Select(Said), bitByBit.Items.Select(Said));
                Assert.DoesNotContain(bitByBit.Items, i => i.PersonId == 2);
            }
        }

        Assert.True(seen > 3);
        static string Said(NewsItem item) => $"{item.PersonId} {item.Path} {string.Join(',', item.Kinds.Order())} +{item.Added} -{item.Removed} {item.From:O} {item.Until:O}";
    }

    [Fact]
    public async Task A_backup_is_put_in_place_while_another_writes_and_twice_in_one_moment()
    {
        await PrepareAsync();
        ManuscriptEntity manuscript = await _stores.Manuscripts.CreateAsync("Kept", "test", "main.tex", s_writer, [("main.tex", "before\n"u8.ToArray())]);
        string copy = Path.Combine(_folder, "copy.zip");
        Backup.Make(_folder, copy);
        await _stores.Files.PutFileAsync(manuscript.Id, s_writer, "later.tex", "later\n"u8.ToArray());
        var now = new DateTime(2026, 11, 25, 12, 0, 0);
        var writes = new ManualResetEventSlim();
        Task writing = Task.Run(async () =>
        {
            await using var connection = new SqliteConnection($"Data Source={FolioDatabase.FileIn(_folder)};Pooling=False");
            await connection.OpenAsync();
            await using SqliteTransaction transaction = connection.BeginTransaction();
            await using SqliteCommand write = connection.CreateCommand();
            write.CommandText = "UPDATE Manuscripts SET Title = 'held'";
            await write.ExecuteNonQueryAsync();
            writes.Set();
            await Task.Delay(1500);
            await transaction.CommitAsync();
        });
        writes.Wait();

        string? first = Backup.Restore(copy, _folder, now);
        await writing;
        Assert.Equal(["main.tex"], (await _stores.Files.FilesAsync(manuscript.Id)).Select(p => p.Path));
        string? second = Backup.Restore(first!, _folder, now);
        Assert.NotEqual(first, second);
        Assert.Equal(["later.tex", "main.tex"], (await _stores.Files.FilesAsync(manuscript.Id)).Select(p => p.Path).Order());
    }

    private async Task PrepareAsync()
    {
        await using FolioDatabase database = CreateDbContext();
        await database.PrepareAsync();
        database.Users.Add(new Person { Name = "Writer", Colour = "#34567a", UserName = "w", Email = "w@moor.example" });
        await database.SaveChangesAsync();
    }

    private async Task<Dictionary<string, string>> NowAsync(int manuscript)
    {
        var texts = new Dictionary<string, string>();
        foreach (FileEntity file in await _stores.Files.FilesAsync(manuscript))
        {
            texts[file.Path] = (await _stores.Texts.TextAsync(file.Id)).Text;
        }

        return texts;
    }
}

/// <summary>A clock that tests set.</summary>
internal sealed class Clock : TimeProvider
{
    public DateTimeOffset Now { get; set; } = new(2026, 11, 25, 12, 0, 0, TimeSpan.Zero);

    public override DateTimeOffset GetUtcNow() => Now;
}
