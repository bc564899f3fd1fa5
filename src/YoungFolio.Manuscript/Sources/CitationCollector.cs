using YoungFolio.Bibliography;
using YoungFolio.Documents;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Sources;

/// <summary>
/// The sources of one document: what its .bib files hold, what is cited where, in which style. What is printed is known when all has been
/// read, so that citations and lists are filled in then, at once.
/// </summary>
internal sealed class CitationCollector(DocumentBuilder builder)
{
    private readonly List<(BibEntry Entry, int Start, string File)> _entries = [];
    private readonly Dictionary<(string Key, int Offset), int> _starts = [];
    private readonly List<(string Key, int Section)> _cited = [];
    private readonly Dictionary<string, ListedSource> _byHand = new(StringComparer.Ordinal);
    private readonly Dictionary<int, SectionList> _lists = [];
    private readonly HashSet<string> _readFiles = new(StringComparer.Ordinal);
    private readonly List<Citation> _citations = [];
    private readonly List<PrintedSource> _printed = [];
    private readonly HashSet<string> _commands = new(StringComparer.Ordinal);
    private bool _saidSlip;
    private BibPool? _pool;
    private int _sections;

    private DocumentBuilder Builder => builder;

    private Machine Machine => builder.Machine;

    /// <summary>The style; what packages and commands set.</summary>
    public BibliographyStyle Style { get; set; } = BibliographyStyle.Plain;

    /// <summary>Whether the manuscript names a style.</summary>
    public bool HasStyle { get; set; }

    /// <summary>Whether biblatex is loaded.</summary>
    public bool IsModern { get; set; }

    /// <summary>Whether natbib is loaded.</summary>
    public bool IsNatbib { get; set; }

    /// <summary>What natbib's options make of the label; null: the style's own.</summary>
    public CitationLabel? Label { get; set; }

    /// <summary>Changes of how citations are put together, in order.</summary>
    public List<Func<CitationManner, CitationManner>> MannerChanges { get; } = [];

    /// <summary>Number of the stretch that has a list of its own; 0 outside of such.</summary>
    public int Section { get; private set; }

    /// <summary>Citations, in order.</summary>
    public IReadOnlyList<Citation> Citations => _citations;

    /// <summary>Sources that are printed.</summary>
    public IReadOnlyList<PrintedSource> Printed => _printed;

    /// <summary>Every key that there is.</summary>
    public IEnumerable<string> Keys => Pool.Keys().Concat(_byHand.Keys);

    /// <summary>What the preamble changes in how the style prints sources.</summary>
    public ReferenceAdjustments Adjustments { get; set; } = ReferenceAdjustments.None;

    /// <summary>Changes of a language's words, in order; those without a language are for all.</summary>
    public List<(string? Language, Func<SourceWords, SourceWords> Change)> WordChanges { get; } = [];

    /// <summary>The style as it works: with the label that options ask for.</summary>
    public BibliographyStyle Effective =>
        Style with { Adjustments = Adjustments, Label = Label ?? (IsNatbib && !HasStyle ? CitationLabel.AuthorYear : !IsModern && !IsNatbib && Style.Label == CitationLabel.AuthorYear ? Style.LabelAlone : Style.Label) };

    /// <summary>The language's words.</summary>
    public SourceWords Words => WordChanges.Where(c => c.Language is null || c.Language.Split('-')[0] == builder.Text.Language.Split('-')[0]).Aggregate(SourceWords.For(builder.Text.Language), (w, c) => c.Change(w));

    /// <summary>How citations are put together.</summary>
    public CitationManner Manner => MannerChanges.Aggregate(CitationManner.Of(Effective, Words), (m, change) => change(m));

    private BibPool Pool => _pool ??= new BibPool(_entries.Select(e => e.Entry));

