using System.Globalization;
using System.Text;
using YoungFolio.Manuscript.Tree;
using YoungFolio.Markup;

namespace YoungFolio.Manuscript.Building;

// Words and their looks: styles, sizes, accents, signs, spaces, verbatim text.
public sealed partial class DocumentBuilder
{
    private bool _noIndent;
    private Scoped<Dimension> _parIndent = null!;
    private Scoped<Glue> _parSkip = null!;
    private Scoped<int> _tolerance = null!;
    private Scoped<Dimension> _emergencyStretch = null!;

    private static readonly Dictionary<string, string> s_signs = new(StringComparer.Ordinal)
    {
        ["%"] = "%", ["&"] = "&", ["#"] = "#", ["$"] = "$", ["_"] = "_", ["{"] = "{", ["}"] = "}",
        ["ss"] = "ß", ["ae"] = "æ", ["AE"] = "Æ", ["oe"] = "œ", ["OE"] = "Œ", ["o"] = "ø", ["O"] = "Ø", ["l"] = "ł", ["L"] = "Ł",
        ["aa"] = "å", ["AA"] = "Å", ["i"] = "ı", ["j"] = "ȷ", ["dh"] = "ð", ["DH"] = "Ð", ["th"] = "þ", ["TH"] = "Þ",
        ["S"] = "§", ["P"] = "¶", ["copyright"] = "©", ["pounds"] = "£", ["dag"] = "†", ["ddag"] = "‡",
        ["textbackslash"] = "\\", ["textasciitilde"] = "~", ["textasciicircum"] = "^", ["textbar"] = "|", ["textless"] = "<",
        ["textgreater"] = ">", ["textendash"] = "–", ["textemdash"] = "—", ["textbullet"] = "•", ["textdegree"] = "°",
        ["textquoteleft"] = "‘", ["textquoteright"] = "’", ["textquotedblleft"] = "“", ["textquotedblright"] = "”",
        ["textregistered"] = "®", ["texttrademark"] = "™", ["textunderscore"] = "_", ["textbraceleft"] = "{", ["textbraceright"] = "}",
        ["texteuro"] = "€", ["textmu"] = "µ", ["texttimes"] = "×", ["textpm"] = "±", ["textsection"] = "§", ["textperiodcentered"] = "·",
        ["textellipsis"] = "…", ["guillemotleft"] = "«", ["guillemotright"] = "»", ["slash"] = "/",
    };

    // The accents of Lamport's manual (table 3.1), as combining characters.
    private static readonly Dictionary<string, char> s_accents = new(StringComparer.Ordinal)
    {
        ["`"] = '\u0300', ["'"] = '\u0301', ["^"] = '\u0302', ["~"] = '\u0303', ["="] = '\u0304', ["u"] = '\u0306', ["."] = '\u0307',
        ["\""] = '\u0308', ["r"] = '\u030A', ["H"] = '\u030B', ["v"] = '\u030C', ["d"] = '\u0323', ["c"] = '\u0327', ["k"] = '\u0328', ["b"] = '\u0331',
    };

