using System.Collections.Concurrent;
using System.IO.Compression;
using System.Text.Json;
using YoungFolio.Compiler;
using YoungFolio.Compiler.Sheets;
using YoungFolio.Storage;

namespace YoungFolio.Server.Proofs;

/// <summary>
/// The last proof of each manuscript, on disk: what browsers know of it, and its sheets by their digests. So there are pages at once after
/// the server was started anew, and the shelf needs no compile. Nothing depends on it: what can't be read or stored isn't there.
/// </summary>
/// <param name="options">Where the data are.</param>
/// <param name="writeQueue">Says which state of the data there is: proofs of another one are of no use.</param>
/// <param name="clock">Tells the time.</param>
/// <param name="log">Told of what fails.</param>
public sealed class LastProofs(ServerOptions options, WriteQueue writeQueue, TimeProvider clock, ILogger<LastProofs> log) : BackgroundService
{
    /// <summary>How much is kept, in bytes.</summary>
    public const long Most = 1024L * 1024 * 1024;

    // After a start the sheets of a proof are asked for one by one.
    private const int MostRead = 20;

    private const string HeadFile = "proof.json";

    // While someone types there is a proof at every key: it is enough to have one of some seconds ago.
    private static readonly TimeSpan s_pause = TimeSpan.FromSeconds(3);

    // Another engine may draw in another way.
    private static readonly string s_engine = typeof(ManuscriptCompiler).Module.ModuleVersionId.ToString("N");

    private readonly ConcurrentDictionary<int, Proof> _wanted = new();
    private readonly RecentlyUsed<int, LastProof> _read = new(MostRead, static _ => 1);
    private readonly Lock _lock = new();
    private readonly string _folder = Path.Combine(options.Data, "proofs");

    /// <summary>Has a proof kept, in a moment.</summary>
    public void Keep(int manuscript, Proof proof) => _wanted[manuscript] = proof;

    /// <summary>The proof that was kept of a manuscript; null when there is none.</summary>
    public LastProof? Find(int manuscript)
    {
        LastProof? found = _read.Find(manuscript);
        if (found is null)
        {
            lock (_lock)
            {
                Try(manuscript, () => found = Read(manuscript));
            }
        }

        return found?.Generation == writeQueue.Generation && found?.Engine == s_engine ? found : null;
    }

    /// <summary>A sheet of the proof that was kept; null when it has none of that digest.</summary>
    public byte[]? FindSheet(int manuscript, string digest)
    {
        // The digest comes from outside: only one that the proof names is a file's name.
        if (Find(manuscript)?.Proof.Sheets.Entries.Any(e => e.Digest == digest) != true)
        {
            return null;
        }

        byte[]? content = null;
        Try(manuscript, () =>
        {
            using var zip = new BrotliStream(File.OpenRead(SheetFile(manuscript, digest)), CompressionMode.Decompress);
            var read = new MemoryStream();
            zip.CopyTo(read);
            content = read.ToArray();
        });
        return content;
    }

    /// <summary>Lets go what is kept of a manuscript.</summary>
    public void Forget(int manuscript)
    {
        _wanted.TryRemove(manuscript, out _);
        lock (_lock)
        {
            _read.Forget(manuscript);
            Try(manuscript, () => Erase(FolderOf(manuscript)));
        }
    }

    /// <summary>Stores what waits to be kept.</summary>
    public void Store()
    {
        foreach (int manuscript in _wanted.Keys)
        {
            if (_wanted.TryRemove(manuscript, out Proof? proof) && writeQueue.Generation is { } generation)
            {
                lock (_lock)
                {
                    Try(manuscript, () => Store(manuscript, proof, generation));
                }
            }
        }
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(s_pause, clock);
        try
        {
            await writeQueue.GenerationAsync();
            while (await timer.WaitForNextTickAsync(stoppingToken))
            {
                await Task.Run(Store, CancellationToken.None);
            }
        }
        catch (OperationCanceledException)
        {
            Store();
        }
    }

