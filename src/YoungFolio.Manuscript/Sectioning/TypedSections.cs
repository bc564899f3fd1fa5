using System.Text.RegularExpressions;
using YoungFolio.Bibliography;
using YoungFolio.Manuscript.Searching;

namespace YoungFolio.Manuscript.Sectioning;

/// <summary>A heading as it is typed.</summary>
/// <param name="Path">Its file.</param>
/// <param name="Offset">The first character of its command.</param>
/// <param name="Level">−1 for parts, 0 for chapters, 1 for sections, and so on.</param>
public sealed record TypedHeading(string Path, int Offset, int Level);

/// <summary>A section that goes into a file of its own.</summary>
/// <param name="Path">The new file.</param>
/// <param name="Words">What it holds.</param>
/// <param name="From">The file that it goes out of.</param>
/// <param name="Edit">What stands there instead: the command that takes the new file in.</param>
public sealed record SectionSplit(string Path, string Words, string From, TextEdit Edit);

/// <summary>A file that goes back to where it is taken in.</summary>
/// <param name="Path">The file, which isn't needed any more.</param>
/// <param name="IsIncluded">Whether <c>\include</c> took it in.</param>
/// <param name="Into">The file that it goes into.</param>
/// <param name="Edit">What it held, in the place of the command.</param>
public sealed record SectionFold(string Path, bool IsIncluded, string Into, TextEdit Edit);

/// <summary>
/// A manuscript's headings in the order in which it takes its files in, and the stretches of text that belong to them. What is typed is
/// read and nothing expanded: a heading that a macro makes isn't seen.
/// </summary>
public sealed partial class TypedSections
{
    private const int MostFiles = 2000;
    private const int Deepest = 12;

    private static readonly string[] s_levels = ["part", "chapter", "section", "subsection", "subsubsection", "paragraph", "subparagraph"];

    // Behind these nothing belongs to the section before them.
    private static readonly HashSet<string> s_ends = new(StringComparer.Ordinal) { "appendix", "bibliography", "printbibliography", "printindex", "printglossary", "printglossaries", "backmatter", "mainmatter", "frontmatter" };

    private readonly IReadOnlyDictionary<string, string> _texts;
    private readonly List<Mark> _marks = [];
    private int _files;

    private TypedSections(IReadOnlyDictionary<string, string> texts) => _texts = texts;

    // A place of a file as it is taken in: a file that is taken in twice has two visits.
    private sealed record Visit(string Path, Visit? From, int CommandFrom, int CommandTo, int Depth);

    // A heading, or what ends sections: in the order of the manuscript.
    private sealed record Mark(Visit Visit, int Offset, int Level, bool IsHeading);

    /// <summary>The headings, in order.</summary>
    public IReadOnlyList<TypedHeading> Headings => [.. _marks.Where(m => m.IsHeading).Select(m => new TypedHeading(m.Visit.Path, m.Offset, m.Level))];

    /// <summary>The highest level that the manuscript has, apart from parts.</summary>
    public int Top => _marks.Where(m => m.IsHeading && m.Level >= 0).Select(m => m.Level).DefaultIfEmpty(1).Min();

    /// <summary>
    /// The numbers of the headings as the standard classes print them (Lamport, section C.4), as far as typed text tells; null: it has none.
    /// Counters that are set by hand and depths that are set otherwise aren't seen.
    /// </summary>
    public IReadOnlyList<string?> Numbers()
    {
        int top = Top;
        int deepest = top == 0 ? 2 : 3;
        bool isAppendix = false;
        int[] counters = new int[s_levels.Length];
        var numbers = new List<string?>();
        foreach (Mark mark in _marks)
        {
            ReadOnlySpan<char> typed = _texts[mark.Visit.Path].AsSpan(mark.Offset);
            if (!mark.IsHeading)
            {
                if (typed.StartsWith("\\appendix"))
                {
                    isAppendix = true;
                    Array.Clear(counters);
                }

                continue;
            }

            if (mark.Level < top || mark.Level > deepest || (typed.IndexOfAny('*', '{') is >= 0 and var sign && typed[sign] == '*'))
            {
                numbers.Add(null);
                continue;
            }

            counters[mark.Level]++;
            Array.Clear(counters, mark.Level + 1, counters.Length - mark.Level - 1);
            numbers.Add(string.Join('.', Enumerable.Range(top, mark.Level - top + 1).Select(l => l == top && isAppendix ? ((char)('A' + Math.Clamp(counters[l] - 1, 0, 25))).ToString() : counters[l].ToString(System.Globalization.CultureInfo.InvariantCulture))));
        }

        return numbers;
    }

