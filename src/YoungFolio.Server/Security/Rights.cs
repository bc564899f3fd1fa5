using System.Globalization;
using System.Security.Claims;
using YoungFolio.Server.Api;
using YoungFolio.Storage;

namespace YoungFolio.Server.Security;

/// <summary>What a route of a manuscript, or a call of its hub, asks of whoever uses it.</summary>
/// <param name="role">The lowest role that may.</param>
[AttributeUsage(AttributeTargets.Method)]
public sealed class NeedsAttribute(Role role) : Attribute
{
    /// <summary>The lowest role that may.</summary>
    public Role Role { get; } = role;
}

/// <summary>Marks a route that scripts may use with an access token.</summary>
public sealed class ScriptsMay;

/// <summary>Rights of people and scripts, checked on every route of a manuscript.</summary>
internal static class Rights
{
    /// <summary>Claim of a script: the number of its access token.</summary>
    public const string TokenClaim = "token";

    /// <summary>Claim of a script: the only manuscript that it may touch.</summary>
    public const string ManuscriptClaim = "manuscript";

    private const string ScriptsRefused = "This token may put data and pictures into one manuscript, read those back and see whether the proof shows them, and nothing else.";

    /// <summary>Whether a script asks, which sees less than the person whose token it has.</summary>
    public static bool IsScript(this ClaimsPrincipal user) => user.HasClaim(c => c.Type == TokenClaim);

    /// <summary>Says which role a route needs.</summary>
    public static RouteHandlerBuilder Needs(this RouteHandlerBuilder route, Role role) => route.WithMetadata(new NeedsAttribute(role));

    /// <summary>Lets scripts use a route too.</summary>
    public static RouteHandlerBuilder ForScripts(this RouteHandlerBuilder route) => route.WithMetadata(new ScriptsMay());

    /// <summary>The signed-in person's number.</summary>
    public static int PersonId(this ClaimsPrincipal user) => int.Parse(user.FindFirstValue(ClaimTypes.NameIdentifier) ?? "0", CultureInfo.InvariantCulture);

    /// <summary>Who does something, for the log.</summary>
    /// <param name="user">The person.</param>
    /// <param name="act">What it is, in words for the chronicle; null: it speaks for itself.</param>
    public static Actor Actor(this ClaimsPrincipal user, string? act = null) =>
        new(user.PersonId(), user.FindFirstValue(TokenClaim) is { } token ? int.Parse(token, CultureInfo.InvariantCulture) : null, null, act);

    /// <summary>Checks a request to <c>/manuscripts/{id}</c>. A route that doesn't say what it needs is refused.</summary>
    public static async ValueTask<object?> CheckAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next)
    {
        HttpContext http = context.HttpContext;
        EndpointMetadataCollection route = http.GetEndpoint()!.Metadata;
        Role needed = (route.GetMetadata<NeedsAttribute>() ?? throw new InvalidOperationException($"{http.Request.Path} doesn't say which role it needs.")).Role;
        int id = int.Parse((string)http.Request.RouteValues["id"]!, CultureInfo.InvariantCulture);
        ManuscriptStore store = http.RequestServices.GetRequiredService<ManuscriptStore>();
        if (await store.RoleOfAsync(id, http.User.PersonId()) is not { } role)
        {
            return ManuscriptApi.NotYours();
        }

        if (http.User.FindFirstValue(ManuscriptClaim) is { } only
            && (only != id.ToString(CultureInfo.InvariantCulture) || route.GetMetadata<ScriptsMay>() is null || role < Role.Author))
        {
            return Refused(ScriptsRefused);
        }

        return role >= needed ? await next(context) : Refused(needed == Role.Owner ? "Only the owner may do this." : "Only authors change a manuscript.");
    }

    /// <summary>Keeps scripts from what isn't about their manuscript.</summary>
    public static async ValueTask<object?> PeopleOnlyAsync(EndpointFilterInvocationContext context, EndpointFilterDelegate next) =>
        context.HttpContext.User.IsScript() ? Refused(ScriptsRefused) : await next(context);

    private static IResult Refused(string why) => Results.Json(new Problem(why), statusCode: 403);
}
