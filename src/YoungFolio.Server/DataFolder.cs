using YoungFolio.Storage;

namespace YoungFolio.Server;

/// <summary>The data folder, held by one running server.</summary>
public sealed class DataFolder : IDisposable
{
    private readonly FileStream _lock;

    private DataFolder(FileStream held) => _lock = held;

    /// <summary>Takes a folder for this server; it is made if need be.</summary>
    /// <exception cref="StoreException">Another server has it, or it can't be written to.</exception>
    public static DataFolder Take(string folder)
    {
        try
        {
            Directory.CreateDirectory(folder);
            return new DataFolder(new FileStream(Path.Combine(folder, "in-use"), FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None));
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new StoreException($"The data folder {folder} can't be used: another server runs on it, or it can't be written to.");
        }
    }

    /// <inheritdoc/>
    public void Dispose() => _lock.Dispose();
}
