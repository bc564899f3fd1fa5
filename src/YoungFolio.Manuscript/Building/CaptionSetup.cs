using YoungFolio.Documents;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>The look of captions, and captions outside floats.</summary>
internal sealed class CaptionSetup(DocumentBuilder builder) : ReadingFeature(builder)
{
    private readonly Scoped<CaptionLook> _look = new(new CaptionLook());
    private readonly Scoped<Options[]> _ofKinds = new([]);

    // Fonts, signs behind labels and labels that a manuscript declares, by kind and name.
    private readonly Dictionary<(string Kind, string Name), List<Token>> _declared = [];

    /// <summary>How captions look, as far as a manuscript says so.</summary>
    internal sealed record CaptionLook
    {
        public IReadOnlyList<Token> Font { get; init; } = [];

        public IReadOnlyList<Token> LabelFont { get; init; } = [];

        public IReadOnlyList<Token> TextFont { get; init; } = [];

        /// <summary>What stands between label and text; null: as the language has it.</summary>
        public IReadOnlyList<Token>? Separator { get; init; }

        /// <summary>Whether the text begins on a line of its own.</summary>
        public bool BreaksAfterLabel { get; init; }

        /// <summary>What the label is made of: its name is the first argument, its number the second; null: both.</summary>
        public IReadOnlyList<Token>? Label { get; init; }

        /// <summary>How a caption of several lines is aligned.</summary>
        public Alignment Alignment { get; init; } = Alignment.Justified;

        /// <summary>Whether a caption of one line is centred, whatever the alignment.</summary>
        public bool CentresOneLine { get; init; } = true;

        /// <summary>Whether further lines begin below the text's first word.</summary>
        public bool Hangs { get; init; }

        /// <summary>Distance from both sides in points.</summary>
        public double Margin { get; init; }

        /// <summary>Width in points; null: as wide as the float.</summary>
        public double? Width { get; init; }

        public double? Above { get; init; }
    }

    // Options for captions of one kind.
    private sealed record Options(string Kind, IReadOnlyList<ListedOption> List);

    /// <summary>The look of captions of a kind, such as <c>table</c>: what is said of the kind goes before what is said of all.</summary>
    internal CaptionLook For(string kind)
    {
        string[] kinds = kind.StartsWith("sub", StringComparison.Ordinal) ? ["sub", kind] : [kind];
        return _ofKinds.Value.Where(o => kinds.Contains(o.Kind)).Aggregate(_look.Value, (look, o) => With(look, o.List));
    }

    /// <summary>Gives the look of captions, and captions outside floats.</summary>
    internal void DefineCaptionSetup(IReadOnlyList<ListedOption> options)
    {
        ApplyCaptionOptions(options);
        Machine.Define("captionsetup", (m, t) =>
        {
            m.TakeStar();
            string? kind = m.ReadOptionalText(t);
            List<ListedOption> given = ListedOption.Of(m, m.ReadArgument(t));
            ApplyCaptionOptions(given, kind);
        });
        Machine.Define("clearcaptionsetup", (m, t) =>
        {
            m.TakeStar();
            m.ReadOptional(t);
            string kind = m.ReadText(t);
            m.Assign(_ofKinds, [.. _ofKinds.Value.Where(o => o.Kind != kind)]);
        });
        foreach (string what in (string[])["Font", "LabelSeparator", "LabelFormat"])
        {
            Machine.Define("DeclareCaption" + what, (m, t) =>
            {
                m.TakeStar();
                _declared[(what, m.ReadText(t))] = m.ReadArgument(t);
            });
        }

        Machine.Define("captionof", (m, t) =>
        {
            bool star = m.TakeStar();
            string kind = m.ReadText(t);
            Machine.BeginGroup(GroupKind.Command, "", t.Position);
            Builder.Figures.SetFloatKind(kind);
            if (star)
            {
                m.PutBack(Token.Character('*', Category.Other, t.Position));
            }

            Builder.Figures.ReadCaption(t);
            CurrentLabel? label = Builder.CurrentLabel.Value;
            Machine.EndGroup();
            Machine.Assign(Builder.CurrentLabel, label);
        });
        // The next caption has the number of the one before.
        Machine.Define("ContinuedFloat", (m, t) =>
        {
            m.TakeStar();
            if (Builder.Float.Value is { Name: var kind } && m.Counters.Find(kind) is { } counter)
            {
                m.Assign(counter, counter.Value - 1, true);
            }
        });
        Machine.Definitions.Load("\\newcommand{\\DeclareCaptionFormat}[2]{}\\newcommand{\\DeclareCaptionStyle}[3][]{}\\newcommand{\\DeclareCaptionJustification}[2]{}");
    }

    /// <summary>Has captions look so: all of them, or those of a kind; <c>sub</c> are those of parts of floats.</summary>
    internal void ApplyCaptionOptions(IReadOnlyList<ListedOption> options, string? kind = null)
    {
        if (kind is null)
        {
            Machine.Assign(_look, With(_look.Value, options));
        }
        else
        {
            Machine.Assign(_ofKinds, [.. _ofKinds.Value, new Options(kind, options)]);
        }
    }

