namespace YoungFolio.Storage;

/// <summary>A set-up under a name, for the manuscripts of all who write together with whoever saved it.</summary>
public sealed class SavedSetUp
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>Its name.</summary>
    public required string Name { get; set; }

    /// <summary>Who saved it.</summary>
    public int PersonId { get; set; }

    /// <summary>When, in UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>What it says, as JSON.</summary>
    public required string Values { get; set; }
}
