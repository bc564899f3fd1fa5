using System.Diagnostics;
using System.Diagnostics.CodeAnalysis;
using System.Threading.Channels;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Storage;

namespace YoungFolio.Storage;

/// <summary>
/// Everything that changes the data goes through here, one after the other. What waits is stored in one transaction, so
/// that many writers cost little more than one; each is acknowledged only when all of it is on the disk. Turns go by account,
/// and a transaction ends after a moment, so that nobody who brings much holds up those who type: work that takes long comes in slices.
/// </summary>
[SuppressMessage("Naming", "CA1711", Justification = "It is a queue, of writes.")]
public sealed class WriteQueue : IAsyncDisposable
{
    /// <summary>The account of work that nobody asked for: upkeep.</summary>
    public const int House = 0;

    private const int LargestBatch = 128;
    private const long LargestCache = 128L * 1024 * 1024;
    private const int SqliteFull = 13;
    private const int SqliteInputOutput = 10;

    // Whoever types waits for the transaction before: it ends soon, however much waits.
    private static readonly TimeSpan s_longestBatch = TimeSpan.FromMilliseconds(30);

    // How long what waits is still stored when the server stops.
    private static readonly TimeSpan s_lastWords = TimeSpan.FromSeconds(1);

    private readonly IDbContextFactory<FolioDatabase> _databases;
    private readonly WriteTurns<Work> _turns;
    private readonly Channel<StoreChange> _changes = Channel.CreateUnbounded<StoreChange>(new UnboundedChannelOptions { SingleReader = true });
    private readonly RecentlyUsed<int, LiveText> _texts = new(LargestCache, static t => 2L * t.Text.Length);
    private readonly Lock _known = new();
    private readonly HashSet<int> _changing = [];
    private readonly Task _loop;
    private string? _generation;
    private long _closedAt;

    /// <summary>Begins to take work.</summary>
    public WriteQueue(IDbContextFactory<FolioDatabase> databases, TimeProvider? clock = null)
    {
        _databases = databases;
        _turns = new WriteTurns<Work>(clock ?? TimeProvider.System);
        _loop = Task.Run(LoopAsync);
    }

    /// <summary>Tells what was stored, before whoever wanted it hears of it: what is kept in memory is forgotten in time.</summary>
    public event Action<StoreChange>? Stored;

    /// <summary>Tells that somebody who was told of what was stored failed at it.</summary>
    public event Action<Exception>? ListenerFailed;

    /// <summary>What was stored, in order. There is one reader.</summary>
    public ChannelReader<StoreChange> Changes => _changes.Reader;

    /// <summary>Carries something out, all of it or nothing; it is on the disk when this returns.</summary>
    /// <param name="account">Whose turn it takes.</param>
    /// <param name="what">What is done.</param>
    /// <exception cref="StorageFullException">It can't be stored.</exception>
    public Task<T> RunAsync<T>(int account, Func<WriteSession, Task<T>> what) => RunAsync(account, what, isStep: true);

    /// <summary>Carries out what refuses before it changes anything: typing. Many of them are stored in one step, which is much of what they cost.</summary>
    /// <exception cref="StorageFullException">It can't be stored.</exception>
    public Task<T> RunTogetherAsync<T>(int account, Func<WriteSession, Task<T>> what) => RunAsync(account, what, isStep: false);

    private async Task<T> RunAsync<T>(int account, Func<WriteSession, Task<T>> what, bool isStep)
    {
        var work = new Work(async session => await what(session), isStep);
        return _turns.TryAdd(account, work) ? (T)(await work.Done.Task)! : throw Stopping();
    }

    private static StoreException Stopping() => new("The server is stopping. Try again in a moment.");

    /// <summary>A text as it was stored last, if it is at hand. It is never older than what the database says.</summary>
    public LiveText? Known(int file)
    {
        lock (_known)
        {
            return _changing.Contains(file) ? null : _texts.Find(file);
        }
    }

    /// <summary>Which state of the data is known; null before the first work.</summary>
    public string? Generation
    {
        get
        {
            lock (_known)
            {
                return _generation;
            }
        }
    }

    /// <summary>Which state of the data there is.</summary>
    public Task<string> GenerationAsync() => Generation is { } known ? Task.FromResult(known) : LookAsync();

    /// <summary>Looks whether another state of the data was put in place, when nobody writes.</summary>
    public Task<string> LookAsync() => RunAsync(House, _ => Task.FromResult(Generation!));

    /// <summary>Keeps a text at hand that was read, unless a newer one is there.</summary>
    /// <param name="file">The file.</param>
    /// <param name="text">Its text.</param>
    /// <param name="generation">The state of the data before it was read.</param>
    public void Keep(int file, LiveText text, string? generation)
    {
        // With the lock: a text of a state that is being forgotten must not come in behind it.
        lock (_known)
        {
            if (generation is not null && generation == _generation && !_changing.Contains(file))
            {
                _texts.Keep(file, text, known => known.Version >= text.Version);
            }
        }
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        _closedAt = Stopwatch.GetTimestamp();
        _turns.Close();
        await _loop;
        _changes.Writer.TryComplete();
        _turns.Dispose();
    }

