namespace YoungFolio.Storage;

/// <summary>Who used how much of something lately. What was used a half-life ago counts half, so that whoever was greedy is soon like everyone.</summary>
/// <param name="clock">Tells the time.</param>
/// <param name="halfLife">After how long what was used counts half.</param>
public sealed class FairShares(TimeProvider clock, TimeSpan halfLife)
{
    private const int MostKept = 1000;
    private const double Nothing = 0.0001;

    private readonly Dictionary<int, (double Seconds, DateTimeOffset At)> _used = [];

    /// <summary>How much an account used lately, in seconds.</summary>
    public double Of(int account) => _used.TryGetValue(account, out (double Seconds, DateTimeOffset At) used)
        ? used.Seconds * Math.Pow(0.5, (clock.GetUtcNow() - used.At) / halfLife)
        : 0;

    /// <summary>Notes what an account used.</summary>
    public void Add(int account, TimeSpan used)
    {
        _used[account] = (Of(account) + used.TotalSeconds, clock.GetUtcNow());
        if (_used.Count > MostKept)
        {
            foreach (int idle in _used.Keys.Where(a => Of(a) < Nothing).ToList())
            {
                _used.Remove(idle);
            }
        }
    }
}
