using System.Globalization;
using YoungFolio.Documents;
using YoungFolio.Manuscript.Classes;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>How a kind of heading looks in the document being built; classes begin it, preambles change it. Lengths in points.</summary>
internal sealed record HeadingLook
{
    /// <summary>The command, which is also the counter's name.</summary>
    public required string Command { get; init; }

    /// <summary>−1 part, 0 chapter, 1 section … 5 subparagraph.</summary>
    public required int Level { get; init; }

    /// <summary>Declarations that the whole heading is set by.</summary>
    public required IReadOnlyList<Token> Format { get; init; }

    /// <summary>The number with what stands around it.</summary>
    public required IReadOnlyList<Token> Label { get; init; }

    /// <summary>Declarations of the label alone.</summary>
    public IReadOnlyList<Token> LabelFormat { get; init; } = [];

    /// <summary>What stands right before the title; its last command may take the title as its argument.</summary>
    public IReadOnlyList<Token> BeforeTitle { get; init; } = [];

    /// <summary>What stands after the title.</summary>
    public IReadOnlyList<Token> AfterTitle { get; init; } = [];

    /// <summary>Space above.</summary>
    public Glue Above { get; init; }

    /// <summary>Space below; for a run-in heading the space after it in the line.</summary>
    public Glue Below { get; init; }

    /// <summary>Space between the label's line and the title; null: both stand in one line.</summary>
    public double? LabelGap { get; init; }

    /// <summary>Distance of label and title in one line; null: an em of the heading's type.</summary>
    public double? LabelSpace { get; init; }

    /// <summary>Whether the text goes on in the heading's line.</summary>
    public bool RunsIn { get; init; }

    /// <summary>Indent from the left.</summary>
    public double Indent { get; init; }

    /// <summary>Space above that stays at a page's top.</summary>
    public double Drop { get; init; }

    /// <summary>Whether it begins a page.</summary>
    public bool BeginsPage { get; init; }

    /// <summary>Whether it has a page of its own.</summary>
    public bool OwnPage { get; init; }

    /// <summary>Whether the paragraph after it is indented.</summary>
    public bool IndentsAfter { get; init; }

    /// <summary>How its lines stand.</summary>
    public Alignment Alignment { get; init; } = Alignment.Left;
}

