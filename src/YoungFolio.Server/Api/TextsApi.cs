using System.Security.Claims;
using System.Text.Json;
using YoungFolio.Bibliography;
using YoungFolio.Cowriting;
using YoungFolio.Manuscript.Searching;
using YoungFolio.Server.Live;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>What takes a change of one file back.</summary>
/// <param name="File">The file.</param>
/// <param name="Version">Its version after the change.</param>
/// <param name="Changes">The change set.</param>
public sealed record UndoStep(int File, int Version, JsonElement Changes);

/// <summary>A place that was found.</summary>
/// <param name="Offset">Its first character, from 0.</param>
/// <param name="Length">How many characters.</param>
/// <param name="Line">Its line, from 1.</param>
/// <param name="Before">What stands before it in its line, or the end of that.</param>
/// <param name="Words">What was found.</param>
/// <param name="After">What stands after it in its line, or the beginning of that.</param>
/// <param name="Replacement">What would take its place; empty when nothing was said.</param>
public sealed record FoundPlace(int Offset, int Length, int Line, string Before, string Words, string After, string Replacement);

/// <summary>What was found in a file.</summary>
/// <param name="File">The file.</param>
/// <param name="Path">Its name.</param>
/// <param name="Version">The version of its text that the places are of.</param>
/// <param name="Places">The places, in order.</param>
public sealed record FoundFile(int File, string Path, int Version, IReadOnlyList<FoundPlace> Places);

/// <summary>What was found in a manuscript.</summary>
/// <param name="Files">The files with places in them: the main file first, then by name.</param>
/// <param name="Total">How many places there are; not all of them need be listed.</param>
public sealed record FoundView(IReadOnlyList<FoundFile> Files, int Total);

/// <summary>What is looked for, and in which file; null: in all.</summary>
public sealed record Search(SearchQuery Query, int? File, string? With);

/// <summary>A place that was chosen.</summary>
public sealed record ChosenPlace(int File, int Version, int Offset);

/// <summary>What takes the place of what is looked for.</summary>
/// <param name="Query">What is looked for.</param>
/// <param name="With">What takes its place.</param>
/// <param name="File">In which file; null: in all.</param>
/// <param name="Only">The places; null: all of them.</param>
public sealed record Replacing(SearchQuery Query, string With, int? File, IReadOnlyList<ChosenPlace>? Only);

/// <summary>A name, and what it is to be.</summary>
/// <param name="Kind">What the name is of.</param>
/// <param name="Name">The name, of a command without its backslash.</param>
/// <param name="To">The name that it is to have; null: only its places are wanted.</param>
public sealed record Naming(NameKind Kind, string Name, string? To);

/// <summary>What was replaced.</summary>
/// <param name="Replaced">How many places.</param>
/// <param name="Missed">How many that were chosen had other words by then, and were left alone.</param>
/// <param name="Undo">What takes it back.</param>
public sealed record ReplacedPlaces(int Replaced, int Missed, IReadOnlyList<UndoStep> Undo);

