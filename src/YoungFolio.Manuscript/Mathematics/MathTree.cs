using System.Text;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Mathematics;

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
public abstract class MathNode
{
    /// <summary>Position of what it was written by.</summary>
    public int Position { get; init; } = PositionTable.None;
}

/// <summary>A run of nodes.</summary>
public sealed class MathList
{
    /// <summary>An empty list.</summary>
    public static readonly MathList Empty = new([]);

    /// <summary>Takes the nodes.</summary>
    public MathList(IReadOnlyList<MathNode> nodes) => Nodes = nodes;

    /// <summary>The nodes.</summary>
    public IReadOnlyList<MathNode> Nodes { get; }

    /// <summary>Adds the symbols as plain text.</summary>
    public void AppendText(StringBuilder text) => MathText.Append(text, this);
}

/// <summary>A nucleus with its scripts.</summary>
public sealed class Atom(AtomClass atomClass, Nucleus nucleus) : MathNode
{
    /// <summary>The class.</summary>
    public AtomClass Class => atomClass;

    /// <summary>The nucleus.</summary>
    public Nucleus Nucleus => nucleus;

    /// <summary>What stands raised, or null.</summary>
    public MathList? Superscript { get; set; }

    /// <summary>What stands lowered, or null.</summary>
    public MathList? Subscript { get; set; }

    /// <summary>Where the scripts of an operator stand.</summary>
    public Limits Limits { get; set; }
}

/// <summary>A space.</summary>
/// <param name="width">Width: in 1/18 em, or in points.</param>
/// <param name="inPoints">Whether the width is in points.</param>
public sealed class MathGlue(double width, bool inPoints) : MathNode
{
    /// <summary>The width.</summary>
    public double Width => width;

    /// <summary>Whether the width is in points rather than in 1/18 em.</summary>
    public bool IsInPoints => inPoints;

    /// <summary>Whether it vanishes in scripts (<c>\nonscript</c>).</summary>
    public bool VanishesInScripts { get; init; }
}

/// <summary>How welcome the end of a line is here in a formula within a line.</summary>
/// <param name="penalty">From −10000 to 10000.</param>
public sealed class MathPenalty(int penalty) : MathNode
{
    /// <summary>The penalty.</summary>
    public int Penalty => penalty;
}

/// <summary>A change of size from here to the end of the list.</summary>
public sealed class SizeChange(MathSize size) : MathNode
{
    /// <summary>The size.</summary>
    public MathSize Size => size;
}
