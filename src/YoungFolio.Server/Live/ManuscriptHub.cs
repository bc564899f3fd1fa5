using System.Globalization;
using System.Text.Json;
using Microsoft.AspNetCore.SignalR;
using YoungFolio.Cowriting;
using YoungFolio.Server.Api;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Live;

/// <summary>A change that a writer sends.</summary>
/// <param name="ClientId">The tab: the person's number, a colon, and anything that no other tab has.</param>
/// <param name="Changes">The change set.</param>
public sealed record SentUpdate(string ClientId, JsonElement Changes);

/// <summary>The answer to someone who came in.</summary>
/// <param name="Generation">Which state of the data this is: when it is another one than before, what was known doesn't hold.</param>
/// <param name="Seat">One's own seat.</param>
/// <param name="Present">Who is there.</param>
/// <param name="Revision">The manuscript's newest revision; whoever fetched an earlier state missed something.</param>
public sealed record Joined(string Generation, string Seat, IReadOnlyList<Present> Present, int Revision);

/// <summary>
/// The live side of a manuscript. It tells browsers what happens: <c>updates</c> (a text changed), <c>files</c>, <c>people</c>, <c>compiling</c>,
/// <c>proof</c>, <c>failed</c>, <c>here</c> and <c>left</c> (who is where), <c>gone</c> (no longer yours), <c>restored</c>. One group a manuscript.
/// </summary>
public sealed class ManuscriptHub(ManuscriptStore store, TextStore texts, PeopleStore people, Presence presence, WriteQueue writeQueue, Sessions sessions) : Hub
{
    private const int MostUpdates = 5000;
    private const int MostStretches = 200_000;
    private const string ManuscriptKey = "manuscript";
    private const string GenerationKey = "generation";

    /// <summary>Begins to listen to a manuscript.</summary>
    [Needs(Role.Reader)]
    public async Task<Joined> Join(int manuscript)
    {
        await GoAsync();
        string generation = await writeQueue.GenerationAsync();
        Context.Items[ManuscriptKey] = manuscript;
        Context.Items[GenerationKey] = generation;
        await Groups.AddToGroupAsync(Context.ConnectionId, Group(manuscript));
        int id = Context.User!.PersonId();
        Present me = presence.Enter(Context.ConnectionId, manuscript, SessionApi.View((await people.PeopleAsync([id]))[id]));
        // Whoever was taken off in the very moment of coming in isn't told by then: from here on removals see this connection.
        if (await store.RoleOfAsync(manuscript, id) is not { } role)
        {
            await GoAsync();
            await Groups.RemoveFromGroupAsync(Context.ConnectionId, Group(manuscript));
            throw HubRights.Refusal("There is no such manuscript on your shelf.");
        }

        presence.SetRole(Context.ConnectionId, role);
        await Clients.OthersInGroup(Group(manuscript)).SendAsync("here", me);
        return new Joined(generation, me.Seat, [.. presence.In(manuscript).Where(p => p.Seat != me.Seat)], (await store.ManuscriptAsync(manuscript)).Revision);
    }

    /// <summary>Says where one is.</summary>
    [Needs(Role.Reader)]
    public async Task Here(Place? place)
    {
        if (place?.ClientId is not { Length: <= 80 } || !IsOwnTab(place.ClientId))
        {
            throw HubRights.Refusal("A tab speaks for itself only.");
        }

        if (presence.Move(Context.ConnectionId, place) is { } me)
        {
            await Clients.OthersInGroup(Group(Manuscript)).SendAsync("here", me);
        }
    }

    /// <summary>Takes what was typed; it is on the disk when this answers.</summary>
    /// <returns>The file's version with it.</returns>
    [Needs(Role.Author)]
    public async Task<int> Type(int file, int version, IReadOnlyList<SentUpdate?>? updates)
    {
        if (updates is not { Count: > 0 and <= MostUpdates } || updates.Any(u => u?.ClientId is not { Length: <= 80 } || u.ClientId != updates[0]!.ClientId || !IsOwnTab(u.ClientId)))
        {
            throw HubRights.Refusal($"One tab sends its own changes, at most {MostUpdates} at a time.");
        }

        List<Update> typed = [.. updates.Select(u => new Update(u!.ClientId, u.Changes.ToChangeSet()))];
        if (typed.Sum(u => (long)u.Changes.Size) > MostStretches)
        {
            throw HubRights.Refusal("This changes more than a hundred thousand places at once. Change them in steps.");
        }

        return await texts.TypeAsync(Manuscript, Context.User!.Actor(), file, version, typed, (string)Context.Items[GenerationKey]!);
    }

