using YoungFolio.Chronicle;

namespace YoungFolio.Core.Tests;

/// <summary>Notes and suggestions handed on: as a table that others read, and as a document that prints every word of them.</summary>
public sealed class ReviewSheetTests
{
    private static readonly DateTime s_at = new(2026, 3, 1, 10, 5, 0, DateTimeKind.Utc);

    private static ReviewEntry Entry(string text, string words = "A wall", string? proposal = null, string state = "open", string section = "1 Walls") =>
        new(section, "chapters/a.tex", 7, words, proposal, "Anton Quill", s_at, text, state, state == "open" ? "" : "Ilse Marrable", []);

    /// <summary>Read back by the rules of RFC 4180, written down here once more.</summary>
    private static List<List<string>> Read(string csv)
    {
        List<List<string>> rows = [[]];
        string value = "";
        bool isQuoted = false;
        for (int i = 0; i < csv.Length; i++)
        {
            (isQuoted, value) = (csv[i], isQuoted) switch
            {
                ('"', true) when i + 1 < csv.Length && csv[i + 1] == '"' => (true, value + csv[i++]),
                ('"', _) => (!isQuoted, value),
                (var sign, true) => (true, value + sign),
                (',' or '\r', _) => (false, Ended()),
                ('\n', _) => (false, Row()),
                (var sign, _) => (false, value + sign),
            };
        }

        rows.RemoveAt(rows.Count - 1);
        return rows;

        string Ended()
        {
            rows[^1].Add(value);
            return "";
        }

        string Row()
        {
            rows.Add([]);
            return "";
        }
    }

    [Fact]
    public void A_table_holds_all_of_it_whatever_signs_it_is_of()
    {
        ReviewEntry plain = Entry("Say \"which\", and\nwhere.") with { Answers = [new("Ilse Marrable", s_at, "Here, there"), new("Bao Tremlett", s_at, "Yes")] };
        ReviewEntry taken = Entry("", "rows", "courses, or \"rows\"", "taken");
        List<List<string>> rows = Read(ReviewSheet.Csv([plain, taken]));
        Assert.Equal(["Section", "File", "Line", "Kind", "Words", "Proposal", "By", "At (UTC)", "Says", "State", "Decided by", "Answers"], rows[0]);
        Assert.Equal(["1 Walls", "chapters/a.tex", "7", "note", "A wall", "", "Anton Quill", "2026-03-01 10:05", "Say \"which\", and\nwhere.", "open", "", "Ilse Marrable, 2026-03-01 10:05: Here, there\nBao Tremlett, 2026-03-01 10:05: Yes"], rows[1]);
        Assert.Equal(["suggestion", "rows", "courses, or \"rows\""], rows[2][3..6]);
        Assert.Equal(3, rows.Count);
    }

    [Theory]
    [InlineData("=cmd()")]
    [InlineData("+1")]
    [InlineData("-1")]
    [InlineData("@SUM(A1)")]
    public void No_spreadsheet_takes_words_for_a_formula(string words) =>
        Assert.Equal("'" + words, Read(ReviewSheet.Csv([Entry(words)]))[1][8]);

    [Fact]
    public void A_document_prints_every_word_under_its_heading_and_what_became_of_it()
    {
        ReviewEntry note = Entry("First line.\nSecond line.") with { Answers = [new("Ilse Marrable", s_at, "It is done.")] };
        var result = Compiled.Files(("main.tex", ReviewSheet.Markup("Reading Walls", s_at, [note, Entry("Why not", "in rows of stones", "in courses", "declined", "2 Faces & copes"), Entry("", "all of it", "", "taken", "2 Faces & copes")])));
        Assert.Empty(result.Report.Findings);
        string text = Compiled.Text(result);
        foreach (string words in (string[])["Reading Walls", "3 in all, 1 open", "1 Walls", "2 Faces & copes", "chapters/a.tex, line 7", "First line.", "Second line.", "It is done.", "in rows of stones", "in courses", "declined, Ilse Marrable", "taken, Ilse Marrable"])
        {
            Assert.Contains(words, text, StringComparison.Ordinal);
        }

        Assert.Equal(1, text.Split("2 Faces").Length - 1);
    }

    /// <summary>Whatever someone writes in a note is printed as it stands, and carries nothing out.</summary>
    [Theory]
    [InlineData(@"\end{document} \input{/etc/passwd}")]
    [InlineData(@"50% of #1 & $x_1^2$ ~ {open \emph{")]
    [InlineData("a|b <c> \"d\" g-h ‘i’")]
    [InlineData(@"\begin{quote} \\ \def\x{\x}\x")]
    public void What_is_written_is_printed_sign_by_sign(string words)
    {
        var result = Compiled.Files(("main.tex", ReviewSheet.Markup(words, s_at, [Entry(words, words, words, "open", words), Entry("the end")])));
        Assert.Empty(result.Report.Findings);
        string text = Compiled.Text(result, "-raw");
        string Bare(string t) => string.Concat(t.Where(c => !char.IsWhiteSpace(c)));
        Assert.Contains(Bare(words), Bare(text), StringComparison.Ordinal);
        Assert.Contains("the end", text, StringComparison.Ordinal);
    }
}
