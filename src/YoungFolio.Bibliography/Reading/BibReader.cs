using System.Text;

namespace YoungFolio.Bibliography;

/// <summary>
/// Reads .bib files (Patashnik, <em>BibTeXing</em>, 1988): entries in braces or parentheses, values in braces, quotes or bare,
/// joined by #, with @string, @preamble and @comment; what stands between entries is a comment. After a slip it goes on at the next
/// field or entry, so that no neighbour is lost.
/// </summary>
public sealed class BibReader
{
    private readonly string _text;
    private readonly Dictionary<string, string> _strings = new(StringComparer.OrdinalIgnoreCase);
    private readonly List<BibEntry> _entries = [];
    private readonly List<BibProblem> _problems = [];
    private readonly StringBuilder _preamble = new();
    private readonly Action? _look;
    private int _at;
    private bool _hasOpenValue;

    private BibReader(string text, Action? look)
    {
        _text = text;
        _look = look;
    }

    /// <summary>Reads a file's text.</summary>
    /// <param name="text">The text.</param>
    /// <param name="look">Called now and then: it may end the work by an exception.</param>
    public static BibFile Read(string text, Action? look = null)
    {
        var reader = new BibReader(text, look);
        reader.ReadAll();
        return new BibFile(reader._entries, reader._problems, reader._preamble.ToString());
    }

    private void ReadAll()
    {
        while ((_at = _text.IndexOf('@', _at)) >= 0)
        {
            _look?.Invoke();
            int start = _at++;
            // In running text (an e-mail address) an @ stands in a word; an entry's doesn't.
            if (start > 0 && char.IsLetterOrDigit(_text[start - 1]))
            {
                continue;
            }

            SkipSpace();
            string type = ReadName().ToLowerInvariant();
            SkipSpace();
            if (type.Length == 0 || type == "comment" || _at >= _text.Length || _text[_at] is not ('{' or '('))
            {
                continue;
            }

            char close = _text[_at++] == '{' ? '}' : ')';
            ReadEntry(start, type, close);
        }
    }

    private void ReadEntry(int start, string type, char close)
    {
        _hasOpenValue = false;
        SkipSpace();
        if (type == "preamble")
        {
            _preamble.Append(Joined(ReadValue(close, "")).Trim());
            return;
        }

        string key = "";
        int keyAt = _at;
        if (type != "string")
        {
            key = ReadKey(close);
            if (key.Length == 0)
            {
                _problems.Add(new BibProblem(start, $"This {type} has no key."));
            }
        }

        var written = new List<BibField>();
        bool closed = false;
        while (_at < _text.Length)
        {
            SkipSpace();
            if (_at >= _text.Length || StartsEntry())
            {
                break;
            }

            if (_text[_at] == close)
            {
                _at++;
                closed = true;
                break;
            }

            if (_text[_at] == ',')
            {
                _at++;
                continue;
            }

            if (ReadField(key, close) is { } field)
            {
                written.Add(field);
            }
        }

        // A value that isn't closed takes the entry's end with it: one cause is said once.
        if (!closed && !_hasOpenValue)
        {
            _problems.Add(new BibProblem(start, key.Length > 0 ? $"The entry {key} isn't closed by {close}." : $"This {type} isn't closed by {close}.", key));
        }

        if (type == "string")
        {
            foreach (BibField field in written)
            {
                _strings[field.Name] = string.Concat(field.Pieces.Select(p => p.IsName ? p.Standard : p.Text));
            }

            return;
        }

        var fields = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        foreach (BibField field in written)
        {
            // The first of two fields with one name holds, as it always did.
            if (!fields.TryAdd(field.Name, field.Value))
            {
                _problems.Add(new BibProblem(field.Offset, $"The field {field.Name} is there twice in {key}; the first one holds.", key));
            }
        }

        var joined = written.Where(f => f.Pieces.Any(p => p.IsName)).DistinctBy(f => f.Name).ToDictionary(f => f.Name, f => f.Pieces, StringComparer.OrdinalIgnoreCase);
        int end = _at;
        while (!closed && end > start + 1 && char.IsWhiteSpace(_text[end - 1]))
        {
            end--;
        }

        _entries.Add(new BibEntry(type, key, start, fields) { Written = written, KeyOffset = keyAt, End = end, Joined = joined.Count > 0 ? joined : BibEntry.EmptyJoined });
    }

