using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>
/// Reads a manuscript and builds its document tree. It holds what all of reading shares: the machine, the open frames of blocks, the style of text;
/// it gathers inlines into paragraphs and paragraphs into blocks. What a command does is the matter of a feature (<see cref="ReadingFeature"/>).
/// </summary>
public sealed partial class DocumentBuilder
{
    /// <summary>How deep readings may be within one another.</summary>
    internal const int RecursionLimit = 150;

    /// <summary>How many frames may be open.</summary>
    internal const int FrameLimit = 1_000;

    /// <summary>What the compile may take.</summary>
    internal WorkBudget Budget { get; }

    /// <summary>The manuscript's files.</summary>
    internal WrittenFiles SourceFiles { get; }

    /// <summary>What is to be read, and by what date.</summary>
    internal BuildOptions Options { get; }

    /// <summary>The places that blocks are gathered in, innermost on top.</summary>
    internal Stack<BlockFrame> Frames { get; } = new();

    /// <summary>How text looks now.</summary>
    internal Scoped<TextStyle> Style { get; } = new(new TextStyle(FontFamily.Roman, false, FontShape.Upright, 10));

    /// <summary>Distance of baselines now, in points.</summary>
    internal Scoped<double> Leading { get; } = new(12);

    /// <summary>Factor of that distance (<c>\linespread</c>).</summary>
    internal Scoped<double> Spread { get; } = new(1);

    /// <summary>How lines stand now.</summary>
    internal Scoped<Alignment> TextAlignment { get; } = new(Alignment.Justified);

    /// <summary>How far lines stand in at the left, in points.</summary>
    internal Scoped<double> LeftMargin { get; } = new(0);

    /// <summary>How far lines stand in at the right, in points.</summary>
    internal Scoped<double> RightMargin { get; } = new(0);

    /// <summary>The language of the text now: <c>en-gb</c>.</summary>
    internal Scoped<string> Language { get; } = new("en-us");

    /// <summary>Whether words may be divided.</summary>
    internal Scoped<bool> Divides { get; } = new(true);

    /// <summary>Whether more space follows a sentence's end.</summary>
    internal Scoped<bool> WidensSentences { get; } = new(true);

    /// <summary>What <c>\label</c> names here; null: nothing does.</summary>
    internal Scoped<CurrentLabel?> CurrentLabel { get; } = new(null);

    /// <summary>The float that is being read, or null.</summary>
    internal Scoped<FloatKind?> Float { get; } = new(null);

    /// <summary>How deep readings are within one another.</summary>
    internal int Recursion { get; set; }

    /// <summary>Whether <c>\begin{document}</c> has come.</summary>
    internal bool DocumentBegun { get; set; }

    /// <summary>Whether <c>\end{document}</c> has come.</summary>
    internal bool DocumentEnded { get; set; }

    /// <summary>Whether the main file has no <c>\begin{document}</c>.</summary>
    internal bool MissingBegin { get; set; }

    internal int FirstPrinted { get; set; } = PositionTable.None;
    private bool _preambleTextReported;

