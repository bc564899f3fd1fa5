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
        turns.Add(1, account: 10, atOnce: true);
        Assert.Equal((1, 10), await TakeAsync(turns));
        // A hostile account asks for all its manuscripts while its first compile runs; another one asks last.
        for (int manuscript = 2; manuscript < 50; manuscript++)
        {
            turns.Add(manuscript, account: 10, atOnce: true);
        }

        Assert.False(turns.TakeAsync(CancellationToken.None).IsCompleted);
        using var second = new CompileTurns(_clock);
        second.Add(1, 10, atOnce: true);
        await TakeAsync(second);
        second.Done(10, TimeSpan.FromSeconds(9));
        second.Add(2, 10, atOnce: true);
        _clock.Now += TimeSpan.FromSeconds(1);
        second.Add(90, 20, atOnce: true);
        Assert.Equal((90, 20), await TakeAsync(second));
        Assert.Equal((2, 10), await TakeAsync(second));
    }

    [Fact]
    public async Task What_was_used_long_ago_is_forgiven()
    {
        using var turns = new CompileTurns(_clock);
        turns.Add(1, 10, atOnce: true);
        await TakeAsync(turns);
        turns.Done(10, TimeSpan.FromSeconds(5));
        _clock.Now += TimeSpan.FromMinutes(5);
        turns.Add(2, 20, atOnce: true);
        await TakeAsync(turns);
        turns.Done(20, TimeSpan.FromSeconds(1));
        turns.Add(3, 20, atOnce: true);
        turns.Add(4, 10, atOnce: true);
        Assert.Equal((4, 10), await TakeAsync(turns));
    }

    [Fact]
    public async Task Keys_that_follow_one_another_make_one_compile_and_typing_without_a_pause_still_gets_proofs()
    {
        using var turns = new CompileTurns(_clock);
        turns.Add(1, 10);
        Task<(int, int)> taken = turns.TakeAsync(CancellationToken.None);
        for (int i = 0; i < 7; i++)
        {
            // A key every 50 ms: never quiet, so that only the longest wait, 400 ms, ends it.
            _clock.Now += TimeSpan.FromMilliseconds(50);
            turns.Add(1, 10);
            Assert.NotSame(taken, await Task.WhenAny(taken, Task.Delay(20)));
        }

        _clock.Now += TimeSpan.FromMilliseconds(50);
        turns.Add(1, 10);
        Assert.Equal((1, 10), await taken.WaitAsync(TimeSpan.FromSeconds(5)));
        turns.Done(10, TimeSpan.FromMilliseconds(80));
        Assert.False(turns.TakeAsync(CancellationToken.None).IsCompleted);
    }

    private static async Task<(int Manuscript, int Account)> TakeAsync(CompileTurns turns) => await turns.TakeAsync(CancellationToken.None).WaitAsync(TimeSpan.FromSeconds(5));
}
