using System.Text;
using YoungFolio.Markup;

namespace YoungFolio.Documents.Mathematics;

/// <summary>Classes of atoms, which decide the space between them (The TeXbook, ch. 18).</summary>
public enum AtomClass
{
    /// <summary>Ordinary: <c>x</c>.</summary>
    Ordinary,

    /// <summary>Large operator: a sum.</summary>
    Operator,

    /// <summary>Binary operation: a plus.</summary>
    Binary,

    /// <summary>Relation: an equals sign.</summary>
    Relation,

    /// <summary>Opening: a left parenthesis.</summary>
    Opening,

    /// <summary>Closing: a right parenthesis.</summary>
    Closing,

    /// <summary>Punctuation: a comma.</summary>
    Punctuation,

    /// <summary>Inner: a fraction, a formula between grown delimiters.</summary>
    Inner,
}

/// <summary>Sizes and forms of setting (The TeXbook, p. 140).</summary>
public enum MathSize
{
    /// <summary>Displayed.</summary>
    Display,

    /// <summary>In the line.</summary>
    Text,

    /// <summary>Scripts.</summary>
    Script,

    /// <summary>Scripts of scripts.</summary>
    ScriptScript,
}

/// <summary>Where an operator's scripts stand.</summary>
public enum Limits
{
    /// <summary>Above and below in displays, beside otherwise.</summary>
    Automatic,

    /// <summary>Always above and below.</summary>
    Always,

    /// <summary>Always beside.</summary>
    Never,
}

/// <summary>A node of a formula.</summary>
public abstract record MathNode : Node
{
    /// <summary>Position of what it was written by.</summary>
    public int Position { get; init; } = PositionTable.None;
}

/// <summary>A run of nodes.</summary>
/// <param name="Nodes">The nodes.</param>
public sealed partial record MathList(IReadOnlyList<MathNode> Nodes) : Node
{
    /// <summary>An empty list.</summary>
    public static MathList Empty { get; } = new([]);

    /// <summary>Adds the symbols as plain text.</summary>
    public void AppendText(StringBuilder text) => MathText.Append(text, this);
}

/// <summary>A nucleus with its scripts.</summary>
/// <param name="Class">The class.</param>
/// <param name="Nucleus">The nucleus.</param>
public sealed partial record Atom(AtomClass Class, Nucleus Nucleus) : MathNode
{
    /// <summary>What stands raised, or null.</summary>
    public MathList? Superscript { get; set; }

    /// <summary>What stands lowered, or null.</summary>
    public MathList? Subscript { get; set; }

    /// <summary>Where the scripts of an operator stand.</summary>
    public Limits Limits { get; set; }
}

/// <summary>A space.</summary>
/// <param name="Width">Width: in 1/18 em, or in points.</param>
/// <param name="IsInPoints">Whether the width is in points.</param>
public sealed partial record MathGlue(double Width, bool IsInPoints) : MathNode
{
    /// <summary>Whether it vanishes in scripts (<c>\nonscript</c>).</summary>
    public bool VanishesInScripts { get; init; }
}

/// <summary>How welcome the end of a line is here in a formula within a line.</summary>
/// <param name="Penalty">From −10000 to 10000.</param>
public sealed partial record MathPenalty(int Penalty) : MathNode;

/// <summary>A change of size from here to the end of the list.</summary>
/// <param name="Size">The size.</param>
public sealed partial record SizeChange(MathSize Size) : MathNode;
