using System.Collections.Concurrent;

namespace YoungFolio.Server.Security;

/// <summary>
/// Slows down whoever guesses passwords. From one address one account can be tried a few times, then after waits that grow; and so can one
/// address try many accounts. Nobody is locked out by others: an account that is guessed at from everywhere still opens at once for the
/// addresses that it was opened from, and after a short wait for all.
/// </summary>
public sealed class SignInLimit(TimeProvider clock)
{
    private const int FreeTries = 5;
    private const int FreeTriesOfAddress = 30;
    private const int FreeTriesOfAccount = 50;
    private const int MostKept = 50_000;
    private static readonly TimeSpan s_first = TimeSpan.FromSeconds(5);
    private static readonly TimeSpan s_longest = TimeSpan.FromMinutes(15);
    private static readonly TimeSpan s_slow = TimeSpan.FromSeconds(3);
    private static readonly TimeSpan s_forgotten = TimeSpan.FromHours(2);

    private readonly ConcurrentDictionary<string, Tries> _tries = new(StringComparer.Ordinal);

    /// <summary>How long one has to wait before the next try; zero: not at all.</summary>
    public TimeSpan Wait(string account, string address)
    {
        TimeSpan both = Left(Both(account, address), FreeTries, s_longest);
        TimeSpan own = Left(Address(address), FreeTriesOfAddress, s_longest);
        TimeSpan all = _tries.ContainsKey(Known(account, address)) ? TimeSpan.Zero : Left(Account(account), FreeTriesOfAccount, s_slow);
        return new[] { both, own, all }.Max();
    }

    /// <summary>A try was wrong.</summary>
    public void Failed(string account, string address)
    {
        Tidy();
        foreach (string key in (string[])[Both(account, address), Address(address), Account(account)])
        {
            _tries.AddOrUpdate(key, _ => new Tries(1, clock.GetUtcNow()), (_, before) => new Tries(before.Count + 1, clock.GetUtcNow()));
        }
    }

    /// <summary>A try was right.</summary>
    public void Succeeded(string account, string address)
    {
        _tries.TryRemove(Both(account, address), out _);
        _tries[Known(account, address)] = new Tries(0, clock.GetUtcNow());
    }

    private static string Both(string account, string address) => $"{address} {account.ToUpperInvariant()}";

    private static string Address(string address) => $"{address} *";

    private static string Account(string account) => $"* {account.ToUpperInvariant()}";

    private static string Known(string account, string address) => $"+ {address} {account.ToUpperInvariant()}";

    private TimeSpan Left(string key, int free, TimeSpan longest)
    {
        if (!_tries.TryGetValue(key, out Tries tries) || tries.Count < free)
        {
            return TimeSpan.Zero;
        }

        TimeSpan wait = s_first * Math.Pow(2, Math.Min(tries.Count - free, 20));
        TimeSpan left = tries.At + (wait < longest ? wait : longest) - clock.GetUtcNow();
        return left > TimeSpan.Zero ? left : TimeSpan.Zero;
    }

    private void Tidy()
    {
        if (_tries.Count > MostKept)
        {
            foreach ((string key, Tries tries) in _tries)
            {
                if (clock.GetUtcNow() - tries.At > s_forgotten)
                {
                    _tries.TryRemove(key, out _);
                }
            }
        }
    }

    private readonly record struct Tries(int Count, DateTimeOffset At);
}
