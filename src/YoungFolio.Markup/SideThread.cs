using System.Runtime.ExceptionServices;

namespace YoungFolio.Markup;

/// <summary>
/// Threads of a compile's own. None of its work goes to the threads that answer people: a compile that was told to step back
/// must not hold one of those, and a thread that it starts steps back with it.
/// </summary>
public static class SideThread
{
    /// <summary>Runs something on a thread of its own, and waits for it.</summary>
    /// <param name="run">What is run; what it throws is thrown here.</param>
    /// <param name="stackSize">In bytes; 0: as usual.</param>
    public static T Run<T>(Func<T> run, int stackSize = 0)
    {
        Started<T> started = Start(run, stackSize);
        return started.Join();
    }

    /// <summary>Runs two things at once, the first one here.</summary>
    public static void Both(Action first, Action second)
    {
        Started<bool> other = Start(() =>
        {
            second();
            return true;
        });
        try
        {
            first();
        }
        catch (Exception)
        {
            other.Wait();
            throw;
        }

        other.Join();
    }

    /// <summary>Does the same for each number below a count, with two threads when there are enough of them.</summary>
    public static void ForEach(int count, Action<int> work)
    {
        const int Few = 16;
        int next = -1;
        if (count < Few)
        {
            Go();
        }
        else
        {
            Both(Go, Go);
        }

        void Go()
        {
            try
            {
                for (int i = Interlocked.Increment(ref next); i < count; i = Interlocked.Increment(ref next))
                {
                    work(i);
                }
            }
            catch (Exception)
            {
                // The other one needn't go on.
                Interlocked.Exchange(ref next, count);
                throw;
            }
        }
    }

    private static Started<T> Start<T>(Func<T> run, int stackSize = 0)
    {
        var started = new Started<T>();
        started.Thread = new Thread(() => started.Go(run), stackSize) { IsBackground = true };
        started.Thread.Start();
        return started;
    }

    private sealed class Started<T>
    {
        private T? _result;
        private ExceptionDispatchInfo? _failure;

        public Thread Thread { get; set; } = null!;

        public void Go(Func<T> run)
        {
            try
            {
                _result = run();
            }
            catch (Exception e)
            {
                _failure = ExceptionDispatchInfo.Capture(e);
            }
        }

        public void Wait() => Thread.Join();

        public T Join()
        {
            Thread.Join();
            _failure?.Throw();
            return _result!;
        }
    }
}
