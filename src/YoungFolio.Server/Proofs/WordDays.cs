using System.Collections.Concurrent;
using YoungFolio.Storage;

namespace YoungFolio.Server.Proofs;

/// <summary>Notes how many words each manuscript has, so that there is a count of every day on which it was written in.</summary>
public sealed class WordDays(WritingStore writing, TimeProvider clock, ILogger<WordDays> log) : BackgroundService
{
    // While someone types there is a count at every key: it is enough to have one of some seconds ago.
    private static readonly TimeSpan s_pause = TimeSpan.FromSeconds(10);

    private readonly ConcurrentDictionary<int, int> _waiting = new();
    private readonly ConcurrentDictionary<int, (DateOnly Day, int Words)> _noted = new();

    /// <summary>Has a count noted, in a moment.</summary>
    public void Note(int manuscript, int words) => _waiting[manuscript] = words;

    /// <summary>Stores the counts that wait.</summary>
    public async Task StoreAsync()
    {
        DateOnly today = DateOnly.FromDateTime(clock.GetLocalNow().DateTime);
        foreach (int manuscript in _waiting.Keys)
        {
            if (!_waiting.TryRemove(manuscript, out int words) || (_noted.TryGetValue(manuscript, out (DateOnly, int) noted) && noted == (today, words)))
            {
                continue;
            }

            try
            {
                await writing.NoteWordsAsync(manuscript, words);
                _noted[manuscript] = (today, words);
            }
            catch (Exception e)
            {
                // A day without its last count loses nothing that anyone wrote.
                WordDaysLog.Failed(log, e, manuscript);
            }
        }
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(s_pause, clock);
        try
        {
            while (await timer.WaitForNextTickAsync(stoppingToken))
            {
                await StoreAsync();
            }
        }
        catch (OperationCanceledException)
        {
            await StoreAsync();
        }
    }
}

internal static partial class WordDaysLog
{
    [LoggerMessage(Level = LogLevel.Warning, Message = "The words of manuscript {Manuscript} could not be noted")]
    public static partial void Failed(ILogger logger, Exception error, int manuscript);
}
