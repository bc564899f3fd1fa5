using System.Diagnostics.CodeAnalysis;

namespace YoungFolio.Storage;

/// <summary>
/// What waits to be stored, in a lane for each account: next is the account that used the queue least lately, so that whoever brings
/// much waits for whoever types. What one account brings stays in its order. Safe for use by several threads.
/// </summary>
internal sealed class WriteTurns<T>(TimeProvider clock) : IDisposable
    where T : class
{
    private static readonly TimeSpan s_halfLife = TimeSpan.FromSeconds(10);

    private readonly Lock _lock = new();
    private readonly SemaphoreSlim _came = new(0);
    private readonly Dictionary<int, Queue<(long Number, T Work)>> _lanes = [];
    private readonly FairShares _shares = new(clock, s_halfLife);
    private long _number;
    private bool _isClosed;

    /// <summary>Puts work behind what its account brought before; false when no more is taken.</summary>
    public bool TryAdd(int account, T work)
    {
        lock (_lock)
        {
            if (_isClosed)
            {
                return false;
            }

            if (!_lanes.TryGetValue(account, out Queue<(long, T)>? lane))
            {
                _lanes[account] = lane = [];
            }

            lane.Enqueue((_number++, work));
        }

        _came.Release();
        return true;
    }

    /// <summary>Takes what is next, if anything waits.</summary>
    public bool TryTake(out int account, [MaybeNullWhen(false)] out T work)
    {
        lock (_lock)
        {
            account = 0;
            work = null;
            if (_lanes.Count == 0)
            {
                return false;
            }

            account = _lanes.Count == 1 ? _lanes.Keys.First() : _lanes.MinBy(l => (_shares.Of(l.Key), l.Value.Peek().Number)).Key;
            Queue<(long Number, T Work)> lane = _lanes[account];
            work = lane.Dequeue().Work;
            if (lane.Count == 0)
            {
                _lanes.Remove(account);
            }

            return true;
        }
    }

    /// <summary>Waits until something came; false when nothing waits and no more is taken.</summary>
    public async Task<bool> WaitAsync()
    {
        while (true)
        {
            lock (_lock)
            {
                if (_lanes.Count > 0)
                {
                    return true;
                }

                if (_isClosed)
                {
                    return false;
                }
            }

            await _came.WaitAsync();
        }
    }

    /// <summary>Notes how long an account's work took.</summary>
    public void Used(int account, TimeSpan time)
    {
        lock (_lock)
        {
            _shares.Add(account, time);
        }
    }

    /// <summary>Takes no more; what waits can still be taken.</summary>
    public void Close()
    {
        lock (_lock)
        {
            _isClosed = true;
        }

        _came.Release();
    }

    /// <inheritdoc/>
    public void Dispose() => _came.Dispose();
}
