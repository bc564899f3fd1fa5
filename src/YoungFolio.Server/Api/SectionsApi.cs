using System.Security.Claims;
using YoungFolio.Bibliography;
using YoungFolio.Compiler;
using YoungFolio.Cowriting;
using YoungFolio.Manuscript.Searching;
using YoungFolio.Manuscript.Sectioning;
using YoungFolio.Server.Proofs;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>A heading by where its command begins in a version of its file.</summary>
public sealed record HeadingPlace(string? File, int Version, int Offset);

/// <summary>A section that is to go elsewhere, or to another level.</summary>
/// <param name="Section">Its heading.</param>
/// <param name="Before">The heading that it is to stand before; null: it stays where it is, or goes to the end.</param>
/// <param name="ToEnd">Whether it goes behind all others.</param>
/// <param name="Shift">By how many levels it goes in.</param>
public sealed record SectionMove(HeadingPlace? Section, HeadingPlace? Before, bool ToEnd, int Shift);

/// <summary>A section that is to have a file of its own.</summary>
/// <param name="Section">Its heading.</param>
/// <param name="Path">The file; null: one that its title suggests.</param>
/// <param name="IsIncluded">Whether <c>\include</c> takes it in; null: as is usual at its place.</param>
public sealed record SectionOut(HeadingPlace? Section, string? Path, bool? IsIncluded);

/// <summary>A file that was made of a section, or that went back into another.</summary>
/// <param name="Path">The file.</param>
/// <param name="IsIncluded">Whether <c>\include</c> took it in.</param>
public sealed record SectionFile(string Path, bool IsIncluded);

/// <summary>What headings there would be.</summary>
/// <param name="Outline">The headings with the numbers that they would have.</param>
public sealed record MovedOutline(IReadOnlyList<OutlineLine> Outline);

