using System.Diagnostics;
using YoungFolio.Manuscript.Searching;

namespace YoungFolio.Core.Tests;

/// <summary>Finding and replacing in typed text.</summary>
public sealed class SearchTests
{
    private static string[] Found(string text, SearchQuery query) => [.. new TextSearch(query).Find(text).Select(h => text.Substring(h.Offset, h.Length))];

    private static string Replaced(string text, SearchQuery query, string with)
    {
        foreach (SearchHit hit in new TextSearch(query).Find(text, with).Reverse())
        {
            text = text.Remove(hit.Offset, hit.Length).Insert(hit.Offset, hit.Replacement);
        }

        return text;
    }

    /// <summary>What prints of a text, as far as it can be told from typed text: the rest as dots.</summary>
    private static string Printed(string text)
    {
        char[] left = text.ToCharArray();
        foreach ((int from, int to) in UnprintedMarkup.Find(text))
        {
            Array.Fill(left, '.', from, to - from);
        }

        return new string(left);
    }

    [Theory]
    [InlineData("wall", false, false, "Wall,wall,wall")]
    [InlineData("wall", true, false, "wall,wall")]
    [InlineData("wall", false, true, "Wall")]
    [InlineData("Wall", true, true, "Wall")]
    [InlineData("a.c", false, false, "")]
    public void Words_are_found_by_case_and_as_wholes(string words, bool matchesCase, bool whole, string expected) =>
        Assert.Equal(expected.Split(',', StringSplitOptions.RemoveEmptyEntries), Found("Wall walls drywall abc", new SearchQuery(words, matchesCase, whole)));

    [Fact]
    public void A_space_finds_a_tie_and_the_end_of_a_line_but_not_of_a_paragraph() =>
        Assert.Equal(["Section~3", "section\n  3", "Section  3"], Found("Section~3, section\n  3, Section  3, section\n\n3", new SearchQuery("section 3")));

    [Fact]
    public void A_whole_word_may_end_in_a_sign() =>
        Assert.Equal(["\\emph", "\\emph"], Found("\\emph{a} \\emphasis \\emph b", new SearchQuery("\\emph", WholeWords: true)));

    [Fact]
    public void Signs_are_signs_in_words_and_mean_something_in_patterns()
    {
        Assert.Equal(["a.b"], Found("a.b axb", new SearchQuery("a.b")));
        Assert.Equal(["a.b", "axb"], Found("a.b axb", new SearchQuery("a.b", IsPattern: true)));
        Assert.Equal("12 km and 3 km", Replaced("12km and 3km", new SearchQuery(@"(\d+)km", IsPattern: true), "$1 km"));
        Assert.Equal("$1.50", Replaced("price", new SearchQuery("price"), "$1.50"));
    }

    [Fact]
    public void Nothing_empty_is_found() => Assert.Equal(["aa"], Found("baab", new SearchQuery("a*", IsPattern: true)));

    [Fact]
    public void Lines_begin_and_end_where_a_pattern_says_so() =>
        Assert.Equal(["% one", "% two"], Found("% one\nwords % not\n% two", new SearchQuery("^%.*$", IsPattern: true)));

    [Theory]
    [InlineData("(a", "a group is left open")]
    [InlineData("[a", "in brackets is left open")]
    [InlineData("*a", "nothing before the sign of repetition")]
    [InlineData("(?=a)", "look ahead")]
    [InlineData("  ", "Say which words")]
    public void What_cannot_be_looked_for_is_refused_in_words(string pattern, string says) =>
        Assert.Contains(says, Assert.Throws<SearchException>(() => new TextSearch(new SearchQuery(pattern, IsPattern: true))).Message, StringComparison.Ordinal);

    [Fact]
    public void A_pattern_that_would_go_back_forever_takes_linear_time()
    {
        string text = new('a', 200_000);
        long clock = Stopwatch.GetTimestamp();
        Assert.Empty(Found(text + "!", new SearchQuery("(a+)+b", IsPattern: true)));
        // With steps back it would take longer than the world is old; the bound is for a busy machine.
        Assert.True(Stopwatch.GetElapsedTime(clock).TotalSeconds < 10);
    }

