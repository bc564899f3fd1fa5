namespace YoungFolio.Markup;

/// <summary>
/// A file's text as tokens, made once for a set of category codes and kept with the file: a compile after an edit elsewhere takes
/// it as it is. Stretches of plain words are one item each.
/// </summary>
internal sealed class TokenIndex
{
    private readonly List<IndexedToken> _items;
    private readonly List<string> _names = [];

    private TokenIndex(int expected) => _items = new List<IndexedToken>(expected);

    /// <summary>What an item stands for.</summary>
    public enum IndexedTokenKind : byte
    {
        /// <summary>A character with its category.</summary>
        Character,

        /// <summary>A command; the value is its name's number.</summary>
        Command,

        /// <summary>An active character; the value is its code point.</summary>
        Active,

        /// <summary>Plain words and the single spaces between them.</summary>
        Words,

        /// <summary>Something that has to be read anew each time, since it has something to say.</summary>
        Unread,
    }

    /// <summary>A token, or a run of plain words.</summary>
    /// <param name="Offset">Index of its first character.</param>
    /// <param name="End">Index behind its last one.</param>
    /// <param name="Value">Code point with category, or number of a name.</param>
    /// <param name="Kind">What it stands for.</param>
    /// <param name="Before">The reader's state before it.</param>
    /// <param name="After">The reader's state after it.</param>
    public readonly record struct IndexedToken(int Offset, int End, int Value, IndexedTokenKind Kind, LineState Before, LineState After);

    /// <summary>The items, in order.</summary>
    public IReadOnlyList<IndexedToken> Items => _items;

    /// <summary>Names of commands.</summary>
    public IReadOnlyList<string> Names => _names;

    /// <summary>The item at an index.</summary>
    public IndexedToken At(int index) => _items[index];

    /// <summary>Index of the first item that begins at an offset or behind it.</summary>
    public int Find(int offset)
    {
        int low = 0;
        int high = _items.Count;
        while (low < high)
        {
            int middle = (low + high) / 2;
            if (_items[middle].Offset < offset)
            {
                low = middle + 1;
            }
            else
            {
                high = middle;
            }
        }

        return low;
    }

    /// <summary>Reads a file by the machine's present category codes.</summary>
    public static TokenIndex Read(Machine machine, ManuscriptFile file)
    {
        // About an item every six characters in prose.
        var index = new TokenIndex(file.Text.Length / 6);
        var numbers = new Dictionary<Symbol, int>();
        var lexer = new Lexer(machine, file, 0, reads: false);
        while (lexer.TryReadItem(out Token token, out IndexedToken item))
        {
            if (token.Symbol is { IsActiveCharacter: false } symbol)
            {
                if (!numbers.TryGetValue(symbol, out int number))
                {
                    numbers[symbol] = number = index._names.Count;
                    index._names.Add(symbol.Name);
                }

                item = item with { Value = number };
            }

            index._items.Add(item);
        }

        return index;
    }
}

/// <summary>Where a reader stands in its line (The TeXbook, p. 46).</summary>
internal enum LineState : byte
{
    /// <summary>At the beginning of a line.</summary>
    New,

    /// <summary>Within a line.</summary>
    Middle,

    /// <summary>Passing over blanks.</summary>
    SkippingBlanks,
}
