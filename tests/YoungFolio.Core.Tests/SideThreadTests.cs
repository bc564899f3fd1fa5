using System.Collections.Concurrent;
using YoungFolio.Markup;

namespace YoungFolio.Core.Tests;

/// <summary>Threads of a compile's own.</summary>
public class SideThreadTests
{
    [Fact]
    public void What_is_run_gives_its_result_or_throws_what_it_threw_on_a_thread_that_ends_with_it()
    {
        Assert.False(SideThread.Run(() => Thread.CurrentThread.IsThreadPoolThread));
        Assert.NotEqual(Environment.CurrentManagedThreadId, SideThread.Run(() => Environment.CurrentManagedThreadId));
        WorkLimitException limit = Assert.Throws<WorkLimitException>(() => SideThread.Run<int>(() => throw new WorkLimitException(WorkLimit.Block)));
        Assert.Equal(WorkLimit.Block, limit.Limit);
    }

    [Fact]
    public void Deep_work_has_the_room_that_it_was_promised()
    {
        Assert.Equal(100_000, SideThread.Run(() => Down(100_000), 64 * 1024 * 1024));

        static int Down(int left) => left == 0 ? 0 : 1 + Down(left - 1);
    }

    [Fact]
    public void Two_things_run_at_once_and_when_the_first_fails_the_second_is_over_too()
    {
        using var met = new Barrier(2);
        SideThread.Both(() => Assert.True(met.SignalAndWait(10_000)), () => Assert.True(met.SignalAndWait(10_000)));
        bool isOver = false;
        Assert.Throws<OperationCanceledException>(() => SideThread.Both(() => throw new OperationCanceledException(), () =>
        {
            Thread.Sleep(100);
            isOver = true;
        }));
        Assert.True(isOver);
        Assert.Throws<InvalidDataException>(() => SideThread.Both(() => { }, () => throw new InvalidDataException()));
    }

    [Theory]
    [InlineData(0)]
    [InlineData(3)]
    [InlineData(16)]
    [InlineData(5000)]
    public void Each_number_comes_once(int count)
    {
        var seen = new ConcurrentBag<int>();
        SideThread.ForEach(count, seen.Add);
        Assert.Equal(Enumerable.Range(0, count), seen.Order());
    }

    [Fact]
    public void When_one_fails_the_others_are_not_gone_through()
    {
        int done = 0;
        Assert.Throws<OperationCanceledException>(() => SideThread.ForEach(100_000, i =>
        {
            if (i == 10)
            {
                throw new OperationCanceledException();
            }

            Thread.Sleep(1);
            Interlocked.Increment(ref done);
        }));
        Assert.InRange(done, 0, 1000);
    }

    [Fact]
    public void Any_thread_of_a_compile_may_look_whether_it_is_still_wanted_and_waits_while_others_go_first()
    {
        using var stop = new CancellationTokenSource();
        int waits = 0;
        var budget = new WorkBudget(null, _ => Interlocked.Increment(ref waits), stop.Token);
        SideThread.ForEach(50, _ => budget.Look());
        Assert.Equal(50, waits);
        stop.Cancel();
        Assert.Throws<OperationCanceledException>(() => SideThread.ForEach(50, _ => budget.Look()));
    }
}
