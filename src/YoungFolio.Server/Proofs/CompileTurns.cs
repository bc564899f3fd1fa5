using YoungFolio.Storage;

namespace YoungFolio.Server.Proofs;

/// <summary>
/// Which manuscript is compiled next, so that everyone gets a fair share: of those who wait, the account that used the least time
/// lately. An account is served by one worker at a time. A manuscript waits at most once, so the queue is bounded by their number.
/// </summary>
public sealed class CompileTurns(TimeProvider clock) : IDisposable
{
    // What was used half a minute ago counts half.
    private static readonly TimeSpan s_halfLife = TimeSpan.FromSeconds(30);

    // While keys follow one another closely a proof would be out of date before it is drawn; but nobody waits long for one.
    private static readonly TimeSpan s_quiet = TimeSpan.FromMilliseconds(60);
    private static readonly TimeSpan s_longest = TimeSpan.FromMilliseconds(400);

    private readonly Lock _lock = new();
    private readonly SemaphoreSlim _changed = new(0);
    private readonly Dictionary<int, Waiting> _waiting = [];
    private readonly HashSet<int> _running = [];
    private readonly FairShares _shares = new(clock, s_halfLife);

    /// <summary>Puts a manuscript in the queue, or notes that it changed once more while it waits.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="account">Whose share is used.</param>
    /// <param name="atOnce">Whether to do without the moment of quiet: someone waits for a first proof.</param>
    public void Add(int manuscript, int account, bool atOnce = false)
    {
        lock (_lock)
        {
            DateTimeOffset now = clock.GetUtcNow();
            DateTimeOffset latest = _waiting.TryGetValue(manuscript, out Waiting? before) ? before.Latest : now + s_longest;
            DateTimeOffset ready = now + s_quiet < latest ? now + s_quiet : latest;
            _waiting[manuscript] = new Waiting(manuscript, account, atOnce ? now : ready, latest);
        }

        _changed.Release();
    }

    /// <summary>The next manuscript with its account, which counts as running until <see cref="Done"/>; waits for one.</summary>
    public async Task<(int Manuscript, int Account)> TakeAsync(CancellationToken stop)
    {
        while (true)
        {
            TimeSpan wait = Timeout.InfiniteTimeSpan;
            lock (_lock)
            {
                DateTimeOffset now = clock.GetUtcNow();
                List<Waiting> free = [.. _waiting.Values.Where(w => !_running.Contains(w.Account))];
                if (free.Where(w => w.Ready <= now).OrderBy(w => _shares.Of(w.Account)).ThenBy(w => w.Ready).FirstOrDefault() is { } next)
                {
                    _waiting.Remove(next.Manuscript);
                    _running.Add(next.Account);
                    return (next.Manuscript, next.Account);
                }

                if (free.Count > 0)
                {
                    wait = free.Min(w => w.Ready) - now;
                }
            }

            await _changed.WaitAsync(wait, stop);
        }
    }

    /// <summary>Notes that an account's compile has ended, and how long it took.</summary>
    public void Done(int account, TimeSpan used)
    {
        lock (_lock)
        {
            _running.Remove(account);
            _shares.Add(account, used);
        }

        _changed.Release();
    }

    /// <inheritdoc/>
    public void Dispose() => _changed.Dispose();

    /// <summary>A manuscript that waits: from when it may be taken, and when it is at the latest.</summary>
    private sealed record Waiting(int Manuscript, int Account, DateTimeOffset Ready, DateTimeOffset Latest);
}
