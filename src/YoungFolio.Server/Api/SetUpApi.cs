using System.Security.Claims;
using YoungFolio.Bibliography;
using YoungFolio.Compiler;
using YoungFolio.Cowriting;
using YoungFolio.Manuscript.Searching;
using YoungFolio.Manuscript.SettingUp;
using YoungFolio.Server.Proofs;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>A setting, what it is here, and where that stands.</summary>
/// <param name="Id">Its name.</param>
/// <param name="Group">The group that it stands in.</param>
/// <param name="Title">What it is called.</param>
/// <param name="Does">What it does to the page.</param>
/// <param name="Form">What it is made of.</param>
/// <param name="Choices">Values to choose from.</param>
/// <param name="TakesOthers">Whether others are taken too.</param>
/// <param name="IsLong">Whether it is a text of its own.</param>
/// <param name="Usual">What holds where nothing sets it.</param>
/// <param name="Within">Another setting's value without which it has no effect.</param>
/// <param name="Value">What is set; null: nothing.</param>
/// <param name="Places">The places that set it; the last one wins.</param>
/// <param name="CanChange">Whether it can be changed here.</param>
public sealed record SettingView(
    string Id, string Group, string Title, string Does, SettingForm Form, IReadOnlyList<SettingChoice> Choices, bool TakesOthers, bool IsLong, string? Usual, string? Within, string? Value, IReadOnlyList<SettingPlace> Places, bool CanChange);

/// <summary>A file of the preamble.</summary>
/// <param name="Path">Its path.</param>
/// <param name="Version">The version of its text.</param>
/// <param name="Text">Its text, up to where the manuscript's text begins.</param>
public sealed record SetUpFile(string Path, int Version, string Text);

/// <summary>A manuscript's set-up.</summary>
/// <param name="HasPreamble">Whether there is a preamble.</param>
/// <param name="Settings">What is set.</param>
/// <param name="Files">The files that set something, the main one first.</param>
/// <param name="Page">The page as it is set; null: there is no preamble.</param>
/// <param name="Packages">The packages that are loaded.</param>
/// <param name="Remarks">What fights each other, or can't be.</param>
public sealed record SetUpView(bool HasPreamble, IReadOnlyList<SettingView> Settings, IReadOnlyList<SetUpFile> Files, PageLook? Page, IReadOnlyList<PackageLoading> Packages, IReadOnlyList<SetUpRemark> Remarks);

/// <summary>A setting that is to be another; null: nothing is to set it.</summary>
public sealed record SettingWish(string? Id, string? Value);

/// <summary>A package that is to be loaded, or no longer.</summary>
public sealed record PackageWish(string? Name, bool IsLoaded);

/// <summary>A set-up after a change, and what takes the change back.</summary>
public sealed record ChangedSetUp(SetUpView SetUp, IReadOnlyList<UndoStep> Undo);

