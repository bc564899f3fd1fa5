using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;
using YoungFolio.Cowriting;

namespace YoungFolio.Tool.Attack;

/// <summary>A writer with a browser's patience: keeps what isn't acknowledged, and sends it again when the server is back.</summary>
public sealed class Typist(Uri address, int number)
{
    /// <summary>How many letters a writer has.</summary>
    public const int Letters = 20;

    private readonly CookieContainer _cookies = new();
    private readonly int _person = 1 + (number % 2);
    private WorkingCopy? _copy;
    private int _file;
    private int _manuscript;

    /// <summary>Each writer has letters of a script of its own.</summary>
    public char FirstLetter => (char)(0x3041 + (number * Letters));

    /// <summary>All that was typed.</summary>
    public string Typed { get; private set; } = "";

    /// <summary>How many letters the server acknowledged.</summary>
    public int Acknowledged => Typed.Length - (_copy?.Unsent.Count ?? 0);

    /// <summary>The version of the text that the writer has.</summary>
    public int Version => _copy!.Version;

    private HttpClient Http => new(new HttpClientHandler { CookieContainer = _cookies }) { BaseAddress = address };

    /// <summary>Signs in and fetches the text.</summary>
    public async Task SignInAsync()
    {
        using HttpClient http = Http;
        http.DefaultRequestHeaders.Add("Folio-Guard", (await http.GetFromJsonAsync<JsonElement>("/api/session")).GetProperty("guard").GetString());
        (await http.PostAsJsonAsync("/api/session", new { person = _person })).EnsureSuccessStatusCode();
        _manuscript = (await http.GetFromJsonAsync<JsonElement>("/api/manuscripts"))[0].GetProperty("id").GetInt32();
        _file = (await http.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{_manuscript}")).GetProperty("files").EnumerateArray().First(p => p.GetProperty("path").GetString() == "chapters/close.tex").GetProperty("id").GetInt32();
        JsonElement text = await http.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{_manuscript}/files/{_file}");
        _copy = new WorkingCopy($"{_person}:typist {number}", text.GetProperty("version").GetInt32(), text.GetProperty("text").GetString()!);
        _copy.MoveTo(20);
    }

    /// <summary>The text as the server has it.</summary>
    public async Task<string> TextAsync()
    {
        using HttpClient http = Http;
        return (await http.GetFromJsonAsync<JsonElement>($"/api/manuscripts/{_manuscript}/files/{_file}")).GetProperty("text").GetString()!;
    }

    /// <summary>What this writer typed of a text.</summary>
    public string Own(string text) => string.Concat(text.Where(c => c >= FirstLetter && c < FirstLetter + Letters));

    /// <summary>Connects and comes in.</summary>
    public async Task<HubConnection> ConnectAsync()
    {
        HubConnection hub = new HubConnectionBuilder().WithUrl(new Uri(address, "/hub"), o => o.Cookies = _cookies).Build();
        await hub.StartAsync();
        await hub.InvokeAsync("Join", _manuscript);
        return hub;
    }

    /// <summary>Types until it is stopped and all of it is acknowledged.</summary>
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

    /// <summary>Types until it is refused; what was said.</summary>
    public async Task<string> TypeUntilRefusedAsync()
    {
        await using HubConnection hub = await ConnectAsync();
        return await TypeUntilRefusedAsync(hub);
    }

    /// <summary>Types over a connection until it is refused; what was said.</summary>
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
        int version = await hub.InvokeAsync<int>("Type", _file, _copy!.Version, _copy.Unsent.Select(u => new { clientId = u.ClientId, changes = u.Changes }).ToArray());
        if (version <= _copy.Version)
        {
            throw new InvalidDataException($"Acknowledged as version {version}, which is no later than {_copy.Version}.");
        }

        _copy.Receive(await hub.InvokeAsync<List<Update>>("Since", _file, _copy.Version));
    }
}
