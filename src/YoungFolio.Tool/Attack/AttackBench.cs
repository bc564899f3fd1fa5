using System.Collections.Concurrent;
using System.Diagnostics;
using System.Globalization;
using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.SignalR.Client;
using YoungFolio.Cowriting;

namespace YoungFolio.Tool.Attack;

/// <summary>What someone who types met while others attacked the server.</summary>
/// <param name="Attack">What the others did.</param>
/// <param name="P95">From a keystroke to its acknowledgement, for 95 of 100, in milliseconds.</param>
/// <param name="Worst">The longest of them.</param>
/// <param name="Proof">The longest wait for a proof of what was typed.</param>
/// <param name="Megabytes">The server's largest working set.</param>
/// <param name="Seconds">Its processor time.</param>
internal sealed record AttackResult(string Attack, double P95, double Worst, double Proof, double Megabytes, double Seconds);

/// <summary>A server as a process of its own; one person types, two other accounts attack it from the same machine.</summary>
internal static class AttackBench
{
    private static readonly TimeSpan s_time = TimeSpan.FromSeconds(15);

    /// <summary>All attacks, or those whose names hold some words, one after the other, each on fresh data.</summary>
    public static async Task<IReadOnlyList<AttackResult>> RunAsync(string words)
    {
        var results = new List<AttackResult>();
        foreach ((string name, Func<Attacker, CancellationToken, Task> attack) in new (string, Func<Attacker, CancellationToken, Task>)[]
        {
            ("nothing", (_, stop) => Task.Delay(Timeout.Infinite, stop)),
            ("archives of 2,000 files", (a, stop) => a.BringInAsync(stop)),
            ("1,500 keystrokes at once in 8 million characters", (a, stop) => a.TypeMuchAsync(stop)),
            ("uploads of 45 MB", (a, stop) => a.UploadAsync(stop)),
            ("texts of 15 MB, put in place of one another", (a, stop) => a.ReplaceAsync(stop)),
            ("manuscripts that take all the time they can", (a, stop) => a.CompileAsync(stop)),
            ("wrong passwords", (a, stop) => a.GuessAsync(stop)),
        }.Where(a => a.Item1.Contains(words, StringComparison.Ordinal)))
        {
            AttackResult result = await RunAsync(name, attack);
            results.Add(result);
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{result.Attack}: p95 {result.P95:0} ms, worst {result.Worst:0} ms, longest wait for a proof {result.Proof:0} ms; server {result.Megabytes:0} MB, {result.Seconds:0.0} s of processor time"));
        }

        return results;
    }

    private static async Task<AttackResult> RunAsync(string name, Func<Attacker, CancellationToken, Task> attack)
    {
        await using var server = new ServerProcess();
        await server.StartAsync();
        using var victim = new Client(server.Address);
        await victim.SignInAsync(1);
        Attacker[] attackers = [new(server.Address, 1), new(server.Address, 2)];
        foreach (Attacker attacker in attackers)
        {
            await attacker.SignUpAsync();
        }

        await Task.Delay(3000);
        TimeSpan used = server.Running!.TotalProcessorTime;
        using var stop = new CancellationTokenSource(s_time);
        Task[] attacks = [.. attackers.Select(a => Task.Run(() => GoOnAsync(a, attack, stop.Token)))];
        (double[] delays, double proof) = await victim.TypeAsync(stop.Token);
        await Task.WhenAll(attacks);
        server.Running.Refresh();
        double[] sorted = [.. delays.Order()];
        return new AttackResult(name, sorted.Length == 0 ? double.NaN : sorted[(int)(0.95 * (sorted.Length - 1))], sorted.LastOrDefault(double.NaN), proof,
            server.Running.PeakWorkingSet64 / 1e6, (server.Running.TotalProcessorTime - used).TotalSeconds);
    }

