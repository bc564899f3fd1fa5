using System.Collections.Concurrent;
using System.Diagnostics;
using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.SignalR.Client;
using YoungFolio.Cowriting;
using YoungFolio.Tool.Attack;

namespace YoungFolio.Tool;

/// <summary>What a number of writers on one text measured.</summary>
/// <param name="Writers">How many wrote.</param>
/// <param name="Keystrokes">How many characters they typed.</param>
/// <param name="Median">From a keystroke to another writer's text, in milliseconds.</param>
/// <param name="P95">The same, for 95 of 100 keystrokes.</param>
/// <param name="PeakMegabytes">The server's peak memory.</param>
/// <param name="Proofs">Proofs that were made meanwhile.</param>
/// <param name="HasConverged">Whether all had the server's text in the end.</param>
internal sealed record WritingResult(int Writers, int Keystrokes, double Median, double P95, double PeakMegabytes, int Proofs, bool HasConverged);

/// <summary>Writers of one text on a running server, over the real hub on loopback: five characters a second each.</summary>
internal static class WritingBench
{
    private static readonly TimeSpan s_keystroke = TimeSpan.FromMilliseconds(200);

    // Browsers don't wait (docs/performance.md); so many writers in one process would.
    private static readonly TimeSpan s_sendAfter = TimeSpan.FromMilliseconds(30);

    /// <summary>Runs it; the server is a process of its own with fresh data.</summary>
    public static async Task<WritingResult> RunAsync(int count, TimeSpan time)
    {
        await using var server = new ServerProcess();
        await server.StartAsync();
        return await WriteAsync(server.Address, server.Running!, count, time);
    }

