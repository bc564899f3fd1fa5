using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Reflection;
using System.Text.Json;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Routing;
using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Extensions.DependencyInjection;
using YoungFolio.Server.Live;

namespace YoungFolio.Server.Tests;

/// <summary>All routes and all calls of the hub, with every role: the table here says who may. A route that isn't in it fails the test.</summary>
public sealed class RightsTests : RunningServer
{
    private static readonly string[] s_roles = ["nobody", "stranger", "reader", "reviewer", "author", "owner", "script"];

    // Letters: s anyone signed in, S scripts too, r readers and up, v reviewers and up, a authors and up, o the owner; * everyone; a "+" lets scripts in too.
    private static readonly Dictionary<string, string> s_routes = new()
    {
        ["GET /api/session"] = "*",
        ["POST /api/session"] = "*",
        ["DELETE /api/session"] = "*",
        ["POST /api/account"] = "*",
        ["PUT /api/account"] = "s",
        ["PUT /api/account/letter"] = "s",
        ["POST /api/account/password"] = "s",
        ["GET /health"] = "*",
        ["GET /openapi/v1.json"] = "*",
        ["GET /stand-ins/catalogue"] = "S",
        ["GET /api/fonts/{key}"] = "s",
        ["GET /api/markup"] = "s",
        ["POST /api/making/table"] = "s",
        ["POST /api/making/cells"] = "s",
        ["POST /api/making/table/source"] = "s",
        ["POST /api/manuscripts/{id}/formula"] = "r",
        ["GET /api/manuscripts"] = "s",
        ["POST /api/manuscripts"] = "s",
        ["GET /api/templates"] = "s",
        ["GET /api/templates/{name}/page"] = "s",
        ["POST /api/templates/look"] = "s",
        ["POST /api/manuscripts/zip"] = "s",
        ["POST /api/manuscripts/{away}/back"] = "o",
        ["GET /api/outbox"] = "s",
        ["GET /api/invitations/{secret}"] = "s",
        ["POST /api/invitations/{secret}"] = "s",
        ["GET /api/manuscripts/{id}"] = "r+",
        ["PATCH /api/manuscripts/{id}"] = "a",
        ["DELETE /api/manuscripts/{id}"] = "o",
        ["GET /api/manuscripts/{id}/zip"] = "r",
        ["GET /api/manuscripts/{id}/people"] = "r",
        ["PUT /api/manuscripts/{id}/people/{person}"] = "o",
        ["DELETE /api/manuscripts/{id}/people/{person}"] = "o",
        ["POST /api/manuscripts/{id}/people/{person}/owner"] = "o",
        ["POST /api/manuscripts/{id}/leave"] = "r",
        ["POST /api/manuscripts/{id}/invitations"] = "o",
        ["DELETE /api/manuscripts/{id}/invitations/{invitation}"] = "o",
        ["POST /api/manuscripts/{id}/invitations/{invitation}/let-in"] = "o",
        ["GET /api/manuscripts/{id}/tokens"] = "a",
        ["POST /api/manuscripts/{id}/tokens"] = "a",
        ["DELETE /api/manuscripts/{id}/tokens/{token}"] = "a",
        ["GET /api/manuscripts/{id}/files/{file}"] = "r",
        ["GET /api/manuscripts/{id}/files/{file}/content"] = "r+",
        ["GET /api/manuscripts/{id}/files/deleted"] = "r",
        ["POST /api/manuscripts/{id}/files/{file}/back"] = "a",
        ["POST /api/manuscripts/{id}/files"] = "a",
        ["PUT /api/manuscripts/{id}/files"] = "a+",
        ["POST /api/manuscripts/{id}/files/{file}/name"] = "a",
        ["DELETE /api/manuscripts/{id}/files/{file}"] = "a",
        ["GET /api/manuscripts/{id}/proof"] = "r+",
        ["GET /api/manuscripts/{id}/proof/pdf"] = "r",
        ["GET /api/manuscripts/{id}/proof/first-page"] = "r",
        ["GET /api/manuscripts/{id}/proof/sheets/{digest}"] = "r",
        ["GET /api/manuscripts/{id}/proof/pictures/{digest}"] = "r",
        ["GET /api/manuscripts/{id}/revisions"] = "r",
        ["GET /api/manuscripts/{id}/revisions/{number}/files/{file}"] = "r",
        ["GET /api/manuscripts/{id}/news"] = "r",
        ["POST /api/manuscripts/{id}/seen"] = "r",
        ["GET /api/manuscripts/{id}/sources"] = "r",
        ["GET /api/manuscripts/{id}/sources/entry"] = "r",
        ["GET /api/manuscripts/{id}/sources/export"] = "r",
        ["GET /api/manuscripts/{id}/sources/styles"] = "r",
        ["GET /api/manuscripts/{id}/sources/lookup"] = "r",
        ["POST /api/manuscripts/{id}/sources/look"] = "r",
        ["POST /api/manuscripts/{id}/sources/change"] = "a",
        ["POST /api/manuscripts/{id}/sections/look"] = "a",
        ["POST /api/manuscripts/{id}/sections/move"] = "a",
        ["POST /api/manuscripts/{id}/sections/split"] = "a",
        ["GET /api/manuscripts/{id}/set-up"] = "r",
        ["POST /api/manuscripts/{id}/archive"] = "r",
        ["GET /api/manuscripts/{id}/cross-references"] = "r",
        ["POST /api/manuscripts/{id}/set-up"] = "a",
        ["POST /api/manuscripts/{id}/set-up/packages"] = "a",
        ["POST /api/manuscripts/{id}/set-up/saved"] = "a",
        ["GET /api/manuscripts/{id}/set-up/saved/{saved}"] = "r",
        ["POST /api/manuscripts/{id}/set-up/saved/{saved}"] = "a",
        ["DELETE /api/manuscripts/{id}/arrival"] = "a",
        ["GET /api/manuscripts/{id}/chronicle"] = "r",
        ["GET /api/manuscripts/{id}/chronicle/words"] = "r",
        ["POST /api/manuscripts/{id}/pins"] = "a",
        ["PATCH /api/manuscripts/{id}/pins/{pin}"] = "a",
        ["DELETE /api/manuscripts/{id}/pins/{pin}"] = "a",
        ["GET /api/manuscripts/{id}/pins/{pin}/pdf"] = "r",
        ["GET /api/manuscripts/{id}/history"] = "r",
        ["GET /api/manuscripts/{id}/talk"] = "r",
        ["POST /api/manuscripts/{id}/talk"] = "v",
        ["POST /api/manuscripts/{id}/talk/seen"] = "r",
        ["DELETE /api/manuscripts/{id}/talk/{message}"] = "v",
        ["GET /api/manuscripts/{id}/notes"] = "r",
        ["GET /api/manuscripts/{id}/notes/typed"] = "r",
        ["POST /api/manuscripts/{id}/notes/typed"] = "a",
        ["POST /api/manuscripts/{id}/notes/{note}/typed"] = "a",
        ["POST /api/manuscripts/{id}/notes"] = "v",
        ["PATCH /api/manuscripts/{id}/notes/{note}"] = "v",
        ["DELETE /api/manuscripts/{id}/notes/{note}"] = "v",
        ["POST /api/manuscripts/{id}/notes/decided"] = "a",
        ["GET /api/manuscripts/{id}/notes/out.csv"] = "r",
        ["GET /api/manuscripts/{id}/notes/out.pdf"] = "r",
        ["GET /api/manuscripts/{id}/notes/print"] = "r",
        ["GET /api/manuscripts/{id}/notes/print/pdf"] = "r",
        ["POST /api/manuscripts/{id}/notes/{note}/replies"] = "v",
        ["POST /api/manuscripts/{id}/notes/{note}/settled"] = "v",
        ["GET /api/manuscripts/{id}/compare"] = "r",
        ["GET /api/manuscripts/{id}/compare/print"] = "r",
        ["GET /api/manuscripts/{id}/compare/print/pdf"] = "r",
        ["POST /api/manuscripts/{id}/restore"] = "a",
        ["GET /api/manuscripts/{id}/files/{file}/authors"] = "r",
        ["GET /api/set-ups"] = "s",
        ["GET /api/rules"] = "s",
        ["POST /api/rules"] = "s",
        ["DELETE /api/rules/{saved}"] = "s",
        ["GET /api/manuscripts/{id}/hand-in"] = "r",
        ["PUT /api/manuscripts/{id}/hand-in/rules"] = "a",
        ["POST /api/manuscripts/{id}/hand-in/picture-words"] = "a",
        ["GET /api/manuscripts/{id}/hand-in/pdf"] = "r",
        ["GET /api/manuscripts/{id}/hand-in/names-left"] = "r",
        ["GET /api/manuscripts/{id}/hand-in/obstacles"] = "r",
        ["GET /api/manuscripts/{id}/hand-in/forms/{form}"] = "r",
        ["GET /api/manuscripts/{id}/hand-in/sources"] = "r",
        ["GET /api/manuscripts/{id}/hand-in/sources/zip"] = "r",
        ["POST /api/manuscripts/{id}/hand-in"] = "a",
        ["GET /api/manuscripts/{id}/handed-in/{handed}/files/{file}"] = "r",
        ["GET /api/outbox/{letter}/files/{file}"] = "s",
        ["DELETE /api/set-ups/{saved}"] = "s",
        ["POST /api/manuscripts/{id}/sections/fold"] = "a",
        ["GET /api/manuscripts/{id}/spelling/files/{file}"] = "r",
        ["GET /api/manuscripts/{id}/spelling/suggestions"] = "r",
        ["GET /api/manuscripts/{id}/spelling/words"] = "r",
        ["POST /api/manuscripts/{id}/spelling/words"] = "a",
        ["POST /api/manuscripts/{id}/spelling/words/forget"] = "a",
        ["GET /api/manuscripts/{id}/writing"] = "r",
        ["POST /api/manuscripts/{id}/writing/goal"] = "a",
        ["POST /api/manuscripts/{id}/writing/left"] = "a",
        ["DELETE /api/manuscripts/{id}/writing/left/{finding}"] = "a",
        ["POST /api/manuscripts/{id}/texts/find"] = "r",
        ["POST /api/manuscripts/{id}/texts/replace"] = "a",
        ["POST /api/manuscripts/{id}/texts/uses"] = "r",
        ["POST /api/manuscripts/{id}/texts/rename"] = "a",
        ["POST /api/manuscripts/{id}/texts/undo"] = "a",
    };

