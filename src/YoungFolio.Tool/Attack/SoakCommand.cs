using System.Diagnostics;
using System.Globalization;
using System.Runtime.InteropServices;
using YoungFolio.Compiler;
using YoungFolio.Markup;

namespace YoungFolio.Tool.Attack;

/// <summary>
/// Runs for long what the tests run for short: fuzzed manuscripts, proofs after edits beside proofs from nothing, and a server that is ended
/// without warning under eight writers. Prints what it ran and what it found.
/// </summary>
internal static class SoakCommand
{
    private const int Writers = 8;
    private const double Hang = 20;

    public static async Task<int> RunAsync(string[] args)
    {
        (double minutes, int seed, string only) = (10, 1, "");
        for (int i = 0; i + 1 < args.Length; i += 2)
        {
            (minutes, seed, only) = args[i] switch
            {
                "--minutes" => (double.Parse(args[i + 1], CultureInfo.InvariantCulture), seed, only),
                "--seed" => (minutes, int.Parse(args[i + 1], CultureInfo.InvariantCulture), only),
                "--only" => (minutes, seed, args[i + 1]),
                _ => (minutes, seed, "?"),
            };
        }

        if (only is not ("" or "fuzz" or "edits" or "kills") || args.Length % 2 == 1)
        {
            Console.Error.WriteLine("soak [--minutes N] [--seed N] [--only fuzz|edits|kills]");
            return 2;
        }

        TimeSpan each = TimeSpan.FromMinutes(only.Length > 0 ? minutes : minutes / 3);
        // A long run may be ended at any time: it says what it found by then.
        using var end = new CancellationTokenSource();
        using PosixSignalRegistration interrupted = PosixSignalRegistration.Create(PosixSignal.SIGINT, End);
        using PosixSignalRegistration terminated = PosixSignalRegistration.Create(PosixSignal.SIGTERM, End);
        bool isGood = true;
        if (only is "" or "fuzz")
        {
            isGood &= Fuzz(seed, each, end.Token);
        }

        if (only is "" or "edits")
        {
            isGood &= Edits(seed, each, end.Token);
        }

        if (only is "" or "kills")
        {
            isGood &= await KillsAsync(each, end.Token);
        }

        return isGood ? 0 : 1;

        void End(PosixSignalContext context)
        {
            context.Cancel = true;
            end.Cancel();
        }
    }

    private static bool Fuzz(int seed, TimeSpan time, CancellationToken end)
    {
        string demo = Path.Combine(Environment.CurrentDirectory, "demo");
        string[] real = Directory.Exists(demo) ? [.. Directory.EnumerateFiles(demo, "*.tex", SearchOption.AllDirectories).Order(StringComparer.Ordinal).Select(File.ReadAllText)] : [];
        IReadOnlyList<string> commands = FuzzedManuscripts.Commands();
        var compiler = new ManuscriptCompiler();
        var clock = Stopwatch.StartNew();
        (int made, int crashed, int hung, long early) = (0, 0, 0, 0);
        for (; clock.Elapsed < time && !end.IsCancellationRequested; made++)
        {
            IFileTree files = FuzzedManuscripts.Make((seed * 1_000_000) + made, real, commands);
            var one = Stopwatch.StartNew();
            try
            {
                compiler.Compile(new ManuscriptSnapshot(files, "main.tex", new DateOnly(2026, 11, 28)), null, CancellationToken.None);
            }
            catch (Exception e)
            {
                crashed++;
                Console.WriteLine($"manuscript {(seed * 1_000_000) + made}: {e.GetType().Name}: {e.Message}");
            }

            if (one.Elapsed.TotalSeconds > Hang)
            {
                hung++;
                Console.WriteLine($"manuscript {(seed * 1_000_000) + made}: took {one.Elapsed.TotalSeconds:0.0} s");
            }

            // Everything that is kept for the next compile is there by then.
            early = made == 1000 ? GC.GetTotalMemory(true) : early;
        }

        long late = GC.GetTotalMemory(true);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"fuzzed manuscripts: {made}, crashed {crashed}, hung {hung}; memory after 1,000: {early / 1e6:0} MB, at the end: {late / 1e6:0} MB"));
        return crashed + hung == 0;
    }

    private static bool Edits(int seed, TimeSpan time, CancellationToken end)
    {
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(end);
        stop.CancelAfter(time);
        (int cases, int differs) = (0, 0);
        for (int run = 0; !stop.IsCancellationRequested; run++)
        {
            try
            {
                WarmColdFuzz.Outcome outcome = WarmColdFuzz.Run((seed * 1000) + run, 250, stop.Token);
                cases += outcome.Cases;
                differs += outcome.Differs.Count;
                foreach (string line in outcome.Differs)
                {
                    Console.WriteLine(line);
                }
            }
            catch (OperationCanceledException)
            {
                // The time is over.
            }
        }

        Console.WriteLine($"edits whose proof was held against one from nothing: {cases}, differing {differs}");
        return differs == 0;
    }

    private static async Task<bool> KillsAsync(TimeSpan time, CancellationToken end)
    {
        await using var server = new ServerProcess();
        await server.StartAsync();
        using var stop = new CancellationTokenSource();
        Typist[] typists = [.. Enumerable.Range(0, Writers).Select(i => new Typist(server.Address, i))];
        foreach (Typist typist in typists)
        {
            await typist.SignInAsync();
        }

        Task[] typing = [.. typists.Select(t => t.TypeUntilAsync(stop.Token))];
        var clock = Stopwatch.StartNew();
        int kills = 0;
        for (; clock.Elapsed < time && !end.IsCancellationRequested; kills++)
        {
            int before = typists.Sum(t => t.Acknowledged);
            await AcknowledgedAsync(() => typists.Sum(t => t.Acknowledged) >= before + 40);
            await server.RestartAsync();
            if (kills % 100 == 99)
            {
                Console.WriteLine($"{kills + 1} kills, {typists.Sum(t => t.Acknowledged)} characters acknowledged");
            }
        }

        await AcknowledgedAsync(() => typists.All(t => t.Acknowledged > 5));
        await stop.CancelAsync();
        await Task.WhenAll(typing);
        string text = await typists[0].TextAsync();
        (int lost, int doubled, int moved) = (0, 0, 0);
        foreach (Typist typist in typists)
        {
            string found = typist.Own(text);
            lost += Math.Max(0, typist.Typed.Length - found.Length);
            doubled += Math.Max(0, found.Length - typist.Typed.Length);
            moved += found.Length == typist.Typed.Length && found != typist.Typed ? 1 : 0;
        }

        Console.WriteLine($"kills under {Writers} writers: {kills}; characters typed {typists.Sum(t => t.Typed.Length)}, lost {lost}, doubled {doubled}, writers whose words are out of order {moved}");
        return lost + doubled + moved == 0;

        // A writer who gives up would never be acknowledged again: that is told, not waited for.
        async Task AcknowledgedAsync(Func<bool> holds)
        {
            try
            {
                await ServerProcess.EventuallyAsync(() => typing.Any(t => t.IsFaulted) || holds());
                await Task.WhenAll(typing.Where(t => t.IsFaulted));
            }
            catch (TimeoutException)
            {
                Console.WriteLine($"after {kills} kills nothing is acknowledged any more: {string.Join(", ", typists.Select(t => $"{t.Acknowledged} of {t.Typed.Length}"))}");
                throw;
            }
        }
    }
}
