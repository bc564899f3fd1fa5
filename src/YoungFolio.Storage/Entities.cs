namespace YoungFolio.Storage;

/// <summary>A person who can sign in.</summary>
public sealed class Person
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>Name as shown.</summary>
    public required string Name { get; set; }

    /// <summary>The person's colour, the same everywhere: <c>#34567a</c>.</summary>
    public required string Colour { get; set; }

    /// <summary>Whether anyone may sign in as this person in demo mode.</summary>
    public bool IsDemo { get; set; }
}

/// <summary>What a person may do with a manuscript.</summary>
public enum Role
{
    /// <summary>Reads.</summary>
    Reader,

    /// <summary>Leaves notes and suggestions.</summary>
    Reviewer,

    /// <summary>Writes.</summary>
    Author,

    /// <summary>Writes, and decides about people and the manuscript's end.</summary>
    Owner,
}

/// <summary>A manuscript.</summary>
public sealed class ManuscriptEntity
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>Title on the shelf.</summary>
    public required string Title { get; set; }

    /// <summary>A line about it: thesis, article.</summary>
    public required string Description { get; set; }

    /// <summary>Path of the main part.</summary>
    public required string MainPart { get; set; }

    /// <summary>Number of its newest revision.</summary>
    public int Revision { get; set; }

    /// <summary>Its people.</summary>
    public List<Membership> Members { get; set; } = [];

    /// <summary>Its parts.</summary>
    public List<PartEntity> Parts { get; set; } = [];
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
}

/// <summary>One file of a manuscript.</summary>
public sealed class PartEntity
{
    /// <summary>Identity; it survives renaming.</summary>
    public int Id { get; set; }

    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>Path with forward slashes.</summary>
    public required string Path { get; set; }

    /// <summary>Present text; null for parts that aren't text.</summary>
    public string? Text { get; set; }

    /// <summary>Number of updates to the text so far.</summary>
    public int Version { get; set; }

    /// <summary>Digest of the content; null for text.</summary>
    public string? BlobHash { get; set; }

    /// <summary>Whether it was deleted; the log can bring it back.</summary>
    public bool IsDeleted { get; set; }
}

/// <summary>Content of parts that aren't text, stored once.</summary>
public sealed class Blob
{
    /// <summary>SHA-256 in hexadecimal.</summary>
    public required string Hash { get; set; }

    /// <summary>The bytes.</summary>
    public required byte[] Bytes { get; set; }
}

/// <summary>The smallest step of a manuscript's history. Revisions are added, never changed.</summary>
public sealed class Revision
{
    /// <summary>Identity over all manuscripts.</summary>
    public long Id { get; set; }

    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>Number within the manuscript, from 1.</summary>
    public int Number { get; set; }

    /// <summary>Who made it.</summary>
    public int PersonId { get; set; }

    /// <summary>When, in UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>What it is: <c>text</c>, <c>create</c>, <c>rename</c>, <c>delete</c>, <c>upload</c>.</summary>
    public required string Kind { get; set; }

    /// <summary>The part concerned.</summary>
    public int PartId { get; set; }

    /// <summary>The part's version after it, for text.</summary>
    public int PartVersion { get; set; }

    /// <summary>The browser tab that made it, for text.</summary>
    public string? ClientId { get; set; }

    /// <summary>The change set, the new path, or the content's digest.</summary>
    public required string Payload { get; set; }
}
