using System.Collections.Concurrent;
using System.Globalization;
using System.Runtime.CompilerServices;
using YoungFolio.Chronicle;
using YoungFolio.Cowriting;
using YoungFolio.Storage;

namespace YoungFolio.Server.History;

/// <summary>
/// Reads logs into events, and keeps what it read, so that a chronicle opens at once. Where someone writes it is read now and then; what
/// isn't read yet is read before anyone is answered. It can be read anew from the beginning at any time.
/// </summary>
public sealed class ChronicleService(ChronicleStore chronicle, HistoryReader history, ManuscriptStore store, WriteQueue writeQueue, ILogger<ChronicleService> log) : BackgroundService
{
    private static readonly TimeSpan s_pause = TimeSpan.FromSeconds(30);

    private const int Turns = 16;

    private const int StepsAtOnce = 2000;
    private const int LatestEvents = 40;
    private const long LargestCache = 64L * 1024 * 1024;

    private readonly RecentlyUsed<int, Reading> _readings = new(LargestCache, static r => r.Size);
    private readonly ConcurrentDictionary<int, bool> _changed = new();

    // A manuscript is read by one at a time; others needn't wait for it.
    private readonly SemaphoreSlim[] _turns = [.. Enumerable.Range(0, Turns).Select(_ => new SemaphoreSlim(1))];

    // A whole log is read: one at a time.
    private readonly SemaphoreSlim _tracing = new(1);

    private sealed record Reading(ChronicleReader Reader, int Until, string? Generation)
    {
        public long Size => 1000 + Reader.Files.Sum(f => 2L * (f.Text?.Length ?? 0) + 16L * (f.Authors?.Stretches.Count ?? 0));
    }

    /// <summary>Has a manuscript's log read, in a while.</summary>
    public void Note(int manuscript) => _changed[manuscript] = true;

    /// <summary>Reads what isn't read yet. Returns the last revision that was read.</summary>
    public async Task<int> CatchUpAsync(int manuscript, CancellationToken stop)
    {
        await TurnOf(manuscript).WaitAsync(stop);
        try
        {
            for (; ; )
            {
                Reading reading = await ReadingAsync(manuscript);
                IReadOnlyList<Revision> steps = await chronicle.StepsAsync(manuscript, reading.Until, StepsAtOnce);
                if (steps.Count == 0)
                {
                    return reading.Until;
                }

                // Until it is kept nobody else goes on with it.
                _readings.Forget(manuscript);
                var touched = new HashSet<int>();
                foreach (Revision step in steps)
                {
                    reading.Reader.Read(StepOf(step), await TextOfAsync(step));
                    if (step.FileId is { } file)
                    {
                        touched.Add(file);
                    }
                }

                int until = steps[^1].Number;
                IReadOnlyList<ChronicleEvent> events = reading.Reader.Take();
                bool isKept = await chronicle.KeepAsync(
                    manuscript, reading.Until, until, [.. events.Select(e => Entity(manuscript, e))],
                    [.. reading.Reader.Files.Where(f => f.Authors is not null && touched.Contains(f.Id)).Select(f => new FileAuthors { FileId = f.Id, ManuscriptId = manuscript, Stretches = f.Authors!.ToString() })]);
                if (isKept)
                {
                    _readings.Keep(manuscript, reading with { Until = until });
                }
            }
        }
        finally
        {
            TurnOf(manuscript).Release();
        }
    }

    /// <summary>Who wrote which stretch of a file, as it is now read.</summary>
    public async Task<ReadFile?> AuthorsAsync(int manuscript, int file, CancellationToken stop)
    {
        await CatchUpAsync(manuscript, stop);
        await TurnOf(manuscript).WaitAsync(stop);
        try
        {
            return (await ReadingAsync(manuscript)).Reader.Files.FirstOrDefault(f => f.Id == file);
        }
        finally
        {
            TurnOf(manuscript).Release();
        }
    }

    /// <summary>Writes the whole history as a stream that <c>git fast-import</c> reads: a commit for each event.</summary>
    /// <param name="manuscript">The manuscript.</param>
    /// <param name="names">The names of its people.</param>
    /// <param name="content">Gives contents that aren't text, by their digests.</param>
    /// <param name="output">Where it goes.</param>
    /// <param name="stop">Stops it.</param>
    public async Task WriteBundleAsync(int manuscript, IReadOnlyDictionary<int, string> names, Func<string, Task<byte[]>> content, Stream output, CancellationToken stop)
    {
        int until = await CatchUpAsync(manuscript, stop);
        var events = new Queue<HistoryEvent>(await chronicle.AllAsync(manuscript));
        var bundle = new HistoryBundle(output);
        await foreach ((HistoryStep step, string? text) in StepsAsync(manuscript, until, stop))
        {
            bundle.Read(step, text);
            while (events.TryPeek(out HistoryEvent? ended) && ended.ToRevision == step.Number)
            {
                events.Dequeue();
                string message = string.Join('\n', new[] { ended.Says.Replace('\n', ' '), string.Join(", ", ended.Places.Split('\n').Select(p => p.Replace('\t', ' ').Trim())), ended.Path.Replace('\n', ' ') }.Where(l => l.Trim().Length > 0));
                await bundle.CommitAsync(names.GetValueOrDefault(ended.PersonId, ""), ended.End, message, content);
            }
        }
    }

