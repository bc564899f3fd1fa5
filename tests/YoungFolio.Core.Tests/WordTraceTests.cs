using System.Text.Json;
using YoungFolio.Chronicle;
using YoungFolio.Cowriting;

namespace YoungFolio.Core.Tests;

/// <summary>When words came and when they went.</summary>
public sealed class WordTraceTests
{
    private static readonly DateTime s_at = new(2026, 3, 2, 9, 0, 0, DateTimeKind.Utc);

    private static HistoryStep Step(int number, string kind, int file, string payload, int person = 1) => new(number, person, null, s_at, kind, file, payload);

    private static HistoryStep Typed(int number, int file, ChangeSet change, int person = 1) => Step(number, RevisionKind.Text, file, JsonSerializer.Serialize(change), person);

    private static ChronicleEvent Event(int number, int from, int to, string kind = RevisionKind.Text, int person = 1, int? file = 1) =>
        new(number, person, null, kind, file, "main.tex", from, to, to - from + 1, s_at, s_at, 0, 0, [], "");

    private static (int Came, int Went) Counts(TracedStep? traced) => traced is null ? (0, 0) : (traced.Came, traced.Went);

    [Fact]
    public void Words_come_with_their_last_letter_and_go_with_the_first_that_is_deleted()
    {
        var trace = new WordTrace("grow slowly");
        Assert.Null(trace.Read(Step(1, RevisionKind.Create, 1, "main.tex"), "Walls grow slowl\n"));
        Assert.Equal((1, 0), Counts(trace.Read(Typed(2, 1, ChangeSet.Replace(17, 16, 16, "y")), null)));
        Assert.Null(trace.Read(Typed(3, 1, ChangeSet.Replace(18, 17, 17, " here")), null));
        Assert.Equal((0, 1), Counts(trace.Read(Typed(4, 1, ChangeSet.Replace(23, 6, 7, "")), null)));
        Assert.Equal(0, trace.Now);
    }

    [Theory]
    [InlineData("Walls GROW\n  slowly.")]
    [InlineData("walls grow slowly")]
    [InlineData("\\emph{walls grow\r\nslowly}")]
    public void Case_and_line_ends_make_no_difference(string text) => Assert.Equal((1, 0), Counts(new WordTrace(" walls  grow\nslowly ").Read(Step(1, RevisionKind.Create, 1, "main.tex"), text)));

    [Fact]
    public void Signs_of_markup_are_looked_for_as_they_stand() =>
        Assert.Equal((1, 0), Counts(new WordTrace(@"\ref{a.b} (x+)").Read(Step(1, RevisionKind.Create, 1, "main.tex"), @"see \ref{a.b} (x+) and \ref{aXb} (xx)")));

    [Fact]
    public void Files_that_go_and_come_back_take_their_words_along_and_a_new_name_changes_nothing()
    {
        var trace = new WordTrace("lichen");
        trace.Read(Step(1, RevisionKind.Create, 1, "a.tex"), "lichen and lichen");
        Assert.Null(trace.Read(Step(2, RevisionKind.Rename, 1, "b.tex"), null));
        Assert.Equal((0, 2), Counts(trace.Read(Step(3, RevisionKind.Delete, 1, ""), null)));
        Assert.Equal((2, 0), Counts(trace.Read(Step(4, RevisionKind.BringBack, 1, "b.tex"), "lichen and lichen")));
        Assert.Null(trace.Read(Step(5, RevisionKind.Create, 2, "lichen.png\nabc"), null));
        Assert.Null(trace.Read(new HistoryStep(6, 1, null, s_at, RevisionKind.Setting, null, "lichen"), null));
        Assert.Equal(2, trace.Now);
    }

    [Theory]
    [InlineData("")]
    [InlineData(" a  \n")]
    public void What_is_too_short_is_refused(string words) => Assert.Throws<ArgumentException>(() => new WordTrace(words));

    [Fact]
    public void What_is_too_long_is_refused() => Assert.Throws<ArgumentException>(() => new WordTrace(new string('a', WordTrace.Most + 1)));

    /// <summary>Held against counting in the whole text, which needs no windows.</summary>
    [Fact]
    public void Under_random_changes_it_knows_how_often_the_words_are_there()
    {
        var random = new Random(20261129);
        string[] pieces = ["stone", " wall", "\n", " ", "st", "one w", "all", "stone wall ", "x"];
        for (int round = 0; round < 60; round++)
        {
            var trace = new WordTrace("stone wall");
            string text = "";
            trace.Read(Step(1, RevisionKind.Create, 1, "main.tex"), text);
            int came = 0;
            for (int step = 2; step < 120; step++)
            {
                var edits = new List<(int From, int Length, string Insert)>();
                for (int at = 0, count = random.Next(1, 4); count > 0 && at <= text.Length; count--)
                {
                    int from = random.Next(at, text.Length + 1);
                    int length = random.Next(0, Math.Min(7, text.Length - from) + 1);
                    edits.Add((from, length, string.Concat(Enumerable.Range(0, random.Next(0, 4)).Select(_ => pieces[random.Next(pieces.Length)]))));
                    at = from + length + 1;
                }

                var change = ChangeSet.Of(text.Length, edits);
                text = change.Apply(text);
                (int plus, int minus) = Counts(trace.Read(Typed(step, 1, change), null));
                came += plus - minus;
                int there = System.Text.RegularExpressions.Regex.Count(text, @"stone\s+wall");
                Assert.Equal(there, trace.Now);
                Assert.Equal(there, came);
            }
        }
    }

    [Fact]
    public void Steps_are_gathered_by_the_sittings_of_their_writers()
    {
        TracedStep[] steps =
        [
            new(Step(3, RevisionKind.Text, 1, ""), 1, 0),
            new(Step(4, RevisionKind.Text, 1, "", person: 2), 2, 0),
            new(Step(7, RevisionKind.Text, 1, "", person: 2), 0, 1),
            new(Step(9, RevisionKind.Text, 1, ""), 1, 1),
            new(Step(12, RevisionKind.Text, 1, ""), 1, 0),
            new(Step(13, RevisionKind.Text, 2, ""), 0, 1),
        ];
        ChronicleEvent[] events = [Event(1, 2, 6), Event(2, 4, 8, person: 2), Event(3, 9, 9), Event(4, 12, 13, ChronicleEvent.Act, file: null), Event(5, 3, 3, file: 2)];
        Assert.Equal([(4, 1, 1), (2, 1, 0), (1, 1, 0)], TracedEvent.Of(steps, events).Select(t => (t.Event.Number, t.Came, t.Went)));
    }
}
