using System.Security.Cryptography;
using YoungFolio.Cowriting;

namespace YoungFolio.Storage;

/// <summary>A file's content on its way in: read, checked and digested before it takes a turn in the queue of writes.</summary>
public sealed class IncomingFile
{
    private IncomingFile(string path, string? text, byte[] bytes, string? hash)
    {
        Path = path;
        Text = text;
        Bytes = bytes;
        Hash = hash;
    }

    /// <summary>The path in its normal form.</summary>
    public string Path { get; }

    /// <summary>The text; null when the file isn't text.</summary>
    public string? Text { get; }

    /// <summary>The bytes as they came.</summary>
    public byte[] Bytes { get; }

    /// <summary>Digest of the bytes; null for text.</summary>
    public string? Hash { get; }

    /// <summary>The content in the database, when it was brought in ahead of the file.</summary>
    internal ContentStore.Brought? Brought { get; set; }

    /// <summary>How much it takes, in bytes.</summary>
    public long Size => Bytes.LongLength;

    /// <summary>Reads and checks content.</summary>
    /// <exception cref="StoreException">The path is wrong, or the content not what the name says or too large.</exception>
    public static IncomingFile Read(string path, byte[] bytes)
    {
        path = FilePath.Check(path);
        if (bytes.Length > FileStore.LargestUpload)
        {
            throw new StoreException("A file holds at most 50 MB.");
        }

        if (FilePath.IsText(path))
        {
            string text = FileContent.Decode(path, bytes);
            return text.Length > Authority.LargestText
                ? throw new StoreException("A text file holds at most 16 million characters.")
                : new IncomingFile(path, text, bytes, null);
        }

        FileContent.Check(path, bytes);
        return new IncomingFile(path, null, bytes, Convert.ToHexString(SHA256.HashData(bytes)));
    }

    /// <summary>Groups files so that storing each group is short.</summary>
    public static IEnumerable<IReadOnlyList<IncomingFile>> Slices(IEnumerable<IncomingFile> files)
    {
        const int MostFiles = 50;
        const long MostBytes = 2 * 1024 * 1024;
        var slice = new List<IncomingFile>();
        long size = 0;
        foreach (IncomingFile file in files)
        {
            bool isLarge = file.Size > ContentStore.LargestPiece;
            if (slice.Count > 0 && (isLarge || size > ContentStore.LargestPiece || slice.Count == MostFiles || size + file.Size > MostBytes))
            {
                yield return slice;
                slice = [];
                size = 0;
            }

            slice.Add(file);
            size += file.Size;
        }

        if (slice.Count > 0)
        {
            yield return slice;
        }
    }

    /// <summary>Why a path can't stand beside others; null when it can.</summary>
    /// <remarks>Capitals make no difference, and a file can't be a folder too: some systems couldn't unpack the manuscript.</remarks>
    public static string? Clash(IEnumerable<string> paths, string path)
    {
        foreach (string other in paths)
        {
            if (string.Equals(other, path, StringComparison.OrdinalIgnoreCase))
            {
                return $"There is a file {other} already.";
            }

            if (other.StartsWith(path + "/", StringComparison.OrdinalIgnoreCase))
            {
                return $"“{path}” is a folder already, with {other} in it. A file needs another name.";
            }

            if (path.StartsWith(other + "/", StringComparison.OrdinalIgnoreCase))
            {
                return $"“{other}” is a file, so it can't be a folder too. Choose another folder.";
            }
        }

        return null;
    }
}
