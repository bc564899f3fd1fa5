using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Runtime.CompilerServices;
using System.Text.Json;
using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;
using YoungFolio.Cowriting;

namespace YoungFolio.Server.Tests;

/// <summary>The server as a process of its own, ended without warning while people type.</summary>
public sealed class FaultTests : IDisposable
{
    private readonly string _data = Directory.CreateTempSubdirectory("folio").FullName;
    private readonly Uri _address = new($"http://127.0.0.1:{FreePort()}");

    [Fact]
    public async Task After_ten_kills_every_acknowledged_character_is_there_in_order_once()
    {
        using var stop = new CancellationTokenSource();
        Process server = await StartAsync();
        Typist[] typists = [.. Enumerable.Range(0, 5).Select(i => new Typist(_address, i))];
        foreach (Typist typist in typists)
        {
            await typist.SignInAsync();
        }

        Task[] typing = [.. typists.Select(t => t.TypeUntilAsync(stop.Token))];
        for (int i = 0; i < 10; i++)
        {
            int before = typists.Sum(t => t.Acknowledged);
            await EventuallyAsync(() => typists.Sum(t => t.Acknowledged) >= before + 60);
            server.Kill();
            await server.WaitForExitAsync();
            server.Dispose();
            server = await StartAsync();
        }

        await EventuallyAsync(() => typists.All(t => t.Acknowledged > 20));
        await stop.CancelAsync();
        await Task.WhenAll(typing);
        string text = await typists[0].TextAsync();
        server.Kill();
        await server.WaitForExitAsync();
        server.Dispose();
        foreach (Typist typist in typists)
        {
            string found = typist.Own(text);
            Assert.Equal(typist.Typed, found);
            Assert.True(typist.Acknowledged <= found.Length);
        }
    }

