namespace YoungFolio.Markup;

/// <summary>Makes tokens of one file's text, a line at a time, by the category codes of the moment.</summary>
public sealed class Lexer
{
    // No writer's line is longer; a program's or a broken file's may be, and must not hold up the proof.
    private const int LongestLine = 200_000;

    private readonly Machine _machine;
    private readonly string _text;
    private readonly bool _hasPositions;
    private readonly bool _usesIndex;
    private int _lineStart;
    private int _at;
    private int _end;
    private LineState _state = LineState.New;
    private TokenIndex? _index;
    private Symbol?[] _symbols = [];
    private int _item;
    private int _expectedAt = -1;
    private bool _leftIndex;

    internal Lexer(Machine machine, ManuscriptFile file, int positionBase, bool reads = true)
    {
        _machine = machine;
        _text = file.Text;
        File = file;
        Base = positionBase;
        _end = _text.Length;
        _hasPositions = positionBase != PositionTable.None;
        _usesIndex = reads && _hasPositions && file.Path.Length > 0;
    }

    /// <summary>Whether it reads a file of the manuscript, rather than definitions that ship with the engine.</summary>
    internal bool HasPositions => _hasPositions;

    /// <summary>Reads a text as if it stood within a line, so that a space at its beginning counts.</summary>
    internal static Lexer WithinLine(Machine machine, string text) => new(machine, ManuscriptFile.FromText("", text), 0) { _state = LineState.Middle };

    /// <summary>The file being read.</summary>
    public ManuscriptFile File { get; }

    /// <summary>Position of the file's first character.</summary>
    public int Base { get; }

    /// <summary>Position of the next character to be read.</summary>
    public int Position => Base + _at;

    /// <summary>Set by <c>\endinput</c>: the rest of the file is not read.</summary>
    public bool Ended { get; set; }

    /// <summary>Reads the next token; false at the file's end.</summary>
    internal bool TryRead(out Token token) => TryServe(out token) || TryReadText(out token);

    // ---- from the index ----------------------------------------------------------------------------------

    // The index serves where the reader stands at the beginning of one of its items, in the same state.
    private bool InIndex()
    {
        if (!_usesIndex || Ended || _end != _text.Length)
        {
            return false;
        }

        TokenIndex index = _machine.Input.IndexOf(File);
        if (!ReferenceEquals(index, _index))
        {
            (_index, _symbols, _expectedAt) = (index, _machine.Input.SymbolsOf(index), -1);
        }

        if (_at != _expectedAt)
        {
            _item = index.Find(_at);
            if (_item > 0 && index.At(_item - 1) is { Kind: TokenIndex.IndexedTokenKind.Words } words && words.End > _at && _state == LineState.Middle)
            {
                _item--;
            }
            else if (_item >= index.Items.Count || index.At(_item).Offset != _at || index.At(_item).Before != _state)
            {
                return false;
            }

            _expectedAt = _at;
        }

        return _item < index.Items.Count && index.At(_item).Kind != TokenIndex.IndexedTokenKind.Unread;
    }

    private bool TryServe(out Token token)
    {
        token = default;
        if (!InIndex())
        {
            return false;
        }

        TokenIndex.IndexedToken item = _index!.At(_item);
        int position = Base + Math.Max(item.Offset, _at);
        switch (item.Kind)
        {
            case TokenIndex.IndexedTokenKind.Words:
                int offset = Math.Max(item.Offset, _at);
                char c = _text[offset];
                token = c is ' ' or '\n'
                    ? Token.Character(' ', Category.Space, position)
                    : Token.Character(c, _machine.Categories.Of(c), position);
                Advance(offset + 1, offset + 1 == item.End ? item.After : c switch { '\n' => LineState.New, ' ' => LineState.SkippingBlanks, _ => LineState.Middle },
                    offset + 1 == item.End);
                return true;
            case TokenIndex.IndexedTokenKind.Command:
                token = Token.Command(_symbols[item.Value] ??= _machine.Symbol(_index.Names[item.Value]), position);
                break;
            case TokenIndex.IndexedTokenKind.Active:
                token = Token.Command(_machine.Symbols.OfActive(item.Value), position);
                break;
            default:
                token = Token.Character(item.Value & 0xFFFFFF, (Category)(item.Value >>> 24), position);
                break;
        }

        Advance(item.End, item.After, true);
        return true;
    }

    private void Advance(int at, LineState state, bool whole)
    {
        _at = _expectedAt = at;
        _lineStart = at;
        _state = state;
        _item += whole ? 1 : 0;
    }

    /// <summary>
    /// Takes plain words, with the single spaces between them, all at once: what comes out is what reading them one by one would
    /// give. Line ends among them are spaces.
    /// </summary>
    internal bool TryTakeWords(out ReadOnlySpan<char> words, out int position)
    {
        words = default;
        position = 0;
        if (!InIndex() || _index!.At(_item).Kind != TokenIndex.IndexedTokenKind.Words)
        {
            return false;
        }

        TokenIndex.IndexedToken item = _index.At(_item);
        int start = Math.Max(item.Offset, _at);
        if (_text[start] is ' ' or '\n')
        {
            return false;
        }

        words = _text.AsSpan(start, item.End - start);
        position = Base + start;
        Advance(item.End, item.After, true);
        return true;
    }

