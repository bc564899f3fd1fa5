using System.Security.Claims;
using YoungFolio.Server.Security;
using YoungFolio.Storage;

namespace YoungFolio.Server.Api;

/// <summary>A member of a manuscript.</summary>
/// <param name="Person">Who.</param>
/// <param name="Role">The role.</param>
/// <param name="Email">The address; only owners see it.</param>
/// <param name="SeenAt">When last here, in UTC.</param>
public sealed record MemberView(PersonView Person, Role Role, string? Email, DateTime? SeenAt);

/// <summary>An invitation that waits.</summary>
/// <param name="Id">Identity.</param>
/// <param name="Email">The address that it was sent to.</param>
/// <param name="Role">The role that it gives.</param>
/// <param name="At">When it was made, in UTC.</param>
/// <param name="EndsAt">Until when it holds, in UTC.</param>
/// <param name="AskedBy">Who has its link and asks to come in.</param>
/// <param name="AskedFrom">The address of that person's account.</param>
public sealed record InvitationView(int Id, string Email, Role Role, DateTime At, DateTime EndsAt, PersonView? AskedBy, string? AskedFrom);

/// <summary>An access token, without its secret.</summary>
public sealed record TokenView(int Id, string Name, int Person, DateTime At, DateTime? UsedAt);

/// <summary>The people of a manuscript.</summary>
public sealed record PeopleView(IReadOnlyList<MemberView> Members, IReadOnlyList<InvitationView> Invitations);

/// <summary>Whom to invite, as what, and for how many days the link holds.</summary>
public sealed record NewInvitation(string Email, Role Role, int Days);

/// <summary>An invitation's link, from the application's root. It is shown now and is in the letter.</summary>
public sealed record InvitationLink(string Link);

/// <summary>A role for someone.</summary>
public sealed record NewRole(Role Role);

/// <summary>What a new access token is for.</summary>
public sealed record NewToken(string Name);

/// <summary>A new access token with its secret, which isn't shown again.</summary>
public sealed record IssuedToken(TokenView Token, string Secret);

/// <summary>A letter in the outbox.</summary>
public sealed record LetterView(int Id, DateTime At, string To, string Subject, string Body, string? Link, IReadOnlyList<HandedInFileView> Files);

/// <summary>The outbox.</summary>
/// <param name="IsVerified">Whether the address is verified: only then letters to it are shown.</param>
/// <param name="Letters">The letters, newest first.</param>
public sealed record OutboxView(bool IsVerified, IReadOnlyList<LetterView> Letters);

/// <summary>What an invitation offers.</summary>
/// <param name="Title">The manuscript's title.</param>
/// <param name="Role">The role that is offered.</param>
/// <param name="From">Who invites.</param>
/// <param name="EndsAt">Until when it holds, in UTC.</param>
/// <param name="IsOwn">Whether it was sent to one's own verified address.</param>
/// <param name="Waits">Whether one asked to come in and waits for the owner.</param>
public sealed record OfferView(string Title, Role Role, string From, DateTime EndsAt, bool IsOwn, bool Waits);

/// <summary>What became of an invitation: the manuscript, or null while the owner has to let one in.</summary>
public sealed record TakenInvitation(int? Manuscript);

