using Microsoft.AspNetCore.Identity;

namespace YoungFolio.Storage;

/// <summary>A person with an account. The user name is the e-mail address.</summary>
public sealed class Person : IdentityUser<int>
{
    /// <summary>Name as shown.</summary>
    public required string Name { get; set; }

    /// <summary>The person's colour, the same everywhere: <c>#34567a</c>.</summary>
    public required string Colour { get; set; }

    /// <summary>Whether the person wants a letter each day with what waits.</summary>
    public bool WantsLetter { get; set; }

    /// <summary>When the last such letter was written, or from when on it is wanted, in UTC.</summary>
    public DateTime? LetterAt { get; set; }

    /// <summary>Whether anyone may sign in as this person in demo mode.</summary>
    public bool IsDemo { get; set; }
}

/// <summary>What a person may do with a manuscript; each role may do what the ones before it may.</summary>
public enum Role
{
    /// <summary>Reads.</summary>
    Reader,

    /// <summary>Leaves notes and suggestions.</summary>
    Reviewer,

    /// <summary>Writes.</summary>
    Author,

    /// <summary>Writes, and decides about people and the manuscript's end. A manuscript has one.</summary>
    Owner,
}

/// <summary>A person's role in a manuscript.</summary>
public sealed class Membership
{
    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>The person.</summary>
    public int PersonId { get; set; }

    /// <summary>The person.</summary>
    public Person? Person { get; set; }

    /// <summary>The role.</summary>
    public Role Role { get; set; }

    /// <summary>The newest revision that the person has seen.</summary>
    public int SeenRevision { get; set; }

    /// <summary>When the person was last here, in UTC; null: never.</summary>
    public DateTime? SeenAt { get; set; }

    /// <summary>The last message of the talk that the person has read.</summary>
    public int TalkSeen { get; set; }

    /// <summary>Whether the person put it into the archive of their shelf.</summary>
    public bool IsArchived { get; set; }
}

/// <summary>An invitation to a manuscript: whoever has its link may take it, once, until it ends.</summary>
public sealed class Invitation
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>Who invites.</summary>
    public int FromPersonId { get; set; }

    /// <summary>Address that the link was sent to.</summary>
    public required string Email { get; set; }

    /// <summary>The role that it gives.</summary>
    public Role Role { get; set; }

    /// <summary>Digest of the link's secret; the secret itself is only in the letter.</summary>
    public required string SecretHash { get; set; }

    /// <summary>When it was made, in UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>Until when it can be taken, in UTC.</summary>
    public DateTime EndsAt { get; set; }

    /// <summary>Who has the link and asks to come in, until the owner has let them.</summary>
    public int? AskedByPersonId { get; set; }

    /// <summary>Who took it.</summary>
    public int? TakenByPersonId { get; set; }

    /// <summary>Whether it was withdrawn.</summary>
    public bool IsWithdrawn { get; set; }
}

/// <summary>A key with which a script puts data and pictures into one manuscript.</summary>
public sealed class AccessToken
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>Whose it is; it ends to work when the person may no longer write.</summary>
    public int PersonId { get; set; }

    /// <summary>What it is for: “nightly analysis”.</summary>
    public required string Name { get; set; }

    /// <summary>Digest of the secret, which was shown once.</summary>
    public required string SecretHash { get; set; }

    /// <summary>When it was made, in UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>When it was last used, in UTC.</summary>
    public DateTime? UsedAt { get; set; }

    /// <summary>Whether it was revoked.</summary>
    public bool IsRevoked { get; set; }
}

/// <summary>A session that was ended: a cookie of it that was copied doesn't hold any more.</summary>
public sealed class EndedSession
{
    /// <summary>The session.</summary>
    public required string Id { get; set; }

    /// <summary>Until when its cookie would have held, in UTC.</summary>
    public DateTime Until { get; set; }
}

/// <summary>A letter in the outbox of the post stand-in.</summary>
public sealed class Letter
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>When it was written, in UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>Who caused it.</summary>
    public int FromPersonId { get; set; }

    /// <summary>The address that it goes to.</summary>
    public required string To { get; set; }

    /// <summary>What it is about.</summary>
    public required string Subject { get; set; }

    /// <summary>Its text.</summary>
    public required string Body { get; set; }

    /// <summary>Path of the link in it, from the application's root; null when it has none.</summary>
    public string? Link { get; set; }

    /// <summary>What was handed in with it, so that its files came along; null: nothing.</summary>
    public int? HandedInId { get; set; }
}
