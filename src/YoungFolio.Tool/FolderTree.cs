using System.Collections.Concurrent;
using YoungFolio.Markup;

namespace YoungFolio.Tool;

/// <summary>
/// A folder on disk as a manuscript. A file is read when it is asked for, so that a letter in a folder of everything costs no more than
/// a letter. What can't be read is named and passed over: a socket or a pipe, a file without rights, or one that is larger than a file may be.
/// </summary>
public sealed class FolderTree : IFileTree
{
    /// <summary>How many files are known by name without being asked for, those at the top first.</summary>
    public const int MostNamed = 2000;

    private const long LargestFile = 64 * 1024 * 1024;

    // Folders that lead elsewhere could lead back here; hidden ones belong to other programs.
    private static readonly EnumerationOptions s_visible = new() { AttributesToSkip = FileAttributes.Hidden | FileAttributes.System, IgnoreInaccessible = true };

    private static readonly TimeSpan s_patience = TimeSpan.FromSeconds(2);

    private readonly string _root;
    private readonly Action<string> _passedOver;
    private readonly ConcurrentDictionary<string, Lazy<ManuscriptFile?>> _read = new(StringComparer.Ordinal);

    /// <summary>Looks what there is.</summary>
    /// <param name="root">The folder.</param>
    /// <param name="passedOver">Told of each file that was asked for and can't be read: a sentence.</param>
    public FolderTree(string root, Action<string> passedOver)
    {
        _root = Path.GetFullPath(root);
        _passedOver = passedOver;
        Paths = Named();
    }

    /// <inheritdoc/>
    public IReadOnlyList<string> Paths { get; }

    /// <inheritdoc/>
    public bool IsManuscriptAlone => false;

    /// <inheritdoc/>
    public ManuscriptFile? Find(string path) => _read.GetOrAdd(path, p => new Lazy<ManuscriptFile?>(() => Read(p))).Value;

    private List<string> Named()
    {
        var result = new List<string>();
        var folders = new Queue<DirectoryInfo>([new DirectoryInfo(_root)]);
        while (result.Count < MostNamed && folders.TryDequeue(out DirectoryInfo? folder))
        {
            foreach (FileSystemInfo found in folder.EnumerateFileSystemInfos("*", s_visible).OrderBy(f => f.Name, StringComparer.Ordinal))
            {
                if (found is DirectoryInfo { LinkTarget: null } inner)
                {
                    folders.Enqueue(inner);
                }
                else if (found is FileInfo && result.Count < MostNamed)
                {
                    result.Add(Path.GetRelativePath(_root, found.FullName).Replace('\\', '/'));
                }
            }
        }

        result.Sort(StringComparer.Ordinal);
        return result;
    }

    private ManuscriptFile? Read(string path)
    {
        string file = Path.GetFullPath(Path.Combine(_root, path));
        if (path.Length == 0 || path.Split('/').Any(s => s.StartsWith('.')) || !file.StartsWith(_root, StringComparison.Ordinal) || !File.Exists(file))
        {
            return null;
        }

        try
        {
            var info = new FileInfo(file);
            if (info.ResolveLinkTarget(returnFinalTarget: true) is FileInfo target)
            {
                info = target;
            }

            if (info.Length > LargestFile)
            {
                _passedOver($"{path} was passed over: it is larger than 64 MB.");
                return null;
            }

            // A pipe has no length, and would be waited for without end.
            Task<byte[]> reading = Task.Run(() => File.ReadAllBytes(file));
            if (info.Length > 0 || reading.Wait(s_patience))
            {
                return new ManuscriptFile(path, reading.GetAwaiter().GetResult());
            }

            _passedOver($"{path} was passed over: it isn't a plain file.");
            return null;
        }
        catch (AggregateException e) when (e.InnerException is IOException or UnauthorizedAccessException)
        {
            _passedOver($"{path} was passed over: it can't be read ({e.InnerException!.Message}).");
            return null;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            _passedOver($"{path} was passed over: it can't be read ({e.Message}).");
            return null;
        }
    }
}
