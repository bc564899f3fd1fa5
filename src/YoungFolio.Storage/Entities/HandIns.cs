namespace YoungFolio.Storage;

/// <summary>Rules of a house that were saved under a name.</summary>
public sealed class SavedRules
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>Their name.</summary>
    public required string Name { get; set; }

    /// <summary>Who saved them.</summary>
    public int PersonId { get; set; }

    /// <summary>When, in UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>What they say, as JSON.</summary>
    public required string Values { get; set; }
}

/// <summary>How the checks of a manuscript that is due came out when they were last made.</summary>
public sealed class CheckStanding
{
    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>The revision that was looked at.</summary>
    public int Revision { get; set; }

    /// <summary>Checks that hold.</summary>
    public int Hold { get; set; }

    /// <summary>Checks that want a look.</summary>
    public int ToLook { get; set; }

    /// <summary>Checks that want mending.</summary>
    public int ToMend { get; set; }
}

/// <summary>A manuscript as it was handed in.</summary>
public sealed class HandedIn
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>The manuscript.</summary>
    public int ManuscriptId { get; set; }

    /// <summary>The revision that went out.</summary>
    public int Revision { get; set; }

    /// <summary>Who handed it in.</summary>
    public int PersonId { get; set; }

    /// <summary>When, in UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>What it is called: the name of its pin, too.</summary>
    public required string Name { get; set; }

    /// <summary>What was said along with it.</summary>
    public required string Note { get; set; }

    /// <summary>The address that it was sent to; empty: it was kept, and nothing sent.</summary>
    public required string To { get; set; }

    /// <summary>What the rules are called that it was held against.</summary>
    public required string Rules { get; set; }

    /// <summary>Pages.</summary>
    public int Pages { get; set; }

    /// <summary>Words.</summary>
    public int Words { get; set; }

    /// <summary>Checks that wanted mending then.</summary>
    public int ToMend { get; set; }

    /// <summary>Checks that wanted a look then.</summary>
    public int ToLook { get; set; }

    /// <summary>The files that went out.</summary>
    public List<HandedInFile> Files { get; set; } = [];
}

/// <summary>A file as it went out.</summary>
public sealed class HandedInFile
{
    /// <summary>Identity.</summary>
    public int Id { get; set; }

    /// <summary>What it belongs to.</summary>
    public int HandedInId { get; set; }

    /// <summary>Its name.</summary>
    public required string Name { get; set; }

    /// <summary>Its media type.</summary>
    public required string MediaType { get; set; }

    /// <summary>Its size in bytes.</summary>
    public int Size { get; set; }

    /// <summary>Its content.</summary>
    public required byte[] Content { get; set; }
}
