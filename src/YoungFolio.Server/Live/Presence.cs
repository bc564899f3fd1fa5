using System.Collections.Concurrent;
using YoungFolio.Server.Api;
using YoungFolio.Storage;

namespace YoungFolio.Server.Live;

/// <summary>Where someone is in a manuscript.</summary>
/// <param name="ClientId">The tab.</param>
/// <param name="File">The file that is open; null when the room shows none.</param>
/// <param name="Version">Version of the file's text that the positions are of.</param>
/// <param name="Anchor">Where the selection begins.</param>
/// <param name="Head">Where the cursor is.</param>
/// <param name="Line">The cursor's line, from 1.</param>
public sealed record Place(string ClientId, int? File, int Version, int Anchor, int Head, int Line);

/// <summary>Someone who is in a manuscript now, in one tab.</summary>
/// <param name="Seat">Tells tabs apart.</param>
/// <param name="Person">Who.</param>
/// <param name="Place">Where; null until it is known.</param>
public sealed record Present(string Seat, PersonView Person, Place? Place);

/// <summary>Who is in which manuscript now. Kept in memory only: a cursor costs no storage.</summary>
public sealed class Presence
{
    private readonly ConcurrentDictionary<string, (int Manuscript, Present Who)> _seats = new();

    private readonly ConcurrentDictionary<string, Role> _roles = new();

    /// <summary>Someone comes in.</summary>
    public Present Enter(string connection, int manuscript, PersonView person)
    {
        // Connection ids let whoever knows them act for the tab, so others see another name for it.
        var who = new Present(Guid.NewGuid().ToString("N")[..12], person, null);
        _seats[connection] = (manuscript, who);
        return who;
    }

    /// <summary>Notes with which role someone came in.</summary>
    public void SetRole(string connection, Role role) => _roles[connection] = role;

    /// <summary>With which role someone came in.</summary>
    public Role RoleOf(string connection) => _roles.GetValueOrDefault(connection, Role.Reader);

    /// <summary>Someone moves; null when the tab isn't in a manuscript.</summary>
    public Present? Move(string connection, Place place)
    {
        if (!_seats.TryGetValue(connection, out (int Manuscript, Present Who) seat))
        {
            return null;
        }

        Present who = seat.Who with { Place = place };
        _seats[connection] = (seat.Manuscript, who);
        return who;
    }

    /// <summary>Someone has another name or colour.</summary>
    /// <returns>How others see the tab now; null when nothing changed.</returns>
    public Present? Rename(string connection, PersonView person)
    {
        if (!_seats.TryGetValue(connection, out (int Manuscript, Present Who) seat) || seat.Who.Person == person)
        {
            return null;
        }

        Present who = seat.Who with { Person = person };
        _seats[connection] = (seat.Manuscript, who);
        return who;
    }

    /// <summary>Someone goes; null when the tab wasn't in a manuscript.</summary>
    public (int Manuscript, Present Who)? Leave(string connection)
    {
        _roles.TryRemove(connection, out _);
        return _seats.TryRemove(connection, out (int, Present) seat) ? seat : null;
    }

    /// <summary>Who is in a manuscript.</summary>
    public IReadOnlyList<Present> In(int manuscript) => [.. _seats.Values.Where(s => s.Manuscript == manuscript).Select(s => s.Who)];

    /// <summary>The connections of a manuscript, with whose they are.</summary>
    public IReadOnlyList<(string Connection, int Person)> Connections(int manuscript) =>
        [.. _seats.Where(s => s.Value.Manuscript == manuscript).Select(s => (s.Key, s.Value.Who.Person.Id))];
}
