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

    private readonly IPartTree _parts;
    private readonly BuildOptions _options;
    private readonly Dictionary<string, BuiltInEnvironment> _environments = new(StringComparer.Ordinal);
    private readonly Stack<BlockFrame> _frames = new();
    private readonly Scoped<TextStyle> _style = new(new TextStyle(FontFamily.Roman, false, FontShape.Upright, 10));
    private readonly Scoped<double> _leading = new(12);
    private readonly Scoped<double> _spread = new(1);
    private readonly Scoped<Alignment> _alignment = new(Alignment.Justified);
    private readonly Scoped<double> _leftMargin = new(0);
    private readonly Scoped<double> _rightMargin = new(0);
    private readonly Scoped<string> _language = new("en-us");
    private readonly Scoped<bool> _widensSentences = new(true);
    private readonly Scoped<CurrentLabel?> _currentLabel = new(null);
    private readonly Scoped<string> _floatKind = new("");
    private int _recursion;
    private bool _documentBegun;
    private bool _documentEnded;
    private bool _missingBegin;
    private bool _preambleTextReported;

    private DocumentBuilder(IPartTree parts, BuildOptions options, FindingLog findings, CancellationToken cancellation)
    {
        _parts = parts;
        _options = options;
        Findings = findings;
        Machine = new Machine(findings, cancellation)
        {
            FontUnits = () => (_style.Value.Size, _style.Value.Size * 0.45),
            InMathematics = () => _math is not null,
            EnvironmentExists = name => _environments.ContainsKey(name)
                || (Machine!.Environments.TryGetValue(name, out Scoped<MacroEnvironment?>? e) && e.Value is not null),
        };
        _frames.Push(new BlockFrame(false));
        DefineText();
        DefineStructure();
        DefineLists();
        DefineMathematics();
        DefineReferences();
        DefineFiles();
        DefinePages();
        DefineFigures();
        DefineSources();
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
    /// <param name="parts">The parts.</param>
    /// <param name="options">The main part and the date.</param>
    /// <param name="findings">Takes what there is to say.</param>
    /// <param name="cancellation">Stops the work.</param>
    /// <returns>The tree, and the positions of all that was read.</returns>
    public static (Document Document, PositionTable Positions) Build(
        IPartTree parts, BuildOptions options, FindingLog findings, CancellationToken cancellation = default)
    {
        var builder = new DocumentBuilder(parts, options, findings, cancellation);
        return (builder.BuildDocument(), builder.Machine.Positions);
    }

    private Document BuildDocument()
    {
        Part? main = _parts.Find(_options.MainPart);
        if (main is null)
        {
            Findings.Fix("missing-main-part", PositionTable.None, 0,
                $"The main part {_options.MainPart} isn't there.", "Choose another main part, or put this one back.");
        }
        else if (string.IsNullOrWhiteSpace(main.Text))
        {
            Findings.Fix("empty-manuscript", Machine.Positions.Register(main), 0, "The manuscript is empty.",
                "Begin with \\documentclass{article}, \\begin{document} and some words.");
        }
        else
        {
            _missingBegin = !main.Text.Contains("\\begin{document}", StringComparison.Ordinal);
            Machine.OpenPart(main);
            try
            {
                Run();
            }
            catch (MarkupLimitException e)
            {
                Findings.Fix(e.Code, e.Position, 1, e.Message, "The proof ends here. Look for something that repeats without end.");
            }

            FinishDocument(main);
        }

        if (!_documentBegun)
        {
            BeginDocument();
        }

        EndParagraph();
        while (_frames.Count > 1)
        {
            CloseFrame();
        }

        return MakeDocument(_frames.Peek().Blocks);
    }

    private void FinishDocument(Part main)
    {
        if (!_documentEnded)
        {
            foreach (Group group in Machine.Groups.Reverse())
            {
                ReportUnclosed(group);
            }

            while (Machine.Groups.Count > 0)
            {
                CloseInnermost();
            }

            if (_documentBegun && !_missingBegin)
            {
                int end = Machine.Positions.Register(main) + main.Text.Length;
                Findings.Fix("missing-end-document", Math.Max(0, end - 1), 1, "The document isn't ended by \\end{document}.",
                    "Put it on the last line.", new Repair(end, 0, "\n\\end{document}\n"));
            }
        }

        if (_missingBegin)
        {
            int start = Machine.Positions.Register(main);
            Findings.Fix("missing-begin-document", start, 1, $"The main part {main.Path} has no \\begin{{document}}.",
                "What comes before it is the preamble, what comes after it is printed. All was printed here.");
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
                InlineFormula(token);
                break;
            case Category.Superscript or Category.Subscript:
                StrayScript(token);
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

        string? near = NearestName.Find(name, Machine.DefinedNames.Concat(Packages.PackageCatalogue.AllCommands));
        Findings.Fix("unknown-command", token.Position, token.Length, $"There is no command {token}.",
            near is not null
                ? $"Did you mean \\{near}?"
                : "Check its spelling, or define it with \\newcommand in the preamble. What follows it was printed as it stands.",
            near is not null ? new Repair(token.Position, token.Length, "\\" + near) : null);
    }

    private Repair? LoadRepair(string package)
    {
        if (_classPosition == PositionTable.None || Machine.Positions.Resolve(_classPosition) is not { } place)
        {
            return null;
        }

        int end = place.Part.Text.IndexOf('\n', place.Offset);
        return end < 0 ? null : new Repair(_classPosition - place.Offset + end + 1, 0, $"\\usepackage{{{package}}}\n");
    }

    // ---- environments ----------------------------------------------------------------------------------

    private void DefineEnvironment(string name, Action<Token> begin, Action<Token>? end = null) =>
        _environments[name] = new BuiltInEnvironment(begin, end ?? (static _ => { }));

    private void BeginEnvironment(Token token)
    {
        List<Token> argument = Machine.ReadArgument(token);
        string name = Machine.ExpandToText(argument).Trim();
        int length = NameLength(token, argument);
        if (name == "document")
        {
            if (_documentBegun && !_missingBegin)
            {
                Findings.Fix("second-begin-document", token.Position, length, "The document has begun already.", "Delete this line.");
                return;
            }

            BeginDocument();
            Machine.BeginGroup(GroupKind.Environment, name, token.Position);
            return;
        }

        if (name.Length == 0)
        {
            return;
        }

        Machine.BeginGroup(GroupKind.Environment, name, token.Position);
        if (Machine.Environments.TryGetValue(name, out Scoped<MacroEnvironment?>? slot) && slot.Value is { } macro)
        {
            Symbol begin = Machine.Symbol("begin " + name);
            Machine.Assign(begin.Meaning, macro.Begin);
            Machine.PutBack(Token.Command(begin, token.Position));
        }
        else if (_environments.TryGetValue(name, out BuiltInEnvironment? environment))
        {
            environment.Begin(token);
        }
        else if (Machine.IsDefined(name))
        {
            Machine.PutBack(Token.Command(Machine.Symbol(name), token.Position));
        }
        else
        {
            string? near = NearestName.Find(name, _environments.Keys.Concat(Machine.EnvironmentNames));
            int at = argument.Count > 0 ? argument[0].Position : token.Position;
            string advice = Packages.PackageCatalogue.EnvironmentProviderOf(name) is { } provider
                ? $"It comes with the package {provider}."
                : near is not null ? $"Did you mean {near}?" : "Its text was printed as it stands.";
            Findings.Fix("unknown-environment", at, Math.Max(1, name.Length), $"There is no environment {name}.", advice);
        }
    }

    private void EndEnvironment(Token token)
    {
        List<Token> argument = Machine.ReadArgument(token);
        string name = Machine.ExpandToText(argument).Trim();
        int open = -1;
        int innermost = -1;
        for (int i = Machine.Groups.Count - 1; i >= 0; i--)
        {
            if (Machine.Groups[i].Kind == GroupKind.Environment)
            {
                innermost = innermost < 0 ? i : innermost;
                if (Machine.Groups[i].Name == name)
                {
                    open = i;
                    break;
                }
            }
        }

        if (innermost < 0)
        {
            Findings.Fix("surplus-end", token.Position, NameLength(token, argument), $"\\end{{{name}}} has no \\begin{{{name}}} before it.",
                "Delete it, or put the \\begin where it should start.");
            return;
        }

        if (open < 0 && Machine.Groups[innermost] is { } wrong && wrong.Name != "document")
        {
            int line = Machine.Positions.Locate(wrong.Position)?.Line ?? 0;
            int at = argument.Count > 0 ? argument[0].Position : token.Position;
            Findings.Fix("wrong-end", at, Math.Max(1, name.Length),
                $"The environment {wrong.Name}, begun on line {line}, is closed here by the name {name}.",
                $"Write \\end{{{wrong.Name}}}.", new Repair(at, name.Length, wrong.Name));
            open = innermost;
            name = wrong.Name;
        }
        else if (open < 0)
        {
            Findings.Fix("surplus-end", token.Position, NameLength(token, argument), $"\\end{{{name}}} has no \\begin{{{name}}} before it.",
                "Delete it, or put the \\begin where it should start.");
            return;
        }

        for (int i = Machine.Groups.Count - 1; i > open; i--)
        {
            ReportUnclosed(Machine.Groups[i]);
            CloseInnermost();
        }

        if (Machine.Environments.TryGetValue(name, out Scoped<MacroEnvironment?>? slot) && slot.Value is { } macro)
        {
            Machine.Push(Token.Command(_closeEnvironment, token.Position));
            Symbol end = Machine.Symbol("end " + name);
            Machine.Assign(end.Meaning, macro.End);
            Machine.PutBack(Token.Command(end, token.Position));
            return;
        }

        if (!_environments.ContainsKey(name) && Machine.IsDefined("end" + name))
        {
            Machine.Push(Token.Command(_closeEnvironment, token.Position));
            Machine.PutBack(Token.Command(Machine.Symbol("end" + name), token.Position));
            return;
        }

        CloseInnermost();
        if (name == "document")
        {
            EndDocument(token);
        }
    }

    // Ends the innermost group, with what its environment does at its end.
    private void CloseInnermost()
    {
        Group group = Machine.Groups[^1];
        if (group.Kind == GroupKind.Environment && _environments.TryGetValue(group.Name, out BuiltInEnvironment? environment)
            && !(Machine.Environments.TryGetValue(group.Name, out Scoped<MacroEnvironment?>? slot) && slot.Value is not null))
        {
            environment.End(Token.Stop().At(group.Position));
        }

        Machine.EndGroup();
    }

    private void ReportUnclosed(Group group)
    {
        switch (group.Kind)
        {
            case GroupKind.Brace:
                Findings.Fix("missing-brace", group.Position, 1, "The brace { opened here isn't closed.",
                    "Put } where it should end.");
                break;
            case GroupKind.Environment:
                Findings.Fix("unclosed-environment", group.Position, group.Name.Length + 8,
                    $"The environment {group.Name} begun here isn't closed.",
                    $"Put \\end{{{group.Name}}} where it should end.");
                break;
        }
    }

    private static int NameLength(Token token, List<Token> argument) =>
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

        Paragraph().Append(code, position, _style.Value);
    }

    private void AddSpace(int position)
    {
        if (_frames.Peek().Paragraph is { } paragraph)
        {
            paragraph.Space(position, _style.Value);
        }
    }

    private void AddInline(Inline inline)
    {
        if (_documentBegun || CanPrint(Machine.LastSourcePosition))
        {
            Paragraph().Add(inline);
        }
    }

    private void AddBlock(Block block)
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

        if (!continues)
        {
            frame.Continues = false;
        }
    }

    private ParagraphBlock MakeParagraph(IReadOnlyList<Inline> content, BlockFrame frame)
    {
        bool indents = !frame.Continues && !frame.AfterHeading && frame.Label is null && !_noIndent
            && _alignment.Value == Alignment.Justified;
        ParagraphStyle style = ParagraphStyleNow(indents ? _parIndent.Value.Points : 0);
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
            LabelSeparation = 0.5 * style.Size,
        };
        frame.Label = null;
        _noIndent = false;
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
        Language = _language.Value,
        Tolerance = _tolerance.Value,
        EmergencyStretch = _emergencyStretch.Value.Points,
        WidensSentences = _widensSentences.Value,
    };

    /// <summary>Builds one line's material from tokens.</summary>
    internal List<Inline> BuildInlines(IReadOnlyList<Token> tokens)
    {
        BlockFrame frame = Enter(tokens, true);
        return frame.Paragraph!.Finish();
    }

    /// <summary>Builds blocks from tokens, as for a footnote.</summary>
    internal List<Block> BuildBlocks(IReadOnlyList<Token> tokens) => Enter(tokens, false).Blocks;

    private BlockFrame Enter(IReadOnlyList<Token> tokens, bool inlineOnly)
    {
        if (_recursion >= RecursionLimit)
        {
            throw new MarkupLimitException("nested-too-deep", "Commands are nested too deeply here.", Machine.CurrentPosition);
        }

        var frame = new BlockFrame(inlineOnly);
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

            while (_frames.Count > 0 && _frames.Pop() != frame)
            {
            }

            _recursion--;
            _math = math;
        }

        return frame;
    }

    private void OpenFrame() => _frames.Push(new BlockFrame(false));

    // Gives the innermost frame's blocks to the one around it.
    private BlockFrame CloseFrame()
    {
        EndParagraph();
        return _frames.Pop();
    }

    private sealed record BuiltInEnvironment(Action<Token> Begin, Action<Token> End);
}

/// <summary>What a build needs besides the parts.</summary>
/// <param name="MainPart">Path of the main part.</param>
/// <param name="Today">The date that <c>\today</c> prints.</param>
public sealed record BuildOptions(string MainPart, DateOnly Today);
