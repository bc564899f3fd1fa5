using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using YoungFolio.Cowriting;
using YoungFolio.Server.Api;
using YoungFolio.Storage;

namespace YoungFolio.Server.Tests;

/// <summary>Margin notes over HTTP: threads on passages that move.</summary>
public sealed class NotesApiTests : RunningServer
{
    private async Task TypeAsync(int manuscript, int file, int from, int to, string words)
    {
        LiveText now = await The<TextStore>().TextAsync(file);
        await The<TextStore>().TypeAsync(manuscript, new Actor(2), file, now.Version, [new Update("2:t", ChangeSet.Replace(now.Text.Length, from, to, words))]);
    }

    private static JsonElement Of(JsonElement notes, int id) => notes.EnumerateArray().First(n => n.GetProperty("id").GetInt32() == id);

    [Fact]
    public async Task A_reviewer_writes_a_note_that_goes_along_with_its_passage_is_answered_settled_and_opened_again()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient anton = await SignInAsync("Anton Quill");
        (int id, int main) = await MainFileAsync(ilse);
        string path = $"/api/manuscripts/{id}/notes";
        LiveText text = await The<TextStore>().TextAsync(main);
        int from = text.Text.IndexOf("\\maketitle", StringComparison.Ordinal);
        // Someone types before the note arrives.
        await TypeAsync(id, main, 0, 0, "% first\n");
        int note = (await SendAsync(anton, HttpMethod.Post, path, new { file = main, version = text.Version, from, to = from + 10, text = " Is this needed, @Ilse Marrable? <script>alert(1)</script> " })).GetInt32();
        JsonElement made = Of(await JsonAsync(ilse, path), note);
        Assert.Equal(("\\maketitle", from + 8, "Anton Quill"), (made.GetProperty("words").GetString(), made.GetProperty("from").GetInt32(), made.GetProperty("person").GetProperty("name").GetString()));
        Assert.Equal("Is this needed, @Ilse Marrable? <script>alert(1)</script>", made.GetProperty("text").GetString());
        Assert.Equal(1, made.GetProperty("names")[0].GetInt32());
        // Whoever is named gets a letter.
        string outbox = (await JsonAsync(ilse, "/api/outbox")).GetRawText();
        Assert.Contains("Anton Quill names you in", outbox, StringComparison.Ordinal);

        await SendAsync(ilse, HttpMethod.Post, $"{path}/{note}/replies", new { text = "It is." });
        await SendAsync(ilse, HttpMethod.Post, $"{path}/{note}/settled", new { isSettled = true });
        await SendAsync(anton, HttpMethod.Post, $"{path}/{note}/settled", new { isSettled = true });
        made = Of(await JsonAsync(ilse, path), note);
        Assert.Equal(("Ilse Marrable", "It is."), (made.GetProperty("settledBy").GetProperty("name").GetString(), made.GetProperty("replies")[0].GetProperty("text").GetString()));
        await SendAsync(anton, HttpMethod.Post, $"{path}/{note}/settled", new { isSettled = false });
        Assert.Equal(JsonValueKind.Null, Of(await JsonAsync(ilse, path), note).GetProperty("settledBy").ValueKind);

        // Its words go, and come in elsewhere: it finds them again. Deleted for good it says what they were.
        LiveText now = await The<TextStore>().TextAsync(main);
        int at = now.Text.IndexOf("\\maketitle", StringComparison.Ordinal);
        int longer = (await SendAsync(anton, HttpMethod.Post, path, new { file = main, version = now.Version, from = at, to = at + 30, text = "Longer" })).GetInt32();
        string words = now.Text.Substring(at, 30);
        await TypeAsync(id, main, at, at + 30, "");
        JsonElement gone = Of(await JsonAsync(ilse, path), longer);
        Assert.Equal((true, words), (gone.GetProperty("isGone").GetBoolean(), gone.GetProperty("words").GetString()));
        FileEntity other = (await The<FileStore>().FilesAsync(id)).First(f => f.Path == "chapters/why.tex");
        await TypeAsync(id, other.Id, 0, 0, words + "\n");
        JsonElement found = Of(await JsonAsync(ilse, path), longer);
        Assert.Equal((false, "chapters/why.tex", 0), (found.GetProperty("isGone").GetBoolean(), found.GetProperty("path").GetString(), found.GetProperty("from").GetInt32()));

