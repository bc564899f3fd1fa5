using Microsoft.Data.Sqlite;
using YoungFolio.Storage;

namespace YoungFolio.Server.Tests;

/// <summary>Open files of databases that tests are done with.</summary>
internal static class Pools
{
    /// <summary>Closes those of one folder: other tests run at the same time, and theirs stay.</summary>
    public static void Clear(string folder)
    {
        using var one = new SqliteConnection($"Data Source={FolioDatabase.FileIn(folder)}");
        SqliteConnection.ClearPool(one);
    }
}