/// <summary>The people dialog, invitations, access tokens and the outbox.</summary>
public static class PeopleApi
{
    /// <summary>Adds the routes.</summary>
    public static void Map(RouteGroupBuilder api, RouteGroupBuilder manuscript)
    {
        manuscript.MapGet("/people", async (int id, ClaimsPrincipal user, ManuscriptStore store, PeopleStore people) =>
        {
            ManuscriptEntity found = await store.ManuscriptAsync(id);
            // Addresses and invitations are the owner's business.
            bool isOwner = found.Members.Exists(m => m.PersonId == user.PersonId() && m.Role == Role.Owner);
            return new PeopleView(
                [.. found.Members.OrderByDescending(m => m.Role).ThenBy(m => m.Person!.Name).Select(m => new MemberView(SessionApi.View(m.Person!), m.Role, isOwner ? m.Person!.Email : null, m.SeenAt))],
                isOwner ? [.. (await people.InvitationsAsync(id)).Select(View)] : []);
        }).Needs(Role.Reader);
        manuscript.MapPost("/invitations", async (int id, NewInvitation wanted, ClaimsPrincipal user, PeopleStore people) =>
            new InvitationLink($"/join/{(await people.InviteAsync(id, user.PersonId(), wanted.Email ?? "", wanted.Role, wanted.Days)).Secret}")).Needs(Role.Owner);
        manuscript.MapDelete("/invitations/{invitation:int}", async (int id, int invitation, PeopleStore people) =>
        {
            await people.WithdrawAsync(id, invitation);
            return Results.NoContent();
        }).Needs(Role.Owner);
        manuscript.MapPost("/invitations/{invitation:int}/let-in", async (int id, int invitation, ClaimsPrincipal user, PeopleStore people) =>
        {
            await people.LetInAsync(id, user.PersonId(), invitation);
            return Results.NoContent();
        }).Needs(Role.Owner);
        manuscript.MapPut("/people/{person:int}", async (int id, int person, NewRole wanted, ClaimsPrincipal user, PeopleStore people) =>
        {
            await people.SetRoleAsync(id, user.PersonId(), person, wanted.Role);
            return Results.NoContent();
        }).Needs(Role.Owner);
        manuscript.MapDelete("/people/{person:int}", async (int id, int person, ClaimsPrincipal user, PeopleStore people) =>
        {
            await people.RemoveAsync(id, user.PersonId(), person);
            return Results.NoContent();
        }).Needs(Role.Owner);
        manuscript.MapPost("/people/{person:int}/owner", async (int id, int person, ClaimsPrincipal user, PeopleStore people) =>
        {
            await people.HandOverAsync(id, user.PersonId(), person);
            return Results.NoContent();
        }).Needs(Role.Owner);
        manuscript.MapPost("/leave", async (int id, ClaimsPrincipal user, PeopleStore people) =>
        {
            await people.RemoveAsync(id, user.PersonId(), user.PersonId());
            return Results.NoContent();
        }).Needs(Role.Reader);

        manuscript.MapGet("/tokens", async (int id, ClaimsPrincipal user, ManuscriptStore store, PeopleStore people) =>
            (await people.TokensAsync(id, await OnlyOwnAsync(id, user, store))).Select(View)).Needs(Role.Author);
        manuscript.MapPost("/tokens", async (int id, NewToken wanted, ClaimsPrincipal user, PeopleStore people) =>
        {
            Issued<AccessToken> made = await people.MakeTokenAsync(id, user.PersonId(), wanted.Name ?? "");
            return new IssuedToken(View(made.Value), made.Secret);
        }).Needs(Role.Author);
        manuscript.MapDelete("/tokens/{token:int}", async (int id, int token, ClaimsPrincipal user, ManuscriptStore store, PeopleStore people) =>
        {
            await people.RevokeTokenAsync(id, token, await OnlyOwnAsync(id, user, store));
            return Results.NoContent();
        }).Needs(Role.Author);

        api.MapGet("/outbox", async (ClaimsPrincipal user, PeopleStore people, HandInStore handIns) =>
        {
            if (await people.LettersAsync(user.PersonId()) is not { } letters)
            {
                return new OutboxView(false, []);
            }

            ILookup<int, HandedInFile> files = await handIns.FilesOfAsync(letters.Select(l => l.HandedInId ?? 0));
            return new OutboxView(true, [.. letters.Select(l => new LetterView(l.Id, l.At, l.To, l.Subject, l.Body, l.Link, [.. files[l.HandedInId ?? 0].Select(f => new HandedInFileView(f.Id, f.Name, f.Size))]))]);
        });
        api.MapGet("/outbox/{letter:int}/files/{file:int}", async (int letter, int file, ClaimsPrincipal user, HandInStore handIns) =>
            await handIns.FileOfLetterAsync(user.PersonId(), letter, file) is { } found ? Results.File(found.Content, found.MediaType, found.Name) : Results.Json(new Problem("This file isn’t there."), statusCode: 404));
        api.MapGet("/invitations/{secret}", async (string secret, ClaimsPrincipal user, PeopleStore people) =>
        {
            Invited offer = await people.LookAsync(secret, user.PersonId());
            return new OfferView(offer.Title, offer.Role, offer.From, offer.EndsAt, offer.IsOwn, offer.Waits);
        });
        api.MapPost("/invitations/{secret}", async (string secret, ClaimsPrincipal user, PeopleStore people) => new TakenInvitation(await people.TakeAsync(secret, user.PersonId())));
    }

    private static InvitationView View(WaitingInvitation waiting)
    {
        Invitation i = waiting.Invitation;
        return new InvitationView(i.Id, i.Email, i.Role, i.At, i.EndsAt, waiting.AskedBy is { } person ? SessionApi.View(person) : null, waiting.AskedBy?.Email);
    }

    private static TokenView View(AccessToken token) => new(token.Id, token.Name, token.PersonId, token.At, token.UsedAt);

    // Authors see and revoke their own tokens, the owner everyone's.
    private static async Task<int?> OnlyOwnAsync(int id, ClaimsPrincipal user, ManuscriptStore store) =>
        await store.RoleOfAsync(id, user.PersonId()) == Role.Owner ? null : user.PersonId();
}