    private void DefineText()
    {
        _parIndent = Machine.NamedDimension("parindent", Dimension.FromPoints(15));
        _parSkip = Machine.NamedGlue("parskip", Glue.Of(0, 1));
        _tolerance = Machine.NamedCount("tolerance", 200);
        _emergencyStretch = Machine.NamedDimension("emergencystretch");

        Machine.Define("par", (_, _) => EndParagraph());
        Machine.Define("begin", (_, t) => BeginEnvironment(t));
        Machine.Define("end", (_, t) => EndEnvironment(t));
        Machine.Define("end environment", (_, _) => CloseInnermost());
        Machine.DefineActive('~', (_, t) => AddCharacter(0xA0, t.Position));
        foreach ((string name, string sign) in s_signs)
        {
            Machine.Define(name, (_, t) => AddText(sign, t.Position));
        }

        foreach ((string name, char accent) in s_accents)
        {
            Machine.Define(name, (_, t) => AddAccented(accent, t));
        }

        Machine.Define(" ", (_, t) => Paragraph().Append(' ', t.Position, _style.Value));
        Machine.Define("/", static (_, _) => { });
        Machine.Define("-", (_, t) => AddCharacter(0xAD, t.Position));
        Machine.Define("@", static (_, _) => { });
        Machine.Define("ldots", (_, t) => AddText("…", t.Position));
        Machine.Define("dots", (_, t) => AddText("…", t.Position));
        Machine.Define("textellipsis", (_, t) => AddText("…", t.Position));
        Machine.Define("today", (_, t) => AddText(Today(), t.Position));
        Machine.Define("\\", (_, t) => LineBreak(t));
        Machine.Define("newline", (_, t) => LineBreak(t));
        Machine.Define("linebreak", (_, t) =>
        {
            Machine.ReadOptional(t);
            LineBreak(t);
        });
        Machine.Define("nolinebreak", (_, t) => AddInline(new PenaltyInline(10000)));

        DefineStyles();
        DefineSpaces();
        DefineVerbatim();
        Machine.Define("noindent", (_, _) =>
        {
            if (_frames.Peek().Paragraph is null)
            {
                _noIndent = true;
            }
        });
        Machine.Define("indent", static (_, _) => { });
        Machine.Define("sloppy", (m, _) =>
        {
            m.Assign(_tolerance, 9999);
            m.Assign(_emergencyStretch, Dimension.FromPoints(3 * _style.Value.Size));
        });
        Machine.Define("fussy", (m, _) =>
        {
            m.Assign(_tolerance, 200);
            m.Assign(_emergencyStretch, default);
        });
        Machine.Define("frenchspacing", (m, _) => m.Assign(_widensSentences, false));
        Machine.Define("nonfrenchspacing", (m, _) => m.Assign(_widensSentences, true));
        Machine.Define("selectlanguage", (m, t) => SelectLanguage(m.ReadText(t), t));
        Machine.Define("mbox", (m, t) => AddInline(new BoxInline(BuildInlines(m.ReadArgument(t)))));
        Machine.Define("fbox", (m, t) => AddInline(new BoxInline(BuildInlines(m.ReadArgument(t))) { IsFramed = true }));
        Machine.Define("underline", (m, t) => AddInline(new BoxInline(BuildInlines(m.ReadArgument(t))) { IsUnderlined = true }));
        Machine.Define("raisebox", (m, t) =>
        {
            Glue? rise = m.ParseGlue(m.ReadArgument(t), t);
            AddInline(new BoxInline(BuildInlines(m.ReadArgument(t))) { Rise = rise?.Width.Points ?? 0 });
        });
        Machine.Define("makebox", (m, t) => MakeBox(t, false));
        Machine.Define("framebox", (m, t) => MakeBox(t, true));
        Machine.Define("rule", (m, t) =>
        {
            Glue? rise = m.ReadOptional(t) is { } r ? m.ParseGlue(r, t) : null;
            Glue? width = m.ParseGlue(m.ReadArgument(t), t);
            Glue? height = m.ParseGlue(m.ReadArgument(t), t);
            AddInline(new RuleInline(width?.Width.Points ?? 0, height?.Width.Points ?? 0, rise?.Width.Points ?? 0));
        });
        _closeEnvironment = Machine.Symbol("end environment");
    }

    private Symbol _closeEnvironment = null!;

