using YoungFolio.Chronicle;
using YoungFolio.Cowriting;

namespace YoungFolio.Core.Tests;

/// <summary>Passages that notes are tied to: edits around, over and through them, and words that go and come back.</summary>
public sealed class PassageAnchorTests
{
    private const string Text = "The old wall stands by the mill since 1740.";

    private static PassageAnchor Tied(string words) => PassageAnchor.Of(1, 0, Text, Text.IndexOf(words, StringComparison.Ordinal), Text.IndexOf(words, StringComparison.Ordinal) + words.Length);

    [Theory]
    [InlineData(0, 0, "Here: ", "old wall")] // before it
    [InlineData(4, 0, "very ", "old wall")] // at its edge
    [InlineData(12, 0, "s", "old wall")]
    [InlineData(7, 0, " dry", "old dry wall")] // within it
    [InlineData(2, 4, "", "d wall")] // over its beginning
    [InlineData(8, 10, "ditch", "old ")] // over its end
    [InlineData(20, 3, "", "old wall")] // behind it
    public void It_goes_along_with_the_text(int from, int length, string insert, string expected)
    {
        var change = ChangeSet.Replace(Text.Length, from, from + length, insert);
        PassageAnchor now = Tied("old wall").Over([change], change.Apply(Text));
        Assert.Equal((expected, false, 1), (now.Words, now.IsGone, now.Version));
    }

    [Fact]
    public void Where_its_words_go_it_keeps_them_and_finds_them_again_in_one_place_and_no_other()
    {
        PassageAnchor tied = Tied("old wall stands by the mill");
        var gone = ChangeSet.Replace(Text.Length, 0, 40, "");
        string rest = gone.Apply(Text);
        PassageAnchor now = tied.Over([gone], rest);
        Assert.Equal(("old wall stands by the mill", true, 0, 0), (now.Words, now.IsGone, now.From, now.To));
        Assert.Same(now, now.FindAgain(new Dictionary<int, (int, string)> { [1] = (1, rest), [2] = (5, "Other words.") }));
        var moved = new Dictionary<int, (int, string)> { [1] = (1, rest), [2] = (5, "Behold, the old wall stands by the mill.") };
        Assert.Equal(new PassageAnchor(2, 5, 12, 39, "old wall stands by the mill", false), now.FindAgain(moved));
        // In two places it may be either.
        moved[3] = (1, "The old wall stands by the mill.");
        Assert.True(now.FindAgain(moved).IsGone);
        // Few words may be any.
        Assert.True((Tied("the") with { IsGone = true }).FindAgain(new Dictionary<int, (int, string)> { [2] = (1, "the") }).IsGone);
    }

    [Fact]
    public void It_never_points_outside_the_text_whatever_random_writers_do_and_step_by_step_is_as_all_at_once()
    {
        var random = new Random(20261129);
        for (int round = 0; round < 300; round++)
        {
            string text = string.Concat(Enumerable.Range(0, random.Next(1, 40)).Select(_ => (char)('a' + random.Next(26))));
            int from = random.Next(text.Length);
            var start = PassageAnchor.Of(1, 0, text, from, random.Next(from + 1, text.Length + 1));
            PassageAnchor step = start;
            var changes = new List<ChangeSet>();
            for (int i = 0; i < 25; i++)
            {
                int at = random.Next(text.Length + 1);
                var change = ChangeSet.Replace(text.Length, at, Math.Min(text.Length, at + random.Next(5)), random.Next(2) == 0 ? "" : "xyz"[..random.Next(1, 4)]);
                changes.Add(change);
                text = change.Apply(text);
                step = step.Over([change], text);
                Assert.True(step.From >= 0 && step.From <= step.To && step.To <= text.Length && (step.IsGone ? step.From == step.To : text[step.From..step.To] == step.Words));
            }

            if (!step.IsGone)
            {
                Assert.Equal(step, start.Over(changes, text));
            }

            Assert.Equal(25, step.Version);
        }

        Assert.Throws<ArgumentOutOfRangeException>(() => PassageAnchor.Of(1, 0, "abc", 1, 1));
        Assert.Throws<ArgumentOutOfRangeException>(() => PassageAnchor.Of(1, 0, "abc", 1, 4));
    }
}