    private string ReadKey(char close)
    {
        int begin = _at;
        while (_at < _text.Length && _text[_at] is not (',' or '=' or '\n' or '{' or '"') && _text[_at] != close)
        {
            _at++;
        }

        // A missing key: the first field stands in its place.
        if (_at < _text.Length && _text[_at] == '=')
        {
            _at = begin;
            return "";
        }

        string key = _text[begin.._at].Trim();
        int word = key.IndexOfAny([' ', '\t']);
        if (word >= 0)
        {
            // A key is a word; what follows is a field whose comma was forgotten.
            _at = begin + word;
            key = key[..word];
        }

        SkipSpace();
        if (_at < _text.Length && _text[_at] == ',')
        {
            _at++;
        }
        else if (_at < _text.Length && _text[_at] != close)
        {
            _problems.Add(new BibProblem(begin, $"A comma is missing after the key {key}.", key));
        }

        return key;
    }

    private BibField? ReadField(string key, char close)
    {
        int nameAt = _at;
        string name = ReadName();
        SkipSpace();
        if (name.Length == 0 || _at >= _text.Length || _text[_at] != '=')
        {
            _problems.Add(new BibProblem(nameAt, name.Length > 0
                ? $"“{name}” in {key} isn't followed by = and a value." : $"“{_text[nameAt]}” in {key} is no field.", key));
            SkipToField(close);
            return null;
        }

        _at++;
        SkipSpace();
        int valueAt = _at;
        List<BibPiece> pieces = ReadValue(close, key);
        int end = _at;
        while (end > valueAt && char.IsWhiteSpace(_text[end - 1]))
        {
            end--;
        }

        SkipSpace();
        if (_at < _text.Length && _text[_at] != ',' && _text[_at] != close && !StartsEntry())
        {
            _problems.Add(new BibProblem(Math.Max(valueAt, end - 1), $"A comma is missing after {name.ToLowerInvariant()} in {key}.", key));
        }

        return new BibField(name.ToLowerInvariant(), Joined(pieces).Trim(), nameAt, valueAt, end) { Pieces = pieces };
    }

    // Goes on where the next field can be read: behind a comma or at the line's end.
    private void SkipToField(char close)
    {
        int depth = 0;
        while (_at < _text.Length && !StartsEntry())
        {
            char c = _text[_at];
            if (depth == 0 && (c is ',' or '\n' || c == close))
            {
                return;
            }

            depth = Math.Max(0, depth + (c == '{' ? 1 : c == '}' ? -1 : 0));
            _at++;
        }
    }

    // An @ at a line's beginning with a word and a brace begins an entry, whatever was left open before.
    private bool StartsEntry()
    {
        if (_at >= _text.Length || _text[_at] != '@' || !IsLineStart(_at))
        {
            return false;
        }

        int i = _at + 1;
        while (i < _text.Length && char.IsAsciiLetter(_text[i]))
        {
            i++;
        }

        return i > _at + 1 && i < _text.Length && _text[i..].AsSpan().TrimStart() is ['{' or '(', ..];
    }

    private bool IsLineStart(int at)
    {
        while (at > 0 && _text[at - 1] is ' ' or '\t')
        {
            at--;
        }

        return at == 0 || _text[at - 1] is '\n' or '\r';
    }

    private static string Joined(List<BibPiece> pieces) => pieces is [{ IsName: false } one] ? one.Text : string.Concat(pieces.Select(p => p.IsName && p.Standard.Length == 0 ? p.Text : p.IsName ? p.Standard : p.Text));

