using System.Collections.Concurrent;
using System.Diagnostics;
using System.Threading.Channels;
using Microsoft.AspNetCore.SignalR;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Compiler;
using YoungFolio.Markup;
using YoungFolio.Server.Api;
using YoungFolio.Storage;

namespace YoungFolio.Server.Proofs;

/// <summary>A compiled revision.</summary>
public sealed record Proof(int Revision, double Milliseconds, CompileResult Result);

/// <summary>
/// Compiles manuscripts in the background when they change. A newer revision stops the compile of an older one; the
/// queue holds each manuscript at most once, so it is bounded by their number.
/// </summary>
public sealed class ProofService(IServiceScopeFactory scopes, ManuscriptCompiler compiler, IHubContext<ManuscriptHub> hub, ILogger<ProofService> log) : BackgroundService
{
    private readonly ConcurrentDictionary<int, State> _states = new();
    private readonly Channel<int> _queue = Channel.CreateBounded<int>(new BoundedChannelOptions(1000) { FullMode = BoundedChannelFullMode.Wait });

    /// <summary>The newest proof, or null when none was made since the start.</summary>
    public Proof? Latest(int manuscript) => _states.TryGetValue(manuscript, out State? state) ? state.Proof : null;

    /// <summary>Asks for a new proof.</summary>
    public void Request(int manuscript)
    {
        State state = _states.GetOrAdd(manuscript, static _ => new State());
        lock (state)
        {
            state.Running?.Cancel();
            if (!state.IsQueued)
            {
                state.IsQueued = _queue.Writer.TryWrite(manuscript);
            }
        }
    }

    /// <summary>The newest proof; waits for the first one.</summary>
    public async Task<Proof> GetAsync(int manuscript, CancellationToken stop)
    {
        State state = _states.GetOrAdd(manuscript, static _ => new State());
        if (state.Proof is null)
        {
            Request(manuscript);
        }

        return state.Proof ?? await state.First.Task.WaitAsync(stop);
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await foreach (int manuscript in _queue.Reader.ReadAllAsync(stoppingToken))
        {
            State state = _states[manuscript];
            using var running = CancellationTokenSource.CreateLinkedTokenSource(stoppingToken);
            lock (state)
            {
                state.IsQueued = false;
                state.Running = running;
            }

            try
            {
                await hub.Clients.Group(ManuscriptHub.Group(manuscript)).SendAsync("compiling", stoppingToken);
                (ManuscriptSnapshot snapshot, int revision) = await SnapshotAsync(manuscript, state);
                long start = Stopwatch.GetTimestamp();
                CompileResult result = await Task.Run(() => compiler.Compile(snapshot, state.Proof?.Result, running.Token), stoppingToken);
                double milliseconds = Math.Round(Stopwatch.GetElapsedTime(start).TotalMilliseconds, 1);
                state.Proof = new Proof(revision, milliseconds, result);
                state.First.TrySetResult(state.Proof);
                await hub.Clients.Group(ManuscriptHub.Group(manuscript)).SendAsync("proof", revision, stoppingToken);
            }
            catch (OperationCanceledException)
            {
                // A newer revision is in the queue already, or the server stops.
            }
            catch (Exception e)
            {
                // A compile must never take the service down; the last proof stays.
                ProofLog.Failed(log, e, manuscript);
                state.First.TrySetException(new StoreException("The proof could not be made. The text is safe."));
                await hub.Clients.Group(ManuscriptHub.Group(manuscript)).SendAsync("failed", stoppingToken);
            }
            finally
            {
                lock (state)
                {
                    state.Running = null;
                }
            }
        }
    }

    // Parts that didn't change are the same objects as last time, so that what is known of them stays.
    private async Task<(ManuscriptSnapshot Snapshot, int Revision)> SnapshotAsync(int id, State state)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        FolioDatabase database = scope.ServiceProvider.GetRequiredService<FolioDatabase>();
        ManuscriptStore store = scope.ServiceProvider.GetRequiredService<ManuscriptStore>();
        ManuscriptEntity manuscript = await database.Manuscripts.AsNoTracking().FirstAsync(m => m.Id == id);
        var parts = new List<Part>();
        foreach (PartEntity part in await store.PartsAsync(id))
        {
            string key = $"{part.Path}\n{part.Id}\n{part.Version}\n{part.BlobHash}";
            if (!state.Parts.TryGetValue(key, out Part? known))
            {
                known = new Part(part.Path, await store.BytesAsync(part));
            }

            parts.Add(known);
            state.Next[key] = known;
        }

        (state.Parts, state.Next) = (state.Next, []);
        return (new ManuscriptSnapshot(new PartTree(parts), manuscript.MainPart, DateOnly.FromDateTime(DateTime.Now)), manuscript.Revision);
    }

    private sealed class State
    {
        public Proof? Proof { get; set; }

        public bool IsQueued { get; set; }

        public CancellationTokenSource? Running { get; set; }

        public TaskCompletionSource<Proof> First { get; } = new(TaskCreationOptions.RunContinuationsAsynchronously);

        public Dictionary<string, Part> Parts { get; set; } = [];

        public Dictionary<string, Part> Next { get; set; } = [];
    }
}

internal static partial class ProofLog
{
    [LoggerMessage(Level = LogLevel.Error, Message = "Compiling manuscript {Manuscript} failed")]
    public static partial void Failed(ILogger logger, Exception error, int manuscript);
}
