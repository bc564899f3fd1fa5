using System.Text;
using System.Text.Json;
using YoungFolio.Chronicle;
using YoungFolio.Cowriting;

namespace YoungFolio.Core.Tests;

/// <summary>Histories from elsewhere, as streams of commits (the manual page of <c>git fast-import</c>); what git itself writes is tested with the server.</summary>
public sealed class HistoryImportTests
{
    private static IReadOnlyList<PastCommit> Read(string stream) => HistoryImport.Read(Encoding.UTF8.GetBytes(stream.ReplaceLineEndings("\n")));

    private static string Commit(string mark, string rest, string from = "", string branch = "refs/heads/main") =>
        $"commit {branch}\nmark {mark}\nauthor Ada Lund <ada@x.example> 1772442000 +0100\ncommitter Bo <bo@x.example> 1772442060 +0000\ndata 5\nBegun{(from.Length > 0 ? $"\nfrom {from}" : "")}\n{rest}\n";

    private static string Shown(PastCommit commit) => string.Join("; ", commit.Files.Select(f => $"{f.Key}={Encoding.UTF8.GetString(f.Value)}"));

    [Fact]
    public void Each_commit_has_its_writer_its_moment_its_words_and_all_files()
    {
        IReadOnlyList<PastCommit> read = Read(
            """
            # a comment
            feature done
            blob
            mark :1
            data 6
            größ

            reset refs/heads/main
            commit refs/heads/main
            mark :2
            author Ada Lund <ada@x.example> 1772442000 +0100
            committer Bo <bo@x.example> 1772442060 +0000
            encoding UTF-8
            data <<END
            First words
            of two lines
            END
            M 100644 :1 main.tex
            M 100755 inline "chapters/gr\303\266\303\237e.tex"
            data 3
            abc
            M 120000 :1 link
            M 160000 0123456789012345678901234567890123456789 module

            commit refs/heads/main
            committer Bo <bo@x.example> 1772442060 +0000
            data 0
            D main.tex
            R "chapters/gr\303\266\303\237e.tex" a b.tex
            done

            """);
        Assert.Equal(2, read.Count);
        Assert.Equal(("Ada Lund", new DateTime(2026, 3, 2, 9, 0, 0, DateTimeKind.Utc), "First words\nof two lines"), (read[0].Author, read[0].At, read[0].Message));
        Assert.Equal("chapters/größe.tex=abc; main.tex=größ", Shown(read[0]));
        Assert.Equal(("Bo", "", "a b.tex=abc"), (read[1].Author, read[1].Message, Shown(read[1])));
    }

    [Theory]
    [InlineData("M 100644 inline a/x.tex\ndata 1\n1\nM 100644 inline a/y.tex\ndata 1\n2\nM 100644 inline b.tex\ndata 1\n3\nD a", "b.tex=3")]
    [InlineData("M 100644 inline a/x.tex\ndata 1\n1\nC a b", "a/x.tex=1; b/x.tex=1")]
    [InlineData("M 100644 inline a/x.tex\ndata 1\n1\nR a b", "b/x.tex=1")]
    [InlineData("M 100644 inline x.tex\ndata 1\n1\ndeleteall\nM 100644 inline y.tex\ndata 1\n2", "y.tex=2")]
    [InlineData("N inline :1\ndata 1\nn\nM 644 inline \"q \\\"x\\\".tex\"\ndata 1\n1", "q \"x\".tex=1")]
    public void Folders_go_are_copied_and_renamed_with_all_in_them(string changes, string files) => Assert.Equal(files, Shown(Assert.Single(Read(Commit(":1", changes)))));

    [Fact]
    public void Of_several_branches_the_main_line_is_read_and_merges_go_on_from_their_first_parent()
    {
        string stream = Commit(":1", "M 100644 inline a.tex\ndata 1\n1")
            + Commit(":2", "M 100644 inline b.tex\ndata 1\n2", ":1", "refs/heads/side")
            + Commit(":3", "M 100644 inline a.tex\ndata 1\n3", ":1")
            + Commit(":4", "merge :2\nM 100644 inline b.tex\ndata 1\n2", ":3")
            + Commit(":5", "M 100644 inline c.tex\ndata 1\n5", ":2", "refs/heads/side");
        Assert.Equal(["a.tex=1", "a.tex=3", "a.tex=3; b.tex=2"], Read(stream).Select(Shown));
        Assert.Equal(["a.tex=1", "a.tex=1; b.tex=2"], Read(Commit(":1", "M 100644 inline a.tex\ndata 1\n1", "", "refs/heads/x") + Commit(":2", "M 100644 inline b.tex\ndata 1\n2", ":1", "refs/heads/x")).Select(Shown));
    }

