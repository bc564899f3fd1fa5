using System.Diagnostics;
using Microsoft.AspNetCore.SignalR;
using YoungFolio.Compiler;
using YoungFolio.Markup;
using YoungFolio.Server.Live;
using YoungFolio.Storage;

namespace YoungFolio.Server.Proofs;

/// <summary>
/// Compiles manuscripts in the background when they change. What changes while a compile runs is compiled after it; only a
/// compile that takes long is stopped for a newer revision, and the one after it isn't, so that there are proofs while people type
/// without a pause.
/// </summary>
public sealed class ProofService(ManuscriptStore store, FileStore files, TextStore texts, ManuscriptCompiler compiler, LastProofs lastProofs, WordDays days, IHubContext<ManuscriptHub> hub, TimeProvider clock, ILogger<ProofService> log) : BackgroundService
{
    private static readonly TimeSpan s_patience = TimeSpan.FromSeconds(3);
    private static readonly TimeSpan s_look = TimeSpan.FromSeconds(1);
    private static readonly TimeSpan s_longestWait = TimeSpan.FromSeconds(20);

    private static readonly int Places = Math.Max(2, Environment.ProcessorCount / 2);

    // What is kept of manuscripts that nobody looks at: proofs with all that makes the next one fast, and of others their first pages.
    private const long MostKept = 160L * 1024 * 1024;
    private const long MostFirstPages = 64L * 1024 * 1024;

    private readonly RecentlyUsed<int, ProofState> _states = new(MostKept, static s => s.Size);
    private readonly RecentlyUsed<int, Glance> _glances = new(MostFirstPages, static g => g.Size);
    private readonly CompileTurns _turns = new(clock, Places);
    private readonly SemaphoreSlim _drawing = new(1);

    /// <summary>The newest proof, or null when none was made since the start.</summary>
    public Proof? Latest(int manuscript) => _states.Find(manuscript)?.Proof;

    /// <summary>What the shelf shows of the newest proof, or of the last one before the server was started; null when there is none.</summary>
    public Glance? Glance(int manuscript)
    {
        if (_glances.Find(manuscript) is { } known)
        {
            return known;
        }

        if (lastProofs.Find(manuscript) is not { Proof.Sheets.Entries: [var first, ..] } last || lastProofs.FindSheet(manuscript, first.Digest) is not { } content)
        {
            return null;
        }

        // A proof may have come meanwhile.
        return _glances.Keep(manuscript, Server.Proofs.Glance.Of(last.Proof, content), static _ => true);
    }

    /// <summary>What the shelf shows of the newest proof; waits for the first one.</summary>
    public async Task<Glance> GlanceAsync(int manuscript, CancellationToken stop) => Glance(manuscript) ?? Server.Proofs.Glance.Of(await GetAsync(manuscript, stop));

    /// <summary>The newest proof, or the last one before the server was started, while a new one is made; waits for the first one.</summary>
    public async Task<ProofView> ViewAsync(int manuscript, CancellationToken stop)
    {
        if (Latest(manuscript) is null && lastProofs.Find(manuscript) is { } last)
        {
            await RequestAsync(manuscript);
            return last.Proof with { IsBehind = true, AsOf = last.At };
        }

        Proof found = await GetAsync(manuscript, stop);
        bool isBehind = IsBehind(manuscript);
        // One that came just now would have left this one behind without saying so.
        while (Latest(manuscript) is { } newer && !ReferenceEquals(newer, found))
        {
            (found, isBehind) = (newer, IsBehind(manuscript));
        }

        return new ProofView(found.Revision, found.Milliseconds, isBehind, null, found.Result.Report, found.Versions, ProofSheets.Of(found.Result.Sheets));
    }

    /// <summary>What is drawn on a sheet of the newest proof, or of the last one before the server was started; null when they have none of that digest.</summary>
    public byte[]? FindSheet(int manuscript, string digest) => Latest(manuscript)?.Result.Sheets.Find(digest)?.Content ?? lastProofs.FindSheet(manuscript, digest);

    /// <summary>Whether a newer proof is on its way.</summary>
    public bool IsBehind(int manuscript) => _states.Find(manuscript) is { } state && (state.IsWanted || state.IsRunning);