    /// <summary>Reads a .bib file.</summary>
    public void Read(ManuscriptFile file)
    {
        if (!_readFiles.Add(file.Path))
        {
            return;
        }

        int start = Machine.Positions.Register(file);
        BibFile bib = file.Derived("sources", p => BibReader.Read(p.Text, builder.Budget.Look));
        foreach (BibProblem problem in bib.Problems)
        {
            if (problem.Name.Length > 0)
            {
                builder.Findings.Check("undefined-string", start + problem.Offset, problem.Name.Length, problem.Message, "Styles print nothing for it. Put braces around it, or say with @string what it stands for.",
                    new Repair(start + problem.Offset, problem.Name.Length, "{" + problem.Name + "}"));
                continue;
            }

            builder.Findings.Fix("unreadable-source", start + problem.Offset, 1, problem.Message, "The rest of the file was read.");
        }

        var first = _entries.GroupBy(e => e.Entry.Key).ToDictionary(g => g.Key, g => g.First(), StringComparer.Ordinal);
        foreach (BibEntry entry in bib.Entries)
        {
            builder.Budget.Check();
            if (entry.Key.Length > 0 && first.TryGetValue(entry.Key, out (BibEntry Entry, int Start, string File) other))
            {
                SourceLocation? place = Machine.Positions.Locate(other.Start + other.Entry.Offset);
                builder.Findings.Check("doubled-source", start + entry.KeyOffset, Math.Max(1, entry.Key.Length), $"The source “{entry.Key}” is there twice.",
                    $"The first one, in {place?.File}, line {place?.Line}, is printed. Give this one another key, or delete it.");
            }
            else
            {
                first[entry.Key] = (entry, start, file.Path);
            }

            _entries.Add((entry, start, file.Path));
            _starts.TryAdd((entry.Key, entry.Offset), start);
        }

        Preamble += bib.Preamble;
        _pool = null;
    }

    /// <summary>What the files' <c>@preamble</c>s say: most often commands that their entries use.</summary>
    public string Preamble { get; private set; } = "";

    /// <summary>Notes that sources are cited or wanted in the list; <c>*</c> stands for all.</summary>
    public void Cite(IEnumerable<string> keys, Token token)
    {
        foreach (string key in keys)
        {
            _cited.Add((key, Section));
            _citations.Add(new Citation(key, token.Position));
        }
    }

    private readonly Dictionary<string, HashSet<string>> _categories = new(StringComparer.Ordinal);

    /// <summary>Puts sources into a category of the manuscript's own.</summary>
    public void AddToCategory(string category, IEnumerable<string> keys)
    {
        if (!_categories.TryGetValue(category, out HashSet<string>? known))
        {
            _categories[category] = known = new(StringComparer.Ordinal);
        }

        known.UnionWith(keys);
    }

    /// <summary>Whether a source is in a category.</summary>
    public bool IsInCategory(string category, string key) => _categories.TryGetValue(category, out HashSet<string>? keys) && keys.Contains(key);

    /// <summary>Notes a source of a list that is written by hand.</summary>
    public void AddByHand(ListedSource source) => _byHand.TryAdd(source.Entry.Key, source);

    /// <summary>How many sources the lists by hand have so far.</summary>
    public int CountByHand => _byHand.Count;

    /// <summary>Notes what a list prints.</summary>
    public void AddPrinted(PrintedSource source) => _printed.Add(source);

    /// <summary>What <c>\source@piece</c> puts into the citation that is being made.</summary>
    public IReadOnlyList<IReadOnlyList<Inline>> Pieces { get; set; } = [];

    /// <summary>Begins a stretch with a list of its own.</summary>
    public void BeginSection() => Section = ++_sections;

    /// <summary>Ends it.</summary>
    public void EndSection() => Section = 0;

    /// <summary>The anchor of a source in its list.</summary>
    public static string AnchorOf(string key, int section) => section == 0 ? "source " + key : $"source {section} {key}";

    /// <summary>A source as it is listed in a section; for when all has been read.</summary>
    public ListedSource? Find(string key, int section) => _byHand.GetValueOrDefault(key) ?? ListOf(section).ByKey.GetValueOrDefault(key);

