using System.Diagnostics;
using YoungFolio.Compiler.Changes;
using YoungFolio.Compiler.Html;
using YoungFolio.Compiler.Sheets;
using YoungFolio.Documents;
using YoungFolio.Documents.LogicalStructure;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Manuscript.Building;
using YoungFolio.Markup;
using YoungFolio.Pdf;
using YoungFolio.Typesetting;
using YoungFolio.Typesetting.Fonts;
using YoungFolio.Typesetting.Lines;
using YoungFolio.Typesetting.Pages;

namespace YoungFolio.Compiler;

/// <summary>A manuscript at one moment.</summary>
/// <param name="Files">Its files.</param>
/// <param name="MainFile">Path of the main file.</param>
/// <param name="Today">The date that <c>\today</c> prints.</param>
public sealed record ManuscriptSnapshot(IFileTree Files, string MainFile, DateOnly Today)
{
    /// <summary>Its files, with the pictures that templates show.</summary>
    public IFileTree Files { get; init; } = new ExamplePictures(Files);
}

/// <summary>What a compile gives. There is always a proof.</summary>
public sealed class CompileResult
{
    private readonly Func<bool, PdfFlavour, byte[]> _write;
    private readonly Lazy<PrintFacts> _print;
    private byte[]? _pdf;

    internal CompileResult(SheetList sheets, Func<bool, PdfFlavour, byte[]> write, Func<PrintFacts> print, CompileReport report, CrossReferences references, IReadOnlyDictionary<string, AnchorPlace> anchors, SetCache cache)
    {
        Sheets = sheets;
        _write = write;
        _print = new Lazy<PrintFacts>(print);
        Cache = cache;
        Report = report;
        CrossReferences = references;
        Anchors = anchors;
    }

    /// <summary>The pages for the screen.</summary>
    public SheetList Sheets { get; }

    /// <summary>The proof as a PDF: written when first asked for, and kept.</summary>
    public byte[] Pdf => _pdf ??= WritePdf();

    /// <summary>Writes the proof as a PDF.</summary>
    /// <param name="marked">Whether spots where something is to fix are marked.</param>
    /// <param name="flavour">What it is for; null: reading and printing. An accessible one wants a compile that is tagged.</param>
    public byte[] WritePdf(bool marked = false, PdfFlavour? flavour = null) => _write(marked, flavour ?? PdfFlavour.Usual);

    /// <summary>What can be measured on the pages: worked out when it is first asked for.</summary>
    public PrintFacts Print => _print.Value;

    /// <summary>The report.</summary>
    public CompileReport Report { get; }

    /// <summary>The labels, and where they are referred to.</summary>
    public CrossReferences CrossReferences { get; }

    /// <summary>About how much it takes in memory with all that is kept for the next compile, in bytes.</summary>
    public long Size { get; internal init; }

    /// <summary>How the manuscript prints its sources.</summary>
    public SourceSettings Sources { get; internal init; } = SourceSettings.Usual;

    /// <summary>The printed sources as items of a list that is typed by hand, as markup, without those that are.</summary>
    public IReadOnlyList<string> SourceItems { get; internal init; } = [];

    internal IReadOnlyDictionary<string, AnchorPlace> Anchors { get; }

    internal SetCache Cache { get; }
}

/// <summary>
/// Compiles manuscripts: the only door to the engine. One object serves any number of compiles at a time and
/// keeps fonts, shaped words, hyphenation and page streams for the next.
/// </summary>
public sealed class ManuscriptCompiler
{
    // Deeply nested markup is read by recursion; the limits in the builder fit this stack with room to spare.
    private const string BeginDocument = "\\begin{document}";
    private const int StackSize = 64 * 1024 * 1024;

    private readonly TypesettingResources _resources = new();
    private readonly PdfCache _cache = new();

    /// <summary>Compiles a snapshot.</summary>
    /// <param name="snapshot">The manuscript.</param>
    /// <param name="last">The compile before, whose page numbers are a good start; may be null.</param>
    /// <param name="cancellation">Stops a compile that is no longer wanted.</param>
    /// <exception cref="OperationCanceledException">When stopped.</exception>
    public CompileResult Compile(ManuscriptSnapshot snapshot, CompileResult? last = null, CancellationToken cancellation = default) =>
        Compile(snapshot, last, null, cancellation);

