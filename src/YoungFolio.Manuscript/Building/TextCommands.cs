using System.Globalization;
using System.Text;
using YoungFolio.Documents;
using YoungFolio.Documents.Mathematics;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

/// <summary>Words and their looks: styles, sizes, accents, signs, spaces, verbatim text.</summary>
internal sealed class TextCommands(DocumentBuilder builder) : ReadingFeature(builder)
{
    // Whether the paragraph that is being written, or comes next, in the present frame has no indent.
    internal bool HasNoIndent
    {
        get => Builder.Frames.Peek().NoIndent;
        set => Builder.Frames.Peek().NoIndent = value;
    }

    // As wide, or as far out, as there is room for (\hss, \vss).
    private static Glue EitherWay => new(default, new Dimension(65536), 1, new Dimension(65536), 1);

    internal bool IndentsFirst { get; set; }
    internal Scoped<Token[]> EveryPar { get; set; } = null!;
    internal Scoped<Dimension> HangIndent { get; set; } = null!;
    internal Scoped<int> HangAfter { get; set; } = null!;
    internal Scoped<int> ClubPenalty { get; set; } = null!;
    internal Scoped<int> WidowPenalty { get; set; } = null!;
    internal Scoped<IReadOnlyList<(double Indent, double Length)>?> ParShape { get; } = new(null);
    internal Dictionary<string, int[]> Hyphenation { get; } = new(StringComparer.OrdinalIgnoreCase);
    internal Scoped<Dimension> ParIndent { get; set; } = null!;
    internal Scoped<Glue> ParSkip { get; set; } = null!;
    internal Scoped<int> Tolerance { get; set; } = null!;
    internal Scoped<Dimension> EmergencyStretch { get; set; } = null!;

    private const int MostStraightQuotes = 1_000;

    /// <summary>Where straight quotation marks were printed, the first thousand.</summary>
    internal List<int> StraightQuotes { get; } = [];

    /// <summary>Keeps where a character prints, when it is a straight quotation mark that isn’t program text.</summary>
    internal void RememberStraightQuote(int code, int position)
    {
        if (code == '"' && Builder.Style.Value.Family != FontFamily.Mono && StraightQuotes.Count < MostStraightQuotes)
        {
            StraightQuotes.Add(position);
        }
    }

