using YoungFolio.Markup;
using YoungFolio.Server.Proofs;

namespace YoungFolio.Server.Tests;

/// <summary>Whose manuscript is compiled next.</summary>
public sealed class CompileTurnsTests
{
    private readonly Clock _clock = new();

    [Fact]
    public async Task Whoever_used_much_lately_comes_after_the_others_and_never_has_two_workers()
    {
        using var turns = new CompileTurns(_clock);
        turns.Add(1, account: 10);
        Assert.Equal((1, 10), await TakeAsync(turns));
        // A hostile account asks for all its manuscripts while its first compile runs; another one asks last.
        for (int manuscript = 2; manuscript < 50; manuscript++)
        {
            turns.Add(manuscript, account: 10);
        }

        Assert.False(turns.TakeAsync(CancellationToken.None).IsCompleted);
        using var second = new CompileTurns(_clock);
        second.Add(1, 10);
        await WorkAsync(second, TimeSpan.FromSeconds(9));
        second.Add(2, 10);
        _clock.Now += TimeSpan.FromSeconds(1);
        second.Add(90, 20);
        Assert.Equal((90, 20), await TakeAsync(second));
        Assert.Equal((2, 10), await TakeAsync(second));
    }

    [Fact]
    public async Task A_compile_that_takes_long_steps_back_and_no_other_thread_does()
    {
        using var turns = new CompileTurns(_clock);
        turns.Add(1, 10);
        using CompileTurn turn = await turns.TakeAsync(CancellationToken.None);
        int early = -1;
        int late = -1;
        int side = -1;
        SideThread.Run(() =>
        {
            early = ProcessorShare.OfThisThread();
            Thread.Sleep(600);
            turn.WaitForTurn(CancellationToken.None);
            late = ProcessorShare.OfThisThread();
            return side = SideThread.Run(ProcessorShare.OfThisThread);
        });
        Assert.Equal(Math.Max(early, 10), late);
        Assert.Equal(late, side);
        Assert.Equal(early, SideThread.Run(ProcessorShare.OfThisThread));
    }

    [Fact]
    public async Task Whoever_waits_in_the_middle_goes_on_as_soon_as_the_other_has_used_more()
    {
        using var turns = new CompileTurns(_clock, places: 1);
        turns.Add(1, 10);
        CompileTurn first = await turns.TakeAsync(CancellationToken.None);
        _clock.Now += TimeSpan.FromSeconds(1);
        // Someone new, who has used nothing yet, goes first and doesn't come to an end.
        turns.Add(2, 20);
        CompileTurn second = await turns.TakeAsync(CancellationToken.None);
        // A thread of its own, as compiles have: it steps back and doesn't come forward again.
        Task waits = Task.Factory.StartNew(() => first.WaitForTurn(CancellationToken.None), CancellationToken.None, TaskCreationOptions.LongRunning, TaskScheduler.Default);
        Assert.NotSame(waits, await Task.WhenAny(waits, Task.Delay(200)));
        _clock.Now += TimeSpan.FromSeconds(1.5);
        await waits.WaitAsync(TimeSpan.FromSeconds(10));
        Assert.True(second.IsPaused);
        turns.Done(first);
        Assert.False(second.IsPaused);
        turns.Done(second);
    }

    [Fact]
    public async Task A_compile_that_takes_long_waits_for_a_new_one_even_of_whoever_used_more()
    {
        using var turns = new CompileTurns(_clock, places: 1);
        turns.Add(1, 10);
        await WorkAsync(turns, TimeSpan.FromSeconds(8));
        turns.Add(2, 20);
        CompileTurn hostile = await turns.TakeAsync(CancellationToken.None);
        turns.Add(1, 10);
        _clock.Now += TimeSpan.FromSeconds(0.6);
        using CompileTurn edit = await turns.TakeAsync(CancellationToken.None);
        Assert.True(hostile.IsPaused);
        turns.Done(edit);
        Assert.False(hostile.IsPaused);
        turns.Done(hostile);
    }

    [Fact]
    public async Task A_manuscript_is_compiled_by_one_worker_whoever_it_belongs_to_meanwhile()
    {
        using var turns = new CompileTurns(_clock);
        // While it is being made it belongs to nobody yet.
        turns.Add(1, account: 0);
        CompileTurn first = await turns.TakeAsync(CancellationToken.None);
        turns.Add(1, account: 10);
        Task<CompileTurn> second = turns.TakeAsync(CancellationToken.None);
        _clock.Now += TimeSpan.FromSeconds(5);
        Assert.NotSame(second, await Task.WhenAny(second, Task.Delay(300)));
        turns.Done(first);
        _clock.Now += TimeSpan.FromSeconds(1);
        Assert.Equal(10, (await second.WaitAsync(TimeSpan.FromSeconds(10))).Account);
    }

