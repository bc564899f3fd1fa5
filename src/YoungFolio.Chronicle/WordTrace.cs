using System.Text.RegularExpressions;
using YoungFolio.Cowriting;

namespace YoungFolio.Chronicle;

/// <summary>Words that came or went with a step of the log.</summary>
/// <param name="Step">The step.</param>
/// <param name="Came">How often they came.</param>
/// <param name="Went">How often they went.</param>
public sealed record TracedStep(HistoryStep Step, int Came, int Went);

/// <summary>Follows words through a log: when they came, when they went. Upper and lower case, and where lines end, make no difference.</summary>
public sealed class WordTrace
{
    /// <summary>The fewest signs that are looked for.</summary>
    public const int Fewest = 3;

    /// <summary>The most signs that are looked for.</summary>
    public const int Most = 500;

    // Room for the spaces and line ends between the words, however many there are in a source.
    private const int Room = 200;

    private readonly ReplayedFiles _files = new();
    private readonly Regex _wanted;
    private readonly int _reach;

    /// <summary>Begins before the first step.</summary>
    /// <param name="words">What is looked for.</param>
    /// <exception cref="ArgumentException">It is too short or too long.</exception>
    public WordTrace(string words)
    {
        ArgumentNullException.ThrowIfNull(words);
        string[] parts = words.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries);
        int length = parts.Sum(p => p.Length + 1) - 1;
        if (length is < Fewest or > Most)
        {
            throw new ArgumentException($"Between {Fewest} and {Most} signs are looked for.", nameof(words));
        }

        _wanted = new Regex(string.Join(@"\s+", parts.Select(Regex.Escape)), RegexOptions.IgnoreCase | RegexOptions.CultureInvariant);
        _reach = length + Room;
    }

    /// <summary>How often the words are there now.</summary>
    public int Now { get; private set; }

    /// <summary>Reads a step of the log; what came or went with it, null when nothing did.</summary>
    /// <param name="step">The step; steps come in order.</param>
    /// <param name="text">Of a text that is new or there again: its words.</param>
    /// <exception cref="ChangeSetException">The log doesn't fit its texts.</exception>
    public TracedStep? Read(HistoryStep step, string? text)
    {
        ArgumentNullException.ThrowIfNull(step);
        string before = TextOf(step);
        _files.Read(step, text);
        string after = TextOf(step);
        (int went, int came) = step.Kind == RevisionKind.Text ? Compared(before, after, ChangeSet.FromJson(step.Payload)) : ReferenceEquals(before, after) ? (0, 0) : (_wanted.Count(before), _wanted.Count(after));
        Now += came - went;
        return came + went == 0 ? null : new TracedStep(step, came, went);
    }

    private string TextOf(HistoryStep step) => step.File is { } file ? _files.Find(file)?.Text ?? "" : "";

    // Only around the change; what stands there before and after it neither came nor went.
    private (int Went, int Came) Compared(string before, string after, ChangeSet change)
    {
        int from = int.MaxValue;
        int to = 0;
        foreach ((int at, int length, _) in change.Edits)
        {
            from = Math.Min(from, at);
            to = Math.Max(to, at + length);
        }

        if (from > to)
        {
            return (0, 0);
        }

        int begin = Math.Max(0, from - _reach);
        int rest = Math.Max(0, before.Length - to - _reach);
        int difference = _wanted.Count(after.AsSpan(begin, after.Length - rest - begin)) - _wanted.Count(before.AsSpan(begin, before.Length - rest - begin));
        return (Math.Max(0, -difference), Math.Max(0, difference));
    }
}

/// <summary>An event with which words came or went.</summary>
/// <param name="Event">The event.</param>
/// <param name="Came">How often they came, all in all; of words that were moved as often as they went.</param>
/// <param name="Went">How often they went.</param>
public sealed record TracedEvent(ChronicleEvent Event, int Came, int Went)
{
    /// <summary>Gathers steps by their events, the latest first. Words that came and went in one sitting, as one tries them, are none.</summary>
    /// <param name="steps">The steps.</param>
    /// <param name="events">The events of the manuscript.</param>
    public static IReadOnlyList<TracedEvent> Of(IReadOnlyList<TracedStep> steps, IReadOnlyList<ChronicleEvent> events)
    {
        ArgumentNullException.ThrowIfNull(steps);
        var found = new SortedDictionary<int, TracedEvent>();
        foreach (TracedStep traced in steps)
        {
            HistoryStep step = traced.Step;
            // Several people write at once: a step is its own writer's, and of the shortest event around it.
            ChronicleEvent? of = events.Where(e => e.FromRevision <= step.Number && e.ToRevision >= step.Number && e.Person == step.Person && e.Token == step.Token && (e.File is null || e.File == step.File))
                .MinBy(e => e.ToRevision - e.FromRevision);
            if (of is not null)
            {
                TracedEvent before = found.GetValueOrDefault(of.Number) ?? new TracedEvent(of, 0, 0);
                found[of.Number] = before with { Came = before.Came + traced.Came, Went = before.Went + traced.Went };
            }
        }

        return [.. found.Values.Select(Net).Where(t => t.Came + t.Went > 0).Reverse()];
    }

    // What a room moved did come and go.
    private static TracedEvent Net(TracedEvent one) => one.Event.Kind == ChronicleEvent.Act && one.Came == one.Went ? one
        : one with { Came = Math.Max(0, one.Came - one.Went), Went = Math.Max(0, one.Went - one.Came) };
}
