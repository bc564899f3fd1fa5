using YoungFolio.Manuscript.Mathematics;
using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>
/// Reads the expanded tokens of a manuscript and builds its document tree. Each file of this class is one
/// subject: text, structure, lists, mathematics, references, files, pages.
/// </summary>
public sealed partial class DocumentBuilder
{
    private const int RecursionLimit = 150;
    private const int FrameLimit = 1_000;

    private readonly WorkBudget _budget;

    /// <summary>What the compile may take.</summary>
    internal WorkBudget Budget => _budget;
    private readonly IFileTree _files;
    private readonly BuildOptions _options;
    private readonly Stack<BlockFrame> _frames = new();
    private readonly Scoped<TextStyle> _style = new(new TextStyle(FontFamily.Roman, false, FontShape.Upright, 10));
    private readonly Scoped<double> _leading = new(12);
    private readonly Scoped<double> _spread = new(1);
    private readonly Scoped<Alignment> _alignment = new(Alignment.Justified);
    private readonly Scoped<double> _leftMargin = new(0);
    private readonly Scoped<double> _rightMargin = new(0);
    private readonly Scoped<string> _language = new("en-us");
    private readonly Scoped<bool> _divides = new(true);
    private readonly Scoped<bool> _widensSentences = new(true);
    private readonly Scoped<CurrentLabel?> _currentLabel = new(null);
    private readonly Scoped<FloatKind?> _float = new(null);
    private int _everyParPosition = PositionTable.None;
    private int _everyParTimes;
    private int _recursion;
    private bool _documentBegun;
    private bool _documentEnded;
    private bool _isCut;
    private bool _missingBegin;
    private int _firstPrinted = PositionTable.None;
    private bool _preambleTextReported;

    private DocumentBuilder(IFileTree files, BuildOptions options, FindingLog findings, WorkBudget budget)
    {
        _budget = budget;
        _files = files;
        _options = options;
        Findings = findings;
        Machine = new Machine(findings, budget)
        {
            FontUnits = () => (_style.Value.Size, _style.Value.Size * 0.45),
            InMathematics = () => _math is not null,
            CounterChanged = CounterChanged,
            ShowLater = ShowPageNumber,
        };
        _frames.Push(new BlockFrame(false) { IsBase = true });
        DefineHooks();
        DefineText();
        DefineVerbatim();
        DefineBoxes();
        DefinePages();
        DefineLineBreaking();
        DefinePageStyles();
        DefineLists();
        DefineMathematics();
        DefineReferences();
        DefineNotes();
        DefineFiles();
        DefineFigures();
        DefineTables();
        DefineSources();
        DefineTheorems();
        DefinePreamble();
        DefineTitles();
        DefineHeadings();
        DefineContents();
        UseClass(Class);
    }

    /// <summary>The token machine.</summary>
    public Machine Machine { get; }

    /// <summary>Where findings go.</summary>
    public FindingLog Findings { get; }

