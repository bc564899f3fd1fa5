using System.Globalization;
using YoungFolio.Chronicle;
using YoungFolio.Cowriting;
using YoungFolio.Storage;

namespace YoungFolio.Server.History;

/// <summary>
/// Reads logs into events, and keeps what it read, so that a chronicle opens at once. What isn't read yet is read before anyone is
/// answered; it can be read anew from the beginning at any time.
/// </summary>
public sealed class ChronicleService(ChronicleStore chronicle, HistoryReader history, ManuscriptStore store, Scribe scribe) : IDisposable
{
    private const int StepsAtOnce = 2000;
    private const int LatestEvents = 40;
    private const long LargestCache = 64L * 1024 * 1024;

    private readonly RecentlyUsed<int, Reading> _readings = new(LargestCache, static r => r.Size);
    private readonly SemaphoreSlim _turn = new(1);

    private sealed record Reading(ChronicleReader Reader, int Until, string? Generation)
    {
        public long Size => 1000 + Reader.Files.Sum(f => 2L * (f.Text?.Length ?? 0) + 16L * (f.Authors?.Stretches.Count ?? 0));
    }

    /// <summary>Reads what isn't read yet. Returns the last revision that was read.</summary>
    public async Task<int> CatchUpAsync(int manuscript, CancellationToken stop)
    {
        await _turn.WaitAsync(stop);
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
                    string? text = step.Kind is RevisionKind.Create or RevisionKind.BringBack && !step.Payload.Contains('\n', StringComparison.Ordinal)
                        ? await history.TextOfAsync(step.FileId!.Value, step.FileVersion) : null;
                    reading.Reader.Read(new HistoryStep(step.Number, step.PersonId, step.TokenId, step.At, step.Kind, step.FileId, step.Payload, step.Act), text);
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
            _turn.Release();
        }
    }

    /// <summary>Who wrote which stretch of a file, as it is now read.</summary>
    public async Task<ReadFile?> AuthorsAsync(int manuscript, int file, CancellationToken stop)
    {
        await CatchUpAsync(manuscript, stop);
        await _turn.WaitAsync(stop);
        try
        {
            return (await ReadingAsync(manuscript)).Reader.Files.FirstOrDefault(f => f.Id == file);
        }
        finally
        {
            _turn.Release();
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
    public void Dispose() => _turn.Dispose();

    private static HistoryEvent Entity(int manuscript, ChronicleEvent one) => new()
    {
        ManuscriptId = manuscript, Number = one.Number, PersonId = one.Person, TokenId = one.Token, Kind = one.Kind, FileId = one.File, Path = one.Path, FromRevision = one.FromRevision, ToRevision = one.ToRevision,
        Steps = one.Steps, Begin = one.Begin, End = one.End, WordsIn = one.WordsIn, WordsOut = one.WordsOut, Says = one.Says,
        Places = string.Join('\n', one.Places.Select(p => string.Create(CultureInfo.InvariantCulture, $"{p.Number}\t{p.Title}"))),
    };

    private async Task<Reading> ReadingAsync(int manuscript)
    {
        string generation = await scribe.GenerationAsync();
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
