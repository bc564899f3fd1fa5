using System.Diagnostics.CodeAnalysis;

namespace YoungFolio.Storage;

/// <summary>A passage of a text that something is tied to, as it was found last.</summary>
public interface IPassage
{
    /// <summary>The number of what is tied to it.</summary>
    int Id { get; }

    /// <summary>The manuscript.</summary>
    int ManuscriptId { get; }

    /// <summary>The file.</summary>
    int FileId { get; set; }

    /// <summary>The version of the file's text that the place is of.</summary>
    int Version { get; set; }

    /// <summary>The first character.</summary>
    int From { get; set; }

    /// <summary>The place behind the last one.</summary>
    [SuppressMessage("Naming", "CA1716", Justification = "From and To are a passage's places all over, and this is used from C# alone.")]
    int To { get; set; }

    /// <summary>The words, as they were last.</summary>
    string Words { get; set; }

    /// <summary>Whether those words are gone.</summary>
    bool IsGone { get; set; }
}

/// <summary>What a message of the talk leads to.</summary>
public static class TalkLink
{
    /// <summary>To nothing.</summary>
    public const string None = "";

    /// <summary>To a passage.</summary>
    public const string Passage = "passage";

    /// <summary>To a page, by the passage at its upper edge.</summary>
    public const string Page = "page";

    /// <summary>To a source, by its key.</summary>
    public const string Source = "source";

    /// <summary>To a pin, by its number.</summary>
    public const string Pin = "pin";
}

/// <summary>A message of a manuscript's talk.</summary>
public sealed class TalkMessage : IPassage
{
    /// <summary>Identity; later messages have higher ones.</summary>
    public int Id { get; set; }

    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>Who said it.</summary>
    public int PersonId { get; set; }

    /// <summary>When, in UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>What was said.</summary>
    public required string Text { get; set; }

    /// <summary>What it leads to, one of <see cref="TalkLink"/>.</summary>
    public string Link { get; set; } = TalkLink.None;

    /// <summary>Of a source its key, of a pin its number; else nothing.</summary>
    public string Target { get; set; } = "";

    /// <inheritdoc/>
    public int FileId { get; set; }

    /// <inheritdoc/>
    public int Version { get; set; }

    /// <inheritdoc/>
    public int From { get; set; }

    /// <inheritdoc/>
    public int To { get; set; }

    /// <inheritdoc/>
    public string Words { get; set; } = "";

    /// <inheritdoc/>
    public bool IsGone { get; set; }
}