    /// <summary>Reads a manuscript's headings.</summary>
    /// <param name="texts">Its texts, by path.</param>
    /// <param name="main">The main file.</param>
    public static TypedSections Of(IReadOnlyDictionary<string, string> texts, string main)
    {
        ArgumentNullException.ThrowIfNull(texts);
        var sections = new TypedSections(texts);
        if (texts.TryGetValue(main, out string? text))
        {
            int begin = text.IndexOf("\\begin{document}", StringComparison.Ordinal);
            sections.Read(new Visit(main, null, 0, 0, 0), begin < 0 ? 0 : begin);
        }

        return sections;
    }

    /// <summary>How many headings come before a place of a file, where the manuscript takes that file in.</summary>
    /// <param name="path">The file.</param>
    /// <param name="offset">The place.</param>
    public int CountBefore(string path, int offset)
    {
        int count = 0;
        foreach (Mark mark in _marks)
        {
            if (IsBehind(mark.Visit, mark.Offset))
            {
                break;
            }

            count += mark.IsHeading ? 1 : 0;
        }

        return count;

        bool IsBehind(Visit visit, int at) => (visit.Path == path && at >= offset) || (visit.From is { } outer && IsBehind(outer, visit.CommandFrom));
    }

    /// <summary>The edits that move a section, or change its level.</summary>
    /// <param name="section">Which heading, from 0.</param>
    /// <param name="before">The heading that it is to stand before; as many as there are: the end; null: it stays where it is.</param>
    /// <param name="shift">By how many levels it goes in.</param>
    /// <exception cref="SearchException">It can't be moved so.</exception>
    public IReadOnlyDictionary<string, IReadOnlyList<TextEdit>> Move(int section, int? before, int shift)
    {
        int[] headings = [.. Enumerable.Range(0, _marks.Count).Where(i => _marks[i].IsHeading)];
        if (section < 0 || section >= headings.Length || before < 0 || before > headings.Length)
        {
            throw new SearchException("The headings have changed. Wait for the next proof.");
        }

        int first = headings[section];
        int end = End(first);
        CheckLevels(first, end, shift);
        var edits = new Dictionary<string, List<TextEdit>>(StringComparer.Ordinal);
        Stretch own = Whole(first, end);
        // Its headings' commands, by where they stand in the stretch that moves; those in files that it takes in change there.
        var inside = new List<TextEdit>();
        foreach (Mark mark in _marks[first..end].Where(m => m.IsHeading && shift != 0))
        {
            TextEdit edit = Renamed(mark, shift);
            if (mark.Visit == own.Visit)
            {
                inside.Add(edit);
            }
            else
            {
                Add(mark.Visit.Path, edit);
            }
        }

        // Behind the section before it: what ends sections, such as where the appendix begins, comes after it.
        int target = before switch { null => first, 0 => headings[0], int b => headings[b - 1] + 1 };
        if (before is null || (target >= first && target <= end) || before == section)
        {
            foreach (TextEdit edit in inside)
            {
                Add(own.Visit.Path, edit);
            }

            return Sorted(edits);
        }

        string text = _texts[own.Visit.Path];
        string words = BibText.Apply(text[own.From..own.To], inside.Select(e => new TextEdit(e.Offset - own.From, e.Length, e.Text)));
        Place to = PlaceBefore(target, _marks[first].Level + shift);
        if (to.Visit.Path == own.Visit.Path && to.Offset > own.From && to.Offset < own.To)
        {
            throw new SearchException("A section can’t be moved into itself.");
        }

        (int from, int upTo) = Gap(text, own.From, own.To);
        Add(own.Visit.Path, new TextEdit(from, upTo - from, from == 0 ? "" : upTo >= text.Length ? "\n" : text[from] == '\n' ? "\n\n" : " "));
        Add(to.Visit.Path, new TextEdit(to.Offset, 0, $"\n\n{words}{(NeedsLine(_texts[to.Visit.Path], to.Offset) ? "\n" : "")}"));
        return Sorted(edits);

        void Add(string path, TextEdit edit)
        {
            if (!edits.TryGetValue(path, out List<TextEdit>? all))
            {
                edits[path] = all = [];
            }

            all.Add(edit);
        }
    }