/// <summary>Sections that go elsewhere in the manuscript: across files, as one change that can be taken back.</summary>
public static partial class SectionsApi
{
    private const int MostShift = 6;

    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder manuscript)
    {
        RouteGroupBuilder group = manuscript.MapGroup("/sections");
        group.MapPost("/look", (int id, SectionMove move, ManuscriptStore store, FileStore files, TextStore texts, ProofService proofs, CancellationToken stop) => AnswerAsync(async () =>
        {
            Planned plan = await PlanAsync(id, move, store, files, texts);
            var changed = plan.Edits(plan.Texts).ToDictionary(e => e.Key, e => BibText.Apply(plan.Texts[e.Key], e.Value), StringComparer.Ordinal);
            return Results.Ok(new MovedOutline(await proofs.OutlineOfAsync(id, changed, stop)));
        })).Needs(Role.Author).Produces<MovedOutline>();
        group.MapPost("/move", (int id, SectionMove move, ClaimsPrincipal user, ManuscriptStore store, FileStore files, TextStore texts) => AnswerAsync(async () =>
        {
            Planned plan = await PlanAsync(id, move, store, files, texts);
            IReadOnlyList<(FileEntity File, ChangeSet Undo)> done = await texts.EditTextsAsync(id, user.Actor($"moved {plan.Title}"), now => TextChanges.Of(now, plan.Edits(now)));
            return Results.Ok(new ReplacedPlaces(done.Count, 0, TextsApi.Steps(done)));
        })).Needs(Role.Author).Produces<ReplacedPlaces>();
        group.MapPost("/split", (int id, SectionOut wanted, ClaimsPrincipal user, ManuscriptStore store, FileStore files, TextStore texts) => AnswerAsync(async () =>
        {
            Planned plan = await PlanAsync(id, new SectionMove(wanted.Section, null, false, 0), store, files, texts);
            FileEntity made = await files.SplitOffAsync(id, user.Actor($"gave {plan.Title} a file of its own"), now =>
            {
                SectionSplit split = plan.Sections(now).Split(plan.Section, wanted.Path is { } path ? FilePath.Check(path) : null, wanted.IsIncluded);
                return (TextChanges.Of(now, split.From, split.Edit), split.Path, split.Words);
            });
            return Results.Ok(new SectionFile(made.Path, false));
        })).Needs(Role.Author).Produces<SectionFile>();
        group.MapPost("/fold", (int id, SectionOut wanted, ClaimsPrincipal user, ManuscriptStore store, FileStore files, TextStore texts) => AnswerAsync(async () =>
        {
            Planned plan = await PlanAsync(id, new SectionMove(wanted.Section, null, false, 0), store, files, texts);
            bool isIncluded = false;
            FileEntity gone = await files.FoldInAsync(id, user.Actor($"brought {plan.Title} back out of its own file"), now =>
            {
                SectionFold fold = plan.Sections(now).Fold(plan.Section);
                isIncluded = fold.IsIncluded;
                return (TextChanges.Of(now, fold.Into, fold.Edit), fold.Path);
            });
            return Results.Ok(new SectionFile(gone.Path, isIncluded));
        })).Needs(Role.Author).Produces<SectionFile>();
    }

    // A move by which of the headings it is of: others may write meanwhile, as long as the headings stay.
    private sealed record Planned(IReadOnlyDictionary<string, string> Texts, string Main, IReadOnlyList<int> Levels, int Section, int? Before, int Shift)
    {
        public TypedSections Sections(IReadOnlyDictionary<string, string> now)
        {
            var sections = TypedSections.Of(now, Main);
            return sections.Headings.Select(h => h.Level).SequenceEqual(Levels) ? sections : throw Changed();
        }

        /// <summary>The section's title, for the chronicle.</summary>
        public string Title
        {
            get
            {
                TypedHeading heading = TypedSections.Of(Texts, Main).Headings[Section];
                return HeadingTitle().Match(Texts[heading.Path], heading.Offset) is { Success: true } found ? $"“{found.Groups[1].Value.Trim()}”" : "a section";
            }
        }

        public IReadOnlyDictionary<string, IReadOnlyList<TextEdit>> Edits(IReadOnlyDictionary<string, string> now) => Sections(now).Move(Section, Before, Shift);
    }

    private static async Task<Planned> PlanAsync(int id, SectionMove move, ManuscriptStore store, FileStore files, TextStore texts)
    {
        IReadOnlyDictionary<string, (int File, LiveText Text)> read = await texts.AllAsync(id);
        var now = read.ToDictionary(t => t.Key, t => t.Value.Text.Text, StringComparer.Ordinal);
        string main = (await store.ManuscriptAsync(id)).MainFile;
        var sections = TypedSections.Of(now, main);
        (string path, int offset) = await NowAsync(move.Section);
        int section = sections.CountBefore(path, offset);
        if (section >= sections.Headings.Count || sections.Headings[section].Path != path || sections.Headings[section].Offset != offset)
        {
            throw Changed();
        }

        int? before = move.ToEnd ? sections.Headings.Count : null;
        if (move.Before is not null)
        {
            (string beforePath, int beforeOffset) = await NowAsync(move.Before);
            before = sections.CountBefore(beforePath, beforeOffset);
        }

        return new Planned(now, main, [.. sections.Headings.Select(h => h.Level)], section, before, Math.Clamp(move.Shift, -MostShift, MostShift));

        // Where a place of a version is in the text that was read: what came since carried it along.
        async Task<(string Path, int Offset)> NowAsync(HeadingPlace? heading)
        {
            if (heading?.File is not { } file || !read.TryGetValue(file, out (int File, LiveText Text) found))
            {
                throw new SearchException("This heading isn’t in a file of the manuscript.");
            }

            return (file, ChangeSet.Carry(await texts.ChangesAsync(id, found.File, heading.Version, found.Text.Version), heading.Offset));
        }
    }

    [System.Text.RegularExpressions.GeneratedRegex(@"\G\\[a-z]+\*?\s*(?:\[[^\]]*\]\s*)?\{((?:[^{}]|\{[^{}]*\}){1,200})\}")]
    private static partial System.Text.RegularExpressions.Regex HeadingTitle();

    private static SearchException Changed() => new("This heading isn’t typed as one, or headings have just changed. Wait for the next proof, or move it in the text.");

    private static async Task<IResult> AnswerAsync(Func<Task<IResult>> answer)
    {
        try
        {
            return await answer();
        }
        catch (SearchException e)
        {
            return Results.Json(new Problem(e.Message), statusCode: 409);
        }
    }
}
