using System.Text.RegularExpressions;
using YoungFolio.Documents;
using YoungFolio.Manuscript.Searching;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Compiler;

/// <summary>A place that refers to a label.</summary>
/// <param name="File">Its file.</param>
/// <param name="Line">Line from 1.</param>
/// <param name="Offset">The reference's first character.</param>
/// <param name="Before">The words of its sentence before it, as far as they print.</param>
/// <param name="After">The words behind it.</param>
public sealed record ReferencePlace(string File, int Line, int Offset, string Before, string After);

/// <summary>A label, or a key that is referred to and defined nowhere.</summary>
/// <param name="Key">The key.</param>
/// <param name="Kind">What it names: section, equation, figure, table, item and so on; <c>missing</c> when it is defined nowhere.</param>
/// <param name="Number">Its number as printed.</param>
/// <param name="Page">Its page as printed.</param>
/// <param name="Sheet">Its page of the PDF, from 1.</param>
/// <param name="Title">Title or caption of what it names.</param>
/// <param name="File">The file that defines it.</param>
/// <param name="Line">Line from 1.</param>
/// <param name="Offset">The label's first character.</param>
/// <param name="Source">Of an equation: its source; of a figure: the file of its first picture.</param>
/// <param name="Remark">What is odd about it, as findings have it: <c>unused-label</c>, <c>doubled-label</c>; null: nothing.</param>
/// <param name="Near">For a missing one: the label that was probably meant.</param>
/// <param name="Uses">Where it is referred to.</param>
/// <param name="Statement">Of a theorem-like statement: what it is called, such as Lemma; null: it is none.</param>
public sealed record LabelEntry(
    string Key, string Kind, string? Number, string? Page, int? Sheet, string Title, string? File, int? Line, int? Offset, string? Source, string? Remark, string? Near, IReadOnlyList<ReferencePlace> Uses, string? Statement = null);

/// <summary>All labels of a manuscript and where they are referred to. Sentences are cut out of the files when they are asked for.</summary>
public sealed partial class CrossReferences
{
    private const int LongestSide = 140;
    private const int LongestSource = 1500;
    private const int LongestFormula = 30;

    private readonly List<Known> _labels = [];
    private readonly List<(string Key, Place Place)> _uses = [];
    private readonly Dictionary<string, string> _remarks = new(StringComparer.Ordinal);

    private CrossReferences()
    {
    }

    private sealed record Place(ManuscriptFile File, int Offset, int Line);

    private sealed record Known(string Key, string Kind, string? Number, AnchorPlace? Printed, string Title, Place? Place, string? Statement);

    internal static CrossReferences Of(Document document, TypesetDocument pages, PositionTable positions, FindingLog findings)
    {
        var references = new CrossReferences();
        foreach (Label label in document.Labels.Values.Where(l => l.Kind != "source").OrderBy(l => l.Position))
        {
            AnchorPlace? printed = pages.Anchors.TryGetValue(label.PageAnchor, out AnchorPlace place) ? place : null;
            references._labels.Add(new Known(label.Key, label.Kind, label.Number, printed, PlainText.Of(label.Title), PlaceOf(label.Position), document.Statements.GetValueOrDefault(label.Kind)));
        }

        foreach (LabelUse use in document.LabelUses)
        {
            if (PlaceOf(use.Position) is { } place)
            {
                references._uses.Add((use.Key, place));
            }
        }

        foreach (Finding finding in findings.All.Where(f => f.Code is "doubled-label" or "label-before-caption"))
        {
            if (PlaceOf(finding.Position) is { } place && LabelAt().Match(place.File.Text, place.Offset) is { Success: true } match)
            {
                references._remarks.TryAdd(match.Groups[1].Value.Trim(), finding.Code);
            }
        }

        var used = references._uses.Select(u => u.Key).ToHashSet(StringComparer.Ordinal);
        foreach (Known label in references._labels.Where(l => !used.Contains(l.Key)))
        {
            references._remarks.TryAdd(label.Key, "unused-label");
        }

        return references;

        Place? PlaceOf(int position) => positions.Resolve(position) is var (file, offset) && positions.Locate(position) is { } at ? new Place(file, offset, at.Line) : null;
    }

