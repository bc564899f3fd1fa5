using YoungFolio.Tool.Attack;

namespace YoungFolio.Server.Tests;

/// <summary>The server ended without warning, again and again, while people type.</summary>
public sealed class KillTests
{
    [Fact]
    public async Task After_ten_kills_every_acknowledged_character_is_there_in_order_once()
    {
        await using var server = new ServerProcess();
        await server.StartAsync();
        using var stop = new CancellationTokenSource();
        Typist[] typists = [.. Enumerable.Range(0, 5).Select(i => new Typist(server.Address, i))];
        foreach (Typist typist in typists)
        {
            await typist.SignInAsync();
        }

        Task[] typing = [.. typists.Select(t => t.TypeUntilAsync(stop.Token))];
        for (int i = 0; i < 10; i++)
        {
            int before = typists.Sum(t => t.Acknowledged);
            await ServerProcess.EventuallyAsync(() => typists.Sum(t => t.Acknowledged) >= before + 60);
            await server.RestartAsync();
        }

        await ServerProcess.EventuallyAsync(() => typists.All(t => t.Acknowledged > 20));
        await stop.CancelAsync();
        await Task.WhenAll(typing);
        string text = await typists[0].TextAsync();
        foreach (Typist typist in typists)
        {
            string found = typist.Own(text);
            Assert.Equal(typist.Typed, found);
            Assert.True(typist.Acknowledged <= found.Length);
        }
    }
}