    private static async Task GoOnAsync(Attacker attacker, Func<Attacker, CancellationToken, Task> attack, CancellationToken stop)
    {
        while (!stop.IsCancellationRequested)
        {
            try
            {
                await attack(attacker, stop);
            }
            catch (Exception e) when (e is OperationCanceledException or HttpRequestException or IOException or InvalidOperationException or Microsoft.AspNetCore.SignalR.HubException)
            {
                // Refused, or the time is over: the next one.
                await Task.Delay(20, CancellationToken.None);
            }
        }
    }

    /// <summary>Someone at a browser.</summary>
    private class Client(Uri address) : IDisposable
    {
        private readonly CookieContainer _cookies = new();
        private HttpClient? _http;

        protected HttpClient Http => _http ??= new HttpClient(new HttpClientHandler { CookieContainer = _cookies }) { BaseAddress = address, Timeout = TimeSpan.FromMinutes(5) };

        public async Task SignInAsync(int person)
        {
            await GuardAsync();
            (await Http.PostAsJsonAsync("/api/session", new { person })).EnsureSuccessStatusCode();
            await GuardAsync();
        }

        protected async Task GuardAsync()
        {
            Http.DefaultRequestHeaders.Remove("Folio-Guard");
            Http.DefaultRequestHeaders.Add("Folio-Guard", (await Http.GetFromJsonAsync<JsonElement>("/api/session")).GetProperty("guard").GetString());
        }

