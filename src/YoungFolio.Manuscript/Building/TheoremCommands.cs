using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Manuscript.Languages;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>How theorems of a style look: declarations of head, number, note and body, and spaces in points.</summary>
internal sealed record TheoremStyle
{
    /// <summary>Declarations of the head.</summary>
    public IReadOnlyList<Token> HeadFont { get; init; } = [];

    /// <summary>Declarations of the body.</summary>
    public IReadOnlyList<Token> BodyFont { get; init; } = [];

    /// <summary>Space above.</summary>
    public Glue Above { get; init; } = Glue.Of(8, 3, 3);

    /// <summary>Space below.</summary>
    public Glue Below { get; init; } = Glue.Of(8, 3, 3);

    /// <summary>Indent of the head.</summary>
    public double Indent { get; init; }

    /// <summary>What ends the head.</summary>
    public string Punctuation { get; init; } = ".";

    /// <summary>Space after the head; NaN: a new line.</summary>
    public double HeadSpace { get; init; } = 5;
}

/// <summary>Theorems: numbered statements (Lamport, section C.8.3), with the styles and the proof of the package amsthm.</summary>
internal sealed class TheoremCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    private readonly Dictionary<string, TheoremStyle> _theoremStyles = new(StringComparer.Ordinal);
    internal Dictionary<string, string> TheoremTitles { get; } = new(StringComparer.Ordinal);
    private string _theoremStyle = "plain";
    private bool _numberFirst;

    /// <summary>Styles by name.</summary>
    internal Dictionary<string, TheoremStyle> TheoremStyles => _theoremStyles;

    internal void DefineTheorems()
    {
        List<Token> bold = Builder.HeadingCommands.InternalTokens("\\normalfont\\bfseries ");
        _theoremStyles["plain"] = new TheoremStyle { HeadFont = bold, BodyFont = Builder.HeadingCommands.InternalTokens("\\itshape ") };
        _theoremStyles["definition"] = new TheoremStyle { HeadFont = bold };
        _theoremStyles["remark"] = new TheoremStyle { HeadFont = Builder.HeadingCommands.InternalTokens("\\normalfont\\itshape "), Above = Glue.Of(4, 2, 2), Below = Glue.Of(4, 2, 2) };
        Machine.Define("newtheorem", (_, t) => NewTheorem(t));
    }

    /// <summary>Gives what the package amsthm adds.</summary>
    internal void DefineTheoremStyles()
    {
        Machine.Define("theoremstyle", (m, t) =>
        {
            string style = m.ReadText(t);
            if (_theoremStyles.ContainsKey(style))
            {
                _theoremStyle = style;
                return;
            }

            Findings.Check("unknown-style", t.Position, t.Length, $"There is no theorem style “{style}”.",
                "Available: " + string.Join(", ", _theoremStyles.Keys) + ".");
        });
        Machine.Define("newtheoremstyle", (m, t) =>
        {
            string name = m.ReadText(t);
            var arguments = new List<Token>[8];
            for (int i = 0; i < 8; i++)
            {
                arguments[i] = m.ReadArgument(t);
            }

            Glue Length(int i, Glue standard) => arguments[i].TrueForAll(u => u.Is(Category.Space)) ? standard : m.Quantities.ParseGlue(arguments[i], t) ?? standard;
            string after = arguments[6].ToSource().Trim();
            _theoremStyles[name] = new TheoremStyle
            {
                Above = Length(0, Glue.Of(8, 3, 3)),
                Below = Length(1, Glue.Of(8, 3, 3)),
                BodyFont = arguments[2],
                Indent = Length(3, default).Width.Points,
                HeadFont = arguments[4],
                Punctuation = m.ExpandToText(arguments[5]),
                HeadSpace = after.StartsWith("\\newline", StringComparison.Ordinal) ? double.NaN : after.Length == 0 ? 5 : Length(6, Glue.Of(5)).Width.Points,
            };
        });
        Machine.Define("swapnumbers", (_, _) => _numberFirst = true);
        Machine.Definitions.DefineMacro("qedsymbol", "\\ensuremath{□}");
        Machine.Definitions.DefineMacro("proofname", "Proof");
        Language.Of(Builder.Language.Value).DefineCaptions(Machine);
        Machine.Define("qed", (_, t) => AddQed(t));
        Machine.Define("qedhere", (_, t) =>
        {
            if (_proofs.Count > 0)
            {
                _proofs.Pop();
                _proofs.Push(true);
            }

            if (Builder.Formulas.Math is { } math)
            {
                if (Builder.Displays.TakeQed())
                {
                    return;
                }

                math.Nodes.Add(new MathGlue(36, false));
                math.Nodes.Add(new Atom(AtomClass.Ordinary, new SymbolNucleus("□")) { Position = t.Position });
                return;
            }

            AddQed(t);
        });
        Builder.Environments.DefineEnvironment("proof", BeginProof, _ => EndProof());
    }

    private readonly Stack<bool> _proofs = new();

    private void AddQed(Token token)
    {
        // The sign stands at the right edge, on a line of its own if need be.
        Builder.AddInline(new PenaltyInline(10_000));
        Builder.AddInline(new SpaceInline(new Glue(Dimension.FromPoints(10), new Dimension(65536), 2), false));
        foreach (Inline inline in Builder.BuildInlines([Token.Command(Machine.Symbol("qedsymbol"), token.Position)]))
        {
            Builder.AddInline(inline);
        }
    }

    private void BeginProof(Token token)
    {
        List<Token>? name = Machine.ReadOptional(token);
        Builder.EndParagraph();
        Builder.AddBlock(new SpaceBlock(Glue.Of(6, 2, 1)));
        _proofs.Push(false);
        Builder.Text.HasNoIndent = true;
        List<Token> head = [Token.Command(Machine.Symbol("itshape"), token.Position), .. name ?? [Token.Command(Machine.Symbol("proofname"), token.Position)]];
        foreach (Inline inline in Builder.BuildInlines(head))
        {
            Builder.AddInline(inline);
        }

        Builder.Text.AddText(".", token.Position);
        Builder.AddInline(new SpaceInline(Glue.Of(5), false));
        Machine.SkipSpaces(paragraphs: true);
    }

    private void EndProof()
    {
        if (_proofs.Count > 0 && !_proofs.Pop())
        {
            Token token = Token.Stop().At(Machine.Input.CurrentPosition);
            BlockFrame frame = Builder.Frames.Peek();
            if (frame.Paragraph is null)
            {
                Builder.Text.HasNoIndent = true;
            }
            else
            {
                frame.Paragraph.TrimEnd();
            }

            AddQed(token);
        }

        Builder.EndParagraph();
        Builder.AddBlock(new SpaceBlock(Glue.Of(6, 2, 1)));
    }

    private void NewTheorem(Token token)
    {
        bool star = Machine.TakeStar();
        string name = Machine.ReadText(token);
        string? shared = Machine.ReadOptionalText(token);
        List<Token> title = Machine.ReadArgument(token);
        string? within = Machine.ReadOptionalText(token);
        if (name.Length == 0)
        {
            return;
        }

        if (Machine.IsDefined("end" + name) && Machine.IsDefined(name))
        {
            Findings.Check("already-defined", token.Position, token.Length, $"The environment {name} exists already.",
                "Choose another name. The new definition was used.");
        }

        MakeTheorem(name, star, shared, title, within, token);
    }

    /// <summary>Makes a theorem-like environment.</summary>
    internal void MakeTheorem(string name, bool unnumbered, string? shared, List<Token> title, string? within, Token token)
    {
        string? counter = unnumbered ? null : shared ?? name;
        if (counter is not null && shared is null)
        {
            Machine.Counters.Add(name, within);
            if (within is not null && Machine.Counters.Require(within, token) is not null)
            {
                Machine.Counters.SetFormat(name, $"\\the{within}.\\arabic{{{name}}}");
            }
        }
        else if (shared is not null)
        {
            if (Machine.Counters.Require(shared, token) is null)
            {
                return;
            }

            Machine.Definitions.DefineMacro("the" + name, $"\\the{shared}");
        }

        TheoremStyle style = _theoremStyles[_theoremStyle];
        bool numberFirst = _numberFirst;
        TheoremTitles[name] = Machine.ExpandToText(title).Trim();
        Builder.Environments.DefineEnvironment(name, t => BeginTheorem(t, name, counter, title, style, numberFirst), _ => EndTheorem(style));
    }

    private void BeginTheorem(Token token, string name, string? counter, List<Token> title, TheoremStyle style, bool numberFirst)
    {
        List<Token>? note = Machine.ReadOptional(token);
        if (!Builder.DocumentBegun && !Builder.CanPrint(token.Position))
        {
            return;
        }

        Builder.EndParagraph();
        Builder.OpenFrame();
        Builder.AddBlock(new SpaceBlock(style.Above));
        Builder.Text.HasNoIndent = true;
        if (counter is not null)
        {
            Machine.Counters.Step(counter, token);
            Builder.References.AddInlineAnchor(Builder.References.StartLabel(counter, token, note is null ? null : Builder.BuildInlines(note), name));
        }

        List<Token> number = counter is null ? [] : [Builder.HeadingCommands.TheOf(counter, token.Position)];
        Token space = Token.Character(' ', Category.Space, token.Position);
        List<Token> head = [.. style.HeadFont.Select(t => t.At(token.Position))];
        head.AddRange(counter is null ? title : numberFirst ? [.. number, space, .. title] : [.. title, space, .. number]);
        if (note is not null)
        {
            head.AddRange([space, .. TokenLists.Braced(
                [.. Machine.Tokenize("\\normalfont(", token.Position), .. note, Token.Character(')', Category.Other, token.Position)], token.Position)]);
        }

        head.AddRange(Machine.Tokenize(style.Punctuation, token.Position));
        if (style.Indent > 0)
        {
            Builder.AddInline(new BoxInline([]) { Width = style.Indent });
        }

        foreach (Inline inline in Builder.BuildInlines(head))
        {
            Builder.AddInline(inline);
        }

        if (double.IsNaN(style.HeadSpace))
        {
            Builder.AddInline(new LineBreakInline(default));
        }
        else
        {
            Builder.AddInline(new SpaceInline(Glue.Of(style.HeadSpace, 1, 1), true));
        }

        Builder.Execute([.. style.BodyFont.Select(t => t.At(token.Position))]);
        Machine.SkipSpaces(paragraphs: true);
    }

    private void EndTheorem(TheoremStyle style)
    {
        if (Builder.Frames.Count < 2)
        {
            return;
        }

        BlockFrame frame = Builder.CloseFrame();
        foreach (Block block in frame.Blocks)
        {
            Builder.AddBlock(block);
        }

        Builder.AddBlock(new SpaceBlock(style.Below));
    }
}
