namespace YoungFolio.Markup;

/// <summary>
/// The token machine: reads files, expands macros, keeps groups and registers. The language is that of
/// Knuth's <em>The TeXbook</em> (chapters 7, 8, 20, 24) with the additions of Lamport's <em>LaTeX</em>.
/// It knows nothing of documents: whoever builds one registers commands and reads expanded tokens.
/// </summary>
public sealed partial class Machine
{
    // A macro that has expanded this often without reading anything from a file will not stop by itself.
    private const int RunawayLimit = 100_000;
    private const int InputDepthLimit = 20_000;
    private const int GroupDepthLimit = 2_000;

    // Tokens that may wait at one time, and runaways after which a manuscript is given up.
    private const int WaitingLimit = 3_000_000;

    // Tokens that macros may make in all.
    private const long MadeLimit = 15_000_000;
    private const int RunawaysLimit = 2;

    // Expansions in all: far beyond what a thesis of a thousand pages needs.
    private const int StepsLimit = 2_000_000;

    // Letters with their positions take six bytes each.
    private const int LettersOfUnit = 16;
    private const int TokensOfUnit = 8;

    // Tokens read one after the other without any from a file.
    private const int IdleLimit = 2_000_000;

    private readonly Dictionary<string, Symbol> _symbols = new(StringComparer.Ordinal);
    private readonly Dictionary<string, Symbol>.AlternateLookup<ReadOnlySpan<char>> _symbolsBySpan;
    private readonly Dictionary<int, Symbol> _active = [];
    private readonly Scoped<Category>[] _categories = new Scoped<Category>[256];
    private readonly Dictionary<int, Scoped<Category>> _moreCategories = [];
    private readonly List<(Scoped Target, object? Saved, int Level)> _saved = [];
    private readonly List<Group> _groups = [];
    private readonly WorkBudget _budget;

    private readonly Category[] _standardCategories;
    private readonly Dictionary<TokenIndex, Symbol?[]> _indexSymbols = [];
    private readonly Dictionary<ManuscriptFile, (string Key, TokenIndex Index)> _indexes = [];
    private string? _categoriesKey;
    private InputFrame[] _input = new InputFrame[64];
    private int _depth;
    private int _idle;
    private long _waiting;
    private int _runaways;
    private int _steps;
    private int _sinceSource;
    private int _lastSourcePosition = PositionTable.None;
    private Token? _afterAssignment;
    private int _holdAtFileEnd;

    /// <summary>Creates a machine with the language's own commands.</summary>
    /// <param name="findings">Takes what the machine has to say.</param>
    /// <param name="budget">What the compile may take; null: as much as one.</param>
    public Machine(FindingLog findings, WorkBudget? budget = null)
    {
        Findings = findings;
        _budget = budget ?? new WorkBudget();
        _symbolsBySpan = _symbols.GetAlternateLookup<ReadOnlySpan<char>>();
        Par = Symbol("par");
        for (int i = 0; i < _categories.Length; i++)
        {
            Category category = i switch
            {
                '\\' => Category.Escape,
                '{' => Category.BeginGroup,
                '}' => Category.EndGroup,
                '$' => Category.MathShift,
                '&' => Category.Alignment,
                '\n' => Category.EndOfLine,
                '#' => Category.Parameter,
                '^' => Category.Superscript,
                '_' => Category.Subscript,
                '\r' or 0 => Category.Ignored,
                ' ' or '\t' => Category.Space,
                '~' => Category.Active,
                '%' => Category.Comment,
                < 32 or 127 => Category.Invalid,
                _ => char.IsLetter((char)i) ? Category.Letter : Category.Other,
            };
            _categories[i] = new(category);
        }

        _standardCategories = [.. _categories.Select(c => c.Value)];
        foreach (Scoped<Category> category in _categories)
        {
            category.Changed = () => _categoriesKey = null;
        }

        DefinePrimitives();
        DefineConditionals();
        DefineKernel();
    }

    /// <summary>Where findings go.</summary>
    public FindingLog Findings { get; }

    /// <summary>Positions of all that was read.</summary>
    public PositionTable Positions { get; } = new();

    /// <summary>The symbol <c>\par</c>, which an empty line gives.</summary>
    public Symbol Par { get; }

    /// <summary>The open groups, outermost first.</summary>
    public IReadOnlyList<Group> Groups => _groups;

