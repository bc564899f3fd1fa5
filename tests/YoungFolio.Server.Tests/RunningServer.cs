using System.Net;
using System.Net.Http.Json;
using System.Runtime.CompilerServices;
using System.Text.Json;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Data.Sqlite;
using YoungFolio.Cowriting;

namespace YoungFolio.Server.Tests;

/// <summary>A server with the demo data in a folder of its own, and people signed in to it.</summary>
public abstract class RunningServer : IAsyncLifetime
{
    private readonly string _data = Directory.CreateTempSubdirectory("folio").FullName;
    private readonly Dictionary<HttpClient, string> _cookies = [];
    private WebApplication _app = null!;
    private string _address = "";

    protected string DataFolder => _data;

    public async Task InitializeAsync() => await StartAsync();

    public async Task DisposeAsync()
    {
        // Stopping waits for the compile under way, which reads the database.
        await _app.StopAsync();
        await _app.DisposeAsync();
        SqliteConnection.ClearAllPools();
        Directory.Delete(_data, true);
    }

    protected async Task StartAsync([CallerFilePath] string here = "")
    {
        string root = Path.GetFullPath(Path.Combine(Path.GetDirectoryName(here)!, "..", ".."));
        _app = await FolioServer.CreateAsync(new ServerOptions { Port = 0, Data = _data, Demo = true, DemoFolder = Path.Combine(root, "demo"), Web = Path.Combine(root, "web", "dist") });
        await _app.StartAsync();
        _address = _app.Urls.First();
    }

    protected async Task RestartAsync()
    {
        await _app.StopAsync();
        await _app.DisposeAsync();
        await StartAsync();
    }

    protected HttpClient Client() => new(new HttpClientHandler { CookieContainer = new CookieContainer() }) { BaseAddress = new Uri(_address) };

    protected async Task<HttpClient> SignInAsync(string name)
    {
        HttpClient client = Client();
        JsonElement session = await JsonAsync(client, "/api/session");
        int person = session.GetProperty("demoPeople").EnumerateArray().First(p => p.GetProperty("name").GetString() == name).GetProperty("id").GetInt32();
        HttpResponseMessage answer = await client.PostAsJsonAsync("/api/session", new { person });
        answer.EnsureSuccessStatusCode();
        _cookies[client] = answer.Headers.GetValues("Set-Cookie").First().Split(';')[0];
        return client;
    }

    protected async Task<HubConnection> ListenAsync(HttpClient client, int manuscript)
    {
        HubConnection hub = new HubConnectionBuilder().WithUrl(_address + "/hub", o => o.Headers["Cookie"] = _cookies[client]).Build();
        await hub.StartAsync();
        await hub.InvokeAsync("Join", manuscript);
        return hub;
    }

    protected static async Task<(int Manuscript, int Part)> MainPartAsync(HttpClient client)
    {
        int manuscript = (await JsonAsync(client, "/api/manuscripts"))[0].GetProperty("id").GetInt32();
        JsonElement view = await JsonAsync(client, $"/api/manuscripts/{manuscript}");
        return (manuscript, view.GetProperty("parts").EnumerateArray().First(p => p.GetProperty("path").GetString() == "main.tex").GetProperty("id").GetInt32());
    }

    protected static async Task<JsonElement> JsonAsync(HttpClient client, string path) => await client.GetFromJsonAsync<JsonElement>(path);

    protected static async Task<JsonElement> SendAsync(HttpClient client, int manuscript, int part, int version, ChangeSet changes)
    {
        HttpResponseMessage answer = await client.PostAsJsonAsync($"/api/manuscripts/{manuscript}/parts/{part}/updates",
            new { version, updates = new[] { new { clientId = "tab", changes = JsonDocument.Parse(changes.ToJson()).RootElement } } });
        return await answer.Content.ReadFromJsonAsync<JsonElement>();
    }
}
