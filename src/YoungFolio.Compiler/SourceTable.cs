using YoungFolio.Bibliography;
using YoungFolio.Markup;

namespace YoungFolio.Compiler;

/// <summary>How a manuscript prints its sources; a compile finds it out.</summary>
/// <param name="Style">The style.</param>
/// <param name="Language">Code of the language.</param>
/// <param name="IsModern">Whether biblatex' data model says which fields are needed.</param>
public sealed record SourceSettings(BibliographyStyle Style, string Language, bool IsModern)
{
    /// <summary>Those of a manuscript without a proof.</summary>
    public static SourceSettings Usual { get; } = new(BibliographyStyle.Plain, "en", false);
}

/// <summary>A source in the table.</summary>
/// <param name="Key">Its key.</param>
/// <param name="Type">Its type; empty when it is only cited.</param>
/// <param name="Authors">Family names, short.</param>
/// <param name="Title">The title, plain.</param>
/// <param name="Year">The year.</param>
/// <param name="File">The file that it stands in, or where it is cited first.</param>
/// <param name="Line">Its line there.</param>
/// <param name="Uses">How often it is cited.</param>
/// <param name="Missing">Fields that it lacks.</param>
/// <param name="Remarks">How many other things are to be said of it.</param>
/// <param name="Twins">Keys of sources that seem to be the same work.</param>
/// <param name="IsThere">Whether it is in a .bib file; false: it is cited and missing.</param>
/// <param name="Doubled">Whether its key is there twice.</param>
public sealed record SourceRow(
    string Key, string Type, string Authors, string Title, string Year, string File, int Line, int Uses, IReadOnlyList<string> Missing, int Remarks, IReadOnlyList<string> Twins, bool IsThere, bool Doubled);

/// <summary>A stretch of printed text.</summary>
public sealed record PrintedRun(string Text, bool IsSlanted);

/// <summary>A field of a form.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Value">Its value; empty when it isn't there.</param>
/// <param name="IsNeeded">Whether the type needs it.</param>
/// <param name="Inherited">Whether the value comes from another entry.</param>
public sealed record SourceField(string Name, string Value, bool IsNeeded, bool Inherited);

/// <summary>Something to say of a source, with a mend where there is one.</summary>
public sealed record SourceNote(string Code, string Field, string Message, string Advice, string? Mend);

/// <summary>Where a source is cited.</summary>
/// <param name="Number">Number of the section.</param>
/// <param name="Section">Its title.</param>
/// <param name="File">The file.</param>
/// <param name="Lines">Lines.</param>
/// <param name="Page">The page that the section begins on.</param>
public sealed record SourceUse(string? Number, string Section, string File, IReadOnlyList<int> Lines, string? Page);

/// <summary>One source whole.</summary>
public sealed record SourceDetail(
    SourceRow Row, IReadOnlyList<SourceField> Fields, string Raw, IReadOnlyList<SourceNote> Notes, IReadOnlyList<PrintedRun> Printed, string StyleName, string InBrackets, string InSentence, IReadOnlyList<SourceUse> Uses);

/// <summary>A style of sources, with what it makes of some of a manuscript's own.</summary>
/// <param name="Style">Its name in the markup.</param>
/// <param name="Citation">A citation in brackets.</param>
/// <param name="Sources">The list, each with its label.</param>
public sealed record StyleSample(string Style, string Citation, IReadOnlyList<SampledSource> Sources);

/// <summary>A source in a sample.</summary>
/// <param name="Label">What stands before it; empty: nothing.</param>
/// <param name="Printed">The reference.</param>
public sealed record SampledSource(string Label, IReadOnlyList<PrintedRun> Printed);

/// <summary>
/// What the Sources room shows: every entry of every .bib file, and every key that is cited without one. Made from the files' text and the
/// last compile, so that it is right while a newer proof is on its way.
/// </summary>
public sealed class SourceTable
{
    private const int MostSampled = 2;

    private readonly IReadOnlyList<(ManuscriptFile File, BibFile Bib)> _pools;
    private readonly BibPool _pool;
    private readonly SourceSettings _settings;
    private readonly CompileReport? _report;
    private readonly SourceWords _words;

    private SourceTable(IReadOnlyList<(ManuscriptFile, BibFile)> pools, SourceSettings settings, CompileReport? report)
    {
        _pools = pools;
        _settings = settings;
        _report = report;
        _words = SourceWords.For(settings.Language);
        _pool = new BibPool(pools.SelectMany(f => f.Item2.Entries));
        Rows = [.. MakeRows()];
    }

    /// <summary>The sources: those of the files in their order, then those that are missing.</summary>
    public IReadOnlyList<SourceRow> Rows { get; }