    /// <summary>What brings a section into a file of its own.</summary>
    /// <param name="section">Which heading, from 0.</param>
    /// <param name="path">The new file; null: one that its title and its neighbours suggest.</param>
    /// <param name="isIncluded">Whether <c>\include</c> takes it in; null: chapters of the main file are included.</param>
    /// <exception cref="SearchException">It has one already, or the name is taken.</exception>
    public SectionSplit Split(int section, string? path = null, bool? isIncluded = null)
    {
        Mark mark = HeadingAt(section, out int first);
        Stretch own = Whole(first, End(first));
        if (FilledBy(mark, own) is { } there)
        {
            throw new SearchException($"This section has a file of its own already: {there.Path}.");
        }

        path ??= SuggestedPath(mark);
        if (_texts.ContainsKey(path))
        {
            throw new SearchException($"There is a file {path} already.");
        }

        string text = _texts[own.Visit.Path];
        // A file within an included one can't be included itself.
        bool isChapter = isIncluded ?? (mark.Level == 0 && own.Visit.From is null);
        string name = path.EndsWith(".tex", StringComparison.OrdinalIgnoreCase) ? path[..^4] : path;
        string command = $"\\{(isChapter ? "include" : "input")}{{{name}}}";
        return new SectionSplit(path, text[own.From..own.To].TrimEnd() + "\n", own.Visit.Path, new TextEdit(own.From, own.To - own.From, command + (NeedsLine(text, own.To) ? "\n" : "")));
    }

    /// <summary>What brings a section that has a file of its own back into the file that takes it in.</summary>
    /// <param name="section">Which heading, from 0.</param>
    /// <exception cref="SearchException">It has none, or the file holds more than it, or is taken in twice.</exception>
    public SectionFold Fold(int section)
    {
        Mark mark = HeadingAt(section, out int first);
        if (FilledBy(mark, Whole(first, End(first))) is not { From: { } outer } visit)
        {
            throw new SearchException("This section has no file of its own.");
        }

        if (_marks.Any(m => m.Visit.Path == visit.Path && m.Visit != visit))
        {
            throw new SearchException($"{visit.Path} is taken in more than once: it can’t go to one place.");
        }

        string text = _texts[outer.Path];
        return new SectionFold(visit.Path, text.AsSpan(visit.CommandFrom).StartsWith("\\include"), outer.Path, new TextEdit(visit.CommandFrom, visit.CommandTo - visit.CommandFrom, _texts[visit.Path].Trim('\n', '\r')));
    }

    private Mark HeadingAt(int section, out int first)
    {
        int[] headings = [.. Enumerable.Range(0, _marks.Count).Where(i => _marks[i].IsHeading)];
        if (section < 0 || section >= headings.Length)
        {
            throw new SearchException("The headings have changed. Wait for the next proof.");
        }

        return _marks[first = headings[section]];
    }

    // The file that a section fills from end to end, as it is taken in; null: it shares one.
    private static Visit? FilledBy(Mark mark, Stretch own)
    {
        Visit? visit = mark.Visit;
        while (visit is not null && visit.From != own.Visit)
        {
            visit = visit.From;
        }

        return visit is not null && own.To == visit.CommandTo ? visit : null;
    }

    // A free name made of the title's words, in the folder of the files that stand beside it.
    private string SuggestedPath(Mark mark)
    {
        string title = Title().Match(_texts[mark.Visit.Path], mark.Offset) is { Success: true } match ? match.Groups[1].Value : "";
        string name = string.Join('-', Letters().Matches(title.ToLowerInvariant()).Select(m => m.Value).Take(5));
        name = name.Length > 0 ? name : s_levels[mark.Level + 1];
        string? folder = _marks.Where(m => m.IsHeading && m.Visit.From == mark.Visit).Select(m => m.Visit.Path)
            .Append(mark.Visit.From is null ? "" : mark.Visit.Path).Where(p => p.Contains('/', StringComparison.Ordinal)).Select(p => p[..p.LastIndexOf('/')]).FirstOrDefault();
        folder ??= mark.Level <= 0 ? "chapters" : "sections";
        return Enumerable.Range(1, MostFiles).Select(i => $"{folder}/{name}{(i == 1 ? "" : $"-{i}")}.tex").First(p => !_texts.ContainsKey(p));
    }