    /// <summary>Position of the token read last from a file.</summary>
    public int LastSourcePosition => _lastSourcePosition;

    /// <summary>Position of the macro call or token being worked on, for findings.</summary>
    public int CurrentPosition { get; private set; } = PositionTable.None;

    /// <summary>All symbols that mean something, for suggestions.</summary>
    public IEnumerable<string> DefinedNames =>
        _symbols.Values.Where(s => s.Meaning.Value is not null && !s.Name.Contains('@', StringComparison.Ordinal) && !s.Name.Contains(' ', StringComparison.Ordinal)).Select(s => s.Name);

    /// <summary>The symbol of a name.</summary>
    public Symbol Symbol(string name)
    {
        if (!_symbols.TryGetValue(name, out Symbol? symbol))
        {
            symbol = new Symbol(name, false);
            _symbols.Add(name, symbol);
        }

        return symbol;
    }

    /// <summary>The symbol of a name.</summary>
    public Symbol Symbol(ReadOnlySpan<char> name)
    {
        if (!_symbolsBySpan.TryGetValue(name, out Symbol? symbol))
        {
            symbol = Symbol(name.ToString());
        }

        return symbol;
    }

    /// <summary>The symbol of an active character.</summary>
    public Symbol ActiveSymbol(int code)
    {
        if (!_active.TryGetValue(code, out Symbol? symbol))
        {
            symbol = new Symbol(char.ConvertFromUtf32(code), true);
            _active.Add(code, symbol);
        }

        return symbol;
    }

    /// <summary>Whether a name has a meaning.</summary>
    public bool IsDefined(string name) => _symbols.TryGetValue(name, out Symbol? s) && s.Meaning.Value is not null;

    /// <summary>Gives a name a built-in command.</summary>
    public void Define(string name, Action<Machine, Token> execute) =>
        Symbol(name).Meaning.Value = new BuiltInCommand(name, execute);

    /// <summary>Gives an active character a built-in command.</summary>
    public void DefineActive(char character, Action<Machine, Token> execute) =>
        ActiveSymbol(character).Meaning.Value = new BuiltInCommand(character.ToString(), execute);

    /// <summary>Gives a name any meaning, outside all groups.</summary>
    public void DefineMeaning(string name, Meaning meaning) => Symbol(name).Meaning.Value = meaning;

    /// <summary>Gives a name an expandable built-in command.</summary>
    public void DefineExpandable(string name, Action<Machine, Token> expand) =>
        Symbol(name).Meaning.Value = new ExpandableCommand(name, expand);

    /// <summary>The category code of a character now.</summary>
    public Category CategoryOf(int code)
    {
        if (code < _categories.Length)
        {
            return _categories[code].Value;
        }

        if (_moreCategories.Count > 0 && _moreCategories.TryGetValue(code, out Scoped<Category>? special))
        {
            return special.Value;
        }

        return code switch
        {
            // Accents that combine with the letter before them belong to it.
            >= 0x300 and <= 0x36F => Category.Letter,
            0xFEFF or 0x200B => Category.Ignored,
            < 0x10000 => char.IsLetter((char)code) ? Category.Letter : Category.Other,
            _ => Category.Other,
        };
    }

    /// <summary>Changes a character's category.</summary>
    public void SetCategory(int code, Category category, bool global = false)
    {
        if (code < _categories.Length)
        {
            Assign(_categories[code], category, global);
            return;
        }

        if (!_moreCategories.TryGetValue(code, out Scoped<Category>? scoped))
        {
            _moreCategories[code] = scoped = new(CategoryOf(code)) { Changed = () => _categoriesKey = null };
        }

        Assign(scoped, category, global);
    }

    /// <summary>Sets a value in the present group, or in all.</summary>
    public void Assign<T>(Scoped<T> target, T value, bool global = false)
    {
        if (global)
        {
            target.Level = 0;
        }
        else if (target.Level != _groups.Count)
        {
            _saved.Add((target, target.Save(), target.Level));
            target.Level = _groups.Count;
        }

        target.Value = value;
        target.Changed?.Invoke();
    }