    /// <summary>When words came and when they went, the latest first, and how often they are there now.</summary>
    /// <exception cref="ArgumentException">They are too short or too long.</exception>
    public async Task<(IReadOnlyList<TracedEvent> Events, int Now)> TraceAsync(int manuscript, string words, CancellationToken stop)
    {
        var trace = new WordTrace(words);
        int until = await CatchUpAsync(manuscript, stop);
        await _tracing.WaitAsync(stop);
        try
        {
            var found = new List<TracedStep>();
            await foreach ((HistoryStep step, string? text) in StepsAsync(manuscript, until, stop))
            {
                if (trace.Read(step, text) is { } traced)
                {
                    found.Add(traced);
                }
            }

            return (TracedEvent.Of(found, [.. (await chronicle.AllAsync(manuscript)).Select(Event)]), trace.Now);
        }
        finally
        {
            _tracing.Release();
        }
    }

    /// <summary>The files at a revision, for comparing.</summary>
    public async Task<IReadOnlyList<FileThen>> FilesAsync(int manuscript, int revision) =>
        [.. (await history.FilesAtAsync(manuscript, revision)).Select(f => new FileThen(f.Id, f.Path, f.Text, f.BlobHash))];

    /// <summary>An event as the chronicle knows it.</summary>
    public static ChronicleEvent Event(HistoryEvent entity)
    {
        ArgumentNullException.ThrowIfNull(entity);
        EventPlace[] places = [.. entity.Places.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(p => p.Split('\t', 2)).Select(p => new EventPlace(p[0].Length == 0 ? null : p[0], p[^1]))];
        return new ChronicleEvent(
            entity.Number, entity.PersonId, entity.TokenId, entity.Kind, entity.FileId, entity.Path, entity.FromRevision, entity.ToRevision, entity.Steps, entity.Begin, entity.End, entity.WordsIn, entity.WordsOut, places, entity.Says);
    }

    /// <inheritdoc/>
    public override void Dispose()
    {
        foreach (SemaphoreSlim turn in _turns)
        {
            turn.Dispose();
        }

        _tracing.Dispose();
        base.Dispose();
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(s_pause);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            foreach (int manuscript in _changed.Keys)
            {
                _changed.TryRemove(manuscript, out _);
                try
                {
                    await CatchUpAsync(manuscript, stoppingToken);
                }
                catch (Exception e) when (e is not OperationCanceledException)
                {
                    // It may have gone; whoever opens the chronicle hears what is wrong.
                    ChronicleLog.Failed(log, e, manuscript);
                }
            }
        }
    }

    private static HistoryStep StepOf(Revision step) => new(step.Number, step.PersonId, step.TokenId, step.At, step.Kind, step.FileId, step.Payload, step.Act);

    // The log from its beginning, with the words of texts that are new or there again.
    private async IAsyncEnumerable<(HistoryStep Step, string? Text)> StepsAsync(int manuscript, int until, [EnumeratorCancellation] CancellationToken stop)
    {
        for (int after = 0; after < until;)
        {
            IReadOnlyList<Revision> steps = await chronicle.StepsAsync(manuscript, after, StepsAtOnce);
            foreach (Revision step in steps)
            {
                stop.ThrowIfCancellationRequested();
                yield return (StepOf(step), await TextOfAsync(step));
            }

            after = steps.Count == 0 ? until : steps[^1].Number;
        }
    }

    // The words of a text that is new or there again.
    private async Task<string?> TextOfAsync(Revision step) =>
        step.Kind is RevisionKind.Create or RevisionKind.BringBack && !step.Payload.Contains('\n', StringComparison.Ordinal) ? await history.TextOfAsync(step.FileId!.Value, step.FileVersion) : null;

    private SemaphoreSlim TurnOf(int manuscript) => _turns[manuscript % Turns];

    private static HistoryEvent Entity(int manuscript, ChronicleEvent one) => new()
    {
        ManuscriptId = manuscript, Number = one.Number, PersonId = one.Person, TokenId = one.Token, Kind = one.Kind, FileId = one.File, Path = one.Path, FromRevision = one.FromRevision, ToRevision = one.ToRevision,
        Steps = one.Steps, Begin = one.Begin, End = one.End, WordsIn = one.WordsIn, WordsOut = one.WordsOut, Says = one.Says,
        Places = string.Join('\n', one.Places.Select(p => string.Create(CultureInfo.InvariantCulture, $"{p.Number}\t{p.Title}"))),
    };

    private async Task<Reading> ReadingAsync(int manuscript)
    {
        string generation = await writeQueue.GenerationAsync();
        if (_readings.Find(manuscript) is { } known && known.Generation == generation)
        {
            return known;
        }

        int until = await chronicle.MarkAsync(manuscript);
        var authors = (await chronicle.AuthorsAsync(manuscript)).ToDictionary(a => a.FileId, a => Authorship.Parse(a.Stretches));
        var files = (await history.FilesAtAsync(manuscript, until)).Select(f => new ReadFile(f.Id, f.Path, f.Text, f.Text is null ? null : authors.GetValueOrDefault(f.Id) ?? new Authorship(f.Text.Length, 0))).ToList();
        // Deleted ones may come back.
        foreach ((int id, Authorship gone) in authors.Where(a => !files.Exists(f => f.Id == a.Key)))
        {
            files.Add(new ReadFile(id, "", await history.TextOfAsync(id, null), gone, IsThere: false));
        }

        IReadOnlyList<HistoryEvent> latest = await chronicle.LatestAsync(manuscript, LatestEvents);
        var reading = new Reading(new ChronicleReader((await store.ManuscriptAsync(manuscript)).MainFile, files, [.. latest.Select(Event)]), until, generation);
        return _readings.Keep(manuscript, reading);
    }
}

internal static partial class ChronicleLog
{
    [LoggerMessage(Level = LogLevel.Warning, Message = "The history of manuscript {Manuscript} could not be read into events")]
    public static partial void Failed(ILogger logger, Exception error, int manuscript);
}
