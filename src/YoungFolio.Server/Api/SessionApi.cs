using System.Security.Claims;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>A person as others see them.</summary>
public sealed record PersonView(int Id, string Name, string Colour);

/// <summary>Who is signed in, and who may sign in with a click.</summary>
/// <param name="Person">Who is signed in; null when nobody is.</param>
/// <param name="Email">That person's address.</param>
/// <param name="WantsLetter">Whether that person wants a letter each day with what waits.</param>
/// <param name="DemoPeople">Who may sign in with a click.</param>
/// <param name="Colours">Colours that a person may have.</param>
/// <param name="Guard">Goes back in the header Folio-Guard with everything that changes something.</param>
public sealed record SessionView(PersonView? Person, string? Email, bool WantsLetter, IReadOnlyList<PersonView> DemoPeople, IReadOnlyList<string> Colours, string Guard);

/// <summary>Signing in: as a demo person by number, or with address and password.</summary>
public sealed record SignIn(int? Person, string? Email, string? Password);

/// <summary>A new account.</summary>
public sealed record NewAccount(string Name, string Email, string Password);

/// <summary>What others see of a person.</summary>
public sealed record Profile(string Name, string Colour);

/// <summary>Whether a letter each day is wanted.</summary>
public sealed record LetterWish(bool Wants);

/// <summary>Another password.</summary>
public sealed record PasswordChange(string Old, string New);

/// <summary>Accounts, signing in and out. Only these routes are open to someone who isn't signed in.</summary>
public static class SessionApi
{
    /// <summary>The shortest password. Length counts, not signs (common practice).</summary>
    public const int ShortestPassword = 10;

    private const int LongestName = 80;
    private const int LongestAddress = 200;
    private const int LongestPassword = 1000;

    private static readonly Person s_nobody = new() { Name = "", Colour = "" };
    private static readonly Lazy<string> s_noPassword = new(() => new PasswordHasher<Person>().HashPassword(s_nobody, Guid.NewGuid().ToString()));

    /// <summary>Colours of people: each carries white letters at 4.5:1 or better.</summary>
    public static readonly IReadOnlyList<string> Colours = ["#34567a", "#4f7350", "#6d4a7e", "#8a5a12", "#9a3b52", "#2f6f73", "#5b5fa8", "#7a4a2f", "#52606e", "#3f6b2f"];

