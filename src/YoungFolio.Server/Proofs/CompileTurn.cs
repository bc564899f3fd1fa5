using System.Diagnostics;

namespace YoungFolio.Server.Proofs;

/// <summary>A compile that has its turn: it works, or waits while someone who used less goes first.</summary>
/// <param name="turns">Who gives it its turn.</param>
/// <param name="manuscript">The manuscript.</param>
/// <param name="account">Whose share is used.</param>
/// <param name="begun">When it began.</param>
public sealed class CompileTurn(CompileTurns turns, int manuscript, int account, DateTimeOffset begun) : IDisposable
{
    // An edit takes less; what takes longer leaves the processors to those who type and to other compiles.
    private static readonly TimeSpan s_steppingBack = TimeSpan.FromMilliseconds(500);

    // How often whoever waits asks whether it is its turn again.
    private static readonly TimeSpan s_look = TimeSpan.FromMilliseconds(50);

    private readonly ManualResetEventSlim _mayWork = new(true);
    private readonly long _start = Stopwatch.GetTimestamp();
    private readonly ThreadLocal<bool> _hasSteppedBack = new();

    /// <summary>The manuscript.</summary>
    public int Manuscript => manuscript;

    /// <summary>Whose share is used.</summary>
    public int Account => account;

    /// <summary>Whether it waits.</summary>
    public bool IsPaused => !_mayWork.IsSet;

    /// <summary>How long it has worked in all.</summary>
    public TimeSpan Worked(DateTimeOffset now) => _worked + (IsPaused ? TimeSpan.Zero : now - _since);

    private TimeSpan _worked;
    private DateTimeOffset _since = begun;

    /// <summary>Called now and then by the compile, on its own thread: waits while others go first.</summary>
    /// <exception cref="OperationCanceledException">The compile isn't wanted any more.</exception>
    public void WaitForTurn(CancellationToken stop)
    {
        if (!_hasSteppedBack.Value && Stopwatch.GetElapsedTime(_start) > s_steppingBack)
        {
            _hasSteppedBack.Value = true;
            _ = ProcessorShare.StepBack();
        }

        while (!_mayWork.Wait(s_look, stop))
        {
            turns.Reconsider();
        }
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        _mayWork.Set();
        _mayWork.Dispose();
        _hasSteppedBack.Dispose();
    }

    internal void Pause(DateTimeOffset now)
    {
        _worked += now - _since;
        _mayWork.Reset();
    }

    internal void Resume(DateTimeOffset now)
    {
        _since = now;
        _mayWork.Set();
    }
}
