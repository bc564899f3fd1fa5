using System.Security.Claims;
using YoungFolio.Cowriting;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>A revision.</summary>
/// <param name="Number">Its number in the manuscript.</param>
/// <param name="Person">Who made it.</param>
/// <param name="Script">Name of the access token, when a script made it.</param>
/// <param name="At">When, in UTC.</param>
/// <param name="Kind">text, create, rename, delete, upload, setting or people.</param>
/// <param name="File">The file's number; null when it is about the manuscript.</param>
/// <param name="Says">The new path, what was set, or what happened with people; empty for texts.</param>
public sealed record RevisionView(int Number, PersonView? Person, string? Script, DateTime At, string Kind, int? File, string Says);

/// <summary>A text as it was.</summary>
public sealed record PastText(int Revision, string Text);

/// <summary>A piece of news.</summary>
/// <param name="Person">Who.</param>
/// <param name="Script">Name of the access token, when a script did it.</param>
/// <param name="File">The file's number; null when it is about the manuscript.</param>
/// <param name="About">The file's path, or what happened.</param>
/// <param name="Kinds">What was done: text, create, rename, delete, upload, setting, people.</param>
/// <param name="Added">Characters that came in.</param>
/// <param name="Removed">Characters that went.</param>
/// <param name="From">When it began, in UTC.</param>
/// <param name="Until">When it ended, in UTC.</param>
public sealed record NewsView(PersonView? Person, string? Script, int? File, string About, IReadOnlyList<string> Kinds, int Added, int Removed, DateTime From, DateTime Until);

/// <summary>A note or suggestion of one's own, or that one answered, which another settled.</summary>
/// <param name="Note">Its number.</param>
/// <param name="Person">Who settled it.</param>
/// <param name="IsTaken">Of a suggestion: whether it was taken; null: it is a note.</param>
/// <param name="Words">The words that it is on, or that were suggested.</param>
public sealed record SettledView(int Note, PersonView? Person, bool? IsTaken, string Words);

/// <summary>What changed since one was last here.</summary>
public sealed record NewsList(DateTime? SeenAt, IReadOnlyList<NewsView> Items, IReadOnlyList<SettledView> Settled);

/// <summary>The log of revisions, texts as they were, and news.</summary>
public static class LogApi
{
    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder manuscript)
    {
        manuscript.MapGet("/revisions", async (int id, int? before, int? count, HistoryReader history, PeopleStore people) =>
        {
            IReadOnlyList<Revision> log = await history.LogAsync(id, before ?? int.MaxValue, count ?? 100);
            IReadOnlyDictionary<int, Person> by = await people.PeopleAsync(log.Select(r => r.PersonId));
            IReadOnlyDictionary<int, string> scripts = await people.TokenNamesAsync(id);
            return log.Select(r => new RevisionView(r.Number, by.TryGetValue(r.PersonId, out Person? p) ? SessionApi.View(p) : null, Script(r.TokenId, scripts), r.At, r.Kind, r.FileId,
                r.Kind is RevisionKind.Text or RevisionKind.Upload ? "" : r.Payload.Split('\n')[0]));
        }).Needs(Role.Reader);
        manuscript.MapGet("/revisions/{number:int}/files/{file:int}", async (int id, int number, int file, HistoryReader history) =>
            new PastText(number, await history.TextAtAsync(id, file, number))).Needs(Role.Reader);
        manuscript.MapGet("/news", async (int id, ClaimsPrincipal user, NewsReader reader, PeopleStore people, NoteStore notes) =>
            await ReadNewsAsync(id, user.PersonId(), reader, people, notes)).Needs(Role.Reader);
        manuscript.MapPost("/seen", async (int id, ClaimsPrincipal user, PeopleStore people) =>
        {
            await people.SeenAsync(id, user.PersonId());
            return Results.NoContent();
        }).Needs(Role.Reader);
    }

    internal static async Task<NewsList> ReadNewsAsync(int id, int person, NewsReader reader, PeopleStore people, NoteStore notes)
    {
        News news = await reader.ReadAsync(id, person);
        IReadOnlyList<MarginNote> settled = await notes.SettledForAsync(id, person, news.SeenAt);
        IReadOnlyDictionary<int, Person> by = await people.PeopleAsync(news.Items.Select(i => i.PersonId).Concat(settled.Select(n => n.SettledBy!.Value)).Distinct());
        IReadOnlyDictionary<int, string> scripts = await people.TokenNamesAsync(id);
        return new NewsList(
            news.SeenAt, [.. news.Items.Select(i => new NewsView(Person(i.PersonId), Script(i.TokenId, scripts), i.FileId, i.Path, i.Kinds, i.Added, i.Removed, i.From, i.Until))],
            [.. settled.Select(n => new SettledView(n.Id, Person(n.SettledBy!.Value), n.IsTaken, n.Proposal is { Length: > 0 } words ? words : n.Words))]);

        PersonView? Person(int number) => by.TryGetValue(number, out Person? found) ? SessionApi.View(found) : null;
    }

    private static string? Script(int? token, IReadOnlyDictionary<int, string> names) => token is { } id ? names.GetValueOrDefault(id, "a script") : null;
}
