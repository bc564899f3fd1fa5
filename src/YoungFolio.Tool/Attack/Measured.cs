using System.Diagnostics;

namespace YoungFolio.Tool.Attack;

/// <summary>What a compile gave, and what it took.</summary>
/// <param name="Result">What it gave.</param>
/// <param name="Seconds">How long it took.</param>
/// <param name="Bytes">The most that stood in managed memory at once, above what stood there before.</param>
/// <param name="Unasked">The longest time in which the compile didn't look whether others go first, or whether it is still wanted, in seconds.</param>
public sealed record Measured(Compiler.CompileResult Result, double Seconds, long Bytes, double Unasked)
{
    private static readonly TimeSpan s_look = TimeSpan.FromMilliseconds(5);

    /// <summary>Runs and measures. Nothing else should run meanwhile.</summary>
    /// <param name="compile">Compiles, and calls what it is given now and then.</param>
    public static Measured Run(Func<Action<CancellationToken>, Compiler.CompileResult> compile)
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
        (double looked, double longest) = (0, 0);
        try
        {
            Compiler.CompileResult result = compile(_ => Look());
            Look();
            return new Measured(result, clock.Elapsed.TotalSeconds, Math.Max(most, GC.GetTotalMemory(false)) - before, longest);
        }
        finally
        {
            stop.Cancel();
            watch.Join();
        }

        void Look()
        {
            // A compile has more than one thread.
            lock (clock)
            {
                double now = clock.Elapsed.TotalSeconds;
                longest = Math.Max(longest, now - looked);
                looked = now;
            }
        }
    }
}
