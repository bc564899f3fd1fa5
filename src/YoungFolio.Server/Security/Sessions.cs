using System.Collections.Concurrent;
using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.SignalR;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Storage;

namespace YoungFolio.Server.Security;

/// <summary>
/// Whether someone who signed in still is: every request looks, and open connections end at once when a session does. A session ends by
/// signing out (a copy of its cookie too), by another password (all of the person's), and with the person.
/// </summary>
public sealed class Sessions(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue, TimeProvider clock)
{
    /// <summary>How long a session lasts without being used.</summary>
    public static readonly TimeSpan Longest = TimeSpan.FromDays(30);

    /// <summary>Claim that tells the sessions of a person apart.</summary>
    private const string SessionClaim = "session";

    private readonly ConcurrentDictionary<string, HubCallerContext> _connections = new();

    /// <summary>The claims of a new session.</summary>
    public static IEnumerable<Claim> NewClaims() => [new(SessionClaim, Guid.NewGuid().ToString("N"))];

    /// <summary>Checks the cookie of a request; one that doesn't hold any more is taken back, and the request is nobody's.</summary>
    public static async Task ValidateAsync(CookieValidatePrincipalContext context)
    {
        if (context.Principal is not { } user || !await context.HttpContext.RequestServices.GetRequiredService<Sessions>().HoldsAsync(user))
        {
            context.RejectPrincipal();
            await context.HttpContext.SignOutAsync(IdentityConstants.ApplicationScheme);
        }
    }

    /// <summary>Whether someone is still signed in.</summary>
    public async Task<bool> HoldsAsync(ClaimsPrincipal user)
    {
        string session = user.FindFirstValue(SessionClaim) ?? "";
        int person = user.PersonId();
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        var found = await database.Users.AsNoTracking().Where(p => p.Id == person)
            .Select(p => new { p.SecurityStamp, IsEnded = database.EndedSessions.Any(s => s.Id == session) }).FirstOrDefaultAsync();
        return found is { IsEnded: false } && session.Length > 0 && found.SecurityStamp == user.FindFirstValue(new ClaimsIdentityOptions().SecurityStampClaimType);
    }

    /// <summary>Ends one session, wherever its cookie was copied to.</summary>
    public async Task EndAsync(ClaimsPrincipal user)
    {
        if (user.FindFirstValue(SessionClaim) is { } session)
        {
            DateTime until = clock.GetUtcNow().UtcDateTime + Longest + Longest;
            await writeQueue.RunAsync(user.PersonId(), async write =>
            {
                if (await write.Database.EndedSessions.FindAsync(session) is null)
                {
                    write.Database.EndedSessions.Add(new EndedSession { Id = session, Until = until });
                }

                return 0;
            });
            Cut(c => c.User?.FindFirstValue(SessionClaim) == session);
        }
    }

    /// <summary>Ends all connections of a person; the browsers that are still signed in come back by themselves.</summary>
    public void CutPerson(int person) => Cut(c => c.User?.PersonId() == person);

    /// <summary>Ends one connection.</summary>
    public void Cut(string connection) => Cut(c => c.ConnectionId == connection);

    /// <summary>Someone connects.</summary>
    internal void Connected(HubCallerContext connection) => _connections[connection.ConnectionId] = connection;

    /// <summary>A connection has ended.</summary>
    internal void Disconnected(string connection) => _connections.TryRemove(connection, out _);

    /// <summary>Ends connections of sessions that ended behind the server's back: whoever keeps it gave another password, or put a backup in place.</summary>
    internal async Task LookAsync()
    {
        foreach (HubCallerContext connection in _connections.Values)
        {
            if (connection.User is not { } user || !await HoldsAsync(user))
            {
                Cut(connection.ConnectionId);
            }
        }
    }

    /// <summary>Forgets sessions that would be over by themselves.</summary>
    internal Task<int> ForgetAsync()
    {
        DateTime now = clock.GetUtcNow().UtcDateTime;
        return writeQueue.RunAsync(WriteQueue.House, write => write.Database.EndedSessions.Where(s => s.Until < now).ExecuteDeleteAsync());
    }

    private void Cut(Func<HubCallerContext, bool> which)
    {
        foreach (HubCallerContext connection in _connections.Values.Where(which))
        {
            connection.Abort();
        }
    }
}
