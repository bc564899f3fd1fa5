using YoungFolio.Cowriting;

namespace YoungFolio.Core.Tests;

/// <summary>Change sets against the library that the browsers use, npm @codemirror/state, run in Node.</summary>
public class ChangeSetTests
{
    [Theory]
    [InlineData(77)]
    [InlineData(4242)]
    public void Change_sets_compute_what_codemirror_computes(int seed)
    {
        Case[] cases = ReferenceTests.Ask<Case[]>(new { what = "changes", seed, count = 3000 });
        foreach (Case c in cases)
        {
            ChangeSet a = ChangeSet.FromJson(c.A);
            ChangeSet b = ChangeSet.FromJson(c.B);
            Assert.Equal(c.Result, a.Apply(c.Text));
            Assert.Equal((c.Text.Length, c.Result.Length), (a.LengthBefore, a.LengthAfter));
            Same(c.A, a);
            Same(c.Inverted, a.Invert(c.Text));
            Same(c.Composed, a.Compose(ChangeSet.FromJson(c.C)));
            Same(c.Mapped, a.Map(b));
            Same(c.MappedBefore, a.Map(b, before: true));
            Assert.Equal(c.Before, Enumerable.Range(0, c.Text.Length + 1).Select(p => a.MapPosition(p, Side.Before)));
            Assert.Equal(c.After, Enumerable.Range(0, c.Text.Length + 1).Select(p => a.MapPosition(p, Side.After)));
        }
    }

    [Fact]
    public void Updates_are_carried_over_others_as_codemirror_maps_them()
    {
        RebaseCase[] cases = ReferenceTests.Ask<RebaseCase[]>(new { what = "rebase", seed = 99, count = 2000 });
        Assert.Contains(cases, c => c.Rebased.Length < c.Own.Length);
        foreach (RebaseCase c in cases)
        {
            IReadOnlyList<Update> ours = Authority.Rebase(Updates(c.Own), Updates(c.Since));
            Assert.Equal(c.Rebased.Select(u => u.ClientId), ours.Select(u => u.ClientId));
            foreach ((Sent theirs, Update own) in c.Rebased.Zip(ours))
            {
                Same(theirs.Changes, own.Changes);
            }
        }
    }

    [Theory]
    [InlineData("{}")]
    [InlineData("7")]
    [InlineData("[-1]")]
    [InlineData("[1.5]")]
    [InlineData("[[\"x\"]]")]
    [InlineData("[[1,2]]")]
    [InlineData("[[]]")]
    [InlineData("[[0,[]]]")]
    [InlineData("[99]")]
    [InlineData("[4,4000000000]")]
    [InlineData("[200000000,200000000]")]
    [InlineData("[4,[0,\"two\\nlines\"]]")]
    [InlineData("[4,[0,\"\\ud800\"]]")]
    [InlineData("[4,[0,\"x\"")]
    [InlineData("")]
    public void A_change_set_that_does_not_fit_is_refused(string json) =>
        Assert.Throws<ChangeSetException>(() => ChangeSet.FromJson(json).Apply("text"));

    [Fact]
    public void The_authority_refuses_what_would_harm_the_text()
    {
        Assert.Throws<ChangeSetException>(() => Authority.Take("a😀b", [new("x", ChangeSet.Replace(4, 2, 2, "cut"))], []));
        string largest = new('x', Authority.LargestInsert + 1);
        Assert.Throws<ChangeSetException>(() => Authority.Take("", [new("x", ChangeSet.Replace(0, 0, 0, largest))], []));
        Assert.Throws<ChangeSetException>(() => Authority.Take(new string('x', Authority.LargestText), [new("x", ChangeSet.Replace(Authority.LargestText, 0, 0, "y"))], []));
        Assert.Throws<ChangeSetException>(() => Authority.Take("abc", [new("x", ChangeSet.Replace(2, 0, 0, "y"))], []));
    }

    [Theory]
    [InlineData("", "")]
    [InlineData("", "new")]
    [InlineData("same", "same")]
    [InlineData("aaa", "aa")]
    [InlineData("one two three", "one 2 three")]
    [InlineData("x😀y", "x😁y")]
    [InlineData("x😀😀y", "x😀y")]
    public void The_change_between_two_texts_leads_from_one_to_the_other(string before, string after)
    {
        ChangeSet change = ChangeSet.Between(before, after);
        Assert.Equal(after, change.Apply(before));
        Assert.Equal(before, change.Invert(before).Apply(after));
        // Nor does it cut a character in halves.
        Assert.Equal(after, Authority.Take(before, [new Update("t", change)], []).Text);
        Assert.Equal(before == after, change.IsEmpty);
    }

    private static void Same(string json, ChangeSet ours) => Assert.Equal(json, Plain(ours));

    // JSON.stringify of JavaScript escapes less than .NET; the value is the same.
    private static string Plain(ChangeSet set) =>
        System.Text.Json.JsonSerializer.Serialize(set, s_plain);

    private static readonly System.Text.Json.JsonSerializerOptions s_plain = new() { Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    private static List<Update> Updates(Sent[] sent) => [.. sent.Select(u => new Update(u.ClientId, ChangeSet.FromJson(u.Changes)))];

    private sealed record Case(string Text, string A, string B, string C, string Result, string Inverted, string Composed, string Mapped, string MappedBefore, int[] Before, int[] After);

    private sealed record Sent(string ClientId, string Changes);

    private sealed record RebaseCase(Sent[] Own, Sent[] Since, Sent[] Rebased);
}
