using System.Globalization;
using System.Security.Claims;
using YoungFolio.Chronicle;
using YoungFolio.Cowriting;
using YoungFolio.Server.History;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>What a message leads to.</summary>
/// <param name="Kind">Passage, page, source or pin.</param>
/// <param name="Path">Of a passage or a page its file; empty: the file is gone.</param>
/// <param name="Line">Its line, from 1.</param>
/// <param name="Revision">Of a pin its revision.</param>
/// <param name="From">Its first character.</param>
/// <param name="To">The place behind its last one.</param>
/// <param name="Words">Its words, or what they were.</param>
/// <param name="IsGone">Whether that is gone to which it led.</param>
/// <param name="Target">Of a source its key, of a pin its number.</param>
/// <param name="Name">What it is called: a pin by its name.</param>
public sealed record TalkLinkView(string Kind, string Path, int Line, int Revision, int From, int To, string Words, bool IsGone, string Target, string Name);

/// <summary>A message.</summary>
public sealed record TalkMessageView(int Id, PersonView? Person, DateTime At, string Text, TalkLinkView? Link);

/// <summary>The talk of a manuscript.</summary>
/// <param name="Messages">The messages, the newest last.</param>
/// <param name="HasEarlier">Whether there are earlier ones.</param>
/// <param name="Unread">How many of others one hasn't read.</param>
public sealed record TalkView(IReadOnlyList<TalkMessageView> Messages, bool HasEarlier, int Unread);

/// <summary>What is to be said, and what it leads to.</summary>
public sealed record TalkWish(string? Text, TalkLinkWish? Link);

/// <summary>What a message is to lead to: a place of a version of a text, or a source or pin.</summary>
public sealed record TalkLinkWish(string? Kind, int File, int Version, int From, int To, string? Target);

/// <summary>Up to where one has read.</summary>
public sealed record TalkSeen(int Message);