/// <summary>What a preamble sets, read from its own text and changed in the smallest way.</summary>
public static class SetUpApi
{
    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder manuscript)
    {
        RouteGroupBuilder group = manuscript.MapGroup("/set-up");
        group.MapGet("/", (int id, ManuscriptStore store, TextStore texts, ProofService proofs, CancellationToken stop) =>
            ViewAsync(id, store, texts, proofs, stop)).Needs(Role.Reader);
        group.MapPost("/", (int id, SettingWish wish, ClaimsPrincipal user, ManuscriptStore store, TextStore texts, ProofService proofs, CancellationToken stop) =>
            ChangeAsync(id, user, s => s.Change(wish.Id ?? "", wish.Value), $"set {SettingCatalogue.Find(wish.Id ?? "")?.Title.ToLowerInvariant()}", store, texts, proofs, stop)).Needs(Role.Author).Produces<ChangedSetUp>();
        group.MapPost("/packages", (int id, PackageWish wish, ClaimsPrincipal user, ManuscriptStore store, TextStore texts, ProofService proofs, CancellationToken stop) =>
            ChangeAsync(id, user, s => wish.IsLoaded ? s.Load(wish.Name ?? "") : s.Unload(wish.Name ?? ""), $"{(wish.IsLoaded ? "loaded" : "took out")} the package {wish.Name}", store, texts, proofs, stop)).Needs(Role.Author).Produces<ChangedSetUp>();
    }

    private static Task<IResult> ChangeAsync(
        int id, ClaimsPrincipal user, Func<SetUp, IReadOnlyList<FileEdit>> change, string act, ManuscriptStore store, TextStore texts, ProofService proofs, CancellationToken stop) =>
        StoreAsync(id, user, (now, main) => [change(SetUp.Of(now, main))], act, store, texts, proofs, stop);

    /// <summary>Stores what is worked out from the texts as they are at the moment of the change: of two people who change one setting the later one holds.</summary>
    internal static async Task<IResult> StoreAsync(
        int id, ClaimsPrincipal user, Func<IReadOnlyDictionary<string, string>, string, IReadOnlyList<IReadOnlyList<FileEdit>>> change, string act, ManuscriptStore store, TextStore texts, ProofService proofs, CancellationToken stop)
    {
        try
        {
            string main = (await store.ManuscriptAsync(id)).MainFile;
            IReadOnlyList<(FileEntity File, ChangeSet Undo)> done = await texts.EditTextsAsync(id, user.Actor(act), now => Together(now, change(now, main)));
            return Results.Ok(new ChangedSetUp(await ViewAsync(id, store, texts, proofs, stop), TextsApi.Steps(done)));
        }
        catch (SetUpException e)
        {
            return Results.Json(new Problem(e.Message), statusCode: 409);
        }
    }

    // Each round of edits is of the texts after the one before; together they are one change.
    private static Dictionary<string, ChangeSet> Together(IReadOnlyDictionary<string, string> now, IReadOnlyList<IReadOnlyList<FileEdit>> rounds)
    {
        var whole = new Dictionary<string, ChangeSet>(StringComparer.Ordinal);
        foreach (IReadOnlyList<FileEdit> edits in rounds)
        {
            Dictionary<string, ChangeSet> next = TextChanges.Of(now, edits.GroupBy(e => e.File).ToDictionary(g => g.Key, g => (IReadOnlyList<TextEdit>)[.. g.Select(e => e.Edit).OrderBy(e => e.Offset)], StringComparer.Ordinal));
            foreach ((string file, ChangeSet changes) in next)
            {
                whole[file] = whole.TryGetValue(file, out ChangeSet? before) ? before.Compose(changes) : changes;
            }

            now = SetUp.Apply(now, edits);
        }

        return whole;
    }

    private static async Task<SetUpView> ViewAsync(int id, ManuscriptStore store, TextStore texts, ProofService proofs, CancellationToken stop)
    {
        IReadOnlyDictionary<string, (int File, LiveText Text)> read = await texts.AllAsync(id);
        var now = read.ToDictionary(t => t.Key, t => t.Value.Text.Text, StringComparer.Ordinal);
        string main = (await store.ManuscriptAsync(id)).MainFile;
        var setUp = SetUp.Of(now, main);
        IReadOnlyList<SettingState> states = setUp.Settings;
        PageLook? page = setUp is { HasPreamble: true, Begin: { } begin } ? await proofs.PageOfAsync(id, now, begin.File, begin.At, stop) : null;
        IReadOnlyList<PackageLoading> packages = setUp.Packages(Uses(now));
        string[] concerned = [.. states.SelectMany(s => s.Places.Select(p => p.File)).Concat(packages.Select(p => p.File)).Append(main).Distinct().Where(now.ContainsKey).OrderBy(p => p != main).ThenBy(p => p, StringComparer.Ordinal)];
        return new SetUpView(
            setUp.HasPreamble,
            [.. states.Select(s => new SettingView(s.Setting.Id, s.Setting.Group, s.Setting.Title, s.Setting.Does, s.Setting.Form, s.Setting.Choices, s.Setting.TakesOthers, s.Setting.IsLong, s.Usual, s.Setting.Within, s.Value, s.Places, s.CanChange))],
            [.. concerned.Select(p => new SetUpFile(p, read[p].Text.Version, setUp.Begin is { } b && b.File == p ? now[p][..(b.At + BeginDocument.Length)] : now[p]))],
            page, packages, setUp.Remarks);
    }

    private const string BeginDocument = "\\begin{document}";

    private static Dictionary<string, int> Uses(Dictionary<string, string> texts)
    {
        var uses = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach ((string name, int count) in texts.Where(t => Path.GetExtension(t.Key) is ".tex" or ".sty" or ".cls").SelectMany(t => TypedNames.Of(t.Value).Uses))
        {
            uses[name] = uses.GetValueOrDefault(name) + count;
        }

        return uses;
    }
}