    private DocumentBuilder(IFileTree files, BuildOptions options, FindingLog findings, WorkBudget budget)
    {
        Budget = budget;
        SourceFiles = new WrittenFiles(files);
        Options = options;
        Findings = findings;
        Reader = new DocumentReader(this);
        Dispatcher = new TokenDispatcher(this);
        UnknownNames = new UnknownNames(this);
        Letters = new LetterCommands(this);
        Boxes = new BoxCommands(this);
        Displays = new DisplayCommands(this);
        Environments = new EnvironmentCommands(this);
        Figures = new FigureCommands(this);
        Files = new FileCommands(this);
        Formulas = new FormulaReader(this);
        HeadingCommands = new HeadingCommands(this);
        Lists = new ListCommands(this);
        LongTables = new LongTableCommands(this);
        MathCommands = new MathCommands(this);
        MathGrids = new MathGrids(this);
        MathCodes = new MathCodeCommands(this);
        MathStructures = new MathStructures(this);
        PackageServices = new PackageServices(this);
        PageMeasures = new PageMeasures(this);
        StandardMeasures = new StandardMeasures(this);
        PageStyles = new PageStyleCommands(this);
        Pages = new PageCommands(this);
        Preamble = new PreambleCommands(this);
        References = new ReferenceCommands(this);
        TableColumns = new TableColumnReader(this);
        TableKinds = new TableKinds(this);
        TableLines = new TableLineCommands(this);
        Tables = new TableReader(this);
        Text = new TextCommands(this);
        Transforms = new TransformCommands(this);
        PageFields = new PageFieldCommands(this);
        SubFigures = new SubFigureCommands(this);
        CaptionSetup = new CaptionSetup(this);
        DataTables = new DataTables(this);
        TypedText = new TypedTextCommands(this);
        ContentsLists = new ContentsCommands(this);
        FloatPlacement = new FloatPlacementRules(this);
        FloatStyles = new FloatStyles(this);
        TypefaceCommands = new TypefaceCommands(this);
        Addresses = new AddressCommands(this);
        Notes = new NoteCommands(this);
        Titles = new TitleCommands(this);
        LineBreaking = new LineBreakingParameters(this);
        Theorems = new TheoremCommands(this);
        Hooks = new HookCommands(this);
        BackMatter = new BackMatterCommands(this);
        TextInFormulas = new TextInFormulas(this);
        DollarRepair = new DollarRepair(this);
        Bibliography = new BibliographyCommands(this);
        Verbatim = new VerbatimCommands(this);
        Plain = new PlainCommands(this);
        Silent = new SilentCommands(this);
        Drawings = new DrawingCommands(this);
        PlainAlignments = new PlainAlignments(this);
        Tabbing = new TabbingCommands(this);
        Framed = new FramedText(this);
        Fonts = new FontCommands(this);
        DeclaredSigns = new DeclaredSignCommands(this);
        Machine = new Machine(findings, budget);
        Machine.Quantities.FontUnits = () => Options.Measure.FontUnits(Style.Value, TypefaceCommands.Typefaces);
        Machine.Conditionals.InMathematics = () => Formulas.Math is not null;
        Machine.Counters.Changed = PageStyles.CounterChanged;
        Machine.Counters.ShowLater = PageStyles.ShowPageNumber;
        Frames.Push(new BlockFrame(false) { IsBase = true });
        Silent.DefineSilence();
        Hooks.DefineHooks();
        Text.DefineText();
        Verbatim.DefineVerbatim();
        new ProgrammingLayer(this).Define();
        Boxes.DefineBoxes();
        Pages.DefinePages();
        LineBreaking.DefineLineBreaking();
        Plain.DefinePlain();
        Fonts.DefineFonts();
        Drawings.DefineDrawing();
        PlainAlignments.DefineAlignments();
        Tabbing.DefineTabbing();
        DeclaredSigns.DefineDeclaredSigns();
        PageStyles.DefinePageStyles();
        Lists.DefineLists();
        MathCommands.DefineMathematics();
        References.DefineReferences();
        Notes.DefineNotes();
        Files.DefineFiles();
        Figures.DefineFigures();
        Tables.DefineTables();
        Bibliography.DefineSources();
        Theorems.DefineTheorems();
        Preamble.DefinePreamble();
        Titles.DefineTitles();
        HeadingCommands.DefineHeadings();
        ContentsLists.DefineContents();
        Preamble.UseClass(Class);
        StandardMeasures.Apply();
    }

    /// <summary>The token machine.</summary>
    public Machine Machine { get; }

    /// <summary>Where findings go.</summary>
    public FindingLog Findings { get; }

    /// <summary>The document class in force.</summary>
    public Classes.DocumentClass Class { get; internal set; } = new Classes.ArticleClass();

    /// <summary>10, 11 or 12.</summary>
    public int BasicSize { get; set; } = 10;

