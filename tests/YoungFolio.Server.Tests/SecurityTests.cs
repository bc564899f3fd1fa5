using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.AspNetCore.SignalR;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.DependencyInjection;
using YoungFolio.Cowriting;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Tests;

/// <summary>Nobody gets in, and who is out is out at once: sessions, passwords, invitations, tokens, names of the server.</summary>
public sealed class SecurityTests : RunningServer
{
    private const string Password = "stones and lichen";

    [Fact]
    public async Task Another_password_ends_every_other_session_and_its_connections_at_once()
    {
        using HttpClient here = await SignUpAsync("Una Fell", "una@moor.example", Password);
        using HttpClient elsewhere = await PageAsync();
        using HttpResponseMessage signedIn = await elsewhere.PostAsJsonAsync("/api/session", new { email = "una@moor.example", password = Password });
        string copied = signedIn.Headers.GetValues("Set-Cookie").First(c => c.StartsWith("folio=", StringComparison.Ordinal)).Split(';')[0];
        int manuscript = await (await here.PostAsJsonAsync("/api/manuscripts", new { title = "Own", kind = "article" })).Content.ReadFromJsonAsync<int>();
        await using HubConnection hub = new HubConnectionBuilder().WithUrl(Address + "/hub", o => o.Headers["Cookie"] = copied).Build();
        await hub.StartAsync();
        await hub.InvokeAsync("Join", manuscript);
        var closed = new TaskCompletionSource();
        hub.Closed += _ => { closed.TrySetResult(); return Task.CompletedTask; };

        Assert.Equal(HttpStatusCode.NoContent, (await here.PostAsJsonAsync("/api/account/password", new { old = Password, @new = "moss on a north face" })).StatusCode);
        await closed.Task.WaitAsync(TimeSpan.FromSeconds(5));
        // The old browser is led to signing in, not to an error.
        Assert.Equal(HttpStatusCode.Unauthorized, (await elsewhere.GetAsync("/api/manuscripts")).StatusCode);
        Assert.Equal(JsonValueKind.Null, (await JsonAsync(elsewhere, "/api/session")).GetProperty("person").ValueKind);
        Assert.Equal(HttpStatusCode.OK, (await here.GetAsync("/api/manuscripts")).StatusCode);

        // The same when whoever keeps the server gives another one, beside the running server.
        await using HubConnection own = await ConnectAnewAsync(here);
        var ended = new TaskCompletionSource();
        own.Closed += _ => { ended.TrySetResult(); return Task.CompletedTask; };
        string given = await Accounts.GiveNewPasswordAsync(DataFolder, "una@moor.example");
        Assert.Equal(HttpStatusCode.Unauthorized, (await here.GetAsync("/api/manuscripts")).StatusCode);
        await ended.Task.WaitAsync(TimeSpan.FromSeconds(10));
        await RenewGuardAsync(here);
        Assert.Equal(HttpStatusCode.OK, (await here.PostAsJsonAsync("/api/session", new { email = "una@moor.example", password = given })).StatusCode);
    }

