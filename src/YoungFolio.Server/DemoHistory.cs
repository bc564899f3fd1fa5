using System.Text;
using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Cowriting;
using YoungFolio.Storage;

namespace YoungFolio.Server;

/// <summary>Writes the demo thesis as three people would have over six weeks: file by file, sentence by sentence, with second thoughts.</summary>
internal static partial class DemoHistory
{
    private const int Ilse = 0;
    private const int Bao = 1;
    private const int Anton = 2;

    /// <summary>When each file was begun and gone on with, in days before now, and by whom.</summary>
    private static readonly (string Path, (int Person, double DaysAgo)[] Sittings)[] s_work =
    [
        ("main.tex", [(Ilse, 43.3), (Anton, 41.2), (Bao, 24.1)]),
        ("chapters/why.tex", [(Ilse, 43.25), (Ilse, 40.3), (Anton, 38.2), (Ilse, 33.3)]),
        ("chapters/valley.tex", [(Ilse, 37.3), (Bao, 35.1), (Ilse, 32.2)]),
        ("sources.bib", [(Ilse, 36.3), (Ilse, 30.2), (Bao, 22.3), (Ilse, 13.1), (Bao, 6.2)]),
        ("chapters/method.tex", [(Ilse, 29.3), (Bao, 27.2), (Bao, 26.1), (Anton, 25.2)]),
        ("data/farms.csv", [(Bao, 23.2)]),
        ("chapters/growth.tex", [(Ilse, 20.2), (Bao, 18.3), (Ilse, 16.2), (Bao, 1.15)]),
        ("chapters/walls.tex", [(Bao, 15.3), (Ilse, 12.2), (Bao, 0.2)]),
        ("chapters/clock.tex", [(Ilse, 9.3), (Bao, 7.2)]),
        ("chapters/close.tex", [(Ilse, 5.3), (Ilse, 4.2)]),
    ];

    private static readonly (string Path, int Person, double DaysAgo)[] s_pictures =
    [
        ("figures/stone.jpg", Ilse, 34.1), ("figures/section.svg", Bao, 28.1), ("figures/quadrats.png", Bao, 19.2),
        ("figures/growth.svg", Ilse, 16.1), ("figures/slope.pdf", Bao, 11.2), ("figures/aspects.png", Bao, 1.1),
    ];

    private static readonly (int Person, double DaysAgo)[] s_seen = [(0, 2.1), (1, 0.1), (2, 8.5), (3, 20)];

    private static readonly (string Name, string Note, int Person, double DaysAgo)[] s_pins =
    [
        ("First three chapters", "For the group's meeting: the method is still open.", Bao, 25.0),
        ("First full draft", "", Bao, 6.0),
        ("Second draft, to Anton", "With the walls of known date in the appendix.", Ilse, 1.12),
    ];

