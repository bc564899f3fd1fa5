namespace YoungFolio.Bibliography;

/// <summary>
/// A program in the language of bibliography styles, a .bst file (Patashnik, <em>Designing BibTeX Styles</em>, 1988): it says how entries are
/// sorted, labelled and printed. A manuscript may bring one; ours of the classic styles are such programs, too.
/// </summary>
public sealed class StyleProgram
{
    private readonly Dictionary<string, string> _macros;

    internal StyleProgram(StyleNames names, IReadOnlyList<StyleCommand> commands, Dictionary<string, string> macros, IReadOnlyList<StyleProblem> problems, CitationLabel label)
    {
        Names = names;
        Commands = commands;
        _macros = macros;
        Problems = problems;
        Label = label;
    }

    /// <summary>What its names mean.</summary>
    internal StyleNames Names { get; }

    /// <summary>What it does, in order.</summary>
    internal IReadOnlyList<StyleCommand> Commands { get; }

    /// <summary>Whether it does nothing.</summary>
    public bool IsEmpty => Commands.Count == 0;

    /// <summary>What can't be read in it.</summary>
    public IReadOnlyList<StyleProblem> Problems { get; }

    /// <summary>What its labels show: nothing (then sources are numbered), letters, or names and years.</summary>
    public CitationLabel Label { get; }

    /// <summary>What a word without braces stands for in .bib files, such as <c>jan</c>; null when the style says nothing of it.</summary>
    internal string? Macro(string name) => _macros.GetValueOrDefault(name);

    /// <summary>Reads a program.</summary>
    /// <param name="texts">Its text; of several, later functions take the place of earlier ones with their names.</param>
    public static StyleProgram Read(params IEnumerable<string> texts) => StyleProgramReader.Read(texts);
}

/// <summary>A slip in a style's program.</summary>
/// <param name="Offset">Where, in its last text.</param>
/// <param name="Message">What is wrong.</param>
public sealed record StyleProblem(int Offset, string Message);

/// <summary>What a style's program does at once, or for each entry.</summary>
/// <param name="Kind">What.</param>
/// <param name="Function">The function to run; null for those that run none.</param>
internal sealed record StyleCommand(StyleCommandKind Kind, StyleName? Function = null);

/// <summary>Kinds of commands that act; the others declare.</summary>
internal enum StyleCommandKind
{
    /// <summary>Entries are taken from the .bib files.</summary>
    Read,

    /// <summary>A function runs once.</summary>
    Execute,

    /// <summary>A function runs for each entry.</summary>
    Iterate,

    /// <summary>A function runs for each entry, the last one first.</summary>
    Reverse,

    /// <summary>Entries are sorted by their keys.</summary>
    Sort,
}

/// <summary>The names of a program with what they mean; upper and lower case are alike.</summary>
internal sealed class StyleNames
{
    private readonly Dictionary<string, StyleName> _names = new(StringComparer.OrdinalIgnoreCase);
    private readonly Dictionary<StyleNameKind, int> _counts = [];

    /// <summary>A name, which may have no meaning yet.</summary>
    public StyleName Of(string name)
    {
        if (!_names.TryGetValue(name, out StyleName? known))
        {
            _names[name] = known = new StyleName(name.ToLowerInvariant());
        }

        return known;
    }

    /// <summary>A name that means something, or null.</summary>
    public StyleName? Find(string name) => _names.TryGetValue(name, out StyleName? known) && known.Kind != StyleNameKind.Undefined ? known : null;

    /// <summary>All that have a meaning of a kind.</summary>
    public IEnumerable<StyleName> OfKind(StyleNameKind kind) => _names.Values.Where(n => n.Kind == kind);

    /// <summary>How many places the variables of a kind need.</summary>
    public int Count(StyleNameKind kind) => _counts.GetValueOrDefault(kind);

