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

            // The table of files had another name in earlier versions.
            if (First(database, "SELECT COUNT(*) FROM sqlite_master WHERE name IN ('Manuscripts', 'Files', 'Parts', 'Revisions', 'Blobs')") != "4")
            {
                return "it isn't a database of Young Folio";
            }

            return FindInContents(database, ref contents);
        }
        catch (SqliteException e)
        {
            return $"it can't be read ({e.Message})";
        }
    }

    private static string? FindInContents(SqliteConnection database, ref int contents)
    {
        using SqliteCommand read = database.CreateCommand();
        // Earlier versions stored a content as one.
        bool isInPieces = First(database, "SELECT 1 FROM sqlite_master WHERE name = 'BlobPieces'") is not null;
        read.CommandText = isInPieces
            ? "SELECT b.Hash, p.Bytes, p.Number FROM Blobs b LEFT JOIN BlobPieces p ON p.BlobId = b.Id WHERE b.Hash IS NOT NULL ORDER BY b.Id, p.Number"
            : "SELECT Hash, Bytes, 0 FROM Blobs";
        using SqliteDataReader rows = read.ExecuteReader();
        using var digest = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        string? hash = null;
        int next = 0;
        while (rows.Read())
        {
            if (rows.GetString(0) != hash || !isInPieces)
            {
                if (hash is not null && !IsRight(digest, hash))
                {
                    return Says(hash);
                }

                hash = rows.GetString(0);
                next = 0;
                contents++;
            }

            if (!rows.IsDBNull(1))
            {
                if (rows.GetInt32(2) != next++)
                {
                    return Says(hash);
                }

                digest.AppendData((byte[])rows[1]);
            }
        }

        return hash is null || IsRight(digest, hash) ? null : Says(hash);

        static bool IsRight(IncrementalHash digest, string hash) => Convert.ToHexString(digest.GetHashAndReset()) == hash;

        static string Says(string hash) => $"the content {hash[..12]} … isn't what was stored";
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
