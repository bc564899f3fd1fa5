using System.Collections.Immutable;
using System.Globalization;
using System.Text;

namespace YoungFolio.Chronicle;

/// <summary>Says why a history can't be read, in words for people.</summary>
public sealed class HistoryImportException(string message) : Exception(message);

/// <summary>A state of a manuscript in a history from elsewhere.</summary>
/// <param name="Author">Who wrote it.</param>
/// <param name="At">When, in UTC.</param>
/// <param name="Message">What was said of it.</param>
/// <param name="Files">All its files.</param>
public sealed record PastCommit(string Author, DateTime At, string Message, ImmutableSortedDictionary<string, byte[]> Files);

/// <summary>
/// Reads a history out of a stream as <c>git fast-export</c> writes it (the manual page of <c>git fast-import</c> gives the format): the
/// commits of the main line, from the first to the last. Links, submodules and notes are passed over.
/// </summary>
public sealed class HistoryImport
{
    /// <summary>The most commits that are read.</summary>
    public const int MostCommits = 10_000;

    /// <summary>The most changes of files in all commits together: each is stored for itself.</summary>
    public const int MostChanges = 50_000;

    /// <summary>The most files that all commits have together, each counted in every state.</summary>
    public const int MostStates = 5_000_000;

    private static readonly ImmutableSortedDictionary<string, byte[]> s_nothing = ImmutableSortedDictionary.Create<string, byte[]>(StringComparer.Ordinal);
    private static readonly string[] s_mainLines = ["refs/heads/main", "refs/heads/master", "refs/heads/trunk"];

    private readonly byte[] _bytes;
    private readonly Dictionary<string, byte[]> _contents = new(StringComparer.Ordinal);
    private readonly Dictionary<string, Node> _byMark = new(StringComparer.Ordinal);
    private readonly Dictionary<string, Node> _tips = new(StringComparer.Ordinal);
    private Node? _last;
    private int _commits;
    private int _changes;
    private long _states;
    private int _at;

    private readonly Func<string, byte[], byte[]?> _take;

    private HistoryImport(byte[] bytes, Func<string, byte[], byte[]?> take) => (_bytes, _take) = (bytes, take);

    private sealed record Node(PastCommit Commit, Node? Parent);

    /// <summary>Reads a stream.</summary>
    /// <param name="bytes">All of it.</param>
    /// <param name="take">What a file of a path is taken as; null: it isn't. Without it all are taken as they are.</param>
    /// <exception cref="HistoryImportException">It isn't such a stream, is cut off, holds no commit or too many.</exception>
    public static IReadOnlyList<PastCommit> Read(byte[] bytes, Func<string, byte[], byte[]?>? take = null)
    {
        ArgumentNullException.ThrowIfNull(bytes);
        return new HistoryImport(bytes, take ?? (static (_, content) => content)).Read();
    }

    private List<PastCommit> Read()
    {
        while (NextLine() is { } line)
        {
            (string command, string rest) = Split(line);
            switch (command)
            {
                case "blob":
                    string mark = Mark();
                    byte[] content = Data();
                    if (mark.Length > 0)
                    {
                        _contents[mark] = content;
                    }

                    break;
                case "commit":
                    Commit(rest);
                    break;
                case "reset":
                    if (Peek() is { } from && from.StartsWith("from ", StringComparison.Ordinal))
                    {
                        NextLine();
                        Set(rest, Find(from[5..]));
                    }

                    break;
                case "tag":
                    SkipHead();
                    Data();
                    break;
                case "" or "feature" or "option" or "progress" or "checkpoint" or "done" or "alias" or "mark" or "to" or "original-oid":
                    break;
                default:
                    throw new HistoryImportException("This isn't a history as “git fast-export” writes it.");
            }
        }

        Node? tip = s_mainLines.Select(r => _tips.GetValueOrDefault(r)).FirstOrDefault(n => n is not null) ?? _last;
        var commits = new List<PastCommit>();
        for (Node? node = tip; node is not null; node = node.Parent)
        {
            commits.Add(node.Commit);
        }

        commits.Reverse();
        return commits.Count > 0 ? commits : throw new HistoryImportException("There is no commit in this history.");
    }

