using System.Collections.Concurrent;
using YoungFolio.HandIn;
using YoungFolio.Storage;

namespace YoungFolio.Server.HandingIn;

/// <summary>Makes the checks of manuscripts that are due, once they rest for a moment, so that the shelf says how far they are.</summary>
public sealed class CheckStandings(HandInService handing, HandInStore handIns, ManuscriptStore manuscripts, TimeProvider clock, ILogger<CheckStandings> log) : BackgroundService
{
    // Checks read all pages: while someone types they wait.
    private static readonly TimeSpan s_rest = TimeSpan.FromSeconds(5);

    private readonly ConcurrentDictionary<int, DateTimeOffset> _changed = new();

    /// <summary>Notes that something changed that a manuscript's checks may depend on.</summary>
    public void Note(int manuscript) => _changed[manuscript] = clock.GetUtcNow();

    /// <summary>Notes all manuscripts that are due and weren't checked since they last changed.</summary>
    public async Task NoteUncheckedAsync()
    {
        foreach (int manuscript in await handIns.UncheckedAsync())
        {
            Note(manuscript);
        }
    }

    /// <summary>Checks those that rest.</summary>
    /// <param name="before">Those that didn't change since then.</param>
    /// <param name="stop">Stops the work.</param>
    public async Task CheckAsync(DateTimeOffset before, CancellationToken stop)
    {
        foreach ((int manuscript, DateTimeOffset changed) in _changed)
        {
            if (changed > before || !_changed.TryRemove(new KeyValuePair<int, DateTimeOffset>(manuscript, changed)))
            {
                continue;
            }

            try
            {
                if (await manuscripts.IsThereAsync(manuscript) && (await manuscripts.ManuscriptAsync(manuscript)).Deadline is not null)
                {
                    await CheckAsync(manuscript, stop);
                }
            }
            catch (Exception e) when (e is not OperationCanceledException)
            {
                // It may have gone meanwhile, or have no proof: the next change is looked at anew.
                CheckStandingsLog.Failed(log, e, manuscript);
            }
        }
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(s_rest, clock);
        try
        {
            await NoteUncheckedAsync();
            while (await timer.WaitForNextTickAsync(stoppingToken))
            {
                await CheckAsync(clock.GetUtcNow() - s_rest, stoppingToken);
            }
        }
        catch (OperationCanceledException)
        {
            // The server stops; what waits is found again when it starts.
        }
    }

    private async Task CheckAsync(int manuscript, CancellationToken stop)
    {
        ChosenRules rules = await handing.RulesAsync(manuscript);
        (Proofs.Proof proof, IReadOnlyList<CheckGroup> groups) = await handing.CheckAsync(manuscript, rules.Rules, stop);
        int Count(CheckState state) => groups.Sum(g => g.Checks.Count(c => c.State == state));
        await handIns.NoteStandingAsync(new CheckStanding { ManuscriptId = manuscript, Revision = proof.Revision, Hold = Count(CheckState.Holds), ToLook = Count(CheckState.Look), ToMend = Count(CheckState.Mend) });
    }
}

internal static partial class CheckStandingsLog
{
    [LoggerMessage(Level = LogLevel.Warning, Message = "The checks of manuscript {Manuscript} could not be made")]
    public static partial void Failed(ILogger logger, Exception error, int manuscript);
}