    /// <summary>Makes the lists, when all has been read and no group is open: what styles and .bib files define for them holds from here on.</summary>
    public void MakeLists()
    {
        foreach (int section in Enumerable.Range(0, _sections + 1))
        {
            ListOf(section);
        }
    }

    /// <summary>The list of a section; for when all has been read.</summary>
    public SectionList ListOf(int section)
    {
        if (_lists.TryGetValue(section, out SectionList? known))
        {
            return known;
        }

        var entries = new List<BibEntry>();
        var seen = new HashSet<BibEntry>(ReferenceEqualityComparer.Instance);
        foreach ((string key, _) in _cited.Where(c => c.Section == section))
        {
            foreach (BibEntry entry in key == "*" ? Pool.Entries : Pool.Find(key) is { } one ? [one] : [])
            {
                if (seen.Add(entry))
                {
                    entries.Add(entry);
                }
            }
        }

        ListOfSources made = SourceList.Make(entries, Effective, Words, Preamble, builder.Budget.Look);
        if (made.Commands.Length > 0 && _commands.Add(made.Commands))
        {
            builder.Execute([.. builder.HeadingCommands.InternalTokens(made.Commands)]);
            builder.EndParagraph();
        }

        if (made.Slip is { } slip && Style.OwnProgram is not null && !_saidSlip)
        {
            _saidSlip = true;
            builder.Findings.Check("style-slip", Named.Place.Position, Named.Place.Length, $"The bibliography style {Style.Name} stumbles: {slip}",
                "What it printed stands in the list; compare it with what the style's guide says.");
        }

        return _lists[section] = new SectionList(made, Pool);
    }

    /// <summary>How citations stand to those before them.</summary>
    public CitationTurns Turns { get; } = new();

    /// <summary>Where the style is named.</summary>
    public NamedStyle Named { get; set; }

    /// <summary>Where an entry begins in the source.</summary>
    public int PositionOf(BibEntry entry) => _starts.TryGetValue((entry.Key, entry.Offset), out int start) ? start + entry.Offset : PositionTable.None;

    /// <summary>Whether the manuscript names no sources at all: no .bib file was read, and no list is written by hand.</summary>
    public bool IsWithoutSources => _readFiles.Count == 0 && _byHand.Count == 0;

    /// <summary>Whether a key names a source.</summary>
    public bool Has(string key) => key == "*" || _byHand.ContainsKey(key) || Pool.Find(key) is not null;

    /// <summary>Says what is wrong with the sources that are cited, and which ones aren't.</summary>
    public void Check()
    {
        EntryRule rule = IsModern ? EntryRule.Modern : EntryRule.Classic;
        var cited = new HashSet<BibEntry>(ReferenceEqualityComparer.Instance);
        foreach (int section in Enumerable.Range(0, _sections + 1))
        {
            cited.UnionWith(ListOf(section).Sources.Select(s => s.Entry));
        }

        foreach (BibEntry entry in cited.OrderBy(PositionOf))
        {
            builder.Budget.Look();
            foreach (SourceRemark remark in SourceChecks.Of(entry, rule))
            {
                BibField? field = entry.Written.FirstOrDefault(f => f.Name == remark.Field);
                int start = PositionOf(entry) - entry.Offset;
                int at = start + (field?.Offset ?? entry.Offset);
                Repair? repair = remark.Mend is { } mend && field is not null ? new Repair(start + field.ValueOffset, field.End - field.ValueOffset, "{" + mend + "}") : null;
                builder.Findings.Check(remark.Code, at, field?.Name.Length ?? entry.Type.Length + 1, $"{entry.Key}: {remark.Message}", remark.Advice, repair);
            }
        }

        foreach (IReadOnlyList<BibEntry> twins in SourceChecks.Twins(cited, builder.Budget.Look))
        {
            builder.Findings.Check("doubled-work", PositionOf(twins[1]), twins[1].Type.Length + 1,
                $"{string.Join(" and ", twins.Select(t => t.Key))} seem to be one work, and all are cited.", "Merge them in the room Sources: the citations follow.");
        }

        ReportUncited(cited);
        ReportSetUp();
        ReportStyle();
    }