    private static async Task<WritingResult> WriteAsync(Uri address, Process server, int count, TimeSpan time)
    {
        var cookies = new CookieContainer();
        using var http = new HttpClient(new HttpClientHandler { CookieContainer = cookies }) { BaseAddress = address };
        await GuardAsync(http);
        (await http.PostAsJsonAsync("/api/session", new { person = 1 })).EnsureSuccessStatusCode();
        await GuardAsync(http);
        int manuscript = await (await http.PostAsJsonAsync("/api/manuscripts", new { title = "Many hands", kind = "report" })).Content.ReadFromJsonAsync<int>();
        int file = (await http.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{manuscript}")).GetProperty("files")[0].GetProperty("id").GetInt32();
        JsonElement first = await http.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{manuscript}/files/{file}");
        var beginning = new WorkingCopy("1:first", first.GetProperty("version").GetInt32(), first.GetProperty("text").GetString()!);
        beginning.MoveTo(beginning.Text.IndexOf("Begin to write", StringComparison.Ordinal));
        beginning.Type(Chapters(count));
        await using (HubConnection hub = await ConnectAsync(address, cookies, manuscript))
        {
            await hub.InvokeAsync<int>("Type", file, beginning.Version, beginning.Unsent);
        }

        var typedAt = new ConcurrentDictionary<string, ConcurrentQueue<long>>();
        var delays = new ConcurrentBag<double>();
        Writer[] writers = [.. Enumerable.Range(0, count).Select(i => new Writer(i, count, beginning.Text, beginning.Version + 1, file, typedAt, delays))];
        foreach (Writer writer in writers)
        {
            await writer.ComeInAsync(await ConnectAsync(address, cookies, manuscript));
        }

        int proofs = 0;
        writers[0].Hub.On<System.Text.Json.JsonElement>("proof", _ => Interlocked.Increment(ref proofs));
        using var stop = new CancellationTokenSource(time);
        await Task.WhenAll(writers.Select(w => w.WriteAsync(stop.Token)));
        string text = "";
        bool hasConverged = false;
        for (int i = 0; i < 100 && !hasConverged; i++)
        {
            await Task.Delay(100);
            text = (await http.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{manuscript}/files/{file}")).GetProperty("text").GetString()!;
            hasConverged = writers.All(w => w.Text == text);
        }

        server.Refresh();
        double peak = server.PeakWorkingSet64 / 1e6;
        foreach (Writer writer in writers)
        {
            await writer.Hub.DisposeAsync();
        }

        double[] sorted = [.. delays.Order()];
        int typed = writers.Sum(w => w.Typed);
        return new WritingResult(count, typed, At(sorted, 0.5), At(sorted, 0.95), peak, proofs, hasConverged && text.Length == beginning.Text.Length + typed);
    }

    private static double At(double[] sorted, double share) => sorted.Length == 0 ? double.NaN : sorted[(int)(share * (sorted.Length - 1))];

    private static string Chapters(int writers)
    {
        var text = new StringBuilder();
        for (int i = 0; i < writers; i++)
        {
            text.Append(CultureInfo.InvariantCulture, $"\n\\section{{Of hand {i}}}\n").Insert(text.Length, "The wall was measured twice by two people, and the larger figure kept. ", 8).Append(CultureInfo.InvariantCulture, $"\nHere writes {i}: \n");
        }

        return text.ToString();
    }

    private static async Task GuardAsync(HttpClient http)
    {
        http.DefaultRequestHeaders.Remove("Folio-Guard");
        http.DefaultRequestHeaders.Add("Folio-Guard", (await http.GetFromJsonAsync<JsonElement>("/api/session")).GetProperty("guard").GetString());
    }

    private static async Task<HubConnection> ConnectAsync(Uri address, CookieContainer cookies, int manuscript)
    {
        HubConnection hub = new HubConnectionBuilder().WithUrl(new Uri(address, "/hub"), o => o.Cookies = cookies).Build();
        await hub.StartAsync();
        await hub.InvokeAsync<JsonElement>("Join", manuscript);
        return hub;
    }

    /// <summary>One writer. Each also watches the one before: when its words come, and how long they took.</summary>
    private sealed class Writer(int number, int count, string text, int version, int file, ConcurrentDictionary<string, ConcurrentQueue<long>> typedAt, ConcurrentBag<double> delays)
    {
        private readonly Lock _lock = new();
        private readonly WorkingCopy _copy = new($"1:writer {number}", version, text);
        private readonly string _watched = $"1:writer {(number + count - 1) % count}";
        private readonly SortedDictionary<int, List<Update>> _early = [];

        public HubConnection Hub { get; private set; } = null!;

        public int Typed { get; private set; }

        public string Text
        {
            get
            {
                lock (_lock)
                {
                    return _copy.Text;
                }
            }
        }

        public Task ComeInAsync(HubConnection hub)
        {
            Hub = hub;
            string place = string.Create(CultureInfo.InvariantCulture, $"Here writes {number}: ");
            _copy.MoveTo(text.IndexOf(place, StringComparison.Ordinal) + place.Length);
            typedAt[$"1:writer {number}"] = new();
            hub.On<int, int, List<Update>>("updates", (_, after, updates) => Hear(after, updates));
            return Task.CompletedTask;
        }

        public async Task WriteAsync(CancellationToken stop)
        {
            // Not all strike at the same moment.
            await Task.Delay(s_keystroke / count * number, CancellationToken.None);
            Task sending = Task.CompletedTask;
            var clock = Stopwatch.StartNew();
            for (int i = 1; !stop.IsCancellationRequested; i++)
            {
                lock (_lock)
                {
                    typedAt[$"1:writer {number}"].Enqueue(Stopwatch.GetTimestamp());
                    _copy.Type(i % 6 == 0 ? " " : ((char)('a' + (i % 26))).ToString());
                    Typed++;
                }

                if (sending.IsCompleted)
                {
                    sending = SendAsync();
                }

                TimeSpan rest = (s_keystroke * i) - clock.Elapsed;
                if (rest > TimeSpan.Zero)
                {
                    await Task.Delay(rest, CancellationToken.None);
                }
            }

            await sending;
            await SendAsync();
        }

        private async Task SendAsync()
        {
            await Task.Delay(s_sendAfter);
            while (true)
            {
                (int at, Update[] updates) = Waiting();
                if (updates.Length == 0)
                {
                    return;
                }

                int after = await Hub.InvokeAsync<int>("Type", file, at, updates);
                for (int i = 0; i < 1000 && Version() < after; i++)
                {
                    await Task.Delay(5);
                }
            }
        }

        private (int Version, Update[] Updates) Waiting()
        {
            lock (_lock)
            {
                return (_copy.Version, [.. _copy.Unsent]);
            }
        }

        private int Version()
        {
            lock (_lock)
            {
                return _copy.Version;
            }
        }

        private void Hear(int after, List<Update> updates)
        {
            lock (_lock)
            {
                _early[after] = updates;
                while (_early.Count > 0 && _early.First() is var (next, waiting) && next - waiting.Count == _copy.Version)
                {
                    _early.Remove(next);
                    _copy.Receive(waiting);
                    foreach (Update _ in waiting.Where(u => u.ClientId == _watched))
                    {
                        if (count > 1 && typedAt[_watched].TryDequeue(out long typed))
                        {
                            delays.Add(Stopwatch.GetElapsedTime(typed).TotalMilliseconds);
                        }
                    }
                }
            }
        }
    }
}
