using System.Text;
using System.Text.Json;
using YoungFolio.Chronicle;
using YoungFolio.Compiler;
using YoungFolio.Cowriting;
using YoungFolio.Manuscript.Sectioning;

namespace YoungFolio.Core.Tests;

/// <summary>Histories as events that people recognise, who wrote what, and what changed between two moments.</summary>
public sealed class ChronicleTests
{
    private static readonly DateTime s_start = new(2026, 3, 2, 9, 0, 0, DateTimeKind.Utc);

    private static HistoryStep Created(int number, int file, string path, int person = 1, double minutes = 0) => new(number, person, null, s_start.AddMinutes(minutes), RevisionKind.Create, file, path);

    private static HistoryStep Typed(int number, int file, ChangeSet change, int person = 1, double minutes = 0, string? act = null) =>
        new(number, person, null, s_start.AddMinutes(minutes), RevisionKind.Text, file, JsonSerializer.Serialize(change), act);

    [Fact]
    public void What_one_act_does_with_several_files_is_one_event_that_says_it_and_counts_each_word_once()
    {
        const string Act = "Walls, by Una";
        var reader = new ChronicleReader("main.tex", [], []);
        reader.Read(Created(1, 1, "main.tex"), "Old words.");
        reader.Read(Created(2, 2, "gone.tex"), "One two.");
        reader.Read(Created(3, 3, "walls.tex", minutes: 5) with { Act = Act }, "Three new words.");
        reader.Read(Typed(4, 1, ChangeSet.Replace(10, 10, 10, " Two more."), minutes: 5, act: Act));
        reader.Read(Created(5, 2, "", minutes: 5) with { Act = Act, Kind = RevisionKind.Delete });
        reader.Read(Created(6, 3, "high/walls.tex", minutes: 5) with { Act = Act, Kind = RevisionKind.Rename });
        // The next of the same moment is another one, and what comes without an act is none.
        reader.Read(Created(7, 4, "fields.tex", minutes: 5) with { Act = "Fields, by Bo" }, "Words.");
        reader.Read(Created(8, 5, "own.tex", minutes: 5.1), "Words.");
        ChronicleEvent[] events = [.. reader.Take()];
        Assert.Equal(["create", "act", "act", "create"], events.Select(e => e.Kind));
        Assert.Equal((Act, 3, 6, 5), (events[1].Says, events[1].FromRevision, events[1].ToRevision, events[1].WordsIn));
        Assert.Equal("gone.tex\nhigh/walls.tex\nmain.tex\nwalls.tex", events[1].Path);
        Assert.Equal(("Fields, by Bo", "own.tex"), (events[2].Says, events[3].Says));
    }

    [Fact]
    public void A_sitting_says_where_and_how_many_words_came_and_went()
    {
        const string Text = "\\chapter{Why}\n\\section{Dates}\nOld words stay.\n\\section{Others}\nSome old words go here.\n";
        var reader = new ChronicleReader("main.tex", [], []);
        reader.Read(Created(1, 7, "main.tex"), "\\begin{document}" + Text);
        string now = "\\begin{document}" + Text;
        int number = 1;
        int at = now.IndexOf("stay.", StringComparison.Ordinal) + 5;
        // Letter by letter, with a second thought.
        foreach (char letter in " Five new words were tpyed")
        {
            Do(ChangeSet.Replace(now.Length, at, at, letter.ToString()), 61);
            at++;
        }

        for (int i = 0; i < 4; i++, at--)
        {
            Do(ChangeSet.Replace(now.Length, at - 1, at, ""), 62);
        }

        // Two words of before go, letter by letter, backwards.
        at = now.IndexOf("old words go", StringComparison.Ordinal) + 9;
        for (int i = 0; i < 9; i++, at--)
        {
            Do(ChangeSet.Replace(now.Length, at - 1, at, ""), 63);
        }

        // After a pause it is another sitting; someone else's is one at once.
        Do(ChangeSet.Replace(now.Length, now.Length, now.Length, "Later."), 120);
        Do(ChangeSet.Replace(now.Length, now.Length, now.Length, " And Bao."), 121, person: 2);
        ChronicleEvent[] events = [.. reader.Take()];
        Assert.Equal(["create", "text", "text", "text"], events.Select(e => e.Kind));
        Assert.Equal((5, 2, 26 + 4 + 9, 2, 40), (events[1].WordsIn, events[1].WordsOut, events[1].Steps, events[1].FromRevision, events[1].ToRevision));
        Assert.Equal([new EventPlace("1.1", "Dates"), new EventPlace("1.2", "Others")], events[1].Places);
        Assert.Equal(("main.tex", 1, 7), (events[1].Path, events[1].Person, events[1].File));
        Assert.Equal((2, 2), (events[3].Person, events[3].WordsIn));

        void Do(ChangeSet change, double minutes, int person = 1)
        {
            reader.Read(Typed(++number, 7, change, person, minutes));
            now = change.Apply(now);
        }
    }

