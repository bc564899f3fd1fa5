using System.Globalization;
using Microsoft.AspNetCore.Antiforgery;

namespace YoungFolio.Server.Security;

/// <summary>Keeps other sites from acting in a person's name, and pages from running what isn't ours.</summary>
internal static class Guard
{
    /// <summary>The header in which the page sends its guard value, which it gets with the session.</summary>
    public const string Header = "Folio-Guard";

    private const string Policy =
        "default-src 'self'; script-src 'self'; object-src 'none'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self' data:; "
        + "worker-src 'self' blob:; connect-src 'self'; frame-ancestors 'none'; base-uri 'self'; form-action 'self'";

    /// <summary>The header in which every answer says whose session it was asked with, so that a page notices when someone else signed in in its browser.</summary>
    public const string PersonHeader = "Folio-Person";

    /// <summary>Says whose session a request came with.</summary>
    public static Task TellPersonAsync(HttpContext context, RequestDelegate next)
    {
        if (context.User.PersonId() is > 0 and var person)
        {
            context.Response.Headers[PersonHeader] = person.ToString(CultureInfo.InvariantCulture);
        }

        return next(context);
    }

    /// <summary>Sets what every answer says to the browser.</summary>
    public static Task SetHeadersAsync(HttpContext context, RequestDelegate next)
    {
        IHeaderDictionary headers = context.Response.Headers;
        headers.ContentSecurityPolicy = Policy;
        headers.XContentTypeOptions = "nosniff";
        headers.XFrameOptions = "DENY";
        headers["Referrer-Policy"] = "same-origin";
        headers["Cross-Origin-Opener-Policy"] = "same-origin";
        headers["Cross-Origin-Resource-Policy"] = "same-origin";
        return next(context);
    }

    /// <summary>Refuses requests that change something and don't come from our own page.</summary>
    public static async Task CheckAsync(HttpContext context, RequestDelegate next)
    {
        HttpRequest request = context.Request;
        bool isHub = request.Path.StartsWithSegments("/hub");
        bool isChange = request.Path.StartsWithSegments("/api") && !HttpMethods.IsGet(request.Method) && !HttpMethods.IsHead(request.Method);
        if ((isHub || isChange) && IsForeign(request))
        {
            await RefuseAsync(context, "This request comes from another site.");
            return;
        }

        // A script has no cookie that another site could use.
        if (isChange && !TokenAuthentication.IsUsedBy(request) && !await context.RequestServices.GetRequiredService<IAntiforgery>().IsRequestValidAsync(context))
        {
            await RefuseAsync(context, "This page is out of date: load it again.");
            return;
        }

        await next(context);
    }

    private static bool IsForeign(HttpRequest request) =>
        request.Headers.Origin.ToString() is { Length: > 0 } origin && (!Uri.TryCreate(origin, UriKind.Absolute, out Uri? from) || from.Authority != request.Host.Value);

    private static Task RefuseAsync(HttpContext context, string why)
    {
        context.Response.StatusCode = 400;
        return context.Response.WriteAsJsonAsync(new Problem(why, "guard"));
    }
}
