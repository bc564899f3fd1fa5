using System.Diagnostics;
using YoungFolio.Cowriting;
using YoungFolio.Storage;

namespace YoungFolio.Tool;

/// <summary>Reads texts as they were, out of logs that grow.</summary>
internal static class HistoryBench
{
    /// <summary>Medians in milliseconds of reading a text at a revision anywhere in the log, after so many revisions.</summary>
    public static async Task<IReadOnlyList<(int Revisions, double Milliseconds)>> RunAsync()
    {
        string folder = Directory.CreateTempSubdirectory("folio").FullName;
        var result = new List<(int, double)>();
        var databases = new FolderDatabases(folder);
        await using (FolioDatabase database = databases.CreateDbContext())
        {
            await database.PrepareAsync();
            database.Users.Add(new Person { Name = "Writer", Colour = "#34567a", UserName = "w", Email = "w@bench.example" });
            await database.SaveChangesAsync();
        }

        await using (var writeQueue = new WriteQueue(databases))
        {
            using var roles = new RoleCache(databases, writeQueue);
            var stores = new ManuscriptStores(databases, writeQueue, roles, TimeProvider.System);
            ManuscriptEntity manuscript = await stores.Manuscripts.CreateAsync("Long", "bench", "main.tex", new Actor(1), [("main.tex", System.Text.Encoding.UTF8.GetBytes(new string('x', 40_000)))]);
            FileEntity file = (await stores.Files.FilesAsync(manuscript.Id))[0];
            var random = new Random(3);
            int version = 0;
            int length = 40_000;
            foreach (int revisions in (int[])[1_000, 10_000, 100_000])
            {
                while (version < revisions)
                {
                    var updates = new List<Update>();
                    for (int i = 0; i < 500; i++)
                    {
                        // As people write: mostly a letter comes in, sometimes one goes.
                        int at = random.Next(length);
                        bool goes = random.Next(4) == 0;
                        updates.Add(new Update("bench", ChangeSet.Replace(length, at, goes ? at + 1 : at, goes ? "" : "w")));
                        length += goes ? -1 : 1;
                    }

                    version = await stores.Texts.TypeAsync(manuscript.Id, new Actor(1), file.Id, version, updates);
                }

                var times = new List<double>();
                for (int i = 0; i < 41; i++)
                {
                    int revision = 1 + random.Next(version);
                    long start = Stopwatch.GetTimestamp();
                    await stores.History.TextAtAsync(manuscript.Id, file.Id, revision);
                    times.Add(Stopwatch.GetElapsedTime(start).TotalMilliseconds);
                }

                result.Add((revisions, times.Order().ElementAt(20)));
            }
        }

        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(folder, true);
        return result;
    }
}
