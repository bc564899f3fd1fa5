using System.Globalization;
using System.Security.Claims;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Authentication;
using Microsoft.Extensions.Options;
using YoungFolio.Storage;

namespace YoungFolio.Server.Security;

/// <summary>Lets scripts in by an access token: <c>Authorization: Bearer folio_…</c>.</summary>
internal sealed class TokenAuthentication(IOptionsMonitor<AuthenticationSchemeOptions> options, ILoggerFactory logger, UrlEncoder encoder, PeopleStore people)
    : AuthenticationHandler<AuthenticationSchemeOptions>(options, logger, encoder)
{
    /// <summary>Name of the scheme.</summary>
    public const string Name = "token";

    private const string Begin = "Bearer ";

    /// <summary>Whether a request comes with a token.</summary>
    public static bool IsUsedBy(HttpRequest request) => request.Headers.Authorization.ToString().StartsWith(Begin, StringComparison.Ordinal);

    /// <inheritdoc/>
    protected override async Task<AuthenticateResult> HandleAuthenticateAsync()
    {
        if (!IsUsedBy(Request))
        {
            return AuthenticateResult.NoResult();
        }

        AccessToken? token = await people.UseTokenAsync(Request.Headers.Authorization.ToString()[Begin.Length..].Trim());
        if (token is null)
        {
            return AuthenticateResult.Fail("The token doesn't hold.");
        }

        var identity = new ClaimsIdentity(
            [
                new Claim(ClaimTypes.NameIdentifier, token.PersonId.ToString(CultureInfo.InvariantCulture)),
                new Claim(Rights.TokenClaim, token.Id.ToString(CultureInfo.InvariantCulture)),
                new Claim(Rights.ManuscriptClaim, token.ManuscriptId.ToString(CultureInfo.InvariantCulture)),
            ],
            Name);
        return AuthenticateResult.Success(new AuthenticationTicket(new ClaimsPrincipal(identity), Name));
    }

    /// <inheritdoc/>
    protected override Task HandleChallengeAsync(AuthenticationProperties properties)
    {
        Response.StatusCode = 401;
        return Response.WriteAsJsonAsync(new Problem("This access token doesn't hold: it was revoked, or never was one."));
    }
}