    /// <summary>Reads the next item for an index.</summary>
    internal bool TryReadItem(out Token token, out TokenIndex.IndexedToken item)
    {
        int start = _at;
        LineState before = _state;
        int words = _state == LineState.SkippingBlanks ? 0 : WordsLength();
        if (words > 1)
        {
            _at += words;
            int line = _text.LastIndexOf('\n', _at - 1, words);
            _lineStart = line < 0 ? _lineStart : line + 1;
            _state = LineState.Middle;
            token = default;
            item = new TokenIndex.IndexedToken(start, _at, 0, TokenIndex.IndexedTokenKind.Words, before, _state);
            return true;
        }

        _leftIndex = false;
        if (!TryReadText(out token))
        {
            item = default;
            return false;
        }

        TokenIndex.IndexedTokenKind kind = _leftIndex ? TokenIndex.IndexedTokenKind.Unread
            : token.Symbol is { } symbol ? symbol.IsActiveCharacter ? TokenIndex.IndexedTokenKind.Active : TokenIndex.IndexedTokenKind.Command
            : TokenIndex.IndexedTokenKind.Character;
        int value = token.Symbol is { IsActiveCharacter: true } active ? char.ConvertToUtf32(active.Name, 0) : token.Code | ((int)token.Category << 24);
        // What was passed over before the token belongs to it, so that one item follows the other.
        item = new TokenIndex.IndexedToken(_leftIndex ? start : token.Position, _at, value, kind, _leftIndex ? before : StateBefore(token, start, before), _state);
        return true;
    }

    // A reader that comes to the token's own first character has passed blanks, comments and line ends.
    private LineState StateBefore(Token token, int start, LineState before) =>
        token.Position == start ? before : _text.AsSpan(_text.LastIndexOf('\n', Math.Max(0, token.Position - 1)) + 1) is var line
            && line[..(token.Position - (_text.Length - line.Length))].IsWhiteSpace() ? LineState.New : LineState.SkippingBlanks;

    // Length of the words that begin here and hold nothing with a meaning: letters, figures and a few signs, with single spaces.
    private int WordsLength()
    {
        int at = _at;
        while (at < _end && at - _lineStart < LongestLine)
        {
            char c = _text[at];
            char next = at + 1 < _text.Length ? _text[at + 1] : '\0';
            if (IsPlain(c) || (c == ',' && at > _at && next != ',' && _machine.Categories.Of(c) == Category.Other)
                || (c == '-' && at > _at && next != '-' && _text[at - 1] != '-' && IsPlain(_text[at - 1]) && _machine.Categories.Of(c) == Category.Other))
            {
                at++;
                continue;
            }

            if (c is ' ' or '\n' && at > _at && IsPlain(next) && !(_text[at - 1] is ' ' or '\n') && _machine.Categories.Of(c) == (c == ' ' ? Category.Space : Category.EndOfLine))
            {
                at++;
                continue;
            }

            break;
        }

        return at - _at;
    }

    private bool IsPlain(char c) => (char.IsAsciiLetterOrDigit(c) || c is '.' or '(' or ')' || (c > 127 && c < 0x2000 && char.IsLetter(c)))
        && _machine.Categories.Of(c) is Category.Letter or Category.Other;

    // ---- from the text -----------------------------------------------------------------------------------

    private bool TryReadText(out Token token)
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
            else if (char.IsSurrogate((char)code))
            {
                code = 0xFFFD;
            }

            Category category = _machine.Categories.Of(code);
            if (category == Category.Superscript && TryReadCaretNotation(code, out int noted))
            {
                code = noted;
                category = _machine.Categories.Of(code);
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
                    _leftIndex = true;
                    if (!_usesIndex && _hasPositions && File.Path.Length > 0)
                    {
                        // While an index is made nothing is said; whoever reads the file says it.
                        continue;
                    }

                    _machine.Findings.Fix("unreadable-character", position, 1,
                        $"The character U+{code:X4} can't be typeset.",
                        "It is probably a stray control character from a copy and paste; delete it.",
                        new Repair(position, 1, ""));
                    continue;

                case Category.Active:
                    _lineStart = code == '\n' ? _at : _lineStart;
                    _state = LineState.Middle;
                    token = Token.Command(_machine.Symbols.OfActive(code), position);
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

    /// <summary>Has the file end before a text, where it occurs.</summary>
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

    /// <summary>Goes back to a place that was read before; false when it isn't this file's.</summary>
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

    /// <summary>The rest of the file that was not read, without leading blanks.</summary>
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
        Category category = _machine.Categories.Of(first);
        if (category == Category.Letter)
        {
            while (_at < _text.Length)
            {
                int before = _at;
                if (_machine.Categories.Of(ReadCodePoint()) != Category.Letter)
                {
                    _at = before;
                    break;
                }
            }

            _state = LineState.SkippingBlanks;
            return Token.Command(_machine.Symbols.Of(_text.AsSpan(start, _at - start)), position);
        }

        if (category == Category.EndOfLine)
        {
            _lineStart = _at;
            // A backslash at a line's end is a control space; the new line then begins as usual.
            _state = LineState.New;
            return Token.Command(_machine.Symbol(" "), position);
        }

        _state = category == Category.Space ? LineState.SkippingBlanks : LineState.Middle;
        return Token.Command(_machine.Symbols.Of(_text.AsSpan(start, _at - start)), position);
    }

    private int ReadCodePoint()
    {
        char c = _text[_at++];
        return char.IsHighSurrogate(c) && _at < _text.Length && char.IsLowSurrogate(_text[_at])
            ? char.ConvertToUtf32(c, _text[_at++])
            : char.IsSurrogate(c) ? 0xFFFD : c;
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
        _leftIndex = true;
        int end = _text.IndexOf('\n', _at);
        end = end < 0 ? _text.Length : end;
        if (_usesIndex || !_hasPositions || File.Path.Length == 0)
        {
            _machine.Findings.Fix("line-too-large", Base + _at, 1,
                $"This line holds {end - _lineStart} characters; only the first {LongestLine} were typeset.",
                "Break it into several lines. Nothing of the source is lost.");
        }

        _at = end;
        _lineStart = end;
    }
}
