using System.Security.Cryptography;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

/// <summary>Looks whether a database file is whole: its pages, what refers to what, and every content by its digest.</summary>
internal static class DataCheck
{
    /// <summary>What is wrong with a file; null when it is whole.</summary>
    /// <param name="file">The file; it is only read.</param>
    /// <param name="contents">How many contents were compared with their digests.</param>
    public static string? Find(string file, out int contents)
    {
        contents = 0;
        try
        {
            using var database = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = file, Mode = SqliteOpenMode.ReadOnly, Pooling = false }.ToString());
            database.Open();
            if (First(database, "PRAGMA integrity_check(1)") is var pages && pages != "ok")
            {
                return $"its pages are damaged ({pages})";
            }

            if (First(database, "PRAGMA foreign_key_check") is { } broken)
            {
                return $"something in {broken} refers to what isn't there";
            }

            if (First(database, "SELECT COUNT(*) FROM sqlite_master WHERE name IN ('Manuscripts', 'Parts', 'Revisions', 'Blobs')") != "4")
            {
                return "it isn't a database of Young Folio";
            }

            using SqliteCommand read = database.CreateCommand();
            read.CommandText = "SELECT Hash, Bytes FROM Blobs";
            using SqliteDataReader rows = read.ExecuteReader();
            while (rows.Read())
            {
                using Stream bytes = rows.GetStream(1);
                if (Convert.ToHexString(SHA256.HashData(bytes)) != rows.GetString(0))
                {
                    return $"the content {rows.GetString(0)[..12]} … isn't what was stored";
                }

                contents++;
            }

            return null;
        }
        catch (SqliteException e)
        {
            return $"it can't be read ({e.Message})";
        }
    }

    /// <summary>Brings a file of an older version to the present schema.</summary>
    /// <returns>A step of the schema that this version doesn't know, if there is one: then nothing was changed.</returns>
    public static string? BringUpToDate(string file)
    {
        var options = new DbContextOptionsBuilder<FolioDatabase>();
        options.UseSqlite(new SqliteConnectionStringBuilder { DataSource = file, Pooling = false }.ToString());
        using var database = new FolioDatabase(options.Options);
        string? newer = database.NewerSchema();
        if (newer is null)
        {
            database.Database.Migrate();
        }

        return newer;
    }

    private static string? First(SqliteConnection database, string question)
    {
        using SqliteCommand command = database.CreateCommand();
        command.CommandText = question;
        return command.ExecuteScalar()?.ToString();
    }
}