    /// <summary>Where labels are referred to, in the order of reading.</summary>
    public IEnumerable<(string Key, SourcePlace Place)> Uses => _uses.Select(static u => (u.Key, new SourcePlace(u.Place.File.Path, u.Place.Line, u.Place.Offset)));

    /// <summary>The labels in the order in which they are printed, and the keys that are missing.</summary>
    public IReadOnlyList<LabelEntry> Entries()
    {
        var unprinted = new Dictionary<ManuscriptFile, IReadOnlyList<(int From, int To)>>();
        ILookup<string, ReferencePlace> uses = _uses.DistinctBy(u => (u.Key, u.Place.File, u.Place.Offset)).ToLookup(u => u.Key, u => Sentence(u.Place, unprinted), StringComparer.Ordinal);
        var known = _labels.Select(l => l.Key).ToHashSet(StringComparer.Ordinal);
        return
        [
            .. _labels.OrderBy(l => l.Printed?.Sheet ?? int.MaxValue).Select(l => new LabelEntry(
                l.Key, l.Kind, l.Number, l.Printed?.Label, l.Printed?.Sheet, l.Title, l.Place?.File.Path, l.Place?.Line, l.Place?.Offset, l.Place is null ? null : SourceOf(l), _remarks.GetValueOrDefault(l.Key), null, [.. uses[l.Key]], l.Statement)),
            .. uses.Where(u => !known.Contains(u.Key) && !u.Key.StartsWith("source ", StringComparison.Ordinal)).Select(u => new LabelEntry(
                u.Key, "missing", null, null, null, "", null, null, null, null, null, NearestName.Find(u.Key, known), [.. u])),
        ];
    }

    // The sentence around a reference, without what doesn't print.
    private static ReferencePlace Sentence(Place place, Dictionary<ManuscriptFile, IReadOnlyList<(int From, int To)>> unprinted)
    {
        string text = place.File.Text;
        if (!unprinted.TryGetValue(place.File, out IReadOnlyList<(int From, int To)>? hidden))
        {
            unprinted[place.File] = hidden = UnprintedMarkup.Find(text);
        }

        int end = Reference().Match(text, place.Offset) is { Success: true } match ? match.Index + match.Length : place.Offset;
        int from = Math.Max(0, place.Offset - (3 * LongestSide));
        int to = Math.Min(text.Length, end + (3 * LongestSide));
        int begin = Math.Max(LastBreak(text, from, place.Offset), LastStop(text, from, place.Offset));
        string before = Printed(text, hidden, begin < 0 ? from : begin + 1, place.Offset);
        int blank = text.IndexOf("\n\n", end, to - end, StringComparison.Ordinal);
        string after = Printed(text, hidden, end, blank < 0 ? to : blank);
        int stop = Stop().Match(after) is { Success: true } found ? found.Index + 1 : after.Length;
        after = after[..stop];
        return new ReferencePlace(
            place.File.Path, place.Line, place.Offset,
            before.Length > LongestSide ? "…" + before[^LongestSide..] : ShortForm().Replace(before.TrimStart(), ""), after.Length > LongestSide ? after[..LongestSide] + "…" : after);
    }

    // A blank line, or one that holds commands alone, such as a heading.
    private static int LastBreak(string text, int from, int to)
    {
        int end = to == 0 ? -1 : text.LastIndexOf('\n', to - 1);
        while (end > from)
        {
            int start = text.LastIndexOf('\n', end - 1) + 1;
            if (text.AsSpan(start, end - start).Trim() is [] or ['\\', .., '}'])
            {
                return end;
            }

            end = start - 1;
        }

        return -1;
    }

