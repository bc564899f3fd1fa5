using System.Security.Claims;
using YoungFolio.Bibliography;
using YoungFolio.Compiler;
using YoungFolio.Cowriting;
using YoungFolio.Server.Security;
using YoungFolio.Server.Sources;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>The table of sources.</summary>
/// <param name="Rows">The sources.</param>
/// <param name="Files">The .bib files, to which sources can be added.</param>
/// <param name="Types">Names of types with what they are for.</param>
public sealed record SourcesView(IReadOnlyList<SourceRow> Rows, IReadOnlyList<string> Files, IReadOnlyList<SourceTypeView> Types);

/// <summary>A type of source.</summary>
public sealed record SourceTypeView(string Name, string Says);

/// <summary>Text in any of the three formats.</summary>
public sealed record PastedSources(string Text);

/// <summary>A record before it is taken in.</summary>
/// <param name="Key">The key that it will get.</param>
/// <param name="Type">Its type.</param>
/// <param name="Authors">Its names, as typed.</param>
/// <param name="Title">Its title, plain.</param>
/// <param name="Year">Its year.</param>
/// <param name="Missing">Fields that it lacks.</param>
/// <param name="Twin">Key of a source that seems to be the same, or null.</param>
/// <param name="Text">It as text of a .bib file.</param>
public sealed record OfferedSource(string Key, string Type, string Authors, string Title, string Year, IReadOnlyList<string> Missing, string? Twin, string Text);

/// <summary>What a text or the catalogue offers.</summary>
public sealed record SourceOffer(string Format, IReadOnlyList<OfferedSource> Records, IReadOnlyList<string> Problems);

/// <summary>A change of the sources.</summary>
/// <param name="Kind"><c>fields</c>, <c>type</c>, <c>text</c>, <c>rename</c>, <c>delete</c>, <c>merge</c> or <c>add</c>.</param>
/// <param name="Key">The source; for merge the one that stays.</param>
/// <param name="Other">A new key or type; for merge the one that goes.</param>
/// <param name="Text">Text of an entry, or of records to add.</param>
/// <param name="File">Where records are added; null: the first .bib file.</param>
/// <param name="Fields">Fields with their values.</param>
/// <param name="IsCited">Whether what is added is cited at once: then the manuscript gets a list of sources if it has none.</param>
public sealed record SourceChange(string Kind, string? Key, string? Other, string? Text, string? File, IReadOnlyDictionary<string, string>? Fields, bool? IsCited = null);

/// <summary>A change that was made.</summary>
/// <param name="Keys">Keys of sources that were added or that the change is about.</param>
/// <param name="Undo">What takes it back.</param>
public sealed record ChangedSources(IReadOnlyList<string> Keys, IReadOnlyList<UndoStep> Undo);

