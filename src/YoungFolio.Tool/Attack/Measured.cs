using System.Diagnostics;

namespace YoungFolio.Tool.Attack;

/// <summary>What a compile gave, and what it took.</summary>
/// <param name="Result">What it gave.</param>
/// <param name="Seconds">How long it took.</param>
/// <param name="Bytes">The most that stood in managed memory at once, above what stood there before.</param>
public sealed record Measured(Compiler.CompileResult Result, double Seconds, long Bytes)
{
    private static readonly TimeSpan s_look = TimeSpan.FromMilliseconds(5);

    /// <summary>Runs and measures. Nothing else should run meanwhile.</summary>
    public static Measured Run(Func<Compiler.CompileResult> compile)
    {
        long before = GC.GetTotalMemory(true);
        long most = before;
        using var stop = new CancellationTokenSource();
        var watch = new Thread(() =>
        {
            while (!stop.IsCancellationRequested)
            {
                most = Math.Max(most, GC.GetTotalMemory(false));
                Thread.Sleep(s_look);
            }
        }) { IsBackground = true };
        watch.Start();
        var clock = Stopwatch.StartNew();
        try
        {
            return new Measured(compile(), clock.Elapsed.TotalSeconds, Math.Max(most, GC.GetTotalMemory(false)) - before);
        }
        finally
        {
            stop.Cancel();
            watch.Join();
        }
    }
}
