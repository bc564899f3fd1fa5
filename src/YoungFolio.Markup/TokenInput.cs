namespace YoungFolio.Markup;

/// <summary>What is read: files, and the tokens that wait before them.</summary>
public sealed class TokenInput(Machine machine)
{
    private const int InputDepthLimit = 20_000;

    // Tokens that may wait at one time.
    private const int WaitingLimit = 3_000_000;

    // Letters with their positions take six bytes each.
    private const int LettersOfUnit = 16;
    private const int TokensOfUnit = 8;

    // Tokens read one after the other without any from a file.
    private const int IdleLimit = 2_000_000;
    private readonly Dictionary<TokenIndex, Symbol?[]> _indexSymbols = [];
    private Frame[] _frames = new Frame[64];
    private int _depth;

    // How many readers want a file's end to stop them, instead of going on in the file that opened it.
    private int _fileEndHolds;
    private int _idle;
    private long _waiting;

    private readonly Dictionary<ManuscriptFile, (string Key, TokenIndex Index)> _indexes = [];

    /// <summary>Position of the token read last from a file.</summary>
    public int LastSourcePosition { get; private set; } = PositionTable.None;

    /// <summary>Position of the macro call or token being worked on, for findings.</summary>
    public int CurrentPosition { get; internal set; } = PositionTable.None;

    /// <summary>How many macros have expanded since something was read from a file.</summary>
    internal int SinceSource { get; set; }

    /// <summary>Whether what waits is nested deeper than any manuscript needs.</summary>
    internal bool IsTooDeep => _depth > InputDepthLimit;

    /// <summary>A file's tokens by the present category codes.</summary>
    internal TokenIndex IndexOf(ManuscriptFile file)
    {
        string key = machine.Categories.Key();
        if (_indexes.TryGetValue(file, out (string Key, TokenIndex Index) known) && ReferenceEquals(known.Key, key))
        {
            return known.Index;
        }

        TokenIndex index = file.Index(key, () => TokenIndex.Read(machine, file));
        _indexes[file] = (key, index);
        return index;
    }

    /// <summary>The symbols of an index's names, found when first asked for.</summary>
    internal Symbol?[] SymbolsOf(TokenIndex index)
    {
        if (!_indexSymbols.TryGetValue(index, out Symbol?[]? symbols))
        {
            _indexSymbols[index] = symbols = new Symbol?[index.Names.Count];
        }

        return symbols;
    }

    /// <summary>Takes plain words that come next in a file, if nothing waits before them.</summary>
    /// <param name="words">The words; line ends among them are spaces.</param>
    /// <param name="position">Position of the first character; the others follow.</param>
    public bool TryTakeWords(out ReadOnlySpan<char> words, out int position)
    {
        DropExhausted();
        if (_depth == 0 || _frames[_depth - 1].Lexer is not { HasPositions: true } lexer || !lexer.TryTakeWords(out words, out position))
        {
            words = default;
            position = 0;
            return false;
        }

        SinceSource = 0;
        CurrentPosition = LastSourcePosition = position + words.Length - 1;
        machine.Budget.Spend(1 + (words.Length / LettersOfUnit));
        return true;
    }

    /// <summary>Notes that tokens were copied: they count like those that macros make.</summary>
    /// <exception cref="WorkLimitException">There were too many.</exception>
    public void CountCopied(int tokens) => machine.Budget.Spend(tokens / TokensOfUnit);

    /// <summary>Begins to read a file; what is being read now goes on after it.</summary>
    public void OpenFile(ManuscriptFile file)
    {
        int start = machine.Positions.Register(file);
        if (file.FirstUnreadable >= 0)
        {
            machine.Findings.Fix("not-utf8", start + file.FirstUnreadable, 1,
                $"The file {file.Path} is not stored as UTF-8; it was read as Latin-1.",
                "Some letters may come out wrong. Store the file as UTF-8, or convert it from Latin-1 in the Files list.");
        }

        PushFrame(new Frame { Lexer = new Lexer(machine, file, start) });
    }

    /// <summary>The lexer of the innermost file, if its text comes next (no tokens are waiting before it).</summary>
    public Lexer? DirectLexer
    {
        get
        {
            DropExhausted();
            return _depth > 0 && _frames[_depth - 1].Lexer is { HasPositions: true } lexer ? lexer : null;
        }
    }