    // The category codes that differ from the usual ones, in words.
    private string CategoriesKey()
    {
        if (_categoriesKey is null)
        {
            var key = new System.Text.StringBuilder();
            for (int i = 0; i < _categories.Length; i++)
            {
                if (_categories[i].Value != _standardCategories[i])
                {
                    key.Append(i).Append(':').Append((int)_categories[i].Value).Append(' ');
                }
            }

            foreach ((int code, Scoped<Category> category) in _moreCategories.OrderBy(c => c.Key))
            {
                key.Append(code).Append(':').Append((int)category.Value).Append(' ');
            }

            _categoriesKey = key.ToString();
        }

        return _categoriesKey;
    }

    /// <summary>A file's tokens by the present category codes.</summary>
    internal TokenIndex IndexOf(ManuscriptFile file)
    {
        string key = CategoriesKey();
        if (_indexes.TryGetValue(file, out (string Key, TokenIndex Index) known) && ReferenceEquals(known.Key, key))
        {
            return known.Index;
        }

        TokenIndex index = file.Index(key, () => TokenIndex.Read(this, file));
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
        if (_depth == 0 || _input[_depth - 1].Lexer is not { HasPositions: true } lexer || !lexer.TryTakeWords(out words, out position))
        {
            words = default;
            position = 0;
            return false;
        }

        _sinceSource = 0;
        CurrentPosition = _lastSourcePosition = position + words.Length - 1;
        _budget.Spend(1 + (words.Length / LettersOfUnit));
        return true;
    }

    /// <summary>Opens a group.</summary>
    public Group BeginGroup(GroupKind kind, string name, int position)
    {
        if (_groups.Count >= GroupDepthLimit)
        {
            throw new MarkupLimitException("nested-too-deep", "Groups are nested more than 2,000 deep here.", position);
        }

        var group = new Group(kind, name, position, _saved.Count);
        _groups.Add(group);
        return group;
    }

    /// <summary>Closes the innermost group and undoes its assignments.</summary>
    public void EndGroup()
    {
        if (_groups.Count == 0)
        {
            return;
        }

        Group group = _groups[^1];
        group.Ending?.Invoke();
        _groups.RemoveAt(_groups.Count - 1);
        for (int i = _saved.Count - 1; i >= group.SaveStart; i--)
        {
            (Scoped target, object? saved, int level) = _saved[i];
            // A global assignment inside the group (level 0) stays.
            if (target.Level != 0)
            {
                target.Restore(saved);
                target.Level = level;
            }
        }

        _saved.RemoveRange(group.SaveStart, _saved.Count - group.SaveStart);
        if (group.After is { } after)
        {
            Push(after);
        }
    }

    // ---- input -----------------------------------------------------------------------------------------

    /// <summary>Notes that tokens were copied: they count like those that macros make.</summary>
    /// <exception cref="WorkLimitException">There were too many.</exception>
    public void CountCopied(int tokens) => _budget.Spend(tokens / TokensOfUnit);

    /// <summary>Begins to read a file; what is being read now goes on after it.</summary>
    public void OpenFile(ManuscriptFile file)
    {
        int start = Positions.Register(file);
        if (file.FirstUnreadable >= 0)
        {
            Findings.Fix("not-utf8", start + file.FirstUnreadable, 1,
                $"The file {file.Path} is not stored as UTF-8; it was read as Latin-1.",
                "Some letters may come out wrong. Store the file as UTF-8, or convert it from Latin-1 in the Files list.");
        }

        PushFrame(new InputFrame { Lexer = new Lexer(this, file, start) });
    }

    /// <summary>The lexer of the innermost file, if its text comes next (no tokens are waiting before it).</summary>
    public Lexer? DirectLexer
    {
        get
        {
            DropExhausted();
            return _depth > 0 && _input[_depth - 1].Lexer is { HasPositions: true } lexer ? lexer : null;
        }
    }