    /// <summary>Compiles a snapshot beside others who compile too.</summary>
    /// <param name="snapshot">The manuscript.</param>
    /// <param name="last">The compile before; may be null.</param>
    /// <param name="wait">Called now and then; it may wait, so that others go first.</param>
    /// <param name="cancellation">Stops a compile that is no longer wanted.</param>
    /// <exception cref="OperationCanceledException">When stopped.</exception>
    public CompileResult Compile(ManuscriptSnapshot snapshot, CompileResult? last, Action<CancellationToken>? wait, CancellationToken cancellation) =>
        OnDeepStack(() => Run(snapshot, last, Budget(wait, cancellation)));

    /// <summary>
    /// Compiles a snapshot so that its PDF can tell those who don't see it what is what (PDF/UA-1). It takes longer, since nothing that was set before
    /// is used again: that shows the parts of another state.
    /// </summary>
    /// <param name="snapshot">The manuscript.</param>
    /// <param name="last">A compile of it, whose page numbers are a good start; may be null.</param>
    /// <param name="cancellation">Stops a compile that is no longer wanted.</param>
    /// <exception cref="OperationCanceledException">When stopped.</exception>
    public CompileResult CompileTagged(ManuscriptSnapshot snapshot, CompileResult? last = null, CancellationToken cancellation = default) =>
        OnDeepStack(() => Run(snapshot, last, Budget(cancellation), isTagged: true));

    /// <summary>Typesets the later of two states with what came in and what was taken out marked in it.</summary>
    /// <param name="before">The earlier state.</param>
    /// <param name="after">The later state.</param>
    /// <param name="cancellation">Stops a compile that is no longer wanted.</param>
    /// <exception cref="OperationCanceledException">When stopped.</exception>
    public ChangeProof CompileChanges(ManuscriptSnapshot before, ManuscriptSnapshot after, CancellationToken cancellation = default) =>
        OnDeepStack(() =>
        {
            // What the markup or the layout has to say belongs to the state's own proof, not to the comparison.
            var findings = new FindingLog();
            MarkedDocument marked = ChangeMarks.Mark(State(before), State(after), cancellation);
            TypesetDocument pages = Typesetter.Typeset(marked.Document, marked.Files, _resources, findings, null, new SetCache(null), Budget(cancellation));
            ProofMarks.AddChangeBars(pages.Pages);
            byte[] pdf = PdfWriter.Write(pages, new PdfMetadata(marked.Document.Title, marked.Document.Author, marked.Document.Language), _cache);
            return new ChangeProof(pdf, pages.Pages.Count, [.. marked.Changes.Select(c => ChangeLine.Of(c, pages))]);

            ComparedState State(ManuscriptSnapshot snapshot)
            {
                (Document document, PositionTable positions) = Build(snapshot, findings, Budget(cancellation));
                return new ComparedState(document, positions, snapshot.Files);
            }
        });

    /// <summary>A manuscript as one page of HTML that needs nothing else, with formulas as MathML and the numbers that print.</summary>
    /// <param name="snapshot">The manuscript.</param>
    /// <param name="cancellation">Stops the work.</param>
    /// <exception cref="OperationCanceledException">When stopped.</exception>
    public string WriteHtml(ManuscriptSnapshot snapshot, CancellationToken cancellation = default) => Written(snapshot, HtmlWriter.Write, cancellation);

    /// <summary>What keeps a manuscript from being read by those who don't see it, with its places: pictures without words, tables without heads, headings that leave a level out.</summary>
    /// <param name="snapshot">The manuscript.</param>
    /// <param name="cancellation">Stops the work.</param>
    /// <exception cref="OperationCanceledException">When stopped.</exception>
    public IReadOnlyList<AccessPlace> AccessObstacles(ManuscriptSnapshot snapshot, CancellationToken cancellation = default) => OnDeepStack(() =>
    {
        (Document document, PositionTable positions) = Build(snapshot, new FindingLog(), Budget(cancellation));
        return StructureTree.Of(document).Obstacles.Select(o => AccessPlace.Of(o, positions)).ToList();
    });