    internal void DefineText()
    {
        ParIndent = Machine.Registers.NamedDimension("parindent");
        ParSkip = Machine.Registers.NamedGlue("parskip", Glue.Of(0, 1));
        Tolerance = Machine.Registers.NamedCount("tolerance", 200);
        EmergencyStretch = Machine.Registers.NamedDimension("emergencystretch");

        EveryPar = new Scoped<Token[]>([]);
        Machine.DefineMeaning("everypar", new RegisterMeaning<Token[]>(EveryPar));
        HangIndent = Machine.Registers.NamedDimension("hangindent");
        HangAfter = Machine.Registers.NamedCount("hangafter", 1);
        ClubPenalty = Machine.Registers.NamedCount("clubpenalty", 150);
        WidowPenalty = Machine.Registers.NamedCount("widowpenalty", 150);
        Machine.Define("par", (_, _) => Builder.EndParagraph());
        Machine.DefineMeaning("endgraf", Machine.Symbol("par").Meaning.Value!);
        Machine.DefineMeaning("@@par", Machine.Symbol("par").Meaning.Value!);
        Machine.Conditionals.Define("ifhmode", _ => Builder.Formulas.Math is null && Builder.Frames.Peek().Paragraph is not null);
        Machine.Conditionals.Define("ifvmode", _ => Builder.Formulas.Math is null && Builder.Frames.Peek().Paragraph is null);
        Machine.Conditionals.Define("ifinner", _ => Builder.Recursion > 0);
        Builder.Environments.DefineEnvironmentCommands();
        Builder.TypedText.DefineObeying();
        Machine.Symbols.DefineActive('~', (_, t) => Builder.AddCharacter(0xA0, t.Position));
        foreach ((string name, string sign) in TextSigns.ByCommand)
        {
            Machine.Define(name, (_, t) => AddText(sign, t.Position));
        }

        foreach ((string name, char accent) in TextSigns.Accents)
        {
            Machine.Define(name, (_, t) => AddAccented(accent, t));
        }

        Machine.Define(" ", (_, t) =>
        {
            if (Builder.Formulas.Math is not null)
            {
                Builder.Formulas.Math.Nodes.Add(new MathGlue(4.5, false)); // a quarter of an em, as between words
                return;
            }

            Builder.Paragraph().Append(' ', t.Position, Builder.Style.Value);
        });
        Machine.Define("/", static (_, _) => { });
        Machine.Definitions.DefineMacro("TeX", "\\mbox{T\\kern-.17em\\raisebox{-.5ex}{E}\\kern-.125emX}");
        Machine.Definitions.DefineMacro("LaTeX", "\\mbox{L\\kern-.32em\\raisebox{.45ex}{\\scriptsize A}\\kern-.1em\\TeX}");
        Machine.Definitions.DefineMacro("LaTeXe", "\\LaTeX{}2\\ensuremath{_\\varepsilon}");
        Machine.Define("-", (_, t) => Builder.AddCharacter(0xAD, t.Position));
        Machine.Define("@", static (_, _) => { });
        Machine.Define("ldots", (_, t) => AddText("…", t.Position));
        Machine.Define("dots", (_, t) => AddText("…", t.Position));
        Machine.Define("textellipsis", (_, t) => AddText("…", t.Position));
        // A year, a month and a day as the language writes them.
        Machine.Define("date@words", (m, t) =>
        {
            int[] date = [.. Enumerable.Range(0, 3).Select(_ => (int)(m.Quantities.ParseInteger(m.ReadArgument(t), t) ?? 0))];
            bool isDate = date[0] is >= 1 and <= 9999 && date[1] is >= 1 and <= 12 && date[2] >= 1 && date[2] <= CultureInfo.InvariantCulture.Calendar.GetDaysInMonth(date[0], date[1]);
            AddText(isDate ? Languages.Language.Of(Builder.Language.Value).Date(new DateOnly(date[0], date[1], date[2])) : string.Join('-', date), t.Position);
        });
        Machine.Definitions.DefineMacro("today", "\\date@words{\\year}{\\month}{\\day}");
        Machine.Define("\\", (_, t) => LineBreak(t));
        Machine.Define("newline", (_, t) => LineBreak(t));
        // The option says how urgent it is, 0 to 4 (Lamport, section C.12.1).
        Machine.Define("linebreak", (m, t) => Builder.AddInline(new PenaltyInline(-Urgency(m.ReadOptionalText(t)))));
        Machine.Define("nolinebreak", (m, t) => Builder.AddInline(new PenaltyInline(Urgency(m.ReadOptionalText(t)))));

        DefineStyles();
        Builder.TypefaceCommands.DefineTypefaces();
        DefineSpaces();
        Machine.Define("noindent", (_, _) => NoIndent());
        Machine.Define("indent", (_, t) =>
        {
            if (Builder.Frames.Peek().Paragraph is null)
            {
                HasNoIndent = true;
            }

            Builder.AddInline(new BoxInline([]) { Width = ParIndent.Value.Points });
        });
        Machine.Define("leavevmode", (m, _) =>
        {
            // What begins a paragraph without a sign brings \everypar along as one does.
            bool begins = Builder.DocumentBegun && Builder.Frames.Peek().Paragraph is null && EveryPar.Value.Length > 0;
            Builder.Paragraph();
            if (begins)
            {
                m.Push(EveryPar.Value);
            }
        });
        Machine.DefineMeaning("quitvmode", Machine.Symbol("leavevmode").Meaning.Value!);
        Machine.Define("parshape", (m, _) => ReadParagraphShape());
        Machine.Define("sloppy", (m, _) =>
        {
            m.Assign(Tolerance, 9999);
            m.Assign(EmergencyStretch, Dimension.FromPoints(3 * Builder.Style.Value.Size));
        });
        Machine.Define("fussy", (m, _) =>
        {
            m.Assign(Tolerance, 200);
            m.Assign(EmergencyStretch, default);
        });
        Builder.Environments.DefineEnvironment("sloppypar", t =>
        {
            Builder.EndParagraph();
            Builder.Execute(Token.Command(Machine.Symbol("sloppy"), t.Position));
        }, _ => Builder.EndParagraph());
        Machine.Define("frenchspacing", (m, _) => m.Assign(Builder.WidensSentences, false));
        Machine.Define("nonfrenchspacing", (m, _) => m.Assign(Builder.WidensSentences, true));
        Machine.Define("penalty", (m, _) => AddPenalty(m.Quantities.ScanInteger()));
        Machine.Define("allowbreak", (_, _) => AddPenalty(0));
        Machine.Define("nobreak", (_, _) => AddPenalty(10_000));
        Machine.Define("hyphenation", (m, t) => ReadHyphenation(t));
        Machine.Define("hrule", (m, _) => Rule(true));
        Machine.Define("vrule", (m, _) => Rule(false));
        foreach ((string name, bool rule) in (ReadOnlySpan<(string, bool)>)[("dotfill", false), ("hrulefill", true)])
        {
            Machine.Define(name, (_, _) => Builder.AddInline(new LeadersInline(Builder.Style.Value, rule)));
        }
        CloseEnvironment = Machine.Symbol("end environment");
    }