    [Fact]
    public void An_act_of_a_room_is_one_event_over_its_files_and_files_that_come_together_too()
    {
        var reader = new ChronicleReader("main.tex", [], []);
        reader.Read(Created(1, 1, "main.tex"), "a \\label{x}\n");
        reader.Read(Created(2, 2, "b.tex"), "b \\ref{x}\n");
        reader.Read(Created(3, 3, "p.png\nabc"));
        reader.Read(Typed(4, 1, ChangeSet.Replace(12, 9, 10, "y"), minutes: 1, act: "renamed the label x to y"));
        reader.Read(Typed(5, 2, ChangeSet.Replace(10, 7, 8, "y"), minutes: 1, act: "renamed the label x to y"));
        reader.Read(new HistoryStep(6, 1, null, s_start.AddMinutes(2), RevisionKind.Rename, 2, "c.tex"));
        reader.Read(new HistoryStep(7, 1, null, s_start.AddMinutes(2), RevisionKind.Delete, 2, "c.tex"));
        ChronicleEvent[] events = [.. reader.Take()];
        Assert.Equal(["create", "act", "rename", "delete"], events.Select(e => e.Kind));
        Assert.Equal("main.tex\nb.tex\np.png", events[0].Says);
        Assert.Equal(("renamed the label x to y", "b.tex\nmain.tex", 2), (events[1].Says, events[1].Path, events[1].Steps));
        Assert.Equal(("b.tex → c.tex", "c.tex"), (events[2].Says, events[3].Says));
        Assert.Empty(reader.Take());
    }

    [Fact]
    public void A_clock_that_jumps_back_parts_nothing_and_what_comes_back_keeps_its_writers()
    {
        var reader = new ChronicleReader("main.tex", [], []);
        reader.Read(Created(1, 1, "main.tex"), "one\n");
        reader.Read(Typed(2, 1, ChangeSet.Replace(4, 4, 4, "two\n"), minutes: 50));
        reader.Read(Typed(3, 1, ChangeSet.Replace(8, 8, 8, "three\n"), minutes: -300));
        reader.Read(new HistoryStep(4, 2, null, s_start.AddMinutes(60), RevisionKind.Delete, 1, "main.tex"));
        reader.Read(new HistoryStep(5, 2, null, s_start.AddMinutes(61), RevisionKind.BringBack, 1, "main.tex"), "one\ntwo\nthree\n");
        Assert.Equal([("create", 1), ("text", 2), ("delete", 1), ("back", 1)], reader.Take().Select(e => (e.Kind, e.Steps)));
        Assert.Equal([new AuthoredStretch(4, 1), new AuthoredStretch(10, 2)], Assert.Single(reader.Files).Authors!.Stretches);
    }

    [Fact]
    public void Reading_on_from_what_was_kept_gives_the_same_events_as_reading_in_one_go()
    {
        var random = new Random(20261129);
        for (int round = 0; round < 40; round++)
        {
            List<(HistoryStep Step, string? Text)> steps = Random(random, 160, out _);
            var whole = new ChronicleReader("main.tex", [], []);
            steps.ForEach(s => whole.Read(s.Step, s.Text));
            IReadOnlyList<ChronicleEvent> expected = whole.Take();

            var kept = new SortedDictionary<int, ChronicleEvent>();
            ReadFile[] files = [];
            for (int at = 0; at < steps.Count;)
            {
                int until = Math.Min(steps.Count, at + random.Next(1, 40));
                var part = new ChronicleReader("main.tex", files.Select(f => f with { Authors = f.Authors is null ? null : Authorship.Parse(f.Authors.ToString()) }), [.. kept.Values.TakeLast(20)]);
                steps[at..until].ForEach(s => part.Read(s.Step, s.Text));
                foreach (ChronicleEvent one in part.Take())
                {
                    kept[one.Number] = one;
                }

                files = [.. part.Files];
                at = until;
            }

            Assert.Equal(expected.Select(Told), kept.Values.Select(Told));
            Assert.Equal(whole.Files.Select(f => $"{f.Path} {f.Authors}"), files.Select(f => $"{f.Path} {f.Authors}"));
        }

        static string Told(ChronicleEvent e) => $"{e.Number} {e.Person} {e.Kind} {e.FromRevision}-{e.ToRevision} {e.Steps} +{e.WordsIn} {e.Path}";
    }

