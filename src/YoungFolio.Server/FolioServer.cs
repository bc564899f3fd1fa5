using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Diagnostics;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.ResponseCompression;
using Microsoft.AspNetCore.Rewrite;
using Microsoft.AspNetCore.SignalR;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.FileProviders;
using YoungFolio.Compiler;
using YoungFolio.Cowriting;
using YoungFolio.Server.Api;
using YoungFolio.Server.Archives;
using YoungFolio.Server.HandingIn;
using YoungFolio.Server.History;
using YoungFolio.Server.Live;
using YoungFolio.Server.Proofs;
using YoungFolio.Server.Security;
using YoungFolio.Server.Sources;
using YoungFolio.Server.StandIns;
using YoungFolio.Storage;

namespace YoungFolio.Server;

/// <summary>Puts the application together.</summary>
public static class FolioServer
{
    private const int ThreadsAtOnce = 24;
    private const string Unreadable = "The request can't be read: something in it is missing, or isn't what it should be.";

    // A manuscript's files were called its parts at first: scripts and links go on saying so.
    private static RewriteOptions EarlierAddresses() => new RewriteOptions()
        .AddRewrite(@"^(api/manuscripts/\d+(?:/revisions/\d+)?)/parts(/.*)?$", "$1/files$2", skipRemainingRules: true);

    // A large paste comes as one message; it is refused in words, not by cutting the connection.
    private const int LargestMessage = 32 * 1024 * 1024;