    [Theory]
    [InlineData("")]
    [InlineData("\n\n")]
    [InlineData("PK and something else")]
    [InlineData("blob\nmark :1\ndata 100\nshort")]
    [InlineData("commit refs/heads/main\nauthor Ada 17\ndata 1\nx")]
    [InlineData("commit refs/heads/main\ncommitter A <a> 99999999999999999999 +0000\ndata 1\nx")]
    [InlineData("commit refs/heads/main\ncommitter A <a> 1 +0000\ndata 1\nx\nM 100644 :9 a.tex\n")]
    [InlineData("commit refs/heads/main\ncommitter A <a> 1 +0000\ndata 1\nx\nfrom :7\n")]
    [InlineData("commit refs/heads/main\ncommitter A <a> 1 +0000\ndata <<END\nx\n")]
    [InlineData("commit refs/heads/main\ncommitter A <a> 1 +0000\ndata 1\nx\nM 100644\n")]
    public void What_is_no_history_or_cut_off_is_refused_in_words(string stream) =>
        Assert.True(Assert.Throws<HistoryImportException>(() => HistoryImport.Read(Encoding.UTF8.GetBytes(stream))).Message.Length > 20);

    [Fact]
    public void Letters_with_accents_apart_are_the_same_names()
    {
        PastCommit commit = Assert.Single(Read(Commit(":1", "M 100644 inline gro\u0308n.tex\ndata 1\n1\nM 100644 inline \"a\\314\\210.tex\"\ndata 1\n2\nM 100644 inline \u00e4.tex\ndata 1\n3")));
        Assert.Equal("grön.tex=1; ä.tex=3", Shown(commit));
    }

    [Fact]
    public void What_is_not_taken_is_in_no_state_and_what_is_is_as_it_was_taken()
    {
        string stream = Commit(":1", "M 100644 inline a.tex\ndata 1\n1\nM 100644 inline a.log\ndata 1\nx") + Commit(":2", "R a.tex b.log\nM 100644 inline c.tex\ndata 1\n2", ":1");
        IReadOnlyList<PastCommit> read = HistoryImport.Read(Encoding.UTF8.GetBytes(stream), (path, content) => path.EndsWith(".log", StringComparison.Ordinal) ? null : [.. content, (byte)'!']);
        Assert.Equal(["a.tex=1!", "c.tex=2!"], read.Select(Shown));
    }

    [Fact]
    public void More_changes_than_can_be_stored_in_a_while_are_refused_before_any_is()
    {
        Assert.Single(Read(Commit(":1", "M 100644 inline a.tex\ndata 1\n1\n" + string.Concat(Enumerable.Repeat("D b\n", HistoryImport.MostChanges - 1)))));
        Assert.Contains("too many changes", Assert.Throws<HistoryImportException>(() => Read(Commit(":1", string.Concat(Enumerable.Repeat("D b\n", HistoryImport.MostChanges + 1))))).Message, StringComparison.Ordinal);
    }

    /// <summary>Whatever is broken in it: it is read, or refused; nothing else.</summary>
    [Fact]
    public void A_stream_with_broken_bytes_is_read_or_refused()
    {
        byte[] whole = Encoding.UTF8.GetBytes(Commit(":1", "M 100644 inline \"a\\303\\266.tex\"\ndata 3\n1\n2") + Commit(":2", "D a\nR b c\nC \"x\" y", ":1"));
        var random = new Random(11);
        int refused = 0;
        for (int round = 0; round < 5000; round++)
        {
            byte[] broken = [.. whole];
            for (int i = random.Next(1, 5); i > 0; i--)
            {
                broken[random.Next(broken.Length)] = (byte)random.Next(256);
            }

            try
            {
                HistoryImport.Read(random.Next(3) == 0 ? broken[..random.Next(broken.Length)] : broken);
            }
            catch (HistoryImportException)
            {
                refused++;
            }
        }

        Assert.InRange(refused, 500, 5000);
    }

    [Fact]
    public async Task What_goes_out_comes_in_again_as_it_was()
    {
        using var output = new MemoryStream();
        var bundle = new HistoryBundle(output);
        var at = new DateTime(2026, 3, 2, 9, 0, 0, DateTimeKind.Utc);
        bundle.Read(new HistoryStep(1, 1, null, at, RevisionKind.Create, 1, "ä \"x\".tex"), "größe 𝛼\n");
        await bundle.CommitAsync("Ilse", at, "Begun", _ => Task.FromResult<byte[]>([]));
        bundle.Read(new HistoryStep(2, 1, null, at, RevisionKind.Text, 1, JsonSerializer.Serialize(ChangeSet.Replace(9, 9, 9, "data 5\n#more\n"))), null);
        bundle.Read(new HistoryStep(3, 1, null, at, RevisionKind.Rename, 1, "b/𝛼.tex"), null);
        await bundle.CommitAsync("Bao", at.AddSeconds(5), "More\n\nlines", _ => Task.FromResult<byte[]>([]));
        IReadOnlyList<PastCommit> read = HistoryImport.Read(output.ToArray());
        Assert.Equal(["ä \"x\".tex=größe 𝛼\n", "b/𝛼.tex=größe 𝛼\ndata 5\n#more\n"], read.Select(Shown));
        Assert.Equal([("Ilse", "Begun", at), ("Bao", "More\n\nlines", at.AddSeconds(5))], read.Select(c => (c.Author, c.Message, c.At)));
    }
}