    [Fact]
    public async Task Signing_out_ends_a_copied_cookie_and_the_connection_but_not_the_persons_other_sessions()
    {
        using HttpClient here = await SignInAsync("Ilse Marrable");
        using HttpClient there = await SignInAsync("Ilse Marrable");
        (int manuscript, int file) = await MainFileAsync(here);
        await using HubConnection hub = await ListenAsync(here, manuscript);
        await using HubConnection other = await ListenAsync(there, manuscript);
        using HttpClient copy = Client();
        copy.DefaultRequestHeaders.Add("Cookie", CookieOf(here));
        Assert.Equal(HttpStatusCode.OK, (await copy.GetAsync("/api/manuscripts")).StatusCode);
        var closed = new TaskCompletionSource();
        hub.Closed += _ => { closed.TrySetResult(); return Task.CompletedTask; };
        Assert.Equal(HttpStatusCode.NoContent, (await here.DeleteAsync("/api/session")).StatusCode);
        await closed.Task.WaitAsync(TimeSpan.FromSeconds(5));
        Assert.Equal(HttpStatusCode.Unauthorized, (await copy.GetAsync("/api/manuscripts")).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await there.GetAsync("/api/manuscripts")).StatusCode);
        await other.InvokeAsync<JsonElement>("Since", file, 0);
        await RestartAsync();
        Assert.Equal(HttpStatusCode.Unauthorized, (await SameCookieAsync(CookieOf(here))).StatusCode);
    }

    [Fact]
    public async Task A_person_who_is_not_in_a_backup_that_is_put_in_place_is_led_to_signing_in()
    {
        string copy = Path.Combine(DataFolder, "copy.zip");
        Backup.Make(DataFolder, copy);
        using HttpClient una = await SignUpAsync("Una Fell", "una@moor.example", Password);
        Assert.Equal(HttpStatusCode.OK, (await una.GetAsync("/api/manuscripts")).StatusCode);
        Backup.Restore(copy, DataFolder, DateTime.Now);
        Assert.Equal(HttpStatusCode.Unauthorized, (await una.GetAsync("/api/manuscripts")).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await una.GetAsync("/api/session")).StatusCode);
    }

    [Fact]
    public async Task Whoever_waits_for_a_first_proof_while_a_backup_is_put_in_place_gets_one()
    {
        string copy = Path.Combine(DataFolder, "copy.zip");
        Backup.Make(DataFolder, copy);
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        var proofs = Application.Services.GetRequiredService<Proofs.ProofService>();
        Task<HttpResponseMessage> waiting = ilse.GetAsync("/api/manuscripts/4/proof");
        // As when the server notices another state of the data.
        for (int i = 0; i < 5; i++)
        {
            proofs.ForgetAll();
            await Task.Delay(20);
        }

        Backup.Restore(copy, DataFolder, DateTime.Now);
        using HttpResponseMessage answer = await waiting.WaitAsync(TimeSpan.FromSeconds(60));
        Assert.True(answer.StatusCode is HttpStatusCode.OK or HttpStatusCode.Unauthorized, $"{answer.StatusCode}");
        Assert.Equal(HttpStatusCode.OK, (await ilse.GetAsync("/api/manuscripts/1/proof")).StatusCode);
    }

    [Fact]
    public async Task Who_is_taken_off_in_the_moment_of_coming_in_hears_nothing()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        (int manuscript, int file) = await MainFileAsync(ilse);
        await using HubConnection hers = await ListenAsync(ilse, manuscript);
        int id = await PersonAsync(bao);
        for (int i = 0; i < 8; i++)
        {
            await using HubConnection his = await ConnectAsync(bao);
            int heard = 0;
            his.On<int, int, List<Update>>("updates", (_, _, _) => Interlocked.Increment(ref heard));
            Task<bool> joining = his.InvokeAsync("Join", manuscript).ContinueWith(t => t.IsCompletedSuccessfully, TaskScheduler.Default);
            Assert.Equal(HttpStatusCode.NoContent, (await ilse.DeleteAsync($"/api/manuscripts/{manuscript}/people/{id}")).StatusCode);
            await joining;
            await Task.Delay(200);
            Interlocked.Exchange(ref heard, 0);
            (string text, int version) = await TextAsync(ilse, manuscript, file);
            await TypeAsync(hers, 1, file, version, ChangeSet.Replace(text.Length, 0, 0, "secret "));
            await Task.Delay(200);
            Assert.Equal(0, Volatile.Read(ref heard));
            await ExecuteAsync($"insert into Memberships (ManuscriptId, PersonId, Role, SeenRevision) values ({manuscript}, {id}, 2, 0)");
            // The role is read anew.
            (await ilse.PutAsJsonAsync("/api/account", new { name = i % 2 == 0 ? "Ilse M." : "Ilse Marrable", colour = "#34567a" })).EnsureSuccessStatusCode();
        }
    }

    [Fact]
    public async Task An_invitations_link_in_other_hands_names_who_comes_and_opens_nothing_until_the_owner_lets_them_in()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, _) = await MainFileAsync(ilse);
        string link = (await (await ilse.PostAsJsonAsync($"/api/manuscripts/{manuscript}/invitations", new { email = "una@moor.example", role = "author", days = 7 })).Content.ReadFromJsonAsync<JsonElement>()).GetProperty("link").GetString()!;
        string invitation = "/api/invitations/" + link.Split('/')[^1];
        // An account that says it has the address isn't enough: anyone could make it.
        using HttpClient thief = await SignUpAsync("Una Fell", "una@moor.example", Password);
        Assert.False((await JsonAsync(thief, invitation)).GetProperty("isOwn").GetBoolean());
        Assert.Equal(JsonValueKind.Null, (await (await thief.PostAsync(invitation, null)).Content.ReadFromJsonAsync<JsonElement>()).GetProperty("manuscript").ValueKind);
        Assert.Equal(HttpStatusCode.NotFound, (await thief.GetAsync($"/api/manuscripts/{manuscript}")).StatusCode);
        Assert.True((await JsonAsync(thief, invitation)).GetProperty("waits").GetBoolean());
        using HttpClient another = await SignUpAsync("Another", "another@moor.example", Password);
        Assert.Equal(HttpStatusCode.Conflict, (await another.GetAsync(invitation)).StatusCode);

        JsonElement asking = (await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/people")).GetProperty("invitations")[0];
        Assert.Equal(("Una Fell", "una@moor.example"), (asking.GetProperty("askedBy").GetProperty("name").GetString(), asking.GetProperty("askedFrom").GetString()));
        Assert.Equal(HttpStatusCode.NoContent, (await ilse.PostAsync($"/api/manuscripts/{manuscript}/invitations/{asking.GetProperty("id").GetInt32()}/let-in", null)).StatusCode);
        Assert.Equal("author", (await JsonAsync(thief, $"/api/manuscripts/{manuscript}")).GetProperty("role").GetString());
        Assert.Equal(HttpStatusCode.Conflict, (await ilse.PostAsync($"/api/manuscripts/{manuscript}/invitations/{asking.GetProperty("id").GetInt32()}/let-in", null)).StatusCode);

        // Who is in already gets no higher role by a link that was sent to someone else.
        using HttpClient perpetua = await SignInAsync("Perpetua Vane");
        string second = (await (await ilse.PostAsJsonAsync($"/api/manuscripts/{manuscript}/invitations", new { email = "wyn@moor.example", role = "author", days = 7 })).Content.ReadFromJsonAsync<JsonElement>()).GetProperty("link").GetString()!;
        Assert.Equal(JsonValueKind.Null, (await (await perpetua.PostAsync("/api/invitations/" + second.Split('/')[^1], null)).Content.ReadFromJsonAsync<JsonElement>()).GetProperty("manuscript").ValueKind);
        Assert.Equal("reader", (await JsonAsync(perpetua, $"/api/manuscripts/{manuscript}")).GetProperty("role").GetString());

        // Letters to an address are shown to whoever has shown that it is theirs, and then an invitation opens at once.
        Assert.False((await JsonAsync(another, "/api/outbox")).GetProperty("isVerified").GetBoolean());
        await Accounts.VerifyAsync(DataFolder, "another@moor.example");
        await ilse.PostAsJsonAsync($"/api/manuscripts/{manuscript}/invitations", new { email = "Another@moor.example", role = "reader", days = 7 });
        JsonElement letter = (await JsonAsync(another, "/api/outbox")).GetProperty("letters")[0];
        Assert.Equal(manuscript, (await (await another.PostAsync("/api/invitations/" + letter.GetProperty("link").GetString()!.Split('/')[^1], null)).Content.ReadFromJsonAsync<JsonElement>()).GetProperty("manuscript").GetInt32());
        Assert.DoesNotContain("another@moor.example", (await JsonAsync(ilse, "/api/outbox")).GetRawText(), StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public async Task A_token_is_no_person_reads_only_what_it_says_and_does_not_revive()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        (int manuscript, int file) = await MainFileAsync(ilse);
        string secret = (await (await bao.PostAsJsonAsync($"/api/manuscripts/{manuscript}/tokens", new { name = "nightly\u202e\u200b analysis" })).Content.ReadFromJsonAsync<JsonElement>()).GetProperty("secret").GetString()!;
        Assert.Contains("nightly analysis", (await JsonAsync(bao, $"/api/manuscripts/{manuscript}/tokens")).GetRawText(), StringComparison.Ordinal);
        using HttpClient script = Client();
        script.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", secret);
        Assert.Equal(JsonValueKind.Null, (await JsonAsync(script, "/api/session")).GetProperty("person").ValueKind);
        JsonElement view = await JsonAsync(script, $"/api/manuscripts/{manuscript}");
        Assert.Empty(view.GetProperty("people").EnumerateArray());
        Assert.All(view.GetProperty("files").EnumerateArray(), p => Assert.DoesNotContain(".tex", p.GetProperty("path").GetString(), StringComparison.Ordinal));
        Assert.Equal(HttpStatusCode.Forbidden, (await script.GetAsync($"/api/manuscripts/{manuscript}/files/{file}/content")).StatusCode);
        JsonElement report = (await JsonAsync(script, $"/api/manuscripts/{manuscript}/proof")).GetProperty("report");
        Assert.True(report.GetProperty("pages").GetInt32() > 10);
        Assert.Empty(report.GetProperty("outline").EnumerateArray());

        int id = await PersonAsync(bao);
        (await ilse.PutAsJsonAsync($"/api/manuscripts/{manuscript}/people/{id}", new { role = "reader" })).EnsureSuccessStatusCode();
        (await ilse.PutAsJsonAsync($"/api/manuscripts/{manuscript}/people/{id}", new { role = "author" })).EnsureSuccessStatusCode();
        Assert.Equal(HttpStatusCode.Unauthorized, (await script.GetAsync($"/api/manuscripts/{manuscript}")).StatusCode);
    }

    [Fact]
    public async Task Guessing_is_slowed_down_for_the_guesser_and_locks_out_nobody_else()
    {
        var clock = new Clock();
        var limit = new SignInLimit(clock);
        for (int i = 0; i < 5; i++)
        {
            Assert.Equal(TimeSpan.Zero, limit.Wait("una@moor.example", "10.0.0.9"));
            limit.Failed("una@moor.example", "10.0.0.9");
        }

        var waits = new List<double>();
        for (int i = 0; i < 12; i++)
        {
            waits.Add(limit.Wait("UNA@moor.example", "10.0.0.9").TotalSeconds);
            clock.Now += TimeSpan.FromHours(1);
            limit.Failed("una@moor.example", "10.0.0.9");
        }

        Assert.Equal([5, 10, 20, 40, 80, 160, 320, 640, 900, 900, 900, 900], waits);
        Assert.Equal(TimeSpan.Zero, limit.Wait("una@moor.example", "10.0.0.1"));
        // From everywhere at once: whoever came in from an address before comes in at once, others after three seconds at most.
        limit.Succeeded("una@moor.example", "10.0.0.1");
        for (int i = 0; i < 200; i++)
        {
            limit.Failed("una@moor.example", $"10.1.0.{i}");
        }

        Assert.Equal(TimeSpan.Zero, limit.Wait("una@moor.example", "10.0.0.1"));
        Assert.InRange(limit.Wait("una@moor.example", "10.0.0.2").TotalSeconds, 0.1, 3);
        // One address that tries many accounts waits too.
        for (int i = 0; i < 40; i++)
        {
            limit.Failed($"person{i}@moor.example", "10.0.0.77");
        }

        Assert.True(limit.Wait("new@moor.example", "10.0.0.77") > TimeSpan.FromMinutes(10));
        await Task.CompletedTask;
    }

    [Fact]
    public async Task Whether_there_is_an_account_shows_neither_in_the_words_nor_in_the_time()
    {
        using HttpClient una = await SignUpAsync("Una Fell", "una@moor.example", Password);
        var times = new Dictionary<string, List<double>> { ["una@moor.example"] = [], ["nobody@moor.example"] = [] };
        var said = new HashSet<string>();
        // Each from a clean slate: the limit would answer without looking.
        for (int i = 0; i < 4; i++)
        {
            foreach ((string email, List<double> taken) in times)
            {
                using HttpClient page = await PageAsync();
                long start = System.Diagnostics.Stopwatch.GetTimestamp();
                using HttpResponseMessage answer = await page.PostAsJsonAsync("/api/session", new { email, password = "wrong words here" });
                taken.Add(System.Diagnostics.Stopwatch.GetElapsedTime(start).TotalMilliseconds);
                said.Add($"{answer.StatusCode} {await MessageAsync(answer)}");
            }
        }

        Assert.Single(said);
        // Without the work of a password check the answer would come ten times as fast.
        Assert.InRange(times["nobody@moor.example"].Min() / times["una@moor.example"].Min(), 0.4, 2.5);
    }

    [Theory]
    [InlineData("password123", true)]
    [InlineData("P4ssw0rd!!2026", true)]
    [InlineData("qwertyuiop", true)]
    [InlineData("0987654321", true)]
    [InlineData("lkjhgfdsap", true)]
    [InlineData("aaaaaaaaaaaa", true)]
    [InlineData("abcabcabcabc", true)]
    [InlineData("dragondragon", true)]
    [InlineData("UnaFell1999", false)]
    [InlineData("marrable2026", true)]
    [InlineData("stones and lichen", false)]
    [InlineData("wet Tuesday gate", false)]
    public void Passwords_that_are_tried_first_are_refused(string password, bool isGuessed) =>
        Assert.Equal(isGuessed, PasswordRules.IsGuessed(password, ["Ilse Marrable", "ilse", "hollin-edge"]));

    [Fact]
    public async Task A_password_that_is_tried_first_is_refused_in_words()
    {
        using HttpClient page = await PageAsync();
        Assert.Contains("tried first", await MessageAsync(await page.PostAsJsonAsync("/api/account", new { name = "Una", email = "una@moor.example", password = "password1234" })), StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_server_answers_by_its_own_names_only()
    {
        using HttpClient client = Client();
        client.DefaultRequestHeaders.Host = "walls.evil.example";
        Assert.Equal(HttpStatusCode.BadRequest, (await client.GetAsync("/api/session")).StatusCode);
        client.DefaultRequestHeaders.Host = "localhost:1";
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/api/session")).StatusCode);
        Assert.Contains("isn't an address to listen on", Assert.Throws<ArgumentException>(() => ServerOptions.Parse(["--host", "walls.example"])).Message, StringComparison.Ordinal);
        Assert.Contains("isn't a port", Assert.Throws<ArgumentException>(() => ServerOptions.Parse(["--port", "70000"])).Message, StringComparison.Ordinal);
        Assert.Equal(["walls.example"], ServerOptions.Parse(["--host", "0.0.0.0", "--name", "walls.example"]).Names);
    }

    [Fact]
    public async Task Signs_that_are_not_seen_do_not_come_into_names_and_titles()
    {
        using HttpClient una = await SignUpAsync("Una\u200b \u202eFell\ufeff", "una@moor.example", Password);
        Assert.Equal("Una Fell", (await JsonAsync(una, "/api/session")).GetProperty("person").GetProperty("name").GetString());
        int manuscript = await (await una.PostAsJsonAsync("/api/manuscripts", new { title = "Wal\u2066ls\u2069", kind = "article" })).Content.ReadFromJsonAsync<int>();
        Assert.Equal("Walls", (await JsonAsync(una, $"/api/manuscripts/{manuscript}")).GetProperty("title").GetString());
        Assert.Equal(HttpStatusCode.Conflict, (await una.PatchAsJsonAsync($"/api/manuscripts/{manuscript}", new { title = "\u200b\u200b" })).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await una.PutAsJsonAsync("/api/account", new { name = "\u202e", colour = "#34567a" })).StatusCode);
    }

    [Fact]
    public async Task What_is_asked_without_sense_is_refused_with_the_reason()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, int file) = await MainFileAsync(ilse);
        foreach (string body in (string[])["[]", "[null]", """[{"file":1}]""", """[{"file":1,"version":0,"changes":"x"}]""", "null", "{}", "[[]]"])
        {
            using HttpResponseMessage answer = await ilse.PostAsync($"/api/manuscripts/{manuscript}/texts/undo", new StringContent(body, System.Text.Encoding.UTF8, "application/json"));
            Assert.True(answer.StatusCode is HttpStatusCode.BadRequest or HttpStatusCode.Conflict, $"{body}: {answer.StatusCode}");
            Assert.True((await MessageAsync(answer)).Length > 10);
        }

        await using HubConnection hub = await ListenAsync(ilse, manuscript);
        foreach (object?[] arguments in (object?[][])[[file, 0, null], [file, 0, new object?[] { null }], [file, 0, new object?[] { new { clientId = (string?)null } }]])
        {
            HubException refused = await Assert.ThrowsAsync<HubException>(() => hub.InvokeCoreAsync<int>("Type", arguments));
            Assert.Contains("One tab sends its own changes", refused.Message, StringComparison.Ordinal);
        }

        Assert.Contains("speaks for itself", (await Assert.ThrowsAsync<HubException>(() => hub.InvokeCoreAsync("Here", [null]))).Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_catalogue_stand_in_answers_only_who_is_signed_in_and_only_in_demo_mode()
    {
        using HttpClient nobody = Client();
        Assert.Equal(HttpStatusCode.Unauthorized, (await nobody.GetAsync("/stand-ins/catalogue?q=lichen")).StatusCode);
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        Assert.Contains("@", await ilse.GetStringAsync("/stand-ins/catalogue?q=lichen"), StringComparison.Ordinal);
        Assert.NotEmpty((await JsonAsync(ilse, "/api/manuscripts/1/sources/lookup?q=lichens")).GetProperty("records").EnumerateArray());
    }

    private async Task<HubConnection> ConnectAnewAsync(HttpClient client)
    {
        using HttpResponseMessage session = await client.PostAsJsonAsync("/api/session", new { email = "una@moor.example", password = "moss on a north face" });
        await RenewGuardAsync(client);
        string cookie = session.Headers.GetValues("Set-Cookie").First(c => c.StartsWith("folio=", StringComparison.Ordinal)).Split(';')[0];
        HubConnection hub = new HubConnectionBuilder().WithUrl(Address + "/hub", o => o.Headers["Cookie"] = cookie).Build();
        await hub.StartAsync();
        return hub;
    }

    private async Task<HttpResponseMessage> SameCookieAsync(string cookie)
    {
        using HttpClient client = Client();
        client.DefaultRequestHeaders.Add("Cookie", cookie);
        return await client.GetAsync("/api/manuscripts");
    }

    private async Task ExecuteAsync(string sql)
    {
        await using var database = new SqliteConnection($"Data Source={Path.Combine(DataFolder, "folio.db")}");
        await database.OpenAsync();
        await using SqliteCommand command = database.CreateCommand();
        command.CommandText = sql;
        await command.ExecuteNonQueryAsync();
    }
}