    internal Symbol CloseEnvironment { get; set; } = null!;

    internal static int Urgency(string? option) => option switch { "0" => 0, "1" => 51, "2" => 151, "3" => 301, _ => 10_000 };

    private void DefineStyles()
    {
        foreach ((string name, Func<TextStyle, TextStyle> change) in (ReadOnlySpan<(string, Func<TextStyle, TextStyle>)>)[
            ("rmfamily", static s => s with { Face = null, Family = FontFamily.Roman }),
            ("sffamily", static s => s with { Face = null, Family = FontFamily.Sans }),
            ("ttfamily", static s => s with { Face = null, Family = FontFamily.Mono }),
            ("bfseries", static s => s with { Bold = true }),
            ("mdseries", static s => s with { Bold = false }),
            ("itshape", static s => s with { Shape = FontShape.Italic }),
            ("slshape", static s => s with { Shape = FontShape.Slanted }),
            ("scshape", static s => s with { Shape = FontShape.SmallCaps }),
            ("upshape", static s => s with { Shape = FontShape.Upright }),
            ("em", static s => s with { Shape = s.Shape is FontShape.Italic or FontShape.Slanted ? FontShape.Upright : FontShape.Italic }),
            ("rm", static s => s with { Face = null, Family = FontFamily.Roman, Bold = false, Shape = FontShape.Upright }),
            ("sf", static s => s with { Face = null, Family = FontFamily.Sans, Bold = false, Shape = FontShape.Upright }),
            ("tt", static s => s with { Face = null, Family = FontFamily.Mono, Bold = false, Shape = FontShape.Upright }),
            ("bf", static s => s with { Face = null, Family = FontFamily.Roman, Bold = true, Shape = FontShape.Upright }),
            ("it", static s => s with { Face = null, Family = FontFamily.Roman, Bold = false, Shape = FontShape.Italic }),
            ("sl", static s => s with { Face = null, Family = FontFamily.Roman, Bold = false, Shape = FontShape.Slanted }),
            ("sc", static s => s with { Face = null, Family = FontFamily.Roman, Bold = false, Shape = FontShape.SmallCaps })])
        {
            Machine.Define(name, (m, t) =>
            {
                if (Builder.Formulas.Math is not null)
                {
                    Builder.TextInFormulas.ChangeLettersInFormula(name, t);
                    return;
                }

                m.Assign(Builder.Style, change(Builder.Style.Value));
            });
        }

        foreach ((string command, string declaration) in (ReadOnlySpan<(string, string)>)[
            ("textrm", "rmfamily"), ("textsf", "sffamily"), ("texttt", "ttfamily"), ("textbf", "bfseries"), ("textmd", "mdseries"),
            ("textit", "itshape"), ("textsl", "slshape"), ("textsc", "scshape"), ("textup", "upshape"), ("emph", "em"),
            ("textnormal", "normalfont")])
        {
            Symbol symbol = Machine.Symbol(declaration);
            Machine.Define(command, (m, t) => Styled(t, symbol));
        }

        Machine.Define("MakeTextUppercase", (m, t) => m.Push([Token.Command(m.Symbol("MakeUppercase"), t.Position)]));
        Machine.Define("textsuperscript", (m, t) => AddRaised(m.ReadArgument(t), 0.36));
        Machine.Define("textsubscript", (m, t) => AddRaised(m.ReadArgument(t), -0.15));
        foreach (string size in TypeSizes.Names)
        {
            Machine.Define(size, (_, t) =>
            {
                SetSize(size);
                if (Builder.Formulas.Math is not null)
                {
                    Findings.Check("text-in-formula", t.Position, t.Length, $"{t} changes text, and has no effect inside a formula.", "Put it before the formula.");
                }
            });
        }

        Machine.Define("fontsize", (m, t) =>
        {
            double size = ReadPoints(t);
            double leading = ReadPoints(t);
            if (size > 0)
            {
                m.Assign(Builder.Style, Builder.Style.Value with { Size = Math.Min(size, 2000) });
                m.Assign(Builder.Leading, leading > 0 ? leading : size * 1.2);
            }
        });
        Machine.Define("linespread", (m, t) =>
        {
            if (double.TryParse(m.ReadText(t), NumberStyles.Float, CultureInfo.InvariantCulture, out double factor) && factor is > 0 and < 10)
            {
                m.Assign(Builder.Spread, factor);
            }
        });
        Machine.Definitions.DefineMacro("baselinestretch", "1");
    }

