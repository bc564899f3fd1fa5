using System.Text;

namespace YoungFolio.Markup;

/// <summary>One file of a manuscript, as the compiler sees it. Immutable.</summary>
public sealed class ManuscriptFile
{
    private readonly Lazy<(string Text, int BadByte)> _decoded;

    /// <summary>Creates a file from its bytes.</summary>
    /// <param name="path">Path inside the manuscript, with forward slashes: <c>chapters/growth.tex</c>.</param>
    /// <param name="bytes">The content as stored.</param>
    public ManuscriptFile(string path, ReadOnlyMemory<byte> bytes)
    {
        Path = path;
        Bytes = bytes;
        _decoded = new(Decode);
    }

    /// <summary>Creates a text file.</summary>
    public static ManuscriptFile FromText(string path, string text) => new(path, Encoding.UTF8.GetBytes(text));

    /// <summary>Path inside the manuscript, with forward slashes.</summary>
    public string Path { get; }

    /// <summary>The stored content.</summary>
    public ReadOnlyMemory<byte> Bytes { get; }

    /// <summary>The content as text: UTF-8, or Latin-1 where the bytes are not valid UTF-8.</summary>
    public string Text => _decoded.Value.Text;

    /// <summary>Index in <see cref="Text"/> of the first byte that is not valid UTF-8; −1 when all are.</summary>
    public int FirstUnreadable => _decoded.Value.BadByte;

    private readonly Dictionary<string, TokenIndex> _indexes = new(StringComparer.Ordinal);

    /// <summary>How often its text was turned into tokens: once for each set of category codes that it is read by.</summary>
    public int Readings { get; private set; }

    /// <summary>The tokens by a set of category codes; made when first asked for. Safe for several compiles at a time.</summary>
    internal TokenIndex Index(string categories, Func<TokenIndex> read)
    {
        lock (_indexes)
        {
            if (!_indexes.TryGetValue(categories, out TokenIndex? index))
            {
                if (_indexes.Count > 8)
                {
                    _indexes.Clear();
                }

                _indexes[categories] = index = read();
                Readings++;
            }

            return index;
        }
    }

    private readonly Dictionary<string, object> _derived = new(StringComparer.Ordinal);

    /// <summary>
    /// What is worked out from the file alone, such as the entries of a .bib file: made when first asked for, and kept with it. Safe for
    /// several compiles at a time.
    /// </summary>
    /// <param name="name">What it is.</param>
    /// <param name="make">Makes it.</param>
    public T Derived<T>(string name, Func<ManuscriptFile, T> make)
        where T : class
    {
        lock (_derived)
        {
            if (!_derived.TryGetValue(name, out object? known))
            {
                _derived[name] = known = make(this);
            }

            return (T)known;
        }
    }

    private (string, int) Decode()
    {
        ReadOnlySpan<byte> bytes = Bytes.Span;
        if (bytes.StartsWith("\uFEFF"u8))
        {
            bytes = bytes[3..];
        }

        try
        {
            return (new UTF8Encoding(false, true).GetString(bytes), -1);
        }
        catch (DecoderFallbackException e)
        {
            // Latin-1 maps each byte to one character, so the byte's index is the character's.
            return (Encoding.Latin1.GetString(bytes), Math.Clamp(e.Index, 0, Math.Max(0, bytes.Length - 1)));
        }
    }
}

/// <summary>A snapshot of a manuscript's files: the only files that the core ever reads.</summary>
public interface IFileTree
{
    /// <summary>All paths, in a fixed order.</summary>
    IReadOnlyList<string> Paths { get; }

    /// <summary>The file at exactly this path, or null.</summary>
    ManuscriptFile? Find(string path);

    /// <summary>Whether all of the files are the manuscript's. A folder may hold anything beside it.</summary>
    bool IsManuscriptAlone { get; }
}

/// <summary>A file tree held in memory.</summary>
public sealed class FileTree : IFileTree
{
    private readonly SortedDictionary<string, ManuscriptFile> _files = new(StringComparer.Ordinal);
    private readonly string[] _paths;

    /// <summary>Takes the files; a later file replaces an earlier one of the same path.</summary>
    public FileTree(IEnumerable<ManuscriptFile> files)
    {
        foreach (ManuscriptFile file in files)
        {
            _files[file.Path] = file;
        }

        _paths = [.. _files.Keys];
    }

    /// <inheritdoc/>
    public IReadOnlyList<string> Paths => _paths;

    /// <inheritdoc/>
    public bool IsManuscriptAlone => true;