    /// <summary>The words of a manuscript alone, with the numbers that print.</summary>
    /// <inheritdoc cref="WriteHtml"/>
    public string WriteText(ManuscriptSnapshot snapshot, CancellationToken cancellation = default) => Written(snapshot, HtmlWriter.WriteText, cancellation);

    private string Written(ManuscriptSnapshot snapshot, Func<Document, TypesetDocument, IFileTree, string> write, CancellationToken cancellation) => OnDeepStack(() =>
    {
        WorkBudget budget = Budget(cancellation);
        var findings = new FindingLog();
        (Document document, _) = Build(snapshot, findings, budget);
        return write(document, Typesetter.Typeset(document, snapshot.Files, _resources, findings, null, new SetCache(null), budget), snapshot.Files);
    });

    /// <summary>The formula at a place of the source, alone: for a look at it while it is being written.</summary>
    /// <param name="snapshot">The manuscript.</param>
    /// <param name="file">Path of the file.</param>
    /// <param name="line">Line from 1.</param>
    /// <param name="column">Column from 1.</param>
    /// <param name="cancellation">Stops the work.</param>
    /// <returns>The formula, or null when there is none at the place.</returns>
    public FormulaPicture? Formula(ManuscriptSnapshot snapshot, string file, int line, int column, CancellationToken cancellation = default) =>
        OnDeepStack(() =>
        {
            (Document document, PositionTable positions) = Build(snapshot, new FindingLog(), Budget(cancellation));
            int position = positions.PositionOf(file, line, column);
            return Draw(document, snapshot, position < 0 ? null : FormulaFinder.At(document, position));
        });

    /// <summary>A formula by itself, with the manuscript's own preamble: its macros and packages hold.</summary>
    /// <param name="snapshot">The manuscript.</param>
    /// <param name="formula">The formula with what begins and ends it: <c>\(…\)</c>, or an environment.</param>
    /// <param name="cancellation">Stops the work.</param>
    public FormulaDrawing DrawFormula(ManuscriptSnapshot snapshot, string formula, CancellationToken cancellation = default) =>
        OnDeepStack(() =>
        {
            string main = snapshot.Files.Find(snapshot.MainFile)?.Text ?? "";
            int begin = main.IndexOf(BeginDocument, StringComparison.Ordinal);
            string preamble = begin < 0 || !main.Contains("\\documentclass", StringComparison.Ordinal) ? "\\documentclass{article}\n" : main[..begin];
            var alone = ManuscriptFile.FromText(snapshot.MainFile, $"{preamble}{BeginDocument}\n{formula}\n\\end{{document}}\n");
            ManuscriptSnapshot sketch = snapshot with { Files = new FilesOver(new Dictionary<string, ManuscriptFile>(StringComparer.Ordinal) { [snapshot.MainFile] = alone }, snapshot.Files) };
            var findings = new FindingLog();
            (Document document, PositionTable positions) = Build(sketch, findings, Budget(cancellation));
            int line = preamble.AsSpan().Count('\n') + 2;
            int start = positions.PositionOf(snapshot.MainFile, line, 1);
            return new FormulaDrawing(Draw(document, sketch, FormulaFinder.First(document)), [.. findings.All.Where(f => f.Kind != FindingKind.Layout && f.Position >= start && f.Position <= start + formula.Length).Select(f => f.Message)]);
        });

    /// <summary>The page as a manuscript's preamble sets it, without a word of its text.</summary>
    /// <param name="snapshot">The manuscript.</param>
    /// <param name="file">The file in which its text begins.</param>
    /// <param name="begin">Where that is.</param>
    /// <param name="cancellation">Stops the work.</param>
    public PageLook LookAtPage(ManuscriptSnapshot snapshot, string file, int begin, CancellationToken cancellation = default) =>
        OnDeepStack(() =>
        {
            string preamble = (snapshot.Files.Find(file)?.Text ?? "")[..begin];
            var alone = ManuscriptFile.FromText(file, $"{preamble}{BeginDocument}\nx\n\\end{{document}}\n");
            ManuscriptSnapshot sketch = snapshot with { Files = new FilesOver(new Dictionary<string, ManuscriptFile>(StringComparer.Ordinal) { [file] = alone }, snapshot.Files) };
            WorkBudget budget = Budget(cancellation);
            (Document document, _) = Build(sketch, new FindingLog(), budget);
            return PageLook.Of(document, new TextMeasure(_resources, budget));
        });