    private void Commit(string branch)
    {
        if (++_commits > MostCommits)
        {
            throw new HistoryImportException($"This history has more than {MostCommits:N0} commits.");
        }

        string mark = Mark();
        (string name, DateTime at) = ("", default);
        bool isWritten = false;
        while (Peek() is { } head && !head.StartsWith("data ", StringComparison.Ordinal))
        {
            NextLine();
            if (head.StartsWith("author ", StringComparison.Ordinal) || (!isWritten && head.StartsWith("committer ", StringComparison.Ordinal)))
            {
                isWritten = head[0] == 'a';
                (name, at) = Writer(head[(head.IndexOf(' ', StringComparison.Ordinal) + 1)..]);
            }
            else if (head.StartsWith("gpgsig ", StringComparison.Ordinal))
            {
                Data();
            }
            else if (Split(head).Command is not ("committer" or "encoding" or "original-oid"))
            {
                throw Cut();
            }
        }

        string message = Encoding.UTF8.GetString(Data()).Trim();
        Node? parent = _tips.GetValueOrDefault(branch);
        if (Peek() is { } from && from.StartsWith("from ", StringComparison.Ordinal))
        {
            NextLine();
            parent = Find(from[5..]);
        }

        while (Peek() is { } merge && merge.StartsWith("merge ", StringComparison.Ordinal))
        {
            // What came in from there is among the changes.
            NextLine();
        }

        var node = new Node(new PastCommit(name, at, message, Changed(parent?.Commit.Files ?? s_nothing)), parent);
        if ((_states += node.Commit.Files.Count) > MostStates)
        {
            throw TooLarge();
        }

        Set(branch, node);
        _last = node;
        if (mark.Length > 0)
        {
            _byMark[mark] = node;
        }
    }

    private ImmutableSortedDictionary<string, byte[]> Changed(ImmutableSortedDictionary<string, byte[]> files)
    {
        while (Peek() is { Length: > 0 } line)
        {
            if (++_changes > MostChanges)
            {
                throw TooLarge();
            }

            (string what, string rest) = Split(line);
            switch (what)
            {
                case "M":
                    NextLine();
                    string[] parts = rest.Split(' ', 3);
                    if (parts.Length < 3)
                    {
                        throw Cut();
                    }

                    byte[]? content = parts[1] == "inline" ? Data() : _contents.GetValueOrDefault(parts[1]);
                    bool isFile = parts[0] is "100644" or "644" or "100755" or "755";
                    if (isFile)
                    {
                        files = With(files, PathOf(parts[2], out _), content ?? throw new HistoryImportException("This history doesn't hold the contents of its files. Write it without “--no-data”."));
                    }

                    break;
                case "D":
                    NextLine();
                    files = Without(files, PathOf(rest, out _));
                    break;
                case "C" or "R":
                    NextLine();
                    string old = PathOf(rest, out int end, isFirst: true);
                    files = Moved(files, old, PathOf(rest[Math.Min(rest.Length, end + 1)..], out _), what == "C");
                    break;
                case "deleteall":
                    NextLine();
                    files = s_nothing;
                    break;
                case "N":
                    NextLine();
                    if (rest.StartsWith("inline ", StringComparison.Ordinal))
                    {
                        Data();
                    }

                    break;
                default:
                    return files;
            }
        }

        return files;
    }

    // A path may be a folder's.
    private static ImmutableSortedDictionary<string, byte[]> Without(ImmutableSortedDictionary<string, byte[]> files, string path)
    {
        ImmutableSortedDictionary<string, byte[]> left = files.Remove(path);
        return left.Count < files.Count ? left : path.Length == 0 ? s_nothing : files.RemoveRange(files.Keys.Where(k => k.StartsWith(path + "/", StringComparison.Ordinal)).ToList());
    }

    // States share what they have in common, so what isn't taken is left out here and not afterwards.
    private ImmutableSortedDictionary<string, byte[]> With(ImmutableSortedDictionary<string, byte[]> files, string path, byte[] content) =>
        _take(path, content) is { } taken ? files.SetItem(path, taken) : files.Remove(path);

    private ImmutableSortedDictionary<string, byte[]> Moved(ImmutableSortedDictionary<string, byte[]> files, string from, string to, bool isCopy)
    {
        List<KeyValuePair<string, byte[]>> moved = [.. files.Where(f => f.Key == from || f.Key.StartsWith(from + "/", StringComparison.Ordinal))];
        ImmutableSortedDictionary<string, byte[]> left = isCopy ? files : files.RemoveRange(moved.Select(m => m.Key));
        return moved.Aggregate(left, (all, m) => With(all, to + m.Key[from.Length..], m.Value));
    }

    private Node? Find(string wanted) => wanted.TrimEnd('0').Length == 0 ? null
        : _byMark.GetValueOrDefault(wanted) ?? _tips.GetValueOrDefault(wanted) ?? throw new HistoryImportException("This history begins in the middle: a commit that others go on from isn't in it.");

    private void Set(string branch, Node? node)
    {
        _tips.Remove(branch);
        if (node is not null)
        {
            _tips[branch] = node;
        }
    }