    private static readonly Dictionary<string, string> s_calls = new() { ["Join"] = "r", ["Here"] = "r", ["Since"] = "r", ["Type"] = "a" };

    [Fact]
    public async Task Every_route_lets_in_whom_the_table_says_and_nobody_else()
    {
        using HttpClient owner = await SignInAsync("Ilse Marrable");
        (int manuscript, int file) = await MainFileAsync(owner);
        Dictionary<string, HttpClient> clients = await ClientsAsync(owner, manuscript);
        string[] routes = [.. Application.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>()
            .SelectMany(e => (e.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods ?? []).Select(m => $"{m} {Plain(e.RoutePattern.RawText!)}"))
            .Where(r => !r.Contains("/hub", StringComparison.Ordinal)).Distinct().Order(StringComparer.Ordinal)];
        Assert.Equal(s_routes.Keys.Order(StringComparer.Ordinal), routes);
        var wrong = new List<string>();
        foreach (string route in routes)
        {
            // What ends a manuscript, a membership or a session for real is asked with something that isn't there.
            string path = route[(route.IndexOf(' ', StringComparison.Ordinal) + 1)..].Replace("{id}", $"{manuscript}", StringComparison.Ordinal).Replace("{away}", $"{manuscript}", StringComparison.Ordinal)
                .Replace("{file}", $"{file}", StringComparison.Ordinal);
            path = System.Text.RegularExpressions.Regex.Replace(path, @"\{\w+\}", "999999");
            foreach (string role in s_roles)
            {
                bool may = May(s_routes[route], role);
                if (may && route is "DELETE /api/manuscripts/{id}" or "DELETE /api/session" or "POST /api/manuscripts/{id}/leave" or "DELETE /api/manuscripts/{id}/files/{file}")
                {
                    continue;
                }

                using var request = new HttpRequestMessage(new HttpMethod(route.Split(' ')[0]), path) { Content = route.EndsWith("/undo", StringComparison.Ordinal) ? JsonContent.Create(Array.Empty<int>()) : JsonContent.Create(new { }) };
                HttpResponseMessage answer = await clients[role].SendAsync(request);
                bool refused = answer.StatusCode is HttpStatusCode.Unauthorized or HttpStatusCode.Forbidden
                    || (answer.StatusCode == HttpStatusCode.NotFound && (await answer.Content.ReadAsStringAsync()).Contains("no such manuscript on your shelf", StringComparison.Ordinal));
                // An empty sign-in is refused for what it says, not for who asks; and a script may put data only.
                refused &= route is not ("POST /api/session" or "POST /api/account") && !(role == "script" && (await answer.Content.ReadAsStringAsync()).Contains("A token ", StringComparison.Ordinal));
                if (refused == may || answer.StatusCode == HttpStatusCode.InternalServerError)
                {
                    wrong.Add($"{role}: {route}: {(int)answer.StatusCode}");
                }
            }
        }

        Assert.True(wrong.Count == 0, string.Join('\n', wrong));
    }

