using YoungFolio.Storage;

namespace YoungFolio.Server;

/// <summary>What has to be done from time to time: erasing for good what was put away long enough ago, noticing that a backup was put in place, and writing the daily letters.</summary>
public sealed class Upkeep(ManuscriptStore store, WriteQueue writeQueue, Security.Sessions sessions, Letters.DailyLetters letters, TimeProvider clock, ILogger<Upkeep> log) : BackgroundService
{
    private static readonly TimeSpan s_look = TimeSpan.FromSeconds(3);

    /// <inheritdoc/>
    protected override Task ExecuteAsync(CancellationToken stoppingToken) => Task.WhenAll(PurgeAsync(stoppingToken), LookAsync(stoppingToken), WriteLettersAsync(stoppingToken));

    private async Task LookAsync(CancellationToken stop)
    {
        using var often = new PeriodicTimer(s_look, clock);
        while (await often.WaitForNextTickAsync(stop))
        {
            try
            {
                await writeQueue.LookAsync();
                await sessions.LookAsync();
            }
            catch (Exception e) when (e is not OperationCanceledException)
            {
                // A full disk, or a database that is busy: it is looked at again soon.
                UpkeepLog.NotSeen(log, e);
            }
        }
    }

    private async Task WriteLettersAsync(CancellationToken stop)
    {
        using var hourly = new PeriodicTimer(TimeSpan.FromHours(1), clock);
        while (await hourly.WaitForNextTickAsync(stop))
        {
            try
            {
                await letters.WriteAsync(clock.GetUtcNow().UtcDateTime);
            }
            catch (Exception e) when (e is not OperationCanceledException)
            {
                // Whoever had none gets it an hour later.
                UpkeepLog.NoLetters(log, e);
            }
        }
    }

    private async Task PurgeAsync(CancellationToken stop)
    {
        using var daily = new PeriodicTimer(TimeSpan.FromDays(1), clock);
        do
        {
            try
            {
                await store.PurgeAsync();
                await sessions.ForgetAsync();
            }
            catch (Exception e) when (e is not OperationCanceledException)
            {
                UpkeepLog.Failed(log, e);
            }
        }
        while (await daily.WaitForNextTickAsync(stop));
    }
}

internal static partial class UpkeepLog
{
    [LoggerMessage(Level = LogLevel.Error, Message = "Manuscripts that were put away could not be erased")]
    public static partial void Failed(ILogger logger, Exception error);

    [LoggerMessage(Level = LogLevel.Warning, Message = "The daily letters could not be written")]
    public static partial void NoLetters(ILogger logger, Exception error);

    [LoggerMessage(Level = LogLevel.Warning, Message = "The data could not be looked at")]
    public static partial void NotSeen(ILogger logger, Exception error);
}