    // “Name <address> seconds +0100”
    private static (string Name, DateTime At) Writer(string line)
    {
        int open = line.IndexOf('<', StringComparison.Ordinal);
        int close = line.LastIndexOf('>');
        string[] time = close < 0 ? [] : line[(close + 1)..].Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (open < 0 || time.Length == 0 || !long.TryParse(time[0], NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out long seconds) || seconds is < 0 or > 253_402_300_799)
        {
            throw new HistoryImportException("A commit in this history doesn't say who wrote it and when.");
        }

        return (line[..open].Trim(), DateTimeOffset.FromUnixTimeSeconds(seconds).UtcDateTime);
    }

    // A path, quoted as C does or plain; gives where it ends. Some systems write letters and their accents apart.
    private static string PathOf(string text, out int end, bool isFirst = false)
    {
        if (!text.StartsWith('"'))
        {
            // Of two in a line the first may hold no space.
            end = isFirst && text.IndexOf(' ', StringComparison.Ordinal) is var space and >= 0 ? space : text.Length;
            return text[..end].Normalize(NormalizationForm.FormC);
        }

        var bytes = new List<byte>();
        int at = 1;
        while (at < text.Length && text[at] != '"')
        {
            if (text[at] != '\\')
            {
                int length = char.IsHighSurrogate(text[at]) && at + 1 < text.Length ? 2 : 1;
                bytes.AddRange(Encoding.UTF8.GetBytes(text.Substring(at, length)));
                at += length;
                continue;
            }

            char sign = ++at < text.Length ? text[at] : throw Cut();
            if (sign is >= '0' and <= '3' && at + 2 < text.Length)
            {
                bytes.Add((byte)(((sign - '0') << 6) | ((text[at + 1] - '0') << 3) | (text[at + 2] - '0')));
                at += 3;
                continue;
            }

            bytes.Add((byte)(sign switch { 'n' => '\n', 't' => '\t', 'r' => '\r', 'a' => '\a', 'b' => '\b', 'f' => '\f', 'v' => '\v', _ => sign }));
            at++;
        }

        end = Math.Min(text.Length, at + 1);
        return Encoding.UTF8.GetString([.. bytes]).Normalize(NormalizationForm.FormC);
    }

    private string Mark()
    {
        string mark = "";
        while (Peek() is { } line && (line.StartsWith("mark ", StringComparison.Ordinal) || line.StartsWith("original-oid ", StringComparison.Ordinal)))
        {
            NextLine();
            mark = line[0] == 'm' ? line[5..] : mark;
        }

        return mark;
    }

    private void SkipHead()
    {
        while (Peek() is { } line && !line.StartsWith("data ", StringComparison.Ordinal))
        {
            NextLine();
        }
    }

    // “data 12” and so many bytes, or “data <<END” and all up to that line.
    private byte[] Data()
    {
        string line = NextLine() ?? throw Cut();
        if (line.StartsWith("data <<", StringComparison.Ordinal))
        {
            byte[] until = Encoding.UTF8.GetBytes("\n" + line[7..] + "\n");
            int found = _bytes.AsSpan(Math.Max(0, _at - 1)).IndexOf(until);
            if (found < 0)
            {
                throw Cut();
            }

            int close = Math.Max(0, _at - 1) + found + 1;
            byte[] delimited = _bytes[_at..close];
            _at = close + until.Length - 1;
            return delimited;
        }

        if (!line.StartsWith("data ", StringComparison.Ordinal) || !int.TryParse(line[5..], NumberStyles.None, CultureInfo.InvariantCulture, out int length) || length > _bytes.Length - _at)
        {
            throw Cut();
        }

        byte[] data = _bytes[_at..(_at + length)];
        _at += length;
        if (_at < _bytes.Length && _bytes[_at] == '\n')
        {
            _at++;
        }

        return data;
    }

    private string? Peek()
    {
        int before = _at;
        string? line = NextLine();
        _at = before;
        return line;
    }

    private string? NextLine()
    {
        // Comments are lines of their own.
        while (_at < _bytes.Length)
        {
            int length = _bytes.AsSpan(_at).IndexOf((byte)'\n');
            length = length < 0 ? _bytes.Length - _at : length;
            string line = Encoding.UTF8.GetString(_bytes, _at, length);
            _at = Math.Min(_bytes.Length, _at + length + 1);
            if (!line.StartsWith('#'))
            {
                return line;
            }
        }

        return null;
    }

    private static (string Command, string More) Split(string line)
    {
        int space = line.IndexOf(' ', StringComparison.Ordinal);
        return space < 0 ? (line, "") : (line[..space], line[(space + 1)..]);
    }

    private static HistoryImportException TooLarge() => new("This history holds too many changes to come in as a whole. Write its later part alone, or bring in the files without it.");

    private static HistoryImportException Cut() => new("This history is cut off, or damaged.");
}
