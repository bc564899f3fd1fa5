using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using YoungFolio.Chronicle;
using YoungFolio.Cowriting;
using YoungFolio.Server.Archives;
using YoungFolio.Server.History;
using YoungFolio.Storage;

namespace YoungFolio.Server.Tests;

/// <summary>The chronicle over HTTP: events, pins, comparing, restoring.</summary>
public sealed class ChronicleApiTests : RunningServer
{
    private static async Task<JsonElement> PostAsync(HttpClient client, string path, object body, HttpStatusCode expected = HttpStatusCode.OK)
    {
        using HttpResponseMessage answer = await client.PostAsJsonAsync(path, body);
        string text = await answer.Content.ReadAsStringAsync();
        Assert.True(answer.StatusCode == expected, $"{answer.StatusCode}: {text}");
        return JsonSerializer.Deserialize<JsonElement>(text);
    }

    [Fact]
    public async Task The_demo_history_is_read_as_sittings_with_their_sections_and_read_on_after_a_restart_of_the_reader()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        JsonElement chronicle = await JsonAsync(ilse, "/api/manuscripts/1/chronicle");
        JsonElement[] events = [.. chronicle.GetProperty("events").EnumerateArray()];
        Assert.InRange(events.Length, 35, 90);
        JsonElement last = events.First(e => e.GetProperty("kind").GetString() == "text");
        Assert.Equal("Bao Tremlett", last.GetProperty("person").GetProperty("name").GetString());
        Assert.Contains(last.GetProperty("places").EnumerateArray(), p => p.GetProperty("number").GetString() == "4.3" && p.GetProperty("title").GetString() == "Walls without a date");
        Assert.Equal(3, chronicle.GetProperty("pins").GetArrayLength());
        int words = chronicle.GetProperty("words").EnumerateArray().Last().GetProperty("words").GetInt32();
        Assert.InRange(words, 2500, 5000);
        Assert.All(events, e => Assert.True(e.GetProperty("wordsOut").GetInt32() <= e.GetProperty("steps").GetInt32() * 40));

        // Filters.
        JsonElement anton = await JsonAsync(ilse, "/api/manuscripts/1/chronicle?person=3&kind=text");
        Assert.All(anton.GetProperty("events").EnumerateArray(), e => Assert.Equal("Anton Quill", e.GetProperty("person").GetProperty("name").GetString()));
        Assert.NotEmpty(anton.GetProperty("events").EnumerateArray());
        JsonElement found = await JsonAsync(ilse, "/api/manuscripts/1/chronicle?words=quadrat");
        Assert.All(found.GetProperty("events").EnumerateArray(), e => Assert.Contains("quadrat", e.GetRawText(), StringComparison.OrdinalIgnoreCase));
        Assert.Empty((await JsonAsync(ilse, "/api/manuscripts/1/chronicle?words=%25nothing_of_it")).GetProperty("events").EnumerateArray());

        // A reader that begins anew from what was kept goes on with the sitting.
        (int id, int main) = await MainFileAsync(ilse);
        Actor writer = new(1);
        TextStore texts = The<TextStore>();
        for (int i = 0; i < 3; i++)
        {
            LiveText now = await texts.TextAsync(main);
            await texts.TypeAsync(id, writer, main, now.Version, [new Update("t", ChangeSet.Replace(now.Text.Length, 0, 0, $"% note {i}\n"))]);
            using var anew = new ChronicleService(The<ChronicleStore>(), The<HistoryReader>(), The<ManuscriptStore>(), The<WriteQueue>(), Microsoft.Extensions.Logging.Abstractions.NullLogger<ChronicleService>.Instance);
            await anew.CatchUpAsync(id, default);
        }