    private void DefineSpaces()
    {
        Machine.Define("hspace", (m, t) =>
        {
            bool star = m.TakeStar();
            if (m.Quantities.ParseGlue(m.ReadArgument(t), t) is { } glue)
            {
                AddHorizontalSpace(glue, !star);
            }
        });
        foreach ((string name, double ems) in (ReadOnlySpan<(string, double)>)[
            ("quad", 1), ("qquad", 2), (",", 1 / 6.0), ("thinspace", 1 / 6.0), (":", 4 / 18.0), (";", 5 / 18.0), ("!", -1 / 6.0),
            ("enspace", 0.5), ("enskip", 0.5), (">", 4 / 18.0), ("negthinspace", -1 / 6.0), ("medspace", 4 / 18.0), ("thickspace", 5 / 18.0)])
        {
            Machine.Define(name, (_, _) =>
            {
                if (Builder.Formulas.Math is { } math)
                {
                    math.Nodes.Add(new MathGlue(ems * 18, false));
                }
                else
                {
                    AddHorizontalSpace(Glue.Of(ems * Builder.Style.Value.Size), ems >= 1);
                }
            });
        }

        Machine.Define("hfill", (_, _) => AddHorizontalSpace(new Glue(default, new Dimension(65536), 2), false));
        Machine.Define("hfil", (_, _) => AddHorizontalSpace(new Glue(default, new Dimension(65536), 1), false));
        Machine.Define("hskip", (m, _) => AddHorizontalSpace(m.Quantities.ScanGlue(), true));
        Machine.Define("kern", (m, _) => AddHorizontalSpace(new Glue(m.Quantities.ScanDimension()), false));
        Machine.Define("unskip", (_, _) => Builder.Frames.Peek().Paragraph?.TrimEnd());
        Machine.Define("vspace", (m, t) =>
        {
            bool star = m.TakeStar();
            if (m.Quantities.ParseGlue(m.ReadArgument(t), t) is { } glue)
            {
                AddVerticalSpace(glue, star);
            }
        });
        Machine.Define("vskip", (m, _) => AddVerticalSpace(m.Quantities.ScanGlue(), false));
        Machine.Define("addvspace", (m, t) =>
        {
            if (m.Quantities.ParseGlue(m.ReadArgument(t), t) is { } glue)
            {
                AddVerticalSpace(glue, false);
            }
        });
        Machine.Define("vfill", (_, _) => AddVerticalSpace(new Glue(default, new Dimension(65536), 2), false));
        // The three skips of the plain format (The TeXbook, p. 352).
        foreach ((string name, double size) in (ReadOnlySpan<(string, double)>)[("smallskip", 3), ("medskip", 6), ("bigskip", 12)])
        {
            Scoped<Glue> amount = Machine.Registers.NamedGlue(name + "amount", Glue.Of(size, size / 3, size / 3));
            Machine.Define(name, (_, _) => AddVerticalSpace(amount.Value, false));
        }

        Machine.Define("vfil", (_, _) => AddVerticalSpace(new Glue(default, new Dimension(65536), 1), false));
        Machine.Define("vss", (_, _) => AddVerticalSpace(EitherWay, false));
        Machine.Define("hss", (_, _) => AddHorizontalSpace(EitherWay, false));
        Machine.DefineExpandable("stretch", (m, t) => m.Push(m.Tokenize("0pt plus " + m.ReadText(t) + "fill", t.Position)));
        Machine.Definitions.DefineMacro("fill", "0pt plus 1fill");
        Machine.Registers.NamedDimension("baselineskip", Dimension.FromPoints(12));
        Machine.Registers.NamedGlue("lineskip", Glue.Of(1));
    }