    private FormulaPicture? Draw(Document document, ManuscriptSnapshot snapshot, (IReadOnlyList<MathList> Rows, TextStyle Style, bool IsDisplay)? formula)
    {
        if (formula is not var (rows, style, isDisplay))
        {
            return null;
        }

        IReadOnlyList<Box> boxes = Typesetter.SetFormulas(document, snapshot.Files, _resources, rows, style, isDisplay);
        var whole = new MathList([.. rows.SelectMany(r => r.Nodes)]);
        return new FormulaPicture(SvgWriter.Write(boxes), MathMl.Element(whole, isDisplay).ToString(System.Xml.Linq.SaveOptions.DisableFormatting), isDisplay);
    }

    /// <summary>A font that sheets are drawn with.</summary>
    /// <param name="key">Its key, as sheets say it.</param>
    /// <returns>The font; null when there is none, or another one by that name.</returns>
    public ScreenFont? FontForScreen(string key) =>
        ScreenFont.NameIn(key) is var name && FontLibrary.IsThere(name) && ScreenFont.Of(_resources.Fonts.Load(name)) is var font && font.Key == key ? font : null;

    /// <summary>Sets all displays of a manuscript again and again; formulas a second in the later half of the rounds.</summary>
    public double MeasureFormulas(ManuscriptSnapshot snapshot, int rounds) => OnDeepStack(() =>
    {
        (Document document, _) = Build(snapshot, new FindingLog(), Budget(CancellationToken.None));
        DisplayBlock[] displays = [.. document.Blocks.OfType<DisplayBlock>()];
        double seconds = 0;
        int count = 0;
        for (int round = 0; round < rounds; round++)
        {
            long start = Stopwatch.GetTimestamp();
            foreach (DisplayBlock display in displays)
            {
                Typesetter.SetFormulas(document, snapshot.Files, _resources, display.Rows[0].Cells, display.Style, true);
            }

            if (round >= rounds / 2)
            {
                seconds += Stopwatch.GetElapsedTime(start).TotalSeconds;
                count += displays.Length;
            }
        }

        return count / seconds;
    });

    private static T OnDeepStack<T>(Func<T> run) => SideThread.Run(run, StackSize);

    // On the thread that works: its processor time counts, not how busy the machine is.
    private static WorkBudget Budget(CancellationToken cancellation) => Budget(null, cancellation);

    private static WorkBudget Budget(Action<CancellationToken>? wait, CancellationToken cancellation)
    {
        double begun = ProcessorTime.OfThisThread();
        return new WorkBudget(() => ProcessorTime.OfThisThread() - begun, wait, cancellation);
    }

    private (Document Document, PositionTable Positions) Build(ManuscriptSnapshot snapshot, FindingLog findings, WorkBudget budget)
    {
        return DocumentBuilder.Build(snapshot.Files, new BuildOptions(snapshot.MainFile, snapshot.Today, new TextMeasure(_resources, budget)), findings, budget);
    }