    /// <summary>Builds the tree of a manuscript.</summary>
    /// <param name="files">The files.</param>
    /// <param name="options">The main file and the date.</param>
    /// <param name="findings">Takes what there is to say.</param>
    /// <param name="budget">What it may take; null: as much as one compile.</param>
    /// <returns>The tree, and the positions of all that was read.</returns>
    public static (Document Document, PositionTable Positions) Build(
        IFileTree files, BuildOptions options, FindingLog findings, WorkBudget? budget = null)
    {
        var builder = new DocumentBuilder(files, options, findings, budget ?? new WorkBudget());
        return (builder.BuildDocument(), builder.Machine.Positions);
    }

    /// <summary>A builder that reads nothing, to see what is defined.</summary>
    internal static DocumentBuilder ForRegistry() =>
        new(new FileTree([]), new BuildOptions("", default, new NoMeasure()), new FindingLog(), new WorkBudget());

    private sealed class NoMeasure : ITextMeasure
    {
        public Extent Measure(IReadOnlyList<Inline> content, TypefaceSet typefaces) => default;

        public (double Em, double Ex) FontUnits(TextStyle style, TypefaceSet typefaces) => (style.Size, 0.43 * style.Size);

        public int? PagesOf(ManuscriptFile file) => null;
    }

    /// <summary>Whether a command stands for a symbol in formulas.</summary>
    internal bool IsSymbol(string name) => Machine.Symbol(name).Meaning.Value is SymbolMeaning;

    private Document BuildDocument()
    {
        ManuscriptFile? main = SourceFiles.Find(Options.MainFile);
        try
        {
            Reader.ReadDocument(main);
        }
        catch (Exception e) when (e is MarkupLimitException or RunawayException or WorkLimitException)
        {
            // Even ending the document may run into a limit; what was built so far is the tree.
            Reader.ReportLimit(e);

            DocumentBegun = true;
            PageMeasures.Geometry ??= PageMeasures.MakeGeometry(PageMeasures.PageSpecification);
        }

        return Pages.MakeDocument(Frames.Last().Blocks);
    }

    /// <summary>Sets a length that the markup knows by name, in points.</summary>
    internal void Set(string length, double points) => Machine.Assign(Machine.Registers.NamedDimension(length), Dimension.FromPoints(points));

    /// <summary>A length that the markup knows by name, in points.</summary>
    internal double Get(string length) => Machine.Registers.NamedDimension(length).Value.Points;

    internal static int NameLength(Token token, List<Token> argument) =>
        argument.Count > 0 && argument[^1].Position >= token.Position
            ? argument[^1].Position - token.Position + 2
            : token.Length;

    // ---- collecting ------------------------------------------------------------------------------------

    internal void AddCharacter(int code, int position)
    {
        if (!DocumentBegun && !CanPrint(position))
        {
            return;
        }

        if (PackageServices.SpacesHighSigns && code is ';' or ':' or '!' or '?' && Style.Value.Family != FontFamily.Mono && Frames.Peek().Paragraph is { HasContent: true } paragraph)
        {
            // French typography: a thin space before high signs, a wider one before the colon (common practice).
            paragraph.TrimEnd();
            paragraph.Add(new PenaltyInline(10_000));
            paragraph.Add(new SpaceInline(Glue.Of(Style.Value.Size * (code == ':' ? 0.25 : 0.17)), false));
        }

        Text.RememberStraightQuote(code, position);
        Paragraph().Append(code, position, Style.Value);
    }

    internal void AddSpace(int position)
    {
        if (Frames.Peek().Paragraph is { } paragraph)
        {
            paragraph.Space(position, Style.Value);
        }
    }

    /// <summary>Adds to the paragraph being written.</summary>
    internal void AddInline(Inline inline)
    {
        if (Formulas.Math is { } math)
        {
            // Whatever a command of the text sets, such as a box or a rule, stands in the formula where it was asked for.
            math.Nodes.Add(new Atom(AtomClass.Ordinary, new TextNucleus([inline])) { Position = Machine.Input.LastSourcePosition });
        }
        else if (DocumentBegun || CanPrint(Machine.Input.LastSourcePosition))
        {
            Paragraph().Add(inline);
        }
    }