    /// <summary>What was typed into a file after a version.</summary>
    [Needs(Role.Reader)]
    public Task<IReadOnlyList<Update>> Since(int file, int version) => texts.UpdatesSinceAsync(Manuscript, file, version);

    /// <inheritdoc/>
    public override Task OnConnectedAsync()
    {
        sessions.Connected(Context);
        return base.OnConnectedAsync();
    }

    /// <inheritdoc/>
    public override Task OnDisconnectedAsync(Exception? exception)
    {
        sessions.Disconnected(Context.ConnectionId);
        return GoAsync();
    }

    /// <summary>Name of a manuscript's group.</summary>
    internal static string Group(int manuscript) => "manuscript " + manuscript.ToString(CultureInfo.InvariantCulture);

    /// <summary>The manuscript that a connection is in; null before it joins one.</summary>
    internal static int? ManuscriptOf(HubCallerContext context) => context.Items.TryGetValue(ManuscriptKey, out object? id) ? (int)id! : null;

    private int Manuscript => ManuscriptOf(Context)!.Value;

    // Whoever could send in another tab's name could make that tab believe that its own changes are stored.
    private bool IsOwnTab(string clientId) => clientId.StartsWith(Context.User!.PersonId().ToString(CultureInfo.InvariantCulture) + ":", StringComparison.Ordinal);

    private async Task GoAsync()
    {
        if (presence.Leave(Context.ConnectionId) is { } seat)
        {
            await Groups.RemoveFromGroupAsync(Context.ConnectionId, Group(seat.Manuscript));
            await Clients.Group(Group(seat.Manuscript)).SendAsync("left", seat.Who.Seat);
            try
            {
                await people.SeenAsync(seat.Manuscript, seat.Who.Person.Id);
            }
            catch (StoreException)
            {
                // The disk is full or the server stops: then news are shown once more.
            }
        }
    }
}

/// <summary>Checks rights on every call of the hub, and says in words what was refused.</summary>
internal sealed class HubRights(ManuscriptStore store) : IHubFilter
{
    /// <inheritdoc/>
    public async ValueTask<object?> InvokeMethodAsync(HubInvocationContext invocation, Func<HubInvocationContext, ValueTask<object?>> next)
    {
        Role needed = invocation.HubMethod.GetCustomAttributes(typeof(NeedsAttribute), true) is [NeedsAttribute needs]
            ? needs.Role
            : throw Refusal("There is no such call.");
        int? manuscript = invocation.HubMethodName == nameof(ManuscriptHub.Join) ? (int)invocation.HubMethodArguments[0]! : ManuscriptHub.ManuscriptOf(invocation.Context);
        Role? role = manuscript is { } id ? await store.RoleOfAsync(id, invocation.Context.User!.PersonId()) : null;
        if (role is null)
        {
            throw Refusal("There is no such manuscript on your shelf.");
        }

        if (role < needed)
        {
            throw Refusal("Only authors change a manuscript.");
        }

        try
        {
            return await next(invocation);
        }
        catch (Exception e) when (e is StoreException or ChangeSetException or SharedTabException)
        {
            throw Refusal(e.Message, e switch { StorageFullException => "full", BehindException => "behind", SharedTabException => "tab", _ => "refused" });
        }
    }

    /// <summary>What wasn't done, and why.</summary>
    /// <param name="why">In words for people.</param>
    /// <param name="code">What the page can do: refused, it asks what to do; behind, it catches up; full, it tries again later; tab, it catches up and takes another name.</param>
    public static HubException Refusal(string why, string code = "refused") => new($"{code}: {why}");
}