    private void DefineStyles()
    {
        foreach ((string name, Func<TextStyle, TextStyle> change) in (ReadOnlySpan<(string, Func<TextStyle, TextStyle>)>)[
            ("rmfamily", static s => s with { Family = FontFamily.Roman }),
            ("sffamily", static s => s with { Family = FontFamily.Sans }),
            ("ttfamily", static s => s with { Family = FontFamily.Mono }),
            ("bfseries", static s => s with { Bold = true }),
            ("mdseries", static s => s with { Bold = false }),
            ("itshape", static s => s with { Shape = FontShape.Italic }),
            ("slshape", static s => s with { Shape = FontShape.Slanted }),
            ("scshape", static s => s with { Shape = FontShape.SmallCaps }),
            ("upshape", static s => s with { Shape = FontShape.Upright }),
            ("em", static s => s with { Shape = s.Shape is FontShape.Italic or FontShape.Slanted ? FontShape.Upright : FontShape.Italic }),
            ("normalfont", static s => new TextStyle(FontFamily.Roman, false, FontShape.Upright, s.Size)),
            ("rm", static s => s with { Family = FontFamily.Roman, Bold = false, Shape = FontShape.Upright }),
            ("sf", static s => s with { Family = FontFamily.Sans, Bold = false, Shape = FontShape.Upright }),
            ("tt", static s => s with { Family = FontFamily.Mono, Bold = false, Shape = FontShape.Upright }),
            ("bf", static s => s with { Family = FontFamily.Roman, Bold = true, Shape = FontShape.Upright }),
            ("it", static s => s with { Family = FontFamily.Roman, Bold = false, Shape = FontShape.Italic }),
            ("sl", static s => s with { Family = FontFamily.Roman, Bold = false, Shape = FontShape.Slanted }),
            ("sc", static s => s with { Family = FontFamily.Roman, Bold = false, Shape = FontShape.SmallCaps })])
        {
            Machine.Define(name, (m, _) => m.Assign(_style, change(_style.Value)));
        }

        foreach ((string command, string declaration) in (ReadOnlySpan<(string, string)>)[
            ("textrm", "rmfamily"), ("textsf", "sffamily"), ("texttt", "ttfamily"), ("textbf", "bfseries"), ("textmd", "mdseries"),
            ("textit", "itshape"), ("textsl", "slshape"), ("textsc", "scshape"), ("textup", "upshape"), ("emph", "em"),
            ("textnormal", "normalfont")])
        {
            Symbol symbol = Machine.Symbol(declaration);
            Machine.Define(command, (m, t) => Styled(t, symbol));
        }

        Machine.Define("textsuperscript", (m, t) => AddRaised(m.ReadArgument(t), 0.36));
        Machine.Define("textsubscript", (m, t) => AddRaised(m.ReadArgument(t), -0.15));
        foreach (string size in TypeSizes.Names)
        {
            Machine.Define(size, (m, _) => SetSize(size));
        }

        Machine.Define("fontsize", (m, t) =>
        {
            double size = ReadPoints(t);
            double leading = ReadPoints(t);
            if (size > 0)
            {
                m.Assign(_style, _style.Value with { Size = Math.Min(size, 2000) });
                m.Assign(_leading, leading > 0 ? leading : size * 1.2);
            }
        });
        Machine.Define("selectfont", static (_, _) => { });
        Machine.Define("linespread", (m, t) =>
        {
            if (double.TryParse(m.ReadText(t), NumberStyles.Float, CultureInfo.InvariantCulture, out double factor) && factor is > 0 and < 10)
            {
                m.Assign(_spread, factor);
            }
        });
        Machine.DefineMacro("baselinestretch", "1");
    }

    private void DefineSpaces()
    {
        Machine.Define("hspace", (m, t) =>
        {
            bool star = m.TakeStar();
            if (m.ParseGlue(m.ReadArgument(t), t) is { } glue)
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
                if (_math is { } math)
                {
                    math.Nodes.Add(new Mathematics.MathGlue(ems * 18, false));
                }
                else
                {
                    AddHorizontalSpace(Glue.Of(ems * _style.Value.Size), ems >= 1);
                }
            });
        }

