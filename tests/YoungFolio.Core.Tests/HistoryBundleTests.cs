using System.Text;
using System.Text.Json;
using YoungFolio.Chronicle;
using YoungFolio.Cowriting;

namespace YoungFolio.Core.Tests;

/// <summary>Histories as streams of commits (the manual page of <c>git fast-import</c>); what git makes of them is tested with the server.</summary>
public sealed class HistoryBundleTests
{
    private static readonly DateTime s_at = new(2026, 3, 2, 9, 0, 0, DateTimeKind.Utc);

    private static HistoryStep Step(int number, string kind, int file, string payload) => new(number, 1, null, s_at, kind, file, payload);

    private static async Task<string> WriteAsync(Func<HistoryBundle, Task> write)
    {
        using var output = new MemoryStream();
        await write(new HistoryBundle(output));
        return Encoding.UTF8.GetString(output.ToArray());
    }

    private static Task<byte[]> Content(string digest) => Task.FromResult(Encoding.UTF8.GetBytes($"content {digest}"));

    [Fact]
    public async Task A_commit_has_its_writer_its_moment_its_words_and_only_what_changed()
    {
        string stream = await WriteAsync(async bundle =>
        {
            bundle.Read(Step(1, RevisionKind.Create, 1, "main.tex"), "größe\n");
            bundle.Read(Step(2, RevisionKind.Create, 2, "p.png\nabc"), null);
            await bundle.CommitAsync("Ilse Marrable", s_at, "Begun", Content);
            bundle.Read(Step(3, RevisionKind.Text, 1, JsonSerializer.Serialize(ChangeSet.Replace(6, 6, 6, "more"))), null);
            await bundle.CommitAsync("Bao <Tremlett>\n", s_at.AddSeconds(1), "More", Content);
        });
        Assert.Equal(
            """
            commit refs/heads/main
            author Ilse Marrable <ilse.marrable@young-folio.invalid> 1772442000 +0000
            committer Ilse Marrable <ilse.marrable@young-folio.invalid> 1772442000 +0000
            data 5
            Begun
            M 100644 inline "main.tex"
            data 8
            größe

            M 100644 inline "p.png"
            data 11
            content abc

            commit refs/heads/main
            author Bao Tremlett <bao.tremlett@young-folio.invalid> 1772442001 +0000
            committer Bao Tremlett <bao.tremlett@young-folio.invalid> 1772442001 +0000
            data 4
            More
            M 100644 inline "main.tex"
            data 12
            größe
            more


            """.ReplaceLineEndings("\n"), stream);
    }

    [Fact]
    public async Task Files_that_go_are_renamed_replaced_or_come_back_are_so_in_the_commits()
    {
        string stream = await WriteAsync(async bundle =>
        {
            bundle.Read(Step(1, RevisionKind.Create, 1, "a \"quoted\" name.tex"), "a\n");
            bundle.Read(Step(2, RevisionKind.Create, 2, "p.png\nabc"), null);
            await bundle.CommitAsync("", s_at, "1", Content);
            bundle.Read(Step(3, RevisionKind.Rename, 1, "b.tex"), null);
            bundle.Read(Step(4, RevisionKind.Upload, 2, "def"), null);
            await bundle.CommitAsync("X", s_at, "2", Content);
            bundle.Read(Step(5, RevisionKind.Delete, 1, "b.tex"), null);
            await bundle.CommitAsync("X", s_at, "3", Content);
            bundle.Read(Step(6, RevisionKind.BringBack, 1, "b.tex"), "a\n");
            bundle.Read(new HistoryStep(7, 1, null, s_at, "setting", null, "title: X"), null);
            await bundle.CommitAsync("X", s_at, "4", Content);
        });
        string[] changes = [.. stream.Split('\n').Where(l => l.StartsWith("M ", StringComparison.Ordinal) || l.StartsWith("D ", StringComparison.Ordinal) || l.StartsWith("author", StringComparison.Ordinal)).Select(l => l.Split(" <")[0])];
        Assert.Equal(
            ["author Somebody", "M 100644 inline \"a \\\"quoted\\\" name.tex\"", "M 100644 inline \"p.png\"",
             "author X", "D \"a \\\"quoted\\\" name.tex\"", "M 100644 inline \"b.tex\"", "M 100644 inline \"p.png\"",
             "author X", "D \"b.tex\"", "author X", "M 100644 inline \"b.tex\""], changes);
        Assert.Contains("content def", stream, StringComparison.Ordinal);
    }
}