    internal void AddText(string text, int position)
    {
        for (int i = 0; i < text.Length; i++)
        {
            if (Builder.Formulas.Math is { } math)
            {
                int code = char.ConvertToUtf32(text, i);
                math.Nodes.Add(new Atom(AtomClass.Ordinary, new SymbolNucleus(char.ConvertFromUtf32(code))) { Position = position });
                i += code > 0xFFFF ? 1 : 0;
            }
            else
            {
                Builder.AddCharacter(text[i], position);
            }
        }
    }

    private void AddAccented(char accent, Token command)
    {
        if (Builder.Formulas.Math is not null && TextInFormulas.AccentInFormula(command.Symbol?.Name ?? "") is { } name)
        {
            Findings.Check("text-in-formula", command.Position, command.Length, $"{command} puts an accent on text, and this is a formula.",
                $"Write \\{name}{{…}}.", new Repair(command.Position, command.Length, "\\" + name + " "));
            Machine.Push([Token.Command(Machine.Symbol(name), command.Position)]);
            return;
        }

        List<Token> argument = Machine.ReadArgument(command);
        string letter = PlainText.Of(Builder.BuildInlines(argument)).Replace('ı', 'i').Replace('ȷ', 'j');
        int position = argument.Count > 0 ? argument[0].Position : command.Position;
        if (letter.Length == 0)
        {
            letter = "\u00A0";
        }

        string composed = (letter[..1] + accent + letter[1..]).Normalize(NormalizationForm.FormC);
        AddText(composed, position >= 0 ? position : command.Position);
    }

    private void AddRaised(List<Token> argument, double share)
    {
        Machine.BeginGroup(GroupKind.Command, "", Machine.Input.CurrentPosition);
        TextStyle style = Builder.Style.Value;
        Machine.Assign(Builder.Style, style with { Size = style.Size * 0.7, Rise = style.Rise + (share * style.Size) });
        List<Inline> content = Builder.BuildInlines(argument);
        Machine.EndGroup();
        foreach (Inline inline in content)
        {
            Builder.AddInline(inline);
        }
    }