    /// <summary>Makes the thesis. In the end each file holds what its file holds.</summary>
    /// <param name="stores">Where to.</param>
    /// <param name="title">Its title.</param>
    /// <param name="description">The line about it.</param>
    /// <param name="people">Numbers of the demo people.</param>
    /// <param name="files">The files.</param>
    /// <param name="now">The present moment, in UTC.</param>
    public static async Task<ManuscriptEntity> WriteAsync(
        ManuscriptStores stores, string title, string description, IReadOnlyList<int> people, IReadOnlyList<(string Path, byte[] Bytes)> files, DateTime now)
    {
        var contents = files.ToDictionary(p => p.Path, p => p.Bytes, StringComparer.Ordinal);
        List<Step> steps = [.. s_work.SelectMany(w => StepsOf(w.Path, FileContent.Decode(w.Path, contents[w.Path]), w.Sittings))];
        steps.AddRange(s_pictures.Select(p => new Step(p.Path, p.Person, -p.DaysAgo, null, contents[p.Path])));
        // What has no history of its own came at the beginning.
        steps.AddRange(files.Where(p => !steps.Exists(s => s.Path == p.Path)).Select(p => new Step(p.Path, Ilse, -43, null, p.Bytes)).ToList());
        steps.Sort((a, b) => a.Days.CompareTo(b.Days));

        Actor Who(Step step) => new(people[step.Person], null, now.AddDays(step.Days));
        ManuscriptEntity manuscript = await stores.Manuscripts.CreateAsync(title, description, steps[0].Path, Who(steps[0]), [(steps[0].Path, steps[0].Content!)]);
        var known = new Dictionary<string, (int Id, int Version)>();
        foreach (FileEntity file in await stores.Files.FilesAsync(manuscript.Id))
        {
            known[file.Path] = (file.Id, 0);
        }

        var typing = new List<Task>();
        int last = Ilse;
        foreach (Step step in steps.Skip(1))
        {
            // What one person does stays in order; who comes next goes on with what is stored.
            if (step.Person != last)
            {
                await Task.WhenAll(typing);
                typing.Clear();
                last = step.Person;
            }

            if (step.Changes is null)
            {
                known[step.Path] = ((await stores.Files.PutFileAsync(manuscript.Id, Who(step), step.Path, step.Content!)).Id, 0);
                continue;
            }

            (int id, int version) = known[step.Path];
            typing.Add(stores.Texts.TypeAsync(manuscript.Id, Who(step), id, version, [new Update($"demo {step.Person}", step.Changes)]));
            known[step.Path] = (id, version + 1);
        }

        await Task.WhenAll(typing);
        return await stores.Manuscripts.ManuscriptAsync(manuscript.Id);
    }

    /// <summary>Says when each of the demo people was last here, so that there is news.</summary>
    public static async Task SetSeenAsync(FolioDatabase database, int manuscript, IReadOnlyList<int> people)
    {
        DateTime now = DateTime.UtcNow;
        foreach ((int person, double daysAgo) in s_seen)
        {
            DateTime seen = now.AddDays(-daysAgo);
            int number = people[person];
            int revision = await database.Revisions.Where(r => r.ManuscriptId == manuscript && r.At <= seen).MaxAsync(r => (int?)r.Number) ?? 0;
            await database.Memberships.Where(m => m.ManuscriptId == manuscript && m.PersonId == number)
                .ExecuteUpdateAsync(m => m.SetProperty(x => x.SeenRevision, revision).SetProperty(x => x.SeenAt, seen));
        }
    }

    /// <summary>Names the moments that the group came back to.</summary>
    public static async Task SetPinsAsync(FolioDatabase database, ChronicleStore chronicle, int manuscript, IReadOnlyList<int> people)
    {
        DateTime now = DateTime.UtcNow;
        foreach ((string name, string note, int person, double daysAgo) in s_pins)
        {
            DateTime at = now.AddDays(-daysAgo);
            int revision = await database.Revisions.Where(r => r.ManuscriptId == manuscript && r.At <= at).MaxAsync(r => r.Number);
            await chronicle.PinAsync(new Pin { ManuscriptId = manuscript, Revision = revision, Name = name, Note = note, PersonId = people[person], At = at }, null);
        }
    }

    // A file begins with its first paragraphs; each sitting adds its share of the rest, a sentence at a time.
    private static IEnumerable<Step> StepsOf(string path, string text, (int Person, double DaysAgo)[] sittings)
    {
        List<string> pieces = [.. Piece().Matches(text).Select(m => m.Value)];
        int[] borders = [.. Enumerable.Range(0, sittings.Length).Select(s => Border(pieces, s * pieces.Count / sittings.Length)), pieces.Count];
        int length = 0;
        for (int s = 0; s < sittings.Length; s++)
        {
            (int person, double daysAgo) = sittings[s];
            string[] own = [.. pieces[borders[s]..borders[s + 1]]];
            int first = 0;
            double at = -daysAgo;
            if (s == 0)
            {
                first = sittings.Length == 1 ? own.Length : Math.Min(own.Length, Border(pieces, (own.Length / 2) + 1));
                string beginning = string.Concat(own.Take(first));
                length = beginning.Length;
                yield return new Step(path, person, at, null, Encoding.UTF8.GetBytes(beginning));
            }

            for (int i = first; i < own.Length; i++)
            {
                at += (20 + ((i * 37) % 50)) / 86_400.0;
                // Every sixth sentence is typed with a word too many, which goes a little later.
                int space = own[i].IndexOf(' ', StringComparison.Ordinal);
                string typed = i % 6 == 4 && space > 0 ? own[i].Insert(space, " rather") : own[i];
                yield return new Step(path, person, at, ChangeSet.Replace(length, length, length, typed), null);
                if (typed.Length > own[i].Length)
                {
                    at += 12 / 86_400.0;
                    int from = length + space;
                    yield return new Step(path, person, at, ChangeSet.Replace(length + typed.Length, from, from + typed.Length - own[i].Length, ""), null);
                }

                length += own[i].Length;
            }
        }
    }

