using YoungFolio.Documents;
using YoungFolio.Manuscript.Classes;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Gives the lengths that a preamble may read and change the values that the class has for its type size.</summary>
internal sealed class StandardMeasures(DocumentBuilder builder) : ReadingFeature(builder)
{
    // Sizes that have spaces of their own for lists and displays; others keep those around them.
    private static readonly string[] s_types = ["normalsize", "small", "footnotesize"];

    private readonly Scoped<int> _type = new(0);

    /// <summary>The class's measures.</summary>
    internal ClassMeasures Measures => ClassMeasures.Of(Builder.BasicSize);

    /// <summary>Spaces of a list at a depth, in the type around it.</summary>
    internal ListSpaces ListAt(int depth) => Measures.ListAt(depth, _type.Value);

    /// <summary>Space between the text and the notes: <c>\skip\footins</c>.</summary>
    internal Glue NoteSkip => NoteSkipRegister.Value;

    private Scoped<Glue> NoteSkipRegister => Machine.Registers.Skip(Machine.Registers.NamedCount("footins").Value);

    /// <summary>Sets all lengths as the class begins with them.</summary>
    internal void Apply()
    {
        ClassMeasures measures = Measures;
        (double headSeparation, double footSkip) = Builder.Class.HeadAndFoot(Builder.BasicSize);
        foreach ((string name, double value) in (ReadOnlySpan<(string, double)>)[
            ("parindent", measures.ParIndent), ("topskip", measures.TopSkip), ("maxdepth", measures.TopSkip / 2), ("headsep", headSeparation), ("footskip", footSkip),
            ("marginparsep", measures.MarginSeparation), ("marginparpush", measures.MarginPush), ("footnotesep", measures.NoteSeparation),
            ("leftmargini", 2.5 * measures.Em), ("leftmarginii", 2.2 * measures.Em), ("leftmarginiii", 1.87 * measures.Em), ("leftmarginiv", 1.7 * measures.Em),
            ("leftmarginv", measures.Em), ("leftmarginvi", measures.Em), ("labelsep", measures.Em / 2)])
        {
            Machine.Assign(Machine.Registers.NamedDimension(name), Dimension.FromPoints(value), true);
        }

        foreach ((string name, Glue value) in (ReadOnlySpan<(string, Glue)>)[
            ("floatsep", measures.FloatSeparation), ("dblfloatsep", measures.FloatSeparation), ("textfloatsep", measures.TextFloatSeparation),
            ("dbltextfloatsep", measures.TextFloatSeparation), ("intextsep", measures.InTextSeparation), ("partopsep", measures.ParagraphTopSkip)])
        {
            Machine.Assign(Machine.Registers.NamedGlue(name), value, true);
        }

        Machine.Assign(NoteSkipRegister, measures.NoteSkip, true);
        ApplyType(0, true);
    }

    /// <summary>What two columns have that is narrower than in one.</summary>
    internal void ApplyColumns()
    {
        ClassMeasures measures = Measures;
        foreach ((string name, double value) in (ReadOnlySpan<(string, double)>)[
            ("parindent", measures.Em), ("marginparsep", 10), ("leftmargini", 2 * measures.Em), ("leftmarginv", measures.Em / 2), ("leftmarginvi", measures.Em / 2)])
        {
            Machine.Assign(Machine.Registers.NamedDimension(name), Dimension.FromPoints(value), true);
        }
    }

    /// <summary>Has lists and displays follow a change of the type's size within the text.</summary>
    internal void Follow(string size)
    {
        int type = Array.IndexOf(s_types, size);
        if (type >= 0 && type != _type.Value)
        {
            ApplyType(type, false);
        }
    }

    private void ApplyType(int type, bool everywhere)
    {
        Machine.Assign(_type, type, everywhere);
        DisplaySkips displays = Measures.Displays[type];
        ListSpaces lists = ListAt(0);
        foreach ((string name, Glue value) in (ReadOnlySpan<(string, Glue)>)[
            ("abovedisplayskip", displays.Above), ("belowdisplayskip", displays.Below), ("abovedisplayshortskip", displays.AboveShort), ("belowdisplayshortskip", displays.BelowShort),
            ("topsep", lists.Around), ("itemsep", lists.Items), ("parsep", lists.Paragraphs)])
        {
            Machine.Assign(Machine.Registers.NamedGlue(name), value, everywhere);
        }
    }
}
