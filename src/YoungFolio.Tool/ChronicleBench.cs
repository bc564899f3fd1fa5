using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Cowriting;
using YoungFolio.Storage;
using YoungFolio.Tool.Attack;

namespace YoungFolio.Tool;

/// <summary>What the chronicle takes on a running server: a year of writing in the book of the demo, in 100,000 revisions.</summary>
internal static class ChronicleBench
{
    private const int Revisions = 100_000;
    private const int AtOnce = 500;
    private const int Lines = 3_000;
    private const int Runs = 11;
    private const string Longest = "chapters/longest.tex";

    private static readonly DateTime s_begin = new(2025, 11, 1, 8, 0, 0, DateTimeKind.Utc);

    /// <summary>Medians in milliseconds, by what was asked for; with the goal, or 0 where there is none.</summary>
    public static async Task<IReadOnlyList<(string What, double Milliseconds, double Goal)>> RunAsync()
    {
        await using var server = new ServerProcess();
        int manuscript = await WriteAsync(server.Data);
        await server.StartAsync();
        using var http = new HttpClient(new HttpClientHandler { CookieContainer = new CookieContainer() }) { BaseAddress = server.Address, Timeout = TimeSpan.FromMinutes(5) };
        await GuardAsync(http);
        (await http.PostAsJsonAsync("/api/session", new { person = 1 })).EnsureSuccessStatusCode();
        string at = $"/api/manuscripts/{manuscript}";
        int newest = (await http.GetFromJsonAsync<JsonElement>(at)).GetProperty("revision").GetInt32();
        int longest = (await http.GetFromJsonAsync<JsonElement>(at)).GetProperty("files").EnumerateArray().First(f => f.GetProperty("path").GetString() == Longest).GetProperty("id").GetInt32();
        var random = new Random(5);
        double first = await TimeAsync(() => $"{at}/chronicle", 1);
        // Each pair another one: what was compared is kept.
        return
        [
            ("The log read into events, once", first, 0),
            ("The chronicle", await TimeAsync(() => $"{at}/chronicle", Runs), 300),
            ("Two moments a year apart, in the source", await TimeAsync(() => $"{at}/compare?from={random.Next(20, 2000)}&to={newest - random.Next(2000)}", Runs), 500),
            ("Two moments a year apart, in print", await TimeAsync(() => $"{at}/compare/print?from={random.Next(20, 2000)}&to={newest - random.Next(2000)}", 5), 2000),
            ($"Who wrote {Lines} lines", await TimeAsync(() => $"{at}/files/{longest}/authors", Runs), 300),
            ("When a sentence came and went", await TimeAsync(() => $"{at}/chronicle/words?words=wall%20{random.Next(100)}", 3), 0),
        ];

        async Task<double> TimeAsync(Func<string> address, int runs)
        {
            var times = new List<double>();
            for (int i = 0; i < runs; i++)
            {
                long start = Stopwatch.GetTimestamp();
                using HttpResponseMessage answer = await http.GetAsync(address());
                answer.EnsureSuccessStatusCode();
                await answer.Content.ReadAsByteArrayAsync();
                times.Add(Stopwatch.GetElapsedTime(start).TotalMilliseconds);
            }

            return times.Order().ElementAt(runs / 2);
        }
    }

    private static async Task GuardAsync(HttpClient http)
    {
        string guard = (await http.GetFromJsonAsync<JsonElement>("/api/session")).GetProperty("guard").GetString()!;
        http.DefaultRequestHeaders.Remove("folio-guard");
        http.DefaultRequestHeaders.Add("folio-guard", guard);
    }

    // Sittings of one person in one file each, an afternoon apart.
    private static async Task<int> WriteAsync(string folder)
    {
        var databases = new FolderDatabases(folder);
        await using (FolioDatabase database = databases.CreateDbContext())
        {
            await database.PrepareAsync();
            database.Users.Add(new Person { Name = "Writer", Colour = "#34567a", UserName = "w", Email = "w@bench.example", EmailConfirmed = true, IsDemo = true, SecurityStamp = "bench" });
            await database.SaveChangesAsync();
        }

        int manuscript;
        await using (var writeQueue = new WriteQueue(databases))
        {
            using var roles = new RoleCache(databases, writeQueue);
            var stores = new ManuscriptStores(databases, writeQueue, roles, TimeProvider.System);
            string book = Path.Combine(ServerProcess.Root(), "demo", "book");
            List<(string, byte[])> files = [.. Directory.EnumerateFiles(book, "*", SearchOption.AllDirectories).Order(StringComparer.Ordinal).Select(f => (Path.GetRelativePath(book, f), File.ReadAllBytes(f)))];
            files.Add((Longest, Encoding.UTF8.GetBytes(string.Concat(Enumerable.Range(0, Lines).Select(i => $"A line of wall {i} with lichen on it.\n")))));
            manuscript = (await stores.Manuscripts.CreateAsync("A year", "bench", "main.tex", new Actor(1, At: s_begin), files)).Id;
            FileEntity[] texts = [.. (await stores.Files.FilesAsync(manuscript)).Where(f => f.IsText && f.Path.StartsWith("chapters/", StringComparison.Ordinal))];
            var random = new Random(3);
            for (int sitting = 0; sitting < Revisions / AtOnce; sitting++)
            {
                FileEntity file = texts[sitting % texts.Length];
                LiveText text = await stores.Texts.TextAsync(file.Id);
                // Behind a line's end, word by word, as people write; now and then one goes.
                int place = text.Text.IndexOf('\n', random.Next(text.Text.Length / 2)) + 1;
                int length = text.Text.Length;
                var updates = new List<Update>();
                for (int i = 0, typed = 0; i < AtOnce; i++)
                {
                    bool goes = typed > 0 && random.Next(5) == 0;
                    string words = goes ? "" : i % 6 == 5 ? " " : "w";
                    updates.Add(new Update("bench", ChangeSet.Replace(length, place + typed - (goes ? 1 : 0), place + typed, words)));
                    typed += goes ? -1 : 1;
                    length += goes ? -1 : 1;
                }

                DateTime when = s_begin.AddDays(365.0 * sitting * AtOnce / Revisions);
                await stores.Texts.TypeAsync(manuscript, new Actor(1, At: when), file.Id, text.Version, updates);
            }
        }

        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        return manuscript;
    }
}