        // What may not be is refused in words.
        await SendAsync(anton, HttpMethod.Delete, $"{path}/{note}", new { }, HttpStatusCode.Conflict);
        await SendAsync(ilse, HttpMethod.Patch, $"{path}/{note}", new { text = "Other words" }, HttpStatusCode.Conflict);
        await SendAsync(anton, HttpMethod.Post, path, new { file = main, version = 0, from = 5, to = 5, text = "x" }, HttpStatusCode.Conflict);
        await SendAsync(anton, HttpMethod.Post, $"{path}/{note}/replies", new { text = "  " }, HttpStatusCode.Conflict);
        await SendAsync(ilse, HttpMethod.Delete, $"{path}/{note}", new { }, HttpStatusCode.NoContent);
        Assert.DoesNotContain((await JsonAsync(ilse, path)).EnumerateArray(), n => n.GetProperty("id").GetInt32() == note);
    }

    [Fact]
    public async Task What_others_settled_is_news_for_those_who_wrote_or_answered_until_they_have_seen_it()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        using HttpClient anton = await SignInAsync("Anton Quill");
        (int id, int main) = await MainFileAsync(ilse);
        string path = $"/api/manuscripts/{id}/notes";
        foreach (HttpClient one in (HttpClient[])[ilse, bao, anton])
        {
            await SendAsync(one, HttpMethod.Post, $"/api/manuscripts/{id}/seen", new { }, HttpStatusCode.NoContent);
        }

        LiveText text = await The<TextStore>().TextAsync(main);
        int note = (await SendAsync(anton, HttpMethod.Post, path, new { file = main, version = text.Version, from = 0, to = 10, text = "Why?" })).GetInt32();
        int suggestion = (await SendAsync(anton, HttpMethod.Post, path, new { file = main, version = text.Version, from = 0, to = 10, text = "", proposal = "% Otherwise" })).GetInt32();
        await SendAsync(bao, HttpMethod.Post, $"{path}/{note}/replies", new { text = "It is right." });
        Assert.Empty(await SettledAsync(anton));
        await SendAsync(ilse, HttpMethod.Post, $"{path}/{note}/settled", new { isSettled = true });
        await SendAsync(ilse, HttpMethod.Post, $"{path}/decided", new { suggestions = (int[])[suggestion], isTaken = false });
        Assert.Equal([(note, "Ilse Marrable", null, text.Text[..10]), (suggestion, "Ilse Marrable", false, "Otherwise")], await SettledAsync(anton));
        // Bao answered one of them; Ilse knows what she did herself.
        Assert.Equal([note], (await SettledAsync(bao)).Select(s => s.Note));
        Assert.Empty(await SettledAsync(ilse));
        JsonElement entry = (await JsonAsync(anton, "/api/manuscripts")).EnumerateArray().First(m => m.GetProperty("id").GetInt32() == id);
        Assert.Equal(2, entry.GetProperty("news").GetProperty("settled").GetArrayLength());
        await SendAsync(anton, HttpMethod.Post, $"/api/manuscripts/{id}/seen", new { }, HttpStatusCode.NoContent);
        Assert.Empty(await SettledAsync(anton));
        Assert.Single(await SettledAsync(bao));

        async Task<(int Note, string? By, bool? IsTaken, string? Words)[]> SettledAsync(HttpClient client) =>
            [.. (await JsonAsync(client, $"/api/manuscripts/{id}/news")).GetProperty("settled").EnumerateArray().Select(s => (s.GetProperty("note").GetInt32(), s.GetProperty("person").GetProperty("name").GetString(),
                s.GetProperty("isTaken").ValueKind == JsonValueKind.Null ? (bool?)null : s.GetProperty("isTaken").GetBoolean(), s.GetProperty("words").GetString()))];
    }

    [Fact]
    public async Task A_note_of_the_text_goes_into_the_margin_and_back_with_what_was_answered()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        (int id, int main) = await MainFileAsync(ilse);
        string path = $"/api/manuscripts/{id}/notes";
        FileEntity file = (await The<FileStore>().FilesAsync(id)).First(f => f.Path == "chapters/close.tex");
        string before = (await The<TextStore>().TextAsync(file.Id)).Text;
        int place = before.IndexOf(", when eight quadrats", StringComparison.Ordinal);
        await TypeAsync(id, file.Id, place, place, "\\askilse{Nine, or 10\\,\\% more?}");
        LiveText text = await The<TextStore>().TextAsync(main);
        int preamble = text.Text.IndexOf("\\begin{document}", StringComparison.Ordinal);
        await TypeAsync(id, main, preamble, preamble, "\\newcommand{\\askilse}[1]{\\textcolor{red}{[IM: #1]}}\n");

        JsonElement typed = Assert.Single((await JsonAsync(bao, $"{path}/typed")).EnumerateArray());
        Assert.Equal(("chapters/close.tex", "askilse", 2), (typed.GetProperty("path").GetString(), typed.GetProperty("command").GetString(), typed.GetProperty("line").GetInt32()));
        var wish = new { path = "chapters/close.tex", command = "askilse", from = typed.GetProperty("from").GetInt32(), text = typed.GetProperty("text").GetString() };
        // Someone types before it in the meantime.
        await TypeAsync(id, file.Id, 0, 0, "% first\n");
        int note = (await SendAsync(bao, HttpMethod.Post, $"{path}/typed", wish)).GetInt32();
        Assert.Equal("% first\n" + before, (await The<TextStore>().TextAsync(file.Id)).Text);
        JsonElement made = Of(await JsonAsync(ilse, path), note);
        Assert.Equal(("Lichen dates a wall in the Marrow Valley to within nine years", @"Nine, or 10\,% more?"), (made.GetProperty("words").GetString(), made.GetProperty("text").GetString()));
        // It was taken already.
        await SendAsync(ilse, HttpMethod.Post, $"{path}/typed", wish, HttpStatusCode.Conflict);

        await SendAsync(ilse, HttpMethod.Post, $"{path}/{note}/replies", new { text = "Nine & no more." });
        await SendAsync(ilse, HttpMethod.Post, $"{path}/{note}/typed", new { }, HttpStatusCode.NoContent);
        string after = (await The<TextStore>().TextAsync(file.Id)).Text;
        Assert.Contains(@"nine years\askilse{Bao Tremlett: Nine, or 10\textbackslash{},\% more? – Ilse Marrable: Nine \& no more.}, when eight", after, StringComparison.Ordinal);
        Assert.Equal("Ilse Marrable", Of(await JsonAsync(ilse, path), note).GetProperty("settledBy").GetProperty("name").GetString());
        await SendAsync(ilse, HttpMethod.Post, $"{path}/{note}/typed", new { }, HttpStatusCode.Conflict);
    }

    [Fact]
    public async Task Where_no_command_for_notes_is_at_hand_the_package_is_loaded_with_the_note_and_one_whose_words_are_gone_stays()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, int main) = await MainFileAsync(ilse);
        string path = $"/api/manuscripts/{id}/notes";
        LiveText text = await The<TextStore>().TextAsync(main);
        int from = text.Text.IndexOf("\\maketitle", StringComparison.Ordinal);
        int note = (await SendAsync(ilse, HttpMethod.Post, path, new { file = main, version = text.Version, from, to = from + 10, text = "Here?" })).GetInt32();
        int gone = (await SendAsync(ilse, HttpMethod.Post, path, new { file = main, version = text.Version, from = 2, to = 9, text = "Why?" })).GetInt32();
        await TypeAsync(id, main, 0, 12, "");
        await SendAsync(ilse, HttpMethod.Post, $"{path}/{gone}/typed", new { }, HttpStatusCode.Conflict);
        await SendAsync(ilse, HttpMethod.Post, $"{path}/{note}/typed", new { }, HttpStatusCode.NoContent);
        string after = (await The<TextStore>().TextAsync(main)).Text;
        Assert.Contains("\\usepackage{todonotes}", after, StringComparison.Ordinal);
        Assert.Contains("\\maketitle\\todo{Ilse Marrable: Here?}", after, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Five_hundred_notes_are_followed_through_much_typing_quickly_and_point_at_their_words()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        (int id, int main) = await MainFileAsync(ilse);
        string body = string.Concat(Enumerable.Range(0, 500).Select(i => $"Passage number {i} of many.\n"));
        LiveText first = await The<TextStore>().TextAsync(main);
        await TypeAsync(id, main, first.Text.Length, first.Text.Length, body);
        LiveText text = await The<TextStore>().TextAsync(main);
        for (int i = 0; i < 500; i++)
        {
            int from = text.Text.IndexOf($"number {i} of", StringComparison.Ordinal);
            await The<NoteStore>().AddAsync(new MarginNote { ManuscriptId = id, FileId = main, Version = text.Version, From = from, To = from + $"number {i} of".Length, Words = $"number {i} of", PersonId = 1, Text = $"{i}" });
        }

        for (int i = 0; i < 300; i++)
        {
            await TypeAsync(id, main, first.Text.Length, first.Text.Length, "x");
        }

        JsonElement[] notes = [.. (await JsonAsync(ilse, $"/api/manuscripts/{id}/notes")).EnumerateArray().Where(n => int.TryParse(n.GetProperty("text").GetString(), out _))];
        string now = (await The<TextStore>().TextAsync(main)).Text;
        Assert.Equal(500, notes.Length);
        Assert.All(notes, n => Assert.Equal($"number {n.GetProperty("text").GetString()} of", now[n.GetProperty("from").GetInt32()..n.GetProperty("to").GetInt32()]));
    }

    [Theory]
    [InlineData("Ask @Ilse about it.", "1")]
    [InlineData("@bao tremlett: yes", "2")]
    [InlineData("@Baobab and mail@Ilsemarrable", "")]
    [InlineData("no one", "")]
    [InlineData("@Ilse, @Bao", "1,2")]
    public void People_are_named_by_a_sign_and_their_name(string text, string expected)
    {
        Membership[] members = [Of(1, "Ilse Marrable"), Of(2, "Bao Tremlett")];
        Assert.Equal(expected, string.Join(',', NotesApi.Named(members, [text])));

        static Membership Of(int id, string name) => new() { PersonId = id, Person = new Person { Name = name, Colour = "" } };
    }
}