    private sealed record Stretch(Visit Visit, int From, int To);

    private sealed record Place(Visit Visit, int Offset);

    private void Read(Visit visit, int from)
    {
        if (++_files > MostFiles || visit.Depth > Deepest || !_texts.TryGetValue(visit.Path, out string? text))
        {
            return;
        }

        foreach ((string name, int end) in TypedMarkup.Commands(text).Where(c => c.End >= from))
        {
            int start = end - name.Length - 1;
            int level = Array.IndexOf(s_levels, name);
            if (level >= 0 && Argument().IsMatch(text, end))
            {
                _marks.Add(new Mark(visit, start, level - 1, IsHeading: true));
            }
            else if (s_ends.Contains(name) || (name == "end" && text.AsSpan(end).StartsWith("{document}")))
            {
                _marks.Add(new Mark(visit, start, int.MinValue, IsHeading: false));
                if (name == "end")
                {
                    return;
                }
            }
            else if (name is "input" or "include" or "subfile" && File().Match(text, end) is { Success: true } file && Named(file.Groups[1].Value.Trim()) is { } path && !IsOpen(visit, path))
            {
                Read(new Visit(path, visit, start, file.Index + file.Length, visit.Depth + 1), 0);
            }
        }
    }

    private string? Named(string name) => _texts.ContainsKey(name) ? name : _texts.ContainsKey(name + ".tex") ? name + ".tex" : null;

    private static bool IsOpen(Visit? visit, string path) => visit is not null && (visit.Path == path || IsOpen(visit.From, path));

    // The mark that a section ends at: the next heading that isn't below it, or what ends all.
    private int End(int first)
    {
        int end = first + 1;
        while (end < _marks.Count && _marks[end].IsHeading && _marks[end].Level > _marks[first].Level)
        {
            end++;
        }

        return end;
    }

    private void CheckLevels(int first, int end, int shift)
    {
        if (shift == 0)
        {
            return;
        }

        int highest = _marks[first].Level + shift;
        int lowest = _marks[first..end].Where(m => m.IsHeading).Max(m => m.Level) + shift;
        if (highest < Math.Min(Top, 1) || highest < 0)
        {
            throw new SearchException("There is no higher level in this manuscript.");
        }

        if (lowest > s_levels.Length - 2)
        {
            throw new SearchException("There is no lower level: what is below it would have none.");
        }
    }

    // All text of a section as one stretch of one file: a file that it fills from end to end moves by the command that takes it in.
    private Stretch Whole(int first, int end)
    {
        Place from = new(_marks[first].Visit, LineStart(_texts[_marks[first].Visit.Path], _marks[first].Offset));
        Place to = Behind(end);
        while (from.Visit != to.Visit)
        {
            if (from.Visit.Depth >= to.Visit.Depth && IsBlank(_texts[from.Visit.Path][..from.Offset]) && from.Visit.From is { } outer)
            {
                from = new Place(outer, LineStart(_texts[outer.Path], from.Visit.CommandFrom));
            }
            else if (to.Visit.Depth > from.Visit.Depth && IsBlank(_texts[to.Visit.Path][to.Offset..]) && to.Visit.From is { } around)
            {
                to = new Place(around, to.Visit.CommandTo);
            }
            else
            {
                throw new SearchException($"This section begins in {from.Visit.Path} and ends in {to.Visit.Path}. Bring it together in one file first.");
            }
        }

        // A file that holds nothing else goes as a whole.
        while (from.Visit.From is { } parent && IsBlank(_texts[from.Visit.Path][..from.Offset]) && IsBlank(_texts[from.Visit.Path][to.Offset..]))
        {
            (from, to) = (new Place(parent, LineStart(_texts[parent.Path], from.Visit.CommandFrom)), new Place(parent, from.Visit.CommandTo));
        }

        return new Stretch(from.Visit, from.Offset, to.Offset);
    }