    // One finding a file: a pool that several manuscripts share holds many that this one doesn't cite.
    private void ReportUncited(HashSet<BibEntry> cited)
    {
        var keys = cited.Select(e => e.Key).ToHashSet(StringComparer.Ordinal);
        foreach (IGrouping<string, (BibEntry Entry, int Start, string File)> file in _entries.GroupBy(e => e.File))
        {
            var shared = file.SelectMany(e => new[] { e.Entry.Field("crossref") }.Concat(PreambleCommands.Split(e.Entry.Field("xdata")))).ToHashSet(StringComparer.Ordinal);
            (BibEntry Entry, int Start, string File)[] left = [.. file.Where(e => e.Entry.Type is not ("xdata" or "set") && !keys.Contains(e.Entry.Key) && !shared.Contains(e.Entry.Key))];
            if (left.Length > 0 && _cited.Count > 0)
            {
                string some = string.Join(", ", left.Select(e => e.Entry.Key).Distinct().Take(3));
                builder.Findings.Check("uncited-sources", left[0].Start + left[0].Entry.Offset, left[0].Entry.Type.Length + 1,
                    left.Length == 1 ? $"The source {some} is never cited, so it isn't printed." : $"{left.Length} sources of {file.Key} are never cited, so they aren't printed: {some}{(left.Length > 3 ? $" and {left.Length - 3} more" : "")}.",
                    "Cite them, or leave them for later. \\nocite{*} prints all.");
            }
        }
    }

    // A list that is written by hand has the looks that its hand gave it: a style that isn't there lacks nobody.
    private void ReportStyle()
    {
        if (IsModern || Named.Missing is not { } wanted || _readFiles.Count == 0)
        {
            return;
        }

        if (BibliographyStyle.FindNearestClassic(wanted) is not null)
        {
            builder.Findings.Check("style-stands-in", Named.Place.Position, Named.Place.Length, $"The bibliography style {wanted} doesn't ship; {Style.Name}, which is most like it, stands in.",
                $"Put its file {wanted}.bst beside the manuscript to have it as it is published.");
        }
        else
        {
            builder.Findings.Check("unknown-style", Named.Place.Position, Named.Place.Length, $"There is no bibliography style “{wanted}” here.",
                $"Sources are printed as by {Style.Name}. There are {string.Join(", ", BibliographyStyle.ClassicNames)}; another one comes with its file {wanted}.bst.");
        }
    }

    private void ReportSetUp()
    {
        if (IsModern && IsNatbib)
        {
            builder.Findings.Fix("two-citation-packages", PositionTable.None, 0, "The preamble loads both natbib and biblatex; their commands contradict each other.",
                "Keep one. biblatex takes natbib's commands along with its option natbib.");
        }
    }

    /// <summary>A list with its sources by key.</summary>
    internal sealed class SectionList
    {
        public SectionList(ListOfSources made, BibPool pool)
        {
            Sources = made.Sources;
            Commands = made.Commands;
            var byEntry = new Dictionary<BibEntry, ListedSource>(ReferenceEqualityComparer.Instance);
            foreach (ListedSource source in made.Sources)
            {
                byEntry[source.Entry] = source;
            }

            var byKey = new Dictionary<string, ListedSource>(StringComparer.Ordinal);
            foreach (string key in pool.Keys())
            {
                if (pool.Find(key) is { } entry && byEntry.TryGetValue(entry, out ListedSource? source))
                {
                    byKey[key] = source;
                }
            }

            ByKey = byKey;
        }

        public IReadOnlyList<ListedSource> Sources { get; }

        public string Commands { get; }

        public IReadOnlyDictionary<string, ListedSource> ByKey { get; }
    }
}
