namespace YoungFolio.Storage;

/// <summary>A word that is right though no dictionary has it: in a manuscript, or wherever a person writes.</summary>
public sealed class KnownWord
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>The manuscript; null when it is a person's.</summary>
    public int? ManuscriptId { get; set; }

    /// <summary>The person; null when it is a manuscript's.</summary>
    public int? PersonId { get; set; }

    /// <summary>The word, as it was added.</summary>
    public required string Word { get; set; }
}

/// <summary>How many words a manuscript, or a section of it, is to have.</summary>
public sealed class WordGoal
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>The section's title as printed; empty: all of it.</summary>
    public required string Section { get; set; }

    /// <summary>So many words.</summary>
    public int Words { get; set; }
}

/// <summary>How many words a manuscript had at the end of a day.</summary>
public sealed class WordDay
{
    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>The day, by the server's clock.</summary>
    public DateOnly Day { get; set; }

    /// <summary>Words that print.</summary>
    public int Words { get; set; }
}

/// <summary>A remark that someone chose to leave as it is.</summary>
public sealed class LeftFinding
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>The check's name.</summary>
    public required string Code { get; set; }

    /// <summary>What was said.</summary>
    public required string Message { get; set; }

    /// <summary>The file, empty for the whole manuscript.</summary>
    public required string File { get; set; }

    /// <summary>Who left it.</summary>
    public int PersonId { get; set; }

    /// <summary>When, in UTC.</summary>
    public DateTime At { get; set; }
}
