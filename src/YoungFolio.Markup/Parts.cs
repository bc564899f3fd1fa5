using System.Text;

namespace YoungFolio.Markup;

/// <summary>One file of a manuscript, as the compiler sees it. Immutable.</summary>
public sealed class Part
{
    private readonly Lazy<(string Text, int BadByte)> _decoded;

    /// <summary>Creates a part from its bytes.</summary>
    /// <param name="path">Path inside the manuscript, with forward slashes: <c>chapters/growth.tex</c>.</param>
    /// <param name="bytes">The content as stored.</param>
    public Part(string path, ReadOnlyMemory<byte> bytes)
    {
        Path = path;
        Bytes = bytes;
        _decoded = new(Decode);
    }

    /// <summary>Creates a text part.</summary>
    public static Part FromText(string path, string text) => new(path, Encoding.UTF8.GetBytes(text));

    /// <summary>Path inside the manuscript, with forward slashes.</summary>
    public string Path { get; }

    /// <summary>The stored content.</summary>
    public ReadOnlyMemory<byte> Bytes { get; }

    /// <summary>The content as text: UTF-8, or Latin-1 where the bytes are not valid UTF-8.</summary>
    public string Text => _decoded.Value.Text;

    /// <summary>Index in <see cref="Text"/> of the first byte that is not valid UTF-8; −1 when all are.</summary>
    public int FirstUnreadable => _decoded.Value.BadByte;

    private readonly Dictionary<string, PartIndex> _indexes = new(StringComparer.Ordinal);

    /// <summary>How often its text was turned into tokens: once for each set of category codes that it is read by.</summary>
    public int Readings { get; private set; }

    /// <summary>The tokens by a set of category codes; made when first asked for. Safe for several compiles at a time.</summary>
    internal PartIndex Index(string categories, Func<PartIndex> read)
    {
        lock (_indexes)
        {
            if (!_indexes.TryGetValue(categories, out PartIndex? index))
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
    /// What is worked out from the part alone, such as the entries of a .bib part: made when first asked for, and kept with it. Safe for
    /// several compiles at a time.
    /// </summary>
    /// <param name="name">What it is.</param>
    /// <param name="make">Makes it.</param>
    public T Derived<T>(string name, Func<Part, T> make)
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

/// <summary>A snapshot of a manuscript's parts: the only files that the core ever reads.</summary>
public interface IPartTree
{
    /// <summary>All paths, in a fixed order.</summary>
    IReadOnlyList<string> Paths { get; }

    /// <summary>The part at exactly this path, or null.</summary>
    Part? Find(string path);
}

/// <summary>A part tree held in memory.</summary>
public sealed class PartTree : IPartTree
{
    private readonly SortedDictionary<string, Part> _parts = new(StringComparer.Ordinal);
    private readonly string[] _paths;

    /// <summary>Takes the parts; a later part replaces an earlier one of the same path.</summary>
    public PartTree(IEnumerable<Part> parts)
    {
        foreach (Part part in parts)
        {
            _parts[part.Path] = part;
        }

        _paths = [.. _parts.Keys];
    }

    /// <inheritdoc/>
    public IReadOnlyList<string> Paths => _paths;

    /// <inheritdoc/>
    public Part? Find(string path) => _parts.GetValueOrDefault(path);
}

/// <summary>Where something stands in the source, as people count: lines and columns from 1.</summary>
public readonly record struct SourceLocation(string Part, int Line, int Column);

/// <summary>
/// Gives every character of every part that was read one integer, its <em>position</em>, so that a token
/// carries its place in four bytes. A position is the part's base plus the character's offset in it.
/// </summary>
public sealed class PositionTable
{
    /// <summary>The position of things that no part wrote (built-in definitions).</summary>
    public const int None = -1;

    private readonly List<(int Base, Part Part, int[] LineStarts)> _parts = [];
    private int _next;

    /// <summary>Registers a part and returns its base. A part read twice keeps its first base.</summary>
    public int Register(Part part)
    {
        foreach ((int known, Part other, _) in _parts)
        {
            if (ReferenceEquals(other, part))
            {
                return known;
            }
        }

        var starts = new List<int> { 0 };
        string text = part.Text;
        for (int i = text.IndexOf('\n'); i >= 0; i = text.IndexOf('\n', i + 1))
        {
            starts.Add(i + 1);
        }

        int at = _next;
        _parts.Add((at, part, [.. starts]));
        _next += text.Length + 1;
        return at;
    }

    /// <summary>The part and the character offset of a position; null for <see cref="None"/>.</summary>
    public (Part Part, int Offset)? Resolve(int position)
    {
        int i = IndexOf(position);
        return i < 0 ? null : (_parts[i].Part, position - _parts[i].Base);
    }

    /// <summary>The place of a position in lines and columns; null for <see cref="None"/>.</summary>
    public SourceLocation? Locate(int position)
    {
        int i = IndexOf(position);
        if (i < 0)
        {
            return null;
        }

        (int start, Part part, int[] lines) = _parts[i];
        int offset = position - start;
        int line = Array.BinarySearch(lines, offset);
        line = line < 0 ? ~line - 1 : line;
        return new SourceLocation(part.Path, line + 1, offset - lines[line] + 1);
    }

    /// <summary>The position of a place; <see cref="None"/> if the part was not read or has no such line.</summary>
    public int PositionOf(string path, int line, int column)
    {
        foreach ((int start, Part part, int[] lines) in _parts)
        {
            if (part.Path == path && line >= 1 && line <= lines.Length)
            {
                int end = line < lines.Length ? lines[line] - 1 : part.Text.Length;
                return start + Math.Clamp(lines[line - 1] + column - 1, lines[line - 1], Math.Max(lines[line - 1], end));
            }
        }

        return None;
    }

    private int IndexOf(int position)
    {
        if (position < 0 || _parts.Count == 0)
        {
            return -1;
        }

        int low = 0;
        int high = _parts.Count - 1;
        while (low < high)
        {
            int middle = (low + high + 1) / 2;
            if (_parts[middle].Base <= position)
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
