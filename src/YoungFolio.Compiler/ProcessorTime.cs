using System.Runtime.InteropServices;

namespace YoungFolio.Compiler;

/// <summary>How long a thread has worked: on a busy machine a compile takes longer by the clock, but isn't larger for it.</summary>
internal static partial class ProcessorTime
{
    // CLOCK_THREAD_CPUTIME_ID of Linux (clock_gettime(2)).
    private const int OfThread = 3;

    /// <summary>Processor time of the calling thread, in seconds.</summary>
    public static double OfThisThread() => GetTime(OfThread, out Time time) == 0 ? time.Seconds + (time.Nanoseconds / 1e9) : 0;

    [LibraryImport("libc", EntryPoint = "clock_gettime")]
    private static partial int GetTime(int clock, out Time time);

    [StructLayout(LayoutKind.Sequential)]
    private struct Time
    {
        public nint Seconds;
        public nint Nanoseconds;
    }
}