    /// <summary>Asks for a new proof. Everyone in the manuscript hears at once that the one there is isn't current any more.</summary>
    public async Task RequestAsync(int manuscript)
    {
        ProofState state = StateOf(manuscript);
        // One that is being made has none yet.
        int owner = (state.Owner ??= (await store.ManuscriptAsync(manuscript)).Members.Find(m => m.Role == Role.Owner)?.PersonId) ?? WriteQueue.House;
        state.StopIfLongerThan(s_patience);
        bool isNews = !state.IsWanted;
        state.IsWanted = true;
        try
        {
            if (isNews)
            {
                // Said before it can begin: nobody hears of its end first.
                await hub.Clients.Group(ManuscriptHub.Group(manuscript)).SendAsync("compiling");
            }
        }
        finally
        {
            _turns.Add(manuscript, owner);
        }
    }

    /// <summary>The newest proof; waits for the first one.</summary>
    public async Task<Proof> GetAsync(int manuscript, CancellationToken stop)
    {
        while (true)
        {
            ProofState state = StateOf(manuscript);
            if (state.Proof is { } known)
            {
                return known;
            }

            // One that is under way already is waited for.
            if (!IsBehind(manuscript))
            {
                await RequestAsync(manuscript);
            }

            // What is known of the manuscript may be let go meanwhile, or a backup put in place: then it is asked for anew.
            if (await NextAsync(state, s_look, stop) is { } first)
            {
                return first;
            }
        }
    }

    /// <summary>
    /// The proof of what is stored by now: for whoever takes it along. What one typed before is in it; when that can't be had, or takes
    /// long, it is the newest there is.
    /// </summary>
    public async Task<Proof> UpToDateAsync(int manuscript, CancellationToken stop)
    {
        int revision = (await store.ManuscriptAsync(manuscript)).Revision;
        long start = Stopwatch.GetTimestamp();
        Proof found = await GetAsync(manuscript, stop);
        while (found.Revision < revision && Stopwatch.GetElapsedTime(start) < s_longestWait)
        {
            ProofState state = StateOf(manuscript);
            if (!IsBehind(manuscript))
            {
                await RequestAsync(manuscript);
            }

            try
            {
                found = await NextAsync(state, s_look, stop) ?? await GetAsync(manuscript, stop);
            }
            catch (ProofException)
            {
                break;
            }
        }

        return found;
    }

    /// <summary>Draws a formula that someone is making in a manuscript; one at a time, so that proofs don't wait for many.</summary>
    public async Task<FormulaDrawing> DrawAsync(int manuscript, string formula, CancellationToken stop)
    {
        (ManuscriptSnapshot snapshot, _, _) = await SnapshotAsync(manuscript, StateOf(manuscript));
        return await BesideAsync(() => compiler.DrawFormula(snapshot, formula, stop), stop);
    }

    /// <summary>The page as a manuscript's preamble sets it, if its texts were these.</summary>
    public async Task<PageLook> PageOfAsync(int manuscript, IReadOnlyDictionary<string, string> texts, string file, int begin, CancellationToken stop)
    {
        (ManuscriptSnapshot snapshot, _, _) = await SnapshotAsync(manuscript, StateOf(manuscript));
        var over = texts.ToDictionary(t => t.Key, t => ManuscriptFile.FromText(t.Key, t.Value), StringComparer.Ordinal);
        return await BesideAsync(() => compiler.LookAtPage(snapshot with { Files = new FilesOver(over, snapshot.Files) }, file, begin, stop), stop);
    }

    /// <summary>A page of what isn't a manuscript yet.</summary>
    /// <param name="files">Its files.</param>
    /// <param name="main">The file from which compiling starts.</param>
    /// <param name="page">Which page, from 1; the last one where there are fewer.</param>
    /// <param name="stop">Stops the work.</param>
    public async Task<BeginningView> SketchAsync(IReadOnlyList<(string Path, byte[] Bytes)> files, string main, int page, CancellationToken stop)
    {
        var tree = new FileTree([.. files.Select(f => FilePath.IsText(f.Path) ? ManuscriptFile.FromText(f.Path, System.Text.Encoding.UTF8.GetString(f.Bytes)) : new ManuscriptFile(f.Path, f.Bytes))]);
        var snapshot = new ManuscriptSnapshot(tree, main, DateOnly.FromDateTime(clock.GetLocalNow().DateTime));
        CompileResult made = await BesideAsync(() => compiler.Compile(snapshot, null, null, stop), stop);
        int shown = Math.Clamp(page, 1, made.Sheets.Entries.Count) - 1;
        return new BeginningView(Proofs.Glance.PageOf(made.Sheets.Entries[shown], made.Sheets.Sheets[shown].Content), made.Report.Pages);
    }

