using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.Data.Sqlite;
using YoungFolio.Cowriting;

namespace YoungFolio.Server.Tests;

/// <summary>Accounts, roles, invitations and access tokens, as people go through them.</summary>
public sealed class PeopleTests : RunningServer
{
    [Fact]
    public async Task An_account_is_made_used_changed_and_left()
    {
        using HttpClient page = await PageAsync();
        Assert.Contains("at least 10 characters", await MessageAsync(await page.PostAsJsonAsync("/api/account", new { name = "Una", email = "una@moor.example", password = "short" })), StringComparison.Ordinal);
        Assert.Contains("e-mail address", await MessageAsync(await page.PostAsJsonAsync("/api/account", new { name = "Una", email = "una", password = "long enough words" })), StringComparison.Ordinal);
        using HttpClient una = await SignUpAsync("Una Fell", "una@moor.example", "long enough words");
        Assert.Contains("already", await MessageAsync(await page.PostAsJsonAsync("/api/account", new { name = "Other", email = "UNA@moor.example", password = "long enough words" })), StringComparison.Ordinal);
        Assert.Empty((await JsonAsync(una, "/api/manuscripts")).EnumerateArray());

        (await una.PutAsJsonAsync("/api/account", new { name = "Una Fell-Moor", colour = "#2f6f73" })).EnsureSuccessStatusCode();
        Assert.Equal(HttpStatusCode.BadRequest, (await una.PutAsJsonAsync("/api/account", new { name = "Una", colour = "red" })).StatusCode);
        Assert.Contains("another one", await MessageAsync(await una.PostAsJsonAsync("/api/account/password", new { old = "wrong", @new = "a new long password" })), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NoContent, (await una.PostAsJsonAsync("/api/account/password", new { old = "long enough words", @new = "a new long password" })).StatusCode);
        Assert.Equal("Una Fell-Moor", (await JsonAsync(una, "/api/session")).GetProperty("person").GetProperty("name").GetString());
        Assert.Equal(HttpStatusCode.NoContent, (await una.DeleteAsync("/api/session")).StatusCode);
        Assert.Equal(HttpStatusCode.Unauthorized, (await una.GetAsync("/api/manuscripts")).StatusCode);
        await RenewGuardAsync(una);
        Assert.Equal(HttpStatusCode.Forbidden, (await una.PostAsJsonAsync("/api/session", new { email = "una@moor.example", password = "long enough words" })).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await una.PostAsJsonAsync("/api/session", new { email = "una@moor.example", password = "a new long password" })).StatusCode);
        Assert.DoesNotContain("a new long password", Encoding.UTF8.GetString(await DatabaseBytesAsync()), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Guessing_a_password_takes_ever_longer()
    {
        await SignUpAsync("Una Fell", "una@moor.example", "long enough words");
        using HttpClient page = await PageAsync();
        string said = "";
        for (int i = 0; i < 6; i++)
        {
            said = await MessageAsync(await page.PostAsJsonAsync("/api/session", new { email = "una@moor.example", password = $"guess number {i}" }));
        }

        Assert.Contains("Wait 5 seconds", said, StringComparison.Ordinal);
        Assert.Contains("wrong too often", await MessageAsync(await page.PostAsJsonAsync("/api/session", new { email = "una@moor.example", password = "long enough words" })), StringComparison.Ordinal);
        Assert.Equal("Address and password don’t fit together.", await MessageAsync(await page.PostAsJsonAsync("/api/session", new { email = "nobody@moor.example", password = "guess" })));
        Assert.Equal(HttpStatusCode.Forbidden, (await page.PostAsJsonAsync("/api/session", new { email = "ilse.marrable@hollin-edge.example", password = "" })).StatusCode);
    }

    [Fact]
    public async Task An_invitation_goes_to_the_outbox_and_is_taken_once()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, int file) = await MainFileAsync(ilse);
        string link = (await JsonOfAsync(await ilse.PostAsJsonAsync($"/api/manuscripts/{manuscript}/invitations", new { email = "una@moor.example", role = "author", days = 7 }))).GetProperty("link").GetString()!;
        string secret = link.Split('/')[^1];
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        Assert.DoesNotContain(secret, (await JsonAsync(bao, "/api/outbox")).GetRawText(), StringComparison.Ordinal);
        Assert.DoesNotContain(secret, (await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/people")).GetRawText(), StringComparison.Ordinal);

        using HttpClient una = await SignUpAsync("Una Fell", "una@moor.example");
        await Security.Accounts.VerifyAsync(DataFolder, "una@moor.example");
        Assert.Equal(link, (await JsonAsync(una, "/api/outbox")).GetProperty("letters")[0].GetProperty("link").GetString());
        Assert.Equal("Reading Walls by Lichen", (await JsonAsync(una, $"/api/invitations/{secret}")).GetProperty("title").GetString());
        Assert.Equal(HttpStatusCode.NotFound, (await una.GetAsync($"/api/manuscripts/{manuscript}")).StatusCode);
        Assert.Equal(manuscript, (await JsonOfAsync(await una.PostAsync($"/api/invitations/{secret}", null))).GetProperty("manuscript").GetInt32());
        Assert.Equal("author", (await JsonAsync(una, $"/api/manuscripts/{manuscript}")).GetProperty("role").GetString());
        using HttpClient another = await SignUpAsync("Another", "another@moor.example");
        Assert.Contains("doesn't hold any more", await MessageAsync(await another.PostAsync($"/api/invitations/{secret}", null)), StringComparison.Ordinal);
        Assert.Contains("Una Fell joined as an author", (await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/revisions?count=3")).GetRawText(), StringComparison.Ordinal);

        // Who is removed hears nothing more, and can't write any more, at once.
        await using HubConnection hub = await ListenAsync(una, manuscript);
        var gone = new TaskCompletionSource();
        var cut = new TaskCompletionSource();
        hub.Closed += _ => { cut.TrySetResult(); return Task.CompletedTask; };
        int person = await PersonAsync(una);
        (await ilse.PutAsJsonAsync($"/api/manuscripts/{manuscript}/people/{person}", new { role = "reviewer" })).EnsureSuccessStatusCode();
        await cut.Task.WaitAsync(TimeSpan.FromSeconds(10));
        (string text, int version) = await TextAsync(una, manuscript, file);
        await using HubConnection again = await ListenAsync(una, manuscript);
        again.On("gone", gone.SetResult);
        await Assert.ThrowsAsync<Microsoft.AspNetCore.SignalR.HubException>(() => TypeAsync(again, person, file, version, ChangeSet.Replace(text.Length, 0, 0, "x")));
        (await ilse.DeleteAsync($"/api/manuscripts/{manuscript}/people/{person}")).EnsureSuccessStatusCode();
        await gone.Task.WaitAsync(TimeSpan.FromSeconds(10));
        Assert.Equal(HttpStatusCode.NotFound, (await una.GetAsync($"/api/manuscripts/{manuscript}")).StatusCode);
    }

    [Fact]
    public async Task Invitations_that_are_withdrawn_over_or_too_grand_do_not_hold()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, _) = await MainFileAsync(ilse);
        string invitations = $"/api/manuscripts/{manuscript}/invitations";
        Assert.Contains("hand it over", await MessageAsync(await ilse.PostAsJsonAsync(invitations, new { email = "una@moor.example", role = "owner", days = 7 })), StringComparison.Ordinal);
        Assert.Contains("e-mail address", await MessageAsync(await ilse.PostAsJsonAsync(invitations, new { email = "una at moor", role = "reader", days = 7 })), StringComparison.Ordinal);
        string first = (await JsonOfAsync(await ilse.PostAsJsonAsync(invitations, new { email = "una@moor.example", role = "reader", days = 7 }))).GetProperty("link").GetString()!;
        int waiting = (await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/people")).GetProperty("invitations")[0].GetProperty("id").GetInt32();
        (await ilse.DeleteAsync($"{invitations}/{waiting}")).EnsureSuccessStatusCode();
        using HttpClient una = await SignUpAsync("Una Fell", "una@moor.example");
        Assert.Equal(HttpStatusCode.Conflict, (await una.PostAsync($"/api/invitations/{first.Split('/')[^1]}", null)).StatusCode);
        string second = (await JsonOfAsync(await ilse.PostAsJsonAsync(invitations, new { email = "una@moor.example", role = "reader", days = 7 }))).GetProperty("link").GetString()!;
        await ExecuteAsync("update Invitations set EndsAt = '2020-01-01 00:00:00'");
        Assert.Equal(HttpStatusCode.Conflict, (await una.GetAsync($"/api/invitations/{second.Split('/')[^1]}")).StatusCode);
    }

    [Fact]
    public async Task The_owner_hands_over_before_leaving_and_what_is_put_away_comes_back()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        (int manuscript, _) = await MainFileAsync(ilse);
        Assert.Contains("hand the manuscript over first", await MessageAsync(await ilse.PostAsync($"/api/manuscripts/{manuscript}/leave", null)), StringComparison.Ordinal);
        (await ilse.PostAsync($"/api/manuscripts/{manuscript}/people/2/owner", null)).EnsureSuccessStatusCode();
        Assert.Equal(HttpStatusCode.Forbidden, (await ilse.DeleteAsync($"/api/manuscripts/{manuscript}")).StatusCode);
        (await ilse.PostAsync($"/api/manuscripts/{manuscript}/leave", null)).EnsureSuccessStatusCode();
        Assert.Equal(HttpStatusCode.NotFound, (await ilse.GetAsync($"/api/manuscripts/{manuscript}")).StatusCode);

        (await bao.DeleteAsync($"/api/manuscripts/{manuscript}")).EnsureSuccessStatusCode();
        using HttpClient anton = await SignInAsync("Anton Quill");
        Assert.Equal(HttpStatusCode.NotFound, (await anton.GetAsync($"/api/manuscripts/{manuscript}")).StatusCode);
        Assert.DoesNotContain("Reading Walls", (await JsonAsync(anton, "/api/manuscripts")).GetRawText(), StringComparison.Ordinal);
        JsonElement away = (await JsonAsync(bao, "/api/manuscripts")).EnumerateArray().First(m => m.GetProperty("id").GetInt32() == manuscript);
        Assert.InRange(away.GetProperty("keptUntil").GetDateTime(), DateTime.UtcNow.AddDays(29), DateTime.UtcNow.AddDays(31));
        Assert.Equal(HttpStatusCode.NotFound, (await anton.PostAsync($"/api/manuscripts/{manuscript}/back", null)).StatusCode);
        (await bao.PostAsync($"/api/manuscripts/{manuscript}/back", null)).EnsureSuccessStatusCode();
        Assert.Equal(HttpStatusCode.OK, (await anton.GetAsync($"/api/manuscripts/{manuscript}")).StatusCode);

        // After 30 days it is gone, and so is everything that only it had.
        (await bao.DeleteAsync($"/api/manuscripts/{manuscript}")).EnsureSuccessStatusCode();
        await ExecuteAsync($"update Manuscripts set DeletedAt = '2020-01-01 00:00:00' where Id = {manuscript}");
        await RestartAsync();
        // It goes in slices, and the manuscript itself last.
        await EventuallyAsync(() => ExecuteAsync("select count(*) from Manuscripts where Id = 1").Result == 0);
        Assert.Equal(0, await ExecuteAsync("select (select count(*) from Revisions where ManuscriptId = 1) + (select count(*) from Snapshots where FileId not in (select Id from Files))"));
    }

    [Fact]
    public async Task A_script_puts_data_with_a_token_and_the_proof_follows_until_it_is_revoked()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, _) = await MainFileAsync(ilse);
        JsonElement issued = await JsonOfAsync(await ilse.PostAsJsonAsync($"/api/manuscripts/{manuscript}/tokens", new { name = "analysis" }));
        string secret = issued.GetProperty("secret").GetString()!;
        Assert.DoesNotContain(secret, Encoding.UTF8.GetString(await DatabaseBytesAsync()), StringComparison.Ordinal);
        using HttpClient script = Client();
        script.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", secret);
        int before = (await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/proof")).GetProperty("revision").GetInt32();
        (await script.PutAsync($"/api/manuscripts/{manuscript}/files?path=data/farms.csv", new StringContent("farm,walls,metres,oldest\nLowgate,77,9123,1811\n"))).EnsureSuccessStatusCode();
        await EventuallyAsync(() => JsonAsync(ilse, $"/api/manuscripts/{manuscript}/proof").Result.GetProperty("revision").GetInt32() > before);
        JsonElement newest = (await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/revisions?count=1"))[0];
        Assert.Equal(("analysis", "Ilse Marrable", "text"), (newest.GetProperty("script").GetString(), newest.GetProperty("person").GetProperty("name").GetString(), newest.GetProperty("kind").GetString()));

        Assert.Equal(HttpStatusCode.Forbidden, (await script.PutAsync($"/api/manuscripts/{manuscript}/files?path=main.tex", new StringContent("x"))).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await script.PutAsync("/api/manuscripts/99/files?path=data/a.csv", new StringContent("x"))).StatusCode);
        Assert.Equal(HttpStatusCode.Forbidden, (await script.PutAsync("/api/manuscripts/2/files?path=data/a.csv", new StringContent("x"))).StatusCode);
        (await ilse.DeleteAsync($"/api/manuscripts/{manuscript}/tokens/{issued.GetProperty("token").GetProperty("id").GetInt32()}")).EnsureSuccessStatusCode();
        Assert.Equal(HttpStatusCode.Unauthorized, (await script.PutAsync($"/api/manuscripts/{manuscript}/files?path=data/farms.csv", new StringContent("x"))).StatusCode);
    }

