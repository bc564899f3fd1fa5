namespace YoungFolio.Storage;

/// <summary>A manuscript.</summary>
public sealed class ManuscriptEntity
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>Title on the shelf.</summary>
    public required string Title { get; set; }

    /// <summary>A line about it: thesis, article.</summary>
    public required string Description { get; set; }

    /// <summary>Path of the main file.</summary>
    public required string MainFile { get; set; }

    /// <summary>Number of its newest revision.</summary>
    public int Revision { get; set; }

    /// <summary>When it was put away, in UTC; it is kept for <see cref="ManuscriptStore.KeptAway"/>.</summary>
    public DateTime? DeletedAt { get; set; }

    /// <summary>The group's own word for where it belongs; empty: none.</summary>
    public string Mark { get; set; } = "";

    /// <summary>The day on which it is due; null: none.</summary>
    public DateOnly? Deadline { get; set; }

    /// <summary>The rules that it goes by when it is handed in: the key of some that ship, or the number of saved ones; empty: none yet.</summary>
    public string Rules { get; set; } = "";

    /// <summary>Whether others may begin as it: a template of the group.</summary>
    public bool IsTemplate { get; set; }

    /// <summary>What was to be said when it came in from elsewhere, as JSON, until someone has read it; null: nothing.</summary>
    public string? BroughtIn { get; set; }

    /// <summary>How much it takes with all its history, in bytes: contents that were replaced and every step of its texts count.</summary>
    public long Stored { get; set; }

    /// <summary>Its people.</summary>
    public List<Membership> Members { get; set; } = [];

    /// <summary>Its files.</summary>
    public List<FileEntity> Files { get; set; } = [];
}

/// <summary>One file of a manuscript. Its text is in the log: the newest snapshot and what came after.</summary>
public sealed class FileEntity
{
    /// <summary>Identity; it survives renaming.</summary>
    public int Id { get; set; }

    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>Path with forward slashes.</summary>
    public required string Path { get; set; }

    /// <summary>Whether it holds text.</summary>
    public bool IsText { get; set; }

    /// <summary>Number of updates to the text so far.</summary>
    public int Version { get; set; }

    /// <summary>Digest of the content; null for text.</summary>
    public string? BlobHash { get; set; }

    /// <summary>Size of the content: in bytes, or of a text in characters.</summary>
    public int Size { get; set; }

    /// <summary>Whether it was deleted; the log can bring it back.</summary>
    public bool IsDeleted { get; set; }
}

/// <summary>Content of files that aren't text, stored once, in pieces.</summary>
public sealed class Blob
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>SHA-256 of the bytes in hexadecimal; null as long as they aren't all there, or when nobody has them any more.</summary>
    public string? Hash { get; set; }
}

/// <summary>A piece of a content.</summary>
public sealed class BlobPiece
{
    /// <summary>The content.</summary>
    public int BlobId { get; set; }

    /// <summary>Which piece, from 0.</summary>
    public int Number { get; set; }

    /// <summary>The bytes.</summary>
    public required byte[] Bytes { get; set; }
}
