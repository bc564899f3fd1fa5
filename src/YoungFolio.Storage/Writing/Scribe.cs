using System.Collections.Concurrent;
using System.Threading.Channels;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Storage;

namespace YoungFolio.Storage;

/// <summary>
/// Everything that changes the data goes through here, one after the other. What waits is stored in one transaction, so
/// that many writers cost little more than one; each is acknowledged only when all of it is on the disk.
/// </summary>
public sealed class Scribe : IAsyncDisposable
{
    private const int LargestBatch = 128;
    private const int LargestCache = 64 * 1024 * 1024;
    private const int SqliteFull = 13;
    private const int SqliteInputOutput = 10;

    private readonly IDbContextFactory<FolioDatabase> _databases;
    private readonly Channel<Work> _work = Channel.CreateUnbounded<Work>(new UnboundedChannelOptions { SingleReader = true });
    private readonly Channel<StoreChange> _changes = Channel.CreateUnbounded<StoreChange>(new UnboundedChannelOptions { SingleReader = true });
    private readonly ConcurrentDictionary<int, LiveText> _texts = new();
    private readonly Task _loop;
    private volatile string? _generation;

    /// <summary>Begins to take work.</summary>
    public Scribe(IDbContextFactory<FolioDatabase> databases)
    {
        _databases = databases;
        _loop = Task.Run(RunAsync);
    }

    /// <summary>Tells what was stored, before whoever wanted it hears of it: what is kept in memory is forgotten in time.</summary>
    public event Action<StoreChange>? Stored;

    /// <summary>What was stored, in order. There is one reader.</summary>
    public ChannelReader<StoreChange> Changes => _changes.Reader;

    /// <summary>Carries something out, all of it or nothing; it is on the disk when this returns.</summary>
    /// <exception cref="StorageFullException">It can't be stored.</exception>
    public Task<T> RunAsync<T>(Func<WriteSession, Task<T>> what) => RunAsync(what, isStep: true);

    /// <summary>Carries out what refuses before it changes anything: typing. Many of them are stored in one step, which is much of what they cost.</summary>
    /// <exception cref="StorageFullException">It can't be stored.</exception>
    public Task<T> RunTogetherAsync<T>(Func<WriteSession, Task<T>> what) => RunAsync(what, isStep: false);

    private async Task<T> RunAsync<T>(Func<WriteSession, Task<T>> what, bool isStep)
    {
        var work = new Work(async session => await what(session), isStep);
        return _work.Writer.TryWrite(work) ? (T)(await work.Done.Task)! : throw new StoreException("The server is stopping. Try again in a moment.");
    }

    /// <summary>A text as it was stored last, if it is at hand.</summary>
    public LiveText? Known(int part) => _texts.GetValueOrDefault(part);

    /// <summary>Which state of the data is known; null before the first work.</summary>
    public string? Generation => _generation;

    /// <summary>Which state of the data there is.</summary>
    public Task<string> GenerationAsync() => _generation is { } known ? Task.FromResult(known) : LookAsync();

    /// <summary>Looks whether another state of the data was put in place, when nobody writes.</summary>
    public Task<string> LookAsync() => RunAsync(_ => Task.FromResult(_generation!));

    /// <summary>Keeps a text at hand that was read, unless a newer one is there.</summary>
    /// <param name="part">The part.</param>
    /// <param name="text">Its text.</param>
    /// <param name="generation">The state of the data before it was read.</param>
    public void Keep(int part, LiveText text, string? generation)
    {
        if (generation is null || generation != _generation)
        {
            return;
        }

        if (_texts.Values.Sum(t => (long)t.Text.Length) > LargestCache)
        {
            _texts.Clear();
        }

        _texts.AddOrUpdate(part, text, (_, known) => known.Version >= text.Version ? known : text);
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        _work.Writer.TryComplete();
        await _loop;
        _changes.Writer.TryComplete();
    }

    private async Task RunAsync()
    {
        var batch = new List<Work>();
        while (await _work.Reader.WaitToReadAsync())
        {
            batch.Clear();
            while (batch.Count < LargestBatch && _work.Reader.TryRead(out Work? work))
            {
                batch.Add(work);
            }

            try
            {
                await StoreAsync(batch);
            }
            catch (Exception e)
            {
                // None of the batch was stored; each is told why, and the queue goes on.
                Exception reason = Reason(e);
                foreach (Work work in batch)
                {
                    work.Done.TrySetException(reason);
                }
            }
        }
    }

    private async Task StoreAsync(List<Work> batch)
    {
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        await using IDbContextTransaction transaction = await database.Database.BeginTransactionAsync();
        await NoticeOtherDataAsync(database);
        var session = new WriteSession(database, this);
        var results = new List<(Work Work, object? Result)>();
        foreach (Work work in batch)
        {
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
                    await SaveAsync(database);
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
        }

        await SaveAsync(database);
        await transaction.CommitAsync();
        foreach ((int part, LiveText text) in session.Texts)
        {
            Keep(part, text, _generation);
        }

        foreach (StoreChange change in session.Changes)
        {
            Stored?.Invoke(change);
            _changes.Writer.TryWrite(change);
        }

        foreach ((Work work, object? result) in results)
        {
            work.Done.TrySetResult(result);
        }
    }

    // What is tracked is looked through at every step: it must not grow with the batch.
    private static async Task SaveAsync(FolioDatabase database)
    {
        await database.SaveChangesAsync();
        foreach (EntityEntry stored in database.ChangeTracker.Entries().Where(e => e.Entity is Revision or Snapshot).ToList())
        {
            stored.State = EntityState.Detached;
        }
    }

    // A backup may be put in place while we run; then nothing that is kept in memory holds any more.
    private async Task NoticeOtherDataAsync(FolioDatabase database)
    {
        string generation = await database.Generations.AsNoTracking().Select(g => g.Value).SingleAsync();
        if (_generation is not null && _generation != generation)
        {
            _texts.Clear();
            Stored?.Invoke(new AllChanged());
            _changes.Writer.TryWrite(new AllChanged());
        }

        _generation = generation;
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
