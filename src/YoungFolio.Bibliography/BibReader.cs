using System.Text;

namespace YoungFolio.Bibliography;

/// <summary>One entry of a .bib part.</summary>
/// <param name="Type">Its type in small letters: <c>article</c>.</param>
/// <param name="Key">Its key.</param>
/// <param name="Offset">Where it begins: the index of its @ in the text.</param>
/// <param name="Fields">Its fields by name in small letters; outer braces or quotes are taken off.</param>
public sealed record BibEntry(string Type, string Key, int Offset, IReadOnlyDictionary<string, string> Fields)
{
    /// <summary>A field's value; empty when it isn't there.</summary>
    public string Field(string name) => Fields.TryGetValue(name, out string? value) ? value : "";
}

/// <summary>Something in a .bib part that can't be read.</summary>
/// <param name="Offset">Where.</param>
/// <param name="Message">What is wrong.</param>
public sealed record BibProblem(int Offset, string Message);

/// <summary>What a .bib part holds.</summary>
public sealed record BibFile(IReadOnlyList<BibEntry> Entries, IReadOnlyList<BibProblem> Problems);

/// <summary>
/// Reads .bib parts (Patashnik, <em>BibTeXing</em>, 1988): entries in braces or parentheses, values in braces, quotes or bare,
/// joined by #, with @string, @preamble and @comment. After a slip it goes on at the next entry.
/// </summary>
public sealed class BibReader
{
    private static readonly string[] s_months = ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];
    private static readonly string[] s_monthNames =
        ["January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"];

    private readonly string _text;
    private readonly Dictionary<string, string> _strings = new(StringComparer.OrdinalIgnoreCase);
    private readonly List<BibEntry> _entries = [];
    private readonly List<BibProblem> _problems = [];
    private int _at;

    private BibReader(string text)
    {
        _text = text;
        for (int i = 0; i < s_months.Length; i++)
        {
            _strings[s_months[i]] = s_monthNames[i];
        }
    }

    /// <summary>Reads a part's text.</summary>
    public static BibFile Read(string text)
    {
        var reader = new BibReader(text);
        reader.ReadAll();
        return new BibFile(reader._entries, reader._problems);
    }

    private void ReadAll()
    {
        // What stands between entries is a comment.
        while ((_at = _text.IndexOf('@', _at)) >= 0)
        {
            int start = _at++;
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
        SkipSpace();
        if (type == "preamble")
        {
            ReadValue(close);
            return;
        }

        string key = "";
        if (type != "string")
        {
            int begin = _at;
            while (_at < _text.Length && _text[_at] != ',' && _text[_at] != close && !char.IsWhiteSpace(_text[_at]))
            {
                _at++;
            }

            key = _text[begin.._at];
            SkipSpace();
            if (_at < _text.Length && _text[_at] == ',')
            {
                _at++;
            }
        }

        var fields = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        while (true)
        {
            SkipSpace();
            if (_at >= _text.Length)
            {
                _problems.Add(new BibProblem(start, $"The entry {key} isn't closed by {close}."));
                break;
            }

            if (_text[_at] == close)
            {
                _at++;
                break;
            }

            if (_text[_at] == ',')
            {
                _at++;
                continue;
            }

            int nameAt = _at;
            string name = ReadName();
            SkipSpace();
            if (name.Length == 0 || _at >= _text.Length || _text[_at] != '=')
            {
                _problems.Add(new BibProblem(nameAt, $"A field and its = are expected in the entry {key}."));
                break;
            }

            _at++;
            fields.TryAdd(name.ToLowerInvariant(), ReadValue(close));
        }

        if (type == "string")
        {
            foreach ((string name, string value) in fields)
            {
                _strings[name] = value;
            }
        }
        else
        {
            _entries.Add(new BibEntry(type, key, start, fields));
        }
    }

    private string ReadValue(char close)
    {
        var value = new StringBuilder();
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
                value.Append(ReadDelimited(c == '{' ? '}' : '"'));
            }
            else
            {
                int begin = _at;
                while (_at < _text.Length && _text[_at] is not (',' or '#') && _text[_at] != close && !char.IsWhiteSpace(_text[_at]))
                {
                    _at++;
                }

                string word = _text[begin.._at];
                value.Append(_strings.GetValueOrDefault(word, word));
            }

            SkipSpace();
            if (_at >= _text.Length || _text[_at] != '#')
            {
                break;
            }

            _at++;
        }

        return string.Join(' ', value.ToString().Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
    }

    private string ReadDelimited(char end)
    {
        int begin = ++_at;
        int depth = 0;
        for (; _at < _text.Length; _at++)
        {
            char c = _text[_at];
            if (depth == 0 && c == end)
            {
                return _text[begin.._at++];
            }

            depth += c == '{' ? 1 : c == '}' ? -1 : 0;
            // An entry's @ at a line's beginning means that this value was never closed.
            if (c == '\n' && _at + 1 < _text.Length && _text[_at + 1] == '@')
            {
                break;
            }
        }

        _problems.Add(new BibProblem(begin - 1, $"A value begun here isn't closed by {end}."));
        return _text[begin.._at];
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
        while (_at < _text.Length && char.IsWhiteSpace(_text[_at]))
        {
            _at++;
        }
    }
}