    /// <summary>Adds a block; the paragraph being written ends.</summary>
    internal void AddBlock(Block block)
    {
        if (!DocumentBegun)
        {
            return;
        }

        EndParagraph();
        Frames.Peek().Blocks.Add(block);
    }

    internal InlineCollector Paragraph() => Frames.Peek().Paragraph ??= new InlineCollector();

    // Text in the preamble: printed when the document never begins, otherwise a finding.
    internal bool CanPrint(int position)
    {
        if (Frames.Count > 1)
        {
            return true;
        }

        if (MissingBegin)
        {
            FirstPrinted = position;
            Pages.BeginDocument();
            return true;
        }

        if (!_preambleTextReported)
        {
            _preambleTextReported = true;
            Findings.Fix("text-in-preamble", position, 1, "Text stands before \\begin{document}; it isn't printed.",
                "Only settings belong in the preamble. Move the text below \\begin{document}.");
        }

        return false;
    }

    /// <summary>Ends the paragraph being written, if there is one.</summary>
    internal void EndParagraph(bool continues = false)
    {
        BlockFrame frame = Frames.Peek();
        if (frame.InlineOnly)
        {
            return;
        }

        if (frame.Paragraph is { } paragraph)
        {
            frame.Paragraph = null;
            bool hasContent = paragraph.HasContent;
            List<Inline> content = paragraph.Finish();
            if (content.Count > 0 || frame.Label is not null)
            {
                if (!hasContent && frame.Label is null && content.TrueForAll(i => i is AnchorInline))
                {
                    frame.Blocks.AddRange(content.Select(a => new AnchorBlock(((AnchorInline)a).Name)));
                }
                else
                {
                    frame.Blocks.Add(MakeParagraph(content, frame));
                    frame.AfterHeading = false;
                    frame.Continues = false;
                }
            }
        }
        else if (frame.Label is not null && !continues)
        {
            frame.Blocks.Add(MakeParagraph([], frame));
        }

        if (frame.AfterParagraph.Count > 0)
        {
            frame.Blocks.AddRange(frame.AfterParagraph);
            frame.AfterParagraph.Clear();
        }

        if (!continues)
        {
            frame.Continues = false;
        }
    }

    private ParagraphBlock MakeParagraph(IReadOnlyList<Inline> content, BlockFrame frame)
    {
        bool indents = !frame.Continues && (!frame.AfterHeading || Text.IndentsFirst || Languages.Language.Of(Language.Value).IndentsFirst) && frame.Label is null && !Text.HasNoIndent
            && TextAlignment.Value == Alignment.Justified;
        double indent = frame.Label is not null ? frame.LabelLook.Indent : indents ? Text.ParIndent.Value.Points : 0;
        ParagraphStyle style = ParagraphStyleNow(indent);
        if (frame.Continues)
        {
            style = style with { SpaceAbove = default };
        }
        else if (frame.Label is not null)
        {
            style = style with { SpaceAbove = frame.LabelSpace };
        }

        var block = new ParagraphBlock(content, style)
        {
            Label = frame.Label is not { } label ? null : new ItemLabel(label)
            {
                Separation = frame.LabelLook.Separation,
                Width = frame.LabelLook.Width,
                Alignment = frame.LabelLook.Alignment,
                OnOwnLine = frame.LabelLook.OwnLine,
            },
        };
        frame.Label = null;
        Text.HasNoIndent = false;
        if (Text.HangIndent.Value.Scaled != 0)
        {
            Machine.Assign(Text.HangIndent, default);
            Machine.Assign(Text.HangAfter, 1);
        }

        if (LineBreaking.Looseness.Value != 0)
        {
            Machine.Assign(LineBreaking.Looseness, 0);
        }

        if (Text.ParShape.Value is not null)
        {
            Machine.Assign(Text.ParShape, null);
        }

        return block;
    }

