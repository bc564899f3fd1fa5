using YoungFolio.Compiler;

namespace YoungFolio.HandIn;

/// <summary>Whether floats are mentioned in the order of their numbers.</summary>
internal static class MentionOrder
{
    /// <summary>The floats that the text mentions before one of their kind with a smaller number.</summary>
    public static IEnumerable<CheckPlace> Early(CompileResult proof)
    {
        Dictionary<(string Kind, string Number), (int Order, SourcePlace Place)> mentions = FirstMentions(proof);
        foreach (IGrouping<string, FloatLine> kind in proof.Report.Floats.Where(f => f.Number is not null).GroupBy(f => f.Kind))
        {
            var before = new List<(string Number, int Order)>();
            foreach (string number in kind.Select(f => f.Number!).Distinct())
            {
                if (!mentions.TryGetValue((kind.Key, number), out (int Order, SourcePlace Place) mention))
                {
                    continue;
                }

                if (before.FirstOrDefault(b => b.Order > mention.Order).Number is { } late)
                {
                    yield return new CheckPlace($"{kind.Key} {number} before {kind.Key} {late}", null, mention.Place.File, mention.Place.Line, mention.Place.Offset);
                }

                before.Add((number, mention.Order));
            }
        }
    }

    // A part counts as its float: who reads of 2(a) looks at 2.
    private static Dictionary<(string Kind, string Number), (int Order, SourcePlace Place)> FirstMentions(CompileResult proof)
    {
        const string Part = "sub";
        Dictionary<string, LabelLine> labels = proof.Report.Labels.Where(l => l.Number is not null).ToDictionary(l => l.Key, StringComparer.Ordinal);
        var mentions = new Dictionary<(string, string), (int, SourcePlace)>();
        foreach ((string key, SourcePlace place) in proof.CrossReferences.Uses)
        {
            if (labels.TryGetValue(key, out LabelLine? label))
            {
                bool isPart = label.Kind.StartsWith(Part, StringComparison.Ordinal);
                string number = label.Number!;
                mentions.TryAdd(isPart ? (label.Kind[Part.Length..], number.TrimEnd(')').TrimEnd([.. "abcdefghijklmnopqrstuvwxyz"]).TrimEnd('(', ' ')) : (label.Kind, number), (mentions.Count, place));
            }
        }

        return mentions;
    }
}
