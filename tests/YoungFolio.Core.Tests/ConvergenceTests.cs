using YoungFolio.Cowriting;

namespace YoungFolio.Core.Tests;

/// <summary>Simulated writers over a bad connection: messages come late, twice, in another order, or never.</summary>
public class ConvergenceTests
{
    private const string Beginning = "A wall stands where it was built.\n";

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    [InlineData(5)]
    [InlineData(6)]
    public void Writers_who_write_and_erase_anywhere_come_to_one_text(int seed)
    {
        World world = Live(seed, writers: 5, steps: 1500, most: 8);
        Assert.True(world.Text.Length > 100);
        Assert.All(world.Writers, w => Assert.Equal(world.Text, w.Copy.Text));
    }

    [Theory]
    [InlineData(11)]
    [InlineData(12)]
    [InlineData(13)]
    public void Words_typed_at_one_place_at_once_are_all_there_once_and_whole(int seed)
    {
        var world = new World(seed, writers: 4, text: "");
        var typed = world.Writers.Select(_ => 0).ToArray();
        for (int step = 0; step < 2500; step++)
        {
            int i = world.Random.Next(world.Writers.Count);
            if (world.Random.Next(3) == 0)
            {
                // Each writer counts aloud, in letters of the writer's own.
                world.Writers[i].Type(((char)('a' + (i * 6) + (typed[i]++ % 6))).ToString());
            }
            else if (world.Random.Next(2) == 0)
            {
                world.Send(world.Writers[i]);
            }
            else
            {
                world.Pass();
            }
        }

        world.Settle();
        for (int i = 0; i < typed.Length; i++)
        {
            string wanted = string.Concat(Enumerable.Range(0, typed[i]).Select(n => (char)('a' + (i * 6) + (n % 6))));
            Assert.Contains(wanted, world.Text, StringComparison.Ordinal);
        }

        Assert.Equal(typed.Sum(), world.Text.Length);
        Assert.All(world.Writers, w => Assert.Equal(world.Text, w.Copy.Text));
    }

    [Theory]
    [InlineData(21)]
    [InlineData(22)]
    public void The_working_copy_in_the_browser_goes_through_the_same_states(int seed)
    {
        World world = Live(seed, writers: 3, steps: 400, most: 30);
        Lived[][] browsers = ReferenceTests.Ask<Lived[][]>(new
        {
            what = "workingCopies",
            writers = world.Writers.Select(w => new { clientId = w.ClientId, text = Beginning, steps = w.Steps }),
        });
        foreach ((Writer writer, Lived[] browser) in world.Writers.Zip(browsers))
        {
            Assert.Contains(writer.States, s => s.Unsent.Count > 1);
            Assert.Equal(writer.States.Select(s => s.ToString()), browser.Select(s => s.ToString()));
            Assert.Equal(world.Text, browser[^1].Text);
        }
    }

    // Writers who write and erase up to so many characters anywhere, until all of it has come everywhere.
    private static World Live(int seed, int writers, int steps, int most)
    {
        var world = new World(seed, writers, Beginning);
        for (int step = 0; step < steps; step++)
        {
            Writer writer = world.AnyWriter();
            switch (world.Random.Next(12))
            {
                case < 3:
                    writer.MoveTo(world.Random.Next(writer.Copy.Text.Length + 1));
                    writer.Type(world.Random.Next(2) == 0 ? "stone " : "\n😀");
                    break;
                case < 5:
                    writer.EraseSome(world.Random.Next(most));
                    break;
                case < 8:
                    world.Send(writer);
                    break;
                default:
                    world.Pass();
                    break;
            }
        }

        world.Settle();
        return world;
    }

    /// <summary>One step of a writer: a change of one's own, or what came.</summary>
    private sealed record Step(string? Own, IReadOnlyList<Step.Sent>? Heard)
    {
        public sealed record Sent(string ClientId, string Changes);
    }

    /// <summary>What a working copy holds after a step.</summary>
    private sealed record Lived(string Text, int Version, IReadOnlyList<string> Unsent)
    {
        // Node.js writes some signs plainly that .NET writes by number.
        public override string ToString() => $"{Version} {Text} {string.Join(' ', Unsent.Select(u => ChangeSet.FromJson(u).ToJson()))}";
    }

