using System.Data.Common;
using System.Globalization;
using System.Text;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using YoungFolio.Cowriting;
using YoungFolio.Storage;

namespace YoungFolio.Server.Tests;

/// <summary>
/// Writers over the real store and its queue of writes, on a real SQLite file: batches of any size, beyond every limit of what is
/// kept at hand, late writers, answers that get lost, restarts. Held against the plainest model: every letter once, in its writer's order.
/// </summary>
public sealed class StoreConvergenceTests : IAsyncLifetime, IDbContextFactory<FolioDatabase>
{
    private readonly string _folder = Directory.CreateTempSubdirectory("folio").FullName;
    private WriteQueue _writeQueue = null!;
    private ManuscriptStores _stores = null!;

    // Happens once, when a database is opened next: between two transactions of the queue.
    private Action? _beforeNext;

    // Happens once, when a transaction is on the disk and the queue doesn't know of it yet.
    private readonly OnceStored _stored = new();

    public FolioDatabase CreateDbContext()
    {
        Interlocked.Exchange(ref _beforeNext, null)?.Invoke();
        var options = new DbContextOptionsBuilder<FolioDatabase>();
        FolioDatabase.Configure(options, _folder);
        return new FolioDatabase(options.AddInterceptors(_stored).Options);
    }

    public async Task InitializeAsync()
    {
        await using FolioDatabase database = CreateDbContext();
        await database.PrepareAsync();
        database.Users.AddRange(Enumerable.Range(1, 9).Select(i => new Person { Name = $"Writer {i}", Colour = "#34567a", UserName = $"w{i}", Email = $"w{i}@moor.example" }));
        await database.SaveChangesAsync();
        Open();
    }

    public async Task DisposeAsync()
    {
        await _writeQueue.DisposeAsync();
        Pools.Clear(_folder);
        Directory.Delete(_folder, true);
    }

    [Fact]
    public async Task What_waits_in_one_batch_is_carried_over_all_that_came_before_it()
    {
        (int manuscript, int file) = await ManuscriptAsync("");
        // Another's work keeps the queue busy, so that both come into one batch.
        Task busy = _writeQueue.RunAsync(9, async _ =>
        {
            await Task.Delay(30);
            return 0;
        });
        List<Update> many = [.. Enumerable.Range(0, 300).Select(i => new Update("1:a", ChangeSet.Replace(i, i, i, "a")))];
        Task<int> first = _stores.Texts.TypeAsync(manuscript, new Actor(1), file, 0, many);
        Task<int> second = _stores.Texts.TypeAsync(manuscript, new Actor(2), file, 0, [new Update("2:b", ChangeSet.Replace(0, 0, 0, "B"))]);
        await busy;
        Assert.Equal((300, 301), (await first, await second));
        Assert.Equal("B" + new string('a', 300), (await _stores.Texts.TextAsync(file)).Text);
        Assert.Equal("B" + new string('a', 300), await _stores.History.TextAtAsync(manuscript, file, int.MaxValue));
    }