    /// <summary>The headings that a manuscript would have if some of its texts were others.</summary>
    public async Task<IReadOnlyList<OutlineLine>> OutlineOfAsync(int manuscript, IReadOnlyDictionary<string, string> texts, CancellationToken stop)
    {
        ProofState state = StateOf(manuscript);
        (ManuscriptSnapshot snapshot, _, _) = await SnapshotAsync(manuscript, state);
        var over = texts.ToDictionary(t => t.Key, t => ManuscriptFile.FromText(t.Key, t.Value), StringComparer.Ordinal);
        return await BesideAsync(() => compiler.Compile(snapshot with { Files = new FilesOver(over, snapshot.Files) }, state.Proof?.Result, null, stop).Report.Outline, stop);
    }

    /// <summary>Does something beside the queue of proofs, and not many at a time.</summary>
    public async Task<T> BesideAsync<T>(Func<T> work, CancellationToken stop)
    {
        await _drawing.WaitAsync(stop);
        try
        {
            return await Task.Run(work, stop);
        }
        finally
        {
            _drawing.Release();
        }
    }

    /// <summary>The manuscript may have another owner now.</summary>
    public void ForgetOwner(int manuscript)
    {
        if (_states.Find(manuscript) is { } state)
        {
            state.Owner = null;
        }
    }

    /// <summary>The manuscript was put away: nothing is kept of it.</summary>
    public void Forget(int manuscript)
    {
        _states.Forget(manuscript);
        _glances.Forget(manuscript);
        lastProofs.Forget(manuscript);
    }

    /// <summary>Nothing that was compiled holds any more.</summary>
    public void ForgetAll()
    {
        _states.Clear();
        _glances.Clear();
    }

    /// <inheritdoc/>
    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        Task.WhenAll(Enumerable.Range(0, Places + CompileTurns.MostPaused).Select(_ => Task.Run(() => WorkAsync(stoppingToken), stoppingToken)));

    /// <inheritdoc/>
    public override void Dispose()
    {
        _drawing.Dispose();
        _turns.Dispose();
        base.Dispose();
    }

    private async Task WorkAsync(CancellationToken stop)
    {
        while (!stop.IsCancellationRequested)
        {
            CompileTurn turn = await _turns.TakeAsync(stop);
            try
            {
                await CompileAsync(turn, stop);
            }
            finally
            {
                _turns.Done(turn);
            }
        }
    }

    private async Task CompileAsync(CompileTurn turn, CancellationToken stop)
    {
        int manuscript = turn.Manuscript;
        ProofState state = StateOf(manuscript);
        IClientProxy group = hub.Clients.Group(ManuscriptHub.Group(manuscript));
        using var running = CancellationTokenSource.CreateLinkedTokenSource(stop);
        state.Begin(running);
        try
        {
            // What changes from here on may not be in the snapshot.
            state.IsWanted = false;
            (ManuscriptSnapshot snapshot, int revision, IReadOnlyDictionary<string, int> versions) = await SnapshotAsync(manuscript, state);
            long start = Stopwatch.GetTimestamp();
            CompileResult result = await Task.Run(() => compiler.Compile(snapshot, state.Proof?.Result, turn.WaitForTurn, running.Token), stop);
            double milliseconds = Math.Round(Stopwatch.GetElapsedTime(start).TotalMilliseconds, 1);
            Proof? before = state.Proof;
            state.Proof = new Proof(revision, milliseconds, result, versions);
            ProofNews news = ProofNews.Of(before, state.Proof, state.IsWanted);
            // Noted anew: it takes more than before, and others may have to go.
            _states.Keep(manuscript, state);
            _glances.Keep(manuscript, Server.Proofs.Glance.Of(state.Proof));
            lastProofs.Keep(manuscript, state.Proof);
            days.Note(manuscript, result.Report.Words);
            state.End(wasStopped: false);
            state.Succeed(state.Proof);
            await group.SendAsync("proof", news, stop);
        }
        catch (OperationCanceledException)
        {
            // A newer revision is in the queue already, or the server stops.
            state.End(wasStopped: true);
        }
        catch (Exception e)
        {
            // A compile must never take the service down; the last proof stays.
            ProofLog.Failed(log, e, manuscript);
            state.Fail(new ProofException());
            await group.SendAsync("failed", stop);
        }
        finally
        {
            state.End(wasStopped: false);
        }
    }