    /// <summary>The document class in force.</summary>
    public Classes.DocumentClass Class { get; private set; } = new Classes.ArticleClass();

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
    }

    /// <summary>Whether a command stands for a symbol in formulas.</summary>
    internal bool IsSymbol(string name) => Machine.Symbol(name).Meaning.Value is SymbolMeaning;

    private Document BuildDocument()
    {
        ManuscriptFile? main = _files.Find(_options.MainFile);
        try
        {
            ReadDocument(main);
        }
        catch (Exception e) when (e is MarkupLimitException or RunawayException or WorkLimitException)
        {
            // Even ending the document may run into a limit; what was built so far is the tree.
            ReportLimit(e);

            _documentBegun = true;
            _geometry ??= MakeGeometry(PageWish);
        }

        return MakeDocument(_frames.Last().Blocks);
    }

    private void ReadDocument(ManuscriptFile? main)
    {
        if (main is null)
        {
            Findings.Fix("missing-main-file", PositionTable.None, 0,
                $"The main file {_options.MainFile} isn't there.", "Choose another main file, or put this one back.");
        }
        else if (string.IsNullOrWhiteSpace(main.Text))
        {
            Findings.Fix("empty-manuscript", Machine.Positions.Register(main), 0, "The manuscript is empty.",
                "Begin with \\documentclass{article}, \\begin{document} and some words.");
        }
        else
        {
            _missingBegin = !main.Text.Contains("\\begin{document}", StringComparison.Ordinal);
            Machine.OpenFile(main);
            RunToTheEnd();
            FinishDocument(main);
        }

        if (!_documentBegun)
        {
            BeginDocument();
        }

        EndParagraph();
        while (_frames.Count > 1)
        {
            EndParagraph();
            List<Block> left = _frames.Pop().Blocks;
            _frames.Peek().Blocks.AddRange(left);
        }

        foreach (Action action in _whenDocumentEnds)
        {
            action();
        }

        ResolveDeferred();
        if (!_isCut)
        {
            FileChecks.Run(_files, _options.MainFile, Machine.Positions, Findings);
        }
    }

    private void RunToTheEnd()
    {
        try
        {
            Run();
        }
        catch (Exception e) when (e is MarkupLimitException or WorkLimitException)
        {
            ReportLimit(e);
            _isCut = true;
            _budget.Begin(WorkBudget.Ending, WorkBudget.EndingUntil);
        }
    }

    private void ReportLimit(Exception e)
    {
        const string Advice = "The proof ends here. Look for something that repeats without end.";
        if (e is MarkupLimitException limit)
        {
            Findings.Fix(limit.Code, limit.Position, 1, limit.Message, Advice);
        }
        else if (e is WorkLimitException { Limit: WorkLimit.Time })
        {
            Findings.Fix("too-slow", Machine.CurrentPosition, 1, "The commands of this manuscript take longer than the compiler allows.", Advice);
        }
        else if (e is WorkLimitException)
        {
            Findings.Fix("too-much-text", Machine.CurrentPosition, 1, "The commands here make more text than the compiler takes.", Advice);
        }
    }

    private void FinishDocument(ManuscriptFile main)
    {
        if (!_documentEnded)
        {
            // What a limit cut short isn't the writer's to close.
            foreach (Group group in _isCut ? [] : Machine.Groups.Reverse())
            {
                ReportUnclosed(group);
            }

            while (Machine.Groups.Count > 0)
            {
                CloseInnermost();
            }

            if (_documentBegun && !_missingBegin && !_isCut)
            {
                int end = Machine.Positions.Register(main) + main.Text.Length;
                Findings.Fix("missing-end-document", Math.Max(0, end - 1), 1, "The document isn't ended by \\end{document}.",
                    "Put it on the last line.", new Repair(end, 0, "\n\\end{document}\n"));
            }
        }

        if (_missingBegin)
        {
            int start = Machine.Positions.Register(main);
            // It belongs at the beginning of the line with the first thing that prints.
            int at = _firstPrinted >= start && _firstPrinted < start + main.Text.Length ? _firstPrinted - start : 0;
            int line = at == 0 ? 0 : main.Text.LastIndexOf('\n', at - 1) + 1;
            Findings.Fix("missing-begin-document", start + line, 1, $"The main file {main.Path} has no \\begin{{document}}.",
                "What comes before it is the preamble, what comes after it is printed. It was taken to belong here.",
                new Repair(start + line, 0, "\\begin{document}\n"));
        }
    }

    // ---- the main loop ---------------------------------------------------------------------------------

    /// <summary>Carries out tokens until the scan's stop or the end of all input.</summary>
    private void Run()
    {
        while (true)
        {
            try
            {
                // Plain words of a paragraph are taken at once.
                if (_math is null && _documentBegun && _frames.Peek().Paragraph is { } paragraph && Machine.TryTakeWords(out ReadOnlySpan<char> words, out int position))
                {
                    paragraph.AppendWords(words, position, _style.Value);
                    continue;
                }

                Token token = Machine.NextExpanded();
                if (token.Is(Category.Stop))
                {
                    return;
                }

                Carry(token);
            }
            catch (RunawayException)
            {
                // The finding is made and the macro is gone; go on with the source.
            }
        }
    }

    private void Carry(Token token)
    {
        if (token.Symbol is not { } symbol)
        {
            CarryCharacter(token, token.Category, token.Code);
            return;
        }

        switch (symbol.Meaning.Value)
        {
            case null:
                ReportUnknownCommand(token);
                break;
            case BuiltInCommand command:
                command.Execute(Machine, token);
                break;
            case CharacterMeaning character:
                CarryCharacter(token, character.Category, character.Code);
                break;
            case ConstantMeaning constant:
                AddCharacter(constant.Value, token.Position);
                break;
            case SymbolMeaning:
                StrayMathematics(token);
                break;
            case { IsExpandable: true }:
                // \noexpand stood before it: it means nothing for once.
                break;
            case var register:
                Machine.AssignRegister(register, token);
                break;
        }
    }

    private void CarryCharacter(Token token, Category category, int code)
    {
        switch (category)
        {
            case Category.Letter or Category.Other:
                if (BeginsParagraph(token))
                {
                    break;
                }

                AddCharacter(code, token.Position);
                break;
            case Category.Space:
                AddSpace(token.Position);
                break;
            case Category.BeginGroup:
                Machine.BeginGroup(GroupKind.Brace, "", token.Position);
                break;
            case Category.EndGroup:
                CarryEndBrace(token);
                break;
            case Category.MathShift:
                if (!BeginsParagraph(token))
                {
                    InlineFormula(token);
                }

                break;
            case Category.Superscript or Category.Subscript:
                StrayScript(token);
                break;
            case Category.Alignment when EndCellBy(token):
                break;
            case Category.Alignment:
                Findings.Fix("stray-ampersand", token.Position, 1, "& parts the columns of a table, and there is none here.",
                    "For the sign itself write \\&.", new Repair(token.Position, 1, "\\&"));
                AddCharacter('&', token.Position);
                break;
            case Category.Parameter:
                Findings.Fix("stray-hash", token.Position, 1, "# stands for a parameter in a definition, and there is none here.",
                    "For the sign itself write \\#.", new Repair(token.Position, 1, "\\#"));
                AddCharacter('#', token.Position);
                break;
        }
    }

    // \everypar is read before the first sign of a paragraph (The TeXbook, p. 105).
    private bool BeginsParagraph(Token token)
    {
        if (!_documentBegun || _everyPar.Value.Length == 0 || _frames.Peek() is not { Paragraph: null } frame)
        {
            return false;
        }

        // A paragraph that \\everypar itself ends begins again and again.
        _everyParTimes = Machine.LastSourcePosition == _everyParPosition ? _everyParTimes + 1 : 0;
        _everyParPosition = Machine.LastSourcePosition;
        if (_everyParTimes > 1_000)
        {
            throw new MarkupLimitException("endless-macro", "\\everypar begins new paragraphs without end.", Machine.CurrentPosition);
        }

        frame.Paragraph = new InlineCollector();
        Machine.PutBack(token);
        Machine.Push(_everyPar.Value);
        return true;
    }

    private void CarryEndBrace(Token token)
    {
        if (Machine.Groups.Count > 0 && Machine.Groups[^1].Kind == GroupKind.Brace)
        {
            Machine.EndGroup();
            return;
        }

        if (Machine.Groups.Count > 0 && Machine.Groups[^1].Kind == GroupKind.Command && token.Position == PositionTable.None)
        {
            Machine.EndGroup();
            return;
        }

        Findings.Fix("surplus-brace", token.Position, 1, "This } closes nothing.",
            "Delete it, or put { where its group begins.", new Repair(token.Position, 1, ""));
    }

    private void ReportUnknownCommand(Token token)
    {
        string name = token.Symbol!.Name;
        if (Packages.PackageCatalogue.ProviderOf(name) is { } provider)
        {
            Findings.Fix("package-needed", token.Position, token.Length,
                $"{token} needs the package {provider}, which the preamble doesn't load.",
                $"Add \\usepackage{{{provider}}} to the preamble.", LoadRepair(provider));
            return;
        }

        if (Machine.SplitRunTogether(token))
        {
            return;
        }

        // Looking for the nearest of some thousand names takes a while; in a loop it is asked for again and again.
        if (!_nearCommands.TryGetValue(name, out string? near))
        {
            _nearCommands[name] = near = NearestName.Find(name, Machine.DefinedNames.Where(n => !n.StartsWith("end", StringComparison.Ordinal) || n.Length < 5)
                .Concat(Packages.PackageCatalogue.AllCommands));
        }

        Findings.Fix("unknown-command", token.Position, token.Length, $"There is no command {token}.",
            near is not null
                ? $"Did you mean \\{near}?"
                : "Check its spelling, or define it with \\newcommand in the preamble. What follows it was printed as it stands.",
            near is not null ? new Repair(token.Position, token.Length, "\\" + near) : null);
        // What the likely command takes is taken here too, so that one slip doesn't bring others along.
        if (near is not null && Machine.IsDefined(near))
        {
            Machine.PutBack(Token.Command(Machine.Symbol(near), token.Position));
        }
    }

    private readonly Dictionary<string, string?> _nearCommands = new(StringComparer.Ordinal);
    private readonly Dictionary<string, string?> _nearEnvironments = new(StringComparer.Ordinal);

    private Repair? LoadRepair(string package)
    {
        if (_classPosition == PositionTable.None || Machine.Positions.Resolve(_classPosition) is not { } place)
        {
            return null;
        }

        int end = place.File.Text.IndexOf('\n', place.Offset);
        return end < 0 ? null : new Repair(_classPosition - place.Offset + end + 1, 0, $"\\usepackage{{{package}}}\n");
    }

    internal static int NameLength(Token token, List<Token> argument) =>
        argument.Count > 0 && argument[^1].Position >= token.Position
            ? argument[^1].Position - token.Position + 2
            : token.Length;

    // ---- collecting ------------------------------------------------------------------------------------

    private void AddCharacter(int code, int position)
    {
        if (!_documentBegun && !CanPrint(position))
        {
            return;
        }

        if (SpacesHighSigns && code is ';' or ':' or '!' or '?' && _style.Value.Family != FontFamily.Mono && _frames.Peek().Paragraph is { HasContent: true } paragraph)
        {
            // French typography: a thin space before high signs, a wider one before the colon (common practice).
            paragraph.TrimEnd();
            paragraph.Add(new PenaltyInline(10_000));
            paragraph.Add(new SpaceInline(Glue.Of(_style.Value.Size * (code == ':' ? 0.25 : 0.17)), false));
        }

        Paragraph().Append(code, position, _style.Value);
    }

    private void AddSpace(int position)
    {
        if (_frames.Peek().Paragraph is { } paragraph)
        {
            paragraph.Space(position, _style.Value);
        }
    }

    /// <summary>Adds to the paragraph being written.</summary>
    internal void AddInline(Inline inline)
    {
        if (_math is { } math)
        {
            // Whatever a command of the text sets, such as a box or a rule, stands in the formula where it was asked for.
            math.Nodes.Add(new Mathematics.Atom(Mathematics.AtomClass.Ordinary, new Mathematics.TextNucleus([inline])) { Position = Machine.LastSourcePosition });
        }
        else if (_documentBegun || CanPrint(Machine.LastSourcePosition))
        {
            Paragraph().Add(inline);
        }
    }

    /// <summary>Adds a block; the paragraph being written ends.</summary>
    internal void AddBlock(Block block)
    {
        if (!_documentBegun)
        {
            return;
        }

        EndParagraph();
        _frames.Peek().Blocks.Add(block);
    }

    private InlineCollector Paragraph() => _frames.Peek().Paragraph ??= new InlineCollector();

    // Text in the preamble: printed when the document never begins, otherwise a finding.
    private bool CanPrint(int position)
    {
        if (_frames.Count > 1)
        {
            return true;
        }

        if (_missingBegin)
        {
            _firstPrinted = position;
            BeginDocument();
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
    private void EndParagraph(bool continues = false)
    {
        BlockFrame frame = _frames.Peek();
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
        bool indents = !frame.Continues && (!frame.AfterHeading || _indentsFirst) && frame.Label is null && !HasNoIndent
            && _alignment.Value == Alignment.Justified;
        double indent = frame.Label is not null ? frame.LabelLook.Indent : indents ? _parIndent.Value.Points : 0;
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
            Label = frame.Label,
            LabelSeparation = frame.LabelLook.Separation,
            LabelWidth = frame.LabelLook.Width,
            LabelAlignment = frame.LabelLook.Alignment,
            LabelOnOwnLine = frame.LabelLook.OwnLine,
        };
        frame.Label = null;
        HasNoIndent = false;
        if (_hangIndent.Value.Scaled != 0)
        {
            Machine.Assign(_hangIndent, default);
            Machine.Assign(_hangAfter, 1);
        }

        if (_looseness.Value != 0)
        {
            Machine.Assign(_looseness, 0);
        }

        if (_parShape.Value is not null)
        {
            Machine.Assign(_parShape, null);
        }

        return block;
    }

    private ParagraphStyle ParagraphStyleNow(double indent) => new()
    {
        Leading = _leading.Value * _spread.Value,
        Size = _style.Value.Size,
        Alignment = _alignment.Value,
        Indent = indent,
        LeftMargin = _leftMargin.Value,
        RightMargin = _rightMargin.Value,
        SpaceAbove = _parSkip.Value,
        Language = _divides.Value ? _language.Value : "",
        Costs = LineCostsNow(),
        Protrudes = Protrudes,
        Expansion = Expands ? 0.02 : 0,
        Tolerance = _tolerance.Value,
        EmergencyStretch = _emergencyStretch.Value.Points,
        WidensSentences = _widensSentences.Value,
        HangIndent = _hangIndent.Value.Points,
        HangAfter = _hangAfter.Value,
        Shape = _parShape.Value,
        ClubPenalty = _clubPenalty.Value,
        WidowPenalty = _widowPenalty.Value,
    };

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
        if (_recursion >= RecursionLimit)
        {
            throw new MarkupLimitException("nested-too-deep", "Commands are nested too deeply here.", Machine.CurrentPosition);
        }

        var frame = new BlockFrame(inlineOnly) { IsBase = true };
        MathContext? math = _math;
        _math = null;
        _recursion++;
        _frames.Push(frame);
        int depth = Machine.Groups.Count;
        Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
        try
        {
            Machine.Scan(tokens, Run);
            EndParagraph();
            ending?.Invoke();
        }
        finally
        {
            while (Machine.Groups.Count > depth + 1)
            {
                ReportUnclosed(Machine.Groups[^1]);
                CloseInnermost();
            }

            if (Machine.Groups.Count > depth)
            {
                Machine.EndGroup();
            }

            while (_frames.Contains(frame) && _frames.Pop() != frame)
            {
            }

            _recursion--;
            _math = math;
        }

        return frame;
    }

    private void OpenFrame()
    {
        if (_frames.Count > FrameLimit)
        {
            throw new MarkupLimitException("nested-too-deep", "Lists and their like are nested too deeply here.", Machine.CurrentPosition);
        }

        _frames.Push(new BlockFrame(false));
    }

    // Gives the innermost frame's blocks to the one around it.
    private BlockFrame CloseFrame()
    {
        EndParagraph();
        // An \end… that comes without its beginning closes nothing.
        return _frames.Peek().IsBase ? new BlockFrame(false) : _frames.Pop();
    }

    /// <summary>Executes tokens where they stand, in the present group and paragraph.</summary>
    internal void Execute(params Token[] tokens) => Machine.Scan(tokens, Run);
}

/// <summary>What a build needs besides the files.</summary>
/// <param name="MainFile">Path of the main file.</param>
/// <param name="Today">The date that <c>\today</c> prints.</param>
/// <param name="Measure">Measures text.</param>
public sealed record BuildOptions(string MainFile, DateOnly Today, ITextMeasure Measure);
