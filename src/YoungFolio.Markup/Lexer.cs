namespace YoungFolio.Markup;

/// <summary>Makes tokens of one part's text, a line at a time, by the category codes of the moment.</summary>
public sealed class Lexer
{
    private enum LineState
    {
        New,
        Middle,
        SkippingBlanks,
    }

    // No writer's line is longer; a program's or a broken file's may be, and must not hold up the proof.
    private const int LongestLine = 200_000;

    private readonly Machine _machine;
    private readonly string _text;
    private readonly bool _hasPositions;
    private int _lineStart;
    private int _at;
    private int _end;
    private LineState _state = LineState.New;

    internal Lexer(Machine machine, Part part, int positionBase)
    {
        _machine = machine;
        _text = part.Text;
        Part = part;
        Base = positionBase;
        _end = _text.Length;
        _hasPositions = positionBase != PositionTable.None;
    }

    /// <summary>Whether it reads a part of the manuscript, rather than definitions that ship with the engine.</summary>
    internal bool HasPositions => _hasPositions;

    /// <summary>Reads a text as if it stood within a line, so that a space at its beginning counts.</summary>
    internal static Lexer WithinLine(Machine machine, string text) => new(machine, Part.FromText("", text), 0) { _state = LineState.Middle };

    /// <summary>The part being read.</summary>
    public Part Part { get; }

    /// <summary>Position of the part's first character.</summary>
    public int Base { get; }

    /// <summary>Position of the next character to be read.</summary>
    public int Position => Base + _at;

    /// <summary>Set by <c>\endinput</c>: the rest of the part is not read.</summary>
    public bool Ended { get; set; }

    /// <summary>Reads the next token; false at the part's end.</summary>
    internal bool TryRead(out Token token)
    {
        while (!Ended && _at < _end)
        {
            if (_at - _lineStart > LongestLine)
            {
                CutLine();
                continue;
            }

            int start = _at;
            int code = _text[_at++];
            if (char.IsHighSurrogate((char)code) && _at < _text.Length && char.IsLowSurrogate(_text[_at]))
            {
                code = char.ConvertToUtf32((char)code, _text[_at++]);
            }

            Category category = _machine.CategoryOf(code);
            if (category == Category.Superscript && TryReadCaretNotation(code, out int noted))
            {
                code = noted;
                category = _machine.CategoryOf(code);
            }

            int position = _hasPositions ? Base + start : PositionTable.None;
            switch (category)
            {
                case Category.Escape:
                    token = ReadCommand(position);
                    return true;

                case Category.EndOfLine:
                    _lineStart = _at;
                    LineState before = _state;
                    _state = LineState.New;
                    if (before == LineState.New)
                    {
                        token = Token.Command(_machine.Par, position);
                        return true;
                    }

                    if (before == LineState.Middle)
                    {
                        token = Token.Character(' ', Category.Space, position);
                        return true;
                    }

                    continue;

                case Category.Space:
                    if (_state != LineState.Middle)
                    {
                        continue;
                    }

                    _state = LineState.SkippingBlanks;
                    token = Token.Character(' ', Category.Space, position);
                    return true;

                case Category.Comment:
                    SkipLine();
                    continue;

                case Category.Ignored:
                    continue;

                case Category.Invalid:
                    _machine.Findings.Fix("unreadable-character", position, 1,
                        $"The character U+{code:X4} can't be typeset.",
                        "It is probably a stray control character from a copy and paste; delete it.",
                        new Repair(position, 1, ""));
                    continue;

                case Category.Active:
                    _lineStart = code == '\n' ? _at : _lineStart;
                    _state = LineState.Middle;
                    token = Token.Command(_machine.ActiveSymbol(code), position);
                    return true;

                default:
                    _state = LineState.Middle;
                    token = Token.Character(code, category, position);
                    return true;
            }
        }

        token = default;
        return false;
    }

    /// <summary>
    /// Takes the raw text up to a terminator, without making tokens: for verbatim material.
    /// </summary>
    /// <returns>The text before the terminator, or null (and nothing is taken) when it doesn't occur.</returns>
    public string? TakeRawUntil(string terminator)
    {
        int end = _text.IndexOf(terminator, _at, StringComparison.Ordinal);
        if (end < 0)
        {
            return null;
        }

        string raw = _text[_at..end];
        _at = end + terminator.Length;
        _state = LineState.Middle;
        return raw;
    }

    /// <summary>Takes the raw text before a terminator and leaves that to be read; null when it doesn't occur.</summary>
    public string? TakeRawBefore(string terminator)
    {
        int end = _text.IndexOf(terminator, _at, StringComparison.Ordinal);
        if (end < 0)
        {
            return null;
        }

        string raw = _text[_at..end];
        _at = end;
        _state = LineState.Middle;
        return raw;
    }