    // Behind the last words before a mark, in the file where those are.
    private Place Behind(int mark)
    {
        if (mark >= _marks.Count)
        {
            Visit last = _marks[^1].Visit;
            while (last.From is { } outer)
            {
                if (!IsBlank(_texts[last.Path]))
                {
                    break;
                }

                last = outer;
            }

            return new Place(last, _texts[last.Path].TrimEnd().Length);
        }

        Visit visit = _marks[mark].Visit;
        int offset = LineStart(_texts[visit.Path], _marks[mark].Offset);
        // Where a file begins, what is before it is before the command that takes it in.
        while (IsBlank(_texts[visit.Path][..offset]) && visit.From is { } outer)
        {
            offset = LineStart(_texts[outer.Path], visit.CommandFrom);
            visit = outer;
        }

        return Inside(visit, offset);
    }

    // Behind the words before a place; where those are a command that takes a file in, and that file is the section's own, in there.
    private Place Inside(Visit visit, int offset)
    {
        int end = _texts[visit.Path].AsSpan(0, offset).TrimEnd().Length;
        Mark? last = _marks.LastOrDefault(m => m.Visit.From == visit && m.Visit.CommandTo == end);
        return last is null ? new Place(visit, end) : Inside(last.Visit, _texts[last.Visit.Path].Length);
    }

    // Where a section of a level is put so that it comes before a mark: out of the file before it, unless it belongs below what that file begins with.
    private Place PlaceBefore(int mark, int level)
    {
        Place place = Behind(mark);
        while (place.Visit.From is { } outer && IsBlank(_texts[place.Visit.Path][place.Offset..])
            && _marks.First(m => m.IsHeading && m.Visit == place.Visit) is var own && level <= own.Level)
        {
            place = new Place(outer, place.Visit.CommandTo);
        }

        return place;
    }

    private static TextEdit Renamed(Mark mark, int shift)
    {
        string name = s_levels[mark.Level + 1];
        return new TextEdit(mark.Offset + 1, name.Length, s_levels[mark.Level + 1 + shift]);
    }

    // What goes when a stretch is taken away: with the empty lines around it, for which there will be one.
    private static (int From, int To) Gap(string text, int from, int to)
    {
        int start = text.AsSpan(0, from).TrimEnd().Length;
        int end = to + (text.Length - to - text.AsSpan(to).TrimStart().Length);
        return (start, end);
    }

    private static bool NeedsLine(string text, int at) => at < text.Length && text[at] != '\n';

    private static Dictionary<string, IReadOnlyList<TextEdit>> Sorted(Dictionary<string, List<TextEdit>> edits) =>
        edits.ToDictionary(e => e.Key, e => (IReadOnlyList<TextEdit>)[.. e.Value.OrderBy(t => t.Offset)], StringComparer.Ordinal);

    // Where the line of a command begins, with the comments above it.
    private static int LineStart(string text, int at)
    {
        int start = at == 0 ? 0 : text.LastIndexOf('\n', at - 1) + 1;
        // Only where the line holds nothing before it.
        if (!text.AsSpan(start, at - start).IsWhiteSpace())
        {
            return at;
        }

        // Comments right above it are about it.
        while (start > 0 && text.LastIndexOf('\n', Math.Max(0, start - 2)) is var before && text.AsSpan(before + 1, start - before - 1).TrimStart() is ['%', ..])
        {
            start = before + 1;
        }

        return start;
    }

    // Nothing that prints: spaces, empty lines and comments.
    private static bool IsBlank(string text) => text.Split('\n').All(l => l.AsSpan().TrimStart() is [] or ['%', ..]);

    [GeneratedRegex(@"\G\*?\s{0,3}[\[{]")]
    private static partial Regex Argument();

    [GeneratedRegex(@"\G\\[a-z]+\*?(?:\[[^\]]*\])?\s*\{((?:[^{}]|\{[^{}]*\})*)\}")]
    private static partial Regex Title();

    // Words without commands, in letters that every system takes in names.
    [GeneratedRegex(@"(?<![\\a-z])[a-z0-9]+")]
    private static partial Regex Letters();

    [GeneratedRegex(@"\G\s{0,3}\{([^{}\n]{1,300})\}")]
    private static partial Regex File();
}
