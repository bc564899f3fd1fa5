using System.IO.Compression;
using Microsoft.Data.Sqlite;
using SQLitePCL;

namespace YoungFolio.Storage;

/// <summary>Copies a data folder into one file and puts such a copy in place, while the application runs or not.</summary>
public static class Backup
{
    private const string DatabaseEntry = "folio.db";
    private const string KeysFolder = "keys";
    private static readonly TimeSpan s_patience = TimeSpan.FromSeconds(60);

    /// <summary>Copies a data folder. Whoever writes meanwhile isn't held up; the copy is of one moment.</summary>
    /// <param name="data">The data folder.</param>
    /// <param name="file">The .zip to make; it must not be there yet.</param>
    /// <param name="isChecked">Whether the copy is looked through: what is damaged is said now, not when it is needed.</param>
    /// <returns>How many contents were compared with their digests.</returns>
    /// <exception cref="StoreException">There is no data, the file is there or can't be written, or the data are damaged.</exception>
    public static int Make(string data, string file, bool isChecked = true)
    {
        int contents = 0;
        if (!File.Exists(FolioDatabase.FileIn(data)))
        {
            throw new StoreException($"There is no data in {data}.");
        }

        if (File.Exists(file))
        {
            throw new StoreException($"{file} is there already.");
        }

        string copy = Path.GetTempFileName();
        string unfinished = file + ".unfinished";
        try
        {
            using (SqliteConnection from = Open(FolioDatabase.FileIn(data), SqliteOpenMode.ReadOnly))
            using (SqliteConnection to = Open(copy, SqliteOpenMode.ReadWriteCreate))
            {
                from.BackupDatabase(to);
            }

            if (isChecked && DataCheck.Find(copy, out contents) is { } damage)
            {
                throw new StoreException($"No backup was made: of the data in {data}, {damage}. Keep the folder as it is, and put an earlier backup in place.");
            }

            using (ZipArchive archive = ZipFile.Open(unfinished, ZipArchiveMode.Create))
            {
                archive.CreateEntryFromFile(copy, DatabaseEntry);
                string keys = Path.Combine(data, KeysFolder);
                foreach (string key in Directory.Exists(keys) ? Directory.GetFiles(keys, "*.xml") : [])
                {
                    archive.CreateEntryFromFile(key, $"{KeysFolder}/{Path.GetFileName(key)}");
                }
            }

            File.Move(unfinished, file);
            return contents;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or SqliteException)
        {
            throw new StoreException($"The backup can't be written to {file}: {e.Message}");
        }
        finally
        {
            File.Delete(copy);
            if (File.Exists(unfinished))
            {
                File.Delete(unfinished);
            }
        }
    }

    /// <summary>Puts a copy in the place of what a data folder holds. What was there is copied beside it first.</summary>
    /// <param name="file">The .zip.</param>
    /// <param name="data">The data folder; it is made if need be.</param>
    /// <param name="now">The moment, for the name of the copy of what was there.</param>
    /// <returns>The copy of what was there; null when nothing was.</returns>
    /// <exception cref="StoreException">The file isn't a backup. Nothing is changed then.</exception>
    public static string? Restore(string file, string data, DateTime now)
    {
        string copy = Path.GetTempFileName();
        try
        {
            using ZipArchive archive = OpenArchive(file);
            (archive.GetEntry(DatabaseEntry) ?? throw NoBackup(file)).ExtractToFile(copy, overwrite: true);
            if (DataCheck.Find(copy, out _) is { } damage)
            {
                throw new StoreException($"{file} isn't a whole backup of Young Folio: {damage}. Nothing was changed.");
            }

            // A running server expects the present schema.
            if (DataCheck.BringUpToDate(copy) is { } newer)
            {
                throw new StoreException($"{file} was made by a newer version of Young Folio (“{newer}”). Nothing was changed.");
            }

            Directory.CreateDirectory(Path.Combine(data, KeysFolder));
            string? before = File.Exists(FolioDatabase.FileIn(data)) ? FreeName(data, now) : null;
            Replace(copy, data, before);
            foreach (ZipArchiveEntry key in archive.Entries.Where(e => e.FullName.StartsWith(KeysFolder + "/", StringComparison.Ordinal) && e.Name.Length > 0))
            {
                key.ExtractToFile(Path.Combine(data, KeysFolder, Path.GetFileName(key.Name)), overwrite: true);
            }

            return before;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or InvalidDataException)
        {
            throw new StoreException($"The backup can't be put in place: {e.Message}");
        }
        finally
        {
            File.Delete(copy);
        }
    }

    // Nobody writes between the copy of what was there and its replacement: what a person was told is stored is in one of the two.
    private static void Replace(string copy, string data, string? before)
    {
        using SqliteConnection from = Open(copy, SqliteOpenMode.ReadWrite);
        using (SqliteCommand stamp = from.CreateCommand())
        {
            // A running server notices the new generation and forgets what it knew.
            stamp.CommandText = "INSERT INTO Generations (Id, Value) VALUES (1, $value) ON CONFLICT (Id) DO UPDATE SET Value = $value";
            stamp.Parameters.AddWithValue("$value", Guid.NewGuid().ToString("N"));
            stamp.ExecuteNonQuery();
        }

        using SqliteConnection to = Open(FolioDatabase.FileIn(data), SqliteOpenMode.ReadWriteCreate);
        raw.sqlite3_busy_timeout(to.Handle, (int)s_patience.TotalMilliseconds);
        using sqlite3_backup pages = raw.sqlite3_backup_init(to.Handle, "main", from.Handle, "main");
        if (pages.IsInvalid)
        {
            SqliteException.ThrowExceptionForRC(raw.sqlite3_errcode(to.Handle), to.Handle);
        }

        // The first page takes the lock of those who write; those who read still see what was there.
        int state = raw.sqlite3_backup_step(pages, 1);
        if (before is not null && state is raw.SQLITE_OK or raw.SQLITE_DONE)
        {
            // What was there may be what is damaged: it is kept as it is.
            Make(data, before, isChecked: false);
        }

        state = state == raw.SQLITE_OK ? raw.sqlite3_backup_step(pages, -1) : state;
        if (state != raw.SQLITE_DONE)
        {
            throw new StoreException(state == raw.SQLITE_BUSY ? $"The data in {data} is being written all the time. Nothing was changed; try again." : $"The data in {data} can't be written: {raw.sqlite3_errstr(state).utf8_to_string()}. Nothing was changed.");
        }
    }

    private static string FreeName(string data, DateTime now)
    {
        for (int more = 1; ; more++)
        {
            string name = Path.Combine(data, FormattableString.Invariant($"before-restore-{now:yyyy-MM-dd-HHmmss}{(more == 1 ? "" : $"-{more}")}.zip"));
            if (!File.Exists(name))
            {
                return name;
            }
        }
    }

    private static ZipArchive OpenArchive(string file)
    {
        try
        {
            return ZipFile.OpenRead(file);
        }
        catch (Exception e) when (e is InvalidDataException or IOException or UnauthorizedAccessException)
        {
            throw File.Exists(file) ? NoBackup(file) : new StoreException($"There is no file {file}.");
        }
    }

    private static SqliteConnection Open(string file, SqliteOpenMode mode)
    {
        var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = file, Mode = mode, Pooling = false, DefaultTimeout = (int)s_patience.TotalSeconds }.ToString());
        connection.Open();
        return connection;
    }

    private static StoreException NoBackup(string file) => new($"{file} isn't a whole backup of Young Folio. Nothing was changed.");
}
