using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>The smallest step of a manuscript's history. Revisions are added, never changed; their number gives the order, not the clock.</summary>
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

    /// <summary>The access token with which a script made it.</summary>
    public int? TokenId { get; set; }

    /// <summary>When, in UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>What it is: one of <see cref="RevisionKind"/>.</summary>
    public required string Kind { get; set; }

    /// <summary>The file concerned; null when it is the manuscript.</summary>
    public int? FileId { get; set; }

    /// <summary>The file's version after it.</summary>
    public int FileVersion { get; set; }

    /// <summary>The browser tab that made it, for text.</summary>
    public string? ClientId { get; set; }

    /// <summary>The change set, the path, the content's digest, or what was set.</summary>
    public required string Payload { get; set; }

    /// <summary>What a room did with it, in words; null: it was typed, or speaks for itself.</summary>
    public string? Act { get; set; }
}

/// <summary>A file's text at one version, so that no text has to be made from the log's beginning.</summary>
public sealed class Snapshot
{
    /// <summary>The file.</summary>
    public int FileId { get; set; }

    /// <summary>Its version.</summary>
    public int Version { get; set; }

    /// <summary>Its text.</summary>
    public required string Text { get; set; }
}

/// <summary>Tells one state of the data folder from another that was put in its place.</summary>
public sealed class Generation
{
    /// <summary>Always 1: there is one row.</summary>
    public int Id { get; set; }

    /// <summary>Any value that no other state has had.</summary>
    public required string Value { get; set; }
}
