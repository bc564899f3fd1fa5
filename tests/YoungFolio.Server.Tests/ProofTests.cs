using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.SignalR.Client;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using YoungFolio.Compiler;
using YoungFolio.Cowriting;
using YoungFolio.Server.Proofs;
using YoungFolio.Storage;

namespace YoungFolio.Server.Tests;

/// <summary>Proofs as browsers get them: the list of sheets, what is drawn on them, and the word that a new one is there.</summary>
public sealed class ProofTests : RunningServer
{
    [Fact]
    public async Task A_proof_says_its_sheets_and_each_is_had_by_its_digest()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, _) = await MainFileAsync(ilse);
        JsonElement sheets = (await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/proof")).GetProperty("sheets");
        JsonElement[] entries = [.. sheets.GetProperty("entries").EnumerateArray()];
        Assert.Equal((await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/proof")).GetProperty("report").GetProperty("pages").GetInt32(), entries.Length);
        Assert.Contains("chapters/growth.tex", sheets.GetProperty("files").EnumerateArray().Select(f => f.GetString()));
        var fonts = new HashSet<string>();
        foreach (JsonElement entry in entries)
        {
            HttpResponseMessage answer = await ilse.GetAsync($"/api/manuscripts/{manuscript}/proof/sheets/{entry.GetProperty("digest").GetString()}");
            // A page isn't left in a browser for whoever signs in next.
            Assert.True(answer.Headers.CacheControl!.NoStore);
            JsonElement content = await answer.Content.ReadFromJsonAsync<JsonElement>();
            fonts.UnionWith(content.GetProperty("styles").EnumerateArray().Select(s => s[0].GetString()!));
            foreach (JsonElement picture in content.GetProperty("pictures").EnumerateArray())
            {
                HttpResponseMessage bytes = await ilse.GetAsync($"/api/manuscripts/{manuscript}/proof/pictures/{picture[0].GetString()}");
                Assert.Equal(picture[1].GetString() switch { "png" => "image/png", "jpeg" => "image/jpeg", _ => "application/pdf" }, bytes.Content.Headers.ContentType!.MediaType);
            }
        }

        Assert.NotEmpty(fonts);
        foreach (string font in fonts)
        {
            HttpResponseMessage answer = await ilse.GetAsync($"/api/fonts/{font}");
            Assert.Equal("font/otf", answer.Content.Headers.ContentType!.MediaType);
            Assert.Contains("immutable", answer.Headers.CacheControl!.ToString(), StringComparison.Ordinal);
            Assert.Equal("OTTO"u8.ToArray(), (await answer.Content.ReadAsByteArrayAsync())[..4]);
        }

        foreach (string gone in (string[])[$"/api/manuscripts/{manuscript}/proof/sheets/00", $"/api/manuscripts/{manuscript}/proof/pictures/00", $"/api/fonts/{fonts.First()}0", "/api/fonts/..%2Ffolio.db", "/api/fonts/x"])
        {
            Assert.Equal(HttpStatusCode.NotFound, (await ilse.GetAsync(gone)).StatusCode);
        }
    }

    [Fact]
    public async Task What_is_on_the_pages_of_a_manuscript_is_for_its_people_alone()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        int mine = await (await ilse.PostAsJsonAsync("/api/manuscripts", new { title = "Only mine", kind = "article" })).Content.ReadFromJsonAsync<int>();
        string digest = (await JsonAsync(ilse, $"/api/manuscripts/{mine}/proof")).GetProperty("sheets").GetProperty("entries")[0].GetProperty("digest").GetString()!;
        Assert.Equal(HttpStatusCode.OK, (await ilse.GetAsync($"/api/manuscripts/{mine}/proof/sheets/{digest}")).StatusCode);
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        (int shared, _) = await MainFileAsync(bao);
        await JsonAsync(bao, $"/api/manuscripts/{shared}/proof");
        // Whoever knows a digest gets it neither there nor by way of a manuscript of theirs.
        Assert.Equal(HttpStatusCode.NotFound, (await bao.GetAsync($"/api/manuscripts/{mine}/proof/sheets/{digest}")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await bao.GetAsync($"/api/manuscripts/{shared}/proof/sheets/{digest}")).StatusCode);
    }

    [Fact]
    public async Task The_word_of_a_new_proof_says_what_is_new_and_no_more()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, int file) = await MainFileAsync(ilse);
        await using HubConnection hub = await ListenAsync(ilse, manuscript);
        JsonNode known = (await ilse.GetFromJsonAsync<JsonNode>($"/api/manuscripts/{manuscript}/proof"))!;
        var sheets = new Dictionary<string, JsonNode>();
        foreach (JsonNode? entry in known["sheets"]!["entries"]!.AsArray())
        {
            string digest = (string)entry!["digest"]!;
            sheets[digest] = (await ilse.GetFromJsonAsync<JsonNode>($"/api/manuscripts/{manuscript}/proof/sheets/{digest}"))!;
        }

        for (int i = 0; i < 4; i++)
        {
            var told = new TaskCompletionSource<JsonElement>();
            using IDisposable listening = hub.On<JsonElement>("proof", news => told.TrySetResult(news));
            (string text, int version) = await TextAsync(ilse, manuscript, file);
            int at = text.IndexOf("\\end{document}", StringComparison.Ordinal);
            await TypeAsync(hub, 1, file, version, ChangeSet.Replace(text.Length, at, at, $"Typed words {i}.\n"));
            JsonElement news = await told.Task.WaitAsync(TimeSpan.FromSeconds(20));
            Assert.InRange(news.GetRawText().Length, 1, 12_000);
            Assert.Equal((int)known["revision"]!, news.GetProperty("from").GetInt32());
            // Carried out, it is what would have been fetched.
            known = Applied(known, news.GetProperty("difference"));
            known["isBehind"] = news.GetProperty("isBehind").GetBoolean();
            JsonNode fetched = (await ilse.GetFromJsonAsync<JsonNode>($"/api/manuscripts/{manuscript}/proof"))!;
            Assert.Equal(fetched.ToJsonString(), known.ToJsonString());
            JsonProperty[] changed = [.. news.GetProperty("sheets").EnumerateObject()];
            Assert.NotEmpty(changed);
            foreach (JsonProperty sheet in changed)
            {
                sheets[sheet.Name] = Applied(sheets[sheet.Value.GetProperty("from").GetString()!], sheet.Value.GetProperty("difference"));
                JsonNode whole = (await ilse.GetFromJsonAsync<JsonNode>($"/api/manuscripts/{manuscript}/proof/sheets/{sheet.Name}"))!;
                Assert.Equal(whole.ToJsonString(), sheets[sheet.Name].ToJsonString());
            }
        }
    }

    [Fact]
    public void A_difference_makes_one_object_of_another_whatever_changed()
    {
        var random = new Random(16);
        for (int round = 0; round < 500; round++)
        {
            JsonElement before = JsonSerializer.SerializeToElement(Thing(3));
            JsonElement after = JsonSerializer.SerializeToElement(Thing(3));
            JsonObject difference = JsonDifference.Of(before, after);
            Assert.Equal(Sorted(JsonSerializer.SerializeToNode(after)), Sorted(Applied(JsonSerializer.SerializeToNode(before)!, JsonSerializer.SerializeToElement(difference))));
            Assert.Empty(JsonDifference.Of(after, after));
        }

        JsonObject Thing(int depth) => new([.. "abcde".Where(_ => random.Next(4) > 0).Select(name => KeyValuePair.Create(name.ToString(), random.Next(4) switch
        {
            0 when depth > 0 => (JsonNode)Thing(depth - 1),
            1 => new JsonArray([.. Enumerable.Range(0, random.Next(6)).Select(_ => (JsonNode)random.Next(3))]),
            2 => null,
            _ => (JsonNode)random.Next(3),
        }))]);

        static string Sorted(JsonNode? node) => node is JsonObject o ? "{" + string.Join(',', o.OrderBy(p => p.Key, StringComparer.Ordinal).Select(p => p.Key + ":" + Sorted(p.Value))) + "}" : node?.ToJsonString() ?? "null";
    }

    [Fact]
    public async Task The_PDF_is_that_of_the_engine_and_has_no_marks()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        int made = await (await ilse.PostAsJsonAsync("/api/manuscripts", new { title = "Marks", kind = "article" })).Content.ReadFromJsonAsync<int>();
        for (int i = 0; i < 5; i++)
        {
            string text = $"\\documentclass{{article}}\\begin{{document}}See \\ref{{nothing}} {i}.\\end{{document}}";
            using var content = new ByteArrayContent(Encoding.UTF8.GetBytes(text));
            (await ilse.PutAsync($"/api/manuscripts/{made}/files?path=main.tex&replace=true", content)).EnsureSuccessStatusCode();
            // What was stored before is in it, though the proof of the text before may still be the newest.
            byte[] pdf = await ilse.GetByteArrayAsync($"/api/manuscripts/{made}/proof/pdf");
            CompileResult own = new ManuscriptCompiler().Compile(new ManuscriptSnapshot(new Markup.FileTree([Markup.ManuscriptFile.FromText("main.tex", text)]), "main.tex", DateOnly.FromDateTime(DateTime.Now)));
            Assert.Equal(own.Pdf, pdf);
            Assert.NotEqual(own.WritePdf(marked: true), pdf);
        }
    }

    [Fact]
    public async Task After_a_restart_the_last_proof_is_there_at_once_until_the_manuscript_goes()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, _) = await MainFileAsync(ilse);
        JsonElement before = await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/proof");
        string[] digests = [.. before.GetProperty("sheets").GetProperty("entries").EnumerateArray().Select(e => e.GetProperty("digest").GetString()!)];
        byte[] sheet = await ilse.GetByteArrayAsync($"/api/manuscripts/{manuscript}/proof/sheets/{digests[3]}");
        await RestartAsync();
        LastProofs kept = Application.Services.GetRequiredService<LastProofs>();
        await Application.Services.GetRequiredService<WriteQueue>().GenerationAsync();
        LastProof last = kept.Find(manuscript)!;
        Assert.Equal(digests, last.Proof.Sheets.Entries.Select(e => e.Digest));
        Assert.True(JsonElement.DeepEquals(before.GetProperty("report"), JsonSerializer.SerializeToElement(last.Proof.Report, JsonSerializerOptions.Web)));
        Assert.Equal(sheet, kept.FindSheet(manuscript, digests[3]));
        Assert.Null(kept.FindSheet(manuscript, "../../folio"));
        Assert.Null(kept.FindSheet(manuscript, new string('0', 32)));
        using HttpClient again = await SignInAsync("Ilse Marrable");
        JsonElement shown = await JsonAsync(again, $"/api/manuscripts/{manuscript}/proof");
        // Until the new one is there it says of when it is.
        Assert.Equal(shown.GetProperty("isBehind").GetBoolean(), shown.GetProperty("asOf").ValueKind == JsonValueKind.String);
        JsonElement entry = (await JsonAsync(again, "/api/manuscripts")).EnumerateArray().Single(m => m.GetProperty("id").GetInt32() == manuscript);
        Assert.Equal((digests.Length, digests[0]), (entry.GetProperty("pages").GetInt32(), entry.GetProperty("firstPage").GetString()));

        // A damaged file is as good as none.
        string folder = Path.Combine(DataFolder, "proofs", $"{manuscript}");
        File.WriteAllText(Path.Combine(folder, digests[3] + ".br"), "damaged");
        Assert.Null(kept.FindSheet(manuscript, digests[3]));
        (await again.DeleteAsync($"/api/manuscripts/{manuscript}")).EnsureSuccessStatusCode();
        await EventuallyAsync(() => !Directory.Exists(folder));
        Assert.Null(kept.Find(manuscript));
    }

    [Fact]
    public async Task Sheets_that_no_proof_shows_any_more_go_from_the_disk_and_those_of_another_state_of_the_data_count_for_nothing()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int manuscript, int file) = await MainFileAsync(ilse);
        await JsonAsync(ilse, $"/api/manuscripts/{manuscript}/proof");
        LastProofs kept = Application.Services.GetRequiredService<LastProofs>();
        ProofService proofs = Application.Services.GetRequiredService<ProofService>();
        kept.Keep(manuscript, proofs.Latest(manuscript)!);
        kept.Store();
        string folder = Path.Combine(DataFolder, "proofs", $"{manuscript}");
        string[] before = Files();
        Assert.Equal(Named(), before);
        int revision = proofs.Latest(manuscript)!.Revision;
        await using HubConnection hub = await ListenAsync(ilse, manuscript);
        (string text, int version) = await TextAsync(ilse, manuscript, file);
        int at = text.IndexOf("\\end{document}", StringComparison.Ordinal);
        await TypeAsync(hub, 1, file, version, ChangeSet.Replace(text.Length, at, at, "Typed words.\n"));
        await EventuallyAsync(() => proofs.Latest(manuscript)!.Revision > revision);
        kept.Keep(manuscript, proofs.Latest(manuscript)!);
        kept.Store();
        Assert.Equal(Named(), Files());
        Assert.NotEqual(before, Files());
        LastProof last = kept.Find(manuscript)!;
        // Nor do those that another engine made.
        string head = Path.Combine(folder, "proof.json");
        string written = await File.ReadAllTextAsync(head);
        await File.WriteAllTextAsync(head, written.Replace(last.Engine, Guid.NewGuid().ToString("N"), StringComparison.Ordinal));
        Assert.Null(Fresh().Find(manuscript));
        await File.WriteAllTextAsync(head, written);
        Assert.NotNull(Fresh().Find(manuscript));
        await Application.Services.GetRequiredService<WriteQueue>().RunAsync(WriteQueue.House, session => session.Database.Generations.ExecuteUpdateAsync(g => g.SetProperty(x => x.Value, "another")));
        await Application.Services.GetRequiredService<WriteQueue>().LookAsync();
        Assert.Null(kept.Find(manuscript));

        LastProofs Fresh() => ActivatorUtilities.CreateInstance<LastProofs>(Application.Services);

        string[] Files() => [.. Directory.GetFiles(folder).Select(f => Path.GetFileName(f)).Order(StringComparer.Ordinal)];

        string[] Named() => [.. proofs.Latest(manuscript)!.Result.Sheets.Sheets.Select(s => s.Digest + ".br").Distinct().Append("proof.json").Order(StringComparer.Ordinal)];
    }

    // As web/src/live/difference.ts does it.
    private static JsonNode Applied(JsonNode to, JsonElement difference)
    {
        JsonObject result = to.DeepClone().AsObject();
        foreach (JsonProperty property in difference.EnumerateObject())
        {
            JsonElement change = property.Value;
            if (change.TryGetProperty("is", out JsonElement value))
            {
                result[property.Name] = JsonSerializer.SerializeToNode(value);
            }
            else if (change.TryGetProperty("in", out JsonElement inner))
            {
                result[property.Name] = Applied(result[property.Name]!, inner);
            }
            else if (change.TryGetProperty("none", out _))
            {
                result.Remove(property.Name);
            }
            else
            {
                JsonNode?[] old = [.. result[property.Name]!.AsArray().Select(n => n?.DeepClone())];
                int at = change.GetProperty("at").GetInt32();
                IEnumerable<JsonNode?> put = change.GetProperty("put").EnumerateArray().Select(e => JsonSerializer.SerializeToNode(e));
                result[property.Name] = new JsonArray([.. old[..at], .. put, .. old[(at + change.GetProperty("gone").GetInt32())..]]);
            }
        }

        return result;
    }
}
