using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.FileProviders;
using YoungFolio.Compiler;
using YoungFolio.Cowriting;
using YoungFolio.Server.Api;
using YoungFolio.Server.Proofs;
using YoungFolio.Server.Sources;
using YoungFolio.Server.StandIns;
using YoungFolio.Storage;

namespace YoungFolio.Server;

/// <summary>Puts the application together.</summary>
public static class FolioServer
{
    /// <summary>Makes the server, its database ready and, in demo mode, filled.</summary>
    public static async Task<WebApplication> CreateAsync(ServerOptions options)
    {
        Directory.CreateDirectory(options.Data);
        WebApplicationBuilder builder = WebApplication.CreateBuilder(new WebApplicationOptions { ApplicationName = typeof(FolioServer).Assembly.GetName().Name });
        builder.WebHost.UseUrls($"http://{options.Host}:{options.Port}");
        builder.WebHost.ConfigureKestrel(k => k.Limits.MaxRequestBodySize = ManuscriptStore.LargestUpload + (1024 * 1024));
        builder.Logging.SetMinimumLevel(LogLevel.Warning);
        builder.Services.AddSingleton(options);
        builder.Services.AddDbContext<FolioDatabase>(o => o.UseSqlite($"Data Source={Path.Combine(options.Data, "folio.db")}"));
        builder.Services.AddScoped<ManuscriptStore>();
        builder.Services.AddSingleton<ManuscriptCompiler>();
        builder.Services.AddSingleton<ProofService>();
        builder.Services.AddHostedService(s => s.GetRequiredService<ProofService>());
        builder.Services.AddSingleton<SourceService>();
        builder.Services.AddHttpClient<SourceLookup>();
        builder.Services.AddSignalR();
        builder.Services.AddOpenApi();
        builder.Services.ConfigureHttpJsonOptions(o =>
        {
            o.SerializerOptions.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase));
            o.SerializerOptions.NumberHandling = JsonNumberHandling.Strict;
        });
        builder.Services.AddDataProtection().PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(options.Data, "keys"))).SetApplicationName("YoungFolio");
        builder.Services.AddAuthentication(CookieAuthenticationDefaults.AuthenticationScheme).AddCookie(o =>
        {
            o.Cookie.Name = "folio";
            o.Cookie.SameSite = SameSiteMode.Strict;
            o.Cookie.HttpOnly = true;
            o.Events.OnRedirectToLogin = c => Refuse(c.HttpContext, 401);
            o.Events.OnRedirectToAccessDenied = c => Refuse(c.HttpContext, 403);
        });
        // Nothing under /api or the hub is open to someone who isn't signed in, unless it says so.
        builder.Services.AddAuthorizationBuilder();

        WebApplication app = builder.Build();
        app.UseExceptionHandler(e => e.Run(Explain));
        app.Use(static (context, next) =>
        {
            context.Response.Headers.ContentSecurityPolicy =
                "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self' data:; worker-src 'self' blob:; "
                + "connect-src 'self'; frame-ancestors 'none'; base-uri 'self'; form-action 'self'";
            context.Response.Headers.XContentTypeOptions = "nosniff";
            context.Response.Headers["Referrer-Policy"] = "same-origin";
            return next(context);
        });
        app.UseAuthentication();
        app.UseAuthorization();
        ServeWeb(app, options);
        app.MapOpenApi("/openapi/v1.json");
        app.MapGet("/health", static () => Results.Text("ready")).ExcludeFromDescription();
        SessionApi.Map(app);
        RouteGroupBuilder api = app.MapGroup("/api").RequireAuthorization();
        ManuscriptApi.Map(api);
        PartApi.Map(api);
        ProofApi.Map(api);
        SourceApi.Map(api);
        Catalogue.Map(app);
        app.MapHub<ManuscriptHub>("/hub").RequireAuthorization();

        using IServiceScope scope = app.Services.CreateScope();
        await scope.ServiceProvider.GetRequiredService<FolioDatabase>().PrepareAsync();
        if (options.Demo)
        {
            await DemoData.FillAsync(scope.ServiceProvider, options.DemoFolder);
        }

        return app;
    }

    private static void ServeWeb(WebApplication app, ServerOptions options)
    {
        if (!Directory.Exists(options.Web))
        {
            return;
        }

        var files = new PhysicalFileProvider(Path.GetFullPath(options.Web));
        app.UseStaticFiles(new StaticFileOptions { FileProvider = files, ServeUnknownFileTypes = true });
        // Every room has its own address; the page itself is the same.
        app.MapFallback("{*path:nonfile}", async context =>
        {
            if (context.Request.Path.StartsWithSegments("/api"))
            {
                context.Response.StatusCode = 404;
                return;
            }

            context.Response.ContentType = "text/html; charset=utf-8";
            context.Response.Headers.CacheControl = "no-cache";
            await context.Response.SendFileAsync(files.GetFileInfo("index.html"));
        });
    }

    private static Task Refuse(HttpContext context, int status)
    {
        context.Response.StatusCode = status;
        return context.Response.WriteAsJsonAsync(new Problem(status == 401 ? "Sign in first." : "You may not do this here."));
    }

    private static Task Explain(HttpContext context)
    {
        Exception? error = context.Features.Get<IExceptionHandlerFeature>()?.Error;
        (context.Response.StatusCode, string message) = error switch
        {
            StoreException e => (409, e.Message),
            ChangeSetException e => (400, e.Message),
            BadHttpRequestException e => (e.StatusCode, e.StatusCode == 413 ? "This is larger than 50 MB." : "The request can't be read."),
            _ => (500, "Something went wrong here. Nothing that was saved is lost; try again."),
        };
        return context.Response.WriteAsJsonAsync(new Problem(message));
    }
}

/// <summary>Why something wasn't done, in words for people.</summary>
public sealed record Problem(string Message);
