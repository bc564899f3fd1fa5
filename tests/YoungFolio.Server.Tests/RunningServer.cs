using System.Net;
using System.Net.Http.Json;
using System.Runtime.CompilerServices;
using System.Text.Json;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;
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

    // The demo data are made once; each test has a copy of them.
    private static readonly Lazy<Task<string>> s_template = new(MakeTemplateAsync);

    public async Task InitializeAsync()
    {
        File.Copy(await s_template.Value, Path.Combine(_data, "folio.db"));
        await StartAsync();
    }

    public async Task DisposeAsync()
    {
        // Stopping waits for the compile under way, which reads the database.
        await _app.StopAsync();
        await _app.DisposeAsync();
        Pools.Clear(_data);
        Directory.Delete(_data, true);
    }

    protected virtual ServerOptions Options(ServerOptions options) => options;

    protected async Task StartAsync()
    {
        _app = await FolioServer.CreateAsync(Options(OptionsFor(_data)));
        await _app.StartAsync();
        _address = _app.Urls.First();
    }

    protected static ServerOptions OptionsFor(string data, [CallerFilePath] string here = "")
    {
        string root = Path.GetFullPath(Path.Combine(Path.GetDirectoryName(here)!, "..", ".."));
        return new ServerOptions { Port = 0, Data = data, Demo = true, DemoFolder = Path.Combine(root, "demo"), Web = Path.Combine(root, "web", "dist") };
    }

    private static async Task<string> MakeTemplateAsync()
    {
        string folder = Directory.CreateTempSubdirectory("folio").FullName;
        await using (WebApplication app = await FolioServer.CreateAsync(OptionsFor(folder)))
        {
            await app.StartAsync();
            await app.StopAsync();
        }

        string copy = Path.Combine(folder, "copy.db");
        using (var database = new SqliteConnection($"Data Source={Path.Combine(folder, "folio.db")};Pooling=False"))
        {
            await database.OpenAsync();
            using SqliteCommand vacuum = database.CreateCommand();
            vacuum.CommandText = $"VACUUM INTO '{copy}'";
            await vacuum.ExecuteNonQueryAsync();
        }

        AppDomain.CurrentDomain.ProcessExit += (_, _) => Directory.Delete(folder, true);
        return copy;
    }

    protected async Task RestartAsync()
    {
        await _app.StopAsync();
        await _app.DisposeAsync();
        await StartAsync();
    }

    protected WebApplication Application => _app;

    protected string Address => _address;

    /// <summary>The cookie with which someone is signed in.</summary>
    protected string CookieOf(HttpClient client) => _cookies[client];

    protected HttpClient Client() => new(new HttpClientHandler { UseCookies = true, CookieContainer = new CookieContainer() }) { BaseAddress = new Uri(_address) };

    /// <summary>A client that sends the guard value along, as our page does.</summary>
    protected async Task<HttpClient> PageAsync()
    {
        HttpClient client = Client();
        await RenewGuardAsync(client);
        return client;
    }

    protected async Task<HttpClient> SignInAsync(string name)
    {
        HttpClient client = await PageAsync();
        JsonElement session = await JsonAsync(client, "/api/session");
        int person = session.GetProperty("demoPeople").EnumerateArray().First(p => p.GetProperty("name").GetString() == name).GetProperty("id").GetInt32();
        await KeepCookieAsync(client, await client.PostAsJsonAsync("/api/session", new { person }));
        return client;
    }

    protected async Task<HttpClient> SignUpAsync(string name, string email, string password = "a long password")
    {
        HttpClient client = await PageAsync();
        await KeepCookieAsync(client, await client.PostAsJsonAsync("/api/account", new { name, email, password }));
        return client;
    }

    protected async Task<HubConnection> ListenAsync(HttpClient client, int manuscript)
    {
        HubConnection hub = await ConnectAsync(client);
        await hub.InvokeAsync("Join", manuscript);
        return hub;
    }

    protected async Task<HubConnection> ConnectAsync(HttpClient client)
    {
        // As browsers do: the server lets go of whoever says nothing for 15 seconds, which is how often it would be said otherwise.
        HubConnection hub = new HubConnectionBuilder().WithUrl(_address + "/hub", o => o.Headers["Cookie"] = _cookies[client]).WithKeepAliveInterval(TimeSpan.FromSeconds(4)).Build();
        await hub.StartAsync();
        return hub;
    }

    protected static async Task RenewGuardAsync(HttpClient client)
    {
        string guard = (await JsonAsync(client, "/api/session")).GetProperty("guard").GetString()!;
        client.DefaultRequestHeaders.Remove("Folio-Guard");
        client.DefaultRequestHeaders.Add("Folio-Guard", guard);
    }

    protected static async Task<int> PersonAsync(HttpClient client) => (await JsonAsync(client, "/api/session")).GetProperty("person").GetProperty("id").GetInt32();

    private async Task KeepCookieAsync(HttpClient client, HttpResponseMessage answer)
    {
        answer.EnsureSuccessStatusCode();
        _cookies[client] = answer.Headers.GetValues("Set-Cookie").First(c => c.StartsWith("folio=", StringComparison.Ordinal)).Split(';')[0];
        await RenewGuardAsync(client);
    }

    protected static async Task<(int Manuscript, int File)> MainFileAsync(HttpClient client)
    {
        int manuscript = (await JsonAsync(client, "/api/manuscripts"))[0].GetProperty("id").GetInt32();
        JsonElement view = await JsonAsync(client, $"/api/manuscripts/{manuscript}");
        return (manuscript, view.GetProperty("files").EnumerateArray().First(p => p.GetProperty("path").GetString() == "main.tex").GetProperty("id").GetInt32());
    }

    /// <summary>A part of the running application.</summary>
    protected T The<T>()
        where T : notnull => Application.Services.GetRequiredService<T>();

    /// <summary>Posts something and expects an answer of a kind.</summary>
    protected static Task<JsonElement> SendAsync(HttpClient client, string path, object body, HttpStatusCode expected = HttpStatusCode.OK) => SendAsync(client, HttpMethod.Post, path, body, expected);

    /// <summary>Sends something and expects an answer of a kind.</summary>
    protected static async Task<JsonElement> SendAsync(HttpClient client, HttpMethod method, string path, object body, HttpStatusCode expected = HttpStatusCode.OK)
    {
        using var request = new HttpRequestMessage(method, path) { Content = JsonContent.Create(body) };
        using HttpResponseMessage answer = await client.SendAsync(request);
        string text = await answer.Content.ReadAsStringAsync();
        Assert.True(answer.StatusCode == expected, $"{answer.StatusCode}: {text}");
        return text.Length == 0 ? default : JsonSerializer.Deserialize<JsonElement>(text);
    }

    protected static async Task<JsonElement> JsonAsync(HttpClient client, string path) => await client.GetFromJsonAsync<JsonElement>(path);

    /// <summary>Types into a file over the hub; gives the file's version after it.</summary>
    protected static Task<int> TypeAsync(HubConnection hub, int person, int file, int version, ChangeSet changes, string tab = "tab") =>
        hub.InvokeAsync<int>("Type", file, version, new[] { new { clientId = $"{person}:{tab}", changes } });

    protected static async Task<(string Text, int Version)> TextAsync(HttpClient client, int manuscript, int file)
    {
        JsonElement text = await JsonAsync(client, $"/api/manuscripts/{manuscript}/files/{file}");
        return (text.GetProperty("text").GetString()!, text.GetProperty("version").GetInt32());
    }

    protected static async Task EventuallyAsync(Func<bool> holds)
    {
        for (int i = 0; i < 400 && !holds(); i++)
        {
            await Task.Delay(50);
        }

        Assert.True(holds(), "never came");
    }

    protected static async Task<string> MessageAsync(HttpResponseMessage answer) => (await answer.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("message").GetString()!;
}