    [Theory]
    [InlineData("Words \\emph{set off} here", "Words ......set off. here")]
    [InlineData("see \\ref{sec:wall} and \\citep[see][12]{wall2001}!", "see .............. and .........................!")]
    [InlineData("a % wall\nb", "a ......\nb")]
    [InlineData("50\\% of $w = wall$ is", "50.% of .......... is")]
    [InlineData("a \\\\[2pt] b", "a ....... b")]
    [InlineData("\\begin{tabular}{ll} a & b \\end{tabular}", "................... a . b .............")]
    [InlineData("\\begin{align*} wall \\end{align*} on", "................................ on")]
    [InlineData("\\section[Short]{Long}", "........[Short].Long.")]
    [InlineData("a \\(wall\\) b \\[ wall \\] c", "a ........ b .......... c")]
    [InlineData("\\includegraphics[width=2cm]{wall.png} on", "..................................... on")]
    [InlineData("costs \\$5 wall$", "costs .$5 wall.")]
    [InlineData("open $wall\n\nnext", "open .....\n\nnext")]
    [InlineData("\\href{https://wall.example}{the wall}", "............................the wall.")]
    public void What_prints_is_told_from_markup(string text, string expected) => Assert.Equal(expected, Printed(text));

    [Fact]
    public void The_preamble_and_what_follows_the_end_do_not_print()
    {
        string text = "\\documentclass{article}\n\\title{The wall}\n\\begin{document}\nA wall.\n\\end{document}\nno wall";
        Assert.Equal([text.IndexOf("wall.", StringComparison.Ordinal)], new TextSearch(new SearchQuery("wall", PrintedOnly: true)).Find(text).Select(h => h.Offset));
    }

    [Fact]
    public void In_print_only_a_tie_is_a_space()
    {
        string text = "Wall~3 and \\emph{Wall} 3, \\label{wall 3}";
        Assert.Equal(["Wall~3"], Found(text, new SearchQuery("wall 3", PrintedOnly: true)));
    }

    [Fact]
    public void A_hundred_and_twenty_pages_are_looked_through_at_once()
    {
        string page = string.Concat(Enumerable.Repeat("The \\emph{old} wall on the hill, Section~\\ref{sec:hill}, has $n_i$ stones; 12~\\% of them fell.\n", 32));
        string text = string.Concat(Enumerable.Repeat(page, 120));
        var search = new TextSearch(new SearchQuery("Stones", WholeWords: true, PrintedOnly: true));
        Assert.Equal(120 * 32, search.Find(text).Count());
        // 100 ms are wanted; beside other tests it may take longer.
        Assert.Equal(120 * 32, TimeLimit.Within(0.2, () => search.Find(text).Count()));
    }

    /// <summary>Each of these took the square of its length while the end of every bracket was looked for from where it stands.</summary>
    [Theory]
    [InlineData("\\label{")]
    [InlineData("\\\\[")]
    [InlineData("\\section[{")]
    [InlineData("{\n\n[")]
    [InlineData("\\begin{a}$")]
    public void Text_that_closes_nothing_takes_time_in_proportion_to_its_length(string unit)
    {
        string text = string.Concat(Enumerable.Repeat(unit, 2_000_000 / unit.Length));
        long start = Stopwatch.GetTimestamp();
        Assert.NotEmpty(UnprintedMarkup.Find(text));
        Assert.True(Stopwatch.GetElapsedTime(start) < TimeSpan.FromSeconds(5), $"{Stopwatch.GetElapsedTime(start)}");
    }

    [Theory]
    [InlineData("\\section[short]{long}", "........[short].long.")]
    [InlineData("a \\\\[2pt] b", "a ....... b")]
    [InlineData("\\emph{x [y} z] \\label{k}", "......x [y. z] .........")]
    [InlineData("\\\\[open\n\nclosed]", "..[open\n\nclosed]")]
    [InlineData("\\cite[p.~{]}3]{key} so", "................... so")]
    public void Brackets_end_in_their_group_and_paragraph(string text, string printed) => Assert.Equal(printed, Printed(text));

    [Fact]
    public void What_takes_a_place_may_not_grow_beyond_what_a_file_can_hold()
    {
        var all = new TextSearch(new SearchQuery("(?s).+", IsPattern: true));
        string text = new('a', 100_000);
        Assert.Throws<SearchException>(() => all.Find(text, string.Concat(Enumerable.Repeat("$0", 4_000))).ToArray());
        Assert.Throws<SearchException>(() => all.Find(text, new string('b', TextSearch.LongestReplacement + 1)));
        Assert.Equal(text + text, Assert.Single(all.Find(text, "$0$0")).Replacement);
    }
}