    private CompileResult Run(ManuscriptSnapshot snapshot, CompileResult? last, WorkBudget budget, bool isTagged = false)
    {
        var timings = new Dictionary<string, double>();
        long start = Stopwatch.GetTimestamp();
        var findings = new FindingLog();
        (Document document, PositionTable positions) = Build(snapshot, findings, budget);
        Step("read");
        var cache = new SetCache(last?.Cache);
        TypesetDocument pages = Typesetter.Typeset(document, snapshot.Files, _resources, findings, last?.Anchors, isTagged ? null : cache, budget);
        StructureTree? structure = pages.Tagging is { } tagging ? StructureTree.Of(document, tagging.MadeFor) : null;
        IReadOnlyList<LeftOutPicture> leftOut = LeftOutPicture.Of(pages.Pages, budget);
        foreach (LeftOutPicture picture in leftOut)
        {
            ReportLeftOut(picture, findings);
        }

        Step("typeset");
        // Words are counted while the sheets are made.
        SheetList? sheets = null;
        WordCounter? words = null;
        SideThread.Both(() => sheets = SheetList.Make(pages, positions, [.. leftOut.Select(l => l.Mark.Picture)], last?.Sheets, budget), () => words = WordCounter.Of(document));
        Step("sheets");
        ReportFarFloats(document, pages, findings);
        CompileReport report = ReportMaker.Make(document, pages, positions, findings, timings, words!);
        Step("report");
        return new CompileResult(sheets!, Writer(pages, new PdfMetadata(document.Title, document.Author, document.Language), findings, structure), PrintFacts.Later(document, pages, positions), report, CrossReferences.Of(document, pages, positions, findings), pages.Anchors, cache) { Size = SizeOf(pages), Sources = new SourceSettings(document.SourceStyle, document.Language, document.IsModernSources), SourceItems = [.. document.Sources.Select(s => s.Item).Where(i => i.Length > 0)] };

        void Step(string name)
        {
            long now = Stopwatch.GetTimestamp();
            timings[name] = Math.Round(Stopwatch.GetElapsedTime(start, now).TotalMilliseconds, 1);
            start = now;
        }
    }

    // Holds the pages and what was found, and nothing else of the compile but for a structure that is wanted.
    private Func<bool, PdfFlavour, byte[]> Writer(TypesetDocument pages, PdfMetadata metadata, FindingLog findings, StructureTree? structure) => (marked, flavour) => OnDeepStack(() =>
        PdfWriter.Write(marked ? pages.With(ProofMarks.With(pages.Pages, findings)) : pages, metadata, _cache, flavour, flavour.IsAccessible ? structure : null));

    // Glyphs with their numbers, edges, places and characters; in pages, in the lines that are kept, and on sheets.
    private static long SizeOf(TypesetDocument pages) =>
        pages.Pages.Sum(p => p.Marks.Sum(m => m.Mark is GlyphMark glyphs ? 360L + (90L * glyphs.Glyphs.Length) : 300L));

    // A float that ends three pages or more from its first mention makes readers leaf.
    private static void ReportFarFloats(Document document, TypesetDocument pages, FindingLog findings)
    {
        var mentions = new Dictionary<int, Label>();
        foreach (IGrouping<string, LabelUse> uses in document.LabelUses.GroupBy(u => u.Key))
        {
            if (document.Labels.TryGetValue(uses.Key, out Label? label) && label.Kind is "figure" or "table")
            {
                mentions[uses.First().Position] = label;
            }
        }

        if (mentions.Count == 0)
        {
            return;
        }

        var sheets = new Dictionary<Label, int>();
        for (int p = 0; p < pages.Pages.Count; p++)
        {
            foreach (Placed placed in pages.Pages[p].Marks)
            {
                if (placed.Mark is GlyphMark { Positions: [>= 0 and var first, ..] } && mentions.TryGetValue(first + placed.Base, out Label? label))
                {
                    sheets.TryAdd(label, p + 1);
                }
            }
        }

        foreach ((Label label, int sheet) in sheets.OrderBy(s => s.Key.Position))
        {
            if (pages.Anchors.TryGetValue(label.Anchor, out AnchorPlace place) && Math.Abs(place.Sheet - sheet) is >= 3 and var distance)
            {
                findings.Layout("float-far", label.Position, label.Length,
                    $"This {label.Kind} stands on page {place.Label}, {distance} pages from where the text first mentions it.",
                    "Move it in the source nearer to its mention, or allow it more places with [htbp].");
            }
        }
    }

    private static void ReportLeftOut(LeftOutPicture picture, FindingLog findings) =>
        findings.Fix("unreadable-picture", picture.Mark.Position, 16,
            $"The picture {picture.Mark.Picture.File.Path} can't be read: {picture.Reason}.",
            "Export it again as a plain PNG or JPEG and put it in place of this one.");
}