    /// <summary>Adds to the type of captions and of their labels.</summary>
    internal void AddFonts(IReadOnlyList<Token> font, IReadOnlyList<Token> labelFont) =>
        Machine.Assign(_look, _look.Value with { Font = [.. _look.Value.Font, .. font], LabelFont = [.. _look.Value.LabelFont, .. labelFont] });

    private CaptionLook With(CaptionLook look, IReadOnlyList<ListedOption> options)
    {
        foreach (ListedOption option in options)
        {
            List<Token> value = option.Value ?? [];
            string text = option.Text(Machine);
            look = option.Key switch
            {
                "font" => look with { Font = Fonts(text) },
                "font+" => look with { Font = [.. look.Font, .. Fonts(text)] },
                "labelfont" => look with { LabelFont = Fonts(text) },
                "labelfont+" => look with { LabelFont = [.. look.LabelFont, .. Fonts(text)] },
                "textfont" => look with { TextFont = Fonts(text) },
                "textfont+" => look with { TextFont = [.. look.TextFont, .. Fonts(text)] },
                "labelsep" => look with
                {
                    BreaksAfterLabel = text == "newline",
                    Separator = _declared.TryGetValue(("LabelSeparator", text), out List<Token>? own) ? own
                        : Machine.Tokenize(text switch { "period" => ". ", "space" => " ", "quad" => "\\quad ", "endash" => " – ", "none" or "newline" => "", _ => ": " }, PositionTable.None),
                },
                "labelformat" => look with { Label = LabelOf(text) },
                "justification" => look with
                {
                    Alignment = text switch
                    {
                        "centering" or "Centering" or "centerfirst" or "centerlast" => Alignment.Centre,
                        "raggedright" or "RaggedRight" => Alignment.Left,
                        "raggedleft" => Alignment.Right,
                        _ => Alignment.Justified,
                    },
                },
                "singlelinecheck" or "slc" => look with { CentresOneLine = option.IsOn(Machine) },
                "format" => look with { Hangs = text == "hang" },
                "margin" => look with { Margin = Points(value) ?? look.Margin, Width = null },
                "width" => look with { Width = Points(value) ?? look.Width },
                "skip" => look with { Above = Points(value) },
                _ => look,
            };
        }

        return look;
    }

    /// <summary>A caption's label in the format that is wished; without one as it is usual.</summary>
    internal List<Token> Labelled(string kind, List<Token> usual, Token token)
    {
        if (For(kind).Label is not { } format)
        {
            return usual;
        }

        // Parts of floats have no name, and no space behind it.
        bool hasName = !kind.StartsWith("sub", StringComparison.Ordinal);
        var result = new List<Token>();
        for (int i = 0; i < format.Count; i++)
        {
            if (!format[i].Is(Category.Parameter) || i + 1 >= format.Count)
            {
                result.AddRange(result.Count == 0 && !hasName && format[i].Symbol == Machine.Symbols.OfActive('~') ? [] : [format[i]]);
                continue;
            }

            i++;
            result.AddRange(format[i].Code == '2' ? [Builder.HeadingCommands.TheOf(kind, token.Position)] : hasName ? [Token.Command(Machine.Symbol(kind + "name"), token.Position)] : []);
        }

        return result;
    }

    private double? Points(List<Token> value) => Machine.Quantities.ParseGlue(value, default)?.Width.Points;

    // simple, empty, parens and brace, or one that was declared.
    private List<Token>? LabelOf(string name) => _declared.TryGetValue(("LabelFormat", name), out List<Token>? own) ? own : name switch
    {
        "empty" => [],
        "simple" => [.. Parameter(1), Token.Command(Machine.Symbols.OfActive('~'), PositionTable.None), .. Parameter(2)],
        "parens" => [.. Parameter(1), Token.Command(Machine.Symbols.OfActive('~'), PositionTable.None), .. Machine.Tokenize("(", PositionTable.None), .. Parameter(2), .. Machine.Tokenize(")", PositionTable.None)],
        "brace" => [.. Parameter(1), Token.Command(Machine.Symbols.OfActive('~'), PositionTable.None), .. Parameter(2), .. Machine.Tokenize(")", PositionTable.None)],
        _ => null,
    };

    private static Token[] Parameter(int number) => [Token.Character('#', Category.Parameter, PositionTable.None), Token.Character('0' + number, Category.Other, PositionTable.None)];

    private List<Token> Fonts(string names) => [.. PreambleCommands.Split(names).SelectMany(f => _declared.TryGetValue(("Font", f), out List<Token>? own) ? own : [.. Machine.Tokenize(f switch
    {
        "bf" => "\\bfseries ", "it" => "\\itshape ", "sc" => "\\scshape ", "sf" => "\\sffamily ", "rm" => "\\rmfamily ", "tt" => "\\ttfamily ", "sl" => "\\slshape ",
        "up" => "\\upshape ", "md" => "\\mdseries ", "normalfont" => "\\normalfont ",
        "small" or "footnotesize" or "normalsize" or "large" or "Large" or "scriptsize" or "tiny" => $"\\{f} ",
        _ when f.StartsWith("color=", StringComparison.Ordinal) => $"\\color{{{f["color=".Length..].Trim('{', '}')}}}",
        _ => "",
    }, PositionTable.None)])];
}