    [Fact]
    public async Task When_the_disk_is_full_writers_are_told_at_once_and_go_on_when_there_is_room()
    {
        Process server = await StartAsync();
        server.Kill();
        await server.WaitForExitAsync();
        // SQLite itself refuses to grow the file further, as on a full disk.
        server = await StartAsync("--largest-data", "1");
        var typist = new Typist(_address, 0);
        await typist.SignInAsync();
        string said = await typist.TypeUntilRefusedAsync();
        Assert.Contains("disk is full", said, StringComparison.Ordinal);
        int version = typist.Version;
        server.Kill();
        await server.WaitForExitAsync();
        server = await StartAsync();
        using var stop = new CancellationTokenSource();
        Task typing = typist.TypeUntilAsync(stop.Token);
        await EventuallyAsync(() => typist.Version > version + 5);
        await stop.CancelAsync();
        await typing;
        string text = await typist.TextAsync();
        server.Kill();
        await server.WaitForExitAsync();
        Assert.Contains(typist.Typed, text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Two_servers_do_not_share_a_folder()
    {
        Process server = await StartAsync();
        using Process second = Launch("--port", "0");
        await second.WaitForExitAsync().WaitAsync(TimeSpan.FromSeconds(30));
        Assert.Equal(1, second.ExitCode);
        Assert.Contains("another server runs on it", await second.StandardError.ReadToEndAsync(), StringComparison.Ordinal);
        server.Kill();
        await server.WaitForExitAsync();
    }

    [Fact]
    public async Task A_backup_is_made_while_people_type_and_put_in_place_while_the_server_runs_or_elsewhere()
    {
        Process server = await StartAsync();
        var typist = new Typist(_address, 0);
        await typist.SignInAsync();
        using var stop = new CancellationTokenSource();
        Task typing = typist.TypeUntilAsync(stop.Token);
        await EventuallyAsync(() => typist.Acknowledged > 10);
        string file = Path.Combine(_data, "copy.zip");
        int atBackup = typist.Acknowledged;
        await RunAsync(0, "backup", "--data", _data, file);
        await EventuallyAsync(() => typist.Acknowledged > atBackup + 10);
        await stop.CancelAsync();
        await typing;

        var restored = new TaskCompletionSource();
        await using HubConnection hub = await typist.ConnectAsync();
        hub.On("restored", () => restored.TrySetResult());
        Task<string> refused = typist.TypeUntilRefusedAsync(hub);
        await RunAsync(0, "restore", "--data", _data, file);
        Assert.Contains("put back to an earlier state", await refused, StringComparison.Ordinal);
        await restored.Task.WaitAsync(TimeSpan.FromSeconds(20));
        string after = await typist.TextAsync();
        string letters = typist.Own(after);
        Assert.True(letters.Length >= atBackup && letters.Length < typist.Acknowledged, $"{atBackup} {letters.Length} {typist.Acknowledged}");
        Assert.StartsWith(letters, typist.Typed, StringComparison.Ordinal);
        // What was there before is kept beside it, to the last letter that was acknowledged, and can be put back.
        string kept = Directory.GetFiles(_data, "before-restore-*.zip").Single();
        await RunAsync(0, "restore", "--data", _data, kept);
        await EventuallyAsync(() => typist.Own(typist.TextAsync().Result) == typist.Typed[..typist.Acknowledged]);
        server.Kill();
        await server.WaitForExitAsync();

        string elsewhere = Path.Combine(_data, "another machine");
        await RunAsync(0, "restore", "--data", elsewhere, file);
        server = await StartAsync("--data", elsewhere);
        Assert.Equal(after, await typist.TextAsync());
        server.Kill();
        await server.WaitForExitAsync();
        Assert.Contains("isn't a whole backup", await RunAsync(1, "restore", "--data", elsewhere, Path.Combine(elsewhere, "folio.db")), StringComparison.Ordinal);
    }

    public void Dispose() => Directory.Delete(_data, true);

    private async Task<Process> StartAsync(params string[] more)
    {
        Process server = Launch([.. (string[])["--port", $"{_address.Port}"], .. more]);
        for (string? line = ""; line is not null; line = await server.StandardOutput.ReadLineAsync())
        {
            if (line.StartsWith("Young Folio is at", StringComparison.Ordinal))
            {
                return server;
            }
        }

        throw new InvalidOperationException(await server.StandardError.ReadToEndAsync());
    }

    private Process Launch(params string[] arguments)
    {
        string[] data = arguments.Contains("--data") ? [] : ["--data", _data];
        return Begin(["--demo", "--demo-folder", Path.Combine(Root(), "demo"), "--web", _data, .. data, .. arguments]);
    }

    private static async Task<string> RunAsync(int code, params string[] arguments)
    {
        using Process tool = Begin(arguments);
        string said = await tool.StandardOutput.ReadToEndAsync() + await tool.StandardError.ReadToEndAsync();
        await tool.WaitForExitAsync();
        Assert.True(tool.ExitCode == code, $"{string.Join(' ', arguments)} ended with {tool.ExitCode} and said: {said}");
        return said;
    }

    private static Process Begin(string[] arguments) =>
        Process.Start(new ProcessStartInfo("dotnet", [Path.Combine(AppContext.BaseDirectory, "YoungFolio.Server.dll"), .. arguments]) { RedirectStandardOutput = true, RedirectStandardError = true })!;

    private static string Root([CallerFilePath] string here = "") => Path.GetFullPath(Path.Combine(Path.GetDirectoryName(here)!, "..", ".."));

    private static int FreePort()
    {
        using var listener = new System.Net.Sockets.TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    private static async Task EventuallyAsync(Func<bool> holds)
    {
        for (int i = 0; i < 1200 && !holds(); i++)
        {
            await Task.Delay(50);
        }

        Assert.True(holds(), "never came");
    }

    /// <summary>A writer with a browser's patience: keeps what isn't acknowledged, and sends it again when the server is back.</summary>
    private sealed class Typist(Uri address, int number)
    {
        public const int Letters = 20;

        private readonly CookieContainer _cookies = new();
        private readonly int _person = 1 + (number % 2);
        private WorkingCopy? _copy;
        private int _part;
        private int _manuscript;

        /// <summary>Each writer has letters of a script of its own.</summary>
        public char FirstLetter => (char)(0x3041 + (number * Letters));

        public string Typed { get; private set; } = "";

        public int Acknowledged => Typed.Length - (_copy?.Unsent.Count ?? 0);

        public int Version => _copy!.Version;

        private HttpClient Http => new(new HttpClientHandler { CookieContainer = _cookies }) { BaseAddress = address };

        public async Task SignInAsync()
        {
            using HttpClient http = Http;
            http.DefaultRequestHeaders.Add("Folio-Guard", (await http.GetFromJsonAsync<JsonElement>("/api/session")).GetProperty("guard").GetString());
            (await http.PostAsJsonAsync("/api/session", new { person = _person })).EnsureSuccessStatusCode();
            _manuscript = (await http.GetFromJsonAsync<JsonElement>("/api/manuscripts"))[0].GetProperty("id").GetInt32();
            _part = (await http.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{_manuscript}")).GetProperty("parts").EnumerateArray().First(p => p.GetProperty("path").GetString() == "chapters/close.tex").GetProperty("id").GetInt32();
            JsonElement text = await http.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{_manuscript}/parts/{_part}");
            _copy = new WorkingCopy($"{_person}:typist {number}", text.GetProperty("version").GetInt32(), text.GetProperty("text").GetString()!);
            _copy.MoveTo(20);
        }

        public async Task<string> TextAsync()
        {
            using HttpClient http = Http;
            return (await http.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{_manuscript}/parts/{_part}")).GetProperty("text").GetString()!;
        }

        /// <summary>What this writer typed of a text.</summary>
        public string Own(string text) => string.Concat(text.Where(c => c >= FirstLetter && c < FirstLetter + Letters));

        public async Task<HubConnection> ConnectAsync()
        {
            HubConnection hub = new HubConnectionBuilder().WithUrl(new Uri(address, "/hub"), o => o.Cookies = _cookies).Build();
            await hub.StartAsync();
            await hub.InvokeAsync("Join", _manuscript);
            return hub;
        }

        public async Task TypeUntilAsync(CancellationToken stop)
        {
            while (!stop.IsCancellationRequested || _copy!.Unsent.Count > 0)
            {
                try
                {
                    await using HubConnection hub = await ConnectAsync();
                    while (!stop.IsCancellationRequested || _copy!.Unsent.Count > 0)
                    {
                        if (!stop.IsCancellationRequested)
                        {
                            TypeLetter();
                        }

                        await SendAsync(hub);
                        await Task.Delay(10, CancellationToken.None);
                    }
                }
                catch (Exception e) when (e is HttpRequestException or InvalidOperationException or IOException or OperationCanceledException or System.Net.WebSockets.WebSocketException)
                {
                    await Task.Delay(50, CancellationToken.None);
                }
            }
        }

        public async Task<string> TypeUntilRefusedAsync()
        {
            await using HubConnection hub = await ConnectAsync();
            return await TypeUntilRefusedAsync(hub);
        }

        public async Task<string> TypeUntilRefusedAsync(HubConnection hub)
        {
            try
            {
                for (int i = 0; i < 20_000; i++)
                {
                    TypeLetter();
                    await SendAsync(hub);
                }
            }
            catch (HubException e)
            {
                return e.Message;
            }

            return "never refused";
        }

        private void TypeLetter()
        {
            char letter = (char)(FirstLetter + (Typed.Length % Letters));
            _copy!.Type(letter.ToString());
            Typed += letter;
        }

        private async Task SendAsync(HubConnection hub)
        {
            int version = await hub.InvokeAsync<int>("Type", _part, _copy!.Version, _copy.Unsent.Select(u => new { clientId = u.ClientId, changes = u.Changes }).ToArray());
            Assert.True(version > _copy.Version);
            _copy.Receive(await hub.InvokeAsync<List<Update>>("Since", _part, _copy.Version));
        }
    }
}
