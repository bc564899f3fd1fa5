using YoungFolio.Chronicle;

namespace YoungFolio.Core.Tests;

/// <summary>Suggestions as whole words, and which of several can be taken together.</summary>
public sealed class SuggestionTests
{
    private const string Text = "A wall is read from the foot.\nThe foot is old.\n";

    [Theory]
    [InlineData("A wall is read from the foot.", "A wall was read from the foot.", "is ", "was ")]
    [InlineData("A wall is read from the foot.", "A wall is read from below.", "the foot.", "below.")]
    [InlineData("A wall is read from the foot.", "Each wall is read from the foot.", "A ", "Each ")]
    [InlineData("A wall is read from the foot.", "A wall is read.", "read from the foot.", "read.")]
    // Half a word is never changed by itself.
    [InlineData("A wall is read from the foot.", "A wall is ready from the foot.", "read ", "ready ")]
    [InlineData("The foot is old.", "The foot was old.", "is ", "was ")]
    [InlineData("The foot is old.", "", "The foot is old.", "")]
    // What only comes in is tied to the word before it, or behind it at the beginning.
    [InlineData("The foot is old.", "The foot is very old.", "is ", "is very ")]
    [InlineData("A wall", "Now: A wall", "A ", "Now: A ")]
    public void Only_the_words_that_differ_are_changed(string passage, string proposal, string words, string put)
    {
        int from = Text.IndexOf(passage, StringComparison.Ordinal);
        (int begin, int end, string result) = Suggestion.Narrow(Text, from, from + passage.Length, proposal)!.Value;
        Assert.Equal(Text[..from] + proposal + Text[(from + passage.Length)..], Text[..begin] + result + Text[end..]);
        // Blanks around words don't matter, where they are the same on both sides.
        Assert.Equal((words.Trim(), put.Trim()), (Text[begin..end].Trim(), result.Trim()));
    }

    [Fact]
    public void What_would_change_nothing_is_no_suggestion_and_neither_is_one_without_words()
    {
        Assert.Null(Suggestion.Narrow(Text, 0, 6, "A wall"));
        Assert.Null(Suggestion.Narrow(" \n ", 1, 1, "New"));
        Assert.Null(Suggestion.Narrow("", 0, 0, "New"));
        Assert.Throws<ArgumentOutOfRangeException>(() => Suggestion.Narrow(Text, 0, Text.Length + 1, ""));
        Assert.Throws<ArgumentOutOfRangeException>(() => Suggestion.Narrow(Text, 3, 2, ""));
    }

    /// <summary>Any change of any passage, against the plainest model: the text with it is the one that was meant, and the words are whole.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Narrowed_or_not_the_text_becomes_the_same(int seed)
    {
        var random = new Random(seed);
        for (int i = 0; i < 3000; i++)
        {
            string text = Words(random, 12);
            int from = random.Next(text.Length + 1);
            int to = random.Next(from, text.Length + 1);
            string proposal = random.Next(3) == 0 ? Words(random, 4) : Edited(random, text[from..to]);
            string wanted = text[..from] + proposal + text[to..];
            if (Suggestion.Narrow(text, from, to, proposal) is not { } found)
            {
                Assert.True(wanted == text || string.IsNullOrWhiteSpace(text));
                continue;
            }

            Assert.Equal(wanted, text[..found.From] + found.Proposal + text[found.To..]);
            Assert.False(string.IsNullOrWhiteSpace(text[found.From..found.To]));
        }
    }

    [Fact]
    public void Of_several_those_are_taken_that_fit_together_from_the_end_to_the_beginning()
    {
        Suggestion early = On(1, 0, 6, "Each wall");
        Suggestion late = On(2, 20, 29, "below.");
        Suggestion crossing = On(3, 15, 24, "off a");
        Suggestion gone = On(4, 30, 33, "A") with { Anchor = new PassageAnchor(7, 3, 30, 30, "The", true) };
        Suggestion changed = On(5, 34, 38, "base") with { Instead = "feet" };
        Suggestion elsewhere = new(6, new PassageAnchor(8, 1, 0, 3, "New", false), "New", "Old");
        SuggestionPlan plan = Suggestion.Plan([crossing, changed, late, gone, elsewhere, early]);
        Assert.Equal([2, 1, 6], plan.Taken.Select(s => s.Id));
        Assert.Equal([(3, SuggestionHindrance.Crossed), (4, SuggestionHindrance.Gone), (5, SuggestionHindrance.Changed)], plan.Left);
        string text = plan.Taken.Where(s => s.Anchor.File == 7).Aggregate(Text, (t, s) => s.ChangeOf(t.Length).Apply(t));
        Assert.Equal("Each wall is read from below.\nThe foot is old.\n", text);
        Assert.Equal([5, 2, 1, 6], Suggestion.Plan([changed, late, early, elsewhere, gone], anyway: true).Taken.Select(s => s.Id));
        // Side by side is not crossed.
        Assert.Equal(2, Suggestion.Plan([On(1, 0, 2, ""), On(2, 2, 6, "Stone")]).Taken.Count);
    }

    private static Suggestion On(int id, int from, int to, string proposal) => new(id, PassageAnchor.Of(7, 3, Text, from, to), Text[from..to], proposal);

    private static string Words(Random random, int most) => string.Concat(Enumerable.Range(0, random.Next(most)).Select(_ => random.Next(4) switch { 0 => " ", 1 => "\n", 2 => "stone ", _ => "ab"[random.Next(2)].ToString() }));

    private static string Edited(Random random, string words)
    {
        int from = random.Next(words.Length + 1);
        int to = random.Next(from, words.Length + 1);
        return words[..from] + Words(random, 3) + words[to..];
    }
}