    /// <summary>Makes the table.</summary>
    /// <param name="files">The manuscript's files.</param>
    /// <param name="last">The last compile, or null.</param>
    public static SourceTable Make(IFileTree files, CompileResult? last)
    {
        var pools = new List<(ManuscriptFile, BibFile)>();
        foreach (string path in files.Paths.Where(p => p.EndsWith(".bib", StringComparison.OrdinalIgnoreCase)).Order(StringComparer.Ordinal))
        {
            ManuscriptFile file = files.Find(path)!;
            pools.Add((file, file.Derived("sources", static p => BibReader.Read(p.Text))));
        }

        return new SourceTable(pools, last?.Sources ?? SourceSettings.Usual, last?.Report);
    }

    private EntryRule Rule => _settings.IsModern ? EntryRule.Modern : EntryRule.Classic;

    private IEnumerable<SourceRow> MakeRows()
    {
        var uses = (_report?.Citations ?? []).GroupBy(c => c.Key).ToDictionary(g => g.Key, g => g.ToList(), StringComparer.Ordinal);
        var twins = new Dictionary<string, List<string>>(StringComparer.Ordinal);
        foreach (IReadOnlyList<BibEntry> group in SourceChecks.Twins(_pool.Entries))
        {
            foreach (BibEntry entry in group)
            {
                twins[entry.Key] = [.. group.Where(g => g.Key != entry.Key).Select(g => g.Key)];
            }
        }

        var seen = new HashSet<string>(StringComparer.Ordinal);
        foreach ((ManuscriptFile file, BibFile bib) in _pools)
        {
            int line = 1;
            int at = 0;
            ILookup<string, BibProblem> problems = bib.Problems.ToLookup(p => p.Key, StringComparer.Ordinal);
            foreach (BibEntry written in bib.Entries.Where(e => e.Type is not ("xdata" or "set")))
            {
                line += file.Text.AsSpan(at, written.Offset - at).Count('\n');
                at = written.Offset;
                bool doubled = !seen.Add(written.Key);
                BibEntry entry = doubled ? written : _pool.Find(written.Key) ?? written;
                IReadOnlyList<SourceRemark> remarks = SourceChecks.Of(entry, Rule);
                yield return new SourceRow(
                    written.Key, written.Type, Short(entry), MarkupText.Plain(entry.Field("title")), MarkupText.Plain(SourceDate.Of(entry).Printed), file.Path, line,
                    uses.TryGetValue(written.Key, out List<CitationLine>? cited) ? cited.Count : 0, EntryTypes.Missing(entry, Rule), remarks.Count(r => r.Code != "incomplete-source") + problems[written.Key].Count(),
                    twins.GetValueOrDefault(written.Key) ?? [], true, doubled);
            }
        }

        foreach ((string key, List<CitationLine> cited) in uses)
        {
            if (key != "*" && _pool.Find(key) is null && !(_report?.Bibliography.Any(b => b.Key == key) ?? false))
            {
                yield return new SourceRow(key, "", "", "", "", cited[0].File ?? "", cited[0].Line ?? 1, cited.Count, [], 0, [], false, false);
            }
        }
    }

    private static string Short(BibEntry entry)
    {
        IReadOnlyList<PersonName> names = PersonName.ReadList(entry.First("author", "editor"));
        List<string> people = [.. names.Where(n => !n.IsOthers).Select(n => MarkupText.Plain(n.Family))];
        return people.Count switch { 0 => MarkupText.Plain(entry.Field("organization")), 1 => people[0] + (names.Count > 1 ? " et al." : ""), 2 => $"{people[0]}, {people[1]}", _ => $"{people[0]} et al." };
    }

    /// <summary>Key of a source that seems to be the same work as a record, or null.</summary>
    public string? TwinOf(BibEntry record) =>
        SourceChecks.Twins([.. _pool.Entries, record]).FirstOrDefault(g => g.Contains(record))?.FirstOrDefault(e => !ReferenceEquals(e, record))?.Key;

    /// <summary>One source whole, or null when there is none of this key.</summary>
    public SourceDetail? Detail(string key)
    {
        SourceRow? row = Rows.FirstOrDefault(r => r.Key == key);
        if (row is null)
        {
            return null;
        }

        if (!row.IsThere)
        {
            return new SourceDetail(row, [], "", [], [], StyleName, "", "", Uses(key));
        }

        (ManuscriptFile file, BibFile bib) = _pools.First(f => f.Bib.Entries.Any(e => e.Key == key));
        BibEntry written = bib.Entries.First(e => e.Key == key);
        BibEntry entry = _pool.Find(key)!;
        List<SourceField> fields = [.. EntryTypes.Form(entry, Rule).Select(name => new SourceField(
            name, entry.Field(name), EntryTypes.Needs(entry.Type, name, Rule), !written.Fields.ContainsKey(name) && entry.Field(name).Length > 0))];
        List<SourceNote> notes = [.. bib.Problems.Where(p => p.Key == key).Select(p => new SourceNote("unreadable-source", "", p.Message, "Look at it as .bib text.", null)),
            .. SourceChecks.Of(entry, Rule).Select(r => new SourceNote(r.Code, r.Field, r.Message, r.Advice, r.Mend))];
        // As it prints among the others: letters behind the year, and the number, hang on them.
        BibliographyStyle style = _settings.Style;
        var cited = Rows.Where(r => r.Uses > 0).Select(r => r.Key).ToHashSet(StringComparer.Ordinal);
        List<BibEntry> company = [.. _pool.Entries.Where(e => e.Key == key || cited.Contains(e.Key))];
        ListedSource listed = SourceList.Make(company, style with { Dashes = false }, _words).Sources.First(s => s.Entry.Key == key);
        CitationManner manner = CitationManner.Of(style, _words);
        string Cited(CitationForm form) => string.Concat(CitationFormatter.Format([new CitedItem(key)], form, _ => listed, manner, _words).Select(p => MarkupText.Plain("x" + p.Markup + "x")[1..^1]));
        return new SourceDetail(row, fields, file.Text[written.Offset..written.End], notes, Runs(listed.Reference), StyleName, Cited(CitationForm.Parenthetical), Cited(CitationForm.Textual), Uses(key));
    }

