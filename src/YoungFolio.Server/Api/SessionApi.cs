using System.Security.Claims;
using Microsoft.AspNetCore.Antiforgery;
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
/// <param name="DemoPeople">Who may sign in with a click.</param>
/// <param name="Colours">Colours that a person may have.</param>
/// <param name="Guard">Goes back in the header Folio-Guard with everything that changes something.</param>
public sealed record SessionView(PersonView? Person, string? Email, IReadOnlyList<PersonView> DemoPeople, IReadOnlyList<string> Colours, string Guard);

/// <summary>Signing in: as a demo person by number, or with address and password.</summary>
public sealed record SignIn(int? Person, string? Email, string? Password);

/// <summary>A new account.</summary>
public sealed record NewAccount(string Name, string Email, string Password);

/// <summary>What others see of a person.</summary>
public sealed record Profile(string Name, string Colour);

/// <summary>Another password.</summary>
public sealed record PasswordChange(string Old, string New);

/// <summary>Accounts, signing in and out. Only these routes are open to someone who isn't signed in.</summary>
public static class SessionApi
{
    /// <summary>The shortest password. Length counts, not signs (common practice).</summary>
    public const int ShortestPassword = 10;

    /// <summary>Colours of people: each carries white letters at 4.5:1 or better.</summary>
    public static readonly IReadOnlyList<string> Colours = ["#34567a", "#4f7350", "#6d4a7e", "#8a5a12", "#9a3b52", "#2f6f73", "#5b5fa8", "#7a4a2f", "#52606e", "#3f6b2f"];

    /// <summary>Adds the routes.</summary>
    public static void Map(WebApplication app)
    {
        app.MapGet("/api/session", async (HttpContext context, UserManager<Person> accounts, ServerOptions options, IAntiforgery guard) =>
        {
            Person? person = await accounts.GetUserAsync(context.User);
            List<Person> demo = options.Demo ? await accounts.Users.Where(p => p.IsDemo).OrderBy(p => p.Id).ToListAsync() : [];
            return new SessionView(person is null ? null : View(person), person?.Email, [.. demo.Select(View)], Colours, guard.GetAndStoreTokens(context).RequestToken!);
        });
        app.MapPost("/api/session", async (SignIn wanted, SignInManager<Person> signIn, UserManager<Person> accounts, ServerOptions options) =>
        {
            if (wanted.Person is { } number)
            {
                Person? demo = options.Demo ? await accounts.Users.FirstOrDefaultAsync(p => p.Id == number && p.IsDemo) : null;
                if (demo is null)
                {
                    return Refused(403, "There is no such account.");
                }

                await signIn.SignInAsync(demo, isPersistent: true);
                return Results.Ok(View(demo));
            }

            Person? person = await accounts.FindByEmailAsync(wanted.Email?.Trim() ?? "");
            SignInResult result = person is null ? SignInResult.Failed : await signIn.PasswordSignInAsync(person, wanted.Password ?? "", isPersistent: true, lockoutOnFailure: true);
            return result.Succeeded ? Results.Ok(View(person!))
                : result.IsLockedOut ? Refused(403, "That was wrong too often. Wait five minutes, then try again.")
                : Refused(403, "Address and password don’t fit together.");
        }).Produces<PersonView>();
        app.MapDelete("/api/session", async (SignInManager<Person> signIn) =>
        {
            await signIn.SignOutAsync();
            return Results.NoContent();
        });
        app.MapPost("/api/account", async (NewAccount wanted, UserManager<Person> accounts, SignInManager<Person> signIn) =>
        {
            string email = wanted.Email?.Trim() ?? "";
            if (CheckName(wanted.Name) is not { } name || email.Length > 200 || !System.Net.Mail.MailAddress.TryCreate(email, out System.Net.Mail.MailAddress? address) || address.Address != email)
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

            await signIn.SignInAsync(person, isPersistent: true);
            return Results.Ok(View(person));
        }).RequireRateLimiting(SignUpLimit.Policy).Produces<PersonView>();
        app.MapPut("/api/account", async (Profile profile, ClaimsPrincipal user, UserManager<Person> accounts, PeopleStore people) =>
        {
            if (CheckName(profile.Name) is not { } name || !Colours.Contains(profile.Colour))
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
        app.MapPost("/api/account/password", async (PasswordChange change, ClaimsPrincipal user, UserManager<Person> accounts, SignInManager<Person> signIn) =>
        {
            Person person = (await accounts.GetUserAsync(user))!;
            IdentityResult changed = await accounts.ChangePasswordAsync(person, change.Old ?? "", change.New ?? "");
            if (!changed.Succeeded)
            {
                return Refused(400, Say(changed));
            }

            // Other places where the person is signed in are signed out; this one stays.
            await signIn.RefreshSignInAsync(person);
            return Results.NoContent();
        }).RequireAuthorization().AddEndpointFilter(Rights.PeopleOnlyAsync);
    }

    internal static PersonView View(Person person) => new(person.Id, person.Name, person.Colour);

    private static string? CheckName(string? name) =>
        name?.Trim().Normalize() is { Length: > 0 and <= 80 } normal && !normal.Any(char.IsControl) ? normal : null;

    private static IResult Refused(int status, string why) => Results.Json(new Problem(why), statusCode: status);

    private static string Say(IdentityResult result) => result.Errors.First().Code switch
    {
        nameof(IdentityErrorDescriber.PasswordMismatch) => "The present password is another one.",
        nameof(IdentityErrorDescriber.PasswordTooShort) => $"Take a password of at least {ShortestPassword} characters: a few words do well.",
        nameof(IdentityErrorDescriber.DuplicateEmail) or nameof(IdentityErrorDescriber.DuplicateUserName) => "There is an account with this address already. Sign in with it.",
        nameof(IdentityErrorDescriber.InvalidEmail) or nameof(IdentityErrorDescriber.InvalidUserName) => "Give an e-mail address, such as name@place.example.",
        _ => "The account can’t be stored. Try again.",
    };
}