    // The next proof, or null when it isn't there within that time.
    private static async Task<Proof?> NextAsync(ProofState state, TimeSpan within, CancellationToken stop)
    {
        Task<Proof> next = state.Next.Task;
        if (await Task.WhenAny(next, Task.Delay(within, stop)) == next)
        {
            return await next;
        }

        stop.ThrowIfCancellationRequested();
        return null;
    }

    private ProofState StateOf(int manuscript) => _states.Find(manuscript) ?? _states.Keep(manuscript, new ProofState(), static _ => true);

    // Files that didn't change are the same objects as last time, so that what is known of them stays.
    private async Task<(ManuscriptSnapshot Snapshot, int Revision, IReadOnlyDictionary<string, int> Versions)> SnapshotAsync(int id, ProofState state)
    {
        ManuscriptEntity manuscript = await store.ManuscriptAsync(id);
        var read = new List<ManuscriptFile>();
        var known = new Dictionary<string, ManuscriptFile>();
        var versions = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (FileEntity entity in await files.FilesAsync(id))
        {
            // The text may be newer than the list: its own version counts.
            LiveText? text = entity.IsText ? await texts.TextAsync(entity.Id) : null;
            int version = text?.Version ?? entity.Version;
            string key = $"{entity.Path}\n{entity.Id}\n{version}\n{entity.BlobHash}";
            if (!state.Files.TryGetValue(key, out ManuscriptFile? file))
            {
                file = text is not null ? ManuscriptFile.FromText(entity.Path, text.Text) : new ManuscriptFile(entity.Path, await files.BytesAsync(entity));
            }

            if (text is not null)
            {
                versions[entity.Path] = version;
            }

            read.Add(file);
            known[key] = file;
        }

        state.Files = known;
        return (new ManuscriptSnapshot(new FileTree(read), manuscript.MainFile, DateOnly.FromDateTime(clock.GetLocalNow().DateTime)), manuscript.Revision, versions);
    }

    private sealed class ProofState
    {
        private readonly Lock _lock = new();
        private CancellationTokenSource? _running;
        private bool _wasStopped;
        private long _since;

        public Proof? Proof { get; set; }

        /// <summary>About how much it takes, in bytes.</summary>
        public long Size => 10_000 + (Proof?.Result.Size ?? 0) + (Proof?.Size ?? 0) + Files.Values.Sum(static p => 12L * p.Bytes.Length);

        public int? Owner { get; set; }

        /// <summary>Whether something changed that no compile has begun with yet.</summary>
        public volatile bool IsWanted;

        /// <summary>Ends with the next proof, or with the failure of the compile that is under way; whoever asks after that waits for another one.</summary>
        public TaskCompletionSource<Proof> Next { get; private set; } = new(TaskCreationOptions.RunContinuationsAsynchronously);

        public Dictionary<string, ManuscriptFile> Files { get; set; } = [];

        public bool IsRunning
        {
            get
            {
                lock (_lock)
                {
                    return _running is not null;
                }
            }
        }

        public void Begin(CancellationTokenSource running)
        {
            lock (_lock)
            {
                _running = running;
                _since = Stopwatch.GetTimestamp();
            }
        }

        /// <summary>The compile has ended; it was stopped for a newer revision, or not. Called again, it says nothing.</summary>
        public void End(bool wasStopped)
        {
            lock (_lock)
            {
                if (_running is not null)
                {
                    _running = null;
                    _wasStopped = wasStopped;
                }
            }
        }

        public void Succeed(Proof proof)
        {
            TaskCompletionSource<Proof> waited = Next;
            Next = new(TaskCreationOptions.RunContinuationsAsynchronously);
            waited.TrySetResult(proof);
        }

        public void Fail(Exception reason)
        {
            TaskCompletionSource<Proof> waited = Next;
            Next = new(TaskCreationOptions.RunContinuationsAsynchronously);
            waited.TrySetException(reason);
            // Often nobody waits for it.
            _ = waited.Task.Exception;
        }

        public void StopIfLongerThan(TimeSpan patience)
        {
            lock (_lock)
            {
                if (_running is not null && !_wasStopped && Stopwatch.GetElapsedTime(_since) > patience)
                {
                    _running.Cancel();
                }
            }
        }
    }
}

/// <summary>A proof could not be made; asking again may help.</summary>
public sealed class ProofException() : Exception("The proof could not be made just now. The text is safe.");

internal static partial class ProofLog
{
    [LoggerMessage(Level = LogLevel.Error, Message = "Compiling manuscript {Manuscript} failed")]
    public static partial void Failed(ILogger logger, Exception error, int manuscript);
}