    [Fact]
    public async Task Every_call_of_the_hub_lets_in_whom_the_table_says_and_nobody_else()
    {
        Assert.Equal(s_calls.Keys.Order(), typeof(ManuscriptHub).GetMethods(BindingFlags.Public | BindingFlags.Instance | BindingFlags.DeclaredOnly).Select(m => m.Name).Where(n => n is not ("OnDisconnectedAsync" or "OnConnectedAsync")).Order());
        using HttpClient owner = await SignInAsync("Ilse Marrable");
        (int manuscript, int file) = await MainFileAsync(owner);
        Dictionary<string, HttpClient> clients = await ClientsAsync(owner, manuscript);
        foreach (string role in (string[])["nobody", "script"])
        {
            Assert.Equal(HttpStatusCode.Unauthorized, (await clients[role].PostAsync("/hub/negotiate?negotiateVersion=1", null)).StatusCode);
        }

        foreach (string role in s_roles.Except(["nobody", "script"]))
        {
            await using HubConnection hub = await ConnectAsync(clients[role]);
            int person = await PersonAsync(clients[role]);
            foreach ((string call, object[] arguments) in new (string, object[])[]
            {
                ("Join", [manuscript]),
                ("Here", [new { clientId = $"{person}:t", file, version = 0, anchor = 0, head = 0, line = 1 }]),
                ("Since", [file, 0]),
                ("Type", [file, 0, new[] { new { clientId = $"{person}:t", changes = new[] { 1 } } }]),
            })
            {
                string? refused = null;
                try
                {
                    await hub.InvokeCoreAsync<JsonElement>(call, arguments);
                }
                catch (HubException e)
                {
                    refused = e.Message.Contains("Only authors", StringComparison.Ordinal) || e.Message.Contains("no such manuscript", StringComparison.Ordinal) ? e.Message : null;
                }

                Assert.True(refused is null == May(s_calls[call], role), $"{role}: {call}: {refused}");
            }
        }
    }

