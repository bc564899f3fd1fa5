namespace YoungFolio.Markup;

/// <summary>The names of the language and what each means now.</summary>
public sealed class SymbolTable
{
    private readonly Dictionary<string, Symbol> _symbols = new(StringComparer.Ordinal);
    private readonly Dictionary<string, Symbol>.AlternateLookup<ReadOnlySpan<char>> _symbolsBySpan;
    private readonly Dictionary<int, Symbol> _active = [];

    internal SymbolTable() => _symbolsBySpan = _symbols.GetAlternateLookup<ReadOnlySpan<char>>();

    /// <summary>All names that were ever met.</summary>
    internal IEnumerable<string> Names => _symbols.Keys;

    /// <summary>All symbols that mean something, for suggestions.</summary>
    public IEnumerable<string> DefinedNames =>
        _symbols.Values.Where(s => s.Meaning.Value is not null && !s.Name.Contains('@', StringComparison.Ordinal) && !s.Name.Contains(' ', StringComparison.Ordinal)).Select(s => s.Name);

    /// <summary>The symbol of a name.</summary>
    public Symbol Of(string name)
    {
        if (!_symbols.TryGetValue(name, out Symbol? symbol))
        {
            symbol = new Symbol(name, false);
            _symbols.Add(name, symbol);
        }

        return symbol;
    }

    /// <summary>The symbol of a name.</summary>
    public Symbol Of(ReadOnlySpan<char> name)
    {
        if (!_symbolsBySpan.TryGetValue(name, out Symbol? symbol))
        {
            symbol = Of(name.ToString());
        }

        return symbol;
    }

    /// <summary>The symbol of an active character.</summary>
    public Symbol OfActive(int code)
    {
        if (!_active.TryGetValue(code, out Symbol? symbol))
        {
            symbol = new Symbol(char.ConvertFromUtf32(code), true);
            _active.Add(code, symbol);
        }

        return symbol;
    }

    /// <summary>What a name means; null when it means nothing. It doesn't become known by asking.</summary>
    internal Meaning? MeaningOf(string name) => _symbols.TryGetValue(name, out Symbol? symbol) ? symbol.Meaning.Value : null;

    /// <summary>Whether a name has a meaning.</summary>
    public bool IsDefined(string name) => MeaningOf(name) is not null;

    /// <summary>Gives a name a built-in command.</summary>
    public void Define(string name, Action<Machine, Token> execute) =>
        Of(name).Meaning.Value = new BuiltInCommand(name, execute);

    /// <summary>Gives an active character a built-in command.</summary>
    public void DefineActive(char character, Action<Machine, Token> execute) =>
        OfActive(character).Meaning.Value = new BuiltInCommand(character.ToString(), execute);

    /// <summary>Gives a name any meaning, outside all groups.</summary>
    public void DefineMeaning(string name, Meaning meaning) => Of(name).Meaning.Value = meaning;

    /// <summary>Gives a name an expandable built-in command.</summary>
    public void DefineExpandable(string name, Action<Machine, Token> expand) =>
        Of(name).Meaning.Value = new ExpandableCommand(name, expand);
}