/// <summary>Headings: numbers, running heads, lines for the contents.</summary>
internal sealed class HeadingCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    private readonly Dictionary<string, HeadingLook> _headings = new(StringComparer.Ordinal);
    private int _anchors;
    internal Scoped<int> NumberDepth { get; set; } = null!;
    internal Scoped<int> ContentsDepth { get; set; } = null!;

    /// <summary>Looks of headings by command.</summary>
    internal Dictionary<string, HeadingLook> Headings => _headings;

    internal static readonly string[] Names = ["part", "chapter", "section", "subsection", "subsubsection", "paragraph", "subparagraph"];

    internal void DefineHeadings()
    {
        Machine.Counters.Add("secnumdepth");
        Machine.Counters.Add("tocdepth");
        NumberDepth = Machine.Counters.Find("secnumdepth")!;
        ContentsDepth = Machine.Counters.Find("tocdepth")!;
        foreach (string command in Names)
        {
            Machine.DefineMeaning(command + "mark", new MacroMeaning { Pattern = [Token.Character(1, Category.Argument, -1)], Body = [], Arity = 1 });
        }

        Machine.Define("heading space", (_, _) => Builder.AddInline(new SpaceInline(Glue.Of(_headingSpace ?? Machine.Quantities.FontUnits().Em), false)));
        Machine.Define("@startsection", (_, t) => StartSection(t));
        Machine.DefineExpandable("@chapapp", (m, t) => m.Push(Token.Command(m.Symbol(_appendix ? "appendixname" : "chaptername"), t.Position)));
        Machine.Define("appendix", (_, _) => BeginAppendix());
        Machine.Define("frontmatter", (_, t) => BeginMatter(false, "roman", t));
        Machine.Define("mainmatter", (_, t) => BeginMatter(true, "arabic", t));
        Machine.Define("backmatter", (_, _) =>
        {
            BreakForChapter();
            Machine.Conditionals.SetSwitch("@mainmatter", false, true);
        });
        // What many class files write themselves (kernel's own helpers).
        Machine.Definitions.Load("""
            \def\secdef#1#2{\@ifstar{#2}{\@dblarg{#1}}}
            \long\def\@dblarg#1{\@ifnextchar[{#1}{\@xdblarg{#1}}}
            \long\def\@xdblarg#1#2{#1[{#2}]{#2}}
            \def\@seccntformat#1{\csname the#1\endcsname\quad}
            \def\@afterheading{\noindent}
            """);
    }

    private bool _appendix;

    private void BeginAppendix()
    {
        Builder.EndParagraph();
        _appendix = true;
        string top = Builder.Class.HasChapters ? "chapter" : "section";
        Machine.Assign(Machine.Counters.Find(top)!, 0, true);
        Machine.Assign(Machine.Counters.Find(Builder.Class.HasChapters ? "section" : "subsection")!, 0, true);
        Machine.Counters.SetFormat(top, $"\\Alph{{{top}}}");
    }

    private void BeginMatter(bool main, string numbering, Token token)
    {
        if (!Builder.Class.HasChapters)
        {
            Findings.Check("no-matter", token.Position, token.Length, $"The class {Builder.Class.Name} has no front and main matter.",
                "Only classes with chapters have; here pages are numbered straight on.");
            return;
        }

        // The main matter of a book begins on a right-hand page (common practice).
        Builder.AddBlock(new PageBreakBlock(Builder.Preamble.IsOn("@openright") || Builder.Pages.TwoSided ? PageEnd.ClearDouble : PageEnd.Clear));
        Machine.Conditionals.SetSwitch("@mainmatter", main, true);
        Builder.PageStyles.SetPageNumbering(numbering, token);
    }

    internal static int LevelOf(string name) => name switch
    {
        "part" => -1,
        "chapter" => 0,
        "section" or "figure" or "table" => 1,
        "subsection" => 2,
        "subsubsection" => 3,
        "paragraph" => 4,
        _ => 5,
    };

    /// <summary>A new anchor's name.</summary>
    internal string NewAnchor(string kind) => kind + "." + (++_anchors).ToString(CultureInfo.InvariantCulture);

    internal void UseHeadings(DocumentClass documentClass)
    {
        _headings.Clear();
        _classLooks.Clear();
        foreach (HeadingStyle style in documentClass.Headings)
        {
            _headings[style.Command] = _classLooks[style.Command] = LookOf(style);
        }

        // What a class doesn't have isn't defined: preambles ask by it which kind of class they are in.
        foreach (string command in Names)
        {
            Machine.Assign(Machine.Symbol(command).Meaning, _headings.ContainsKey(command) ? new BuiltInCommand(command, (_, t) => Heading(t, command)) : null, true);
        }
    }

    /// <summary>Sets a heading that the class doesn't have as the next one that it has, and says so.</summary>
    internal void SetAbsent(Token token) => Heading(token, token.Symbol!.Name);

    /// <summary>Has a kind of heading look otherwise than the class has it.</summary>
    internal void Use(HeadingStyle style) => _headings[style.Command] = LookOf(style);

    // Looks that the class gave, by command.
    private readonly Dictionary<string, HeadingLook> _classLooks = new(StringComparer.Ordinal);

    /// <summary>Has the spaces of headings that nobody changed follow the type that the text begins with: they are multiples of its em and ex.</summary>
    internal void FollowType()
    {
        foreach (HeadingStyle style in Builder.Class.Headings)
        {
            if (_headings.TryGetValue(style.Command, out HeadingLook? look) && ReferenceEquals(look, _classLooks.GetValueOrDefault(style.Command)))
            {
                _headings[style.Command] = LookOf(style);
            }
        }
    }

    private Glue Length(string markup) => Machine.Quantities.ParseGlue(InternalTokens(markup), default) ?? default;

    private HeadingLook LookOf(HeadingStyle style)
    {
        return new HeadingLook
        {
            Command = style.Command,
            Level = style.Level,
            Format = InternalTokens(style.Format),
            Label = InternalTokens(style.Label),
            LabelFormat = InternalTokens(style.LabelFormat),
            Above = Length(style.Above),
            Below = Length(style.Below),
            LabelGap = style.LabelFormat.Length > 0 ? Length(style.LabelGap).Width.Points : null,
            RunsIn = style.RunsIn,
            Indent = Length(style.Indent).Width.Points,
            Drop = Length(style.Drop).Width.Points,
            BeginsPage = style.BeginsPage,
            OwnPage = style.OwnPage,
            Alignment = style.IsCentred ? Alignment.Centre : Alignment.Left,
        };
    }

    /// <summary>Tokens of a text in which @ counts as a letter.</summary>
    internal List<Token> InternalTokens(string markup)
    {
        if (markup.Length == 0)
        {
            return [];
        }

        Category at = Machine.Categories.Of('@');
        Machine.Categories.Set('@', Category.Letter);
        Token[] tokens = Machine.Tokenize(markup, PositionTable.None);
        Machine.Categories.Set('@', at);
        return [.. tokens];
    }

    /// <summary>The command <c>\the…</c> of a counter, alone.</summary>
    internal Token TheOf(string counter, int position) => Token.Command(Machine.Symbol("the" + counter), position);

    private void Heading(Token token, string command)
    {
        if (!_headings.TryGetValue(command, out HeadingLook? look))
        {
            string instead = command == "chapter" ? "section" : "subsubsection";
            Findings.Fix("chapter-in-article", token.Position, token.Length, $"The class {Builder.Class.Name} has no {command}s.",
                $"Use \\{instead} here, or change the class to report.", new Repair(token.Position, token.Length, "\\" + instead));
            if (!_headings.TryGetValue(instead, out look))
            {
                return;
            }
        }

        // \sectionbreak and kin: what a manuscript wants done before each heading of a level.
        Symbol ahead = Machine.Symbol(command + "break");
        if (TakesBreaks && ahead.Meaning.Value is MacroMeaning && Builder.DocumentBegun)
        {
            Builder.Execute(Token.Command(ahead, token.Position));
        }

        Heading(token, look);
    }

    /// <summary>Whether macros such as <c>\sectionbreak</c> are carried out before headings (titlesec).</summary>
    internal bool TakesBreaks { get; set; }

    private void Heading(Token token, HeadingLook look)
    {
        bool star = Machine.TakeStar();
        List<Token>? shortTitle = Machine.ReadOptional(token);
        List<Token> titleTokens = Machine.ReadArgument(token);
        if (!Builder.DocumentBegun && !Builder.CanPrint(token.Position))
        {
            return;
        }

        if (Builder.Frames.Peek().InlineOnly || _inHeading)
        {
            Findings.Fix("heading-in-argument", token.Position, token.Length, $"{token} can't stand inside another command's braces.",
                "A brace before it is most likely not closed. Its title was printed as plain text.");
            Machine.Push(TokenLists.Braced(titleTokens, token.Position));
            return;
        }

        Builder.EndParagraph();
        string command = look.Command;
        if (look.BeginsPage)
        {
            BreakForChapter();
            Builder.AddBlock(new PageStyleBlock { ThisPage = Builder.PageStyles.MakePageStyle("plain") });
        }

        Builder.Files.CheckFileBeginsWithChapter(token, look);
        string anchor = NewAnchor(command);
        if (_appendix)
        {
            Builder.PackageServices.AppendixAnchors.Add(anchor);
        }

        string? number = null;
        List<Inline>? numberInlines = null;
        bool numbered = !star && look.Level <= NumberDepth.Value && (look.Level > 0 || look.Level < 0 || Builder.Preamble.IsOn("@mainmatter"))
            && Machine.Counters.Find(command) is not null;
        if (numbered)
        {
            Machine.Counters.Step(command, token);
            number = Machine.ExpandToText([TheOf(command, token.Position)]).Trim();
            numberInlines = Builder.BuildInlines([TheOf(command, token.Position)]);
            CheckNumberZero(token, command, number);
        }

        List<Inline> listed = Builder.BuildInlines(TitleCommands.WithoutNotes(shortTitle ?? titleTokens));
        Machine.Assign(Builder.CurrentLabel, new CurrentLabel(command, numbered ? Builder.References.NumberOf(command, token) : null, anchor) { Title = listed }, true);
        var heading = new HeadingBlock
        {
            Level = look.Level,
            Number = number,
            ContentsNumber = numberInlines,
            ShortTitle = listed,
            Anchor = anchor,
            Position = token.Position,
            IsListed = !star,
            Lines = [],
            SpaceAbove = look.Above,
            SpaceBelow = default,
        };
        if (look.RunsIn)
        {
            AddRunInHeading(token, look, heading, titleTokens);
            return;
        }

        var fill = new SpaceBlock(new Glue(default, new Dimension(65536), 2), true);
        if (look.OwnPage)
        {
            Builder.AddBlock(fill);
        }

        Builder.AddBlock(heading with { Lines = HeadingLines(token, look, numberInlines is not null, titleTokens), DropAbove = look.Drop, SpaceBelow = look.Below });
        Builder.Frames.Peek().AfterHeading = !look.IndentsAfter;
        if (look.OwnPage)
        {
            Builder.AddBlock(fill);
            Builder.AddBlock(new PageBreakBlock(PageEnd.Clear));
        }

        if (!star && Machine.IsDefined(command + "mark"))
        {
            Builder.Execute([Token.Command(Machine.Symbol(command + "mark"), token.Position), .. TokenLists.Braced(TitleCommands.WithoutNotes(shortTitle ?? titleTokens), token.Position)]);
        }
    }

    private void BreakForChapter()
    {
        Builder.EndParagraph();
        Builder.PageStyles.CheckPageNumberFormat();
        Builder.AddBlock(new PageBreakBlock(Builder.Preamble.IsOn("@openright") && Builder.Pages.TwoSided ? PageEnd.ClearDouble : PageEnd.Clear));
    }

    private void CheckNumberZero(Token token, string command, string number)
    {
        if (Builder.Class.HasChapters && command == "section" && number.StartsWith("0.", StringComparison.Ordinal))
        {
            Findings.Check("section-before-chapter", token.Position, token.Length,
                $"This section is numbered {number}, because no chapter comes before it.",
                "Put a \\chapter first, or write \\section* for a heading without a number.");
        }
    }

    // A preamble may replace the whole making of a chapter's head, as many templates do.
    private List<Block>? OwnChapterHead(HeadingLook look, bool numbered, List<Token> title)
    {
        string name = look.Level == 0 ? numbered ? "@makechapterhead" : "@makeschapterhead" : "";
        return name.Length > 0 && Machine.Symbol(name).Meaning.Value is MacroMeaning
            ? Builder.BuildBlocks([Token.Command(Machine.Symbol(name), Machine.Input.CurrentPosition), .. TokenLists.Braced(title, Machine.Input.CurrentPosition)])
            : null;
    }

    private List<Block> HeadingLines(Token token, HeadingLook look, bool numbered, List<Token> title)
    {
        _inHeading = true;
        if (OwnChapterHead(look, numbered, title) is { } own)
        {
            _inHeading = false;
            return own;
        }

        Machine.BeginGroup(GroupKind.Command, "", token.Position);
        Machine.Assign(Builder.LeftMargin, look.Indent);
        Machine.Assign(Builder.RightMargin, 0);
        Machine.Assign(Builder.TextAlignment, look.Alignment);
        Machine.Assign(Builder.Divides, false);
        Machine.Assign(Builder.Text.ParSkip, default);
        Machine.Assign(Builder.Text.ParIndent, default);
        var lines = new List<Block>();
        List<Token> label = [.. look.Label.Select(t => t.At(token.Position))];
        if (numbered && look.LabelGap is { } gap)
        {
            lines.AddRange(Builder.BuildBlocks([.. look.Format, .. look.LabelFormat, .. label]));
            lines.Add(new SpaceBlock(Glue.Of(gap)));
        }

        List<Token> words = [.. look.Format];
        if (numbered && look.LabelGap is null)
        {
            words.AddRange(TokenLists.Braced([.. look.LabelFormat, .. label], token.Position));
            words.Add(Token.Command(Machine.Symbol("heading space"), token.Position));
            _headingSpace = look.LabelSpace;
        }

        words.AddRange(look.BeforeTitle.Select(t => t.At(token.Position)));
        words.AddRange(TokenLists.Braced(title, token.Position));
        words.AddRange(look.AfterTitle.Select(t => t.At(token.Position)));
        words.Add(Token.Command(Machine.Par, token.Position));
        lines.AddRange(Builder.BuildBlocks(words));
        Machine.EndGroup();
        _inHeading = false;
        return [.. lines.Select(b => b is ParagraphBlock p ? new ParagraphBlock(p.Content, p.Style with { SpaceAbove = default, Indent = 0 }) : b)];
    }

    private double? _headingSpace;
    private bool _inHeading;

    private void AddRunInHeading(Token token, HeadingLook look, HeadingBlock heading, List<Token> titleTokens)
    {
        Builder.AddBlock(heading);
        Builder.Text.HasNoIndent = true;
        if (look.Indent > 0)
        {
            Builder.AddInline(new BoxInline([]) { Width = look.Indent });
        }

        _headingSpace = look.LabelSpace;
        List<Token> words = [.. look.Format];
        if (heading.ContentsNumber is not null)
        {
            words.AddRange([.. TokenLists.Braced([.. look.LabelFormat, .. look.Label], token.Position), Token.Command(Machine.Symbol("heading space"), token.Position)]);
        }

        words.AddRange([.. look.BeforeTitle, .. TokenLists.Braced(titleTokens, token.Position), .. look.AfterTitle]);
        foreach (Inline inline in Builder.BuildInlines([.. words.Select(t => t.Position < 0 ? t.At(token.Position) : t)]))
        {
            Builder.AddInline(inline);
        }

        Builder.AddInline(new SpaceInline(look.Below, false));
        Machine.SkipSpaces(paragraphs: true);
    }

    // The kernel's general heading: \@startsection{name}{level}{indent}{above}{below}{style}; a negative space above leaves the
    // next paragraph without indent, a negative space below makes it run in (Lamport's classes, from memory).
    private void StartSection(Token token)
    {
        string name = Machine.ReadText(token);
        int level = Machine.Quantities.ParseInteger(Machine.ReadArgument(token), token) ?? 1;
        Glue indent = Machine.Quantities.ParseGlue(Machine.ReadArgument(token), token) ?? default;
        Glue above = Machine.Quantities.ParseGlue(Machine.ReadArgument(token), token) ?? default;
        Glue below = Machine.Quantities.ParseGlue(Machine.ReadArgument(token), token) ?? default;
        List<Token> style = Machine.ReadArgument(token);
        Heading(token, new HeadingLook
        {
            Command = name,
            Level = level,
            Format = style,
            Label = [Token.Command(Machine.Symbol("@seccntformat"), token.Position), .. TokenLists.Braced([.. name.Select(c => Token.Character(c, Category.Letter, token.Position))], token.Position)],
            Above = Positive(above),
            Below = Positive(below),
            LabelSpace = 0,
            RunsIn = below.Width.Scaled < 0,
            Indent = indent.Width.Points,
            IndentsAfter = above.Width.Scaled >= 0,
            Alignment = style.Exists(t => t.IsCommand("centering") || t.IsCommand("filcenter")) ? Alignment.Centre : Alignment.Left,
        });

        static Glue Positive(Glue glue) => new(
            new(Math.Abs(glue.Width.Scaled)), new(Math.Abs(glue.Stretch.Scaled)), glue.StretchOrder, new(Math.Abs(glue.Shrink.Scaled)), glue.ShrinkOrder);
    }
}
