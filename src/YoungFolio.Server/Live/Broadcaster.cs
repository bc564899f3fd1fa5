using Microsoft.AspNetCore.SignalR;
using YoungFolio.Cowriting;
using YoungFolio.Server.Api;
using YoungFolio.Server.HandingIn;
using YoungFolio.Server.History;
using YoungFolio.Server.Proofs;
using YoungFolio.Storage;

namespace YoungFolio.Server.Live;

/// <summary>Tells the group of each manuscript what was stored, in order, and has new proofs made.</summary>
public sealed class Broadcaster(WriteQueue writeQueue, IHubContext<ManuscriptHub> hub, Presence presence, ManuscriptStore store, PeopleStore people, ProofService proofs, ChronicleService chronicle, CheckStandings standings, Security.Sessions sessions, ILogger<Broadcaster> log) : BackgroundService
{
    // A browser that takes nothing mustn't hold up the others; it notices the gap and fetches what it missed.
    private static readonly TimeSpan s_patience = TimeSpan.FromSeconds(1);

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        writeQueue.ListenerFailed += e => BroadcastLog.ListenerFailed(log, e);
        while (await writeQueue.Changes.WaitToReadAsync(stoppingToken))
        {
            var waiting = new List<StoreChange>();
            while (waiting.Count < 1000 && writeQueue.Changes.TryRead(out StoreChange? change))
            {
                Gather(waiting, change);
            }

            foreach (StoreChange change in waiting)
            {
                try
                {
                    await TellAsync(change, stoppingToken);
                }
                catch (Exception e) when (e is not OperationCanceledException)
                {
                    // The manuscript may have gone in the meantime. Whoever missed something notices the gap; the others must hear on.
                    BroadcastLog.Failed(log, e, change.ManuscriptId);
                }
            }
        }
    }

    // What was typed into one file in the same moment is one message.
    private static void Gather(List<StoreChange> waiting, StoreChange change)
    {
        int at = change is TextChanged text ? waiting.FindLastIndex(c => c is TextChanged t && t.FileId == text.FileId) : waiting.IndexOf(change);
        if (at < 0)
        {
            waiting.Add(change);
        }
        else if (change is TextChanged next && waiting[at] is TextChanged before)
        {
            waiting[at] = next with { Updates = [.. before.Updates, .. next.Updates] };
        }
    }

    private async Task TellAsync(StoreChange change, CancellationToken stop)
    {
        IClientProxy group = hub.Clients.Group(ManuscriptHub.Group(change.ManuscriptId));
        standings.Note(change.ManuscriptId);
        switch (change)
        {
            case TextChanged text:
                await SendAsync(group.SendAsync("updates", text.FileId, text.Version, text.Updates, stop));
                chronicle.Note(change.ManuscriptId);
                await proofs.RequestAsync(change.ManuscriptId);
                break;
            case FilesChanged:
                await SendAsync(group.SendAsync("files", stop));
                await proofs.RequestAsync(change.ManuscriptId);
                break;
            case AidsChanged:
                await SendAsync(group.SendAsync("aids", stop));
                break;
            case NotesChanged:
                await SendAsync(group.SendAsync("notes", stop));
                break;
            case TalkChanged:
                await SendAsync(group.SendAsync("talk", stop));
                break;
            case PinsChanged:
                await SendAsync(group.SendAsync("pins", stop));
                break;
            case HandInChanged:
                await SendAsync(group.SendAsync("handedIn", stop));
                break;
            case PeopleChanged:
                await LookAtPeopleAsync(change.ManuscriptId, stop);
                await SendAsync(group.SendAsync("people", stop));
                proofs.ForgetOwner(change.ManuscriptId);
                if (!await store.IsThereAsync(change.ManuscriptId))
                {
                    proofs.Forget(change.ManuscriptId);
                }

                break;
            case AllChanged:
                proofs.ForgetAll();
                await standings.NoteUncheckedAsync();
                await SendAsync(hub.Clients.All.SendAsync("restored", stop));
                break;
        }
    }

    // Whoever may no longer read hears nothing more; whoever has another name or colour is shown with it.
    private async Task LookAtPeopleAsync(int manuscript, CancellationToken stop)
    {
        IClientProxy group = hub.Clients.Group(ManuscriptHub.Group(manuscript));
        IReadOnlyList<(string Connection, int Person)> connections = presence.Connections(manuscript);
        IReadOnlyDictionary<int, Person> known = await people.PeopleAsync(connections.Select(c => c.Person));
        foreach ((string connection, int person) in connections)
        {
            Role? role = await store.RoleOfAsync(manuscript, person);
            if (role is null)
            {
                await hub.Groups.RemoveFromGroupAsync(connection, ManuscriptHub.Group(manuscript), stop);
                await SendAsync(hub.Clients.Client(connection).SendAsync("gone", stop));
                if (presence.Leave(connection) is { } seat)
                {
                    await SendAsync(group.SendAsync("left", seat.Who.Seat, stop));
                }

                sessions.Cut(connection);
            }
            else if (role < presence.RoleOf(connection))
            {
                // It comes back with what it may do now.
                sessions.Cut(connection);
            }
            else if (presence.Rename(connection, SessionApi.View(known[person])) is { } renamed)
            {
                await SendAsync(group.SendAsync("here", renamed, stop));
            }
        }
    }

    private static Task SendAsync(Task sending) => sending.IsCompletedSuccessfully ? sending : Task.WhenAny(sending, Task.Delay(s_patience));
}

internal static partial class BroadcastLog
{
    [LoggerMessage(Level = LogLevel.Warning, Message = "A change of manuscript {Manuscript} could not be told")]
    public static partial void Failed(ILogger logger, Exception error, int manuscript);

    [LoggerMessage(Level = LogLevel.Error, Message = "What was stored could not be noted everywhere in memory")]
    public static partial void ListenerFailed(ILogger logger, Exception error);
}
