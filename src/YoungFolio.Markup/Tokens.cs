namespace YoungFolio.Markup;

/// <summary>
/// Category codes of characters (Knuth, <em>The TeXbook</em>, chapter 7), and three kinds of token that no
/// character has: a command, a parameter in a macro's body, and the mark at which a scan stops.
/// </summary>
public enum Category : byte
{
    /// <summary>Begins a command: <c>\</c>.</summary>
    Escape = 0,

    /// <summary>Begins a group: <c>{</c>.</summary>
    BeginGroup = 1,

    /// <summary>Ends a group: <c>}</c>.</summary>
    EndGroup = 2,

    /// <summary>Switches to mathematics: <c>$</c>.</summary>
    MathShift = 3,

    /// <summary>Parts columns: <c>&amp;</c>.</summary>
    Alignment = 4,

    /// <summary>Ends a line.</summary>
    EndOfLine = 5,

    /// <summary>A macro's parameter: <c>#</c>.</summary>
    Parameter = 6,

    /// <summary>Raises a script: <c>^</c>.</summary>
    Superscript = 7,

    /// <summary>Lowers a script: <c>_</c>.</summary>
    Subscript = 8,

    /// <summary>Skipped.</summary>
    Ignored = 9,

    /// <summary>A space.</summary>
    Space = 10,

    /// <summary>A letter.</summary>
    Letter = 11,

    /// <summary>Any other printed character.</summary>
    Other = 12,

    /// <summary>A character that is a command: <c>~</c>.</summary>
    Active = 13,

    /// <summary>Begins a comment: <c>%</c>.</summary>
    Comment = 14,

    /// <summary>Not allowed.</summary>
    Invalid = 15,

    /// <summary>A command token; active characters are commands once they are read.</summary>
    Command = 16,

    /// <summary>A numbered parameter in a macro's body.</summary>
    Argument = 17,

    /// <summary>The mark at which a scan stops; also given at the end of all input.</summary>
    Stop = 18,
}

/// <summary>A command's name with its present meaning. One object a name and machine.</summary>
public sealed class Symbol
{
    internal Symbol(string name, bool active)
    {
        Name = name;
        IsActiveCharacter = active;
        Meaning = new Scoped<Meaning?>(null);
    }

    /// <summary>The name without its backslash.</summary>
    public string Name { get; }

    /// <summary>Whether this is an active character rather than a command with a backslash.</summary>
    public bool IsActiveCharacter { get; }

    /// <summary>What it means now; null when undefined.</summary>
    public Scoped<Meaning?> Meaning { get; }

    /// <summary>The name as written in source.</summary>
    public string Written => IsActiveCharacter ? Name : "\\" + Name;

    /// <inheritdoc/>
    public override string ToString() => Written;
}

/// <summary>The smallest unit of markup: a character with its category, or a command.</summary>
public readonly struct Token : IEquatable<Token>
{
    private readonly int _value;

    private Token(Symbol? symbol, int value, int position)
    {
        Symbol = symbol;
        _value = value;
        Position = position;
    }

    /// <summary>The command's symbol, or null.</summary>
    public Symbol? Symbol { get; }

    /// <summary>Position of the token's first character, see <see cref="PositionTable"/>.</summary>
    public int Position { get; }

    /// <summary>The category.</summary>
    public Category Category => (Category)(_value >>> 24);

    /// <summary>The character's code point; for an argument its number; for a stop its identity.</summary>
    public int Code => _value & 0xFFFFFF;

    /// <summary>Number of source characters that the token takes.</summary>
    public int Length => Symbol is { IsActiveCharacter: false } s ? s.Name.Length + 1 : 1;

    /// <summary>A character token.</summary>
    public static Token Character(int code, Category category, int position) =>
        new(null, code | ((int)category << 24), position);

    /// <summary>A command token.</summary>
    public static Token Command(Symbol symbol, int position) =>
        new(symbol, (int)Category.Command << 24, position);

    /// <summary>A mark at which a scan stops.</summary>
    public static Token Stop(int identity = 0) => new(null, identity | ((int)Category.Stop << 24), PositionTable.None);

    /// <summary>Whether this is a character of the given category.</summary>
    public bool Is(Category category) => Category == category;

    /// <summary>Whether this is exactly this character, as a letter or another printed character.</summary>
    public bool IsCharacter(char c) => Code == c && Category is Category.Other or Category.Letter && Code == c;

    /// <summary>Whether this is the command of this name.</summary>
    public bool IsCommand(string name) => Symbol is { IsActiveCharacter: false } s && s.Name == name;

    /// <summary>Whether <c>\noexpand</c> stood before this command, so that it isn't expanded here.</summary>
    public bool IsFrozen => Symbol is not null && Code == 1;

    /// <summary>The command as one that isn't expanded; other tokens stay as they are.</summary>
    public Token Frozen() => Symbol is null ? this : new(Symbol, ((int)Category.Command << 24) | 1, Position);

    /// <summary>The command as any other again.</summary>
    public Token Thawed() => IsFrozen ? Command(Symbol!, Position) : this;

    /// <summary>The same token at another position.</summary>
    public Token At(int position) => new(Symbol, _value, position);

    /// <summary>Same category, character and symbol; the position doesn't count.</summary>
    public bool Equals(Token other) => _value == other._value && ReferenceEquals(Symbol, other.Symbol);

    /// <inheritdoc/>
    public override bool Equals(object? obj) => obj is Token t && Equals(t);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(_value, Symbol);

    /// <summary>Equality without the position.</summary>
    public static bool operator ==(Token left, Token right) => left.Equals(right);

    /// <summary>Inequality without the position.</summary>
    public static bool operator !=(Token left, Token right) => !left.Equals(right);

    /// <summary>The token as source text.</summary>
    public override string ToString() => Category switch
    {
        Category.Command => Symbol!.Written,
        Category.Argument => "#" + Code,
        Category.Stop => "",
        _ => char.ConvertFromUtf32(Code),
    };
}

/// <summary>Helpers for runs of tokens.</summary>
public static class TokenRun
{
    /// <summary>The tokens as <c>\detokenize</c> shows them: a space follows each command's word (e-TeX manual, from memory).</summary>
    public static string ToShownSource(this IReadOnlyList<Token> tokens)
    {
        var text = new System.Text.StringBuilder();
        foreach (Token token in tokens)
        {
            text.Append(token.ToString());
            if (token.Symbol is { IsActiveCharacter: false } s && (s.Name.Length > 1 || (s.Name.Length == 1 && char.IsLetter(s.Name[0]))))
            {
                text.Append(' ');
            }
            else if (token.Is(Category.Parameter))
            {
                text.Append(token.ToString());
            }
        }

        return text.ToString();
    }

    /// <summary>The tokens as source text; a space follows a command that a letter would run into.</summary>
    public static string ToSource(this IReadOnlyList<Token> tokens)
    {
        var text = new System.Text.StringBuilder();
        for (int i = 0; i < tokens.Count; i++)
        {
            text.Append(tokens[i].ToString());
            if (tokens[i].Symbol is { IsActiveCharacter: false } s && s.Name.Length > 0 && char.IsLetter(s.Name[^1])
                && i + 1 < tokens.Count && tokens[i + 1].Is(Category.Letter))
            {
                text.Append(' ');
            }
        }

        return text.ToString();
    }
}
