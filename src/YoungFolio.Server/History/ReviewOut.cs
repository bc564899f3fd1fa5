using System.Text;
using YoungFolio.Chronicle;
using YoungFolio.Compiler;
using YoungFolio.Markup;
using YoungFolio.Server.Proofs;
using YoungFolio.Storage;

namespace YoungFolio.Server.History;

/// <summary>Hands on the notes and suggestions of a manuscript: as a table, or typeset.</summary>
public sealed class ReviewOut(NoteFollowing following, ManuscriptStore store, FileStore files, TextStore texts, PeopleStore people, ProofService proofs, ManuscriptCompiler compiler, TimeProvider clock)
{
    private static readonly UTF8Encoding s_marked = new(encoderShouldEmitUTF8Identifier: true);

    /// <summary>As a table of values between commas, in UTF-8 with its mark, by which spreadsheets know it.</summary>
    public async Task<byte[]> CsvAsync(int manuscript, bool isOpen, CancellationToken stop) =>
        [.. s_marked.GetPreamble(), .. s_marked.GetBytes(ReviewSheet.Csv(await EntriesAsync(manuscript, isOpen, stop)))];

    /// <summary>As a PDF.</summary>
    public async Task<byte[]> PdfAsync(int manuscript, bool isOpen, CancellationToken stop)
    {
        string title = (await store.ManuscriptAsync(manuscript)).Title;
        string markup = ReviewSheet.Markup(title, clock.GetUtcNow().UtcDateTime, await EntriesAsync(manuscript, isOpen, stop));
        var snapshot = new ManuscriptSnapshot(new FileTree([ManuscriptFile.FromText("main.tex", markup)]), "main.tex", DateOnly.FromDateTime(clock.GetLocalNow().DateTime));
        return await proofs.BesideAsync(() => compiler.Compile(snapshot, null, null, stop).WritePdf(), stop);
    }

    private async Task<IReadOnlyList<ReviewEntry>> EntriesAsync(int manuscript, bool isOpen, CancellationToken stop)
    {
        IReadOnlyList<OutlineLine> outline = (await proofs.GetAsync(manuscript, stop)).Result.Report.Outline;
        List<MarginNote> notes = [.. (await following.FollowAsync(manuscript)).Where(n => !isOpen || n.SettledBy is null)];
        IReadOnlyDictionary<int, Person> by = await people.PeopleAsync(notes.SelectMany(n => n.Replies.Select(r => r.PersonId).Append(n.PersonId).Append(n.SettledBy ?? n.PersonId)).Distinct());
        var paths = (await files.FilesAsync(manuscript)).ToDictionary(f => f.Id, f => f.Path);
        var placed = new List<(int Section, int Place, ReviewEntry Entry)>();
        foreach (MarginNote n in notes)
        {
            string path = paths.GetValueOrDefault(n.FileId, "");
            string text = path.Length > 0 ? (await texts.TextAsync(n.FileId)).Text : "";
            int line = PassageFollowing.LineOf(text, n.From);
            int section = LastHeading(outline, path, line);
            string heading = section < 0 ? "" : $"{outline[section].Number} {outline[section].Title}".Trim();
            placed.Add((section, n.From, new ReviewEntry(
                heading, path, line, n.Instead ?? n.Words, n.Proposal, Name(n.PersonId), n.At, n.Text, State(n), n.SettledBy is { } who ? Name(who) : "", [.. n.Replies.Select(r => new ReviewAnswer(Name(r.PersonId), r.At, r.Text))])));
        }

        return [.. placed.OrderBy(p => p.Section).ThenBy(p => p.Place).Select(p => p.Entry)];

        string Name(int person) => by.TryGetValue(person, out Person? found) ? found.Name : "Someone who left";
    }

    private static string State(MarginNote note) => note switch
    {
        { IsTaken: true } => "taken",
        { IsTaken: false } => "declined",
        { SettledBy: not null } => "settled",
        _ => "open",
    };

    private static int LastHeading(IReadOnlyList<OutlineLine> outline, string path, int line)
    {
        for (int i = outline.Count - 1; i >= 0; i--)
        {
            if (outline[i].File == path && outline[i].Line <= line)
            {
                return i;
            }
        }

        return -1;
    }
}