    private LastProof? Read(int manuscript)
    {
        string file = Path.Combine(FolderOf(manuscript), HeadFile);
        return File.Exists(file) && JsonSerializer.Deserialize<LastProof>(File.ReadAllBytes(file), JsonSerializerOptions.Web) is { } read ? _read.Keep(manuscript, read) : null;
    }

    private string FolderOf(int manuscript) => Path.Combine(_folder, FormattableString.Invariant($"{manuscript}"));

    private string SheetFile(int manuscript, string digest) => Path.Combine(FolderOf(manuscript), digest + ".br");

    // Sheets come first, the head that names them after them, in one step; only then go those that it doesn't name.
    private void Store(int manuscript, Proof proof, string generation)
    {
        string folder = FolderOf(manuscript);
        Directory.CreateDirectory(folder);
        _read.Forget(manuscript);
        var named = new HashSet<string>(StringComparer.Ordinal);
        foreach (Sheet sheet in proof.Result.Sheets.Sheets)
        {
            string file = SheetFile(manuscript, sheet.Digest);
            if (named.Add(Path.GetFileName(file)) && !File.Exists(file))
            {
                Write(file, stream =>
                {
                    using var zip = new BrotliStream(stream, CompressionLevel.Fastest);
                    zip.Write(sheet.Content);
                });
            }
        }

        ProofView view = JsonSerializer.Deserialize<ProofView>(proof.Json, JsonSerializerOptions.Web)!;
        Write(Path.Combine(folder, HeadFile), stream => JsonSerializer.Serialize(stream, new LastProof(generation, s_engine, clock.GetUtcNow(), view), JsonSerializerOptions.Web));
        foreach (string file in Directory.GetFiles(folder).Where(f => Path.GetFileName(f) is not HeadFile and var name && !named.Contains(name)))
        {
            File.Delete(file);
        }

        MakeRoom(folder);
    }

    // Those that were stored longest ago go first; the one just stored stays.
    private void MakeRoom(string newest)
    {
        (string Folder, long Size, DateTime At)[] kept = [.. new DirectoryInfo(_folder).GetDirectories()
            .Select(d => (d.FullName, d.GetFiles().Sum(f => f.Length), File.GetLastWriteTimeUtc(Path.Combine(d.FullName, HeadFile)))).OrderBy(d => d.Item3)];
        long all = kept.Sum(k => k.Size);
        foreach ((string folder, long size, _) in kept.TakeWhile(_ => all > Most).Where(k => k.Folder != newest))
        {
            Erase(folder);
            all -= size;
        }
    }

    private static void Write(string file, Action<Stream> write)
    {
        string unfinished = file + ".unfinished";
        using (FileStream stream = File.Create(unfinished))
        {
            write(stream);
        }

        File.Move(unfinished, file, overwrite: true);
    }

    private static void Erase(string folder)
    {
        if (Directory.Exists(folder))
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private void Try(int manuscript, Action act)
    {
        try
        {
            act();
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or JsonException or InvalidOperationException or InvalidDataException)
        {
            // The disk may be full, or a file damaged: the next proof is tried anew.
            LastProofsLog.Failed(log, e, manuscript);
        }
    }
}

/// <summary>A proof as it was kept.</summary>
/// <param name="Generation">The state of the data that it is of.</param>
/// <param name="Engine">The engine that made it.</param>
/// <param name="At">When it was kept.</param>
/// <param name="Proof">What browsers know of it.</param>
public sealed record LastProof(string Generation, string Engine, DateTimeOffset At, ProofView Proof);

internal static partial class LastProofsLog
{
    [LoggerMessage(Level = LogLevel.Warning, Message = "The last proof of manuscript {Manuscript} can't be kept or read")]
    public static partial void Failed(ILogger logger, Exception error, int manuscript);
}
