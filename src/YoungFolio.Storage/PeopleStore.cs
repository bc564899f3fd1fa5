using System.Buffers.Text;
using System.Net.Mail;
using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;
using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>A new secret with what belongs to it. The secret is not stored and shown only now.</summary>
public sealed record Issued<T>(T Value, string Secret);

/// <summary>An invitation as whoever has its link sees it.</summary>
/// <param name="ManuscriptId">The manuscript.</param>
/// <param name="Title">Its title.</param>
/// <param name="Role">The role that is offered.</param>
/// <param name="From">Who invites.</param>
/// <param name="EndsAt">Until when it holds, in UTC.</param>
/// <param name="IsOwn">Whether it was sent to the reader's own verified address: then nobody has to be asked.</param>
/// <param name="Waits">Whether the reader asked to come in and waits for the owner.</param>
public sealed record Invited(int ManuscriptId, string Title, Role Role, string From, DateTime EndsAt, bool IsOwn, bool Waits);

/// <summary>An invitation that waits, with who asks to come in by it.</summary>
public sealed record WaitingInvitation(Invitation Invitation, Person? AskedBy);

/// <summary>Who may do what: roles, invitations, access tokens, and the letters that go with them.</summary>
public sealed class PeopleStore(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue, TimeProvider clock)
{
    /// <summary>The most invitations to a manuscript that wait at once.</summary>
    public const int MostInvitations = 100;

    /// <summary>The longest that an invitation may wait, in days.</summary>
    public const int LongestDays = 90;

    /// <summary>What every access token begins with, so that one that is found somewhere is recognised.</summary>
    public const string TokenPrefix = "folio_";

    /// <summary>Invites someone: the link goes to the outbox.</summary>
    /// <exception cref="StoreException">The address or the role can't be.</exception>
    public Task<Issued<Invitation>> InviteAsync(int manuscriptId, int person, string email, Role role, int days) => writeQueue.RunAsync(person, async session =>
    {
        email = email.Trim();
        if (email.Length > 200 || !MailAddress.TryCreate(email, out MailAddress? address) || address.Address != email)
        {
            throw new StoreException("Give an e-mail address, such as name@place.example.");
        }

        if (role == Role.Owner || !Enum.IsDefined(role))
        {
            throw new StoreException("A manuscript has one owner: invite an author and hand it over.");
        }

        if (await session.Database.Invitations.CountAsync(i => i.ManuscriptId == manuscriptId && i.TakenByPersonId == null && !i.IsWithdrawn && i.EndsAt > Now) >= MostInvitations)
        {
            throw new StoreException($"{MostInvitations} invitations wait already. Withdraw some first.");
        }

        (ManuscriptEntity manuscript, Person from) = await FindAsync(session.Database, manuscriptId, person);
        string secret = NewSecret();
        var invitation = new Invitation
        {
            ManuscriptId = manuscriptId,
            FromPersonId = person,
            Email = email,
            Role = role,
            SecretHash = Digest(secret),
            At = Now,
            EndsAt = Now.AddDays(Math.Clamp(days, 1, LongestDays)),
        };
        session.Database.Invitations.Add(invitation);
        Post(session.Database, person, email, $"{from.Name} invites you to “{manuscript.Title}”",
            $"{from.Name} would like you to join the manuscript “{manuscript.Title}” as {Name(role)}. The link holds until {invitation.EndsAt:d MMMM yyyy} and can be used once.", $"/join/{secret}");
        session.Tell(new PeopleChanged(manuscriptId));
        return new Issued<Invitation>(invitation, secret);
    });

    /// <summary>Ends an invitation before it is taken.</summary>
    public Task<int> WithdrawAsync(int manuscriptId, int invitationId) => writeQueue.RunAsync(WriteQueue.House, async session =>
    {
        Invitation invitation = await session.Database.Invitations.FirstOrDefaultAsync(i => i.Id == invitationId && i.ManuscriptId == manuscriptId) ?? throw new StoreException("This invitation isn't there.");
        invitation.IsWithdrawn = true;
        session.Tell(new PeopleChanged(manuscriptId));
        return 0;
    });