    private List<BibPiece> ReadValue(char close, string key)
    {
        var pieces = new List<BibPiece>(1);
        while (true)
        {
            SkipSpace();
            if (_at >= _text.Length)
            {
                break;
            }

            char c = _text[_at];
            if (c is '{' or '"')
            {
                pieces.Add(new BibPiece(Spaced(ReadDelimited(c == '{' ? '}' : '"', key))));
            }
            else if (StartsEntry())
            {
                break;
            }
            else
            {
                int begin = _at;
                while (_at < _text.Length && _text[_at] is not (',' or '#' or '=') && _text[_at] != close && !char.IsWhiteSpace(_text[_at]))
                {
                    _at++;
                }

                string word = _text[begin.._at];
                if (_strings.TryGetValue(word, out string? known))
                {
                    pieces.Add(new BibPiece(known));
                }
                else if (word.All(char.IsAsciiDigit))
                {
                    pieces.Add(new BibPiece(word));
                }
                else
                {
                    string? standard = StandardNames.Find(word);
                    pieces.Add(new BibPiece(word, true, standard ?? ""));
                    if (standard is null)
                    {
                        _problems.Add(new BibProblem(begin, $"“{word}” in {key} stands without braces and is no @string.", key) { Name = word });
                    }
                }
            }

            SkipSpace();
            if (_at >= _text.Length || _text[_at] != '#')
            {
                break;
            }

            _at++;
        }

        return pieces;
    }

    // Every stretch of white space is one space; those at the ends stay, for what is joined to it.
    private static string Spaced(string text)
    {
        var spaced = new StringBuilder(text.Length);
        foreach (char c in text)
        {
            if (!char.IsWhiteSpace(c))
            {
                spaced.Append(c);
            }
            else if (spaced.Length == 0 || spaced[^1] != ' ')
            {
                spaced.Append(' ');
            }
        }

        return spaced.ToString();
    }

    private string ReadDelimited(char end, string key)
    {
        int begin = ++_at;
        int depth = 0;
        int fieldLine = -1;
        for (; _at < _text.Length; _at++)
        {
            char c = _text[_at];
            if (c == '\\' && _at + 1 < _text.Length && _text[_at + 1] is '{' or '}')
            {
                _at++;
                continue;
            }

            if (depth == 0 && c == end)
            {
                int close = _at++;
                if (fieldLine < 0 || end != '}' || !EndsHere())
                {
                    return _text[begin..close];
                }

                // The brace was the entry's: this value's own is missing, and what looks like fields inside of it are fields.
                _at = close;
                break;
            }

            depth += c == '{' ? 1 : c == '}' ? -1 : 0;
            if (c == '\n' && depth == 0 && fieldLine < 0 && BeginsField(_at + 1))
            {
                fieldLine = _at;
            }
            else if (c == '@' && StartsEntry())
            {
                break;
            }
        }

        // The value was never closed: it ends with its line, if the next one begins a field.
        _hasOpenValue = true;
        _problems.Add(new BibProblem(begin - 1, key.Length > 0 ? $"A value in {key} isn't closed by {end}." : $"A value begun here isn't closed by {end}.", key));
        _at = fieldLine >= 0 ? fieldLine : _at;
        return _text[begin.._at].TrimEnd(',', ' ', '\n', '\r', '\t', '}');
    }

    // Whether nothing but space comes before the next entry or the text's end.
    private bool EndsHere()
    {
        int at = _at;
        SkipSpace();
        bool ends = _at >= _text.Length || StartsEntry();
        _at = at;
        return ends;
    }

    private bool BeginsField(int at)
    {
        ReadOnlySpan<char> rest = _text.AsSpan(at).TrimStart();
        int length = 0;
        while (length < rest.Length && (char.IsLetterOrDigit(rest[length]) || rest[length] is '-' or '_'))
        {
            length++;
        }

        return length > 0 && rest[length..].TrimStart() is ['=', ..];
    }

    private string ReadName()
    {
        int begin = _at;
        while (_at < _text.Length && (char.IsLetterOrDigit(_text[_at]) || _text[_at] is '-' or '_' or ':' or '+' or '.'))
        {
            _at++;
        }

        return _text[begin.._at];
    }

    private void SkipSpace()
    {
        while (_at < _text.Length && (char.IsWhiteSpace(_text[_at]) || _text[_at] == '%'))
        {
            if (_text[_at] == '%')
            {
                int end = _text.IndexOf('\n', _at);
                _at = end < 0 ? _text.Length : end;
                continue;
            }

            _at++;
        }
    }
}