    [Fact]
    public async Task One_address_makes_so_many_accounts_an_hour_and_signs_in_as_before()
    {
        HttpStatusCode[] answers = new HttpStatusCode[50];
        for (int i = 0; i < answers.Length; i++)
        {
            using HttpClient page = await PageAsync();
            using HttpResponseMessage answer = await page.PostAsJsonAsync("/api/account", new { name = $"Walker {i}", email = $"walker{i}@moor.example", password = "stones and lichen" });
            answers[i] = answer.StatusCode;
            if (answer.StatusCode == HttpStatusCode.TooManyRequests)
            {
                Assert.Contains("Try again later", await MessageAsync(answer), StringComparison.Ordinal);
            }
        }

        Assert.Equal((40, 10), (answers.Count(a => a == HttpStatusCode.OK), answers.Count(a => a == HttpStatusCode.TooManyRequests)));
        using HttpClient first = await PageAsync();
        Assert.Equal(HttpStatusCode.OK, (await first.PostAsJsonAsync("/api/session", new { email = "walker0@moor.example", password = "stones and lichen" })).StatusCode);
    }

    [Fact]
    public async Task News_are_what_others_did_since_one_was_last_here()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, int file) = await MainFileAsync(ilse);
        string[] seeded = [.. (await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/news")).GetProperty("items").EnumerateArray().Select(i => i.GetProperty("about").GetString()!)];
        Assert.Equal(["chapters/walls.tex", "figures/aspects.png", "chapters/growth.tex"], seeded);
        (await ilse.PostAsync($"/api/manuscripts/{manuscript}/seen", null)).EnsureSuccessStatusCode();
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        await using HubConnection his = await ListenAsync(bao, manuscript);
        (string text, int version) = await TextAsync(bao, manuscript, file);
        await TypeAsync(his, 2, file, version, ChangeSet.Replace(text.Length, 0, 3, "% six chars"));
        JsonElement item = (await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/news")).GetProperty("items").EnumerateArray().Single();
        Assert.Equal(("Bao Tremlett", "main.tex", 11, 3), (item.GetProperty("person").GetProperty("name").GetString(), item.GetProperty("about").GetString(), item.GetProperty("added").GetInt32(), item.GetProperty("removed").GetInt32()));
        Assert.Empty((await JsonAsync(bao, $"/api/manuscripts/{manuscript}/news")).GetProperty("items").EnumerateArray());

        // Having been there counts as having seen it, once one has gone.
        HubConnection hers = await ListenAsync(ilse, manuscript);
        await hers.DisposeAsync();
        await EventuallyAsync(() => !JsonAsync(ilse, $"/api/manuscripts/{manuscript}/news").Result.GetProperty("items").EnumerateArray().Any());
    }

    private static async Task<JsonElement> JsonOfAsync(HttpResponseMessage answer)
    {
        answer.EnsureSuccessStatusCode();
        return await answer.Content.ReadFromJsonAsync<JsonElement>();
    }

    private async Task<byte[]> DatabaseBytesAsync()
    {
        using var all = new MemoryStream();
        foreach (string file in Directory.EnumerateFiles(DataFolder, "folio.db*"))
        {
            using var stream = new FileStream(file, FileMode.Open, FileAccess.Read, FileShare.ReadWrite);
            await stream.CopyToAsync(all);
        }

        return all.ToArray();
    }

    private async Task<long> ExecuteAsync(string sql)
    {
        await using var database = new SqliteConnection($"Data Source={Path.Combine(DataFolder, "folio.db")}");
        await database.OpenAsync();
        await using SqliteCommand command = database.CreateCommand();
        command.CommandText = sql;
        return (await command.ExecuteScalarAsync()) is long value ? value : 0;
    }
}
