using System.IO.Compression;
using System.Text;
using System.Text.RegularExpressions;
using YoungFolio.Chronicle;
using YoungFolio.Storage;

namespace YoungFolio.Server.Archives;

/// <summary>A manuscript out of a .zip, before it is stored.</summary>
/// <param name="MainFile">The file from which compiling starts.</param>
/// <param name="Kind">What it is by its class, in a word for the shelf: thesis, article, book, letter, slides.</param>
/// <param name="Files">Its files.</param>
/// <param name="Remarks">What was left out or read in another way.</param>
/// <param name="LeftOut">By-products of other tools that were left out.</param>
/// <param name="Past">Its history, when one came along, with files as they are stored; the last state isn't among it.</param>
internal sealed record IncomingManuscript(string MainFile, string Kind, IReadOnlyList<(string Path, byte[] Bytes)> Files, IReadOnlyList<string> Remarks, IReadOnlyList<string> LeftOut, IReadOnlyList<PastCommit> Past);

/// <summary>Manuscripts as .zip files, out of trust and into it: names, sizes, counts and links are checked before anything is unpacked.</summary>
internal static partial class ManuscriptZip
{
    /// <summary>The largest file that is taken, in bytes.</summary>
    public const long LargestFile = FileStore.LargestManuscript + (20L * 1024 * 1024);

    // All that a manuscript may hold, so that what was taken out comes in again, however much smaller it was packed.
    private const long LargestContent = FileStore.LargestManuscript;
    // Folders and by-products come on top of the files.
    private const int MostEntries = 5 * FileStore.MostFiles;
    private const int UnixTypeMask = 0xF000;
    private const int UnixLink = 0xA000;
    private const int MostRemarks = 20;
    private const int MostLeftOut = 200;

    // What older tools leave beside a manuscript, and systems in folders: made again, or of no use.
    private static readonly HashSet<string> s_byProducts = new(StringComparer.OrdinalIgnoreCase)
    {
        ".aux", ".log", ".toc", ".lof", ".lot", ".out", ".blg", ".bbl", ".bcf", ".nav", ".snm", ".vrb", ".idx", ".ilg", ".ind", ".run.xml", ".DS_Store",
    };

    // A history as git writes it, beside the files of a manuscript or without them.
    private const string HistoryEnding = ".fast-export";

    private static readonly DateTimeOffset s_noTime = new(1980, 1, 1, 0, 0, 0, TimeSpan.Zero);

    /// <summary>Takes what comes in into a file of its own, which goes when it is closed.</summary>
    /// <exception cref="StoreException">It is too large.</exception>
    public static async Task<FileStream> KeepAsync(Stream incoming, CancellationToken stop)
    {
        var file = new FileStream(Path.GetTempFileName(), FileMode.Open, FileAccess.ReadWrite, FileShare.None, 81920, FileOptions.DeleteOnClose | FileOptions.Asynchronous);
        await incoming.CopyToAsync(file, stop);
        file.Position = 0;
        return file;
    }

    /// <summary>Reads a .zip.</summary>
    /// <exception cref="StoreException">It isn't one, is damaged or unsafe, or holds no manuscript.</exception>
    public static IncomingManuscript Read(Stream file)
    {
        try
        {
            using var archive = new ZipArchive(file, ZipArchiveMode.Read, leaveOpen: true);
            return Read(archive);
        }
        catch (InvalidDataException)
        {
            throw new StoreException("This file isn't a whole .zip. Make it again, and import it once more.");
        }
    }

