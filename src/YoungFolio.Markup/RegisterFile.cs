namespace YoungFolio.Markup;

/// <summary>The registers, by number and by name.</summary>
public sealed class RegisterFile(Machine machine)
{
    // Glue for formulas has registers of its own beside \skip's.
    private const int MuSkipOffset = 1 << 20;
    private readonly Dictionary<int, Scoped<int>> _counts = [];
    private readonly Dictionary<int, Scoped<Dimension>> _dimensions = [];
    private readonly Dictionary<int, Scoped<Glue>> _skips = [];
    private readonly Dictionary<int, Scoped<Token[]>> _tokenLists = [];
    private readonly Dictionary<int, Scoped<int>> _lowerCodes = [];
    private readonly Dictionary<int, Scoped<int>> _upperCodes = [];
    private readonly Dictionary<int, Scoped<int>> _mathCodes = [];
    private int _next = 256;

    /// <summary>The numbered count register.</summary>
    public Scoped<int> Count(int number) => Register(_counts, number, 0);

    /// <summary>The numbered length register.</summary>
    public Scoped<Dimension> Length(int number) => Register(_dimensions, number, default);

    /// <summary>The numbered glue register.</summary>
    public Scoped<Glue> Skip(int number) => Register(_skips, number, default);

    /// <summary>The numbered register of glue for formulas.</summary>
    public Scoped<Glue> MuSkip(int number) => Register(_skips, number + MuSkipOffset, default);

    /// <summary>The numbered token register.</summary>
    public Scoped<Token[]> TokenList(int number) => Register(_tokenLists, number, []);

    /// <summary>What a character becomes in <c>\lowercase</c>; 0: it stays.</summary>
    public Scoped<int> LowerCode(int code) => Register(_lowerCodes, code, CaseOf(code, false));

    /// <summary>What a character is in formulas (<c>\mathcode</c>); negative: what Unicode says.</summary>
    public Scoped<int> MathCode(int code) => Register(_mathCodes, code, -1);

    /// <summary>The code that a character was given for formulas; null: none.</summary>
    public int? MathCodeOf(int code) => _mathCodes.TryGetValue(code, out Scoped<int>? given) && given.Value >= 0 ? given.Value : null;

    /// <summary>What a character becomes in <c>\uppercase</c>; 0: it stays.</summary>
    public Scoped<int> UpperCode(int code) => Register(_upperCodes, code, CaseOf(code, true));

    /// <summary>The number of a register that nobody uses yet.</summary>
    public int Allocate() => _next++;

    /// <summary>A named length of the document, made if need be: <c>\textwidth</c>.</summary>
    public Scoped<Dimension> NamedDimension(string name, Dimension initial = default) => Named(name, initial);

    /// <summary>A named glue of the document, made if need be: <c>\parskip</c>.</summary>
    public Scoped<Glue> NamedGlue(string name, Glue initial = default) => Named(name, initial);

    /// <summary>A named number of the document, made if need be: <c>\tolerance</c>.</summary>
    public Scoped<int> NamedCount(string name, int initial = 0) => Named(name, initial);

    private Scoped<T> Named<T>(string name, T initial)
    {
        if (machine.Symbol(name).Meaning.Value is RegisterMeaning<T> known)
        {
            return known.Register;
        }

        var register = new Scoped<T>(initial);
        machine.DefineMeaning(name, new RegisterMeaning<T>(register));
        return register;
    }

    internal static Scoped<T> Register<T>(Dictionary<int, Scoped<T>> registers, int number, T initial)
    {
        if (!registers.TryGetValue(number, out Scoped<T>? register))
        {
            registers[number] = register = new(initial);
        }

        return register;
    }

    private static int CaseOf(int code, bool upper)
    {
        if (code is < 0 or > 0xFFFF || !char.IsLetter((char)code))
        {
            return 0;
        }

        return upper ? char.ToUpperInvariant((char)code) : char.ToLowerInvariant((char)code);
    }
}