    private sealed record Writer(string ClientId, WorkingCopy Copy)
    {
        /// <summary>All that the writer did and heard.</summary>
        public List<Step> Steps { get; } = [];

        /// <summary>What the copy held after each of the steps.</summary>
        public List<Lived> States { get; } = [];

        public void Type(string words)
        {
            Copy.Type(words);
            Note(new Step(Json(Copy.Unsent[^1]), null));
        }

        public void Receive(IReadOnlyList<Update> updates)
        {
            Copy.Receive(updates);
            Note(new Step(null, [.. updates.Select(u => new Step.Sent(u.ClientId, Json(u)))]));
        }

        // Editors put no cursor into the middle of a character.
        public void MoveTo(int position) =>
            Copy.MoveTo(position > 0 && position < Copy.Text.Length && char.IsLowSurrogate(Copy.Text[position]) ? position - 1 : position);

        public void EraseSome(int most)
        {
            int end = Copy.Cursor;
            MoveTo(Math.Max(0, end - most));
            int from = Copy.Cursor;
            Copy.MoveTo(end);
            if (from < end)
            {
                Copy.Erase(end - from);
                Note(new Step(Json(Copy.Unsent[^1]), null));
            }
        }

        private void Note(Step step)
        {
            Steps.Add(step);
            States.Add(new Lived(Copy.Text, Copy.Version, [.. Copy.Unsent.Select(Json)]));
        }

        private static string Json(Update update) => update.Changes.ToJson();
    }

    /// <summary>The server, the writers, and what is under way between them.</summary>
    private sealed class World
    {
        private readonly List<Update> _log = [];
        private readonly List<Action> _underWay = [];

        public World(int seed, int writers, string text)
        {
            Random = new Random(seed);
            Text = text;
            Writers = [.. Enumerable.Range(0, writers).Select(i => new Writer($"tab {i}", new WorkingCopy($"tab {i}", 0, text)))];
        }

        public Random Random { get; }

        public string Text { get; private set; }

        public IReadOnlyList<Writer> Writers { get; }

        public Writer AnyWriter() => Writers[Random.Next(Writers.Count)];

        public void Send(Writer writer)
        {
            int madeOn = writer.Copy.Version;
            Update[] updates = [.. writer.Copy.Unsent];
            if (updates.Length > 0)
            {
                Post(() => Take(madeOn, updates));
            }
        }

        /// <summary>One message arrives, not always the oldest.</summary>
        public void Pass()
        {
            if (_underWay.Count > 0)
            {
                int which = Random.Next(Math.Min(_underWay.Count, 6));
                Action message = _underWay[which];
                _underWay.RemoveAt(which);
                message();
            }
        }

        /// <summary>The connection is good again: everything that waits is sent until nothing waits.</summary>
        public void Settle()
        {
            foreach (Writer writer in Writers)
            {
                CatchUp(writer);
                while (writer.Copy.Unsent.Count > 0)
                {
                    Take(writer.Copy.Version, [.. writer.Copy.Unsent]);
                    CatchUp(writer);
                }
            }

            foreach (Writer writer in Writers)
            {
                CatchUp(writer);
            }
        }

        private void Take(int madeOn, Update[] updates)
        {
            AcceptedUpdates accepted = Authority.Take(Text, updates, _log[madeOn..]);
            int from = _log.Count;
            Text = accepted.Text;
            _log.AddRange(accepted.Updates);
            foreach (Writer writer in Writers)
            {
                Post(() => Hear(writer, from, accepted.Updates));
            }
        }

        // What doesn't come next is fetched: too much or too little was heard.
        private void Hear(Writer writer, int from, IReadOnlyList<Update> updates)
        {
            if (from == writer.Copy.Version)
            {
                writer.Receive(updates);
            }
            else if (from > writer.Copy.Version)
            {
                CatchUp(writer);
            }
        }

        private void CatchUp(Writer writer) => writer.Receive(_log[writer.Copy.Version..]);

        private void Post(Action message)
        {
            int fate = Random.Next(10);
            for (int copies = fate == 0 ? 0 : fate == 1 ? 2 : 1; copies > 0; copies--)
            {
                _underWay.Add(message);
            }
        }
    }
}