    /// <summary>Makes a .zip; the same files give the same bytes.</summary>
    public static byte[] Write(IEnumerable<(string Path, byte[] Bytes)> files)
    {
        using var result = new MemoryStream();
        using (var archive = new ZipArchive(result, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach ((string path, byte[] bytes) in files)
            {
                ZipArchiveEntry entry = archive.CreateEntry(path);
                entry.LastWriteTime = s_noTime;
                using Stream content = entry.Open();
                content.Write(bytes);
            }
        }

        return result.ToArray();
    }

    private static IncomingManuscript Read(ZipArchive archive)
    {
        if (archive.Entries.Count > MostEntries)
        {
            throw new StoreException($"This .zip holds more than {FileStore.MostFiles} files.");
        }

        var remarks = new List<string>();
        var leftOut = new List<string>();
        var files = new Dictionary<string, byte[]>(StringComparer.OrdinalIgnoreCase);
        byte[]? history = null;
        bool isGit = false;
        long left = LargestContent;
        string common = CommonFolder(archive);
        foreach (ZipArchiveEntry entry in archive.Entries.Where(e => !e.FullName.EndsWith('/')))
        {
            if (((entry.ExternalAttributes >> 16) & UnixTypeMask) == UnixLink)
            {
                throw new StoreException($"“{Shown(entry.FullName)}” in this .zip is a link to another file. Put the file itself there.");
            }

            string name = entry.FullName.Replace('\\', '/');
            if (IsByProduct(name))
            {
                bool isOfGit = $"/{name}".Contains("/.git/", StringComparison.Ordinal);
                isGit |= isOfGit;
                if (leftOut.Count < MostLeftOut && !isOfGit)
                {
                    leftOut.Add(Shown(name.StartsWith(common, StringComparison.Ordinal) ? name[common.Length..] : name));
                }

                continue;
            }

            if (name.EndsWith(HistoryEnding, StringComparison.OrdinalIgnoreCase) && history is null)
            {
                history = Unpack(entry, ref left);
                continue;
            }

            string path = FilePath.Check(name[common.Length..]);
            if (Stored(path, Unpack(entry, ref left), remarks) is not { } bytes)
            {
                continue;
            }

            if (!files.TryAdd(path, bytes))
            {
                throw new StoreException($"This .zip holds “{Shown(path)}” twice; capitals make no difference.");
            }
        }

        if (files.Count > FileStore.MostFiles)
        {
            throw new StoreException($"This .zip holds more than {FileStore.MostFiles} files.");
        }

        if (history is null && isGit)
        {
            remarks.Add("There is a history of git beside the files, which didn't come along. To bring it in, too, write it there with “git fast-export --all > history.fast-export”, and import the folder again.");
        }

        IReadOnlyList<PastCommit> past = history is null ? [] : PastOf(history, remarks, leftOut);
        if (files.Count == 0 && past.Count > 0)
        {
            files = new Dictionary<string, byte[]>(past[^1].Files, StringComparer.OrdinalIgnoreCase);
        }

        string main = FindMain(files) ?? throw new StoreException("There is no main file in this .zip: a .tex file with \\documentclass and \\begin{document}.");
        if (remarks.Count > MostRemarks)
        {
            remarks = [.. remarks.Take(MostRemarks), $"{remarks.Count - MostRemarks} more of the kind."];
        }

        return new IncomingManuscript(main, KindOf(Encoding.UTF8.GetString(files[main])), [.. files.OrderBy(p => p.Key, StringComparer.Ordinal).Select(p => (p.Key, p.Value))], remarks, leftOut, past);
    }

    // What isn't taken is remarked once, however many states of the history hold it.
    private static IReadOnlyList<PastCommit> PastOf(byte[] history, List<string> remarks, List<string> leftOut)
    {
        var taken = new Dictionary<(string Path, byte[] Content), byte[]?>();
        try
        {
            IReadOnlyList<PastCommit> past = HistoryImport.Read(history, Take);
            return past.FirstOrDefault(c => c.Files.Keys.Distinct(StringComparer.OrdinalIgnoreCase).Count() < c.Files.Count) is { } twins
                ? throw new StoreException($"Two files in the history in this .zip have the same name but for capitals, after “{Shown(twins.Message.Split('\n')[0])}” by {Shown(twins.Author)}: no place for both.")
                : past;
        }
        catch (HistoryImportException e)
        {
            throw new StoreException($"The history in this .zip can't be read. {e.Message}");
        }

        byte[]? Take(string path, byte[] content)
        {
            if (IsByProduct(path))
            {
                if (leftOut.Count < MostLeftOut && !leftOut.Contains(Shown(path)))
                {
                    leftOut.Add(Shown(path));
                }

                return null;
            }

            if (!taken.TryGetValue((path, content), out byte[]? stored))
            {
                var said = new List<string>();
                taken[(path, content)] = stored = Stored(path, content, said);
                remarks.AddRange(said.Except(remarks).ToList());
            }

            return stored;
        }
    }

    // What a file is stored as; null, with a remark, when it can't be.
    private static byte[]? Stored(string path, byte[] bytes, List<string> remarks)
    {
        try
        {
            return FilePath.Check(path) == path ? AsStored(path, bytes, remarks) : throw new StoreException($"“{Shown(path)}” has spaces or signs in its name that a file's name can't have.");
        }
        catch (StoreException e)
        {
            remarks.Add($"{e.Message} It was left out.");
            return null;
        }
    }

    // A .zip of a folder holds that folder; the manuscript is what is in it.
    private static string CommonFolder(ZipArchive archive)
    {
        List<string> paths = [.. archive.Entries.Where(e => !e.FullName.EndsWith('/')).Select(e => e.FullName.Replace('\\', '/')).Where(p => !IsByProduct(p))];
        int slash = paths.Count == 0 ? -1 : paths[0].IndexOf('/', StringComparison.Ordinal);
        string first = slash < 0 ? "" : paths[0][..(slash + 1)];
        return first.Length > 0 && paths.TrueForAll(p => p.StartsWith(first, StringComparison.Ordinal)) ? first : "";
    }

    private static bool IsByProduct(string path) =>
        path.Split('/').Any(s => s.StartsWith("__MACOSX", StringComparison.Ordinal) || (s.StartsWith('.') && s is not ("." or ".."))) || s_byProducts.Any(e => path.EndsWith(e, StringComparison.OrdinalIgnoreCase));

    // What an entry says of its size may be untrue: what comes out is counted.
    private static byte[] Unpack(ZipArchiveEntry entry, ref long left)
    {
        using Stream content = entry.Open();
        using var result = new MemoryStream();
        byte[] buffer = new byte[81920];
        int read;
        while ((read = content.Read(buffer)) > 0)
        {
            result.Write(buffer, 0, read);
            left -= read;
            if (left < 0 || result.Length > FileStore.LargestUpload)
            {
                throw new StoreException($"“{Shown(entry.FullName)}” in this .zip unpacks to more than a manuscript may hold.");
            }
        }

        return result.ToArray();
    }

    private static byte[] AsStored(string path, byte[] bytes, List<string> remarks)
    {
        if (!FilePath.IsText(path))
        {
            FileContent.Check(path, bytes);
            return bytes;
        }

        try
        {
            FileContent.Decode(path, bytes);
            return bytes;
        }
        catch (StoreException)
        {
            remarks.Add($"{path} was stored in an older way and is read as Latin-1: look at its letters with accents.");
            return Encoding.UTF8.GetBytes(FileContent.DecodeLatin1(bytes));
        }
    }

    /// <summary>What a manuscript is by the class that its main file names.</summary>
    internal static string KindOf(string main)
    {
        string name = ClassLine().Match(main).Groups[1].Value;
        return name switch
        {
            _ when name.Contains("thes", StringComparison.OrdinalIgnoreCase) || name.Contains("diss", StringComparison.OrdinalIgnoreCase) => "thesis",
            "report" or "scrreprt" => "thesis",
            _ when name.Contains("book", StringComparison.OrdinalIgnoreCase) || name == "memoir" => "book",
            _ when name.Contains("letter", StringComparison.OrdinalIgnoreCase) || name.Contains("lttr", StringComparison.OrdinalIgnoreCase) => "letter",
            "beamer" => "slides",
            _ => "article",
        };
    }

    private static string? FindMain(Dictionary<string, byte[]> files) =>
        files.Where(p => p.Key.EndsWith(".tex", StringComparison.OrdinalIgnoreCase) && IsMain(Encoding.UTF8.GetString(p.Value)))
            .Select(p => p.Key)
            .OrderBy(p => Path.GetFileName(p).Equals("main.tex", StringComparison.OrdinalIgnoreCase) ? 0 : 1)
            .ThenBy(p => p.Count(c => c == '/')).ThenByDescending(p => files[p].Length).ThenBy(p => p, StringComparer.Ordinal).FirstOrDefault();

    // A file of the kind that can be compiled alone has a class of its own (subfiles, standalone) and isn't where the whole begins.
    private static bool IsMain(string text) =>
        ClassLine().Match(text) is { Success: true } found && found.Groups[1].Value is not ("subfiles" or "standalone") && text.Contains("\\begin{document}", StringComparison.Ordinal);

    [GeneratedRegex(@"^[^%\n]*\\documentclass\s*(?:\[[^\]]*\])?\s*\{\s*([^}\s]*)\s*\}", RegexOptions.Multiline)]
    private static partial Regex ClassLine();

    private static string Shown(string path) => string.Concat(path.Where(c => !char.IsControl(c)).Take(60));
}
