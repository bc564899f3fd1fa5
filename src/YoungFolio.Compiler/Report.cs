using System.Text.Json.Serialization;

namespace YoungFolio.Compiler;

/// <summary>The compile report: a public contract, described in <c>docs/compile-report.md</c>.</summary>
public sealed record CompileReport
{
    /// <summary>Number of pages.</summary>
    public required int Pages { get; init; }

    /// <summary>Number of words.</summary>
    public required int Words { get; init; }

    /// <summary>The words by what they are.</summary>
    public required WordKinds WordsBy { get; init; }

    /// <summary>Document class.</summary>
    [JsonPropertyName("class")]
    public required string Class { get; init; }

    /// <summary>Headings.</summary>
    public required IReadOnlyList<OutlineLine> Outline { get; init; }

    /// <summary>Labels.</summary>
    public required IReadOnlyList<LabelLine> Labels { get; init; }

    /// <summary>Citations.</summary>
    public required IReadOnlyList<CitationLine> Citations { get; init; }

    /// <summary>Printed sources.</summary>
    public required IReadOnlyList<SourceLine> Bibliography { get; init; }

    /// <summary>Floats.</summary>
    public required IReadOnlyList<FloatLine> Floats { get; init; }

    /// <summary>The entries of the index, as they are printed.</summary>
    public required IReadOnlyList<IndexLine> Index { get; init; }

    /// <summary>Number of footnotes.</summary>
    public required int Footnotes { get; init; }

    /// <summary>Numbered equations.</summary>
    public required IReadOnlyList<EquationLine> Equations { get; init; }

    /// <summary>Packages that the preamble loads.</summary>
    public required IReadOnlyList<PackageLine> Packages { get; init; }

    /// <summary>What the manuscript's own files define, as it is typed.</summary>
    public required IReadOnlyList<DefinitionLine> Definitions { get; init; }

    /// <summary>How often the files use commands (with their backslash) and environments, as they are typed.</summary>
    public required IReadOnlyDictionary<string, int> Uses { get; init; }

    /// <summary>Findings, in the order of the files.</summary>
    public required IReadOnlyList<FindingLine> Findings { get; init; }

    /// <summary>How often pages were made until all numbers held.</summary>
    public required int Rounds { get; init; }

    /// <summary>Milliseconds by step.</summary>
    public required IReadOnlyDictionary<string, double> Timings { get; init; }
}

/// <summary>Words that print, without mathematics, tables, contents and lists of sources.</summary>
/// <param name="Text">In running text.</param>
/// <param name="Headings">In headings, their numbers among them.</param>
/// <param name="Captions">In captions, and in what else stands in figures and tables as text.</param>
/// <param name="Notes">In notes.</param>
public sealed record WordKinds(int Text, int Headings, int Captions, int Notes);

/// <summary>A heading, with the words up to the next one, and where its command begins in its file.</summary>
public sealed record OutlineLine(int Level, string? Number, string Title, string? Page, int? Sheet, string? File, int? Line, int? Offset, int Words);

/// <summary>A label.</summary>
public sealed record LabelLine(string Key, string Kind, string? Number, string? Page, int? Sheet, string? File, int? Line, int Uses);

/// <summary>A citation.</summary>
public sealed record CitationLine(string Key, string? File, int? Line);

/// <summary>A printed source.</summary>
public sealed record SourceLine(string Key, string Label, string Text);

/// <summary>A float.</summary>
public sealed record FloatLine(string Kind, string? Number, string Caption, string? Page);

/// <summary>An entry of the index.</summary>
/// <param name="Depth">0 for an entry of its own, 1 for one within it, and so on.</param>
/// <param name="Text">Its words.</param>
/// <param name="Pages">The pages that it names, or the entry that it leads to.</param>
/// <param name="File">File of the first of its notes.</param>
/// <param name="Line">Line of it, from 1.</param>
public sealed record IndexLine(int Depth, string Text, string Pages, string? File, int? Line);

/// <summary>A numbered equation.</summary>
public sealed record EquationLine(string Number, string? Page, string? File, int? Line);

/// <summary>A package.</summary>
public sealed record PackageLine(string Name, bool Known);

/// <summary>A definition: of a command, an environment, a length, a counter, a colour or an entry of the glossary.</summary>
/// <param name="Kind">What it makes: <c>command</c>, <c>environment</c>, <c>length</c>, <c>counter</c>, <c>colour</c>, <c>entry</c>.</param>
/// <param name="Name">Its name, without a backslash.</param>
/// <param name="Form">The arguments that follow the name where it is used.</param>
/// <param name="Text">What it stands for, or the beginning of that.</param>
/// <param name="File">The file.</param>
/// <param name="Line">Line from 1.</param>
public sealed record DefinitionLine(string Kind, string Name, string Form, string Text, string File, int Line);

/// <summary>A finding. Lines and columns count from 1, <c>Offset</c> in characters from the file's beginning; <c>Repair</c> is the one safe mend.</summary>
public sealed record FindingLine(
    string Kind, string Code, string Message, string Advice, string? File, int? Line, int? Column, int? Offset, int Length, RepairLine? Repair);

/// <summary>A mend: replace <c>Length</c> characters at a place by a text.</summary>
/// <param name="File">The file.</param>
/// <param name="Line">Line from 1.</param>
/// <param name="Column">Column from 1.</param>
/// <param name="Offset">The place in characters from the file's beginning.</param>
/// <param name="Length">How many characters go.</param>
/// <param name="Text">What comes in.</param>
/// <param name="Words">The characters that go. Where others stand by now the mend doesn't fit any more.</param>
/// <param name="Before">What stands right before them, in the same line.</param>
/// <param name="After">What stands right after them, in the same line.</param>
/// <param name="Also">What has to be replaced along with it.</param>
/// <param name="NewFile">A file that is made instead, with nothing in it.</param>
public sealed record RepairLine(string File, int Line, int Column, int Offset, int Length, string Text, string Words, string Before, string After, RepairLine? Also, string? NewFile);