    /// <summary>Else a proof of the text before had the number of the one after, and passed for the newest.</summary>
    [Fact]
    public async Task A_text_is_never_older_than_the_revision_that_is_read_before_it()
    {
        (int manuscript, int file) = await ManuscriptAsync("old");
        Assert.Equal("old", (await _stores.Texts.TextAsync(file)).Text);
        int before = (await _stores.Manuscripts.ManuscriptAsync(manuscript)).Revision;
        (int Revision, string Text) read = default;
        _stored.Next = async () => read = ((await _stores.Manuscripts.ManuscriptAsync(manuscript)).Revision, (await _stores.Texts.TextAsync(file)).Text);
        await _stores.Texts.TypeAsync(manuscript, new Actor(1), file, 0, [new Update("1:a", ChangeSet.Replace(3, 0, 0, "not "))]);
        Assert.Equal((before + 1, "not old"), read);
        Assert.Equal("not old", _writeQueue.Known(file)?.Text);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public async Task Writers_come_to_one_text_in_which_every_letter_is_once(int seed)
    {
        var random = new Random(seed);
        (int manuscript, int file) = await ManuscriptAsync("A wall stands.\n");
        List<Writer> writers = [.. Enumerable.Range(1, 5).Select(i => new Writer(i, file, "A wall stands.\n"))];
        for (int round = 0; round < 25; round++)
        {
            if (random.Next(12) == 0)
            {
                await _writeQueue.DisposeAsync();
                Open();
            }

            if (random.Next(3) == 0)
            {
                _ = _writeQueue.RunAsync(9, async _ =>
                {
                    await Task.Delay(random.Next(12));
                    return 0;
                });
            }

            var sent = new List<(Writer Writer, Task<int> Answer)>();
            foreach (Writer writer in writers.OrderBy(_ => random.Next()).ToList())
            {
                // The last one is late: it types and sends, and hears of others but rarely.
                int count = random.Next(10) switch { 0 => 300, 1 => 220, < 5 => random.Next(20), _ => random.Next(4) };
                writer.Live(random, writer.Person == 5 ? random.Next(12) : count);
                for (int times = random.Next(4) == 0 ? 2 : 1; times > 0 && writer.Copy.Unsent.Count > 0; times--)
                {
                    sent.Add((writer, _stores.Texts.TypeAsync(manuscript, new Actor(writer.Person), file, writer.Copy.Version, [.. writer.Copy.Unsent])));
                }
            }

            foreach ((Writer writer, Task<int> answer) in sent)
            {
                await answer.ContinueWith(a => Assert.True(a.IsCompletedSuccessfully || a.Exception!.InnerException is BehindException, a.Exception?.ToString()), TaskScheduler.Default);
            }

            foreach (Writer writer in writers.Where(w => random.Next(w.Person == 5 ? 15 : 2) == 0))
            {
                writer.Copy.Receive(await _stores.Texts.UpdatesSinceAsync(manuscript, file, writer.Copy.Version));
            }
        }

        foreach (Writer writer in writers)
        {
            writer.Copy.Receive(await _stores.Texts.UpdatesSinceAsync(manuscript, file, writer.Copy.Version));
            if (writer.Copy.Unsent.Count > 0)
            {
                await _stores.Texts.TypeAsync(manuscript, new Actor(writer.Person), file, writer.Copy.Version, [.. writer.Copy.Unsent]);
            }
        }

        LiveText now = await _stores.Texts.TextAsync(file);
        foreach (Writer writer in writers)
        {
            writer.Copy.Receive(await _stores.Texts.UpdatesSinceAsync(manuscript, file, writer.Copy.Version));
            Assert.Empty(writer.Copy.Unsent);
            Assert.Equal(now.Text, writer.Copy.Text);
            Assert.Equal(writer.Kept, string.Concat(now.Text.Where(writer.IsOwn)));
        }

        // The log gives the same text, read from its very beginning and from any snapshot.
        string replayed = ChangeSet.ApplyAll("A wall stands.\n", (await _stores.Texts.UpdatesSinceAsync(manuscript, file, 0)).Select(u => u.Changes));
        Assert.Equal(now.Text, replayed);
        Assert.Equal(now.Text, await _stores.History.TextAtAsync(manuscript, file, int.MaxValue));
    }

    [Fact]
    public async Task Another_tab_of_the_same_name_is_refused_and_loses_nothing_under_a_new_name()
    {
        (int manuscript, int file) = await ManuscriptAsync("");
        var one = new WorkingCopy("1:tab", 0, "");
        var two = new WorkingCopy("1:tab", 0, "");
        one.Type("ONE");
        two.Type("two");
        await _stores.Texts.TypeAsync(manuscript, new Actor(1), file, 0, [.. one.Unsent]);
        await Assert.ThrowsAsync<SharedTabException>(() => _stores.Texts.TypeAsync(manuscript, new Actor(1), file, 0, [.. two.Unsent]));
        two.Receive(await _stores.Texts.UpdatesSinceAsync(manuscript, file, 0));
        Assert.Single(two.Unsent);
        two.TakeName("1:another");
        Assert.Equal(2, await _stores.Texts.TypeAsync(manuscript, new Actor(1), file, two.Version, [.. two.Unsent]));
        one.Receive(await _stores.Texts.UpdatesSinceAsync(manuscript, file, 0));
        two.Receive(await _stores.Texts.UpdatesSinceAsync(manuscript, file, two.Version));
        Assert.Equal("twoONE", one.Text);
        Assert.Equal(one.Text, two.Text);
    }

    [Fact]
    public async Task A_change_of_a_room_that_takes_long_holds_up_nobody_and_fits_what_was_typed_meanwhile()
    {
        (int manuscript, int file) = await ManuscriptAsync("old old\n");
        int asked = 0;
        Task<IReadOnlyList<(FileEntity File, ChangeSet Undo)>> edit = _stores.Texts.EditTextsAsync(manuscript, new Actor(1), texts =>
        {
            // Whoever types meanwhile is not held up, and has the room ask anew, until it gives in.
            asked++;
            Assert.True(_stores.Texts.TypeAsync(manuscript, new Actor(2), file, asked - 1, [new Update("2:t", ChangeSet.Replace(texts["main.tex"].Length, 0, 0, "x"))]).Wait(5000));
            string text = texts["main.tex"];
            return new Dictionary<string, ChangeSet> { ["main.tex"] = ChangeSet.Of(text.Length, [(text.IndexOf("old", StringComparison.Ordinal), 3, "new")]) };
        });
        IReadOnlyList<(FileEntity File, ChangeSet Undo)> done = await edit;
        Assert.Equal("xxxnew old\n", (await _stores.Texts.TextAsync(file)).Text);
        await _stores.Texts.UndoAsync(manuscript, new Actor(1), [.. done.Select(d => (d.File.Id, d.File.Version, d.Undo))]);
        Assert.Equal("xxxold old\n", (await _stores.Texts.TextAsync(file)).Text);
    }

    [Fact]
    public async Task What_a_change_returns_stays_as_it_was_whatever_the_same_batch_brings_behind_it()
    {
        (int manuscript, int file) = await ManuscriptAsync("old words\n");
        var go = new TaskCompletionSource();
        Task busy = _writeQueue.RunAsync(9, async _ =>
        {
            await go.Task;
            return 0;
        });
        Task<IReadOnlyList<(FileEntity File, ChangeSet Undo)>> edit = _stores.Texts.EditTextsAsync(manuscript, new Actor(1), texts =>
            new Dictionary<string, ChangeSet> { ["main.tex"] = ChangeSet.Of(texts["main.tex"].Length, [(0, 3, "new")]) });
        await Task.Delay(200);
        Task<int> typed = _stores.Texts.TypeAsync(manuscript, new Actor(2), file, 0, [new Update("2:t", ChangeSet.Replace(10, 10, 10, "typed\n"))]);
        go.SetResult();
        await busy;
        Assert.Equal(2, await typed);
        Assert.Equal(1, Assert.Single(await edit).File.Version);
        await _stores.Texts.UndoAsync(manuscript, new Actor(1), [.. (await edit).Select(d => (d.File.Id, d.File.Version, d.Undo))]);
        Assert.Equal("old words\ntyped\n", (await _stores.Texts.TextAsync(file)).Text);
    }

    [Fact]
    public async Task Much_that_one_account_brings_waits_for_what_another_types()
    {
        (int manuscript, int file) = await ManuscriptAsync("");
        List<(string Path, byte[] Bytes)> files = [("main.tex", "x"u8.ToArray()), .. Enumerable.Range(0, 1900).Select(i => ($"f/{i}.tex", Encoding.UTF8.GetBytes($"file {i}\n")))];
        Task<ManuscriptEntity> large = _stores.Manuscripts.CreateAsync("Large", "test", "main.tex", new Actor(2), files);
        var order = new List<string>();
        Task told = large.ContinueWith(_ => order.Add("large"), TaskScheduler.Default);
        for (int i = 0; i < 5; i++)
        {
            await _stores.Texts.TypeAsync(manuscript, new Actor(1), file, i, [new Update("1:t", ChangeSet.Replace(i, i, i, "k"))]);
            order.Add("key");
        }

        // Until all of it is there it is on nobody's shelf.
        Assert.DoesNotContain(await _stores.Manuscripts.ShelfAsync(2), m => m.Title == "Large");
        await told;
        Assert.Equal(["key", "key", "key", "key", "key", "large"], order);
        ManuscriptEntity made = Assert.Single(await _stores.Manuscripts.ShelfAsync(2));
        Assert.Equal(1901, (await _stores.Files.FilesAsync(made.Id)).Count);
        Assert.Equal(made.Revision, (await _stores.History.LogAsync(made.Id, int.MaxValue, 1))[0].Number);
    }

    [Fact]
    public async Task Ten_thousand_keystrokes_in_a_long_text_cost_no_copies_of_it()
    {
        (int manuscript, int file) = await ManuscriptAsync(new string('w', 8_000_000));
        List<Update> many = [.. Enumerable.Range(0, 1500).Select(i => new Update("1:a", ChangeSet.Replace(8_000_000 + i, i * 5000, i * 5000, "k")))];
        long before = GC.GetTotalAllocatedBytes();
        await _stores.Texts.TypeAsync(manuscript, new Actor(1), file, 0, many);
        // Each copy would take 16 MB.
        Assert.InRange(GC.GetTotalAllocatedBytes() - before, 0, 400L * 1024 * 1024);
        Assert.Equal(1500, (await _stores.Texts.TextAsync(file)).Text.Count(c => c == 'k'));
    }

    [Fact]
    public async Task What_is_put_away_for_long_is_erased_and_contents_that_others_use_stay()
    {
        byte[] picture = [0x89, (byte)'P', (byte)'N', (byte)'G', 0x0D, 0x0A, 0x1A, 0x0A, 1, 2, 3];
        byte[] shared = [0x89, (byte)'P', (byte)'N', (byte)'G', 0x0D, 0x0A, 0x1A, 0x0A, 4, 5, 6];
        ManuscriptEntity gone = await _stores.Manuscripts.CreateAsync("Gone", "test", "main.tex", new Actor(1), [("main.tex", "x"u8.ToArray()), ("a.png", picture), ("b.png", shared)]);
        ManuscriptEntity stays = await _stores.Manuscripts.CreateAsync("Stays", "test", "main.tex", new Actor(2), [("main.tex", "y"u8.ToArray()), ("c.png", shared)]);
        int main = (await _stores.Files.FilesAsync(gone.Id)).First(p => p.IsText).Id;
        await _stores.Texts.TypeAsync(gone.Id, new Actor(1), main, 0, [.. Enumerable.Range(0, 4500).Select(i => new Update("1:a", ChangeSet.Replace(i + 1, i, i, "a")))]);
        await _stores.Manuscripts.PutAwayAsync(gone.Id, new Actor(1), isAway: true);
        var later = new ManuscriptStores(this, _writeQueue, new RoleCache(this, _writeQueue), new Clock { Now = DateTimeOffset.UtcNow.AddDays(31) });
        Assert.Equal(1, await later.Manuscripts.PurgeAsync());
        await using FolioDatabase database = CreateDbContext();
        Assert.Equal([stays.Id], await database.Manuscripts.Select(m => m.Id).ToListAsync());
        Assert.Equal((2, 2, 2), (await database.Revisions.CountAsync(), await database.Files.CountAsync(), await database.Revisions.CountAsync(r => r.ManuscriptId == stays.Id)));
        Assert.Equal(shared, (await database.BlobPieces.SingleAsync()).Bytes);
        Assert.Equal(1, await database.Blobs.CountAsync());
        Assert.Equal(1, await database.Snapshots.CountAsync());
    }

    [Fact]
    public async Task A_large_content_is_stored_in_pieces_between_which_others_type()
    {
        (int manuscript, int file) = await ManuscriptAsync("x");
        byte[] bytes = new byte[45_000_000];
        new Random(3).NextBytes(bytes);
        int stored = 0;
        Task<FileEntity> upload = _stores.Files.PutFileAsync(manuscript, new Actor(8), "a.dat", bytes);
        for (; !upload.IsCompleted; stored++)
        {
            await _stores.Texts.TypeAsync(manuscript, new Actor(2), file, stored, [new Update($"2:{stored}", ChangeSet.Replace(1 + stored, 0, 0, "k"))]);
        }

        Assert.True(stored >= 6, $"typed only {stored} times while the content was stored");
        Assert.Equal(bytes, await _stores.Files.BytesAsync(await upload));
        await using FolioDatabase database = CreateDbContext();
        Assert.Equal((1, 86), (await database.Blobs.CountAsync(), await database.BlobPieces.CountAsync()));
    }

    [Fact]
    public async Task What_only_makes_reading_faster_is_stored_after_what_was_typed_and_every_state_can_be_read_before_and_after()
    {
        (int manuscript, int file) = await ManuscriptAsync("x");
        for (int i = 0; i < 450; i++)
        {
            Assert.Equal(i + 1, await _stores.Texts.TypeAsync(manuscript, new Actor(2), file, i, [new Update($"2:{i}", ChangeSet.Replace(1 + i, 0, 0, "k"))]));
        }

        // What waits is carried out in order: when this is, the snapshots are there.
        await _writeQueue.LookAsync();
        await using FolioDatabase database = CreateDbContext();
        Assert.Equal(3, await database.Snapshots.CountAsync());
        foreach (int version in (int[])[0, 1, 199, 200, 201, 449, 450])
        {
            Assert.Equal(new string('k', version) + "x", (await TextLog.ReadAsync(database, file, version)).Text);
        }

        // Without them it only takes longer.
        await database.Snapshots.Where(s => s.Version > 0).ExecuteDeleteAsync();
        Assert.Equal(new string('k', 450) + "x", (await TextLog.ReadAsync(database, file, 450)).Text);
    }

    [Fact]
    public async Task A_large_text_is_put_in_place_of_another_while_others_type_in_it_and_nobody_loses_a_word()
    {
        (int manuscript, int file) = await ManuscriptAsync("beginning end");
        string large = "beginning " + new string('w', 3_000_000) + " end";
        Task<FileEntity> upload = _stores.Files.PutFileAsync(manuscript, new Actor(8), "main.tex", Encoding.UTF8.GetBytes(large), replacesText: true);
        int typed = 0;
        for (; !upload.IsCompleted || typed < 3; typed++)
        {
            LiveText now = await _stores.Texts.TextAsync(file);
            await _stores.Texts.TypeAsync(manuscript, new Actor(2), file, now.Version, [new Update($"2:{typed}", ChangeSet.Replace(now.Text.Length, 0, 0, "k"))]);
        }

        await upload;
        await using FolioDatabase database = CreateDbContext();
        string text = (await _stores.Texts.TextAsync(file)).Text;
        // What was typed before the upload was worked out is replaced with the rest; it is in the history.
        Assert.EndsWith(large, text, StringComparison.Ordinal);
        Assert.Equal(text, (await TextLog.ReadAsync(database, file)).Text);
        Assert.Equal(typed + 1, await database.Revisions.CountAsync(r => r.FileId == file && r.Kind == RevisionKind.Text));
    }

    [Fact]
    public async Task Two_who_bring_the_same_content_at_once_store_it_once_and_what_is_refused_leaves_nothing()
    {
        (int manuscript, _) = await ManuscriptAsync("x");
        byte[] bytes = new byte[3_000_000];
        new Random(3).NextBytes(bytes);
        FileEntity[] both = await Task.WhenAll(_stores.Files.PutFileAsync(manuscript, new Actor(8), "a.dat", bytes), _stores.Files.PutFileAsync(manuscript, new Actor(2), "b.dat", bytes));
        bytes[0] ^= 1;
        // The first of the two takes the name that the second needs as a folder, after both were looked at.
        Task<FileEntity>[] clash = [_stores.Files.PutFileAsync(manuscript, new Actor(8), "c/d.dat", bytes), _stores.Files.PutFileAsync(manuscript, new Actor(2), "c", bytes)];
        await Assert.ThrowsAsync<StoreException>(() => Task.WhenAll(clash));
        bytes[0] ^= 1;
        Assert.Equal(bytes, await _stores.Files.BytesAsync(both[0]));
        Assert.Equal(bytes, await _stores.Files.BytesAsync(both[1]));
        await using FolioDatabase database = CreateDbContext();
        Assert.Equal((2, 12, 0), (await database.Blobs.CountAsync(), await database.BlobPieces.CountAsync(), await database.Blobs.CountAsync(b => b.Hash == null)));
    }

    [Fact]
    public async Task A_listener_that_fails_after_something_was_stored_never_tells_a_writer_that_it_was_not()
    {
        (int manuscript, int file) = await ManuscriptAsync("x");
        var failures = new List<Exception>();
        int told = 0;
        _writeQueue.Stored += _ => throw new InvalidOperationException("a listener");
        _writeQueue.Stored += _ => told++;
        _writeQueue.ListenerFailed += failures.Add;
        FileEntity added = await _stores.Files.PutFileAsync(manuscript, new Actor(8), "a.txt", [65]);
        Assert.Equal([65], await _stores.Files.BytesAsync(added));
        Assert.NotEmpty(failures);
        Assert.Equal(failures.Count, told);
        Assert.Equal("x", (await _stores.Texts.TextAsync(file)).Text);
    }

    [Fact]
    public async Task What_is_on_its_way_while_another_state_of_the_data_is_put_in_place_harms_no_content_and_no_text_of_it()
    {
        (int manuscript, int file) = await ManuscriptAsync("x");
        byte[] bytes = new byte[45_000_000];
        new Random(3).NextBytes(bytes);
        Task<FileEntity> upload = _stores.Files.PutFileAsync(manuscript, new Actor(8), "a.dat", bytes);
        await using FolioDatabase database = CreateDbContext();
        while (await database.BlobPieces.CountAsync() < 2)
        {
            await Task.Delay(1);
        }

        // In the other state the number belongs to a content that is whole. It is put in place between two transactions, as a restore does it.
        var inPlace = new TaskCompletionSource();
        _beforeNext = () =>
        {
            using FolioDatabase restored = CreateDbContext();
            restored.Database.ExecuteSqlRaw("UPDATE Generations SET Value = 'other'; UPDATE Blobs SET Hash = 'AA'; DELETE FROM BlobPieces WHERE Number > 0");
            inPlace.SetResult();
        };
        await inPlace.Task;
        StoreException refused = await Assert.ThrowsAsync<StoreException>(() => upload);
        Assert.Contains("Upload it again", refused.Message, StringComparison.Ordinal);
        Assert.Equal(("AA", 1), (await database.Blobs.Select(b => b.Hash).SingleAsync(), await database.BlobPieces.CountAsync()));

        // A snapshot that is due after what was typed is of the state in which it was typed.
        await _writeQueue.RunAsync(8, async session =>
        {
            session.After(later => Task.FromResult(later.Database.Snapshots.Add(new Snapshot { FileId = file, Version = 5, Text = "of another state" })));
            return await session.Database.Generations.ExecuteUpdateAsync(g => g.SetProperty(x => x.Value, "third"));
        });
        await _writeQueue.LookAsync();
        Assert.Equal(1, await database.Snapshots.CountAsync());
    }

    [Fact]
    public async Task What_was_on_its_way_when_the_server_ended_is_gone_after_the_next_start()
    {
        (int manuscript, _) = await ManuscriptAsync("x");
        await _stores.Files.PutFileAsync(manuscript, new Actor(8), "a.dat", [1, 2, 3]);
        await using FolioDatabase database = CreateDbContext();
        var half = new Blob();
        database.Blobs.Add(half);
        await database.SaveChangesAsync();
        database.BlobPieces.AddRange(Enumerable.Range(0, 20).Select(i => new BlobPiece { BlobId = half.Id, Number = i, Bytes = [1] }));
        await database.SaveChangesAsync();
        await _stores.TidyAsync();
        Assert.Equal((1, 1), (await database.Blobs.CountAsync(), await database.BlobPieces.CountAsync()));
    }

    [Fact]
    public async Task All_that_was_ever_stored_counts()
    {
        (int manuscript, int file) = await ManuscriptAsync("12345");
        long before = (await _stores.Manuscripts.ManuscriptAsync(manuscript)).Stored;
        Assert.Equal(5, before);
        byte[] head = [0x89, (byte)'P', (byte)'N', (byte)'G', 0x0D, 0x0A, 0x1A, 0x0A];
        for (byte i = 0; i < 3; i++)
        {
            await _stores.Files.PutFileAsync(manuscript, new Actor(1), "a.png", [.. head, i]);
        }

        await _stores.Texts.TypeAsync(manuscript, new Actor(1), file, 0, [new Update("1:a", ChangeSet.Replace(5, 5, 5, "6"))]);
        long after = (await _stores.Manuscripts.ManuscriptAsync(manuscript)).Stored;
        Assert.Equal(before + 27 + "[5,[0,\"6\"]]".Length, after);
        await using (FolioDatabase database = CreateDbContext())
        {
            await database.Manuscripts.Where(m => m.Id == manuscript).ExecuteUpdateAsync(m => m.SetProperty(x => x.Stored, ManuscriptStore.LargestHistory - 3));
        }

        StoreException full = await Assert.ThrowsAsync<StoreException>(() => _stores.Texts.TypeAsync(manuscript, new Actor(1), file, 1, [new Update("1:a", ChangeSet.Replace(6, 6, 6, "7"))]));
        Assert.Contains("with all its history", full.Message, StringComparison.Ordinal);
        Assert.Equal("123456", (await _stores.Texts.TextAsync(file)).Text);
    }

    private async Task<(int Manuscript, int File)> ManuscriptAsync(string text)
    {
        ManuscriptEntity manuscript = await _stores.Manuscripts.CreateAsync("Walls", "test", "main.tex", new Actor(8), [("main.tex", Encoding.UTF8.GetBytes(text))]);
        return (manuscript.Id, (await _stores.Files.FilesAsync(manuscript.Id))[0].Id);
    }

    private void Open()
    {
        _writeQueue = new WriteQueue(this);
        _stores = new ManuscriptStores(this, _writeQueue, new RoleCache(this, _writeQueue), TimeProvider.System);
    }

    /// <summary>A writer with letters of a script of its own, who types after its own last letter and takes back only those.</summary>
    private sealed class Writer(int person, int file, string text)
    {
        private const int Letters = 500;

        private int _typed;

        public int Person => person;

        public WorkingCopy Copy { get; } = new(string.Create(CultureInfo.InvariantCulture, $"{person}:file {file}"), 0, text);

        /// <summary>What of its own the writer left in the text.</summary>
        public string Kept { get; private set; } = "";

        public bool IsOwn(char c) => c >= First && c < First + Letters;

        private char First => (char)(0x4E00 + (person * Letters));

        public void Live(Random random, int count)
        {
            for (int i = 0; i < count; i++)
            {
                if (random.Next(8) == 0 && Kept.Length > 0)
                {
                    Copy.MoveTo(Copy.Text.LastIndexOf(Kept[^1]) + 1);
                    Copy.Erase(1);
                    Kept = Kept[..^1];
                    continue;
                }

                // At its end, or wherever it began, if others' words stand between.
                int last = Kept.Length > 0 ? Copy.Text.LastIndexOf(Kept[^1]) + 1 : random.Next(Copy.Text.Length + 1);
                char letter = (char)(First + (_typed++ % Letters));
                Copy.MoveTo(last);
                Copy.Type(letter.ToString());
                Kept += letter;
            }
        }
    }

    private sealed class OnceStored : DbTransactionInterceptor
    {
        public Func<Task>? Next { get; set; }

        public override async Task TransactionCommittedAsync(DbTransaction transaction, TransactionEndEventData eventData, CancellationToken cancellationToken = default)
        {
            if (Next is { } next)
            {
                Next = null;
                await next();
            }
        }
    }
}