    private static int LastStop(string text, int from, int to)
    {
        int last = -1;
        foreach (ValueMatch match in Stop().EnumerateMatches(text.AsSpan(from, to - from)))
        {
            last = from + match.Index + 1;
        }

        return last;
    }

    private static string Printed(string text, IReadOnlyList<(int From, int To)> hidden, int from, int to)
    {
        var words = new System.Text.StringBuilder();
        int at = from;
        foreach ((int start, int end) in hidden)
        {
            if (end <= from)
            {
                continue;
            }

            if (start >= to)
            {
                break;
            }

            if (start > at)
            {
                words.Append(text, at, start - at);
            }

            // A tie is a space in print, and another reference a number.
            ReadOnlySpan<char> gone = text.AsSpan(Math.Max(at, start), Math.Max(0, Math.Min(end, to) - Math.Max(at, start)));
            words.Append(gone.Contains('~') ? " " : "").Append(gone.Contains("ref{", StringComparison.Ordinal) ? "…" : gone is ['$', .. var formula, '$'] ? formula.Length <= LongestFormula ? formula : "…" : "");
            at = Math.Max(at, Math.Min(end, to));
        }

        words.Append(text, at, Math.Max(0, to - at));
        return Space().Replace(words.ToString().Replace('~', ' ').Replace("{", "", StringComparison.Ordinal).Replace("}", "", StringComparison.Ordinal), " ");
    }

    // What an equation is made of, and which picture a figure shows.
    private static string? SourceOf(Known label)
    {
        (string text, int offset) = (label.Place!.File.Text, label.Place.Offset);
        int begin = offset == 0 ? -1 : text.LastIndexOf("\\begin{", offset - 1, StringComparison.Ordinal);
        while (begin > 0 && Beginning().Match(text, begin) is { Success: true } inner && text.AsSpan(begin, offset - begin).Contains($"\\end{{{inner.Groups[1].Value}}}", StringComparison.Ordinal))
        {
            begin = text.LastIndexOf("\\begin{", begin - 1, StringComparison.Ordinal);
        }

        if (begin < 0 || Beginning().Match(text, begin) is not { Success: true } beginning)
        {
            return null;
        }

        string ending = $"\\end{{{beginning.Groups[1].Value}}}";
        int end = text.IndexOf(ending, offset, StringComparison.Ordinal);
        if (end < 0 || end + ending.Length - begin > LongestSource)
        {
            return null;
        }

        string source = text[begin..(end + ending.Length)];
        return label.Kind switch
        {
            "equation" => LabelAnywhere().Replace(source, ""),
            "figure" or "subfigure" when Picture().Match(source) is { Success: true } picture => picture.Groups[1].Value.Trim(),
            _ => null,
        };
    }

    [GeneratedRegex(@"\G\\label\s*\{([^{}]*)\}")]
    private static partial Regex LabelAt();

    [GeneratedRegex(@"\\label\s*\{[^{}]*\}")]
    private static partial Regex LabelAnywhere();

    [GeneratedRegex(@"\G\\[A-Za-z]+\*?\s*(?:\[[^\]]*\]\s*)?\{[^{}]*\}(?:\{[^{}]*\})?")]
    private static partial Regex Reference();

    [GeneratedRegex(@"[.!?](?=\s+[A-Z\\])|[.!?]$")]
    private static partial Regex Stop();

    // The short form of a caption or a heading stands before the long one.
    [GeneratedRegex(@"^\[[^\]]*\]")]
    private static partial Regex ShortForm();

    [GeneratedRegex(@"\s+")]
    private static partial Regex Space();

    [GeneratedRegex(@"\G\\begin\{([A-Za-z]+\*?)\}")]
    private static partial Regex Beginning();

    [GeneratedRegex(@"\\includegraphics\s*(?:\[[^\]]*\])?\s*\{([^{}]*)\}")]
    private static partial Regex Picture();
}
