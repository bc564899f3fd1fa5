using System.Runtime.InteropServices;

namespace YoungFolio.Server.Proofs;

/// <summary>How much of the processors a thread gets while others want them too.</summary>
internal static partial class ProcessorShare
{
    // PRIO_PROCESS of setpriority(2): on Linux it takes the number of a thread, 0 for the one that calls.
    private const int OfThread = 0;

    // A tenth of what others get (sched(7)).
    private const int Nice = 10;

    /// <summary>
    /// From now on the calling thread, and those that it starts, work on what others leave. A thread can't take this back:
    /// only for threads that end with their work.
    /// </summary>
    /// <returns>Whether the system let it.</returns>
    public static bool StepBack() => OfThisThread() >= Nice || SetPriority(OfThread, 0, Nice) == 0;

    /// <summary>How far the calling thread has stepped back: 0, not at all.</summary>
    public static int OfThisThread() => GetPriority(OfThread, 0);

    [LibraryImport("libc", EntryPoint = "setpriority")]
    private static partial int SetPriority(int which, int who, int nice);

    [LibraryImport("libc", EntryPoint = "getpriority")]
    private static partial int GetPriority(int which, int who);
}
