using System.Globalization;
using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>A person as others see them.</summary>
public sealed record PersonView(int Id, string Name, string Colour);

/// <summary>Who is signed in, and who may sign in with a click.</summary>
public sealed record SessionView(PersonView? Person, IReadOnlyList<PersonView> DemoPeople);

/// <summary>Signing in.</summary>
public sealed record SignIn(int Person);

/// <summary>Signing in and out.</summary>
public static class SessionApi
{
    /// <summary>Adds the routes. They are the only ones open to someone who isn't signed in.</summary>
    public static void Map(WebApplication app)
    {
        app.MapGet("/api/session", async (ClaimsPrincipal user, FolioDatabase database, ServerOptions options) =>
        {
            Person? person = user.Identity?.IsAuthenticated == true ? await database.People.FindAsync(user.PersonId()) : null;
            List<Person> demo = options.Demo ? await database.People.Where(p => p.IsDemo).OrderBy(p => p.Id).ToListAsync() : [];
            return new SessionView(person is null ? null : View(person), [.. demo.Select(View)]);
        });
        app.MapPost("/api/session", async (SignIn signIn, HttpContext context, FolioDatabase database, ServerOptions options) =>
        {
            Person? person = options.Demo ? await database.People.FirstOrDefaultAsync(p => p.Id == signIn.Person && p.IsDemo) : null;
            if (person is null)
            {
                return Results.Json(new Problem("There is no such account."), statusCode: 403);
            }

            var identity = new ClaimsIdentity(
                [new Claim(ClaimTypes.NameIdentifier, person.Id.ToString(CultureInfo.InvariantCulture)), new Claim(ClaimTypes.Name, person.Name)],
                CookieAuthenticationDefaults.AuthenticationScheme);
            await context.SignInAsync(new ClaimsPrincipal(identity));
            return Results.Ok(View(person));
        }).Produces<PersonView>();
        app.MapDelete("/api/session", async (HttpContext context) =>
        {
            await context.SignOutAsync();
            return Results.NoContent();
        });
    }

    /// <summary>The signed-in person's number.</summary>
    public static int PersonId(this ClaimsPrincipal user) =>
        int.Parse(user.FindFirstValue(ClaimTypes.NameIdentifier) ?? "0", CultureInfo.InvariantCulture);

    internal static PersonView View(Person person) => new(person.Id, person.Name, person.Colour);
}