    /// <summary>Invitations that wait.</summary>
    public async Task<IReadOnlyList<WaitingInvitation>> InvitationsAsync(int manuscriptId)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        DateTime now = Now;
        List<Invitation> waiting = await database.Invitations.AsNoTracking().Where(i => i.ManuscriptId == manuscriptId && i.TakenByPersonId == null && !i.IsWithdrawn && i.EndsAt > now).OrderBy(i => i.Id).ToListAsync();
        IReadOnlyDictionary<int, Person> asking = await PeopleAsync(waiting.Select(i => i.AskedByPersonId ?? 0));
        return [.. waiting.Select(i => new WaitingInvitation(i, asking.GetValueOrDefault(i.AskedByPersonId ?? 0)))];
    }

    /// <summary>What an invitation's link leads to.</summary>
    /// <exception cref="StoreException">It doesn't hold any more.</exception>
    public async Task<Invited> LookAsync(string secret, int person)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        Invitation invitation = await HoldingAsync(database, secret, person);
        Person reader = await database.Users.AsNoTracking().FirstAsync(p => p.Id == person);
        (ManuscriptEntity manuscript, Person from) = await FindAsync(database, invitation.ManuscriptId, invitation.FromPersonId);
        return new Invited(manuscript.Id, manuscript.Title, invitation.Role, from.Name, invitation.EndsAt, IsSentTo(invitation, reader), invitation.AskedByPersonId == person);
    }

    /// <summary>
    /// Takes an invitation. Whoever has its address, verified, is in; anyone else with the link asks to come in, and is named to the owner
    /// before anything can be read. The link is that person's from then on.
    /// </summary>
    /// <returns>The manuscript; null when the owner has to let the person in first.</returns>
    /// <exception cref="StoreException">It doesn't hold any more.</exception>
    public Task<int?> TakeAsync(string secret, int person) => writeQueue.RunAsync<int?>(person, async session =>
    {
        Invitation invitation = await HoldingAsync(session.Database, secret, person);
        (ManuscriptEntity manuscript, Person from) = await FindAsync(session.Database, invitation.ManuscriptId, invitation.FromPersonId);
        Person taker = await session.Database.Users.FirstAsync(p => p.Id == person);
        if (await session.Database.Memberships.AnyAsync(m => m.ManuscriptId == manuscript.Id && m.PersonId == person && m.Role >= invitation.Role))
        {
            // There is nothing to gain; the link stays for whom it was sent to.
            return manuscript.Id;
        }

        // Whoever is in the manuscript already is no exception: a link in other hands gives nobody a higher role without the owner.
        if (!IsSentTo(invitation, taker))
        {
            if (invitation.AskedByPersonId is null)
            {
                invitation.AskedByPersonId = person;
                Post(session.Database, person, from.Email!, $"{taker.Name} asks to come in to “{manuscript.Title}”",
                    $"{taker.Name} ({taker.Email}) has the link that you sent to {invitation.Email}. Let them in, or withdraw it, under People.", $"/m/{manuscript.Id}/write");
                session.Tell(new PeopleChanged(manuscript.Id));
            }

            return null;
        }

        await JoinAsync(session, manuscript, invitation, taker);
        Post(session.Database, person, from.Email!, $"{taker.Name} joined “{manuscript.Title}”", $"{taker.Name} took your invitation and is {Name(invitation.Role)} now.", $"/m/{manuscript.Id}/write");
        return manuscript.Id;
    });

    /// <summary>Lets someone in who asked with an invitation's link.</summary>
    /// <exception cref="StoreException">Nobody asks with it any more.</exception>
    public Task<int> LetInAsync(int manuscriptId, int owner, int invitationId) => writeQueue.RunAsync(owner, async session =>
    {
        DateTime now = Now;
        Invitation invitation = await session.Database.Invitations.FirstOrDefaultAsync(i => i.Id == invitationId && i.ManuscriptId == manuscriptId
            && i.AskedByPersonId != null && i.TakenByPersonId == null && !i.IsWithdrawn && i.EndsAt > now) ?? throw new StoreException("Nobody asks to come in with this invitation any more.");
        (ManuscriptEntity manuscript, Person from) = await FindAsync(session.Database, manuscriptId, owner);
        Person taker = await session.Database.Users.FirstAsync(p => p.Id == invitation.AskedByPersonId);
        await JoinAsync(session, manuscript, invitation, taker);
        Post(session.Database, owner, taker.Email!, $"You are in “{manuscript.Title}”", $"{from.Name} let you in as {Name(invitation.Role)}.", $"/m/{manuscriptId}/write");
        return 0;
    });

    // Whoever has a higher role already keeps it.
    private async Task JoinAsync(WriteSession session, ManuscriptEntity manuscript, Invitation invitation, Person taker)
    {
        Membership? known = await session.Database.Memberships.FirstOrDefaultAsync(m => m.ManuscriptId == manuscript.Id && m.PersonId == taker.Id);
        if (known is null)
        {
            session.Database.Memberships.Add(new Membership { ManuscriptId = manuscript.Id, PersonId = taker.Id, Role = invitation.Role, SeenRevision = manuscript.Revision, SeenAt = Now });
            Log(session, manuscript, taker.Id, $"{taker.Name} joined as {Name(invitation.Role)}");
        }
        else if (known.Role < invitation.Role)
        {
            known.Role = invitation.Role;
            Log(session, manuscript, taker.Id, $"{taker.Name} is {Name(invitation.Role)} now");
        }

        invitation.TakenByPersonId = taker.Id;
    }

    // Only who can read what is sent to an address has shown that it is theirs.
    private static bool IsSentTo(Invitation invitation, Person person) =>
        person.EmailConfirmed && string.Equals(invitation.Email, person.Email, StringComparison.OrdinalIgnoreCase);

    /// <summary>Gives a member another role.</summary>
    /// <exception cref="StoreException">It is the owner's, or the owner's role is wanted.</exception>
    public Task<int> SetRoleAsync(int manuscriptId, int person, int member, Role role) => writeQueue.RunAsync(person, async session =>
    {
        Membership membership = await MemberAsync(session.Database, manuscriptId, member);
        if (membership.Role == Role.Owner || role == Role.Owner || !Enum.IsDefined(role))
        {
            throw new StoreException("A manuscript has one owner: hand it over instead.");
        }

        if (membership.Role != role)
        {
            membership.Role = role;
            if (role < Role.Author)
            {
                await EndTokensAsync(session, manuscriptId, member);
            }

            (ManuscriptEntity manuscript, Person from) = await FindAsync(session.Database, manuscriptId, person);
            Log(session, manuscript, person, $"{membership.Person!.Name} is {Name(role)} now");
            Post(session.Database, person, membership.Person.Email!, $"Your role in “{manuscript.Title}”", $"{from.Name} made you {Name(role)}.", $"/m/{manuscriptId}/write");
        }

        return 0;
    });

    /// <summary>Takes someone off a manuscript, or lets someone leave.</summary>
    /// <exception cref="StoreException">It is the owner.</exception>
    public Task<int> RemoveAsync(int manuscriptId, int person, int member) => writeQueue.RunAsync(person, async session =>
    {
        Membership membership = await MemberAsync(session.Database, manuscriptId, member);
        if (membership.Role == Role.Owner)
        {
            throw new StoreException("The owner can't leave: hand the manuscript over first.");
        }

        (ManuscriptEntity manuscript, Person from) = await FindAsync(session.Database, manuscriptId, person);
        session.Database.Memberships.Remove(membership);
        await EndTokensAsync(session, manuscriptId, member);
        Log(session, manuscript, person, person == member ? $"{from.Name} left" : $"{membership.Person!.Name} was removed");
        if (person != member)
        {
            Post(session.Database, person, membership.Person!.Email!, $"You are no longer in “{manuscript.Title}”", $"{from.Name} took you off the manuscript.", null);
        }

        return 0;
    });

    /// <summary>Makes another member the owner; the owner stays as an author.</summary>
    public Task<int> HandOverAsync(int manuscriptId, int owner, int member) => writeQueue.RunAsync(owner, async session =>
    {
        Membership from = await MemberAsync(session.Database, manuscriptId, owner);
        Membership to = await MemberAsync(session.Database, manuscriptId, member);
        if (from.Role != Role.Owner || owner == member)
        {
            throw new StoreException("The owner hands a manuscript over, to someone else.");
        }

        from.Role = Role.Author;
        to.Role = Role.Owner;
        (ManuscriptEntity manuscript, Person person) = await FindAsync(session.Database, manuscriptId, owner);
        Log(session, manuscript, owner, $"{person.Name} handed the manuscript over to {to.Person!.Name}");
        Post(session.Database, owner, to.Person.Email!, $"“{manuscript.Title}” is yours now", $"{person.Name} handed the manuscript over to you.", $"/m/{manuscriptId}/write");
        return 0;
    });

    /// <summary>Makes an access token.</summary>
    public Task<Issued<AccessToken>> MakeTokenAsync(int manuscriptId, int person, string name) => writeQueue.RunAsync(person, session =>
    {
        name = SeenText.Name(name, 80) ?? throw new StoreException("Say in a few words what the token is for: nightly analysis.");
        string secret = TokenPrefix + NewSecret();
        var token = new AccessToken { ManuscriptId = manuscriptId, PersonId = person, Name = name, SecretHash = Digest(secret), At = Now };
        session.Database.AccessTokens.Add(token);
        return Task.FromResult(new Issued<AccessToken>(token, secret));
    });

    /// <summary>Makes an access token useless.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="tokenId">The token.</param>
    /// <param name="person">Whose it must be; null: anyone's.</param>
    public Task<int> RevokeTokenAsync(int manuscriptId, int tokenId, int? person) => writeQueue.RunAsync(person ?? WriteQueue.House, async session =>
    {
        AccessToken token = await session.Database.AccessTokens.FirstOrDefaultAsync(t => t.Id == tokenId && t.ManuscriptId == manuscriptId && (person == null || t.PersonId == person))
            ?? throw new StoreException("This token isn't there.");
        token.IsRevoked = true;
        return 0;
    });

    // For good: they don't hold again when the person comes back.
    private static Task<int> EndTokensAsync(WriteSession session, int manuscriptId, int person) =>
        session.Database.AccessTokens.Where(t => t.ManuscriptId == manuscriptId && t.PersonId == person).ExecuteUpdateAsync(t => t.SetProperty(x => x.IsRevoked, true));

    /// <summary>Tokens that hold.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="person">Only this person's; null: all.</param>
    public async Task<IReadOnlyList<AccessToken>> TokensAsync(int manuscriptId, int? person)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.AccessTokens.AsNoTracking().Where(t => t.ManuscriptId == manuscriptId && !t.IsRevoked && (person == null || t.PersonId == person)).OrderBy(t => t.Id).ToListAsync();
    }

    /// <summary>The token of a secret, and that it was used; null when it doesn't hold.</summary>
    public async Task<AccessToken?> UseTokenAsync(string secret)
    {
        string hash = Digest(secret);
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        AccessToken? token = await database.AccessTokens.AsNoTracking().FirstOrDefaultAsync(t => t.SecretHash == hash && !t.IsRevoked);
        if (token is not null && (token.UsedAt is not { } used || Now - used > TimeSpan.FromMinutes(1)))
        {
            DateTime now = Now;
            await writeQueue.RunAsync(token.PersonId, session => session.Database.AccessTokens.Where(t => t.Id == token.Id).ExecuteUpdateAsync(t => t.SetProperty(x => x.UsedAt, now)));
        }

        return token;
    }

    /// <summary>Names of tokens by number, revoked ones too: the log speaks of them.</summary>
    public async Task<IReadOnlyDictionary<int, string>> TokenNamesAsync(int manuscriptId)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.AccessTokens.AsNoTracking().Where(t => t.ManuscriptId == manuscriptId).ToDictionaryAsync(t => t.Id, t => t.Name);
    }

    /// <summary>Letters that were sent to a person's verified address, newest first; null when it isn't verified.</summary>
    public async Task<IReadOnlyList<Letter>?> LettersAsync(int person)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        string? email = await database.Users.AsNoTracking().Where(p => p.Id == person && p.EmailConfirmed).Select(p => p.Email).FirstOrDefaultAsync();
        return email is null ? null : await database.Letters.AsNoTracking().Where(l => EF.Functions.Collate(l.To, "NOCASE") == email).OrderByDescending(l => l.Id).Take(200).ToListAsync();
    }

    /// <summary>Notes that a person has seen a manuscript as it is now.</summary>
    public Task<int> SeenAsync(int manuscriptId, int person) => writeQueue.RunAsync(person, async session =>
    {
        DateTime now = Now;
        int revision = await session.Database.Manuscripts.Where(m => m.Id == manuscriptId).Select(m => m.Revision).FirstOrDefaultAsync();
        return await session.Database.Memberships.Where(m => m.ManuscriptId == manuscriptId && m.PersonId == person)
            .ExecuteUpdateAsync(m => m.SetProperty(x => x.SeenRevision, revision).SetProperty(x => x.SeenAt, now));
    });

    /// <summary>The newest revision when a person was last in a manuscript.</summary>
    public async Task<int> SeenRevisionAsync(int manuscript, int person)
    {
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.Memberships.AsNoTracking().Where(m => m.ManuscriptId == manuscript && m.PersonId == person).Select(m => m.SeenRevision).FirstOrDefaultAsync();
    }

    /// <summary>Writes to people whom a note or an answer names.</summary>
    /// <param name="manuscriptId">The manuscript.</param>
    /// <param name="from">Who wrote it.</param>
    /// <param name="to">Whom it names.</param>
    /// <param name="words">What it says.</param>
    /// <param name="link">Where it stands.</param>
    public Task<int> WriteOfWordsAsync(int manuscriptId, int from, IReadOnlyCollection<int> to, string where, string words, string link) => writeQueue.RunAsync(from, async session =>
    {
        string title = await session.Database.Manuscripts.Where(m => m.Id == manuscriptId).Select(m => m.Title).FirstAsync();
        string name = await session.Database.Users.Where(p => p.Id == from).Select(p => p.Name).FirstAsync();
        List<string> addresses = await session.Database.Memberships.Where(m => m.ManuscriptId == manuscriptId && m.PersonId != from && to.Contains(m.PersonId)).Select(m => m.Person!.Email!).ToListAsync();
        foreach (string address in addresses)
        {
            Post(session.Database, from, address, $"{name} names you in “{title}”", $"{name} wrote in the {where} of “{title}”:\n\n{words}", link);
        }

        return addresses.Count;
    });

    /// <summary>Tells everyone in a person's manuscripts that the person has another name or colour.</summary>
    public Task<int> TellOfAsync(int person) => writeQueue.RunAsync(person, async session =>
    {
        List<int> manuscripts = await session.Database.Memberships.Where(m => m.PersonId == person).Select(m => m.ManuscriptId).ToListAsync();
        manuscripts.ForEach(m => session.Tell(new PeopleChanged(m)));
        return manuscripts.Count;
    });

    /// <summary>People by number.</summary>
    public async Task<IReadOnlyDictionary<int, Person>> PeopleAsync(IEnumerable<int> numbers)
    {
        List<int> wanted = [.. numbers.Distinct()];
        await using FolioDatabase database = await databases.CreateDbContextAsync();
        return await database.Users.AsNoTracking().Where(p => wanted.Contains(p.Id)).ToDictionaryAsync(p => p.Id);
    }

    /// <summary>A role in a sentence: “an author”.</summary>
    public static string Name(Role role) => role switch
    {
        Role.Reader => "a reader",
        Role.Reviewer => "a reviewer",
        Role.Author => "an author",
        _ => "the owner",
    };

    private DateTime Now => clock.GetUtcNow().UtcDateTime;

    // 256 bits; a plain digest is enough for them, since there is nothing to guess.
    private static string NewSecret() => Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(32));

    private static string Digest(string secret) => Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(secret)));

    private async Task<Invitation> HoldingAsync(FolioDatabase database, string secret, int person)
    {
        string hash = Digest(secret);
        DateTime now = Now;
        return await database.Invitations.FirstOrDefaultAsync(i => i.SecretHash == hash && i.TakenByPersonId == null && !i.IsWithdrawn && i.EndsAt > now
            && (i.AskedByPersonId == null || i.AskedByPersonId == person)
            && database.Manuscripts.Any(m => m.Id == i.ManuscriptId && m.DeletedAt == null))
            ?? throw new StoreException("This invitation doesn't hold any more: it was used, withdrawn, or its time is over. Ask for a new one.");
    }

    private static async Task<Membership> MemberAsync(FolioDatabase database, int manuscriptId, int person) =>
        await database.Memberships.Include(m => m.Person).FirstOrDefaultAsync(m => m.ManuscriptId == manuscriptId && m.PersonId == person)
        ?? throw new StoreException("This person isn't in the manuscript any more.");

    private static async Task<(ManuscriptEntity Manuscript, Person Person)> FindAsync(FolioDatabase database, int manuscriptId, int person) =>
        (await database.Manuscripts.FirstAsync(m => m.Id == manuscriptId), await database.Users.FirstAsync(p => p.Id == person));

    private void Post(FolioDatabase database, int from, string to, string subject, string body, string? link) =>
        database.Letters.Add(new Letter { At = Now, FromPersonId = from, To = to, Subject = subject, Body = body, Link = link });

    private void Log(WriteSession session, ManuscriptEntity manuscript, int person, string payload)
    {
        session.AddToLog(new Revision
        {
            ManuscriptId = manuscript.Id,
            Number = ++manuscript.Revision,
            PersonId = person,
            At = Now,
            Kind = RevisionKind.People,
            Payload = payload,
        });
        session.Tell(new PeopleChanged(manuscript.Id));
    }
}