    /// <inheritdoc/>
    public ManuscriptFile? Find(string path) => _files.GetValueOrDefault(path);
}

/// <summary>A manuscript's files with those that its text writes while it is read.</summary>
/// <param name="stored">The files that are stored.</param>
public sealed class WrittenFiles(IFileTree stored) : IFileTree
{
    private readonly Dictionary<string, ManuscriptFile> _written = new(StringComparer.Ordinal);

    /// <summary>The stored paths: what is written is part of the file that writes it.</summary>
    public IReadOnlyList<string> Paths => stored.Paths;

    /// <inheritdoc/>
    public bool IsManuscriptAlone => stored.IsManuscriptAlone;

    /// <inheritdoc/>
    public ManuscriptFile? Find(string path) => _written.GetValueOrDefault(path) ?? stored.Find(path);

    /// <summary>Writes a file; one that is stored stays as it is unless it is to be replaced.</summary>
    public void Write(string path, string text, bool replaces)
    {
        if (replaces || Find(path) is null)
        {
            _written[path] = ManuscriptFile.FromText(path, text);
        }
    }
}

/// <summary>Where something stands in the source, as people count: lines and columns from 1.</summary>
public readonly record struct SourceLocation(string File, int Line, int Column);

/// <summary>
/// Gives every character of every file that was read one integer, its <em>position</em>, so that a token
/// carries its place in four bytes. A position is the file's base plus the character's offset in it.
/// </summary>
public sealed class PositionTable
{
    /// <summary>The position of things that no file wrote (built-in definitions).</summary>
    public const int None = -1;

    private readonly List<(int Base, ManuscriptFile File, int[] LineStarts)> _files = [];
    private int _next;

    /// <summary>Registers a file and returns its base. A file read twice keeps its first base.</summary>
    public int Register(ManuscriptFile file)
    {
        foreach ((int known, ManuscriptFile other, _) in _files)
        {
            if (ReferenceEquals(other, file))
            {
                return known;
            }
        }

        var starts = new List<int> { 0 };
        string text = file.Text;
        for (int i = text.IndexOf('\n'); i >= 0; i = text.IndexOf('\n', i + 1))
        {
            starts.Add(i + 1);
        }

        int at = _next;
        _files.Add((at, file, [.. starts]));
        _next += text.Length + 1;
        return at;
    }

    /// <summary>The files that were read, each with its first position.</summary>
    public IEnumerable<(int First, ManuscriptFile File)> Files => _files.Select(f => (f.Base, f.File));

    /// <summary>The file and the character offset of a position; null for <see cref="None"/>.</summary>
    public (ManuscriptFile File, int Offset)? Resolve(int position)
    {
        int i = IndexOf(position);
        return i < 0 ? null : (_files[i].File, position - _files[i].Base);
    }

    /// <summary>The first and the last position of the file that a position is in; an empty range for <see cref="None"/>.</summary>
    public (int First, int Last) RangeOf(int position) =>
        IndexOf(position) is >= 0 and var i ? (_files[i].Base, _files[i].Base + _files[i].File.Text.Length) : (0, None);

    /// <summary>The place of a position in lines and columns; null for <see cref="None"/>.</summary>
    public SourceLocation? Locate(int position)
    {
        int i = IndexOf(position);
        if (i < 0)
        {
            return null;
        }

        (int start, ManuscriptFile file, int[] lines) = _files[i];
        int offset = position - start;
        int line = Array.BinarySearch(lines, offset);
        line = line < 0 ? ~line - 1 : line;
        return new SourceLocation(file.Path, line + 1, offset - lines[line] + 1);
    }

    /// <summary>The position of a place; <see cref="None"/> if the file was not read or has no such line.</summary>
    public int PositionOf(string path, int line, int column)
    {
        foreach ((int start, ManuscriptFile file, int[] lines) in _files)
        {
            if (file.Path == path && line >= 1 && line <= lines.Length)
            {
                int end = line < lines.Length ? lines[line] - 1 : file.Text.Length;
                return start + Math.Clamp(lines[line - 1] + column - 1, lines[line - 1], Math.Max(lines[line - 1], end));
            }
        }

        return None;
    }

    private int IndexOf(int position)
    {
        if (position < 0 || _files.Count == 0)
        {
            return -1;
        }

        int low = 0;
        int high = _files.Count - 1;
        while (low < high)
        {
            int middle = (low + high + 1) / 2;
            if (_files[middle].Base <= position)
            {
                low = middle;
            }
            else
            {
                high = middle - 1;
            }
        }

        return low;
    }
}
