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
        catch (UnauthorizedAccessException)
        {
            throw new StoreException($"The data folder {folder} can't be written to. Give whoever runs the server the right to write there, or take another folder with --data.");
        }
        catch (IOException e) when (Directory.Exists(folder) && e is not (DirectoryNotFoundException or PathTooLongException))
        {
            throw new StoreException($"The data folder {folder} is in use: another server runs on it. Stop that one, or take another folder with --data.");
        }
        catch (IOException e)
        {
            throw new StoreException($"The data folder {folder} can't be made: {e.Message} Take another one with --data.");
        }
    }

    /// <inheritdoc/>
    public void Dispose() => _lock.Dispose();
}