    /// <summary>The lexer of the file being read, whatever waits before it.</summary>
    public Lexer? InnermostLexer
    {
        get
        {
            for (int i = _depth - 1; i >= 0; i--)
            {
                if (_frames[i].Lexer is { HasPositions: true } lexer)
                {
                    return lexer;
                }
            }

            return null;
        }
    }

    /// <summary>Paths of the files being read, innermost first.</summary>
    public IEnumerable<string> OpenFiles
    {
        get
        {
            for (int i = _depth - 1; i >= 0; i--)
            {
                if (_frames[i].Lexer is { HasPositions: true } lexer)
                {
                    yield return lexer.File.Path;
                }
            }
        }
    }

    /// <summary>Puts tokens before what comes next.</summary>
    [System.Runtime.CompilerServices.OverloadResolutionPriority(1)]
    public void Push(params Token[] tokens)
    {
        if (tokens.Length > 0)
        {
            DropExhausted();
            PushFrame(new Frame { Tokens = tokens });
        }
    }

    /// <summary>Puts tokens before what comes next.</summary>
    public void Push(List<Token> tokens) => Push(tokens.ToArray());

    /// <summary>Puts text before what comes next, read by the present category codes with no position of its own.</summary>
    public void PushMarkup(string markup, int position) => Push(Tokenize(markup, position));

    /// <summary>Makes tokens of a text by the present category codes; all get one position.</summary>
    public Token[] Tokenize(string markup, int position)
    {
        var lexer = Lexer.WithinLine(machine, markup);
        var tokens = new List<Token>();
        while (lexer.TryRead(out Token token))
        {
            tokens.Add(token.At(position));
        }

        return [.. tokens];
    }

    /// <summary>Makes tokens of a text with others in its midst.</summary>
    /// <param name="before">The text before them.</param>
    /// <param name="inner">They, as they are.</param>
    /// <param name="after">The text after them.</param>
    /// <param name="position">The position of the text's tokens.</param>
    public List<Token> Tokenize(string before, IEnumerable<Token> inner, string after, int position) =>
        [.. Tokenize(before, position), .. inner, .. Tokenize(after, position)];

    /// <summary>Stops reading altogether (<c>\end{document}</c>).</summary>
    public void DropAllInput() => _depth = 0;

    /// <summary>The next token, unexpanded; a stop at the end of all input.</summary>
    public Token Next()
    {
        machine.Budget.Check();
        while (_depth > 0)
        {
            ref Frame frame = ref _frames[_depth - 1];
            if (frame.Lexer is { } lexer)
            {
                if (lexer.TryRead(out Token read))
                {
                    if (!lexer.HasPositions)
                    {
                        return read;
                    }

                    SinceSource = 0;
                    _idle = 0;
                    LastSourcePosition = read.Position;
                    CurrentPosition = read.Position;
                    return read;
                }

                if (_fileEndHolds > 0)
                {
                    return Token.Stop();
                }

                _depth--;
                continue;
            }

            if (frame.Index < frame.Tokens!.Length)
            {
                Token token = frame.Tokens[frame.Index];
                // A stop stays until the scan that placed it takes it away, so that nothing reads past it.
                if (!token.Is(Category.Stop))
                {
                    frame.Index++;
                }

                if ((++_idle & 0x3FFFF) == 0)
                {
                    CheckIdle(token);
                }

                return token;
            }

            _depth--;
        }

        return Token.Stop();
    }

    // Tokens that were pushed by others than macros may go round without end too.
    private void CheckIdle(Token token)
    {
        if (_idle > IdleLimit)
        {
            _idle = 0;
            throw new MarkupLimitException("endless-macro", $"What is read here at {(token.Is(Category.Stop) ? "the end" : token)} repeats without end.", CurrentPosition);
        }
    }

    /// <summary>Puts one token back.</summary>
    public void PutBack(Token token)
    {
        if (token.Is(Category.Stop))
        {
            return;
        }

        if (_depth > 0)
        {
            ref Frame frame = ref _frames[_depth - 1];
            if (frame.Tokens is { } tokens && frame.Index > 0 && tokens[frame.Index - 1] == token
                && tokens[frame.Index - 1].Position == token.Position)
            {
                frame.Index--;
                return;
            }
        }

        PushFrame(new Frame { Tokens = [token] });
    }

