using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Hyphenation;
using YoungFolio.Typesetting.Images;
using YoungFolio.Typesetting.Lines;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Typesetting;

/// <summary>What all compiles share: fonts, shaped words, hyphenation. Safe for use by several threads.</summary>
public sealed class TypesettingResources
{
    private readonly System.Collections.Concurrent.ConcurrentDictionary<string, Hyphenator?> _hyphenators = new(StringComparer.Ordinal);

    /// <summary>The fonts.</summary>
    public FontLibrary Fonts { get; } = new();

    /// <summary>The shaper.</summary>
    public Shaper Shaper { get; } = new();

    private readonly System.Runtime.CompilerServices.ConditionalWeakTable<ManuscriptFile, System.Collections.Concurrent.ConcurrentDictionary<int, (Picture? Picture, string? Reason)>> _pictures = [];

    /// <summary>A picture's head, read once for each file; null and a reason when it can't be read.</summary>
    internal (Picture? Picture, string? Reason) Picture(ManuscriptFile file, int page) =>
        _pictures.GetValue(file, static _ => new()).GetOrAdd(page, p => Images.Picture.Read(file, p));

    private readonly System.Runtime.CompilerServices.ConditionalWeakTable<ManuscriptFile, Tuple<int?>> _pageCounts = [];

    /// <summary>How many pages a picture's file has, read once for each file; null: it can't be read.</summary>
    internal int? PagesOf(ManuscriptFile file) =>
        _pageCounts.GetValue(file, static f => Tuple.Create(f.Path.EndsWith(".pdf", StringComparison.OrdinalIgnoreCase) ? PdfFigure.CountPages(f.Bytes.ToArray()) : 1)).Item1;

    private readonly System.Runtime.CompilerServices.ConditionalWeakTable<ManuscriptFile, Tuple<SvgFigure?, string?>> _svgFigures = [];

    /// <summary>An SVG's figure, read once for each file; null and a reason when it can't be read.</summary>
    internal (SvgFigure? Figure, string? Reason) Svg(ManuscriptFile file)
    {
        Tuple<SvgFigure?, string?> read = _svgFigures.GetValue(file, p =>
        {
            (SvgFigure? figure, string? reason) = SvgFigure.Read(p, Fonts, Shaper);
            return Tuple.Create(figure, reason);
        });
        return (read.Item1, read.Item2);
    }

    /// <summary>The hyphenator of a language, or null.</summary>
    public Hyphenator? Hyphenator(string language) =>
        language.Length == 0 ? null : _hyphenators.GetOrAdd(language, Typesetting.Hyphenation.Hyphenator.ForLanguage);
}

/// <summary>What one making of the pages knows and needs.</summary>
internal sealed class SettingContext
{
    public required TypesettingResources Resources { get; init; }

    public required Document Document { get; init; }

    public required IFileTree Files { get; init; }

    public required FindingLog Findings { get; set; }

    /// <summary>What was set before and can be used again; null when nothing is kept.</summary>
    public SetCache? Cache { get; set; }

    /// <summary>Takes what marks show; null: it isn't told.</summary>
    public Tagging? Tagging { get; init; }

    /// <summary>Says what the marks of a box show, where that is told and no part of them shows something else.</summary>
    public void Own(Box box, Node owner)
    {
        if (Tagging is not null)
        {
            box.Own(owner);
        }
    }

    /// <summary>What the compile may take.</summary>
    public required WorkBudget Budget { get; init; }

    /// <summary>Where anchors stood in the round before.</summary>
    public required IReadOnlyDictionary<string, AnchorPlace> Known { get; init; }

    /// <summary>The page whose head or foot is being set; null in the flow.</summary>
    public PageFields? Page { get; set; }

    /// <summary>Whether a mark is being set: a mark that asks for marks would ask for itself without end.</summary>
    public bool IsInMark { get; set; }
}

/// <summary>What heads and feet can show of their page.</summary>
internal sealed record PageFields(string Label, int Number, IReadOnlyList<Inline> LeftMark, IReadOnlyList<Inline> RightMark)
{
    /// <summary>The page's number in a format; as printed when it is empty.</summary>
    public string NumberAs(string format) => format.Length == 0 ? Label : Format(Number, format);

    /// <summary>A number in a format.</summary>
    public static string Format(int number, string format) => format switch
    {
        "roman" => Numerals.Roman(number),
        "Roman" => Numerals.Roman(number).ToUpperInvariant(),
        "alph" => Numerals.Letter(number) ?? "",
        "Alph" => (Numerals.Letter(number) ?? "").ToUpperInvariant(),
        "fnsymbol" => Numerals.FootnoteSign(number) ?? "",
        _ => number.ToString(System.Globalization.CultureInfo.InvariantCulture),
    };
}

/// <summary>Measures text for the layer above, with the fonts of a typeface.</summary>
/// <param name="resources">Fonts and their like.</param>
/// <param name="budget">What the compile may take; null: as much as one.</param>
public sealed class TextMeasure(TypesettingResources resources, WorkBudget? budget = null) : ITextMeasure
{
    private readonly WorkBudget _budget = budget ?? new WorkBudget();

    /// <inheritdoc/>
    public Extent Measure(IReadOnlyList<Inline> content, TypefaceSet typefaces)
    {
        var context = new SettingContext
        {
            Resources = resources,
            Document = Document.Empty with { Typefaces = typefaces },
            Files = new FileTree([]),
            Findings = new FindingLog(),
            Budget = _budget,
            Known = new Dictionary<string, AnchorPlace>(),
        };
        Box box = new ParagraphSetter(context).SetBox(content);
        return new Extent(box.Width, box.Height, box.Depth);
    }