    internal ParagraphStyle ParagraphStyleNow(double indent) => Plain.WithSkips(new()
    {
        Leading = Leading.Value * Spread.Value,
        Size = Style.Value.Size,
        Alignment = TextAlignment.Value,
        Indent = indent,
        LeftMargin = LeftMargin.Value,
        RightMargin = RightMargin.Value,
        SpaceAbove = Text.ParSkip.Value,
        Language = Divides.Value ? Language.Value : "",
        Costs = LineBreaking.LineCostsNow(),
        Protrudes = LineBreaking.Protrudes,
        Expansion = LineBreaking.Expands ? 0.02 : 0,
        Tolerance = Text.Tolerance.Value,
        EmergencyStretch = Text.EmergencyStretch.Value.Points,
        WidensSentences = WidensSentences.Value,
        HangIndent = Text.HangIndent.Value.Points,
        HangAfter = Text.HangAfter.Value,
        Shape = Text.ParShape.Value,
        ClubPenalty = Text.ClubPenalty.Value,
        WidowPenalty = Text.WidowPenalty.Value,
        Numbering = LineNumbers.Value,
    });

    /// <summary>How lines are numbered now.</summary>
    internal Scoped<LineNumbering?> LineNumbers { get; } = new(null);

    /// <summary>Builds one line's material from tokens.</summary>
    internal List<Inline> BuildInlines(IReadOnlyList<Token> tokens)
    {
        BlockFrame frame = Enter(tokens, true);
        return frame.Paragraph!.Finish();
    }

    /// <summary>Builds blocks from tokens, as for a footnote.</summary>
    /// <param name="tokens">The tokens.</param>
    /// <param name="ending">Called before the group around them ends.</param>
    internal List<Block> BuildBlocks(IReadOnlyList<Token> tokens, Action? ending = null) => Enter(tokens, false, ending).Blocks;

    private BlockFrame Enter(IReadOnlyList<Token> tokens, bool inlineOnly, Action? ending = null)
    {
        if (Recursion >= RecursionLimit)
        {
            throw new MarkupLimitException("nested-too-deep", "Commands are nested too deeply here.", Machine.Input.CurrentPosition);
        }

        var frame = new BlockFrame(inlineOnly) { IsBase = true };
        MathContext? math = Formulas.Math;
        Formulas.Math = null;
        Recursion++;
        Frames.Push(frame);
        int depth = Machine.Groups.Count;
        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        try
        {
            Machine.Scan(tokens, Dispatcher.Run);
            EndParagraph();
            ending?.Invoke();
        }
        finally
        {
            while (Machine.Groups.Count > depth + 1)
            {
                Environments.ReportUnclosed(Machine.Groups[^1]);
                Environments.CloseInnermost();
            }

            if (Machine.Groups.Count > depth)
            {
                Machine.EndGroup();
            }

            while (Frames.Contains(frame) && Frames.Pop() != frame)
            {
            }

            Recursion--;
            Formulas.Math = math;
        }

        return frame;
    }

    internal void OpenFrame()
    {
        if (Frames.Count > FrameLimit)
        {
            throw new MarkupLimitException("nested-too-deep", "Lists and their like are nested too deeply here.", Machine.Input.CurrentPosition);
        }

        Frames.Push(new BlockFrame(false));
    }

    // Gives the innermost frame's blocks to the one around it.
    internal BlockFrame CloseFrame()
    {
        EndParagraph();
        // An \end… that comes without its beginning closes nothing.
        return Frames.Peek().IsBase ? new BlockFrame(false) : Frames.Pop();
    }

    /// <summary>Executes tokens where they stand, in the present group and paragraph.</summary>
    internal void Execute(params Token[] tokens) => Machine.Scan(tokens, Dispatcher.Run);
}

/// <summary>What a build needs besides the files.</summary>
/// <param name="MainFile">Path of the main file.</param>
/// <param name="Today">The date that <c>\today</c> prints.</param>
/// <param name="Measure">Measures text.</param>
public sealed record BuildOptions(string MainFile, DateOnly Today, ITextMeasure Measure);