/// <summary>The Sources room.</summary>
public static class SourceApi
{
    private const int LargestPaste = 5 * 1024 * 1024;

    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder manuscript)
    {
        RouteGroupBuilder sources = manuscript.MapGroup("/sources");
        sources.MapGet("/", async (int id, FileStore files, SourceService service) =>
            new SourcesView((await service.TableAsync(id)).Rows, await BibFilesAsync(files, id), [.. EntryTypes.All.Select(t => new SourceTypeView(t.Name, t.Says))])).Needs(Role.Reader);
        sources.MapGet("/entry", async (int id, string key, SourceService service) =>
            (await service.TableAsync(id)).Detail(key) is { } detail ? Results.Ok(detail) : Results.Json(new Problem($"There is no source “{key}” any more."), statusCode: 404))
            .Needs(Role.Reader).Produces<SourceDetail>();
        sources.MapGet("/styles", async (int id, SourceService service) => (await service.TableAsync(id)).Samples()).Needs(Role.Reader);
        sources.MapGet("/export", async (int id, string format, string? keys, FileStore files, TextStore texts) => await ExportAsync(files, texts, id, format, keys)).Needs(Role.Reader);
        sources.MapGet("/lookup", async (int id, string q, SourceService service, SourceLookup lookup, CancellationToken stop) =>
        {
            try
            {
                return Results.Ok(Offer(await service.TableAsync(id), await lookup.AskAsync(q, stop), isLookup: true));
            }
            catch (LookupException e)
            {
                return Results.Json(new Problem(e.Message), statusCode: 502);
            }
        }).Needs(Role.Reader).Produces<SourceOffer>();
        sources.MapPost("/look", async (int id, PastedSources pasted, SourceService service) =>
            pasted.Text is null ? Results.Json(new Problem("There is no text."), statusCode: 400)
            : pasted.Text.Length > LargestPaste
                ? Results.Json(new Problem("This is more than 5 MB of text: upload it as a file instead."), statusCode: 413)
                : Results.Ok(Offer(await service.TableAsync(id), pasted.Text, isLookup: false))).Needs(Role.Reader).Produces<SourceOffer>();
        sources.MapPost("/change", async (int id, SourceChange change, ClaimsPrincipal user, ManuscriptStore store, FileStore files, TextStore texts) =>
        {
            if (change.Kind == "add" && (await BibFilesAsync(files, id)).Count == 0)
            {
                await files.PutFileAsync(id, user.Actor(), "sources.bib", []);
            }

            IReadOnlyList<string> keys = [];
            string main = (await store.ManuscriptAsync(id)).MainFile;
            try
            {
                IReadOnlyList<(FileEntity File, ChangeSet Undo)> done = await texts.EditTextsAsync(id, user.Actor(Act(change)), now => TextChanges.Of(now, Carry(new SourceEdits(now), now, change, main, out keys).Result));
                return Results.Ok(new ChangedSources(keys, TextsApi.Steps(done)));
            }
            catch (SourceException e)
            {
                return Results.Json(new Problem(e.Message), statusCode: 409);
            }
        }).Needs(Role.Author).Produces<ChangedSources>();
    }

    private static async Task<List<string>> BibFilesAsync(FileStore files, int id) =>
        [.. (await files.FilesAsync(id)).Where(p => p.Path.EndsWith(".bib", StringComparison.OrdinalIgnoreCase)).Select(p => p.Path)];

    // What it is, for the chronicle.
    private static string Act(SourceChange change) => change.Kind switch
    {
        "rename" => $"renamed the source {change.Key} to {change.Other}",
        "delete" => $"took out the source {change.Key}",
        "merge" => $"merged the source {change.Other} into {change.Key}",
        "add" => "added sources",
        _ => $"changed the source {change.Key}",
    };

    private static SourceEdits Carry(SourceEdits edits, IReadOnlyDictionary<string, string> texts, SourceChange change, string main, out IReadOnlyList<string> keys)
    {
        string key = change.Key ?? "";
        keys = [key];
        switch (change.Kind)
        {
            case "fields":
                return edits.SetFields(key, change.Fields ?? new Dictionary<string, string>());
            case "type":
                return edits.SetType(key, change.Other ?? "");
            case "text":
                keys = [BibReader.Read(change.Text ?? "").Entries is [var only] ? only.Key : key];
                return edits.SetText(key, change.Text ?? "");
            case "rename":
                keys = [change.Other ?? ""];
                return edits.Rename(key, (change.Other ?? "").Trim());
            case "delete":
                keys = [];
                return edits.Delete(key);
            case "merge":
                return edits.Merge(key, change.Other ?? "", change.Fields ?? new Dictionary<string, string>());
            case "add":
                string file = change.File ?? texts.Keys.Where(p => p.EndsWith(".bib", StringComparison.OrdinalIgnoreCase)).Order(StringComparer.Ordinal).First();
                keys = edits.AddRecords(file, SourceImport.Read(change.Text ?? "").Records);
                return change.IsCited == true ? edits.EnsurePrinted(main, file) : edits;
            default:
                throw new SourceException("There is no such change of sources.");
        }
    }

    private static SourceOffer Offer(SourceTable table, string text, bool isLookup)
    {
        SourceImport import = SourceImport.Read(text);
        var taken = table.Rows.Where(r => r.IsThere).Select(r => r.Key).ToHashSet(StringComparer.Ordinal);
        var offered = new List<OfferedSource>();
        foreach (SourceRecord record in import.Records)
        {
            BibEntry entry = record.ToEntry();
            string? twin = table.TwinOf(entry);
            if (record.Key.Length == 0 || taken.Contains(record.Key))
            {
                record.Key = SourceRecord.MakeKey(entry, taken.Contains);
            }

            taken.Add(record.Key);
            offered.Add(new OfferedSource(record.Key, record.Type, MarkupText.Plain(entry.First("author", "editor")), MarkupText.Plain(entry.Field("title")), MarkupText.Plain(SourceDate.Of(entry).Printed),
                EntryTypes.Missing(entry, EntryRule.Classic), twin, record.ToText()));
        }

        // Nothing found is no problem of the text.
        return new SourceOffer(import.Format, offered, isLookup && offered.Count == 0 ? [] : import.Problems);
    }

    private static async Task<IResult> ExportAsync(FileStore files, TextStore texts, int id, string format, string? keys)
    {
        HashSet<string>? wanted = keys is null ? null : [.. keys.Split(',')];
        var entries = new List<BibEntry>();
        foreach (FileEntity file in (await files.FilesAsync(id)).Where(p => p.Path.EndsWith(".bib", StringComparison.OrdinalIgnoreCase)))
        {
            entries.AddRange(BibReader.Read((await texts.TextAsync(file.Id)).Text).Entries);
        }

        var pool = new BibPool(entries);
        List<BibEntry> chosen = [.. pool.Entries.Where(e => wanted is null || wanted.Contains(e.Key))];
        return format switch
        {
            "ris" => Results.File(System.Text.Encoding.UTF8.GetBytes(Ris.Write(chosen)), "application/x-research-info-systems", "sources.ris"),
            "csl" => Results.File(System.Text.Encoding.UTF8.GetBytes(CslJson.Write(chosen)), "application/json", "sources.json"),
            "bibtex" => Results.File(System.Text.Encoding.UTF8.GetBytes(string.Join('\n', chosen.Select(e => SourceRecord.Of(e).ToText()))), "application/x-bibtex", "sources.bib"),
            _ => Results.Json(new Problem("There are bibtex, ris and csl."), statusCode: 400),
        };
    }
}