    // What was said in the margin: on which words of which file, by whom, and what was answered.
    private static readonly (string Path, string Words, int Person, double DaysAgo, string Text, (int Person, double DaysAgo, string Text)[] Replies, bool IsSettled)[] s_notes =
    [
        ("chapters/growth.tex", "The largest thallus in it is a poor witness", Anton, 0.6, "Poor by how much? @Ilse, the reader will want a number here, and Figure 3.2 could give it.", [(Ilse, 0.3, "About four years at eight quadrats. I'll say so.")], false),
        ("chapters/walls.tex", "the worse one when they are not", Anton, 0.58, "Say once more which faces: by now one has forgotten.", [], false),
        ("chapters/why.tex", "What a date is good for", Anton, 30.1, "A good beginning. Could the farms come in earlier?", [(Ilse, 29.9, "They do now."), (Anton, 29.2, "Better.")], true),
        ("chapters/valley.tex", "Two quarries gave", Bao, 3.2, "@Ilse, the estate map has a third one, north of the mill. Shall I add it?", [], false),
    ];

    // What was suggested: words of a file, and what is to stand in their place.
    private static readonly (string Path, string Words, string Proposal, int Person, double DaysAgo, string Text)[] s_suggestions =
    [
        ("chapters/why.tex", "and one landlord from the next.", "and often one landlord from the next.", Anton, 0.55, "The ledgers of two of them overlap by nine years."),
        ("chapters/growth.tex", "The delay can't be told from the early spread by diameters alone;", "Diameters alone can't tell the delay from the early spread;", Anton, 0.54, ""),
        ("chapters/growth.tex", "as it should, and by little beyond eight.", "as it should. Beyond eight it falls by little.", Bao, 0.2, "Two thoughts, two sentences."),
        ("chapters/close.tex", "and the ledgers remain the better witness wherever they speak.", "and the ledgers remain the better witness.", Anton, 12.4, ""),
    ];

    /// <summary>Writes the notes in the margin.</summary>
    public static async Task SetNotesAsync(ManuscriptStores stores, NoteStore notes, int manuscript, IReadOnlyList<int> people)
    {
        DateTime now = DateTime.UtcNow;
        IReadOnlyList<FileEntity> files = await stores.Files.FilesAsync(manuscript);
        foreach (var note in s_notes)
        {
            FileEntity file = files.First(f => f.Path == note.Path);
            LiveText text = await stores.Texts.TextAsync(file.Id);
            int from = text.Text.IndexOf(note.Words, StringComparison.Ordinal);
            int id = await notes.AddAsync(new MarginNote
            {
                ManuscriptId = manuscript, FileId = file.Id, Version = text.Version, From = from, To = from + note.Words.Length, Words = note.Words, PersonId = people[note.Person], At = now.AddDays(-note.DaysAgo), Text = note.Text,
            });
            foreach ((int person, double daysAgo, string words) in note.Replies)
            {
                await notes.ReplyAsync(manuscript, people[person], id, words, now.AddDays(-daysAgo));
            }

            if (note.IsSettled)
            {
                await notes.SettleAsync(manuscript, people[Ilse], id, true, now.AddDays(-29));
            }
        }
    }

