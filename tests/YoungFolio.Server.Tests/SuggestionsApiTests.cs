using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Microsoft.Extensions.DependencyInjection;
using YoungFolio.Cowriting;
using YoungFolio.Storage;

namespace YoungFolio.Server.Tests;

/// <summary>Suggestions over HTTP: made by reviewers, taken or declined by authors, once.</summary>
public sealed class SuggestionsApiTests : RunningServer
{
    private const string Sentence = "Stones were laid in rows.";

    private async Task<string> TextAsync(int file) => (await The<TextStore>().TextAsync(file)).Text;

    private async Task TypeAsync(int manuscript, int file, int from, int to, string words)
    {
        LiveText now = await The<TextStore>().TextAsync(file);
        await The<TextStore>().TypeAsync(manuscript, new Actor(2), file, now.Version, [new Update("2:t", ChangeSet.Replace(now.Text.Length, from, to, words))]);
    }

    private async Task<(int Manuscript, int File, string Path)> SentenceAsync(HttpClient client)
    {
        (int id, int main) = await MainFileAsync(client);
        int at = (await TextAsync(main)).IndexOf("\\maketitle", StringComparison.Ordinal);
        await TypeAsync(id, main, at, at, Sentence + "\n");
        return (id, main, $"/api/manuscripts/{id}/notes");
    }

    /// <summary>Suggests another sentence in the place of a passage.</summary>
    private async Task<int> SuggestAsync(HttpClient client, string path, int file, string passage, string proposal, string text = "")
    {
        LiveText now = await The<TextStore>().TextAsync(file);
        int from = now.Text.IndexOf(passage, StringComparison.Ordinal);
        return (await SendAsync(client, path, new { file, version = now.Version, from, to = from + passage.Length, text, proposal })).GetInt32();
    }

    private static async Task<JsonElement> NoteAsync(HttpClient client, string path, int id) => (await JsonAsync(client, path)).EnumerateArray().First(n => n.GetProperty("id").GetInt32() == id);

    private static int[] Decided(JsonElement view) => [.. view.GetProperty("decided").EnumerateArray().Select(d => d.GetInt32())];

    private static string[] Left(JsonElement view) => [.. view.GetProperty("left").EnumerateArray().Select(l => l.GetProperty("why").GetString()!)];

    [Fact]
    public async Task A_suggestion_is_held_beside_the_text_and_taken_where_its_words_are_by_then_with_an_answer()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient anton = await SignInAsync("Anton Quill");
        (int id, int main, string path) = await SentenceAsync(ilse);
        string before = await TextAsync(main);
        int made = await SuggestAsync(anton, path, main, Sentence, "Stones were laid in courses.", "The word of the trade, @Ilse.");
        Assert.Equal(before, await TextAsync(main));
        JsonElement note = await NoteAsync(ilse, path, made);
        Assert.Equal(("rows.", "courses.", "rows."), (note.GetProperty("words").GetString(), note.GetProperty("proposal").GetString(), note.GetProperty("instead").GetString()));
        Assert.Equal(JsonValueKind.Null, note.GetProperty("isTaken").ValueKind);
        JsonElement shelf = (await JsonAsync(ilse, "/api/manuscripts")).EnumerateArray().First(m => m.GetProperty("id").GetInt32() == id);
        int waiting = shelf.GetProperty("suggestions").GetInt32();
        Assert.True(waiting > 0);

