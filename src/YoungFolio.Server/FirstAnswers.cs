using System.Globalization;
using System.Security.Claims;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Storage;

namespace YoungFolio.Server;

/// <summary>
/// Asks the application, as soon as it can be reached, for what a page asks first. The code for the answers is made then and the pages of
/// the manuscript that was written in last are read, so that whoever comes first after a start doesn't wait for either.
/// </summary>
internal static partial class FirstAnswers
{
    // All of them only read.
    private static readonly string[] s_asked =
        ["/api/session", "/api/manuscripts/{id:int}/", "/api/manuscripts/{id:int}/proof/", "/api/manuscripts", "/api/manuscripts/{id:int}/set-up/", "/api/manuscripts/{id:int}/cross-references"];

    /// <summary>Asks, and forgets the answers. What fails is said in the log: nobody waits for it.</summary>
    public static async Task AskAsync(WebApplication app)
    {
        CancellationToken stop = app.Lifetime.ApplicationStopping;
        try
        {
            // By way of the network, as a browser's first request comes; whichever addresses it listens at, it can be reached from here.
            using var client = new HttpClient();
            var address = new UriBuilder(app.Urls.First()) { Host = "127.0.0.1", Path = "health" };
            (await client.GetAsync(address.Uri, stop)).Dispose();
            await AskAllAsync(app, stop);
        }
        catch (Exception) when (stop.IsCancellationRequested)
        {
            // The server stops, whatever that did to the answer under way: nobody comes first any more.
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            NotAsked(app.Logger, e);
        }
    }

    /// <summary>Asks in the name of the owner of the manuscript that was written in last.</summary>
    /// <returns>The status of each answer.</returns>
    internal static async Task<IReadOnlyDictionary<string, int>> AskAllAsync(WebApplication app, CancellationToken stop)
    {
        (int id, int person) = await LastWrittenAsync(app.Services, stop);
        var user = new ClaimsPrincipal(new ClaimsIdentity([new Claim(ClaimTypes.NameIdentifier, person.ToString(CultureInfo.InvariantCulture))], nameof(FirstAnswers)));
        var statuses = new Dictionary<string, int>();
        foreach (string route in s_asked.Where(r => id > 0 || !r.Contains("{id", StringComparison.Ordinal)))
        {
            statuses[route] = await AskAsync(app, route, id, user, stop);
        }

        return statuses;
    }

    /// <summary>Has one route answered in this process, with the rights of a person; what it says is let go.</summary>
    private static async Task<int> AskAsync(WebApplication app, string route, int id, ClaimsPrincipal user, CancellationToken stop)
    {
        RouteEndpoint endpoint = app.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>()
            .First(e => e.RoutePattern.RawText == route && e.Metadata.GetMetadata<HttpMethodMetadata>()?.HttpMethods is ["GET"]);
        await using AsyncServiceScope scope = app.Services.CreateAsyncScope();
        var context = new DefaultHttpContext { RequestServices = scope.ServiceProvider, User = user, RequestAborted = stop };
        context.Request.Method = HttpMethods.Get;
        context.Request.Path = route.Replace("{id:int}", id.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal);
        context.Request.RouteValues["id"] = id.ToString(CultureInfo.InvariantCulture);
        context.SetEndpoint(endpoint);
        await endpoint.RequestDelegate!(context);
        return context.Response.StatusCode;
    }

    /// <summary>The manuscript that was written in last, and whose it is; zeros when there is none.</summary>
    private static async Task<(int Manuscript, int Person)> LastWrittenAsync(IServiceProvider services, CancellationToken stop)
    {
        await using FolioDatabase database = await services.GetRequiredService<IDbContextFactory<FolioDatabase>>().CreateDbContextAsync(stop);
        var last = await database.Revisions.OrderByDescending(r => r.Id)
            .Join(database.Manuscripts.Where(m => m.DeletedAt == null), r => r.ManuscriptId, m => m.Id, (_, m) => new { m.Id, m.Members.First(p => p.Role == Role.Owner).PersonId })
            .FirstOrDefaultAsync(stop);
        return last is null ? (0, 0) : (last.Id, last.PersonId);
    }

    [LoggerMessage(Level = LogLevel.Warning, Message = "The first answers could not be made ready; whoever comes first waits for them")]
    private static partial void NotAsked(ILogger logger, Exception error);
}