    // \emph{…} becomes {\em …}: the argument is read again, so that what it holds works as anywhere.
    internal void Styled(Token command, Symbol declaration)
    {
        List<Token> argument = Machine.ReadArgument(command);
        var tokens = new List<Token>(argument.Count + 3)
        {
            Token.Character('{', Category.BeginGroup, command.Position),
            Token.Command(declaration, PositionTable.None),
        };
        tokens.AddRange(argument);
        tokens.Add(Token.Character('}', Category.EndGroup, command.Position));
        Machine.Push(tokens);
    }

    internal void SetSize(string name)
    {
        (double size, double leading) = TypeSizes.Of(name, Builder.BasicSize);
        Machine.Assign(Builder.Style, Builder.Style.Value with { Size = size, DesignSize = 0 });
        Machine.Assign(Builder.Leading, leading);
        Machine.Assign(Machine.Registers.NamedDimension("baselineskip"), Dimension.FromPoints(leading * Builder.Spread.Value));
        Builder.StandardMeasures.Follow(name);
    }

    private void LineBreak(Token token)
    {
        if (token.Symbol?.Name != "newline" && Builder.Tables.CurrentTable is { } table && (table.Cell is not { } cell || Machine.Groups.Count <= cell.Groups || cell.Frame == Builder.Frames.Peek() && cell.Frame.InlineOnly))
        {
            Builder.Tables.EndRowBy(token);
            return;
        }

        Machine.TakeStar();
        Dimension extra = Machine.ReadOptional(token) is { } space && Machine.Quantities.ParseGlue(space, token) is { } glue ? glue.Width : default;
        if (Builder.Frames.Peek().Paragraph is { HasContent: true } paragraph)
        {
            paragraph.TrimEnd();
            paragraph.Add(new LineBreakInline(extra));
        }
        else if (Builder.DocumentBegun && !Builder.Frames.Peek().InlineOnly)
        {
            Findings.Check("nothing-to-break", token.Position, token.Length, $"{token} ends a line, and there is none to end here.",
                "A new paragraph begins with an empty line; for space write \\vspace or \\bigskip.");
        }

        Machine.SkipSpaces();
    }

    internal void AddHorizontalSpace(Glue glue, bool vanishes)
    {
        if (Builder.Formulas.Math is { } math)
        {
            math.Nodes.Add(new MathGlue(glue.Width.Points, true));
            return;
        }

        Builder.AddInline(new SpaceInline(glue, vanishes));
    }

    private void AddVerticalSpace(Glue glue, bool stays)
    {
        BlockFrame frame = Builder.Frames.Peek();
        if (frame.InlineOnly)
        {
            return;
        }

        bool afterHeading = frame.AfterHeading;
        Builder.AddBlock(new SpaceBlock(glue, stays));
        frame.AfterHeading = afterHeading;
    }

    private double ReadPoints(Token token)
    {
        List<Token> argument = Machine.ReadArgument(token);
        // A number alone counts points; any length will do.
        return double.TryParse(Machine.ExpandToText(argument).Trim(), NumberStyles.Float, CultureInfo.InvariantCulture, out double value) ? value
            : Machine.Quantities.ParseGlue(argument, token)?.Width.Points ?? 0;
    }

    private void NoIndent()
    {
        if (Builder.Frames.Peek().Paragraph is null)
        {
            HasNoIndent = true;
            // A box behind it stands in the paragraph that begins here, and isn't a line of its own.
            Token next = Machine.NextExpanded();
            Machine.PutBack(next);
            if (next.Symbol?.Meaning.Value is BuiltInCommand { Name: "hbox" or "vbox" or "vtop" or "box" or "copy" or "raise" or "lower" or "unhbox" or "unhcopy" })
            {
                Builder.Paragraph();
            }
        }
    }

