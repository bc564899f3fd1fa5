using YoungFolio.Documents;
using YoungFolio.Manuscript.Classes;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>How a list stands; kinds begin it, keys and commands change it. Lengths in points.</summary>
internal sealed record ListSetup
{
    /// <summary>Label of each item as markup tokens.</summary>
    public IReadOnlyList<Token> Label { get; init; } = [];

    /// <summary>Counter that items step; empty for none.</summary>
    public string Counter { get; init; } = "";

    /// <summary>What references to an item print, or null for the counter's own.</summary>
    public IReadOnlyList<Token>? Reference { get; init; }

    /// <summary>First number.</summary>
    public int Start { get; init; } = 1;

    /// <summary>Whether numbers go on from the last list of the kind.</summary>
    public bool Resumes { get; init; }

    /// <summary>Declarations of the label.</summary>
    public IReadOnlyList<Token> Font { get; init; } = [];

    /// <summary>l, r or c.</summary>
    public char Alignment { get; init; } = 'r';

    /// <summary>Whether a label too wide stands on a line of its own.</summary>
    public bool NextLine { get; init; }

    /// <summary>Whether items run in one paragraph.</summary>
    public bool Inline { get; init; }
}

/// <summary>Lists, quotations, and text that is centred or flush at one side. Measures are the registers of Lamport's list environment (section C.6.3); their values for the six depths are from memory of his classes at 10 pt.</summary>
internal sealed class ListCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    private static readonly string[] s_levels = ["i", "ii", "iii", "iv", "v", "vi"];

    internal Stack<ListState> Lists { get; } = new();
    internal Dictionary<string, int> LastNumbers { get; } = new(StringComparer.Ordinal);

    internal sealed class ListState(string kind, ListSetup setup)
    {
        public string Kind => kind;

        public ListSetup Setup => setup;

        public bool Begun { get; set; }

        public Glue Around { get; set; }

        /// <summary>What began it.</summary>
        public Token At { get; init; }

        /// <summary>Whether its options print something before its items.</summary>
        public bool HasText { get; init; }
    }

    /// <summary>Looks at a list's options, which some package may have given; null leaves them.</summary>
    internal Func<string, int, ListSetup, IReadOnlyList<ListedOption>, Token, ListSetup>? ListOptions { get; set; }

    internal void DefineLists()
    {
        foreach (string name in (string[])["leftmargin", "rightmargin", "labelwidth", "labelsep", "itemindent", "listparindent", .. s_levels.Select(l => "leftmargin" + l)])
        {
            Machine.Registers.NamedDimension(name);
        }

        foreach (string counter in (string[])["enumi", "enumii", "enumiii", "enumiv"])
        {
            Machine.Counters.Add(counter);
        }

        foreach (string kind in (string[])["itemize", "enumerate", "description"])
        {
            DefineListKind(kind, kind, 4);
        }

        Builder.Environments.DefineEnvironment("list", BeginGeneralList, _ => EndList());
        Builder.Environments.DefineEnvironment("trivlist", t => OpenList(t, "trivlist", new ListSetup(), SetTrivialMeasures), _ => EndList());
        Machine.Define("item", (_, t) => Item(t));
        Machine.Define("usecounter", (m, t) => _usedCounter = m.ReadText(t));
        Machine.Define("makelabel", static (_, _) => { });
        Builder.Environments.DefineEnvironment("quote", _ => BeginQuote(0), _ => EndDisplayText());
        Builder.Environments.DefineEnvironment("quotation", _ => BeginQuote(1.5), _ => EndDisplayText());
        Builder.Environments.DefineEnvironment("verse", _ => BeginVerse(), _ => EndDisplayText());
        Builder.Environments.DefineEnvironment("center", _ => BeginAligned(Alignment.Centre), _ => EndDisplayText());
        Builder.Environments.DefineEnvironment("flushleft", _ => BeginAligned(Alignment.Left), _ => EndDisplayText());
        Builder.Environments.DefineEnvironment("flushright", _ => BeginAligned(Alignment.Right), _ => EndDisplayText());
        Machine.Define("centering", (m, _) => Align(Alignment.Centre));
        Machine.Define("raggedright", (m, _) => Align(Alignment.Left));
        Machine.Define("raggedleft", (m, _) => Align(Alignment.Right));
    }

    private string _usedCounter = "";

    internal void Align(Alignment alignment)
    {
        Machine.Assign(Builder.TextAlignment, alignment);
        Machine.Assign(Builder.Text.ParIndent, default);
    }

    /// <summary>Defines an environment that is a list of one of the three kinds, under any name.</summary>
    internal void DefineListKind(string name, string kind, int depth) =>
        Builder.Environments.DefineEnvironment(name, t => BeginList(t, name, kind, depth, false), _ => EndList());

    /// <summary>Defines an environment whose items run in the paragraph.</summary>
    internal void DefineInlineList(string name, string kind) =>
        Builder.Environments.DefineEnvironment(name, t => BeginList(t, name, kind, 4, true), _ => EndList());

    private void BeginList(Token token, string name, string kind, int most, bool inline)
    {
        List<Token>? given = Machine.ReadOptional(token);
        int depth = Lists.Count(l => !l.Setup.Inline);
        int own = Lists.Count(l => l.Kind == name);
        if (depth >= 6 || (kind != "description" && own >= most))
        {
            Findings.Fix("list-too-deep", token.Position, token.Length, $"Lists of this kind go {(own >= most ? most : 6)} deep; this is one more.",
                "End a list before this one, or use plain paragraphs.");
            own = Math.Min(own, 3);
        }

        string numeral = s_levels[Math.Min(own, 3)];
        bool standard = name is "itemize" or "enumerate" or "description" or "itemize*" or "enumerate*" or "description*" or "inparaenum" or "inparaitem"
            or "compactenum" or "compactitem" or "compactdesc" or "asparaenum" or "asparaitem";
        string counterName = kind == "enumerate" ? (standard ? "enum" : name) + numeral : "";
        string labelName = kind switch { "itemize" => (standard ? "labelitem" : "label" + name) + numeral, "enumerate" => (standard ? "labelenum" : "label" + name) + numeral, _ => "" };
        if (counterName.Length > 0 && Machine.Counters.Find(counterName) is null)
        {
            Machine.Counters.Add(counterName);
        }

        var setup = new ListSetup
        {
            Counter = counterName,
            Label = labelName.Length == 0 ? [] : [Token.Command(Machine.Symbol(Machine.IsDefined(labelName) ? labelName
                : kind == "itemize" ? "labelitem" + numeral : "labelenum" + numeral), token.Position)],
            Font = kind == "description" ? [Token.Command(Machine.Symbol("descriptionlabel"), token.Position)] : [],
            Alignment = kind == "description" ? 'l' : 'r',
            Inline = inline,
        };
        int level = Math.Min(depth, 5);
        OpenList(token, name, setup, () =>
        {
            SetListMeasures(level, kind == "description" ? -LeftMarginOf(level) : 0);
            List<ListedOption> options = ListedOption.Of(Machine, given);
            if (ListOptions is { } apply)
            {
                return apply(kind, own + 1, setup, options, token);
            }

            if (options.Count > 0)
            {
                int at = options[0].Position >= 0 ? options[0].Position : token.Position;
                Findings.Check("package-needed", at, options[0].Length, $"The list's option “{options[0].Key}” needs the package enumitem.",
                    "Add \\usepackage{enumitem} to the preamble; until then it was passed over.", Builder.UnknownNames.LoadRepair("enumitem"));
            }

            return setup;
        }, name);
    }

    private double LeftMarginOf(int level) => Machine.Registers.NamedDimension("leftmargin" + s_levels[Math.Min(level, 5)]).Value.Points;

    private void SetListMeasures(int level, double itemIndent)
    {
        double margin = LeftMarginOf(level);
        Builder.Set("leftmargin", margin);
        Builder.Set("rightmargin", 0);
        Builder.Set("labelwidth", margin - Builder.Get("labelsep"));
        Builder.Set("itemindent", itemIndent);
        Builder.Set("listparindent", 0);
        // The first level's spaces are what the class, or the preamble, set for the type at hand.
        if (level > 0)
        {
            ListSpaces spaces = Builder.StandardMeasures.ListAt(level);
            Machine.Assign(Machine.Registers.NamedGlue("topsep"), spaces.Around);
            Machine.Assign(Machine.Registers.NamedGlue("itemsep"), spaces.Items);
            Machine.Assign(Machine.Registers.NamedGlue("parsep"), spaces.Paragraphs);
        }
    }

    // A list that only uses the spaces around lists (Lamport, section C.6.3).
    private void SetTrivialMeasures()
    {
        foreach (string name in (string[])["leftmargin", "rightmargin", "labelwidth", "itemindent", "listparindent"])
        {
            Builder.Set(name, 0);
        }

        Machine.Assign(Machine.Registers.NamedGlue("parsep"), Builder.Text.ParSkip.Value);
    }

    /// <summary>Space around a list or what stands like one: more where it begins a paragraph of its own (Lamport, section C.6.3).</summary>
    internal Glue SpaceAround(bool beginsParagraph)
    {
        Glue space = Machine.Registers.NamedGlue("topsep").Value.Plus(Builder.Text.ParSkip.Value);
        return beginsParagraph ? space.Plus(Machine.Registers.NamedGlue("partopsep").Value) : space;
    }

    private bool BeginsParagraph => Builder.Frames.Peek() is { Paragraph: null, Continues: false };

    private void BeginGeneralList(Token token)
    {
        List<Token> label = Machine.ReadArgument(token);
        List<Token> declarations = Machine.ReadArgument(token);
        var setup = new ListSetup { Label = label };
        OpenList(token, "list", setup, () =>
        {
            SetListMeasures(Math.Min(Lists.Count, 5), 0);
            _usedCounter = "";
            Builder.Execute([.. declarations]);
            string counter = _usedCounter;
            return setup with
            {
                Counter = counter,
                Font = Machine.Symbol("makelabel").Meaning.Value is BuiltInCommand ? [] : [Token.Command(Machine.Symbol("makelabel"), token.Position)],
            };
        });
    }

    private void OpenList(Token token, string name, ListSetup setup, Action measures) => OpenList(token, name, setup, () =>
    {
        measures();
        return setup;
    });

    // The measures are read by a callback, since keys and declarations may change them inside the list's group.
    private void OpenList(Token token, string name, ListSetup setup, Func<ListSetup> measures, string? resumeKey = null)
    {
        if (!Builder.DocumentBegun && !Builder.CanPrint(token.Position))
        {
            return;
        }

        bool beginsParagraph = BeginsParagraph;
        if (!setup.Inline)
        {
            Builder.EndParagraph();
            Builder.OpenFrame();
        }

        setup = measures();
        string counter = setup.Counter;
        if (counter.Length > 0 && Machine.Counters.Find(counter) is { } register)
        {
            Machine.Assign(register, setup.Resumes && resumeKey is not null ? LastNumbers.GetValueOrDefault(resumeKey) : setup.Start - 1, true);
        }

        var state = new ListState(name, setup) { Around = SpaceAround(beginsParagraph), At = token, HasText = !setup.Inline && HasText };
        Lists.Push(state);
        if (setup.Inline)
        {
            return;
        }

        Machine.Assign(Builder.LeftMargin, Builder.LeftMargin.Value + Builder.Get("leftmargin"));
        Machine.Assign(Builder.RightMargin, Builder.RightMargin.Value + Builder.Get("rightmargin"));
        Machine.Assign(Builder.Boxes.LineWidthRegister, Dimension.FromPoints(Builder.Boxes.LineWidth - Builder.Get("leftmargin") - Builder.Get("rightmargin")));
        Machine.Assign(Builder.Text.ParIndent, Machine.Registers.NamedDimension("listparindent").Value);
        Machine.Assign(Builder.Text.ParSkip, Machine.Registers.NamedGlue("parsep").Value);
        Machine.Assign(Builder.TextAlignment, Builder.TextAlignment.Value is Alignment.Left ? Alignment.Left : Alignment.Justified);
    }

    private void EndList()
    {
        if (Lists.Count == 0)
        {
            return;
        }

        ListState list = Lists.Pop();
        SayTextBeforeItems(list);
        if (list.Setup.Counter.Length > 0 && Machine.Counters.Find(list.Setup.Counter) is { } counter)
        {
            LastNumbers[list.Kind] = counter.Value;
        }

        if (list.Setup.Inline || Builder.Frames.Count < 2)
        {
            return;
        }

        BlockFrame frame = Builder.CloseFrame();
        Builder.AddBlock(new GroupBlock(frame.Blocks) { SpaceAround = list.Around });
        Builder.Frames.Peek().Continues = true;
    }

    // From \begin to the name.
    private const int LongestBegin = 10;

    private bool HasText => Builder.Frames.Peek() is var frame && (frame.Paragraph is { HasContent: true } || frame.Blocks.Exists(b => b is ParagraphBlock));

    // Words of a list stand in its items; where its name was a guess, it may be none.
    private void SayTextBeforeItems(ListState list)
    {
        if (!list.Begun && !list.HasText && HasText && !list.Setup.Inline && list.Kind.TrimEnd('*') is "itemize" or "enumerate" or "description" && !Findings.All.Any(f => f.Code == "unknown-environment" && f.Position >= list.At.Position && f.Position <= list.At.Position + LongestBegin))
        {
            Findings.Fix("text-before-item", list.At.Position, list.At.Length, $"In this {list.Kind} text stands before the first \\item.", "Put \\item before the text, or move it in front of the list.");
        }
    }

    private void Item(Token token)
    {
        if (Lists.Count == 0 || (Builder.Frames.Peek().InlineOnly && !Lists.Peek().Setup.Inline))
        {
            Machine.ReadOptional(token);
            Findings.Fix("item-outside-list", token.Position, token.Length, "\\item belongs in a list, and there is none here.",
                "Put \\begin{itemize} before it and \\end{itemize} after the last one.");
            return;
        }

        ListState list = Lists.Peek();
        ListSetup setup = list.Setup;
        if (!setup.Inline)
        {
            SayTextBeforeItems(list);
            Builder.EndParagraph();
        }

        List<Token>? own = Machine.ReadOptional(token);
        string? anchor = null;
        if (setup.Counter.Length > 0 && own is null)
        {
            Machine.Counters.Step(setup.Counter, token);
            anchor = Builder.HeadingCommands.NewAnchor("item");
            string number = setup.Reference is { } reference ? Machine.ExpandToText([.. reference]).Trim() : Builder.References.NumberOf(setup.Counter, token);
            Machine.Assign(Builder.CurrentLabel, new CurrentLabel(setup.Counter, number, anchor));
        }

        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        IReadOnlyList<Token> words = own ?? setup.Label;
        List<Inline> label = Builder.BuildInlines(setup.Font.Count > 0 ? [.. setup.Font, .. TokenLists.Braced(words, token.Position)] : [.. words]);
        Machine.EndGroup();
        if (setup.Inline)
        {
            foreach (Inline inline in label)
            {
                Builder.AddInline(inline);
            }

            Builder.AddInline(new PenaltyInline(10_000));
            Builder.Paragraph().Append(' ', token.Position, Builder.Style.Value);
            Machine.SkipSpaces();
            return;
        }

        BlockFrame frame = Builder.Frames.Peek();
        frame.Label = label;
        frame.LabelLook = new LabelLook(Builder.Get("labelsep"), Builder.Get("labelwidth"), setup.Alignment, Builder.Get("itemindent"), setup.NextLine);
        frame.LabelSpace = list.Begun ? Machine.Registers.NamedGlue("itemsep").Value.Plus(Machine.Registers.NamedGlue("parsep").Value) : default;
        list.Begun = true;
        frame.AfterHeading = false;
        if (anchor is not null)
        {
            Builder.Paragraph().Add(new AnchorInline(anchor));
        }

        Machine.SkipSpaces();
    }

    private void BeginQuote(double indent)
    {
        OpenDisplayText();
        SetQuoteMeasures(indent);
    }

    /// <summary>Sets paragraphs from here on as those of a quotation, the first indented like the others.</summary>
    internal void BeginQuotation()
    {
        SetQuoteMeasures(1.5);
        Builder.Frames.Peek().AfterHeading = false;
    }

    private void SetQuoteMeasures(double indent)
    {
        double margin = LeftMarginOf(Lists.Count);
        Indent(margin, margin);
        Machine.Assign(Builder.Text.ParIndent, Dimension.FromPoints(indent * Builder.Style.Value.Size));
        Machine.Assign(Builder.Text.ParSkip, indent > 0 ? Glue.Of(0, 1) : Machine.Registers.NamedGlue("parsep").Value);
        Machine.Assign(Builder.TextAlignment, Alignment.Justified);
    }

    // Lines of verse that turn over stand in further; stanzas are paragraphs.
    private void BeginVerse()
    {
        BeginQuote(0);
        Machine.Assign(Builder.TextAlignment, Alignment.Left);
    }

    /// <summary>Narrows the lines from here on by margins in points.</summary>
    internal void Indent(double left, double right)
    {
        Machine.Assign(Builder.LeftMargin, Builder.LeftMargin.Value + left);
        Machine.Assign(Builder.RightMargin, Builder.RightMargin.Value + right);
        Machine.Assign(Builder.Boxes.LineWidthRegister, Dimension.FromPoints(Builder.Boxes.LineWidth - left - right));
    }

    private void BeginAligned(Alignment alignment)
    {
        OpenDisplayText();
        Align(alignment);
    }

    private void OpenDisplayText()
    {
        Glue around = SpaceAround(BeginsParagraph);
        Builder.EndParagraph();
        Builder.OpenFrame();
        Builder.Frames.Peek().SpaceAround = around;
    }

    private void EndDisplayText()
    {
        if (Builder.Frames.Count < 2)
        {
            return;
        }

        BlockFrame frame = Builder.CloseFrame();
        Builder.AddBlock(new GroupBlock(frame.Blocks) { SpaceAround = frame.SpaceAround });
        Builder.Frames.Peek().Continues = true;
    }
}