    // What was said: by whom, and the words of a file that it leads to.
    private static readonly (int Person, double DaysAgo, string Text, string? Path, string? Words)[] s_talk =
    [
        (Ilse, 9.2, "Chapters 2 and 3 are ready to be read. The figures of Chapter 4 come on Thursday.", null, null),
        (Anton, 8.9, "Thank you. I'll be on the train with it tomorrow.", null, null),
        (Bao, 3.1, "I looked at the stones by the mill again: the two that stand apart are the ones that were mended.", "chapters/walls.tex", "Two walls stand apart"),
        (Anton, 0.56, "Read to the end of Chapter 3. My notes are in the margin; this sentence is the one that matters, @Ilse.", "chapters/growth.tex", "It is read backwards"),
    ];

    /// <summary>Says what was said. Ilse and Bao have read all but the last.</summary>
    public static async Task SetTalkAsync(ManuscriptStores stores, TalkStore talk, int manuscript, IReadOnlyList<int> people)
    {
        DateTime now = DateTime.UtcNow;
        IReadOnlyList<FileEntity> files = await stores.Files.FilesAsync(manuscript);
        int before = 0;
        foreach (var one in s_talk)
        {
            foreach (int reader in (int[])[Ilse, Bao, Anton])
            {
                await talk.SeenAsync(manuscript, people[reader], before);
            }

            var message = new TalkMessage { ManuscriptId = manuscript, PersonId = people[one.Person], At = now.AddDays(-one.DaysAgo), Text = one.Text };
            if (one.Path is { } path && one.Words is { } words)
            {
                FileEntity file = files.First(f => f.Path == path);
                LiveText text = await stores.Texts.TextAsync(file.Id);
                int from = text.Text.IndexOf(words, StringComparison.Ordinal);
                (message.Link, message.FileId, message.Version, message.From, message.To, message.Words) = (TalkLink.Passage, file.Id, text.Version, from, from + words.Length, words);
            }

            before = await talk.SayAsync(message);
        }
    }

    /// <summary>Makes the suggestions; the last one is declined.</summary>
    public static async Task SetSuggestionsAsync(ManuscriptStores stores, NoteStore notes, int manuscript, IReadOnlyList<int> people)
    {
        DateTime now = DateTime.UtcNow;
        IReadOnlyList<FileEntity> files = await stores.Files.FilesAsync(manuscript);
        int id = 0;
        foreach (var one in s_suggestions)
        {
            FileEntity file = files.First(f => f.Path == one.Path);
            LiveText text = await stores.Texts.TextAsync(file.Id);
            int from = text.Text.IndexOf(one.Words, StringComparison.Ordinal);
            id = await notes.AddAsync(new MarginNote
            {
                ManuscriptId = manuscript, FileId = file.Id, Version = text.Version, From = from, To = from + one.Words.Length, Words = one.Words, PersonId = people[one.Person], At = now.AddDays(-one.DaysAgo), Text = one.Text,
                Proposal = one.Proposal, Instead = one.Words,
            });
        }

        await stores.Suggestions.DeclineAsync(manuscript, new Actor(people[Ilse], null, now.AddDays(-11.8)), [id], "The office asked for the sentence as it is.");
    }

    // The next place from here on where nobody leaves something open: behind a paragraph, and within no environment.
    private static int Border(List<string> pieces, int at)
    {
        for (; at > 0 && at < pieces.Count; at++)
        {
            string before = string.Concat(pieces.Take(at));
            if (before.EndsWith("\n\n", StringComparison.Ordinal) && Open(before, "\\begin{") - Open(before, "\\end{") == (before.Contains("\\begin{document}", StringComparison.Ordinal) ? 1 : 0))
            {
                break;
            }
        }

        return at;

        static int Open(string text, string command) => text.Split(command).Length;
    }

    // A sentence with what follows it, or a line.
    [GeneratedRegex(@"[^\n.]*(?:\.(?!\s)[^\n.]*)*(?:\.[ ]|\.?\n+|\.?$)", RegexOptions.Singleline)]
    private static partial Regex Piece();

    /// <summary>One thing that someone did.</summary>
    private sealed record Step(string Path, int Person, double Days, ChangeSet? Changes, byte[]? Content);
}