/// <summary>The talk: one thread a manuscript, whose messages lead to passages, pages, sources and pins.</summary>
public static class TalkApi
{
    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder manuscript)
    {
        RouteGroupBuilder group = manuscript.MapGroup("/talk");
        group.MapGet("/", async (int id, int? before, ClaimsPrincipal user, TalkStore talk, PassageFollowing following, FileStore files, TextStore texts, ChronicleStore chronicle, PeopleStore people) =>
        {
            IReadOnlyList<TalkMessage> messages = await talk.ListAsync(id, before);
            List<TalkMessage> tied = [.. messages.Where(m => m.Link is TalkLink.Passage or TalkLink.Page)];
            IReadOnlyList<TalkMessage> moved = await following.MoveAsync(id, tied);
            if (moved.Count > 0)
            {
                await talk.KeepPlacesAsync(id, moved);
            }

            IReadOnlyDictionary<int, Person> by = await people.PeopleAsync(messages.Select(m => m.PersonId).Distinct());
            var paths = (await files.FilesAsync(id)).ToDictionary(f => f.Id, f => f.Path);
            var pins = messages.Any(m => m.Link == TalkLink.Pin) ? (await chronicle.PinsAsync(id)).ToDictionary(p => p.Id.ToString(CultureInfo.InvariantCulture), p => p) : [];
            var lines = new Dictionary<int, int>();
            foreach (TalkMessage m in tied.Where(m => paths.ContainsKey(m.FileId)))
            {
                string text = (await texts.TextAsync(m.FileId)).Text;
                lines[m.Id] = PassageFollowing.LineOf(text, m.From);
            }

            return new TalkView(
                [.. messages.Select(m => new TalkMessageView(m.Id, by.TryGetValue(m.PersonId, out Person? person) ? SessionApi.View(person) : null, m.At, m.Text, Link(m, paths, lines, pins)))],
                messages.Count == TalkStore.AtOnce, await talk.UnreadAsync(id, user.PersonId()));
        }).Needs(Role.Reader);
        group.MapPost("/", async (int id, TalkWish wish, ClaimsPrincipal user, TalkStore talk, TextStore texts, FileStore files, ManuscriptStore store, PeopleStore people) =>
        {
            var message = new TalkMessage { ManuscriptId = id, PersonId = user.PersonId(), Text = wish.Text ?? "" };
            if (wish.Link is { } link && !await TieAsync(message, link, texts, files))
            {
                return Results.Json(new Problem("What the message leads to isn’t there any more. Choose it again."), statusCode: 409);
            }

            int said = await talk.SayAsync(message);
            int[] named = [.. NotesApi.Named((await store.ManuscriptAsync(id)).Members, [message.Text]).Where(p => p != user.PersonId())];
            if (named.Length > 0)
            {
                await people.WriteOfWordsAsync(id, user.PersonId(), named, "talk", message.Text, $"/m/{id}/write?talk=1");
            }

            return Results.Ok(said);
        }).Needs(Role.Reviewer).Produces<int>();
        group.MapPost("/seen", async (int id, TalkSeen seen, ClaimsPrincipal user, TalkStore talk) => await talk.SeenAsync(id, user.PersonId(), seen.Message)).Needs(Role.Reader);
        group.MapDelete("/{message:int}", async (int id, int message, ClaimsPrincipal user, TalkStore talk, ManuscriptStore store) =>
        {
            await talk.TakeBackAsync(id, user.PersonId(), message, await store.RoleOfAsync(id, user.PersonId()) == Role.Owner);
            return Results.NoContent();
        }).Needs(Role.Reviewer);
    }

    private static async Task<bool> TieAsync(TalkMessage message, TalkLinkWish link, TextStore texts, FileStore files)
    {
        message.Link = link.Kind ?? "";
        if (link.Kind is TalkLink.Source or TalkLink.Pin)
        {
            message.Target = link.Target ?? "";
            return message.Target.Length is > 0 and <= 200;
        }

        if (link.Kind is not (TalkLink.Passage or TalkLink.Page))
        {
            return false;
        }

        await files.FileAsync(message.ManuscriptId, link.File);
        LiveText now = await texts.TextAsync(link.File);
        if (link.Version < 0 || link.Version > now.Version || link.From < 0 || link.To <= link.From)
        {
            return false;
        }

        (int from, int to) = ChangeSet.Carry(await texts.ChangesAsync(message.ManuscriptId, link.File, link.Version, now.Version), link.From, link.To);
        to = Math.Min(to, now.Text.Length);
        if (to <= from)
        {
            return false;
        }

        var anchor = PassageAnchor.Of(link.File, now.Version, now.Text, from, to);
        (message.FileId, message.Version, message.From, message.To, message.Words) = (anchor.File, anchor.Version, anchor.From, anchor.To, anchor.Words);
        message.Target = link.Kind == TalkLink.Page ? link.Target ?? "" : "";
        return message.Target.Length <= 20;
    }

    private static TalkLinkView? Link(TalkMessage m, Dictionary<int, string> paths, Dictionary<int, int> lines, Dictionary<string, Pin> pins) => m.Link switch
    {
        TalkLink.Passage or TalkLink.Page => new TalkLinkView(m.Link, paths.GetValueOrDefault(m.FileId, ""), lines.GetValueOrDefault(m.Id), 0, m.From, m.To, m.Words, m.IsGone || !paths.ContainsKey(m.FileId), m.Target, ""),
        TalkLink.Source => new TalkLinkView(m.Link, "", 0, 0, 0, 0, "", false, m.Target, m.Target),
        TalkLink.Pin => pins.TryGetValue(m.Target, out Pin? pin)
            ? new TalkLinkView(m.Link, "", 0, pin.Revision, 0, 0, "", false, m.Target, pin.Name)
            : new TalkLinkView(m.Link, "", 0, 0, 0, 0, "", true, m.Target, ""),
        _ => null,
    };
}