    /// <inheritdoc/>
    /// <remarks>An em dash is an em wide, but for typewriter type, whose em is two of its characters (common practice).</remarks>
    public (double Em, double Ex) FontUnits(TextStyle style, TypefaceSet typefaces)
    {
        FontFile font = resources.Fonts.Find(typefaces, style);
        double em = style.Family == FontFamily.Mono ? 2 * font.Advance(font.GlyphOf('0')) : font.Advance(font.GlyphOf('—'));
        return (em * style.Size, font.Box(font.GlyphOf('x')).Top * style.Size);
    }

    /// <inheritdoc/>
    public int? PagesOf(ManuscriptFile file) => resources.PagesOf(file);
}

/// <summary>Turns a document tree into pages: the door of this layer.</summary>
public static class Typesetter
{
    private const int MostRounds = 6;

    private static readonly IReadOnlyDictionary<string, AnchorPlace> s_nothing = new Dictionary<string, AnchorPlace>();

    /// <summary>Sets formulas alone, each as one box.</summary>
    public static IReadOnlyList<Box> SetFormulas(
        Document document, IFileTree files, TypesettingResources resources, IReadOnlyList<MathList> formulas, TextStyle style, bool isDisplay)
    {
        var context = new SettingContext
        {
            Resources = resources,
            Document = document,
            Files = files,
            Findings = new FindingLog(),
            Budget = new WorkBudget(),
            Known = new Dictionary<string, AnchorPlace>(),
        };
        var text = new ParagraphSetter(context);
        var setter = new Formulas.MathSetter(context);
        return [.. formulas.Select(f => isDisplay ? setter.SetDisplay(f, style, text) : text.SetBox([new MathInline(f, style)]))];
    }

    /// <summary>Makes pages until every number in them holds.</summary>
    /// <param name="document">The tree.</param>
    /// <param name="files">The manuscript's files, for pictures.</param>
    /// <param name="resources">Fonts and their like.</param>
    /// <param name="findings">Takes what there is to say about the layout.</param>
    /// <param name="known">Where anchors stood after the last compile: a good start.</param>
    /// <param name="cache">What was set before; it takes what is set now. Null: marks tell what they show, and nothing is kept.</param>
    /// <param name="budget">What it may take; null: as much as one compile.</param>
    public static TypesetDocument Typeset(
        Document document, IFileTree files, TypesettingResources resources, FindingLog findings,
        IReadOnlyDictionary<string, AnchorPlace>? known, SetCache? cache, WorkBudget? budget = null)
    {
        budget ??= new WorkBudget();
        // From the last compile's numbers it is most often one round. But a manuscript whose numbers move what they name may have no
        // end, or another one from there: then it begins anew, so that it looks as if it had been typeset for the first time.
        int rounds = 0;
        for (IReadOnlyDictionary<string, AnchorPlace> start = known ?? s_nothing; ; start = s_nothing)
        {
            if (Settle(start) is { } pages)
            {
                return pages;
            }
        }

        TypesetDocument? Settle(IReadOnlyDictionary<string, AnchorPlace> numbers)
        {
            bool isFirstTime = ReferenceEquals(numbers, s_nothing);
            for (int round = 1; ; round++)
            {
                rounds++;
                budget.Begin(WorkBudget.Typesetting, WorkBudget.FlowUntil);
                var roundFindings = new FindingLog();
                var context = new SettingContext
                {
                    Resources = resources,
                    Document = document,
                    Files = files,
                    Findings = roundFindings,
                    Budget = budget,
                    Known = numbers,
                    Cache = cache,
                    Tagging = cache is null ? new Tagging() : null,
                };
                PageBuilder builder = new(context);
                builder.Build();
                bool settled = Same(numbers, builder.Anchors);
                bool isLate = builder.IsCut || budget.IsPast(WorkBudget.RoundsUntil);
                if (!settled && !isLate && round == MostRounds && !isFirstTime)
                {
                    return null;
                }

                if (settled || isLate || round == MostRounds)
                {
                    foreach (Finding finding in roundFindings.All)
                    {
                        findings.Add(finding);
                    }

                    if (!settled && !builder.IsCut)
                    {
                        findings.Layout("unsettled-numbers", PositionTable.None, 0, "Page numbers don't settle.",
                            "A reference to a page moves the very page that it names. Reword near the references to pages.");
                    }

                    return new TypesetDocument
                    {
                        Pages = builder.Pages,
                        Outline = builder.Outline,
                        Anchors = builder.Anchors,
                        Floats = builder.Floats,
                        Index = builder.Index,
                        LoneLines = builder.LoneLines,
                        Rounds = rounds,
                        Tagging = context.Tagging,
                    };
                }

                numbers = builder.Anchors;
            }
        }
    }

    // Only what is printed counts: the pages' numbers.
    private static bool Same(IReadOnlyDictionary<string, AnchorPlace> a, Dictionary<string, AnchorPlace> b)
    {
        // What is gone must not be named any more.
        if (a.Count != b.Count)
        {
            return false;
        }

        foreach ((string name, AnchorPlace place) in b)
        {
            if (!a.TryGetValue(name, out AnchorPlace other) || other.Label != place.Label || other.Number != place.Number)
            {
                return false;
            }
        }

        return true;
    }
}
