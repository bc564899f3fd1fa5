using System.Collections.Concurrent;
using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

/// <summary>Roles, asked at every keystroke, kept in memory. A change of people is stored through the <see cref="WriteQueue"/>, which says so before it is acknowledged.</summary>
public sealed class RoleCache : IDisposable
{
    private readonly IDbContextFactory<FolioDatabase> _databases;
    private readonly WriteQueue _writeQueue;
    private readonly ConcurrentDictionary<(int Manuscript, int Person), Role?> _roles = new();
    private readonly Lock _lock = new();
    private int _changes;

    /// <summary>Begins empty.</summary>
    public RoleCache(IDbContextFactory<FolioDatabase> databases, WriteQueue writeQueue)
    {
        _databases = databases;
        _writeQueue = writeQueue;
        writeQueue.Stored += Forget;
    }

    /// <summary>A person's role in a manuscript that isn't put away; null when there is none.</summary>
    public async Task<Role?> FindAsync(int manuscript, int person)
    {
        if (_roles.TryGetValue((manuscript, person), out Role? known))
        {
            return known;
        }

        int before = Volatile.Read(ref _changes);
        await using FolioDatabase database = await _databases.CreateDbContextAsync();
        Role? role = await database.Memberships.AsNoTracking().Where(m => m.ManuscriptId == manuscript && m.PersonId == person
            && database.Manuscripts.Any(x => x.Id == manuscript && x.DeletedAt == null)).Select(m => (Role?)m.Role).FirstOrDefaultAsync();
        lock (_lock)
        {
            // People may have changed while it was read; and who has no role is asked for too rarely to be kept.
            if (role is not null && before == _changes)
            {
                _roles[(manuscript, person)] = role;
            }
        }

        return role;
    }

    /// <inheritdoc/>
    public void Dispose() => _writeQueue.Stored -= Forget;

    private void Forget(StoreChange change)
    {
        if (change is PeopleChanged or AllChanged)
        {
            lock (_lock)
            {
                _changes++;
                _roles.Clear();
            }
        }
    }
}
