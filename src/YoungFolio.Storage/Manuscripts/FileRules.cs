using Microsoft.EntityFrameworkCore;

namespace YoungFolio.Storage;

/// <summary>What holds for the files of a manuscript together.</summary>
internal static class FileRules
{
    /// <summary>The file of this number.</summary>
    /// <exception cref="StoreException">There is none.</exception>
    public static async Task<FileEntity> FileAsync(FolioDatabase database, int manuscriptId, int fileId) =>
        await database.Files.FindAsync(fileId) is { IsDeleted: false } file && file.ManuscriptId == manuscriptId
            ? file
            : throw new StoreException("This file isn't there any more.");

    /// <summary>The text of this number.</summary>
    /// <exception cref="StoreException">There is none, or it isn't text.</exception>
    public static async Task<FileEntity> TextFileAsync(FolioDatabase database, int manuscriptId, int fileId)
    {
        FileEntity file = await FileAsync(database, manuscriptId, fileId);
        return file.IsText ? file : throw new StoreException("This file isn't text.");
    }

    /// <summary>The file of a name; null when there is none. Two names that differ in capitals only can't both leave for a system that doesn't tell them apart.</summary>
    public static async Task<FileEntity?> FindAsync(FolioDatabase database, int manuscriptId, string path)
    {
        var names = await database.Files.AsNoTracking().Where(p => p.ManuscriptId == manuscriptId && !p.IsDeleted).Select(p => new { p.Id, p.Path }).ToListAsync();
        return names.Find(p => string.Equals(p.Path, path, StringComparison.OrdinalIgnoreCase)) is { } found ? await database.Files.FindAsync(found.Id) : null;
    }

    /// <summary>Looks whether a name is free.</summary>
    /// <exception cref="StoreException">It isn't.</exception>
    public static async Task CheckFreeAsync(FolioDatabase database, int manuscriptId, string path, int except)
    {
        List<string> others = await database.Files.AsNoTracking().Where(p => p.ManuscriptId == manuscriptId && !p.IsDeleted && p.Id != except).Select(p => p.Path).ToListAsync();
        if (IncomingFile.Clash(others, path) is { } why)
        {
            throw new StoreException(why);
        }
    }

    /// <summary>Looks whether so many more files have room.</summary>
    /// <exception cref="StoreException">They haven't.</exception>
    public static async Task CheckCountAsync(FolioDatabase database, int manuscriptId, int more)
    {
        if (await database.Files.CountAsync(p => p.ManuscriptId == manuscriptId && !p.IsDeleted) + more > FileStore.MostFiles)
        {
            throw new StoreException($"A manuscript holds at most {FileStore.MostFiles} files.");
        }
    }

    /// <summary>Looks whether so many more bytes have room.</summary>
    /// <exception cref="StoreException">They haven't.</exception>
    public static async Task CheckContentAsync(FolioDatabase database, int manuscriptId, int except, long more)
    {
        if (more > 0 && await database.Files.Where(p => p.ManuscriptId == manuscriptId && !p.IsDeleted && p.Id != except).SumAsync(p => (long)p.Size) + more > FileStore.LargestManuscript)
        {
            throw new StoreException("A manuscript's files take at most 500 MB together. Delete some, or make them smaller.");
        }
    }

    /// <summary>Reads files that come together, which must fit together, before anything is stored.</summary>
    /// <exception cref="StoreException">They don't, or one of them can't be stored.</exception>
    public static List<IncomingFile> CheckTogether(IReadOnlyList<(string Path, byte[] Bytes)> files)
    {
        if (files.Count > FileStore.MostFiles)
        {
            throw new StoreException($"A manuscript holds at most {FileStore.MostFiles} files.");
        }

        var incoming = new List<IncomingFile>();
        var names = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        var folders = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach ((string path, byte[] bytes) in files)
        {
            IncomingFile one = IncomingFile.Read(path, bytes);
            incoming.Add(one);
            names.Add(one.Path);
            for (int slash = one.Path.LastIndexOf('/'); slash > 0; slash = one.Path.LastIndexOf('/', slash - 1))
            {
                folders.Add(one.Path[..slash]);
            }
        }

        if (names.Count < incoming.Count)
        {
            throw new StoreException($"Two files have one name: {incoming.GroupBy(f => f.Path, StringComparer.OrdinalIgnoreCase).First(g => g.Count() > 1).Key}. Capitals make no difference.");
        }

        if (names.FirstOrDefault(folders.Contains) is { } both)
        {
            throw new StoreException($"“{both}” is a file and a folder at once. Rename one of them.");
        }

        return incoming.Sum(f => f.Size) > FileStore.LargestManuscript ? throw new StoreException("A manuscript's files take at most 500 MB together. Make some smaller.") : incoming;
    }
}