        JsonElement newest = (await JsonAsync(ilse, "/api/manuscripts/1/chronicle")).GetProperty("events")[0];
        Assert.Equal((3, 3), (newest.GetProperty("steps").GetInt32(), newest.GetProperty("wordsIn").GetInt32()));
        JsonElement authors = await JsonAsync(ilse, $"/api/manuscripts/{id}/files/{main}/authors");
        Assert.Equal(newest.GetProperty("number").GetInt32(), authors.GetProperty("stretches")[0].GetProperty("event").GetInt32());
        Assert.Equal((await texts.TextAsync(main)).Text.Length, authors.GetProperty("stretches").EnumerateArray().Sum(s => s.GetProperty("length").GetInt32()));
    }

    [Fact]
    public async Task A_pin_keeps_its_proof_and_two_moments_are_compared_in_source_and_print()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, int main) = await MainFileAsync(ilse);
        int pin = (await PostAsync(ilse, $"/api/manuscripts/{id}/pins", new { name = " Draft  two ", note = "To Anton" })).GetInt32();
        JsonElement[] pins = [.. (await JsonAsync(ilse, $"/api/manuscripts/{id}/chronicle")).GetProperty("pins").EnumerateArray()];
        JsonElement made = pins.First(p => p.GetProperty("id").GetInt32() == pin);
        int pages = (await JsonAsync(ilse, $"/api/manuscripts/{id}/proof")).GetProperty("report").GetProperty("pages").GetInt32();
        Assert.Equal(("Draft two", pages), (made.GetProperty("name").GetString(), made.GetProperty("pages").GetInt32()));
        byte[] pdf = await ilse.GetByteArrayAsync($"/api/manuscripts/{id}/pins/{pin}/pdf");
        Assert.Equal("%PDF", Encoding.ASCII.GetString(pdf, 0, 4));
        // Of a pin that has none yet it is made and kept.
        byte[] first = await ilse.GetByteArrayAsync($"/api/manuscripts/{id}/pins/1/pdf");
        Assert.Equal(first, await ilse.GetByteArrayAsync($"/api/manuscripts/{id}/pins/1/pdf"));

        int from = made.GetProperty("revision").GetInt32();
        LiveText now = await The<TextStore>().TextAsync(main);
        int at = now.Text.IndexOf("\\begin{document}", StringComparison.Ordinal) + 16;
        await The<TextStore>().TypeAsync(id, new Actor(1), main, now.Version, [new Update("t", ChangeSet.Replace(now.Text.Length, at, at, "\nWords that came in since.\n"))]);
        JsonElement compared = await JsonAsync(ilse, $"/api/manuscripts/{id}/compare?from={from}&to={from + 1}");
        JsonElement file = Assert.Single(compared.GetProperty("files").EnumerateArray());
        Assert.Equal(("main.tex", 5, 0), (file.GetProperty("path").GetString(), file.GetProperty("wordsIn").GetInt32(), file.GetProperty("wordsOut").GetInt32()));
        JsonElement print = await JsonAsync(ilse, $"/api/manuscripts/{id}/compare/print?from={from}&to={from + 1}");
        Assert.Contains(print.GetProperty("changes").EnumerateArray(), c => c.GetProperty("text").GetString()!.Contains("Words that came in since", StringComparison.Ordinal));
        Assert.Equal("%PDF", Encoding.ASCII.GetString(await ilse.GetByteArrayAsync($"/api/manuscripts/{id}/compare/print/pdf?from={from}&to={from + 1}"), 0, 4));

        (await ilse.PatchAsJsonAsync($"/api/manuscripts/{id}/pins/{pin}", new { name = "Draft", note = "" })).EnsureSuccessStatusCode();
        await PostAsync(ilse, $"/api/manuscripts/{id}/pins", new { name = "  " }, HttpStatusCode.Conflict);
        await PostAsync(ilse, $"/api/manuscripts/{id}/pins", new { name = "x", revision = 1_000_000 }, HttpStatusCode.BadRequest);
        Assert.Equal(HttpStatusCode.NoContent, (await ilse.DeleteAsync($"/api/manuscripts/{id}/pins/{pin}")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await ilse.DeleteAsync($"/api/manuscripts/{id}/pins/{pin}")).StatusCode);
    }

    [Fact]
    public async Task Any_moment_is_restored_to_exactly_what_it_was()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpResponseMessage begun = await ilse.PostAsJsonAsync("/api/manuscripts", new { title = "Moments", kind = "article" });
        int id = await begun.Content.ReadFromJsonAsync<int>();
        FileStore files = The<FileStore>();
        TextStore texts = The<TextStore>();
        var random = new Random(20261129);
        var actor = new Actor(1);
        var moments = new Dictionary<int, string>();
        for (int step = 0; step < 60; step++)
        {
            IReadOnlyList<FileEntity> all = await files.FilesAsync(id);
            FileEntity one = all[random.Next(all.Count)];
            switch (random.Next(8))
            {
                case 0:
                    await files.PutFileAsync(id, actor, $"new/{step}.tex", Encoding.UTF8.GetBytes($"words of {step}\n"));
                    break;
                case 1:
                    await files.PutFileAsync(id, actor, "figures/p.csv.dat", [.. Enumerable.Range(0, 20).Select(_ => (byte)random.Next(1, 120))]);
                    break;
                case 2 when one.Path != "main.tex":
                    await files.DeleteAsync(id, actor, one.Id);
                    break;
                case 3 when one.Path != "main.tex":
                    await files.RenameAsync(id, actor, one.Id, $"moved/{step}{Path.GetExtension(one.Path)}");
                    break;
                case 4 when (await files.DeletedFilesAsync(id)) is [var gone, ..] && all.All(f => f.Path != gone.File.Path):
                    await files.BringBackAsync(id, actor, gone.File.Id);
                    break;
                default:
                    FileEntity text = all.First(f => f.IsText && (f.Id == one.Id || !one.IsText));
                    LiveText now = await texts.TextAsync(text.Id);
                    int from = random.Next(now.Text.Length + 1);
                    await texts.TypeAsync(id, actor, text.Id, now.Version, [new Update("t", ChangeSet.Replace(now.Text.Length, from, Math.Min(now.Text.Length, from + random.Next(20)), $" word{step} "))]);
                    break;
            }

            moments[(await The<ManuscriptStore>().ManuscriptAsync(id)).Revision] = await StateAsync(id);
        }

        int[] revisions = [.. moments.Keys];
        for (int round = 0; round < 12; round++)
        {
            int revision = revisions[random.Next(revisions.Length)];
            await PostAsync(ilse, $"/api/manuscripts/{id}/restore", new { revision });
            Assert.Equal(moments[revision], await StateAsync(id));
        }

        // What was restored says so, what was there before is pinned, and nothing is lost.
        JsonElement chronicle = await JsonAsync(ilse, $"/api/manuscripts/{id}/chronicle");
        Assert.Contains(chronicle.GetProperty("events").EnumerateArray(), e => e.GetProperty("says").GetRawText().Contains("went back to revision", StringComparison.Ordinal));
        Assert.Equal(12, chronicle.GetProperty("pins").EnumerateArray().Count(p => p.GetProperty("isAutomatic").GetBoolean()));
    }

    [Fact]
    public async Task A_passage_comes_back_wherever_it_stands_and_what_others_typed_meanwhile_stays()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, int main) = await MainFileAsync(ilse);
        TextStore texts = The<TextStore>();
        LiveText first = await texts.TextAsync(main);
        int from = (await The<ManuscriptStore>().ManuscriptAsync(id)).Revision;
        int at = first.Text.IndexOf("\\maketitle", StringComparison.Ordinal);
        await TypeAsync(at, 10, "\\maketitle\nNew words.");
        JsonElement compared = await JsonAsync(ilse, $"/api/manuscripts/{id}/compare?from={from}&to={from + 1}");
        JsonElement passage = compared.GetProperty("files")[0].GetProperty("passages")[0].GetProperty("passage");
        // Others type before it, and it has moved.
        await TypeAsync(0, 0, "% before\n");
        JsonElement done = await PostAsync(ilse, $"/api/manuscripts/{id}/restore", new
        {
            revision = from, file = main, passages = (object[])[Back(passage, from, from + 1)],
        });
        Assert.Equal("% before\n" + first.Text, (await texts.TextAsync(main)).Text);
        using HttpResponseMessage undone = await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/texts/undo", done.GetProperty("undo"));
        undone.EnsureSuccessStatusCode();
        Assert.Contains("New words.", (await texts.TextAsync(main)).Text, StringComparison.Ordinal);
        await PostAsync(ilse, $"/api/manuscripts/{id}/restore", new { revision = from, file = main, passages = (object[])[new { from = new { revision = from, offset = 0, length = 9_999_999 }, to = new { revision = from, offset = 0, length = 1 } }] }, HttpStatusCode.Conflict);
        await PostAsync(ilse, $"/api/manuscripts/{id}/restore", new { revision = from, file = main, passages = Array.Empty<object>() }, HttpStatusCode.BadRequest);

        // One file alone goes back as a whole.
        await PostAsync(ilse, $"/api/manuscripts/{id}/restore", new { revision = from, file = main });
        Assert.Equal(first.Text, (await texts.TextAsync(main)).Text);

        async Task TypeAsync(int place, int length, string words)
        {
            LiveText now = await texts.TextAsync(main);
            await texts.TypeAsync(id, new Actor(2), main, now.Version, [new Update("t", ChangeSet.Replace(now.Text.Length, place, place + length, words))]);
        }
    }

    [Fact]
    public async Task The_passages_of_a_section_come_back_together_as_one_change()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, _) = await MainFileAsync(ilse);
        TextStore texts = The<TextStore>();
        int file = (await The<FileStore>().FilesAsync(id)).First(f => f.Path == "chapters/why.tex").Id;
        string before = (await texts.TextAsync(file)).Text;
        int from = (await The<ManuscriptStore>().ManuscriptAsync(id)).Revision;
        // A word in each of three paragraphs.
        foreach (int place in (int[])[before.LastIndexOf("\n\n", StringComparison.Ordinal), before.IndexOf("\n\n", StringComparison.Ordinal) + 3, before.IndexOf(' ', StringComparison.Ordinal) + 1])
        {
            LiveText now = await texts.TextAsync(file);
            await texts.TypeAsync(id, new Actor(2), file, now.Version, [new Update("t", ChangeSet.Replace(now.Text.Length, place, place, "Xylophones. "))]);
        }

        int to = (await The<ManuscriptStore>().ManuscriptAsync(id)).Revision;
        JsonElement[] passages = [.. (await JsonAsync(ilse, $"/api/manuscripts/{id}/compare?from={from}&to={to}")).GetProperty("files")[0].GetProperty("passages").EnumerateArray().Select(p => p.GetProperty("passage"))];
        Assert.Equal(3, passages.Length);
        JsonElement done = await PostAsync(ilse, $"/api/manuscripts/{id}/restore", new { revision = from, file, passages = passages.Select(p => Back(p, from, to)) });
        Assert.Equal(before, (await texts.TextAsync(file)).Text);
        Revision last = (await The<ChronicleStore>().StepsAsync(id, to, 100)).Single();
        Assert.Equal($"brought a section back as it was at revision {from}", last.Act);
        using HttpResponseMessage undone = await ilse.PostAsJsonAsync($"/api/manuscripts/{id}/texts/undo", done.GetProperty("undo"));
        undone.EnsureSuccessStatusCode();
        Assert.Equal(4, (await texts.TextAsync(file)).Text.Split("Xylophones. ").Length);
        // Of several moments, or in each other: refused, and nothing is done.
        string present = (await texts.TextAsync(file)).Text;
        await PostAsync(ilse, $"/api/manuscripts/{id}/restore", new { revision = from, file, passages = (object[])[Back(passages[0], from, to), Back(passages[1], from - 1, to)] }, HttpStatusCode.Conflict);
        await PostAsync(ilse, $"/api/manuscripts/{id}/restore", new { revision = from, file, passages = (object[])[Back(passages[0], from, to), Back(passages[0], from, to)] }, HttpStatusCode.BadRequest);
        Assert.Equal(present, (await texts.TextAsync(file)).Text);
    }

    [Fact]
    public async Task The_history_goes_out_with_a_commit_for_each_event_and_git_gives_all_files_at_each()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, int main) = await MainFileAsync(ilse);
        // Paths that have to be quoted, a file that goes, and one that is replaced by another of its path.
        await The<FileStore>().PutFileAsync(id, new Actor(2), "figures/größe und maß.csv", "a,b\n"u8.ToArray());
        await The<FileStore>().DeleteAsync(id, new Actor(1), (await The<FileStore>().FilesAsync(id)).First(f => f.Path == "figures/stone.jpg").Id);
        await The<FileStore>().RenameAsync(id, new Actor(1), main, "thesis.tex");
        byte[] bundle = await ilse.GetByteArrayAsync($"/api/manuscripts/{id}/history");
        string folder = Directory.CreateTempSubdirectory("folio").FullName;
        try
        {
            Git(folder, null, "init", "-q", "--bare");
            Git(folder, bundle, "fast-import", "--quiet");
            IReadOnlyList<HistoryEvent> events = await The<ChronicleStore>().AllAsync(id);
            string[] commits = Text(Git(folder, null, "rev-list", "--reverse", "main")).Split('\n', StringSplitOptions.RemoveEmptyEntries);
            Assert.Equal(events.Count, commits.Length);
            Assert.Contains("Bao Tremlett <bao.tremlett@young-folio.invalid>", Text(Git(folder, null, "log", "--format=%an <%ae>", "main")), StringComparison.Ordinal);
            foreach (int at in Enumerable.Range(0, commits.Length).Where(i => i % 7 == 0 || i > commits.Length - 4))
            {
                var expected = new SortedDictionary<string, string>(StringComparer.Ordinal);
                foreach (FileState file in await The<HistoryReader>().FilesAtAsync(id, events[at].ToRevision))
                {
                    byte[] bytes = file.Text is { } text ? Encoding.UTF8.GetBytes(text) : await The<FileStore>().BytesAsync(file.BlobHash!);
                    // How git names a content (git-hash-object).
                    byte[] head = Encoding.ASCII.GetBytes($"blob {bytes.Length}\0");
#pragma warning disable CA5350 // Not for safety: it is git's own way of naming.
                    expected[file.Path] = Convert.ToHexStringLower(System.Security.Cryptography.SHA1.HashData([.. head, .. bytes]));
#pragma warning restore CA5350
                }

                string tree = Text(Git(folder, null, "-c", "core.quotePath=false", "ls-tree", "-r", commits[at]));
                var found = tree.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(l => l.Split('\t')).ToDictionary(l => l[1], l => l[0].Split(' ')[2], StringComparer.Ordinal);
                Assert.Equal(expected, new SortedDictionary<string, string>(found, StringComparer.Ordinal));
            }
        }
        finally
        {
            Directory.Delete(folder, true);
        }

        static string Text(byte[] bytes) => Encoding.UTF8.GetString(bytes);
    }

    [Fact]
    public async Task A_folder_with_a_history_of_git_becomes_a_manuscript_with_every_state_of_it()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, int main) = await MainFileAsync(ilse);
        await The<FileStore>().PutFileAsync(id, new Actor(2), "figures/größe und maß.csv", "a,b\n"u8.ToArray());
        await The<FileStore>().DeleteAsync(id, new Actor(1), (await The<FileStore>().FilesAsync(id)).First(f => f.Path == "figures/stone.jpg").Id);
        await The<FileStore>().RenameAsync(id, new Actor(1), main, "thesis.tex");
        string folder = Directory.CreateTempSubdirectory("folio").FullName;
        byte[] stream;
        try
        {
            // As git writes it, not as we do.
            Git(folder, null, "init", "-q", "--bare");
            Git(folder, await ilse.GetByteArrayAsync($"/api/manuscripts/{id}/history"), "fast-import", "--quiet");
            stream = Git(folder, null, "fast-export", "--all", "-M");
        }
        finally
        {
            Directory.Delete(folder, true);
        }

        IReadOnlyList<PastCommit> commits = HistoryImport.Read(stream);
        byte[] zip = ManuscriptZip.Write([("thesis/history.fast-export", stream), ("thesis/main.aux", "x"u8.ToArray())]);
        using HttpResponseMessage answer = await ilse.PostAsync("/api/manuscripts/zip?title=From%20elsewhere", new ByteArrayContent(zip));
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        int made = (await answer.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("id").GetInt32();

        // What one commit did stands together in the log, says whose it was, and leaves the files as the commit has them.
        IReadOnlyList<Revision> steps = await The<ChronicleStore>().StepsAsync(made, 0, 100_000);
        List<(string? Act, DateTime At, int Last)> groups = [];
        foreach (Revision step in steps.Where(r => r.Act is not null))
        {
            if (groups.Count > 0 && groups[^1].Act == step.Act && groups[^1].At == step.At)
            {
                groups.RemoveAt(groups.Count - 1);
            }

            groups.Add((step.Act, step.At, step.Number));
        }

        Assert.Equal(commits.Count, groups.Count);
        for (int i = 0; i < commits.Count; i++)
        {
            Assert.EndsWith($", by {commits[i].Author}", groups[i].Act, StringComparison.Ordinal);
            if (i % 5 == 0 || i > commits.Count - 4)
            {
                var then = new SortedDictionary<string, string>(StringComparer.Ordinal);
                foreach (FileState file in await The<HistoryReader>().FilesAtAsync(made, groups[i].Last))
                {
                    then[file.Path] = Convert.ToHexString(file.Text is { } text ? Encoding.UTF8.GetBytes(text) : await The<FileStore>().BytesAsync(file.BlobHash!));
                }

                Assert.Equal(new SortedDictionary<string, string>(commits[i].Files.ToDictionary(f => f.Key, f => Convert.ToHexString(f.Value)), StringComparer.Ordinal), then);
            }
        }

        JsonElement events = (await JsonAsync(ilse, $"/api/manuscripts/{made}/chronicle")).GetProperty("events");
        Assert.Contains(events.EnumerateArray(), e => e.GetProperty("says").EnumerateArray().Any(t => t.GetString()!.Contains("by Bao Tremlett", StringComparison.Ordinal)));
        // A renamed file is one file still.
        Assert.Contains(steps, r => r.Kind == RevisionKind.Rename);
    }

    [Fact]
    public async Task Files_beside_a_history_are_its_last_state_and_a_broken_history_brings_nothing_in()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        byte[] text = "\\documentclass{article}\n\\begin{document}\nNow.\n\\end{document}\n"u8.ToArray();
        string history = "commit refs/heads/main\ncommitter Una <u@x> 4102444800 +0000\ndata 5\nBegun\nM 100644 inline main.tex\ndata 5\nOnce\n\nM 100644 inline gone.tex\ndata 2\nx\n\n";
        int before = (await JsonAsync(ilse, "/api/manuscripts")).GetArrayLength();
        using HttpResponseMessage broken = await ilse.PostAsync("/api/manuscripts/zip?title=Broken", new ByteArrayContent(ManuscriptZip.Write([("main.tex", text), ("history.fast-export", "nothing of the kind"u8.ToArray())])));
        Assert.Equal(HttpStatusCode.Conflict, broken.StatusCode);
        Assert.Contains("git fast-export", await broken.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Equal(before, (await JsonAsync(ilse, "/api/manuscripts")).GetArrayLength());

        // A folder of git's own is no history to us; it is said what would be.
        using HttpResponseMessage git = await ilse.PostAsync("/api/manuscripts/zip?title=Git", new ByteArrayContent(ManuscriptZip.Write([("main.tex", text), (".git/HEAD", "ref: refs/heads/main"u8.ToArray())])));
        JsonElement says = await git.Content.ReadFromJsonAsync<JsonElement>();
        Assert.Contains("git fast-export --all", Assert.Single(says.GetProperty("remarks").EnumerateArray()).GetString(), StringComparison.Ordinal);
        Assert.Equal((0, 0), (says.GetProperty("leftOut").GetArrayLength(), says.GetProperty("states").GetInt32()));

        using HttpResponseMessage answer = await ilse.PostAsync("/api/manuscripts/zip?title=Both", new ByteArrayContent(ManuscriptZip.Write([("main.tex", text), ("history.fast-export", Encoding.UTF8.GetBytes(history))])));
        JsonElement came = await answer.Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal(1, came.GetProperty("states").GetInt32());
        int made = came.GetProperty("id").GetInt32();
        Assert.Equal(["main.tex"], (await The<FileStore>().FilesAsync(made)).Select(f => f.Path));
        IReadOnlyList<Revision> steps = await The<ChronicleStore>().StepsAsync(made, 0, 100);
        FileState then = (await The<HistoryReader>().FilesAtAsync(made, steps.Last(r => r.Act == "Begun, by Una").Number)).Single(f => f.Path == "main.tex");
        Assert.Equal("Once\n", then.Text);
        // Its clock was ahead: nothing was done later than now.
        Assert.True(steps.All(s => s.At <= DateTime.UtcNow.AddMinutes(1)));
    }

    [Fact]
    public async Task Names_that_change_their_capitals_their_accents_or_become_folders_come_in_as_they_were()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        const string Main = "\\documentclass{article}\n\\begin{document}\nA.\n\\end{document}\n";
        string stream = Commit("M 100644 inline main.tex\n" + Data(Main) + "M 100644 inline part\n" + Data("no text") + "M 100644 inline Walls.tex\n" + Data("one") + "M 100644 inline gro\u0308n.tex\n" + Data("two"))
            + Commit("D part\nM 100644 inline part/one.tex\n" + Data("three") + "D Walls.tex\nM 100644 inline walls.tex\n" + Data("other") + "D gr\u00f6n.tex\nM 100644 inline \" odd.tex\"\n" + Data("spaces"));
        using HttpResponseMessage answer = await ImportAsync(stream);
        Assert.True(answer.IsSuccessStatusCode, await answer.Content.ReadAsStringAsync());
        JsonElement came = await answer.Content.ReadFromJsonAsync<JsonElement>();
        var files = new SortedDictionary<string, string>(StringComparer.Ordinal);
        foreach (FileEntity file in await The<FileStore>().FilesAsync(came.GetProperty("id").GetInt32()))
        {
            files[file.Path] = Encoding.UTF8.GetString(await The<FileStore>().BytesAsync(file));
        }

        Assert.Equal([("main.tex", Main), ("part/one.tex", "three"), ("walls.tex", "other")], files.Select(f => (f.Key, f.Value)));
        Assert.Contains(came.GetProperty("remarks").EnumerateArray(), r => r.GetString()!.Contains("odd.tex", StringComparison.Ordinal));

        // Two at once that only capitals tell apart have no place.
        using HttpResponseMessage twins = await ImportAsync(Commit("M 100644 inline main.tex\n" + Data(Main) + "M 100644 inline Main.tex\n" + Data("x")));
        Assert.Equal(HttpStatusCode.Conflict, twins.StatusCode);
        Assert.Contains("capitals", await twins.Content.ReadAsStringAsync(), StringComparison.Ordinal);

        static string Commit(string changes) => $"commit refs/heads/main\ncommitter Una <u@x> 1772442000 +0000\ndata 5\nBegun\n{changes}\n";
        static string Data(string words) => $"data {Encoding.UTF8.GetByteCount(words)}\n{words}\n";
        Task<HttpResponseMessage> ImportAsync(string history) => ilse.PostAsync("/api/manuscripts/zip?title=Names", new ByteArrayContent(ManuscriptZip.Write([("history.fast-export", Encoding.UTF8.GetBytes(history))])));
    }

    private static object Back(JsonElement passage, int from, int to) => new
    {
        from = new { revision = from, offset = passage.GetProperty("from").GetInt32(), length = passage.GetProperty("fromLength").GetInt32() },
        to = new { revision = to, offset = passage.GetProperty("to").GetInt32(), length = passage.GetProperty("toLength").GetInt32() },
    };

    private static byte[] Git(string folder, byte[]? input, params string[] arguments)
    {
        using var process = Process.Start(new ProcessStartInfo("git", arguments) { WorkingDirectory = folder, RedirectStandardInput = true, RedirectStandardOutput = true })!;
        if (input is not null)
        {
            process.StandardInput.BaseStream.Write(input);
        }

        process.StandardInput.Close();
        using var output = new MemoryStream();
        process.StandardOutput.BaseStream.CopyTo(output);
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, $"git {string.Join(' ', arguments)}");
        return output.ToArray();
    }

    private async Task<string> StateAsync(int id)
    {
        var text = new StringBuilder();
        foreach (FileEntity file in (await The<FileStore>().FilesAsync(id)).OrderBy(f => f.Path, StringComparer.Ordinal))
        {
            text.Append(System.Globalization.CultureInfo.InvariantCulture, $"{file.Id} {file.Path} {Convert.ToHexString(await The<FileStore>().BytesAsync(file))}\n");
        }

        return text.ToString();
    }
}
