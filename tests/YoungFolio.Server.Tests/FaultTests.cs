using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.AspNetCore.SignalR.Client;
using YoungFolio.Tool.Attack;

namespace YoungFolio.Server.Tests;

/// <summary>A full disk, two servers on one folder, backups: with the server as a process of its own.</summary>
public sealed class FaultTests
{
    [Fact]
    public async Task When_the_disk_is_full_writers_are_told_at_once_and_go_on_when_there_is_room()
    {
        await using var server = new ServerProcess();
        await server.StartAsync();
        // SQLite itself refuses to grow the file further, as on a full disk.
        await server.RestartAsync("--largest-data", "1");
        var typist = new Typist(server.Address, 0);
        await typist.SignInAsync();
        string said = await typist.TypeUntilRefusedAsync();
        Assert.Contains("disk is full", said, StringComparison.Ordinal);
        int version = typist.Version;
        await server.RestartAsync();
        using var stop = new CancellationTokenSource();
        Task typing = typist.TypeUntilAsync(stop.Token);
        await ServerProcess.EventuallyAsync(() => typist.Version > version + 5);
        await stop.CancelAsync();
        await typing;
        Assert.Contains(typist.Typed, await typist.TextAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Two_servers_do_not_share_a_folder()
    {
        await using var server = new ServerProcess();
        await server.StartAsync();
        using Process second = server.Launch("--port", "0");
        await second.WaitForExitAsync().WaitAsync(TimeSpan.FromSeconds(30));
        Assert.Equal(1, second.ExitCode);
        Assert.Contains("another server runs on it", await second.StandardError.ReadToEndAsync(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Whoever_forgot_the_password_gets_another_while_the_server_runs()
    {
        await using var server = new ServerProcess();
        await server.StartAsync();
        using var old = new HttpClient { BaseAddress = server.Address };
        await GuardAsync(old);
        var account = new { name = "Una Fell", email = "una.fell@moor.example", password = "stones and lichen" };
        Assert.Equal(HttpStatusCode.OK, (await old.PostAsJsonAsync("/api/account", account)).StatusCode);
        string said = await ServerProcess.RunAsync(0, "password", "--data", server.Data, "Una.Fell@moor.example");
        string given = said.Split(' ').Single(w => w.Count(c => c == '-') == 4);

        using var page = new HttpClient { BaseAddress = server.Address };
        await GuardAsync(page);
        Assert.Equal(HttpStatusCode.Forbidden, (await page.PostAsJsonAsync("/api/session", account)).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await page.PostAsJsonAsync("/api/session", new { account.email, password = given })).StatusCode);
        await GuardAsync(page);
        Assert.Equal(HttpStatusCode.NoContent, (await page.PostAsJsonAsync("/api/account/password", new { old = given, @new = "walls and ledgers" })).StatusCode);
        Assert.Contains("no account with the address", await ServerProcess.RunAsync(1, "password", "--data", server.Data, "nobody@moor.example"), StringComparison.Ordinal);
        Assert.Contains("no data in", await ServerProcess.RunAsync(1, "password", "--data", Path.Combine(server.Data, "elsewhere"), account.email), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_backup_is_made_while_people_type_and_put_in_place_while_the_server_runs_or_elsewhere()
    {
        await using var server = new ServerProcess();
        await server.StartAsync();
        var typist = new Typist(server.Address, 0);
        await typist.SignInAsync();
        using var stop = new CancellationTokenSource();
        Task typing = typist.TypeUntilAsync(stop.Token);
        await ServerProcess.EventuallyAsync(() => typist.Acknowledged > 10);
        string file = Path.Combine(server.Data, "copy.zip");
        int atBackup = typist.Acknowledged;
        await ServerProcess.RunAsync(0, "backup", "--data", server.Data, file);
        await ServerProcess.EventuallyAsync(() => typist.Acknowledged > atBackup + 10);
        await stop.CancelAsync();
        await typing;

        var restored = new TaskCompletionSource();
        await using HubConnection hub = await typist.ConnectAsync();
        hub.On("restored", () => restored.TrySetResult());
        Task<string> refused = typist.TypeUntilRefusedAsync(hub);
        await ServerProcess.RunAsync(0, "restore", "--data", server.Data, file);
        Assert.Contains("put back to an earlier state", await refused, StringComparison.Ordinal);
        await restored.Task.WaitAsync(TimeSpan.FromSeconds(20));
        string after = await typist.TextAsync();
        string letters = typist.Own(after);
        Assert.True(letters.Length >= atBackup && letters.Length < typist.Acknowledged, $"{atBackup} {letters.Length} {typist.Acknowledged}");
        Assert.StartsWith(letters, typist.Typed, StringComparison.Ordinal);
        // What was there before is kept beside it, to the last letter that was acknowledged, and can be put back.
        string kept = Directory.GetFiles(server.Data, "before-restore-*.zip").Single();
        await ServerProcess.RunAsync(0, "restore", "--data", server.Data, kept);
        await ServerProcess.EventuallyAsync(() => typist.Own(typist.TextAsync().Result) == typist.Typed[..typist.Acknowledged]);

        string elsewhere = Path.Combine(server.Data, "another machine");
        await ServerProcess.RunAsync(0, "restore", "--data", elsewhere, file);
        await server.RestartAsync("--data", elsewhere);
        Assert.Equal(after, await typist.TextAsync());
        await server.KillAsync();
        Assert.Contains("isn't a whole backup", await ServerProcess.RunAsync(1, "restore", "--data", elsewhere, Path.Combine(elsewhere, "folio.db")), StringComparison.Ordinal);
    }

    private static async Task GuardAsync(HttpClient page)
    {
        page.DefaultRequestHeaders.Remove("Folio-Guard");
        page.DefaultRequestHeaders.Add("Folio-Guard", (await page.GetFromJsonAsync<JsonElement>("/api/session")).GetProperty("guard").GetString());
    }
}