    /// <summary>Looks at the next token without taking it.</summary>
    public Token Peek()
    {
        Token token = Next();
        PutBack(token);
        return token;
    }

    /// <summary>
    /// Reads tokens as a scan of their own: pushes them with a stop behind, runs the reader, and takes away
    /// whatever it left.
    /// </summary>
    public void Scan(IReadOnlyList<Token> tokens, Action reader)
    {
        int before = _depth;
        var run = new Token[tokens.Count + 1];
        for (int i = 0; i < tokens.Count; i++)
        {
            run[i] = tokens[i];
        }

        run[^1] = Token.Stop(1);
        PushFrame(new Frame { Tokens = run });
        try
        {
            reader();
        }
        finally
        {
            _depth = Math.Min(_depth, before);
        }
    }

    /// <summary>Reads a whole file as a scan of its own.</summary>
    public void ScanFile(ManuscriptFile file, Action reader) => Scan([], () =>
    {
        OpenFile(file);
        reader();
    });

    /// <summary>Until it is disposed, a file's end stops whoever reads: what began in a file has to end in it.</summary>
    internal FileEndHold HoldFileEnd()
    {
        _fileEndHolds++;
        return new FileEndHold(this);
    }

    /// <summary>How much waits now, for <see cref="TakeSince"/>.</summary>
    internal int Mark()
    {
        DropExhausted();
        return _depth;
    }

    /// <summary>Takes what was pushed since a mark, unexpanded.</summary>
    internal void TakeSince(int mark, List<Token> into)
    {
        while (_depth > mark && _frames[_depth - 1].Tokens is { } rest)
        {
            into.AddRange(rest.AsSpan(_frames[_depth - 1].Index));
            _depth--;
        }
    }

    /// <summary>The lexer that is read from next; null when tokens are.</summary>
    internal Lexer? TopLexer => _depth > 0 ? _frames[_depth - 1].Lexer : null;

    /// <summary>Drops what macros still want to say, up to the file or the scan that they stand in.</summary>
    internal void DropMacros()
    {
        while (_depth > 0 && _frames[_depth - 1] is { Lexer: null } frame && !ContainsStop(frame.Tokens.AsSpan(frame.Index)))
        {
            _depth--;
        }
    }

    /// <summary>Reads markup that has no place in a manuscript as a scan of its own.</summary>
    internal void ScanMarkup(string markup, Action reader) => Scan([], () =>
    {
        PushFrame(new Frame { Lexer = new Lexer(machine, ManuscriptFile.FromText("", markup), PositionTable.None) });
        reader();
    });

    /// <summary>Puts an expansion before what comes next.</summary>
    internal void PushExpansion(Token[] tokens)
    {
        DropExhausted();
        PushFrame(new Frame { Tokens = tokens });
    }

    internal void DropExhausted()
    {
        while (_depth > 0 && _frames[_depth - 1].Tokens is { } tokens && _frames[_depth - 1].Index >= tokens.Length)
        {
            _depth--;
        }
    }

    private void PushFrame(Frame frame)
    {
        if (_depth == _frames.Length)
        {
            if (_depth > InputDepthLimit * 2)
            {
                throw new MarkupLimitException("nested-too-deep", "Definitions are nested too deeply here.", CurrentPosition);
            }

            Array.Resize(ref _frames, _depth * 2);
        }

        _frames[_depth++] = frame;
        _waiting += frame.Tokens?.Length ?? 0;
        if (_waiting > WaitingLimit)
        {
            // Frames that were dropped without being counted may make it seem more than it is.
            _waiting = 0;
            for (int i = 0; i < _depth; i++)
            {
                _waiting += _frames[i].Tokens?.Length ?? 0;
            }

            if (_waiting > WaitingLimit)
            {
                throw new MarkupLimitException("too-much-text", "The commands here make more text than the compiler takes.", CurrentPosition);
            }
        }
    }

    private static bool ContainsStop(ReadOnlySpan<Token> tokens)
    {
        foreach (Token token in tokens)
        {
            if (token.Is(Category.Stop))
            {
                return true;
            }
        }

        return false;
    }

    internal readonly ref struct FileEndHold(TokenInput input)
    {
        public void Dispose() => input._fileEndHolds--;
    }

    private struct Frame
    {
        public Token[]? Tokens;
        public int Index;
        public Lexer? Lexer;
    }
}