    /// <summary>The styles that the manuscript may choose from, each with the sources that it cites most.</summary>
    public IReadOnlyList<StyleSample> Samples()
    {
        HashSet<string> chosen = [.. Rows.Where(r => r.IsThere && !r.Doubled).OrderByDescending(r => r.Uses).Take(MostSampled).Select(r => r.Key)];
        List<BibEntry> entries = [.. _pool.Entries.Where(e => chosen.Contains(e.Key))];
        return entries.Count == 0 ? [] : [.. (_settings.IsModern ? BibliographyStyle.ModernNames.Select(BibliographyStyle.FindModern) : BibliographyStyle.ClassicNames.Select(BibliographyStyle.FindClassic)).Select(style =>
        {
            IReadOnlyList<ListedSource> listed = SourceList.Make(entries, style! with { Dashes = false }, _words).Sources;
            CitationManner manner = CitationManner.Of(style!, _words);
            string citation = string.Concat(CitationFormatter.Format([.. listed.Select(l => new CitedItem(l.Entry.Key))], CitationForm.Parenthetical, k => listed.FirstOrDefault(l => l.Entry.Key == k), manner, _words).Select(p => MarkupText.Plain("x" + p.Markup + "x")[1..^1]));
            return new StyleSample(style!.Name, citation, [.. listed.Select(l => new SampledSource(
                style.Label switch { CitationLabel.Number => $"[{l.Number}]", CitationLabel.Letters => $"[{MarkupText.Plain(l.Letters)}]", _ => "" }, Runs(l.Reference)))]);
        })];
    }

    private string StyleName => _settings.Style.Name;

    /// <summary>A reference's markup as runs of text, slanted where it is.</summary>
    internal static IReadOnlyList<PrintedRun> Runs(string markup)
    {
        var runs = new List<PrintedRun>();
        int at = 0;
        while (at < markup.Length)
        {
            int next = markup.IndexOf("\\emph{", at, StringComparison.Ordinal);
            int switched = markup.IndexOf("{\\em ", at, StringComparison.Ordinal);
            bool isSwitch = switched >= 0 && (next < 0 || switched < next);
            string begin = isSwitch ? "{\\em " : "\\emph{";
            next = isSwitch ? switched : next;
            Add(markup[at..(next < 0 ? markup.Length : next)], false);
            if (next < 0)
            {
                break;
            }

            int depth = 1;
            int end = next + begin.Length;
            while (end < markup.Length && depth > 0)
            {
                depth += markup[end] == '{' ? 1 : markup[end] == '}' ? -1 : 0;
                end++;
            }

            Add(markup[(next + begin.Length)..Math.Max(next + begin.Length, end - 1)], true);
            at = end;
        }

        return runs;

        void Add(string text, bool slanted)
        {
            // Spaces at a run's ends stay; the signs around keep them.
            string plain = MarkupText.Plain("|" + text.Replace("\\source@url", "", StringComparison.Ordinal).Replace("\\source@doi", "", StringComparison.Ordinal) + "|")[1..^1];
            if (plain.Length > 0)
            {
                runs.Add(new PrintedRun(plain, slanted));
            }
        }
    }

    private List<SourceUse> Uses(string key)
    {
        var result = new List<SourceUse>();
        foreach (CitationLine citation in (_report?.Citations ?? []).Where(c => c.Key == key && c.File is not null))
        {
            OutlineLine? section = _report!.Outline.LastOrDefault(o => o.File == citation.File && o.Line <= citation.Line);
            int known = result.FindIndex(u => u.File == citation.File && u.Section == (section?.Title ?? ""));
            int line = citation.Line ?? 1;
            if (known >= 0)
            {
                result[known] = result[known] with { Lines = [.. result[known].Lines.Append(line).Distinct()] };
            }
            else
            {
                result.Add(new SourceUse(section?.Number, section?.Title ?? "", citation.File!, [line], section?.Page));
            }
        }

        return result;
    }
}