    [Fact]
    public async Task What_another_site_asks_in_a_persons_name_is_refused()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, _) = await MainFileAsync(ilse);
        ilse.DefaultRequestHeaders.Remove("Folio-Guard");
        HttpResponseMessage unguarded = await ilse.PostAsJsonAsync($"/api/manuscripts/{manuscript}/files", new { path = "x.tex" });
        Assert.Equal((HttpStatusCode.BadRequest, "guard"), (unguarded.StatusCode, (await unguarded.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("code").GetString()));
        await RenewGuardAsync(ilse);
        ilse.DefaultRequestHeaders.Add("Origin", "http://elsewhere.example");
        Assert.Equal(HttpStatusCode.BadRequest, (await ilse.PostAsJsonAsync($"/api/manuscripts/{manuscript}/files", new { path = "x.tex" })).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await ilse.PostAsync("/hub/negotiate?negotiateVersion=1", null)).StatusCode);
        HttpResponseMessage page = await ilse.GetAsync("/api/session");
        Assert.Contains("script-src 'self'", page.Headers.GetValues("Content-Security-Policy").Single(), StringComparison.Ordinal);
    }

    private static string Plain(string route) => System.Text.RegularExpressions.Regex.Replace("/" + route.Trim('/'), @":\w+\}", "}");

    private static bool May(string who, string role) => who[0] switch
    {
        '*' => true,
        's' => role is not ("nobody" or "script"),
        'S' => role is not "nobody",
        _ when role == "script" => who.EndsWith('+'),
        'r' => role is "reader" or "reviewer" or "author" or "owner",
        'v' => role is "reviewer" or "author" or "owner",
        'a' => role is "author" or "owner",
        _ => role == "owner",
    };

    private async Task<Dictionary<string, HttpClient>> ClientsAsync(HttpClient owner, int manuscript)
    {
        string secret = (await (await owner.PostAsJsonAsync($"/api/manuscripts/{manuscript}/tokens", new { name = "walk" })).Content.ReadFromJsonAsync<JsonElement>()).GetProperty("secret").GetString()!;
        HttpClient script = Client();
        script.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", secret);
        return new Dictionary<string, HttpClient>
        {
            ["nobody"] = await PageAsync(),
            ["stranger"] = await SignUpAsync("Stranger", "stranger@elsewhere.example"),
            ["reader"] = await SignInAsync("Perpetua Vane"),
            ["reviewer"] = await SignInAsync("Anton Quill"),
            ["author"] = await SignInAsync("Bao Tremlett"),
            ["owner"] = owner,
            ["script"] = script,
        };
    }
}