    [Fact]
    public void Authorship_is_what_noting_every_letter_gives()
    {
        var random = new Random(7);
        for (int round = 0; round < 200; round++)
        {
            List<int> letters = [.. Enumerable.Repeat(0, random.Next(30))];
            var authors = new Authorship(letters.Count, 0);
            for (int number = 1; number < 30; number++)
            {
                int from = random.Next(letters.Count + 1);
                int length = random.Next(Math.Min(6, letters.Count - from) + 1);
                int insert = random.Next(5);
                var gone = new List<int>();
                authors.Apply(ChangeSet.Replace(letters.Count, from, from + length, new string('x', insert)), number, (_, s) => gone.AddRange(Enumerable.Repeat(s.Event, s.Length)));
                Assert.Equal(letters.GetRange(from, length), gone);
                letters.RemoveRange(from, length);
                letters.InsertRange(from, Enumerable.Repeat(number, insert));
                Assert.Equal(letters, authors.Stretches.SelectMany(s => Enumerable.Repeat(s.Event, s.Length)));
                Assert.Equal(authors.Stretches, Authorship.Parse(authors.ToString()).Stretches);
            }
        }

        Assert.Throws<ChangeSetException>(() => new Authorship(3, 0).Apply(ChangeSet.Nothing(4), 1));
    }

    [Fact]
    public void Any_two_texts_compare_to_pieces_that_give_both_again()
    {
        var random = new Random(11);
        string[] words = ["moss", "wall", "\\emph{stone}", ".", " ", " ", "\n", "\n\n", "%", "größe", "\U0001F9F1", "1740", "\\ref{a}"];
        for (int round = 0; round < 400; round++)
        {
            string before = string.Concat(Enumerable.Range(0, random.Next(60)).Select(_ => words[random.Next(words.Length)]));
            StringBuilder changed = new(before);
            for (int i = random.Next(6); i > 0; i--)
            {
                int at = random.Next(changed.Length + 1);
                // Not in the middle of a character of two units.
                at -= at < changed.Length && char.IsLowSurrogate(changed[at]) ? 1 : 0;
                changed.Insert(at, words[random.Next(words.Length)]);
            }

            string after = random.Next(8) == 0 ? "" : changed.ToString();
            Assert.Equal(after, TextComparison.Changes(before, after).Apply(before));
            foreach (ComparedPassage passage in TextComparison.Passages(before, after))
            {
                Assert.Equal(before.Substring(passage.From, passage.FromLength), Of(passage, PieceKind.Out));
                Assert.Equal(after.Substring(passage.To, passage.ToLength), Of(passage, PieceKind.In));
            }
        }

        static string Of(ComparedPassage passage, PieceKind kind) => string.Concat(passage.Pieces.Where(p => p.Kind == PieceKind.Same || p.Kind == kind).Select(p => p.Text));
    }

    [Fact]
    public void Long_texts_that_have_nothing_in_common_are_compared_in_no_time()
    {
        string before = string.Concat(Enumerable.Range(0, 60_000).Select(i => $"line {i} of one\n"));
        string after = "line 0 of one\n" + string.Concat(Enumerable.Range(0, 60_000).Select(i => $"other {i}\n")) + "line 59999 of one\n";
        var clock = System.Diagnostics.Stopwatch.StartNew();
        ComparedPassage passage = Assert.Single(TextComparison.Passages(before, after));
        Assert.Equal([PieceKind.Out, PieceKind.In], passage.Pieces.Select(p => p.Kind));
        Assert.Equal(14, passage.From);
        Assert.Equal(after, TextComparison.Changes(before, after).Apply(before));
        Assert.True(clock.Elapsed < TimeSpan.FromSeconds(20), $"{clock.Elapsed}");
    }

    [Theory]
    [InlineData("The old wall stands.", "The new wall stands.", "=The |-old|+new|= wall stands.")]
    [InlineData("A \\emph{b} c", "A \\textbf{b} c", "=A |-\\emph|+\\textbf|={b} c")]
    [InlineData("copies. Lichens", "copies. And one more.Lichens", "=copies. |+And one more.|=Lichens")]
    [InlineData("a b c d", "a x y d", "=a |-b c|+x y|= d")]
    [InlineData("Same.", "Same.", "")]
    [InlineData("", "All of it.", "+All of it.")]
    public void Words_are_compared_as_wholes(string before, string after, string expected) =>
        Assert.Equal(expected, string.Join('|', TextComparison.Passages(before, after).SelectMany(p => p.Pieces).Select(p => $"{p.Kind switch { PieceKind.In => '+', PieceKind.Out => '-', _ => '=' }}{p.Text}")));