    /// <summary>Makes the server, its database ready and, in demo mode, filled.</summary>
    public static async Task<WebApplication> CreateAsync(ServerOptions options)
    {
        // Archives are read and compiles waited for on threads of the pool; with as many as there are processors, whoever types
        // would wait half a second for the pool to begin another one.
        ThreadPool.SetMinThreads(ThreadsAtOnce, ThreadsAtOnce);
        DataFolder folder = DataFolder.Take(options.Data);
        // Beside the rest, which doesn't need it.
        _ = Task.Run(FolioDatabase.WarmUp);
        WebApplicationBuilder builder = WebApplication.CreateBuilder(new WebApplicationOptions { ApplicationName = typeof(FolioServer).Assembly.GetName().Name });
        builder.WebHost.UseUrls($"http://{options.Host}:{options.Port}");
        builder.WebHost.ConfigureKestrel(k => k.Limits.MaxRequestBodySize = FileStore.LargestUpload + (1024 * 1024));
        builder.Logging.SetMinimumLevel(LogLevel.Warning).AddFilter("Microsoft.EntityFrameworkCore", LogLevel.Error)
            .AddFilter("Microsoft.AspNetCore.DataProtection", LogLevel.Error).AddFilter("Microsoft.AspNetCore.Antiforgery", LogLevel.Critical)
            .AddFilter("Microsoft.AspNetCore.Diagnostics.ExceptionHandlerMiddleware", LogLevel.None)
            .AddFilter("Microsoft.Extensions.Hosting", LogLevel.None);
        // However long a compile or an upload would take: the data are safe at any moment.
        builder.Services.Configure<HostOptions>(o => o.ShutdownTimeout = TimeSpan.FromSeconds(3));
        builder.Services.AddSingleton(_ => folder);
        builder.Services.AddSingleton(options);
        builder.Services.AddSingleton(TimeProvider.System);
        AddStorage(builder.Services, options);
        AddAccounts(builder.Services, options);
        builder.Services.AddSingleton<ManuscriptCompiler>();
        builder.Services.AddSingleton<LastProofs>();
        builder.Services.AddHostedService(s => s.GetRequiredService<LastProofs>());
        builder.Services.AddSingleton<WordDays>();
        builder.Services.AddHostedService(s => s.GetRequiredService<WordDays>());
        builder.Services.AddSingleton<ProofService>();
        builder.Services.AddSingleton<PastProofs>();
        builder.Services.AddSingleton<HandInService>();
        builder.Services.AddSingleton<CheckStandings>();
        builder.Services.AddHostedService(static s => s.GetRequiredService<CheckStandings>());
        builder.Services.AddSingleton<ChronicleService>();
        builder.Services.AddHostedService(static s => s.GetRequiredService<ChronicleService>());
        builder.Services.AddSingleton<Restoring>();
        builder.Services.AddSingleton<Letters.DailyLetters>();
        builder.Services.AddSingleton<PassageFollowing>();
        builder.Services.AddSingleton<NoteFollowing>();
        builder.Services.AddSingleton<Suggesting>();
        builder.Services.AddSingleton<TypedNoting>();
        builder.Services.AddSingleton<ReviewOut>();
        builder.Services.AddHostedService(s => s.GetRequiredService<ProofService>());
        builder.Services.AddHostedService<Broadcaster>();
        builder.Services.AddHostedService<Upkeep>();
        if (options.Demo)
        {
            builder.Services.AddHostedService<DemoProofs>();
        }

        builder.Services.AddSingleton<Presence>();
        builder.Services.AddSingleton<SourceService>();
        builder.Services.AddSingleton<CatalogueKey>();
        builder.Services.AddHttpClient<SourceLookup>();
        builder.Services.AddSignalR(o =>
        {
            o.MaximumReceiveMessageSize = LargestMessage;
            o.KeepAliveInterval = TimeSpan.FromSeconds(4);
            o.ClientTimeoutInterval = TimeSpan.FromSeconds(15);
            o.AddFilter<HubRights>();
        }).AddJsonProtocol(o => o.PayloadSerializerOptions.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase)));
        builder.Services.AddResponseCompression(o => o.MimeTypes = [.. ResponseCompressionDefaults.MimeTypes, "font/otf"]);
        builder.Services.AddOpenApi();
        builder.Services.ConfigureHttpJsonOptions(o =>
        {
            o.SerializerOptions.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.CamelCase));
            o.SerializerOptions.NumberHandling = JsonNumberHandling.Strict;
        });

        WebApplication app = builder.Build();
        // Made now: what holds the folder is let go with the application.
        _ = app.Services.GetRequiredService<DataFolder>();
        app.UseExceptionHandler(e => e.Run(Explain));
        // What can't be read is refused in words like everything else.
        app.UseStatusCodePages(c => c.HttpContext.Response.StatusCode switch
        {
            _ when !c.HttpContext.Request.Path.StartsWithSegments("/api") => Task.CompletedTask,
            400 or 415 => c.HttpContext.Response.WriteAsJsonAsync(new Problem(Unreadable)),
            404 or 405 => c.HttpContext.Response.WriteAsJsonAsync(new Problem("There is nothing to ask for here.")),
            _ => Task.CompletedTask,
        });
        app.UseResponseCompression();
        app.Use(Guard.SetHeadersAsync);
        app.UseRewriter(EarlierAddresses());
        app.UseRouting();
        app.UseAuthentication();
        app.Use(Guard.TellPersonAsync);
        app.UseAuthorization();
        app.Use(Guard.CheckAsync);
        app.UseRateLimiter();
        ServeWeb(app, options);
        app.MapOpenApi("/openapi/v1.json");
        app.MapGet("/health", static () => Results.Text("ready")).ExcludeFromDescription();
        SessionApi.Map(app);
        // Nothing else under /api or the hub is open to someone who isn't signed in, and nothing of a manuscript to someone without a role in it.
        RouteGroupBuilder api = app.MapGroup("/api").RequireAuthorization().AddEndpointFilter(Rights.PeopleOnlyAsync);
        RouteGroupBuilder manuscript = app.MapGroup("/api/manuscripts/{id:int}").RequireAuthorization().AddEndpointFilter(Rights.CheckAsync);
        ManuscriptApi.Map(api, manuscript);
        StartApi.Map(api);
        PeopleApi.Map(api, manuscript);
        FileApi.Map(manuscript);
        ProofApi.Map(manuscript);
        ProofApi.MapFonts(api);
        GuideApi.Map(api);
        MakingApi.Map(api, manuscript);
        SourceApi.Map(manuscript);
        TextsApi.Map(manuscript);
        SectionsApi.Map(manuscript);
        SetUpApi.Map(manuscript);
        SavedSetUpsApi.Map(api, manuscript);
        CrossReferencesApi.Map(manuscript);
        HandInApi.Map(api, manuscript);
        SpellingApi.Map(manuscript);
        WritingApi.Map(manuscript);
        LogApi.Map(manuscript);
        ChronicleApi.Map(manuscript);
        TalkApi.Map(manuscript);
        NotesApi.Map(manuscript);
        if (options.Demo)
        {
            Catalogue.Map(app);
        }

        // The hub is for people: a script puts its data over HTTP.
        app.MapHub<ManuscriptHub>("/hub").RequireAuthorization(p => p.RequireAuthenticatedUser().AddAuthenticationSchemes(IdentityConstants.ApplicationScheme));

        try
        {
            await using AsyncServiceScope scope = app.Services.CreateAsyncScope();
            await scope.ServiceProvider.GetRequiredService<FolioDatabase>().PrepareAsync();
            await scope.ServiceProvider.GetRequiredService<ManuscriptStores>().TidyAsync();
            if (options.Demo)
            {
                await DemoData.FillAsync(scope.ServiceProvider, options.DemoFolder);
            }
        }
        catch (Exception)
        {
            // The folder is let go: whoever mends the cause can start again.
            await app.DisposeAsync();
            throw;
        }

        return app;
    }

    private static void AddStorage(IServiceCollection services, ServerOptions options)
    {
        services.AddDbContextFactory<FolioDatabase>(o => FolioDatabase.Configure(o, options.Data, options.LargestData));
        services.AddSingleton<WriteQueue>();
        services.AddSingleton<RoleCache>();
        services.AddSingleton<ManuscriptStores>();
        services.AddSingleton(static s => s.GetRequiredService<ManuscriptStores>().Manuscripts);
        services.AddSingleton(static s => s.GetRequiredService<ManuscriptStores>().Files);
        services.AddSingleton(static s => s.GetRequiredService<ManuscriptStores>().Texts);
        services.AddSingleton(static s => s.GetRequiredService<ManuscriptStores>().History);
        services.AddSingleton(static s => s.GetRequiredService<ManuscriptStores>().Suggestions);
        services.AddSingleton(static s => s.GetRequiredService<ManuscriptStores>().TypedNotes);
        services.AddSingleton<PeopleStore>();
        services.AddSingleton<NewsReader>();
        services.AddSingleton<WritingStore>();
        services.AddSingleton<ChronicleStore>();
        services.AddSingleton<NoteStore>();
        services.AddSingleton<TalkStore>();
        services.AddSingleton<LetterStore>();
        services.AddSingleton<SetUpStore>();
        services.AddSingleton<HandInStore>();
        services.AddSingleton<ManuscriptArrival>();
    }

    private static void AddAccounts(IServiceCollection services, ServerOptions options)
    {
        services.AddDataProtection().PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(options.Data, "keys"))).SetApplicationName("YoungFolio");
        Accounts.Add(services).AddSignInManager();
        services.AddSingleton<Sessions>();
        services.AddSingleton<SignInLimit>();
        AllowedHosts.Add(services, options);
        services.AddAntiforgery(o =>
        {
            o.HeaderName = Guard.Header;
            o.Cookie.Name = "folio-guard";
            o.Cookie.SameSite = SameSiteMode.Strict;
        });
        services.AddAuthentication("any")
            .AddPolicyScheme("any", null, o => o.ForwardDefaultSelector = c => TokenAuthentication.IsUsedBy(c.Request) ? TokenAuthentication.Name : IdentityConstants.ApplicationScheme)
            .AddScheme<AuthenticationSchemeOptions, TokenAuthentication>(TokenAuthentication.Name, null)
            .AddCookie(IdentityConstants.ApplicationScheme, o =>
            {
                o.Cookie.Name = "folio";
                o.Cookie.SameSite = SameSiteMode.Strict;
                o.Cookie.HttpOnly = true;
                o.ExpireTimeSpan = Sessions.Longest;
                o.SlidingExpiration = true;
                o.Events.OnValidatePrincipal = Sessions.ValidateAsync;
                o.Events.OnRedirectToLogin = c => Refuse(c.HttpContext, 401);
                o.Events.OnRedirectToAccessDenied = c => Refuse(c.HttpContext, 403);
            });
        services.AddAuthorizationBuilder();
        SignUpLimit.Add(services);
    }

    private static void ServeWeb(WebApplication app, ServerOptions options)
    {
        if (!Directory.Exists(options.Web))
        {
            return;
        }

        var files = new PhysicalFileProvider(Path.GetFullPath(options.Web));
        app.UseStaticFiles(new StaticFileOptions
        {
            FileProvider = files,
            ServeUnknownFileTypes = true,
            // What lies under assets has its digest in its name: it is fetched once.
            OnPrepareResponse = c => c.Context.Response.Headers.CacheControl = c.Context.Request.Path.StartsWithSegments("/assets") ? "public, max-age=31536000, immutable" : "no-cache",
        });
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
            StorageFullException e => (507, e.Message),
            StoreException e => (409, e.Message),
            // Browsers ask again.
            ProofException e => (503, e.Message),
            ChangeSetException e => (400, e.Message),
            SharedTabException => (409, "This was taken back already, in another way. Look at the text and change it yourself."),
            BadHttpRequestException e => (e.StatusCode, e.StatusCode == 413 ? "This is larger than 50 MB." : Unreadable),
            DbUpdateException { InnerException: Microsoft.Data.Sqlite.SqliteException { SqliteErrorCode: 13 or 10 } } => (507, new StorageFullException().Message),
            Microsoft.Data.Sqlite.SqliteException { SqliteErrorCode: 13 or 10 } => (507, new StorageFullException().Message),
            _ => (500, "Something went wrong here. Nothing that was saved is lost; try again."),
        };
        if (context.Response.StatusCode == 500)
        {
            ServerLog.Failed(context.RequestServices.GetRequiredService<ILogger<WebApplication>>(), error!, context.Request.Path);
        }

        return context.Response.WriteAsJsonAsync(new Problem(message));
    }
}

internal static partial class ServerLog
{
    [LoggerMessage(Level = LogLevel.Error, Message = "{Path} could not be answered")]
    public static partial void Failed(ILogger logger, Exception error, string path);
}

/// <summary>Why something wasn't done.</summary>
/// <param name="Message">In words for people.</param>
/// <param name="Code">For the page, where it can mend the cause: <c>guard</c>.</param>
public sealed record Problem(string Message, string? Code = null);