    /// <summary>Adds the routes.</summary>
    public static void Map(WebApplication app)
    {
        app.MapGet("/api/session", async (HttpContext context, UserManager<Person> accounts, ServerOptions options, IAntiforgery guard) =>
        {
            // A script is nobody here: a session is a person's.
            Person? person = context.User.IsScript() ? null : await accounts.GetUserAsync(context.User);
            List<Person> demo = options.Demo ? await accounts.Users.Where(p => p.IsDemo).OrderBy(p => p.Id).ToListAsync() : [];
            return new SessionView(person is null ? null : View(person), person?.Email, person?.WantsLetter == true, [.. demo.Select(View)], Colours, guard.GetAndStoreTokens(context).RequestToken!);
        });
        app.MapPost("/api/session", async (SignIn wanted, HttpContext context, SignInManager<Person> signIn, UserManager<Person> accounts, ServerOptions options, SignInLimit limit) =>
        {
            if (wanted.Person is { } number)
            {
                Person? demo = options.Demo ? await accounts.Users.FirstOrDefaultAsync(p => p.Id == number && p.IsDemo) : null;
                if (demo is null)
                {
                    return Refused(403, "There is no such account.");
                }

                await signIn.SignInWithClaimsAsync(demo, isPersistent: true, Sessions.NewClaims());
                return Results.Ok(View(demo));
            }

            string email = wanted.Email?.Trim() is { Length: <= LongestAddress } given ? given : "";
            string from = context.Connection.RemoteIpAddress?.ToString() ?? "";
            if (limit.Wait(email, from) is { Ticks: > 0 } wait)
            {
                return Refused(429, $"That was wrong too often. Wait {Said(wait)}, then try again.");
            }

            // Whether there is such an account shows neither in the words nor in the time: a password is checked in any case.
            Person? person = await accounts.FindByEmailAsync(email);
            string password = wanted.Password is { Length: <= LongestPassword } typed ? typed : "";
            bool isRight = accounts.PasswordHasher.VerifyHashedPassword(person ?? s_nobody, person?.PasswordHash ?? s_noPassword.Value, password) != PasswordVerificationResult.Failed;
            if (person?.PasswordHash is null || !isRight)
            {
                limit.Failed(email, from);
                return Refused(403, "Address and password don’t fit together.");
            }

            limit.Succeeded(email, from);
            await signIn.SignInWithClaimsAsync(person, isPersistent: true, Sessions.NewClaims());
            return Results.Ok(View(person));
        }).Produces<PersonView>();
        app.MapDelete("/api/session", async (HttpContext context, Sessions sessions) =>
        {
            await sessions.EndAsync(context.User);
            await context.SignOutAsync(IdentityConstants.ApplicationScheme);
            return Results.NoContent();
        });
        app.MapPost("/api/account", async (NewAccount wanted, UserManager<Person> accounts, SignInManager<Person> signIn) =>
        {
            string email = wanted.Email?.Trim() ?? "";
            if (SeenText.Name(wanted.Name, LongestName) is not { } name || email.Length > LongestAddress || email.EnumerateRunes().Any(SeenText.IsUnseen) || !System.Net.Mail.MailAddress.TryCreate(email, out System.Net.Mail.MailAddress? address) || address.Address != email)
            {
                return Refused(400, "Give your name, and an e-mail address such as name@place.example.");
            }

            int count = await accounts.Users.CountAsync();
            var person = new Person { Name = name, Email = email, UserName = email, Colour = Colours[count % Colours.Count] };
            IdentityResult made = await accounts.CreateAsync(person, wanted.Password ?? "");
            if (!made.Succeeded)
            {
                return Refused(400, Say(made));
            }

            await signIn.SignInWithClaimsAsync(person, isPersistent: true, Sessions.NewClaims());
            return Results.Ok(View(person));
        }).RequireRateLimiting(SignUpLimit.Policy).Produces<PersonView>();
        app.MapPut("/api/account", async (Profile profile, ClaimsPrincipal user, UserManager<Person> accounts, PeopleStore people) =>
        {
            if (SeenText.Name(profile.Name, LongestName) is not { } name || !Colours.Contains(profile.Colour))
            {
                return Refused(400, "Give a name of at most 80 characters, and one of the colours.");
            }

            Person person = (await accounts.GetUserAsync(user))!;
            person.Name = name;
            person.Colour = profile.Colour;
            IdentityResult stored = await accounts.UpdateAsync(person);
            if (!stored.Succeeded)
            {
                return Refused(409, Say(stored));
            }

            await people.TellOfAsync(person.Id);
            return Results.Ok(View(person));
        }).RequireAuthorization().AddEndpointFilter(Rights.PeopleOnlyAsync).Produces<PersonView>();
        app.MapPut("/api/account/letter", async (LetterWish wish, ClaimsPrincipal user, LetterStore letters) =>
        {
            await letters.WantAsync(user.PersonId(), wish.Wants);
            return Results.NoContent();
        }).RequireAuthorization().AddEndpointFilter(Rights.PeopleOnlyAsync);
        app.MapPost("/api/account/password", async (PasswordChange change, ClaimsPrincipal user, UserManager<Person> accounts, SignInManager<Person> signIn, Sessions sessions) =>
        {
            Person person = (await accounts.GetUserAsync(user))!;
            IdentityResult changed = await accounts.ChangePasswordAsync(person, change.Old ?? "", change.New ?? "");
            if (!changed.Succeeded)
            {
                return Refused(400, Say(changed));
            }

            // Other places where the person is signed in are signed out; this one stays.
            await signIn.SignInWithClaimsAsync(person, isPersistent: true, Sessions.NewClaims());
            sessions.CutPerson(person.Id);
            return Results.NoContent();
        }).RequireAuthorization().AddEndpointFilter(Rights.PeopleOnlyAsync);
    }

    internal static PersonView View(Person person) => new(person.Id, person.Name, person.Colour);

    private static string Said(TimeSpan wait) =>
        wait.TotalSeconds < 90 ? $"{Math.Ceiling(wait.TotalSeconds):0} seconds" : $"{Math.Ceiling(wait.TotalMinutes):0} minutes";

    private static IResult Refused(int status, string why) => Results.Json(new Problem(why), statusCode: status);

    private static string Say(IdentityResult result) => result.Errors.First().Code switch
    {
        nameof(IdentityErrorDescriber.PasswordMismatch) => "The present password is another one.",
        nameof(IdentityErrorDescriber.PasswordTooShort) => $"Take a password of at least {ShortestPassword} characters: a few words do well.",
        PasswordRules.TooCommon => result.Errors.First().Description,
        nameof(IdentityErrorDescriber.DuplicateEmail) or nameof(IdentityErrorDescriber.DuplicateUserName) => "There is an account with this address already. Sign in with it.",
        nameof(IdentityErrorDescriber.InvalidEmail) or nameof(IdentityErrorDescriber.InvalidUserName) => "Give an e-mail address, such as name@place.example.",
        _ => "The account can’t be stored. Try again.",
    };
}