        Machine.Define("hfill", (_, _) => AddHorizontalSpace(new Glue(default, new Dimension(65536), 2), false));
        Machine.Define("hfil", (_, _) => AddHorizontalSpace(new Glue(default, new Dimension(65536), 1), false));
        Machine.Define("hskip", (m, _) => AddHorizontalSpace(m.ScanGlue(), true));
        Machine.Define("kern", (m, _) => AddHorizontalSpace(new Glue(m.ScanDimension()), false));
        Machine.Define("unskip", (_, _) => _frames.Peek().Paragraph?.TrimEnd());
        Machine.Define("vspace", (m, t) =>
        {
            bool star = m.TakeStar();
            if (m.ParseGlue(m.ReadArgument(t), t) is { } glue)
            {
                AddVerticalSpace(glue, star);
            }
        });
        Machine.Define("vskip", (m, _) => AddVerticalSpace(m.ScanGlue(), false));
        Machine.Define("addvspace", (m, t) =>
        {
            if (m.ParseGlue(m.ReadArgument(t), t) is { } glue)
            {
                AddVerticalSpace(glue, false);
            }
        });
        Machine.Define("vfill", (_, _) => AddVerticalSpace(new Glue(default, new Dimension(65536), 2), false));
        Machine.Define("smallskip", (_, _) => AddVerticalSpace(Glue.Of(3, 1, 1), false));
        Machine.Define("medskip", (_, _) => AddVerticalSpace(Glue.Of(6, 2, 2), false));
        Machine.Define("bigskip", (_, _) => AddVerticalSpace(Glue.Of(12, 4, 4), false));
    }

    private void DefineVerbatim()
    {
        Machine.Define("verb", (m, t) =>
        {
            if (m.DirectLexer is not { } lexer)
            {
                Findings.Fix("verb-in-argument", t.Position, t.Length, "\\verb can't stand inside another command's braces.",
                    "Use \\texttt there, with a backslash before special signs.");
                return;
            }

            bool visible = lexer.PeekRaw() == '*' && lexer.TakeRaw() == '*';
            int start = lexer.Position + 1;
            char delimiter = lexer.TakeRaw();
            string? text = lexer.TakeRawUntil(delimiter.ToString());
            if (text is null || text.Contains('\n', StringComparison.Ordinal))
            {
                Findings.Fix("verb-not-closed", t.Position, t.Length, $"\\verb isn't closed by {delimiter} on its line.",
                    "The sign right after \\verb must come again at the end.");
                text ??= "";
            }

            TextStyle style = _style.Value with { Family = FontFamily.Mono, Bold = false, Shape = FontShape.Upright };
            for (int i = 0; i < text.Length; i++)
            {
                char c = text[i] is '\n' ? ' ' : text[i];
                Paragraph().Append(c == ' ' ? (visible ? '␣' : '\u00A0') : c, start + i, style);
            }
        });
        DefineEnvironment("verbatim", t => Verbatim(t, "verbatim"));
        DefineEnvironment("verbatim*", t => Verbatim(t, "verbatim*"));
        DefineEnvironment("comment", t =>
        {
            if (Machine.DirectLexer?.TakeRawUntil("\\end{comment}") is null)
            {
                ReportUnclosed(Machine.Groups[^1]);
            }

            Machine.EndGroup();
        });
    }

    private void Verbatim(Token token, string name)
    {
        EndParagraph();
        if (Machine.DirectLexer is not { } lexer || lexer.Position is var start && lexer.TakeRawUntil($"\\end{{{name}}}") is not { } text)
        {
            ReportUnclosed(Machine.Groups[^1]);
            return;
        }

        int skip = text.IndexOf('\n', StringComparison.Ordinal) + 1;
        string body = text[skip..].TrimEnd('\n', ' ');
        TextStyle style = _style.Value with { Family = FontFamily.Mono, Bold = false, Shape = FontShape.Upright };
        var lines = new List<Inline>();
        int at = 0;
        foreach (string line in body.Split('\n'))
        {
            if (at > 0)
            {
                lines.Add(new LineBreakInline(default));
            }

            string shown = line.Replace(' ', '\u00A0').Replace("\t", "\u00A0\u00A0\u00A0\u00A0", StringComparison.Ordinal).TrimEnd('\r');
            if (shown.Length > 0)
            {
                int[] positions = new int[shown.Length];
                for (int i = 0; i < positions.Length; i++)
                {
                    positions[i] = start + skip + at + Math.Min(i, line.Length - 1);
                }

                lines.Add(new TextRun(shown, positions, style));
            }

            at += line.Length + 1;
        }

        AddBlock(new SpaceBlock(Glue.Of(8, 2, 4)));
        AddBlock(new ParagraphBlock(lines, ParagraphStyleNow(0) with { Alignment = Alignment.Left, Language = "", SpaceAbove = default }));
        AddBlock(new SpaceBlock(Glue.Of(8, 2, 4)));
        Machine.EndGroup();
        _frames.Peek().Continues = false;
    }

    private void AddText(string text, int position)
    {
        for (int i = 0; i < text.Length; i++)
        {
            if (_math is { } math)
            {
                math.Nodes.Add(new Mathematics.Atom(Mathematics.AtomClass.Ordinary, new Mathematics.SymbolNucleus(text[i].ToString())) { Position = position });
            }
            else
            {
                AddCharacter(text[i], position);
            }
        }
    }

    private void AddAccented(char accent, Token command)
    {
        List<Token> argument = Machine.ReadArgument(command);
        string letter = PlainText.Of(BuildInlines(argument)).Replace('ı', 'i').Replace('ȷ', 'j');
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
        Machine.BeginGroup(GroupKind.Command, "", Machine.CurrentPosition);
        TextStyle style = _style.Value;
        Machine.Assign(_style, style with { Size = style.Size * 0.7, Rise = style.Rise + (share * style.Size) });
        List<Inline> content = BuildInlines(argument);
        Machine.EndGroup();
        foreach (Inline inline in content)
        {
            AddInline(inline);
        }
    }

    // \emph{…} becomes {\em …}: the argument is read again, so that what it holds works as anywhere.
    private void Styled(Token command, Symbol declaration)
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
        (double size, double leading) = TypeSizes.Of(name, BasicSize);
        Machine.Assign(_style, _style.Value with { Size = size });
        Machine.Assign(_leading, leading);
    }

    private void LineBreak(Token token)
    {
        Machine.TakeStar();
        Dimension extra = Machine.ReadOptional(token) is { } space && Machine.ParseGlue(space, token) is { } glue ? glue.Width : default;
        if (_frames.Peek().Paragraph is { HasContent: true } paragraph)
        {
            paragraph.TrimEnd();
            paragraph.Add(new LineBreakInline(extra));
        }
        else if (_documentBegun && !_frames.Peek().InlineOnly)
        {
            Findings.Check("nothing-to-break", token.Position, token.Length, $"{token} ends a line, and there is none to end here.",
                "A new paragraph begins with an empty line; for space write \\vspace or \\bigskip.");
        }

        Machine.SkipSpaces();
    }

    private void AddHorizontalSpace(Glue glue, bool vanishes)
    {
        if (_math is { } math)
        {
            math.Nodes.Add(new Mathematics.MathGlue(glue.Width.Points, true));
            return;
        }

        AddInline(new SpaceInline(glue, vanishes));
    }

    private void AddVerticalSpace(Glue glue, bool stays)
    {
        BlockFrame frame = _frames.Peek();
        if (frame.InlineOnly)
        {
            return;
        }

        bool afterHeading = frame.AfterHeading;
        AddBlock(new SpaceBlock(glue, stays));
        frame.AfterHeading = afterHeading;
    }

    private void MakeBox(Token token, bool framed)
    {
        double? width = Machine.ReadOptional(token) is { } w ? Machine.ParseGlue(w, token)?.Width.Points : null;
        string? where = Machine.ReadOptionalText(token);
        AddInline(new BoxInline(BuildInlines(Machine.ReadArgument(token)))
        {
            Width = width,
            IsFramed = framed,
            Alignment = where switch { "l" => -1, "r" => 1, _ => 0 },
        });
    }

    private double ReadPoints(Token token)
    {
        string text = Machine.ReadText(token);
        text = text.EndsWith("pt", StringComparison.Ordinal) ? text[..^2] : text;
        return double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out double value) ? value : 0;
    }

    // The date as each language writes it.
    private string Today() => _language.Value == "en-us"
        ? _options.Today.ToString("MMMM d, yyyy", CultureInfo.InvariantCulture)
        : _options.Today.ToString("d MMMM yyyy", CultureInfo.InvariantCulture);

    /// <summary>Sets the language of what follows; false when it isn't known.</summary>
    internal bool SelectLanguage(string name, Token token)
    {
        string? code = name switch
        {
            "british" or "UKenglish" or "english-gb" => "en-gb",
            "english" or "american" or "USenglish" => "en-us",
            _ => null,
        };
        if (code is null)
        {
            Findings.Check("unknown-language", token.Position, token.Length, $"The language “{name}” isn't available yet.",
                "Words are hyphenated as in English. Available: british, american.");
            return false;
        }

        Machine.Assign(_language, code);
        return true;
    }
}