    private void AddPenalty(int penalty)
    {
        if (Builder.Formulas.Math is { } formula)
        {
            formula.Nodes.Add(new MathPenalty(Math.Clamp(penalty, -10_000, 10_000)));
            return;
        }

        if (Builder.Frames.Peek().Paragraph is not null)
        {
            Builder.AddInline(new PenaltyInline(Math.Clamp(penalty, -10_000, 10_000)));
        }
        else if (penalty <= -10_000)
        {
            Builder.AddBlock(new PageBreakBlock(PageEnd.New));
        }
        else
        {
            Builder.AddBlock(new PenaltyBlock(Math.Min(penalty, 10_000)));
        }
    }

    // \parshape n i1 l1 … : indent and length of each line (The TeXbook, p. 101).
    private void ReadParagraphShape()
    {
        Machine.Assignments.TakeEquals();
        int count = Math.Clamp(Machine.Quantities.ScanInteger(), 0, 500);
        var shape = new List<(double, double)>();
        for (int i = 0; i < count; i++)
        {
            shape.Add((Machine.Quantities.ScanDimension().Points, Machine.Quantities.ScanDimension().Points));
        }

        Machine.Assign(ParShape, count == 0 ? null : shape);
    }

    private void ReadHyphenation(Token token)
    {
        foreach (string word in Machine.ExpandToText(Machine.ReadArgument(token)).Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries))
        {
            var divisions = new List<int>();
            int letters = 0;
            foreach (char c in word)
            {
                if (c == '-')
                {
                    divisions.Add(letters);
                }
                else
                {
                    letters++;
                }
            }

            Hyphenation[word.Replace("-", "", StringComparison.Ordinal)] = [.. divisions];
        }
    }

    // \hrule and \vrule with height, depth and width (The TeXbook, p. 221); an \hrule in the flow fills the line.
    private void Rule(bool horizontal)
    {
        double? width = horizontal ? null : 0.4;
        double? height = horizontal ? 0.4 : null;
        double depth = 0;
        while (true)
        {
            if (Machine.Quantities.TakeKeyword("width"))
            {
                width = Machine.Quantities.ScanDimension().Points;
            }
            else if (Machine.Quantities.TakeKeyword("height"))
            {
                height = Machine.Quantities.ScanDimension().Points;
            }
            else if (Machine.Quantities.TakeKeyword("depth"))
            {
                depth = Machine.Quantities.ScanDimension().Points;
            }
            else
            {
                break;
            }
        }

        if (horizontal && !Builder.Frames.Peek().InlineOnly)
        {
            Builder.EndParagraph();
            double full = Builder.Boxes.LineWidth;
            Builder.AddBlock(new ParagraphBlock([new RuleInline(width ?? full, (height ?? 0.4) + depth, -depth)], Builder.ParagraphStyleNow(0) with
            {
                Leading = (height ?? 0.4) + depth,
                SpaceAbove = default,
                Alignment = Alignment.Left,
            }));
            return;
        }

        Builder.AddInline(new RuleInline(width ?? Builder.Boxes.LineWidth, (height ?? (0.7 * Builder.Style.Value.Size)) + depth, -depth));
    }

    /// <summary>Language of the text here, as a code: <c>en-gb</c>.</summary>
    internal string Language => Builder.Language.Value;

    /// <summary>Sets the language of what follows; false, with a finding, when it isn't known.</summary>
    internal bool SelectLanguage(string name, Token token)
    {
        string? code = Languages.Language.CodeOf(name);
        if (code is null)
        {
            string? near = NearestName.Find(name, Languages.Language.AllNames);
            Findings.Check("unknown-language", token.Position, token.Length, $"The language “{name}” isn't available yet.",
                (near is null ? "" : $"Did you mean {near}? ") + $"Available: {string.Join(", ", Languages.Language.Listed.Select(l => l.Title).Order(StringComparer.Ordinal))}.");
            return false;
        }

        Machine.Assign(Builder.Language, code);
        Languages.Language.Of(code).DefineCaptions(Machine);
        LanguageChanged?.Invoke(code);
        return true;
    }

    /// <summary>Told of each change of language; packages set what belongs to it.</summary>
    internal Action<string>? LanguageChanged { get; set; }
}
