using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using YoungFolio.Server.HandingIn;
using YoungFolio.Storage;

namespace YoungFolio.Server.Tests;

/// <summary>The Hand-in room over HTTP: checks, rules, packages, handing in, and who gets what.</summary>
public sealed class HandInApiTests : RunningServer
{
    private static JsonElement Check(JsonElement view, string key) => view.GetProperty("groups").EnumerateArray().SelectMany(g => g.GetProperty("checks").EnumerateArray()).Single(c => c.GetProperty("key").GetString() == key);

    [Fact]
    public async Task The_checks_go_by_the_rules_that_the_group_chose()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        JsonElement first = await JsonAsync(ilse, "/api/manuscripts/1/hand-in");
        // The demo's group has a house of its own.
        Assert.Equal("School of Hollin Edge, MSc theses", first.GetProperty("rules").GetString());
        Assert.Equal("holds", Check(first, "paper").GetProperty("state").GetString());

        int rules = (await SendAsync(ilse, HttpMethod.Post, "/api/rules", new { name = " Office of  Perpetua Vane ", rules = new { paper = "a5", mostPages = 10, fileName = "{author}-{title}", address = "office@hollin-edge.example" } })).GetInt32();
        JsonElement saved = (await JsonAsync(bao, "/api/rules")).EnumerateArray().Single(r => r.GetProperty("key").GetString() == $"{rules}");
        Assert.Equal(("Office of Perpetua Vane", false), (saved.GetProperty("name").GetString(), saved.GetProperty("isOwn").GetBoolean()));
        await SendAsync(bao, HttpMethod.Put, "/api/manuscripts/1/hand-in/rules", new { key = $"{rules}" }, HttpStatusCode.NoContent);
        JsonElement view = await JsonAsync(ilse, "/api/manuscripts/1/hand-in");
        Assert.Equal("mend", Check(view, "paper").GetProperty("state").GetString());
        Assert.Equal("at most 10", Check(view, "pages").GetProperty("rule").GetString());
        Assert.Equal(("marrable-reading-walls-by-lichen", "office@hollin-edge.example"), (view.GetProperty("fileName").GetString(), view.GetProperty("address").GetString()));

        // Whoever shares no manuscript sees nothing of them; nobody deletes another's; what can't be rules isn't saved.
        using HttpClient stranger = await SignUpAsync("Una Fell", "una@moor.example");
        Assert.DoesNotContain("Perpetua", (await JsonAsync(stranger, "/api/rules")).GetRawText(), StringComparison.Ordinal);
        await SendAsync(bao, HttpMethod.Delete, $"/api/rules/{rules}", new { }, HttpStatusCode.NotFound);
        Assert.Contains("can’t be less", (await SendAsync(ilse, HttpMethod.Post, "/api/rules", new { name = "x", rules = new { fewestPages = 9, mostPages = 3 } }, HttpStatusCode.BadRequest)).GetProperty("message").GetString(), StringComparison.Ordinal);
        await SendAsync(ilse, HttpMethod.Put, "/api/manuscripts/1/hand-in/rules", new { key = "no such" }, HttpStatusCode.NotFound);