        // Whoever reviews decides nothing; settled like a note it can't be either.
        await SendAsync(anton, $"{path}/decided", new { suggestions = (int[])[made], isTaken = true }, HttpStatusCode.Forbidden);
        await SendAsync(ilse, $"{path}/{made}/settled", new { isSettled = true }, HttpStatusCode.Conflict);
        await TypeAsync(id, main, 0, 0, "% typed meanwhile\n");
        int revision = (await The<ManuscriptStore>().ManuscriptAsync(id)).Revision;
        Assert.Equal([made], Decided(await SendAsync(ilse, $"{path}/decided", new { suggestions = (int[])[made], isTaken = true, answer = " Thank you. " })));
        Assert.Equal("% typed meanwhile\n" + before.Replace("rows.", "courses.", StringComparison.Ordinal), await TextAsync(main));
        note = await NoteAsync(anton, path, made);
        Assert.Equal((true, "Ilse Marrable", "Thank you."), (note.GetProperty("isTaken").GetBoolean(), note.GetProperty("settledBy").GetProperty("name").GetString(), note.GetProperty("replies")[0].GetProperty("text").GetString()));
        Assert.Equal("courses.", note.GetProperty("words").GetString());
        // A revision that says whose it was.
        Assert.Equal(revision + 1, (await The<ManuscriptStore>().ManuscriptAsync(id)).Revision);
        JsonElement said = (await JsonAsync(ilse, $"/api/manuscripts/{id}/chronicle")).GetProperty("events")[0];
        Assert.Contains("took a suggestion of Anton Quill", said.GetRawText(), StringComparison.Ordinal);
        Assert.Equal("Ilse Marrable", said.GetProperty("person").GetProperty("name").GetString());
        Assert.Equal(waiting - 1, (await JsonAsync(ilse, "/api/manuscripts")).EnumerateArray().First(m => m.GetProperty("id").GetInt32() == id).GetProperty("suggestions").GetInt32());
        // What is in the text isn't opened again, nor deleted by whoever made it.
        await SendAsync(ilse, $"{path}/{made}/settled", new { isSettled = false }, HttpStatusCode.Conflict);
    }

    [Fact]
    public async Task Of_two_who_decide_the_same_one_the_first_has_decided_and_the_other_is_told()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient bao = await SignInAsync("Bao Tremlett");
        using HttpClient anton = await SignInAsync("Anton Quill");
        (int id, int main, string path) = await SentenceAsync(ilse);
        string before = await TextAsync(main);
        for (int round = 0; round < 6; round++)
        {
            int made = await SuggestAsync(anton, path, main, "Stones", $"Stones{round}");
            JsonElement[] answers = await Task.WhenAll(
                SendAsync(ilse, $"{path}/decided", new { suggestions = (int[])[made], isTaken = true }),
                SendAsync(bao, $"{path}/decided", new { suggestions = (int[])[made], isTaken = false }));
            Assert.Single(answers.SelectMany(Decided));
            bool isTaken = (await NoteAsync(ilse, path, made)).GetProperty("isTaken").GetBoolean();
            Assert.Equal(isTaken ? "Ilse Marrable has taken it already." : "Bao Tremlett has declined it already.", Left(answers[isTaken ? 1 : 0]).Single());
            Assert.Equal(isTaken, (await TextAsync(main)).Contains($"Stones{round} were", StringComparison.Ordinal));
            await TypeAsync(id, main, 0, (await TextAsync(main)).Length, before);
        }

        Assert.Equal("This suggestion isn’t there any more.", Left(await SendAsync(ilse, $"{path}/decided", new { suggestions = (int[])[9999], isTaken = true })).Single());
    }

    [Fact]
    public async Task Many_are_taken_at_once_and_those_that_cannot_be_say_why()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient anton = await SignInAsync("Anton Quill");
        (int id, int main, string path) = await SentenceAsync(ilse);
        int first = await SuggestAsync(anton, path, main, "Stones were", "Boulders were");
        int last = await SuggestAsync(anton, path, main, "in rows.", "in courses.");
        int crossed = await SuggestAsync(ilse, path, main, "laid in rows.", "set.");
        int changed = await SuggestAsync(anton, path, main, "\\maketitle", "\\maketitle\\tableofcontents");
        await TypeAsync(id, main, 0, 0, "% gone with its words\n");
        int gone = await SuggestAsync(anton, path, main, "% gone with its words", "% other words");
        await TypeAsync(id, main, 0, "% gone with its words\n".Length, "");
        int at = (await TextAsync(main)).IndexOf("\\maketitle", StringComparison.Ordinal);
        await TypeAsync(id, main, at + 1, at + 5, "MAKE");
        JsonElement done = await SendAsync(ilse, $"{path}/decided", new { suggestions = (int[])[changed, gone, crossed, last, first], isTaken = true });
        Assert.Equal([first, last], Decided(done).Order());
        Assert.Equal(["Another one that is taken changes the same words.", "The words that it changes are gone.", "The words that it changes were changed since."], Left(done).Order());
        Assert.Contains("Boulders were laid in courses.", await TextAsync(main), StringComparison.Ordinal);
        Assert.Contains("\\MAKEtitle", await TextAsync(main), StringComparison.Ordinal);
        // Wanted all the same, it goes over what others wrote since.
        Assert.Equal([changed], Decided(await SendAsync(ilse, $"{path}/decided", new { suggestions = (int[])[changed], isTaken = true, anyway = true })));
        Assert.Contains("\\maketitle\\tableofcontents", await TextAsync(main), StringComparison.Ordinal);
        // A declined one may be opened again.
        await SendAsync(ilse, $"{path}/decided", new { suggestions = (int[])[gone], isTaken = false });
        await SendAsync(ilse, $"{path}/{gone}/settled", new { isSettled = false });
        Assert.Equal(JsonValueKind.Null, (await NoteAsync(ilse, path, gone)).GetProperty("isTaken").ValueKind);
    }

    [Fact]
    public async Task What_changes_nothing_is_refused_and_in_print_all_that_wait_are_marked_and_nothing_is_changed()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient anton = await SignInAsync("Anton Quill");
        (_, int main, string path) = await SentenceAsync(ilse);
        LiveText now = await The<TextStore>().TextAsync(main);
        await SendAsync(anton, path, new { file = main, version = now.Version, from = 0, to = 5, text = "", proposal = now.Text[..5] }, HttpStatusCode.BadRequest);
        await SendAsync(anton, path, new { file = main, version = now.Version, from = 0, to = now.Text.Length + 1, text = "", proposal = "x" }, HttpStatusCode.Conflict);
        await SendAsync(anton, path, new { file = main, version = now.Version, from = 0, to = 5, text = "", proposal = new string('x', 20_001) }, HttpStatusCode.Conflict);
        await SendAsync(ilse, $"{path}/decided", new { suggestions = Array.Empty<int>(), isTaken = true }, HttpStatusCode.BadRequest);
        int none = (await JsonAsync(ilse, $"{path}/print?person=2000")).GetProperty("changes").GetArrayLength();
        Assert.Equal(0, none);
        await SuggestAsync(anton, path, main, "rows.", "courses, which lie one upon the other.");
        JsonElement print = await JsonAsync(ilse, $"{path}/print");
        Assert.Contains("courses", print.GetProperty("changes").GetRawText(), StringComparison.Ordinal);
        Assert.Equal("%PDF", Encoding.ASCII.GetString(await ilse.GetByteArrayAsync($"{path}/print/pdf"), 0, 4));
        Assert.Equal(now.Text, await TextAsync(main));
    }

    [Fact]
    public async Task All_that_was_said_is_handed_on_as_a_table_and_as_a_PDF()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient anton = await SignInAsync("Anton Quill");
        (_, int main, string path) = await SentenceAsync(ilse);
        int made = await SuggestAsync(anton, path, main, "rows.", "courses.", "=1+1, \"courses\"");
        await SendAsync(ilse, $"{path}/decided", new { suggestions = (int[])[made], isTaken = false, answer = "No." });
        string csv = Encoding.UTF8.GetString(await ilse.GetByteArrayAsync($"{path}/out.csv"));
        Assert.StartsWith("\uFEFFSection,File,Line,", csv, StringComparison.Ordinal);
        Assert.Contains(",suggestion,rows.,courses.,Anton Quill,", csv, StringComparison.Ordinal);
        Assert.Contains(",\"'=1+1, \"\"courses\"\"\",declined,Ilse Marrable,", csv, StringComparison.Ordinal);
        Assert.DoesNotContain("declined", await ilse.GetStringAsync($"{path}/out.csv?open=true"), StringComparison.Ordinal);
        Assert.Equal("%PDF", Encoding.ASCII.GetString(await ilse.GetByteArrayAsync($"{path}/out.pdf"), 0, 4));
        // Under the headings where they stand.
        Assert.Contains("3.2 The delay at the start,chapters/growth.tex,", csv, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Suggested_taken_and_written_at_the_same_place_by_many_it_comes_to_one_text_with_each_once()
    {
        using HttpClient ilse = await SignInAsync("Ilse Marrable");
        using HttpClient anton = await SignInAsync("Anton Quill");
        (int id, int main, string path) = await SentenceAsync(ilse);
        int[] made = await Task.WhenAll(Enumerable.Range(0, 8).Select(i => SuggestAsync(anton, path, main, "Stones", $"Stone{(char)('a' + i)}")));
        // Typed without a pause before the words, while each is taken or declined by two.
        Task typing = Task.Run(async () =>
        {
            for (int i = 0; i < 40; i++)
            {
                await TypeAsync(id, main, 0, 0, "%\n");
            }
        });
        JsonElement[] answers = await Task.WhenAll(made.Select((m, i) => SendAsync(ilse, $"{path}/decided", new { suggestions = (int[])[m], isTaken = true })));
        await typing;
        string text = await TextAsync(main);
        int taken = answers.Sum(a => Decided(a).Length);
        Assert.Equal(1, taken);
        Assert.Equal(7, answers.SelectMany(Left).Count(w => w is "The words that it changes were changed since." or "The words that it changes are gone."));
        Assert.Equal(40, text.Split("%\n").Length - 1);
        Assert.Contains(" were laid in rows.", text, StringComparison.Ordinal);
        Assert.Equal(text, await The<HistoryReader>().TextAtAsync(id, main, int.MaxValue));
    }
}
