namespace YoungFolio.Storage;

/// <summary>An event of a manuscript's history, read out of its log: what people recognise. It can be read anew at any time.</summary>
public sealed class HistoryEvent
{
    /// <summary>Identity over all manuscripts.</summary>
    public long Id { get; set; }

    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>Its number in the manuscript, from 1.</summary>
    public int Number { get; set; }

    /// <summary>Who.</summary>
    public int PersonId { get; set; }

    /// <summary>The access token, when a script did it.</summary>
    public int? TokenId { get; set; }

    /// <summary>What it is.</summary>
    public required string Kind { get; set; }

    /// <summary>The file; null: several, or the manuscript.</summary>
    public int? FileId { get; set; }

    /// <summary>The file's path then; of several files all, a line each.</summary>
    public required string Path { get; set; }

    /// <summary>Its first revision.</summary>
    public int FromRevision { get; set; }

    /// <summary>Its last one.</summary>
    public int ToRevision { get; set; }

    /// <summary>How many revisions it has.</summary>
    public int Steps { get; set; }

    /// <summary>When it began, in UTC.</summary>
    public DateTime Begin { get; set; }

    /// <summary>When it ended, in UTC.</summary>
    public DateTime End { get; set; }

    /// <summary>Words that came in.</summary>
    public int WordsIn { get; set; }

    /// <summary>Words that went.</summary>
    public int WordsOut { get; set; }

    /// <summary>The headings under which it happened, a line each: the number, a tab, the title.</summary>
    public required string Places { get; set; }

    /// <summary>What was said, a line each.</summary>
    public required string Says { get; set; }
}

/// <summary>Who wrote which stretch of a file, as far as its manuscript's log has been read into events.</summary>
public sealed class FileAuthors
{
    /// <summary>The file.</summary>
    public int FileId { get; set; }

    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>The stretches, as the chronicle writes them.</summary>
    public required string Stretches { get; set; }
}

/// <summary>How far a manuscript's log has been read into events.</summary>
public sealed class HistoryMark
{
    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>The last revision that was read.</summary>
    public int Revision { get; set; }
}

/// <summary>A moment with a name.</summary>
public sealed class Pin
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>The revision that it names.</summary>
    public int Revision { get; set; }

    /// <summary>Its name.</summary>
    public required string Name { get; set; }

    /// <summary>What is to be said of it.</summary>
    public required string Note { get; set; }

    /// <summary>Who set it.</summary>
    public int PersonId { get; set; }

    /// <summary>When it was set, in UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>Whether it was set along with something else: before a restore, at hand-in.</summary>
    public bool IsAutomatic { get; set; }

    /// <summary>Pages of its proof.</summary>
    public int Pages { get; set; }

    /// <summary>Words of its proof.</summary>
    public int Words { get; set; }
}

/// <summary>The proof of a pin, kept for good.</summary>
public sealed class PinProof
{
    /// <summary>The pin.</summary>
    public int PinId { get; set; }

    /// <summary>The PDF.</summary>
    public required byte[] Pdf { get; set; }
}