        protected async Task<(int Manuscript, int File)> StartAsync(string? text = null)
        {
            int manuscript = await (await Http.PostAsJsonAsync("/api/manuscripts", new { title = "Own", kind = "article" })).Content.ReadFromJsonAsync<int>();
            if (text is not null)
            {
                (await Http.PutAsync($"/api/manuscripts/{manuscript}/files?path=main.tex&replace=true", new StringContent(text))).EnsureSuccessStatusCode();
            }

            return (manuscript, (await Http.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{manuscript}")).GetProperty("files").EnumerateArray().First(p => p.GetProperty("path").GetString() == "main.tex").GetProperty("id").GetInt32());
        }

        protected async Task<HubConnection> ConnectAsync(int manuscript)
        {
            HubConnection hub = new HubConnectionBuilder().WithUrl(new Uri(address, "/hub"), o => o.Cookies = _cookies).Build();
            await hub.StartAsync();
            await hub.InvokeAsync<JsonElement>("Join", manuscript);
            return hub;
        }

        /// <summary>Types ten letters a second; how long each took to be acknowledged, and the longest wait for a proof.</summary>
        public async Task<(double[] Delays, double Proof)> TypeAsync(CancellationToken stop)
        {
            (int manuscript, int file) = await StartAsync();
            JsonElement text = await Http.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{manuscript}/files/{file}", CancellationToken.None);
            int length = text.GetProperty("text").GetString()!.Length;
            int at = text.GetProperty("text").GetString()!.IndexOf("Begin to write", StringComparison.Ordinal);
            int version = text.GetProperty("version").GetInt32();
            await using HubConnection hub = await ConnectAsync(manuscript);
            var delays = new ConcurrentBag<double>();
            double longest = 0;
            long asked = Stopwatch.GetTimestamp();
            bool waits = true;
            hub.On<System.Text.Json.JsonElement>("proof", _ =>
            {
                longest = waits ? Math.Max(longest, Stopwatch.GetElapsedTime(asked).TotalMilliseconds) : longest;
                waits = false;
            });
            while (!stop.IsCancellationRequested)
            {
                if (!waits)
                {
                    (asked, waits) = (Stopwatch.GetTimestamp(), true);
                }

                long start = Stopwatch.GetTimestamp();
                version = await hub.InvokeAsync<int>("Type", file, version, new[] { new { clientId = "1:victim", changes = ChangeSet.Replace(length, at, at, "k") } }, CancellationToken.None);
                length++;
                delays.Add(Stopwatch.GetElapsedTime(start).TotalMilliseconds);
                await Task.Delay(100, CancellationToken.None);
            }

            longest = waits ? Math.Max(longest, Stopwatch.GetElapsedTime(asked).TotalMilliseconds) : longest;
            return ([.. delays], longest);
        }

        public void Dispose() => _http?.Dispose();
    }

    /// <summary>Someone with a script.</summary>
    private sealed class Attacker(Uri address, int number) : Client(address)
    {
        private static readonly Lazy<byte[]> s_zip = new(MakeZip);
        private int _person;
        private (int Manuscript, int File, HubConnection Hub)? _large;
        private int _version;
        private int _round;

        public async Task SignUpAsync()
        {
            await GuardAsync();
            using HttpResponseMessage made = await Http.PostAsJsonAsync("/api/account", new { name = $"Attacker {number}", email = $"attacker{number}@moor.example", password = "gates and gravel" });
            made.EnsureSuccessStatusCode();
            _person = (await made.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetInt32();
            await GuardAsync();
        }

        public async Task BringInAsync(CancellationToken stop) =>
            (await Http.PostAsync("/api/manuscripts/zip?title=Many", new ByteArrayContent(s_zip.Value), stop)).Dispose();

        public async Task TypeMuchAsync(CancellationToken stop)
        {
            const int Length = 8_000_000;
            const int Keys = 1500;
            if (_large is null)
            {
                _large = await OwnAsync(new string('%', Length));
                (int manuscript, int file, _) = _large.Value;
                _version = (await Http.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{manuscript}/files/{file}", stop)).GetProperty("version").GetInt32();
            }

            int length = Length + (_round++ * Keys);
            object[] updates = [.. Enumerable.Range(0, Keys).Select(i => new { clientId = $"{_person}:much", changes = ChangeSet.Replace(length + i, i * 5000, i * 5000, "k") })];
            _version = await _large.Value.Hub.InvokeAsync<int>("Type", _large.Value.File, _version, updates, stop);
        }

        public async Task UploadAsync(CancellationToken stop)
        {
            (int manuscript, _) = await StartAsync();
            byte[] bytes = new byte[45 * 1024 * 1024];
            new Random(_round++).NextBytes(bytes.AsSpan(0, 1000));
            (await Http.PutAsync($"/api/manuscripts/{manuscript}/files?path=data/a.dat", new ByteArrayContent(bytes), stop)).Dispose();
        }

        public async Task ReplaceAsync(CancellationToken stop)
        {
            _large ??= await OwnAsync();
            using var text = new StringContent(string.Concat(Enumerable.Repeat($"% words of round {_round++}\n", 15_000_000 / 20)));
            (await Http.PutAsync($"/api/manuscripts/{_large.Value.Manuscript}/files?path=large.tex&replace=true", text, stop)).Dispose();
        }

        public async Task CompileAsync(CancellationToken stop)
        {
            string[] kinds = ["100,000 headings", "boxes that double", "a formula of a million letters", "20,000 floats", "100,000 labels with references"];
            string name = kinds[(_round++ + number) % kinds.Length];
            string text = HostileManuscripts.All.Single(m => m.Name == name).Make().Find("main.tex")!.Text;
            (int manuscript, _) = await StartAsync(text);
            (await Http.GetAsync($"/api/manuscripts/{manuscript}/proof", stop)).Dispose();
        }

        public async Task GuessAsync(CancellationToken stop) =>
            (await Http.PostAsJsonAsync("/api/session", new { email = "ilse.marrable@hollin-edge.example", password = $"guess number {_round++}" }, stop)).Dispose();

        private async Task<(int Manuscript, int File, HubConnection Hub)> OwnAsync(string? text = null)
        {
            (int manuscript, int file) = await StartAsync(text);
            return (manuscript, file, await ConnectAsync(manuscript));
        }

        private static byte[] MakeZip()
        {
            using var result = new MemoryStream();
            using (var archive = new ZipArchive(result, ZipArchiveMode.Create, true))
            {
                for (int i = 0; i < 2000; i++)
                {
                    using Stream content = archive.CreateEntry(i == 0 ? "main.tex" : $"f/{i}.tex").Open();
                    content.Write(Encoding.UTF8.GetBytes(i == 0 ? "\\documentclass{article}\\begin{document}x\\end{document}" : $"file {i}"));
                }
            }

            return result.ToArray();
        }
    }
}