    private async Task LoopAsync()
    {
        var batch = new List<Work>();
        while (await _turns.WaitAsync())
        {
            batch.Clear();
            if (_closedAt != 0 && Stopwatch.GetElapsedTime(_closedAt) > s_lastWords)
            {
                // Whoever waits that long sends it again to the server that comes next.
                while (_turns.TryTake(out _, out Work? late))
                {
                    late.Done.TrySetException(Stopping());
                }

                continue;
            }

            try
            {
                await StoreAsync(batch);
            }
            catch (Exception e)
            {
                // None of the batch was stored; each is told why, and the queue goes on.
                Exception reason = Reason(e);
                if (batch.Count == 0 && _turns.TryTake(out _, out Work? first))
                {
                    batch.Add(first);
                }

                foreach (Work work in batch)
                {
                    work.Done.TrySetException(reason);
                }
            }
        }
    }

    // Takes what waits into the batch as long as the transaction may last.
    private async Task StoreAsync(List<Work> batch)
    {
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        await using IDbContextTransaction transaction = await database.Database.BeginTransactionAsync();
        await NoticeOtherDataAsync(database);
        using var session = new WriteSession(database, this);
        var results = new List<(Work Work, object? Result)>();
        long start = Stopwatch.GetTimestamp();
        while (batch.Count < LargestBatch && (batch.Count == 0 || Stopwatch.GetElapsedTime(start) < s_longestBatch) && _turns.TryTake(out int account, out Work? work))
        {
            batch.Add(work);
            long begun = Stopwatch.GetTimestamp();
            if (work.IsStep)
            {
                await SaveAsync(database);
                await transaction.CreateSavepointAsync("work");
            }

            session.Begin();
            try
            {
                object? result = await work.What(session);
                if (work.IsStep)
                {
                    // What it returns stays as it is: what comes behind it in the batch reads anew.
                    await SaveAsync(database);
                    database.ChangeTracker.Clear();
                }

                session.Accept();
                results.Add((work, result));
            }
            catch (Exception e) when (Reason(e) is not StorageFullException)
            {
                // This one is taken back; the others in the batch aren't concerned.
                if (work.IsStep)
                {
                    await transaction.RollbackToSavepointAsync("work");
                    database.ChangeTracker.Clear();
                }

                work.Done.TrySetException(Reason(e));
            }

            _turns.Used(account, Stopwatch.GetElapsedTime(begun));
        }

        await SaveAsync(database);
        await CommitAsync(transaction, session.Texts);
        foreach (StoreChange change in session.Changes)
        {
            Tell(change);
        }

        foreach ((Work work, object? result) in results)
        {
            work.Done.TrySetResult(result);
        }

        foreach (Func<WriteSession, Task> later in session.Later)
        {
            Afterwards(later, _generation);
        }
    }

    // While it is being stored nobody knows whether the text at hand is of before or of after: whoever asks reads what is on the disk.
    // A proof of before that has the number of after would otherwise pass for the newest.
    private async Task CommitAsync(IDbContextTransaction transaction, Dictionary<int, LiveText> texts)
    {
        lock (_known)
        {
            _changing.UnionWith(texts.Keys);
        }

        bool isStored = false;
        try
        {
            await transaction.CommitAsync();
            isStored = true;
        }
        finally
        {
            lock (_known)
            {
                _changing.Clear();
                foreach ((int file, LiveText text) in isStored ? texts : [])
                {
                    _texts.Keep(file, text);
                }
            }
        }
    }

    // What only makes reading faster is stored in a turn of its own; if it can't be, nothing is lost. Of another state of the data
    // that was put in place meanwhile it would be wrong.
    private void Afterwards(Func<WriteSession, Task> what, string? generation)
    {
        var work = new Work(async session =>
        {
            if (generation == Generation)
            {
                await what(session);
            }

            return null;
        }, IsStep: true);
        if (_turns.TryAdd(House, work))
        {
            _ = work.Done.Task.ContinueWith(static t => t.Exception, CancellationToken.None, TaskContinuationOptions.OnlyOnFaulted, TaskScheduler.Default);
        }
    }

    // What is tracked is looked through at every step: it must not grow with the batch.
    private static async Task SaveAsync(FolioDatabase database)
    {
        await database.SaveChangesAsync();
        foreach (EntityEntry stored in database.ChangeTracker.Entries().Where(e => e.Entity is Revision or Snapshot or Blob or BlobPiece).ToList())
        {
            stored.State = EntityState.Detached;
        }
    }

    // A backup may be put in place while we run; then nothing that is kept in memory holds any more.
    private async Task NoticeOtherDataAsync(FolioDatabase database)
    {
        string generation = await database.Generations.AsNoTracking().Select(g => g.Value).SingleAsync();
        bool isOther;
        lock (_known)
        {
            isOther = _generation is not null && _generation != generation;
            _generation = generation;
            if (isOther)
            {
                _texts.Clear();
            }
        }

        if (isOther)
        {
            Tell(new AllChanged());
        }
    }

    // It is on the disk: that a listener fails must never tell a writer that it isn't.
    private void Tell(StoreChange change)
    {
        foreach (Action<StoreChange> listener in Stored?.GetInvocationList().Cast<Action<StoreChange>>() ?? [])
        {
            try
            {
                listener(change);
            }
            catch (Exception e)
            {
                ListenerFailed?.Invoke(e);
            }
        }

        _changes.Writer.TryWrite(change);
    }

    private static Exception Reason(Exception e)
    {
        Exception cause = e is DbUpdateException { InnerException: { } inner } ? inner : e;
        return cause is SqliteException { SqliteErrorCode: SqliteFull or SqliteInputOutput } ? new StorageFullException() : cause;
    }

    private sealed record Work(Func<WriteSession, Task<object?>> What, bool IsStep)
    {
        public TaskCompletionSource<object?> Done { get; } = new(TaskCreationOptions.RunContinuationsAsynchronously);
    }
}
