using YoungFolio.Storage;

namespace YoungFolio.Server.Proofs;

/// <summary>
/// Which manuscript is compiled next, so that everyone gets a fair share: of those who wait, the account that used the least time
/// lately. An account is served by one worker at a time; and a compile of whoever used much waits in its middle for one of whoever used
/// little, one that takes long also for another manuscript of the same account. A manuscript is compiled by one worker at a time, so that
/// an older state of it never comes after a newer one, and waits at most once, so the queue is bounded by their number.
/// </summary>
/// <param name="clock">Tells the time.</param>
/// <param name="places">How many compiles work at once.</param>
public sealed class CompileTurns(TimeProvider clock, int places = 2) : IDisposable
{
    /// <summary>How many compiles may wait in their middle: each holds its memory meanwhile.</summary>
    public const int MostPaused = 3;

    // What was used half a minute ago counts half.
    private static readonly TimeSpan s_halfLife = TimeSpan.FromSeconds(30);

    // The first key is compiled at once. Who types faster than a manuscript is compiled waits half as long as that takes between two
    // compiles, but nobody waits long.
    private const double PauseShare = 0.5;
    private static readonly TimeSpan s_longestPause = TimeSpan.FromMilliseconds(400);

    // So much more must a compile's account have used than the one that it waits for, in seconds; and how often it is looked.
    private const double Difference = 0.3;

    // An edit's proof is done before anyone notices: a compile never waits in its middle before it has worked that long. One that takes
    // longer waits for a new one, whoever used more.
    private static readonly TimeSpan s_longCompile = TimeSpan.FromSeconds(0.5);
    private static readonly TimeSpan s_look = TimeSpan.FromMilliseconds(100);

    private readonly Lock _lock = new();
    private readonly SemaphoreSlim _changed = new(0);
    private readonly Dictionary<int, Waiting> _waiting = [];
    private readonly List<CompileTurn> _begun = [];

    // Until when a manuscript that was just compiled isn't compiled again.
    private readonly Dictionary<int, DateTimeOffset> _pauses = [];
    private readonly FairShares _shares = new(clock, s_halfLife);

    /// <summary>Puts a manuscript in the queue, unless it waits there already.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="account">Whose share is used.</param>
    public void Add(int manuscript, int account)
    {
        lock (_lock)
        {
            _waiting.TryAdd(manuscript, new Waiting(manuscript, account, clock.GetUtcNow()));
        }

        _changed.Release();
    }

    /// <summary>The next compile, which goes on until <see cref="Done"/>; waits for one.</summary>
    public async Task<CompileTurn> TakeAsync(CancellationToken stop)
    {
        while (true)
        {
            TimeSpan wait = Timeout.InfiniteTimeSpan;
            lock (_lock)
            {
                DateTimeOffset now = clock.GetUtcNow();
                List<Waiting> free = [.. _waiting.Values.Where(w => MayBegin(w, now))];
                if (free.Where(w => Ready(w) <= now).OrderBy(w => _shares.Of(w.Account)).ThenBy(w => w.Since).FirstOrDefault() is { } next)
                {
                    if (HasPlace(next, now))
                    {
                        _waiting.Remove(next.Manuscript);
                        var turn = new CompileTurn(this, next.Manuscript, next.Account, now);
                        _begun.Add(turn);
                        return turn;
                    }

                    // Whoever works uses more and more.
                    wait = s_look;
                }
                else if (free.Count > 0)
                {
                    wait = free.Min(Ready) - now;
                }
                else if (_waiting.Count > 0)
                {
                    // What is compiled before it may turn out to take long.
                    wait = s_look;
                }
            }

            await _changed.WaitAsync(wait, stop);
        }
    }

    /// <summary>Notes that a compile has ended.</summary>
    public void Done(CompileTurn turn)
    {
        lock (_lock)
        {
            DateTimeOffset now = clock.GetUtcNow();
            _begun.Remove(turn);
            TimeSpan worked = turn.Worked(now);
            _shares.Add(turn.Account, worked);
            foreach (int over in _pauses.Where(p => p.Value <= now).Select(p => p.Key).ToList())
            {
                _pauses.Remove(over);
            }

            TimeSpan pause = worked * PauseShare;
            _pauses[turn.Manuscript] = now + (pause < s_longestPause ? pause : s_longestPause);
            if (Working.Count < places)
            {
                MayGoOn.MinBy(b => Used(b, now))?.Resume(now);
            }

            turn.Dispose();
        }

        _changed.Release();
    }

    /// <summary>Looks whether one that waits in its middle goes on: for a free place, or for whoever has used clearly more by now.</summary>
    internal void Reconsider()
    {
        lock (_lock)
        {
            DateTimeOffset now = clock.GetUtcNow();
            if (MayGoOn.MinBy(b => Used(b, now)) is { } least && MakePlace(Used(least, now), now))
            {
                least.Resume(now);
            }
        }
    }

    /// <inheritdoc/>
    public void Dispose() => _changed.Dispose();

    // One manuscript is compiled by one worker; and an account has one, or a second while the first takes long and waits for it.
    private bool MayBegin(Waiting waiting, DateTimeOffset now) =>
        !_begun.Exists(b => b.Manuscript == waiting.Manuscript)
        && _begun.FindAll(b => b.Account == waiting.Account) is var own
        && (own is [] || (own is [{ IsPaused: false } one] && one.Worked(now) >= s_longCompile));

    // For a new compile: a free place, that of its own account's that takes long, of whoever used clearly more, or of one that takes long.
    private bool HasPlace(Waiting next, DateTimeOffset now)
    {
        CompileTurn? own = Working.Find(b => b.Account == next.Account);
        if (_begun.Count - Working.Count >= MostPaused)
        {
            return own is null && Working.Count < places;
        }

        if (own is not null)
        {
            own.Pause(now);
            return true;
        }

        if (MakePlace(_shares.Of(next.Account), now))
        {
            return true;
        }

        if (Long(now).MaxBy(b => b.Worked(now)) is not { } longest)
        {
            return false;
        }

        longest.Pause(now);
        return true;
    }

    // Of those that work, whoever used most waits for whoever used clearly less.
    private bool MakePlace(double used, DateTimeOffset now)
    {
        if (Working.Count < places)
        {
            return true;
        }

        if (Long(now).MaxBy(b => Used(b, now)) is not { } most || Used(most, now) < used + Difference)
        {
            return false;
        }

        most.Pause(now);
        return true;
    }

    private IEnumerable<CompileTurn> Long(DateTimeOffset now) => Working.Where(b => b.Worked(now) >= s_longCompile);

    // Those that wait in their middle while nothing else of their account is worked on.
    private IEnumerable<CompileTurn> MayGoOn => _begun.Where(b => b.IsPaused && !_begun.Exists(o => !o.IsPaused && o.Account == b.Account));

    private List<CompileTurn> Working => _begun.FindAll(b => !b.IsPaused);

    private double Used(CompileTurn turn, DateTimeOffset now) => _shares.Of(turn.Account) + turn.Worked(now).TotalSeconds;

    private DateTimeOffset Ready(Waiting waiting) => _pauses.TryGetValue(waiting.Manuscript, out DateTimeOffset until) && until > waiting.Since ? until : waiting.Since;

    /// <summary>A manuscript that waits.</summary>
    private sealed record Waiting(int Manuscript, int Account, DateTimeOffset Since);
}