    /// <summary>Makes a name a variable.</summary>
    public void Declare(string name, StyleNameKind kind)
    {
        StyleName declared = Of(name);
        declared.Kind = kind;
        declared.Place = Count(kind);
        _counts[kind] = declared.Place + 1;
    }
}

/// <summary>Kinds of what a name may mean.</summary>
internal enum StyleNameKind
{
    /// <summary>Nothing.</summary>
    Undefined,

    /// <summary>A function of the language.</summary>
    BuiltIn,

    /// <summary>A function of the program.</summary>
    Function,

    /// <summary>A field of each entry.</summary>
    Field,

    /// <summary>A number of each entry.</summary>
    EntryInteger,

    /// <summary>A text of each entry.</summary>
    EntryString,

    /// <summary>A number.</summary>
    Integer,

    /// <summary>A text.</summary>
    String,
}

/// <summary>A name of a program.</summary>
internal sealed class StyleName(string text)
{
    /// <summary>The name in small letters.</summary>
    public string Text => text;

    /// <summary>What it means.</summary>
    public StyleNameKind Kind { get; set; }

    /// <summary>Of a variable: its place among those of its kind.</summary>
    public int Place { get; set; }

    /// <summary>Of a function of the program: what it does.</summary>
    public IReadOnlyList<StyleStep> Body { get; set; } = [];

    /// <summary>Of a function of the language: what it does.</summary>
    public Action<StyleRun>? BuiltIn { get; set; }
}

/// <summary>One step of a function.</summary>
internal abstract record StyleStep;

/// <summary>Puts a value on the stack.</summary>
internal sealed record PushStep(StyleValue Value) : StyleStep;

/// <summary>Does what a name means.</summary>
internal sealed record NameStep(StyleName Name) : StyleStep;

/// <summary>
/// A text that styles put together piece by piece: joined when it is asked for, so that a list of many names isn't written anew with each of
/// them.
/// </summary>
internal sealed class StyleString
{
    private StyleString? _before;
    private string? _last;
    private bool _isWhole;

    /// <summary>A text.</summary>
    public StyleString(string text)
    {
        (_last, _isWhole) = (text, true);
        Length = text.Length;
    }

    private StyleString(StyleString before, string last)
    {
        (_before, _last) = (before, last);
        Length = before.Length + last.Length;
    }

    /// <summary>How many characters it has.</summary>
    public int Length { get; }

    /// <summary>The text with another one behind it.</summary>
    public StyleString With(string more) => more.Length == 0 ? this : Length == 0 ? new StyleString(more) : new StyleString(this, more);

    /// <inheritdoc/>
    public override string ToString()
    {
        if (!_isWhole)
        {
            _last = string.Create(Length, this, static (whole, text) =>
            {
                int end = whole.Length;
                for (StyleString? part = text; part is not null; part = part._isWhole ? null : part._before)
                {
                    part._last.AsSpan().CopyTo(whole[(end - part._last!.Length)..]);
                    end -= part._last.Length;
                }
            });
            (_isWhole, _before) = (true, null);
        }

        return _last!;
    }
}

/// <summary>A value on the stack: a number, a text, a field that isn't there, or a function.</summary>
/// <param name="Number">The number; null: it isn't one.</param>
/// <param name="Content">The text; null with a number or function, or when a field isn't there.</param>
/// <param name="Function">The name of a function or variable, quoted.</param>
/// <param name="Body">A function without a name.</param>
internal readonly record struct StyleValue(int? Number, StyleString? Content, StyleName? Function = null, IReadOnlyList<StyleStep>? Body = null)
{
    /// <summary>The text as a whole.</summary>
    public string? Text => Content?.ToString();

    /// <summary>Stands for a field that isn't there.</summary>
    public bool IsMissing => Number is null && Content is null && Function is null && Body is null;

    public static implicit operator StyleValue(int number) => new(number, null);

    public static implicit operator StyleValue(string text) => new(null, new StyleString(text));
}