    [Fact]
    public async Task What_takes_long_waits_for_one_other_manuscript_of_its_account_and_goes_on_after_it()
    {
        using var turns = new CompileTurns(_clock);
        turns.Add(1, 10);
        CompileTurn book = await turns.TakeAsync(CancellationToken.None);
        turns.Add(2, 10);
        Task<CompileTurn> letter = turns.TakeAsync(CancellationToken.None);
        Assert.NotSame(letter, await Task.WhenAny(letter, Task.Delay(300)));
        _clock.Now += TimeSpan.FromSeconds(0.6);
        CompileTurn second = await letter.WaitAsync(TimeSpan.FromSeconds(10));
        Assert.True(book.IsPaused);
        // There is a free place, but the account has one worker.
        turns.Reconsider();
        Assert.True(book.IsPaused);
        turns.Add(3, 10);
        _clock.Now += TimeSpan.FromSeconds(2);
        using var enough = new CancellationTokenSource(TimeSpan.FromMilliseconds(300));
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => turns.TakeAsync(enough.Token));
        turns.Done(second);
        Assert.False(book.IsPaused);
        turns.Done(book);
    }

    [Fact]
    public async Task What_was_used_long_ago_is_forgiven()
    {
        using var turns = new CompileTurns(_clock);
        turns.Add(1, 10);
        await WorkAsync(turns, TimeSpan.FromSeconds(5));
        _clock.Now += TimeSpan.FromMinutes(5);
        turns.Add(2, 20);
        await WorkAsync(turns, TimeSpan.FromSeconds(1));
        turns.Add(3, 20);
        turns.Add(4, 10);
        Assert.Equal((4, 10), await TakeAsync(turns));
    }

    [Theory]
    [InlineData(60, 30)]
    [InlineData(200, 100)]
    [InlineData(3000, 400)]
    public async Task The_first_key_is_compiled_at_once_and_pauses_grow_with_the_time_that_a_compile_takes(int takes, int pause)
    {
        using var turns = new CompileTurns(_clock);
        turns.Add(1, 10);
        CompileTurn turn = await turns.TakeAsync(CancellationToken.None).WaitAsync(TimeSpan.FromSeconds(5));
        // Keys that come meanwhile make one compile.
        for (int i = 0; i < 5; i++)
        {
            _clock.Now += TimeSpan.FromMilliseconds(takes / 5.0);
            turns.Add(1, 10);
        }

        turns.Done(turn);
        Task<CompileTurn> next = turns.TakeAsync(CancellationToken.None);
        _clock.Now += TimeSpan.FromMilliseconds(pause - 10);
        turns.Add(1, 10);
        Assert.NotSame(next, await Task.WhenAny(next, Task.Delay(20)));
        _clock.Now += TimeSpan.FromMilliseconds(10);
        turns.Add(1, 10);
        turns.Done(await next.WaitAsync(TimeSpan.FromSeconds(5)));
        Assert.False(turns.TakeAsync(CancellationToken.None).IsCompleted);
        // A key that comes later than that waits for nothing.
        using var later = new CompileTurns(_clock);
        later.Add(1, 10);
        later.Done(await later.TakeAsync(CancellationToken.None));
        _clock.Now += TimeSpan.FromSeconds(1);
        later.Add(1, 10);
        later.Done(await later.TakeAsync(CancellationToken.None).WaitAsync(TimeSpan.FromSeconds(5)));
    }

    [Fact]
    public async Task Two_who_take_much_wait_in_the_middle_for_a_third_who_takes_little()
    {
        using var turns = new CompileTurns(_clock, places: 2);
        turns.Add(1, 10);
        turns.Add(2, 20);
        CompileTurn first = await turns.TakeAsync(CancellationToken.None);
        CompileTurn second = await turns.TakeAsync(CancellationToken.None);
        _clock.Now += TimeSpan.FromMilliseconds(100);
        turns.Add(3, 30);
        Task<CompileTurn> waiting = turns.TakeAsync(CancellationToken.None);
        Assert.False(waiting.IsCompleted);
        _clock.Now += TimeSpan.FromMilliseconds(450);
        CompileTurn third = await waiting.WaitAsync(TimeSpan.FromSeconds(5));
        Assert.Equal((3, 30), (third.Manuscript, third.Account));
        CompileTurn paused = Assert.Single(new[] { first, second }, t => t.IsPaused);
        // It waits on its own thread until the third is done.
        var went = new ManualResetEventSlim();
        var thread = new Thread(() =>
        {
            paused.WaitForTurn(CancellationToken.None);
            went.Set();
        }) { IsBackground = true };
        thread.Start();
        Assert.False(went.Wait(100));
        turns.Done(third);
        Assert.True(went.Wait(5000));
        Assert.False(paused.IsPaused);
        // What one waited isn't counted as used.
        _clock.Now += TimeSpan.FromSeconds(1);
        Assert.Equal(1.55, paused.Worked(_clock.Now).TotalSeconds, 3);
        using var stop = new CancellationTokenSource();
        turns.Add(4, 40);
        CompileTurn fourth = await turns.TakeAsync(CancellationToken.None);
        CompileTurn again = Assert.Single(new[] { first, second }, t => t.IsPaused);
        await stop.CancelAsync();
        Assert.Throws<OperationCanceledException>(() => SideThread.Run(() =>
        {
            again.WaitForTurn(stop.Token);
            return 0;
        }));
        turns.Done(fourth);
    }

    private async Task WorkAsync(CompileTurns turns, TimeSpan time)
    {
        CompileTurn turn = await turns.TakeAsync(CancellationToken.None).WaitAsync(TimeSpan.FromSeconds(5));
        _clock.Now += time;
        turns.Done(turn);
    }

    private static async Task<(int Manuscript, int Account)> TakeAsync(CompileTurns turns)
    {
        CompileTurn turn = await turns.TakeAsync(CancellationToken.None).WaitAsync(TimeSpan.FromSeconds(5));
        return (turn.Manuscript, turn.Account);
    }
}