    [Fact]
    public void What_moved_is_told_from_what_is_new_and_files_by_what_became_of_them()
    {
        const string Moved = "A passage that is long enough to be known again wherever it stands.\n";
        FileThen[] before =
        [
            new(1, "main.tex", "\\begin{document}\n\\section{One}\n" + Moved + "\n\\section{Two}\nMore.\n\\input{b}\n\\end{document}\n", null),
            new(2, "b.tex", "\\section{Three}\nEnd.\n", null), new(3, "old.tex", "Gone.\n", null), new(4, "p.png", null, "aa"), new(5, "same.bib", "@book{a,}\n", null),
        ];
        FileThen[] after =
        [
            new(1, "main.tex", "\\begin{document}\n\\section{One}\n\n\\section{Two}\nMuch more.\n\\input{b}\n\\end{document}\n", null),
            new(2, "c.tex", "\\section{Three}\nEnd.\n" + Moved, null), new(4, "p.png", null, "bb"), new(5, "same.bib", "@book{a,}\n", null), new(6, "new.tex", "New words.\n", null),
        ];
        IReadOnlyList<ComparedFile> files = ManuscriptComparison.Of(before, after, "main.tex");
        Assert.Equal([("main.tex", FileChange.Changed), ("c.tex", FileChange.Changed), ("new.tex", FileChange.New), ("old.tex", FileChange.Gone), ("p.png", FileChange.Changed)], files.Select(f => (f.Path, f.Change)));
        Assert.Equal("b.tex", files[1].PathBefore);
        Assert.Equal([("1 One", "Three", null), ("2 Two", null, null)], files[0].Passages.Select(p => ($"{p.Place!.Number} {p.Place.Title}", p.MovedTo, p.MovedFrom)));
        Assert.Equal("1 One", Assert.Single(files[1].Passages).MovedFrom);
        Assert.Equal((2, 0), (files[2].WordsIn, files[2].WordsOut));
        Assert.Empty(files[4].Passages);
        Assert.Empty(ManuscriptComparison.Of(after, after, "main.tex"));
    }

    [Theory]
    [InlineData("article", "section")]
    [InlineData("report", "chapter")]
    public void Typed_headings_have_the_numbers_that_are_printed(string name, string top)
    {
        string sub = top == "chapter" ? "section" : "subsection";
        string text = $"\\documentclass{{{name}}}\n\\begin{{document}}\n\\{top}{{A}}\n\\{sub}{{B}}\n\\sub{sub}{{C}}\n\\{sub}*{{No number}}\n\\{sub}{{D}}\n\\input{{more}}\n\\appendix\n\\{top}{{Y}}\n\\{sub}{{Z}}\n\\end{{document}}\n";
        string more = $"\\{top}[short]{{E}}\n\\{sub}{{F}}\n";
        string?[] printed = [.. Compiled.Files([("main.tex", text), ("more.tex", more)]).Report.Outline.Select(o => o.Number)];
        Assert.Equal(printed, TypedSections.Of(new Dictionary<string, string> { ["main.tex"] = text, ["more.tex"] = more }, "main.tex").Numbers());
        Assert.Equal("A.1", printed[^1]);
    }

    private static List<(HistoryStep Step, string? Text)> Random(Random random, int count, out Dictionary<int, string> texts)
    {
        var steps = new List<(HistoryStep, string?)>();
        texts = [];
        double minutes = 0;
        for (int number = 1; number <= count; number++)
        {
            minutes += random.Next(12) == 0 ? 45 : random.NextDouble();
            int file = random.Next(1, 4);
            int person = random.Next(1, 3);
            if (!texts.TryGetValue(file, out string? text))
            {
                texts[file] = "\\section{S}\nold words here\n";
                steps.Add((Created(number, file, $"f{file}.tex", person, minutes), texts[file]));
                continue;
            }

            int from = random.Next(text.Length + 1);
            var change = ChangeSet.Replace(text.Length, from, Math.Min(text.Length, from + random.Next(4)), random.Next(3) == 0 ? "" : random.Next(2) == 0 ? "a" : " word ");
            texts[file] = change.Apply(text);
            steps.Add((Typed(number, file, change, person, minutes), null));
        }

        return steps;
    }
}
