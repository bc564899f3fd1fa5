using System.Diagnostics;
using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Security.Cryptography;
using System.Text.Json;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using YoungFolio.Storage;
using YoungFolio.Tool.Attack;

namespace YoungFolio.Server.Tests;

/// <summary>Keeping the data: what a backup checks, what a restore refuses before it touches anything, and what is said when the server can't start.</summary>
public sealed class KeepingTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("folio").FullName;

    public void Dispose() => Directory.Delete(_folder, true);

    [Fact]
    public async Task A_backup_says_what_it_looked_through_and_none_is_made_of_damaged_data()
    {
        await FillAsync(_folder);
        string file = Path.Combine(_folder, "copy.zip");
        Assert.Contains("2 pictures and data files by their digests are whole", await ServerProcess.RunAsync(0, "backup", "--data", _folder, file), StringComparison.Ordinal);
        await ExecuteAsync(_folder, "UPDATE BlobPieces SET Bytes = x'00' WHERE BlobId = (SELECT MIN(Id) FROM Blobs)");
        string said = await ServerProcess.RunAsync(1, "backup", "--data", _folder, Path.Combine(_folder, "second.zip"));
        Assert.Contains("isn't what was stored", said, StringComparison.Ordinal);
        Assert.False(File.Exists(Path.Combine(_folder, "second.zip")));
        await ExecuteAsync(_folder, "PRAGMA foreign_keys=OFF; INSERT INTO Files (ManuscriptId, Path, IsText, Version, Size, IsDeleted) VALUES (99, 'x.tex', 1, 0, 0, 0)");
        Assert.Contains("refers to what isn't there", await ServerProcess.RunAsync(1, "backup", "--data", _folder, Path.Combine(_folder, "third.zip")), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("UPDATE BlobPieces SET Bytes = x'00'", "isn't what was stored")]
    [InlineData("DELETE FROM BlobPieces", "isn't what was stored")]
    [InlineData("UPDATE BlobPieces SET Number = 1", "isn't what was stored")]
    [InlineData("INSERT INTO __EFMigrationsHistory VALUES ('29990101000000_Later', '99')", "newer version of Young Folio")]
    [InlineData("PRAGMA writable_schema=ON; UPDATE sqlite_master SET rootpage = 99999 WHERE name = 'Revisions'", "isn't a whole backup")]
    [InlineData("DROP TABLE Blobs", "isn't a whole backup")]
    public async Task A_copy_that_is_damaged_or_too_new_is_refused_before_anything_is_touched(string harm, string says)
    {
        await FillAsync(_folder);
        string file = Path.Combine(_folder, "copy.zip");
        Backup.Make(_folder, file);
        string database = Path.Combine(_folder, "harmed", "folio.db");
        Directory.CreateDirectory(Path.GetDirectoryName(database)!);
        using (ZipArchive zip = ZipFile.OpenRead(file))
        {
            zip.GetEntry("folio.db")!.ExtractToFile(database);
        }

        await ExecuteAsync(Path.GetDirectoryName(database)!, harm);
        string harmed = Path.Combine(_folder, "harmed.zip");
        using (ZipArchive zip = ZipFile.Open(harmed, ZipArchiveMode.Create))
        {
            zip.CreateEntryFromFile(database, "folio.db");
        }

        string[] before = [.. Directory.EnumerateFiles(_folder).Order()];
        byte[] there = await File.ReadAllBytesAsync(FolioDatabase.FileIn(_folder));
        Assert.Contains(says, await ServerProcess.RunAsync(1, "restore", "--data", _folder, harmed), StringComparison.Ordinal);
        Assert.Equal(before, Directory.EnumerateFiles(_folder).Order());
        Assert.Equal(there, await File.ReadAllBytesAsync(FolioDatabase.FileIn(_folder)));
    }

    [Fact]
    public async Task A_backup_of_an_older_version_is_put_in_place_in_the_present_form()
    {
        byte[] large = new byte[1_300_000];
        new Random(4).NextBytes(large);
        string old = Path.Combine(_folder, "old");
        Directory.CreateDirectory(old);
        await using (FolioDatabase database = Database(old))
        {
            await database.GetService<IMigrator>().MigrateAsync("WritingTogether");
            await database.Database.ExecuteSqlRawAsync("""
                INSERT INTO Generations (Id, Value) VALUES (1, 'old');
                INSERT INTO Manuscripts (Id, Title, Description, MainPart, Revision) VALUES (7, 'Old', 'test', 'main.tex', 1);
                INSERT INTO Parts (Id, ManuscriptId, Path, IsText, Version, Size, IsDeleted) VALUES (1, 7, 'main.tex', 1, 0, 0, 0), (2, 7, 'a.dat', 0, 1, 2, 0);
                INSERT INTO Snapshots (PartId, Version, Text) VALUES (1, 0, 'old text');
                INSERT INTO Blobs (Hash, Bytes) VALUES ('A12871FEE210FB8619291EAEA194581CBD2531E4B23759D225F6806923F63222', x'0102'),
                  ('E3B0C44298FC1C149AFBF4C8996FB92427AE41E4649B934CA495991B7852B855', x'');
                INSERT INTO Revisions (ManuscriptId, Number, PersonId, At, Kind, PartId, PartVersion, Payload) VALUES
                  (7, 1, 1, '2026-11-01 10:00:00', 'create', 2, 0, 'a.dat' || char(10) || 'A12871FEE210FB8619291EAEA194581CBD2531E4B23759D225F6806923F63222');
                """);
            await database.Database.ExecuteSqlRawAsync("INSERT INTO Blobs (Hash, Bytes) VALUES ({0}, {1})", Convert.ToHexString(SHA256.HashData(large)), large);
        }

        Pools.Clear(old);
        string file = Path.Combine(_folder, "old.zip");
        Backup.Make(old, file);
        await FillAsync(_folder);
        Backup.Restore(file, _folder, DateTime.Now);
        await using FolioDatabase now = Database(_folder);
        Assert.Null(now.NewerSchema());
        Assert.Empty(await now.Database.GetPendingMigrationsAsync());
        // What there was counts in the manuscript's share.
        Assert.Equal([0, 2, large.Length], await now.Blobs.OrderBy(b => b.Id).Select(b => now.BlobPieces.Where(p => p.BlobId == b.Id).Sum(p => p.Bytes.Length)).OrderBy(l => l).ToListAsync());
        // A copy of it is looked through by digests: no byte went on the way.
        Assert.Equal(3, Backup.Make(_folder, Path.Combine(_folder, "new.zip")));
        Assert.Equal(("Old", 10), await now.Manuscripts.Select(m => new ValueTuple<string, long>(m.Title, m.Stored)).SingleAsync());
    }

    [Fact]
    public async Task What_is_refused_is_no_error_in_the_log()
    {
        await using var server = new ServerProcess();
        await server.StartAsync();
        Task<string>[] log = [server.Running!.StandardOutput.ReadToEndAsync(), server.Running.StandardError.ReadToEndAsync()];
        using var ilse = new HttpClient { BaseAddress = server.Address };
        JsonElement session = await GuardAsync(ilse);
        (await ilse.PostAsJsonAsync("/api/session", new { person = session.GetProperty("demoPeople")[0].GetProperty("id").GetInt32() })).EnsureSuccessStatusCode();
        await GuardAsync(ilse);
        Assert.Equal(HttpStatusCode.Conflict, (await ilse.PostAsync("/api/manuscripts/zip?title=Broken", new StringContent("no zip"))).StatusCode);
        using HttpResponseMessage invited = await ilse.PostAsJsonAsync("/api/manuscripts/1/invitations", new { email = "una@moor.example", role = "author", days = 3 });
        string secret = (await invited.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("link").GetString()!.Split('/')[^1];
        int invitation = (await ilse.GetFromJsonAsync<JsonElement>("/api/manuscripts/1/people")).GetProperty("invitations")[0].GetProperty("id").GetInt32();
        (await ilse.DeleteAsync($"/api/manuscripts/1/invitations/{invitation}")).EnsureSuccessStatusCode();
        Assert.False((await ilse.PostAsJsonAsync($"/api/invitations/{secret}", new { })).IsSuccessStatusCode);
        Assert.False((await ilse.PutAsync("/api/manuscripts/1/files?path=a.png", new StringContent("no picture"))).IsSuccessStatusCode);
        await server.TerminateAsync();
        string said = string.Concat(await Task.WhenAll(log)).Split("Perpetua Vane.")[^1].Trim();
        Assert.True(said.Length == 0, said);

        static async Task<JsonElement> GuardAsync(HttpClient client)
        {
            JsonElement session = await client.GetFromJsonAsync<JsonElement>("/api/session");
            client.DefaultRequestHeaders.Remove("folio-guard");
            client.DefaultRequestHeaders.Add("folio-guard", session.GetProperty("guard").GetString());
            return session;
        }
    }

    [Fact]
    public async Task What_keeps_the_server_from_starting_is_said_in_a_sentence_without_a_trace()
    {
        await using var server = new ServerProcess();
        await server.StartAsync();
        string file = Path.Combine(_folder, "a file");
        await File.WriteAllTextAsync(file, "x");
        string damaged = Path.Combine(_folder, "damaged");
        Directory.CreateDirectory(damaged);
        await File.WriteAllBytesAsync(FolioDatabase.FileIn(damaged), [.. Enumerable.Repeat((byte)7, 5000)]);
        string newer = Path.Combine(_folder, "newer");
        Directory.CreateDirectory(newer);
        await FillAsync(newer);
        await ExecuteAsync(newer, "INSERT INTO __EFMigrationsHistory VALUES ('29990101000000_Later', '99')");
        string full = Path.Combine(_folder, "full");
        Directory.CreateDirectory(full);
        await using (FolioDatabase database = Database(full))
        {
            await database.PrepareAsync();
            database.Blobs.Add(new Blob { Id = 1, Hash = "00" });
            database.BlobPieces.Add(new BlobPiece { BlobId = 1, Number = 0, Bytes = new byte[850_000] });
            await database.SaveChangesAsync();
        }

        Pools.Clear(newer);
        Pools.Clear(full);
        foreach ((string[] arguments, string says) in new (string[], string)[]
        {
            (["--port", $"{server.Address.Port}", "--data", Path.Combine(_folder, "own")], "The port is in use"),
            (["--port", "99999"], "isn't a port"),
            (["--port", "none"], "isn't a port"),
            (["--host", "203.0.113.7", "--port", "0", "--data", Path.Combine(_folder, "own")], "can't be listened on"),
            (["--host", "no such host"], "isn't an address to listen on"),
            (["--data", file], "can't be made"),
            (["--data", damaged], "damaged"),
            (["--data", newer], "newer version of Young Folio"),
            (["--data", full, "--largest-data", "1", "--port", "0"], "disk is full"),
            (["--demo-folder", Path.Combine(_folder, "nowhere"), "--data", Path.Combine(_folder, "fresh"), "--port", "0"], "Set the application up again"),
            (["--unheard-of"], "doesn't know"),
        })
        {
            using Process process = server.Launch(arguments);
            string said = await process.StandardError.ReadToEndAsync().WaitAsync(TimeSpan.FromSeconds(60));
            await process.WaitForExitAsync().WaitAsync(TimeSpan.FromSeconds(60));
            Assert.True(said.Contains(says, StringComparison.Ordinal) && !said.Contains("   at ", StringComparison.Ordinal), $"{string.Join(' ', arguments)} said: {said}");
            Assert.Equal(1, process.ExitCode);
        }
    }

    [Fact]
    public async Task A_full_disk_is_told_to_whoever_signs_up()
    {
        await using var server = new ServerProcess();
        await server.StartAsync();
        await server.KillAsync();
        // All but a few rows of what it may take.
        await ExecuteAsync(server.Data, "INSERT INTO Blobs (Id, Hash) VALUES (1000, '00'); INSERT INTO BlobPieces VALUES (1000, 0, zeroblob(1040000 - (SELECT page_count * 4096 FROM pragma_page_count)))");
        await server.StartAsync("--largest-data", "1");
        using var page = new HttpClient { BaseAddress = server.Address };
        page.DefaultRequestHeaders.Add("Folio-Guard", (await page.GetFromJsonAsync<JsonElement>("/api/session")).GetProperty("guard").GetString());
        var answers = new List<HttpStatusCode>();
        for (int i = 0; i < 30 && !answers.Contains(HttpStatusCode.InsufficientStorage); i++)
        {
            using HttpResponseMessage answer = await page.PostAsJsonAsync("/api/account", new { name = new string('n', 80), email = $"{new string('m', 100)}{i}@moor.example", password = "stones and lichen" });
            answers.Add(answer.StatusCode);
            if (answer.StatusCode == HttpStatusCode.OK)
            {
                page.DefaultRequestHeaders.Remove("Folio-Guard");
                page.DefaultRequestHeaders.Add("Folio-Guard", (await page.GetFromJsonAsync<JsonElement>("/api/session")).GetProperty("guard").GetString());
            }
        }

        Assert.Contains(HttpStatusCode.InsufficientStorage, answers);
    }

    [Fact]
    public async Task The_server_ends_within_five_seconds_whatever_runs()
    {
        await using var server = new ServerProcess();
        await server.StartAsync();
        using var page = new HttpClient { BaseAddress = server.Address };
        page.DefaultRequestHeaders.Add("Folio-Guard", (await page.GetFromJsonAsync<JsonElement>("/api/session")).GetProperty("guard").GetString());
        (await page.PostAsJsonAsync("/api/session", new { person = 1 })).EnsureSuccessStatusCode();
        page.DefaultRequestHeaders.Remove("Folio-Guard");
        page.DefaultRequestHeaders.Add("Folio-Guard", (await page.GetFromJsonAsync<JsonElement>("/api/session")).GetProperty("guard").GetString());
        int manuscript = await (await page.PostAsJsonAsync("/api/manuscripts", new { title = "Long", kind = "article" })).Content.ReadFromJsonAsync<int>();
        string body = string.Join('\n', Enumerable.Range(0, 100_000).Select(i => $"\\section{{Heading {i}}}$\\frac{{a}}{{b_{i}}}$"));
        (await page.PutAsync($"/api/manuscripts/{manuscript}/files?path=main.tex&replace=true", new StringContent($"\\documentclass{{article}}\n\\begin{{document}}\\tableofcontents\n{body}\n\\end{{document}}"))).EnsureSuccessStatusCode();
        Task<HttpResponseMessage> waiting = page.GetAsync($"/api/manuscripts/{manuscript}/proof");
        await Task.Delay(1000);
        Assert.InRange((await server.TerminateAsync()).TotalSeconds, 0, 5);
        await waiting.ContinueWith(_ => { }, TaskScheduler.Default);
    }

    private static async Task FillAsync(string folder)
    {
        await using FolioDatabase database = Database(folder);
        await database.PrepareAsync();
        database.Users.Add(new Person { Name = "Writer", Colour = "#34567a", UserName = "w", Email = "w@moor.example" });
        await database.SaveChangesAsync();
        var factory = new Factory(folder);
        await using var writeQueue = new WriteQueue(factory);
        using var roles = new RoleCache(factory, writeQueue);
        var stores = new ManuscriptStores(factory, writeQueue, roles, TimeProvider.System);
        await stores.Manuscripts.CreateAsync("Kept", "test", "main.tex", new Actor(1), [("main.tex", "text\n"u8.ToArray()), ("a.dat", [1, 2, 3]), ("b.dat", [4, 5, 6])]);
        Pools.Clear(folder);
    }

    private static async Task ExecuteAsync(string folder, string sql)
    {
        await using var database = new SqliteConnection($"Data Source={FolioDatabase.FileIn(folder)};Pooling=False");
        await database.OpenAsync();
        await using SqliteCommand command = database.CreateCommand();
        command.CommandText = sql;
        await command.ExecuteNonQueryAsync();
    }

    private static FolioDatabase Database(string folder) => new Factory(folder).CreateDbContext();

    private sealed class Factory(string folder) : IDbContextFactory<FolioDatabase>
    {
        public FolioDatabase CreateDbContext()
        {
            var options = new DbContextOptionsBuilder<FolioDatabase>();
            FolioDatabase.Configure(options, folder);
            return new FolioDatabase(options.Options);
        }
    }
}
