namespace YoungFolio.Markup;

/// <summary>One argument of a document command: how it is delimited and what stands for it when it isn't given.</summary>
/// <param name="Kind">m, o, s, t, r, d, e, v or b; capitals and g map to these.</param>
/// <param name="Open">The opening delimiter, or the token tested for.</param>
/// <param name="Close">The closing delimiter.</param>
/// <param name="Standard">What stands for a missing argument; null: the mark for "no value".</param>
public sealed record ArgumentType(char Kind, Token Open, Token Close, Token[]? Standard)
{
    /// <summary>Commands that work on the argument before it is handed on, outermost first.</summary>
    public IReadOnlyList<Token[]> Processors { get; init; } = [];
}

/// <summary>A command whose arguments are described by letters (<c>\NewDocumentCommand</c>).</summary>
public sealed class DocumentCommandMeaning(IReadOnlyList<ArgumentType> arguments, Token[] body) : Meaning
{
    /// <summary>The arguments.</summary>
    public IReadOnlyList<ArgumentType> Arguments => arguments;

    /// <summary>The replacement.</summary>
    public Token[] Body => body;

    /// <summary>For an environment: what its end does, with the same arguments.</summary>
    public Token[]? EndBody { get; init; }

    /// <summary>For an environment: the command of its end.</summary>
    public Symbol? EndSymbol { get; init; }

    /// <summary>Whether <c>\edef</c> leaves it alone.</summary>
    public bool IsProtected { get; init; } = true;

    /// <inheritdoc/>
    public override bool IsExpandable => true;
}