        // A manuscript whose rules are deleted goes by none.
        await SendAsync(ilse, HttpMethod.Delete, $"/api/rules/{rules}", new { }, HttpStatusCode.NoContent);
        Assert.Equal("none", (await JsonAsync(ilse, "/api/manuscripts/1/hand-in")).GetProperty("key").GetString());
    }

    [Fact]
    public async Task Words_for_a_picture_stand_in_the_markup_and_can_be_taken_back()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        JsonElement place = Check(await JsonAsync(ilse, "/api/manuscripts/1/hand-in"), "alternatives").GetProperty("places")[0];
        (string file, int offset) = (place.GetProperty("file").GetString()!, place.GetProperty("offset").GetInt32());
        string before = (await The<TextStore>().AllAsync(1))[file].Text.Text;
        JsonElement undo = await SendAsync(ilse, HttpMethod.Post, "/api/manuscripts/1/hand-in/picture-words", new { file, offset, words = "A wall, 50 % of it lichen" });
        Assert.Contains("alt={A wall, 50 \\% of it lichen}", (await The<TextStore>().AllAsync(1))[file].Text.Text, StringComparison.Ordinal);
        JsonElement after = Check(await JsonAsync(ilse, "/api/manuscripts/1/hand-in"), "alternatives");
        Assert.DoesNotContain(after.GetProperty("places").EnumerateArray(), p => p.GetProperty("file").GetString() == file && p.GetProperty("offset").GetInt32() == offset);
        await SendAsync(ilse, HttpMethod.Post, "/api/manuscripts/1/texts/undo", undo, HttpStatusCode.NoContent);
        Assert.Equal(before, (await The<TextStore>().AllAsync(1))[file].Text.Text);
        await SendAsync(ilse, HttpMethod.Post, "/api/manuscripts/1/hand-in/picture-words", new { file, offset = offset + 40, words = "x" }, HttpStatusCode.Conflict);
        await SendAsync(ilse, HttpMethod.Post, "/api/manuscripts/1/hand-in/picture-words", new { file, offset, words = new string('x', 1001) }, HttpStatusCode.BadRequest);
    }

    [Fact]
    public async Task The_sources_are_packed_and_give_the_same_pages()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        const string Wish = "onlyUsed=true&withoutComments=true&onlyCited=true&inOneFile=true";
        JsonElement look = await JsonAsync(ilse, $"/api/manuscripts/1/hand-in/sources?{Wish}");
        Assert.True(look.GetProperty("isSame").GetBoolean());
        byte[] zip = await ilse.GetByteArrayAsync($"/api/manuscripts/1/hand-in/sources/zip?{Wish}");
        using var archive = new ZipArchive(new MemoryStream(zip));
        Assert.Equal(look.GetProperty("files").EnumerateArray().Select(f => f.GetString()), archive.Entries.Select(e => e.FullName));
        Assert.Single(archive.Entries, e => e.FullName.EndsWith(".tex", StringComparison.Ordinal));
        using var reader = new StreamReader(archive.GetEntry("main.tex")!.Open(), Encoding.UTF8);
        Assert.DoesNotContain("\\include{", await reader.ReadToEndAsync(), StringComparison.Ordinal);

        JsonElement ready = await JsonAsync(ilse, "/api/manuscripts/1/hand-in/sources?readyList=true");
        Assert.Equal(look.GetProperty("pages").GetInt32(), ready.GetProperty("pages").GetInt32());
        Assert.DoesNotContain(ready.GetProperty("files").EnumerateArray(), f => f.GetString()!.EndsWith(".bib", StringComparison.Ordinal));
    }

    [Fact]
    public async Task What_is_handed_in_is_kept_pinned_and_sent_with_its_files()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        string address = (await JsonAsync(bao, "/api/session")).GetProperty("email").GetString()!;
        int pin = (await JsonAsync(ilse, "/api/manuscripts/1/chronicle")).GetProperty("pins")[0].GetProperty("id").GetInt32();
        await SendAsync(ilse, HttpMethod.Put, "/api/manuscripts/1/hand-in/rules", new { key = "bound-thesis" }, HttpStatusCode.NoContent);

        // Something wants mending: it doesn't go out unless that is said.
        var wish = new { name = "First hand-in", to = address, note = "For the office.", sources = new { onlyUsed = true }, changesSince = pin, asItIs = false };
        JsonElement held = await SendAsync(ilse, HttpMethod.Post, "/api/manuscripts/1/hand-in", wish);
        Assert.True(held.GetProperty("toMend").GetInt32() > 0);
        Assert.Equal(JsonValueKind.Null, held.GetProperty("id").ValueKind);
        Assert.Empty((await JsonAsync(ilse, "/api/manuscripts/1/hand-in")).GetProperty("before").EnumerateArray());

        int id = (await SendAsync(ilse, HttpMethod.Post, "/api/manuscripts/1/hand-in", wish with { asItIs = true })).GetProperty("id").GetInt32();
        JsonElement before = (await JsonAsync(ilse, "/api/manuscripts/1/hand-in")).GetProperty("before")[0];
        Assert.Equal((id, "First hand-in", address), (before.GetProperty("id").GetInt32(), before.GetProperty("name").GetString(), before.GetProperty("to").GetString()));
        string[] names = [.. before.GetProperty("files").EnumerateArray().Select(f => f.GetProperty("name").GetString()!)];
        Assert.Equal(3, names.Length);
        Assert.EndsWith("-sources.zip", names[1], StringComparison.Ordinal);
        byte[] pdf = await ilse.GetByteArrayAsync($"/api/manuscripts/1/handed-in/{id}/files/{before.GetProperty("files")[0].GetProperty("id").GetInt32()}");
        Assert.Equal("%PDF"u8.ToArray(), pdf[..4]);
        JsonElement set = (await JsonAsync(ilse, "/api/manuscripts/1/chronicle")).GetProperty("pins").EnumerateArray().Single(p => p.GetProperty("name").GetString() == "First hand-in");
        Assert.Equal(pdf, await ilse.GetByteArrayAsync($"/api/manuscripts/1/pins/{set.GetProperty("id").GetInt32()}/pdf"));

        // The letter brought the files to the one whose address it is, and to nobody else.
        JsonElement letter = (await JsonAsync(bao, "/api/outbox")).GetProperty("letters")[0];
        Assert.Contains("First hand-in", letter.GetProperty("subject").GetString(), StringComparison.Ordinal);
        Assert.Contains("For the office.", letter.GetProperty("body").GetString(), StringComparison.Ordinal);
        string file = $"/api/outbox/{letter.GetProperty("id").GetInt32()}/files/{letter.GetProperty("files")[0].GetProperty("id").GetInt32()}";
        Assert.Equal(pdf, await bao.GetByteArrayAsync(file));
        Assert.Equal(HttpStatusCode.NotFound, (await ilse.GetAsync(file)).StatusCode);

        // What goes on being written doesn't change what went out.
        (int manuscript, int main) = await MainFileAsync(ilse);
        LiveText now = await The<TextStore>().TextAsync(main);
        await The<TextStore>().TypeAsync(manuscript, new Actor(1), main, now.Version, [new Cowriting.Update("t", Cowriting.ChangeSet.Replace(now.Text.Length, 0, 0, "% later\n"))]);
        Assert.Equal(pdf, await ilse.GetByteArrayAsync($"/api/manuscripts/1/handed-in/{id}/files/{before.GetProperty("files")[0].GetProperty("id").GetInt32()}"));
    }

    [Theory]
    [InlineData("", "a@b.example", "has a name")]
    [InlineData("x", "not an address", "isn’t an address")]
    [InlineData("x", "Name <a@b.example>", "isn’t an address")]
    public async Task What_can_not_be_handed_in_is_said_and_nothing_is_kept(string name, string to, string says)
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        JsonElement answer = await SendAsync(ilse, HttpMethod.Post, "/api/manuscripts/1/hand-in", new { name, to, asItIs = true }, HttpStatusCode.Conflict);
        Assert.Contains(says, answer.GetProperty("message").GetString(), StringComparison.Ordinal);
        Assert.Empty((await JsonAsync(ilse, "/api/manuscripts/1/hand-in")).GetProperty("before").EnumerateArray());
    }

    [Fact]
    public async Task A_pdf_for_keeping_says_so_and_brings_its_sources()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        async Task<string> PdfAsync(string query) => Encoding.Latin1.GetString(await ilse.GetByteArrayAsync($"/api/manuscripts/1/hand-in/pdf?download=walls.pdf{query}"));
        Assert.DoesNotContain("<pdfaid:part>", await PdfAsync(""), StringComparison.Ordinal);
        Assert.Contains("<pdfaid:part>2<", await PdfAsync("&flavour=archival"), StringComparison.Ordinal);
        string whole = await PdfAsync("&flavour=archival-with-sources&inOneFile=true");
        Assert.Contains("<pdfaid:part>3<", whole, StringComparison.Ordinal);
        int zip = (await ilse.GetByteArrayAsync("/api/manuscripts/1/hand-in/sources/zip?inOneFile=true")).Length;
        Assert.Contains($"/Size {zip} /ModDate", whole, StringComparison.Ordinal);
        await SendAsync(ilse, HttpMethod.Get, "/api/manuscripts/1/hand-in/pdf?flavour=odd", new { }, HttpStatusCode.Conflict);

        // The rules say what it is made for, and the checks go by it.
        await SendAsync(ilse, HttpMethod.Put, "/api/manuscripts/1/hand-in/rules", new { key = "thesis" }, HttpStatusCode.NoContent);
        JsonElement view = await JsonAsync(ilse, "/api/manuscripts/1/hand-in");
        Assert.Equal("archival", view.GetProperty("flavour").GetString());
        Assert.Equal("holds", Check(view, "archival").GetProperty("state").GetString());
        int id = (await SendAsync(ilse, HttpMethod.Post, "/api/manuscripts/1/hand-in", new { name = "Kept", to = "", asItIs = true, flavour = "archival" })).GetProperty("id").GetInt32();
        int file = (await JsonAsync(ilse, "/api/manuscripts/1/hand-in")).GetProperty("before")[0].GetProperty("files")[0].GetProperty("id").GetInt32();
        Assert.Contains("<pdfaid:part>2<", Encoding.Latin1.GetString(await ilse.GetByteArrayAsync($"/api/manuscripts/1/handed-in/{id}/files/{file}")), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_pdf_for_those_who_listen_is_made_and_what_stands_against_it_is_said_with_its_place()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        async Task<string> PdfAsync(string query) => Encoding.Latin1.GetString(await ilse.GetByteArrayAsync($"/api/manuscripts/1/hand-in/pdf?download=walls.pdf{query}"));
        Assert.DoesNotContain("pdfuaid", await PdfAsync(""), StringComparison.Ordinal);
        string told = await PdfAsync("&flavour=accessible");
        JsonElement obstacles = await JsonAsync(ilse, "/api/manuscripts/1/hand-in/obstacles?flavour=accessible");
        Assert.Equal(obstacles.GetArrayLength() == 0, told.Contains("<pdfuaid:part>1<", StringComparison.Ordinal));
        Assert.Equal(0, (await JsonAsync(ilse, "/api/manuscripts/1/hand-in/obstacles")).GetArrayLength());
        await SendAsync(ilse, HttpMethod.Get, "/api/manuscripts/1/hand-in/obstacles?flavour=odd", new { }, HttpStatusCode.Conflict);

        // The letter says no title.
        JsonElement letter = Assert.Single((await JsonAsync(ilse, "/api/manuscripts/3/hand-in/obstacles?flavour=accessible-archival")).EnumerateArray());
        Assert.Contains("no title", letter.GetProperty("says").GetString(), StringComparison.Ordinal);

        // An anonymous copy that is for those who listen doesn't name its authors.
        string blind = await PdfAsync("&flavour=accessible-archival&anonymous=true");
        Assert.Contains("<pdfaid:part>3<", blind, StringComparison.Ordinal);
        Assert.DoesNotContain("Marrable", blind, StringComparison.Ordinal);

        // Rules that ask for it make it a check.
        int rules = int.Parse((await SendAsync(ilse, HttpMethod.Post, "/api/rules", new { name = "For all", rules = new { flavour = "accessible" } })).ToString(), System.Globalization.CultureInfo.InvariantCulture);
        await SendAsync(ilse, HttpMethod.Put, "/api/manuscripts/3/hand-in/rules", new { key = rules.ToString(System.Globalization.CultureInfo.InvariantCulture) }, HttpStatusCode.NoContent);
        Assert.Equal("mend", Check(await JsonAsync(ilse, "/api/manuscripts/3/hand-in"), "accessible").GetProperty("state").GetString());
    }

    [Fact]
    public async Task Other_forms_are_files_that_can_be_kept()
    {
        using HttpClient perpetua = await SignInAsync("Perpetua Vane");
        foreach ((string form, string type, string holds) in ((string, string, string)[])[("html", "text/html", "<h1"), ("text", "text/plain", "Chapter 1"), ("words", "text/csv", "In all,"), ("figures", "application/zip", "captions.txt")])
        {
            using HttpResponseMessage answer = await perpetua.GetAsync($"/api/manuscripts/1/hand-in/forms/{form}?download=walls");
            Assert.Equal((HttpStatusCode.OK, type, "attachment"), (answer.StatusCode, answer.Content.Headers.ContentType?.MediaType, answer.Content.Headers.ContentDisposition?.DispositionType));
            Assert.Contains(holds, await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }

        Assert.Equal(HttpStatusCode.NotFound, (await perpetua.GetAsync("/api/manuscripts/1/hand-in/forms/odd")).StatusCode);
    }

    [Fact]
    public async Task The_shelf_says_how_far_the_checks_of_what_is_due_are()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        CheckStandings standings = The<CheckStandings>();
        async Task<JsonElement> EntryAsync() => (await JsonAsync(ilse, "/api/manuscripts")).EnumerateArray().Single(m => m.GetProperty("id").GetInt32() == 1).GetProperty("checks");
        async Task<string> ShelfAsync()
        {
            await standings.CheckAsync(DateTimeOffset.MaxValue, CancellationToken.None);
            return (await EntryAsync()) is { ValueKind: JsonValueKind.Object } c ? $"{c.GetProperty("hold")} {c.GetProperty("toLook")} {c.GetProperty("toMend")}" : "";
        }

        async Task<string> RoomAsync()
        {
            List<string?> states = [.. (await JsonAsync(ilse, "/api/manuscripts/1/hand-in")).GetProperty("groups").EnumerateArray().SelectMany(g => g.GetProperty("checks").EnumerateArray()).Select(c => c.GetProperty("state").GetString())];
            return $"{states.Count(s => s == "holds")} {states.Count(s => s == "look")} {states.Count(s => s == "mend")}";
        }

        // It is due in the demo, and was never checked.
        await standings.NoteUncheckedAsync();
        string before = await ShelfAsync();
        Assert.Equal(await RoomAsync(), before);
        Assert.Empty(await The<HandInStore>().UncheckedAsync());

        // Other rules, other checks: they are made again without anyone asking.
        await SendAsync(ilse, HttpMethod.Put, "/api/manuscripts/1/hand-in/rules", new { key = "none" }, HttpStatusCode.NoContent);
        await EventuallyAsync(() => ShelfAsync().Result != before);
        Assert.Equal(await RoomAsync(), await ShelfAsync());

        // What isn't due says nothing, and isn't looked at.
        await SendAsync(ilse, HttpMethod.Patch, "/api/manuscripts/1", new { deadline = "" }, HttpStatusCode.NoContent);
        Assert.Equal("", await ShelfAsync());
    }

    [Fact]
    public async Task Without_an_address_it_is_kept_and_nothing_sent()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        int letters = (await JsonAsync(ilse, "/api/outbox")).GetProperty("letters").GetArrayLength();
        await SendAsync(ilse, HttpMethod.Post, "/api/manuscripts/1/hand-in", new { name = "Kept", to = " ", asItIs = true });
        Assert.Equal("", (await JsonAsync(ilse, "/api/manuscripts/1/hand-in")).GetProperty("before")[0].GetProperty("to").GetString());
        Assert.Equal(letters, (await JsonAsync(ilse, "/api/outbox")).GetProperty("letters").GetArrayLength());
    }
}