    /// <summary>The lexer of the file being read, whatever waits before it.</summary>
    public Lexer? InnermostLexer
    {
        get
        {
            for (int i = _depth - 1; i >= 0; i--)
            {
                if (_input[i].Lexer is { HasPositions: true } lexer)
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
                if (_input[i].Lexer is { HasPositions: true } lexer)
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
            PushFrame(new InputFrame { Tokens = tokens });
        }
    }

    /// <summary>Puts tokens before what comes next.</summary>
    public void Push(List<Token> tokens) => Push(tokens.ToArray());

    /// <summary>Puts text before what comes next, read by the present category codes with no position of its own.</summary>
    public void PushMarkup(string markup, int position) => Push(Tokenize(markup, position));

    /// <summary>Makes tokens of a text by the present category codes; all get one position.</summary>
    public Token[] Tokenize(string markup, int position)
    {
        var lexer = Lexer.WithinLine(this, markup);
        var tokens = new List<Token>();
        while (lexer.TryRead(out Token token))
        {
            tokens.Add(token.At(position));
        }

        return [.. tokens];
    }

    /// <summary>Stops reading altogether (<c>\end{document}</c>).</summary>
    public void DropAllInput() => _depth = 0;

    /// <summary>The next token, unexpanded; a stop at the end of all input.</summary>
    public Token Next()
    {
        _budget.Check();
        while (_depth > 0)
        {
            ref InputFrame frame = ref _input[_depth - 1];
            if (frame.Lexer is { } lexer)
            {
                if (lexer.TryRead(out Token read))
                {
                    if (!lexer.HasPositions)
                    {
                        return read;
                    }

                    _sinceSource = 0;
                    _idle = 0;
                    _lastSourcePosition = read.Position;
                    CurrentPosition = read.Position;
                    return read;
                }

                if (_holdAtFileEnd > 0)
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
            ref InputFrame frame = ref _input[_depth - 1];
            if (frame.Tokens is { } tokens && frame.Index > 0 && tokens[frame.Index - 1] == token
                && tokens[frame.Index - 1].Position == token.Position)
            {
                frame.Index--;
                return;
            }
        }

        PushFrame(new InputFrame { Tokens = [token] });
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
        PushFrame(new InputFrame { Tokens = run });
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

    /// <summary>The next token after expansion: a character or a command that is to be carried out.</summary>
    public Token NextExpanded()
    {
        while (true)
        {
            Token token = Next();
            if (token.Symbol is not { } symbol || symbol.Meaning.Value is not { IsExpandable: true } meaning || token.IsFrozen)
            {
                _budget.Spend();
                return token;
            }

            Expand(token, meaning);
        }
    }

    /// <summary>Expands one token whose meaning is expandable.</summary>
    internal void Expand(Token token, Meaning meaning)
    {
        CountStep(token);
        if (meaning is MacroMeaning macro)
        {
            ExpandMacro(token, macro);
        }
        else if (meaning is DocumentCommandMeaning documentCommand)
        {
            ExpandDocumentCommand(token, documentCommand);
        }
        else if (meaning is ConditionalCommand condition)
        {
            Branch(token, condition, false);
        }
        else
        {
            ((ExpandableCommand)meaning).Expand(this, token);
        }
    }

    /// <summary>Expands tokens fully, as <c>\edef</c> does.</summary>
    public List<Token> ExpandFully(IReadOnlyList<Token> tokens)
    {
        var result = new List<Token>();
        Scan(tokens, () =>
        {
            for (Token t = NextForEdef(result); !t.Is(Category.Stop); t = NextForEdef(result))
            {
                result.Add(t);
            }
        });
        return result;
    }

    /// <summary>The text of tokens after expansion: for keys, file names and numbers.</summary>
    public string ExpandToText(IReadOnlyList<Token> tokens)
    {
        var text = new System.Text.StringBuilder();
        foreach (Token token in ExpandFully(tokens))
        {
            if (token.Symbol is { IsActiveCharacter: true } active)
            {
                text.Append(active.Name == "~" ? " " : active.Name);
            }
            else if (token.Symbol is { } symbol)
            {
                if (symbol.Name is "_" or "&" or "%" or "#" or "$" or " ")
                {
                    text.Append(symbol.Name);
                }
            }
            else
            {
                text.Append(token.ToString());
            }
        }

        return text.ToString();
    }

    /// <summary>Carries on with <c>\afterassignment</c>'s token; assignments call it when they are done.</summary>
    public void FinishAssignment()
    {
        if (_afterAssignment is { } token)
        {
            _afterAssignment = null;
            PutBack(token);
        }
    }

    private Token NextForEdef(List<Token> result)
    {
        while (true)
        {
            Token token = Next();
            if (token.IsFrozen)
            {
                return token.Thawed();
            }

            switch (token.Symbol?.Meaning.Value)
            {
                case MacroMeaning { IsProtected: true } or DocumentCommandMeaning { IsProtected: true }:
                    return token;
                case ExpandableCommand { Name: "the" or "unexpanded" }:
                    // What \the gives is not expanded again (The TeXbook, p. 216).
                    DropExhausted();
                    int depth = _depth;
                    Expand(token, token.Symbol!.Meaning.Value!);
                    while (_depth > depth && _input[_depth - 1].Tokens is { } rest)
                    {
                        result.AddRange(rest.AsSpan(_input[_depth - 1].Index));
                        _depth--;
                    }

                    continue;
                case { IsExpandable: true } meaning:
                    if (meaning is ExpandableCommand { Name: "noexpand" })
                    {
                        return Next();
                    }

                    Expand(token, meaning);
                    continue;
                default:
                    if (token.IsCommand("protect"))
                    {
                        result.Add(token);
                        return Next();
                    }

                    return token;
            }
        }
    }

    private void CountStep(Token token)
    {
        if (token.Position != PositionTable.None)
        {
            CurrentPosition = token.Position;
        }

        _sinceSource++;
        if ((++_steps & 0xFFF) == 0 && _steps > StepsLimit)
        {
            throw new MarkupLimitException("too-slow", "The commands of this manuscript take longer than the compiler allows.", CurrentPosition);
        }

        if (_sinceSource > RunawayLimit || _depth > InputDepthLimit)
        {
            _sinceSource = 0;
            Findings.Fix("endless-macro", CurrentPosition, 1,
                $"{token} calls itself without end.",
                "Its definition leads back to itself, so it was left out here. Look at its \\newcommand or \\def.");
            if (token.Symbol is { } symbol)
            {
                Assign(symbol.Meaning, new MacroMeaning { Pattern = [], Body = [], Arity = 0 }, true);
            }

            // Drop what the macro still wants to say; go on with the source.
            while (_depth > 0 && _input[_depth - 1].Lexer is null
                && !_input[_depth - 1].Tokens.AsSpan(_input[_depth - 1].Index).ContainsStop())
            {
                _depth--;
            }

            while (_conditionals.Count > 0 && _conditionals.Peek().IsTesting)
            {
                _conditionals.Pop();
            }

            if (++_runaways > RunawaysLimit)
            {
                throw new MarkupLimitException("endless-macro", "Too many commands here repeat without end.", CurrentPosition);
            }

            throw new RunawayException();
        }
    }

    private void DropExhausted()
    {
        while (_depth > 0 && _input[_depth - 1].Tokens is { } tokens && _input[_depth - 1].Index >= tokens.Length)
        {
            _depth--;
        }
    }

    private void PushFrame(InputFrame frame)
    {
        if (_depth == _input.Length)
        {
            if (_depth > InputDepthLimit * 2)
            {
                throw new MarkupLimitException("nested-too-deep", "Definitions are nested too deeply here.", CurrentPosition);
            }

            Array.Resize(ref _input, _depth * 2);
        }

        _input[_depth++] = frame;
        _waiting += frame.Tokens?.Length ?? 0;
        if (_waiting > WaitingLimit)
        {
            // Frames that were dropped without being counted may make it seem more than it is.
            _waiting = 0;
            for (int i = 0; i < _depth; i++)
            {
                _waiting += _input[i].Tokens?.Length ?? 0;
            }

            if (_waiting > WaitingLimit)
            {
                throw new MarkupLimitException("too-much-text", "The commands here make more text than the compiler takes.", CurrentPosition);
            }
        }
    }

    private struct InputFrame
    {
        public Token[]? Tokens;
        public int Index;
        public Lexer? Lexer;
    }
}

/// <summary>Thrown out of a runaway expansion; the main loop catches it and goes on with the source.</summary>
public sealed class RunawayException : Exception;

/// <summary>A limit of the compiler was reached; what was built so far still makes a proof.</summary>
public sealed class MarkupLimitException(string code, string message, int position) : Exception(message)
{
    /// <summary>The finding's code.</summary>
    public string Code => code;

    /// <summary>Where it happened.</summary>
    public int Position => position;
}

internal static class TokenSpans
{
    public static bool ContainsStop(this Span<Token> tokens)
    {
        foreach (Token t in tokens)
        {
            if (t.Is(Category.Stop))
            {
                return true;
            }
        }

        return false;
    }
}
