using System.Text;
using YoungFolio.Markup;
using YoungFolio.Manuscript.Tree;

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
    public void AppendText(StringBuilder text)
    {
        foreach (MathNode node in Nodes)
        {
            if (node is Atom atom)
            {
                AppendNucleus(text, atom.Nucleus);
                if (atom.Superscript is { } sup)
                {
                    text.Append('^');
                    sup.AppendText(text);
                }

                if (atom.Subscript is { } sub)
                {
                    text.Append('_');
                    sub.AppendText(text);
                }
            }
            else if (node is MathGlue)
            {
                text.Append(' ');
            }
        }
    }

    private static void AppendNucleus(StringBuilder text, Nucleus nucleus)
    {
        switch (nucleus)
        {
            case SymbolNucleus symbol:
                text.Append(symbol.Text.Normalize(NormalizationForm.FormKC));
                break;
            case ListNucleus list:
                list.Content.AppendText(text);
                break;
            case WordNucleus word:
                text.Append(word.Text);
                break;
            case TextNucleus words:
                text.Append(PlainText.Of(words.Content));
                break;
            case FractionNucleus fraction:
                fraction.Numerator.AppendText(text);
                text.Append('/');
                fraction.Denominator.AppendText(text);
                break;
            case RadicalNucleus radical:
                text.Append('√');
                radical.Radicand.AppendText(text);
                break;
            case DelimitedNucleus delimited:
                text.Append(delimited.Left);
                delimited.Content.AppendText(text);
                text.Append(delimited.Right);
                break;
            case AccentNucleus accent:
                accent.Content.AppendText(text);
                break;
            case BarNucleus bar:
                bar.Content.AppendText(text);
                break;
            case GridNucleus grid:
                foreach (IReadOnlyList<MathList> row in grid.Rows)
                {
                    foreach (MathList cell in row)
                    {
                        cell.AppendText(text);
                        text.Append(' ');
                    }
                }

                break;
        }
    }
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
}

/// <summary>A change of size from here to the end of the list.</summary>
public sealed class SizeChange(MathSize size) : MathNode
{
    /// <summary>The size.</summary>
    public MathSize Size => size;
}

/// <summary>What an atom is made of.</summary>
public abstract class Nucleus;

/// <summary>One symbol.</summary>
/// <param name="text">The character as it is looked up in the mathematics font.</param>
public sealed class SymbolNucleus(string text) : Nucleus
{
    /// <summary>The character.</summary>
    public string Text => text;

    /// <summary>Whether it grows in displays (sums, integrals).</summary>
    public bool IsLarge { get; init; }

    /// <summary>Wanted height for <c>\big</c> and kin, in units of the text's size; 0 for the natural one.</summary>
    public double Height { get; init; }
}

/// <summary>A formula in braces.</summary>
public sealed class ListNucleus(MathList content) : Nucleus
{
    /// <summary>The formula.</summary>
    public MathList Content => content;
}

/// <summary>An operator's name, such as <c>\sin</c>, set upright.</summary>
public sealed class WordNucleus(string text) : Nucleus
{
    /// <summary>The name.</summary>
    public string Text => text;
}

/// <summary>Ordinary text inside a formula.</summary>
public sealed class TextNucleus(IReadOnlyList<Inline> content) : Nucleus
{
    /// <summary>The text.</summary>
    public IReadOnlyList<Inline> Content => content;
}

/// <summary>A fraction, or a stack without a line.</summary>
public sealed class FractionNucleus(MathList numerator, MathList denominator) : Nucleus
{
    /// <summary>Above.</summary>
    public MathList Numerator => numerator;

    /// <summary>Below.</summary>
    public MathList Denominator => denominator;

    /// <summary>Whether a line parts the two.</summary>
    public bool HasRule { get; init; } = true;

    /// <summary>Delimiters around it, empty for none.</summary>
    public string Left { get; init; } = "";

    /// <summary>Delimiters around it, empty for none.</summary>
    public string Right { get; init; } = "";

    /// <summary>Size that it is set in; null for that of its place.</summary>
    public MathSize? Size { get; init; }
}

/// <summary>A root.</summary>
public sealed class RadicalNucleus(MathList radicand, MathList? degree) : Nucleus
{
    /// <summary>Under the line.</summary>
    public MathList Radicand => radicand;

    /// <summary>The root's index, or null.</summary>
    public MathList? Degree => degree;
}

/// <summary>A formula between delimiters that grow with it.</summary>
public sealed class DelimitedNucleus(string left, MathList content, string right) : Nucleus
{
    /// <summary>Left delimiter; empty for none.</summary>
    public string Left => left;

    /// <summary>The formula.</summary>
    public MathList Content => content;

    /// <summary>Right delimiter; empty for none.</summary>
    public string Right => right;
}

/// <summary>A formula under an accent.</summary>
/// <param name="content">The formula.</param>
/// <param name="accent">The combining character.</param>
/// <param name="grows">Whether it grows with the formula.</param>
public sealed class AccentNucleus(MathList content, string accent, bool grows) : Nucleus
{
    /// <summary>The formula.</summary>
    public MathList Content => content;

    /// <summary>The combining character.</summary>
    public string Accent => accent;

    /// <summary>Whether it grows with the formula.</summary>
    public bool Grows => grows;
}

/// <summary>A formula with a line over or under it.</summary>
public sealed class BarNucleus(MathList content, bool over) : Nucleus
{
    /// <summary>The formula.</summary>
    public MathList Content => content;

    /// <summary>Whether the line is above.</summary>
    public bool IsOver => over;
}

/// <summary>Rows and columns: matrices, cases, aligned formulas.</summary>
public sealed class GridNucleus(IReadOnlyList<IReadOnlyList<MathList>> rows, string columns) : Nucleus
{
    /// <summary>The rows.</summary>
    public IReadOnlyList<IReadOnlyList<MathList>> Rows => rows;

    /// <summary>A letter a column: l, c or r; the last one goes on.</summary>
    public string Columns => columns;

    /// <summary>Space between columns, in em of the text's size.</summary>
    public double ColumnGap { get; init; } = 1;

    /// <summary>Whether cells are set as displays.</summary>
    public bool InDisplay { get; init; }
}