    /// <summary>Has the part end before a text, where it occurs.</summary>
    public void EndsAt(string terminator)
    {
        int end = _text.LastIndexOf(terminator, StringComparison.Ordinal);
        _end = end >= _at ? end : _text.Length;
    }

    /// <summary>The rest of the line, which is not taken.</summary>
    public string PeekLine()
    {
        int end = _text.IndexOf('\n', _at);
        return end < 0 ? _text[_at..] : _text[_at..end];
    }

    /// <summary>Goes back to a place that was read before; false when it isn't this part's.</summary>
    internal bool Rewind(int position)
    {
        int at = position - Base;
        if (!_hasPositions || at < 0 || at > _at)
        {
            return false;
        }

        _at = at;
        _lineStart = _at == 0 ? 0 : _text.LastIndexOf('\n', _at - 1) + 1;
        _state = _text.AsSpan(_lineStart, _at - _lineStart).IsWhiteSpace() ? LineState.New : LineState.Middle;
        return true;
    }

    /// <summary>Takes one raw character; '\0' at the end.</summary>
    public char TakeRaw()
    {
        _state = LineState.Middle;
        return _at < _text.Length ? _text[_at++] : '\0';
    }

    /// <summary>The next raw character without taking it; '\0' at the end.</summary>
    public char PeekRaw() => _at < _text.Length ? _text[_at] : '\0';

    /// <summary>The rest of the part that was not read, without leading blanks.</summary>
    public string Rest() => _text[_at..].TrimStart();

    /// <summary>Position at which <see cref="Rest"/> begins.</summary>
    public int RestPosition => Base + _text.Length - Rest().Length;

    private Token ReadCommand(int position)
    {
        if (_at >= _text.Length)
        {
            _state = LineState.Middle;
            return Token.Command(_machine.Symbol(""), position);
        }

        int start = _at;
        int first = ReadCodePoint();
        Category category = _machine.CategoryOf(first);
        if (category == Category.Letter)
        {
            while (_at < _text.Length)
            {
                int before = _at;
                if (_machine.CategoryOf(ReadCodePoint()) != Category.Letter)
                {
                    _at = before;
                    break;
                }
            }

            _state = LineState.SkippingBlanks;
            return Token.Command(_machine.Symbol(_text.AsSpan(start, _at - start)), position);
        }

        if (category == Category.EndOfLine)
        {
            _lineStart = _at;
            // A backslash at a line's end is a control space; the new line then begins as usual.
            _state = LineState.New;
            return Token.Command(_machine.Symbol(" "), position);
        }

        _state = category == Category.Space ? LineState.SkippingBlanks : LineState.Middle;
        return Token.Command(_machine.Symbol(_text.AsSpan(start, _at - start)), position);
    }

    private int ReadCodePoint()
    {
        char c = _text[_at++];
        return char.IsHighSurrogate(c) && _at < _text.Length && char.IsLowSurrogate(_text[_at])
            ? char.ConvertToUtf32(c, _text[_at++])
            : c;
    }

    // ^^M and ^^4d stand for a character's code (The TeXbook, ch. 8).
    private bool TryReadCaretNotation(int caret, out int code)
    {
        code = 0;
        if (_at + 1 >= _text.Length || _text[_at] != caret)
        {
            return false;
        }

        if (_at + 2 < _text.Length && char.IsAsciiHexDigitLower(_text[_at + 1]) && char.IsAsciiHexDigitLower(_text[_at + 2]))
        {
            code = Convert.ToInt32(_text.Substring(_at + 1, 2), 16);
            _at += 3;
            return true;
        }

        char c = _text[_at + 1];
        if (c is < (char)128 and not '\n' and not '{' and not '}' and not ' ')
        {
            code = c < 64 ? c + 64 : c - 64;
            _at += 2;
            return true;
        }

        return false;
    }

    private void SkipLine()
    {
        int end = _text.IndexOf('\n', _at);
        _at = end < 0 ? _text.Length : end + 1;
        _lineStart = _at;
        _state = LineState.New;
    }

    private void CutLine()
    {
        int end = _text.IndexOf('\n', _at);
        end = end < 0 ? _text.Length : end;
        _machine.Findings.Fix("line-too-large", Base + _at, 1,
            $"This line holds {end - _lineStart} characters; only the first {LongestLine} were typeset.",
            "Break it into several lines. Nothing of the source is lost.");
        _at = end;
        _lineStart = end;
    }
}
