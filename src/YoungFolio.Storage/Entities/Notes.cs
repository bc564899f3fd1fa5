namespace YoungFolio.Storage;

/// <summary>A note on a passage, in the margin. The passage is as it was when it was last followed.</summary>
public sealed class MarginNote : IPassage
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>The file of its passage.</summary>
    public int FileId { get; set; }

    /// <summary>The version of the file's text that the place is of.</summary>
    public int Version { get; set; }

    /// <summary>The passage's first character.</summary>
    public int From { get; set; }

    /// <summary>The place behind its last one.</summary>
    public int To { get; set; }

    /// <summary>The passage's words, as they were last.</summary>
    public required string Words { get; set; }

    /// <summary>Whether those words are gone.</summary>
    public bool IsGone { get; set; }

    /// <summary>Who wrote it.</summary>
    public int PersonId { get; set; }

    /// <summary>When, in UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>What it says.</summary>
    public required string Text { get; set; }

    /// <summary>Who settled it; null: it is open.</summary>
    public int? SettledBy { get; set; }

    /// <summary>When it was settled, in UTC.</summary>
    public DateTime? SettledAt { get; set; }

    /// <summary>What is suggested in the place of the words; empty: nothing; null: it is a note.</summary>
    public string? Proposal { get; set; }

    /// <summary>Of a suggestion: what the words were when it was made.</summary>
    public string? Instead { get; set; }

    /// <summary>Of a suggestion that is settled: whether it was taken, or else declined.</summary>
    public bool? IsTaken { get; set; }

    /// <summary>What was answered, in order.</summary>
    public List<NoteReply> Replies { get; set; } = [];
}

/// <summary>An answer to a note.</summary>
public sealed class NoteReply
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>The note.</summary>
    public int NoteId { get; set; }

    /// <summary>Who wrote it.</summary>
    public int PersonId { get; set; }

    /// <summary>When, in UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>What it says.</summary>
    public required string Text { get; set; }
}