/// <summary>What concerns several texts of a manuscript at once: finding, replacing, taking back.</summary>
public static class TextsApi
{
    private const int MostListed = 1000;
    private const int MostChosen = 20_000;
    private const int MostPlaces = 100_000;
    private const int LongestShown = 200;
    private const int MostUndoSteps = FileStore.MostFiles;
    private const int Around = 60;
    private const int LongestShort = 60;

    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder manuscript)
    {
        RouteGroupBuilder group = manuscript.MapGroup("/texts");
        group.MapPost("/find", async (int id, Search search, ManuscriptStore store, FileStore files, TextStore texts) => await Answer(async () =>
            Results.Ok(await FindAsync(id, search, store, files, texts)))).Needs(Role.Reader).Produces<FoundView>();
        group.MapPost("/replace", async (int id, Replacing replacing, ClaimsPrincipal user, FileStore files, TextStore texts) => await Answer(async () =>
            replacing.Only is { Count: > MostChosen } ? Results.Json(new Problem($"At most {MostChosen} places can be chosen one by one."), statusCode: 400)
            : Results.Ok(await ReplaceAsync(id, replacing, user, files, texts)))).Needs(Role.Author).Produces<ReplacedPlaces>();
        group.MapPost("/uses", async (int id, Naming naming, ManuscriptStore store, FileStore files, TextStore texts) =>
            await ListAsync(id, store, files, texts, f => IsMarkup(f.Path), text => Uses(naming, text))).Needs(Role.Reader);
        group.MapPost("/rename", async (int id, Naming naming, ClaimsPrincipal user, TextStore texts) => await Answer(async () =>
            Results.Ok(await RenameAsync(id, naming, user, texts)))).Needs(Role.Author).Produces<ReplacedPlaces>();
        group.MapPost("/undo", async (int id, IReadOnlyList<UndoStep?>? steps, ClaimsPrincipal user, TextStore texts) =>
        {
            if (steps is not { Count: > 0 and <= MostUndoSteps } || steps.Any(s => s is null))
            {
                return Results.Json(new Problem("Say what is to be taken back: for each file its version after the change, and the change that takes it back."), statusCode: 400);
            }

            await texts.UndoAsync(id, user.Actor("took a change back"), [.. steps.Select(s => (s!.File, s.Version, s.Changes.ToChangeSet()))]);
            return Results.NoContent();
        }).Needs(Role.Author);
    }

    /// <summary>What takes changes back, as it travels.</summary>
    public static List<UndoStep> Steps(IReadOnlyList<(FileEntity File, ChangeSet Undo)> done) =>
        [.. done.Select(d => new UndoStep(d.File.Id, d.File.Version, JsonSerializer.SerializeToElement(d.Undo)))];

    private static async Task<IResult> Answer(Func<Task<IResult>> answer)
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

    private static async Task<FoundView> FindAsync(int id, Search wanted, ManuscriptStore store, FileStore files, TextStore texts)
    {
        var search = new TextSearch(wanted.Query ?? new SearchQuery(""));
        return await ListAsync(id, store, files, texts, f => IsWanted(f, wanted.File, wanted.Query), text => search.Find(text, wanted.With));
    }

    private static async Task<FoundView> ListAsync(int id, ManuscriptStore store, FileStore files, TextStore texts, Func<FileEntity, bool> isWanted, Func<string, IEnumerable<SearchHit>> find)
    {
        string main = (await store.ManuscriptAsync(id)).MainFile;
        var found = new List<FoundFile>();
        int total = 0;
        foreach (FileEntity file in (await files.FilesAsync(id)).Where(f => f.IsText && isWanted(f)).OrderBy(f => f.Path != main).ThenBy(f => f.Path, StringComparer.Ordinal))
        {
            LiveText text = await texts.TextAsync(file.Id);
            var places = new List<FoundPlace>();
            var lines = new LineCounter(text.Text);
            foreach (SearchHit hit in find(text.Text))
            {
                if (total++ < MostListed)
                {
                    places.Add(lines.Place(hit));
                }

                if (total > MostPlaces)
                {
                    throw TooMany();
                }
            }

            if (places.Count > 0)
            {
                found.Add(new FoundFile(file.Id, file.Path, text.Version, places));
            }
        }

        return new FoundView(found, total);
    }

    private static IEnumerable<SearchHit> Uses(Naming naming, string text) =>
        string.IsNullOrEmpty(naming.Name) ? [] : NameUses.Find(text, naming.Kind, naming.Name).Select(p => new SearchHit(p.Offset, p.Length, naming.To ?? ""));

    private static bool IsMarkup(string path) => Path.GetExtension(path).ToUpperInvariant() is ".TEX" or ".STY" or ".CLS" or ".LTX";

    // Words for the chronicle: a line, and not a long one.
    private static string Short(string? words)
    {
        string line = string.Join(' ', (words ?? "").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
        return line.Length > LongestShort ? line[..LongestShort] + "…" : line;
    }

    private static async Task<ReplacedPlaces> RenameAsync(int id, Naming naming, ClaimsPrincipal user, TextStore texts)
    {
        int replaced = 0;
        IReadOnlyList<(FileEntity File, ChangeSet Undo)> done = await texts.EditTextsAsync(id, user.Actor($"renamed the {naming.Kind} {Short(naming.Name)} to {Short(naming.To)}"), now =>
        {
            // It may be asked again, with newer texts.
            replaced = 0;
            List<(string Path, string Text)> markup = [.. now.Where(t => IsMarkup(t.Key)).Select(t => (t.Key, t.Value))];
            if (NameUses.Obstacle(markup, naming.Kind, naming.Name ?? "", naming.To ?? "") is { } obstacle)
            {
                throw new SearchException(obstacle);
            }

            var edits = new Dictionary<string, List<TextEdit>>(StringComparer.Ordinal);
            foreach ((string path, string text) in markup)
            {
                List<TextEdit> all = [.. Uses(naming, text).Select(h => new TextEdit(h.Offset, h.Length, h.Replacement))];
                if (all.Count > 0)
                {
                    edits[path] = all;
                    replaced += all.Count;
                }
            }

            return TextChanges.Of(now, edits);
        });
        return new ReplacedPlaces(replaced, 0, Steps(done));
    }

    private static async Task<ReplacedPlaces> ReplaceAsync(int id, Replacing replacing, ClaimsPrincipal user, FileStore files, TextStore texts)
    {
        var search = new TextSearch(replacing.Query ?? new SearchQuery(""));
        var wanted = (await files.FilesAsync(id)).Where(f => IsWanted(f, replacing.File, replacing.Query)).ToDictionary(f => f.Path, f => f.Id, StringComparer.Ordinal);
        Dictionary<int, HashSet<int>>? chosen = replacing.Only is null ? null : await WhereNowAsync(id, replacing.Only, texts);
        int replaced = 0;
        long inserted = 0;
        IReadOnlyList<(FileEntity File, ChangeSet Undo)> done = await texts.EditTextsAsync(id, user.Actor($"replaced “{Short(replacing.Query?.Words)}” by “{Short(replacing.With)}”"), now =>
        {
            // It may be asked again, with newer texts.
            replaced = 0;
            inserted = 0;
            var edits = new Dictionary<string, List<TextEdit>>(StringComparer.Ordinal);
            foreach ((string path, string text) in now)
            {
                if (!wanted.TryGetValue(path, out int file) || (chosen is not null && !chosen.ContainsKey(file)))
                {
                    continue;
                }

                var all = new List<TextEdit>();
                foreach (SearchHit hit in search.Find(text, replacing.With ?? "").Where(h => chosen is null || chosen[file].Contains(h.Offset)))
                {
                    all.Add(new TextEdit(hit.Offset, hit.Length, hit.Replacement));
                    inserted += hit.Replacement.Length;
                    if (++replaced > MostPlaces)
                    {
                        throw TooMany();
                    }

                    if (inserted > TextSearch.MostInserted)
                    {
                        throw TextSearch.TooMuch();
                    }
                }

                if (all.Count > 0)
                {
                    edits[path] = all;
                }
            }

            return TextChanges.Of(now, edits);
        });
        return new ReplacedPlaces(replaced, replacing.Only is null ? 0 : replacing.Only.Distinct().Count() - replaced, Steps(done));
    }

    private static SearchException TooMany() => new($"It is found in more than {MostPlaces:N0} places. Look for something that is rarer.");

    // Where chosen places are by now: what came in since moved them along.
    private static async Task<Dictionary<int, HashSet<int>>> WhereNowAsync(int id, IReadOnlyList<ChosenPlace> places, TextStore texts)
    {
        var now = new Dictionary<int, HashSet<int>>();
        foreach (IGrouping<(int File, int Version), ChosenPlace> group in places.GroupBy(p => (p.File, p.Version)))
        {
            IReadOnlyList<ChangeSet> since = await texts.ChangesAsync(id, group.Key.File, group.Key.Version);
            if (!now.TryGetValue(group.Key.File, out HashSet<int>? offsets))
            {
                now[group.Key.File] = offsets = [];
            }

            foreach (ChosenPlace place in group)
            {
                offsets.Add(ChangeSet.Carry(since, place.Offset));
            }
        }

        return now;
    }

    // Lists of sources and definitions don't print as they stand.
    private static bool IsWanted(FileEntity file, int? only, SearchQuery? query) =>
        file.IsText && (only is null || file.Id == only) && (query?.PrintedOnly != true || file.Path.EndsWith(".tex", StringComparison.OrdinalIgnoreCase));

    /// <summary>Says on which lines places are, from the first to the last.</summary>
    private sealed class LineCounter(string text)
    {
        private int _line = 1;
        private int _start;

        public FoundPlace Place(SearchHit hit)
        {
            for (int next = text.IndexOf('\n', _start); next >= 0 && next < hit.Offset; next = text.IndexOf('\n', _start))
            {
                _line++;
                _start = next + 1;
            }

            int end = hit.Offset + hit.Length;
            int lineEnd = text.IndexOf('\n', end);
            lineEnd = lineEnd < 0 ? text.Length : lineEnd;
            int from = Math.Max(_start, hit.Offset - Around);
            int to = Math.Min(lineEnd, end + Around);
            return new FoundPlace(hit.Offset, hit.Length, _line, text[from..hit.Offset], Brief(text[hit.Offset..end]), text[end..to], Brief(hit.Replacement));
        }

        private static string Brief(string words) => words.Length <= LongestShown ? words : words[..(char.IsHighSurrogate(words[LongestShown - 1]) ? LongestShown - 1 : LongestShown)] + "…";
    }
}
